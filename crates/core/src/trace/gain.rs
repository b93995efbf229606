//! What a look is worth: expected information in bits, the proof it may bring, and the chance that it settles a point.

use std::sync::Arc;
use std::sync::OnceLock;

use crate::base::chance::entropy;
use crate::house::{PointKind, Seen};
use crate::trace::likelihood::USUAL_MISREAD;
use crate::trace::look::OffSet;
use crate::trace::proof::{self, Missing};
use crate::trace::tracker::Tracker;

/// A point looked at so often and still open is left to other means.
const MOST_LOOKS: usize = 40;
/// Steps of the table of information by probability.
const STEPS: usize = 4096;

// What else than information counts, in bits. Found by playing houses of practice; each within a tenth of a minute of its
// neighbours, so none is sharp.
/// The dead reading, or the return, still owed to proof of a breaker that is sure.
const PROOF: f64 = 0.4;
/// Near the end information dries up: what separates the best from the second best is wanted for itself.
const DUEL: f64 = 0.2;
/// A look that tells a likely breaker from all those that no reading tells it from yet; labels make one sure before
/// information alone would ask for that look.
const APART: f64 = 0.3;
const APART_FROM: f64 = 0.5;
const DUEL_FROM: f64 = 0.9;
/// A look that settles the point, whichever way it comes out: each open point costs a walk later.
const FINISH: f64 = 0.5;

/// Seconds that looking at a point once more costs later, and its share of the walk there: a bit is worth most where the
/// next would be dear.
const LATER_LIGHT: f64 = 2.0;
const LATER_GLANCE: f64 = 5.0;
const LATER_PLUG: f64 = 12.0;
const LATER_WALK: f64 = 8.0;
const LATER_USUAL: f64 = 7.0 + LATER_WALK;

/// Bits that a look tells when its point is dead with probability `p`: by table, since it is asked millions of times.
pub fn told(p: f64) -> f64 {
    static TABLE: OnceLock<Vec<f64>> = OnceLock::new();
    let table = TABLE.get_or_init(|| {
        let bits = |step: usize| (entropy(reads_dead(step as f64 / STEPS as f64)) - entropy(USUAL_MISREAD)).max(0.0);
        (0..=STEPS).map(bits).collect()
    });
    table[((p.clamp(0.0, 1.0) * STEPS as f64) as usize).min(STEPS)]
}

/// The least probability of a breaker for a look to settle its point on it. The outcome of a look is at least as probable
/// as the breaker alone makes it, so one less likely does not reach the threshold after it.
fn settles_from(threshold: f64) -> f64 {
    let slip = threshold * USUAL_MISREAD;
    slip / (slip + (1.0 - USUAL_MISREAD) * (1.0 - threshold))
}

fn reads_dead(p: f64) -> f64 {
    p * (1.0 - USUAL_MISREAD) + (1.0 - p) * USUAL_MISREAD
}

/// An open point and what it still wants.
#[derive(Debug, Clone)]
pub struct Want {
    pub point: usize,
    /// By breaker: the probability that it feeds the point, or that the point looks dead without it.
    pub q: Vec<f64>,
    /// Dead whatever is on.
    pub nothing: f64,
    /// Bits for each of these breakers that is off during a look,
    off_bits: [(usize, f64); 2],
    /// and for the look whatever is off.
    pub any_bits: f64,
    /// Breakers so likely that a look may settle the point on them, and whether it was seen dead with each off.
    settling: Vec<(usize, bool)>,
    /// A single dead reading would do for proof.
    confirmed: bool,
    /// The likeliest breaker; those that no reading tells from it yet; and the bits of a look that does.
    top: usize,
    rivals: Vec<usize>,
    apart_bits: f64,
    threshold: f64,
    /// Sets of handles the point was looked at with, and how often.
    looked: Vec<(Arc<OffSet>, i32)>,
    /// What a bit here saves later, against the usual point.
    pub weight: f64,
}

/// It rather hangs on what is off for somebody's work than elsewhere.
fn is_held(tracker: &Tracker<'_>, point: usize) -> bool {
    let held = &tracker.model.held;
    if !held.contains(&true) {
        return false;
    }
    let belief = tracker.belief(point);
    (0..held.len()).filter(|b| held[*b]).map(|b| belief[b]).sum::<f64>() > RATHER
}

/// More likely than not.
const RATHER: f64 = 0.5;

impl Want {
    /// What an open point wants; nothing where it is settled, or where looking has proved to be in vain, or where it is likely
    /// dead for somebody's work.
    pub fn new(tracker: &Tracker<'_>, point: usize) -> Option<Self> {
        let looks = tracker.seen[point].looks.iter().filter(|l| l.direct && !l.void).count();
        if proof::is_settled(tracker, point) || looks >= MOST_LOOKS || is_held(tracker, point) {
            return None;
        }
        let mut want = Self {
            point,
            q: dead_with(tracker, point),
            nothing: tracker.nothing(point),
            off_bits: [(0, 0.0); 2],
            any_bits: 0.0,
            settling: Vec::new(),
            confirmed: !proof::missing(tracker, point).contains(&Missing::SeenBack),
            top: 0,
            rivals: Vec::new(),
            apart_bits: 0.0,
            threshold: tracker.model.house.about.proof_threshold,
            looked: looked(tracker, point),
            weight: weight(tracker, point),
        };
        let (least, seen_dead) = (settles_from(want.threshold), seen_dead(tracker, point));
        want.settling = (0..want.q.len()).filter(|b| want.q[*b] >= least).map(|b| (b, seen_dead[b])).collect();
        want.owe(tracker);
        Some(want)
    }

    fn owe(&mut self, tracker: &Tracker<'_>) {
        let Some((top, sure)) = tracker.top(self.point) else { return };
        let missing = proof::missing(tracker, self.point);
        self.top = top;
        self.rivals = proof::rivals(tracker, self.point, top);
        if sure > APART_FROM && !self.rivals.is_empty() {
            self.apart_bits = APART * sure;
        }
        let elsewhere = tracker.elsewhere(self.point);
        if elsewhere + self.nothing > sure {
            // A point believed dead is settled by looks with its likeliest breaker on, one fed from elsewhere with it off.
            if elsewhere > self.nothing {
                self.off_bits[0] = (top, DUEL);
            } else {
                self.any_bits = DUEL;
                self.off_bits[0] = (top, -DUEL);
            }
            return;
        }
        if missing.contains(&Missing::SeenDead) {
            self.off_bits[0] = (top, PROOF * sure);
        } else if missing.contains(&Missing::SeenBack) {
            self.any_bits = PROOF * sure;
            self.off_bits[0] = (top, -PROOF * sure);
        } else if sure > DUEL_FROM {
            self.duel(top);
        }
    }

    fn duel(&mut self, top: usize) {
        let others = (0..self.q.len()).filter(|b| *b != top);
        match others.max_by(|a, b| self.q[*a].total_cmp(&self.q[*b])) {
            Some(rival) if self.q[rival] >= self.nothing => self.off_bits = [(top, DUEL), (rival, -DUEL)],
            _ => {
                self.any_bits = DUEL;
                self.off_bits[0] = (top, -DUEL);
            }
        }
    }

    /// Probability that it is dead behind these.
    pub fn p_dead(&self, dead: &[bool]) -> f64 {
        self.nothing + self.q.iter().zip(dead).filter(|(_, d)| **d).map(|(q, _)| q).sum::<f64>()
    }

    /// Bits owed to proof with these breakers off.
    pub fn owed(&self, off: impl Fn(usize) -> bool) -> f64 {
        self.off_bits.iter().filter(|(b, bits)| *bits != 0.0 && off(*b)).map(|(_, bits)| bits).sum()
    }

    /// Worth of the chance that a look settles the point, and of the rivals that it tells apart, with these breakers cut.
    pub fn finish(&self, cut: impl Fn(usize) -> bool, p_dead: f64) -> f64 {
        let (mut most_cut, mut most_on) = (0.0_f64, 0.0_f64);
        for (b, was_dead) in &self.settling {
            if cut(*b) {
                most_cut = most_cut.max(self.q[*b]);
            } else if *was_dead {
                most_on = most_on.max(self.q[*b]);
            }
        }
        if self.apart_bits == 0.0 && most_cut == 0.0 && most_on == 0.0 {
            return 0.0;
        }
        let dead = reads_dead(p_dead);
        let settled = |most: f64, outcome: f64| most * (1.0 - USUAL_MISREAD) >= self.threshold * outcome;
        // Rivals that the look leaves beside the likeliest breaker keep the point open.
        let rivals_cut = || self.rivals.iter().filter(|b| cut(**b)).count();
        let mut chance = 0.0;
        if self.confirmed && settled(most_cut, dead) && rivals_cut() == 0 {
            chance += dead;
        }
        if settled(most_on, 1.0 - dead) && rivals_cut() == self.rivals.len() {
            chance += 1.0 - dead;
        }
        if self.apart_bits == 0.0 {
            return FINISH * chance;
        }
        let apart = if cut(self.top) { self.rivals.len() - rivals_cut() } else { rivals_cut() };
        FINISH * chance + self.apart_bits * apart as f64 / self.rivals.len() as f64
    }

    /// Bits of a look with these handles off, weighed by what they save later.
    pub fn bits(&self, set: &OffSet) -> f64 {
        let p = self.p_dead(&set.dead);
        let times = self.looked.iter().find(|(before, _)| **before == *set).map_or(0, |(_, times)| *times);
        // The same once more tells a slip, and after that less and less: what misleads, misleads again.
        let fresh = 0.5_f64.powi((times - 1).max(0));
        fresh * self.weight * (told(p) + self.any_bits + self.owed(|b| set.off[b]) + self.finish(|b| set.dead[b], p))
    }
}

/// By breaker: the probability that the point looks dead without it. Of a thing on two handles one does it every other time.
fn dead_with(tracker: &Tracker<'_>, point: usize) -> Vec<f64> {
    let mut q = tracker.belief(point)[..tracker.model.breakers()].to_vec();
    for pair in tracker.pairs(point) {
        pair.breakers.iter().for_each(|b| q[*b] += pair.p / 2.0);
    }
    q
}

/// The sets of handles a point was looked at with, and how often.
fn looked(tracker: &Tracker<'_>, point: usize) -> Vec<(Arc<OffSet>, i32)> {
    let mut looked: Vec<(Arc<OffSet>, i32)> = Vec::new();
    for look in tracker.seen[point].looks.iter().filter(|l| !l.void && l.direct) {
        let Some((set, _)) = &look.power else { continue };
        match looked.iter_mut().find(|(before, _)| before == set) {
            Some((_, times)) => *times += 1,
            None => looked.push((Arc::clone(set), 1)),
        }
    }
    looked
}

/// By breaker: the point was seen dead with it off.
fn seen_dead(tracker: &Tracker<'_>, point: usize) -> Vec<bool> {
    let mut seen = vec![false; tracker.model.breakers()];
    for look in tracker.seen[point].looks.iter().filter(|l| !l.void && l.direct) {
        if let Some((set, Seen::Dead)) = &look.power {
            seen.iter_mut().zip(&set.off).for_each(|(s, o)| *s |= o);
        }
    }
    seen
}

fn weight(tracker: &Tracker<'_>, point: usize) -> f64 {
    let point = tracker.model.points[point];
    let later = match point.kind {
        PointKind::Light | PointKind::Switch => LATER_LIGHT,
        PointKind::Receptacle | PointKind::Other if !point.shows => LATER_PLUG,
        _ => LATER_GLANCE,
    };
    (later + LATER_WALK) / LATER_USUAL
}
