//! What things draw, believed from nameplates and readings, and what meters are expected to show.

pub mod draws;
pub mod expect;
pub mod fit;
pub mod plate;
pub mod typical;
