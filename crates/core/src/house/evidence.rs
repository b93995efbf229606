//! Observations: what was seen where, with which handles off; and the step of tracing under way.

use std::collections::BTreeSet;

use jiff::Timestamp;
use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

use super::{BreakerId, EvidenceId, PointId, StepId};

/// What a look at a point told.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
#[serde(rename_all = "kebab-case")]
pub enum Seen {
    /// Power is there.
    Live,
    /// No sign of power. Never a promise that it is safe.
    Dead,
    /// Could not tell.
    Unsure,
}

/// How it was looked at.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
#[serde(rename_all = "kebab-case")]
pub enum Way {
    /// An outlet tester, or a non-contact tester.
    Tester,
    /// A lamp plugged in.
    Lamp,
    /// The light itself.
    Light,
    /// A radio heard.
    Radio,
    /// A meter.
    Meter,
    /// What somebody says.
    Word,
}

/// What was observed.
#[derive(Debug, Clone, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
#[serde(tag = "what", rename_all = "kebab-case", deny_unknown_fields)]
pub enum Observation {
    /// Power looked for at the point with these breakers off and all others on.
    Power {
        /// The complete set that was off.
        off: BTreeSet<BreakerId>,
        /// What was seen.
        seen: Seen,
        /// How.
        how: Way,
    },
    /// With a transmitter at the point, the receiver pointed at this breaker.
    Pointed {
        /// The breaker pointed at.
        at: BreakerId,
    },
}

impl Observation {
    /// Every breaker it speaks of.
    pub fn breakers(&self) -> impl Iterator<Item = BreakerId> + '_ {
        let (off, at) = match self {
            Self::Power { off, .. } => (Some(off), None),
            Self::Pointed { at } => (None, Some(*at)),
        };
        off.into_iter().flatten().copied().chain(at)
    }
}

/// One observation that bears on what feeds a point.
#[derive(Debug, Clone, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct Evidence {
    /// Its id.
    pub id: EvidenceId,
    /// The point looked at.
    pub point: PointId,
    /// When.
    #[schema(value_type = String, format = DateTime)]
    pub time: Timestamp,
    /// Who says so.
    pub who: String,
    /// The step of tracing it answers, if any.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub step: Option<StepId>,
    /// What was observed.
    pub observation: Observation,
}

/// A step of tracing under way: handles moved, points to look at.
#[derive(Debug, Clone, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct Step {
    /// Its id.
    pub id: StepId,
    /// The complete set that is off; all others are on.
    pub off: BTreeSet<BreakerId>,
    /// Points to look at, in walking order.
    pub visit: Vec<PointId>,
}
