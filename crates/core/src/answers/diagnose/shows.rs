//! What each cause makes of each point: dead, dim, bright, or well.

use std::collections::BTreeSet;

use super::bench::Bench;
use super::{Broken, Cause};
use crate::house::{BreakerId, Held, Point, PointId, PointKind, RoomId};

/// Probabilities of what a point shows; what is left of them is that it is well.
#[derive(Debug, Clone, Copy, PartialEq, Default)]
pub(super) struct Shows {
    pub dead: f64,
    pub dim: f64,
    pub bright: f64,
}

impl Shows {
    const fn dead(dead: f64) -> Self {
        Self { dead, dim: 0.0, bright: 0.0 }
    }

    /// The same of what is so with a probability.
    fn times(self, p: f64) -> Self {
        Self { dead: self.dead * p, dim: self.dim * p, bright: self.bright * p }
    }

    /// With another cause at work too.
    pub(super) fn and(self, other: Self) -> Self {
        let lives = (1.0 - self.dead) * (1.0 - other.dead);
        Self {
            dead: 1.0 - lives,
            dim: (self.dim + other.dim).min(lives),
            bright: (self.bright + other.bright).min(lives),
        }
    }
}

/// The order of points is a guess, and cables branch: so often what comes after an open place is dead, and what comes before it.
/// (common practice)
const AFTER: f64 = 0.92;
const BEFORE: f64 = 0.06;
/// What was wired anew had its volts when the work ended. (common practice)
const ITSELF_MISWIRED: f64 = 0.3;
/// Past a poor connection: dead, or just dim under load.
const POOR: Shows = Shows { dead: 0.30, dim: 0.45, bright: 0.0 };
/// A breaker that passes nothing, or too little.
const BAD: Shows = Shows { dead: 0.80, dim: 0.15, bright: 0.0 };
/// With a leg lost, things at 240 V feed it weakly: a few lamps glow. Things at 240 V themselves are dead or weak.
const LOST: Shows = Shows { dead: 0.85, dim: 0.13, bright: 0.0 };
/// With the neutral gone two legs share 240 V as their loads do: what is on the lightly loaded one is bright, the other dim; things
/// at the edge stop. Nobody counts bright ones without being asked. [def]
const FLOATS: Shows = Shows { dead: 0.20, dim: 0.35, bright: 0.35 };
/// What is not on the list may do anything to a few.
const ANYTHING: Shows = Shows { dead: 0.30, dim: 0.10, bright: 0.01 };

impl Bench<'_> {
    /// What a cause makes of each point, in the order of the points.
    pub(super) fn shows(&self, cause: Cause) -> Vec<Shows> {
        let each = |of: &dyn Fn(&Point) -> Shows| self.points.iter().map(|p| of(p)).collect();
        let fed = |all: Shows, by: &BTreeSet<BreakerId>| each(&|p| all.times(self.fed_by(p.id, by)));
        let whole = Shows::dead(1.0);
        let if_so = |so: bool| if so { whole } else { Shows::default() };
        match cause {
            Cause::Work { job } => {
                let held = self.house.jobs.get(job).and_then(|job| Held::of(self.house, job));
                fed(whole, &held.map_or_else(BTreeSet::new, |held| held.dead(self.house)))
            }
            Cause::Breaker { breaker } => fed(whole, &self.behind_breaker(breaker)),
            Cause::BadBreaker { breaker } => fed(BAD, &self.behind_breaker(breaker)),
            Cause::GroundFault { point } => self.behind(point),
            Cause::Unregistered { room } => each(&|p| whole.times(self.behind_unregistered(room, p))),
            Cause::Switch { point } => each(&|p| if_so(p.switched_by.contains(&point))),
            Cause::Itself { point } => each(&|p| if_so(p.id == point)),
            Cause::Wire { breaker, broken, from } => self.past(breaker, broken, from),
            Cause::Miswired { point } => self.wired_on_from(point),
            Cause::SharedNeutral { breaker, other } => fed(FLOATS, &[breaker, other].into()),
            Cause::LostLeg { panel, leg } => fed(LOST, &self.on_leg(panel, leg)),
            Cause::Main { panel } => fed(whole, &self.in_panel(panel)),
            Cause::Utility => each(&|_| whole),
            Cause::OpenNeutral => each(&|p| FLOATS.times(1.0 - self.across_legs(p.id))),
            Cause::NotListed => each(&|_| ANYTHING),
        }
    }

    /// Past a broken place of a circuit.
    fn past(&self, breaker: BreakerId, broken: Broken, from: PointId) -> Vec<Shows> {
        let chain = self.chains.get(&breaker).map_or(&[][..], Vec::as_slice);
        let at = chain.iter().position(|p| *p == from).unwrap_or(0);
        let all = if broken == Broken::Poor { POOR } else { Shows::dead(1.0) };
        let of = |p: &&Point| {
            let hangs = self.hangs_on(p.id, breaker);
            if hangs <= 0.0 {
                return Shows::default();
            }
            let after = match chain.iter().position(|other| *other == p.id) {
                Some(nth) if nth >= at => AFTER,
                Some(_) => BEFORE,
                // Where it comes is not known.
                None => 0.5,
            };
            all.times(hangs * after)
        };
        self.points.iter().map(of).collect()
    }

    /// What a place passes power on to: dead where line and load, or a joint, were mixed up there; it itself seldom.
    fn wired_on_from(&self, point: PointId) -> Vec<Shows> {
        let after = self.wired_on(point);
        let of = |p: &&Point| match () {
            () if p.id == point => Shows::dead(ITSELF_MISWIRED),
            () if after.contains(&p.id) => Shows::dead(AFTER),
            () => Shows::default(),
        };
        self.points.iter().map(of).collect()
    }

    /// Probability that a thing is on two legs: no neutral bears on it.
    fn across_legs(&self, point: PointId) -> f64 {
        self.likeliest(point).map_or(0.0, |(b, p)| {
            let two = self.house.breakers.get(b).is_some_and(|b| b.at.len() > 1);
            if two { p } else { 0.0 }
        })
    }

    /// What hangs behind a ground-fault device: as recorded; else, where its followers are not recorded, what may since it is on
    /// the same circuit.
    fn behind(&self, device: PointId) -> Vec<Shows> {
        let recorded = self.points.iter().any(|p| p.protected_by == Some(device));
        let perhaps = self.likeliest(device).filter(|_| !recorded);
        let of = |p: &&Point| {
            let after = p.id == device || self.is_behind(p, device);
            let may = p.kind == PointKind::Receptacle;
            let share = perhaps.filter(|_| may).map_or(0.0, |(b, chance)| 0.4 * chance * self.hangs_on(p.id, b));
            Shows::dead(if after { 1.0 } else { share })
        };
        self.points.iter().map(of).collect()
    }

    fn is_behind(&self, point: &Point, device: PointId) -> bool {
        let mut up = point.protected_by;
        // None hangs behind itself; as many steps as there are points end in any house.
        for _ in 0..self.points.len() {
            match up {
                Some(before) if before == device => return true,
                Some(before) => up = self.house.points.get(before).and_then(|p| p.protected_by),
                None => return false,
            }
        }
        false
    }

    /// Probability that a point hangs behind a device that is usual in a room and not registered there. One device often
    /// serves several such rooms: a bathroom hangs on that of the garage (common practice).
    fn behind_unregistered(&self, room: RoomId, p: &Point) -> f64 {
        if p.protected_by.is_some() || p.ground_fault {
            return 0.0;
        }
        let usual = self.lacking.contains(&p.room);
        match p.kind {
            PointKind::Receptacle if p.room == room => 0.6,
            PointKind::Receptacle if usual => 0.2,
            PointKind::Receptacle | PointKind::Light if p.room == room || usual => 0.05,
            PointKind::Receptacle => 0.03,
            _ => 0.02,
        }
    }
}
