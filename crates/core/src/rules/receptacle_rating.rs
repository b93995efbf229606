//! A receptacle suits the rating of its circuit. (handbook 3.10)

use super::{Entry, Facts, Hit, Rests, Rule, Scope, Severity, nec, Who};
use crate::house::{Breaker, Point, PointKind};

pub(crate) static RULE: Rule = Rule {
    id: "receptacle-rating",
    title: "A receptacle behind too large a breaker",
    scope: Scope::Point,
    severity: Severity::Danger,
    entry: Entry::Marked,
    source: nec("210.21(B), 210.24"),
    cure: "a breaker of 20 A at most for 120 V outlets; a thing that needs more has an outlet of its rating, alone",
    job: Some("replace"),
    who: Who::Qualified,
    check,
};

/// The largest breaker that 120 V outlets of a house stand behind.
pub(crate) const ONE_LEG: f64 = 20.0;
/// The same of outlets for two legs: 6-50, 14-50.
const TWO_LEGS: f64 = 50.0;
/// A trailer's outlet, TT-30, has 120 V and is alone on 30 A: who has one names it so.
const TRAILER: (f64, [&str; 3]) = (30.0, ["tt-30", "trailer", "camper"]);

fn check(facts: &Facts<'_>) -> Vec<Hit> {
    let hit = |hung: (&Breaker, &Point, Rests)| {
        let (breaker, point, _) = hung;
        let two_legs = point.volts.is_some_and(crate::base::units::NominalVolts::is_leg_to_leg);
        let name = point.name.to_lowercase();
        let trailer = TRAILER.1.iter().any(|word| name.contains(word)) && facts.alone(breaker.id) == Some(point.id);
        let most = match (two_legs, trailer) {
            (true, _) => TWO_LEGS,
            (false, true) => TRAILER.0,
            (false, false) => ONE_LEG,
        };
        let sub = facts.house.panel_fed_by(breaker.id).is_some();
        let why =
            format!("{} is an outlet behind {}: such outlets are made for {most} A at most", point.tag, breaker.amps);
        (point.kind == PointKind::Receptacle && breaker.amps.0 > most && !sub).then(|| Hit::of(&RULE, hung, why))
    };
    facts.points().filter_map(hit).collect()
}

#[cfg(test)]
use super::Example;
#[cfg(test)]
pub(super) fn examples() -> Vec<Example> {
    use PointKind::{Appliance, Receptacle};
    vec![
        Example("two outlets behind 30 A: NEC table 210.21(B)(3)", 2, |c| {
            let b = c.f.breaker("1", 30.0, "");
            c.point(b, "Hall", Receptacle, 120);
            c.point(b, "Hall", Receptacle, 120);
        }),
        Example("one alone behind 30 A, of which nobody says that it is a trailer's", 1, |c| {
            let b = c.f.breaker("1", 30.0, "");
            c.point(b, "Hall", Receptacle, 120);
        }),
        Example("a trailer's, TT-30: NEMA WD 6", 0, |c| {
            let b = c.f.breaker("1", 30.0, "");
            let point = c.point(b, "Outside", Receptacle, 120);
            c.f.name(point, "trailer outlet");
        }),
        Example("the same where it only likely hangs there", 1, |c| {
            let b = c.f.breaker("1", 30.0, "");
            let point = c.point(b, "Outside", Receptacle, 120);
            c.f.name(point, "trailer outlet");
            c.only_likely();
        }),
        Example("behind 20 A", 0, |c| {
            let b = c.f.breaker("1", 20.0, "");
            c.point(b, "Hall", Receptacle, 120);
        }),
        Example("a range's outlet behind 50 A", 0, |c| {
            let b = c.f.breaker("1-3", 50.0, "");
            c.point(b, "Hall", Receptacle, 240);
        }),
        Example("behind 60 A", 1, |c| {
            let b = c.f.breaker("1-3", 60.0, "");
            c.point(b, "Hall", Receptacle, 240);
        }),
        Example("what is wired for good", 0, |c| {
            let b = c.f.breaker("1-3", 60.0, "");
            c.point(b, "Hall", Appliance, 240);
        }),
    ]
}
