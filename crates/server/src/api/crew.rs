//! Who is there in a run, and what the tools say in the demo.

use std::sync::Arc;
use std::time::Instant;

use axum::Json;
use serde::{Deserialize, Serialize};
use utoipa::{IntoParams, ToSchema};
use utoipa_axum::router::OpenApiRouter;
use utoipa_axum::routes;
use wayfinder_core::house::{Observation, PointId};
use wayfinder_core::practice::Tool;

use super::extract::{self, OfHouse, OfPoint, Path, Query};
use crate::error::{ApiError, Refused, RefusedBody};
use crate::hub::Hub;
use crate::present::{Hello, Present};

/// Its resources.
pub fn routes() -> OpenApiRouter<Arc<Hub>> {
    OpenApiRouter::new().routes(routes!(presence)).routes(routes!(stand_ins)).routes(routes!(stand_in))
}

/// Longest name of a device or person.
const LONGEST: usize = 80;

/// Says that a device is there; answers who else is or was.
#[utoipa::path(post, path = "/api/v1/houses/{id}/presence", request_body = Hello,
    params(("id" = i64, Path, description = "the house")),
    responses((status = 200, body = Vec<Present>), RefusedBody))]
pub async fn presence(of: OfHouse, extract::Json(hello): extract::Json<Hello>) -> Result<Json<Vec<Present>>, ApiError> {
    if [&hello.device, &hello.stance, &hello.who].iter().any(|text| text.chars().count() > LONGEST) {
        return Err(wayfinder_core::Invalid::new("device", format!("at most {LONGEST} letters, please")).into());
    }
    of.work(move |hub, id| {
        hub.house(id)?;
        Ok(Json(hub.hello(id, hello, Instant::now())))
    })
    .await
}

/// What to read.
#[derive(Debug, Deserialize, IntoParams)]
#[into_params(parameter_in = Query)]
pub struct ToolQuery {
    /// Which tool.
    #[param(inline)]
    tool: Tool,
    /// The reading's number: the same gives the same answer.
    nth: u64,
}

/// What a tool says; nothing where the house has no stand-ins or the tool cannot be used there.
#[derive(Debug, Serialize, ToSchema)]
pub struct ToolRead {
    /// What it says.
    pub observation: Option<Observation>,
}

/// Whether tools and instruments answer by themselves.
#[derive(Debug, Serialize, ToSchema)]
pub struct StandIns {
    /// They do, from a hidden truth.
    pub there: bool,
}

/// Whether tools and instruments answer by themselves in a house, as they do in the demo.
#[utoipa::path(get, path = "/api/v1/houses/{id}/stand-in",
    params(("id" = i64, Path, description = "the house")),
    responses((status = 200, body = StandIns), Refused))]
pub async fn stand_ins(of: OfHouse) -> Result<Json<StandIns>, ApiError> {
    of.work(move |hub, id| {
        hub.house(id)?;
        Ok(Json(StandIns { there: hub.stand_in(id).is_some() }))
    })
    .await
}

/// What a tool says at a point of the demo house, answered from its hidden truth with a tool's errors.
#[utoipa::path(get, path = "/api/v1/houses/{id}/stand-in/{point}",
    params(("id" = i64, Path, description = "the house"), ("point" = u64, Path, description = "the point"), ToolQuery),
    responses((status = 200, body = ToolRead), Refused))]
pub async fn stand_in(
    of: OfHouse,
    Path(at): Path<OfPoint>,
    Query(query): Query<ToolQuery>,
) -> Result<Json<ToolRead>, ApiError> {
    of.work(move |hub, id| {
        let house = hub.house(id)?;
        let stand_in = hub.stand_in(id);
        let observation = stand_in.and_then(|s| s.read(&house, PointId(at.point), query.tool, query.nth));
        Ok(Json(ToolRead { observation }))
    })
    .await
}
