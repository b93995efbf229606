//! Loads and readings as a survey folder has them.
#![allow(clippy::unwrap_used, clippy::expect_used, reason = "a test that cannot go on fails")]

use std::collections::BTreeMap;

use jiff::Timestamp;
use wayfinder_formats::survey::{self, BadRows, Survey};

const MEASURED: [(&str, &str); 6] = [
    ("about.csv", "name,area,unit,country\nQuill,139.35,m2,ca\n"),
    ("panels.csv", "panel,spaces\nMain,8\n"),
    ("breakers.csv", "panel,at,amps\nMain,1,20\nMain,2-4,30\n"),
    (
        "points.csv",
        "tag,room,kind,name,volts,watts\nK1,Kitchen,receptacle,counter,120,\nK2,Kitchen,appliance,oven,240,5000\n",
    ),
    (
        "loads.csv",
        "point,name,kind,volts,watts,amps,va,hp,mca,mop,motor,continuous,habit\n\
         K1,toaster,,,850,,,,,,,,meals\nK1,mixer,other,120,,,,0.5,,,yes,no,\nK2,mixer,,,,,1200.5,,12.5,20,,,hours\n",
    ),
    (
        "readings.csv",
        "time,panel,at,point,quantity,between,value,unit,on,instrument,who,span,side,pole\n\
         2026-11-01T08:00:00Z,,1,,amps,,7.9,A,toaster;K1:mixer,clamp,Wren,most,,\n\
         2026-11-01T08:01:00Z,Main,2-4,,volts,A-N,118.5,V,,meter,Wren,,bus,2\n\
         2026-11-01T08:02:00Z,Main,bus,,amps,N,3.25,,K1,,,,,\n\
         2026-11-01T08:03:00Z,,,K1,watts,,-12,W,,plug-in,Wren,inrush,,\n\
         2026-11-01T08:04:00Z,Main,feed,,degrees,,212,F,,,Wren,,,\n",
    ),
];

/// The folder with some of its files replaced.
fn measured<'a>(change: &[(&str, &'a str)]) -> Survey<'a> {
    Survey::from_files(|name| change.iter().chain(&MEASURED).find(|(n, _)| *n == name).map(|(_, text)| *text))
}

#[test]
fn loads_and_readings_go_out_and_come_back() {
    let now = Timestamp::UNIX_EPOCH;
    let house = survey::import("Quill", &measured(&[]), now, BadRows::Refuse).unwrap().house;
    assert_eq!((house.loads.len(), house.readings.len()), (4, 5));
    let area = house.about.area.unwrap();
    // Definition: 1 ft is 0.3048 m; 1500 ft2 are 139.35 m2.
    assert!((area.square_feet() - 1500.0).abs() < 0.1 && area.square_metres() == 139.35);
    let oven = house.loads.iter().find(|l| l.name == "oven").unwrap();
    assert_eq!((oven.watts.map(|w| w.0), oven.habit), (Some(5000.0), None), "a size beside a point is a load's");
    let first = house.readings.iter().next().unwrap();
    let on: Vec<_> = first.on.iter().filter_map(|l| Some(house.loads.get(*l)?.name.as_str())).collect();
    assert_eq!((first.value, on), (7.9, vec!["toaster", "mixer"]));
    let boiling = house.readings.iter().last().unwrap();
    assert!((boiling.value - 100.0).abs() < 1e-9, "water boils at 212 °F, 100 °C [def]: {}", boiling.value);
    let out: BTreeMap<&str, String> = survey::export(&house).unwrap().into_iter().collect();
    let again = Survey::from_files(|name| out.get(name).map(String::as_str));
    let again = survey::import("Quill", &again, now, BadRows::Refuse).unwrap().house;
    assert_eq!((again.loads, again.readings, again.about), (house.loads, house.readings, house.about));
}

#[test]
fn wrong_loads_and_readings_are_told_with_line_and_column() {
    let row = |file: &'static str, head: &str, row: &str| {
        let text = format!("{head}\n{row}\n");
        let faults = survey::import("Quill", &measured(&[(file, &text)]), Timestamp::UNIX_EPOCH, BadRows::Refuse);
        faults
            .unwrap_err()
            .iter()
            .find(|f| f.file == file)
            .map(|f| (f.line, f.column.clone(), f.message.clone()))
            .unwrap()
    };
    let load = |cells: &str| row("loads.csv", "point,name,kind,volts,amps,habit", cells);
    for (cells, column, said) in [
        ("K9,x,,,,", "point", "the tag of a point"),
        ("K1,,,,,", "name", "needs a name"),
        ("K1,x,stove,,,", "kind", "one of range, oven"),
        ("K1,x,,300,,", "volts", "300 V is on no nameplate"),
        ("K1,x,,240,,", "volts", "K1 is a point of 120 V"),
        ("K1,x,,,-3,", "amps", "below 0"),
        ("K1,x,,,many,", "amps", "a number"),
        ("K1,x,,,,nightly", "habit", "one of always, meals"),
    ] {
        let (line, at, message) = load(cells);
        assert!((line, at.as_str()) == (2, column) && message.contains(said), "{cells}: {at}: {message}");
    }
    let reading = |cells: &str| row("readings.csv", "at,point,quantity,between,value,unit,on", cells);
    for (cells, column, said) in [
        ("7,,amps,,1,,", "at", "no breaker"),
        (",,amps,,1,,", "at", "a breaker, bus, main or feed"),
        (",K9,amps,,1,,", "point", "the tag of a point"),
        ("1,,ohms,,1,,", "quantity", "one of amps"),
        ("1,,amps,,-1,,", "value", "below 0"),
        ("1,,amps,,,,", "value", "a number"),
        ("1,,amps,,1,V,", "unit", "the unit of what was measured"),
        ("bus,,volts,A-A,1,,", "between", "two different"),
        ("bus,,volts,A,1,,", "between", "two conductors"),
        ("bus,,amps,C,1,,", "between", "no leg C"),
        ("1,,amps,,1,,mixer", "on", "several loads"),
        ("1,,amps,,1,,kiln", "on", "no load"),
    ] {
        let (line, at, message) = reading(cells);
        assert!((line, at.as_str()) == (2, column) && message.contains(said), "{cells}: {at}: {message}");
    }
}
