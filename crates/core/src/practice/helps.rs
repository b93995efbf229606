//! What each cheap help would save a crew: the same plays in this very house, with it and without.

use serde::Serialize;
use utoipa::ToSchema;

use super::{Known, PLAYS, imagine, plays};
use crate::base::units::Seconds;
use crate::base::{Invalid, Said, said};
use crate::trace::{Crew, Method, Tracker};

/// Something that costs little and may shorten the work.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, ToSchema)]
#[serde(rename_all = "kebab-case")]
pub enum Help {
    /// Somebody at the panel while the other walks.
    SecondPerson,
    /// Ten lamps that stay where they are plugged in.
    Lamps,
    /// A transmitter and its receiver.
    Transmitter,
    /// Doors on the plan, so that walks are known.
    WalkingWays,
}

said!(Help {
    SecondPerson => "a second person, who stays at the panel",
    Lamps => "ten lamps that stay where they are plugged in",
    Transmitter => "a transmitter and its receiver",
    WalkingWays => "the rooms on the plan, with their doors",
});

/// What a help would save.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
pub struct Saving {
    /// The help,
    pub help: Help,
    /// and in words.
    pub said: &'static str,
    /// Expected time with it,
    pub seconds: Seconds,
    /// and what that is less than without; below zero where it costs time.
    pub saved: Seconds,
    /// So far off the plays leave that, nineteen times of twenty.
    pub plus_minus: Seconds,
}

const LAMPS: u8 = 10;
/// Standard errors on either side that hold nineteen times of twenty (Student's t): with eight plays, 7 degrees of freedom,
const STUDENT: f64 = 2.365;
/// and with the two of a large house, one.
const STUDENT_OF_TWO: f64 = 12.706;

/// What each help that the crew does not have yet would save from here on, the most first.
///
/// # Errors
/// [`Invalid`] where the crew is out of range.
pub fn helps(start: &Tracker<'_>, crew: &Crew) -> Result<Vec<Saving>, Invalid> {
    crew.check(start.house())?;
    let crew = Crew { method: Method::default(), ..crew.clone() };
    let seeds = plays(start);
    let seconds = |crew: &Crew, known: Known| -> Vec<f64> {
        (0..seeds).map(|seed| 60.0 * imagine(start, crew, known, seed).minutes).collect()
    };
    let without = seconds(&crew, Known::AsDrawn);
    let with = |help| match help {
        Help::SecondPerson => (crew.people == 1).then(|| (Crew { people: 2, ..crew.clone() }, Known::AsDrawn)),
        // Somebody at the panel makes lamps needless.
        Help::Lamps => (crew.people == 1 && crew.testers < LAMPS)
            .then(|| (Crew { testers: LAMPS, ..crew.clone() }, Known::AsDrawn)),
        Help::Transmitter => (!crew.transmitter).then(|| (Crew { transmitter: true, ..crew.clone() }, Known::AsDrawn)),
        Help::WalkingWays => (!start.model.rooms.has_ways()).then(|| (crew.clone(), Known::Walked)),
    };
    let all = [Help::SecondPerson, Help::Lamps, Help::Transmitter, Help::WalkingWays];
    let mut savings: Vec<Saving> = all
        .into_iter()
        .filter_map(|help| with(help).map(|(crew, known)| saving(help, &without, &seconds(&crew, known))))
        .collect();
    savings.sort_by(|a, b| b.saved.0.total_cmp(&a.saved.0));
    Ok(savings)
}

fn saving(help: Help, without: &[f64], with: &[f64]) -> Saving {
    let n = with.len() as f64;
    let mean = |of: &[f64]| of.iter().sum::<f64>() / n;
    // House by house: what is hard for one crew in it is hard for the other.
    let saved: Vec<f64> = without.iter().zip(with).map(|(without, with)| without - with).collect();
    let middle = mean(&saved);
    let spread = (saved.iter().map(|s| (s - middle).powi(2)).sum::<f64>() / (n - 1.0).max(1.0)).sqrt();
    let sure = if with.len() as u64 == PLAYS { STUDENT } else { STUDENT_OF_TWO };
    Saving {
        help,
        said: help.said(),
        seconds: Seconds(mean(with)),
        saved: Seconds(middle),
        plus_minus: Seconds(sure * spread / n.sqrt()),
    }
}
