//! How many seconds work takes: assumed at first, then as it was seen to take in this house.
//!
//! Nobody is asked to stop a watch: the times of the answers tell. Two looks in one room with the same handles are as far apart as
//! the second took, reading the screen and entering the answer included; with other handles an order lay between them; in another
//! room, a walk. A pause, a slip and a phone out of reach make gaps that say nothing of the work, so the median speaks, against
//! what was assumed, which weighs as much as [`ASSUMED_WEIGHS`] gaps.

use jiff::Timestamp;

use crate::house::{Evidence, Observation, Way};

/// Seconds of work.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Tempo {
    /// Passing an order to whoever moves the handles, and hearing that they are moved.
    pub order: f64,
    /// Looking at a light,
    pub light: f64,
    /// at what shows power by itself, or at a tester left in place,
    pub glance: f64,
    /// and with a tester that is plugged in for it.
    pub tester: f64,
    /// Walks between rooms take so many times what the plan says.
    pub walking: f64,
}

/// Common practice.
impl Default for Tempo {
    fn default() -> Self {
        Self { order: 5.0, light: 2.0, glance: 5.0, tester: 12.0, walking: 1.0 }
    }
}

/// Moving a handle, in seconds (common practice): two gaps that differ by a handle are too seldom to learn it from.
pub const HANDLE: f64 = 3.0;
/// Seconds to hold a meter's two probes into a receptacle and read it,
pub const METER: f64 = 15.0;
/// or to put a lamp into a light that is known to burn (common practice).
pub const CHANGE_LAMP: f64 = 20.0;

/// What was assumed counts as so many gaps.
const ASSUMED_WEIGHS: f64 = 8.0;
/// Seconds after which a gap is a pause: of a look, an order, a walk.
const A_PAUSE: f64 = 60.0;
/// Nobody is this many times quicker or slower than assumed: the clock is wrong.
const AT_MOST: f64 = 4.0;

impl Tempo {
    /// With somebody at the panel, a look that pays this share of the round's rate is taken along: it saves an order, and the more
    /// of an order the less it has to pay. The ends were found by playing houses of practice, at orders of nothing and of five
    /// seconds.
    pub fn staying_later(&self) -> f64 {
        0.7 - 0.3 * self.dear()
    }

    /// The same once the walker is in the room.
    pub fn staying_rate(&self) -> f64 {
        0.6 - 0.2 * self.dear()
    }

    fn dear(&self) -> f64 {
        (self.order / Self::default().order).min(1.0)
    }
}

/// The look before.
#[derive(Debug)]
struct Before {
    time: Timestamp,
    who: String,
    point: usize,
    room: usize,
    /// By breaker: its own handle is off.
    off: Vec<bool>,
}

/// Gaps between answers, by what lay in them.
#[derive(Debug, Default)]
pub struct Clock {
    before: Option<Before>,
    lights: Vec<f64>,
    glances: Vec<f64>,
    testers: Vec<f64>,
    /// Seconds beyond the look and the handles.
    orders: Vec<f64>,
    /// From room to room, and seconds beyond the look itself.
    walks: Vec<(usize, usize, f64)>,
}

impl Clock {
    /// A look comes in.
    pub fn hear(&mut self, evidence: &Evidence, point: usize, room: usize, off: &[bool]) {
        let Observation::Power { how, .. } = &evidence.observation else { return };
        if matches!(how, Way::Radio | Way::Word) {
            self.before = None;
            return;
        }
        let now = Before { time: evidence.time, who: evidence.who.clone(), point, room, off: off.to_vec() };
        if let Some(before) = self.before.replace(now).filter(|b| b.who == evidence.who) {
            let gap = evidence.time.duration_since(before.time).as_secs_f64();
            if gap > 0.0 && gap < A_PAUSE {
                self.sort(gap, *how, &before, (point, room, off));
            }
        }
    }

    fn sort(&mut self, gap: f64, how: Way, before: &Before, (point, room, off): (usize, usize, &[bool])) {
        let moved = before.off.iter().zip(off).filter(|(a, b)| a != b).count();
        let tempo = self.looks();
        let (kind, look) = match how {
            Way::Light => (&mut self.lights, tempo.light),
            Way::Lamp => (&mut self.glances, tempo.glance),
            // Still in, from the look before.
            _ if point == before.point => (&mut self.glances, tempo.glance),
            _ => (&mut self.testers, tempo.tester),
        };
        match (before.room == room, moved) {
            (true, 0) => kind.push(gap),
            (true, _) => self.orders.push((gap - look - HANDLE * moved as f64).max(0.0)),
            (false, 0) => self.walks.push((before.room, room, (gap - look).max(0.0))),
            // An order and a walk: which took how long cannot be told.
            (false, _) => {}
        }
    }

    fn looks(&self) -> Tempo {
        let assumed = Tempo::default();
        Tempo {
            light: learned(&self.lights, assumed.light),
            glance: learned(&self.glances, assumed.glance),
            tester: learned(&self.testers, assumed.tester),
            ..assumed
        }
    }

    /// As it is known by now; `between` gives the seconds that a walk between two rooms is assumed to take.
    pub fn tempo(&self, between: impl Fn(usize, usize) -> f64) -> Tempo {
        let assumed = Tempo::default();
        let walks = self.walks.iter().map(|(a, b, s)| (between(*a, *b), s)).filter(|(usual, _)| *usual > 0.0);
        let factors: Vec<f64> = walks.map(|(usual, seconds)| seconds / usual).collect();
        // An order may cost nothing at all: whoever is at the panel may hear it while the walker looks.
        Tempo {
            order: shrunk(&self.orders, assumed.order),
            walking: learned(&factors, assumed.walking),
            ..self.looks()
        }
    }
}

fn shrunk(gaps: &[f64], assumed: f64) -> f64 {
    let n = gaps.len() as f64;
    (n * median(gaps).unwrap_or(assumed) + ASSUMED_WEIGHS * assumed) / (n + ASSUMED_WEIGHS)
}

fn learned(gaps: &[f64], assumed: f64) -> f64 {
    shrunk(gaps, assumed).clamp(assumed / AT_MOST, assumed * AT_MOST)
}

fn median(gaps: &[f64]) -> Option<f64> {
    let mut sorted = gaps.to_vec();
    sorted.sort_by(f64::total_cmp);
    let middle = sorted.len() / 2;
    match sorted.len() {
        0 => None,
        even if even % 2 == 0 => Some(0.5 * (sorted[middle - 1] + sorted[middle])),
        _ => Some(sorted[middle]),
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::fixture::Fixture;
    use crate::house::{BreakerId, PointId, PointKind, Seen};
    use crate::trace::Tracker;

    /// Two rooms with four outlets and a light each, and who was where when: seconds, a point, a handle that is off.
    fn tempo(looks: &[(f64, usize, usize)]) -> Tempo {
        let mut f = Fixture::new(8);
        let rooms = [f.room("Den"), f.room("Hall")];
        let breakers: Vec<BreakerId> = ["1", "3", "5"].map(|at| f.breaker(at, 15.0, "")).to_vec();
        let kind = |n| if n % 5 == 4 { PointKind::Light } else { PointKind::Receptacle };
        let points: Vec<PointId> = (0..10).map(|n| f.point(&format!("P{n}"), rooms[n / 5], kind(n))).collect();
        for (seconds, point, off) in looks {
            let how = if kind(*point) == PointKind::Light { Way::Light } else { Way::Tester };
            let off = [breakers[*off]].into_iter().collect();
            let id = f.observe(points[*point], Observation::Power { off, seen: Seen::Live, how });
            let evidence = f.house.evidence.iter().find(|e| e.id == id).cloned().unwrap();
            let time = Timestamp::from_millisecond((seconds * 1000.0) as i64).unwrap();
            f.house.evidence.put(Evidence { time, ..evidence });
        }
        Tracker::new(&f.house).tempo(&[0.0, 10.0, 10.0, 0.0])
    }

    #[test]
    fn without_looks_it_is_what_was_assumed() {
        assert_eq!(tempo(&[]), Tempo::default());
        assert_eq!(tempo(&[(0.0, 0, 0)]), Tempo::default());
    }

    // By hand: (n · median + 8 · assumed) / (n + 8).
    #[test]
    fn the_times_of_the_answers_tell_what_looks_orders_and_walks_took() {
        // Testers plugged in every 20 seconds: four gaps.
        let slow: Vec<_> = (0..5).map(|n| (20.0 * n as f64, n % 4, 0)).collect();
        assert!((tempo(&slow).tester - (4.0 * 20.0 + 8.0 * 12.0) / 12.0).abs() < 1e-9);
        // A pause between two changes nothing.
        let paused: Vec<_> = slow.iter().map(|(s, p, off)| (if *p == 3 { s + 4000.0 } else { *s }, *p, *off)).collect();
        let paused: Vec<_> = paused.into_iter().filter(|(_, p, _)| *p != 0).collect();
        assert!((tempo(&paused).tester - (20.0 + 8.0 * 12.0) / 9.0).abs() < 1e-9);
        // The tester stays in while two handles move: of 19 seconds 6 are the handles', 5 the glance's, 8 the order's.
        let ordered: Vec<_> = (0..9).map(|n| (19.0 * n as f64, 0, n % 2)).collect();
        assert!((tempo(&ordered).order - (8.0 * 8.0 + 8.0 * 5.0) / 16.0).abs() < 1e-9);
        // From one room's light to the other's: two seconds are the look's, twenty the walk's, twice what was assumed.
        let walked: Vec<_> = (0..9).map(|n| (22.0 * n as f64, if n % 2 == 0 { 4 } else { 9 }, 0)).collect();
        assert!((tempo(&walked).walking - 1.5).abs() < 1e-9);
    }

    #[test]
    fn one_slow_look_among_many_counts_for_nothing_and_a_wrong_clock_for_little() {
        let even = |n: usize| (12.0 * n as f64, n % 4, 0);
        let mut looks: Vec<_> = (0..20).map(even).collect();
        looks.iter_mut().skip(10).for_each(|(s, ..)| *s += 45.0);
        assert!((tempo(&looks).tester - 12.0).abs() < 1e-9);
        let quick: Vec<_> = (0..500).map(|n| (0.001 * n as f64, n % 4, 0)).collect();
        assert!(tempo(&quick).tester >= 3.0);
    }
}
