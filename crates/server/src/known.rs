//! A house as it stands at one revision, and what is worked out of it, once for all who read.

use std::sync::{Arc, OnceLock};

use wayfinder_core::House;
use wayfinder_core::trace::{Beliefs, Tracker};

self_cell::self_cell! {
    struct Tracked {
        owner: Arc<House>,
        #[covariant]
        dependent: Tracker,
    }
}

/// A house, and what is believed of it.
pub struct Known {
    house: Arc<House>,
    tracked: OnceLock<Tracked>,
    beliefs: OnceLock<Beliefs>,
    lean: OnceLock<Beliefs>,
}

impl Known {
    /// Of a house; nothing is worked out before it is asked for.
    #[must_use]
    pub fn new(house: Arc<House>) -> Self {
        Self { house, tracked: OnceLock::new(), beliefs: OnceLock::new(), lean: OnceLock::new() }
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
        self.beliefs.get_or_init(|| self.tracker().beliefs())
    }

    /// What a page shows of all points at once.
    pub fn lean(&self) -> &Beliefs {
        self.lean.get_or_init(|| self.beliefs().lean())
    }
}
