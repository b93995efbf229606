//! What all requests share: the store, the newest houses in memory, and who listens for changes.

use std::collections::HashMap;
use std::path::Path;
use std::sync::{Arc, Mutex, MutexGuard, PoisonError};

use jiff::Zoned;
use jiff::civil::Date;
use tokio::sync::broadcast;
use wayfinder_core::upkeep::{self, Glance};
use wayfinder_core::{Change, House, trace};
use wayfinder_store::{Author, Committed, HouseId, Store, StoreError};

use crate::gate::{Gate, JoinCode};

/// Changes that a slow listener may lag behind before it is told just the newest.
const BACKLOG: usize = 64;

/// The shared state of the server.
pub struct Hub {
    pub(crate) store: Store,
    pub(crate) gate: Gate,
    cache: Mutex<HashMap<HouseId, Arc<House>>>,
    glances: Mutex<HashMap<HouseId, (u64, Date, Glance)>>,
    listeners: Mutex<HashMap<HouseId, broadcast::Sender<u64>>>,
}

fn lock<T>(mutex: &Mutex<T>) -> MutexGuard<'_, T> {
    // Nothing that is done under these locks can panic half way.
    mutex.lock().unwrap_or_else(PoisonError::into_inner)
}

impl Hub {
    /// On a database file.
    ///
    /// # Errors
    /// Where it cannot be opened.
    pub fn open(data: &Path, join: JoinCode) -> Result<Arc<Self>, StoreError> {
        Ok(Self::new(Store::open(data)?, join))
    }

    /// On a database that is gone when the program ends.
    ///
    /// # Errors
    /// Where no temporary folder can be made, or no database in it.
    pub fn temporary(join: JoinCode) -> anyhow::Result<Arc<Self>> {
        let folder = tempfile::tempdir()?;
        let path = folder.path().join("wayfinder.db");
        Ok(Self::new(Store::open_temporary(&path, Box::new(folder))?, join))
    }

    fn new(store: Store, join: JoinCode) -> Arc<Self> {
        let (cache, glances, listeners) = (Mutex::default(), Mutex::default(), Mutex::default());
        Arc::new(Self { store, gate: Gate::new(join), cache, glances, listeners })
    }

    /// Adds a house.
    ///
    /// # Errors
    /// Where it does not hold together.
    pub fn add_house(&self, house: &House) -> Result<HouseId, StoreError> {
        self.store.add_house(house)
    }

    /// A house at a glance; from memory while it stays the same, and on the same day.
    pub(crate) fn glance(&self, id: HouseId) -> Result<Glance, StoreError> {
        let (house, now) = (self.house(id)?, Zoned::now());
        if let Some((_, _, known)) = lock(&self.glances)
            .get(&id)
            .filter(|(revision, date, _)| (*revision, *date) == (house.revision, now.date()))
        {
            return Ok(known.clone());
        }
        let glance = upkeep::glance(&house, &trace::beliefs(&house), now.timestamp());
        lock(&self.glances).insert(id, (house.revision, now.date(), glance.clone()));
        Ok(glance)
    }

    /// How many houses there are.
    ///
    /// # Errors
    /// What the database says.
    pub fn count(&self) -> Result<usize, StoreError> {
        Ok(self.store.houses()?.len())
    }

    /// A house as it stands; from memory while its revision is the newest.
    pub(crate) fn house(&self, id: HouseId) -> Result<Arc<House>, StoreError> {
        let newest = self.store.revision(id)?;
        if let Some(house) = lock(&self.cache).get(&id).filter(|h| h.revision == newest) {
            return Ok(house.clone());
        }
        let house = Arc::new(self.store.house(id)?);
        lock(&self.cache).insert(id, house.clone());
        Ok(house)
    }

    pub(crate) fn commit(
        &self,
        id: HouseId,
        base: Option<u64>,
        change: &Change,
        author: &Author,
    ) -> Result<Committed, StoreError> {
        let committed = self.store.commit(id, base, change, author)?;
        self.tell(id, committed.revision);
        Ok(committed)
    }

    pub(crate) fn undo(&self, id: HouseId, which: Option<u64>, author: &Author) -> Result<Committed, StoreError> {
        let committed = self.store.undo(id, which, author)?;
        self.tell(id, committed.revision);
        Ok(committed)
    }

    fn tell(&self, id: HouseId, revision: u64) {
        if let Some(listeners) = lock(&self.listeners).get(&id) {
            // An error says that nobody listens any more.
            let _ = listeners.send(revision);
        }
    }

    /// Revisions of a house from now on.
    pub(crate) fn listen(&self, id: HouseId) -> broadcast::Receiver<u64> {
        lock(&self.listeners).entry(id).or_insert_with(|| broadcast::channel(BACKLOG).0).subscribe()
    }
}
