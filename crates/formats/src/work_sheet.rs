//! A plan of work as a sheet to take along, and the protocol of a job: large type, boxes to tick, expected readings.

use std::fmt::Write;

use jiff::Zoned;
use jiff::civil::Date;
use wayfinder_core::base::Said;
use wayfinder_core::house::{Ending, Hold, Job, JobStep, Part, StepDone};
use wayfinder_core::job::Plan;
use wayfinder_core::words::short::capital;

use crate::draw::{escape, wrapped};
use crate::sheet::Paper;

/// A letter sheet in points, and its margins.
const WIDTH: f64 = 612.0;
const HEIGHT: f64 = 792.0;
const MARGIN: f64 = 42.0;
const TITLE: f64 = 20.0;
/// Read at arm's length in poor light.
const TEXT: f64 = 12.5;
const LEADING: f64 = 1.4;
/// Letters are about so wide, in sizes of their text.
const LETTER: f64 = 0.5;

/// A line of a sheet.
pub(crate) enum Row {
    Head(String),
    Text(String),
    Strong(String),
    /// A box to tick, with the first line of a step.
    Box(String, bool),
    Gap,
}

impl Row {
    fn height(&self) -> f64 {
        match self {
            Self::Gap => 0.6 * TEXT,
            Self::Head(_) => 1.9 * TEXT,
            _ => LEADING * TEXT,
        }
    }
}

/// What is left of a sheet below its head, in points.
pub(crate) const SHEET_ROOM: f64 = HEIGHT - 2.0 * MARGIN - TITLE - 26.0;

/// Where the room of a sheet begins, and how wide it is, in points.
pub(crate) const SHEET_LEFT: f64 = MARGIN;
pub(crate) const SHEET_TOP: f64 = MARGIN + TITLE + 26.0;
pub(crate) const SHEET_WIDTH: f64 = WIDTH - 2.0 * MARGIN;

/// A sheet of letter size with its head, to draw on.
pub(crate) fn headed(title: &str, under: &str) -> Paper {
    let mut pages = Pages { title: title.to_owned(), under: under.to_owned(), pages: Vec::new(), y: 0.0 };
    pages.turn();
    Paper::begun(pages.pages.pop().unwrap_or_default())
}

struct Pages {
    title: String,
    under: String,
    pages: Vec<String>,
    y: f64,
}

/// The pages of a plan, each a drawing of letter size.
#[must_use]
pub fn of_plan(house: &str, plan: &Plan, date: Option<Date>) -> Vec<String> {
    let day = date.map_or_else(String::new, |d| format!(" · {d}"));
    let mut rows: Vec<Row> = Vec::new();
    paragraph(&mut rows, &plan.who.said, Row::Text);
    paragraph(&mut rows, plan.permit, Row::Text);
    if !plan.spared.is_empty() {
        paragraph(&mut rows, &plan.spared, Row::Text);
    }
    let minutes = format!("About {} minutes for practised hands, {} the first time.", plan.minutes, plan.minutes_first);
    paragraph(&mut rows, &minutes, Row::Text);
    listed(&mut rows, "Stays live", &plan.stays_live);
    listed(&mut rows, "Mind", &plan.cautions);
    let parts = plan.parts.iter().map(part);
    let tools = format!("tools: {}", plan.tools.join(", "));
    listed(&mut rows, "At hand", &parts.chain([tools]).collect::<Vec<_>>());
    listed(&mut rows, "What changes", &plan.changes);
    steps(&mut rows, &plan.steps, |_| None);
    rows.push(Row::Head("If something goes wrong".into()));
    for mishap in &plan.mishaps {
        paragraph(&mut rows, mishap.what, Row::Strong);
        paragraph(&mut rows, &mishap.then, Row::Text);
        rows.push(Row::Gap);
    }
    drawn(plan.title.clone(), format!("{house}{day}. Local code and the local authority decide."), &rows)
}

/// A part with its count, in a line.
#[must_use]
pub fn part(part: &Part) -> String {
    let count = match (part.count, part.unit.as_str()) {
        (0, _) => "to measure".to_owned(),
        (n, "") => n.to_string(),
        (n, unit) => format!("{n} {unit}"),
    };
    let note = if part.note.is_empty() { String::new() } else { format!(" ({})", part.note) };
    format!("{count} × {}{note}", part.what)
}

/// The pages of lists under their heads.
#[must_use]
pub fn of_list(title: &str, under: &str, lists: &[(&str, Vec<String>)]) -> Vec<String> {
    let mut rows: Vec<Row> = Vec::new();
    for (head, lines) in lists.iter().filter(|(_, lines)| !lines.is_empty()) {
        rows.push(Row::Head((*head).to_owned()));
        for line in lines {
            let mut parts = wrapped(line, letters() - 4);
            rows.push(Row::Box(parts.next().unwrap_or_default(), false));
            rows.extend(parts.map(|more| Row::Text(format!("      {more}"))));
        }
    }
    drawn(title.to_owned(), under.to_owned(), &rows)
}

/// The pages of a job's protocol; times by the clock of `zone`.
#[must_use]
pub fn of_job(house: &str, job: &Job, zone: &jiff::tz::TimeZone) -> Vec<String> {
    let at = |time: jiff::Timestamp| -> String {
        let local: Zoned = time.to_zoned(zone.clone());
        local.strftime("%Y-%m-%d %H:%M").to_string()
    };
    let mut rows = Vec::new();
    paragraph(&mut rows, &format!("Begun {} by {}.", at(job.begun), job.who), Row::Text);
    let end = match (job.ending(), job.ended) {
        (Some(Ending::Finished), Some(end)) => {
            format!("Finished {}: the last check passed, and the house is as planned.", at(end))
        }
        (Some(Ending::GivenUp), Some(end)) => format!("Given up {}: the record of the house is as it was.", at(end)),
        _ => "Not finished.".to_owned(),
    };
    paragraph(&mut rows, &end, Row::Strong);
    if let Some(stopped) = &job.stopped {
        paragraph(&mut rows, &format!("Stopped {} by {}: {}", at(stopped.time), stopped.who, stopped.why), Row::Strong);
    }
    steps(&mut rows, &job.steps, |step| {
        let of = |done: &&StepDone| done.step == step.key;
        let lines: Vec<String> = job.done.iter().filter(of).map(|done| was_done(done, &at(done.time))).collect();
        (!lines.is_empty()).then_some((job.has_passed(&step.key), lines))
    });
    drawn(job.title.clone(), format!("{house}: protocol of the work"), &rows)
}

fn was_done(done: &StepDone, time: &str) -> String {
    let value = done
        .value
        .map_or_else(String::new, |v| format!("{v:.1} V{}, ", if done.loaded { " in low impedance" } else { "" }));
    let passed = if done.passed { "" } else { "did not pass, " };
    let why = if done.why.is_empty() { String::new() } else { format!("; the one before: {}", done.why) };
    let void = if done.void.is_empty() { String::new() } else { format!("; counts no more: {}", done.void) };
    let noted = if done.noted.is_empty() { String::new() } else { format!("{}, ", done.noted) };
    format!("{value}{noted}{passed}{time}, {}{why}{void}", done.who)
}

/// Steps under their heads; what was done of each, where that is known.
fn steps(rows: &mut Vec<Row>, steps: &[JobStep], done: impl Fn(&JobStep) -> Option<(bool, Vec<String>)>) {
    let mut stage = None;
    for (nth, step) in steps.iter().enumerate() {
        if stage != Some(step.stage) {
            stage = Some(step.stage);
            rows.push(Row::Head(capital(step.stage.said())));
        }
        let was = done(step);
        let ticked = was.as_ref().is_some_and(|(passed, _)| *passed);
        let said = format!("{}. {}", nth + 1, step.what);
        let mut lines = wrapped(&said, letters() - 4);
        rows.push(Row::Box(lines.next().unwrap_or_default(), ticked));
        rows.extend(lines.map(|line| Row::Text(format!("      {line}"))));
        if let Some(hold) = &step.hold {
            rows.extend(wrapped(&band(hold), letters() - 8).map(|line| Row::Strong(format!("      {line}"))));
            if was.is_none() {
                rows.push(Row::Strong("      read: ________ V".into()));
            }
        }
        if !step.note.is_empty() && was.is_none() {
            rows.push(Row::Strong(format!("      {}: ________", step.note)));
        }
        for line in was.into_iter().flat_map(|(_, lines)| lines) {
            rows.push(Row::Text(format!("      {line}")));
        }
    }
}

fn band(hold: &Hold) -> String {
    let likely = hold.likely.filter(|v| *v > 0.0).map_or_else(String::new, |v| format!(", likely {v:.0}"));
    format!("{:.0} to {:.0} V between {}{likely}", hold.expect.from, hold.expect.to, hold.between)
}

fn letters() -> usize {
    ((WIDTH - 2.0 * MARGIN) / (LETTER * TEXT)) as usize
}

pub(crate) fn paragraph(rows: &mut Vec<Row>, text: &str, row: fn(String) -> Row) {
    rows.extend(wrapped(text, letters()).map(row));
}

pub(crate) fn listed(rows: &mut Vec<Row>, head: &str, lines: &[String]) {
    if lines.is_empty() {
        return;
    }
    rows.push(Row::Head(head.into()));
    for line in lines {
        let mut parts = wrapped(line, letters() - 3);
        rows.push(Row::Text(format!("•  {}", parts.next().unwrap_or_default())));
        rows.extend(parts.map(|part| Row::Text(format!("    {part}"))));
    }
}

/// The pages of rows under a title, each a drawing of letter size.
pub(crate) fn drawn(title: String, under: String, rows: &[Row]) -> Vec<String> {
    let mut pages = Pages { title, under, pages: Vec::new(), y: 0.0 };
    pages.turn();
    for (nth, row) in rows.iter().enumerate() {
        // What begins something does not stand alone at the foot of a page.
        let begins = !matches!(row, Row::Text(_) | Row::Gap);
        let needs = row.height() + if begins { rows.get(nth + 1).map_or(0.0, Row::height) } else { 0.0 };
        if pages.y + needs > HEIGHT - MARGIN {
            pages.turn();
        }
        pages.y += row.height();
        pages.draw(row);
    }
    pages.pages.into_iter().map(|page| page + "</svg>").collect()
}

impl Pages {
    /// A new page with its head.
    fn turn(&mut self) {
        let number = self.pages.len() + 1;
        let top = MARGIN + TITLE;
        let size =
            if self.title.chars().count() > 44 { TITLE * 44.0 / self.title.chars().count() as f64 } else { TITLE };
        self.pages.push(format!(
            r##"<svg xmlns="http://www.w3.org/2000/svg" width="8.5in" height="11in" viewBox="0 0 {WIDTH} {HEIGHT}" font-family="Overpass, 'Overpass Variable', sans-serif" fill="#000"><rect width="{WIDTH}" height="{HEIGHT}" fill="#fff"/><text x="{MARGIN}" y="{top}" font-size="{size:.1}" font-weight="700">{}</text><text x="{MARGIN}" y="{}" font-size="10">{}</text><text x="{}" y="{top}" font-size="10" text-anchor="end">{number}</text>"##,
            escape(&self.title),
            top + 16.0,
            escape(&self.under),
            WIDTH - MARGIN,
        ));
        self.y = top + 26.0;
    }

    fn draw(&mut self, row: &Row) {
        let y = self.y;
        let Some(out) = self.pages.last_mut() else { return };
        let mut text = |x: f64, weight: u32, size: f64, text: &str| {
            let _ = write!(
                out,
                r#"<text x="{x:.1}" y="{y:.1}" font-size="{size:.1}" font-weight="{weight}" xml:space="preserve">{}</text>"#,
                escape(text)
            );
        };
        match row {
            Row::Gap => {}
            Row::Head(head) => text(MARGIN, 700, TEXT + 2.0, head),
            Row::Text(line) => text(MARGIN, 400, TEXT, line),
            Row::Strong(line) => text(MARGIN, 700, TEXT, line),
            Row::Box(line, ticked) => {
                text(MARGIN + 22.0, 400, TEXT, line);
                let (side, top) = (TEXT, y - TEXT + 1.5);
                let _ = write!(
                    out,
                    r##"<rect x="{MARGIN}" y="{top:.1}" width="{side}" height="{side}" fill="none" stroke="#000" stroke-width="1.2"/>"##
                );
                if *ticked {
                    let (x, y) = (MARGIN + 2.5, top + 6.5);
                    let _ = write!(
                        out,
                        r##"<path d="M{x:.1} {y:.1}l3 3.5 5-8" fill="none" stroke="#000" stroke-width="1.6"/>"##
                    );
                }
            }
        }
    }
}
