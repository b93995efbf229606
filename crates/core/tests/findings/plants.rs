//! What is planted, each by the published article or by practice, and not by the program's rules.

use std::collections::BTreeSet;

use jiff::Timestamp;
use wayfinder_core::Change;
use wayfinder_core::base::position::{Leg, parse_poles};
use wayfinder_core::base::units::{Amps, Feet, Metal, NominalVolts, PlateVolts, Watts};
use wayfinder_core::house::*;

use crate::world::{World, counter, heater};

/// What is planted, with the rule that says so and where it stands.
pub type Plant = (&'static str, &'static str, fn(&mut World));

pub const MAIN: Subject = Subject::Panel(PanelId(1));

pub const PLANTS: &[Plant] = &[
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
    ("overload", "UL 489, handbook 3.3: a plate of 36 A on 20 A", |w| {
        let point = counter(w);
        w.load(point, LoadKind::Other, |l| {
            (l.amps, l.habit, l.volts) = (Some(Amps(36.0)), Some(Habit::Always), None);
        });
    }),
    ("same-leg", "definition: both halves of a space are on its leg", |w| {
        w.panel(|p| p.tandem = TandemSpaces::All);
        let at = w.free(1)[0];
        let dryer = w.two_pole();
        w.put(dryer, |b| b.at = parse_poles(&format!("{at}a-{at}b")).unwrap());
    }),
    ("half-size", "NEC 110.3(B), from memory", |w| {
        let (at, breaker) = (w.free(1)[0], w.branch());
        w.put(breaker, |b| b.at = parse_poles(&format!("{at}a")).unwrap());
    }),
    ("too-many", "NEC 408.54, from memory", |w| w.panel(|p| p.max_circuits = Some(12))),
    ("full-terminal", "NEC 110.14(A), from memory", |w| {
        let breaker = w.branch();
        let one = Terminal { wires: 1, smallest: None, largest: None, torque: None };
        w.put(breaker, |b| b.terminal = Some(one));
        for nth in 0..2 {
            w.made.house.circuits.put(Circuit::new(CircuitId(71_000 + nth), breaker));
        }
    }),
    ("neutral-one-leg", "definition: on one leg the currents add up in the neutral", |w| {
        let [one, other] = w.pair(|apart, same_leg| apart > 2 && same_leg);
        w.share(one, other);
    }),
    ("neutral-untied", "NEC 210.4(B), from memory", |w| {
        let [one, other] = w.pair(|apart, _| apart == 2);
        w.share(one, other);
    }),
    ("neutral-apart", "NEC 210.4(D), from memory: grouped in the panel", |w| {
        let [one, other] = w.pair(|apart, same_leg| apart > 2 && !same_leg);
        w.share(one, other);
    }),
    ("neutral-device", "common practice: it trips whenever the other one runs", |w| {
        let [one, other] = w.pair(|apart, _| apart == 2);
        w.share(one, other);
        w.put(one, |b| b.device = Device::Gfci);
    }),
    ("neutral-two-panels", "NEC 210.4(A), from memory", |w| {
        let annex = w.annex(Amps(60.0), None);
        // Space 1 is on leg A and 3 on leg B: they share on two legs.
        let one = w.branch();
        let at = if w.made.legs(one) == [Leg::A] { "3" } else { "1" };
        let other = w.in_annex(annex, at, Amps(20.0));
        w.share(one, other);
    }),
    ("bonded-twice", "NEC 250.142(B), from memory", |w| {
        w.annex(Amps(60.0), Some(true));
    }),
    ("branch-over-bus", "NEC 408.36, from memory", |w| w.panel(|p| (p.main, p.bus) = (Some(Amps(40.0)), Amps(40.0)))),
    ("receptacle-rating", "NEC 210.21(B), from memory", |w| {
        let laundry = w.feeding("Laundry", PointKind::Receptacle);
        w.put(laundry, |b| b.amps = Amps(30.0));
    }),
    ("light-rating", "NEC 210.3, 210.23, from memory", |w| {
        let lights = w.feeding("Hall", PointKind::Light);
        w.put(lights, |b| b.amps = Amps(60.0));
    }),
    ("light-voltage", "NEC 210.6(A), from memory: 120 V in dwellings", |w| {
        let (heater, breaker) = (heater(w), w.two_pole());
        w.put(breaker, |b| b.amps = Amps(20.0));
        w.point(heater, |p| p.kind = PointKind::Light);
    }),
    ("wrong-voltage", "definition: one pole gives one leg to neutral", |w| {
        let point = w.outlet();
        w.point(point, |p| p.volts = Some(NominalVolts::V240));
    }),
    ("ground-fault", "NEC 210.8(A), from memory: somebody looked, and there is no button in the laundry", |w| {
        let laundry = w.made.house.rooms.iter().find(|r| r.name == "Laundry").unwrap().clone();
        w.made.house.rooms.put(Room { no_device: true, ..laundry });
    }),
    ("nameplate-wire", "NEC 440.4(B), from memory: 10 AWG for a unit that asks for 34 A", |w| {
        let (point, breaker) = (heater(w), w.two_pole());
        w.put(breaker, |b| b.amps = Amps(40.0));
        w.wire(breaker, "10", Metal::Copper);
        w.load(point, LoadKind::Cooling, |l| (l.mca, l.mop) = (Some(Amps(34.0)), Some(Amps(50.0))));
    }),
    ("nameplate-volts", "definition: 277 V are given by no supply of a house", |w| {
        let point = heater(w);
        w.load(point, LoadKind::Heating, |l| {
            (l.watts, l.volts) = (Some(Watts(2000.0)), PlateVolts::try_from(277).ok())
        });
    }),
    ("lasting-sum", "NEC 210.20(A), from memory: 26 A for hours on 30 A", |w| {
        let point = heater(w);
        w.load(point, LoadKind::Heating, |l| l.amps = Some(Amps(13.0)));
        let other = Load::new(LoadId(900_001), point, "other heater", LoadKind::Heating);
        w.made.house.loads.put(Load { amps: Some(Amps(13.0)), ..other });
    }),
    ("feeder-lasting", "NEC 215.3, from memory: 26 A for hours on each leg of 30 A", |w| {
        let annex = w.annex(Amps(30.0), None);
        let points: Vec<PointId> = ["water heater", "dryer"].map(|name| w.named(name)).into();
        for (nth, point) in points.into_iter().enumerate() {
            let breaker = w.made.hung[&point].breaker;
            w.put(breaker, |b| (b.panel, b.at) = (annex, parse_poles(["5-7", "6-8"][nth]).unwrap()));
            let heater = Load::new(LoadId(900_000 + nth as u64), point, format!("heater {nth}"), LoadKind::Heating);
            w.made.house.loads.put(Load { amps: Some(Amps(13.0)), ..heater });
        }
    }),
    ("fixed-share", "NEC 210.23, from memory: 9 A of 15 fixed, beside other lights", |w| {
        let lights = w.feeding("Hall", PointKind::Light);
        let mut on_it = w.made.hung.iter().filter(|(p, h)| h.breaker == lights && w.is(**p, PointKind::Light));
        let point = *on_it.next_back().unwrap().0;
        w.point(point, |p| p.kind = PointKind::Appliance);
        w.load(point, LoadKind::Heating, |l| (l.amps, l.habit) = (Some(Amps(9.0)), Some(Habit::Seldom)));
    }),
    ("live-point", "common practice: live with every breaker off", |w| {
        let sample = w.made.house.points.get(w.made.house.points.iter().next().unwrap().id).unwrap().clone();
        let stray = Point { id: PointId(800_000), tag: "X800".into(), name: "pole light".into(), ..sample };
        w.made.house.points.put(stray);
        let off: BTreeSet<BreakerId> = w.made.house.breakers.iter().map(|b| b.id).collect();
        for nth in 0..3 {
            let observation = Observation::Power { off: off.clone(), seen: Seen::Live, how: Way::Tester };
            let time = Timestamp::from_second(1_700_000_000 + 60 * nth as i64).unwrap();
            let (id, point, who) = (EvidenceId(920_000 + nth), PointId(800_000), "Fern".into());
            w.made.house.evidence.put(Evidence { id, point, time, who, step: None, observation });
        }
    }),
];

/// What is wrong by its nature together with what is planted: handles that are not one are told beside a neutral of two.
pub const ALSO: &[(&str, &[&str])] = &[
    ("neutral-one-leg", &["neutral-apart", "neutral-untied"]),
    ("neutral-apart", &["neutral-untied"]),
    ("neutral-device", &["neutral-untied"]),
    ("neutral-two-panels", &["neutral-untied"]),
    // What a house usually carries is more than 40 A; and 10 AWG is thin for 40 A without a nameplate, too.
    ("branch-over-bus", &["leg-over"]),
    ("nameplate-wire", &["thin-wire"]),
];

/// What is worth improving, planted in the same way: it is found, and is not there in the house that is right.
pub const BETTER: &[Plant] = &[
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
    ("arc-fault", "NEC 210.12(A), from memory", |w| {
        let bedroom = w.feeding("Study", PointKind::Receptacle);
        w.put(bedroom, |b| b.device = Device::Plain);
    }),
    ("standard-rating", "NEC 240.6(A), from memory", |w| {
        let breaker = w.branch();
        w.put(breaker, |b| b.amps = Amps(17.0));
    }),
    ("cord-share", "NEC 210.23(B)(1), from memory: 13 A of 15 by cord", |w| {
        let study = w.feeding("Study", PointKind::Receptacle);
        let point =
            *w.made.hung.iter().find(|(p, h)| h.breaker == study && w.is(**p, PointKind::Receptacle)).unwrap().0;
        w.load(point, LoadKind::Other, |l| (l.amps, l.habit) = (Some(Amps(13.0)), Some(Habit::Seldom)));
    }),
    ("must-run", "common practice: a freezer behind a device with others", |w| {
        let mut at = w.made.house.points.iter().filter(|p| p.kind == PointKind::Receptacle).map(|p| p.id);
        let [device, freezer, other] = [at.next().unwrap(), at.next().unwrap(), at.next().unwrap()];
        drop(at);
        w.point(device, |p| p.ground_fault = true);
        for behind in [freezer, other] {
            w.point(behind, |p| p.protected_by = Some(device));
        }
        w.load(freezer, LoadKind::Refrigerator, |l| l.amps = Some(Amps(1.5)));
    }),
    ("device-behind", "common practice: two places to press after one fault", |w| {
        let mut at = w.made.house.points.iter().filter(|p| p.kind == PointKind::Receptacle).map(|p| p.id);
        let [device, other] = [at.next().unwrap(), at.next().unwrap()];
        drop(at);
        w.point(device, |p| p.ground_fault = true);
        w.point(other, |p| (p.ground_fault, p.protected_by) = (true, Some(device)));
    }),
    ("kitchen-circuit", "NEC 210.11(C)(1), from memory", |w| {
        let kitchen = w.feeding("Kitchen", PointKind::Receptacle);
        w.put(kitchen, |b| b.amps = Amps(15.0));
    }),
    ("kitchen-two", "NEC 210.11(C)(1), from memory", |w| {
        let kitchen = w.feeding("Kitchen", PointKind::Receptacle);
        w.put(kitchen, |b| b.amps = Amps(15.0));
    }),
    ("laundry-circuit", "NEC 210.11(C)(2), from memory", |w| {
        let laundry = w.feeding("Laundry", PointKind::Receptacle);
        w.put(laundry, |b| b.amps = Amps(15.0));
    }),
    ("wrong-label", "NEC 408.4(A), from memory", |w| {
        let study = w.feeding("Study", PointKind::Receptacle);
        w.put(study, |b| b.label = "Dryer".into());
        w.all_else_live(study);
    }),
    ("feeds-nothing", "NEC 408.4(A), from memory: every point hangs elsewhere", |w| {
        let at = w.free(1)[0];
        let idle = BreakerId(80_000);
        let breaker = Breaker::new(idle, PanelId(1), parse_poles(&at.to_string()).unwrap(), Amps(20.0));
        w.made.house.breakers.put(Breaker { as_found: true, ..breaker });
        w.all_else_live(idle);
    }),
];
