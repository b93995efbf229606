//! The next action by each way of tracing. Every way is a function of what was seen so far, so a run can change its way
//! at any time.

use crate::house::Seen;
use crate::house::{Crew, Method};
use crate::trace::code_words;
use crate::trace::gain::Want;
use crate::trace::planner::{Planner, Scene, Tour};

/// What to do next.
#[derive(Debug, Clone)]
pub enum Turn {
    /// Move handles, look at points.
    Switch(Tour),
    /// Put the transmitter at this point and sweep the panel, everything on.
    Receiver(Tour),
    /// Switch a known load on at these points and read which current rises.
    Load(Tour),
    /// Move handles, and hear at the panel whether the radio at the point plays on.
    Listen(Tour),
    /// Nothing is left that could be proven.
    Done,
}

impl Turn {
    /// Bits a second. What a load or the receiver tells needs a switch-off to confirm it, with a look of its own.
    fn rate(&self, scene: &Scene) -> f64 {
        let confirmed_later = match (scene.outage > 0.0, scene.two) {
            // Without an outage it tells what else only outages would.
            (true, _) => 1.0,
            (false, false) => WORTH_ALONE,
            (false, true) => WORTH_TO_TWO,
        };
        match self {
            Self::Receiver(tour) | Self::Load(tour) => confirmed_later * tour.rate(),
            Self::Switch(tour) | Self::Listen(tour) => tour.rate(),
            Self::Done => 0.0,
        }
    }
}

/// What bits of a load or receiver are worth against those of a look; with somebody at the panel a look costs so little
/// that they seldom pay. Found by playing houses of practice.
const WORTH_ALONE: f64 = 0.8;
const WORTH_TO_TWO: f64 = 0.3;
/// A breaker is tried for a point whose poles and rating speak against it no more than this.
const WORTH_TRYING: f64 = 0.1;

impl Planner<'_, '_> {
    /// The next action by the crew's way of tracing.
    pub fn action(&self, crew: &Crew, scene: &Scene) -> Turn {
        let by_hand = match crew.method {
            Method::Adaptive => None,
            Method::OneAtATime => self.one_at_a_time(scene),
            Method::Halving => self.halving(scene),
            Method::Transmitter => self.transmitter(scene),
        };
        // What a way by hand leaves open is finished by what tells most.
        by_hand.unwrap_or_else(|| self.adaptive(crew, scene))
    }

    fn adaptive(&self, crew: &Crew, scene: &Scene) -> Turn {
        let with = |at_hand: bool, tour: &dyn Fn() -> Option<Tour>| if at_hand { tour() } else { None };
        let actions = [
            self.best_tour(scene).map(Turn::Switch),
            with(crew.transmitter, &|| self.receiver(scene)).map(Turn::Receiver),
            with(crew.monitor, &|| self.monitored(scene)).map(Turn::Load),
            with(crew.clamp, &|| self.clamped(scene)).map(Turn::Load),
            with(crew.radio, &|| self.listen(scene)).map(Turn::Listen),
        ];
        let best = actions.into_iter().flatten().max_by(|a, b| a.rate(scene).total_cmp(&b.rate(scene)));
        best.unwrap_or(Turn::Done)
    }

    pub(super) fn open(&self) -> impl Iterator<Item = usize> {
        self.wants().into_iter().map(|w: Want| w.point)
    }

    /// The point was looked at, clearly, with just these handles off.
    fn looked(&self, point: usize, off: &[bool]) -> bool {
        let told = |l: &crate::trace::look::Look| matches!(&l.power, Some((set, seen)) if set.off == off && *seen != Seen::Unsure);
        self.tracker.seen[point].looks.iter().any(|l| !l.void && told(l))
    }

    fn only(&self, breaker: usize) -> Vec<bool> {
        (0..self.tracker.model.breakers()).map(|b| b == breaker).collect()
    }

    fn may_feed(&self, point: usize, breaker: usize) -> bool {
        self.tracker.model.rating[point * self.tracker.model.breakers() + breaker] >= WORTH_TRYING
    }

    fn one_at_a_time(&self, scene: &Scene) -> Option<Turn> {
        let open: Vec<usize> = self.open().collect();
        (0..scene.off.len()).filter(|b| scene.allowed[*b]).find_map(|b| {
            let off = self.only(b);
            let wants = |p: &usize| self.may_feed(*p, b) && !self.looked(*p, &off);
            let visit: Vec<usize> = open.iter().copied().filter(wants).collect();
            (!visit.is_empty()).then(|| Turn::Switch(self.tour_of(off, &visit, scene)))
        })
    }

    fn halving(&self, scene: &Scene) -> Option<Turn> {
        let words = code_words(scene.off.len());
        let rounds = words.first().map_or(0, Vec::len);
        let open: Vec<usize> = self.open().collect();
        (0..rounds).find_map(|round| {
            let off: Vec<bool> = words.iter().zip(&scene.allowed).map(|(w, may)| w[round] && *may).collect();
            let visit: Vec<usize> = open.iter().copied().filter(|p| !self.looked(*p, &off)).collect();
            let tells = off.contains(&true) && !visit.is_empty();
            tells.then(|| Turn::Switch(self.tour_of(off, &visit, scene)))
        })
    }

    fn transmitter(&self, scene: &Scene) -> Option<Turn> {
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
            return Some(Turn::Switch(self.tour_of(off, &visit, scene)));
        }
        let fresh = |p: &usize| self.takes_plug(*p) && pointed(*p).is_none();
        match open.into_iter().find(fresh) {
            Some(p) => Some(Turn::Receiver(self.sweep(p, scene))),
            None => self.one_at_a_time(scene),
        }
    }
}
