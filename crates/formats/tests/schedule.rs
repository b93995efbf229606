//! The schedule of a three-phase panel, read back by independent readers.

#![allow(clippy::unwrap_used, reason = "a test that cannot go on fails")]

use std::process::Command;

use wayfinder_core::House;
use wayfinder_core::base::position::{Supply, parse_poles};
use wayfinder_core::base::units::{Amps, NominalVolts};
use wayfinder_core::directory::schedule;
use wayfinder_core::house::*;
use wayfinder_core::load::Loaded;
use wayfinder_core::load::draws::draws;
use wayfinder_core::trace::beliefs;
use wayfinder_formats::draw::Kind;
use wayfinder_formats::schedule as drawn;

/// A workshop's panel: a three-pole compressor of 14.2 A with its plate, a lamp, an unused breaker.
fn workshop() -> House {
    let mut house = House::new("Quill Works");
    let panel = Panel::new(PanelId(1), "Works", 12);
    house.panels.put(Panel { supply: Supply::WyeThreePhase, ..panel });
    house.rooms.put(Room::new(RoomId(1), "Shop", "1"));
    for (id, at, amps) in [(1, "1-3-5", 30.0), (2, "2", 20.0), (3, "4", 20.0)] {
        house.breakers.put(Breaker::new(BreakerId(id), PanelId(1), parse_poles(at).unwrap(), Amps(amps)));
    }
    let wire = "10".parse().ok();
    let circuit = Circuit::new(CircuitId(1), BreakerId(1));
    house.circuits.put(Circuit { wire, conductors: Some(3), ..circuit });
    let mut evidence = 0;
    for (id, volts, amps, on) in [(1_u64, 208, 14.2, 1_u64), (2, 120, 2.0, 2)] {
        let point = PointId(id);
        let volts = NominalVolts::try_from(volts).unwrap();
        let kind = if id == 1 { PointKind::Appliance } else { PointKind::Light };
        house.points.put(Point { volts: Some(volts), ..Point::new(point, format!("S{id}"), RoomId(1), kind) });
        let load = Load::new(LoadId(id), point, format!("thing {id}"), LoadKind::Other);
        let (mca, mop) = if id == 1 { (Some(Amps(17.8)), Some(Amps(30.0))) } else { (None, None) };
        house.loads.put(Load { amps: Some(Amps(amps)), mca, mop, ..load });
        for (off, seen) in
            [(on, Seen::Dead), (on, Seen::Dead), (3 - on, Seen::Live), (3, Seen::Live), (3 - on, Seen::Live)]
        {
            evidence += 1;
            let observation = Observation::Power { off: [BreakerId(off)].into(), seen, how: Way::Tester };
            let (id, time) = (EvidenceId(evidence), jiff::Timestamp::UNIX_EPOCH);
            house.evidence.put(Evidence { id, point, time, who: "Fern".into(), step: None, observation });
        }
    }
    house
}

fn scheduled() -> wayfinder_core::directory::Schedule {
    let house = workshop();
    let all = beliefs(&house);
    let drawn = draws(&house, &all);
    schedule(&house, &all, &Loaded::new(&house, &all, &drawn), house.panels.get(PanelId(1)).unwrap())
}

// By hand: 14.2 A at 120 V to neutral on each of three conductors is 1,704 VA a leg; a lamp of 2 A adds 240 VA on the leg of space 2.
#[test]
fn a_three_phase_schedule_is_read_back_with_its_sums() {
    let print = drawn::print(&scheduled(), None);
    assert_eq!(print.pages.len(), 2, "the panel, and its equipment");
    let folder = tempfile::tempdir().unwrap();
    let file = folder.path().join("schedule.pdf");
    std::fs::write(&file, print.put_out(Kind::Pdf).unwrap()).unwrap();
    let info = Command::new("pdfinfo").arg(&file).output().expect("pdfinfo is installed");
    let info = String::from_utf8(info.stdout).unwrap();
    assert!(info.contains("792 x 612 pts") && info.contains("Schedule: panel Works"), "a letter sheet, lying: {info}");
    let told = Command::new("pdftotext").arg("-layout").arg(&file).arg("-").output().expect("pdftotext is installed");
    let text = String::from_utf8(told.stdout).unwrap();
    let said = ["VA C", "A 1944 VA, B 1704 VA, C 1704 VA", "three-phase", "1-3-5", "17.8", "3 hots: 10 AWG copper"];
    for said in said {
        assert!(text.contains(said), "{said}: {text}");
    }
}

// RFC 4180, read by another reader.
#[test]
fn the_schedule_as_a_table_is_read_back() {
    let text = drawn::csv(&scheduled()).unwrap();
    let mut read = csv::Reader::from_reader(text.as_bytes());
    let head = read.headers().unwrap().clone();
    let at = |name: &str| head.iter().position(|h| h == name).unwrap();
    let rows: Vec<csv::StringRecord> = read.records().map(Result::unwrap).collect();
    let compressor = rows.iter().find(|row| &row[at("at")] == "1-3-5" && &row[at("list")] == "circuit").unwrap();
    assert_eq!([&compressor[at("va_a")], &compressor[at("va_b")], &compressor[at("va_c")]], ["1704"; 3]);
    let equipment: Vec<_> = rows.iter().filter(|row| &row[at("list")] == "equipment").collect();
    assert_eq!((equipment.len(), &equipment[0][at("mop")]), (2, "30.0"));
}
