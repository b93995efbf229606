//! The card on the panel's door: what each breaker feeds, and how far that is proven.

mod fed;
mod labels;
mod schedule;
mod school;
mod stale;
mod tags;
mod wall;

use std::collections::BTreeSet;

use jiff::Timestamp;
use serde::Serialize;
use utoipa::ToSchema;

use crate::base::Invalid;
use crate::base::position::{Column, Position};
use crate::base::units::Amps;
use crate::edit::Draft;
use crate::house::{Breaker, House, Panel, PanelId, Point, Printed};
use crate::trace::verdict::STAYS_LIVE;
use crate::trace::{Beliefs, PointBelief, beliefs};
use crate::words::things::in_words;

pub use fed::{Line, OnCard};
pub use labels::{PoorLabel, plate, plate_name, poor_label, poor_labels};
pub use schedule::{Equipment, Schedule, ScheduleRow, schedule};
use school::Marking;
pub use school::{CardMark, GROUNDS};
use stale::mark_changed;
pub use stale::{StaleLine, lines, stale};
pub use tags::{Tag, TagKind, of_job, rooms_to_label, tags};
pub use wall::{WallDevice, WallSheet, wall_sheet};

/// The card of one panel, entries in the order of the engraved numbers.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
pub struct Card {
    /// The house's name.
    pub house: String,
    /// The panel's name.
    pub panel: String,
    /// The house's revision.
    pub revision: u64,
    /// How many rows of spaces the panel has.
    pub rows: u16,
    /// All entries.
    pub entries: Vec<CardEntry>,
    /// What feeds the panel.
    pub fed_from: String,
    /// What the marks mean, where its lines have any.
    pub key: Vec<CardMark>,
    /// What stays live whatever is off here, and what to do about it; empty where nothing does.
    pub stays_live: String,
    /// The revision of the card on the door, where one was printed and lines differ from it.
    pub changed_since: Option<u64>,
}

/// What stands in one place of the panel.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
pub struct CardEntry {
    /// The spaces it takes, as written: `5-7`.
    pub at: String,
    /// Left or right.
    pub column: Column,
    /// Its top edge, in half rows from the top.
    pub top: u16,
    /// Its height in half rows.
    pub height: u16,
    /// Rating, where there is a breaker.
    pub amps: Option<Amps>,
    /// How far it is proven.
    pub standing: Standing,
    /// What surely hangs on it, in words.
    pub feeds: String,
    /// What probably does, in words.
    pub probably: String,
    /// The label as found, where nothing is proven.
    pub found_label: String,
    /// What surely and what probably hangs on it, from the fullest form to the shortest.
    pub short: Vec<String>,
    /// How it is marked, where the card's lines are.
    pub mark: Option<CardMark>,
    /// Ground-fault, arc-fault or both, in letters; nothing for a plain breaker.
    pub protection: &'static str,
    /// The card on the door says something else here.
    pub changed: bool,
}

/// How far an entry can be relied on.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, ToSchema)]
#[serde(rename_all = "kebab-case")]
pub enum Standing {
    /// At least one point is proven, and no other is believed to hang on it unproven.
    Proven,
    /// Some points are proven, others are only likely.
    Partly,
    /// Nothing is proven.
    Unproven,
    /// Every point of the house is settled, and none hangs on it.
    NothingFound,
    /// Looked at: empty.
    Empty,
    /// Nothing was entered for this space.
    NotEntered,
}

/// The card of a panel from the map.
#[must_use]
pub fn card(house: &House, beliefs: &Beliefs, panel: &Panel) -> Card {
    let (fed, settled) = (OnCard::new(house, beliefs), beliefs.progress.is_settled());
    let marking = Marking::new(house, panel, &fed);
    let of = |b: &Breaker| {
        let entry = breaker_entry(&fed, settled, panel, b);
        CardEntry { mark: marking.of(b, entry.standing), ..entry }
    };
    let mut entries: Vec<CardEntry> = house.breakers_of(panel.id).into_iter().map(of).collect();
    let taken =
        |space: u16| house.breakers.iter().any(|b| b.panel == panel.id && b.at.iter().any(|p| p.space == space));
    entries.extend(panel.numbers().into_iter().filter(|s| !taken(*s)).map(|s| bare_entry(panel, s)));
    entries.sort_by_key(|e| (e.column == Column::Right, e.top));
    let key: BTreeSet<&CardMark> = entries.iter().filter_map(|e| e.mark.as_ref()).collect();
    let key = key.into_iter().cloned().collect();
    let mut card = Card {
        house: house.about.name.clone(),
        panel: panel.name.clone(),
        revision: house.revision,
        rows: panel.spaces.div_ceil(2),
        fed_from: fed_from(house, panel),
        key,
        entries,
        stays_live: stays_live(house, beliefs),
        changed_since: None,
    };
    mark_changed(&mut card, panel);
    card
}

/// What feeds a panel, and what switches it off. [pub: NEC 408.4(B), value from memory]
#[must_use]
pub fn fed_from(house: &House, panel: &Panel) -> String {
    let main = panel.main.map_or_else(|| "main lugs only".to_owned(), |amps| format!("main {amps}"));
    match panel.fed_by.and_then(|feeder| house.breakers.get(feeder)) {
        Some(feeder) => format!("Fed from {}, {}; {main}", plate_name(house, feeder), feeder.amps),
        None if panel.disconnect.is_empty() => format!("Fed from the service; {main}"),
        None => format!("Fed from the service; {main}; switched off at: {}", panel.disconnect),
    }
}

fn stays_live(house: &House, beliefs: &Beliefs) -> String {
    let of = |p: &&Point| beliefs.of(p.id).is_some_and(PointBelief::stays_live);
    let live: Vec<&Point> = house.points_in_order().into_iter().filter(of).collect();
    let said = format!("Stays live whatever is off here: {}: {STAYS_LIVE}.", in_words(house, &live));
    if live.is_empty() { String::new() } else { said }
}

/// So many cards before the one on the door are kept.
const EARLIER: usize = 8;

/// Writes down that a panel's card was printed as it stands now.
///
/// # Errors
/// Where there is no such panel.
pub(crate) fn printed(draft: &mut Draft, panel: PanelId, time: Timestamp) -> Result<(), Invalid> {
    let panel = draft.find::<Panel>(panel)?;
    let lines = lines(&card(&draft.house, &beliefs(&draft.house), &panel));
    let printed = Some(Printed { time, revision: draft.house.revision, lines });
    let earlier = panel.printed.iter().chain(&panel.earlier).take(EARLIER).cloned().collect();
    draft.put(Panel { printed, earlier, ..panel });
    Ok(())
}

fn bare_entry(panel: &Panel, space: u16) -> CardEntry {
    let (top, height) = panel.extent(&[Position::whole(space)]);
    let standing = if panel.empty.contains(&Position::whole(space)) { Standing::Empty } else { Standing::NotEntered };
    let (feeds, probably, found_label, short) = (String::new(), String::new(), String::new(), Vec::new());
    let column = panel.place(space).0;
    CardEntry {
        at: space.to_string(),
        column,
        top,
        height,
        amps: None,
        standing,
        feeds,
        probably,
        found_label,
        short,
        mark: None,
        protection: "",
        changed: false,
    }
}

fn breaker_entry(fed: &OnCard<'_>, settled: bool, panel: &Panel, breaker: &Breaker) -> CardEntry {
    let (top, height) = panel.extent(&breaker.at);
    let line = fed.line(breaker);
    CardEntry {
        at: breaker.at_text(),
        column: panel.place(breaker.at[0].space).0,
        top,
        height,
        amps: Some(breaker.amps),
        standing: line.standing(settled),
        found_label: if line.feeds.is_empty() { breaker.label.clone() } else { String::new() },
        feeds: line.feeds,
        probably: line.probably,
        short: line.short,
        mark: None,
        protection: breaker.device.mark(),
        changed: false,
    }
}

#[cfg(test)]
mod tests;
