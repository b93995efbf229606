//! One slip at the panel that explains many answers: in a session of looks another breaker was off than was noted.
//!
//! Looks made one after the other with the same handles are a session. A handle that stood otherwise than noted, in one
//! session or in a few that follow each other (one that was forgotten stays off until somebody sees it), makes the answers of all
//! their points wrong together. It is told where it explains what no breakers explain, and the answers by far better than
//! slips of the tester, each by itself.

use std::collections::BTreeSet;

use jiff::SignedDuration;

use crate::house::{BreakerId, EvidenceId};
use crate::trace::likelihood::{ODD, Power};
use crate::trace::look::Look;
use crate::trace::tracker::Tracker;

/// Looks with the same handles are one session while nobody pauses for longer.
const PAUSE: SignedDuration = SignedDuration::from_mins(30);
/// A handle is forgotten for so many sessions at the most.
const FORGOTTEN_FOR: usize = 6;
/// A session goes wrong this often (common practice): so much speaks against it beforehand.
const WRONG_SESSION: f64 = 0.01;
/// Told from here on, as a logarithm: some fifty times likelier than that each answer slipped by itself.
const WORTH_TELLING: f64 = 4.0;
/// Fewer than so many points may each have slipped by themselves.
const LEAST_POINTS: usize = 2;

/// How a handle stood otherwise than noted.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub(super) enum HandleSlip {
    /// Off as well.
    AlsoOff(usize),
    /// On, where it is noted as off.
    On(usize),
    /// Off in place of one that is noted, and that was on.
    Instead { noted: usize, off: usize },
}

/// A story of one session, or of some that follow each other.
#[derive(Debug, Clone)]
pub(super) struct SlipTale {
    pub stood: HandleSlip,
    /// What was noted as off in its first session.
    pub noted: Vec<usize>,
    /// All looks of its sessions, as they would have to be put right.
    pub looks: Vec<EvidenceId>,
    /// The points that it explains.
    pub points: Vec<usize>,
    /// How much likelier than slips, natural logarithm.
    pub weight: f64,
}

impl HandleSlip {
    /// Breakers noted as on that were off, and those noted as off that were on.
    pub fn changes(self) -> (Option<usize>, Option<usize>) {
        match self {
            Self::AlsoOff(b) => (Some(b), None),
            Self::On(b) => (None, Some(b)),
            Self::Instead { noted, off } => (Some(off), Some(noted)),
        }
    }
}

/// Looks of one session: the point, and which of its looks.
type Session = Vec<(usize, usize)>;

struct Sessions<'t> {
    tracker: &'t Tracker<'t>,
    all: Vec<Session>,
}

/// The stories that explain points of those that nothing else explains, the best first, each point by one.
pub(super) fn tales(tracker: &Tracker<'_>, unexplained: &[usize]) -> Vec<SlipTale> {
    let mut left: BTreeSet<usize> = unexplained.iter().copied().collect();
    if left.len() < LEAST_POINTS {
        return Vec::new();
    }
    let sessions = Sessions { tracker, all: sessions(tracker) };
    let mut told = Vec::new();
    while let Some(tale) = sessions.best(&left) {
        tale.points.iter().for_each(|p| {
            left.remove(p);
        });
        told.push(tale);
    }
    told
}

fn is_read(look: &Look) -> bool {
    look.direct && !look.void && look.how.is_some()
}

/// Clear looks at the power in the order of time, cut where handles change or somebody pauses.
fn sessions(tracker: &Tracker<'_>) -> Vec<Session> {
    let looks = tracker.seen.iter().enumerate();
    let mut all: Vec<(usize, usize, &Look)> = looks
        .flat_map(|(p, seen)| seen.looks.iter().enumerate().map(move |(nth, look)| (p, nth, look)))
        .filter(|(_, _, look)| is_read(look))
        .collect();
    all.sort_by_key(|(_, _, look)| (look.time, look.id));
    let same = |a: &Look, b: &Look| {
        let off = |look: &Look| look.power.as_ref().map(|(set, _)| std::sync::Arc::clone(set));
        off(a) == off(b) && b.time.duration_since(a.time) <= PAUSE
    };
    all.chunk_by(|a, b| same(a.2, b.2)).map(|chunk| chunk.iter().map(|(p, nth, _)| (*p, *nth)).collect()).collect()
}

impl Sessions<'_> {
    fn look(&self, (point, nth): (usize, usize)) -> &Look {
        &self.tracker.seen[point].looks[nth]
    }

    fn best(&self, left: &BTreeSet<usize>) -> Option<SlipTale> {
        let touches = |session: &Session| session.iter().any(|(p, _)| left.contains(p));
        let mut best: Option<SlipTale> = None;
        for first in (0..self.all.len()).filter(|s| touches(&self.all[*s])) {
            let follow = self.all[first..].iter().take(FORGOTTEN_FOR).take_while(|s| touches(s)).count();
            for count in 1..=follow {
                let window = &self.all[first..first + count];
                for stood in self.ways(window) {
                    let tale = self.tell(window, stood, left);
                    let better = |t: &SlipTale| best.as_ref().is_none_or(|b| t.weight > b.weight);
                    best = tale.filter(better).or(best);
                }
            }
        }
        best
    }

    /// How handles may have stood otherwise in these sessions.
    fn ways(&self, window: &[Session]) -> Vec<HandleSlip> {
        let noted = self.noted(&window[0]);
        let on: Vec<usize> = (0..self.tracker.model.breakers()).filter(|b| !noted.contains(b)).collect();
        let mut ways: Vec<HandleSlip> = on.iter().map(|b| HandleSlip::AlsoOff(*b)).collect();
        // A forgotten handle stays off from session to session; another slip is of one alone.
        if window.len() == 1 {
            ways.extend(noted.iter().map(|b| HandleSlip::On(*b)));
            ways.extend(
                noted.iter().flat_map(|noted| on.iter().map(|off| HandleSlip::Instead { noted: *noted, off: *off })),
            );
        }
        ways
    }

    fn tell(&self, window: &[Session], stood: HandleSlip, left: &BTreeSet<usize>) -> Option<SlipTale> {
        let dead: Vec<Vec<bool>> = window.iter().map(|session| self.dead(session, stood)).collect();
        // Most ways explain nothing: that is seen at the few points in question, before all are weighed.
        let asked = left.iter().copied().filter(|p| window.iter().flatten().any(|(q, _)| q == p));
        let points: Vec<usize> = asked.filter(|p| self.fits(*p, window, &dead, stood)).collect();
        if points.len() < LEAST_POINTS {
            return None;
        }
        let touched: BTreeSet<usize> = window.iter().flatten().map(|(p, _)| *p).collect();
        let gain =
            |p: usize| self.weight(p, &self.otherwise(p, window, &dead)) - self.weight(p, &self.otherwise(p, &[], &[]));
        let weight = self.beforehand(stood) + touched.into_iter().map(gain).sum::<f64>();
        let looks = window.iter().flatten().map(|at| self.look(*at).id).collect();
        (weight >= WORTH_TELLING).then(|| SlipTale { stood, noted: self.noted(&window[0]), looks, points, weight })
    }

    /// By breaker: off as noted in a session.
    fn noted(&self, session: &Session) -> Vec<usize> {
        let set = session.first().and_then(|at| self.look(*at).power.as_ref());
        set.map_or_else(Vec::new, |(set, _)| (0..set.off.len()).filter(|b| set.off[*b]).collect())
    }

    /// By breaker: no power behind it, had the handles stood so.
    fn dead(&self, session: &Session, stood: HandleSlip) -> Vec<bool> {
        let (off, on) = stood.changes();
        let net = &self.tracker.model.net;
        let truly = self.noted(session).into_iter().filter(|b| Some(*b) != on).chain(off);
        net.dead(truly.map(|b| net.breakers[b].id).collect::<Vec<BreakerId>>())
    }

    /// By clear look at a point and source: the logarithm of its probability, those of these sessions with other handles.
    fn otherwise(&self, point: usize, window: &[Session], dead: &[Vec<bool>]) -> Vec<Vec<f64>> {
        let of = |(nth, look): (usize, &Look)| {
            let changed = window.iter().position(|session| session.contains(&(point, nth)));
            changed.map_or_else(|| look.log.clone(), |session| self.as_if(look, &dead[session]))
        };
        self.tracker.seen[point].looks.iter().enumerate().filter(|(_, look)| is_read(look)).map(of).collect()
    }

    fn as_if(&self, look: &Look, dead: &[bool]) -> Vec<f64> {
        self.tracker.sources().map(|s| self.chance(look, dead, s).ln()).collect()
    }

    /// How probable looks at a point are, natural logarithm.
    fn weight(&self, point: usize, looks: &[Vec<f64>]) -> f64 {
        let before = self.tracker.before(point);
        let log = |s: usize| before[s].ln() + looks.iter().map(|l| l[s]).sum::<f64>();
        let all: Vec<f64> = (0..before.len()).map(log).collect();
        let most = all.iter().copied().fold(f64::NEG_INFINITY, f64::max);
        most + all.iter().map(|l| (l - most).exp()).sum::<f64>().ln()
    }

    /// One breaker makes all looks what was to be expected, those of these sessions with other handles.
    fn fits(&self, point: usize, window: &[Session], dead: &[Vec<bool>], stood: HandleSlip) -> bool {
        let looks = || self.tracker.seen[point].looks.iter().enumerate().filter(|(_, look)| is_read(look));
        let chance = |b: usize, (nth, look): (usize, &Look)| match window
            .iter()
            .position(|session| session.contains(&(point, nth)))
        {
            Some(session) => self.chance(look, &dead[session], Power::Breaker(b)),
            None => look.log[b].exp(),
        };
        // All that other breakers explain is as before, and that was not enough.
        let (off, on) = stood.changes();
        let below = off.into_iter().chain(on).flat_map(|b| self.tracker.model.net.below(b)).copied();
        below.filter(|b| self.tracker.model.is_possible(point, *b)).any(|b| looks().all(|look| chance(b, look) >= ODD))
    }

    /// Probability of a look had this been dead.
    fn chance(&self, look: &Look, dead: &[bool], source: Power) -> f64 {
        let evidence = self.tracker.model.house.evidence.get(look.id);
        evidence.map_or(1.0, |evidence| self.tracker.model.likelihood(evidence, dead, source))
    }

    /// How probable such a slip is, natural logarithm: which breaker it was is one of many, unless it is the one that is noted.
    fn beforehand(&self, stood: HandleSlip) -> f64 {
        let among = match stood {
            HandleSlip::On(_) => 1,
            HandleSlip::AlsoOff(_) | HandleSlip::Instead { .. } => self.tracker.model.breakers(),
        };
        (WRONG_SESSION / among as f64).ln()
    }
}
