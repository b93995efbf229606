//! A breaker or fuse is no larger than what its wire carries. (handbook 1.4)

use super::{Entry, Facts, Hit, Rule, Scope, Severity, nec, Who};
use crate::code::{self, AmpacityColumn};
use crate::base::units::Amps;
use crate::house::{Breaker, Circuit};

pub(crate) static RULE: Rule = Rule {
    id: "thin-wire",
    title: "A wire too thin for its breaker",
    scope: Scope::Circuit,
    severity: Severity::Danger,
    entry: Entry::Refused("circuit.wire"),
    source: nec("240.4(D), 240.4(B), 310.16"),
    cure: "a breaker that the wire can stand behind, or a thicker wire; a motor's or air conditioner's nameplate, once entered, may \
           allow more",
    job: Some("replace"),
    who: Who::Qualified,
    check,
};

/// The largest that a wire can stand behind; conductors in cable go by the 60 °C column (NEC 334.80).
fn limit(circuit: &Circuit) -> Option<Amps> {
    let column = if circuit.conductors.is_some() { AmpacityColumn::C60 } else { AmpacityColumn::C75 };
    code::largest_breaker(circuit.wire?, circuit.metal, column)
}

fn check(facts: &Facts<'_>) -> Vec<Hit> {
    facts.circuits().filter_map(|(breaker, circuit)| hit(facts, breaker, circuit)).collect()
}

fn hit(facts: &Facts<'_>, breaker: &Breaker, circuit: &Circuit) -> Option<Hit> {
    let (wire, limit) = (circuit.wire?, limit(circuit)?);
    if breaker.amps <= limit || carries_all(facts, breaker, circuit) || plate_allows(facts, breaker, circuit) {
        return None;
    }
    let why = format!("{wire} AWG may stand behind {limit} at most, not {}", breaker.amps);
    Some(Hit::on(&RULE, breaker, circuit, why))
}

/// A feeder that carries a dwelling's whole load: nothing else hangs in the panel that it begins in. [pub: NEC 310.12]
fn carries_all(facts: &Facts<'_>, breaker: &Breaker, circuit: &Circuit) -> bool {
    facts.house.panel_fed_by(breaker.id).is_some()
        && facts.house.breakers_of(breaker.panel).len() == 1
        && circuit.wire.is_some_and(|wire| code::carries_dwelling(wire, circuit.metal, breaker.amps))
}

/// A motor or air conditioner proven to be alone on it, by its nameplate. [pub: NEC 240.4(G), 440.22(C), 430.52]
fn plate_allows(facts: &Facts<'_>, breaker: &Breaker, circuit: &Circuit) -> bool {
    let Some(alone) = facts.alone(breaker.id) else { return false };
    let mut loads = facts.house.loads.iter().filter(|load| load.point == alone);
    let (Some(load), None, Some(wire)) = (loads.next(), loads.next(), circuit.wire) else { return false };
    let carried = code::ampacity(wire, circuit.metal, AmpacityColumn::C60);
    load.mca.is_some_and(|mca| carried.is_some_and(|carried| carried >= mca))
        && load.mop.is_some_and(|mop| breaker.amps <= mop)
}

#[cfg(test)]
use super::Example;
#[cfg(test)]
pub(super) fn examples() -> Vec<Example> {
    vec![
        Example("the 30 A fuse on 14 AWG of old fuse panels: handbook 1.4, common practice", 1, |c| {
            let b = c.f.breaker("1", 30.0, "");
            c.wire(b, "14-2");
        }),
        Example("15 A on 14 AWG", 0, |c| {
            let b = c.f.breaker("1", 15.0, "");
            c.wire(b, "14-2");
        }),
        Example("60 A on 6 AWG cable, the next rating above 55 A: NEC 240.4(B)", 0, |c| {
            let b = c.f.breaker("1-3", 60.0, "");
            c.wire(b, "6-3");
        }),
        Example("200 A on 2/0 copper to the one panel of a house: NEC 310.12", 0, |c| {
            let b = c.f.breaker("1-3", 200.0, "");
            c.wire(b, "2/0");
            c.f.sub_panel("House", b);
        }),
        Example("the same where other circuits begin beside it: it carries no whole dwelling", 1, |c| {
            c.f.breaker("2", 20.0, "");
            let b = c.f.breaker("1-3", 200.0, "");
            c.wire(b, "2/0");
            c.f.sub_panel("House", b);
        }),
        Example("a cooler of 14 A at least and 25 A at most on 14 AWG: NEC 240.4(G), 440.22(C)", 0, |c| cooler(c, 25.0)),
        Example("the same behind 30 A", 1, |c| cooler(c, 30.0)),
        Example("the same behind 25 A where it only likely hangs there", 1, |c| {
            cooler(c, 25.0);
            c.only_likely();
        }),
    ]
}

#[cfg(test)]
fn cooler(c: &mut super::Case, amps: f64) {
    use crate::base::units::Amps;
    let b = c.f.breaker("1-3", amps, "");
    c.wire(b, "14-2");
    c.load(b, crate::house::LoadKind::Cooling, |load| (load.mca, load.mop) = (Some(Amps(14.0)), Some(Amps(25.0))));
}
