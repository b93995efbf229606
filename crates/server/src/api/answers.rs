//! The answers that people come for: find, what to switch off, what is dead and why, how to reset, what is due.

use std::sync::Arc;

use axum::extract::State;
use axum::http::header::{CONTENT_DISPOSITION, CONTENT_TYPE};
use axum::response::{IntoResponse, Response};
use jiff::Timestamp;
use serde::{Deserialize, Serialize};
use utoipa::{IntoParams, ToSchema};
use wayfinder_core::answers::diagnose::{self, Complaint, Diagnosis};
use wayfinder_core::answers::find::{self, Hit};
use wayfinder_core::answers::reset::{self, ResetGuide};
use wayfinder_core::answers::service::{self, Verdict};
use wayfinder_core::answers::shutdown::{self, Shutdown, Target};
use wayfinder_core::answers::upkeep::{self, DueTest, Glance};
use wayfinder_core::edit::Subject;
use wayfinder_core::house::{BreakerId, House, PanelId, ServiceReading};
use wayfinder_core::trace::beliefs;
use wayfinder_formats::logbook::{self, Line, LineKind};
use wayfinder_formats::reminders;
use wayfinder_store::{HistoryEntry, HouseId};

use super::error::{ApiError, Problem};
use super::extract::{Json, Path, Query, work};
use crate::Hub;

/// What is looked for.
#[derive(Debug, Deserialize, IntoParams)]
#[into_params(parameter_in = Query)]
pub struct FindQuery {
    /// Some words.
    q: String,
}

/// Finds anything of the house by what people call it, best first.
#[utoipa::path(get, path = "/api/v1/houses/{id}/find", params(("id" = i64, Path, description = "the house"), FindQuery),
    responses((status = 200, body = Vec<Hit>), (status = 404, body = Problem, content_type = "application/problem+json")))]
pub async fn find(
    State(hub): State<Arc<Hub>>,
    Path(id): Path<HouseId>,
    Query(query): Query<FindQuery>,
) -> Result<axum::Json<Vec<Hit>>, ApiError> {
    work(hub, move |hub| {
        let house = hub.house(id)?;
        Ok(axum::Json(find::find(&house, &beliefs(&house), &query.q)))
    })
    .await
}

/// What must be switched off to work somewhere, what else goes dark, and how it is proven dead. Changes nothing.
#[utoipa::path(post, path = "/api/v1/houses/{id}/shutdown", params(("id" = i64, Path, description = "the house")),
    request_body = Target,
    responses((status = 200, body = Shutdown), (status = 404, body = Problem, content_type = "application/problem+json"),
              (status = 422, body = Problem, content_type = "application/problem+json")))]
pub async fn shutdown(
    State(hub): State<Arc<Hub>>,
    Path(id): Path<HouseId>,
    Json(target): Json<Target>,
) -> Result<axum::Json<Shutdown>, ApiError> {
    work(hub, move |hub| {
        let house = hub.house(id)?;
        Ok(axum::Json(shutdown::plan(&house, &beliefs(&house), &target)?))
    })
    .await
}

/// What may be the cause when something is dead, and the check that tells most. Changes nothing.
#[utoipa::path(post, path = "/api/v1/houses/{id}/diagnosis", params(("id" = i64, Path, description = "the house")),
    request_body = Complaint,
    responses((status = 200, body = Diagnosis), (status = 404, body = Problem, content_type = "application/problem+json"),
              (status = 422, body = Problem, content_type = "application/problem+json")))]
pub async fn diagnosis(
    State(hub): State<Arc<Hub>>,
    Path(id): Path<HouseId>,
    Json(complaint): Json<Complaint>,
) -> Result<axum::Json<Diagnosis>, ApiError> {
    work(hub, move |hub| {
        let house = hub.house(id)?;
        Ok(axum::Json(diagnose::diagnose(&house, &beliefs(&house), &complaint)?))
    })
    .await
}

/// Where the reset of a breaker stands, from its lines in the logbook.
#[utoipa::path(get, path = "/api/v1/houses/{id}/breakers/{breaker}/reset",
    params(("id" = i64, Path, description = "the house"), ("breaker" = u64, Path, description = "the breaker")),
    responses((status = 200, body = ResetGuide), (status = 404, body = Problem, content_type = "application/problem+json"),
              (status = 422, body = Problem, content_type = "application/problem+json")))]
pub async fn reset(
    State(hub): State<Arc<Hub>>,
    Path((id, breaker)): Path<(HouseId, u64)>,
) -> Result<axum::Json<ResetGuide>, ApiError> {
    work(hub, move |hub| {
        let house = hub.house(id)?;
        Ok(axum::Json(reset::guide(&house, &beliefs(&house), BreakerId(breaker), Timestamp::now())?))
    })
    .await
}

/// Judges three service voltages together. Changes nothing.
#[utoipa::path(post, path = "/api/v1/houses/{id}/panels/{panel}/service",
    params(("id" = i64, Path, description = "the house"), ("panel" = u64, Path, description = "the panel")),
    request_body = ServiceReading,
    responses((status = 200, body = Verdict), (status = 404, body = Problem, content_type = "application/problem+json"),
              (status = 422, body = Problem, content_type = "application/problem+json")))]
pub async fn service(
    State(hub): State<Arc<Hub>>,
    Path((id, panel)): Path<(HouseId, u64)>,
    Json(reading): Json<ServiceReading>,
) -> Result<axum::Json<Verdict>, ApiError> {
    work(hub, move |hub| {
        let house = hub.house(id)?;
        let panel = house.panels.get(PanelId(panel)).ok_or(ApiError::NoPanel)?;
        Ok(axum::Json(service::judge(&reading, panel.supply)))
    })
    .await
}

/// What the house needs, at a glance.
#[utoipa::path(get, path = "/api/v1/houses/{id}/glance", params(("id" = i64, Path, description = "the house")),
    responses((status = 200, body = Glance), (status = 404, body = Problem, content_type = "application/problem+json")))]
pub async fn glance(State(hub): State<Arc<Hub>>, Path(id): Path<HouseId>) -> Result<axum::Json<Glance>, ApiError> {
    work(hub, move |hub| Ok(axum::Json(hub.glance(id)?))).await
}

/// All ground-fault devices and when their tests are due.
#[utoipa::path(get, path = "/api/v1/houses/{id}/tests", params(("id" = i64, Path, description = "the house")),
    responses((status = 200, body = Vec<DueTest>), (status = 404, body = Problem, content_type = "application/problem+json")))]
pub async fn tests(State(hub): State<Arc<Hub>>, Path(id): Path<HouseId>) -> Result<axum::Json<Vec<DueTest>>, ApiError> {
    work(hub, move |hub| Ok(axum::Json(upkeep::device_tests(&*hub.house(id)?, Timestamp::now())))).await
}

/// The same as a monthly reminder for a calendar.
#[utoipa::path(get, path = "/api/v1/houses/{id}/tests.ics", params(("id" = i64, Path, description = "the house")),
    responses((status = 200, description = "iCalendar", body = String, content_type = "text/calendar"),
              (status = 404, body = Problem, content_type = "application/problem+json")))]
pub async fn reminder(State(hub): State<Arc<Hub>>, Path(id): Path<HouseId>) -> Result<Response, ApiError> {
    let text = work(hub, move |hub| {
        let (house, now) = (hub.house(id)?, Timestamp::now());
        Ok(reminders::ground_fault_tests(&house.about.name, &upkeep::device_tests(&house, now), now))
    })
    .await?;
    Ok(attachment("text/calendar; charset=utf-8", "ground-fault-tests.ics", text))
}

pub(super) fn attachment(kind: &str, name: &str, text: String) -> Response {
    let disposition = format!("attachment; filename=\"{name}\"");
    ([(CONTENT_TYPE, kind.to_owned()), (CONTENT_DISPOSITION, disposition)], text).into_response()
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
    let points: Vec<_> = entry
        .subjects
        .iter()
        .filter_map(|s| match s {
            Subject::Point(p) => house.points.get(*p).map(|p| p.tag.as_str()),
            Subject::Evidence(e) => {
                house.evidence.get(*e).and_then(|e| house.points.get(e.point)).map(|p| p.tag.as_str())
            }
            _ => None,
        })
        .collect();
    let undone = if entry.undone_by.is_some() { " (taken back)" } else { "" };
    Line {
        time: entry.time.parse().unwrap_or(Timestamp::UNIX_EPOCH),
        who: entry.author.clone(),
        kind: LineKind::Change,
        entry: None,
        panel: panel.map_or_else(String::new, |p| p.name.clone()),
        at: breaker.map_or_else(String::new, |b| b.at_text()),
        text: format!("{} {}{undone}", entry.kind.replace('-', " "), points.join(" ")).trim().to_owned(),
        note: String::new(),
        panel_id: panel.map(|p| p.id),
        breaker_id: breaker.map(|b| b.id),
    }
}

/// Trips, resets, tests, readings, notes and changes, newest first.
#[utoipa::path(get, path = "/api/v1/houses/{id}/log", params(("id" = i64, Path, description = "the house"), LogQuery),
    responses((status = 200, body = LogBody), (status = 404, body = Problem, content_type = "application/problem+json")))]
pub async fn log(
    State(hub): State<Arc<Hub>>,
    Path(id): Path<HouseId>,
    Query(query): Query<LogQuery>,
) -> Result<axum::Json<LogBody>, ApiError> {
    work(hub, move |hub| Ok(axum::Json(LogBody { lines: log_lines(hub, id, &query)? }))).await
}

/// The same as a table.
#[utoipa::path(get, path = "/api/v1/houses/{id}/log.csv", params(("id" = i64, Path, description = "the house"), LogQuery),
    responses((status = 200, description = "one line a row", body = String, content_type = "text/csv"),
              (status = 404, body = Problem, content_type = "application/problem+json")))]
pub async fn log_csv(
    State(hub): State<Arc<Hub>>,
    Path(id): Path<HouseId>,
    Query(query): Query<LogQuery>,
) -> Result<Response, ApiError> {
    let text =
        work(hub, move |hub| logbook::csv(&log_lines(hub, id, &query)?).map_err(|e| ApiError::Internal(e.to_string())))
            .await?;
    Ok(attachment("text/csv; charset=utf-8", "log.csv", text))
}
