//! What was measured, tested or reckoned.

use std::collections::BTreeMap;

use super::mapped::first_panel;
use super::{
    FAILED_DEVICE, FAILED_TEST, HOT_SPOT, LEG_OVER, LONG_RUN, NEUTRAL_ASTRAY, OVERLOAD, SERVICE, SERVICE_OVER, UNEVEN,
    VOLTS_BAND,
};
use crate::answers::service;
use crate::answers::upkeep::{DueTest, device_tests};
use crate::audit::KnownHouse;
use crate::base::Said;
use crate::base::units::{Amps, Volts};
use crate::code::volts::{BRANCH_DROP, DROP_IN_ALL, LEG};
use crate::house::{
    Breaker, BreakerId, Conductor, Event, MeasuredAt, Panel, PanelId, Quantity, Reading, Span, Subject,
};
use crate::load::circuits::CircuitLoad;
use crate::load::drop::share_lost;
use crate::load::infrared::{Warmth, compare};
use crate::load::legs;
use crate::load::service as reckoned;
use crate::rules::{Hit, Rests, Severity};

/// The last reading of each panel's service voltages, judged.
fn last_volts(known: &KnownHouse<'_>) -> Vec<(PanelId, service::Verdict)> {
    let of = |panel: &Panel| {
        let readings = known.house.log.iter().filter_map(|entry| match &entry.event {
            Event::Volts { panel: of, reading } if *of == panel.id => Some((entry.time, reading)),
            _ => None,
        });
        let (_, reading) = readings.max_by_key(|(time, _)| *time)?;
        Some((panel.id, service::judge(reading, panel.supply)))
    };
    known.house.panels.iter().filter_map(of).collect()
}

pub(super) fn service_volts(known: &KnownHouse<'_>) -> Vec<Hit> {
    let bad = |(panel, verdict): (PanelId, service::Verdict)| {
        let line = verdict.said.iter().find(|line| line.severity == Some(Severity::Danger))?;
        Some(Hit::new(&SERVICE, panel, line.said.clone()))
    };
    last_volts(known).into_iter().filter_map(bad).collect()
}

pub(super) fn volts_band(known: &KnownHouse<'_>) -> Vec<Hit> {
    let bad = |(panel, verdict): (PanelId, service::Verdict)| {
        // What is dangerous in it is told already.
        let grave = verdict.said.iter().any(|line| line.severity == Some(Severity::Danger));
        let line = verdict.said.iter().find(|line| line.severity.is_some() && !grave)?;
        let severity = line.severity.unwrap_or(Severity::Mend);
        Some(Hit { severity, ..Hit::new(&VOLTS_BAND, panel, line.said.clone()) })
    };
    last_volts(known).into_iter().filter_map(bad).collect()
}

pub(super) fn failed_test(known: &KnownHouse<'_>) -> Vec<Hit> {
    let failed = device_tests(known.house, known.now).into_iter().filter(|test| test.failed);
    let hit = |test: DueTest| match test.subject {
        Subject::Breaker(id) => {
            known.house.breakers.get(id).map(|b| Hit::at(&FAILED_TEST, b, "its last test failed".to_owned()))
        }
        _ => None,
    };
    failed.filter_map(hit).collect()
}

pub(super) fn failed_device(known: &KnownHouse<'_>) -> Vec<Hit> {
    let failed = device_tests(known.house, known.now).into_iter().filter(|test| test.failed);
    let hit = |test: DueTest| match test.subject {
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

pub(super) fn overload(known: &KnownHouse<'_>) -> Vec<Hit> {
    let all = known.loaded.circuits();
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

pub(super) fn uneven(known: &KnownHouse<'_>) -> Vec<Hit> {
    let all = known.loaded.legs();
    let is = |panel: &&legs::PanelLegs| {
        let fullest = panel.each.iter().map(|leg| leg.usual.0).fold(0.0, f64::max);
        panel.uneven > UNEVEN_FROM && fullest >= CARRIES && panel.unknown == 0
    };
    all.iter().filter(is).map(|panel| Hit::new(&UNEVEN, panel.id, panel.said.clone())).collect()
}

/// By every method that applies it is over the service's rating: one that is not may be used.
pub(super) fn service_over(known: &KnownHouse<'_>) -> Vec<Hit> {
    let hangs = known.beliefs.hangs();
    let answers = reckoned::answers(known.house, &hangs, &[]);
    let sheets: Vec<&reckoned::Sheet> = answers.iter().filter_map(|answer| answer.now.as_ref()).collect();
    let over = |sheet: &&&reckoned::Sheet| sheet.margin_amps.is_some_and(|margin| margin.0 < 0.0);
    let least = sheets.iter().min_by(|a, b| a.amps.0.total_cmp(&b.amps.0));
    let all = sheets.iter().filter(over).count() == sheets.len();
    let hit = |sheet: &&reckoned::Sheet| {
        Some(Hit { rests: Rests::Likely, ..Hit::new(&SERVICE_OVER, first_panel(known)?, sheet.said.clone()) })
    };
    least.filter(|_| all).and_then(hit).into_iter().collect()
}

pub(super) fn leg_over(known: &KnownHouse<'_>) -> Vec<Hit> {
    let hit = |panel: &legs::PanelLegs| {
        let rating = panel.rating?;
        let full = panel.each.iter().max_by(|a, b| a.usual.0.total_cmp(&b.usual.0))?;
        let why =
            format!("leg {} reaches {:.0} A in a usual week, and it is rated {rating}", full.leg.said(), full.usual.0);
        (full.usual > rating).then(|| Hit { rests: Rests::Likely, ..Hit::new(&LEG_OVER, panel.id, why) })
    };
    known.loaded.legs().iter().filter_map(hit).collect()
}

/// What its wire loses over its length of what it usually carries.
pub(super) fn long_run(known: &KnownHouse<'_>) -> Vec<Hit> {
    let circuits = known.loaded.circuits();
    let usual: BTreeMap<BreakerId, Amps> = circuits.iter().map(|c| (c.breaker, c.usual)).collect();
    let hit = |circuit: &crate::house::Circuit| {
        let breaker = known.house.breakers.get(circuit.breaker)?;
        let amps = *usual.get(&breaker.id)?;
        let across = known.house.panels.get(breaker.panel)?.supply.across();
        let volts = Volts(if breaker.at.len() > 1 { f64::from(across) } else { LEG });
        let lost = share_lost(circuit, amps, volts)?;
        let why = format!("{:.1} % is lost at its usual {:.1} A, by its wire and length", 100.0 * lost, amps.0);
        let severity = if lost > DROP_IN_ALL { Severity::Mend } else { Severity::Improve };
        (lost > BRANCH_DROP).then(|| Hit { severity, rests: Rests::Likely, ..Hit::at(&LONG_RUN, breaker, why) })
    };
    known.house.circuits.iter().filter_map(hit).collect()
}

/// Readings that belong together are taken within so many seconds. (common practice: one walk along a panel)
const ONE_WALK: i64 = 3600;
/// Loads are alike up to such a share of the rating. (common practice)
const ALIKE: f64 = 0.2;

/// The last reading of a sort at each breaker.
fn last_at<'a>(known: &KnownHouse<'a>, is: impl Fn(&Reading) -> bool) -> BTreeMap<BreakerId, &'a Reading> {
    let mut last: BTreeMap<BreakerId, &'a Reading> = BTreeMap::new();
    for reading in known.house.readings.iter().filter(|reading| is(reading)) {
        let MeasuredAt::Breaker { breaker, .. } = reading.place else { continue };
        let newest = last.entry(breaker).or_insert(reading);
        if reading.time > newest.time {
            *newest = reading;
        }
    }
    last
}

/// A current of a hot; at a breaker what is not said is its hot.
fn is_hot(of: Option<Conductor>) -> bool {
    !matches!(of, Some(Conductor::N | Conductor::G))
}

fn in_one_walk(one: &Reading, other: &Reading) -> bool {
    (one.time.as_second() - other.time.as_second()).abs() <= ONE_WALK
}

/// Its last temperature against the middle of the others of as many poles, read in the same walk. What carries more is warmer: where
/// the currents were read as well, those of like load are compared; otherwise only what no load explains is told, as likely.
pub(super) fn hot_spot(known: &KnownHouse<'_>) -> Vec<Hit> {
    let warm = last_at(known, |reading| reading.quantity == Quantity::Degrees);
    let currents = last_at(known, |reading| {
        reading.span == Span::Spot && matches!(reading.quantity, Quantity::Amps { of } if is_hot(of))
    });
    let of = |id: &BreakerId| known.house.breakers.get(*id);
    let share = |breaker: &Breaker, reading: &Reading| {
        let amps = currents.get(&breaker.id).filter(|amps| in_one_walk(amps, reading))?;
        Some(amps.value / breaker.amps.0)
    };
    let hit = |(id, reading): (&BreakerId, &&Reading)| {
        let breaker = of(id).filter(|b| b.since.is_none_or(|since| since <= reading.time))?;
        let own = share(breaker, reading);
        let others: Vec<(f64, Option<f64>)> = warm
            .iter()
            .filter(|(other, of_other)| *other != id && in_one_walk(of_other, reading))
            .filter_map(|(other, of_other)| Some((of(other)?, of_other)))
            .filter(|(other, _)| other.panel == breaker.panel && other.at.len() == breaker.at.len())
            .map(|(other, of_other)| (of_other.value, share(other, of_other)))
            .collect();
        let alike = |of: &f64| own.is_some_and(|own| (own - of).abs() <= ALIKE);
        let mut like: Vec<f64> =
            others.iter().filter(|(_, of)| of.as_ref().is_some_and(alike)).map(|(value, _)| *value).collect();
        let known_load = !like.is_empty();
        if !known_load {
            like = others.iter().map(|(value, _)| *value).collect();
        }
        like.sort_by(f64::total_cmp);
        let middle = *like.get(like.len() / 2)?;
        let far = |degrees, similar| compare(degrees, similar, 1.0) == Warmth::RepairNow;
        let warmth = compare(reading.value, middle, own.filter(|_| known_load).unwrap_or(1.0));
        let (severity, rests) = match warmth {
            // So hot at little load is worse than the same at full load.
            Warmth::RepairNow | Warmth::HotAtLittle if known_load && far(reading.value, middle) => {
                (Severity::Danger, Rests::Entered)
            }
            Warmth::RepairNow => (Severity::Mend, Rests::Likely),
            Warmth::Probable | Warmth::HotAtLittle if known_load => (Severity::Mend, Rests::Entered),
            _ => return None,
        };
        let load = if known_load { " at like load" } else { ", whatever it carries" };
        let why = format!("{:.0} °C above the middle of its like{load}", reading.value - middle);
        Some(Hit { severity, rests, ..Hit::at(&HOT_SPOT, breaker, why) })
    };
    warm.iter().filter_map(hit).collect()
}

/// Clamped one after the other within so many seconds. (common practice)
const TOGETHER: i64 = 600;
/// What a clamp and a load that changes meanwhile explain, in amperes and as a share. (common practice)
const UNSURE: (f64, f64) = (1.0, 0.15);

/// The hot and the neutral of a circuit carry the same current, where it shares its neutral with none.
pub(super) fn neutral_astray(known: &KnownHouse<'_>) -> Vec<Hit> {
    let house = known.house;
    let read = |breaker: &Breaker, which: Conductor| -> Option<&Reading> {
        let of = |reading: &&Reading| match (reading.place, reading.quantity) {
            (MeasuredAt::Breaker { breaker: at, .. }, Quantity::Amps { of }) => {
                let meant = if which == Conductor::N { of == Some(Conductor::N) } else { is_hot(of) };
                at == breaker.id && reading.span == Span::Spot && meant
            }
            _ => false,
        };
        house.readings.iter().filter(of).max_by_key(|reading| reading.time)
    };
    let hit = |breaker: &Breaker| {
        let (hot, neutral) = (read(breaker, Conductor::A)?, read(breaker, Conductor::N)?);
        let apart = (hot.value - neutral.value).abs();
        let together = (hot.time.as_second() - neutral.time.as_second()).abs() <= TOGETHER;
        let why = format!("its hot carries {:.1} A and its neutral {:.1} A", hot.value, neutral.value);
        (together && apart > UNSURE.0.max(UNSURE.1 * hot.value.max(neutral.value)))
            .then(|| Hit::at(&NEUTRAL_ASTRAY, breaker, why))
    };
    let alone = |b: &&Breaker| {
        b.at.len() == 1 && house.circuits_of(b.id).iter().all(|circuit| house.sharing_neutral(circuit).len() <= 1)
    };
    house.breakers.iter().filter(alone).filter_map(hit).collect()
}
