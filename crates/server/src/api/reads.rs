//! Reads: pure functions of a house, one resource each.

use std::collections::BTreeSet;
use std::sync::Arc;

use axum::response::Response;
use jiff::Timestamp;
use serde::{Deserialize, Serialize};
use utoipa::{IntoParams, ToSchema};
use utoipa_axum::router::OpenApiRouter;
use utoipa_axum::routes;
use wayfinder_core::Invalid;
use wayfinder_core::base::Said;
use wayfinder_core::edit::catalog::{self, Catalog};
use wayfinder_core::house::{BreakerId, Crew, KeptUntil, Method, Pace, PointId, RunId};
use wayfinder_core::practice::{Forecast, Saving};
use wayfinder_core::rules::{self, Listed};
use wayfinder_core::trace::{self, Beliefs, Doubt, Guide, Order, PointBelief, Progress, Report};
use wayfinder_core::view::face::{self, Face};

use super::extract::{OfHouse, OfPanel, OfPoint, Path, Query};
use crate::error::{ApiError, Refused};
use crate::hub::Hub;
use crate::known::Known;

/// Its resources.
pub fn routes() -> OpenApiRouter<Arc<Hub>> {
    OpenApiRouter::new()
        .routes(routes!(beliefs))
        .routes(routes!(belief))
        .routes(routes!(advice))
        .routes(routes!(tracing))
        .routes(routes!(forecast))
        .routes(routes!(helps))
        .routes(routes!(doubts))
        .routes(routes!(report))
        .routes(routes!(face))
        .routes(routes!(catalog))
        .routes(routes!(rules))
}

/// What feeds every point and how sure, with the likeliest candidates; every reason is read point by point.
#[utoipa::path(get, path = "/api/v1/houses/{id}/beliefs", params(("id" = i64, Path, description = "the house")),
    responses((status = 200, body = Beliefs), Refused))]
pub async fn beliefs(of: OfHouse) -> Result<Response, ApiError> {
    of.written("beliefs".into(), |known| Ok(known.lean().clone())).await
}

/// What is believed of one point, with every reason.
#[utoipa::path(get, path = "/api/v1/houses/{id}/beliefs/{point}",
    params(("id" = i64, Path, description = "the house"), ("point" = u64, Path, description = "the point")),
    responses((status = 200, body = PointBelief), Refused))]
pub async fn belief(of: OfHouse, Path(at): Path<OfPoint>) -> Result<axum::Json<PointBelief>, ApiError> {
    let found = move |known: &Known| {
        let belief = known.beliefs().of(PointId(at.point)).cloned().ok_or(ApiError::NoSuchResource)?;
        Ok(belief.told(known.house()))
    };
    of.json(found).await
}

/// The people and tools at hand.
#[derive(Debug, Deserialize, IntoParams)]
#[into_params(parameter_in = Query)]
pub struct CrewQuery {
    /// 1: alone; 2: one at the panel, one in the rooms.
    people: Option<u8>,
    /// Plug-in testers at hand.
    testers: Option<u8>,
    /// A transmitter and receiver are at hand.
    transmitter: Option<bool>,
    /// A radio is at hand, loud enough to be heard at the panel.
    radio: Option<bool>,
    /// A clamp meter, a load, and somebody qualified to work with the cover off.
    clamp: Option<bool>,
    /// An energy monitor that watches every breaker, and a load.
    monitor: Option<bool>,
    /// Ids of breakers that must stay on, with commas between; `7@2026-05-04T18:00:00Z` for one that must until then.
    keep_on: Option<String>,
    /// A second of walking counts as so many of other work, 1 to 4.
    walking: Option<u8>,
    /// At most so many off at once.
    max_off: Option<usize>,
    /// How much outages matter: fast, even or gentle.
    pace: Option<Pace>,
    /// The way of tracing: adaptive, one-at-a-time, transmitter or halving.
    method: Option<Method>,
}

impl CrewQuery {
    fn crew(self) -> Result<Crew, Invalid> {
        let usual = Crew::default();
        let kept = self.keep_on.as_deref().unwrap_or("").split(',').filter(|part| !part.is_empty());
        let (mut keep_on, mut keep_until) = (BTreeSet::new(), Vec::new());
        for part in kept {
            let wrong = || Invalid::new("keep_on", "ids of breakers with commas between, each with @time or without");
            let (id, until) = part.split_once('@').map_or((part, None), |(id, until)| (id, Some(until)));
            let breaker = id.parse().map(BreakerId).map_err(|_| wrong())?;
            keep_on.insert(breaker);
            if let Some(until) = until {
                keep_until.push(KeptUntil { breaker, until: until.parse().map_err(|_| wrong())? });
            }
        }
        let crew = Crew {
            people: self.people.unwrap_or(usual.people),
            testers: self.testers.unwrap_or(usual.testers),
            transmitter: self.transmitter.unwrap_or(usual.transmitter),
            radio: self.radio.unwrap_or(usual.radio),
            clamp: self.clamp.unwrap_or(usual.clamp),
            monitor: self.monitor.unwrap_or(usual.monitor),
            keep_on,
            keep_until,
            walking: self.walking.unwrap_or(usual.walking),
            max_off: self.max_off,
            pace: self.pace.unwrap_or_default(),
            method: self.method.unwrap_or_default(),
        };
        Ok(crew.at(Timestamp::now()))
    }
}

/// What to do next, of which state of the house.
#[derive(Debug, Serialize, ToSchema)]
pub struct AdviceRead {
    /// The house's revision this is of: an order given before the last answers is not to be followed.
    pub revision: u64,
    /// The advice itself, and in words.
    #[serde(flatten)]
    pub advice: Order,
}

fn order(known: &Known, crew: &Crew) -> Result<Order, ApiError> {
    Ok(Order::new(known.house(), known.beliefs(), known.tracker().advise(crew)?))
}

/// What to do next to learn most.
#[utoipa::path(get, path = "/api/v1/houses/{id}/advice", params(("id" = i64, Path, description = "the house"), CrewQuery),
    responses((status = 200, body = AdviceRead), Refused))]
pub async fn advice(of: OfHouse, Query(query): Query<CrewQuery>) -> Result<axum::Json<AdviceRead>, ApiError> {
    let crew = query.crew()?;
    let revised =
        move |known: &Known| Ok(AdviceRead { revision: known.house().revision, advice: order(known, &crew)? });
    of.json(revised).await
}

/// Everything that whoever traces is shown, in one read.
#[derive(Debug, Serialize, ToSchema)]
pub struct TracingRead {
    /// The house's revision this is of.
    pub revision: u64,
    /// How far the work is.
    pub progress: Progress,
    /// What to look at next; nothing where no step is under way.
    pub guide: Option<Guide>,
    /// What to do when the step is over, and in words.
    pub advice: Order,
}

/// What to look at next in the step under way, with the check for a surprising answer; and what to do after it.
#[utoipa::path(get, path = "/api/v1/houses/{id}/tracing", params(("id" = i64, Path, description = "the house"), CrewQuery),
    responses((status = 200, body = TracingRead), Refused))]
pub async fn tracing(of: OfHouse, Query(query): Query<CrewQuery>) -> Result<Response, ApiError> {
    let crew = query.crew()?;
    // Who traces with what, as it is now: what had to stay on until a time may have become free.
    let asked = serde_json::to_string(&crew).map_err(|e| ApiError::Internal(e.to_string()))?;
    of.written(format!("tracing {asked}"), move |known| {
        let (revision, progress) = (known.house().revision, known.beliefs().progress);
        let tracker = known.tracker();
        Ok(TracingRead { revision, progress, guide: tracker.guide(&crew)?, advice: order(known, &crew)? })
    })
    .await
}

/// What ways of tracing would come to from here on, played in this house.
#[utoipa::path(get, path = "/api/v1/houses/{id}/forecast", params(("id" = i64, Path, description = "the house"), CrewQuery, ForecastQuery),
    responses((status = 200, body = Vec<Forecast>), Refused))]
pub async fn forecast(
    of: OfHouse,
    Query(query): Query<CrewQuery>,
    Query(which): Query<ForecastQuery>,
) -> Result<axum::Json<Vec<Forecast>>, ApiError> {
    let crew = query.crew()?;
    let methods = if which.all == Some(true) { Method::ALL.to_vec() } else { vec![crew.method] };
    of.work(move |hub, id| hub.forecast(id, &crew, &methods)).await.map(axum::Json)
}

/// What each cheap help that the crew does not have would save from here on, the most first; played in this house.
#[utoipa::path(get, path = "/api/v1/houses/{id}/helps", params(("id" = i64, Path, description = "the house"), CrewQuery),
    responses((status = 200, body = Vec<Saving>), Refused))]
pub async fn helps(of: OfHouse, Query(query): Query<CrewQuery>) -> Result<axum::Json<Vec<Saving>>, ApiError> {
    let crew = query.crew()?;
    of.work(move |hub, id| hub.helps(id, &crew)).await.map(axum::Json)
}

/// Which ways.
#[derive(Debug, Deserialize, IntoParams)]
#[into_params(parameter_in = Query)]
pub struct ForecastQuery {
    /// All ways; otherwise the crew's own.
    all: Option<bool>,
}

/// Points whose observations disagree, and what would explain it.
#[utoipa::path(get, path = "/api/v1/houses/{id}/doubts", params(("id" = i64, Path, description = "the house")),
    responses((status = 200, body = Vec<Doubt>), Refused))]
pub async fn doubts(of: OfHouse) -> Result<axum::Json<Vec<Doubt>>, ApiError> {
    of.json(|known| Ok(known.tracker().doubts())).await
}

/// The run that the path names.
#[derive(Debug, Deserialize)]
pub struct OfRun {
    run: u64,
}

/// A run summed up.
#[utoipa::path(get, path = "/api/v1/houses/{id}/runs/{run}/report",
    params(("id" = i64, Path, description = "the house"), ("run" = u64, Path, description = "the run")),
    responses((status = 200, body = Report), Refused))]
pub async fn report(of: OfHouse, Path(at): Path<OfRun>) -> Result<axum::Json<Report>, ApiError> {
    let sum_up = move |known: &Known| {
        let run = known.house().runs.get(RunId(at.run)).ok_or(ApiError::NoSuchResource)?;
        Ok(trace::report(known.house(), known.beliefs(), run))
    };
    of.json(sum_up).await
}

/// Where everything stands in a panel, for drawing it.
#[utoipa::path(get, path = "/api/v1/houses/{id}/panels/{panel}/face",
    params(("id" = i64, Path, description = "the house"), ("panel" = u64, Path, description = "the panel")),
    responses((status = 200, body = Face), Refused))]
pub async fn face(of: OfHouse, Path(at): Path<OfPanel>) -> Result<Response, ApiError> {
    of.written(format!("face {}", at.panel), move |known| {
        Ok(face::face(known.house(), known.beliefs(), at.panel(known)?))
    })
    .await
}

/// What must not be: every rule, how grave it is, where it stands, what cures it.
#[utoipa::path(get, path = "/api/v1/rules", responses((status = 200, body = [Listed]), Refused))]
pub async fn rules() -> axum::Json<Vec<Listed>> {
    axum::Json(rules::list())
}

/// What rooms usually hold, and what people forget.
#[utoipa::path(get, path = "/api/v1/catalog", responses((status = 200, body = Catalog), Refused))]
pub async fn catalog() -> axum::Json<Catalog> {
    axum::Json(catalog::catalog())
}
