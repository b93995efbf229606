//! The one list of what a house is made of, beside its name and settings and the step under way.
//!
//! From it come the ids, the house's tables ([`super::House`]), the edits of single things ([`super::Edit`]), what a store
//! keeps, and the changes that enter one or take one out (`crate::change`). A sort of thing is added here and nowhere else.

/// Hands the list to a macro: the table with its attributes, the thing, its id, the word for it; and of changes the field that
/// holds it, the one that enters it and the one that takes it out, each with what it is called in the log. What comes about in
/// another way (an observation, a reading, a job) has none of that sort.
macro_rules! things {
    ($with:ident) => {
        $with! {
            /// Enclosures with a bus.
            #[schema(value_type = Vec<Panel>)]
            panels: Panel, PanelId, "panel"
                => panel [PutPanel "panel entered"] [RemovePanel "panel taken out"];
            /// Overcurrent devices, fuses included.
            #[schema(value_type = Vec<Breaker>)]
            breakers: Breaker, BreakerId, "breaker"
                => breaker [PutBreaker "breaker entered"] [RemoveBreaker "breaker taken out"];
            /// What hangs on the breakers' terminals.
            #[serde(default, skip_serializing_if = "Table::is_empty")]
            #[schema(value_type = Vec<Circuit>, required = false)]
            circuits: Circuit, CircuitId, "circuit"
                => circuit [PutCircuit "wires entered"] [RemoveCircuit "wires taken out"];
            /// Rooms, in the order of a walk through the house.
            #[schema(value_type = Vec<Room>)]
            rooms: Room, RoomId, "room"
                => room [PutRoom "room entered"] [RemoveRoom "room taken out"];
            /// Doors, windows, passages and stairs.
            #[serde(default, skip_serializing_if = "Table::is_empty")]
            #[schema(value_type = Vec<Opening>, required = false)]
            openings: Opening, OpeningId, "opening"
                => opening [PutOpening "door or window entered"] [RemoveOpening "door or window taken out"];
            /// Places where power is used or switched.
            #[schema(value_type = Vec<Point>)]
            points: Point, PointId, "point"
                => point [PutPoint "point entered"] [RemovePoint "point taken out"];
            /// Things that draw.
            #[serde(default, skip_serializing_if = "Table::is_empty")]
            #[schema(value_type = Vec<Load>, required = false)]
            loads: Load, LoadId, "load"
                => load [PutLoad "load entered"] [RemoveLoad "load taken out"];
            /// What was measured.
            #[serde(default, skip_serializing_if = "Table::is_empty")]
            #[schema(value_type = Vec<Reading>, required = false)]
            readings: Reading, ReadingId, "reading"
                => reading [] [RemoveReading "reading taken out"];
            /// What the utility's meter recorded.
            #[serde(default, skip_serializing_if = "Table::is_empty")]
            #[schema(value_type = Vec<EnergyRecord>, required = false)]
            energy: EnergyRecord, EnergyId, "energy record"
                => energy [PutEnergy "energy record added"] [RemoveEnergy "energy record taken out"];
            /// All observations.
            #[schema(value_type = Vec<Evidence>)]
            evidence: Evidence, EvidenceId, "observation"
                => evidence [] [Retract "observation taken out"];
            /// The logbook.
            #[serde(default, skip_serializing_if = "Table::is_empty")]
            #[schema(value_type = Vec<LogEntry>, required = false)]
            log: LogEntry, LogId, "log entry"
                => entry [Log "written into the log"] [RemoveLog "line of the log taken out"];
            /// Pictures.
            #[serde(default, skip_serializing_if = "Table::is_empty")]
            #[schema(value_type = Vec<Picture>, required = false)]
            pictures: Picture, PictureId, "picture"
                => picture [PutPicture "picture added"] [RemovePicture "picture taken out"];
            /// Drawings under the plans.
            #[serde(default, skip_serializing_if = "Table::is_empty")]
            #[schema(value_type = Vec<Underlay>, required = false)]
            underlays: Underlay, UnderlayId, "drawing"
                => underlay [PutUnderlay "drawing laid under the plan"] [RemoveUnderlay "drawing taken away"];
            /// What somebody saw of things, or decided of findings.
            #[serde(default, skip_serializing_if = "Table::is_empty")]
            #[schema(value_type = Vec<Remark>, required = false)]
            remarks: Remark, RemarkId, "remark"
                => remark [PutRemark "looked, in an inspection"] [RemoveRemark "remark taken back"];
            /// Outings of tracing.
            #[serde(default, skip_serializing_if = "Table::is_empty")]
            #[schema(value_type = Vec<Run>, required = false)]
            runs: Run, RunId, "run"
                => run [PutRun "run begun"] [];
            /// Work in panels, planned and under way.
            #[serde(default, skip_serializing_if = "Table::is_empty")]
            #[schema(value_type = Vec<Job>, required = false)]
            jobs: Job, JobId, "job"
                => job [] [];
        }
    };
}
pub(crate) use things;
