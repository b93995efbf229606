//! Published tables. Every value carries its source; all are quoted from memory of the 2023 edition of the NEC unless
//! another is named. Local code decides.

pub mod canada;
pub mod motor;
pub mod resistance;
pub mod sizes;
pub mod trip;
pub mod volts;
pub mod welder;

use crate::base::units::{Amps, Gauge, Metal};

/// Temperature column of the ampacity table.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum AmpacityColumn {
    /// 60 °C: non-metallic cable (NEC 334.80).
    C60,
    /// 75 °C: single conductors on terminals marked for it (NEC 110.14(C)).
    C75,
}

/// Gauge number, then amperes at 60 °C and 75 °C (NEC 310.16).
const COPPER: &[(i8, f64, f64)] = &[
    (14, 15.0, 20.0),
    (12, 20.0, 25.0),
    (10, 30.0, 35.0),
    (8, 40.0, 50.0),
    (6, 55.0, 65.0),
    (4, 70.0, 85.0),
    (3, 85.0, 100.0),
    (2, 95.0, 115.0),
    (1, 110.0, 130.0),
    (0, 125.0, 150.0),
    (-1, 145.0, 175.0),
    (-2, 165.0, 200.0),
    (-3, 195.0, 230.0),
];
const ALUMINIUM: &[(i8, f64, f64)] = &[
    (12, 15.0, 20.0),
    (10, 25.0, 30.0),
    (8, 35.0, 40.0),
    (6, 40.0, 50.0),
    (4, 55.0, 65.0),
    (3, 65.0, 75.0),
    (2, 75.0, 90.0),
    (1, 85.0, 100.0),
    (0, 100.0, 120.0),
    (-1, 115.0, 135.0),
    (-2, 130.0, 155.0),
    (-3, 150.0, 180.0),
];

/// Standard ratings of overcurrent devices (NEC 240.6(A)), to 400 A.
pub const STANDARD_RATINGS: &[f64] = &[
    15.0, 20.0, 25.0, 30.0, 35.0, 40.0, 45.0, 50.0, 60.0, 70.0, 80.0, 90.0, 100.0, 110.0, 125.0, 150.0, 175.0, 200.0,
    225.0, 250.0, 300.0, 350.0, 400.0,
];

/// So many times what runs for hours, and a motor, is carried by branch and feeder (NEC 210.19(A)(1), 210.20(A), 215.2(A), 215.3,
/// 430.22).
pub const CONTINUOUS: f64 = 1.25;

/// Ampacity of a conductor (NEC 310.16); nothing for sizes that the table does not have.
#[must_use]
pub fn ampacity(wire: Gauge, metal: Metal, column: AmpacityColumn) -> Option<Amps> {
    let table = if metal == Metal::Copper { COPPER } else { ALUMINIUM };
    let (_, c60, c75) = table.iter().find(|(number, ..)| *number == wire.number())?;
    Some(Amps(if column == AmpacityColumn::C60 { *c60 } else { *c75 }))
}

/// Largest overcurrent device on a small conductor (NEC 240.4(D)).
#[must_use]
pub fn small_conductor_limit(wire: Gauge, metal: Metal) -> Option<Amps> {
    let limit = match (wire.number(), metal) {
        (14, Metal::Copper) | (12, Metal::Aluminium) => 15.0,
        (12, Metal::Copper) => 20.0,
        (10, Metal::Copper) => 30.0,
        (10, Metal::Aluminium) => 25.0,
        (n, _) if n > 14 => 10.0,
        _ => return None,
    };
    Some(Amps(limit))
}

/// Largest standard overcurrent device that protects a conductor: the small conductors' limits (NEC 240.4(D)), else
/// its ampacity or the next standard rating above (NEC 240.4(B)).
#[must_use]
pub fn largest_breaker(wire: Gauge, metal: Metal, column: AmpacityColumn) -> Option<Amps> {
    if let Some(limit) = small_conductor_limit(wire, metal) {
        return Some(limit);
    }
    let amps = ampacity(wire, metal, column)?.0;
    STANDARD_RATINGS.iter().copied().find(|rating| *rating >= amps).map(Amps)
}

/// True where service or feeder conductors that carry a dwelling's whole load may stand behind a rating of 100 to
/// 400 A: 83 % of the rating suffices (NEC 310.12).
#[must_use]
pub fn carries_dwelling(wire: Gauge, metal: Metal, rating: Amps) -> bool {
    (100.0..=400.0).contains(&rating.0)
        && ampacity(wire, metal, AmpacityColumn::C75).is_some_and(|a| a.0 >= 0.83 * rating.0 - ROUNDING)
}

/// The table gives whole amperes: 83 % of 100 A is met by 85, and of 200 A (166) by 175.
const ROUNDING: f64 = 1e-9;

#[cfg(test)]
mod tests {
    use super::*;

    fn largest(wire: &str, metal: Metal, column: AmpacityColumn) -> f64 {
        largest_breaker(wire.parse().unwrap(), metal, column).unwrap().0
    }

    // NEC 240.4(D), from memory.
    #[test]
    fn small_conductors_have_their_own_limits() {
        for (wire, amps) in [("14", 15.0), ("12", 20.0), ("10", 30.0)] {
            for column in [AmpacityColumn::C60, AmpacityColumn::C75] {
                assert_eq!(largest(wire, Metal::Copper, column), amps);
            }
        }
        assert_eq!(largest("12", Metal::Aluminium, AmpacityColumn::C60), 15.0);
        assert_eq!(largest("10", Metal::Aluminium, AmpacityColumn::C60), 25.0);
    }

    // NEC 240.4(B), the usual example: 6 AWG cable carries 55 A and may stand behind 60 A.
    #[test]
    fn between_standard_ratings_the_next_one_up_is_allowed() {
        assert_eq!(largest("6", Metal::Copper, AmpacityColumn::C60), 60.0);
        assert_eq!(largest("8", Metal::Copper, AmpacityColumn::C60), 40.0);
        assert_eq!(largest("6", Metal::Copper, AmpacityColumn::C75), 70.0);
        assert_eq!(largest("4", Metal::Aluminium, AmpacityColumn::C60), 60.0);
    }

    // NEC table 310.12(A), from memory: 100 A: 4 Cu or 2 Al; 200 A: 2/0 Cu or 4/0 Al.
    #[test]
    fn service_conductors_of_a_dwelling_by_the_83_percent_rule() {
        let rows = [
            ("4", Metal::Copper, 100.0),
            ("2", Metal::Aluminium, 100.0),
            ("2/0", Metal::Copper, 200.0),
            ("4/0", Metal::Aluminium, 200.0),
        ];
        for (wire, metal, rating) in rows {
            let wire: Gauge = wire.parse().unwrap();
            assert!(carries_dwelling(wire, metal, Amps(rating)), "{wire}");
            let thinner = Gauge::new(wire.number() + 1).unwrap();
            assert!(!carries_dwelling(thinner, metal, Amps(rating)), "{thinner} is too thin for {rating}");
        }
        assert!(!carries_dwelling("6".parse().unwrap(), Metal::Copper, Amps(60.0)), "the rule begins at 100 A");
    }

    #[test]
    fn sizes_that_the_table_lacks_have_no_ampacity() {
        assert_eq!(ampacity("5".parse().unwrap(), Metal::Copper, AmpacityColumn::C60), None);
        assert_eq!(ampacity("14".parse().unwrap(), Metal::Aluminium, AmpacityColumn::C60), None);
    }
}
