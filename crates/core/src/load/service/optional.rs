//! The optional method of a dwelling: NEC 220.82 (2023, values from memory).

use super::household::Household;
use super::standard::{self, A_CIRCUIT, A_SQUARE_FOOT, is_climate};
use super::{Ledger, LoadMethod, Sheet};
use crate::base::Invalid;
use crate::house::LoadKind;

/// The first part counts whole, the rest at 40 %. [pub: NEC 220.82(B)]
const WHOLE: f64 = 10_000.0;
pub(super) const REST: f64 = 0.4;
/// Heat with fewer controls than this counts at 65 %, else at 40 %. [pub: NEC 220.82(C)]
const CONTROLS: usize = 4;
const FEW: f64 = 0.65;
/// The service must be of this at least. [pub: NEC 220.82(A)]
const LEAST: f64 = 100.0;

pub(super) fn sheet(of: &Household) -> Result<Sheet, Invalid> {
    let mut work = Ledger::new(of);
    all_but_climate(of, &mut work, WHOLE, "NEC 220.82(B)")?;
    let (what, va) = climate(of);
    work.line(what, va, "NEC 220.82(C)");
    if of.rating.is_some_and(|r| r.0 < LEAST) {
        work.notes.push("This method is for services of 100 A or more".into());
    }
    // The neutral is reckoned by the standard method (NEC 220.61).
    let neutral_amps = standard::sheet(of)?.neutral_amps;
    Ok(Sheet { neutral_amps, ..work.done(LoadMethod::Optional) })
}

/// Area, circuits and nameplates: the first part whole, the rest at 40 %.
pub(super) fn all_but_climate(
    of: &Household,
    work: &mut Ledger<'_>,
    whole: f64,
    source: &'static str,
) -> Result<(), Invalid> {
    let area = A_SQUARE_FOOT * of.square_feet()?;
    let circuits = A_CIRCUIT * (of.small_appliance + of.laundry) as f64;
    let plates = of.sum(|i| !is_climate(i));
    share(work, (area, circuits, plates), whole, source);
    Ok(())
}

pub(super) fn share(
    work: &mut Ledger<'_>,
    (area, circuits, plates): (f64, f64, f64),
    whole: f64,
    source: &'static str,
) {
    let all = area + circuits + plates;
    let said = format!(
        "lights and receptacles {area:.0} VA, small appliances and laundry {circuits:.0} VA, nameplates {plates:.0} VA: the first {whole:.0} VA"
    );
    work.line(said, all.min(whole), source);
    work.line("the rest at 40 %", REST * (all - whole).max(0.0), source);
}

/// The largest of what heats or cools.
fn climate(of: &Household) -> (String, f64) {
    let sum = |kind: LoadKind| of.sum(|i| i.kind == kind);
    let heaters = of.items.iter().filter(|i| i.kind == LoadKind::Heating).count();
    let share = if heaters < CONTROLS { FEW } else { REST };
    let pumps = sum(LoadKind::HeatPump);
    let choices = [
        ("cooling at 100 %".to_owned(), sum(LoadKind::Cooling) + pumps),
        ("heat pump at 100 % and its backup at 65 %".to_owned(), pumps + FEW * sum(LoadKind::BackupHeat)),
        (format!("electric heating, {heaters} controls, at {:.0} %", 100.0 * share), share * sum(LoadKind::Heating)),
    ];
    choices.into_iter().max_by(|a, b| a.1.total_cmp(&b.1)).unwrap_or_default()
}
