//! A protected breaker of one pole on a shared neutral sees the other circuit's current as a fault. (handbook 5.8)

use super::{Entry, Facts, Hit, Rule, Scope, Severity, Source, Who};
use crate::house::{Breaker, Circuit};

pub(crate) static RULE: Rule = Rule {
    id: "neutral-device",
    title: "A protected breaker of one pole on a shared neutral",
    scope: Scope::Circuit,
    severity: Severity::Mend,
    entry: Entry::Marked,
    source: Source::Practice,
    cure: "a two-pole type for both, in two adjacent spaces",
    job: None,
    who: Who::Qualified,
    check,
};

fn check(facts: &Facts<'_>) -> Vec<Hit> {
    let hit = |(breaker, circuit): (&Breaker, &Circuit)| {
        let protected = breaker.device.is_protected() && breaker.at.len() == 1;
        let why = format!("{} protects one pole, and its neutral is shared: it trips whenever the other one runs", breaker.at_text());
        (protected && !facts.house.sharing_neutral(circuit).is_empty()).then(|| Hit::shared(&RULE, facts, (breaker, circuit), why))
    };
    facts.circuits().filter_map(hit).collect()
}

#[cfg(test)]
use super::Example;
#[cfg(test)]
pub(super) fn examples() -> Vec<Example> {
    vec![
        Example("on the one whose neutral it is", 1, |c| {
            let pair = [c.f.breaker("1", 20.0, ""), c.f.breaker("3", 20.0, "")];
            c.shared(&pair);
            protect(c, pair[0]);
        }),
        Example("on one of two poles for both", 0, |c| {
            let both = c.f.breaker("1-3", 20.0, "");
            c.shared(&[both, both]);
            protect(c, both);
        }),
    ]
}

#[cfg(test)]
fn protect(c: &mut super::Case, breaker: crate::house::BreakerId) {
    let device = Breaker { device: crate::house::Device::Dual, ..c.f.house.breakers.get(breaker).unwrap().clone() };
    c.f.house.breakers.put(device);
}
