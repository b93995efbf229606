//! Work in a panel, planned as a change of the house and made only through its hold points. (handbook 5)
//!
//! From a goal comes a [`Plan`]: what has to be known first, what stands against it, the ways there are, steps with what each
//! makes true, parts. The goal in the plan has every choice made; begun with it a job ([`crate::house::Job`]) keeps its steps
//! as its protocol ([`work`]), and what they make true becomes so in the house when the last check passes.

pub mod arrange;
mod boxed;
mod cable;
mod checked;
pub mod form;
pub(crate) mod held;
mod kinds;
mod lay;
mod made;
mod mishaps;
mod obstacles;
pub mod order;
pub mod outlet;
pub mod pictured;
mod plan;
mod sheet;
pub mod shopping;
#[cfg(test)]
mod tests;
mod wire;
pub mod work;
mod working;

pub use form::{IDS, Kind, MOST_JOBS};
pub use kinds::combine;
pub use plan::{Basis, CostClass, Mishap, Plan, Question, Refusal, WayTo, WhoMay};
pub use sheet::DEAD;

use crate::base::Invalid;
use crate::code::canada;
use crate::edit::{self, Applied, Edit, in_all};
use crate::house::{Breaker, BreakerId, Country, Goal, House, Job, JobStep, Panel, Stage};
use crate::load::Loaded;
use crate::load::draws::draws;
use crate::trace;
use obstacles::NO_DISCONNECT;
use plan::{Upstream, body_mates, counted_poles, standing};
use sheet::StepSheet;
use working::{HandsIn, Working, at, step};

/// Plans a job: works it out, once, and writes the steps of what nothing stands against.
///
/// # Errors
/// Where the goal names what is not there or cannot be, with its field. What is refused by a rule is part of the plan.
pub fn plan(basis: &Basis<'_>, goal: &Goal) -> Result<Plan, Invalid> {
    with_its_panel(basis, goal, |basis| planned(basis, goal))
}

/// The first panel of a house is entered as it is laid out: all that a job asks of a panel is asked of that one.
fn with_its_panel<T>(basis: &Basis<'_>, goal: &Goal, then: impl FnOnce(&Basis<'_>) -> T) -> T {
    let Some(panel) = goal.first_panel(basis.house) else { return then(basis) };
    let mut house = basis.house.clone();
    house.panels.put(panel);
    let beliefs = trace::beliefs(&house);
    let draws = draws(&house, &beliefs);
    let loaded = Loaded::new(&house, &beliefs, &draws);
    then(&Basis::new(&house, &beliefs, &loaded))
}

fn planned(basis: &Basis<'_>, goal: &Goal) -> Result<Plan, Invalid> {
    let mut w = kinds::work(basis, goal)?;
    let house = basis.house;
    let panel = house.panels.get(w.plan.panel).ok_or_else(|| Invalid::gone("panel", w.plan.panel.0))?;
    // With the panel closed nothing comes out of it.
    let closed = w.panel_closed();
    w.plan.panel_closed = closed;
    let bodies = if closed { Vec::new() } else { body_mates(house, panel.id, &w.plan.touches) };
    w.touch(bodies.iter().copied());
    if !closed && Upstream::of(house, panel) == Upstream::NotKnown {
        w.plan.refuse(
            NO_DISCONNECT,
            format!("{} has no main of its own, and what switches it off is not entered", panel.name),
        );
    }
    w.plan.who_may(basis, w.licensed);
    w.plan.mishaps = mishaps(house, &w.plan.goal);
    let mut plan = open_or_not(w, panel, &bodies);
    if house.about.country == Country::Ca {
        plan.speak_of_canada();
    }
    Ok(plan)
}

/// The plan with its steps, where nothing stands against it.
fn open_or_not(mut w: Working<'_>, panel: &Panel, bodies: &[BreakerId]) -> Plan {
    let basis = w.basis;
    if w.is_open() {
        match w.done() {
            Ok(done) => {
                w.plan.after = in_all(&done.edits);
                checked::by_rules(basis, &done, &mut w.plan);
                // What stood already is no hit that the plan makes; moved, it is no more as found, and the house would not take it.
                if w.is_open() {
                    match edit::check(&done.house) {
                        Ok(()) => return written(w, panel, &done, bodies),
                        Err(fault) => w.plan.unfit(fault),
                    }
                }
            }
            Err(fault) => w.plan.unfit(fault),
        }
    }
    w.plan
}

/// Writes the steps of a plan that nothing stands against: those that every job has, around its own acts.
fn written(w: Working<'_>, panel: &Panel, done: &Applied, bodies: &[BreakerId]) -> Plan {
    match w.hands {
        HandsIn::Panel => in_the_panel(w, panel, done, bodies),
        HandsIn::Box(_) => in_a_box(w, panel, done),
        HandsIn::Room => in_the_room(w, panel, done),
    }
}

fn in_the_panel(w: Working<'_>, panel: &Panel, done: &Applied, bodies: &[BreakerId]) -> Plan {
    let Working { basis, house, mut plan, acts, looks, joined, panel_goes, stays_in, stays_off, .. } = w;
    let new = done.house.panels.get(panel.id).unwrap_or(panel);
    let goal = plan.goal.clone();
    let mut sheet = StepSheet::new(basis, panel, &done.house, &goal);
    sheet.before();
    sheet.dead(&standing(house, &plan.touches), panel_goes);
    let mates = if stays_in { Vec::new() } else { standing(house, bodies) };
    sheet.acts(mates.iter().map(|mate| JobStep {
        why: "A body of halves comes out whole.".into(),
        place: Some(at(mate)),
        ..step(
            Stage::Work,
            "",
            format!(
                "Tag the wire of {}, and take it off: its half is one body with what is worked on.",
                basis.called(mate)
            ),
        )
    }));
    sheet.acts(acts);
    sheet.acts(mates.iter().map(|mate| JobStep {
        place: Some(at(mate)),
        ..step(Stage::Work, "", format!("Land the wire of {} on its half again.", basis.called(mate)))
    }));
    sheet.boxes();
    let made = done.house.breakers.iter().map(|b| b.id).filter(|b| house.breakers.get(*b).is_none());
    let all: Vec<BreakerId> = plan.touches.iter().copied().chain(made).collect();
    sheet.close(&all);
    sheet.back_on(&all);
    // The other half of a body is no work of its own: off before, it stays off.
    let was_off = |b: &Breaker| bodies.contains(&b.id) && house.breakers.get(b.id).is_some_and(Breaker::is_off);
    let stays = |b: &Breaker| (stays_off && b.is_off()) || was_off(b);
    let mut on = standing(&done.house, &all);
    // What stands in another panel then comes on after what feeds that.
    on.sort_by_key(|breaker| breaker.panel != panel.id);
    for breaker in on.into_iter().filter(|b| !stays(b)) {
        // One that moved over stands in another panel then.
        let its = done.house.panels.get(breaker.panel).unwrap_or(new);
        let legs = if breaker.at.len() > 1 && its.leg(breaker.at[0]) != its.leg(breaker.at[1]) { 2 } else { 1 };
        sheet.verify(breaker, legs);
    }
    for joining in &joined {
        if let [Some(keep), Some(gone)] = [joining.keep, joining.give_up].map(|b| house.breakers.get(b)) {
            sheet.verify_joined(keep, gone);
        }
    }
    looks.into_iter().for_each(|look| sheet.put(look));
    sheet.watch();
    sheet.record();
    sheet.into_plan(&mut plan);
    plan.tools = tools(plan.steps.iter().map(|step| step.tool.as_str()));
    plan.spared = spared(&plan);
    let open = new.empty.difference(&panel.empty).count();
    if open > 0 {
        plan.part(open, "closer for a space that is free after");
    }
    plan.changes = plan.after.iter().filter_map(|edit| said(&done.house, edit)).collect();
    plan
}

/// The steps of work in a box: its breakers off, everything in it shown dead, the panel closed all the while.
fn in_a_box(w: Working<'_>, panel: &Panel, done: &Applied) -> Plan {
    let Working { basis, house, mut plan, acts, looks, hands, .. } = w;
    let goal = plan.goal.clone();
    let HandsIn::Box(boxed) = hands else { return plan };
    let mut sheet = StepSheet::new(basis, panel, &done.house, &goal);
    let off = standing(house, &boxed.off);
    sheet.before_a_box(&off);
    sheet.dead_by(&off);
    sheet.acts(acts);
    sheet.boxes();
    sheet.close_boxes();
    sheet.on_again(&off);
    if let (Some(point), Some(feeder)) = (done.house.points.get(boxed.point), off.first()) {
        sheet.verify_at(point, feeder);
    }
    looks.into_iter().for_each(|look| sheet.put(look));
    sheet.plate();
    sheet.into_plan(&mut plan);
    plan.stays_live = boxed.stays_live;
    plan.tools = tools(plan.steps.iter().map(|step| step.tool.as_str()));
    plan.changes = plan.after.iter().filter_map(|edit| said(&done.house, edit)).collect();
    plan
}

/// The steps of what is done at plugs: nothing is off, and nothing is opened.
fn in_the_room(w: Working<'_>, panel: &Panel, done: &Applied) -> Plan {
    let Working { basis, mut plan, acts, looks, .. } = w;
    let goal = plan.goal.clone();
    let mut sheet = StepSheet::new(basis, panel, &done.house, &goal);
    sheet.acts(acts.into_iter().map(|act| JobStep { stage: Stage::Before, ..act }));
    looks.into_iter().for_each(|look| sheet.put(look));
    sheet.into_plan(&mut plan);
    plan.stays_live = vec!["Everything: nothing is switched off, and nothing is opened.".to_owned()];
    plan.who = WhoMay { licensed: false, said: "Anybody: nothing is opened.".to_owned() };
    plan.permit = "No permit is due for that.";
    plan.changes = plan.after.iter().filter_map(|edit| said(&done.house, edit)).collect();
    plan
}

/// What several jobs spare that are done in one shutdown: its own steps are done once.
fn spared(plan: &Plan) -> String {
    let jobs = plan.goal.each().len() as u32;
    if jobs < 2 {
        return String::new();
    }
    let once = |step: &&JobStep| match step.stage {
        Stage::Before | Stage::Close | Stage::BackOn | Stage::Record => true,
        Stage::Dead => !step.key.starts_with("dead-") || step.key == "dead-bus",
        Stage::Work | Stage::Verify => false,
    };
    let minutes: u32 = plan.steps.iter().filter(once).map(sheet::minutes).sum();
    format!(
        "One shutdown, one permit and one trip to the shop instead of {jobs}: about {} minutes less.",
        minutes * (jobs - 1)
    )
}

/// The goal that several come to, in one shutdown.
#[must_use]
pub fn together(mut goals: Vec<Goal>) -> Option<Goal> {
    if goals.len() > 1 { Some(Goal::Several { goals, in_order: false }) } else { goals.pop() }
}

/// The goals that several jobs come to, asked for one after the other: what is made new gets ids from `first` on, and each is asked for in
/// the house with the places of those before it, and of jobs that are begun.
///
/// # Errors
/// The first that `ask` has.
pub fn in_turn<T, E>(
    house: &House,
    jobs: impl IntoIterator<Item = T>,
    first: u64,
    ask: impl Fn(&House, T, u64) -> Result<Goal, E>,
) -> Result<Vec<Goal>, E> {
    let begun: Vec<Job> = house.jobs.iter().filter(|job| job.ended.is_none() && job.made.is_none()).cloned().collect();
    let mut house = house.clone();
    begun.iter().for_each(|job| places(&mut house, &job.goal));
    let of = |(nth, job): (u64, T)| {
        let goal = ask(&house, job, first + form::IDS * nth)?;
        places(&mut house, &goal);
        Ok(goal)
    };
    (0..).zip(jobs).map(of).collect()
}

/// Enters the places that a goal adds, so that what is asked for beside it may name them and numbers on after them.
fn places(house: &mut House, goal: &Goal) {
    if let Some(panel) = goal.first_panel(house) {
        house.panels.put(panel);
    }
    goal.new_circuits().for_each(|new| house.points.put(new.point.clone()));
    for goal in goal.each() {
        if let Goal::SubPanel(new) = goal {
            house.panels.put(Panel { fed_by: Some(new.breaker), ..Panel::new(new.id, new.name.trim(), new.spaces) });
        }
    }
}

/// The tools that are named, several with commas, each once.
fn tools<'a>(named: impl IntoIterator<Item = &'a str>) -> Vec<String> {
    let mut tools: Vec<String> = Vec::new();
    for tool in named.into_iter().flat_map(|tool| tool.split(", ")).filter(|tool| !tool.is_empty()) {
        if !tools.iter().any(|known| known == tool) {
            tools.push(tool.to_owned());
        }
    }
    tools
}

/// All kinds of job, in the order in which they are offered.
#[must_use]
pub fn kinds() -> &'static [&'static Kind] {
    kinds::ALL
}

/// A kind of job by its name.
///
/// # Errors
/// Where there is none.
pub fn kind(name: &str) -> Result<&'static Kind, Invalid> {
    let all = || kinds::ALL.iter().map(|k| k.name).collect::<Vec<_>>().join(", ");
    let found = kinds::ALL.iter().find(|k| k.name == name);
    found.copied().ok_or_else(|| Invalid::new("kind", format!("one of {}", all())))
}

/// What usually goes wrong in a job, and the way on, with rules by the code of the house's country.
#[must_use]
pub fn mishaps(house: &House, goal: &Goal) -> Vec<Mishap> {
    let told = |mishap: &Mishap| match house.about.country {
        Country::Us => mishap.clone(),
        Country::Ca => Mishap { then: canada::text(&mishap.then).into(), ..mishap.clone() },
    };
    kinds::of(goal).mishaps.iter().map(told).collect()
}

/// A change of a thing, in words; nothing for what goes without saying.
fn said(after: &House, edit: &Edit) -> Option<String> {
    match edit {
        Edit::Breaker(swap) => match (&swap.before, &swap.after) {
            (None, Some(new)) => {
                Some(format!("{} is new: {}, {}", after.breaker_name(new), new.amps, counted_poles(new.at.len())))
            }
            (Some(old), None) => Some(format!("{} is gone", old.at_text())),
            (Some(old), Some(new)) => changed(after, old, new),
            (None, None) => None,
        },
        Edit::Panel(swap) => {
            let (before, after) = match (&swap.before, &swap.after) {
                (Some(before), Some(after)) => (before, after),
                (None, Some(new)) => {
                    return Some(format!("{} is new: {} spaces, bus of {}", new.name, new.spaces, new.bus));
                }
                (_, None) => return None,
            };
            let now: Vec<String> = after.empty.difference(&before.empty).map(ToString::to_string).collect();
            (!now.is_empty()).then(|| format!("{} free: {}", after.name, now.join(", ")))
        }
        Edit::Point(swap) => match (&swap.before, &swap.after) {
            (None, Some(new)) => Some(format!("{} is new: {}", new.tag, after.called(new))),
            (Some(old), None) => Some(format!("{} is taken out", old.tag)),
            (Some(old), Some(new)) if old.volts != new.volts => {
                new.volts.map(|v| format!("{} has {} V then", new.tag, u16::from(v)))
            }
            (Some(old), Some(new)) if !old.ground_fault && new.ground_fault => {
                Some(format!("{} is a ground-fault device then", new.tag))
            }
            (Some(old), Some(new)) if old.ground_fault && !new.ground_fault => {
                Some(format!("{} is a plain outlet then", new.tag))
            }
            _ => None,
        },
        Edit::Load(swap) => match (&swap.before, &swap.after) {
            (Some(old), Some(new)) if old.point != new.point => {
                let there = after.points.get(new.point)?;
                Some(format!("{} hangs at {} {} then", new.name, there.tag, after.called(there)))
            }
            _ => None,
        },
        _ => None,
    }
}

fn changed(after: &House, old: &Breaker, new: &Breaker) -> Option<String> {
    use crate::base::Said;
    let mut parts = Vec::new();
    if old.panel != new.panel {
        parts.push(format!("goes to {}", after.breaker_name(new)));
    } else if old.at != new.at {
        parts.push(format!("goes to {}", new.at_text()));
    }
    if old.amps != new.amps {
        parts.push(format!("is {} then", new.amps));
    }
    if old.device != new.device {
        parts.push(format!("is {} then", new.device.said()));
    }
    (!parts.is_empty()).then(|| format!("{} {}", old.at_text(), parts.join(", ")))
}
