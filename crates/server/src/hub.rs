//! What all requests share: the store, the newest houses in memory, and who listens for changes.

use std::collections::HashMap;
use std::net::Ipv4Addr;
use std::path::{Path, PathBuf};
use std::sync::{Arc, Mutex, MutexGuard, PoisonError};
use std::time::{Duration, Instant};

use jiff::Zoned;
use jiff::civil::Date;
use tokio::sync::broadcast;
use wayfinder_core::answers::upkeep::{self, Glance};
use wayfinder_core::house::{Crew, Method, StepId};
use wayfinder_core::practice::{self, Forecast, Saving, StandIn};
use wayfinder_core::{Change, House};
use wayfinder_store::{Author, Committed, HouseId, Store, StoreError};

use crate::door::{Door, addresses};
use crate::drawer::Drawer;
use crate::error::ApiError;
use crate::gate::{Gate, JoinCode};
use crate::known::Known;
use crate::present::{Hello, Present};

/// Changes that a slow listener may lag behind before it is told just the newest.
const BACKLOG: usize = 64;

/// The shared state of the server.
pub struct Hub {
    pub(crate) store: Store,
    pub(crate) gate: Gate,
    pub(crate) door: Door,
    pub(crate) drawer: Drawer,
    known: Mutex<HashMap<HouseId, Arc<Known>>>,
    forecasts: Mutex<HashMap<HouseId, Arc<Mutex<Forecasts>>>>,
    glances: Mutex<HashMap<HouseId, (u64, Date, Glance)>>,
    listeners: Mutex<HashMap<HouseId, broadcast::Sender<u64>>>,
    present: Mutex<HashMap<HouseId, Heard>>,
    stand_ins: Mutex<HashMap<HouseId, Arc<StandIn>>>,
}

/// By device: what it said of itself, and when.
type Heard = HashMap<String, (Hello, Instant)>;

/// What ways of tracing would come to from the step under way, by crew.
#[derive(Default)]
struct Forecasts {
    step: Option<StepId>,
    by_crew: Vec<(Crew, Forecast)>,
    helps: Vec<(Crew, Vec<Saving>)>,
}

impl Forecasts {
    /// Those of another step are void.
    fn are_of(&mut self, house: &House) {
        let step = house.step.as_ref().map(|s| s.id);
        if self.step != step {
            *self = Self { step, ..Self::default() };
        }
    }
}

/// A device that was not heard of for this long is forgotten.
const FORGOTTEN: Duration = Duration::from_secs(3600);

fn lock<T>(mutex: &Mutex<T>) -> MutexGuard<'_, T> {
    // Nothing that is done under these locks can panic half way.
    mutex.lock().unwrap_or_else(PoisonError::into_inner)
}

/// The program's own file. Where the system does not tell, drawings are refused and all else goes on.
fn this_program() -> PathBuf {
    std::env::current_exe().unwrap_or_default()
}

impl Hub {
    /// On a database file.
    ///
    /// # Errors
    /// Where it cannot be opened.
    pub fn open(data: &Path, join: JoinCode) -> Result<Arc<Self>, StoreError> {
        let door = Door::new(Some(data.to_owned()), addresses);
        Ok(Self::new(Store::open(data)?, join, this_program(), door))
    }

    /// On a database that is gone when the program ends.
    ///
    /// # Errors
    /// Where no temporary folder can be made, or no database in it.
    pub fn temporary(join: JoinCode) -> anyhow::Result<Arc<Self>> {
        Self::in_a_folder(join, this_program(), Door::new(None, addresses))
    }

    /// The same for tests: the program that draws foreign drawings is another than this one, and no other machine gets in.
    ///
    /// # Errors
    /// As [`Hub::temporary`].
    pub fn temporary_with(join: JoinCode, program: PathBuf) -> anyhow::Result<Arc<Self>> {
        Self::in_a_folder(join, program, Door::new(None, || vec![Ipv4Addr::LOCALHOST]))
    }

    fn in_a_folder(join: JoinCode, program: PathBuf, door: Door) -> anyhow::Result<Arc<Self>> {
        let folder = tempfile::tempdir()?;
        let path = folder.path().join("wayfinder.db");
        Ok(Self::new(Store::open_temporary(&path, Box::new(folder))?, join, program, door))
    }

    fn new(store: Store, join: JoinCode, program: PathBuf, door: Door) -> Arc<Self> {
        Arc::new(Self {
            store,
            gate: Gate::new(join),
            door,
            drawer: Drawer::new(program),
            known: Mutex::default(),
            forecasts: Mutex::default(),
            glances: Mutex::default(),
            listeners: Mutex::default(),
            present: Mutex::default(),
            stand_ins: Mutex::default(),
        })
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
        let glance = upkeep::glance(&house, self.known(id)?.beliefs(), now.timestamp());
        lock(&self.glances).insert(id, (house.revision, now.date(), glance.clone()));
        Ok(glance)
    }

    /// A device says that it is there: who is, or was lately, in order of their names.
    pub(crate) fn hello(&self, id: HouseId, hello: Hello, now: Instant) -> Vec<Present> {
        let mut present = lock(&self.present);
        let here = present.entry(id).or_default();
        here.insert(hello.device.clone(), (hello, now));
        here.retain(|_, (_, heard)| now.duration_since(*heard) < FORGOTTEN);
        let mut all: Vec<Present> = here
            .values()
            .map(|(hello, heard)| Present { hello: hello.clone(), silent: now.duration_since(*heard).as_secs_f64() })
            .collect();
        all.sort_by(|a, b| a.hello.device.cmp(&b.hello.device));
        all
    }

    /// The tools of a house answer from this truth from now on.
    pub fn set_stand_in(&self, id: HouseId, stand_in: StandIn) {
        lock(&self.stand_ins).insert(id, Arc::new(stand_in));
    }

    /// The stand-ins of a house, where it has any.
    pub(crate) fn stand_in(&self, id: HouseId) -> Option<Arc<StandIn>> {
        lock(&self.stand_ins).get(&id).cloned()
    }

    /// How many houses there are.
    ///
    /// # Errors
    /// What the database says.
    pub fn count(&self) -> Result<usize, StoreError> {
        Ok(self.store.houses()?.len())
    }

    /// A house as it stands; from memory while its revision is the newest.
    ///
    /// # Errors
    /// Where there is none, or what the database says.
    pub fn house(&self, id: HouseId) -> Result<Arc<House>, StoreError> {
        self.store.house(id)
    }

    /// A house as it stands with what is worked out of it, shared by all who read it at this revision.
    pub(crate) fn known(&self, id: HouseId) -> Result<Arc<Known>, StoreError> {
        let house = self.house(id)?;
        let mut known = lock(&self.known);
        let same = |known: &&Arc<Known>| known.house().revision == house.revision;
        if let Some(known) = known.get(&id).filter(same) {
            return Ok(known.clone());
        }
        let fresh = Arc::new(Known::new(house));
        known.insert(id, fresh.clone());
        Ok(fresh)
    }

    /// What these ways of tracing would come to: played once for a step and crew. Whoever asks meanwhile waits for it.
    pub(crate) fn forecast(&self, id: HouseId, crew: &Crew, methods: &[Method]) -> Result<Vec<Forecast>, ApiError> {
        let known = self.known(id)?;
        let forecasts = self.forecasts(id);
        let mut forecasts = lock(&forecasts);
        forecasts.are_of(known.house());
        // The way is what is compared, not part of who traces.
        let crew = Crew { method: Method::default(), ..crew.clone() };
        let mut told = Vec::new();
        for method in methods {
            let kept = forecasts.by_crew.iter().find(|(by, forecast)| *by == crew && forecast.method == *method);
            let forecast = match kept {
                Some((_, forecast)) => forecast.clone(),
                None => {
                    let forecast = practice::forecast(known.tracker(), &crew, *method)?;
                    forecasts.by_crew.push((crew.clone(), forecast.clone()));
                    forecast
                }
            };
            told.push(forecast);
        }
        Ok(told)
    }

    /// What each help would save this crew: played once for a step and crew as well.
    pub(crate) fn helps(&self, id: HouseId, crew: &Crew) -> Result<Vec<Saving>, ApiError> {
        let known = self.known(id)?;
        let forecasts = self.forecasts(id);
        let mut forecasts = lock(&forecasts);
        forecasts.are_of(known.house());
        if let Some((_, savings)) = forecasts.helps.iter().find(|(by, _)| by == crew) {
            return Ok(savings.clone());
        }
        let savings = practice::helps(known.tracker(), crew)?;
        forecasts.helps.push((crew.clone(), savings.clone()));
        Ok(savings)
    }

    fn forecasts(&self, id: HouseId) -> Arc<Mutex<Forecasts>> {
        lock(&self.forecasts).entry(id).or_default().clone()
    }

    pub(crate) fn commit(
        &self,
        id: HouseId,
        base: Option<u64>,
        change: &Change,
        author: &Author,
    ) -> Result<Committed, StoreError> {
        self.commit_if(id, base, change, author, |_, _| Ok(()))
    }

    /// The same where who asks agrees with the house before and after.
    pub(crate) fn commit_if<E: From<StoreError>>(
        &self,
        id: HouseId,
        base: Option<u64>,
        change: &Change,
        author: &Author,
        agrees: impl FnOnce(&House, &House) -> Result<(), E>,
    ) -> Result<Committed, E> {
        let committed = self.store.commit_if(id, base, change, author, agrees)?;
        self.tell(id, committed.revision);
        Ok(committed)
    }

    pub(crate) fn undo(&self, id: HouseId, which: &[u64], author: &Author) -> Result<Committed, StoreError> {
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
