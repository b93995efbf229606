//! What stands in cells: words with their meaning, numbers, yes and no, rooms and places.

use serde::Serialize;
use wayfinder_core::base::position::Supply;
use wayfinder_core::base::table::{Entity, Table};
use wayfinder_core::base::units::{Inches, Metal};
use wayfinder_core::house::{
    Colour, Device, Fault, Frame, Handle, House, KnownBy, Landed, OpeningKind, PanelId, PointKind, Room, RoomId, Seen,
    Spot, Tried, Trip, Wall, Way,
};
use wayfinder_core::words::length;
use wayfinder_core::{Change, Invalid};

use super::rows::{Fault as BadCell, Row};

/// Words with their meaning; the export writes the first word of a meaning.
pub type Words<T> = &'static [(&'static str, T)];

pub const SUPPLIES: Words<Supply> = &[
    ("split-phase", Supply::SplitPhase),
    ("wye-1ph", Supply::WyeTwoLegs),
    ("wye-3ph", Supply::WyeThreePhase),
    ("", Supply::SplitPhase),
];
pub const KNOWN_BY: Words<Option<KnownBy>> =
    &[("", None), ("label", Some(KnownBy::Label)), ("notch", Some(KnownBy::Notch))];
pub const DEVICES: Words<Device> = &[
    ("plain", Device::Plain),
    ("gfci", Device::Gfci),
    ("afci", Device::Afci),
    ("dual", Device::Dual),
    ("fuse", Device::Fuse),
    ("", Device::Plain),
];
pub const HANDLES: Words<Handle> =
    &[("", Handle::On), ("on", Handle::On), ("off", Handle::Off), ("tripped", Handle::Tripped)];
pub const FRAMES: Words<Option<Frame>> = &[
    ("", None),
    ("full", Some(Frame::Full)),
    ("tandem", Some(Frame::Tandem)),
    ("quad", Some(Frame::Quad)),
    ("half", Some(Frame::Half)),
];
pub const TRIPS: Words<Trip> = &[("", Trip::Common), ("common", Trip::Common), ("tie", Trip::HandleTie)];
pub const METALS: Words<Metal> = &[("copper", Metal::Copper), ("aluminium", Metal::Aluminium), ("", Metal::Copper)];
pub const LANDED: Words<Landed> = &[("terminal", Landed::Terminal), ("splice", Landed::Splice), ("", Landed::Terminal)];
pub const COLOURS: Words<Colour> = &[
    ("black", Colour::Black),
    ("red", Colour::Red),
    ("blue", Colour::Blue),
    ("white", Colour::White),
    ("white-marked", Colour::WhiteMarked),
    ("other", Colour::Other),
];
pub const WALLS: Words<Wall> =
    &[("north", Wall::North), ("east", Wall::East), ("south", Wall::South), ("west", Wall::West)];
pub const OPENINGS: Words<OpeningKind> = &[
    ("door", OpeningKind::Door),
    ("window", OpeningKind::Window),
    ("passage", OpeningKind::Passage),
    ("stairs", OpeningKind::Stairs),
];
pub const KINDS: Words<PointKind> = &[
    ("receptacle", PointKind::Receptacle),
    ("light", PointKind::Light),
    ("switch", PointKind::Switch),
    ("appliance", PointKind::Appliance),
    ("alarm", PointKind::Alarm),
    ("other", PointKind::Other),
];
pub const WAYS: Words<Way> = &[
    ("tester", Way::Tester),
    ("lamp", Way::Lamp),
    ("light", Way::Light),
    ("radio", Way::Radio),
    ("meter", Way::Meter),
    ("word", Way::Word),
];
pub const SEEN: Words<Seen> = &[("live", Seen::Live), ("dead", Seen::Dead), ("unsure", Seen::Unsure)];

pub const TRIED: Words<Tried> =
    &[("tried-switch", Tried::Switch), ("tried-lamp", Tried::Lamp), ("tried-device", Tried::Device)];
pub const WAS_OFF: Words<bool> = &[("was-off", true), ("was-on", false)];
pub const FAULTS: Words<Fault> = &[
    ("open-ground", Fault::OpenGround),
    ("open-neutral", Fault::OpenNeutral),
    ("open-hot", Fault::OpenHot),
    ("hot-ground-reversed", Fault::HotGroundReversed),
    ("hot-neutral-reversed", Fault::HotNeutralReversed),
    ("scorched", Fault::Scorched),
    ("loose", Fault::Loose),
];

/// A value by the word that files and the API have for it.
pub fn code<T: Serialize>(value: T) -> String {
    serde_json::to_value(value).ok().and_then(|v| Some(v.as_str()?.to_owned())).unwrap_or_default()
}

/// A cell that holds such a word, or nothing.
pub fn coded<T: Copy + Serialize>(row: &Row, column: &str, all: &[T]) -> Result<Option<T>, BadCell> {
    let text = row.get(column);
    let found = all.iter().find(|value| code(**value).eq_ignore_ascii_case(text)).copied();
    if found.is_some() || text.is_empty() {
        return Ok(found);
    }
    let words: Vec<String> = all.iter().map(|value| code(*value)).collect();
    Err(row.fault(column, &format!("one of {}", words.join(", "))))
}

/// The word for a value.
pub fn word<T: PartialEq + Copy>(words: Words<T>, value: T) -> String {
    words.iter().find(|(_, v)| *v == value).map_or("", |(word, _)| *word).into()
}

pub fn some<T: ToString>(value: Option<T>) -> String {
    value.map_or_else(String::new, |v| v.to_string())
}

pub fn yes(value: bool) -> String {
    if value { "yes".into() } else { String::new() }
}

pub fn yes_or_no(value: Option<bool>) -> String {
    value.map_or("", |v| if v { "yes" } else { "no" }).into()
}

pub fn floor_of(house: &House, room: Option<RoomId>) -> String {
    room.and_then(|r| house.rooms.get(r)).map_or_else(String::new, |r| r.floor.clone())
}

pub fn name_of(house: &House, room: Option<RoomId>) -> String {
    room.and_then(|r| house.rooms.get(r)).map_or_else(String::new, |r| r.name.clone())
}

pub fn written_place(house: &House, spot: Option<Spot>) -> String {
    spot.map_or_else(String::new, |s| length::write_spot(s, house.about.lengths))
}

pub fn written_inches(house: &House, inches: Inches) -> String {
    length::write(inches, house.about.lengths)
}

pub fn inches(house: &House, row: &Row, column: &str) -> Result<Inches, BadCell> {
    length::read(row.get(column), house.about.lengths).map_err(|e| row.says(column, e.message))
}

/// The cell `place`, where it says one.
pub fn place(house: &House, row: &Row) -> Result<Option<Spot>, BadCell> {
    match row.get("place") {
        "" => Ok(None),
        text => length::read_spot(text, house.about.lengths).map(Some).map_err(|e| row.says("place", e.message)),
    }
}

pub fn panel_of(house: &House, row: &Row) -> Result<PanelId, BadCell> {
    let names = || house.panels.iter().map(|p| p.name.as_str()).collect::<Vec<_>>().join(", ");
    let found = house.panel_named(row.get("panel")).map(|p| p.id);
    found.ok_or_else(|| row.fault("panel", &format!("a panel of panels.csv: {}", names())))
}

/// The room that a row names, and the change that adds it where it is new.
pub fn room_of(house: &House, row: &Row) -> (RoomId, Option<Change>) {
    let name = row.get("room");
    let floor = Some(row.get("floor")).filter(|f| !f.is_empty()).unwrap_or("1");
    let known = house.rooms.iter().find(|r| r.name.eq_ignore_ascii_case(name) && r.floor.eq_ignore_ascii_case(floor));
    match known {
        Some(room) => (room.id, None),
        None => {
            let room = Room::new(RoomId(next(&house.rooms, |r| r.id.0)), name, floor);
            (room.id, Some(Change::PutRoom { room }))
        }
    }
}

pub fn apply(house: &mut House, change: &Change) -> Result<(), Invalid> {
    *house = house.apply(change)?.house;
    Ok(())
}

pub fn next<T: Entity>(table: &Table<T>, id: impl Fn(&T) -> u64) -> u64 {
    table.iter().map(id).max().unwrap_or(0) + 1
}
