//! The plan's drawing, measured from outside: poppler reads the PDF and tells where its words stand.
#![allow(clippy::unwrap_used, clippy::expect_used, reason = "a test that cannot go on fails")]

use std::process::Command;

use jiff::Timestamp;
use wayfinder_core::House;
use wayfinder_core::house::Lengths;
use wayfinder_core::trace::beliefs;
use wayfinder_core::view::floor::view;
use wayfinder_formats::draw::{Kind, Print};
use wayfinder_formats::plan::{Scale, svg};
use wayfinder_formats::survey::{BadRows, Survey, import};

macro_rules! demo {
    ($file:literal) => {
        include_str!(concat!("../../../demo/thistledown-school/", $file))
    };
}

fn demo() -> House {
    let survey = Survey::default()
        .with("panels.csv", demo!("panels.csv"))
        .with("breakers.csv", demo!("breakers.csv"))
        .with("wires.csv", demo!("wires.csv"))
        .with("rooms.csv", demo!("rooms.csv"))
        .with("openings.csv", demo!("openings.csv"))
        .with("points.csv", demo!("points.csv"))
        .with("evidence.csv", demo!("evidence.csv"));
    import("Thistledown School", &survey, Timestamp::UNIX_EPOCH, BadRows::Refuse).unwrap().house
}

/// A word and its middle.
type Word = (String, f64, f64);

/// The PDF's page size and the middle of each word, in points, as poppler tells them.
fn words(pdf: &[u8]) -> ((f64, f64), Vec<Word>) {
    let folder = tempfile::tempdir().unwrap();
    let file = folder.path().join("plan.pdf");
    std::fs::write(&file, pdf).unwrap();
    let told = Command::new("pdftotext").arg("-bbox").arg(&file).arg("-").output().expect("pdftotext is installed");
    let told = String::from_utf8(told.stdout).unwrap();
    let number = |tag: &str, name: &str| {
        tag.split_once(&format!("{name}=\"")).unwrap().1.split('"').next().unwrap().parse::<f64>().unwrap()
    };
    let page = told.lines().find(|l| l.contains("<page ")).unwrap();
    let word = |l: &str| {
        let text = l.split_once('>').unwrap().1.split("</word>").next().unwrap().to_owned();
        (text, (number(l, "xMin") + number(l, "xMax")) / 2.0, (number(l, "yMin") + number(l, "yMax")) / 2.0)
    };
    let all = told.lines().filter(|l| l.contains("<word ")).map(word).collect();
    ((number(page, "width"), number(page, "height")), all)
}

fn at(all: &[Word], text: &str) -> (f64, f64) {
    let found: Vec<_> = all.iter().filter(|(word, ..)| word == text).collect();
    assert_eq!(found.len(), 1, "{text}: {found:?}");
    (found[0].1, found[0].2)
}

// Definition of a scale: at 1:50 twelve inches in the house are 12 · 72 / 50 points on paper. Two tags of ceiling lights
// are drawn the same way at places that differ by what the survey says; so do their words on the page.
#[test]
fn the_plan_is_true_to_scale() {
    let house = demo();
    let view = view(&house, &beliefs(&house), "1");
    for (scale, ratio) in [(Scale::Fifty, 50.0), (Scale::QuarterInch, 48.0)] {
        let drawing = svg(&view, &house.about.name, Lengths::FeetInches, scale, None).unwrap();
        let (page, all) = words(&Print::single("plan", drawing.clone()).put_out(Kind::Pdf).unwrap());
        // K1 and K3 are on one wall, 3' and 18' along, on one circuit: 15 ft, and their labels are as wide.
        let marks: Vec<(f64, f64)> = ["K1", "K3"].iter().map(|tag| at(&all, tag)).collect();
        let apart = marks[1].0 - marks[0].0;
        let expected = 15.0 * 12.0 * 72.0 / ratio;
        assert!((apart / expected - 1.0).abs() < 0.005, "{apart} pt, {expected} pt expected at 1:{ratio}");
        // L1 and L2 on the west wall of the laundry, 2' and 5'6" down: 3.5 ft, whatever stands beside them.
        let down = at(&all, "L2").1 - at(&all, "L1").1;
        assert!((down / (3.5 * 12.0 * 72.0 / ratio) - 1.0).abs() < 0.005, "{down}");
        // The scale bar says ten feet and is so: its words are centred under its ends.
        let foot: Vec<_> = all.iter().filter(|(.., y)| *y > page.1 - 60.0).cloned().collect();
        let end = (at(&foot, "10").0 + at(&foot, "ft").0) / 2.0;
        let bar = end - at(&foot, "0").0;
        assert!(
            (bar / (120.0 * 72.0 / ratio) - 1.0).abs() < 0.02,
            "{bar}: the middle of two words is only nearly theirs"
        );
        // The whole floor is 48 ft wide and on the page.
        assert!(page.0 >= 48.0 * 12.0 * 72.0 / ratio, "{page:?}");
        for word in ["Kitchen", "Laundry", "Thistledown", "light", "alarm"] {
            assert!(all.iter().any(|(text, ..)| text.starts_with(word)), "{word}");
        }
    }
}

#[test]
fn fitted_to_a_letter_sheet_everything_is_on_it() {
    let house = demo();
    for floor in ["1", "2", "loft", "cellar", "outside", "annex"] {
        let view = view(&house, &beliefs(&house), floor);
        let drawing = svg(&view, "T", Lengths::Metres, Scale::Fit, None).unwrap();
        let (page, all) = words(&Print::single("plan", drawing.clone()).put_out(Kind::Pdf).unwrap());
        assert!(page.0 <= 792.5 && page.1 <= 612.5, "{floor}: {page:?}");
        for (text, x, y) in &all {
            assert!((0.0..=page.0).contains(x) && (0.0..=page.1).contains(y), "{text} leaves the sheet of {floor}");
        }
        let foot = all.iter().filter(|(.., y)| *y > page.1 - 60.0);
        assert!(
            foot.clone().any(|(text, ..)| text.contains('m')),
            "the bar is in metres: {:?}",
            foot.collect::<Vec<_>>()
        );
    }
    // A small floor drawn to scale has a narrow sheet: what the marks mean is wrapped, not cut.
    for floor in ["loft", "cellar", "annex"] {
        let view = view(&house, &beliefs(&house), floor);
        let drawing = svg(&view, "T", Lengths::Metres, Scale::Fifty, None).unwrap();
        let (page, all) = words(&Print::single("plan", drawing.clone()).put_out(Kind::Pdf).unwrap());
        let words = view.symbols.iter().flat_map(|s| s.word.split_whitespace());
        for word in words.chain(["touch.", "unfinished"]) {
            assert!(all.iter().any(|(text, ..)| text == word), "{floor}: {word}");
        }
        for (text, x, y) in &all {
            let half = text.chars().count() as f64 * 1.5;
            assert!(x + half <= page.0 && *y <= page.1, "{text} leaves the sheet of {floor}: {x} of {}", page.0);
        }
    }
    let nothing = view(&house, &beliefs(&house), "sky");
    assert!(svg(&nothing, "T", Lengths::Metres, Scale::Fit, None).is_err());
}
