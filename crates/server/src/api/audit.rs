//! What is wrong in a house, and what is worth finding out.

use std::sync::Arc;

use axum::Json;
use axum::response::Response;
use jiff::{Timestamp, Zoned};
use serde::Deserialize;
use utoipa::IntoParams;
use utoipa_axum::router::OpenApiRouter;
use utoipa_axum::routes;
use wayfinder_core::audit::{self, Audit, Inspection, KnownHouse};
use wayfinder_formats::findings::{self, Reported};

use super::extract::{OfHouse, Query, attachment, printed};
use crate::error::{ApiError, Refused};
use crate::hub::Hub;
use crate::known::Known;

/// Its resources.
pub fn routes() -> OpenApiRouter<Arc<Hub>> {
    OpenApiRouter::new()
        .routes(routes!(audit))
        .routes(routes!(inspection))
        .routes(routes!(findings_report))
        .routes(routes!(findings_table))
}

/// What is wrong in a house, the gravest first; with what was put off, and what somebody said is not so. What stood when this was read before
/// and stands no more is told in the log.
#[utoipa::path(get, path = "/api/v1/houses/{id}/audit", params(("id" = i64, Path, description = "the house")),
    responses((status = 200, body = Audit), Refused))]
pub async fn audit(of: OfHouse) -> Result<Json<Audit>, ApiError> {
    let read = |hub: &Hub, id| {
        let known = hub.known(id)?;
        let (house, audit) = (known.house(), found(&known));
        let stands = audit::stands(&audit);
        hub.store.note_found(id, house.revision, &stands, |before| audit::no_more(house, before, &stands))?;
        Ok(Json(audit))
    };
    of.work(read).await
}

fn found(known: &Known) -> Audit {
    let (house, beliefs, now) = (known.house(), known.beliefs(), Timestamp::now());
    audit::audit(&KnownHouse { house, beliefs, loaded: known.loaded(), now })
}

/// The same as a report to hand over.
#[utoipa::path(get, path = "/api/v1/houses/{id}/audit.pdf", params(("id" = i64, Path, description = "the house")),
    responses((status = 200, description = "PDF", body = Vec<u8>, content_type = "application/pdf"), Refused))]
pub async fn findings_report(of: OfHouse) -> Result<Response, ApiError> {
    let hub = Arc::clone(&of.hub);
    let drawn = move |known: &Known| {
        let (house, inspection) = (known.house(), audit::inspection(known.house(), true));
        let audit = found(known);
        let picture = |digest: &str| hub.store.picture(digest).ok().flatten().map(|picture| picture.bytes);
        let (beliefs, date) = (known.beliefs(), Some(Zoned::now().date()));
        let of = Reported { house, beliefs, audit: &audit, inspection: &inspection, picture: &picture, date };
        printed("findings.pdf", &findings::report(&of))
    };
    of.read(drawn).await
}

/// The same as a table.
#[utoipa::path(get, path = "/api/v1/houses/{id}/audit.csv", params(("id" = i64, Path, description = "the house")),
    responses((status = 200, description = "CSV", body = String, content_type = "text/csv"), Refused))]
pub async fn findings_table(of: OfHouse) -> Result<Response, ApiError> {
    let written = |known: &Known| findings::csv(&found(known)).map_err(|e| ApiError::Internal(e.to_string()));
    Ok(attachment("text/csv; charset=utf-8", "findings.csv", of.read(written).await?))
}

/// Who is asked.
#[derive(Debug, Deserialize, IntoParams)]
#[into_params(parameter_in = Query)]
pub struct InspectionQuery {
    /// Who looks may take a cover off.
    #[serde(default)]
    qualified: bool,
}

/// What nobody looked at yet, in the order of a walk.
#[utoipa::path(get, path = "/api/v1/houses/{id}/inspection", params(("id" = i64, Path, description = "the house"), InspectionQuery),
    responses((status = 200, body = Inspection), Refused))]
pub async fn inspection(of: OfHouse, Query(query): Query<InspectionQuery>) -> Result<Json<Inspection>, ApiError> {
    of.json(move |known| Ok(audit::inspection(known.house(), query.qualified))).await
}
