//! Chances.

/// Entropy of a yes with probability `p`, in bits.
#[must_use]
pub fn entropy(p: f64) -> f64 {
    let part = |x: f64| if x > 0.0 { -x * x.log2() } else { 0.0 };
    part(p) + part(1.0 - p)
}
