//! Points, and what they have to do with one another.

use std::collections::BTreeSet;

use super::room::check_spot;
use super::{id, text};
use crate::base::Invalid;
use crate::house::{House, Point, PointKind};

/// Longest tag: it is written on a cover plate.
const MAX_TAG: usize = 8;

pub(super) fn check_points(house: &House) -> Result<(), Invalid> {
    let mut tags = BTreeSet::new();
    for point in house.points.iter() {
        id("point.id", point.id.0)?;
        if let Some(shared) = point.shared_box {
            id("point.shared_box", shared.0)?;
        }
        text("point.name", "the point", &point.name, false)?;
        let short = (1..=MAX_TAG).contains(&point.tag.len());
        if !short || !point.tag.bytes().all(|b| b.is_ascii_alphanumeric()) {
            let message = format!("\"{}\" is not a tag: 1 to {MAX_TAG} letters and digits, like K3", point.tag);
            return Err(Invalid::new("point.tag", message));
        }
        if !tags.insert(point.tag.to_ascii_uppercase()) {
            return Err(Invalid::new("point.tag", format!("the tag {} is given twice", point.tag)));
        }
        if house.rooms.get(point.room).is_none() {
            return Err(Invalid::new("point.room", format!("the room of {} does not exist", point.tag)));
        }
        check_ties(house, point)?;
    }
    Ok(())
}

/// What a point has to do with other points: the device before it, its switches, its place.
fn check_ties(house: &House, point: &Point) -> Result<(), Invalid> {
    let tag = &point.tag;
    match point.protected_by.map(|d| house.points.get(d)) {
        Some(Some(device)) if device.id == point.id || !device.ground_fault => {
            let message = format!("{} is not a ground-fault device that {tag} could hang behind", device.tag);
            return Err(Invalid::new("point.protected_by", message));
        }
        Some(None) => return Err(Invalid::new("point.protected_by", "the device before it does not exist")),
        Some(Some(_)) | None => {}
    }
    for switch in &point.switched_by {
        match house.points.get(*switch) {
            Some(s) if s.kind == PointKind::Switch && s.id != point.id => {}
            Some(s) => return Err(Invalid::new("point.switched_by", format!("{} is not a switch", s.tag))),
            None => return Err(Invalid::new("point.switched_by", "a switch of it does not exist")),
        }
    }
    match house.rooms.get(point.room) {
        Some(room) => check_spot("point.spot", room, point.spot),
        None => Ok(()),
    }
}
