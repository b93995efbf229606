//! Small houses for tests.

use jiff::Timestamp;

use crate::base::position::parse_poles;
use crate::base::units::{Amps, NominalVolts};
use crate::house::*;

/// A house with one split-phase panel, built up by short calls.
#[derive(Debug)]
pub struct Fixture {
    pub house: House,
    next: u64,
}

impl Fixture {
    pub fn new(spaces: u16) -> Self {
        let mut house = House::new("Test house");
        house.panels.put(Panel::new(PanelId(1), "Main", spaces));
        Self { house, next: 10 }
    }

    fn id(&mut self) -> u64 {
        self.next += 1;
        self.next
    }

    pub fn breaker_id(&mut self) -> BreakerId {
        BreakerId(self.id())
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
        let at = parse_poles(at).unwrap();
        self.house.breakers.put(Breaker { label: label.into(), ..Breaker::new(id, panel, at, Amps(amps)) });
        self.house.check().unwrap();
        id
    }

    /// Somebody looked: all other spaces are empty, and there are no other panels.
    pub fn all_is_entered(&mut self) {
        self.house.about.every_panel = true;
        for panel in self.house.panels.iter().cloned().collect::<Vec<_>>() {
            let empty = panel.empty.iter().copied().chain(self.house.not_entered(&panel)).collect();
            self.house.panels.put(Panel { empty, ..panel });
        }
        self.house.check().unwrap();
    }

    pub fn share_box(&mut self, points: &[PointId], number: u64) {
        for point in points {
            let boxed = Point { shared_box: Some(BoxId(number)), ..self.house.points.get(*point).unwrap().clone() };
            self.house.points.put(boxed);
        }
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
        self.house.rooms.put(Room::new(id, name, "1"));
        id
    }

    pub fn point(&mut self, tag: &str, room: RoomId, kind: PointKind) -> PointId {
        self.point_at(tag, room, kind, Some(NominalVolts::V120))
    }

    pub fn point_at(&mut self, tag: &str, room: RoomId, kind: PointKind, volts: Option<NominalVolts>) -> PointId {
        let id = PointId(self.id());
        self.house.points.put(Point { volts, ..Point::new(id, tag, room, kind) });
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
