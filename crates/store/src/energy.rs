//! Numbers of energy records, by their digest.

use rusqlite::{OptionalExtension, params};
use sha2::{Digest, Sha256};

use crate::{Store, StoreError};

impl Store {
    /// Keeps the numbers of a record and tells the digest they are kept under. The same numbers are kept once.
    ///
    /// # Errors
    /// What the database says.
    pub fn keep_energy(&self, bytes: &[u8]) -> Result<String, StoreError> {
        let digest: String = Sha256::digest(bytes).iter().map(|b| format!("{b:02x}")).collect();
        let sql = "INSERT INTO energy_numbers (digest, bytes) VALUES (?1, ?2) ON CONFLICT DO NOTHING";
        self.writer().execute(sql, params![digest, bytes])?;
        Ok(digest)
    }

    /// The numbers kept under a digest.
    ///
    /// # Errors
    /// What the database says.
    pub fn energy(&self, digest: &str) -> Result<Option<Vec<u8>>, StoreError> {
        let sql = "SELECT bytes FROM energy_numbers WHERE digest = ?1";
        self.read(|c| Ok(c.prepare_cached(sql)?.query_row(params![digest], |r| r.get(0)).optional()?))
    }
}
