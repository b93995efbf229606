use jiff::{SignedDuration, Timestamp};
use proptest::prelude::*;

use super::*;
use crate::Change;
use crate::base::units::{Amps, NominalVolts};
use crate::fixture::Fixture;
use crate::house::Seen::{Dead, Live, Unsure};
use crate::house::*;
use crate::trace::verdict::Level;

fn belief(f: &Fixture, tag: &str) -> PointBelief {
    beliefs(&f.house).points.into_iter().find(|p| p.tag == tag).unwrap()
}

fn p(f: &Fixture, tag: &str, breaker: BreakerId) -> f64 {
    belief(f, tag).candidates.iter().find(|c| c.at.breaker == breaker).map_or(0.0, |c| c.p)
}

fn close(a: f64, b: f64) -> bool {
    (a - b).abs() < 1e-12
}

/// Two equal breakers and one receptacle.
fn two() -> (Fixture, BreakerId, BreakerId, PointId) {
    let mut f = Fixture::new(20);
    let (one, other) = (f.breaker("1", 20.0, ""), f.breaker("3", 20.0, ""));
    let room = f.room("Hall");
    let point = f.point("H1", room, PointKind::Receptacle);
    (f, one, other, point)
}

// Bayes by hand. Prior: elsewhere 0.004, no power 0.025, the rest halved: 0.4855 each. One dead reading with breaker 1
// off at 1.5 % misreads either way: weights 0.4855·0.985, 0.4855·0.015, 0.004·0.015, 0.025·0.985; their sum is 0.510185.
#[test]
fn one_dead_reading_by_hand() {
    let (mut f, one, other, point) = two();
    assert!(close(p(&f, "H1", one), 0.4855) && close(belief(&f, "H1").none, 0.029));
    f.see(point, &[one], Dead);
    assert!(close(p(&f, "H1", one), 0.4855 * 0.985 / 0.510185));
    assert!(close(p(&f, "H1", other), 0.4855 * 0.015 / 0.510185));
    assert!(close(belief(&f, "H1").elsewhere, 0.004 * 0.015 / 0.510185));
    assert!(close(belief(&f, "H1").no_power, 0.025 * 0.985 / 0.510185));
}

#[test]
fn not_sure_changes_nothing_but_is_listed() {
    let (mut f, one, _, point) = two();
    let before = p(&f, "H1", one);
    f.see(point, &[one], Unsure);
    assert!(close(p(&f, "H1", one), before));
    assert_eq!(belief(&f, "H1").reasons[0].says, Says::Neither);
}

// Two looks by a tester disagree: each of its looks is taken for wrong with 0.015 + 0.03 · 0.97 = 0.0441 now. Then a meter, which is
// wrong one time in a hundred, decides.
#[test]
fn looks_by_one_way_that_disagree_count_less_and_ask_for_another_way_once() {
    let (mut f, one, other, point) = two();
    f.house.step = Some(Step { id: StepId(7), off: [one].into(), visit: vec![point] });
    let with = |f: &Fixture| {
        let guide = guide(&f.house, &Crew::default()).unwrap().unwrap();
        (guide.with, guide.rows[0].with)
    };
    f.see(point, &[one], Dead);
    f.see(point, &[one], Dead);
    assert_eq!(with(&f), (With::Any, With::Any));
    f.see(point, &[one], Live);
    let (fits, not) = (0.9559_f64, 0.0441_f64);
    let (yes, no) = (fits * fits * not, not * not * fits);
    let sum = |yes: f64, no: f64| 0.4855 * yes + 0.4855 * no + 0.004 * no + 0.025 * yes;
    assert!(close(p(&f, "H1", one), 0.4855 * yes / sum(yes, no)));
    assert_eq!(with(&f), (With::Meter, With::Meter));
    f.see_by(point, &[one], Dead, Way::Meter);
    assert!(close(p(&f, "H1", one), 0.4855 * yes * 0.99 / sum(yes * 0.99, no * 0.01)));
    assert_eq!(with(&f), (With::Any, With::Any));
    // Once is enough: it is no end of measuring.
    f.see(point, &[other], Dead);
    assert_eq!(with(&f).0, With::Any);
}

#[test]
fn a_light_is_looked_at_with_a_lamp_that_burns_and_two_handles_are_no_misleading() {
    let (mut f, one, other, _) = two();
    let room = f.room("Porch");
    let light = f.point("P1", room, PointKind::Light);
    let range = f.point_at("P2", room, PointKind::Appliance, Some(NominalVolts::V240));
    f.house.step = Some(Step { id: StepId(7), off: [one].into(), visit: vec![light, range] });
    for point in [light, range] {
        f.see_by(point, &[one], Dead, Way::Light);
        f.see_by(point, &[other], Dead, Way::Light);
        f.see_by(point, &[], Live, Way::Light);
    }
    let guide = guide(&f.house, &Crew::default()).unwrap().unwrap();
    let with = |point| guide.rows.iter().find(|row| row.point == point).map(|row| row.with);
    assert_eq!((with(light), with(range)), (Some(With::KnownLamp), Some(With::Any)));
}

#[test]
fn a_contradiction_lowers_belief_and_is_listed() {
    let (mut f, one, _, point) = two();
    f.see(point, &[one], Dead);
    let sure = p(&f, "H1", one);
    let against = f.see(point, &[one], Live);
    let b = belief(&f, "H1");
    assert!(p(&f, "H1", one) < sure);
    for _ in 0..3 {
        f.see(point, &[one], Dead);
    }
    let reason = belief(&f, "H1").reasons.into_iter().find(|r| r.evidence == against).unwrap();
    assert_eq!(reason.says, Says::Against);
    assert!(reason.bits < -1.0 && !b.proven);
}

#[test]
fn proof_takes_a_dead_reading_and_a_return() {
    let (mut f, one, other, point) = two();
    for _ in 0..6 {
        f.see(point, &[other], Live);
    }
    let b = belief(&f, "H1");
    assert_eq!((b.candidates[0].at.breaker, b.proven), (one, false), "exclusion alone is no proof");
    assert!(b.missing.contains(&Missing::SeenDead));
    f.see(point, &[one], Dead);
    assert!(belief(&f, "H1").proven, "alive while others were off, dead with it off: two observations");
    f.see_by(point, &[one], Live, Way::Meter);
    f.see_by(point, &[one], Live, Way::Meter);
    assert!(!belief(&f, "H1").proven, "proof does not outlive a contradiction");
}

// What somebody says, however often, tells no two breakers apart: it is memory, as a label is.
#[test]
fn hearsay_tells_no_breakers_apart() {
    let (mut f, one, other, point) = two();
    for _ in 0..3 {
        f.see(point, &[one, other], Dead);
        f.see(point, &[], Live);
        f.see_by(point, &[other], Live, Way::Word);
        f.see_by(point, &[one], Dead, Way::Word);
    }
    let b = belief(&f, "H1");
    assert_eq!((b.candidates[0].at.breaker, b.missing.clone()), (one, vec![Missing::ToldApart]));
    assert_eq!(b.not_told_apart.iter().map(|b| b.breaker).collect::<Vec<_>>(), [other]);
    f.see(point, &[other], Live);
    assert!(belief(&f, "H1").proven);
}

// handbook 1.2 [def]: one pole gives no 240 V.
#[test]
fn a_240_volt_point_is_never_believed_on_one_pole() {
    let (mut f, one, ..) = two();
    let pair = f.breaker("5-7", 30.0, "");
    let room = f.room("Laundry");
    f.point_at("L1", room, PointKind::Appliance, Some(NominalVolts::V240));
    assert!(close(p(&f, "L1", one), 0.0) && p(&f, "L1", pair) > 0.9);
    f.point_at("L2", room, PointKind::Appliance, None);
    assert!(p(&f, "L2", one) > 0.1, "an unknown voltage rules nothing out");
}

#[test]
fn a_house_without_breakers_believes_in_none_of_them() {
    let mut f = Fixture::new(20);
    let room = f.room("Hall");
    let point = f.point("H1", room, PointKind::Light);
    f.see(point, &[], Dead);
    let b = belief(&f, "H1");
    assert!(close(b.none, 1.0) && b.candidates.is_empty() && b.status != Status::Proven);
}

#[test]
fn live_whatever_is_off_comes_from_elsewhere() {
    let (mut f, one, other, point) = two();
    for _ in 0..3 {
        f.see(point, &[one, other], Live);
    }
    let b = belief(&f, "H1");
    assert_eq!(b.status, Status::NoBreaker);
    assert!(b.elsewhere > 0.99 && b.candidates.iter().all(|c| c.p < 0.01));
}

#[test]
fn a_feeder_takes_its_panel_along() {
    let mut f = Fixture::new(20);
    let feeder = f.breaker("1-3", 60.0, "");
    let own = f.breaker("2", 20.0, "");
    let annex = f.sub_panel("Annex", feeder);
    let inside = f.breaker_in(annex, "1", 20.0, "");
    let room = f.room("Bakehouse");
    let point = f.point("B1", room, PointKind::Receptacle);
    f.see(point, &[feeder], Dead);
    f.see(point, &[own], Live);
    assert!(p(&f, "B1", inside) > 0.9);
    let fed = beliefs(&f.house).breakers.into_iter().find(|b| b.at.breaker == feeder).unwrap().feeds;
    assert!(fed[0].through && fed[0].p > 0.9);
    assert!(!belief(&f, "B1").proven, "its own breaker was never off");
}

#[test]
fn labels_shift_the_belief_and_two_readings_overrule_them() {
    let (mut f, one, other, point) = two();
    let labelled = Breaker { label: "hall outlets".into(), ..f.house.breakers.get(one).unwrap().clone() };
    f.house.breakers.put(labelled);
    assert!(p(&f, "H1", one) > 5.0 * p(&f, "H1", other));
    assert!(belief(&f, "H1").hints.iter().any(|h| h.kind == HintKind::LabelNamesRoom));
    f.see(point, &[other], Dead);
    f.see(point, &[one], Live);
    assert!(p(&f, "H1", other) > 0.95);
}

// handbook 2.1.3, common practice: 30 A two-pole names dryers, 50 A ranges.
#[test]
fn two_pole_ratings_name_their_appliances() {
    let mut f = Fixture::new(20);
    let (thirty, fifty) = (f.breaker("1-3", 30.0, ""), f.breaker("5-7", 50.0, ""));
    let room = f.room("Kitchen");
    for (tag, name, usual) in [("K1", "range", fifty), ("L1", "clothes dryer", thirty)] {
        let point = f.point_at(tag, room, PointKind::Appliance, Some(NominalVolts::V240));
        f.name(point, name);
        assert!(p(&f, tag, usual) > 0.8, "{name}");
    }
}

#[test]
fn a_receiver_may_mean_the_neighbour_and_proves_nothing_alone() {
    let mut f = Fixture::new(20);
    let all: Vec<_> = (1..=12).map(|s| f.breaker(&s.to_string(), 20.0, "")).collect();
    let room = f.room("Hall");
    let point = f.point("H1", room, PointKind::Receptacle);
    f.observe(point, Observation::Pointed { at: all[4] });
    let (at, beside, far) = (p(&f, "H1", all[4]), p(&f, "H1", all[6]), p(&f, "H1", all[11]));
    assert!(at > 0.8 && beside > far && far > 0.0, "{at} {beside} {far}");
    assert!(!belief(&f, "H1").proven);
}

/// What feeds a point in truth.
pub(super) fn feeder_in(truth: &[(PointId, BreakerId)], point: PointId) -> BreakerId {
    truth.iter().find(|(p, _)| *p == point).unwrap().1
}

/// Does what was advised and answers without error.
pub(super) fn answer_honestly(f: &mut Fixture, truth: &[(PointId, BreakerId)], advice: &Advice) {
    let off: Vec<_> = advice.off.iter().map(|b| b.breaker).collect();
    for point in &advice.points {
        let at = feeder_in(truth, *point);
        let seen = if off.contains(&at) { Dead } else { Live };
        match advice.action {
            Action::Switch => f.see(*point, &off, seen),
            Action::Listen => f.see_by(*point, &off, seen, Way::Radio),
            Action::Receiver => f.observe(*point, Observation::Pointed { at }),
            Action::Load => f.observe(*point, Observation::Rise { at, expected: Amps(12.5), rose: Amps(12.0) }),
            Action::Done => panic!("nothing is visited when all is done"),
        };
    }
}

/// Traces a house to its end, answers without error.
pub(super) fn trace_through(f: &mut Fixture, truth: &[(PointId, BreakerId)], crew: &Crew) -> usize {
    for step in 0..200 {
        let advice = advise(&f.house, crew).unwrap();
        if advice.action == Action::Done {
            assert!(advice.unproven.is_empty(), "{:?}", advice.unproven);
            return step;
        }
        assert!(!advice.visit.is_empty() && advice.seconds.0 > 0.0);
        assert!(advice.off.iter().all(|b| !crew.keep_on.contains(&b.breaker)));
        answer_honestly(f, truth, &advice);
    }
    panic!("not done after 200 steps");
}

pub(super) fn ten_breakers() -> (Fixture, Vec<(PointId, BreakerId)>) {
    let mut f = Fixture::new(20);
    let all: Vec<_> = (1..=10).map(|s| f.breaker(&s.to_string(), 20.0, "")).collect();
    let mut truth = Vec::new();
    for r in 0..5 {
        let room = f.room(&format!("Room {r}"));
        for i in 0..4 {
            let kind = if i == 0 { PointKind::Light } else { PointKind::Receptacle };
            truth.push((
                f.point(&format!("{}{i}", ["A", "B", "C", "D", "E"][r]), room, kind),
                all[(r * 3 + i * 7) % 10],
            ));
        }
    }
    (f, truth)
}

#[test]
fn following_the_advice_proves_every_point_right() {
    for people in [1, 2] {
        let (mut f, truth) = ten_breakers();
        let steps = trace_through(&mut f, &truth, &Crew { people, ..Crew::default() });
        // Alone a step is a walk through the house, with two an order called through it.
        assert!(steps < if people == 1 { 30 } else { 120 }, "{steps} steps");
        for b in beliefs(&f.house).points {
            let truth = truth.iter().find(|(p, _)| *p == b.point).unwrap().1;
            assert!(b.proven && b.candidates[0].at.breaker == truth, "{}", b.tag);
        }
    }
}

#[test]
fn what_must_stay_on_is_never_switched_off() {
    let (mut f, _, _, point) = two();
    let feeder = f.breaker("5-7", 60.0, "");
    let annex = f.sub_panel("Annex", feeder);
    let freezer = f.breaker_in(annex, "1", 20.0, "");
    for _ in 0..4 {
        let advice = advise(&f.house, &Crew { keep_on: [freezer].into(), ..Crew::default() }).unwrap();
        assert!(advice.off.iter().all(|b| b.breaker != freezer && b.breaker != feeder));
        let off: Vec<_> = advice.off.iter().map(|b| b.breaker).collect();
        f.see(point, &off, Live);
    }
}

// Handbook 2.2: what should not lose power is kept short. The refrigerator is proven; nothing open may hang on its breaker.
#[test]
fn a_settled_refrigerator_is_not_left_off_where_nothing_is_asked_of_it() {
    let mut f = Fixture::new(12);
    let [cold, one, other] = ["1", "3", "5"].map(|at| f.breaker(at, 20.0, ""));
    let room = f.room("Kitchen");
    let fridge = f.point("K1", room, PointKind::Appliance);
    f.name(fridge, "refrigerator");
    for _ in 0..2 {
        f.see(fridge, &[cold], Dead);
        f.see(fridge, &[one, other], Live);
    }
    let open = ["K2", "K3"].map(|tag| f.point(tag, room, PointKind::Receptacle));
    for point in open {
        f.see(point, &[cold], Live);
        f.see(point, &[cold], Live);
    }
    assert!(belief(&f, "K1").proven);
    let off = |f: &Fixture| -> Vec<_> {
        let crew = Crew { pace: Pace::Fast, ..Crew::default() };
        advise(&f.house, &crew).unwrap().off.iter().map(|b| b.breaker).collect()
    };
    let handle = Breaker { handle: Handle::Off, ..f.house.breakers.get(cold).unwrap().clone() };
    f.house.breakers.put(handle);
    assert!(!off(&f).contains(&cold), "its handle goes back on: {:?}", off(&f));
    f.name(fridge, "toaster");
    assert!(off(&f).contains(&cold), "what nobody minds may stay off: a handle less to move");
}

#[test]
fn advice_says_which_handles_to_move_from_where_they_stand() {
    let (mut f, one, other, _) = two();
    let off = Breaker { handle: Handle::Off, ..f.house.breakers.get(one).unwrap().clone() };
    f.house.breakers.put(off);
    let advice = advise(&f.house, &Crew { keep_on: [one].into(), ..Crew::default() }).unwrap();
    assert_eq!(advice.switch_on.iter().map(|b| b.breaker).collect::<Vec<_>>(), [one]);
    assert_eq!(advice.switch_off.iter().map(|b| b.breaker).collect::<Vec<_>>(), [other]);
}

// handbook 2.1.2: never on a 240 V receptacle or above, it destroys the transmitter.
#[test]
fn the_transmitter_is_never_sent_to_240_volts() {
    let mut f = Fixture::new(42);
    for space in (1..=40).filter(|s| (s - 1) % 4 < 2) {
        f.breaker(&format!("{space}-{}", space + 2), 30.0, "");
    }
    let room = f.room("Shop");
    f.point_at("S1", room, PointKind::Receptacle, Some(NominalVolts::V240));
    f.point_at("S2", room, PointKind::Receptacle, None);
    let crew = Crew { transmitter: true, people: 2, ..Crew::default() };
    assert_ne!(advise(&f.house, &crew).unwrap().action, Action::Receiver);
    f.point("S3", room, PointKind::Receptacle);
    let advice = advise(&f.house, &Crew { max_off: Some(1), ..crew }).unwrap();
    assert_eq!((advice.action, advice.visit), (Action::Receiver, vec!["S3".to_owned()]));
}

#[test]
fn a_return_counts_only_after_it_was_dead() {
    let (mut f, one, other, point) = two();
    // Live with all on, before anything was off, is no return.
    f.see(point, &[], Live);
    f.see(point, &[one], Dead);
    f.see(point, &[one], Dead);
    assert_eq!(belief(&f, "H1").missing, [Missing::SeenBack]);
    // Another off-set with the breaker in it confirms; so does a receiver.
    let pointed = f.observe(point, Observation::Pointed { at: one });
    assert!(belief(&f, "H1").proven);
    f.house.evidence.remove(pointed);
    f.see(point, &[other], Live);
    assert!(belief(&f, "H1").proven);
}

#[test]
fn somebodys_word_shifts_belief_and_proves_nothing() {
    let (mut f, one, _, point) = two();
    let before = p(&f, "H1", one);
    for _ in 0..12 {
        f.see_by(point, &[one], Dead, Way::Word);
        f.see_by(point, &[], Live, Way::Word);
    }
    let b = belief(&f, "H1");
    assert!(p(&f, "H1", one) > before && !b.proven);
    assert_eq!(b.missing, [Missing::SeenDead, Missing::SeenBack, Missing::ToldApart]);
}

#[test]
fn the_way_of_looking_decides_how_much_a_reading_counts() {
    let sure = |way| {
        let (mut f, one, _, point) = two();
        f.see_by(point, &[one], Dead, way);
        p(&f, "H1", one)
    };
    let ways = [Way::Meter, Way::Tester, Way::Lamp, Way::Light, Way::Word].map(sure);
    assert!(ways.windows(2).all(|w| w[0] >= w[1]) && ways[0] > ways[1] && ways[3] > ways[4], "{ways:?}");
}

#[test]
fn what_may_go_dark_with_a_breaker_is_listed_or_counted() {
    let mut f = Fixture::new(42);
    let all: Vec<_> = (1..=30).map(|s| f.breaker(&s.to_string(), 20.0, "")).collect();
    let room = f.room("Hall");
    let points: Vec<_> = (0..5).map(|i| f.point(&format!("H{i}"), room, PointKind::Receptacle)).collect();
    let of = |f: &Fixture, b: BreakerId| beliefs(&f.house).breakers.into_iter().find(|x| x.at.breaker == b).unwrap();
    // Nothing is known: no point is ruled out anywhere, and none is shown as safe.
    assert_eq!((of(&f, all[0]).feeds.len(), of(&f, all[0]).others), (0, 5));
    for _ in 0..3 {
        f.see(points[0], &[all[0]], Dead);
        f.see(points[0], &[all[1]], Live);
    }
    let first = of(&f, all[0]);
    // The others of the room may well hang there too: they are named, unproven.
    let named: Vec<_> = first.feeds.iter().map(|f| (f.tag.as_str(), f.proven)).collect();
    assert_eq!(named, [("H0", true), ("H1", false), ("H2", false), ("H3", false), ("H4", false)]);
    assert!(of(&f, all[1]).feeds.is_empty() && of(&f, all[1]).others == 4);
}

#[test]
fn a_point_that_cannot_be_read_is_asked_less_and_less() {
    let (f, _) = ten_breakers();
    let seconds = |f: &Fixture| advise(&f.house, &Crew::default()).unwrap();
    let first = seconds(&f);
    let mut f = f;
    let stubborn = first.points[0];
    let off: Vec<_> = first.off.iter().map(|b| b.breaker).collect();
    for _ in 0..12 {
        f.see(stubborn, &off, Unsure);
    }
    assert!(!seconds(&f).points.contains(&stubborn), "its place is taken by others");
}

#[test]
fn a_house_with_nothing_in_it_has_nothing_to_do() {
    let f = Fixture::new(20);
    let advice = advise(&f.house, &Crew { transmitter: true, ..Crew::default() }).unwrap();
    assert_eq!((advice.action, advice.visit.len(), advice.bits), (Action::Done, 0, 0.0));
    let empty = beliefs(&f.house);
    assert!(empty.points.is_empty() && empty.breakers.is_empty() && empty.progress.points == 0);
}

#[test]
fn a_crew_out_of_range_is_told_which_field() {
    let (f, ..) = two();
    let field = |crew: Crew| advise(&f.house, &crew).unwrap_err().field;
    assert_eq!(field(Crew { people: 3, ..Crew::default() }), "people");
    assert_eq!(field(Crew { testers: 0, ..Crew::default() }), "testers");
    assert_eq!(field(Crew { max_off: Some(0), ..Crew::default() }), "max_off");
    assert_eq!(field(Crew { keep_on: [BreakerId(9999)].into(), ..Crew::default() }), "keep_on");
}

/// A house of random size, and its hidden truth by index; labels are as likely wrong as right.
pub(super) fn random_house() -> impl Strategy<Value = (Fixture, Vec<(PointId, BreakerId)>)> {
    let sizes = (2usize..8, 1usize..12);
    sizes.prop_flat_map(|(n, m)| {
        prop::collection::vec((0..n, 0..3usize, any::<bool>()), m).prop_map(move |points| {
            let mut f = Fixture::new(20);
            let labels = ["hall", "", "bath lights", "spare"];
            let breakers: Vec<_> = (1..=n).map(|s| f.breaker(&s.to_string(), 20.0, labels[s % 4])).collect();
            let rooms = ["Hall", "Bath", "Den"].map(|name| f.room(name));
            let mut truth = Vec::new();
            for (i, (feeder, room, light)) in points.into_iter().enumerate() {
                let kind = if light { PointKind::Light } else { PointKind::Receptacle };
                truth.push((f.point(&format!("P{i}"), rooms[room], kind), breakers[feeder]));
            }
            (f, truth)
        })
    })
}

/// One observation of the brute-force check: point, off-set as bits, what was seen, by which way.
type Look = (usize, u8, Seen, Way);

/// Joint enumeration: every assignment of points to sources, weighed by prior and all readings, then summed.
/// Sources: breakers `0..n`, then `n` = elsewhere, `n + 1` = no power. Misread rates said again: false dead, false live.
/// `kin` is the weight that each point of the room believed on a breaker adds there, against `alone` for none: the
/// breakers of the points are drawn one after the other, as in a Pólya urn (Dirichlet prior), which gives every order the
/// same probability.
fn brute_force(n: usize, points: usize, looks: &[Look], alone: f64, kin: f64) -> Vec<Vec<f64>> {
    let rate = |way| match way {
        Way::Tester => (0.015, 0.015),
        Way::Lamp | Way::Light => (0.02, 0.015),
        Way::Radio => (0.03, 0.03),
        Way::Meter => (0.01, 0.01),
        Way::Word => (0.25, 0.25),
    };
    let sources = n + 2;
    let mut marginal = vec![vec![0.0; sources]; points];
    for code in 0..sources.pow(points as u32) {
        let assigned: Vec<usize> = (0..points).map(|i| code / sources.pow(i as u32) % sources).collect();
        let mut weight = 1.0;
        let mut there = vec![0.0; n];
        for s in &assigned {
            weight *= match *s {
                s if s < n => {
                    let all: f64 = there.iter().map(|c| alone + kin * c).sum();
                    let drawn = (alone + kin * there[s]) / all;
                    there[s] += 1.0;
                    0.971 * drawn
                }
                s if s == n => 0.004,
                _ => 0.025,
            };
        }
        for (point, off, seen, way) in looks {
            let source = assigned[*point];
            let powered = if source < n { off >> source & 1 == 0 } else { source == n };
            let (false_dead, false_live) = rate(*way);
            weight *= match (seen, powered) {
                (Unsure, _) => 1.0,
                (Dead, true) => false_dead,
                (Live, true) => 1.0 - false_dead,
                (Dead, false) => 1.0 - false_live,
                (Live, false) => false_live,
            };
        }
        for (i, source) in assigned.iter().enumerate() {
            marginal[i][*source] += weight;
        }
    }
    for row in &mut marginal {
        let total: f64 = row.iter().sum();
        row.iter_mut().for_each(|w| *w /= total);
    }
    marginal
}

fn look(breakers: usize, points: usize) -> impl Strategy<Value = Look> {
    let seen = prop::sample::select(vec![Dead, Live, Unsure]);
    let way = prop::sample::select(vec![Way::Tester, Way::Lamp, Way::Light, Way::Radio, Way::Meter, Way::Word]);
    (0..points, 0..(1u8 << breakers), seen, way)
}

/// Total variation that the approximation may be away from the sum over all maps.
const NEAR: f64 = 0.4;

/// Some breakers and points of one room with these looks.
fn seen_house(n: usize, m: usize, looks: &[Look]) -> (Fixture, Vec<BreakerId>, Vec<PointId>) {
    let mut f = Fixture::new(20);
    let breakers: Vec<_> = (1..=n).map(|s| f.breaker(&s.to_string(), 20.0, "")).collect();
    let room = f.room("Hall");
    let points: Vec<_> = (0..m).map(|i| f.point(&format!("H{i}"), room, PointKind::Receptacle)).collect();
    for (point, off, seen, way) in looks {
        let off: Vec<_> = (0..n).filter(|b| off >> b & 1 == 1).map(|b| breakers[b]).collect();
        f.see_by(points[*point], &off, *seen, *way);
    }
    (f, breakers, points)
}

/// Breakers, points, and looks at a point, its true feeder among them, with handles off.
fn honest_house() -> impl Strategy<Value = (usize, usize, Vec<(usize, usize, u8)>)> {
    (2usize..5, 1usize..4).prop_flat_map(|(n, m)| {
        let truth = prop::collection::vec(0..n, m);
        let looks = prop::collection::vec((0..m, 0..(1u8 << n)), 0..8);
        (truth, looks)
            .prop_map(move |(truth, looks)| (n, m, looks.into_iter().map(|(p, off)| (p, truth[p], off)).collect()))
    })
}

fn small_house() -> impl Strategy<Value = (usize, usize, Vec<Look>)> {
    (1usize..5, 1usize..4).prop_flat_map(|(n, m)| (Just(n), Just(m), prop::collection::vec(look(n, m), 0..10)))
}

proptest! {
    // One point has no kin: exact.
    #[test]
    fn posterior_of_a_single_point_equals_brute_force((n, _, looks) in small_house()) {
        let looks: Vec<Look> = looks.into_iter().map(|(_, off, seen, way)| (0, off, seen, way)).collect();
        let (f, breakers, _) = seen_house(n, 1, &looks);
        // Where looks by one way disagree they count less: by hand above.
        prop_assume!(Tracker::new(&f.house).seen[0].misleading.is_empty());
        let expected = &brute_force(n, 1, &looks, 1.0, 0.0)[0];
        let b = belief(&f, "H0");
        for (breaker, expected) in breakers.iter().zip(expected) {
            let got = p(&f, &b.tag, *breaker);
            prop_assert!((got - expected).abs() < 1e-9 || *expected < 0.0005 && got == 0.0, "{got} {expected}");
        }
        prop_assert!((b.elsewhere - expected[n]).abs() < 1e-9 && (b.no_power - expected[n + 1]).abs() < 1e-9);
    }

    // Points of one room and sort against the sum over all maps. The approximation may be off where readings
    // contradict each other; honest ones are what it is made for.
    #[test]
    fn posterior_of_a_room_is_near_brute_force((n, m, asked) in honest_house()) {
        let looks: Vec<Look> = asked.iter().map(|(point, feeder, off)| {
            (*point, *off, if off >> feeder & 1 == 1 { Dead } else { Live }, Way::Tester)
        }).collect();
        let (f, breakers, _) = seen_house(n, m, &looks);
        let sum = brute_force(n, m, &looks, 0.10, 2.3);
        for (i, expected) in sum.iter().enumerate() {
            let apart: f64 = breakers.iter().zip(expected).map(|(b, e)| (p(&f, &format!("H{i}"), *b) - e).abs()).sum();
            prop_assert!(apart / 2.0 < NEAR, "H{i} is {apart} away: {expected:?} {looks:?}");
        }
    }

    #[test]
    fn nothing_is_proven_without_a_switch_off((n, m, looks) in small_house()) {
        let (f, breakers, points) = seen_house(n, m, &looks);
        for b in beliefs(&f.house).points.iter().filter(|b| b.proven) {
            let i = points.iter().position(|p| *p == b.point).unwrap();
            let top = breakers.iter().position(|x| *x == b.candidates[0].at.breaker).unwrap();
            let seen_dead = looks.iter().any(|(p, off, seen, way)| {
                *p == i && off >> top & 1 == 1 && *seen == Dead && *way != Way::Word
            });
            prop_assert!(seen_dead && b.candidates[0].p >= 0.99);
        }
    }

    #[test]
    fn honest_answers_to_the_advice_prove_any_house_right((mut f, truth) in random_house(), people in 1u8..=2) {
        trace_through(&mut f, &truth, &Crew { people, ..Crew::default() });
        for b in beliefs(&f.house).points {
            let feeder = truth.iter().find(|(p, _)| *p == b.point).unwrap().1;
            prop_assert!(b.proven && b.candidates[0].at.breaker == feeder, "{}", b.tag);
        }
    }

    #[test]
    fn probabilities_sum_to_one_whatever_was_seen((n, m, looks) in small_house(), volts in 0usize..3) {
        let mut f = Fixture::new(20);
        let breakers: Vec<_> = (1..=n).map(|s| f.breaker(&s.to_string(), 20.0, "kitchen")).collect();
        let room = f.room("Kitchen");
        let volts = [None, Some(NominalVolts::V120), Some(NominalVolts::V240)][volts];
        let points: Vec<_> = (0..m).map(|i| f.point_at(&format!("K{i}"), room, PointKind::Appliance, volts)).collect();
        for (point, off, seen, way) in &looks {
            let off: Vec<_> = (0..n).filter(|b| off >> b & 1 == 1).map(|b| breakers[b]).collect();
            f.see_by(points[*point], &off, *seen, *way);
            f.observe(points[*point], Observation::Pointed { at: breakers[0] });
        }
        for b in beliefs(&f.house).points {
            let listed: f64 = b.candidates.iter().map(|c| c.p).sum();
            let two = b.two_handles.as_ref().map_or(0.0, |two| two.p);
            // Candidates under 0.0005 are not listed.
            prop_assert!((listed + b.none + two - 1.0).abs() < 0.0005 * n as f64 + 1e-9, "{b:?}");
            prop_assert!(b.candidates.windows(2).all(|w| w[0].p >= w[1].p));
            prop_assert_eq!(b.reasons.len(), f.house.evidence.iter().filter(|e| e.point == b.point).count());
        }
    }
}

// ---- what the looks of others, of labels and of other tools tell

#[test]
fn kin_of_a_room_shifts_its_neighbours_and_other_sorts_hardly() {
    let mut f = Fixture::new(20);
    let all: Vec<_> = (1..=8).map(|s| f.breaker(&s.to_string(), 20.0, "")).collect();
    let (hall, den) = (f.room("Hall"), f.room("Den"));
    let seen = f.point("H1", hall, PointKind::Receptacle);
    f.point("H2", hall, PointKind::Receptacle);
    f.point("H3", hall, PointKind::Light);
    f.point("D1", den, PointKind::Light);
    let before = p(&f, "H2", all[2]);
    for other in [0, 4] {
        f.see(seen, &[all[2]], Dead);
        f.see(seen, &[all[other]], Live);
    }
    let [same, sort, far] = ["H2", "H3", "D1"].map(|tag| p(&f, tag, all[2]));
    assert!(same > 3.0 * before && same > sort && sort > far && far > 0.9 * before, "{same} {sort} {far}");
    assert!(belief(&f, "H2").hints.iter().any(|h| h.kind == HintKind::Neighbours && h.odds > 3.0));
}

#[test]
fn points_behind_one_ground_fault_device_go_with_it() {
    let mut f = Fixture::new(20);
    let all: Vec<_> = (1..=6).map(|s| f.breaker(&s.to_string(), 20.0, "")).collect();
    let (bath, yard) = (f.room("Bath"), f.room("Yard"));
    let device = f.point("B1", bath, PointKind::Receptacle);
    let behind = f.point("Y1", yard, PointKind::Receptacle);
    let point = |f: &Fixture, id| f.house.points.get(id).unwrap().clone();
    f.house.points.put(Point { ground_fault: true, ..point(&f, device) });
    f.house.points.put(Point { protected_by: Some(device), ..point(&f, behind) });
    f.see(device, &[all[3]], Dead);
    f.see(device, &[all[0], all[1]], Live);
    f.see(device, &[all[2], all[4]], Live);
    assert!(p(&f, "Y1", all[3]) > 0.8);
    // It looked dead while the device had tripped: reset, and the reading counts no more.
    f.see(behind, &[all[0]], Dead);
    f.see(behind, &[all[1]], Dead);
    let misled = p(&f, "Y1", all[3]);
    f.observe(device, Observation::Tried { cause: Tried::Device, was_off: true, off: None });
    assert!(p(&f, "Y1", all[3]) > misled);
    assert!(belief(&f, "Y1").reasons.iter().all(|r| r.set_aside && r.says == Says::Neither));
}

#[test]
fn a_switch_that_was_off_sets_earlier_looks_aside() {
    let (mut f, one, other, _) = two();
    let room = f.room("Den");
    let light = f.point("D1", room, PointKind::Light);
    for off in [one, other] {
        f.see_by(light, &[off], Dead, Way::Light);
    }
    assert!(belief(&f, "D1").no_power > 0.5);
    f.observe(light, Observation::Tried { cause: Tried::Switch, was_off: true, off: None });
    let b = belief(&f, "D1");
    assert!(b.no_power < 0.01 && (p(&f, "D1", one) - p(&f, "D1", other)).abs() < 1e-9, "{b:?}");
    // Had it been on, the looks still count, and "no power" is a broken light.
    let (mut f, one, other, _) = two();
    let room = f.room("Den");
    let light = f.point("D1", room, PointKind::Light);
    for off in [one, other] {
        f.see_by(light, &[off], Dead, Way::Light);
    }
    f.observe(light, Observation::Tried { cause: Tried::Switch, was_off: false, off: None });
    assert_eq!(belief(&f, "D1").reasons.iter().filter(|r| r.set_aside).count(), 0);
}

#[test]
fn labels_of_a_house_that_proved_wrong_are_believed_less() {
    let odds = |wrong: usize| {
        let mut f = Fixture::new(42);
        let all: Vec<_> =
            (1..=8).map(|s| f.breaker(&s.to_string(), 20.0, &format!("{} plugs", ROOMS[s - 1]))).collect();
        let rooms: Vec<_> = ROOMS.iter().map(|name| f.room(name)).collect();
        for i in 0..wrong {
            // What is labelled for one room feeds the next.
            let point = f.point(&format!("W{i}"), rooms[i], PointKind::Receptacle);
            for _ in 0..2 {
                f.see(point, &[all[i + 1]], Dead);
                f.see(point, &[all[i]], Live);
            }
        }
        f.point("X1", rooms[7], PointKind::Receptacle);
        p(&f, "X1", all[7]) / p(&f, "X1", all[6])
    };
    const ROOMS: [&str; 8] = ["amber", "birch", "cedar", "dahlia", "ember", "fern", "garnet", "heron"];
    let (fresh, doubted) = (odds(0), odds(3));
    assert!(fresh > 10.0 && doubted < 0.8 * fresh, "{fresh} {doubted}");
}

// 1500 W at 120 V draw 12.5 A [def].
#[test]
fn a_current_that_rises_with_the_load_names_its_breaker() {
    let (mut f, one, other, point) = two();
    f.observe(point, Observation::Rise { at: one, expected: Amps(12.5), rose: Amps(12.1) });
    assert!(p(&f, "H1", one) > 0.9 && !belief(&f, "H1").proven, "measured, but never seen dead");
    f.observe(point, Observation::Rise { at: other, expected: Amps(12.5), rose: Amps(0.1) });
    assert!(p(&f, "H1", one) > 0.95);
    let (mut f, one, other, point) = two();
    f.observe(point, Observation::Rise { at: one, expected: Amps(12.5), rose: Amps(0.2) });
    assert!(p(&f, "H1", other) > 0.9, "no rise speaks for the others");
}

// handbook 3.2: what a clamp shows against what was proven is a doubt, not lost.
#[test]
fn a_rise_elsewhere_than_it_is_proven_is_a_doubt() {
    let (mut f, one, other, point) = two();
    for _ in 0..3 {
        f.see(point, &[one], Dead);
        f.see(point, &[other], Live);
    }
    assert!(belief(&f, "H1").proven && super::doubts(&f.house).is_empty());
    f.observe(point, Observation::Rise { at: other, expected: Amps(12.5), rose: Amps(12.3) });
    let doubts = super::doubts(&f.house);
    assert_eq!(doubts.iter().map(|d| d.tag.as_str()).collect::<Vec<_>>(), ["H1"]);
    assert!(doubts[0].against.iter().any(|odd| odd.said.contains("12.3")), "{doubts:?}");
}

#[test]
fn a_followed_wire_counts_much_and_proves_nothing() {
    let (mut f, one, _, point) = two();
    f.observe(point, Observation::Wire { at: one });
    let b = belief(&f, "H1");
    assert!(p(&f, "H1", one) > 0.9 && !b.proven && b.why.contains(&Because::Measured));
}

#[test]
fn a_fault_at_a_point_tells_nothing_of_breakers_and_is_kept() {
    let (mut f, one, _, point) = two();
    let before = p(&f, "H1", one);
    f.observe(point, Observation::Fault { fault: Fault::OpenGround });
    f.observe(point, Observation::Fault { fault: Fault::OpenGround });
    assert!(close(p(&f, "H1", one), before));
    let found = faults(&f.house);
    assert_eq!((found.len(), found[0].tag.as_str(), found[0].fault), (1, "H1", Fault::OpenGround));
}

// ---- contradictions

#[test]
fn a_lie_is_found_and_what_it_changes_is_said() {
    let (mut f, one, other, point) = two();
    for _ in 0..2 {
        f.see(point, &[one], Dead);
        f.see(point, &[other], Live);
    }
    assert!(doubts(&f.house).is_empty());
    let lie = f.see(point, &[other], Dead);
    let doubt = &doubts(&f.house)[0];
    assert_eq!((doubt.tag.as_str(), doubt.check, doubt.against.len()), ("H1", QuickCheck::LookAgain, 1));
    let odd = &doubt.against[0];
    assert!(odd.evidence == lie && odd.chance < 0.05 && odd.sure > 0.99);
    assert_eq!(odd.without.as_ref().map(|b| b.breaker), Some(one));
    // Taken back, nothing is left to doubt.
    f.house.evidence.remove(lie);
    assert!(doubts(&f.house).is_empty());
}

// Breaker 2 had been forgotten while 1 was off: five outlets of 2 went dead with it. Later each goes dead with 2 alone.
#[test]
fn a_forgotten_handle_is_one_doubt_instead_of_five() {
    let mut f = Fixture::new(20);
    let [one, two, three] = ["1", "2", "3"].map(|at| f.breaker(at, 20.0, ""));
    let room = f.room("Hall");
    let points: Vec<_> = (1..=5).map(|n| f.point(&format!("H{n}"), room, PointKind::Receptacle)).collect();
    let forgotten: Vec<_> = points.iter().map(|p| f.see(*p, &[one], Dead)).collect();
    for off in [two, three] {
        points.iter().for_each(|p| {
            f.see(*p, &[off], if off == two { Dead } else { Live });
        });
    }
    let found = doubts(&f.house);
    assert_eq!((found.len(), found[0].also.len()), (1, 4));
    let story = &found[0].stories[0];
    assert_eq!((story.kind, story.breakers[0].breaker), (StoryKind::AlsoOff, two));
    assert!(
        story.said.starts_with("in the looks with 1 off, 2 was off as well; that explains the answers at 5 points"),
        "{}",
        story.said
    );
    let Correction { looks, off, on } = story.correction.clone().unwrap();
    assert_eq!((&looks, &off, &on), (&forgotten, &vec![two], &vec![]));
    let right = f.house.apply(&Change::CorrectLooks { looks, off, on }).unwrap();
    assert!(doubts(&right.house).is_empty());
    assert!(beliefs(&right.house).points.iter().all(|p| p.candidates[0].at.breaker == two));
    // What is no look cannot be put right.
    let fault = f.observe(points[0], Observation::Fault { fault: Fault::OpenGround });
    let wrong = Change::CorrectLooks { looks: vec![fault], off: vec![two], on: vec![] };
    assert_eq!(f.house.apply(&wrong).unwrap_err().field, "looks");
}

#[test]
fn faults_that_explain_everything_are_offered() {
    let told = |looks: &[(&[usize], Seen)]| {
        let mut f = Fixture::new(20);
        let all: Vec<_> = (1..=4).map(|s| f.breaker(&s.to_string(), 20.0, "")).collect();
        let room = f.room("Hall");
        let point = f.point("H1", room, PointKind::Receptacle);
        for (off, seen) in looks {
            let off: Vec<_> = off.iter().map(|b| all[*b]).collect();
            f.see(point, &off, *seen);
        }
        let stories: Vec<_> = doubts(&f.house).iter().flat_map(|d| d.stories.clone()).collect();
        stories.first().map(|s| {
            let at: Vec<_> = s.breakers.iter().map(|b| all.iter().position(|a| *a == b.breaker).unwrap()).collect();
            (s.kind, at)
        })
    };
    // Fed twice: alive with either off, dead with both.
    let twice: &[(&[usize], Seen)] =
        &[(&[0], Live), (&[1], Live), (&[0], Live), (&[1], Live), (&[0, 1], Dead), (&[0, 1], Dead)];
    assert_eq!(told(twice), Some((StoryKind::TwoCircuits, vec![0, 1])));
    // Both needed: dead with either off, alive with neither.
    let either: &[(&[usize], Seen)] =
        &[(&[0], Dead), (&[1], Dead), (&[2], Live), (&[0], Dead), (&[1], Dead), (&[3], Live), (&[], Live)];
    assert_eq!(told(either), Some((StoryKind::EitherCircuit, vec![0, 1])));
    // Changed in between: first with one, later with another.
    let changed: &[(&[usize], Seen)] =
        &[(&[0], Dead), (&[1], Live), (&[0], Dead), (&[1], Dead), (&[0], Live), (&[1], Dead), (&[0], Live)];
    assert_eq!(told(changed), Some((StoryKind::ChangedSince, vec![0, 1])));
    // All fits: no story.
    assert_eq!(told(&[(&[0], Dead), (&[1], Live), (&[0], Dead)]), None);
}

// ---- explaining, guiding

#[test]
fn why_says_what_the_belief_rests_on() {
    let (mut f, one, other, point) = two();
    assert_eq!(belief(&f, "H1").why, [Because::Guess]);
    f.see(point, &[other], Live);
    f.see(point, &[one], Dead);
    f.see(point, &[one], Dead);
    f.see(point, &[one], Live);
    f.observe(point, Observation::Pointed { at: one });
    let expected = [
        Because::DeadWith { times: 2 },
        Because::AliveWithout { times: 1 },
        Because::Against { times: 1 },
        Because::Pointed,
    ];
    assert_eq!(belief(&f, "H1").why, expected);
}

/// A step under way in a house, and one answer to it.
fn answered(f: &mut Fixture, point: PointId, off: &[BreakerId], visit: &[PointId], seen: Seen) {
    let step = Step { id: StepId(7), off: off.iter().copied().collect(), visit: visit.to_vec() };
    f.house.step = Some(step);
    let id = f.see(point, off, seen);
    let told = Evidence { step: Some(StepId(7)), ..f.house.evidence.get(id).unwrap().clone() };
    f.house.evidence.put(told);
}

#[test]
fn a_surprising_answer_is_asked_about_once() {
    let (mut f, one, other, point) = two();
    for _ in 0..2 {
        f.see(point, &[one], Dead);
        f.see(point, &[other], Live);
    }
    let ask = |f: &Fixture| guide(&f.house, &Crew::default()).unwrap().unwrap().ask;
    answered(&mut f, point, &[other], &[point], Dead);
    let asked = ask(&f).unwrap();
    assert_eq!((asked.point, asked.check), (point, QuickCheck::LookAgain));
    assert!(asked.chance < 0.05);
    answered(&mut f, point, &[other], &[point], Live);
    assert_eq!(ask(&f), None, "looked again, it is as expected");
}

#[test]
fn a_light_that_looks_dead_anyway_has_its_switch_tried() {
    let (mut f, one, other, _) = two();
    let room = f.room("Den");
    let light = f.point("D1", room, PointKind::Light);
    f.see_by(light, &[one], Dead, Way::Light);
    answered(&mut f, light, &[other], &[light], Dead);
    let asked = guide(&f.house, &Crew::default()).unwrap().unwrap().ask.unwrap();
    assert_eq!((asked.point, asked.check), (light, QuickCheck::Switch));
    f.observe(light, Observation::Tried { cause: Tried::Switch, was_off: false, off: None });
    let again = guide(&f.house, &Crew::default()).unwrap().unwrap().ask;
    assert!(again.is_none_or(|a| a.check == QuickCheck::LookAgain), "the switch is not tried twice");
}

#[test]
fn the_guide_goes_through_the_tour_and_skips_what_is_settled() {
    let (mut f, truth) = ten_breakers();
    assert_eq!(guide(&f.house, &Crew::default()).unwrap(), None, "no step, no guide");
    let visit: Vec<_> = truth.iter().map(|(p, _)| *p).take(8).collect();
    let proven = visit[3];
    for _ in 0..2 {
        f.see(proven, &[truth[3].1], Dead);
        f.see(proven, &[truth[4].1], Live);
    }
    answered(&mut f, visit[0], &[truth[0].1], &visit, Dead);
    let guide = guide(&f.house, &Crew::default()).unwrap().unwrap();
    assert!(!guide.left.contains(&proven) && !guide.left.contains(&visit[0]));
    let room = |p: PointId| f.house.points.get(p).unwrap().room;
    assert_eq!(room(guide.next.unwrap()), room(visit[0]), "the room is finished first");
}

// ---- the ways of tracing

#[test]
fn every_way_of_tracing_ends_with_everything_proven_right() {
    for method in [Method::OneAtATime, Method::Halving, Method::Transmitter] {
        let (mut f, truth) = ten_breakers();
        let crew = Crew { method, transmitter: method == Method::Transmitter, ..Crew::default() };
        let mut first = None;
        for _ in 0..400 {
            let advice = advise(&f.house, &crew).unwrap();
            first.get_or_insert((advice.action, advice.off.len()));
            if advice.action == Action::Done {
                break;
            }
            answer_honestly(&mut f, &truth, &advice);
        }
        let expected = match method {
            Method::OneAtATime => (Action::Switch, 1),
            Method::Halving => (Action::Switch, 4),
            _ => (Action::Receiver, 0),
        };
        let began = first.unwrap();
        assert!(began.0 == expected.0 && began.1.abs_diff(expected.1) <= 1, "{method:?} began with {began:?}");
        for b in beliefs(&f.house).points {
            let feeder = truth.iter().find(|(p, _)| *p == b.point).unwrap().1;
            assert!(b.proven && b.candidates[0].at.breaker == feeder, "{method:?} {}", b.tag);
        }
    }
}

// The fixed code: every word of even weight, no two alike, so any two differ in at least two rounds and one slip shows
// (a parity code, handbook 2.1.6; Hamming distance 2 [def]).
#[test]
fn halving_words_differ_in_two_rounds_and_stay_near_half() {
    for n in [2, 5, 12, 20, 42, 60] {
        let words = code_words(n);
        let rounds = words[0].len();
        for (i, a) in words.iter().enumerate() {
            assert!(a.iter().filter(|o| **o).count() % 2 == 0 && a.contains(&true));
            for b in &words[..i] {
                assert!(a.iter().zip(b).filter(|(x, y)| x != y).count() >= 2);
            }
        }
        for round in 0..rounds {
            let off = words.iter().filter(|w| w[round]).count();
            assert!(off * 10 <= n * 7 + 10, "{off} of {n} off in a round");
        }
    }
}

#[test]
fn pace_bounds_what_is_off_at_once() {
    for (pace, people, most) in [(Pace::Gentle, 1, 3), (Pace::Gentle, 2, 3), (Pace::Even, 1, 3), (Pace::Even, 2, 5)] {
        let (mut f, truth) = ten_breakers();
        let crew = Crew { pace, people, ..Crew::default() };
        for _ in 0..12 {
            let advice = advise(&f.house, &crew).unwrap();
            assert!(advice.off.len() <= most, "{pace:?} {people}: {} off", advice.off.len());
            answer_honestly(&mut f, &truth, &advice);
        }
    }
}

#[test]
fn a_report_tells_time_at_work_surprises_and_what_is_open() {
    let (mut f, one, other, point) = two();
    let labelled = Breaker { label: "spare".into(), ..f.house.breakers.get(one).unwrap().clone() };
    f.house.breakers.put(labelled);
    let start = f.house.evidence.len();
    for (off, seen) in [(one, Dead), (other, Live), (one, Dead)] {
        f.see(point, &[off], seen);
    }
    let room = f.room("Den");
    f.point("D1", room, PointKind::Light);
    f.observe(point, Observation::Fault { fault: Fault::Loose });
    let times: Vec<_> = f.house.evidence.iter().map(|e| e.time).collect();
    let run = Run {
        id: RunId(1),
        begun: times[0],
        ended: Some(times[times.len() - 1]),
        crew: Crew::default(),
        steps: 2,
        outages: 3,
        searched: [].into(),
        round: None,
    };
    let told = report(&f.house, &beliefs(&f.house), &run);
    assert_eq!((start, told.observations, told.proven, told.points), (0, 4, 1, 2));
    let took = times[times.len() - 1].duration_since(times[0]).as_secs_f64();
    assert!((told.active.0 - took).abs() < 1e-9);
    assert_eq!(told.open.iter().map(|o| o.tag.as_str()).collect::<Vec<_>>(), ["D1"]);
    assert_eq!(told.surprises.iter().map(|s| s.label.as_str()).collect::<Vec<_>>(), ["spare"]);
    assert_eq!(told.faults.len(), 1);
}

/// With each of them off it was alive, three times over.
fn alive_whatever_is_off(f: &mut Fixture, point: PointId, all: &[BreakerId]) {
    for breaker in all.iter().chain(all).chain(all) {
        f.see(point, &[*breaker], Live);
    }
}

#[test]
fn a_breaker_put_in_later_inherits_no_looks_from_before_it_stood() {
    let (mut f, one, other, _) = two();
    let room = f.room("Yard");
    let lamp = f.point("Y1", room, PointKind::Receptacle);
    alive_whatever_is_off(&mut f, lamp, &[one, other]);
    assert!(belief(&f, "Y1").stays_live());
    let new = f.breaker("5", 20.0, "new circuit");
    assert!(p(&f, "Y1", new) > 0.5, "as long as nobody says that it is new it may be the one");
    let since = Some(f.house.evidence.iter().map(|e| e.time).max().unwrap() + SignedDuration::from_hours(1));
    let breaker = f.house.breakers.get(new).unwrap().clone();
    f.house.breakers.put(Breaker { since, ..breaker });
    assert!(p(&f, "Y1", new) < 0.01, "{}", p(&f, "Y1", new));
    let b = belief(&f, "Y1");
    assert!(b.stays_live() && b.verdict.level == Level::Danger, "{b:?}");
    assert!(b.verdict.said.contains("do not work there"));
}

#[test]
fn work_that_ended_with_a_reading_has_proven_its_outlet() {
    let (mut f, one, _, _) = two();
    let room = f.room("Shed");
    let outlet = f.point("S1", room, PointKind::Receptacle);
    f.observe(outlet, Observation::Wire { at: one });
    assert!(!belief(&f, "S1").proven, "a cable that was followed alone proves nothing");
    f.observe(outlet, Observation::Landed { at: one });
    let b = belief(&f, "S1");
    assert!(b.proven && b.because.contains("a job wired it there"), "{b:?}");
}

// Wired to another breaker that stood already: what was seen before is of the old wires, and says nothing against the new.
#[test]
fn a_landing_sets_aside_what_was_seen_of_the_old_wires() {
    let (mut f, one, other, _) = two();
    let room = f.room("Shed");
    let outlet = f.point("S1", room, PointKind::Receptacle);
    for _ in 0..3 {
        f.see(outlet, &[one], Dead);
        f.see(outlet, &[other], Live);
    }
    assert!(belief(&f, "S1").proven && p(&f, "S1", one) > 0.9);
    f.observe(outlet, Observation::Landed { at: other });
    let b = belief(&f, "S1");
    assert!(b.proven && p(&f, "S1", other) > 0.9 && b.against == 0, "{b:?}");
    // Moved back by another job.
    f.observe(outlet, Observation::Landed { at: one });
    assert!(belief(&f, "S1").proven && p(&f, "S1", one) > 0.9);
}

#[test]
fn a_light_that_was_dark_in_all_looks_is_without_power_only_once_its_switch_was_tried() {
    let (mut f, one, other, _) = two();
    let room = f.room("Den");
    let light = f.point("D1", room, PointKind::Light);
    for off in [one, other, one, other, one, other] {
        f.see_by(light, &[off], Dead, Way::Light);
    }
    let b = belief(&f, "D1");
    assert!(b.no_power > 0.9 && b.status != Status::NoBreaker, "{b:?}");
    assert_eq!(b.needs, "its switch, lamp or ground-fault device to be tried while its breakers are on");
    // Still dark: how long its switch had been off nobody knows, so the looks before prove nothing, and it may hang on what is
    // off just now. From here on the switch is on, and looks count.
    let still = Observation::Tried { cause: Tried::Switch, was_off: false, off: Some([other].into()) };
    f.observe(light, still);
    let b = belief(&f, "D1");
    assert!(b.status != Status::NoBreaker && p(&f, "D1", other) > p(&f, "D1", one), "{b:?}");
    for off in [one, other, one, other] {
        f.see_by(light, &[off], Dead, Way::Light);
    }
    let b = belief(&f, "D1");
    assert_eq!(b.status, Status::NoBreaker, "{b:?}");
    assert!(b.verdict.said.contains("each breaker that may feed it was on in one of them"), "{}", b.verdict.said);
    assert!(!b.verdict.said.contains("every breaker on"), "nobody looked with all of them on");
    f.see_by(light, &[], Dead, Way::Light);
    assert!(belief(&f, "D1").verdict.said.contains("also with every breaker on"));
}

// What was dark because its switch was off, and was tried while its own breaker was off: one look with that on tells.
#[test]
fn a_light_tried_at_the_wrong_moment_is_not_given_up() {
    let (mut f, one, other, _) = two();
    let room = f.room("Den");
    let light = f.point("D1", room, PointKind::Light);
    for off in [other, one, other, other] {
        f.see_by(light, &[off], Dead, Way::Light);
    }
    f.observe(light, Observation::Tried { cause: Tried::Switch, was_off: false, off: Some([one].into()) });
    assert!(belief(&f, "D1").status != Status::NoBreaker);
    f.see_by(light, &[other], Live, Way::Light);
    let b = belief(&f, "D1");
    assert!(p(&f, "D1", one) > 0.9 && b.no_power < 0.01, "{b:?}");
}

#[test]
fn a_switch_that_lights_it_now_is_a_look_like_any_other() {
    let (mut f, one, other, _) = two();
    let room = f.room("Den");
    let light = f.point("D1", room, PointKind::Light);
    for off in [one, other] {
        f.see_by(light, &[off], Dead, Way::Light);
    }
    f.observe(light, Observation::Tried { cause: Tried::Switch, was_off: true, off: Some([other].into()) });
    let b = belief(&f, "D1");
    assert!(p(&f, "D1", one) > 0.9 && b.no_power < 0.01, "lit with the other one off: {b:?}");
}

#[test]
fn a_switch_is_not_tried_while_what_may_feed_it_is_off() {
    let (mut f, one, other, _) = two();
    let room = f.room("Den");
    let light = f.point("D1", room, PointKind::Light);
    f.see_by(light, &[one], Dead, Way::Light);
    f.see_by(light, &[one], Dead, Way::Light);
    answered(&mut f, light, &[one, other], &[light], Dead);
    let asked = guide(&f.house, &Crew::default()).unwrap().unwrap().ask;
    assert!(asked.is_none_or(|ask| ask.check == QuickCheck::LookAgain), "{asked:?}");
}

#[test]
fn a_first_true_dead_against_a_wrong_label_is_no_contradiction() {
    let mut f = Fixture::new(42);
    let all: Vec<_> = (1..=8).map(|s| f.breaker(&s.to_string(), 20.0, "")).collect();
    let wrong = f.house.breakers.get(all[0]).unwrap().clone();
    f.house.breakers.put(Breaker { label: "dishwasher".into(), ..wrong });
    let kitchen = f.room("Kitchen");
    let point = f.point("K1", kitchen, PointKind::Appliance);
    f.name(point, "dishwasher");
    f.see(point, &[all[4]], Dead);
    assert!(doubts(&f.house).is_empty(), "{:?}", doubts(&f.house));
    assert_eq!(belief(&f, "K1").against, 0);
    f.see(point, &[all[4]], Live);
    assert_eq!(doubts(&f.house).len(), 1, "two looks that disagree are one");
}

#[test]
fn a_label_that_names_the_room_or_what_is_beside_the_thing_is_no_wrong_one() {
    let mut f = Fixture::new(42);
    let (kitchen, wrong, other) =
        (f.breaker("1", 20.0, "Kitchen"), f.breaker("3", 20.0, "pump"), f.breaker("5", 20.0, ""));
    let sibling = f.breaker("7", 20.0, "disposer");
    let room = f.room("Kitchen");
    let mut proven = |tag: &str, name: &str, kind, on: BreakerId| {
        let point = f.point(tag, room, kind);
        f.name(point, name);
        for _ in 0..3 {
            f.see(point, &[on], Dead);
            f.see(point, &[if on == other { kitchen } else { other }], Live);
        }
    };
    proven("K1", "dishwasher", PointKind::Appliance, kitchen);
    proven("K2", "refrigerator", PointKind::Appliance, wrong);
    proven("K3", "disposer", PointKind::Appliance, sibling);
    proven("K4", "microwave", PointKind::Appliance, sibling);
    let map = beliefs(&f.house);
    assert!(map.points.iter().all(|b| b.proven), "{map:?}");
    let run = Run {
        id: RunId(1),
        begun: Timestamp::UNIX_EPOCH,
        ended: None,
        crew: Crew::default(),
        steps: 0,
        outages: 0,
        searched: [].into(),
        round: None,
    };
    let told: Vec<String> = report(&f.house, &map, &run).surprises.into_iter().map(|s| s.tag).collect();
    assert_eq!(told, ["K2"]);
}
