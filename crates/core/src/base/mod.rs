//! Units, places in a panel, tables of things, and what is said of a wrong field.

mod invalid;
pub mod position;
pub mod table;
pub mod units;

pub use invalid::Invalid;
