//! Practice: made houses, people with tools who err, and ways of tracing played against each other.
//!
//! The clock here is a model of people at work; its costs and errors are assumptions that are named, not measurements.

mod by_hand;
mod helps;
pub mod home;
pub mod living;
mod metering;
mod play;
pub mod rounds;
mod stand_in;
mod walker;
mod world;
mod year;

use rand::SeedableRng;
use rand::rngs::ChaCha8Rng;
use serde::Serialize;
use utoipa::ToSchema;

use crate::base::Invalid;
use crate::base::units::Seconds;
use crate::trace::{Crew, Method, Model, Tracker};

pub use helps::{Help, Saving, helps};
pub use stand_in::{StandIn, Tool};
use walker::Walker;
pub use walker::{Costs, Score};
pub use world::{Setting, World};
pub use year::year;

/// Ways of tracing, as practice plays them.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum Manner {
    /// One breaker at a time, as people do it.
    OneAtATime,
    /// The same, with dead points found beforehand and every dead reading taken twice.
    Confirmed,
    /// A transmitter at each point, then a switch-off and a look around.
    Transmitter,
    /// A fixed halving code, one walk a round.
    Halving,
    /// This program's own.
    Adaptive,
}

/// Seeds of what happens on the way are apart from those of the houses.
const LUCK: u64 = 0x5eed_0000_0000;

/// Plays one whole tracing. Crew and method other than people and testers count for [`Manner::Adaptive`] only.
#[must_use]
pub fn play(world: &World, seed: u64, way: Manner, crew: &Crew, costs: Costs) -> Score {
    let rng = ChaCha8Rng::seed_from_u64(seed ^ LUCK);
    let walker = Walker::new(world, costs, rng, crew.people == 2, usize::from(crew.testers));
    match way {
        Manner::OneAtATime => by_hand::one_at_a_time(walker, false),
        Manner::Confirmed => by_hand::one_at_a_time(walker, true),
        Manner::Transmitter => by_hand::transmitter(walker),
        Manner::Halving => by_hand::halving(walker),
        Manner::Adaptive => {
            let mut tracker = Tracker::blank(Model::new(&world.house));
            play::Player::new(walker, &mut tracker, crew).run()
        }
    }
}

/// What a way of tracing would come to, from here on, in this house.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
pub struct Forecast {
    /// The way.
    pub method: Method,
    /// Expected time,
    pub seconds: Seconds,
    /// and from the shortest to the longest of the plays.
    pub range: [Seconds; 2],
    /// Walks to the panel and back; with two people, orders passed.
    pub walks: f64,
    /// Times that a breaker is switched off.
    pub outages: f64,
    /// Most breakers off at once.
    pub most_off: f64,
    /// Points wrong in the map at the end, of those still open.
    pub wrong: f64,
}

/// Plays of each way in a forecast; fewer where the house is large.
const PLAYS: u64 = 8;
const LARGE: usize = 4000;

/// What a way of tracing would come to from here on: it is played some times in this house, with the unknown part of the
/// truth drawn from what is believed now.
///
/// # Errors
/// [`Invalid`] where the crew is out of range.
pub fn forecast(start: &Tracker<'_>, crew: &Crew, method: Method) -> Result<Forecast, Invalid> {
    crew.check(start.house())?;
    let crew = Crew { method, ..crew.clone() };
    let scores: Vec<Score> = (0..plays(start)).map(|seed| imagine(start, &crew, Known::AsDrawn, seed)).collect();
    Ok(sum_up(method, &scores))
}

fn plays(start: &Tracker<'_>) -> u64 {
    if start.seen.len() * start.model.breakers() > LARGE { PLAYS / 4 } else { PLAYS }
}

/// What is known beforehand of the ways between the rooms.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
enum Known {
    /// What the plan shows, and else what is usual.
    AsDrawn,
    /// How long each walk takes.
    Walked,
}

/// How long work takes these people, as far as their answers have told.
fn costs(start: &Tracker<'_>) -> Costs {
    let usual = Costs::default();
    let tempo = start.tempo(&start.model.rooms.walks(start.house()));
    Costs {
        light: tempo.light,
        glance: tempo.glance,
        plug: tempo.tester,
        room: usual.room * tempo.walking,
        talk: tempo.order,
        ..usual
    }
}

fn imagine(start: &Tracker<'_>, crew: &Crew, known: Known, seed: u64) -> Score {
    let world = World::imagined(start, seed);
    let costs = costs(start);
    let way = match crew.method {
        Method::Adaptive => {
            let rng = ChaCha8Rng::seed_from_u64(seed ^ LUCK);
            let walker = Walker::new(&world, costs, rng, crew.people == 2, usize::from(crew.testers));
            let mut tracker = Tracker::new(start.house());
            let player = play::Player::new(walker, &mut tracker, crew);
            return if known == Known::Walked { player.knowing_ways() } else { player }.run();
        }
        Method::OneAtATime => Manner::Confirmed,
        Method::Transmitter => Manner::Transmitter,
        Method::Halving => Manner::Halving,
    };
    play(&world, seed, way, crew, costs)
}

fn sum_up(method: Method, outcomes: &[Score]) -> Forecast {
    let mean = |f: &dyn Fn(&Score) -> f64| outcomes.iter().map(f).sum::<f64>() / outcomes.len().max(1) as f64;
    let seconds = |o: &Score| 60.0 * o.minutes;
    let shortest = outcomes.iter().map(seconds).fold(f64::INFINITY, f64::min);
    let longest = outcomes.iter().map(seconds).fold(0.0, f64::max);
    Forecast {
        method,
        seconds: Seconds(mean(&seconds)),
        range: [Seconds(shortest.min(longest)), Seconds(longest)],
        walks: mean(&|o| o.walks),
        outages: mean(&|o| o.outages),
        most_off: mean(&|o| o.most_off),
        wrong: mean(&|o| o.wrong),
    }
}

#[cfg(test)]
mod tests;
