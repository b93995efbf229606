//! Worksheets of a service's load by every method, on one page.

use std::fmt::Write;

use jiff::civil::Date;
use wayfinder_core::load::service::{MethodAnswer, Sheet};

use crate::draw::{escape, wrapped};

/// A letter sheet in points, and its margins.
const WIDTH: f64 = 612.0;
const HEIGHT: f64 = 792.0;
const MARGIN: f64 = 42.0;
const TITLE: f64 = 18.0;
/// Size of text where all fits, and the smallest that is read at arm's length.
const TEXT: f64 = 9.5;
const SMALLEST: f64 = 5.5;
/// Lines stand apart by so many sizes of their text, and letters are about so wide.
const LEADING: f64 = 1.35;
const LETTER: f64 = 0.52;

/// A line of the page.
enum Row {
    Head(String),
    Entry(String, String, String),
    Note(String),
    Gap,
}

/// Draws the worksheets; where they are many the text is smaller.
#[must_use]
pub fn svg(house: &str, asked: &str, answers: &[MethodAnswer], date: Option<Date>) -> String {
    let rows = |size: f64| -> Vec<Row> {
        let letters = ((WIDTH - 2.0 * MARGIN) / (LETTER * size)) as usize;
        answers.iter().flat_map(|a| of_answer(a, letters)).collect()
    };
    let room = HEIGHT - 2.0 * MARGIN - 3.0 * TITLE;
    let mut size = TEXT;
    while size > SMALLEST && rows(size).len() as f64 * LEADING * size > room {
        size -= 0.25;
    }
    let mut out = format!(
        r##"<svg xmlns="http://www.w3.org/2000/svg" width="8.5in" height="11in" viewBox="0 0 {WIDTH} {HEIGHT}" font-family="Overpass, 'Overpass Variable', sans-serif" fill="#000"><rect width="{WIDTH}" height="{HEIGHT}" fill="#fff"/>"##
    );
    let of = if asked.is_empty() { "as it stands".to_owned() } else { format!("with {asked} added") };
    let day = date.map_or_else(String::new, |d| format!(" · {d}"));
    let top = MARGIN + TITLE;
    let _ = write!(
        out,
        r#"<text x="{MARGIN}" y="{top}" font-size="{TITLE}" font-weight="700">{}</text>"#,
        escape(&format!("{house}: load of the service"))
    );
    let _ = write!(
        out,
        r#"<text x="{MARGIN}" y="{}" font-size="10">{}</text>"#,
        top + 15.0,
        escape(&format!("{of}{day}. Local code and the local authority decide."))
    );
    let mut y = top + 15.0 + TITLE;
    for row in rows(size) {
        y += LEADING * size;
        draw_row(&mut out, &row, y, size);
    }
    out + "</svg>"
}

fn draw_row(out: &mut String, row: &Row, y: f64, size: f64) {
    let right = WIDTH - MARGIN;
    let _ = match row {
        Row::Gap => Ok(()),
        Row::Head(text) => write!(
            out,
            r#"<text x="{MARGIN}" y="{y:.2}" font-size="{:.2}" font-weight="700">{}</text>"#,
            size + 1.0,
            escape(text)
        ),
        Row::Note(text) => write!(
            out,
            r#"<text x="{MARGIN}" y="{y:.2}" font-size="{size:.2}" font-style="italic">{}</text>"#,
            escape(text)
        ),
        Row::Entry(what, va, source) => write!(
            out,
            r#"<text x="{MARGIN}" y="{y:.2}" font-size="{size:.2}">{}</text><text x="{:.2}" y="{y:.2}" font-size="{size:.2}" text-anchor="end">{}</text><text x="{right}" y="{y:.2}" font-size="{:.2}" text-anchor="end">{}</text>"#,
            escape(what),
            right - 145.0,
            escape(va),
            size - 1.0,
            escape(source)
        ),
    };
}

fn of_answer(answer: &MethodAnswer, letters: usize) -> Vec<Row> {
    let mut rows = vec![Row::Head(answer.title.to_owned())];
    if let Some(missing) = &answer.missing {
        rows.extend(wrapped(&format!("Not reckoned: {missing}."), letters).map(Row::Note));
    }
    if let Some(sheet) = answer.then.as_ref().or(answer.now.as_ref()) {
        rows.extend(of_sheet(sheet, letters));
    }
    rows.push(Row::Gap);
    rows
}

fn of_sheet(sheet: &Sheet, letters: usize) -> Vec<Row> {
    let mut rows = Vec::new();
    for line in &sheet.lines {
        // What does not fit beside its figure goes on in the lines below.
        let mut parts: Vec<String> = wrapped(&line.what, letters * 3 / 5).collect();
        let first = parts.remove(0);
        rows.push(Row::Entry(first, format!("{:.0} VA", line.va.0), line.source.to_owned()));
        rows.extend(parts.into_iter().map(|part| Row::Entry(format!("  {part}"), String::new(), String::new())));
    }
    rows.push(Row::Entry("in all".into(), format!("{:.0} VA = {:.1} A", sheet.va.0, sheet.amps.0), String::new()));
    if let Some(neutral) = sheet.neutral_amps {
        rows.push(Row::Entry("neutral".into(), format!("{:.1} A", neutral.0), "NEC 220.61".into()));
    }
    rows.extend(wrapped(&sheet.said, letters).map(Row::Head));
    rows.extend(sheet.notes.iter().flat_map(|note| wrapped(note, letters)).map(Row::Note));
    rows
}
