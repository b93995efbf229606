//! Units, chances, places in a panel, tables of things, and what is said of a wrong field.

pub mod chance;
mod invalid;
pub mod position;
pub mod table;
pub mod units;

pub use invalid::Invalid;
