//! Joining: another device gives the code once and is known by a cookie from then on.

use std::net::SocketAddr;
use std::sync::Arc;

use axum::extract::{ConnectInfo, State};
use axum::http::StatusCode;
use axum::http::header::SET_COOKIE;
use axum::response::{IntoResponse, Response};
use jiff::Timestamp;
use serde::{Deserialize, Serialize};
use utoipa::ToSchema;
use utoipa_axum::router::OpenApiRouter;
use utoipa_axum::routes;

use super::extract::{Json, work};
use crate::error::{ApiError, Problem};
use crate::gate::{Refused, is_here, new_token};
use crate::hub::Hub;

/// Its resources.
pub fn routes() -> OpenApiRouter<Arc<Hub>> {
    OpenApiRouter::new().routes(routes!(session, join))
}

/// How this device stands to the program.
#[derive(Debug, Serialize, ToSchema)]
pub struct Session {
    /// The device is the one the program runs on.
    pub here: bool,
    /// The code for other devices; shown only here.
    pub code: Option<String>,
}

/// The join code.
#[derive(Debug, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct Join {
    /// Six digits, shown where the program runs.
    pub code: String,
}

/// How this device stands to the program.
#[utoipa::path(get, path = "/api/v1/session", responses((status = 200, body = Session)))]
pub async fn session(State(hub): State<Arc<Hub>>, ConnectInfo(peer): ConnectInfo<SocketAddr>) -> axum::Json<Session> {
    let here = is_here(peer);
    let code = here.then(|| hub.gate.join.0.clone());
    axum::Json(Session { here, code })
}

/// Gives the join code; the answer sets the cookie.
#[utoipa::path(post, path = "/api/v1/session", request_body = Join, responses((status = 204, description = "joined"),
    (status = 403, body = Problem, content_type = "application/problem+json"),
    (status = 429, body = Problem, content_type = "application/problem+json")))]
pub async fn join(State(hub): State<Arc<Hub>>, Json(join): Json<Join>) -> Result<Response, ApiError> {
    hub.gate.try_code(&join.code).map_err(|refused| match refused {
        Refused::Wrong => ApiError::WrongCode,
        Refused::TooMany => ApiError::TooManyCodes,
    })?;
    let (token, cookie) = new_token().map_err(|e| ApiError::Internal(e.to_string()))?;
    work(hub, move |hub| Ok(hub.store.add_session(&token, Timestamp::now())?)).await?;
    Ok((StatusCode::NO_CONTENT, [(SET_COOKIE, cookie)]).into_response())
}
