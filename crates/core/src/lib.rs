//! The rules of tracing circuits in a house.
//!
//! This crate knows panels, breakers, rooms, points and evidence; it infers which breaker feeds which point and
//! says what to do next. It must not know files, databases, networks, screens, the clock or chance: times, ids and
//! seeds come in with the values it is given.

pub mod catalog;
pub mod change;
pub mod code;
pub mod diagnose;
pub mod directory;
pub mod draws;
pub mod edit;
pub mod face;
pub mod find;
pub mod fit;
pub mod house;
pub mod length;
pub mod notation;
pub mod plan;
pub mod position;
pub mod practice;
pub mod reset;
pub mod service;
pub mod shutdown;
pub mod table;
pub mod trace;
pub mod units;
pub mod upkeep;
pub mod words;

mod integrity;

pub use change::{Applied, Change, Invalid};
pub use edit::Edit;
pub use house::House;

#[cfg(test)]
mod fixture;
