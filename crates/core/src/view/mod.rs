//! What is drawn, as values: the panel's face and the floor.

pub mod face;
pub mod floor;
