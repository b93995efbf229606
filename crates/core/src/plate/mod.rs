//! What a nameplate says a thing draws, and asks of its circuit; what is typical where there is none.

mod asks;
pub mod running;
pub mod typical;

pub use asks::{Asks, asks};

use crate::base::units::{Amps, NominalVolts, PlateVolts};
use crate::code::motor;
use crate::house::{Breaker, Habit, House, Load, LoadKind, PointId};

/// How a load is connected.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub struct Connected {
    /// The voltage between any two of its conductors, or to neutral where it has one hot.
    pub volts: NominalVolts,
    /// Over three phases.
    pub three_phase: bool,
}

impl Connected {
    /// As its plate says, wherever it hangs.
    #[must_use]
    pub fn printed(load: &Load, volts: NominalVolts) -> Self {
        Self { volts, three_phase: load.three_phase }
    }

    /// As it hangs on a breaker with what is at `points`: alone across the legs of three poles it takes all three, whether its plate
    /// says so or not. Where another lies across them too, each may be on two: the current of one phase, which is more, stands.
    #[must_use]
    pub fn on(house: &House, load: &Load, breaker: &Breaker, points: impl IntoIterator<Item = PointId>) -> Self {
        let printed = Self::printed(load, volts(house, load));
        let across = |load: &Load| volts(house, load).is_leg_to_leg();
        if breaker.at.len() != 3 || !across(load) {
            return printed;
        }
        let there: Vec<PointId> = points.into_iter().collect();
        let shared = house.loads.iter().any(|l| l.id != load.id && there.contains(&l.point) && across(l));
        Self { three_phase: printed.three_phase || !shared, ..printed }
    }

    /// Volt-amperes of one ampere in each conductor: of three legs each carries its share, P = √3·U·I [def], with √3·U as a whole number, as
    /// the code's examples have it: 208 V count as 360 [pub: NEC annex D, value from memory].
    #[must_use]
    pub fn power_of_one(self) -> f64 {
        if self.three_phase { (3.0_f64.sqrt() * number(self.volts)).round() } else { number(self.volts) }
    }
}

fn number(volts: NominalVolts) -> f64 {
    f64::from(u16::from(volts))
}

/// The voltage a load runs at: what it is made for, else its point's, else one leg's. Made for two legs it gets what its point
/// has.
#[must_use]
pub fn volts(house: &House, load: &Load) -> NominalVolts {
    let point = house.points.get(load.point).and_then(|p| p.volts);
    match load.volts.map(PlateVolts::nominal) {
        Some(made) if made.is_leg_to_leg() => point.filter(|p| p.is_leg_to_leg()).unwrap_or(made),
        Some(made) => made,
        None => point.unwrap_or(NominalVolts::V120),
    }
}

/// It draws its plate, neither more nor less.
#[must_use]
pub fn resists(load: &Load) -> bool {
    running::running(load).resists()
}

/// The current that the nameplate gives, at its most; nothing where it gives no size.
///
/// Amperes as they stand; watts and volt-amperes over the volts [def]; horsepower by the table of full-load currents; of a
/// minimum circuit ampacity four fifths, since it counts the largest motor or all that is continuous at 125 %
/// [pub: NEC 440.4(B), 210.19(A)(1), value from memory]. What only resists draws less where it gets less than it is made for:
/// its current goes with the voltage, and its power with the square of it [def].
#[must_use]
pub fn current(load: &Load, connected: Connected) -> Option<Amps> {
    let made = Connected { volts: load.volts.map_or(connected.volts, PlateVolts::nominal), ..connected };
    let share = number(connected.volts) / number(made.volts);
    // What it is matters only where it gets another voltage than it is made for.
    let (over, share) = if made != connected && resists(load) { (made, share) } else { (connected, 1.0) };
    let over_volts = |power: f64| Amps(power / over.power_of_one() * share);
    load.amps
        .map(|amps| Amps(amps.0 * share))
        .or_else(|| load.watts.map(|w| over_volts(w.0)))
        .or_else(|| load.va.map(|va| over_volts(va.0)))
        .or_else(|| load.hp.and_then(|hp| motor::full_load(hp, connected.volts, connected.three_phase)))
        .or_else(|| load.mca.map(|mca| Amps(mca.0 / 1.25)))
}

/// Whether a load runs at its most for three hours or more: as somebody said, else what the code counts as continuous
/// whatever it does: fixed space heating, storage water heaters and car charging
/// [pub: NEC 424.4(B), 422.13, 625.42, value from memory], or what is said to run for hours.
#[must_use]
pub fn is_continuous(load: &Load) -> bool {
    let counts = matches!(load.kind, LoadKind::Heating | LoadKind::WaterHeater | LoadKind::CarCharger);
    load.continuous.unwrap_or(counts || load.habit == Some(Habit::Hours))
}

/// Made for two legs.
fn is_of_two_legs(load: &Load) -> bool {
    load.volts.is_some_and(|v| v.nominal().is_leg_to_leg())
}

/// Plates are rounded, things grow old, and one in twenty is unlike its plate: so much more is open, as a share. (common practice)
const ODD: f64 = 0.03;

/// What a load draws while it runs, by its plate and what it is: the current in the middle, and the standard error of that; nothing
/// where its plate gives no size. A plate in watts says less of amperes, by the power factor. [def: A = W / (V·pf)]
#[must_use]
pub fn expected(load: &Load, connected: Connected) -> Option<(Amps, Amps)> {
    let printed = current(load, connected).filter(|a| a.0 > 0.0)?.0;
    let running = running::running(load);
    let (share, off) = (running.of_plate.middle(), running.of_plate.error() / running.of_plate.middle());
    let in_watts = load.amps.is_none() && load.watts.is_some();
    let (over_factor, doubt) = if in_watts { running.factor.one_over() } else { (1.0, 0.0) };
    let amps = printed * share * over_factor;
    Some((Amps(amps), Amps(amps * off.hypot(doubt).hypot(ODD))))
}

/// The most that a load may draw, by its plate and what it is: what is printed at the least.
#[must_use]
pub fn most(load: &Load, connected: Connected) -> Option<Amps> {
    let printed = current(load, connected)?;
    let running = running::running(load);
    let in_watts = load.amps.is_none() && load.watts.is_some();
    let factor = if in_watts { running.factor.low } else { 1.0 };
    Some(Amps(printed.0.max(printed.0 * running.of_plate.high / factor)))
}

/// The least that a load may draw while it runs, by its plate and what it is; of what only resists what is printed.
#[must_use]
pub fn least(load: &Load, connected: Connected) -> Option<Amps> {
    let printed = current(load, connected)?;
    let running = running::running(load);
    let in_watts = load.amps.is_none() && load.watts.is_some();
    let factor = if in_watts { running.factor.high } else { 1.0 };
    Some(if running.resists() { printed } else { Amps(printed.0 * running.of_plate.low / factor) })
}

/// What is plugged in shares its circuit: the breaker suits the circuit, not the thing.
#[must_use]
pub fn shares_circuit(load: &Load) -> bool {
    !is_continuous(load) && load.mca.is_none() && load.volts.is_none_or(|v| !v.nominal().is_leg_to_leg())
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::base::units::{Horsepower, VoltAmperes, Watts};
    use crate::house::{LoadId, LoadKind, PointId};

    #[test]
    fn any_one_size_is_enough_and_what_is_measured_in_amperes_goes_first() {
        let plain = Load::new(LoadId(1), PointId(1), "mixer", LoadKind::Other);
        let at = |load: Load, volts| current(&load, Connected::printed(&load, volts)).map(|a| a.0);
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

    // Ohm's law: 4500 W made for 240 V are 18.75 A; at 208 V (208/240) of that, and (208/240)² of the power.
    #[test]
    fn what_only_resists_draws_less_where_it_gets_less() {
        let heater = Load {
            watts: Some(Watts(4500.0)),
            volts: Some(NominalVolts::V240.into()),
            ..Load::new(LoadId(1), PointId(1), "water heater", LoadKind::WaterHeater)
        };
        let at = |volts| current(&heater, Connected::printed(&heater, volts)).unwrap().0;
        let amps = at(NominalVolts::V208);
        assert!((at(NominalVolts::V240) - 18.75).abs() < 1e-9);
        assert!((amps - 18.75 * 208.0 / 240.0).abs() < 1e-9);
        assert!((amps * 208.0 / 4500.0 - 0.751).abs() < 1e-3);
    }

    #[test]
    fn plates_are_taken_as_printed_and_stand_for_the_nearest_voltage() {
        for (printed, nominal) in [(115, 120), (125, 120), (200, 208), (220, 240), (230, 240), (250, 240), (277, 240)] {
            let plate = PlateVolts::try_from(printed).unwrap();
            assert_eq!((u16::from(plate), u16::from(plate.nominal())), (printed, nominal));
        }
        assert!(!PlateVolts::try_from(277).unwrap().is_at_home());
        assert!(PlateVolts::try_from(110).unwrap_err().contains("115, 120"));
    }
}
