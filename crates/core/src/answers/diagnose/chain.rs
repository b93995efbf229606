//! In which order a cable passes the points of a circuit: what hangs behind a device comes after it, the rest goes to the nearest
//! next one, as whoever pulls cable does. (common practice; a guess until somebody has looked)

use std::collections::BTreeMap;

use crate::floor::Walks;
use crate::house::{BreakerId, House, Point, PointId};

/// From here on a point is taken to hang on a breaker.
const HANGS_FROM: f64 = 0.5;
/// Between rooms that no plan connects, in seconds of walking.
const FAR: f64 = 20.0;
/// Between two points of a room whose places are not known.
const NEAR: f64 = 2.0;
/// Inches a second, as one walks.
const PACE: f64 = 36.0;

/// The points of each breaker, from the panel outwards.
pub(super) fn chains(
    house: &House,
    feeds: &BTreeMap<PointId, Vec<(BreakerId, f64)>>,
) -> BTreeMap<BreakerId, Vec<PointId>> {
    let mut members: BTreeMap<BreakerId, Vec<&Point>> = BTreeMap::new();
    for point in house.points_in_order() {
        let first = feeds.get(&point.id).and_then(|chances| chances.first());
        if let Some((breaker, _)) = first.filter(|(_, p)| *p >= HANGS_FROM) {
            members.entry(*breaker).or_default().push(point);
        }
    }
    let walks = Walks::new(house);
    members.into_iter().map(|(breaker, points)| (breaker, ordered(house, &walks, breaker, points))).collect()
}

fn ordered(house: &House, walks: &Walks, breaker: BreakerId, mut left: Vec<&Point>) -> Vec<PointId> {
    let mut order: Vec<&Point> = Vec::with_capacity(left.len());
    let start = house.breakers.get(breaker).and_then(|b| Some(house.panels.get(b.panel)?.place?.room));
    while !left.is_empty() {
        // Nothing before the device that it hangs behind.
        let free = |p: &Point| p.protected_by.is_none_or(|device| left.iter().all(|other| other.id != device));
        let far = |p: &Point| match order.last() {
            Some(last) => between(house, walks, last, p),
            None => start.map_or(0.0, |room| walks.between(room, p.room).map_or(FAR, |s| s.0)),
        };
        let next =
            (0..left.len()).filter(|nth| free(left[*nth])).min_by(|a, b| far(left[*a]).total_cmp(&far(left[*b])));
        order.push(left.remove(next.unwrap_or(0)));
    }
    order.into_iter().map(|p| p.id).collect()
}

fn between(house: &House, walks: &Walks, a: &Point, b: &Point) -> f64 {
    if a.room != b.room {
        return walks.between(a.room, b.room).map_or(FAR, |s| s.0.max(NEAR));
    }
    let area = house.rooms.get(a.room).and_then(|room| room.area);
    match (area, a.spot, b.spot) {
        (Some(area), Some(one), Some(other)) => {
            let ((x, y), (u, v)) = (area.locate(one), area.locate(other));
            (x - u).hypot(y - v) / PACE
        }
        _ => NEAR,
    }
}
