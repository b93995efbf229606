//! One round: which handles are off while which points are looked at.

use crate::trace::feeding::Feeding;
use crate::trace::gain::{Want, told};

/// What a set of handles is chosen for.
pub struct Choice<'a> {
    pub net: &'a Feeding<'a>,
    pub wants: &'a [Want],
    /// By want: the seconds a look costs.
    pub price: &'a [f64],
    /// Bits a second that can be had elsewhere.
    pub rate: f64,
    /// By breaker: off now.
    pub now: &'a [bool],
    /// By breaker: may be switched off.
    pub allowed: &'a [bool],
    pub most_off: usize,
    /// Seconds to move a handle,
    pub flip: f64,
    /// and what an outage counts for, in seconds.
    pub outage: f64,
}

impl Choice<'_> {
    /// Climbs from each start by switching one breaker at a time, whichever adds most; the best end wins. In a small panel
    /// it climbs from each single breaker too: of a few breakers often only two together pay, and no single step leads
    /// there.
    pub fn best(&self, starts: &[Vec<bool>]) -> (f64, Vec<bool>) {
        let n = self.net.len();
        let singles = (0..n).filter(|_| n <= SMALL_PANEL).map(|b| (0..n).map(|other| other == b).collect());
        let climbed = starts.iter().cloned().chain(singles).map(|start| self.climb(start));
        climbed.max_by(|a, b| a.0.total_cmp(&b.0)).unwrap_or_else(|| (0.0, vec![false; self.net.len()]))
    }

    fn climb(&self, mut off: Vec<bool>) -> (f64, Vec<bool>) {
        let n = self.net.len();
        off.iter_mut().zip(self.allowed).for_each(|(off, may)| *off &= may);
        let mut state = State::new(self, &off);
        let mut value = state.value(self, &off, None);
        for _ in 0..3 * n {
            let count = off.iter().filter(|o| **o).count();
            let may = |b: &usize| self.allowed[*b] && (off[*b] || count < self.most_off);
            let valued = (0..n).filter(may).map(|b| (state.value(self, &off, Some(b)), b));
            match valued.max_by(|a, b| a.0.total_cmp(&b.0)) {
                Some((v, b)) if v > value + LEAST_STEP => {
                    state.toggle(self, &mut off, b);
                    value = v;
                }
                _ => break,
            }
        }
        (value, off)
    }

    /// Bits of a look above its price. One not worth its price still counts a little, so that the climb finds what would
    /// make it worth it.
    fn surplus(&self, i: usize, p_dead: f64, owed: f64, cut: impl Fn(usize) -> bool) -> f64 {
        let want = &self.wants[i];
        let bits = want.weight * (told(p_dead) + want.any_bits + owed + want.finish(cut, p_dead));
        let surplus = bits - self.rate * self.price[i];
        if surplus > 0.0 { surplus } else { LEAK * surplus }
    }

    fn handle(&self, b: usize, off: bool) -> f64 {
        match (off, self.now[b]) {
            (true, false) => self.flip + self.outage,
            (false, true) => self.flip,
            _ => 0.0,
        }
    }
}

/// Breakers of a small panel: trying each costs nothing there.
const SMALL_PANEL: usize = 12;
/// What a look that does not pay still counts: without it a climb never finds the handles that would make it pay.
const LEAK: f64 = 0.15;
/// A climb ends where no step adds more than this: rounding would let it go in circles.
const LEAST_STEP: f64 = 1e-9;

/// What a set of handles comes to, kept up while one breaker after the other is switched.
struct State {
    /// By breaker: how many handles cut it.
    cover: Vec<i32>,
    /// By want: the probability that it is dead, and the bits owed.
    p_dead: Vec<f64>,
    owed: Vec<f64>,
    seconds: f64,
}

impl State {
    fn new(c: &Choice<'_>, off: &[bool]) -> Self {
        let mut cover = vec![0; off.len()];
        for b in (0..off.len()).filter(|b| off[*b]) {
            c.net.below(b).iter().for_each(|i| cover[*i] += 1);
        }
        let dead: Vec<bool> = cover.iter().map(|c| *c > 0).collect();
        Self {
            p_dead: c.wants.iter().map(|w| w.p_dead(&dead)).collect(),
            owed: c.wants.iter().map(|w| w.owed(|b| off[b])).collect(),
            seconds: (0..off.len()).map(|b| c.handle(b, off[b])).sum(),
            cover,
        }
    }

    /// Breakers that lose or gain power when a handle is moved, and which of the two.
    fn changed<'n>(
        &'n self,
        c: &'n Choice<'_>,
        off: &[bool],
        b: usize,
    ) -> (impl Iterator<Item = usize> + Clone + 'n, f64) {
        let (last, sign) = if off[b] { (1, -1.0) } else { (0, 1.0) };
        (c.net.below(b).iter().copied().filter(move |i| self.cover[*i] == last), sign)
    }

    /// The value, with one more handle moved where one is named.
    fn value(&self, c: &Choice<'_>, off: &[bool], moved: Option<usize>) -> f64 {
        let Some(b) = moved else {
            let cut = |x: usize| self.cover[x] > 0;
            let looks = (0..c.wants.len()).map(|i| c.surplus(i, self.p_dead[i], self.owed[i], cut));
            return looks.sum::<f64>() - c.rate * self.seconds;
        };
        let (changed, sign) = self.changed(c, off, b);
        // Whatever hangs on a feeder is cut and returns with it.
        let below = c.net.below(b);
        let cut = |x: usize| {
            let moved = if below.contains(&x) { sign as i32 } else { 0 };
            self.cover[x] + moved > 0
        };
        let look = |i: usize| {
            let want = &c.wants[i];
            let change: f64 = changed.clone().map(|x| want.q[x]).sum();
            c.surplus(i, self.p_dead[i] + sign * change, self.owed[i] + sign * want.owed(|x| x == b), cut)
        };
        let seconds = self.seconds - c.handle(b, off[b]) + c.handle(b, !off[b]);
        (0..c.wants.len()).map(look).sum::<f64>() - c.rate * seconds
    }

    fn toggle(&mut self, c: &Choice<'_>, off: &mut [bool], b: usize) {
        let (changed, sign) = self.changed(c, off, b);
        let changed: Vec<usize> = changed.collect();
        for (i, want) in c.wants.iter().enumerate() {
            self.p_dead[i] += sign * changed.iter().map(|x| want.q[*x]).sum::<f64>();
            self.owed[i] += sign * want.owed(|x| x == b);
        }
        self.seconds += c.handle(b, !off[b]) - c.handle(b, off[b]);
        off[b] = !off[b];
        let step = if off[b] { 1 } else { -1 };
        c.net.below(b).iter().for_each(|i| self.cover[*i] += step);
    }
}
