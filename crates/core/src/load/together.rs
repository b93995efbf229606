//! May these run together? For any set of things: currents, shares of ratings, how long breakers hold, sums of legs; and
//! the largest sets that may.

use std::collections::BTreeSet;

use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

use crate::base::position::Leg;
use crate::base::units::Amps;
use crate::code::trip::{self, Holds};
use crate::house::{Breaker, BreakerId, House, Panel, PanelId};
use crate::load::circuits::CONTINUOUS_SHARE;
use crate::load::drawing::{Drawing, Drawn};
use crate::load::draws::NINETEEN_OF_TWENTY;
use crate::load::hung::Hung;
use crate::load::legs;
use crate::network;
use crate::plate;

/// What is asked about.
#[derive(Debug, Clone, Default, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct Set {
    /// What is to run at once.
    pub on: BTreeSet<Drawn>,
    /// The circuit of which the largest sets are wanted.
    #[serde(default)]
    pub breaker: Option<BreakerId>,
}

/// What several things at once come to.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
pub struct RunTogether {
    /// The breakers that carry any of it, those that feed panels too, the fullest first.
    pub circuits: Vec<TogetherOn>,
    /// The sums of legs, panel by panel.
    pub panels: Vec<TogetherLegs>,
    /// For the circuit that was asked about, sets that it carries and to which nothing could be added, the best first.
    pub sets: Vec<Vec<Drawn>>,
    /// What is in no sum: nothing is known of what it draws or of what feeds it.
    pub left_out: Vec<String>,
    /// What is believed, not proven, to hang where it was counted.
    pub unproven: Vec<String>,
    /// Whether they may, in words.
    pub said: String,
}

/// What several things come to on one breaker.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
pub struct TogetherOn {
    /// Which.
    pub breaker: BreakerId,
    /// Its panel's name.
    pub panel: String,
    /// Its poles.
    pub at: String,
    /// Its rating.
    pub rating: Amps,
    /// What its fullest pole carries,
    pub amps: Amps,
    /// within so much either way, nineteen times of twenty.
    pub plus_minus: Amps,
    /// What of it runs for three hours or more.
    pub continuous: Amps,
    /// The most that it may be, by what plates print where nothing was measured.
    pub at_most: Amps,
    /// How long it holds.
    pub holds: Holds,
}

/// What several things come to on the legs of a panel.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
pub struct TogetherLegs {
    /// The panel's name.
    pub panel: String,
    /// The rating of its main or of the breaker that feeds it.
    pub rating: Option<Amps>,
    /// Each leg, A first.
    pub legs: Vec<Amps>,
    /// The neutral.
    pub neutral: Amps,
}

/// Things that are tried in sets: what draws less is in every set.
const TRIED: usize = 14;
const LITTLE: f64 = 0.5;
/// Sets that are told.
const SETS: usize = 4;

/// What a set of things at once comes to.
#[must_use]
pub fn together(house: &House, hung: &Hung<'_>, all: &[Drawing], set: &Set) -> RunTogether {
    let on: Vec<&Drawing> = all.iter().filter(|d| set.on.contains(&d.thing)).collect();
    let counted: Vec<&Drawing> = on.iter().filter(|d| d.amps.is_some() && !d.breakers.is_empty()).copied().collect();
    let named = |d: &&Drawing| d.named();
    let panels = house.panels_in_order();
    let breakers = panels.iter().flat_map(|p| house.breakers_of(p.id));
    let mut circuits: Vec<TogetherOn> = breakers
        .filter_map(|b| {
            let there: Vec<&Drawing> = counted.iter().filter(|d| hung.is_behind(b.id, &d.breakers)).copied().collect();
            let panel = house.panels.get(b.panel)?;
            let (amps, error, continuous) = fullest_pole(b.panel, b.at.iter().map(|p| panel.leg(*p)), &there);
            (!there.is_empty()).then(|| TogetherOn {
                breaker: b.id,
                panel: panel.name.clone(),
                at: b.at_text(),
                rating: b.amps,
                amps: Amps(amps),
                plus_minus: Amps(NINETEEN_OF_TWENTY * error),
                continuous: Amps(continuous),
                at_most: Amps(undiscounted(house, panel, b, &there).max(amps + NINETEEN_OF_TWENTY * error)),
                holds: trip::holds(b.amps, Amps(amps)),
            })
        })
        .collect();
    circuits.sort_by(|a, b| b.holds.share.total_cmp(&a.holds.share));
    let panels = panels.iter().map(|panel| {
        let legs = &[Leg::A, Leg::B, Leg::C][..usize::from(panel.supply.legs())];
        let sum = |leg: &Leg, one: bool| {
            counted.iter().filter(|d| !one || !d.volts.is_leg_to_leg()).map(|d| on_leg(d, panel.id, *leg)).sum::<f64>()
        };
        let to_neutral: Vec<f64> = legs.iter().map(|leg| sum(leg, true)).collect();
        TogetherLegs {
            panel: panel.name.clone(),
            rating: legs::rating(house, panel),
            legs: legs.iter().map(|leg| Amps(sum(leg, false))).collect(),
            neutral: Amps(network::neutral_of(panel.supply, &to_neutral)),
        }
    });
    let mut told = RunTogether {
        panels: panels.collect(),
        sets: set.breaker.map_or_else(Vec::new, |b| largest(house, hung, all, b)),
        left_out: on.iter().filter(|d| d.amps.is_none() || d.breakers.is_empty()).map(named).collect(),
        unproven: counted.iter().filter(|d| !d.proven).map(named).collect(),
        said: String::new(),
        circuits,
    };
    told.said = said(&told);
    told
}

/// The fullest leg of a breaker, where what nobody measured draws all that its plate prints: a yes never rests on less.
fn undiscounted(house: &House, panel: &Panel, breaker: &Breaker, there: &[&Drawing]) -> f64 {
    let on = |leg: Leg| there.iter().filter(move |d| on_leg(d, panel.id, leg) > 0.0);
    let of_leg = |leg: Leg| on(leg).map(|d| at_most(house, d)).sum::<f64>();
    breaker.at.iter().map(|p| of_leg(panel.leg(*p))).fold(0.0, f64::max)
}

/// The most that a thing draws: what its plate prints, where nobody measured it and that is more.
fn at_most(house: &House, d: &Drawing) -> f64 {
    let load = if let Drawn::Load(id) = d.thing { house.loads.get(id) } else { None };
    let printed = load.filter(|_| !d.measured).and_then(|load| plate::current(load, d.volts));
    d.amps.map_or(0.0, |a| a.0).max(printed.map_or(0.0, |a| a.0))
}

/// What a thing puts on a leg of a panel. What may be on either leg counts on both: it is on one of them.
fn on_leg(d: &Drawing, panel: PanelId, leg: Leg) -> f64 {
    let there = d.ways.iter().any(|way| way.panel == panel && way.legs.contains(&leg));
    if there { d.amps.map_or(0.0, |a| a.0) } else { 0.0 }
}

/// Of a breaker's legs the fullest: its current, the standard error of that, and what of it is continuous.
fn fullest_pole(panel: PanelId, legs: impl Iterator<Item = Leg>, on: &[&Drawing]) -> (f64, f64, f64) {
    let of_leg = |leg: Leg| {
        let there: Vec<&&Drawing> = on.iter().filter(|d| on_leg(d, panel, leg) > 0.0).collect();
        let amps: f64 = there.iter().map(|d| on_leg(d, panel, leg)).sum();
        let error = there.iter().map(|d| d.error.0 * d.error.0).sum::<f64>().sqrt();
        let continuous = there.iter().filter(|d| d.continuous).map(|d| on_leg(d, panel, leg)).sum();
        (amps, error, continuous)
    };
    legs.map(of_leg).max_by(|a, b| a.0.total_cmp(&b.0)).unwrap_or((0.0, 0.0, 0.0))
}

/// Sets that a circuit carries for ever and to which nothing could be added; first those of what draws most, most usefully.
fn largest(house: &House, hung: &Hung<'_>, all: &[Drawing], breaker: BreakerId) -> Vec<Vec<Drawn>> {
    let Some(breaker) = house.breakers.get(breaker) else { return Vec::new() };
    let mut on: Vec<&Drawing> =
        all.iter().filter(|d| d.amps.is_some() && hung.is_behind(breaker.id, &d.breakers)).collect();
    // A set rests on no more hope than a yes does.
    let amps = |d: &&Drawing| at_most(house, d);
    on.sort_by(|a, b| amps(b).total_cmp(&amps(a)));
    let big = on.iter().filter(|d| amps(d) >= LITTLE).count().min(TRIED);
    let (tried, always) = on.split_at(big);
    let room = breaker.amps.0 - always.iter().map(amps).sum::<f64>();
    // What runs for hours may take four fifths only (NEC 210.20(A)): it counts a quarter more.
    let weight = |d: &&Drawing| if d.continuous { amps(d) / CONTINUOUS_SHARE } else { amps(d) };
    let weights: Vec<f64> = tried.iter().map(weight).collect();
    let sum = |set: usize| (0..big).filter(|i| set >> i & 1 == 1).map(|i| weights[i]).sum::<f64>();
    let fits = |set: usize| sum(set) <= room;
    let is_largest = |set: &usize| fits(*set) && (0..big).all(|i| set >> i & 1 == 1 || !fits(set | 1 << i));
    let mut sets: Vec<usize> = (0..1_usize << big).filter(is_largest).collect();
    sets.sort_by(|a, b| {
        (b.count_ones(), sum(*b)).partial_cmp(&(a.count_ones(), sum(*a))).unwrap_or(std::cmp::Ordering::Equal)
    });
    sets.truncate(SETS);
    let things = |set: &usize| {
        let chosen = tried.iter().enumerate().filter(|(i, _)| set >> i & 1 == 1).map(|(_, d)| d.thing);
        chosen.chain(always.iter().map(|d| d.thing)).collect()
    };
    sets.iter().map(things).collect()
}

fn said(t: &RunTogether) -> String {
    let mut parts = Vec::new();
    let called = |c: &TogetherOn| if t.panels.len() > 1 { format!("{} {}", c.panel, c.at) } else { c.at.clone() };
    let over: Vec<&TogetherOn> = t.circuits.iter().filter(|c| !c.holds.for_ever).collect();
    for c in &over {
        parts.push(format!("No: {:.1} A on {} ({} A), {}", c.amps.0, called(c), c.rating.0, c.holds.said));
    }
    let long = t.circuits.iter().filter(|c| c.holds.for_ever && c.continuous.0 > CONTINUOUS_SHARE * c.rating.0);
    for c in long {
        parts.push(format!(
            "Not for hours: {:.1} A on {} run on, more than four fifths of its {} A",
            c.continuous.0,
            called(c),
            c.rating.0
        ));
    }
    let near = t.circuits.iter().filter(|c| c.holds.for_ever && c.at_most.0 > c.rating.0);
    for c in near {
        parts.push(format!(
            "Not sure: {:.1} A on {} ({} A), but it may be as much as {:.1} A: measure",
            c.amps.0,
            called(c),
            c.rating.0,
            c.at_most.0
        ));
    }
    for p in &t.panels {
        let most = p.legs.iter().map(|l| l.0).fold(0.0, f64::max);
        if let Some(rating) = p.rating.filter(|r| most > r.0) {
            parts.push(format!("No: {most:.0} A on a leg of {} ({} A)", p.panel, rating.0));
        }
    }
    if !t.left_out.is_empty() {
        parts.push(format!("Not known, and not counted: {}", t.left_out.join(", ")));
    }
    if parts.is_empty() && !t.circuits.is_empty() {
        parts.push("Yes, as far as known: every breaker holds that".into());
    }
    if !t.unproven.is_empty() {
        parts.push(format!("believed, not proven, to hang there: {}", t.unproven.join(", ")));
    }
    parts.join(". ")
}
