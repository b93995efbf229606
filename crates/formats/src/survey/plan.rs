//! Rooms on the plan and the openings in their walls, out of `rooms.csv` and `openings.csv`.

use wayfinder_core::Change;
use wayfinder_core::base::units::Inches;
use wayfinder_core::house::{Area, House, Opening, OpeningId, Room, Spot};
use wayfinder_core::words::length;

use super::cells::{OPENINGS, WALLS};
use super::house::{apply, next, room_of};
use super::rows::{Fault, Reading, Row, Rows};

pub(super) const ROOM_COLUMNS: &[&str] = &["floor", "room", "x", "y", "width", "depth"];
pub(super) const OPENING_COLUMNS: &[&str] = &["floor", "room", "kind", "wall", "along", "width", "to_floor", "to_room"];

pub(super) fn take_rooms(reading: &mut Reading, text: &str) {
    let rows = Rows::read("rooms.csv", text, ROOM_COLUMNS, &["room"], reading);
    reading.take(&rows, add_room);
}

pub(super) fn take_openings(reading: &mut Reading, text: &str) {
    let rows = Rows::read("openings.csv", text, OPENING_COLUMNS, &["room", "kind", "wall", "along", "width"], reading);
    reading.take(&rows, add_opening);
}

fn inches(house: &House, row: &Row, column: &str) -> Result<Inches, Fault> {
    length::read(row.get(column), house.about.lengths).map_err(|e| row.says(column, e.message))
}

/// The cell `place`, where it says one.
pub(super) fn spot(house: &House, row: &Row) -> Result<Option<Spot>, Fault> {
    match row.get("place") {
        "" => Ok(None),
        text => length::read_spot(text, house.about.lengths).map(Some).map_err(|e| row.says("place", e.message)),
    }
}

fn add_room(house: &mut House, row: &Row) -> Result<(), Fault> {
    let (id, add) = room_of(house, row);
    let room = match add {
        Some(Change::PutRoom { room }) => Some(room),
        _ => house.rooms.get(id).cloned(),
    };
    let Some(room) = room else { return Ok(()) };
    let drawn = ["x", "y", "width", "depth"].iter().any(|c| !row.get(c).is_empty());
    let side = |column| inches(house, row, column);
    let area = if drawn {
        Some(Area { x: side("x")?, y: side("y")?, width: side("width")?, depth: side("depth")? })
    } else {
        None
    };
    let columns = [
        ("room.name", "room"),
        ("room.floor", "floor"),
        ("room.area.width", "width"),
        ("room.area.depth", "depth"),
        ("room.area.y", "y"),
    ];
    apply(house, &Change::PutRoom { room: Room { area, ..room } }).map_err(|e| row.invalid(e, &columns, "x"))
}

fn add_opening(house: &mut House, row: &Row) -> Result<(), Fault> {
    let named = |floor: &str, room: &str| {
        let same =
            |r: &&Room| r.name.eq_ignore_ascii_case(room) && (floor.is_empty() || r.floor.eq_ignore_ascii_case(floor));
        house.rooms.iter().find(same).map(|r| r.id)
    };
    let room = named(row.get("floor"), row.get("room"));
    let to = match row.get("to_room") {
        "" => None,
        name => {
            let found = named(row.get("to_floor"), name);
            Some(found.ok_or_else(|| row.fault("to_room", "a room of rooms.csv"))?)
        }
    };
    let opening = Opening {
        id: OpeningId(next(&house.openings, |o| o.id.0)),
        room: room.ok_or_else(|| row.fault("room", "a room of rooms.csv"))?,
        kind: row.one_of("kind", OPENINGS)?,
        wall: row.one_of("wall", WALLS)?,
        along: inches(house, row, "along")?,
        width: inches(house, row, "width")?,
        to,
    };
    let columns = [("opening.width", "width"), ("opening.to", "to_room"), ("opening.room", "room")];
    apply(house, &Change::PutOpening { opening }).map_err(|e| row.invalid(e, &columns, "along"))
}
