//! What things draw.

pub mod plate;
pub mod typical;
