//! How long it takes to walk from room to room, along the doors of the plan.

use std::collections::BTreeMap;

use crate::base::units::Seconds;
use crate::floor::{across, middle};
use crate::house::{House, OpeningKind, RoomId};

/// Inches a second at an easy pace indoors: about 3 ft/s (common practice).
const PACE: f64 = 36.0;
/// Seconds for a door to be opened and closed (common practice).
const DOOR: f64 = 2.0;
/// Seconds for a flight of stairs (common practice).
const STAIRS: f64 = 10.0;

/// Walking times between all rooms that the plan connects.
#[derive(Debug, Clone, Default)]
pub struct Walks {
    seconds: BTreeMap<(RoomId, RoomId), f64>,
}

/// A door: its place in each of the two rooms it joins (two floors have their own plans), and the time to pass it.
struct Door {
    ends: [(RoomId, (f64, f64)); 2],
    pass: f64,
}

impl Walks {
    /// Works them out: shortest ways along the doors. About `O(doors³)`.
    #[must_use]
    pub fn new(house: &House) -> Self {
        let doors = doors(house);
        let between = shortest(&doors);
        let ends: Vec<_> = doors.iter().flat_map(|d| d.ends).enumerate().collect();
        let exits = |room: RoomId| ends.iter().filter(move |(_, (of, _))| *of == room);
        let rooms: Vec<_> = house.rooms.iter().filter_map(|r| Some((r.id, r.area?.centre()))).collect();
        let mut seconds = BTreeMap::new();
        for (from, start) in &rooms {
            for (to, goal) in &rooms {
                let mut best = if from == to { 0.0 } else { f64::INFINITY };
                for (out, (_, leave)) in exits(*from) {
                    for (into, (_, enter)) in exits(*to) {
                        best = best.min(steps(*start, *leave) + between[*out][*into] + steps(*enter, *goal));
                    }
                }
                if best.is_finite() {
                    seconds.insert((*from, *to), best);
                }
            }
        }
        Self { seconds }
    }

    /// The time from the middle of one room to the middle of another, where the plan shows a way.
    #[must_use]
    pub fn between(&self, from: RoomId, to: RoomId) -> Option<Seconds> {
        self.seconds.get(&(from, to)).copied().map(Seconds)
    }
}

fn steps(from: (f64, f64), to: (f64, f64)) -> f64 {
    (from.0 - to.0).hypot(from.1 - to.1) / PACE
}

fn doors(house: &House) -> Vec<Door> {
    let door = |o: &crate::house::Opening| {
        let (here, there) = (middle(house, o)?, across(house, o)?);
        let (pass, other) = match o.kind {
            OpeningKind::Stairs => (STAIRS, house.rooms.get(there)?.area?.centre()),
            OpeningKind::Passage => (0.0, here),
            OpeningKind::Door | OpeningKind::Window => (DOOR, here),
        };
        Some(Door { ends: [(o.room, here), (there, other)], pass })
    };
    house.openings.iter().filter_map(door).collect()
}

/// Shortest times between the ends of all doors (Floyd and Warshall).
fn shortest(doors: &[Door]) -> Vec<Vec<f64>> {
    let ends: Vec<_> = doors.iter().flat_map(|d| d.ends).collect();
    let n = ends.len();
    let mut time = vec![vec![f64::INFINITY; n]; n];
    for a in 0..n {
        for b in 0..n {
            if ends[a].0 == ends[b].0 {
                time[a][b] = steps(ends[a].1, ends[b].1);
            }
            if a / 2 == b / 2 && a != b {
                time[a][b] = doors[a / 2].pass;
            }
        }
    }
    for via in 0..n {
        for a in 0..n {
            for b in 0..n {
                let way = time[a][via] + time[via][b];
                if way < time[a][b] {
                    time[a][b] = way;
                }
            }
        }
    }
    time
}
