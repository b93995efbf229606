//! What people write: labels, numbers, lengths, what a place asks for; usual loads. And what they read:
//! points in words, and shortened.

pub mod labels;
pub mod length;
pub mod mind;
pub mod number;
pub mod places;
pub mod short;
pub mod things;
pub mod usual;
