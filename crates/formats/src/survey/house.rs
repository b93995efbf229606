//! Panels, breakers, rooms and points out of a survey folder.

use std::collections::BTreeSet;

use jiff::Timestamp;
use wayfinder_core::base::position::{Numbering, parse_poles};
use wayfinder_core::base::units::{Amps, InchPounds, NominalVolts};
use wayfinder_core::house::{
    BoxId, Breaker, BreakerId, House, Panel, PanelId, PanelPlace, Point, PointId, Room, RoomId, TandemSpaces, Terminal,
};
use wayfinder_core::{Change, Invalid};

use super::cells::{DEVICES, FRAMES, HANDLES, KINDS, KNOWN_BY, SUPPLIES, TRIPS};
use super::rows::{Fault, Reading, Row, Rows, Taken};
use super::{BadRows, Survey, evidence, plan, wires};

pub(super) const ABOUT_COLUMNS: &[&str] = &["name", "every_panel"];
pub(super) const PANEL_COLUMNS: &[&str] = &[
    "panel",
    "fed_by",
    "supply",
    "bus_amps",
    "main_amps",
    "spaces",
    "numbering",
    "tandem_spaces",
    "max_circuits",
    "tandem_known",
    "model",
    "listed",
    "bonded",
    "plug_on_neutral",
    "feed_through",
    "disconnect",
    "separate_building",
    "floor",
    "room",
    "place",
];
pub(super) const BREAKER_COLUMNS: &[&str] = &[
    "panel",
    "at",
    "amps",
    "type",
    "label",
    "handle",
    "frame",
    "trip",
    "model",
    "terminal_wires",
    "torque",
    "as_found",
];
pub(super) const POINT_COLUMNS: &[&str] = &[
    "tag",
    "floor",
    "room",
    "kind",
    "name",
    "volts",
    "watts",
    "place",
    "box",
    "ground_fault",
    "protected_by",
    "switched_by",
    "shows",
];

/// Makes a house of a survey folder. `name` is the house's where the folder gives none, `now` the time of rows without one.
///
/// # Errors
/// All faults found, where there are any and bad rows are refused.
pub fn import(name: &str, survey: Survey<'_>, now: Timestamp, bad: BadRows) -> Result<Taken, Vec<Fault>> {
    let mut reading = Reading::new(House::new(name));
    if let Some(text) = survey.about {
        let rows = Rows::read("about.csv", text, ABOUT_COLUMNS, &[], &mut reading);
        reading.take(&rows, set_about);
    }
    if let Some(text) = survey.panels {
        let rows = Rows::read("panels.csv", text, PANEL_COLUMNS, &["panel", "spaces"], &mut reading);
        reading.take(&rows, add_panel);
        if let Some(text) = survey.breakers {
            let inside = Rows::read("breakers.csv", text, BREAKER_COLUMNS, &["panel", "at", "amps"], &mut reading);
            reading.take(&inside, add_breaker);
        }
        // A feeder is a breaker, so it can be named only now; rows without one have nothing to add.
        reading.again(&rows, set_feeder);
    } else {
        reading.faults.push(Fault {
            file: "panels.csv".into(),
            line: 0,
            column: String::new(),
            message: "the survey folder needs this file".into(),
        });
    }
    if let Some(text) = survey.wires {
        wires::take(&mut reading, text);
    }
    if let Some(text) = survey.rooms {
        plan::take_rooms(&mut reading, text);
    }
    if let Some(text) = survey.openings {
        plan::take_openings(&mut reading, text);
    }
    if let Some(text) = survey.points {
        let rows = Rows::read("points.csv", text, POINT_COLUMNS, &["tag", "room", "kind"], &mut reading);
        reading.take(&rows, add_point);
        // Devices and switches are points too, so they can be named only now.
        reading.again(&rows, tie_point);
    }
    if let Some(text) = survey.panels {
        // Rooms can be named only now.
        let rows = Rows::read("panels.csv", text, PANEL_COLUMNS, &[], &mut Reading::new(House::new("")));
        reading.again(&rows, place_panel);
    }
    if let Some(text) = survey.evidence {
        evidence::take(&mut reading, text, now);
    }
    // An import is where a house begins: its changes are not counted one by one.
    reading.house.revision = 0;
    reading.finish(bad)
}

pub(super) fn apply(house: &mut House, change: &Change) -> Result<(), Invalid> {
    *house = house.apply(change)?.house;
    Ok(())
}

pub(super) fn next<T: wayfinder_core::base::table::Entity>(
    table: &wayfinder_core::base::table::Table<T>,
    id: impl Fn(&T) -> u64,
) -> u64 {
    table.iter().map(id).max().unwrap_or(0) + 1
}

fn set_about(house: &mut House, row: &Row) -> Result<(), Fault> {
    let mut about = house.about.clone();
    if !row.get("name").is_empty() {
        about.name = row.get("name").into();
    }
    about.every_panel = row.yes_or_no("every_panel")?.unwrap_or(about.every_panel);
    apply(house, &Change::SetAbout { about }).map_err(|e| row.invalid(e, &[], "name"))
}

fn add_panel(house: &mut House, row: &Row) -> Result<(), Fault> {
    let supply = row.one_of("supply", SUPPLIES)?;
    let main = row.optional("main_amps", "amperes, or nothing for main lugs")?.map(Amps);
    let id = PanelId(next(&house.panels, |p| p.id.0));
    let panel = Panel {
        supply,
        // The main's rating is the least that the bus must carry.
        bus: row.optional("bus_amps", "amperes")?.map(Amps).or(main).unwrap_or(Amps(200.0)),
        main,
        numbering: numbering(row)?,
        tandem: tandem_spaces(row)?,
        tandem_known: row.one_of("tandem_known", KNOWN_BY)?,
        max_circuits: row.optional("max_circuits", "a number, or nothing")?,
        model: row.get("model").into(),
        listed: row.list("listed").map(str::to_owned).collect(),
        bonded: row.yes_or_no("bonded")?,
        plug_on_neutral: row.yes_or_no("plug_on_neutral")?,
        feed_through: row.yes_or_no("feed_through")?.unwrap_or(false),
        disconnect: row.get("disconnect").into(),
        separate_building: row.yes_or_no("separate_building")?.unwrap_or(false),
        ..Panel::new(id, row.get("panel"), row.required("spaces", "a number of spaces")?)
    };
    let columns = [
        ("panel.bus", "bus_amps"),
        ("panel.main", "main_amps"),
        ("panel.spaces", "spaces"),
        ("panel.fed_by", "fed_by"),
        ("panel.numbering", "numbering"),
        ("panel.model", "model"),
        ("panel.listed", "listed"),
        ("panel.disconnect", "disconnect"),
    ];
    apply(house, &Change::PutPanel { panel }).map_err(|e| row.invalid(e, &columns, "panel"))
}

fn numbering(row: &Row) -> Result<Numbering, Fault> {
    match row.get("numbering").to_ascii_lowercase().as_str() {
        "" | "odd-even" => Ok(Numbering::OddEven),
        "columns" => Ok(Numbering::Columns),
        list => {
            let numbers = list.split(';').map(|n| n.trim().parse::<u16>()).collect::<Result<_, _>>();
            let expected = "odd-even, columns, or every number down the left, then down the right: 11;12;21;22";
            numbers.map(Numbering::Custom).map_err(|_| row.fault("numbering", expected))
        }
    }
}

/// Where the panel hangs; rooms are known by then.
fn place_panel(house: &mut House, row: &Row) -> Result<(), Fault> {
    let Some(panel) = house.panel_named(row.get("panel")).cloned().filter(|_| !row.get("room").is_empty()) else {
        return Ok(());
    };
    let (room, add) = room_of(house, row);
    let place = Some(PanelPlace { room, spot: plan::spot(house, row)? });
    let changes = add.into_iter().chain([Change::PutPanel { panel: Panel { place, ..panel } }]).collect();
    apply(house, &Change::Batch { changes }).map_err(|e| row.invalid(e, &[("room.name", "room")], "place"))
}

fn tandem_spaces(row: &Row) -> Result<TandemSpaces, Fault> {
    let expected = "none, all, or spaces like 17-20;37-40";
    let fault = || row.fault("tandem_spaces", expected);
    match row.get("tandem_spaces").to_ascii_lowercase().as_str() {
        "" | "none" => return Ok(TandemSpaces::None),
        "all" => return Ok(TandemSpaces::All),
        _ => {}
    }
    let mut spaces = BTreeSet::new();
    for part in row.get("tandem_spaces").split(';') {
        let (from, to) = part.split_once('-').unwrap_or((part, part));
        let number = |text: &str| text.trim().parse::<u16>().map_err(|_| fault());
        let (from, to) = (number(from)?, number(to)?);
        if from == 0 || to < from || to > 200 {
            return Err(fault());
        }
        spaces.extend(from..=to);
    }
    Ok(TandemSpaces::Some(spaces))
}

pub(super) fn panel_of(house: &House, row: &Row) -> Result<PanelId, Fault> {
    let names = || house.panels.iter().map(|p| p.name.as_str()).collect::<Vec<_>>().join(", ");
    let found = house.panel_named(row.get("panel")).map(|p| p.id);
    found.ok_or_else(|| row.fault("panel", &format!("a panel of panels.csv: {}", names())))
}

fn add_breaker(house: &mut House, row: &Row) -> Result<(), Fault> {
    let panel = panel_of(house, row)?;
    let at = parse_poles(row.get("at")).map_err(|e| row.says("at", e.to_string()))?;
    let columns = [
        ("breaker.amps", "amps"),
        ("breaker.label", "label"),
        ("breaker.panel", "panel"),
        ("breaker.frame", "frame"),
        ("breaker.model", "model"),
        ("breaker.terminal", "terminal_wires"),
    ];
    let Some(amps) = row.optional::<f64>("amps", "amperes, or nothing for an empty space")? else {
        let marks = at.iter().map(|p| Change::MarkEmpty { panel, space: *p, empty: true });
        let empty = Change::Batch { changes: marks.collect() };
        return apply(house, &empty).map_err(|e| row.invalid(e, &[], "at"));
    };
    let wires = row.optional("terminal_wires", "a number of wires, or nothing")?;
    let torque = row.optional("torque", "inch-pounds from its label, or nothing")?.map(InchPounds);
    let terminal = wires.map(|wires| Terminal { wires, smallest: None, largest: None, torque });
    let breaker = Breaker {
        device: row.one_of("type", DEVICES)?,
        handle: row.one_of("handle", HANDLES)?,
        label: row.get("label").into(),
        frame: row.one_of("frame", FRAMES)?,
        trip: row.one_of("trip", TRIPS)?,
        model: row.get("model").into(),
        terminal,
        as_found: row.yes_or_no("as_found")?.unwrap_or(false),
        ..Breaker::new(BreakerId(next(&house.breakers, |b| b.id.0)), panel, at, Amps(amps))
    };
    apply(house, &Change::PutBreaker { breaker }).map_err(|e| row.invalid(e, &columns, "at"))
}

fn set_feeder(house: &mut House, row: &Row) -> Result<(), Fault> {
    let text = row.get("fed_by");
    let Some(panel) = house.panel_named(row.get("panel")).cloned().filter(|_| !text.is_empty()) else { return Ok(()) };
    let feeder = text.split_once(':').and_then(|(upstream, at)| {
        let upstream = house.panel_named(upstream)?;
        house.breaker_at(upstream.id, &parse_poles(at).ok()?)
    });
    let Some(feeder) = feeder else {
        return Err(row.fault("fed_by", "a breaker that is there, as PANEL:5-7"));
    };
    let panel = Panel { fed_by: Some(feeder.id), ..panel };
    apply(house, &Change::PutPanel { panel }).map_err(|e| row.invalid(e, &[], "fed_by"))
}

fn add_point(house: &mut House, row: &Row) -> Result<(), Fault> {
    let volts = match row.optional::<u16>("volts", "120, 208 or 240, or nothing where it is not known")? {
        Some(volts) => Some(NominalVolts::try_from(volts).map_err(|e| row.says("volts", e))?),
        None => None,
    };
    let kind = row.one_of("kind", KINDS)?;
    let (room, add_room) = room_of(house, row);
    let point = Point {
        name: row.get("name").into(),
        volts,
        watts: row.optional("watts", "watts, or nothing")?,
        spot: plan::spot(house, row)?,
        shared_box: row.optional("box", "the number of the box that it shares with others")?.map(BoxId),
        ground_fault: row.yes_or_no("ground_fault")?.unwrap_or(false),
        shows: row.yes_or_no("shows")?.unwrap_or(false),
        ..Point::new(PointId(next(&house.points, |p| p.id.0)), row.get("tag"), room, kind)
    };
    let changes = add_room.into_iter().chain([Change::PutPoint { point }]).collect();
    let columns = [
        ("room.name", "room"),
        ("room.floor", "floor"),
        ("point.name", "name"),
        ("point.watts", "watts"),
        ("point.spot", "place"),
    ];
    apply(house, &Change::Batch { changes }).map_err(|e| row.invalid(e, &columns, "tag"))
}

/// The ground-fault device before a point, and its switches.
fn tie_point(house: &mut House, row: &Row) -> Result<(), Fault> {
    let (before, switches) = (row.get("protected_by"), row.list("switched_by").collect::<Vec<_>>());
    let Some(point) = house.point_tagged(row.get("tag")).cloned() else { return Ok(()) };
    if before.is_empty() && switches.is_empty() {
        return Ok(());
    }
    let tagged = |column, tag: &str| {
        let found = house.point_tagged(tag).map(|p| p.id);
        found.ok_or_else(|| row.says(column, format!("\"{tag}\" is no point's tag")))
    };
    let protected_by = (!before.is_empty()).then(|| tagged("protected_by", before)).transpose()?;
    let switched_by = switches.iter().map(|tag| tagged("switched_by", tag)).collect::<Result<_, _>>()?;
    let point = Point { protected_by, switched_by, ..point };
    let columns = [("point.switched_by", "switched_by")];
    apply(house, &Change::PutPoint { point }).map_err(|e| row.invalid(e, &columns, "protected_by"))
}

/// The room a point is in, and the change that adds it where it is new.
pub(super) fn room_of(house: &House, row: &Row) -> (RoomId, Option<Change>) {
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
