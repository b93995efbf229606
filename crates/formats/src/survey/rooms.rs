//! `rooms.csv`: rooms and their places on the plan.

use jiff::Timestamp;
use wayfinder_core::Change;
use wayfinder_core::base::units::Inches;
use wayfinder_core::house::{Area, House, Room};

use super::cells::{apply, inches, room_of, written_inches, yes};
use super::rows::{Columns, Fault, File, NOTHING_TO_TIE, Row, cells, names};

pub const FILE: File = File {
    name: "rooms.csv",
    must: &["room"],
    columns: || names(COLUMNS),
    take: add,
    tie: NOTHING_TO_TIE,
    last: None,
    write: |house| house.rooms.iter().map(|r| cells(COLUMNS, house, r)).collect(),
};

const COLUMNS: Columns<Room> = &[
    ("floor", |_, r| r.floor.clone()),
    ("room", |_, r| r.name.clone()),
    ("x", |house, r| side(house, r, |a| a.x)),
    ("y", |house, r| side(house, r, |a| a.y)),
    ("width", |house, r| side(house, r, |a| a.width)),
    ("depth", |house, r| side(house, r, |a| a.depth)),
    ("no_device", |_, r| yes(r.no_device)),
];

fn side(house: &House, room: &Room, of: impl Fn(Area) -> Inches) -> String {
    room.area.map_or_else(String::new, |area| written_inches(house, of(area)))
}

fn add(house: &mut House, row: &Row, _: Timestamp) -> Result<(), Fault> {
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
    let no_device = row.yes_or_no("no_device")?.unwrap_or(room.no_device);
    apply(house, &Change::PutRoom { room: Room { area, no_device, ..room } }).map_err(|e| row.invalid(e, &columns, "x"))
}
