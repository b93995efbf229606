//! The work sheet and the protocol, as an independent reader of PDFs finds them.

#![allow(clippy::unwrap_used, clippy::expect_used, reason = "a test that cannot go on fails")]

use std::process::Command;

use jiff::Timestamp;
use jiff::tz::TimeZone;
use wayfinder_core::base::position::Position;
use wayfinder_core::base::units::Amps;
use wayfinder_core::house::{Breaker, BreakerId, Goal, JobAct, JobId, Panel, PanelId, ReadingId};
use wayfinder_core::job::{Basis, Plan, plan};
use wayfinder_core::load::Loaded;
use wayfinder_core::load::draws::draws;
use wayfinder_core::trace::beliefs;
use wayfinder_core::{Change, House};
use wayfinder_formats::{draw, work_sheet};

fn house() -> House {
    let mut house = House::new("Quill Cottage");
    house.panels.put(Panel::new(PanelId(1), "Main", 8));
    house.breakers.put(Breaker::new(
        BreakerId(1),
        PanelId(1),
        vec![Position::whole(1), Position::whole(3)],
        Amps(30.0),
    ));
    house
}

fn replacing() -> Goal {
    Goal::Replace { breaker: BreakerId(1), amps: None, model: String::new() }
}

fn planned(house: &House) -> Plan {
    let beliefs = beliefs(house);
    let draws = draws(house, &beliefs);
    let loaded = Loaded::new(house, &beliefs, &draws);
    plan(&Basis::new(house, &beliefs, &loaded), &replacing()).unwrap()
}

/// The words of a PDF, in the order of reading, and its number of pages.
fn read(pages: &[String]) -> (String, usize) {
    let folder = tempfile::tempdir().unwrap();
    let file = folder.path().join("sheet.pdf");
    std::fs::write(&file, draw::pdf_of_pages(pages, "sheet").unwrap()).unwrap();
    let told = Command::new("pdftotext").arg("-layout").arg(&file).arg("-").output().expect("pdftotext is installed");
    let text = String::from_utf8(told.stdout).unwrap();
    // A form feed ends each page.
    let count = text.matches('\u{c}').count();
    (text, count)
}

/// Boxes to tick, and ticks.
fn boxes(pages: &[String]) -> (usize, usize) {
    let all = pages.concat();
    (all.matches("fill=\"none\" stroke=\"#000\" stroke-width=\"1.2\"").count(), all.matches("<path").count())
}

#[test]
fn every_step_has_a_box_and_every_reading_its_band_and_a_line_to_write_on() {
    let told = planned(&house());
    let pages = work_sheet::of_plan("Quill Cottage", &told, Some(jiff::civil::date(2026, 11, 26)));
    let (text, count) = read(&pages);
    assert_eq!((count, boxes(&pages)), (pages.len(), (told.steps.len(), 0)));
    assert!(count > 1 && text.contains("2026-11-26. Local code"), "{text}");
    let places: Vec<usize> =
        (1..=told.steps.len()).map(|n| text.find(&format!(" {n}. ")).unwrap_or_else(|| panic!("step {n}"))).collect();
    assert!(places.is_sorted(), "in their order");
    let holds = told.steps.iter().filter(|s| s.hold.is_some()).count();
    assert_eq!(text.matches("read: ________ V").count(), holds);
    assert!(
        text.contains("0 to 1 V between") && text.contains("228 to 252 V between pole and pole, likely 240"),
        "{text}"
    );
}

#[test]
fn the_protocol_tells_what_was_done_and_what_did_not_pass() {
    let house = house();
    let (job, who, time) = (JobId(1), "Wren".to_owned(), Timestamp::from_second(1_800_000_000).unwrap());
    let act = |act| Change::ActInJob { job, act, who: who.clone(), time };
    let done = |step: &str| act(JobAct::Done { step: step.into() });
    let read_at =
        |step: &str, value, id| act(JobAct::Read { step: step.into(), value, loaded: false, reading: ReadingId(id) });
    let changes = [
        Change::BeginJob { job, goal: replacing(), who: who.clone(), time },
        done("allowed"),
        done("ready"),
        done("parts"),
        done("off"),
        done("cover"),
        read_at("source-before", 240.0, 1),
        read_at("dead-bus", 37.5, 2),
        act(JobAct::Stop { why: "something feeds it".into() }),
    ];
    let house = changes.iter().fold(house, |house, change| house.apply(change).unwrap().house);
    let pages = work_sheet::of_job("Quill Cottage", house.jobs.get(job).unwrap(), &TimeZone::UTC);
    let (text, _) = read(&pages);
    assert_eq!(boxes(&pages).1, 6, "six steps are ticked");
    for said in [
        "37.5 V, did not pass, 2027-01-15 08:00, Wren",
        "240.0 V, 2027-01-15 08:00, Wren",
        "something feeds it",
        "Not finished.",
    ] {
        assert!(text.contains(said), "{said}: {text}");
    }
}
