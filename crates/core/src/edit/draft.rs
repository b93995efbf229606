//! A house being changed: what cascades of edits work on.
//!
//! A draft takes single puts and removals and does what they bring along (what was observed of a breaker that goes, the
//! other half of an empty space). The result is checked as a whole when it is finished.

mod panels;
mod places;
mod records;
mod tracing;

use std::collections::{BTreeMap, BTreeSet};

use super::{Edit, Swap, Thing, integrity};
use crate::base::Invalid;
use crate::base::table::Entity;
use crate::house::{BreakerId, House, PictureOf, PointId, Remark};

/// For each point the breakers that may feed it.
pub(crate) type MayFeed = BTreeMap<PointId, BTreeSet<BreakerId>>;

/// What entering or taking out a thing brings along: nothing, unless its sort says otherwise.
pub(crate) trait Cascades: Thing {
    /// Enters it, or replaces the one with its id.
    fn enter(self, draft: &mut Draft) -> Result<(), Invalid> {
        draft.put(self);
        Ok(())
    }

    /// Takes it out, with what hangs on it.
    fn take_out(draft: &mut Draft, id: Self::Id) -> Result<(), Invalid> {
        draft.drop::<Self>(id)
    }
}

/// A house after a change, and how it came about.
#[derive(Debug, Clone, PartialEq)]
pub struct Applied {
    /// The new house, its revision one higher.
    pub house: House,
    /// What was done to single things, in order.
    pub edits: Vec<Edit>,
}

/// A house being changed, with the edits so far.
#[derive(Clone)]
pub(crate) struct Draft {
    /// As it stands now.
    pub house: House,
    edits: Vec<Edit>,
    may_feed: fn(&House) -> MayFeed,
}

impl Draft {
    /// Begins to change a house. `may_feed` is asked where a breaker goes that something was observed of.
    pub fn new(house: &House, may_feed: fn(&House) -> MayFeed) -> Self {
        Self { house: house.clone(), edits: Vec::new(), may_feed }
    }

    /// Checks the whole and gives it out as one change.
    ///
    /// # Errors
    /// The first thing that cannot be, with the field at fault.
    pub fn finish(mut self) -> Result<Applied, Invalid> {
        self.drop_bare_remarks();
        integrity::check(&self.house)?;
        self.planned()
    }

    /// The same of what is only planned: what a rule says of it is for the plan to tell.
    ///
    /// # Errors
    /// The first thing that cannot be, with the field at fault.
    pub fn planned(mut self) -> Result<Applied, Invalid> {
        self.drop_bare_remarks();
        let Self { mut house, mut edits, .. } = self;
        edits.retain(|e| !e.is_idle());
        integrity::whole(&house)?;
        house.revision += 1;
        Ok(Applied { house, edits })
    }

    /// The edits so far, in their order.
    pub fn so_far(&self) -> &[Edit] {
        &self.edits
    }

    /// Makes one edit.
    pub fn edit(&mut self, edit: Edit) {
        edit.make(&mut self.house);
        self.edits.push(edit);
    }

    /// Adds a thing or replaces the one with its id.
    pub fn put<T: Thing>(&mut self, thing: T) {
        let before = T::table(&self.house).get(thing.id()).cloned();
        self.edit(T::edit(Swap { before, after: Some(thing) }));
    }

    /// The thing with this id.
    ///
    /// # Errors
    /// Where there is none.
    pub fn find<T: Thing>(&self, id: T::Id) -> Result<T, Invalid> {
        T::table(&self.house).get(id).cloned().ok_or_else(|| Invalid::gone(T::WORD, T::number(id)))
    }

    /// Takes a thing out, and nothing else.
    ///
    /// # Errors
    /// Where there is none.
    pub fn drop<T: Thing>(&mut self, id: T::Id) -> Result<(), Invalid> {
        let before = self.find::<T>(id)?;
        self.edit(T::edit(Swap { before: Some(before), after: None }));
        Ok(())
    }

    /// Adds what must not be there yet.
    ///
    /// # Errors
    /// Where it is.
    pub fn add<T: Thing>(&mut self, field: &str, thing: T) -> Result<(), Invalid> {
        if T::table(&self.house).get(thing.id()).is_some() {
            return Err(Invalid::new(field, format!("there is already a {} with this id", T::WORD)));
        }
        self.put(thing);
        Ok(())
    }

    fn drop_where<T: Thing>(&mut self, which: impl Fn(&T) -> bool) -> Result<(), Invalid> {
        let ids: Vec<_> = T::table(&self.house).iter().filter(|t| which(t)).map(Entity::id).collect();
        ids.into_iter().try_for_each(|id| self.drop::<T>(id))
    }

    /// What was remarked of a thing goes with it, whichever way that goes: one by one, or as the end of work.
    fn drop_bare_remarks(&mut self) {
        let bare: Vec<Remark> = self.house.remarks.iter().filter(|r| !self.house.has(r.of)).cloned().collect();
        bare.into_iter().for_each(|r| self.edit(Edit::Remark(Swap { before: Some(r), after: None })));
    }

    /// Changes every thing of a sort for which `with` gives a new one.
    fn rewrite<T: Thing>(&mut self, with: impl Fn(&T) -> Option<T>) {
        let changed: Vec<_> = T::table(&self.house).iter().filter_map(with).collect();
        changed.into_iter().for_each(|thing| self.put(thing));
    }

    fn drop_pictures(&mut self, which: impl Fn(&PictureOf) -> bool) -> Result<(), Invalid> {
        self.drop_where::<crate::house::Picture>(|p| which(&p.of))
    }
}
