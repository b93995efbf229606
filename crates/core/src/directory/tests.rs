use super::*;
use crate::base::units::{NominalVolts, VoltAmperes, Watts};
use crate::fixture::Fixture;
use crate::house::Seen::{Dead, Live};
use crate::house::{BreakerId, Load, LoadId, LoadKind, PointId, PointKind, PrintedLine, Remark, RemarkId, Remarks};
use crate::load::Loaded;
use crate::load::draws::draws;
use crate::trace::beliefs;

fn prove(f: &mut Fixture, point: PointId, on: BreakerId, others: &[BreakerId]) {
    for _ in 0..2 {
        f.see(point, &[on], Dead);
        f.see(point, others, Live);
    }
}

fn scheduled(f: &Fixture) -> Schedule {
    let all = beliefs(&f.house);
    let drawn = draws(&f.house, &all);
    schedule(&f.house, &all, &Loaded::new(&f.house, &all, &drawn), f.panel())
}

/// A panel with a three-pole heater, a 208 V two-pole one and a lamp; on all three legs of a wye.
fn three_phase() -> Fixture {
    let mut f = Fixture::new(12);
    let panel = f.panel().clone();
    f.house.panels.put(Panel { supply: crate::base::position::Supply::WyeThreePhase, ..panel });
    let at = ["1-3-5", "2-4", "6"];
    let breakers: Vec<BreakerId> = at.iter().map(|at| f.breaker(at, 30.0, "")).collect();
    let room = f.room("Bakehouse");
    let what = [(PointKind::Appliance, 208, 12.0), (PointKind::Appliance, 208, 10.0), (PointKind::Light, 120, 5.0)];
    for (nth, (kind, volts, amps)) in what.into_iter().enumerate() {
        let volts = NominalVolts::try_from(volts).unwrap();
        let point = f.point_at(&format!("B{nth}"), room, kind, Some(volts));
        let others: Vec<BreakerId> = breakers.iter().copied().filter(|b| *b != breakers[nth]).collect();
        prove(&mut f, point, breakers[nth], &others);
        let load = Load::new(LoadId(60 + nth as u64), point, format!("thing {nth}"), LoadKind::Other);
        f.house.loads.put(Load { amps: Some(Amps(amps)), ..load });
    }
    f
}

// By hand, from definitions: three-phase 12 A at 120 V to neutral on each of three; 10 A at 208 V is 2,080 VA, half on each of two
// legs; 5 A at 120 V is 600 VA on one.
#[test]
fn a_schedule_puts_what_is_connected_on_its_legs() {
    let schedule = scheduled(&three_phase());
    let of = |at: &str| schedule.rows.iter().find(|row| row.at == at).unwrap();
    let va = |at: &str| of(at).va.iter().map(|va| va.0).collect::<Vec<_>>();
    assert_eq!(va("1-3-5"), [1440.0, 1440.0, 1440.0]);
    assert_eq!(va("2-4"), [1040.0, 1040.0, 0.0]);
    assert_eq!(va("6"), [0.0, 0.0, 600.0]);
    assert_eq!(schedule.connected, [2480.0, 2480.0, 2040.0].map(VoltAmperes));
    assert_eq!((of("6").poles, schedule.bare, schedule.legs.len()), (1, 6, 3));
    assert_eq!(schedule.equipment.len(), 3);
    assert_eq!(schedule.equipment[0].phases, 3);
}

// By hand, from definitions: 12 kW on three poles of 208 V are 12,000 / (208 · √3) = 33.3 A on each, and a third of it each.
#[test]
fn what_hangs_on_three_poles_takes_three_phases_where_its_plate_gives_watts() {
    let mut f = three_phase();
    let load = f.house.loads.iter().next().unwrap().clone();
    f.house.loads.put(Load { amps: None, watts: Some(Watts(12_000.0)), ..load });
    let schedule = scheduled(&f);
    let of = schedule.rows.iter().find(|row| row.at == "1-3-5").unwrap();
    assert!(of.va.iter().all(|va| (va.0 - 4000.0).abs() < 5.0), "{:?}", of.va);
    assert!((schedule.equipment[0].amps.unwrap().0 - 33.3).abs() < 0.05);
}

// NEC 408.4(A), (B), from memory: spares and bare spaces are told, and what feeds the panel.
#[test]
fn a_schedule_tells_idle_breakers_bare_spaces_and_what_feeds_it() {
    let mut f = three_phase();
    f.breaker("8", 20.0, "");
    let schedule = scheduled(&f);
    assert_eq!((schedule.idle, schedule.bare), (1, 5));
    assert_eq!(schedule.fed_from, "Fed from the service; main 200 A");
}

#[test]
fn labels_are_due_until_they_are_stuck_on_and_when_the_map_changes() {
    let mut f = Fixture::new(8);
    let (one, two) = (f.breaker("1", 20.0, ""), f.breaker("2-4", 30.0, ""));
    let hall = f.room("Hall");
    let point = f.point("H1", hall, PointKind::Light);
    prove(&mut f, point, one, &[two]);
    let plate_of = |f: &Fixture| {
        let all = tags(&f.house, &beliefs(&f.house));
        all.into_iter().find(|tag| tag.kind == TagKind::Plate).unwrap()
    };
    let tag = plate_of(&f);
    assert_eq!((tag.large.as_str(), tag.small.as_str(), tag.due), ("Main 1", "H1: Hall", true));
    let says = Remarks::Labelled { text: tag.large.clone() };
    let (id, time) = (RemarkId(1), jiff::Timestamp::UNIX_EPOCH);
    let remark = Remark { id, of: point.into(), says, time, who: "Fern".into(), note: String::new() };
    f.house = f.house.apply(&crate::Change::PutRemark { remark }).unwrap().house;
    assert!(!plate_of(&f).due);
    let panel = f.panel().clone();
    f.house.panels.put(Panel { name: "Cellar".into(), ..panel });
    assert_eq!((plate_of(&f).due, plate_of(&f).stuck), (true, Some("Main 1".to_owned())));
    // Two hots of a breaker of two poles, a hot with its neutral of one.
    let all = tags(&f.house, &beliefs(&f.house));
    let wires: Vec<(&str, &str)> =
        all.iter().filter(|t| t.kind == TagKind::Wire).map(|t| (t.large.as_str(), t.small.as_str())).collect();
    let expected = [
        ("Cellar 1", "wire: hot"),
        ("Cellar 1", "wire: its neutral"),
        ("Cellar 2-4", "wire: hot of pole 2"),
        ("Cellar 2-4", "wire: hot of pole 4"),
    ];
    assert_eq!(wires, expected);
}

// Handbook 4: which ground-fault device kills what, where its button is, where the main is, what stays live.
#[test]
fn a_wall_sheet_tells_which_device_kills_what_and_what_stays_live() {
    let mut f = Fixture::new(8);
    let (one, two) = (f.breaker("1", 20.0, ""), f.breaker("2", 20.0, ""));
    let (bath, yard) = (f.room("Bathroom"), f.room("Yard"));
    let device = f.point("B1", bath, PointKind::Receptacle);
    let behind = f.point("Y1", yard, PointKind::Receptacle);
    for point in [device, behind] {
        prove(&mut f, point, one, &[two]);
    }
    f.house.points.put(Point { ground_fault: true, ..f.house.points.get(device).unwrap().clone() });
    f.house.points.put(Point { protected_by: Some(device), ..f.house.points.get(behind).unwrap().clone() });
    let sheet = wall_sheet(&f.house, &beliefs(&f.house));
    assert_eq!(sheet.devices.len(), 1);
    assert_eq!(sheet.devices[0].button, "Bathroom receptacle (B1)");
    assert!(sheet.devices[0].kills.contains("B1 Y1"), "{:?}", sheet.devices);
    assert!(sheet.mains[0].contains("its main of 200 A"), "{:?}", sheet.mains);
    assert!(sheet.stays_live[0].contains("before each main"));
}

#[test]
fn cards_before_the_one_on_the_door_are_kept() {
    let mut f = Fixture::new(4);
    f.breaker("1", 20.0, "hall");
    for day in 0..3 {
        let time = jiff::Timestamp::from_second(day * 86_400).unwrap();
        f.house = f.house.apply(&crate::Change::CardPrinted { panel: f.panel().id, time }).unwrap().house;
    }
    let panel = f.panel();
    let days = |printed: &Printed| printed.time.as_second() / 86_400;
    assert_eq!(panel.printed.as_ref().map(days), Some(2));
    assert_eq!(panel.earlier.iter().map(days).collect::<Vec<_>>(), [1, 0]);
}

// Handbook 4: a line that tells nothing, says the same as another, or names a person.
#[test]
fn old_labels_that_tell_too_little_say_why() {
    let mut f = Fixture::new(12);
    let at = ["1", "2", "3", "4", "5", "6", "7"];
    let labels = ["plugs", "Bedroom lts", "BR lights", "Anna's room", "spare", "", "dryer"];
    for (at, label) in at.into_iter().zip(labels) {
        f.breaker(at, 20.0, label);
    }
    let said: Vec<(String, String)> =
        poor_labels(&f.house, f.panel()).into_iter().map(|poor| (poor.at, poor.said)).collect();
    let of = |at: &str| said.iter().find(|(a, _)| a == at).map(|(_, said)| said.as_str());
    assert_eq!(of("1"), Some("\"plugs\" tells nothing: of which room?"));
    assert_eq!(of("2"), Some("\"Bedroom lts\" says the same as 3"));
    assert_eq!(of("4"), Some("\"Anna's room\" names a person: say the place"));
    assert_eq!([of("5"), of("6"), of("7")], [None; 3]);
}

fn entry(f: &Fixture, at: &str) -> CardEntry {
    let card = card(&f.house, &beliefs(&f.house), f.panel());
    card.entries.into_iter().find(|e| e.at == at).unwrap()
}

/// Two 20 A breakers, a kitchen with three points; K1 and K2 proven on breaker 1.
fn traced() -> Fixture {
    let mut f = Fixture::new(4);
    let (one, two) = (f.breaker("1", 20.0, "hall"), f.breaker("2", 20.0, ""));
    let kitchen = f.room("Kitchen");
    for tag in ["K1", "K2"] {
        let k = f.point(tag, kitchen, PointKind::Receptacle);
        for _ in 0..2 {
            f.see(k, &[one], Dead);
            f.see(k, &[two], Live);
        }
    }
    f
}

#[test]
fn only_what_is_proven_stands_as_proven() {
    let mut f = traced();
    let e = entry(&f, "1");
    assert_eq!((e.standing, e.feeds.as_str()), (Standing::Proven, "Kitchen receptacles"));
    assert_eq!(e.found_label, "", "the old label gives way to proof");
    assert_eq!(entry(&f, "2").standing, Standing::NothingFound, "all points are settled elsewhere");
    let kitchen = f.house.rooms.iter().next().unwrap().id;
    let k3 = f.point("K3", kitchen, PointKind::Light);
    let one = f.house.breakers.iter().next().unwrap().id;
    f.see(k3, &[one], Dead);
    let e = entry(&f, "1");
    assert_eq!((e.standing, e.probably.as_str()), (Standing::Partly, "Kitchen light"));
    assert_eq!(entry(&f, "2").standing, Standing::Unproven);
    assert_eq!(entry(&f, "3").standing, Standing::NotEntered);
}

// NEC 408.4(A), from memory: every circuit is described so that it can be told from all others.
#[test]
fn two_circuits_that_read_the_same_get_their_tags() {
    let mut f = traced();
    let kitchen = f.house.rooms.iter().next().unwrap().id;
    let ids: Vec<_> = f.house.breakers.iter().map(|b| b.id).collect();
    for tag in ["K10", "K4"] {
        let k = f.point(tag, kitchen, PointKind::Receptacle);
        for _ in 0..2 {
            f.see(k, &[ids[1]], Dead);
            f.see(k, &[ids[0]], Live);
        }
    }
    assert_eq!(entry(&f, "1").feeds, "Kitchen receptacles (K1 K2)");
    assert_eq!(entry(&f, "2").feeds, "Kitchen receptacles (K4 K10)");
}

#[test]
fn a_card_is_stale_as_soon_as_a_change_touches_it() {
    let mut f = traced();
    let stale_at = |f: &Fixture| stale(&f.house, &beliefs(&f.house), f.panel());
    assert_eq!(stale_at(&f), None, "never printed");
    let printed = crate::Change::CardPrinted { panel: f.panel().id, time: jiff::Timestamp::UNIX_EPOCH };
    f.house = f.house.apply(&printed).unwrap().house;
    assert_eq!(stale_at(&f), Some(Vec::new()));
    f.room("Loft");
    assert_eq!(stale_at(&f), Some(Vec::new()), "a room changes no circuit");
    let two = f.house.breakers.iter().next_back().unwrap().clone();
    f.house.breakers.put(Breaker { amps: Amps(15.0), ..two });
    assert_eq!(stale_at(&f), Some(Vec::new()), "nothing hangs on it, and the card says just that");
    let one = f.house.breakers.iter().next().unwrap().clone();
    f.house.breakers.put(Breaker { amps: Amps(15.0), ..one });
    assert_eq!(
        stale_at(&f),
        Some(vec![StaleLine {
            at: "1".into(),
            was: "20 A Kitchen receptacles".into(),
            now: "15 A Kitchen receptacles".into()
        }])
    );
}

#[test]
fn a_feeder_is_proven_by_what_went_dark_with_it() {
    let mut f = Fixture::new(8);
    let (feeder, other) = (f.breaker("1-3", 60.0, "annex"), f.breaker("2", 20.0, ""));
    let annex = f.sub_panel("Annex", feeder);
    let inside = f.breaker_in(annex, "1", 20.0, "");
    let room = f.room("Bakehouse");
    let point = f.point("B1", room, PointKind::Light);
    let e = entry(&f, "1-3");
    assert_eq!((e.standing, e.probably.as_str()), (Standing::Unproven, "Panel Annex"));
    f.see(point, &[inside], Dead);
    f.see(point, &[feeder, inside], Dead);
    assert_eq!(entry(&f, "1-3").standing, Standing::Unproven, "its own breaker was off as well");
    f.see(point, &[feeder, other], Dead);
    assert_eq!(entry(&f, "1-3").standing, Standing::Unproven, "any breaker of the panel may have done it");
    f.see(point, &[other], Live);
    assert_eq!((entry(&f, "1-3").standing, entry(&f, "1-3").feeds.as_str()), (Standing::Proven, "Panel Annex"));
}

// Whoever opens a box that two breakers feed has to switch both off: its plate says so.
#[test]
fn the_plate_of_what_two_breakers_feed_names_both() {
    let mut f = Fixture::new(8);
    let (one, three) = (f.breaker("1", 20.0, ""), f.breaker("3", 20.0, ""));
    let hall = f.room("Hall");
    let (five, pair) = (f.breaker("5", 20.0, ""), f.breaker("2-4", 30.0, ""));
    let both = f.point_at("H1", hall, PointKind::Appliance, Some(NominalVolts::V240));
    f.all_is_entered();
    for _ in 0..3 {
        f.see(both, &[], Live);
        f.see(both, &[one, three], Dead);
        f.see(both, &[one], Live);
        f.see(both, &[three], Dead);
        f.see(both, &[five, pair], Live);
        f.see(both, &[three, five], Live);
    }
    let all = tags(&f.house, &beliefs(&f.house));
    let plate = all.iter().find(|tag| tag.kind == TagKind::Plate).unwrap();
    assert_eq!((plate.large.as_str(), plate.small.as_str()), ("Main 1 + Main 3", "BOTH off; H1: Hall"));
}

// A card that was printed before lines were kept as people read them is not called stale by that.
#[test]
fn a_card_kept_the_older_way_is_still_told_line_by_line() {
    let mut f = traced();
    let older =
        [("1", "20 A; Kitchen receptacles; ; "), ("2", "nothing found"), ("3", "not entered"), ("4", "not entered")];
    let lines = older.map(|(at, text)| PrintedLine { at: at.into(), text: text.into() }).to_vec();
    let panel = f.panel().clone();
    let printed = Printed { time: jiff::Timestamp::UNIX_EPOCH, revision: 1, lines };
    f.house.panels.put(Panel { printed: Some(printed), ..panel });
    let all = beliefs(&f.house);
    assert_eq!(stale(&f.house, &all, f.panel()), Some(Vec::new()));
    let one = f.house.breakers.iter().next().unwrap().clone();
    f.house.breakers.put(Breaker { amps: Amps(15.0), ..one });
    let now: Vec<String> = stale(&f.house, &all, f.panel()).unwrap().into_iter().map(|line| line.now).collect();
    assert_eq!(now, ["15 A Kitchen receptacles"]);
}

// A neutral that two circuits share is no wire of one of them.
#[test]
fn a_shared_neutral_is_tagged_with_whose_it_is_as_well() {
    let mut f = Fixture::new(8);
    let (one, three) = (f.breaker("1", 20.0, ""), f.breaker("3", 20.0, ""));
    let first = crate::house::Circuit::new(crate::house::CircuitId(50), one);
    let second = crate::house::Circuit::new(crate::house::CircuitId(51), three);
    f.house.circuits.put(crate::house::Circuit { neutral_of: Some(first.id), ..second });
    f.house.circuits.put(first);
    let all = tags(&f.house, &beliefs(&f.house));
    let said: Vec<&str> = all.iter().filter(|t| t.kind == TagKind::Wire).map(|t| t.small.as_str()).collect();
    assert_eq!(
        said,
        ["wire: hot", "wire: neutral SHARED with Main 3", "wire: hot", "wire: neutral SHARED with Main 1"]
    );
}
