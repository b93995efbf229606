//! A panel's schedule, with its equipment list, as drawings and as a table. (handbook 4)

use jiff::civil::Date;
use wayfinder_core::base::Said;
use wayfinder_core::base::units::VoltAmperes;
use wayfinder_core::directory::{Equipment, Schedule, ScheduleRow};

use crate::card::{Style, width};
use crate::draw::Print;
use crate::sheet::{Paper, To};

/// A letter sheet, lying.
const PAGE: (f64, f64) = (792.0, 612.0);
const MARGIN: f64 = 30.0;
const HEAD: f64 = 46.0;
/// Room for the sums below.
const FOOT: f64 = 52.0;
/// Widths of a side's columns: the number, poles, amperes, protection, and of each leg's VA.
const NUMBER: f64 = 36.0;
const POLES: f64 = 14.0;
const AMPS: f64 = 28.0;
const PROTECTION: f64 = 18.0;
const VA: f64 = 31.0;
/// Rows of the panel at the most, and those of the equipment.
const TALLEST: f64 = 24.0;
const ROW: f64 = 17.0;

/// The schedule and the equipment list, on sheets of letter size lying.
#[must_use]
pub fn print(schedule: &Schedule, date: Option<Date>) -> Print {
    let mut pages = vec![panel(schedule, date)];
    pages.extend(schedule.equipment.chunks(26).map(|rows| equipment(schedule, rows)));
    Print { title: format!("Schedule: panel {}", schedule.panel), pages }
}

fn head(schedule: &Schedule, what: &str, date: Option<Date>) -> Paper {
    let mut paper = Paper::new(PAGE, &format!("{what}: panel {}", schedule.panel));
    let wide = PAGE.0 - 2.0 * MARGIN;
    paper.words(
        (MARGIN, MARGIN + 12.0),
        Style::Strong,
        15.0,
        wide * 0.6,
        To::Left,
        &format!("{what}: panel {}", schedule.panel),
    );
    let day = date.map_or_else(String::new, |date| format!("{date}, "));
    let right = format!("{}; {day}rev. {}", schedule.house, schedule.revision);
    paper.words((MARGIN + wide * 0.6, MARGIN + 12.0), Style::Plain, 8.0, wide * 0.4, To::Right, &right);
    let under = format!("{}; bus {}. {}.", schedule.supply, schedule.bus, schedule.fed_from);
    paper.words((MARGIN, MARGIN + 26.0), Style::Plain, 9.0, wide, To::Left, &under);
    paper
}

fn panel(schedule: &Schedule, date: Option<Date>) -> String {
    let mut paper = head(schedule, "Schedule", date);
    let half = PAGE.0 / 2.0 - MARGIN;
    let rows = schedule.rows.iter().map(|row| row.top + row.height).max().unwrap_or(2).div_ceil(2);
    let top = MARGIN + HEAD;
    let high = ((PAGE.1 - top - MARGIN - FOOT) / f64::from(rows)).min(TALLEST);
    for left in [true, false] {
        titles(&mut paper, schedule, left, half, top - 3.0);
    }
    for row in &schedule.rows {
        let y = top + f64::from(row.top) * high / 2.0;
        let tall = f64::from(row.height) * high / 2.0;
        side(&mut paper, schedule, row, (y, tall), half);
    }
    let bottom = top + f64::from(rows) * high;
    paper.line((PAGE.0 / 2.0, top), (PAGE.0 / 2.0, bottom), 1.2);
    sums(&mut paper, schedule, bottom + 14.0);
    paper.done()
}

/// Where a side's columns begin, from the spine outward, with their widths: number, poles, amperes, protection, words, each leg.
fn columns(legs: usize, left: bool, half: f64) -> Vec<(f64, f64)> {
    let words = half - NUMBER - POLES - AMPS - PROTECTION - VA * legs as f64;
    let widths = [NUMBER, POLES, AMPS, PROTECTION, words].into_iter().chain(std::iter::repeat_n(VA, legs));
    let mut from = 0.0;
    widths
        .map(|wide| {
            let x = if left { PAGE.0 / 2.0 - from - wide } else { PAGE.0 / 2.0 + from };
            from += wide;
            (x, wide)
        })
        .collect()
}

fn titles(paper: &mut Paper, schedule: &Schedule, left: bool, half: f64, y: f64) {
    let legs = schedule.legs.iter().map(|leg| format!("VA {}", leg.said()));
    let said = ["No.", "P", "A", "", "Feeds"].map(str::to_owned).into_iter().chain(legs);
    for ((x, wide), said) in columns(schedule.legs.len(), left, half).into_iter().zip(said) {
        let to = if said == "Feeds" { To::Left } else { To::Middle };
        paper.words((x + 2.0, y), Style::Strong, 6.5, wide - 4.0, to, &said);
    }
}

fn side(paper: &mut Paper, schedule: &Schedule, row: &ScheduleRow, (y, tall): (f64, f64), half: f64) {
    let columns = columns(schedule.legs.len(), row.left, half);
    let size = (tall * 0.55).clamp(5.0, 8.0);
    let room = columns[4].1 - 4.0;
    let fits = |words: &&String| width(words, Style::Plain, size) <= room;
    let feeds = std::iter::once(&row.feeds).chain(&row.short).find(fits).or(row.short.last()).unwrap_or(&row.feeds);
    let middle = y + tall / 2.0 + size * 0.35;
    let (from, to) = if row.left { (PAGE.0 / 2.0 - half, PAGE.0 / 2.0) } else { (PAGE.0 / 2.0, PAGE.0 / 2.0 + half) };
    paper.frame((from, y), (to - from, tall), "");
    let poles = if row.poles > 0 { row.poles.to_string() } else { String::new() };
    let amps = row.amps.map_or_else(String::new, |amps| amps.0.to_string());
    let style = if row.proven { Style::Plain } else { Style::Slanted };
    let said = [
        (Style::Number, To::Middle, row.at.clone()),
        (Style::Number, To::Middle, poles),
        (Style::Number, To::Middle, amps),
        (Style::Number, To::Middle, row.protection.to_owned()),
        (style, To::Left, feeds.clone()),
    ];
    let loads =
        row.va.iter().map(|va| (Style::Number, To::Right, if va.0 > 0.0 { va.0.to_string() } else { String::new() }));
    for ((x, wide), (style, to, said)) in columns.into_iter().zip(said.into_iter().chain(loads)) {
        paper.words((x + 2.0, middle), style, size, wide - 4.0, to, &said);
    }
}

fn sums(paper: &mut Paper, schedule: &Schedule, y: f64) {
    let legs = |all: &[VoltAmperes]| {
        let each: Vec<String> =
            schedule.legs.iter().zip(all).map(|(leg, va)| format!("{} {} VA", leg.said(), va.0)).collect();
        let whole: f64 = all.iter().map(|va| va.0).sum();
        format!("{}; in all {whole} VA", each.join(", "))
    };
    let unknown = match schedule.unknown {
        0 => String::new(),
        n => format!(" Of {n} points nobody said what draws there or what feeds it: they are in no sum."),
    };
    let lines = [
        format!("Connected, by nameplates: {}.", legs(&schedule.connected)),
        format!("Demand, at the usual peak: {}.{unknown}", legs(&schedule.demand)),
        format!(
            "{} with nothing found on it, {} bare. P: poles. Slanted, with a question mark: not proven. Test before you touch.",
            schedule.idle, schedule.bare
        ),
    ];
    let mut y = y;
    for line in lines {
        y = paper.paragraph((MARGIN, y), Style::Plain, 8.5, PAGE.0 - 2.0 * MARGIN, &line);
    }
}

const EQUIPMENT: [(&str, f64); 10] = [
    ("Tag", 40.0),
    ("What", 130.0),
    ("Where", 100.0),
    ("No.", 44.0),
    ("V", 34.0),
    ("Ph", 24.0),
    ("A", 44.0),
    ("MCA", 44.0),
    ("MOP", 44.0),
    ("Conductors", 228.0),
];

/// An equipment's row, in words.
fn cells(row: &Equipment) -> [String; 10] {
    let amps = |amps: Option<wayfinder_core::base::units::Amps>| {
        amps.map_or_else(String::new, |amps| format!("{:.1}", amps.0))
    };
    [
        row.tag.clone(),
        row.name.clone(),
        row.place.clone(),
        row.at.clone(),
        u16::from(row.volts).to_string(),
        row.phases.to_string(),
        amps(row.amps),
        amps(row.mca),
        amps(row.mop),
        if row.conductors.is_empty() { "not entered".to_owned() } else { row.conductors.clone() },
    ]
}

fn equipment(schedule: &Schedule, rows: &[Equipment]) -> String {
    let mut paper = head(schedule, "Equipment", None);
    let mut y = MARGIN + HEAD + 8.0;
    let mut line = |paper: &mut Paper, style: Style, cells: &[String]| {
        let mut x = MARGIN;
        for ((_, wide), said) in EQUIPMENT.iter().zip(cells) {
            paper.words((x + 2.0, y), style, 8.5, wide - 4.0, To::Left, said);
            x += wide;
        }
        paper.line((MARGIN, y + 5.0), (x, y + 5.0), 0.3);
        y += ROW;
    };
    line(&mut paper, Style::Strong, &EQUIPMENT.map(|(title, _)| title.to_owned()));
    for row in rows {
        line(&mut paper, Style::Plain, &cells(row));
    }
    let said = "MCA: least current of its circuit. MOP: largest breaker. Amperes by the nameplate.";
    paper.words((MARGIN, PAGE.1 - MARGIN), Style::Plain, 8.0, PAGE.0 - 2.0 * MARGIN, To::Left, said);
    paper.done()
}

/// Both as one table: RFC 4180, with a header; `list` tells circuits and equipment apart.
///
/// # Errors
/// Where it cannot be written.
pub fn csv(schedule: &Schedule) -> Result<String, csv::Error> {
    let mut out = csv::WriterBuilder::new().terminator(csv::Terminator::CRLF).from_writer(Vec::new());
    out.write_record([
        "list",
        "panel",
        "at",
        "poles",
        "amps",
        "what",
        "proven",
        "protection",
        "va_a",
        "va_b",
        "va_c",
        "point",
        "where",
        "volts",
        "phases",
        "mca",
        "mop",
        "conductors",
    ])?;
    let panel = schedule.panel.as_str();
    for row in &schedule.rows {
        let va = |nth: usize| row.va.get(nth).map_or_else(String::new, |va| va.0.to_string());
        let amps = row.amps.map_or_else(String::new, |amps| amps.0.to_string());
        let (poles, proven) = (row.poles.to_string(), if row.proven { "yes" } else { "no" });
        out.write_record([
            "circuit",
            panel,
            &row.at,
            &poles,
            &amps,
            &row.feeds,
            proven,
            row.protection,
            &va(0),
            &va(1),
            &va(2),
            "",
            "",
            "",
            "",
            "",
            "",
            "",
        ])?;
    }
    for row in &schedule.equipment {
        let [tag, name, place, at, volts, phases, amps, mca, mop, _] = &cells(row);
        out.write_record([
            "equipment",
            panel,
            at,
            "",
            amps,
            name,
            "",
            "",
            "",
            "",
            "",
            tag,
            place,
            volts,
            phases,
            mca,
            mop,
            &row.conductors,
        ])?;
    }
    let bytes = out.into_inner().map_err(|e| e.into_error())?;
    Ok(String::from_utf8_lossy(&bytes).into_owned())
}
