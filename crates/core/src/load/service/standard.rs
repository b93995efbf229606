//! The standard method: NEC 220 part III (2023, values from memory).

use super::household::{Household, HouseholdItem};
use super::{Ledger, LoadMethod, Sheet};
use crate::base::Invalid;
use crate::house::LoadKind;

/// VA a square foot for lights and receptacles, and VA a circuit. [pub: NEC 220.41, 220.52]
pub(super) const A_SQUARE_FOOT: f64 = 3.0;
pub(super) const A_CIRCUIT: f64 = 1500.0;
/// The first part counts whole, the next at 35 %, the rest at a quarter. [pub: NEC 220.45]
const WHOLE: f64 = 3000.0;
const NEXT: f64 = 120_000.0;
/// Four or more appliances count at three quarters. [pub: NEC 220.53]
const MANY: usize = 4;
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
    let motor = of.items.iter().filter(|i| i.motor).map(|i| i.va).fold(0.0, f64::max);
    work.line("a quarter of the largest motor", 0.25 * motor, "NEC 220.50, 430.24");
    let neutral = general + NEUTRAL * (cooking + dryer) + of.sum(|i| i.to_neutral && !own_line(i));
    Ok(work.done(LoadMethod::Standard, Some(neutral)))
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

fn appliances(of: &Household, work: &mut Ledger<'_>) {
    let fastened = |i: &HouseholdItem| !own_line(i);
    let count = of.items.iter().filter(|i| fastened(i)).count();
    let sum = of.sum(fastened);
    if count >= MANY {
        work.line(format!("{count} appliances fastened in place, {sum:.0} VA, at 75 %"), 0.75 * sum, "NEC 220.53");
    } else {
        for item in of.items.iter().filter(|i| fastened(i)) {
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
    let pumps = of.sum(|i| i.kind == LoadKind::HeatPump);
    let heating = of.sum(|i| matches!(i.kind, LoadKind::Heating | LoadKind::BackupHeat)) + pumps;
    let cooling = of.sum(|i| i.kind == LoadKind::Cooling) + pumps;
    let (what, va) = if heating >= cooling { ("heating", heating) } else { ("cooling", cooling) };
    work.line(format!("{what}, the larger of heating and cooling"), va, "NEC 220.51, 220.60");
}
