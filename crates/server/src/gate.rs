//! Who may come in: this machine always; other devices after giving the join code once.

use std::net::SocketAddr;
use std::sync::{Mutex, PoisonError};
use std::time::{Duration, Instant};

/// The code that a device gives once. Six digits, new at each start.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct JoinCode(pub String);

/// Wrong codes before the gate stays shut for a while: a guesser needs about two weeks for half of the million codes.
const TRIES: u32 = 10;
const SHUT: Duration = Duration::from_secs(30);
pub const COOKIE_NAME: &str = "wayfinder";

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

/// True for requests from this machine.
pub fn is_here(peer: SocketAddr) -> bool {
    peer.ip().to_canonical().is_loopback()
}

#[cfg(test)]
mod tests {
    use super::*;

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
