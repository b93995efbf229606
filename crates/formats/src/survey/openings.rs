//! `openings.csv`: doors, windows, passages and stairs.

use jiff::Timestamp;
use wayfinder_core::Change;
use wayfinder_core::house::{House, Opening, OpeningId, Room};

use super::cells::{OPENINGS, WALLS, apply, floor_of, inches, name_of, next, word, written_inches};
use super::rows::{Columns, Fault, File, NOTHING_TO_TIE, Row, cells, names};

pub const FILE: File = File {
    name: "openings.csv",
    must: &["room", "kind", "wall", "along", "width"],
    columns: || names(COLUMNS),
    take: add,
    tie: NOTHING_TO_TIE,
    last: None,
    write: |house| house.openings.iter().map(|o| cells(COLUMNS, house, o)).collect(),
};

const COLUMNS: Columns<Opening> = &[
    ("floor", |house, o| floor_of(house, Some(o.room))),
    ("room", |house, o| name_of(house, Some(o.room))),
    ("kind", |_, o| word(OPENINGS, o.kind)),
    ("wall", |_, o| word(WALLS, o.wall)),
    ("along", |house, o| written_inches(house, o.along)),
    ("width", |house, o| written_inches(house, o.width)),
    ("to_floor", |house, o| floor_of(house, o.to)),
    ("to_room", |house, o| name_of(house, o.to)),
];

fn add(house: &mut House, row: &Row, _: Timestamp) -> Result<(), Fault> {
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
