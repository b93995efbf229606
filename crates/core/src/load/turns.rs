//! The utility's meter as a wattmeter, and a circuit by difference (handbook 3.1).

use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

use crate::base::Invalid;
use crate::base::units::{Seconds, Watts};

/// Turns or blinks in a time.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct Timed {
    /// How many turns or blinks,
    pub turns: u32,
    /// in how many seconds.
    pub seconds: Seconds,
}

/// A circuit read by difference: all as it is, the circuit off, on again.
#[derive(Debug, Clone, PartialEq, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct ByDifference {
    /// Watt-hours of a turn (Kh, printed on the meter; 7.2 is usual) or of a blink (1 is usual).
    pub watt_hours: f64,
    /// The readings that were taken so far, in this order.
    pub readings: Vec<Timed>,
}

/// What they come to.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
pub struct Difference {
    /// The power of each reading.
    pub watts: Vec<Watts>,
    /// What the circuit draws, once all three are there and agree.
    pub circuit: Option<Watts>,
    /// What to do next, in words.
    pub said: String,
}

/// The first and the third must agree within the larger of these. (handbook 3.1, common practice)
const AGREE_SHARE: f64 = 0.05;
const AGREE_WATTS: f64 = 30.0;
/// Seconds in an hour. [def]
const HOUR: f64 = 3600.0;

/// P = 3600 · Kh · n / t. [def]
#[must_use]
pub fn power(watt_hours: f64, timed: Timed) -> Watts {
    Watts(HOUR * watt_hours * f64::from(timed.turns) / timed.seconds.0)
}

/// How long ten turns or blinks take at a power; nothing where nothing turns. [def]
#[must_use]
pub fn ten_turns(watt_hours: f64, watts: Watts) -> Option<Timed> {
    let turns = 10;
    (watts.0 > 0.0).then(|| Timed { turns, seconds: Seconds(HOUR * watt_hours * f64::from(turns) / watts.0) })
}

/// What readings by difference come to.
///
/// # Errors
/// Where a number cannot be, with its field.
pub fn difference(read: &ByDifference) -> Result<Difference, Invalid> {
    if !(0.01..=1000.0).contains(&read.watt_hours) {
        return Err(Invalid::new("watt_hours", "a turn or blink is 0.01 to 1000 Wh: it is printed on the meter"));
    }
    if read.readings.len() > 3 {
        return Err(Invalid::new("readings", "three readings: on, off, on again"));
    }
    if read.readings.iter().any(|t| t.turns == 0 || !(t.seconds.0 >= 1.0 && t.seconds.0 <= HOUR)) {
        return Err(Invalid::new("readings", "at least one turn, in a second to an hour"));
    }
    let watts: Vec<Watts> = read.readings.iter().map(|t| power(read.watt_hours, *t)).collect();
    let (circuit, said) = match watts.as_slice() {
        [] => (None, "Leave all as it is, and count turns or blinks.".to_owned()),
        [_] => (None, "Now switch the breaker off, and count again.".into()),
        [_, _] => (None, "Switch it on again, and count once more: the first and the third must agree.".into()),
        [on, off, again, ..] => {
            let apart = (on.0 - again.0).abs();
            if apart > (AGREE_SHARE * on.0).max(AGREE_WATTS) {
                (None, format!("The first and the third differ by {apart:.0} W: something else changed. Begin again."))
            } else {
                let circuit = (on.0 + again.0) / 2.0 - off.0;
                (Some(Watts(circuit.max(0.0))), format!("The circuit draws {:.0} W.", circuit.max(0.0)))
            }
        }
    };
    Ok(Difference { watts, circuit, said })
}

#[cfg(test)]
mod tests {
    use super::*;

    fn timed(turns: u32, seconds: f64) -> Timed {
        Timed { turns, seconds: Seconds(seconds) }
    }

    fn told(readings: &[Timed]) -> Difference {
        difference(&ByDifference { watt_hours: 7.2, readings: readings.to_vec() }).unwrap()
    }

    // Definition, with the usual Kh of 7.2 (value from memory): 10 turns in 36 s are 7200 W; blinks of 1 Wh, 20 in 60 s: 1200 W.
    #[test]
    fn turns_and_blinks_are_watts() {
        assert_eq!(power(7.2, timed(10, 36.0)), Watts(7200.0));
        assert_eq!(power(1.0, timed(20, 60.0)), Watts(1200.0));
        assert_eq!(ten_turns(7.2, Watts(7200.0)), Some(timed(10, 36.0)));
        assert_eq!(ten_turns(7.2, Watts(0.0)), None);
    }

    // handbook 3.1: within 5 % or 30 W.
    #[test]
    fn a_circuit_is_what_is_missing_while_it_is_off_if_nothing_else_changed() {
        let on = timed(10, 36.0);
        assert_eq!(told(&[on, timed(10, 48.0), timed(10, 36.0)]).circuit, Some(Watts(1800.0)));
        let changed = told(&[on, timed(10, 48.0), timed(10, 40.0)]);
        assert!(changed.circuit.is_none() && changed.said.contains("Begin again"));
        assert!(told(&[on]).said.contains("breaker off") && told(&[on, on]).circuit.is_none());
        let wrong = |watt_hours, t| difference(&ByDifference { watt_hours, readings: vec![t] }).unwrap_err().field;
        assert_eq!(wrong(0.0, on), "watt_hours");
        assert_eq!(wrong(7.2, timed(0, 10.0)), "readings");
        assert_eq!(wrong(7.2, timed(3, 0.0)), "readings");
    }
}
