//! In which order jobs that are begun are done.

use super::*;
use crate::job::order::{JobOrder, order};

fn ordered(house: &House) -> JobOrder {
    let beliefs = trace::beliefs(house);
    let draws = draws(house, &beliefs);
    let loaded = Loaded::new(house, &beliefs, &draws);
    order(&Basis::new(house, &beliefs, &loaded))
}

fn begin(house: &House, id: u64, goal: &Goal, instead: &[u64]) -> Result<House, Invalid> {
    let instead = instead.iter().copied().map(JobId).collect();
    let begin =
        Change::BeginJob { job: JobId(id), goal: Box::new(goal.clone()), instead, who: "Wren".into(), time: time(0) };
    house.apply(&begin).map(|applied| applied.house)
}

fn lamp_outlet(s: &Site, nth: u64) -> Goal {
    let new = s.new_circuit(NominalVolts::V120);
    let point = Point { id: PointId(9300 + nth), tag: "W9".into(), ..new.point };
    Goal::Add(NewCircuit { point, load: None, breaker: BreakerId(9300 + nth), circuit: CircuitId(9300 + nth), ..new })
}

fn jobs(turn: &crate::job::order::JobTurn) -> Vec<u64> {
    turn.jobs.iter().map(|job| job.0).collect()
}

// Two circuits that were planned apart chose the same space and the same tag, since neither knew of the other. Together each has
// its own; they take the place of the two, and come to their end.
#[test]
fn jobs_of_one_panel_that_were_begun_apart_go_into_one_shutdown() {
    let mut s = Site::new(8);
    for at in ["1", "2", "3", "4"] {
        s.breaker(at, 20.0);
    }
    s.entered();
    let planned: Vec<Goal> = [1, 2].map(|nth| s.plan(&lamp_outlet(&s, nth)).goal).to_vec();
    let places = |goals: &[Goal]| -> BTreeSet<(String, Vec<Position>)> {
        goals.iter().flat_map(Goal::new_circuits).map(|new| (new.point.tag.clone(), new.at.clone())).collect()
    };
    assert_eq!(places(&planned).len(), 1, "both want the same");
    let house = begin(&begin(&s.f.house, 2, &planned[0], &[]).unwrap(), 3, &planned[1], &[]).unwrap();
    let told = ordered(&house);
    let [turn] = told.turns.as_slice() else { panic!("{:?}", told.turns) };
    assert_eq!(jobs(turn), [2, 3]);
    assert!(turn.said.starts_with("One shutdown, one permit and one trip to the shop instead of 2"), "{}", turn.said);
    let goal = turn.goal.clone().unwrap();
    assert_eq!(places(goal.each()).len(), 2, "each has its own place and tag");
    let bodies = |parts: &[Part]| parts.iter().filter(|p| p.what.contains("breaker")).map(|p| p.count).sum::<u32>();
    assert_eq!(bodies(&told.parts), 2, "{:?}", told.parts);
    // Begun in their place, nothing of the two is left, and the house gets both.
    let one = begin(&house, 1, &goal, &[2, 3]).unwrap();
    assert_eq!(one.jobs.iter().filter(|job| job.ended.is_none()).count(), 1);
    assert!(one.jobs.iter().all(|job| !job.left_open));
    assert_eq!(jobs(&ordered(&one).turns[0]), [1]);
    let made = to_the_end(one);
    assert_eq!(made.breakers.len(), 6);
    assert_eq!(ordered(&made), JobOrder { turns: Vec::new(), parts: Vec::new(), tools: Vec::new() });
}

// Handbook 5.1: what is open is ended before anything else is opened, and nothing takes its place.
#[test]
fn what_is_open_goes_first_and_what_stays_closed_last() {
    let mut s = Site::new(8);
    let [one, two, three] = ["1", "2", "3"].map(|at| s.breaker(at, 20.0));
    s.entered();
    let box_of = s.outlet("W1", three);
    let mut house = begin(&s.f.house, 1, &replace(two), &[]).unwrap();
    while !job(&house).is_opened() {
        assert_eq!(jobs(&ordered(&house).turns[0]), [1]);
        house = one_right(&house);
    }
    // Begun before it was open, as another phone may have.
    let elsewhere = begin(&begin(&s.f.house, 2, &Goal::Splice { point: box_of }, &[]).unwrap(), 3, &replace(one), &[]);
    elsewhere.unwrap().jobs.iter().for_each(|job| house.jobs.put(job.clone()));
    let told = ordered(&house);
    let order: Vec<Vec<u64>> = told.turns.iter().map(jobs).collect();
    assert_eq!(order, [[1], [3], [2]]);
    assert!(told.turns[0].said.contains("ended before anything else is opened") && told.turns[0].goal.is_none());
    assert_eq!(begin(&house, 4, &replace(two), &[1]).unwrap_err().field, "instead");
    let left = act(&house, JobAct::GiveUp).unwrap();
    assert!(ordered(&left).turns[0].said.contains("not safe yet"));
    assert_eq!(begin(&left, 4, &replace(two), &[1]).unwrap_err().field, "instead", "it has ended");
    assert_eq!(begin(&left, 4, &replace(two), &[99]).unwrap_err().field, "instead");
}

// What was put meanwhile where a new breaker was to go: its place is found anew, or it is said why there is none.
#[test]
fn a_job_whose_place_is_taken_is_planned_anew() {
    let mut s = Site::new(4);
    for at in ["1", "2"] {
        s.breaker(at, 20.0);
    }
    s.entered();
    let goal = s.plan(&lamp_outlet(&s, 1)).goal;
    let at = goal.new_circuits().next().unwrap().at.clone();
    let mut house = begin(&s.f.house, 1, &goal, &[]).unwrap();
    assert_eq!(ordered(&house).turns[0].goal, None, "it goes on as it is");
    let panel = Panel { empty: [].into(), ..house.panels.get(PanelId(1)).unwrap().clone() };
    let other = parse_poles(if at == parse_poles("3").unwrap() { "4" } else { "3" }).unwrap();
    house.panels.put(Panel { empty: [other[0]].into(), ..panel.clone() });
    house.breakers.put(Breaker::new(BreakerId(7777), PanelId(1), at, Amps(20.0)));
    let turn = ordered(&house).turns.remove(0);
    assert!(turn.said.ends_with("it is planned anew."), "{}", turn.said);
    assert_eq!(turn.goal.unwrap().new_circuits().next().unwrap().at, other);
    house.panels.put(panel);
    house.breakers.put(Breaker::new(BreakerId(7778), PanelId(1), other, Amps(20.0)));
    let turn = ordered(&house).turns.remove(0);
    assert!(turn.goal.is_none() && turn.said.contains("Planned anew it is refused"), "{}", turn.said);
}

#[test]
fn what_is_to_be_measured_first_is_not_counted_with_what_is() {
    let cable = |count| Part { count, unit: "ft".into(), what: "cable 12-2 with ground".into(), note: String::new() };
    let mut parts = Vec::new();
    [40, 0, 20, 0].into_iter().for_each(|count| cable(count).add_to(&mut parts));
    assert_eq!(parts, [cable(60), cable(0)]);
}
