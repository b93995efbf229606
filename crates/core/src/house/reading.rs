//! Readings: numbers that were measured, where, with what, and what was on.

use std::collections::BTreeSet;

use jiff::Timestamp;
use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

use super::{BreakerId, Evidence, LoadId, Observation, PanelId, PointId, ReadingId};
use crate::base::position::Leg;
use crate::base::said;

/// Where something was measured.
#[derive(Debug, Clone, Copy, PartialEq, Eq, PartialOrd, Ord, Serialize, Deserialize, ToSchema)]
#[serde(tag = "at", rename_all = "kebab-case", deny_unknown_fields)]
pub enum MeasuredAt {
    /// At a breaker.
    Breaker {
        /// Which.
        breaker: BreakerId,
        /// Its pole, from 1 at the top; nothing for all of it.
        #[serde(default, skip_serializing_if = "Option::is_none")]
        pole: Option<u8>,
        /// On which side of its contacts.
        #[serde(default)]
        side: Side,
    },
    /// At a panel's bus.
    Bus {
        /// Which panel.
        panel: PanelId,
    },
    /// At a panel's main breaker, on the side of the bus.
    Main {
        /// Which panel.
        panel: PanelId,
    },
    /// At the wires that feed a panel.
    Feed {
        /// Which panel.
        panel: PanelId,
    },
    /// At a point.
    Point {
        /// Which.
        point: PointId,
    },
}

/// A side of a breaker's contacts.
#[derive(Debug, Clone, Copy, PartialEq, Eq, PartialOrd, Ord, Default, Serialize, Deserialize, ToSchema)]
#[serde(rename_all = "kebab-case")]
pub enum Side {
    /// The terminal of its circuit.
    #[default]
    Load,
    /// The bus.
    Bus,
}

/// A conductor that is measured, or measured against.
#[derive(Debug, Clone, Copy, PartialEq, Eq, PartialOrd, Ord, Serialize, Deserialize, ToSchema)]
pub enum Conductor {
    /// The first leg.
    A,
    /// The second leg.
    B,
    /// The third leg.
    C,
    /// The neutral.
    N,
    /// The ground.
    G,
}

impl Conductor {
    /// The hot of a leg.
    #[must_use]
    pub fn of(leg: Leg) -> Self {
        match leg {
            Leg::A => Self::A,
            Leg::B => Self::B,
            Leg::C => Self::C,
        }
    }
}

said!(Conductor { A => "A", B => "B", C => "C", N => "N", G => "G" });

/// What was measured.
#[derive(Debug, Clone, Copy, PartialEq, Eq, PartialOrd, Ord, Serialize, Deserialize, ToSchema)]
#[serde(tag = "quantity", rename_all = "kebab-case", deny_unknown_fields)]
pub enum Quantity {
    /// Current in amperes.
    Amps {
        /// Of this conductor; at a breaker nothing is its hot.
        #[serde(default, skip_serializing_if = "Option::is_none")]
        of: Option<Conductor>,
    },
    /// Voltage in volts.
    Volts {
        /// Between these; at a point nothing is between what is there.
        #[serde(default, skip_serializing_if = "Option::is_none")]
        between: Option<[Conductor; 2]>,
    },
    /// Power in watts.
    Watts,
    /// Temperature in degrees Celsius.
    Degrees,
}

/// Over what the number was taken.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Default, Serialize, Deserialize, ToSchema)]
#[serde(rename_all = "kebab-case")]
pub enum Span {
    /// At one moment.
    #[default]
    Spot,
    /// The largest of a while.
    Most,
    /// The first moment after switching on.
    Inrush,
}

/// What it was measured with.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
#[serde(rename_all = "kebab-case")]
pub enum Instrument {
    /// A clamp around a conductor.
    Clamp,
    /// A meter with probes.
    Meter,
    /// A meter between plug and receptacle.
    PlugIn,
    /// The utility's meter.
    UtilityMeter,
    /// An energy monitor that is there for good.
    Monitor,
    /// An infrared thermometer or camera.
    Infrared,
}

said!(Instrument {
    Clamp => "clamp",
    Meter => "meter",
    PlugIn => "plug-in meter",
    UtilityMeter => "utility meter",
    Monitor => "energy monitor",
    Infrared => "infrared",
});

/// A measured number.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct Reading {
    /// Its id.
    pub id: ReadingId,
    /// When it was taken.
    #[schema(value_type = String, format = DateTime)]
    pub time: Timestamp,
    /// By whom.
    pub who: String,
    /// Where.
    pub place: MeasuredAt,
    /// What.
    pub quantity: Quantity,
    /// How much: A, V, W or °C.
    pub value: f64,
    /// With what.
    pub instrument: Instrument,
    /// Over what.
    #[serde(default)]
    pub span: Span,
    /// All that was on of what the place carries.
    pub on: BTreeSet<LoadId>,
    /// Somebody looked at it again: it is right as it is, however odd.
    #[serde(default, skip_serializing_if = "super::is_false")]
    pub sure: bool,
}

impl Reading {
    /// True of what it said of the map: of its moment and its place.
    #[must_use]
    pub fn showed(&self, evidence: &Evidence) -> bool {
        let here = |breaker| self.place.breaker() == Some(breaker);
        matches!(evidence.observation, Observation::Rise { at, .. } if here(at)) && evidence.time == self.time
    }
}

impl MeasuredAt {
    /// The breaker it is at.
    #[must_use]
    pub fn breaker(self) -> Option<BreakerId> {
        match self {
            Self::Breaker { breaker, .. } => Some(breaker),
            Self::Bus { .. } | Self::Main { .. } | Self::Feed { .. } | Self::Point { .. } => None,
        }
    }

    /// The panel whose bus or feed it is at.
    #[must_use]
    pub fn panel(self) -> Option<PanelId> {
        match self {
            Self::Bus { panel } | Self::Main { panel } | Self::Feed { panel } => Some(panel),
            Self::Breaker { .. } | Self::Point { .. } => None,
        }
    }

    /// The point it is at.
    #[must_use]
    pub fn point(self) -> Option<PointId> {
        match self {
            Self::Point { point } => Some(point),
            Self::Breaker { .. } | Self::Bus { .. } | Self::Main { .. } | Self::Feed { .. } => None,
        }
    }
}
