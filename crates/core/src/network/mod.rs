//! The electrical model behind every reading: the supply, the buses, the wires, the loads and what is wrong, as one linear
//! network at one frequency, solved whole (handbook 8).
//!
//! [`net`] is the network and its solution; [`wiring`] builds the one of a house. Loads are constant impedances at their
//! nominal voltage and taken as resistive: what a motor's angle changes in sums is below what its draw is uncertain by.

mod leg;
pub mod net;
pub mod neutral;
pub mod wiring;

#[cfg(test)]
mod spice_tests;

pub use leg::{Taken, leg_of};
pub use net::{Branch, EARTH, Made, Net, Node, Phasor, Solved};
pub use neutral::neutral_of;
pub use wiring::{Flaw, FlawAt, On, Wired};
