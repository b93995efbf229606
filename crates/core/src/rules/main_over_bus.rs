//! What protects a panel is no larger than its bus: its main breaker, or the feeder's where it has none. (handbook 6)

use super::{Entry, Facts, Hit, Rule, Scope, Severity, nec, Who};
use crate::house::Panel;

pub(crate) static RULE: Rule = Rule {
    id: "main-over-bus",
    title: "A panel protected at more than its bus carries",
    scope: Scope::Panel,
    severity: Severity::Danger,
    entry: Entry::Asked("panel.sure"),
    source: nec("408.36"),
    cure: "a main or feeder breaker no larger than the bus: an electrician",
    job: None,
    who: Who::Licensed,
    check,
};

fn check(facts: &Facts<'_>) -> Vec<Hit> {
    let house = facts.house;
    let hit = |panel: &Panel| {
        let feeder = || panel.fed_by.and_then(|b| house.breakers.get(b)).map(|b| (b.amps, "the breaker that feeds it"));
        let (rating, what) = panel.main.map(|main| (main, "its main")).or_else(feeder)?;
        let why = format!("{what} is {rating}, and the bus of {} carries {}", panel.name, panel.bus);
        (rating > panel.bus).then(|| Hit::in_panel(&RULE, panel, why))
    };
    house.panels.iter().filter_map(hit).collect()
}

#[cfg(test)]
use super::Example;
#[cfg(test)]
pub(super) fn examples() -> Vec<Example> {
    use crate::base::units::Amps;
    vec![
        Example("a main of 200 A on a bus of 125", 1, |c| c.panel(|p| p.bus = Amps(125.0))),
        Example("a feeder of 100 A to a bus of 60 without a main", 1, |c| {
            let feeder = c.f.breaker("1-3", 100.0, "");
            let annex = c.f.sub_panel("Annex", feeder);
            c.f.house.panels.put(Panel { bus: Amps(60.0), ..c.f.house.panels.get(annex).unwrap().clone() });
        }),
        Example("the same with a main of 60", 0, |c| {
            let feeder = c.f.breaker("1-3", 100.0, "");
            let annex = c.f.sub_panel("Annex", feeder);
            let old = c.f.house.panels.get(annex).unwrap().clone();
            c.f.house.panels.put(Panel { bus: Amps(60.0), main: Some(Amps(60.0)), ..old });
        }),
        Example("a main as large as the bus", 0, |c| c.panel(|p| p.bus = Amps(200.0))),
    ]
}
