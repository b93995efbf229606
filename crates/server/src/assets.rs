//! The web app, built into the program.

use axum::body::Body;
use axum::http::{HeaderMap, StatusCode, Uri, header};
use axum::response::{IntoResponse, Response};

#[derive(rust_embed::RustEmbed)]
#[folder = "../../web/dist"]
#[allow_missing = true]
struct Files;

/// Hashed names never change their content.
const FOREVER: &str = "public, max-age=31536000, immutable";

/// A file of the web app; any other path gets its page, which finds the view itself.
pub async fn serve(uri: Uri, headers: HeaderMap) -> Response {
    let path = uri.path().trim_start_matches('/');
    let brotli = takes_brotli(&headers);
    match Files::get(path) {
        Some(file) if path != "index.html" => {
            let cache = if path.starts_with("assets/") { FOREVER } else { "no-cache" };
            respond(path, file, cache, brotli)
        }
        _ if path.starts_with("assets/") => StatusCode::NOT_FOUND.into_response(),
        _ => match Files::get("index.html") {
            Some(page) => respond("index.html", page, "no-cache", brotli),
            None => {
                (StatusCode::SERVICE_UNAVAILABLE, "The web app is not built. Run: cargo xtask demo\n").into_response()
            }
        },
    }
}

/// Whether the browser reads Brotli (RFC 9110, 12.5.3: a weight of 0 says that it does not).
fn takes_brotli(headers: &HeaderMap) -> bool {
    let said = headers.get(header::ACCEPT_ENCODING).and_then(|value| value.to_str().ok()).unwrap_or_default();
    said.split(',').any(|one| {
        let (name, weight) = one.split_once(';').unwrap_or((one, ""));
        let weight = weight.trim().strip_prefix("q=").and_then(|q| q.parse().ok());
        name.trim() == "br" && weight != Some(0.0)
    })
}

/// As it was compressed when the app was built, where the browser reads that.
fn respond(path: &str, file: rust_embed::EmbeddedFile, cache: &'static str, brotli: bool) -> Response {
    let kind = file.metadata.mimetype().to_owned();
    let small = Files::get(&format!("{path}.br")).filter(|_| brotli);
    let encoding = small.is_some().then_some([(header::CONTENT_ENCODING, "br")]);
    let headers = [
        (header::CONTENT_TYPE, kind),
        (header::CACHE_CONTROL, cache.to_owned()),
        (header::VARY, "accept-encoding".to_owned()),
    ];
    let data = small.map_or(file.data, |small| small.data);
    (headers, encoding, Body::from(data.into_owned())).into_response()
}

#[cfg(test)]
mod tests {
    use super::*;
    use axum::http::HeaderValue;

    #[test]
    fn a_browser_says_whether_it_reads_brotli() {
        let says = |value: &'static str| {
            takes_brotli(&HeaderMap::from_iter([(header::ACCEPT_ENCODING, HeaderValue::from_static(value))]))
        };
        assert!(says("gzip, deflate, br, zstd") && says("br;q=0.5, gzip"));
        assert!(!says("gzip") && !says("br;q=0, gzip") && !says("") && !takes_brotli(&HeaderMap::new()));
    }
}
