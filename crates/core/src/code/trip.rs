//! How long a breaker holds: only bounds are published.

use serde::Serialize;
use utoipa::ToSchema;

use crate::base::units::{Amps, Seconds};

/// What is known of how long a breaker holds a current.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
pub struct Holds {
    /// The current as a share of the rating.
    pub share: f64,
    /// It holds for ever, in free air at 40 °C: full, hot panels trip earlier.
    pub for_ever: bool,
    /// It must have tripped within this; nothing where it may hold for ever.
    pub must_trip_within: Option<Seconds>,
    /// It may trip at once, magnetically.
    pub may_trip_at_once: bool,
    /// All that in words.
    pub said: String,
}

/// Calibration points: at 135 % within an hour up to 50 A, two above; at 200 % within minutes by rating.
/// [pub: UL 489, table of thermal calibration, value from memory]
const CALIBRATED: f64 = 1.35;
const DOUBLE: f64 = 2.0;
/// From about this many ratings on a breaker may trip magnetically: a motor's start may do it. (common practice: 5 to 10)
const MAGNETIC: f64 = 5.0;

/// What is known of how long a breaker of this rating holds this current.
#[must_use]
pub fn holds(rating: Amps, amps: Amps) -> Holds {
    let share = amps.0 / rating.0;
    let within = if share >= DOUBLE {
        within_at_double(rating)
    } else if share >= CALIBRATED {
        Some(Seconds(if rating.0 <= 50.0 { 3600.0 } else { 7200.0 }))
    } else {
        None
    };
    let may_trip_at_once = share >= MAGNETIC;
    let said = match (share, within) {
        (s, _) if s <= 1.0 => "holds, though a full, hot panel may trip earlier".to_owned(),
        (_, None) => "may hold for long or for ever, may trip: that it has not tripped proves nothing".to_owned(),
        (_, Some(t)) if may_trip_at_once => format!("may trip at once, must trip within {}", span(t)),
        (_, Some(t)) => format!("must trip within {}, may trip much earlier", span(t)),
    };
    Holds { share, for_ever: share <= 1.0, must_trip_within: within, may_trip_at_once, said }
}

/// Above 100 A the standard allows longer; nothing shorter than the hours of 135 % is claimed there.
fn within_at_double(rating: Amps) -> Option<Seconds> {
    let minutes = match rating.0 {
        r if r <= 30.0 => 2.0,
        r if r <= 50.0 => 4.0,
        r if r <= 100.0 => 6.0,
        _ => 120.0,
    };
    Some(Seconds(60.0 * minutes))
}

fn span(time: Seconds) -> String {
    match (time.0 / 60.0).round() {
        60.0 => "an hour".into(),
        minutes if minutes > 60.0 => format!("{:.0} hours", minutes / 60.0),
        minutes => format!("{minutes:.0} minutes"),
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    // UL 489, from memory: trips at 135 % within 1 h to 50 A, 2 h above; at 200 % within 2, 4, 6 min to 30, 50, 100 A.
    #[test]
    fn only_the_published_bounds_are_told() {
        let within = |rating, amps| holds(Amps(rating), Amps(amps)).must_trip_within.map(|s| s.0);
        for (rating, hour, double) in [
            (15.0, 3600.0, 120.0),
            (30.0, 3600.0, 120.0),
            (50.0, 3600.0, 240.0),
            (60.0, 7200.0, 360.0),
            (100.0, 7200.0, 360.0),
        ] {
            assert_eq!(within(rating, rating), None);
            assert_eq!(within(rating, 1.34 * rating), None);
            assert_eq!(within(rating, 1.35 * rating), Some(hour), "{rating}");
            assert_eq!(within(rating, 2.0 * rating), Some(double), "{rating}");
        }
        assert!(holds(Amps(20.0), Amps(20.0)).for_ever && !holds(Amps(20.0), Amps(24.0)).for_ever);
        assert!(holds(Amps(20.0), Amps(24.0)).said.contains("proves nothing"));
        assert!(holds(Amps(20.0), Amps(100.0)).may_trip_at_once && !holds(Amps(20.0), Amps(60.0)).may_trip_at_once);
    }
}
