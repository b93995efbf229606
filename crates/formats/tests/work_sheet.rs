//! The work sheet, the protocol and the labels, as an independent reader of PDFs finds them.

#![allow(clippy::unwrap_used, clippy::expect_used, reason = "a test that cannot go on fails")]

use std::process::Command;

use jiff::Timestamp;
use jiff::tz::TimeZone;
use wayfinder_core::base::position::Position;
use wayfinder_core::base::units::{Amps, NominalVolts};
use wayfinder_core::directory::{self, Tag, TagKind};
use wayfinder_core::house::{
    Breaker, BreakerId, Evidence, EvidenceId, Goal, JobAct, JobId, Observation, Panel, PanelId, Point, PointId,
    PointKind, ReadingId, Room, RoomId, Seen, Way,
};
use wayfinder_core::job::{Basis, Plan, plan};
use wayfinder_core::load::Loaded;
use wayfinder_core::load::draws::draws;
use wayfinder_core::trace::beliefs;
use wayfinder_core::{Change, House};
use wayfinder_formats::draw::{Kind, Print};
use wayfinder_formats::{labels, work_sheet};

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
    std::fs::write(&file, Print { title: "sheet".into(), pages: pages.to_vec() }.put_out(Kind::Pdf).unwrap()).unwrap();
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
    let done = |step: &str| act(JobAct::Done { step: step.into(), noted: String::new() });
    let read_at = |step: &str, value, id| {
        act(JobAct::Read {
            step: step.into(),
            value,
            loaded: false,
            reading: ReadingId(id),
            why: "the wrong wire".into(),
        })
    };
    let changes = [
        Change::BeginJob { job, goal: Box::new(replacing()), instead: [].into(), who: who.clone(), time },
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
    assert_eq!(boxes(&pages).1, 3, "what was switched off and tested before the stop is to be done again");
    for said in [
        "37.5 V, did not pass, 2027-01-15 08:00, Wren",
        "240.0 V, 2027-01-15 08:00, Wren",
        "something feeds it",
        "counts no more",
        "Not finished.",
    ] {
        assert!(text.contains(said), "{said}: {text}");
    }
}

/// A house where a job on both breakers is open: one pole feeds a light that is proven and one that is only likely.
fn fed() -> House {
    let mut house = house();
    house.about.every_panel = true;
    let single = Breaker::new(BreakerId(2), PanelId(1), vec![Position::whole(5)], Amps(20.0));
    house.breakers.put(single);
    house.rooms.put(Room::new(RoomId(1), "Hall", "1"));
    for (id, tag) in [(1, "H1"), (2, "H2")] {
        let point = Point::new(PointId(id), tag, RoomId(1), PointKind::Light);
        house.points.put(Point { volts: Some(NominalVolts::V120), name: "lamp & bell".into(), ..point });
    }
    let (time, who) = (Timestamp::UNIX_EPOCH, "Wren".to_owned());
    let looks = [(1, 1, [2], Seen::Dead), (2, 1, [1], Seen::Live), (3, 1, [2], Seen::Dead), (4, 2, [2], Seen::Dead)];
    for (id, point, off, seen) in looks {
        let observation = Observation::Power { off: off.map(BreakerId).into(), seen, how: Way::Tester };
        let (id, point, who) = (EvidenceId(id), PointId(point), who.clone());
        house.evidence.put(Evidence { id, point, time, who, step: None, observation });
    }
    let empty = [2, 4, 6, 7, 8].map(Position::whole).into();
    let panel = Panel { empty, ..house.panels.get(PanelId(1)).unwrap().clone() };
    house.panels.put(panel);
    house
}

fn labels(breaker: u64) -> Vec<(String, String)> {
    let (job, who, time) = (JobId(1), "Wren".to_owned(), Timestamp::UNIX_EPOCH);
    let goal = Goal::Replace { breaker: BreakerId(breaker), amps: None, model: String::new() };
    let house =
        fed().apply(&Change::BeginJob { job, goal: Box::new(goal), instead: [].into(), who, time }).unwrap().house;
    let all = directory::of_job(&house, &beliefs(&house), house.jobs.get(job).unwrap());
    all.into_iter().map(|tag| (tag.large, tag.small)).collect()
}

// Handbook 4: a tag for hot and its neutral together, the circuit's number for the back of every cover plate.
#[test]
fn wires_are_tagged_by_pole_and_a_neutral_goes_with_its_hot() {
    let two = labels(1);
    let said: Vec<&str> = two.iter().map(|(_, small)| small.as_str()).collect();
    assert_eq!(said, ["wire: hot of pole 1", "wire: hot of pole 3"], "no neutral is known on it");
    let one = labels(2);
    assert_eq!(&one[0], &("Main 5".to_owned(), "wire: hot".to_owned()));
    assert_eq!(&one[1], &("Main 5".to_owned(), "wire: its neutral".to_owned()));
}

#[test]
fn plates_say_what_is_proven_and_what_is_not() {
    let plates: Vec<(String, String)> = labels(2).into_iter().filter(|(_, small)| small.contains("Hall")).collect();
    assert_eq!(plates.len(), 2, "{plates:?}");
    for (large, small) in &plates {
        let is_proven = small.contains("H1:");
        assert_eq!(
            (large.ends_with('?'), small.starts_with("not proven")),
            (!is_proven, !is_proven),
            "{large}: {small}"
        );
    }
}

#[test]
fn many_labels_fill_several_sheets_and_names_are_written_as_they_are() {
    let tag = |n: usize| Tag {
        kind: TagKind::Plate,
        of: PanelId(1).into(),
        room: None,
        large: format!("Main {n}"),
        small: format!("Q{n}: lamp & <bell>"),
        proven: true,
        stuck: None,
        due: true,
    };
    let pages = labels::to_cut(&(1..=40).map(tag).collect::<Vec<_>>());
    let (text, count) = read(&pages);
    assert_eq!((pages.len(), count), (2, 2), "36 a sheet");
    for n in 1..=40 {
        assert!(text.contains(&format!("Q{n}: lamp & <bell>")), "{n}: {text}");
    }
}
