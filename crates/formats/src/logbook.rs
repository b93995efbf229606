//! The logbook as lines for people and as CSV.

use jiff::Timestamp;
use serde::Serialize;
use utoipa::ToSchema;
use wayfinder_core::House;
use wayfinder_core::house::{BreakerId, Event, LogEntry, LogId, Outcome, PanelId, PointId};
use wayfinder_core::service::{Trouble, judge};

/// Sorts of lines.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, serde::Deserialize, ToSchema)]
#[serde(rename_all = "kebab-case")]
pub enum LineKind {
    /// A breaker tripped.
    Trip,
    /// A breaker was reset.
    Reset,
    /// A test button was pressed.
    Test,
    /// Voltages were read.
    Volts,
    /// A note.
    Note,
    /// The map or anything else of the house was changed.
    Change,
}

/// One line.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
pub struct Line {
    /// When.
    #[schema(value_type = String, format = DateTime)]
    pub time: Timestamp,
    /// Who.
    pub who: String,
    /// What sort.
    pub kind: LineKind,
    /// The entry of the logbook, where it is one.
    pub entry: Option<LogId>,
    /// The panel it is about, by name.
    pub panel: String,
    /// The breaker it is about, as written.
    pub at: String,
    /// What happened.
    pub text: String,
    /// The note beside it.
    pub note: String,
    /// The panel's id.
    pub panel_id: Option<PanelId>,
    /// The breaker's id.
    pub breaker_id: Option<BreakerId>,
}

/// The lines of the house's logbook, newest first.
#[must_use]
pub fn lines(house: &House) -> Vec<Line> {
    let mut lines: Vec<Line> = house.log.iter().map(|e| line(house, e)).collect();
    lines.sort_by_key(|l| std::cmp::Reverse(l.time));
    lines
}

fn line(house: &House, e: &LogEntry) -> Line {
    let breaker = e.event.breaker().and_then(|b| house.breakers.get(b));
    let panel = breaker.map(|b| b.panel).or_else(|| e.event.panel()).and_then(|p| house.panels.get(p));
    let (kind, text) = words(house, &e.event);
    Line {
        time: e.time,
        who: e.who.clone(),
        kind,
        entry: Some(e.id),
        panel: panel.map_or_else(String::new, |p| p.name.clone()),
        at: breaker.map_or_else(String::new, |b| b.at_text()),
        text,
        note: e.note.clone(),
        panel_id: panel.map(|p| p.id),
        breaker_id: breaker.map(|b| b.id),
    }
}

fn words(house: &House, event: &Event) -> (LineKind, String) {
    let tag = |p: &PointId| house.points.get(*p).map_or_else(String::new, |p| p.tag.clone());
    let tags = |points: &std::collections::BTreeSet<PointId>| points.iter().map(tag).collect::<Vec<_>>().join(" ");
    let passed = |passed: &bool| if *passed { "test passed" } else { "TEST FAILED" };
    match event {
        Event::Trip { running, .. } if running.is_empty() => (LineKind::Trip, "tripped".into()),
        Event::Trip { running, .. } => (LineKind::Trip, format!("tripped; running: {}", tags(running))),
        Event::Reset { running, outcome, .. } => {
            let how = match outcome {
                Outcome::Held => "held",
                Outcome::AtOnce => "TRIPPED AT ONCE",
                Outcome::Later => "tripped later",
            };
            let with = if running.is_empty() { "nothing on".into() } else { format!("on: {}", tags(running)) };
            (LineKind::Reset, format!("reset, {how}; {with}"))
        }
        Event::BreakerTest { passed: p, .. } => (LineKind::Test, passed(p).into()),
        Event::DeviceTest { point, passed: p } => (LineKind::Test, format!("{} {}", tag(point), passed(p))),
        Event::Volts { panel, reading } => {
            let third = reading.c_n.map_or_else(String::new, |c| format!(", C-N {}", c.0));
            let numbers = format!("A-N {}, B-N {}, A-B {} V{third}", reading.a_n.0, reading.b_n.0, reading.a_b.0);
            let supply = house.panels.get(*panel).map(|p| p.supply);
            let troubles = supply.map(|s| judge(reading, s).troubles).unwrap_or_default();
            let trouble = troubles.first().map_or("", |t| match t {
                Trouble::OpenNeutral => "; OPEN NEUTRAL SUSPECTED",
                Trouble::LostLeg { .. } => "; A LEG IS LOST",
                Trouble::NoPower => "; no power",
                Trouble::OtherSupply => "; another supply than recorded",
                Trouble::DoNotFit => "; the numbers fit no supply",
            });
            (LineKind::Volts, format!("{numbers}{trouble}"))
        }
        Event::Note { .. } => (LineKind::Note, String::new()),
    }
}

/// Lines as CSV (RFC 4180).
///
/// # Errors
/// Where the text cannot be written; memory only.
pub fn csv(lines: &[Line]) -> Result<String, csv::Error> {
    let mut out = csv::WriterBuilder::new().terminator(csv::Terminator::CRLF).from_writer(Vec::new());
    out.write_record(["time", "who", "kind", "panel", "at", "what", "note"])?;
    for l in lines {
        let kind = match l.kind {
            LineKind::Trip => "trip",
            LineKind::Reset => "reset",
            LineKind::Test => "test",
            LineKind::Volts => "volts",
            LineKind::Note => "note",
            LineKind::Change => "change",
        };
        out.write_record([&l.time.to_string(), &l.who, kind, &l.panel, &l.at, &l.text, &l.note])?;
    }
    let bytes = out.into_inner().map_err(|e| e.into_error())?;
    Ok(String::from_utf8_lossy(&bytes).into_owned())
}
