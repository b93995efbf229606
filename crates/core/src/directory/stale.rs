//! What of a printed card is no longer so, line by line.

use serde::Serialize;
use utoipa::ToSchema;

use super::{Card, CardEntry, Standing, card};
use crate::house::{House, Panel, PrintedLine};
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

/// What a card says, entry by entry, to compare a printed one with.
#[must_use]
pub fn lines(card: &Card) -> Vec<PrintedLine> {
    let live = (!card.stays_live.is_empty()).then(|| PrintedLine { at: "foot".into(), text: card.stays_live.clone() });
    card.entries.iter().map(|e| PrintedLine { at: e.at.clone(), text: text(e) }).chain(live).collect()
}

fn text(entry: &CardEntry) -> String {
    match entry.standing {
        Standing::Empty => "empty".to_owned(),
        Standing::NotEntered => "not entered".to_owned(),
        Standing::NothingFound => "nothing found".to_owned(),
        Standing::Proven | Standing::Partly | Standing::Unproven => {
            let amps = entry.amps.map_or_else(String::new, |a| a.to_string());
            [amps, entry.feeds.clone(), entry.probably.clone(), entry.found_label.clone()].join("; ")
        }
    }
}

/// Marks what the card on the door says otherwise.
pub(super) fn mark_changed(card: &mut Card, panel: &Panel) {
    let Some(printed) = &panel.printed else { return };
    let now = lines(card);
    for (entry, line) in card.entries.iter_mut().zip(&now) {
        entry.changed = !printed.lines.contains(line);
    }
    let differs = printed.lines.iter().any(|line| !now.contains(line)) || card.entries.iter().any(|e| e.changed);
    card.changed_since = differs.then_some(printed.revision);
}

/// Lines where the card on the door says something else than the map does now; all is well where there are none.
/// Nothing for a panel whose card was never printed.
#[must_use]
pub fn stale(house: &House, beliefs: &Beliefs, panel: &Panel) -> Option<Vec<StaleLine>> {
    let printed = panel.printed.as_ref()?;
    let now = lines(&card(house, beliefs, panel));
    let of =
        |all: &[PrintedLine], at: &str| all.iter().find(|line| line.at == at).map_or("", |line| &line.text).to_owned();
    let mut changed: Vec<StaleLine> = now
        .iter()
        .filter(|line| !printed.lines.contains(line))
        .map(|line| StaleLine {
            at: line.at.clone(),
            was: in_words(&of(&printed.lines, &line.at)),
            now: in_words(&line.text),
        })
        .collect();
    let gone = printed.lines.iter().filter(|line| !now.iter().any(|other| other.at == line.at));
    changed.extend(gone.map(|line| StaleLine { at: line.at.clone(), was: in_words(&line.text), now: String::new() }));
    Some(changed)
}

/// A kept line as people read it: what is proven, then what is likely with a question mark.
fn in_words(line: &str) -> String {
    let [amps, feeds, probably, label] = line.split("; ").collect::<Vec<_>>()[..] else { return line.to_owned() };
    let perhaps = (!probably.is_empty()).then(|| format!("? {probably}"));
    let old = (!label.is_empty()).then(|| format!("old label \"{label}\""));
    let said: Vec<String> =
        [Some(feeds.to_owned()).filter(|f| !f.is_empty()), perhaps, old].into_iter().flatten().collect();
    if said.is_empty() { format!("{amps} not traced") } else { format!("{amps} {}", said.join(", ")) }
}
