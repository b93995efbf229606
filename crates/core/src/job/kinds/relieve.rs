//! A circuit relieved: what draws most on it, or has to stand alone, gets a circuit of its own. (handbook 5.16)

use super::add;
use crate::base::Invalid;
use crate::base::units::{CABLE_LENGTH, Feet};
use crate::edit::catalog;
use crate::house::{
    BreakerId, CircuitId, Goal, Load, LoadId, MakeRoom, NewCircuit, Point, PointId, PointKind, Relief, Room,
};
use crate::job::form::{Answers, BREAKER, Field, FieldSort, Kind};
use crate::job::mishaps;
use crate::job::plan::{Basis, CostClass, WayTo};
use crate::job::working::Working;
use crate::load::cure::{self, AloneThen, Cure};
use crate::plate;

pub(super) static KIND: Kind = Kind {
    name: "relieve",
    group: "It trips, or will",
    title: "Relieve a circuit",
    under: "what draws most gets a circuit of its own",
    fields: &[
        BREAKER,
        Field::new("load", "What gets its own, if not what is told", FieldSort::Load).rare(),
        Field::new("neutral", "Takes a neutral, where it is made for 240 V?", FieldSort::YesNo).rare(),
        Field::new("length", "Wire, one way", FieldSort::Number { limits: &CABLE_LENGTH }),
        super::room::LEAVE,
    ],
    mishaps: mishaps::MOVING,
    goal,
};

fn goal(of: &Answers<'_>) -> Result<Goal, Invalid> {
    let [breaker, circuit, point] = [0, 1, 2].map(|nth| of.first + nth);
    Ok(Goal::Relieve(Relief {
        breaker: of.breaker("breaker")?,
        load: of.load("load")?,
        neutral: of.yes_no("neutral"),
        length: of.number("length").map(Feet),
        new: BreakerId(breaker),
        circuit: CircuitId(circuit),
        point: PointId(point),
        at: Vec::new(),
        room: MakeRoom { leave: of.breakers(super::room::LEAVE.name)?, ..MakeRoom::default() },
    }))
}

/// Works it out: as a new circuit for what is relieved of.
pub(super) fn work<'a>(basis: &'a Basis<'a>, relief: &Relief) -> Result<Working<'a>, Invalid> {
    let house = basis.house;
    let breaker = house.breakers.get(relief.breaker).ok_or_else(|| Invalid::gone("breaker", relief.breaker.0))?;
    let asked = || Working::new(basis, "Relieve a circuit", breaker.panel, Goal::Relieve(relief.clone()));
    let Some(cure) = cure::cure(house, basis.loaded, breaker.id) else {
        let mut w = asked();
        let what = format!("What draws on {}? Enter it with its nameplate, or measure: Loads", basis.called(breaker));
        w.plan.ask("load", what);
        return Ok(w);
    };
    let wanted = relief.load.unwrap_or(cure.alone[0].load);
    let Some(alone) = cure.alone.iter().find(|one| one.load == wanted) else {
        let mut w = asked();
        w.plan.ask("load", format!("Does that hang on {}, and what does it draw", breaker.at_text()));
        return Ok(w);
    };
    let Some(new) = circuit(basis, relief, alone) else { return Ok(asked()) };
    let mut w = add::work(basis, &new, Goal::Dedicated)?;
    // Whichever way makes room, what else could go instead is still told.
    for way in &mut w.plan.ways {
        if let Goal::Dedicated(NewCircuit { at, room, .. }) = &way.goal {
            way.goal =
                Goal::Relieve(Relief { load: Some(wanted), at: at.clone(), room: room.clone(), ..relief.clone() });
        }
    }
    w.plan.title = format!("{} gets a circuit of its own, off {}", alone.name, breaker.at_text());
    w.plan.cautions.insert(0, cure.said.clone());
    if cure.alone.len() > 1 {
        others(&mut w, relief, &cure, wanted);
    }
    Ok(w)
}

/// The new circuit: an outlet in the same room, for a thing that is there.
fn circuit(basis: &Basis<'_>, relief: &Relief, alone: &AloneThen) -> Option<NewCircuit> {
    let house = basis.house;
    let load = house.loads.get(alone.load)?;
    let old = house.points.get(load.point)?;
    let room: &Room = house.rooms.get(old.room)?;
    let panel = house.breakers.get(relief.breaker)?.panel;
    let volts = plate::volts(house, load);
    // Without a plate it is sized by what it is believed to draw.
    let sized = if load.has_plate() { load.clone() } else { Load { amps: Some(alone.amps), ..load.clone() } };
    let tag = catalog::next_tag(house, room);
    let kind = if old.kind == PointKind::Light { PointKind::Receptacle } else { old.kind };
    Some(NewCircuit {
        panel,
        point: Point { name: load.name.clone(), volts: Some(volts), ..Point::new(relief.point, tag, old.room, kind) },
        load: Some(sized),
        neutral: relief.neutral,
        plugged: kind == PointKind::Receptacle,
        length: relief.length,
        breaker: relief.new,
        circuit: relief.circuit,
        amps: None,
        at: relief.at.clone(),
        room: relief.room.clone(),
    })
}

/// So many are told beside each other.
const TOLD: usize = 3;

/// Another thing needs other room; what is left as it is stays so.
fn left_alone(relief: &Relief) -> MakeRoom {
    MakeRoom { leave: relief.room.leave.clone(), ..MakeRoom::default() }
}

/// The other things that may go, beside the ways to make room for this one.
fn others(w: &mut Working<'_>, relief: &Relief, cure: &Cure, chosen: LoadId) {
    let told = cure.alone.iter().enumerate().filter(|(nth, one)| *nth < TOLD || one.load == chosen);
    let all = told.map(|(_, one)| WayTo {
        of: "What gets a circuit of its own".into(),
        title: one.name.clone(),
        why: format!(
            "It draws {:.1} A: a circuit of {}. {:.1} A stay on the old one at the usual peak.",
            one.amps.0, one.rating, one.rest.0
        ),
        chosen: one.load == chosen,
        goal: Goal::Relieve(Relief {
            load: Some(one.load),
            at: Vec::new(),
            room: left_alone(relief),
            ..relief.clone()
        }),
        bodies: 0,
        wires: 0,
        minutes: 0,
        cost: CostClass::Large,
        parts: Vec::new(),
    });
    let ways: Vec<WayTo> = all.chain(std::mem::take(&mut w.plan.ways)).collect();
    w.plan.ways = ways;
}
