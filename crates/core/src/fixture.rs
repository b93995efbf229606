//! Small houses for tests.

use std::collections::BTreeSet;

use jiff::Timestamp;

use crate::house::*;
use crate::position::{Numbering, Supply, parse_poles};
use crate::units::{Amps, NominalVolts};

/// A house with one split-phase panel, built up by short calls.
#[derive(Debug)]
pub struct Fixture {
    pub house: House,
    next: u64,
}

impl Fixture {
    pub fn new(spaces: u16) -> Self {
        let mut house = House::new("Test house");
        house.panels.put(Panel {
            id: PanelId(1),
            name: "Main".into(),
            fed_by: None,
            supply: Supply::SplitPhase,
            bus: Amps(200.0),
            main: Some(Amps(200.0)),
            spaces,
            numbering: Numbering::OddEven,
            tandem: TandemSpaces::None,
            max_circuits: None,
            empty: BTreeSet::new(),
            card: None,
        });
        Self { house, next: 10 }
    }

    fn id(&mut self) -> u64 {
        self.next += 1;
        self.next
    }

    pub fn panel(&self) -> &Panel {
        self.house.panels.get(PanelId(1)).unwrap()
    }

    pub fn allow_tandems(&mut self) {
        let panel = Panel { tandem: TandemSpaces::All, ..self.panel().clone() };
        self.house.panels.put(panel);
    }

    pub fn breaker(&mut self, at: &str, amps: f64, label: &str) -> BreakerId {
        self.breaker_in(PanelId(1), at, amps, label)
    }

    pub fn breaker_in(&mut self, panel: PanelId, at: &str, amps: f64, label: &str) -> BreakerId {
        let id = BreakerId(self.id());
        self.house.breakers.put(Breaker {
            id,
            panel,
            at: parse_poles(at).unwrap(),
            amps: Amps(amps),
            device: Device::Plain,
            handle: Handle::On,
            label: label.into(),
        });
        self.house.check().unwrap();
        id
    }

    pub fn sub_panel(&mut self, name: &str, fed_by: BreakerId) -> PanelId {
        let id = PanelId(self.id());
        self.house.panels.put(Panel {
            id,
            name: name.into(),
            fed_by: Some(fed_by),
            main: None,
            ..self.panel().clone()
        });
        id
    }

    pub fn room(&mut self, name: &str) -> RoomId {
        let id = RoomId(self.id());
        self.house.rooms.put(Room { id, name: name.into(), floor: "1".into() });
        id
    }

    pub fn point(&mut self, tag: &str, room: RoomId, kind: PointKind) -> PointId {
        self.point_at(tag, room, kind, Some(NominalVolts::V120))
    }

    pub fn point_at(&mut self, tag: &str, room: RoomId, kind: PointKind, volts: Option<NominalVolts>) -> PointId {
        let id = PointId(self.id());
        let name = String::new();
        self.house.points.put(Point { id, tag: tag.into(), room, kind, name, volts, watts: None });
        id
    }

    pub fn name(&mut self, point: PointId, name: &str) {
        let named = Point { name: name.into(), ..self.house.points.get(point).unwrap().clone() };
        self.house.points.put(named);
    }

    pub fn see(&mut self, point: PointId, off: &[BreakerId], seen: Seen) -> EvidenceId {
        self.see_by(point, off, seen, Way::Tester)
    }

    pub fn see_by(&mut self, point: PointId, off: &[BreakerId], seen: Seen, how: Way) -> EvidenceId {
        self.observe(point, Observation::Power { off: off.iter().copied().collect(), seen, how })
    }

    pub fn observe(&mut self, point: PointId, observation: Observation) -> EvidenceId {
        let id = EvidenceId(self.id());
        let time = Timestamp::from_second(i64::try_from(id.0).unwrap()).unwrap();
        self.house.evidence.put(Evidence { id, point, time, who: "test".into(), step: None, observation });
        id
    }
}
