//! The engine plays: it is told what a person would tell it, and nothing else.

use std::collections::BTreeSet;

use jiff::Timestamp;

use super::walker::{Score, Walker};
use super::world::World;
use crate::house::{Evidence, EvidenceId, KNOWN_LOAD, Observation, PointKind, Seen, Tried, Way};
use crate::trace::Sort;
use crate::trace::{Crew, Method, Planner, Scene, Tracker, Turn, ids, is_settled, opening, panel_room};

/// A run that takes longer is broken off: points that cannot be settled are left open.
const MOST_STEPS: usize = 1000;
/// The same point is looked at so often with the same handles.
const LOOKS_A_STEP: usize = 2;

pub(super) struct Player<'w, 't, 'a> {
    walker: Walker<'w>,
    tracker: &'t mut Tracker<'a>,
    crew: &'t Crew,
    walks: Vec<f64>,
    panel_room: Option<usize>,
    scene: Scene,
    next_id: u64,
}

impl<'w, 't, 'a> Player<'w, 't, 'a> {
    pub fn new(walker: Walker<'w>, tracker: &'t mut Tracker<'a>, crew: &'t Crew) -> Self {
        let walks = tracker.model.rooms.walks(tracker.model.house);
        let scene = Scene { off: vec![false; tracker.model.breakers()], ..opening(tracker, crew) };
        let next_id = tracker.model.house.evidence.iter().map(|e| e.id.0).max().unwrap_or(0);
        Self { panel_room: panel_room(tracker), walker, crew, walks, scene, next_id, tracker }
    }

    /// With the walks as they really are.
    pub fn knowing_ways(mut self) -> Self {
        let rooms = 0..self.tracker.model.rooms.len();
        let places: Vec<usize> = rooms.map(|r| self.world_room(r)).collect();
        let walk = |a: &usize, b: &usize| self.walker.between(*a, *b);
        self.walks = places.iter().flat_map(|a| places.iter().map(move |b| walk(a, b))).collect();
        self
    }

    fn planner(&self) -> Planner<'_, 'a> {
        Planner::new(self.tracker, &self.walks, self.panel_room)
    }

    fn world(&self) -> &'w World {
        self.walker.world
    }

    /// Plays until nothing is left to prove and everything is back on.
    pub fn run(mut self) -> Score {
        for _ in 0..MOST_STEPS {
            match self.planner().action(self.crew, &self.scene) {
                Turn::Switch(tour) => {
                    let rate = tour.rate();
                    self.set_off(&tour.off);
                    self.tour(&tour.visit, rate);
                }
                Turn::Receiver(tour) => {
                    self.set_off(&tour.off);
                    tour.visit.iter().for_each(|p| self.sweep(*p));
                }
                Turn::Load(tour) => {
                    self.set_off(&tour.off);
                    self.try_loads(&tour.visit);
                }
                Turn::Listen(tour) => {
                    self.set_off(&tour.off);
                    tour.visit.iter().for_each(|p| self.listen(*p));
                }
                Turn::Done => break,
            }
        }
        self.set_off(&vec![false; self.scene.off.len()]);
        self.add_up()
    }

    fn add_up(self) -> Score {
        let mut map = vec![None; self.world().points()];
        let mut open = 0;
        for p in 0..self.tracker.seen.len() {
            let none = self.tracker.nothing(p) + self.tracker.elsewhere(p);
            let top = self.tracker.top(p).filter(|(_, q)| *q > none);
            if let Some(there) = self.there(p) {
                map[there] = top.and_then(|(b, _)| self.world().breaker_index(self.tracker.model.net.breakers[b].id));
                open += usize::from(!is_settled(self.tracker, p));
            }
        }
        self.walker.finish(&map, open)
    }

    fn set_off(&mut self, off: &[bool]) {
        let mut handles = vec![false; self.world().double.len()];
        for b in ids(self.tracker, off).into_iter().filter_map(|id| self.world().breaker_index(id)) {
            handles[b] = true;
        }
        self.walker.set_off(&handles);
        self.scene.off = off.to_vec();
    }

    /// The point's place in the world.
    fn there(&self, p: usize) -> Option<usize> {
        self.world().point_index(self.tracker.model.points[p].id)
    }

    fn world_room(&self, room: usize) -> usize {
        self.world().room_index(self.tracker.model.rooms.ids[room])
    }

    fn enter(&mut self, room: usize) {
        if self.scene.at == Some(room) {
            return;
        }
        // One tester goes along in the hand; more have to be picked up.
        if !self.crew.leaves_lamps() {
            if self.scene.two {
                self.walker.pick_up()
            } else {
                self.walker.take_along()
            }
            self.scene.left.clear();
        }
        let there = self.world_room(room);
        let seconds = match self.scene.at {
            None => self.walker.panel_walk(there),
            Some(from) => self.walker.between(self.world_room(from), there),
        };
        self.walker.walk(seconds);
        self.scene.at = Some(room);
    }

    fn back_to_panel(&mut self) {
        if let Some(room) = self.scene.at.take() {
            let seconds = self.walker.panel_walk(self.world_room(room));
            self.walker.walk(seconds);
            if !self.crew.leaves_lamps() {
                self.walker.take_along();
                self.scene.left.clear();
            }
        }
    }

    fn tour(&mut self, visit: &[usize], rate: f64) {
        let room = |t: &Self, p: usize| t.tracker.model.room[p];
        if !self.scene.two {
            self.walker.outcome.walks += 1.0;
        }
        let mut rooms: Vec<usize> = visit.iter().map(|p| room(self, *p)).collect();
        rooms.dedup();
        let mut looks = 0;
        let place = |t: &Self| t.planner().radio_place(visit, visit, &t.scene);
        let mut radio = if self.crew.radio { place(self) } else { None };
        for here in rooms {
            self.enter(here);
            let mut left: Vec<usize> = visit.iter().copied().filter(|p| room(self, *p) == here).collect();
            let mut times = vec![0; self.tracker.seen.len()];
            while let Some(p) = self.next(&left, rate, looks) {
                if radio == Some(p) {
                    self.leave_radio(p);
                    radio = None;
                    left.retain(|q| *q != p);
                    looks += 1;
                    continue;
                }
                self.look(p);
                looks += 1;
                times[p] += 1;
                if times[p] == LOOKS_A_STEP || self.crew.method != Method::Adaptive {
                    left.retain(|q| *q != p);
                }
            }
        }
        if !self.scene.two {
            self.back_to_panel();
        }
    }

    /// The next look of a tour: the best of those that still pay, or, before any, the best whatever it pays.
    fn next(&self, left: &[usize], rate: f64, looks: usize) -> Option<usize> {
        match self.crew.method {
            Method::Adaptive => self.planner().next(left, &self.scene, if looks == 0 { 0.0 } else { rate }),
            _ => left.first().copied(),
        }
    }

    fn record(&mut self, p: usize, observation: Observation) {
        self.next_id += 1;
        self.tracker.observe(&Evidence {
            id: EvidenceId(self.next_id),
            point: self.tracker.model.points[p].id,
            time: Timestamp::UNIX_EPOCH + self.walker.elapsed(),
            who: "practice".into(),
            step: None,
            observation,
        });
    }

    fn stays(&self, p: usize) -> bool {
        self.crew.leaves_lamps() && self.planner().lamp_stays(p, usize::from(self.crew.testers) - 1, &self.scene)
    }

    fn look(&mut self, p: usize) {
        let Some(there) = self.there(p) else { return };
        let settled: Vec<usize> =
            self.scene.left.iter().filter(|q| is_settled(self.tracker, **q)).filter_map(|q| self.there(*q)).collect();
        let another = self.tracker.seen[p].another;
        let dead = match (another, self.stays(p)) {
            (Some(way), _) => self.walker.look_another_way(there, way),
            _ if !self.crew.leaves_lamps() => self.walker.look_and_leave(there, |q| settled.contains(&q)),
            (_, true) => self.walker.leave_lamp(there),
            (_, false) => self.walker.look_and_go(there),
        };
        self.walker.spend(self.walker.costs.entry);
        let id = |q: &usize| self.tracker.model.point(self.world().point_ids[*q]);
        self.scene.left = self.walker.left().iter().filter_map(id).collect();
        let how = match (another, self.world().sort[there]) {
            (Some(way), _) => way,
            (_, Sort::Lighting) => Way::Light,
            _ if self.world().shows[there] => Way::Lamp,
            _ => Way::Tester,
        };
        let seen = if dead { Seen::Dead } else { Seen::Live };
        self.record(p, Observation::Power { off: ids(self.tracker, &self.scene.off), seen, how });
        if self.crew.leaves_lamps() && is_settled(self.tracker, p) {
            self.walker.take_lamp(there);
            self.scene.left.retain(|q| *q != p);
        }
        self.try_what_holds_it_off(p, there);
    }

    /// The radio is left playing at a point, and taken from where it played before, which the tour comes by.
    fn leave_radio(&mut self, p: usize) {
        let Some(there) = self.there(p) else { return };
        if self.scene.radio.replace(p).is_some() {
            self.walker.spend(self.walker.costs.unplug);
        }
        let dead = self.walker.leave_radio(there);
        self.hear(p, dead);
        self.try_what_holds_it_off(p, there);
    }

    fn listen(&mut self, p: usize) {
        let Some(there) = self.there(p) else { return };
        let dead = self.walker.listen(there);
        self.hear(p, dead);
    }

    fn hear(&mut self, p: usize, dead: bool) {
        self.walker.spend(self.walker.costs.entry);
        let seen = if dead { Seen::Dead } else { Seen::Live };
        self.record(p, Observation::Power { off: ids(self.tracker, &self.scene.off), seen, how: Way::Radio });
    }

    /// A load is switched on at each point; the monitor is read, or wires clamped by somebody at the panel.
    fn try_loads(&mut self, visit: &[usize]) {
        for p in visit {
            let Some(there) = self.there(*p) else { continue };
            self.enter(self.tracker.model.room[*p]);
            let rises = self.walker.rises(there);
            let costs = self.walker.costs;
            self.walker.spend(costs.plug + costs.unplug + if self.crew.monitor { costs.load } else { 0.0 });
            if !self.crew.monitor {
                if !self.scene.two {
                    self.back_to_panel();
                }
                let at = rises.map(|b| self.world().breaker_ids[b]);
                let suspects = self.planner().suspects(*p);
                let nth = suspects.iter().position(|(b, _)| Some(self.tracker.model.net.breakers[*b].id) == at);
                self.walker.spend(costs.clamp * (nth.map_or(suspects.len(), |n| n + 1)) as f64);
            }
            self.record(
                *p,
                match rises {
                    Some(b) => {
                        Observation::Rise { at: self.world().breaker_ids[b], expected: KNOWN_LOAD, rose: KNOWN_LOAD }
                    }
                    None => Observation::Power {
                        off: ids(self.tracker, &self.scene.off),
                        seen: Seen::Dead,
                        how: Way::Meter,
                    },
                },
            );
        }
        if !self.scene.two {
            self.back_to_panel();
        }
    }

    fn try_what_holds_it_off(&mut self, p: usize, there: usize) {
        let point = self.tracker.model.points[p];
        let behind = point.protected_by.is_some() || point.ground_fault;
        let may_be_held = matches!(point.kind, PointKind::Light | PointKind::Receptacle);
        let off = ids(self.tracker, &self.scene.off);
        let dead = self.tracker.model.net.dead(off.iter().copied());
        if may_be_held && self.tracker.may_be_held_off(p) && self.tracker.is_likely_on(p, &dead) {
            let was_off = self.walker.try_switch(there);
            let cause = if behind { Tried::Device } else { Tried::Switch };
            let off = Some(off);
            self.record(p, Observation::Tried { cause, was_off, off });
        }
    }

    /// The transmitter at a point, the receiver over the panel with everything on.
    fn sweep(&mut self, p: usize) {
        let Some(there) = self.there(p) else { return };
        self.enter(self.tracker.model.room[p]);
        self.walker.plug_transmitter(there);
        if !self.scene.two {
            self.back_to_panel();
        }
        if let Some(breaker) = self.walker.sweep(there) {
            self.record(p, Observation::Pointed { at: self.world().breaker_ids[breaker] });
        } else {
            // No signal: nothing feeds it.
            let off = BTreeSet::new();
            self.record(p, Observation::Power { off, seen: Seen::Dead, how: Way::Tester });
        }
    }
}
