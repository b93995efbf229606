//! Something is dead: what may be the cause, most probable first, and the look that tells more for its time. (handbook 5.17)
//!
//! One model: every cause says of every point whether it would be dead, dim, bright or well ([`shows`]); what was told, what the
//! looks showed and what is on record weigh the causes (Bayes), each with its own errors. What an answer denies is no cause any
//! more. Where it is dangerous no look comes next but what to do: that is a rule, and never follows from odds.

mod bench;
mod causes;
mod chain;
mod looks;
mod shows;
mod weigh;
mod words;

#[cfg(test)]
mod tests;

use std::collections::BTreeSet;

use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

use crate::base::position::Leg;
use crate::base::units::Seconds;
use crate::base::{Invalid, said};
use crate::house::{BreakerId, Fault, Held, House, JobId, PanelId, PointId, RoomId, ServiceReading};
use crate::load::suspect::BothSides;
use crate::trace::Beliefs;
use bench::Bench;

/// What is told of the fault.
#[derive(Debug, Clone, PartialEq, Default, Deserialize, Serialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct Complaint {
    /// Points that are dead.
    #[serde(default)]
    pub dead: BTreeSet<PointId>,
    /// Points that still work.
    #[serde(default)]
    pub working: BTreeSet<PointId>,
    /// Points that work weakly: dim, slow.
    #[serde(default)]
    pub dim: BTreeSet<PointId>,
    /// Lights that are brighter than usual.
    #[serde(default)]
    pub bright: BTreeSet<PointId>,
    /// Lights that flicker.
    #[serde(default)]
    pub flickers: BTreeSet<PointId>,
    /// What else was noticed.
    #[serde(default)]
    pub signs: BTreeSet<Sign>,
    /// Looks that were made.
    #[serde(default)]
    pub answers: Vec<Answer>,
    /// Whoever looks may open a panel and measure there.
    #[serde(default)]
    pub qualified: bool,
}

/// What else may be noticed.
#[derive(Debug, Clone, Copy, PartialEq, Eq, PartialOrd, Ord, Deserialize, Serialize, ToSchema)]
#[serde(rename_all = "kebab-case")]
pub enum Sign {
    /// All of the house is dead.
    Everything,
    /// About half of the house is dead, in most rooms.
    HalfDead,
    /// Some lights are brighter than usual while others are dim.
    BrightAndDim,
    /// Lights flicker.
    Flicker,
    /// A smell of burning, heat, a scorched cover.
    Burning,
    /// A shock or a tingle was felt.
    Shock,
}

said!(Sign {
    Everything => "everything is dead",
    HalfDead => "about half of the house is dead",
    BrightAndDim => "some lights brighter than usual, others dim",
    Flicker => "lights flicker",
    Burning => "a smell of burning, heat",
    Shock => "somebody felt a shock or tingle",
});

/// A look and what it showed.
#[derive(Debug, Clone, PartialEq, Deserialize, Serialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct Answer {
    /// Which look.
    pub check: Check,
    /// What it showed.
    pub showed: Showed,
}

/// What a look showed.
#[derive(Debug, Clone, PartialEq, Deserialize, Serialize, ToSchema)]
#[serde(rename_all = "kebab-case")]
pub enum Showed {
    /// Yes.
    Yes,
    /// No.
    No,
    /// It clicked out again at once.
    AgainAtOnce,
    /// That cannot be told.
    CannotTell,
    /// How much is dead.
    Extent(Extent),
    /// Handles that stand between, or at OFF; none where all are on.
    Handles(HandlesSeen),
    /// The service voltages.
    Volts(ServiceReading),
    /// The voltages on both sides of a breaker.
    Sides(BothSides),
}

/// How much of a house is dead.
#[derive(Debug, Clone, Copy, PartialEq, Eq, PartialOrd, Ord, Deserialize, Serialize, ToSchema)]
#[serde(rename_all = "kebab-case")]
pub enum Extent {
    /// All of it.
    All,
    /// About half of it, in most rooms.
    Half,
    /// Less.
    Less,
}

said!(Extent {
    All => "All of it",
    Half => "About half of it, in most rooms",
    Less => "Less: a few things, a room or two",
});

/// Handles that do not stand at ON.
#[derive(Debug, Clone, PartialEq, Eq, Default, Deserialize, Serialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct HandlesSeen {
    /// Breakers between ON and OFF, or at OFF; blown fuses.
    #[serde(default)]
    pub breakers: BTreeSet<BreakerId>,
    /// The panel's main is.
    #[serde(default)]
    pub main: bool,
}

/// Something to look at.
#[derive(Debug, Clone, Copy, PartialEq, Eq, PartialOrd, Ord, Deserialize, Serialize, ToSchema)]
#[serde(tag = "check", rename_all = "kebab-case", deny_unknown_fields)]
pub enum Check {
    /// How much of the house is dead?
    Extent,
    /// Are the neighbours and the street dark too?
    Neighbours,
    /// One glance at a panel: which handles stand between, or at OFF?
    Glance {
        /// Which panel.
        panel: PanelId,
    },
    /// Firmly off and on again: does it work then?
    Cycle {
        /// Which breaker.
        breaker: BreakerId,
    },
    /// Every branch breaker off, the main firmly off and on again: does anything work then?
    CycleMain {
        /// Of which panel.
        panel: PanelId,
    },
    /// Does it work after RESET was pressed on this ground-fault device?
    PressReset {
        /// Which device.
        point: PointId,
    },
    /// Is there a device with buttons that is not on the list, and does it work after its RESET was pressed?
    TryButtons,
    /// Does it work when this switch is moved?
    Switch {
        /// Which switch.
        point: PointId,
    },
    /// Does this point work?
    Works {
        /// Which point.
        point: PointId,
    },
    /// Does a lamp or an appliance that is known to be good work at this point?
    Another {
        /// Which point.
        point: PointId,
    },
    /// Are some lights brighter than usual, or do they change as things are switched on?
    Uneven,
    /// Does a non-contact tester glow at this point?
    Glows {
        /// Which point.
        point: PointId,
    },
    /// The service voltages. Behind the cover: qualified people only.
    Measure {
        /// Which panel.
        panel: PanelId,
    },
    /// Voltages on both sides of a breaker. Behind the cover: qualified people only.
    Sides {
        /// Which breaker.
        breaker: BreakerId,
    },
}

/// What is broken in the wires of a circuit.
#[derive(Debug, Clone, Copy, PartialEq, Eq, PartialOrd, Ord, Serialize, ToSchema)]
#[serde(rename_all = "kebab-case")]
pub enum Broken {
    /// Its hot.
    Hot,
    /// Its neutral.
    Neutral,
    /// Neither: a connection that passes too little.
    Poor,
    /// One of these: nothing has told them apart.
    Any,
}

impl Broken {
    /// As a fault that is recorded; none while it is not known which it is.
    const fn fault(self) -> Option<Fault> {
        match self {
            Self::Hot => Some(Fault::OpenHot),
            Self::Neutral => Some(Fault::OpenNeutral),
            Self::Poor => Some(Fault::Loose),
            Self::Any => None,
        }
    }
}

/// What may be the cause.
#[derive(Debug, Clone, Copy, PartialEq, Eq, PartialOrd, Ord, Serialize, ToSchema)]
#[serde(tag = "cause", rename_all = "kebab-case")]
pub enum Cause {
    /// Somebody works there, and holds it off.
    Work {
        /// In which job.
        job: JobId,
    },
    /// A breaker is tripped or off, a fuse is blown.
    Breaker {
        /// Which.
        breaker: BreakerId,
    },
    /// A breaker is on, and passes nothing, or too little.
    BadBreaker {
        /// Which.
        breaker: BreakerId,
    },
    /// A ground-fault device tripped.
    GroundFault {
        /// Which.
        point: PointId,
    },
    /// A ground-fault device that nobody registered tripped.
    Unregistered {
        /// In this room.
        room: RoomId,
    },
    /// A wall switch is off.
    Switch {
        /// Which.
        point: PointId,
    },
    /// The lamp or the appliance itself.
    Itself {
        /// Where.
        point: PointId,
    },
    /// A wire, a splice or a terminal of a circuit.
    Wire {
        /// The circuit's breaker.
        breaker: BreakerId,
        /// What of it.
        broken: Broken,
        /// The first point past it, as far as the order of the points is known or guessed.
        from: PointId,
    },
    /// Wires at a place where somebody worked are on the wrong terminals.
    Miswired {
        /// Where.
        point: PointId,
    },
    /// The neutral that two circuits share is open.
    SharedNeutral {
        /// One.
        breaker: BreakerId,
        /// The other.
        other: BreakerId,
    },
    /// A leg is lost: utility, meter or main.
    LostLeg {
        /// The panel.
        panel: PanelId,
        /// The leg.
        leg: Leg,
    },
    /// The panel's main is off or tripped.
    Main {
        /// The panel.
        panel: PanelId,
    },
    /// The utility's supply is out.
    Utility,
    /// The service neutral is open or loose: danger.
    OpenNeutral,
    /// Something that is not on this list.
    NotListed,
}

/// A cause with its probability and the look that would tell.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
pub struct Ranked {
    /// The cause,
    pub cause: Cause,
    /// and another one that must be there too to explain all that was told.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub also: Option<Cause>,
    /// Both in words.
    pub said: String,
    /// Why, in words.
    pub why: String,
    /// Probability, 0 to 1.
    pub p: f64,
    /// The look of just this cause; nothing where it was made already or needs somebody else.
    pub check: Option<Check>,
    /// That in words, or who has to look.
    pub ask: Option<String>,
}

/// A cause that was thought of, and what spoke against it.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
pub struct RuledOut {
    /// Which, in words,
    pub said: String,
    /// and by what.
    pub by: String,
}

/// The diagnosis so far.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
pub struct Diagnosis {
    /// To be said before all else.
    pub stop: Option<ToStop>,
    /// Causes by falling probability; what is under one in two hundred is left out.
    pub causes: Vec<Ranked>,
    /// Causes that were probable before, and are not any more.
    pub ruled_out: Vec<RuledOut>,
    /// The look that tells most for its time; nothing once it is found, or nothing is left to be asked.
    pub next: Option<Next>,
    /// How far it came, once nothing comes next.
    pub end: Option<HowFar>,
    /// The looks that were made, as they were asked, with what they showed.
    pub asked: Vec<String>,
    /// Somebody works where it may be fed from, and holds it off: said before any cause.
    pub held: Vec<String>,
}

/// Why to stop, and what to do instead.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, ToSchema)]
pub struct ToStop {
    /// Why.
    pub why: Stop,
    /// That in words,
    pub said: &'static str,
    /// and what to do.
    pub what: &'static str,
}

/// Why to stop.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, ToSchema)]
#[serde(rename_all = "kebab-case")]
pub enum Stop {
    /// The neutral may be open: main off, call the utility or an electrician at once.
    OpenNeutral,
    /// Something burns or did: main off from a safe place, leave, call the fire service; then an electrician.
    Burning,
    /// A shock was felt: touch nothing more, main off, an electrician.
    Shock,
}

/// The look to make next.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
pub struct Next {
    /// Which,
    pub check: Check,
    /// as a question,
    pub said: String,
    /// and what to mind at it.
    pub mind: Option<&'static str>,
    /// How it is answered.
    pub answered: Answered,
    /// The answers in words; of handles and numbers, those that are none.
    pub choices: Vec<OneTap>,
    /// About how long it takes.
    pub seconds: Seconds,
}

/// An answer that is one tap.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
pub struct OneTap {
    /// In words.
    pub said: &'static str,
    /// What it says.
    pub showed: Showed,
}

/// How a look is answered.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, ToSchema)]
#[serde(rename_all = "kebab-case")]
pub enum Answered {
    /// Yes or no.
    YesNo,
    /// By how much is dead.
    Extent,
    /// By handles that are tapped on the panel.
    Handles,
    /// By the service voltages.
    Volts,
    /// By voltages on both sides of a breaker.
    Sides,
}

/// How far it came.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
pub struct HowFar {
    /// It is found: a look has shown it.
    pub found: bool,
    /// What was found, or what is left.
    pub said: String,
    /// What to do now, and who may.
    pub act: String,
    /// The job that mends it,
    pub job: Option<&'static str>,
    /// of which breaker,
    pub breaker: Option<BreakerId>,
    /// and at which point.
    pub point: Option<PointId>,
    /// What is worth being kept of it.
    pub keep: Option<Keep>,
}

/// What is kept of what was found.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, ToSchema)]
#[serde(tag = "keep", rename_all = "kebab-case")]
pub enum Keep {
    /// A breaker tripped: a line in the log.
    Trip {
        /// Which.
        breaker: BreakerId,
    },
    /// A fault at a point.
    Fault {
        /// Where.
        point: PointId,
        /// Which.
        fault: Fault,
    },
    /// A line in the log.
    Note,
}

/// Ranks the causes.
///
/// # Errors
/// [`Invalid`] where nothing is said to be dead, something named is not there, or an answer is none to its look.
pub fn diagnose(house: &House, beliefs: &Beliefs, complaint: &Complaint) -> Result<Diagnosis, Invalid> {
    check(house, complaint)?;
    let bench = Bench::new(house, beliefs);
    let weighed = bench.weigh(complaint);
    let stop = bench.stop(complaint);
    let held = held_for(house, beliefs, complaint);
    // Whoever has to stop, or stands before somebody else's work, is asked for no more looks.
    let next = if stop.is_some() || !held.is_empty() { None } else { bench.next(&weighed.tales, complaint) };
    let end =
        if stop.is_none() && held.is_empty() && next.is_none() { bench.end(&weighed.tales, complaint) } else { None };
    let mut causes = bench.ranked(&weighed.tales, complaint);
    if stop.is_some() || !held.is_empty() {
        causes.iter_mut().for_each(|ranked| (ranked.check, ranked.ask) = (None, None));
    }
    Ok(Diagnosis {
        stop: stop.map(Stop::told),
        causes,
        ruled_out: bench.ruled_out(&weighed, complaint),
        next,
        end,
        asked: complaint.answers.iter().map(|answer| answer.said(house)).collect(),
        held,
    })
}

/// Work that keeps something off which is said to be dead, or may: nobody looks for a cause there, nor switches anything on.
fn held_for(house: &House, beliefs: &Beliefs, complaint: &Complaint) -> Vec<String> {
    let everything = complaint.signs.contains(&Sign::Everything);
    let fed_by = |held: &Held| {
        let dead = held.dead(house);
        let of = |point: &PointId| beliefs.of(*point).into_iter().flat_map(|b| &b.candidates).map(|c| c.at.breaker);
        everything || complaint.dead.iter().flat_map(of).any(|breaker| dead.contains(&breaker))
    };
    let said = |held: &Held| {
        format!(
            "{}, and what may feed this is off for them: ask them. Switch nothing on, and open nothing",
            held.who_works(house)
        )
    };
    house.held().iter().filter(|held| fed_by(held)).map(said).collect()
}

fn check(house: &House, complaint: &Complaint) -> Result<(), Invalid> {
    let told = [&complaint.dim, &complaint.bright, &complaint.flickers];
    let nothing = complaint.dead.is_empty() && told.iter().all(|points| points.is_empty());
    if nothing && complaint.signs.is_empty() {
        return Err(Invalid::new("dead", "say which point is dead"));
    }
    if let Some(both) = complaint.dead.intersection(&complaint.working).next() {
        let tag = house.points.get(*both).map_or_else(String::new, |p| p.tag.clone());
        return Err(Invalid::new("working", format!("{tag} is said to be dead and to work")));
    }
    let named = complaint.dead.iter().chain(&complaint.working).chain(told.into_iter().flatten());
    if let Some(missing) = named.copied().find(|p| house.points.get(*p).is_none()) {
        return Err(Invalid::gone("point", missing.0));
    }
    complaint.answers.iter().enumerate().try_for_each(|(nth, answer)| {
        if !answer.check.is_there(house) {
            return Err(Invalid::new(format!("answers.{nth}.check"), "what was looked at is not there (any more)"));
        }
        let fits = match &answer.showed {
            Showed::CannotTell => true,
            Showed::Yes | Showed::No => answer.check.answered() == Answered::YesNo,
            Showed::AgainAtOnce => answer.check.may_click(),
            Showed::Extent(_) => answer.check.answered() == Answered::Extent,
            Showed::Handles(_) => answer.check.answered() == Answered::Handles,
            Showed::Volts(_) => answer.check.answered() == Answered::Volts,
            Showed::Sides(_) => answer.check.answered() == Answered::Sides,
        };
        if fits { Ok(()) } else { Err(Invalid::new(format!("answers.{nth}.showed"), "that is no answer to this look")) }
    })
}

impl Check {
    /// How it is answered.
    #[must_use]
    pub fn answered(&self) -> Answered {
        match self {
            Self::Extent => Answered::Extent,
            Self::Glance { .. } => Answered::Handles,
            Self::Measure { .. } => Answered::Volts,
            Self::Sides { .. } => Answered::Sides,
            _ => Answered::YesNo,
        }
    }

    /// It may click out again at once.
    #[must_use]
    pub fn may_click(&self) -> bool {
        matches!(self, Self::Cycle { .. } | Self::CycleMain { .. } | Self::PressReset { .. } | Self::TryButtons)
    }

    fn is_there(&self, house: &House) -> bool {
        match *self {
            Self::Extent | Self::Neighbours | Self::Uneven | Self::TryButtons => true,
            Self::Glance { panel } | Self::CycleMain { panel } | Self::Measure { panel } => {
                house.panels.get(panel).is_some()
            }
            Self::Cycle { breaker } | Self::Sides { breaker } => house.breakers.get(breaker).is_some(),
            Self::PressReset { point }
            | Self::Switch { point }
            | Self::Works { point }
            | Self::Another { point }
            | Self::Glows { point } => house.points.get(point).is_some(),
        }
    }
}
