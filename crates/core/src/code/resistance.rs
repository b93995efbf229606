//! Resistance of conductors.

use crate::base::units::{Feet, Gauge, Metal, Ohms};

/// Gauge number, then ohms of a thousand feet of uncoated copper at 75 °C by direct current. [pub: NEC chapter 9, table 8,
/// value from memory]
const COPPER: &[(i8, f64)] = &[
    (14, 3.07),
    (12, 1.93),
    (10, 1.21),
    (8, 0.764),
    (6, 0.491),
    (4, 0.308),
    (2, 0.194),
    (0, 0.122),
    (-1, 0.0967),
    (-3, 0.0608),
];
/// Aluminium resists so much more than copper of the same size. [pub: NEC chapter 9, table 8: 12 AWG 3.18 against 1.93 Ω,
/// value from memory]
const ALUMINIUM: f64 = 3.18 / 1.93;

/// From a gauge to the next thicker one the area grows by this. [pub: ASTM B258, value from memory]
fn step() -> f64 {
    92f64.powf(2.0 / 39.0)
}

/// The resistance of a conductor, one way. Sizes between the table's follow from the area of their wire.
#[must_use]
pub fn of_wire(wire: Gauge, metal: Metal, length: Feet) -> Ohms {
    let number = f64::from(wire.number());
    let away = |(listed, _): &&(i8, f64)| (f64::from(*listed) - number).abs();
    let nearest = COPPER.iter().min_by(|a, b| away(a).total_cmp(&away(b)));
    let of_copper = nearest.map_or(0.0, |(listed, ohms)| ohms * step().powf(number - f64::from(*listed)));
    let ohms = if metal == Metal::Aluminium { of_copper * ALUMINIUM } else { of_copper };
    Ohms(ohms * length.0 / 1000.0)
}

#[cfg(test)]
mod tests {
    use super::*;

    fn ohms(wire: &str, metal: Metal) -> f64 {
        of_wire(wire.parse().unwrap(), metal, Feet(1000.0)).0
    }

    // ASTM B258: area from the gauge number; a resistivity of 0.0209 Ω·mm²/m is that of copper at 75 °C (0.01724 at 20 °C,
    // 0.393 % a kelvin). Stranded wires of the table resist up to 2 % more than solid ones.
    #[test]
    fn the_table_follows_from_the_area_of_the_wire() {
        let resistivity = 0.01724 * (1.0 + 0.00393 * 55.0);
        for number in -3..=14 {
            let wire = Gauge::new(number).unwrap();
            let diameter = 0.127 * 92f64.powf((36.0 - f64::from(number)) / 39.0);
            let area = std::f64::consts::FRAC_PI_4 * diameter * diameter;
            let expected = resistivity / area * 304.8;
            let told = of_wire(wire, Metal::Copper, Feet(1000.0)).0;
            assert!((told / expected - 1.0).abs() < 0.03, "{wire}: {told} against {expected}");
        }
    }

    #[test]
    fn sizes_of_the_table_are_told_as_they_stand_there() {
        assert_eq!((ohms("14", Metal::Copper), ohms("4/0", Metal::Copper)), (3.07, 0.0608));
        assert!((ohms("12", Metal::Aluminium) - 3.18).abs() < 1e-9);
        assert!(
            ohms("3", Metal::Copper) > ohms("2", Metal::Copper) && ohms("3", Metal::Copper) < ohms("4", Metal::Copper)
        );
        assert_eq!(of_wire("12".parse().unwrap(), Metal::Copper, Feet(50.0)).0, 1.93 / 20.0);
    }
}
