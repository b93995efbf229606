//! Places on the plan, in inches. On the page x grows to the right and y downwards; the top is called north.

use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

use super::{OpeningId, PictureId, RoomId, UnderlayId};
use crate::base::units::Inches;

/// A rectangle on a floor's plan.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct Area {
    /// Left edge.
    pub x: Inches,
    /// Top edge.
    pub y: Inches,
    /// From left to right.
    pub width: Inches,
    /// From top to bottom.
    pub depth: Inches,
}

/// A wall of a room.
#[derive(Debug, Clone, Copy, PartialEq, Eq, PartialOrd, Ord, Serialize, Deserialize, ToSchema)]
#[serde(rename_all = "kebab-case")]
pub enum Wall {
    /// The top one on the page.
    North,
    /// The right one.
    East,
    /// The bottom one.
    South,
    /// The left one.
    West,
}

/// A place in a room.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(tag = "on", rename_all = "kebab-case", deny_unknown_fields)]
pub enum Spot {
    /// On a wall.
    Wall {
        /// Which.
        wall: Wall,
        /// From its left end (north, south) or top end (east, west).
        along: Inches,
    },
    /// In the field: on the floor or the ceiling.
    Field {
        /// From the room's left wall.
        x: Inches,
        /// From the room's top wall.
        y: Inches,
    },
}

impl Spot {
    /// The wall it is on.
    #[must_use]
    pub fn wall(self) -> Option<Wall> {
        match self {
            Self::Wall { wall, .. } => Some(wall),
            Self::Field { .. } => None,
        }
    }
}

/// What an opening in a wall is.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
#[serde(rename_all = "kebab-case")]
pub enum OpeningKind {
    /// A door.
    Door,
    /// A window.
    Window,
    /// A gap without a door.
    Passage,
    /// Stairs or a ladder that begin at this wall and lead to a room of another floor.
    Stairs,
}

/// A door, window, passage or stairs in a wall of a room. It belongs to one room; whichever room touches the wall
/// there is on its other side.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct Opening {
    /// Its id.
    pub id: OpeningId,
    /// The room.
    pub room: RoomId,
    /// What it is.
    pub kind: OpeningKind,
    /// The wall.
    pub wall: Wall,
    /// From the wall's left or top end to the opening's nearer edge.
    pub along: Inches,
    /// Its width.
    pub width: Inches,
    /// For stairs: the room they lead to.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub to: Option<RoomId>,
}

/// A picture of a drawing that lies under a floor's plan.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct Underlay {
    /// Its id.
    pub id: UnderlayId,
    /// The floor.
    pub floor: String,
    /// The picture.
    pub picture: PictureId,
    /// Left edge on the plan.
    pub x: Inches,
    /// Top edge on the plan.
    pub y: Inches,
    /// The picture's whole width on the plan: its scale.
    pub width: Inches,
}
