//! The logbook: what happened in the house, apart from what was changed in its map.

use std::collections::BTreeSet;

use jiff::Timestamp;
use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

use super::{BreakerId, JobId, LogId, PanelId, PointId};
use crate::base::said;
use crate::base::units::Volts;

/// One entry of the logbook.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct LogEntry {
    /// Its id.
    pub id: LogId,
    /// When it happened.
    #[schema(value_type = String, format = DateTime)]
    pub time: Timestamp,
    /// Who says so.
    pub who: String,
    /// What happened.
    pub event: Event,
    /// Anything else worth knowing.
    #[serde(default, skip_serializing_if = "String::is_empty")]
    pub note: String,
}

/// How a breaker behaved when it was switched on again.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
#[serde(rename_all = "kebab-case")]
pub enum Outcome {
    /// It held.
    Held,
    /// It tripped at once.
    AtOnce,
    /// It tripped after some time.
    Later,
}

said!(Outcome { Held => "it holds", AtOnce => "it tripped at once", Later => "it tripped after a while" });

/// How a breaker tripped.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
#[serde(rename_all = "kebab-case")]
pub enum TripManner {
    /// As something was switched on or plugged in.
    AtOnce,
    /// Within seconds.
    Seconds,
    /// After minutes.
    Minutes,
    /// After hours.
    Hours,
    /// As a motor started.
    OnStart,
    /// On a hot day, or in a hot panel.
    Heat,
    /// Only its ground-fault or arc-fault part did.
    Protection,
}

said!(TripManner {
    AtOnce => "at once",
    Seconds => "within seconds",
    Minutes => "after minutes",
    Hours => "after hours",
    OnStart => "as a motor started",
    Heat => "in heat",
    Protection => "only its ground-fault or arc-fault part",
});

/// What happened.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(tag = "what", rename_all = "kebab-case", deny_unknown_fields)]
pub enum Event {
    /// A breaker tripped or a fuse blew.
    Trip {
        /// Which.
        breaker: BreakerId,
        /// What was running then, as far as known.
        #[serde(default)]
        running: BTreeSet<PointId>,
        /// How it tripped, where somebody told that.
        #[serde(default, skip_serializing_if = "Option::is_none")]
        manner: Option<TripManner>,
    },
    /// What made it trip was mended: it is tried anew.
    Mended {
        /// Which.
        breaker: BreakerId,
    },
    /// It was switched off, then on again.
    Reset {
        /// Which.
        breaker: BreakerId,
        /// What was still on.
        #[serde(default)]
        running: BTreeSet<PointId>,
        /// How it behaved.
        outcome: Outcome,
    },
    /// The test button of a ground-fault breaker was pressed.
    BreakerTest {
        /// Which.
        breaker: BreakerId,
        /// It tripped and came back as it should.
        passed: bool,
    },
    /// The test button of a ground-fault device was pressed.
    DeviceTest {
        /// Which.
        point: PointId,
        /// It tripped and came back as it should.
        passed: bool,
    },
    /// The service voltages were measured.
    Volts {
        /// The panel.
        panel: PanelId,
        /// The readings.
        reading: ServiceReading,
    },
    /// Work in a panel ended.
    Worked {
        /// The job, with its protocol.
        job: JobId,
    },
    /// A note, of a panel or of nothing in particular.
    Note {
        /// The panel.
        #[serde(default, skip_serializing_if = "Option::is_none")]
        panel: Option<PanelId>,
    },
}

/// The service voltages, read together at one moment.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct ServiceReading {
    /// Leg A to neutral.
    pub a_n: Volts,
    /// Leg B to neutral.
    pub b_n: Volts,
    /// Leg A to leg B.
    pub a_b: Volts,
    /// Leg C to neutral, in a three-phase panel.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub c_n: Option<Volts>,
    /// Leg B to leg C, in a three-phase panel.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub b_c: Option<Volts>,
    /// Leg C to leg A, in a three-phase panel.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub c_a: Option<Volts>,
}

impl Event {
    /// The breaker it is about.
    #[must_use]
    pub fn breaker(&self) -> Option<BreakerId> {
        match self {
            Self::Trip { breaker, .. }
            | Self::Mended { breaker }
            | Self::Reset { breaker, .. }
            | Self::BreakerTest { breaker, .. } => Some(*breaker),
            Self::DeviceTest { .. } | Self::Volts { .. } | Self::Worked { .. } | Self::Note { .. } => None,
        }
    }

    /// The panel it is about, where it is about a whole one.
    #[must_use]
    pub fn panel(&self) -> Option<PanelId> {
        match self {
            Self::Volts { panel, .. } => Some(*panel),
            Self::Note { panel } => *panel,
            _ => None,
        }
    }

    /// The points it speaks of.
    #[must_use]
    pub fn points(&self) -> BTreeSet<PointId> {
        match self {
            Self::Trip { running, .. } | Self::Reset { running, .. } => running.clone(),
            Self::DeviceTest { point, .. } => [*point].into(),
            _ => BTreeSet::new(),
        }
    }
}
