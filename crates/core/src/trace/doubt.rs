//! Contradictions: points whose observations do not fit one simple story, what each piece would mean if it were wrong,
//! and the stories that would explain all of them at once.

use serde::Serialize;
use utoipa::ToSchema;

use crate::base::{Said, said};
use crate::house::{EvidenceId, House, PointId, PointKind, Seen};
use crate::trace::advise::QuickCheck;
use crate::trace::belief::{BreakerRef, name};
use crate::trace::likelihood::{ODD, USUAL_MISREAD};
use crate::trace::look::Look;
use crate::trace::tracker::Tracker;
use crate::trace::words;

/// A point whose observations disagree.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
pub struct Doubt {
    /// The point.
    pub point: PointId,
    /// Its tag,
    pub tag: String,
    /// and what it is called.
    pub name: String,
    /// The cheapest check that would settle it,
    pub check: QuickCheck,
    /// and that in words.
    pub said: String,
    /// The breaker for which that check is best made, off.
    pub with: Option<BreakerRef>,
    /// Observations that the likeliest story makes improbable, the least probable first.
    pub against: Vec<Odd>,
    /// Stories that explain all observations better, the best first.
    pub stories: Vec<Story>,
}

/// An observation that does not fit.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
pub struct Odd {
    /// Which,
    pub evidence: EvidenceId,
    /// and what it was.
    pub said: String,
    /// How probable it is if the likeliest source is the true one, 0 to 1.
    pub chance: f64,
    /// What would be believed without it; nothing where no breaker would be likely.
    pub without: Option<BreakerRef>,
    /// How sure that would be.
    pub sure: f64,
}

/// A story that explains everything seen at a point.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
pub struct Story {
    /// What it is.
    pub kind: StoryKind,
    /// The breakers it is about.
    pub breakers: Vec<BreakerRef>,
    /// All that in words.
    pub said: String,
    /// How many times more probable it makes the observations than the likeliest simple one, as a power of two.
    pub bits: f64,
}

/// Faults and events that explain contradictions.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, ToSchema)]
#[serde(rename_all = "kebab-case")]
pub enum StoryKind {
    /// Two circuits feed the point: it is dead only with both off. A fault, and a danger.
    TwoCircuits,
    /// It loses power with either: it needs both, or two circuits share its box or neutral.
    EitherCircuit,
    /// Nothing here cuts it: another panel or a backfeed. A danger.
    Elsewhere,
    /// It has no power anyway.
    DeadAnyway,
    /// What feeds it has been changed since.
    ChangedSince,
}

said!(StoryKind {
    TwoCircuits =>
        "fed by two circuits at once: dead only with both off. A fault, and a danger to whoever trusts one",
    EitherCircuit => "goes dead with either: two circuits in one box or on one neutral, or it needs both",
    Elsewhere => "fed from elsewhere: it stays live whatever is off here. Stop, and call an electrician",
    DeadAnyway => "has no power anyway",
    ChangedSince => "was changed in between: first on one, later on the other",
});

/// A story is told when it explains that much better, in bits: rare things need more than one reading.
const WORTH_TELLING: f64 = 4.0;
/// Stories told for a point.
const MOST_STORIES: usize = 3;

/// The contradictions of a house, points in walking order.
#[must_use]
pub fn doubts(house: &House) -> Vec<Doubt> {
    Tracker::new(house).doubts()
}

impl Tracker<'_> {
    /// One of the breakers that it may hang on makes every look of a point what was to be expected: where a label or habit
    /// speaks for another one, that is no contradiction.
    pub(super) fn is_explained(&self, p: usize) -> bool {
        let looks = || self.seen[p].looks.iter().filter(|l| l.direct && !l.void);
        looks().next().is_some() && self.model.possible(p).any(|b| looks().all(|look| look.log[b].exp() >= ODD))
    }

    /// The contradictions, points in walking order.
    #[must_use]
    pub fn doubts(&self) -> Vec<Doubt> {
        (0..self.seen.len()).filter_map(|p| doubt(self, p)).collect()
    }
}

fn doubt(tracker: &Tracker<'_>, p: usize) -> Option<Doubt> {
    let looks: Vec<&Look> = tracker.seen[p].looks.iter().filter(|l| l.direct && !l.void).collect();
    let mut against: Vec<Odd> = looks
        .iter()
        .filter_map(|look| {
            let chance = look.log[tracker.likeliest(p)].exp();
            (chance < ODD).then(|| odd(tracker, p, look, chance))
        })
        .collect();
    if against.is_empty() || tracker.is_explained(p) {
        return None;
    }
    against.sort_by(|a, b| a.chance.total_cmp(&b.chance));
    let point = tracker.model.points[p];
    let check = match point.kind {
        _ if tracker.seen[p].tried => QuickCheck::LookAgain,
        PointKind::Light if tracker.nothing(p) > tracker.model.nothing[p] => QuickCheck::Switch,
        _ if point.protected_by.is_some() || point.ground_fault => QuickCheck::Device,
        _ => QuickCheck::LookAgain,
    };
    let with = tracker.top(p).map(|(b, _)| name(&tracker.model, b));
    Some(Doubt {
        point: point.id,
        tag: point.tag.clone(),
        name: tracker.model.house.points.get(point.id).map_or_else(String::new, |p| tracker.model.house.called(p)),
        check,
        said: words::check(tracker.model.house, check.said(), with.as_ref()),
        with,
        against,
        stories: stories(tracker, p, &looks),
    })
}

fn odd(tracker: &Tracker<'_>, p: usize, look: &Look, chance: f64) -> Odd {
    let n = tracker.model.breakers();
    let row = tracker.without(p, look);
    let top = (0..n).max_by(|a, b| row[*a].total_cmp(&row[*b])).filter(|b| row[*b] > 0.5);
    Odd {
        evidence: look.id,
        said: words::observed(tracker.model.house, look.id),
        chance,
        without: top.map(|b| name(&tracker.model, b)),
        sure: top.map_or(0.0, |b| row[b]),
    }
}

/// Logarithm of how probable the looks are when the point is dead just where `dead` says.
fn told(looks: &[&Look], dead: impl Fn(usize, &[bool]) -> bool) -> f64 {
    let one = |(nth, look): (usize, &&Look)| match &look.power {
        Some((set, seen)) if *seen != Seen::Unsure => {
            let fits = dead(nth, &set.dead) == (*seen == Seen::Dead);
            // A reading that a story gets wrong is as rare as any misread.
            (if fits { 1.0 - USUAL_MISREAD } else { USUAL_MISREAD }).ln()
        }
        _ => 0.0,
    };
    looks.iter().enumerate().map(one).sum()
}

fn stories(tracker: &Tracker<'_>, p: usize, looks: &[&Look]) -> Vec<Story> {
    let n = tracker.model.breakers();
    let may: Vec<usize> = (0..n).filter(|b| tracker.model.rating[p * n + b] > 0.0).collect();
    let simple = may.iter().map(|b| told(looks, |_, dead| dead[*b])).fold(f64::NEG_INFINITY, f64::max);
    let mut found: Vec<(StoryKind, Vec<usize>, f64)> = vec![
        (StoryKind::Elsewhere, Vec::new(), told(looks, |_, _| false)),
        (StoryKind::DeadAnyway, Vec::new(), told(looks, |_, _| true)),
    ];
    for (i, a) in may.iter().enumerate() {
        for b in &may[i + 1..] {
            found.push((StoryKind::TwoCircuits, vec![*a, *b], told(looks, |_, dead| dead[*a] && dead[*b])));
            found.push((StoryKind::EitherCircuit, vec![*a, *b], told(looks, |_, dead| dead[*a] || dead[*b])));
        }
    }
    for since in 1..looks.len() {
        // Before and after, each with the breaker that fits best there.
        let best = |part: &[&Look]| {
            may.iter().copied().max_by(|a, b| told(part, |_, dead| dead[*a]).total_cmp(&told(part, |_, dead| dead[*b])))
        };
        if let Some((old, new)) = best(&looks[..since]).zip(best(&looks[since..])).filter(|(a, b)| a != b) {
            let fit = told(looks, |nth, dead| if nth < since { dead[old] } else { dead[new] });
            found.push((StoryKind::ChangedSince, vec![old, new], fit));
        }
    }
    found.sort_by(|a, b| b.2.total_cmp(&a.2));
    let bits = |log: f64| (log - simple) / std::f64::consts::LN_2;
    let mut told_of = Vec::new();
    let mut stories = Vec::new();
    for (kind, breakers, log) in found {
        // One of a kind: of many pairs that fit as well none is worth naming twice.
        if bits(log) >= WORTH_TELLING && !told_of.contains(&kind) && stories.len() < MOST_STORIES {
            told_of.push(kind);
            let breakers: Vec<_> = breakers.into_iter().map(|b| name(&tracker.model, b)).collect();
            let said = words::story(tracker.model.house, kind.said(), &breakers);
            stories.push(Story { kind, breakers, said, bits: bits(log) });
        }
    }
    stories
}
