//! Breakers come in standard ratings. (handbook 1.4)

use super::{Entry, Facts, Hit, Rule, Scope, Severity, nec, Who};
use crate::code::STANDARD_RATINGS;
use crate::house::{Breaker, Device};

pub(crate) static RULE: Rule = Rule {
    id: "standard-rating",
    title: "A rating that breakers do not come in",
    scope: Scope::Breaker,
    severity: Severity::Improve,
    entry: Entry::Marked,
    source: nec("240.6(A)"),
    cure: "a standard rating: read it again",
    job: None,
    who: Who::Qualified,
    check,
};

/// Further ratings of fuses. [pub: NEC 240.6(A), value from memory]
const OF_FUSES: [f64; 4] = [1.0, 3.0, 6.0, 10.0];

fn check(facts: &Facts<'_>) -> Vec<Hit> {
    let is_standard = |b: &Breaker| {
        STANDARD_RATINGS.contains(&b.amps.0) || b.device == Device::Fuse && OF_FUSES.contains(&b.amps.0)
    };
    let odd = facts.breakers().filter(|(_, breaker)| !is_standard(breaker));
    odd.map(|(_, b)| Hit::at(&RULE, b, format!("{} is no rating that breakers come in", b.amps))).collect()
}

#[cfg(test)]
use super::Example;
#[cfg(test)]
pub(super) fn examples() -> Vec<Example> {
    vec![
        Example("22 A", 1, |c| {
            c.f.breaker("1", 22.0, "");
        }),
        Example("25 A", 0, |c| {
            c.f.breaker("1", 25.0, "");
        }),
        Example("a fuse of 10 A", 0, |c| {
            let b = c.f.breaker("1", 10.0, "");
            let fuse = Breaker { device: Device::Fuse, ..c.f.house.breakers.get(b).unwrap().clone() };
            c.f.house.breakers.put(fuse);
        }),
    ]
}
