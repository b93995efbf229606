//! Receptacles by their plugs, and what protection a place asks for.

use crate::base::units::Amps;
use crate::house::{Device, LoadKind, PointKind};
use crate::rules::{arc_fault, ground_fault};
use crate::words::places;

/// The receptacle for a breaker of this rating and so many poles, with a neutral or without. Nothing where none is usual: such
/// a thing is wired for good. [pub: NEMA WD 6, NEC 210.21(B), value from memory]
#[must_use]
pub fn configuration(poles: usize, neutral: bool, amps: Amps) -> Option<&'static str> {
    const ONE_LEG: &[(f64, &str)] = &[(15.0, "5-15"), (20.0, "5-20")];
    const TWO_LEGS: &[(f64, &str)] = &[(15.0, "6-15"), (20.0, "6-20"), (30.0, "6-30"), (40.0, "6-50"), (50.0, "6-50")];
    const WITH_NEUTRAL: &[(f64, &str)] = &[(30.0, "14-30"), (40.0, "14-50"), (50.0, "14-50")];
    const THREE_PHASE: &[(f64, &str)] = &[(20.0, "15-20"), (30.0, "15-30"), (50.0, "15-50")];
    let table = match (poles, neutral) {
        (0 | 1, _) => ONE_LEG,
        (2, false) => TWO_LEGS,
        (2, true) => WITH_NEUTRAL,
        (_, false) => THREE_PHASE,
        (_, true) => &[],
    };
    table.iter().find(|(rating, _)| (*rating - amps.0).abs() < 0.5).map(|(_, name)| *name)
}

/// What a circuit's breaker has to be that is made new, by the room that it goes to and what it feeds there; nothing where no rule
/// is known for such a room or thing.
#[must_use]
pub fn protection(
    room: &str,
    kind: PointKind,
    things: impl IntoIterator<Item = LoadKind>,
    (two_legs, amps): (bool, Amps),
) -> Option<Device> {
    let things: Vec<LoadKind> = things.into_iter().collect();
    if things.contains(&LoadKind::FireAlarm) {
        return Some(Device::Plain);
    }
    let ground_fault = ground_fault::asks(room, kind, things);
    if !ground_fault && places::asked(room).is_none() {
        return None;
    }
    Some(match (ground_fault, arc_fault::asks(room, kind, two_legs, amps)) {
        (true, true) => Device::Dual,
        (true, false) => Device::Gfci,
        (false, true) => Device::Afci,
        (false, false) => Device::Plain,
    })
}

#[cfg(test)]
mod tests {
    use super::*;

    // NEMA WD 6 and NEC 210.21(B)(3), from memory.
    #[test]
    fn the_receptacle_follows_from_legs_neutral_and_rating() {
        let of = |poles, neutral, amps| configuration(poles, neutral, Amps(amps));
        assert_eq!(of(1, false, 20.0), Some("5-20"));
        assert_eq!(of(2, false, 50.0), Some("6-50"));
        assert_eq!((of(2, true, 30.0), of(2, true, 40.0)), (Some("14-30"), Some("14-50")));
        assert_eq!((of(3, false, 30.0), of(3, true, 30.0)), (Some("15-30"), None));
        assert_eq!(of(2, false, 60.0), None, "wired for good");
    }

    // NEC 210.8(A), 210.12 (2023), from memory.
    #[test]
    fn protection_follows_from_the_place() {
        use PointKind::{Appliance, Receptacle};
        let at = |room, kind, two, amps| protection(room, kind, None, (two, Amps(amps)));
        assert_eq!(at("Kitchen", Receptacle, false, 20.0), Some(Device::Dual));
        assert_eq!(at("Bedroom 2", Receptacle, false, 15.0), Some(Device::Afci));
        assert_eq!(
            at("Garage", Receptacle, true, 60.0),
            Some(Device::Gfci),
            "in a dwelling without a limit of amperes"
        );
        assert_eq!(at("Hall", Appliance, true, 30.0), Some(Device::Plain));
        assert_eq!(protection("Hall", Appliance, Some(LoadKind::Dryer), (true, Amps(30.0))), Some(Device::Gfci));
        assert_eq!(at("Bakehouse annex", Receptacle, false, 20.0), None, "no rule is known for such a room");
    }
}
