//! A made house in which one thing at a time is made wrong, as a person would find it.

use std::collections::BTreeSet;

use jiff::Timestamp;
use rand::rngs::ChaCha8Rng;
use rand::seq::IndexedRandom;
use wayfinder_core::Change;
use wayfinder_core::base::position::parse_poles;
use wayfinder_core::base::units::{Amps, Gauge, Metal, Volts};
use wayfinder_core::house::*;

use crate::house::{Made, Mapped, made};

/// A house with one thing wrong, or with none.
pub struct World {
    pub made: Made,
    pub rng: ChaCha8Rng,
}

impl World {
    pub fn any<T: Copy>(&mut self, all: Vec<T>) -> Option<T> {
        all.choose(&mut self.rng).copied()
    }

    /// A breaker of one pole that feeds something.
    pub fn branch(&mut self) -> BreakerId {
        let fed: BTreeSet<BreakerId> = self.made.hung.values().map(|hung| hung.breaker).collect();
        let one = |b: &BreakerId| self.made.house.breakers.get(*b).unwrap().at.len() == 1;
        let all = fed.into_iter().filter(one).collect();
        self.any(all).unwrap()
    }

    pub fn outlet(&mut self) -> PointId {
        let all = self.made.house.points.iter().filter(|p| p.kind == PointKind::Receptacle).map(|p| p.id).collect();
        self.any(all).unwrap()
    }

    pub fn put(&mut self, breaker: BreakerId, with: impl FnOnce(&mut Breaker)) {
        let mut b = self.made.house.breakers.get(breaker).unwrap().clone();
        with(&mut b);
        self.made.house.breakers.put(b);
    }

    pub fn panel(&mut self, with: impl FnOnce(&mut Panel)) {
        let mut panel = self.made.house.panels.get(PanelId(1)).unwrap().clone();
        with(&mut panel);
        self.made.house.panels.put(panel);
    }

    pub fn point(&mut self, point: PointId, with: impl FnOnce(&mut Point)) {
        let mut p = self.made.house.points.get(point).unwrap().clone();
        with(&mut p);
        self.made.house.points.put(p);
    }

    pub fn is(&self, point: PointId, kind: PointKind) -> bool {
        self.made.house.points.get(point).unwrap().kind == kind
    }

    /// The water heater's breaker.
    pub fn two_pole(&self) -> BreakerId {
        self.made.hung[&heater(self)].breaker
    }

    pub fn named(&self, name: &str) -> PointId {
        self.made.house.points.iter().find(|p| p.name == name).unwrap().id
    }

    /// What feeds a sort of point of a room, where it is alone in the main panel.
    pub fn feeding(&self, room: &str, kind: PointKind) -> BreakerId {
        let room = self.made.house.rooms.iter().find(|r| r.name == room).unwrap().id;
        let in_it = self.made.house.points.iter().find(|p| p.room == room && p.kind == kind).unwrap().id;
        self.made.hung[&in_it].breaker
    }

    /// Spaces of the main panel that nothing stands in: this many, the lowest of a column that has them one below the other.
    pub fn free(&self, count: u16) -> Vec<u16> {
        let taken: BTreeSet<u16> =
            self.made.house.breakers_of(PanelId(1)).iter().flat_map(|b| b.at.iter().map(|at| at.space)).collect();
        let run = |first: u16| (0..count).map(|n| first + 2 * n).collect::<Vec<_>>();
        (1..=32).map(run).find(|all| all.iter().all(|at| *at <= 32 && !taken.contains(at))).unwrap()
    }

    /// Two breakers of one pole that feed something, so far apart in one column, or on two legs.
    pub fn pair(&self, is: impl Fn(u16, bool) -> bool) -> [BreakerId; 2] {
        let panel = self.made.house.panels.get(PanelId(1)).unwrap();
        let of = |b: BreakerId| self.made.house.breakers.get(b).unwrap();
        let fed: BTreeSet<BreakerId> = self.made.hung.values().map(|hung| hung.breaker).collect();
        let all: Vec<BreakerId> =
            fed.into_iter().filter(|b| of(*b).at.len() == 1 && of(*b).panel == panel.id).collect();
        let pairs = all.iter().flat_map(|a| all.iter().map(move |b| [*a, *b]));
        let fits = |[a, b]: &[BreakerId; 2]| {
            let (one, other) = (of(*a).at[0], of(*b).at[0]);
            one.space < other.space
                && (other.space - one.space).is_multiple_of(2)
                && is(other.space - one.space, panel.leg(one) == panel.leg(other))
        };
        pairs.into_iter().find(fits).unwrap()
    }

    /// Whatever does not hang on it was seen live with it off; switches that nobody traced are not on the list.
    pub fn all_else_live(&mut self, breaker: BreakerId) {
        let all: Vec<Point> = self.made.house.points.iter().cloned().collect();
        for point in all {
            if self.made.hung.contains_key(&point.id) {
                self.made.house.points.put(Point { switched_by: BTreeSet::new(), ..point });
            } else {
                self.made.house.points.remove(point.id);
            }
        }
        let hung = &self.made.hung;
        let elsewhere = |p: &PointId| hung.get(p).is_none_or(|h| h.breaker != breaker);
        let points: Vec<PointId> = self.made.house.points.iter().map(|p| p.id).filter(elsewhere).collect();
        for (nth, point) in points.into_iter().enumerate() {
            let observation = Observation::Power { off: [breaker].into(), seen: Seen::Live, how: Way::Tester };
            let time = Timestamp::from_second(1_700_000_000 + nth as i64).unwrap();
            let id = EvidenceId(930_000 + nth as u64);
            self.made.house.evidence.put(Evidence { id, point, time, who: "Fern".into(), step: None, observation });
        }
    }

    /// Their circuits have one neutral.
    pub fn share(&mut self, one: BreakerId, other: BreakerId) {
        let (first, second) = (CircuitId(72_000), CircuitId(72_001));
        self.made.house.circuits.put(Circuit::new(first, one));
        self.made.house.circuits.put(Circuit { neutral_of: Some(first), ..Circuit::new(second, other) });
    }

    /// A panel behind a new breaker of the main one.
    pub fn annex(&mut self, amps: Amps, bonded: Option<bool>) -> PanelId {
        let at = self.free(2);
        let feeder =
            Breaker::new(BreakerId(81_000), PanelId(1), parse_poles(&format!("{}-{}", at[0], at[1])).unwrap(), amps);
        self.made.house.breakers.put(feeder);
        let annex = PanelId(9);
        let panel = Panel::new(annex, "Stable", 12);
        self.made.house.panels.put(Panel {
            fed_by: Some(BreakerId(81_000)),
            main: None,
            bonded,
            bus: Amps(100.0),
            ..panel
        });
        annex
    }

    pub fn in_annex(&mut self, annex: PanelId, at: &str, amps: Amps) -> BreakerId {
        let id = BreakerId(82_000);
        self.made.house.breakers.put(Breaker::new(id, annex, parse_poles(at).unwrap(), amps));
        id
    }

    pub fn wire(&mut self, breaker: BreakerId, size: &str, metal: Metal) {
        let id = CircuitId(70_000 + breaker.0);
        let wire: Option<Gauge> = size.parse().ok();
        let circuit = Circuit { wire, metal, conductors: Some(2), as_found: true, ..Circuit::new(id, breaker) };
        self.made.house.circuits.put(circuit);
    }

    pub fn looked(&mut self, of: Subject, fact: AsFound, saw: Saw) {
        let says = Remarks::Looked { fact, saw };
        let remark =
            Remark { id: RemarkId(1), of, says, time: Timestamp::now(), who: "Fern".into(), note: String::new() };
        self.made.house = self.made.house.apply(&Change::PutRemark { remark }).unwrap().house;
    }

    pub fn met(&mut self, fault: Fault) {
        let point = self.outlet();
        let observation = Observation::Fault { fault };
        let (id, time) = (EvidenceId(900_000), Timestamp::now());
        self.made.house.evidence.put(Evidence { id, point, time, who: "Fern".into(), step: None, observation });
    }

    pub fn log(&mut self, event: Event) {
        let (id, time) = (LogId(900_000), Timestamp::now());
        let entry = LogEntry { id, time, who: "Fern".into(), event, note: String::new() };
        self.made.house = self.made.house.apply(&Change::Log { entry }).unwrap().house;
    }

    pub fn load(&mut self, point: PointId, kind: LoadKind, with: impl FnOnce(&mut Load)) {
        let mut load = Load::new(LoadId(900_000), point, "thing", kind);
        with(&mut load);
        self.made.house.loads.put(load);
    }

    pub fn read(&mut self, nth: u64, breaker: BreakerId, quantity: Quantity, value: f64) {
        let place = MeasuredAt::Breaker { breaker, pole: None, side: Side::default() };
        let time = Timestamp::from_second(1_700_000_000 + 20 * nth as i64).unwrap();
        self.made.house.readings.put(Reading {
            id: ReadingId(900_000 + nth),
            time,
            who: "Fern".into(),
            place,
            quantity,
            value,
            instrument: Instrument::Clamp,
            span: Span::Spot,
            on: BTreeSet::new(),
            sure: false,
        });
    }

    pub fn volts(&mut self, a: f64, b: f64) {
        let (a_n, b_n, a_b) = (Volts(a), Volts(b), Volts(a + b));
        let reading = ServiceReading { a_n, b_n, a_b, c_n: None, b_c: None, c_a: None };
        self.log(Event::Volts { panel: PanelId(1), reading });
    }
}

/// A house that is right: new, its neutrals tied as they have to be.
pub fn right(seed: u64) -> Made {
    let mut made = made(seed, Mapped::Full);
    made.house.circuits = made.house.circuits.iter().filter(|c| c.neutral_of.is_none()).cloned().fold(
        wayfinder_core::base::table::Table::default(),
        |mut table, circuit| {
            table.put(circuit);
            table
        },
    );
    made
}

/// The water heater, alone on 30 A at 240 V.
pub fn heater(w: &World) -> PointId {
    w.made.house.points.iter().find(|p| p.name == "water heater").unwrap().id
}

/// An outlet of the kitchen's counter.
pub fn counter(w: &World) -> PointId {
    let kitchen = w.made.house.rooms.iter().find(|r| r.name == "Kitchen").unwrap().id;
    w.made.house.points.iter().find(|p| p.room == kitchen && p.kind == PointKind::Receptacle).unwrap().id
}
