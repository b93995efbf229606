//! Contradictions: points whose observations do not fit one simple story, what each piece would mean if it were wrong,
//! and the stories that would explain all of them at once. Where one slip at the panel explains several points, they are one
//! doubt. A reading by itself against all that its neighbours say is looked at again.

use serde::Serialize;
use utoipa::ToSchema;

use crate::base::{Said, said};
use crate::house::{BreakerId, EvidenceId, House, PointId, PointKind, Seen};
use crate::trace::advise::QuickCheck;
use crate::trace::belief::{BreakerRef, name};
use crate::trace::likelihood::{ODD, USUAL_MISREAD};
use crate::trace::look::Look;
use crate::trace::session::{self, HandleSlip, SlipTale};
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
    /// Nothing contradicts: a reading by itself overrules what was nearly sure, and is worth a second look.
    pub second_look: bool,
    /// Other points whose answers the same story explains.
    pub also: Vec<AlsoDoubted>,
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

/// A point that is explained along with another.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
pub struct AlsoDoubted {
    /// The point.
    pub point: PointId,
    /// Its tag,
    pub tag: String,
    /// and what it is called.
    pub name: String,
}

/// How looks are put right, as the change that does it takes it.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
pub struct Correction {
    /// Which looks.
    pub looks: Vec<EvidenceId>,
    /// What was off as well in them,
    pub off: Vec<BreakerId>,
    /// and what was on.
    pub on: Vec<BreakerId>,
}

/// An observation that does not fit.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
pub struct Odd {
    /// Which,
    pub evidence: EvidenceId,
    /// at which point, by its tag,
    pub tag: String,
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
    /// How the looks are put right if it was so; nothing where it was no slip at the panel.
    pub correction: Option<Correction>,
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
    /// In the looks of one session another breaker was off as well: forgotten, or tripped.
    AlsoOff,
    /// The breaker that is noted as off was on.
    StayedOn,
    /// Another breaker was off than is noted.
    AnotherOff,
}

said!(StoryKind {
    TwoCircuits =>
        "fed by two circuits at once: dead only with both off. A fault, and a danger to whoever trusts one",
    EitherCircuit => "goes dead with either: two circuits in one box or on one neutral, or it needs both",
    Elsewhere => "fed from elsewhere: it stays live whatever is off here. Stop, and call an electrician",
    DeadAnyway => "has no power anyway",
    ChangedSince => "was changed in between: first on one, later on the other",
    AlsoOff => "was off as well",
    StayedOn => "was on all the time",
    AnotherOff => "was the one that was off",
});

/// A story is told when it explains that much better, in bits: rare things need more than one reading.
const WORTH_TELLING: f64 = 4.0;
/// One breaker was nearly sure: neighbours, label and rating together.
const NEARLY_SURE: f64 = 0.6;
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

    /// Contradictions: first what one story explains at several points, then points in walking order, then what is looked at
    /// again.
    #[must_use]
    pub fn doubts(&self) -> Vec<Doubt> {
        let odd: Vec<(usize, Vec<Odd>)> = (0..self.seen.len()).filter_map(|p| Some((p, against(self, p)?))).collect();
        let points: Vec<usize> = odd.iter().map(|(p, _)| *p).collect();
        let tales = session::tales(self, &points);
        let told: Vec<usize> = tales.iter().flat_map(|tale| tale.points.iter().copied()).collect();
        let of = |points: &[usize]| -> Vec<Odd> {
            odd.iter().filter(|(p, _)| points.contains(p)).flat_map(|(_, odd)| odd.clone()).collect()
        };
        let together = tales.iter().map(|tale| told_together(self, tale, of(&tale.points)));
        let alone = points.iter().filter(|p| !told.contains(p)).map(|p| alone(self, *p, of(&[*p])));
        let again = (0..self.seen.len()).filter(|p| !points.contains(p)).filter_map(|p| again(self, p));
        together.chain(alone).chain(again).collect()
    }
}

fn clear_looks<'t>(tracker: &'t Tracker<'_>, p: usize) -> impl Iterator<Item = &'t Look> {
    tracker.seen[p].looks.iter().filter(|l| l.direct && !l.void)
}

/// The looks at a point that do not fit, the least probable first; nothing where all is explained.
fn against(tracker: &Tracker<'_>, p: usize) -> Option<Vec<Odd>> {
    let likeliest = tracker.likeliest(p);
    let odd_one = |look: &Look| {
        let chance = look.log[likeliest].exp();
        (chance < ODD).then(|| odd(tracker, p, look, chance))
    };
    let looks = clear_looks(tracker, p).filter_map(odd_one);
    let mut against: Vec<Odd> = if tracker.is_explained(p) { rises_elsewhere(tracker, p) } else { looks.collect() };
    against.sort_by(|a, b| a.chance.total_cmp(&b.chance));
    (!against.is_empty()).then_some(against)
}

/// What a clamp showed against the breaker that all looks speak for: a current is no probability, so that it counts by how much better
/// another one would explain it.
fn rises_elsewhere(tracker: &Tracker<'_>, p: usize) -> Vec<Odd> {
    let likeliest = tracker.likeliest(p);
    let odd_one = |look: &Look| {
        let best = tracker.model.possible(p).map(|b| look.log[b]).fold(f64::NEG_INFINITY, f64::max);
        let chance = (look.log[likeliest] - best).exp();
        (chance < ODD).then(|| odd(tracker, p, look, chance))
    };
    tracker.seen[p].looks.iter().filter(|look| look.measured && !look.void).filter_map(odd_one).collect()
}

fn doubted(tracker: &Tracker<'_>, p: usize, check: QuickCheck, with: Option<BreakerRef>, against: Vec<Odd>) -> Doubt {
    let house = tracker.model.house;
    let AlsoDoubted { point, tag, name } = also(tracker, p);
    let said = words::check(house, check.said(), with.as_ref());
    Doubt { point, tag, name, second_look: false, also: Vec::new(), check, said, with, against, stories: Vec::new() }
}

fn also(tracker: &Tracker<'_>, p: usize) -> AlsoDoubted {
    let point = tracker.model.points[p];
    let name = tracker.model.house.points.get(point.id).map_or_else(String::new, |p| tracker.model.house.called(p));
    AlsoDoubted { point: point.id, tag: point.tag.clone(), name }
}

fn alone(tracker: &Tracker<'_>, p: usize, against: Vec<Odd>) -> Doubt {
    let point = tracker.model.points[p];
    let check = match point.kind {
        _ if tracker.seen[p].tried => QuickCheck::LookAgain,
        PointKind::Light if tracker.nothing(p) > tracker.model.nothing[p] => QuickCheck::Switch,
        _ if point.protected_by.is_some() || point.ground_fault => QuickCheck::Device,
        _ => QuickCheck::LookAgain,
    };
    let with = tracker.top(p).map(|(b, _)| name(&tracker.model, b));
    let stories = stories(tracker, p, &clear_looks(tracker, p).collect::<Vec<_>>());
    Doubt { stories, ..doubted(tracker, p, check, with, against) }
}

/// What one slip at the panel explains.
fn told_together(tracker: &Tracker<'_>, tale: &SlipTale, against: Vec<Odd>) -> Doubt {
    let named = |b: usize| name(&tracker.model, b);
    let id = |b: usize| tracker.model.net.breakers[b].id;
    let kind = match tale.stood {
        HandleSlip::AlsoOff(_) => StoryKind::AlsoOff,
        HandleSlip::On(_) => StoryKind::StayedOn,
        HandleSlip::Instead { .. } => StoryKind::AnotherOff,
    };
    let (off, on) = tale.stood.changes();
    let noted: Vec<BreakerRef> = tale.noted.iter().map(|b| named(*b)).collect();
    let about: Vec<BreakerRef> = off.or(on).into_iter().map(named).collect();
    let told = about.first().map(|b| words::session(tracker.model.house, &noted, (b, kind.said()), tale.points.len()));
    let story = Story {
        kind,
        breakers: about,
        said: told.unwrap_or_default(),
        bits: tale.weight / std::f64::consts::LN_2,
        correction: Some(Correction {
            looks: tale.looks.clone(),
            off: off.into_iter().map(id).collect(),
            on: on.into_iter().map(id).collect(),
        }),
    };
    let first = tale.points[0];
    let doubt = doubted(tracker, first, QuickCheck::LookAgain, noted.first().cloned(), against);
    Doubt { also: tale.points[1..].iter().map(|p| also(tracker, *p)).collect(), stories: vec![story], ..doubt }
}

/// A single live reading that overrules what was nearly sure, of a point that nothing has shown dead yet: a tester that slips
/// would look just like it, and somebody may take the point for dead with another breaker later.
fn again(tracker: &Tracker<'_>, p: usize) -> Option<Doubt> {
    let seen_as = |look: &Look| look.power.as_ref().map(|(_, seen)| *seen);
    if clear_looks(tracker, p).any(|look| seen_as(look) == Some(Seen::Dead)) {
        return None;
    }
    let n = tracker.model.breakers();
    let was_sure_of = |look: &&Look| {
        let (set, _) = look.power.as_ref()?;
        let row = tracker.without(p, look);
        let top = (0..n).max_by(|a, b| row[*a].total_cmp(&row[*b]))?;
        (set.dead[top] && row[top] >= NEARLY_SURE).then_some(top)
    };
    let (look, top) = clear_looks(tracker, p).find_map(|look| Some((look, was_sure_of(&look)?)))?;
    let against = vec![odd(tracker, p, look, tracker.chance(p, look))];
    let doubt = doubted(tracker, p, QuickCheck::LookAgain, Some(name(&tracker.model, top)), against);
    Some(Doubt { second_look: true, ..doubt })
}

fn odd(tracker: &Tracker<'_>, p: usize, look: &Look, chance: f64) -> Odd {
    let n = tracker.model.breakers();
    let row = tracker.without(p, look);
    let top = (0..n).max_by(|a, b| row[*a].total_cmp(&row[*b])).filter(|b| row[*b] > 0.5);
    Odd {
        evidence: look.id,
        tag: tracker.model.points[p].tag.clone(),
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
    let may: Vec<usize> = tracker.model.possible(p).collect();
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
            stories.push(Story { kind, breakers, said, bits: bits(log), correction: None });
        }
    }
    stories
}
