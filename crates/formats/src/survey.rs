//! The survey folder: what a person types in a spreadsheet, as RFC 4180 CSV with a header row.
//!
//! Nothing is taken over unless every row is understood, or the caller chose to skip the bad rows, which are listed.

mod cells;
mod evidence;
mod export;
mod house;
mod plan;
mod rows;
mod wires;

pub use evidence::record;
pub use export::export;
pub use house::import;
pub use rows::{Fault, Taken};

/// The texts of a survey folder's files; an absent file is `None`.
#[derive(Debug, Default, Clone, Copy)]
pub struct Survey<'a> {
    /// `about.csv`
    pub about: Option<&'a str>,
    /// `panels.csv`
    pub panels: Option<&'a str>,
    /// `breakers.csv`
    pub breakers: Option<&'a str>,
    /// `wires.csv`
    pub wires: Option<&'a str>,
    /// `rooms.csv`
    pub rooms: Option<&'a str>,
    /// `openings.csv`
    pub openings: Option<&'a str>,
    /// `points.csv`
    pub points: Option<&'a str>,
    /// `evidence.csv`
    pub evidence: Option<&'a str>,
}

/// The files of a survey folder by name, in the order they are read.
pub const FILES: &[&str] = &[
    "about.csv",
    "panels.csv",
    "breakers.csv",
    "wires.csv",
    "rooms.csv",
    "openings.csv",
    "points.csv",
    "evidence.csv",
];

impl<'a> Survey<'a> {
    /// From files by name.
    pub fn from_files(text: impl Fn(&str) -> Option<&'a str>) -> Self {
        Self {
            about: text("about.csv"),
            panels: text("panels.csv"),
            breakers: text("breakers.csv"),
            wires: text("wires.csv"),
            rooms: text("rooms.csv"),
            openings: text("openings.csv"),
            points: text("points.csv"),
            evidence: text("evidence.csv"),
        }
    }
}

/// What to do with rows that cannot be understood.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum BadRows {
    /// Take nothing over.
    Refuse,
    /// Leave them out and list them.
    Skip,
}
