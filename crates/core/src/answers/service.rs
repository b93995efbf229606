//! The service voltages, judged together (handbook 1.1).

use serde::Serialize;
use utoipa::ToSchema;

use crate::base::position::{Leg, Supply};
use crate::base::units::Volts;
use crate::code::volts::{IN_USE, RANGE_A, RANGE_B, SUM_OFF, UNEVEN, of_nominal};
use crate::house::ServiceReading;
use crate::rules::Severity;

/// What three voltages say together.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
pub struct Verdict {
    /// What kind of supply they look like; nothing where they fit none.
    pub looks_like: Option<LooksLike>,
    /// (A–B) over the mean of A–N and B–N: 2.00 for split phase, 1.73 for a wye.
    pub ratio: Option<f64>,
    /// Which band the leg voltages are in.
    pub band: Band,
    /// What is wrong, the most dangerous first.
    pub troubles: Vec<Trouble>,
    /// Power that a 240 V appliance gets here, as a share of its nameplate's, where that is less.
    pub power_of_240: Option<f64>,
    /// All of it in words, what is wrong first.
    pub said: Vec<VerdictLine>,
}

/// A line of a verdict.
#[derive(Debug, Clone, PartialEq, Eq, Serialize, ToSchema)]
pub struct VerdictLine {
    /// In words.
    pub said: String,
    /// How bad it is; nothing where it is as it should be.
    pub severity: Option<Severity>,
}

/// Kinds of supply that voltages can tell apart.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, ToSchema)]
#[serde(rename_all = "kebab-case")]
pub enum LooksLike {
    /// 120/240 V.
    SplitPhase,
    /// 208Y/120 V.
    Wye,
}

/// Bands of the service voltage, 120 V base (ANSI C84.1, from memory).
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, ToSchema)]
#[serde(rename_all = "kebab-case")]
pub enum Band {
    /// Range A: 114 to 126 V.
    A,
    /// Range B: 110 to 127 V; to be mended within reasonable time.
    B,
    /// Outside both.
    Outside,
}

/// What is wrong.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, ToSchema)]
#[serde(tag = "what", rename_all = "kebab-case")]
pub enum Trouble {
    /// The neutral may be open or loose: stop, main off, call the utility or an electrician at once.
    OpenNeutral,
    /// A leg is gone: utility, meter or main.
    LostLeg {
        /// Which.
        leg: Leg,
    },
    /// No voltage at all.
    NoPower,
    /// It is not the supply that was entered for the panel.
    OtherSupply,
    /// The three numbers fit no supply: measure again.
    DoNotFit,
}

/// Below this a leg is gone: stray voltage on an open conductor stays under it mostly (common practice).
const GONE: f64 = 20.0;
/// How far the ratio may be off 2 or √3: readings taken one after the other differ by a percent or two.
const RATIO_OFF: f64 = 0.06;

impl Trouble {
    fn told(self) -> VerdictLine {
        let (said, severity) = match self {
            Self::OpenNeutral => (
                format!(
                    "The legs add up and differ by more than {UNEVEN:.0} V: the neutral may be open. Stop, switch the main off, call \
                     the utility or an electrician at once."
                ),
                Severity::Danger,
            ),
            Self::LostLeg { leg } => (
                format!("Leg {leg:?} is lost: utility, meter or main. Call the utility or an electrician."),
                Severity::Danger,
            ),
            Self::NoPower => ("No voltage at all: the main, the meter or the utility.".to_owned(), Severity::Danger),
            Self::OtherSupply => ("This is another supply than was entered for the panel.".to_owned(), Severity::Mend),
            Self::DoNotFit => {
                let said = "The three numbers fit no supply: measure again, all three at the same load.";
                (said.to_owned(), Severity::Mend)
            }
        };
        VerdictLine { said, severity: Some(severity) }
    }
}

/// Judges a reading of a panel with the supply that was entered for it.
#[must_use]
pub fn judge(reading: &ServiceReading, supply: Supply) -> Verdict {
    let verdict = judged(reading, supply);
    let mut said: Vec<VerdictLine> = verdict.troubles.iter().map(|t| t.told()).collect();
    if let Some(looks_like) = verdict.looks_like {
        let kind = match looks_like {
            LooksLike::Wye => "Two legs of a wye (208Y/120 V): not a low 240.",
            LooksLike::SplitPhase => "Split phase (120/240 V).",
        };
        let power = verdict
            .power_of_240
            .map_or_else(String::new, |share| format!(" A 240 V appliance gets {:.0} % of its power.", 100.0 * share));
        let (band, severity) = match verdict.band {
            Band::A => (" Within Range A (ANSI C84.1).", None),
            Band::B => (" Range B (ANSI C84.1): tell the utility.", Some(Severity::Improve)),
            Band::Outside => (" Outside Range B (ANSI C84.1): call the utility.", Some(Severity::Mend)),
        };
        said.push(VerdictLine { said: format!("{kind}{power}{band}"), severity });
    }
    Verdict { said, ..verdict }
}

fn judged(reading: &ServiceReading, supply: Supply) -> Verdict {
    let (a, b, ab) = (reading.a_n.0, reading.b_n.0, reading.a_b.0);
    let legs: Vec<(Leg, f64)> = [(Leg::A, Some(a)), (Leg::B, Some(b)), (Leg::C, reading.c_n.map(|v| v.0))]
        .into_iter()
        .filter_map(|(l, v)| Some((l, v?)))
        .collect();
    let band = legs.iter().map(|(_, v)| band(*v)).fold(Band::A, worse);
    let mut verdict =
        Verdict { looks_like: None, ratio: None, band, troubles: Vec::new(), power_of_240: None, said: Vec::new() };
    let gone: Vec<Leg> = legs.iter().filter(|(_, v)| *v < GONE).map(|(l, _)| *l).collect();
    if gone.len() == legs.len() {
        verdict.troubles.push(Trouble::NoPower);
        return verdict;
    }
    if !gone.is_empty() {
        verdict.troubles.extend(gone.into_iter().map(|leg| Trouble::LostLeg { leg }));
        return verdict;
    }
    let ratio = ab / ((a + b) / 2.0);
    verdict.ratio = Some(ratio);
    let near = |to: f64| (ratio - to).abs() <= RATIO_OFF;
    verdict.looks_like = match (near(2.0), near(3.0_f64.sqrt())) {
        (true, _) => Some(LooksLike::SplitPhase),
        (_, true) => Some(LooksLike::Wye),
        _ => None,
    };
    // With three phases every pair must be of the same sort: √3 times the mean of its two legs.
    if let (Some(c), pairs) = (reading.c_n.map(|v| v.0), [(b, reading.b_c), (a, reading.c_a)]) {
        let fits = |leg: f64, across: f64| (across / ((leg + c) / 2.0) - 3.0_f64.sqrt()).abs() <= RATIO_OFF;
        if pairs.iter().any(|(leg, across)| across.is_some_and(|v| !fits(*leg, v.0))) {
            verdict.troubles.push(Trouble::DoNotFit);
        }
    }
    // A floating neutral shares A–B unevenly between the legs; on a wye the sum is not A–B, so both must be seen.
    if (a - b).abs() > UNEVEN && (a + b - ab).abs() <= SUM_OFF {
        verdict.troubles.push(Trouble::OpenNeutral);
    }
    if verdict.looks_like.is_none() && !verdict.troubles.contains(&Trouble::DoNotFit) {
        verdict.troubles.push(Trouble::DoNotFit);
    }
    let entered = if supply == Supply::SplitPhase { LooksLike::SplitPhase } else { LooksLike::Wye };
    if verdict.looks_like.is_some_and(|l| l != entered) {
        verdict.troubles.push(Trouble::OtherSupply);
    }
    if verdict.looks_like == Some(LooksLike::Wye) {
        // (208/240)²: resistive loads; people often call this "a low 240".
        verdict.power_of_240 = Some((ab / 240.0).powi(2));
    }
    verdict
}

fn band(volts: f64) -> Band {
    match volts {
        v if v >= RANGE_A.0 && v <= RANGE_A.1 => Band::A,
        v if v >= RANGE_B.0 && v <= RANGE_B.1 => Band::B,
        _ => Band::Outside,
    }
}

fn worse(one: Band, other: Band) -> Band {
    match (one, other) {
        (Band::Outside, _) | (_, Band::Outside) => Band::Outside,
        (Band::B, _) | (_, Band::B) => Band::B,
        _ => Band::A,
    }
}

/// Utilisation voltage, Range A (ANSI C84.1, from memory): what a meter may show at a live point of this nominal
/// voltage.
#[must_use]
pub fn expected(nominal: u16) -> (Volts, Volts) {
    let (from, to) = of_nominal(IN_USE, nominal);
    (Volts(from), Volts(to))
}

#[cfg(test)]
mod tests {
    use super::*;

    fn read(a: f64, b: f64, ab: f64) -> Verdict {
        let reading = ServiceReading { a_n: Volts(a), b_n: Volts(b), a_b: Volts(ab), c_n: None, b_c: None, c_a: None };
        judge(&reading, Supply::SplitPhase)
    }

    // handbook 1.1; bands: ANSI C84.1, from memory.
    #[test]
    fn three_numbers_are_judged_together() {
        let good = read(121.0, 120.0, 241.0);
        assert_eq!(
            (good.looks_like, good.band, good.troubles.as_slice()),
            (Some(LooksLike::SplitPhase), Band::A, &[][..])
        );
        assert_eq!(read(112.0, 113.0, 225.0).band, Band::B);
        assert_eq!(read(126.5, 126.0, 252.0).band, Band::B);
        assert_eq!(read(109.0, 110.0, 219.0).band, Band::Outside);
        assert_eq!(read(128.0, 127.0, 255.0).band, Band::Outside);
    }

    // 208 V is not a low 240: 120·√3 = 207.8; (208/240)² = 0.751 [def].
    #[test]
    fn two_legs_of_a_wye_are_not_a_low_240() {
        let wye = read(120.0, 120.0, 208.0);
        assert_eq!(wye.looks_like, Some(LooksLike::Wye));
        assert_eq!(wye.troubles, [Trouble::OtherSupply]);
        assert!((wye.power_of_240.unwrap() - 0.751).abs() < 0.001);
        assert!((wye.ratio.unwrap() - 3.0_f64.sqrt()).abs() < 0.01);
        let three = |b_c: f64, c_a: f64| ServiceReading {
            a_n: Volts(119.0),
            b_n: Volts(121.0),
            a_b: Volts(208.0),
            c_n: Some(Volts(120.0)),
            b_c: Some(Volts(b_c)),
            c_a: Some(Volts(c_a)),
        };
        assert_eq!(judge(&three(209.0, 207.0), Supply::WyeThreePhase).troubles, []);
        assert_eq!(judge(&three(240.0, 207.0), Supply::WyeThreePhase).troubles, [Trouble::DoNotFit]);
        assert_eq!(judge(&three(209.0, 120.0), Supply::WyeThreePhase).troubles, [Trouble::DoNotFit]);
    }

    // handbook 1.1, common practice: the legs add up to A–B and differ by more than about 5 V.
    #[test]
    fn uneven_legs_that_add_up_point_to_the_neutral() {
        for (a, b) in [(127.0, 113.0), (140.0, 100.0), (95.0, 145.0), (70.0, 170.0)] {
            assert_eq!(read(a, b, a + b).troubles, [Trouble::OpenNeutral], "{a} {b}");
        }
        assert_eq!(read(122.0, 119.0, 241.0).troubles, [], "3 V is everyday unevenness");
    }

    #[test]
    fn a_lost_leg_and_no_power_are_named() {
        assert_eq!(read(120.0, 2.0, 118.0).troubles, [Trouble::LostLeg { leg: Leg::B }]);
        assert_eq!(read(0.0, 121.0, 121.0).troubles, [Trouble::LostLeg { leg: Leg::A }]);
        assert_eq!(read(0.5, 1.0, 0.0).troubles, [Trouble::NoPower]);
        assert_eq!(read(120.0, 120.0, 120.0).troubles, [Trouble::DoNotFit]);
    }

    // ANSI C84.1 utilisation Range A, from memory: 108–126 and 216–252 V.
    #[test]
    fn what_a_meter_may_show_at_a_live_point() {
        assert_eq!(expected(120), (Volts(108.0), Volts(126.0)));
        assert_eq!(expected(240), (Volts(216.0), Volts(252.0)));
        assert_eq!(expected(208), (Volts(187.0), Volts(218.0)));
    }
}
