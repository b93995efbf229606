//! A circuit relieved: what draws most on it, or has to stand alone, gets a circuit of its own; or is plugged in at an outlet of
//! another. (handbook 5.16)

use super::add;
use crate::base::Invalid;
use crate::base::units::{CABLE_LENGTH, Feet};
use crate::edit::catalog;
use crate::house::{
    Breaker, BreakerId, CircuitId, Goal, Load, LoadId, MakeRoom, MeasuredAt, NewCircuit, Point, PointId, PointKind,
    Relief, Room,
};
use crate::job::form::{Answers, BREAKER, Field, FieldSort, Kind};
use crate::job::mishaps;
use crate::job::obstacles::{FULL_CIRCUIT, NO_PLUG, NOT_TRACED, OTHER_OUTLET, SAME_CIRCUIT};
use crate::job::plan::{Basis, CostClass, WayTo};
use crate::job::sheet::WATCH;
use crate::job::working::{HandsIn, Working};
use crate::load::circuits::CONTINUOUS_SHARE;
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
        Field::new("to", "Or plug it in here instead", FieldSort::Point).rare(),
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
        to: of.maybe_point("to")?,
        neutral: of.yes_no("neutral"),
        length: of.number("length").map(Feet),
        new: BreakerId(breaker),
        circuit: CircuitId(circuit),
        point: PointId(point),
        at: Vec::new(),
        room: MakeRoom { leave: of.breakers(super::room::LEAVE.name)?, ..MakeRoom::default() },
    }))
}

/// Works it out: as a new circuit for what is relieved of, or as a plug at another outlet.
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
    if let Some(to) = relief.to {
        let to = house.points.get(to).ok_or_else(|| Invalid::new("to", "there is no such outlet (yet)"))?;
        let mut w = asked();
        w.hands = HandsIn::Room;
        w.plan.title = format!("{} is plugged in at {}", alone.name, basis.named(to.id));
        plugged_in(&mut w, breaker, alone, to);
        others(&mut w, relief, &cure, wanted);
        return Ok(w);
    }
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
    if cure.alone.len() > 1 || cure.alone.iter().any(|one| one.elsewhere.is_some()) {
        others(&mut w, relief, &cure, wanted);
    }
    Ok(w)
}

/// It is plugged in at an outlet of another circuit: nobody opens anything, and the record follows the plug.
fn plugged_in(w: &mut Working<'_>, breaker: &Breaker, alone: &AloneThen, to: &Point) {
    let (basis, house) = (w.basis, w.house);
    let Some(load) = house.loads.get(alone.load) else { return w.plan.unfit(Invalid::gone("load", alone.load.0)) };
    let Some(old) = house.points.get(load.point) else { return w.plan.unfit(Invalid::gone("point", load.point.0)) };
    let (here, there) = (basis.named(old.id), basis.named(to.id));
    if old.kind != PointKind::Receptacle {
        w.plan.refuse(NO_PLUG, format!("{} has no plug: it is wired in at {here}", load.name));
    }
    if to.kind != PointKind::Receptacle || to.volts != old.volts {
        w.plan.refuse(OTHER_OUTLET, format!("{there} is no outlet like {here}"));
    }
    let feeders = basis.beliefs.hangs().into_iter().filter(|hangs| hangs.point == to.id && hangs.proven);
    match feeders.map(|hangs| hangs.breaker).collect::<Vec<_>>()[..] {
        [at] if at == breaker.id => {
            w.plan.refuse(SAME_CIRCUIT, format!("{there} hangs on {} too", basis.called(breaker)));
        }
        [at] => {
            w.touch([breaker.id, at]);
            if let Some(circuit) = basis.carries(at) {
                if circuit.usual.0 + alone.amps.0 > CONTINUOUS_SHARE * circuit.rating.0 {
                    let why = format!(
                        "{there} hangs on {}, and {:.1} A more are too much",
                        cure::carries(circuit),
                        alone.amps.0
                    );
                    w.plan.refuse(FULL_CIRCUIT, why);
                }
                if !circuit.unknown.is_empty() {
                    w.plan.cautions.push(format!("{there} hangs on {}.", cure::carries(circuit)));
                }
            }
        }
        _ => w.plan.refuse(NOT_TRACED, format!("it is not proven what feeds {there}")),
    }
    if alone.must {
        w.plan
            .cautions
            .push(format!("The code wants {} alone on its circuit: this is no more than until then.", alone.name));
    }
    if !to.switched_by.is_empty() {
        w.plan.cautions.push(format!("{there} is switched: somebody may switch it off there."));
    }
    if !w.is_open() {
        return;
    }
    w.act(
        format!("Switch {} off, and unplug it at {here}.", load.name),
        "A plug that is drawn under load burns its contacts.",
        Some(MeasuredAt::Point { point: old.id }),
    );
    w.act(
        format!("Plug it in at {there}, straight into the wall, and write down that it hangs there."),
        "A cord or a strip between gets warm before any breaker trips.",
        Some(MeasuredAt::Point { point: to.id }),
    );
    w.makes(|draft| {
        draft.put(Load { point: to.id, ..load.clone() });
        Ok(())
    });
    w.look(
        WATCH,
        "With what else usually runs on that circuit, let it run for a quarter of an hour: nothing trips or dims, and plug, cord and outlet \
         do not get warm.",
        "An outlet that holds a plug loosely gets warm: then it is made new first.",
        Some(MeasuredAt::Point { point: to.id }),
    );
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
    let amps = load.amps.or_else(|| (!load.has_plate()).then_some(alone.amps));
    // What hung on three poles gets three.
    let sized = Load { amps, three_phase: basis.loaded.hung.connected(load).three_phase, ..load.clone() };
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

/// The other things that may go, and where they may be plugged in, beside the ways to make room for this one.
fn others(w: &mut Working<'_>, relief: &Relief, cure: &Cure, chosen: LoadId) {
    let told = || cure.alone.iter().enumerate().filter(|(nth, one)| *nth < TOLD || one.load == chosen);
    let own = told().map(|(_, one)| WayTo {
        title: one.name.clone(),
        why: format!(
            "It draws {:.1} A: a circuit of {}. {:.1} A stay on the old one at the usual peak.",
            one.amps.0, one.rating, one.rest.0
        ),
        chosen: one.load == chosen && relief.to.is_none(),
        cost: CostClass::Large,
        ..way(relief, "What gets a circuit of its own", one.load, None)
    });
    let plugs = told().filter_map(|(_, one)| Some((one, one.elsewhere.as_ref()?))).map(|(one, there)| WayTo {
        title: format!("{} at {}", one.name, there.name),
        why: format!("Nothing is opened, and nothing bought. Then it hangs on {}.", there.said),
        chosen: one.load == chosen && relief.to == Some(there.point),
        cost: CostClass::Nothing,
        ..way(relief, "Or is plugged in elsewhere", one.load, Some(there.point))
    });
    let ways: Vec<WayTo> = own.chain(plugs).chain(std::mem::take(&mut w.plan.ways)).collect();
    w.plan.ways = ways;
}

fn way(relief: &Relief, of: &str, load: LoadId, to: Option<PointId>) -> WayTo {
    // Another thing needs other room.
    let goal = Relief { load: Some(load), to, at: Vec::new(), room: relief.room.only_left(), ..relief.clone() };
    WayTo {
        of: of.into(),
        title: String::new(),
        why: String::new(),
        chosen: false,
        goal: Goal::Relieve(goal),
        bodies: 0,
        wires: 0,
        minutes: 0,
        cost: CostClass::Nothing,
        parts: Vec::new(),
    }
}
