//! What the utility's meter recorded over months. Here is what follows from it; its numbers are kept by the store.

use jiff::Timestamp;
use jiff::tz::TimeZone;
use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

use super::EnergyId;
use crate::base::Invalid;
use crate::base::units::{Seconds, Watts};

/// Longest interval that says something of demand: an hour. [pub: NEC 220.87, value from memory]
pub const LONGEST_STEP: Seconds = Seconds(3600.0);

/// An energy record.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct EnergyRecord {
    /// Its id.
    pub id: EnergyId,
    /// The name of the file it came in.
    pub name: String,
    /// When it was added.
    #[schema(value_type = String, format = DateTime)]
    pub time: Timestamp,
    /// Who added it.
    pub who: String,
    /// When its first interval begins.
    #[schema(value_type = String, format = DateTime)]
    pub from: Timestamp,
    /// When its last one ends.
    #[schema(value_type = String, format = DateTime)]
    pub to: Timestamp,
    /// How long each interval is.
    pub step: Seconds,
    /// The time zone that its days are told in: a name, or a rule as POSIX writes it.
    pub zone: String,
    /// The largest demands of different days, the largest first, each of a quarter of an hour or of the record's interval.
    pub largest: Vec<Demand>,
    /// What runs always, at night.
    pub base: Watts,
    /// All of it, in kilowatt-hours.
    pub kwh: f64,
    /// Some of the time power went out: sun or a battery hides the demand.
    #[serde(default, skip_serializing_if = "super::is_false")]
    pub reverse: bool,
    /// Intervals that are missing in between.
    pub missing: u32,
    /// Digest of its numbers: SHA-256 in hexadecimal. They are kept under this name.
    pub digest: String,
}

/// A demand: energy over the time of an interval.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct Demand {
    /// When its interval began.
    #[schema(value_type = String, format = DateTime)]
    pub time: Timestamp,
    /// How much.
    pub watts: Watts,
}

/// A time zone by its name, or by a rule as POSIX writes it.
///
/// # Errors
/// Where it is neither.
pub fn zone(text: &str) -> Result<TimeZone, Invalid> {
    let wrong =
        || Invalid::new("zone", format!("\"{text}\" is no time zone: America/Halifax, or EST5EDT,M3.2.0,M11.1.0"));
    TimeZone::get(text).or_else(|_| TimeZone::posix(text)).map_err(|_| wrong())
}

impl EnergyRecord {
    /// A moment as its clocks showed it.
    #[must_use]
    pub fn local(&self, time: Timestamp) -> String {
        let zone = zone(&self.zone).unwrap_or(TimeZone::UTC);
        time.to_zoned(zone).strftime("%Y-%m-%d %H:%M").to_string()
    }
}
