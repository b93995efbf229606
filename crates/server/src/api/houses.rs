//! Houses: the list, the document, changes, undo.

use std::sync::Arc;

use axum::extract::State;
use axum::http::header::{CONTENT_DISPOSITION, CONTENT_TYPE, ETAG, IF_MATCH, IF_NONE_MATCH};
use axum::http::{HeaderMap, StatusCode};
use axum::response::{IntoResponse, Response};
use jiff::Timestamp;
use serde::{Deserialize, Serialize};
use utoipa::ToSchema;
use utoipa_axum::router::OpenApiRouter;
use utoipa_axum::routes;
use wayfinder_core::answers::upkeep::Glance;
use wayfinder_core::change::{Cost, cost};
use wayfinder_core::edit::question;
use wayfinder_core::house::{Panel, PanelId, RunId};
use wayfinder_core::job::work::{self, JobNow};
use wayfinder_core::{Change, House, Invalid};
use wayfinder_formats::house_file;
use wayfinder_store::{Author, HouseId, Shelf};

use super::extract::{Json, OfHouse, attachment, work};
use crate::error::{ApiError, Refused, RefusedBody};
use crate::hub::Hub;
use crate::known::Known;

/// Its resources.
pub fn routes() -> OpenApiRouter<Arc<Hub>> {
    OpenApiRouter::new()
        .routes(routes!(list, create))
        .routes(routes!(document))
        .routes(routes!(change))
        .routes(routes!(undo))
        .routes(routes!(export))
        .routes(routes!(backup))
        .routes(routes!(duplicate))
        .routes(routes!(shelf))
}

/// A house in the list.
#[derive(Debug, Serialize, ToSchema)]
pub struct HouseItem {
    /// Its id.
    pub id: HouseId,
    /// Its name.
    pub name: String,
    /// Its revision.
    pub revision: u64,
    /// How many panels it has.
    pub panels: u64,
    /// How many points it has.
    pub points: u64,
    /// Where it is kept.
    pub shelf: ShelfWord,
    /// What it needs; nothing for a house that is put away.
    pub glance: Option<Glance>,
}

/// Where a house is kept.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
#[serde(rename_all = "kebab-case")]
pub enum ShelfWord {
    /// In use.
    Active,
    /// Put away.
    Archived,
    /// Thrown away; erased after thirty days.
    Deleted,
}

impl From<Shelf> for ShelfWord {
    fn from(shelf: Shelf) -> Self {
        match shelf {
            Shelf::Active => Self::Active,
            Shelf::Archived => Self::Archived,
            Shelf::Deleted => Self::Deleted,
        }
    }
}

impl From<ShelfWord> for Shelf {
    fn from(word: ShelfWord) -> Self {
        match word {
            ShelfWord::Active => Self::Active,
            ShelfWord::Archived => Self::Archived,
            ShelfWord::Deleted => Self::Deleted,
        }
    }
}

/// Where a house shall be kept.
#[derive(Debug, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct ShelfRequest {
    /// Where.
    pub shelf: ShelfWord,
}

/// A house to be made.
#[derive(Debug, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct NewHouse {
    /// Its name.
    pub name: String,
    /// Its first panel. Where that cannot be, no house is made.
    #[serde(default)]
    pub panel: Option<Panel>,
    /// What would be asked about the panel was entered once more.
    #[serde(default)]
    pub sure: bool,
}

/// A house that was made.
#[derive(Debug, Serialize, ToSchema)]
pub struct MadeHouse {
    /// Its id.
    pub id: HouseId,
}

/// A change to be made.
#[derive(Debug, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct ChangeRequest {
    /// The revision it was made on; nothing for the newest. The header `If-Match` may say so as well.
    #[serde(default)]
    pub base: Option<u64>,
    /// Who makes it.
    pub author: String,
    /// The change.
    pub change: Change,
    /// Refuse it where observations would be gone, and say which cost it would have; and where a panel's numbers are more
    /// likely a slip than so.
    #[serde(default)]
    pub careful: bool,
}

/// A change to be taken back.
#[derive(Debug, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct UndoRequest {
    /// Who takes it back.
    pub author: String,
    /// The revision to take back; nothing, here and below, for this author's newest.
    #[serde(default)]
    pub revision: Option<u64>,
    /// Several to take back as one change.
    #[serde(default)]
    pub revisions: Vec<u64>,
}

/// A change that was made.
#[derive(Debug, Serialize, ToSchema)]
pub struct ChangeDone {
    /// The revision it made.
    pub revision: u64,
    /// The same request had been done before; this repeats its answer.
    pub repeated: bool,
    /// What a careful change took away from the map.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub cost: Option<Cost>,
}

/// Longest author or key: more is no name.
const MAX_NAME: usize = 80;

/// All houses.
#[utoipa::path(get, path = "/api/v1/houses", responses((status = 200, body = Vec<HouseItem>), Refused))]
pub async fn list(State(hub): State<Arc<Hub>>) -> Result<axum::Json<Vec<HouseItem>>, ApiError> {
    work(hub, |hub| {
        let item = |h: wayfinder_store::HouseSummary| {
            let glance = if h.shelf == Shelf::Active { Some(hub.glance(h.id)?) } else { None };
            Ok(HouseItem {
                id: h.id,
                name: h.name,
                revision: h.revision,
                panels: h.panels,
                points: h.points,
                shelf: h.shelf.into(),
                glance,
            })
        };
        Ok(axum::Json(hub.store.houses()?.into_iter().map(item).collect::<Result<_, ApiError>>()?))
    })
    .await
}

/// Makes a copy of a house under another name, without its history.
#[utoipa::path(post, path = "/api/v1/houses/{id}/duplicate", params(("id" = i64, Path, description = "the house")),
    request_body = NewHouse, responses((status = 201, body = MadeHouse), RefusedBody))]
pub async fn duplicate(of: OfHouse, Json(new): Json<NewHouse>) -> Result<Response, ApiError> {
    let id = of
        .work(move |hub, id| {
            let mut copy = House::clone(&*hub.house(id)?);
            copy.about.name = new.name.trim().to_owned();
            copy.revision = 0;
            Ok(hub.add_house(&copy)?)
        })
        .await?;
    Ok((StatusCode::CREATED, axum::Json(MadeHouse { id })).into_response())
}

/// Puts a house away, throws it away, or takes it back.
#[utoipa::path(put, path = "/api/v1/houses/{id}/shelf", params(("id" = i64, Path, description = "the house")),
    request_body = ShelfRequest, responses((status = 204, description = "done"), RefusedBody))]
pub async fn shelf(of: OfHouse, Json(request): Json<ShelfRequest>) -> Result<StatusCode, ApiError> {
    of.work(move |hub, id| Ok(hub.store.put_on_shelf(id, request.shelf.into(), Timestamp::now())?)).await?;
    Ok(StatusCode::NO_CONTENT)
}

/// Makes a house, with its first panel if that is given: all or nothing.
#[utoipa::path(post, path = "/api/v1/houses",
    params(("Idempotency-Key" = Option<String>, Header, description = "the same key twice makes the house once")),
    request_body = NewHouse, responses((status = 201, body = MadeHouse), RefusedBody))]
pub async fn create(
    State(hub): State<Arc<Hub>>,
    headers: HeaderMap,
    Json(new): Json<NewHouse>,
) -> Result<Response, ApiError> {
    let key = key(&headers)?;
    let asked = serde_json::to_string(&new).map_err(|e| ApiError::Internal(e.to_string()))?;
    let id = work(hub, move |hub| {
        let empty = House::new(new.name.trim());
        empty.check()?;
        let house = match new.panel {
            // A house begins here: what it begins with is no change of it.
            Some(panel) => House { revision: 0, ..empty.apply(&Change::PutPanel { panel })?.house },
            None => empty.clone(),
        };
        if let Some(asked) = question(&empty, &house).filter(|_| !new.sure) {
            return Err(asked.into());
        }
        Ok(match key {
            Some(key) => hub.store.add_house_once(&house, &key, &asked)?,
            None => hub.add_house(&house)?,
        })
    })
    .await?;
    Ok((StatusCode::CREATED, axum::Json(MadeHouse { id })).into_response())
}

/// A house as it stands, with what every page takes from it.
#[derive(Debug, Serialize, ToSchema)]
pub struct ShownHouse {
    /// The house.
    #[serde(flatten)]
    house: House,
    /// Its panels, those with a main breaker first.
    panel_order: Vec<PanelId>,
    /// The run that goes on.
    run_now: Option<RunId>,
    /// Work under way in its panels, or left.
    work_now: Vec<JobNow>,
}

impl ShownHouse {
    fn new(house: &House) -> Self {
        Self {
            panel_order: house.panels_in_order().iter().map(|p| p.id).collect(),
            run_now: house.run().map(|r| r.id),
            work_now: work::open(house),
            // Pages read jobs one at a time: they have all their steps with them.
            house: House { jobs: Default::default(), ..house.clone() },
        }
    }
}

/// A house as it stands; its `ETag` begins with its revision.
#[utoipa::path(get, path = "/api/v1/houses/{id}", params(("id" = i64, Path, description = "the house")),
    responses((status = 200, body = ShownHouse), (status = 304, description = "not changed"), Refused))]
pub async fn document(of: OfHouse, headers: HeaderMap) -> Result<Response, ApiError> {
    let (tag, text) = of
        .read(|known| {
            let text = known.written("document".into(), |known| Ok(ShownHouse::new(known.house())))?;
            Ok((known.tag(&text).to_owned(), text))
        })
        .await?;
    if headers.get(IF_NONE_MATCH).is_some_and(|known| known.as_bytes() == tag.as_bytes()) {
        return Ok((StatusCode::NOT_MODIFIED, [(ETAG, tag)]).into_response());
    }
    Ok(([(ETAG, tag), (CONTENT_TYPE, "application/json".into())], text).into_response())
}

/// Makes a change. With a base revision, changes of others to the same things since then are a conflict; changes to
/// other things are not. The same `Idempotency-Key` twice makes the change once.
#[utoipa::path(post, path = "/api/v1/houses/{id}/changes", params(("id" = i64, Path, description = "the house"),
    ("Idempotency-Key" = Option<String>, Header, description = "the same key twice is the same change once")),
    request_body = ChangeRequest, responses((status = 200, body = ChangeDone), RefusedBody))]
pub async fn change(
    of: OfHouse,
    headers: HeaderMap,
    Json(request): Json<ChangeRequest>,
) -> Result<axum::Json<ChangeDone>, ApiError> {
    let author = author(request.author, &headers)?;
    let base = request.base.or(if_match(&headers)?);
    of.work(move |hub, id| {
        let mut told = None;
        let done = hub.commit_if(id, base, &request.change, &author, |before, after| {
            if !request.careful {
                return Ok(());
            }
            if let Some(asked) = question(before, after) {
                return Err(ApiError::from(asked));
            }
            let cost = told.insert(cost(before, after));
            if cost.observations > 0 { Err(ApiError::WouldLose(cost.clone())) } else { Ok(()) }
        })?;
        let cost = told;
        Ok(axum::Json(ChangeDone { revision: done.revision, repeated: done.repeated, cost }))
    })
    .await
}

/// Takes a change back.
#[utoipa::path(post, path = "/api/v1/houses/{id}/undo", params(("id" = i64, Path, description = "the house"),
    ("Idempotency-Key" = Option<String>, Header, description = "the same key twice is the same undo once")),
    request_body = UndoRequest, responses((status = 200, body = ChangeDone), RefusedBody))]
pub async fn undo(
    of: OfHouse,
    headers: HeaderMap,
    Json(request): Json<UndoRequest>,
) -> Result<axum::Json<ChangeDone>, ApiError> {
    let author = author(request.author, &headers)?;
    let which: Vec<u64> = request.revisions.into_iter().chain(request.revision).collect();
    let done = of.work(move |hub, id| Ok(hub.undo(id, &which, &author)?)).await?;
    Ok(axum::Json(ChangeDone { revision: done.revision, repeated: done.repeated, cost: None }))
}

/// The house file.
#[utoipa::path(get, path = "/api/v1/houses/{id}/export.json", params(("id" = i64, Path, description = "the house")),
    responses((status = 200, description = "the house file", body = String, content_type = "application/json"), Refused))]
pub async fn export(of: OfHouse) -> Result<Response, ApiError> {
    let write = |known: &Known| house_file::write(known.house()).map_err(|e| ApiError::Internal(e.to_string()));
    Ok(attachment("application/json", "house.wayfinder.json", of.read(write).await?))
}

/// The whole database as one file: all houses with their history and pictures. `wayfinder serve --data` opens it.
#[utoipa::path(get, path = "/api/v1/backup", responses((status = 200, description = "an SQLite database", body = Vec<u8>,
    content_type = "application/vnd.sqlite3"), Refused))]
pub async fn backup(State(hub): State<Arc<Hub>>) -> Result<Response, ApiError> {
    let bytes = work(hub, |hub| {
        let folder = tempfile::tempdir().map_err(|e| ApiError::Internal(e.to_string()))?;
        let copy = folder.path().join("copy.db");
        hub.store.backup(&copy)?;
        std::fs::read(&copy).map_err(|e| ApiError::Internal(e.to_string()))
    })
    .await?;
    let headers = [
        (CONTENT_TYPE, "application/vnd.sqlite3"),
        (CONTENT_DISPOSITION, "attachment; filename=\"wayfinder-backup.db\""),
    ];
    Ok((headers, bytes).into_response())
}

/// The key under which a request counts once.
fn key(headers: &HeaderMap) -> Result<Option<String>, Invalid> {
    let key = headers.get("idempotency-key").map(|k| k.to_str().unwrap_or("").to_owned());
    if key.as_ref().is_some_and(|k| k.is_empty() || k.len() > MAX_NAME) {
        return Err(Invalid::new("Idempotency-Key", format!("1 to {MAX_NAME} plain characters")));
    }
    Ok(key)
}

fn author(name: String, headers: &HeaderMap) -> Result<Author, Invalid> {
    let key = key(headers)?;
    if name.trim().is_empty() || name.chars().count() > MAX_NAME {
        return Err(Invalid::new("author", format!("a name of 1 to {MAX_NAME} letters")));
    }
    Ok(Author { name: name.trim().to_owned(), time: Timestamp::now(), key })
}

fn if_match(headers: &HeaderMap) -> Result<Option<u64>, Invalid> {
    let Some(value) = headers.get(IF_MATCH) else { return Ok(None) };
    let number = value.to_str().ok().and_then(|v| v.trim_matches('"').split('-').next()?.parse().ok());
    number.map(Some).ok_or_else(|| Invalid::new("If-Match", "a revision in quotes, as in ETag"))
}
