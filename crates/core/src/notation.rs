//! The short notation for what stands in a space.
//!
//! | typed | means |
//! |---|---|
//! | `20` | a single-pole breaker of 20 A |
//! | `2p50` | a two-pole breaker of 50 A: this space and the one below |
//! | `3p30` | a three-pole breaker |
//! | `15 gfci kitchen lights` | its type, then the label as found |
//! | `-` | looked at: the space is empty |
//! | nothing | not entered yet |
//!
//! Types: `gfci`, `afci`, `dual`, `fuse`; without one it is plain.

use std::fmt::Write;

use crate::change::{Change, Invalid};
use crate::house::{Breaker, BreakerId, Device, Handle, House, Panel};
use crate::position::{Half, Position};
use crate::units::Amps;

/// Reads what was typed for a space and makes the change of it: `new` is the id of a breaker not there before.
/// Nothing typed takes out what is there.
///
/// # Errors
/// [`Invalid`] with the field `text` where it cannot be read, or with the house's own reason where it cannot be.
pub fn read(house: &House, panel: &Panel, space: u16, text: &str, new: BreakerId) -> Result<Change, Invalid> {
    let old = house.breakers_of(panel.id).into_iter().find(|b| b.at[0].space == space);
    let change = match text.trim() {
        "" => clear(panel, space, old, false),
        "-" => clear(panel, space, old, true),
        typed => Change::PutBreaker { breaker: breaker(panel, space, typed, old, new)? },
    };
    house.apply(&change)?;
    Ok(change)
}

fn clear(panel: &Panel, space: u16, old: Option<&Breaker>, empty: bool) -> Change {
    let remove = old.map(|b| Change::RemoveBreaker { breaker: b.id });
    let mark = Change::MarkEmpty { panel: panel.id, space, empty };
    Change::Batch { changes: remove.into_iter().chain([mark]).collect() }
}

fn breaker(panel: &Panel, space: u16, typed: &str, old: Option<&Breaker>, new: BreakerId) -> Result<Breaker, Invalid> {
    let (first, mut rest) = split_word(typed);
    let (poles, amps) = rating(first)?;
    let (second, after) = split_word(rest);
    let device = device(second);
    if device.is_some() {
        rest = after;
    }
    let device = device.unwrap_or(Device::Plain);
    let at = match old {
        // A half-size breaker keeps its place: the notation names whole spaces.
        Some(b) if b.at.len() == poles && b.at[0].half != Half::Whole => b.at.clone(),
        _ => poles_from(panel, space, poles)?,
    };
    Ok(Breaker {
        id: old.map_or(new, |b| b.id),
        panel: panel.id,
        at,
        amps,
        device,
        handle: old.map_or(Handle::On, |b| b.handle),
        label: rest.to_owned(),
    })
}

fn split_word(text: &str) -> (&str, &str) {
    let (word, rest) = text.split_once(char::is_whitespace).unwrap_or((text, ""));
    (word, rest.trim())
}

fn rating(word: &str) -> Result<(usize, Amps), Invalid> {
    let lower = word.to_ascii_lowercase();
    let (poles, amps) = lower.split_once('p').unwrap_or(("1", &lower));
    let amps = amps.strip_suffix('a').unwrap_or(amps);
    let digits = |s: &str| !s.is_empty() && s.bytes().all(|b| b.is_ascii_digit());
    match (poles, amps.parse::<f64>()) {
        ("1" | "2" | "3", Ok(value)) if digits(amps) => Ok((usize::from(poles.as_bytes()[0] - b'0'), Amps(value))),
        _ => Err(Invalid::new(
            "text",
            format!("\"{word}\" is not a rating: write 20, or 2p50 for two poles, or - for an empty space"),
        )),
    }
}

fn device(word: &str) -> Option<Device> {
    match word.to_ascii_lowercase().as_str() {
        "plain" => Some(Device::Plain),
        "gfci" => Some(Device::Gfci),
        "afci" => Some(Device::Afci),
        "dual" => Some(Device::Dual),
        "fuse" => Some(Device::Fuse),
        _ => None,
    }
}

fn poles_from(panel: &Panel, space: u16, poles: usize) -> Result<Vec<Position>, Invalid> {
    let below = |s: &u16| panel.numbering.below(*s, panel.spaces);
    let at: Vec<_> = std::iter::successors(Some(space), below).take(poles).map(Position::whole).collect();
    if at.len() == poles {
        return Ok(at);
    }
    Err(Invalid::new("text", format!("there is no room for {poles} poles from space {space} down")))
}

/// What stands in a space, as it would be typed. Several half-size breakers are joined by ` / `.
#[must_use]
pub fn write(house: &House, panel: &Panel, space: u16) -> String {
    if panel.empty.contains(&space) {
        return "-".into();
    }
    let here = house.breakers_of(panel.id).into_iter().filter(|b| b.at[0].space == space);
    here.map(write_breaker).collect::<Vec<_>>().join(" / ")
}

/// The type as it is typed and filed.
#[must_use]
pub fn device_word(device: Device) -> &'static str {
    match device {
        Device::Plain => "plain",
        Device::Gfci => "gfci",
        Device::Afci => "afci",
        Device::Dual => "dual",
        Device::Fuse => "fuse",
    }
}

fn write_breaker(b: &Breaker) -> String {
    let mut text = String::new();
    if b.at.len() > 1 {
        let _ = write!(text, "{}p", b.at.len());
    }
    let _ = write!(text, "{}", b.amps.0);
    // A label that begins like a type would be read back as one.
    if b.device != Device::Plain || device(split_word(&b.label).0).is_some() {
        let _ = write!(text, " {}", device_word(b.device));
    }
    if !b.label.is_empty() {
        let _ = write!(text, " {}", b.label);
    }
    text
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::fixture::Fixture;

    fn typed(f: &mut Fixture, space: u16, text: &str) -> Result<String, Invalid> {
        let new = BreakerId(1000 + u64::from(space));
        let change = read(&f.house, f.panel(), space, text, new)?;
        f.house = f.house.apply(&change)?.house;
        Ok(write(&f.house, f.panel(), space))
    }

    #[test]
    fn what_is_typed_reads_back_the_same() {
        let mut f = Fixture::new(20);
        for (space, text) in [
            (1, "20"),
            (5, "2p50"),
            (2, "15 gfci kitchen lights"),
            (3, "-"),
            (4, "30 fuse"),
            (6, "15 plain dual socket"),
        ] {
            assert_eq!(typed(&mut f, space, text).unwrap(), text);
        }
        assert_eq!(typed(&mut f, 8, " 15A  AFCI  Bath ").unwrap(), "15 afci Bath");
    }

    #[test]
    fn what_cannot_be_read_says_what_would() {
        let mut f = Fixture::new(20);
        for text in ["kitchen", "2q50", "4p20", "20.5", "-20", "p20", "2p"] {
            let fault = typed(&mut f, 1, text).unwrap_err();
            assert_eq!(fault.field, "text", "{text}");
            assert!(fault.message.contains("2p50"), "{fault}");
        }
        assert_eq!(
            typed(&mut f, 1, "900").unwrap_err().to_string(),
            "breaker.amps: the breaker rating must be 1 to 400 A, not 900"
        );
    }

    #[test]
    fn a_two_pole_needs_the_space_below() {
        let mut f = Fixture::new(20);
        typed(&mut f, 7, "15").unwrap();
        assert_eq!(typed(&mut f, 5, "2p50").unwrap_err().field, "breaker.at");
        assert_eq!(typed(&mut f, 19, "2p50").unwrap_err().field, "text");
    }

    #[test]
    fn typing_over_keeps_the_breaker_and_a_dash_empties_the_space() {
        let mut f = Fixture::new(20);
        typed(&mut f, 1, "20 bath").unwrap();
        typed(&mut f, 1, "15 hall").unwrap();
        assert_eq!(f.house.breakers.len(), 1);
        typed(&mut f, 1, "-").unwrap();
        assert!(f.house.breakers.is_empty() && f.panel().empty.contains(&1));
        typed(&mut f, 1, "2p20").unwrap();
        assert!(f.panel().empty.is_empty());
        typed(&mut f, 1, "").unwrap();
        assert!(f.house.breakers.is_empty() && f.panel().empty.is_empty());
    }

    #[test]
    fn columns_numbering_reaches_down_its_own_way() {
        let mut f = Fixture::new(20);
        let panel = Panel { numbering: crate::position::Numbering::Columns, ..f.panel().clone() };
        f.house.panels.put(panel);
        typed(&mut f, 5, "2p50").unwrap();
        assert_eq!(f.house.breakers.iter().next().unwrap().at_text(), "5-6");
        assert_eq!(typed(&mut f, 10, "2p50").unwrap_err().field, "text", "10 is the last of its column");
    }

    proptest::proptest! {
        #[test]
        fn anything_typed_is_read_or_refused_and_what_is_read_reads_back(text in "[ 0-9a-zA-Z/-]{0,14}|[0-9]{1,3} [a-z]{0,6}|2p[0-9]{2} [a-z ]{0,8}", space in 1u16..=20) {
            let mut f = Fixture::new(20);
            if let Ok(shown) = typed(&mut f, space, &text) {
                let house = f.house.clone();
                proptest::prop_assert_eq!(typed(&mut f, space, &shown).unwrap(), shown);
                proptest::prop_assert_eq!(&f.house.breakers, &house.breakers);
            }
        }
    }
}
