//! Rows of a CSV file by column name, and faults that say where they are.

use std::collections::BTreeMap;

use jiff::Timestamp;
use serde::Serialize;
use utoipa::ToSchema;
use wayfinder_core::words::number::{self, Unit, Written};
use wayfinder_core::{Change, House, Invalid};

use super::BadRows;

/// A place in a file that cannot be understood.
#[derive(Debug, Clone, PartialEq, Eq, Serialize, ToSchema, thiserror::Error)]
#[error("{file}, line {line}, column {column}: {message}")]
pub struct Fault {
    /// The file.
    pub file: String,
    /// The line, the header being line 1.
    pub line: u64,
    /// The column's name.
    pub column: String,
    /// What stands there and what was expected.
    pub message: String,
}

/// A house with rows taken over.
#[derive(Debug, Clone)]
pub struct Taken {
    /// The house.
    pub house: House,
    /// How many rows were taken.
    pub rows: usize,
    /// Rows left out, where the caller chose so.
    pub skipped: Vec<Fault>,
    /// Columns and files that are not known and were not read.
    pub notes: Vec<String>,
}

/// A file of the folder: its columns, and how its rows become things and things its rows.
pub struct File {
    pub name: &'static str,
    /// Columns that must be there.
    pub must: &'static [&'static str],
    /// All columns, as they are written.
    pub columns: fn() -> Vec<&'static str>,
    /// Takes a row over.
    pub take: Take,
    /// Once all other rows are taken: ties it to what stands in later rows and files.
    pub tie: Take,
    /// Its rows name everything else: they are taken when all is tied, many at once.
    pub last: Option<Last>,
    pub write: fn(&House) -> Vec<Vec<String>>,
}

/// How rows are taken that are many, and name everything else.
pub struct Last {
    /// What a row says; so many rows before it are not in the house yet.
    pub says: fn(&House, &Row, Timestamp, u64) -> Result<Change, Fault>,
    /// Columns for the fields of the change.
    pub columns: &'static [(&'static str, &'static str)],
    /// The column that is named for any other.
    pub otherwise: &'static str,
}

/// Takes something of a row into the house; the time is that of rows without one.
pub type Take = fn(&mut House, &Row, Timestamp) -> Result<(), Fault>;

/// For files whose rows name nothing that comes later.
pub const NOTHING_TO_TIE: Take = |_, _, _| Ok(());

/// Columns, each with what stands in it for a thing.
pub type Columns<T> = &'static [(&'static str, fn(&House, &T) -> String)];

pub fn names<T>(columns: Columns<T>) -> Vec<&'static str> {
    columns.iter().map(|(name, _)| *name).collect()
}

pub fn cells<T>(columns: Columns<T>, house: &House, thing: &T) -> Vec<String> {
    columns.iter().map(|(_, cell)| cell(house, thing)).collect()
}

/// Rows that are taken at once: of these few checks of the house are made, and a wrong row is found in nine more.
const AT_ONCE: usize = 500;

/// One file's rows.
pub struct Rows {
    file: &'static str,
    rows: Vec<Row>,
}

/// One row.
pub struct Row {
    file: &'static str,
    line: u64,
    cells: BTreeMap<String, String>,
}

/// What reading a survey gathers: rows taken, faults, notes.
pub struct Reading {
    pub house: House,
    pub rows: usize,
    pub faults: Vec<Fault>,
    pub notes: Vec<String>,
    now: Timestamp,
}

impl Reading {
    pub fn new(house: House, now: Timestamp) -> Self {
        Self { house, rows: 0, faults: Vec::new(), notes: Vec::new(), now }
    }

    /// Takes each row over by `take`; a fault is kept and the next row tried, so that all faults show at once.
    pub fn take(&mut self, rows: &Rows, take: Take) {
        for row in &rows.rows {
            match take(&mut self.house, row, self.now) {
                Ok(()) => self.rows += 1,
                Err(fault) => self.faults.push(fault),
            }
        }
    }

    /// Takes many rows at once, since each time the whole house is checked; where that is refused, halves of them, down to the row.
    pub fn take_many(&mut self, rows: &Rows, last: &Last) {
        let before = self.faults.len();
        for some in rows.rows.chunks(AT_ONCE) {
            let mut said = Vec::new();
            for row in some {
                match (last.says)(&self.house, row, self.now, said.len() as u64) {
                    Ok(change) => said.push((row, change)),
                    Err(fault) => self.faults.push(fault),
                }
            }
            self.apply(&said, last);
        }
        self.faults[before..].sort_by_key(|fault| fault.line);
    }

    fn apply(&mut self, said: &[(&Row, Change)], last: &Last) {
        let changes = match said {
            [] => return,
            [(_, one)] => one.clone(),
            all => Change::Batch { changes: all.iter().map(|(_, change)| change.clone()).collect() },
        };
        match self.house.apply(&changes) {
            Ok(applied) => {
                self.house = applied.house;
                self.rows += said.len();
            }
            Err(invalid) if said.len() == 1 => {
                self.faults.push(said[0].0.invalid(invalid, last.columns, last.otherwise));
            }
            Err(_) => {
                let (some, others) = said.split_at(said.len() / 2);
                self.apply(some, last);
                self.apply(others, last);
            }
        }
    }

    /// Goes over rows once more, for what can be said only when all things are there; they are not counted again.
    pub fn again(&mut self, rows: &Rows, take: Take) {
        let taken = self.rows;
        self.take(rows, take);
        self.rows = taken;
    }

    pub fn finish(self, bad: BadRows) -> Result<Taken, Vec<Fault>> {
        let Self { house, rows, faults, notes, .. } = self;
        if bad == BadRows::Refuse && !faults.is_empty() {
            return Err(faults);
        }
        Ok(Taken { house, rows, skipped: faults, notes })
    }
}

impl Rows {
    /// Reads a file. Column names may stand in any order and letter case; unknown ones are noted.
    pub fn read(of: &File, text: &str, into: &mut Reading) -> Self {
        let (file, columns) = (of.name, (of.columns)());
        let text = text.strip_prefix('\u{feff}').unwrap_or(text);
        let mut reader = csv::ReaderBuilder::new().flexible(true).trim(csv::Trim::All).from_reader(text.as_bytes());
        let mut rows = Self { file, rows: Vec::new() };
        let header: Vec<String> = match reader.headers() {
            Ok(header) => header.iter().map(|h| h.trim().to_ascii_lowercase()).collect(),
            Err(e) => {
                into.faults.push(rows.fault(1, "", format!("the header row cannot be read: {e}")));
                return rows;
            }
        };
        for column in of.must.iter().filter(|c| !header.iter().any(|h| h == **c)) {
            into.faults.push(rows.fault(
                1,
                column,
                format!("this column is missing; the file needs {}", of.must.join(", ")),
            ));
        }
        for column in header.iter().filter(|h| !columns.contains(&h.as_str())) {
            into.notes.push(format!("{file}: the column \"{column}\" is not known and was not read"));
        }
        if into.faults.iter().any(|f| f.file == file) {
            return rows;
        }
        for record in reader.records() {
            match record {
                Ok(record) => rows.push(&header, &record, into),
                Err(e) => {
                    let line = e.position().map_or(0, csv::Position::line);
                    into.faults.push(rows.fault(line, "", format!("the row cannot be read: {e}")));
                }
            }
        }
        rows
    }

    fn push(&mut self, header: &[String], record: &csv::StringRecord, into: &mut Reading) {
        let line = record.position().map_or(0, csv::Position::line);
        if record.iter().all(str::is_empty) {
            return;
        }
        if record.len() > header.len() {
            let message =
                format!("{} cells in a row of {}: put text with a comma in \"quotes\"", record.len(), header.len());
            into.faults.push(self.fault(line, header.last().map_or("", String::as_str), message));
            return;
        }
        let cells = header.iter().cloned().zip(record.iter().map(str::to_owned)).collect();
        self.rows.push(Row { file: self.file, line, cells });
    }

    fn fault(&self, line: u64, column: &str, message: String) -> Fault {
        Fault { file: self.file.into(), line, column: column.into(), message }
    }
}

impl Row {
    /// A cell's text; empty where the column is absent.
    pub fn get(&self, column: &str) -> &str {
        self.cells.get(column).map_or("", String::as_str)
    }

    /// A fault in a cell: what stands there, and what was expected.
    pub fn fault(&self, column: &str, expected: &str) -> Fault {
        self.says(column, format!("\"{}\" stands here; expected {expected}", self.get(column)))
    }

    pub fn says(&self, column: &str, message: String) -> Fault {
        Fault { file: self.file.into(), line: self.line, column: column.into(), message }
    }

    /// The core's word on a row: its field's last part names the column, as far as there is such a column.
    pub fn invalid(&self, invalid: Invalid, columns: &[(&str, &str)], otherwise: &str) -> Fault {
        let column = columns.iter().find(|(field, _)| *field == invalid.field).map_or(otherwise, |(_, column)| *column);
        self.says(column, invalid.message)
    }

    /// A cell that may be empty, parsed.
    pub fn optional<T: std::str::FromStr>(&self, column: &str, expected: &str) -> Result<Option<T>, Fault> {
        match self.get(column) {
            "" => Ok(None),
            text => text.parse().map(Some).map_err(|_| self.fault(column, expected)),
        }
    }

    /// A cell that may be empty and otherwise holds a number: a point begins its decimals.
    pub fn number(&self, column: &str, unit: Unit) -> Result<Option<f64>, Fault> {
        match self.get(column) {
            "" => Ok(None),
            text => {
                let read = number::read(text, &[unit], Written::InAFile);
                read.map(|n| Some(n.value)).map_err(|unread| self.says(column, unread.to_string()))
            }
        }
    }

    /// A cell that must not be empty, parsed.
    pub fn required<T: std::str::FromStr>(&self, column: &str, expected: &str) -> Result<T, Fault> {
        self.optional(column, expected)?.ok_or_else(|| self.fault(column, expected))
    }

    /// The parts of a cell that holds a list: `a;b`.
    pub fn list(&self, column: &str) -> impl Iterator<Item = &str> {
        self.get(column).split(';').map(str::trim).filter(|part| !part.is_empty())
    }

    /// A cell that says yes, no, or nothing.
    pub fn yes_or_no(&self, column: &str) -> Result<Option<bool>, Fault> {
        self.one_of(column, &[("", None), ("yes", Some(true)), ("no", Some(false))])
    }

    /// A cell that must be one of a list of words.
    pub fn one_of<T: Copy>(&self, column: &str, words: &[(&str, T)]) -> Result<T, Fault> {
        let text = self.get(column).to_ascii_lowercase();
        let found = words.iter().find(|(word, _)| *word == text).map(|(_, value)| *value);
        found.ok_or_else(|| {
            let list: Vec<_> = words.iter().map(|(w, _)| *w).filter(|w| !w.is_empty()).collect();
            self.fault(column, &format!("one of {}", list.join(", ")))
        })
    }
}
