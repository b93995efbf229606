//! What was done, in a few words: for the page of changes and the log alike.

use super::Change;
use crate::house::JobAct;

impl Change {
    /// What was done, in a few words.
    #[must_use]
    pub fn said(&self) -> &'static str {
        match self {
            Self::SetAbout { .. } => "settings",
            Self::PutPanel { .. } => "panel entered",
            Self::RemovePanel { .. } => "panel taken out",
            Self::PutBreaker { .. } => "breaker entered",
            Self::RemoveBreaker { .. } => "breaker taken out",
            Self::EnterSpace { .. } => "space entered",
            Self::MarkEmpty { empty: true, .. } => "space found empty",
            Self::MarkEmpty { empty: false, .. } => "space not looked at after all",
            Self::SetHandles { .. } => "handles moved",
            Self::PutCircuit { .. } => "wires entered",
            Self::RemoveCircuit { .. } => "wires taken out",
            Self::PutRoom { .. } => "room entered",
            Self::PlaceRoom { .. } | Self::PlaceBeside { .. } => "room drawn",
            Self::RemoveRoom { .. } => "room taken out",
            Self::PutOpening { .. } => "door or window entered",
            Self::RemoveOpening { .. } => "door or window taken out",
            Self::AddPoints { .. } => "points added",
            Self::PutPoint { .. } => "point entered",
            Self::PlacePoint { .. } => "point put on the plan",
            Self::RemovePoint { .. } => "point taken out",
            Self::PutLoad { .. } => "load entered",
            Self::RemoveLoad { .. } => "load taken out",
            Self::NoteReading { .. } => "reading noted",
            Self::RemoveReading { .. } => "reading taken out",
            Self::PutEnergy { .. } => "energy record added",
            Self::RemoveEnergy { .. } => "energy record taken out",
            Self::SplitReceptacle { .. } => "receptacle split into halves",
            Self::ShareBox { .. } => "box shared",
            Self::Record { .. } => "answered",
            Self::Retract { .. } => "observation taken out",
            Self::Log { .. } => "written into the log",
            Self::RemoveLog { .. } => "line of the log taken out",
            Self::CardPrinted { .. } => "card printed",
            Self::PutPicture { .. } => "picture added",
            Self::RemovePicture { .. } => "picture taken out",
            Self::PutUnderlay { .. } => "drawing laid under the plan",
            Self::ScaleUnderlay { .. } => "scale of the drawing set",
            Self::RemoveUnderlay { .. } => "drawing taken away",
            Self::PutRun { .. } => "run begun",
            Self::SetCrew { .. } => "crew changed",
            Self::Searched { .. } => "nothing else found dead",
            Self::GoRound { .. } => "round of measuring",
            Self::EndRun { .. } => "run ended",
            Self::BeginJob { .. } => "work begun",
            Self::ActInJob { act: JobAct::Done { .. } | JobAct::Read { .. } | JobAct::GoOn, .. } => "work in a panel",
            Self::ActInJob { act: JobAct::Back, .. } => "step of work taken back",
            Self::ActInJob { act: JobAct::Stop { .. }, .. } => "work stopped",
            Self::ActInJob { act: JobAct::TakeOver { .. }, .. } => "work taken over at the panel",
            Self::ActInJob { act: JobAct::GiveUp, .. } => "work given up",
            Self::ActInJob { act: JobAct::MadeSafe, .. } => "left safe",
            Self::BeginStep { .. } => "handles moved, tour begun",
            Self::EndStep => "tour ended",
            Self::Batch { .. } => "several at once",
        }
    }
}
