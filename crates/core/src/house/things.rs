//! The one list of what a house is made of, beside its name and settings and the step under way.
//!
//! From it come the ids, the house's tables ([`super::House`]), the edits of single things ([`super::Edit`]) and
//! what a store keeps. A sort of thing is added here and nowhere else.

/// Hands the list to a macro: the table with its attributes, the thing, its id, the word for it.
macro_rules! things {
    ($with:ident) => {
        $with! {
            /// Enclosures with a bus.
            #[schema(value_type = Vec<Panel>)]
            panels: Panel, PanelId, "panel";
            /// Overcurrent devices, fuses included.
            #[schema(value_type = Vec<Breaker>)]
            breakers: Breaker, BreakerId, "breaker";
            /// What hangs on the breakers' terminals.
            #[serde(default, skip_serializing_if = "Table::is_empty")]
            #[schema(value_type = Vec<Circuit>, required = false)]
            circuits: Circuit, CircuitId, "circuit";
            /// Rooms, in the order of a walk through the house.
            #[schema(value_type = Vec<Room>)]
            rooms: Room, RoomId, "room";
            /// Doors, windows, passages and stairs.
            #[serde(default, skip_serializing_if = "Table::is_empty")]
            #[schema(value_type = Vec<Opening>, required = false)]
            openings: Opening, OpeningId, "opening";
            /// Places where power is used or switched.
            #[schema(value_type = Vec<Point>)]
            points: Point, PointId, "point";
            /// Things that draw.
            #[serde(default, skip_serializing_if = "Table::is_empty")]
            #[schema(value_type = Vec<Load>, required = false)]
            loads: Load, LoadId, "load";
            /// What was measured.
            #[serde(default, skip_serializing_if = "Table::is_empty")]
            #[schema(value_type = Vec<Reading>, required = false)]
            readings: Reading, ReadingId, "reading";
            /// What the utility's meter recorded.
            #[serde(default, skip_serializing_if = "Table::is_empty")]
            #[schema(value_type = Vec<EnergyRecord>, required = false)]
            energy: EnergyRecord, EnergyId, "energy record";
            /// All observations.
            #[schema(value_type = Vec<Evidence>)]
            evidence: Evidence, EvidenceId, "observation";
            /// The logbook.
            #[serde(default, skip_serializing_if = "Table::is_empty")]
            #[schema(value_type = Vec<LogEntry>, required = false)]
            log: LogEntry, LogId, "log entry";
            /// Pictures.
            #[serde(default, skip_serializing_if = "Table::is_empty")]
            #[schema(value_type = Vec<Picture>, required = false)]
            pictures: Picture, PictureId, "picture";
            /// Drawings under the plans.
            #[serde(default, skip_serializing_if = "Table::is_empty")]
            #[schema(value_type = Vec<Underlay>, required = false)]
            underlays: Underlay, UnderlayId, "drawing";
            /// Outings of tracing.
            #[serde(default, skip_serializing_if = "Table::is_empty")]
            #[schema(value_type = Vec<Run>, required = false)]
            runs: Run, RunId, "run";
            /// Work in panels, planned and under way.
            #[serde(default, skip_serializing_if = "Table::is_empty")]
            #[schema(value_type = Vec<Job>, required = false)]
            jobs: Job, JobId, "job";
        }
    };
}
pub(crate) use things;
