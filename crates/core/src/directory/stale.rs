//! What of a printed card is no longer so, line by line.

use serde::Serialize;
use utoipa::ToSchema;

use super::{Card, CardEntry, Standing, card};
use crate::house::{House, Panel, Printed, PrintedLine};
use crate::trace::Beliefs;

/// A line of the card on the door that says something else than the map does now.
#[derive(Debug, Clone, PartialEq, Eq, Serialize, ToSchema)]
pub struct StaleLine {
    /// Its place in the panel, or `foot`.
    pub at: String,
    /// What the door says; nothing where the line is new.
    pub was: String,
    /// What is so now; nothing where the place is no more.
    pub now: String,
}

/// What a card says, entry by entry, to compare a printed one with: as people read it.
#[must_use]
pub fn lines(card: &Card) -> Vec<PrintedLine> {
    written(card, text)
}

fn written(card: &Card, text: fn(&CardEntry) -> String) -> Vec<PrintedLine> {
    let live = (!card.stays_live.is_empty()).then(|| PrintedLine { at: "foot".into(), text: card.stays_live.clone() });
    card.entries.iter().map(|e| PrintedLine { at: e.at.clone(), text: text(e) }).chain(live).collect()
}

/// What is proven, then what is likely with a question mark.
fn text(entry: &CardEntry) -> String {
    let bare = match entry.standing {
        Standing::Empty => "empty",
        Standing::NotEntered => "not entered",
        Standing::NothingFound => "nothing found on it",
        Standing::Proven | Standing::Partly | Standing::Unproven => "",
    };
    let amps = entry.amps.map_or_else(String::new, |amps| format!("{amps} "));
    let probably = (!entry.probably.is_empty()).then(|| format!("? {}", entry.probably));
    let old = (!entry.found_label.is_empty()).then(|| format!("not traced; old label \"{}\"", entry.found_label));
    let said: Vec<String> =
        [Some(entry.feeds.clone()).filter(|feeds| !feeds.is_empty()), probably, old].into_iter().flatten().collect();
    match (bare, said.is_empty()) {
        ("", true) => format!("{amps}not traced"),
        ("", false) => format!("{amps}{}", said.join(", ")),
        (bare, _) => bare.to_owned(),
    }
}

/// As cards were kept before: parts with a semicolon between, which stood in the parts as well.
fn older(entry: &CardEntry) -> String {
    match entry.standing {
        Standing::NothingFound => "nothing found".to_owned(),
        Standing::Proven | Standing::Partly | Standing::Unproven => {
            let amps = entry.amps.map_or_else(String::new, |a| a.to_string());
            [amps, entry.feeds.clone(), entry.probably.clone(), entry.found_label.clone()].join("; ")
        }
        Standing::Empty | Standing::NotEntered => text(entry),
    }
}

/// The lines as they are now, each with whether the printed card says it too.
fn compared(card: &Card, printed: &Printed) -> Vec<(PrintedLine, bool)> {
    let stands = |line: &PrintedLine| printed.lines.contains(line);
    let both = lines(card).into_iter().zip(written(card, older));
    both.map(|(line, before)| {
        let same = stands(&line) || stands(&before);
        (line, same)
    })
    .collect()
}

/// Marks what the card on the door says otherwise.
pub(super) fn mark_changed(card: &mut Card, panel: &Panel) {
    let Some(printed) = &panel.printed else { return };
    let now = compared(card, printed);
    for (entry, (_, stands)) in card.entries.iter_mut().zip(&now) {
        entry.changed = !stands;
    }
    card.changed_since = (!changed(&now, printed).is_empty()).then_some(printed.revision);
}

/// Lines where the card on the door says something else than the map does now; all is well where there are none.
/// Nothing for a panel whose card was never printed.
#[must_use]
pub fn stale(house: &House, beliefs: &Beliefs, panel: &Panel) -> Option<Vec<StaleLine>> {
    let printed = panel.printed.as_ref()?;
    Some(changed(&compared(&card(house, beliefs, panel), printed), printed))
}

fn changed(now: &[(PrintedLine, bool)], printed: &Printed) -> Vec<StaleLine> {
    let was =
        |at: &str| printed.lines.iter().find(|line| line.at == at).map_or_else(String::new, |line| line.text.clone());
    let new = now.iter().filter(|(_, stands)| !stands);
    let new = new.map(|(line, _)| StaleLine { at: line.at.clone(), was: was(&line.at), now: line.text.clone() });
    let gone = printed.lines.iter().filter(|line| !now.iter().any(|(other, _)| other.at == line.at));
    let gone = gone.map(|line| StaleLine { at: line.at.clone(), was: line.text.clone(), now: String::new() });
    new.chain(gone).collect()
}
