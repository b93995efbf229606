//! What the code asks for by the place of an outlet, told by the words of a room's name.

use crate::words::labels::{Sense, words};

/// Rooms where receptacles ask for ground-fault protection. [pub: NEC 210.8(A) (2023), value from memory]
const GROUND_FAULT: &[&str] = &["bathroom", "kitchen", "garage", "outside", "laundry", "basement"];
/// Rooms where 15 and 20 A circuits at 120 V ask for arc-fault protection. [pub: NEC 210.12 (2023), value from memory]
const ARC_FAULT: &[&str] =
    &["kitchen", "family room", "dining room", "living room", "office", "bedroom", "closet", "hall", "laundry"];

/// Rooms whose receptacle circuits are of 20 A. [pub: NEC 210.11(C), value from memory]
const TWENTY: &[&str] = &["kitchen", "dining room", "bathroom", "laundry", "garage"];

/// What the place asks for.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub struct Asked {
    /// Its receptacles are to be protected against ground faults.
    pub ground_fault: bool,
    /// Its circuits are to be protected against arcs.
    pub arc_fault: bool,
    /// It is outdoors.
    pub outside: bool,
    /// Its receptacles hang on circuits of 20 A.
    pub twenty: bool,
}

/// What a room asks for; nothing where its name says no sort of room.
#[must_use]
pub fn asked(room: &str) -> Option<Asked> {
    let words = words(room);
    let rooms: Vec<&str> = words.iter().filter(|w| w.sense == Sense::Room).map(|w| w.plain.as_str()).collect();
    let is = |list: &[&str]| rooms.iter().any(|room| list.contains(room));
    (!rooms.is_empty()).then(|| Asked {
        ground_fault: is(GROUND_FAULT),
        arc_fault: is(ARC_FAULT),
        outside: is(&["outside"]),
        twenty: is(TWENTY),
    })
}

/// True where a room's name says this sort of room: `kitchen`, `bathroom`.
#[must_use]
pub fn is_sort(room: &str, sort: &str) -> bool {
    words(room).iter().any(|w| w.sense == Sense::Room && w.plain == sort)
}

/// True where a ground-fault device is usual.
#[must_use]
pub fn has_buttons(room: &str) -> bool {
    asked(room).is_some_and(|asked| asked.ground_fault)
}

#[cfg(test)]
mod tests {
    use super::*;

    // Handbook 5.6; NEC 210.8(A) (2023), value from memory.
    #[test]
    fn rooms_with_water_ask_for_ground_fault_protection_by_whatever_name() {
        for wet in ["Kitchen", "Bath 2", "Garage", "Outdoors", "Laundry", "Cellar", "Classroom kitchen"] {
            assert!(has_buttons(wet), "{wet}");
        }
        for dry in ["Bedroom", "Hall", "Bell loft", "Reading room", "Quill"] {
            assert!(!has_buttons(dry), "{dry}");
        }
    }
}
