//! Breakers that may feed a point, as far as they cannot be ruled out.
//!
//! For work on a point it is not enough to know what is likely: labels and habits, which make a breaker likely or not
//! beforehand, must not rule anything out. Here only direct readings do, and a single one, which may be a slip, does
//! not suffice.

use std::collections::BTreeMap;

use crate::house::{House, PointId};
use crate::trace::beliefs::{BreakerRef, name};
use crate::trace::proof::{self, Status};
use crate::trace::tracker::Tracker;

/// Ruled out is a breaker whose readings are this much less probable than under the best explanation: two readings
/// against it at the usual rate of slips (1 to 2 % each).
const RULED_OUT: f64 = 0.002;
/// Breakers that were off in all the same readings as the proven one were told apart from it by labels alone: not enough
/// for whoever works there.
const NOT_TOLD_APART: f64 = 0.1;
/// Beside a proven breaker, others are told of only where they are at least so probable.
const BESIDE_PROVEN: f64 = 0.01;

/// What may feed a point.
#[derive(Debug, Clone, PartialEq)]
pub struct Suspects {
    /// How far the point is.
    pub status: Status,
    /// Breakers by falling probability: the proven one, or all that are not ruled out.
    pub breakers: Vec<(BreakerRef, f64)>,
    /// Probability that it stays live whatever is off.
    pub elsewhere: f64,
}

/// What may feed each point.
pub fn suspects(house: &House) -> BTreeMap<PointId, Suspects> {
    let tracker = Tracker::new(house);
    (0..tracker.seen.len()).map(|p| (tracker.model.points[p].id, suspects_of(&tracker, p))).collect()
}

fn suspects_of(tracker: &Tracker<'_>, p: usize) -> Suspects {
    let n = tracker.model.breakers();
    let chances = &tracker.belief(p)[..n];
    // How well each source explains the readings alone.
    let fit = &tracker.seen[p].log;
    let status = proof::status(tracker, p, &proof::missing(tracker, p));
    let kept: Vec<usize> = if status == Status::Proven {
        let top = tracker.top(p).map(|(top, _)| top);
        let least = top.map_or(0.0, |t| fit[t]) + NOT_TOLD_APART.ln();
        let rival = |b: &usize| chances[*b] >= BESIDE_PROVEN || (chances[*b] > 0.0 && fit[*b] > least);
        (0..n).filter(|b| Some(*b) == top || rival(b)).collect()
    } else {
        let best = fit.iter().copied().fold(f64::NEG_INFINITY, f64::max);
        // A breaker that its poles rule out has no chance at all.
        (0..n).filter(|b| chances[*b] > 0.0 && fit[*b] - best > RULED_OUT.ln()).collect()
    };
    let mut breakers: Vec<_> = kept.into_iter().map(|b| (name(&tracker.model, b), chances[b])).collect();
    breakers.sort_by(|a, b| b.1.total_cmp(&a.1));
    Suspects { status, breakers, elsewhere: tracker.elsewhere(p) }
}
