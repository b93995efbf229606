//! What a nameplate says a thing draws.

use crate::base::units::{Amps, NominalVolts};
use crate::code::motor;
use crate::house::{House, Load};

/// The voltage a load runs at: its own, else its point's, else one leg's.
#[must_use]
pub fn volts(house: &House, load: &Load) -> NominalVolts {
    let point = || house.points.get(load.point).and_then(|p| p.volts);
    load.volts.or_else(point).unwrap_or(NominalVolts::V120)
}

/// The current that the nameplate gives, at its most; nothing where it gives no size.
///
/// Amperes as they stand; watts and volt-amperes over the volts [def]; horsepower by the table of full-load currents; of a
/// minimum circuit ampacity four fifths, since it counts the largest motor or all that is continuous at 125 %
/// [pub: NEC 440.4(B), 210.19(A)(1), value from memory].
#[must_use]
pub fn current(load: &Load, volts: NominalVolts) -> Option<Amps> {
    let over_volts = |power: f64| Amps(power / f64::from(u16::from(volts)));
    load.amps
        .or_else(|| load.watts.map(|w| over_volts(w.0)))
        .or_else(|| load.va.map(|va| over_volts(va.0)))
        .or_else(|| load.hp.and_then(|hp| motor::full_load(hp, volts)))
        .or_else(|| load.mca.map(|mca| Amps(mca.0 / 1.25)))
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::base::units::{Horsepower, VoltAmperes, Watts};
    use crate::house::{LoadId, LoadKind, PointId};

    #[test]
    fn any_one_size_is_enough_and_what_is_measured_in_amperes_goes_first() {
        let plain = Load::new(LoadId(1), PointId(1), "mixer", LoadKind::Other);
        let at = |load: Load, volts| current(&load, volts).map(|a| a.0);
        let (v120, v240) = (NominalVolts::V120, NominalVolts::V240);
        assert_eq!(at(plain.clone(), v120), None);
        // Definition: 9600 W at 240 V are 40 A, 1800 VA at 120 V 15 A.
        assert_eq!(at(Load { watts: Some(Watts(9600.0)), ..plain.clone() }, v240), Some(40.0));
        assert_eq!(at(Load { va: Some(VoltAmperes(1800.0)), ..plain.clone() }, v120), Some(15.0));
        let both = Load { watts: Some(Watts(1800.0)), amps: Some(Amps(14.2)), ..plain.clone() };
        assert_eq!(at(both, v120), Some(14.2));
        // NEC table 430.248, from memory: 1 hp draws 16 A at 115 V, 8 A at 230 V.
        let motor = Load { hp: Some(Horsepower(1.0)), ..plain.clone() };
        assert_eq!((at(motor.clone(), v120), at(motor, v240)), (Some(16.0), Some(8.0)));
        assert_eq!(at(Load { mca: Some(Amps(25.0)), ..plain }, v240), Some(20.0));
    }
}
