use proptest::prelude::*;

use super::*;
use crate::fixture::Fixture;
use crate::house::Seen::{Dead, Live, Unsure};
use crate::house::*;
use crate::units::NominalVolts;

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

// Bayes by hand. Prior: elsewhere 0.01, no power 0.02, the rest halved: 0.485 each. One dead reading with breaker 1
// off at 2 % misreads either way: weights 0.485·0.98, 0.485·0.02, 0.01·0.02, 0.02·0.98; their sum is 0.5048.
#[test]
fn one_dead_reading_by_hand() {
    let (mut f, one, other, point) = two();
    assert!(close(p(&f, "H1", one), 0.485) && close(belief(&f, "H1").none, 0.03));
    f.see(point, &[one], Dead);
    assert!(close(p(&f, "H1", one), 0.4753 / 0.5048));
    assert!(close(p(&f, "H1", other), 0.0097 / 0.5048));
    assert!(close(belief(&f, "H1").elsewhere, 0.0002 / 0.5048));
    assert!(close(belief(&f, "H1").no_power, 0.0196 / 0.5048));
}

#[test]
fn not_sure_changes_nothing_but_is_listed() {
    let (mut f, one, _, point) = two();
    let before = p(&f, "H1", one);
    f.see(point, &[one], Unsure);
    assert!(close(p(&f, "H1", one), before));
    assert_eq!(belief(&f, "H1").reasons[0].says, Says::Neither);
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
    f.see(point, &[one], Dead);
    assert_eq!(belief(&f, "H1").missing, [Missing::SeenBack], "the same handles twice confirm nothing");
    f.see(point, &[], Live);
    assert!(belief(&f, "H1").proven);
    f.see_by(point, &[one], Live, Way::Meter);
    f.see_by(point, &[one], Live, Way::Meter);
    assert!(!belief(&f, "H1").proven, "proof does not outlive a contradiction");
}

// HANDBOOK 1.2 [def]: one pole gives no 240 V.
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

// HANDBOOK 2.1.3, common practice: 30 A two-pole names dryers, 50 A ranges.
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

/// Truth for a simulated trace: breaker by point; answers without error.
fn trace_through(f: &mut Fixture, truth: &[(PointId, BreakerId)], crew: &Crew) -> usize {
    for step in 0..200 {
        let advice = advise(&f.house, crew).unwrap();
        if advice.action == Action::Done {
            assert!(advice.unproven.is_empty(), "{:?}", advice.unproven);
            return step;
        }
        assert!(!advice.visit.is_empty() && advice.seconds.0 > 0.0);
        assert!(advice.off.iter().all(|b| !crew.keep_on.contains(&b.breaker)));
        let off: Vec<_> = advice.off.iter().map(|b| b.breaker).collect();
        for point in &advice.points {
            let feeder = truth.iter().find(|(p, _)| p == point).unwrap().1;
            f.see(*point, &off, if off.contains(&feeder) { Dead } else { Live });
        }
    }
    panic!("not done after 200 steps");
}

fn ten_breakers() -> (Fixture, Vec<(PointId, BreakerId)>) {
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
        assert!(steps < 30, "{steps} steps"); // one at a time, each confirmed, takes 20 and visits all each time
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

#[test]
fn advice_says_which_handles_to_move_from_where_they_stand() {
    let (mut f, one, other, _) = two();
    let off = Breaker { handle: Handle::Off, ..f.house.breakers.get(one).unwrap().clone() };
    f.house.breakers.put(off);
    let advice = advise(&f.house, &Crew { keep_on: [one].into(), ..Crew::default() }).unwrap();
    assert_eq!(advice.switch_on.iter().map(|b| b.breaker).collect::<Vec<_>>(), [one]);
    assert_eq!(advice.switch_off.iter().map(|b| b.breaker).collect::<Vec<_>>(), [other]);
}

// HANDBOOK 2.1.2: never on a 240 V receptacle or above, it destroys the transmitter.
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
    assert_eq!(b.missing, [Missing::SeenDead, Missing::SeenBack]);
}

#[test]
fn the_way_of_looking_decides_how_much_a_reading_counts() {
    let sure = |way| {
        let (mut f, one, _, point) = two();
        f.see_by(point, &[one], Dead, way);
        p(&f, "H1", one)
    };
    let ways = [Way::Meter, Way::Tester, Way::Lamp, Way::Light, Way::Word].map(sure);
    assert!(ways.windows(2).all(|w| w[0] > w[1]), "{ways:?}");
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
    assert_eq!((first.feeds[0].tag.as_str(), first.feeds[0].proven, first.others), ("H0", true, 4));
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
fn random_house() -> impl Strategy<Value = (Fixture, Vec<(PointId, BreakerId)>)> {
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
fn brute_force(n: usize, points: usize, looks: &[Look]) -> Vec<Vec<f64>> {
    let rate = |way| match way {
        Way::Tester => (0.02, 0.02),
        Way::Lamp => (0.03, 0.02),
        Way::Light => (0.05, 0.02),
        Way::Radio => (0.03, 0.03),
        Way::Meter => (0.01, 0.01),
        Way::Word => (0.25, 0.25),
    };
    let sources = n + 2;
    let mut marginal = vec![vec![0.0; sources]; points];
    for code in 0..sources.pow(points as u32) {
        let assigned: Vec<usize> = (0..points).map(|i| code / sources.pow(i as u32) % sources).collect();
        let prior = |s: &usize| {
            if *s < n {
                0.97 / n as f64
            } else if *s == n {
                0.01
            } else {
                0.02
            }
        };
        let mut weight: f64 = assigned.iter().map(prior).product();
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

fn small_house() -> impl Strategy<Value = (usize, usize, Vec<Look>)> {
    (1usize..5, 1usize..4).prop_flat_map(|(n, m)| (Just(n), Just(m), prop::collection::vec(look(n, m), 0..10)))
}

proptest! {
    #[test]
    fn posterior_equals_brute_force_over_all_maps((n, m, looks) in small_house()) {
        let mut f = Fixture::new(20);
        let breakers: Vec<_> = (1..=n).map(|s| f.breaker(&s.to_string(), 20.0, "")).collect();
        let room = f.room("Hall");
        let points: Vec<_> = (0..m).map(|i| f.point(&format!("H{i}"), room, PointKind::Receptacle)).collect();
        for (point, off, seen, way) in &looks {
            let off: Vec<_> = (0..n).filter(|b| off >> b & 1 == 1).map(|b| breakers[b]).collect();
            f.see_by(points[*point], &off, *seen, *way);
        }
        for (i, expected) in brute_force(n, m, &looks).iter().enumerate() {
            let b = belief(&f, &format!("H{i}"));
            for (breaker, expected) in breakers.iter().zip(expected) {
                let got = p(&f, &b.tag, *breaker);
                prop_assert!((got - expected).abs() < 1e-9 || *expected < 0.0005 && got == 0.0, "{got} {expected}");
            }
            prop_assert!((b.elsewhere - expected[n]).abs() < 1e-9 && (b.no_power - expected[n + 1]).abs() < 1e-9);
        }
    }

    #[test]
    fn nothing_is_proven_without_a_switch_off((n, m, looks) in small_house()) {
        let mut f = Fixture::new(20);
        let breakers: Vec<_> = (1..=n).map(|s| f.breaker(&s.to_string(), 20.0, "")).collect();
        let room = f.room("Hall");
        let points: Vec<_> = (0..m).map(|i| f.point(&format!("H{i}"), room, PointKind::Receptacle)).collect();
        for (point, off, seen, way) in &looks {
            let off: Vec<_> = (0..n).filter(|b| off >> b & 1 == 1).map(|b| breakers[b]).collect();
            f.see_by(points[*point], &off, *seen, *way);
        }
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
            // Candidates under 0.0005 are not listed.
            prop_assert!((listed + b.none - 1.0).abs() < 0.0005 * n as f64 + 1e-9, "{b:?}");
            prop_assert!(b.candidates.windows(2).all(|w| w[0].p >= w[1].p));
            prop_assert_eq!(b.reasons.len(), f.house.evidence.iter().filter(|e| e.point == b.point).count());
        }
    }
}
