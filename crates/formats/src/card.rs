//! The card for the panel's door as one drawing, to the measured size of its place.
//!
//! Text first shrinks on one line, then wraps, then is abbreviated by rule, then leaves out and counts what tells least; below
//! the smallest readable type the card is refused with a size that would do. Proof is told without colour: a filled number is proven, a half-filled
//! one in part, an open one with a question mark not at all.

mod fit;
pub mod on_paper;

use std::fmt::Write;

use jiff::civil::Date;
use wayfinder_core::base::position::Column;
use wayfinder_core::base::units::Inches;
use wayfinder_core::directory::{Card, CardEntry, CardMark, GROUNDS, Standing};
use wayfinder_core::house::CardSize;

use crate::code::Code;
use crate::draw::escape;
use fit::{Laid, Run, lay};
pub(crate) use fit::{Style, shorten, width};

/// Points an inch.
const PT: f64 = 72.0;
const MARGIN: f64 = 7.0;
const PAD: f64 = 2.5;
/// Width of the bar beside a line that has changed.
const CHANGED: f64 = 2.5;
/// Width of the rating's column.
const AMPS_WIDTH: f64 = 24.0;
const LEGEND: &str =
    "Black number: proven. Striped: proven in part. White: not proven. Whatever the card says, test before you touch.";
/// Room for the legend: three lines on a narrow card.
const LEGEND_HEIGHT: f64 = 20.0;
/// Width of a line's mark.
const MARK: f64 = 13.0;
/// The grounds of marks: each lighter or darker than the others, so that they are told apart without their colour as well.
pub(crate) const MARK_GROUNDS: [&str; GROUNDS] = ["#ffffff", "#eba15c", "#c3e3f5", "#e6dc8c", "#a5a3d6", "#8f8f8f"];
/// What the letters of protection mean.
const PROTECTED: [(&str, &str); 3] =
    [("GF", "GF: ground-fault"), ("AF", "AF: arc-fault"), ("AG", "AG: arc- and ground-fault")];
/// Side of a code that a phone reads from a hand's breadth. (common practice: 0.6 in)
const CODE: f64 = 43.0;
/// Step and limit of the search for a size that would do, in inches.
const SIZE_STEP: f64 = 0.25;
const LARGEST: (f64, f64) = (34.0, 44.0);

/// The card does not fit at the smallest readable type.
#[derive(Debug, Clone, PartialEq, thiserror::Error)]
#[error("{width} x {height} in is too small for {entries} entries at 5 pt type{}", suggestion(*.needs))]
pub struct TooSmall {
    /// Width asked for, in inches.
    pub width: f64,
    /// Height asked for, in inches.
    pub height: f64,
    /// Entries on the card.
    pub entries: usize,
    /// A size of the same width, or else wider, that would do, in inches.
    pub needs: Option<(f64, f64)>,
}

fn suggestion(needs: Option<(f64, f64)>) -> String {
    needs.map_or_else(String::new, |(w, h)| format!("; {w} x {h} in would do"))
}

/// Draws the card as SVG at true size.
///
/// # Errors
/// [`TooSmall`] where it cannot be read at that size.
pub fn svg(card: &Card, size: CardSize, date: Option<Date>) -> Result<String, TooSmall> {
    linked(card, size, date, None)
}

/// The same with a code that opens an address.
///
/// # Errors
/// [`TooSmall`] where it cannot be read at that size.
pub fn linked(card: &Card, size: CardSize, date: Option<Date>, link: Option<&str>) -> Result<String, TooSmall> {
    let needs = || TooSmall {
        width: size.width.0,
        height: size.height.0,
        entries: card.entries.len(),
        needs: size_that_would_do(card, size, link),
    };
    Layout::new(card, size, link).draw(date).ok_or_else(needs)
}

fn size_that_would_do(card: &Card, size: CardSize, link: Option<&str>) -> Option<(f64, f64)> {
    let steps = |from: f64, to: f64| (0..).map(move |i| from + SIZE_STEP * f64::from(i)).take_while(move |v| *v <= to);
    let fits = |w: f64, h: f64| {
        let size = CardSize { width: Inches(w), height: Inches(h) };
        Layout::new(card, size, link).cells().is_some()
    };
    let taller = steps(size.height.0, LARGEST.1).map(|h| (size.width.0, h));
    let wider = steps(size.width.0, LARGEST.0).map(|w| (w, size.height.0.max(LARGEST.1 / 4.0)));
    taller.chain(wider).find(|(w, h)| fits(*w, *h))
}

/// Lengths in points.
struct Layout<'a> {
    card: &'a Card,
    width: f64,
    height: f64,
    header: f64,
    /// The legend, laid out; nothing where the card is too narrow for it.
    legend: Option<Laid>,
    /// Width of one number box; two of them make the spine.
    number: f64,
    /// Where the spine is: in the middle, or at the right of a panel of one column.
    spine: f64,
    /// Width of a line's mark; nothing where the card has none.
    mark: f64,
    /// A code, as a path of dots, with its dots a side.
    code: Option<Code>,
}

/// An entry with its place and its text laid out.
struct Cell<'a> {
    entry: &'a CardEntry,
    y: f64,
    height: f64,
    text: Laid,
}

impl<'a> Layout<'a> {
    fn new(card: &'a Card, size: CardSize, link: Option<&str>) -> Self {
        let (width, height) = (size.width.0 * PT, size.height.0 * PT);
        let header = (height * 0.045).clamp(13.0, 26.0);
        let changed = card
            .changed_since
            .map(|since| Run { style: Style::Plain, text: format!("Bar at the edge: changed since rev. {since}.") });
        let key: Vec<String> = card.key.iter().map(|mark| format!("{}: {}", mark.letters, mark.word)).collect();
        let key = (!key.is_empty()).then(|| Run { style: Style::Plain, text: format!("{}.", key.join(", ")) });
        let fed = Run { style: Style::Plain, text: format!("{}.", card.fed_from) };
        let protected: Vec<&str> = PROTECTED
            .iter()
            .filter(|(mark, _)| card.entries.iter().any(|entry| entry.protection == *mark))
            .map(|(_, said)| *said)
            .collect();
        let protected =
            (!protected.is_empty()).then(|| Run { style: Style::Plain, text: format!("{}.", protected.join(", ")) });
        let live = (!card.stays_live.is_empty()).then(|| Run { style: Style::Strong, text: card.stays_live.clone() });
        let code = link.and_then(Code::of);
        let more = [live.is_some(), key.is_some(), protected.is_some()].iter().filter(|more| **more).count();
        let height_of =
            LEGEND_HEIGHT * (1.0 + 0.5 * more as f64) + if code.is_some() { CODE - LEGEND_HEIGHT } else { 0.0 };
        let first = Run { style: Style::Plain, text: LEGEND.into() };
        let legend: Vec<Run> = live
            .into_iter()
            .chain((!card.fed_from.is_empty()).then_some(fed))
            .chain(key)
            .chain(protected)
            .chain([first])
            .chain(changed)
            .collect();
        let legend_width = width - 2.0 * MARGIN - if code.is_some() { CODE + 2.0 * PAD } else { 0.0 };
        let legend = lay(&legend, legend_width, height_of, fit::COMFORTABLE);
        let number = (width * 0.075).clamp(15.0, 26.0);
        let one_column = card.entries.iter().all(|entry| entry.column == Column::Left);
        let spine = if one_column { width - MARGIN } else { width / 2.0 };
        let mark = if card.key.is_empty() { 0.0 } else { MARK };
        Self { card, width, height, header, legend, number, spine, mark, code }
    }

    fn footer(&self) -> f64 {
        let words = self.legend.as_ref().map_or(0.0, |l| l.size * fit::LEADING * l.lines.len() as f64 + PAD);
        if self.code.is_some() { words.max(CODE + PAD) } else { words }
    }

    fn half_row(&self) -> f64 {
        (self.height - 2.0 * MARGIN - self.header - self.footer()) / (2.0 * f64::from(self.card.rows.max(1)))
    }

    fn text_width(&self) -> f64 {
        self.spine - MARGIN - self.number - AMPS_WIDTH - 2.0 * PAD - self.mark
    }

    /// All cells, or nothing where one cannot be read.
    fn cells(&self) -> Option<Vec<Cell<'a>>> {
        self.legend.as_ref()?;
        let room = |e: &CardEntry| f64::from(e.height) * self.half_row() - 1.0;
        // One size for all looks calm; a full cell may go below it, down to the smallest.
        let entries = &self.card.entries;
        let alone: Vec<Laid> =
            entries.iter().map(|e| laid(e, self.text_width(), room(e), fit::LARGEST)).collect::<Option<_>>()?;
        let least = alone.iter().filter(|l| !l.lines.is_empty()).map(|l| l.size).fold(fit::LARGEST, f64::min);
        let common = least.max(fit::COMFORTABLE);
        let cell = |entry: &'a CardEntry| {
            let y = MARGIN + self.header + f64::from(entry.top) * self.half_row();
            let text = laid(entry, self.text_width(), room(entry), common)?;
            Some(Cell { entry, y, height: f64::from(entry.height) * self.half_row(), text })
        };
        let cells = entries.iter().map(cell).collect::<Option<Vec<_>>>()?;
        let number_fits = |c: &Cell<'_>| c.height >= fit::SMALLEST;
        (self.text_width() > 0.0 && cells.iter().all(number_fits)).then_some(cells)
    }

    fn draw(&self, date: Option<Date>) -> Option<String> {
        let cells = self.cells()?;
        let mut out = String::new();
        let (w, h) = (self.width, self.height);
        let _ = write!(
            out,
            r##"<svg xmlns="http://www.w3.org/2000/svg" width="{}in" height="{}in" viewBox="0 0 {w} {h}" font-family="Overpass, 'Overpass Variable', sans-serif" fill="#000"><title>{}</title><defs><pattern id="part" width="3" height="3" patternUnits="userSpaceOnUse" patternTransform="rotate(45)"><rect width="3" height="3" fill="#fff"/><rect width="1.1" height="3" fill="#000"/></pattern></defs><rect width="{w}" height="{h}" fill="#fff"/>"##,
            w / PT,
            h / PT,
            escape(&format!("{}: panel {}", self.card.house, self.card.panel)),
        );
        self.draw_header(&mut out, date);
        for cell in &cells {
            self.draw_cell(&mut out, cell);
        }
        self.draw_footer(&mut out);
        out.push_str("</svg>\n");
        Some(out)
    }

    fn draw_header(&self, out: &mut String, date: Option<Date>) {
        let size = self.header * 0.6;
        let base = MARGIN + size;
        let when = date.map_or_else(String::new, |d| format!("{d} "));
        let note = format!("{when}rev. {}", self.card.revision);
        let note_size = (size * 0.55).max(fit::SMALLEST);
        let note_width = width(&note, Style::Plain, note_size);
        let space = self.width - 2.0 * MARGIN - note_width - 2.0 * PAD;
        let title = shorten(&format!("{} panel", self.card.panel), Style::Strong, size, space);
        let title_width = width(&title, Style::Strong, size);
        text(out, MARGIN, base, size, Style::Strong, &title);
        let house = shorten(&self.card.house, Style::Plain, size * 0.7, space - title_width - 2.0 * PAD);
        text(out, MARGIN + title_width + 2.0 * PAD, base, size * 0.7, Style::Plain, &house);
        text(out, self.width - MARGIN - note_width, base, note_size, Style::Plain, &note);
    }

    fn draw_cell(&self, out: &mut String, cell: &Cell<'_>) {
        let middle = self.spine;
        let left = cell.entry.column == Column::Left;
        let number_x = if left { middle - self.number } else { middle };
        let text_x = if left { MARGIN + PAD + self.mark } else { middle + self.number + AMPS_WIDTH + PAD };
        let amps_x = if left { middle - self.number - AMPS_WIDTH } else { middle + self.number };
        let outer = if left { MARGIN } else { self.width - MARGIN };
        let _ = write!(
            out,
            r##"<path d="M{outer:.2} {y:.2}H{middle:.2}M{outer:.2} {b:.2}H{middle:.2}" stroke="#999" stroke-width=".4"/>"##,
            y = cell.y,
            b = cell.y + cell.height
        );
        if cell.entry.changed {
            let x = if left { MARGIN - CHANGED } else { self.width - MARGIN };
            let (y, height) = (cell.y + 0.6, cell.height - 1.2);
            let _ =
                write!(out, r##"<rect x="{x:.2}" y="{y:.2}" width="{CHANGED}" height="{height:.2}" fill="#000"/>"##);
        }
        self.draw_number(out, cell, number_x);
        if let Some(mark) = &cell.entry.mark {
            self.draw_mark(out, cell, mark, if left { MARGIN } else { self.width - MARGIN - self.mark });
        }
        if let Some(amps) = cell.entry.amps {
            let protection = cell.entry.protection;
            // Ground-fault protection is outlined, so that it is seen before it is read.
            if matches!(protection, "GF" | "AG") {
                let (y, height) = (cell.y + 1.2, cell.height - 2.4);
                let _ = write!(
                    out,
                    r##"<rect x="{:.2}" y="{y:.2}" width="{:.2}" height="{height:.2}" rx="2" fill="none" stroke="#000" stroke-width=".9"/>"##,
                    amps_x + 1.0,
                    AMPS_WIDTH - 2.0
                );
            }
            let size = (cell.height * if protection.is_empty() { 0.55 } else { 0.4 }).clamp(fit::SMALLEST, 8.0);
            let label = format!("{} A", amps.0);
            let size = size.min(size * (AMPS_WIDTH - 2.0) / width(&label, Style::Number, size));
            let x = amps_x + (AMPS_WIDTH - width(&label, Style::Number, size)) / 2.0;
            let two = !protection.is_empty() && cell.height >= 2.1 * fit::SMALLEST;
            let base = cell.y + cell.height / 2.0 + if two { -0.1 * size } else { size * 0.35 };
            text(out, x, base, size, Style::Number, &label);
            if two {
                let x = amps_x + (AMPS_WIDTH - width(protection, Style::Number, size)) / 2.0;
                text(out, x, base + size, size, Style::Number, protection);
            }
        }
        let leading = cell.text.size * fit::LEADING;
        let block = leading * cell.text.lines.len() as f64;
        let mut y = cell.y + (cell.height - block) / 2.0 + cell.text.size * 0.95;
        for line in &cell.text.lines {
            let mut x = text_x;
            for Run { style, text: words } in line {
                text(out, x, y, cell.text.size, *style, words);
                x += width(words, *style, cell.text.size) + width(" ", *style, cell.text.size);
            }
            y += leading;
        }
    }

    /// Letters on their ground.
    fn draw_mark(&self, out: &mut String, cell: &Cell<'_>, mark: &CardMark, x: f64) {
        let (y, h, w) = (cell.y + 1.0, cell.height - 2.0, self.mark - 2.0);
        let ground = MARK_GROUNDS[mark.ground % GROUNDS];
        let _ = write!(
            out,
            r##"<rect x="{:.2}" y="{y:.2}" width="{w:.2}" height="{h:.2}" fill="{ground}" stroke="#000" stroke-width=".4"/>"##,
            x + 1.0
        );
        let size = (cell.height * 0.6).clamp(fit::SMALLEST, 8.0);
        let size = size.min(size * (w - 1.5) / width(&mark.letters, Style::Strong, size));
        let letters_x = x + (self.mark - width(&mark.letters, Style::Strong, size)) / 2.0;
        text(out, letters_x, cell.y + cell.height / 2.0 + size * 0.35, size, Style::Strong, &mark.letters);
    }

    fn draw_number(&self, out: &mut String, cell: &Cell<'_>, x: f64) {
        let (fill, ink) = match cell.entry.standing {
            Standing::Proven => ("#000", "#fff"),
            Standing::Partly => ("url(#part)", "#000"),
            Standing::Unproven | Standing::NothingFound | Standing::Empty | Standing::NotEntered => ("#fff", "#000"),
        };
        let (y, h, w) = (cell.y + 0.6, cell.height - 1.2, self.number - 1.2);
        let _ = write!(
            out,
            r##"<rect x="{:.2}" y="{y:.2}" width="{w:.2}" height="{h:.2}" rx="1.5" fill="{fill}" stroke="#000" stroke-width=".6"/>"##,
            x + 0.6
        );
        // A breaker of several spaces has each number where it is engraved.
        let labels: Vec<&str> = cell.entry.at.split('-').collect();
        let part = cell.height / labels.len() as f64;
        for (i, label) in labels.iter().enumerate() {
            let size = (part * 0.6).clamp(fit::SMALLEST, 10.0);
            let size = size.min(size * (w - 2.0) / width(label, Style::Number, size));
            let label_width = width(label, Style::Number, size);
            let label_x = x + (self.number - label_width) / 2.0;
            let middle = cell.y + part * (i as f64 + 0.5);
            if cell.entry.standing == Standing::Partly {
                let (bw, bh) = ((label_width + 5.0).min(w - 2.0), size * 1.3);
                let (bx, by) = (x + (self.number - bw) / 2.0, middle - bh / 2.0);
                let _ =
                    write!(out, r##"<rect x="{bx:.2}" y="{by:.2}" width="{bw:.2}" height="{bh:.2}" fill="#fff"/>"##);
            }
            let _ = write!(out, r##"<g fill="{ink}">"##);
            text(out, label_x, middle + size * 0.35, size, Style::Number, label);
            out.push_str("</g>");
        }
    }

    fn draw_footer(&self, out: &mut String) {
        if let Some(code) = &self.code {
            let (x, y) = (self.width - MARGIN - CODE, self.height - MARGIN - CODE);
            code.draw(out, (x, y), CODE);
        }
        let Some(legend) = &self.legend else { return };
        let mut y = self.height - MARGIN - self.footer() + PAD + legend.size * 0.95;
        for line in &legend.lines {
            let mut x = MARGIN;
            for run in line {
                text(out, x, y, legend.size, run.style, &run.text);
                x += width(&run.text, run.style, legend.size) + width(" ", run.style, legend.size);
            }
            y += legend.size * fit::LEADING;
        }
    }
}

/// The text of an entry: what is proven upright and strong, all else slanted and said to be unproven.
fn runs(entry: &CardEntry) -> Vec<Run> {
    let run = |style, text: String| Run { style, text };
    match entry.standing {
        Standing::Empty => vec![run(Style::Plain, "empty".into())],
        Standing::NothingFound => vec![run(Style::Slanted, "nothing found on it".into())],
        Standing::NotEntered => vec![run(Style::Slanted, "not entered".into())],
        Standing::Proven => vec![run(Style::Strong, entry.feeds.clone())],
        Standing::Partly => {
            vec![run(Style::Strong, entry.feeds.clone()), run(Style::Slanted, format!("? {}", entry.probably))]
        }
        Standing::Unproven if !entry.probably.is_empty() => {
            vec![run(Style::Slanted, format!("? {} (not proven)", entry.probably))]
        }
        Standing::Unproven if !entry.found_label.is_empty() => {
            vec![run(Style::Slanted, format!("? not traced; old label: {}", entry.found_label))]
        }
        Standing::Unproven => vec![run(Style::Slanted, "? not traced".into())],
    }
}

/// An entry in its box: all it says, or else the fullest of its shorter forms that can be read.
fn laid(entry: &CardEntry, width: f64, height: f64, largest: f64) -> Option<Laid> {
    let style = if entry.standing == Standing::Proven { Style::Strong } else { Style::Slanted };
    let shorter = entry.short.iter().map(|form| vec![Run { style, text: form.clone() }]);
    std::iter::once(runs(entry)).chain(shorter).find_map(|runs| lay(&runs, width, height, largest))
}

fn text(out: &mut String, x: f64, y: f64, size: f64, style: Style, words: &str) {
    let extra = match style {
        Style::Plain => "",
        Style::Strong => r#" font-weight="700""#,
        Style::Slanted => r#" font-style="italic""#,
        Style::Number => r#" font-family="Overpass Mono, 'Overpass Mono Variable', monospace""#,
    };
    let _ = write!(out, r#"<text x="{x:.2}" y="{y:.2}" font-size="{size:.2}"{extra}>{}</text>"#, escape(words));
}

#[cfg(test)]
mod tests;
