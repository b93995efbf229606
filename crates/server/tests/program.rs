//! The program itself: its command line over files, and its end by force in the middle of writes.

#![allow(clippy::unwrap_used, clippy::expect_used, reason = "a test that cannot go on fails")]

use std::io::{BufRead, BufReader};
use std::path::Path;
use std::process::{Child, Command, Output, Stdio};

use serde_json::{Value, json};

const PROGRAM: &str = env!("CARGO_BIN_EXE_wayfinder");

fn wayfinder(folder: &Path, arguments: &[&str]) -> Output {
    Command::new(PROGRAM).args(arguments).current_dir(folder).output().unwrap()
}

fn good(folder: &Path, arguments: &[&str]) -> String {
    let output = wayfinder(folder, arguments);
    assert!(output.status.success(), "{arguments:?}: {}", String::from_utf8_lossy(&output.stderr));
    String::from_utf8(output.stdout).unwrap()
}

fn bad(folder: &Path, arguments: &[&str]) -> String {
    let output = wayfinder(folder, arguments);
    assert_eq!(output.status.code(), Some(2), "{arguments:?}");
    String::from_utf8(output.stderr).unwrap()
}

/// A survey of a 20-space panel and 30 points with its hidden truth, by tag. Half the labels are wrong.
fn survey(folder: &Path) -> Vec<(String, String)> {
    let write = |name: &str, text: &str| std::fs::write(folder.join("survey").join(name), text).unwrap();
    std::fs::create_dir(folder.join("survey")).unwrap();
    write("panels.csv", "panel,supply,bus_amps,main_amps,spaces,numbering\nMain,split-phase,125,100,20,odd-even\n");
    let mut breakers =
        "panel,at,amps,type,label\nMain,1-3,50,plain,dryer\nMain,2-4,30,plain,range\nMain,20,,,\n".to_owned();
    let singles: Vec<u32> = (5..=19).collect();
    for space in &singles {
        let label = if space % 2 == 0 { "bedroom outlets" } else { "" };
        breakers += &format!("Main,{space},{},plain,{label}\n", if space % 3 == 0 { 20 } else { 15 });
    }
    write("breakers.csv", &breakers);
    let mut points =
        "tag,floor,room,kind,name,volts,watts\nK1,1,Kitchen,appliance,range,240,\nL1,1,Laundry,appliance,dryer,240,\n"
            .to_owned();
    let mut truth = vec![("K1".to_owned(), "1-3".to_owned()), ("L1".to_owned(), "2-4".to_owned())];
    let rooms = ["Kitchen", "Hall", "Bedroom", "Bathroom", "Den", "Garage", "Porch"];
    for i in 0..28_usize {
        let tag = format!("P{i}");
        let kind = if i % 3 == 0 { "light" } else { "receptacle" };
        points += &format!("{tag},1,{},{kind},,120,\n", rooms[i % 7]);
        truth.push((tag, singles[(i * 11 + i / 5) % singles.len()].to_string()));
    }
    write("points.csv", &points);
    truth
}

#[test]
fn from_a_survey_folder_to_a_proven_card() {
    let folder = tempfile::tempdir().unwrap();
    let here = folder.path();
    let truth = survey(here);
    good(here, &["import", "survey", "-o", "h.wayfinder.json"]);
    let mut rounds = 0;
    loop {
        let advice: Value = serde_json::from_str(&good(here, &["advise", "h.wayfinder.json", "--json"])).unwrap();
        if advice["action"] == "done" {
            break;
        }
        rounds += 1;
        assert!(rounds <= 40, "still not done after 40 rounds");
        let off: Vec<&str> = advice["off"].as_array().unwrap().iter().map(|b| b["at"].as_str().unwrap()).collect();
        let mut rows = "time,panel,off,point,seen,how,who\n".to_owned();
        for tag in advice["visit"].as_array().unwrap().iter().map(|t| t.as_str().unwrap()) {
            let feeder = &truth.iter().find(|(t, _)| t == tag).unwrap().1;
            let seen = if off.contains(&feeder.as_str()) { "dead" } else { "live" };
            rows += &format!(",Main,{},{tag},{seen},tester,Wren\n", off.join(";"));
        }
        std::fs::write(here.join("answers.csv"), rows).unwrap();
        good(here, &["record", "h.wayfinder.json", "answers.csv", "-o", "h.wayfinder.json"]);
    }
    let beliefs: Value = serde_json::from_str(&good(here, &["beliefs", "h.wayfinder.json", "--json"])).unwrap();
    for (tag, at) in &truth {
        let point = beliefs["points"].as_array().unwrap().iter().find(|p| p["tag"] == *tag).unwrap();
        assert_eq!((&point["proven"], &point["candidates"][0]["at"]), (&json!(true), &json!(at)), "{tag}");
    }
    good(here, &["card", "h.wayfinder.json", "-o", "card.pdf", "--size", "4.25x9in"]);
    assert!(std::fs::read(here.join("card.pdf")).unwrap().starts_with(b"%PDF"));
    for (product, file) in [("labels", "l.pdf"), ("schedule", "s.csv"), ("wall", "w.svg"), ("calibration", "c.png")] {
        good(here, &["print", product, "h.wayfinder.json", "-o", file]);
        assert!(std::fs::read(here.join(file)).unwrap().len() > 1000, "{file}");
    }
    let circuits = good(here, &["circuits", "h.wayfinder.json"]);
    let feeders: std::collections::BTreeSet<_> = truth.iter().map(|(_, at)| at).collect();
    assert_eq!(circuits.matches(",proven,").count(), feeders.len(), "{circuits}");
    assert_eq!(circuits.matches(",nothing found,").count(), 17 - feeders.len(), "{circuits}");
}

#[test]
fn bad_input_ends_with_two_and_says_what_is_wrong() {
    let folder = tempfile::tempdir().unwrap();
    let here = folder.path();
    survey(here);
    good(here, &["import", "survey", "-o", "h.json"]);
    let before = std::fs::read(here.join("h.json")).unwrap();
    assert!(bad(here, &["beliefs", "gone.json"]).contains("gone.json"));
    assert!(bad(here, &["print", "poster", "h.json", "-o", "p.pdf"]).contains("none of cards, labels"));
    assert!(bad(here, &["print", "labels", "h.json", "-o", "p.pdf", "--kinds", "door"]).contains("--kinds"));
    assert!(bad(here, &["print", "wall", "h.json", "-o", "p.doc"]).contains(".svg, .pdf or .png"));
    assert!(bad(here, &["card", "h.json", "-o", "card.gif", "--size", "4x9in"]).contains(".svg, .pdf or .png"));
    assert!(bad(here, &["card", "h.json", "-o", "card.pdf"]).contains("--size"));
    assert!(bad(here, &["card", "h.json", "-o", "card.pdf", "--size", "1x1in"]).contains("would do"));
    assert!(bad(here, &["card", "h.json", "-o", "card.pdf", "--size", "wide"]).contains("4.25x9in"));
    assert!(bad(here, &["advise", "h.json", "--people", "3"]).contains("1 or 2 people"));
    assert!(bad(here, &["advise", "h.json", "--keep-on", "99"]).contains("\"99\" is no breaker"));
    std::fs::write(
        here.join("bad.csv"),
        "time,panel,off,point,seen,how\n,Main,5,P0,dead,lamp\n,Main,5,P99,dead,lamp\n",
    )
    .unwrap();
    assert!(
        bad(here, &["record", "h.json", "bad.csv", "-o", "h.json"]).contains("bad.csv, line 3")
            || bad(here, &["record", "h.json", "bad.csv", "-o", "h.json"])
                .contains("evidence.csv, line 3, column point")
    );
    assert_eq!(std::fs::read(here.join("h.json")).unwrap(), before, "a refused file changes nothing");
    good(here, &["record", "h.json", "bad.csv", "-o", "h.json", "--skip-bad"]);
    assert!(good(here, &["beliefs", "h.json"]).contains("of 30 points proven"));
}

#[test]
fn check_ends_with_one_where_evidence_contradicts() {
    let folder = tempfile::tempdir().unwrap();
    let here = folder.path();
    survey(here);
    good(here, &["import", "survey", "-o", "h.json"]);
    good(here, &["beliefs", "h.json", "--check"]);
    let rows = "off,point,seen,how\n5,P0,dead,meter\n5,P0,dead,lamp\n5,P0,live,tester\n";
    std::fs::write(here.join("e.csv"), rows).unwrap();
    good(here, &["record", "h.json", "e.csv", "-o", "h.json"]);
    assert_eq!(wayfinder(here, &["beliefs", "h.json", "--check"]).status.code(), Some(1));
}

#[test]
fn tables_for_people_say_what_to_do_and_how_sure() {
    let folder = tempfile::tempdir().unwrap();
    let here = folder.path();
    survey(here);
    good(here, &["import", "survey", "-o", "h.json", "--name", "Quill Cottage"]);
    let advice = good(here, &["advise", "h.json", "--max-off", "2", "--keep-on", "1-3,5"]);
    assert!(advice.starts_with("Switch OFF, everything else on: Main ") && advice.contains("\nLook at: "), "{advice}");
    assert_eq!(advice.lines().next().unwrap().matches("Main").count(), 2, "{advice}");
    let rows = "off,point,seen,how\n6,P1,live,meter\nnone,P0,was-on,tried-switch\n;,P0,dead,meter\n,P0,dead,lamp\n\
                ,P0,dead,tester\n";
    std::fs::write(here.join("e.csv"), rows).unwrap();
    good(here, &["record", "h.json", "e.csv", "-o", "h.json"]);
    let table = good(here, &["beliefs", "h.json"]);
    let line = |tag: &str| table.lines().find(|l| l.starts_with(&format!("{tag} "))).unwrap().to_owned();
    assert!(line("P0").contains("No power was found here in 4 looks; also with every breaker on"), "{table}");
    assert!(
        line("P1").contains("needs to be seen dead with its breaker off") && line("K1").contains("Kitchen range"),
        "{table}"
    );
    assert!(table.ends_with("0 of 30 points proven, 1 on no known breaker\n"), "{table}");
    let stays_live = "off,point,seen,how\n5;6;7;8;9;10;11;12;13;14;15;16;17;18;19;1;2,P2,live,meter\n".to_owned();
    let live = stays_live.clone() + &stays_live.lines().nth(1).map(|l| format!("{l}\n").repeat(3)).unwrap();
    std::fs::write(here.join("live.csv"), live).unwrap();
    good(here, &["record", "h.json", "live.csv", "-o", "h.json"]);
    assert!(good(here, &["beliefs", "h.json"]).contains("DANGER: It stays live whatever is off here"));
    let found = good(here, &["find", "h.json", "P2"]);
    assert!(found.starts_with("P2 Bedroom, receptacle\nSTOP: It stays live whatever is off here"), "{found}");
}

#[test]
fn a_database_is_copied_but_nothing_is_overwritten() {
    let folder = tempfile::tempdir().unwrap();
    let here = folder.path();
    assert!(bad(here, &["backup", "--data", "gone.db", "copy.db"]).contains("there is no gone.db"));
    drop(wayfinder_store::Store::open(&here.join("houses.db")).unwrap());
    good(here, &["backup", "--data", "houses.db", "copy.db"]);
    assert!(wayfinder_store::Store::open(&here.join("copy.db")).unwrap().houses().unwrap().is_empty());
    assert!(bad(here, &["backup", "--data", "houses.db", "copy.db"]).contains("already there"));
}

struct Serving(Child);

impl Drop for Serving {
    fn drop(&mut self) {
        let _ = self.0.kill();
        let _ = self.0.wait();
    }
}

/// Starts the server on a free port; its first line says where.
fn serve(folder: &Path) -> (Serving, String) {
    // Signals as in a shell, however the tests were started: under nohup the program would ignore HUP, as it should.
    let arguments = ["--default-signal=HUP", PROGRAM, "serve", "--data", "houses.db", "--listen", "127.0.0.1:0"];
    let mut child = Command::new("env").args(arguments).current_dir(folder).stdout(Stdio::piped()).spawn().unwrap();
    let line = BufReader::new(child.stdout.take().unwrap()).lines().next().unwrap().unwrap();
    (Serving(child), line.split(" at ").nth(1).unwrap().to_owned())
}

/// A client that gives up on a server that does not answer.
fn client() -> reqwest::Client {
    reqwest::Client::builder().timeout(std::time::Duration::from_secs(20)).build().unwrap()
}

#[tokio::test(flavor = "multi_thread")]
async fn nothing_acknowledged_is_lost_when_the_program_is_killed() {
    let folder = tempfile::tempdir().unwrap();
    let client = client();
    let mut acknowledged = Vec::new();
    for round in 0..4_u64 {
        let (mut server, base) = serve(folder.path());
        if round == 0 {
            client.post(format!("{base}/api/v1/houses")).json(&json!({ "name": "Quill" })).send().await.unwrap();
        }
        let killer = tokio::spawn(async move {
            tokio::time::sleep(std::time::Duration::from_millis(150 + 70 * round)).await;
            server.0.kill().unwrap(); // SIGKILL
            server.0.wait().unwrap();
        });
        for id in round * 10_000 + 1..round * 10_000 + 5_000 {
            let change =
                json!({ "type": "put-room", "room": { "id": id, "name": format!("Room {id}"), "floor": "1" } });
            let body = json!({ "author": "Wren", "change": change });
            match client.post(format!("{base}/api/v1/houses/1/changes")).json(&body).send().await {
                Ok(answer) if answer.status().is_success() => acknowledged.push(id),
                _ => break,
            }
        }
        killer.await.unwrap();
    }
    assert!(acknowledged.len() > 20, "only {} writes before the kills", acknowledged.len());
    let (_server, base) = serve(folder.path());
    let house: Value = client.get(format!("{base}/api/v1/houses/1")).send().await.unwrap().json().await.unwrap();
    let kept: Vec<u64> = house["rooms"].as_array().unwrap().iter().filter_map(|r| r["id"].as_u64()).collect();
    let lost: Vec<_> = acknowledged.iter().filter(|id| !kept.contains(id)).collect();
    assert!(lost.is_empty(), "lost: {lost:?}");
    assert!(house["revision"].as_u64().unwrap() >= acknowledged.len() as u64);
}

/// The demo's folder, copied.
fn demo_survey(folder: &Path) {
    let from = concat!(env!("CARGO_MANIFEST_DIR"), "/../../demo/thistledown-school");
    std::fs::create_dir(folder.join("survey")).unwrap();
    for entry in std::fs::read_dir(from).unwrap() {
        let entry = entry.unwrap();
        std::fs::copy(entry.path(), folder.join("survey").join(entry.file_name())).unwrap();
    }
    good(folder, &["import", "survey", "-o", "h.json", "--name", "Thistledown School"]);
}

#[test]
fn the_answers_come_on_the_command_line_too() {
    let folder = tempfile::tempdir().unwrap();
    let here = folder.path();
    demo_survey(here);
    let off = good(here, &["off", "h.json", "K1"]);
    for line in [
        "Main 1 (20 A): feeds Kitchen, counter by sink, upper half (K1)",
        "Main 3 (20 A): feeds Kitchen, counter by sink, lower half (K2), which shares the box of K1",
        "Main 9 (20 A): shares its neutral",
    ] {
        assert!(off.contains(line), "{off}");
    }
    let today = good(here, &["today", "h.json"]);
    assert!(today.contains("45 points to trace") && today.contains("Print the card of Main"), "{today}");
    let circuit = good(here, &["off", "h.json", "--circuit", "9", "--json"]);
    assert!(circuit.contains("\"its-circuit\"") && circuit.contains("\"shared-neutral\""), "{circuit}");
    let said = good(here, &["off", "h.json", "--circuit", "1"]);
    for line in [
        "Stays live: Unless the whole panel is off: the bus of panel Main",
        "Feeds: Kitchen counter receptacles",
        "In the box of K1: K2",
        "  Main 1: between terminal and neutral",
        "  K2: between hot",
    ] {
        assert!(said.contains(line), "{line}: {said}");
    }
    let panel = good(here, &["off", "h.json", "--panel", "bakehouse"]);
    assert!(panel.contains("Main 2-4 (60 A): feeds panel Bakehouse"), "{panel}");
    let untraced = good(here, &["off", "h.json", "T2"]);
    assert!(
        untraced.contains("CAUTION: Not proven: Bell loft receptacle by the hatch (T2)")
            && untraced.contains("panel Main off as a whole"),
        "{untraced}"
    );
    assert!(good(here, &["find", "h.json", "disposal"]).starts_with("K10 Kitchen, disposer -> Main 9, 20 A, leg A"));
    assert!(good(here, &["find", "h.json", "zebra"]).starts_with("Nothing of that name"));
    let dead = good(here, &["dead", "h.json", "K1", "--working", "K2,K7"]);
    assert!(
        dead.lines().next().unwrap().contains("ground-fault device Kitchen counter receptacle by window (K3)")
            && dead.contains("Look next: "),
        "{dead}"
    );
    // The command line prints the words that the API serves to the page.
    let asked: Value =
        serde_json::from_str(&good(here, &["dead", "h.json", "K1", "--working", "K2,K7", "--json"])).unwrap();
    let served = asked["causes"].as_array().unwrap().iter().chain([&asked["next"]]);
    assert!(served.map(|c| c["said"].as_str().unwrap()).all(|said| dead.contains(said)), "{dead} as in {asked}");
    assert!(good(here, &["dead", "h.json", "K5", "--signs", "bright-and-dim"]).starts_with("STOP"));
    // What looks showed is told in turn: one glance at the panel, and the breaker that was found.
    let found = good(here, &["dead", "h.json", "K9", "--look", "glance:Main=9"]);
    assert!(found.contains("Found: Breaker Main 9 is off or tripped"), "{found}");
    let floats = ["dead", "h.json", "K9", "--qualified", "--look", "measure:Main=97/143/240"];
    assert!(good(here, &floats).starts_with("STOP"));
    assert!(bad(here, &["dead", "h.json", "K9", "--look", "glance:Main"]).contains("is not LOOK=SHOWED"));
    assert!(bad(here, &["dead", "h.json"]).contains("dead: say which point is dead"));
    let short = ["reset", "h.json", "9", "--tripped", "K9", "--closed", "held:none", "--closed", "at-once:K9"];
    let end = good(here, &short);
    assert!(
        end.contains("tripped at once as Kitchen dishwasher (K9) was added") && end.contains("Closures left: 2"),
        "{end}"
    );
    assert!(bad(here, &["reset", "h.json", "9", "--tripped", "K9", "--closed", "perhaps:K9"]).contains("--closed"));
    assert!(good(here, &["jobs", "h.json"]).starts_with("No job is under way"));
    assert!(bad(here, &["off", "h.json", "K99"]).contains("there is no point K99"));
    assert!(bad(here, &["off", "h.json", "--circuit", "99"]).contains("--circuit: \"99\" is no breaker"));
    assert!(bad(here, &["dead", "h.json", "K1", "--working", "K1"]).contains("K1 is said to be dead and to work"));
}

/// A survey of one panel from its rows, imported as `h.json`.
fn small_survey(here: &Path, spaces: u16, breakers: &str, points: &str, evidence: &str) {
    std::fs::create_dir_all(here.join("survey")).unwrap();
    for (name, text) in [
        ("about.csv", "name,every_panel\nQuill,yes\n".to_owned()),
        ("panels.csv", format!("panel,spaces\nMain,{spaces}\n")),
        ("breakers.csv", format!("panel,at,amps,label\n{breakers}")),
        ("points.csv", format!("tag,room,kind,volts,box\n{points}")),
        ("evidence.csv", format!("panel,off,point,seen,how\n{evidence}")),
    ] {
        std::fs::write(here.join("survey").join(name), text).unwrap();
    }
    good(here, &["import", "survey", "-o", "h.json"]);
}

#[test]
fn a_box_mate_that_stays_live_stops_the_work_at_the_other() {
    let folder = tempfile::tempdir().unwrap();
    let here = folder.path();
    small_survey(
        here,
        4,
        "Main,1,20,\nMain,3,20,\nMain,2,,\nMain,4,,\n",
        "P1,Hall,receptacle,120,1\nP2,Hall,receptacle,120,1\n",
        "Main,1,P1,dead,tester\nMain,3,P1,live,tester\nMain,1;3,P2,live,tester\nMain,1;3,P2,live,tester\n",
    );
    let off = good(here, &["off", "h.json", "P1"]);
    assert!(off.starts_with("STOP: ") && off.contains("(P2) may stay live"), "{off}");
    assert!(off.contains("In the box of P1: P2") && off.contains("  P2: between hot and neutral"), "{off}");
}

#[test]
fn a_label_proves_nothing_and_the_reading_that_would_is_asked_for() {
    let folder = tempfile::tempdir().unwrap();
    let here = folder.path();
    small_survey(
        here,
        6,
        "Main,1,20,Hall\nMain,3-5,20,\nMain,2,20,\nMain,4,,\nMain,6,,\n",
        "P1,Hall,receptacle,120,\n",
        "Main,1;3-5,P1,dead,tester\nMain,,P1,live,tester\n",
    );
    let beliefs = good(here, &["beliefs", "h.json"]);
    assert!(
        beliefs.contains("not told apart from Main 3-5 yet") && beliefs.contains("0 of 1 points proven"),
        "{beliefs}"
    );
    assert!(!good(here, &["circuits", "h.json"]).contains("nothing found"));
    let off = good(here, &["off", "h.json", "P1"]);
    assert!(off.contains("(P1): 1 or 3-5, not told apart yet") && off.contains("Main 3-5"), "{off}");
    let advice: Value = serde_json::from_str(&good(here, &["advise", "h.json", "--json"])).unwrap();
    assert_eq!((&advice["action"], &advice["visit"]), (&json!("switch"), &json!(["P1"])));
}

#[test]
fn handles_are_said_and_the_next_order_goes_on_from_there() {
    let folder = tempfile::tempdir().unwrap();
    let here = folder.path();
    demo_survey(here);
    let moved = good(here, &["step", "h.json", "--off", "1,3,Bakehouse:2", "-o", "h.json"]);
    assert!(moved.starts_with("3 off, 3 moved"), "{moved}");
    let house: Value = serde_json::from_str(&std::fs::read_to_string(here.join("h.json")).unwrap()).unwrap();
    let off = house["house"]["breakers"].as_array().unwrap().iter().filter(|b| b["handle"] == "off").count();
    assert_eq!(off, 3);
    let advice = |arguments: &[&str]| -> Value {
        serde_json::from_str(&good(here, &[&["advise", "h.json", "--json", "--people", "2"], arguments].concat()))
            .unwrap()
    };
    let order = advice(&[]);
    let both: Vec<_> = ["off", "switch_off"].map(|which| order[which].as_array().unwrap().len()).into();
    let on = order["switch_on"].as_array().unwrap().len();
    assert_eq!(both[0] - both[1] + on, 3, "what stands off stays off or is switched on: {order}");
    assert!(good(here, &["step", "h.json", "-o", "h.json"]).starts_with("0 off, 3 moved"));
    assert!(advice(&[])["switch_on"].as_array().unwrap().is_empty());
    assert!(bad(here, &["step", "h.json", "--off", "99", "-o", "h.json"]).contains("--off: \"99\" is no breaker"));
}

/// Whether the database file alone, copied as it lies there, holds the house.
fn is_whole_in_one_file(folder: &Path, copy: &str) -> bool {
    std::fs::copy(folder.join("houses.db"), folder.join(copy)).unwrap();
    let store = wayfinder_store::Store::open(&folder.join(copy)).unwrap();
    store.houses().is_ok_and(|houses| houses.iter().any(|h| h.name == "Quill"))
}

#[tokio::test(flavor = "multi_thread")]
async fn however_it_is_asked_to_end_all_is_in_the_one_file() {
    for signal in ["TERM", "HUP", "INT"] {
        let folder = tempfile::tempdir().unwrap();
        let (mut server, base) = serve(folder.path());
        let body = json!({ "name": "Quill" });
        let made = client().post(format!("{base}/api/v1/houses")).json(&body).send().await.unwrap();
        assert_eq!(made.status(), 201);
        let id = server.0.id().to_string();
        assert!(Command::new("kill").args([&format!("-{signal}"), id.as_str()]).status().unwrap().success());
        assert!(server.0.wait().unwrap().success(), "{signal}");
        assert!(is_whole_in_one_file(folder.path(), "copy.db"), "{signal}");
        assert!(!folder.path().join("houses.db-wal").exists(), "{signal}");
    }
}

#[tokio::test(flavor = "multi_thread")]
async fn a_file_nobody_writes_to_is_whole_while_the_program_runs() {
    let folder = tempfile::tempdir().unwrap();
    let (_server, base) = serve(folder.path());
    let body = json!({ "name": "Quill" });
    client().post(format!("{base}/api/v1/houses")).json(&body).send().await.unwrap();
    for nth in 0..100 {
        if is_whole_in_one_file(folder.path(), &format!("copy{nth}.db")) {
            return;
        }
        tokio::time::sleep(std::time::Duration::from_millis(200)).await;
    }
    panic!("twenty seconds after the last change the file alone is not whole");
}

#[test]
fn plan_log_tests_and_survey_are_written_as_files() {
    let folder = tempfile::tempdir().unwrap();
    let here = folder.path();
    demo_survey(here);
    good(here, &["plan", "h.json", "--scale", "1:50", "-o", "plan.pdf"]);
    assert!(std::fs::read(here.join("plan.pdf")).unwrap().starts_with(b"%PDF"));
    good(here, &["plan", "h.json", "--floor", "cellar", "-o", "plan.svg"]);
    assert!(std::fs::read_to_string(here.join("plan.svg")).unwrap().contains("Panel Main"));
    assert!(bad(here, &["plan", "h.json", "--floor", "sky", "-o", "x.pdf"]).contains("no room of floor sky"));
    assert!(bad(here, &["plan", "h.json", "-o", "x.txt"]).contains("--output"));
    assert!(good(here, &["tests", "h.json"]).starts_with("DUE  breaker Main 11: never tested"));
    good(here, &["tests", "h.json", "--ics", "tests.ics"]);
    assert!(std::fs::read_to_string(here.join("tests.ics")).unwrap().contains("RRULE:FREQ=MONTHLY"));
    assert_eq!(good(here, &["log", "h.json"]), "time,who,kind,panel,at,what,note\r\n");
    // Written as a folder and read back it is the same house, down to the bytes of the folder.
    good(here, &["export", "h.json", "-o", "out"]);
    good(here, &["import", "out", "-o", "again.json", "--name", "Thistledown School"]);
    good(here, &["export", "again.json", "-o", "out2"]);
    for file in ["panels.csv", "breakers.csv", "wires.csv", "rooms.csv", "openings.csv", "points.csv", "evidence.csv"] {
        let read = |at: &str| std::fs::read(here.join(at).join(file)).unwrap();
        assert_eq!(read("out"), read("out2"), "{file}");
    }
    assert_eq!(good(here, &["beliefs", "h.json"]), good(here, &["beliefs", "again.json"]));
}

// handbook 1.2 and 1.4: what old panels really hold is recorded as found, and else refused with the reason.
#[test]
fn an_old_fuse_panel_is_taken_in_as_found() {
    let folder = tempfile::tempdir().unwrap();
    let here = folder.path();
    std::fs::create_dir(here.join("survey")).unwrap();
    let write = |name: &str, text: &str| std::fs::write(here.join("survey").join(name), text).unwrap();
    write("panels.csv", "panel,spaces\nFuses,8\n");
    let breakers = |found: &str| {
        format!(
            "panel,at,amps,type,as_found\nFuses,1,30,fuse,\nFuses,3a-3b,30,plain,{found}\nFuses,2a,15,plain,{found}\n"
        )
    };
    write("breakers.csv", &breakers(""));
    write("wires.csv", "panel,at,wire,conductors\nFuses,1,14,2\n");
    let refused = bad(here, &["import", "survey", "-o", "f.json"]);
    for fault in
        ["breakers.csv, line 3, column at", "breakers.csv, line 4, column at", "wires.csv, line 2, column wire"]
    {
        assert!(refused.contains(fault), "{refused}");
    }
    write("breakers.csv", &breakers("yes"));
    write("wires.csv", "panel,at,wire,conductors,as_found\nFuses,1,14,2,yes\n");
    assert!(good(here, &["import", "survey", "-o", "f.json"]).starts_with("5 rows taken, 0 left out"));
}

#[test]
fn practice_plays_whole_tracings_and_refuses_what_it_cannot() {
    let folder = tempfile::tempdir().unwrap();
    let here = folder.path();
    let arguments = ["practice", "--seed", "77", "--breakers", "12", "--points", "36", "--houses", "3", "--json"];
    let played: Value = serde_json::from_str(&good(here, &arguments)).unwrap();
    assert_eq!((played.as_array().unwrap().len(), &played[2]["seed"]), (3, &json!(79)));
    let total = |way: &str, people: &str| -> f64 {
        let arguments = [&arguments[..], &["--way", way, "--people", people]].concat();
        let played: Value = serde_json::from_str(&good(here, &arguments)).unwrap();
        played.as_array().unwrap().iter().map(|p| p["minutes"].as_f64().unwrap()).sum()
    };
    assert!(total("adaptive", "1") < total("halving", "1") && total("halving", "1") < total("confirmed", "1"));
    assert!(total("adaptive", "2") < total("adaptive", "1"));
    let table = good(here, &["practice", "--breakers", "8", "--points", "24", "--houses", "2", "--pace", "gentle"]);
    assert!(table.contains("outages") && table.lines().last().unwrap().contains("mean"), "{table}");
    for (arguments, field) in [
        (["practice", "--breakers", "3"], "--breakers"),
        (["practice", "--points", "5"], "--points"),
        (["practice", "--people", "3"], "--people"),
        (["practice", "--misread", "0.9"], "--misread"),
        (["practice", "--pace", "sudden"], "--pace"),
        (["practice", "--testers", "0"], "--testers"),
    ] {
        assert!(bad(here, &arguments).contains(field), "{arguments:?}");
    }
}

#[test]
fn observations_of_every_way_go_through_files_and_back() {
    let folder = tempfile::tempdir().unwrap();
    let here = folder.path();
    survey(here);
    good(here, &["import", "survey", "-o", "h.wayfinder.json"]);
    let rows = "point,off,seen,how,expected,rose\nP1,5;7,live,tester,,\nP1,6,,receiver,,\nP2,6,,wire,,\nP3,7,,load,12.5,11.8\n\
                P3,,was-off,tried-switch,,\nP4,,was-on,tried-device,,\nP5,,open-ground,fault,,\nP5,,scorched,fault,,\n";
    std::fs::write(here.join("seen.csv"), rows).unwrap();
    good(here, &["record", "h.wayfinder.json", "seen.csv", "-o", "h.wayfinder.json"]);
    let faults = wayfinder(here, &["faults", "h.wayfinder.json"]);
    let listed = String::from_utf8(faults.stdout).unwrap();
    assert_eq!(faults.status.code(), Some(1), "faults are findings");
    assert!(listed.contains("no ground") && listed.contains("scorched"), "{listed}");
    good(here, &["export", "h.wayfinder.json", "-o", "back"]);
    good(here, &["import", "back", "-o", "again.wayfinder.json"]);
    let told = |file: &str| -> Vec<Value> {
        let house: Value = serde_json::from_slice(&std::fs::read(here.join(file)).unwrap()).unwrap();
        let kinds = house["house"]["evidence"].as_array().unwrap().iter().map(|e| {
            let mut o = e["observation"].clone();
            // Ids are given anew; what is said stays.
            o.as_object_mut().unwrap().retain(|k, _| k != "at" && k != "off");
            o
        });
        kinds.collect()
    };
    assert_eq!(told("h.wayfinder.json").len(), 8);
    assert_eq!(told("h.wayfinder.json"), told("again.wayfinder.json"));
    std::fs::write(here.join("bad.csv"), "point,off,seen,how,expected,rose\nP3,7;8,,wire,,\nP3,7,,load,much,1\n")
        .unwrap();
    let said = bad(here, &["record", "h.wayfinder.json", "bad.csv", "-o", "x.json"]);
    assert!(said.contains("off") && said.contains("column expected: \"much\" is not a number"), "{said}");
}

// Ohm's law: 1200 W at 120 V are 10 A, and 2400 W at 240 V; handbook 1.1 for the open neutral.
#[test]
fn what_meters_should_show_is_told_on_the_command_line() {
    let folder = tempfile::tempdir().unwrap();
    let here = folder.path();
    demo_survey(here);
    good(here, &["export", "h.json", "-o", "s"]);
    std::fs::remove_file(here.join("s/readings.csv")).unwrap();
    std::fs::write(here.join("s/loads.csv"), "point,name,watts\nK1,griddle,1200\nK2,scale,120\nK7,range,2400\n")
        .unwrap();
    good(here, &["import", "s", "-o", "l.json"]);
    let table = good(here, &["expect", "l.json", "--on", "griddle,K7"]);
    assert!(table.contains("Main         1       ") && table.contains("comes in: A "), "{table}");
    let told = |arguments: &[&str]| -> Value {
        let whole: Vec<&str> = ["expect", "l.json", "--json"].iter().chain(arguments).copied().collect();
        serde_json::from_str(&good(here, &whole)).unwrap()
    };
    let on = told(&["--on", "K1,K7"]);
    let amps =
        |at: &str| on["amps"].as_array().unwrap().iter().find(|a| a["at"] == at).unwrap()["amps"].as_f64().unwrap();
    // Before anything is measured what may be anything draws 30 to 100 % of its nameplate, and at a kilowatt mostly heats: 6.5 of 10 A; a range has half to all of its elements on: 7.5.
    assert!((amps("1") - 6.5).abs() < 0.4 && (amps("5-7") - 7.5).abs() < 0.4, "{on}");
    let open = told(&["--on", "griddle,scale", "--fault", "open-neutral@main"]);
    let volts = |bars: &str| {
        let all = open["volts"].as_array().unwrap();
        all.iter().find(|v| v["panel"] == "Main" && v["between"] == bars).unwrap()["volts"].as_f64().unwrap()
    };
    let (a, b) = (volts("A-N"), volts("B-N"));
    assert!((a - b).abs() > 100.0 && (a + b - 240.0).abs() < 3.0, "{open}");
    // One reading more: 8.1 A with the griddle alone.
    std::fs::write(here.join("s/readings.csv"), "at,quantity,value,on\n1,amps,8.1,griddle\n").unwrap();
    good(here, &["import", "s", "-o", "r.json"]);
    let drawn = good(here, &["loads", "r.json"]);
    assert!(drawn.contains("griddle") && drawn.contains("about 8.1 A, ") && drawn.contains("one reading"), "{drawn}");
    assert!(good(here, &["loads", "l.json"]).contains("about 6.5 A, "), "what is usual of its nameplate before that");
    assert!(bad(here, &["expect", "l.json", "--on", "griddel"]).contains("--on: "));
    assert!(bad(here, &["expect", "l.json", "--fault", "rust@main"]).contains("--fault: "));
}

#[test]
fn ways_and_doubts_are_told_on_the_command_line() {
    let folder = tempfile::tempdir().unwrap();
    let here = folder.path();
    demo_survey(here);
    let name = "h.json";
    let table = good(here, &["forecast", name, "--people", "2"]);
    assert!(table.contains("one breaker at a time") && table.contains("halving"), "{table}");
    let helps = good(here, &["helps", name, "--people", "2"]);
    assert!(helps.starts_with("a transmitter and its receiver: saves ") && helps.lines().count() == 1, "{helps}");
    let advice: Value =
        serde_json::from_str(&good(here, &["advise", name, "--json", "--method", "one-at-a-time"])).unwrap();
    assert_eq!(advice["off"].as_array().unwrap().len(), 1);
    std::fs::write(here.join("odd.csv"), "time,point,off,seen,how\n2027-01-01,K7,,dead,tester\n").unwrap();
    good(here, &["record", name, "odd.csv", "-o", name]);
    let doubts = wayfinder(here, &["doubts", name]);
    assert_eq!(doubts.status.code(), Some(1));
    let said = String::from_utf8(doubts.stdout).unwrap();
    assert!(said.contains("K7") && said.contains("look again") && said.contains("Main 5-7"), "{said}");
}

#[test]
fn tools_and_times_are_taken_on_the_command_line() {
    let folder = tempfile::tempdir().unwrap();
    let here = folder.path();
    survey(here);
    good(here, &["import", "survey", "-o", "h.json"]);
    let advise = |arguments: &[&str]| good(here, &[&["advise", "h.json"], arguments].concat());
    assert!(advise(&["--monitor", "--pace", "gentle"]).contains("energy monitor"));
    // Where nothing may be switched, wires are clamped.
    let all: Vec<String> =
        ["1-3", "2-4"].into_iter().map(String::from).chain((5..=19).map(|s| s.to_string())).collect();
    let clamped = advise(&["--clamp", "--people", "2", "--keep-on", &all.join(",")]);
    assert!(clamped.contains("Clamp in turn") && clamped.contains("12.5 A"), "{clamped}");
    let off = |arguments: &[&str]| -> Vec<String> {
        let advice: Value = serde_json::from_str(&advise(&[arguments, &["--json"]].concat())).unwrap();
        advice["off"].as_array().unwrap().iter().map(|b| b["at"].as_str().unwrap().to_owned()).collect()
    };
    let first = off(&[])[0].clone();
    let kept = |until: &str| format!("{first}{until}");
    assert!(!off(&["--keep-on", &kept("")]).contains(&first));
    assert!(!off(&["--keep-on", &kept("@2999-01-01T00:00:00Z")]).contains(&first));
    assert!(off(&["--keep-on", &kept("@2001-01-01T00:00:00Z")]).contains(&first));
    assert!(bad(here, &["advise", "h.json", "--keep-on", &kept("@soon")]).contains("a time after @"));
    assert!(bad(here, &["advise", "h.json", "--walking", "7"]).contains("walking"));
}

#[test]
fn a_radio_left_playing_is_heard_from_the_panel() {
    let folder = tempfile::tempdir().unwrap();
    let here = folder.path();
    survey(here);
    good(here, &["import", "survey", "-o", "h.json"]);
    std::fs::write(here.join("seen.csv"), "point,off,seen,how\nP1,,live,radio\n").unwrap();
    good(here, &["record", "h.json", "seen.csv", "-o", "h.json"]);
    let told = good(here, &["advise", "h.json", "--radio"]);
    assert!(told.contains("Hear whether the radio plays in P1"), "{told}");
    assert!(!good(here, &["advise", "h.json", "--radio", "--people", "2"]).contains("radio"));
}

#[test]
fn at_the_end_what_feeds_nothing_is_named() {
    let folder = tempfile::tempdir().unwrap();
    let here = folder.path();
    std::fs::create_dir(here.join("survey")).unwrap();
    let write = |name: &str, text: &str| std::fs::write(here.join(name), text).unwrap();
    write("survey/panels.csv", "panel,spaces\nMain,12\n");
    write("survey/breakers.csv", "panel,at,amps\nMain,1,20\nMain,2,15\nMain,3,20\n");
    write("survey/points.csv", "tag,room,kind,volts\nK1,Kitchen,receptacle,120\n");
    good(here, &["import", "survey", "-o", "h.json"]);
    let rows = "point,off,seen,how\nK1,1;2,dead,tester\nK1,1;3,dead,tester\nK1,2;3,live,tester\nK1,1,dead,tester\n";
    write("seen.csv", rows);
    good(here, &["record", "h.json", "seen.csv", "-o", "h.json"]);
    let told = good(here, &["advise", "h.json"]);
    assert!(told.contains("These feed nothing on the list: Main 2, Main 3"), "{told}");
    let advice: Value = serde_json::from_str(&good(here, &["advise", "h.json", "--json"])).unwrap();
    assert_eq!((&advice["action"], advice["search"].as_array().unwrap().len()), (&json!("done"), 2));
}

// DESIGN 8: the shapes that scripts live on.
#[test]
fn loads_and_the_service_on_the_command_line() {
    let folder = tempfile::tempdir().unwrap();
    let here = folder.path();
    survey(here);
    let loads = "point,name,kind,volts,watts,amps\nK1,range,range,240,12000,\nL1,dryer,dryer,240,5500,\n";
    std::fs::write(here.join("survey/loads.csv"), loads).unwrap();
    std::fs::write(here.join("survey/about.csv"), "name,area,unit,country\nHill house,1500,ft2,us\n").unwrap();
    good(here, &["import", "survey", "-o", "h.json"]);
    let read = |arguments: &[&str]| -> Value { serde_json::from_str(&good(here, arguments)).unwrap() };
    let told = read(&["loads", "h.json", "--json"]);
    assert_eq!((&told["loads"][0]["name"], &told["loads"][0]["point"]), (&json!("range"), &json!("K1")));
    for field in ["panel", "at", "rating", "base", "usual", "worst", "measured"] {
        assert!(told["circuits"][0].get(field).is_some(), "{field}");
    }
    assert!(told["legs"][0]["A"].is_number() && told["legs"][0]["neutral"].is_number());
    // NEC Annex D1(a), from memory.
    let sheet = read(&["service", "h.json", "--method", "standard", "--json"]);
    assert_eq!((&sheet["va"], &sheet["amps"], &sheet["rounded"]), (&json!(18600.0), &json!(77.5), &json!(78.0)));
    assert_eq!(
        (&sheet["neutral_amps"], &sheet["rating"], &sheet["margin_amps"]),
        (&json!(60.625), &json!(100.0), &json!(22.0))
    );
    let more = read(&["service", "h.json", "--method", "optional", "--add", "40@240,continuous", "--json"]);
    assert!(more["va"].as_f64().unwrap() > 20_000.0);
    assert!(good(here, &["service", "h.json"]).contains("by the record of a year"));
    assert!(bad(here, &["service", "h.json", "--method", "guess"]).contains("--method"));
    assert!(bad(here, &["service", "h.json", "--method", "record"]).contains("record"));
    assert!(bad(here, &["service", "h.json", "--add", "lots"]).contains("AMPS@VOLTS"));
    assert!(good(here, &["loads", "h.json"]).contains("usual"));
}

// The planted overload of the demo; the table of handbook 3.7 and the bounds of 3.6 (common practice).
#[test]
fn measuring_is_told_on_the_command_line() {
    let folder = tempfile::tempdir().unwrap();
    let here = folder.path();
    demo_survey(here);
    let told =
        good(here, &["together", "h.json", "--on", "proofing cabinet,planetary mixer", "--circuit", "Bakehouse:5"]);
    assert!(told.starts_with("No: 2") && told.contains("on Bakehouse 5 (20 A)"), "{told}");
    assert!(told.matches("At once at the most").count() == 2, "one or the other: {told}");
    let round = good(here, &["round", "h.json"]);
    let first: Vec<&str> = round.lines().take(4).collect();
    assert!(first[0].contains("leg A that comes in") && first[3].contains("the hot of 1 "), "{first:?}");
    let quiet: Value = serde_json::from_str(&good(here, &["round", "h.json", "--on", "K7", "--json"])).unwrap();
    let at = |said: &str| quiet.as_array().unwrap().iter().find(|p| p["said"] == said).unwrap()["expected"].clone();
    assert!(at("the hot of 5-7").as_f64().unwrap() > 20.0 && at("the hot of 1") == json!(0.0), "the range alone");
    assert!(good(here, &["next", "h.json", "--clamp"]).contains("clamp the hot of"));
    assert!(bad(here, &["next", "h.json"]).contains("--plug-in"));
    let weak = ["suspect", "h.json", "5-7", "--bus", "121,120,241", "--load", "120.5,108,228"];
    let verdict = good(here, &weak);
    assert!(verdict.contains("a bad breaker, or a poor contact to the bus (pole 7)"), "{verdict}");
    assert!(good(here, &["suspect", "h.json", "5-7", "--bus", "121,120,241"]).contains("measure the rest"));
    assert!(bad(here, &["suspect", "h.json", "99"]).contains("no breaker"));
    let test = |with: &str, amps: &str| {
        ["loaded-test", "h.json", "1", "--without", "121", "--with", with, "--amps", amps].map(str::to_owned)
    };
    let run = |with, amps| good(here, &test(with, amps).each_ref().map(String::as_str));
    assert!(run("112", "12").contains("A poor connection somewhere along it"));
    assert!(run("119.5", "12").contains("as it should be"));
    assert!(bad(here, &test("112", "0").each_ref().map(String::as_str)).contains("--amps"));
}

// DESIGN 8: the shape that scripts live on; 28 and 30 of the demo's main panel are looked at and empty.
#[test]
fn room_in_a_panel_is_made_on_the_command_line() {
    let folder = tempfile::tempdir().unwrap();
    let here = folder.path();
    demo_survey(here);
    let read = |arguments: &[&str]| -> Value { serde_json::from_str(&good(here, arguments)).unwrap() };
    let there = read(&["arrange", "h.json", "--for", "2p", "--json"]);
    assert_eq!((&there["bodies"], &there["wires"], &there["optimal"]), (&json!(1), &json!(1), &json!(true)));
    let moved = read(&["arrange", "h.json", "--for", "18=2p", "--json"]);
    assert_eq!((&moved["moves"][0]["panel"], &moved["bodies"]), (&json!("Main"), &json!(2)), "{moved}");
    assert!(good(here, &["arrange", "h.json", "--for", "18=2p"]).contains("nothing less is possible"));
    let output = wayfinder(here, &["arrange", "h.json", "--for", "2p", "--for", "2p", "--json"]);
    let said: Value = serde_json::from_slice(&output.stdout).unwrap();
    assert_eq!(output.status.code(), Some(1));
    assert!(
        said["impossible"].as_str().unwrap().contains("only 22 and 30 are free, and 4 spaces are needed"),
        "{said}"
    );
    let even = read(&["arrange", "h.json", "--for", "balance", "--json"]);
    assert_eq!(even["optimal"], true);
    assert!(even["imbalance"].as_f64().unwrap() < 5.0, "from 38.9 A apart: {even}");
    assert!(bad(here, &["arrange", "h.json", "--for", "9p"]).contains("--for"));
    assert!(bad(here, &["arrange", "h.json", "--for", "77=2p"]).contains("no space 77"));
}

/// What `job … --json` says, and how it ends.
fn job(here: &Path, arguments: &[&str]) -> (Value, Option<i32>) {
    let output = wayfinder(here, &[&["job"], arguments, &["--json"]].concat());
    let said = serde_json::from_slice(&output.stdout);
    (
        said.unwrap_or_else(|_| panic!("{arguments:?}: {}", String::from_utf8_lossy(&output.stderr))),
        output.status.code(),
    )
}

#[test]
fn every_kind_of_job_is_planned_on_the_command_line() {
    let folder = tempfile::tempdir().unwrap();
    let here = folder.path();
    demo_survey(here);
    let oven =
        ["--room", "Bakehouse annex", "--name", "second deck oven", "--volts", "240", "--amps", "40", "--continuous"];
    let add = |kind| [&[kind, "h.json", "--neutral", "false"], &oven[..]].concat();
    let open: &[&[&str]] = &[
        &["replace", "h.json", "5-7"],
        &["tandem", "h.json", "--upper", "28", "--lower", "12", "--space", "28"],
        &add("add"),
        &add("dedicated"),
        &["protect", "h.json", "10", "--with", "gfci"],
        &["rearrange", "h.json", "--for", "2p"],
        &["makeup", "h.json", "--spaces", "42"],
        &["sub-panel", "h.json", "--name", "Yard shed", "--spaces", "12", "--length", "60", "--separate"],
        &["generator", "h.json", "--watts", "7000", "--at", "2-4", "--listed", "true"],
    ];
    for arguments in open {
        let (told, code) = job(here, arguments);
        assert_eq!((code, &told["refused"]), (Some(0), &json!([])), "{arguments:?}");
        let steps = told["steps"].as_array().unwrap();
        assert!(steps.iter().all(|s| s["do"].is_string()), "{steps:?}");
        let dead = steps.iter().find(|s| s["hold"]["kind"] == "dead").unwrap();
        assert_eq!(
            (&dead["hold"]["quantity"], &dead["hold"]["expect"]),
            (&json!("volts"), &json!({"from": 0.0, "to": 1.0}))
        );
        assert!(!told["parts"].as_array().unwrap().is_empty() && !told["after"].as_array().unwrap().is_empty());
    }
    let ways = job(here, &add("add")).0["ways"].as_array().unwrap().len();
    assert!(ways >= 2, "room is made in {ways} ways: by moving, and by a tandem beside");
    let second = job(here, &[&add("add")[..], &["--way", "2"]].concat()).0;
    assert_eq!(second["ways"][1]["chosen"], true);
    for (arguments, rule) in [
        (&["convert", "h.json", "23", "--to", "240"][..], "one-outlet"),
        (&["combine", "h.json", "--keep", "5-7", "--give-up", "12"], "one-pole"),
        (&["retire", "h.json", "2-4"], "feeds-a-panel"),
    ] {
        let (told, code) = job(here, arguments);
        let rules: Vec<&Value> = told["refused"].as_array().unwrap().iter().map(|r| &r["rule"]).collect();
        assert!(
            code == Some(1) && rules.contains(&&json!(rule)) && told["steps"] == json!([]),
            "{arguments:?}: {rules:?}"
        );
        assert!(told["refused"].as_array().unwrap().iter().all(|r| r["source"].is_string() && r["why"].is_string()));
    }
    assert!(good(here, &["job", "replace", "h.json", "9"]).contains("off, and proven dead:"));
    assert!(bad(here, &["job", "replace", "h.json", "99"]).contains("AT"));
    assert!(bad(here, &["job", "convert", "h.json", "9", "--to", "300"]).contains("--to"));
    assert!(
        bad(here, &["job", "combine", "h.json", "--keep", "12", "--give-up", "12"]).contains("two different breakers")
    );
}

#[test]
fn a_survey_folder_is_read_like_the_house_file_that_it_makes() {
    let folder = tempfile::tempdir().unwrap();
    let here = folder.path();
    survey(here);
    good(here, &["import", "survey", "-o", "h.json"]);
    for read in ["beliefs", "advise", "audit", "loads"] {
        let told = |house: &str| wayfinder(here, &[read, house, "--json"]).stdout;
        let of_file = told("h.json");
        assert!(!of_file.is_empty() && told("survey") == of_file, "{read}");
    }
    good(here, &["print", "schedule", "survey", "-o", "schedule.pdf"]);
    std::fs::write(here.join("survey/panels.csv"), "panel,spaces\nMain,many\n").unwrap();
    assert!(bad(here, &["beliefs", "survey"]).contains("panels.csv, line 2, column spaces"));
}

#[test]
fn numbers_among_the_arguments_and_in_files_are_read_like_on_the_pages() {
    let folder = tempfile::tempdir().unwrap();
    let here = folder.path();
    survey(here);
    good(here, &["import", "survey", "-o", "h.json"]);
    let oven = |watts: &'static str| {
        [
            "job",
            "dedicated",
            "h.json",
            "--room",
            "Kitchen",
            "--name",
            "wall oven",
            "--volts",
            "230",
            "--neutral",
            "false",
            "--json",
            "--watts",
            watts,
        ]
    };
    assert!(bad(here, &oven("9,600")).contains("may be 9600 W or 9.6 W: which is it?"));
    assert!(bad(here, &oven("fast")).contains("\"fast\" is not a number"));
    let planned = |watts| -> Value {
        let output = wayfinder(here, &oven(watts));
        serde_json::from_slice(&output.stdout).unwrap_or_else(|e| panic!("{watts}: {e}"))
    };
    assert_eq!(planned("9.6 kW")["goal"]["amps"], 40.0);
    assert_eq!(planned("9.6 kW"), planned("9600"));
    // Files: a point begins the decimals, a comma is asked about; a plate is taken as it is printed.
    let loads = |row: &str| {
        let text = format!("point,name,kind,volts,watts\n{row}\n");
        std::fs::write(here.join("survey/loads.csv"), text).unwrap();
    };
    loads("K1,range,range,230,\"9,600\"");
    assert!(bad(here, &["import", "survey", "-o", "x.json"]).contains("loads.csv, line 2, column watts"));
    loads("K1,range,range,230,9600.125");
    good(here, &["import", "survey", "-o", "x.json"]);
    let house: Value = serde_json::from_str(&std::fs::read_to_string(here.join("x.json")).unwrap()).unwrap();
    let load = &house["house"]["loads"][0];
    assert_eq!((&load["volts"], &load["watts"]), (&json!(230), &json!(9600.125)));
}

// What a survey's files have no column for is said, by number.
#[test]
fn what_an_export_leaves_out_is_said() {
    let folder = tempfile::tempdir().unwrap();
    let here = folder.path();
    survey(here);
    good(here, &["import", "survey", "-o", "h.json"]);
    assert_eq!(good(here, &["export", "h.json", "-o", "out"]), "");
    let mut file: Value = serde_json::from_str(&std::fs::read_to_string(here.join("h.json")).unwrap()).unwrap();
    let note = json!({ "id": 5, "time": "2026-03-01T10:00:00Z", "who": "Wren", "event": { "what": "note" }, "note": "the lid creaks" });
    file["house"]["log"] = json!([note]);
    file["house"]["panels"][0]["card"] = json!({ "width": 4.25, "height": 9.0 });
    std::fs::write(here.join("h.json"), file.to_string()).unwrap();
    let said = good(here, &["export", "h.json", "-o", "out"]);
    assert!(said.contains("1 line of the log, 1 size and print of a card"), "{said}");
    assert!(said.contains("The house file holds all of it"), "{said}");
}

// What stands against a rule is told with where it stands; the fuse on thin wire of NEC 240.4(D), from memory.
#[test]
fn what_must_not_be_is_told_on_the_command_line() {
    let folder = tempfile::tempdir().unwrap();
    let here = folder.path();
    let all = good(here, &["rules"]);
    assert!(all.lines().count() > 20 && all.lines().all(|l| l.ends_with(')')), "{all}");
    assert!(all.contains("thin-wire") && all.contains("DANGER") && all.contains("NEC 240.4(D)"), "{all}");
    std::fs::create_dir(here.join("survey")).unwrap();
    let write = |name: &str, text: &str| std::fs::write(here.join("survey").join(name), text).unwrap();
    write("panels.csv", "panel,spaces\nFuses,8\n");
    write("breakers.csv", "panel,at,amps,type\nFuses,1,30,fuse\nFuses,3,15,plain\n");
    good(here, &["import", "survey", "-o", "f.json"]);
    assert_eq!(good(here, &["rules", "f.json"]), "Nothing stands against a rule, as far as is known\n");
    write("wires.csv", "panel,at,wire,conductors,as_found\nFuses,1,14,2,yes\n");
    good(here, &["import", "survey", "-o", "f.json"]);
    let told = wayfinder(here, &["rules", "f.json"]);
    assert_eq!(told.status.code(), Some(1));
    let told = String::from_utf8(told.stdout).unwrap();
    assert!(
        told.starts_with("DANGER 1: 14 AWG may stand behind 15 A at most") && told.contains("What mends it"),
        "{told}"
    );
    let audit = wayfinder(here, &["audit", "f.json", "--json"]);
    assert_eq!(audit.status.code(), Some(1));
    let audit: Value = serde_json::from_slice(&audit.stdout).unwrap();
    let first = &audit["findings"][0];
    for (field, value) in
        [("rule", "thin-wire"), ("severity", "danger"), ("where", "1"), ("who", "qualified"), ("job", "replace")]
    {
        assert_eq!(first[field], value, "{first}");
    }
    assert!(first["source"].as_str().unwrap().starts_with("NEC 240.4(D)") && first["cure"].is_string(), "{first}");
    let told = String::from_utf8(wayfinder(here, &["audit", "f.json"]).stdout).unwrap();
    assert!(told.starts_with("Found: 1 dangerous, ") && told.contains("(wayfinder job replace)"), "{told}");
    let report = wayfinder(here, &["audit", "f.json", "-o", "report.pdf"]);
    assert_eq!(report.status.code(), Some(1));
    assert!(std::fs::read(here.join("report.pdf")).unwrap().starts_with(b"%PDF"));
    assert!(bad(here, &["audit", "f.json", "-o", "report.txt"]).contains(".pdf or .csv"));
    let walk = good(here, &["inspection", "f.json", "--qualified"]);
    assert!(walk.starts_with("0 of ") && walk.contains("Is its neutral bar bonded to its case"), "{walk}");
    assert!(!good(here, &["inspection", "f.json"]).contains("neutral bar"));
}
