//! A job under way: step after step, no further than its hold points allow.

use std::collections::{BTreeMap, BTreeSet};

use jiff::{SignedDuration, Timestamp};
use serde::Serialize;
use utoipa::ToSchema;

use super::made::make;
use super::sheet::DEAD;
use super::{Basis, Plan};
use crate::base::Invalid;
use crate::base::units::READ_VOLTS;
use crate::edit::{Applied, Draft, Subject};
use crate::house::{
    Breaker, BreakerId, Circuit, Ending, Event, Evidence, EvidenceId, Goal, Handle, Held, Hold, HoldKind, House,
    Instrument, Job, JobAct, JobId, JobStep, LogEntry, LogId, MeasuredAt, Observation, PanelId, PointId, ProvenOn,
    Quantity, Reading, ReadingId, Span, Stage, StepDone, Stood, Stopped, WasAt,
};
use crate::rules::{self, Facts};
use crate::trace;

/// Who does something, and when.
#[derive(Debug, Clone, Copy)]
pub struct By<'a> {
    /// Who.
    pub who: &'a str,
    /// When.
    pub time: Timestamp,
}

/// What a reading at a hold point says.
#[derive(Debug, Clone, PartialEq, Eq, Serialize, ToSchema)]
pub struct HoldVerdict {
    /// The next step opens.
    pub passed: bool,
    /// What it means, and what to do now. Empty where it passed.
    pub said: String,
}

/// A few volts up to so many may be those of a wire that runs beside a live one. [prac: handbook 5.1.5, 8]
const GHOST: f64 = 90.0;

/// Judges a reading at a hold point.
#[must_use]
pub fn judge(hold: &Hold, value: f64, loaded: bool) -> HoldVerdict {
    let fail = |said: &str| HoldVerdict { passed: false, said: said.to_owned() };
    if hold.expect.holds(value) {
        return HoldVerdict { passed: true, said: String::new() };
    }
    match hold.kind {
        HoldKind::Source => fail(
            "The meter shows nothing where something is: its battery, its leads, its range. Nothing it showed before counts: another \
             meter, or mend this one.",
        ),
        HoldKind::Dead if !loaded && value > DEAD && value <= GHOST => fail(
            "That may be the ghost of a wire beside a live one: read again in low-impedance mode, or with a lamp. Until then it is \
             live.",
        ),
        HoldKind::Dead => fail(
            "It is fed from somewhere: another panel, a generator, a solar inverter, a second circuit. Touch nothing. Cover on, leave \
             it off, trace it first, or have an electrician look.",
        ),
        HoldKind::Live if value < 0.25 * hold.expect.from => fail(
            "No power comes through: is the breaker on, and seated? Off at the main before you look. If it stays so: put things back \
             as they were, or leave this breaker off.",
        ),
        HoldKind::Live if value < hold.expect.from => fail(
            "Too little: a poor contact, a wire that is not tight, a leg that is lost, or something heavy running. Off at the main, look \
             at what was touched, read again. If it stays so, leave this breaker off and close up.",
        ),
        HoldKind::Live => fail(
            "Too much: two hots where a hot and a neutral should be, or an open neutral. Main off at once. Look at what was touched; if \
             it stays so: the utility or an electrician, today.",
        ),
    }
}

/// Letters of what is written down with a step.
const NOTE: usize = 200;

/// Begins a job.
///
/// # Errors
/// Where its plan has open questions or is refused, or another job is at work on the same breakers.
pub(crate) fn begin(draft: &mut Draft, basis: &Basis<'_>, id: JobId, goal: &Goal, by: By<'_>) -> Result<(), Invalid> {
    let plan = super::plan(basis, goal)?;
    if let Some(refusal) = plan.refused.first() {
        return Err(Invalid::new("goal", format!("{} ({})", refusal.why, refusal.source)));
    }
    if let Some(ask) = plan.asks.first() {
        return Err(Invalid::new(format!("goal.{}", ask.field), ask.question.clone()));
    }
    if let Some(other) = draft.house.held().into_iter().find(|held| held.panels.contains(&plan.panel)) {
        return Err(Invalid::new("goal", other.said(&draft.house)));
    }
    for other in draft.house.jobs.iter().filter(|job| job.ended.is_none()) {
        let same = other.stood.breakers.iter().find(|b| plan.touches.contains(&b.id));
        if let Some(same) = same {
            let message = format!(
                "\"{}\" is at work on breaker {} already: end or give up that first",
                other.title,
                same.at_text()
            );
            return Err(Invalid::new("goal", message));
        }
    }
    let stood = stood(basis, &plan);
    let job = Job {
        id,
        begun: by.time,
        who: by.who.to_owned(),
        title: plan.title,
        panel: plan.panel,
        goal: plan.goal,
        steps: plan.steps,
        stood,
        parts: plan.parts,
        tools: plan.tools,
        done: Vec::new(),
        stopped: None,
        made: None,
        ended: None,
        left_open: false,
    };
    draft.add("job", job)
}

/// Jobs that another takes the place of are over: with nothing opened nothing is left of them.
///
/// # Errors
/// Where one of them is opened, or over.
pub(crate) fn give_way(draft: &mut Draft, jobs: &BTreeSet<JobId>, by: By<'_>) -> Result<(), Invalid> {
    for id in jobs {
        let job = draft.house.jobs.get(*id).cloned().ok_or_else(|| Invalid::gone("instead", id.0))?;
        if job.ended.is_some() || job.is_opened() {
            let why = if job.ended.is_some() { "has ended" } else { "is opened: it is ended first" };
            return Err(Invalid::new("instead", format!("\"{}\" {why}", job.title)));
        }
        let note = format!("Put together with others: {}", job.title);
        noted(draft, &job, by, note)?;
        draft.put(Job { ended: Some(by.time), stopped: None, ..job });
    }
    Ok(())
}

fn stood(basis: &Basis<'_>, plan: &Plan) -> Stood {
    let (house, touches) = (basis.house, &plan.touches);
    let on = |b: &Breaker| Breaker { handle: Handle::On, ..b.clone() };
    let worked_at = |point: PointId| {
        let here = |step: &JobStep| step.place == Some(MeasuredAt::Point { point });
        let makes = |step: &JobStep| step.makes.iter().any(|e| e.subject() == Some(Subject::Point(point)));
        let work = |step: &JobStep| step.stage == Stage::Work || !step.makes.is_empty();
        plan.steps.iter().any(|step| (work(step) && here(step)) || makes(step))
    };
    let hung = touches.iter().flat_map(|breaker| {
        let proven = basis.fed(*breaker).filter(|fed| fed.proven && worked_at(fed.point));
        proven.map(|fed| ProvenOn { point: fed.point, breaker: *breaker })
    });
    Stood {
        breakers: touches.iter().filter_map(|b| house.breakers.get(*b)).map(on).collect(),
        circuits: touches.iter().flat_map(|b| house.circuits_of(*b)).cloned().collect(),
        hung: hung.collect(),
    }
}

/// Something happens in a job.
///
/// # Errors
/// Where it is not its turn, a reading does not pass for want of being a reading, or the house has changed meanwhile.
pub(crate) fn act(draft: &mut Draft, id: JobId, act: &JobAct, by: By<'_>) -> Result<(), Invalid> {
    let job = draft.find::<Job>(id)?;
    let before = job.clone();
    if job.ended.is_some() && !(job.left_open && *act == JobAct::MadeSafe) {
        return Err(Invalid::new("job", "this job has ended"));
    }
    if job.ended.is_some() {
        draft.put(Job { left_open: false, ..job });
        return Ok(());
    }
    match act {
        JobAct::Done { step, noted } => {
            let step = due(&draft.house, &job, step)?;
            if noted.chars().count() > NOTE {
                return Err(Invalid::new("noted", format!("at most {NOTE} letters")));
            }
            if step.hold.is_some() {
                return Err(Invalid::new("step", "this step asks for a reading"));
            }
            let done = StepDone { step: step.key.clone(), noted: noted.trim().to_owned(), ..passed(by) };
            pass(draft, job.clone(), &step, done, by)
        }
        JobAct::Read { step, value, loaded, reading, why } => {
            let said = Reported { value: *value, loaded: *loaded, why: why.trim() };
            read(draft, &job, step, &said, *reading, by)
        }
        JobAct::Back => back(draft, job),
        JobAct::Stop { why } => {
            leave(draft, job, by, why, false);
            Ok(())
        }
        JobAct::TakeOver { why } => {
            leave(draft, job, by, why, true);
            Ok(())
        }
        JobAct::GoOn => {
            if let Some(other) =
                draft.house.held().into_iter().find(|held| held.job != id && held.panels.contains(&job.panel))
            {
                return Err(Invalid::new("job", other.said(&draft.house)));
            }
            draft.put(Job { stopped: None, ..job });
            Ok(())
        }
        JobAct::GiveUp => give_up(draft, job, by),
        JobAct::MadeSafe => Err(Invalid::new("job", "it is under way still: end it, or give it up")),
    }?;
    pause(draft, &before, by);
    Ok(())
}

/// Hands that were away for so long find things as others may have left them. [prac]
const PAUSE: SignedDuration = SignedDuration::from_mins(60);

/// After a long time in which nothing was said what was shown dead before it is to be shown again.
fn pause(draft: &mut Draft, before: &Job, by: By<'_>) {
    let away = before.done.last().is_some_and(|last| by.time.duration_since(last.time) > PAUSE);
    let off = before.steps.iter().any(|step| step.stage == Stage::Dead && before.has_passed(&step.key));
    if let Some(mut job) = draft.house.jobs.get(before.id).filter(|_| away && off).cloned() {
        job.void_dead("more than an hour went by, and anything may have come on meanwhile", true);
        draft.put(job);
    }
}

/// Somebody goes away from it, or is sent away.
fn leave(draft: &mut Draft, mut job: Job, by: By<'_>, why: &str, taken_over: bool) {
    job.void_dead(
        if taken_over {
            "somebody else took over what is off"
        } else {
            "the work was left, and anything may have come on meanwhile"
        },
        true,
    );
    job.stopped = Some(Stopped { time: by.time, who: by.who.to_owned(), why: why.trim().to_owned(), taken_over });
    draft.put(job);
}

/// What somebody read, as they said it.
struct Reported<'a> {
    value: f64,
    loaded: bool,
    why: &'a str,
}

fn passed(by: By<'_>) -> StepDone {
    StepDone {
        step: String::new(),
        time: by.time,
        who: by.who.to_owned(),
        value: None,
        loaded: false,
        reading: None,
        noted: String::new(),
        why: String::new(),
        passed: true,
        void: String::new(),
        handles: Vec::new(),
    }
}

/// The step, where it is its turn.
fn due(house: &House, job: &Job, key: &str) -> Result<JobStep, Invalid> {
    if job.stopped.is_some() {
        return Err(Invalid::new("job", "it was stopped: go on with it first"));
    }
    match job.next() {
        Some(next) if next.key == key => {
            // Hands go no further where what they rest on is so no more. To close up stays possible.
            if matches!(next.stage, Stage::Dead | Stage::Work) {
                as_planned(house, job)?;
            }
            Ok(next.clone())
        }
        Some(next) => Err(Invalid::new("step", format!("it is not the turn of this step, but of: {}", next.what))),
        None => Err(Invalid::new("step", "all steps are done")),
    }
}

fn read(
    draft: &mut Draft,
    job: &Job,
    key: &str,
    said: &Reported<'_>,
    reading: ReadingId,
    by: By<'_>,
) -> Result<(), Invalid> {
    let step = due(&draft.house, job, key)?;
    let Some(hold) = step.hold.clone() else {
        return Err(Invalid::new("step", "this step asks for no reading"));
    };
    let Reported { value, loaded, why } = *said;
    if !value.is_finite() || value < 0.0 {
        return Err(Invalid::new("value", "a reading is a number from 0 on"));
    }
    // A slip of the finger is no reading: nothing is written down, and nothing stands in the way of the right one.
    let most = if hold.kind == HoldKind::Source { hold.expect.to } else { READ_VOLTS.max };
    if value > most {
        let message = format!(
            "{value} V? No more than {most} V is found here: look at the meter again. If it really shows that, touch nothing, cover \
             on, and stop here"
        );
        return Err(Invalid::new("value", message));
    }
    let verdict = judge(&hold, value, loaded);
    // What stood against it does not go away by being read again: something was wrong with it, or something was done.
    // A ghost is gone in the mode that loads it: then nothing was wrong.
    let unexplained = did_not_pass(job, &step).is_some_and(|last| !loaded || last.loaded);
    if verdict.passed && why.is_empty() && unexplained {
        let message = "the last reading here did not pass: say what was wrong with it, or what was done since. Test the meter \
                       on the live source first, then read again";
        return Err(Invalid::new("why", message));
    }
    let done = StepDone {
        why: why.to_owned(),
        step: step.key.clone(),
        value: Some(value),
        loaded,
        // That a box is dead while it is open says nothing of the point in use.
        reading: hold
            .place
            .filter(|at| hold.kind != HoldKind::Dead || !matches!(at, MeasuredAt::Point { .. }))
            .map(|_| reading),
        passed: verdict.passed,
        ..passed(by)
    };
    keep_reading(draft, &hold, &done)?;
    if verdict.passed {
        return pass(draft, job.clone(), &step, done, by);
    }
    let mut job = job.clone();
    match hold.kind {
        // Nothing that such a meter showed before counts.
        HoldKind::Source => job.void_dead("the meter did not show the live source after it", false),
        // What it shows may be the meter's own fault: it is tested before it is read again. A ghost is read again at once.
        HoldKind::Dead if loaded || value > GHOST => {
            let test = |step: &str| {
                job.steps.iter().any(|s| s.key == step && s.hold.as_ref().is_some_and(|h| h.kind == HoldKind::Source))
            };
            let tests: Vec<String> =
                job.done.iter().filter(|d| d.stands() && test(&d.step)).map(|d| d.step.clone()).collect();
            for done in job.done.iter_mut().filter(|done| done.stands() && tests.contains(&done.step)) {
                "a reading after it did not pass: the meter is tested again".clone_into(&mut done.void);
            }
        }
        HoldKind::Dead | HoldKind::Live => {}
    }
    job.done.push(done);
    draft.put(job);
    Ok(())
}

/// The last reading of a step, where it did not pass and was no slip.
fn did_not_pass<'a>(job: &'a Job, step: &JobStep) -> Option<&'a StepDone> {
    let of_it = |done: &&StepDone| done.step == step.key && done.void.is_empty();
    job.done.iter().rev().find(of_it).filter(|done| !done.passed)
}

/// A reading of a job is a reading of the house, once the place where it was taken is part of that.
fn keep_reading(draft: &mut Draft, hold: &Hold, done: &StepDone) -> Result<(), Invalid> {
    let (Some(place), Some(id), Some(value)) = (hold.place, done.reading, done.value) else { return Ok(()) };
    let there = match place {
        MeasuredAt::Breaker { breaker, pole, .. } => {
            draft.house.breakers.get(breaker).is_some_and(|b| usize::from(pole.unwrap_or(1)) <= b.at.len())
        }
        MeasuredAt::Point { point } => draft.house.points.get(point).is_some(),
        _ => true,
    };
    let (time, who, quantity) = (done.time, done.who.clone(), Quantity::Volts { between: hold.conductors });
    let (instrument, span, on) = (Instrument::Meter, Span::Spot, [].into());
    if there {
        draft.add("reading", Reading { id, time, who, place, quantity, value, instrument, span, on, sure: false })
    } else {
        Ok(())
    }
}

/// A step has passed: handles move with it, and after the last check the house becomes as planned.
fn pass(draft: &mut Draft, mut job: Job, step: &JobStep, mut done: StepDone, by: By<'_>) -> Result<(), Invalid> {
    if let Some(switches) = &step.switches {
        let handle = if switches.on { Handle::On } else { Handle::Off };
        let stays = stays_off(&draft.house, &job, step);
        for breaker in switches.breakers.iter().filter(|b| !stays.contains_key(b)) {
            if let Some(was) = draft.house.breakers.get(*breaker).map(|b| b.handle) {
                done.handles.push(WasAt { breaker: *breaker, handle: was });
                draft.set_handle(*breaker, handle)?;
            }
        }
    }
    job.done.push(done);
    let left = job.next().map(|next| next.stage);
    if job.made.is_none() && left.is_none_or(|stage| stage == Stage::Record) {
        take(draft, &job, by)?;
        job.made = Some(by.time);
    }
    if left.is_none() {
        job.ended = Some(by.time);
    }
    draft.put(job);
    Ok(())
}

/// What of the rest of a panel stays off when that comes back on, and why: what was off before the job switched it, and what
/// somebody else holds off. A plan may be older than either.
#[must_use]
pub fn stays_off(house: &House, job: &Job, step: &JobStep) -> BTreeMap<BreakerId, String> {
    // The panel itself and the breakers of the work come on as their steps say, or not at all.
    let rest = step.switches.as_ref().filter(|s| step.stage == Stage::BackOn && s.on && s.panel.is_none());
    let Some(switches) = rest else { return BTreeMap::new() };
    let others: Vec<Held> = house.held().into_iter().filter(|held| held.job != job.id).collect();
    let first = |b: BreakerId| {
        job.done.iter().flat_map(|done| &done.handles).find(|was| was.breaker == b).map(|was| was.handle)
    };
    let why = |b: BreakerId| {
        let breaker = house.breakers.get(b)?;
        match others.iter().find(|held| held.breakers.contains(&b) || held.panels.contains(&breaker.panel)) {
            Some(held) => Some(format!("{} works behind it (\"{}\")", held.who, held.title)),
            None => first(b).filter(|handle| *handle != Handle::On).map(|handle| match handle {
                Handle::Tripped => "it had tripped before".to_owned(),
                _ => "it was off before".to_owned(),
            }),
        }
    };
    switches.breakers.iter().filter_map(|b| Some((*b, why(*b)?))).collect()
}

/// The house becomes as planned, in one change; the log gets its line.
fn take(draft: &mut Draft, job: &Job, by: By<'_>) -> Result<(), Invalid> {
    as_planned(&draft.house, job)?;
    let before = draft.house.clone();
    make(draft, &job.steps, &job.goal)?;
    let new: Vec<Breaker> =
        draft.house.breakers.iter().filter(|b| before.breakers.get(b.id).is_none()).cloned().collect();
    for breaker in new {
        draft.put(Breaker { since: Some(by.time), ..breaker });
    }
    for new in job.goal.new_circuits() {
        let at = new.breaker;
        // Whoever ran the cable knows where both its ends are; read at the new outlet, it has proven that.
        let read = read_alive(job, new.point.id);
        observe(
            draft,
            job,
            new.point.id,
            if read { Observation::Landed { at } } else { Observation::Wire { at } },
            by,
        )?;
        draft.set_handle(at, Handle::On)?;
    }
    carry(draft, job, &before, by)?;
    let later = |done: &&StepDone| done.reading.is_some_and(|id| draft.house.readings.get(id).is_none());
    for done in job.done.iter().filter(later).collect::<Vec<_>>() {
        if let Some(hold) = job.steps.iter().find(|s| s.key == done.step).and_then(|s| s.hold.as_ref()) {
            keep_reading(draft, hold, done)?;
        }
    }
    let gone = no_longer_found(&before, &draft.house);
    let note = if gone.is_empty() { job.title.clone() } else { format!("{}. No longer found: {gone}", job.title) };
    let note = if note.chars().count() > LONGEST_NOTE { job.title.clone() } else { note };
    let (who, time, event) = (by.who.to_owned(), by.time, Event::Worked { job: job.id });
    draft.add("log", LogEntry { id: LogId(job.id.0), time, who, event, note })
}

/// More than this does not stand in the log's line: then the findings tell it.
const LONGEST_NOTE: usize = 450;

/// What rules found in what is entered before the work, and no more after it.
fn no_longer_found(before: &House, after: &House) -> String {
    let keys = |house: &House| -> BTreeSet<rules::Key> {
        rules::hits(&Facts::entered(house)).iter().map(rules::Hit::key).collect()
    };
    let left = keys(after);
    let gone: Vec<String> = rules::hits(&Facts::entered(before))
        .iter()
        .filter(|hit| !left.contains(&hit.key()))
        .map(|hit| format!("{} ({})", hit.rule.title, hit.place(before)))
        .collect();
    gone.join("; ")
}

/// A reading of the job showed that power comes to a point.
fn read_alive(job: &Job, point: PointId) -> bool {
    let there = |step: &JobStep| {
        let hold = step.hold.as_ref().filter(|hold| hold.kind == HoldKind::Live);
        hold.is_some_and(|hold| hold.place == Some(MeasuredAt::Point { point })) && job.has_passed(&step.key)
    };
    job.steps.iter().any(there)
}

/// What was proven of circuits that the work has moved stays proven: they came along whole, and its readings passed.
fn carry(draft: &mut Draft, job: &Job, before: &House, by: By<'_>) -> Result<(), Invalid> {
    let of = |beliefs: &trace::Beliefs| -> Vec<(PointId, BreakerId)> {
        let proven = beliefs.points.iter().filter(|b| b.proven);
        proven.filter_map(|b| Some((b.point, b.candidates.first()?.at.breaker))).collect()
    };
    let touched = |breaker: &BreakerId| job.stood.breakers.iter().any(|b| b.id == *breaker);
    let now = |breaker| job.goal.joined(breaker).unwrap_or(breaker);
    let still = of(&trace::beliefs(&draft.house));
    let fallen = of(&trace::beliefs(before)).into_iter().filter(|(_, breaker)| touched(breaker));
    for (point, breaker) in
        fallen.map(|(point, breaker)| (point, now(breaker))).filter(|proven| !still.contains(proven))
    {
        if draft.house.points.get(point).is_some() && draft.house.breakers.get(breaker).is_some() {
            observe(draft, job, point, Observation::Landed { at: breaker }, by)?;
        }
    }
    Ok(())
}

/// Adds what the work has shown of a point.
fn observe(draft: &mut Draft, job: &Job, point: PointId, observation: Observation, by: By<'_>) -> Result<(), Invalid> {
    let mut id = EvidenceId(job.id.0);
    while draft.house.evidence.get(id).is_some() {
        id.0 += 1;
    }
    let (who, time) = (by.who.to_owned(), by.time);
    draft.add("evidence", Evidence { id, point, time, who, step: None, observation })
}

/// The house as it becomes once a job that is under way is done.
///
/// # Errors
/// Where others changed meanwhile what it rests on.
pub fn becomes(house: &House, job: &Job) -> Result<Applied, Invalid> {
    let mut draft = Draft::new(house, trace::may_feed);
    make(&mut draft, &job.steps, &job.goal)?;
    draft.finish()
}

/// Checks that what the job rests on is so still.
fn as_planned(house: &House, job: &Job) -> Result<(), Invalid> {
    conflict(house, job).or_else(|| seen_otherwise(house, job)).map_or(Ok(()), |conflict| {
        let message = format!("{conflict} since this was planned: give it up, and plan again from what stands now");
        Err(Invalid::new("job", message))
    })
}

/// A point that hands work at was seen otherwise than it was proven when this was planned.
fn seen_otherwise(house: &House, job: &Job) -> Option<String> {
    if job.stood.hung.is_empty() {
        return None;
    }
    let beliefs = trace::beliefs(house);
    let is_so = |hung: &ProvenOn| {
        let belief = beliefs.of(hung.point)?;
        Some(belief.proven && belief.candidates.first()?.at.breaker == hung.breaker)
    };
    let other = job.stood.hung.iter().find(|hung| is_so(hung) == Some(false))?;
    let (point, breaker) = (house.points.get(other.point)?, house.breakers.get(other.breaker)?);
    let (name, at) = (house.called(point), breaker.at_text());
    Some(format!("{} {name} was seen otherwise, and is not proven on {at} any more", point.tag))
}

/// What was changed by others of what the job is about.
#[must_use]
pub fn conflict(house: &House, job: &Job) -> Option<String> {
    // Like for like makes nothing else of the record.
    let makes_nothing = job.steps.iter().all(|step| step.makes.is_empty());
    let alike = |goal: &Goal| matches!(goal, Goal::Replace { .. } | Goal::Device(_) | Goal::Splice { .. });
    if makes_nothing && !job.goal.each().iter().all(alike) {
        return Some("what its steps make of the record was not kept with it".to_owned());
    }
    for was in &job.stood.breakers {
        match house.breakers.get(was.id) {
            None => return Some(format!("breaker {} was taken out", was.at_text())),
            // What it is called may change while hands are at it.
            Some(now) if Breaker { handle: was.handle, label: was.label.clone(), ..now.clone() } != *was => {
                return Some(format!("breaker {} was changed (now {} at {})", was.at_text(), now.amps, now.at_text()));
            }
            Some(_) => {}
        }
    }
    let touched: Vec<BreakerId> = job.stood.breakers.iter().map(|b| b.id).collect();
    let now: Vec<Circuit> = touched.iter().flat_map(|b| house.circuits_of(*b)).cloned().collect();
    if now != job.stood.circuits {
        return Some("its wires were changed".to_owned());
    }
    becomes(house, job).err().map(|e| format!("something was put where it goes: {}; that is so", e.message))
}

/// Takes the last step that passed back, with its reading and its handles; or a last reading that did not pass, as the slip that
/// it was.
fn back(draft: &mut Draft, mut job: Job) -> Result<(), Invalid> {
    if job.made.is_some() {
        return Err(Invalid::new("job", "the house has become as planned: take that back on the page of changes"));
    }
    let slip = job.done.last_mut().filter(|done| !done.passed && done.void.is_empty());
    if let Some(slip) = slip {
        "taken back: a slip of the finger".clone_into(&mut slip.void);
        if let Some(reading) = slip.reading.take().filter(|r| draft.house.readings.get(*r).is_some()) {
            draft.remove_reading(reading)?;
        }
        draft.put(job);
        return Ok(());
    }
    let Some(last) = job.done.iter().rposition(StepDone::stands) else {
        return Err(Invalid::new("job", "no step was done yet"));
    };
    let gone = job.done.split_off(last);
    let power = |done: &StepDone| job.step(&done.step).and_then(|step| step.switches.as_ref()).is_some_and(|s| s.on);
    let had_power = gone.iter().any(power);
    // The latest first: what was switched twice, with a stop between, goes back to how it was before the first time.
    for done in gone.into_iter().rev() {
        if let Some(reading) = done.reading.filter(|r| draft.house.readings.get(*r).is_some()) {
            draft.remove_reading(reading)?;
        }
        for was in done.handles {
            if draft.house.breakers.get(was.breaker).is_some() {
                draft.set_handle(was.breaker, was.handle)?;
            }
        }
    }
    if had_power {
        job.void_dead("power was on after it", true);
    }
    draft.put(job);
    Ok(())
}

/// The house stays as it was; what is off stays off, and is said so.
fn give_up(draft: &mut Draft, mut job: Job, by: By<'_>) -> Result<(), Invalid> {
    let note = if job.made.is_some() {
        format!("{}: left before it was written down", job.title)
    } else {
        format!("Given up: {}", job.title)
    };
    noted(draft, &job, by, note)?;
    // With the cover off or something off it is not over for whoever comes next.
    let opened =
        job.done.iter().any(|done| done.passed && job.step(&done.step).is_some_and(|s| s.stage == Stage::Dead));
    let left_open = opened && job.made.is_none();
    job.void_dead("the work was given up, and anything may have come on since", true);
    // What somebody took over is held no more, whoever gives up the rest.
    let stopped = job.stopped.take().filter(|stopped| stopped.taken_over);
    draft.put(Job { ended: Some(by.time), stopped, left_open, ..job });
    Ok(())
}

/// The log gets its line, once a job.
fn noted(draft: &mut Draft, job: &Job, by: By<'_>, note: String) -> Result<(), Invalid> {
    let (who, time, event) = (by.who.to_owned(), by.time, Event::Worked { job: job.id });
    if draft.house.log.get(LogId(job.id.0)).is_some() {
        return Ok(());
    }
    draft.add("log", LogEntry { id: LogId(job.id.0), time, who, event, note })
}

/// How far a job is, and what it keeps off.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
pub struct JobNow {
    /// Which.
    pub id: JobId,
    /// In a few words.
    pub title: String,
    /// The panel where the work is.
    pub panel: PanelId,
    /// When it began.
    #[schema(value_type = String, format = DateTime)]
    pub begun: Timestamp,
    /// Who began it.
    pub who: String,
    /// Somebody left it.
    pub stopped: Option<Stopped>,
    /// How it ended.
    pub ending: Option<Ending>,
    /// When.
    #[schema(value_type = Option<String>, format = DateTime)]
    pub ended: Option<Timestamp>,
    /// The house has become as planned.
    pub made: bool,
    /// The step that is next, by its number from 0,
    pub next: Option<usize>,
    /// in words,
    pub doing: String,
    /// of so many.
    pub steps: usize,
    /// What the last reading said, where it did not pass.
    pub verdict: Option<HoldVerdict>,
    /// What is off, in words: always on top.
    pub off: Vec<String>,
    /// What is live near the hands now, in words: always on top.
    pub live: Vec<String>,
    /// Panels that it keeps off as a whole.
    pub panels_off: Vec<PanelId>,
    /// Breakers that it keeps off.
    pub breakers_off: Vec<BreakerId>,
    /// Left before its end: how to leave things safe.
    pub leave_safe: String,
    /// What others changed since it was planned.
    pub conflict: Option<String>,
    /// All that hands touch is proven dead, as long as that counts.
    pub dead: Option<Proof>,
    /// Why it is to be shown dead again.
    pub voided: Option<String>,
    /// Others who work in this panel, or before it, in words: what is off for them is no proof of one's own.
    pub others: Vec<String>,
    /// What stays off in the step that is next, each with why.
    pub stays_off: Vec<String>,
    /// The step that is next was read before and did not pass: the next reading needs a reason.
    pub asks_why: bool,
    /// It was given up with something off or open, and nobody has said yet that it is left safe.
    pub left_open: bool,
    /// Who did the last step.
    pub hands: String,
}

/// That all which hands touch is dead: read between two tests of the meter on a live source, and true only as long as what it
/// rests on.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
pub struct Proof {
    /// Since the last of its readings.
    #[schema(value_type = String, format = DateTime)]
    pub since: Timestamp,
    /// What it rests on, in words.
    pub rests_on: Vec<String>,
}

/// All jobs, those under way first, then the latest first.
#[must_use]
pub fn all(house: &House) -> Vec<JobNow> {
    let mut jobs: Vec<&Job> = house.jobs.iter().collect();
    jobs.sort_by_key(|job| (job.ended.is_some(), std::cmp::Reverse(job.id)));
    jobs.into_iter().map(|job| now(house, job)).collect()
}

/// Jobs under way, and those that were left.
#[must_use]
pub fn open(house: &House) -> Vec<JobNow> {
    house.jobs.iter().filter(|job| job.ended.is_none() || job.left_open).map(|job| now(house, job)).collect()
}

/// How a job stands.
#[must_use]
pub fn now(house: &House, job: &Job) -> JobNow {
    let next = job.next();
    let (panels, breakers) = job.surely_off();
    let (left, _) = job.keeps_off();
    let last = job.done.last().filter(|done| !done.passed && done.void.is_empty());
    let failed = last.and_then(|done| Some((done, job.steps.iter().find(|s| s.key == done.step)?.hold.as_ref()?)));
    let proof = job.dead_since().map(|since| Proof {
        since,
        rests_on: Held::premises(house, job).into_iter().map(|premise| premise.said(house)).collect(),
    });
    let voided = next.filter(|step| step.stage == Stage::Dead).and_then(|step| {
        let last = job.done.iter().rev().find(|done| done.step == step.key)?;
        (!last.void.is_empty()).then(|| format!("Show again that it is dead: {}.", last.void))
    });
    let stays = next.map(|step| stays_off(house, job, step));
    let stays_off = stays.into_iter().flatten().filter_map(|(b, why)| Some((house.breakers.get(b)?, why)));
    let stays_off = stays_off.map(|(b, why)| format!("Leave {} off: {why}", house.breaker_name(b))).collect();
    let verdict = failed.and_then(|(done, hold)| Some(judge(hold, done.value?, done.loaded)));
    let panel_names: Vec<&str> = panels.iter().filter_map(|p| house.panels.get(*p)).map(|p| p.name.as_str()).collect();
    let mut off: Vec<String> = panel_names.iter().map(|name| format!("{name} is off as a whole")).collect();
    // What stands in a panel that is off is said with it.
    let alone = |b: &&Breaker| !panels.contains(&b.panel);
    let named = breakers.iter().filter_map(|b| house.breakers.get(*b)).filter(alone);
    let names: Vec<String> = named.map(|b| house.breaker_name(b)).collect();
    if !names.is_empty() {
        off.push(format!("off: {}", names.join(", ")));
    }
    let left = left.difference(&panels).filter_map(|p| house.panels.get(*p));
    off.extend(left.map(|panel| format!("{} was left off, and may have come on since", panel.name)));
    let inside = house.breakers_of(job.panel);
    let mut others = house.held();
    others.retain(|held| {
        let dead = held.dead(house);
        held.job != job.id && inside.iter().any(|b| dead.contains(&b.id))
    });
    others.retain(|_| job.ended.is_none());
    let live = if job.ended.is_some() && !job.left_open {
        Vec::new()
    } else if panels.is_empty() && others.iter().any(|held| covers(house, held, &inside)) {
        vec!["What is off here is off for somebody else's work, and may come on at any moment.".to_owned()]
    } else if panels.is_empty() && !breakers.is_empty() {
        vec!["All but what is off here is live: the panel stays closed.".to_owned()]
    } else if panels.is_empty() {
        vec!["The whole panel is live.".to_owned()]
    } else {
        panels.iter().filter_map(|p| house.panels.get(*p)).map(|panel| live_beside(house, panel)).collect()
    };
    JobNow {
        id: job.id,
        title: job.title.clone(),
        panel: job.panel,
        begun: job.begun,
        who: job.who.clone(),
        stopped: job.stopped.clone(),
        ending: job.ending(),
        ended: job.ended,
        made: job.made.is_some(),
        doing: next.map_or_else(String::new, |step| step.what.clone()),
        steps: job.steps.len(),
        next: next.and_then(|step| job.steps.iter().position(|s| s.key == step.key)),
        verdict,
        off,
        live,
        panels_off: panels.into_iter().collect(),
        breakers_off: breakers.into_iter().collect(),
        leave_safe: leave_safe(job, next).to_owned(),
        dead: proof,
        voided,
        others: others.iter().map(|held| format!("{}.", held.said(house))).collect(),
        stays_off,
        asks_why: next.is_some_and(|step| did_not_pass(job, step).is_some()),
        left_open: job.left_open,
        hands: job.hands().to_owned(),
        conflict: conflict(house, job).filter(|_| job.made.is_none() && job.ended.is_none()),
    }
}

/// All of these give nothing for somebody's work; one handle of a panel that they hold leaves the rest of it live.
fn covers(house: &House, held: &Held, breakers: &[&Breaker]) -> bool {
    let dead = held.dead(house);
    !breakers.is_empty() && breakers.iter().all(|b| dead.contains(&b.id))
}

fn live_beside(house: &House, panel: &crate::house::Panel) -> String {
    match panel.fed_by.and_then(|b| house.breakers.get(b)).and_then(|b| house.panels.get(b.panel)) {
        Some(above) => format!("Live still: everything in panel {}.", above.name),
        None => format!("Live still: the lugs where the supply comes into {}, back to the meter.", panel.name),
    }
}

/// How to leave things safe at a step.
fn leave_safe(job: &Job, next: Option<&JobStep>) -> &'static str {
    if job.ended.is_some() && !job.left_open {
        return "";
    }
    if job.steps.iter().all(|step| step.stage != Stage::Dead) {
        return "Nothing is opened for it: just leave.";
    }
    // What was worked in is no safer for being shown dead again.
    let worked = job.is_worked_in() && !job.power_is_back();
    let next = next.filter(|step| !(worked && step.stage == Stage::Dead)).or_else(|| {
        job.steps.iter().find(|step| !job.has_passed(&step.key) && step.stage > Stage::Dead).filter(|_| worked)
    });
    // In a box the panel stays closed.
    let in_a_box = job.is_in_a_box();
    match next.map(|step| step.stage) {
        Some(Stage::Dead) if in_a_box => "Plate on. What is off may come on again once the box is closed.",
        Some(Stage::Work | Stage::Close) if in_a_box => {
            "Leave its breakers off, tagged. Every loose wire capped by itself, the device or a blank plate on: nobody reaches a wire."
        }
        Some(Stage::BackOn | Stage::Verify) if in_a_box => "Leave its breakers off, tagged, with the box closed.",
        None | Some(Stage::Before) => "Nothing is opened yet: just leave.",
        Some(Stage::Dead) => "Cover on. What is off may come on again once the cover is on.",
        Some(Stage::Work) => {
            "Leave it off. Cap every loose wire by itself, closers or the old breakers into open places, cover on, a tag on the main: work \
             is not finished. The rest of the panel may come on only when nothing loose is left in it."
        }
        Some(Stage::Close) => "Leave it off, cover on, a tag on the main: work is not finished.",
        Some(Stage::BackOn | Stage::Verify) => {
            "Leave the breakers of this work off, tagged; the others may stay on. Cover on, before you go."
        }
        Some(Stage::Record) => "All is closed and on. The card on the door still says what was.",
    }
}
