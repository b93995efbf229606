//! A feeder carries all that runs for hours behind it with a quarter more, on each leg, on every level. (handbook 3.3, 3.5)
//!
//! Only what is certain whatever else runs: what comes and goes is a matter of measuring.

use std::collections::{BTreeMap, BTreeSet};

use super::{Entry, Facts, Hit, ROUNDING, Rests, Rule, Scope, Severity, nec, Who};
use crate::base::position::Leg;
use crate::code;
use crate::house::{Breaker, BreakerId};
use crate::plate;

pub(crate) static RULE: Rule = Rule {
    id: "feeder-lasting",
    title: "What runs for hours is more than its feeder carries",
    scope: Scope::Breaker,
    severity: Severity::Mend,
    entry: Entry::Marked,
    source: nec("215.2(A)(1), 215.3"),
    cure: "some of it in the panel that feeds this one, or a larger feeder",
    job: None,
    who: Who::Qualified,
    check,
};

fn check(facts: &Facts<'_>) -> Vec<Hit> {
    let house = facts.house;
    let through = house.fed_through();
    // What one circuit carries of it is told by `lasting_sum` and `nameplate_least`.
    let feeders = house.breakers.iter().filter(|b| house.panel_fed_by(b.id).is_some());
    let feeders = feeders.filter_map(|b| Some((b, through.get(&b.id)?)));
    let hit = |(feeder, behind): (&Breaker, &BTreeSet<BreakerId>)| {
        let mut legs: BTreeMap<Leg, (f64, Rests)> = BTreeMap::new();
        for (on, load, rests, amps) in facts.sized().filter(|(on, ..)| behind.contains(&on.id)) {
            let across = plate::volts(house, load).is_leg_to_leg() == (on.at.len() > 1);
            let Some(panel) = house.panels.get(on.panel).filter(|_| across && plate::is_continuous(load)) else { continue };
            for leg in on.at.iter().map(|p| panel.leg(*p)) {
                let (sum, weakest) = legs.entry(leg).or_insert((0.0, rests));
                (*sum, *weakest) = (*sum + amps.0, rests.max(*weakest));
            }
        }
        let (sum, rests) = legs.into_values().max_by(|a, b| a.0.total_cmp(&b.0))?;
        let asked = code::CONTINUOUS * sum;
        let why = format!("what runs for hours behind it draws {sum:.1} A on a leg: with a quarter more {asked:.1} A of {}", feeder.amps);
        (asked > feeder.amps.0 + ROUNDING).then(|| Hit { rests, ..Hit::at(&RULE, feeder, why) })
    };
    feeders.filter_map(hit).collect()
}

#[cfg(test)]
use super::Example;
#[cfg(test)]
pub(super) fn examples() -> Vec<Example> {
    vec![
        Example("two heaters of 13 A on one leg behind 30 A: 32.5 A with a quarter more", 1, |c| heaters(c, ["1", "2"])),
        Example("the same on two legs", 0, |c| heaters(c, ["1", "3"])),
    ]
}

#[cfg(test)]
fn heaters(c: &mut super::Case, at: [&str; 2]) {
    let feeder = c.f.breaker("1-3", 30.0, "");
    let annex = c.f.sub_panel("Annex", feeder);
    for at in at {
        let b = c.f.breaker_in(annex, at, 20.0, "");
        c.load(b, crate::house::LoadKind::Heating, |load| load.amps = Some(crate::base::units::Amps(13.0)));
    }
}
