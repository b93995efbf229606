//! Quantities with their units.

use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

/// Current in amperes (A).
#[derive(Debug, Clone, Copy, PartialEq, PartialOrd, Serialize, Deserialize, ToSchema)]
#[serde(transparent)]
pub struct Amps(pub f64);

/// A length in inches, 25.4 mm each.
#[derive(Debug, Clone, Copy, PartialEq, PartialOrd, Serialize, Deserialize, ToSchema)]
#[serde(transparent)]
pub struct Inches(pub f64);

/// A time span in seconds (s).
#[derive(Debug, Clone, Copy, PartialEq, PartialOrd, Serialize, Deserialize, ToSchema)]
#[serde(transparent)]
pub struct Seconds(pub f64);

impl std::fmt::Display for Amps {
    fn fmt(&self, f: &mut std::fmt::Formatter<'_>) -> std::fmt::Result {
        write!(f, "{} A", self.0)
    }
}

/// The voltage a point is made for: 120 V (one leg to neutral), 208 V or 240 V (leg to leg).
#[derive(Debug, Clone, Copy, PartialEq, Eq, PartialOrd, Ord, Serialize, Deserialize, ToSchema)]
#[serde(try_from = "u16", into = "u16")]
#[schema(value_type = u16)]
pub struct NominalVolts(u16);

impl NominalVolts {
    /// One leg to neutral.
    pub const V120: Self = Self(120);
    /// Two legs of a wye.
    pub const V208: Self = Self(208);
    /// Two legs of a split phase.
    pub const V240: Self = Self(240);

    /// True where the point takes two or more legs.
    #[must_use]
    pub fn is_leg_to_leg(self) -> bool {
        self.0 > 120
    }
}

impl TryFrom<u16> for NominalVolts {
    type Error = String;

    fn try_from(volts: u16) -> Result<Self, String> {
        match volts {
            120 | 208 | 240 => Ok(Self(volts)),
            _ => Err(format!("{volts} V is not one of 120, 208 or 240 V")),
        }
    }
}

impl From<NominalVolts> for u16 {
    fn from(volts: NominalVolts) -> Self {
        volts.0
    }
}

/// A named range of legal values; its label is what an error quotes.
pub(crate) struct Limits {
    pub label: &'static str,
    pub unit: &'static str,
    pub min: f64,
    pub max: f64,
}

impl Limits {
    /// False for values outside the range and for NaN.
    pub fn contain(&self, value: f64) -> bool {
        (self.min..=self.max).contains(&value)
    }
}

/// Ratings from the smallest listed branch device to the largest frame in a dwelling's panel (common practice).
pub(crate) const BREAKER_RATING: Limits = Limits { label: "breaker rating", unit: "A", min: 1.0, max: 400.0 };
pub(crate) const BUS_RATING: Limits = Limits { label: "bus rating", unit: "A", min: 15.0, max: 1200.0 };
pub(crate) const MAIN_RATING: Limits = Limits { label: "main rating", unit: "A", min: 15.0, max: 1200.0 };
pub(crate) const SPACES: Limits = Limits { label: "number of spaces", unit: "spaces", min: 1.0, max: 84.0 };
pub(crate) const WATTS: Limits = Limits { label: "nameplate power", unit: "W", min: 0.0, max: 100_000.0 };
pub(crate) const THRESHOLD: Limits = Limits { label: "proof threshold", unit: "", min: 0.9, max: 0.9999 };
pub(crate) const DOOR_WIDTH: Limits = Limits { label: "card width", unit: "in", min: 1.0, max: 34.0 };
pub(crate) const DOOR_HEIGHT: Limits = Limits { label: "card height", unit: "in", min: 1.0, max: 44.0 };
