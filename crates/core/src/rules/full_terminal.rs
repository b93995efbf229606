//! A terminal holds as many conductors as its label says.

use super::{Entry, Facts, Hit, Rule, Scope, Severity, nec, Who};
use crate::house::{Breaker, Circuit, Landed};

pub(crate) static RULE: Rule = Rule {
    id: "full-terminal",
    title: "More wires under a terminal than it takes",
    scope: Scope::Circuit,
    severity: Severity::Mend,
    entry: Entry::Refused("circuit.landed"),
    source: nec("110.14(A)"),
    cure: "splice them: one wire goes to the terminal",
    job: None,
    who: Who::Qualified,
    check,
};

fn check(facts: &Facts<'_>) -> Vec<Hit> {
    let hit = |(breaker, circuit): (&Breaker, &Circuit)| {
        let allowed = usize::from(breaker.terminal?.wires);
        let same = |c: &&Circuit| c.pole == circuit.pole && c.landed == Landed::Terminal;
        let here: Vec<_> = facts.house.circuits_of(breaker.id).into_iter().filter(same).map(|c| c.id).collect();
        // Blamed on the newest of them.
        let newest = here.iter().max() == Some(&circuit.id);
        let why = format!("its terminal holds {allowed} by its label, this would make {}", here.len());
        (newest && here.len() > allowed).then(|| Hit::on(&RULE, breaker, circuit, why))
    };
    facts.circuits().filter_map(hit).collect()
}

#[cfg(test)]
use super::Example;
#[cfg(test)]
pub(super) fn examples() -> Vec<Example> {
    vec![
        Example("two wires under a terminal for one", 1, |c| two(c, 1)),
        Example("two under one for two", 0, |c| two(c, 2)),
        Example("two where the label is not read", 0, |c| {
            let b = c.f.breaker("1", 15.0, "");
            c.wire(b, "14-2");
            c.wire(b, "14-2");
        }),
    ]
}

#[cfg(test)]
fn two(c: &mut super::Case, wires: u8) {
    use crate::house::Terminal;
    let b = c.f.breaker("1", 15.0, "");
    let terminal = Some(Terminal { wires, smallest: None, largest: None, torque: None });
    c.f.house.breakers.put(Breaker { terminal, ..c.f.house.breakers.get(b).unwrap().clone() });
    c.wire(b, "14-2");
    c.wire(b, "14-2");
}
