//! Voltages of a dwelling's supply, how far they may be off, and what may be lost on the way.

/// A leg to neutral. [def]
pub const LEG: f64 = 120.0;

/// Where the service enters, and at a breaker's terminal: Range A of 120 V. [pub: ANSI C84.1, value from memory]
pub const RANGE_A: (f64, f64) = (114.0, 126.0);
/// The same, Range B: to be mended within reasonable time. [pub: ANSI C84.1, value from memory]
pub const RANGE_B: (f64, f64) = (110.0, 127.0);
/// Where it is used: Range A, with what branch circuits lose. [pub: ANSI C84.1, value from memory]
pub const IN_USE: (f64, f64) = (108.0, 126.0);

/// Two legs that differ by more point to the neutral. [prac: handbook 1.1, about 5 V]
pub const UNEVEN: f64 = 5.0;
/// How near the sum of the legs must come to what is read across them where the neutral floats. [prac]
pub const SUM_OFF: f64 = 4.0;

/// At most so much should be lost along a branch circuit, as a share. [pub: NEC 210.19(A) informational note, value from memory]
pub const BRANCH_DROP: f64 = 0.03;
/// The same of feeder and branch circuit. [pub: NEC 215.2(A) informational note, value from memory]
pub const DROP_IN_ALL: f64 = 0.05;

/// A band of 120 V for another nominal voltage, in whole volts; the table has 197 V for 208.
#[must_use]
pub fn of_nominal((from, to): (f64, f64), nominal: u16) -> (f64, f64) {
    let share = f64::from(nominal) / LEG;
    ((from * share).floor(), (to * share).round())
}

#[cfg(test)]
mod tests {
    use super::*;

    // ANSI C84.1-2020, table 1, from memory: 120/240 and 208Y/120 V.
    #[test]
    fn bands_are_those_of_the_table() {
        assert_eq!(of_nominal(RANGE_A, 240), (228.0, 252.0));
        assert_eq!(of_nominal(RANGE_B, 240), (220.0, 254.0));
        assert_eq!(of_nominal(RANGE_A, 208), (197.0, 218.0));
        assert_eq!(of_nominal(IN_USE, 120), (108.0, 126.0));
    }
}
