//! What every house must hold to. One place says what is possible; each change and each file is checked against it.

use std::collections::BTreeSet;

use crate::change::Invalid;
use crate::house::{Breaker, BreakerId, CardSize, House, Panel, PanelId};
use crate::position::Half;
use crate::units::{
    BREAKER_RATING, BUS_RATING, DOOR_HEIGHT, DOOR_WIDTH, Limits, MAIN_RATING, SPACES, THRESHOLD, WATTS,
};

/// Longest name or label: more does not fit any card.
const MAX_TEXT: usize = 80;
/// Longest tag: it is written on a cover plate.
const MAX_TAG: usize = 8;
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
    check_rooms(house)?;
    check_points(house)?;
    check_evidence(house)?;
    check_step(house)
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
    if value.chars().count() > MAX_TEXT {
        return Err(Invalid::new(field, format!("at most {MAX_TEXT} letters, please")));
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
        if pole.space == 0 || pole.space > panel.spaces {
            return at(format!("{} has spaces 1 to {}, there is no {}", panel.name, panel.spaces, pole.space));
        }
        if pole.half != Half::Whole && !panel.tandem.allow(pole.space) {
            return at(format!(
                "space {} of {} takes no half-size breakers, as far as its label is recorded (NEC 408.54)",
                pole.space, panel.name
            ));
        }
    }
    for pair in breaker.at.windows(2) {
        let [upper, lower] = [pair[0], pair[1]];
        if (upper.half == Half::Whole) != (lower.half == Half::Whole) {
            return at("all poles of one breaker are full size, or all are half size".into());
        }
        if panel.numbering.below(upper.space, panel.spaces) != Some(lower.space) {
            let why = match panel.numbering.below(upper.space, panel.spaces) {
                Some(below) => format!("the pole below {} would be in {below}, not {}", upper.space, lower.space),
                None => {
                    format!("{} is the last space of its column: there is no room for a pole below it", upper.space)
                }
            };
            return at(why);
        }
    }
    let mut legs: Vec<_> = breaker.at.iter().map(|p| panel.leg(*p)).collect();
    legs.sort_unstable();
    legs.dedup();
    if legs.len() < breaker.at.len() {
        return at("two of its poles would be on the same leg".into());
    }
    Ok(())
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
            if panel.empty.contains(&pole.space) {
                let message = format!("space {} is marked empty and has a breaker", pole.space);
                return Err(Invalid::new("panel.empty", message));
            }
            taken.push((*pole, breaker.id));
        }
    }
    if let Some(space) = panel.empty.iter().find(|s| **s == 0 || **s > panel.spaces) {
        return Err(Invalid::new("panel.empty", format!("there is no space {space}")));
    }
    match panel.max_circuits {
        // Every pole counts one (NEC 408.54).
        Some(max) if taken.len() > usize::from(max) => Err(Invalid::new(
            "breaker.at",
            format!("{} may have {max} poles by its label, this would make {}", panel.name, taken.len()),
        )),
        _ => Ok(()),
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
    }
    Ok(())
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
    }
    Ok(())
}

fn check_evidence(house: &House) -> Result<(), Invalid> {
    for evidence in house.evidence.iter() {
        id("evidence.id", evidence.id.0)?;
        text("evidence.who", "whoever says so", &evidence.who, true)?;
        if house.points.get(evidence.point).is_none() {
            return Err(Invalid::new("evidence.point", "the point it speaks of does not exist"));
        }
        if evidence.observation.breakers().any(|b| house.breakers.get(b).is_none()) {
            return Err(Invalid::new("evidence.observation", "a breaker it speaks of does not exist"));
        }
    }
    Ok(())
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
