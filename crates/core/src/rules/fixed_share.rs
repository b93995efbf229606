//! What stays where it is takes no more than half of a circuit that serves lights or outlets too: an over-range microwave on the
//! kitchen's lights. (handbook 3.3)

use super::{Entry, Facts, Hit, ROUNDING, Rests, Rule, Scope, Severity, Plated, is_fastened, nec, Who};
use crate::house::{Breaker, Load, PointKind};

pub(crate) static RULE: Rule = Rule {
    id: "fixed-share",
    title: "Fixed things take most of a circuit of lights or outlets",
    scope: Scope::Breaker,
    severity: Severity::Mend,
    entry: Entry::Marked,
    source: nec("210.23(B)(2)"),
    cure: "a circuit of its own for what draws most",
    job: Some("relieve"),
    who: Who::Qualified,
    check,
};

const SHARE: f64 = 0.5;

fn check(facts: &Facts<'_>) -> Vec<Hit> {
    let is_fixed = |load: &Load| facts.house.points.get(load.point).is_some_and(|point| is_fastened(point, load));
    let all: Vec<Plated<'_>> = facts.sized().filter(|(_, load, ..)| is_fixed(load)).collect();
    let breakers = facts.house.breakers.iter().filter(|b| b.at.len() == 1);
    breakers.filter_map(|breaker| hit(facts, &all, breaker)).collect()
}

fn hit(facts: &Facts<'_>, all: &[Plated<'_>], breaker: &Breaker) -> Option<Hit> {
    let fixed: Vec<&Plated<'_>> = all.iter().filter(|(on, ..)| on.id == breaker.id).collect();
    let sum: f64 = fixed.iter().map(|(.., amps)| amps.0).sum();
    if sum <= SHARE * breaker.amps.0 + ROUNDING {
        return None;
    }
    // An outlet for just one of them serves nothing else.
    let serves_others = |kind| matches!(kind, PointKind::Light | PointKind::Receptacle);
    let beside: Vec<Rests> = facts
        .points()
        .filter(|(on, point, _)| on.id == breaker.id && serves_others(point.kind))
        .filter(|(_, point, _)| !fixed.iter().any(|(_, load, ..)| load.point == point.id))
        .map(|(.., rests)| rests)
        .collect();
    let best = beside.iter().min()?;
    let rests = fixed.iter().map(|(_, _, rests, _)| *rests).chain([*best]).max().unwrap_or(*best);
    let names: Vec<&str> = fixed.iter().map(|(_, load, ..)| load.name.as_str()).collect();
    let why = format!(
        "{} draw{} {sum:.1} A, more than half of {}, and it serves lights or outlets too",
        names.join(", "),
        if names.len() == 1 { "s" } else { "" },
        breaker.amps
    );
    Some(Hit { rests, ..Hit::at(&RULE, breaker, why) })
}

#[cfg(test)]
use super::Example;
#[cfg(test)]
pub(super) fn examples() -> Vec<Example> {
    use crate::base::units::Amps;
    use crate::house::LoadKind;
    vec![
        Example("a microwave over the range, of 10 A, on 15 A of lights: handbook 3.3", 1, |c| {
            let b = c.f.breaker("1", 15.0, "");
            c.load(b, LoadKind::Microwave, |load| load.amps = Some(Amps(10.0)));
            c.point(b, "Kitchen", PointKind::Light, 120);
        }),
        Example("a hood of 2 A there", 0, |c| {
            let b = c.f.breaker("1", 15.0, "");
            c.load(b, LoadKind::Fan, |load| load.amps = Some(Amps(2.0)));
            c.point(b, "Kitchen", PointKind::Light, 120);
        }),
        Example("a dishwasher and a disposer, plugged in under the sink, and nothing else", 0, |c| {
            let b = c.f.breaker("1", 20.0, "");
            for kind in [LoadKind::Dishwasher, LoadKind::Disposer] {
                let at = c.point(b, "Kitchen", PointKind::Receptacle, 120);
                c.plug(at, kind, 9.0);
            }
        }),
        Example("the same with a counter's outlet", 1, |c| {
            let b = c.f.breaker("1", 20.0, "");
            for kind in [LoadKind::Dishwasher, LoadKind::Disposer] {
                let at = c.point(b, "Kitchen", PointKind::Receptacle, 120);
                c.plug(at, kind, 9.0);
            }
            c.point(b, "Kitchen", PointKind::Receptacle, 120);
        }),
    ]
}
