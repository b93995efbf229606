//! What runs together in a usual week: the currents of a set of things as an exact distribution, from their habits
//! (handbook 3.3).

use crate::house::Habit;

/// Kinds of moments of a week, each half an hour long: how many there are, and how likely a thing of each habit runs in
/// one. Common practice of nobody: assumptions about a usual household, so chosen that seldom things come about once a week.
struct Moments {
    count: f64,
    always: f64,
    meals: f64,
    occupied: f64,
    season: f64,
    hours: f64,
    seldom: f64,
}

const NIGHT: Moments =
    Moments { count: 112.0, always: 0.4, meals: 0.0, occupied: 0.01, season: 0.4, hours: 0.3, seldom: 0.0 };
const MEAL: Moments =
    Moments { count: 42.0, always: 0.4, meals: 0.3, occupied: 0.2, season: 0.4, hours: 0.3, seldom: 0.005 };
const HOME: Moments =
    Moments { count: 90.0, always: 0.4, meals: 0.03, occupied: 0.2, season: 0.4, hours: 0.3, seldom: 0.008 };
const AWAY: Moments =
    Moments { count: 92.0, always: 0.4, meals: 0.0, occupied: 0.01, season: 0.3, hours: 0.2, seldom: 0.0 };
const WEEK: [Moments; 4] = [NIGHT, MEAL, HOME, AWAY];

impl Moments {
    fn chance(&self, habit: Habit) -> f64 {
        match habit {
            Habit::Always => self.always,
            Habit::Meals => self.meals,
            Habit::Occupied => self.occupied,
            Habit::Season => self.season,
            Habit::Hours => self.hours,
            Habit::Seldom => self.seldom,
        }
    }
}

/// One thing of the set.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Runner {
    /// What it draws, in amperes,
    pub amps: f64,
    /// with this standard error.
    pub error: f64,
    /// When it runs.
    pub habit: Habit,
    /// The chance that it is in this set at all: half for what hangs on one of two legs.
    pub share: f64,
}

/// The sum of a set's currents at the kinds of moments of a week.
#[derive(Debug, Clone)]
pub struct Week {
    /// Amperes to a bin.
    bin: f64,
    /// For each kind of moment the chance of each sum.
    sums: Vec<Vec<f64>>,
    /// Standard error of the sum when most of it runs.
    error: f64,
}

/// Bins of a distribution: a circuit's sums stand a quarter of an ampere apart, a large panel's more.
const BINS: f64 = 240.0;
const FINEST: f64 = 0.25;
/// Points and weights of a normal distribution by which its errors are gone through. [def: Gauss–Hermite, three points]
const NODES: [(f64, f64); 3] = [(-1.732_050_8, 1.0 / 6.0), (0.0, 2.0 / 3.0), (1.732_050_8, 1.0 / 6.0)];

impl Week {
    /// Of all that may run.
    #[must_use]
    pub fn of(runners: &[Runner]) -> Self {
        let most: f64 = runners.iter().map(|r| r.amps).sum();
        let bin = (most / BINS).max(FINEST);
        // One bin above the most: a current between two bins is shared out between them.
        let bins = (most / bin).ceil() as usize + runners.len() + 2;
        let mut sums = vec![nothing(bins); WEEK.len()];
        for (sum, moment) in sums.iter_mut().zip(&WEEK) {
            let mut reach = 1;
            for runner in runners {
                reach = add(sum, reach, runner.amps / bin, moment.chance(runner.habit) * runner.share);
            }
        }
        let error = runners.iter().map(|r| r.error * r.error).sum::<f64>().sqrt();
        Self { bin, sums, error }
    }

    /// The same where the sum of all of it is known better, or less well, than its parts by themselves.
    #[must_use]
    pub fn unsure_by(self, error: f64) -> Self {
        Self { error, ..self }
    }

    /// The chance that the sum stays at or below this for a whole week.
    fn stays(&self, amps: f64) -> f64 {
        let below = ((amps / self.bin + ROUNDING).floor().max(-1.0) + 1.0) as usize;
        let at_most = |sum: &Vec<f64>| sum[..below.min(sum.len())].iter().sum::<f64>().min(1.0);
        self.sums.iter().zip(&WEEK).map(|(sum, moment)| at_most(sum).powf(moment.count)).product()
    }

    /// The chance that the sum passes this some time in a usual week, the draws being no surer than they are.
    #[must_use]
    pub fn passes(&self, amps: f64) -> f64 {
        let at = |(z, weight): (f64, f64)| weight * (1.0 - self.stays(amps - z * self.error));
        NODES.into_iter().map(at).sum::<f64>().clamp(0.0, 1.0)
    }

    /// What the sum reaches in every other week at least.
    #[must_use]
    pub fn usual_peak(&self) -> f64 {
        let bins = self.sums.first().map_or(0, Vec::len);
        let reached = |n: &usize| self.stays(*n as f64 * self.bin) >= 0.5;
        (0..bins).find(reached).map_or(0.0, |n| n as f64 * self.bin)
    }
}

/// A sum that stands exactly on a bin is not above it.
const ROUNDING: f64 = 1e-6;

fn nothing(bins: usize) -> Vec<f64> {
    let mut sum = vec![0.0; bins];
    sum[0] = 1.0;
    sum
}

/// Adds something that draws so many bins with this chance; sums reach below `reach` before, and below what it returns after.
fn add(sum: &mut [f64], reach: usize, bins: f64, chance: f64) -> usize {
    let whole = bins.floor() as usize;
    let part = bins - whole as f64;
    let after = (reach + whole + 1).min(sum.len());
    for n in (0..after).rev() {
        let from = |by: usize| n.checked_sub(by).filter(|n| *n < reach).map_or(0.0, |n| sum[n]);
        let on = (1.0 - part) * from(whole) + part * from(whole + 1);
        let off = if n < reach { sum[n] } else { 0.0 };
        sum[n] = (1.0 - chance) * off + chance * on;
    }
    after
}

/// Takes out again what [`add`] put in: no chance is above a half, so that nothing grows by rounding.
fn without(sum: &[f64], bins: f64, chance: f64) -> Vec<f64> {
    let whole = bins.floor() as usize;
    let part = bins - whole as f64;
    let mut rest = vec![0.0; sum.len()];
    // What lies in its own bin, where it draws less than one.
    let own = 1.0 - chance + if whole == 0 { chance * (1.0 - part) } else { 0.0 };
    for n in 0..sum.len() {
        let from = |by: usize| if by == 0 { 0.0 } else { n.checked_sub(by).map_or(0.0, |at| rest[at]) };
        let on = (1.0 - part) * from(whole) + part * from(whole + 1);
        rest[n] = ((sum[n] - chance * on) / own).max(0.0);
    }
    rest
}

/// For each thing the chance that it runs, given that the sum passes this.
#[must_use]
pub fn runs_when_over(runners: &[Runner], amps: f64) -> Vec<f64> {
    let week = Week::of(runners);
    let over = |sum: &[f64], amps: f64| {
        let below = ((amps / week.bin + ROUNDING).floor().max(-1.0) + 1.0) as usize;
        sum[below.min(sum.len())..].iter().sum::<f64>()
    };
    let runs = |runner: &Runner| {
        let (mut on, mut off) = (0.0, 0.0);
        for (sum, moment) in week.sums.iter().zip(&WEEK) {
            let chance = moment.chance(runner.habit) * runner.share;
            let rest = without(sum, runner.amps / week.bin, chance);
            on += moment.count * chance * over(&rest, amps - runner.amps);
            off += moment.count * (1.0 - chance) * over(&rest, amps);
        }
        if on + off > 0.0 { on / (on + off) } else { 0.0 }
    };
    runners.iter().map(runs).collect()
}

#[cfg(test)]
mod tests {
    use super::*;

    fn runner(amps: f64, habit: Habit) -> Runner {
        Runner { amps, error: 0.0, habit, share: 1.0 }
    }

    /// All on-off states of a few things, gone through one by one.
    fn by_hand(runners: &[Runner], limit: f64) -> f64 {
        let mut stays = 1.0;
        for moment in &WEEK {
            let mut at_most = 0.0;
            for state in 0..1 << runners.len() {
                let (mut p, mut sum) = (1.0, 0.0);
                for (i, runner) in runners.iter().enumerate() {
                    let chance = moment.chance(runner.habit) * runner.share;
                    if state >> i & 1 == 1 {
                        p *= chance;
                        sum += runner.amps;
                    } else {
                        p *= 1.0 - chance;
                    }
                }
                at_most += if sum <= limit + 1e-9 { p } else { 0.0 };
            }
            stays *= at_most.powf(moment.count);
        }
        1.0 - stays
    }

    // By going through all states: an independent way to the same figure; currents on whole bins, so that nothing is shared out.
    #[test]
    fn chances_are_those_of_going_through_every_state() {
        use Habit::{Always, Hours, Meals, Occupied, Season, Seldom};
        let all = [
            runner(12.5, Meals),
            runner(9.0, Meals),
            runner(1.5, Always),
            runner(6.25, Season),
            runner(4.0, Occupied),
            runner(10.0, Seldom),
            Runner { share: 0.5, ..runner(3.0, Hours) },
        ];
        for limit in [5.0, 15.0, 20.0, 25.0, 30.0, 40.0] {
            let week = Week::of(&all);
            assert!((week.passes(limit) - by_hand(&all, limit)).abs() < 1e-9, "{limit}");
            let peak = week.usual_peak();
            assert!(by_hand(&all, peak) <= 0.5 + 1e-9 && by_hand(&all, peak - week.bin) > 0.5, "{peak}");
        }
    }

    #[test]
    fn what_alone_would_pass_runs_whenever_it_passes() {
        let all = [runner(25.0, Habit::Meals), runner(1.0, Habit::Always)];
        let runs = runs_when_over(&all, 20.0);
        assert!((runs[0] - 1.0).abs() < 1e-9);
        assert!((runs[1] - 0.4).abs() < 1e-9, "the other one as often as ever");
    }

    #[test]
    fn what_was_added_can_be_taken_out_again() {
        let runners = [runner(3.1, Habit::Meals), runner(0.1, Habit::Always), runner(7.77, Habit::Season)];
        let (whole, rest) = (Week::of(&runners), Week::of(&runners[..2]));
        let taken = without(&whole.sums[1], 7.77 / whole.bin, WEEK[1].chance(Habit::Season));
        assert!(rest.sums[1].iter().zip(&taken).all(|(a, b)| (a - b).abs() < 1e-9));
        let taken = without(&rest.sums[1], 0.1 / rest.bin, WEEK[1].chance(Habit::Always));
        let alone = Week::of(&runners[..1]);
        assert!(alone.sums[1].iter().zip(&taken).all(|(a, b)| (a - b).abs() < 1e-9));
    }

    #[test]
    fn an_unsure_draw_makes_it_unsure_whether_the_rating_is_passed() {
        let sure = Week::of(&[runner(19.0, Habit::Meals)]);
        assert!(sure.passes(20.0) < 1e-9);
        let unsure = Week::of(&[Runner { error: 2.0, ..runner(19.0, Habit::Meals) }]);
        assert!(unsure.passes(20.0) > 0.1 && unsure.passes(20.0) < 0.5);
    }

    #[test]
    fn nothing_that_runs_passes_nothing() {
        let week = Week::of(&[]);
        assert_eq!((week.usual_peak(), week.passes(0.0)), (0.0, 0.0));
    }
}
