//! A breaker is no larger than its thing's nameplate allows. (handbook 3.10)

use super::{Entry, Facts, Hit, Rests, Rule, Scope, Severity, nec, Who};
use crate::house::{Breaker, Load};
use crate::plate;

pub(crate) static RULE: Rule = Rule {
    id: "nameplate-most",
    title: "A breaker larger than the nameplate allows",
    scope: Scope::Load,
    severity: Severity::Danger,
    entry: Entry::Marked,
    source: nec("440.4(B), 430.52, 110.3(B)"),
    cure: "a breaker no larger than the nameplate says",
    job: Some("replace"),
    who: Who::Qualified,
    check,
};

fn check(facts: &Facts<'_>) -> Vec<Hit> {
    let hit = |hung: (&Breaker, &Load, Rests)| {
        let (breaker, load, _) = hung;
        let most = plate::asks(load, facts.connected(load))?.at_most.filter(|most| breaker.amps > *most)?;
        let why = format!("{}: its breaker may be {} A at most, it is {} A", load.name, most.0, breaker.amps.0);
        Some(Hit::with(&RULE, hung, why))
    };
    facts.loads().filter_map(hit).collect()
}

#[cfg(test)]
use super::Example;
#[cfg(test)]
pub(super) fn examples() -> Vec<Example> {
    vec![
        Example("30 A on a unit of 20 A at most, even on 10 AWG: handbook 1.4", 1, |c| unit(c, 20.0)),
        Example("30 A on one of 30", 0, |c| unit(c, 30.0)),
    ]
}

#[cfg(test)]
fn unit(c: &mut super::Case, most: f64) {
    use crate::base::units::Amps;
    let b = c.f.breaker("1-3", 30.0, "");
    c.load(b, crate::house::LoadKind::Cooling, |load| (load.mca, load.mop) = (Some(Amps(14.0)), Some(Amps(most))));
}
