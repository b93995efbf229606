//! Letting phones in: where they get in, with a picture for their camera, and the authority that they may trust.

use std::net::{IpAddr, SocketAddr};
use std::sync::Arc;

use axum::extract::{ConnectInfo, State};
use axum::http::header::{CONTENT_DISPOSITION, CONTENT_TYPE};
use axum::response::{IntoResponse, Response};
use qrcode::render::svg;
use qrcode::{EcLevel, QrCode};
use serde::{Deserialize, Serialize};
use utoipa::ToSchema;
use utoipa_axum::router::OpenApiRouter;
use utoipa_axum::routes;

use super::extract::Json;
use crate::error::{ApiError, Refused, RefusedBody};
use crate::gate::is_here;
use crate::hub::Hub;

/// Its resources.
pub fn routes() -> OpenApiRouter<Arc<Hub>> {
    OpenApiRouter::new().routes(routes!(show, open)).routes(routes!(authority))
}

/// How phones get in.
#[derive(Debug, Serialize, ToSchema)]
pub struct DoorView {
    /// By HTTP: at once. None where only this computer is listened to.
    pub plain: Vec<WayIn>,
    /// By HTTPS: for a phone that trusts the authority of this house.
    pub secure: Vec<WayIn>,
    /// The port of HTTPS, where it is served.
    pub secure_port: Option<u16>,
}

/// An address to open on a phone.
#[derive(Debug, Serialize, ToSchema)]
pub struct WayIn {
    /// As it is typed.
    pub address: String,
    /// The same for a phone's camera, with the join code, as an SVG; shown only on the computer itself.
    pub picture: Option<String>,
}

/// What is to be opened.
#[derive(Debug, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct OpenDoor {
    /// By HTTPS as well.
    #[serde(default)]
    pub secure: bool,
}

/// How phones get in.
#[utoipa::path(get, path = "/api/v1/door", responses((status = 200, body = DoorView), Refused))]
pub async fn show(
    State(hub): State<Arc<Hub>>,
    ConnectInfo(peer): ConnectInfo<SocketAddr>,
) -> Result<axum::Json<DoorView>, ApiError> {
    Ok(axum::Json(view(&hub, is_here(peer))?))
}

/// Lets phones in; only the computer itself may.
#[utoipa::path(post, path = "/api/v1/door", request_body = OpenDoor,
    responses((status = 200, body = DoorView), RefusedBody))]
pub async fn open(
    State(hub): State<Arc<Hub>>,
    ConnectInfo(peer): ConnectInfo<SocketAddr>,
    Json(wanted): Json<OpenDoor>,
) -> Result<axum::Json<DoorView>, ApiError> {
    if !is_here(peer) {
        return Err(ApiError::NotHere);
    }
    let cannot = |e: anyhow::Error| ApiError::Internal(format!("{e:#}"));
    hub.door.open_plain().map_err(cannot)?;
    if wanted.secure {
        hub.door.open_secure().await.map_err(cannot)?;
    }
    Ok(axum::Json(view(&hub, true)?))
}

/// The certificate of this house's authority, for a phone to trust.
#[utoipa::path(get, path = "/authority.crt", responses(
    (status = 200, description = "PEM", body = String, content_type = "application/x-x509-ca-cert"), Refused))]
pub async fn authority(State(hub): State<Arc<Hub>>) -> Result<Response, ApiError> {
    let pem = hub.door.authority().ok_or(ApiError::NoSuchResource)?;
    let headers = [
        (CONTENT_TYPE, "application/x-x509-ca-cert"),
        (CONTENT_DISPOSITION, "attachment; filename=\"wayfinder-authority.crt\""),
    ];
    Ok((headers, pem).into_response())
}

fn view(hub: &Hub, here: bool) -> Result<DoorView, ApiError> {
    let ways = hub.door.ways();
    let way = |scheme: &'static str, code: Option<&str>| {
        let code = code.map(ToOwned::to_owned);
        move |address: SocketAddr| {
            let typed = format!("{scheme}://{}", bare(address));
            let picture = code.as_ref().map(|code| picture(&format!("{typed}/join#code={code}"))).transpose()?;
            Ok::<_, ApiError>(WayIn { address: typed, picture })
        }
    };
    let code = here.then_some(hub.gate.join.0.as_str());
    Ok(DoorView {
        plain: ways.plain.into_iter().map(way("http", code)).collect::<Result<_, _>>()?,
        secure: ways.secure.into_iter().map(way("https", code)).collect::<Result<_, _>>()?,
        secure_port: hub.door.secure_port(),
    })
}

/// An address as it is typed: an IPv6 one in brackets.
fn bare(address: SocketAddr) -> String {
    match address.ip() {
        IpAddr::V4(ip) => format!("{ip}:{}", address.port()),
        IpAddr::V6(ip) => format!("[{ip}]:{}", address.port()),
    }
}

/// Pixels of a side, at least: a camera reads it from an arm's length.
const SIDE: u32 = 220;

/// A QR code (ISO/IEC 18004) in black on white, whatever the screen's colours: cameras want it so.
fn picture(text: &str) -> Result<String, ApiError> {
    let code = QrCode::with_error_correction_level(text, EcLevel::M).map_err(|e| ApiError::Internal(e.to_string()))?;
    Ok(code.render::<svg::Color<'_>>().min_dimensions(SIDE, SIDE).build())
}
