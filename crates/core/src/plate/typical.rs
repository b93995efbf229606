//! What things draw, as far as nameplates and usual values tell. The latter are always told as typical.

use crate::base::units::Amps;
use crate::house::{House, Load, Point, PointKind};
use crate::plate::{self, Connected};
use crate::words::usual::{self, Usual};

/// A light of today: a few LED lamps (handbook 3: 8–18 W each).
const LIGHT: f64 = 0.3;

/// What is typical is known no better than this share of itself (common practice), as a standard error.
pub const SPREAD: f64 = 0.3;

/// The usual load that a load is like: by its name, else by its kind.
#[must_use]
pub fn like(load: &Load) -> Option<&'static Usual> {
    let named = usual::named(&load.name).filter(|usual| usual.kind == load.kind || load.kind == Default::default());
    // What is made for one leg is never like what is made for two.
    let one_leg = load.volts.is_some_and(|v| !v.nominal().is_leg_to_leg());
    named.or_else(|| usual::of_kind(load.kind)).filter(|usual| !(one_leg && usual.volts.is_leg_to_leg()))
}

/// The current of a load at its most, by its nameplate or what is typical; nothing where not even that is known.
#[must_use]
pub fn of_load(house: &House, load: &Load) -> Option<Amps> {
    let typical = || like(load).map(|usual| usual.high);
    plate::current(load, Connected::printed(load, plate::volts(house, load))).or_else(typical)
}

/// What is typical at a point where no loads are entered; nothing where not even that is known.
#[must_use]
pub fn at_point(point: &Point) -> Option<Amps> {
    match point.kind {
        PointKind::Light => Some(Amps(LIGHT)),
        // A receptacle is named after where it is: "by the stove" is none.
        PointKind::Receptacle => None,
        _ => {
            let one_leg = point.volts.is_some_and(|v| !v.is_leg_to_leg());
            let usual = usual::named(&point.name).filter(|usual| !(one_leg && usual.volts.is_leg_to_leg()));
            usual.map(|usual| usual.high)
        }
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::base::units::{NominalVolts, Watts};
    use crate::fixture::Fixture;
    use crate::house::{LoadId, LoadKind, PointId, RoomId};

    // Ohm's law for the nameplate: 4500 W at 240 V are 18.75 A; handbook 3.2, from memory, for a toaster: 7 to 10 A.
    #[test]
    fn a_nameplate_goes_before_what_is_typical() {
        let mut f = Fixture::new(20);
        let room = f.room("Kitchen");
        let point = f.point_at("K1", room, PointKind::Appliance, Some(NominalVolts::V240));
        let heater = Load::new(LoadId(1), point, "water heater", LoadKind::WaterHeater);
        assert_eq!(of_load(&f.house, &Load { watts: Some(Watts(4500.0)), ..heater }), Some(Amps(18.75)));
        let plain = |name: &str| Load::new(LoadId(1), point, name, LoadKind::Other);
        assert_eq!(of_load(&f.house, &plain("toaster")), Some(Amps(10.0)));
        assert_eq!(of_load(&f.house, &plain("gadget")), None);
    }

    // handbook 3.2, from memory: typical draws.
    #[test]
    fn where_no_loads_are_entered_the_name_of_the_point_tells_or_nothing_does() {
        let at =
            |name: &str, kind| at_point(&Point { name: name.into(), ..Point::new(PointId(1), "K1", RoomId(1), kind) });
        assert_eq!(at("over-range microwave", PointKind::Appliance), Some(Amps(13.0)));
        assert_eq!(at("fridge", PointKind::Appliance), Some(Amps(2.0)));
        assert!(at("", PointKind::Light).is_some_and(|amps| amps.0 < 1.0));
        assert_eq!(at("by the range", PointKind::Receptacle), None, "it is not the range");
    }
}
