//! The web app, built into the program.

use axum::body::Body;
use axum::http::{StatusCode, Uri, header};
use axum::response::{IntoResponse, Response};

#[derive(rust_embed::RustEmbed)]
#[folder = "../../web/dist"]
#[allow_missing = true]
struct Files;

/// Hashed names never change their content.
const FOREVER: &str = "public, max-age=31536000, immutable";

/// A file of the web app; any other path gets its page, which finds the view itself.
pub async fn serve(uri: Uri) -> Response {
    let path = uri.path().trim_start_matches('/');
    match Files::get(path) {
        Some(file) if path != "index.html" => {
            let cache = if path.starts_with("assets/") { FOREVER } else { "no-cache" };
            respond(file, cache)
        }
        _ if path.starts_with("assets/") => StatusCode::NOT_FOUND.into_response(),
        _ => match Files::get("index.html") {
            Some(page) => respond(page, "no-cache"),
            None => {
                (StatusCode::SERVICE_UNAVAILABLE, "The web app is not built. Run: cargo xtask demo\n").into_response()
            }
        },
    }
}

fn respond(file: rust_embed::EmbeddedFile, cache: &'static str) -> Response {
    let kind = file.metadata.mimetype().to_owned();
    let headers = [(header::CONTENT_TYPE, kind), (header::CACHE_CONTROL, cache.to_owned())];
    (headers, Body::from(file.data.into_owned())).into_response()
}
