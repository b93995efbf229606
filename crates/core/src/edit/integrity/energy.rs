//! Energy records.

use super::{id, text, within};
use crate::base::Invalid;
use crate::base::units::READ_WATTS;
use crate::house::{EnergyRecord, LONGEST_STEP, zone};

/// Most demands that a record names.
const MOST_DEMANDS: usize = 10;

pub(super) fn check_energy(energy: &EnergyRecord) -> Result<(), Invalid> {
    id("energy.id", energy.id.0)?;
    text("energy.who", "whoever added it", &energy.who, true)?;
    text("energy.name", "the record", &energy.name, true)?;
    zone(&energy.zone)?;
    if energy.digest.len() != 64 || !energy.digest.bytes().all(|b| b.is_ascii_hexdigit()) {
        return Err(Invalid::new("energy.digest", "not a SHA-256 digest in hexadecimal"));
    }
    if !(60.0..=LONGEST_STEP.0).contains(&energy.step.0) {
        return Err(Invalid::new("energy.step", "an interval must be a minute to an hour long"));
    }
    if energy.to <= energy.from {
        return Err(Invalid::new("energy.to", "the record must end after it begins"));
    }
    if energy.largest.len() > MOST_DEMANDS {
        return Err(Invalid::new("energy.largest", format!("at most {MOST_DEMANDS} demands")));
    }
    energy.largest.iter().try_for_each(|d| within(&READ_WATTS, "energy.largest", d.watts.0))?;
    within(&READ_WATTS, "energy.base", energy.base.0)
}
