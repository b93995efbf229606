//! Tables of intervals as utilities give them: a column of times and one of kilowatt-hours (RFC 4180).

use jiff::Timestamp;
use jiff::civil::DateTime;
use jiff::tz::TimeZone;

use super::{BadRecord, One, Record, in_a_row};

/// Lines before the header: utilities put names and account numbers there.
const PREFACE: usize = 20;
/// Ways in which times are written, beside ISO 8601.
const WRITTEN: &[&str] =
    &["%Y-%m-%d %H:%M", "%Y-%m-%d %I:%M %p", "%m/%d/%Y %H:%M:%S", "%m/%d/%Y %H:%M", "%m/%d/%Y %I:%M %p"];

/// Where the columns stand.
struct Columns {
    date: Option<usize>,
    time: usize,
    energy: usize,
    /// Watt-hours to a unit of it.
    unit: f64,
}

pub(super) fn read(text: &str, zone: &TimeZone) -> Result<Record, BadRecord> {
    let mut rows = csv::ReaderBuilder::new().has_headers(false).flexible(true).from_reader(text.as_bytes());
    let mut columns = None;
    let mut all: Vec<One> = Vec::new();
    for row in rows.records() {
        let row = row.map_err(|e| BadRecord::new(e.position().map_or(1, |p| line(p.line())), e.to_string()))?;
        let at = row.position().map_or(1, |p| line(p.line()));
        let Some(columns) = &columns else {
            columns = header(&row);
            if columns.is_none() && at > PREFACE {
                break;
            }
            continue;
        };
        let cell = |nth: usize| row.get(nth).unwrap_or_default().trim();
        if cell(columns.time).is_empty() && cell(columns.energy).is_empty() {
            continue;
        }
        let written = columns
            .date
            .map_or_else(|| cell(columns.time).to_owned(), |d| format!("{} {}", cell(d), cell(columns.time)));
        let start = moment(&written, zone, all.last().map(|one| one.start))
            .ok_or_else(|| BadRecord::new(at, format!("\"{written}\" is no time: 2026-01-17 18:15")))?;
        let kwh: f64 =
            cell(columns.energy).parse().ok().filter(|kwh: &f64| kwh.is_finite() && kwh.abs() < 10_000.0).ok_or_else(
                || BadRecord::new(at, format!("\"{}\" is no number of kilowatt-hours", cell(columns.energy))),
            )?;
        all.push(One { start, seconds: 0, watt_hours: columns.unit * kwh, line: at });
    }
    if columns.is_none() {
        return Err(BadRecord::new(
            1,
            "no columns \"time\" and \"kwh\" were found: is it the utility's file of intervals?",
        ));
    }
    with_durations(&mut all)?;
    Ok(Record { intervals: in_a_row(all, false)?, zone: None })
}

fn line(number: u64) -> usize {
    usize::try_from(number).unwrap_or(usize::MAX)
}

fn header(row: &csv::StringRecord) -> Option<Columns> {
    let names: Vec<String> = row.iter().map(|n| n.trim().trim_start_matches('\u{feff}').to_lowercase()).collect();
    let find = |which: &dyn Fn(&str) -> bool| names.iter().position(|n| which(n));
    let in_kwh = find(&|n| n.contains("kwh")).or_else(|| find(&|n| n == "usage" || n == "energy" || n == "value"));
    // "kwh" says watt-hours as well: only a word of its own is meant.
    let is_wh = |n: &str| n.split(|c: char| !c.is_alphanumeric()).any(|word| word == "wh");
    let in_wh = find(&is_wh);
    let (energy, unit) = in_wh.map(|at| (at, 1.0)).or_else(|| in_kwh.map(|at| (at, 1000.0)))?;
    let starts = find(&|n| n.contains("start") && n.contains("time")).or_else(|| {
        find(&|n| {
            n == "time"
                || n == "timestamp"
                || n == "datetime"
                || n == "date time"
                || n == "start"
                || n == "interval start"
        })
    });
    let date = find(&|n| n == "date" || n == "start date");
    match (date, starts) {
        (Some(date), Some(time)) => Some(Columns { date: Some(date), time, energy, unit }),
        (Some(time), None) | (None, Some(time)) => Some(Columns { date: None, time, energy, unit }),
        (None, None) => None,
    }
}

/// A time as it was written: with its offset, or by the clocks of the zone. The hour that comes twice in autumn is the second
/// one where the row before is not earlier.
fn moment(text: &str, zone: &TimeZone, before: Option<i64>) -> Option<i64> {
    if let Ok(exact) = text.parse::<Timestamp>() {
        return Some(exact.as_second());
    }
    let local = text
        .parse::<DateTime>()
        .ok()
        .or_else(|| WRITTEN.iter().find_map(|form| DateTime::strptime(form, text).ok()))?;
    let possible = zone.to_ambiguous_zoned(local);
    let earlier = possible.clone().earlier().ok()?.timestamp().as_second();
    let later = possible.later().ok()?.timestamp().as_second();
    Some(if before.is_some_and(|b| earlier <= b) { later } else { earlier })
}

/// A table says when intervals begin, not how long they are: as long as most are apart.
fn with_durations(all: &mut [One]) -> Result<(), BadRecord> {
    if let Some(pair) = all.windows(2).find(|pair| pair[1].start <= pair[0].start) {
        return Err(BadRecord::new(pair[1].line, "this row is not later than the one before"));
    }
    let mut apart: Vec<i64> = all.windows(2).map(|pair| pair[1].start - pair[0].start).collect();
    apart.sort_unstable();
    let step = *apart
        .get(apart.len().saturating_sub(1) / 2)
        .ok_or_else(|| BadRecord::new(1, "two rows at least are needed"))?;
    all.iter_mut().for_each(|one| one.seconds = step);
    Ok(())
}
