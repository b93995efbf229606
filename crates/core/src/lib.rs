//! The rules of tracing circuits in a house.
//!
//! This crate knows panels, breakers, rooms, points and evidence; it infers which breaker feeds which point and
//! says what to do next. It must not know files, databases, networks, screens, the clock or chance: times, ids and
//! seeds come in with the values it is given.
//!
//! Its rooms, in order: each uses only those before it (`tests/rooms.rs` reads this list).
//!
//! - `base`: units, places in a panel, tables of things, what is wrong with which field
//! - `code`: published tables
//! - `house`: the aggregate, one thing a file
//! - `floor`: geometry of the plan, walking times
//! - `words`: labels, numbers, lengths, what a place asks for, usual loads
//! - `plate`: what nameplates say and ask for, what is typical
//! - `rules`: what must not be, one rule a file
//! - `edit`: edits of single things, what a house must hold to, the draft that cascades work on, what rooms usually hold, the short notation
//! - `trace`: beliefs, advice, doubts
//! - `network`: the electrical model behind every reading
//! - `load`: what things draw
//! - `directory`: the card on the door, and what of it is stale
//! - `answers`: what feeds this, what to switch off, what is dead and why, reset, what is due
//! - `audit`: hits as findings, what was decided of them, what is worth finding out
//! - `view`: the panel's face and the floor, as values to draw
//! - `job`: work in a panel, planned as a change of the house: rearranging it
//! - `practice`: made houses, people who err, ways of tracing played against each other, stand-ins for tools
//! - `change`: on top, the one door for changes

pub mod answers;
pub mod audit;
pub mod base;
pub mod change;
pub mod code;
pub mod directory;
pub mod edit;
pub mod floor;
pub mod house;
pub mod job;
pub mod load;
pub mod network;
pub mod plate;
pub mod practice;
pub mod rules;
pub mod trace;
pub mod view;
pub mod words;

pub use base::Invalid;
pub use change::Change;
pub use edit::{Applied, Edit};
pub use house::House;

#[cfg(test)]
mod fixture;
