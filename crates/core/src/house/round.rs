//! A round of measuring: what a run has on, and which places were read.

use std::collections::BTreeSet;

use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

use super::{BreakerId, Conductor, LoadId, MeasuredAt, Quantity, Reading, ReadingId, Side};

/// A round of measuring: one place after the other with a clamp, while what usually runs is on.
#[derive(Debug, Clone, PartialEq, Eq, Default, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct Round {
    /// The one breaker that it is about; nothing for all places in panel order.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub only: Option<BreakerId>,
    /// What runs now, as whoever switched it on said.
    #[serde(default, skip_serializing_if = "BTreeSet::is_empty")]
    pub on: BTreeSet<LoadId>,
    /// All that usually runs is on: the clamp may go round.
    #[serde(default)]
    pub ready: bool,
    /// To be switched over before the last place is read again: its current rises or falls by what hangs there.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub asked: Option<LoadId>,
    /// Places that were read or passed over, in that order.
    #[serde(default, skip_serializing_if = "Vec::is_empty")]
    pub done: Vec<RoundDone>,
}

/// A place that a round is done with.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct RoundDone {
    /// Where the clamp went,
    pub place: MeasuredAt,
    /// around which conductor; nothing for the hot of a breaker.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub of: Option<Conductor>,
    /// What was read there; nothing where it was passed over.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub reading: Option<ReadingId>,
}

/// A conductor that a round goes by.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct RoundPlace {
    /// Where the clamp goes,
    pub place: MeasuredAt,
    /// and around which conductor; nothing for the hot of a breaker.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub of: Option<Conductor>,
}

/// What happens in a round.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(tag = "what", rename_all = "kebab-case", deny_unknown_fields)]
pub enum RoundAct {
    /// These were switched on, or off.
    Switched {
        /// Which.
        loads: BTreeSet<LoadId>,
        /// On.
        on: bool,
    },
    /// All that usually runs is on.
    Ready,
    /// One thing is to be switched over, and the last place read again.
    Asked {
        /// Which; nothing where that is taken back.
        load: Option<LoadId>,
    },
    /// A place is left out.
    Passed {
        /// Which.
        at: RoundPlace,
    },
    /// The last place is next again, and what was read there now is taken out.
    Back,
}

impl RoundPlace {
    /// Where a reading was taken, if a round goes there: at the hot of a breaker, or at what comes into a panel.
    #[must_use]
    pub fn of(reading: &Reading) -> Option<Self> {
        let Quantity::Amps { of } = reading.quantity else { return None };
        let here = match reading.place {
            MeasuredAt::Breaker { pole: None, side: Side::Load, .. } => of.is_none(),
            MeasuredAt::Main { .. } => of.is_some(),
            _ => false,
        };
        here.then_some(Self { place: reading.place, of })
    }
}

impl Round {
    /// Something was switched. What was asked for is done by it, and the last place is next again.
    pub fn switch(&mut self, loads: &BTreeSet<LoadId>, on: bool) {
        if on {
            self.on.extend(loads);
        } else {
            self.on.retain(|load| !loads.contains(load));
        }
        if self.asked.is_some_and(|asked| loads.contains(&asked)) {
            self.asked = None;
            self.done.pop();
        }
    }

    /// A place was read, or is left out.
    pub fn pass(&mut self, RoundPlace { place, of }: RoundPlace, reading: Option<ReadingId>) {
        self.done.retain(|done| (done.place, done.of) != (place, of));
        self.done.push(RoundDone { place, of, reading });
    }
}
