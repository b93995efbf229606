//! What things draw, and what meters are expected to show.

pub mod expect;
pub mod fit;
pub mod plate;
pub mod typical;
