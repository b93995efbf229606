//! Houses that come from elsewhere: the demo, a house file, the files of a survey.

use std::collections::BTreeMap;
use std::sync::Arc;

use axum::extract::State;
use axum::http::StatusCode;
use axum::response::{IntoResponse, Response};
use jiff::Timestamp;
use serde::{Deserialize, Serialize};
use utoipa::ToSchema;
use utoipa_axum::router::OpenApiRouter;
use utoipa_axum::routes;
use wayfinder_core::house::{About, EnergyRecord, Picture};
use wayfinder_core::{House, Invalid};
use wayfinder_formats::house_file;
use wayfinder_formats::survey::{self, BadRows, Survey};
use wayfinder_store::HouseId;

use super::extract::{Json, work};
use super::houses::MadeHouse;
use crate::demo;
use crate::error::{ApiError, Refused, RefusedBody};
use crate::hub::Hub;

pub fn routes() -> OpenApiRouter<Arc<Hub>> {
    OpenApiRouter::new().routes(routes!(bring)).routes(routes!(add_demo))
}

/// A file as it was chosen.
#[derive(Debug, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct BroughtFile {
    /// Its name, with or without the folder that it was in.
    pub name: String,
    /// What is in it.
    pub text: String,
}

/// A house from files.
#[derive(Debug, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct BringHouse {
    /// What it is to be called; nothing for the name that the files give.
    #[serde(default)]
    pub name: Option<String>,
    /// One house file, or the files of a survey.
    pub files: Vec<BroughtFile>,
}

/// A house that was brought.
#[derive(Debug, Serialize, ToSchema)]
pub struct BroughtHouse {
    /// Its id.
    pub id: HouseId,
    /// Files that are no part of a survey, and what else there is to say.
    pub notes: Vec<String>,
}

/// Makes a house of a house file or of a survey's files: all or nothing.
#[utoipa::path(post, path = "/api/v1/houses/bring", request_body = BringHouse,
    responses((status = 201, body = BroughtHouse), RefusedBody))]
pub async fn bring(State(hub): State<Arc<Hub>>, Json(brought): Json<BringHouse>) -> Result<Response, ApiError> {
    let made = work(hub, move |hub| {
        let (mut house, mut notes) = read(&brought.files)?;
        leave_out_what_is_not_here(hub, &mut house, &mut notes)?;
        let name = brought.name.as_deref().map(str::trim).filter(|name| !name.is_empty());
        if let Some(name) = name {
            house.about = About { name: name.to_owned(), ..house.about };
            house.check()?;
        }
        house.revision = 0;
        Ok(BroughtHouse { id: hub.add_house(&house)?, notes })
    })
    .await?;
    Ok((StatusCode::CREATED, axum::Json(made)).into_response())
}

fn read(files: &[BroughtFile]) -> Result<(House, Vec<String>), ApiError> {
    let refuse = |message: String| ApiError::Invalid(Invalid::new("files", message));
    // A folder's files come with its name before them.
    let base = |file: &BroughtFile| file.name.rsplit(['/', '\\']).next().unwrap_or_default().to_owned();
    let houses: Vec<&BroughtFile> = files.iter().filter(|f| base(f).to_lowercase().ends_with(".json")).collect();
    match (houses.as_slice(), files) {
        ([one], [_]) => {
            let house = house_file::read(&one.text).map_err(|e| refuse(format!("{}: {e}", base(one))))?;
            return Ok((house, Vec::new()));
        }
        ([], _) => {}
        _ => return Err(refuse("one house file at a time, by itself; or the files of one survey".into())),
    }
    let texts: BTreeMap<String, &str> = files.iter().map(|f| (base(f).to_lowercase(), f.text.as_str())).collect();
    let known: Vec<&str> = survey::files().collect();
    let strange = texts.keys().filter(|name| !known.contains(&name.as_str()));
    let mut notes: Vec<String> =
        strange.map(|name| format!("{name}: this file is not known and was not read")).collect();
    if notes.len() == texts.len() {
        let names = known.join(", ");
        return Err(refuse(format!("none of these is a house file (.wayfinder.json) or a file of a survey: {names}")));
    }
    let survey = Survey::from_files(|name| texts.get(name).copied());
    let taken = survey::import("House", &survey, Timestamp::now(), BadRows::Refuse).map_err(|faults| {
        let told: Vec<String> = faults.iter().take(MOST_FAULTS).map(ToString::to_string).collect();
        let more = faults.len().saturating_sub(MOST_FAULTS);
        refuse(format!("{}{}", told.join("; "), if more > 0 { format!("; and {more} more") } else { String::new() }))
    })?;
    notes.extend(taken.notes);
    Ok((taken.house, notes))
}

/// A house file names its pictures and its energy records by their digests; their bytes may be in another database.
fn leave_out_what_is_not_here(hub: &Hub, house: &mut House, notes: &mut Vec<String>) -> Result<(), ApiError> {
    let pictures: Vec<Picture> = house.pictures.iter().cloned().collect();
    for picture in pictures {
        if hub.store.picture(&picture.digest)?.is_none() {
            let under: Vec<_> = house.underlays.iter().filter(|u| u.picture == picture.id).map(|u| u.id).collect();
            under.into_iter().for_each(|id| house.underlays.remove(id));
            house.pictures.remove(picture.id);
            notes.push(format!("a picture is not in the file and was left out: {}", picture.caption));
        }
    }
    let records: Vec<EnergyRecord> = house.energy.iter().cloned().collect();
    for record in records {
        if hub.store.energy(&record.digest)?.is_none() {
            house.energy.remove(record.id);
            notes.push(format!("the numbers of {} are not in the file: read that in again", record.name));
        }
    }
    Ok(())
}

/// So many faults are told at once.
const MOST_FAULTS: usize = 8;

/// Puts the demo house among the houses, as it was at first.
#[utoipa::path(post, path = "/api/v1/houses/demo", responses((status = 201, body = MadeHouse), Refused))]
pub async fn add_demo(State(hub): State<Arc<Hub>>) -> Result<Response, ApiError> {
    let id = work(hub, |hub| demo::add(hub).map_err(|e| ApiError::Internal(e.to_string()))).await?;
    Ok((StatusCode::CREATED, axum::Json(MadeHouse { id })).into_response())
}
