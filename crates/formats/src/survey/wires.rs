//! `wires.csv`: what hangs on the breakers' terminals.

use jiff::Timestamp;
use wayfinder_core::Change;
use wayfinder_core::base::position::parse_poles;
use wayfinder_core::base::units::{Feet, Gauge};
use wayfinder_core::house::{Circuit, CircuitId, House};
use wayfinder_core::words::number::Unit;

use super::cells::{COLOURS, LANDED, METALS, apply, next, panel_of, some, word, yes};
use super::rows::{Columns, Fault, File, NOTHING_TO_TIE, Row, cells, names};

pub const FILE: File = File {
    name: "wires.csv",
    must: &["panel", "at"],
    columns: || names(COLUMNS),
    take: add,
    tie: NOTHING_TO_TIE,
    last: None,
    write: |house| owners_first(house).into_iter().map(|c| cells(COLUMNS, house, c)).collect(),
};

const COLUMNS: Columns<Circuit> = &[
    ("panel", |house, c| {
        let breaker = house.breakers.get(c.breaker);
        some(breaker.and_then(|b| house.panels.get(b.panel)).map(|p| &p.name))
    }),
    ("at", |house, c| some(house.breakers.get(c.breaker).map(|b| b.at_text()))),
    ("pole", |_, c| some(c.pole)),
    ("wire", |_, c| some(c.wire)),
    ("metal", |_, c| word(METALS, c.metal)),
    ("conductors", |_, c| some(c.conductors)),
    ("length_ft", |_, c| some(c.length.map(|l| l.0))),
    ("colours", |_, c| c.colours.iter().map(|colour| word(COLOURS, *colour)).collect::<Vec<_>>().join(";")),
    ("landed", |_, c| word(LANDED, c.landed)),
    ("neutral_of", |house, c| some(c.neutral_of.and_then(|mate| written_circuit(house, mate)))),
    ("as_found", |_, c| yes(c.as_found)),
];

/// Those that own their neutral come first, so that the others can name them.
fn owners_first(house: &House) -> Vec<&Circuit> {
    let mut all: Vec<&Circuit> = house.circuits.iter().collect();
    all.sort_by_key(|c| c.neutral_of.is_some());
    all
}

/// A circuit as its breaker, `3`, or as the nth on it, `3#2`.
fn written_circuit(house: &House, id: CircuitId) -> Option<String> {
    let circuit = house.circuits.get(id)?;
    let nth = house.circuits_of(circuit.breaker).iter().position(|x| x.id == id)? + 1;
    let at = house.breakers.get(circuit.breaker)?.at_text();
    Some(if nth == 1 { at } else { format!("{at}#{nth}") })
}

/// The other way round.
fn circuit_at(house: &House, row: &Row, text: &str) -> Option<CircuitId> {
    let (at, nth) = text.split_once('#').unwrap_or((text, "1"));
    let panel = house.panel_named(row.get("panel"))?;
    let breaker = house.breaker_at(panel.id, &parse_poles(at).ok()?)?;
    let nth = nth.parse::<usize>().ok()?.checked_sub(1)?;
    house.circuits_of(breaker.id).get(nth).map(|c| c.id)
}

fn add(house: &mut House, row: &Row, _: Timestamp) -> Result<(), Fault> {
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
        length: row.number("length_ft", Unit::Ft)?.map(Feet),
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
