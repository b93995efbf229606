//! Circuits that share a neutral begin in one panel: whoever switches one panel off does not know of the other.

use super::{Entry, Facts, Hit, Rule, Scope, Severity, nec, Who};
use crate::house::{Breaker, Circuit};

pub(crate) static RULE: Rule = Rule {
    id: "neutral-two-panels",
    title: "A neutral shared over two panels",
    scope: Scope::Circuit,
    severity: Severity::Danger,
    entry: Entry::Marked,
    source: nec("210.4(A)"),
    cure: "an electrician gives one of them a neutral of its own",
    job: None,
    who: Who::Qualified,
    check,
};

fn check(facts: &Facts<'_>) -> Vec<Hit> {
    let house = facts.house;
    let hit = |(breaker, circuit): (&Breaker, &Circuit)| {
        let of = house.circuits.get(circuit.neutral_of?)?;
        let other = house.breakers.get(of.breaker).filter(|other| other.panel != breaker.panel)?;
        let why = format!(
            "it shares its neutral with {}: with this panel off, that one still puts current on it",
            house.breaker_name(other)
        );
        Some(Hit::shared(&RULE, facts, (breaker, circuit), why))
    };
    facts.circuits().filter_map(hit).collect()
}

#[cfg(test)]
use super::Example;
#[cfg(test)]
pub(super) fn examples() -> Vec<Example> {
    vec![
        Example("one in the sub-panel", 1, |c| {
            let feeder = c.f.breaker("5-7", 60.0, "");
            let annex = c.f.sub_panel("Annex", feeder);
            let pair = [c.f.breaker("1", 20.0, ""), c.f.breaker_in(annex, "3", 20.0, "")];
            c.shared(&pair);
        }),
        Example("both in one", 0, |c| {
            let pair = [c.f.breaker("1", 20.0, ""), c.f.breaker("3", 20.0, "")];
            c.shared(&pair);
        }),
    ]
}
