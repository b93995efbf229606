//! A house as it stands at one revision, and what is worked out of it, once for all who read.

use std::collections::HashMap;
use std::hash::{DefaultHasher, Hash, Hasher};
use std::sync::{Arc, Mutex, OnceLock, PoisonError};

use axum::body::Bytes;
use serde::Serialize;
use wayfinder_core::House;
use wayfinder_core::load::Loaded;
use wayfinder_core::load::draws::{Draws, draws};
use wayfinder_core::trace::{Beliefs, Tracker};

use crate::error::ApiError;

self_cell::self_cell! {
    struct Tracked {
        owner: Arc<House>,
        #[covariant]
        dependent: Tracker,
    }
}

self_cell::self_cell! {
    struct Worked {
        owner: (Arc<House>, Arc<Beliefs>, Draws),
        #[covariant]
        dependent: Loaded,
    }
}

/// A house, and what is believed of it.
pub struct Known {
    house: Arc<House>,
    tracked: OnceLock<Tracked>,
    beliefs: OnceLock<Arc<Beliefs>>,
    lean: OnceLock<Beliefs>,
    loaded: OnceLock<Worked>,
    /// Names what it says, whatever it is called: another house may stand at the same address with the same revision.
    mark: OnceLock<String>,
    /// Answers as they were written, by what was asked.
    written: Mutex<HashMap<String, Bytes>>,
}

impl Known {
    /// Of a house; nothing is worked out before it is asked for.
    #[must_use]
    pub fn new(house: Arc<House>) -> Self {
        Self {
            house,
            tracked: OnceLock::new(),
            beliefs: OnceLock::new(),
            lean: OnceLock::new(),
            loaded: OnceLock::new(),
            mark: OnceLock::new(),
            written: Mutex::default(),
        }
    }

    /// The house.
    pub fn house(&self) -> &House {
        &self.house
    }

    /// What is believed of every point, with what it follows from.
    pub fn tracker(&self) -> &Tracker<'_> {
        let track = || Tracked::new(self.house.clone(), |house| Tracker::new(house));
        self.tracked.get_or_init(track).borrow_dependent()
    }

    /// The whole map, with reasons.
    pub fn beliefs(&self) -> &Beliefs {
        self.shared()
    }

    fn shared(&self) -> &Arc<Beliefs> {
        self.beliefs.get_or_init(|| Arc::new(self.tracker().beliefs()))
    }

    /// What is worked out of the loads.
    pub fn loaded(&self) -> &Loaded<'_> {
        let work = || {
            let (house, beliefs) = (self.house.clone(), self.shared().clone());
            let draws = draws(&house, &beliefs);
            Worked::new((house, beliefs, draws), |(house, beliefs, draws)| Loaded::new(house, beliefs, draws))
        };
        self.loaded.get_or_init(work).borrow_dependent()
    }

    /// An answer as JSON, written once for all who ask the same.
    ///
    /// # Errors
    /// What `answer` says.
    pub fn written<T: Serialize>(
        &self,
        asked: String,
        answer: impl FnOnce(&Self) -> Result<T, ApiError>,
    ) -> Result<Bytes, ApiError> {
        // Not held while the answer is worked out: two who ask at once write it twice, and the same.
        let kept = || self.written.lock().unwrap_or_else(PoisonError::into_inner);
        if let Some(bytes) = kept().get(&asked) {
            return Ok(bytes.clone());
        }
        let text = serde_json::to_vec(&answer(self)?).map_err(|e| ApiError::Internal(e.to_string()))?;
        let bytes = Bytes::from(text);
        kept().insert(asked, bytes.clone());
        Ok(bytes)
    }

    /// The tag of its document: the revision, and what the document says.
    pub fn tag(&self, document: &Bytes) -> &str {
        let mark = || {
            let mut hasher = DefaultHasher::new();
            document.hash(&mut hasher);
            format!("\"{}-{:x}\"", self.house.revision, hasher.finish())
        };
        self.mark.get_or_init(mark)
    }

    /// What a page shows of all points at once.
    pub fn lean(&self) -> &Beliefs {
        self.lean.get_or_init(|| self.beliefs().lean())
    }
}
