//! Because a point is believed, in a sentence or two: the reasons as data, worded at the edge.

use serde::Serialize;
use utoipa::ToSchema;

use crate::house::Seen;
use crate::trace::prior::HintKind;
use crate::trace::tracker::Tracker;

/// What the belief in the likeliest source rests on.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, ToSchema)]
#[serde(tag = "why", rename_all = "kebab-case")]
pub enum Because {
    /// Seen dead with its breaker off.
    DeadWith {
        /// So often.
        times: usize,
    },
    /// Seen alive with its breaker on and others off.
    AliveWithout {
        /// So often.
        times: usize,
    },
    /// The receiver pointed at it.
    Pointed,
    /// A job wired it there.
    Landed,
    /// Its current rose with the load, or its wire was followed.
    Measured,
    /// The old label says so.
    LabelAgrees,
    /// The old label of its breaker says something else.
    LabelDisagrees,
    /// Points near by hang there as well.
    Neighbours,
    /// Readings disagree with it.
    Against {
        /// So many.
        times: usize,
    },
    /// Nothing was looked at; it is a guess.
    Guess,
}

/// The reasons for a source of a point, the strongest sort first.
pub fn explain(tracker: &Tracker<'_>, p: usize, source: usize) -> Vec<Because> {
    let n = tracker.model.breakers();
    let mut why = Vec::new();
    let looks = || tracker.seen[p].looks.iter().filter(|l| !l.void);
    let cut = |dead: &[bool]| source == n + 1 || source < n && dead[source];
    let (mut dead, mut alive, mut against) = (0, 0, 0);
    for look in looks() {
        match &look.power {
            Some((set, Seen::Dead)) if cut(&set.dead) => dead += 1,
            Some((set, Seen::Live)) if !cut(&set.dead) => alive += usize::from(set.off.contains(&true)),
            Some((_, Seen::Unsure)) | None => {}
            Some(_) => against += 1,
        }
    }
    let counted = [
        (dead, Because::DeadWith { times: dead }),
        (alive, Because::AliveWithout { times: alive }),
        (against, Because::Against { times: against }),
    ];
    why.extend(counted.into_iter().filter(|(times, _)| *times > 0).map(|(_, why)| why));
    if source < n {
        if looks().any(|l| l.pointed == Some(source)) {
            why.push(Because::Pointed);
        }
        if looks().any(|l| l.landed == Some(source)) {
            why.push(Because::Landed);
        }
        if looks().any(|l| l.power.is_none() && l.pointed.is_none() && l.landed.is_none() && speaks_for(&l.log, source))
        {
            why.push(Because::Measured);
        }
        let label = tracker.model.label[p * n + source].as_ref().map(|fit| (fit.kind, fit.odds));
        match label {
            Some((HintKind::LabelNamesThing | HintKind::LabelNamesRoom, odds)) if odds > 1.0 => {
                why.push(Because::LabelAgrees)
            }
            Some((HintKind::LabelNamesOther | HintKind::LabelSaysSpare, _)) => why.push(Because::LabelDisagrees),
            _ => {}
        }
        if tracker.neighbours_say(p, source).is_some_and(|odds| odds > 1.0) {
            why.push(Because::Neighbours);
        }
    }
    let told = [Because::Pointed, Because::Measured, Because::Landed];
    if dead + alive + against == 0 && !told.iter().any(|told| why.contains(told)) {
        why.push(Because::Guess);
    }
    why
}

/// A look makes this source more probable than the middle of all.
fn speaks_for(log: &[f64], source: usize) -> bool {
    log.iter().filter(|l| **l < log[source]).count() > log.len() / 2
}
