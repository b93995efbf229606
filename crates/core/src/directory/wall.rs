//! The wall sheet: what hangs on every breaker, which ground-fault device kills what and where its button is, where the main is, and
//! what stays live. (handbook 4)

use serde::Serialize;
use utoipa::ToSchema;

use super::{Card, OnCard, card};
use crate::house::{Device, House, Point};
use crate::trace::Beliefs;
use crate::words::things::in_words;

/// A wall sheet.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
pub struct WallSheet {
    /// The house's name.
    pub house: String,
    /// The house's revision.
    pub revision: u64,
    /// How everything is switched off, panel by panel.
    pub mains: Vec<String>,
    /// The cards of all panels.
    pub cards: Vec<Card>,
    /// Ground-fault devices: outlets and breakers.
    pub devices: Vec<WallDevice>,
    /// What stays live whatever is off.
    pub stays_live: Vec<String>,
}

/// A ground-fault device.
#[derive(Debug, Clone, PartialEq, Eq, Serialize, ToSchema)]
pub struct WallDevice {
    /// Where its button is.
    pub button: String,
    /// What is dead when it trips.
    pub kills: String,
}

/// The wall sheet of a house.
#[must_use]
pub fn wall_sheet(house: &House, beliefs: &Beliefs) -> WallSheet {
    let cards: Vec<Card> = house.panels_in_order().into_iter().map(|panel| card(house, beliefs, panel)).collect();
    let where_is = |panel: &&crate::house::Panel| {
        let room = panel.place.and_then(|place| house.rooms.get(place.room));
        let there = room.map_or_else(|| "where nobody entered".to_owned(), |room| room.name.clone());
        let off = match (panel.main, panel.fed_by.and_then(|b| house.breakers.get(b))) {
            (Some(amps), _) => format!("its main of {amps}"),
            (None, Some(feeder)) => format!("breaker {}", super::plate_name(house, feeder)),
            (None, None) if !panel.disconnect.is_empty() => panel.disconnect.clone(),
            (None, None) => "a disconnect that nobody entered".to_owned(),
        };
        format!("Panel {}: {there}. Switched off by {off}.", panel.name)
    };
    let live = house.points_in_order().into_iter().filter(|p| beliefs.of(p.id).is_some_and(|b| b.stays_live()));
    let mut stays_live: Vec<String> = vec!["The lugs and wires before each main, whatever is off.".to_owned()];
    stays_live.extend(live.map(|point| format!("{} ({}): do not work there.", in_words(house, &[point]), point.tag)));
    let inlets = house.breakers.iter().filter(|b| b.inlet);
    stays_live.extend(inlets.map(|b| format!("Breaker {}, while the generator runs.", super::plate_name(house, b))));
    WallSheet {
        house: house.about.name.clone(),
        revision: house.revision,
        mains: house.panels_in_order().iter().map(where_is).collect(),
        cards,
        devices: devices(house, beliefs),
        stays_live,
    }
}

fn devices(house: &House, beliefs: &Beliefs) -> Vec<WallDevice> {
    let on = OnCard::new(house, beliefs);
    let behind = |device: &Point| -> Vec<&Point> {
        house.points_in_order().into_iter().filter(|p| p.protected_by == Some(device.id)).collect()
    };
    let outlet = |point: &&Point| {
        let all: Vec<&Point> = std::iter::once(*point).chain(behind(point)).collect();
        let tags: Vec<&str> = all.iter().map(|p| p.tag.as_str()).collect();
        WallDevice {
            button: format!("{} ({})", in_words(house, &[point]), point.tag),
            kills: format!("{} ({})", in_words(house, &all), tags.join(" ")),
        }
    };
    let outlets = house.points_in_order().into_iter().filter(|p| p.ground_fault);
    let mut all: Vec<WallDevice> = outlets.map(|point| outlet(&point)).collect();
    for panel in house.panels_in_order() {
        for breaker in
            house.breakers_of(panel.id).into_iter().filter(|b| matches!(b.device, Device::Gfci | Device::Dual))
        {
            let line = on.line(breaker);
            let likely = if line.probably.is_empty() { String::new() } else { format!("? {}", line.probably) };
            let known: Vec<String> = [line.feeds, likely].into_iter().filter(|words| !words.is_empty()).collect();
            let kills = if known.is_empty() { "not traced".to_owned() } else { known.join("; ") };
            all.push(WallDevice { button: format!("breaker {}", super::plate_name(house, breaker)), kills });
        }
    }
    all
}
