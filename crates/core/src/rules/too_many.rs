//! A panel holds no more poles than its label says; every pole counts one.

use super::{Entry, Facts, Hit, Rule, Scope, Severity, nec, Who};
use crate::house::{Breaker, House, Panel};

pub(crate) static RULE: Rule = Rule {
    id: "too-many",
    title: "More poles than the label allows",
    scope: Scope::Breaker,
    severity: Severity::Mend,
    entry: Entry::Refused("breaker.at"),
    source: nec("408.54"),
    cure: "retire or combine circuits, or a sub-panel",
    job: Some("retire"),
    who: Who::Qualified,
    check,
};

fn check(facts: &Facts<'_>) -> Vec<Hit> {
    facts.house.panels.iter().flat_map(|panel| of(facts.house, panel)).collect()
}

fn of(house: &House, panel: &Panel) -> Vec<Hit> {
    let here = house.breakers_of(panel.id);
    let poles: usize = here.iter().map(|b| b.at.len()).sum();
    let Some(max) = panel.max_circuits.map(usize::from).filter(|max| poles > *max) else { return Vec::new() };
    let known: usize = here.iter().filter(|b| b.as_found).map(|b| b.at.len()).sum();
    // The breakers recorded as found are the ones too many; where they do not explain it, the newest one is.
    let blamed: Vec<&Breaker> = if poles - known <= max {
        here.into_iter().filter(|b| b.as_found).collect()
    } else {
        here.into_iter().filter(|b| !b.as_found).max_by_key(|b| b.id).into_iter().collect()
    };
    let why = format!("{} may have {max} poles by its label, this would make {poles}", panel.name);
    blamed.into_iter().map(|b| Hit::at(&RULE, b, why.clone())).collect()
}

#[cfg(test)]
use super::Example;
#[cfg(test)]
pub(super) fn examples() -> Vec<Example> {
    vec![
        Example("three poles of two", 1, |c| {
            c.f.breaker("1-3", 30.0, "");
            c.f.breaker("2", 15.0, "");
            c.panel(|p| p.max_circuits = Some(2));
        }),
        Example("two of two", 0, |c| {
            c.f.breaker("1-3", 30.0, "");
            c.panel(|p| p.max_circuits = Some(2));
        }),
    ]
}
