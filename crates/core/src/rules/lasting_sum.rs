//! What runs for hours on one circuit takes no more than four fifths of it, all together. (handbook 3.3)
//!
//! Of one thing alone `nameplate-least` says so.

use super::{Entry, Facts, Hit, ROUNDING, Rule, Scope, Severity, Plated, nec, Who};
use crate::code;
use crate::house::Breaker;
use crate::plate;

pub(crate) static RULE: Rule = Rule {
    id: "lasting-sum",
    title: "What runs for hours fills a circuit",
    scope: Scope::Breaker,
    severity: Severity::Mend,
    entry: Entry::Marked,
    source: nec("210.20(A), 210.19(A)(1)"),
    cure: "a circuit of its own for one of them, or a larger breaker on a wire that carries it",
    job: Some("relieve"),
    who: Who::Qualified,
    check,
};

fn check(facts: &Facts<'_>) -> Vec<Hit> {
    let lasting = facts.sized().filter(|(on, load, ..)| {
        // Which pole of two a thing of one leg is on nobody wrote down: it is counted where there is one.
        let across = plate::volts(facts.house, load).is_leg_to_leg() == (on.at.len() > 1);
        across && plate::is_continuous(load)
    });
    let all: Vec<Plated<'_>> = lasting.collect();
    facts.house.breakers.iter().filter_map(|breaker| hit(&all, breaker)).collect()
}

fn hit(all: &[Plated<'_>], breaker: &Breaker) -> Option<Hit> {
    let lasting: Vec<&Plated<'_>> = all.iter().filter(|(on, ..)| on.id == breaker.id).collect();
    let sum: f64 = lasting.iter().map(|(.., amps)| amps.0).sum();
    if lasting.len() < 2 || code::CONTINUOUS * sum <= breaker.amps.0 + ROUNDING {
        return None;
    }
    let rests = lasting.iter().map(|(_, _, rests, _)| *rests).max()?;
    let names: Vec<&str> = lasting.iter().map(|(_, load, ..)| load.name.as_str()).collect();
    let why = format!(
        "{} run for hours with {sum:.1} A together: with a quarter more that is {:.1} A of {}",
        names.join(" and "),
        code::CONTINUOUS * sum,
        breaker.amps
    );
    Some(Hit { rests, ..Hit::at(&RULE, breaker, why) })
}

#[cfg(test)]
use super::Example;
#[cfg(test)]
pub(super) fn examples() -> Vec<Example> {
    vec![
        Example("two heaters of 8.5 A on 20 A: 21.3 A with a quarter more", 1, |c| heaters(c, 8.5)),
        Example("two of 8 A, which is four fifths", 0, |c| heaters(c, 8.0)),
    ]
}

#[cfg(test)]
fn heaters(c: &mut super::Case, amps: f64) {
    let b = c.f.breaker("1-3", 20.0, "");
    for _ in 0..2 {
        c.load(b, crate::house::LoadKind::Heating, |load| load.amps = Some(crate::base::units::Amps(amps)));
    }
}
