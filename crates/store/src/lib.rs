//! Houses in SQLite: load a house, commit a change, history and undo.
//!
//! This crate knows tables and transactions and turns rows into the core's values and back. It must not know HTTP or
//! files of other formats. Every commit is durable before it is acknowledged: write-ahead log, synchronous = FULL.

mod commit;
mod energy;
mod error;
mod history;
mod pictures;
mod rows;
mod schema;
mod sessions;
mod shelf;

use std::collections::HashMap;
use std::path::Path;
use std::sync::{Arc, Mutex, MutexGuard, PoisonError};
use std::time::Duration;

use rusqlite::{Connection, OpenFlags, OptionalExtension, Transaction, params};
use wayfinder_core::House;

pub use commit::{Author, Committed, Conflict};
pub use error::StoreError;
pub use history::HistoryEntry;
pub use pictures::PictureBytes;
pub use shelf::Shelf;

/// Names a house in a store.
pub type HouseId = i64;

/// How long a statement waits for another connection's lock.
const BUSY: Duration = Duration::from_secs(10);

/// A database of houses. One writer; every reader has a connection of its own for as long as it reads.
pub struct Store {
    writer: Mutex<Connection>,
    readers: Mutex<Vec<Connection>>,
    /// The newest of each house that was asked for or changed.
    newest: Mutex<HashMap<HouseId, Arc<House>>>,
    source: String,
    /// Keeps the folder of a temporary database until the store is dropped.
    _folder: Option<Box<dyn Send + Sync>>,
}

/// A house in a list.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct HouseSummary {
    /// Its id.
    pub id: HouseId,
    /// Its name.
    pub name: String,
    /// Its revision.
    pub revision: u64,
    /// How many panels it has.
    pub panels: u64,
    /// How many points it has.
    pub points: u64,
    /// Where it is kept.
    pub shelf: Shelf,
}

impl Store {
    /// Opens a database file, making or upgrading it as needed.
    ///
    /// # Errors
    /// [`StoreError::Newer`] where a newer program made it; otherwise what the database says.
    pub fn open(path: &Path) -> Result<Self, StoreError> {
        Self::open_with(path, None)
    }

    /// Opens a database in a folder that `keep` owns and removes when dropped.
    ///
    /// # Errors
    /// As [`Store::open`].
    pub fn open_temporary(path: &Path, keep: Box<dyn Send + Sync>) -> Result<Self, StoreError> {
        Self::open_with(path, Some(keep))
    }

    fn open_with(path: &Path, folder: Option<Box<dyn Send + Sync>>) -> Result<Self, StoreError> {
        let mut writer = Connection::open(path)?;
        prepare(&writer)?;
        writer.pragma_update(None, "journal_mode", "WAL")?;
        schema::migrate(&mut writer)?;
        let source = path.to_string_lossy().into_owned();
        Ok(Self {
            writer: Mutex::new(writer),
            readers: Mutex::default(),
            newest: Mutex::default(),
            source,
            _folder: folder,
        })
    }

    fn writer(&self) -> MutexGuard<'_, Connection> {
        // A panic elsewhere rolled its transaction back when it was dropped: the connection is whole.
        self.writer.lock().unwrap_or_else(PoisonError::into_inner)
    }

    fn read<T>(&self, read: impl FnOnce(&mut Connection) -> Result<T, StoreError>) -> Result<T, StoreError> {
        let idle = self.readers.lock().unwrap_or_else(PoisonError::into_inner).pop();
        let mut connection = match idle {
            Some(connection) => connection,
            None => {
                let flags = OpenFlags::SQLITE_OPEN_READ_ONLY | OpenFlags::SQLITE_OPEN_NO_MUTEX;
                let connection = Connection::open_with_flags(&self.source, flags)?;
                prepare(&connection)?;
                connection
            }
        };
        let result = read(&mut connection);
        self.readers.lock().unwrap_or_else(PoisonError::into_inner).push(connection);
        result
    }

    /// All houses, by name.
    ///
    /// # Errors
    /// What the database says.
    pub fn houses(&self) -> Result<Vec<HouseSummary>, StoreError> {
        self.read(|c| {
            let mut statement = c.prepare_cached(
                "SELECT id, about ->> '$.name' AS name, revision,
                        (SELECT count(*) FROM thing WHERE house = house.id AND sort = 'panels'),
                        (SELECT count(*) FROM thing WHERE house = house.id AND sort = 'points'), shelf
                 FROM house ORDER BY name, id",
            )?;
            let summary = |row: &rusqlite::Row<'_>| -> Result<HouseSummary, StoreError> {
                Ok(HouseSummary {
                    id: row.get(0)?,
                    name: row.get(1)?,
                    revision: row.get(2)?,
                    panels: row.get(3)?,
                    points: row.get(4)?,
                    shelf: Shelf::from_word(&row.get::<_, String>(5)?)?,
                })
            };
            let mut rows = statement.query([])?;
            let mut houses = Vec::new();
            while let Some(row) = rows.next()? {
                houses.push(summary(row)?);
            }
            Ok(houses)
        })
    }

    /// A house as it stands; from memory while its revision is the newest.
    ///
    /// # Errors
    /// [`StoreError::NoHouse`], or [`StoreError::Stored`] where what is stored is not a possible house.
    pub fn house(&self, id: HouseId) -> Result<Arc<House>, StoreError> {
        self.read(|c| self.newest(&c.transaction()?, id))
    }

    /// The newest house in a transaction: that in memory, or else read from the rows.
    fn newest(&self, t: &Transaction<'_>, id: HouseId) -> Result<Arc<House>, StoreError> {
        let revision = revision(t, id)?;
        let known = |house: &&Arc<House>| house.revision == revision;
        if let Some(house) = self.in_memory().get(&id).filter(known) {
            return Ok(house.clone());
        }
        let house = Arc::new(rows::load(t, id)?);
        self.remember(id, house.clone());
        Ok(house)
    }

    fn in_memory(&self) -> MutexGuard<'_, HashMap<HouseId, Arc<House>>> {
        // Nothing that is done under this lock can panic half way.
        self.newest.lock().unwrap_or_else(PoisonError::into_inner)
    }

    fn remember(&self, id: HouseId, house: Arc<House>) {
        self.in_memory().insert(id, house);
    }

    /// The revision of a house.
    ///
    /// # Errors
    /// [`StoreError::NoHouse`] where there is none.
    pub fn revision(&self, id: HouseId) -> Result<u64, StoreError> {
        self.read(|c| revision(c, id))
    }

    /// Adds a house with all that is in it, without history.
    ///
    /// # Errors
    /// [`StoreError::Invalid`] where it does not hold together.
    pub fn add_house(&self, house: &House) -> Result<HouseId, StoreError> {
        house.check()?;
        let mut writer = self.writer();
        let transaction = writer.transaction()?;
        let id = rows::insert(&transaction, house)?;
        transaction.commit()?;
        Ok(id)
    }

    /// Adds a house that a request asks for, once under its key; `of` is what it asked for.
    ///
    /// # Errors
    /// As [`Store::add_house`]; [`StoreError::KeyUsed`] where the key made another one.
    pub fn add_house_once(&self, house: &House, key: &str, of: &str) -> Result<HouseId, StoreError> {
        house.check()?;
        let mut writer = self.writer();
        let t = writer.transaction_with_behavior(rusqlite::TransactionBehavior::Immediate)?;
        let sql = "SELECT id, made_of FROM house WHERE made_key = ?1";
        let made = |r: &rusqlite::Row<'_>| Ok((r.get::<_, HouseId>(0)?, r.get::<_, String>(1)?));
        let known = t.query_row(sql, params![key], made).optional()?;
        match known {
            Some((id, made_of)) if made_of == of => return Ok(id),
            Some(_) => return Err(StoreError::KeyUsed),
            None => {}
        }
        let id = rows::insert(&t, house)?;
        t.execute("UPDATE house SET made_key = ?2, made_of = ?3 WHERE id = ?1", params![id, key, of])?;
        t.commit()?;
        Ok(id)
    }

    /// Bytes of changes that are on the disk, but not in the one file yet.
    #[must_use]
    pub fn unsettled(&self) -> u64 {
        std::fs::metadata(format!("{}-wal", self.source)).map_or(0, |m| m.len())
    }

    /// Brings all changes into the one file, as far as nobody reads just then.
    ///
    /// # Errors
    /// What the database says.
    pub fn settle(&self) -> Result<(), StoreError> {
        Ok(settle(&self.writer())?)
    }

    /// Brings all changes into the one file and lets go of it. Nothing can be read or written afterwards.
    ///
    /// # Errors
    /// What the database says.
    pub fn close(&self) -> Result<(), StoreError> {
        let mut writer = self.writer();
        self.readers.lock().unwrap_or_else(PoisonError::into_inner).clear();
        settle(&writer)?;
        let nothing = Connection::open_in_memory()?;
        std::mem::replace(&mut *writer, nothing).close().map_err(|(_, e)| e.into())
    }

    /// Copies the database while it is in use.
    ///
    /// # Errors
    /// What the database says, or the file system.
    pub fn backup(&self, to: &Path) -> Result<(), StoreError> {
        self.read(|c| {
            let mut copy = Connection::open(to)?;
            let backup = rusqlite::backup::Backup::new(c, &mut copy)?;
            backup.run_to_completion(PAGES_A_STEP, Duration::ZERO, None)?;
            Ok(())
        })
    }
}

/// Pages copied before other readers and the writer get their turn.
const PAGES_A_STEP: i32 = 1000;

fn settle(writer: &Connection) -> Result<(), rusqlite::Error> {
    writer.query_row("PRAGMA wal_checkpoint(TRUNCATE)", [], |_| Ok(()))
}

fn prepare(connection: &Connection) -> Result<(), StoreError> {
    connection.busy_timeout(BUSY)?;
    connection.pragma_update(None, "foreign_keys", true)?;
    connection.pragma_update(None, "synchronous", "FULL")?;
    Ok(())
}

fn revision(connection: &Connection, id: HouseId) -> Result<u64, StoreError> {
    let query = "SELECT revision FROM house WHERE id = ?1";
    let found = connection.prepare_cached(query)?.query_row(params![id], |row| row.get(0)).optional()?;
    found.ok_or(StoreError::NoHouse(id))
}
