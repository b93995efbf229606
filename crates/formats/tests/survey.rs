//! Survey folders: the demo house, rows that cannot be understood, and the house file made of it.
#![allow(clippy::unwrap_used, clippy::expect_used, reason = "a test that cannot go on fails")]

use jiff::Timestamp;
use wayfinder_core::House;
use wayfinder_core::house::{Breaker, Fault as Found, Observation, Reading, Seen, TandemSpaces, Tried, Way};
use wayfinder_core::trace::beliefs;
use wayfinder_formats::survey::{BadRows, Fault, Survey, export, files, import, record};
use wayfinder_formats::{circuits, house_file};

const PANELS: &str = "panel,spaces\nMain,20\n";
const BREAKERS: &str = "panel,at,amps,type,label\nMain,1,20,,kitchen\nMain,5-7,50,plain,range\nMain,3,,,\n";
const POINTS: &str = "tag,floor,room,kind,name,volts,watts\nK1,1,Kitchen,receptacle,counter,120,\nK2,1,Kitchen,appliance,range,240,11000\n";

macro_rules! demo {
    ($file:literal) => {
        include_str!(concat!("../../../demo/thistledown-school/", $file))
    };
}

fn take(survey: Survey<'_>) -> Result<House, Vec<Fault>> {
    import("Test", &survey, Timestamp::UNIX_EPOCH, BadRows::Refuse).map(|t| t.house)
}

fn small() -> House {
    take(Survey::default().with("panels.csv", PANELS).with("breakers.csv", BREAKERS).with("points.csv", POINTS))
        .unwrap()
}

fn demo() -> House {
    let survey = Survey::default()
        .with("about.csv", demo!("about.csv"))
        .with("panels.csv", demo!("panels.csv"))
        .with("breakers.csv", demo!("breakers.csv"))
        .with("wires.csv", demo!("wires.csv"))
        .with("rooms.csv", demo!("rooms.csv"))
        .with("openings.csv", demo!("openings.csv"))
        .with("points.csv", demo!("points.csv"))
        .with("evidence.csv", demo!("evidence.csv"))
        .with("loads.csv", demo!("loads.csv"))
        .with("readings.csv", demo!("readings.csv"));
    take(survey).unwrap()
}

fn faults(survey: Survey<'_>) -> Vec<String> {
    take(survey).unwrap_err().iter().map(ToString::to_string).collect()
}

#[test]
fn the_demo_house_comes_in_whole() {
    let house = demo();
    let rows = |text: &str| text.lines().count() - 1;
    assert_eq!(house.points.len(), rows(demo!("points.csv")));
    // And one rise between two readings, which is evidence too.
    assert_eq!(house.evidence.len(), rows(demo!("evidence.csv")) + 1);
    let empty: usize = house.panels.iter().map(|p| p.empty.len()).sum();
    assert_eq!(house.breakers.len() + empty, rows(demo!("breakers.csv")));
    let annex = house.panel_named("bakehouse").unwrap();
    assert_eq!(house.breakers.get(annex.fed_by.unwrap()).unwrap().at_text(), "2-4");
    let main = house.panel_named("Main").unwrap();
    assert_eq!(main.tandem, TandemSpaces::Some((25..=30).collect()));
}

#[test]
fn a_reading_that_is_right_as_it_is_stays_so() {
    let mut house = demo();
    let reading = house.readings.iter().next().unwrap().clone();
    house.readings.put(Reading { sure: true, ..reading });
    let written = export(&house).unwrap();
    let read = Survey::from_files(|name| written.iter().find(|(file, _)| *file == name).map(|(_, text)| text.as_str()));
    assert_eq!(take(read).unwrap().readings.iter().filter(|r| r.sure).count(), 1);
}

#[test]
fn export_and_import_and_export_again_give_the_same_bytes() {
    let first = export(&demo()).unwrap();
    let read = Survey::from_files(|name| first.iter().find(|(file, _)| *file == name).map(|(_, text)| text.as_str()));
    let again = take(read).unwrap();
    assert_eq!(export(&again).unwrap(), first);
    assert_eq!(first.iter().map(|(name, _)| *name).collect::<Vec<_>>(), files().collect::<Vec<_>>());
    // Only ids and the size of the door's pocket are not in the folder.
    assert_eq!(again.points.len(), demo().points.len());
    assert_eq!(beliefs(&again).progress, beliefs(&demo()).progress);
    let text = house_file::write(&again).unwrap();
    assert_eq!(house_file::write(&house_file::read(&text).unwrap()).unwrap(), text);
}

#[test]
fn the_demos_plan_and_wires_come_in() {
    let house = demo();
    assert_eq!((house.rooms.len(), house.openings.len(), house.circuits.len()), (13, 22, 10));
    let walks = wayfinder_core::floor::Walks::new(&house);
    let room = |name: &str| house.rooms.iter().find(|r| r.name == name).unwrap().id;
    for name in ["Kitchen", "Laundry", "Cloakroom", "Front bedroom", "Bell loft", "Bakehouse annex", "Yard"] {
        assert!(walks.between(room("Cellar"), room(name)).is_some(), "no way from the panel to {name}");
    }
    assert!(house.points.iter().all(|p| p.spot.is_some()));
    let tag = |t: &str| house.point_tagged(t).unwrap();
    assert_eq!(tag("K1").protected_by, Some(tag("K3").id));
    assert_eq!(tag("K5").switched_by, [tag("K12").id].into());
    assert_eq!(tag("K1").shared_box, tag("K2").shared_box);
}

#[test]
fn faults_of_the_new_files_name_file_line_and_column() {
    let base = Survey::default().with("panels.csv", PANELS).with("breakers.csv", BREAKERS).with("points.csv", POINTS);
    let one = |survey: Survey<'_>| faults(survey).join("\n");
    for (survey, expected) in [
        (
            base.clone().with("rooms.csv", "room,x,y,width,depth\nKitchen,0,0,wide,3'\n"),
            "rooms.csv, line 2, column width",
        ),
        (
            base.clone().with("rooms.csv", "room,x,y,width,depth\nA,0,0,9',9'\nB,1',0,9',9'\n"),
            "rooms.csv, line 3, column x",
        ),
        (
            base.clone().with("openings.csv", "room,kind,wall,along,width\nAttic,door,north,1',3'\n"),
            "openings.csv, line 2, column room",
        ),
        (base.clone().with("wires.csv", "panel,at,wire\nMain,1,14\n"), "wires.csv, line 2, column wire"),
        (base.clone().with("wires.csv", "panel,at,neutral_of\nMain,1,9\n"), "wires.csv, line 2, column neutral_of"),
        (
            base.clone().with("points.csv", "tag,room,kind,switched_by\nK1,Kitchen,light,K9\n"),
            "points.csv, line 2, column switched_by",
        ),
        (
            base.clone().with("points.csv", "tag,room,kind,place\nK1,Kitchen,light,north 3'\n"),
            "points.csv, line 2, column place",
        ),
    ] {
        assert!(one(survey.clone()).contains(expected), "{}", one(survey));
    }
}

#[test]
fn what_the_demo_proves_is_true() {
    let beliefs = beliefs(&demo());
    let truth = |tag: &str| demo!("truth.csv").lines().find(|l| l.split(',').next() == Some(tag)).unwrap().to_owned();
    let proven: Vec<_> = beliefs.points.iter().filter(|p| p.proven).collect();
    assert!(proven.len() >= 6 && proven.len() < beliefs.points.len() / 2, "{} proven", proven.len());
    for point in proven {
        let first = &point.candidates[0].at;
        assert!(truth(&point.tag).ends_with(&format!(",{},{}", first.panel, first.at)), "{}", point.tag);
    }
}

#[test]
fn the_house_file_reads_back_the_same_and_follows_its_schema() {
    let house = demo();
    let text = house_file::write(&house).unwrap();
    assert_eq!(house_file::read(&text).unwrap(), house);
    let schema = house_file::schema().unwrap();
    let validator = jsonschema::draft202012::new(&schema).unwrap();
    let mut file: serde_json::Value = serde_json::from_str(&text).unwrap();
    let complaints: Vec<_> = validator.iter_errors(&file).map(|e| format!("{}: {e}", e.instance_path)).collect();
    assert!(complaints.is_empty(), "{complaints:?}");
    file["house"]["points"][0]["kind"] = "teapot".into();
    assert!(!validator.is_valid(&file), "a schema that takes anything checks nothing");
    let committed = include_str!("../../../docs/house.schema.json");
    let committed: serde_json::Value = serde_json::from_str(committed).unwrap();
    assert!(committed == schema, "docs/house.schema.json is stale: cargo xtask types");
}

/// A goal of every sort, as JSON that the program reads.
fn every_goal() -> Vec<serde_json::Value> {
    use serde_json::json;
    let point = json!({ "id": 9000, "tag": "N1", "room": 1, "kind": "receptacle", "volts": 240 });
    let load = json!({ "id": 9000, "point": 9000, "name": "kiln", "volts": 230, "watts": 7000.0 });
    let new = |job: &str| {
        json!({ "job": job, "panel": 1, "point": point, "load": load, "neutral": false, "plugged": true, "length": 60.0,
            "breaker": 9000, "circuit": 9000, "amps": 40.0, "at": ["5", "7"],
            "room": { "moves": [{ "breaker": 1, "to": ["9"] }], "leave": [4],
                "acts": [{ "act": "join", "keep": 1, "give_up": 2, "way": "splice" }, { "act": "take-out", "breaker": 3 }] } })
    };
    let panel = json!({ "id": 1, "name": "Main", "supply": "split-phase", "bus": 200.0, "main": 200.0, "spaces": 30,
        "numbering": "odd-even", "tandem": { "some": [17] } });
    vec![
        json!({ "job": "replace", "breaker": 1, "amps": 20.0, "model": "TB" }),
        json!({ "job": "combine", "keep": 1, "give_up": 2, "way": "terminal" }),
        json!({ "job": "tandem", "upper": 1, "lower": 2, "space": 5 }),
        json!({ "job": "quad", "upper": 1, "inner": 2, "lower": 3, "space": 5 }),
        new("add"),
        new("dedicated"),
        json!({ "job": "sub-panel", "panel": 1, "id": 9001, "name": "Yard", "spaces": 12, "bus": 100.0, "separate": true,
            "metal": "aluminium", "length": 80.0, "breaker": 9000, "circuit": 9000, "amps": 60.0, "carries": [1], "beside": ["2p"], "at": ["5", "7"],
            "room": { "acts": [{ "act": "move-over", "breaker": 2 }, { "act": "tandem", "upper": 3, "lower": 4, "space": 9 },
                { "act": "quad", "upper": 5, "inner": 6, "lower": 7, "space": 11 }] } }),
        json!({ "job": "convert", "breaker": 1, "two_legs": true, "at": ["5", "7"], "moves": [{ "breaker": 2, "to": ["9"] }] }),
        json!({ "job": "protect", "breaker": 1, "device": "gfci", "keep_devices": true }),
        json!({ "job": "rearrange", "panel": 1, "wishes": ["2p"], "fixed": [1], "room": {} }),
        json!({ "job": "makeup", "panel": panel, "more": [{ "breaker": 9000, "circuit": 9000, "text": "2p50 6-3 range" }], "moves": [{ "breaker": 2, "to": ["9"] }] }),
        json!({ "job": "generator", "panel": 1, "breaker": 9000, "watts": 7200.0, "at": ["2", "4"], "listed": true,
            "start": 9000.0, "bonded": false, "carries": [1], "moves": [] }),
        json!({ "job": "retire", "breaker": 1, "spare": true }),
        json!({ "job": "swap", "breaker": 1, "spare": 2 }),
        json!({ "job": "relieve", "breaker": 1, "load": 1, "neutral": true, "length": 30.0, "new": 9000, "circuit": 9000,
            "point": 9000, "at": ["9"], "room": { "leave": [2] } }),
        json!({ "job": "surge", "panel": 1, "breaker": 9000, "amps": 20.0, "at": ["1", "3"], "room": {} }),
        json!({ "job": "interlock", "breaker": 1, "at": ["2", "4"], "listed": true, "moves": [] }),
        json!({ "job": "device", "point": 1, "becomes": "ground-fault", "ground": true, "behind": true }),
        json!({ "job": "splice", "point": 1 }),
        json!({ "job": "several", "in_order": true, "goals": [{ "job": "retire", "breaker": 1 }, { "job": "splice", "point": 1 }] }),
    ]
}

// What the program writes is what its schema allows: a job of every sort, an observation of every sort.
#[test]
fn the_schema_allows_one_of_everything_that_is_written() {
    use wayfinder_core::house::{Evidence, EvidenceId, Job, JobId};
    let schema = house_file::schema().unwrap();
    let sorts = |name: &str| schema["$defs"][name]["oneOf"].as_array().unwrap().len();
    let mut house = demo();
    let bare = serde_json::json!({ "id": 9000, "begun": "2026-03-01T10:00:00Z", "who": "Wren", "title": "work", "panel": 1,
        "goal": { "job": "retire", "breaker": 1 }, "steps": [], "stood": {} });
    let model: Job = serde_json::from_value(bare).unwrap();
    let goals = every_goal();
    assert_eq!(goals.len(), sorts("Goal"), "a goal of every sort");
    for (nth, goal) in goals.into_iter().enumerate() {
        let goal = serde_json::from_value(goal.clone()).unwrap_or_else(|e| panic!("{goal}: {e}"));
        house.jobs.put(Job { id: JobId(9000 + nth as u64), goal, ..model.clone() });
    }
    let first = house.breakers.iter().next().unwrap().id;
    let amps = wayfinder_core::base::units::Amps(12.5);
    let off: std::collections::BTreeSet<_> = [first].into();
    let observations = [
        Observation::Power { off: off.clone(), seen: Seen::Dead, how: Way::Tester },
        Observation::Pointed { at: first },
        Observation::Rise { at: first, expected: amps, rose: amps },
        Observation::Wire { at: first },
        Observation::Landed { at: first },
        Observation::Tried { cause: Tried::Lamp, was_off: true, off: Some(off) },
        Observation::Fault { fault: Found::Loose },
    ];
    assert_eq!(observations.len(), sorts("Observation"), "an observation of every sort");
    let seen: Evidence = house.evidence.iter().next().unwrap().clone();
    for (nth, observation) in observations.into_iter().enumerate() {
        house.evidence.put(Evidence { id: EvidenceId(9000 + nth as u64), observation, ..seen.clone() });
    }
    let file: serde_json::Value = serde_json::from_str(&house_file::write(&house).unwrap()).unwrap();
    let validator = jsonschema::draft202012::new(&schema).unwrap();
    let complaints: Vec<_> = validator.iter_errors(&file).map(|e| format!("{}: {e}", e.instance_path)).collect();
    assert!(complaints.is_empty(), "{complaints:?}");
    let mut wrong = file;
    wrong["house"]["jobs"][1]["goal"]["colour"] = 3.into();
    assert!(!validator.is_valid(&wrong), "what no goal has is refused");
}

#[test]
fn newer_files_and_impossible_houses_are_refused() {
    let text = house_file::write(&small()).unwrap();
    let refuse = |from: &str, to: &str| {
        assert!(text.contains(from), "{from}");
        house_file::read(&text.replacen(from, to, 1)).unwrap_err().to_string()
    };
    assert!(refuse("wayfinder-house/1", "wayfinder-house/2").contains("newer version of the program"));
    assert!(refuse("wayfinder-house/1", "recipe/1").contains("not a house file"));
    assert!(refuse("\"spaces\": 20", "\"spaces\": 4").contains("breaker.at"));
    assert!(refuse("\"revision\"", "\"colour\": 3, \"revision\"").contains("unknown field `colour`"));
    assert!(refuse("\"id\": 2", "\"id\": 1").contains("same id"));
}

#[test]
fn bad_rows_are_told_with_file_line_and_column() {
    let breakers = "panel,at,amps,type,label\nMain,1,20,,ok\nMain,1,15,,twice\nCellar,2,15,,\nMain,4,lots,,\nMain,6,20,magic,\nMain,9-12,20,,\nMain,x,20,,\n";
    let survey = Survey::default().with("panels.csv", PANELS).with("breakers.csv", breakers);
    assert_eq!(
        faults(survey.clone()),
        [
            "breakers.csv, line 3, column at: breakers 1 and 1 cannot both stand in 1: one has to go first",
            "breakers.csv, line 4, column panel: \"Cellar\" stands here; expected a panel of panels.csv: Main",
            "breakers.csv, line 5, column amps: \"lots\" is not a number: write one like 12.5, in A",
            "breakers.csv, line 6, column type: \"magic\" stands here; expected one of plain, gfci, afci, dual, fuse",
            "breakers.csv, line 7, column at: the pole below 9 would be in 11, not 12",
            "breakers.csv, line 8, column at: \"x\" is not a position; write 5, 5a or 5b, and the poles of one breaker as 5-7",
        ]
    );
    let skipped = import("Test", &survey, Timestamp::UNIX_EPOCH, BadRows::Skip).unwrap();
    assert_eq!((skipped.house.breakers.len(), skipped.skipped.len(), skipped.rows), (1, 6, 2));
}

#[test]
fn bad_points_and_missing_columns_are_told() {
    let points = "tag,room,kind,volts,watts\nK1,Kitchen,receptacle,110,\nK 2,Kitchen,light,,\nK3,Kitchen,teapot,,\nK4,Kitchen,light,,-5\nK5,,light,,\n";
    let survey = Survey::default().with("panels.csv", PANELS).with("points.csv", points);
    let columns: Vec<_> = take(survey).unwrap_err().into_iter().map(|f| (f.line, f.column)).collect();
    let expected = [(2, "volts"), (3, "tag"), (4, "kind"), (5, "watts"), (6, "room")];
    assert_eq!(columns, expected.map(|(line, column)| (line, column.to_owned())));
    let survey = Survey::default().with("panels.csv", PANELS).with("points.csv", "room,kind\nKitchen,light\n");
    assert_eq!(
        faults(survey.clone()),
        ["points.csv, line 1, column tag: this column is missing; the file needs tag, room, kind"]
    );
    assert_eq!(faults(Survey::default()), ["panels.csv, line 0, column : the survey folder needs this file"]);
}

// RFC 4180: quoted cells hold commas and line breaks; columns here may stand in any order.
#[test]
fn quotes_order_case_and_unknown_columns_are_understood() {
    let points = "\u{feff}Kind,NAME,tag,room,colour\r\nlight,\"over the table, left\",K1,Kitchen,red\r\n\r\n";
    let survey = Survey::default().with("panels.csv", PANELS).with("points.csv", points);
    let taken = import("Test", &survey, Timestamp::UNIX_EPOCH, BadRows::Refuse).unwrap();
    assert_eq!(taken.house.points.iter().next().unwrap().name, "over the table, left");
    assert_eq!(taken.notes, ["points.csv: the column \"colour\" is not known and was not read"]);
}

#[test]
fn evidence_is_recorded_with_its_off_set_time_and_author() {
    let rows = "time,panel,off,point,seen,how,who\n2026-03-01T10:30,Main,1;5-7,k1,dead,lamp,Wren\n2026-03-01T11:30:00+01:00,,7,K2,live,meter,\n,Main,1,K1,,receiver,\n";
    let taken = record(small(), rows, Timestamp::UNIX_EPOCH, BadRows::Refuse).unwrap();
    let all: Vec<_> = taken.house.evidence.iter().collect();
    let Observation::Power { off, seen, .. } = &all[0].observation else { panic!("a look") };
    assert_eq!((off.len(), *seen, all[0].who.as_str()), (2, Seen::Dead, "Wren"));
    assert_eq!(all[0].time, all[1].time, "without a zone a time is UTC");
    assert!(matches!(all[2].observation, Observation::Pointed { .. }));
    let bad = "time,panel,off,point,seen,how\nyesterday,Main,1,K1,dead,lamp\n,Main,2,K1,dead,lamp\n,Main,1,Z9,dead,lamp\n,Main,1,K1,maybe,lamp\n,Main,1,K1,dead,guess\n,Main,1;5-7,K1,,receiver\n";
    let columns: Vec<_> = record(small(), bad, Timestamp::UNIX_EPOCH, BadRows::Refuse)
        .unwrap_err()
        .into_iter()
        .map(|f| f.column)
        .collect();
    assert_eq!(columns, ["time", "off", "point", "seen", "how", "off"]);
}

#[test]
fn the_directory_as_a_table_has_a_row_for_every_place() {
    let house = demo();
    let table = circuits::circuits_csv(&house, &beliefs(&house)).unwrap();
    let mut reader = csv::Reader::from_reader(table.as_bytes());
    let rows: Vec<csv::StringRecord> = reader.records().map(Result::unwrap).collect();
    assert_eq!(rows.len(), house.breakers.len() + 6, "breakers and empty spaces");
    let range = rows.iter().find(|r| &r[0] == "Main" && &r[1] == "5-7").unwrap();
    assert_eq!((&range[3], &range[4], &range[6]), ("proven", "Kitchen range", "K7"));
}

// handbook 1.2 [def], columns: spaces 1 to 10 stand on the left, so a two-pole breaker at 9 has its second pole in 10.
#[test]
fn a_panel_numbered_down_its_columns_has_its_own_neighbours() {
    let panels = "panel,spaces,numbering,supply\nMain,20,columns,wye-3ph\n";
    let breakers = |at: &str| format!("panel,at,amps\nMain,{at},30\n");
    let take_at = |at: &str| take(Survey::default().with("panels.csv", panels).with("breakers.csv", &breakers(at)));
    for good in ["9-10", "1-2-3", "19-20"] {
        assert!(take_at(good).is_ok(), "{good}");
    }
    for wrong in ["9-11", "10-11", "1-3", "20-21"] {
        assert_eq!(take_at(wrong).unwrap_err()[0].column, "at", "{wrong}");
    }
}

#[test]
fn panels_say_what_is_wrong_with_them() {
    let columns = |row: &str| {
        let head = "panel,fed_by,supply,bus_amps,main_amps,spaces,numbering,tandem_spaces,max_circuits";
        let panels = format!("{head}\n{row}\n");
        let breakers = "panel,at,amps\nMain,1-3,60\n";
        let survey = Survey::default().with("panels.csv", &panels).with("breakers.csv", breakers);
        take(survey).err().map(|faults| faults[0].column.clone())
    };
    let main = "Main,,split-phase,200,200,20,odd-even,none,";
    assert_eq!(columns(main), None);
    let wrong = [
        ("Main,,steam,200,200,20,odd-even,none,", "supply"),
        ("Main,,split-phase,lots,200,20,odd-even,none,", "bus_amps"),
        ("Main,,split-phase,200,0,20,odd-even,none,", "main_amps"),
        ("Main,,split-phase,200,200,0,odd-even,none,", "spaces"),
        ("Main,,split-phase,200,200,,odd-even,none,", "spaces"),
        ("Main,,split-phase,200,200,20,sideways,none,", "numbering"),
        ("Main,,split-phase,200,200,20,odd-even,some,", "tandem_spaces"),
        ("Main,,split-phase,200,200,20,odd-even,9-5,", "tandem_spaces"),
        ("Main,,split-phase,200,200,20,odd-even,none,few", "max_circuits"),
        ("Main,Main:2-4,split-phase,200,200,20,odd-even,none,", "fed_by"),
        ("Main,Main:1-3,split-phase,200,200,20,odd-even,none,", "fed_by"),
        ("Main,nobody,split-phase,200,200,20,odd-even,none,", "fed_by"),
    ];
    for (row, column) in wrong {
        assert_eq!(columns(row).as_deref(), Some(column), "{row}");
    }
}

#[test]
fn a_feeder_in_another_panel_is_named_with_its_panel() {
    let rows = "panel,off,point,seen,how\nMain,2-4,E1,dead,tester\nMain,Bakehouse:1-3;5-7,E1,dead,tester\nBakehouse,2,E2,dead,tester\n";
    let before = demo().evidence.len();
    let house = record(demo(), rows, Timestamp::UNIX_EPOCH, BadRows::Refuse).unwrap().house;
    let named = |n: usize| {
        let evidence = house.evidence.iter().nth(before + n).unwrap();
        let name = |b: &Breaker| format!("{} {}", house.panels.get(b.panel).unwrap().name, b.at_text());
        let names = evidence.observation.breakers().map(|b| name(house.breakers.get(b).unwrap()));
        names.collect::<Vec<_>>()
    };
    assert_eq!(named(0), ["Main 2-4"]);
    assert_eq!(named(1), ["Main 5-7", "Bakehouse 1-3"]);
    assert_eq!(named(2), ["Bakehouse 2"]);
}

proptest::proptest! {
    #[test]
    fn no_text_makes_the_readers_panic(text in "[a-z0-9,;:\"\r\n -]{0,120}", which in 0usize..4) {
        let head = ["panel,spaces\n", "panel,at,amps\n", "tag,room,kind\n", "off,point,how\n"][which];
        let text = format!("{head}{text}");
        let file = ["panels.csv", "breakers.csv", "points.csv", "evidence.csv"][which];
        let survey = Survey::default().with("panels.csv", PANELS).with("breakers.csv", BREAKERS).with("points.csv", POINTS);
        let survey = survey.with(file, &text);
        let strict = import("Test", &survey, Timestamp::UNIX_EPOCH, BadRows::Refuse);
        let lenient = import("Test", &survey, Timestamp::UNIX_EPOCH, BadRows::Skip).unwrap();
        proptest::prop_assert!(lenient.house.check().is_ok(), "what is taken over holds together");
        proptest::prop_assert_eq!(strict.is_ok(), lenient.skipped.is_empty());
        let _ = house_file::read(&text);
    }
}
