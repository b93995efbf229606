//! Usual currents of appliances, for where the nameplate is not known. Always told as typical.

use crate::house::Point;
use crate::units::Amps;
use crate::words::words;

/// Amperes at 120 V; the larger end of what is usual (HANDBOOK 3, from memory).
const USUAL: &[(&str, f64)] = &[
    ("range hood", 2.0),
    ("microwave", 12.0),
    ("toaster", 10.0),
    ("kettle", 12.5),
    ("heater", 12.5),
    ("baseboard", 12.5),
    ("hair dryer", 15.0),
    ("refrigerator", 7.0),
    ("freezer", 7.0),
    ("dishwasher", 10.0),
    ("disposer", 8.0),
    ("window unit", 12.0),
    ("sump pump", 10.0),
    ("furnace", 8.0),
    ("washer", 10.0),
];
/// A light of today: a few LED lamps (HANDBOOK 3: 8–18 W each).
const LIGHT: f64 = 0.3;

/// The current of a point's load, and whether it is only typical; nothing where not even that is known.
#[must_use]
pub fn current(point: &Point) -> Option<(Amps, bool)> {
    let volts = f64::from(point.volts.map_or(120, u16::from));
    if let Some(watts) = point.watts {
        return Some((Amps(watts / volts), false));
    }
    if point.kind == crate::house::PointKind::Light {
        return Some((Amps(LIGHT), true));
    }
    let said = words(&point.name);
    let usual = USUAL.iter().find(|(thing, _)| said.iter().any(|w| w.plain == *thing));
    usual.map(|(_, amps)| (Amps(*amps), true))
}
