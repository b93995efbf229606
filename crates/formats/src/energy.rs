//! Energy records as utilities give them: Green Button (NAESB ESPI, Atom XML) and tables of intervals (CSV); and their
//! numbers as they are kept.

mod green_button;
mod table;

use jiff::Timestamp;
use jiff::tz::TimeZone;
use wayfinder_core::base::units::Seconds;
use wayfinder_core::house::LONGEST_STEP;
use wayfinder_core::load::energy::Intervals;

/// A record as it was read.
#[derive(Debug, Clone, PartialEq)]
pub struct Record {
    /// Its numbers.
    pub intervals: Intervals,
    /// The time zone that the file says of itself.
    pub zone: Option<String>,
}

/// What is wrong with a file, with the line where it stands.
#[derive(Debug, Clone, PartialEq, Eq, thiserror::Error)]
#[error("line {line}: {message}")]
pub struct BadRecord {
    /// The line, from 1.
    pub line: usize,
    /// What is wrong.
    pub message: String,
}

impl BadRecord {
    fn new(line: usize, message: impl Into<String>) -> Self {
        Self { line, message: message.into() }
    }
}

/// Most intervals that are kept: forty years of quarters of an hour.
const MOST: usize = 1_500_000;

/// Reads a record, whichever way it is written. Local times in a table are of this zone.
///
/// # Errors
/// Where the file is no such thing, with the line.
pub fn read(text: &str, zone: &TimeZone) -> Result<Record, BadRecord> {
    let start = text.trim_start_matches('\u{feff}').trim_start();
    if start.is_empty() {
        return Err(BadRecord::new(1, "the file is empty"));
    }
    if start.starts_with('<') { green_button::read(text) } else { table::read(text, zone) }
}

/// One measured interval, wherever it came from.
#[derive(Debug, Clone, Copy, PartialEq)]
struct One {
    start: i64,
    seconds: i64,
    watt_hours: f64,
    line: usize,
}

/// Puts intervals in a row; what is missing in between stays missing.
fn in_a_row(mut all: Vec<One>, reverse: bool) -> Result<Intervals, BadRecord> {
    all.sort_by_key(|one| one.start);
    let Some(first) = all.first().copied() else { return Err(BadRecord::new(1, "there are no intervals in the file")) };
    let step = all.iter().map(|one| one.seconds).min().unwrap_or(first.seconds);
    if step < 60 || step as f64 > LONGEST_STEP.0 {
        return Err(BadRecord::new(
            first.line,
            format!("intervals of {step} s say nothing of demand: a minute to an hour, please"),
        ));
    }
    let last = all.last().map_or(first.start, |one| one.start + one.seconds);
    let count = usize::try_from((last - first.start) / step).unwrap_or(usize::MAX);
    if count > MOST {
        return Err(BadRecord::new(first.line, "the record spans more than forty years: is a time wrong?"));
    }
    let mut watt_hours = vec![f32::NAN; count];
    for one in &all {
        // A longer one among shorter ones is spread over them: its demand is no larger than its mean.
        let parts = (one.seconds / step).max(1);
        if one.seconds % step != 0 || (one.start - first.start) % step != 0 {
            return Err(BadRecord::new(
                one.line,
                format!("this interval does not fit among those of {} min", step / 60),
            ));
        }
        let at = usize::try_from((one.start - first.start) / step).unwrap_or(usize::MAX);
        for n in 0..usize::try_from(parts).unwrap_or(1) {
            if let Some(place) = watt_hours.get_mut(at + n) {
                *place = (one.watt_hours / parts as f64) as f32;
            }
        }
    }
    let start = Timestamp::from_second(first.start).map_err(|e| BadRecord::new(first.line, e.to_string()))?;
    let reverse = reverse || watt_hours.iter().any(|wh| *wh < 0.0);
    Ok(Intervals { start, step: Seconds(step as f64), watt_hours, reverse })
}

/// The numbers as they are kept: four bytes each.
#[must_use]
pub fn packed(intervals: &Intervals) -> Vec<u8> {
    intervals.watt_hours.iter().flat_map(|wh| wh.to_le_bytes()).collect()
}

/// The numbers as they were kept.
#[must_use]
pub fn unpacked(start: Timestamp, step: Seconds, reverse: bool, bytes: &[u8]) -> Intervals {
    let number = |four: &[u8]| four.try_into().map_or(f32::NAN, f32::from_le_bytes);
    Intervals { start, step, watt_hours: bytes.chunks(4).map(number).collect(), reverse }
}
