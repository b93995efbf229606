//! Jobs. What they speak of may be changed or taken out meanwhile: that is told, and not forbidden.

use super::{id, short, text};
use crate::base::Invalid;
use crate::house::Job;

/// Longest title, and reason why somebody left.
const MAX_WORDS: usize = 400;
/// Longest text of a step: one may name every breaker of a large panel, or all that should not lose power.
const MAX_STEP: usize = 8000;

pub(super) fn check_job(job: &Job) -> Result<(), Invalid> {
    id("job.id", job.id.0)?;
    text("job.who", "whoever works", &job.who, true)?;
    short("job.title", &job.title, MAX_WORDS)?;
    if job.ended.is_some_and(|end| end < job.begun) {
        return Err(Invalid::new("job.ended", "a job cannot end before it begins"));
    }
    if let Some(stopped) = &job.stopped {
        short("job.stopped.why", &stopped.why, MAX_WORDS)?;
    }
    let mut keys: Vec<&str> = job.steps.iter().map(|step| step.key.as_str()).collect();
    keys.sort_unstable();
    if keys.windows(2).any(|pair| pair[0] == pair[1]) {
        return Err(Invalid::new("job.steps", "two steps have the same name"));
    }
    if job.done.iter().any(|done| !keys.contains(&done.step.as_str())) {
        return Err(Invalid::new("job.done", "a step that was done is none of the job's"));
    }
    job.steps.iter().try_for_each(|step| short("job.steps", &step.what, MAX_STEP))
}
