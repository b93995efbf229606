//! What hangs on the breakers' terminals, out of `wires.csv`.

use wayfinder_core::Change;
use wayfinder_core::base::position::parse_poles;
use wayfinder_core::base::units::{Feet, Gauge};
use wayfinder_core::house::{Circuit, CircuitId, House};

use super::cells::{COLOURS, LANDED, METALS};
use super::house::{apply, next, panel_of};
use super::rows::{Fault, Reading, Row, Rows};

pub(super) const COLUMNS: &[&str] =
    &["panel", "at", "pole", "wire", "metal", "conductors", "length_ft", "colours", "landed", "neutral_of", "as_found"];
pub(super) fn take(reading: &mut Reading, text: &str) {
    let rows = Rows::read("wires.csv", text, COLUMNS, &["panel", "at"], reading);
    reading.take(&rows, add);
}

/// A circuit written as its breaker, `3`, or as the nth on it, `3#2`.
fn circuit_at(house: &House, row: &Row, text: &str) -> Option<CircuitId> {
    let (at, nth) = text.split_once('#').unwrap_or((text, "1"));
    let panel = house.panel_named(row.get("panel"))?;
    let breaker = house.breaker_at(panel.id, &parse_poles(at).ok()?)?;
    let nth = nth.parse::<usize>().ok()?.checked_sub(1)?;
    house.circuits_of(breaker.id).get(nth).map(|c| c.id)
}

fn add(house: &mut House, row: &Row) -> Result<(), Fault> {
    let panel = panel_of(house, row)?;
    let at = parse_poles(row.get("at")).map_err(|e| row.says("at", e.to_string()))?;
    let breaker = house.breaker_at(panel, &at).map(|b| b.id);
    let breaker = breaker.ok_or_else(|| row.fault("at", "a breaker of breakers.csv"))?;
    let neutral_of = match row.get("neutral_of") {
        "" => None,
        text => {
            let found = circuit_at(house, row, text);
            Some(found.ok_or_else(|| row.fault("neutral_of", "a breaker of a row above, as 3"))?)
        }
    };
    let colour = |word: &str| {
        let found = COLOURS.iter().find(|(known, _)| known.eq_ignore_ascii_case(word)).map(|(_, c)| *c);
        found.ok_or_else(|| row.fault("colours", "black, red, blue, white, white-marked or other, with ; between"))
    };
    let circuit = Circuit {
        pole: row.optional("pole", "1, 2 or 3 from the top, or nothing")?,
        wire: row.optional::<Gauge>("wire", "a wire size like 14 or 2/0")?,
        metal: row.one_of("metal", METALS)?,
        conductors: row.optional("conductors", "a number of insulated conductors")?,
        length: row.optional("length_ft", "feet")?.map(Feet),
        colours: row.list("colours").map(colour).collect::<Result<_, _>>()?,
        landed: row.one_of("landed", LANDED)?,
        neutral_of,
        as_found: row.yes_or_no("as_found")?.unwrap_or(false),
        ..Circuit::new(CircuitId(next(&house.circuits, |c| c.id.0)), breaker)
    };
    let columns = [
        ("circuit.wire", "wire"),
        ("circuit.pole", "pole"),
        ("circuit.conductors", "conductors"),
        ("circuit.length", "length_ft"),
        ("circuit.colours", "colours"),
        ("circuit.landed", "landed"),
        ("circuit.neutral_of", "neutral_of"),
    ];
    apply(house, &Change::PutCircuit { circuit }).map_err(|e| row.invalid(e, &columns, "at"))
}
