//! A floor's plan as one drawing at true scale, with a legend and a scale bar, for the wall behind the card.

use std::collections::BTreeMap;
use std::fmt::Write;

use jiff::civil::Date;
use wayfinder_core::base::units::INCHES_PER_METRE;
use wayfinder_core::house::{Lengths, OpeningKind, PointId};
use wayfinder_core::trace::Status;
use wayfinder_core::view::floor::{PlanOpening, PlanPanel, PlanPoint, PlanView, Symbol};
use wayfinder_core::view::marks::{Anchor, Place};

use crate::draw::{escape, wrapped};
use crate::face;

/// How large the plan is printed.
#[derive(Debug, Clone, Copy, PartialEq)]
pub enum Scale {
    /// A quarter inch is a foot: 1:48.
    QuarterInch,
    /// One to fifty.
    Fifty,
    /// As large as fits a letter sheet, 11 by 8.5 in, lying.
    Fit,
}

impl std::str::FromStr for Scale {
    type Err = String;

    fn from_str(text: &str) -> Result<Self, String> {
        match text.trim() {
            "1:48" | "1/4in" | "1/4" => Ok(Self::QuarterInch),
            "1:50" => Ok(Self::Fifty),
            "fit" => Ok(Self::Fit),
            _ => Err(format!("\"{text}\" is no scale: 1/4in (1:48), 1:50 or fit")),
        }
    }
}

/// No room of the floor is drawn yet.
#[derive(Debug, Clone, PartialEq, Eq, thiserror::Error)]
#[error("no room of floor {0} is drawn yet")]
pub struct NothingDrawn(String);

/// Points an inch.
const PT: f64 = 72.0;
const MARGIN: f64 = 28.0;
const TITLE: f64 = 26.0;
/// From the plan to the first symbol of the legend, and from one row of symbols to the next.
const TO_LEGEND: f64 = 18.0;
const ROW: f64 = 16.0;
/// From one line of its text to the next, and how wide a letter of it is on average.
const LINE: f64 = 9.0;
const LETTER_WIDTH: f64 = 3.3;
/// The scale's bar with its numbers.
const BAR: f64 = 26.0;
/// Largest sheet: what a PDF page may be is more, what a printer takes is less.
const LETTER: (f64, f64) = (792.0, 612.0);
/// An em of marks and their text on paper, in points: read at arm's length.
const TEXT: f64 = 7.0;
/// Rooms below this, in square feet, have no room for their size in words.
const SMALL_ROOM: f64 = 110.0;
/// Narrower than this the title and legend do not fit.
const LEAST_WIDTH: f64 = 430.0;

/// A drawing under way: points on paper of inches in the house.
struct Sheet<'a> {
    view: &'a PlanView,
    scale: f64,
    left: f64,
    top: f64,
    width: f64,
    height: f64,
    x: f64,
    y: f64,
    out: String,
}

/// Draws a floor at a scale.
///
/// # Errors
/// [`NothingDrawn`] where no room has a place yet.
pub fn svg(
    view: &PlanView,
    house: &str,
    lengths: Lengths,
    scale: Scale,
    date: Option<Date>,
) -> Result<String, NothingDrawn> {
    marked(view, house, lengths, scale, date, &BTreeMap::new())
}

/// The same with marks at points.
///
/// # Errors
/// [`NothingDrawn`] where no room has a place yet.
pub(crate) fn marked(
    view: &PlanView,
    house: &str,
    lengths: Lengths,
    scale: Scale,
    date: Option<Date>,
    marks: &BTreeMap<PointId, String>,
) -> Result<String, NothingDrawn> {
    let bounds = view.bounds.ok_or_else(|| NothingDrawn(view.floor.clone()))?;
    let (wide, deep) = (bounds.width.0, bounds.depth.0);
    let points_an_inch = match scale {
        Scale::QuarterInch => PT / 48.0,
        Scale::Fifty => PT / 50.0,
        Scale::Fit => fitted(view, wide, deep),
    };
    let plan = (wide * points_an_inch, deep * points_an_inch);
    let width = (plan.0 + 2.0 * MARGIN).max(LEAST_WIDTH);
    let legend = Legend::new(view, width);
    let height = plan.1 + 2.0 * MARGIN + TITLE + legend.depth();
    let mut sheet = Sheet {
        view,
        scale: points_an_inch,
        left: bounds.x.0,
        top: bounds.y.0,
        width,
        height,
        x: (width - plan.0) / 2.0,
        y: MARGIN + TITLE,
        out: String::new(),
    };
    let ratio = PT / points_an_inch;
    sheet.draw(house, &scale_word(scale, ratio), date);
    for point in &view.points {
        if let Some(mark) = marks.get(&point.point) {
            let (x, y) = sheet.place(point.mark.middle);
            face::marked(&mut sheet.out, (x + TEXT, y - TEXT), mark);
        }
    }
    sheet.legend(lengths, &legend, sheet.y + plan.1 + TO_LEGEND);
    sheet.out.push_str("</svg>");
    Ok(sheet.out)
}

/// What the marks mean, in rows that fit the sheet.
struct Legend {
    /// Symbols with their words and where they stand.
    rows: Vec<Vec<(Symbol, &'static str, f64)>>,
    lines: Vec<String>,
}

impl Legend {
    fn new(view: &PlanView, width: f64) -> Self {
        let mut rows: Vec<Vec<(Symbol, &'static str, f64)>> = vec![Vec::new()];
        let first = MARGIN + 8.0;
        let mut x = first;
        for shape in &view.symbols {
            let needed = 14.0 + shape.word.len() as f64 * 3.5;
            if x + needed > width - MARGIN && x > first {
                rows.push(Vec::new());
                x = first;
            }
            if let Some(row) = rows.last_mut() {
                row.push((shape.symbol, shape.word, x));
            }
            x += needed + 10.0;
        }
        let letters = ((width - 2.0 * MARGIN) / LETTER_WIDTH).floor() as usize;
        Self { rows, lines: wrapped(MEANS, letters).collect() }
    }

    fn depth(&self) -> f64 {
        TO_LEGEND + self.rows.len() as f64 * ROW + self.lines.len() as f64 * LINE + BAR
    }
}

const MEANS: &str = "White number on black: proven circuit. Dashed frame: not proven; an empty one is unfinished work. \
                     Whatever the plan says, test before you touch.";

/// The largest scale at which plan and legend fit a letter sheet. A sheet that gets narrower makes the legend deeper, and that
/// the plan smaller: until nothing gets deeper.
fn fitted(view: &PlanView, wide: f64, deep: f64) -> f64 {
    let mut legend = Legend::new(view, LETTER.0).depth();
    loop {
        let room = (LETTER.0 - 2.0 * MARGIN, LETTER.1 - 2.0 * MARGIN - TITLE - legend);
        let scale = (room.0 / wide).min(room.1 / deep);
        let needed = Legend::new(view, (wide * scale + 2.0 * MARGIN).max(LEAST_WIDTH)).depth();
        if needed <= legend {
            return scale;
        }
        legend = needed;
    }
}

fn scale_word(scale: Scale, ratio: f64) -> String {
    match scale {
        Scale::QuarterInch => "1/4 in = 1 ft (1:48)".into(),
        Scale::Fifty => "1:50".into(),
        Scale::Fit => format!("1:{ratio:.0}"),
    }
}

impl Sheet<'_> {
    fn at(&self, x: f64, y: f64) -> (f64, f64) {
        (self.x + (x - self.left) * self.scale, self.y + (y - self.top) * self.scale)
    }

    fn draw(&mut self, house: &str, scale: &str, date: Option<Date>) {
        let (w, h) = (self.width, self.height);
        let title = format!("{house}: floor {}", self.view.floor);
        let _ = write!(
            self.out,
            r##"<svg xmlns="http://www.w3.org/2000/svg" width="{}in" height="{}in" viewBox="0 0 {w:.2} {h:.2}" font-family="Overpass, 'Overpass Variable', sans-serif" fill="#000"><title>{}</title><rect width="{w:.2}" height="{h:.2}" fill="#fff"/>"##,
            w / PT,
            h / PT,
            escape(&title),
        );
        self.text(MARGIN, MARGIN + 12.0, 13.0, "start", " font-weight=\"700\"", &title);
        let when = date.map_or_else(String::new, |d| format!(", {d}"));
        let right = format!("Scale {scale}; map revision {}{when}", self.view.revision);
        self.text(w - MARGIN, MARGIN + 12.0, 7.5, "end", "", &right);
        self.rooms();
        for opening in &self.view.openings {
            self.opening(opening);
        }
        for panel in &self.view.panels {
            self.panel(panel);
        }
        for point in &self.view.points {
            self.point(point);
        }
    }

    fn text(&mut self, x: f64, y: f64, size: f64, anchor: &str, more: &str, text: &str) {
        let _ = write!(
            self.out,
            r#"<text x="{x:.2}" y="{y:.2}" font-size="{size}" text-anchor="{anchor}"{more}>{}</text>"#,
            escape(text)
        );
    }

    fn rooms(&mut self) {
        for room in &self.view.rooms {
            let (x, y) = self.at(room.area.x.0, room.area.y.0);
            let (w, h) = (room.area.width.0 * self.scale, room.area.depth.0 * self.scale);
            let _ = write!(
                self.out,
                r##"<rect x="{x:.2}" y="{y:.2}" width="{w:.2}" height="{h:.2}" fill="none" stroke="#000" stroke-width="1.6"/>"##
            );
        }
        for room in &self.view.rooms {
            let (x, y) = self.at(room.label[0], room.label[1]);
            self.text(x, y, 8.0, "middle", " fill=\"#555\" font-weight=\"700\"", &room.name);
            if room.square_feet > SMALL_ROOM {
                self.text(x, y + 8.0, 6.0, "middle", " fill=\"#555\"", &room.size);
            }
        }
    }

    /// A place on the paper.
    fn place(&self, place: Place) -> (f64, f64) {
        let (x, y) = self.at(place.x, place.y);
        (x + place.em[0] * TEXT, y + place.em[1] * TEXT)
    }

    fn opening(&mut self, o: &PlanOpening) {
        let (x1, y1) = self.at(o.from[0], o.from[1]);
        let (x2, y2) = self.at(o.to[0], o.to[1]);
        let line = |out: &mut String, style: &str| {
            let _ = write!(out, r#"<path d="M{x1:.2} {y1:.2}L{x2:.2} {y2:.2}" {style}/>"#);
        };
        // The wall is taken away first, then the opening's own mark stands in the gap.
        line(&mut self.out, r##"stroke="#fff" stroke-width="2.6""##);
        if o.kind == OpeningKind::Window {
            line(&mut self.out, r##"stroke="#000" stroke-width="2.4""##);
            line(&mut self.out, r##"stroke="#fff" stroke-width="1""##);
        }
        let ((left, top), scale) = (self.at(0.0, 0.0), self.scale);
        let _ = write!(
            self.out,
            r##"<path transform="translate({left:.2} {top:.2}) scale({scale})" d="{}" fill="none" stroke="#777" stroke-width="{:.2}"/>"##,
            o.mark.path,
            0.6 / scale
        );
        if let Some([x, y]) = o.mark.label {
            let (x, y) = self.at(x, y);
            let to = o.leads_to.as_deref().unwrap_or_default();
            self.text(x, y, 5.5, "middle", " fill=\"#555\"", &format!("to {to}"));
        }
    }

    fn panel(&mut self, panel: &PlanPanel) {
        let mark = &panel.mark;
        let (x, y) = self.place(mark.corner);
        let [w, h] = mark.size.map(|em| em * TEXT);
        let _ = write!(self.out, r##"<rect x="{x:.2}" y="{y:.2}" width="{w:.2}" height="{h:.2}" fill="#000"/>"##);
        let anchor = match mark.anchor {
            Anchor::Start => "start",
            Anchor::Middle => "middle",
            Anchor::End => "end",
        };
        let (x, y) = self.place(mark.name);
        self.text(x, y, TEXT, anchor, " font-weight=\"700\"", &format!("Panel {}", panel.name));
    }

    fn point(&mut self, p: &PlanPoint) {
        if let Some(area) = p.mark.footprint {
            // A big appliance is drawn as large as it is.
            let (x, y) = self.at(area.x.0, area.y.0);
            let (w, h) = (area.width.0 * self.scale, area.depth.0 * self.scale);
            let _ = write!(
                self.out,
                r##"<rect x="{x:.2}" y="{y:.2}" width="{w:.2}" height="{h:.2}" fill="#fff" stroke="#000" stroke-width=".7"/>"##
            );
        } else {
            let (x, y) = self.place(p.mark.middle);
            self.symbol(p.symbol, x, y, p.mark.turn);
        }
        self.label(p);
    }

    /// The tag, and the circuit's number in a frame; a point without one shows an empty frame that asks.
    fn label(&mut self, p: &PlanPoint) {
        let (x, y) = self.place(p.mark.tag);
        self.text(x, y, TEXT, "start", " font-family=\"Overpass Mono\"", &p.tag);
        let finished = p.status == Status::Proven;
        let frame = if finished {
            r##"fill="#000""##
        } else {
            r##"fill="#fff" stroke="#000" stroke-width=".7" stroke-dasharray="1.5 1""##
        };
        let (left, top) = self.place(p.mark.frame);
        let (w, h) = (p.mark.frame_width * TEXT, self.view.frame_height * TEXT);
        let _ =
            write!(self.out, r#"<rect x="{left:.2}" y="{top:.2}" width="{w:.2}" height="{h:.2}" rx="1.5" {frame}/>"#);
        let ink = if finished { " fill=\"#fff\"" } else { "" };
        let more = format!(" font-family=\"Overpass Mono\"{ink}");
        self.text(left + w / 2.0, y, TEXT, "middle", &more, &p.circuit);
    }

    fn symbol(&mut self, symbol: Symbol, x: f64, y: f64, turn: f64) {
        let Some(shape) = self.view.symbols.iter().find(|s| s.symbol == symbol) else { return };
        let radius = self.view.radius * TEXT;
        let _ = write!(
            self.out,
            r##"<path transform="translate({x:.2} {y:.2}) rotate({turn}) scale({radius})" d="{}" fill="#fff" stroke="#000" stroke-width=".16"/>"##,
            shape.path
        );
        let letter = shape.letter;
        if !letter.is_empty() {
            self.text(x, y + 2.4, 6.5, "middle", " font-weight=\"700\"", letter);
        }
    }

    fn legend(&mut self, lengths: Lengths, legend: &Legend, top: f64) {
        let mut y = top;
        for row in &legend.rows {
            for (symbol, word, x) in row {
                self.symbol(*symbol, *x, y, 0.0);
                self.text(x + 10.0, y + 2.2, 6.5, "start", "", word);
            }
            y += ROW;
        }
        for line in &legend.lines {
            self.text(MARGIN, y, 6.5, "start", "", line);
            y += LINE;
        }
        self.scale_bar(lengths, y);
    }

    /// Ten feet or three metres, or as many as there is room for, so that a sheet printed "to fit" shows it.
    fn scale_bar(&mut self, lengths: Lengths, y: f64) {
        let (steps, inch, unit) = match lengths {
            Lengths::FeetInches => (10, 12.0, "ft"),
            Lengths::Metres => (3, INCHES_PER_METRE, "m"),
        };
        let step = inch * self.scale;
        // A small floor drawn large has no room for all of it.
        let room = ((self.width - 2.0 * MARGIN) / step).floor().clamp(1.0, f64::from(steps));
        let steps = room as i32;
        for n in 0..steps {
            let fill = if n % 2 == 0 { "#000" } else { "#fff" };
            let _ = write!(
                self.out,
                r##"<rect x="{:.3}" y="{y:.2}" width="{step:.3}" height="4" fill="{fill}" stroke="#000" stroke-width=".5"/>"##,
                MARGIN + f64::from(n) * step
            );
        }
        self.text(MARGIN, y + 11.0, 6.5, "middle", "", "0");
        let end = MARGIN + f64::from(steps) * step;
        self.text(end, y + 11.0, 6.5, "middle", "", &format!("{steps} {unit}"));
    }
}
