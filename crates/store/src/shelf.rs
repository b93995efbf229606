//! Houses put away and taken back.

use jiff::Timestamp;
use rusqlite::params;

use crate::{HouseId, Store, StoreError, revision};

/// Where a house is kept.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum Shelf {
    /// In use.
    Active,
    /// Put away, not worked on.
    Archived,
    /// Thrown away; can be taken back for a while.
    Deleted,
}

impl Shelf {
    pub(crate) fn word(self) -> &'static str {
        match self {
            Self::Active => "active",
            Self::Archived => "archived",
            Self::Deleted => "deleted",
        }
    }

    pub(crate) fn from_word(word: &str) -> Result<Self, StoreError> {
        match word {
            "active" => Ok(Self::Active),
            "archived" => Ok(Self::Archived),
            "deleted" => Ok(Self::Deleted),
            other => Err(StoreError::Stored(format!("a house on the shelf {other}"))),
        }
    }
}

impl Store {
    /// Puts a house on a shelf.
    ///
    /// # Errors
    /// [`StoreError::NoHouse`] where there is none.
    pub fn put_on_shelf(&self, id: HouseId, shelf: Shelf, now: Timestamp) -> Result<(), StoreError> {
        let writer = self.writer();
        revision(&writer, id)?;
        let sql = "UPDATE house SET shelf = ?2, shelved = ?3 WHERE id = ?1";
        writer.execute(sql, params![id, shelf.word(), now.to_string()])?;
        Ok(())
    }

    /// Erases houses that were thrown away before a time, and pictures that no house has any more.
    ///
    /// # Errors
    /// What the database says.
    pub fn erase_deleted(&self, before: Timestamp) -> Result<(), StoreError> {
        let mut writer = self.writer();
        let t = writer.transaction()?;
        t.execute("DELETE FROM house WHERE shelf = 'deleted' AND shelved < ?1", params![before.to_string()])?;
        // A picture taken out of a house that is still there may be taken back: its log names the digest.
        t.execute(
            "DELETE FROM picture_bytes WHERE digest NOT IN (SELECT doc ->> '$.digest' FROM thing WHERE sort = 'pictures')
               AND NOT EXISTS (SELECT 1 FROM change WHERE instr(edits, picture_bytes.digest) > 0)",
            [],
        )?;
        t.commit()?;
        Ok(())
    }
}
