//! The next reading: what would teach most a minute for the question whether circuits pass their ratings, with the
//! instruments at hand (handbook 3.1, 3.2).

use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

use crate::base::units::Amps;
use crate::house::{BreakerId, House, Instrument, LoadId, PointId, PointKind};
use crate::load::circuits::CircuitLoad;
use crate::load::drawing::{Drawing, Drawn};
use crate::load::draws::NINETEEN_OF_TWENTY;
use crate::load::hung::Hung;
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
    /// or at which point.
    pub point: Option<PointId>,
    /// What to switch on for it.
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

/// Minutes that readings take, beside half a minute for each thing to switch on. (common practice)
const CLAMP: f64 = 0.5;
const MONITOR: f64 = 0.3;
/// Read, off, read, on, read again: handbook 3.1.
const BY_DIFFERENCE: f64 = 4.0;
const PLUG_IN: f64 = 2.0;
const SWITCH_ON: f64 = 0.5;
/// What is left of an error after a reading. By difference of a whole house's power more is left (handbook 3.1: 5 % or 30 W).
const LEFT_BY_CLAMP: f64 = 0.2;
const LEFT_BY_DIFFERENCE: f64 = 0.5;
/// What nobody knows anything of counts as unsure by this. (common practice)
const UNKNOWN: f64 = 4.0;
/// Unsureness that is worth a reading.
const WORTH: f64 = 0.3;
/// Readings that are proposed.
const PROPOSED: usize = 8;

/// What to read next, what teaches most a minute first.
#[must_use]
pub fn next(house: &House, hung: &Hung<'_>, all: &[Drawing], circuits: &[CircuitLoad], kit: Kit) -> Vec<NextReading> {
    let mut proposed: Vec<(f64, NextReading)> = Vec::new();
    for circuit in circuits.iter().filter(|c| !c.feeds_panel && !c.things.is_empty()) {
        let on: Vec<&Drawing> = all.iter().filter(|d| hung.is_behind(circuit.breaker, &d.breakers)).collect();
        let error = |d: &&Drawing| if d.amps.is_some() { d.error.0 } else { UNKNOWN };
        let unsure = on.iter().map(|d| error(d).powi(2)).sum::<f64>().sqrt();
        if unsure < WORTH {
            continue;
        }
        // Unsureness counts where the usual or the worst comes near the rating.
        let matters = nearness(circuit);
        for (instrument, minutes, left) in ways(kit) {
            let switched = on.iter().filter(|d| matches!(d.thing, Drawn::Load(_))).count() as f64;
            let minutes = minutes + SWITCH_ON * switched;
            let next = at_breaker(house, circuit, &on, instrument, minutes, unsure);
            proposed.push((matters * unsure * (1.0 - left) / minutes, next));
        }
        for d in on.iter().filter(|d| kit.plug_in && plugs_in(house, d) && error(d) >= WORTH) {
            let next = at_point(d, error(d));
            proposed.push((matters * error(d) * (1.0 - LEFT_BY_CLAMP) / PLUG_IN, next));
        }
    }
    proposed.sort_by(|a, b| b.0.total_cmp(&a.0));
    proposed.into_iter().take(PROPOSED).map(|(_, next)| next).collect()
}

fn ways(kit: Kit) -> impl Iterator<Item = (Instrument, f64, f64)> {
    let ways = [
        (kit.monitor, Instrument::Monitor, MONITOR, LEFT_BY_CLAMP),
        (kit.clamp, Instrument::Clamp, CLAMP, LEFT_BY_CLAMP),
        (kit.utility_meter, Instrument::UtilityMeter, BY_DIFFERENCE, LEFT_BY_DIFFERENCE),
    ];
    ways.into_iter().filter(|way| way.0).map(|(_, instrument, minutes, left)| (instrument, minutes, left))
}

/// 1 where it is open whether the rating is passed, less the farther from it.
fn nearness(circuit: &CircuitLoad) -> f64 {
    let open = 4.0 * circuit.over * (1.0 - circuit.over);
    let share = circuit.worst.0 / circuit.rating.0;
    open.max(if circuit.unknown.is_empty() { 0.0 } else { 0.5 }).max(share.min(1.0) * 0.3)
}

fn plugs_in(house: &House, d: &Drawing) -> bool {
    let at_receptacle = house.points.get(d.point).is_some_and(|p| p.kind == PointKind::Receptacle);
    at_receptacle && !d.volts.is_leg_to_leg() && matches!(d.thing, Drawn::Load(_))
}

fn loads(on: &[&Drawing]) -> Vec<LoadId> {
    on.iter().filter_map(|d| if let Drawn::Load(id) = d.thing { Some(id) } else { None }).collect()
}

fn at_breaker(
    house: &House,
    circuit: &CircuitLoad,
    on: &[&Drawing],
    instrument: Instrument,
    minutes: f64,
    unsure: f64,
) -> NextReading {
    let place = format!("{} {}", circuit.panel, circuit.at);
    let how = match instrument {
        Instrument::Clamp => format!("Switch all of it on, and clamp the hot of {place}"),
        Instrument::Monitor => format!("Switch all of it on, and read the monitor at {place}"),
        _ => {
            format!("Switch all of it on. Read the utility's meter, switch {place} off, read, switch it on, read again")
        }
    };
    NextReading {
        instrument,
        breaker: Some(circuit.breaker),
        point: None,
        on: loads(on),
        expect: circuit.worst,
        plus_minus: Amps(NINETEEN_OF_TWENTY * unsure),
        minutes,
        action: how,
        why: why(house, circuit),
    }
}

fn at_point(d: &Drawing, error: f64) -> NextReading {
    NextReading {
        instrument: Instrument::PlugIn,
        breaker: None,
        point: Some(d.point),
        on: loads(&[d]),
        expect: d.amps.unwrap_or(Amps(0.0)),
        plus_minus: Amps(NINETEEN_OF_TWENTY * error),
        minutes: PLUG_IN,
        action: format!("Put the plug-in meter between {} and {}, and switch it on", d.name, d.tag),
        why: format!("{} is unsure by {error:.1} A", d.name),
    }
}

fn why(house: &House, circuit: &CircuitLoad) -> String {
    if !circuit.unknown.is_empty() {
        return format!("nothing is known of what draws at {}", by_tags(house, &circuit.unknown));
    }
    match circuit.over {
        p if (0.05..0.95).contains(&p) => "it is open whether it passes its rating".into(),
        _ => "what it draws rests on nameplates and typical values".into(),
    }
}
