//! Readings that do not fit: by how much, and what may have happened, each with what would put it right.

use serde::Serialize;
use utoipa::ToSchema;

use crate::base::units::Amps;
use crate::code::volts::LEG;
use crate::house::{BreakerId, House, LoadId, MeasuredAt, Quantity, Reading, ReadingId, Span};

/// A reading that does not fit what is believed.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
pub struct Misfit {
    /// Which.
    pub reading: ReadingId,
    /// What was read, in the reading's own unit: A or W,
    pub read: f64,
    /// and what was expected, in the same unit.
    pub expected: f64,
    /// By how many of its errors it is off.
    pub errors: f64,
    /// What to check, in words.
    pub said: String,
    /// What may have happened, what explains it best first.
    pub causes: Vec<Explanation>,
}

/// What may have happened.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
pub struct Explanation {
    /// What.
    #[serde(flatten)]
    pub happened: Happened,
    /// That as a question: `was the kettle off?`
    pub said: String,
    /// The same as an answer: `the kettle was off`.
    pub answer: String,
    /// The reading as it is then; nothing where it is what hangs where that is to be put right.
    pub right: Option<Reading>,
}

/// What makes a reading odd.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, ToSchema)]
#[serde(tag = "happened", rename_all = "kebab-case")]
pub enum Happened {
    /// It was read or written ten times too high or too low.
    Tenfold {
        /// What it is then, in the reading's own unit.
        value: f64,
    },
    /// This was noted, and was off.
    WasOff {
        /// Which.
        load: LoadId,
    },
    /// This was on, and was not noted.
    WasOn {
        /// Which.
        load: LoadId,
    },
    /// It was read at another breaker.
    Elsewhere {
        /// At which.
        breaker: BreakerId,
    },
    /// This hangs here, which is not known of it.
    HangsHere {
        /// Which.
        load: LoadId,
    },
}

/// What a cause would make of a reading: what is expected then, and how surely.
#[derive(Debug, Clone, Copy)]
pub(super) struct Supposed {
    pub happened: Happened,
    pub expected: f64,
    pub error: f64,
}

/// A supposed reading is explained where it is off by no more errors than this.
const EXPLAINED: f64 = 3.0;
/// Causes that are told.
const CAUSES: usize = 3;
/// More than what nobody thinks of, lights and standby together: from here on something hangs there. (common practice)
pub(super) const UNEXPLAINED: f64 = 1.5;

/// What happens more often goes first where two explain it alike. (common practice)
fn rare(happened: Happened) -> f64 {
    match happened {
        Happened::WasOff { .. } | Happened::Tenfold { .. } => 0.0,
        Happened::HangsHere { .. } => 0.3,
        Happened::WasOn { .. } => 0.5,
        Happened::Elsewhere { .. } => 1.0,
    }
}

/// A reading that is off, with what may have happened.
pub(super) fn misfit(
    house: &House,
    reading: &Reading,
    (value, expected, errors): (f64, f64, f64),
    supposed: Vec<Supposed>,
) -> Misfit {
    let (unit, volts) = if reading.quantity == Quantity::Watts { ("W", LEG) } else { ("A", 1.0) };
    let off = |s: &Supposed| (value - s.expected).abs() / s.error + rare(s.happened);
    let mut likely: Vec<Supposed> =
        supposed.into_iter().filter(|s| (value - s.expected).abs() <= EXPLAINED * s.error).collect();
    likely.sort_by(|a, b| off(a).total_cmp(&off(b)));
    likely.truncate(CAUSES);
    let causes: Vec<Explanation> =
        likely.into_iter().map(|s| cause(house, reading, s.happened, (volts, unit))).collect();
    let place = place_said(house, reading);
    let check = match causes.first() {
        Some(first) => {
            let mut said = first.said.clone();
            said[..1].make_ascii_uppercase();
            said
        }
        None if value > expected => {
            "Something else was on, or hangs on this circuit too: switch all off and read again.".to_owned()
        }
        None => "Something on the list was off, or hangs on another circuit: switch it off and on and see whether the reading \
                 moves."
            .to_owned(),
    };
    Misfit {
        reading: reading.id,
        read: reading.value,
        expected: volts * expected,
        errors,
        said: format!("{:.1} {unit} read at {place}, {:.1} {unit} expected. {check}", reading.value, volts * expected),
        causes,
    }
}

/// A current that was read where nothing that was on is believed to hang.
pub(super) fn unexplained(house: &House, reading: &Reading, error: f64, supposed: Vec<Supposed>) -> Option<Misfit> {
    let breaker = house.breakers.get(reading.place.breaker()?)?;
    let amps = matches!(reading.quantity, Quantity::Amps { of: None }) && reading.span == Span::Spot;
    (amps && reading.value >= UNEXPLAINED).then(|| {
        let told = misfit(house, reading, (reading.value, 0.0, reading.value / error), supposed);
        let first = told.causes.first().map(|c| format!(" Perhaps: {}", c.said)).unwrap_or_default();
        Misfit {
            said: format!(
                "{:.1} A read at {}, where nothing that was on is known to hang.{first} Switch things off one by one and read again: \
                 what it falls with hangs here.",
                reading.value,
                house.breaker_name(breaker)
            ),
            ..told
        }
    })
}

fn cause(house: &House, reading: &Reading, happened: Happened, (volts, unit): (f64, &str)) -> Explanation {
    let named = |load: LoadId| house.loads.get(load).map_or("it", |l| l.name.as_str());
    let (happened, said, answer) = match happened {
        Happened::Tenfold { value } => {
            let value = volts * value;
            (Happened::Tenfold { value }, format!("was it {value:.1} {unit}?"), format!("it was {value:.1} {unit}"))
        }
        Happened::WasOff { load } => {
            (happened, format!("was {} off, or at rest?", named(load)), format!("{} was off", named(load)))
        }
        Happened::WasOn { load } => {
            (happened, format!("was {} on as well?", named(load)), format!("{} was on too", named(load)))
        }
        Happened::HangsHere { load } => {
            (happened, format!("does {} hang here?", named(load)), format!("look what feeds {}", named(load)))
        }
        Happened::Elsewhere { breaker } => {
            let name = house.breakers.get(breaker).map(|b| house.breaker_name(b)).unwrap_or_default();
            (happened, format!("was it read at {name}?"), format!("it was read at {name}"))
        }
    };
    Explanation { happened, said, answer, right: put_right(reading, happened) }
}

fn put_right(reading: &Reading, happened: Happened) -> Option<Reading> {
    let mut right = reading.clone();
    match happened {
        Happened::Tenfold { value } => right.value = value,
        Happened::WasOff { load } => {
            right.on.remove(&load);
        }
        Happened::WasOn { load } => {
            right.on.insert(load);
        }
        Happened::Elsewhere { breaker } => match &mut right.place {
            MeasuredAt::Breaker { breaker: at, .. } => *at = breaker,
            _ => return None,
        },
        Happened::HangsHere { .. } => return None,
    }
    Some(right)
}

fn place_said(house: &House, reading: &Reading) -> String {
    let breaker = reading.place.breaker().and_then(|b| house.breakers.get(b)).map(|b| house.breaker_name(b));
    let panel = || reading.place.panel().and_then(|p| house.panels.get(p)).map(|p| p.name.clone());
    let point = || reading.place.point().and_then(|p| house.points.get(p)).map(|p| p.tag.clone());
    breaker.or_else(panel).or_else(point).unwrap_or_default()
}

/// The breakers of a panel, but for the one where it was read.
pub(super) fn others(house: &House, reading: &Reading) -> Vec<MeasuredAt> {
    let MeasuredAt::Breaker { breaker, side, .. } = reading.place else { return Vec::new() };
    let Some(here) = house.breakers.get(breaker) else { return Vec::new() };
    let beside = house.breakers_of(here.panel).into_iter().filter(|b| b.id != breaker);
    beside.map(|b| MeasuredAt::Breaker { breaker: b.id, pole: None, side }).collect()
}

/// A reading that is off by as little is none: what nobody thinks of is on as well.
pub(super) const NOTHING: Amps = Amps(0.05);
