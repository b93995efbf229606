//! A wire carries what its thing's nameplate asks for. (handbook 3.10)

use super::{Entry, Facts, Hit, Rests, Rule, Scope, Severity, nec, Who};
use crate::code::{self, AmpacityColumn};
use crate::house::{Breaker, Circuit, Load};
use crate::plate;

pub(crate) static RULE: Rule = Rule {
    id: "nameplate-wire",
    title: "A wire that does not carry what the nameplate asks for",
    scope: Scope::Load,
    severity: Severity::Mend,
    entry: Entry::Marked,
    source: nec("210.19(A), 440.4(B), 430.22"),
    cure: "a thicker wire, a circuit of its own, or a smaller thing",
    job: None,
    who: Who::Qualified,
    check,
};

fn check(facts: &Facts<'_>) -> Vec<Hit> {
    let hit = |hung: (&Breaker, &Load, Rests)| {
        let (breaker, load, _) = hung;
        let asks = plate::asks(load, facts.connected(load)).filter(|_| !plate::shares_circuit(load))?;
        let wires = facts.house.circuits_of(breaker.id).into_iter().filter_map(|c| Some((c, carries(c)?)));
        let (circuit, carried) = wires.min_by(|a, b| a.1.0.total_cmp(&b.1.0)).filter(|(_, least)| *least < asks.wire)?;
        let cable = circuit.cable().unwrap_or_default();
        let why = format!("{}: its wire must carry {:.1} A, {cable} carries {} A", load.name, asks.wire.0, carried.0);
        Some(Hit::with(&RULE, hung, why))
    };
    facts.loads().filter_map(hit).collect()
}

fn carries(circuit: &Circuit) -> Option<crate::base::units::Amps> {
    code::ampacity(circuit.wire?, circuit.metal, AmpacityColumn::C60)
}

#[cfg(test)]
use super::Example;
#[cfg(test)]
pub(super) fn examples() -> Vec<Example> {
    vec![
        Example("33 A at least on 10 AWG, which carries 30: NEC 310.16", 1, |c| unit(c, 33.0)),
        Example("17.9 A at least", 0, |c| unit(c, 17.9)),
    ]
}

#[cfg(test)]
fn unit(c: &mut super::Case, least: f64) {
    use crate::base::units::Amps;
    let b = c.f.breaker("1-3", 30.0, "");
    c.wire(b, "10-2");
    c.load(b, crate::house::LoadKind::Cooling, |load| (load.mca, load.mop) = (Some(Amps(least)), Some(Amps(50.0))));
}
