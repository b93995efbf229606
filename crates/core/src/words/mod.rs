//! What people write: labels, the contents of rooms, numbers, lengths, the short notation for a space; usual loads. And what they read:
//! points in words, and shortened.

pub mod catalog;
pub mod labels;
pub mod length;
pub mod mind;
pub mod notation;
pub mod number;
pub mod places;
pub mod short;
pub mod things;
pub mod usual;
