use proptest::prelude::*;

use super::*;
use crate::base::units::NominalVolts;
use crate::change::Change;
use crate::fixture::Fixture;
use crate::house::Seen::{Dead, Live};
use crate::house::{Circuit, CircuitId, PointKind};
use crate::trace::beliefs;

fn ask(f: &Fixture, target: &Target) -> Shutdown {
    plan(&Tracker::new(&f.house), &beliefs(&f.house), target).unwrap()
}

fn at(points: &[PointId]) -> Target {
    Target::Points { points: points.iter().copied().collect() }
}

fn stays(shutdown: &Shutdown) -> Vec<StaysLive> {
    shutdown.stays_live.iter().map(|s| s.what.clone()).collect()
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
    f.all_is_entered();
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
    assert_eq!(stays(&shutdown), [StaysLive::Bus { panel: "Main".into() }]);
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
    for panel in f.house.panels.iter().cloned().collect::<Vec<_>>() {
        f.house.panels.put(Panel { empty: BTreeSet::new(), ..panel });
    }
    for space in [9, 11, 13] {
        f.breaker(&space.to_string(), 20.0, "garage");
    }
    f.all_is_entered();
    let room = f.house.rooms.iter().next().unwrap().id;
    let new = f.point("K7", room, PointKind::Receptacle);
    let shutdown = ask(&f, &at(&[new]));
    assert_eq!(shutdown.unproven, ["K7"]);
    assert_eq!(shutdown.main_off, Some(MainOff::new("Main".into(), MainBy::Main)));
    assert_eq!(shutdown.switch_off.len(), 7, "a label rules nothing out");
    // The main is the sure way; whoever takes the handles instead leaves the bus live.
    let (line, bus) = (StaysLive::LineSide { panel: "Main".into() }, StaysLive::Bus { panel: "Main".into() });
    assert_eq!(stays(&shutdown), [line, bus]);
}

// Two main panels: the main of one leaves the other live, so the sure way is both.
#[test]
fn with_two_main_panels_the_sure_way_is_both_mains() {
    let mut f = Fixture::new(20);
    f.house.panels.put(Panel::new(PanelId(2), "Second", 20));
    for space in 1..=6 {
        f.breaker(&space.to_string(), 20.0, "");
        f.breaker_in(PanelId(2), &space.to_string(), 20.0, "");
    }
    f.all_is_entered();
    let room = f.room("Hall");
    let point = f.point("H1", room, PointKind::Receptacle);
    let shutdown = ask(&f, &at(&[point]));
    let main = |panel: &str| MainOff::new(panel.into(), MainBy::Main);
    assert_eq!((&shutdown.main_off, &shutdown.other_mains), (&Some(main("Main")), &vec![main("Second")]));
    assert_eq!(shutdown.switch_off.len(), 12);
    let line = |panel: &str| StaysLive::LineSide { panel: panel.into() };
    let bus = |panel: &str| StaysLive::Bus { panel: panel.into() };
    assert_eq!(stays(&shutdown), [line("Main"), line("Second"), bus("Main"), bus("Second")]);
}

#[test]
fn work_in_a_panel_names_what_kills_it_and_what_stays_live() {
    let mut f = Fixture::new(20);
    let (feeder, lights) = (f.breaker("1-3", 60.0, ""), f.breaker("2", 15.0, ""));
    let sub = f.sub_panel("Annex", feeder);
    f.breaker_in(sub, "1", 20.0, "");
    let main = ask(&f, &Target::Panel { panel: f.panel().id });
    assert_eq!(main.main_off, Some(MainOff::new("Main".into(), MainBy::Main)));
    assert_eq!(stays(&main), [StaysLive::LineSide { panel: "Main".into() }]);
    assert!(main.switch_off.iter().any(|o| o.at.breaker == lights));
    let annex = ask(&f, &Target::Panel { panel: sub });
    assert_eq!(places(&annex), ["1", "1-3"], "its branches first, then its feeder");
    assert_eq!(annex.back_on[0].at, "1-3", "and the feeder first when it comes back");
    assert_eq!(stays(&annex), [StaysLive::Upstream { panel: "Main".into() }]);
    let lugs = Panel { main: None, ..f.panel().clone() };
    f.house.panels.put(lugs.clone());
    let by = |f: &Fixture| ask(f, &Target::Panel { panel: PanelId(1) }).main_off.unwrap().by;
    assert_eq!(by(&f), MainBy::NotKnown);
    f.house.panels.put(Panel { disconnect: "outside wall".into(), ..lugs });
    assert_eq!(by(&f), MainBy::Disconnect { place: "outside wall".into() });
}

// Two breakers off in the same readings: a label speaks for one of them, the readings for neither.
#[test]
fn a_label_alone_proves_nothing() {
    let mut f = Fixture::new(6);
    f.breaker("1", 20.0, "Hall");
    let (pair, one) = (f.breaker("3-5", 20.0, ""), f.house.breakers.iter().next().unwrap().id);
    f.breaker("2", 20.0, "");
    f.all_is_entered();
    let hall = f.room("Hall");
    let point = f.point("P1", hall, PointKind::Receptacle);
    for _ in 0..3 {
        f.see(point, &[one, pair], Dead);
        f.see(point, &[], Live);
    }
    let shutdown = ask(&f, &at(&[point]));
    assert_eq!((shutdown.unproven.clone(), places(&shutdown)), (vec!["P1".to_owned()], vec!["1", "3-5"]));
    let said: Vec<_> = shutdown.cautions.iter().map(|c| c.text.as_str()).collect();
    assert!(said.iter().any(|s| s.contains(" (P1): 1 or 3-5, not told apart yet")), "{said:?}");
    // The reading that tells them apart is what is asked for, and settles it.
    let advice = crate::trace::advise(&f.house, &crate::house::Crew::default()).unwrap();
    let off: Vec<_> = advice.off.iter().map(|b| b.breaker).collect();
    assert_eq!(advice.visit, ["P1"]);
    assert!(off.contains(&one) != off.contains(&pair), "{off:?}");
    f.see(point, &[one], Live);
    f.see(point, &[pair], Dead);
    assert_eq!(places(&ask(&f, &at(&[point]))), ["3-5"]);
}

// The box holds what the hand touches: a mate that stays live is said though nobody asked for it.
#[test]
fn a_box_mate_that_stays_live_is_said_and_tested() {
    let mut f = Fixture::new(4);
    let (one, three) = (f.breaker("1", 20.0, ""), f.breaker("3", 20.0, ""));
    f.all_is_entered();
    let room = f.room("Hall");
    let (p1, p2) = (f.point("P1", room, PointKind::Receptacle), f.point("P2", room, PointKind::Receptacle));
    f.share_box(&[p1, p2], 1);
    f.see(p1, &[one], Dead);
    f.see(p1, &[three], Live);
    for _ in 0..2 {
        f.see(p2, &[one, three], Live);
    }
    let asked = ask(&f, &at(&[p1]));
    assert_eq!(asked.may_stay_live, ["P2"]);
    assert_eq!(asked.unproven, ["P2"], "P1 itself is proven");
    assert!(asked.cautions[0].stop && asked.cautions[0].text.contains(" (P2) may stay live"), "{:?}", asked.cautions);
    assert_eq!(asked.tests.iter().map(|t| t.tag.as_str()).collect::<Vec<_>>(), ["P1", "P2"]);
    assert_eq!((asked.in_the_box[0].tag.as_str(), asked.in_the_box[0].of.as_str()), ("P2", "P1"));
}

#[test]
fn spaces_that_nobody_entered_are_named_first() {
    let mut f = Fixture::new(6);
    f.allow_tandems();
    let (one, three) = (f.breaker("1", 20.0, ""), f.breaker("3", 20.0, ""));
    f.breaker("5a", 15.0, "");
    f.all_is_entered();
    let open = Panel { empty: ["2", "4"].map(|p| p.parse().unwrap()).into(), ..f.panel().clone() };
    f.house.panels.put(open);
    let room = f.room("Hall");
    let (h1, h2) = (f.point("H1", room, PointKind::Receptacle), f.point("H2", room, PointKind::Receptacle));
    prove(&mut f, h1, one, three);
    f.see(h2, &[three], Live);
    let asked = ask(&f, &at(&[h2]));
    let named: Vec<_> = asked.not_entered[0].at.iter().map(ToString::to_string).collect();
    assert_eq!((asked.not_entered[0].panel.as_str(), named), ("Main", vec!["5b".to_owned(), "6".to_owned()]));
    assert!(
        asked.cautions[0].text.starts_with("Spaces 5b and 6 of panel Main are not entered"),
        "{:?}",
        asked.cautions
    );
    assert_eq!(asked.main_off, Some(MainOff::new("Main".into(), MainBy::Main)));
    // What is proven does not hang on what nobody entered.
    let proven = ask(&f, &at(&[h1]));
    assert!(proven.not_entered.is_empty() && proven.cautions.is_empty() && proven.main_off.is_none());
    f.all_is_entered();
    assert!(ask(&f, &at(&[h2])).not_entered.is_empty());
    f.house.about.every_panel = false;
    let unasked = ask(&f, &at(&[h2]));
    assert!(unasked.other_panels && stays(&unasked).contains(&StaysLive::OtherPanels) && unasked.main_off.is_some());
    assert!(!ask(&f, &at(&[h1])).other_panels);
}

#[test]
fn work_on_a_circuit_says_what_it_is_believed_to_feed_and_tests_its_terminal() {
    let (mut f, breakers, points) = kitchen();
    let asked = ask(&f, &Target::Circuit { breaker: breakers[0] });
    let circuit = asked.circuit.as_ref().unwrap();
    assert_eq!(circuit.feeds.iter().map(|c| (c.tag.as_str(), c.proven)).collect::<Vec<_>>(), [("K1", true)]);
    assert_eq!(asked.tests.iter().map(|t| t.tag.as_str()).collect::<Vec<_>>(), ["1", "K1", "K2"]);
    assert_eq!(asked.in_the_box[0].tag, "K2");
    assert_eq!(places(&asked), ["1", "3", "7"], "the box's other feed and the shared neutral too");
    // Of the fourth breaker nothing is known.
    let bare = ask(&f, &Target::Circuit { breaker: breakers[3] });
    assert!(bare.circuit.as_ref().unwrap().feeds.is_empty());
    assert!(bare.cautions[0].text.starts_with("Nothing is known to hang on this breaker"), "{:?}", bare.cautions);
    assert_eq!(bare.tests.iter().map(|t| t.tag.as_str()).collect::<Vec<_>>(), ["2"]);
    let room = f.house.rooms.iter().next().unwrap().id;
    let new = f.point("K7", room, PointKind::Receptacle);
    f.see(new, &[breakers[0]], Live);
    f.see(new, &[breakers[1], breakers[2]], Live);
    f.share_box(&[points[0], new], 7);
    let likely = ask(&f, &Target::Circuit { breaker: breakers[3] });
    let fed = &likely.circuit.as_ref().unwrap().feeds[0];
    assert!(fed.tag == "K7" && fed.p > 0.5 && !fed.proven);
    assert_eq!(likely.unproven, ["K7"]);
    assert_eq!(likely.in_the_box[0].of, "K7");
    // One slip may hide behind a single reading: its candidates stay on the list, the likeliest first.
    assert_eq!(places(&likely), ["1", "2", "7", "3"]);
}

// A meter at 240 V with one pole of two off: dead across, live to ground. In old panels the two poles may be two breakers.
#[test]
fn a_thing_on_two_handles_names_both() {
    let mut f = Fixture::new(6);
    let (one, three, five) = (f.breaker("1", 20.0, ""), f.breaker("3", 20.0, ""), f.breaker("5", 20.0, ""));
    let pair = f.breaker("2-4", 30.0, "");
    f.all_is_entered();
    let room = f.room("Bakehouse");
    let oven = f.point_at("B1", room, PointKind::Appliance, Some(NominalVolts::V240));
    for _ in 0..3 {
        f.see(oven, &[], Live);
        f.see(oven, &[one, three], Dead);
        f.see(oven, &[one], Live);
        f.see(oven, &[three], Dead);
        f.see(oven, &[five, pair], Live);
        f.see(oven, &[three, five], Live);
    }
    let belief = beliefs(&f.house).points.into_iter().find(|p| p.tag == "B1").unwrap();
    let two = belief.two_handles.unwrap();
    assert_eq!((belief.status, two.breakers.each_ref().map(|b| b.at.as_str())), (Status::TwoHandles, ["1", "3"]));
    assert!(two.p > 0.99 && belief.candidates.is_empty());
    let asked = ask(&f, &at(&[oven]));
    assert_eq!(places(&asked), ["1", "3"]);
    assert!(matches!(&asked.switch_off[0].why[0], Why::OnTwoHandles { with, .. } if with == "3"));
    assert_eq!(asked.unproven, ["B1"], "it is told, not proven");
    // With a two-pole breaker that explains everything nothing is said of two handles.
    let range = f.point_at("B2", room, PointKind::Appliance, Some(NominalVolts::V240));
    prove(&mut f, range, pair, one);
    assert!(beliefs(&f.house).points.iter().all(|p| p.tag != "B2" || p.two_handles.is_none()));
}

// In a panel of single poles a thing at 240 V can only hang on two of them: all are named, and the advice finds which.
#[test]
fn in_a_panel_of_single_poles_the_advice_finds_the_two_handles() {
    let mut f = Fixture::new(8);
    let all: Vec<_> = (1..=8).map(|space: u16| f.breaker(&space.to_string(), 20.0, "")).collect();
    f.all_is_entered();
    let room = f.room("Bakehouse");
    let oven = f.point_at("B1", room, PointKind::Appliance, Some(NominalVolts::V240));
    assert_eq!(ask(&f, &at(&[oven])).switch_off.len(), 8);
    let truth = [all[1], all[2]];
    let crew = crate::house::Crew::default();
    for _ in 0..60 {
        let advice = crate::trace::advise(&f.house, &crew).unwrap();
        if advice.points.is_empty() {
            break;
        }
        let off: Vec<_> = advice.off.iter().map(|b| b.breaker).collect();
        // Its display is dark as soon as one leg is gone.
        let dark = truth.iter().any(|b| off.contains(b));
        for point in &advice.points {
            f.see(*point, &off, if dark { Dead } else { Live });
        }
    }
    let belief = beliefs(&f.house).points.remove(0);
    let found = belief.two_handles.map(|two| two.breakers.map(|b| b.breaker));
    assert_eq!((belief.status, found), (Status::TwoHandles, Some(truth)), "{:?}", belief.reasons.len());
}

#[test]
fn what_may_stay_live_is_said_and_nothing_is_asked_of_nobody() {
    let (mut f, breakers, _) = kitchen();
    let room = f.house.rooms.iter().next().unwrap().id;
    let odd = f.point("K8", room, PointKind::Receptacle);
    for _ in 0..4 {
        f.see(odd, &breakers, Live);
    }
    let answer = ask(&f, &at(&[odd]));
    assert_eq!(answer.may_stay_live, ["K8"]);
    assert!(answer.stop && answer.cautions[0].stop, "{answer:?}");
    assert!(answer.cautions[0].text.ends_with("Find its source first; do not work there."), "{answer:?}");
    // Nothing beside it says otherwise: no handle, no test, no order to switch on again.
    assert!(answer.switch_off.is_empty() && answer.tests.is_empty() && answer.back_on.is_empty(), "{answer:?}");
    assert!(answer.main_off.is_none() && answer.dark.is_empty() && answer.stays_live.is_empty(), "{answer:?}");
    assert_eq!(plan(&Tracker::new(&f.house), &beliefs(&f.house), &at(&[])).unwrap_err().field, "points");
    assert_eq!(plan(&Tracker::new(&f.house), &beliefs(&f.house), &at(&[PointId(9999)])).unwrap_err().field, "point");
}

/// What really feeds a point of a made house.
#[derive(Debug, Clone, Copy, PartialEq)]
enum Feeds {
    Entered(BreakerId),
    /// A breaker that stands in this space, and that nobody entered.
    NotEntered(u16),
    /// One of a panel that nobody entered.
    OtherPanel,
}

/// A house with a hidden truth, honestly read: labels are at random, some breakers and perhaps a whole panel were never
/// entered, points share boxes, and two breakers are only ever off together.
fn house_with_truth() -> impl Strategy<Value = (Fixture, Vec<(PointId, Feeds)>)> {
    let labels = prop::collection::vec(0usize..5, 9);
    let entered = prop::collection::vec(prop::bool::weighted(0.85), 9);
    let truth = prop::collection::vec(0usize..9, 1..8);
    let looks = prop::collection::vec((0usize..8, prop::collection::btree_set(0usize..9, 0..4)), 0..80);
    let boxes = prop::collection::vec(prop::option::of(1u64..3), 8);
    // In a third of the houses a second panel feeds the first point; in two thirds somebody looked for one.
    let other_panel = 0usize..3;
    let together = (0usize..9, 0usize..9);
    (labels, entered, truth, looks, boxes, other_panel, together).prop_map(
        |(labels, entered, truth, looks, boxes, other_panel, together)| {
            let mut f = Fixture::new(20);
            let words = ["", "kitchen", "spare", "dryer", "hall lights"];
            let places = ["1", "2", "3", "4", "5-7", "6", "8", "9-11", "10"];
            let breakers: Vec<_> =
                (0..places.len()).map(|i| entered[i].then(|| f.breaker(places[i], 20.0, words[labels[i]]))).collect();
            f.all_is_entered();
            let hidden = (0..places.len()).filter(|i| !entered[*i]).flat_map(|i| places[i].split('-'));
            let hidden: BTreeSet<Position> = hidden.map(|space| space.parse().unwrap()).collect();
            let empty = f.panel().empty.difference(&hidden).copied().collect();
            f.house.panels.put(Panel { empty, ..f.panel().clone() });
            f.house.about.every_panel = other_panel > 0;
            let rooms = [f.room("Kitchen"), f.room("Hall")];
            let mut points = Vec::new();
            for (i, feeder) in truth.into_iter().enumerate() {
                let kind = if i % 2 == 0 { PointKind::Receptacle } else { PointKind::Light };
                let point = f.point(&format!("P{i}"), rooms[i % 2], kind);
                if let Some(number) = boxes[i] {
                    f.share_box(&[point], number);
                }
                let first = places[feeder].split('-').next().unwrap().parse().unwrap();
                let feeds = match breakers[feeder] {
                    _ if i == 0 && other_panel == 0 => Feeds::OtherPanel,
                    Some(breaker) => Feeds::Entered(breaker),
                    None => Feeds::NotEntered(first),
                };
                points.push((point, feeds));
            }
            for (i, mut off) in looks {
                if off.contains(&together.0) || off.contains(&together.1) {
                    off.extend([together.0, together.1]);
                }
                let (point, feeds) = points[i % points.len()];
                let off: Vec<_> = off.into_iter().filter_map(|b| breakers[b]).collect();
                let dead = matches!(feeds, Feeds::Entered(feeder) if off.contains(&feeder));
                f.see(point, &off, if dead { Dead } else { Live });
            }
            (f, points)
        },
    )
}

/// The answer covers a point that a hand can touch: what really feeds it is off, or it is said what may.
fn covers(f: &Fixture, shutdown: &Shutdown, point: PointId, feeds: Feeds) -> Result<(), TestCaseError> {
    let tag = &f.house.points.get(point).unwrap().tag;
    let unproven = shutdown.unproven.contains(tag);
    if shutdown.stop {
        // Something there stays live: nothing leads on to work.
        prop_assert!(shutdown.cautions[0].stop && shutdown.switch_off.is_empty() && shutdown.tests.is_empty());
        return Ok(());
    }
    prop_assert!(shutdown.tests.iter().any(|t| t.tag == *tag), "{tag} is not tested");
    match feeds {
        Feeds::Entered(breaker) => {
            let off = shutdown.switch_off.iter().any(|o| o.at.breaker == breaker);
            prop_assert!(off, "{tag} is fed by {breaker:?}, off are {:?}", places(shutdown));
        }
        Feeds::NotEntered(space) => {
            let named = shutdown.not_entered.iter().any(|n| n.at.contains(&Position::whole(space)));
            prop_assert!(
                unproven && named && shutdown.main_off.is_some(),
                "{tag} is fed by space {space}: {shutdown:?}"
            );
        }
        Feeds::OtherPanel => prop_assert!(unproven && shutdown.other_panels, "{tag} is fed by another panel"),
    }
    Ok(())
}

proptest! {
    // The answer never claims more than the readings carry.
    #[test]
    fn honest_readings_and_wrong_labels_never_hide_what_feeds_a_point((f, truth) in house_with_truth()) {
        let tracker = Tracker::new(&f.house);
        let beliefs = tracker.beliefs();
        for (belief, (point, feeds)) in beliefs.points.iter().filter_map(|b| Some((b, truth.iter().find(|t| t.0 == b.point)?))) {
            if belief.proven {
                prop_assert_eq!(*feeds, Feeds::Entered(belief.candidates[0].at.breaker), "{:?} is proven", point);
            }
        }
        let house = &f.house;
        let shared = |p: PointId| house.points.get(p).unwrap().shared_box;
        for (point, _) in &truth {
            let shutdown = plan(&tracker, &beliefs, &at(&[*point])).unwrap();
            let in_hand = truth.iter().filter(|(p, _)| p == point || shared(*p).is_some() && shared(*p) == shared(*point));
            for (other, feeds) in in_hand {
                covers(&f, &shutdown, *other, *feeds)?;
            }
            let live = |(p, feeds): &&(PointId, Feeds)| {
                beliefs.of(*p).is_some_and(crate::trace::PointBelief::stays_live) && matches!(feeds, Feeds::Entered(_))
            };
            prop_assert!(!truth.iter().any(|t| live(&t)), "what an entered breaker feeds does not stay live");
            if !shutdown.unproven.is_empty() {
                prop_assert!(!shutdown.cautions.is_empty());
            }
        }
        for breaker in house.breakers.iter() {
            let shutdown = plan(&tracker, &beliefs, &Target::Circuit { breaker: breaker.id }).unwrap();
            let circuit = shutdown.circuit.as_ref().unwrap();
            for (point, _) in truth.iter().filter(|(_, feeds)| *feeds == Feeds::Entered(breaker.id)) {
                let tag = &house.points.get(*point).unwrap().tag;
                let told = circuit.feeds.iter().any(|c| c.tag == *tag) || circuit.may_feed.contains(tag);
                prop_assert!(told, "{} hangs on {}", tag, breaker.at_text());
            }
            for fed in &circuit.feeds {
                let (_, feeds) = truth.iter().find(|(p, _)| *p == fed.point).unwrap();
                covers(&f, &shutdown, fed.point, *feeds)?;
            }
        }
    }
}
