//! Observations.

use super::{id, text, within};
use crate::base::Invalid;
use crate::base::units::{LOAD_AMPS, ROSE_AMPS};
use crate::house::{House, Observation};

pub(super) fn check_evidence(house: &House) -> Result<(), Invalid> {
    for evidence in house.evidence.iter() {
        id("evidence.id", evidence.id.0)?;
        if let Some(step) = evidence.step {
            id("evidence.step", step.0)?;
        }
        text("evidence.who", "whoever says so", &evidence.who, true)?;
        if house.points.get(evidence.point).is_none() {
            return Err(Invalid::new("evidence.point", "the point it speaks of does not exist"));
        }
        if let Observation::Rise { expected, rose, .. } = &evidence.observation {
            within(&LOAD_AMPS, "evidence.observation.expected", expected.0)?;
            within(&ROSE_AMPS, "evidence.observation.rose", rose.0)?;
        }
        if evidence.observation.breakers().any(|b| house.breakers.get(b).is_none()) {
            return Err(Invalid::new("evidence.observation", "a breaker it speaks of does not exist"));
        }
    }
    Ok(())
}
