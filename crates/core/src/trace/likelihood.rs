//! How probable an observation is, given what feeds the point.

use crate::base::position::Column;
use crate::base::units::Amps;
use crate::house::{Breaker, Seen, Way};

/// What may be behind a point.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum Power {
    /// The breaker with this index.
    Breaker(usize),
    /// Power from somewhere that no known breaker cuts: another panel, a backfeed.
    Elsewhere,
    /// No power at all: an open wire, a tripped device upstream, a switch that is off.
    Nothing,
}

/// How often a way of looking misleads in passing. All from practice, and at or above what careful people reach: in
/// simulated houses a rate assumed below the true one left wrong points, one above it cost a few minutes. What misleads
/// for good, such as a switch that is off, is a source of its own ([`Power::Nothing`]).
#[derive(Debug, Clone, Copy)]
pub struct Misread {
    /// Reads dead where there is power.
    pub false_dead: f64,
    /// Reads live where there is none.
    pub false_live: f64,
}

/// Ruled out is a breaker whose readings are this much less probable than under the best explanation: two readings
/// against it at the usual rate of slips (1 to 2 % each).
pub(super) const RULED_OUT: f64 = 0.002;

/// A worn contact, a tester held against the wrong slot; stray voltage on a non-contact tester (common practice).
pub const USUAL_MISREAD: f64 = 0.015;

impl Misread {
    pub fn of(how: Way) -> Self {
        let (false_dead, false_live) = match how {
            Way::Tester => (USUAL_MISREAD, USUAL_MISREAD),
            // A loose or blown lamp, a clock with a battery.
            Way::Lamp => (0.02, USUAL_MISREAD),
            // A photocell, somebody at another switch.
            Way::Light => (0.02, USUAL_MISREAD),
            // Between stations, or batteries.
            Way::Radio => (0.03, 0.03),
            Way::Meter => (0.01, 0.01),
            // Memory and hearsay.
            Way::Word => (0.25, 0.25),
        };
        Self { false_dead, false_live }
    }

    /// Probability of what was seen; `powered` says whether the source has power.
    pub fn probability(self, seen: Seen, powered: bool) -> f64 {
        match (seen, powered) {
            (Seen::Unsure, _) => 1.0,
            (Seen::Dead, true) => self.false_dead,
            (Seen::Live, true) => 1.0 - self.false_dead,
            (Seen::Dead, false) => 1.0 - self.false_live,
            (Seen::Live, false) => self.false_live,
        }
    }
}

/// A look less probable than this, given what feeds the point, does not fit.
pub const ODD: f64 = 0.06;

/// Where looks by one way do not fit together, something may mislead that way for good (a dimmer, a worn contact, a lamp that
/// is loose): so much oftener than in passing each of them is taken for wrong (common practice).
const MAY_MISLEAD: f64 = 0.03;

/// Probability of a look by a way that may mislead here, from that of one that does not.
pub fn may_mislead(p: f64) -> f64 {
    p + MAY_MISLEAD * (1.0 - 2.0 * p)
}

/// A receiver points at the right breaker nine times in ten (common practice; set on the safe side).
const POINTS_RIGHT: f64 = 0.90;
/// Else mostly at one beside or across; the rest goes evenly over all others.
const POINTS_NEAR: f64 = 0.08;

/// Probability that a receiver points at `at`, breaker by breaker: row-normalised over `breakers`.
pub fn pointing(breakers: &[&Breaker], place: &[(Column, u16)], at: usize, source: Power) -> f64 {
    let n = breakers.len() as f64;
    let Power::Breaker(truth) = source else {
        // No signal should be found; if it points at all it may be anywhere.
        return 1.0 / n.max(1.0);
    };
    let near = |a: usize, b: usize| {
        let ((ca, ra), (cb, rb)) = (place[a], place[b]);
        a != b && breakers[a].panel == breakers[b].panel && ra.abs_diff(rb) <= if ca == cb { 2 } else { 0 }
    };
    let neighbours = (0..breakers.len()).filter(|b| near(truth, *b)).count() as f64;
    let far = (n - 1.0 - neighbours).max(1.0);
    if at == truth {
        POINTS_RIGHT
    } else if near(truth, at) {
        POINTS_NEAR / neighbours
    } else {
        (1.0 - POINTS_RIGHT - POINTS_NEAR) / far
    }
}

/// Something else switches itself on or off just then (common practice).
const COINCIDENCE: f64 = 0.03;
/// Spread of a rise around what the load draws: its own tolerance and the instrument's, a tenth each (common practice),
const RISE_SPREAD: f64 = 0.15;
/// and of the reading of a circuit on which nothing changed, in amps.
const QUIET_SPREAD: f64 = 0.4;
/// A coincidence may be anything up to this many amps.
const COINCIDENCE_UP_TO: f64 = 20.0;

/// Density of a rise on a breaker, which does or does not feed the load.
pub fn rise(expected: Amps, rose: Amps, feeds: bool) -> f64 {
    let (mean, spread) =
        if feeds { (expected.0, QUIET_SPREAD + RISE_SPREAD * expected.0) } else { (0.0, QUIET_SPREAD) };
    let z = (rose.0 - mean) / spread;
    let bell = (-0.5 * z * z).exp() / (spread * std::f64::consts::TAU.sqrt());
    (1.0 - COINCIDENCE) * bell + COINCIDENCE / (2.0 * COINCIDENCE_UP_TO)
}

/// A cable followed with the cover off is the right one this often (common practice): cables cross behind the bus.
const WIRE_RIGHT: f64 = 0.97;

/// Work that ended with a reading was done as planned this often (common practice): it is proof (handbook 2.2), and still a
/// person's.
const LANDED_RIGHT: f64 = 0.999;

/// Probability that work says so of the breaker that feeds the point, or of one that does not.
pub fn landed(breakers: usize, feeds: bool) -> f64 {
    if feeds { LANDED_RIGHT } else { (1.0 - LANDED_RIGHT) / breakers.max(2) as f64 }
}

/// A look from before a breaker stood there says that the point hung on something else then. It would have had to be wired
/// anew since, with no job that says so (common practice: rare).
pub const BEFORE_IT_STOOD: f64 = 0.02;

/// Tried while its breaker is on, a switch that was off lights it: of all that leaves a point without power so much is
/// something else, an open wire or a lamp (common practice).
const DARK_OTHERWISE: f64 = 0.15;

/// Probability of what was found when what may hold the point off was tried; `powered`, where it is known what was on.
pub fn tried(lights: bool, source: Power, powered: Option<bool>) -> f64 {
    let misread = Misread::of(Way::Light);
    match (source, lights, powered) {
        (Power::Nothing, true, None) | (Power::Nothing, false, Some(_)) => DARK_OTHERWISE,
        (_, true, Some(powered)) => misread.probability(Seen::Live, powered),
        (_, false, Some(powered)) => misread.probability(Seen::Dead, powered),
        (_, _, None) => 1.0,
    }
}

/// Probability that a cable is followed to the breaker that feeds the point, or to one that does not.
pub fn wire(breakers: usize, feeds: bool) -> f64 {
    if feeds { WIRE_RIGHT } else { (1.0 - WIRE_RIGHT) / breakers.max(2) as f64 }
}
