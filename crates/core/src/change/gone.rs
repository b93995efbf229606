//! What is left of the observations when a breaker goes, and what a change would cost.

use std::collections::BTreeMap;

use serde::Serialize;
use utoipa::ToSchema;

use super::{Change, Invalid};
use crate::house::{BreakerId, Evidence, House, Observation, PointId, Seen};
use crate::trace::{Suspects, beliefs};

/// What a change takes away from the map.
#[derive(Debug, Clone, PartialEq, Eq, Default, Serialize, ToSchema)]
pub struct Cost {
    /// Observations that would be gone.
    pub observations: usize,
    /// Tags of points proven now that would be proven no more, or gone.
    pub unproven: Vec<String>,
}

/// What a change would take away from the map.
///
/// # Errors
/// [`Invalid`] where the change cannot be made.
pub fn cost(house: &House, change: &Change) -> Result<Cost, Invalid> {
    let after = house.apply(change)?.house;
    let observations = house.evidence.iter().filter(|e| after.evidence.get(e.id).is_none()).count();
    if house.evidence == after.evidence && house.breakers == after.breakers && house.points == after.points {
        return Ok(Cost::default());
    }
    let still = beliefs(&after);
    let proven = |p: PointId| still.points.iter().any(|b| b.point == p && b.proven);
    let lost = beliefs(house).points.into_iter().filter(|b| b.proven && !proven(b.point));
    Ok(Cost { observations, unproven: lost.map(|b| b.tag).collect() })
}

/// What an observation still says of the other breakers when one is gone; nothing where it was about that one.
///
/// A point that was live with it off does not hang on it, and on none that was off with it: that stays true. One that was
/// dead may have hung on it, and may hang anywhere now; so that is kept only for points that surely hang elsewhere.
pub(super) fn without(
    evidence: &Evidence,
    gone: BreakerId,
    suspects: &BTreeMap<PointId, Suspects>,
) -> Option<Evidence> {
    let Observation::Power { off, seen, how } = &evidence.observation else { return None };
    let mut off = off.clone();
    off.remove(&gone);
    let elsewhere = || suspects.get(&evidence.point).is_some_and(|s| !s.names(gone));
    let tells = match seen {
        Seen::Live | Seen::Unsure => true,
        Seen::Dead => !off.is_empty() && elsewhere(),
    };
    let observation = Observation::Power { off, seen: *seen, how: *how };
    tells.then(|| Evidence { observation, ..evidence.clone() })
}
