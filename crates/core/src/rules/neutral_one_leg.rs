//! Circuits that share a neutral are each on a leg of their own: on one leg the neutral carries all their currents, and nothing
//! trips. Each is compared with each, not with the first alone. (handbook 1.3)

use super::{Entry, Facts, Hit, Rule, Scope, Severity, nec, Who};
use crate::house::Circuit;

pub(crate) static RULE: Rule = Rule {
    id: "neutral-one-leg",
    title: "A shared neutral on one leg",
    scope: Scope::Circuit,
    severity: Severity::Danger,
    entry: Entry::Refused("circuit.neutral_of"),
    source: nec("210.4, 100 (multiwire branch circuit)"),
    cure: "each of them on a leg of its own: two spaces one below the other",
    job: Some("rearrange"),
    who: Who::Qualified,
    check,
};

fn check(facts: &Facts<'_>) -> Vec<Hit> {
    let house = facts.house;
    let mut found = Vec::new();
    for circuit in house.circuits.iter().filter(|c| c.neutral_of.is_some()) {
        let Some((breaker, mine)) = house.breakers.get(circuit.breaker).zip(house.legs_of(circuit)) else { continue };
        // The one whose neutral it is, and those that came to it before.
        let before = |c: &&Circuit| Some(c.id) == circuit.neutral_of || c.id < circuit.id;
        let mut others = house.sharing_neutral(circuit).into_iter().filter(before);
        let clash = others.find(|c| house.legs_of(c).is_some_and(|legs| legs.iter().any(|leg| mine.contains(leg))));
        if let Some(other) = clash.and_then(|c| house.breakers.get(c.breaker)) {
            let why = format!(
                "it shares its neutral with {} on the same leg: the neutral carries both currents and no breaker trips",
                other.at_text()
            );
            found.push(Hit::shared(&RULE, facts, (breaker, circuit), why));
        }
    }
    found
}

#[cfg(test)]
use super::Example;
#[cfg(test)]
pub(super) fn examples() -> Vec<Example> {
    use crate::base::position::Supply;
    vec![
        Example("spaces 1 and 2 are one row, one leg: handbook 1.2", 1, |c| {
            let pair = [c.f.breaker("1", 20.0, ""), c.f.breaker("2", 20.0, "")];
            c.shared(&pair);
        }),
        Example("1 and 3", 0, |c| {
            let pair = [c.f.breaker("1", 20.0, ""), c.f.breaker("3", 20.0, "")];
            c.shared(&pair);
        }),
        Example("three on two legs: the third clashes with the second, not with the first", 1, |c| {
            let three = [c.f.breaker("1", 20.0, ""), c.f.breaker("3", 20.0, ""), c.f.breaker("4", 20.0, "")];
            c.shared(&three);
        }),
        Example("three on three legs of a wye", 0, |c| {
            c.panel(|p| p.supply = Supply::WyeThreePhase);
            let three = [c.f.breaker("1", 20.0, ""), c.f.breaker("3", 20.0, ""), c.f.breaker("5", 20.0, "")];
            c.shared(&three);
        }),
    ]
}
