//! Full-load currents of single-phase motors.

use crate::base::units::{Amps, Horsepower, NominalVolts};

/// Horsepower, and amperes at 115 V; at 230 V half of it. [pub: NEC table 430.248, value from memory]
const FULL_LOAD: &[(f64, f64)] = &[
    (1.0 / 6.0, 4.4),
    (0.25, 5.8),
    (1.0 / 3.0, 7.2),
    (0.5, 9.8),
    (0.75, 13.8),
    (1.0, 16.0),
    (1.5, 20.0),
    (2.0, 24.0),
    (3.0, 34.0),
    (5.0, 56.0),
    (7.5, 80.0),
    (10.0, 100.0),
];
/// What the table's currents are for, in volts.
const TABLE_VOLTS: f64 = 115.0;

/// The current of a motor at full load. Between two rows it is drawn as a straight line, which the table does not say; beyond its
/// ends there is none. At 208 V the same power draws 110 % of the current at 230 V. [pub: NEC table 430.248, note, value
/// from memory]
#[must_use]
pub fn full_load(power: Horsepower, volts: NominalVolts) -> Option<Amps> {
    let after = FULL_LOAD.iter().position(|(hp, _)| *hp >= power.0 - 1e-9)?;
    let (hp, amps) = FULL_LOAD[after];
    let at_115 = if (hp - power.0).abs() < 0.01 {
        amps
    } else {
        let (below_hp, below_amps) = *FULL_LOAD.get(after.checked_sub(1)?)?;
        below_amps + (amps - below_amps) * (power.0 - below_hp) / (hp - below_hp)
    };
    let nominal = match u16::from(volts) {
        120 => TABLE_VOLTS,
        208 => 2.0 * TABLE_VOLTS / 1.1,
        _ => 2.0 * TABLE_VOLTS,
    };
    Some(Amps(at_115 * TABLE_VOLTS / nominal))
}

#[cfg(test)]
mod tests {
    use super::*;

    // NEC table 430.248, from memory: both of its columns.
    #[test]
    fn full_load_currents_are_those_of_the_table() {
        let at = |hp, volts| full_load(Horsepower(hp), volts).map(|a| (a.0 * 10.0).round() / 10.0);
        for (hp, low, high) in [(0.5, 9.8, 4.9), (0.75, 13.8, 6.9), (1.5, 20.0, 10.0), (5.0, 56.0, 28.0)] {
            assert_eq!((at(hp, NominalVolts::V120), at(hp, NominalVolts::V240)), (Some(low), Some(high)), "{hp} hp");
        }
        assert_eq!(at(0.33, NominalVolts::V120), Some(7.2), "a third, as people write it");
        assert_eq!(at(1.0, NominalVolts::V208), Some(8.8));
        assert_eq!(at(0.05, NominalVolts::V120), None);
        assert_eq!(at(20.0, NominalVolts::V240), None);
        let between = full_load(Horsepower(2.5), NominalVolts::V240).unwrap().0;
        assert!((12.0..17.0).contains(&between));
    }
}
