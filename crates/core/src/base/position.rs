//! Where a pole stands in a panel, and which leg it gets from there.
//!
//! Source of the leg rules: physics of a bus whose fingers alternate by row (handbook 1.2).

use std::fmt;
use std::str::FromStr;

use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

use crate::base::said;

/// Which part of a space a pole takes.
#[derive(Debug, Clone, Copy, PartialEq, Eq, PartialOrd, Ord, Hash)]
pub enum Half {
    /// The whole space: a full-size pole.
    Whole,
    /// The upper half, written `a`.
    Upper,
    /// The lower half, written `b`.
    Lower,
}

/// A numbered space, or one half of it. WrittenPole `5`, `5a`, `5b`.
#[derive(Debug, Clone, Copy, PartialEq, Eq, PartialOrd, Ord, Hash, Serialize, Deserialize)]
#[serde(try_from = "WrittenPole", into = "String")]
pub struct Position {
    /// The number engraved beside the space, from 1.
    pub space: u16,
    /// The part of the space taken.
    pub half: Half,
}

impl Position {
    /// A whole space.
    #[must_use]
    pub fn whole(space: u16) -> Self {
        Self { space, half: Half::Whole }
    }

    /// True where the other place is this one or a half of it.
    #[must_use]
    pub fn covers(self, other: Self) -> bool {
        self.space == other.space && (self.half == other.half || self.half == Half::Whole)
    }

    /// The other half of the same space; the space itself for a whole one.
    #[must_use]
    pub fn other_half(self) -> Self {
        let half = match self.half {
            Half::Whole => Half::Whole,
            Half::Upper => Half::Lower,
            Half::Lower => Half::Upper,
        };
        Self { half, ..self }
    }

    /// True when two poles cannot stand there together.
    #[must_use]
    pub fn overlaps(self, other: Self) -> bool {
        self.space == other.space && (self.half == other.half || self.half == Half::Whole || other.half == Half::Whole)
    }
}

impl fmt::Display for Position {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        let half = match self.half {
            Half::Whole => "",
            Half::Upper => "a",
            Half::Lower => "b",
        };
        write!(f, "{}{half}", self.space)
    }
}

/// What is wrong with a written position.
#[derive(Debug, Clone, PartialEq, Eq, thiserror::Error)]
#[error("\"{0}\" is not a position; write 5, 5a or 5b, and the poles of one breaker as 5-7")]
pub struct BadPosition(String);

impl FromStr for Position {
    type Err = BadPosition;

    fn from_str(text: &str) -> Result<Self, BadPosition> {
        let bad = || BadPosition(text.to_owned());
        let trimmed = text.trim().to_ascii_lowercase();
        let (digits, half) = match trimmed.strip_suffix(['a', 'b']) {
            Some(digits) if trimmed.ends_with('a') => (digits, Half::Upper),
            Some(digits) => (digits, Half::Lower),
            None => (trimmed.as_str(), Half::Whole),
        };
        // `parse` would take a sign, which no panel has engraved.
        if !digits.bytes().all(|b| b.is_ascii_digit()) {
            return Err(bad());
        }
        match digits.parse::<u16>() {
            Ok(space) if space > 0 => Ok(Self { space, half }),
            _ => Err(bad()),
        }
    }
}

/// A position as files write it: as text, or a whole space as its number.
#[derive(Deserialize)]
#[serde(untagged, expecting = "a position is written 5, 5a or 5b")]
enum WrittenPole {
    Text(String),
    Number(u16),
}

impl TryFrom<WrittenPole> for Position {
    type Error = BadPosition;

    fn try_from(written: WrittenPole) -> Result<Self, BadPosition> {
        match written {
            WrittenPole::Text(text) => text.parse(),
            WrittenPole::Number(0) => Err(BadPosition("0".into())),
            WrittenPole::Number(space) => Ok(Self::whole(space)),
        }
    }
}

impl From<Position> for String {
    fn from(position: Position) -> Self {
        position.to_string()
    }
}

/// Reads the poles of one breaker: `5`, `5-7`, `1b-3a`, `1-3-5`.
///
/// # Errors
/// Where a part is not a position.
pub fn parse_poles(text: &str) -> Result<Vec<Position>, BadPosition> {
    text.split('-').map(|part| part.parse().map_err(|_| BadPosition(text.to_owned()))).collect()
}

/// Writes the poles of one breaker as [`parse_poles`] reads them.
#[must_use]
pub fn format_poles(poles: &[Position]) -> String {
    poles.iter().map(ToString::to_string).collect::<Vec<_>>().join("-")
}

/// How the spaces are numbered. Follow what is engraved.
#[derive(Debug, Clone, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
#[serde(rename_all = "kebab-case")]
pub enum Numbering {
    /// Odd numbers down the left, even numbers down the right.
    OddEven,
    /// Straight down the left column, then down the right.
    Columns,
    /// A number of its own for each space: down the left column, then down the right.
    Custom(Vec<u16>),
}

/// The left or the right column of a panel.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
#[serde(rename_all = "kebab-case")]
pub enum Column {
    /// Left.
    Left,
    /// Right.
    Right,
}

impl Numbering {
    /// Column and row (from 0, at the top) of a number in a panel with `spaces` spaces, where it has that number.
    #[must_use]
    pub fn place(&self, space: u16, spaces: u16) -> Option<(Column, u16)> {
        let left = spaces.div_ceil(2);
        let down = |nth: u16| if nth < left { (Column::Left, nth) } else { (Column::Right, nth - left) };
        match self {
            Self::Custom(engraved) => {
                let nth = engraved.iter().position(|n| *n == space)?;
                u16::try_from(nth).ok().map(down)
            }
            _ if space == 0 || space > spaces => None,
            Self::OddEven if space % 2 == 1 => Some((Column::Left, (space - 1) / 2)),
            Self::OddEven => Some((Column::Right, (space - 1) / 2)),
            Self::Columns => Some(down(space - 1)),
        }
    }

    /// The number engraved at a place, where there is a space.
    #[must_use]
    pub fn number(&self, column: Column, row: u16, spaces: u16) -> Option<u16> {
        let left = spaces.div_ceil(2);
        let rows = if column == Column::Left { left } else { spaces - left };
        if row >= rows {
            return None;
        }
        let nth = if column == Column::Left { row } else { left + row };
        match self {
            Self::OddEven if column == Column::Left => Some(2 * row + 1),
            Self::OddEven => Some(2 * row + 2),
            Self::Columns => Some(nth + 1),
            Self::Custom(engraved) => engraved.get(usize::from(nth)).copied(),
        }
    }
}

/// What kind of supply feeds a panel.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
pub enum Supply {
    /// 120/240 V, two legs half a turn apart.
    #[serde(rename = "split-phase")]
    SplitPhase,
    /// 208Y/120 V, two legs of a three-phase wye, met in flats.
    #[serde(rename = "wye-1ph")]
    WyeTwoLegs,
    /// 208Y/120 V, all three legs.
    #[serde(rename = "wye-3ph")]
    WyeThreePhase,
}

impl Supply {
    /// How many hot legs the bus has.
    #[must_use]
    pub fn legs(self) -> u16 {
        match self {
            Self::SplitPhase | Self::WyeTwoLegs => 2,
            Self::WyeThreePhase => 3,
        }
    }

    /// Volts between two of its legs. [def: opposite legs of 120 V, or 120 V times the root of 3]
    #[must_use]
    pub fn across(self) -> u16 {
        match self {
            Self::SplitPhase => 240,
            Self::WyeTwoLegs | Self::WyeThreePhase => 208,
        }
    }
}

/// A hot leg of the supply. Derived from the position, never stored.
#[derive(Debug, Clone, Copy, PartialEq, Eq, PartialOrd, Ord, Serialize, Deserialize, ToSchema)]
pub enum Leg {
    /// First leg.
    A,
    /// Second leg.
    B,
    /// Third leg, only in a three-phase panel.
    C,
}

said!(Leg { A => "A", B => "B", C => "C" });

impl Leg {
    /// The leg of a row (from 0): legs alternate down the bus.
    #[must_use]
    pub fn of_row(row: u16, supply: Supply) -> Self {
        match row % supply.legs() {
            0 => Self::A,
            1 => Self::B,
            _ => Self::C,
        }
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    fn legs(supply: Supply, numbering: &Numbering, spaces: u16) -> String {
        (1..=spaces)
            .map(|s| format!("{:?}", Leg::of_row(numbering.place(s, spaces).unwrap().1, supply)))
            .collect::<Vec<_>>()
            .concat()
    }

    // Definition: legs alternate by row (handbook 1.2); the strings are written out by hand from a drawn panel.
    #[test]
    fn legs_alternate_by_row_for_every_supply_and_numbering() {
        assert_eq!(legs(Supply::SplitPhase, &Numbering::OddEven, 12), "AABBAABBAABB");
        assert_eq!(legs(Supply::WyeTwoLegs, &Numbering::OddEven, 12), "AABBAABBAABB");
        assert_eq!(legs(Supply::WyeThreePhase, &Numbering::OddEven, 12), "AABBCCAABBCC");
        assert_eq!(legs(Supply::SplitPhase, &Numbering::Columns, 12), "ABABABABABAB");
        assert_eq!(legs(Supply::SplitPhase, &Numbering::Columns, 10), "ABABAABABA");
        assert_eq!(legs(Supply::WyeTwoLegs, &Numbering::Columns, 8), "ABABABAB");
        assert_eq!(legs(Supply::WyeThreePhase, &Numbering::Columns, 12), "ABCABCABCABC");
    }

    // handbook 1.2 [def]: in three phase, n divisible by 6, and n−1, is leg C.
    #[test]
    fn in_three_phase_multiples_of_six_are_leg_c() {
        for n in (6..=42).step_by(6) {
            for space in [n - 1, n] {
                let row = Numbering::OddEven.place(space, 42).unwrap().1;
                assert_eq!(Leg::of_row(row, Supply::WyeThreePhase), Leg::C, "space {space}");
            }
        }
    }

    #[test]
    fn numbers_and_places_are_two_ways_to_say_the_same() {
        let engraved = Numbering::Custom(vec![10, 11, 12, 40, 41]);
        for (numbering, spaces) in
            [(Numbering::OddEven, 20), (Numbering::Columns, 20), (Numbering::OddEven, 7), (engraved, 5)]
        {
            let columns = [Column::Left, Column::Right];
            let places = columns.iter().flat_map(|c| (0..spaces).map(move |row| (*c, row)));
            let found: Vec<_> =
                places.filter_map(|(c, row)| Some((numbering.number(c, row, spaces)?, (c, row)))).collect();
            assert_eq!(found.len(), usize::from(spaces), "{numbering:?}");
            for (number, place) in found {
                assert_eq!(numbering.place(number, spaces), Some(place), "{numbering:?} {number}");
            }
            assert_eq!(numbering.place(0, spaces), None);
            assert_eq!(numbering.place(99, spaces), None);
        }
    }

    #[test]
    fn positions_read_as_they_are_written() {
        for text in ["5", "5a", "5b", "5-7", "1b-3a", "1-3-5", "1a"] {
            assert_eq!(format_poles(&parse_poles(text).unwrap()), text);
        }
        for text in ["", "0", "a", "5c", "-5", "5-", "+5", "5.5", "99999"] {
            assert!(parse_poles(text).is_err(), "{text}");
        }
    }

    #[test]
    fn halves_of_one_space_do_not_overlap_but_the_whole_overlaps_both() {
        let p = |t: &str| t.parse::<Position>().unwrap();
        assert!(!p("5a").overlaps(p("5b")));
        assert!(p("5").overlaps(p("5b")) && p("5a").overlaps(p("5")) && p("5a").overlaps(p("5a")));
        assert!(!p("5").overlaps(p("7")));
    }
}
