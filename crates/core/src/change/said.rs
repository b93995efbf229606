//! What was done, in a few words: for the page of changes and the log alike.

use super::Change;
use crate::house::{JobAct, things};

macro_rules! said {
    ($($(#[$attr:meta])* $table:ident: $thing:ident, $id:ident, $word:literal
        => $field:ident [$($put:ident $entered:literal)?] [$($remove:ident $taken_out:literal)?];)*) => {
        impl Change {
            /// What was done, in a few words.
            #[must_use]
            pub fn said(&self) -> &'static str {
                match self {
                    $(
                        $(Self::$put { .. } => $entered,)?
                        $(Self::$remove { .. } => $taken_out,)?
                    )*
                    Self::SetAbout { .. } => "settings",
                    Self::EnterSpace { .. } => "space entered",
                    Self::MarkEmpty { empty: true, .. } => "space found empty",
                    Self::MarkEmpty { empty: false, .. } => "space not looked at after all",
                    Self::SetHandles { .. } => "handles moved",
                    Self::PlaceRoom { .. } | Self::PlaceBeside { .. } => "room drawn",
                    Self::AddPoints { .. } => "points added",
                    Self::PlacePoint { .. } => "point put on the plan",
                    Self::NoteReading { .. } => "reading noted",
                    Self::SplitReceptacle { .. } => "receptacle split into halves",
                    Self::ShareBox { .. } => "box shared",
                    Self::Record { .. } => "answered",
                    Self::CorrectLooks { .. } => "looks put right",
                    Self::CardPrinted { .. } => "card printed",
                    Self::ScaleUnderlay { .. } => "scale of the drawing set",
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
    };
}
things!(said);
