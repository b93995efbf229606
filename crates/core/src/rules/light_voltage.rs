//! Lights of a dwelling have 120 V.

use super::{Entry, Facts, Hit, Rule, Scope, Severity, nec, Who};
use crate::house::{Point, PointKind};

pub(crate) static RULE: Rule = Rule {
    id: "light-voltage",
    title: "A light on two legs",
    scope: Scope::Point,
    severity: Severity::Mend,
    entry: Entry::Marked,
    source: nec("210.6(A)"),
    cure: "120 V for it",
    job: None,
    who: Who::Qualified,
    check,
};

fn check(facts: &Facts<'_>) -> Vec<Hit> {
    let is_high = |p: &Point| p.kind == PointKind::Light && p.volts.is_some_and(|v| v.is_leg_to_leg());
    let high = facts.points().filter(|(_, point, _)| is_high(point));
    let why = |p: &Point| format!("{} is a light of {} V", p.tag, p.volts.map_or(0, u16::from));
    high.map(|hung| Hit::of(&RULE, hung, why(hung.1))).collect()
}

#[cfg(test)]
use super::Example;
#[cfg(test)]
pub(super) fn examples() -> Vec<Example> {
    vec![
        Example("240 V", 1, |c| {
            let b = c.f.breaker("1-3", 20.0, "");
            c.point(b, "Hall", PointKind::Light, 240);
        }),
        Example("120 V", 0, |c| {
            let b = c.f.breaker("1", 20.0, "");
            c.point(b, "Hall", PointKind::Light, 120);
        }),
    ]
}
