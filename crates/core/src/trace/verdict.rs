//! How a point stands, in words: the same wherever it is asked for.

use serde::Serialize;
use utoipa::ToSchema;

/// What has to be done about a point that stays live.
pub const STAYS_LIVE: &str = "find its source first; do not work there";

/// How a point stands.
#[derive(Debug, Clone, PartialEq, Eq, Serialize, ToSchema)]
pub struct PointVerdict {
    /// How grave it is.
    pub level: Level,
    /// In three words; empty where its breaker says it.
    pub short: String,
    /// Whole; empty where many are told at once.
    pub said: String,
}

/// How grave a verdict is.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, ToSchema)]
#[serde(rename_all = "kebab-case")]
pub enum Level {
    /// Nobody may work there as it is.
    Danger,
    /// Not proven, or not as it should be.
    Open,
    /// Proven.
    Proven,
}
