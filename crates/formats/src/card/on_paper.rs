//! Cards on paper: each on a page of its own size, or several on a sheet to cut out.

use wayfinder_core::base::units::Inches;
use wayfinder_core::house::CardSize;

use super::PT;
use crate::sheet::Paper;

/// White around cards on a sheet, and between them: what printers leave bare. (common practice: a quarter inch)
const WHITE: f64 = 18.0;

/// Paper as it is sold. (ISO 216; ANSI/ASME Y14.1)
pub const PAPERS: [(&str, [f64; 2]); 4] = [
    ("letter", [8.5, 11.0]),
    ("legal", [8.5, 14.0]),
    ("a4", [210.0 / 25.4, 297.0 / 25.4]),
    ("a5", [148.0 / 25.4, 210.0 / 25.4]),
];

/// Paper by its name: `letter`, `legal`, `a4`, `a5`.
#[must_use]
pub fn paper(name: &str) -> Option<[Inches; 2]> {
    let found = PAPERS.iter().find(|(paper, _)| paper.eq_ignore_ascii_case(name.trim()));
    found.map(|(_, sides)| sides.map(Inches))
}

/// A card as large as a paper lets it be.
#[must_use]
pub fn whole(paper: [Inches; 2]) -> CardSize {
    let [width, height] = paper.map(|side| Inches(side.0 - 2.0 * WHITE / PT));
    CardSize { width, height }
}

/// A card with its size in inches.
pub struct Sized {
    /// The drawing.
    pub svg: String,
    /// Width and height.
    pub size: [Inches; 2],
}

/// Cards beside and below one another on sheets of a paper, with a frame to cut along; one that is larger than the paper has a page
/// of its own size.
#[must_use]
pub fn on(cards: &[Sized], paper: [Inches; 2]) -> Vec<String> {
    let [wide, high] = paper.map(|side| side.0 * PT);
    let (mut pages, mut large) = (Vec::new(), Vec::new());
    let mut sheet: Option<Paper> = None;
    let (mut x, mut y, mut row) = (WHITE, WHITE, 0.0_f64);
    for card in cards {
        let [w, h] = card.size.map(|side| side.0 * PT);
        if w > wide - 2.0 * WHITE || h > high - 2.0 * WHITE {
            large.push(card.svg.clone());
            continue;
        }
        if x + w > wide - WHITE && x > WHITE {
            (x, y, row) = (WHITE, y + row + WHITE, 0.0);
        }
        if y + h > high - WHITE {
            pages.extend(sheet.take().map(Paper::done));
            (x, y, row) = (WHITE, WHITE, 0.0);
        }
        let on = sheet.get_or_insert_with(|| Paper::new((wide, high), "Cards"));
        on.drawing((x, y), (w, h), &card.svg);
        on.frame((x, y), (w, h), r#"stroke-dasharray="4 3""#);
        x += w + WHITE;
        row = row.max(h);
    }
    pages.extend(sheet.map(Paper::done));
    pages.extend(large);
    pages
}

/// How a door's pocket is measured.
#[must_use]
pub fn measure_so() -> String {
    use crate::card::Style;
    use crate::sheet::To;
    let mut paper = Paper::new((216.0, 216.0), "Measure the pocket inside the door");
    let (left, top, wide, high) = (74.0, 22.0, 116.0, 128.0);
    paper.frame((left - 14.0, top - 14.0), (wide + 28.0, high + 28.0), r#"rx="4""#);
    paper.frame((left, top), (wide, high), r#"stroke-dasharray="5 3""#);
    for line in 0..5 {
        let y = top + 20.0 + 22.0 * f64::from(line);
        paper.line((left + 12.0, y), (left + wide / 2.0 - 8.0, y), 1.4);
        paper.line((left + wide / 2.0 + 8.0, y), (left + wide - 12.0, y), 1.4);
    }
    let (under, beside) = (top + high + 24.0, left - 24.0);
    paper.line((left, under), (left + wide, under), 2.4);
    paper.line((beside, top), (beside, top + high), 2.4);
    for x in [left, left + wide] {
        paper.line((x, under - 7.0), (x, under + 7.0), 2.4);
    }
    for y in [top, top + high] {
        paper.line((beside - 7.0, y), (beside + 7.0, y), 2.4);
    }
    paper.words((left, under + 26.0), Style::Strong, 22.0, wide, To::Middle, "width");
    // Read from the side, as one holds the tape.
    paper.raw().push_str(&format!(
        r#"<text transform="translate({} {}) rotate(-90)" font-size="22" font-weight="700" text-anchor="middle">height</text>"#,
        beside - 14.0,
        top + high / 2.0
    ));
    paper.done()
}

#[cfg(test)]
mod tests {
    use super::*;

    fn card(wide: f64, high: f64) -> Sized {
        let svg =
            format!("<svg xmlns=\"http://www.w3.org/2000/svg\" viewBox=\"0 0 {wide} {high}\"><path d=\"M0 0\"/></svg>");
        Sized { svg, size: [Inches(wide), Inches(high)] }
    }

    #[test]
    fn cards_share_a_sheet_as_long_as_they_fit() {
        let letter = paper("Letter").unwrap_or([Inches(0.0); 2]);
        let of = |cards: &[Sized]| on(cards, letter).len();
        assert_eq!(of(&[card(3.5, 5.0), card(3.5, 5.0), card(3.5, 4.0), card(3.5, 4.0)]), 1);
        assert_eq!(of(&[card(4.25, 9.0), card(4.25, 9.0)]), 2, "too wide for two");
        assert_eq!(of(&[card(12.0, 20.0), card(3.0, 3.0)]), 2, "one of its own size");
        assert_eq!(paper("tabloid"), None);
    }
}
