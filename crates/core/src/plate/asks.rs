//! What a nameplate asks of its circuit (handbook 3.10).

use serde::Serialize;
use utoipa::ToSchema;

use crate::base::units::{Amps, NominalVolts};
use crate::base::{Source, nec};
use crate::code;
use crate::house::{Load, LoadKind};
use crate::plate;

/// What a load asks of its circuit.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
pub struct Asks {
    /// Its conductors must carry at least this.
    pub wire: Amps,
    /// Its breaker must be at least this,
    pub at_least: Amps,
    /// and at most this.
    pub at_most: Option<Amps>,
    /// By which rule.
    #[schema(value_type = String)]
    pub source: Source,
}

/// [pub: NEC 430.52, inverse-time breaker, value from memory]
const MOTOR: f64 = 2.5;
/// A household range from 8¾ kW on. [pub: NEC 210.19(A)(3), value from memory]
const LARGE_RANGE: (f64, f64) = (8750.0, 40.0);

/// What a load asks of its circuit; nothing where its nameplate gives no size.
#[must_use]
pub fn asks(load: &Load, volts: NominalVolts) -> Option<Asks> {
    let amps = plate::current(load, volts)?.0;
    let next = |amps: f64| code::STANDARD_RATINGS.iter().copied().find(|r| *r >= amps - ROUNDING).map(Amps);
    if let Some(mca) = load.mca {
        let at_least = next(mca.0)?;
        // Where rounding up passes the largest allowed, the largest allowed holds: NEC 440.4(B).
        let at_least = load.mop.map_or(at_least, |mop| Amps(at_least.0.min(mop.0)));
        return Some(Asks { wire: mca, at_least, at_most: load.mop, source: nec("440.4(B), 110.3(B)") });
    }
    if load.motor == Some(true) && load.hp.is_some() {
        let most = load.mop.or_else(|| next(MOTOR * amps));
        let wire = Amps(code::CONTINUOUS * amps);
        return Some(Asks { wire, at_least: next(wire.0)?, at_most: most, source: nec("430.22, 430.52") });
    }
    if load.kind == LoadKind::Range {
        // The code counts a large range at less than its nameplate: 40 A suffice.
        let large = amps * f64::from(u16::from(volts)) >= LARGE_RANGE.0;
        let least = if large { Amps(LARGE_RANGE.1) } else { next(amps)? };
        return Some(Asks { wire: least, at_least: least, at_most: load.mop, source: nec("210.19(A)(3)") });
    }
    let continuous = plate::is_continuous(load);
    let wire = if continuous { code::CONTINUOUS * amps } else { amps };
    let source = if continuous { nec("210.19(A)(1), 210.20(A)") } else { nec("210.19(A)(1)") };
    Some(Asks { wire: Amps(wire), at_least: next(wire)?, at_most: load.mop, source })
}

/// The table gives whole amperes.
const ROUNDING: f64 = 1e-9;

#[cfg(test)]
mod tests {
    use super::*;
    use crate::base::units::{Horsepower, Watts};
    use crate::house::{LoadId, PointId};

    fn load(kind: LoadKind) -> Load {
        Load::new(LoadId(1), PointId(1), "it", kind)
    }

    // NEC from memory, as handbook 3.10 has it: 4500 W at 240 V are 18.75 A, continuous: 23.4, so 25 A; a car charger of
    // 32 A: 40 A; MCA 17.9 and MOP 30: 20 to 30 A; 1 hp at 230 V: 8 A, wire 10 A, breaker 20 A at most.
    #[test]
    fn breaker_and_wire_follow_from_the_nameplate() {
        let v240 = NominalVolts::V240;
        let heater = asks(&Load { watts: Some(Watts(4500.0)), ..load(LoadKind::WaterHeater) }, v240).unwrap();
        assert_eq!((heater.wire.0, heater.at_least.0), (23.4375, 25.0));
        let charger = asks(&Load { amps: Some(Amps(32.0)), ..load(LoadKind::CarCharger) }, v240).unwrap();
        assert_eq!((charger.wire.0, charger.at_least.0), (40.0, 40.0));
        let unit = Load { mca: Some(Amps(17.9)), mop: Some(Amps(30.0)), ..load(LoadKind::Cooling) };
        let unit = asks(&unit, v240).unwrap();
        assert_eq!((unit.wire.0, unit.at_least.0, unit.at_most), (17.9, 20.0, Some(Amps(30.0))));
        let pump = Load { hp: Some(Horsepower(1.0)), motor: Some(true), ..load(LoadKind::Pump) };
        let pump = asks(&pump, v240).unwrap();
        assert_eq!((pump.wire.0, pump.at_most), (10.0, Some(Amps(20.0))));
        let range = asks(&Load { watts: Some(Watts(12_000.0)), ..load(LoadKind::Range) }, v240).unwrap();
        assert_eq!((range.wire.0, range.at_least.0), (40.0, 40.0));
    }
}
