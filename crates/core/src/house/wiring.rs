//! What hangs on a breaker's terminals.

use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

use super::{BreakerId, CircuitId, is_false};
use crate::base::units::{Feet, Gauge, Metal};

/// A conductor's colour at the breaker.
#[derive(Debug, Clone, Copy, PartialEq, Eq, PartialOrd, Ord, Serialize, Deserialize, ToSchema)]
#[serde(rename_all = "kebab-case")]
pub enum Colour {
    /// Black.
    Black,
    /// Red.
    Red,
    /// Blue.
    Blue,
    /// White or grey without a mark: a neutral's colour.
    White,
    /// White with a mark (tape, sleeve) that says it is hot.
    WhiteMarked,
    /// Any other.
    Other,
}

/// Where a circuit's hot begins.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Default, Serialize, Deserialize, ToSchema)]
#[serde(rename_all = "kebab-case")]
pub enum Landed {
    /// Under the breaker's terminal.
    #[default]
    Terminal,
    /// In a splice in the cabinet, from where one conductor goes to the terminal.
    Splice,
}

/// What hangs on a breaker, or on one pole of it: one cable or set of wires. Two of them on one pole are two wires on
/// its terminal.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct Circuit {
    /// Its id.
    pub id: CircuitId,
    /// The breaker it hangs on.
    pub breaker: BreakerId,
    /// The pole, from 1 at the top, where it hangs on one of several.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub pole: Option<u8>,
    /// Size of its hot conductors, where known.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub wire: Option<Gauge>,
    /// Their metal.
    #[serde(default)]
    pub metal: Metal,
    /// Insulated conductors of the cable: 2 in `14-2`. The bare one is not counted.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub conductors: Option<u8>,
    /// Length one way, where known.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub length: Option<Feet>,
    /// Colours of its hots at the breaker, top to bottom.
    #[serde(default, skip_serializing_if = "Vec::is_empty")]
    pub colours: Vec<Colour>,
    /// Where its hot begins.
    #[serde(default)]
    pub landed: Landed,
    /// The circuit whose neutral it shares.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub neutral_of: Option<CircuitId>,
    /// It is really so, though the wire should not hang on this breaker.
    #[serde(default, skip_serializing_if = "is_false")]
    pub as_found: bool,
}

impl Circuit {
    /// A circuit of which only the breaker is known.
    #[must_use]
    pub fn new(id: CircuitId, breaker: BreakerId) -> Self {
        Self {
            id,
            breaker,
            pole: None,
            wire: None,
            metal: Metal::Copper,
            conductors: None,
            length: None,
            colours: Vec::new(),
            landed: Landed::Terminal,
            neutral_of: None,
            as_found: false,
        }
    }

    /// Its cable as written: `14-2`, `10`, `6-3al`; nothing where the size is not known.
    #[must_use]
    pub fn cable(&self) -> Option<String> {
        let metal = if self.metal == Metal::Aluminium { "al" } else { "" };
        let count = self.conductors.map_or_else(String::new, |n| format!("-{n}"));
        self.wire.map(|wire| format!("{wire}{count}{metal}"))
    }
}
