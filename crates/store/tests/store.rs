//! The store against real files: what is written is read back, conflicts, undo, repeats, restarts.
#![allow(clippy::unwrap_used, clippy::expect_used, reason = "a test that cannot go on fails")]

use std::collections::BTreeSet;

use jiff::Timestamp;
use proptest::prelude::*;
use serde_json::Value;
use tempfile::TempDir;
use wayfinder_core::base::position::{Supply, parse_poles};
use wayfinder_core::base::units::{
    Amps, Feet, Gauge, Horsepower, InchPounds, Inches, Metal, NominalVolts, Seconds, VoltAmperes, Watts,
};
use wayfinder_core::edit::catalog::Item;
use wayfinder_core::house::*;
use wayfinder_core::{Change, House};
use wayfinder_store::{Author, HouseId, PictureBytes, Shelf, Store, StoreError};

fn author(name: &str) -> Author {
    Author { name: name.into(), time: Timestamp::UNIX_EPOCH, key: None }
}

fn keyed(key: &str) -> Author {
    Author { key: Some(key.into()), ..author("Wren") }
}

fn panel() -> Panel {
    Panel {
        supply: Supply::WyeThreePhase,
        main: Some(Amps(150.0)),
        tandem: TandemSpaces::Some(BTreeSet::from([41, 42])),
        max_circuits: Some(42),
        empty: BTreeSet::from(["7", "9b"].map(|at| at.parse().unwrap())),
        card: Some(CardSize { width: Inches(4.25), height: Inches(9.0) }),
        tandem_known: Some(KnownBy::Notch),
        model: "Tern 42".into(),
        listed: vec!["TB1".into(), "TB2".into()],
        bonded: Some(true),
        plug_on_neutral: Some(false),
        feed_through: true,
        disconnect: "outside".into(),
        separate_building: true,
        printed: Some(Printed {
            time: Timestamp::UNIX_EPOCH,
            revision: 3,
            lines: vec![PrintedLine { at: "1-3".into(), text: "range".into() }],
        }),
        ..Panel::new(PanelId(1), "Main", 42)
    }
}

fn breaker(id: u64, at: &str) -> Breaker {
    Breaker {
        device: Device::Dual,
        handle: Handle::Tripped,
        label: "Hall's".into(),
        trip: Trip::HandleTie,
        model: "TB2".into(),
        terminal: Some(Terminal {
            wires: 2,
            smallest: Gauge::new(14),
            largest: Gauge::new(-1),
            torque: Some(InchPounds(20.0)),
        }),
        as_found: id == 10,
        inlet: id == 11,
        bad: id == 11,
        ..Breaker::new(BreakerId(id), PanelId(1), parse_poles(at).unwrap(), Amps(20.0))
    }
}

fn put(id: u64, at: &str) -> Change {
    Change::PutBreaker { breaker: breaker(id, at) }
}

const HALL: Area = Area { x: Inches(0.0), y: Inches(0.0), width: Inches(120.5), depth: Inches(90.0) };

fn room(id: u64, name: &str) -> Change {
    // The hall is drawn: an opening stands in its wall.
    let area = (id == 20).then_some(HALL);
    Change::PutRoom { room: Room { area, ..Room::new(RoomId(id), name, "1") } }
}

fn look(id: u64, off: &[u64]) -> Change {
    let off = off.iter().map(|b| BreakerId(*b)).collect();
    let observation = Observation::Power { off, seen: Seen::Dead, how: Way::Lamp };
    let (id, time) = (EvidenceId(id), Timestamp::UNIX_EPOCH);
    Change::Record {
        evidence: Evidence { id, point: PointId(50), time, who: "Ash".into(), step: Some(StepId(3)), observation },
    }
}

fn told(id: u64, observation: Observation) -> Change {
    let (id, time) = (EvidenceId(id), Timestamp::UNIX_EPOCH);
    Change::Record { evidence: Evidence { id, point: PointId(50), time, who: "Ash".into(), step: None, observation } }
}

/// One of everything beyond panel, rooms and evidence.
fn furniture() -> Vec<Change> {
    let circuit = |id: u64, breaker| Circuit {
        wire: Gauge::new(-1),
        metal: Metal::Aluminium,
        conductors: Some(3),
        length: Some(Feet(33.5)),
        colours: vec![Colour::WhiteMarked],
        landed: Landed::Splice,
        as_found: true,
        ..Circuit::new(CircuitId(id), BreakerId(breaker))
    };
    let device =
        Point { ground_fault: true, shows: true, ..Point::new(PointId(52), "G1", RoomId(20), PointKind::Receptacle) };
    let (time, who) = (Timestamp::UNIX_EPOCH, "Ash".to_owned());
    let entry = |id: u64, event| LogEntry { id: LogId(id), time, who: who.clone(), event, note: "after rain".into() };
    let running = BTreeSet::from([PointId(50)]);
    let (width, height, digest) = (640, 480, "ab".repeat(32));
    let of = PictureOf::Floor { floor: "1".into() };
    let picture =
        Picture { id: PictureId(1), of, time, who: who.clone(), caption: "plan".into(), width, height, digest };
    vec![
        Change::PutRoom { room: Room { area: Some(HALL), ..Room::new(RoomId(20), "Hall", "1") } },
        Change::PutRoom { room: Room { area: Some(HALL), ..Room::new(RoomId(21), "Loft", "2") } },
        Change::PutOpening {
            opening: Opening {
                id: OpeningId(1),
                room: RoomId(20),
                kind: OpeningKind::Stairs,
                wall: Wall::West,
                along: Inches(3.5),
                width: Inches(36.0),
                to: Some(RoomId(21)),
            },
        },
        Change::PutCircuit { circuit: Circuit { pole: Some(1), ..circuit(1, 10) } },
        Change::PutCircuit { circuit: Circuit { pole: Some(1), neutral_of: Some(CircuitId(1)), ..circuit(2, 11) } },
        Change::PutPoint { point: device },
        Change::PutPoint {
            point: Point {
                spot: Some(Spot::Wall { wall: Wall::North, along: Inches(12.0) }),
                shared_box: Some(BoxId(4)),
                protected_by: Some(PointId(52)),
                ..Point::new(PointId(50), "H1", RoomId(20), PointKind::Light)
            },
        },
        Change::Log { entry: entry(1, Event::Trip { breaker: BreakerId(10), running, manner: None }) },
        Change::Log { entry: entry(2, Event::Note { panel: Some(PanelId(1)) }) },
        Change::PutPicture { picture },
        Change::PutRemark {
            remark: Remark {
                id: RemarkId(1),
                of: Subject::Panel(PanelId(1)),
                says: Remarks::Looked { fact: AsFound::Screws, saw: Saw::Yes },
                time,
                who: "Wren".into(),
                note: "two of six".into(),
            },
        },
        Change::PutUnderlay {
            underlay: Underlay {
                id: UnderlayId(1),
                floor: "1".into(),
                picture: PictureId(1),
                x: Inches(-3.0),
                y: Inches(0.5),
                width: Inches(400.0),
            },
        },
        told(901, Observation::Pointed { at: BreakerId(10) }),
        told(902, Observation::Rise { at: BreakerId(10), expected: Amps(12.5), rose: Amps(11.9) }),
        told(903, Observation::Wire { at: BreakerId(11) }),
        told(906, Observation::Landed { at: BreakerId(11) }),
        told(904, Observation::Tried { cause: Tried::Switch, was_off: true, off: Some([BreakerId(11)].into()) }),
        Change::PutLoad {
            load: Load {
                volts: Some(NominalVolts::V120.into()),
                watts: Some(Watts(1200.5)),
                amps: Some(Amps(10.25)),
                va: Some(VoltAmperes(1250.0)),
                hp: Some(Horsepower(0.5)),
                mca: Some(Amps(12.5)),
                mop: Some(Amps(20.0)),
                duty: Some(40.0),
                motor: Some(true),
                continuous: Some(false),
                habit: Some(Habit::Season),
                ..Load::new(LoadId(70), PointId(50), "spiral mixer", LoadKind::Cooling)
            },
        },
        Change::NoteReading {
            reading: Reading {
                id: ReadingId(80),
                time,
                who: "Ash".into(),
                place: MeasuredAt::Breaker { breaker: BreakerId(10), pole: Some(2), side: Side::Bus },
                quantity: Quantity::Volts { between: Some([Conductor::A, Conductor::N]) },
                value: 119.25,
                instrument: Instrument::Meter,
                span: Span::Most,
                on: [LoadId(70)].into(),
                sure: false,
            },
        },
        Change::PutEnergy {
            energy: EnergyRecord {
                id: EnergyId(1),
                name: "year.xml".into(),
                time,
                who: "Ash".into(),
                from: time,
                to: time + jiff::SignedDuration::from_hours(24),
                step: Seconds(900.0),
                zone: "America/Halifax".into(),
                largest: vec![Demand { time, watts: Watts(9600.5) }],
                base: Watts(312.5),
                kwh: 11.25,
                reverse: true,
                missing: 3,
                digest: "cd".repeat(32),
            },
        },
        told(905, Observation::Fault { fault: Fault::HotGroundReversed }),
        Change::PutRun {
            run: Run {
                id: RunId(1),
                begun: time,
                ended: Some(time),
                crew: Crew {
                    keep_on: [BreakerId(10)].into(),
                    keep_until: vec![KeptUntil { breaker: BreakerId(10), until: time }],
                    radio: true,
                    walking: 3,
                    method: Method::Halving,
                    pace: Pace::Gentle,
                    ..Crew::default()
                },
                steps: 4,
                outages: 9,
                searched: [BreakerId(11)].into(),
                round: Some(Round {
                    only: Some(BreakerId(10)),
                    on: [LoadId(70)].into(),
                    ready: true,
                    asked: Some(LoadId(70)),
                    done: vec![RoundDone {
                        place: MeasuredAt::Main { panel: PanelId(1) },
                        of: Some(Conductor::N),
                        reading: None,
                    }],
                }),
            },
        },
        Change::PutPanel { panel: Panel { place: Some(PanelPlace { room: RoomId(20), spot: None }), ..panel() } },
        Change::BeginJob {
            job: JobId(1),
            goal: Box::new(Goal::Replace { breaker: BreakerId(11), amps: None, model: String::new() }),
            instead: [].into(),
            who: "Wren".into(),
            time,
        },
        in_job(JobAct::Done { step: "allowed".into(), noted: String::new() }),
        in_job(JobAct::Stop { why: "rain".into() }),
    ]
}

fn in_job(act: JobAct) -> Change {
    Change::ActInJob { job: JobId(1), act, who: "Wren".into(), time: Timestamp::UNIX_EPOCH }
}

/// A store in a folder of its own with a house that has one of everything.
fn furnished() -> (TempDir, Store, HouseId) {
    let folder = tempfile::tempdir().unwrap();
    let store = Store::open(&folder.path().join("houses.db")).unwrap();
    let id = store.add_house(&House::new("Quill Cottage")).unwrap();
    let item = Item {
        kind: PointKind::Light,
        name: "lamp".into(),
        volts: Some(NominalVolts::V120),
        watts: Some(60.0),
        count: 2,
    };
    let pointed = Change::Record {
        evidence: Evidence {
            id: EvidenceId(61),
            point: PointId(50),
            time: Timestamp::UNIX_EPOCH,
            who: "Ash".into(),
            step: None,
            observation: Observation::Pointed { at: BreakerId(11) },
        },
    };
    let step = Step { id: StepId(3), off: [BreakerId(10)].into(), visit: vec![PointId(51), PointId(50)] };
    let changes = [
        Change::PutPanel { panel: panel() },
        put(10, "1-3-5"),
        put(11, "41a"),
        room(20, "Hall"),
        Change::AddPoints { room: RoomId(20), first: PointId(50), items: vec![item] },
        look(60, &[10, 11]),
        pointed,
        Change::Batch { changes: furniture() },
        Change::BeginStep { step },
    ];
    for change in &changes {
        store.commit(id, None, change, &author("Wren")).unwrap();
    }
    (folder, store, id)
}

/// The house as its rows say, read by another store.
fn stored(folder: &TempDir, id: HouseId) -> House {
    let again = Store::open(&folder.path().join("houses.db")).unwrap();
    House::clone(&again.house(id).unwrap())
}

#[test]
fn everything_written_is_read_back_after_a_restart() {
    let (folder, store, id) = furnished();
    let house = store.house(id).unwrap();
    assert_eq!((house.revision, house.points.len(), house.evidence.len()), (9, 3, 8));
    let place = Some(PanelPlace { room: RoomId(20), spot: None });
    assert_eq!(house.panels.get(PanelId(1)), Some(&Panel { place, ..panel() }));
    assert_eq!((house.circuits.len(), house.log.len(), house.pictures.len(), house.underlays.len()), (2, 2, 1, 1));
    assert!(house.step.as_ref().is_some_and(|s| s.visit == [PointId(51), PointId(50)]));
    drop(store);
    let store = Store::open(&folder.path().join("houses.db")).unwrap();
    assert_eq!(store.house(id).unwrap(), house, "memory and rows say the same");
    let copy = store.add_house(&house).unwrap();
    assert_eq!(store.house(copy).unwrap(), house);
}

#[test]
fn taking_out_and_undoing_each_step_back_leads_to_the_start() {
    let (folder, store, id) = furnished();
    let full = stored(&folder, id);
    let gone = [RoomId(20), RoomId(21)].map(|room| Change::RemoveRoom { room });
    for change in gone.iter().chain([&Change::RemovePanel { panel: PanelId(1) }]) {
        store.commit(id, None, change, &author("Ash")).unwrap();
    }
    let bare = stored(&folder, id);
    assert!(bare.rooms.is_empty() && bare.points.is_empty() && bare.evidence.is_empty());
    assert!(bare.panels.is_empty() && bare.breakers.is_empty() && bare.step.is_none());
    assert!(bare.circuits.is_empty() && bare.openings.is_empty());
    let notes: Vec<_> = bare.log.iter().map(|e| e.note.as_str()).collect();
    assert_eq!(
        notes,
        ["breaker 1-3-5: tripped after rain H1 was running", "Main:  after rain"],
        "the logbook keeps its lines"
    );
    for _ in 0..3 {
        store.undo(id, &[], &author("Ash")).unwrap();
    }
    assert_eq!(House { revision: full.revision, ..stored(&folder, id) }, full);
    assert!(matches!(store.undo(id, &[], &author("Ash")), Err(StoreError::NothingToUndo)), "the rest is not Ash's");
    for _ in 0..9 {
        store.undo(id, &[], &author("Wren")).unwrap();
    }
    assert_eq!(House { revision: 0, ..stored(&folder, id) }, House::new("Quill Cottage"));
    let log = store.history(id, None, 100).unwrap();
    assert_eq!(log.len(), 24);
    assert!(log[0].undoes == [1] && log[23].undone_by == Some(24) && log[0].kind == "undo");
}

#[test]
fn changes_to_different_things_are_merged_and_to_the_same_refused() {
    let (_folder, store, id) = furnished();
    let base = store.revision(id).unwrap();
    store.commit(id, Some(base), &put(12, "2"), &author("Wren")).unwrap();
    let merged = store.commit(id, Some(base), &look(70, &[10]), &author("Ash")).unwrap();
    assert_eq!(merged.revision, base + 2);
    // The same space by two people, and the same room.
    store.commit(id, Some(base), &room(20, "Corridor"), &author("Wren")).unwrap();
    for clash in [put(13, "2"), room(20, "Passage"), Change::RemoveRoom { room: RoomId(20) }] {
        let Err(StoreError::Conflict(conflict)) = store.commit(id, Some(base), &clash, &author("Ash")) else {
            panic!("{clash:?} must clash")
        };
        assert!(conflict.base == base && conflict.current == base + 3 && !conflict.revisions.is_empty());
    }
    assert_eq!(store.house(id).unwrap().rooms.iter().next().unwrap().name, "Corridor");
    assert!(matches!(store.commit(id, Some(99), &put(14, "4"), &author("x")), Err(StoreError::Future(99))));
}

#[test]
fn a_change_that_is_wrong_on_its_own_base_is_wrong_not_a_conflict() {
    let (_folder, store, id) = furnished();
    let refused = store.commit(id, Some(9), &put(12, "1"), &author("x"));
    assert!(matches!(refused, Err(StoreError::Invalid(e)) if e.field == "breaker.at"));
    assert_eq!(store.revision(id).unwrap(), 9);
    // One revision late it is as wrong, and has nothing to do with what somebody else changed elsewhere.
    store.commit(id, Some(9), &room(20, "Corridor"), &author("Wren")).unwrap();
    let late = store.commit(id, Some(9), &put(12, "1"), &author("x"));
    assert!(matches!(late, Err(StoreError::Invalid(e)) if e.field == "breaker.at"));
    // What was right on its base clashes with what took its place, and with that alone.
    store.commit(id, Some(10), &put(12, "2"), &author("Wren")).unwrap();
    let Err(StoreError::Conflict(conflict)) = store.commit(id, Some(9), &put(13, "2"), &author("x")) else {
        panic!("it must clash")
    };
    assert_eq!(conflict.revisions, [11]);
}

#[test]
fn the_same_request_twice_is_done_once() {
    let (_folder, store, id) = furnished();
    let first = store.commit(id, Some(8), &look(70, &[10]), &keyed("k1")).unwrap();
    let again = store.commit(id, Some(8), &look(70, &[10]), &keyed("k1")).unwrap();
    assert!(!first.repeated && again.repeated && first.revision == again.revision);
    let undo = store.undo(id, &[], &keyed("k2")).unwrap();
    assert_eq!(store.undo(id, &[], &keyed("k2")).unwrap().revision, undo.revision);
    assert_eq!(store.house(id).unwrap().evidence.len(), 8);
}

#[test]
fn a_key_that_comes_again_with_something_else_is_refused() {
    let (_folder, store, id) = furnished();
    store.commit(id, Some(9), &room(30, "Loft"), &keyed("k1")).unwrap();
    let other = store.commit(id, Some(10), &room(31, "Attic"), &keyed("k1"));
    assert!(matches!(other, Err(StoreError::KeyUsed)), "the attic would be lost without a word");
    assert!(matches!(store.undo(id, &[], &keyed("k1")), Err(StoreError::KeyUsed)));
    assert_eq!(store.revision(id).unwrap(), 10);
    store.undo(id, &[10], &keyed("k2")).unwrap();
    assert!(store.undo(id, &[10], &keyed("k2")).unwrap().repeated);
    assert!(matches!(store.undo(id, &[9], &keyed("k2")), Err(StoreError::KeyUsed)));
    let house = House::new("Quill");
    let first = store.add_house_once(&house, "k3", "Quill").unwrap();
    assert_eq!(store.add_house_once(&house, "k3", "Quill").unwrap(), first);
    assert!(matches!(store.add_house_once(&house, "k3", "Rook"), Err(StoreError::KeyUsed)));
    assert_eq!(store.houses().unwrap().len(), 2);
}

// [pub: NEC 240.4(D), from memory] 14 AWG copper is for 15 A.
#[test]
fn a_change_that_mends_says_what_is_no_longer_found() {
    let (_folder, store, id) = furnished();
    let ash = author("Ash");
    let breaker = BreakerId(70);
    let with = |amps: f64| Change::PutBreaker {
        breaker: Breaker {
            as_found: true,
            ..Breaker::new(breaker, PanelId(1), parse_poles("17").unwrap(), Amps(amps))
        },
    };
    store.commit(id, None, &with(20.0), &ash).unwrap();
    let thin = Circuit { wire: "14".parse().ok(), as_found: true, ..Circuit::new(CircuitId(71), breaker) };
    store.commit(id, None, &Change::PutCircuit { circuit: thin }, &ash).unwrap();
    let newest = || store.history(id, None, 1).unwrap().remove(0).ended;
    assert!(newest().is_empty());
    store.commit(id, None, &with(15.0), &ash).unwrap();
    assert_eq!(newest(), ["A wire too thin for its breaker (17)"]);
    store.undo(id, &[], &ash).unwrap();
    assert!(newest().is_empty(), "it is found again");
}

#[test]
fn several_changes_are_taken_back_as_one_and_put_back_as_one() {
    let (_folder, store, id) = furnished();
    let before = store.house(id).unwrap();
    let ash = author("Ash");
    for name in ["Loft", "Den", "Attic"] {
        store.commit(id, None, &room(30, name), &ash).unwrap();
    }
    let made = store.house(id).unwrap();
    let by = store.undo(id, &[10, 11, 12], &author("Wren")).unwrap().revision;
    assert_eq!(House { revision: 9, ..House::clone(&*store.house(id).unwrap()) }, *before);
    let undone_by = |revision: u64| {
        store.history(id, None, 100).unwrap().into_iter().find(|e| e.revision == revision).unwrap().undone_by
    };
    assert_eq!([10, 11, 12].map(undone_by), [Some(by); 3]);
    assert!(matches!(store.undo(id, &[11], &ash), Err(StoreError::NothingToUndo)), "each is taken back once");
    // What took them back is taken back once: then they stand again, and are shown so.
    let again = store.undo(id, &[by], &ash).unwrap().revision;
    assert_eq!(House { revision: 12, ..House::clone(&*store.house(id).unwrap()) }, *made);
    assert_eq!([10, 11, 12].map(undone_by), [None; 3]);
    assert_eq!(undone_by(by), Some(again));
    assert!(matches!(store.undo(id, &[by], &ash), Err(StoreError::NothingToUndo)));
    let said: Vec<String> = store.history(id, None, 2).unwrap().into_iter().map(|e| e.said).collect();
    assert_eq!(said, ["put back what was taken back", "took back: room entered"]);
    store.undo(id, &[12], &ash).unwrap();
    assert_eq!(store.house(id).unwrap().rooms.get(RoomId(30)).unwrap().name, "Den");
}

/// Puts something else at the `nth` number or word of a document: what a careless or hostile sender may write there.
fn disturb(doc: &mut Value, nth: &mut usize, with: &Value) {
    match doc {
        Value::Array(items) => items.iter_mut().for_each(|x| disturb(x, nth, with)),
        Value::Object(fields) => {
            fields.iter_mut().filter(|(name, _)| *name != "type").for_each(|(_, x)| disturb(x, nth, with));
        }
        Value::Null | Value::Bool(_) => {}
        Value::Number(_) | Value::String(_) => {
            if *nth == 0 {
                *doc = with.clone();
            }
            *nth = nth.wrapping_sub(1);
        }
    }
}

fn anything() -> impl Strategy<Value = Value> {
    prop_oneof![
        any::<u64>().prop_map(Value::from),
        any::<i64>().prop_map(Value::from),
        any::<f64>().prop_map(Value::from),
        (0_u64..64).prop_map(Value::from),
        (0_u32..64).prop_map(|bit| Value::from(1_u64 << bit)),
        (1_u32..64).prop_map(|bit| Value::from((1_u64 << bit) - 1)),
        any::<String>().prop_map(Value::from),
    ]
}

proptest! {
    #![proptest_config(ProptestConfig { cases: 40, ..ProptestConfig::default() })]
    // What the core accepts, the store takes, and gives back as it was; what it refuses leaves no trace.
    #[test]
    fn whatever_the_core_accepts_is_stored(tries in prop::collection::vec((0_usize..26, 0_usize..40, anything()), 24)) {
        let (folder, store, id) = furnished();
        let sorts: Vec<Change> = furniture()
            .into_iter()
            .chain([Change::PutPanel { panel: panel() }, put(10, "1-3-5"), put(12, "2"), room(22, "Yard")])
            .chain([look(60, &[10]), look(77, &[11])])
            .chain([Change::BeginStep { step: Step { id: StepId(4), off: [BreakerId(11)].into(), visit: vec![PointId(50)] } }])
            .collect();
        for (sort, nth, with) in tries {
            let mut doc = serde_json::to_value(&sorts[sort % sorts.len()]).unwrap();
            disturb(&mut doc, &mut nth.clone(), &with);
            let Ok(change) = serde_json::from_value::<Change>(doc) else { continue };
            let before = store.house(id).unwrap();
            match before.apply(&change) {
                Ok(applied) => {
                    store.commit(id, None, &change, &author("Wren")).unwrap();
                    prop_assert_eq!(&*store.house(id).unwrap(), &applied.house);
                }
                Err(_) => {
                    prop_assert!(matches!(store.commit(id, None, &change, &author("Wren")), Err(StoreError::Invalid(_))));
                }
            }
        }
        prop_assert_eq!(&stored(&folder, id), &*store.house(id).unwrap());
    }
}

#[test]
fn a_row_of_the_log_that_cannot_be_read_breaks_nothing_else() {
    let (folder, store, id) = furnished();
    let base = store.revision(id).unwrap();
    for n in 0..3 {
        store.commit(id, None, &room(30 + n, &format!("Shed {n}")), &author("Wren")).unwrap();
    }
    let raw = rusqlite::Connection::open(folder.path().join("houses.db")).unwrap();
    let write = |revision, edits| raw.execute("UPDATE change SET edits = ?2 WHERE revision = ?1", (revision, edits));
    write(base + 1, "not even JSON").unwrap();
    write(base + 2, r#"[{"thing":"flying-saucer","before":null,"after":{"id":3}}]"#).unwrap();
    assert_eq!(store.history(id, None, 100).unwrap().len() as u64, base + 3);
    store.commit(id, Some(base), &room(40, "Porch"), &author("Ash")).unwrap();
    assert!(matches!(store.commit(id, Some(base), &room(32, "Hut"), &author("Ash")), Err(StoreError::Conflict(_))));
    assert!(matches!(store.undo(id, &[base + 1], &author("Wren")), Err(StoreError::Stored(_))));
    assert!(matches!(store.undo(id, &[base + 2], &author("Wren")), Err(StoreError::Stored(_))));
    store.undo(id, &[base + 3], &author("Wren")).unwrap();
}

#[test]
fn undo_is_refused_where_the_same_was_changed_since() {
    let (_folder, store, id) = furnished();
    let mine = store.commit(id, None, &room(20, "Corridor"), &author("Ash")).unwrap().revision;
    store.commit(id, None, &room(20, "Passage"), &author("Wren")).unwrap();
    assert!(matches!(store.undo(id, &[mine], &author("Ash")), Err(StoreError::Invalid(e)) if e.field == "revision"));
}

#[test]
fn a_copy_made_while_in_use_opens_as_a_whole() {
    let (folder, store, id) = furnished();
    let copy = folder.path().join("copy.db");
    store.backup(&copy).unwrap();
    assert_eq!(Store::open(&copy).unwrap().house(id).unwrap(), store.house(id).unwrap());
}

#[test]
fn stored_nonsense_is_refused_and_the_tables_refuse_it_too() {
    let (folder, _store, id) = furnished();
    let raw = rusqlite::Connection::open(folder.path().join("houses.db")).unwrap();
    raw.pragma_update(None, "foreign_keys", true).unwrap();
    assert!(raw.execute("UPDATE thing SET doc = 'steam' WHERE sort = 'panels'", []).is_err());
    assert!(raw.execute("UPDATE thing SET doc = json_set(doc, '$.id', 7) WHERE sort = 'panels'", []).is_err());
    assert!(raw.execute("INSERT INTO thing VALUES (?1, 'rooms', 1 << 53, '{\"id\":9007199254740992}')", [id]).is_err());
    assert!(raw.execute("INSERT INTO thing VALUES (999, 'rooms', 1, '{\"id\":1}')", []).is_err(), "no such house");
    raw.execute("UPDATE thing SET doc = json_set(doc, '$.spaces', 4) WHERE sort = 'panels'", []).unwrap();
    let again = Store::open(&folder.path().join("houses.db")).unwrap();
    assert!(matches!(again.house(id), Err(StoreError::Stored(why)) if why.contains("spaces 1 to 4")));
}

#[test]
fn houses_are_listed_by_name() {
    let (_folder, store, _) = furnished();
    store.add_house(&House::new("Another")).unwrap();
    let list = store.houses().unwrap();
    let names: Vec<_> = list.iter().map(|h| (h.name.as_str(), h.points)).collect();
    assert_eq!(names, [("Another", 0), ("Quill Cottage", 3)]);
}

#[test]
fn only_devices_let_in_are_known() {
    let (_folder, store, _) = furnished();
    store.add_session("token", Timestamp::UNIX_EPOCH).unwrap();
    assert!(store.has_session("token").unwrap() && !store.has_session("other").unwrap());
}

#[test]
fn many_writers_and_readers_at_once_lose_nothing() {
    let (folder, store, id) = furnished();
    let base = store.revision(id).unwrap();
    std::thread::scope(|scope| {
        for writer in 0..4_u64 {
            let store = &store;
            scope.spawn(move || {
                for n in 0..25 {
                    let key = format!("{writer}-{n}");
                    // Each request is sent twice, as a shaky connection does.
                    for _ in 0..2 {
                        store.commit(id, Some(base), &look(1000 + writer * 100 + n, &[10]), &keyed(&key)).unwrap();
                    }
                }
            });
            scope.spawn(move || {
                for _ in 0..20 {
                    let house = store.house(id).unwrap();
                    assert_eq!(house.evidence.len() as u64, 8 + house.revision - base, "a reader sees whole changes");
                }
            });
        }
    });
    let house = stored(&folder, id);
    assert_eq!(house, *store.house(id).unwrap(), "what is in memory is what is on the disk");
    assert_eq!((house.revision, house.evidence.len()), (base + 100, 108));
    let log = store.history(id, None, 500).unwrap();
    let revisions: Vec<_> = log.iter().rev().map(|e| e.revision).collect();
    assert_eq!(revisions, (1..=base + 100).collect::<Vec<_>>(), "no gap in the log");
}

#[test]
fn the_log_is_read_in_parts() {
    let (_folder, store, id) = furnished();
    let newest = store.history(id, None, 3).unwrap();
    assert_eq!(newest.iter().map(|e| e.revision).collect::<Vec<_>>(), [9, 8, 7]);
    let next = store.history(id, Some(7), 3).unwrap();
    assert_eq!(next.iter().map(|e| e.revision).collect::<Vec<_>>(), [6, 5, 4]);
    assert!(newest.iter().all(|e| e.author == "Wren") && newest[0].kind == "begin-step" && newest[1].kind == "batch");
    assert!(matches!(store.history(99, None, 3), Err(StoreError::NoHouse(99))));
}

#[test]
fn houses_thrown_away_can_be_taken_back_until_they_are_erased() {
    let (_folder, store, id) = furnished();
    let day = |n: i64| Timestamp::from_second(n * 86_400).unwrap();
    let bytes = PictureBytes { kind: "image/png".into(), bytes: vec![1, 2, 3] };
    let digest = store.keep_picture(&bytes).unwrap();
    assert_eq!(store.keep_picture(&bytes).unwrap(), digest, "the same bytes are kept once");
    let picture =
        Picture { digest: digest.clone(), ..store.house(id).unwrap().pictures.iter().next().unwrap().clone() };
    store.commit(id, None, &Change::PutPicture { picture }, &author("Wren")).unwrap();
    store.put_on_shelf(id, Shelf::Deleted, day(10)).unwrap();
    store.erase_deleted(day(5)).unwrap();
    store.put_on_shelf(id, Shelf::Active, day(11)).unwrap();
    assert_eq!(store.houses().unwrap()[0].shelf, Shelf::Active);
    // Taken out of the house, a picture can still be taken back: its bytes stay.
    store.commit(id, None, &Change::RemovePicture { picture: PictureId(1) }, &author("Wren")).unwrap();
    store.erase_deleted(day(30)).unwrap();
    assert_eq!(store.picture(&digest).unwrap(), Some(bytes));
    store.put_on_shelf(id, Shelf::Deleted, day(12)).unwrap();
    store.erase_deleted(day(13)).unwrap();
    assert!(matches!(store.house(id), Err(StoreError::NoHouse(_))));
    assert_eq!(store.picture(&digest).unwrap(), None);
    assert!(matches!(store.put_on_shelf(id, Shelf::Active, day(14)), Err(StoreError::NoHouse(_))));
}
