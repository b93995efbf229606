//! What one point tells about another: points of a room and sort tend to share a circuit.
//!
//! Which circuit a point hangs on is drawn, as in a Dirichlet prior, with a weight for every breaker that grows with each
//! point of its kin already there: most by one of the same room and sort, little by one of another sort or next door.
//! Weights are pseudo-counts, common practice put into numbers (handbook 2.2: points of one room lie on several circuits,
//! one circuit lies in odd places). They equal the numbers by which the practice room makes its houses: played there, the
//! engine has the right model. docs/benchmarks.md has worlds off it; a few readings overrule the weights anyway.

use crate::base::units::NominalVolts;
use crate::floor::{Walks, across};
use crate::house::{House, Point, PointKind, RoomId};

/// Weight of a breaker of which nothing is known.
pub const ALONE: f64 = 0.10;
/// Of each point of its kin that is believed there.
const SAME_ROOM_AND_SORT: f64 = 2.3;
const SAME_ROOM: f64 = 0.4;
const NEXT_ROOM_SAME_SORT: f64 = 0.44;
const NEXT_ROOM: f64 = 0.02;
const SAME_SORT: f64 = 0.012;
const ANY: f64 = 0.005;
/// Points behind one ground-fault device are on one circuit.
pub const SAME_DEVICE: f64 = 60.0;
/// The listed halves of one receptacle are listed since they differ: so much of the weight goes.
pub const OTHER_HALF: f64 = 0.9;

/// What a point is to the prior.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum Sort {
    /// A light, a switch, an alarm: general lighting.
    Lighting,
    /// A receptacle, or anything else on a general circuit.
    Outlet,
    /// An appliance at 120 V or of unknown voltage: often alone on its breaker.
    Appliance,
    /// At 240 or 208 V: nearly always alone on its breaker.
    TwoPole,
}

impl Sort {
    pub fn of(point: &Point) -> Self {
        match (point.kind, point.volts.is_some_and(NominalVolts::is_leg_to_leg)) {
            (_, true) => Self::TwoPole,
            (PointKind::Appliance, false) => Self::Appliance,
            (PointKind::Light | PointKind::Switch | PointKind::Alarm, false) => Self::Lighting,
            (PointKind::Receptacle | PointKind::Other, false) => Self::Outlet,
        }
    }

    /// On a general circuit, with others.
    pub fn is_general(self) -> bool {
        matches!(self, Self::Lighting | Self::Outlet)
    }
}

/// Rooms by index, how they lie to each other, and the weights between their points.
pub struct Rooms {
    pub ids: Vec<RoomId>,
    /// Rooms with a way between them, by both indexes.
    beside: Vec<bool>,
}

impl Rooms {
    pub fn new(house: &House) -> Self {
        let mut ids: Vec<RoomId> = house.rooms.iter().map(|r| r.id).collect();
        ids.sort_by_key(|r| house.room_order(*r));
        let mut rooms = Self { beside: vec![false; ids.len() * ids.len()], ids };
        for opening in house.openings.iter() {
            let pair = rooms.index(opening.room).zip(across(house, opening).and_then(|r| rooms.index(r)));
            if let Some((a, b)) = pair {
                let n = rooms.len();
                rooms.beside[a * n + b] = true;
                rooms.beside[b * n + a] = true;
            }
        }
        rooms
    }

    pub fn len(&self) -> usize {
        self.ids.len()
    }

    pub fn index(&self, room: RoomId) -> Option<usize> {
        self.ids.iter().position(|r| *r == room)
    }

    pub fn beside(&self, a: usize, b: usize) -> bool {
        self.beside[a * self.len() + b]
    }

    /// The plan shows a way between some of them.
    pub fn has_ways(&self) -> bool {
        self.beside.contains(&true)
    }

    /// Weight that a point adds, for a breaker it is believed on, to a point of this room and sort.
    pub fn weight(&self, a: (usize, Sort), b: (usize, Sort)) -> f64 {
        if !a.1.is_general() || !b.1.is_general() {
            return 0.0;
        }
        match (a.0 == b.0, self.beside(a.0, b.0), a.1 == b.1) {
            (true, _, true) => SAME_ROOM_AND_SORT,
            (true, _, false) => SAME_ROOM,
            (false, true, true) => NEXT_ROOM_SAME_SORT,
            (false, true, false) => NEXT_ROOM,
            (false, false, true) => SAME_SORT,
            (false, false, false) => ANY,
        }
    }

    /// Seconds from room to room: along the plan's doors where it shows a way, else as usual.
    pub fn walks(&self, house: &House) -> Vec<f64> {
        let walks = Walks::new(house);
        let usual = |a: RoomId, b: RoomId| match (house.room_order(a), house.room_order(b)) {
            (x, y) if x == y => 0.0,
            (x, y) if x.0 == y.0 => NEXT_ROOM_SECONDS,
            _ => NEXT_FLOOR_SECONDS,
        };
        let between = |a: RoomId, b: RoomId| walks.between(a, b).map_or_else(|| usual(a, b), |s| s.0);
        self.ids.iter().flat_map(|a| self.ids.iter().map(move |b| between(*a, *b))).collect()
    }
}

/// Without a plan: to the next room, and to another floor (common practice).
const NEXT_ROOM_SECONDS: f64 = 8.0;
const NEXT_FLOOR_SECONDS: f64 = 15.0;
