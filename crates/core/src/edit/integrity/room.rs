//! Rooms, and places within them.

use super::{id, text, within};
use crate::base::Invalid;
use crate::base::units::{PLAN_PLACE, ROOM_SIDE};
use crate::floor::MAY_OVERLAP;
use crate::house::{Area, House, Room, Spot};

pub(super) fn check_rooms(house: &House) -> Result<(), Invalid> {
    for room in house.rooms.iter() {
        id("room.id", room.id.0)?;
        text("room.name", "the room", &room.name, true)?;
        text("room.floor", "the floor", &room.floor, true)?;
        let same = |r: &&Room| {
            r.id != room.id && r.name.eq_ignore_ascii_case(&room.name) && r.floor.eq_ignore_ascii_case(&room.floor)
        };
        if house.rooms.iter().any(|r| same(&r)) {
            let message = format!("floor {} already has a room called {}", room.floor, room.name);
            return Err(Invalid::new("room.name", message));
        }
        if let Some(area) = room.area {
            check_area(house, room, area)?;
        }
    }
    Ok(())
}

fn check_area(house: &House, room: &Room, area: Area) -> Result<(), Invalid> {
    within(&ROOM_SIDE, "room.area.width", area.width.0)?;
    within(&ROOM_SIDE, "room.area.depth", area.depth.0)?;
    within(&PLAN_PLACE, "room.area.x", area.x.0)?;
    within(&PLAN_PLACE, "room.area.y", area.y.0)?;
    let same = |r: &&Room| r.id > room.id && r.floor.eq_ignore_ascii_case(&room.floor);
    let hit = house.rooms.iter().filter(same).find(|r| r.area.is_some_and(|a| a.overlap(&area) > MAY_OVERLAP));
    match hit {
        Some(other) => Err(Invalid::new("room.area", format!("{} and {} would overlap", room.name, other.name))),
        None => Ok(()),
    }
}

pub(super) fn check_spot(field: &str, room: &Room, spot: Option<Spot>) -> Result<(), Invalid> {
    let Some(spot) = spot else { return Ok(()) };
    let Some(area) = room.area else {
        return Err(Invalid::new(field, format!("{} is not drawn on the plan yet", room.name)));
    };
    let inside = |value: f64, most: f64| (-MAY_OVERLAP..=most + MAY_OVERLAP).contains(&value);
    let fits = match spot {
        Spot::Wall { wall, along } => inside(along.0, area.wall_length(wall)),
        Spot::Field { x, y } => inside(x.0, area.width.0) && inside(y.0, area.depth.0),
    };
    if fits { Ok(()) } else { Err(Invalid::new(field, format!("this place lies outside {}", room.name))) }
}
