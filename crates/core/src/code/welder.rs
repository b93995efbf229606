//! What of a welder's current its circuit carries, by the share of time in which it welds.

/// Duty in percent, and the multiplier of the rated primary current, of transformer arc welders.
/// [pub: NEC table 630.11(A), value from memory]
const DUTY: &[(f64, f64)] = &[
    (20.0, 0.45),
    (30.0, 0.55),
    (40.0, 0.63),
    (50.0, 0.71),
    (60.0, 0.78),
    (70.0, 0.84),
    (80.0, 0.89),
    (90.0, 0.95),
    (100.0, 1.0),
];

/// The multiplier for a duty in percent; between two rows the larger.
#[must_use]
pub fn multiplier(duty: f64) -> f64 {
    DUTY.iter().find(|(row, _)| duty <= *row + 1e-9).map_or(1.0, |(_, multiplier)| *multiplier)
}

#[cfg(test)]
mod tests {
    use super::*;

    // NEC table 630.11(A), from memory; by definition of heat the multiplier is the root of the duty, to two digits.
    #[test]
    fn the_multiplier_is_about_the_root_of_the_duty() {
        for (duty, multiplier_of) in [(10.0, 0.45), (20.0, 0.45), (25.0, 0.55), (60.0, 0.78), (100.0, 1.0)] {
            assert_eq!(multiplier(duty), multiplier_of, "{duty} %");
        }
        DUTY.iter().for_each(|(duty, of)| assert!((of - (duty / 100.0).sqrt()).abs() < 0.006, "{duty} %"));
    }
}
