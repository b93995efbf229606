//! Breakers whose circuits share a neutral stand side by side: a tie does not reach farther.

use super::{Entry, Facts, Hit, Rule, Scope, Severity, nec};
use crate::house::{Breaker, Circuit, House};

pub(super) static RULE: Rule = Rule {
    id: "neutral-apart",
    title: "A shared neutral on breakers out of reach of a tie",
    scope: Scope::Circuit,
    severity: Severity::Mend,
    entry: Entry::Marked,
    source: nec("210.4(B)"),
    cure: "bring them together: spaces one below the other",
    check,
};

fn check(facts: &Facts<'_>) -> Vec<Hit> {
    let house = facts.house;
    let hit = |(breaker, circuit): (&Breaker, &Circuit)| {
        circuit.neutral_of?;
        let group: Vec<&Breaker> = std::iter::once(circuit)
            .chain(house.sharing_neutral(circuit))
            .filter_map(|c| house.breakers.get(c.breaker))
            .filter(|b| b.panel == breaker.panel)
            .collect();
        let why = format!("it shares its neutral with a breaker that does not stand beside {}", breaker.at_text());
        let alone = group.iter().any(|other| other.id != breaker.id) && !touches(house, breaker, &group);
        alone.then(|| Hit::shared(&RULE, facts, (breaker, circuit), why))
    };
    facts.circuits().filter_map(hit).collect()
}

/// It stands right above or below another of them.
fn touches(house: &House, breaker: &Breaker, group: &[&Breaker]) -> bool {
    let Some(panel) = house.panels.get(breaker.panel) else { return true };
    let place = |b: &Breaker| (b.at.first().map(|p| panel.place(p.space).0), panel.extent(&b.at));
    let (column, (top, height)) = place(breaker);
    group.iter().filter(|other| other.id != breaker.id).any(|other| {
        let (there, (other_top, other_height)) = place(other);
        column == there && (top + height == other_top || other_top + other_height == top)
    })
}

#[cfg(test)]
use super::Example;
#[cfg(test)]
pub(super) fn examples() -> Vec<Example> {
    vec![
        Example("two legs, but two rows apart", 1, |c| {
            let pair = [c.f.breaker("1", 20.0, ""), c.f.breaker("7", 20.0, "")];
            c.shared(&pair);
        }),
        Example("two legs, but in two columns", 1, |c| {
            let pair = [c.f.breaker("1", 20.0, ""), c.f.breaker("4", 20.0, "")];
            c.shared(&pair);
        }),
        Example("one below the other", 0, |c| {
            let pair = [c.f.breaker("3", 20.0, ""), c.f.breaker("1", 20.0, "")];
            c.shared(&pair);
        }),
        Example("the inner halves of two spaces", 0, |c| {
            let pair = [c.f.breaker("1b", 20.0, ""), c.f.breaker("3a", 20.0, "")];
            c.shared(&pair);
        }),
        Example("three, one below the other", 0, |c| {
            c.panel(|p| p.supply = crate::base::position::Supply::WyeThreePhase);
            let three = [c.f.breaker("1", 20.0, ""), c.f.breaker("3", 20.0, ""), c.f.breaker("5", 20.0, "")];
            c.shared(&three);
        }),
    ]
}
