//! A single dwelling in Canada: CEC part I, 8-200 (values from memory).

use super::household::{Household, HouseholdItem};
use super::standard::is_climate;
use super::{Ledger, LoadMethod, Sheet};
use crate::base::Invalid;
use crate::house::{LivingArea, LoadKind};

/// For the first 90 m², and each further 90 m² or part of it. [pub: CEC 8-200(1)(a)(i), (ii)]
const FIRST: f64 = 5000.0;
const FURTHER: f64 = 1000.0;
const STEP: f64 = 90.0;
/// Heating: the first part whole, the rest at three quarters. [pub: CEC 62-118(3)]
const HEAT_WHOLE: f64 = 10_000.0;
/// A range of up to 12 kW counts 6 kW, and 40 % of what is above. [pub: CEC 8-200(1)(a)(iv)]
const RANGE: f64 = 6000.0;
const RANGE_TO: f64 = 12_000.0;
/// Other loads from this on. [pub: CEC 8-200(1)(a)(vii)]
const OTHER: f64 = 1500.0;
const OTHER_WHOLE: f64 = 6000.0;
/// Not less than these, by area. [pub: CEC 8-200(1)(b)]
const LEAST: f64 = 24_000.0;
const LEAST_SMALL: f64 = 14_400.0;
const SMALL: f64 = 80.0;

pub(super) fn sheet(of: &Household) -> Result<Sheet, Invalid> {
    let missing = || Invalid::new("about.area", "the living area is not entered");
    let area = of.area.map(LivingArea::square_metres).ok_or_else(missing)?;
    let mut work = Ledger::new(of);
    work.notes.retain(|note| !note.starts_with("Two circuits"));
    work.line(format!("the first 90 m² of {area:.0} m²"), FIRST, "CEC 8-200(1)(a)(i)");
    // A room that is a square foot too large by rounding of units is not a step more.
    let steps = ((area - STEP) / STEP - 1e-6).ceil().max(0.0);
    work.line(format!("{steps:.0} further 90 m² or part"), steps * FURTHER, "CEC 8-200(1)(a)(ii)");
    climate(of, &mut work);
    let ranges = of.sum(is_range);
    if ranges > 0.0 {
        work.line("electric range", RANGE + 0.4 * (ranges - RANGE_TO).max(0.0), "CEC 8-200(1)(a)(iv)");
    }
    work.line("car charging", of.sum(|i| i.kind == LoadKind::CarCharger), "CEC 8-200(1)(a)(vi)");
    work.line("pool, tub or spa", of.sum(|i| i.kind == LoadKind::Pool), "CEC 8-200(1)(a)(v)");
    let whole = |i: &HouseholdItem| matches!(i.kind, LoadKind::CarCharger | LoadKind::Pool);
    let others = of.sum(|i| !is_climate(i) && !is_range(i) && !whole(i) && i.va > OTHER);
    let counted =
        if ranges > 0.0 { 0.25 * others } else { others.min(OTHER_WHOLE) + 0.25 * (others - OTHER_WHOLE).max(0.0) };
    work.line(format!("others above 1500 W, {others:.0} W"), counted, "CEC 8-200(1)(a)(vii)");
    work.notes.push("A basement counts at three quarters of its area: enter the area so".into());
    work.notes
        .push("Tankless water heaters and steamers count whole: not told apart here, add the rest of them".into());
    let sum: f64 = work.lines.iter().map(|l| l.va.0).sum();
    let least = if area < SMALL { LEAST_SMALL } else { LEAST };
    work.line("up to the least that is allowed", (least - sum).max(0.0), "CEC 8-200(1)(b)");
    Ok(work.done(LoadMethod::Canada))
}

fn is_range(item: &HouseholdItem) -> bool {
    matches!(item.kind, LoadKind::Range | LoadKind::Cooktop | LoadKind::Oven)
}

fn climate(of: &Household, work: &mut Ledger<'_>) {
    let sum = |kind: LoadKind| of.sum(|i| i.kind == kind);
    let heat = sum(LoadKind::Heating) + sum(LoadKind::BackupHeat) + sum(LoadKind::HeatPump);
    let heat = heat.min(HEAT_WHOLE) + 0.75 * (heat - HEAT_WHOLE).max(0.0);
    let cool = sum(LoadKind::Cooling) + sum(LoadKind::HeatPump);
    let what = if heat >= cool { "heating, the first 10 kW whole, the rest at 75 %" } else { "cooling" };
    work.line(what, heat.max(cool), "CEC 8-200(1)(a)(iii), 62-118");
}
