//! Something is added to an existing dwelling: NEC 220.83 (2023, values from memory).

use super::household::Household;
use super::optional::{all_but_climate, share};
use super::standard::{A_CIRCUIT, A_SQUARE_FOOT};
use super::{Ledger, LoadMethod, Sheet};
use crate::base::Invalid;
use crate::house::LoadKind;

/// The first part counts whole, the rest at 40 %. [pub: NEC 220.83]
const WHOLE: f64 = 8000.0;

/// (A) everything in one sum; (B), with new heating or cooling: the larger of those at 100 %, the others as in (A).
pub(super) fn sheet(of: &Household, new_climate: bool) -> Result<Sheet, Invalid> {
    let mut work = Ledger::new(of);
    if !new_climate {
        let area = A_SQUARE_FOOT * of.square_feet()?;
        let circuits = A_CIRCUIT * (of.small_appliance + of.laundry) as f64;
        share(&mut work, (area, circuits, of.sum(|_| true)), WHOLE, "NEC 220.83(A)");
        return Ok(work.done(LoadMethod::Existing));
    }
    all_but_climate(of, &mut work, WHOLE, "NEC 220.83(B)")?;
    let sum = |kind: LoadKind| of.sum(|i| i.kind == kind);
    let pumps = sum(LoadKind::HeatPump);
    let heating = sum(LoadKind::Heating) + sum(LoadKind::BackupHeat) + pumps;
    let cooling = sum(LoadKind::Cooling) + pumps;
    let what = if heating >= cooling { "heating" } else { "cooling" };
    work.line(
        format!("{what} at 100 %, the larger of heating and cooling"),
        heating.max(cooling),
        "NEC 220.83(B), 220.60",
    );
    Ok(work.done(LoadMethod::ExistingAdded))
}
