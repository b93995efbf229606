//! What makes a belief proven.

use serde::Serialize;
use utoipa::ToSchema;

use crate::base::said;
use crate::house::{Point, PointKind, Seen};
use crate::trace::look::Look;
use crate::trace::tracker::Tracker;

/// How far the knowledge of a point is.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, ToSchema)]
#[serde(rename_all = "kebab-case")]
pub enum Status {
    /// Sure enough, seen dead with its breaker off, and confirmed.
    Proven,
    /// One breaker is more likely than all else together.
    Likely,
    /// Nothing is more likely than all else together.
    Unknown,
    /// Surely none of the breakers.
    NoBreaker,
    /// A thing at 240 V, surely on two single-pole breakers together: dead only with both off.
    TwoHandles,
}

said!(Status {
    Proven => "proven",
    Likely => "likely",
    Unknown => "not known",
    NoBreaker => "no breaker",
    TwoHandles => "on two handles",
});

impl Status {
    /// True where nothing more is wanted of a point.
    #[must_use]
    pub fn is_settled(self) -> bool {
        match self {
            Self::Proven | Self::NoBreaker | Self::TwoHandles => true,
            Self::Likely | Self::Unknown => false,
        }
    }
}

/// What a point lacks for proof.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, ToSchema)]
#[serde(rename_all = "kebab-case")]
pub enum Missing {
    /// The belief is below the house's threshold.
    Certainty,
    /// It was never seen dead with its breaker off.
    SeenDead,
    /// It was not seen to come back, nor confirmed a second way.
    SeenBack,
    /// No reading tells its breaker from another one: both were off in all the same looks, and only a label or habit
    /// speaks for one of them.
    ToldApart,
    /// It was dark in all looks, and nobody tried yet whether its switch, its lamp or its device holds it off.
    Tried,
}

said!(Missing {
    Certainty => "more readings, to be sure enough",
    SeenDead => "to be seen dead with its breaker off",
    SeenBack => "to be seen coming back when that is on again",
    ToldApart => "a look with its breaker off and those that it may be taken for on",
    Tried => "its switch, lamp or ground-fault device to be tried while its breakers are on",
});

/// Direct looks before "none of these" is settled: a single dead reading is more often a switch that is off.
const LOOKS_FOR_NONE: usize = 3;

/// Told apart by readings are two breakers where one explains them so much worse: a single clear reading does it.
const TOLD_APART: f64 = 0.1;

/// Breakers that no reading tells from this one, by falling probability. Poles rule out for certain; labels, ratings,
/// neighbours and hearsay make a breaker likely or not and rule out nothing.
pub fn rivals(tracker: &Tracker<'_>, point: usize, breaker: usize) -> Vec<usize> {
    let (belief, fit) = (tracker.belief(point), &tracker.seen[point].read);
    let least = fit[breaker] + TOLD_APART.ln();
    let mut rivals: Vec<usize> = tracker.model.possible(point).filter(|b| *b != breaker && fit[*b] > least).collect();
    rivals.sort_by(|a, b| belief[*b].total_cmp(&belief[*a]));
    rivals
}

/// What is missing for proof of the likeliest breaker.
///
/// Confirmed is a dead reading by a second observation: alive again, alive while others were off, dead with other
/// handles off around it, or pointed out, or its wire followed. The same handles once more confirm nothing: a light that is switched off looks
/// dead each time. Nor does "alive with all on" before anything was off. Work that ended with a reading there has proven it
/// as well (handbook 2.2).
pub fn missing(tracker: &Tracker<'_>, point: usize) -> Vec<Missing> {
    let Some((top, p)) = tracker.top(point) else {
        return vec![Missing::Certainty, Missing::SeenDead, Missing::SeenBack, Missing::ToldApart];
    };
    let mut dead_with = Vec::new();
    let mut confirmed = false;
    let mut alive_before = false;
    let mut landed = false;
    for look in tracker.seen[point].looks.iter().filter(|l| !l.void) {
        confirmed |= look.pointed == Some(top);
        landed |= look.landed == Some(top);
        let Some((set, seen)) = &look.power else { continue };
        if !look.direct {
            continue;
        }
        match seen {
            Seen::Dead if set.off[top] => {
                confirmed |= dead_with.iter().any(|other| *other != set);
                dead_with.push(set);
            }
            Seen::Live if !set.dead[top] => {
                confirmed |= !dead_with.is_empty();
                alive_before |= set.off.contains(&true);
            }
            _ => {}
        }
    }
    let mut missing = Vec::new();
    if p < tracker.model.house.about.proof_threshold {
        missing.push(Missing::Certainty);
    }
    if dead_with.is_empty() && !landed {
        missing.push(Missing::SeenDead);
    }
    if !(confirmed || alive_before || landed) {
        missing.push(Missing::SeenBack);
    }
    if !rivals(tracker, point, top).is_empty() {
        missing.push(Missing::ToldApart);
    }
    if tracker.nothing(point) > 0.5 && may_be_tried(tracker.model.points[point]) && !tracker.seen[point].tried {
        missing.push(Missing::Tried);
    }
    missing
}

/// Something that can be moved stands between the point and its breaker.
fn may_be_tried(point: &Point) -> bool {
    point.kind == PointKind::Light
        || point.ground_fault
        || point.protected_by.is_some()
        || !point.switched_by.is_empty()
}

/// "None of these" is said only from looks that were made: alive with each breaker off that it may hang on, or else dark with
/// each of them on, and with what may hold it off tried.
fn looked_for_none(tracker: &Tracker<'_>, point: usize, missing: &[Missing]) -> bool {
    let looks = || tracker.seen[point].looks.iter().filter(|l| l.direct && !l.void);
    let each = |wanted: Seen, dead: bool| {
        let told = |b: usize, look: &Look| match &look.power {
            // What was put in later is not what fed it then.
            Some(_) if !tracker.model.net.breakers[b].stood(look.time) => true,
            Some((set, seen)) => *seen == wanted && set.dead[b] == dead,
            None => false,
        };
        let mut possible = tracker.model.possible(point).peekable();
        possible.peek().is_some() && possible.all(|b| looks().any(|look| told(b, look)))
    };
    if looks().count() < LOOKS_FOR_NONE {
        false
    } else if tracker.elsewhere(point) >= tracker.nothing(point) {
        each(Seen::Live, true)
    } else {
        each(Seen::Dead, false) && !missing.contains(&Missing::Tried)
    }
}

/// How far a point is, given what it lacks.
pub fn status(tracker: &Tracker<'_>, point: usize, missing: &[Missing]) -> Status {
    let threshold = tracker.model.house.about.proof_threshold;
    let none = tracker.elsewhere(point) + tracker.nothing(point);
    let direct = tracker.seen[point].looks.iter().filter(|l| l.direct && !l.void).count();
    if missing.is_empty() {
        Status::Proven
    } else if none >= threshold && looked_for_none(tracker, point, missing) {
        Status::NoBreaker
    } else if tracker.pairs(point).first().is_some_and(|pair| pair.p >= threshold) && direct >= LOOKS_FOR_NONE {
        Status::TwoHandles
    } else if tracker.top(point).is_some_and(|(_, p)| p > 0.5) {
        Status::Likely
    } else {
        Status::Unknown
    }
}

/// True where nothing more is wanted of a point.
pub fn is_settled(tracker: &Tracker<'_>, point: usize) -> bool {
    let missing = missing(tracker, point);
    status(tracker, point, &missing).is_settled()
}
