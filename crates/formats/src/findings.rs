//! What is wrong in a house, as a report to hand to an owner, an electrician or a buyer, and as a table.

use jiff::civil::Date;
use wayfinder_core::audit::{Audit, Finding, Inspection};
use wayfinder_core::base::Said;
use wayfinder_core::house::Saw;
use wayfinder_core::rules::{Rests, Severity};
use wayfinder_core::words::short::capital;

use crate::work_sheet::{Row, drawn, listed, paragraph};

/// The pages of a report, each a drawing of letter size: the gravest first, what one rule found told once; then what may wait, what
/// somebody said is not so, and what nobody looked at.
#[must_use]
pub fn report(house: &str, audit: &Audit, inspection: &Inspection, date: Option<Date>) -> Vec<String> {
    let mut rows: Vec<Row> = Vec::new();
    paragraph(&mut rows, &audit.said, Row::Strong);
    paragraph(
        &mut rows,
        "By what is entered, traced and measured, and what somebody looked at. Older work may have been right in its day; it is asked for when it is altered.",
        Row::Text,
    );
    for severity in Severity::ALL {
        let all: Vec<&Finding> = audit.findings.iter().filter(|f| f.severity == *severity).collect();
        section(&mut rows, &capital(severity.said()), &all);
    }
    section(&mut rows, "May wait", &audit.later.iter().collect::<Vec<_>>());
    section(&mut rows, "Said not to be so", &audit.not_so.iter().collect::<Vec<_>>());
    let open: Vec<String> = inspection.open.iter().map(|ask| format!("{}: {}", ask.place, ask.said)).collect();
    listed(&mut rows, "Nobody looked at this yet", &open);
    let unclear = inspection.asked.iter().filter(|asked| asked.saw == Saw::CannotTell);
    let unclear: Vec<String> = unclear.map(|asked| format!("{}: {}", asked.place, asked.said)).collect();
    listed(&mut rows, "Looked at, and could not be told", &unclear);
    let day = date.map_or_else(String::new, |d| format!(" · {d}"));
    drawn("Findings".to_owned(), format!("{house}{day}. Local code and the local authority decide."), &rows)
}

fn section(rows: &mut Vec<Row>, head: &str, findings: &[&Finding]) {
    if findings.is_empty() {
        return;
    }
    rows.push(Row::Head(head.to_owned()));
    let mut told: Vec<&str> = Vec::new();
    for first in findings {
        if told.contains(&first.rule) {
            continue;
        }
        told.push(first.rule);
        paragraph(rows, first.title, Row::Strong);
        for finding in findings.iter().filter(|f| f.rule == first.rule) {
            let likely = if finding.rests == Rests::Likely { " (likely, not proven)" } else { "" };
            let decided = finding.decided.as_ref().map_or_else(String::new, |decided| {
                let note = if decided.note.is_empty() { "put off" } else { &decided.note };
                format!(" {}: {note}.", decided.who)
            });
            paragraph(rows, &format!("{}: {}{likely}.{decided}", finding.place, finding.why), Row::Text);
        }
        paragraph(rows, &format!("What mends it, by {}: {}.", first.who.said(), first.cure), Row::Text);
        paragraph(rows, &first.source, Row::Text);
        rows.push(Row::Gap);
    }
}

/// RFC 4180, with a header.
///
/// # Errors
/// Where it cannot be written.
pub fn csv(audit: &Audit) -> Result<String, csv::Error> {
    let mut out = csv::WriterBuilder::new().terminator(csv::Terminator::CRLF).from_writer(Vec::new());
    out.write_record([
        "severity", "rule", "where", "why", "rests_on", "source", "who", "cure", "job", "state", "note",
    ])?;
    let lists = [("open", &audit.findings), ("later", &audit.later), ("not so", &audit.not_so)];
    for (state, finding) in lists.into_iter().flat_map(|(state, all)| all.iter().map(move |f| (state, f))) {
        let rests = match finding.rests {
            Rests::Entered => "entered",
            Rests::Proven => "proven",
            Rests::Likely => "likely",
        };
        let note = finding.decided.as_ref().map_or("", |decided| decided.note.as_str());
        out.write_record([
            finding.severity.said(),
            finding.rule,
            &finding.place,
            &finding.why,
            rests,
            &finding.source,
            finding.who.said(),
            finding.cure,
            finding.job.unwrap_or_default(),
            state,
            note,
        ])?;
    }
    let bytes = out.into_inner().map_err(|e| e.into_error())?;
    Ok(String::from_utf8_lossy(&bytes).into_owned())
}

#[cfg(test)]
#[allow(clippy::unwrap_used, reason = "a test that cannot go on fails")]
mod tests {
    use jiff::Timestamp;
    use wayfinder_core::audit::{KnownHouse, audit, inspection};
    use wayfinder_core::house::{AsFound, House, Panel, PanelId, Remark, RemarkId, Remarks, Saw};
    use wayfinder_core::load::Loaded;
    use wayfinder_core::load::draws::draws;
    use wayfinder_core::trace::beliefs;

    use super::*;

    /// A panel with an open space, and with a screw missing of which somebody says that it is not so.
    fn found() -> (Audit, Inspection) {
        let mut house = House::new("Quill Cottage");
        house.panels.put(Panel::new(PanelId(1), "Main", 20));
        let says = |nth: u64, says: Remarks, note: &str| {
            let (id, time) = (RemarkId(nth), Timestamp::from_second(nth as i64).unwrap());
            Remark { id, of: PanelId(1).into(), says, time, who: "Fern".into(), note: note.into() }
        };
        let looked = |fact| Remarks::Looked { fact, saw: Saw::Yes };
        house.remarks.put(says(1, looked(AsFound::Opening), "beside 7, \"the lower one\""));
        house.remarks.put(says(2, looked(AsFound::Screws), ""));
        house.remarks.put(says(3, Remarks::NotSo { rule: "wrong-screws".into() }, "they are the maker's"));
        house.remarks.put(says(4, Remarks::Looked { fact: AsFound::NoCover, saw: Saw::CannotTell }, ""));
        let all = beliefs(&house);
        let drawn = draws(&house, &all);
        let loaded = Loaded::new(&house, &all, &drawn);
        let now = Timestamp::from_second(9).unwrap();
        let found = audit(&KnownHouse { house: &house, beliefs: &all, loaded: &loaded, now });
        (found, inspection(&house, true))
    }

    #[test]
    fn a_report_tells_what_where_why_who_and_what_nobody_looked_at() {
        let (audit, open) = found();
        let pages = report("Quill Cottage", &audit, &open, None).concat();
        for said in [
            "1 dangerous",
            "An open space without a closer",
            "beside 7",
            "a qualified person",
            "NEC 408.7",
            "maker",
            "smell burnt",
            "could not be told",
            "neutral bar",
        ] {
            assert!(pages.contains(said), "{said}: {pages}");
        }
    }

    // RFC 4180: a quotation mark within a field is doubled.
    #[test]
    fn a_table_of_findings_is_read_back_as_it_was() {
        let text = csv(&found().0).unwrap();
        assert!(text.contains("\"\"the lower one\"\""));
        let mut read = csv::Reader::from_reader(text.as_bytes());
        let rows: Vec<csv::StringRecord> = read.records().map(Result::unwrap).collect();
        let of = |rule: &str| rows.iter().find(|row| &row[1] == rule).unwrap();
        assert_eq!((&of("open-space")[0], &of("open-space")[9]), ("dangerous", "open"));
        assert_eq!((&of("wrong-screws")[9], &of("wrong-screws")[10]), ("not so", "they are the maker's"));
    }
}
