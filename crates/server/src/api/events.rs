//! Live events: the revision of a house whenever it changes.

use std::convert::Infallible;
use std::sync::Arc;

use axum::response::Sse;
use axum::response::sse::{Event, KeepAlive};
use futures_util::{Stream, StreamExt, stream};
use tokio_stream::wrappers::BroadcastStream;
use utoipa_axum::router::OpenApiRouter;
use utoipa_axum::routes;

use super::extract::{OfHouse, work};
use crate::error::{ApiError, Refused};
use crate::hub::Hub;

/// Its resources.
pub fn routes() -> OpenApiRouter<Arc<Hub>> {
    OpenApiRouter::new().routes(routes!(events))
}

/// The house's revision now and at each change, as server-sent events named `revision`.
#[utoipa::path(get, path = "/api/v1/houses/{id}/events", params(("id" = i64, Path, description = "the house")),
    responses((status = 200, description = "server-sent events", content_type = "text/event-stream", body = String), Refused))]
pub async fn events(
    OfHouse { id, hub }: OfHouse,
) -> Result<Sse<impl Stream<Item = Result<Event, Infallible>>>, ApiError> {
    // Listening starts before the revision is read, so that no change falls between.
    let changes = BroadcastStream::new(hub.listen(id));
    let now = work(hub.clone(), move |hub| Ok(hub.store.revision(id)?)).await?;
    let later = changes.filter_map(move |change| {
        let hub = hub.clone();
        // Whoever lagged behind is told the newest.
        async move { change.ok().or_else(|| hub.store.revision(id).ok()) }
    });
    let revisions = stream::once(async move { now }).chain(later);
    let event = |revision: u64| Ok(Event::default().event("revision").data(revision.to_string()));
    Ok(Sse::new(revisions.map(event)).keep_alive(KeepAlive::default()))
}
