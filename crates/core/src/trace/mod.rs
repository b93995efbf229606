//! Tracing: what feeds what, how sure, why, and what to do next to learn most.
//!
//! [`beliefs`] infers the map from the evidence, [`advise`] says which handles to move and which points to look at.
//! Both are pure functions of a house.

mod advise;
mod beliefs;
mod likelihood;
mod network;
mod posterior;
mod prior;
mod suspects;

pub use advise::{Action, Advice, Crew, advise};
pub use beliefs::{
    Beliefs, BreakerBelief, BreakerRef, Candidate, Fed, Missing, PointBelief, Progress, Reason, Says, Status, beliefs,
};
pub use prior::{Hint, HintKind};
pub(crate) use suspects::{Suspects, suspects};

#[cfg(test)]
mod tests;
