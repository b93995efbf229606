//! Sums that were measured, and what each part of them must then be: bounded least squares with priors.
//!
//! Minimises the squares of (part − prior) and of (sum of parts − value), each over its error, with no part below nothing.
//! A value that is off by far more than its error weighs less (Huber), so that one wrong list of what was on does not bend
//! everything else.

use std::collections::BTreeMap;

use nalgebra::{DMatrix, DVector};

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
}

/// A sum that is off by more than so many errors weighs less the farther it is.
const HUBER: f64 = 2.0;
/// Weights that change by less leave the parts where they are.
const SETTLED: f64 = 1e-3;
/// Rounds of weighing anew: after these nothing moves by more than a thousandth of an error.
const ROUNDS: usize = 12;
/// Parts changed between bound and free before it is given up: each round comes nearer to the least square.
const PIVOTS: usize = 100;
/// A gradient below this is nothing: the rounding of the numbers.
const NOTHING: f64 = 1e-9;

/// Fits the parts. `robust` has sums that do not fit weigh less.
///
/// Parts that no sum ties together are fitted by themselves: time grows with the third power of the largest group, that of the
/// things of a circuit mostly, of the whole house where its feed was read.
#[must_use]
pub fn fit(priors: &[Prior], sums: &[Sum], robust: bool) -> Fitted {
    let mut fitted =
        Fitted { values: vec![0.0; priors.len()], errors: vec![0.0; priors.len()], off: vec![0.0; sums.len()] };
    let group_of = groups(priors.len(), sums);
    let mut members: BTreeMap<usize, (Vec<usize>, Vec<usize>)> = BTreeMap::new();
    for (part, group) in group_of.iter().enumerate() {
        members.entry(*group).or_default().0.push(part);
    }
    for (nth, sum) in sums.iter().enumerate() {
        match sum.parts.first() {
            Some((part, _)) => members.entry(group_of[*part]).or_default().1.push(nth),
            None => fitted.off[nth] = sum.value / sum.error,
        }
    }
    for (parts, its_sums) in members.values() {
        let local: BTreeMap<usize, usize> = parts.iter().enumerate().map(|(here, part)| (*part, here)).collect();
        let of_group =
            |sum: &Sum| Sum { parts: sum.parts.iter().map(|(p, a)| (local[p], *a)).collect(), ..sum.clone() };
        let group_priors: Vec<Prior> = parts.iter().map(|p| priors[*p]).collect();
        let group_sums: Vec<Sum> = its_sums.iter().map(|s| of_group(&sums[*s])).collect();
        let found = fit_group(&group_priors, &group_sums, robust);
        for (here, part) in parts.iter().enumerate() {
            (fitted.values[*part], fitted.errors[*part]) = (found.values[here], found.errors[here]);
        }
        for (here, sum) in its_sums.iter().enumerate() {
            fitted.off[*sum] = found.off[here];
        }
    }
    fitted
}

/// For each part the first of those that sums tie it to.
fn groups(parts: usize, sums: &[Sum]) -> Vec<usize> {
    let mut first: Vec<usize> = (0..parts).collect();
    fn root(first: &mut [usize], mut part: usize) -> usize {
        while first[part] != part {
            first[part] = first[first[part]];
            part = first[part];
        }
        part
    }
    for sum in sums {
        for pair in sum.parts.windows(2) {
            let (a, b) = (root(&mut first, pair[0].0), root(&mut first, pair[1].0));
            first[a.max(b)] = a.min(b);
        }
    }
    (0..parts).map(|part| root(&mut first, part)).collect()
}

fn fit_group(priors: &[Prior], sums: &[Sum], robust: bool) -> Fitted {
    let mut weights = vec![1.0; sums.len()];
    let mut free = vec![true; priors.len()];
    let mut rounds = if robust { ROUNDS } else { 0 };
    loop {
        let (curvature, pull) = normal(priors, sums, &weights);
        let values = least(&curvature, &pull, &mut free);
        let total = |sum: &Sum| sum.parts.iter().map(|(i, a)| a * values[*i]).sum::<f64>();
        let off: Vec<f64> = sums.iter().map(|sum| (sum.value - total(sum)) / sum.error).collect();
        let weigh = |off: &f64| if off.abs() <= HUBER { 1.0 } else { HUBER / off.abs() };
        let next: Vec<f64> = off.iter().map(weigh).collect();
        let settled = next.iter().zip(&weights).all(|(a, b)| (a - b).abs() <= SETTLED);
        if rounds == 0 || settled {
            let errors = errors(&curvature, &free);
            return Fitted { values, errors, off };
        }
        (weights, rounds) = (next, rounds - 1);
    }
}

/// What the squares come to: their curvature, and what pulls.
fn normal(priors: &[Prior], sums: &[Sum], weights: &[f64]) -> (DMatrix<f64>, DVector<f64>) {
    let n = priors.len();
    let mut curvature = DMatrix::<f64>::zeros(n, n);
    let mut pull = DVector::<f64>::zeros(n);
    for (i, prior) in priors.iter().enumerate() {
        let weight = prior.error.powi(-2);
        curvature[(i, i)] += weight;
        pull[i] += weight * prior.mean;
    }
    for (sum, weight) in sums.iter().zip(weights) {
        let weight = weight * sum.error.powi(-2);
        for (i, a) in &sum.parts {
            pull[*i] += weight * a * sum.value;
            for (j, b) in &sum.parts {
                curvature[(*i, *j)] += weight * a * b;
            }
        }
    }
    (curvature, pull)
}

/// The least square with no part below nothing: parts are bound at nothing, and let free again, until none wants to move.
fn least(curvature: &DMatrix<f64>, pull: &DVector<f64>, free: &mut [bool]) -> Vec<f64> {
    let n = pull.len();
    let mut best = vec![0.0; n];
    for _ in 0..PIVOTS {
        let at: Vec<usize> = (0..n).filter(|i| free[*i]).collect();
        let values = solved(curvature, pull, &at, n);
        let slope = |i: usize| pull[i] - (0..n).map(|j| curvature[(i, j)] * values[j]).sum::<f64>();
        let below = at.iter().copied().filter(|i| values[*i] < 0.0).min_by(|a, b| values[*a].total_cmp(&values[*b]));
        let wants = (0..n).filter(|i| !free[*i]).map(|i| (i, slope(i)));
        let wants = wants.filter(|(i, s)| *s > NOTHING * curvature[(*i, *i)]).max_by(|a, b| a.1.total_cmp(&b.1));
        best = values;
        match (below, wants) {
            (Some(i), _) => free[i] = false,
            (None, Some((i, _))) => free[i] = true,
            (None, None) => break,
        }
    }
    best.iter_mut().for_each(|v| *v = v.max(0.0));
    best
}

/// The free parts of the curvature.
fn part(curvature: &DMatrix<f64>, at: &[usize]) -> DMatrix<f64> {
    DMatrix::from_fn(at.len(), at.len(), |i, j| curvature[(at[i], at[j])])
}

/// The free parts' least square.
fn solved(curvature: &DMatrix<f64>, pull: &DVector<f64>, at: &[usize], n: usize) -> Vec<f64> {
    let mut values = vec![0.0; n];
    if let Some(roots) = part(curvature, at).cholesky() {
        let found = roots.solve(&DVector::from_fn(at.len(), |i, _| pull[at[i]]));
        at.iter().enumerate().for_each(|(k, i)| values[*i] = found[k]);
    }
    values
}

/// The free parts' standard errors; a bound part's error is that of its own curvature.
fn errors(curvature: &DMatrix<f64>, free: &[bool]) -> Vec<f64> {
    let mut errors: Vec<f64> = (0..free.len()).map(|i| curvature[(i, i)].sqrt().recip()).collect();
    let at: Vec<usize> = (0..free.len()).filter(|i| free[*i]).collect();
    if let Some(roots) = part(curvature, &at).cholesky() {
        let spread = roots.inverse();
        at.iter().enumerate().for_each(|(k, i)| errors[*i] = spread[(k, k)].sqrt());
    }
    errors
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
        assert_eq!(groups(5, &sums), [0, 1, 2, 0, 1]);
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
