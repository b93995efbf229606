//! The everyday answers: what feeds this, what must be off for this work, what is dead and why, what tripped, what is due.

pub mod buttons;
pub mod changed;
pub mod diagnose;
pub mod find;
pub mod reset;
pub mod service;
pub mod shutdown;
pub mod today;
pub mod upkeep;
