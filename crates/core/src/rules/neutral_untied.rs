//! Circuits that share a neutral are switched together: by one breaker, or by tied handles.

use super::{Entry, Facts, Hit, Rule, Scope, Severity, nec, Who};

pub(crate) static RULE: Rule = Rule {
    id: "neutral-untied",
    title: "A shared neutral on handles that are not tied",
    scope: Scope::Circuit,
    severity: Severity::Mend,
    entry: Entry::Marked,
    source: nec("210.4(B)"),
    cure: "a handle tie that is listed for these breakers, or one breaker of as many poles",
    job: None,
    who: Who::Qualified,
    check,
};

fn check(facts: &Facts<'_>) -> Vec<Hit> {
    let house = facts.house;
    let hit = |(breaker, circuit): (&crate::house::Breaker, &crate::house::Circuit)| {
        let of = house.circuits.get(circuit.neutral_of?)?;
        let other = house.breakers.get(of.breaker).filter(|other| other.id != breaker.id)?;
        let why = format!(
            "it shares its neutral with {}: both have to be switched together, by one handle or a tie",
            other.at_text()
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
        Example("two single-pole breakers", 1, |c| {
            let pair = [c.f.breaker("1", 20.0, ""), c.f.breaker("3", 20.0, "")];
            c.shared(&pair);
        }),
        Example("both on one of two poles", 0, |c| {
            let one = c.f.breaker("1-3", 20.0, "");
            c.shared(&[one, one]);
        }),
    ]
}
