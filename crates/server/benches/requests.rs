//! Times reads and a commit through the real router, beside a bare Axum and SQLite handler that does one select or one
//! insert with the same durability. Run by `cargo xtask bench`.
//!
//! The aims: a commit's p99 at most twice the bare insert's, a read that is worked out already at most twice the bare
//! select's, both on the demo house.

#![allow(clippy::expect_used, reason = "a benchmark that cannot go on ends")]

use std::net::SocketAddr;
use std::path::Path;
use std::sync::{Arc, Mutex};
use std::time::Instant;

use axum::Router;
use axum::body::Body;
use axum::extract::connect_info::MockConnectInfo;
use axum::extract::{Json, State};
use axum::http::Request;
use axum::routing::{get, post};
use rusqlite::Connection;
use serde_json::{Value, json};
use tower::ServiceExt;
use wayfinder_core::House;
use wayfinder_core::practice::rounds::Furnished;
use wayfinder_core::practice::{Setting, World};
use wayfinder_server::{Hub, JoinCode, demo, router};

const RUNS: usize = 300;
const WARM: usize = 20;

/// p50 and p99 of some requests, in microseconds.
async fn time(app: &Router, request: impl Fn(usize) -> Request<Body>) -> (f64, f64) {
    let mut times = Vec::new();
    for nth in 0..RUNS + WARM {
        let request = request(nth);
        let begun = Instant::now();
        let answer = app.clone().oneshot(request).await.expect("a router answers");
        assert!(answer.status().is_success(), "{}", answer.status());
        axum::body::to_bytes(answer.into_body(), usize::MAX).await.expect("a body");
        times.push(begun.elapsed().as_secs_f64() * 1e6);
    }
    let mut times = times.split_off(WARM);
    times.sort_by(f64::total_cmp);
    (times[RUNS / 2], times[RUNS * 99 / 100])
}

fn asked(path: &str) -> Request<Body> {
    Request::get(path).header("host", "localhost").body(Body::empty()).expect("a request")
}

fn sent(path: &str, body: &Value) -> Request<Body> {
    let request = Request::post(path).header("host", "localhost").header("content-type", "application/json");
    request.body(Body::from(body.to_string())).expect("a request")
}

/// One select, one insert: what a request costs that does nothing else.
fn bare(data: &Path) -> Router {
    let connection = Connection::open(data).expect("a database");
    connection.pragma_update(None, "journal_mode", "WAL").expect("a journal");
    connection.pragma_update(None, "synchronous", "FULL").expect("it is durable");
    connection.execute("CREATE TABLE note (id INTEGER PRIMARY KEY, doc TEXT NOT NULL)", []).expect("a table");
    connection.execute("INSERT INTO note (doc) VALUES ('{}')", []).expect("a row");
    async fn select(State(c): State<Arc<Mutex<Connection>>>) -> String {
        let select = move || {
            let c = c.lock().expect("a connection");
            c.query_row("SELECT doc FROM note WHERE id = 1", [], |r| r.get::<_, String>(0)).expect("a row")
        };
        tokio::task::spawn_blocking(select).await.expect("it ends")
    }
    async fn insert(State(c): State<Arc<Mutex<Connection>>>, Json(doc): Json<Value>) -> String {
        let insert = move || {
            let c = c.lock().expect("a connection");
            c.execute("INSERT INTO note (doc) VALUES (?1)", [doc.to_string()]).expect("it is written")
        };
        tokio::task::spawn_blocking(insert).await.expect("it ends").to_string()
    }
    Router::new().route("/", get(select)).route("/", post(insert)).with_state(Arc::new(Mutex::new(connection)))
}

fn row(what: &str, (p50, p99): (f64, f64), (bare50, bare99): (f64, f64)) {
    println!("| {what} | {p50:.0} | {p99:.0} | {:.1} | {:.1} |", p50 / bare50, p99 / bare99);
}

async fn measure(name: &str, house: Option<&House>, bare: ((f64, f64), (f64, f64))) {
    let hub = Hub::temporary(JoinCode("135790".into())).expect("a server");
    let id = match house {
        Some(house) => hub.add_house(house).expect("a house"),
        None => demo::add(&hub).expect("the demo"),
    };
    let house = hub.house(id).expect("a house");
    let point = house.points.iter().next().expect("a point").id.0;
    let at = SocketAddr::from(([127, 0, 0, 1], 9));
    let app = router(hub).layer(MockConnectInfo(at));
    let path = |rest: &str| format!("/api/v1/houses/{id}{rest}");
    for (what, rest) in
        [("document", ""), ("beliefs", "/beliefs"), ("find", "/find?q=kitchen"), ("tracing", "/tracing")]
    {
        row(&format!("{name}: {what}"), time(&app, |_| asked(&path(rest))).await, bare.0);
    }
    let record = |nth: usize| {
        let observation = json!({ "what": "power", "off": [], "seen": "live", "how": "tester" });
        let evidence = json!({ "id": 900_000 + nth, "point": point, "time": "2026-05-04T10:00:00Z", "who": "Wren",
                               "observation": observation });
        sent(&path("/changes"), &json!({ "author": "Wren", "change": { "type": "record", "evidence": evidence } }))
    };
    row(&format!("{name}: a commit"), time(&app, record).await, bare.1);
}

/// Changes before each of which a read is timed anew.
const CHANGES: usize = 25;

/// What is worked out of loads in the fullest house, over HTTP: the first to ask after a change, in milliseconds.
async fn of_loads() {
    let hub = Hub::temporary(JoinCode("135790".into())).expect("a server");
    let id = hub.add_house(&Furnished::fullest().house).expect("a house");
    let house = hub.house(id).expect("a house");
    let at = SocketAddr::from(([127, 0, 0, 1], 9));
    let app = router(hub).layer(MockConnectInfo(at));
    let path = |rest: &str| format!("/api/v1/houses/{id}{rest}");
    let on: Vec<Value> = house.loads.iter().map(|l| json!({ "load": l.id })).collect();
    let load_ids: Vec<u64> = house.loads.iter().map(|l| l.id.0).collect();
    let breaker = house.breakers.iter().next().expect("a breaker").id.0;
    let panel = house.panels.iter().next().expect("a panel").id.0;
    let change = |change: Value| sent(&path("/changes"), &json!({ "author": "Wren", "base": null, "change": change }));
    let run = json!({ "id": 1, "begun": "2026-05-04T10:00:00Z", "crew": { "people": 1, "testers": 1 },
                      "round": { "on": load_ids, "ready": true } });
    let begun = app.clone().oneshot(change(json!({ "type": "put-run", "run": run }))).await.expect("an answer");
    assert!(begun.status().is_success(), "{}", begun.status());
    let note = |nth: usize| {
        let place = json!({ "at": "breaker", "breaker": breaker });
        let reading = json!({ "id": 900_000 + nth, "time": "2026-05-04T10:00:00Z", "who": "Wren", "place": place,
                              "quantity": { "quantity": "amps" }, "value": 4.2, "instrument": "clamp", "on": [] });
        change(json!({ "type": "note-reading", "reading": reading }))
    };
    let kit = json!({ "clamp": true, "plug_in": true, "utility_meter": true });
    type Ask<'a> = Box<dyn Fn() -> Request<Body> + 'a>;
    let reads: [(&str, Ask<'_>); 13] = [
        ("loads", Box::new(|| asked(&path("/loads")))),
        ("the round that goes on", Box::new(|| asked(&path("/round")))),
        ("may these run together", Box::new(|| sent(&path("/together"), &json!({ "on": on, "breaker": breaker })))),
        ("the next reading", Box::new(|| sent(&path("/next-reading"), &kit))),
        ("room for more", Box::new(|| asked(&path("/service-load?add=40@240")))),
        ("what meters should show", Box::new(|| asked(&path("/expect")))),
        ("findings", Box::new(|| asked(&path("/audit")))),
        ("the directory", Box::new(|| asked(&path("/directory")))),
        ("print: card", Box::new(|| asked(&path(&format!("/panels/{panel}/card.pdf?width=8&height=13"))))),
        ("print: labels", Box::new(|| asked(&path("/print/labels.pdf?kinds=plate,wire,number&likely=true")))),
        ("print: schedule", Box::new(|| asked(&path("/print/schedule.pdf")))),
        ("print: wall sheet", Box::new(|| asked(&path("/print/wall.pdf")))),
        ("print: report", Box::new(|| asked(&path("/audit.pdf")))),
    ];
    println!(
        "\nThe first to ask after a change, 42 breakers, 200 points, 300 loads, 2000 readings, in milliseconds:\n"
    );
    println!("| read | p50 | p95 |\n|---|---|---|");
    let mut nth = 0;
    for (what, ask) in reads {
        let mut times = Vec::new();
        for _ in 0..CHANGES {
            nth += 1;
            let noted = app.clone().oneshot(note(nth)).await.expect("an answer");
            assert!(noted.status().is_success(), "{}", noted.status());
            let request = ask();
            let begun = Instant::now();
            let answer = app.clone().oneshot(request).await.expect("a router answers");
            assert!(answer.status().is_success(), "{what}: {}", answer.status());
            axum::body::to_bytes(answer.into_body(), usize::MAX).await.expect("a body");
            times.push(begun.elapsed().as_secs_f64() * 1e3);
        }
        times.sort_by(f64::total_cmp);
        println!("| {what} | {:.0} | {:.0} |", times[CHANGES / 2], times[CHANGES - 2]);
    }
}

#[tokio::main]
async fn main() {
    let folder = tempfile::tempdir().expect("a folder");
    let app = bare(&folder.path().join("bare.db"));
    let select = time(&app, |_| asked("/")).await;
    let insert = time(&app, |nth| sent("/", &json!({ "nth": nth }))).await;
    println!("Microseconds of {RUNS} requests through the router, and as a multiple of a bare Axum and SQLite handler");
    println!(
        "(one select {:.0}, p99 {:.0}; one durable insert {:.0}, p99 {:.0}).\n",
        select.0, select.1, insert.0, insert.1
    );
    println!("| request | p50 | p99 | p50 of bare | p99 of bare |\n|---|---|---|---|---|");
    measure("demo", None, (select, insert)).await;
    let hard = World::new(Setting { points: 200, ..Setting::usual(42) }, 1).house;
    measure("42 breakers, 200 points", Some(&hard), (select, insert)).await;
    of_loads().await;
}
