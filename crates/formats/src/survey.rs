//! The survey folder: what a person types in a spreadsheet, as RFC 4180 CSV with a header row.
//!
//! Nothing is taken over unless every row is understood, or the caller chose to skip the bad rows, which are listed.

mod evidence;
mod house;
mod rows;

pub use evidence::record;
pub use house::import;
pub use rows::{Fault, Taken};

/// The files of a survey folder; an absent file is `None`.
#[derive(Debug, Default, Clone, Copy)]
pub struct Survey<'a> {
    /// `panels.csv`
    pub panels: Option<&'a str>,
    /// `breakers.csv`
    pub breakers: Option<&'a str>,
    /// `points.csv`
    pub points: Option<&'a str>,
    /// `evidence.csv`
    pub evidence: Option<&'a str>,
}

/// What to do with rows that cannot be understood.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum BadRows {
    /// Take nothing over.
    Refuse,
    /// Leave them out and list them.
    Skip,
}
