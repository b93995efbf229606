//! Made houses full of things that were clamped many times over: large ones, for timings and for plans. How near estimates come is asked
//! of homes of another model (`home.rs`, `living.rs`).

use std::collections::BTreeSet;

use jiff::Timestamp;
use rand::rngs::ChaCha8Rng;
use rand::seq::IndexedRandom;
use rand::{RngExt, SeedableRng};

use super::stand_in::StandIn;
use super::world::{Setting, World};
use crate::base::units::{Amps, NominalVolts};
use crate::house::{
    Breaker, Conductor, Evidence, EvidenceId, House, Instrument, Load, LoadId, MeasuredAt, Observation, Panel,
    PointKind, Quantity, Reading, ReadingId, Side, Span,
};
use crate::plate;
use crate::words::usual::USUAL;

/// Receptacles with something plugged in; those of them with two things; things whose nameplate somebody read.
const LOADED: f64 = 0.6;
const TWICE: f64 = 0.3;
const PLATED: f64 = 0.6;
/// Of a nameplate a thing really draws between this share and all (handbook 3.2).
const OF_PLATE: f64 = 0.5;

/// A made house with things in it, traced right.
#[derive(Debug)]
pub struct Furnished {
    /// What is known.
    pub house: House,
    /// What is true.
    pub truth: StandIn,
    seed: u64,
}

impl Furnished {
    /// A made house of so many breakers.
    #[must_use]
    pub fn new(breakers: usize, seed: u64) -> Self {
        Self::like(Setting::usual(breakers), seed)
    }

    /// The house of which the aims in speed speak: 42 breakers, 200 points, 300 things, 2000 readings.
    #[must_use]
    pub fn fullest() -> Self {
        let mut made = Self::full(Setting { points: 200, ..Setting::usual(42) }, 300, 1);
        for nth in 1.. {
            if made.house.readings.len() >= 2000 {
                break;
            }
            made.clamp_round(nth, 0.5);
        }
        made
    }

    /// A made house with so many things in it at least, more than anybody has.
    fn full(setting: Setting, things: usize, seed: u64) -> Self {
        let mut made = Self::like(setting, seed);
        let mut rng = ChaCha8Rng::seed_from_u64(seed ^ 0xf111);
        let points: Vec<_> =
            made.house.points.iter().filter(|p| p.kind == PointKind::Receptacle).map(|p| p.id).collect();
        let mut more = points.iter().cycle();
        while let Some(point) = more.next().filter(|_| made.house.loads.len() < things) {
            made.add(*point, false, &mut rng);
        }
        made
    }

    fn like(setting: Setting, seed: u64) -> Self {
        let world = World::new(setting, seed);
        let mut rng = ChaCha8Rng::seed_from_u64(seed ^ 0x10ad);
        let mut made = Self { house: world.house.clone(), truth: StandIn::default(), seed };
        for (n, point) in world.house.points.iter().enumerate() {
            let feeder = world.feeder(point.id);
            made.truth.truth.insert(point.id, feeder);
            // All is traced: here it is asked how well things are measured.
            if let Some(at) = feeder {
                let (id, time) = (EvidenceId(9_000_000 + n as u64), Timestamp::UNIX_EPOCH);
                let observation = Observation::Wire { at };
                made.house.evidence.put(Evidence {
                    id,
                    point: point.id,
                    time,
                    who: "made".into(),
                    step: None,
                    observation,
                });
            }
            if point.kind == PointKind::Receptacle && rng.random::<f64>() < LOADED {
                let many = if rng.random::<f64>() < TWICE { 2 } else { 1 };
                (0..many).for_each(|_| made.add(point.id, false, &mut rng));
            }
            if point.kind == PointKind::Appliance {
                made.add(point.id, point.volts.is_some_and(NominalVolts::is_leg_to_leg), &mut rng);
            }
        }
        made
    }

    fn add(&mut self, point: crate::house::PointId, large: bool, rng: &mut ChaCha8Rng) {
        let choice: Vec<_> = USUAL.iter().filter(|u| u.volts.is_leg_to_leg() == large && u.high.0 >= 1.0).collect();
        let Some(usual) = choice.choose(rng) else { return };
        let id = LoadId(self.house.loads.len() as u64 + 1);
        let real = usual.low.0 + (usual.high.0 - usual.low.0) * rng.random::<f64>();
        let load = Load::new(id, point, format!("{} {}", usual.name, id.0), usual.kind);
        // What only resists draws its plate, give or take what a heater is made with (handbook 3.2).
        let (least, span) = if plate::resists(&load) { (0.97, 0.06) } else { (OF_PLATE, 1.0 - OF_PLATE) };
        let plate = real / (least + span * rng.random::<f64>());
        let amps = (rng.random::<f64>() < PLATED).then_some(Amps((10.0 * plate).round() / 10.0));
        self.house.loads.put(Load { amps, volts: Some(usual.volts.into()), habit: Some(usual.habit), ..load });
        self.truth.draws.insert(id, Amps(real));
    }

    /// A clamp at each leg that comes in and at each breaker, with most of this on.
    pub fn clamp_round(&mut self, nth: u64, usually: f64) {
        let mut rng = ChaCha8Rng::seed_from_u64(self.seed ^ nth.rotate_left(32));
        let wanted: BTreeSet<LoadId> =
            self.house.loads.iter().map(|l| l.id).filter(|_| rng.random::<f64>() < usually).collect();
        let legs = |panel: &Panel| {
            let place = MeasuredAt::Main { panel: panel.id };
            [Conductor::A, Conductor::B, Conductor::C]
                .into_iter()
                .take(usize::from(panel.supply.legs()))
                .map(move |of| (place, Some(of)))
        };
        let coming_in = self.house.panels.iter().flat_map(legs);
        let at_breaker = |b: &Breaker| MeasuredAt::Breaker { breaker: b.id, pole: None, side: Side::Load };
        let hots = self.house.breakers.iter().map(|b| (at_breaker(b), None));
        let places: Vec<(MeasuredAt, Option<Conductor>)> = coming_in.chain(hots).collect();
        for (place, of) in places {
            let quantity = Quantity::Amps { of };
            let id = ReadingId(self.house.readings.len() as u64 + 1);
            let seed = self.seed.wrapping_mul(31).wrapping_add(id.0);
            let Some(value) = self.truth.measure(&self.house, (place, quantity), Instrument::Clamp, &wanted, &[], seed)
            else {
                continue;
            };
            let (time, who) = (Timestamp::UNIX_EPOCH, "made".to_owned());
            let (instrument, span) = (Instrument::Clamp, Span::Spot);
            self.house.readings.put(Reading {
                id,
                time,
                who,
                place,
                quantity,
                value,
                instrument,
                span,
                on: wanted.clone(),
                sure: false,
            });
        }
    }
}
