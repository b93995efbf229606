//! Fitting text into a cell: shrink on one line, then wrap, then abbreviate.

use std::sync::OnceLock;

use ttf_parser::Face;
use wayfinder_core::words::short::abbreviated;

use crate::draw::{BOLD, ITALIC, MONO, REGULAR};

/// Sizes of type in points. 5 pt is the smallest that can be read at arm's length in good light (common practice).
pub const SMALLEST: f64 = 5.0;
pub const COMFORTABLE: f64 = 7.0;
pub const LARGEST: f64 = 11.0;
const STEP: f64 = 0.5;
/// Line to line, in type sizes.
pub const LEADING: f64 = 1.15;

/// How text stands on the card.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum Style {
    Plain,
    Strong,
    Slanted,
    Number,
}

/// Words in one style.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct Run {
    pub style: Style,
    pub text: String,
}

/// Text laid out in lines at one size.
#[derive(Debug, Clone, PartialEq)]
pub struct Laid {
    pub size: f64,
    pub lines: Vec<Vec<Run>>,
}

/// Width of text in points.
pub fn width(text: &str, style: Style, size: f64) -> f64 {
    static FACES: OnceLock<[Option<Face<'static>>; 4]> = OnceLock::new();
    let faces = FACES.get_or_init(|| [REGULAR, BOLD, ITALIC, MONO].map(|data| Face::parse(data, 0).ok()));
    let face = match style {
        Style::Plain => &faces[0],
        Style::Strong => &faces[1],
        Style::Slanted => &faces[2],
        Style::Number => &faces[3],
    };
    // The typefaces are part of the program; without one every letter is taken as wide as it is high.
    let Some(face) = face else { return size * text.chars().count() as f64 };
    let em = f64::from(face.units_per_em());
    let advance = |c: char| {
        let glyph = face.glyph_index(c).or_else(|| face.glyph_index('?'));
        glyph.and_then(|g| face.glyph_hor_advance(g)).map_or(em, f64::from)
    };
    text.chars().map(advance).sum::<f64>() / em * size
}

/// Lays text into a box, no larger than `largest`; nothing where it does not fit even abbreviated.
pub fn lay(runs: &[Run], box_width: f64, box_height: f64, largest: f64) -> Option<Laid> {
    fit(runs, box_width, box_height, largest).or_else(|| fit(&short(runs), box_width, box_height, largest))
}

fn fit(runs: &[Run], box_width: f64, box_height: f64, largest: f64) -> Option<Laid> {
    let sizes = |from: f64, to: f64| (0..).map(move |i| from - STEP * f64::from(i)).take_while(move |s| *s >= to);
    let at = |size: f64, most_lines: usize| {
        let lines = wrap(runs, box_width, size)?;
        let room = box_height / (size * LEADING);
        (lines.len() <= most_lines && lines.len() as f64 <= room.max(0.0)).then_some(Laid { size, lines })
    };
    let one_line = sizes(largest, COMFORTABLE).find_map(|size| at(size, 1));
    one_line.or_else(|| sizes(largest, SMALLEST).find_map(|size| at(size, usize::MAX)))
}

/// Breaks at spaces. Nothing where a single word is wider than the box.
fn wrap(runs: &[Run], box_width: f64, size: f64) -> Option<Vec<Vec<Run>>> {
    let mut lines: Vec<Vec<Run>> = Vec::new();
    let mut used = f64::INFINITY;
    for Run { style, text } in runs {
        for word in text.split_whitespace() {
            let (wide, space) = (width(word, *style, size), width(" ", *style, size));
            if wide > box_width {
                return None;
            }
            if used + space + wide > box_width {
                lines.push(Vec::new());
                used = wide;
            } else {
                used += space + wide;
            }
            let line = lines.last_mut()?;
            match line.last_mut() {
                Some(run) if run.style == *style => {
                    run.text.push(' ');
                    run.text.push_str(word);
                }
                _ => line.push(Run { style: *style, text: word.to_owned() }),
            }
        }
    }
    Some(lines)
}

fn short(runs: &[Run]) -> Vec<Run> {
    runs.iter().map(|run| Run { style: run.style, text: abbreviated(&run.text) }).collect()
}

/// Text cut to a width with an ellipsis; for headings only, never for what a breaker feeds.
pub fn shorten(text: &str, style: Style, size: f64, room: f64) -> String {
    if width(text, style, size) <= room {
        return text.to_owned();
    }
    let mut short: Vec<char> = text.chars().collect();
    while !short.is_empty() {
        short.pop();
        let cut = format!("{}…", short.iter().collect::<String>().trim_end());
        if width(&cut, style, size) <= room {
            return cut;
        }
    }
    String::new()
}
