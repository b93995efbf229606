//! Voltage lost along a circuit: by calculation, and by the loaded test that finds a poor connection (handbook 3.6).

use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

use crate::base::Invalid;
use crate::base::units::{Amps, Ohms, Volts};
use crate::code::resistance;
use crate::code::volts::{BRANCH_DROP, DROP_IN_ALL};
use crate::house::Circuit;

/// More than so many times what wire and length explain points to a connection. (handbook 3.6, common practice)
const TWICE: f64 = 2.0;
/// A load below this moves the voltage by less than meters tell apart. (handbook 3.6: 8 to 15 A, common practice)
const ENOUGH: f64 = 8.0;
/// What is lost before the panel, and two looks at one meter, may come to so many volts. (common practice)
const SUPPLY: f64 = 0.6;
/// Voltages that a live circuit of this kind can have without load; with one it may break down to nothing.
const LIVE: std::ops::RangeInclusive<f64> = 80.0..=270.0;
const UNDER_LOAD: std::ops::RangeInclusive<f64> = 0.0..=270.0;
/// A connection that takes more than this share burns. (common practice)
const BURNS: f64 = 0.1;

/// Resistance of a circuit out and back, by its wire and length; nothing where those are not entered.
#[must_use]
pub fn loop_of(circuit: &Circuit) -> Option<Ohms> {
    let one_way = resistance::of_wire(circuit.wire?, circuit.metal, circuit.length?);
    Some(Ohms(2.0 * one_way.0))
}

/// What a current loses along a circuit, as a share of its voltage: 2·I·R·L. [def]
#[must_use]
pub fn share_lost(circuit: &Circuit, amps: Amps, volts: Volts) -> Option<f64> {
    Some(amps.0 * loop_of(circuit)?.0 / volts.0)
}

/// What was read at one place of a circuit, without and with a known load.
#[derive(Debug, Clone, Copy, PartialEq, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct LoadedTest {
    /// Without load.
    pub without: Volts,
    /// With load.
    pub with: Volts,
    /// What the load draws: 8 to 15 A tell most.
    pub amps: Amps,
}

/// What the test says.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
pub struct LoadedVerdict {
    /// What it is.
    pub finding: LoadedFinding,
    /// Resistance of the whole loop from the supply to the place: (V0 − V1) / I.
    pub loop_ohms: Ohms,
    /// What is lost, as a share of the voltage without load.
    pub lost: f64,
    /// What wire and length explain of that, where they are entered.
    pub explained: Option<f64>,
    /// What to do, in words.
    pub said: String,
}

/// What a loaded test finds.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, ToSchema)]
#[serde(rename_all = "kebab-case")]
pub enum LoadedFinding {
    /// As it should be.
    Sound,
    /// More than 3 %, and wire and length explain it: a long or thin circuit.
    Long,
    /// Over 5 %, or more than twice what wire and length explain: a poor connection somewhere along it.
    PoorConnection,
    /// The voltage rose under load: the neutral may be loose or open. Stop.
    Rose,
}

/// Judges a loaded test of a circuit.
///
/// # Errors
/// Where the numbers cannot be, with the field at fault.
pub fn judge(circuit: Option<&Circuit>, test: &LoadedTest) -> Result<LoadedVerdict, Invalid> {
    if !LIVE.contains(&test.without.0) {
        return Err(Invalid::new("without", format!("{} V is no live circuit: 80 to 270 V", test.without.0)));
    }
    if !UNDER_LOAD.contains(&test.with.0) {
        return Err(Invalid::new("with", format!("{} V cannot be: 0 to 270 V", test.with.0)));
    }
    if !(ENOUGH..=60.0).contains(&test.amps.0) {
        return Err(Invalid::new("amps", "the load must draw 8 to 60 A: 8 to 15 A tell most"));
    }
    let drop = test.without.0 - test.with.0;
    let lost = drop / test.without.0;
    let explained = circuit.and_then(|c| share_lost(c, test.amps, test.without));
    let finding = match explained {
        _ if drop < -1.0 => LoadedFinding::Rose,
        _ if lost > DROP_IN_ALL => LoadedFinding::PoorConnection,
        Some(explained) if lost > TWICE * explained && drop - explained * test.without.0 > SUPPLY => {
            LoadedFinding::PoorConnection
        }
        _ if lost > BRANCH_DROP => LoadedFinding::Long,
        _ => LoadedFinding::Sound,
    };
    let said = said(finding, lost, explained);
    Ok(LoadedVerdict { finding, loop_ohms: Ohms((drop / test.amps.0).max(0.0)), lost, explained, said })
}

fn said(finding: LoadedFinding, share: f64, explained: Option<f64>) -> String {
    let lost = format!("{:.1} % is lost under this load", 100.0 * share);
    let of_wire = match explained {
        Some(e) => format!("wire and length explain {:.1} %", 100.0 * e),
        None => "enter the circuit's wire and length to compare with what they explain".to_owned(),
    };
    match finding {
        LoadedFinding::Sound => format!("{lost}; up to 3 % is as it should be; {of_wire}."),
        LoadedFinding::Long => {
            format!("{lost}: more than 3 %; {of_wire}. A long or thin circuit, or a poor connection.")
        }
        LoadedFinding::PoorConnection if share > BURNS => format!(
            "{lost}; {of_wire}. A connection that is nearly open, and burns under load: switch the circuit off and leave it off \
             until it is found and made anew."
        ),
        LoadedFinding::PoorConnection => format!(
            "{lost}; {of_wire}. A poor connection somewhere along it: test again at points nearer the panel. The jump shows where."
        ),
        LoadedFinding::Rose => {
            "The voltage rose under load: the neutral may be loose or open. Stop: main off, and call the \
                                utility or an electrician."
                .into()
        }
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::base::units::Feet;
    use crate::house::{BreakerId, CircuitId};

    fn circuit(wire: &str, feet: f64) -> Circuit {
        Circuit { wire: wire.parse().ok(), length: Some(Feet(feet)), ..Circuit::new(CircuitId(1), BreakerId(1)) }
    }

    fn found(circuit: &Circuit, without: f64, with: f64, amps: f64) -> LoadedFinding {
        judge(Some(circuit), &LoadedTest { without: Volts(without), with: Volts(with), amps: Amps(amps) })
            .unwrap()
            .finding
    }

    // Ohm's law with NEC chapter 9 table 8 (from memory): 12 AWG 1.93 Ω a thousand feet, 2 × 50 ft, 12 A: 2.316 V of 120.
    #[test]
    fn the_drop_is_twice_the_length() {
        let share = share_lost(&circuit("12", 50.0), Amps(12.0), Volts(120.0)).unwrap();
        assert!((share - 2.316 / 120.0).abs() < 1e-6, "{share}");
        assert_eq!(share_lost(&Circuit::new(CircuitId(1), BreakerId(1)), Amps(1.0), Volts(120.0)), None);
    }

    // handbook 3.6: over 5 %, or more than twice what is predicted.
    #[test]
    fn what_the_wire_does_not_explain_is_a_poor_connection() {
        let short = circuit("12", 50.0);
        assert_eq!(found(&short, 121.0, 118.6, 12.0), LoadedFinding::Sound);
        assert_eq!(found(&short, 121.0, 115.5, 12.0), LoadedFinding::PoorConnection, "4.5 % where 1.9 are explained");
        assert_eq!(found(&circuit("14", 100.0), 121.0, 115.5, 10.0), LoadedFinding::Long, "6.1 V are explained");
        assert_eq!(
            found(&circuit("14", 150.0), 121.0, 112.0, 10.0),
            LoadedFinding::PoorConnection,
            "over 5 % whatever explains it"
        );
        // 25 ft of 12 AWG are 0.097 Ω; a joint of 0.1 Ω takes 1.2 V of 12 A beside its 1.2 V: 2.1 % in all, and seen.
        assert_eq!(found(&circuit("12", 25.0), 121.0, 118.4, 12.0), LoadedFinding::PoorConnection, "a joint of 0.1 Ω");
        assert_eq!(found(&circuit("12", 25.0), 121.0, 119.6, 12.0), LoadedFinding::Sound, "the wire alone");
        assert_eq!(found(&short, 118.0, 124.0, 12.0), LoadedFinding::Rose);
        // The worst connection of all is no dead circuit.
        for with in [75.0, 0.0] {
            let test = LoadedTest { without: Volts(121.0), with: Volts(with), amps: Amps(12.0) };
            let told = judge(Some(&short), &test).unwrap();
            assert_eq!(told.finding, LoadedFinding::PoorConnection);
            assert!(told.said.contains("leave it off"), "{}", told.said);
        }
    }

    #[test]
    fn numbers_that_cannot_be_name_their_field() {
        let field = |without, with, amps| {
            judge(None, &LoadedTest { without: Volts(without), with: Volts(with), amps: Amps(amps) }).unwrap_err().field
        };
        assert_eq!(field(0.0, 118.0, 12.0), "without");
        assert_eq!(field(121.0, 500.0, 12.0), "with");
        assert_eq!(field(121.0, 118.0, 0.0), "amps");
    }
}
