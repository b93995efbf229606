//! What may be the cause, and how often each is met beforehand. Shares among calls that something is dead: common practice, put
//! into numbers; none of them is published.

use std::collections::{BTreeMap, BTreeSet};

use super::bench::Bench;
use super::{Broken, Cause};
use crate::answers::service::{Trouble, judge};
use crate::base::position::Leg;
use crate::house::{
    Breaker, BreakerId, Device, Event, Fault, Handle, Observation, Point, PointId, PointKind, Seen, ServiceReading,
};

const BREAKERS: f64 = 40.0;
const BAD_BREAKERS: f64 = 2.5;
const GROUND_FAULTS: f64 = 18.0;
/// A device that nobody registered, in a room where one is usual and none is known. Where they are all known, there is none.
const UNREGISTERED: f64 = 6.0;
const SWITCHES: f64 = 10.0;
const ITSELF: f64 = 12.0;
/// What is wired in has its own fuses, valves and thermostats.
const WIRED_IN: f64 = 2.0;
const WIRES: f64 = 6.0;
const SHARED_NEUTRAL: f64 = 1.0;
const LOST_LEG: f64 = 1.5;
const MAIN: f64 = 2.0;
const UTILITY: f64 = 8.0;
const OPEN_NEUTRAL: f64 = 0.7;
const NOT_LISTED: f64 = 0.5;
/// Work that holds it off is the cause, as long as it does.
const WORK: f64 = 2000.0;
/// A handle recorded as off or tripped.
const SEEN_OFF: f64 = 30.0;
/// A breaker that has tripped before, or one that trips on more than overload.
const TRIPS_EASILY: f64 = 2.0;
/// A device that failed its last test.
const FAILED: f64 = 3.0;
/// A fault that somebody has seen at just this point.
const SEEN_THERE: f64 = 10.0;
/// A place where a job put hands. Its last check had volts there: what is wired on from it is what it may have got wrong.
const MISWIRED: f64 = 2.0;
/// The last reading on record points to the neutral.
const READ_SO: f64 = 300.0;

/// How the ways in which wires fail are shared: an open hot, an open neutral, a poor connection.
const SHARES: [(Broken, f64); 3] = [(Broken::Hot, 0.45), (Broken::Neutral, 0.35), (Broken::Poor, 0.20)];

impl Bench<'_> {
    /// All causes with their odds beforehand.
    pub(super) fn causes(&self) -> Vec<(Cause, f64)> {
        let house = self.house;
        let mut causes = vec![
            (Cause::Utility, UTILITY),
            (Cause::OpenNeutral, OPEN_NEUTRAL * if self.last_reads_open().is_some() { READ_SO } else { 1.0 }),
            (Cause::NotListed, NOT_LISTED),
        ];
        causes.extend(house.held().iter().map(|held| (Cause::Work { job: held.job }, WORK)));
        let each = 1.0 / house.breakers.len().max(1) as f64;
        for breaker in house.breakers.iter() {
            causes.push((Cause::Breaker { breaker: breaker.id }, each * BREAKERS * self.trips_easily(breaker)));
            let known = if breaker.bad { SEEN_OFF } else { 1.0 };
            causes.push((Cause::BadBreaker { breaker: breaker.id }, each * BAD_BREAKERS * known));
        }
        self.wires(&mut causes);
        let worked = self.worked_at();
        let each = MISWIRED / worked.len().max(1) as f64;
        causes.extend(worked.into_iter().map(|point| (Cause::Miswired { point }, each)));
        let spread = |causes: &mut Vec<(Cause, f64)>, all: Vec<Cause>, odds: f64| {
            let each = odds / all.len().max(1) as f64;
            causes.extend(all.into_iter().map(|c| (c, each)));
        };
        let points = |which: &dyn Fn(&&Point) -> bool| house.points.iter().filter(which).collect::<Vec<_>>();
        let devices = points(&|p| p.ground_fault);
        let each = GROUND_FAULTS / devices.len().max(1) as f64;
        causes.extend(devices.into_iter().map(|p| {
            let failed = if self.failed_its_test(p.id) { FAILED } else { 1.0 };
            (Cause::GroundFault { point: p.id }, each * failed)
        }));
        causes.extend(self.lacking.iter().map(|room| (Cause::Unregistered { room: *room }, UNREGISTERED)));
        let used: BTreeSet<PointId> = house.points.iter().flat_map(|p| p.switched_by.iter().copied()).collect();
        spread(&mut causes, used.into_iter().map(|point| Cause::Switch { point }).collect(), SWITCHES);
        let things = points(&|p| p.kind != PointKind::Switch);
        let wired_in = |p: &Point| if p.kind == PointKind::Appliance { WIRED_IN } else { 1.0 };
        let each = ITSELF / things.iter().map(|p| wired_in(p)).sum::<f64>().max(1.0);
        causes.extend(things.into_iter().map(|p| (Cause::Itself { point: p.id }, each * wired_in(p))));
        spread(&mut causes, self.neutral_pairs(), SHARED_NEUTRAL);
        let mains = house.panels.iter().filter(|p| p.is_main());
        spread(&mut causes, mains.clone().map(|p| Cause::Main { panel: p.id }).collect(), MAIN);
        let legs = mains
            .flat_map(|p| [Leg::A, Leg::B, Leg::C].into_iter().take(p.supply.legs().into()).map(|leg| (p.id, leg)));
        spread(&mut causes, legs.map(|(panel, leg)| Cause::LostLeg { panel, leg }).collect(), LOST_LEG);
        causes
    }

    /// Wires, splices and terminals: each circuit alike, at each of its points alike, but where somebody has seen one.
    fn wires(&self, causes: &mut Vec<(Cause, f64)>) {
        let seen: BTreeMap<PointId, Fault> = self
            .house
            .evidence
            .iter()
            .filter_map(|e| match e.observation {
                Observation::Fault { fault } => Some((e.point, fault)),
                _ => None,
            })
            .collect();
        // Each point is a box with splices and terminals.
        let each = WIRES / self.chains.values().map(Vec::len).sum::<usize>().max(1) as f64;
        for (breaker, chain) in &self.chains {
            for from in chain {
                for (broken, share) in SHARES {
                    let there = match (seen.get(from), broken) {
                        (Some(Fault::OpenHot), Broken::Hot)
                        | (Some(Fault::OpenNeutral), Broken::Neutral)
                        | (Some(Fault::Loose | Fault::Scorched), _) => SEEN_THERE,
                        _ => 1.0,
                    };
                    causes.push((Cause::Wire { breaker: *breaker, broken, from: *from }, each * share * there));
                }
            }
        }
    }

    /// Points at which a job that was finished had hands, and behind which nothing was seen alive since.
    fn worked_at(&self) -> BTreeSet<PointId> {
        let seen_alive = |point: PointId, since| {
            let behind = self.wired_on(point);
            self.house.evidence.iter().any(|e| {
                let alive = matches!(e.observation, Observation::Power { seen: Seen::Live, .. });
                alive && e.time > since && behind.contains(&e.point)
            })
        };
        let jobs = self.house.jobs.iter().filter_map(|job| Some((job, job.made?)));
        jobs.flat_map(|(job, made)| job.stood.hung.iter().map(move |hung| (hung.point, made)))
            .filter(|(point, made)| self.house.points.get(*point).is_some() && !seen_alive(*point, *made))
            .map(|(point, _)| point)
            .collect()
    }

    fn trips_easily(&self, b: &Breaker) -> f64 {
        let seen = if b.handle == Handle::On { 1.0 } else { SEEN_OFF };
        let tripped = self.house.log.iter().any(|e| matches!(e.event, Event::Trip { breaker, .. } if breaker == b.id));
        let easily = tripped || matches!(b.device, Device::Gfci | Device::Afci | Device::Dual);
        seen * if easily { TRIPS_EASILY } else { 1.0 }
    }

    /// Its last test failed.
    fn failed_its_test(&self, device: PointId) -> bool {
        let tests = self.house.log.iter().filter_map(|e| match e.event {
            Event::DeviceTest { point, passed } if point == device => Some((e.time, passed)),
            _ => None,
        });
        tests.max_by_key(|(time, _)| *time).is_some_and(|(_, passed)| !passed)
    }

    /// The last reading of the service voltages on record, where it points to the neutral.
    pub(super) fn last_reads_open(&self) -> Option<&ServiceReading> {
        let all = self.house.log.iter().filter_map(|e| match &e.event {
            Event::Volts { panel, reading } => Some((e.time, *panel, reading)),
            _ => None,
        });
        let (_, panel, reading) = all.max_by_key(|(time, ..)| *time)?;
        let supply = self.house.panels.get(panel)?.supply;
        judge(reading, supply).troubles.contains(&Trouble::OpenNeutral).then_some(reading)
    }

    fn neutral_pairs(&self) -> Vec<Cause> {
        let circuits = &self.house.circuits;
        let pairs = circuits.iter().filter_map(|c| {
            let owner = circuits.get(c.neutral_of?)?;
            (owner.breaker != c.breaker).then_some(Cause::SharedNeutral { breaker: owner.breaker, other: c.breaker })
        });
        pairs.collect()
    }

    /// The breaker that a cause is about.
    pub(super) fn breaker_of(cause: Cause) -> Option<BreakerId> {
        match cause {
            Cause::Breaker { breaker } | Cause::BadBreaker { breaker } | Cause::Wire { breaker, .. } => Some(breaker),
            _ => None,
        }
    }
}
