//! Ground-fault protection by place and by thing. (handbook 5.6)
//!
//! That none is recorded does not say that there is none: it is a matter to mend only where somebody looked, or where the circuit
//! is made new by a plan, which must not leave it out.

use super::{Entry, Facts, Hit, Rests, Rule, Scope, Severity, nec, Who};
use crate::house::{Breaker, House, LoadKind, Point, PointKind};
use crate::words::places;

pub(crate) static RULE: Rule = Rule {
    id: "ground-fault",
    title: "An outlet without ground-fault protection",
    scope: Scope::Point,
    severity: Severity::Improve,
    entry: Entry::Marked,
    source: nec("210.8(A), (D), (F)"),
    cure: "a ground-fault breaker, or a device with its buttons within reach",
    job: Some("protect"),
    who: Who::Qualified,
    check,
};

/// Things that ask for it whether they are plugged in or wired. [pub: NEC 210.8(D) (2023), value from memory]
const THINGS: [LoadKind; 7] = [
    LoadKind::Dishwasher,
    LoadKind::Range,
    LoadKind::Oven,
    LoadKind::Cooktop,
    LoadKind::Dryer,
    LoadKind::Microwave,
    // [pub: NEC 680.5, 680.21(C), 680.44, value from memory]
    LoadKind::Pool,
];

/// A point asks for it: a receptacle by its room, anything but a light outdoors, some things anywhere. In a dwelling there is no
/// limit of amperes to it.
pub(crate) fn asks(room: &str, kind: PointKind, things: impl IntoIterator<Item = LoadKind>) -> bool {
    let asked = places::asked(room);
    let receptacle = kind == PointKind::Receptacle && asked.is_some_and(|a| a.ground_fault);
    let outdoors = matches!(kind, PointKind::Appliance | PointKind::Other) && asked.is_some_and(|a| a.outside);
    let things: Vec<LoadKind> = things.into_iter().collect();
    // A fire alarm is fed through no such device. [pub: NEC 760.41(B), 760.121(B), value from memory]
    let never = things.contains(&LoadKind::FireAlarm);
    !never && (receptacle || outdoors || things.iter().any(|thing| THINGS.contains(thing)))
}

fn check(facts: &Facts<'_>) -> Vec<Hit> {
    let house = facts.house;
    let hit = |hung: (&Breaker, &Point, Rests)| {
        let (breaker, point, _) = hung;
        let room = house.rooms.get(point.room)?;
        let things = house.loads.iter().filter(|l| l.point == point.id).map(|l| l.kind);
        if !asks(&room.name, point.kind, things) || is_protected(house, breaker, point) {
            return None;
        }
        let severity = if room.no_device { Severity::Mend } else { Severity::Improve };
        let why = format!("no ground-fault protection is known at {} in {}", point.tag, room.name);
        Some(Hit { severity, ..Hit::of(&RULE, hung, why) })
    };
    facts.points().filter_map(hit).collect()
}

fn is_protected(house: &House, breaker: &Breaker, point: &Point) -> bool {
    let at = |b: &Breaker| b.device.is_ground_fault();
    let above = || house.panels.get(breaker.panel).and_then(|p| p.fed_by).and_then(|b| house.breakers.get(b));
    at(breaker) || above().is_some_and(at) || point.ground_fault || point.protected_by.is_some()
}

#[cfg(test)]
use super::Example;
#[cfg(test)]
pub(super) fn examples() -> Vec<Example> {
    use crate::house::Device;
    vec![
        Example("an outlet of a kitchen", 1, |c| {
            let b = c.f.breaker("1", 20.0, "");
            c.point(b, "Kitchen", PointKind::Receptacle, 120);
        }),
        Example("a garage's outlet for a welder, however large: NEC 210.8(A) (2023)", 1, |c| {
            let b = c.f.breaker("1-3", 60.0, "");
            c.point(b, "Garage", PointKind::Receptacle, 240);
        }),
        Example("a dryer wired for good in an attic: NEC 210.8(D)", 1, |c| {
            let b = c.f.breaker("1-3", 30.0, "");
            c.load(b, LoadKind::Dryer, |_| {});
        }),
        Example("an air conditioner outdoors: NEC 210.8(F)", 1, |c| {
            let b = c.f.breaker("1-3", 30.0, "");
            c.point(b, "Outside", PointKind::Appliance, 240);
        }),
        Example("a light outdoors", 0, |c| {
            let b = c.f.breaker("1", 15.0, "");
            c.point(b, "Outside", PointKind::Light, 120);
        }),
        Example("an outlet of a bedroom", 0, |c| {
            let b = c.f.breaker("1", 15.0, "");
            c.point(b, "Bedroom", PointKind::Receptacle, 120);
        }),
        Example("a kitchen on a ground-fault breaker", 0, |c| {
            let b = c.f.breaker("1", 20.0, "");
            let device = Breaker { device: Device::Gfci, ..c.f.house.breakers.get(b).unwrap().clone() };
            c.f.house.breakers.put(device);
            c.point(b, "Kitchen", PointKind::Receptacle, 120);
        }),
    ]
}
