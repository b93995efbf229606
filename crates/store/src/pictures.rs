//! Bytes of pictures, by their digest.

use rusqlite::{OptionalExtension, params};
use sha2::{Digest, Sha256};

use crate::{Store, StoreError};

/// A picture's bytes.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct PictureBytes {
    /// `image/jpeg` or `image/png`.
    pub kind: String,
    /// The file.
    pub bytes: Vec<u8>,
}

impl Store {
    /// Keeps a picture's bytes and tells the digest they are kept under. The same bytes are kept once.
    ///
    /// # Errors
    /// What the database says.
    pub fn keep_picture(&self, picture: &PictureBytes) -> Result<String, StoreError> {
        let digest: String = Sha256::digest(&picture.bytes).iter().map(|b| format!("{b:02x}")).collect();
        let sql = "INSERT INTO picture_bytes (digest, kind, bytes) VALUES (?1, ?2, ?3) ON CONFLICT DO NOTHING";
        self.writer().execute(sql, params![digest, picture.kind, picture.bytes])?;
        Ok(digest)
    }

    /// The bytes kept under a digest.
    ///
    /// # Errors
    /// What the database says.
    pub fn picture(&self, digest: &str) -> Result<Option<PictureBytes>, StoreError> {
        let sql = "SELECT kind, bytes FROM picture_bytes WHERE digest = ?1";
        let bytes = |r: &rusqlite::Row<'_>| Ok(PictureBytes { kind: r.get(0)?, bytes: r.get(1)? });
        self.read(|c| Ok(c.prepare_cached(sql)?.query_row(params![digest], bytes).optional()?))
    }
}
