//! Rounds planned: a set of handles, the rooms in walking order, the points worth a look.
//!
//! The rate of bits a second is found with the round itself (Dinkelbach's method for a ratio): a set of handles is
//! climbed to for a rate, the tour for it brings a new rate, and so on. Looking ahead enters in three places: a look that
//! settles a point counts extra, since every open point costs a walk later; looks that pay less than this round but more
//! than a later one are taken along; a bit counts more where the next would be dear ([`super::gain`]).

use crate::house::{PointKind, Way};
use crate::trace::gain::Want;
use crate::trace::look::OffSet;
use crate::trace::round::Choice;
use crate::trace::tempo::{self, HANDLE, Tempo};
use crate::trace::tracker::Tracker;

// Seconds of work, common practice.
const PANEL_WALK: f64 = 25.0;
/// To find the handle once there.
const AT_THE_PANEL: f64 = 8.0;
/// A tester taken out of an unfinished point has to go back there, and the handles with it.
const TAKE_AWAY_TESTER: f64 = 20.0;

/// Looks worth less are not advised unless nothing better is left.
const LEAST_BITS: f64 = 0.01;
/// A first guess at bits a second, and how often it is mended.
const FIRST_RATE: f64 = 0.06;
const ROUNDS: usize = 5;
const NEAR_ENOUGH: f64 = 0.08;
/// A rate at which nothing pays is lowered so.
const LOWER: f64 = 0.4;
/// Later rounds bring less a second: a look or a room that pays this share of the rate is taken along now.
const LATER_RATE: f64 = 0.3;
/// In a room, looks are taken down to this share of the round's rate.
const IN_ROOM_RATE: f64 = 0.3;

/// Where people and things are.
#[derive(Debug, Clone)]
pub struct Scene {
    /// By breaker: its handle is off.
    pub off: Vec<bool>,
    /// By breaker: its handle may be switched off.
    pub allowed: Vec<bool>,
    /// What an outage counts for, in seconds.
    pub outage: f64,
    pub most_off: usize,
    /// The room that the walker is in; nothing for somebody at the panel.
    pub at: Option<usize>,
    /// Points where a tester was left.
    pub left: Vec<usize>,
    /// Somebody stays at the panel.
    pub two: bool,
    /// With two: rooms are toured with the same handles, rather than finished one by one.
    pub touring: bool,
    /// A second of walking counts as so many of other work.
    pub walking: f64,
    /// The point where a radio plays.
    pub radio: Option<usize>,
}

/// With somebody at the panel, handles move while the walker stays in a room.
fn staying(scene: &Scene) -> bool {
    scene.two && !scene.touring
}

/// A round.
#[derive(Debug, Clone, Default)]
pub struct Tour {
    /// By breaker: off.
    pub off: Vec<bool>,
    /// Points in walking order.
    pub visit: Vec<usize>,
    pub bits: f64,
    pub seconds: f64,
    /// The same, walking counted as it is minded.
    pub effort: f64,
}

impl Tour {
    /// Bits a second of effort.
    pub fn rate(&self) -> f64 {
        if self.effort > 0.0 { self.bits / self.effort } else { 0.0 }
    }
}

pub struct Planner<'t, 'a> {
    pub tracker: &'t Tracker<'a>,
    /// By two rooms: seconds between them, as assumed.
    walks: &'t [f64],
    panel_room: Option<usize>,
    /// How long work takes here.
    tempo: Tempo,
}

impl<'t, 'a> Planner<'t, 'a> {
    /// `walks` are the seconds by two rooms that are assumed where nobody was timed.
    pub fn new(tracker: &'t Tracker<'a>, walks: &'t [f64], panel_room: Option<usize>) -> Self {
        Self { tempo: tracker.tempo(walks), tracker, walks, panel_room }
    }

    fn walk(&self, a: usize, b: usize) -> f64 {
        self.tempo.walking * self.walks[a * self.tracker.model.rooms.len() + b]
    }

    /// Seconds between the panel and a room, the panel's door included.
    pub fn panel_walk(&self, room: usize) -> f64 {
        self.panel_room.map_or(PANEL_WALK, |p| AT_THE_PANEL + self.walk(p, room))
    }

    fn room(&self, point: usize) -> usize {
        self.tracker.model.room[point]
    }

    pub(super) fn needs_tester(&self, point: usize) -> bool {
        let p = self.tracker.model.points[point];
        matches!(p.kind, PointKind::Receptacle | PointKind::Other) && !p.shows
    }

    /// Seconds of a look at a point now. One that could not be read before counts double each time: somewhere else is
    /// better spent.
    pub(super) fn price(&self, point: usize, scene: &Scene) -> f64 {
        let another = self.tracker.seen[point].another;
        let once = match self.tracker.model.points[point].kind {
            _ if another == Some(Way::Lamp) => tempo::CHANGE_LAMP,
            _ if another == Some(Way::Meter) => tempo::METER,
            _ if another.is_some() => self.tempo.tester,
            PointKind::Light | PointKind::Switch => self.tempo.light,
            _ if self.needs_tester(point) && !scene.left.contains(&point) => self.tempo.tester,
            _ => self.tempo.glance,
        };
        once * f64::from(1_u32 << self.tracker.seen[point].unsure.min(MOST_DOUBLINGS))
    }

    /// The same, with what it costs to take the tester from where it is not finished.
    fn price_here(&self, point: usize, scene: &Scene, unfinished: bool) -> f64 {
        let taken = unfinished && self.needs_tester(point) && !scene.left.contains(&point);
        self.price(point, scene) + if taken { TAKE_AWAY_TESTER } else { 0.0 }
    }

    fn unfinished(&self, scene: &Scene) -> bool {
        scene.two && scene.left.iter().any(|p| Want::new(self.tracker, *p).is_some())
    }

    /// Every open point.
    pub fn wants(&self) -> Vec<Want> {
        (0..self.tracker.seen.len()).filter_map(|p| Want::new(self.tracker, p)).collect()
    }

    fn set(&self, off: &[bool]) -> OffSet {
        let ids = (0..off.len()).filter(|b| off[*b]).map(|b| self.tracker.model.net.breakers[b].id);
        OffSet { off: off.to_vec(), dead: self.tracker.model.net.dead(ids) }
    }

    /// What walking counts above its seconds.
    pub(super) fn minded(&self, walked: f64, scene: &Scene) -> f64 {
        (scene.walking - 1.0) * walked
    }

    /// Seconds to move the handles there, with two the order included.
    pub fn flips(&self, off: &[bool], scene: &Scene) -> f64 {
        let moved = (0..off.len()).filter(|b| off[*b] != scene.off[*b]).count();
        let order = if scene.two && moved > 0 { self.tempo.order } else { 0.0 };
        HANDLE * moved as f64 + order
    }

    fn choose(&self, wants: &[Want], price: &[f64], rate: f64, scene: &Scene) -> Vec<bool> {
        let choice = Choice {
            net: &self.tracker.model.net,
            wants,
            price,
            rate,
            now: &scene.off,
            allowed: &scene.allowed,
            most_off: scene.most_off,
            flip: HANDLE,
            outage: scene.outage,
        };
        let mut starts = vec![vec![false; scene.off.len()]];
        if scene.off.iter().filter(|o| **o).count() <= scene.most_off {
            starts.push(scene.off.clone());
        }
        choice.best(&starts).1
    }

    /// The round that brings most a second; where none does, the look that is owed to the least sure point.
    pub fn best_tour(&self, scene: &Scene) -> Option<Tour> {
        let wants = self.wants();
        let round = if staying(scene) {
            let room = self.next_room(&wants, scene)?;
            let here: Vec<Want> = wants.iter().filter(|w| self.room(w.point) == room).cloned().collect();
            self.round(&here, scene)
        } else {
            self.round(&wants, scene)
        };
        round.or_else(|| self.last_resort(scene))
    }

    /// With somebody at the panel, a room is finished before the walker goes on to the nearest other.
    fn next_room(&self, wants: &[Want], scene: &Scene) -> Option<usize> {
        let far = |w: &&Want| {
            let room = self.room(w.point);
            scene.at.map_or_else(|| self.panel_walk(room), |at| self.walk(at, room))
        };
        wants.iter().min_by(|a, b| far(a).total_cmp(&far(b))).map(|w| self.room(w.point))
    }

    fn round(&self, wants: &[Want], scene: &Scene) -> Option<Tour> {
        let unfinished = self.unfinished(scene);
        let price: Vec<f64> = wants.iter().map(|w| self.price_here(w.point, scene, unfinished)).collect();
        let mut rate = FIRST_RATE;
        let mut best: Option<Tour> = None;
        for _ in 0..ROUNDS {
            let off = self.choose(wants, &price, rate, scene);
            let Some(tour) = self.tour(wants, &price, off, rate, scene) else {
                rate *= LOWER;
                continue;
            };
            let found = tour.rate();
            if best.as_ref().is_none_or(|b| found > b.rate()) {
                best = Some(tour);
            }
            if (found - rate).abs() < NEAR_ENOUGH * found {
                break;
            }
            rate = found;
        }
        best
    }

    /// The handles that tell most of one point, which is heard at the panel.
    pub(super) fn at_the_panel(&self, want: Want, listen: f64, scene: &Scene) -> Option<Tour> {
        let wants = [want];
        let mut rate = FIRST_RATE;
        let mut best: Option<Tour> = None;
        for _ in 0..ROUNDS {
            let off = self.choose(&wants, &[listen], rate, scene);
            let seconds = listen + self.flips(&off, scene);
            let bits = wants[0].bits(&self.set(&off));
            let tour = Tour { off, visit: vec![wants[0].point], bits, seconds, effort: seconds };
            let found = tour.rate();
            if best.as_ref().is_none_or(|b| found > b.rate()) {
                best = Some(tour);
            }
            if (found - rate).abs() < NEAR_ENOUGH * found {
                break;
            }
            rate = if found > 0.0 { found } else { rate * LOWER };
        }
        best
    }

    /// The points worth their seconds with these handles off, without the rooms not worth the walk.
    fn tour(&self, wants: &[Want], price: &[f64], off: Vec<bool>, rate: f64, scene: &Scene) -> Option<Tour> {
        let set = self.set(&off);
        let bits: Vec<f64> = wants.iter().map(|w| w.bits(&set)).collect();
        let later = rate * if staying(scene) { self.tempo.staying_later() } else { LATER_RATE };
        let gain = |i: &usize| bits[*i] - later * price[*i];
        let room = |i: &usize| self.room(wants[*i].point);
        let mut chosen: Vec<usize> = (0..wants.len()).filter(|i| gain(i) > 0.0 && bits[*i] >= LEAST_BITS).collect();
        let mut rooms: Vec<usize> = chosen.iter().map(room).collect();
        rooms.sort_unstable();
        rooms.dedup();
        let mut order = self.way(&rooms, scene);
        let mut walked = self.walked(&order, scene);
        while order.len() > 1 {
            let dull = |r: usize| {
                let fewer: Vec<usize> = order.iter().copied().filter(|x| *x != r).collect();
                let lost: f64 = chosen.iter().filter(|i| room(i) == r).map(gain).sum();
                let shorter = self.walked(&fewer, scene);
                (later * scene.walking * (walked - shorter) - lost, r, fewer, shorter)
            };
            let dullest = order.iter().map(|r| dull(*r)).max_by(|a, b| a.0.total_cmp(&b.0));
            let Some((_, r, fewer, shorter)) = dullest.filter(|(saved, ..)| *saved > 0.0) else { break };
            chosen.retain(|i| room(i) != r);
            (order, walked) = (fewer, shorter);
        }
        if chosen.is_empty() {
            return None;
        }
        let looks: f64 = chosen.iter().map(|i| price[*i]).sum();
        let visit = order.iter().flat_map(|r| chosen.iter().filter(move |i| room(i) == *r)).map(|i| wants[*i].point);
        let seconds = walked + self.flips(&off, scene) + looks;
        Some(Tour {
            visit: visit.collect(),
            bits: chosen.iter().map(|i| bits[*i]).sum(),
            seconds,
            effort: seconds + self.minded(walked, scene),
            off,
        })
    }

    /// A tour of just these points with these handles off.
    pub fn tour_of(&self, off: Vec<bool>, points: &[usize], scene: &Scene) -> Tour {
        let set = self.set(&off);
        let mut rooms: Vec<usize> = points.iter().map(|p| self.room(*p)).collect();
        rooms.sort_unstable();
        rooms.dedup();
        let order = self.way(&rooms, scene);
        let looks: f64 = points.iter().map(|p| self.price(*p, scene)).sum();
        let walked = self.walked(&order, scene);
        let seconds = walked + looks + self.flips(&off, scene);
        let bits = points.iter().filter_map(|p| Want::new(self.tracker, *p)).map(|w| w.bits(&set)).sum();
        let visit = order.iter().flat_map(|r| points.iter().copied().filter(move |p| self.room(*p) == *r)).collect();
        Tour { effort: seconds + self.minded(walked, scene), off, visit, bits, seconds }
    }

    /// Seconds of a way through rooms, from where the walker is; alone, from the panel and back.
    fn walked(&self, order: &[usize], scene: &Scene) -> f64 {
        (0..=order.len()).map(|i| self.edge(order, i, scene)).sum()
    }

    /// Edge `i` of a way leads to its room `i`; the last one leads back.
    fn edge(&self, order: &[usize], i: usize, scene: &Scene) -> f64 {
        match (i.checked_sub(1).and_then(|b| order.get(b)), order.get(i)) {
            (Some(a), Some(b)) => self.walk(*a, *b),
            (None, Some(b)) => scene.at.map_or_else(|| self.panel_walk(*b), |at| self.walk(at, *b)),
            (Some(a), None) if !scene.two => self.panel_walk(*a),
            _ => 0.0,
        }
    }

    /// A short way through rooms: nearest first, then stretches turned round wherever that shortens it.
    fn way(&self, rooms: &[usize], scene: &Scene) -> Vec<usize> {
        let mut left = rooms.to_vec();
        let mut order: Vec<usize> = Vec::new();
        while !left.is_empty() {
            let far = |r: &usize| self.edge(&[order.as_slice(), &[*r]].concat(), order.len(), scene);
            let next = (0..left.len()).min_by(|a, b| far(&left[*a]).total_cmp(&far(&left[*b]))).unwrap_or(0);
            order.push(left.swap_remove(next));
        }
        let mut better = true;
        while better {
            better = false;
            for i in 0..order.len() {
                for j in i + 1..order.len() {
                    let ends = |o: &[usize]| self.edge(o, i, scene) + self.edge(o, j + 1, scene);
                    let before = ends(&order);
                    order[i..=j].reverse();
                    if ends(&order) < before - SHORTER {
                        better = true;
                    } else {
                        order[i..=j].reverse();
                    }
                }
            }
        }
        order
    }

    /// Which of these points to look at next with the handles as they are, if any is worth it; at a rate of 0 the best,
    /// whatever it is worth.
    pub fn next(&self, among: &[usize], scene: &Scene, rate: f64) -> Option<usize> {
        let set = self.set(&scene.off);
        let unfinished = self.unfinished(scene);
        let least = rate * if staying(scene) { self.tempo.staying_rate() } else { IN_ROOM_RATE };
        let worth = |p: &usize| {
            let bits = Want::new(self.tracker, *p)?.bits(&set);
            Some((*p, bits / self.price_here(*p, scene, unfinished), bits))
        };
        let best = among.iter().filter_map(worth).max_by(|a, b| a.1.total_cmp(&b.1))?;
        let pays = best.1 >= least && best.2 >= LEAST_BITS;
        (pays || rate == 0.0).then_some(best.0)
    }

    /// Nothing pays by information alone: just the look that tells most of the least sure point that can be tested.
    fn last_resort(&self, scene: &Scene) -> Option<Tour> {
        let sure = |w: &Want| self.tracker.top(w.point).map_or(0.0, |(_, p)| p);
        let mut wants = self.wants();
        wants.sort_by(|a, b| sure(a).total_cmp(&sure(b)));
        wants.iter().find_map(|want| {
            let mut order: Vec<usize> = (0..want.q.len()).filter(|b| scene.allowed[*b] && want.q[*b] > 0.0).collect();
            order.sort_by(|a, b| want.q[*b].total_cmp(&want.q[*a]));
            // Each of the likeliest alone, or none at all.
            let sets = order.iter().take(LIKELIEST).map(|b| (0..want.q.len()).map(|x| x == *b).collect::<Vec<bool>>());
            let sets = sets.chain([vec![false; want.q.len()]]);
            let valued = sets.map(|off| (want.bits(&self.set(&off)), off)).filter(|(bits, _)| *bits > 0.0);
            let (bits, off) = valued.max_by(|a, b| a.0.total_cmp(&b.0))?;
            let walked = self.walked(&[self.room(want.point)], scene);
            let seconds = walked + self.price(want.point, scene) + self.flips(&off, scene);
            let effort = seconds + self.minded(walked, scene);
            Some(Tour { off, visit: vec![want.point], bits, seconds, effort })
        })
    }
}

/// Turning a stretch of a way round must save at least this: rounding would go on for ever.
const SHORTER: f64 = 1e-9;
/// The price of a point that cannot be read is doubled no further than this.
const MOST_DOUBLINGS: usize = 10;
/// Breakers tried one by one as a last resort.
const LIKELIEST: usize = 3;
