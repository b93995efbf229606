//! Units, chances, places in a panel, tables of things, and the words of closed lists, and what is said of a wrong field.

pub mod chance;
mod invalid;
pub mod position;
mod said;
mod source;
pub mod table;
pub mod units;

pub use invalid::Invalid;
pub use said::Said;
pub(crate) use said::said;
pub use source::Source;
pub(crate) use source::nec;
