//! Doors, windows, passages and stairs.

use super::{id, within};
use crate::base::Invalid;
use crate::base::units::OPENING_WIDTH;
use crate::floor::MAY_OVERLAP;
use crate::house::{House, Opening, OpeningKind};

pub(super) fn check_opening(house: &House, opening: &Opening) -> Result<(), Invalid> {
    id("opening.id", opening.id.0)?;
    within(&OPENING_WIDTH, "opening.width", opening.width.0)?;
    let room = house.rooms.get(opening.room);
    let room = room.ok_or_else(|| Invalid::new("opening.room", "its room does not exist"))?;
    let Some(area) = room.area else {
        return Err(Invalid::new("opening.room", format!("{} is not drawn on the plan yet", room.name)));
    };
    let end = opening.along.0 + opening.width.0;
    if !(-MAY_OVERLAP..=area.wall_length(opening.wall) + MAY_OVERLAP - opening.width.0).contains(&opening.along.0) {
        let message = format!("it would reach to {end:.0} in on a wall of {:.0} in", area.wall_length(opening.wall));
        return Err(Invalid::new("opening.along", message));
    }
    match (opening.kind, opening.to) {
        (OpeningKind::Stairs, None) => Err(Invalid::new("opening.to", "say which room the stairs lead to")),
        (OpeningKind::Stairs, Some(to)) if house.rooms.get(to).is_none() || to == opening.room => {
            Err(Invalid::new("opening.to", "the stairs must lead to another room that is there"))
        }
        (OpeningKind::Stairs, _) | (_, None) => Ok(()),
        (_, Some(_)) => Err(Invalid::new("opening.to", "only stairs lead to a room by name")),
    }
}
