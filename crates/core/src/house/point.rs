//! Rooms and the points in them.

use std::collections::BTreeSet;

use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

use super::{Area, BoxId, PointId, RoomId, Spot, is_false};
use crate::base::units::NominalVolts;

/// A room, hall, loft, yard: where points are.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct Room {
    /// Its id.
    pub id: RoomId,
    /// What people call it, by its place in the house.
    pub name: String,
    /// Its floor: `1`, `basement`, `outside`.
    pub floor: String,
    /// Its place on the floor's plan, once drawn.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub area: Option<Area>,
    /// Somebody looked: none of its outlets has the buttons of a ground-fault device.
    #[serde(default, skip_serializing_if = "is_false")]
    pub no_device: bool,
}

impl Room {
    /// A room not yet on the plan.
    #[must_use]
    pub fn new(id: RoomId, name: impl Into<String>, floor: impl Into<String>) -> Self {
        Self { id, name: name.into(), floor: floor.into(), area: None, no_device: false }
    }
}

/// What a point is.
#[derive(Debug, Clone, Copy, PartialEq, Eq, PartialOrd, Ord, Serialize, Deserialize, ToSchema)]
#[serde(rename_all = "kebab-case")]
pub enum PointKind {
    /// One half of a receptacle, or a whole one where the halves are together.
    Receptacle,
    /// A light.
    Light,
    /// A switch with power at it.
    Switch,
    /// A fixed or dedicated appliance.
    Appliance,
    /// A smoke or carbon monoxide alarm, a bell transformer.
    Alarm,
    /// Anything else: a capped cable, a disconnect.
    Other,
}

/// A place where power is used or switched.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct Point {
    /// Its id.
    pub id: PointId,
    /// What is written on its cover plate: `K3`.
    pub tag: String,
    /// Where it is.
    pub room: RoomId,
    /// What it is.
    pub kind: PointKind,
    /// What people call it: `counter left of sink`.
    #[serde(default, skip_serializing_if = "String::is_empty")]
    pub name: String,
    /// The voltage it is made for, where known.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub volts: Option<NominalVolts>,
    /// Its place in the room, once drawn.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub spot: Option<Spot>,
    /// The box it shares with other points of the same number.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub shared_box: Option<BoxId>,
    /// Whether it has power is seen without a tester: a lamp or a clock is plugged in, an appliance has a display.
    #[serde(default, skip_serializing_if = "is_false")]
    pub shows: bool,
    /// It is a ground-fault device with a test button.
    #[serde(default, skip_serializing_if = "is_false")]
    pub ground_fault: bool,
    /// The ground-fault device it hangs behind.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub protected_by: Option<PointId>,
    /// The wall switches that switch it.
    #[serde(default, skip_serializing_if = "BTreeSet::is_empty")]
    pub switched_by: BTreeSet<PointId>,
}

impl Point {
    /// A point of which only this is known.
    #[must_use]
    pub fn new(id: PointId, tag: impl Into<String>, room: RoomId, kind: PointKind) -> Self {
        Self {
            id,
            tag: tag.into(),
            room,
            kind,
            name: String::new(),
            volts: None,
            spot: None,
            shared_box: None,
            shows: false,
            ground_fault: false,
            protected_by: None,
            switched_by: BTreeSet::new(),
        }
    }
}
