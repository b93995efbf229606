//! The plan of a floor, for the screen and for print; lengths as people type them; pictures.

use std::sync::Arc;

use axum::body::Bytes;
use axum::extract::DefaultBodyLimit;
use axum::http::header::{CACHE_CONTROL, CONTENT_TYPE};
use axum::http::{HeaderMap, StatusCode};
use axum::response::{IntoResponse, Response};
use jiff::{Timestamp, Zoned};
use serde::{Deserialize, Serialize};
use utoipa::{IntoParams, ToSchema};
use utoipa_axum::router::OpenApiRouter;
use utoipa_axum::routes;
use wayfinder_core::base::units::Inches;
use wayfinder_core::house::{BreakerId, CircuitId, PanelId, Picture, PictureId, PictureOf, PointId, Spot};
use wayfinder_core::view::floor::{self as floors, PlanView};
use wayfinder_core::words::length;
use wayfinder_core::{Change, Invalid};
use wayfinder_formats::draw::Print;
use wayfinder_formats::plan::Scale;
use wayfinder_formats::{picture, plan as plan_drawing};
use wayfinder_store::{Author, PictureBytes};

use super::extract::{OfFile, OfHouse, Path, Query, printed};
use crate::error::{ApiError, Refused, RefusedBody};
use crate::hub::Hub;

/// A little above the limit for pictures, so that its own message is what is read.
const MAX_PICTURE: usize = wayfinder_formats::picture::MOST_BYTES + (1 << 20);

/// Its resources.
pub fn routes() -> OpenApiRouter<Arc<Hub>> {
    OpenApiRouter::new().routes(routes!(plan)).routes(routes!(drawing)).routes(routes!(length)).merge(pictures())
}

/// Pictures come as whole files, so their body may be larger.
fn pictures() -> OpenApiRouter<Arc<Hub>> {
    let bound = DefaultBodyLimit::max(MAX_PICTURE);
    OpenApiRouter::new().routes(routes!(add_picture)).routes(routes!(show_picture)).layer(bound)
}

/// A floor's plan with everything at its place.
#[utoipa::path(get, path = "/api/v1/houses/{id}/plans/{floor}",
    params(("id" = i64, Path, description = "the house"), ("floor" = String, Path, description = "the floor")),
    responses((status = 200, body = PlanView), Refused))]
pub async fn plan(of: OfHouse, Path(at): Path<OfFloor>) -> Result<axum::Json<PlanView>, ApiError> {
    of.json(move |known| Ok(floors::view(known.house(), known.beliefs(), &at.floor))).await
}

/// The floor that the path names.
#[derive(Debug, Deserialize)]
pub struct OfFloor {
    floor: String,
}

/// How large the plan is printed.
#[derive(Debug, Deserialize, IntoParams)]
#[into_params(parameter_in = Query)]
pub struct ScaleQuery {
    /// `1/4in` (1:48), `1:50` or `fit` (a letter sheet).
    scale: Option<String>,
}

/// The plan at true scale: `plan.svg`, `plan.pdf` or `plan.png`.
#[utoipa::path(get, path = "/api/v1/houses/{id}/plans/{floor}/{file}",
    params(("id" = i64, Path, description = "the house"), ("floor" = String, Path, description = "the floor"),
           ("file" = String, Path, description = "plan.svg, plan.pdf or plan.png"), ScaleQuery),
    responses((status = 200, description = "the drawing", body = String, content_type = "image/svg+xml"), Refused))]
pub async fn drawing(
    of: OfHouse,
    Path(at): Path<OfFloor>,
    Path(OfFile { file }): Path<OfFile>,
    Query(query): Query<ScaleQuery>,
) -> Result<Response, ApiError> {
    let scale: Scale = query.scale.as_deref().unwrap_or("fit").parse().map_err(|e| Invalid::new("scale", e))?;
    let date = Zoned::now().date();
    of.read(move |known| {
        let house = known.house();
        let view = floors::view(house, known.beliefs(), &at.floor);
        let svg = plan_drawing::svg(&view, &house.about.name, house.about.lengths, scale, Some(date));
        let svg = svg.map_err(|e| Invalid::new("floor", e.to_string()))?;
        match file.as_str() {
            "plan.svg" | "plan.pdf" | "plan.png" => printed(&file, &Print::single(format!("Floor {}", at.floor), svg)),
            _ => Err(ApiError::NoSuchResource),
        }
    })
    .await
}

/// A length or a place as it was typed.
#[derive(Debug, Deserialize, IntoParams)]
#[into_params(parameter_in = Query)]
pub struct LengthQuery {
    /// `12'6"`, `3.2 m`; or with `place`: `north 3'6"`.
    text: String,
    /// A place in a room rather than a length.
    place: Option<bool>,
}

/// What it means.
#[derive(Debug, Serialize, ToSchema)]
pub struct LengthRead {
    /// The length.
    pub inches: Option<Inches>,
    /// The place.
    pub spot: Option<Spot>,
    /// As it is written in the house's units.
    pub text: String,
}

/// Reads a length or a place as people type it. Changes nothing.
#[utoipa::path(get, path = "/api/v1/houses/{id}/length",
    params(("id" = i64, Path, description = "the house"), LengthQuery),
    responses((status = 200, body = LengthRead), Refused))]
pub async fn length(of: OfHouse, Query(query): Query<LengthQuery>) -> Result<axum::Json<LengthRead>, ApiError> {
    of.json(move |known| {
        let lengths = known.house().about.lengths;
        Ok(if query.place == Some(true) {
            let spot = length::read_spot(&query.text, lengths)?;
            LengthRead { inches: None, spot: Some(spot), text: length::write_spot(spot, lengths) }
        } else {
            let inches = length::read(&query.text, lengths)?;
            LengthRead { inches: Some(inches), spot: None, text: length::write(inches, lengths) }
        })
    })
    .await
}

/// What a picture shows, and who adds it.
#[derive(Debug, Deserialize, IntoParams)]
#[into_params(parameter_in = Query)]
pub struct PictureQuery {
    /// `panel`, `breaker`, `circuit`, `point` or `floor`.
    of: String,
    /// The thing's id, or the floor.
    which: String,
    /// The new picture's id.
    new: u64,
    /// Who adds it.
    author: String,
    /// What there is to see.
    caption: Option<String>,
}

impl PictureQuery {
    fn shows(&self) -> Result<PictureOf, Invalid> {
        let id = || self.which.parse::<u64>().map_err(|_| Invalid::new("which", "the id of the thing it shows"));
        Ok(match self.of.as_str() {
            "panel" => PictureOf::Panel { panel: PanelId(id()?) },
            "breaker" => PictureOf::Breaker { breaker: BreakerId(id()?) },
            "circuit" => PictureOf::Circuit { circuit: CircuitId(id()?) },
            "point" => PictureOf::Point { point: PointId(id()?) },
            "floor" => PictureOf::Floor { floor: self.which.clone() },
            _ => return Err(Invalid::new("of", "panel, breaker, circuit, point or floor")),
        })
    }
}

/// A picture that was added.
#[derive(Debug, Serialize, ToSchema)]
pub struct PictureAdded {
    /// The revision it made.
    pub revision: u64,
    /// The picture.
    pub picture: Picture,
}

/// Adds a picture: the file itself as the body (JPEG, PNG, WebP or SVG, at most 12 MB). It is written anew without
/// anything but its pixels.
#[utoipa::path(post, path = "/api/v1/houses/{id}/pictures",
    params(("id" = i64, Path, description = "the house"), PictureQuery),
    request_body(content = Vec<u8>, content_type = "application/octet-stream"),
    responses((status = 201, body = PictureAdded), RefusedBody))]
pub async fn add_picture(
    of: OfHouse,
    Query(query): Query<PictureQuery>,
    headers: HeaderMap,
    body: Bytes,
) -> Result<Response, ApiError> {
    is_picture(&headers)?;
    let unusable = |e: picture::BadPicture| Invalid::new("file", e.to_string());
    let body =
        if picture::is_drawing(&body) { of.hub.drawer.draw(&body).await.map_err(unusable)?.into() } else { body };
    let added = of
        .work(move |hub, id| {
            let of = query.shows()?;
            hub.house(id)?;
            let ready = picture::prepare(&body).map_err(unusable)?;
            let bytes = PictureBytes { kind: ready.kind.to_owned(), bytes: ready.bytes };
            let digest = hub.store.keep_picture(&bytes)?;
            let time = Timestamp::now();
            let (width, height) = (ready.width, ready.height);
            let caption = query.caption.unwrap_or_default();
            let who = query.author;
            let new = Picture { id: PictureId(query.new), of, time, who: who.clone(), caption, width, height, digest };
            let change = Change::PutPicture { picture: new.clone() };
            let done = hub.commit(id, None, &change, &Author { name: who, time, key: None })?;
            Ok(PictureAdded { revision: done.revision, picture: new })
        })
        .await?;
    Ok((StatusCode::CREATED, axum::Json(added)).into_response())
}

/// Kinds that a picture's file may be sent as. None is one that a page elsewhere may send without asking.
const SENT_AS: [&str; 5] = ["application/octet-stream", "image/jpeg", "image/png", "image/svg+xml", "image/webp"];

fn is_picture(headers: &HeaderMap) -> Result<(), ApiError> {
    let kind = headers.get(CONTENT_TYPE).and_then(|v| v.to_str().ok()).unwrap_or_default();
    let plain = kind.split(';').next().unwrap_or_default().trim().to_ascii_lowercase();
    if SENT_AS.contains(&plain.as_str()) { Ok(()) } else { Err(ApiError::WrongContentType(SENT_AS.join(", "))) }
}

/// The picture that the path names.
#[derive(Debug, Deserialize)]
pub struct OfPicture {
    picture: u64,
}

/// A picture's file.
#[utoipa::path(get, path = "/api/v1/houses/{id}/pictures/{picture}",
    params(("id" = i64, Path, description = "the house"), ("picture" = u64, Path, description = "the picture")),
    responses((status = 200, description = "the picture", body = Vec<u8>, content_type = "image/jpeg"), Refused))]
pub async fn show_picture(of: OfHouse, Path(at): Path<OfPicture>) -> Result<Response, ApiError> {
    let found = of
        .work(move |hub, id| {
            let house = hub.house(id)?;
            let digest = house.pictures.get(PictureId(at.picture)).map(|p| p.digest.clone());
            let bytes = digest.map(|d| hub.store.picture(&d)).transpose()?.flatten();
            bytes.ok_or(ApiError::NoSuchResource)
        })
        .await?;
    // A picture's bytes never change under its id but by a change of the house; they are private all the same.
    Ok(([(CONTENT_TYPE, found.kind), (CACHE_CONTROL, "private, max-age=3600".to_owned())], found.bytes).into_response())
}
