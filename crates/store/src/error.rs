//! What can go wrong in a store.

use wayfinder_core::Invalid;

use crate::{Conflict, HouseId};

/// What can go wrong in a store. In every case nothing was written.
#[derive(Debug, thiserror::Error)]
pub enum StoreError {
    /// There is no such house.
    #[error("there is no house {0}")]
    NoHouse(HouseId),
    /// There is nothing to take back.
    #[error("there is nothing to undo")]
    NothingToUndo,
    /// The key of the request was used for another one before.
    #[error("this key was used for something else before; nothing was changed: send it under a key of its own")]
    KeyUsed,
    /// The change cannot be.
    #[error(transparent)]
    Invalid(#[from] Invalid),
    /// Others changed the same things since.
    #[error("{} changed the same since revision {}: theirs is the newer", .0.authors.join(" and "), .0.base)]
    Conflict(Conflict),
    /// The base revision is one that the house never had.
    #[error("revision {0} does not exist yet")]
    Future(u64),
    /// A newer program made the database.
    #[error("this database was made by a newer version of the program; use that version")]
    Newer,
    /// What is stored is not what the program ever writes.
    #[error("the database holds something that cannot be: {0}")]
    Stored(String),
    /// The database says no.
    #[error("the database says: {0}")]
    Sql(#[from] rusqlite::Error),
    /// Migrating failed.
    #[error("the database could not be brought up to date: {0}")]
    Migration(String),
    /// A value could not be written or read as JSON.
    #[error("the log cannot be read or written: {0}")]
    Json(#[from] serde_json::Error),
}
