//! Energy records: a Green Button file written by hand after the published schema, tables as utilities give them, and what
//! is broken.

#![allow(clippy::unwrap_used, clippy::expect_used, reason = "a test that cannot go on fails")]

use std::path::Path;
use std::process::Command;

use jiff::tz::TimeZone;
use wayfinder_core::base::units::{Seconds, Watts};
use wayfinder_core::house::zone;
use wayfinder_formats::energy::{BadRecord, Record, packed, read, unpacked};

const YEAR: &str = include_str!("energy/year.xml");

fn here(name: &str) -> String {
    Path::new(env!("CARGO_MANIFEST_DIR")).join("tests/energy").join(name).display().to_string()
}

fn table(text: &str, name: &str) -> Result<Record, BadRecord> {
    read(text, &zone(name).unwrap())
}

fn bad(text: &str) -> (usize, String) {
    let bad = read(text, &TimeZone::UTC).unwrap_err();
    (bad.line, bad.message)
}

// xmllint (libxml2), an independent reader, against the order of elements that NAESB ESPI gives them.
#[test]
fn the_hand_written_file_has_the_order_of_the_schema() {
    let checked = Command::new("xmllint").args(["--noout", "--relaxng", &here("espi.rng"), &here("year.xml")]).output();
    let checked = checked.expect("xmllint is there: cargo xtask test installs it");
    assert!(checked.status.success(), "{}", String::from_utf8_lossy(&checked.stderr));
}

// handbook 3.9 [def]: 24 000 × 10⁻¹ Wh in a quarter of an hour are 9.6 kW; 2026-01-17 22:45 UTC is 17:45 at −5 h.
#[test]
fn green_button_is_read_with_its_units_its_gaps_and_its_clock() {
    let record = read(YEAR, &TimeZone::UTC).unwrap();
    let all = &record.intervals;
    assert_eq!((all.step, all.watt_hours.len(), all.reverse), (Seconds(900.0), 4, false));
    assert_eq!(all.watt_hours[..2], [100.0, 2400.0]);
    assert!(all.watt_hours[2].is_nan() && all.watt_hours[3] == 150.0);
    let zone = zone(record.zone.as_deref().unwrap()).unwrap();
    let summary = all.summary(&zone);
    assert_eq!((summary.largest[0].watts, summary.missing), (Watts(9600.0), 1));
    assert_eq!(zone.to_datetime(summary.largest[0].time).to_string(), "2026-01-17T17:45:00");
    let kept = unpacked(all.start, all.step, all.reverse, &packed(all));
    assert_eq!((kept.start, kept.watt_hours.len(), packed(all).len()), (all.start, 4, 16));
    assert_eq!(kept.watt_hours[1], 2400.0);
}

#[test]
fn power_that_went_out_is_recognised() {
    let out = YEAR.replace("<value>0</value>", "<value>7</value>");
    assert!(read(&out, &TimeZone::UTC).unwrap().intervals.reverse);
    let negative = YEAR.replace("<value>1500</value>", "<value>-1500</value>");
    assert!(read(&negative, &TimeZone::UTC).unwrap().intervals.reverse);
}

// W over a quarter of an hour are a quarter of that in Wh. [def]
#[test]
fn power_becomes_energy() {
    let watts = YEAR.replace("<uom>72</uom>", "<uom>38</uom>");
    assert_eq!(read(&watts, &TimeZone::UTC).unwrap().intervals.watt_hours[1], 600.0);
}

#[test]
fn what_is_broken_is_told_with_its_line() {
    assert_eq!(bad(""), (1, "the file is empty".into()));
    assert_eq!(bad(" \n "), (1, "the file is empty".into()));
    let (line, message) = bad(&YEAR.replace("<value>24000</value>", "<value>many</value>"));
    assert!(line == 89 && message.contains("\"many\""), "{line} {message}");
    let cut = &YEAR[..YEAR.len() - 400];
    assert!(read(cut, &TimeZone::UTC).is_err());
    let (_, message) = bad(&YEAR.replace("<uom>72</uom>", "<uom>119</uom>"));
    assert!(message.contains("no readings of electric energy"));
    let (line, message) =
        bad(&YEAR.replace("<duration>900</duration><start>1768689900", "<duration>0</duration><start>1768689900"));
    assert!(line > 80 && message.contains("longer than nothing"));
    assert!(bad("<feed></feed>").1.contains("no readings"));
    assert!(bad("hello").1.contains("no columns"));
    assert!(bad("time,kwh\n2026-01-01T00:00Z,1\n").1.contains("two rows"));
    assert_eq!(bad("time,kwh\n2026-01-01T00:00Z,1\nnoon,1\n").0, 3);
    assert_eq!(bad("time,kwh\n2026-01-01T00:00Z,1\n2026-01-01T01:00Z,lots\n").0, 3);
    assert_eq!(bad("time,kwh\n2026-01-01T01:00Z,1\n2026-01-01T00:00Z,1\n").0, 3);
    assert!(bad("time,kwh\n2026-01-01T00:00Z,1\n2026-01-02T00:00Z,1\n").1.contains("a minute to an hour"));
    assert!(bad("time,kwh\n1026-01-01T00:00Z,1\n1026-01-01T01:00Z,1\n2026-01-02T00:00Z,1\n").1.contains("forty years"));
}

// Entities that name one another are how a small file is made to grow without end.
#[test]
fn a_file_made_to_grow_is_refused_at_its_document_type() {
    let bomb = r#"<?xml version="1.0"?>
<!DOCTYPE feed [<!ENTITY a "aaaaaaaaaa"><!ENTITY b "&a;&a;&a;&a;&a;&a;&a;&a;"><!ENTITY c "&b;&b;&b;&b;&b;&b;&b;&b;">]>
<feed>&c;</feed>"#;
    assert_eq!(bad(bomb), (2, "a document type is not allowed here".into()));
    assert!(bad("<feed><entry>&c;</entry></feed>").1.contains("not known"));
}

#[test]
fn tables_are_read_as_utilities_write_them() {
    let iso = table("time,kwh\n2026-01-17T18:00Z,0.1\n2026-01-17T18:15Z,2.4\n2026-01-17T18:45Z,0.2\n", "UTC").unwrap();
    assert_eq!(iso.intervals.step, Seconds(900.0));
    assert!(iso.intervals.watt_hours[2].is_nan() && iso.intervals.watt_hours[1] == 2400.0);
    let utility = "Name,A. Nobody\nAccount,0\n\nType,Date,Start time,End time,Usage (kWh),Notes\n\
                   electric,2026-01-17,18:00,18:59,1.5,\nelectric,2026-01-17,19:00,19:59,2.5,\n";
    let read = table(utility, "America/Halifax").unwrap().intervals;
    assert_eq!((read.step, read.watt_hours.as_slice()), (Seconds(3600.0), &[1500.0, 2500.0][..]));
    assert_eq!(read.start.to_string(), "2026-01-17T22:00:00Z");
    let american = table("Date,kWh\n01/17/2026 06:00 PM,1\n01/17/2026 07:00 PM,2\n", "America/Halifax").unwrap();
    assert_eq!(american.intervals.start, read.start);
    for header in ["Date,Wh", "Date,Usage (Wh)"] {
        let text = format!("{header}\n01/17/2026 06:00 PM,1000\n01/17/2026 07:00 PM,2000\n");
        assert_eq!(table(&text, "America/Halifax").unwrap().intervals.watt_hours, [1000.0, 2000.0], "{header}");
    }
}

// US rule (Energy Policy Act 2005, value from memory): on 1 November 2026 the hour from one comes twice, on 8 March that from
// two is missing.
#[test]
fn local_times_are_right_when_clocks_change() {
    let autumn = "time,kwh\n2026-11-01 00:00,1\n2026-11-01 01:00,2\n2026-11-01 01:00,3\n2026-11-01 02:00,4\n";
    let read = table(autumn, "America/New_York").unwrap().intervals;
    assert_eq!(read.watt_hours, [1000.0, 2000.0, 3000.0, 4000.0], "no hour is lost and none is missing");
    let spring = "time,kwh\n2026-03-08 00:00,1\n2026-03-08 01:00,2\n2026-03-08 03:00,3\n";
    assert_eq!(table(spring, "America/New_York").unwrap().intervals.watt_hours, [1000.0, 2000.0, 3000.0]);
}
