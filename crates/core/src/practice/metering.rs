//! Instruments that measure in the simulated house through its network, with their errors and ranges.

use std::collections::BTreeSet;

use rand::rngs::ChaCha8Rng;
use rand::{RngExt, SeedableRng};

use super::stand_in::StandIn;
use crate::base::position::Leg;
use crate::base::units::Amps;
use crate::house::{Conductor, House, Instrument, Job, LoadId, MeasuredAt, PanelId, Quantity, Side, Stage};
use crate::job;
use crate::network::wiring::Bar;
use crate::network::{Flaw, FlawAt, On, Wired};
use crate::plate::{self, typical};

/// Largest current and voltage that the instruments show. (common practice)
const MOST_AMPS: f64 = 600.0;
const MOST_VOLTS: f64 = 750.0;
/// A cellar's air, and what a breaker warms by at its rating, in degrees Celsius. (common practice)
const AIR: f64 = 18.0;
const AT_RATING: f64 = 25.0;
/// Of what is not written down where it is used up.
const UNWRITTEN: f64 = 0.8;

impl StandIn {
    /// What an instrument shows at a place with these loads on and these things wrong; nothing where it cannot be used there
    /// or shows overload. The same seed gives the same number.
    #[must_use]
    pub fn measure(
        &self,
        house: &House,
        (place, quantity): (MeasuredAt, Quantity),
        instrument: Instrument,
        on: &BTreeSet<LoadId>,
        flaws: &[(Flaw, FlawAt)],
        seed: u64,
    ) -> Option<f64> {
        let worked = worked(house);
        let house = &worked;
        let wired = Wired::new(house, &self.running(house, on), flaws);
        let (exact, most) = match quantity {
            Quantity::Amps { of } => (amps(&wired, place, of)?, MOST_AMPS),
            Quantity::Volts { .. } if self.is_dead(house, place) => (0.0, MOST_VOLTS),
            Quantity::Volts { between } => (self.volts(house, &wired, place, between)?, MOST_VOLTS),
            Quantity::Watts => (self.watts(house, place, on), f64::MAX),
            Quantity::Degrees => (degrees(house, &wired, place)?, f64::MAX),
        };
        let mut rng = ChaCha8Rng::seed_from_u64(seed);
        // The sum of three is near enough to a normal distribution; its standard deviation is a half.
        let noise = (0..3).map(|_| rng.random::<f64>() - 0.5).sum::<f64>();
        let (share, fixed, step) = errors(instrument, quantity);
        let shown = exact + noise * (share * exact.abs() + fixed);
        let shown = (shown.max(0.0) / step).round() * step;
        (shown <= most).then_some((shown * 1000.0).round() / 1000.0)
    }

    /// What is on as it really hangs and really draws.
    fn running(&self, house: &House, on: &BTreeSet<LoadId>) -> Vec<On> {
        let one = |id: &LoadId| {
            let load = house.loads.get(*id)?;
            let feeder = self.feeder(house, load.point)?;
            Some(On { breakers: vec![feeder], pole: 0, volts: plate::volts(house, load), amps: self.draw(house, *id) })
        };
        on.iter().filter_map(one).collect()
    }

    /// What a load really draws.
    fn draw(&self, house: &House, load: LoadId) -> Amps {
        let written = || house.loads.get(load).and_then(|l| typical::of_load(house, l)).map(|a| Amps(UNWRITTEN * a.0));
        self.draws.get(&load).copied().or_else(written).unwrap_or(Amps(0.0))
    }

    /// True where nothing feeds a place: a job keeps its panel off as a whole, or its breaker is off.
    fn is_dead(&self, house: &House, place: MeasuredAt) -> bool {
        let (breaker, panel) = match place {
            MeasuredAt::Breaker { breaker, side: Side::Load, .. } => (Some(breaker), None),
            MeasuredAt::Breaker { breaker, .. } => (None, house.breakers.get(breaker).map(|b| b.panel)),
            MeasuredAt::Point { point } => (self.feeder(house, point), None),
            MeasuredAt::Bus { panel } | MeasuredAt::Main { panel } => (None, Some(panel)),
            MeasuredAt::Feed { .. } => return false,
        };
        let of = breaker.and_then(|b| house.breakers.get(b));
        let mut off = of.is_some_and(|b| b.is_off());
        let mut here = of.map(|b| b.panel).or(panel).and_then(|p| house.panels.get(p));
        // Panels are never fed by themselves (integrity), so this climb ends.
        while let Some(panel) = here {
            let kept = |job: &Job| job.ended.is_none() && job.keeps_off().0.contains(&panel.id);
            let feeder = panel.fed_by.and_then(|b| house.breakers.get(b));
            off |= house.jobs.iter().any(kept) || feeder.is_some_and(|b| b.is_off());
            here = feeder.and_then(|b| house.panels.get(b.panel));
        }
        off
    }

    fn volts(&self, house: &House, wired: &Wired, place: MeasuredAt, between: Option<[Conductor; 2]>) -> Option<f64> {
        let MeasuredAt::Point { point } = place else { return volts(house, wired, place, between) };
        let feeder = self.feeder(house, point)?;
        let to_ground = |hot: Conductor| {
            let breaker = house.breakers.get(feeder)?;
            let panel = house.panels.get(breaker.panel)?;
            let nth = breaker.at.iter().position(|p| Conductor::of(panel.leg(*p)) == hot)?;
            wired.at_the_end(feeder)?.1.get(nth).map(|v| v.0)
        };
        match (between, house.points.get(point)?.volts) {
            (Some([hot, Conductor::G]), _) => to_ground(hot),
            (_, Some(volts)) if volts.is_leg_to_leg() => wired.across_the_end(feeder).map(|v| v.0),
            _ => wired.at_the_end(feeder)?.0.first().map(|v| v.0),
        }
    }

    fn watts(&self, house: &House, place: MeasuredAt, on: &BTreeSet<LoadId>) -> f64 {
        let at = |load: &&crate::house::Load| match place {
            MeasuredAt::Point { point } => load.point == point,
            _ => true,
        };
        let power =
            |load: &crate::house::Load| self.draw(house, load.id).0 * f64::from(u16::from(plate::volts(house, load)));
        on.iter().filter_map(|id| house.loads.get(*id)).filter(at).map(power).sum()
    }
}

/// Share and amount that an instrument is off by, at two standard errors (handbook 3.1), and the steps it shows.
fn errors(instrument: Instrument, quantity: Quantity) -> (f64, f64, f64) {
    match (instrument, quantity) {
        (Instrument::Clamp, Quantity::Amps { .. }) => (0.02, 0.2, 0.1),
        (_, Quantity::Volts { .. }) => (0.01, 0.2, 0.1),
        (Instrument::PlugIn, _) => (0.01, 1.0, 1.0),
        (Instrument::UtilityMeter, _) => (0.03, 10.0, 1.0),
        (Instrument::Infrared, _) => (0.02, 1.0, 0.5),
        _ => (0.02, 0.1, 0.1),
    }
}

fn amps(wired: &Wired, place: MeasuredAt, of: Option<Conductor>) -> Option<f64> {
    let feed = |panel: PanelId| {
        let (legs, neutral) = wired.feed(panel)?;
        match of? {
            Conductor::N => Some(neutral.0),
            Conductor::G => None,
            leg => legs.get(leg as usize).map(|a| a.0),
        }
    };
    match place {
        MeasuredAt::Breaker { breaker, pole, .. } => {
            let poles = wired.poles(breaker);
            match pole {
                Some(pole) => poles.get(usize::from(pole).checked_sub(1)?).map(|a| a.0),
                None => poles.iter().map(|a| a.0).reduce(f64::max),
            }
        }
        MeasuredAt::Bus { panel } | MeasuredAt::Main { panel } | MeasuredAt::Feed { panel } => feed(panel),
        MeasuredAt::Point { .. } => None,
    }
}

fn volts(house: &House, wired: &Wired, place: MeasuredAt, between: Option<[Conductor; 2]>) -> Option<f64> {
    let bar = |c: Conductor| match c {
        Conductor::A => Bar::Leg(Leg::A),
        Conductor::B => Bar::Leg(Leg::B),
        Conductor::C => Bar::Leg(Leg::C),
        Conductor::N => Bar::Neutral,
        Conductor::G => Bar::Ground,
    };
    match place {
        MeasuredAt::Bus { panel } | MeasuredAt::Main { panel } | MeasuredAt::Feed { panel } => {
            wired.volts(panel, between?.map(bar)).map(|v| v.0)
        }
        MeasuredAt::Breaker { breaker, pole, side } => {
            let at = house.breakers.get(breaker)?;
            let panel = house.panels.get(at.panel)?;
            let nth = usize::from(pole.unwrap_or(1)).checked_sub(1)?;
            match (side, between) {
                (Side::Bus, None) => {
                    let leg = panel.leg(*at.at.get(nth)?);
                    wired.volts(panel.id, [Bar::Leg(leg), Bar::Neutral]).map(|v| v.0)
                }
                (Side::Bus, Some(_)) => {
                    let legs: Vec<Leg> = at.at.iter().map(|p| panel.leg(*p)).collect();
                    wired.volts(panel.id, [Bar::Leg(*legs.first()?), Bar::Leg(*legs.get(1)?)]).map(|v| v.0)
                }
                (Side::Load, Some([a, b])) if is_leg(a) && is_leg(b) => wired.across_the_end(breaker).map(|v| v.0),
                (Side::Load, _) => wired.at_the_end(breaker)?.0.get(nth).map(|v| v.0),
            }
        }
        MeasuredAt::Point { .. } => None,
    }
}

fn is_leg(conductor: Conductor) -> bool {
    !matches!(conductor, Conductor::N | Conductor::G)
}

/// The house as it is by now where work goes on: what was put in is there before the record says so.
fn worked(house: &House) -> House {
    let open = house.jobs.iter().filter(|job| job.ended.is_none() && job.made.is_none());
    let past_work = open.filter(|job| job.next().is_none_or(|step| step.stage > Stage::Work));
    past_work.fold(house.clone(), |house, job| match job::work::becomes(&house, job) {
        Ok(done) => done.house,
        Err(_) => house,
    })
}

fn degrees(house: &House, wired: &Wired, place: MeasuredAt) -> Option<f64> {
    let breaker = house.breakers.get(place.breaker()?)?;
    let most = wired.poles(breaker.id).iter().map(|a| a.0).fold(0.0, f64::max);
    Some(AIR + AT_RATING * (most / breaker.amps.0).powi(2))
}
