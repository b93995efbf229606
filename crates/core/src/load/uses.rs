//! How often things are used and how long, at which moments of a week: by what they are, and where nobody can tell that by their
//! habit (handbook 3.3).
//!
//! Cycles a week of washers, dryers and dishwashers lie near those of the published test procedures (10 CFR 430 subpart B: about 4.5 to
//! 5.7, 4.5 to 5.4 and 3.5 to 4.1 a week, values from memory); all else is common practice of nobody: assumptions about a usual household.

use crate::house::{Habit, LoadKind};
use crate::words::usual::Usual;

/// Kinds of moments of a week: night, breakfast, other meals being made, chores, at home awake, nobody there.
pub const MOMENTS: usize = 6;
/// Hours of each in a week.
pub const HOURS: [f64; MOMENTS] = [56.0, 3.5, 7.0, 8.0, 47.5, 46.0];
/// Cold weeks and warm ones.
pub const SEASONS: usize = 2;

/// How something runs at each kind of moment of a season.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Uses {
    /// The share of the time that it runs.
    pub on: [[f64; MOMENTS]; SEASONS],
    /// How often an hour it starts.
    pub starts: [[f64; MOMENTS]; SEASONS],
}

/// At which moments uses fall, as shares.
type When = [f64; MOMENTS];

const MORNING: When = [0.0, 0.7, 0.1, 0.0, 0.2, 0.0];
const MEALS: When = [0.0, 0.3, 0.5, 0.0, 0.2, 0.0];
const COOKING: When = [0.0, 0.05, 0.8, 0.0, 0.15, 0.0];
const CHORES: When = [0.0, 0.0, 0.0, 0.7, 0.25, 0.05];
const THERE: When = [0.02, 0.03, 0.1, 0.1, 0.75, 0.0];
const HOURS_ON: When = [0.3, 0.03, 0.07, 0.1, 0.3, 0.2];
const NOW_AND_THEN: When = [0.0, 0.02, 0.03, 0.35, 0.5, 0.1];
const ANY: When = [0.25, 0.03, 0.07, 0.1, 0.3, 0.25];

/// How it goes, beside its season.
#[derive(Debug, Clone, Copy)]
enum Goes {
    /// So often a week, so many minutes each.
    Used(f64, f64, When),
    /// By itself or left on, in its season: this share of the time at night, with somebody there, with nobody there.
    Runs([f64; 3], In),
}

/// When in the year.
#[derive(Debug, Clone, Copy, PartialEq)]
enum In {
    Cold,
    Warm,
    Either,
}

use Goes::{Runs, Used};
use In::{Cold, Either, Warm};

/// What is told by what it is.
const BY_NAME: &[(&str, Goes)] = &[
    ("range hood", Used(7.0, 25.0, COOKING)),
    ("over-range microwave", Used(14.0, 4.0, MEALS)),
    ("microwave", Used(14.0, 4.0, MEALS)),
    ("toaster", Used(6.0, 4.0, MORNING)),
    ("coffee maker", Used(8.0, 9.0, MORNING)),
    ("slow cooker", Used(0.7, 360.0, [0.1, 0.0, 0.1, 0.0, 0.4, 0.4])),
    ("rice cooker", Used(3.0, 30.0, COOKING)),
    ("mixer", Used(1.5, 8.0, COOKING)),
    ("kettle", Used(14.0, 4.0, MEALS)),
    ("dishwasher", Used(3.8, 75.0, [0.15, 0.05, 0.1, 0.1, 0.6, 0.0])),
    ("disposer", Used(10.0, 1.0, COOKING)),
    ("washer", Used(4.5, 45.0, CHORES)),
    ("gas dryer", Used(4.5, 45.0, CHORES)),
    ("dryer", Used(4.5, 45.0, CHORES)),
    ("hair dryer", Used(5.0, 6.0, [0.0, 0.3, 0.0, 0.0, 0.7, 0.0])),
    ("iron", Used(1.0, 30.0, CHORES)),
    ("sump pump", Used(20.0, 1.0, ANY)),
    ("garage door opener", Used(20.0, 0.5, [0.0, 0.1, 0.0, 0.1, 0.4, 0.4])),
    ("television", Used(12.0, 140.0, THERE)),
    ("computer", Used(10.0, 150.0, THERE)),
    ("vacuum", Used(1.5, 25.0, CHORES)),
    ("treadmill", Used(2.0, 30.0, NOW_AND_THEN)),
    ("table saw", Used(2.0, 3.0, NOW_AND_THEN)),
    ("lamp", Used(14.0, 150.0, THERE)),
    ("range", Used(8.0, 35.0, COOKING)),
    ("wall oven", Used(3.5, 50.0, COOKING)),
    ("cooktop", Used(7.0, 25.0, COOKING)),
    ("water heater", Used(18.0, 30.0, ANY)),
    ("well pump", Used(80.0, 2.0, [0.1, 0.06, 0.1, 0.12, 0.45, 0.17])),
    ("lift", Used(10.0, 1.0, THERE)),
    ("welder", Used(0.5, 30.0, NOW_AND_THEN)),
    ("car charger", Used(4.0, 180.0, [0.75, 0.0, 0.0, 0.0, 0.15, 0.1])),
    ("space heater", Runs([0.15, 0.4, 0.05], Cold)),
    ("window unit", Runs([0.5, 0.4, 0.15], Warm)),
    ("furnace", Runs([0.4, 0.5, 0.35], Cold)),
    ("fan", Runs([0.3, 0.3, 0.05], Warm)),
    ("pool pump", Runs([0.1, 0.4, 0.6], Warm)),
];

/// How long it runs at a time where it cycles by itself, in minutes. (common practice)
const CYCLE: f64 = 12.0;
/// How long it is left on at a time, in minutes. (common practice)
const LEFT_ON: f64 = 150.0;

/// How a load of a kind that is used by this habit runs; what it is like goes before the habit alone, unless somebody said another
/// one. What cycles by itself runs for a share of the time that it is on.
#[must_use]
pub fn uses(like: Option<&Usual>, kind: LoadKind, habit: Habit, cycles: Option<f64>) -> Uses {
    let known = like.filter(|usual| usual.habit == habit);
    let goes = known.and_then(|usual| BY_NAME.iter().find(|(name, _)| *name == usual.name)).map(|(_, goes)| *goes);
    let goes = goes.unwrap_or(match habit {
        // Standby, and what starts by itself.
        Habit::Always => Runs([1.0; 3], Either),
        Habit::Meals => Used(14.0, 12.0, MEALS),
        Habit::Occupied => Used(10.0, 60.0, THERE),
        Habit::Season => Runs([0.5, 0.6, 0.4], season(kind)),
        Habit::Hours => Used(7.0, 200.0, HOURS_ON),
        Habit::Seldom => Used(1.0, 20.0, NOW_AND_THEN),
    });
    let at = |moment: usize| match goes {
        Used(a_week, minutes, when) => {
            let starts = a_week * when[moment] / HOURS[moment];
            running(starts * minutes / 60.0, starts, cycles)
        }
        Runs([night, there, away], _) => {
            let on = [night, there, there, there, there, away][moment];
            running(on, if on < 1.0 { on * 60.0 / LEFT_ON } else { 0.0 }, cycles)
        }
    };
    let each: [(f64, f64); MOMENTS] = std::array::from_fn(at);
    let runs_in = match goes {
        Used(..) | Runs(_, Either) => [true, true],
        Runs(_, only) => [only == Cold, only == Warm],
    };
    let take = |of: fn(&(f64, f64)) -> f64| runs_in.map(|is| each.each_ref().map(|at| if is { of(at) } else { 0.0 }));
    Uses { on: take(|at| at.0), starts: take(|at| at.1) }
}

/// The share of the time that something runs and how often it starts, of that of its being on.
fn running(on: f64, starts: f64, cycles: Option<f64>) -> (f64, f64) {
    let on = on.min(1.0);
    match cycles {
        Some(share) => (on * share, starts + on * share * 60.0 / CYCLE),
        None => (on, starts),
    }
}

/// The season of a kind.
fn season(kind: LoadKind) -> In {
    match kind {
        LoadKind::Heating | LoadKind::BackupHeat => Cold,
        LoadKind::Cooling | LoadKind::Pool => Warm,
        _ => Either,
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::words::usual::{USUAL, named};

    #[test]
    fn a_week_has_its_hours_and_nothing_runs_more_than_always() {
        assert!((HOURS.iter().sum::<f64>() - 168.0).abs() < 1e-9);
        for usual in USUAL {
            let uses = uses(Some(usual), usual.kind, usual.habit, None);
            for at in uses.on.iter().flatten() {
                assert!((0.0..=1.0).contains(at), "{}", usual.name);
            }
        }
        for (name, goes) in BY_NAME {
            assert_eq!(named(name).map(|u| u.name), Some(*name));
            if let Used(_, _, when) = goes {
                assert!((when.iter().sum::<f64>() - 1.0).abs() < 1e-9, "{name}");
            }
        }
    }

    // 14 uses of 4 minutes a week are 56 minutes; a compressor that is always on runs for its share.
    #[test]
    fn uses_come_to_their_minutes() {
        let minutes = |name: &str, cycles| {
            let usual = named(name).unwrap();
            let uses = uses(Some(usual), usual.kind, usual.habit, cycles);
            let on = uses.on[0].iter().zip(HOURS).map(|(on, hours)| on * hours * 60.0);
            on.sum::<f64>()
        };
        assert!((minutes("kettle", None) - 56.0).abs() < 1e-9);
        assert!((minutes("refrigerator", Some(0.37)) - 0.37 * 168.0 * 60.0).abs() < 1e-6);
        assert!(minutes("space heater", None) > 0.0 && minutes("window unit", None) == 0.0, "in the cold");
    }

    #[test]
    fn what_somebody_said_goes_before_what_is_usual() {
        let kettle = named("kettle");
        let seldom = uses(kettle, LoadKind::Other, Habit::Seldom, None);
        assert_eq!(seldom, uses(None, LoadKind::Other, Habit::Seldom, None));
        assert!(seldom.starts[0][4] < uses(kettle, LoadKind::Other, Habit::Meals, None).starts[0][4]);
    }
}
