//! What is written on doors, plates and in the record.

use std::collections::BTreeSet;

use super::mapped::first_panel;
use super::{NAMES_PERSON, NO_CARD, POOR_LABELS, STALE_CARD, STALE_PLATE, WRONG_LABEL};
use crate::audit::KnownHouse;
use crate::directory::{self, plate};
use crate::house::{Panel, Point, Room};
use crate::rules::{Hit, Rests};
use crate::trace::BreakerBelief;
use crate::words::labels::{Sense, names_person, words};

pub(super) fn stale_card(known: &KnownHouse<'_>) -> Vec<Hit> {
    let hit = |panel: &Panel| {
        let lines = directory::stale(known.house, known.beliefs, panel).filter(|lines| !lines.is_empty())?;
        let told = |line: &directory::StaleLine| {
            let now = if line.now.is_empty() { "no more there" } else { &line.now };
            let was = if line.was.is_empty() { "nothing" } else { &line.was };
            format!("{} says {was}, and is {now}", line.at)
        };
        let told: Vec<String> = lines.iter().map(told).collect();
        Some(Hit::in_panel(&STALE_CARD, panel, told.join("; ")))
    };
    known.house.panels.iter().filter_map(hit).collect()
}

pub(super) fn no_card(known: &KnownHouse<'_>) -> Vec<Hit> {
    let breakers = |panel: &&Panel| !known.house.breakers_of(panel.id).is_empty();
    let none = known.house.panels.iter().filter(|panel| panel.printed.is_none()).filter(breakers);
    none.map(|panel| Hit::in_panel(&NO_CARD, panel, "none was printed".to_owned())).collect()
}

/// An old label says a thing or a room, and nothing of what is proven on its breaker is that.
pub(super) fn wrong_label(known: &KnownHouse<'_>) -> Vec<Hit> {
    let house = known.house;
    let told = |text: &str| -> BTreeSet<String> {
        let all = words(text).into_iter().filter(|w| matches!(w.sense, Sense::Thing | Sense::Room));
        all.map(|w| w.plain).collect()
    };
    let of_point = |point: &Point| -> BTreeSet<String> {
        let room = house.rooms.get(point.room).map_or("", |room| room.name.as_str());
        let loads = house.loads.iter().filter(|load| load.point == point.id).map(|load| load.name.as_str());
        [room, point.name.as_str()].into_iter().chain(loads).flat_map(told).collect()
    };
    let hit = |belief: &BreakerBelief| {
        let breaker = house.breakers.get(belief.at.breaker)?;
        let says = told(&breaker.label);
        let fed: Vec<&Point> = belief.feeds.iter().filter_map(|fed| house.points.get(fed.point)).collect();
        let right = fed.iter().any(|point| !of_point(point).is_disjoint(&says));
        let proven = belief.complete && !fed.is_empty() && belief.feeds.iter().all(|fed| fed.proven);
        let why = format!("it says \"{}\", and what hangs on it is something else", breaker.label.trim());
        (proven && !says.is_empty() && !right)
            .then(|| Hit { rests: Rests::Proven, ..Hit::at(&WRONG_LABEL, breaker, why) })
    };
    known.beliefs.breakers.iter().filter_map(hit).collect()
}

/// Where no card was printed, the old labels are all that a panel says.
pub(super) fn poor_labels(known: &KnownHouse<'_>) -> Vec<Hit> {
    let hit = |panel: &Panel| {
        let poor = directory::poor_labels(known.house, panel);
        let told: Vec<String> = poor.iter().map(|poor| format!("{} {}", poor.at, poor.said)).collect();
        (!told.is_empty()).then(|| Hit::in_panel(&POOR_LABELS, panel, told.join("; ")))
    };
    known.house.panels.iter().filter(|panel| panel.printed.is_none()).filter_map(hit).collect()
}

/// Names of rooms, that cards and labels say.
fn people(known: &KnownHouse<'_>) -> Vec<String> {
    let named = |room: &&Room| names_person(&room.name);
    known.house.rooms.iter().filter(named).map(|room| format!("\"{}\"", room.name)).collect()
}

pub(super) fn names_a_person(known: &KnownHouse<'_>) -> Vec<Hit> {
    let names = people(known);
    let first = known.house.panels_in_order().first().copied().filter(|_| !names.is_empty());
    let why = format!("the card says {} for whoever lives there next", names.join(", "));
    first.map(|panel| Hit::in_panel(&NAMES_PERSON, panel, why)).into_iter().collect()
}

/// What somebody stuck on says another circuit than the map does, or one that is not proven, or no longer.
pub(super) fn stale_plate(known: &KnownHouse<'_>) -> Vec<Hit> {
    let hit = |point: &Point| {
        let says = known.house.labelled(point.id.into())?;
        let at = Some(point.id);
        match plate(known.house, known.beliefs, point) {
            Some((_, now)) if says == now => None,
            Some((breaker, now)) => {
                let why = format!("it says {says}, and it is {now}");
                Some(Hit { point: at, rests: Rests::Proven, ..Hit::at(&STALE_PLATE, breaker, why) })
            }
            None => {
                let why = format!("it says {says}, and what feeds it is not proven");
                Some(Hit { point: at, rests: Rests::Likely, ..Hit::new(&STALE_PLATE, first_panel(known)?, why) })
            }
        }
    };
    known.house.points_in_order().into_iter().filter_map(hit).collect()
}
