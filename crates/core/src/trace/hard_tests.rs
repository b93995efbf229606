//! The largest panels, and what must hold whatever is seen.

use proptest::prelude::*;

use super::tests::{answer_honestly, feeder_in, ten_breakers};
use super::*;
use crate::base::position::Supply;
use crate::base::units::{Amps, NominalVolts};
use crate::fixture::Fixture;
use crate::house::Seen::{Dead, Live};
use crate::house::*;

/// A three-phase panel of 42 spaces with half-size breakers and a panel behind it; 200 points in 20 rooms, their feeders
/// strewn by a fixed rule that no prior of the engine knows.
fn hard_house() -> (Fixture, Vec<(PointId, BreakerId)>) {
    let mut f = Fixture::new(42);
    let three_phase = Panel { supply: Supply::WyeThreePhase, tandem: TandemSpaces::All, ..f.panel().clone() };
    f.house.panels.put(three_phase);
    let large = ["1-3-5", "2-4-6", "7-9", "8-10"].map(|at| f.breaker(at, 40.0, ""));
    let annex_feeder = f.breaker("11-13", 60.0, "");
    let mut singles: Vec<BreakerId> =
        (14..=34).filter(|s| *s != 15).map(|s| f.breaker(&s.to_string(), 20.0, "")).collect();
    for space in 35..=42 {
        singles.extend(["a", "b"].map(|half| f.breaker(&format!("{space}{half}"), 15.0, "")));
    }
    let annex = f.sub_panel("Annex", annex_feeder);
    singles.extend(["1", "2", "3", "4"].map(|at| f.breaker_in(annex, at, 20.0, "")));
    let rooms: Vec<RoomId> = (0..20).map(|r| f.room(&format!("Room {r}"))).collect();
    let mut truth = Vec::new();
    for i in 0..200_usize {
        let room = rooms[i % 20];
        let tag = format!("P{i}");
        if i < 8 {
            let point = f.point_at(&tag, room, PointKind::Appliance, Some(NominalVolts::V208));
            truth.push((point, large[i % 4]));
        } else {
            let kind = if i % 3 == 0 { PointKind::Light } else { PointKind::Receptacle };
            // Neighbouring rooms share circuits; every seventh point strays.
            let home = (i % 20 * 2 + usize::from(kind == PointKind::Light)) % singles.len();
            let at = if i % 7 == 0 { (i * 11) % singles.len() } else { home };
            truth.push((f.point(&tag, room, kind), singles[at]));
        }
    }
    f.house.check().unwrap();
    (f, truth)
}

/// Follows the advice to the end; how many steps that took.
fn trace(f: &mut Fixture, truth: &[(PointId, BreakerId)], crew: &Crew, most: usize) -> usize {
    for step in 0..most {
        let advice = advise(&f.house, crew).unwrap();
        if advice.action == Action::Done {
            return step;
        }
        let cut: Vec<BreakerId> = advice.off.iter().map(|b| b.breaker).collect();
        assert!(cut.iter().all(|b| !crew.keep_on.contains(b)), "{step}: what must stay on is cut");
        let mut honest = truth.to_vec();
        // What hangs in the annex dies with its feeder as well.
        let feeder_off = |b: &BreakerId| {
            let panel = f.house.breakers.get(*b).unwrap().panel;
            let fed_by = f.house.panels.get(panel).unwrap().fed_by;
            fed_by.filter(|feeder| cut.contains(feeder))
        };
        honest.iter_mut().for_each(|(_, b)| *b = feeder_off(b).unwrap_or(*b));
        let by_switch = matches!(advice.action, Action::Switch | Action::Listen);
        answer_honestly(f, if by_switch { &honest } else { truth }, &advice);
    }
    panic!("not done after {most} steps");
}

fn all_right(f: &Fixture, truth: &[(PointId, BreakerId)]) {
    for b in beliefs(&f.house).points {
        assert!(b.proven && b.candidates[0].at.breaker == feeder_in(truth, b.point), "{}: {:?}", b.tag, b.candidates);
    }
}

#[test]
fn alone_a_hard_house_is_proven_right_to_the_last_point() {
    let (mut f, truth) = hard_house();
    let walks = trace(&mut f, &truth, &Crew::default(), 60);
    assert!(walks < 40, "{walks} walks");
    all_right(&f, &truth);
}

#[test]
fn with_every_tool_and_a_freezer_a_hard_house_is_proven_but_for_the_freezer() {
    let (mut f, truth) = hard_house();
    let freezer = truth[9].1;
    let tools = Crew { radio: true, monitor: true, transmitter: true, testers: 12, ..Crew::default() };
    let kept = Crew { keep_on: [freezer].into(), ..tools };
    trace(&mut f, &truth, &kept, 200);
    for b in beliefs(&f.house).points {
        let at = feeder_in(&truth, b.point);
        // Never switched off, so never proven; and nothing else takes its place.
        assert_eq!(b.proven, at != freezer, "{}", b.tag);
        assert!(!b.proven || b.candidates[0].at.breaker == at, "{}", b.tag);
    }
}

#[test]
fn a_hard_house_changes_its_way_midway_and_ends_right() {
    let (mut f, truth) = hard_house();
    let ways = [Method::Halving, Method::OneAtATime, Method::Adaptive];
    for (nth, method) in ways.into_iter().enumerate() {
        for _ in 0..3 {
            let advice = advise(&f.house, &Crew { method, ..Crew::default() }).unwrap();
            assert_eq!(advice.action, Action::Switch, "part {nth}");
            let off: Vec<_> = advice.off.iter().map(|b| b.breaker).collect();
            for point in advice.points {
                let at = feeder_in(&truth, point);
                let panel = f.house.breakers.get(at).unwrap().panel;
                let above = f.house.panels.get(panel).unwrap().fed_by;
                let dead = off.contains(&at) || above.is_some_and(|a| off.contains(&a));
                f.see(point, &off, if dead { Dead } else { Live });
            }
        }
    }
    trace(&mut f, &truth, &Crew::default(), 60);
    all_right(&f, &truth);
}

#[test]
fn the_same_house_is_advised_and_believed_the_same() {
    let (mut f, truth) = hard_house();
    for (point, at) in &truth[..40] {
        f.see(*point, &[*at, truth[50].1], Dead);
    }
    for crew in [Crew::default(), Crew { people: 2, radio: true, clamp: true, ..Crew::default() }] {
        assert_eq!(advise(&f.house, &crew).unwrap(), advise(&f.house.clone(), &crew).unwrap());
    }
    assert_eq!(beliefs(&f.house), beliefs(&f.house.clone()));
}

/// Looks by point, the breakers off as bits.
fn honest_looks() -> impl Strategy<Value = Vec<(usize, u16)>> {
    prop::collection::vec((0usize..20, 0u16..1024), 1..60)
}

fn look(f: &mut Fixture, truth: &[(PointId, BreakerId)], (point, off): (usize, u16)) -> EvidenceId {
    let all: Vec<BreakerId> = f.house.breakers.iter().map(|b| b.id).collect();
    let off: Vec<_> = all.iter().enumerate().filter(|(i, _)| off >> i & 1 == 1).map(|(_, b)| *b).collect();
    let (point, at) = truth[point];
    f.see(point, &off, if off.contains(&at) { Dead } else { Live })
}

proptest! {
    #![proptest_config(ProptestConfig::with_cases(48))]

    // However the looks come, honest ones prove nothing that is wrong, and what they proved stays right.
    #[test]
    fn honest_evidence_never_proves_a_wrong_breaker(looks in honest_looks()) {
        let (mut f, truth) = ten_breakers();
        for l in looks {
            look(&mut f, &truth, l);
        }
        for b in beliefs(&f.house).points.iter().filter(|b| b.proven) {
            prop_assert_eq!(b.candidates[0].at.breaker, feeder_in(&truth, b.point), "{}", b.tag);
        }
    }

    // What was seen counts, not in which order it was entered.
    #[test]
    fn the_order_of_looks_does_not_matter(looks in honest_looks()) {
        let (mut forth, truth) = ten_breakers();
        let (mut back, _) = ten_breakers();
        looks.iter().for_each(|l| { look(&mut forth, &truth, *l); });
        looks.iter().rev().for_each(|l| { look(&mut back, &truth, *l); });
        for (a, b) in beliefs(&forth.house).points.iter().zip(&beliefs(&back.house).points) {
            prop_assert_eq!((a.status, &a.tag), (b.status, &b.tag));
            for (x, y) in a.candidates.iter().zip(&b.candidates) {
                prop_assert!((x.p - y.p).abs() < 1e-9, "{}: {} and {}", a.tag, x.p, y.p);
            }
        }
    }

    // A look taken out leaves no trace.
    #[test]
    fn a_look_taken_out_was_never_there(looks in honest_looks(), lie in (0usize..20, 0u16..1024)) {
        let (mut f, truth) = ten_breakers();
        looks.iter().for_each(|l| { look(&mut f, &truth, *l); });
        let before = beliefs(&f.house);
        let id = look(&mut f, &truth, lie);
        let after = f.house.apply(&crate::Change::Retract { evidence: id }).unwrap().house;
        prop_assert_eq!(beliefs(&after).points, before.points);
    }

    // Off, on and none at all: whatever breakers and points there are, beliefs are probabilities and sum to one [def].
    #[test]
    fn with_loads_radios_and_pointing_mixed_beliefs_stay_probabilities(
        looks in honest_looks(), rises in prop::collection::vec((0usize..20, 0usize..10, 0.0f64..20.0), 0..20)
    ) {
        let (mut f, truth) = ten_breakers();
        let all: Vec<BreakerId> = f.house.breakers.iter().map(|b| b.id).collect();
        looks.iter().for_each(|l| { look(&mut f, &truth, *l); });
        for (nth, (point, at, rose)) in rises.into_iter().enumerate() {
            let (at, expected) = (all[at], Amps(12.5));
            f.observe(truth[point].0, match nth % 3 {
                0 => Observation::Pointed { at },
                1 => Observation::Wire { at },
                _ => Observation::Rise { at, expected, rose: Amps(rose) },
            });
        }
        let tracker = Tracker::new(&f.house);
        for p in 0..20 {
            let row = tracker.belief(p);
            prop_assert!(row.iter().all(|x| (0.0..=1.0).contains(x)));
            prop_assert!((row.iter().sum::<f64>() - 1.0).abs() < 1e-9);
        }
    }
}

// Bayes by hand for one reading, with the normal density written out (any table of it; value from memory): ten breakers
// alike, nothing else known, 11.6 A where 12.5 A were expected.
#[test]
fn a_rise_shifts_the_odds_by_the_ratio_of_its_densities() {
    let density = |x: f64, mean: f64, spread: f64| {
        (-(x - mean).powi(2) / (2.0 * spread * spread)).exp() / (spread * (2.0 * std::f64::consts::PI).sqrt())
    };
    let (rose, expected) = (11.6, 12.5);
    // Beside the bell, one reading in thirty-three is something else, anywhere within 40 A.
    let other = 0.03 / 40.0;
    let feeds = 0.97 * density(rose, expected, 0.4 + 0.15 * expected) + other;
    let not = 0.97 * density(rose, 0.0, 0.4) + other;
    let odds = |f: &Fixture, point: PointId, at: BreakerId| {
        let belief = beliefs(&f.house).points.into_iter().find(|b| b.point == point).unwrap();
        let p = |of: &dyn Fn(&Candidate) -> bool| belief.candidates.iter().filter(|c| of(c)).map(|c| c.p).sum::<f64>();
        p(&|c| c.at.breaker == at) / p(&|c| c.at.breaker != at)
    };
    let mut f = Fixture::new(20);
    let all: Vec<_> = (1..=10).map(|s| f.breaker(&s.to_string(), 20.0, "")).collect();
    let room = f.room("Den");
    let point = f.point("D1", room, PointKind::Receptacle);
    let before = odds(&f, point, all[3]);
    f.observe(point, Observation::Rise { at: all[3], expected: Amps(expected), rose: Amps(rose) });
    let after = odds(&f, point, all[3]);
    assert!((before - 1.0 / 9.0).abs() < 1e-9, "ten alike: one to nine");
    assert!((after / before / (feeds / not) - 1.0).abs() < 0.02, "{} against {}", after / before, feeds / not);
}

#[test]
fn a_crew_is_read_as_it_was_written_before_and_nothing_unknown_with_it() {
    let old = r#"{ "people": 2, "testers": 3, "transmitter": true, "keep_on": [4], "pace": "gentle" }"#;
    let crew: Crew = serde_json::from_str(old).unwrap();
    let expected = Crew {
        people: 2,
        testers: 3,
        transmitter: true,
        keep_on: [BreakerId(4)].into(),
        pace: Pace::Gentle,
        ..Crew::default()
    };
    assert_eq!(crew, expected);
    assert_eq!(serde_json::from_str::<Crew>(&serde_json::to_string(&crew).unwrap()).unwrap(), crew);
    let odd = serde_json::from_str::<Crew>(r#"{ "people": 1, "testers": 1, "wand": true }"#).unwrap_err();
    assert!(odd.to_string().contains("wand"), "{odd}");
}

#[test]
fn most_off_at_once_follows_pace_people_and_the_crews_own_limit() {
    let most = |pace, people, max_off, breakers| Crew { pace, people, max_off, ..Crew::default() }.most_off(breakers);
    assert_eq!(most(Pace::Fast, 1, None, 42), 42);
    assert_eq!((most(Pace::Even, 1, None, 42), most(Pace::Even, 2, None, 42)), (10, 5));
    assert_eq!((most(Pace::Gentle, 1, None, 42), most(Pace::Gentle, 2, None, 42)), (3, 3));
    assert_eq!(most(Pace::Gentle, 1, Some(7), 42), 7, "what the crew says goes");
    assert_eq!(most(Pace::Even, 1, None, 8), 3, "a small panel is not traced one by one");
}
