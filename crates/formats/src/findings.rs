//! What is wrong in a house, as a report to hand to an owner, an electrician or a buyer, and as a table.

use std::collections::{BTreeMap, BTreeSet};
use std::fmt::Write;

use jiff::civil::Date;
use wayfinder_core::House;
use wayfinder_core::audit::{Audit, Finding, Inspection};
use wayfinder_core::base::Said;
use wayfinder_core::house::{Panel, Picture, PictureOf, Saw, Subject};
use wayfinder_core::rules::{Rests, Severity};
use wayfinder_core::trace::Beliefs;
use wayfinder_core::view::{face, floor};
use wayfinder_core::words::short::capital;

use crate::card::Style;
use crate::draw::Print;
use crate::plan;
use crate::sheet::To;
use crate::work_sheet::{Row, SHEET_LEFT, SHEET_ROOM, SHEET_TOP, SHEET_WIDTH, drawn, headed, listed, paragraph};

/// What a report is made of.
pub struct Reported<'a> {
    /// The house,
    pub house: &'a House,
    /// what is believed of it,
    pub beliefs: &'a Beliefs,
    /// what is found,
    pub audit: &'a Audit,
    /// and what was looked at.
    pub inspection: &'a Inspection,
    /// The bytes of a picture by its digest, where they are at hand.
    pub picture: &'a dyn Fn(&str) -> Option<Vec<u8>>,
    /// The day.
    pub date: Option<Date>,
}

/// A report on sheets of letter size: the gravest first, each with its number, what one rule found told once; then what may wait,
/// what somebody said is not so, what is not known, and what nobody looked at. After that where all of it is: faces and plans with
/// the numbers, and pictures.
#[must_use]
pub fn report(of: &Reported<'_>) -> Print {
    let Reported { house, audit, inspection, .. } = *of;
    let mut rows: Vec<Row> = Vec::new();
    paragraph(&mut rows, &audit.said, Row::Strong);
    paragraph(
        &mut rows,
        "By what is entered, traced and measured, and what somebody looked at, in the order in which it is worth doing. Older work \
         may have been right in its day; it is asked for when it is altered. What is only worth improving may wait.",
        Row::Text,
    );
    for severity in Severity::ALL {
        let all: Vec<(usize, &Finding)> = numbered(audit).filter(|(_, f)| f.severity == *severity).collect();
        section(&mut rows, &capital(severity.said()), &all);
    }
    section(&mut rows, "May wait", &audit.later.iter().map(|f| (0, f)).collect::<Vec<_>>());
    section(&mut rows, "Said not to be so", &audit.not_so.iter().map(|f| (0, f)).collect::<Vec<_>>());
    let unknown: Vec<String> = audit.unknown.iter().map(|u| format!("{}: {}", capital(&u.what), u.check)).collect();
    listed(&mut rows, "Worth finding out", &unknown);
    let open: Vec<String> = inspection.open.iter().map(|ask| format!("{}: {}", ask.place, ask.said)).collect();
    listed(&mut rows, "Nobody looked at this yet", &open);
    let unclear = inspection.asked.iter().filter(|asked| asked.saw == Saw::CannotTell);
    let unclear: Vec<String> = unclear.map(|asked| format!("{}: {}", asked.ask.place, asked.ask.said)).collect();
    listed(&mut rows, "Looked at, and could not be told", &unclear);
    let day = of.date.map_or_else(String::new, |d| format!(" · {d}"));
    let name = &house.about.name;
    let under = format!("{name}{day}. Local code and the local authority decide.");
    let mut pages = drawn("Findings".to_owned(), under.clone(), &rows);
    pages.extend(faces(of, &under));
    pages.extend(plans(of));
    pages.extend(pictures(of, &under));
    Print { title: format!("Findings: {name}"), pages }
}

/// Findings with their numbers, in the order in which they are told: what one rule found together.
fn numbered(audit: &Audit) -> impl Iterator<Item = (usize, &Finding)> {
    let first = |of: &Finding| audit.findings.iter().position(|f| (f.rule, f.severity) == (of.rule, of.severity));
    let mut told: Vec<&Finding> = audit.findings.iter().collect();
    told.sort_by_key(|finding| (finding.severity, first(finding)));
    told.into_iter().enumerate().map(|(nth, finding)| (nth + 1, finding))
}

fn section(rows: &mut Vec<Row>, head: &str, findings: &[(usize, &Finding)]) {
    if findings.is_empty() {
        return;
    }
    rows.push(Row::Head(head.to_owned()));
    let mut told: Vec<&str> = Vec::new();
    for (_, first) in findings {
        if told.contains(&first.rule) {
            continue;
        }
        told.push(first.rule);
        paragraph(rows, first.title, Row::Strong);
        for (number, finding) in findings.iter().filter(|(_, f)| f.rule == first.rule) {
            let number = if *number == 0 { String::new() } else { format!("{number}. ") };
            let likely = if finding.rests == Rests::Likely { " (likely, not proven)" } else { "" };
            let cause = finding.cause.as_ref().map_or_else(String::new, |cause| format!(" It may come from {cause}."));
            let decided = finding.decided.as_ref().map_or_else(String::new, |decided| {
                let note = if decided.note.is_empty() { "put off" } else { &decided.note };
                format!(" {}: {note}.", decided.who)
            });
            let why = finding.why.trim_end_matches('.');
            paragraph(rows, &format!("{number}{}: {why}{likely}.{cause}{decided}", finding.place), Row::Text);
        }
        let takes = first.takes.as_ref().map_or_else(String::new, |takes| format!(" It takes {takes}."));
        paragraph(rows, &format!("What mends it, by {}: {}.{takes}", first.who.said(), first.cure), Row::Text);
        paragraph(rows, &first.source, Row::Text);
        rows.push(Row::Gap);
    }
}

/// Numbers at a thing: `2 7`.
fn marks<T: Ord>(audit: &Audit, of: impl Fn(&Finding) -> Option<T>) -> BTreeMap<T, String> {
    let mut marks: BTreeMap<T, String> = BTreeMap::new();
    for (number, finding) in numbered(audit) {
        if let Some(thing) = of(finding) {
            let mark = marks.entry(thing).or_default();
            let _ = write!(mark, "{}{number}", if mark.is_empty() { "" } else { " " });
        }
    }
    marks
}

/// A page for each panel with something at its breakers.
fn faces(of: &Reported<'_>, under: &str) -> Vec<String> {
    let marks = marks(of.audit, |f| f.breaker.filter(|_| f.point.is_none()));
    let in_panel = |panel: &&Panel| of.house.breakers_of(panel.id).iter().any(|b| marks.contains_key(&b.id));
    let page = |panel: &Panel| {
        let face = face::face(of.house, of.beliefs, panel);
        let mut sheet = headed("Where: the panel", under);
        let row = (SHEET_ROOM / (f64::from(face.rows) + 1.0)).min(24.0);
        crate::face::draw(sheet.raw(), &face, (SHEET_LEFT, SHEET_TOP), (SHEET_WIDTH, row), &marks);
        sheet.done()
    };
    of.house.panels_in_order().into_iter().filter(in_panel).map(page).collect()
}

/// A page for each drawn floor with something at its points.
fn plans(of: &Reported<'_>) -> Vec<String> {
    let marks = marks(of.audit, |f| f.point);
    let floors: BTreeSet<&str> = marks
        .keys()
        .filter_map(|point| of.house.points.get(*point))
        .filter_map(|point| of.house.rooms.get(point.room))
        .map(|room| room.floor.as_str())
        .collect();
    let about = &of.house.about;
    let page = |floor: &str| {
        let view = floor::view(of.house, of.beliefs, floor);
        plan::marked(&view, &about.name, about.lengths, plan::Scale::Fit, of.date, &marks).ok()
    };
    floors.into_iter().filter_map(page).collect()
}

/// Pictures of things at which something is found: two on a page.
fn pictures(of: &Reported<'_>, under: &str) -> Vec<String> {
    let about = |finding: &Finding, of: &PictureOf| match *of {
        PictureOf::Panel { panel } => finding.of == Subject::Panel(panel),
        PictureOf::Breaker { breaker } => finding.breaker == Some(breaker),
        PictureOf::Point { point } => finding.point == Some(point),
        PictureOf::Circuit { circuit } => finding.of == Subject::Circuit(circuit),
        PictureOf::Floor { .. } => false,
    };
    let mut shown: Vec<(String, &Picture, Vec<u8>)> = Vec::new();
    for picture in of.house.pictures.iter() {
        let numbers: Vec<String> = numbered(of.audit)
            .filter(|(_, finding)| about(finding, &picture.of))
            .map(|(number, _)| number.to_string())
            .collect();
        if let Some(bytes) = (of.picture)(&picture.digest).filter(|_| !numbers.is_empty()) {
            shown.push((numbers.join(", "), picture, bytes));
        }
    }
    let pages = shown.chunks(2).map(|two| {
        let mut sheet = headed("Pictures", under);
        for (nth, (numbers, picture, bytes)) in two.iter().enumerate() {
            let high = SHEET_ROOM / 2.0 - 30.0;
            let y = SHEET_TOP + nth as f64 * SHEET_ROOM / 2.0;
            let caption = format!("{numbers}: {}", picture.caption);
            sheet.words((SHEET_LEFT, y + 10.0), Style::Plain, 10.0, SHEET_WIDTH, To::Left, &caption);
            sheet.picture((SHEET_LEFT, y + 16.0), (SHEET_WIDTH, high), bytes);
        }
        sheet.done()
    });
    pages.collect()
}

/// RFC 4180, with a header.
///
/// # Errors
/// Where it cannot be written.
pub fn csv(audit: &Audit) -> Result<String, csv::Error> {
    let mut out = csv::WriterBuilder::new().terminator(csv::Terminator::CRLF).from_writer(Vec::new());
    out.write_record([
        "severity", "rule", "where", "why", "rests_on", "source", "who", "cure", "job", "state", "note", "cause",
        "takes",
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
            finding.cause.as_deref().unwrap_or_default(),
            finding.takes.as_deref().unwrap_or_default(),
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
    use wayfinder_core::house::{AsFound, Panel, PanelId, Remark, RemarkId, Remarks, Saw};
    use wayfinder_core::load::Loaded;
    use wayfinder_core::load::draws::draws;
    use wayfinder_core::trace::beliefs;

    use super::*;

    /// A panel with an open space, and with a screw missing of which somebody says that it is not so.
    fn found() -> (House, Audit, Inspection) {
        let mut house = House::new("Quill Cottage");
        house.panels.put(Panel::new(PanelId(1), "Main", 20));
        let says = |nth: u64, says: Remarks, note: &str| {
            let (id, time) = (RemarkId(nth), Timestamp::from_second(nth as i64).unwrap());
            Remark { id, of: PanelId(1).into(), says, time, who: "Fern".into(), note: note.into() }
        };
        let looked = |fact| Remarks::Looked { fact, saw: Saw::Yes };
        house.remarks.put(says(1, looked(AsFound::Opening), "beside 7, \"the lower one\""));
        house.remarks.put(says(2, looked(AsFound::Screws), ""));
        house.remarks.put(says(
            3,
            Remarks::NotSo { rule: "wrong-screws".into(), found: String::new() },
            "they are the maker's",
        ));
        house.remarks.put(says(4, Remarks::Looked { fact: AsFound::NoCover, saw: Saw::CannotTell }, ""));
        let all = beliefs(&house);
        let drawn = draws(&house, &all);
        let loaded = Loaded::new(&house, &all, &drawn);
        let now = Timestamp::from_second(9).unwrap();
        let found = audit(&KnownHouse { house: &house, beliefs: &all, loaded: &loaded, now });
        let open = inspection(&house, true);
        (house, found, open)
    }

    #[test]
    fn a_report_tells_what_where_why_who_and_what_nobody_looked_at() {
        let (house, audit, open) = found();
        let beliefs = beliefs(&house);
        let picture = |_: &str| None;
        let of = Reported {
            house: &house,
            beliefs: &beliefs,
            audit: &audit,
            inspection: &open,
            picture: &picture,
            date: None,
        };
        let pages = report(&of).pages.concat();
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

    // An independent reader finds the picture of what is wrong in the report.
    #[test]
    fn a_report_shows_pictures_of_what_is_found() {
        let (mut house, audit, open) = found();
        let of = PictureOf::Panel { panel: PanelId(1) };
        let (id, time) = (wayfinder_core::house::PictureId(5), Timestamp::from_second(5).unwrap());
        let (caption, digest) = ("the open space".to_owned(), "abc".to_owned());
        house.pictures.put(Picture { id, of, time, who: "Fern".into(), caption, width: 4, height: 3, digest });
        let mut bytes = std::io::Cursor::new(Vec::new());
        image::RgbImage::from_pixel(4, 3, image::Rgb([200, 30, 30]))
            .write_to(&mut bytes, image::ImageFormat::Jpeg)
            .unwrap();
        let bytes = bytes.into_inner();
        let picture = |digest: &str| (digest == "abc").then(|| bytes.clone());
        let beliefs = beliefs(&house);
        let of = Reported {
            house: &house,
            beliefs: &beliefs,
            audit: &audit,
            inspection: &open,
            picture: &picture,
            date: None,
        };
        let folder = tempfile::tempdir().unwrap();
        let file = folder.path().join("report.pdf");
        std::fs::write(&file, report(&of).put_out(crate::draw::Kind::Pdf).unwrap()).unwrap();
        let told =
            std::process::Command::new("pdfimages").arg("-list").arg(&file).output().expect("pdfimages is installed");
        let told = String::from_utf8(told.stdout).unwrap();
        assert!(
            told.lines().count() == 3 && told.contains(" 4     3 "),
            "a head of two lines, and the picture: {told}"
        );
    }

    // RFC 4180: a quotation mark within a field is doubled.
    #[test]
    fn a_table_of_findings_is_read_back_as_it_was() {
        let text = csv(&found().1).unwrap();
        assert!(text.contains("\"\"the lower one\"\""));
        let mut read = csv::Reader::from_reader(text.as_bytes());
        let rows: Vec<csv::StringRecord> = read.records().map(Result::unwrap).collect();
        let of = |rule: &str| rows.iter().find(|row| &row[1] == rule).unwrap();
        assert_eq!((&of("open-space")[0], &of("open-space")[9]), ("dangerous", "open"));
        assert_eq!((&of("wrong-screws")[9], &of("wrong-screws")[10]), ("not so", "they are the maker's"));
    }
}
