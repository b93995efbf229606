//! A thing at 240 V on two single-pole breakers, as found in old panels: each gives it one leg.
//!
//! With one of the two off the thing does not run, and yet one of its wires is live: a lamp or a display reads dead, a
//! tester at that wire reads live. Only both off make it dead.

use crate::base::position::Leg;
use crate::house::{Breaker, House, PanelId};
use crate::trace::likelihood::RULED_OUT;
use crate::trace::look::Seenness;

/// A thing at 240 V hangs on two handles this often: rare in a house that is not old (common practice).
pub const ON_TWO_HANDLES: f64 = 0.003;
/// The same where no breaker has the poles for 240 V: two handles, or a breaker that is not known (common practice).
pub const WHERE_NONE_HAS_THE_POLES: f64 = 0.5;
/// Pairs are looked for where every single breaker makes the readings less probable than this: at least one reading must
/// be a slip, if one handle does it.
const ONE_HANDLE_DOES_NOT: f64 = 0.05;

/// Two single-pole breakers that may feed a point together.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Pair {
    pub breakers: [usize; 2],
    /// Probability.
    pub p: f64,
}

/// Pairs of single poles in one panel, on different legs.
pub fn pairs(house: &House, breakers: &[&Breaker]) -> Vec<[usize; 2]> {
    let place = |breaker: &Breaker| -> Option<(PanelId, Leg)> {
        let [at] = breaker.at.as_slice() else { return None };
        Some((breaker.panel, house.panels.get(breaker.panel)?.leg(*at)))
    };
    let single: Vec<_> = breakers.iter().enumerate().filter_map(|(b, breaker)| Some((b, place(breaker)?))).collect();
    let mut pairs = Vec::new();
    for (nth, (a, (panel, leg))) in single.iter().enumerate() {
        let other = |(_, (p, l)): &&(usize, (PanelId, Leg))| p == panel && l != leg;
        pairs.extend(single[nth + 1..].iter().filter(other).map(|(b, _)| [*a, *b]));
    }
    pairs
}

/// The pairs that explain the readings of a point at 240 V where none of the single handles that are possible does, the best first, with the logarithm
/// of the probability of all readings. Nothing where one handle may do it; that it is fed from elsewhere is ruled out by
/// neither.
///
/// With one of the two off a look may come out either way, so its probability is the mean of what it is behind each.
pub fn fitting(pairs: &[[usize; 2]], possible: impl Iterator<Item = usize>, seen: &Seenness) -> Vec<([usize; 2], f64)> {
    let single = possible.map(|b| seen.log[b]).fold(f64::NEG_INFINITY, f64::max);
    if single > ONE_HANDLE_DOES_NOT.ln() {
        return Vec::new();
    }
    let log = |[a, b]: [usize; 2]| -> f64 {
        let looks = seen.looks.iter().filter(|l| !l.void);
        looks.map(|l| (f64::midpoint(l.log[a].exp(), l.log[b].exp())).ln()).sum()
    };
    let mut fits: Vec<([usize; 2], f64)> = pairs.iter().map(|p| (*p, log(*p))).collect();
    fits.sort_by(|a, b| b.1.total_cmp(&a.1));
    let best = fits.first().map_or(f64::NEG_INFINITY, |f| f.1);
    fits.retain(|f| f.1 > single && f.1 - best > RULED_OUT.ln());
    fits
}
