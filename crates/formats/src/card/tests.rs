use wayfinder_core::base::units::Amps;

use super::*;
use wayfinder_core::directory::CardMark;

use crate::draw::{Kind, Print};

fn entry(at: &str, column: Column, top: u16, standing: Standing, feeds: &str) -> CardEntry {
    CardEntry {
        at: at.into(),
        column,
        top,
        height: 2,
        amps: Some(Amps(20.0)),
        standing,
        feeds: feeds.into(),
        probably: if standing == Standing::Partly { "Loft light".into() } else { String::new() },
        found_label: String::new(),
        short: Vec::new(),
        mark: None,
        protection: "",
        changed: false,
    }
}

fn card(rows: u16, feeds: &str) -> Card {
    let entries = (0..rows).flat_map(|row| {
        [
            entry(&(2 * row + 1).to_string(), Column::Left, 2 * row, Standing::Proven, feeds),
            entry(&(2 * row + 2).to_string(), Column::Right, 2 * row, Standing::Partly, feeds),
        ]
    });
    Card {
        house: "Quill & Son's".into(),
        panel: "Main".into(),
        revision: 7,
        rows,
        entries: entries.collect(),
        fed_from: String::new(),
        key: Vec::new(),
        stays_live: String::new(),
        changed_since: None,
    }
}

fn size(width: f64, height: f64) -> CardSize {
    CardSize { width: Inches(width), height: Inches(height) }
}

/// Runs one of poppler's tools, a PDF reader independent of the writer, on a PDF.
fn poppler(tool: &str, arguments: &[&str], pdf: &[u8]) -> String {
    let folder = tempfile::tempdir().unwrap();
    let file = folder.path().join("card.pdf");
    std::fs::write(&file, pdf).unwrap();
    let (before, after): (Vec<&&str>, Vec<&&str>) = arguments.iter().partition(|a| **a != "-");
    let output = std::process::Command::new(tool).args(before).arg(&file).args(after).output();
    let output = output.expect("poppler-utils must be installed: apt-get install poppler-utils");
    assert!(output.status.success(), "{tool}: {}", String::from_utf8_lossy(&output.stderr));
    String::from_utf8(output.stdout).unwrap()
}

#[test]
fn the_pdf_has_the_measured_size_and_text_to_select() {
    let pdf = Print::single("Panel Main", svg(&card(10, "Kitchen receptacles, range"), size(4.25, 9.0), None).unwrap());
    let pdf = pdf.put_out(Kind::Pdf).unwrap();
    let info = poppler("pdfinfo", &[], &pdf);
    assert!(info.contains("Page size:       306 x 648 pts"), "{info}"); // 4.25 in · 72, 9 in · 72
    let text = poppler("pdftotext", &["-layout", "-"], &pdf);
    assert!(text.contains("Kitchen receptacles, range") && text.contains("Quill & Son's"), "{text}");
    // ISO 32000-1, 14.8: a tagged PDF says so; poppler reads its structure.
    assert!(info.contains("Title:           Panel Main") && info.contains("Tagged:          yes"), "{info}");
    let structure = poppler("pdfinfo", &["-struct-text"], &pdf);
    assert!(structure.contains("Document") && structure.contains("Figure"), "{structure}");
    let fonts = poppler("pdffonts", &[], &pdf);
    let faces: Vec<&str> = fonts.lines().skip(2).collect();
    assert!(faces.len() >= 3 && faces.iter().all(|f| f.contains("Overpass") && f.contains(" yes ")), "{fonts}");
}

#[test]
fn the_picture_has_the_measured_size() {
    let png = Print::single("Panel", svg(&card(10, "Hall light"), size(4.0, 6.0), None).unwrap());
    let png = png.put_out(Kind::Png).unwrap();
    let number = |at: usize| u32::from_be_bytes(png[at..at + 4].try_into().unwrap());
    assert_eq!((number(16), number(20)), (1200, 1800)); // PNG: width and height stand at bytes 16 and 20
    // PNG, 11.3.5.3: dots a metre stand in a pHYs chunk; 300 an inch are 11811.
    let at = png.windows(4).position(|four| four == b"pHYs").unwrap() + 4;
    assert_eq!((number(at), number(at + 4), png[at + 8]), (11_811, 11_811, 1));
}

/// Every text of a drawing with its place, size and style.
fn texts(svg: &str) -> Vec<(f64, f64, f64, Style, String)> {
    let attribute = |tag: &str, name: &str| {
        let tag = format!(" {tag}");
        let from = tag.find(&format!(" {name}=\""))? + name.len() + 3;
        tag[from..].split('"').next()?.parse::<f64>().ok()
    };
    let parts = svg.split("<text ").skip(1);
    let read = parts.map(|part| {
        let (tag, rest) = part.split_once('>').unwrap();
        let style = match tag {
            t if t.contains("700") => Style::Strong,
            t if t.contains("italic") => Style::Slanted,
            t if t.contains("Mono") => Style::Number,
            _ => Style::Plain,
        };
        let get = |name| attribute(tag, name).unwrap();
        (get("x"), get("y"), get("font-size"), style, rest.split("</text>").next().unwrap().replace("&amp;", "&"))
    });
    read.collect()
}

#[test]
fn nothing_overflows_at_any_size_and_nothing_is_below_five_points() {
    let long = "Kitchen counter receptacles, dishwasher, disposer; Dining room lights; Bakehouse annex receptacles";
    let mut drawn = 0;
    for (rows, w, h) in
        [(10, 4.25, 9.0), (21, 5.0, 11.0), (21, 3.5, 9.0), (6, 3.0, 4.0), (21, 8.0, 10.5), (21, 2.0, 5.0)]
    {
        let card = card(rows, long);
        let Ok(drawing) = svg(&card, size(w, h), None) else { continue };
        drawn += 1;
        let row = (h * 72.0 - 2.0 * MARGIN - 13.0) / f64::from(rows);
        for (x, y, points, style, words) in texts(&drawing) {
            assert!(x >= 0.0 && x + width(&words, style, points) <= w * 72.0 + 0.1, "{words} leaves {w} x {h}");
            assert!(y > 0.0 && y <= h * 72.0, "{words}");
            assert!(points >= SMALLEST_DRAWN, "{points} pt: {words}");
            assert!(points < row || row > fit::LARGEST, "{words} is higher than its row");
        }
        let left = texts(&drawing).into_iter().filter(|t| t.3 == Style::Strong && t.0 < 20.0 && t.1 > 40.0);
        for (x, _, points, style, words) in left {
            assert!(x + width(&words, style, points) <= w * 36.0 - 15.0 - AMPS_WIDTH, "{words} runs into the spine");
        }
    }
    assert!(drawn >= 4, "{drawn}");
}

/// Sizes are written with two decimals.
const SMALLEST_DRAWN: f64 = fit::SMALLEST - 0.01;

#[test]
fn a_sheet_too_small_is_refused_with_a_size_that_would_do() {
    let card = card(21, "Kitchen counter receptacles, dishwasher, disposer; Dining room lights");
    let refused = svg(&card, size(2.0, 3.0), None).unwrap_err();
    let (w, h) = refused.needs.unwrap();
    assert!(svg(&card, size(w, h), None).is_ok());
    assert!(refused.to_string().contains("too small for 42 entries at 5 pt"), "{refused}");
}

// Before it is refused a card leaves out and counts what tells least, by the rule of the core.
#[test]
fn where_all_words_do_not_fit_the_fullest_shorter_form_is_taken() {
    let long = "Kitchen counter receptacles, dishwasher, disposer, refrigerator, range hood, island and sink lights; Dining room lights";
    let mut card = card(21, long);
    let tight = size(3.0, 5.0);
    assert!(svg(&card, tight, None).is_err());
    for entry in &mut card.entries {
        entry.short = [long, "Kitchen counter receptacles +9", "Kitchen +1"].map(str::to_owned).to_vec();
    }
    let drawing = svg(&card, tight, None).unwrap();
    let shown: Vec<String> = texts(&drawing).into_iter().map(|t| t.4).collect();
    assert!(shown.iter().any(|t| t.contains("+9")) && !shown.iter().any(|t| t.contains("+1")), "{shown:?}");
}

#[test]
fn text_shrinks_then_wraps_then_is_abbreviated() {
    let run = |text: &str| vec![Run { style: Style::Strong, text: text.into() }];
    let words = "Kitchen receptacles, dishwasher";
    let wide = width(words, Style::Strong, 1.0);
    let lay = |columns: f64, height: f64| fit::lay(&run(words), wide * columns, height, fit::LARGEST).unwrap();
    assert_eq!((lay(11.1, 30.0).size, lay(11.1, 30.0).lines.len()), (11.0, 1));
    assert_eq!((lay(8.1, 30.0).size, lay(8.1, 30.0).lines.len()), (8.0, 1));
    assert_eq!(lay(6.0, 30.0).lines.len(), 2);
    let short = lay(4.6, 6.0);
    assert_eq!(short.lines[0][0].text, "Kit recs, dishw");
    assert_eq!(fit::lay(&run(words), wide * 1.0, 6.0, fit::LARGEST), None);
}

#[test]
fn marks_show_without_colour_what_is_proven() {
    let drawing = svg(&card(2, "Hall light"), size(4.0, 4.0), None).unwrap();
    assert_eq!(drawing.matches("url(#part)").count(), 2);
    let colours = drawing.split(['"']).filter(|part| part.starts_with('#') && part.len() == 4);
    let colours: std::collections::BTreeSet<&str> = colours.collect();
    assert_eq!(colours, ["#000", "#999", "#fff"].into(), "black, white and a grey line, and nothing else");
    let unproven = CardEntry { standing: Standing::Unproven, ..entry("1", Column::Left, 0, Standing::Proven, "") };
    assert_eq!(runs(&unproven)[0].text, "? not traced");
}

#[test]
fn half_size_and_two_pole_entries_stand_where_they_are_engraved() {
    let at =
        |at: &str, top, height| CardEntry { height, ..entry(at, Column::Left, top, Standing::Proven, "Hall light") };
    let entries = vec![at("1a", 0, 1), at("1b-3a", 1, 2), at("3b", 3, 1), at("5-7", 4, 4)];
    let card = Card {
        house: "Quill".into(),
        panel: "Main".into(),
        revision: 1,
        rows: 4,
        entries,
        fed_from: String::new(),
        key: Vec::new(),
        stays_live: String::new(),
        changed_since: None,
    };
    let drawing = svg(&card, size(4.0, 6.0), None).unwrap();
    let numbers: Vec<_> = texts(&drawing).into_iter().filter(|t| t.3 == Style::Number && !t.4.contains('A')).collect();
    let labels: Vec<_> = numbers.iter().map(|t| t.4.as_str()).collect();
    assert_eq!(labels, ["1a", "1b", "3a", "3b", "5", "7"]);
    assert!(numbers.windows(2).all(|pair| pair[0].1 < pair[1].1), "top to bottom");
    // Rows are even: from 5 to 7 is as far as from the middle of 1 to the middle of 3.
    let y = |label: &str| numbers.iter().find(|t| t.4 == label).unwrap().1;
    let row = y("7") - y("5");
    assert!((y("5") - (y("1a") + y("1b")) / 2.0 - 2.0 * row).abs() < 2.0, "{numbers:?}");
}

#[test]
fn the_drawing_carries_its_typefaces_and_escapes_what_people_type() {
    let mut nasty = card(1, "<script>alert(1)</script> & \"x\"");
    nasty.panel = "</title><script>".into();
    let print = Print::single("nasty", svg(&nasty, size(5.0, 4.0), None).unwrap());
    let drawing = String::from_utf8(print.put_out(Kind::Svg).unwrap()).unwrap();
    assert!(drawing.len() < 120_000, "of each typeface the letters that are used: {}", drawing.len());
    assert!(!drawing.contains("<script>"));
    assert_eq!(drawing.matches("@font-face").count(), 4);
    assert!(Print::single("", drawing).put_out(Kind::Pdf).unwrap().starts_with(b"%PDF"));
}

#[test]
fn the_date_and_revision_stand_in_the_head() {
    let drawing = svg(&card(2, "Hall light"), size(4.0, 4.0), Some(jiff::civil::date(2026, 3, 1))).unwrap();
    assert!(texts(&drawing).iter().any(|t| t.4 == "2026-03-01 rev. 7"));
}

#[test]
fn every_standing_says_itself_in_words() {
    let words = |standing, probably: &str, found: &str| {
        let mut e = entry("1", Column::Left, 0, standing, "Hall light");
        e.probably = probably.into();
        e.found_label = found.into();
        let styled = runs(&e);
        let strong = styled.iter().any(|r| r.style == Style::Strong);
        (styled.iter().map(|r| r.text.as_str()).collect::<Vec<_>>().join(" "), strong)
    };
    let cases = [
        (Standing::Proven, "", "", "Hall light", true),
        (Standing::Partly, "Den light", "", "Hall light ? Den light", true),
        (Standing::Unproven, "Den light", "", "? Den light (not proven)", false),
        (Standing::Unproven, "", "stove", "? not traced; old label: stove", false),
        (Standing::Unproven, "", "", "? not traced", false),
        (Standing::NothingFound, "", "", "nothing found on it", false),
        (Standing::Empty, "", "", "empty", false),
        (Standing::NotEntered, "", "", "not entered", false),
    ];
    for (standing, probably, found, expected, strong) in cases {
        assert_eq!(words(standing, probably, found), (expected.to_owned(), strong), "{standing:?}");
    }
}

#[test]
fn lines_that_changed_have_a_bar_and_the_legend_says_since_when() {
    let bars = |svg: &str| svg.matches(r#"width="2.5" height="#).count();
    let plain = card(2, "Hall light");
    assert_eq!(bars(&svg(&plain, size(4.0, 4.0), None).unwrap()), 0);
    let mut changed = Card { changed_since: Some(3), ..plain };
    changed.entries[1].changed = true;
    let drawing = svg(&changed, size(4.0, 4.0), None).unwrap();
    assert_eq!(bars(&drawing), 1);
    assert!(drawing.contains("changed since rev. 3"), "{drawing}");
}

#[test]
fn what_stays_live_stands_at_the_foot_of_the_card() {
    let live =
        Card { stays_live: "Stays live whatever is off here: Yard lamp: do not work there.".into(), ..card(2, "Hall") };
    let drawing = svg(&live, size(4.0, 5.0), None).unwrap();
    assert!(drawing.contains("Stays live whatever"), "{drawing}");
}

/// Linear light of an sRGB colour. (IEC 61966-2-1)
fn linear(colour: &str) -> [f64; 3] {
    [1, 3, 5].map(|at| {
        let c = f64::from(u8::from_str_radix(&colour[at..at + 2], 16).unwrap()) / 255.0;
        if c <= 0.040_45 { c / 12.92 } else { ((c + 0.055) / 1.055).powf(2.4) }
    })
}

/// CIE L*a*b* of linear light, white D65.
fn lab([r, g, b]: [f64; 3]) -> [f64; 3] {
    let xyz = [
        (0.4124 * r + 0.3576 * g + 0.1805 * b) / 0.950_47,
        0.2126 * r + 0.7152 * g + 0.0722 * b,
        (0.0193 * r + 0.1192 * g + 0.9505 * b) / 1.088_83,
    ];
    let [x, y, z] = xyz.map(|t: f64| if t > 0.008_856 { t.cbrt() } else { 7.787 * t + 16.0 / 116.0 });
    [116.0 * y - 16.0, 500.0 * (x - y), 200.0 * (y - z)]
}

/// How colours look without one sort of cone: Machado, Oliveira and Fernandes, 2009, severity 1.0; values from memory.
const SEES: [[[f64; 3]; 3]; 4] = [
    [[1.0, 0.0, 0.0], [0.0, 1.0, 0.0], [0.0, 0.0, 1.0]],
    [[0.152_286, 1.052_583, -0.204_868], [0.114_503, 0.786_281, 0.099_216], [-0.003_882, -0.048_116, 1.051_998]],
    [[0.367_322, 0.860_646, -0.227_968], [0.280_085, 0.672_501, 0.047_413], [-0.011_820, 0.042_940, 0.968_881]],
    [[1.255_528, -0.076_749, -0.178_779], [-0.078_411, 0.930_809, 0.147_602], [0.004_733, 0.691_367, 0.303_900]],
];

#[test]
fn grounds_of_marks_are_told_apart_by_every_eye_and_letters_on_them_are_read() {
    for sees in SEES {
        let seen = |colour: &str| {
            let light = linear(colour);
            lab(sees.map(|row| row.iter().zip(light).map(|(a, b)| a * b).sum::<f64>().clamp(0.0, 1.0)))
        };
        for (nth, one) in MARK_GROUNDS.iter().enumerate() {
            for other in &MARK_GROUNDS[nth + 1..] {
                let apart = seen(one).iter().zip(seen(other)).map(|(a, b)| (a - b).powi(2)).sum::<f64>().sqrt();
                assert!(apart > 10.0, "{one} {other}: {apart:.1}");
            }
        }
    }
    for ground in MARK_GROUNDS {
        let [r, g, b] = linear(ground);
        let contrast = (0.2126 * r + 0.7152 * g + 0.0722 * b + 0.05) / 0.05;
        assert!(contrast > 4.5, "{ground}: {contrast:.1}, WCAG 2.2, 1.4.3");
    }
}

#[test]
fn marks_protection_what_feeds_the_panel_and_a_code_stand_on_the_card() {
    let mut marked = card(4, "Hall light");
    let heat = CardMark { ground: 1, letters: "H".into(), word: "makes heat".into() };
    marked.entries[0].mark = Some(heat.clone());
    marked.entries[1].protection = "GF";
    marked.key = vec![heat];
    marked.fed_from = "Fed from Main 2-4, 60 A; main lugs only".into();
    let address = "http://wayfinder.local:8420/houses/1/survey?panel=2";
    let drawing = linked(&marked, size(4.5, 6.0), None, Some(address)).unwrap();
    let words: String = texts(&drawing).into_iter().map(|t| t.4 + "|").collect();
    for said in ["|H|", "|GF|", "H: makes heat", "Fed from Main 2-4", "GF: ground-fault"] {
        assert!(words.replace(' ', "").contains(&said.replace(' ', "")), "{said}: {words}");
    }
    // An independent reader of codes.
    let png = Print::single("card", drawing).put_out(Kind::Png).unwrap();
    let folder = tempfile::tempdir().unwrap();
    let file = folder.path().join("card.png");
    std::fs::write(&file, png).unwrap();
    let read = std::process::Command::new("zbarimg").args(["--quiet", "--raw"]).arg(&file).output();
    let read = read.expect("zbar-tools must be installed: apt-get install zbar-tools");
    assert_eq!(String::from_utf8(read.stdout).unwrap().trim(), address);
}

#[test]
fn a_panel_of_one_column_has_a_card_of_one_column() {
    let mut one = card(6, "Hall light");
    for (nth, entry) in one.entries.iter_mut().enumerate() {
        (entry.column, entry.top) = (Column::Left, 2 * nth as u16);
    }
    one.rows = 6;
    let drawing = svg(&one, size(3.0, 5.0), None).unwrap();
    let numbers = texts(&drawing).into_iter().filter(|t| t.3 == Style::Number && !t.4.contains('A'));
    assert!(numbers.map(|t| t.0).all(|x| x > 2.0 * 72.0), "the numbers stand at the right");
}
