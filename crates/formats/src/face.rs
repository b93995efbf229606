//! A panel's face as a small drawing in print: which breaker is where, and what is marked there.

use std::collections::BTreeMap;
use std::fmt::Write;

use wayfinder_core::base::position::Column;
use wayfinder_core::house::BreakerId;
use wayfinder_core::view::face::Face;

use crate::card::{Style, shorten};
use crate::draw::escape;

/// Width of the numbers beside the breakers, in points.
const NUMBER: f64 = 18.0;
/// A mark in a circle.
const MARK: f64 = 9.0;

/// Draws a face at a place, `width` wide, with rows of `row` points; marks stand at their breakers.
pub(crate) fn draw(
    out: &mut String,
    face: &Face,
    (x, y): (f64, f64),
    (width, row): (f64, f64),
    marks: &BTreeMap<BreakerId, String>,
) {
    let body = width / 2.0 - NUMBER;
    let left = |column: Column| if column == Column::Left { x + NUMBER } else { x + width / 2.0 };
    let edge = |half: u16| y + row + f64::from(half) * row / 2.0;
    let size = (row * 0.42).min(9.0);
    let main = face.main.map_or_else(|| "main lugs only".to_owned(), |amps| format!("main {amps}"));
    let _ = write!(
        out,
        r##"<text x="{:.1}" y="{:.1}" font-size="9" font-weight="700" text-anchor="middle">Panel {}, {}</text>"##,
        x + width / 2.0,
        y + row * 0.6,
        escape(&face.name),
        escape(&main)
    );
    for space in &face.spaces {
        let number_x = if space.column == Column::Left { x + NUMBER - 3.0 } else { x + width - NUMBER + 3.0 };
        let anchor = if space.column == Column::Left { "end" } else { "start" };
        let middle = edge(2 * space.row) + row / 2.0 + 3.0;
        let _ = write!(
            out,
            r##"<rect x="{:.1}" y="{:.1}" width="{body:.1}" height="{row:.1}" fill="none" stroke="#bbb" stroke-width=".4"/><text x="{number_x:.1}" y="{middle:.1}" font-size="{size:.1}" font-family="Overpass Mono" text-anchor="{anchor}">{}</text>"##,
            left(space.column),
            edge(2 * space.row),
            space.space
        );
    }
    for breaker in &face.breakers {
        let (bx, by) = (left(breaker.column), edge(breaker.top));
        let high = f64::from(breaker.height) * row / 2.0;
        let said = breaker.words.first().unwrap_or(&breaker.label);
        let words = shorten(&format!("{} {said}", breaker.amps), Style::Plain, size, body - 24.0);
        let _ = write!(
            out,
            r##"<rect x="{:.1}" y="{:.1}" width="{:.1}" height="{:.1}" fill="#fff" stroke="#000" stroke-width=".8"/><text x="{:.1}" y="{:.1}" font-size="{size:.1}">{}</text>"##,
            bx + 0.8,
            by + 0.8,
            body - 1.6,
            high - 1.6,
            bx + 4.0,
            by + high / 2.0 + size * 0.35,
            escape(&words)
        );
        if let Some(mark) = marks.get(&breaker.breaker) {
            marked(out, (bx + body - 12.0, by + high / 2.0), mark);
        }
    }
}

/// A mark at a place: white on black, so that a copy shows it.
pub(crate) fn marked(out: &mut String, (x, y): (f64, f64), mark: &str) {
    let wide = (mark.chars().count() as f64 * 4.4 + 5.0).max(MARK + 3.0);
    let _ = write!(
        out,
        r##"<rect x="{:.1}" y="{:.1}" width="{wide:.1}" height="{:.1}" rx="5" fill="#000"/><text x="{x:.1}" y="{:.1}" font-size="7.5" font-weight="700" text-anchor="middle" fill="#fff">{}</text>"##,
        x - wide / 2.0,
        y - MARK / 2.0 - 1.0,
        MARK + 2.0,
        y + 2.8,
        escape(mark)
    );
}
