//! A thing gets the voltage that its nameplate names. (handbook 3.2)

use super::{Entry, Facts, Hit, Rests, Rule, Scope, Severity, nec, Who};
use crate::base::position::Supply;
use crate::base::units::{NominalVolts, PlateVolts};
use crate::house::{Breaker, Load};

pub(crate) static RULE: Rule = Rule {
    id: "nameplate-volts",
    title: "A thing made for another voltage",
    scope: Scope::Load,
    severity: Severity::Mend,
    entry: Entry::Marked,
    source: nec("110.4, 110.3(B)"),
    cure: "ask its maker, or a thing made for what there is",
    job: None,
    who: Who::Qualified,
    check,
};

fn check(facts: &Facts<'_>) -> Vec<Hit> {
    let hit = |hung: (&Breaker, &Load, Rests)| {
        let (breaker, load, _) = hung;
        let (made, supply) = (load.volts?, facts.house.panels.get(breaker.panel)?.supply);
        let (why, severity) = match forbids(made, supply) {
            Some(why) => (why, RULE.severity),
            None => (weakens(made, supply)?, Severity::Improve),
        };
        Some(Hit { severity, ..Hit::with(&RULE, hung, format!("{}: {why}", load.name)) })
    };
    facts.loads().filter_map(hit).collect()
}

/// Why a thing is not connected to a supply: no house gives its voltage, or it gets more than that.
/// [def: what resists draws by the square of its voltage]
pub(crate) fn forbids(made: PlateVolts, supply: Supply) -> Option<String> {
    let volts = u16::from(made);
    if !made.is_at_home() {
        return Some(format!("made for {volts} V, which no supply of a house gives"));
    }
    let more = made.nominal() == NominalVolts::V208 && supply.across() == 240;
    more.then(|| format!("made for {volts} V, gets 240 V: {:.2} times its power, (240/{volts})²", share(240, volts)))
}

/// What a supply of less than its voltage makes of a thing.
pub(crate) fn weakens(made: PlateVolts, supply: Supply) -> Option<String> {
    let (volts, less) = (u16::from(made), made.nominal() == NominalVolts::V240 && supply.across() == 208);
    (less && made.is_at_home())
        .then(|| format!("made for {volts} V, gets 208 V: {:.2} of its power, (208/{volts})²", share(208, volts)))
}

fn share(gets: u16, made: u16) -> f64 {
    (f64::from(gets) / f64::from(made)).powi(2)
}

#[cfg(test)]
use super::Example;
#[cfg(test)]
pub(super) fn examples() -> Vec<Example> {
    vec![
        Example("240 V on a wye", 1, |c| made_for(c, 240, Supply::WyeThreePhase)),
        Example("240 V on split phase", 0, |c| made_for(c, 240, Supply::SplitPhase)),
        Example("200 V on split phase", 1, |c| made_for(c, 200, Supply::SplitPhase)),
        Example("208 V on a wye", 0, |c| made_for(c, 208, Supply::WyeTwoLegs)),
        Example("460 V", 1, |c| made_for(c, 460, Supply::SplitPhase)),
    ]
}

#[cfg(test)]
fn made_for(c: &mut super::Case, volts: u16, supply: Supply) {
    c.panel(|p| p.supply = supply);
    let b = c.f.breaker("1-3", 30.0, "");
    c.load(b, crate::house::LoadKind::Heating, |load| load.volts = PlateVolts::try_from(volts).ok());
}
