//! Devices that were let in.

use jiff::Timestamp;
use rusqlite::params;
use sha2::{Digest, Sha256};

use crate::{Store, StoreError};

fn digest(token: &str) -> String {
    Sha256::digest(token).iter().map(|byte| format!("{byte:02x}")).collect()
}

impl Store {
    /// Lets the bearer of a token in from now on.
    ///
    /// # Errors
    /// What the database says.
    pub fn add_session(&self, token: &str, time: Timestamp) -> Result<(), StoreError> {
        let sql = "INSERT INTO session (digest, made) VALUES (?1, ?2)";
        self.writer().execute(sql, params![digest(token), time.to_string()])?;
        Ok(())
    }

    /// True where the bearer of a token was let in.
    ///
    /// # Errors
    /// What the database says.
    pub fn has_session(&self, token: &str) -> Result<bool, StoreError> {
        let sql = "SELECT EXISTS (SELECT 1 FROM session WHERE digest = ?1)";
        self.read(|c| Ok(c.prepare_cached(sql)?.query_row(params![digest(token)], |r| r.get(0))?))
    }
}
