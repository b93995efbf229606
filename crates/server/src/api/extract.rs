//! Parts of requests, refused as problem documents; and a way off the async threads for database work.

use std::sync::Arc;

use axum::extract::{FromRequest, FromRequestParts};
use axum::http::header::{CONTENT_DISPOSITION, CONTENT_TYPE};
use axum::http::request::Parts;
use axum::response::{IntoResponse, Response};
use serde::{Deserialize, Serialize};
use wayfinder_core::house::{Panel, PanelId};
use wayfinder_store::HouseId;

use crate::error::ApiError;
use crate::hub::Hub;
use crate::known::Known;
use wayfinder_formats::draw::{Kind, Print};

/// A JSON body.
#[derive(FromRequest)]
#[from_request(via(axum::Json), rejection(ApiError))]
pub struct Json<T>(pub T);

/// Query parameters.
#[derive(FromRequestParts)]
#[from_request(via(axum::extract::Query), rejection(ApiError))]
pub struct Query<T>(pub T);

/// Parts of the path, by name.
#[derive(FromRequestParts)]
#[from_request(via(axum::extract::Path), rejection(ApiError))]
pub struct Path<T>(pub T);

/// The house that the path names as `id`.
pub struct OfHouse {
    pub id: HouseId,
    pub hub: Arc<Hub>,
}

#[derive(Deserialize)]
struct Named {
    id: HouseId,
}

impl FromRequestParts<Arc<Hub>> for OfHouse {
    type Rejection = ApiError;

    async fn from_request_parts(parts: &mut Parts, hub: &Arc<Hub>) -> Result<Self, ApiError> {
        let Path(Named { id }) = Path::from_request_parts(parts, hub).await?;
        Ok(Self { id, hub: hub.clone() })
    }
}

impl OfHouse {
    /// What `read` says of the house as it stands.
    pub async fn read<T: Send + 'static>(
        self,
        read: impl FnOnce(&Known) -> Result<T, ApiError> + Send + 'static,
    ) -> Result<T, ApiError> {
        self.work(move |hub, id| read(&*hub.known(id)?)).await
    }

    /// The same as JSON.
    pub async fn json<T: Send + 'static>(
        self,
        read: impl FnOnce(&Known) -> Result<T, ApiError> + Send + 'static,
    ) -> Result<axum::Json<T>, ApiError> {
        self.read(read).await.map(axum::Json)
    }

    /// The same, written once a revision for all who ask the same: for what depends on the house and `asked` alone.
    pub async fn written<T: Serialize>(
        self,
        asked: String,
        read: impl FnOnce(&Known) -> Result<T, ApiError> + Send + 'static,
    ) -> Result<Response, ApiError> {
        let bytes = self.read(move |known| known.written(asked, read)).await?;
        Ok(([(CONTENT_TYPE, "application/json")], bytes).into_response())
    }

    /// Other work for the house.
    pub async fn work<T: Send + 'static>(
        self,
        work: impl FnOnce(&Hub, HouseId) -> Result<T, ApiError> + Send + 'static,
    ) -> Result<T, ApiError> {
        let id = self.id;
        self::work(self.hub, move |hub| work(hub, id)).await
    }
}

/// Runs work that waits for the disk or computes for long, away from the threads that serve.
pub async fn work<T: Send + 'static>(
    hub: Arc<Hub>,
    work: impl FnOnce(&Hub) -> Result<T, ApiError> + Send + 'static,
) -> Result<T, ApiError> {
    match tokio::task::spawn_blocking(move || work(&hub)).await {
        Ok(result) => result,
        Err(e) => Err(ApiError::Internal(e.to_string())),
    }
}

/// The panel that the path names.
#[derive(Debug, Clone, Copy, Deserialize)]
pub struct OfPanel {
    pub panel: u64,
}

impl OfPanel {
    /// The panel, where the house has it.
    pub fn panel(self, known: &Known) -> Result<&Panel, ApiError> {
        known.house().panels.get(PanelId(self.panel)).ok_or(ApiError::NoPanel)
    }
}

/// The file that the path names.
#[derive(Debug, Deserialize)]
pub struct OfFile {
    pub file: String,
}

/// The point that the path names.
#[derive(Debug, Deserialize)]
pub struct OfPoint {
    pub point: u64,
}

/// A file to be kept.
/// A PDF that a browser shows.
/// A document as the kind that the file's ending names: svg, pdf or png.
pub(super) fn printed(file: &str, document: &Print) -> Result<Response, ApiError> {
    let kind = file.rsplit('.').next().and_then(Kind::of).ok_or(ApiError::NoSuchResource)?;
    let bytes = document.put_out(kind).map_err(|e| ApiError::Internal(e.to_string()))?;
    let disposition = format!("inline; filename=\"{file}\"");
    Ok(([(CONTENT_TYPE, kind.media_type().to_owned()), (CONTENT_DISPOSITION, disposition)], bytes).into_response())
}

pub(super) fn attachment(kind: &str, name: &str, text: String) -> Response {
    let disposition = format!("attachment; filename=\"{name}\"");
    ([(CONTENT_TYPE, kind.to_owned()), (CONTENT_DISPOSITION, disposition)], text).into_response()
}
