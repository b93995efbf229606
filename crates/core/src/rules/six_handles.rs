//! A house is switched off by six handles at the most. (handbook 6)

use super::{Entry, Facts, Hit, Rule, Scope, Severity, Who, nec};
use crate::house::Panel;

pub(crate) static RULE: Rule = Rule {
    id: "six-handles",
    title: "More than six handles switch a house off",
    scope: Scope::Panel,
    severity: Severity::Mend,
    entry: Entry::Marked,
    source: nec("230.71"),
    cure: "a main of its own before it",
    job: None,
    who: Who::Licensed,
    check,
};

/// [pub: NEC 230.71(B), value from memory]
const MOST: usize = 6;

fn check(facts: &Facts<'_>) -> Vec<Hit> {
    let house = facts.house;
    let hit = |panel: &Panel| {
        let handles = house.breakers_of(panel.id).len();
        let no_main = panel.is_main() && panel.main.is_none() && panel.disconnect.trim().is_empty();
        let why = format!("{handles} handles, and no main is known before it");
        (no_main && handles > MOST).then(|| Hit::in_panel(&RULE, panel, why))
    };
    house.panels.iter().filter_map(hit).collect()
}

#[cfg(test)]
use super::Example;
#[cfg(test)]
pub(super) fn examples() -> Vec<Example> {
    vec![
        Example("seven without a main", 1, |c| handles(c, 7)),
        Example("six", 0, |c| handles(c, 6)),
        Example("seven behind an outdoor disconnect", 0, |c| {
            handles(c, 7);
            c.panel(|p| p.disconnect = "outdoor disconnect".into());
        }),
    ]
}

#[cfg(test)]
fn handles(c: &mut super::Case, count: usize) {
    c.panel(|p| p.main = None);
    for space in 1..=count {
        c.f.breaker(&space.to_string(), 20.0, "");
    }
}
