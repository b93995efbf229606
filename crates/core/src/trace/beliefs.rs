//! The map as it is believed: for each point its candidates, how sure, why, and what is missing for proof.

use crate::house::House;
use crate::trace::belief::{
    Beliefs, BreakerBelief, BreakerRef, Candidate, Fed, PointBelief, Progress, Reason, Says, TwoHandles, name,
};
use crate::trace::explain::explain;
use crate::trace::look::Look;
use crate::trace::prior::{Hint, HintKind};
use crate::trace::proof::{self, Missing, Status};
use crate::trace::tracker::Tracker;
use crate::trace::verdict::{Level, PointVerdict};
use crate::trace::words;

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

impl PointBelief {
    /// The same with its observations in words.
    #[must_use]
    pub fn told(mut self, house: &House) -> Self {
        for reason in &mut self.reasons {
            reason.said = words::observed(house, reason.evidence);
        }
        self
    }
}

impl Beliefs {
    /// The same with every observation in words, which takes as long as the beliefs themselves.
    #[must_use]
    pub fn told(mut self, house: &House) -> Self {
        self.points = self.points.into_iter().map(|point| point.told(house)).collect();
        self
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
