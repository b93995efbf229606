//! The one door for edits: a [`Change`] says what a person means; [`House::apply`] turns it into [`Edit`]s of single
//! things, applies them and checks the whole.

mod gone;

use jiff::Timestamp;
use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

pub use gone::{Cost, cost};

use crate::catalog;
use crate::directory;
use crate::edit::{Edit, Swap, Thing};
use crate::house::{
    About, Area, BoxId, Breaker, BreakerId, Circuit, CircuitId, Event, Evidence, EvidenceId, Handle, House, LogEntry,
    LogId, Opening, OpeningId, Outcome, Panel, PanelId, Picture, PictureId, PictureOf, Point, PointId, Printed, Room,
    RoomId, Run, Step, Underlay, UnderlayId, Wall,
};
use crate::integrity;
use crate::plan;
use crate::position::Position;
use crate::table::Entity;
use crate::trace;
use crate::units::Inches;

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
    /// Takes out a breaker and what was observed of it; what observations made with it off say of others stays.
    RemoveBreaker {
        /// Which.
        breaker: BreakerId,
    },
    /// Says that a space or half of one was looked at and is empty, or takes that back.
    MarkEmpty {
        /// The panel.
        panel: PanelId,
        /// The space: `5`, `5b`.
        #[schema(value_type = String)]
        space: Position,
        /// Empty or not.
        empty: bool,
    },
    /// Says where handles stand.
    SetHandles {
        /// Breakers and their handles.
        handles: Vec<HandleAt>,
    },
    /// Adds a circuit or replaces the one with its id.
    PutCircuit {
        /// As it shall be.
        circuit: Circuit,
    },
    /// Takes out a circuit.
    RemoveCircuit {
        /// Which.
        circuit: CircuitId,
    },
    /// Adds a room or replaces the one with its id.
    PutRoom {
        /// As it shall be.
        room: Room,
    },
    /// Draws a room on its floor's plan; edges close to a neighbour's are moved onto it.
    PlaceRoom {
        /// Which.
        room: RoomId,
        /// Where and how large.
        area: Area,
    },
    /// Draws a room of a given size against a side of another one, or else to the right of all that is drawn.
    PlaceBeside {
        /// Which.
        room: RoomId,
        /// From left to right.
        width: Inches,
        /// From top to bottom.
        depth: Inches,
        /// The other room.
        #[serde(default, skip_serializing_if = "Option::is_none")]
        beside: Option<RoomId>,
        /// Which side of the other room.
        side: Wall,
        /// From that side's left or top end to this room's.
        shift: Inches,
    },
    /// Takes out a room with its points and what was observed of them.
    RemoveRoom {
        /// Which.
        room: RoomId,
    },
    /// Adds a door, window, passage or stairs, or replaces the one with its id.
    PutOpening {
        /// As it shall be.
        opening: Opening,
    },
    /// Takes one out.
    RemoveOpening {
        /// Which.
        opening: OpeningId,
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
    /// Moves a point to a place of the plan, within its room and onto a wall that is near.
    PlacePoint {
        /// Which.
        point: PointId,
        /// On the plan.
        x: Inches,
        /// On the plan.
        y: Inches,
    },
    /// Takes out a point and what was observed of it.
    RemovePoint {
        /// Which.
        point: PointId,
    },
    /// Says that points share a box; a single point leaves the box it shared.
    ShareBox {
        /// Which.
        points: Vec<PointId>,
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
    /// Writes a line into the logbook; what happened to a breaker moves its handle.
    Log {
        /// The line.
        entry: LogEntry,
    },
    /// Takes a line out.
    RemoveLog {
        /// Which.
        entry: LogId,
    },
    /// Says that a panel's card was printed as it stands now.
    CardPrinted {
        /// The panel.
        panel: PanelId,
        /// When.
        #[schema(value_type = String, format = DateTime)]
        time: Timestamp,
    },
    /// Adds a picture or replaces the one with its id; its bytes have been stored before.
    PutPicture {
        /// As it shall be.
        picture: Picture,
    },
    /// Takes out a picture.
    RemovePicture {
        /// Which.
        picture: PictureId,
    },
    /// Lays a drawing under a floor's plan, or moves it.
    PutUnderlay {
        /// As it shall be.
        underlay: Underlay,
    },
    /// Sets a drawing's scale by one known length; the first place stays where it is on the plan.
    ScaleUnderlay {
        /// Which.
        underlay: UnderlayId,
        /// One end, as shares (0–1) of the picture's width and height.
        from: [f64; 2],
        /// The other end.
        to: [f64; 2],
        /// How long it really is.
        length: Inches,
    },
    /// Takes a drawing away from under its plan.
    RemoveUnderlay {
        /// Which.
        underlay: UnderlayId,
    },
    /// Begins a run, changes who traces with what, or ends it.
    PutRun {
        /// As it shall be.
        run: Run,
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
            edit.expect_before(&work.house)?;
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

pub(crate) fn gone(word: &str, id: u64) -> Invalid {
    Invalid::new(word, format!("there is no {word} with id {id} (any more)"))
}

impl Work {
    fn finish(self, old: &House) -> Result<Applied, Invalid> {
        let Self { mut house, mut edits } = self;
        edits.retain(|e| !e.is_idle());
        integrity::check(&house)?;
        house.revision = old.revision + 1;
        Ok(Applied { house, edits })
    }

    fn edit(&mut self, edit: Edit) {
        edit.make(&mut self.house);
        self.edits.push(edit);
    }

    fn put<T: Thing>(&mut self, thing: T) {
        let before = T::table(&self.house).get(thing.id()).cloned();
        self.edit(T::edit(Swap { before, after: Some(thing) }));
    }

    fn find<T: Thing>(&self, id: T::Id) -> Result<T, Invalid> {
        T::table(&self.house).get(id).cloned().ok_or_else(|| gone(T::WORD, T::number(id)))
    }

    fn drop<T: Thing>(&mut self, id: T::Id) -> Result<(), Invalid> {
        let before = self.find::<T>(id)?;
        self.edit(T::edit(Swap { before: Some(before), after: None }));
        Ok(())
    }

    /// Adds what must not be there yet.
    fn add<T: Thing>(&mut self, field: &str, thing: T) -> Result<(), Invalid> {
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

    /// Changes every thing of a sort for which `with` gives a new one.
    fn rewrite<T: Thing>(&mut self, with: impl Fn(&T) -> Option<T>) {
        let changed: Vec<_> = T::table(&self.house).iter().filter_map(with).collect();
        changed.into_iter().for_each(|thing| self.put(thing));
    }

    fn change(&mut self, change: &Change) -> Result<(), Invalid> {
        match change {
            Change::SetAbout { about } => {
                let before = Some(self.house.about.clone());
                self.edit(Edit::About(Swap { before, after: Some(about.clone()) }));
            }
            Change::PutPanel { panel } => self.put(panel.clone()),
            Change::RemovePanel { panel } => self.remove_panel(*panel)?,
            Change::PutBreaker { breaker } => self.place_breaker(breaker),
            Change::RemoveBreaker { breaker } => self.remove_breaker(*breaker)?,
            Change::MarkEmpty { panel, space, empty } => self.mark_empty(*panel, *space, *empty)?,
            Change::SetHandles { handles } => self.set_handles(handles)?,
            Change::PutCircuit { circuit } => self.put(circuit.clone()),
            Change::RemoveCircuit { circuit } => self.remove_circuit(*circuit)?,
            Change::PutRoom { room } => self.put(room.clone()),
            Change::PlaceRoom { room, area } => self.place_room(*room, *area)?,
            Change::PlaceBeside { room, width, depth, beside, side, shift } => {
                let room = self.find::<Room>(*room)?;
                let area = plan::beside(&self.house, &room, (*width, *depth), *beside, *side, *shift)?;
                self.put(Room { area: Some(area), ..room });
            }
            Change::RemoveRoom { room } => self.remove_room(*room)?,
            Change::PutOpening { opening } => self.put(opening.clone()),
            Change::RemoveOpening { opening } => self.drop::<Opening>(*opening)?,
            Change::AddPoints { room, first, items } => self.add_points(*room, *first, items)?,
            Change::PutPoint { point } => self.put(point.clone()),
            Change::PlacePoint { point, x, y } => {
                let point = self.find::<Point>(*point)?;
                let spot = Some(plan::dropped(&self.house, &point, *x, *y)?);
                self.put(Point { spot, ..point });
            }
            Change::RemovePoint { point } => self.remove_point(*point)?,
            Change::ShareBox { points } => self.share_box(points)?,
            Change::Record { evidence } => self.add("evidence.id", evidence.clone())?,
            Change::Retract { evidence } => self.drop::<Evidence>(*evidence)?,
            Change::Log { entry } => self.log(entry)?,
            Change::RemoveLog { entry } => self.drop::<LogEntry>(*entry)?,
            Change::CardPrinted { panel, time } => {
                let panel = self.find::<Panel>(*panel)?;
                let lines = directory::lines(&directory::card(&self.house, &trace::beliefs(&self.house), &panel));
                let printed = Some(Printed { time: *time, revision: self.house.revision, lines });
                self.put(Panel { printed, ..panel });
            }
            Change::PutPicture { picture } => self.put(picture.clone()),
            Change::RemovePicture { picture } => self.remove_picture(*picture)?,
            Change::PutUnderlay { underlay } => self.put(underlay.clone()),
            Change::ScaleUnderlay { underlay, from, to, length } => {
                let old = self.find::<Underlay>(*underlay)?;
                self.put(plan::scaled(&self.house, &old, *from, *to, *length)?);
            }
            Change::RemoveUnderlay { underlay } => self.drop::<Underlay>(*underlay)?,
            Change::PutRun { run } => self.put(run.clone()),
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
            let before = panel.empty.clone();
            // A half-size breaker found in an empty space leaves its other half empty.
            let beside =
                breaker.at.iter().filter(|p| before.contains(&Position::whole(p.space))).map(|p| p.other_half());
            panel.empty.extend(beside.collect::<Vec<_>>());
            panel.empty.retain(|empty| breaker.at.iter().all(|p| !p.overlaps(*empty)));
            if panel.empty != before {
                self.put(panel);
            }
        }
        self.put(breaker.clone());
    }

    fn mark_empty(&mut self, panel: PanelId, at: Position, empty: bool) -> Result<(), Invalid> {
        let mut panel = self.find::<Panel>(panel)?;
        let (whole, beside) = (Position::whole(at.space), at.other_half());
        // Two empty halves are an empty space.
        let other = at != whole && (panel.empty.contains(&whole) || panel.empty.contains(&beside));
        panel.empty.retain(|marked| !whole.covers(*marked));
        match (empty, other) {
            (true, true) => panel.empty.insert(whole),
            (true, false) => panel.empty.insert(at),
            (false, true) => panel.empty.insert(beside),
            (false, false) => false,
        };
        self.put(panel);
        Ok(())
    }

    fn set_handles(&mut self, handles: &[HandleAt]) -> Result<(), Invalid> {
        for HandleAt { breaker, handle } in handles {
            let old = self.find::<Breaker>(*breaker)?;
            self.put(Breaker { handle: *handle, ..old });
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
        let outages = handles.iter().filter(|h| h.handle == Handle::Off).count();
        if let Some(run) = self.house.run().cloned() {
            let outages = run.outages + u32::try_from(outages).unwrap_or(u32::MAX);
            self.put(Run { steps: run.steps + 1, outages, ..run });
        }
        self.set_handles(&handles)?;
        self.set_step(Some(step.clone()));
        Ok(())
    }

    fn set_step(&mut self, after: Option<Step>) {
        let before = self.house.step.clone();
        self.edit(Edit::Step(Swap { before, after }));
    }

    /// What happened moves handles: a trip leaves it tripped, a reset that held leaves it on.
    fn log(&mut self, entry: &LogEntry) -> Result<(), Invalid> {
        self.add("entry.id", entry.clone())?;
        let handle = match &entry.event {
            Event::Trip { .. } | Event::Reset { outcome: Outcome::AtOnce | Outcome::Later, .. } => Handle::Tripped,
            Event::Reset { outcome: Outcome::Held, .. } => Handle::On,
            _ => return Ok(()),
        };
        let handles: Vec<_> = entry.event.breaker().map(|breaker| HandleAt { breaker, handle }).into_iter().collect();
        self.set_handles(&handles)
    }

    fn place_room(&mut self, room: RoomId, area: Area) -> Result<(), Invalid> {
        let room = self.find::<Room>(room)?;
        let area = Some(plan::snapped(&self.house, &room, area));
        self.put(Room { area, ..room });
        Ok(())
    }

    fn add_points(&mut self, room: RoomId, first: PointId, items: &[catalog::Item]) -> Result<(), Invalid> {
        let room = self.find::<Room>(room)?;
        let made = catalog::points(&self.house, &room, first, items)?;
        made.into_iter().try_for_each(|point| self.add("first", point))
    }

    /// One box for all of them: that of the first that has one, else a new one. A single point leaves its box.
    fn share_box(&mut self, points: &[PointId]) -> Result<(), Invalid> {
        let all = points.iter().map(|p| self.find::<Point>(*p)).collect::<Result<Vec<_>, _>>()?;
        let newest = self.house.points.iter().filter_map(|p| p.shared_box).max();
        let fresh = BoxId(newest.map_or(1, |b| b.0 + 1));
        let shared_box = (all.len() > 1).then(|| all.iter().find_map(|p| p.shared_box).unwrap_or(fresh));
        for point in all {
            self.put(Point { shared_box, ..point });
        }
        Ok(())
    }

    fn remove_panel(&mut self, panel: PanelId) -> Result<(), Invalid> {
        let inside: Vec<_> = self.house.breakers.iter().filter(|b| b.panel == panel).map(|b| b.id).collect();
        for breaker in inside {
            self.remove_breaker(breaker)?;
        }
        self.drop_pictures(|of| *of == PictureOf::Panel { panel })?;
        let name = self.find::<Panel>(panel)?.name;
        self.keep_as_notes(&name, |event| event.panel() == Some(panel));
        self.drop::<Panel>(panel)
    }

    /// Of the evidence made with the breaker off stays what it says of the others. The logbook keeps its lines.
    fn remove_breaker(&mut self, breaker: BreakerId) -> Result<(), Invalid> {
        if let Some(sub) = self.house.panel_fed_by(breaker) {
            let message = format!("it feeds the panel {}; say first what feeds that", sub.name);
            return Err(Invalid::new("breaker", message));
        }
        let suspects = trace::suspects(&self.house);
        let speaks = |e: &&Evidence| e.observation.breakers().any(|b| b == breaker);
        for evidence in self.house.evidence.iter().filter(speaks).cloned().collect::<Vec<_>>() {
            match gone::without(&evidence, breaker, &suspects) {
                Some(left) => self.put(left),
                None => self.drop::<Evidence>(evidence.id)?,
            }
        }
        self.rewrite::<Run>(|r| {
            let mut changed = r.clone();
            changed.crew.keep_until.retain(|k| k.breaker != breaker);
            let kept = changed.crew.keep_on.remove(&breaker);
            let searched = changed.searched.remove(&breaker);
            (kept || searched).then_some(changed)
        });
        if self.house.step.as_ref().is_some_and(|s| s.off.contains(&breaker)) {
            self.set_step(None);
        }
        let circuits: Vec<_> = self.house.circuits.iter().filter(|c| c.breaker == breaker).map(|c| c.id).collect();
        for circuit in circuits {
            self.remove_circuit(circuit)?;
        }
        self.drop_pictures(|of| *of == PictureOf::Breaker { breaker })?;
        let name = self.house.breakers.get(breaker).map(|b| self.house.breaker_name(b)).unwrap_or_default();
        self.keep_as_notes(&format!("breaker {name}"), |event| event.breaker() == Some(breaker));
        self.drop::<Breaker>(breaker)
    }

    fn remove_circuit(&mut self, circuit: CircuitId) -> Result<(), Invalid> {
        self.rewrite::<Circuit>(|c| (c.neutral_of == Some(circuit)).then(|| Circuit { neutral_of: None, ..c.clone() }));
        self.drop_pictures(|of| *of == PictureOf::Circuit { circuit })?;
        self.drop::<Circuit>(circuit)
    }

    fn remove_room(&mut self, room: RoomId) -> Result<(), Invalid> {
        let inside: Vec<_> = self.house.points.iter().filter(|p| p.room == room).map(|p| p.id).collect();
        for point in inside {
            self.remove_point(point)?;
        }
        self.drop_where::<Opening>(|o| o.room == room || o.to == Some(room))?;
        self.rewrite::<Panel>(|p| {
            p.place.is_some_and(|place| place.room == room).then(|| Panel { place: None, ..p.clone() })
        });
        self.drop::<Room>(room)
    }

    fn remove_point(&mut self, point: PointId) -> Result<(), Invalid> {
        self.drop_where::<Evidence>(|e| e.point == point)?;
        if let Some(mut step) = self.house.step.clone() {
            step.visit.retain(|p| *p != point);
            self.set_step(Some(step));
        }
        self.rewrite::<Point>(|p| {
            let mut changed = p.clone();
            changed.protected_by = p.protected_by.filter(|d| *d != point);
            changed.switched_by.remove(&point);
            (changed != *p).then_some(changed)
        });
        self.drop_pictures(|of| *of == PictureOf::Point { point })?;
        let tag = self.find::<Point>(point)?.tag;
        self.keep_as_notes(&tag, |event| matches!(event, Event::DeviceTest { point: p, .. } if *p == point));
        self.rewrite::<LogEntry>(|entry| {
            let mut changed = entry.clone();
            if let Event::Trip { running, .. } | Event::Reset { running, .. } = &mut changed.event
                && running.remove(&point)
            {
                changed.note = format!("{} {tag} was running", entry.note).trim().to_owned();
            }
            (changed != *entry).then_some(changed)
        });
        self.drop::<Point>(point)
    }

    fn remove_picture(&mut self, picture: PictureId) -> Result<(), Invalid> {
        self.drop_where::<Underlay>(|u| u.picture == picture)?;
        self.drop::<Picture>(picture)
    }

    fn drop_pictures(&mut self, which: impl Fn(&PictureOf) -> bool) -> Result<(), Invalid> {
        self.drop_where::<Picture>(|p| which(&p.of))
    }

    /// Lines of the logbook about something that goes stay as notes that name it.
    fn keep_as_notes(&mut self, name: &str, which: impl Fn(&Event) -> bool) {
        self.rewrite::<LogEntry>(|entry| {
            which(&entry.event).then(|| LogEntry {
                event: Event::Note { panel: None },
                note: format!("{name}: {} {}", happened(&entry.event), entry.note).trim().to_owned(),
                ..entry.clone()
            })
        });
    }
}

/// An event in a few words, for a note that outlives its subject.
fn happened(event: &Event) -> &'static str {
    match event {
        Event::Trip { .. } => "tripped",
        Event::Reset { outcome: Outcome::Held, .. } => "reset, held",
        Event::Reset { outcome: Outcome::AtOnce, .. } => "reset, tripped at once",
        Event::Reset { outcome: Outcome::Later, .. } => "reset, tripped later",
        Event::BreakerTest { passed: true, .. } | Event::DeviceTest { passed: true, .. } => "test passed",
        Event::BreakerTest { .. } | Event::DeviceTest { .. } => "test failed",
        Event::Volts { .. } => "service voltages read",
        Event::Note { .. } => "",
    }
}

#[cfg(test)]
mod tests;
