//! A code of dots that opens an address when a phone's camera sees it (ISO/IEC 18004).

use std::fmt::Write;

use qrcode::{Color, EcLevel, QrCode};

/// White around it, in dots. (ISO/IEC 18004: four)
const QUIET: usize = 4;

/// A code.
#[derive(Debug, Clone, PartialEq, Eq)]
pub(crate) struct Code {
    side: usize,
    dark: Vec<bool>,
}

impl Code {
    /// Of an address; nothing for one too long to be read from a card.
    pub(crate) fn of(address: &str) -> Option<Self> {
        let code = QrCode::with_error_correction_level(address, EcLevel::M).ok()?;
        let side = code.width();
        Some(Self { side, dark: code.into_colors().into_iter().map(|color| color == Color::Dark).collect() })
    }

    /// Draws it with its white edge, so large in all.
    pub(crate) fn draw(&self, out: &mut String, (x, y): (f64, f64), size: f64) {
        let dot = size / (self.side + 2 * QUIET) as f64;
        let _ = write!(out, r##"<rect x="{x:.2}" y="{y:.2}" width="{size}" height="{size}" fill="#fff"/><path d=""##);
        for (nth, _) in self.dark.iter().enumerate().filter(|(_, dark)| **dark) {
            let at = |step: usize| (step + QUIET) as f64 * dot;
            let _ = write!(
                out,
                "M{:.3} {:.3}h{dot:.3}v{dot:.3}h-{dot:.3}z",
                x + at(nth % self.side),
                y + at(nth / self.side)
            );
        }
        out.push_str(r##"" fill="#000"/>"##);
    }
}
