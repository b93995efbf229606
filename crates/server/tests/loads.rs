//! Loads over HTTP: what circuits carry, what may run together, whether there is room, energy records, instruments.

#![allow(clippy::unwrap_used, clippy::expect_used, reason = "a test that cannot go on fails")]

use std::io::{BufRead, BufReader};
use std::net::TcpListener;
use std::process::{Child, Command, Stdio};

use reqwest::StatusCode;
use serde_json::{Value, json};

mod common;

use common::{Server, problem};

const YEAR: &str = include_str!("../../formats/tests/energy/year.xml");

impl Server {
    async fn asked(&self, path: &str, body: Value) -> Value {
        let answer = self.post(&format!("/api/v1/houses/1/{path}"), &body).send().await.unwrap();
        let status = answer.status();
        let body: Value = answer.json().await.unwrap();
        assert_eq!(status, StatusCode::OK, "{path}: {body}");
        body
    }

    async fn refused(&self, path: &str, body: Value) -> (u16, String, String) {
        problem(self.post(&format!("/api/v1/houses/1/{path}"), &body).send().await.unwrap()).await
    }

    async fn load(&self, name: &str) -> u64 {
        let house = self.read("/api/v1/houses/1").await;
        let loads = house["loads"].as_array().unwrap();
        loads.iter().find(|l| l["name"] == name).unwrap()["id"].as_u64().unwrap()
    }

    async fn circuit(&self, panel: &str, at: &str) -> Value {
        let loads = self.read("/api/v1/houses/1/loads").await;
        let circuits = loads["circuits"].as_array().unwrap();
        circuits.iter().find(|c| c["panel"] == panel && c["at"] == at).unwrap().clone()
    }

    async fn drop_file(&self, name: &str, text: &str) -> reqwest::Response {
        let path = format!("/api/v1/houses/1/energy?new=99&author=Wren&zone=America/Halifax&name={name}");
        let request = self.client.post(self.url(&path)).header("content-type", "application/octet-stream");
        request.body(text.to_owned()).send().await.unwrap()
    }
}

// The demo plants it in the bakehouse: a proofing cabinet and a mixer, 24 A really, on 20 A.
#[tokio::test]
async fn the_planted_overload_is_foretold_with_its_culprits() {
    let server = Server::demo().await;
    let circuit = server.circuit("Bakehouse", "5").await;
    assert!(circuit["over"].as_f64().unwrap() > 0.5, "{circuit}");
    assert_eq!(circuit["culprits"], json!(["proofing cabinet (E5)", "planetary mixer (E3)"]));
    let (cabinet, mixer) = (server.load("proofing cabinet").await, server.load("planetary mixer").await);
    let set = json!({ "on": [{ "load": cabinet }, { "load": mixer }], "breaker": circuit["breaker"] });
    let told = server.asked("together", set).await;
    assert!(told["said"].as_str().unwrap().starts_with("No: 2"), "{told}");
    assert!(told["sets"].as_array().unwrap().len() == 2, "one or the other");
}

// A heater of the back bedroom really hangs on Main 15, and is believed on 13 by an old label.
#[tokio::test]
async fn a_thing_on_another_circuit_is_found_by_its_rise() {
    let server = Server::demo().await;
    let house = server.read("/api/v1/houses/1").await;
    let heater =
        house["loads"].as_array().unwrap().iter().rfind(|l| l["name"] == "space heater").unwrap()["id"].clone();
    let breaker = server.circuit("Main", "15").await["breaker"].clone();
    let place = json!({ "at": "breaker", "breaker": breaker });
    let quantity = json!({ "quantity": "amps" });
    let mut id = 5_000_000;
    for on in [json!([]), json!([heater])] {
        id += 1;
        let ask = json!({ "instrument": "clamp", "place": place, "quantity": quantity, "on": on, "nth": id });
        let shown = server.asked("stand-in-reading", ask).await["value"].as_f64().unwrap();
        let time = format!("2026-10-06T10:0{}:00Z", id % 10);
        let reading = json!({ "id": id, "time": time, "who": "Wren", "place": place, "quantity": quantity,
                              "value": shown, "instrument": "clamp", "on": on });
        assert_eq!(server.change(None, json!({ "type": "note-reading", "reading": reading })).await.status(), 200);
    }
    let beliefs = server.read("/api/v1/houses/1/beliefs").await;
    let point = beliefs["points"].as_array().unwrap().iter().find(|p| p["tag"] == "A1").unwrap();
    assert_eq!((&point["candidates"][0]["at"], &point["status"]), (&json!("15"), &json!("likely")), "{point}");
    assert!(server.circuit("Main", "15").await["things"].as_array().unwrap().iter().any(|t| t["point"] == "A1"));
}

#[tokio::test]
async fn a_current_where_nothing_is_known_to_hang_is_doubted_at_once() {
    let server = Server::demo().await;
    let breaker = server.circuit("Main", "15").await["breaker"].clone();
    let reading = json!({ "id": 7_000_001, "time": "2026-10-06T10:00:00Z", "who": "Wren", "value": 12.4, "on": [],
                          "place": { "at": "breaker", "breaker": breaker }, "quantity": { "quantity": "amps" },
                          "instrument": "clamp" });
    assert_eq!(server.change(None, json!({ "type": "note-reading", "reading": reading })).await.status(), 200);
    let loads = server.read("/api/v1/houses/1/loads").await;
    let said = loads["misfits"][0]["said"].as_str().unwrap();
    assert!(said.contains("12.4 A read at Main 15") && said.contains("Switch things off one by one"), "{said}");
}

#[tokio::test]
async fn room_for_more_is_answered_by_every_method_and_printed() {
    let server = Server::demo().await;
    let answers = server.read("/api/v1/houses/1/service-load?add=40@240,oven,continuous").await;
    let methods: Vec<&str> = answers.as_array().unwrap().iter().map(|a| a["method"].as_str().unwrap()).collect();
    assert_eq!(methods, ["standard", "optional", "existing", "record"]);
    for answer in answers.as_array().unwrap() {
        let (now, then) = (answer["now"]["va"].as_f64().unwrap(), answer["then"]["va"].as_f64().unwrap());
        assert!(then > now && then - now <= 12_000.0 + 0.5, "{answer}");
    }
    // NEC 220.87 from memory: 125 % of the largest demand of the year, and 125 % of what runs on: 12 kVA.
    let record = &answers[3];
    assert!((record["then"]["va"].as_f64().unwrap() - record["now"]["va"].as_f64().unwrap() - 12_000.0).abs() < 0.5);
    let pdf = server.get("/api/v1/houses/1/service-load.pdf?add=40@240").send().await.unwrap();
    assert!(pdf.bytes().await.unwrap().starts_with(b"%PDF"));
    let wrong = problem(server.get("/api/v1/houses/1/service-load?add=40").send().await.unwrap()).await;
    assert_eq!(wrong, (422, "invalid".into(), "add".into()));
}

#[tokio::test]
async fn a_file_of_the_utility_becomes_a_year_by_days_and_hours() {
    let server = Server::demo().await;
    let added = server.drop_file("january.xml", YEAR).await;
    assert_eq!(added.status(), StatusCode::CREATED);
    let energy: Value = added.json().await.unwrap();
    assert_eq!(energy["energy"]["largest"][0]["watts"], 9600.0);
    let heat = server.read("/api/v1/houses/1/energy/99").await;
    assert_eq!((&heat["days"][0]["date"], &heat["days"][0]["hours"][17]), (&json!("2026-01-17"), &json!(5000)));
    assert!(heat["largest"][0]["at"].as_str().unwrap().contains("17:45"));
    for (file, said) in [("", "empty"), ("<feed><!DOCTYPE x>", "line 1"), ("time,kwh\nnoon,1\n", "line 2")] {
        let answer = server.drop_file("bad", file).await;
        assert_eq!(answer.status(), 422, "{file}");
        let body: Value = answer.json().await.unwrap();
        assert!(body["detail"].as_str().unwrap().contains(said), "{body}");
    }
    let bytes =
        server.client.post(server.url("/api/v1/houses/1/energy?new=98&author=Wren&name=x")).body(vec![0xff, 0xfe]);
    assert_eq!(problem(bytes.send().await.unwrap()).await.2, "file");
    let house = server.read("/api/v1/houses/1").await;
    assert_eq!(house["energy"].as_array().unwrap().len(), 2, "what was refused left nothing");
}

#[tokio::test]
async fn is_it_the_breaker_and_the_loaded_test() {
    let server = Server::demo().await;
    let range = server.circuit("Main", "5-7").await["breaker"].clone();
    let read = json!({ "bus": { "to_neutral": [121, 120], "across": 241 }, "load": { "to_neutral": [120, 108], "across": 228 } });
    let told = server.asked("suspect", json!({ "breaker": range, "complaint": "runs-hot", "read": read })).await;
    assert_eq!((&told["verdict"]["row"], &told["verdict"]["pole"]), (&json!("breaker-or-contact"), &json!(2)));
    assert!(told["at_once"].as_str().unwrap().contains("both sides"));
    let warmth = json!({ "degrees": 58, "similar": 38, "amps": 31 });
    let warm = server.asked("suspect", json!({ "breaker": range, "warmth": warmth })).await;
    assert!(warm["warmth"].as_str().unwrap().contains("repair now"), "{warm}");
    let mad = json!({ "breaker": range, "read": { "bus": { "to_neutral": [9000] } } });
    assert_eq!(server.refused("suspect", mad).await, (422, "invalid".into(), "bus".into()));
    assert_eq!(server.refused("suspect", json!({ "breaker": 9_999_999 })).await.0, 422);
    let test = json!({ "breaker": range, "test": { "without": 121, "with": 112, "amps": 12 } });
    assert_eq!(server.asked("loaded-test", test).await["finding"], "poor-connection");
}

// The deck oven was read alone: a leg with all of the annex on, where nobody knows what hangs on which leg, does not overrule that.
#[tokio::test]
async fn what_was_read_by_itself_is_not_blamed_for_a_sum_with_others() {
    let server = Server::demo().await;
    let house = server.read("/api/v1/houses/1").await;
    let annex =
        house["rooms"].as_array().unwrap().iter().find(|r| r["name"] == "Bakehouse annex").unwrap()["id"].clone();
    let points: Vec<Value> =
        house["points"].as_array().unwrap().iter().filter(|p| p["room"] == annex).cloned().collect();
    let is_there = |load: &&Value| points.iter().any(|p| p["id"] == load["point"]);
    let on: Vec<Value> = house["loads"].as_array().unwrap().iter().filter(is_there).map(|l| l["id"].clone()).collect();
    let reading = json!({ "id": 7_000_002, "time": "2026-10-06T10:00:00Z", "who": "Wren", "value": 77.4, "on": on,
        "place": { "at": "main", "panel": 1 }, "quantity": { "quantity": "amps", "of": "A" }, "instrument": "clamp", "span": "spot" });
    assert_eq!(server.change(None, json!({ "type": "note-reading", "reading": reading })).await.status(), 200);
    let told = server.read("/api/v1/houses/1/loads").await;
    assert_eq!(told["misfits"], json!([]));
    let oven = told["loads"].as_array().unwrap().iter().find(|l| l["name"] == "deck oven").unwrap();
    assert!(oven["amps"].as_f64().unwrap() > 35.0, "{oven}");
}

#[tokio::test]
async fn readings_that_cannot_be_are_refused_by_field() {
    let server = Server::demo().await;
    let breaker = server.circuit("Main", "5-7").await["breaker"].clone();
    let note = async |value: Value, place: Value, quantity: Value| {
        let reading = json!({ "id": 8_000_001, "time": "2026-10-06T10:00:00Z", "who": "Wren", "value": value, "on": [],
                              "place": place, "quantity": quantity, "instrument": "clamp" });
        problem(server.change(None, json!({ "type": "note-reading", "reading": reading })).await).await
    };
    let here = json!({ "at": "breaker", "breaker": breaker });
    let invalid = |field: &str| (422, "invalid".to_owned(), field.to_owned());
    assert_eq!(note(json!(-3), here.clone(), json!({ "quantity": "amps" })).await, invalid("reading.value"));
    assert_eq!(note(json!(90_000), here, json!({ "quantity": "volts" })).await, invalid("reading.value"));
    let gone = json!({ "at": "breaker", "breaker": 424_242 });
    assert_eq!(note(json!(3), gone, json!({ "quantity": "amps" })).await, invalid("reading.place"));
}

#[tokio::test]
async fn what_to_read_next_follows_the_instruments() {
    let server = Server::demo().await;
    assert_eq!(server.asked("next-reading", json!({})).await, json!([]));
    let clamp = server.asked("next-reading", json!({ "clamp": true })).await;
    assert!(clamp[0]["action"].as_str().unwrap().contains("clamp the hot of"), "{clamp}");
    let turns = json!({ "watt_hours": 7.2, "readings": [{ "turns": 10, "seconds": 36 }] });
    let told: Value = server.post("/api/v1/meter-turns", &turns).send().await.unwrap().json().await.unwrap();
    assert_eq!(told["watts"][0], 7200.0);
}

/// The stand-in for a bench meter as a program of its own, ended with the test.
struct Meter(Child, String);

impl Drop for Meter {
    fn drop(&mut self) {
        let _ = self.0.kill();
        let _ = self.0.wait();
    }
}

fn meter(more: &[&str]) -> Meter {
    let mut child = Command::new(env!("CARGO_BIN_EXE_wayfinder"))
        .args(["meter", "--listen", "127.0.0.1:0"])
        .args(more)
        .stdout(Stdio::piped())
        .spawn()
        .unwrap();
    let mut line = String::new();
    BufReader::new(child.stdout.take().unwrap()).read_line(&mut line).unwrap();
    let address = line.split_whitespace().find(|w| w.starts_with("127.0.0.1:")).unwrap().trim_end_matches('.');
    Meter(child, address.to_owned())
}

#[tokio::test]
async fn a_bench_meter_fills_the_field_and_its_end_is_told_in_clear_words() {
    let server = Server::demo().await;
    let standing = meter(&["--on", "E1", "--fault", "open-neutral=2@Main"]);
    let at = |between: Value| {
        json!({ "address": standing.1, "place": { "at": "bus", "panel": 1 },
                                      "quantity": { "quantity": "volts", "between": between } })
    };
    let read = server.asked("meter", at(json!(["A", "B"]))).await;
    assert!((read["value"].as_f64().unwrap() - 240.0).abs() < 8.0 && read["meter"] == "WAYFINDER STAND-IN", "{read}");
    let address = standing.1.clone();
    drop(standing);
    let body =
        json!({ "address": address, "place": { "at": "bus", "panel": 1 }, "quantity": { "quantity": "degrees" } });
    let answer = server.post("/api/v1/houses/1/meter", &body).send().await.unwrap();
    let told: Value = answer.json().await.unwrap();
    assert!(told["detail"].as_str().unwrap().contains("no meter answers"), "{told}");
    // One that is ended in the middle of a reading: it says who it is, and then half a number.
    let listener = TcpListener::bind("127.0.0.1:0").unwrap();
    let address = listener.local_addr().unwrap();
    std::thread::spawn(move || {
        use std::io::Write;
        let (mut stream, _) = listener.accept().unwrap();
        let mut lines = BufReader::new(stream.try_clone().unwrap()).lines();
        let _ = lines.next();
        let _ = stream.write_all(b"TERN,BENCH,1,1\n");
        let _ = lines.find(|l| l.as_ref().is_ok_and(|l| l == "READ?"));
        let _ = stream.write_all(b"+1.2");
    });
    let body = json!({ "address": address.to_string(), "place": { "at": "bus", "panel": 1 }, "quantity": { "quantity": "degrees" } });
    let told: Value = server.post("/api/v1/houses/1/meter", &body).send().await.unwrap().json().await.unwrap();
    assert!(told["detail"].as_str().unwrap().contains("in the middle of a reading"), "{told}");
    let far = json!({ "address": "8.8.8.8:5025", "place": { "at": "bus", "panel": 1 }, "quantity": { "quantity": "degrees" } });
    assert_eq!(server.refused("meter", far).await.2, "address");
}
