//! What is held off is held at the one door of changes. (handbook 5.1)
//!
//! What a job has switched off nobody else switches, takes out or moves: [`guard`] asks for every edit, whatever change or
//! undo it comes from. What was proven dead is void as soon as something that it rests on was moved, whoever moved it.

use crate::base::Invalid;
use crate::edit::Draft;
use crate::house::{Breaker, Evidence, Held, House, Job, JobId, Observation, PanelId, Seen};

/// An observation as it was: what was dead for somebody's work was off too, whether or not who looked knew, and however late
/// the look arrives. A live one is left as it was told: it says of no more breakers than those that were switched for it.
pub(crate) fn as_it_was(house: &House, evidence: &Evidence) -> Evidence {
    let Observation::Power { off, seen: Seen::Dead, how } = &evidence.observation else { return evidence.clone() };
    let off = off | &house.worked_dead(evidence.time);
    Evidence { observation: Observation::Power { off, seen: Seen::Dead, how: *how }, ..evidence.clone() }
}

/// Refuses what would move something that somebody else holds off, and voids what was proven dead where something that it
/// rests on moves. `by` is the job that acts. A tour of tracing ends where work moves something: its looks rest on the handles
/// that it began with.
///
/// # Errors
/// With who works there.
pub(crate) fn guard(before: &House, draft: &mut Draft, by: Option<JobId>) -> Result<(), Invalid> {
    if before.jobs.iter().all(|job| job.ended.is_some() && !job.left_open) {
        return Ok(());
    }
    let moved: Vec<&Breaker> = before.breakers.iter().filter(|was| is_moved(was, &draft.house)).collect();
    let switched: Vec<(JobId, PanelId)> = before.jobs.iter().flat_map(|job| switched(job, &draft.house)).collect();
    let by_others = |job: JobId| switched.iter().filter(move |(by, _)| *by != job).map(|(_, panel)| *panel);
    if draft.house.step.is_some() && (!switched.is_empty() || (by.is_some() && !moved.is_empty())) {
        draft.set_step(None);
    }
    let others = before.held().into_iter().filter(|held| Some(held.job) != by);
    for held in others {
        // What was taken over in this very change is held no more.
        let still = draft.house.jobs.get(held.job).is_some_and(|job| Held::of(&draft.house, job).is_some());
        let panel = by_others(held.job).any(|panel| held.panels.contains(&panel));
        if still && (panel || moved.iter().any(|b| held.holds(b))) {
            return Err(Invalid::new("handles", held.said(before)));
        }
    }
    let rest: Vec<Job> =
        draft.house.jobs.iter().filter(|job| Some(job.id) != by && job.ended.is_none()).cloned().collect();
    for mut job in rest {
        let on = Held::premises(before, &job);
        let breaker = moved.iter().find(|b| on.iter().any(|premise| premise.breaker() == Some(b.id)));
        let panel = by_others(job.id).find(|p| on.iter().any(|premise| premise.panel() == Some(*p)));
        let what = match (breaker, panel.and_then(|p| before.panels.get(p))) {
            (Some(breaker), _) => before.breaker_name(breaker),
            (None, Some(panel)) => panel.name.clone(),
            (None, None) => continue,
        };
        let was = job.clone();
        job.void_dead(&format!("{what} was switched meanwhile, and power could have come by it"), false);
        if job != was {
            draft.put(job);
        }
    }
    Ok(())
}

/// Its handle moves, or it goes, or it changes its place.
fn is_moved(was: &Breaker, after: &House) -> bool {
    after.breakers.get(was.id).is_none_or(|now| (now.handle, &now.at, now.panel) != (was.handle, &was.at, was.panel))
}

/// Panels that a job switches as a whole by what it does now, or had switched by what it takes back.
fn switched(was: &Job, after: &House) -> Vec<(JobId, PanelId)> {
    let Some(now) = after.jobs.get(was.id) else { return Vec::new() };
    let (new, gone) = (now.done.iter().skip(was.done.len()), was.done.iter().skip(now.done.len()));
    new.chain(gone).filter_map(|done| Some((was.id, now.step(&done.step)?.switches.as_ref()?.panel?))).collect()
}

/// What a job has switched and shown is not taken back from outside: it says what hands have done.
///
/// # Errors
/// With the job.
pub(crate) fn keeps_its_steps(before: &House, after: &House) -> Result<(), Invalid> {
    let opened = |job: &&Job| job.ended.is_none() && job.made.is_none() && job.is_opened();
    let changed = |was: &&Job| after.jobs.get(was.id).is_none_or(|now| now.made.is_none() && now.done != was.done);
    match before.jobs.iter().filter(opened).find(changed) {
        Some(job) => Err(Invalid::new(
            "job",
            format!("\"{}\" is under way: its steps are taken back in the job itself, one by one", job.title),
        )),
        None => Ok(()),
    }
}

#[cfg(test)]
mod tests;
