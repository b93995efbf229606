//! Observations: what was seen where, with which handles off; and the step of tracing under way.

use std::collections::BTreeSet;

use jiff::Timestamp;
use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

use super::{BreakerId, EvidenceId, PointId, StepId};
use crate::base::said;
use crate::base::units::Amps;

/// What a look at a point told.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
#[serde(rename_all = "kebab-case")]
pub enum Seen {
    /// Power is there.
    Live,
    /// No sign of power. Never a promise that it is safe.
    Dead,
    /// Could not tell.
    Unsure,
}

said!(Seen { Live => "LIVE", Dead => "DEAD", Unsure => "NOT SURE" });

/// How it was looked at.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
#[serde(rename_all = "kebab-case")]
pub enum Way {
    /// An outlet tester, or a non-contact tester.
    Tester,
    /// A lamp plugged in.
    Lamp,
    /// The light itself.
    Light,
    /// A radio heard.
    Radio,
    /// A meter.
    Meter,
    /// What somebody says.
    Word,
}

said!(Way {
    Tester => "tester",
    Lamp => "plugged-in lamp",
    Light => "the light itself",
    Radio => "radio",
    Meter => "meter",
    Word => "somebody's word",
});

/// What was observed.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(tag = "what", rename_all = "kebab-case", deny_unknown_fields)]
pub enum Observation {
    /// Power looked for at the point with these breakers off and all others on.
    Power {
        /// The complete set that was off.
        off: BTreeSet<BreakerId>,
        /// What was seen.
        seen: Seen,
        /// How.
        how: Way,
    },
    /// With a transmitter at the point, the receiver pointed at this breaker.
    Pointed {
        /// The breaker pointed at.
        at: BreakerId,
    },
    /// A known load was switched on at the point, and the current of a breaker rose by so much, read with a clamp or
    /// an energy monitor.
    Rise {
        /// The breaker measured.
        at: BreakerId,
        /// What the load draws.
        expected: Amps,
        /// By how much the current rose.
        rose: Amps,
    },
    /// With the cover off, a qualified person followed the point's cable to this breaker.
    Wire {
        /// The breaker.
        at: BreakerId,
    },
    /// A job wired the point to this breaker: it had its voltage from there when the work ended, or came along whole with a
    /// circuit that was proven. What was seen of the point before is of other wires and says nothing since.
    Landed {
        /// The breaker.
        at: BreakerId,
    },
    /// What might have held the point off was tried, while the breakers that may feed it were on. Where it has power now,
    /// earlier dead looks at the point, and at all behind the same device, tell nothing about breakers; where it is still dark,
    /// how long it had been held off is not known, and they prove nothing.
    Tried {
        /// What was tried.
        cause: Tried,
        /// It has power now: it had been off, or broken.
        was_off: bool,
        /// The complete set that was off meanwhile; nothing where that was not noted.
        #[serde(default, skip_serializing_if = "Option::is_none")]
        off: Option<BTreeSet<BreakerId>>,
    },
    /// A fault seen at the point. It tells nothing about breakers and is kept for mending.
    Fault {
        /// Which.
        fault: Fault,
    },
}

/// What may hold a point off while its breaker is on.
#[derive(Debug, Clone, Copy, PartialEq, Eq, PartialOrd, Ord, Serialize, Deserialize, ToSchema)]
#[serde(rename_all = "kebab-case")]
pub enum Tried {
    /// Its wall switch.
    Switch,
    /// Its lamp.
    Lamp,
    /// The ground-fault device in front of it, or itself.
    Device,
}

said!(Tried { Switch => "wall switch", Lamp => "lamp", Device => "ground-fault device" });

/// Faults met while tracing: what an outlet tester shows (docs/handbook.md, 2.2), and what is seen or felt.
#[derive(Debug, Clone, Copy, PartialEq, Eq, PartialOrd, Ord, Serialize, Deserialize, ToSchema)]
#[serde(rename_all = "kebab-case")]
pub enum Fault {
    /// No ground.
    OpenGround,
    /// No neutral.
    OpenNeutral,
    /// No power with every breaker on.
    OpenHot,
    /// Hot and ground exchanged.
    HotGroundReversed,
    /// Hot and neutral exchanged.
    HotNeutralReversed,
    /// Burnt, melted or hot.
    Scorched,
    /// Loose or broken.
    Loose,
}

said!(Fault {
    OpenGround => "no ground",
    OpenNeutral => "no neutral",
    OpenHot => "no power, all breakers on",
    HotGroundReversed => "hot and ground exchanged",
    HotNeutralReversed => "hot and neutral exchanged",
    Scorched => "scorched, melted or hot",
    Loose => "loose or broken",
});

impl Observation {
    /// Every breaker it speaks of.
    pub fn breakers(&self) -> impl Iterator<Item = BreakerId> + '_ {
        let (off, at) = match self {
            Self::Power { off, .. } => (Some(off), None),
            Self::Pointed { at } | Self::Rise { at, .. } | Self::Wire { at } | Self::Landed { at } => (None, Some(*at)),
            Self::Tried { off, .. } => (off.as_ref(), None),
            Self::Fault { .. } => (None, None),
        };
        off.into_iter().flatten().copied().chain(at)
    }
}

/// One observation that bears on what feeds a point.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct Evidence {
    /// Its id.
    pub id: EvidenceId,
    /// The point looked at.
    pub point: PointId,
    /// When.
    #[schema(value_type = String, format = DateTime)]
    pub time: Timestamp,
    /// Who says so.
    pub who: String,
    /// The step of tracing it answers, if any.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub step: Option<StepId>,
    /// What was observed.
    pub observation: Observation,
}

impl Evidence {
    /// The breaker on which work has landed the point, where it says so.
    #[must_use]
    pub fn landed(&self) -> Option<BreakerId> {
        match self.observation {
            Observation::Landed { at } => Some(at),
            _ => None,
        }
    }
}

/// A step of tracing under way: handles moved, points to look at.
#[derive(Debug, Clone, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct Step {
    /// Its id.
    pub id: StepId,
    /// The complete set that is off; all others are on.
    pub off: BTreeSet<BreakerId>,
    /// Points to look at, in walking order.
    pub visit: Vec<PointId>,
}
