//! Breakers whose circuits share a neutral stand side by side: a tie does not reach farther.

use super::{Entry, Facts, Hit, Rule, Scope, Severity, nec, Who};
use crate::house::{Breaker, Circuit, House};

pub(crate) static RULE: Rule = Rule {
    id: "neutral-apart",
    title: "A shared neutral on breakers out of reach of a tie",
    scope: Scope::Circuit,
    severity: Severity::Mend,
    entry: Entry::Marked,
    source: nec("210.4(B)"),
    cure: "bring them together: spaces one below the other",
    job: None,
    who: Who::Qualified,
    check,
};

fn check(facts: &Facts<'_>) -> Vec<Hit> {
    let house = facts.house;
    let hit = |(breaker, circuit): (&Breaker, &Circuit)| {
        circuit.neutral_of?;
        let sharing = std::iter::once(circuit).chain(house.sharing_neutral(circuit));
        let mut group: Vec<&Breaker> = sharing.filter_map(|c| house.breakers.get(c.breaker)).collect();
        group.retain(|b| b.panel == breaker.panel);
        let why = format!("it shares its neutral with a breaker that does not stand beside {}", breaker.at_text());
        (!stand_together(house, group)).then(|| Hit::shared(&RULE, facts, (breaker, circuit), why))
    };
    facts.circuits().filter_map(hit).collect()
}

/// All in one column, each right below the one before: of three, two that touch are not enough.
fn stand_together(house: &House, group: Vec<&Breaker>) -> bool {
    let place = |b: &Breaker| {
        let panel = house.panels.get(b.panel)?;
        Some((panel.place(b.at.first()?.space).0, panel.extent(&b.at)))
    };
    let mut places: Vec<_> = group.into_iter().filter_map(place).collect();
    places.sort_by_key(|(_, (top, _))| *top);
    places.dedup();
    places.windows(2).all(|two| {
        let [(column, (top, height)), (below, (next, _))] = [two[0], two[1]];
        column == below && top + height == next
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
        Example("three, of which two are a pair and the first is apart", 2, |c| {
            c.panel(|p| p.supply = crate::base::position::Supply::WyeThreePhase);
            let three = [c.f.breaker("1", 20.0, ""), c.f.breaker("9", 20.0, ""), c.f.breaker("11", 20.0, "")];
            c.shared(&three);
        }),
        Example("three, one below the other", 0, |c| {
            c.panel(|p| p.supply = crate::base::position::Supply::WyeThreePhase);
            let three = [c.f.breaker("1", 20.0, ""), c.f.breaker("3", 20.0, ""), c.f.breaker("5", 20.0, "")];
            c.shared(&three);
        }),
    ]
}
