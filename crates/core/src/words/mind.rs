//! What should not lose power unannounced.

use std::collections::BTreeMap;

use serde::Serialize;
use utoipa::ToSchema;

use crate::base::Said;
use crate::base::said;
use crate::house::{House, Point, PointKind};
use crate::words::labels::words;
use crate::words::things::in_words;

/// Why a thing should not lose power unannounced (handbook 2.2, common practice).
#[derive(Debug, Clone, Copy, PartialEq, Eq, PartialOrd, Ord, Serialize, ToSchema)]
#[serde(rename_all = "kebab-case")]
pub enum Mind {
    /// Somebody may depend on it.
    Medical,
    /// Nobody is warned while it is off.
    Alarm,
    /// Water may rise.
    Pump,
    /// Food spoils after some hours.
    Cold,
    /// Animals depend on it.
    Aquarium,
    /// Work may be lost.
    Computer,
    /// The house cools down.
    Heat,
    /// Something may be cooking.
    Cooking,
}

said!(Mind {
    Medical => "somebody may depend on it",
    Alarm => "nobody is warned meanwhile",
    Pump => "water may rise",
    Cold => "short is fine, food spoils after hours",
    Aquarium => "animals depend on it",
    Computer => "save the work first",
    Heat => "the house cools down",
    Cooking => "something may be cooking",
});

/// Words that ask for care; common practice.
const MINDED: &[(Mind, &[&str])] = &[
    (Mind::Medical, &["medical", "oxygen", "concentrator", "cpap", "dialysis", "ventilator", "lift"]),
    (Mind::Pump, &["sump pump", "sump", "pump", "ejector"]),
    (Mind::Cold, &["freezer", "refrigerator"]),
    (Mind::Aquarium, &["aquarium", "terrarium", "fish"]),
    (Mind::Computer, &["computer", "server", "router", "modem", "desk"]),
    (Mind::Heat, &["furnace", "boiler"]),
    (Mind::Cooking, &["range", "cooktop", "oven"]),
];

/// Why a point should not lose power unannounced.
#[must_use]
pub fn mind(p: &Point) -> Option<Mind> {
    let said = words(&p.name);
    if p.kind == PointKind::Alarm || said.iter().any(|w| w.plain == "smoke alarm") {
        return Some(Mind::Alarm);
    }
    let named = |list: &[&str]| said.iter().any(|w| list.contains(&w.plain.as_str()));
    // "By the stove" is a place; only the stove itself cooks.
    let fits = |mind: Mind| mind != Mind::Cooking || p.kind == PointKind::Appliance;
    MINDED.iter().find(|(mind, list)| fits(*mind) && named(list)).map(|(mind, _)| *mind)
}

/// What should not lose power of what surely does and of what perhaps does, by name: a line for each reason, the gravest first.
#[must_use]
pub fn ask_first(house: &House, surely: &[&Point], perhaps: &[&Point]) -> Vec<String> {
    let mut minded: BTreeMap<Mind, [Vec<&Point>; 2]> = BTreeMap::new();
    for (sort, points) in [surely, perhaps].into_iter().enumerate() {
        for point in points {
            if let Some(mind) = mind(point) {
                minded.entry(mind).or_default()[sort].push(point);
            }
        }
    }
    let line = |(mind, [surely, perhaps]): (Mind, [Vec<&Point>; 2])| {
        let (surely, perhaps) = (in_words(house, &surely), in_words(house, &perhaps));
        let perhaps = if perhaps.is_empty() { perhaps } else { format!("perhaps {perhaps}") };
        let both: Vec<String> = [surely, perhaps].into_iter().filter(|text| !text.is_empty()).collect();
        format!("{}: {}", both.join("; "), mind.said())
    };
    minded.into_iter().map(line).collect()
}
