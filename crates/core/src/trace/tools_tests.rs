//! Other tools than a look, what must stay on, and the end of a run.

use jiff::Timestamp;
use jiff::ToSpan;

use super::tests::{answer_honestly, feeder_in, ten_breakers, trace_through};
use super::*;
use crate::base::units::NominalVolts;
use crate::fixture::Fixture;
use crate::house::Seen::{Dead, Live};
use crate::house::*;
use crate::practice::{Costs, Manner as Played, Setting, World, play};

fn until(breaker: BreakerId, until: Timestamp) -> KeptUntil {
    KeptUntil { breaker, until }
}

fn crew() -> Crew {
    Crew::default()
}

/// Two receptacles at 120 V and one at 240 V, with all breakers kept on but the last.
fn nothing_may_be_switched() -> (Fixture, Crew) {
    let mut f = Fixture::new(20);
    let all: Vec<_> = ["1", "3", "5", "7", "9-11"].iter().map(|at| f.breaker(at, 20.0, "")).collect();
    let room = f.room("Shop");
    f.point("S1", room, PointKind::Receptacle);
    f.point("S2", room, PointKind::Light);
    f.point_at("S3", room, PointKind::Receptacle, Some(NominalVolts::V240));
    (f, Crew { keep_on: all.into_iter().collect(), ..crew() })
}

#[test]
fn a_tool_is_advised_only_where_it_is_at_hand() {
    let (f, kept) = nothing_may_be_switched();
    let action = |crew: &Crew| advise(&f.house, crew).unwrap().action;
    assert!(!matches!(action(&kept), Action::Receiver | Action::Load | Action::Listen));
    assert_eq!(action(&Crew { transmitter: true, ..kept.clone() }), Action::Receiver);
    assert_eq!(action(&Crew { clamp: true, ..kept.clone() }), Action::Load);
    assert_eq!(action(&Crew { monitor: true, ..kept }), Action::Load);
}

// handbook 2.1.2, and a plug-in load of 120 V is destroyed by 240 V as well.
#[test]
fn a_load_is_plugged_into_120_volt_receptacles_only_and_nothing_is_cut_for_it() {
    let (f, kept) = nothing_may_be_switched();
    for tools in [Crew { clamp: true, ..kept.clone() }, Crew { monitor: true, ..kept }] {
        let advice = advise(&f.house, &tools).unwrap();
        assert_eq!(advice.visit, ["S1"]);
        assert!(advice.off.is_empty());
        // Whatever may feed it, and never the two-pole breaker first.
        assert_eq!(advice.suspects.len(), 5);
        assert_eq!(advice.suspects[4].at, "9-11");
    }
}

#[test]
fn wires_are_clamped_in_the_order_of_what_is_believed() {
    let (mut f, kept) = nothing_may_be_switched();
    let third = f.house.breakers.iter().map(|b| b.id).nth(2).unwrap();
    let s1 = f.house.points.iter().find(|p| p.tag == "S1").unwrap().id;
    f.see_by(s1, &[third], Dead, Way::Word);
    let advice = advise(&f.house, &Crew { clamp: true, ..kept }).unwrap();
    assert_eq!(advice.suspects[0].breaker, third);
    // Never the two-pole breaker for a 120 V receptacle first.
    assert_ne!(advice.suspects[1].at, "9-11");
}

// The rise names the circuit, a switch-off still has to prove it (handbook 2.1: proof is a switch-off).
#[test]
fn a_rise_makes_likely_and_a_switch_off_proves() {
    let (mut f, truth) = ten_breakers();
    let monitor = Crew { monitor: true, pace: Pace::Gentle, ..crew() };
    let first = advise(&f.house, &monitor).unwrap();
    assert_eq!(first.action, Action::Load, "with outages minded, a load tells without one");
    answer_honestly(&mut f, &truth, &first);
    let after = beliefs(&f.house);
    for b in after.points.iter().filter(|b| first.points.contains(&b.point)) {
        assert!(b.candidates[0].at.breaker == feeder_in(&truth, b.point) && b.candidates[0].p > 0.9, "{}", b.tag);
        assert!(!b.proven && b.missing.contains(&Missing::SeenDead));
    }
    trace_through(&mut f, &truth, &monitor);
    assert!(beliefs(&f.house).points.iter().all(|b| b.proven));
}

#[test]
fn every_set_of_tools_ends_with_everything_proven_right() {
    let tools = [
        Crew { radio: true, ..crew() },
        Crew { radio: true, transmitter: true, ..crew() },
        Crew { clamp: true, people: 2, ..crew() },
        Crew { monitor: true, people: 2, pace: Pace::Gentle, ..crew() },
        Crew { walking: 4, ..crew() },
        Crew { testers: 6, people: 2, ..crew() },
    ];
    for crew in tools {
        let (mut f, truth) = ten_breakers();
        trace_through(&mut f, &truth, &crew);
        for b in beliefs(&f.house).points {
            assert!(b.proven && b.candidates[0].at.breaker == feeder_in(&truth, b.point), "{crew:?}: {}", b.tag);
        }
    }
}

// handbook 2.1: a radio at full volume can be heard at the panel: a person alone needs no walk for that point.
#[test]
fn alone_the_radio_is_heard_from_the_panel_without_a_walk() {
    let (mut f, truth) = ten_breakers();
    let alone = Crew { radio: true, ..crew() };
    let (point, _) = truth[1];
    f.see_by(point, &[], Live, Way::Radio);
    let mut heard = 0;
    for _ in 0..40 {
        let advice = advise(&f.house, &alone).unwrap();
        if advice.action != Action::Listen {
            break;
        }
        assert_eq!(advice.points, [point]);
        assert!(advice.seconds.0 < 3.0 + 3.0 * 10.0, "handles and ears, no walk: {:?}", advice.seconds);
        answer_honestly(&mut f, &truth, &advice);
        heard += 1;
    }
    assert!(heard >= 2, "heard {heard} times");
    // With somebody in the rooms there is no need of it.
    f.see_by(truth[2].0, &[], Live, Way::Radio);
    let two = Crew { people: 2, ..alone };
    assert_ne!(advise(&f.house, &two).unwrap().action, Action::Listen);
}

/// Begins a step and answers one of its points.
fn step(f: &mut Fixture, off: &[BreakerId], visit: &[PointId]) {
    f.house.step = Some(Step { id: StepId(7), off: off.iter().copied().collect(), visit: visit.to_vec() });
}

#[test]
fn a_tour_leaves_the_radio_once_where_most_is_open() {
    let (mut f, truth) = ten_breakers();
    let alone = Crew { radio: true, ..crew() };
    // In the first room a light and three receptacles.
    let visit: Vec<_> = truth[..4].iter().map(|(p, _)| *p).collect();
    step(&mut f, &[truth[0].1], &visit);
    let mut told = Vec::new();
    for _ in 0..4 {
        let Some(at) = guide(&f.house, &alone).unwrap().filter(|g| g.next.is_some()) else { break };
        let next = at.next.unwrap();
        told.push((next, at.with));
        let how = if at.with == With::LeaveRadio { Way::Radio } else { Way::Tester };
        let id = f.see_by(next, &[truth[0].1], if feeder_in(&truth, next) == truth[0].1 { Dead } else { Live }, how);
        let stepped = Evidence { step: Some(StepId(7)), ..f.house.evidence.get(id).unwrap().clone() };
        f.house.evidence.put(stepped);
    }
    let radio: Vec<_> = told.iter().filter(|(_, with)| *with == With::LeaveRadio).collect();
    assert_eq!(radio.len(), 1, "{told:?}");
    assert_eq!(f.house.points.get(radio[0].0).unwrap().kind, PointKind::Receptacle);
    // Without a radio, and for two, nothing of the kind.
    for crew in [crew(), Crew { people: 2, radio: true, ..crew() }] {
        let (mut f, truth) = ten_breakers();
        step(&mut f, &[truth[0].1], &[truth[1].0]);
        assert_eq!(guide(&f.house, &crew).unwrap().unwrap().with, With::Any);
    }
}

#[test]
fn what_is_heard_at_the_panel_is_not_worth_a_walk_to_a_switch() {
    let asked = |how: Way| {
        let mut f = Fixture::new(20);
        let all: Vec<_> = (1..=6).map(|s| f.breaker(&s.to_string(), 20.0, "")).collect();
        let room = f.room("Den");
        let point = f.point("D1", room, PointKind::Receptacle);
        for off in [&all[..1], &all[1..2], &all[2..3]] {
            f.see_by(point, off, Dead, how);
        }
        let last = f.house.evidence.iter().last().unwrap().clone();
        f.house.evidence.put(Evidence { step: Some(StepId(7)), ..last });
        step(&mut f, &all[2..3], &[point]);
        guide(&f.house, &Crew { radio: true, ..crew() }).unwrap().unwrap().ask.map(|a| a.check)
    };
    assert_eq!(asked(Way::Tester), Some(QuickCheck::Switch), "dead with three different handles: held off otherwise?");
    assert_ne!(asked(Way::Radio), Some(QuickCheck::Switch));
}

#[test]
fn the_radio_stays_where_no_tour_comes_by() {
    let (mut f, truth) = ten_breakers();
    let alone = Crew { radio: true, ..crew() };
    // It plays in the last room; the tour goes through the first.
    f.see_by(truth[17].0, &[], Live, Way::Radio);
    step(&mut f, &[truth[0].1], &[truth[1].0, truth[2].0]);
    assert_eq!(guide(&f.house, &alone).unwrap().unwrap().with, With::Any);
    step(&mut f, &[truth[0].1], &[truth[1].0, truth[18].0]);
    assert!(guide(&f.house, &alone).unwrap().unwrap().left.len() == 2);
}

#[test]
fn lamps_stay_where_most_is_open_and_go_along_when_that_is_settled() {
    let (mut f, truth) = ten_breakers();
    let lamps = Crew { testers: 3, ..crew() };
    // A tour of the whole house.
    let visit: Vec<_> = truth.iter().map(|(p, _)| *p).collect();
    let off = [truth[1].1];
    let look = |f: &mut Fixture, with: With, point: PointId, off: &[BreakerId]| {
        let seen = if off.contains(&feeder_in(&truth, point)) { Dead } else { Live };
        let id = f.see_by(point, off, seen, if with == With::Any { Way::Tester } else { Way::Lamp });
        let stepped = Evidence { step: Some(StepId(7)), ..f.house.evidence.get(id).unwrap().clone() };
        f.house.evidence.put(stepped);
    };
    let mut told = Vec::new();
    step(&mut f, &off, &visit);
    while let Some(at) = guide(&f.house, &lamps).unwrap().filter(|g| g.next.is_some()) {
        told.push((at.next.unwrap(), at.with));
        look(&mut f, at.with, at.next.unwrap(), &off);
    }
    let stay: Vec<PointId> = told.iter().filter(|(_, with)| *with == With::LeaveLamp).map(|(p, _)| *p).collect();
    assert_eq!(stay.len(), 2, "one of three lamps stays in the hand: {told:?}");
    // On the next tour they are seen from the door, and one that is settled goes along.
    let feeder = feeder_in(&truth, stay[0]);
    f.house.step = Some(Step { id: StepId(7), off: [feeder].into(), visit: vec![stay[0], stay[1]] });
    f.house.evidence.iter().map(|e| e.id).collect::<Vec<_>>().into_iter().for_each(|id| {
        let old = f.house.evidence.get(id).unwrap().clone();
        f.house.evidence.put(Evidence { step: Some(StepId(6)), ..old });
    });
    let first = guide(&f.house, &lamps).unwrap().unwrap();
    assert_eq!((first.with, first.take), (With::SeeLamp, vec![]));
    for _ in 0..3 {
        look(&mut f, With::SeeLamp, stay[0], &[feeder]);
        look(&mut f, With::SeeLamp, stay[0], &[]);
    }
    assert_eq!(guide(&f.house, &lamps).unwrap().unwrap().take, [stay[0]]);
    // With one tester, and for two people, nothing stays.
    for crew in [crew(), Crew { people: 2, testers: 3, ..crew() }] {
        let (mut f, truth) = ten_breakers();
        step(&mut f, &[truth[0].1], &[truth[1].0, truth[2].0]);
        assert_eq!(guide(&f.house, &crew).unwrap().unwrap().with, With::Any);
    }
}

#[test]
fn lamps_left_standing_save_minutes_alone() {
    let mean = |testers: u8| {
        let crew = Crew { testers, pace: Pace::Fast, ..crew() };
        let minutes =
            |s| play(&World::new(Setting::usual(20), s), s, Played::Adaptive, &crew, Costs::default()).minutes;
        (0..12).map(minutes).sum::<f64>() / 12.0
    };
    let (one, twelve) = (mean(1), mean(12));
    assert!(twelve < 0.95 * one, "{twelve:.1} against {one:.1} min");
}

#[test]
fn who_minds_walking_walks_less_and_looks_more() {
    let setting = Setting::usual(20);
    let mean = |walking: u8, of: fn(&crate::practice::Score) -> f64| {
        let crew = Crew { walking, pace: Pace::Fast, ..crew() };
        let played = (0..40).map(|s| of(&play(&World::new(setting, s), s, Played::Adaptive, &crew, Costs::default())));
        played.sum::<f64>() / 40.0
    };
    let (usual, minded) = (mean(1, |o| o.walking), mean(4, |o| o.walking));
    assert!(minded < usual, "{minded:.2} of {usual:.2} min walked");
}

#[test]
fn a_crew_out_of_range_names_its_field() {
    let (f, _) = ten_breakers();
    let field = |crew: Crew| advise(&f.house, &crew).unwrap_err().field;
    assert_eq!(field(Crew { walking: 0, ..crew() }), "walking");
    assert_eq!(field(Crew { walking: 5, ..crew() }), "walking");
    let never_kept = f.house.breakers.iter().next().unwrap().id;
    assert_eq!(field(Crew { keep_until: vec![until(never_kept, Timestamp::UNIX_EPOCH)], ..crew() }), "keep_until");
}

#[test]
fn what_had_to_stay_on_until_a_time_may_be_switched_from_then_on() {
    let now: Timestamp = "2026-05-04T12:00:00Z".parse().unwrap();
    let [oven, freezer, pump] = [1, 2, 3].map(BreakerId);
    let kept = Crew {
        keep_on: [oven, freezer, pump].into(),
        keep_until: vec![until(oven, now + 1.hour()), until(pump, now)],
        ..crew()
    };
    let at = |time| kept.clone().at(time).keep_on.into_iter().collect::<Vec<_>>();
    assert_eq!(at(now - 1.hour()), [oven, freezer, pump]);
    assert_eq!(at(now), [oven, freezer], "from that very time on");
    assert_eq!(at(now + 2.hours()), [freezer], "without a time: for good");
}

// ---- the end: every breaker's list

fn run() -> Run {
    let begun = Timestamp::UNIX_EPOCH;
    Run { id: RunId(1), begun, ended: None, crew: crew(), steps: 0, outages: 0, searched: [].into(), round: None }
}

#[test]
fn when_all_points_are_proven_what_feeds_nothing_is_searched() {
    let (mut f, truth) = ten_breakers();
    f.breaker("11", 15.0, "spare");
    f.breaker("12", 15.0, "");
    let used = |b: &BreakerId| truth.iter().any(|(_, at)| at == b);
    let idle: Vec<_> = f.house.breakers.iter().map(|b| b.id).filter(|b| !used(b)).collect();
    let feeder = f.breaker("13-15", 60.0, "");
    f.sub_panel("Annex", feeder);
    assert!(advise(&f.house, &crew()).unwrap().search.is_empty(), "not before everything is proven");
    trace_through(&mut f, &truth, &crew());
    let done = advise(&f.house, &crew()).unwrap();
    let searched = |advice: &Advice| advice.search.iter().map(|b| b.breaker).collect::<Vec<_>>();
    // The feeder's panel is what it feeds; a breaker called spare is looked at all the same.
    assert_eq!((done.action, searched(&done)), (Action::Done, idle.clone()));
    let kept = Crew { keep_on: [idle[0]].into(), ..crew() };
    assert_eq!(searched(&advise(&f.house, &kept).unwrap()), idle[1..]);

    let complete = |f: &Fixture| beliefs(&f.house).progress.complete;
    assert_eq!(complete(&f), 12 - idle.len());
    f.house.runs.put(Run { searched: idle.iter().copied().collect(), ..run() });
    assert!(advise(&f.house, &crew()).unwrap().search.is_empty());
    assert_eq!(complete(&f), 12);
    let told = report(&f.house, &beliefs(&f.house), f.house.runs.iter().next().unwrap());
    assert_eq!(told.feeds_nothing.iter().map(|b| b.breaker).collect::<Vec<_>>(), idle);
    assert_eq!(told.to_search.iter().map(|b| b.breaker).collect::<Vec<_>>(), [feeder]);
}

#[test]
fn a_list_with_an_open_point_is_not_complete() {
    let (mut f, truth) = ten_breakers();
    trace_through(&mut f, &truth, &crew());
    // Two of the ten feed nothing.
    let before = beliefs(&f.house).progress;
    assert_eq!((before.complete, before.breakers), (8, 10));
    let room = f.house.rooms.iter().next().unwrap().id;
    f.point("A9", room, PointKind::Receptacle);
    // The new point may hang on any of them.
    assert_eq!(beliefs(&f.house).progress.complete, 0);
}

#[test]
fn a_search_of_a_breaker_that_is_not_there_is_refused() {
    let (f, _) = ten_breakers();
    let run = Run { searched: [BreakerId(9999)].into(), ..run() };
    let refused = f.house.apply(&crate::Change::PutRun { run }).unwrap_err();
    assert_eq!(refused.field, "run.searched");
}

// Two phones: one begins a step, the other changes the crew on what it saw before, or notes a search. Neither loses.
#[test]
fn what_a_run_counts_survives_a_crew_that_changes_at_the_same_time() {
    let (mut f, truth) = ten_breakers();
    let all: Vec<BreakerId> = truth.iter().map(|(_, breaker)| *breaker).collect();
    f.house.runs.put(run());
    let id = run().id;
    let step = Step { id: StepId(5), off: [all[0]].into(), visit: Vec::new() };
    let two = Crew { people: 2, ..crew() };
    for change in [
        crate::Change::BeginStep { step },
        crate::Change::SetCrew { run: id, crew: two.clone() },
        crate::Change::Searched { run: id, breakers: vec![all[0]] },
        crate::Change::Searched { run: id, breakers: vec![all[1]] },
        crate::Change::EndRun { run: id, time: Timestamp::UNIX_EPOCH },
        crate::Change::EndRun { run: id, time: Timestamp::MAX },
    ] {
        f.house = f.house.apply(&change).unwrap().house;
    }
    let told = f.house.runs.get(id).unwrap();
    assert_eq!((told.steps, told.outages, &told.crew), (run().steps + 1, run().outages + 1, &two));
    assert_eq!(told.searched, [all[0], all[1]].into());
    assert_eq!(told.ended, Some(Timestamp::UNIX_EPOCH), "it had ended already");
    let missing = f.house.apply(&crate::Change::SetCrew { run: RunId(77), crew: two }).unwrap_err();
    assert_eq!(missing.field, "run");
}

#[test]
fn a_breaker_taken_out_leaves_the_run_that_kept_or_searched_it() {
    let (mut f, _) = ten_breakers();
    let idle = f.breaker("11", 15.0, "");
    let kept = Crew { keep_on: [idle].into(), keep_until: vec![until(idle, Timestamp::UNIX_EPOCH)], ..crew() };
    f.house.runs.put(Run { crew: kept, searched: [idle].into(), ..run() });
    let after = f.house.apply(&crate::Change::RemoveBreaker { breaker: idle }).unwrap().house;
    after.check().unwrap();
    let run = after.runs.iter().next().unwrap();
    assert!(run.searched.is_empty() && run.crew.keep_on.is_empty() && run.crew.keep_until.is_empty());
}
