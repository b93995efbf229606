//! What a nameplate asks of its circuit, and whether the circuit gives it (handbook 3.10).

use serde::Serialize;
use utoipa::ToSchema;

use crate::base::units::{Amps, NominalVolts};
use crate::code::{self, Column};
use crate::house::{Breaker, Circuit, House, Load, LoadKind};
use crate::load::{drawing, plate};

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
    pub source: &'static str,
}

/// Something about a load that its circuit does not give.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
pub struct Unmet {
    /// What, in words.
    pub said: String,
    /// By which rule.
    pub source: &'static str,
}

/// [pub: NEC 210.19(A)(1), 210.20(A), 430.22, value from memory]
const A_QUARTER_MORE: f64 = 1.25;
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
        return Some(Asks { wire: mca, at_least, at_most: load.mop, source: "NEC 440.4(B), 110.3(B) (2023)" });
    }
    if load.motor == Some(true) && load.hp.is_some() {
        let most = load.mop.or_else(|| next(MOTOR * amps));
        let wire = Amps(A_QUARTER_MORE * amps);
        return Some(Asks { wire, at_least: next(wire.0)?, at_most: most, source: "NEC 430.22, 430.52 (2023)" });
    }
    if load.kind == LoadKind::Range {
        // The code counts a large range at less than its nameplate: 40 A suffice.
        let large = amps * f64::from(u16::from(volts)) >= LARGE_RANGE.0;
        let least = if large { Amps(LARGE_RANGE.1) } else { next(amps)? };
        return Some(Asks { wire: least, at_least: least, at_most: load.mop, source: "NEC 210.19(A)(3) (2023)" });
    }
    let continuous = drawing::is_continuous(load);
    let wire = if continuous { A_QUARTER_MORE * amps } else { amps };
    let source = if continuous { "NEC 210.19(A)(1), 210.20(A) (2023)" } else { "NEC 210.19(A)(1) (2023)" };
    Some(Asks { wire: Amps(wire), at_least: next(wire)?, at_most: load.mop, source })
}

/// The table gives whole amperes.
const ROUNDING: f64 = 1e-9;

/// What a load's circuit does not give it.
#[must_use]
pub fn unmet(house: &House, load: &Load, breaker: &Breaker) -> Vec<Unmet> {
    let volts = plate::volts(house, load);
    let mut unmet = Vec::new();
    let Some(asks) = asks(load, volts) else { return unmet };
    let mut say = |said: String, source| unmet.push(Unmet { said, source });
    let (name, rating) = (&load.name, breaker.amps.0);
    if let Some(most) = asks.at_most.filter(|most| rating > most.0) {
        say(format!("{name}: its breaker may be {} A at most, it is {rating} A", most.0), asks.source);
    }
    if rating < asks.at_least.0 && !shares(load) {
        say(format!("{name}: its breaker must be {} A at least, it is {rating} A", asks.at_least.0), asks.source);
    }
    let wires = house.circuits_of(breaker.id).into_iter().filter_map(|c| Some((c, carries(c)?)));
    for (circuit, carried) in wires.filter(|(_, carried)| carried.0 < asks.wire.0 && !shares(load)) {
        let cable = circuit.cable().unwrap_or_default();
        say(format!("{name}: its wire must carry {:.1} A, {cable} carries {} A", asks.wire.0, carried.0), asks.source);
    }
    if let Some(made) = load.volts.filter(|v| !v.is_at_home()) {
        say(format!("{name}: made for {} V, which no supply of a house gives", u16::from(made)), "definition");
    }
    if load.volts == Some(NominalVolts::V240.into())
        && house.panels.get(breaker.panel).is_some_and(|p| p.supply != crate::base::position::Supply::SplitPhase)
    {
        say(format!("{name}: made for 240 V, gets 208 V: about three quarters of its power"), "definition: (208/240)²");
    }
    unmet
}

/// What is plugged in shares its circuit: the breaker suits the circuit, not the load.
fn shares(load: &Load) -> bool {
    !drawing::is_continuous(load) && load.mca.is_none() && load.volts.is_none_or(|v| !v.nominal().is_leg_to_leg())
}

fn carries(circuit: &Circuit) -> Option<Amps> {
    code::ampacity(circuit.wire?, circuit.metal, Column::C60)
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::base::units::{Horsepower, Watts};
    use crate::fixture::Fixture;
    use crate::house::{CircuitId, LoadId, PointId, PointKind};

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

    // handbook 1.4: a 30 A breaker on a unit marked max 20 A is wrong even on 10 AWG.
    #[test]
    fn the_largest_breaker_of_a_nameplate_holds_whatever_the_wire_carries() {
        let mut f = Fixture::new(8);
        let room = f.room("Yard");
        let breaker = f.breaker("1-3", 30.0, "");
        let point = f.point_at("Y1", room, PointKind::Appliance, Some(NominalVolts::V240));
        f.house.circuits.put(Circuit { wire: "10".parse().ok(), ..Circuit::new(CircuitId(1), breaker) });
        let unit = Load {
            mca: Some(Amps(14.0)),
            mop: Some(Amps(20.0)),
            ..Load::new(LoadId(1), point, "cooler", LoadKind::Cooling)
        };
        let breaker = f.house.breakers.get(breaker).unwrap().clone();
        let told = unmet(&f.house, &unit, &breaker);
        assert_eq!(told.len(), 1, "{told:?}");
        assert!(told[0].said.contains("20 A at most"));
        let fits = Load { mop: Some(Amps(30.0)), ..unit.clone() };
        assert_eq!(unmet(&f.house, &fits, &breaker), []);
        let large = Load { mca: Some(Amps(33.0)), mop: Some(Amps(50.0)), ..unit };
        assert_eq!(unmet(&f.house, &large, &breaker).len(), 2, "breaker and wire are too small");
    }
}
