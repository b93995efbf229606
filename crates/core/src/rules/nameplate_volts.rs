//! A thing gets the voltage that its nameplate names. (handbook 3.2)

use super::{Entry, Facts, Hit, Rests, Rule, Scope, Severity, nec};
use crate::base::position::Supply;
use crate::base::units::NominalVolts;
use crate::house::{Breaker, Load};

pub(crate) static RULE: Rule = Rule {
    id: "nameplate-volts",
    title: "A thing made for another voltage",
    scope: Scope::Load,
    severity: Severity::Note,
    entry: Entry::Marked,
    source: nec("110.4, 110.3(B)"),
    cure: "ask its maker, or a thing made for what there is",
    job: None,
    check,
};

fn check(facts: &Facts<'_>) -> Vec<Hit> {
    let hit = |hung: (&Breaker, &Load, Rests)| {
        let (breaker, load, _) = hung;
        let made = load.volts?;
        let wye = facts.house.panels.get(breaker.panel).is_some_and(|p| p.supply != Supply::SplitPhase);
        let why = if !made.is_at_home() {
            format!("{}: made for {} V, which no supply of a house gives", load.name, u16::from(made))
        } else if wye && made == NominalVolts::V240.into() {
            format!("{}: made for 240 V, gets 208 V: about three quarters of its power, (208/240)²", load.name)
        } else {
            return None;
        };
        Some(Hit::with(&RULE, hung, why))
    };
    facts.loads().filter_map(hit).collect()
}

#[cfg(test)]
use super::Example;
#[cfg(test)]
pub(super) fn examples() -> Vec<Example> {
    vec![
        Example("240 V on a wye", 1, |c| made_for_240(c, Supply::WyeThreePhase)),
        Example("240 V on split phase", 0, |c| made_for_240(c, Supply::SplitPhase)),
    ]
}

#[cfg(test)]
fn made_for_240(c: &mut super::Case, supply: Supply) {
    c.panel(|p| p.supply = supply);
    let b = c.f.breaker("1-3", 30.0, "");
    c.load(b, crate::house::LoadKind::Heating, |load| load.volts = Some(NominalVolts::V240.into()));
}
