//! The survey folder: what a person types in a spreadsheet, as RFC 4180 CSV with a header row.
//!
//! Each file says in one place its columns, how a row is read and how it is written; [`FILES`] is the one list of them.
//! Nothing is taken over unless every row is understood, or the caller chose to skip the bad rows, which are listed.
//! Reading back what was written gives the same house but for ids, the log, pictures and the step under way.

mod about;
mod breakers;
mod cells;
mod evidence;
mod loads;
mod openings;
mod panels;
mod points;
mod readings;
mod rooms;
mod rows;
mod wires;

use std::collections::BTreeMap;

use jiff::Timestamp;
use wayfinder_core::House;

pub use evidence::record;
pub use rows::{Fault, Taken};
use rows::{File, Reading, Rows};

/// The files of a survey folder, in the order they are read: what is named stands before what names it.
const ALL: [File; 10] = [
    about::FILE,
    panels::FILE,
    breakers::FILE,
    wires::FILE,
    rooms::FILE,
    openings::FILE,
    points::FILE,
    loads::FILE,
    evidence::FILE,
    readings::FILE,
];

/// Without this file there is nothing to begin with.
const NEEDED: &str = panels::FILE.name;

/// The names of the files of a survey folder.
pub fn files() -> impl Iterator<Item = &'static str> {
    ALL.iter().map(|file| file.name)
}

/// The texts of a survey folder's files, by name.
#[derive(Debug, Default, Clone)]
pub struct Survey<'a>(BTreeMap<&'static str, &'a str>);

impl<'a> Survey<'a> {
    /// With the text of a file, by its name.
    #[must_use]
    pub fn with(mut self, name: &'static str, text: &'a str) -> Self {
        self.0.insert(name, text);
        self
    }

    /// Those of the files that `text` has.
    pub fn from_files(text: impl Fn(&str) -> Option<&'a str>) -> Self {
        Self(files().filter_map(|name| Some((name, text(name)?))).collect())
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

/// Makes a house of a survey folder. `name` is the house's where the folder gives none, `now` the time of rows without one.
///
/// # Errors
/// All faults found, where there are any and bad rows are refused.
pub fn import(name: &str, survey: &Survey<'_>, now: Timestamp, bad: BadRows) -> Result<Taken, Vec<Fault>> {
    let mut reading = Reading::new(House::new(name), now);
    if !survey.0.contains_key(NEEDED) {
        reading.faults.push(Fault {
            file: NEEDED.into(),
            line: 0,
            column: String::new(),
            message: "the survey folder needs this file".into(),
        });
    }
    let given = ALL.iter().filter_map(|file| Some((file, *survey.0.get(file.name)?)));
    let read: Vec<(&File, Rows)> = given.map(|(file, text)| (file, Rows::read(file, text, &mut reading))).collect();
    let (last, first): (Vec<_>, Vec<_>) = read.into_iter().partition(|(file, _)| file.last.is_some());
    first.iter().for_each(|(file, rows)| reading.take(rows, file.take));
    first.iter().for_each(|(file, rows)| reading.again(rows, file.tie));
    for (file, rows) in &last {
        file.last.iter().for_each(|last| reading.take_many(rows, last));
    }
    // An import is where a house begins: its changes are not counted one by one.
    reading.house.revision = 0;
    reading.finish(bad)
}

/// A house as a survey folder, so that a spreadsheet can go on with it. A file without rows is left out.
///
/// # Errors
/// Where the text cannot be written; memory only.
pub fn export(house: &House) -> Result<Vec<(&'static str, String)>, csv::Error> {
    let written = ALL.iter().map(|file| (file, (file.write)(house))).filter(|(_, rows)| !rows.is_empty());
    written.map(|(file, rows)| Ok((file.name, table((file.columns)(), rows)?))).collect()
}

/// What a house has that the survey's files have no column for, by number: only the house file holds it.
#[must_use]
pub fn left_out(house: &House) -> Vec<String> {
    let cards = house.panels.iter().filter(|p| p.card.is_some() || p.printed.is_some()).count();
    let counts = [
        (house.log.len(), "line of the log", "lines of the log"),
        (house.jobs.len(), "job", "jobs"),
        (house.energy.len(), "energy record", "energy records"),
        (house.pictures.len(), "picture", "pictures"),
        (house.underlays.len(), "drawing under a plan", "drawings under plans"),
        (house.remarks.len(), "remark of an inspection", "remarks of inspections"),
        (house.runs.len(), "run of tracing or measuring", "runs of tracing or measuring"),
        (usize::from(house.step.is_some()), "step of tracing under way", ""),
        (cards, "size and print of a card", "sizes and prints of cards"),
    ];
    let told =
        |(n, one, many): (usize, &str, &str)| (n > 0).then(|| format!("{n} {}", if n == 1 { one } else { many }));
    counts.into_iter().filter_map(told).collect()
}

fn table(columns: Vec<&str>, rows: Vec<Vec<String>>) -> Result<String, csv::Error> {
    let mut out = csv::WriterBuilder::new().terminator(csv::Terminator::CRLF).from_writer(Vec::new());
    out.write_record(columns)?;
    rows.into_iter().try_for_each(|row| out.write_record(row))?;
    let bytes = out.into_inner().map_err(|e| e.into_error())?;
    Ok(String::from_utf8_lossy(&bytes).into_owned())
}
