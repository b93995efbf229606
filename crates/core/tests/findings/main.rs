//! Planted faults: in houses of another model than the program's, one thing at a time is made wrong as a person would find it, and
//! just that is found. Each plant says what it is by the published article or by practice, and not by the program's rules.
//!
//! `WAYFINDER_FINDINGS=2000` plays as many houses as one likes and prints how many of each were found.

#![allow(clippy::unwrap_used, reason = "a test that cannot go on fails")]
#![allow(dead_code, reason = "the houses are those of the test of what is dead")]

#[path = "../dead/house.rs"]
mod house;

use std::collections::{BTreeMap, BTreeSet};

use house::{Made, Mapped, made};
use jiff::Timestamp;
use rand::SeedableRng;
use rand::rngs::ChaCha8Rng;
use rand::seq::IndexedRandom;
use wayfinder_core::audit::{Finding, KnownHouse, audit, inspection};
use wayfinder_core::base::units::{Amps, Feet, Gauge, Metal, Volts};
use wayfinder_core::house::*;
use wayfinder_core::load::Loaded;
use wayfinder_core::load::draws::draws;
use wayfinder_core::rules::Severity;
use wayfinder_core::trace::beliefs;
use wayfinder_core::{Change, House};

/// A house with one thing wrong, or with none.
struct World {
    made: Made,
    rng: ChaCha8Rng,
}

impl World {
    fn any<T: Copy>(&mut self, all: Vec<T>) -> Option<T> {
        all.choose(&mut self.rng).copied()
    }

    /// A breaker of one pole that feeds something.
    fn branch(&mut self) -> BreakerId {
        let fed: BTreeSet<BreakerId> = self.made.hung.values().map(|hung| hung.breaker).collect();
        let one = |b: &BreakerId| self.made.house.breakers.get(*b).unwrap().at.len() == 1;
        let all = fed.into_iter().filter(one).collect();
        self.any(all).unwrap()
    }

    fn outlet(&mut self) -> PointId {
        let all = self.made.house.points.iter().filter(|p| p.kind == PointKind::Receptacle).map(|p| p.id).collect();
        self.any(all).unwrap()
    }

    fn put(&mut self, breaker: BreakerId, with: impl FnOnce(&mut Breaker)) {
        let mut b = self.made.house.breakers.get(breaker).unwrap().clone();
        with(&mut b);
        self.made.house.breakers.put(b);
    }

    fn panel(&mut self, with: impl FnOnce(&mut Panel)) {
        let mut panel = self.made.house.panels.get(PanelId(1)).unwrap().clone();
        with(&mut panel);
        self.made.house.panels.put(panel);
    }

    fn wire(&mut self, breaker: BreakerId, size: &str, metal: Metal) {
        let id = CircuitId(70_000 + breaker.0);
        let wire: Option<Gauge> = size.parse().ok();
        let circuit = Circuit { wire, metal, conductors: Some(2), as_found: true, ..Circuit::new(id, breaker) };
        self.made.house.circuits.put(circuit);
    }

    fn looked(&mut self, of: Subject, fact: AsFound, saw: Saw) {
        let says = Remarks::Looked { fact, saw };
        let remark =
            Remark { id: RemarkId(1), of, says, time: Timestamp::now(), who: "Fern".into(), note: String::new() };
        self.made.house = self.made.house.apply(&Change::PutRemark { remark }).unwrap().house;
    }

    fn met(&mut self, fault: Fault) {
        let point = self.outlet();
        let observation = Observation::Fault { fault };
        let (id, time) = (EvidenceId(900_000), Timestamp::now());
        self.made.house.evidence.put(Evidence { id, point, time, who: "Fern".into(), step: None, observation });
    }

    fn log(&mut self, event: Event) {
        let (id, time) = (LogId(900_000), Timestamp::now());
        let entry = LogEntry { id, time, who: "Fern".into(), event, note: String::new() };
        self.made.house = self.made.house.apply(&Change::Log { entry }).unwrap().house;
    }

    fn load(&mut self, point: PointId, kind: LoadKind, with: impl FnOnce(&mut Load)) {
        let mut load = Load::new(LoadId(900_000), point, "thing", kind);
        with(&mut load);
        self.made.house.loads.put(load);
    }

    fn read(&mut self, nth: u64, breaker: BreakerId, quantity: Quantity, value: f64) {
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
        });
    }

    fn volts(&mut self, a: f64, b: f64) {
        let (a_n, b_n, a_b) = (Volts(a), Volts(b), Volts(a + b));
        let reading = ServiceReading { a_n, b_n, a_b, c_n: None, b_c: None, c_a: None };
        self.log(Event::Volts { panel: PanelId(1), reading });
    }
}

/// What is planted, with the rule that says so and where it stands.
type Plant = (&'static str, &'static str, fn(&mut World));

const MAIN: Subject = Subject::Panel(PanelId(1));

const PLANTS: &[Plant] = &[
    ("scorched-panel", "common practice", |w| w.looked(MAIN, AsFound::Scorched, Saw::Yes)),
    ("wet-panel", "NEC 110.11, from memory", |w| w.looked(MAIN, AsFound::Water, Saw::Yes)),
    ("no-cover", "NEC 110.27(A), from memory", |w| w.looked(MAIN, AsFound::NoCover, Saw::Yes)),
    ("open-space", "NEC 408.7, from memory", |w| w.looked(MAIN, AsFound::Opening, Saw::Yes)),
    ("doubtful-type", "common practice", |w| w.looked(MAIN, AsFound::DoubtfulType, Saw::Yes)),
    ("blocked", "NEC 110.26(A), from memory", |w| w.looked(MAIN, AsFound::Blocked, Saw::Yes)),
    ("wrong-screws", "common practice", |w| w.looked(MAIN, AsFound::Screws, Saw::Yes)),
    ("burnt-bus", "NEC 110.12(B), from memory", |w| w.looked(MAIN, AsFound::BurntBus, Saw::Yes)),
    ("loose-wire", "NEC 110.14(B), from memory", |w| w.looked(MAIN, AsFound::LooseWire, Saw::Yes)),
    ("two-under", "NEC 110.14(A), from memory", |w| w.looked(MAIN, AsFound::TwoUnder, Saw::Yes)),
    ("two-neutrals", "NEC 408.41, from memory", |w| w.looked(MAIN, AsFound::TwoNeutrals, Saw::Yes)),
    ("aluminium-seen", "common practice", |w| w.looked(MAIN, AsFound::Aluminium, Saw::Yes)),
    ("rough-ends", "NEC 110.14(A), from memory", |w| w.looked(MAIN, AsFound::RoughEnds, Saw::Yes)),
    ("other-makes", "NEC 110.3(B), from memory", |w| w.looked(MAIN, AsFound::OtherMakes, Saw::Yes)),
    ("unbonded-main", "NEC 250.24(B), from memory", |w| w.looked(MAIN, AsFound::Bonded, Saw::No)),
    ("no-electrode", "NEC 250.32(A), from memory", |w| {
        w.panel(|p| p.separate_building = true);
        w.looked(MAIN, AsFound::Electrode, Saw::No);
    }),
    ("no-interlock", "NEC 702.5, from memory", |w| {
        let dryer = w.made.house.breakers.iter().find(|b| b.at.len() == 2).unwrap().id;
        w.put(dryer, |b| b.inlet = true);
        w.looked(MAIN, AsFound::Interlock, Saw::No);
    }),
    ("no-hold-down", "NEC 408.36(D), from memory", |w| {
        let dryer = w.made.house.breakers.iter().find(|b| b.at.len() == 2).unwrap().id;
        w.put(dryer, |b| b.inlet = true);
        w.looked(Subject::Breaker(dryer), AsFound::HoldDown, Saw::No);
    }),
    ("does-not-stay", "common practice", |w| {
        let breaker = w.branch();
        w.looked(Subject::Breaker(breaker), AsFound::DoesNotStay, Saw::Yes);
    }),
    ("broken-plate", "NEC 406.6, from memory", |w| {
        let point = w.outlet();
        w.looked(Subject::Point(point), AsFound::Broken, Saw::Yes);
    }),
    ("ungrounded", "NEC 406.4(D)(2), from memory", |w| w.met(Fault::OpenGround)),
    ("open-neutral", "common practice", |w| w.met(Fault::OpenNeutral)),
    ("open-hot", "common practice", |w| w.met(Fault::OpenHot)),
    ("hot-ground", "common practice", |w| w.met(Fault::HotGroundReversed)),
    ("hot-neutral", "NEC 200.11, from memory", |w| w.met(Fault::HotNeutralReversed)),
    ("scorched", "common practice", |w| w.met(Fault::Scorched)),
    ("loose", "common practice", |w| w.met(Fault::Loose)),
    ("thin-wire", "NEC 240.4(D), from memory", |w| {
        let breaker = w.branch();
        w.put(breaker, |b| (b.amps, b.as_found) = (Amps(20.0), true));
        w.wire(breaker, "14", Metal::Copper);
    }),
    ("aluminium", "common practice", |w| {
        let breaker = w.branch();
        w.put(breaker, |b| b.amps = Amps(15.0));
        w.wire(breaker, "12", Metal::Aluminium);
    }),
    ("not-listed", "NEC 110.3(B), from memory", |w| {
        let breaker = w.branch();
        w.put(breaker, |b| b.model = "Varn Q".into());
        let panel = w.made.house.breakers.get(breaker).unwrap().panel;
        let panel = w.made.house.panels.get(panel).unwrap().clone();
        w.made.house.panels.put(Panel { listed: vec!["Ostrel K".into()], ..panel });
    }),
    ("main-over-bus", "NEC 408.36, from memory", |w| w.panel(|p| (p.main, p.bus) = (Some(Amps(200.0)), Amps(125.0)))),
    ("six-handles", "NEC 230.71(B), from memory", |w| w.panel(|p| p.main = None)),
    ("bad-breaker", "common practice", |w| {
        let breaker = w.branch();
        w.put(breaker, |b| b.bad = true);
    }),
    ("failed-test", "common practice", |w| {
        let breaker = w.branch();
        w.put(breaker, |b| b.device = Device::Gfci);
        w.log(Event::BreakerTest { breaker, passed: false });
    }),
    ("failed-device", "common practice", |w| {
        let point = w.outlet();
        let with = Point { ground_fault: true, ..w.made.house.points.get(point).unwrap().clone() };
        w.made.house.points.put(with);
        w.log(Event::DeviceTest { point, passed: false });
    }),
    ("service-volts", "handbook 1.1: legs that move oppositely", |w| w.volts(96.0, 144.0)),
    ("volts-band", "ANSI C84.1 Range B, from memory", |w| w.volts(108.5, 108.5)),
    ("nameplate-most", "NEC 440.4(B), from memory", |w| {
        let point = heater(w);
        w.load(point, LoadKind::Cooling, |l| (l.mca, l.mop) = (Some(Amps(14.0)), Some(Amps(20.0))));
    }),
    ("nameplate-least", "NEC 424.4(B), 210.20(A), from memory", |w| {
        let point = heater(w);
        w.load(point, LoadKind::Heating, |l| l.amps = Some(Amps(29.0)));
    }),
    ("hot-spot", "ANSI/NETA MTS table 100.18, from memory: 4 to 15 degrees above its like", |w| {
        let hot = w.branch();
        let panel = w.made.house.breakers.get(hot).unwrap().panel;
        let all = w.made.house.breakers.iter().filter(|b| b.panel == panel && b.at.len() == 1).map(|b| b.id);
        for (nth, breaker) in all.collect::<Vec<_>>().into_iter().enumerate() {
            let value = if breaker == hot { 39.0 } else { 28.0 + 0.5 * (nth % 3) as f64 };
            w.read(nth as u64, breaker, Quantity::Degrees, value);
            let carries = 0.55 * w.made.house.breakers.get(breaker).unwrap().amps.0;
            w.read(100 + nth as u64, breaker, Quantity::Amps { of: None }, carries);
        }
    }),
    ("neutral-astray", "NEC 300.3(B), from memory: hot and neutral of a circuit carry alike", |w| {
        let breaker = w.branch();
        w.read(0, breaker, Quantity::Amps { of: None }, 6.0);
        w.read(1, breaker, Quantity::Amps { of: Some(Conductor::N) }, 1.2);
    }),
    ("sink-circuit", "NEC 210.23, from memory: 10 A and 11 A on 20 A", |w| {
        let washer = w.made.house.points.iter().find(|p| p.name == "dishwasher").unwrap().clone();
        let disposer = Point { id: PointId(800_000), tag: "D800".into(), name: "disposer".into(), ..washer.clone() };
        w.made.house.points.put(disposer);
        let seen: Vec<Evidence> = w.made.house.evidence.iter().filter(|e| e.point == washer.id).cloned().collect();
        for (nth, evidence) in seen.into_iter().enumerate() {
            w.made.house.evidence.put(Evidence {
                id: EvidenceId(910_000 + nth as u64),
                point: PointId(800_000),
                ..evidence
            });
        }
        w.load(washer.id, LoadKind::Dishwasher, |l| (l.amps, l.name) = (Some(Amps(10.0)), "dishwasher".into()));
        let load = Load::new(LoadId(900_001), PointId(800_000), "disposer", LoadKind::Disposer);
        w.made.house.loads.put(Load { amps: Some(Amps(11.0)), ..load });
    }),
    ("overload", "UL 489, handbook 3.3: 27 A at every meal on 20 A", |w| {
        let point = counter(w);
        w.load(point, LoadKind::Other, |l| {
            (l.amps, l.habit, l.volts) = (Some(Amps(27.0)), Some(Habit::Always), None);
        });
    }),
];

/// What is worth improving, planted in the same way: it is found, and is not there in the house that is right.
const BETTER: &[Plant] = &[
    ("names-person", "NEC 408.4(A), from memory", |w| {
        let room = w.made.house.rooms.iter().find(|r| r.name == "Study").unwrap().clone();
        w.made.house.rooms.put(Room { name: "Fern's den".into(), ..room });
    }),
    ("stale-plate", "common practice", |w| {
        let point = w.outlet();
        let says = Remarks::Labelled { text: "Attic 40".into() };
        let (id, time) = (RemarkId(1), Timestamp::now());
        let remark = Remark { id, of: point.into(), says, time, who: "Fern".into(), note: String::new() };
        w.made.house = w.made.house.apply(&Change::PutRemark { remark }).unwrap().house;
    }),
    ("own-circuit", "NEC 422.12, from memory", |w| {
        let furnace = w.outlet();
        w.load(furnace, LoadKind::Heating, |l| (l.name, l.amps) = ("furnace".into(), Some(Amps(4.0))));
    }),
    // 400 ft of 10 AWG at 1.21 ohms to 1,000 ft, there and back: 12 A lose 11.6 of 120 V. NEC chapter 9 table 9, from memory
    ("long-run", "NEC 210.19(A) informational note, from memory", |w| {
        let point = counter(w);
        let breaker = w.made.hung[&point].breaker;
        w.wire(breaker, "10", Metal::Copper);
        let id = CircuitId(70_000 + breaker.0);
        let circuit = w.made.house.circuits.get(id).unwrap().clone();
        w.made.house.circuits.put(Circuit { length: Some(Feet(400.0)), ..circuit });
        w.load(point, LoadKind::Other, |l| (l.amps, l.habit) = (Some(Amps(12.0)), Some(Habit::Always)));
    }),
    ("poor-labels", "NEC 408.4(A), from memory", |w| {
        let all: Vec<BreakerId> = w.made.house.breakers.iter().map(|b| b.id).take(2).collect();
        for breaker in all {
            w.put(breaker, |b| b.label = "General lighting".into());
        }
    }),
];

/// The water heater, alone on 30 A at 240 V.
fn heater(w: &World) -> PointId {
    w.made.house.points.iter().find(|p| p.name == "water heater").unwrap().id
}

/// An outlet of the kitchen's counter.
fn counter(w: &World) -> PointId {
    let kitchen = w.made.house.rooms.iter().find(|r| r.name == "Kitchen").unwrap().id;
    w.made.house.points.iter().find(|p| p.room == kitchen && p.kind == PointKind::Receptacle).unwrap().id
}

/// What is dangerous, or to be mended.
fn grave(house: &House) -> Vec<Finding> {
    found(house).into_iter().filter(|f| f.severity < Severity::Improve).collect()
}

fn found(house: &House) -> Vec<Finding> {
    let all = beliefs(house);
    let drawn = draws(house, &all);
    let known = KnownHouse { house, beliefs: &all, loaded: &Loaded::new(house, &all, &drawn), now: Timestamp::now() };
    audit(&known).findings
}

/// A house that is right: new, its neutrals tied as they have to be.
fn right(seed: u64) -> Made {
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

// A clean new house has nothing of danger and nothing to mend; every planted fault is found, and nothing else of that kind is said.
#[test]
fn every_planted_fault_is_found_and_nothing_else() {
    let asked = std::env::var("WAYFINDER_FINDINGS").ok().and_then(|n| n.parse().ok());
    let cases: usize = asked.unwrap_or(2 * PLANTS.len());
    let mut table: BTreeMap<&str, (usize, usize)> = BTreeMap::new();
    let mut wrong = Vec::new();
    for case in 0..cases {
        let seed = 60_000 + (case / PLANTS.len()) as u64;
        let (rule, source, plant) = PLANTS[case % PLANTS.len()];
        let mut world = World { made: right(seed), rng: ChaCha8Rng::seed_from_u64(case as u64) };
        if case % PLANTS.len() == 0 {
            let clean = grave(&world.made.house);
            assert!(clean.is_empty(), "house {seed} is right: {clean:#?}");
        }
        plant(&mut world);
        let found: BTreeSet<&str> = grave(&world.made.house).iter().map(|f| f.rule).collect();
        let row = table.entry(rule).or_default();
        *row = (row.0 + 1, row.1 + usize::from(found.contains(rule)));
        if found != [rule].into() {
            wrong.push(format!("house {seed}, {rule} ({source}): found {found:?}"));
        }
    }
    if asked.is_some() {
        for (rule, (planted, found)) in &table {
            println!("{rule:18} {planted:5} planted {found:5} found");
        }
    }
    assert!(wrong.is_empty(), "{} of {cases}:\n{}", wrong.len(), wrong.join("\n"));
}

#[test]
fn what_is_worth_improving_is_found_where_it_was_planted() {
    for (nth, (rule, source, plant)) in BETTER.iter().enumerate() {
        for seed in 0..4 {
            let mut world = World { made: right(62_000 + seed), rng: ChaCha8Rng::seed_from_u64(seed) };
            // The made houses have labels of every sort, and what strays between them: the house itself has to be silent of it.
            for breaker in world.made.house.breakers.iter().map(|b| b.id).collect::<Vec<_>>() {
                world.put(breaker, |b| b.label = String::new());
            }
            let before = found(&world.made.house).iter().filter(|f| f.rule == *rule).count();
            plant(&mut world);
            let after = found(&world.made.house).iter().filter(|f| f.rule == *rule).count();
            assert_eq!((before, after), (0, 1), "{nth}, house {seed}: {rule} ({source})");
        }
    }
}

// Handbook 5.1, 6: whoever answers all as it is finds what is there, and is asked nothing twice.
#[test]
fn a_walk_finds_what_somebody_planted_in_plain_sight() {
    for seed in 0..6 {
        let mut world = World { made: right(61_000 + seed), rng: ChaCha8Rng::seed_from_u64(seed) };
        let broken = world.outlet();
        let mut asked = BTreeSet::new();
        let mut id = 0;
        while let Some(ask) = inspection(&world.made.house, false).open.into_iter().next() {
            assert!(asked.insert((ask.place.clone(), ask.said)), "asked twice: {ask:?}");
            let room = world.made.house.points.get(broken).unwrap().room;
            let (of, saw) = match ask.fact {
                AsFound::Water if ask.of == MAIN => (ask.of, Saw::Yes),
                AsFound::Broken if ask.of == Subject::Room(room) => (Subject::Point(broken), Saw::Yes),
                _ => (ask.of, ask.well),
            };
            id += 1;
            let says = Remarks::Looked { fact: ask.fact, saw };
            let (id, time) = (RemarkId(id), Timestamp::now());
            let remark = Remark { id, of, says, time, who: "Fern".into(), note: String::new() };
            world.made.house = world.made.house.apply(&Change::PutRemark { remark }).unwrap().house;
        }
        let found: BTreeSet<&str> = grave(&world.made.house).iter().map(|f| f.rule).collect();
        assert_eq!(found, ["wet-panel", "broken-plate"].into());
    }
}
