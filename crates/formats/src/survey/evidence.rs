//! `evidence.csv`: observations.

use std::collections::BTreeSet;

use jiff::Timestamp;
use jiff::civil::{Date, DateTime};
use jiff::tz::TimeZone;
use wayfinder_core::Change;
use wayfinder_core::base::position::parse_poles;
use wayfinder_core::base::units::Amps;
use wayfinder_core::house::{BreakerId, Evidence, EvidenceId, House, Observation, PanelId};
use wayfinder_core::words::number::Unit;

use super::BadRows;
use super::cells::{FAULTS, SEEN, TRIED, WAS_OFF, WAYS, some, word};
use super::rows::{Columns, Fault, File, Last, NOTHING_TO_TIE, Reading, Row, Rows, Taken, cells, names};

pub const FILE: File = File {
    name: "evidence.csv",
    must: &["off", "point", "how"],
    columns: || names(COLUMNS),
    take: NOTHING_TO_TIE,
    tie: NOTHING_TO_TIE,
    last: Some(Last { says, columns: &[("evidence.who", "who")], otherwise: "point" }),
    write: |house| house.evidence.iter().map(|e| cells(COLUMNS, house, e)).collect(),
};

const COLUMNS: Columns<Evidence> = &[
    ("time", |_, e| e.time.to_string()),
    ("panel", |_, _| String::new()),
    ("off", |house, e| match &e.observation {
        Observation::Tried { off: None, .. } => String::new(),
        Observation::Power { off, .. } | Observation::Tried { off: Some(off), .. } if off.is_empty() => NONE.into(),
        other => other.breakers().filter_map(|b| written_breaker(house, b)).collect::<Vec<_>>().join(";"),
    }),
    ("point", |house, e| some(house.points.get(e.point).map(|p| &p.tag))),
    ("seen", |_, e| match &e.observation {
        Observation::Power { seen, .. } => word(SEEN, *seen),
        Observation::Tried { was_off, .. } => word(WAS_OFF, *was_off),
        Observation::Fault { fault } => word(FAULTS, *fault),
        Observation::Pointed { .. }
        | Observation::Wire { .. }
        | Observation::Landed { .. }
        | Observation::Rise { .. } => String::new(),
    }),
    ("how", |_, e| match &e.observation {
        Observation::Power { how, .. } => word(WAYS, *how),
        Observation::Pointed { .. } => RECEIVER.into(),
        Observation::Wire { .. } => WIRE.into(),
        Observation::Landed { .. } => LANDED.into(),
        Observation::Rise { .. } => LOAD.into(),
        Observation::Tried { cause, .. } => word(TRIED, *cause),
        Observation::Fault { .. } => FAULT.into(),
    }),
    ("who", |_, e| e.who.clone()),
    ("expected", |_, e| amps(e, |expected, _| expected)),
    ("rose", |_, e| amps(e, |_, rose| rose)),
];

fn amps(e: &Evidence, which: impl Fn(Amps, Amps) -> Amps) -> String {
    match &e.observation {
        Observation::Rise { expected, rose, .. } => which(*expected, *rose).0.to_string(),
        _ => String::new(),
    }
}

/// A breaker by its place, with its panel where that is not the first.
pub fn written_breaker(house: &House, id: BreakerId) -> Option<String> {
    let breaker = house.breakers.get(id)?;
    let panel = house.panels.get(breaker.panel)?;
    let is_first = house.panels_in_order().first().is_some_and(|first| first.id == panel.id);
    let prefix = if is_first { String::new() } else { format!("{}:", panel.name) };
    Some(format!("{prefix}{}", breaker.at_text()))
}

/// Adds observations to a house. `now` is the time of rows that name none.
///
/// # Errors
/// All faults found, where there are any and bad rows are refused.
pub fn record(house: House, text: &str, now: Timestamp, bad: BadRows) -> Result<Taken, Vec<Fault>> {
    let revision = house.revision;
    let mut reading = Reading::new(house, now);
    let rows = Rows::read(&FILE, text, &mut reading);
    FILE.last.iter().for_each(|last| reading.take_many(&rows, last));
    // One file is one change.
    reading.house.revision = revision + 1;
    reading.finish(bad)
}

/// What is done beside looking for power, and how it stands in the column.
const WIRE: &str = "wire";
const LANDED: &str = "landed";
/// Nothing was off.
const NONE: &str = "none";
const LOAD: &str = "load";
const RECEIVER: &str = "receiver";
const FAULT: &str = "fault";

fn says(house: &House, row: &Row, now: Timestamp, before: u64) -> Result<Change, Fault> {
    let point = house.point_tagged(row.get("point")).ok_or_else(|| row.fault("point", "the tag of a point"))?.id;
    let off = off_set(house, row)?;
    let observation = observation(row, off)?;
    let evidence = Evidence {
        id: EvidenceId(house.evidence.iter().next_back().map_or(0, |e| e.id.0) + 1 + before),
        point,
        time: time(row, now)?,
        who: Some(row.get("who")).filter(|w| !w.is_empty()).unwrap_or("survey").into(),
        step: None,
        observation,
    };
    Ok(Change::Record { evidence })
}

fn observation(row: &Row, off: BTreeSet<BreakerId>) -> Result<Observation, Fault> {
    let mut named = off.iter().copied();
    let mut the_one = |what| match (named.next(), named.next()) {
        (Some(at), None) => Ok(at),
        _ => Err(row.fault("off", what)),
    };
    let amps = |column| {
        let read = row.number(column, Unit::A)?;
        read.map(Amps).ok_or_else(|| row.fault(column, "amps"))
    };
    match row.get("how").to_ascii_lowercase().as_str() {
        RECEIVER => Ok(Observation::Pointed { at: the_one("the one breaker that the receiver pointed at")? }),
        WIRE => Ok(Observation::Wire { at: the_one("the one breaker that the wire was followed to")? }),
        LANDED => Ok(Observation::Landed { at: the_one("the one breaker on which the work landed it")? }),
        LOAD => {
            let at = the_one("the one breaker whose current was measured")?;
            Ok(Observation::Rise { at, expected: amps("expected")?, rose: amps("rose")? })
        }
        FAULT => Ok(Observation::Fault { fault: row.one_of("seen", FAULTS)? }),
        how if how.starts_with("tried-") => {
            let (cause, was_off) = (row.one_of("how", TRIED)?, row.one_of("seen", WAS_OFF)?);
            let noted = !row.get("off").is_empty();
            Ok(Observation::Tried { cause, was_off, off: noted.then_some(off) })
        }
        _ => {
            let ways = "one of tester, lamp, light, radio, meter, receiver, load, wire, landed, word, fault, tried-switch, \
                        tried-lamp, tried-device";
            let how = row.one_of("how", WAYS).map_err(|_| row.fault("how", ways))?;
            Ok(Observation::Power { off, seen: row.one_of("seen", SEEN)?, how })
        }
    }
}

/// `7;9-11`, or `Annex:3` for a breaker of another panel than the row's.
fn off_set(house: &House, row: &Row) -> Result<BTreeSet<BreakerId>, Fault> {
    let here = panel(house, row)?;
    let parts = row.get("off").split(';').map(str::trim).filter(|p| !p.is_empty() && *p != NONE);
    parts.map(|part| off_breaker(house, row, here, part)).collect()
}

pub fn panel(house: &House, row: &Row) -> Result<Option<PanelId>, Fault> {
    match row.get("panel") {
        "" => Ok(house.panels_in_order().first().map(|p| p.id)),
        name => match house.panel_named(name) {
            Some(panel) => Ok(Some(panel.id)),
            None => Err(row.fault("panel", "the name of a panel")),
        },
    }
}

pub fn off_breaker(house: &House, row: &Row, here: Option<PanelId>, part: &str) -> Result<BreakerId, Fault> {
    let (panel, at) = match part.split_once(':') {
        Some((name, at)) => (house.panel_named(name).map(|p| p.id), at),
        None => (here, part),
    };
    let found = panel.zip(parse_poles(at).ok()).and_then(|(panel, at)| match at.as_slice() {
        // One space of a two-pole breaker names it as well.
        [one] => house.breaker_at(panel, &at).or_else(|| house.breaker_over(panel, *one)),
        _ => house.breaker_at(panel, &at),
    });
    let message = format!("\"{part}\" is no breaker of this panel; expected positions like 7;9-11");
    found.map(|b| b.id).ok_or_else(|| row.says("off", message))
}

/// ISO 8601, with or without a zone (then taken as UTC), or a date alone.
pub fn time(row: &Row, now: Timestamp) -> Result<Timestamp, Fault> {
    time_in(row, "time").map(|time| time.unwrap_or(now))
}

/// The same in any column; nothing where it is empty.
pub fn time_in(row: &Row, column: &str) -> Result<Option<Timestamp>, Fault> {
    let text = row.get(column);
    if text.is_empty() {
        return Ok(None);
    }
    let civil = || text.parse::<DateTime>().or_else(|_| text.parse::<Date>().map(|d| d.at(0, 0, 0, 0))).ok();
    let utc = |t: DateTime| t.to_zoned(TimeZone::UTC).ok().map(|z| z.timestamp());
    let parsed = text.parse::<Timestamp>().ok().or_else(|| civil().and_then(utc));
    parsed.map(Some).ok_or_else(|| row.fault(column, "a time like 2026-03-01T10:30"))
}
