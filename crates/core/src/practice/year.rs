//! A made year of a utility's record, for the demo: nights and days, meals, baking days, heating in the cold.

use jiff::tz::TimeZone;
use jiff::{SignedDuration, Timestamp};
use rand::rngs::ChaCha8Rng;
use rand::{RngExt, SeedableRng};

use crate::base::units::Seconds;
use crate::load::energy::Intervals;

/// Quarters of an hour of a day and of a year of 365 days.
const DAY: usize = 96;
const DAYS: usize = 365;
const QUARTER: Seconds = Seconds(900.0);

/// A year of quarters of an hour from this moment on, people living by this clock, by this seed.
#[must_use]
pub fn year(start: Timestamp, zone: &TimeZone, seed: u64) -> Intervals {
    let mut rng = ChaCha8Rng::seed_from_u64(seed);
    let mut watt_hours = Vec::with_capacity(DAY * DAYS);
    for day in 0..DAYS {
        // Coldest in the middle of a year that begins in autumn.
        let cold = (1.0 - (day as f64 / DAYS as f64 * std::f64::consts::TAU).cos()) / 2.0;
        let baking = matches!(day % 7, 1 | 4 | 5);
        let charging = day % 2 == 0;
        for quarter in 0..DAY {
            let minutes = i64::try_from(15 * (DAY * day + quarter)).unwrap_or(0);
            let now = start.saturating_add(SignedDuration::from_mins(minutes)).unwrap_or(start);
            let clock = zone.to_datetime(now).time();
            let hour = f64::from(clock.hour()) + f64::from(clock.minute()) / 60.0;
            let within = |from: f64, to: f64| f64::from(u8::from(hour >= from && hour < to));
            let jitter = 0.85 + 0.3 * rng.random::<f64>();
            let mut watts = 380.0 + 900.0 * cold;
            watts += 600.0 * within(6.0, 22.5) * jitter;
            watts += 3500.0 * (within(7.0, 8.0) + within(12.0, 13.0) + 1.4 * within(17.5, 19.5)) * rng.random::<f64>();
            watts += if baking { 9800.0 * within(4.0, 9.5) * jitter } else { 0.0 };
            watts += if charging { 7000.0 * within(0.5, 4.0) } else { 0.0 };
            watts += if rng.random::<f64>() < 0.03 { 4500.0 } else { 0.0 };
            watt_hours.push((watts / 4.0).round() as f32);
        }
    }
    Intervals { start, step: QUARTER, watt_hours, reverse: false }
}
