//! Panels: their numbers, places and feeders, and that nothing stands in two places.

use std::collections::BTreeSet;

use super::room::check_spot;
use super::{id, text, within};
use crate::base::Invalid;
use crate::base::position::{Numbering, Position};
use crate::base::units::{BUS_RATING, DOOR_HEIGHT, DOOR_WIDTH, MAIN_RATING, MAX_CIRCUITS, SPACES};
use crate::house::{Breaker, BreakerId, CardSize, House, Panel, PanelId};

/// Highest number engraved beside a space.
const MAX_ENGRAVED: u16 = 999;

pub(super) fn check_panel(house: &House, panel: &Panel) -> Result<(), Invalid> {
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
    if let Some(most) = panel.max_circuits {
        within(&MAX_CIRCUITS, "panel.max_circuits", f64::from(most))?;
    }
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

pub(super) fn check_spaces(house: &House, panel: &Panel) -> Result<(), Invalid> {
    let mut taken: Vec<(Position, BreakerId)> = Vec::new();
    for breaker in house.breakers.iter().filter(|b| b.panel == panel.id) {
        for pole in &breaker.at {
            if let Some((other, _)) = taken.iter().find(|(p, _)| p.overlaps(*pole)) {
                // Which of the two came first is not known here: both are named.
                let name = house.breakers.iter().find(|b| b.panel == panel.id && b.at.contains(other));
                let (name, own) = (name.map_or_else(String::new, Breaker::at_text), breaker.at_text());
                let message = format!("breakers {name} and {own} cannot both stand in {pole}: one has to go first");
                return Err(Invalid::new("breaker.at", message));
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
