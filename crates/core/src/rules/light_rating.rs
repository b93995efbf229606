//! Lights of a dwelling hang on circuits of 15 or 20 A.

use super::{Entry, Facts, Hit, Rule, Scope, Severity, nec, Who};
use crate::house::PointKind;

pub(crate) static RULE: Rule = Rule {
    id: "light-rating",
    title: "Lights behind too large a breaker",
    scope: Scope::Point,
    severity: Severity::Danger,
    entry: Entry::Marked,
    source: nec("210.23, 210.21(A)"),
    cure: "a breaker of 15 or 20 A, as its wire allows",
    job: Some("replace"),
    who: Who::Qualified,
    check,
};

const MOST: f64 = 20.0;

fn check(facts: &Facts<'_>) -> Vec<Hit> {
    let behind = facts.points().filter(|(breaker, point, _)| {
        point.kind == PointKind::Light && breaker.amps.0 > MOST && facts.house.panel_fed_by(breaker.id).is_none()
    });
    behind
        .map(|hung| {
            let why = format!("{} is a light behind {}: its wires and holder are not made for that", hung.1.tag, hung.0.amps);
            Hit::of(&RULE, hung, why)
        })
        .collect()
}

#[cfg(test)]
use super::Example;
#[cfg(test)]
pub(super) fn examples() -> Vec<Example> {
    vec![
        Example("behind 30 A", 1, |c| {
            let b = c.f.breaker("1", 30.0, "");
            c.point(b, "Hall", PointKind::Light, 120);
        }),
        Example("behind 20 A", 0, |c| {
            let b = c.f.breaker("1", 20.0, "");
            c.point(b, "Hall", PointKind::Light, 120);
        }),
    ]
}
