//! In which order jobs that are begun are done: one shutdown, one permit and one trip to the shop, where they fit in one.

use std::collections::BTreeSet;

use serde::Serialize;
use utoipa::ToSchema;

use super::kinds::several;
use super::plan::{Basis, Plan};
use super::{MOST_JOBS, places, together, tools, work};
use crate::edit::catalog;
use crate::house::{Goal, House, Job, JobId, MakeRoom, NewCircuit, Part};

/// What is begun and not done, in order.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
pub struct JobOrder {
    /// One after the other.
    pub turns: Vec<JobTurn>,
    /// What is to be at hand for all that is not opened yet,
    pub parts: Vec<Part>,
    /// and with which tools.
    pub tools: Vec<String>,
}

/// A shutdown, or a job by itself.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
pub struct JobTurn {
    /// Its jobs: several, where they go into one shutdown.
    pub jobs: Vec<JobId>,
    /// What they come to, in a few words.
    pub title: String,
    /// The panel where the work is.
    pub panel: String,
    /// Why it is its turn, and what doing it so spares.
    pub said: String,
    /// About how many minutes it takes whoever does such work often.
    pub minutes: u32,
    /// What to plan and to begin in place of these jobs; nothing where they go on as they are.
    pub goal: Option<Goal>,
}

/// All jobs that are begun, in order: what is open goes first, then what was not opened yet, a panel at a time, and last what is done
/// in a box with the panel closed.
#[must_use]
pub fn order(basis: &Basis<'_>) -> JobOrder {
    let house = basis.house;
    let under_way = |job: &&Job| job.ended.is_none() || job.left_open;
    let (open, waiting): (Vec<&Job>, Vec<&Job>) = house.jobs.iter().filter(under_way).partition(|job| job.is_opened());
    let mut turns: Vec<JobTurn> =
        open.into_iter().map(|job| JobTurn { said: opened(job), ..alone(house, job) }).collect();
    let (boxed, mut at_panels): (Vec<&Job>, Vec<&Job>) = waiting.iter().partition(|job| job.is_in_a_box());
    at_panels.sort_by_key(|job| job.goal.each().iter().map(several::rank).min());
    let mut to_buy: Vec<(Vec<Part>, Vec<String>)> = Vec::new();
    while let Some(first) = at_panels.first().copied() {
        let (jobs, turn, plan) = shutdown(basis, first, &at_panels);
        at_panels.retain(|job| !jobs.contains(&job.id));
        turns.push(turn);
        to_buy.push(plan.map_or_else(|| (first.parts.clone(), first.tools.clone()), |plan| (plan.parts, plan.tools)));
    }
    turns
        .extend(boxed.iter().map(|job| JobTurn { said: "The panel stays closed for it.".into(), ..alone(house, job) }));
    to_buy.extend(boxed.iter().map(|job| (job.parts.clone(), job.tools.clone())));
    let mut all = JobOrder { turns, parts: Vec::new(), tools: Vec::new() };
    for (parts, with) in to_buy {
        parts.into_iter().for_each(|part| part.add_to(&mut all.parts));
        all.tools = tools(all.tools.iter().chain(&with).map(String::as_str));
    }
    all
}

fn opened(job: &Job) -> String {
    match (job.left_open, &job.stopped) {
        (true, _) => "It was given up and is not safe yet: that first.".to_owned(),
        (false, Some(_)) => {
            "It was stopped with something open: it is ended before anything else is opened.".to_owned()
        }
        (false, None) => "It is open: it is ended before anything else is opened.".to_owned(),
    }
}

fn alone(house: &House, job: &Job) -> JobTurn {
    let left = job.steps.iter().filter(|step| !job.has_passed(&step.key));
    JobTurn {
        jobs: vec![job.id],
        title: job.title.clone(),
        panel: house.panels.get(job.panel).map_or_else(String::new, |panel| panel.name.clone()),
        said: String::new(),
        minutes: left.map(super::sheet::minutes).sum(),
        goal: None,
    }
}

/// The shutdown of a job, with as many others of its panel as go into it.
fn shutdown(basis: &Basis<'_>, first: &Job, all: &[&Job]) -> (BTreeSet<JobId>, JobTurn, Option<Plan>) {
    let mates: Vec<&Job> = all.iter().copied().filter(|job| job.panel == first.panel).collect();
    let planned = |jobs: &[&Job]| -> Option<Plan> { as_one(basis, jobs).filter(Plan::is_open) };
    let mut chosen = vec![first];
    let mut plan = None;
    // All of them at once, mostly.
    if let Some(whole) = planned(&mates).filter(|_| mates.len() > 1) {
        (chosen, plan) = (mates, Some(whole));
    } else {
        for mate in mates.into_iter().filter(|job| job.id != first.id) {
            let with: Vec<&Job> = chosen.iter().copied().chain([mate]).collect();
            if let Some(more) = planned(&with) {
                (chosen, plan) = (with, Some(more));
            }
        }
    }
    let turn = alone(basis.house, first);
    let jobs: BTreeSet<JobId> = chosen.iter().map(|job| job.id).collect();
    if let Some(plan) = plan {
        let (title, said) = (plan.title.clone(), plan.spared.clone());
        let turn = JobTurn {
            jobs: chosen.iter().map(|job| job.id).collect(),
            title,
            said,
            minutes: plan.minutes,
            goal: Some(plan.goal.clone()),
            ..turn
        };
        return (jobs, turn, Some(plan));
    }
    let Some(conflict) = work::conflict(basis.house, first) else { return (jobs, turn, None) };
    // What stands in its way by now may leave another way.
    let anew = as_one(basis, &[first]);
    let why = anew.as_ref().and_then(|plan| Some(plan.refused.first()?.why.clone()));
    let goal = anew.as_ref().filter(|plan| plan.is_open()).map(|plan| plan.goal.clone());
    let said = match (&goal, why) {
        (Some(_), _) => format!("Since it was planned {conflict}: it is planned anew."),
        (None, Some(why)) => format!("Since it was planned {conflict}. Planned anew it is refused: {why}."),
        (None, None) => format!("Since it was planned {conflict}: give it up, and plan it again."),
    };
    (jobs, JobTurn { said, goal, ..turn }, anew)
}

/// The plan of jobs as one: with what was chosen for each, or, where that does not go together, with the choices found anew.
fn as_one(basis: &Basis<'_>, jobs: &[&Job]) -> Option<Plan> {
    let mut goals: Vec<Goal> = jobs.iter().flat_map(|job| job.goal.each().to_vec()).collect();
    if goals.len() > MOST_JOBS {
        return None;
    }
    retag(basis.house, &mut goals);
    let chosen = super::plan(basis, &together(goals.clone())?).ok();
    if chosen.as_ref().is_some_and(Plan::is_open) {
        return chosen;
    }
    goals.iter_mut().for_each(find_anew);
    super::plan(basis, &together(goals)?).ok().or(chosen)
}

/// Of places that were planned apart no two get the same tag.
fn retag(house: &House, goals: &mut [Goal]) {
    let mut house = house.clone();
    for goal in goals {
        if let Goal::Add(new) | Goal::Dedicated(new) = goal {
            let taken = house.points.iter().any(|point| point.tag == new.point.tag);
            let room = house.rooms.get(new.point.room).filter(|_| taken);
            if let Some(room) = room {
                new.point.tag = catalog::next_tag(&house, room);
            }
        }
        places(&mut house, goal);
    }
}

/// Places and moves are chosen again; what is to be left as it is stays so.
fn find_anew(goal: &mut Goal) {
    let circuit = |new: &mut NewCircuit| {
        new.at.clear();
        new.room = new.room.only_left();
    };
    match goal {
        Goal::Add(new) | Goal::Dedicated(new) => circuit(new),
        Goal::SubPanel(new) => {
            new.at.clear();
            new.room = new.room.only_left();
        }
        Goal::Surge(new) => {
            new.at.clear();
            new.room = new.room.only_left();
        }
        Goal::Relieve(relief) => {
            relief.at.clear();
            relief.room = relief.room.only_left();
        }
        Goal::Rearrange { room, .. } => *room = MakeRoom::default(),
        Goal::Convert { at, moves, .. } => {
            at.clear();
            moves.clear();
        }
        Goal::Makeup { moves, .. } => moves.clear(),
        Goal::Several { goals, .. } => goals.iter_mut().for_each(find_anew),
        // An interlock's place is the kit's.
        Goal::Generator { moves, .. } | Goal::Interlock { moves, .. } => moves.clear(),
        Goal::Replace { .. }
        | Goal::Swap { .. }
        | Goal::Combine(_)
        | Goal::Tandem(_)
        | Goal::Quad(_)
        | Goal::Device(_)
        | Goal::Splice { .. }
        | Goal::Protect { .. }
        | Goal::Retire { .. } => {}
    }
}
