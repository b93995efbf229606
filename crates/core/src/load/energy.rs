//! What an energy record says: its largest demands, what runs always, the year by days and hours (handbook 3.9).

use std::collections::BTreeMap;

use jiff::civil::Date;
use jiff::tz::TimeZone;
use jiff::{SignedDuration, Timestamp};
use serde::Serialize;
use utoipa::ToSchema;

use crate::base::units::{Seconds, Watts};
use crate::house::{Demand, EnergyRecord};

/// Energy of intervals of the same length, one after the other.
#[derive(Debug, Clone, PartialEq)]
pub struct Intervals {
    /// When the first begins.
    pub start: Timestamp,
    /// How long each is.
    pub step: Seconds,
    /// Energy of each in watt-hours; not a number where it is missing. Less than nothing went out.
    pub watt_hours: Vec<f32>,
    /// Some came as going out.
    pub reverse: bool,
}

/// What follows from a record.
#[derive(Debug, Clone, PartialEq)]
pub struct Summary {
    /// The largest demands of different days.
    pub largest: Vec<Demand>,
    /// What runs always, at night.
    pub base: Watts,
    /// All of it, in kilowatt-hours.
    pub kwh: f64,
    /// Intervals that are missing.
    pub missing: u32,
}

/// A year as days by hours.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
pub struct Heat {
    /// Days, the oldest first.
    pub days: Vec<HeatDay>,
    /// The largest hour, in watts.
    pub most: Watts,
    /// The largest demands, the largest first, as the record's clocks showed them.
    pub largest: Vec<LocalDemand>,
    /// What stands out, in words.
    pub said: Vec<String>,
}

/// A demand in local time.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
pub struct LocalDemand {
    /// `2026-01-17 18:15`.
    pub at: String,
    /// How much.
    pub watts: Watts,
}

/// A day.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
pub struct HeatDay {
    /// `2026-01-17`.
    pub date: String,
    /// Mean watts of its hours by the clock; nothing where they are missing. An hour that comes twice is one.
    pub hours: Vec<Option<i32>>,
}

/// Demand is that of a quarter of an hour where the record is finer. [pub: NEC 220.87(1), value from memory]
const QUARTER: f64 = 900.0;
/// Days of a heat map.
const YEAR: usize = 366;
/// Demands that are told.
const LARGEST: usize = 10;
const HOUR: f64 = 3600.0;
/// Hours in which no sun shines anywhere but far in the north, whatever the clock does in summer. (common practice)
const DARK: [usize; 5] = [23, 0, 1, 2, 3];
/// Hours of a year. [def]
const YEAR_HOURS: f64 = 8760.0;

impl Intervals {
    /// When its last interval ends.
    #[must_use]
    pub fn end(&self) -> Timestamp {
        self.at(self.watt_hours.len())
    }

    fn at(&self, n: usize) -> Timestamp {
        let seconds = (n as f64 * self.step.0).round() as i64;
        self.start.saturating_add(SignedDuration::from_secs(seconds)).unwrap_or(Timestamp::MAX)
    }

    /// The demands, each of a quarter of an hour or of the interval where that is longer.
    fn demands(&self) -> impl Iterator<Item = Demand> + '_ {
        let together = ((QUARTER / self.step.0).floor() as usize).max(1);
        let over = together as f64 * self.step.0 / HOUR;
        self.watt_hours.chunks(together).enumerate().filter_map(move |(n, some)| {
            let sum: f64 = some.iter().map(|wh| f64::from(*wh)).sum();
            (sum.is_finite() && some.len() == together)
                .then(|| Demand { time: self.at(n * together), watts: Watts(sum / over) })
        })
    }

    /// Mean watts by local day and hour.
    fn hours(&self, zone: &TimeZone) -> BTreeMap<Date, [(f64, u32); 24]> {
        let mut days: BTreeMap<Date, [(f64, u32); 24]> = BTreeMap::new();
        let scale = HOUR / self.step.0;
        for (n, wh) in self.watt_hours.iter().enumerate().filter(|(_, wh)| wh.is_finite()) {
            let local = zone.to_datetime(self.at(n));
            let hour =
                &mut days.entry(local.date()).or_insert([(0.0, 0); 24])[usize::from(local.hour().unsigned_abs())];
            *hour = (hour.0 + f64::from(*wh) * scale, hour.1 + 1);
        }
        days
    }

    /// What follows from them.
    #[must_use]
    pub fn summary(&self, zone: &TimeZone) -> Summary {
        let mut of_day: BTreeMap<Date, Demand> = BTreeMap::new();
        for demand in self.demands() {
            let day = zone.to_datetime(demand.time).date();
            let most = of_day.entry(day).or_insert(demand);
            if demand.watts > most.watts {
                *most = demand;
            }
        }
        let mut largest: Vec<Demand> = of_day.into_values().collect();
        largest.sort_by(|a, b| b.watts.0.total_cmp(&a.watts.0));
        largest.truncate(LARGEST);
        let known = self.watt_hours.iter().filter(|wh| wh.is_finite());
        Summary {
            largest,
            base: Watts(self.base(zone)),
            kwh: known.clone().map(|wh| f64::from(*wh)).sum::<f64>() / 1000.0,
            missing: u32::try_from(self.watt_hours.len() - known.count()).unwrap_or(u32::MAX),
        }
    }

    /// The middle one of the days' quietest hours: what runs always. Where power goes out at times what is made by day hides what runs:
    /// there only hours of the night tell.
    fn base(&self, zone: &TimeZone) -> f64 {
        let makes = self.reverse || self.watt_hours.iter().any(|wh| *wh < 0.0);
        let tells = |hour: usize| !makes || DARK.contains(&hour);
        let quietest = |hours: &[(f64, u32); 24]| {
            let told = hours.iter().enumerate().filter(|(hour, h)| h.1 > 0 && tells(*hour));
            told.map(|(_, h)| h.0 / f64::from(h.1)).reduce(f64::min)
        };
        let mut quiet: Vec<f64> = self.hours(zone).values().filter_map(quietest).collect();
        quiet.sort_by(f64::total_cmp);
        quiet.get(quiet.len() / 2).map_or(0.0, |base| base.max(0.0))
    }

    /// The last year of them by days and hours.
    #[must_use]
    pub fn heat(&self, record: &EnergyRecord, zone: &TimeZone) -> Heat {
        let days = self.hours(zone);
        let skip = days.len().saturating_sub(YEAR);
        let mean = |hour: &(f64, u32)| (hour.1 > 0).then(|| (hour.0 / f64::from(hour.1)).round() as i32);
        let day = |(date, hours): (&Date, &[(f64, u32); 24])| HeatDay {
            date: date.to_string(),
            hours: hours.iter().map(mean).collect(),
        };
        let days: Vec<HeatDay> = days.iter().skip(skip).map(day).collect();
        let most = days.iter().flat_map(|d| &d.hours).flatten().copied().max().unwrap_or(0);
        let local = |d: &Demand| LocalDemand { at: record.local(d.time), watts: d.watts };
        let largest = record.largest.iter().map(local).collect();
        Heat { days, most: Watts(f64::from(most)), largest, said: said(record) }
    }
}

fn said(record: &EnergyRecord) -> Vec<String> {
    let mut said = Vec::new();
    if let Some(most) = record.largest.first() {
        let kilowatts = most.watts.0 / 1000.0;
        said.push(format!(
            "Largest demand {kilowatts:.1} kW, {:.0} A at 240 V, on {}",
            most.watts.0 / 240.0,
            record.local(most.time)
        ));
    }
    let base = record.base.0;
    said.push(format!("{base:.0} W run always: {:.0} kWh a year", base * YEAR_HOURS / 1000.0));
    if record.reverse {
        said.push(
            "Power went out at times: the demand behind it is hidden, and rules that go by the record do not apply"
                .into(),
        );
    }
    if record.missing > 0 {
        said.push(format!("{} intervals are missing: a larger demand may have been among them", record.missing));
    }
    said
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::house::zone;

    fn quarters(start: &str, watts: impl Fn(usize) -> f64, count: usize) -> Intervals {
        let watt_hours = (0..count).map(|n| (watts(n) / 4.0) as f32).collect();
        Intervals { start: start.parse().unwrap(), step: Seconds(900.0), watt_hours, reverse: false }
    }

    // handbook 3.9 [def]: demand is energy over duration.
    #[test]
    fn demand_is_energy_over_time() {
        let zone = TimeZone::UTC;
        let all = quarters("2026-01-10T00:00:00Z", |n| if n == 30 { 9600.0 } else { 400.0 }, 192);
        let told = all.summary(&zone);
        assert_eq!((told.largest.len(), told.largest[0].watts), (2, Watts(9600.0)));
        assert_eq!(told.largest[0].time.to_string(), "2026-01-10T07:30:00Z");
        assert_eq!(told.base, Watts(400.0));
        assert!((told.kwh - (191.0 * 0.1 + 2.4)).abs() < 1e-3);
        // The same in minutes: the demand is that of a quarter of an hour still.
        let minutes = Intervals {
            step: Seconds(60.0),
            watt_hours: (0..60).map(|n| if n < 5 { 300.0 } else { 0.0 }).collect(),
            ..all
        };
        assert_eq!(minutes.summary(&zone).largest[0].watts, Watts(6000.0));
    }

    #[test]
    fn what_is_missing_is_counted_and_never_taken_for_nothing() {
        let mut all = quarters("2026-01-10T00:00:00Z", |_| 800.0, 96);
        all.watt_hours[10] = f32::NAN;
        let told = all.summary(&TimeZone::UTC);
        assert_eq!((told.missing, told.base), (1, Watts(800.0)));
        assert!(told.largest.iter().all(|d| d.watts == Watts(800.0)));
    }

    // What the roof makes is no load that runs always: 400 W at night, less at eight, and 2 kW go out at noon.
    #[test]
    fn what_goes_out_by_day_is_not_what_runs_always() {
        let watts = |n: usize| match n / 4 % 24 {
            8 | 17 => 150.0,
            9..=16 => -2000.0,
            _ => 400.0,
        };
        let told = quarters("2026-06-10T00:00:00Z", watts, 192).summary(&TimeZone::UTC);
        assert_eq!(told.base, Watts(400.0));
    }

    // US rule: clocks go from 2:00 to 3:00 on 8 March 2026 and back on 1 November (Energy Policy Act 2005, value from memory).
    #[test]
    fn hours_are_those_of_the_clock_also_when_it_changes() {
        let zone = zone("EST5EDT,M3.2.0,M11.1.0").unwrap();
        let spring = quarters("2026-03-08T05:00:00Z", |n| n as f64, 92).hours(&zone);
        let day = &spring[&jiff::civil::date(2026, 3, 8)];
        assert_eq!((spring.len(), day[2].1, day[3].1, day[23].1), (1, 0, 4, 4), "a day of 23 hours");
        let autumn = quarters("2026-11-01T04:00:00Z", |n| n as f64, 100).hours(&zone);
        let day = &autumn[&jiff::civil::date(2026, 11, 1)];
        assert_eq!((autumn.len(), day[1].1, day[2].1), (1, 8, 4), "a day of 25 hours: one comes twice");
    }
}
