//! What is written on doors and plates: old labels that tell too little, and what a plate is to say.

use serde::Serialize;
use utoipa::ToSchema;

use crate::house::{Breaker, BreakerId, House, Panel, Point};
use crate::trace::{Beliefs, Status};
use crate::words::labels::{Sense, names_person, words};

/// An old label that tells too little.
#[derive(Debug, Clone, PartialEq, Eq, Serialize, ToSchema)]
pub struct PoorLabel {
    /// The breaker's poles.
    pub at: String,
    /// What is wrong with it: `"plugs" tells nothing`.
    pub said: String,
}

/// Old labels of a panel that tell nothing, say the same as another, or name a person. [pub: NEC 408.4(A), value from memory]
#[must_use]
pub fn poor_labels(house: &House, panel: &Panel) -> Vec<PoorLabel> {
    let breakers = house.breakers_of(panel.id);
    let poor = |breaker: &&Breaker| poor_label(house, breaker).map(|said| PoorLabel { at: breaker.at_text(), said });
    breakers.iter().filter_map(poor).collect()
}

/// What is wrong with a breaker's old label; nothing where it has none, or a good one.
#[must_use]
pub fn poor_label(house: &House, breaker: &Breaker) -> Option<String> {
    let label = breaker.label.trim();
    let told = words(label);
    if label.is_empty() || told.iter().any(|word| word.sense == Sense::Spare) {
        return None;
    }
    if names_person(label) {
        return Some(format!("\"{label}\" names a person: say the place"));
    }
    // A name of two letters is no word of the list, and may tell all the same: `TV`.
    let short = |word: &str| word.len() == 2 && word.chars().all(char::is_alphabetic);
    if told.is_empty() && label.split_whitespace().any(short) {
        return None;
    }
    if told.iter().all(|word| word.sense == Sense::Kind) {
        return Some(format!("\"{label}\" tells nothing: of which room?"));
    }
    let others = house.breakers_of(breaker.panel).into_iter().filter(|other| other.id != breaker.id);
    let same = others.into_iter().find(|other| words(&other.label) == told)?;
    Some(format!("\"{label}\" says the same as {}", same.at_text()))
}

/// The breaker that a point is proven to hang on, and what the plate is to say: `Main 5`; of one that two feed, both.
#[must_use]
pub fn plate<'a>(house: &'a House, beliefs: &Beliefs, point: &Point) -> Option<(&'a Breaker, String)> {
    let belief = beliefs.of(point.id)?;
    let feeders: Vec<BreakerId> = match (&belief.two_handles, belief.status) {
        (Some(two), Status::TwoHandles) => two.breakers.iter().map(|b| b.breaker).collect(),
        _ if belief.proven => belief.candidates.first().map(|c| c.at.breaker).into_iter().collect(),
        _ => return None,
    };
    let breakers: Vec<&Breaker> = feeders.into_iter().filter_map(|id| house.breakers.get(id)).collect();
    let names: Vec<String> = breakers.iter().map(|breaker| plate_name(house, breaker)).collect();
    Some((breakers.first()?, names.join(" + ")))
}

/// A breaker as labels name it: always with its panel, so that it stays right when another panel comes.
#[must_use]
pub fn plate_name(house: &House, breaker: &Breaker) -> String {
    let panel = house.panels.get(breaker.panel).map_or("", |panel| panel.name.as_str());
    format!("{panel} {}", breaker.at_text()).trim().to_owned()
}
