//! Currents of neutrals from those of the legs.

use crate::base::position::Supply;

/// Current in a neutral from what goes out on each leg to it (handbook 1.3 [def]): the difference on split phase, on a wye
/// √(a² + b² + c² − ab − bc − ca), legs that are missing being nothing.
#[must_use]
pub fn neutral_of(supply: Supply, legs: &[f64]) -> f64 {
    let leg = |n: usize| legs.get(n).copied().unwrap_or(0.0);
    let (a, b, c) = (leg(0), leg(1), leg(2));
    match supply {
        Supply::SplitPhase => (a - b).abs(),
        Supply::WyeTwoLegs | Supply::WyeThreePhase => (a * a + b * b + c * c - a * b - b * c - c * a).max(0.0).sqrt(),
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    // handbook 1.3 [def]: summed by hand for these.
    #[test]
    fn neutral_currents_by_supply() {
        assert_eq!(neutral_of(Supply::SplitPhase, &[12.0, 9.0]), 3.0);
        assert!((neutral_of(Supply::WyeTwoLegs, &[10.0, 10.0]) - 10.0).abs() < 1e-9);
        assert!((neutral_of(Supply::WyeTwoLegs, &[12.0, 9.0]) - 117.0_f64.sqrt()).abs() < 1e-9);
        assert_eq!(neutral_of(Supply::WyeThreePhase, &[10.0, 10.0, 10.0]), 0.0);
        assert!((neutral_of(Supply::WyeThreePhase, &[15.0, 10.0, 5.0]) - 75.0_f64.sqrt()).abs() < 1e-9);
    }

    // The same against phasors summed as complex numbers: an independent way to the same figures.
    #[test]
    fn neutral_currents_are_phasor_sums() {
        let sum = |parts: &[(f64, f64)]| {
            let (x, y) = parts.iter().fold((0.0, 0.0), |(x, y), (i, deg)| {
                let angle = f64::to_radians(*deg);
                (x + i * angle.cos(), y + i * angle.sin())
            });
            f64::hypot(x, y)
        };
        for (a, b, c) in [(3.0, 15.0, 8.0), (20.0, 0.0, 1.0), (7.5, 7.5, 0.0)] {
            let three = sum(&[(a, 0.0), (b, 120.0), (c, 240.0)]);
            assert!((neutral_of(Supply::WyeThreePhase, &[a, b, c]) - three).abs() < 1e-9);
            let split = sum(&[(a, 0.0), (b, 180.0)]);
            assert!((neutral_of(Supply::SplitPhase, &[a, b]) - split).abs() < 1e-9);
            let wye = sum(&[(a, 0.0), (b, 120.0)]);
            assert!((neutral_of(Supply::WyeTwoLegs, &[a, b]) - wye).abs() < 1e-9);
        }
    }
}
