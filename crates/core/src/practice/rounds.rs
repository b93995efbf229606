//! Rounds of measuring in made houses: how near the believed draws come to the truth, and how often an overload that really
//! comes in a week is foretold.
//!
//! A model, not a survey: what people own and when they use it are assumptions, named here. The weeks are lived minute by
//! minute with things that run for a while, another model than the one that foretells (`load/week.rs`).

use std::collections::{BTreeMap, BTreeSet};

use jiff::Timestamp;
use rand::rngs::ChaCha8Rng;
use rand::seq::IndexedRandom;
use rand::{RngExt, SeedableRng};

use super::stand_in::StandIn;
use super::world::{Setting, World};
use crate::base::units::{Amps, NominalVolts};
use crate::house::{
    Breaker, BreakerId, Conductor, Evidence, EvidenceId, Habit, House, Instrument, Load, LoadId, MeasuredAt,
    Observation, Panel, PointKind, Quantity, Reading, ReadingId, Side, Span,
};
use crate::load::circuits::{CircuitLoad, circuits};
use crate::load::draws::{Draws, draws};
use crate::load::{Loaded, drawing};
use crate::plate;
use crate::trace::beliefs;
use crate::words::usual::USUAL;

/// Receptacles with something plugged in; those of them with two things; things whose nameplate somebody read.
const LOADED: f64 = 0.6;
const TWICE: f64 = 0.3;
const PLATED: f64 = 0.6;
/// Of a nameplate a thing really draws between this share and all (handbook 3.2).
const OF_PLATE: f64 = 0.5;
/// Of what is on in a round, things that are off all the same.
const LEFT_OFF: f64 = 0.1;
/// Steps of a lived week, in minutes.
const STEP: usize = 5;
const DAY: usize = 24 * 60 / STEP;
const DAYS: usize = 7;

/// A made house with things in it, traced right.
#[derive(Debug)]
pub struct Furnished {
    /// What is known.
    pub house: House,
    /// What is true.
    pub truth: StandIn,
    seed: u64,
}

/// How near the draws came.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Nearness {
    /// Mean of how far they are off, in amperes,
    pub amps: f64,
    /// and as a share of what is drawn.
    pub share: f64,
    /// How many lie within what is told, nineteen times of twenty if all is right.
    pub within: f64,
}

/// Overloads of circuits in a week that were foretold, that were not, and false alarms.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Default)]
pub struct Foretold {
    /// They came, and were foretold.
    pub right: usize,
    /// They came, and were not.
    pub missed: usize,
    /// They were foretold, and did not come.
    pub false_alarms: usize,
    /// Circuits that were neither.
    pub calm: usize,
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

    /// A round as it is usually made: nearly all on, and once more with half of it on.
    pub fn round(&mut self, nth: u64) {
        self.clamp_round(nth, if nth == 1 { 1.0 - LEFT_OFF } else { 0.5 });
    }

    fn believed(&self) -> Draws {
        draws(&self.house, &beliefs(&self.house))
    }

    /// How near the believed draws are to the truth.
    #[must_use]
    pub fn nearness(&self) -> Nearness {
        let told = self.believed();
        let known = told.loads.iter().filter_map(|d| Some((d, self.truth.draws.get(&d.load)?.0)));
        let (mut off, mut drawn, mut within, mut count) = (0.0, 0.0, 0.0, 0.0);
        for (draw, real) in known {
            off += (draw.amps.0 - real).abs();
            drawn += real;
            within += f64::from(u8::from((draw.amps.0 - real).abs() <= draw.plus_minus.0));
            count += 1.0;
        }
        let count = f64::max(count, 1.0);
        Nearness { amps: off / count, share: off / f64::max(drawn, 1e-9), within: within / count }
    }

    /// Circuits that pass their rating in a lived week, and those of which that was foretold.
    #[must_use]
    pub fn foretold(&self) -> Foretold {
        let beliefs = beliefs(&self.house);
        let draws = draws(&self.house, &beliefs);
        let loaded = Loaded::new(&self.house, &beliefs, &draws);
        let told: Vec<CircuitLoad> = circuits(&self.house, &loaded.hung, &loaded.all);
        let peaks = self.live();
        let mut sum = Foretold::default();
        for circuit in told.iter().filter(|c| !c.things.is_empty()) {
            let came = peaks.get(&circuit.breaker).is_some_and(|peak| *peak > circuit.rating.0);
            match (came, circuit.over >= 0.5) {
                (true, true) => sum.right += 1,
                (true, false) => sum.missed += 1,
                (false, true) => sum.false_alarms += 1,
                (false, false) => sum.calm += 1,
            }
        }
        sum
    }

    /// The largest current of each breaker in a lived week.
    fn live(&self) -> BTreeMap<BreakerId, f64> {
        let mut rng = ChaCha8Rng::seed_from_u64(self.seed ^ 0x11fe);
        let mut sums: BTreeMap<BreakerId, Vec<f64>> = BTreeMap::new();
        for load in self.house.loads.iter() {
            let Some(Some(feeder)) = self.truth.truth.get(&load.point) else { continue };
            let amps = self.truth.draws.get(&load.id).map_or(0.0, |a| a.0);
            let sum = sums.entry(*feeder).or_insert_with(|| vec![0.0; DAYS * DAY]);
            for (at, on) in runs(drawing::habit(load), &mut rng).into_iter().enumerate() {
                sum[at] += if on { amps } else { 0.0 };
            }
        }
        sums.into_iter().map(|(b, sum)| (b, sum.into_iter().fold(0.0, f64::max))).collect()
    }
}

/// When a thing runs in a week, step by step.
fn runs(habit: Habit, rng: &mut ChaCha8Rng) -> Vec<bool> {
    let mut on = vec![false; DAYS * DAY];
    let mut stretch = |from: usize, minutes: usize| {
        let to = (from + (minutes / STEP).max(1)).min(on.len());
        on[from.min(to)..to].fill(true);
    };
    let hour = |day: usize, hour: f64| day * DAY + (hour * 60.0) as usize / STEP;
    match habit {
        // A quarter of an hour on, twenty-five minutes off, and so on.
        Habit::Always | Habit::Season => {
            let mut at = rng.random_range(0..8);
            while at < DAYS * DAY {
                stretch(at, 15);
                at += rng.random_range(6..10);
            }
        }
        Habit::Meals => {
            for (day, meal) in (0..DAYS).flat_map(|d| [7.0, 12.0, 18.0].map(|m| (d, m))) {
                if rng.random::<f64>() < 0.4 {
                    stretch(hour(day, meal + 0.75 * rng.random::<f64>()), rng.random_range(5..25));
                }
            }
        }
        Habit::Occupied => {
            for day in 0..DAYS {
                if rng.random::<f64>() < 0.6 {
                    stretch(hour(day, 7.0 + 14.0 * rng.random::<f64>()), rng.random_range(10..120));
                }
            }
        }
        Habit::Hours => {
            for day in 0..DAYS {
                if rng.random::<f64>() < 0.7 {
                    stretch(hour(day, 24.0 * rng.random::<f64>()), rng.random_range(180..300));
                }
            }
        }
        Habit::Seldom => {
            if rng.random::<f64>() < 0.5 {
                stretch(hour(rng.random_range(0..DAYS), 9.0 + 10.0 * rng.random::<f64>()), 30);
            }
        }
    }
    on
}

#[cfg(test)]
mod tests {
    use super::*;

    // The truth of made houses, which the believed draws never see.
    #[test]
    fn each_round_brings_draws_nearer_and_what_is_told_holds() {
        let (mut before, mut one, mut two, mut within) = (0.0, 0.0, 0.0, 0.0);
        const HOUSES: u64 = 6;
        for seed in 0..HOUSES {
            let mut made = Furnished::new(12, seed);
            before += made.nearness().share;
            made.round(1);
            one += made.nearness().share;
            made.round(2);
            let after = made.nearness();
            two += after.share;
            within += after.within;
        }
        assert!(one < 0.85 * before && two < one, "{before} {one} {two}");
        assert!(within / HOUSES as f64 > 0.85, "{within}");
    }

    #[test]
    fn overloads_that_come_are_mostly_foretold() {
        let mut all = Foretold::default();
        for seed in 0..8 {
            let mut made = Furnished::new(12, 100 + seed);
            made.round(1);
            made.round(2);
            let one = made.foretold();
            all.right += one.right;
            all.missed += one.missed;
            all.false_alarms += one.false_alarms;
            all.calm += one.calm;
        }
        assert!(all.right > 2 * all.missed, "{all:?}");
        assert!(all.calm > all.false_alarms, "{all:?}");
    }
}
