//! A job under way: step after step, no further than its hold points allow.

use jiff::Timestamp;
use serde::Serialize;
use utoipa::ToSchema;

use super::sheet::DEAD;
use super::{Basis, make};
use crate::base::Invalid;
use crate::edit::Draft;
use crate::house::{
    Breaker, BreakerId, Circuit, Ending, Event, Evidence, EvidenceId, Goal, Handle, Hold, HoldKind, House, Instrument,
    Job, JobAct, JobId, JobStep, LogEntry, LogId, MeasuredAt, Observation, PanelId, PointId, Quantity, Reading,
    ReadingId, Span, Stage, StepDone, Stood, Stopped, WasAt,
};
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
    let stood = stood(&draft.house, &plan.touches);
    let job = Job {
        id,
        begun: by.time,
        who: by.who.to_owned(),
        title: plan.title,
        panel: plan.panel,
        goal: plan.goal,
        steps: plan.steps,
        stood,
        done: Vec::new(),
        stopped: None,
        made: None,
        ended: None,
    };
    draft.add("job", job)
}

fn stood(house: &House, touches: &[BreakerId]) -> Stood {
    let on = |b: &Breaker| Breaker { handle: Handle::On, ..b.clone() };
    Stood {
        breakers: touches.iter().filter_map(|b| house.breakers.get(*b)).map(on).collect(),
        circuits: touches.iter().flat_map(|b| house.circuits_of(*b)).cloned().collect(),
    }
}

/// Something happens in a job.
///
/// # Errors
/// Where it is not its turn, a reading does not pass for want of being a reading, or the house has changed meanwhile.
pub(crate) fn act(draft: &mut Draft, id: JobId, act: &JobAct, by: By<'_>) -> Result<(), Invalid> {
    let job = draft.find::<Job>(id)?;
    if job.ended.is_some() {
        return Err(Invalid::new("job", "this job has ended"));
    }
    match act {
        JobAct::Done { step } => {
            let step = due(&job, step)?;
            if step.hold.is_some() {
                return Err(Invalid::new("step", "this step asks for a reading"));
            }
            let done = StepDone { step: step.key.clone(), ..passed(by) };
            pass(draft, job.clone(), &step, done, by)
        }
        JobAct::Read { step, value, loaded, reading, why } => {
            read(draft, &job, step, (*value, *loaded), why.trim(), *reading, by)
        }
        JobAct::Back => back(draft, job),
        JobAct::Stop { why } => {
            let stopped = Some(Stopped { time: by.time, who: by.who.to_owned(), why: why.trim().to_owned() });
            draft.put(Job { stopped, ..job });
            Ok(())
        }
        JobAct::GoOn => {
            draft.put(Job { stopped: None, ..job });
            Ok(())
        }
        JobAct::GiveUp => give_up(draft, job, by),
    }
}

fn passed(by: By<'_>) -> StepDone {
    StepDone {
        step: String::new(),
        time: by.time,
        who: by.who.to_owned(),
        value: None,
        loaded: false,
        reading: None,
        why: String::new(),
        passed: true,
        handles: Vec::new(),
    }
}

/// The step, where it is its turn.
fn due(job: &Job, key: &str) -> Result<JobStep, Invalid> {
    if job.stopped.is_some() {
        return Err(Invalid::new("job", "it was stopped: go on with it first"));
    }
    match job.next() {
        Some(next) if next.key == key => Ok(next.clone()),
        Some(next) => Err(Invalid::new("step", format!("it is not the turn of this step, but of: {}", next.what))),
        None => Err(Invalid::new("step", "all steps are done")),
    }
}

fn read(
    draft: &mut Draft,
    job: &Job,
    key: &str,
    (value, loaded): (f64, bool),
    why: &str,
    reading: ReadingId,
    by: By<'_>,
) -> Result<(), Invalid> {
    let step = due(job, key)?;
    let Some(hold) = step.hold.clone() else {
        return Err(Invalid::new("step", "this step asks for no reading"));
    };
    if !value.is_finite() || value < 0.0 {
        return Err(Invalid::new("value", "a reading is a number from 0 on"));
    }
    let verdict = judge(&hold, value, loaded);
    // What stood against it does not go away by being read again: something was wrong with it, or something was done.
    // A ghost is gone in the mode that loads it: then nothing was wrong.
    let last = job.done.iter().rev().find(|done| done.step == step.key).filter(|done| !done.passed);
    let unexplained = last.is_some_and(|last| !loaded || last.loaded);
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
        reading: hold.place.map(|_| reading),
        passed: verdict.passed,
        ..passed(by)
    };
    keep_reading(draft, &hold, &done)?;
    if verdict.passed {
        return pass(draft, job.clone(), &step, done, by);
    }
    let mut job = job.clone();
    job.done.push(done);
    draft.put(job);
    Ok(())
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
        draft.add("reading", Reading { id, time, who, place, quantity, value, instrument, span, on })
    } else {
        Ok(())
    }
}

/// A step has passed: handles move with it, and after the last check the house becomes as planned.
fn pass(draft: &mut Draft, mut job: Job, step: &JobStep, mut done: StepDone, by: By<'_>) -> Result<(), Invalid> {
    if let Some(switches) = &step.switches {
        let handle = if switches.on { Handle::On } else { Handle::Off };
        for breaker in &switches.breakers {
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

/// The house becomes as planned, in one change; the log gets its line.
fn take(draft: &mut Draft, job: &Job, by: By<'_>) -> Result<(), Invalid> {
    if let Some(conflict) = conflict(&draft.house, job) {
        return Err(Invalid::new(
            "job",
            format!("{conflict} since this was planned: give it up, and plan again from what stands now"),
        ));
    }
    let before = draft.house.clone();
    make(draft, &job.goal)?;
    let new: Vec<Breaker> =
        draft.house.breakers.iter().filter(|b| before.breakers.get(b.id).is_none()).cloned().collect();
    for breaker in new {
        draft.put(Breaker { since: Some(by.time), ..breaker });
    }
    if let Some(new) = job.goal.new_circuit() {
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
    let (who, time, event) = (by.who.to_owned(), by.time, Event::Worked { job: job.id });
    draft.add("log", LogEntry { id: LogId(job.id.0), time, who, event, note: job.title.clone() })
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

/// What was changed by others of what the job is about.
#[must_use]
pub fn conflict(house: &House, job: &Job) -> Option<String> {
    for was in &job.stood.breakers {
        match house.breakers.get(was.id) {
            None => return Some(format!("breaker {} was taken out", was.at_text())),
            Some(now) if Breaker { handle: was.handle, ..now.clone() } != *was => {
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
    let fits = super::after(house, &job.goal);
    fits.err().map(|e| format!("something was put where it goes: {}; that is so", e.message))
}

/// Takes the last step that passed back, with its reading and its handles.
fn back(draft: &mut Draft, mut job: Job) -> Result<(), Invalid> {
    if job.made.is_some() {
        return Err(Invalid::new("job", "the house has become as planned: take that back on the page of changes"));
    }
    let Some(last) = job.done.iter().rposition(|done| done.passed) else {
        return Err(Invalid::new("job", "no step was done yet"));
    };
    for done in job.done.split_off(last) {
        if let Some(reading) = done.reading.filter(|r| draft.house.readings.get(*r).is_some()) {
            draft.remove_reading(reading)?;
        }
        for was in done.handles {
            if draft.house.breakers.get(was.breaker).is_some() {
                draft.set_handle(was.breaker, was.handle)?;
            }
        }
    }
    draft.put(job);
    Ok(())
}

/// The house stays as it was; what is off stays off, and is said so.
fn give_up(draft: &mut Draft, job: Job, by: By<'_>) -> Result<(), Invalid> {
    let note = if job.made.is_some() {
        format!("{}: left before it was written down", job.title)
    } else {
        format!("Given up: {}", job.title)
    };
    let (who, time, event) = (by.who.to_owned(), by.time, Event::Worked { job: job.id });
    if draft.house.log.get(LogId(job.id.0)).is_none() {
        draft.add("log", LogEntry { id: LogId(job.id.0), time, who, event, note })?;
    }
    draft.put(Job { ended: Some(by.time), stopped: None, ..job });
    Ok(())
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
    house.jobs.iter().filter(|job| job.ended.is_none()).map(|job| now(house, job)).collect()
}

/// How a job stands.
#[must_use]
pub fn now(house: &House, job: &Job) -> JobNow {
    let next = job.next();
    let (panels, breakers) = job.keeps_off();
    let last = job.done.last().filter(|done| !done.passed);
    let failed = last.and_then(|done| Some((done, job.steps.iter().find(|s| s.key == done.step)?.hold.as_ref()?)));
    let verdict = failed.and_then(|(done, hold)| Some(judge(hold, done.value?, done.loaded)));
    let panel_names: Vec<&str> = panels.iter().filter_map(|p| house.panels.get(*p)).map(|p| p.name.as_str()).collect();
    let mut off: Vec<String> = panel_names.iter().map(|name| format!("{name} is off as a whole")).collect();
    let names: Vec<String> =
        breakers.iter().filter_map(|b| house.breakers.get(*b)).map(|b| house.breaker_name(b)).collect();
    if !names.is_empty() {
        off.push(format!("off: {}", names.join(", ")));
    }
    let live = if job.ended.is_some() {
        Vec::new()
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
        conflict: conflict(house, job).filter(|_| job.made.is_none() && job.ended.is_none()),
    }
}

fn live_beside(house: &House, panel: &crate::house::Panel) -> String {
    match panel.fed_by.and_then(|b| house.breakers.get(b)).and_then(|b| house.panels.get(b.panel)) {
        Some(above) => format!("Live still: everything in panel {}.", above.name),
        None => format!("Live still: the lugs where the supply comes into {}, back to the meter.", panel.name),
    }
}

/// How to leave things safe at a step.
fn leave_safe(job: &Job, next: Option<&JobStep>) -> &'static str {
    if job.ended.is_some() {
        return "";
    }
    match next.map(|step| step.stage) {
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
