//! Who may come in: this machine always; other devices after giving the join code once; and only by a name or address
//! that is really this machine's, so that no web page elsewhere can reach in under a name of its own. Nor may a page of
//! another site, open in the same browser, change anything.

use std::net::{IpAddr, SocketAddr};
use std::sync::{Arc, Mutex, PoisonError};
use std::time::{Duration, Instant};

use axum::extract::{ConnectInfo, Request, State};
use axum::http::HeaderMap;
use axum::http::header::{COOKIE, HOST};
use axum::http::uri::Authority;
use axum::middleware::Next;
use axum::response::Response;

use crate::Hub;
use crate::api::ApiError;

/// The code that a device gives once. Six digits, new at each start.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct JoinCode(pub String);

/// Wrong codes before the gate stays shut for a while: a guesser needs about two weeks for half of the million codes.
const TRIES: u32 = 10;
const SHUT: Duration = Duration::from_secs(30);
const COOKIE_NAME: &str = "wayfinder";

/// Watches who comes in.
pub struct Gate {
    pub join: JoinCode,
    wrong: Mutex<(u32, Option<Instant>)>,
}

/// Why a code does not let in.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum Refused {
    /// It is wrong.
    Wrong,
    /// There were too many wrong ones just now.
    TooMany,
}

impl JoinCode {
    /// A new code from the system's randomness.
    ///
    /// # Errors
    /// Where the system has none.
    pub fn new() -> anyhow::Result<Self> {
        let number = getrandom::u32().map_err(|e| anyhow::anyhow!("no randomness: {e}"))?;
        Ok(Self(format!("{:06}", number % 1_000_000)))
    }
}

impl Gate {
    pub fn new(join: JoinCode) -> Self {
        Self { join, wrong: Mutex::new((0, None)) }
    }

    /// Compares a code that was given.
    pub fn try_code(&self, code: &str) -> Result<(), Refused> {
        let mut wrong = self.wrong.lock().unwrap_or_else(PoisonError::into_inner);
        if wrong.1.is_some_and(|since| since.elapsed() >= SHUT) {
            *wrong = (0, None);
        }
        if wrong.0 >= TRIES {
            return Err(Refused::TooMany);
        }
        if code.trim() == self.join.0 {
            *wrong = (0, None);
            return Ok(());
        }
        *wrong = (wrong.0 + 1, Some(Instant::now()));
        Err(Refused::Wrong)
    }
}

/// A new token for a device that was let in, and the cookie that carries it.
pub fn new_token() -> Result<(String, String), getrandom::Error> {
    let mut bytes = [0u8; 32];
    getrandom::fill(&mut bytes)?;
    let token: String = bytes.iter().map(|b| format!("{b:02x}")).collect();
    // No `Secure`: a phone that joined by HTTP is the same one by HTTPS.
    let cookie = format!("{COOKIE_NAME}={token}; HttpOnly; SameSite=Strict; Path=/; Max-Age=31536000");
    Ok((token, cookie))
}

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

/// True for requests from this machine.
pub fn is_here(peer: SocketAddr) -> bool {
    peer.ip().to_canonical().is_loopback()
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

    #[test]
    fn guessing_shuts_the_gate() {
        let gate = Gate::new(JoinCode("123456".into()));
        assert_eq!(gate.try_code(" 123456 "), Ok(()));
        for _ in 0..TRIES {
            assert_eq!(gate.try_code("000000"), Err(Refused::Wrong));
        }
        assert_eq!(gate.try_code("123456"), Err(Refused::TooMany));
    }
}
