//! Is it the breaker? Voltages on both sides of its contacts, under load (handbook 3.7).

use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

use crate::base::position::Supply;
use crate::base::units::Volts;
use crate::base::{Invalid, Said, said};
use crate::code::volts::{RANGE_B, SUM_OFF, UNEVEN};

/// What is wrong with it, as far as people notice.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
#[serde(rename_all = "kebab-case")]
pub enum Complains {
    /// It runs hot.
    RunsHot,
    /// What it feeds gets too little voltage.
    TooLittleVoltage,
    /// It buzzes.
    Buzzes,
    /// It will not stay on.
    WillNotLatch,
    /// It does not trip.
    DoesNotTrip,
    /// It trips at once with everything unplugged.
    TripsAtOnce,
    /// It trips after minutes.
    TripsAfterMinutes,
    /// Just its ground-fault or arc-fault part trips.
    ProtectionTrips,
}

said!(Complains {
    RunsHot => "it runs hot",
    TooLittleVoltage => "too little voltage comes through",
    Buzzes => "it buzzes",
    WillNotLatch => "it will not stay on",
    DoesNotTrip => "it does not trip when it should",
    TripsAtOnce => "it trips at once with everything unplugged",
    TripsAfterMinutes => "it trips after minutes",
    ProtectionTrips => "only its ground-fault or arc-fault part trips",
});

/// What that alone says already, before anything is measured.
#[must_use]
pub fn at_once(complaint: Complains) -> &'static str {
    match complaint {
        Complains::TripsAtOnce => "A short or a ground fault in the wiring, not the breaker: leave it off.",
        Complains::TripsAfterMinutes => {
            "An overload first of all: add up what runs (Loads). If that is below the rating, measure."
        }
        Complains::ProtectionTrips => {
            "Leakage adds up along a circuit, about 0.5 to 1 mA an appliance; or its neutral is mixed with another circuit's. Unplug, and add back one by one."
        }
        Complains::DoesNotTrip => "Never test that by a short. Leave it off and have it replaced.",
        Complains::WillNotLatch => {
            "Firmly off first, then on, with everything unplugged. If it still falls: a fault in the wiring, or a worn breaker."
        }
        Complains::RunsHot | Complains::Buzzes | Complains::TooLittleVoltage => "Measure both sides under load.",
    }
}

/// Voltages on one side of a breaker.
#[derive(Debug, Clone, PartialEq, Default, Deserialize, Serialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct SideRead {
    /// Each pole to neutral, from the top; nothing where not measured yet.
    #[serde(default)]
    pub to_neutral: Vec<Option<Volts>>,
    /// Between the two poles.
    #[serde(default)]
    pub across: Option<Volts>,
}

/// What was read on both sides, on and under load.
#[derive(Debug, Clone, PartialEq, Default, Deserialize, Serialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct BothSides {
    /// On the side of the bus.
    #[serde(default)]
    pub bus: SideRead,
    /// On the side of the circuit.
    #[serde(default)]
    pub load: SideRead,
}

/// What both sides say together: the rows of the handbook's table.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, ToSchema)]
#[serde(rename_all = "kebab-case")]
pub enum Row {
    /// Not enough was measured.
    MeasureMore,
    /// Right on both sides.
    NotTheBreaker,
    /// Right at the bus, more than about 5 V lower at the circuit, or far off across.
    BreakerOrContact,
    /// One leg is low or gone on both sides.
    LostLeg,
    /// The legs differ and move oppositely, on both sides.
    OpenNeutral,
    /// All legs are out of their band alike.
    OutOfBand,
}

said!(Row {
    MeasureMore => "measure the rest",
    NotTheBreaker => "not the breaker: the load or its wiring",
    BreakerOrContact => "a bad breaker, or a poor contact to the bus",
    LostLeg => "a leg is lost before this breaker: main, meter or utility",
    OpenNeutral => "the neutral may be open or loose: stop",
    OutOfBand => "the supply itself is out of its band",
});

/// The verdict.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
pub struct SuspectVerdict {
    /// The row of the table,
    pub row: Row,
    /// in words.
    pub said: &'static str,
    /// The pole that passes too little, from 1 at the top.
    pub pole: Option<usize>,
    /// What to do.
    pub steps: Vec<&'static str>,
    /// Who may do it: said before all else.
    pub who: &'static str,
    /// What each pole to neutral should read.
    pub expect_leg: (Volts, Volts),
    /// What should be read across.
    pub expect_across: (Volts, Volts),
}

/// A good contact passes all but this. (handbook 3.7, common practice: about 5 V)
const LOST: f64 = 5.0;
/// What a meter can show in a house's panel at all.
const SHOWN: std::ops::RangeInclusive<f64> = 0.0..=300.0;

const MEASURED_BY: &str = "The cover is off for this: a qualified person, with dry hands, one probe at a time. The lugs are live whatever is off.";

/// Judges what was read on both sides of a breaker of so many poles.
///
/// # Errors
/// Where a number cannot be, with its field.
pub fn judge(supply: Supply, poles: usize, read: &BothSides) -> Result<SuspectVerdict, Invalid> {
    check(read, poles)?;
    let (row, pole) = row(supply, poles, read);
    let across = if supply == Supply::SplitPhase { (228.0, 252.0) } else { (197.0, 218.0) };
    Ok(SuspectVerdict {
        row,
        said: row.said(),
        pole,
        steps: steps(row, poles, pole),
        who: MEASURED_BY,
        expect_leg: (Volts(114.0), Volts(126.0)),
        expect_across: (Volts(across.0), Volts(across.1)),
    })
}

fn check(read: &BothSides, poles: usize) -> Result<(), Invalid> {
    for (field, side) in [("bus", &read.bus), ("load", &read.load)] {
        if side.to_neutral.len() > poles {
            return Err(Invalid::new(field, format!("the breaker has {poles} poles")));
        }
        let mut all = side.to_neutral.iter().flatten().chain(&side.across);
        if let Some(wrong) = all.find(|v| !SHOWN.contains(&v.0)) {
            return Err(Invalid::new(field, format!("{} V cannot be here: 0 to 300 V", wrong.0)));
        }
    }
    Ok(())
}

fn row(supply: Supply, poles: usize, read: &BothSides) -> (Row, Option<usize>) {
    let side = |side: &SideRead| -> Option<Vec<f64>> {
        (0..poles).map(|p| side.to_neutral.get(p).copied().flatten().map(|v| v.0)).collect()
    };
    let (Some(bus), Some(load)) = (side(&read.bus), side(&read.load)) else {
        return (by_across(supply, poles, read), None);
    };
    if poles >= 2 && (read.bus.across.is_none() || read.load.across.is_none()) {
        return (Row::MeasureMore, None);
    }
    let right = |v: f64| (RANGE_B.0..=RANGE_B.1).contains(&v);
    if let (2, Some(across), Supply::SplitPhase) = (poles, read.bus.across, supply) {
        // A lost leg that is fed back through a load at 240 V reads like this as well: then across is far below 240.
        if (bus[0] - bus[1]).abs() > UNEVEN
            && (bus[0] + bus[1] - across.0).abs() <= SUM_OFF
            && across.0 > 2.0 * RANGE_B.0
        {
            return (Row::OpenNeutral, None);
        }
    }
    let low: Vec<usize> = (0..poles).filter(|p| bus[*p] < RANGE_B.0).collect();
    if !low.is_empty() && low.len() < poles {
        return (Row::LostLeg, low.first().map(|p| p + 1));
    }
    if !bus.iter().copied().all(right) {
        let gone = poles == 1 && bus[0] < RANGE_B.0;
        return (if gone { Row::LostLeg } else { Row::OutOfBand }, None);
    }
    let lost = |p: &usize| bus[*p] - load[*p];
    let worst = (0..poles).max_by(|a, b| lost(a).total_cmp(&lost(b))).unwrap_or(0);
    let across_lost = match (read.bus.across, read.load.across) {
        (Some(bus), Some(load)) => (bus.0 - load.0).abs(),
        _ => 0.0,
    };
    if lost(&worst) > LOST || across_lost > 2.0 * LOST {
        return (Row::BreakerOrContact, Some(worst + 1));
    }
    (Row::NotTheBreaker, None)
}

/// A two-pole of which just the two readings across are at hand: right at the bus and far off at the circuit is its pole or its contact.
/// [prac: handbook 3.7]
fn by_across(supply: Supply, poles: usize, read: &BothSides) -> Row {
    let (2, Some(bus), Some(load)) = (poles, read.bus.across, read.load.across) else { return Row::MeasureMore };
    let scale = f64::from(supply.across()) / 120.0;
    if bus.0 < scale * RANGE_B.0 || bus.0 > scale * RANGE_B.1 {
        return Row::MeasureMore;
    }
    if (bus.0 - load.0).abs() > 2.0 * LOST { Row::BreakerOrContact } else { Row::NotTheBreaker }
}

fn steps(row: Row, poles: usize, pole: Option<usize>) -> Vec<&'static str> {
    let mut steps = match row {
        Row::MeasureMore => vec!["Measure each pole to neutral and across, on both sides, switched on and under load."],
        Row::NotTheBreaker => {
            vec!["Look at the load, then at the wiring: a loaded test shows a poor connection along it."]
        }
        Row::BreakerOrContact => vec![
            "Compare with a like neighbour: one of the same sort and rating, at about the same load, read the same way.",
            "Main off and proven dead. Take the breaker out, look for rust or burn marks on it and on the bus, seat it again once.",
            "Or put a known good one of the panel in its place, of the same type, poles and rating: is the fault gone with it, it was the breaker.",
            "Measure again under load. Still so: replace the breaker by a type that the panel's label lists.",
            "A burnt bus finger spoils the space or the panel, not the breaker: leave the space empty, ask a licensed electrician.",
        ],
        Row::LostLeg => vec![
            "Measure at the main: bus side and line side. Nothing there either: call the utility.",
            "Switch off what runs at 240 V: it feeds the dead leg backwards.",
        ],
        Row::OpenNeutral => vec!["Stop. Main off at once, and call the utility or a licensed electrician."],
        Row::OutOfBand => vec!["Read the service voltages together, and tell the utility."],
    };
    if row == Row::BreakerOrContact && poles == 2 && pole.is_some() {
        steps.push(
            "About half or a quarter read across means one dead pole: the meter sees the other leg through the load.",
        );
    }
    steps
}

#[cfg(test)]
mod tests {
    use super::*;

    fn side(read: &[f64]) -> SideRead {
        let two = read.len() == 3;
        let to_neutral = read[..if two { 2 } else { 1 }].iter().map(|v| Some(Volts(*v))).collect();
        SideRead { to_neutral, across: two.then(|| Volts(read[2])) }
    }

    fn told(bus: &[f64], load: &[f64]) -> (Row, Option<usize>) {
        let poles = if bus.len() == 3 { 2 } else { 1 };
        let verdict = judge(Supply::SplitPhase, poles, &BothSides { bus: side(bus), load: side(load) }).unwrap();
        (verdict.row, verdict.pole)
    }

    // handbook 3.7, the rows of its table (common practice).
    #[test]
    fn every_row_of_the_table() {
        assert_eq!(told(&[121.0, 120.0, 241.0], &[120.5, 119.6, 240.0]), (Row::NotTheBreaker, None));
        assert_eq!(told(&[121.0, 120.0, 241.0], &[120.5, 108.0, 228.0]), (Row::BreakerOrContact, Some(2)));
        assert_eq!(told(&[121.0, 120.0, 241.0], &[2.0, 119.6, 118.0]), (Row::BreakerOrContact, Some(1)), "a dead pole");
        assert_eq!(told(&[121.0, 3.0, 119.0], &[121.0, 2.5, 119.0]), (Row::LostLeg, Some(2)));
        assert_eq!(told(&[136.0, 104.0, 240.0], &[136.0, 104.0, 240.0]), (Row::OpenNeutral, None));
        assert_eq!(told(&[104.0, 104.0, 208.0], &[104.0, 104.0, 208.0]), (Row::OutOfBand, None));
        assert_eq!(told(&[121.0], &[113.0]), (Row::BreakerOrContact, Some(1)));
        assert_eq!(told(&[121.0], &[120.0]), (Row::NotTheBreaker, None));
        assert_eq!(told(&[10.0], &[9.0]), (Row::LostLeg, None));
    }

    // handbook 3.7: where only the readings across are at hand a two-pole is judged by them; a supply that is off is not.
    #[test]
    fn a_two_pole_is_judged_by_its_readings_across_alone() {
        let across = |bus: f64, load: f64| {
            let only = |volts| SideRead { to_neutral: Vec::new(), across: Some(Volts(volts)) };
            judge(Supply::SplitPhase, 2, &BothSides { bus: only(bus), load: only(load) }).unwrap()
        };
        let bad = across(241.0, 118.0);
        assert_eq!(bad.row, Row::BreakerOrContact);
        assert!(bad.steps.iter().any(|step| step.contains("like neighbour")), "then compare, or put a good one in");
        assert_eq!((across(241.0, 239.0).row, across(190.0, 90.0).row), (Row::NotTheBreaker, Row::MeasureMore));
    }

    #[test]
    fn what_is_not_measured_is_asked_for_and_what_cannot_be_is_refused() {
        let half = BothSides { bus: side(&[121.0, 120.0, 241.0]), load: SideRead::default() };
        assert_eq!(judge(Supply::SplitPhase, 2, &half).unwrap().row, Row::MeasureMore);
        let mad = BothSides { bus: side(&[1210.0]), load: side(&[120.0]) };
        assert_eq!(judge(Supply::SplitPhase, 1, &mad).unwrap_err().field, "bus");
        let many = BothSides { bus: side(&[121.0, 120.0, 241.0]), load: side(&[120.0]) };
        assert_eq!(judge(Supply::SplitPhase, 1, &many).unwrap_err().field, "bus");
    }

    // handbook 5.3: 114–126 each to neutral, 228–252 across, 197–218 on a wye.
    #[test]
    fn a_wye_is_expected_to_read_as_one() {
        let read = BothSides { bus: side(&[120.0, 120.0, 208.0]), load: side(&[119.5, 119.6, 207.0]) };
        let verdict = judge(Supply::WyeTwoLegs, 2, &read).unwrap();
        assert_eq!(verdict.row, Row::NotTheBreaker);
        assert_eq!(verdict.expect_across, (Volts(197.0), Volts(218.0)));
    }
}
