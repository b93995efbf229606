//! Pictures: of a label, of a wire, of a drawing. Here is what a picture is of; its bytes are kept by the store.

use jiff::Timestamp;
use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

use super::{BreakerId, CircuitId, PanelId, PictureId, PointId};

/// What a picture shows.
#[derive(Debug, Clone, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
#[serde(tag = "of", rename_all = "kebab-case", deny_unknown_fields)]
pub enum PictureOf {
    /// A panel.
    Panel {
        /// Which.
        panel: PanelId,
    },
    /// A breaker.
    Breaker {
        /// Which.
        breaker: BreakerId,
    },
    /// A circuit's wires.
    Circuit {
        /// Which.
        circuit: CircuitId,
    },
    /// A point.
    Point {
        /// Which.
        point: PointId,
    },
    /// A drawing of a floor, to lie under its plan.
    Floor {
        /// Which.
        floor: String,
    },
}

/// A picture.
#[derive(Debug, Clone, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct Picture {
    /// Its id.
    pub id: PictureId,
    /// What it shows.
    pub of: PictureOf,
    /// When it was added.
    #[schema(value_type = String, format = DateTime)]
    pub time: Timestamp,
    /// Who added it.
    pub who: String,
    /// What there is to see.
    #[serde(default, skip_serializing_if = "String::is_empty")]
    pub caption: String,
    /// Width in pixels.
    pub width: u32,
    /// Height in pixels.
    pub height: u32,
    /// Its bytes' digest: SHA-256 in hexadecimal. They are kept under this name.
    pub digest: String,
}
