//! The standard method: NEC 220 part III (2023, values from memory).

use super::household::{Household, HouseholdItem};
use super::{Ledger, LegCarries, LoadMethod, Sheet, whole};
use crate::base::position::Leg;
use crate::base::units::Amps;
use crate::base::{Invalid, Said};
use crate::house::LoadKind;

/// VA a square foot for lights and receptacles, and VA a circuit. [pub: NEC 220.41, 220.52]
pub(super) const A_SQUARE_FOOT: f64 = 3.0;
pub(super) const A_CIRCUIT: f64 = 1500.0;
/// The first part counts whole, the next at 35 %, the rest at a quarter. [pub: NEC 220.45]
const WHOLE: f64 = 3000.0;
const NEXT: f64 = 120_000.0;
/// Four or more appliances count at three quarters. [pub: NEC 220.53]
const MANY: usize = 4;
const MANY_COUNT: f64 = 0.75;
/// [pub: NEC 220.54]
const DRYER: f64 = 5000.0;
/// [pub: NEC 220.57]
const CHARGER: f64 = 7200.0;
/// Of the neutral of ranges and dryers. [pub: NEC 220.61(B)]
const NEUTRAL: f64 = 0.7;

pub(super) fn sheet(of: &Household) -> Result<Sheet, Invalid> {
    let mut work = Ledger::new(of);
    let general = general(of, &mut work)?;
    appliances(of, &mut work);
    let dryer = of.items.iter().filter(|i| i.kind == LoadKind::Dryer).map(|i| i.va.max(DRYER)).sum::<f64>();
    work.line("dryer, 5000 VA at least", dryer, "NEC 220.54");
    let cooking = cooking(&of.items);
    work.line("ranges, ovens and cooktops by the demand table", cooking, "NEC 220.55, table, column C and note 1");
    climate(of, &mut work);
    let chargers = of.items.iter().filter(|i| i.kind == LoadKind::CarCharger).map(|i| i.va.max(CHARGER)).sum();
    work.line("car charging, 7200 VA at least", chargers, "NEC 220.57");
    // Up to here without motors' quarter: that is each leg's own.
    let all = work.sum();
    let motor = of.items.iter().filter(|i| i.motor).map(|i| i.va).fold(0.0, f64::max);
    work.line("a quarter of the largest motor", QUARTER * motor, "NEC 220.50, 430.24");
    let things = one_leg(of);
    let balanced = (all - things.iter().map(|thing| thing.amps * ONE_LEG).sum::<f64>()) / of.volts;
    let sums = |things: &[OneLeg<'_>]| on_legs(of, things, balanced);
    // What nobody knows the leg of is on the one where it is worst.
    let worst = legs_of(of).iter().map(|leg| settled(&things, |_| *leg));
    let worst = worst.max_by(|a, b| fullest(&sums(a)).total_cmp(&fullest(&sums(b)))).unwrap_or_default();
    let legs = sums(&worst);
    let neutral = (general + NEUTRAL * (cooking + dryer)) / of.volts + opposite(&legs, &worst);
    let unknown: Vec<&str> = things.iter().filter(|thing| thing.leg.is_none()).map(|thing| thing.name).collect();
    if !unknown.is_empty() {
        let even = fullest(&sums(&evenly(of, &things)));
        work.notes.push(format!(
            "On which leg is not proven, so all counted on one: {}. Spread as evenly as can be it is {} A: trace them",
            unknown.join(", "),
            whole(even)
        ));
    }
    if !things.is_empty() {
        let said: Vec<String> = legs.iter().map(|l| format!("{} {} A", l.leg.said(), whole(l.amps))).collect();
        work.notes
            .push(format!("By leg: {}; the fullest counts, with a quarter of its own largest motor", said.join(", ")));
    }
    let amps = fullest(&legs).max(balanced);
    let legs = legs.into_iter().map(|l| LegCarries { leg: l.leg, amps: Amps(l.amps) }).collect();
    Ok(Sheet { legs, ..work.carried(LoadMethod::Standard, amps, Some(neutral)) })
}

/// Of a leg to neutral. [def]
const ONE_LEG: f64 = 120.0;
/// [pub: NEC 220.50, 430.24]
const QUARTER: f64 = 0.25;

/// Something made for one leg that counts by its plate.
#[derive(Clone, Copy)]
struct OneLeg<'a> {
    name: &'a str,
    leg: Option<Leg>,
    amps: f64,
    motor: bool,
}

/// A leg with what stands on it.
struct LegSum {
    leg: Leg,
    amps: f64,
}

fn one_leg<'a>(of: &'a Household) -> Vec<OneLeg<'a>> {
    let share = if fastened(of).count() >= MANY { MANY_COUNT } else { 1.0 };
    let counted = climate_counted(of).1;
    let of_climate = |i: &HouseholdItem| is_climate(i) && counted(i);
    let here = of.items.iter().filter(|i| i.to_neutral && (!own_line(i) || of_climate(i)));
    let thing = |i: &'a HouseholdItem| {
        let share = if own_line(i) { 1.0 } else { share };
        OneLeg { name: &i.name, leg: i.leg, amps: i.va * share / ONE_LEG, motor: i.motor }
    };
    here.map(thing).collect()
}

fn legs_of(of: &Household) -> &'static [Leg] {
    const ALL: [Leg; 3] = [Leg::A, Leg::B, Leg::C];
    &ALL[..usize::from(of.legs).min(ALL.len())]
}

fn fullest(legs: &[LegSum]) -> f64 {
    legs.iter().map(|l| l.amps).fold(0.0, f64::max)
}

/// The same with a leg for each that has none.
fn settled<'a>(things: &[OneLeg<'a>], mut on: impl FnMut(&OneLeg<'a>) -> Leg) -> Vec<OneLeg<'a>> {
    things.iter().map(|thing| OneLeg { leg: Some(thing.leg.unwrap_or_else(|| on(thing))), ..*thing }).collect()
}

/// The largest first, each on the leg that has least so far.
fn evenly<'a>(of: &Household, things: &[OneLeg<'a>]) -> Vec<OneLeg<'a>> {
    let mut things = things.to_vec();
    things.sort_by(|a, b| b.amps.total_cmp(&a.amps));
    let known = |leg: &Leg| things.iter().filter(|thing| thing.leg == Some(*leg)).map(|thing| thing.amps).sum();
    let mut sums: Vec<(Leg, f64)> = legs_of(of).iter().map(|leg| (*leg, known(leg))).collect();
    settled(&things, |thing| {
        let Some(least) = sums.iter_mut().min_by(|a, b| a.1.total_cmp(&b.1)) else { return Leg::A };
        least.1 += thing.amps;
        least.0
    })
}

/// What each leg carries: what is even, what is on it, and a quarter of its largest motor. [pub: NEC Annex D1(b)]
fn on_legs(of: &Household, things: &[OneLeg<'_>], balanced: f64) -> Vec<LegSum> {
    let both = of.items.iter().filter(|i| i.motor && !i.to_neutral).map(|i| i.va / of.volts).fold(0.0, f64::max);
    let sum = |leg: &Leg| {
        let here = || things.iter().filter(|thing| thing.leg == Some(*leg));
        let motor = here().filter(|thing| thing.motor).map(|thing| thing.amps).fold(both, f64::max);
        LegSum { leg: *leg, amps: balanced + here().map(|thing| thing.amps).sum::<f64>() + QUARTER * motor }
    };
    legs_of(of).iter().map(sum).collect()
}

/// What of the things of one leg comes back over the neutral: of each two that stand opposite the larger, since one may run
/// without the other, and the quarter of the fullest leg's motor. [pub: NEC 220.61, Annex D1(b), value from memory]
fn opposite(legs: &[LegSum], things: &[OneLeg<'_>]) -> f64 {
    let Some(fullest) = legs.iter().max_by(|a, b| a.amps.total_cmp(&b.amps)) else { return 0.0 };
    let on = |leg: &LegSum| {
        let mut amps: Vec<f64> = things.iter().filter(|t| t.leg == Some(leg.leg)).map(|t| t.amps).collect();
        amps.sort_by(|a, b| b.total_cmp(a));
        amps
    };
    let rows: Vec<Vec<f64>> = legs.iter().map(on).collect();
    let row = |nth: usize| rows.iter().filter_map(|leg| leg.get(nth)).copied().fold(0.0, f64::max);
    let longest = rows.iter().map(Vec::len).max().unwrap_or(0);
    let motors = things.iter().filter(|t| t.motor && t.leg == Some(fullest.leg)).map(|t| t.amps);
    (0..longest).map(row).sum::<f64>() + QUARTER * motors.fold(0.0, f64::max)
}

/// Lights and receptacles, small appliances, laundry, after their demand.
fn general(of: &Household, work: &mut Ledger<'_>) -> Result<f64, Invalid> {
    let area = A_SQUARE_FOOT * of.square_feet()?;
    let circuits = A_CIRCUIT * (of.small_appliance + of.laundry) as f64;
    let all = area + circuits;
    let whole = all.min(WHOLE);
    let next = 0.35 * (all.min(NEXT) - WHOLE).max(0.0);
    let rest = 0.25 * (all - NEXT).max(0.0);
    let said = format!(
        "lights and receptacles {area:.0} VA, small appliances and laundry {circuits:.0} VA: the first 3000 VA"
    );
    work.line(said, whole, "NEC 220.41, 220.45, 220.52");
    work.line("their next part at 35 %", next, "NEC 220.45");
    work.line("the rest of them at 25 %", rest, "NEC 220.45");
    Ok(whole + next + rest)
}

/// What has a line of its own.
fn own_line(item: &HouseholdItem) -> bool {
    matches!(item.kind, LoadKind::Range | LoadKind::Oven | LoadKind::Cooktop | LoadKind::Dryer | LoadKind::CarCharger)
        || is_climate(item)
}

pub(super) fn is_climate(item: &HouseholdItem) -> bool {
    matches!(item.kind, LoadKind::Heating | LoadKind::Cooling | LoadKind::HeatPump | LoadKind::BackupHeat)
}

/// What is fastened in place and has no line of its own.
fn fastened(of: &Household) -> impl Iterator<Item = &HouseholdItem> {
    of.items.iter().filter(|i| !own_line(i))
}

fn appliances(of: &Household, work: &mut Ledger<'_>) {
    let count = fastened(of).count();
    let sum: f64 = fastened(of).map(|i| i.va).sum();
    if count >= MANY {
        let said = format!("{count} appliances fastened in place, {sum:.0} VA, at 75 %");
        work.line(said, MANY_COUNT * sum, "NEC 220.53");
    } else {
        for item in fastened(of) {
            work.line(item.name.clone(), item.va, "NEC 220.14(A)");
        }
    }
}

/// Household cooking: a cooktop and up to two ovens count as one range (note 4); each range by itself.
pub(super) fn cooking(items: &[HouseholdItem]) -> f64 {
    let of = |kind: LoadKind| items.iter().filter(move |i| i.kind == kind).map(|i| i.va);
    let cooktops: Vec<f64> = of(LoadKind::Cooktop).collect();
    let ovens: Vec<f64> = of(LoadKind::Oven).collect();
    let together = cooktops.len() == 1 && (1..=2).contains(&ovens.len());
    let built_in: f64 = if together {
        demand(cooktops.iter().chain(&ovens).sum())
    } else {
        cooktops.iter().chain(&ovens).map(|va| demand(*va)).sum()
    };
    built_in + of(LoadKind::Range).map(demand).sum::<f64>()
}

/// One unit: to 1¾ kW whole, to 8¾ kW at 80 %, to 12 kW 8 kW, and 5 % more for each kW above, a half one counting whole.
fn demand(va: f64) -> f64 {
    match va {
        va if va < 1750.0 => va,
        va if va <= 8750.0 => (0.8 * va).min(8000.0),
        va if va <= 12_000.0 => 8000.0,
        va => 8000.0 * (1.0 + 0.05 * ((va - 12_000.0) / 1000.0).round()),
    }
}

/// The larger of heating and cooling; what runs as both counts with both. [pub: NEC 220.50, 220.51, 220.60]
fn climate(of: &Household, work: &mut Ledger<'_>) {
    let (what, counted) = climate_counted(of);
    work.line(format!("{what}, the larger of heating and cooling"), of.sum(counted), "NEC 220.51, 220.60");
}

/// Which of the two is larger, and what counts with it.
fn climate_counted(of: &Household) -> (&'static str, fn(&HouseholdItem) -> bool) {
    let heating: fn(&HouseholdItem) -> bool =
        |i| matches!(i.kind, LoadKind::Heating | LoadKind::BackupHeat | LoadKind::HeatPump);
    let cooling: fn(&HouseholdItem) -> bool = |i| matches!(i.kind, LoadKind::Cooling | LoadKind::HeatPump);
    if of.sum(heating) >= of.sum(cooling) { ("heating", heating) } else { ("cooling", cooling) }
}
