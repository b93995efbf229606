//! The answers that people come for: find, what to switch off, what is dead and why, how to reset, what is due.

use std::collections::BTreeSet;
use std::sync::Arc;

use axum::response::Response;
use jiff::Timestamp;
use serde::{Deserialize, Serialize};
use utoipa::{IntoParams, ToSchema};
use utoipa_axum::router::OpenApiRouter;
use utoipa_axum::routes;
use wayfinder_core::Invalid;
use wayfinder_core::answers::buttons::{AskButtons, ask_for_buttons};
use wayfinder_core::answers::changed::changed;
use wayfinder_core::answers::diagnose::{self, Complaint, Diagnosis};
use wayfinder_core::answers::find::{self, Found};
use wayfinder_core::answers::reset::{self, ResetGuide};
use wayfinder_core::answers::service::{self, Verdict};
use wayfinder_core::answers::shutdown::{self, Shutdown, Target};
use wayfinder_core::answers::today::{self, Today};
use wayfinder_core::answers::upkeep::{self, DueTest, Glance};
use wayfinder_core::edit::Subject;
use wayfinder_core::edit::catalog::{self, Item};
use wayfinder_core::house::{BreakerId, House, PanelId, PointId, ServiceReading};
use wayfinder_formats::logbook::{self, Line, LineKind};
use wayfinder_formats::reminders;
use wayfinder_store::{HistoryEntry, HouseId};

use super::extract::{Json, OfHouse, OfPanel, Path, Query, attachment};
use crate::error::{ApiError, Refused, RefusedBody};
use crate::hub::Hub;
use crate::known::Known;

/// Its resources.
pub fn routes() -> OpenApiRouter<Arc<Hub>> {
    OpenApiRouter::new()
        .routes(routes!(glance))
        .routes(routes!(find))
        .routes(routes!(shutdown, shutdown_read))
        .routes(routes!(diagnosis))
        .routes(routes!(reset))
        .routes(routes!(service))
        .routes(routes!(today))
        .routes(routes!(tests))
        .routes(routes!(buttons))
        .routes(routes!(forgotten))
        .routes(routes!(reminder))
        .routes(routes!(log))
        .routes(routes!(log_csv))
}

/// The breaker that the path names.
#[derive(Debug, Deserialize)]
pub struct OfBreaker {
    breaker: u64,
}

/// What is looked for.
#[derive(Debug, Deserialize, IntoParams)]
#[into_params(parameter_in = Query)]
pub struct FindQuery {
    /// Some words.
    q: String,
}

/// Finds anything of the house by what people call it, best first.
#[utoipa::path(get, path = "/api/v1/houses/{id}/find", params(("id" = i64, Path, description = "the house"), FindQuery),
    responses((status = 200, body = Vec<Found>), Refused))]
pub async fn find(of: OfHouse, Query(query): Query<FindQuery>) -> Result<axum::Json<Vec<Found>>, ApiError> {
    of.json(move |known| Ok(find::find(known.house(), known.beliefs(), &query.q))).await
}

/// What must be switched off to work somewhere, what else goes dark, and how it is proven dead. Changes nothing.
#[utoipa::path(post, path = "/api/v1/houses/{id}/shutdown", params(("id" = i64, Path, description = "the house")),
    request_body = Target,
    responses((status = 200, body = Shutdown), RefusedBody))]
pub async fn shutdown(of: OfHouse, Json(target): Json<Target>) -> Result<axum::Json<Shutdown>, ApiError> {
    of.json(move |known| Ok(shutdown::plan(known.tracker(), known.beliefs(), &target)?)).await
}

/// Where the work is: one of these.
#[derive(Debug, Deserialize, IntoParams)]
#[into_params(parameter_in = Query)]
pub struct ShutdownQuery {
    /// Ids of points, with commas between.
    points: Option<String>,
    /// A breaker: all that it feeds.
    breaker: Option<u64>,
    /// A panel.
    panel: Option<u64>,
}

/// The same as a read, which a phone keeps: the router may be on the circuit that is switched off.
#[utoipa::path(get, path = "/api/v1/houses/{id}/shutdown", params(("id" = i64, Path, description = "the house"), ShutdownQuery),
    responses((status = 200, body = Shutdown), Refused))]
pub async fn shutdown_read(of: OfHouse, Query(query): Query<ShutdownQuery>) -> Result<axum::Json<Shutdown>, ApiError> {
    let target = match (&query.points, query.breaker, query.panel) {
        (Some(points), None, None) => Target::Points { points: point_ids("points", points)? },
        (None, Some(breaker), None) => Target::Circuit { breaker: BreakerId(breaker) },
        (None, None, Some(panel)) => Target::Panel { panel: PanelId(panel) },
        _ => return Err(Invalid::new("points", "one of points, breaker or panel").into()),
    };
    of.json(move |known| Ok(shutdown::plan(known.tracker(), known.beliefs(), &target)?)).await
}

fn point_ids(field: &str, text: &str) -> Result<BTreeSet<PointId>, Invalid> {
    let ids = text.split(',').filter(|id| !id.is_empty());
    ids.map(|id| id.parse().map(PointId).map_err(|_| Invalid::new(field, "ids with commas between"))).collect()
}

/// What may be the cause when something is dead, and the check that tells most. Changes nothing.
#[utoipa::path(post, path = "/api/v1/houses/{id}/diagnosis", params(("id" = i64, Path, description = "the house")),
    request_body = Complaint,
    responses((status = 200, body = Diagnosis), RefusedBody))]
pub async fn diagnosis(of: OfHouse, Json(complaint): Json<Complaint>) -> Result<axum::Json<Diagnosis>, ApiError> {
    of.json(move |known| Ok(diagnose::diagnose(known.house(), known.beliefs(), &complaint)?)).await
}

/// What is to run together.
#[derive(Debug, Deserialize, IntoParams)]
#[into_params(parameter_in = Query)]
pub struct ResetQuery {
    /// Ids of points, with commas between.
    on: Option<String>,
}

impl ResetQuery {
    fn on(&self) -> Result<BTreeSet<PointId>, Invalid> {
        point_ids("on", self.on.as_deref().unwrap_or(""))
    }
}

/// Where the reset of a breaker stands, from its lines in the logbook.
#[utoipa::path(get, path = "/api/v1/houses/{id}/breakers/{breaker}/reset",
    params(("id" = i64, Path, description = "the house"), ("breaker" = u64, Path, description = "the breaker"),
           ResetQuery),
    responses((status = 200, body = ResetGuide), Refused))]
pub async fn reset(
    of: OfHouse,
    Path(at): Path<OfBreaker>,
    Query(query): Query<ResetQuery>,
) -> Result<axum::Json<ResetGuide>, ApiError> {
    let on = query.on()?;
    let guide = move |known: &Known| {
        let house = known.house();
        let known = (known.beliefs(), known.loaded());
        Ok(reset::guide(house, known, BreakerId(at.breaker), &on, Timestamp::now())?)
    };
    of.json(guide).await
}

/// Judges three service voltages together. Changes nothing.
#[utoipa::path(post, path = "/api/v1/houses/{id}/panels/{panel}/service",
    params(("id" = i64, Path, description = "the house"), ("panel" = u64, Path, description = "the panel")),
    request_body = ServiceReading,
    responses((status = 200, body = Verdict), RefusedBody))]
pub async fn service(
    of: OfHouse,
    Path(at): Path<OfPanel>,
    Json(reading): Json<ServiceReading>,
) -> Result<axum::Json<Verdict>, ApiError> {
    of.json(move |known| Ok(service::judge(&reading, at.panel(known)?.supply))).await
}

/// What the house needs, at a glance.
#[utoipa::path(get, path = "/api/v1/houses/{id}/glance", params(("id" = i64, Path, description = "the house")),
    responses((status = 200, body = Glance), Refused))]
pub async fn glance(of: OfHouse) -> Result<axum::Json<Glance>, ApiError> {
    of.work(|hub, id| hub.glance(id).map_err(Into::into)).await.map(axum::Json)
}

/// What is under way in a house, and what comes next.
#[utoipa::path(get, path = "/api/v1/houses/{id}/today", params(("id" = i64, Path, description = "the house")),
    responses((status = 200, body = Today), Refused))]
pub async fn today(of: OfHouse) -> Result<axum::Json<Today>, ApiError> {
    of.json(|known| Ok(today::today(known.house(), known.beliefs(), known.loaded(), Timestamp::now()))).await
}

/// All ground-fault devices and when their tests are due.
#[utoipa::path(get, path = "/api/v1/houses/{id}/tests", params(("id" = i64, Path, description = "the house")),
    responses((status = 200, body = Vec<DueTest>), Refused))]
pub async fn tests(of: OfHouse) -> Result<axum::Json<Vec<DueTest>>, ApiError> {
    of.json(|known| Ok(upkeep::device_tests(known.house(), Timestamp::now()))).await
}

/// The same as a monthly reminder for a calendar.
#[utoipa::path(get, path = "/api/v1/houses/{id}/tests.ics", params(("id" = i64, Path, description = "the house")),
    responses((status = 200, description = "iCalendar", body = String, content_type = "text/calendar"), Refused))]
pub async fn reminder(of: OfHouse) -> Result<Response, ApiError> {
    let write = |known: &Known| {
        let (house, now) = (known.house(), Timestamp::now());
        Ok(reminders::ground_fault_tests(house, &upkeep::device_tests(house, now), now))
    };
    Ok(attachment("text/calendar; charset=utf-8", "ground-fault-tests.ics", of.read(write).await?))
}

/// Things that people forget to enter, as far as they are not entered and nobody said that there are none.
#[utoipa::path(get, path = "/api/v1/houses/{id}/forgotten", params(("id" = i64, Path, description = "the house")),
    responses((status = 200, body = Vec<Item>), Refused))]
pub async fn forgotten(of: OfHouse) -> Result<axum::Json<Vec<Item>>, ApiError> {
    of.read(|known| Ok(axum::Json(catalog::forgotten(known.house())))).await
}

/// Rooms where a ground-fault device is usual and none is registered.
#[utoipa::path(get, path = "/api/v1/houses/{id}/buttons", params(("id" = i64, Path, description = "the house")),
    responses((status = 200, body = Vec<AskButtons>), Refused))]
pub async fn buttons(of: OfHouse) -> Result<axum::Json<Vec<AskButtons>>, ApiError> {
    of.read(|known| Ok(axum::Json(ask_for_buttons(known.house())))).await
}

/// Which lines of the log.
#[derive(Debug, Deserialize, IntoParams)]
#[into_params(parameter_in = Query)]
pub struct LogQuery {
    /// One sort of lines: trip, reset, test, volts, note, change.
    #[param(inline)]
    kind: Option<LineKind>,
    /// Of one panel, by id.
    panel: Option<u64>,
    /// Of one breaker, by id.
    breaker: Option<u64>,
}

/// Lines of the log.
#[derive(Debug, Serialize, ToSchema)]
pub struct LogBody {
    /// Newest first.
    pub lines: Vec<Line>,
}

/// Changes told of at most: the whole history has its own resource.
const MOST_CHANGES: u32 = 500;

fn log_lines(hub: &Hub, id: HouseId, query: &LogQuery) -> Result<Vec<Line>, ApiError> {
    let house = hub.house(id)?;
    let mut lines = logbook::lines(&house);
    let changes = hub.store.history(id, None, MOST_CHANGES)?;
    lines.extend(changes.iter().filter(|c| c.kind != "log").map(|c| change_line(&house, c)));
    lines.retain(|l| {
        query.kind.is_none_or(|k| l.kind == k)
            && query.panel.is_none_or(|p| l.panel_id == Some(PanelId(p)))
            && query.breaker.is_none_or(|b| l.breaker_id == Some(BreakerId(b)))
    });
    lines.sort_by_key(|l| std::cmp::Reverse(l.time));
    Ok(lines)
}

/// A change, under the first breaker or panel it touched.
fn change_line(house: &House, entry: &HistoryEntry) -> Line {
    let breaker = entry.subjects.iter().find_map(|s| match s {
        Subject::Breaker(b) => house.breakers.get(*b),
        Subject::Circuit(c) => house.circuits.get(*c).and_then(|c| house.breakers.get(c.breaker)),
        _ => None,
    });
    let named = entry.subjects.iter().find_map(|s| match s {
        Subject::Panel(p) => house.panels.get(*p),
        _ => None,
    });
    let panel = breaker.and_then(|b| house.panels.get(b.panel)).or(named);
    let undone = if entry.undone_by.is_some() { " (taken back)" } else { "" };
    Line {
        time: entry.time.parse().unwrap_or(Timestamp::UNIX_EPOCH),
        who: entry.author.clone(),
        kind: LineKind::Change,
        entry: None,
        panel: panel.map_or_else(String::new, |p| p.name.clone()),
        at: breaker.map_or_else(String::new, |b| b.at_text()),
        text: format!("{}: {}{undone}", entry.said, changed(house, &entry.subjects)).trim_end_matches(": ").to_owned(),
        note: String::new(),
        panel_id: panel.map(|p| p.id),
        breaker_id: breaker.map(|b| b.id),
        job: None,
    }
}

/// Trips, resets, tests, readings, notes and changes, newest first.
#[utoipa::path(get, path = "/api/v1/houses/{id}/log", params(("id" = i64, Path, description = "the house"), LogQuery),
    responses((status = 200, body = LogBody), Refused))]
pub async fn log(of: OfHouse, Query(query): Query<LogQuery>) -> Result<axum::Json<LogBody>, ApiError> {
    of.work(move |hub, id| Ok(axum::Json(LogBody { lines: log_lines(hub, id, &query)? }))).await
}

/// The same as a table.
#[utoipa::path(get, path = "/api/v1/houses/{id}/log.csv", params(("id" = i64, Path, description = "the house"), LogQuery),
    responses((status = 200, description = "one line a row", body = String, content_type = "text/csv"), Refused))]
pub async fn log_csv(of: OfHouse, Query(query): Query<LogQuery>) -> Result<Response, ApiError> {
    let write =
        move |hub: &Hub, id| logbook::csv(&log_lines(hub, id, &query)?).map_err(|e| ApiError::Internal(e.to_string()));
    Ok(attachment("text/csv; charset=utf-8", "log.csv", of.work(write).await?))
}
