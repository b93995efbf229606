use std::collections::BTreeSet;

use proptest::prelude::*;

use super::*;
use crate::base::position::{Half, Position, parse_poles};
use crate::base::units::{Amps, Horsepower, Inches, NominalVolts, Seconds, VoltAmperes, Watts};
use crate::edit::invert;
use crate::fixture::Fixture;
use crate::house::*;

fn breaker(id: u64, at: &str) -> Breaker {
    Breaker::new(BreakerId(id), PanelId(1), parse_poles(at).unwrap(), Amps(20.0))
}

fn reading(id: u64) -> Reading {
    Reading {
        id: ReadingId(id),
        time: jiff::Timestamp::UNIX_EPOCH,
        who: "someone".into(),
        place: MeasuredAt::Bus { panel: PanelId(1) },
        quantity: Quantity::Amps { of: Some(Conductor::A) },
        value: 8.5,
        instrument: Instrument::Clamp,
        span: Span::Spot,
        on: BTreeSet::new(),
        sure: false,
    }
}

fn put(house: &House, id: u64, at: &str) -> Result<Applied, Invalid> {
    house.apply(&Change::PutBreaker { breaker: breaker(id, at) })
}

fn fault(result: Result<Applied, Invalid>) -> String {
    result.unwrap_err().to_string()
}

fn cost_of(house: &House, change: &Change) -> Cost {
    cost(house, &house.apply(change).unwrap().house)
}

#[test]
fn overlapping_breakers_are_refused_and_the_house_stays() {
    let mut f = Fixture::new(20);
    f.breaker("5-7", 50.0, "");
    let before = f.house.clone();
    assert_eq!(
        fault(put(&f.house, 99, "7")),
        "breaker.at: breakers 5-7 and 7 cannot both stand in 7: one has to go first"
    );
    assert_eq!(f.house, before);
}

// handbook 1.2 [def]: both halves of one space are on that space's leg; across the row boundary there are two legs.
#[test]
fn half_size_two_pole_works_only_across_the_row_boundary() {
    let mut f = Fixture::new(20);
    assert!(fault(put(&f.house, 99, "1a")).contains("takes no half-size breakers"));
    f.allow_tandems();
    for good in ["1b-3a", "1a-3b", "1a", "3b"] {
        assert!(put(&f.house, 99, good).is_ok(), "{good}");
    }
    for bad in ["1a-1b", "1b-2a", "1-3a", "1a-5a"] {
        assert!(fault(put(&f.house, 99, bad)).starts_with("breaker.at"), "{bad}");
    }
}

#[test]
fn two_poles_stand_below_one_another_in_one_column() {
    let f = Fixture::new(20);
    assert!(put(&f.house, 99, "5-7").is_ok());
    for bad in ["5-6", "5-9", "7-5", "19-21", "21", "5-5", "1-3-5", "1-3-5-7"] {
        assert!(fault(put(&f.house, 99, bad)).starts_with("breaker.at"), "{bad}");
    }
}

// NEC 408.54 (from memory): each pole counts as one overcurrent device.
#[test]
fn the_panels_most_circuits_is_counted_in_poles() {
    let mut f = Fixture::new(20);
    let panel = Panel { max_circuits: Some(3), ..f.panel().clone() };
    f.house.panels.put(panel);
    f.breaker("1-3", 30.0, "");
    assert!(put(&f.house, 99, "2").is_ok());
    assert!(fault(put(&f.house, 99, "2-4")).contains("this would make 4"));
}

#[test]
fn a_panel_is_not_fed_by_itself() {
    let mut f = Fixture::new(20);
    let feeder = f.breaker("1-3", 60.0, "");
    let sub = f.sub_panel("Annex", feeder);
    let inside = f.breaker_in(sub, "1-3", 30.0, "");
    let main = Panel { fed_by: Some(inside), ..f.panel().clone() };
    assert!(fault(f.house.apply(&Change::PutPanel { panel: main })).starts_with("panel.fed_by"));
    assert!(fault(f.house.apply(&Change::RemoveBreaker { breaker: feeder })).contains("feeds the panel Annex"));
}

#[test]
fn taking_out_a_breaker_takes_its_evidence_and_undo_brings_both_back() {
    let mut f = Fixture::new(20);
    let (one, two) = (f.breaker("1", 20.0, ""), f.breaker("3", 20.0, ""));
    let room = f.room("Hall");
    let point = f.point("H1", room, PointKind::Light);
    f.see(point, &[one], Seen::Dead);
    let kept = f.see(point, &[two], Seen::Live);
    let change = Change::RemoveBreaker { breaker: one };
    assert_eq!(
        cost_of(&f.house, &change),
        Cost { observations: 1, readings: 0, unproven: vec!["H1".into()], unproven_words: "Hall light (H1)".into() }
    );
    let gone = f.house.apply(&change).unwrap();
    assert_eq!(gone.house.evidence.iter().map(|e| e.id).collect::<Vec<_>>(), [kept]);
    let mut back = gone.house.apply_edits(invert(gone.edits)).unwrap().house;
    back.revision = f.house.revision;
    assert_eq!(back, f.house);
}

// What was live with a breaker off did not hang on it, nor on what was off with it: that stays true when it is gone. What
// was dead with it may have hung on it.
#[test]
fn what_was_seen_with_a_breaker_that_is_gone_still_tells_of_the_others() {
    let mut f = Fixture::new(20);
    let [one, two, three] = ["1", "3", "5"].map(|at| f.breaker(at, 20.0, ""));
    let room = f.room("Hall");
    let [mine, other, open] = ["H1", "H2", "H3"].map(|tag| f.point(tag, room, PointKind::Receptacle));
    for (point, feeder) in [(mine, one), (other, two)] {
        for off in [[one, two], [two, three], [one, three]] {
            f.see(point, &off, if off.contains(&feeder) { Seen::Dead } else { Seen::Live });
        }
    }
    f.see(open, &[one, two], Seen::Dead);
    let change = Change::RemoveBreaker { breaker: one };
    assert_eq!(
        cost_of(&f.house, &change),
        Cost {
            observations: 3,
            readings: 0,
            unproven: vec!["H1".into()],
            unproven_words: "Hall receptacle (H1)".into()
        }
    );
    let house = f.house.apply(&change).unwrap().house;
    let beliefs = trace::beliefs(&house);
    let fed = |tag: &str| beliefs.points.iter().find(|p| p.tag == tag).unwrap();
    assert!(fed("H2").proven && fed("H2").candidates[0].at.breaker == two);
    // Of the one that hung there: it was live with the others off, so it is not believed on them.
    let off = |id: PointId| -> Vec<_> {
        let of = house.evidence.iter().filter(|e| e.point == id).map(|e| e.observation.breakers().collect::<Vec<_>>());
        of.collect()
    };
    assert_eq!((off(mine), off(open)), (vec![vec![two, three]], vec![]));
    assert!(!fed("H1").proven && !fed("H3").proven);
    // Nothing is said where nothing is lost.
    let label = Breaker { label: "hall".into(), ..f.house.breakers.get(two).unwrap().clone() };
    assert_eq!(cost_of(&f.house, &Change::PutBreaker { breaker: label }), Cost::default());
}

#[test]
fn undo_is_refused_where_the_thing_changed_again() {
    let f = Fixture::new(20);
    let first = put(&f.house, 99, "1").unwrap();
    let second = put(&first.house, 99, "3").unwrap();
    let refused = second.house.apply_edits(invert(first.edits)).unwrap_err();
    assert_eq!(refused.field, "revision");
}

#[test]
fn a_step_moves_all_handles_to_what_was_advised() {
    let mut f = Fixture::new(20);
    let (one, two) = (f.breaker("1", 20.0, ""), f.breaker("3", 20.0, ""));
    let step = |id, off: &[BreakerId]| Change::BeginStep {
        step: Step { id: StepId(id), off: off.iter().copied().collect(), visit: vec![] },
    };
    let off = |h: &House| h.breakers.iter().filter(|b| b.is_off()).map(|b| b.id).collect::<Vec<_>>();
    let house = f.house.apply(&step(1, &[one])).unwrap().house;
    assert_eq!(off(&house), [one]);
    let house = house.apply(&step(2, &[two])).unwrap().house;
    assert_eq!(off(&house), [two]);
    assert!(off(&house.apply(&step(3, &[])).unwrap().house).is_empty());
}

#[test]
fn wrong_fields_are_named() {
    let mut f = Fixture::new(20);
    let room = f.room("Hall");
    f.point("H1", room, PointKind::Light);
    let point = |tag: &str, room| Change::PutPoint { point: Point::new(PointId(77), tag, room, PointKind::Light) };
    let about = |name: &str, proof_threshold| Change::SetAbout {
        about: About { name: name.into(), proof_threshold, lengths: Lengths::Metres, ..House::new("x").about },
    };
    let hall = Change::PutRoom { room: Room::new(RoomId(88), "HALL", "1") };
    let priced = |part: &str| Change::SetAbout {
        about: About { prices: [(part.to_owned(), 2.5)].into(), ..House::new("x").about },
    };
    // Parts are called by what they are for.
    let long = "cable from the old cabinet to the new panel, of the circuit's own gauge, with connectors";
    assert!(f.house.apply(&priced(long)).is_ok());
    let cases = [
        (point("h1", room), "point.tag"),
        (point("", room), "point.tag"),
        (point("K 1", room), "point.tag"),
        (point("K1", RoomId(9999)), "point.room"),
        (about(" ", 0.99), "about.name"),
        (about("x", f64::NAN), "about.proof_threshold"),
        (about("x", 0.5), "about.proof_threshold"),
        (hall, "room.name"),
        (priced(" "), "about.prices"),
        (priced(&"x".repeat(301)), "about.prices"),
        (Change::RemoveRoom { room: RoomId(4) }, "room"),
        (Change::MarkEmpty { panel: PanelId(1), space: Position::whole(21), empty: true }, "panel.empty"),
    ];
    for (change, field) in cases {
        assert_eq!(f.house.apply(&change).unwrap_err().field, field, "{change:?}");
    }
}

#[test]
fn every_limit_is_kept_and_told_with_its_range() {
    let mut f = Fixture::new(20);
    let room = f.room("Hall");
    let outlet = f.point("H1", room, PointKind::Receptacle);
    f.house.points.put(Point { volts: Some(NominalVolts::V120), ..f.house.points.get(outlet).unwrap().clone() });
    let panel = |edit: &dyn Fn(&mut Panel)| {
        let mut panel = f.panel().clone();
        edit(&mut panel);
        f.house.apply(&Change::PutPanel { panel })
    };
    let rated =
        |amps: f64| f.house.apply(&Change::PutBreaker { breaker: Breaker { amps: Amps(amps), ..breaker(9, "1") } });
    let loaded = |edit: &dyn Fn(&mut Load)| {
        let mut load = Load::new(LoadId(1), outlet, "kettle", LoadKind::Other);
        edit(&mut load);
        f.house.apply(&Change::PutLoad { load })
    };
    let read = |edit: &dyn Fn(&mut Reading)| {
        let mut reading = Reading { value: 480.0, ..reading(1) };
        edit(&mut reading);
        f.house.apply(&Change::NoteReading { reading })
    };
    let volts = |between| Quantity::Volts { between };
    let at = |b, pole| MeasuredAt::Breaker { breaker: BreakerId(b), pole, side: Side::Load };
    let area = |value: f64| {
        let area = Some(LivingArea { value, unit: AreaUnit::Ft2 });
        f.house.apply(&Change::SetAbout { about: About { area, ..f.house.about.clone() } })
    };
    let card = |width: f64, height: f64| {
        panel(&|p| {
            p.card =
                Some(CardSize { width: crate::base::units::Inches(width), height: crate::base::units::Inches(height) })
        })
    };
    let refused = [
        (rated(0.0), "breaker.amps: the breaker rating must be 1 to 400 A, not 0"),
        (rated(401.0), "breaker.amps: the breaker rating must be 1 to 400 A, not 401"),
        (rated(f64::NAN), "breaker.amps: the breaker rating must be 1 to 400 A, not NaN"),
        (loaded(&|l| l.watts = Some(Watts(-1.0))), "load.watts: the nameplate power must be 0 to 100000 W, not -1"),
        (
            loaded(&|l| l.va = Some(VoltAmperes(f64::NAN))),
            "load.va: the nameplate power must be 0 to 100000 W, not NaN",
        ),
        (loaded(&|l| l.amps = Some(Amps(401.0))), "load.amps: the nameplate current must be 0 to 400 A, not 401"),
        (loaded(&|l| l.hp = Some(Horsepower(51.0))), "load.hp: the motor's power must be 0 to 50 hp, not 51"),
        (loaded(&|l| l.name.clear()), "load.name: the load needs a name"),
        (loaded(&|l| l.point = PointId(999)), "load.point: the point of kettle does not exist"),
        (
            loaded(&|l| l.volts = Some(NominalVolts::V240.into())),
            "load.volts: H1 is a point of 120 V: it carries nothing of 240 V",
        ),
        (
            loaded(&|l| (l.mca, l.mop) = (Some(Amps(20.0)), Some(Amps(15.0)))),
            "load.mop: the largest breaker allowed (15 A) is below the ampacity asked for (20 A)",
        ),
        (read(&|r| r.value = -1.0), "reading.value: the current must be 0 to 1000 A, not -1"),
        (read(&|r| r.quantity = volts(None)), "reading.value: the voltage must be 0 to 300 V, not 480"),
        (read(&|r| r.place = at(9, None)), "reading.place: the breaker it was taken at does not exist"),
        (read(&|r| r.on = [LoadId(9)].into()), "reading.on: the load 9 that was on does not exist"),
        (
            read(&|r| (r.value, r.quantity) = (0.0, volts(Some([Conductor::N; 2])))),
            "reading.quantity: a voltage stands between two different conductors",
        ),
        (read(&|r| r.quantity = Quantity::Amps { of: Some(Conductor::C) }), "reading.quantity: the panel has no leg C"),
        (area(40.0), "about.area: the living area must be 50 to 50000 ft2, not 40"),
        (panel(&|p| p.spaces = 0), "panel.spaces: the number of spaces must be 1 to 84 spaces, not 0"),
        (panel(&|p| p.spaces = 85), "panel.spaces: the number of spaces must be 1 to 84 spaces, not 85"),
        (panel(&|p| p.bus = Amps(10.0)), "panel.bus: the bus rating must be 15 to 1200 A, not 10"),
        (panel(&|p| p.main = Some(Amps(2000.0))), "panel.main: the main rating must be 15 to 1200 A, not 2000"),
        (card(0.5, 9.0), "width: the card width must be 1 to 34 in, not 0.5"),
        (card(4.0, 45.0), "height: the card height must be 1 to 44 in, not 45"),
    ];
    for (result, message) in refused {
        assert_eq!(fault(result), message);
    }
    assert!(
        rated(400.0).is_ok()
            && loaded(&|l| l.watts = Some(Watts(0.0))).is_ok()
            && card(34.0, 44.0).is_ok()
            && panel(&|p| p.spaces = 84).is_ok()
    );
}

#[test]
fn names_are_short_printable_and_told_apart() {
    let mut f = Fixture::new(20);
    f.room("Hall");
    let feeder = f.breaker("1-3", 60.0, "");
    f.sub_panel("Annex", feeder);
    let labelled = |label: &str| {
        f.house.apply(&Change::PutBreaker { breaker: Breaker { label: label.into(), ..breaker(9, "2") } })
    };
    assert!(labelled(&"x".repeat(80)).is_ok());
    assert_eq!(labelled(&"x".repeat(81)).unwrap_err().field, "breaker.label");
    assert_eq!(labelled("two\nlines").unwrap_err().field, "breaker.label");
    let called =
        |name: &str| f.house.apply(&Change::PutPanel { panel: Panel { name: name.into(), ..f.panel().clone() } });
    assert_eq!(called("annex").unwrap_err().field, "panel.name");
    assert_eq!(called("").unwrap_err().field, "panel.name");
    let upstairs = |floor: &str| f.house.apply(&Change::PutRoom { room: Room::new(RoomId(99), "Hall", floor) });
    assert_eq!(upstairs("1").unwrap_err().field, "room.name");
    assert!(upstairs("2").is_ok(), "two floors may each have a hall");
    assert_eq!(upstairs("").unwrap_err().field, "room.floor");
}

#[test]
fn ids_stay_exact_in_json() {
    let f = Fixture::new(20);
    let with = |id: u64| f.house.apply(&Change::PutBreaker { breaker: breaker(id, "1") });
    assert!(with((1 << 53) - 1).is_ok());
    for id in [0, 1 << 53, u64::MAX] {
        assert_eq!(with(id).unwrap_err().field, "breaker.id");
    }
    let house = with((1 << 53) - 1).unwrap().house;
    let text = serde_json::to_string(&house).unwrap();
    assert_eq!(serde_json::from_str::<House>(&text).unwrap(), house);
}

fn change() -> impl Strategy<Value = Change> {
    let poles = prop::collection::vec((1u16..14, 0u8..3), 1..3);
    let at = poles.prop_map(|list| {
        let halves = ["", "a", "b"];
        list.iter().map(|(s, h)| format!("{s}{}", halves[usize::from(*h)]).parse().unwrap()).collect::<Vec<Position>>()
    });
    let put_breaker =
        (1u64..6, at).prop_map(|(id, at)| Change::PutBreaker { breaker: Breaker { at, ..breaker(id, "1") } });
    let item = (0u16..3).prop_map(|count| catalog::Item {
        kind: PointKind::Receptacle,
        name: "wall".into(),
        volts: Some(NominalVolts::V120),
        watts: (count == 2).then_some(60.0),
        count,
    });
    let record = (1u64..9, 1u64..9, 1u64..6).prop_map(|(id, point, off)| Change::Record {
        evidence: Evidence {
            id: EvidenceId(id),
            point: PointId(point),
            time: jiff::Timestamp::UNIX_EPOCH,
            who: "someone".into(),
            step: None,
            observation: Observation::Power { off: [BreakerId(off)].into(), seen: Seen::Dead, how: Way::Lamp },
        },
    });
    let step = (1u64..6, 1u64..9).prop_map(|(off, visit)| Change::BeginStep {
        step: Step { id: StepId(1), off: [BreakerId(off)].into(), visit: vec![PointId(visit)] },
    });
    let marked = (1u16..14, 0usize..3, any::<bool>()).prop_map(|(space, half, empty)| {
        let space = Position { space, half: [Half::Whole, Half::Upper, Half::Lower][half] };
        Change::MarkEmpty { panel: PanelId(1), space, empty }
    });
    prop_oneof![
        4 => put_breaker,
        4 => wired_or_drawn(),
        1 => (1u64..6).prop_map(|b| Change::RemoveBreaker { breaker: BreakerId(b) }),
        1 => marked,
        2 => (1u64..4, "[AB]").prop_map(|(id, name)| Change::PutRoom { room: Room::new(RoomId(id), name, "1") }),
        1 => (1u64..4).prop_map(|r| Change::RemoveRoom { room: RoomId(r) }),
        2 => (1u64..4, 1u64..7, item).prop_map(|(r, p, item)| Change::AddPoints { room: RoomId(r), first: PointId(p), items: vec![item] }),
        1 => (1u64..9).prop_map(|p| Change::RemovePoint { point: PointId(p) }),
        3 => record,
        1 => (1u64..9).prop_map(|e| Change::Retract { evidence: EvidenceId(e) }),
        1 => (1u64..9, 1u64..6, 1u64..6).prop_map(|(e, off, on)| Change::CorrectLooks {
            looks: vec![EvidenceId(e)],
            off: vec![BreakerId(off)],
            on: vec![BreakerId(on)],
        }),
        1 => (1u64..7, 1u64..9).prop_map(|(id, p)| Change::PutLoad {
            load: Load::new(LoadId(id), PointId(p), "mixer", LoadKind::Other),
        }),
        1 => (1u64..7).prop_map(|l| Change::RemoveLoad { load: LoadId(l) }),
        2 => (1u64..9, 1u64..6, 1u64..9, 1u64..7).prop_map(|(id, b, p, on)| Change::NoteReading {
            reading: Reading {
                place: if id % 2 == 0 {
                    MeasuredAt::Breaker { breaker: BreakerId(b), pole: None, side: Side::Load }
                } else {
                    MeasuredAt::Point { point: PointId(p) }
                },
                on: [LoadId(on)].into(),
                ..reading(id)
            },
        }),
        1 => (1u64..9).prop_map(|r| Change::RemoveReading { reading: ReadingId(r) }),
        1 => step,
        2 => round(),
        1 => Just(Change::EndStep),
    ]
}

/// A round of measuring, and what happens in it.
fn round() -> impl Strategy<Value = Change> {
    let place = |b: u64| match b {
        1 => RoundPlace { place: MeasuredAt::Main { panel: PanelId(1) }, of: Some(Conductor::A) },
        b => at_hot(BreakerId(b)),
    };
    let act = prop_oneof![
        (1u64..7, any::<bool>()).prop_map(|(l, on)| RoundAct::Switched { loads: [LoadId(l)].into(), on }),
        Just(RoundAct::Ready),
        (1u64..7).prop_map(|l| RoundAct::Asked { load: Some(LoadId(l)) }),
        (1u64..6).prop_map(move |b| RoundAct::Passed { at: place(b) }),
        Just(RoundAct::Back),
    ];
    prop_oneof![
        1 => Just(Change::PutRun { run: Run { round: Some(Round::default()), ..a_run(1) } }),
        4 => act.prop_map(|act| Change::GoRound { run: RunId(1), act }),
    ]
}

/// Changes of what hangs on breakers, of the plan, of the logbook.
fn wired_or_drawn() -> impl Strategy<Value = Change> {
    let circuit = (1u64..5, 1u64..6, prop::option::of(1u64..5), any::<bool>()).prop_map(|(id, b, mate, as_found)| {
        let wire = Some("14".parse().unwrap());
        let circuit = Circuit::new(CircuitId(id), BreakerId(b));
        Change::PutCircuit { circuit: Circuit { wire, neutral_of: mate.map(CircuitId), as_found, ..circuit } }
    });
    let as_found = (1u64..6, 1u16..13).prop_map(|(id, space)| {
        let at = parse_poles(&format!("{space}a-{space}b")).unwrap();
        Change::PutBreaker { breaker: Breaker { at, as_found: true, ..breaker(id, "1") } }
    });
    let inches = |v: i32| Inches(f64::from(v));
    let area = (1u64..4, 0i32..40, 0i32..3).prop_map(move |(r, x, y)| Change::PlaceRoom {
        room: RoomId(r),
        area: Area { x: inches(10 * x), y: inches(100 * y), width: inches(120), depth: inches(100) },
    });
    let opening = (1u64..4, 1u64..4, 0i32..100).prop_map(move |(id, r, along)| Change::PutOpening {
        opening: Opening {
            id: OpeningId(id),
            room: RoomId(r),
            kind: OpeningKind::Door,
            wall: Wall::East,
            along: inches(along),
            width: inches(30),
            to: None,
        },
    });
    let drop = (1u64..9, 0i32..400).prop_map(move |(p, x)| Change::PlacePoint {
        point: PointId(p),
        x: inches(x),
        y: inches(x),
    });
    let log = (1u64..9, 1u64..6, 1u64..9).prop_map(|(id, b, p)| Change::Log {
        entry: LogEntry {
            id: LogId(id),
            time: jiff::Timestamp::UNIX_EPOCH,
            who: "someone".into(),
            event: Event::Trip { breaker: BreakerId(b), running: [PointId(p)].into(), manner: None },
            note: String::new(),
        },
    });
    let boxed = (1u64..9, 1u64..9).prop_map(|(a, b)| Change::ShareBox { points: vec![PointId(a), PointId(b)] });
    prop_oneof![circuit, as_found, area, opening, drop, log, boxed]
}

/// Said again here in other words than the checks of the product: nobody overlaps, nothing dangles.
fn is_possible(house: &House) -> bool {
    let mut half_slots = BTreeSet::new();
    let slots = |p: &Position| match p.to_string() {
        t if t.ends_with('a') => vec![(p.space, 0)],
        t if t.ends_with('b') => vec![(p.space, 1)],
        _ => vec![(p.space, 0), (p.space, 1)],
    };
    house.breakers.iter().flat_map(|b| b.at.iter().flat_map(slots)).all(|s| half_slots.insert(s))
        && house.points.iter().all(|p| house.rooms.iter().any(|r| r.id == p.room))
        && house.evidence.iter().all(|e| house.points.iter().any(|p| p.id == e.point))
        && house
            .circuits
            .iter()
            .all(|c| house.breakers.iter().any(|b| b.id == c.breaker && (c.as_found || b.amps.0 <= 15.0)))
        && house.circuits.iter().all(|c| c.neutral_of.is_none_or(|m| house.circuits.iter().any(|x| x.id == m)))
        && house.openings.iter().all(|o| house.rooms.iter().any(|r| r.id == o.room && r.area.is_some()))
        && house.breakers.iter().all(|b| b.as_found || b.at.windows(2).all(|w| w[0].space != w[1].space))
        && house.log.iter().all(|e| e.event.breaker().is_none_or(|b| house.breakers.iter().any(|x| x.id == b)))
        && house.evidence.iter().all(|e| e.observation.breakers().all(|b| house.breakers.iter().any(|x| x.id == b)))
}

proptest! {
    #[test]
    fn any_row_of_changes_leaves_a_possible_house_and_inverts(changes in prop::collection::vec(change(), 1..40)) {
        let mut f = Fixture::new(12);
        f.allow_tandems();
        let mut house = f.house;
        for change in changes {
            let Ok(Applied { house: next, edits }) = house.apply(&change) else { continue };
            prop_assert!(is_possible(&next));
            prop_assert!(next.log.len() >= house.log.len(), "the logbook loses no line");
            prop_assert_eq!(next.revision, house.revision + 1);
            let replayed = house.apply_edits(edits.clone()).unwrap().house;
            prop_assert_eq!(&replayed, &next);
            let mut back = next.apply_edits(invert(edits)).unwrap().house;
            back.revision = house.revision;
            prop_assert_eq!(&back, &house);
            house = next;
        }
    }
}

fn at_hot(breaker: BreakerId) -> RoundPlace {
    RoundPlace { place: MeasuredAt::Breaker { breaker, pole: None, side: Side::Load }, of: None }
}

fn a_run(id: u64) -> Run {
    let begun = jiff::Timestamp::UNIX_EPOCH;
    Run {
        id: RunId(id),
        begun,
        ended: None,
        crew: Crew::default(),
        steps: 0,
        outages: 0,
        searched: [].into(),
        round: None,
    }
}

#[test]
fn a_run_counts_its_steps_and_outages() {
    let mut f = Fixture::new(20);
    let (one, other) = (f.breaker("1", 20.0, ""), f.breaker("3", 20.0, ""));
    let go = |house: &House, change: Change| house.apply(&change).unwrap().house;
    let step = |id, off: &[BreakerId]| Change::BeginStep {
        step: Step { id: StepId(id), off: off.iter().copied().collect(), visit: Vec::new() },
    };
    let house = go(&f.house, step(1, &[one]));
    assert!(house.run().is_none(), "without a run nothing is counted");
    let house = go(&house, Change::PutRun { run: a_run(1) });
    let house = go(&house, step(2, &[one, other]));
    let house = go(&house, step(3, &[other]));
    let house = go(&house, step(4, &[one]));
    let run = house.run().unwrap();
    // One was off already at the first step; then it was switched on and off again.
    assert_eq!((run.steps, run.outages), (3, 2));
}

#[test]
fn one_run_goes_on_at_a_time_and_keeps_to_the_house() {
    let mut f = Fixture::new(20);
    let one = f.breaker("1", 20.0, "");
    let put = |house: &House, run: Run| house.apply(&Change::PutRun { run });
    let crew = Crew { keep_on: [one].into(), ..Crew::default() };
    let house = put(&f.house, Run { crew, ..a_run(1) }).unwrap().house;
    assert_eq!(put(&house, a_run(2)).unwrap_err().field, "run.ended");
    let early = Some("1960-01-01T00:00:00Z".parse().unwrap());
    assert_eq!(put(&house, Run { ended: early, ..a_run(1) }).unwrap_err().field, "run.ended");
    let three = Crew { people: 3, ..Crew::default() };
    assert_eq!(put(&house, Run { crew: three, ..a_run(1) }).unwrap_err().field, "run.crew.people");
    // A breaker taken out need not be kept on any more.
    let house = house.apply(&Change::RemoveBreaker { breaker: one }).unwrap().house;
    assert!(house.run().unwrap().crew.keep_on.is_empty());
    let ended = Run { ended: Some(jiff::Timestamp::UNIX_EPOCH), ..a_run(1) };
    let house = put(&house, ended).unwrap().house;
    assert!(house.run().is_none() && put(&house, a_run(2)).is_ok());
}

#[test]
fn a_round_goes_on_by_its_readings_and_back_takes_the_last_out() {
    let mut f = Fixture::new(20);
    let (one, three) = (f.breaker("1", 20.0, ""), f.breaker("3", 20.0, ""));
    let room = f.room("Bakehouse");
    let point = f.point("B1", room, PointKind::Receptacle);
    f.house.loads.put(Load { amps: Some(Amps(9.0)), ..Load::new(LoadId(1), point, "mixer", LoadKind::Other) });
    let go = |house: &House, change: Change| house.apply(&change).unwrap().house;
    let act = |house: &House, act| go(house, Change::GoRound { run: RunId(1), act });
    let read = |house: &House, id: u64, value| {
        let time = jiff::Timestamp::from_second(id as i64).unwrap();
        let (place, quantity) = (at_hot(one).place, Quantity::Amps { of: None });
        let on = house.run().unwrap().round.as_ref().unwrap().on.clone();
        go(house, Change::NoteReading { reading: Reading { time, place, quantity, value, on, ..reading(id) } })
    };
    let done = |house: &House| -> Vec<RoundPlace> {
        let round = house.run().unwrap().round.clone().unwrap();
        round.done.iter().map(|d| RoundPlace { place: d.place, of: d.of }).collect()
    };
    let round = Round { on: [LoadId(1)].into(), ..Round::default() };
    let begun = go(&f.house, Change::PutRun { run: Run { round: Some(round), ..a_run(1) } });
    let passed = act(&begun, RoundAct::Passed { at: at_hot(three) });
    let first = read(&passed, 901, 9.4);
    assert_eq!(done(&first), [at_hot(three), at_hot(one)]);
    // One thing is switched over: the place is next again, and the two readings show its rise.
    let asked = act(&first, RoundAct::Asked { load: Some(LoadId(1)) });
    let switched = act(&asked, RoundAct::Switched { loads: [LoadId(1)].into(), on: false });
    assert_eq!(done(&switched), [at_hot(three)]);
    let second = read(&switched, 902, 0.3);
    assert_eq!((done(&second).len(), second.readings.len(), second.evidence.len()), (2, 2, 1));
    // Taken back goes the last reading alone, with what it said of the map; what was only passed has none.
    let back = act(&second, RoundAct::Back);
    assert_eq!((done(&back).len(), back.readings.len(), back.evidence.len()), (1, 1, 0));
    assert_eq!(act(&back, RoundAct::Back).readings.len(), 1);
    // Passing over what was read before, and taking that back, leaves the reading.
    let over = act(&second, RoundAct::Passed { at: at_hot(one) });
    assert_eq!(act(&over, RoundAct::Back).readings.len(), 2);
    // Nothing of it outlives what it speaks of, and a run that traces has no round.
    let gone = go(&go(&second, Change::RemoveLoad { load: LoadId(1) }), Change::RemoveBreaker { breaker: three });
    assert_eq!(done(&gone), [at_hot(one)]);
    let tracing = go(&f.house, Change::PutRun { run: a_run(1) });
    let refused = tracing.apply(&Change::GoRound { run: RunId(1), act: RoundAct::Ready });
    assert_eq!(refused.unwrap_err().field, "run");
    let ended = go(&second, Change::EndRun { run: RunId(1), time: jiff::Timestamp::MAX });
    let late = Reading { place: at_hot(three).place, quantity: Quantity::Amps { of: None }, ..reading(903) };
    let after = go(&ended, Change::NoteReading { reading: late });
    assert_eq!(after.runs, ended.runs, "a round that ended stays as it was");
    assert_eq!(act(&ended, RoundAct::Back), House { revision: ended.revision + 1, ..ended.clone() });
    // A phone whose clock lags behind takes part; what was read an hour before does not.
    let began = Run { begun: jiff::Timestamp::from_second(4000).unwrap(), round: Some(Round::default()), ..a_run(1) };
    let begun = go(&f.house, Change::PutRun { run: began });
    assert_eq!((done(&read(&begun, 3900, 9.0)).len(), done(&read(&begun, 300, 9.0)).len()), (1, 0));
}

#[test]
fn a_measured_rise_out_of_range_names_its_field() {
    let mut f = Fixture::new(20);
    let one = f.breaker("1", 20.0, "");
    let room = f.room("Hall");
    let point = f.point("H1", room, PointKind::Receptacle);
    let rise = |expected, rose| {
        let observation = Observation::Rise { at: one, expected: Amps(expected), rose: Amps(rose) };
        let time = jiff::Timestamp::UNIX_EPOCH;
        let evidence = Evidence { id: EvidenceId(900), point, time, who: "test".into(), step: None, observation };
        f.house.apply(&Change::Record { evidence }).map(|_| ()).map_err(|e| e.field)
    };
    assert_eq!(rise(12.5, 12.0), Ok(()));
    assert_eq!(rise(0.0, 12.0), Err("evidence.observation.expected".into()));
    assert_eq!(rise(12.5, 900.0), Err("evidence.observation.rose".into()));
}

#[test]
fn a_load_goes_with_its_readings_and_its_point_with_both() {
    let mut f = Fixture::new(20);
    let room = f.room("Kitchen");
    let (one, two) = (f.point("K1", room, PointKind::Receptacle), f.point("K2", room, PointKind::Receptacle));
    for (id, point) in [(1, one), (2, two)] {
        f.house.loads.put(Load::new(LoadId(id), point, "mixer", LoadKind::Other));
    }
    f.house.readings.put(Reading { on: [LoadId(1), LoadId(2)].into(), ..reading(1) });
    f.house.readings.put(Reading { place: MeasuredAt::Point { point: one }, ..reading(2) });
    f.house.readings.put(reading(3));
    let left = |change: Change| {
        let lost = cost_of(&f.house, &change).readings;
        let after = f.house.apply(&change).unwrap();
        let undone = after.house.apply_edits(invert(after.edits)).unwrap().house;
        assert_eq!((undone.loads, undone.readings), (f.house.loads.clone(), f.house.readings.clone()));
        (lost, after.house.loads.len(), after.house.readings.iter().map(|r| r.id.0).collect::<Vec<_>>())
    };
    assert_eq!(left(Change::RemoveLoad { load: LoadId(2) }), (1, 1, vec![2, 3]));
    assert_eq!(left(Change::RemovePoint { point: one }), (2, 1, vec![3]));
    assert_eq!(left(Change::RemovePoint { point: two }), (1, 1, vec![2, 3]));
}

// handbook 3.2: a rise on a circuit when a thing is switched on is also evidence for the map.
#[test]
fn a_rise_between_two_readings_is_evidence_and_goes_with_the_second() {
    let mut f = Fixture::new(20);
    let (one, _) = (f.breaker("1", 20.0, ""), f.breaker("3", 20.0, ""));
    let room = f.room("Bakehouse");
    let point = f.point("B1", room, PointKind::Receptacle);
    for (id, amps) in [(1, 12.0), (2, 9.0)] {
        let load = Load::new(LoadId(id), point, format!("mixer {id}"), LoadKind::Other);
        f.house.loads.put(Load { amps: Some(Amps(amps)), ..load });
    }
    let place = MeasuredAt::Breaker { breaker: one, pole: None, side: Side::Load };
    let quantity = Quantity::Amps { of: None };
    let read = |id, minute: i64, value, on: &[u64]| Reading {
        time: jiff::Timestamp::from_second(60 * minute).unwrap(),
        place,
        quantity,
        value,
        on: on.iter().map(|id| LoadId(*id)).collect(),
        ..reading(id)
    };
    let note = |house: &House, reading: Reading| house.apply(&Change::NoteReading { reading }).unwrap().house;
    let house = note(&f.house, read(901, 0, 0.2, &[]));
    assert!(house.evidence.is_empty(), "one reading shows no rise");
    let rose = note(&house, read(902, 2, 11.3, &[1]));
    let found = rose.evidence.iter().next().unwrap();
    let told = Observation::Rise { at: one, expected: Amps(12.0), rose: Amps(11.1) };
    assert_eq!((found.point, &found.observation), (point, &told));
    let fell = note(&rose, read(903, 3, 0.1, &[]));
    assert_eq!(fell.evidence.len(), 2, "switched off again it says so once more");
    assert!(note(&house, read(904, 2, 20.0, &[1, 2])).evidence.is_empty(), "two things at once say nothing of either");
    assert!(note(&house, read(905, 200, 11.3, &[1])).evidence.is_empty(), "hours later other things may run");
    let back = rose.apply(&Change::RemoveReading { reading: ReadingId(902) }).unwrap();
    assert!(back.house.evidence.is_empty() && back.house.readings.len() == 1);
    let undone = back.house.apply_edits(invert(back.edits)).unwrap().house;
    assert_eq!((undone.evidence, undone.readings), (rose.evidence.clone(), rose.readings.clone()));
    // Where its number stands for something else that was seen, it gets one of its own.
    let mut seen = house.clone();
    let other =
        crate::house::Evidence { id: crate::house::EvidenceId(902), ..rose.evidence.iter().next().unwrap().clone() };
    let looked = Observation::Wire { at: one };
    let time = jiff::Timestamp::from_second(1).unwrap();
    seen.evidence.put(crate::house::Evidence { observation: looked, time, ..other });
    let rose = note(&seen, read(902, 2, 11.3, &[1]));
    assert_eq!(rose.evidence.len(), 2);
    let back = rose.apply(&Change::RemoveReading { reading: ReadingId(902) }).unwrap().house;
    assert_eq!(back.evidence, seen.evidence, "and goes with its reading alone");
}

#[test]
fn an_energy_record_that_cannot_be_names_its_field() {
    let from: jiff::Timestamp = "2026-01-01T00:00:00Z".parse().unwrap();
    let record = EnergyRecord {
        id: EnergyId(1),
        name: "year.xml".into(),
        time: from,
        who: "Wren".into(),
        from,
        to: from + jiff::SignedDuration::from_hours(24),
        step: Seconds(900.0),
        zone: "America/Halifax".into(),
        largest: Vec::new(),
        base: Watts(300.0),
        kwh: 10.0,
        reverse: false,
        missing: 0,
        digest: "0".repeat(64),
    };
    let put =
        |energy: EnergyRecord| House::new("x").apply(&Change::PutEnergy { energy }).map(|_| ()).map_err(|e| e.field);
    assert_eq!(put(record.clone()), Ok(()));
    let wrong = [
        (EnergyRecord { zone: "Middle of nowhere".into(), ..record.clone() }, "zone"),
        (EnergyRecord { step: Seconds(86_400.0), ..record.clone() }, "energy.step"),
        (EnergyRecord { to: from, ..record.clone() }, "energy.to"),
        (EnergyRecord { digest: "abc".into(), ..record.clone() }, "energy.digest"),
        (EnergyRecord { base: Watts(f64::NAN), ..record }, "energy.base"),
    ];
    for (energy, field) in wrong {
        assert_eq!(put(energy), Err(field.into()));
    }
}

// NEC 408.36, from memory.
#[test]
fn a_panel_is_asked_about_where_it_is_typed_and_marked_where_another_thing_does_it() {
    use crate::edit::question;
    let mut f = Fixture::new(12);
    let feeder = f.breaker("1-3", 60.0, "");
    let annex = f.sub_panel("Annex", feeder);
    f.house.panels.put(Panel { bus: Amps(60.0), ..f.house.panels.get(annex).unwrap().clone() });
    let larger = Breaker { amps: Amps(100.0), ..f.house.breakers.get(feeder).unwrap().clone() };
    let after = f.house.apply(&Change::PutBreaker { breaker: larger }).unwrap().house;
    assert_eq!(question(&f.house, &after), None, "a breaker's form has no such field");
    assert!(crate::rules::standing(&after).iter().any(|hit| hit.rule.id == "main-over-bus"), "it is marked");
    let panel = Panel { main: Some(Amps(400.0)), ..f.panel().clone() };
    let after = f.house.apply(&Change::PutPanel { panel }).unwrap().house;
    assert_eq!(question(&f.house, &after).unwrap().field, "panel.sure");
}
