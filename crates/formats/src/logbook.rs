//! The logbook as lines for people and as CSV.

use jiff::Timestamp;
use serde::Serialize;
use utoipa::ToSchema;
use wayfinder_core::House;
use wayfinder_core::answers::service::{Trouble, judge};
use wayfinder_core::audit::{Gone, gone};
use wayfinder_core::base::Said;
use wayfinder_core::house::{BreakerId, Event, JobId, LogEntry, LogId, Outcome, PanelId, PointId, Run};
use wayfinder_core::words::things::by_tags;

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
    /// Work in a panel.
    Work,
    /// A run of tracing or a round of measuring.
    Run,
    /// What became of a finding.
    Finding,
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
    /// The job whose end it is, with its protocol.
    pub job: Option<JobId>,
}

/// The lines of the house's logbook, newest first.
#[must_use]
pub fn lines(house: &House) -> Vec<Line> {
    let mut lines: Vec<Line> = house.log.iter().map(|e| line(house, e)).chain(house.runs.iter().map(run)).collect();
    lines.extend(gone(house).into_iter().map(settled));
    lines.sort_by_key(|l| std::cmp::Reverse(l.time));
    lines
}

fn line(house: &House, e: &LogEntry) -> Line {
    let breaker = e.event.breaker().and_then(|b| house.breakers.get(b));
    let panel = breaker.map(|b| b.panel).or_else(|| e.event.panel()).and_then(|p| house.panels.get(p));
    let (kind, text) = words(house, &e.event);
    let job = if let Event::Worked { job } = e.event { Some(job) } else { None };
    Line {
        job,
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

/// What became of a finding.
fn settled(gone: Gone) -> Line {
    Line {
        job: None,
        time: gone.time,
        who: gone.who,
        kind: LineKind::Finding,
        entry: None,
        panel: String::new(),
        at: String::new(),
        text: gone.said,
        note: gone.note,
        panel_id: None,
        breaker_id: None,
    }
}

/// A run stands where it began.
fn run(run: &Run) -> Line {
    let people = if run.crew.people > 1 { "two people" } else { "alone" };
    let counted = |n: u64, one: &str, many: &str| format!("{n} {}", if n == 1 { one } else { many });
    let done = match &run.round {
        Some(round) => {
            format!("a round of measuring, {}", counted(round.done.len() as u64, "place read", "places read"))
        }
        None => format!(
            "tracing, {people}: {}, {}",
            counted(run.steps.into(), "order", "orders"),
            counted(run.outages.into(), "outage", "outages")
        ),
    };
    let ended = run.ended.map_or("; goes on".to_owned(), |ended| {
        format!("; {} min", (ended.duration_since(run.begun).as_secs() + 59) / 60)
    });
    Line {
        job: None,
        time: run.begun,
        who: String::new(),
        kind: LineKind::Run,
        entry: None,
        panel: String::new(),
        at: String::new(),
        text: format!("{done}{ended}"),
        note: String::new(),
        panel_id: None,
        breaker_id: None,
    }
}

fn words(house: &House, event: &Event) -> (LineKind, String) {
    let tag =
        |p: &PointId| house.points.get(*p).map_or_else(String::new, |p| by_tags(house, std::slice::from_ref(&p.tag)));
    let named = |points: &std::collections::BTreeSet<PointId>| {
        let tags: Vec<String> = points.iter().filter_map(|p| house.points.get(*p)).map(|p| p.tag.clone()).collect();
        by_tags(house, &tags)
    };
    let passed = |passed: &bool| if *passed { "test passed" } else { "TEST FAILED" };
    match event {
        Event::Trip { running, manner, .. } => {
            let how = manner.map_or_else(String::new, |manner| format!(" {}", manner.said()));
            let with = if running.is_empty() { String::new() } else { format!("; running: {}", named(running)) };
            (LineKind::Trip, format!("tripped{how}{with}"))
        }
        Event::Mended { .. } => (LineKind::Work, "mended: tried anew".into()),
        Event::Reset { running, outcome, .. } => {
            let how = match outcome {
                Outcome::Held => "held",
                Outcome::AtOnce => "TRIPPED AT ONCE",
                Outcome::Later => "tripped later",
            };
            let with = if running.is_empty() { "nothing on".into() } else { format!("on: {}", named(running)) };
            (LineKind::Reset, format!("reset, {how}; {with}"))
        }
        Event::BreakerTest { passed: p, .. } => (LineKind::Test, passed(p).into()),
        Event::DeviceTest { point, passed: p } => (LineKind::Test, format!("{}: {}", tag(point), passed(p))),
        Event::Volts { panel, reading } => {
            let more = [("C-N", reading.c_n), ("B-C", reading.b_c), ("C-A", reading.c_a)];
            let third: String = more.iter().filter_map(|(name, v)| v.map(|v| format!(", {name} {}", v.0))).collect();
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
        Event::Worked { .. } => (LineKind::Work, String::new()),
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
            LineKind::Work => "work",
            LineKind::Run => "run",
            LineKind::Finding => "finding",
            LineKind::Note => "note",
            LineKind::Change => "change",
        };
        out.write_record([&l.time.to_string(), &l.who, kind, &l.panel, &l.at, &l.text, &l.note])?;
    }
    let bytes = out.into_inner().map_err(|e| e.into_error())?;
    Ok(String::from_utf8_lossy(&bytes).into_owned())
}

#[cfg(test)]
mod tests {
    use super::*;
    use wayfinder_core::Change;
    use wayfinder_core::base::position::parse_poles;
    use wayfinder_core::base::units::{Amps, Volts};
    use wayfinder_core::house::{
        AsFound, Breaker, Panel, Point, PointKind, Remark, RemarkId, Remarks, Room, RoomId, Saw, ServiceReading,
    };

    fn logged(events: Vec<Event>) -> House {
        let mut changes = vec![
            Change::PutPanel { panel: Panel::new(PanelId(1), "Main", 8) },
            Change::PutBreaker {
                breaker: Breaker::new(BreakerId(2), PanelId(1), parse_poles("1-3").unwrap(), Amps(30.0)),
            },
            Change::PutRoom { room: Room::new(RoomId(3), "Hall", "1") },
            Change::PutPoint {
                point: Point { ground_fault: true, ..Point::new(PointId(4), "H1", RoomId(3), PointKind::Receptacle) },
            },
        ];
        for (nth, event) in (1_u64..).zip(events) {
            let time = Timestamp::from_second(i64::try_from(nth).unwrap()).unwrap();
            let entry = LogEntry { id: LogId(nth), time, who: "Wren".into(), event, note: "a \"note\"".into() };
            changes.push(Change::Log { entry });
        }
        House::new("Quill").apply(&Change::Batch { changes }).unwrap().house
    }

    #[test]
    fn every_event_says_itself_newest_first() {
        let (breaker, point, panel) = (BreakerId(2), PointId(4), PanelId(1));
        let volts = |a: f64, b: f64, ab: f64| Event::Volts {
            panel,
            reading: ServiceReading { a_n: Volts(a), b_n: Volts(b), a_b: Volts(ab), c_n: None, b_c: None, c_a: None },
        };
        let house = logged(vec![
            Event::Trip { breaker, running: [point].into(), manner: None },
            Event::Reset { breaker, running: [].into(), outcome: Outcome::Held },
            Event::Reset { breaker, running: [point].into(), outcome: Outcome::Later },
            Event::BreakerTest { breaker, passed: true },
            Event::DeviceTest { point, passed: false },
            volts(120.0, 121.0, 241.0),
            volts(95.0, 145.0, 240.0),
            Event::Note { panel: None },
        ]);
        let texts: Vec<_> = lines(&house).into_iter().map(|l| (l.at, l.text)).rev().collect();
        let expected = [
            ("1-3", "tripped; running: Hall receptacle (H1)"),
            ("1-3", "reset, held; nothing on"),
            ("1-3", "reset, tripped later; on: Hall receptacle (H1)"),
            ("1-3", "test passed"),
            ("", "Hall receptacle (H1): TEST FAILED"),
            ("", "A-N 120, B-N 121, A-B 241 V"),
            ("", "A-N 95, B-N 145, A-B 240 V; OPEN NEUTRAL SUSPECTED"),
            ("", ""),
        ];
        assert_eq!(texts.len(), expected.len());
        for ((at, text), (place, words)) in texts.iter().zip(expected) {
            assert_eq!((at.as_str(), text.as_str()), (place, words));
        }
    }

    // A finding that goes away is noted, with who looked again.
    #[test]
    fn what_became_of_a_finding_stands_in_the_log() {
        let mut house = logged(Vec::new());
        let looked = |saw| Remarks::Looked { fact: AsFound::Opening, saw };
        let until = Timestamp::from_second(86_400 * 40).unwrap();
        let says = [
            (looked(Saw::No), ""),
            (looked(Saw::Yes), "beside 7"),
            (looked(Saw::No), "closed"),
            (Remarks::NotSo { rule: "wrong-screws".into(), found: String::new() }, "they are the maker's"),
            (Remarks::Later { rule: "no-card".into(), until }, ""),
        ];
        for (nth, (says, note)) in (1_u64..).zip(says) {
            let (id, time) = (RemarkId(nth), Timestamp::from_second(i64::try_from(nth).unwrap()).unwrap());
            let remark = Remark { id, of: PanelId(1).into(), says, time, who: "Fern".into(), note: note.into() };
            house = house.apply(&Change::PutRemark { remark }).unwrap().house;
        }
        let told: Vec<(String, String)> = lines(&house).into_iter().map(|l| (l.text, l.note)).collect();
        let expected = [
            ("put off until 1970-02-10: A panel without a card (panel Main)", ""),
            ("said not to be so: Wrong or missing screws in a cover (panel Main)", "they are the maker's"),
            ("no longer found: An open space without a closer (panel Main)", "closed"),
        ];
        assert_eq!(told, expected.map(|(text, note)| (text.to_owned(), note.to_owned())));
    }

    // RFC 4180: quotes are doubled, lines end with CRLF.
    #[test]
    fn the_table_quotes_what_must_be_quoted() {
        let table = csv(&lines(&logged(vec![Event::Note { panel: Some(PanelId(1)) }]))).unwrap();
        assert_eq!(table.lines().nth(1).unwrap(), "1970-01-01T00:00:01Z,Wren,note,Main,,,\"a \"\"note\"\"\"");
        assert_eq!(table.matches("\r\n").count(), 2);
    }
}
