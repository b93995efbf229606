//! What every house must hold to. One place says what is possible; each change and each file is checked against it.

use std::collections::BTreeSet;

use crate::change::Invalid;
use crate::fit;
use crate::house::{
    Area, Breaker, BreakerId, CardSize, Circuit, Event, House, Observation, Opening, OpeningKind, Panel, PanelId,
    Picture, PictureOf, Point, PointKind, Room, Spot,
};
use crate::plan::MAY_OVERLAP;
use crate::position::{Half, Numbering, Position};
use crate::units::{
    BREAKER_RATING, BUS_RATING, CABLE_LENGTH, CONDUCTORS, DOOR_HEIGHT, DOOR_WIDTH, LOAD_AMPS, Limits, MAIN_RATING,
    OPENING_WIDTH, PLAN_PLACE, READ_VOLTS, ROOM_SIDE, ROSE_AMPS, SPACES, TERMINAL_WIRES, THRESHOLD, TORQUE, WATTS,
};

/// Longest name or label: more does not fit any card.
const MAX_TEXT: usize = 80;
/// Longest tag: it is written on a cover plate.
const MAX_TAG: usize = 8;
/// Longest note in the logbook.
const MAX_NOTE: usize = 500;
/// Highest number engraved beside a space.
const MAX_ENGRAVED: u16 = 999;
/// Most pixels of a stored picture's side.
const MAX_PIXELS: u32 = 20_000;
/// Ids above this lose digits in JSON numbers (2^53).
const MAX_ID: u64 = 1 << 53;

/// Checks the whole house.
///
/// # Errors
/// The first thing that cannot be, with the field at fault.
pub fn check(house: &House) -> Result<(), Invalid> {
    check_about(house)?;
    house.panels.iter().try_for_each(|p| check_panel(house, p))?;
    house.breakers.iter().try_for_each(|b| check_breaker(house, b))?;
    house.panels.iter().try_for_each(|p| check_spaces(house, p))?;
    house.circuits.iter().try_for_each(|c| check_circuit(house, c))?;
    check_fit(house)?;
    check_rooms(house)?;
    house.openings.iter().try_for_each(|o| check_opening(house, o))?;
    check_points(house)?;
    check_evidence(house)?;
    house.log.iter().try_for_each(|e| check_log(house, e))?;
    house.pictures.iter().try_for_each(|p| check_picture(house, p))?;
    house.underlays.iter().try_for_each(|u| check_underlay(house, u))?;
    check_runs(house)?;
    check_step(house)
}

/// What does not fit is refused, unless it is recorded as found.
fn check_fit(house: &House) -> Result<(), Invalid> {
    let as_found = |m: &fit::Misfit| match m.circuit {
        Some(circuit) => house.circuits.get(circuit).is_some_and(|c| c.as_found),
        None => house.breakers.get(m.breaker).is_some_and(|b| b.as_found),
    };
    let field = |m: &fit::Misfit| if m.circuit.is_some() { circuit_field(m.rule) } else { "breaker.at" };
    match fit::misfits(house).into_iter().find(|m| m.rule.is_refused() && !as_found(m)) {
        Some(m) => {
            let message = format!("{} ({}). If it is really so, record it as found", m.message, m.source);
            Err(Invalid::new(field(&m), message))
        }
        None => Ok(()),
    }
}

fn circuit_field(rule: fit::Misrule) -> &'static str {
    match rule {
        fit::Misrule::FullTerminal => "circuit.landed",
        fit::Misrule::NeutralOneLeg | fit::Misrule::NeutralUntied => "circuit.neutral_of",
        _ => "circuit.wire",
    }
}

fn within(limits: &Limits, field: &str, value: f64) -> Result<(), Invalid> {
    if limits.contain(value) {
        return Ok(());
    }
    let Limits { label, unit, min, max } = limits;
    Err(Invalid::new(field, format!("the {label} must be {min} to {max} {unit}, not {value}").replace(" ,", ",")))
}

fn text(field: &str, word: &str, value: &str, required: bool) -> Result<(), Invalid> {
    if required && value.trim().is_empty() {
        return Err(Invalid::new(field, format!("{word} needs a name")));
    }
    short(field, value, MAX_TEXT)
}

fn short(field: &str, value: &str, most: usize) -> Result<(), Invalid> {
    if value.chars().count() > most {
        return Err(Invalid::new(field, format!("at most {most} letters, please")));
    }
    if value.chars().any(char::is_control) {
        return Err(Invalid::new(field, "line breaks and control characters cannot be used here"));
    }
    Ok(())
}

fn id(field: &str, value: u64) -> Result<(), Invalid> {
    if value == 0 || value >= MAX_ID {
        return Err(Invalid::new(field, "an id must be from 1 to 2^53 - 1"));
    }
    Ok(())
}

fn check_about(house: &House) -> Result<(), Invalid> {
    text("about.name", "the house", &house.about.name, true)?;
    within(&THRESHOLD, "about.proof_threshold", house.about.proof_threshold)
}

fn check_panel(house: &House, panel: &Panel) -> Result<(), Invalid> {
    id("panel.id", panel.id.0)?;
    text("panel.name", "the panel", &panel.name, true)?;
    if house.panels.iter().any(|p| p.id != panel.id && p.name.eq_ignore_ascii_case(&panel.name)) {
        return Err(Invalid::new("panel.name", format!("there is already a panel called {}", panel.name)));
    }
    within(&BUS_RATING, "panel.bus", panel.bus.0)?;
    if let Some(main) = panel.main {
        within(&MAIN_RATING, "panel.main", main.0)?;
    }
    within(&SPACES, "panel.spaces", f64::from(panel.spaces))?;
    check_numbering(panel)?;
    for (field, value) in [("panel.model", &panel.model), ("panel.disconnect", &panel.disconnect)] {
        text(field, "it", value, false)?;
    }
    panel.listed.iter().try_for_each(|l| text("panel.listed", "a listed type", l, true))?;
    if let Some(place) = panel.place {
        let room = house.rooms.get(place.room);
        let room = room.ok_or_else(|| Invalid::new("panel.place", "the room it hangs in does not exist"))?;
        check_spot("panel.place", room, place.spot)?;
    }
    if let Some(card) = panel.card {
        card.check()?;
    }
    if let Some(feeder) = panel.fed_by
        && house.breakers.get(feeder).is_none()
    {
        return Err(Invalid::new("panel.fed_by", "the breaker that feeds it does not exist"));
    }
    check_not_fed_by_itself(house, panel)
}

fn check_numbering(panel: &Panel) -> Result<(), Invalid> {
    let Numbering::Custom(engraved) = &panel.numbering else { return Ok(()) };
    let fault = |message: String| Err(Invalid::new("panel.numbering", message));
    if engraved.len() != usize::from(panel.spaces) {
        return fault(format!("{} numbers for {} spaces: give one for each", engraved.len(), panel.spaces));
    }
    let mut seen = BTreeSet::new();
    for number in engraved {
        if *number == 0 || *number > MAX_ENGRAVED {
            return fault(format!("the number of a space must be 1 to {MAX_ENGRAVED}, not {number}"));
        }
        if !seen.insert(number) {
            return fault(format!("the number {number} is given twice"));
        }
    }
    Ok(())
}

fn check_not_fed_by_itself(house: &House, panel: &Panel) -> Result<(), Invalid> {
    let mut seen: BTreeSet<PanelId> = [panel.id].into();
    let mut feeder: Option<BreakerId> = panel.fed_by;
    while let Some(upstream) = feeder.and_then(|b| house.breakers.get(b)).map(|b| b.panel) {
        if !seen.insert(upstream) {
            return Err(Invalid::new("panel.fed_by", format!("{} would be fed by itself", panel.name)));
        }
        feeder = house.panels.get(upstream).and_then(|p| p.fed_by);
    }
    Ok(())
}

fn check_breaker(house: &House, breaker: &Breaker) -> Result<(), Invalid> {
    id("breaker.id", breaker.id.0)?;
    within(&BREAKER_RATING, "breaker.amps", breaker.amps.0)?;
    text("breaker.label", "the label", &breaker.label, false)?;
    let at = |message: String| Err(Invalid::new("breaker.at", message));
    let Some(panel) = house.panels.get(breaker.panel) else {
        return Err(Invalid::new("breaker.panel", "there is no such panel"));
    };
    if !(1..=3).contains(&breaker.at.len()) {
        return at("a breaker has one, two or three poles".into());
    }
    for pole in &breaker.at {
        if !panel.has(pole.space) {
            let numbers = panel.numbers();
            let (first, last) = (numbers.first().copied().unwrap_or(0), numbers.last().copied().unwrap_or(0));
            return at(format!("{} has spaces {first} to {last}, there is no {}", panel.name, pole.space));
        }
    }
    for pair in breaker.at.windows(2) {
        check_next_pole(panel, pair[0], pair[1])?;
    }
    if let Some(frame) = breaker.frame
        && (frame == crate::house::Frame::Full) == breaker.is_half_size()
    {
        return Err(Invalid::new("breaker.frame", "full size takes whole spaces, all other bodies take half ones"));
    }
    if let Some(terminal) = breaker.terminal {
        within(&TERMINAL_WIRES, "breaker.terminal", f64::from(terminal.wires))?;
        if let Some(torque) = terminal.torque {
            within(&TORQUE, "breaker.terminal", torque.0)?;
        }
        if let Some((small, large)) = terminal.smallest.zip(terminal.largest)
            && small.is_thicker_than(large)
        {
            return Err(Invalid::new("breaker.terminal", format!("{small} AWG is thicker than {large} AWG")));
        }
    }
    text("breaker.model", "the type", &breaker.model, false)
}

/// Poles of one breaker follow one another down a column; two halves of one space do so too, though on one leg.
fn check_next_pole(panel: &Panel, upper: Position, lower: Position) -> Result<(), Invalid> {
    let at = |message: String| Err(Invalid::new("breaker.at", message));
    if (upper.half == Half::Whole) != (lower.half == Half::Whole) {
        return at("all poles of one breaker are full size, or all are half size".into());
    }
    if (upper.space, upper.half, lower.half) == (lower.space, Half::Upper, Half::Lower) {
        return Ok(());
    }
    match panel.below(upper.space) {
        Some(below) if below == lower.space => Ok(()),
        Some(below) => at(format!("the pole below {} would be in {below}, not {}", upper.space, lower.space)),
        None => at(format!("{} is the last space of its column: there is no room for a pole below it", upper.space)),
    }
}

fn check_spaces(house: &House, panel: &Panel) -> Result<(), Invalid> {
    let mut taken: Vec<(crate::position::Position, BreakerId)> = Vec::new();
    for breaker in house.breakers.iter().filter(|b| b.panel == panel.id) {
        for pole in &breaker.at {
            if let Some((other, _)) = taken.iter().find(|(p, _)| p.overlaps(*pole)) {
                let name = house.breakers.iter().find(|b| b.panel == panel.id && b.at.contains(other));
                let name = name.map_or_else(String::new, Breaker::at_text);
                return Err(Invalid::new("breaker.at", format!("{pole} is already taken by the breaker at {name}")));
            }
            if panel.empty.iter().any(|empty| empty.overlaps(*pole)) {
                let message = format!("space {pole} is marked empty and has a breaker");
                return Err(Invalid::new("panel.empty", message));
            }
            taken.push((*pole, breaker.id));
        }
    }
    if let Some(space) = panel.empty.iter().find(|p| !panel.has(p.space)) {
        return Err(Invalid::new("panel.empty", format!("there is no space {space}")));
    }
    Ok(())
}

fn check_circuit(house: &House, circuit: &Circuit) -> Result<(), Invalid> {
    id("circuit.id", circuit.id.0)?;
    let breaker = house.breakers.get(circuit.breaker);
    let breaker = breaker.ok_or_else(|| Invalid::new("circuit.breaker", "the breaker it hangs on does not exist"))?;
    if circuit.pole.is_some_and(|p| p == 0 || usize::from(p) > breaker.at.len()) {
        let message = format!("the breaker at {} has poles 1 to {}", breaker.at_text(), breaker.at.len());
        return Err(Invalid::new("circuit.pole", message));
    }
    if let Some(conductors) = circuit.conductors {
        within(&CONDUCTORS, "circuit.conductors", f64::from(conductors))?;
    }
    if let Some(length) = circuit.length {
        within(&CABLE_LENGTH, "circuit.length", length.0)?;
    }
    if circuit.colours.len() > breaker.at.len() {
        return Err(Invalid::new("circuit.colours", "there are more colours than poles"));
    }
    let Some(mate) = circuit.neutral_of else { return Ok(()) };
    let mate = house.circuits.get(mate).filter(|m| m.id != circuit.id);
    let fault = |message: &str| Err(Invalid::new("circuit.neutral_of", message));
    match mate {
        None => fault("the circuit whose neutral it shares does not exist"),
        Some(m) if m.neutral_of.is_some() => {
            fault("name the circuit that the neutral comes with, not one that shares it")
        }
        Some(m) if house.breakers.get(m.breaker).is_some_and(|b| b.panel != breaker.panel) => {
            fault("circuits that share a neutral begin in one panel (NEC 210.4(A))")
        }
        Some(_) => Ok(()),
    }
}

fn check_rooms(house: &House) -> Result<(), Invalid> {
    for room in house.rooms.iter() {
        id("room.id", room.id.0)?;
        text("room.name", "the room", &room.name, true)?;
        text("room.floor", "the floor", &room.floor, true)?;
        let same = |r: &&crate::house::Room| {
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

fn check_spot(field: &str, room: &Room, spot: Option<Spot>) -> Result<(), Invalid> {
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

fn check_opening(house: &House, opening: &Opening) -> Result<(), Invalid> {
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

fn check_log(house: &House, entry: &crate::house::LogEntry) -> Result<(), Invalid> {
    id("entry.id", entry.id.0)?;
    text("entry.who", "whoever says so", &entry.who, true)?;
    short("entry.note", &entry.note, MAX_NOTE)?;
    if entry.event.breaker().is_some_and(|b| house.breakers.get(b).is_none()) {
        return Err(Invalid::new("entry.event", "the breaker it is about does not exist"));
    }
    if entry.event.panel().is_some_and(|p| house.panels.get(p).is_none()) {
        return Err(Invalid::new("entry.event", "the panel it is about does not exist"));
    }
    if entry.event.points().iter().any(|p| house.points.get(*p).is_none()) {
        return Err(Invalid::new("entry.event", "a point it speaks of does not exist"));
    }
    match &entry.event {
        Event::Volts { reading, .. } => {
            let fields = [
                ("reading.a_n", Some(reading.a_n)),
                ("reading.b_n", Some(reading.b_n)),
                ("reading.a_b", Some(reading.a_b)),
                ("reading.c_n", reading.c_n),
            ];
            fields.into_iter().filter_map(|(f, v)| Some((f, v?))).try_for_each(|(f, v)| within(&READ_VOLTS, f, v.0))
        }
        Event::Note { .. } if entry.note.trim().is_empty() => Err(Invalid::new("entry.note", "the note is empty")),
        _ => Ok(()),
    }
}

fn check_picture(house: &House, picture: &Picture) -> Result<(), Invalid> {
    id("picture.id", picture.id.0)?;
    text("picture.who", "whoever added it", &picture.who, true)?;
    text("picture.caption", "the picture", &picture.caption, false)?;
    if picture.digest.len() != 64 || !picture.digest.bytes().all(|b| b.is_ascii_hexdigit()) {
        return Err(Invalid::new("picture.digest", "not a SHA-256 digest in hexadecimal"));
    }
    if !(1..=MAX_PIXELS).contains(&picture.width) || !(1..=MAX_PIXELS).contains(&picture.height) {
        return Err(Invalid::new("picture.width", format!("a side must have 1 to {MAX_PIXELS} pixels")));
    }
    let there = match &picture.of {
        PictureOf::Panel { panel } => house.panels.get(*panel).is_some(),
        PictureOf::Breaker { breaker } => house.breakers.get(*breaker).is_some(),
        PictureOf::Circuit { circuit } => house.circuits.get(*circuit).is_some(),
        PictureOf::Point { point } => house.points.get(*point).is_some(),
        PictureOf::Floor { floor } => !floor.trim().is_empty(),
    };
    if there { Ok(()) } else { Err(Invalid::new("picture.of", "what it shows does not exist")) }
}

fn check_underlay(house: &House, underlay: &crate::house::Underlay) -> Result<(), Invalid> {
    id("underlay.id", underlay.id.0)?;
    if house.pictures.get(underlay.picture).is_none() {
        return Err(Invalid::new("underlay.picture", "its picture does not exist"));
    }
    let again = house.underlays.iter().any(|u| u.id != underlay.id && u.floor.eq_ignore_ascii_case(&underlay.floor));
    if again {
        return Err(Invalid::new("underlay.floor", format!("floor {} already has a drawing", underlay.floor)));
    }
    within(&PLAN_PLACE, "underlay.x", underlay.x.0)?;
    within(&PLAN_PLACE, "underlay.y", underlay.y.0)?;
    if underlay.width.0 > 0.0 && underlay.width.0 <= 2.0 * PLAN_PLACE.max {
        return Ok(());
    }
    Err(Invalid::new("underlay.width", "its width must be more than nothing, and at most 2000 ft"))
}

fn check_points(house: &House) -> Result<(), Invalid> {
    let mut tags = BTreeSet::new();
    for point in house.points.iter() {
        id("point.id", point.id.0)?;
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
        if let Some(watts) = point.watts {
            within(&WATTS, "point.watts", watts)?;
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

fn check_evidence(house: &House) -> Result<(), Invalid> {
    for evidence in house.evidence.iter() {
        id("evidence.id", evidence.id.0)?;
        text("evidence.who", "whoever says so", &evidence.who, true)?;
        if house.points.get(evidence.point).is_none() {
            return Err(Invalid::new("evidence.point", "the point it speaks of does not exist"));
        }
        if let Observation::Rise { expected, rose, .. } = &evidence.observation {
            within(&LOAD_AMPS, "evidence.observation.expected", expected.0)?;
            within(&ROSE_AMPS, "evidence.observation.rose", rose.0)?;
        }
        if evidence.observation.breakers().any(|b| house.breakers.get(b).is_none()) {
            return Err(Invalid::new("evidence.observation", "a breaker it speaks of does not exist"));
        }
    }
    Ok(())
}

fn check_runs(house: &House) -> Result<(), Invalid> {
    for run in house.runs.iter() {
        id("run.id", run.id.0)?;
        if run.ended.is_some_and(|end| end < run.begun) {
            return Err(Invalid::new("run.ended", "a run cannot end before it begins"));
        }
        let crew = |e: Invalid| Invalid::new(format!("run.crew.{}", e.field), e.message);
        run.crew.check(house).map_err(crew)?;
        if run.searched.iter().any(|b| house.breakers.get(*b).is_none()) {
            return Err(Invalid::new("run.searched", "a breaker that was searched does not exist"));
        }
    }
    match house.runs.iter().filter(|r| r.ended.is_none()).nth(1) {
        Some(_) => Err(Invalid::new("run.ended", "another run still goes on; end it first")),
        None => Ok(()),
    }
}

fn check_step(house: &House) -> Result<(), Invalid> {
    let Some(step) = &house.step else {
        return Ok(());
    };
    id("step.id", step.id.0)?;
    if step.off.iter().any(|b| house.breakers.get(*b).is_none()) {
        return Err(Invalid::new("step.off", "a breaker to switch off does not exist"));
    }
    if step.visit.iter().any(|p| house.points.get(*p).is_none()) {
        return Err(Invalid::new("step.visit", "a point to look at does not exist"));
    }
    Ok(())
}

impl CardSize {
    /// Checks the limits of a card.
    ///
    /// # Errors
    /// The side that is out of range.
    pub fn check(&self) -> Result<(), Invalid> {
        within(&DOOR_WIDTH, "width", self.width.0)?;
        within(&DOOR_HEIGHT, "height", self.height.0)
    }
}

impl House {
    /// Checks a house that came from outside (a file).
    ///
    /// # Errors
    /// The first thing that cannot be, with the field at fault.
    pub fn check(&self) -> Result<(), Invalid> {
        check(self)
    }
}
