//! What things draw, as far as nameplates and usual values tell. The latter are always told as typical.

use crate::base::units::Amps;
use crate::house::{House, Load, Point, PointKind};
use crate::load::plate;
use crate::words::usual::{self, Usual};

/// A light of today: a few LED lamps (handbook 3: 8–18 W each).
const LIGHT: f64 = 0.3;

/// The usual load that a load is like: by its name, else by its kind.
#[must_use]
pub fn like(load: &Load) -> Option<&'static Usual> {
    let named = usual::named(&load.name).filter(|usual| usual.kind == load.kind || load.kind == Default::default());
    named.or_else(|| usual::of_kind(load.kind))
}

/// The current of a load at its most, and whether it is only typical; nothing where not even that is known.
#[must_use]
pub fn of_load(house: &House, load: &Load) -> Option<(Amps, bool)> {
    let typical = || like(load).map(|usual| (usual.high, true));
    plate::current(load, plate::volts(house, load)).map(|amps| (amps, false)).or_else(typical)
}

/// The current of all that is at a point; nothing where not even what is typical is known.
#[must_use]
pub fn at_point(house: &House, point: &Point) -> Option<(Amps, bool)> {
    let loads: Vec<_> = house.loads.iter().filter(|l| l.point == point.id).map(|l| of_load(house, l)).collect();
    if !loads.is_empty() {
        let known = loads.iter().flatten();
        let sum = known.clone().map(|(amps, _)| amps.0).sum();
        // Of what is partly unknown the rest is told as typical too.
        let typical = loads.iter().any(Option::is_none) || known.clone().any(|(_, typical)| *typical);
        return known.clone().next().map(|_| (Amps(sum), typical));
    }
    if point.kind == PointKind::Light {
        return Some((Amps(LIGHT), true));
    }
    usual::named(&point.name).map(|usual| (usual.high, true))
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::base::units::{NominalVolts, Watts};
    use crate::fixture::Fixture;
    use crate::house::{LoadId, LoadKind, PointId};

    fn with(name: &str, kind: PointKind, volts: NominalVolts, loads: &[(&str, Option<f64>)]) -> Option<(Amps, bool)> {
        let mut f = Fixture::new(20);
        let room = f.room("Kitchen");
        let id = f.point("K1", room, kind);
        let point = Point { name: name.into(), volts: Some(volts), ..f.house.points.get(id).unwrap().clone() };
        f.house.points.put(point.clone());
        for (n, (name, watts)) in loads.iter().enumerate() {
            let plain = Load::new(LoadId(n as u64 + 1), PointId(id.0), *name, LoadKind::Other);
            f.house.loads.put(Load { watts: watts.map(Watts), ..plain });
        }
        at_point(&f.house, &point)
    }

    // Ohm's law for the nameplate: 1200 W at 120 V are 10 A, 4500 W at 240 V are 18.75 A.
    #[test]
    fn a_nameplate_goes_before_what_is_typical() {
        let (v120, v240) = (NominalVolts::V120, NominalVolts::V240);
        let kind = PointKind::Appliance;
        assert_eq!(with("counter", kind, v120, &[("microwave", Some(1200.0))]), Some((Amps(10.0), false)));
        assert_eq!(with("", kind, v240, &[("water heater", Some(4500.0))]), Some((Amps(18.75), false)));
        let two = [("microwave", Some(1200.0)), ("toaster", None)];
        assert_eq!(with("counter", PointKind::Receptacle, v120, &two), Some((Amps(20.0), true)));
    }

    // handbook 3, from memory: typical draws.
    #[test]
    fn without_one_it_is_told_as_typical_or_not_at_all() {
        let at = |name: &str, kind| with(name, kind, NominalVolts::V120, &[]);
        assert_eq!(at("over-range microwave", PointKind::Appliance), Some((Amps(13.0), true)));
        assert_eq!(at("fridge", PointKind::Appliance), Some((Amps(2.0), true)));
        assert!(at("", PointKind::Light).is_some_and(|(amps, typical)| amps.0 < 1.0 && typical));
        assert_eq!(at("wall", PointKind::Receptacle), None);
        assert_eq!(with("wall", PointKind::Receptacle, NominalVolts::V120, &[("gadget", None)]), None);
    }
}
