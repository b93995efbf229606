//! Every request is looked at: only by a name or address that is really this machine's, so that no web page elsewhere can reach in
//! under a name of its own. Nor may a page of another site, open in the same browser, change anything.

use std::net::{IpAddr, SocketAddr};
use std::sync::Arc;

use axum::extract::{ConnectInfo, Request, State};
use axum::http::HeaderMap;
use axum::http::header::{COOKIE, HOST};
use axum::http::uri::Authority;
use axum::middleware::Next;
use axum::response::Response;

use crate::error::ApiError;
use crate::gate::{COOKIE_NAME, is_here};
use crate::hub::Hub;

fn token(request: &Request) -> Option<String> {
    let cookies = request.headers().get_all(COOKIE).into_iter().filter_map(|v| v.to_str().ok());
    let mut pairs = cookies.flat_map(|v| v.split(';')).filter_map(|pair| pair.trim().split_once('='));
    pairs.find(|(name, _)| *name == COOKIE_NAME).map(|(_, value)| value.to_owned())
}

/// True for `localhost` and for addresses: a foreign page can point a name of its own here, not an address.
fn is_own_name(host: &str) -> bool {
    let name =
        host.rsplit_once(':').filter(|(_, port)| port.bytes().all(|b| b.is_ascii_digit())).map_or(host, |(n, _)| n);
    let bare = name.trim_start_matches('[').trim_end_matches(']');
    name.eq_ignore_ascii_case("localhost") || bare.parse::<IpAddr>().is_ok()
}

/// True for a request that a page of another site made, as far as the browser tells (Fetch Metadata, RFC 6454). Programs
/// that are no browsers send neither header.
fn is_foreign(headers: &HeaderMap, host: &str) -> bool {
    let said = |name: &str| headers.get(name).map(|v| v.to_str().unwrap_or_default());
    let from_elsewhere = said("sec-fetch-site").is_some_and(|site| !["same-origin", "none"].contains(&site));
    let own =
        |origin: &str| origin.split_once("://").is_some_and(|(_, authority)| authority.eq_ignore_ascii_case(host));
    from_elsewhere || said("origin").is_some_and(|origin| !own(origin))
}

/// Checks the host of every request, whether a page elsewhere made it, and who asks for the API.
pub async fn guard(
    State(hub): State<Arc<Hub>>,
    ConnectInfo(peer): ConnectInfo<SocketAddr>,
    request: Request,
    next: Next,
) -> Result<Response, ApiError> {
    // HTTP/2 has no such header: there it stands in the address.
    let host = request
        .headers()
        .get(HOST)
        .and_then(|h| h.to_str().ok())
        .or_else(|| request.uri().authority().map(Authority::as_str));
    let Some(host) = host.filter(|h| is_own_name(h)) else { return Err(ApiError::ForeignHost) };
    if !request.method().is_safe() && is_foreign(request.headers(), host) {
        return Err(ApiError::ForeignPage);
    }
    let path = request.uri().path();
    let open = !path.starts_with("/api/") || path == "/api/v1/session";
    if open || is_here(peer) {
        return Ok(next.run(request).await);
    }
    let Some(token) = token(&request) else { return Err(ApiError::NotJoined) };
    let known = tokio::task::spawn_blocking(move || hub.store.has_session(&token));
    match known.await {
        Ok(Ok(true)) => Ok(next.run(request).await),
        Ok(Ok(false)) => Err(ApiError::NotJoined),
        Ok(Err(e)) => Err(e.into()),
        Err(e) => Err(ApiError::Internal(e.to_string())),
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn only_addresses_and_localhost_are_own_names() {
        for own in ["localhost", "localhost:8420", "127.0.0.1:1", "192.0.2.7:8420", "[::1]:8420", "[::1]"] {
            assert!(is_own_name(own), "{own}");
        }
        for foreign in ["example.org", "localhost.example.org:80", "127.0.0.1.example.org", "", "a:b"] {
            assert!(!is_own_name(foreign), "{foreign}");
        }
    }

    #[test]
    fn a_change_asked_for_by_another_site_is_foreign() {
        let asked = |pairs: &[(&'static str, &str)]| {
            let headers = pairs.iter().map(|(name, value)| {
                (axum::http::HeaderName::from_static(name), axum::http::HeaderValue::from_str(value).unwrap())
            });
            is_foreign(&headers.collect(), "127.0.0.1:8420")
        };
        for own in [
            &[][..],
            &[("sec-fetch-site", "same-origin"), ("origin", "http://127.0.0.1:8420")],
            &[("sec-fetch-site", "none")],
        ] {
            assert!(!asked(own), "{own:?}");
        }
        for foreign in [
            ("sec-fetch-site", "cross-site"),
            ("sec-fetch-site", "same-site"),
            ("sec-fetch-site", ""),
            ("origin", "http://127.0.0.1:8421"),
            ("origin", "http://example.org"),
            ("origin", "null"),
        ] {
            assert!(asked(&[foreign]), "{foreign:?}");
        }
    }
}
