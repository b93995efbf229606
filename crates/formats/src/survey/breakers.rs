//! `breakers.csv`: overcurrent devices, and spaces that were looked at and are empty.

use jiff::Timestamp;
use wayfinder_core::Change;
use wayfinder_core::base::position::{Position, parse_poles};
use wayfinder_core::base::units::{Amps, InchPounds};
use wayfinder_core::house::{Breaker, BreakerId, House, PanelId, Terminal};
use wayfinder_core::words::number::Unit;

use super::cells::{DEVICES, FRAMES, HANDLES, TRIPS, apply, next, panel_of, some, word, yes};
use super::evidence::time_in;
use super::rows::{Columns, Fault, File, NOTHING_TO_TIE, Row, cells, names};

pub const FILE: File = File {
    name: "breakers.csv",
    must: &["panel", "at", "amps"],
    columns: || names(COLUMNS),
    take: add,
    tie: NOTHING_TO_TIE,
    last: None,
    write: |house| spaces(house).iter().map(|s| cells(COLUMNS, house, s)).collect(),
};

/// A breaker, or a space or half of one that is empty.
struct Space {
    panel: PanelId,
    at: Position,
    breaker: Option<Breaker>,
}

impl Space {
    fn says(&self, cell: impl Fn(&Breaker) -> String) -> String {
        self.breaker.as_ref().map_or_else(String::new, cell)
    }
}

const COLUMNS: Columns<Space> = &[
    ("panel", |house, s| some(house.panels.get(s.panel).map(|p| &p.name))),
    ("at", |_, s| s.breaker.as_ref().map_or_else(|| s.at.to_string(), Breaker::at_text)),
    ("amps", |_, s| s.says(|b| b.amps.0.to_string())),
    ("type", |_, s| s.says(|b| word(DEVICES, b.device))),
    ("label", |_, s| s.says(|b| b.label.clone())),
    ("handle", |_, s| s.says(|b| word(HANDLES, b.handle))),
    ("frame", |_, s| s.says(|b| word(FRAMES, b.frame))),
    ("trip", |_, s| s.says(|b| word(TRIPS, b.trip))),
    ("model", |_, s| s.says(|b| b.model.clone())),
    ("terminal_wires", |_, s| s.says(|b| some(b.terminal.map(|t| t.wires)))),
    ("torque", |_, s| s.says(|b| some(b.terminal.and_then(|t| t.torque).map(|t| t.0)))),
    ("as_found", |_, s| s.says(|b| yes(b.as_found))),
    ("inlet", |_, s| s.says(|b| yes(b.inlet))),
    ("bad", |_, s| s.says(|b| yes(b.bad))),
    ("unwired", |_, s| s.says(|b| yes(b.unwired))),
    ("since", |_, s| s.says(|b| some(b.since))),
];

fn spaces(house: &House) -> Vec<Space> {
    let of = |panel: &wayfinder_core::house::Panel| {
        let id = panel.id;
        let here = house.breakers_of(id).into_iter().cloned();
        let here = here.map(|b| Space { panel: id, at: b.at[0], breaker: Some(b) });
        let bare = panel.empty.iter().map(|at| Space { panel: id, at: *at, breaker: None });
        let mut all: Vec<Space> = here.chain(bare).collect();
        all.sort_by_key(|s| s.at);
        all
    };
    house.panels.iter().flat_map(of).collect()
}

fn add(house: &mut House, row: &Row, _: Timestamp) -> Result<(), Fault> {
    let panel = panel_of(house, row)?;
    let at = parse_poles(row.get("at")).map_err(|e| row.says("at", e.to_string()))?;
    let columns = [
        ("breaker.amps", "amps"),
        ("breaker.label", "label"),
        ("breaker.panel", "panel"),
        ("breaker.frame", "frame"),
        ("breaker.model", "model"),
        ("breaker.terminal", "terminal_wires"),
    ];
    let Some(amps) = row.number("amps", Unit::A)? else {
        let marks = at.iter().map(|p| Change::MarkEmpty { panel, space: *p, empty: true });
        let empty = Change::Batch { changes: marks.collect() };
        return apply(house, &empty).map_err(|e| row.invalid(e, &[], "at"));
    };
    let wires = row.optional("terminal_wires", "a number of wires, or nothing")?;
    let torque = row.number("torque", Unit::InLb)?.map(InchPounds);
    let terminal = wires.map(|wires| Terminal { wires, smallest: None, largest: None, torque });
    let breaker = Breaker {
        device: row.one_of("type", DEVICES)?,
        handle: row.one_of("handle", HANDLES)?,
        label: row.get("label").into(),
        frame: row.one_of("frame", FRAMES)?,
        trip: row.one_of("trip", TRIPS)?,
        model: row.get("model").into(),
        terminal,
        as_found: row.yes_or_no("as_found")?.unwrap_or(false),
        inlet: row.yes_or_no("inlet")?.unwrap_or(false),
        bad: row.yes_or_no("bad")?.unwrap_or(false),
        unwired: row.yes_or_no("unwired")?.unwrap_or(false),
        since: time_in(row, "since")?,
        ..Breaker::new(BreakerId(next(&house.breakers, |b| b.id.0)), panel, at, Amps(amps))
    };
    apply(house, &Change::PutBreaker { breaker }).map_err(|e| row.invalid(e, &columns, "at"))
}
