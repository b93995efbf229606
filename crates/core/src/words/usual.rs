//! Usual loads and what they typically draw (handbook 3.2, values from memory; wall oven and cooktop: common practice). A start for what has no nameplate at hand;
//! always told as typical.

use std::sync::LazyLock;

use serde::Serialize;
use utoipa::ToSchema;

use crate::base::units::{Amps, NominalVolts};
use crate::house::{Habit, LoadKind};
use crate::words::labels::words;

/// A usual load.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, ToSchema)]
pub struct Usual {
    /// What people call it.
    pub name: &'static str,
    /// What it is.
    pub kind: LoadKind,
    /// The voltage it is made for.
    pub volts: NominalVolts,
    /// What it typically draws, at least,
    pub low: Amps,
    /// and at most.
    pub high: Amps,
    /// It is or has a motor.
    pub motor: bool,
    /// When it runs.
    pub habit: Habit,
}

const fn at(volts: NominalVolts, name: &'static str, kind: LoadKind, low: f64, high: f64, habit: Habit) -> Usual {
    Usual { name, kind, volts, low: Amps(low), high: Amps(high), motor: false, habit }
}

const fn small(name: &'static str, kind: LoadKind, low: f64, high: f64, habit: Habit) -> Usual {
    at(NominalVolts::V120, name, kind, low, high, habit)
}

const fn large(name: &'static str, kind: LoadKind, low: f64, high: f64, habit: Habit) -> Usual {
    at(NominalVolts::V240, name, kind, low, high, habit)
}

const fn turning(usual: Usual) -> Usual {
    Usual { motor: true, ..usual }
}

use Habit::{Always, Hours, Meals, Occupied, Season, Seldom};
use LoadKind as Kind;

/// In the order in which they are offered.
pub const USUAL: &[Usual] = &[
    small("range hood", Kind::Hood, 1.0, 2.0, Meals),
    small("over-range microwave", Kind::Microwave, 10.0, 13.0, Meals),
    small("microwave", Kind::Microwave, 9.0, 13.0, Meals),
    small("toaster", Kind::Other, 7.0, 10.0, Meals),
    small("coffee maker", Kind::Other, 7.0, 10.0, Meals),
    small("slow cooker", Kind::Other, 1.0, 2.5, Seldom),
    small("rice cooker", Kind::Other, 3.0, 6.0, Meals),
    turning(small("mixer", Kind::Other, 2.0, 5.0, Seldom)),
    small("kettle", Kind::Other, 12.0, 13.0, Meals),
    turning(small("refrigerator", Kind::Refrigerator, 1.0, 2.0, Always)),
    turning(small("freezer", Kind::Refrigerator, 1.0, 2.0, Always)),
    small("dishwasher", Kind::Dishwasher, 8.0, 10.0, Meals),
    turning(small("disposer", Kind::Disposer, 5.0, 8.0, Meals)),
    turning(small("washer", Kind::Washer, 5.0, 10.0, Occupied)),
    turning(small("gas dryer", Kind::Other, 5.0, 6.0, Occupied)),
    small("hair dryer", Kind::Other, 12.0, 15.0, Occupied),
    small("iron", Kind::Other, 12.0, 13.0, Seldom),
    small("space heater", Kind::Heating, 12.0, 13.0, Season),
    turning(small("window unit", Kind::Cooling, 5.0, 12.0, Season)),
    turning(small("sump pump", Kind::SumpPump, 5.0, 10.0, Seldom)),
    turning(small("furnace", Kind::Fan, 4.0, 8.0, Season)),
    turning(small("garage door opener", Kind::Other, 4.0, 6.0, Seldom)),
    small("television", Kind::Other, 1.0, 2.0, Occupied),
    small("computer", Kind::Other, 1.0, 4.0, Occupied),
    turning(small("vacuum", Kind::Other, 9.0, 12.0, Seldom)),
    turning(small("treadmill", Kind::Other, 8.0, 12.0, Seldom)),
    turning(small("table saw", Kind::Other, 13.0, 15.0, Seldom)),
    turning(small("fan", Kind::Fan, 0.4, 1.5, Season)),
    small("lamp", Kind::Light, 0.05, 0.8, Occupied),
    large("range", Kind::Range, 30.0, 50.0, Meals),
    large("wall oven", Kind::Oven, 15.0, 25.0, Meals),
    large("cooktop", Kind::Cooktop, 15.0, 40.0, Meals),
    large("dryer", Kind::Dryer, 22.0, 24.0, Occupied),
    large("water heater", Kind::WaterHeater, 18.0, 19.5, Hours),
    turning(large("air conditioner", Kind::Cooling, 10.0, 30.0, Season)),
    turning(large("heat pump", Kind::HeatPump, 10.0, 30.0, Season)),
    large("baseboard", Kind::Heating, 4.0, 8.0, Season),
    turning(large("well pump", Kind::Pump, 8.0, 12.0, Always)),
    turning(large("lift", Kind::Other, 8.0, 15.0, Seldom)),
    turning(large("pool pump", Kind::Pool, 8.0, 12.0, Season)),
    large("welder", Kind::Welder, 20.0, 48.0, Seldom),
    large("car charger", Kind::CarCharger, 16.0, 48.0, Hours),
];

/// The same, each name by its words.
static BY_WORDS: LazyLock<Vec<(&Usual, Vec<String>)>> =
    LazyLock::new(|| USUAL.iter().map(|usual| (usual, parts(usual.name))).collect());

/// Words after which a name says where a thing is, not what.
const WHERE: [&str; 12] = ["by", "in", "at", "near", "for", "of", "on", "under", "over", "behind", "beside", "next"];

/// The usual load that a name speaks of: what it says last, and of that the one that takes most of its words: "hair dryer" before
/// "dryer", and of a "dryer vent fan" the fan.
#[must_use]
pub fn named(name: &str) -> Option<&'static Usual> {
    let name = what_it_is(name);
    let told = parts(&name);
    let written = |(usual, looked_for): &(&'static Usual, Vec<String>)| {
        let at = told.windows(looked_for.len()).rposition(|w| w == looked_for)?;
        Some((*usual, (at + looked_for.len(), usual.name.len())))
    };
    let last = BY_WORDS.iter().filter_map(written).max_by_key(|(_, fit)| *fit).map(|(usual, _)| usual);
    // What is written itself goes before what is meant by it.
    last.or_else(|| {
        let said = words(&name);
        let meant = USUAL.iter().filter(|usual| said.iter().any(|w| w.plain == usual.name));
        meant.max_by_key(|usual| usual.name.len())
    })
}

/// The words of a text as they are written, but for capitals.
fn parts(text: &str) -> Vec<String> {
    text.split(|c: char| !c.is_alphanumeric()).filter(|part| !part.is_empty()).map(str::to_lowercase).collect()
}

/// A name up to where it goes on to say where the thing is.
fn what_it_is(name: &str) -> String {
    let says_where = |word: &str| WHERE.contains(&word.to_lowercase().as_str());
    let mut words = name.split_whitespace();
    let first = words.next();
    first.into_iter().chain(words.take_while(|word| !says_where(word))).collect::<Vec<_>>().join(" ")
}

/// The first usual load of a kind; none of those that may be anything.
#[must_use]
pub fn of_kind(kind: LoadKind) -> Option<&'static Usual> {
    USUAL.iter().find(|usual| usual.kind == kind && kind != LoadKind::Other)
}

#[cfg(test)]
mod tests {
    use super::*;

    // handbook 3.2, from memory.
    #[test]
    fn a_name_is_known_by_its_words() {
        for (name, usual) in [
            ("over-range microwave", "over-range microwave"),
            ("fridge", "refrigerator"),
            ("dishwasher", "dishwasher"),
            ("electric water heater", "water heater"),
            ("space heater by the desk", "space heater"),
            ("slow cooker", "slow cooker"),
            ("dryer vent fan", "fan"),
            ("lamp by the dryer", "lamp"),
            ("hair dryer", "hair dryer"),
        ] {
            assert_eq!(named(name).map(|u| u.name), Some(usual), "{name}");
        }
        assert_eq!(named("wall"), None);
    }

    #[test]
    fn every_usual_load_has_a_range_and_a_name_of_its_own() {
        for (i, usual) in USUAL.iter().enumerate() {
            assert!(0.0 < usual.low.0 && usual.low <= usual.high && usual.high.0 <= 50.0, "{}", usual.name);
            assert!(USUAL[..i].iter().all(|other| other.name != usual.name), "{}", usual.name);
            assert_eq!(named(usual.name).map(|u| u.name), Some(usual.name));
        }
    }
}
