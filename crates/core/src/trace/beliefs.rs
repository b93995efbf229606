//! The map as it is believed: for each point its candidates, how sure, why, and what is missing for proof.

use serde::Serialize;
use utoipa::ToSchema;

use crate::house::{BreakerId, EvidenceId, House, PointId};
use crate::trace::explain::{Because, explain};
use crate::trace::model::Model;
use crate::trace::prior::{Hint, HintKind};
use crate::trace::proof::{self, Missing, Status};
use crate::trace::tracker::{Look, Tracker};
use crate::trace::verdict::{Level, PointVerdict};
use crate::trace::words;

/// The whole map.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
pub struct Beliefs {
    /// The house's revision this is of.
    pub revision: u64,
    /// Points in walking order.
    pub points: Vec<PointBelief>,
    /// Breakers by panel and position, with what they feed.
    pub breakers: Vec<BreakerBelief>,
    /// How far the work is.
    pub progress: Progress,
}

/// How far the work is.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, ToSchema)]
pub struct Progress {
    /// Points in all.
    pub points: usize,
    /// Points with a proven breaker.
    pub proven: usize,
    /// Points that surely hang on none of the breakers.
    pub no_breaker: usize,
    /// Points at 240 V that surely hang on two handles together.
    pub two_handles: usize,
    /// Breakers in all.
    pub breakers: usize,
    /// Breakers whose list is proven.
    pub complete: usize,
}

impl Progress {
    /// True where every point is settled and there is one.
    #[must_use]
    pub fn is_settled(&self) -> bool {
        self.points > 0 && self.proven + self.no_breaker + self.two_handles == self.points
    }
}

/// What is believed of one point.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
pub struct PointBelief {
    /// The point.
    pub point: PointId,
    /// Its tag.
    pub tag: String,
    /// How far it is.
    pub status: Status,
    /// Proven: see [`Status::Proven`].
    pub proven: bool,
    /// Breakers by falling probability; those under 0.0005 are left out.
    pub candidates: Vec<Candidate>,
    /// Breakers that no reading tells from the likeliest one yet, though the point was seen dead with that off.
    pub not_told_apart: Vec<BreakerRef>,
    /// A thing at 240 V on two single-pole breakers: its handles, where no single handle explains the readings.
    pub two_handles: Option<TwoHandles>,
    /// Probability of "none of these breakers": the two below together.
    pub none: f64,
    /// Probability that no known breaker cuts it: danger, it stays live.
    pub elsewhere: f64,
    /// Probability that it has no power even with all on.
    pub no_power: f64,
    /// The observations, oldest first, with what each says of the likeliest source.
    pub reasons: Vec<Reason>,
    /// How many of them speak against it.
    pub against: usize,
    /// In short why its likeliest source is believed,
    pub why: Vec<Because>,
    /// and that in words, as half a sentence.
    pub because: String,
    /// What was known beforehand of the likeliest breaker.
    pub hints: Vec<Hint>,
    /// What is missing for proof,
    pub missing: Vec<Missing>,
    /// and that in words, after "it still needs".
    pub needs: String,
    /// How it stands, in words.
    pub verdict: PointVerdict,
}

impl PointBelief {
    /// It was seen alive with every breaker off that it may hang on.
    #[must_use]
    pub fn stays_live(&self) -> bool {
        self.status == Status::NoBreaker && self.elsewhere >= self.no_power
    }

    /// The same with its observations in words.
    #[must_use]
    pub fn told(mut self, house: &House) -> Self {
        for reason in &mut self.reasons {
            reason.said = words::observed(house, reason.evidence);
        }
        self
    }
}

/// Two handles that feed a point together; it is dead only with both off.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
pub struct TwoHandles {
    /// The likeliest two.
    #[schema(value_type = Vec<BreakerRef>)]
    pub breakers: [BreakerRef; 2],
    /// Probability that it hangs on two handles, whichever they are.
    pub p: f64,
}

/// A breaker named so that people and scripts find it.
#[derive(Debug, Clone, PartialEq, Eq, Serialize, ToSchema)]
pub struct BreakerRef {
    /// Its id.
    pub breaker: BreakerId,
    /// Its panel's name.
    pub panel: String,
    /// Its poles: `5-7`.
    pub at: String,
}

/// A breaker that may feed a point.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
pub struct Candidate {
    /// Which.
    #[serde(flatten)]
    pub at: BreakerRef,
    /// Probability, 0 to 1.
    pub p: f64,
}

/// What an observation says of the likeliest source.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
pub struct Reason {
    /// The observation,
    pub evidence: EvidenceId,
    /// and what it was, once it is told in words.
    pub said: String,
    /// For, against, or neither.
    pub says: Says,
    /// How strongly, in bits; negative against.
    pub bits: f64,
    /// Something held the point off at the time, as was found later: it counts no more.
    pub set_aside: bool,
}

/// For or against.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, ToSchema)]
#[serde(rename_all = "kebab-case")]
pub enum Says {
    /// Speaks for it.
    For,
    /// Contradicts it.
    Against,
    /// Neither.
    Neither,
}

/// What a breaker feeds.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
pub struct BreakerBelief {
    /// Which.
    #[serde(flatten)]
    pub at: BreakerRef,
    /// Points that go or may go dark with it, directly or through a panel it feeds.
    pub feeds: Vec<Fed>,
    /// How many further points are not ruled out.
    pub others: usize,
    /// Its list is proven: no open point may hang on it, and it feeds something, or somebody looked for what else was
    /// dead with it off and found nothing.
    pub complete: bool,
}

/// A point that goes dark with a breaker.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
pub struct Fed {
    /// The point.
    pub point: PointId,
    /// Its tag.
    pub tag: String,
    /// Probability that it goes dark with the breaker.
    pub p: f64,
    /// Whether its own breaker is proven.
    pub proven: bool,
    /// More likely than not.
    pub likely: bool,
    /// Through a panel that the breaker feeds.
    pub through: bool,
}

/// Candidates less likely than this are not listed; they still count in what is "none" or unsure.
const LISTED_FROM: f64 = 0.0005;
/// A point that may go dark with a breaker is listed there from this probability on,
const MAY_GO_DARK: f64 = 0.05;
/// and from this on at least counted: unknown is never shown as safe.
const NOT_RULED_OUT: f64 = 0.002;
/// An observation weaker than this (in bits) speaks neither for nor against.
const SPEAKS_FROM_BITS: f64 = 0.05;
/// What feeds every point, how sure, and why.
///
/// Bayes over every breaker that a point's voltage allows and "none of these"; points of a room and sort shift each
/// other ([`super::tracker`]).
#[must_use]
pub fn beliefs(house: &House) -> Beliefs {
    Tracker::new(house).beliefs()
}

/// Candidates of a point that a page shows.
const SHOWN: usize = 4;

impl Beliefs {
    /// What a page shows of all points at once: the likeliest candidates, and how many observations speak against; their
    /// reasons are left to who asks for one point.
    #[must_use]
    pub fn lean(&self) -> Self {
        let mut lean = self.clone();
        for point in &mut lean.points {
            point.candidates.truncate(SHOWN);
            point.reasons.clear();
            point.hints.clear();
            point.because.clear();
            point.verdict.said.clear();
        }
        lean
    }

    /// The same with every observation in words, which takes as long as the beliefs themselves.
    #[must_use]
    pub fn told(mut self, house: &House) -> Self {
        self.points = self.points.into_iter().map(|point| point.told(house)).collect();
        self
    }

    /// What is believed of one point.
    #[must_use]
    pub fn of(&self, point: PointId) -> Option<&PointBelief> {
        self.points.iter().find(|b| b.point == point)
    }
}

impl Tracker<'_> {
    /// The whole map.
    #[must_use]
    pub fn beliefs(&self) -> Beliefs {
        let points: Vec<PointBelief> = (0..self.seen.len()).map(|p| point_belief(self, p)).collect();
        let count = |status| points.iter().filter(|p| p.status == status).count();
        let breakers: Vec<_> = (0..self.model.breakers()).map(|b| breaker_belief(self, &points, b)).collect();
        Beliefs {
            revision: self.model.house.revision,
            progress: Progress {
                points: points.len(),
                proven: count(Status::Proven),
                no_breaker: count(Status::NoBreaker),
                two_handles: count(Status::TwoHandles),
                breakers: breakers.len(),
                complete: breakers.iter().filter(|b| b.complete).count(),
            },
            breakers,
            points,
        }
    }
}

/// Names a breaker.
pub(super) fn name(model: &Model<'_>, breaker: usize) -> BreakerRef {
    let b = model.net.breakers[breaker];
    let panel = model.house.panels.get(b.panel).map_or_else(String::new, |p| p.name.clone());
    BreakerRef { breaker: b.id, panel, at: b.at_text() }
}

fn point_belief(tracker: &Tracker<'_>, p: usize) -> PointBelief {
    let (model, point) = (&tracker.model, tracker.model.points[p]);
    let n = model.breakers();
    let belief = tracker.belief(p);
    let mut order: Vec<_> = belief[..n].iter().copied().enumerate().filter(|(_, p)| *p >= LISTED_FROM).collect();
    order.sort_by(|a, b| b.1.total_cmp(&a.1));
    let likeliest = tracker.likeliest(p);
    let reason = |look: &Look| {
        let bits =
            if look.void { 0.0 } else { weight_bits(tracker.before(p), &tracker.seen[p].counted(look), likeliest) };
        let says = match bits {
            b if b > SPEAKS_FROM_BITS => Says::For,
            b if b < -SPEAKS_FROM_BITS => Says::Against,
            _ => Says::Neither,
        };
        Reason { evidence: look.id, said: String::new(), says, bits, set_aside: look.void }
    };
    let reasons: Vec<Reason> = tracker.seen[p].looks.iter().map(reason).collect();
    let hints = if likeliest < n { hints(tracker, p, likeliest) } else { Vec::new() };
    let missing = proof::missing(tracker, p);
    let status = proof::status(tracker, p, &missing);
    let why = explain(tracker, p, likeliest);
    let against = reasons.iter().filter(|r| r.says == Says::Against).count();
    let mut belief = PointBelief {
        point: point.id,
        tag: point.tag.clone(),
        status,
        proven: status == Status::Proven,
        candidates: order.into_iter().map(|(b, p)| Candidate { at: name(model, b), p }).collect(),
        not_told_apart: not_told_apart(tracker, p, status, &missing),
        two_handles: two_handles(tracker, p),
        none: tracker.elsewhere(p) + tracker.nothing(p),
        elsewhere: tracker.elsewhere(p),
        no_power: tracker.nothing(p),
        // A label that the looks overrule is no answer that disagrees.
        against: if tracker.is_explained(p) { 0 } else { against },
        reasons,
        because: words::because(&why),
        why,
        hints,
        needs: words::needs(&missing),
        missing,
        verdict: PointVerdict { level: Level::Open, short: String::new(), said: String::new() },
    };
    belief.verdict = words::verdict(tracker, p, &belief);
    belief
}

fn two_handles(tracker: &Tracker<'_>, point: usize) -> Option<TwoHandles> {
    let (best, p) = (tracker.pairs(point).first()?, tracker.on_two_handles(point));
    let breakers = best.breakers.map(|b| name(&tracker.model, b));
    (p >= LISTED_FROM).then_some(TwoHandles { breakers, p })
}

/// Worth naming only once the point was seen dead: before that hardly anything is told apart.
fn not_told_apart(tracker: &Tracker<'_>, p: usize, status: Status, missing: &[Missing]) -> Vec<BreakerRef> {
    let seen = status == Status::Likely && !missing.contains(&Missing::SeenDead);
    let top = tracker.top(p).filter(|_| seen);
    top.into_iter().flat_map(|(top, _)| proof::rivals(tracker, p, top)).map(|b| name(&tracker.model, b)).collect()
}

/// What was known beforehand: poles, rating, label, and what the neighbours say.
fn hints(tracker: &Tracker<'_>, p: usize, breaker: usize) -> Vec<Hint> {
    let mut hints = tracker.model.hints(p, breaker, tracker.trust[breaker]);
    hints.extend(tracker.neighbours_say(p, breaker).map(|odds| Hint { kind: HintKind::Neighbours, odds }));
    hints
}

/// How strongly a look speaks for a source against all others together, in bits.
fn weight_bits(prior: &[f64], log: &[f64], source: usize) -> f64 {
    let others = || (0..prior.len()).filter(|s| *s != source && prior[*s] > 0.0);
    let mass: f64 = others().map(|s| prior[s]).sum();
    let seen: f64 = others().map(|s| prior[s] * log[s].exp()).sum();
    if mass <= 0.0 || seen <= 0.0 {
        return 0.0;
    }
    (log[source].exp() / (seen / mass)).log2()
}

fn breaker_belief(tracker: &Tracker<'_>, points: &[PointBelief], breaker: usize) -> BreakerBelief {
    let below = tracker.model.net.below(breaker);
    let mut belief = BreakerBelief { at: name(&tracker.model, breaker), feeds: Vec::new(), others: 0, complete: false };
    let mut open = false;
    for (i, point) in points.iter().enumerate() {
        let alone: f64 = below.iter().map(|b| tracker.belief(i)[*b]).sum();
        let p = alone + tracker.paired_with(i, below);
        open |= p >= NOT_RULED_OUT && !point.status.is_settled();
        if p >= MAY_GO_DARK {
            let top = tracker.top(i).map(|(top, _)| top).filter(|top| below.contains(top));
            belief.feeds.push(Fed {
                point: point.point,
                tag: point.tag.clone(),
                p,
                likely: p > 0.5,
                proven: point.proven && top.is_some(),
                through: top.is_some_and(|top| top != breaker),
            });
        } else if p >= NOT_RULED_OUT {
            belief.others += 1;
        }
    }
    let searched = tracker.model.house.runs.iter().any(|r| r.searched.contains(&belief.at.breaker));
    belief.complete = !open && (searched || belief.feeds.iter().any(|f| f.likely && f.proven));
    belief
}
