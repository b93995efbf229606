//! A collection of things that each carry their own id; a list in files, a map in memory.

use std::collections::BTreeMap;
use std::sync::Arc;

use serde::{Deserialize, Deserializer, Serialize, Serializer};

/// A thing with an id of its own.
pub trait Entity {
    /// The id's type.
    type Id: Copy + Ord + std::fmt::Debug;

    /// This thing's id.
    fn id(&self) -> Self::Id;
}

/// Things by id. Ids grow with time, so the order of ids is the order of creation.
///
/// A copy shares its things with the original: every change of a house begins with a copy of it, and touches few things.
#[derive(Debug, PartialEq)]
pub struct Table<T: Entity>(Arc<BTreeMap<T::Id, Arc<T>>>);

impl<T: Entity> Default for Table<T> {
    fn default() -> Self {
        Self(Arc::default())
    }
}

impl<T: Entity> Clone for Table<T> {
    fn clone(&self) -> Self {
        Self(Arc::clone(&self.0))
    }
}

impl<T: Entity> Table<T> {
    /// The thing with this id.
    #[must_use]
    pub fn get(&self, id: T::Id) -> Option<&T> {
        self.0.get(&id).map(AsRef::as_ref)
    }

    /// Adds or replaces.
    pub fn put(&mut self, thing: T) {
        Arc::make_mut(&mut self.0).insert(thing.id(), Arc::new(thing));
    }

    /// Takes the thing out.
    pub fn remove(&mut self, id: T::Id) {
        Arc::make_mut(&mut self.0).remove(&id);
    }

    /// All, oldest first.
    pub fn iter(&self) -> impl DoubleEndedIterator<Item = &T> + Clone {
        self.0.values().map(AsRef::as_ref)
    }

    /// How many there are.
    #[must_use]
    pub fn len(&self) -> usize {
        self.0.len()
    }

    /// True when there is none.
    #[must_use]
    pub fn is_empty(&self) -> bool {
        self.0.is_empty()
    }
}

impl<T: Entity> FromIterator<T> for Table<T> {
    fn from_iter<I: IntoIterator<Item = T>>(things: I) -> Self {
        Self(Arc::new(things.into_iter().map(|t| (t.id(), Arc::new(t))).collect()))
    }
}

impl<T: Entity + Serialize> Serialize for Table<T> {
    fn serialize<S: Serializer>(&self, s: S) -> Result<S::Ok, S::Error> {
        s.collect_seq(self.iter())
    }
}

impl<'de, T: Entity + Deserialize<'de>> Deserialize<'de> for Table<T> {
    fn deserialize<D: Deserializer<'de>>(d: D) -> Result<Self, D::Error> {
        let list = Vec::<T>::deserialize(d)?;
        let count = list.len();
        let table: Self = list.into_iter().collect();
        if table.len() == count { Ok(table) } else { Err(serde::de::Error::custom("two entries have the same id")) }
    }
}
