//! Usual currents of appliances, for where the nameplate is not known. Always told as typical.

use crate::base::units::Amps;
use crate::house::Point;
use crate::words::labels::words;

/// Amperes at 120 V; the larger end of what is usual (handbook 3, from memory).
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
/// A light of today: a few LED lamps (handbook 3: 8–18 W each).
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

#[cfg(test)]
mod tests {
    use super::*;
    use crate::base::units::NominalVolts;
    use crate::house::{PointId, PointKind, RoomId};

    fn point(name: &str, kind: PointKind) -> Point {
        Point { name: name.into(), ..Point::new(PointId(1), "K1", RoomId(1), kind) }
    }

    // Ohm's law for the nameplate: 1200 W at 120 V are 10 A, 4500 W at 240 V are 18.75 A.
    #[test]
    fn a_nameplate_goes_before_what_is_typical() {
        let rated =
            |watts, volts| Point { watts: Some(watts), volts: Some(volts), ..point("microwave", PointKind::Appliance) };
        assert_eq!(current(&rated(1200.0, NominalVolts::V120)), Some((Amps(10.0), false)));
        assert_eq!(current(&rated(4500.0, NominalVolts::V240)), Some((Amps(18.75), false)));
    }

    // handbook 3, from memory: typical draws.
    #[test]
    fn without_one_it_is_told_as_typical_or_not_at_all() {
        assert_eq!(current(&point("over-range microwave", PointKind::Appliance)), Some((Amps(12.0), true)));
        assert_eq!(current(&point("fridge", PointKind::Appliance)), Some((Amps(7.0), true)));
        assert!(current(&point("", PointKind::Light)).is_some_and(|(amps, typical)| amps.0 < 1.0 && typical));
        assert_eq!(current(&point("wall", PointKind::Receptacle)), None);
    }
}
