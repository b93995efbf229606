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
use crate::load::drawing::{self, Drawing, Drawn};
use crate::load::draws::NINETEEN_OF_TWENTY;
use crate::load::hung::Hung;
use crate::load::legs;
use crate::network;

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
    /// The most that it may be: the upper end of what is known of the sum, and by what plates print where nothing was measured.
    pub at_most: Amps,
    /// The same of what runs for three hours or more; a heater by its plate.
    pub continuous_at_most: Amps,
    /// What one reading would settle it, where it is not sure: of a thing, or of all of it at once.
    pub measure: Option<String>,
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
    /// The most that the fullest of them may be, by what is known of it and by plates.
    pub at_most: Amps,
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
            let pole = fullest_pole(panel, b, &there)?;
            Some(TogetherOn {
                breaker: b.id,
                panel: panel.name.clone(),
                at: b.at_text(),
                rating: b.amps,
                amps: Amps(pole.amps),
                plus_minus: Amps(NINETEEN_OF_TWENTY * pole.error),
                continuous: Amps(pole.continuous),
                at_most: Amps(pole.at_most),
                continuous_at_most: Amps(pole.continuous_at_most),
                measure: pole.measure,
                holds: trip::holds(b.amps, Amps(pole.amps)),
            })
        })
        .collect();
    circuits.sort_by(|a, b| b.holds.share.total_cmp(&a.holds.share));
    let panels = panels.iter().map(|panel| {
        let legs = &[Leg::A, Leg::B, Leg::C][..usize::from(panel.supply.legs())];
        let sum = |leg: &Leg, one: bool| {
            let there: Vec<&Drawing> = counted.iter().filter(|d| !one || !d.volts.is_leg_to_leg()).copied().collect();
            drawing::on_leg(panel, *leg, &once(&there))
        };
        let to_neutral: Vec<f64> = legs.iter().map(|leg| sum(leg, true)).collect();
        let at_most = |leg: &Leg| {
            let there: Vec<&Drawing> = counted.iter().filter(|d| on_leg(d, panel.id, *leg) > 0.0).copied().collect();
            drawing::upper(&there)
        };
        TogetherLegs {
            panel: panel.name.clone(),
            rating: legs::rating(house, panel),
            legs: legs.iter().map(|leg| Amps(sum(leg, false))).collect(),
            at_most: Amps(legs.iter().map(at_most).fold(0.0, f64::max)),
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

/// The fullest pole of a breaker.
struct Fullest {
    amps: f64,
    error: f64,
    continuous: f64,
    at_most: f64,
    continuous_at_most: f64,
    measure: Option<String>,
}

fn once<'a>(all: &[&'a Drawing]) -> Vec<(&'a Drawing, f64)> {
    all.iter().map(|d| (*d, 1.0)).collect()
}

fn fullest_pole(panel: &Panel, breaker: &Breaker, on: &[&Drawing]) -> Option<Fullest> {
    let of_leg = |leg: Leg| {
        let there: Vec<&Drawing> = on.iter().filter(|d| on_leg(d, panel.id, leg) > 0.0).copied().collect();
        let amps = drawing::on_leg(panel, leg, &once(&there));
        let lasting: Vec<&Drawing> = there.iter().filter(|d| d.continuous).copied().collect();
        let (rating, fifths) = (breaker.amps.0 + ROUNDING, CONTINUOUS_SHARE * breaker.amps.0 + ROUNDING);
        let error = drawing::error_of(&once(&there));
        Fullest {
            amps,
            error,
            continuous: drawing::on_leg(panel, leg, &once(&lasting)),
            at_most: drawing::upper(&there).max(amps),
            continuous_at_most: drawing::upper(&lasting),
            measure: settled_by(&there, rating).or_else(|| settled_by(&lasting, fifths)),
        }
    };
    let poles = breaker.at.iter().map(|p| of_leg(panel.leg(*p))).filter(|_| !on.is_empty());
    poles.max_by(|a, b| a.at_most.total_cmp(&b.at_most))
}

/// What to measure where a sum may pass a limit: the thing that is least known, if it keeps within it once that is; all at once otherwise,
/// and where each was measured.
fn settled_by(there: &[&Drawing], limit: f64) -> Option<String> {
    if drawing::upper(there) <= limit {
        return None;
    }
    let believed = |d: &Drawing| d.amps.unwrap_or(Amps(0.0));
    let open = |d: &Drawing| d.most.0 - believed(d).0;
    let all_at_once = || Some("all of it at once".to_owned());
    let not_measured = there.iter().enumerate().filter(|(_, d)| !d.measured);
    let Some((at, least_known)) = not_measured.max_by(|a, b| open(a.1).total_cmp(&open(b.1))) else {
        return all_at_once();
    };
    // Whatever is read, no less than its plate's least is counted.
    let most = Amps(believed(least_known).0.max(least_known.least.0));
    let known = Drawing { error: Amps(0.0), most, tied: None, ..(*least_known).clone() };
    let mut then = there.to_vec();
    then[at] = &known;
    if drawing::upper(&then) <= limit { Some(least_known.named()) } else { all_at_once() }
}

/// What a thing puts on a leg of a panel. What may be on either leg counts on both: it is on one of them.
fn on_leg(d: &Drawing, panel: PanelId, leg: Leg) -> f64 {
    let there = d.ways.iter().any(|way| way.panel == panel && way.legs.contains(&leg));
    if there { d.amps.map_or(0.0, |a| a.0) } else { 0.0 }
}

/// Sets that a circuit carries for ever and to which nothing could be added; first those of what draws most, most usefully.
fn largest(house: &House, hung: &Hung<'_>, all: &[Drawing], breaker: BreakerId) -> Vec<Vec<Drawn>> {
    let Some(breaker) = house.breakers.get(breaker) else { return Vec::new() };
    let mut on: Vec<&Drawing> =
        all.iter().filter(|d| d.amps.is_some() && hung.is_behind(breaker.id, &d.breakers)).collect();
    // A set rests on no more hope than a yes does.
    let amps = |d: &&Drawing| d.most.0;
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
    // Together they may be more than each by itself: where a reading of them showed it.
    let chosen = |set: &usize| {
        let some = tried.iter().enumerate().filter(|(i, _)| set >> i & 1 == 1).map(|(_, d)| *d);
        some.chain(always.iter().copied()).collect::<Vec<&Drawing>>()
    };
    let holds = |set: &Vec<&Drawing>| drawing::upper(set) <= breaker.amps.0;
    let told = sets.iter().map(chosen).filter(holds).take(SETS);
    told.map(|set| set.into_iter().map(|d| d.thing).collect()).collect()
}

/// What is within so much of the limit is not worth a reading: it is over it by its plate. (common practice)
const NEAR: f64 = 1.0;
/// Plates give whole watts.
const ROUNDING: f64 = 1e-6;

fn said(t: &RunTogether) -> String {
    let mut parts = Vec::new();
    let called = |c: &TogetherOn| if t.panels.len() > 1 { format!("{} {}", c.panel, c.at) } else { c.at.clone() };
    let over: Vec<&TogetherOn> = t.circuits.iter().filter(|c| !c.holds.for_ever).collect();
    for c in &over {
        parts.push(format!("No: {:.1} A on {} ({} A), {}", c.amps.0, called(c), c.rating.0, c.holds.said));
    }
    let fifths = |c: &TogetherOn| CONTINUOUS_SHARE * c.rating.0 + ROUNDING;
    let asks =
        |c: &TogetherOn| c.measure.as_ref().map_or_else(|| "measure".to_owned(), |what| format!("measure {what}"));
    for c in t.circuits.iter().filter(|c| c.holds.for_ever) {
        let (at, rating) = (called(c), c.rating.0);
        if c.continuous.0 > fifths(c)
            || c.continuous_at_most.0 > fifths(c) && c.continuous_at_most.0 - c.continuous.0 < NEAR
        {
            let most = if c.continuous.0 > fifths(c) { c.continuous.0 } else { c.continuous_at_most.0 };
            parts.push(format!("Not for hours: {most:.1} A on {at} run on, more than four fifths of its {rating} A"));
        } else if c.continuous_at_most.0 > fifths(c) {
            let (amps, most) = (c.continuous.0, c.continuous_at_most.0);
            parts.push(format!(
                "Not sure for hours: {amps:.1} A on {at} ({rating} A) run on, but it may be as much as {most:.1} A: {}",
                asks(c)
            ));
        }
        if c.at_most.0 > rating + ROUNDING {
            let (amps, most) = (c.amps.0, c.at_most.0);
            parts.push(format!(
                "Not sure: {amps:.1} A on {at} ({rating} A), but it may be as much as {most:.1} A: {}",
                asks(c)
            ));
        }
    }
    for p in &t.panels {
        let most = p.legs.iter().map(|l| l.0).fold(0.0, f64::max);
        let Some(rating) = p.rating else { continue };
        if most > rating.0 {
            parts.push(format!("No: {most:.0} A on a leg of {} ({} A)", p.panel, rating.0));
        } else if p.at_most.0 > rating.0 + ROUNDING {
            parts.push(format!(
                "Not sure: {most:.0} A on a leg of {} ({} A), but it may be as much as {:.0} A: measure what comes in",
                p.panel, rating.0, p.at_most.0
            ));
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
