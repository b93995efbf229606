//! Small labels: on sheets by their measures, with a print that shows how far a printer is off, and on a continuous tape. (handbook 4)

use wayfinder_core::base::units::Inches;
use wayfinder_core::directory::{Tag, TagKind};
use wayfinder_core::house::LabelSheet;

use crate::card::{Style, width};
use crate::code::Code;
use crate::sheet::{PT, Paper, To};

/// White inside a label's edge.
const INSIDE: f64 = 3.5;
/// Type sizes: the largest of the circuit's name, of the words below, and the smallest that is read at arm's length.
const LARGE: f64 = 20.0;
const SMALL: f64 = 9.0;
const LEAST: f64 = 5.0;
/// Lower than this a label has one line.
const ONE_LINE: f64 = 26.0;
/// Lower than this a code's dots run together.
const CODE: f64 = 40.0;
/// The longest piece of tape that is drawn as one, in points: three feet.
const PIECE: f64 = 36.0 * PT;

/// The address that a label's code opens; nothing for one without.
pub type Link<'a> = dyn Fn(&Tag) -> Option<String> + 'a;

/// What stands on a label beside its words.
#[derive(Default)]
pub struct Marked<'a> {
    /// The address that a code on it opens.
    pub link: Option<&'a Link<'a>>,
    /// Lines to cut along are drawn: the paper has none.
    pub cut: bool,
}

/// Sheets of labels; the first `used` places of the first sheet are left.
#[must_use]
pub fn sheets(tags: &[Tag], sheet: &LabelSheet, used: usize, marked: &Marked<'_>) -> Vec<String> {
    let size = sheet.paper.map(|side| side.0 * PT);
    let label = sheet.label.map(|side| side.0 * PT);
    let places: Vec<Option<&Tag>> =
        (0..used % sheet.count().max(1)).map(|_| None).chain(tags.iter().map(Some)).collect();
    let page = |page: &[Option<&Tag>]| {
        let mut paper = Paper::new((size[0], size[1]), &sheet.name);
        for (nth, tag) in page.iter().enumerate() {
            let [x, y] = sheet.place(nth).map(|at| at * PT);
            if let Some(tag) = tag {
                if marked.cut {
                    paper.frame((x, y), (label[0], label[1]), r#"stroke-dasharray="3 3""#);
                }
                draw(&mut paper, tag, (x, y), (label[0], label[1]), marked);
            }
        }
        paper.done()
    };
    places.chunks(sheet.count().max(1)).map(page).collect()
}

/// Labels to cut from a letter sheet.
#[must_use]
pub fn to_cut(tags: &[Tag]) -> Vec<String> {
    let sheet = LabelSheet::usual().pop();
    sheet.map_or_else(Vec::new, |sheet| sheets(tags, &sheet, 0, &Marked { cut: true, ..Marked::default() }))
}

/// Labels one after the other on a tape so high, each as long as its words, with a line to cut along between them.
#[must_use]
pub fn tape(tags: &[Tag], high: Inches, marked: &Marked<'_>) -> Vec<String> {
    let high = high.0 * PT;
    let long = |tag: &Tag| {
        let (large, small) = type_sizes((f64::INFINITY, high), tag);
        let words = match lines(high, tag) {
            1 => width(&one_line(tag), Style::Strong, large),
            _ => width(&tag.large, Style::Strong, large).max(width(&tag.small, Style::Plain, small)),
        };
        let code = if has_code(tag, high, marked).is_some() { high } else { 0.0 };
        words + 4.0 * INSIDE + code
    };
    let mut pieces: Vec<Vec<(&Tag, f64)>> = vec![Vec::new()];
    for tag in tags {
        let so_far: f64 = pieces.last().map_or(0.0, |piece| piece.iter().map(|(_, long)| long).sum());
        if so_far + long(tag) > PIECE && so_far > 0.0 {
            pieces.push(Vec::new());
        }
        if let Some(piece) = pieces.last_mut() {
            piece.push((tag, long(tag)));
        }
    }
    let piece = |piece: &Vec<(&Tag, f64)>| {
        let all: f64 = piece.iter().map(|(_, long)| long).sum();
        let mut paper = Paper::new((all, high), "Labels");
        let mut x = 0.0;
        for (tag, long) in piece {
            draw(&mut paper, tag, (x, 0.0), (*long, high), marked);
            x += long;
            if x < all - 1.0 {
                paper.line((x, 0.0), (x, high), 0.4);
            }
        }
        paper.done()
    };
    pieces.iter().filter(|piece| !piece.is_empty()).map(piece).collect()
}

/// A print that shows by how much a printer is off: a cross at the corner of the first and of the last label, with a scale in
/// millimetres on which the label's edge is read.
#[must_use]
pub fn calibration(sheet: &LabelSheet) -> String {
    const SCALE: i32 = 6;
    let mm = PT / 25.4;
    let size = sheet.paper.map(|side| side.0 * PT);
    let label = sheet.label.map(|side| side.0 * PT);
    let mut paper = Paper::new((size[0], size[1]), &format!("{}: where the printer prints", sheet.name));
    for nth in [0, sheet.count().saturating_sub(1)] {
        let [x, y] = sheet.place(nth).map(|at| at * PT);
        paper.frame((x, y), (label[0], label[1]), r#"stroke-dasharray="2 2""#);
        paper.line((x - 8.0 * mm, y), (x + 8.0 * mm, y), 0.4);
        paper.line((x, y - 8.0 * mm), (x, y + 8.0 * mm), 0.4);
        for step in -SCALE..=SCALE {
            let at = f64::from(step) * mm;
            // What is read is what the print is off by: an edge that lies to the left tells that the print lies to the right.
            let said = (-step).to_string();
            let tick = if step % 2 == 0 { 1.4 } else { 0.8 } * mm;
            paper.line((x + at, y - tick), (x + at, y + tick), 0.3);
            paper.line((x - tick, y + at), (x + tick, y + at), 0.3);
            if step % 2 == 0 && step != 0 {
                paper.words((x + at - 6.0, y - 1.8 * mm), Style::Number, 5.0, 12.0, To::Middle, &said);
                paper.words((x - 1.8 * mm - 12.0, y + at + 1.8), Style::Number, 5.0, 12.0, To::Right, &said);
            }
        }
    }
    let (x, room) = (size[0] / 2.0 - 150.0_f64.min(size[0] / 2.0 - 10.0), 300.0_f64.min(size[0] - 20.0));
    let said = [
        "Print at 100 %, on a sheet of labels or on paper that is held before one against the light.",
        "At each cross the edge of the label is read on the scale, across and down, in millimetres. Enter what is read.",
    ];
    let mut y = size[1] / 2.0 - 14.0;
    for line in said {
        y = paper.paragraph((x, y), Style::Plain, 10.0, room, line) + 3.0;
    }
    paper.done()
}

fn lines(high: f64, tag: &Tag) -> usize {
    if tag.small.is_empty() || tag.kind == TagKind::Number || high < ONE_LINE { 1 } else { 2 }
}

fn one_line(tag: &Tag) -> String {
    match tag.kind {
        TagKind::Number => tag.large.clone(),
        _ if tag.small.is_empty() => tag.large.clone(),
        _ => format!("{} · {}", tag.large, tag.small),
    }
}

/// Sizes at which a label's words fit its place.
fn type_sizes((wide, high): (f64, f64), tag: &Tag) -> (f64, f64) {
    let fitting = |words: &str, style: Style, largest: f64| {
        let at_one = width(words, style, 1.0);
        if at_one > 0.0 { largest.min(wide / at_one).max(LEAST) } else { largest }
    };
    let inside = high - INSIDE;
    if lines(high, tag) == 1 {
        return (fitting(&one_line(tag), Style::Strong, LARGE.min(inside * 0.75)), LEAST);
    }
    let large = fitting(&tag.large, Style::Strong, LARGE.min(inside * 0.5));
    (large, fitting(&tag.small, Style::Plain, SMALL.min(inside * 0.3)))
}

fn has_code(tag: &Tag, high: f64, marked: &Marked<'_>) -> Option<Code> {
    let link = marked.link.filter(|_| high >= CODE && matches!(tag.kind, TagKind::Plate | TagKind::Panel))?;
    Code::of(&link(tag)?)
}

fn draw(paper: &mut Paper, tag: &Tag, (x, y): (f64, f64), (wide, high): (f64, f64), marked: &Marked<'_>) {
    let code = has_code(tag, high, marked);
    let side = high - 2.0;
    let room = wide - 2.0 * INSIDE - if code.is_some() { side } else { 0.0 };
    if let Some(code) = &code {
        code.draw(paper.raw(), (x + wide - side - 1.0, y + 1.0), side);
    }
    let (large, small) = type_sizes((room, high), tag);
    if lines(high, tag) == 1 {
        paper.words(
            (x + INSIDE, y + high / 2.0 + large * 0.35),
            Style::Strong,
            large,
            room,
            To::Middle,
            &one_line(tag),
        );
        return;
    }
    let gap = (high - large - small) / 3.0;
    paper.words((x + INSIDE, y + gap + large * 0.85), Style::Strong, large, room, To::Middle, &tag.large);
    paper.words((x + INSIDE, y + 2.0 * gap + large + small * 0.8), Style::Plain, small, room, To::Middle, &tag.small);
}

#[cfg(test)]
#[allow(clippy::unwrap_used, reason = "a test that cannot go on fails")]
mod tests {
    use std::process::Command;

    use wayfinder_core::house::PointId;

    use super::*;
    use crate::draw::{Kind, Print};

    fn tag(nth: usize) -> Tag {
        Tag {
            kind: TagKind::Plate,
            of: PointId(nth as u64).into(),
            room: None,
            large: format!("Main {nth}"),
            small: format!("K{nth}: Kitchen counter, left of the sink"),
            proven: true,
            stuck: None,
            due: true,
        }
    }

    /// Every word of a PDF with its left and top edge in points, by an independent reader.
    fn words(pages: Vec<String>) -> Vec<(String, f64, f64, f64)> {
        let folder = tempfile::tempdir().unwrap();
        let file = folder.path().join("labels.pdf");
        std::fs::write(&file, Print { title: "Labels".into(), pages }.put_out(Kind::Pdf).unwrap()).unwrap();
        let told = Command::new("pdftotext").arg("-bbox").arg(&file).arg("-").output().expect("pdftotext is installed");
        let text = String::from_utf8(told.stdout).unwrap();
        let of = |line: &str, name: &str| -> f64 {
            line.split(&format!("{name}=\"")).nth(1).unwrap().split('"').next().unwrap().parse().unwrap()
        };
        let word = |line: &str| {
            let said = line.split('>').nth(1)?.split('<').next()?.to_owned();
            Some((said, of(line, "xMin"), of(line, "xMax"), of(line, "yMin")))
        };
        text.lines().filter(|line| line.contains("<word")).filter_map(word).collect()
    }

    #[test]
    fn every_label_stands_inside_its_own_place_on_the_sheet() {
        let sheet = LabelSheet::usual().remove(0);
        let tags: Vec<Tag> = (0..35).map(tag).collect();
        let pages = sheets(&tags, &sheet, 2, &Marked::default());
        assert_eq!(pages.len(), 2, "two places are used, 35 labels, 30 a sheet");
        let all = words(pages);
        for nth in [0, 1, 7, 27] {
            let (_, left, right, top) = all.iter().find(|(word, ..)| *word == format!("K{nth}:")).unwrap();
            let [x, y] = sheet.place(nth + 2).map(|at| at * PT);
            assert!(*left >= x && *right <= x + 2.625 * PT, "label {nth}: {left} to {right} from {x}");
            assert!(*top >= y && *top <= y + PT, "label {nth}: {top} from {y}");
        }
    }

    // Handbook 4: a printer that puts everything 2 mm to the right, so that labels on paper lie where they should.
    #[test]
    fn a_planted_shift_of_two_millimetres_is_taken_back() {
        let straight = LabelSheet::usual().remove(2);
        let two = Inches(2.0 / 25.4);
        let corrected = LabelSheet { off: [two, Inches(0.0)], ..straight.clone() };
        let left = |sheet: &LabelSheet| words(sheets(&[tag(1)], sheet, 0, &Marked::default()))[0].1;
        let printed = left(&corrected) + 2.0 * PT / 25.4;
        assert!((printed - left(&straight)).abs() < 0.02, "{printed} {}", left(&straight));
    }

    #[test]
    fn the_calibration_print_reads_what_the_printer_is_off_by() {
        let sheet = LabelSheet::usual().remove(0);
        let all = words(vec![calibration(&sheet)]);
        let [x, _] = sheet.place(0).map(|at| at * PT);
        // An edge 2 mm to the left of the cross is read as 2: the print lies 2 mm too far to the right.
        for (said, expected) in [("2", x - 2.0 * PT / 25.4), ("-2", x + 2.0 * PT / 25.4)] {
            let there = |(word, left, right, _): &&(String, f64, f64, f64)| {
                word == said && ((left + right) / 2.0 - expected).abs() < 0.5
            };
            assert_eq!(all.iter().filter(there).count(), 1, "{said}: {all:?}");
        }
    }

    #[test]
    fn a_tape_is_as_high_as_it_is_and_each_label_as_long_as_its_words() {
        let tags: Vec<Tag> = (0..3).map(tag).collect();
        let pages = tape(&tags, Inches(12.0 / 25.4), &Marked::default());
        assert_eq!(pages.len(), 1);
        let all = words(pages);
        let starts: Vec<f64> = all.iter().filter(|(word, ..)| word == "Main").map(|(_, left, ..)| *left).collect();
        assert!(starts.windows(2).all(|two| two[1] - two[0] > 60.0), "{starts:?}");
        let long: Vec<Tag> = (0..60).map(tag).collect();
        assert!(tape(&long, Inches(0.5), &Marked::default()).len() > 1, "pieces that can be handled");
    }

    #[test]
    fn a_code_on_a_label_is_read_by_an_independent_reader() {
        let link =
            |tag: &Tag| Some(format!("http://house.local:8420/houses/1/find?tag={}", tag.large.replace(' ', "")));
        let marked = Marked { link: Some(&link), cut: true };
        let page = sheets(&[tag(7)], &LabelSheet::usual()[2], 0, &marked).remove(0);
        let folder = tempfile::tempdir().unwrap();
        let file = folder.path().join("label.png");
        std::fs::write(&file, Print::single("label", page).put_out(Kind::Png).unwrap()).unwrap();
        let read =
            Command::new("zbarimg").args(["--quiet", "--raw"]).arg(&file).output().expect("zbarimg is installed");
        assert_eq!(String::from_utf8(read.stdout).unwrap().trim(), "http://house.local:8420/houses/1/find?tag=Main7");
    }
}
