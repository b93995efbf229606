//! What is believed: of points, of breakers, of the whole map.

use serde::Serialize;
use utoipa::ToSchema;

use crate::house::{BreakerId, EvidenceId, PointId};
use crate::rules::Hangs;
use crate::trace::explain::Because;
use crate::trace::model::Model;
use crate::trace::prior::Hint;
use crate::trace::proof::{Missing, Status};
use crate::trace::verdict::PointVerdict;

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

/// Candidates of a point that a page shows.
const SHOWN: usize = 4;

impl Beliefs {
    /// What hangs on each breaker itself, proven or likely.
    #[must_use]
    pub fn hangs(&self) -> Vec<Hangs> {
        let of = |b: &BreakerBelief| {
            let (breaker, fed) =
                (b.at.breaker, b.feeds.iter().filter(|fed| !fed.through && (fed.proven || fed.likely)));
            fed.map(|fed| Hangs { breaker, point: fed.point, proven: fed.proven }).collect::<Vec<_>>()
        };
        self.breakers.iter().flat_map(of).collect()
    }

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

    /// What is believed of one point.
    #[must_use]
    pub fn of(&self, point: PointId) -> Option<&PointBelief> {
        self.points.iter().find(|b| b.point == point)
    }
}

/// Names a breaker.
pub(super) fn name(model: &Model<'_>, breaker: usize) -> BreakerRef {
    let b = model.net.breakers[breaker];
    let panel = model.house.panels.get(b.panel).map_or_else(String::new, |p| p.name.clone());
    BreakerRef { breaker: b.id, panel, at: b.at_text() }
}
