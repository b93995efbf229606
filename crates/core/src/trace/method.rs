//! The next action by each way of tracing. Every way is a function of what was seen so far, so a run can change its way
//! at any time.

use crate::house::{Crew, Method};
use crate::house::{PointKind, Seen};
use crate::trace::code_words;
use crate::trace::gain::{Want, entropy};
use crate::trace::planner::{Plan, Planner, Scene};

/// What to do next.
#[derive(Debug, Clone)]
pub enum Action {
    /// Move handles, look at points.
    Switch(Plan),
    /// Put the transmitter at this point and sweep the panel, everything on.
    Receiver(Plan),
    /// Nothing is left that could be proven.
    Done,
}

/// To plug the transmitter in, sweep the panel and take it out again, in seconds (common practice).
const TRANSMITTER: f64 = 12.0 + 35.0 + 5.0;
/// What the receiver leaves open: about the entropy of nine in ten right and the rest over a handful of neighbours.
const RECEIVER_LEAVES_BITS: f64 = 0.8;
/// A breaker is tried for a point whose poles and rating speak against it no more than this.
const WORTH_TRYING: f64 = 0.1;

impl Planner<'_, '_> {
    /// The next action by the crew's way of tracing.
    pub fn action(&self, crew: &Crew, scene: &Scene) -> Action {
        let by_hand = match crew.method {
            Method::Adaptive => None,
            Method::OneAtATime => self.one_at_a_time(scene),
            Method::Halving => self.halving(scene),
            Method::Transmitter => self.transmitter(scene),
        };
        // What a way by hand leaves open is finished by what tells most.
        by_hand.unwrap_or_else(|| self.adaptive(crew, scene))
    }

    fn adaptive(&self, crew: &Crew, scene: &Scene) -> Action {
        let switch = self.plan(scene);
        let receiver = if crew.transmitter { self.receiver(scene) } else { None };
        let rate = |plan: &Option<Plan>| plan.as_ref().map_or(0.0, Plan::rate);
        match (switch, receiver) {
            (switch, Some(plan)) if plan.rate() > rate(&switch) => Action::Receiver(plan),
            (Some(plan), _) => Action::Switch(plan),
            (None, _) => Action::Done,
        }
    }

    fn open(&self) -> impl Iterator<Item = usize> {
        self.wants().into_iter().map(|w: Want| w.point)
    }

    /// The point was looked at, clearly, with just these handles off.
    fn looked(&self, point: usize, off: &[bool]) -> bool {
        let told = |l: &crate::trace::tracker::Look| matches!(&l.power, Some((set, seen)) if set.off == off && *seen != Seen::Unsure);
        self.tracker.seen[point].looks.iter().any(|l| !l.void && told(l))
    }

    fn only(&self, breaker: usize) -> Vec<bool> {
        (0..self.tracker.model.breakers()).map(|b| b == breaker).collect()
    }

    fn may_feed(&self, point: usize, breaker: usize) -> bool {
        self.tracker.model.rating[point * self.tracker.model.breakers() + breaker] >= WORTH_TRYING
    }

    fn one_at_a_time(&self, scene: &Scene) -> Option<Action> {
        let open: Vec<usize> = self.open().collect();
        (0..scene.off.len()).filter(|b| scene.allowed[*b]).find_map(|b| {
            let off = self.only(b);
            let wants = |p: &usize| self.may_feed(*p, b) && !self.looked(*p, &off);
            let visit: Vec<usize> = open.iter().copied().filter(wants).collect();
            (!visit.is_empty()).then(|| Action::Switch(self.tour_of(off, &visit, scene)))
        })
    }

    fn halving(&self, scene: &Scene) -> Option<Action> {
        let words = code_words(scene.off.len());
        let rounds = words.first().map_or(0, Vec::len);
        let open: Vec<usize> = self.open().collect();
        (0..rounds).find_map(|round| {
            let off: Vec<bool> = words.iter().zip(&scene.allowed).map(|(w, may)| w[round] && *may).collect();
            let visit: Vec<usize> = open.iter().copied().filter(|p| !self.looked(*p, &off)).collect();
            let tells = off.contains(&true) && !visit.is_empty();
            tells.then(|| Action::Switch(self.tour_of(off, &visit, scene)))
        })
    }

    fn transmitter(&self, scene: &Scene) -> Option<Action> {
        let model = &self.tracker.model;
        let open: Vec<usize> = self.open().collect();
        let pointed = |p: usize| self.tracker.seen[p].looks.iter().rev().find_map(|l| l.pointed);
        let to_confirm = open.iter().copied().find_map(|p| {
            let breaker = pointed(p).filter(|b| scene.allowed[*b])?;
            let off = self.only(breaker);
            (!self.looked(p, &off)).then_some((p, breaker, off))
        });
        if let Some((p, breaker, off)) = to_confirm {
            let near = |q: &usize| {
                let (a, b) = (model.room[p], model.room[*q]);
                *q == p || (a == b || model.rooms.beside(a, b)) && self.may_feed(*q, breaker) && !self.looked(*q, &off)
            };
            let visit: Vec<usize> = open.iter().copied().filter(near).collect();
            return Some(Action::Switch(self.tour_of(off, &visit, scene)));
        }
        let fresh = |p: &usize| self.takes_transmitter(*p) && pointed(*p).is_none();
        match open.into_iter().find(fresh) {
            Some(p) => Some(Action::Receiver(self.sweep(p, scene))),
            None => self.one_at_a_time(scene),
        }
    }

    /// Never above 120 V nor where the voltage is unknown: it destroys the transmitter (HANDBOOK 2.1.2). Lights need an
    /// adapter on live parts: receptacles only.
    fn takes_transmitter(&self, point: usize) -> bool {
        let point = self.tracker.model.points[point];
        point.kind == PointKind::Receptacle && point.volts.is_some_and(|v| !v.is_leg_to_leg())
    }

    /// The point where the receiver tells most.
    fn receiver(&self, scene: &Scene) -> Option<Plan> {
        let bits = |p: usize| self.tracker.belief(p).iter().map(|q| -q * q.max(f64::MIN_POSITIVE).log2()).sum::<f64>();
        let fit = self.open().filter(|p| self.takes_transmitter(*p));
        let most = fit.max_by(|a, b| bits(*a).total_cmp(&bits(*b)))?;
        let bits = bits(most) - RECEIVER_LEAVES_BITS;
        (bits > entropy(NEARLY_SURE)).then(|| Plan { bits, ..self.sweep(most, scene) })
    }

    fn sweep(&self, point: usize, scene: &Scene) -> Plan {
        let room = self.tracker.model.room[point];
        let walks = if scene.two { 0.0 } else { 2.0 * self.panel_walk(room) };
        let off = vec![false; scene.off.len()];
        let seconds = TRANSMITTER + walks + self.flips(&off, scene);
        Plan { off, visit: vec![point], bits: RECEIVER_LEAVES_BITS, seconds }
    }
}

/// The receiver is not asked about a point as sure as this.
const NEARLY_SURE: f64 = 0.01;
