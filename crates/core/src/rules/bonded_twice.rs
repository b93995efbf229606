//! Neutral and ground meet in the first panel and nowhere else: bonded again behind it, grounds and cases carry current.

use super::{Entry, Facts, Hit, Rule, Scope, Severity, nec, Who};
use crate::house::Panel;

pub(crate) static RULE: Rule = Rule {
    id: "bonded-twice",
    title: "Neutral bonded to ground in a sub-panel",
    scope: Scope::Panel,
    severity: Severity::Danger,
    entry: Entry::Marked,
    source: nec("250.142(B), 408.40"),
    cure: "neutral and ground apart in it: an electrician",
    job: None,
    who: Who::Licensed,
    check,
};

fn check(facts: &Facts<'_>) -> Vec<Hit> {
    let twice = facts.house.panels.iter().filter(|p| p.fed_by.is_some() && p.bonded == Some(true));
    let why = |p: &Panel| format!("the neutral of {} is bonded to ground again", p.name);
    twice.map(|panel| Hit::in_panel(&RULE, panel, why(panel))).collect()
}

#[cfg(test)]
use super::Example;
#[cfg(test)]
pub(super) fn examples() -> Vec<Example> {
    vec![
        Example("bonded in the annex", 1, |c| annex(c, Some(true))),
        Example("apart in it", 0, |c| annex(c, Some(false))),
        Example("nobody looked", 0, |c| annex(c, None)),
        Example("bonded in the first panel", 0, |c| c.panel(|p| p.bonded = Some(true))),
    ]
}

#[cfg(test)]
fn annex(c: &mut super::Case, bonded: Option<bool>) {
    let feeder = c.f.breaker("1-3", 60.0, "");
    let annex = c.f.sub_panel("Annex", feeder);
    c.f.house.panels.put(Panel { bonded, ..c.f.house.panels.get(annex).unwrap().clone() });
}
