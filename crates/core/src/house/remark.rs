//! What somebody saw of a thing in an inspection, or decided of a finding.
//!
//! The latest remark on a question counts. What was never asked is unknown: no finding comes of it, but a question.

use jiff::Timestamp;
use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

use super::{BreakerId, Goal, House, Job, PanelId, PointId, RemarkId, Subject};
use crate::base::said;

/// A remark.
#[derive(Debug, Clone, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct Remark {
    /// Its id.
    pub id: RemarkId,
    /// The thing that it is about.
    pub of: Subject,
    /// What it says.
    pub says: Remarks,
    /// When it was made.
    #[schema(value_type = String, format = DateTime)]
    pub time: Timestamp,
    /// Who made it.
    pub who: String,
    /// What else there is to say: why it is not so, where exactly.
    #[serde(default, skip_serializing_if = "String::is_empty")]
    pub note: String,
}

/// What a remark says.
#[derive(Debug, Clone, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
#[serde(tag = "what", rename_all = "kebab-case", deny_unknown_fields)]
pub enum Remarks {
    /// Somebody looked whether something is so.
    Looked {
        /// What was looked for.
        fact: AsFound,
        /// What was seen.
        saw: Saw,
    },
    /// A finding is not so; the note says why.
    NotSo {
        /// By which rule it was found.
        rule: String,
        /// What was found then: where it rests on what is entered alone and that changes, nobody has said anything of it.
        #[serde(default, skip_serializing_if = "String::is_empty")]
        found: String,
    },
    /// A finding may wait.
    Later {
        /// By which rule it was found.
        rule: String,
        /// Until when.
        #[schema(value_type = String, format = DateTime)]
        until: Timestamp,
    },
    /// A label with these words was stuck on it.
    Labelled {
        /// What it says: the panel and the breaker.
        text: String,
    },
}

/// What was seen of something that was looked for.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
#[serde(rename_all = "kebab-case")]
pub enum Saw {
    /// It is so.
    Yes,
    /// It is not.
    No,
    /// That cannot be told.
    CannotTell,
}

said!(Saw { Yes => "Yes", No => "No", CannotTell => "I cannot tell" });

/// What is found as it is, and no other record tells. (handbook 6)
#[derive(Debug, Clone, Copy, PartialEq, Eq, PartialOrd, Ord, Serialize, Deserialize, ToSchema)]
#[serde(rename_all = "kebab-case")]
pub enum AsFound {
    /// Scorched, melted, hot, or smells burnt.
    Scorched,
    /// Rust, or traces of water.
    Water,
    /// The cover is missing, loose, or has a hole.
    NoCover,
    /// An opening beside the breakers, without a closer.
    Opening,
    /// A type with a record of not tripping.
    DoubtfulType,
    /// A listed interlock or transfer switch between main and generator.
    Interlock,
    /// Less than the working space before it.
    Blocked,
    /// Pointed screws in the cover, or missing ones.
    Screws,
    /// A ground rod or another electrode is connected.
    Electrode,
    /// Its neutral is bonded to ground in it.
    Bonded,
    /// A finger of the bus is burnt, pitted or loose.
    BurntBus,
    /// A wire that ends on nothing, and is not capped.
    LooseWire,
    /// Two wires under a breaker's terminal that is not marked for two.
    TwoUnder,
    /// Two neutrals under one screw of the bar.
    TwoNeutrals,
    /// Solid aluminium wires on breakers of 15 or 20 A.
    Aluminium,
    /// Insulation nicked, or under a screw; flattened or half cut wires.
    RoughEnds,
    /// Breakers of another make than the label lists.
    OtherMakes,
    /// It does not stay on, or its handle is loose.
    DoesNotStay,
    /// No wire goes to it.
    NoWire,
    /// It is held down by a kit, so that it cannot be pulled off.
    HoldDown,
    /// Three holes where four would be: an outlet for a range or dryer without a ground.
    ThreeHoles,
    /// Its plate or outlet is broken or missing.
    Broken,
}

said!(AsFound {
    Scorched => "scorched, melted, hot, or smells burnt",
    Water => "rust, or traces of water",
    NoCover => "cover missing, loose, or with a hole",
    Opening => "an opening without a closer",
    DoubtfulType => "a type with a record of not tripping",
    Interlock => "interlock or transfer switch",
    Blocked => "working space blocked",
    Screws => "pointed or missing screws in the cover",
    Electrode => "a ground rod or another electrode connected",
    Bonded => "neutral bonded to ground",
    BurntBus => "a finger of the bus burnt, pitted or loose",
    LooseWire => "a wire that ends on nothing",
    TwoUnder => "two wires under a terminal for one",
    TwoNeutrals => "two neutrals under one screw",
    Aluminium => "solid aluminium wires on 15 or 20 A",
    RoughEnds => "nicked insulation, or rough wire ends",
    OtherMakes => "breakers of another make",
    DoesNotStay => "does not stay on, or its handle is loose",
    NoWire => "no wire on it",
    HoldDown => "held down by a kit",
    ThreeHoles => "three holes, no ground",
    Broken => "plate or outlet broken or missing",
});

impl House {
    /// What was seen last of something that was looked for, since the thing has been there; nothing where nobody looked.
    #[must_use]
    pub fn saw(&self, of: Subject, fact: AsFound) -> Option<Saw> {
        let since = self.put_in(of);
        let looked = |remark: &&Remark| remark.of == of && since.is_none_or(|since| since <= remark.time);
        let saw = |remark: &Remark| match remark.says {
            Remarks::Looked { fact: what, saw } if what == fact => Some((remark.time, remark.id, saw)),
            _ => None,
        };
        let all = self.remarks.iter().filter(looked).filter_map(saw);
        all.max_by_key(|(time, id, _)| (*time, *id)).map(|(.., saw)| saw)
    }

    /// When a thing was put in, where that is known; a point's device by the last job that put one in.
    pub(crate) fn put_in(&self, of: Subject) -> Option<Timestamp> {
        match of {
            Subject::Breaker(id) => self.breakers.get(id).and_then(|b| b.since),
            Subject::Point(id) => {
                let here = |job: &&Job| matches!(&job.goal, Goal::Device(device) if device.point == id);
                self.jobs.iter().filter(here).filter_map(|job| job.made).max()
            }
            Subject::Circuit(id) => self.circuits.get(id).and_then(|c| self.put_in(Subject::Breaker(c.breaker))),
            _ => None,
        }
    }

    /// What was decided last of what a rule finds at a thing, where anything was.
    ///
    /// It speaks of what stood there then: not of a breaker that was put in since, nor of what somebody saw since.
    #[must_use]
    pub fn decided(&self, of: Subject, rule: &str, fact: Option<AsFound>) -> Option<&Remark> {
        let seen = |remark: &&Remark| {
            matches!(remark.says, Remarks::Looked { fact: what, .. } if Some(what) == fact) && remark.of == of
        };
        let since = self.remarks.iter().filter(seen).map(|r| r.time).chain(self.put_in(of)).max();
        let about = |remark: &&Remark| match &remark.says {
            Remarks::NotSo { rule: of, .. } | Remarks::Later { rule: of, .. } => of == rule,
            Remarks::Looked { .. } | Remarks::Labelled { .. } => false,
        };
        let all = self.remarks.iter().filter(|r| r.of == of && since.is_none_or(|since| since <= r.time));
        all.filter(about).max_by_key(|remark| (remark.time, remark.id))
    }

    /// What the label says that somebody stuck on it last, since the thing has been there.
    #[must_use]
    pub fn labelled(&self, of: Subject) -> Option<&str> {
        let since = self.put_in(of);
        let stuck = |remark: &&Remark| remark.of == of && since.is_none_or(|since| since <= remark.time);
        let says = |remark: &'_ Remark| matches!(remark.says, Remarks::Labelled { .. });
        let all = self.remarks.iter().filter(stuck).filter(|r| says(r));
        match &all.max_by_key(|remark| (remark.time, remark.id))?.says {
            Remarks::Labelled { text } => Some(text),
            _ => None,
        }
    }

    /// True where a thing is there.
    #[must_use]
    pub fn has(&self, of: Subject) -> bool {
        match of {
            Subject::Panel(id) => self.panels.get(id).is_some(),
            Subject::Breaker(id) => self.breakers.get(id).is_some(),
            Subject::Circuit(id) => self.circuits.get(id).is_some(),
            Subject::Point(id) => self.points.get(id).is_some(),
            Subject::Room(id) => self.rooms.get(id).is_some(),
            Subject::Load(id) => self.loads.get(id).is_some(),
            _ => false,
        }
    }
}

impl From<PanelId> for Subject {
    fn from(id: PanelId) -> Self {
        Self::Panel(id)
    }
}

impl From<BreakerId> for Subject {
    fn from(id: BreakerId) -> Self {
        Self::Breaker(id)
    }
}

impl From<PointId> for Subject {
    fn from(id: PointId) -> Self {
        Self::Point(id)
    }
}
