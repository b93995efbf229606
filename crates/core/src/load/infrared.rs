//! Temperatures of breakers compared (handbook 3.7).

use serde::Serialize;
use utoipa::ToSchema;

use crate::base::Said;
use crate::base::said;

/// What a difference between similar breakers at similar load means. [pub: ANSI/NETA MTS, table 100.18, value from memory]
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, ToSchema)]
#[serde(rename_all = "kebab-case")]
pub enum Warmth {
    /// At less than 40 % load a cool one clears nothing. (common practice)
    TooLittleLoad,
    /// Hot at so small a load: worse than the same at full load, since heat goes by the square of the current. (common practice)
    HotAtLittle,
    /// Below 1 °C.
    Alike,
    /// 1 to 3 °C.
    Possible,
    /// 4 to 15 °C.
    Probable,
    /// Above 15 °C.
    RepairNow,
}

said!(Warmth {
    TooLittleLoad => "a cool one clears nothing below 40 % load: look again when more runs there by itself",
    HotAtLittle => "hot at so small a load it is a poor contact: switch it off, and have lugs, terminal and bus looked at",
    Alike => "no warmer than its like",
    Possible => "a deficiency is possible: look again under more load",
    Probable => "a deficiency is probable: mend it soon",
    RepairNow => "repair now: switch it off",
});

/// Load below which warmth says nothing, as a share of the rating.
const ENOUGH_LOAD: f64 = 0.4;

/// Compares a breaker with a similar one, in degrees Celsius, at this share of its rating.
#[must_use]
pub fn compare(degrees: f64, similar: f64, load_share: f64) -> Warmth {
    match degrees - similar {
        d if load_share < ENOUGH_LOAD => {
            if d > 3.0 {
                Warmth::HotAtLittle
            } else {
                Warmth::TooLittleLoad
            }
        }
        d if d > 15.0 => Warmth::RepairNow,
        // Between the steps of the table the worse one.
        d if d > 3.0 => Warmth::Probable,
        d if d >= 1.0 => Warmth::Possible,
        _ => Warmth::Alike,
    }
}

/// The same in words, with the difference.
#[must_use]
pub fn told(degrees: f64, similar: f64, load_share: f64) -> String {
    let warmth = compare(degrees, similar, load_share);
    let new = match warmth {
        Warmth::Probable | Warmth::RepairNow => ". Hot at low load it is the contact; look at the lugs too",
        _ => "",
    };
    format!("{:.0} °C above a similar one at similar load: {}{new}", degrees - similar, warmth.said())
}

#[cfg(test)]
mod tests {
    use super::*;

    // ANSI/NETA MTS table 100.18, from memory: 1–3 possible, 4–15 probable, above 15 repair now.
    #[test]
    fn the_steps_of_the_table() {
        let at = |d: f64| compare(40.0 + d, 40.0, 0.6);
        let steps = [
            (0.5, Warmth::Alike),
            (1.0, Warmth::Possible),
            (3.0, Warmth::Possible),
            (4.0, Warmth::Probable),
            (15.0, Warmth::Probable),
            (16.0, Warmth::RepairNow),
        ];
        for (d, warmth) in steps {
            assert_eq!(at(d), warmth, "{d}");
        }
        assert_eq!(compare(41.0, 40.0, 0.3), Warmth::TooLittleLoad);
        assert_eq!(compare(52.0, 40.0, 0.1), Warmth::HotAtLittle, "heat goes by the square of the current");
        let said = told(70.0, 40.0, 0.1);
        assert!(said.contains("lugs") && !said.contains("put more on"), "{said}");
    }
}
