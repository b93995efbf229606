//! A ground-fault device behind another one is harmless, and nobody knows which to press. (handbook 5.8)

use super::{Entry, Facts, Hit, Rests, Rule, Scope, Severity, Source, Who};
use crate::house::{Breaker, Point};

pub(crate) static RULE: Rule = Rule {
    id: "device-behind",
    title: "A ground-fault device behind another one",
    scope: Scope::Point,
    severity: Severity::Improve,
    entry: Entry::Marked,
    source: Source::Practice,
    cure: "a plain outlet in its place: then one place resets",
    job: Some("device"),
    who: Who::Qualified,
    check,
};

fn check(facts: &Facts<'_>) -> Vec<Hit> {
    let hit = |hung: (&Breaker, &Point, Rests)| {
        let (breaker, point, rests) = hung;
        let by_breaker = breaker.device.is_ground_fault() && rests == Rests::Proven;
        let behind = point.protected_by.filter(|by| *by != point.id).is_some();
        let before = if by_breaker { "its breaker" } else { "another device" };
        let why = format!("{before} protects it already: two places to press after one fault");
        (point.ground_fault && (by_breaker || behind)).then(|| Hit::of(&RULE, hung, why))
    };
    facts.points().filter_map(hit).collect()
}

#[cfg(test)]
use super::Example;
#[cfg(test)]
pub(super) fn examples() -> Vec<Example> {
    vec![
        Example("a device on a ground-fault breaker", 1, |c| device(c, crate::house::Device::Gfci)),
        Example("a device on a plain breaker", 0, |c| device(c, crate::house::Device::Plain)),
        Example("on a ground-fault breaker where it only likely hangs there", 0, |c| {
            device(c, crate::house::Device::Gfci);
            c.only_likely();
        }),
    ]
}

#[cfg(test)]
fn device(c: &mut super::Case, device: crate::house::Device) {
    let b = c.f.breaker("1", 20.0, "");
    c.f.house.breakers.put(Breaker { device, ..c.f.house.breakers.get(b).unwrap().clone() });
    let point = c.point(b, "Garage", crate::house::PointKind::Receptacle, 120);
    c.f.house.points.put(Point { ground_fault: true, ..c.f.house.points.get(point).unwrap().clone() });
}
