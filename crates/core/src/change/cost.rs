//! What a change would take away from the map.

use serde::Serialize;
use utoipa::ToSchema;

use crate::house::{House, PointId};
use crate::trace::beliefs;
use crate::words::things::by_tags;

/// What a change takes away from the map.
#[derive(Debug, Clone, PartialEq, Eq, Default, Serialize, ToSchema)]
pub struct Cost {
    /// Observations that would be gone.
    pub observations: usize,
    /// Readings that would be gone.
    pub readings: usize,
    /// Tags of points proven now that would be proven no more, or gone.
    pub unproven: Vec<String>,
    /// The same in words, by room.
    pub unproven_words: String,
}

/// What a change would take away from the map, by the house before and after it.
#[must_use]
pub fn cost(house: &House, after: &House) -> Cost {
    let observations = house.evidence.iter().filter(|e| after.evidence.get(e.id).is_none()).count();
    let readings = house.readings.iter().filter(|r| after.readings.get(r.id).is_none()).count();
    if house.evidence == after.evidence && house.breakers == after.breakers && house.points == after.points {
        return Cost { readings, ..Cost::default() };
    }
    let still = beliefs(after);
    let proven = |p: PointId| still.points.iter().any(|b| b.point == p && b.proven);
    let lost = beliefs(house).points.into_iter().filter(|b| b.proven && !proven(b.point));
    let unproven: Vec<String> = lost.map(|b| b.tag).collect();
    // Some may be gone afterwards: they are called as they are now.
    Cost { observations, readings, unproven_words: by_tags(house, &unproven), unproven }
}
