//! Small labels to cut out after work in a panel: the circuit's number and panel for the back of cover plates, and tags for wires,
//! a hot and its neutral together. (handbook 4)

use std::collections::BTreeSet;
use std::fmt::Write;

use wayfinder_core::House;
use wayfinder_core::house::{Breaker, BreakerId, Job, MeasuredAt};
use wayfinder_core::trace::Beliefs;

use crate::draw::escape;

/// A letter sheet in points, its margins, and how many labels stand on it.
const WIDTH: f64 = 612.0;
const HEIGHT: f64 = 792.0;
const MARGIN: f64 = 36.0;
const COLUMNS: usize = 3;
const ROWS: usize = 12;
/// More letters than these of the large or the small line are drawn narrower.
const LARGE: (f64, usize) = (17.0, 15);
const SMALL: (f64, usize) = (9.0, 34);

/// A label.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct Tag {
    /// The circuit: panel and place.
    pub large: String,
    /// What it is for.
    pub small: String,
}

/// Labels for what a job touched, as the house stands now: of each breaker its wires, then the plates of what it feeds. What is
/// not proven is marked so.
#[must_use]
pub fn of_job(house: &House, beliefs: &Beliefs, job: &Job) -> Vec<Tag> {
    let placed = job.steps.iter().filter_map(|step| step.place.and_then(MeasuredAt::breaker));
    let touched: BTreeSet<BreakerId> = job.stood.breakers.iter().map(|b| b.id).chain(placed).collect();
    let mut there: Vec<&Breaker> = touched.iter().filter_map(|b| house.breakers.get(*b)).collect();
    there.sort_by_key(|b| (b.panel, b.at.clone()));
    there.into_iter().flat_map(|breaker| [wires(house, breaker), plates(house, beliefs, breaker)].concat()).collect()
}

fn wires(house: &House, breaker: &Breaker) -> Vec<Tag> {
    let large = house.breaker_name(breaker);
    let circuits = house.circuits_of(breaker.id);
    let neutral = breaker.at.len() == 1 || circuits.iter().any(|c| c.conductors == Some(3));
    let hots = breaker
        .at
        .iter()
        .map(|p| if breaker.at.len() > 1 { format!("wire: hot of pole {p}") } else { "wire: hot".into() });
    let all = hots.chain(neutral.then(|| "wire: its neutral".to_owned()));
    all.map(|small| Tag { large: large.clone(), small }).collect()
}

fn plates(house: &House, beliefs: &Beliefs, breaker: &Breaker) -> Vec<Tag> {
    let fed = beliefs.breakers.iter().find(|b| b.at.breaker == breaker.id).into_iter().flat_map(|b| &b.feeds);
    let own = fed.filter(|fed| !fed.through && (fed.proven || fed.likely));
    let tag = |fed: &wayfinder_core::trace::Fed| {
        let point = house.points.get(fed.point)?;
        let (mark, doubt) = if fed.proven { ("", "") } else { (" ?", ", not proven") };
        let large = format!("{}{mark}", house.breaker_name(breaker));
        Some(Tag { large, small: format!("{}: {}{doubt}", point.tag, house.called(point)) })
    };
    own.filter_map(tag).collect()
}

/// Pages of labels, each a drawing of letter size with lines to cut along.
#[must_use]
pub fn pages(tags: &[Tag]) -> Vec<String> {
    let (wide, high) = ((WIDTH - 2.0 * MARGIN) / COLUMNS as f64, (HEIGHT - 2.0 * MARGIN) / ROWS as f64);
    tags.chunks(COLUMNS * ROWS)
        .map(|page| {
            let mut out = format!(
                r##"<svg xmlns="http://www.w3.org/2000/svg" width="8.5in" height="11in" viewBox="0 0 {WIDTH} {HEIGHT}" font-family="Overpass, 'Overpass Variable', sans-serif" fill="#000"><rect width="{WIDTH}" height="{HEIGHT}" fill="#fff"/>"##
            );
            for (nth, tag) in page.iter().enumerate() {
                let (x, y) = (MARGIN + wide * (nth % COLUMNS) as f64, MARGIN + high * (nth / COLUMNS) as f64);
                draw(&mut out, tag, (x, y), (wide, high));
            }
            out + "</svg>"
        })
        .collect()
}

fn draw(out: &mut String, tag: &Tag, (x, y): (f64, f64), (wide, high): (f64, f64)) {
    let size =
        |(size, letters): (f64, usize), text: &str| size * (letters as f64 / text.chars().count().max(letters) as f64);
    let middle = x + wide / 2.0;
    let _ = write!(
        out,
        r##"<rect x="{x:.1}" y="{y:.1}" width="{wide:.1}" height="{high:.1}" fill="none" stroke="#888" stroke-width="0.5" stroke-dasharray="3 3"/><text x="{middle:.1}" y="{:.1}" text-anchor="middle" font-size="{:.1}" font-weight="700">{}</text><text x="{middle:.1}" y="{:.1}" text-anchor="middle" font-size="{:.1}">{}</text>"##,
        y + 0.48 * high,
        size(LARGE, &tag.large),
        escape(&tag.large),
        y + 0.76 * high,
        size(SMALL, &tag.small),
        escape(&tag.small),
    );
}
