//! The one door for edits: a [`Change`] says what a person means; [`House::apply`] turns it into [`Edit`]s of single
//! things, applies them and checks the whole. The edits are what a store writes, what undo turns round and what two
//! devices are compared by.

use std::collections::BTreeSet;

use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

use crate::catalog;
use crate::house::{
    About, Breaker, BreakerId, Evidence, EvidenceId, Handle, House, Panel, PanelId, Point, PointId, Room, RoomId, Step,
};
use crate::integrity;

/// What a person wants changed.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(tag = "type", rename_all = "kebab-case", deny_unknown_fields)]
pub enum Change {
    /// New name or settings.
    SetAbout {
        /// As it shall be.
        about: About,
    },
    /// Adds a panel or replaces the one with its id.
    PutPanel {
        /// As it shall be.
        panel: Panel,
    },
    /// Takes out a panel with its breakers and what was observed of them.
    RemovePanel {
        /// Which.
        panel: PanelId,
    },
    /// Adds a breaker or replaces the one with its id; spaces it takes are no longer marked empty.
    PutBreaker {
        /// As it shall be.
        breaker: Breaker,
    },
    /// Takes out a breaker and what was observed with it.
    RemoveBreaker {
        /// Which.
        breaker: BreakerId,
    },
    /// Says that a space was looked at and is empty, or takes that back.
    MarkEmpty {
        /// The panel.
        panel: PanelId,
        /// The space.
        space: u16,
        /// Empty or not.
        empty: bool,
    },
    /// Says where handles stand.
    SetHandles {
        /// Breakers and their handles.
        handles: Vec<HandleAt>,
    },
    /// Adds a room or replaces the one with its id.
    PutRoom {
        /// As it shall be.
        room: Room,
    },
    /// Takes out a room with its points and what was observed of them.
    RemoveRoom {
        /// Which.
        room: RoomId,
    },
    /// Adds points to a room; they get the room's next free tags and the ids from `first` on.
    AddPoints {
        /// The room.
        room: RoomId,
        /// The id of the first.
        first: PointId,
        /// What to add.
        items: Vec<catalog::Item>,
    },
    /// Adds a point or replaces the one with its id.
    PutPoint {
        /// As it shall be.
        point: Point,
    },
    /// Takes out a point and what was observed of it.
    RemovePoint {
        /// Which.
        point: PointId,
    },
    /// Adds an observation.
    Record {
        /// What was observed.
        evidence: Evidence,
    },
    /// Takes back an observation.
    Retract {
        /// Which.
        evidence: EvidenceId,
    },
    /// Handles have been moved as advised and the tour begins: `off` are off, all others on.
    BeginStep {
        /// The step.
        step: Step,
    },
    /// The tour is over; handles stay as they are.
    EndStep,
    /// Several at once: all or none.
    Batch {
        /// In this order.
        #[schema(no_recursion)]
        changes: Vec<Change>,
    },
}

/// A breaker and where its handle stands.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct HandleAt {
    /// Which breaker.
    pub breaker: BreakerId,
    /// Its handle.
    pub handle: Handle,
}

/// A thing before and after; absent before it was added, absent after it was taken out.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
pub struct Swap<T> {
    /// As it was.
    pub before: Option<T>,
    /// As it became.
    pub after: Option<T>,
}

/// A change of a single thing.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[serde(tag = "thing", rename_all = "kebab-case")]
pub enum Edit {
    /// Name and settings.
    About(Swap<About>),
    /// A panel.
    Panel(Swap<Panel>),
    /// A breaker.
    Breaker(Swap<Breaker>),
    /// A room.
    Room(Swap<Room>),
    /// A point.
    Point(Swap<Point>),
    /// A piece of evidence.
    Evidence(Swap<Evidence>),
    /// The step under way.
    Step(Swap<Step>),
}

/// The single thing that an edit touches.
#[derive(Debug, Clone, Copy, PartialEq, Eq, PartialOrd, Ord, Serialize, Deserialize, ToSchema)]
#[serde(tag = "thing", content = "id", rename_all = "kebab-case")]
pub enum Subject {
    /// Name and settings.
    About,
    /// A panel.
    Panel(PanelId),
    /// A breaker.
    Breaker(BreakerId),
    /// A room.
    Room(RoomId),
    /// A point.
    Point(PointId),
    /// A piece of evidence.
    Evidence(EvidenceId),
    /// The step under way.
    Step,
}

/// A house after a change, and how it came about.
#[derive(Debug, Clone, PartialEq)]
pub struct Applied {
    /// The new house, its revision one higher.
    pub house: House,
    /// What was done to single things, in order.
    pub edits: Vec<Edit>,
}

/// Why a change cannot be: which field is at fault, and in the user's words what is wrong with it.
#[derive(Debug, Clone, PartialEq, Eq, thiserror::Error, Serialize, ToSchema)]
#[error("{field}: {message}")]
pub struct Invalid {
    /// The field at fault, as a path: `breaker.at`.
    pub field: String,
    /// What is wrong and what would be right.
    pub message: String,
}

impl Invalid {
    /// A fault of a field.
    pub fn new(field: impl Into<String>, message: impl Into<String>) -> Self {
        Self { field: field.into(), message: message.into() }
    }
}

impl<T> Swap<T> {
    fn invert(self) -> Self {
        Self { before: self.after, after: self.before }
    }

    fn either(&self) -> Option<&T> {
        self.after.as_ref().or(self.before.as_ref())
    }
}

impl Edit {
    /// The edit that takes this one back.
    #[must_use]
    pub fn invert(self) -> Self {
        match self {
            Self::About(s) => Self::About(s.invert()),
            Self::Panel(s) => Self::Panel(s.invert()),
            Self::Breaker(s) => Self::Breaker(s.invert()),
            Self::Room(s) => Self::Room(s.invert()),
            Self::Point(s) => Self::Point(s.invert()),
            Self::Evidence(s) => Self::Evidence(s.invert()),
            Self::Step(s) => Self::Step(s.invert()),
        }
    }

    /// What it touches; nothing for an edit from nothing to nothing.
    #[must_use]
    pub fn subject(&self) -> Option<Subject> {
        match self {
            Self::About(s) => s.either().map(|_| Subject::About),
            Self::Panel(s) => s.either().map(|x| Subject::Panel(x.id)),
            Self::Breaker(s) => s.either().map(|x| Subject::Breaker(x.id)),
            Self::Room(s) => s.either().map(|x| Subject::Room(x.id)),
            Self::Point(s) => s.either().map(|x| Subject::Point(x.id)),
            Self::Evidence(s) => s.either().map(|x| Subject::Evidence(x.id)),
            Self::Step(s) => s.either().map(|_| Subject::Step),
        }
    }
}

/// The edits that take these back, in the order to apply them.
#[must_use]
pub fn invert(edits: Vec<Edit>) -> Vec<Edit> {
    edits.into_iter().rev().map(Edit::invert).collect()
}

/// What a list of edits touches.
#[must_use]
pub fn subjects(edits: &[Edit]) -> BTreeSet<Subject> {
    edits.iter().filter_map(Edit::subject).collect()
}

impl House {
    /// Makes the change, or says why it cannot be. The house itself stays as it is.
    ///
    /// # Errors
    /// [`Invalid`] names the field at fault.
    pub fn apply(&self, change: &Change) -> Result<Applied, Invalid> {
        let mut work = Work { house: self.clone(), edits: Vec::new() };
        work.change(change)?;
        work.finish(self)
    }

    /// Applies edits made elsewhere (an undo, a replay). Each must find its thing as it was before.
    ///
    /// # Errors
    /// [`Invalid`] where something has changed since or the result would not hold together.
    pub fn apply_edits(&self, edits: Vec<Edit>) -> Result<Applied, Invalid> {
        let mut work = Work { house: self.clone(), edits: Vec::new() };
        for edit in edits {
            work.expect_before(&edit)?;
            work.edit(edit);
        }
        work.finish(self)
    }
}

/// A house being changed, with the edits so far.
struct Work {
    house: House,
    edits: Vec<Edit>,
}

macro_rules! put_and_remove {
    ($put:ident, $remove:ident, $table:ident, $thing:ident, $id:ident, $word:literal) => {
        fn $put(&mut self, thing: $thing) {
            let before = self.house.$table.get(thing.id).cloned();
            self.edit(Edit::$thing(Swap { before, after: Some(thing) }));
        }

        fn $remove(&mut self, id: $id) -> Result<(), Invalid> {
            let before = self.house.$table.get(id).cloned().ok_or_else(|| gone($word, id.0))?;
            self.edit(Edit::$thing(Swap { before: Some(before), after: None }));
            Ok(())
        }
    };
}

fn gone(word: &str, id: u64) -> Invalid {
    Invalid::new(word, format!("there is no {word} with id {id} (any more)"))
}

impl Work {
    put_and_remove!(put_panel, drop_panel, panels, Panel, PanelId, "panel");
    put_and_remove!(put_breaker, drop_breaker, breakers, Breaker, BreakerId, "breaker");
    put_and_remove!(put_room, drop_room, rooms, Room, RoomId, "room");
    put_and_remove!(put_point, drop_point, points, Point, PointId, "point");
    put_and_remove!(put_evidence, drop_evidence, evidence, Evidence, EvidenceId, "evidence");

    fn finish(self, old: &House) -> Result<Applied, Invalid> {
        let Self { mut house, mut edits } = self;
        edits.retain(|e| !is_idle(e));
        integrity::check(&house)?;
        house.revision = old.revision + 1;
        Ok(Applied { house, edits })
    }

    fn edit(&mut self, edit: Edit) {
        let house = &mut self.house;
        match edit.clone() {
            Edit::About(Swap { after, .. }) => house.about = after.unwrap_or_else(|| house.about.clone()),
            Edit::Panel(s) => swap_in(&mut house.panels, s),
            Edit::Breaker(s) => swap_in(&mut house.breakers, s),
            Edit::Room(s) => swap_in(&mut house.rooms, s),
            Edit::Point(s) => swap_in(&mut house.points, s),
            Edit::Evidence(s) => swap_in(&mut house.evidence, s),
            Edit::Step(s) => house.step = s.after,
        }
        self.edits.push(edit);
    }

    fn expect_before(&self, edit: &Edit) -> Result<(), Invalid> {
        let house = &self.house;
        let as_it_was = match edit {
            Edit::About(s) => s.before.as_ref() == Some(&house.about),
            Edit::Panel(s) => stands(&house.panels, s),
            Edit::Breaker(s) => stands(&house.breakers, s),
            Edit::Room(s) => stands(&house.rooms, s),
            Edit::Point(s) => stands(&house.points, s),
            Edit::Evidence(s) => stands(&house.evidence, s),
            Edit::Step(s) => s.before == house.step,
        };
        if as_it_was {
            return Ok(());
        }
        Err(Invalid::new("revision", "what this would take back has been changed again since"))
    }

    fn change(&mut self, change: &Change) -> Result<(), Invalid> {
        match change {
            Change::SetAbout { about } => {
                let before = Some(self.house.about.clone());
                self.edit(Edit::About(Swap { before, after: Some(about.clone()) }));
            }
            Change::PutPanel { panel } => self.put_panel(panel.clone()),
            Change::RemovePanel { panel } => self.remove_panel(*panel)?,
            Change::PutBreaker { breaker } => self.place_breaker(breaker),
            Change::RemoveBreaker { breaker } => self.remove_breaker(*breaker)?,
            Change::MarkEmpty { panel, space, empty } => self.mark_empty(*panel, *space, *empty)?,
            Change::SetHandles { handles } => self.set_handles(handles)?,
            Change::PutRoom { room } => self.put_room(room.clone()),
            Change::RemoveRoom { room } => self.remove_room(*room)?,
            Change::AddPoints { room, first, items } => self.add_points(*room, *first, items)?,
            Change::PutPoint { point } => self.put_point(point.clone()),
            Change::RemovePoint { point } => self.remove_point(*point)?,
            Change::Record { evidence } => {
                if self.house.evidence.get(evidence.id).is_some() {
                    return Err(Invalid::new("evidence.id", "an observation with this id is already recorded"));
                }
                self.put_evidence(evidence.clone());
            }
            Change::Retract { evidence } => self.drop_evidence(*evidence)?,
            Change::BeginStep { step } => self.begin_step(step)?,
            Change::EndStep => self.set_step(None),
            Change::Batch { changes } => {
                for change in changes {
                    self.change(change)?;
                }
            }
        }
        Ok(())
    }

    fn place_breaker(&mut self, breaker: &Breaker) {
        if let Some(panel) = self.house.panels.get(breaker.panel) {
            let mut panel = panel.clone();
            let marked = panel.empty.len();
            panel.empty.retain(|space| breaker.at.iter().all(|p| p.space != *space));
            if panel.empty.len() < marked {
                self.put_panel(panel);
            }
        }
        self.put_breaker(breaker.clone());
    }

    fn mark_empty(&mut self, panel: PanelId, space: u16, empty: bool) -> Result<(), Invalid> {
        let mut panel = self.house.panels.get(panel).cloned().ok_or_else(|| gone("panel", panel.0))?;
        if empty {
            panel.empty.insert(space);
        } else {
            panel.empty.remove(&space);
        }
        self.put_panel(panel);
        Ok(())
    }

    fn set_handles(&mut self, handles: &[HandleAt]) -> Result<(), Invalid> {
        for HandleAt { breaker, handle } in handles {
            let old = self.house.breakers.get(*breaker).cloned().ok_or_else(|| gone("breaker", breaker.0))?;
            self.put_breaker(Breaker { handle: *handle, ..old });
        }
        Ok(())
    }

    fn begin_step(&mut self, step: &Step) -> Result<(), Invalid> {
        let handles: Vec<_> = self
            .house
            .breakers
            .iter()
            .map(|b| HandleAt {
                breaker: b.id,
                handle: if step.off.contains(&b.id) { Handle::Off } else { Handle::On },
            })
            .filter(|h| self.house.breakers.get(h.breaker).is_some_and(|b| b.handle != h.handle))
            .collect();
        self.set_handles(&handles)?;
        self.set_step(Some(step.clone()));
        Ok(())
    }

    fn set_step(&mut self, after: Option<Step>) {
        let before = self.house.step.clone();
        self.edit(Edit::Step(Swap { before, after }));
    }

    fn add_points(&mut self, room: RoomId, first: PointId, items: &[catalog::Item]) -> Result<(), Invalid> {
        let room = self.house.rooms.get(room).cloned().ok_or_else(|| gone("room", room.0))?;
        for point in catalog::points(&self.house, &room, first, items)? {
            if self.house.points.get(point.id).is_some() {
                return Err(Invalid::new("first", format!("there is already a point with id {}", point.id.0)));
            }
            self.put_point(point);
        }
        Ok(())
    }

    fn remove_panel(&mut self, panel: PanelId) -> Result<(), Invalid> {
        let inside: Vec<_> = self.house.breakers.iter().filter(|b| b.panel == panel).map(|b| b.id).collect();
        for breaker in inside {
            self.remove_breaker(breaker)?;
        }
        self.drop_panel(panel)
    }

    /// Evidence made with the breaker off goes too: without that breaker it would accuse the others.
    fn remove_breaker(&mut self, breaker: BreakerId) -> Result<(), Invalid> {
        if let Some(sub) = self.house.panel_fed_by(breaker) {
            let message = format!("it feeds the panel {}; say first what feeds that", sub.name);
            return Err(Invalid::new("breaker", message));
        }
        self.drop_evidence_where(|e| e.observation.breakers().any(|b| b == breaker))?;
        if self.house.step.as_ref().is_some_and(|s| s.off.contains(&breaker)) {
            self.set_step(None);
        }
        self.drop_breaker(breaker)
    }

    fn remove_room(&mut self, room: RoomId) -> Result<(), Invalid> {
        let inside: Vec<_> = self.house.points.iter().filter(|p| p.room == room).map(|p| p.id).collect();
        for point in inside {
            self.remove_point(point)?;
        }
        self.drop_room(room)
    }

    fn remove_point(&mut self, point: PointId) -> Result<(), Invalid> {
        self.drop_evidence_where(|e| e.point == point)?;
        if let Some(mut step) = self.house.step.clone() {
            step.visit.retain(|p| *p != point);
            self.set_step(Some(step));
        }
        self.drop_point(point)
    }

    fn drop_evidence_where(&mut self, which: impl Fn(&Evidence) -> bool) -> Result<(), Invalid> {
        let ids: Vec<_> = self.house.evidence.iter().filter(|e| which(e)).map(|e| e.id).collect();
        ids.into_iter().try_for_each(|id| self.drop_evidence(id))
    }
}

fn swap_in<T: crate::table::Entity>(table: &mut crate::table::Table<T>, swap: Swap<T>) {
    match (swap.before, swap.after) {
        (_, Some(after)) => drop(table.put(after)),
        (Some(before), None) => drop(table.remove(before.id())),
        (None, None) => {}
    }
}

fn stands<T: crate::table::Entity + PartialEq>(table: &crate::table::Table<T>, swap: &Swap<T>) -> bool {
    let id = swap.either().map(crate::table::Entity::id);
    id.is_some_and(|id| table.get(id) == swap.before.as_ref())
}

fn is_idle(edit: &Edit) -> bool {
    match edit {
        Edit::About(s) => s.before == s.after,
        Edit::Panel(s) => s.before == s.after,
        Edit::Breaker(s) => s.before == s.after,
        Edit::Room(s) => s.before == s.after,
        Edit::Point(s) => s.before == s.after,
        Edit::Evidence(s) => s.before == s.after,
        Edit::Step(s) => s.before == s.after,
    }
}

#[cfg(test)]
mod tests;
