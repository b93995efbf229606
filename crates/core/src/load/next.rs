//! The next reading: what would teach most a minute of what circuits and legs carry, with the instruments at hand (handbook 3.1, 3.2).
//!
//! What is asked is what each circuit and each leg that comes in carries at its usual peak and with all of it on, most of all where that
//! is near its rating. How well that is known follows from how the errors of its things go together; what a reading would leave of it,
//! from what the reading has in common with the question [def: the variance that is left after a measured sum of normal errors]. Where a
//! sum was read, reading it again leaves as much open as before, and is not proposed.

use std::collections::BTreeSet;

use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

use crate::base::Said;
use crate::base::position::Leg;
use crate::base::units::Amps;
use crate::house::{
    BreakerId, Conductor, Habit, House, Instrument, LoadId, MeasuredAt, PanelId, PointId, PointKind, Quantity, Reading,
    RoomId,
};
use crate::load::Loaded;
use crate::load::circuits::{self, CircuitLoad};
use crate::load::drawing::{self, Drawing, Drawn};
use crate::load::draws::{NINETEEN_OF_TWENTY, error_read};
use crate::load::week::Week;
use crate::words::things::by_tags;

/// Instruments at hand. The cover stays on unless a qualified person says otherwise.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Default, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct Kit {
    /// The utility's meter can be read: turns, blinks or kilowatts.
    #[serde(default)]
    pub utility_meter: bool,
    /// A meter between plug and receptacle.
    #[serde(default)]
    pub plug_in: bool,
    /// A clamp, and a qualified person who takes the cover off.
    #[serde(default)]
    pub clamp: bool,
    /// An energy monitor watches every breaker.
    #[serde(default)]
    pub monitor: bool,
}

/// A reading to take.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
pub struct NextReading {
    /// With what.
    pub instrument: Instrument,
    /// At which breaker,
    pub breaker: Option<BreakerId>,
    /// or at which point,
    pub point: Option<PointId>,
    /// or at which leg that comes into which panel.
    pub leg: Option<ComingIn>,
    /// What is to be on for it; what else hangs at a breaker is off.
    pub on: Vec<LoadId>,
    /// What is expected to be read,
    pub expect: Amps,
    /// within so much either way, nineteen times of twenty.
    pub plus_minus: Amps,
    /// About how long it takes, in minutes.
    pub minutes: f64,
    /// What to do, in words,
    pub action: String,
    /// and why.
    pub why: String,
}

/// A leg that comes into a panel.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, ToSchema)]
pub struct ComingIn {
    /// The panel.
    pub panel: PanelId,
    /// The conductor.
    pub of: Conductor,
}

/// Minutes that readings take, beside what is to be switched. (common practice)
const CLAMP: f64 = 0.5;
const MONITOR: f64 = 0.3;
/// Read, off, read, on, read again: handbook 3.1.
const BY_DIFFERENCE: f64 = 4.0;
const PLUG_IN: f64 = 2.0;
/// Walking to a room and switching a thing there, and each other one that is near.
const SWITCH: f64 = 0.5;
const NEAR: f64 = 0.15;
/// Of power by difference two readings err. [def: √2]
const DIFFERS: f64 = std::f64::consts::SQRT_2;
/// What counts of a circuit that is far from its rating, of one where it is open. (common practice)
const FAR: f64 = 0.4;
/// Amperes that a reading must bring to be worth it. (common practice)
const WORTH: f64 = 0.05;
/// So often in a row hardly anything that cycles by itself rests. (common practice)
const RESTED: usize = 3;
/// Things of a circuit that are tried by themselves and left off.
const TRIED: usize = 4;
/// Things that are switched on for a leg draw this at least. (common practice)
const LARGE: f64 = 3.0;
/// Readings that are proposed.
const PROPOSED: usize = 8;

/// Things, each with how often it counts.
type Counted<'a> = Vec<(&'a Drawing, f64)>;

/// A sum that is asked for.
struct SumAsked<'a> {
    of: Counted<'a>,
    matters: f64,
}

/// A reading that may be taken.
struct Could<'a> {
    on: Vec<&'a Drawing>,
    minutes: f64,
    instrument: Instrument,
}

/// What to read next, what teaches most a minute first.
#[must_use]
pub fn next(house: &House, loaded: &Loaded<'_>, kit: Kit) -> Vec<NextReading> {
    let mut proposed: Vec<(f64, NextReading)> = Vec::new();
    let ways: Vec<(Instrument, f64)> = [
        (kit.monitor, Instrument::Monitor, MONITOR),
        (kit.clamp, Instrument::Clamp, CLAMP),
        (kit.utility_meter, Instrument::UtilityMeter, BY_DIFFERENCE),
    ]
    .into_iter()
    .filter(|way| way.0)
    .map(|(_, instrument, minutes)| (instrument, minutes))
    .collect();
    for circuit in loaded.circuits().iter().filter(|c| !c.feeds_panel) {
        let on: Vec<&Drawing> =
            loads_of(loaded.all.iter().filter(|d| loaded.hung.is_behind(circuit.breaker, &d.breakers)));
        let asked = of_circuit(house, circuit, &on);
        let taken = taken(house, loaded, |r| r.place.breaker() == Some(circuit.breaker));
        for (instrument, minutes) in &ways {
            let open = sets(&on).into_iter().filter(|set| !is_told(&taken, &on, set));
            let could = open.map(|on| could(house, on, *instrument, *minutes));
            let told = could.map(|could| (worth(&asked, &could), could));
            if let Some((worth, could)) = told.max_by(|a, b| a.0.total_cmp(&b.0)).filter(|(worth, _)| *worth > 0.0) {
                proposed.push((worth, at_breaker(house, circuit, &on, &could)));
            }
        }
        for d in on.iter().filter(|d| kit.plug_in && plugs_in(house, d)) {
            let could = Could { on: vec![d], minutes: PLUG_IN, instrument: Instrument::PlugIn };
            proposed.push((worth(&asked, &could), at_point(d)));
        }
    }
    // What hangs nobody knows where counts for itself.
    for d in loads_of(loaded.all.iter().filter(|d| d.breakers.is_empty())) {
        let asked = [SumAsked { of: vec![(d, 1.0)], matters: FAR }];
        let could = Could { on: vec![d], minutes: PLUG_IN, instrument: Instrument::PlugIn };
        if kit.plug_in && plugs_in(house, d) {
            proposed.push((worth(&asked, &could), at_point(d)));
        }
    }
    if kit.clamp {
        proposed.extend(coming_in(house, loaded));
    }
    proposed.retain(|(worth, _)| *worth > 0.0);
    proposed.sort_by(|a, b| b.0.total_cmp(&a.0));
    proposed.into_iter().take(PROPOSED).map(|(_, next)| next).collect()
}

/// Only loads can be listed in a reading.
fn loads_of<'a>(all: impl Iterator<Item = &'a Drawing>) -> Vec<&'a Drawing> {
    all.filter(|d| matches!(d.thing, Drawn::Load(_))).collect()
}

/// What a circuit carries at its usual peak, and with all of it on.
fn of_circuit<'a>(house: &House, circuit: &CircuitLoad, on: &[&'a Drawing]) -> Vec<SumAsked<'a>> {
    let Some(breaker) = house.breakers.get(circuit.breaker) else { return Vec::new() };
    let runners = circuits::runners(breaker, on);
    let runs = Week::of(&runners).runs_when_over(&runners, circuits::NEARLY * circuit.usual.0);
    let matters = nearness(circuit);
    let once = on.iter().map(|d| (*d, 1.0)).collect();
    let at_peak = on.iter().copied().zip(runs).collect();
    vec![SumAsked { of: at_peak, matters }, SumAsked { of: once, matters: 0.5 * matters }]
}

/// 1 where it is open whether the rating is passed, less the farther from it.
fn nearness(circuit: &CircuitLoad) -> f64 {
    let open = 4.0 * circuit.over * (1.0 - circuit.over);
    let share = circuit.worst.0 / circuit.rating.0;
    FAR + (1.0 - FAR) * open.max(0.5 * share.min(1.0))
}

/// What may be on for a reading at a breaker: all, all but one, one alone. What always runs is never switched.
fn sets<'a>(on: &[&'a Drawing]) -> Vec<Vec<&'a Drawing>> {
    let always = |d: &&&Drawing| d.habit == Habit::Always;
    let base: Vec<&Drawing> = on.iter().filter(always).copied().collect();
    let mut open: Vec<&Drawing> = on.iter().filter(|d| !always(d)).copied().collect();
    open.sort_by(|a, b| b.error.0.total_cmp(&a.error.0));
    open.truncate(TRIED);
    let mut all = vec![on.to_vec()];
    for one in open {
        all.push(base.iter().copied().chain([one]).collect());
        all.push(on.iter().filter(|d| d.thing != one.thing).copied().collect());
    }
    all.retain(|set| !set.is_empty());
    all
}

/// The readings of draws that were taken somewhere: what does not fit counts for nothing.
fn taken<'a>(house: &'a House, loaded: &Loaded<'_>, at: impl Fn(&Reading) -> bool) -> Vec<&'a Reading> {
    let fits = |r: &&Reading| loaded.draws.misfits.iter().all(|misfit| misfit.reading != r.id);
    let of_draws = |r: &&Reading| matches!(r.quantity, Quantity::Amps { .. } | Quantity::Watts);
    house.readings.iter().filter(|r| at(r)).filter(of_draws).filter(fits).collect()
}

/// It was read there with the same things on: an instrument errs the same way again. What may have rested just then is looked at once
/// more.
fn is_told(taken: &[&Reading], here: &[&Drawing], set: &[&Drawing]) -> bool {
    let same = |r: &&&Reading| {
        here.iter().all(|d| {
            let noted = matches!(d.thing, Drawn::Load(load) if r.on.contains(&load));
            noted == set.iter().any(|there| there.thing == d.thing)
        })
    };
    taken.iter().filter(same).count() >= if set.iter().any(|d| d.runs < 1.0) { RESTED } else { 1 }
}

fn could<'a>(house: &House, on: Vec<&'a Drawing>, instrument: Instrument, minutes: f64) -> Could<'a> {
    let room = |d: &&Drawing| house.points.get(d.point).map(|p| p.room);
    let switched = on.iter().filter(|d| d.habit != Habit::Always);
    let rooms: BTreeSet<Option<RoomId>> = switched.clone().map(room).collect();
    let near = switched.count() - rooms.len();
    Could { minutes: minutes + SWITCH * rooms.len() as f64 + NEAR * near as f64, on, instrument }
}

/// What a reading leaves less open of what is asked, in amperes a minute.
fn worth(asked: &[SumAsked<'_>], could: &Could<'_>) -> f64 {
    let on: Counted<'_> = could.on.iter().map(|d| (*d, 1.0)).collect();
    let expect: f64 = could.on.iter().map(|d| amps(d)).sum();
    let differs = if could.instrument == Instrument::UtilityMeter { DIFFERS } else { 1.0 };
    let at_plug = could.instrument == Instrument::PlugIn;
    // What cycles by itself may rest just then.
    let rests: f64 = could.on.iter().map(|d| d.runs * (1.0 - d.runs) * amps(d).powi(2)).sum();
    let noise = (differs * error_read(could.instrument, at_plug, expect)).powi(2) + rests;
    let read = drawing::error_of(&on).powi(2);
    let less = |asked: &SumAsked<'_>| {
        let of = drawing::error_of(&asked.of).powi(2);
        let both = drawing::error_of(&with(&asked.of, &on)).powi(2);
        let common = (both - of - read) / 2.0;
        let left = (of - common * common / (read + noise)).max(0.0);
        asked.matters * (of.sqrt() - left.sqrt())
    };
    let less: f64 = asked.iter().map(less).sum();
    if less >= WORTH { less / could.minutes } else { 0.0 }
}

/// Both together, each thing once.
fn with<'a>(one: &[(&'a Drawing, f64)], other: &[(&'a Drawing, f64)]) -> Counted<'a> {
    let mut sum = one.to_vec();
    for (d, times) in other {
        match sum.iter_mut().find(|(there, _)| there.thing == d.thing) {
            Some((_, there)) => *there += times,
            None => sum.push((d, *times)),
        }
    }
    sum
}

fn amps(d: &Drawing) -> f64 {
    d.amps.map_or(0.0, |a| a.0)
}

fn plugs_in(house: &House, d: &Drawing) -> bool {
    let at_receptacle = house.points.get(d.point).is_some_and(|p| p.kind == PointKind::Receptacle);
    at_receptacle && !d.volts.is_leg_to_leg()
}

fn loads(on: &[&Drawing]) -> Vec<LoadId> {
    on.iter().filter_map(|d| if let Drawn::Load(id) = d.thing { Some(id) } else { None }).collect()
}

/// A proposal without its place.
fn proposal(could: &Could<'_>, action: String, why: String) -> NextReading {
    let error = drawing::error_of(&could.on.iter().map(|d| (*d, 1.0)).collect::<Vec<_>>());
    NextReading {
        instrument: could.instrument,
        breaker: None,
        point: None,
        leg: None,
        on: loads(&could.on),
        expect: Amps(could.on.iter().map(|d| amps(d)).sum()),
        plus_minus: Amps(NINETEEN_OF_TWENTY * error),
        minutes: could.minutes,
        action,
        why,
    }
}

fn at_breaker(house: &House, circuit: &CircuitLoad, on: &[&Drawing], could: &Could<'_>) -> NextReading {
    let place = format!("{} {}", circuit.panel, circuit.at);
    let named = |which: &dyn Fn(&&&Drawing) -> bool| {
        let names: Vec<String> = on.iter().filter(which).map(|d| d.named()).collect();
        names.join(", ")
    };
    let is_on = |d: &&&Drawing| could.on.iter().any(|there| there.thing == d.thing);
    let left_off = named(&|d| !is_on(d));
    let switch = match (left_off.is_empty(), could.on.len() > on.len() / 2) {
        (true, _) => "Switch all of it on".to_owned(),
        (false, true) => format!("Switch all of it on but {left_off}"),
        (false, false) => format!("Have only {} on", named(&is_on)),
    };
    let action = match could.instrument {
        Instrument::Clamp => format!("{switch}, and clamp the hot of {place}"),
        Instrument::Monitor => format!("{switch}, and read the monitor at {place}"),
        _ => format!("{switch}. Read the utility's meter, switch {place} off, read, switch it on, read again"),
    };
    NextReading { breaker: Some(circuit.breaker), ..proposal(could, action, why(house, circuit, on)) }
}

fn at_point(d: &Drawing) -> NextReading {
    let could = Could { on: vec![d], minutes: PLUG_IN, instrument: Instrument::PlugIn };
    let action = format!("Put the plug-in meter between {} and {}, and switch it on", d.name, d.tag);
    let why = format!("{} is unsure by {:.1} A", d.name, d.error.0);
    NextReading { point: Some(d.point), ..proposal(&could, action, why) }
}

fn why(house: &House, circuit: &CircuitLoad, on: &[&Drawing]) -> String {
    if !circuit.unknown.is_empty() {
        return format!("nothing is known of what draws at {}", by_tags(house, &circuit.unknown));
    }
    match circuit.over {
        p if (0.05..0.95).contains(&p) => "it is open whether it passes its rating".into(),
        _ if on.iter().all(|d| d.read) => "the sum was read, and how much each thing has of it is open".into(),
        _ => "what it draws rests on nameplates and typical values".into(),
    }
}

/// A leg that comes into a panel with what draws most on it, where the leg itself is asked for.
fn coming_in(house: &House, loaded: &Loaded<'_>) -> Vec<(f64, NextReading)> {
    let mut proposed = Vec::new();
    for panel in house.panels_in_order() {
        let Some(rating) = crate::load::legs::rating(house, panel) else { continue };
        let legs = [(Leg::A, Conductor::A), (Leg::B, Conductor::B), (Leg::C, Conductor::C)];
        // Wherever it hangs, what takes two legs takes both of the one service's two: legs tell of it before anything is traced.
        let alone = house.panels.iter().all(|p| p.id == panel.id || p.fed_by.is_some());
        let lies_across = alone && panel.fed_by.is_none() && panel.supply.legs() == 2;
        for (leg, of) in legs.into_iter().take(usize::from(panel.supply.legs())) {
            let here = |d: &&Drawing| {
                let known = d.ways.iter().any(|w| w.panel == panel.id && w.legs.contains(&leg));
                known || (lies_across && d.breakers.is_empty() && d.volts.is_leg_to_leg())
            };
            let on: Vec<&Drawing> =
                loads_of(loaded.all.iter().filter(here).filter(|d| d.habit == Habit::Always || amps(d) >= LARGE));
            let at = |r: &Reading| {
                matches!(r.place, MeasuredAt::Main { panel: p } | MeasuredAt::Feed { panel: p } | MeasuredAt::Bus { panel: p } if p == panel.id)
                    && r.quantity == Quantity::Amps { of: Some(of) }
            };
            if is_told(&taken(house, loaded, at), &on, &on) {
                continue;
            }
            let carried = drawing::on_leg(panel, leg, &on.iter().map(|d| (*d, 1.0)).collect::<Vec<_>>());
            let matters = FAR + (1.0 - FAR) * (0.5 * carried / rating.0).min(1.0);
            let asked = [SumAsked { of: on.iter().map(|d| (*d, 1.0)).collect(), matters }];
            let could = could(house, on, Instrument::Clamp, CLAMP);
            let action =
                format!("Switch on what draws most, and clamp leg {} that comes into {}", of.said(), panel.name);
            let why = "one reading tells what the leg carries".to_owned();
            let at = Some(ComingIn { panel: panel.id, of });
            proposed.push((worth(&asked, &could), NextReading { leg: at, ..proposal(&could, action, why) }));
        }
    }
    proposed
}
