//! Weeks lived in a made household, by people with days, meals and chores: another model than the one that foretells.
//!
//! Here things are done one after the other by a clock: people get up, have breakfast together, go and come back, cook, wash and then dry,
//! sit in the evening; thermostats cycle by how cold it is. How often what is used is the household's own, about the published cycles of
//! test procedures (10 CFR 430 subpart B) and time-use surveys (values from memory), else common practice. The program's own view knows
//! none of this: to it things start by chance, each for itself, at six kinds of moments, and all households are one.

use std::collections::BTreeMap;

use rand::rngs::ChaCha8Rng;
use rand::{RngExt, SeedableRng};

use crate::house::{BreakerId, LoadId};
use crate::practice::home::MadeHome;

/// When something runs, in minutes from the beginning of a week.
type Stretches = Vec<(f64, f64)>;

/// A week in which each thing ran at these times.
#[derive(Debug, Default)]
pub struct LivedWeek {
    /// By load.
    pub ran: BTreeMap<LoadId, Stretches>,
}

/// How it is outside.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum Outside {
    /// It is heated.
    Cold,
    /// It is cooled.
    Warm,
}

const DAY: f64 = 1440.0;
const WEEK: f64 = 7.0 * DAY;

/// A household's ways, which stay the same from week to week.
struct Ways {
    people: usize,
    /// All leave on working days.
    leave: bool,
    /// How often each thing is used, against what is usual.
    often: BTreeMap<LoadId, f64>,
    /// What nobody can name: uses a week, and minutes.
    odd: BTreeMap<LoadId, (f64, f64)>,
    gets_up: f64,
    to_bed: f64,
}

/// One day, in minutes of the week.
struct Day {
    up: f64,
    gone: Option<(f64, f64)>,
    dinner: f64,
    bed: f64,
    weekend: bool,
}

/// Lives some weeks in a household.
pub struct Living<'a> {
    made: &'a MadeHome,
    ways: Ways,
    rng: ChaCha8Rng,
}

impl<'a> Living<'a> {
    /// Its people, by a seed.
    #[must_use]
    pub fn new(made: &'a MadeHome, seed: u64) -> Self {
        let mut rng = ChaCha8Rng::seed_from_u64(seed ^ 0x11fe);
        let mut often = BTreeMap::new();
        let mut odd = BTreeMap::new();
        for load in made.house.loads.iter() {
            // From a third to three times as often: the product of a few even chances leans as households do.
            let much: f64 = (0..3).map(|_| rng.random_range(-1.0..1.0_f64)).sum::<f64>() * 0.6;
            often.insert(load.id, much.exp());
            odd.insert(load.id, (rng.random_range(1.0..15.0), rng.random_range(2.0_f64..90.0)));
        }
        let ways = Ways {
            people: rng.random_range(1..5),
            leave: rng.random_bool(0.6),
            often,
            odd,
            gets_up: rng.random_range(345.0..450.0),
            to_bed: rng.random_range(1290.0..1410.0),
        };
        Self { made, ways, rng }
    }

    /// Lives a week.
    pub fn week(&mut self, outside: Outside) -> LivedWeek {
        let days: Vec<Day> = (0..7).map(|n| self.day(n)).collect();
        // How cold or hot it is this week, from mild to hard.
        let hard = self.rng.random_range(0.4..1.0);
        let mut lived = LivedWeek::default();
        let breakfasts: Vec<f64> = days.iter().map(|d| d.up + self.rng.random_range(8.0..30.0)).collect();
        let cooks: Vec<(f64, f64)> =
            days.iter().map(|d| (d.dinner - self.rng.random_range(20.0..50.0), d.dinner)).collect();
        let washes = self.washes(&days);
        for load in self.made.house.loads.iter() {
            let often = self.ways.often[&load.id];
            let what = load.name.rsplit_once(' ').map_or(load.name.as_str(), |(what, _)| what);
            let on = self.on(load.id, what, often, outside, hard, &days, &breakfasts, &cooks, &washes);
            let runs = self.made.real[&load.id].runs;
            let ran = self.by_itself(what, on, runs, hard);
            lived.ran.insert(load.id, ran);
        }
        lived
    }

    fn day(&mut self, nth: usize) -> Day {
        let (begins, weekend) = (nth as f64 * DAY, nth >= 5);
        let up = begins + self.ways.gets_up + if weekend { 75.0 } else { 0.0 } + self.rng.random_range(-20.0..30.0);
        let leaves = self.ways.leave && !weekend;
        let back = begins + self.rng.random_range(990.0..1080.0);
        Day {
            up,
            gone: leaves.then(|| (up + self.rng.random_range(60.0..90.0), back)),
            dinner: begins + self.rng.random_range(1080.0..1170.0),
            bed: begins + self.ways.to_bed + self.rng.random_range(-30.0..30.0),
            weekend,
        }
    }

    fn chance(&mut self, usual: f64, often: f64) -> bool {
        self.rng.random_bool((usual * often).clamp(0.0, 0.97))
    }

    fn washes(&mut self, days: &[Day]) -> Stretches {
        let people = self.ways.people as f64;
        let mut washes = Vec::new();
        for day in days {
            let loads = if day.weekend { 0.5 + 0.35 * people } else { 0.15 + 0.1 * people };
            let mut at = if day.weekend { day.up + 90.0 } else { day.dinner + 20.0 };
            let mut left = loads;
            while left > 0.0 && self.rng.random_bool(left.min(1.0)) {
                let takes = self.rng.random_range(32.0..58.0);
                washes.push((at, at + takes));
                at += takes + self.rng.random_range(3.0..60.0);
                left -= 1.0;
            }
        }
        washes
    }

    /// While somebody is there and awake.
    fn some_time(&mut self, day: &Day) -> f64 {
        loop {
            let at = self.rng.random_range(day.up..day.bed);
            if day.gone.is_none_or(|(from, to)| at < from || at > to) {
                return at;
            }
        }
    }

    /// So many uses a week of so many minutes while somebody is there, on days as they come.
    fn now_and_then(&mut self, a_week: f64, minutes: [f64; 2], days: &[Day]) -> Stretches {
        let mut on = Vec::new();
        for day in days {
            let mut left = a_week / 7.0 * if day.weekend { 1.5 } else { 0.8 };
            while left > 0.0 && self.rng.random_bool(left.min(1.0)) {
                let at = self.some_time(day);
                on.push((at, at + self.rng.random_range(minutes[0]..minutes[1])));
                left -= 1.0;
            }
        }
        on
    }

    /// When it is switched on.
    #[allow(clippy::too_many_arguments, clippy::too_many_lines, reason = "a household's habits, one after the other")]
    fn on(
        &mut self,
        load: LoadId,
        what: &str,
        often: f64,
        outside: Outside,
        hard: f64,
        days: &[Day],
        breakfasts: &[f64],
        cooks: &[(f64, f64)],
        washes: &[(f64, f64)],
    ) -> Stretches {
        let mut on: Stretches = Vec::new();
        let cold = outside == Outside::Cold;
        let all_week = |is: bool| if is { vec![(0.0, WEEK)] } else { Vec::new() };
        match what {
            "kettle" | "toaster" | "coffee maker" => {
                let (chance, minutes) = match what {
                    "kettle" => (0.55, [2.0, 5.0]),
                    "toaster" => (0.4, [2.0, 5.0]),
                    _ => (0.65, [6.0, 12.0]),
                };
                for (day, breakfast) in days.iter().zip(breakfasts) {
                    // Who makes breakfast does several things at once.
                    for _ in 0..1 + self.ways.people / 3 {
                        if self.chance(chance, often) {
                            let at = breakfast + self.rng.random_range(0.0..14.0);
                            on.push((at, at + self.rng.random_range(minutes[0]..minutes[1])));
                        }
                    }
                    if what == "kettle" && self.chance(0.8, often) {
                        let at = self.some_time(day);
                        on.push((at, at + self.rng.random_range(2.0..5.0)));
                    }
                }
            }
            "microwave" => {
                for (day, cook) in days.iter().zip(cooks) {
                    for (chance, at) in [(0.35, day.up + 15.0), (0.4, day.up + 300.0), (0.6, cook.0)] {
                        let away = day.gone.is_some_and(|(from, to)| at > from && at < to);
                        if !away && self.chance(chance, often) {
                            let at = at + self.rng.random_range(0.0..40.0);
                            on.push((at, at + self.rng.random_range(1.0..6.0)));
                        }
                    }
                }
            }
            "range" | "wall oven" | "range hood" => {
                let chance = if what == "wall oven" { 0.35 } else { 0.75 };
                for cook in cooks {
                    if self.chance(chance, often) {
                        on.push((cook.0 + self.rng.random_range(0.0..10.0), cook.1 + self.rng.random_range(-8.0..5.0)));
                    }
                }
            }
            "disposer" | "mixer" => {
                let chance = if what == "mixer" { 0.15 } else { 0.7 };
                for cook in cooks {
                    if self.chance(chance, often) {
                        let at = if what == "mixer" { cook.0 } else { cook.1 + self.rng.random_range(20.0..60.0) };
                        on.push((at, at + self.rng.random_range(0.5..2.0) * if what == "mixer" { 4.0 } else { 1.0 }));
                    }
                }
            }
            "dishwasher" => {
                for day in days {
                    if self.chance(0.5, often) {
                        let at = day.dinner + self.rng.random_range(30.0..140.0);
                        on.push((at, at + self.rng.random_range(50.0..110.0)));
                    }
                }
            }
            "washer" => on.extend(washes),
            "dryer" => {
                for wash in washes {
                    if self.chance(0.85, 1.0) {
                        let at = wash.1 + self.rng.random_range(2.0..15.0);
                        on.push((at, at + self.rng.random_range(35.0..60.0)));
                    }
                }
            }
            "hair dryer" => {
                for day in days {
                    for _ in 0..self.ways.people.div_ceil(2) {
                        if self.chance(0.4, often) {
                            let at = day.up + self.rng.random_range(5.0..45.0);
                            on.push((at, at + self.rng.random_range(3.0..9.0)));
                        }
                    }
                }
            }
            "television" | "computer" | "lamp" => {
                let chance = if what == "computer" { 0.5 } else { 0.85 };
                for day in days {
                    if self.chance(chance, often.min(1.0)) {
                        let from = day.dinner + self.rng.random_range(15.0..90.0);
                        on.push((from, (day.bed - self.rng.random_range(0.0..60.0)).max(from + 10.0)));
                    }
                    if what != "lamp" && day.gone.is_none() && self.chance(0.4, often) {
                        let from = self.some_time(day);
                        on.push((from, (from + self.rng.random_range(30.0..180.0)).min(day.bed)));
                    }
                }
            }
            "space heater" | "window unit" => {
                let (in_season, by_night) = if what == "space heater" { (cold, 0.15) } else { (!cold, 0.55) };
                for day in days.iter().filter(|_| in_season) {
                    if self.chance(0.55 * hard, often) {
                        on.push((day.up, day.gone.map_or(day.up + 150.0, |(from, _)| from)));
                    }
                    if self.chance(0.8 * hard, often) {
                        on.push((day.gone.map_or(day.dinner - 120.0, |(_, to)| to), day.bed));
                    }
                    if self.chance(by_night * hard, often) {
                        on.push((day.bed, day.bed + 420.0));
                    }
                }
            }
            "furnace" | "baseboard" => on = all_week(cold),
            "heat pump" | "refrigerator" | "freezer" => on = all_week(true),
            "water heater" => {
                for day in days {
                    for _ in 0..self.ways.people {
                        if self.chance(0.8, 1.0) {
                            let at = day.up + self.rng.random_range(0.0..50.0);
                            on.push((at, at + self.rng.random_range(15.0..35.0)));
                        }
                    }
                    for at in [day.up - 180.0, day.dinner + 40.0, day.bed + 60.0] {
                        on.push((at, at + self.rng.random_range(6.0..25.0)));
                    }
                }
            }
            "car charger" => {
                for day in days {
                    if self.chance(0.6, often) {
                        let at = day.bed + self.rng.random_range(-120.0..60.0);
                        on.push((at, at + self.rng.random_range(50.0..260.0)));
                    }
                }
            }
            "well pump" => on = self.now_and_then(12.0 * 7.0, [1.0, 3.0], days),
            "sump pump" => on = self.now_and_then(if hard > 0.7 { 60.0 } else { 6.0 }, [0.4, 1.2], days),
            "garage door opener" => on = self.now_and_then(20.0 * often, [0.2, 0.4], days),
            "vacuum" => on = self.now_and_then(1.3 * often, [12.0, 35.0], days),
            "iron" => on = self.now_and_then(0.8 * often, [15.0, 45.0], days),
            "table saw" => {
                for (from, to) in self.now_and_then(0.4 * often, [40.0, 150.0], days) {
                    let mut at = from;
                    while at < to {
                        let cut = self.rng.random_range(0.2..1.0);
                        on.push((at, at + cut));
                        at += cut + self.rng.random_range(2.0..10.0);
                    }
                }
            }
            _ => {
                let (a_week, minutes) = self.ways.odd[&load];
                on = self.now_and_then(a_week, [0.5 * minutes, 1.5 * minutes], days);
            }
        }
        on.retain(|(from, to)| to > from);
        on.sort_by(|a, b| a.0.total_cmp(&b.0));
        on
    }

    /// What runs of the time that it is on: what has a thermostat rests in between, what heats a house more the colder it is.
    fn by_itself(&mut self, what: &str, on: Stretches, runs: f64, hard: f64) -> Stretches {
        let share = match what {
            "furnace" | "baseboard" => 0.15 + 0.5 * hard,
            "heat pump" => 0.2 + 0.6 * hard,
            "range" | "wall oven" => runs.min(0.8),
            _ => runs,
        };
        if share >= 0.999 {
            return on;
        }
        let mut ran = Vec::new();
        for (from, to) in on {
            let period = self.rng.random_range(8.0..30.0);
            // What was left on before is anywhere in its cycle; what is switched on runs first.
            let mut at = if from <= 0.0 { from - period * self.rng.random::<f64>() } else { from };
            while at < to {
                let stretch = period * share * self.rng.random_range(0.85..1.15);
                ran.push((at.max(from), (at + stretch).min(to)));
                at += stretch + period * (1.0 - share) * self.rng.random_range(0.85..1.15);
            }
        }
        ran.retain(|(from, to)| to > from);
        ran
    }
}

impl LivedWeek {
    /// The most that a circuit carried in it, in amperes.
    #[must_use]
    pub fn peak(&self, made: &MadeHome, breaker: BreakerId) -> f64 {
        let mut changes: Vec<(f64, f64)> = Vec::new();
        for load in made.on(breaker) {
            let amps = made.real[&load].amps;
            // Used twice at once it still draws once.
            let mut free = f64::MIN;
            for (from, to) in self.ran.get(&load).into_iter().flatten().copied() {
                let from = from.max(free);
                if to > from {
                    changes.extend([(from, amps), (to, -amps)]);
                    free = to;
                }
            }
        }
        // What stops at a moment makes room for what starts then.
        changes.sort_by(|a, b| a.partial_cmp(b).unwrap_or(std::cmp::Ordering::Equal));
        let mut sum = 0.0;
        changes.into_iter().fold(0.0, |most: f64, (_, change)| {
            sum += change;
            most.max(sum)
        })
    }
}
