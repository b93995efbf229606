//! Numbers among the arguments, read like everywhere else.

use wayfinder_core::words::number::{self, Unit, Written};

/// In a unit.
pub fn read(text: &str, unit: Unit) -> Result<f64, String> {
    number::read(text, &[unit], Written::ByHand).map(|n| n.value).map_err(|unread| unread.to_string())
}

/// Amperes: `40`, `40 A`.
pub fn amps(text: &str) -> Result<f64, String> {
    read(text, Unit::A)
}

/// Volts.
pub fn volts(text: &str) -> Result<f64, String> {
    read(text, Unit::V)
}

/// Inches: `4.25`, `4 1/4`.
pub fn inches(text: &str) -> Result<f64, String> {
    read(text, Unit::In)
}
