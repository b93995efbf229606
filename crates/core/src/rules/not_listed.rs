//! Breakers are of a type that the panel's label lists.

use super::{Entry, Facts, Hit, Rule, Scope, Severity, nec, Who};

pub(crate) static RULE: Rule = Rule {
    id: "not-listed",
    title: "A breaker of a type that the panel does not list",
    scope: Scope::Breaker,
    severity: Severity::Mend,
    entry: Entry::Marked,
    source: nec("110.3(B)"),
    cure: "a type that the label lists",
    job: Some("replace"),
    who: Who::Qualified,
    check,
};

fn check(facts: &Facts<'_>) -> Vec<Hit> {
    let strange = facts.breakers().filter(|(panel, breaker)| {
        let model = breaker.model.trim();
        !model.is_empty() && !panel.listed.is_empty() && !panel.listed.iter().any(|l| l.trim().eq_ignore_ascii_case(model))
    });
    let hit = |(panel, breaker): (&crate::house::Panel, &crate::house::Breaker)| {
        let why = format!(
            "{} is not a type that the label of {} lists: {}",
            breaker.model.trim(),
            panel.name,
            panel.listed.join(", ")
        );
        Hit::at(&RULE, breaker, why)
    };
    strange.map(hit).collect()
}

#[cfg(test)]
use super::Example;
#[cfg(test)]
pub(super) fn examples() -> Vec<Example> {
    vec![
        Example("another type", 1, |c| model(c, "RB", &["QA", "QB"])),
        Example("one of the listed", 0, |c| model(c, "qb", &["QA", "QB"])),
        Example("a label that nobody read", 0, |c| model(c, "RB", &[])),
    ]
}

#[cfg(test)]
fn model(c: &mut super::Case, model: &str, listed: &[&str]) {
    let b = c.f.breaker("1", 20.0, "");
    let typed = crate::house::Breaker { model: model.into(), ..c.f.house.breakers.get(b).unwrap().clone() };
    c.f.house.breakers.put(typed);
    c.panel(|p| p.listed = listed.iter().map(|l| (*l).to_owned()).collect());
}
