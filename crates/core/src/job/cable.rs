//! The conductors of a cable, by what each is: named once, for the record, the steps and the pictures alike.

use crate::house::{Circuit, Colour};

/// What becomes of the insulated conductors of a cable at its breaker.
#[derive(Debug, Clone, PartialEq, Eq)]
pub(super) struct Cable {
    /// Hots, in the order of the poles; none where nobody looked which they are.
    pub hots: Vec<Colour>,
    /// The white is the neutral.
    pub neutral: bool,
    /// What is not used: capped at both ends.
    pub spare: Option<Colour>,
}

impl Cable {
    /// A new one, as sold: black and white; black, red and white; black, red and blue, with white where it is wanted.
    pub(super) fn new(poles: usize, neutral: bool) -> Self {
        let hots = match (poles, neutral) {
            (0 | 1, _) => vec![Colour::Black],
            (2, true) => vec![Colour::Black, Colour::Red],
            (2, false) => vec![Colour::Black, Colour::WhiteMarked],
            _ => vec![Colour::Black, Colour::Red, Colour::Blue],
        };
        Self { hots, neutral: neutral || poles < 2, spare: None }
    }

    /// How many insulated conductors it has, as its name says: 2 in `14-2`.
    pub(super) fn conductors(&self) -> u8 {
        let all = self.hots.len() + usize::from(self.neutral) + usize::from(self.spare.is_some());
        u8::try_from(all).unwrap_or(u8::MAX)
    }

    /// What those of a circuit become, where it goes from one leg to two without a neutral, or back to one. The white of a cable of
    /// two becomes the second hot, marked; in one of three the red is there for that, and the white is not used.
    /// [pub: NEC 200.6(A), 200.7(C)(1), value from memory]
    pub(super) fn converted(circuit: &Circuit, two_legs: bool) -> Self {
        let of_three = circuit.conductors == Some(3);
        let dark = circuit.colours.iter().copied().find(|c| !is_white(*c));
        let second = if of_three { Colour::Red } else { Colour::WhiteMarked };
        let hots = match dark {
            None => Vec::new(),
            Some(dark) if two_legs => vec![dark, second],
            Some(dark) => vec![dark],
        };
        let spare = of_three.then_some(if two_legs { Colour::White } else { Colour::Red });
        Self { hots, neutral: !two_legs, spare }
    }
}

/// White, marked or not: what may be a neutral.
pub(super) fn is_white(colour: Colour) -> bool {
    matches!(colour, Colour::White | Colour::WhiteMarked)
}

/// In a word.
pub(super) fn named(colour: Colour) -> &'static str {
    match colour {
        Colour::Black => "black",
        Colour::Red => "red",
        Colour::Blue => "blue",
        Colour::White => "white",
        Colour::WhiteMarked => "white, marked as hot",
        Colour::Other => "coloured",
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::house::{BreakerId, CircuitId};

    // NEC 200.6, 200.7(C)(1), from memory; common practice: what is not used is capped at both ends.
    #[test]
    fn every_conductor_of_a_cable_is_accounted_for() {
        let of = |conductors| Circuit {
            conductors: Some(conductors),
            colours: vec![Colour::Black],
            ..Circuit::new(CircuitId(1), BreakerId(1))
        };
        for conductors in [2, 3] {
            for two_legs in [true, false] {
                let cable = Cable::converted(&of(conductors), two_legs);
                assert_eq!((cable.conductors(), cable.hots.len()), (conductors, if two_legs { 2 } else { 1 }));
                assert!(two_legs || cable.neutral, "120 V takes a neutral");
            }
        }
        assert_eq!(Cable::converted(&of(2), true).hots, [Colour::Black, Colour::WhiteMarked]);
        assert_eq!(Cable::converted(&of(3), true).spare, Some(Colour::White), "not marked as hot beside a red");
        assert_eq!((Cable::new(3, false).conductors(), Cable::new(3, true).conductors()), (3, 4));
        assert_eq!((Cable::new(2, true).conductors(), Cable::new(1, false).conductors()), (3, 2));
    }
}
