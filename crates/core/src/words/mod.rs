//! What people write: labels, the contents of rooms, lengths, the short notation for a space; usual loads.

pub mod catalog;
pub mod labels;
pub mod length;
pub mod notation;
pub mod usual;
