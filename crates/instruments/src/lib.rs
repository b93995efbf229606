//! A bench meter that speaks SCPI over TCP, and what stands in for one.
//!
//! This crate knows lines of text on a socket: `*IDN?`, `CONF:…`, `READ?` as IEEE 488.2 and SCPI-99 have them [pub: value from
//! memory]. It must not know houses: a stand-in asks whoever made it what it measures.

mod meter;
mod stand_in;

pub use meter::{Function, Identity, Meter, MeterError};
pub use stand_in::{Measures, StandIn};
