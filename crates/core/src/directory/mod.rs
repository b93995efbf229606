//! The card on the panel's door: what each breaker feeds, and how far that is proven.

mod fed;
mod labels;
mod stale;

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
use stale::mark_changed;
pub use stale::{StaleLine, lines, stale};

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
    let mut entries: Vec<CardEntry> =
        house.breakers_of(panel.id).into_iter().map(|b| breaker_entry(&fed, settled, panel, b)).collect();
    let taken =
        |space: u16| house.breakers.iter().any(|b| b.panel == panel.id && b.at.iter().any(|p| p.space == space));
    entries.extend(panel.numbers().into_iter().filter(|s| !taken(*s)).map(|s| bare_entry(panel, s)));
    entries.sort_by_key(|e| (e.column == Column::Right, e.top));
    let mut card = Card {
        house: house.about.name.clone(),
        panel: panel.name.clone(),
        revision: house.revision,
        rows: panel.spaces.div_ceil(2),
        entries,
        stays_live: stays_live(house, beliefs),
        changed_since: None,
    };
    mark_changed(&mut card, panel);
    card
}

fn stays_live(house: &House, beliefs: &Beliefs) -> String {
    let of = |p: &&Point| beliefs.of(p.id).is_some_and(PointBelief::stays_live);
    let live: Vec<&Point> = house.points_in_order().into_iter().filter(of).collect();
    let said = format!("Stays live whatever is off here: {}: {STAYS_LIVE}.", in_words(house, &live));
    if live.is_empty() { String::new() } else { said }
}

/// Writes down that a panel's card was printed as it stands now.
///
/// # Errors
/// Where there is no such panel.
pub(crate) fn printed(draft: &mut Draft, panel: PanelId, time: Timestamp) -> Result<(), Invalid> {
    let panel = draft.find::<Panel>(panel)?;
    let lines = lines(&card(&draft.house, &beliefs(&draft.house), &panel));
    let printed = Some(Printed { time, revision: draft.house.revision, lines });
    draft.put(Panel { printed, ..panel });
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
        changed: false,
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::fixture::Fixture;
    use crate::house::PointKind;
    use crate::house::Seen::{Dead, Live};
    use crate::trace::beliefs;

    fn entry(f: &Fixture, at: &str) -> CardEntry {
        let card = card(&f.house, &beliefs(&f.house), f.panel());
        card.entries.into_iter().find(|e| e.at == at).unwrap()
    }

    /// Two 20 A breakers, a kitchen with three points; K1 and K2 proven on breaker 1.
    fn traced() -> Fixture {
        let mut f = Fixture::new(4);
        let (one, two) = (f.breaker("1", 20.0, "hall"), f.breaker("2", 20.0, ""));
        let kitchen = f.room("Kitchen");
        for tag in ["K1", "K2"] {
            let k = f.point(tag, kitchen, PointKind::Receptacle);
            for _ in 0..2 {
                f.see(k, &[one], Dead);
                f.see(k, &[two], Live);
            }
        }
        f
    }

    #[test]
    fn only_what_is_proven_stands_as_proven() {
        let mut f = traced();
        let e = entry(&f, "1");
        assert_eq!((e.standing, e.feeds.as_str()), (Standing::Proven, "Kitchen receptacles"));
        assert_eq!(e.found_label, "", "the old label gives way to proof");
        assert_eq!(entry(&f, "2").standing, Standing::NothingFound, "all points are settled elsewhere");
        let kitchen = f.house.rooms.iter().next().unwrap().id;
        let k3 = f.point("K3", kitchen, PointKind::Light);
        let one = f.house.breakers.iter().next().unwrap().id;
        f.see(k3, &[one], Dead);
        let e = entry(&f, "1");
        assert_eq!((e.standing, e.probably.as_str()), (Standing::Partly, "Kitchen light"));
        assert_eq!(entry(&f, "2").standing, Standing::Unproven);
        assert_eq!(entry(&f, "3").standing, Standing::NotEntered);
    }

    // NEC 408.4(A), from memory: every circuit is described so that it can be told from all others.
    #[test]
    fn two_circuits_that_read_the_same_get_their_tags() {
        let mut f = traced();
        let kitchen = f.house.rooms.iter().next().unwrap().id;
        let ids: Vec<_> = f.house.breakers.iter().map(|b| b.id).collect();
        for tag in ["K10", "K4"] {
            let k = f.point(tag, kitchen, PointKind::Receptacle);
            for _ in 0..2 {
                f.see(k, &[ids[1]], Dead);
                f.see(k, &[ids[0]], Live);
            }
        }
        assert_eq!(entry(&f, "1").feeds, "Kitchen receptacles (K1 K2)");
        assert_eq!(entry(&f, "2").feeds, "Kitchen receptacles (K4 K10)");
    }

    #[test]
    fn a_card_is_stale_as_soon_as_a_change_touches_it() {
        let mut f = traced();
        let stale_at = |f: &Fixture| stale(&f.house, &beliefs(&f.house), f.panel());
        assert_eq!(stale_at(&f), None, "never printed");
        let printed = crate::Change::CardPrinted { panel: f.panel().id, time: jiff::Timestamp::UNIX_EPOCH };
        f.house = f.house.apply(&printed).unwrap().house;
        assert_eq!(stale_at(&f), Some(Vec::new()));
        f.room("Loft");
        assert_eq!(stale_at(&f), Some(Vec::new()), "a room changes no circuit");
        let two = f.house.breakers.iter().next_back().unwrap().clone();
        f.house.breakers.put(Breaker { amps: Amps(15.0), ..two });
        assert_eq!(stale_at(&f), Some(Vec::new()), "nothing hangs on it, and the card says just that");
        let one = f.house.breakers.iter().next().unwrap().clone();
        f.house.breakers.put(Breaker { amps: Amps(15.0), ..one });
        assert_eq!(
            stale_at(&f),
            Some(vec![StaleLine {
                at: "1".into(),
                was: "20 A Kitchen receptacles".into(),
                now: "15 A Kitchen receptacles".into()
            }])
        );
    }

    #[test]
    fn a_feeder_is_proven_by_what_went_dark_with_it() {
        let mut f = Fixture::new(8);
        let (feeder, other) = (f.breaker("1-3", 60.0, "annex"), f.breaker("2", 20.0, ""));
        let annex = f.sub_panel("Annex", feeder);
        let inside = f.breaker_in(annex, "1", 20.0, "");
        let room = f.room("Bakehouse");
        let point = f.point("B1", room, PointKind::Light);
        let e = entry(&f, "1-3");
        assert_eq!((e.standing, e.probably.as_str()), (Standing::Unproven, "Panel Annex"));
        f.see(point, &[inside], Dead);
        f.see(point, &[feeder, inside], Dead);
        assert_eq!(entry(&f, "1-3").standing, Standing::Unproven, "its own breaker was off as well");
        f.see(point, &[feeder, other], Dead);
        assert_eq!(entry(&f, "1-3").standing, Standing::Unproven, "any breaker of the panel may have done it");
        f.see(point, &[other], Live);
        assert_eq!((entry(&f, "1-3").standing, entry(&f, "1-3").feeds.as_str()), (Standing::Proven, "Panel Annex"));
    }
}
