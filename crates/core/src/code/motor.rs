//! Full-load currents of motors.

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
/// Horsepower, and amperes of each leg at 208 and at 230 V of three phases. [pub: NEC table 430.250, value from memory]
const THREE_PHASE: &[(f64, f64, f64)] = &[
    (0.5, 2.4, 2.2),
    (0.75, 3.5, 3.2),
    (1.0, 4.6, 4.2),
    (1.5, 6.6, 6.0),
    (2.0, 7.5, 6.8),
    (3.0, 10.6, 9.6),
    (5.0, 16.7, 15.2),
    (7.5, 24.2, 22.0),
    (10.0, 30.8, 28.0),
];
/// What the table's currents are for, in volts.
const TABLE_VOLTS: f64 = 115.0;

/// The current of a motor at full load. Between two rows it is drawn as a straight line, which the table does not say; beyond its
/// ends there is none. At 208 V of one phase the same power draws 110 % of the current at 230 V. [pub: NEC table 430.248, note, value
/// from memory]
#[must_use]
pub fn full_load(power: Horsepower, volts: NominalVolts, three_phase: bool) -> Option<Amps> {
    if three_phase {
        let at = |(hp, at_208, at_230): &(f64, f64, f64)| match volts {
            NominalVolts::V208 => Some((*hp, *at_208)),
            NominalVolts::V240 => Some((*hp, *at_230)),
            _ => None,
        };
        let table: Vec<(f64, f64)> = THREE_PHASE.iter().filter_map(at).collect();
        return read(&table, power).map(Amps);
    }
    let at_115 = read(FULL_LOAD, power)?;
    let nominal = match u16::from(volts) {
        120 => TABLE_VOLTS,
        208 => 2.0 * TABLE_VOLTS / 1.1,
        _ => 2.0 * TABLE_VOLTS,
    };
    Some(Amps(at_115 * TABLE_VOLTS / nominal))
}

/// The row of a power, or between two rows.
fn read(table: &[(f64, f64)], power: Horsepower) -> Option<f64> {
    let after = table.iter().position(|(hp, _)| *hp >= power.0 - 1e-9)?;
    let (hp, amps) = table[after];
    if (hp - power.0).abs() < 0.01 {
        return Some(amps);
    }
    let (below_hp, below_amps) = *table.get(after.checked_sub(1)?)?;
    Some(below_amps + (amps - below_amps) * (power.0 - below_hp) / (hp - below_hp))
}

#[cfg(test)]
mod tests {
    use super::*;

    // NEC table 430.248, from memory: both of its columns.
    #[test]
    fn full_load_currents_are_those_of_the_table() {
        let at = |hp, volts| full_load(Horsepower(hp), volts, false).map(|a| (a.0 * 10.0).round() / 10.0);
        for (hp, low, high) in [(0.5, 9.8, 4.9), (0.75, 13.8, 6.9), (1.5, 20.0, 10.0), (5.0, 56.0, 28.0)] {
            assert_eq!((at(hp, NominalVolts::V120), at(hp, NominalVolts::V240)), (Some(low), Some(high)), "{hp} hp");
        }
        assert_eq!(at(0.33, NominalVolts::V120), Some(7.2), "a third, as people write it");
        assert_eq!(at(1.0, NominalVolts::V208), Some(8.8));
        assert_eq!(at(0.05, NominalVolts::V120), None);
        assert_eq!(at(20.0, NominalVolts::V240), None);
        let between = full_load(Horsepower(2.5), NominalVolts::V240, false).unwrap().0;
        assert!((12.0..17.0).contains(&between));
    }

    // NEC table 430.250, from memory: its columns of 208 and 230 V; 3 hp at 208 V are 10.6 A in each leg, where one phase takes 18.7.
    #[test]
    fn three_phases_have_a_table_of_their_own() {
        let at = |hp, volts| full_load(Horsepower(hp), volts, true).map(|a| a.0);
        for (hp, at_208, at_230) in
            [(0.5, 2.4, 2.2), (1.5, 6.6, 6.0), (3.0, 10.6, 9.6), (5.0, 16.7, 15.2), (10.0, 30.8, 28.0)]
        {
            assert_eq!(
                (at(hp, NominalVolts::V208), at(hp, NominalVolts::V240)),
                (Some(at_208), Some(at_230)),
                "{hp} hp"
            );
        }
        assert_eq!((at(1.0, NominalVolts::V120), at(15.0, NominalVolts::V208)), (None, None));
        // By definition: 3 hp of three phases draw, at the same efficiency, about 1/√3 of what one phase draws.
        let one = full_load(Horsepower(3.0), NominalVolts::V208, false).unwrap().0;
        assert!((one / at(3.0, NominalVolts::V208).unwrap() / 3.0_f64.sqrt() - 1.0).abs() < 0.1);
    }
}
