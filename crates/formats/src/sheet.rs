//! A sheet of paper under the pen: words cut to their room, lines, frames. Lengths in points.

use std::fmt::Write;

use base64::Engine;

use crate::card::{Style, shorten, width};
use crate::draw::escape;

/// Points an inch.
pub(crate) const PT: f64 = 72.0;

/// A drawing of a size, as it grows.
pub(crate) struct Paper {
    out: String,
}

/// How words stand to their place.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub(crate) enum To {
    Left,
    Middle,
    Right,
}

impl Paper {
    /// White paper, its sides in points.
    pub(crate) fn new((wide, high): (f64, f64), title: &str) -> Self {
        let mut out = String::new();
        let _ = write!(
            out,
            r##"<svg xmlns="http://www.w3.org/2000/svg" width="{}in" height="{}in" viewBox="0 0 {wide} {high}" font-family="Overpass, 'Overpass Variable', sans-serif" fill="#000"><title>{}</title><rect width="{wide}" height="{high}" fill="#fff"/>"##,
            wide / PT,
            high / PT,
            escape(title)
        );
        Self { out }
    }

    /// A drawing that was begun elsewhere.
    pub(crate) fn begun(out: String) -> Self {
        Self { out }
    }

    /// A picture as large as it fits into a place.
    pub(crate) fn picture(&mut self, (x, y): (f64, f64), (wide, high): (f64, f64), bytes: &[u8]) {
        let kind = if bytes.starts_with(b"\x89PNG") { "png" } else { "jpeg" };
        let data = base64::engine::general_purpose::STANDARD.encode(bytes);
        let _ = write!(
            self.out,
            r#"<image x="{x:.1}" y="{y:.1}" width="{wide:.1}" height="{high:.1}" preserveAspectRatio="xMinYMin meet" href="data:image/{kind};base64,{data}"/>"#
        );
    }

    /// Words on a line, shortened to their room.
    pub(crate) fn words(&mut self, (x, y): (f64, f64), style: Style, size: f64, room: f64, to: To, words: &str) {
        let said = shorten(words, style, size, room);
        let (anchor, x) = match to {
            To::Left => ("start", x),
            To::Middle => ("middle", x + room / 2.0),
            To::Right => ("end", x + room),
        };
        let more = match style {
            Style::Plain => "",
            Style::Strong => r#" font-weight="700""#,
            Style::Slanted => r#" font-style="italic""#,
            Style::Number => r#" font-family="Overpass Mono""#,
        };
        let _ = write!(
            self.out,
            r#"<text x="{x:.2}" y="{y:.2}" font-size="{size:.2}" text-anchor="{anchor}"{more}>{}</text>"#,
            escape(&said)
        );
    }

    /// Words in as many lines as they take; gives where the next line would stand.
    pub(crate) fn paragraph(&mut self, (x, y): (f64, f64), style: Style, size: f64, room: f64, words: &str) -> f64 {
        let mut line = String::new();
        let mut y = y;
        let mut put = |paper: &mut Self, line: &str| {
            paper.words((x, y), style, size, room, To::Left, line);
            y += size * 1.25;
        };
        for word in words.split_whitespace() {
            let longer = if line.is_empty() { word.to_owned() } else { format!("{line} {word}") };
            if width(&longer, style, size) > room && !line.is_empty() {
                put(self, &line);
                word.clone_into(&mut line);
            } else {
                line = longer;
            }
        }
        if !line.is_empty() {
            put(self, &line);
        }
        y
    }

    /// A straight line.
    pub(crate) fn line(&mut self, (x1, y1): (f64, f64), (x2, y2): (f64, f64), thick: f64) {
        let _ =
            write!(self.out, r##"<path d="M{x1:.2} {y1:.2}L{x2:.2} {y2:.2}" stroke="#000" stroke-width="{thick}"/>"##);
    }

    /// A frame; with a look of its own, as `stroke-dasharray="3 3"`.
    pub(crate) fn frame(&mut self, (x, y): (f64, f64), (wide, high): (f64, f64), look: &str) {
        let _ = write!(
            self.out,
            r##"<rect x="{x:.3}" y="{y:.3}" width="{wide:.3}" height="{high:.3}" fill="none" stroke="#777" stroke-width=".5" {look}/>"##
        );
    }

    /// Another drawing, as large as it fits into a place; its own proportions are kept.
    pub(crate) fn drawing(&mut self, (x, y): (f64, f64), (wide, high): (f64, f64), svg: &str) {
        let Some((head, body)) = svg.split_once('>') else { return };
        let view = head.split("viewBox=\"").nth(1).and_then(|rest| rest.split('"').next()).unwrap_or_default();
        let _ = write!(
            self.out,
            r##"<svg x="{x:.2}" y="{y:.2}" width="{wide:.2}" height="{high:.2}" viewBox="{view}" preserveAspectRatio="xMinYMin meet">{body}"##
        );
    }

    /// What is drawn elsewhere.
    pub(crate) fn raw(&mut self) -> &mut String {
        &mut self.out
    }

    pub(crate) fn done(self) -> String {
        self.out + "</svg>"
    }
}
