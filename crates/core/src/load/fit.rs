//! Sums that were measured, and what each part of them must then be: bounded least squares with priors.
//!
//! Minimises the squares of (part − prior) and of (sum of parts − value), each over its error, with no part below nothing.
//! A value that is off by far more than its error weighs less (Huber), so that one wrong list of what was on does not bend
//! everything else.
//!
//! The parts fall into blocks that narrow sums tie together, the things of a circuit mostly. Sums that would tie too many
//! blocks to one another, as a leg's does, are kept aside as a border: the blocks are solved each by itself, and the border
//! by its Schur complement. [pub: Golub and Van Loan, Matrix Computations, the Sherman–Morrison–Woodbury formula]

use nalgebra::{Cholesky, DMatrix, DVector, Dyn};

/// What is known of a part beforehand.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Prior {
    /// Its most probable value,
    pub mean: f64,
    /// and the standard error of that.
    pub error: f64,
}

/// A measured sum of parts.
#[derive(Debug, Clone, PartialEq)]
pub struct Sum {
    /// The parts, each with how often it counts.
    pub parts: Vec<(usize, f64)>,
    /// What was measured,
    pub value: f64,
    /// and its standard error.
    pub error: f64,
}

/// What the parts must be.
#[derive(Debug, Clone, PartialEq)]
pub struct Fitted {
    /// Each part,
    pub values: Vec<f64>,
    /// and its standard error.
    pub errors: Vec<f64>,
    /// By how many of its errors each sum is off.
    pub off: Vec<f64>,
    /// How the errors of the parts go together.
    pub spread: Spread,
}

/// How the errors of parts go together: of a circuit that was read the sum may be known well, and its parts badly.
#[derive(Debug, Clone, PartialEq, Default)]
pub struct Spread {
    place: Vec<(usize, usize)>,
    /// The errors of each block, squared and crossed,
    within: Vec<DMatrix<f64>>,
    /// and what each wide sum takes off them: the roots of that.
    taken: DMatrix<f64>,
}

impl Spread {
    /// The standard error of a sum of parts, each with how often it counts.
    #[must_use]
    pub fn error_of(&self, parts: &[(usize, f64)]) -> f64 {
        let mut placed: Vec<(usize, usize, f64)> =
            parts.iter().map(|(part, a)| (self.place[*part].0, self.place[*part].1, *a)).collect();
        placed.sort_unstable_by_key(|(block, i, _)| (*block, *i));
        let of_block = |these: &[(usize, usize, f64)]| {
            let pairs =
                these.iter().flat_map(|(block, i, a)| these.iter().map(move |(_, j, b)| (*block, *i, *j, a * b)));
            pairs.map(|(block, i, j, times)| times * self.within[block][(i, j)]).sum::<f64>()
        };
        let open: f64 = placed.chunk_by(|a, b| a.0 == b.0).map(of_block).sum();
        let taken = self.taken.column_iter().map(|of| parts.iter().map(|(part, a)| a * of[*part]).sum::<f64>().powi(2));
        (open - taken.sum::<f64>()).max(0.0).sqrt()
    }
}

/// A sum that is off by more than so many errors weighs less the farther it is.
const HUBER: f64 = 2.0;
/// Weights that change by less leave the parts where they are.
const SETTLED: f64 = 1e-3;
/// Rounds of weighing anew: after these nothing moves by more than a thousandth of an error.
const ROUNDS: usize = 12;
/// Parts changed between bound and free before it is given up: each round comes nearer to the least square.
const PIVOTS: usize = 200;
/// A gradient below this is nothing: the rounding of the numbers.
const NOTHING: f64 = 1e-9;
/// Sums that would tie more parts than this into one block are kept aside: a block costs the third power of its parts.
const BLOCK: usize = 64;

/// Fits the parts. `robust` has sums that do not fit weigh less.
#[must_use]
pub fn fit(priors: &[Prior], sums: &[Sum], robust: bool) -> Fitted {
    let (values, off, spread) = weighed(priors, sums, robust, &Tied::new(priors.len(), sums), |solver| solver.spread());
    let errors = (0..priors.len()).map(|part| spread.error_of(&[(part, 1.0)])).collect();
    Fitted { values, errors, off, spread }
}

/// The parts alone of a few that are all tied together, where nobody asks how sure they are.
#[must_use]
pub fn values(priors: &[Prior], sums: &[Sum], robust: bool) -> Vec<f64> {
    weighed(priors, sums, robust, &Tied::all(priors.len(), sums.len()), |_| ()).0
}

/// Weighs until it is settled: the parts, by how much each sum is off, and what is told of the solver then.
fn weighed<T>(
    priors: &[Prior],
    sums: &[Sum],
    robust: bool,
    tied: &Tied,
    told: impl Fn(&Solver<'_>) -> T,
) -> (Vec<f64>, Vec<f64>, T) {
    let mut weights = vec![1.0; sums.len()];
    let mut free = vec![true; priors.len()];
    let mut rounds = if robust { ROUNDS } else { 0 };
    let mut before = None;
    loop {
        let squares = Squares::new(priors, sums, &weights, tied);
        let (values, solver) = squares.least(tied, free, before);
        let total = |sum: &Sum| sum.parts.iter().map(|(i, a)| a * values[*i]).sum::<f64>();
        let off: Vec<f64> = sums.iter().map(|sum| (sum.value - total(sum)) / sum.error).collect();
        let weigh = |off: &f64| if off.abs() <= HUBER { 1.0 } else { HUBER / off.abs() };
        let next: Vec<f64> = off.iter().map(weigh).collect();
        let settled = next.iter().zip(&weights).all(|(a, b)| (a - b).abs() <= SETTLED);
        if rounds == 0 || settled {
            return (values, off, told(&solver));
        }
        let Solver { inverse, leaned, added, free: last, .. } = solver;
        before = Some(Inverted { curvature: squares.curvature, inverse, leaned, added });
        (weights, free, rounds) = (next, last, rounds - 1);
    }
}

/// The parts that narrow sums tie together, and for each sum its group; nothing for the wide ones.
#[must_use]
pub fn groups(parts: usize, sums: &[Sum]) -> (Vec<Vec<usize>>, Vec<Option<usize>>) {
    let tied = Tied::new(parts, sums);
    let group = |(nth, sum): (usize, &Sum)| {
        let (first, _) = sum.parts.first().filter(|_| !tied.aside[nth])?;
        Some(tied.place[*first].0)
    };
    let of = sums.iter().enumerate().map(group).collect();
    (tied.blocks, of)
}

/// How sums tie parts together.
struct Tied {
    /// The parts of each block.
    blocks: Vec<Vec<usize>>,
    /// For each part its block, and its place there.
    place: Vec<(usize, usize)>,
    /// For each sum: it is kept aside.
    aside: Vec<bool>,
}

impl Tied {
    /// All in one block.
    fn all(parts: usize, sums: usize) -> Self {
        Self {
            blocks: vec![(0..parts).collect()],
            place: (0..parts).map(|here| (0, here)).collect(),
            aside: vec![false; sums],
        }
    }

    /// The narrowest sums tie first.
    fn new(parts: usize, sums: &[Sum]) -> Self {
        let mut block_of: Vec<usize> = (0..parts).collect();
        let mut members: Vec<Vec<usize>> = (0..parts).map(|part| vec![part]).collect();
        let mut order: Vec<usize> = (0..sums.len()).collect();
        order.sort_by_key(|nth| sums[*nth].parts.len());
        let mut aside = vec![false; sums.len()];
        for nth in order {
            let mut touched: Vec<usize> = sums[nth].parts.iter().map(|(part, _)| block_of[*part]).collect();
            touched.sort_unstable();
            touched.dedup();
            let Some((first, others)) = touched.split_first() else { continue };
            aside[nth] = !others.is_empty() && touched.iter().map(|b| members[*b].len()).sum::<usize>() > BLOCK;
            if !aside[nth] {
                for other in others {
                    let moved = std::mem::take(&mut members[*other]);
                    moved.iter().for_each(|part| block_of[*part] = *first);
                    members[*first].extend(moved);
                }
            }
        }
        let blocks: Vec<Vec<usize>> = members.into_iter().filter(|m| !m.is_empty()).collect();
        let mut place = vec![(0, 0); parts];
        for (b, block) in blocks.iter().enumerate() {
            block.iter().enumerate().for_each(|(here, part)| place[*part] = (b, here));
        }
        Self { blocks, place, aside }
    }
}

/// What the squares come to.
struct Squares {
    /// What pulls at each part.
    pull: Vec<f64>,
    /// The curvature within each block, of priors and narrow sums.
    curvature: Vec<DMatrix<f64>>,
    /// Sums kept aside: how often each counts each part,
    border: DMatrix<f64>,
    /// and their variances.
    variance: Vec<f64>,
}

impl Squares {
    fn new(priors: &[Prior], sums: &[Sum], weights: &[f64], tied: &Tied) -> Self {
        let mut pull: Vec<f64> = priors.iter().map(|p| p.mean * p.error.powi(-2)).collect();
        let of_priors = |block: &Vec<usize>| {
            let own = block.iter().map(|part| priors[*part].error.powi(-2));
            DMatrix::from_diagonal(&DVector::from_iterator(block.len(), own))
        };
        let mut curvature: Vec<_> = tied.blocks.iter().map(of_priors).collect();
        let wide = tied.aside.iter().filter(|aside| **aside).count();
        let mut border = DMatrix::zeros(priors.len(), wide);
        let mut variance = Vec::with_capacity(wide);
        for ((sum, weight), aside) in sums.iter().zip(weights).zip(&tied.aside) {
            let weight = weight * sum.error.powi(-2);
            for (part, a) in &sum.parts {
                pull[*part] += weight * a * sum.value;
                let (block, i) = tied.place[*part];
                if *aside {
                    border[(*part, variance.len())] += *a;
                } else {
                    for (other, b) in &sum.parts {
                        curvature[block][(i, tied.place[*other].1)] += weight * a * b;
                    }
                }
            }
            if *aside {
                variance.push(weight.recip());
            }
        }
        Self { pull, curvature, border, variance }
    }

    /// The least square with no part below nothing: parts are bound at nothing, and let free again, until none wants to move.
    fn least<'a>(&'a self, tied: &'a Tied, free: Vec<bool>, before: Option<Inverted>) -> (Vec<f64>, Solver<'a>) {
        let mut solver = Solver::new(self, tied, free, before);
        let mut best = Vec::new();
        for _ in 0..PIVOTS {
            let values = solver.solved();
            let below = (0..values.len()).filter(|i| solver.free[*i] && values[*i] < 0.0);
            let below = below.min_by(|a, b| values[*a].total_cmp(&values[*b]));
            let bound = (0..values.len()).filter(|i| !solver.free[*i]).map(|i| (i, solver.slope(i, &values)));
            let wants = bound.filter(|(i, slope)| *slope > NOTHING * solver.curvature_of(*i));
            let wants = wants.max_by(|a, b| a.1.total_cmp(&b.1));
            best = values;
            match (below, wants) {
                (Some(i), _) => solver.set(i, false),
                (None, Some((i, _))) => solver.set(i, true),
                (None, None) => break,
            }
        }
        best.iter_mut().for_each(|v| *v = v.max(0.0));
        (best, solver)
    }
}

/// The squares with some parts bound at nothing.
struct Solver<'a> {
    squares: &'a Squares,
    tied: &'a Tied,
    free: Vec<bool>,
    /// The inverse of each block's free parts; nothing in the rows of those bound.
    inverse: Vec<DMatrix<f64>>,
    /// The same times the border,
    leaned: DMatrix<f64>,
    /// and that again, kept up block by block.
    added: DMatrix<f64>,
}

/// What was solved with other weights and the same parts free.
struct Inverted {
    curvature: Vec<DMatrix<f64>>,
    inverse: Vec<DMatrix<f64>>,
    leaned: DMatrix<f64>,
    added: DMatrix<f64>,
}

impl<'a> Solver<'a> {
    /// Blocks that are as they were before are not inverted again.
    fn new(squares: &'a Squares, tied: &'a Tied, free: Vec<bool>, before: Option<Inverted>) -> Self {
        let wide = squares.border.ncols();
        let before = before.unwrap_or_else(|| Inverted {
            curvature: Vec::new(),
            inverse: squares.curvature.iter().map(|c| DMatrix::zeros(c.nrows(), c.ncols())).collect(),
            leaned: DMatrix::zeros(squares.border.nrows(), wide),
            added: DMatrix::zeros(wide, wide),
        });
        let Inverted { inverse, leaned, added, .. } = before;
        let mut solver = Self { squares, tied, free, inverse, leaned, added };
        let differs = |block: &usize| before.curvature.get(*block) != Some(&squares.curvature[*block]);
        (0..tied.blocks.len()).filter(differs).for_each(|block| solver.invert(block));
        solver
    }

    /// Binds a part or lets it free.
    fn set(&mut self, part: usize, free: bool) {
        self.free[part] = free;
        self.invert(self.tied.place[part].0);
    }

    fn invert(&mut self, block: usize) {
        let parts = &self.tied.blocks[block];
        let curvature = &self.squares.curvature[block];
        let at: Vec<usize> = (0..parts.len()).filter(|here| self.free[parts[*here]]).collect();
        let inverse = &mut self.inverse[block];
        inverse.fill(0.0);
        let of_free = DMatrix::from_fn(at.len(), at.len(), |i, j| curvature[(at[i], at[j])]);
        if let Some(roots) = of_free.cholesky() {
            let found = roots.inverse();
            at.iter()
                .enumerate()
                .for_each(|(i, a)| at.iter().enumerate().for_each(|(j, b)| inverse[(*a, *b)] = found[(i, j)]));
        }
        let border = &self.squares.border;
        for (i, part) in parts.iter().enumerate().filter(|_| border.ncols() > 0) {
            let before = self.leaned.row(*part).transpose();
            for k in 0..border.ncols() {
                let along = parts.iter().enumerate().map(|(j, other)| inverse[(i, j)] * border[(*other, k)]);
                self.leaned[(*part, k)] = along.sum();
            }
            let more = self.leaned.row(*part).transpose() - before;
            self.added.ger(1.0, &border.row(*part).transpose(), &more, 1.0);
        }
    }

    /// What the border adds: its variances and what leans on it, as its roots.
    fn complement(&self) -> Option<Cholesky<f64, Dyn>> {
        let spread = DMatrix::from_diagonal(&DVector::from_column_slice(&self.squares.variance));
        (spread + &self.added).cholesky()
    }

    fn solved(&self) -> Vec<f64> {
        let mut alone = DVector::zeros(self.free.len());
        for (block, parts) in self.tied.blocks.iter().enumerate() {
            for (i, part) in parts.iter().enumerate() {
                let along =
                    parts.iter().enumerate().map(|(j, other)| self.inverse[block][(i, j)] * self.squares.pull[*other]);
                alone[*part] = along.sum();
            }
        }
        if let Some(roots) = self.complement().filter(|_| self.squares.border.ncols() > 0) {
            alone -= &self.leaned * roots.solve(&self.squares.border.tr_mul(&alone));
        }
        alone.as_slice().to_vec()
    }

    /// The whole curvature of a part by itself.
    fn curvature_of(&self, part: usize) -> f64 {
        let (block, here) = self.tied.place[part];
        let border = self.squares.border.row(part);
        let aside = border.iter().zip(&self.squares.variance).map(|(a, v)| a * a / v);
        self.squares.curvature[block][(here, here)] + aside.sum::<f64>()
    }

    /// How much a part that is bound wants to rise.
    fn slope(&self, part: usize, values: &[f64]) -> f64 {
        let (block, here) = self.tied.place[part];
        let parts = &self.tied.blocks[block];
        let curvature = &self.squares.curvature[block];
        let held: f64 = parts.iter().enumerate().map(|(j, other)| curvature[(here, j)] * values[*other]).sum();
        let aside = (0..self.squares.border.ncols()).filter(|k| self.squares.border[(part, *k)] != 0.0).map(|k| {
            let total: f64 = self.squares.border.column(k).iter().zip(values).map(|(a, v)| a * v).sum();
            self.squares.border[(part, k)] * total / self.squares.variance[k]
        });
        self.squares.pull[part] - held - aside.sum::<f64>()
    }

    /// How the free parts' errors go together; a bound part's is that of its own curvature.
    fn spread(&self) -> Spread {
        let mut within = self.inverse.clone();
        for part in (0..self.free.len()).filter(|part| !self.free[*part]) {
            let (block, here) = self.tied.place[part];
            within[block][(here, here)] = self.curvature_of(part).recip();
        }
        let place = self.tied.place.clone();
        let of_roots = |roots: Cholesky<f64, Dyn>| roots.l().solve_lower_triangular(&self.leaned.transpose());
        let taken =
            self.complement().and_then(of_roots).map_or_else(|| DMatrix::zeros(0, 0), |taken| taken.transpose());
        Spread { place, within, taken }
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use proptest::prelude::*;
    use std::process::Command;

    fn sum(parts: &[usize], value: f64, error: f64) -> Sum {
        Sum { parts: parts.iter().map(|p| (*p, 1.0)).collect(), value, error }
    }

    const VAGUE: Prior = Prior { mean: 5.0, error: 1e4 };

    // handbook 3.2: two readings that differ by one appliance give it exactly.
    #[test]
    fn two_sums_that_differ_by_one_part_give_it() {
        let fitted = fit(&[VAGUE; 3], &[sum(&[0, 1, 2], 14.0, 0.1), sum(&[0, 1], 6.0, 0.1)], true);
        assert!((fitted.values[2] - 8.0).abs() < 1e-3 && fitted.errors[2] < 0.2, "{fitted:?}");
        assert!(fitted.errors[0] > 100.0, "of the two others only the sum is known");
    }

    #[test]
    fn parts_that_no_sum_ties_together_are_as_if_fitted_alone() {
        let priors = [Prior { mean: 5.0, error: 2.0 }; 5];
        let sums = [sum(&[0, 3], 14.0, 0.3), sum(&[1, 4], 6.0, 0.2), sum(&[4], 2.0, 0.2)];
        let whole = fit(&priors, &sums, true);
        let alone = fit(&priors[..2], &[sum(&[0, 1], 14.0, 0.3)], true);
        assert!((whole.values[0] - alone.values[0]).abs() < 1e-12 && (whole.errors[3] - alone.errors[1]).abs() < 1e-12);
        assert_eq!((whole.values[2], whole.errors[2]), (5.0, 2.0));
        assert_eq!(Tied::new(5, &sums).blocks, [vec![0, 3], vec![1, 4], vec![2]]);
    }

    // A house whose feed was read: forty circuits of three things, and sums over most of them. What is least is known by
    // its gradient [pub: Karush, Kuhn and Tucker], the errors by the whole curvature turned round at once [def].
    #[test]
    fn wide_sums_are_kept_aside_and_change_nothing_of_the_least() {
        let n = 120;
        let priors: Vec<Prior> =
            (0..n).map(|i| Prior { mean: f64::from(i % 7), error: 1.0 + f64::from(i % 3) }).collect();
        let narrow = (0..40).map(|c| sum(&[3 * c, 3 * c + 1, 3 * c + 2], (c % 11) as f64, 0.3));
        let wide = (0..6).map(|k| {
            let parts: Vec<usize> = (0..n as usize).filter(|i| (i / 3) % (k + 2) != 0).collect();
            sum(&parts, 90.0 + 9.0 * k as f64, 1.5)
        });
        let sums: Vec<Sum> = narrow.chain(wide).collect();
        let tied = Tied::new(n as usize, &sums);
        assert!(tied.aside.iter().filter(|a| **a).count() >= 4 && tied.blocks.iter().all(|b| b.len() <= BLOCK));
        let fitted = fit(&priors, &sums, false);
        let mut curvature = DMatrix::<f64>::zeros(n as usize, n as usize);
        let mut slope = vec![0.0; n as usize];
        for (i, prior) in priors.iter().enumerate() {
            curvature[(i, i)] += prior.error.powi(-2);
            slope[i] += (prior.mean - fitted.values[i]) * prior.error.powi(-2);
        }
        for (sum, off) in sums.iter().zip(&fitted.off) {
            for (i, _) in &sum.parts {
                slope[*i] += off / sum.error;
                sum.parts.iter().for_each(|(j, _)| curvature[(*i, *j)] += sum.error.powi(-2));
            }
        }
        let free: Vec<usize> = (0..n as usize).filter(|i| fitted.values[*i] > 0.0).collect();
        assert!(free.len() < n as usize && free.len() > 60, "{} of {n} draw something", free.len());
        for (i, slope) in slope.iter().enumerate() {
            assert!(if fitted.values[i] > 0.0 { slope.abs() < 1e-6 } else { *slope < 1e-6 }, "{i}: {slope}");
        }
        let whole = DMatrix::from_fn(free.len(), free.len(), |i, j| curvature[(free[i], free[j])]);
        let spread = whole.try_inverse().unwrap();
        for (k, i) in free.iter().enumerate() {
            assert!((fitted.errors[*i] - spread[(k, k)].sqrt()).abs() < 1e-9, "{i}");
        }
    }

    #[test]
    fn nothing_draws_less_than_nothing() {
        let fitted = fit(&[VAGUE; 2], &[sum(&[0, 1], 3.0, 0.1), sum(&[0], 4.0, 0.1)], false);
        assert_eq!(fitted.values[1], 0.0);
        assert!((fitted.values[0] - 3.5).abs() < 1e-3, "{fitted:?}");
    }

    #[test]
    fn one_wrong_list_of_what_was_on_does_not_bend_the_rest() {
        let mut sums: Vec<Sum> = (0..5).map(|_| sum(&[0], 8.0, 0.2)).collect();
        sums.push(sum(&[0], 20.0, 0.2));
        let (robust, plain) = (fit(&[VAGUE], &sums, true), fit(&[VAGUE], &sums, false));
        assert!((robust.values[0] - 8.0).abs() < 0.1, "{robust:?}");
        assert!(plain.values[0] > 9.5 && robust.off[5] > 50.0);
    }

    proptest! {
        // Honest readings never move a part away from the truth by more than their errors allow: five standard errors of
        // what came out are never passed, with errors of a third of what is claimed.
        #[test]
        fn honest_sums_lead_to_the_truth(
            truth in prop::collection::vec(0.0f64..15.0, 2..7),
            rows in prop::collection::vec((prop::collection::vec(any::<bool>(), 7), -1.0f64..1.0), 1..14),
        ) {
            let priors: Vec<Prior> = truth.iter().map(|t| Prior { mean: t * 0.8 + 0.5, error: 3.0 }).collect();
            let sums: Vec<Sum> = rows.iter().map(|(on, slip)| {
                let parts: Vec<usize> = (0..truth.len()).filter(|i| on[*i]).collect();
                let value = parts.iter().map(|p| truth[*p]).sum::<f64>();
                sum(&parts, value + slip * 0.1, 0.3)
            }).collect();
            let fitted = fit(&priors, &sums, true);
            for ((found, error), truth) in fitted.values.iter().zip(&fitted.errors).zip(&truth) {
                prop_assert!((found - truth).abs() <= 5.0 * error, "{found} ± {error}, truly {truth}");
            }
        }
    }

    /// Least squares with bounds as an independent library has them.
    const REFERENCE: &str = "
import json, sys
from scipy.optimize import lsq_linear
for case in json.load(sys.stdin):
    print(json.dumps(list(lsq_linear(case['a'], case['b'], bounds=(0, float('inf')), tol=1e-13, max_iter=1000).x)))
";

    // Against scipy's lsq_linear, without priors, on cases as clamp rounds make them (cargo xtask test installs it).
    #[test]
    fn without_priors_it_is_what_an_independent_library_finds() {
        use std::io::Write;
        let python = concat!(env!("CARGO_MANIFEST_DIR"), "/../../target/python/bin/python");
        let mut seed = 1u64;
        let mut chance = || {
            // A linear congruential generator is random enough for matrices. [pub: Knuth, MMIX, value from memory]
            seed = seed.wrapping_mul(6_364_136_223_846_793_005).wrapping_add(1_442_695_040_888_963_407);
            (seed >> 33) as f64 / f64::from(u32::MAX >> 1)
        };
        let mut cases = Vec::new();
        for n in 2..9 {
            for _ in 0..4 {
                let rows: Vec<Vec<f64>> =
                    (0..3 * n).map(|_| (0..n).map(|_| f64::from(u8::from(chance() < 0.5))).collect()).collect();
                let truth: Vec<f64> = (0..n).map(|_| (16.0 * chance() - 4.0).max(0.0)).collect();
                let noise = |value: f64, slip: f64| value + 3.0 * (slip - 0.5);
                let values: Vec<f64> =
                    rows.iter().map(|row| noise(row.iter().zip(&truth).map(|(a, t)| a * t).sum(), chance())).collect();
                cases.push((rows, values));
            }
        }
        let given: Vec<_> = cases.iter().map(|(a, b)| serde_json::json!({ "a": a, "b": b })).collect();
        let mut child = Command::new(python)
            .args(["-c", REFERENCE])
            .stdin(std::process::Stdio::piped())
            .stdout(std::process::Stdio::piped())
            .spawn()
            .expect("scipy is installed: cargo xtask test");
        child.stdin.take().unwrap().write_all(serde_json::to_string(&given).unwrap().as_bytes()).unwrap();
        let told = String::from_utf8(child.wait_with_output().unwrap().stdout).unwrap();
        let theirs: Vec<Vec<f64>> = told.lines().map(|line| serde_json::from_str(line).unwrap()).collect();
        assert_eq!(theirs.len(), cases.len());
        let mut bound = 0;
        for ((rows, values), theirs) in cases.iter().zip(&theirs) {
            let parts = |row: &[f64]| row.iter().copied().enumerate().filter(|(_, a)| *a > 0.0).collect();
            let sums: Vec<Sum> = rows
                .iter()
                .zip(values)
                .map(|(row, value)| Sum { parts: parts(row), value: *value, error: 1.0 })
                .collect();
            let ours = fit(&vec![Prior { mean: 0.0, error: 1e6 }; rows[0].len()], &sums, false).values;
            for (a, b) in ours.iter().zip(theirs) {
                assert!((a - b).abs() < 1e-4, "{ours:?} here, {theirs:?} there");
                bound += usize::from(*a == 0.0);
            }
        }
        assert!(bound > 5, "some parts lie at their bound");
    }
}
