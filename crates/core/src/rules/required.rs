//! Circuits that a dwelling is asked to have: for the kitchen, the bathrooms, the laundry, the garage. (handbook 6)
//!
//! Older work may have been right in its day; it is asked for when it is altered. Only what is proven tells: a circuit that may
//! feed something else is no hit.

use std::collections::BTreeSet;

use super::{Entry, Facts, Hit, Rests, Rule, Scope, Severity, Who, nec};
use crate::base::units::NominalVolts;
use crate::house::{Breaker, BreakerId, Point, PointKind};
use crate::words::places::is_sort;

/// What these circuits are rated. [pub: NEC 210.11(C), value from memory]
const ASKED_AMPS: f64 = 20.0;
/// So many the kitchen has at the least. [pub: NEC 210.11(C)(1), value from memory]
const KITCHEN_CIRCUITS: usize = 2;

macro_rules! required {
    ($($name:ident: $sort:literal with $also:expr => { $id:literal, $title:literal, $source:expr, $cure:literal })*) => {
        $(pub(crate) static $name: Rule = Rule {
            id: $id,
            title: $title,
            scope: Scope::Breaker,
            severity: Severity::Improve,
            entry: Entry::Marked,
            source: $source,
            cure: $cure,
            job: Some("add"),
            who: Who::Qualified,
            check: |facts| apart(facts, &$name, $sort, &$also),
        };)*
    };
}

required! {
    KITCHEN: "kitchen" with ["dining room", "pantry"] => {
        "kitchen-circuit", "A kitchen's circuit that is too small, or feeds other rooms", nec("210.11(C)(1), 210.52(B)"),
        "circuits of 20 A for the counter and the dining room alone; perhaps not asked for in its day"
    }
    BATHROOM: "bathroom" with [] => {
        "bathroom-circuit", "A bathroom's circuit that is too small, or feeds other rooms", nec("210.11(C)(3)"),
        "a circuit of 20 A for bathroom outlets alone; perhaps not asked for in its day"
    }
    LAUNDRY: "laundry" with [] => {
        "laundry-circuit", "A laundry's circuit that is too small, or feeds other rooms", nec("210.11(C)(2)"),
        "a circuit of 20 A for the laundry's outlets alone; perhaps not asked for in its day"
    }
    GARAGE: "garage" with ["outside"] => {
        "garage-circuit", "A garage's circuit that is too small, or feeds other rooms", nec("210.11(C)(4)"),
        "a circuit of 20 A for the garage's outlets; perhaps not asked for in its day"
    }
}

pub(crate) static TWO: Rule = Rule {
    id: "kitchen-two",
    title: "Fewer than two circuits for a kitchen's counter",
    scope: Scope::Panel,
    severity: Severity::Improve,
    entry: Entry::Marked,
    source: nec("210.11(C)(1)"),
    cure: "another circuit of 20 A for the counter; perhaps not asked for in its day",
    job: Some("add"),
    who: Who::Qualified,
    check: two,
};

/// An outlet at 120 V of a sort of room, not one of a thing with a circuit of its own.
fn is_outlet(facts: &Facts<'_>, point: &Point, sort: &str) -> bool {
    let room = facts.house.rooms.get(point.room);
    point.kind == PointKind::Receptacle
        && point.volts.is_none_or(|v| v == NominalVolts::V120)
        && room.is_some_and(|room| is_sort(&room.name, sort))
}

fn proven<'a>(facts: &Facts<'a>) -> Vec<(&'a Breaker, &'a Point)> {
    facts.points().filter(|(_, _, rests)| *rests == Rests::Proven).map(|(b, p, _)| (b, p)).collect()
}

/// Breakers that are proven to feed outlets of a sort of room, and are too small for it or feed outlets and lights elsewhere.
fn apart(facts: &Facts<'_>, rule: &'static Rule, sort: &str, also: &[&str]) -> Vec<Hit> {
    let all = proven(facts);
    let feeds: BTreeSet<BreakerId> =
        all.iter().filter(|(b, p)| b.at.len() == 1 && is_outlet(facts, p, sort)).map(|(b, _)| b.id).collect();
    let belongs = |p: &Point| {
        let name = facts.house.rooms.get(p.room).map_or("", |room| room.name.as_str());
        [sort].iter().chain(also).any(|sort| is_sort(name, sort))
    };
    let uses = |p: &Point| matches!(p.kind, PointKind::Receptacle | PointKind::Light);
    let hit = |id: BreakerId| {
        let breaker = facts.house.breakers.get(id)?;
        let elsewhere: Vec<&str> =
            all.iter().filter(|(b, p)| b.id == id && uses(p) && !belongs(p)).map(|(_, p)| p.tag.as_str()).collect();
        let small = breaker.amps.0 < ASKED_AMPS;
        let why = match (small, elsewhere.as_slice()) {
            (true, _) => format!("it feeds outlets of the {sort} by {}, and 20 A are asked for", breaker.amps),
            (false, [_, ..]) => format!("it feeds outlets of the {sort}, and {} elsewhere", elsewhere.join(", ")),
            (false, []) => return None,
        };
        Some(Hit { rests: Rests::Proven, ..Hit::at(rule, breaker, why) })
    };
    feeds.into_iter().filter_map(hit).collect()
}

/// Every outlet of the kitchen is proven, and fewer than two circuits of 20 A feed them.
fn two(facts: &Facts<'_>) -> Vec<Hit> {
    let outlets = facts.house.points.iter().filter(|p| is_outlet(facts, p, "kitchen")).count();
    let all: Vec<_> = proven(facts).into_iter().filter(|(_, p)| is_outlet(facts, p, "kitchen")).collect();
    let circuits: BTreeSet<BreakerId> =
        all.iter().map(|(b, _)| b).filter(|b| b.amps.0 >= ASKED_AMPS).map(|b| b.id).collect();
    let known: BTreeSet<_> = all.iter().map(|(_, p)| p.id).collect();
    let first = facts.house.panels_in_order().first().copied();
    // One outlet alone is no counter.
    let few = known.len() == outlets && outlets > 1 && circuits.len() < KITCHEN_CIRCUITS;
    let why = || format!("{outlets} outlets of the kitchen are on {} circuit of 20 A", circuits.len());
    let hit = |panel| Hit { rests: Rests::Proven, ..Hit::in_panel(&TWO, panel, why()) };
    first.filter(|_| few).map(hit).into_iter().collect()
}
