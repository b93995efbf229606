//! The HTTP API and the router of the whole program.

mod answers;
mod audit;
mod bring;
mod crew;
mod directory;
mod door;
mod events;
mod extract;
mod for_pages;
mod history;
mod houses;
mod instruments;
mod job;
mod load;
mod numbers;
mod plans;
mod reads;
mod session;

use std::sync::Arc;

use axum::Router;
use axum::extract::DefaultBodyLimit;
use axum::http::header::{CONTENT_SECURITY_POLICY, REFERRER_POLICY, X_CONTENT_TYPE_OPTIONS};
use axum::http::{HeaderName, HeaderValue};
use axum::middleware;
use axum::routing::get;
use tower_http::compression::CompressionLayer;
use tower_http::set_header::SetResponseHeaderLayer;
use tower_http::trace::TraceLayer;
use utoipa::OpenApi;
use utoipa_axum::router::OpenApiRouter;
use wayfinder_formats::house_file::close_variants;

pub use for_pages::for_pages;

use crate::assets;
use crate::error::{self, ApiError};
use crate::guard::guard;
use crate::hub::Hub;

/// Largest request: a house file of two hundred points with a thousand readings is about a quarter of this.
const MAX_BODY: usize = 4 << 20;
/// Styles are made at run time by the interface library, so they need `unsafe-inline`; scripts do not.
const POLICY: &str = "default-src 'self'; style-src 'self' 'unsafe-inline'; img-src 'self' data: blob:; media-src data:; font-src 'self'; \
                      object-src 'none'; base-uri 'none'; form-action 'self'; frame-ancestors 'none'";

/// No page of another site may show what is here, not even as a picture.
const OWN_PAGES_ONLY: HeaderName = HeaderName::from_static("cross-origin-resource-policy");

#[derive(OpenApi)]
#[openapi(
    info(
        title = "Wayfinder",
        description = "Traces which breaker feeds each outlet, light and appliance of a house. Errors are RFC 9457 problem documents."
    ),
    components(schemas(error::Problem))
)]
struct Document;

fn api() -> OpenApiRouter<Arc<Hub>> {
    OpenApiRouter::with_openapi(Document::openapi())
        .merge(houses::routes())
        .merge(history::routes())
        .merge(answers::routes())
        .merge(audit::routes())
        .merge(directory::routes())
        .merge(bring::routes())
        .merge(plans::routes())
        .merge(events::routes())
        .merge(reads::routes())
        .merge(crew::routes())
        .merge(instruments::routes())
        .merge(load::routes())
        .merge(numbers::routes())
        .merge(job::routes())
        .merge(session::routes())
        .merge(door::routes())
}

/// The OpenAPI 3.1 document.
#[must_use]
pub fn openapi() -> serde_json::Value {
    let mut document = serde_json::to_value(api().split_for_parts().1).unwrap_or_default();
    close_variants(&mut document);
    document
}

/// Everything that is served.
pub fn router(hub: Arc<Hub>) -> Router {
    let (api, _) = api().split_for_parts();
    let document = openapi();
    let header = |name, value| SetResponseHeaderLayer::if_not_present(name, HeaderValue::from_static(value));
    api.route("/api/openapi.json", get(async move || axum::Json(document)))
        .route("/api/{*rest}", get(async || ApiError::NoSuchResource))
        .fallback(assets::serve)
        .layer(DefaultBodyLimit::max(MAX_BODY))
        .layer(middleware::from_fn_with_state(hub.clone(), guard))
        .layer(header(CONTENT_SECURITY_POLICY, POLICY))
        .layer(header(X_CONTENT_TYPE_OPTIONS, "nosniff"))
        .layer(header(REFERRER_POLICY, "same-origin"))
        .layer(header(OWN_PAGES_ONLY, "same-origin"))
        .layer(CompressionLayer::new())
        .layer(TraceLayer::new_for_http())
        .with_state(hub)
}
