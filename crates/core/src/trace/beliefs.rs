//! The map as it is believed: for each point its candidates, how sure, why, and what is missing for proof.

use std::collections::BTreeMap;

use serde::Serialize;
use utoipa::ToSchema;

use crate::house::{BreakerId, Evidence, EvidenceId, House, Observation, Point, PointId, Seen, Way};
use crate::trace::likelihood::Source;
use crate::trace::network::Network;
use crate::trace::posterior::{Inference, Looked, Posterior};
use crate::trace::prior::Hint;

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
    /// Probability of "none of these breakers": the two below together.
    pub none: f64,
    /// Probability that no known breaker cuts it: danger, it stays live.
    pub elsewhere: f64,
    /// Probability that it has no power even with all on.
    pub no_power: f64,
    /// The observations, oldest first, with what each says of the likeliest source.
    pub reasons: Vec<Reason>,
    /// What was known beforehand of the likeliest breaker.
    pub hints: Vec<Hint>,
    /// What is missing for proof.
    pub missing: Vec<Missing>,
}

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
    /// The observation.
    pub evidence: EvidenceId,
    /// For, against, or neither.
    pub says: Says,
    /// How strongly, in bits; negative against.
    pub bits: f64,
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
/// Direct looks before "none of these" is settled: a single dead reading is more often a switch that is off.
const LOOKS_FOR_NONE: usize = 3;

/// One point worked through.
pub(super) struct Solved<'a> {
    pub point: &'a Point,
    pub posterior: Posterior,
    pub missing: Vec<Missing>,
    pub status: Status,
    pub unsure: usize,
    prior: Posterior,
    looks: Vec<Looked<'a>>,
}

impl Solved<'_> {
    /// How well a source explains the readings alone: the logarithm of their probability.
    pub fn evidence_fit(&self, inference: &Inference<'_>, source: Source) -> f64 {
        self.looks.iter().map(|look| inference.likelihood(look, source).ln()).sum()
    }
}

/// Works through every point of a house, in walking order.
pub(super) fn solve<'a>(inference: &Inference<'a>) -> Vec<Solved<'a>> {
    let house = inference.house;
    let mut by_point: BTreeMap<PointId, Vec<&Evidence>> = BTreeMap::new();
    for evidence in house.evidence.iter() {
        by_point.entry(evidence.point).or_default().push(evidence);
    }
    for list in by_point.values_mut() {
        list.sort_by_key(|e| (e.time, e.id));
    }
    let none = Vec::new();
    let points = house.points_in_order();
    points.into_iter().map(|p| solve_point(inference, p, by_point.get(&p.id).unwrap_or(&none))).collect()
}

fn solve_point<'a>(inference: &Inference<'a>, point: &'a Point, evidence: &[&'a Evidence]) -> Solved<'a> {
    let prior = inference.prior(point);
    let looks = inference.looks(evidence);
    let posterior = inference.posterior(&prior, &looks);
    let threshold = inference.house.about.proof_threshold;
    let missing = missing(&inference.net, &posterior, &looks, threshold);
    let direct = looks.iter().filter(|l| is_direct(l.evidence)).count();
    let status = if missing.is_empty() {
        Status::Proven
    } else if posterior.none() >= threshold && direct >= LOOKS_FOR_NONE {
        Status::NoBreaker
    } else if posterior.top().is_some_and(|(_, p)| p > 0.5) {
        Status::Likely
    } else {
        Status::Unknown
    };
    let unsure =
        evidence.iter().filter(|e| matches!(e.observation, Observation::Power { seen: Seen::Unsure, .. })).count();
    Solved { point, posterior, missing, status, unsure, prior, looks }
}

/// Somebody looked: hearsay and "not sure" prove nothing.
fn is_direct(evidence: &Evidence) -> bool {
    matches!(&evidence.observation, Observation::Power { seen, how, .. } if *how != Way::Word && *seen != Seen::Unsure)
}

fn missing(net: &Network<'_>, posterior: &Posterior, looks: &[Looked<'_>], threshold: f64) -> Vec<Missing> {
    let Some((top, p)) = posterior.top() else {
        return vec![Missing::Certainty, Missing::SeenDead, Missing::SeenBack];
    };
    let id = net.breakers[top].id;
    let mut dead_with = Vec::new();
    let mut confirmed = false;
    for look in looks {
        match &look.evidence.observation {
            Observation::Pointed { at } => confirmed |= *at == id,
            Observation::Power { .. } if !is_direct(look.evidence) => {}
            Observation::Power { off, seen: Seen::Dead, .. } if off.contains(&id) => {
                // The same handles once more confirm nothing new: a switched-off light looks dead each time.
                confirmed |= dead_with.iter().any(|other| *other != off);
                dead_with.push(off);
            }
            Observation::Power { seen: Seen::Live, .. } => confirmed |= !dead_with.is_empty() && !look.dead[top],
            Observation::Power { .. } => {}
        }
    }
    let mut missing = Vec::new();
    if p < threshold {
        missing.push(Missing::Certainty);
    }
    if dead_with.is_empty() {
        missing.push(Missing::SeenDead);
    }
    if !confirmed {
        missing.push(Missing::SeenBack);
    }
    missing
}

/// What feeds every point, how sure, and why.
///
/// Exact Bayes for each point by itself over every breaker that its voltage allows and "none of these".
#[must_use]
pub fn beliefs(house: &House) -> Beliefs {
    let inference = Inference::new(house);
    let solved = solve(&inference);
    let count = |status| solved.iter().filter(|s| s.status == status).count();
    Beliefs {
        revision: house.revision,
        progress: Progress {
            points: solved.len(),
            proven: count(Status::Proven),
            no_breaker: count(Status::NoBreaker),
        },
        breakers: (0..inference.net.len()).map(|b| breaker_belief(&inference, &solved, b)).collect(),
        points: solved.iter().map(|s| point_belief(&inference, s)).collect(),
    }
}

/// Names a breaker.
pub(super) fn name(inference: &Inference<'_>, breaker: usize) -> BreakerRef {
    let b = inference.net.breakers[breaker];
    let panel = inference.house.panels.get(b.panel).map_or_else(String::new, |p| p.name.clone());
    BreakerRef { breaker: b.id, panel, at: b.at_text() }
}

fn point_belief(inference: &Inference<'_>, solved: &Solved<'_>) -> PointBelief {
    let Solved { point, posterior, prior, looks, .. } = solved;
    let mut order: Vec<_> = posterior.breakers.iter().copied().enumerate().filter(|(_, p)| *p >= LISTED_FROM).collect();
    order.sort_by(|a, b| b.1.total_cmp(&a.1));
    let likeliest = likeliest(posterior);
    let reason = |look: &Looked<'_>| {
        let bits = inference.weight_bits(prior, look, likeliest);
        let says = match bits {
            b if b > SPEAKS_FROM_BITS => Says::For,
            b if b < -SPEAKS_FROM_BITS => Says::Against,
            _ => Says::Neither,
        };
        Reason { evidence: look.evidence.id, says, bits }
    };
    let hints = match likeliest {
        Source::Breaker(b) => inference.hints(point, b).unwrap_or_default(),
        Source::Elsewhere | Source::Nothing => Vec::new(),
    };
    PointBelief {
        point: point.id,
        tag: point.tag.clone(),
        status: solved.status,
        proven: solved.status == Status::Proven,
        candidates: order.into_iter().map(|(b, p)| Candidate { at: name(inference, b), p }).collect(),
        none: posterior.none(),
        elsewhere: posterior.elsewhere,
        no_power: posterior.nothing,
        reasons: looks.iter().map(reason).collect(),
        hints,
        missing: solved.missing.clone(),
    }
}

fn likeliest(posterior: &Posterior) -> Source {
    match posterior.top() {
        Some((b, p)) if p >= posterior.elsewhere.max(posterior.nothing) => Source::Breaker(b),
        _ if posterior.elsewhere >= posterior.nothing => Source::Elsewhere,
        _ => Source::Nothing,
    }
}

fn breaker_belief(inference: &Inference<'_>, solved: &[Solved<'_>], breaker: usize) -> BreakerBelief {
    let below = inference.net.below(breaker);
    let mut belief = BreakerBelief { at: name(inference, breaker), feeds: Vec::new(), others: 0 };
    for s in solved {
        let p: f64 = below.iter().map(|b| s.posterior.breakers[*b]).sum();
        if p >= MAY_GO_DARK {
            let top = s.posterior.top().map(|(top, _)| top).filter(|top| below.contains(top));
            belief.feeds.push(Fed {
                point: s.point.id,
                tag: s.point.tag.clone(),
                p,
                likely: p > 0.5,
                proven: s.status == Status::Proven && top.is_some(),
                through: top.is_some_and(|top| top != breaker),
            });
        } else if p >= NOT_RULED_OUT {
            belief.others += 1;
        }
    }
    belief
}
