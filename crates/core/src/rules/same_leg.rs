//! Both halves of one space are on that space's leg: two poles on one leg never give 240 V. (handbook 1.2)

use super::{Entry, Facts, Hit, Rule, Scope, Severity, Source, Who};

pub(crate) static RULE: Rule = Rule {
    id: "same-leg",
    title: "Two poles on one leg",
    scope: Scope::Breaker,
    severity: Severity::Mend,
    entry: Entry::Refused("breaker.at"),
    source: Source::Definition("the bus"),
    cure: "two spaces one below the other, or the lower half of one and the upper half of the next",
    job: None,
    who: Who::Qualified,
    check,
};

fn check(facts: &Facts<'_>) -> Vec<Hit> {
    let on_one_leg = facts.breakers().filter(|(panel, breaker)| {
        let mut legs: Vec<_> = breaker.at.iter().map(|p| panel.leg(*p)).collect();
        legs.sort_unstable();
        legs.dedup();
        legs.len() < breaker.at.len()
    });
    let why = "two of its poles would be on the same leg: no 240 V between them";
    on_one_leg.map(|(_, breaker)| Hit::at(&RULE, breaker, why.into())).collect()
}

#[cfg(test)]
use super::{Case, Example};

/// A breaker that the door would not let in.
#[cfg(test)]
fn put(c: &mut Case, at: &str) {
    use crate::house::{Breaker, PanelId};
    let (id, at) = (c.f.breaker_id(), crate::base::position::parse_poles(at).unwrap());
    c.f.house.breakers.put(Breaker::new(id, PanelId(1), at, crate::base::units::Amps(30.0)));
}

#[cfg(test)]
pub(super) fn examples() -> Vec<Example> {
    vec![
        Example("both halves of one space", 1, |c| put(c, "1a-1b")),
        Example("one space below the other", 0, |c| put(c, "1-3")),
        Example("the inner halves of two spaces", 0, |c| put(c, "1b-3a")),
    ]
}
