//! A run: one outing of tracing or measuring.

use std::collections::BTreeSet;

use jiff::Timestamp;
use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

use super::{BreakerId, Crew, Round, RunId};

/// One outing of tracing or measuring: who goes with what, since when. What was seen is the evidence of that time, what was
/// measured its readings.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct Run {
    /// Its id.
    pub id: RunId,
    /// When it began.
    #[schema(value_type = String, format = DateTime)]
    pub begun: Timestamp,
    /// When it was ended; nothing while it goes on.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    #[schema(value_type = Option<String>, format = DateTime)]
    pub ended: Option<Timestamp>,
    /// Who and with what; may change midway.
    pub crew: Crew,
    /// Steps begun: walks, or orders passed.
    #[serde(default)]
    pub steps: u32,
    /// Times that a breaker was switched off.
    #[serde(default)]
    pub outages: u32,
    /// Breakers that fed nothing on the list, and while they were off somebody walked through the house and found
    /// nothing else dead.
    #[serde(default, skip_serializing_if = "BTreeSet::is_empty")]
    pub searched: BTreeSet<BreakerId>,
    /// What is on and how far it is, where it measures; nothing where it traces.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub round: Option<Round>,
}
