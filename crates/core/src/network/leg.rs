//! The current of a leg from what takes it to the neutral and to other legs.

use crate::base::position::{Leg, Supply};

/// What takes a leg's current, with where it goes: to the neutral, or to other legs.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Taken<'a> {
    /// The current.
    pub amps: f64,
    /// All the legs that it takes; one alone goes to the neutral.
    pub legs: &'a [Leg],
}

/// The current in a leg, of what takes it all in phase with its voltage [def: currents add as phasors]. What goes from leg to leg on a
/// wye stands 30 degrees from what goes to the neutral, so that it comes to less than the plain sum; on split phase to just that.
#[must_use]
pub fn leg_of(supply: Supply, leg: Leg, all: &[Taken<'_>]) -> f64 {
    let (mut x, mut y) = (0.0, 0.0);
    for taken in all.iter().filter(|taken| taken.legs.contains(&leg)) {
        let (dx, dy) = match taken.legs {
            // Three legs carry alike, each in phase with its own.
            [_] | [_, _, _] => direction(supply, leg),
            _ => {
                let other = taken.legs.iter().find(|other| **other != leg).copied().unwrap_or(leg);
                let ((ax, ay), (bx, by)) = (direction(supply, leg), direction(supply, other));
                let length = (ax - bx).hypot(ay - by);
                ((ax - bx) / length, (ay - by) / length)
            }
        };
        x += taken.amps * dx;
        y += taken.amps * dy;
    }
    f64::hypot(x, y)
}

fn direction(supply: Supply, leg: Leg) -> (f64, f64) {
    let degrees = match (supply, leg) {
        (_, Leg::A) => 0.0,
        (Supply::SplitPhase, _) => 180.0,
        (_, Leg::B) => -120.0,
        (_, Leg::C) => 120.0,
    };
    let angle = f64::to_radians(degrees);
    (angle.cos(), angle.sin())
}

#[cfg(test)]
mod tests {
    use super::*;

    fn on(supply: Supply, all: &[(f64, &[Leg])]) -> f64 {
        let taken: Vec<Taken<'_>> = all.iter().map(|(amps, legs)| Taken { amps: *amps, legs }).collect();
        leg_of(supply, Leg::A, &taken)
    }

    // By the law of cosines [def]: 20 A to the neutral and 20 A to leg B, 30 degrees apart: √(20² + 20² + 2·20·20·cos 30°) = 38.64.
    #[test]
    fn currents_of_a_wye_add_as_phasors() {
        let (a, ab, abc) = (&[Leg::A][..], &[Leg::A, Leg::B][..], &[Leg::A, Leg::B, Leg::C][..]);
        assert!((on(Supply::WyeThreePhase, &[(20.0, a), (20.0, ab)]) - 38.637).abs() < 1e-3);
        // To B and to C, sixty degrees apart.
        let ac = &[Leg::A, Leg::C][..];
        assert!((on(Supply::WyeThreePhase, &[(10.0, ab), (10.0, ac)]) - 17.3205).abs() < 1e-3);
        assert!((on(Supply::WyeThreePhase, &[(10.0, abc), (5.0, a)]) - 15.0).abs() < 1e-9);
        assert!(
            (on(Supply::SplitPhase, &[(20.0, a), (20.0, ab)]) - 40.0).abs() < 1e-9,
            "legs of split phase are opposite"
        );
        assert_eq!(on(Supply::SplitPhase, &[(9.0, &[Leg::B])]), 0.0);
    }
}
