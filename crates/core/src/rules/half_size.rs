//! Half-size breakers stand only where the panel's label lists them.

use super::{Entry, Facts, Hit, Rule, Scope, Severity, nec, Who};
use crate::base::position::Half;
use crate::house::{KnownBy, TandemSpaces};

pub(crate) static RULE: Rule = Rule {
    id: "half-size",
    title: "A half-size breaker where none is listed",
    scope: Scope::Breaker,
    severity: Severity::Mend,
    entry: Entry::Refused("breaker.at"),
    source: nec("408.54, 110.3(B)"),
    cure: "a whole space, or one that the label lists for half-size breakers",
    job: None,
    who: Who::Qualified,
    check,
};

fn check(facts: &Facts<'_>) -> Vec<Hit> {
    let hit = |(panel, breaker): (&crate::house::Panel, &crate::house::Breaker)| {
        let pole = breaker.at.iter().find(|p| p.half != Half::Whole && !panel.tandem.allow(p.space))?;
        let by = match (&panel.tandem, panel.tandem_known) {
            (_, Some(KnownBy::Label)) => "by the panel's label",
            (_, Some(KnownBy::Notch)) => "by the notches of its bus",
            (TandemSpaces::None, None) => "as far as its label is recorded",
            (_, None) => "as far as is recorded",
        };
        let why = format!("space {} of {} takes no half-size breakers, {by}", pole.space, panel.name);
        Some(Hit::at(&RULE, breaker, why))
    };
    facts.breakers().filter_map(hit).collect()
}

#[cfg(test)]
use super::Example;
#[cfg(test)]
pub(super) fn examples() -> Vec<Example> {
    vec![
        Example("a half where the label lists none", 1, |c| {
            c.f.breaker("1a", 15.0, "");
            c.panel(|p| p.tandem = TandemSpaces::Some([3].into()));
        }),
        Example("one where it does", 0, |c| {
            c.f.breaker("1a", 15.0, "");
            c.panel(|p| p.tandem = TandemSpaces::Some([1].into()));
        }),
    ]
}
