//! Lengths as people type and read them: `12'6"`, `12 ft 6 in`, `3.2 m`, `320 cm`.

use super::number::{Numeral, numeral_of};
use crate::base::Invalid;
use crate::base::units::{INCHES_PER_METRE, Inches};
use crate::house::{Lengths, Spot, Wall};

/// Half a sixteenth: what is nearer to a whole inch is shown as one.
const FINEST: f64 = 1.0 / 32.0;

/// Reads a length. A bare number is in feet, or in metres where the house is measured so.
///
/// # Errors
/// [`Invalid`] with the field `text`: no length, or one that may be either of two (`1,200 mm`).
pub fn read(text: &str, lengths: Lengths) -> Result<Inches, Invalid> {
    let plain = text.trim().to_lowercase().replace(['′', '’'], "'").replace(['″', '”', '“'], "\"");
    let either = |ways: [f64; 2]| {
        let [parted, decimal] = ways.map(|way| finely(Inches(way), lengths));
        Invalid::new("text", format!("\"{}\" may be {parted} or {decimal}: write it without the comma", text.trim()))
    };
    match parse(&plain, lengths) {
        Some(Numeral::One(inches)) if inches.is_finite() => Ok(Inches(inches)),
        Some(Numeral::Either(ways)) => Err(either(ways)),
        _ => Err(Invalid::new(
            "text",
            format!("\"{}\" is not a length: write 12'6\", 12.5 ft, 3.2 m or 320 cm", text.trim()),
        )),
    }
}

fn parse(text: &str, lengths: Lengths) -> Option<Numeral> {
    let (sign, text) = text.strip_prefix('-').map_or((1.0, text), |rest| (-1.0, rest));
    let number = |s: &str| numeral_of(s, false).filter(|_| s.trim().starts_with(|c: char| c.is_ascii_digit()));
    let metric = [("mm", 0.001), ("cm", 0.01), ("m", 1.0)];
    if let Some((n, metres)) =
        metric.iter().find_map(|(unit, metres)| Some((number(text.strip_suffix(unit)?)?, metres)))
    {
        return Some(n.times(sign * metres * INCHES_PER_METRE));
    }
    let feet = text.split_once('\'').or_else(|| text.split_once("ft"));
    if let Some((feet, rest)) = feet {
        let rest = rest.trim().trim_end_matches('"').trim_end_matches("in").trim();
        let feet = number(feet)?.times(12.0 * sign);
        return match (feet, number(rest)) {
            (feet, None) if rest.is_empty() => Some(feet),
            (Numeral::One(feet), Some(Numeral::One(inches))) => Some(Numeral::One(feet + sign * inches)),
            _ => None,
        };
    }
    if let Some(rest) = text.strip_suffix('"').or_else(|| text.strip_suffix("in")) {
        return Some(number(rest)?.times(sign));
    }
    let one = if lengths == Lengths::Metres { INCHES_PER_METRE } else { 12.0 };
    Some(number(text)?.times(sign * one))
}

/// Finer than [`write`]: two readings of one text differ a thousandfold.
fn finely(length: Inches, lengths: Lengths) -> String {
    match lengths {
        Lengths::Metres => format!("{} mm", round(length.0 / INCHES_PER_METRE * 1000.0)),
        Lengths::FeetInches => format!("{} ft", round(length.0 / 12.0)),
    }
}

fn round(value: f64) -> f64 {
    (value * 1000.0).round() / 1000.0
}

/// Writes a length in the house's units: `12'6"` to the half inch, or `3.81 m`.
#[must_use]
pub fn write(length: Inches, lengths: Lengths) -> String {
    if lengths == Lengths::Metres {
        return format!("{:.2} m", length.0 / INCHES_PER_METRE);
    }
    let halves = (length.0.abs() * 2.0 + FINEST).round() as i64;
    let sign = if length.0 < 0.0 && halves > 0 { "-" } else { "" };
    let (feet, rest) = (halves / 24, halves % 24);
    let half = if rest % 2 == 1 { ".5" } else { "" };
    format!("{sign}{feet}'{}{half}\"", rest / 2)
}

const WALLS: &[(&str, Wall)] =
    &[("north", Wall::North), ("east", Wall::East), ("south", Wall::South), ("west", Wall::West)];

/// Reads a place in a room: `north 3'6"` (from that wall's left or top end), or `3' x 4'6"` (from the left and from the
/// top wall).
///
/// # Errors
/// [`Invalid`] with the field `text`.
pub fn read_spot(text: &str, lengths: Lengths) -> Result<Spot, Invalid> {
    let lower = text.trim().to_lowercase();
    for (word, wall) in WALLS {
        if let Some(rest) = lower.strip_prefix(word) {
            return Ok(Spot::Wall { wall: *wall, along: read(rest, lengths)? });
        }
    }
    let Some((x, y)) = lower.split_once('x') else {
        let message =
            format!("\"{}\" is not a place: write north 3'6\", or 3' x 4'6\" from the left and top walls", text.trim());
        return Err(Invalid::new("text", message));
    };
    Ok(Spot::Field { x: read(x, lengths)?, y: read(y, lengths)? })
}

/// Writes a place as [`read_spot`] reads it.
#[must_use]
pub fn write_spot(spot: Spot, lengths: Lengths) -> String {
    match spot {
        Spot::Wall { wall, along } => {
            let word = WALLS.iter().find(|(_, w)| *w == wall).map_or("", |(word, _)| *word);
            format!("{word} {}", write(along, lengths))
        }
        Spot::Field { x, y } => format!("{} x {}", write(x, lengths), write(y, lengths)),
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    fn inches_of(text: &str) -> f64 {
        read(text, Lengths::FeetInches).unwrap().0
    }

    // Definition: 1 ft = 12 in, 1 in = 25.4 mm (international yard and pound agreement, 1959).
    #[test]
    fn all_ways_to_write_a_length_are_read() {
        for (text, inches) in [
            ("12'6\"", 150.0),
            ("12' 6", 150.0),
            ("12 ft 6 in", 150.0),
            ("12.5", 150.0),
            ("12,5 ft", 150.0),
            ("12’6”", 150.0),
            ("150\"", 150.0),
            ("150 in", 150.0),
            ("6 1/2\"", 6.5),
            ("1/2 in", 0.5),
            ("0'", 0.0),
            ("-3'", -36.0),
        ] {
            assert!((inches_of(text) - inches).abs() < 1e-9, "{text}");
        }
        for (text, metres) in [("3.81 m", 3.81), ("381cm", 3.81), ("3810 mm", 3.81)] {
            assert!((inches_of(text) - metres / 0.0254).abs() < 1e-9, "{text}");
        }
        assert!((read("2", Lengths::Metres).unwrap().0 - 2.0 / 0.0254).abs() < 1e-9);
    }

    #[test]
    fn places_read_back_as_written() {
        for text in ["north 3'6\"", "west 0'0\"", "3'0\" x 4'6\""] {
            assert_eq!(write_spot(read_spot(text, Lengths::FeetInches).unwrap(), Lengths::FeetInches), text);
        }
        for text in ["", "up 3'", "north", "3' x", "x"] {
            assert_eq!(read_spot(text, Lengths::FeetInches).unwrap_err().field, "text", "{text}");
        }
    }

    #[test]
    fn a_comma_before_three_digits_is_asked_about_not_taken_for_a_point() {
        let fault = read("1,200mm", Lengths::Metres).unwrap_err();
        assert_eq!(fault.message, "\"1,200mm\" may be 1200 mm or 1.2 mm: write it without the comma");
        assert!(read("1,200", Lengths::FeetInches).is_err());
        assert!((read("1,20 m", Lengths::Metres).unwrap().0 - 1.2 / 0.0254).abs() < 1e-9);
        assert!((read("1 1/2 ft", Lengths::FeetInches).unwrap().0 - 18.0).abs() < 1e-9);
    }

    #[test]
    fn what_is_no_length_says_what_would_be() {
        for text in ["", "wide", "12''", "'6", "3/0 in", "inf", "nan", "1e999", "4'x", "--3"] {
            let fault = read(text, Lengths::FeetInches).unwrap_err();
            assert!(fault.field == "text" && fault.message.contains("12'6\""), "{text}: {fault}");
        }
    }

    #[test]
    fn written_lengths_read_back_to_the_half_inch() {
        for halves in -400..2000 {
            let length = Inches(f64::from(halves) / 2.0);
            assert_eq!(read(&write(length, Lengths::FeetInches), Lengths::FeetInches).unwrap(), length);
        }
        assert_eq!(write(Inches(150.0), Lengths::FeetInches), "12'6\"");
        assert_eq!(write(Inches(150.0), Lengths::Metres), "3.81 m");
        assert_eq!(write(Inches(11.99), Lengths::FeetInches), "1'0\"");
    }
}
