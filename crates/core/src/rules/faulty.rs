//! Faults that were met at points: what a tester shows, what is burnt or loose. (handbook 6)

use super::{Entry, Facts, Hit, Rule, Scope, Severity, Who, nec};
use crate::house::{Evidence, Fault, Observation, PointKind};

macro_rules! faults {
    ($($name:ident: $fault:ident => {
        $id:literal, $title:literal, $severity:ident, $who:ident, $source:expr, $job:expr, why $why:literal, cure $cure:literal
    })*) => {
        $(pub(crate) static $name: Rule = Rule {
            id: $id,
            title: $title,
            scope: Scope::Point,
            severity: Severity::$severity,
            entry: Entry::Seen,
            source: $source,
            cure: $cure,
            job: $job,
            who: Who::$who,
            check: |facts| met(facts, &$name, Fault::$fault, $why),
        };)*

        /// Every one with its fault.
        #[cfg(test)]
        pub(super) static ALL: &[(&Rule, Fault)] = &[$((&$name, Fault::$fault)),*];
    };
}

faults! {
    OPEN_GROUND: OpenGround => {
        "ungrounded", "Three slots without a ground", Mend, Qualified, nec("406.4(D)(2)"), Some("device"),
        why "no ground at its third slot: what is plugged in is not grounded",
        cure "a ground wire; or a ground-fault device, marked \"no equipment ground\""
    }
    OPEN_NEUTRAL: OpenNeutral => {
        "open-neutral", "An open neutral", Danger, Qualified, nec("110.14, 300.13(B)"), Some("splice"),
        why "its neutral is open: what looks dead there is live",
        cure "its breaker off, and the joint is found and made anew; more than one circuit so: main off, and the utility"
    }
    OPEN_HOT: OpenHot => {
        "open-hot", "An open hot", Mend, Qualified, nec("110.14"), Some("splice"),
        why "no power with every breaker on: a wire is open, and may arc",
        cure "its breaker off, and the joint is found and made anew"
    }
    HOT_GROUND: HotGroundReversed => {
        "hot-ground", "Hot and ground exchanged", Danger, Qualified, nec("250.4, 406.4"), Some("device"),
        why "hot and ground are exchanged: the case of what is plugged in is live",
        cure "its breaker off at once; nobody uses it before it is wired right"
    }
    HOT_NEUTRAL: HotNeutralReversed => {
        "hot-neutral", "Hot and neutral exchanged", Mend, Qualified, nec("200.11"), Some("device"),
        why "hot and neutral are exchanged: a lamp's shell is live, and a switch leaves it so",
        cure "wired right, with its breaker off"
    }
    SCORCHED_POINT: Scorched => {
        "scorched", "A scorched or hot outlet", Danger, Qualified, nec("110.14, 110.12(B)"), Some("device"),
        why "scorched, melted or hot: a poor contact",
        cure "its breaker off, and it stays off; wire cut back to sound copper, a new device"
    }
    LOOSE: Loose => {
        "loose", "A loose or broken outlet", Mend, Qualified, nec("110.14, 406.5"), Some("device"),
        why "loose or broken: a poor contact heats",
        cure "its breaker off; tightened, or a new device"
    }
}

/// Where somebody met it.
fn met(facts: &Facts<'_>, rule: &'static Rule, fault: Fault, why: &str) -> Vec<Hit> {
    let house = facts.house;
    let there = |point: &&crate::house::Point| {
        let is = |o: &Observation| matches!(o, Observation::Fault { fault: of } if *of == fault);
        let slots = fault != Fault::OpenGround || point.kind == PointKind::Receptacle;
        // What was put in since is met anew, or not.
        let since = house.put_in(point.id.into());
        let counts = |e: &Evidence| e.point == point.id && since.is_none_or(|since| since <= e.time);
        slots && house.evidence.iter().any(|e| counts(e) && is(&e.observation))
    };
    house.points.iter().filter(there).filter_map(|p| Hit::anywhere(rule, facts, p, why.to_owned())).collect()
}
