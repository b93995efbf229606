//! Parts of requests, refused as problem documents; and a way off the async threads for database work.

use std::sync::Arc;

use axum::extract::{FromRequest, FromRequestParts};

use crate::Hub;
use crate::api::ApiError;

/// A JSON body.
#[derive(FromRequest)]
#[from_request(via(axum::Json), rejection(ApiError))]
pub struct Json<T>(pub T);

/// Query parameters.
#[derive(FromRequestParts)]
#[from_request(via(axum::extract::Query), rejection(ApiError))]
pub struct Query<T>(pub T);

/// Parts of the path.
#[derive(FromRequestParts)]
#[from_request(via(axum::extract::Path), rejection(ApiError))]
pub struct Path<T>(pub T);

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
