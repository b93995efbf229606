//! What runs together in a usual week: how the sum of a set of things is distributed at each kind of moment, and how often it rises above
//! a level, from how they are used (handbook 3.3).
//!
//! Things start by themselves at a moment of a kind; that meals, evenings and seasons bring them together is in the kinds of moments. The
//! sum rises above a level as often as something starts that lifts it there [def: the upcrossings of a sum of independent on-off
//! processes]; how busy a household is nobody knows: its rate is spread as a gamma distribution, which is gone through exactly.

use crate::load::uses::{HOURS, MOMENTS, SEASONS, Uses};

/// One thing of the set.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Runner {
    /// What it draws, in amperes,
    pub amps: f64,
    /// with this standard error.
    pub error: f64,
    /// When it runs.
    pub uses: Uses,
    /// The chance that it is in this set at all: half for what hangs on one of two legs.
    pub share: f64,
}

/// The sum of a set's currents in a week: of each season that differs, at each kind of moment.
#[derive(Debug, Clone)]
pub struct Week {
    /// Amperes to a bin.
    bin: f64,
    seasons: Vec<[Moment; MOMENTS]>,
    /// Standard error of the sum when most of it runs.
    error: f64,
}

/// The sum at one kind of moment, by bins.
#[derive(Debug, Clone, Default)]
struct Moment {
    /// The chance that it is no more than this.
    below: Vec<f64>,
    /// How often an hour it rises above this.
    rises: Vec<f64>,
    /// From this bin on it never is.
    reach: usize,
}

/// Bins of a distribution: of a few things a tenth of an ampere apart, of many more.
const BINS: f64 = 240.0;
const FINEST: f64 = 0.1;
/// Bins above the most: rounding hardly brings a sum farther.
const ABOVE: usize = 8;
/// The variance of how busy households are, their mean being one. (common practice)
const BUSY: f64 = 0.8;
/// Points and weights of a normal distribution by which its errors are gone through. [def: Gauss–Hermite, three points]
const NODES: [(f64, f64); 3] = [(-1.732_050_8, 1.0 / 6.0), (0.0, 2.0 / 3.0), (1.732_050_8, 1.0 / 6.0)];
/// A sum that stands exactly on a bin is not above it.
const ROUNDING: f64 = 1e-6;

impl Week {
    /// Of all that may run.
    #[must_use]
    pub fn of(runners: &[Runner]) -> Self {
        let most: f64 = runners.iter().map(|r| r.amps).sum();
        let bin = (most / BINS).max(FINEST);
        // A current between two bins is shared out between them: a few bins above the most.
        let bins = (most / bin).ceil() as usize + runners.len().min(ABOVE) + 2;
        let differ = runners.iter().any(|r| r.uses.on[0] != r.uses.on[1] || r.uses.starts[0] != r.uses.starts[1]);
        // As far as a sum reaches there is something to add up: what draws little goes first.
        let mut small_first: Vec<&Runner> = runners.iter().collect();
        small_first.sort_by(|a, b| a.amps.total_cmp(&b.amps));
        let moment = |season: usize, kind: usize| {
            let mut moment = Moment { below: vec![1.0; bins], rises: vec![0.0; bins], reach: 0 };
            let mut spare = moment.clone();
            for runner in &small_first {
                let uses = (runner.uses.on[season][kind], runner.uses.starts[season][kind]);
                moment.add(&mut spare, runner.amps / bin, runner.share * uses.0, runner.share * uses.1);
            }
            moment
        };
        let seasons = 0..if differ { SEASONS } else { 1 };
        let seasons = seasons.map(|season| std::array::from_fn(|kind| moment(season, kind))).collect();
        let error = runners.iter().map(|r| r.error * r.error).sum::<f64>().sqrt();
        Self { bin, seasons, error }
    }

    /// The same where the sum of all of it is known better, or less well, than its parts by themselves.
    #[must_use]
    pub fn unsure_by(self, error: f64) -> Self {
        Self { error, ..self }
    }

    /// The chance that the sum passes this some time in a week as usual in the season that is the harder one, the draws being no surer
    /// than they are.
    #[must_use]
    pub fn passes(&self, amps: f64) -> f64 {
        let passes = |season: &[Moment; MOMENTS]| {
            let at = |(z, weight): (f64, f64)| weight * (1.0 - stays(season, self.bin_of(amps - z * self.error)));
            NODES.into_iter().map(at).sum::<f64>().clamp(0.0, 1.0)
        };
        self.seasons.iter().map(passes).fold(0.0, f64::max)
    }

    /// What the sum reaches in every other week at least, in the season that brings more.
    #[must_use]
    pub fn usual_peak(&self) -> f64 {
        let peak = |season: &[Moment; MOMENTS]| {
            let bins: Vec<usize> = (0..season[0].below.len()).collect();
            let reached = bins.partition_point(|n| stays(season, Some(*n)) < 0.5);
            reached.min(bins.len() - 1) as f64 * self.bin
        };
        self.seasons.iter().map(peak).fold(0.0, f64::max)
    }

    /// For each of the things that the week is of, how likely it runs when the sum passes this.
    #[must_use]
    pub fn runs_when_over(&self, runners: &[Runner], amps: f64) -> Vec<f64> {
        let bin = self.bin_of(amps);
        let runs = |runner: &Runner| {
            let (mut with, mut all) = (0.0, 0.0);
            for (season, moments) in self.seasons.iter().enumerate() {
                for (kind, (moment, hours)) in moments.iter().zip(HOURS).enumerate() {
                    let on = runner.uses.on[season][kind] * runner.share;
                    let above = bin.map_or(1.0, |n| 1.0 - moment.below[n.min(moment.below.len() - 1)]);
                    // What runs for more than half of the time is taken to run.
                    let alone = |n| 1.0 - moment.below_without(runner.amps / self.bin, on, n);
                    let without = if on > 0.5 { above } else { bin.map_or(1.0, alone) };
                    with += hours * (above - (1.0 - on) * without).max(0.0);
                    all += hours * above;
                }
            }
            if all > NEVER { (with / all).clamp(0.0, 1.0) } else { 0.0 }
        };
        runners.iter().map(runs).collect()
    }

    /// The bin that ends at a current; none below nothing.
    fn bin_of(&self, amps: f64) -> Option<usize> {
        (amps >= -ROUNDING).then(|| (amps / self.bin + ROUNDING).floor().max(0.0) as usize)
    }
}

impl Moment {
    /// Adds something that draws so many bins for this share of the time, starting so often an hour.
    fn add(&mut self, spare: &mut Self, bins: f64, on: f64, starts: f64) {
        if on <= 0.0 {
            return;
        }
        let (whole, part) = (bins.floor() as usize, bins.fract());
        self.reach = (self.reach + whole + 1).min(self.below.len());
        // What was below so many bins less: in two bins, and nothing under the first.
        let shift = |of: &[f64], into: &mut [f64]| {
            let first = whole.min(into.len());
            into[..first].fill(0.0);
            if let Some(at) = into.get_mut(first) {
                *at = (1.0 - part) * of[0];
            }
            let pairs = of.iter().zip(&of[1..]);
            into.iter_mut()
                .skip(first + 1)
                .zip(pairs)
                .for_each(|(at, (less, same))| *at = (1.0 - part) * same + part * less);
        };
        let (below, rises) = (&mut self.below[..self.reach], &mut self.rises[..self.reach]);
        shift(below, &mut spare.below[..self.reach]);
        shift(rises, &mut spare.rises[..self.reach]);
        let with = spare.below.iter().zip(&spare.rises);
        for ((below, rises), (with, rose)) in below.iter_mut().zip(rises).zip(with) {
            *rises = (1.0 - on) * *rises + on * rose + starts * (*below - with);
            *below = (1.0 - on) * *below + on * with;
        }
    }

    /// How likely the sum is no more than a bin without something that [`Self::add`] put in: only where it runs for no more than half of
    /// the time, since rounding would grow otherwise.
    fn below_without(&self, bins: f64, on: f64, bin: usize) -> f64 {
        if bin >= self.reach {
            return 1.0;
        }
        let (whole, part) = (bins.floor() as usize, bins.fract());
        // What lies in its own bin, where it draws less than one.
        let own = 1.0 - on + if whole == 0 { on * (1.0 - part) } else { 0.0 };
        let mut rest: Vec<f64> = Vec::with_capacity(bin + 1);
        for (n, below) in self.below[..=bin].iter().enumerate() {
            let from = |by: usize| n.checked_sub(by).map_or(0.0, |n| rest[n]);
            let with = if whole == 0 { part * from(1) } else { (1.0 - part) * from(whole) + part * from(whole + 1) };
            rest.push((below - on * with) / own);
        }
        rest[bin]
    }
}

/// The chance that the sum stays at or below a bin for a whole week of a season.
fn stays(season: &[Moment; MOMENTS], bin: Option<usize>) -> f64 {
    let Some(bin) = bin else { return 0.0 };
    let (mut begins, mut rises) = (1.0, 0.0);
    for (moment, hours) in season.iter().zip(HOURS) {
        let n = bin.min(moment.below.len() - 1);
        let below = moment.below[n];
        if below <= 0.0 {
            return 0.0;
        }
        begins *= below;
        // A rise comes from below: as often as that is so.
        rises += hours * moment.rises[n] / below;
    }
    begins * (1.0 + BUSY * rises).powf(-1.0 / BUSY)
}

/// Hours of a week that are none: what rounding leaves.
const NEVER: f64 = 1e-6;

#[cfg(test)]
mod tests {
    use super::*;
    use rand::rngs::ChaCha8Rng;
    use rand::{RngExt, SeedableRng};

    fn steady(amps: f64, on: f64, starts: f64) -> Runner {
        let uses = Uses { on: [[on; MOMENTS]; SEASONS], starts: [[starts; MOMENTS]; SEASONS] };
        Runner { amps, error: 0.0, uses, share: 1.0 }
    }

    /// Things that start and stop by chance, second by second: how often an hour their sum rises above a level, and how much of the time
    /// it is above it.
    fn played(runners: &[Runner], level: f64, hours: f64) -> (f64, f64) {
        let mut rng = ChaCha8Rng::seed_from_u64(7);
        let step = 10.0 / 3600.0;
        let mut on = vec![false; runners.len()];
        let (mut rises, mut above, mut was) = (0.0, 0.0, false);
        let steps = (hours / step) as usize;
        for _ in 0..steps {
            for (is, runner) in on.iter_mut().zip(runners) {
                let (share, starts) = (runner.uses.on[0][0], runner.uses.starts[0][0]);
                let rate = if *is { starts / share } else { starts / (1.0 - share) };
                if rng.random::<f64>() < rate * step {
                    *is = !*is;
                }
            }
            let sum: f64 = on.iter().zip(runners).filter(|(on, _)| **on).map(|(_, r)| r.amps).sum();
            let is = sum > level + 1e-9;
            rises += f64::from(u8::from(is && !was));
            above += f64::from(u8::from(is));
            was = is;
        }
        (rises / hours, above / steps as f64)
    }

    // By playing the things in time: another way to the same figures. Currents on whole bins, so that nothing is shared out.
    #[test]
    fn a_sum_rises_above_a_level_as_often_as_played() {
        let all = [steady(12.5, 0.1, 1.0), steady(9.0, 0.2, 2.0), steady(1.5, 0.4, 1.5), steady(6.25, 0.3, 0.5)];
        let week = Week::of(&all);
        for level in [5.0, 10.0, 15.0, 20.0] {
            let (rises, above) = played(&all, level, 4000.0);
            let moment = &week.seasons[0][0];
            let n = week.bin_of(level).unwrap();
            assert!((moment.rises[n] - rises).abs() < 0.08 * rises, "{level}: {} played {rises}", moment.rises[n]);
            assert!((1.0 - moment.below[n] - above).abs() < 0.08 * above, "{level}: played {above}");
        }
    }

    #[test]
    fn what_alone_would_pass_runs_whenever_it_passes() {
        let all = [steady(25.0, 0.1, 1.0), steady(1.0, 0.4, 1.0)];
        let runs = Week::of(&all).runs_when_over(&all, 20.0);
        assert!((runs[0] - 1.0).abs() < 1e-9);
        assert!((runs[1] - 0.4).abs() < 1e-9, "the other one as often as ever");
    }

    #[test]
    fn what_was_added_can_be_taken_out_again() {
        let all = [steady(3.1, 0.3, 1.0), steady(0.05, 0.4, 1.0), steady(7.77, 0.2, 1.0)];
        let (whole, rest) = (Week::of(&all), Week::of(&all[..2]));
        let same = |more: &Week, less: &Week, amps: f64, on: f64| {
            less.seasons[0][0]
                .below
                .iter()
                .enumerate()
                .all(|(n, below)| (below - more.seasons[0][0].below_without(amps / more.bin, on, n)).abs() < 1e-9)
        };
        assert!(same(&whole, &rest, 7.77, 0.2) && same(&rest, &Week::of(&all[..1]), 0.05, 0.4));
    }

    #[test]
    fn an_unsure_draw_makes_it_unsure_whether_the_rating_is_passed() {
        let sure = Week::of(&[steady(19.0, 0.1, 1.0)]);
        assert!(sure.passes(20.0) < 1e-9 && sure.passes(18.0) > 0.99);
        let unsure = Week::of(&[Runner { error: 2.0, ..steady(19.0, 0.1, 1.0) }]);
        assert!(unsure.passes(20.0) > 0.1 && unsure.passes(20.0) < 0.5);
    }

    #[test]
    fn what_always_runs_is_there_from_the_beginning() {
        let week = Week::of(&[steady(3.0, 1.0, 0.0), steady(10.0, 0.5, 0.1)]);
        assert!(week.passes(2.0) > 1.0 - 1e-9);
        assert_eq!(week.usual_peak(), 13.0);
    }

    #[test]
    fn the_season_that_brings_more_counts() {
        let cold = |on: f64| Uses { on: [[on; MOMENTS], [0.0; MOMENTS]], starts: [[on; MOMENTS], [0.0; MOMENTS]] };
        let heater = Runner { amps: 12.0, error: 0.0, uses: cold(0.5), share: 1.0 };
        let warm = Uses { on: [[0.0; MOMENTS], [0.5; MOMENTS]], starts: [[0.0; MOMENTS], [0.5; MOMENTS]] };
        let cooler = Runner { amps: 9.0, uses: warm, ..heater };
        let week = Week::of(&[heater, cooler]);
        assert_eq!(week.usual_peak(), 12.0, "never both");
        assert!(week.passes(11.0) > 0.9 && week.passes(15.0) < 1e-9);
    }

    #[test]
    fn nothing_that_runs_passes_nothing() {
        let week = Week::of(&[]);
        assert_eq!((week.usual_peak(), week.passes(0.0)), (0.0, 0.0));
    }
}
