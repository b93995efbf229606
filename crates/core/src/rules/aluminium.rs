//! Aluminium on small breakers: joints that loosen and heat. (handbook 5.1, 6)

use super::{Entry, Facts, Hit, Rule, Scope, Severity, Source, Who};
use crate::base::units::Metal;
use crate::house::{Breaker, Circuit};

pub(crate) static RULE: Rule = Rule {
    id: "aluminium",
    title: "Aluminium wires on a small breaker",
    scope: Scope::Circuit,
    severity: Severity::Mend,
    entry: Entry::Marked,
    source: Source::Practice,
    cure: "an electrician joins copper to each end with what is made for it, and looks at every outlet",
    job: None,
    who: Who::Licensed,
    check,
};

/// Larger ones were and are made of aluminium as usual. (common practice)
const SMALL: f64 = 20.0;

fn check(facts: &Facts<'_>) -> Vec<Hit> {
    let is = |(breaker, circuit): &(&Breaker, &Circuit)| {
        circuit.metal == Metal::Aluminium && breaker.amps.0 <= SMALL
    };
    let why = "its wires are aluminium: their joints loosen and heat".to_owned();
    facts.circuits().filter(is).map(|(breaker, circuit)| Hit::on(&RULE, breaker, circuit, why.clone())).collect()
}

#[cfg(test)]
use super::Example;
#[cfg(test)]
pub(super) fn examples() -> Vec<Example> {
    vec![
        Example("12 AWG aluminium on 15 A", 1, |c| wired(c, "1", 15.0, Metal::Aluminium)),
        Example("copper there", 0, |c| wired(c, "1", 15.0, Metal::Copper)),
        Example("a range on aluminium", 0, |c| wired(c, "1-3", 40.0, Metal::Aluminium)),
    ]
}

#[cfg(test)]
fn wired(c: &mut super::Case, at: &str, amps: f64, metal: Metal) {
    let b = c.f.breaker(at, amps, "");
    let id = c.wire(b, if amps > SMALL { "6-3" } else { "12-2" });
    let circuit = Circuit { metal, ..c.f.house.circuits.get(id).unwrap().clone() };
    c.f.house.circuits.put(circuit);
}
