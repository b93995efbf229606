//! No breaker on a bus is larger than the bus.

use super::{Entry, Facts, Hit, Rule, Scope, Severity, nec, Who};

pub(crate) static RULE: Rule = Rule {
    id: "branch-over-bus",
    title: "A breaker larger than the bus it stands on",
    scope: Scope::Breaker,
    severity: Severity::Mend,
    entry: Entry::Marked,
    source: nec("408.36, 110.3(B)"),
    cure: "a breaker no larger than the bus",
    job: None,
    who: Who::Licensed,
    check,
};

fn check(facts: &Facts<'_>) -> Vec<Hit> {
    let over = facts.breakers().filter(|(panel, breaker)| breaker.amps > panel.bus);
    let hit = |(panel, breaker): (&crate::house::Panel, &crate::house::Breaker)| {
        Hit::at(&RULE, breaker, format!("{} on a bus that carries {}", breaker.amps, panel.bus))
    };
    over.map(hit).collect()
}

#[cfg(test)]
use super::Example;
#[cfg(test)]
pub(super) fn examples() -> Vec<Example> {
    vec![
        Example("100 A on a bus of 60", 1, |c| {
            c.f.breaker("1-3", 100.0, "");
            c.panel(|p| p.bus = crate::base::units::Amps(60.0));
        }),
        Example("60 A on a bus of 60", 0, |c| {
            c.f.breaker("1-3", 60.0, "");
            c.panel(|p| p.bus = crate::base::units::Amps(60.0));
        }),
    ]
}
