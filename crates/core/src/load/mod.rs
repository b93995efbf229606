//! What things draw.

pub mod typical;
