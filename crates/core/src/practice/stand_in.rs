//! Tools that answer from a hidden truth as real ones would, with their errors: for the demo and for practice.

use std::collections::BTreeMap;

use rand::rngs::ChaCha8Rng;
use rand::seq::IndexedRandom;
use rand::{RngExt, SeedableRng};
use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

use super::world::CAREFUL_MISREAD;
use crate::base::units::Amps;
use crate::house::{BreakerId, House, KNOWN_LOAD, LoadId, Observation, PointId, Seen, Way};
use crate::trace::{Model, Tracker};

/// Tools that a stand-in can be read of.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
#[serde(rename_all = "kebab-case")]
pub enum Tool {
    /// An outlet tester.
    Tester,
    /// A lamp, or the light itself, seen from the door.
    Lamp,
    /// A transmitter at the point, a receiver at the panel.
    Receiver,
    /// A clamp meter on the breaker that is most suspected, with a 1500 W load at the point.
    Clamp,
    /// An energy monitor that watches every breaker.
    Monitor,
}

/// The receiver points beside this often.
const POINTS_BESIDE: f64 = 0.05;
/// Spread of a reading around the truth, as shares of the load.
const CLAMP_SPREAD: f64 = 0.03;
const MONITOR_SPREAD: f64 = 0.10;

/// What is true of a house, hidden behind its tools.
#[derive(Debug, Clone, Default)]
pub struct StandIn {
    /// By point: what feeds it; nothing for a dead one.
    pub truth: BTreeMap<PointId, Option<BreakerId>>,
    /// By load: what it really draws.
    pub draws: BTreeMap<LoadId, Amps>,
}

impl StandIn {
    /// What really feeds a point: one that a job has put in hangs where its plan says, and what hung on a breaker that a job gave up
    /// hangs on the one that it joined.
    #[must_use]
    pub fn feeder(&self, house: &House, point: PointId) -> Option<BreakerId> {
        let new = house.jobs.iter().flat_map(|job| job.goal.new_circuits()).find(|new| new.point.id == point);
        let mut feeder = self.truth.get(&point).copied().flatten().or(new.map(|new| new.breaker))?;
        // Each job gives up a breaker once at the most.
        for _ in 0..house.jobs.len() {
            if house.breakers.get(feeder).is_some() {
                break;
            }
            feeder = house.jobs.iter().find_map(|job| job.goal.joined(feeder))?;
        }
        Some(feeder)
    }

    /// What a tool says at a point, with the handles as they stand; nothing where the truth of the point is not known or
    /// the tool cannot be used there. The same seed gives the same answer.
    #[must_use]
    pub fn read(&self, house: &House, point: PointId, tool: Tool, seed: u64) -> Option<Observation> {
        self.truth.get(&point)?;
        let feeder = self.feeder(house, point);
        let mut rng = ChaCha8Rng::seed_from_u64(seed ^ point.0.rotate_left(17));
        let tracker = Tracker::blank(Model::new(house));
        let net = &tracker.model.net;
        let off: std::collections::BTreeSet<BreakerId> =
            house.breakers.iter().filter(|b| b.is_off()).map(|b| b.id).collect();
        let dead = net.dead(off.iter().copied());
        let live = feeder.and_then(|f| net.index(f)).is_some_and(|f| !dead[f]);
        let leg_to_leg = house.points.get(point)?.volts.is_some_and(|v| v.is_leg_to_leg());
        match tool {
            Tool::Tester | Tool::Lamp => {
                let wrong = rng.random::<f64>() < CAREFUL_MISREAD;
                let seen = if live == wrong { Seen::Dead } else { Seen::Live };
                let light = house.points.get(point)?.kind == crate::house::PointKind::Light;
                let how = match tool {
                    Tool::Tester => Way::Tester,
                    _ if light => Way::Light,
                    _ => Way::Lamp,
                };
                Some(Observation::Power { off, seen, how })
            }
            // Above 120 V the transmitter is destroyed: it is not put there.
            Tool::Receiver if leg_to_leg || !live => None,
            Tool::Receiver => {
                let truth = net.index(feeder?)?;
                let beside: Vec<usize> =
                    [truth.checked_sub(1), Some(truth + 1)].into_iter().flatten().filter(|b| *b < net.len()).collect();
                let astray = rng.random::<f64>() < POINTS_BESIDE;
                let at = if astray { beside.choose(&mut rng).copied().unwrap_or(truth) } else { truth };
                Some(Observation::Pointed { at: net.breakers[at].id })
            }
            Tool::Clamp | Tool::Monitor if leg_to_leg => None,
            Tool::Clamp | Tool::Monitor => {
                let suspect = Tracker::new(house);
                let index = suspect.model.point(point)?;
                let at = match tool {
                    Tool::Clamp => suspect.top(index).map(|(b, _)| suspect.model.net.breakers[b].id)?,
                    _ => feeder.or_else(|| net.breakers.first().map(|b| b.id))?,
                };
                let spread = if tool == Tool::Clamp { CLAMP_SPREAD } else { MONITOR_SPREAD };
                let noise = KNOWN_LOAD.0 * spread * (rng.random::<f64>() + rng.random::<f64>() - 1.0);
                let rose = if live && Some(at) == feeder { KNOWN_LOAD.0 + noise } else { noise };
                Some(Observation::Rise { at, expected: KNOWN_LOAD, rose: Amps((rose * 10.0).round() / 10.0) })
            }
        }
    }
}
