//! A house being changed: the draft that cascades work on, and what a house must hold to. The edits of single things that
//! it comes to are the house's own ([`Edit`]).

pub mod catalog;
mod draft;
mod integrity;
pub mod notation;

pub use draft::Applied;
pub(crate) use draft::{Cascades, Draft, MayFeed};
pub use integrity::{check, question};

pub(crate) use crate::house::Thing;
pub use crate::house::{Edit, Subject, Swap, in_all, invert, subjects};
