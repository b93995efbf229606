//! Tracing: what feeds what, how sure, why, and what to do next to learn most.
//!
//! [`beliefs`] infers the map from the evidence, [`advise`] says which handles to move and which points to look at,
//! [`guide`] which of them next. All are pure functions of a house.
//!
//! Inside: a [`model::Model`] is what is known beforehand, a [`tracker::Tracker`] keeps the beliefs up as looks come in,
//! [`proof`] says what is proven, [`doubt`] and [`session`] what does not fit together and which slip explains it, [`gain`] what a
//! look is worth, [`round`] which handles, [`planner`] which tour, and [`method`] what each way of tracing does next, [`tools`] what
//! others than a look are good for, [`tempo`] how long it takes.

mod advise;
mod belief;
mod beliefs;
mod codewords;
mod doubt;
mod explain;
mod feeding;
mod gain;
mod kinship;
mod likelihood;
mod look;
mod method;
mod model;
mod order;
mod pairs;
mod planner;
mod prior;
mod proof;
mod report;
mod round;
mod session;
mod suspects;
mod tempo;
mod tools;
mod tracker;
pub mod verdict;
mod words;

pub use crate::house::{Crew, Method, Pace};
pub use advise::{Action, Advice, Ask, Guide, QuickCheck, TourRow, With, advise, guide};
pub use belief::{Beliefs, BreakerBelief, BreakerRef, Candidate, Fed, PointBelief, Progress, Reason, Says, TwoHandles};
pub use beliefs::beliefs;
pub use doubt::{AlsoDoubted, Correction, Doubt, Odd, Story, StoryKind, doubts};
pub use explain::Because;
pub use order::{Order, OrderWords};
pub use prior::{Hint, HintKind};
pub use proof::{Missing, Status};
pub use report::{FaultFound, Open, Report, Surprise, faults, report};

pub(crate) use advise::{ids, opening, panel_room};
pub(crate) use codewords::code_words;
pub(crate) use kinship::Sort;
pub(crate) use method::Turn;
pub(crate) use model::Model;
pub(crate) use planner::{Planner, Scene};
pub(crate) use proof::is_settled;
pub(crate) use suspects::{Suspects, may_feed};
pub use tracker::Tracker;

#[cfg(test)]
mod hard_tests;
#[cfg(test)]
mod run_tests;
#[cfg(test)]
mod search_tests;
#[cfg(test)]
mod tests;
#[cfg(test)]
mod tools_tests;
