//! The one door for edits: a [`Change`] says what a person means; [`House::apply`] turns it into [`Edit`]s of single
//! things, applies them and checks the whole.

mod cost;
mod said;

use std::collections::BTreeSet;

use jiff::Timestamp;
use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

pub use cost::{Cost, cost};

use crate::base::Invalid;
use crate::base::position::Position;
use crate::base::units::Inches;
use crate::directory;
use crate::edit::{Applied, Cascades, Draft, Edit, MayFeed, Swap};
use crate::edit::{catalog, notation};
use crate::house::{
    About, Area, BreakerId, Crew, Evidence, EvidenceId, Goal, Handle, House, JobAct, JobId, PanelId, PointId, Reading,
    RoomId, RoundAct, RunId, Step, UnderlayId, Wall, things,
};
use crate::job::work::By;
use crate::job::{self, held};
use crate::load::{self, Loaded};
use crate::trace;

macro_rules! changes {
    ($($(#[$attr:meta])* $table:ident: $thing:ident, $id:ident, $word:literal
        => $field:ident [$($put:ident $entered:literal)?] [$($remove:ident $taken_out:literal)?];)*) => {
        /// What a person wants changed.
        #[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
        #[serde(tag = "type", rename_all = "kebab-case", deny_unknown_fields)]
        pub enum Change {
            $(
                $(
                    #[doc = concat!("Enters a thing, or replaces the one with its id: ", $word, ".")]
                    $put {
                        /// As it shall be.
                        $field: crate::house::$thing,
                    },
                )?
                $(
                    #[doc = concat!("Takes a thing out, with what hangs on it: ", $word, ".")]
                    $remove {
                        /// Which.
                        $field: crate::house::$id,
                    },
                )?
            )*
            /// New name or settings.
            SetAbout {
                /// As it shall be.
                about: About,
            },
            /// Takes what was typed for a space in the short notation; nothing typed takes out what is there. What was not there
            /// before gets the ids from `new` on.
            EnterSpace {
                /// The panel.
                panel: PanelId,
                /// The space, by its engraved number.
                space: u16,
                /// What was typed.
                text: String,
                /// The first id that is free for breakers and circuits.
                new: u64,
                /// What is unusual is meant so: it was asked about before, with the field `text.sure`.
                #[serde(default, skip_serializing_if = "std::ops::Not::not")]
                sure: bool,
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
            /// Adds points to a room; they get the room's next free tags and the ids from `first` on.
            AddPoints {
                /// The room.
                room: RoomId,
                /// The id of the first.
                first: PointId,
                /// What to add.
                items: Vec<catalog::Item>,
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
            /// Notes a measured number. Where one thing was switched between it and a reading shortly before, the rise is an
            /// observation of what feeds that thing.
            NoteReading {
                /// The reading.
                reading: Reading,
            },
            /// Makes two points of a receptacle whose halves differ; they share its box.
            SplitReceptacle {
                /// Which: it becomes the upper half.
                point: PointId,
                /// The id of the lower half.
                new: PointId,
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
            /// Puts looks right: in them these were off as well, and those on. They weigh as somebody's word from then on.
            CorrectLooks {
                /// Which looks.
                looks: Vec<EvidenceId>,
                /// What was off as well.
                off: Vec<BreakerId>,
                /// What was on.
                on: Vec<BreakerId>,
            },
            /// Says that a panel's card was printed as it stands now.
            CardPrinted {
                /// The panel.
                panel: PanelId,
                /// When.
                #[schema(value_type = String, format = DateTime)]
                time: Timestamp,
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
            /// Changes who traces with what, midway.
            SetCrew {
                /// The run.
                run: RunId,
                /// As it shall be.
                crew: Crew,
            },
            /// Somebody looked for what else is dead with these off, and found nothing.
            Searched {
                /// The run.
                run: RunId,
                /// Breakers that were off together.
                breakers: Vec<BreakerId>,
            },
            /// Something happens in a round of measuring. What was read there is a reading like any other: noting it goes on to the
            /// next place.
            GoRound {
                /// The run.
                run: RunId,
                /// What.
                act: RoundAct,
            },
            /// Ends a run.
            EndRun {
                /// Which.
                run: RunId,
                /// When.
                #[schema(value_type = String, format = DateTime)]
                time: Timestamp,
            },
            /// Begins a job: its steps are planned as the house stands now.
            BeginJob {
                /// The id it gets.
                job: JobId,
                /// What it is for, with every choice made.
                goal: Box<Goal>,
                /// Jobs that it takes the place of: begun, and not opened.
                #[serde(default, skip_serializing_if = "BTreeSet::is_empty")]
                #[schema(required = false)]
                instead: BTreeSet<JobId>,
                /// Who begins it.
                who: String,
                /// When.
                #[schema(value_type = String, format = DateTime)]
                time: Timestamp,
            },
            /// Something happens in a job. When its last check has passed the house becomes as planned.
            ActInJob {
                /// The job.
                job: JobId,
                /// What.
                act: JobAct,
                /// Who.
                who: String,
                /// When.
                #[schema(value_type = String, format = DateTime)]
                time: Timestamp,
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

        fn make(draft: &mut Draft, change: &Change) -> Result<(), Invalid> {
            match change {
                $(
                    $(Change::$put { $field } => $field.clone().enter(draft)?,)?
                    $(Change::$remove { $field } => <crate::house::$thing as Cascades>::take_out(draft, *$field)?,)?
                )*
                Change::SetAbout { about } => {
                    let before = Some(draft.house.about.clone());
                    draft.edit(Edit::About(Swap { before, after: Some(about.clone()) }));
                }
                Change::EnterSpace { panel, space, text, new, sure } => {
                    notation::enter(draft, *panel, *space, (text, *sure), *new)?;
                }
                Change::MarkEmpty { panel, space, empty } => draft.mark_empty(*panel, *space, *empty)?,
                Change::SetHandles { handles } => handles.iter().try_for_each(|h| draft.set_handle(h.breaker, h.handle))?,
                Change::PlaceRoom { room, area } => draft.place_room(*room, *area)?,
                Change::PlaceBeside { room, width, depth, beside, side, shift } => {
                    draft.place_beside(*room, (*width, *depth), *beside, *side, *shift)?;
                }
                Change::AddPoints { room, first, items } => catalog::add_points(draft, *room, *first, items)?,
                Change::PlacePoint { point, x, y } => draft.place_point(*point, *x, *y)?,
                Change::NoteReading { reading } => note_reading(draft, reading)?,
                Change::SplitReceptacle { point, new } => catalog::split(draft, *point, *new)?,
                Change::ShareBox { points } => draft.share_box(points)?,
                Change::Record { evidence } => draft.add("evidence.id", held::as_it_was(&draft.house, evidence))?,
                Change::CorrectLooks { looks, off, on } => draft.correct_looks(looks, off, on)?,
                Change::CardPrinted { panel, time } => directory::printed(draft, *panel, *time)?,
                Change::ScaleUnderlay { underlay, from, to, length } => {
                    draft.scale_underlay(*underlay, *from, *to, *length)?;
                }
                Change::SetCrew { run, crew } => draft.set_crew(*run, crew)?,
                Change::Searched { run, breakers } => draft.searched(*run, breakers)?,
                Change::GoRound { run, act } => draft.go_round(*run, act)?,
                Change::EndRun { run, time } => draft.end_run(*run, *time)?,
                Change::BeginJob { job, goal, instead, who, time } => {
                    let by = By { who, time: *time };
                    job::work::give_way(draft, instead, by)?;
                    begin_job(draft, *job, goal, by)?;
                }
                Change::ActInJob { job, act, who, time } => job::work::act(draft, *job, act, By { who, time: *time })?,
                Change::BeginStep { step } => {
                    let still = draft.house.held_still();
                    draft.begin_step(step, &still)?;
                }
                Change::EndStep => draft.set_step(None),
                Change::Batch { changes } => changes.iter().try_for_each(|change| make(draft, change))?,
            }
            Ok(())
        }
    };
}
things!(changes);

/// A breaker and where its handle stands.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct HandleAt {
    /// Which breaker.
    pub breaker: BreakerId,
    /// Its handle.
    pub handle: Handle,
}

impl House {
    /// Makes the change, or says why it cannot be. The house itself stays as it is.
    ///
    /// # Errors
    /// [`Invalid`] names the field at fault.
    pub fn apply(&self, change: &Change) -> Result<Applied, Invalid> {
        let mut draft = Draft::new(self, trace::may_feed);
        make(&mut draft, change)?;
        let by = if let Change::ActInJob { job, .. } = change { Some(*job) } else { None };
        held::guard(self, &mut draft, by)?;
        draft.finish()
    }

    /// Applies edits made elsewhere (an undo, a replay). Each must find its thing as it was before.
    ///
    /// # Errors
    /// [`Invalid`] where something has changed since, somebody holds off what would move, or the result would not hold
    /// together.
    pub fn apply_edits(&self, edits: Vec<Edit>) -> Result<Applied, Invalid> {
        let mut draft = Draft::new(self, |_| MayFeed::new());
        for edit in edits {
            edit.expect_before(&draft.house)?;
            draft.edit(edit);
        }
        held::keeps_its_steps(self, &draft.house)?;
        held::guard(self, &mut draft, None)?;
        draft.finish()
    }
}

/// A job begins with a plan from all that is known of the house now.
fn begin_job(draft: &mut Draft, id: JobId, goal: &Goal, by: By<'_>) -> Result<(), Invalid> {
    if let Some(panel) = goal.first_panel(&draft.house) {
        draft.add("panel", panel)?;
    }
    let house = draft.house.clone();
    let beliefs = trace::beliefs(&house);
    let draws = load::draws::draws(&house, &beliefs);
    let loaded = Loaded::new(&house, &beliefs, &draws);
    job::work::begin(draft, &job::Basis::new(&house, &beliefs, &loaded), id, goal, by)
}

/// A reading, and what it says of the map.
fn note_reading(draft: &mut Draft, reading: &Reading) -> Result<(), Invalid> {
    draft.add("reading.id", reading.clone())?;
    draft.round_has_read(reading);
    // What comes back from a file was written down before.
    let known = |rise: &Evidence| draft.house.evidence.iter().any(|e| e.point == rise.point && reading.showed(e));
    let rise = load::rise::of(&draft.house, reading).filter(|rise| !known(rise));
    rise.map_or(Ok(()), |rise| draft.add("evidence.id", rise))
}

#[cfg(test)]
mod tests;
