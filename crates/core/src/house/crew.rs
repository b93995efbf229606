//! The people and tools at hand, and how they want to work.

use std::collections::BTreeSet;

use jiff::Timestamp;
use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

use super::{BreakerId, House};
use crate::base::units::Amps;
use crate::base::{Invalid, said};

/// The people and tools at hand, and what they may not switch.
#[derive(Debug, Clone, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct Crew {
    /// 1: alone; 2: one at the panel, one in the rooms.
    pub people: u8,
    /// Plug-in testers or lamps at hand, 1 to 20.
    pub testers: u8,
    /// A transmitter and receiver are at hand.
    #[serde(default)]
    pub transmitter: bool,
    /// A radio is at hand, loud enough to be heard at the panel.
    #[serde(default)]
    pub radio: bool,
    /// A clamp meter and a load of about 1500 W are at hand, and somebody qualified to work with the cover off.
    #[serde(default)]
    pub clamp: bool,
    /// An energy monitor watches every breaker, and a load of about 1500 W is at hand.
    #[serde(default)]
    pub monitor: bool,
    /// Breakers that must stay on.
    #[serde(default)]
    pub keep_on: BTreeSet<BreakerId>,
    /// Of these, those that may be switched off from a time on.
    #[serde(default, skip_serializing_if = "Vec::is_empty")]
    pub keep_until: Vec<KeptUntil>,
    /// How much walking is minded: a second of it counts as so many of other work, 1 to 4.
    #[serde(default = "one")]
    pub walking: u8,
    /// At most so many off at once; nothing for what the pace allows.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub max_off: Option<usize>,
    /// How much outages matter against time.
    #[serde(default)]
    pub pace: Pace,
    /// The way of tracing.
    #[serde(default)]
    pub method: Method,
}

/// A breaker that must stay on until a time.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct KeptUntil {
    /// The breaker.
    pub breaker: BreakerId,
    /// From then on it may be switched.
    #[schema(value_type = String, format = DateTime)]
    pub until: Timestamp,
}

/// What a kettle or a heater draws that is switched on to see which current rises, in watts,
pub const KNOWN_LOAD_WATTS: f64 = 1500.0;
/// and in amps at 120 V. [def]
pub const KNOWN_LOAD: Amps = Amps(KNOWN_LOAD_WATTS / 120.0);

/// How much outages matter against time.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Default, Serialize, Deserialize, ToSchema)]
#[serde(rename_all = "kebab-case")]
pub enum Pace {
    /// As many off at once as tells most.
    Fast,
    /// At most a quarter of the breakers off at once, or five with two people.
    #[default]
    Even,
    /// At most three off at once, and few outages of any one circuit.
    Gentle,
}

said!(Pace {
    Fast => "fast: many off at once",
    Even => "even: a few off at once",
    Gentle => "gentle: three off at most",
});

/// Ways of tracing (docs/handbook.md, 2.1).
#[derive(Debug, Clone, Copy, PartialEq, Eq, PartialOrd, Ord, Default, Serialize, Deserialize, ToSchema)]
#[serde(rename_all = "kebab-case")]
pub enum Method {
    /// Whatever tells most a minute next.
    #[default]
    Adaptive,
    /// One breaker off at a time, every point not yet proven looked at.
    OneAtATime,
    /// A transmitter at the point, a receiver at the panel, a switch-off to confirm.
    Transmitter,
    /// Breakers off in the rounds of a fixed code.
    Halving,
}

said!(Method {
    Adaptive => "what tells most next",
    OneAtATime => "one breaker at a time",
    Transmitter => "transmitter and receiver",
    Halving => "fixed halving rounds",
});

fn one() -> u8 {
    1
}

/// Most that a second of walking may count.
const MOST_WALKING: u8 = 4;
/// Most testers that a crew can name.
const MAX_TESTERS: u8 = 20;
/// Even pace, alone: a share of the breakers off at once; with two: so many.
const EVEN_SHARE: usize = 4;
const EVEN_PAIR: usize = 5;
/// Gentle pace: off at once.
const GENTLE_OFF: usize = 3;

impl Default for Crew {
    fn default() -> Self {
        Self {
            people: 1,
            testers: 1,
            transmitter: false,
            radio: false,
            clamp: false,
            monitor: false,
            keep_on: BTreeSet::new(),
            keep_until: Vec::new(),
            walking: 1,
            max_off: None,
            pace: Pace::default(),
            method: Method::default(),
        }
    }
}

impl Crew {
    /// Checks it against a house.
    ///
    /// # Errors
    /// [`Invalid`] names the field out of range, or a breaker to keep on that is not there.
    pub fn check(&self, house: &House) -> Result<(), Invalid> {
        if !(1..=2).contains(&self.people) {
            return Err(Invalid::new("people", "1 or 2 people"));
        }
        if !(1..=MAX_TESTERS).contains(&self.testers) {
            return Err(Invalid::new("testers", format!("1 to {MAX_TESTERS} testers")));
        }
        if self.max_off == Some(0) {
            return Err(Invalid::new("max_off", "at least one breaker must be allowed off"));
        }
        if !(1..=MOST_WALKING).contains(&self.walking) {
            return Err(Invalid::new("walking", format!("1 to {MOST_WALKING}")));
        }
        if self.keep_until.iter().any(|k| !self.keep_on.contains(&k.breaker)) {
            return Err(Invalid::new("keep_until", "a time is given for a breaker that is not kept on"));
        }
        match self.keep_on.iter().find(|b| house.breakers.get(**b).is_none()) {
            Some(_) => Err(Invalid::new("keep_on", "a breaker to keep on does not exist")),
            None => Ok(()),
        }
    }

    /// Somebody alone with several testers or lamps leaves them standing from tour to tour; one is kept in the hand.
    #[must_use]
    pub fn leaves_lamps(&self) -> bool {
        self.people == 1 && self.testers > 1
    }

    /// As it is at a time: what had to stay on until then may be switched.
    #[must_use]
    pub fn at(mut self, now: Timestamp) -> Self {
        let keep_on = &mut self.keep_on;
        self.keep_until.retain(|k| {
            let kept = k.until > now;
            if !kept {
                keep_on.remove(&k.breaker);
            }
            kept
        });
        self
    }

    /// Most breakers off at once, of so many.
    #[must_use]
    pub fn most_off(&self, breakers: usize) -> usize {
        let usual = match (self.pace, self.people) {
            (Pace::Fast, _) => breakers,
            (Pace::Even, 2) => EVEN_PAIR,
            (Pace::Even, _) => (breakers / EVEN_SHARE).max(GENTLE_OFF),
            (Pace::Gentle, _) => GENTLE_OFF,
        };
        self.max_off.unwrap_or(usual)
    }
}
