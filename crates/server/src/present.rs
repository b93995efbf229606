//! Devices of a run, as they say that they are there.

use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

/// A device of a run says that it is there, and where its person is.
#[derive(Debug, Clone, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct Hello {
    /// The device, by a name of its own.
    pub device: String,
    /// Where its person is: `panel`, `rooms` or `desk`.
    pub stance: String,
    /// Who.
    pub who: String,
}

/// A device that was heard of.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
pub struct Present {
    /// What it said of itself.
    #[serde(flatten)]
    pub hello: Hello,
    /// Seconds since it was last heard of.
    pub silent: f64,
}
