//! A point gets the voltage that it is made for.

use super::{Entry, Facts, Hit, Rests, Rule, Scope, Severity, nec, Who};
use crate::house::{Breaker, Circuit, Point};

pub(crate) static RULE: Rule = Rule {
    id: "wrong-voltage",
    title: "A point that gets the wrong voltage",
    scope: Scope::Point,
    severity: Severity::Danger,
    entry: Entry::Marked,
    source: nec("210.6, 110.4"),
    cure: "a circuit of its voltage: move it, or convert the circuit with nothing else on it",
    job: None,
    who: Who::Qualified,
    check,
};

fn check(facts: &Facts<'_>) -> Vec<Hit> {
    let hit = |hung: (&Breaker, &Point, Rests)| {
        let (breaker, point, _) = hung;
        let volts = point.volts?;
        let bare = volts.is_leg_to_leg() == (breaker.at.len() == 1);
        let circuits = facts.house.circuits_of(breaker.id);
        // Two poles give 120 V as well where a neutral comes along, or where each pole has a cable of its own.
        let wrong = bare && (volts.is_leg_to_leg() || !circuits.is_empty() && circuits.iter().all(|c| has_no_neutral(c)));
        let sub = facts.house.panel_fed_by(breaker.id).is_some();
        let why = format!("{} is made for {} V, and {} does not give that", point.tag, u16::from(volts), breaker.at_text());
        (wrong && !sub).then(|| Hit::of(&RULE, hung, why))
    };
    facts.points().filter_map(hit).collect()
}

/// Both of its conductors are hot.
fn has_no_neutral(circuit: &Circuit) -> bool {
    circuit.conductors == Some(2) && circuit.pole.is_none() && circuit.neutral_of.is_none()
}

#[cfg(test)]
use super::Example;
#[cfg(test)]
pub(super) fn examples() -> Vec<Example> {
    use crate::house::PointKind::{Appliance, Receptacle};
    vec![
        Example("a 120 V outlet on a cable whose both wires are hot", 1, |c| {
            let b = c.f.breaker("1-3", 20.0, "");
            c.wire(b, "12-2");
            c.point(b, "Hall", Receptacle, 120);
        }),
        Example("one on a cable with a neutral", 0, |c| {
            let b = c.f.breaker("1-3", 20.0, "");
            c.wire(b, "12-3");
            c.point(b, "Hall", Receptacle, 120);
        }),
        Example("a 240 V thing on one pole", 1, |c| {
            let b = c.f.breaker("1", 20.0, "");
            c.point(b, "Hall", Appliance, 240);
        }),
        Example("a 240 V thing on two", 0, |c| {
            let b = c.f.breaker("1-3", 20.0, "");
            c.wire(b, "12-2");
            c.point(b, "Hall", Appliance, 240);
        }),
    ]
}
