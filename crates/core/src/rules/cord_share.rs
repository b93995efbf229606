//! One thing that is plugged in takes no more than four fifths of a circuit that serves several places. (handbook 3.3)

use super::{Entry, Facts, Hit, ROUNDING, Rule, Scope, Severity, Plated, is_fastened, nec, Who};

pub(crate) static RULE: Rule = Rule {
    id: "cord-share",
    title: "One plugged-in thing takes most of a shared circuit",
    scope: Scope::Load,
    severity: Severity::Improve,
    entry: Entry::Marked,
    source: nec("210.23(B)(1)"),
    cure: "an outlet of a larger circuit for it, or a circuit of its own",
    job: Some("relieve"),
    who: Who::Anyone,
    check,
};

const SHARE: f64 = 0.8;

fn check(facts: &Facts<'_>) -> Vec<Hit> {
    let takes_too_much = |(breaker, load, rests, amps): Plated<'_>| {
        let most = SHARE * breaker.amps.0;
        let several = facts.hangs.iter().filter(|h| h.breaker == breaker.id).count() > 1;
        let carried = facts.house.points.get(load.point).is_some_and(|point| !is_fastened(point, load));
        let why =
            format!("{} draws {:.1} A, and of {} that serve several places one may take {most:.0} A", load.name, amps.0, breaker.amps);
        (several && carried && amps.0 > most + ROUNDING).then(|| Hit::with(&RULE, (breaker, load, rests), why))
    };
    facts.sized().filter_map(takes_too_much).collect()
}

#[cfg(test)]
use super::Example;
#[cfg(test)]
pub(super) fn examples() -> Vec<Example> {
    vec![
        Example("a heater of 12.5 A on 15 A beside a lamp", 1, |c| plugged(c, 12.5, true)),
        Example("one of 12 A, which is four fifths", 0, |c| plugged(c, 12.0, true)),
        Example("one of 12.5 A alone", 0, |c| plugged(c, 12.5, false)),
    ]
}

#[cfg(test)]
fn plugged(c: &mut super::Case, amps: f64, beside: bool) {
    use crate::house::{LoadKind, PointKind};
    let b = c.f.breaker("1", 15.0, "");
    let at = c.point(b, "Hall", PointKind::Receptacle, 120);
    c.plug(at, LoadKind::Other, amps);
    if beside {
        c.point(b, "Hall", PointKind::Light, 120);
    }
}
