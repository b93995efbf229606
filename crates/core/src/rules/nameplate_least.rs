//! A breaker is no smaller than what its thing's nameplate asks for: it would trip. (handbook 3.10)

use super::{Entry, Facts, Hit, Rests, Rule, Scope, Severity, nec, Who};
use crate::house::{Breaker, Load};
use crate::plate;

pub(crate) static RULE: Rule = Rule {
    id: "nameplate-least",
    title: "A breaker smaller than the nameplate asks for",
    scope: Scope::Load,
    severity: Severity::Mend,
    entry: Entry::Marked,
    source: nec("210.20(A), 210.19(A), 440.4(B), 430.52"),
    cure: "a breaker as large as the nameplate asks for, on a wire that carries it",
    job: None,
    who: Who::Qualified,
    check,
};

fn check(facts: &Facts<'_>) -> Vec<Hit> {
    let hit = |hung: (&Breaker, &Load, Rests)| {
        let (breaker, load, _) = hung;
        let asks = plate::asks(load, facts.connected(load)).filter(|_| !plate::shares_circuit(load))?;
        let why = format!("{}: its breaker must be {} A at least, it is {} A", load.name, asks.at_least.0, breaker.amps.0);
        (breaker.amps < asks.at_least).then(|| Hit::with(&RULE, hung, why))
    };
    facts.loads().filter_map(hit).collect()
}

#[cfg(test)]
use super::Example;
#[cfg(test)]
pub(super) fn examples() -> Vec<Example> {
    use crate::base::units::Watts;
    use crate::house::LoadKind;
    vec![
        Example("a water heater of 4500 W on 20 A: 18.75 A for hours ask for 25", 1, |c| {
            let b = c.f.breaker("1-3", 20.0, "");
            c.load(b, LoadKind::WaterHeater, |load| load.watts = Some(Watts(4500.0)));
        }),
        Example("on 25 A", 0, |c| {
            let b = c.f.breaker("1-3", 25.0, "");
            c.load(b, LoadKind::WaterHeater, |load| load.watts = Some(Watts(4500.0)));
        }),
        Example("what is plugged in beside others", 0, |c| {
            let b = c.f.breaker("1", 15.0, "");
            c.load(b, LoadKind::Other, |load| load.watts = Some(Watts(2400.0)));
        }),
    ]
}
