//! What would relieve a circuit that trips, or will: a circuit of its own for a thing, sized; another outlet for it; or what is not
//! to run together. (handbook 5.16)

use serde::Serialize;
use utoipa::ToSchema;

use crate::base::units::Amps;
use crate::code::sizes::WORTH_A_CIRCUIT;
use crate::house::{BreakerId, House, Load, LoadId, LoadKind, Point, PointId, PointKind};
use crate::load::Loaded;
use crate::load::circuits::{self, CONTINUOUS_SHARE, CircuitLoad};
use crate::load::drawing::{Drawing, Drawn};
use crate::plate;
use crate::rules;
use crate::words::things::by_tags;

/// What would relieve a circuit.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
pub struct Cure {
    /// The circuit's breaker.
    pub breaker: BreakerId,
    /// Things that may get a circuit of their own, the best first.
    pub alone: Vec<AloneThen>,
    /// What is not to run together, where that is known.
    pub not_together: Vec<String>,
    /// All that in words.
    pub said: String,
}

/// A thing with a circuit of its own.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
pub struct AloneThen {
    /// Which.
    pub load: LoadId,
    /// As people call it.
    pub name: String,
    /// What it draws.
    pub amps: Amps,
    /// That it hangs there is proven.
    pub proven: bool,
    /// The breaker that it would get.
    pub rating: Amps,
    /// The code wants it alone.
    pub must: bool,
    /// What the old circuit reaches then at the usual peak,
    pub rest: Amps,
    /// and whether that is within four fifths of its rating.
    pub enough: bool,
    /// An outlet of another circuit that would carry it as well.
    pub elsewhere: Option<Elsewhere>,
}

/// An outlet where a thing may be plugged in instead.
#[derive(Debug, Clone, PartialEq, Eq, Serialize, ToSchema)]
pub struct Elsewhere {
    /// Which.
    pub point: PointId,
    /// What it is called.
    pub name: String,
    /// What its circuit carries, in words.
    pub said: String,
}

/// Lights stay with lights: a circuit of its own is for a thing.
fn may(load: &Load) -> bool {
    load.kind != LoadKind::Light
}

/// What would relieve the circuit of a breaker; nothing where no thing on it is known well enough.
#[must_use]
pub fn cure(house: &House, loaded: &Loaded<'_>, breaker: BreakerId) -> Option<Cure> {
    let rating = house.breakers.get(breaker)?.amps;
    let all = loaded.circuits();
    let circuit = all.iter().find(|c| c.breaker == breaker)?;
    let here = loaded.all.iter().filter(|d| d.breakers.contains(&breaker));
    let mut alone: Vec<AloneThen> = here.filter_map(|d| of(house, loaded, all, (breaker, rating), d)).collect();
    alone.sort_by(|a, b| b.must.cmp(&a.must).then(b.enough.cmp(&a.enough)).then(b.amps.0.total_cmp(&a.amps.0)));
    let first = alone.first()?;
    let not_together = if circuit.culprits.len() > 1 { circuit.culprits.clone() } else { Vec::new() };
    let said = said(first, circuit, &not_together);
    Some(Cure { breaker, not_together, said, alone })
}

fn of(
    house: &House,
    loaded: &Loaded<'_>,
    all: &[CircuitLoad],
    (breaker, rating): (BreakerId, Amps),
    d: &Drawing,
) -> Option<AloneThen> {
    let Drawn::Load(id) = d.thing else { return None };
    let load = house.loads.get(id).filter(|load| may(load))?;
    let point = house.points.get(load.point)?;
    let amps = d.amps.filter(|amps| amps.0 >= WORTH_A_CIRCUIT)?;
    let connected = loaded.hung.connected(load);
    let room = house.rooms.get(point.room).map_or("", |r| r.name.as_str());
    // Without a plate it is sized by what it is believed to draw.
    let plated = if load.has_plate() { load.clone() } else { Load { amps: Some(amps), ..load.clone() } };
    let without: Vec<Drawing> = loaded.all.iter().filter(|other| other.thing != d.thing).cloned().collect();
    let rest = circuits::circuits(house, &loaded.hung, &without);
    let rest = rest.iter().find(|c| c.breaker == breaker).map_or(Amps(0.0), |c| c.usual);
    Some(AloneThen {
        load: id,
        name: d.named(),
        amps,
        proven: d.proven,
        rating: plate::asks(&plated, connected)?.at(room, point.kind).usual,
        must: rules::wants_its_own(load),
        rest,
        enough: rest.0 <= CONTINUOUS_SHARE * rating.0,
        elsewhere: elsewhere(house, loaded, all, breaker, (point, amps)),
    })
}

/// An outlet of another circuit in the same room that carries what is plugged in here, with most to spare: in another room it would
/// be of no use, or on a cord.
fn elsewhere(
    house: &House,
    loaded: &Loaded<'_>,
    all: &[CircuitLoad],
    breaker: BreakerId,
    (point, amps): (&Point, Amps),
) -> Option<Elsewhere> {
    if point.kind != PointKind::Receptacle {
        return None;
    }
    let spare = |c: &CircuitLoad| CONTINUOUS_SHARE * c.rating.0 - c.usual.0 - amps.0;
    let proven = loaded.all.iter().filter(|d| d.proven && !d.breakers.contains(&breaker));
    let outlets = proven.filter_map(|d| {
        let [at] = d.breakers.as_slice() else { return None };
        let circuit = all.iter().find(|c| c.breaker == *at && !c.feeds_panel)?;
        let there = house.points.get(d.point)?;
        let near = there.room == point.room && there.kind == PointKind::Receptacle;
        let fits = near && there.volts == point.volts && spare(circuit) >= 0.0;
        // What has a circuit of its own keeps it.
        fits.then_some((there, circuit))
    });
    let (there, circuit) = outlets.max_by(|(_, a), (_, b)| spare(a).total_cmp(&spare(b)))?;
    let name = by_tags(house, std::slice::from_ref(&there.tag));
    Some(Elsewhere { point: there.id, name, said: carries(circuit) })
}

/// What a circuit carries before a thing comes to it.
#[must_use]
pub fn carries(circuit: &CircuitLoad) -> String {
    let (at, usual, rating, open) = (&circuit.at, circuit.usual.0, circuit.rating, not_counted(circuit));
    format!("{at}, which carries {usual:.1} A at the usual peak of {rating}{open}")
}

/// What no sum of a circuit holds.
fn not_counted(circuit: &CircuitLoad) -> String {
    if circuit.unknown.is_empty() {
        return String::new();
    }
    format!(", without {}, of which nobody said what draws there", circuit.unknown.join(", "))
}

fn said(first: &AloneThen, circuit: &CircuitLoad, not_together: &[String]) -> String {
    let why = if first.must { "the code wants it alone" } else { "it draws most here" };
    let mut said = format!(
        "{}, {:.1} A, gets a circuit of its own of {}: {why}. Then {:.1} A are left at the usual peak of {}{}{}.",
        first.name,
        first.amps.0,
        first.rating,
        first.rest.0,
        circuit.rating,
        not_counted(circuit),
        if first.enough { "" } else { ", still more than four fifths: more has to go" }
    );
    if !first.proven {
        said += &format!(" It is believed, not proven, to hang on {}: prove that first.", circuit.at);
    }
    if let Some(there) = &first.elsewhere {
        said += &format!(" Or without any work, plug it in elsewhere: {} on {}.", there.name, there.said);
    }
    if !not_together.is_empty() {
        said += &format!(" Until then not together: {}.", not_together.join(", "));
    }
    said
}
