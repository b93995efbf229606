//! Numbers as people type and say them, with the unit where they write one: `12.4`, `7 kW`, `3,5 m`, `1/2 hp`, `1,234.5`,
//! `twelve point four amps`. The one reader for the pages, the command line and the files.
//!
//! What could be either of two numbers is not guessed: in `9,600` the comma may part the thousands or begin the decimals.

use serde::{Deserialize, Serialize};
use text2num::{Language, replace_numbers_in_text};
use utoipa::ToSchema;

use crate::base::units::INCHES_PER_METRE;

/// What a number is asked in.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
pub enum Unit {
    /// Amperes.
    A,
    /// Volts.
    V,
    /// Watts.
    W,
    /// Volt-amperes.
    #[serde(rename = "VA")]
    Va,
    /// Watt-hours.
    Wh,
    /// Horsepower.
    #[serde(rename = "hp")]
    Hp,
    /// Feet.
    #[serde(rename = "ft")]
    Ft,
    /// Inches.
    #[serde(rename = "in")]
    In,
    /// Square feet.
    #[serde(rename = "ft2")]
    Ft2,
    /// Square metres.
    #[serde(rename = "m2")]
    M2,
    /// Degrees Celsius.
    #[serde(rename = "°C")]
    Celsius,
    /// Inch-pounds.
    #[serde(rename = "in-lb")]
    InLb,
    /// A count: spaces, poles, wires.
    #[serde(rename = "count")]
    Count,
    /// What something costs, in whatever money somebody counts.
    #[serde(rename = "money")]
    Money,
}

impl Unit {
    /// All of them.
    pub const ALL: [Self; 14] = [
        Self::A,
        Self::V,
        Self::W,
        Self::Va,
        Self::Wh,
        Self::Hp,
        Self::Ft,
        Self::In,
        Self::Ft2,
        Self::M2,
        Self::Celsius,
        Self::InLb,
        Self::Count,
        Self::Money,
    ];

    /// As it is written after a number; nothing for a count.
    #[must_use]
    pub fn sign(self) -> &'static str {
        match self {
            Self::A => "A",
            Self::V => "V",
            Self::W => "W",
            Self::Va => "VA",
            Self::Wh => "Wh",
            Self::Hp => "hp",
            Self::Ft => "ft",
            Self::In => "in",
            Self::Ft2 => "ft²",
            Self::M2 => "m²",
            Self::Celsius => "°C",
            Self::InLb => "in-lb",
            Self::Count | Self::Money => "",
        }
    }

    /// Only these are ever written with parted thousands: a point before three digits may part them too.
    fn by_thousands(self) -> bool {
        matches!(self, Self::W | Self::Va | Self::Wh | Self::Ft2 | Self::Count | Self::Money)
    }

    /// What may be below nothing: a temperature, and power that flows back.
    fn below_nothing(self) -> bool {
        matches!(self, Self::Celsius | Self::W)
    }

    /// One of another unit of the same quantity in this one; nothing where they are not the same quantity.
    fn factor(self, typed: Typed) -> Option<f64> {
        match (self, typed) {
            (Self::In, Typed::Metres(m)) => Some(m * INCHES_PER_METRE),
            (Self::Ft, Typed::Metres(m)) => Some(m * INCHES_PER_METRE / 12.0),
            (Self::In, Typed::Of(Self::Ft, k)) => Some(k * 12.0),
            (Self::Ft, Typed::Of(Self::In, k)) => Some(k / 12.0),
            (Self::Ft2, Typed::Of(Self::M2, k)) => Some(k * (INCHES_PER_METRE / 12.0).powi(2)),
            (Self::M2, Typed::Of(Self::Ft2, k)) => Some(k / (INCHES_PER_METRE / 12.0).powi(2)),
            (own, Typed::Of(unit, k)) => (own == unit).then_some(k),
            _ => None,
        }
    }

    fn example(self) -> &'static str {
        match self {
            Self::Count => "20",
            Self::V => "119.5",
            Self::Ft | Self::In => "12 1/2",
            Self::Hp => "3/4",
            Self::W | Self::Va => "1500",
            _ => "12.5",
        }
    }
}

/// A unit that was written: so many of one of ours, or metres, which are asked for nowhere.
#[derive(Debug, Clone, Copy, PartialEq)]
enum Typed {
    Of(Unit, f64),
    Metres(f64),
}

/// Words of units, longest first where one ends like another.
const UNITS: &[(&str, Typed)] = &[
    ("milliamps", Typed::Of(Unit::A, 0.001)),
    ("ma", Typed::Of(Unit::A, 0.001)),
    ("amperes", Typed::Of(Unit::A, 1.0)),
    ("ampere", Typed::Of(Unit::A, 1.0)),
    ("amps", Typed::Of(Unit::A, 1.0)),
    ("amp", Typed::Of(Unit::A, 1.0)),
    ("kva", Typed::Of(Unit::Va, 1000.0)),
    ("va", Typed::Of(Unit::Va, 1.0)),
    ("a", Typed::Of(Unit::A, 1.0)),
    ("kv", Typed::Of(Unit::V, 1000.0)),
    ("volts", Typed::Of(Unit::V, 1.0)),
    ("volt", Typed::Of(Unit::V, 1.0)),
    ("v", Typed::Of(Unit::V, 1.0)),
    ("kilowatt hours", Typed::Of(Unit::Wh, 1000.0)),
    ("kwh", Typed::Of(Unit::Wh, 1000.0)),
    ("wh", Typed::Of(Unit::Wh, 1.0)),
    ("kilowatts", Typed::Of(Unit::W, 1000.0)),
    ("kilowatt", Typed::Of(Unit::W, 1000.0)),
    ("watts", Typed::Of(Unit::W, 1.0)),
    ("watt", Typed::Of(Unit::W, 1.0)),
    ("kw", Typed::Of(Unit::W, 1000.0)),
    ("w", Typed::Of(Unit::W, 1.0)),
    ("horsepower", Typed::Of(Unit::Hp, 1.0)),
    ("hp", Typed::Of(Unit::Hp, 1.0)),
    ("square feet", Typed::Of(Unit::Ft2, 1.0)),
    ("sq ft", Typed::Of(Unit::Ft2, 1.0)),
    ("ft²", Typed::Of(Unit::Ft2, 1.0)),
    ("ft2", Typed::Of(Unit::Ft2, 1.0)),
    ("m²", Typed::Of(Unit::M2, 1.0)),
    ("m2", Typed::Of(Unit::M2, 1.0)),
    // 1 lbf·in is 0.112985 N·m (definition of the pound-force).
    ("in-lb", Typed::Of(Unit::InLb, 1.0)),
    ("in lb", Typed::Of(Unit::InLb, 1.0)),
    ("ft-lb", Typed::Of(Unit::InLb, 12.0)),
    ("ft lb", Typed::Of(Unit::InLb, 12.0)),
    ("n·m", Typed::Of(Unit::InLb, 1.0 / 0.112_985)),
    ("nm", Typed::Of(Unit::InLb, 1.0 / 0.112_985)),
    ("°c", Typed::Of(Unit::Celsius, 1.0)),
    ("inches", Typed::Of(Unit::In, 1.0)),
    ("inch", Typed::Of(Unit::In, 1.0)),
    ("feet", Typed::Of(Unit::Ft, 1.0)),
    ("foot", Typed::Of(Unit::Ft, 1.0)),
    ("metres", Typed::Metres(1.0)),
    ("meters", Typed::Metres(1.0)),
    ("in", Typed::Of(Unit::In, 1.0)),
    ("\"", Typed::Of(Unit::In, 1.0)),
    ("ft", Typed::Of(Unit::Ft, 1.0)),
    ("'", Typed::Of(Unit::Ft, 1.0)),
    ("mm", Typed::Metres(0.001)),
    ("cm", Typed::Metres(0.01)),
    ("m", Typed::Metres(1.0)),
    ("c", Typed::Of(Unit::Celsius, 1.0)),
    ("spaces", Typed::Of(Unit::Count, 1.0)),
    ("poles", Typed::Of(Unit::Count, 1.0)),
];

/// A number that was read, in which of the units it was asked in.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, ToSchema)]
pub struct Number {
    /// The number, in the unit.
    pub value: f64,
    /// The unit that was written, or the first that was asked for.
    pub unit: Unit,
}

impl std::fmt::Display for Number {
    fn fmt(&self, f: &mut std::fmt::Formatter<'_>) -> std::fmt::Result {
        write!(f, "{} {}", self.value, self.unit.sign())
    }
}

/// Why what was written is not taken as a number.
#[derive(Debug, Clone, PartialEq, thiserror::Error)]
pub enum Unread {
    /// It is none.
    #[error("\"{text}\" is not a number: write one like {}, in {}", .unit.example(), asked(*.unit))]
    NoNumber {
        /// What was written.
        text: String,
        /// What was asked for.
        unit: Unit,
    },
    /// It could be either of two.
    #[error("\"{text}\" may be {} or {}: which is it?", .ways[0], .ways[1])]
    TwoWays {
        /// What was written.
        text: String,
        /// With the thousands parted, and with decimals.
        ways: [Number; 2],
    },
    /// It is in a unit of something else.
    #[error("\"{text}\" is a number of something else: {} are asked for here", asked(*.unit))]
    OtherUnit {
        /// What was written.
        text: String,
        /// What was asked for.
        unit: Unit,
    },
    /// It is below nothing where that cannot be.
    #[error("\"{text}\" is below 0, and {} are never that", asked(*.unit))]
    Below {
        /// What was written.
        text: String,
        /// What was asked for.
        unit: Unit,
    },
}

fn asked(unit: Unit) -> &'static str {
    match unit {
        Unit::Count => "whole numbers",
        Unit::Money => "money",
        _ => unit.sign(),
    }
}

/// Who wrote a number: it decides what a point before three digits means.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum Written {
    /// A person: `9.600` may be nine thousand six hundred.
    ByHand,
    /// A program, or a person in a file whose format says that the point begins the decimals.
    InAFile,
}

/// Reads a number. Without a unit it is in the first of those asked for.
///
/// # Errors
/// [`Unread`]: no number, either of two, one of something else, below nothing.
pub fn read(text: &str, units: &[Unit], written: Written) -> Result<Number, Unread> {
    let own = units.first().copied().unwrap_or(Unit::Count);
    let text = text.trim();
    let plain = text.to_lowercase().replace(['′', '’'], "'").replace(['″', '”', '“'], "\"").replace(['−', '–'], "-");
    let none = || Unread::NoNumber { text: text.to_owned(), unit: own };
    let (numeral, typed) = apart(&plain);
    let (unit, factor) = match typed {
        None => (own, 1.0),
        Some(typed) => units
            .iter()
            .find_map(|unit| unit.factor(typed).map(|k| (*unit, k)))
            .ok_or_else(|| Unread::OtherUnit { text: text.to_owned(), unit: own })?,
    };
    let number = |value: f64| Number { value: tidy(value * factor), unit };
    let read = match numeral_of(numeral, unit.by_thousands() && written == Written::ByHand).ok_or_else(none)? {
        Numeral::One(value) => number(value),
        Numeral::Either(ways) => {
            return Err(Unread::TwoWays { text: text.to_owned(), ways: ways.map(number) });
        }
    };
    if read.value < 0.0 && !unit.below_nothing() {
        return Err(Unread::Below { text: text.to_owned(), unit });
    }
    if unit == Unit::Count && read.value.fract() != 0.0 {
        return Err(none());
    }
    Ok(read)
}

/// What a factor leaves beyond the twelfth digit is rounding.
fn tidy(value: f64) -> f64 {
    format!("{value:.12e}").parse().unwrap_or(value)
}

/// The numeral, and the unit behind it.
fn apart(plain: &str) -> (&str, Option<Typed>) {
    for (word, typed) in UNITS {
        let Some(rest) = plain.strip_suffix(word) else {
            continue;
        };
        // "twelve a" and "12a", but not the end of a word: "seven" is no "seve" of "n".
        if rest.ends_with(|c: char| !c.is_alphabetic()) && !rest.trim().is_empty() {
            return (rest.trim_end(), Some(*typed));
        }
    }
    (plain, None)
}

/// A numeral by itself.
#[derive(Debug, Clone, Copy, PartialEq)]
pub(super) enum Numeral {
    /// It can be this alone.
    One(f64),
    /// With the thousands parted, or with decimals.
    Either([f64; 2]),
}

impl Numeral {
    pub(super) fn times(self, factor: f64) -> Self {
        match self {
            Self::One(value) => Self::One(value * factor),
            Self::Either(ways) => Self::Either(ways.map(|way| way * factor)),
        }
    }
}

/// Reads a numeral without its unit; nothing where it is none. `points`: a point before three digits may part thousands.
pub(super) fn numeral_of(text: &str, points: bool) -> Option<Numeral> {
    let text = text.trim();
    let said;
    let text = if text.contains(char::is_alphabetic) {
        let counted = text.strip_prefix("a ").map_or_else(|| text.to_owned(), |rest| format!("one {rest}"));
        said = replace_numbers_in_text(&counted, &Language::english(), 0.0);
        if said.contains(char::is_alphabetic) {
            return None;
        }
        said.as_str()
    } else {
        text
    };
    let (sign, digits) = text.strip_prefix('-').map_or((1.0, text), |rest| (-1.0, rest.trim_start()));
    let read = match fraction(digits) {
        Some(value) => Numeral::One(value),
        None => figures(digits, points)?,
    };
    Some(read.times(sign))
}

/// As a tape measure or a motor's plate shows it: `1/2`, `4 1/4`, `4-1/4`.
fn fraction(text: &str) -> Option<f64> {
    let (top, bottom) = text.rsplit_once('/')?;
    let (whole, top) = top.trim_end().rsplit_once([' ', '-']).unwrap_or(("0", top));
    let whole_number = |s: &str| s.trim().parse::<u32>().ok().map(f64::from);
    let bottom = whole_number(bottom).filter(|b| *b > 0.0)?;
    Some(whole_number(whole)? + whole_number(top)? / bottom)
}

/// Digits with points and commas: `1234`, `12.5`, `3,5`, `1,234.5`, `1.234,5`, `12 500`.
fn figures(text: &str, points: bool) -> Option<Numeral> {
    let parts: Vec<&str> = text.split(|c: char| !c.is_ascii_digit()).collect();
    let marks: Vec<char> = text.chars().filter(|c| !c.is_ascii_digit()).collect();
    match (&marks[..], &parts[..]) {
        ([], _) => text.parse().ok().map(Numeral::One),
        ([mark @ ('.' | ',')], [before, after]) => {
            let decimal = format!("{before}.{after}").parse().ok()?;
            let parted = parts_thousands(&parts) && !before.starts_with('0') && (*mark == ',' || points);
            Some(if parted { Numeral::Either([parts.concat().parse().ok()?, decimal]) } else { Numeral::One(decimal) })
        }
        ([others @ .., last], [groups @ .., decimals]) => {
            // A last mark that differs from those before begins the decimals.
            let ends = ['.', ','].contains(last) && !others.is_empty() && !others.contains(last);
            let (marks, groups, decimals) =
                if ends { (others, groups, *decimals) } else { (&marks[..], &parts[..], "0") };
            let alike = marks.iter().all(|mark| *mark == marks[0] && is_mark(*mark));
            (alike && parts_thousands(groups))
                .then(|| format!("{}.{decimals}", groups.concat()).parse().ok().map(Numeral::One))?
        }
        _ => None,
    }
}

/// Three digits a group, but the first.
fn parts_thousands(groups: &[&str]) -> bool {
    groups.split_first().is_some_and(|(head, rest)| (1..=3).contains(&head.len()) && rest.iter().all(|g| g.len() == 3))
}

/// What may part thousands.
fn is_mark(mark: char) -> bool {
    ['.', ',', ' ', '\u{a0}', '\u{202f}'].contains(&mark)
}

#[cfg(test)]
mod tests {
    use super::*;

    fn by_hand(text: &str, unit: Unit) -> Result<Number, Unread> {
        read(text, &[unit], Written::ByHand)
    }

    #[test]
    fn a_number_is_taken_with_the_unit_that_was_written() {
        for (text, unit, value) in [
            ("12.4", Unit::A, 12.4),
            ("30A", Unit::A, 30.0),
            ("12,4 amps", Unit::A, 12.4),
            ("850 mA", Unit::A, 0.85),
            ("7 kW", Unit::W, 7000.0),
            ("7.2 kVA", Unit::Va, 7200.0),
            ("7,2kva", Unit::Va, 7200.0),
            ("1,234.5", Unit::W, 1234.5),
            ("1.234,5 W", Unit::W, 1234.5),
            ("12,345,678", Unit::Wh, 12_345_678.0),
            ("9600", Unit::W, 9600.0),
            ("9 600 W", Unit::W, 9600.0),
            ("0,250", Unit::A, 0.25),
            (".5", Unit::A, 0.5),
            ("1/2 hp", Unit::Hp, 0.5),
            ("1 1/2", Unit::Hp, 1.5),
            ("4-1/4\"", Unit::In, 4.25),
            ("11 15/16", Unit::In, 11.9375),
            // A point before three digits of what is never counted in thousands begins decimals.
            ("12.375", Unit::In, 12.375),
            ("119.237", Unit::V, 119.237),
            ("36 in-lb", Unit::InLb, 36.0),
            ("3 ft-lb", Unit::InLb, 36.0),
            ("−4 °C", Unit::Celsius, -4.0),
            ("-150", Unit::W, -150.0),
            ("24 spaces", Unit::Count, 24.0),
            ("89.5", Unit::Money, 89.5),
            ("1,250.90", Unit::Money, 1250.9),
        ] {
            let read = by_hand(text, unit).unwrap();
            assert!((read.value - value).abs() < 1e-9 && read.unit == unit, "{text}: {read:?}");
        }
    }

    // 1 in = 25.4 mm (international yard and pound agreement, 1959); 1 N·m = 8.8507 in-lb (NIST SP 811, from memory).
    #[test]
    fn another_unit_of_the_same_quantity_is_worked_out() {
        for (text, unit, value) in [
            ("3,5 m", Unit::Ft, 3.5 / 0.3048),
            ("108 mm", Unit::In, 108.0 / 25.4),
            ("2 ft", Unit::In, 24.0),
            ("100 m2", Unit::Ft2, 1076.391),
            ("4 N·m", Unit::InLb, 35.403),
        ] {
            assert!((by_hand(text, unit).unwrap().value - value).abs() < 0.001, "{text}");
        }
    }

    #[test]
    fn what_could_be_either_is_asked_about() {
        for (text, unit, ways) in [
            ("9,600", Unit::W, [9600.0, 9.6]),
            ("9.600", Unit::W, [9600.0, 9.6]),
            ("1,200 kW", Unit::W, [1_200_000.0, 1200.0]),
            ("1,200", Unit::V, [1200.0, 1.2]),
            ("1,200 mm", Unit::Ft, [3.937_007_874, 0.003_937_008]),
        ] {
            let Unread::TwoWays { ways: read, .. } = by_hand(text, unit).unwrap_err() else {
                panic!("{text} was not asked about");
            };
            assert!(read.iter().zip(ways).all(|(r, w)| (r.value - w).abs() < 1e-6), "{text}: {read:?}");
        }
        let said = by_hand("9,600", Unit::W).unwrap_err().to_string();
        assert_eq!(said, "\"9,600\" may be 9600 W or 9.6 W: which is it?");
        // A file's format says that the point begins the decimals; what a comma is nobody said.
        assert_eq!(read("9.600", &[Unit::W], Written::InAFile).unwrap().value, 9.6);
        assert!(matches!(read("9,600", &[Unit::W], Written::InAFile), Err(Unread::TwoWays { .. })));
    }

    #[test]
    fn what_is_no_number_is_refused_with_what_would_be_one() {
        for text in
            ["", "fast", "--3", "12 5", "1,23,4", "1.2.3", "3/0", "inf", "nan", "1e5", "twenty twelve", "7 kk", "-"]
        {
            let unread = by_hand(text, Unit::A).unwrap_err();
            assert!(matches!(unread, Unread::NoNumber { .. }), "{text}: {unread:?}");
        }
        assert_eq!(
            by_hand("fast", Unit::A).unwrap_err().to_string(),
            "\"fast\" is not a number: write one like 12.5, in A"
        );
        assert!(matches!(by_hand("-40", Unit::A), Err(Unread::Below { .. })));
        assert!(matches!(by_hand("7.2 kVA", Unit::W), Err(Unread::OtherUnit { .. })));
        assert!(matches!(by_hand("2.5 spaces", Unit::Count), Err(Unread::NoNumber { .. })));
    }

    #[test]
    fn a_plate_is_taken_in_the_unit_it_shows() {
        let plate = [Unit::W, Unit::A, Unit::Va, Unit::Hp];
        assert_eq!(read("7.2 kVA", &plate, Written::ByHand).unwrap(), Number { value: 7200.0, unit: Unit::Va });
        assert_eq!(read("40 A", &plate, Written::ByHand).unwrap(), Number { value: 40.0, unit: Unit::A });
        assert_eq!(read("1500", &plate, Written::ByHand).unwrap(), Number { value: 1500.0, unit: Unit::W });
    }

    #[test]
    fn dictated_numbers_are_read() {
        for (text, value) in [
            ("twelve point four", 12.4),
            ("twelve point four amps", 12.4),
            ("one hundred and nineteen point five", 119.5),
            ("twenty-five", 25.0),
            ("zero point five", 0.5),
            ("zero", 0.0),
            ("a hundred twenty", 120.0),
        ] {
            assert_eq!(by_hand(text, Unit::A).map(|n| n.value), Ok(value), "{text}");
        }
    }

    #[test]
    fn signs_are_those_that_pages_name() {
        for unit in Unit::ALL.into_iter().filter(|unit| !matches!(unit, Unit::Count | Unit::Money)) {
            let code = serde_json::to_value(unit).unwrap();
            assert_eq!(code.as_str().unwrap().replace('2', "²"), unit.sign());
        }
    }
}
