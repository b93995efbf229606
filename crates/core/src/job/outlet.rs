//! Receptacles by their plugs, and what protection a place asks for.

use crate::base::units::Amps;
use crate::house::Device;
use crate::words::places;

/// The receptacle for a breaker of this rating: at two legs or one, with a neutral or without. Nothing where none is usual: such
/// a thing is wired for good. [pub: NEMA WD 6, NEC 210.21(B), value from memory]
#[must_use]
pub fn configuration(two_legs: bool, neutral: bool, amps: Amps) -> Option<&'static str> {
    const ONE_LEG: &[(f64, &str)] = &[(15.0, "5-15"), (20.0, "5-20")];
    const TWO_LEGS: &[(f64, &str)] = &[(15.0, "6-15"), (20.0, "6-20"), (30.0, "6-30"), (40.0, "6-50"), (50.0, "6-50")];
    const WITH_NEUTRAL: &[(f64, &str)] = &[(30.0, "14-30"), (40.0, "14-50"), (50.0, "14-50")];
    let table = match (two_legs, neutral) {
        (false, _) => ONE_LEG,
        (true, false) => TWO_LEGS,
        (true, true) => WITH_NEUTRAL,
    };
    table.iter().find(|(rating, _)| (*rating - amps.0).abs() < 0.5).map(|(_, name)| *name)
}

/// Ground-fault protection is asked for up to this rating. [pub: NEC 210.8(A) (2023), value from memory]
const GROUND_FAULT_TO: f64 = 50.0;

/// What a new circuit's breaker has to be, by the room that it goes to; nothing where no rule is known for such a room.
#[must_use]
pub fn protection(room: &str, receptacle: bool, two_legs: bool, amps: Amps) -> Option<Device> {
    let asked = places::asked(room)?;
    let ground_fault = receptacle && asked.ground_fault && amps.0 <= GROUND_FAULT_TO;
    let arc_fault = !two_legs && amps.0 <= 20.0 && asked.arc_fault;
    Some(match (ground_fault, arc_fault) {
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
        let of = |two, neutral, amps| configuration(two, neutral, Amps(amps));
        assert_eq!(of(false, false, 20.0), Some("5-20"));
        assert_eq!(of(true, false, 50.0), Some("6-50"));
        assert_eq!((of(true, true, 30.0), of(true, true, 40.0)), (Some("14-30"), Some("14-50")));
        assert_eq!(of(true, false, 60.0), None, "wired for good");
    }

    // NEC 210.8(A), 210.12 (2023), from memory.
    #[test]
    fn protection_follows_from_the_place() {
        let at = |room, receptacle, two, amps| protection(room, receptacle, two, Amps(amps));
        assert_eq!(at("Kitchen", true, false, 20.0), Some(Device::Dual));
        assert_eq!(at("Bedroom 2", true, false, 15.0), Some(Device::Afci));
        assert_eq!(at("Garage", true, true, 50.0), Some(Device::Gfci));
        assert_eq!(at("Garage", true, true, 60.0), Some(Device::Plain));
        assert_eq!(at("Hall", false, true, 30.0), Some(Device::Plain));
        assert_eq!(at("Bakehouse annex", true, false, 20.0), None, "no rule is known for such a room");
    }
}
