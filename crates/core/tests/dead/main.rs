//! "Something is dead", played from outside: houses by another model, sixteen sorts of fault, people who slip, three degrees of
//! mapping. Aims and figures: docs/benchmarks.md. `WAYFINDER_DEAD=N` plays N cases a degree and prints the table,
//! `WAYFINDER_SORT="power cut"` how each case of a sort ended.

#![allow(clippy::unwrap_used, reason = "a test that cannot go on fails")]

mod fault;
mod honest;
mod house;
mod resets;

use std::collections::{BTreeMap, BTreeSet};

use fault::{Fault, State};
use house::{Made, Mapped, made};
use rand::rngs::ChaCha8Rng;
use rand::seq::SliceRandom;
use rand::{RngExt, SeedableRng};
use wayfinder_core::answers::diagnose::{
    Answer, Check, Complaint, Diagnosis, Extent, HandlesSeen, Showed, Sign, Stop, diagnose,
};
use wayfinder_core::base::position::Leg;
use wayfinder_core::base::units::Volts;
use wayfinder_core::house::*;
use wayfinder_core::load::suspect::{BothSides, SideRead};
use wayfinder_core::trace::{Beliefs, beliefs};

/// A look is told wrongly this often (common practice).
const SLIP: f64 = 0.015;
/// A tripped handle is taken for one that is on (common practice).
const OVERLOOKED: f64 = 0.08;
/// Who finds about half of the house dead says so at once so often: the page asks it beside the first question. (common practice)
const TELLS_HALF: f64 = 0.7;
/// Nobody looks for longer.
const LOOKS: usize = 14;

/// Somebody who calls, and looks.
struct Person<'m> {
    made: &'m Made,
    fault: &'m Fault,
    /// What leg A has of 240 V where a neutral floats.
    share: f64,
    qualified: bool,
    rng: ChaCha8Rng,
}

impl Person<'_> {
    fn state(&self, point: PointId) -> State {
        self.fault.state(self.made, point, self.share)
    }

    /// What is noticed first: a few dead things, a few that work.
    fn complains(&mut self) -> Complaint {
        let mut seen: Vec<PointId> = self.made.hung.keys().copied().collect();
        seen.shuffle(&mut self.rng);
        let mut complaint = Complaint { qualified: self.qualified, ..Complaint::default() };
        let all = seen.iter().all(|p| self.state(*p) == State::Dead);
        if all && self.rng.random_bool(0.95) {
            complaint.signs.insert(Sign::Everything);
            return complaint;
        }
        if self.extent() == Extent::Half && self.rng.random_bool(TELLS_HALF) {
            complaint.signs.insert(Sign::HalfDead);
        }
        let (named, well) = (self.rng.random_range(1..4), self.rng.random_range(0..4));
        for point in seen {
            let light = self.made.house.points.get(point).unwrap().kind == PointKind::Light;
            match self.state(point) {
                State::Dead if complaint.dead.len() < named => {
                    complaint.dead.insert(point);
                }
                State::Dim if complaint.dim.len() < named => {
                    complaint.dim.insert(point);
                }
                State::Bright if light && complaint.bright.is_empty() && self.rng.random_bool(0.5) => {
                    complaint.bright.insert(point);
                }
                State::Well if complaint.working.len() < well => {
                    complaint.working.insert(point);
                }
                _ => {}
            }
        }
        complaint
    }

    /// How much is dead, by the rooms in which something is: nobody counts points, and where it is a third to a half of the rooms, one
    /// says so and another one so. (common practice)
    fn extent(&mut self) -> Extent {
        let mut rooms: BTreeMap<RoomId, bool> = BTreeMap::new();
        let mut all = true;
        for point in self.made.hung.keys() {
            let state = self.state(*point);
            all &= state == State::Dead;
            let room = self.made.house.points.get(*point).unwrap().room;
            *rooms.entry(room).or_default() |= matches!(state, State::Dead | State::Dim);
        }
        let share = rooms.values().filter(|dead| **dead).count() as f64 / rooms.len() as f64;
        let half = if share >= 0.55 {
            0.9
        } else if share >= 0.35 {
            0.5
        } else {
            0.05
        };
        match (all, self.rng.random_bool(half)) {
            (true, _) => Extent::All,
            (false, true) => Extent::Half,
            (false, false) => Extent::Less,
        }
    }

    fn faults(&self) -> Vec<&Fault> {
        if let Fault::Two(a, b) = self.fault { vec![a, b] } else { vec![self.fault] }
    }

    fn looks(&mut self, check: Check, complaint: &Complaint) -> Showed {
        let slips = self.rng.random_bool(SLIP);
        let yes_no = |yes: bool| if yes == slips { Showed::No } else { Showed::Yes };
        let told: Vec<PointId> = complaint.dead.iter().chain(&complaint.dim).copied().collect();
        // "Does it work now?" of what was called dead, once one of the faults is mended.
        let mended = |which: &dyn Fn(&Fault) -> bool| {
            let left: Vec<&Fault> = self.faults().into_iter().filter(|fault| !which(fault)).collect();
            left.len() < self.faults().len()
                && told.iter().any(|p| left.iter().all(|fault| fault.state(self.made, *p, self.share) == State::Well))
                || told.is_empty() && left.is_empty()
        };
        match check {
            Check::Extent => Showed::Extent(if slips { Extent::Less } else { self.extent() }),
            Check::Neighbours => yes_no(self.fault == &Fault::Utility),
            Check::Glance { panel } => {
                let mut seen = HandlesSeen::default();
                for fault in self.faults() {
                    match fault {
                        Fault::Breaker(b) | Fault::Feeder(b)
                            if self.made.house.breakers.get(*b).unwrap().panel == panel =>
                        {
                            seen.breakers.insert(*b);
                        }
                        Fault::Main if panel == PanelId(1) => seen.main = true,
                        _ => {}
                    }
                }
                if self.rng.random_bool(OVERLOOKED) {
                    Showed::Handles(HandlesSeen::default())
                } else {
                    Showed::Handles(seen)
                }
            }
            Check::Cycle { breaker } => {
                yes_no(mended(&|f| matches!(f, Fault::Breaker(b) | Fault::Feeder(b) if *b == breaker)))
            }
            Check::CycleMain { panel } => yes_no(panel == PanelId(1) && mended(&|f| matches!(f, Fault::Main))),
            Check::PressReset { point } => yes_no(mended(&|f| matches!(f, Fault::Device(d) if *d == point))),
            Check::TryButtons => {
                yes_no(mended(&|f| matches!(f, Fault::Device(d) if self.made.unregistered.contains(d))))
            }
            Check::Switch { point } => yes_no(mended(&|f| matches!(f, Fault::Switch(s) if *s == point))),
            Check::Another { point } => yes_no(mended(&|f| matches!(f, Fault::Itself(i) if *i == point))),
            Check::Works { point } => match self.made.hung.get(&point).map(|_| self.state(point)) {
                Some(State::Dim) if self.rng.random_bool(0.3) => Showed::CannotTell,
                Some(State::Dead) => yes_no(false),
                Some(_) => yes_no(true),
                None => Showed::CannotTell,
            },
            Check::Uneven => {
                let lights = self
                    .made
                    .hung
                    .keys()
                    .filter(|p| self.made.house.points.get(**p).unwrap().kind != PointKind::Appliance);
                // Nobody fancies lights that are brighter than ever.
                if lights.clone().any(|p| self.state(*p) == State::Bright) { Showed::Yes } else { Showed::No }
            }
            Check::Glows { .. } if self.rng.random_bool(0.5) => Showed::CannotTell,
            Check::Glows { .. } => yes_no(self.faults().iter().any(|f| {
                matches!(
                    f,
                    Fault::OpenNeutral(_)
                        | Fault::SharedNeutral(..)
                        | Fault::ServiceNeutral
                        | Fault::Poor(_)
                        | Fault::Itself(_)
                )
            })),
            Check::Measure { .. } => self.measures(),
            Check::Sides { breaker } => {
                // A tripped handle that was taken for one that is on passes nothing either.
                let off = |f: &&Fault| matches!(f, Fault::BadBreaker(b) | Fault::Breaker(b) | Fault::Feeder(b) if *b == breaker);
                let bad = self.faults().iter().any(off);
                let poles = self.made.legs(breaker).len();
                let side = |volts: f64| SideRead {
                    to_neutral: vec![Some(Volts(volts)); poles],
                    across: (poles > 1).then_some(Volts(2.0 * volts)),
                };
                // With its leg lost there is nothing on either side.
                let lost = match self.fault {
                    Fault::LostLeg(leg) => self.made.legs(breaker).contains(leg),
                    Fault::Utility | Fault::Main => true,
                    _ => false,
                };
                let bus = if lost { 3.0 } else { 120.5 };
                Showed::Sides(BothSides { bus: side(bus), load: side(if bad { 2.0 } else { bus - 0.4 }) })
            }
        }
    }

    fn measures(&mut self) -> Showed {
        let (a, b) = match self.fault {
            Fault::LostLeg(Leg::A) => (4.0, 121.0),
            Fault::LostLeg(_) => (121.0, 4.0),
            Fault::Utility | Fault::Main => (0.0, 0.0),
            Fault::ServiceNeutral => (240.0 * self.share, 240.0 * (1.0 - self.share)),
            _ => (120.4, 121.1),
        };
        let lost = matches!(self.fault, Fault::LostLeg(_));
        let a_b = if lost { 118.0 } else { a + b };
        Showed::Volts(ServiceReading { a_n: Volts(a), b_n: Volts(b), a_b: Volts(a_b), c_n: None, b_c: None, c_a: None })
    }
}

/// How a case went.
struct Played {
    sort: &'static str,
    found: bool,
    looks: usize,
    stopped: Option<Stop>,
    /// What was told at the end.
    last: Diagnosis,
    asked: Vec<Check>,
}

fn play_in(made: &Made, all: &Beliefs, case: u64, of: impl Fn(&Made, &mut ChaCha8Rng) -> Fault) -> Played {
    let mut rng = ChaCha8Rng::seed_from_u64(case ^ 0xdead);
    let fault = of(made, &mut rng);
    let share = if rng.random_bool(0.5) { rng.random_range(0.15..0.44) } else { rng.random_range(0.56..0.85) };
    let mut person = Person { made, fault: &fault, share, qualified: rng.random_bool(0.3), rng };
    let mut complaint = person.complains();
    for _ in 0..10 {
        if complaint != (Complaint { qualified: complaint.qualified, ..Complaint::default() }) {
            break;
        }
        complaint = person.complains();
    }
    let mut asked = Vec::new();
    let mut found_first = None;
    let mut last = diagnose(&made.house, all, &complaint).unwrap();
    loop {
        while let Some(next) = last.next.clone().filter(|_| asked.len() < LOOKS) {
            let showed = person.looks(next.check, &complaint);
            asked.push(next.check);
            complaint.answers.push(Answer { check: next.check, showed });
            last = diagnose(&made.house, all, &complaint).unwrap();
        }
        // One of two is found and mended: what is dead still is called dead anew.
        let (Fault::Two(a, b), None) = (&fault, &found_first) else { break };
        let Some(first) = last.causes.first().filter(|c| c.also.is_none()) else { break };
        let left = match (a.is(made, first.cause, None), b.is(made, first.cause, None)) {
            (true, false) => b,
            (false, true) => a,
            _ => break,
        };
        let dead: BTreeSet<PointId> =
            complaint.dead.iter().copied().filter(|p| left.state(made, *p, share) != State::Well).collect();
        if dead.is_empty() {
            break;
        }
        let working = complaint.working.union(&complaint.dead).copied().filter(|p| !dead.contains(p)).collect();
        found_first = Some(first.cause);
        complaint = Complaint { dead, working, answers: Vec::new(), ..complaint };
        last = diagnose(&made.house, all, &complaint).unwrap();
        let Fault::Two(..) = fault else { break };
        person = Person { made, fault: left, share, qualified: person.qualified, rng: person.rng };
    }
    let first = last.causes.first();
    let stopped = last.stop.map(|stop| stop.why);
    let floats = matches!(fault, Fault::ServiceNeutral | Fault::SharedNeutral(..));
    // Of two faults just one may bear on what was called dead: the other is another call.
    let told: Vec<PointId> = complaint.dead.iter().chain(&complaint.dim).copied().collect();
    let bears = |f: &&Fault| told.iter().any(|p| f.state(made, *p, share) != State::Well);
    let parts: Vec<&Fault> = if let Fault::Two(a, b) = &fault { vec![a, b] } else { vec![&fault] };
    let called: Vec<&Fault> = parts.iter().copied().filter(bears).collect();
    let wanted = match (called.as_slice(), &fault, found_first) {
        (_, Fault::Two(a, b), Some(first)) => {
            if a.is(made, first, None) {
                b
            } else {
                a
            }
        }
        ([one], Fault::Two(..), None) => *one,
        _ => &fault,
    };
    let named = first.is_some_and(|ranked| wanted.is(made, ranked.cause, ranked.also));
    Played {
        sort: fault.sort(made),
        found: if floats { stopped.is_some() || named } else { named && stopped.is_none() },
        looks: asked.len(),
        stopped,
        asked,
        last,
    }
}

/// Cases, found, and looks, by the sort of fault.
#[derive(Default)]
struct Table {
    rows: BTreeMap<&'static str, (usize, usize, usize)>,
    false_stops: usize,
    doubled: usize,
}

impl Table {
    fn add(&mut self, played: &Played) {
        let row = self.rows.entry(played.sort).or_default();
        *row = (row.0 + 1, row.1 + usize::from(played.found), row.2 + played.looks);
        let floats = ["service neutral", "shared neutral"].contains(&played.sort);
        self.false_stops += usize::from(played.stopped.is_some() && !floats);
        let once: BTreeSet<Check> = played.asked.iter().copied().collect();
        self.doubled += usize::from(once.len() < played.asked.len() && played.sort != "two at once");
    }

    fn sum(&self) -> (f64, f64) {
        let (n, found, looks) = self.rows.values().fold((0, 0, 0), |a, b| (a.0 + b.0, a.1 + b.1, a.2 + b.2));
        (found as f64 / n as f64, looks as f64 / n as f64)
    }

    fn share(&self, sort: &str) -> (f64, f64) {
        self.rows
            .get(sort)
            .map_or((1.0, 0.0), |(n, found, looks)| (*found as f64 / *n as f64, *looks as f64 / *n as f64))
    }

    fn print(&self, mapped: Mapped) {
        let (found, looks) = self.sum();
        println!("{mapped:?}: found {:.1} %, {looks:.2} looks, false stops {}", 100.0 * found, self.false_stops);
        for (sort, (n, ..)) in &self.rows {
            let (found, looks) = self.share(sort);
            println!("  {sort:22} {n:5} {:6.1} % {looks:5.2}", 100.0 * found);
        }
    }
}

fn played(mapped: Mapped, cases: u64) -> Table {
    let mut table = Table::default();
    for seed in 0..cases.div_ceil(4) {
        let made = made(seed, mapped);
        let all = beliefs(&made.house);
        for case in 4 * seed..(4 * seed + 4).min(cases) {
            let played = play_in(&made, &all, case, Fault::drawn);
            if std::env::var("WAYFINDER_SORT").is_ok_and(|sort| sort == played.sort) {
                println!("{} {:?}", played.found, played.last);
            }
            table.add(&played);
        }
    }
    table
}

/// How many cases each degree of mapping is played with: few in every run of the tests, many for the table.
fn cases() -> u64 {
    std::env::var("WAYFINDER_DEAD").ok().and_then(|n| n.parse().ok()).unwrap_or(160)
}

// Handbook 5.17. What few cases may miss by chance is left to them.
#[test]
fn what_is_dead_is_found_however_much_is_mapped() {
    for (mapped, found, looks) in [(Mapped::Full, 0.94, 2.4), (Mapped::Half, 0.92, 2.6), (Mapped::Not, 0.83, 3.1)] {
        let table = played(mapped, cases());
        table.print(mapped);
        let (did, took) = table.sum();
        assert!(did >= found, "{mapped:?}: found {did}");
        assert!(took <= looks, "{mapped:?}: {took} looks");
        assert_eq!((table.false_stops, table.doubled), (0, 0), "{mapped:?}: a false stop, or a look asked twice");
    }
}
