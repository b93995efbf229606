//! Breakers: rating, poles, body, terminal.

use super::{id, text, within};
use crate::base::Invalid;
use crate::base::position::{Half, Position};
use crate::base::units::{BREAKER_RATING, TERMINAL_WIRES, TORQUE};
use crate::house::{Breaker, Frame, House, Panel};

pub(super) fn check_breaker(house: &House, breaker: &Breaker) -> Result<(), Invalid> {
    id("breaker.id", breaker.id.0)?;
    within(&BREAKER_RATING, "breaker.amps", breaker.amps.0)?;
    text("breaker.label", "the label", &breaker.label, false)?;
    let at = |message: String| Err(Invalid::new("breaker.at", message));
    let Some(panel) = house.panels.get(breaker.panel) else {
        return Err(Invalid::new("breaker.panel", "there is no such panel"));
    };
    if !(1..=3).contains(&breaker.at.len()) {
        return at("a breaker has one, two or three poles".into());
    }
    for pole in &breaker.at {
        if !panel.has(pole.space) {
            let numbers = panel.numbers();
            let (first, last) = (numbers.first().copied().unwrap_or(0), numbers.last().copied().unwrap_or(0));
            return at(format!("{} has spaces {first} to {last}, there is no {}", panel.name, pole.space));
        }
    }
    for pair in breaker.at.windows(2) {
        check_next_pole(panel, pair[0], pair[1])?;
    }
    if let Some(frame) = breaker.frame
        && (frame == Frame::Full) == breaker.is_half_size()
    {
        return Err(Invalid::new("breaker.frame", "full size takes whole spaces, all other bodies take half ones"));
    }
    if let Some(terminal) = breaker.terminal {
        within(&TERMINAL_WIRES, "breaker.terminal", f64::from(terminal.wires))?;
        if let Some(torque) = terminal.torque {
            within(&TORQUE, "breaker.terminal", torque.0)?;
        }
        if let Some((small, large)) = terminal.smallest.zip(terminal.largest)
            && small.is_thicker_than(large)
        {
            return Err(Invalid::new("breaker.terminal", format!("{small} AWG is thicker than {large} AWG")));
        }
    }
    text("breaker.model", "the type", &breaker.model, false)
}

/// Poles of one breaker follow one another down a column; two halves of one space do so too, though on one leg.
fn check_next_pole(panel: &Panel, upper: Position, lower: Position) -> Result<(), Invalid> {
    let at = |message: String| Err(Invalid::new("breaker.at", message));
    if (upper.half == Half::Whole) != (lower.half == Half::Whole) {
        return at("all poles of one breaker are full size, or all are half size".into());
    }
    if (upper.space, upper.half, lower.half) == (lower.space, Half::Upper, Half::Lower) {
        return Ok(());
    }
    match panel.below(upper.space) {
        Some(below) if below == lower.space => Ok(()),
        Some(below) => at(format!("the pole below {} would be in {below}, not {}", upper.space, lower.space)),
        None => at(format!("{} is the last space of its column: there is no room for a pole below it", upper.space)),
    }
}
