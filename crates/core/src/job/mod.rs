//! Work in a panel, planned as a change of the house and made only through its hold points. (handbook 5)
//!
//! From a goal comes a [`Plan`]: what has to be known first, what stands against it, the ways there are, the house after,
//! steps, parts. The goal in the plan has every choice made; begun with it a job ([`crate::house::Job`]) keeps its steps as
//! its protocol ([`work`]), and the house becomes as planned when the last check passes.

mod add;
pub mod arrange;
mod checked;
pub mod combine;
mod convert;
mod dedicated;
mod generator;
pub(crate) mod held;
mod makeup;
mod mishaps;
pub mod outlet;
pub mod pictured;
mod plan;
mod protect;
mod rearrange;
mod replace;
mod retire;
mod room;
mod sheet;
mod tandem;
#[cfg(test)]
mod tests;
pub mod work;

pub use plan::{Basis, CostClass, Mishap, Part, Plan, Question, Refusal, WayTo, WhoMay};
pub use sheet::DEAD;

use crate::base::Invalid;
use crate::edit::{Applied, Draft, Edit, in_all};
use crate::house::{Breaker, BreakerId, Goal, House, Joining, MakeRoom, Panel};
use crate::trace;
use generator::Inlet;
use plan::{Upstream, body_mates, counted_poles, standing};
use sheet::Sheet;

/// Plans a job.
///
/// # Errors
/// Where the goal names what is not there or cannot be, with its field. What is refused by a rule is part of the plan.
pub fn plan(basis: &Basis<'_>, goal: &Goal) -> Result<Plan, Invalid> {
    let mut plan = match goal {
        Goal::Replace { breaker, amps, model } => replace::plan(basis, *breaker, *amps, model),
        Goal::Combine(joining) => combine::plan(basis, joining),
        Goal::Tandem(halves) => tandem::plan(basis, halves),
        Goal::Add(new) => add::plan(basis, new, Goal::Add),
        Goal::Dedicated(new) => dedicated::plan(basis, new),
        Goal::Convert { breaker, two_legs, at, moves } => convert::plan(basis, *breaker, *two_legs, at, moves),
        Goal::Protect { breaker, device, keep_devices } => protect::plan(basis, *breaker, *device, *keep_devices),
        Goal::Rearrange { panel, wishes, fixed, room } => rearrange::plan(basis, *panel, wishes, fixed, room),
        Goal::Makeup { panel, moves } => makeup::plan(basis, panel, moves),
        Goal::Generator { .. } => generator::plan(basis, &inlet(goal)?),
        Goal::Retire { breaker, spare } => retire::plan(basis, *breaker, *spare),
    }?;
    let house = basis.house;
    let panel = house.panels.get(plan.panel).ok_or_else(|| Invalid::gone("panel", plan.panel.0))?;
    let bodies = body_mates(house, panel.id, &plan.touches);
    plan.touches.extend(&bodies);
    if Upstream::of(house, panel) == Upstream::NotKnown {
        plan.refuse(
            "no-disconnect",
            format!("{} has no main of its own, and what switches it off is not entered", panel.name),
            "handbook 1.1: common practice",
            "find it, and enter it with the panel",
        );
    }
    let always = match goal {
        Goal::Makeup { .. } => Some("the utility cuts the power for it"),
        Goal::Generator { .. } => Some("a second source on the panel"),
        _ => None,
    };
    plan.who_may(basis, always);
    plan.mishaps = mishaps::of(&plan.goal);
    if !plan.is_open() {
        return Ok(plan);
    }
    match after(house, &plan.goal) {
        Ok(done) => {
            checked::by_rules(basis, &done, &mut plan);
            if plan.is_open() {
                written(basis, panel, done, &mut plan, &bodies);
            }
        }
        Err(fault) => {
            plan.refuse("does-not-fit", fault.message, "what a house must hold to", "choose another place or breaker")
        }
    }
    Ok(plan)
}

/// Writes the steps of a plan that nothing stands against.
fn written(basis: &Basis<'_>, panel: &Panel, done: Applied, plan: &mut Plan, bodies: &[BreakerId]) {
    let house = basis.house;
    let new = done.house.panels.get(panel.id).unwrap_or(panel);
    let touched = standing(house, &plan.touches);
    let goal = plan.goal.clone();
    let mut sheet = Sheet::new(basis, panel, &done.house, goal.new_circuit());
    sheet.before();
    sheet.dead(&touched, matches!(plan.goal, Goal::Makeup { .. }));
    // The breaker that stays as a spare stays where it is, with its other half.
    let comes_out = !matches!(plan.goal, Goal::Retire { spare: true, .. });
    let mates = if comes_out { standing(house, bodies) } else { Vec::new() };
    for mate in &mates {
        sheet.work(
            format!(
                "Tag the wire of {}, and take it off: its half is one body with what is worked on.",
                basis.called(mate)
            ),
            "A body of halves comes out whole.",
            Some(sheet::at(mate)),
        );
    }
    work_steps(&mut sheet, basis, &plan.goal);
    for mate in &mates {
        sheet.work(format!("Land the wire of {} on its half again.", basis.called(mate)), "", Some(sheet::at(mate)));
    }
    sheet.boxes();
    sheet.close();
    let made: Vec<BreakerId> =
        done.house.breakers_of(panel.id).iter().map(|b| b.id).filter(|b| house.breakers.get(*b).is_none()).collect();
    let all: Vec<BreakerId> = plan.touches.iter().copied().chain(made).collect();
    sheet.back_on(&all);
    let stays_off = matches!(plan.goal, Goal::Generator { .. } | Goal::Retire { spare: true, .. });
    // The other half of a body is no work of its own: off before, it stays off.
    let was_off = |b: &Breaker| bodies.contains(&b.id) && house.breakers.get(b.id).is_some_and(Breaker::is_off);
    let stays = |b: &Breaker| (stays_off && b.is_off()) || was_off(b);
    for breaker in standing(&done.house, &all).into_iter().filter(|b| !stays(b)) {
        let legs = if breaker.at.len() > 1 && new.leg(breaker.at[0]) != new.leg(breaker.at[1]) { 2 } else { 1 };
        sheet.verify(breaker, legs);
    }
    verify(&mut sheet, house, &plan.goal);
    sheet.record();
    sheet.into_plan(plan);
    let open = new.empty.difference(&panel.empty).count();
    if open > 0 {
        plan.part(open, "closer for a space that is free after");
    }
    plan.after = in_all(&done.edits);
    plan.changes = plan.after.iter().filter_map(|edit| said(&done.house, edit)).collect();
}

fn work_steps(sheet: &mut Sheet<'_>, basis: &Basis<'_>, goal: &Goal) {
    let of = |id: &BreakerId| basis.house.breakers.get(*id).into_iter();
    match goal {
        Goal::Replace { breaker, .. } => of(breaker).for_each(|b| replace::steps(sheet, basis, b)),
        Goal::Combine(joining) => combine::steps(sheet, basis, joining),
        Goal::Tandem(halves) => tandem::steps(sheet, basis, halves),
        Goal::Add(new) => add::steps(sheet, basis, new, false),
        Goal::Dedicated(new) => add::steps(sheet, basis, new, true),
        Goal::Convert { breaker, two_legs, at, moves } => {
            of(breaker).for_each(|b| convert::steps(sheet, basis, b, (*two_legs, at, moves)));
        }
        Goal::Protect { breaker, device, keep_devices } => {
            of(breaker).for_each(|b| protect::steps(sheet, basis, b, *device, *keep_devices));
        }
        Goal::Rearrange { room, .. } => room::steps(sheet, basis, room),
        Goal::Makeup { moves, .. } => makeup::steps(sheet, basis, moves),
        Goal::Generator { .. } => inlet(goal).into_iter().for_each(|inlet| generator::steps(sheet, &inlet)),
        Goal::Retire { breaker, spare } => of(breaker).for_each(|b| retire::steps(sheet, basis, b, *spare)),
    }
}

/// What a job looks at beside volts.
fn verify(sheet: &mut Sheet<'_>, house: &House, goal: &Goal) {
    match goal {
        Goal::Protect { breaker, .. } => {
            house.breakers.get(*breaker).into_iter().for_each(|b| protect::verify(sheet, b))
        }
        Goal::Generator { .. } => generator::verify(sheet),
        Goal::Combine(joining) => joined(sheet, house, joining),
        Goal::Rearrange { room: MakeRoom { combine: Some(joining), .. }, .. } => joined(sheet, house, joining),
        Goal::Add(new) | Goal::Dedicated(new) => {
            new.room.combine.iter().for_each(|joining| joined(sheet, house, joining));
        }
        Goal::Retire { .. } => sheet.look(
            "rest-works",
            "Everything else works, and nothing else has gone dark.",
            "What went dark with it hung on it: it is in the record as what it is.",
            None,
        ),
        _ => {}
    }
}

/// What usually goes wrong in a job, and the way on.
#[must_use]
pub fn mishaps(goal: &Goal) -> &'static [Mishap] {
    mishaps::of(goal)
}

/// Both circuits of a breaker work, and it carries them.
fn joined(sheet: &mut Sheet<'_>, house: &House, joining: &Joining) {
    let (Some(keep), Some(gone)) = (house.breakers.get(joining.keep), house.breakers.get(joining.give_up)) else {
        return;
    };
    sheet.verify_joined(keep, gone);
    sheet.look(
        "usual-loads",
        "With what usually runs on both switched on, watch it for a quarter of an hour: it stays on, and does not get hot.",
        "Both hang on one breaker now.",
        None,
    );
}

/// The house after a job, by its goal alone.
///
/// # Errors
/// Where the goal leaves a choice open, or the house after could not be.
pub fn after(house: &House, goal: &Goal) -> Result<Applied, Invalid> {
    let mut draft = Draft::new(house, trace::may_feed);
    make(&mut draft, goal)?;
    draft.planned()
}

/// Makes the change of a goal.
pub(crate) fn make(draft: &mut Draft, goal: &Goal) -> Result<(), Invalid> {
    match goal {
        Goal::Replace { breaker, amps, model } => replace::change(draft, *breaker, *amps, model),
        Goal::Combine(joining) => combine::change(draft, joining),
        Goal::Tandem(halves) => tandem::change(draft, halves),
        Goal::Add(new) | Goal::Dedicated(new) => add::change(draft, new),
        Goal::Convert { breaker, two_legs, at, moves } => convert::change(draft, *breaker, *two_legs, at, moves),
        Goal::Protect { breaker, device, keep_devices } => protect::change(draft, *breaker, *device, *keep_devices),
        Goal::Rearrange { room, .. } => room::make(draft, room),
        Goal::Makeup { panel, moves } => makeup::change(draft, panel, moves),
        Goal::Generator { .. } => generator::change(draft, &inlet(goal)?),
        Goal::Retire { breaker, spare } => retire::change(draft, *breaker, *spare),
    }
}

fn inlet(goal: &Goal) -> Result<Inlet<'_>, Invalid> {
    match goal {
        Goal::Generator { panel, breaker, watts, at, listed, carries, moves } => {
            Ok(Inlet { panel: *panel, breaker: *breaker, watts: *watts, at, listed: *listed, carries, moves })
        }
        _ => Err(Invalid::new("job", "this is no generator")),
    }
}

/// A change of a thing, in words; nothing for what goes without saying.
fn said(after: &House, edit: &Edit) -> Option<String> {
    match edit {
        Edit::Breaker(swap) => match (&swap.before, &swap.after) {
            (None, Some(new)) => {
                Some(format!("{} is new: {}, {}", after.breaker_name(new), new.amps, counted_poles(new.at.len())))
            }
            (Some(old), None) => Some(format!("{} is gone", old.at_text())),
            (Some(old), Some(new)) => changed(old, new),
            (None, None) => None,
        },
        Edit::Panel(swap) => {
            let (before, after) = (swap.before.as_ref()?, swap.after.as_ref()?);
            let now: Vec<String> = after.empty.difference(&before.empty).map(ToString::to_string).collect();
            (!now.is_empty()).then(|| format!("{} free: {}", after.name, now.join(", ")))
        }
        Edit::Point(swap) => match (&swap.before, &swap.after) {
            (None, Some(new)) => Some(format!("{} is new: {}", new.tag, after.called(new))),
            (Some(old), None) => Some(format!("{} is taken out", old.tag)),
            (Some(old), Some(new)) if old.volts != new.volts => {
                new.volts.map(|v| format!("{} has {} V then", new.tag, u16::from(v)))
            }
            (Some(old), Some(new)) if old.ground_fault && !new.ground_fault => {
                Some(format!("{} is a plain outlet then", new.tag))
            }
            _ => None,
        },
        _ => None,
    }
}

fn changed(old: &Breaker, new: &Breaker) -> Option<String> {
    use crate::base::Said;
    let mut parts = Vec::new();
    if old.at != new.at {
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
