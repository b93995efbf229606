//! Breakers that may feed a point, as far as they cannot be ruled out.
//!
//! For work on a point it is not enough to know what is likely: labels and habits, which make a breaker likely or not
//! beforehand, must not rule anything out. Here only direct readings do, and a single one, which may be a slip, does
//! not suffice.

use std::collections::BTreeMap;

use crate::edit::MayFeed;
use crate::house::{BreakerId, House, PointId};
use crate::trace::belief::{BreakerRef, name};
use crate::trace::likelihood::RULED_OUT;
use crate::trace::proof::{self, Status};
use crate::trace::tracker::Tracker;

/// Beside a proven breaker, others are told of only where they are at least so probable.
const BESIDE_PROVEN: f64 = 0.01;

/// What may feed a point.
#[derive(Debug, Clone, PartialEq)]
pub struct Suspects {
    /// How far the point is.
    pub status: Status,
    /// Breakers by falling probability: the proven one, or all that are not ruled out.
    pub breakers: Vec<(BreakerRef, f64)>,
    /// Two handles that may feed it together, where no single one does, with how probable that is.
    pub pairs: Vec<([BreakerRef; 2], f64)>,
    /// Probability that it stays live whatever is off.
    pub elsewhere: f64,
}

impl Suspects {
    /// True where the breaker may feed the point, alone or with another.
    pub fn names(&self, breaker: BreakerId) -> bool {
        self.all().any(|b| b == breaker)
    }

    /// All breakers that may feed the point, alone or with another.
    pub fn all(&self) -> impl Iterator<Item = BreakerId> {
        let alone = self.breakers.iter().map(|(b, _)| b);
        alone.chain(self.pairs.iter().flat_map(|(pair, _)| pair)).map(|b| b.breaker)
    }
}

impl Tracker<'_> {
    /// What may feed each point.
    pub(crate) fn suspects(&self) -> BTreeMap<PointId, Suspects> {
        (0..self.seen.len()).map(|p| (self.model.points[p].id, suspects_of(self, p))).collect()
    }
}

/// For each point the breakers that may feed it, alone or with another.
pub fn may_feed(house: &House) -> MayFeed {
    Tracker::new(house).suspects().into_iter().map(|(point, s)| (point, s.all().collect())).collect()
}

fn suspects_of(tracker: &Tracker<'_>, p: usize) -> Suspects {
    let n = tracker.model.breakers();
    let chances = &tracker.belief(p)[..n];
    // How well each source explains the readings alone.
    let fit = &tracker.seen[p].read;
    let status = proof::status(tracker, p, &proof::missing(tracker, p));
    let kept: Vec<usize> = if status == Status::Proven {
        let top = tracker.top(p).map(|(top, _)| top);
        (0..n).filter(|b| Some(*b) == top || chances[*b] >= BESIDE_PROVEN).collect()
    } else {
        let best = fit.iter().copied().fold(f64::NEG_INFINITY, f64::max);
        tracker.model.possible(p).filter(|b| fit[*b] - best > RULED_OUT.ln()).collect()
    };
    let mut breakers: Vec<_> = kept.into_iter().map(|b| (name(&tracker.model, b), chances[b])).collect();
    breakers.sort_by(|a, b| b.1.total_cmp(&a.1));
    let named = |b: usize| name(&tracker.model, b);
    let pairs = tracker.pairs(p).iter().map(|pair| (pair.breakers.map(named), pair.p)).collect();
    Suspects { status, breakers, pairs, elsewhere: tracker.elsewhere(p) }
}
