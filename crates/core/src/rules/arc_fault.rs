//! Arc-fault protection of 15 and 20 A circuits at 120 V, by the room. Older work had none: worth knowing, and never left out of
//! what a plan makes new.

use super::{Entry, Facts, Hit, Rests, Rule, Scope, Severity, nec, Who};
use crate::base::units::Amps;
use crate::house::{Breaker, Device, Point, PointKind};
use crate::words::places;

pub(crate) static RULE: Rule = Rule {
    id: "arc-fault",
    title: "A circuit without arc-fault protection",
    scope: Scope::Point,
    severity: Severity::Improve,
    entry: Entry::Marked,
    source: nec("210.12"),
    cure: "an arc-fault or dual-function breaker",
    job: Some("protect"),
    who: Who::Qualified,
    check,
};

/// The largest circuit that it is asked of. Outlets and lights belong on none that is larger: of them it is asked whatever they hang on.
const MOST: f64 = 20.0;

/// An outlet asks for it.
pub(crate) fn asks(room: &str, kind: PointKind, two_legs: bool, amps: Amps) -> bool {
    let so_large = amps.0 <= MOST || matches!(kind, PointKind::Receptacle | PointKind::Light);
    !two_legs && so_large && places::asked(room).is_some_and(|a| a.arc_fault)
}

fn check(facts: &Facts<'_>) -> Vec<Hit> {
    let hit = |hung: (&Breaker, &Point, Rests)| {
        let (breaker, point, _) = hung;
        let room = facts.house.rooms.get(point.room)?;
        let two_legs = point.volts.is_some_and(crate::base::units::NominalVolts::is_leg_to_leg);
        let protected = matches!(breaker.device, Device::Afci | Device::Dual);
        let why = format!("no arc-fault protection is known at {} in {}", point.tag, room.name);
        (asks(&room.name, point.kind, two_legs, breaker.amps) && !protected).then(|| Hit::of(&RULE, hung, why))
    };
    facts.points().filter_map(hit).collect()
}

#[cfg(test)]
use super::Example;
#[cfg(test)]
pub(super) fn examples() -> Vec<Example> {
    use PointKind::Receptacle;
    vec![
        Example("a bedroom's outlet", 1, |c| {
            let b = c.f.breaker("1", 15.0, "");
            c.point(b, "Bedroom", Receptacle, 120);
        }),
        Example("a garage's", 0, |c| {
            let b = c.f.breaker("1", 20.0, "");
            c.point(b, "Garage", Receptacle, 120);
        }),
        Example("what is wired for good on a large circuit", 0, |c| {
            let b = c.f.breaker("1", 30.0, "");
            c.point(b, "Bedroom", PointKind::Appliance, 120);
        }),
        Example("240 V in a bedroom", 0, |c| {
            let b = c.f.breaker("1-3", 20.0, "");
            c.point(b, "Bedroom", Receptacle, 240);
        }),
    ]
}
