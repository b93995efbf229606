//! What must not be, by what is believed, carried, measured and printed: more than a rule of things alone knows. One list, as
//! [`crate::rules`] has one of its own. (handbook 6)

use std::collections::BTreeSet;

use super::KnownHouse;
use crate::answers::service;
use crate::answers::upkeep::device_tests;
use crate::directory;
use crate::house::{Event, PanelId, Point, Subject};
use crate::load::circuits::{CircuitLoad, circuits};
use crate::load::legs;
use crate::rules::{Entry, Facts, Hit, Rests, Rule, Scope, Severity, Source, Who, nec};
use crate::trace::BreakerBelief;
use crate::words::labels::{Sense, words};

/// A rule that reads more than what is entered and what hangs where.
pub struct Wide {
    /// Its words.
    pub rule: &'static Rule,
    /// Looks for it.
    pub check: fn(&KnownHouse<'_>) -> Vec<Hit>,
}

macro_rules! wide {
    ($($name:ident: $check:ident of $scope:ident => {
        $id:literal, $title:literal, $severity:ident, $who:ident, $source:expr, $job:expr, cure $cure:literal
    })*) => {
        $(static $name: Rule = Rule {
            id: $id,
            title: $title,
            scope: Scope::$scope,
            severity: Severity::$severity,
            entry: Entry::Marked,
            source: $source,
            cure: $cure,
            job: $job,
            who: Who::$who,
            check: nothing,
        };)*

        /// Every one.
        pub static WIDER: &[Wide] = &[$(Wide { rule: &$name, check: $check }),*];
    };
}

/// It is found by its own check.
fn nothing(_: &Facts<'_>) -> Vec<Hit> {
    Vec::new()
}

wide! {
    STAYS_LIVE: stays_live of Point => {
        "live-point", "A point that no breaker switches off", Danger, Licensed, Source::Practice, None,
        cure "nobody works there before an electrician has found what feeds it: another panel, a generator, the sun"
    }
    SERVICE: service_volts of Panel => {
        "service-volts", "Service voltages that are not right", Danger, Utility, nec("110.4"), None,
        cure "the utility looks at its side first, then an electrician at the main"
    }
    VOLTS_BAND: volts_band of Panel => {
        "volts-band", "Service voltages out of their band", Mend, Utility,
        Source::Published("ANSI C84.1", "Range B", 2020), None,
        cure "call the utility"
    }
    BAD_BREAKER: bad_breaker of Breaker => {
        "bad-breaker", "A breaker that somebody found bad", Mend, Qualified, Source::Practice, Some("replace"),
        cure "it stays off until it is replaced"
    }
    FAILED_TEST: failed_test of Breaker => {
        "failed-test", "A ground-fault breaker that failed its test", Mend, Qualified, Source::Practice, Some("replace"),
        cure "it is replaced"
    }
    FAILED_DEVICE: failed_device of Point => {
        "failed-device", "A ground-fault device that failed its test", Mend, Qualified, Source::Practice, Some("device"),
        cure "it is replaced"
    }
    OVERLOAD: overload of Breaker => {
        "overload", "A circuit that carries too much", Mend, Anyone, nec("210.23"), Some("relieve"),
        cure "not all of it together; or a circuit of its own for what draws most"
    }
    UNEVEN: uneven of Panel => {
        "uneven-legs", "Legs that carry unevenly", Improve, Qualified, Source::Practice, Some("rearrange"),
        cure "a breaker or two change their places"
    }
    STALE_CARD: stale_card of Panel => {
        "stale-card", "A card that is older than the panel", Improve, Anyone, nec("408.4(A)"), None,
        cure "print it anew"
    }
    NO_CARD: no_card of Panel => {
        "no-card", "A panel without a card", Improve, Anyone, nec("408.4(A)"), None,
        cure "trace what is left, then print its card"
    }
    WRONG_LABEL: wrong_label of Breaker => {
        "wrong-label", "An old label that the map disproves", Improve, Anyone, nec("408.4(A)"), None,
        cure "print the card, and take the old label off"
    }
}

fn first_panel(known: &KnownHouse<'_>) -> Option<PanelId> {
    known.house.panels_in_order().first().map(|panel| panel.id)
}

fn stays_live(known: &KnownHouse<'_>) -> Vec<Hit> {
    let live = |point: &&Point| known.beliefs.of(point.id).is_some_and(|belief| belief.stays_live());
    let why = "it was seen live with each breaker off".to_owned();
    let hit = |point: &Point| {
        Some(Hit {
            rests: Rests::Proven,
            point: Some(point.id),
            ..Hit::new(&STAYS_LIVE, first_panel(known)?, why.clone())
        })
    };
    known.house.points_in_order().into_iter().filter(live).filter_map(hit).collect()
}

/// The last reading of each panel's service voltages, judged.
fn last_volts(known: &KnownHouse<'_>) -> Vec<(PanelId, service::Verdict)> {
    let of = |panel: &crate::house::Panel| {
        let readings = known.house.log.iter().filter_map(|entry| match &entry.event {
            Event::Volts { panel: of, reading } if *of == panel.id => Some((entry.time, reading)),
            _ => None,
        });
        let (_, reading) = readings.max_by_key(|(time, _)| *time)?;
        Some((panel.id, service::judge(reading, panel.supply)))
    };
    known.house.panels.iter().filter_map(of).collect()
}

fn service_volts(known: &KnownHouse<'_>) -> Vec<Hit> {
    let bad = |(panel, verdict): (PanelId, service::Verdict)| {
        let line = verdict.said.iter().find(|line| line.severity == Some(Severity::Danger))?;
        Some(Hit::new(&SERVICE, panel, line.said.clone()))
    };
    last_volts(known).into_iter().filter_map(bad).collect()
}

fn volts_band(known: &KnownHouse<'_>) -> Vec<Hit> {
    let bad = |(panel, verdict): (PanelId, service::Verdict)| {
        // What is dangerous in it is told already.
        let grave = verdict.said.iter().any(|line| line.severity == Some(Severity::Danger));
        let line = verdict.said.iter().find(|line| line.severity.is_some() && !grave)?;
        let severity = line.severity.unwrap_or(Severity::Mend);
        Some(Hit { severity, ..Hit::new(&VOLTS_BAND, panel, line.said.clone()) })
    };
    last_volts(known).into_iter().filter_map(bad).collect()
}

fn bad_breaker(known: &KnownHouse<'_>) -> Vec<Hit> {
    let bad = known.house.breakers.iter().filter(|b| b.bad);
    bad.map(|b| Hit::at(&BAD_BREAKER, b, "somebody found it bad".to_owned())).collect()
}

fn failed_test(known: &KnownHouse<'_>) -> Vec<Hit> {
    let failed = device_tests(known.house, known.now).into_iter().filter(|test| test.failed);
    let hit = |test: crate::answers::upkeep::DueTest| match test.subject {
        Subject::Breaker(id) => {
            known.house.breakers.get(id).map(|b| Hit::at(&FAILED_TEST, b, "its last test failed".to_owned()))
        }
        _ => None,
    };
    failed.filter_map(hit).collect()
}

fn failed_device(known: &KnownHouse<'_>) -> Vec<Hit> {
    let failed = device_tests(known.house, known.now).into_iter().filter(|test| test.failed);
    let hit = |test: crate::answers::upkeep::DueTest| match test.subject {
        Subject::Point(id) => {
            let why = "its last test failed: it may protect nobody".to_owned();
            Some(Hit { point: Some(id), ..Hit::new(&FAILED_DEVICE, first_panel(known)?, why) })
        }
        _ => None,
    };
    failed.filter_map(hit).collect()
}

/// It passes its rating in every other usual week at the least. (common practice)
const OFTEN: f64 = 0.5;

fn overload(known: &KnownHouse<'_>) -> Vec<Hit> {
    let all = circuits(known.house, &known.loaded.hung, &known.loaded.all);
    let hit = |circuit: &CircuitLoad| {
        let breaker = known.house.breakers.get(circuit.breaker)?;
        let rests = if circuit.unproven.is_empty() { Rests::Proven } else { Rests::Likely };
        Some(Hit { rests, ..Hit::at(&OVERLOAD, breaker, circuit.said.clone()) })
    };
    all.iter().filter(|c| c.over >= OFTEN).filter_map(hit).collect()
}

/// Handbook 6: more than a fifth. (common practice)
const UNEVEN_FROM: f64 = 0.2;
/// Of less on its fuller leg nobody moves a breaker, in amperes. (common practice)
const CARRIES: f64 = 30.0;

fn uneven(known: &KnownHouse<'_>) -> Vec<Hit> {
    let all = legs::legs(known.house, &known.loaded.all);
    let is = |panel: &&legs::PanelLegs| {
        let fullest = panel.each.iter().map(|leg| leg.usual.0).fold(0.0, f64::max);
        panel.uneven > UNEVEN_FROM && fullest >= CARRIES && panel.unknown == 0
    };
    all.iter().filter(is).map(|panel| Hit::new(&UNEVEN, panel.id, panel.said.clone())).collect()
}

fn stale_card(known: &KnownHouse<'_>) -> Vec<Hit> {
    let hit = |panel: &crate::house::Panel| {
        let places = directory::stale(known.house, known.beliefs, panel).filter(|places| !places.is_empty())?;
        Some(Hit::in_panel(&STALE_CARD, panel, format!("changed since it was printed: {}", places.join(", "))))
    };
    known.house.panels.iter().filter_map(hit).collect()
}

fn no_card(known: &KnownHouse<'_>) -> Vec<Hit> {
    let breakers = |panel: &&crate::house::Panel| !known.house.breakers_of(panel.id).is_empty();
    let none = known.house.panels.iter().filter(|panel| panel.printed.is_none()).filter(breakers);
    none.map(|panel| Hit::in_panel(&NO_CARD, panel, "none was printed".to_owned())).collect()
}

/// An old label says a thing or a room, and nothing of what is proven on its breaker is that.
fn wrong_label(known: &KnownHouse<'_>) -> Vec<Hit> {
    let house = known.house;
    let told = |text: &str| -> BTreeSet<String> {
        let all = words(text).into_iter().filter(|w| matches!(w.sense, Sense::Thing | Sense::Room));
        all.map(|w| w.plain).collect()
    };
    let of_point = |point: &Point| -> BTreeSet<String> {
        let room = house.rooms.get(point.room).map_or("", |room| room.name.as_str());
        let loads = house.loads.iter().filter(|load| load.point == point.id).map(|load| load.name.as_str());
        [room, point.name.as_str()].into_iter().chain(loads).flat_map(told).collect()
    };
    let hit = |belief: &BreakerBelief| {
        let breaker = house.breakers.get(belief.at.breaker)?;
        let says = told(&breaker.label);
        let fed: Vec<&Point> = belief.feeds.iter().filter_map(|fed| house.points.get(fed.point)).collect();
        let right = fed.iter().any(|point| !of_point(point).is_disjoint(&says));
        let proven = belief.complete && !fed.is_empty() && belief.feeds.iter().all(|fed| fed.proven);
        let why = format!("it says \"{}\", and what hangs on it is something else", breaker.label.trim());
        (proven && !says.is_empty() && !right)
            .then(|| Hit { rests: Rests::Proven, ..Hit::at(&WRONG_LABEL, breaker, why) })
    };
    known.beliefs.breakers.iter().filter_map(hit).collect()
}
