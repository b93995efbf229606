//! What is drawn, as values: the panel's face, the floor, and how marks stand on it.

pub mod face;
pub mod floor;
pub mod marks;
