//! A house as a survey folder, so that a spreadsheet can go on with it. Reading it back gives the same house but for
//! ids, the log, pictures and the step under way.

use wayfinder_core::House;
use wayfinder_core::base::position::Numbering;
use wayfinder_core::base::units::Inches;
use wayfinder_core::house::{Breaker, BreakerId, Circuit, Observation, Panel, PointId, RoomId, TandemSpaces};
use wayfinder_core::words::length;

use super::cells::{
    COLOURS, DEVICES, FAULTS, FRAMES, HANDLES, KINDS, KNOWN_BY, LANDED, METALS, OPENINGS, SEEN, SUPPLIES, TRIED, TRIPS,
    WALLS, WAS_OFF, WAYS, word,
};
use super::evidence as evidence_rows;
use super::house::{ABOUT_COLUMNS, BREAKER_COLUMNS, PANEL_COLUMNS, POINT_COLUMNS};
use super::plan::{OPENING_COLUMNS, ROOM_COLUMNS};
use super::wires;

type Row = Vec<String>;

/// All files of the folder by name; a file without rows is left out.
///
/// # Errors
/// Where the text cannot be written; memory only.
pub fn export(house: &House) -> Result<Vec<(&'static str, String)>, csv::Error> {
    let about = vec![house.about.name.clone(), yes(house.about.every_panel)];
    let tables: [(&'static str, &[&str], Vec<Row>); 8] = [
        ("about.csv", ABOUT_COLUMNS, vec![about]),
        ("panels.csv", PANEL_COLUMNS, house.panels.iter().map(|p| panel(house, p)).collect()),
        ("breakers.csv", BREAKER_COLUMNS, house.panels.iter().flat_map(|p| breakers(house, p)).collect()),
        ("wires.csv", wires::COLUMNS, circuits(house)),
        ("rooms.csv", ROOM_COLUMNS, rooms(house)),
        ("openings.csv", OPENING_COLUMNS, openings(house)),
        ("points.csv", POINT_COLUMNS, house.points.iter().map(|p| point(house, p)).collect()),
        ("evidence.csv", evidence_rows::COLUMNS, evidence(house)),
    ];
    let filled = tables.into_iter().filter(|(_, _, rows)| !rows.is_empty());
    filled.map(|(name, columns, rows)| Ok((name, table(columns, rows)?))).collect()
}

fn table(columns: &[&str], rows: Vec<Row>) -> Result<String, csv::Error> {
    let mut out = csv::WriterBuilder::new().terminator(csv::Terminator::CRLF).from_writer(Vec::new());
    out.write_record(columns)?;
    rows.into_iter().try_for_each(|row| out.write_record(row))?;
    let bytes = out.into_inner().map_err(|e| e.into_error())?;
    Ok(String::from_utf8_lossy(&bytes).into_owned())
}

fn some<T: ToString>(value: Option<T>) -> String {
    value.map_or_else(String::new, |v| v.to_string())
}

fn yes(value: bool) -> String {
    if value { "yes".into() } else { String::new() }
}

fn yes_or_no(value: Option<bool>) -> String {
    value.map_or("", |v| if v { "yes" } else { "no" }).into()
}

fn room_cells(house: &House, room: Option<RoomId>) -> [String; 2] {
    let room = room.and_then(|r| house.rooms.get(r));
    room.map_or_else(Default::default, |r| [r.floor.clone(), r.name.clone()])
}

fn panel(house: &House, p: &Panel) -> Row {
    let feeder = p.fed_by.and_then(|b| house.breakers.get(b));
    let upstream = feeder.and_then(|b| Some(format!("{}:{}", house.panels.get(b.panel)?.name, b.at_text())));
    let numbering = match &p.numbering {
        Numbering::OddEven => "odd-even".into(),
        Numbering::Columns => "columns".into(),
        Numbering::Custom(numbers) => numbers.iter().map(u16::to_string).collect::<Vec<_>>().join(";"),
    };
    let tandem = match &p.tandem {
        TandemSpaces::None => "none".into(),
        TandemSpaces::All => "all".into(),
        TandemSpaces::Some(spaces) => spaces.iter().map(u16::to_string).collect::<Vec<_>>().join(";"),
    };
    let [floor, room] = room_cells(house, p.place.map(|p| p.room));
    let spot = p.place.and_then(|p| p.spot);
    vec![
        p.name.clone(),
        some(upstream),
        word(SUPPLIES, p.supply),
        p.bus.0.to_string(),
        some(p.main.map(|a| a.0)),
        p.spaces.to_string(),
        numbering,
        tandem,
        some(p.max_circuits),
        word(KNOWN_BY, p.tandem_known),
        p.model.clone(),
        p.listed.join(";"),
        yes_or_no(p.bonded),
        yes_or_no(p.plug_on_neutral),
        yes(p.feed_through),
        p.disconnect.clone(),
        yes(p.separate_building),
        floor,
        room,
        some(spot.map(|s| length::write_spot(s, house.about.lengths))),
    ]
}

fn breakers(house: &House, panel: &Panel) -> Vec<Row> {
    let here = house.breakers_of(panel.id).into_iter().map(|b| (b.at[0], breaker(panel, b)));
    let bare = panel.empty.iter().map(|space| {
        let mut row = vec![String::new(); BREAKER_COLUMNS.len()];
        row[0].clone_from(&panel.name);
        row[1] = space.to_string();
        (*space, row)
    });
    let mut rows: Vec<_> = here.chain(bare).collect();
    rows.sort_by_key(|(space, _)| *space);
    rows.into_iter().map(|(_, row)| row).collect()
}

fn breaker(panel: &Panel, b: &Breaker) -> Row {
    vec![
        panel.name.clone(),
        b.at_text(),
        b.amps.0.to_string(),
        word(DEVICES, b.device),
        b.label.clone(),
        word(HANDLES, b.handle),
        word(FRAMES, b.frame),
        word(TRIPS, b.trip),
        b.model.clone(),
        some(b.terminal.map(|t| t.wires)),
        some(b.terminal.and_then(|t| t.torque).map(|t| t.0)),
        yes(b.as_found),
    ]
}

fn circuits(house: &House) -> Vec<Row> {
    // Those that own their neutral come first, so that the others can name them.
    let mut all: Vec<&Circuit> = house.circuits.iter().collect();
    all.sort_by_key(|c| c.neutral_of.is_some());
    all.into_iter().filter_map(|c| circuit(house, c)).collect()
}

fn circuit(house: &House, c: &Circuit) -> Option<Row> {
    let breaker = house.breakers.get(c.breaker)?;
    let mate = c.neutral_of.and_then(|m| house.circuits.get(m)).and_then(|m| {
        let nth = house.circuits_of(m.breaker).iter().position(|x| x.id == m.id)? + 1;
        let at = house.breakers.get(m.breaker)?.at_text();
        Some(if nth == 1 { at } else { format!("{at}#{nth}") })
    });
    let colours: Vec<String> = c.colours.iter().map(|colour| word(COLOURS, *colour)).collect();
    Some(vec![
        house.panels.get(breaker.panel)?.name.clone(),
        breaker.at_text(),
        some(c.pole),
        some(c.wire),
        word(METALS, c.metal),
        some(c.conductors),
        some(c.length.map(|l| l.0)),
        colours.join(";"),
        word(LANDED, c.landed),
        some(mate),
        yes(c.as_found),
    ])
}

fn rooms(house: &House) -> Vec<Row> {
    let write = |v: Inches| length::write(v, house.about.lengths);
    let row = |r: &wayfinder_core::house::Room| {
        let sides = r.area.map_or_else(Default::default, |a| [a.x, a.y, a.width, a.depth].map(write));
        [r.floor.clone(), r.name.clone()].into_iter().chain(sides).collect()
    };
    house.rooms.iter().map(row).collect()
}

fn openings(house: &House) -> Vec<Row> {
    let write = |v: Inches| length::write(v, house.about.lengths);
    let row = |o: &wayfinder_core::house::Opening| {
        let ([floor, room], [to_floor, to_room]) = (room_cells(house, Some(o.room)), room_cells(house, o.to));
        vec![
            floor,
            room,
            word(OPENINGS, o.kind),
            word(WALLS, o.wall),
            write(o.along),
            write(o.width),
            to_floor,
            to_room,
        ]
    };
    house.openings.iter().map(row).collect()
}

fn point(house: &House, p: &wayfinder_core::house::Point) -> Row {
    let tag = |id: &PointId| house.points.get(*id).map_or_else(String::new, |p| p.tag.clone());
    let [floor, room] = room_cells(house, Some(p.room));
    vec![
        p.tag.clone(),
        floor,
        room,
        word(KINDS, p.kind),
        p.name.clone(),
        some(p.volts.map(u16::from)),
        some(p.watts),
        some(p.spot.map(|s| length::write_spot(s, house.about.lengths))),
        some(p.shared_box.map(|b| b.0)),
        yes(p.ground_fault),
        some(p.protected_by.as_ref().map(tag)),
        p.switched_by.iter().map(tag).collect::<Vec<_>>().join(";"),
        yes(p.shows),
    ]
}

fn evidence(house: &House) -> Vec<Row> {
    let first = house.panels_in_order().first().map(|p| p.id);
    let name = |id: &BreakerId| {
        let breaker = house.breakers.get(*id)?;
        let panel = house.panels.get(breaker.panel)?;
        let prefix = if Some(panel.id) == first { String::new() } else { format!("{}:", panel.name) };
        Some(format!("{prefix}{}", breaker.at_text()))
    };
    let row = |e: &wayfinder_core::house::Evidence| {
        let mut amps = [String::new(), String::new()];
        let (off, seen, how): (Vec<_>, _, _) = match &e.observation {
            Observation::Power { off, seen, how } => {
                (off.iter().filter_map(name).collect(), word(SEEN, *seen), word(WAYS, *how))
            }
            Observation::Pointed { at } => (name(at).into_iter().collect(), String::new(), "receiver".into()),
            Observation::Wire { at } => (name(at).into_iter().collect(), String::new(), "wire".into()),
            Observation::Rise { at, expected, rose } => {
                amps = [expected, rose].map(|a| a.0.to_string());
                (name(at).into_iter().collect(), String::new(), "load".into())
            }
            Observation::Tried { cause, was_off } => (Vec::new(), word(WAS_OFF, *was_off), word(TRIED, *cause)),
            Observation::Fault { fault } => (Vec::new(), word(FAULTS, *fault), "fault".into()),
        };
        let tag = house.points.get(e.point).map_or_else(String::new, |p| p.tag.clone());
        let [expected, rose] = amps;
        vec![e.time.to_string(), String::new(), off.join(";"), tag, seen, how, e.who.clone(), expected, rose]
    };
    house.evidence.iter().map(row).collect()
}
