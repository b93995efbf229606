//! Circuits: what hangs on which pole, and whose neutral it shares.

use super::{id, within};
use crate::base::Invalid;
use crate::base::units::{CABLE_LENGTH, CONDUCTORS};
use crate::house::{Circuit, House};

pub(super) fn check_circuit(house: &House, circuit: &Circuit) -> Result<(), Invalid> {
    id("circuit.id", circuit.id.0)?;
    let breaker = house.breakers.get(circuit.breaker);
    let breaker = breaker.ok_or_else(|| Invalid::new("circuit.breaker", "the breaker it hangs on does not exist"))?;
    if circuit.pole.is_some_and(|p| p == 0 || usize::from(p) > breaker.at.len()) {
        let message = format!("the breaker at {} has poles 1 to {}", breaker.at_text(), breaker.at.len());
        return Err(Invalid::new("circuit.pole", message));
    }
    if breaker.unwired {
        let message = format!("{} is said to have no wire on it: take that back first", breaker.at_text());
        return Err(Invalid::new("circuit.breaker", message));
    }
    if let Some(conductors) = circuit.conductors {
        within(&CONDUCTORS, "circuit.conductors", f64::from(conductors))?;
    }
    if let Some(length) = circuit.length {
        within(&CABLE_LENGTH, "circuit.length", length.0)?;
    }
    if circuit.colours.len() > breaker.at.len() {
        return Err(Invalid::new("circuit.colours", "there are more colours than poles"));
    }
    let Some(mate) = circuit.neutral_of else { return Ok(()) };
    let mate = house.circuits.get(mate).filter(|m| m.id != circuit.id);
    let fault = |message: &str| Err(Invalid::new("circuit.neutral_of", message));
    match mate {
        None => fault("the circuit whose neutral it shares does not exist"),
        Some(m) if m.neutral_of.is_some() => {
            fault("name the circuit that the neutral comes with, not one that shares it")
        }
        Some(m) if house.breakers.get(m.breaker).is_some_and(|b| b.panel != breaker.panel) => {
            fault("circuits that share a neutral begin in one panel (NEC 210.4(A))")
        }
        Some(_) => Ok(()),
    }
}
