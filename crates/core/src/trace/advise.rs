//! The next action: which handles to move and which points to look at then, for most information per second.
//!
//! Greedy: grows the set of breakers to switch off one at a time by what it adds, values points by expected bits less
//! the seconds they cost at the going rate of bits per second, and repeats with the rate so found (Dinkelbach's
//! method for a ratio). About `O(rounds · off · breakers · points)`; no lookahead.

use std::collections::BTreeSet;

use serde::Serialize;
use utoipa::ToSchema;

use crate::change::Invalid;
use crate::house::{BreakerId, House, PointId, PointKind, RoomId};
use crate::plan::Walks;
use crate::trace::beliefs::{BreakerRef, Missing, Solved, Status, name, solve};
use crate::trace::posterior::Inference;
use crate::units::Seconds;

/// The people and tools at hand, and what they may not switch.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct Crew {
    /// 1: alone; 2: one at the panel, one in the rooms.
    pub people: u8,
    /// Plug-in testers or lamps at hand, 1 to 20.
    pub testers: u8,
    /// A transmitter and receiver are at hand.
    pub transmitter: bool,
    /// Breakers that must stay on.
    pub keep_on: BTreeSet<BreakerId>,
    /// At most so many off at once; nothing for the usual.
    pub max_off: Option<usize>,
}

/// Most testers that a crew can name.
const MAX_TESTERS: u8 = 20;

impl Default for Crew {
    fn default() -> Self {
        Self { people: 1, testers: 1, transmitter: false, keep_on: BTreeSet::new(), max_off: None }
    }
}

/// What to do next.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
pub struct Advice {
    /// What sort of action.
    pub action: Action,
    /// The complete set to be off while the points are visited; everything else is on.
    pub off: Vec<BreakerRef>,
    /// Tags of the points to look at, in walking order.
    pub visit: Vec<String>,
    /// The same points by id.
    pub points: Vec<PointId>,
    /// Handles to switch off now, from how they stand.
    pub switch_off: Vec<BreakerRef>,
    /// Handles to switch on now, from how they stand.
    pub switch_on: Vec<BreakerRef>,
    /// Expected time.
    pub seconds: Seconds,
    /// Expected information in bits; proof still owed counts as well.
    pub bits: f64,
    /// With nothing left to do: points that could not be proven with what may be switched.
    pub unproven: Vec<String>,
}

/// Sorts of action.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, ToSchema)]
#[serde(rename_all = "kebab-case")]
pub enum Action {
    /// Move handles, then look at points.
    Switch,
    /// Put the transmitter at the point and take the receiver to the panel.
    Receiver,
    /// Nothing is left to prove.
    Done,
}

// Seconds of work, common practice as timed in the simulated houses.
const FLIP: f64 = 3.0;
const NEXT_ROOM: f64 = 8.0;
const NEXT_FLOOR: f64 = 15.0;
const PANEL_WALK: f64 = 25.0;
/// To find the handle once there.
const AT_THE_PANEL: f64 = 5.0;
const LOOK_AT_LIGHT: f64 = 2.0;
const LOOK_AT_APPLIANCE: f64 = 5.0;
const PLUG_IN_TESTER: f64 = 12.0;
const TRANSMITTER: f64 = 12.0 + 35.0 + 5.0;

/// Misread rate assumed of a coming look: the commonest ways have it.
const MISREAD: f64 = 0.02;
/// Worth of a look still owed to proof, in bits, when the breaker is sure.
const PROOF_BITS: f64 = 1.0;
/// Looks worth less are not advised unless nothing better is left.
const LEAST_BITS: f64 = 0.02;
/// Alone, off at once: a quarter of the breakers (more costs outages and saves no walk).
const ALONE_SHARE: usize = 4;
/// Two people, off at once: fewer is nearly free since passing an order takes no walk.
const PAIR_OFF: usize = 5;
/// A first guess at bits per second; the rounds correct it.
const FIRST_RATE: f64 = 0.06;
const ROUNDS: usize = 5;

/// The next action for this crew.
///
/// # Errors
/// [`Invalid`] where the crew is out of range or names a breaker that is not there.
pub fn advise(house: &House, crew: &Crew) -> Result<Advice, Invalid> {
    check(house, crew)?;
    let inference = Inference::new(house);
    let solved = solve(&inference);
    let open: Vec<&Solved<'_>> =
        solved.iter().filter(|s| !matches!(s.status, Status::Proven | Status::NoBreaker)).collect();
    let planner = Planner::new(&inference, crew, &open);
    let switch = planner.best_switch();
    let receiver = if crew.transmitter { planner.best_receiver() } else { None };
    let rate = |plan: &Option<Plan>| plan.as_ref().map_or(0.0, |p| p.bits / p.seconds);
    Ok(match (&switch, &receiver) {
        (_, Some(plan)) if rate(&receiver) > rate(&switch) => planner.advice(Action::Receiver, plan),
        (Some(plan), _) => planner.advice(Action::Switch, plan),
        (None, _) => planner.advice(Action::Done, &Plan::default()),
    })
}

fn check(house: &House, crew: &Crew) -> Result<(), Invalid> {
    if !(1..=2).contains(&crew.people) {
        return Err(Invalid::new("people", "1 or 2 people"));
    }
    if !(1..=MAX_TESTERS).contains(&crew.testers) {
        return Err(Invalid::new("testers", format!("1 to {MAX_TESTERS} testers")));
    }
    if crew.max_off == Some(0) {
        return Err(Invalid::new("max_off", "at least one breaker must be allowed off"));
    }
    match crew.keep_on.iter().find(|b| house.breakers.get(**b).is_none()) {
        Some(_) => Err(Invalid::new("keep_on", "a breaker to keep on does not exist")),
        None => Ok(()),
    }
}

/// A choice being weighed: breakers by index, points by place in the list of open ones.
#[derive(Debug, Clone, Default)]
struct Plan {
    off: Vec<usize>,
    visit: Vec<usize>,
    bits: f64,
    seconds: f64,
}

struct Planner<'a> {
    inference: &'a Inference<'a>,
    crew: &'a Crew,
    open: &'a [&'a Solved<'a>],
    /// Breakers that may be switched off.
    allowed: Vec<usize>,
    now_off: Vec<bool>,
    most_off: usize,
    /// The likeliest breaker of each open point.
    tops: Vec<Option<(usize, f64)>>,
    misread_bits: f64,
    walks: Walks,
    /// The room that the main panel hangs in, where that is known.
    panel_room: Option<RoomId>,
}

/// Breakers switched off, with what follows from it.
#[derive(Debug, Clone)]
struct OffSet {
    breakers: Vec<usize>,
    /// By breaker: whether power is gone behind it.
    dead: Vec<bool>,
    /// By open point: the probability that it is dead.
    p_dead: Vec<f64>,
}

impl<'a> Planner<'a> {
    fn new(inference: &'a Inference<'a>, crew: &'a Crew, open: &'a [&'a Solved<'a>]) -> Self {
        let net = &inference.net;
        let kept = |b: &usize| net.below(*b).iter().any(|i| crew.keep_on.contains(&net.breakers[*i].id));
        let usual = if crew.people == 2 { PAIR_OFF } else { (net.len() / ALONE_SHARE).max(3) };
        Self {
            inference,
            crew,
            open,
            allowed: (0..net.len()).filter(|b| !kept(b)).collect(),
            now_off: net.breakers.iter().map(|b| b.is_off()).collect(),
            most_off: crew.max_off.unwrap_or(usual),
            tops: open.iter().map(|s| s.posterior.top()).collect(),
            misread_bits: entropy(MISREAD),
            walks: Walks::new(inference.house),
            panel_room: inference.house.panels_in_order().first().and_then(|p| p.place).map(|p| p.room),
        }
    }

    fn best_switch(&self) -> Option<Plan> {
        let mut best: Option<Plan> = None;
        let mut rate = FIRST_RATE;
        for _ in 0..ROUNDS {
            let plan = self.tour(&self.choose_off(rate), rate);
            if plan.visit.is_empty() {
                rate *= 0.3;
                continue;
            }
            rate = plan.bits / plan.seconds;
            if best.as_ref().is_none_or(|b| rate > b.bits / b.seconds) {
                best = Some(plan);
            }
        }
        best.or_else(|| self.last_resort())
    }

    /// Grows the off-set by whichever breaker adds most, until none adds anything.
    fn choose_off(&self, rate: f64) -> OffSet {
        let mut off = self.nothing_off();
        let mut worth = self.worth(&off, rate);
        while off.breakers.len() < self.most_off {
            let candidates = self.allowed.iter().filter(|b| !off.dead[**b]);
            let valued = candidates.map(|b| {
                let more = self.with(&off, *b);
                (self.worth(&more, rate), more)
            });
            let Some((value, more)) = valued.max_by(|a, b| a.0.total_cmp(&b.0)) else { break };
            if value <= worth {
                break;
            }
            (worth, off) = (value, more);
        }
        off
    }

    fn nothing_off(&self) -> OffSet {
        let p_dead = self.open.iter().map(|s| s.posterior.nothing).collect();
        OffSet { breakers: Vec::new(), dead: vec![false; self.inference.net.len()], p_dead }
    }

    fn with(&self, off: &OffSet, breaker: usize) -> OffSet {
        let mut more = off.clone();
        more.breakers.push(breaker);
        for &b in self.inference.net.below(breaker) {
            if !std::mem::replace(&mut more.dead[b], true) {
                for (p_dead, s) in more.p_dead.iter_mut().zip(self.open) {
                    *p_dead += s.posterior.breakers[b];
                }
            }
        }
        more
    }

    /// Bits above what the seconds would bring elsewhere, walking left out.
    fn worth(&self, off: &OffSet, rate: f64) -> f64 {
        let surplus = |i: usize| (self.bits(i, off) - rate * look_seconds(self.open[i])).max(0.0);
        (0..self.open.len()).map(surplus).sum::<f64>() - rate * self.flip_seconds(&off.breakers)
    }

    fn flip_seconds(&self, off: &[usize]) -> f64 {
        let moved = (0..self.now_off.len()).filter(|b| self.now_off[*b] != off.contains(b)).count();
        FLIP * moved as f64
    }

    /// Expected bits of looking at a point: what the answer tells, and proof still owed.
    fn bits(&self, i: usize, off: &OffSet) -> f64 {
        let p_dead = off.p_dead[i];
        let reads_dead = p_dead * (1.0 - MISREAD) + (1.0 - p_dead) * MISREAD;
        let told = (entropy(reads_dead) - self.misread_bits).max(0.0);
        let owed = match self.tops[i] {
            Some((top, sure)) if sure > 0.5 => {
                let missing = &self.open[i].missing;
                // Dead with the breaker itself off is owed first; then alive again with it on.
                let pays = if missing.contains(&Missing::SeenDead) {
                    off.breakers.contains(&top)
                } else {
                    missing.contains(&Missing::SeenBack) && !off.dead[top]
                };
                if pays { PROOF_BITS * sure } else { 0.0 }
            }
            _ => 0.0,
        };
        told + owed
    }

    /// Chooses the points worth their seconds, drops rooms not worth the walk, and adds up.
    fn tour(&self, off: &OffSet, rate: f64) -> Plan {
        let bits: Vec<f64> = (0..self.open.len()).map(|i| self.bits(i, off)).collect();
        let gain = |i: &usize| bits[*i] - rate * look_seconds(self.open[*i]);
        let mut visit: Vec<usize> = (0..self.open.len()).filter(|i| gain(i) > 0.0 && bits[*i] >= LEAST_BITS).collect();
        let rooms: BTreeSet<_> = visit.iter().map(|i| self.open[*i].point.room).collect();
        if rooms.len() > 1 {
            let room_gain = |room| visit.iter().filter(|i| self.open[**i].point.room == room).map(gain).sum::<f64>();
            let dull: BTreeSet<_> = rooms.into_iter().filter(|r| room_gain(*r) < rate * NEXT_ROOM).collect();
            visit.retain(|i| !dull.contains(&self.open[*i].point.room));
        }
        let seconds = self.seconds(&off.breakers, &visit);
        Plan { off: off.breakers.clone(), bits: visit.iter().map(|i| bits[*i]).sum(), visit, seconds }
    }

    fn seconds(&self, off: &[usize], visit: &[usize]) -> f64 {
        let room = |i: &usize| self.open[*i].point.room;
        let looks: f64 = visit.iter().map(|i| look_seconds(self.open[*i])).sum();
        let walks: f64 = visit.windows(2).map(|pair| self.walk(room(&pair[0]), room(&pair[1]))).sum();
        let panel = match (self.crew.people, visit.first().map(room), visit.last().map(room)) {
            (1, Some(first), Some(last)) => self.panel_walk(first) + self.panel_walk(last),
            (1, ..) => 2.0 * PANEL_WALK,
            _ => NEXT_ROOM,
        };
        self.flip_seconds(off) + looks + walks + panel
    }

    /// Seconds from room to room: along the plan's doors where it shows a way, else as usual.
    fn walk(&self, from: RoomId, to: RoomId) -> f64 {
        let house = self.inference.house;
        let usual = || match (house.room_order(from), house.room_order(to)) {
            (a, b) if a == b => 0.0,
            (a, b) if a.0 == b.0 => NEXT_ROOM,
            _ => NEXT_FLOOR,
        };
        self.walks.between(from, to).map_or_else(usual, |s| s.0)
    }

    /// Seconds between the panel and a room, the panel's door included.
    fn panel_walk(&self, room: RoomId) -> f64 {
        let planned = self.panel_room.and_then(|panel| self.walks.between(panel, room));
        planned.map_or(PANEL_WALK, |s| s.0 + AT_THE_PANEL)
    }

    /// Nothing pays by information alone: ask for just the look that is owed to the least sure point.
    fn last_resort(&self) -> Option<Plan> {
        let testable = |i: &usize| self.open[*i].posterior.top().is_some_and(|(b, _)| self.allowed.contains(&b));
        let sure = |i: usize| self.open[i].posterior.top().map_or(0.0, |(_, p)| p);
        let least = (0..self.open.len()).filter(testable).min_by(|a, b| sure(*a).total_cmp(&sure(*b)))?;
        let solved = self.open[least];
        let back = solved.missing == [Missing::SeenBack];
        let off: Vec<usize> = solved.posterior.top().map(|(b, _)| b).into_iter().filter(|_| !back).collect();
        let visit = vec![least];
        let seconds = self.seconds(&off, &visit);
        Some(Plan { off, visit, bits: LEAST_BITS, seconds })
    }

    /// The point where the receiver tells most. Never above 120 V nor where the voltage is unknown: it destroys the
    /// transmitter. Lights need an adapter on live parts: receptacles only.
    fn best_receiver(&self) -> Option<Plan> {
        let fit = |i: &usize| {
            let point = self.open[*i].point;
            point.kind == PointKind::Receptacle && point.volts.is_some_and(|v| !v.is_leg_to_leg())
        };
        let bits = |i: usize| self.open[i].posterior.breakers.iter().map(|p| -p * p.max(1e-300).log2()).sum::<f64>();
        let most = (0..self.open.len()).filter(fit).max_by(|a, b| bits(*a).total_cmp(&bits(*b)))?;
        // What the receiver leaves open: about the entropy of right, neighbour and far.
        let bits = bits(most) - RECEIVER_LEAVES_BITS;
        let panel = if self.crew.people == 1 { 2.0 * PANEL_WALK } else { 0.0 };
        let seconds = TRANSMITTER + panel + self.flip_seconds(&[]);
        (bits > LEAST_BITS).then(|| Plan { off: Vec::new(), visit: vec![most], bits, seconds })
    }

    fn advice(&self, action: Action, plan: &Plan) -> Advice {
        let mut off = plan.off.clone();
        off.sort_unstable();
        let names = |which: &dyn Fn(&usize) -> bool| -> Vec<BreakerRef> {
            (0..self.now_off.len()).filter(which).map(|b| name(self.inference, b)).collect()
        };
        let unproven = if action == Action::Done { self.open } else { &[] };
        Advice {
            action,
            off: off.iter().map(|b| name(self.inference, *b)).collect(),
            visit: plan.visit.iter().map(|i| self.open[*i].point.tag.clone()).collect(),
            points: plan.visit.iter().map(|i| self.open[*i].point.id).collect(),
            switch_off: names(&|b| off.contains(b) && !self.now_off[*b]),
            switch_on: names(&|b| !off.contains(b) && self.now_off[*b]),
            seconds: Seconds(plan.seconds),
            bits: plan.bits,
            unproven: unproven.iter().map(|s| s.point.tag.clone()).collect(),
        }
    }
}

/// Entropy of nine in ten right, the rest over a handful of neighbours.
const RECEIVER_LEAVES_BITS: f64 = 0.8;

/// A point that could not be read before costs more each time: somewhere else is better spent.
fn look_seconds(s: &Solved<'_>) -> f64 {
    let once = match s.point.kind {
        PointKind::Light | PointKind::Switch => LOOK_AT_LIGHT,
        PointKind::Appliance | PointKind::Alarm => LOOK_AT_APPLIANCE,
        PointKind::Receptacle | PointKind::Other => PLUG_IN_TESTER,
    };
    once * (1.0 + s.unsure as f64)
}

/// Entropy of a yes with probability `p`, in bits.
fn entropy(p: f64) -> f64 {
    let part = |x: f64| if x > 0.0 { -x * x.log2() } else { 0.0 };
    part(p) + part(1.0 - p)
}
