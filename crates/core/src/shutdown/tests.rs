use proptest::prelude::*;

use super::*;
use crate::change::Change;
use crate::fixture::Fixture;
use crate::house::Seen::{Dead, Live};
use crate::house::{Circuit, CircuitId};
use crate::trace::beliefs;
use crate::units::NominalVolts;

fn ask(f: &Fixture, target: &Target) -> Shutdown {
    plan(&f.house, &beliefs(&f.house), target).unwrap()
}

fn at(points: &[PointId]) -> Target {
    Target::Points { points: points.iter().copied().collect() }
}

fn places(shutdown: &Shutdown) -> Vec<&str> {
    shutdown.switch_off.iter().map(|o| o.at.at.as_str()).collect()
}

fn prove(f: &mut Fixture, point: PointId, breaker: BreakerId, other: BreakerId) {
    for _ in 0..2 {
        f.see(point, &[breaker], Dead);
        f.see(point, &[other], Live);
    }
}

/// A kitchen box with two circuits, whose neutral a third shares: K1 on 1, K2 on 3 in one box; 1 shares with 5.
fn kitchen() -> (Fixture, [BreakerId; 4], [PointId; 2]) {
    let mut f = Fixture::new(20);
    let breakers =
        [f.breaker("1", 20.0, ""), f.breaker("3", 20.0, ""), f.breaker("7", 20.0, ""), f.breaker("2", 15.0, "")];
    let room = f.room("Kitchen");
    let points = [f.point("K1", room, PointKind::Receptacle), f.point("K2", room, PointKind::Receptacle)];
    let fridge = f.point("K3", room, PointKind::Appliance);
    f.name(fridge, "refrigerator");
    prove(&mut f, points[0], breakers[0], breakers[1]);
    prove(&mut f, points[1], breakers[1], breakers[0]);
    prove(&mut f, fridge, breakers[2], breakers[0]);
    let changes = vec![
        Change::ShareBox { points: points.to_vec() },
        Change::PutCircuit { circuit: Circuit::new(CircuitId(900), breakers[0]) },
        Change::PutCircuit {
            circuit: Circuit { neutral_of: Some(CircuitId(900)), ..Circuit::new(CircuitId(901), breakers[2]) },
        },
    ];
    f.house = f.house.apply(&Change::Batch { changes }).unwrap().house;
    (f, breakers, points)
}

#[test]
fn a_box_with_two_circuits_and_a_shared_neutral_takes_three_handles() {
    let (f, _, points) = kitchen();
    let shutdown = ask(&f, &at(&points[..1]));
    assert_eq!(places(&shutdown), ["1", "3", "7"]);
    let why = |n: usize| shutdown.switch_off[n].why.clone();
    assert_eq!(why(0), [Why::Feeds { tag: "K1".into() }]);
    assert_eq!(why(1), [Why::SameBox { tag: "K2".into(), of: "K1".into(), proven: true }]);
    assert_eq!(why(2), [Why::SharedNeutral { with: "1".into() }]);
    assert!(shutdown.unproven.is_empty() && shutdown.main_off.is_none());
    let fridge = shutdown.also_dark.iter().find(|d| d.tag == "K3").unwrap();
    assert_eq!((fridge.mind, fridge.proven), (Some(Mind::Cold), true));
    assert_eq!(shutdown.back_on.iter().map(|b| b.at.as_str()).collect::<Vec<_>>(), ["7", "3", "1"]);
    assert_eq!(shutdown.stays_live, [StaysLive::Bus { panel: "Main".into() }]);
}

// NFPA 70E 120.5 (from memory): live, dead, live; ANSI C84.1 utilisation Range A for what the live source shows.
#[test]
fn the_test_names_what_to_measure_and_what_to_expect() {
    let (mut f, breakers, points) = kitchen();
    let room = f.house.rooms.iter().next().unwrap().id;
    let range = f.point_at("K9", room, PointKind::Appliance, Some(NominalVolts::V240));
    let tests = ask(&f, &at(&[points[0], range])).tests;
    assert_eq!((tests[0].between.len(), tests[0].live_from, tests[0].live_to), (3, Volts(108.0), Volts(126.0)));
    assert_eq!(
        (tests[1].between[0], tests[1].live_from, tests[1].live_to),
        ("hot and hot", Volts(216.0), Volts(252.0))
    );
    assert!(ask(&f, &Target::Circuit { breaker: breakers[0] }).tests.iter().any(|t| t.tag == "K1"));
}

#[test]
fn an_untraced_point_takes_the_main_and_says_so_first() {
    let (mut f, _, _) = kitchen();
    for space in [9, 11, 13] {
        f.breaker(&space.to_string(), 20.0, "garage");
    }
    let room = f.house.rooms.iter().next().unwrap().id;
    let new = f.point("K7", room, PointKind::Receptacle);
    let shutdown = ask(&f, &at(&[new]));
    assert_eq!(shutdown.unproven, ["K7"]);
    assert_eq!(shutdown.main_off, Some(MainOff { panel: "Main".into(), by: MainBy::Main }));
    assert_eq!(shutdown.switch_off.len(), 7, "a label rules nothing out");
    assert_eq!(shutdown.stays_live, [StaysLive::LineSide { panel: "Main".into() }]);
}

// Two main panels: the main of one leaves the other live, so it is never offered as the sure way.
#[test]
fn with_two_main_panels_one_main_is_not_the_sure_way() {
    let mut f = Fixture::new(20);
    f.house.panels.put(Panel::new(PanelId(2), "Second", 20));
    for space in 1..=6 {
        f.breaker(&space.to_string(), 20.0, "");
        f.breaker_in(PanelId(2), &space.to_string(), 20.0, "");
    }
    let room = f.room("Hall");
    let point = f.point("H1", room, PointKind::Receptacle);
    let shutdown = ask(&f, &at(&[point]));
    assert_eq!((shutdown.main_off, shutdown.switch_off.len()), (None, 12));
    let bus = |panel: &str| StaysLive::Bus { panel: panel.into() };
    assert_eq!(shutdown.stays_live, [bus("Main"), bus("Second")]);
}

#[test]
fn work_in_a_panel_names_what_kills_it_and_what_stays_live() {
    let mut f = Fixture::new(20);
    let (feeder, lights) = (f.breaker("1-3", 60.0, ""), f.breaker("2", 15.0, ""));
    let sub = f.sub_panel("Annex", feeder);
    f.breaker_in(sub, "1", 20.0, "");
    let main = ask(&f, &Target::Panel { panel: f.panel().id });
    assert_eq!(main.main_off, Some(MainOff { panel: "Main".into(), by: MainBy::Main }));
    assert_eq!(main.stays_live, [StaysLive::LineSide { panel: "Main".into() }]);
    assert!(main.switch_off.iter().any(|o| o.at.breaker == lights));
    let annex = ask(&f, &Target::Panel { panel: sub });
    assert_eq!(places(&annex), ["1", "1-3"], "its branches first, then its feeder");
    assert_eq!(annex.back_on[0].at, "1-3", "and the feeder first when it comes back");
    assert_eq!(annex.stays_live, [StaysLive::Upstream { panel: "Main".into() }]);
    let lugs = Panel { main: None, ..f.panel().clone() };
    f.house.panels.put(lugs.clone());
    let by = |f: &Fixture| ask(f, &Target::Panel { panel: PanelId(1) }).main_off.unwrap().by;
    assert_eq!(by(&f), MainBy::NotKnown);
    f.house.panels.put(Panel { disconnect: "outside wall".into(), ..lugs });
    assert_eq!(by(&f), MainBy::Disconnect { place: "outside wall".into() });
}

// Two breakers off in the same readings: a label made one of them proven, the readings alone did not.
#[test]
fn a_label_alone_does_not_take_a_handle_off_the_list() {
    let mut f = Fixture::new(20);
    let (pair, lights) = (f.breaker("5-7", 20.0, "kitchen"), f.breaker("10", 20.0, "hall lights"));
    f.breaker("1", 20.0, "");
    let hall = f.room("Hall");
    let light = f.point("H1", hall, PointKind::Light);
    for _ in 0..2 {
        f.see(light, &[pair, lights], Dead);
    }
    f.see(light, &[], Live);
    let shutdown = ask(&f, &at(&[light]));
    assert!(shutdown.unproven.is_empty(), "proven by the letter");
    assert_eq!(places(&shutdown), ["5-7", "10"]);
}

#[test]
fn what_may_stay_live_is_said_and_nothing_is_asked_of_nobody() {
    let (mut f, breakers, _) = kitchen();
    let room = f.house.rooms.iter().next().unwrap().id;
    let odd = f.point("K8", room, PointKind::Receptacle);
    for _ in 0..4 {
        f.see(odd, &breakers, Live);
    }
    assert_eq!(ask(&f, &at(&[odd])).may_stay_live, ["K8"]);
    assert_eq!(plan(&f.house, &beliefs(&f.house), &at(&[])).unwrap_err().field, "points");
    assert_eq!(plan(&f.house, &beliefs(&f.house), &at(&[PointId(9999)])).unwrap_err().field, "point");
}

/// A house with a hidden truth: every point on a breaker, labels at random, honest readings of random off-sets.
fn house_with_truth() -> impl Strategy<Value = (Fixture, Vec<(PointId, BreakerId)>)> {
    let labels = prop::collection::vec(0usize..5, 9);
    let truth = prop::collection::vec(0usize..9, 1..8);
    let looks = prop::collection::vec((0usize..8, prop::collection::btree_set(0usize..9, 0..4)), 0..40);
    (labels, truth, looks, prop::collection::vec(prop::option::of(1u64..3), 8)).prop_map(
        |(labels, truth, looks, boxes)| {
            let mut f = Fixture::new(20);
            let words = ["", "kitchen", "spare", "dryer", "hall lights"];
            let places = ["1", "2", "3", "4", "5-7", "6", "8", "9-11", "10"];
            let breakers: Vec<_> = places.iter().zip(labels).map(|(at, l)| f.breaker(at, 20.0, words[l])).collect();
            let rooms = [f.room("Kitchen"), f.room("Hall")];
            let mut points = Vec::new();
            for (i, feeder) in truth.into_iter().enumerate() {
                let kind = if i % 2 == 0 { PointKind::Receptacle } else { PointKind::Light };
                let point = f.point(&format!("P{i}"), rooms[i % 2], kind);
                let boxed = Point {
                    shared_box: boxes[i].map(crate::house::BoxId),
                    ..f.house.points.get(point).unwrap().clone()
                };
                f.house.points.put(boxed);
                points.push((point, breakers[feeder]));
            }
            for (i, off) in looks {
                let (point, feeder) = points[i % points.len()];
                let off: Vec<_> = off.into_iter().map(|b| breakers[b]).collect();
                f.see(point, &off, if off.contains(&feeder) { Dead } else { Live });
            }
            (f, points)
        },
    )
}

proptest! {
    #[test]
    fn honest_readings_and_wrong_labels_never_hide_a_breaker((f, truth) in house_with_truth()) {
        let feeder = |p: PointId| truth.iter().find(|(x, _)| *x == p).unwrap().1;
        for (point, breaker) in &truth {
            let shutdown = ask(&f, &at(&[*point]));
            let off: BTreeSet<_> = shutdown.switch_off.iter().map(|o| o.at.breaker).collect();
            prop_assert!(off.contains(breaker), "{:?} is fed by {:?}, off are {:?}", point, breaker, off);
            let shared = f.house.points.get(*point).unwrap().shared_box;
            for mate in f.house.points.iter().filter(|p| shared.is_some() && p.shared_box == shared) {
                prop_assert!(off.contains(&feeder(mate.id)), "{} in the same box", mate.tag);
            }
        }
    }
}
