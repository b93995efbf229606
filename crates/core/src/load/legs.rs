//! What each leg and the neutral of a panel carry, and what moving one breaker to another leg would bring.

use jiff::Timestamp;
use serde::Serialize;
use utoipa::ToSchema;

use crate::base::Said;
use crate::base::position::{Leg, Supply};
use crate::base::units::Amps;
use crate::house::{Conductor, House, MeasuredAt, Panel, PanelId, Quantity};
use crate::load::drawing::{self, Drawing};
use crate::load::week::{Runner, Week};
use crate::network;

/// The currents that come into a panel.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
pub struct PanelLegs {
    /// The panel.
    pub id: PanelId,
    /// Its name.
    pub panel: String,
    /// The rating of its main or of the breaker that feeds it.
    pub rating: Option<Amps>,
    /// Leg A at the usual peak.
    #[serde(rename = "A")]
    pub a: Amps,
    /// Leg B at the usual peak.
    #[serde(rename = "B")]
    pub b: Amps,
    /// Leg C at the usual peak, of three phases.
    #[serde(rename = "C", skip_serializing_if = "Option::is_none")]
    pub c: Option<Amps>,
    /// The neutral, at the most uneven of the usual.
    pub neutral: Amps,
    /// Each leg in full.
    pub each: Vec<LegLoad>,
    /// The neutral at the last reading.
    pub neutral_read: Option<LegRead>,
    /// By how much the legs differ, as a share of their mean, at the usual peak.
    pub uneven: f64,
    /// Single breakers that would even it out on another leg, the best first.
    pub moves: Vec<LegMove>,
    /// Points whose currents are in none of this: nothing is known of what draws there, or of what feeds it.
    pub unknown: usize,
    /// What to make of it, in words.
    pub said: String,
}

/// One leg.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
pub struct LegLoad {
    /// Which.
    pub leg: Leg,
    /// What may run at any moment of a quiet night.
    pub base: Amps,
    /// What it reaches every other week at least.
    pub usual: Amps,
    /// All of it at once.
    pub worst: Amps,
    /// Its last reading.
    pub read: Option<LegRead>,
}

/// A current that was read.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, ToSchema)]
pub struct LegRead {
    /// How much.
    pub amps: Amps,
    /// When.
    #[schema(value_type = String, format = DateTime)]
    pub time: Timestamp,
}

/// A breaker on another leg.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
pub struct LegMove {
    /// The breaker's poles.
    pub at: String,
    /// To which leg.
    pub to: Leg,
    /// By how much the legs would differ then, as a share of their mean.
    pub uneven: f64,
    /// That in words.
    pub said: String,
}

/// Legs that differ by more than this share are worth evening out. (common practice)
const UNEVEN: f64 = 0.2;
/// Under this difference, in amperes, there is nothing to even out, whatever share it is: no wire and no breaker notices.
/// (common practice)
const NOTICED: f64 = 5.0;
/// Moves that are told.
const MOVES: usize = 3;

/// What comes into each panel.
#[must_use]
pub fn legs(house: &House, all: &[Drawing]) -> Vec<PanelLegs> {
    house.panels_in_order().into_iter().map(|panel| of_panel(house, panel, all)).collect()
}

/// What runs for hours in a panel, on the leg that has most of it.
#[must_use]
pub fn lasting(panel: &Panel, all: &[Drawing]) -> Amps {
    let on = |leg| runners(panel.id, leg, all.iter().filter(|d| d.continuous)).iter().map(|r| r.amps).sum();
    Amps([Leg::A, Leg::B, Leg::C].into_iter().map(on).fold(0.0, f64::max))
}

/// What may come into a panel: the smaller of its main and of the breaker that feeds it; nothing where neither is known.
#[must_use]
pub fn rating(house: &House, panel: &Panel) -> Option<Amps> {
    let feeder = panel.fed_by.and_then(|f| house.breakers.get(f)).map(|b| b.amps);
    panel.main.into_iter().chain(feeder).reduce(|a, b| if b < a { b } else { a })
}

fn of_panel(house: &House, panel: &Panel, all: &[Drawing]) -> PanelLegs {
    let those = &[Leg::A, Leg::B, Leg::C][..usize::from(panel.supply.legs())];
    let each: Vec<LegLoad> = those.iter().map(|leg| leg_load(house, panel, *leg, all)).collect();
    let usual: Vec<f64> = each.iter().map(|l| l.usual.0).collect();
    let to_neutral = |leg: &Leg, base: bool| {
        let of_one =
            all.iter().filter(|d| !d.volts.is_leg_to_leg() && (!base || d.habit == crate::house::Habit::Always));
        let runners = runners(panel.id, *leg, of_one);
        if base { runners.iter().map(|r| r.amps * r.share).sum() } else { Week::of(&runners).usual_peak() }
    };
    let peaks: Vec<f64> = those.iter().map(|leg| to_neutral(leg, false)).collect();
    let quiet: Vec<f64> = those.iter().map(|leg| to_neutral(leg, true)).collect();
    let uneven = unevenness(&usual);
    // What nobody knows a breaker of may hang in any panel.
    let here = |d: &&Drawing| d.ways.iter().any(|way| way.panel == panel.id);
    let unknown = all.iter().filter(|d| d.breakers.is_empty() || (d.amps.is_none() && here(d))).count();
    let mut told = PanelLegs {
        id: panel.id,
        panel: panel.name.clone(),
        rating: rating(house, panel),
        a: Amps(usual[0]),
        b: Amps(usual.get(1).copied().unwrap_or(0.0)),
        c: usual.get(2).map(|c| Amps(*c)),
        neutral: Amps(neutral(panel.supply, &peaks, &quiet)),
        neutral_read: read(house, panel.id, Conductor::N),
        uneven,
        moves: moves(house, panel, &usual, all),
        unknown,
        said: String::new(),
        each,
    };
    told.said = said(&told);
    told
}

/// The neutral where any of the legs are at their peaks and the others quiet: the most that it comes to.
fn neutral(supply: Supply, peaks: &[f64], quiet: &[f64]) -> f64 {
    let mut most = 0.0_f64;
    for some in 0..1_usize << peaks.len() {
        let at: Vec<f64> = (0..peaks.len()).map(|i| if some >> i & 1 == 1 { peaks[i] } else { quiet[i] }).collect();
        most = most.max(network::neutral_of(supply, &at));
    }
    most
}

fn runners<'a>(panel: PanelId, leg: Leg, of: impl Iterator<Item = &'a Drawing>) -> Vec<Runner> {
    let runner = |d: &Drawing| {
        let way = d.ways.iter().find(|way| way.panel == panel && way.legs.contains(&leg))?;
        let share = if way.either { 1.0 / way.legs.len() as f64 } else { 1.0 };
        Some(Runner { amps: d.amps?.0, error: d.error.0, uses: d.uses, share })
    };
    of.filter_map(runner).collect()
}

fn leg_load(house: &House, panel: &Panel, leg: Leg, all: &[Drawing]) -> LegLoad {
    let on = runners(panel.id, leg, all.iter());
    let here =
        all.iter().filter(|d| d.amps.is_some() && d.ways.iter().any(|w| w.panel == panel.id && w.legs.contains(&leg)));
    let whole: Vec<(&Drawing, f64)> = here.zip(&on).map(|(d, runner)| (d, runner.share)).collect();
    let in_phase = share_in_phase(panel, leg, &whole);
    let sum = |which: &dyn Fn(&Drawing) -> bool| {
        let amps = whole.iter().filter(|(d, _)| which(d)).map(|(d, _)| d.amps.map_or(0.0, |a| a.0));
        Amps(amps.sum::<f64>().abs())
    };
    let conductor = [Conductor::A, Conductor::B, Conductor::C][leg as usize];
    let worst = Amps(in_phase * sum(&|_| true).0);
    LegLoad {
        leg,
        base: sum(&|d| d.habit == crate::house::Habit::Always),
        usual: Amps((in_phase * Week::of(&on).usual_peak()).min(worst.0)),
        worst,
        read: read(house, panel.id, conductor),
    }
}

/// What all of it comes to as phasors, of what it comes to as plain numbers: on a wye less, where some goes from leg to leg.
fn share_in_phase(panel: &Panel, leg: Leg, all: &[(&Drawing, f64)]) -> f64 {
    let plain: f64 = all.iter().map(|(d, share)| share * d.amps.map_or(0.0, |a| a.0)).sum();
    if plain > 0.0 { drawing::on_leg(panel, leg, all) / plain } else { 1.0 }
}

fn read(house: &House, panel: PanelId, of: Conductor) -> Option<LegRead> {
    let here = house.readings.iter().filter(|r| {
        let at = matches!(r.place, MeasuredAt::Main { panel: p } | MeasuredAt::Feed { panel: p } | MeasuredAt::Bus { panel: p } if p == panel);
        at && r.quantity == Quantity::Amps { of: Some(of) }
    });
    here.max_by_key(|r| (r.time, r.id)).map(|r| LegRead { amps: Amps(r.value), time: r.time })
}

/// By how much the largest differs from the smallest, as a share of the mean.
fn unevenness(legs: &[f64]) -> f64 {
    let (most, least) = (legs.iter().copied().fold(0.0, f64::max), legs.iter().copied().fold(f64::MAX, f64::min));
    let mean = legs.iter().sum::<f64>() / legs.len() as f64;
    if mean > 0.0 { (most - least) / mean } else { 0.0 }
}

/// Single poles of the fullest leg, tried on the emptiest: their usual peaks move along.
fn moves(house: &House, panel: &Panel, usual: &[f64], all: &[Drawing]) -> Vec<LegMove> {
    if !is_uneven(usual) {
        return Vec::new();
    }
    let index = |pick: fn(f64, f64) -> bool| {
        (0..usual.len()).reduce(|best, i| if pick(usual[i], usual[best]) { i } else { best }).unwrap_or(0)
    };
    let (full, empty) = (index(|a, b| a > b), index(|a, b| a < b));
    let now = unevenness(usual);
    let legs = [Leg::A, Leg::B, Leg::C];
    let single = |b: &&&crate::house::Breaker| b.at.len() == 1 && panel.leg(b.at[0]) as usize == full;
    let breakers = house.breakers_of(panel.id);
    let tried = breakers.iter().filter(single).filter_map(|b| {
        let on = all.iter().filter(|d| d.breakers.contains(&b.id));
        let peak = Week::of(&runners(panel.id, legs[full], on)).usual_peak();
        let mut after = usual.to_vec();
        after[full] -= peak;
        after[empty] += peak;
        let uneven = unevenness(&after);
        (peak > 0.0 && uneven < now).then(|| LegMove {
            at: b.at_text(),
            to: legs[empty],
            uneven,
            said: format!(
                "{} to a place on leg {}: {} from {:.0} to {:.0} A, {} from {:.0} to {:.0} A",
                b.at_text(),
                legs[empty].said(),
                legs[full].said(),
                usual[full],
                after[full],
                legs[empty].said(),
                usual[empty],
                after[empty]
            ),
        })
    });
    let mut moves: Vec<LegMove> = tried.collect();
    moves.sort_by(|a, b| a.uneven.total_cmp(&b.uneven));
    moves.truncate(MOVES);
    moves
}

/// Worth evening out: by its share, and by what it comes to.
fn is_uneven(usual: &[f64]) -> bool {
    let most = usual.iter().copied().fold(0.0, f64::max);
    let least = usual.iter().copied().fold(f64::MAX, f64::min);
    unevenness(usual) > UNEVEN && most - least >= NOTICED
}

fn said(p: &PanelLegs) -> String {
    let mut parts = Vec::new();
    let over: Vec<&str> =
        p.each.iter().filter(|l| p.rating.is_some_and(|r| l.usual > r)).map(|l| l.leg.said()).collect();
    if !over.is_empty() {
        parts.push(format!("Leg {} passes the rating in usual weeks", over.join(" and ")));
    } else if is_uneven(&p.each.iter().map(|l| l.usual.0).collect::<Vec<_>>()) {
        parts.push(format!(
            "The legs differ by {:.0} % of their mean: usually worth evening out above 20 %",
            100.0 * p.uneven
        ));
    } else {
        parts.push("The legs are even, as far as known".into());
    }
    if p.unknown > 0 {
        parts.push(format!(
            "{} points are not counted: nothing is known of what draws there, or of what feeds them",
            p.unknown
        ));
    }
    parts.join("; ")
}
