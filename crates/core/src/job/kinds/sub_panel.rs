//! A sub-panel: where a panel stays full, or at another building. Its feeder takes the place of circuits that move over to it.
//! (handbook 1.1, 5.13)

use std::collections::BTreeSet;

use super::room::{self, NewPlace};
use crate::base::position::{Position, Supply, format_poles};
use crate::base::units::{Amps, BREAKER_RATING, BUS_RATING, CABLE_LENGTH, Feet, Metal, SPACES};
use crate::base::{Invalid, Said};
use crate::code;
use crate::code::sizes::{UNKNOWN_OF_ONE_POLE, UNKNOWN_OF_TWO_POLES};
use crate::edit::Draft;
use crate::house::{
    Breaker, BreakerId, Circuit, CircuitId, Frame, Goal, House, MakeRoom, Moving, NewSubPanel, Panel, PanelId, RoomAct,
};
use crate::job::arrange::Wish;
use crate::job::cable::Cable;
use crate::job::form::{Answers, Field, FieldSort, Kind, PANEL};
use crate::job::lay::{self, ToSeat};
use crate::job::mishaps;
use crate::job::obstacles::{FEEDER, FEEDS_A_PANEL, HALF_OF_A_BODY, NO_ROOM_FOR_FEEDER, NO_WIRE, TOO_FEW_SPACES};
use crate::job::plan::{Basis, Plan, body_mates, counted_poles, of_a_listed_type, standing};
use crate::job::wire::WireRun;
use crate::job::working::{Working, at, new_one};
use crate::rules::{neutral_two_panels, standard_rating};

pub(super) static KIND: Kind = Kind {
    name: "sub-panel",
    group: "I need a space",
    title: "A sub-panel",
    under: "where the panel stays full, or at another building",
    fields: &[
        Field::new("name", "Its name", FieldSort::Text).required().usual("Sub-panel"),
        PANEL.help("the one that feeds it"),
        Field::new("spaces", "It has", FieldSort::Number { limits: &SPACES }).required(),
        Field::new("amps", "Feeder, if not by what it carries", FieldSort::Number { limits: &BREAKER_RATING }),
        Field::new("bus", "Its bus, if it is at hand already", FieldSort::Number { limits: &BUS_RATING }).rare(),
        Field::new("length", "Wire, one way", FieldSort::Number { limits: &CABLE_LENGTH }),
        Field::new("metal", "Wire of", FieldSort::Choice { choices: METALS }).usual("copper"),
        Field::new("separate", "stands in another building", FieldSort::Tick),
        Field::new("carries", "Move over to it", FieldSort::Breakers),
        Field::new("at", "Feeder in spaces, if it matters", FieldSort::Poles).rare().help("as 5-7"),
        room::LEAVE,
    ],
    mishaps: mishaps::MOVING,
    goal,
};

const METALS: &[(&str, &str)] = &[("copper", "copper"), ("aluminium", "aluminium")];

fn goal(of: &Answers<'_>) -> Result<Goal, Invalid> {
    let [breaker, circuit, id] = [0, 1, 2].map(|nth| of.first + nth);
    Ok(Goal::SubPanel(NewSubPanel {
        panel: of.panel()?.id,
        id: PanelId(id),
        name: of.text("name").to_owned(),
        spaces: of.number("spaces").unwrap_or_default() as u16,
        bus: of.number("bus").map(Amps),
        separate: of.is("separate"),
        metal: if of.text("metal") == "aluminium" { Metal::Aluminium } else { Metal::Copper },
        length: of.number("length").map(Feet),
        breaker: BreakerId(breaker),
        circuit: CircuitId(circuit),
        amps: of.number("amps").map(Amps),
        carries: of.breakers("carries")?,
        beside: Vec::new(),
        at: of.poles("at")?,
        room: MakeRoom { leave: of.breakers(room::LEAVE.name)?, ..MakeRoom::default() },
    }))
}

/// The least that a sub-panel's feeder is made for, where nothing says otherwise: less leaves nothing to grow. (common practice)
const CUSTOMARY: Amps = Amps(60.0);
/// Buses that small panels come with. (common practice)
const BUSES: [f64; 4] = [70.0, 100.0, 125.0, 200.0];

/// What a sub-panel comes to.
struct SizedFeeder {
    sub: Panel,
    feeder: Breaker,
    wires: Circuit,
    cable: Cable,
    moves: Vec<Moving>,
}

/// Works it out.
pub(super) fn work<'a>(basis: &'a Basis<'a>, new: &NewSubPanel) -> Result<Working<'a>, Invalid> {
    let house = basis.house;
    let panel = house.panels.get(new.panel).ok_or_else(|| Invalid::gone("panel", new.panel.0))?;
    let title = format!("A sub-panel, {}, fed from {}", new.name.trim(), panel.name);
    let mut w = Working::new(basis, title, panel.id, Goal::SubPanel(new.clone()));
    if new.name.trim().is_empty() {
        return Err(Invalid::new("name", "a panel needs a name: its card and every label say it"));
    }
    w.plan.cautions.push(
        "In many places a feeder and a panel are a licensed electrician's work, and a permit's: ask before you buy."
            .into(),
    );
    let mut new = new.clone();
    goes_over(&mut w, panel, &new);
    place(&mut w, panel, &mut new)?;
    let Some(sized) = sized(&mut w, panel, &new) else {
        w.plan.goal = Goal::SubPanel(new);
        return Ok(w);
    };
    new.amps = Some(sized.feeder.amps);
    w.touch(new.carries.iter().copied());
    room::acts(&mut w, &new.room)?;
    parts(panel, &new, &sized, &mut w.plan);
    if w.is_open() {
        acts(&mut w, panel, &new, sized);
    }
    w.plan.goal = Goal::SubPanel(new);
    Ok(w)
}

/// What somebody wants to move over: circuits of this panel that feed no panel themselves.
fn goes_over(w: &mut Working<'_>, panel: &Panel, new: &NewSubPanel) {
    for breaker in new.carries.iter().filter_map(|b| w.house.breakers.get(*b)) {
        if let Some(sub) = w.house.panel_fed_by(breaker.id) {
            w.plan.refuse(FEEDS_A_PANEL, format!("{} feeds the panel {}", breaker.at_text(), sub.name));
        }
        if breaker.panel != panel.id || breaker.inlet {
            w.plan.unfit(Invalid::new("carries", format!("{} is no circuit of {}", breaker.at_text(), panel.name)));
        }
    }
}

/// What may move over for the feeder's place: whole bodies that feed neither a panel nor come from a generator.
fn candidates(basis: &Basis<'_>, panel: &Panel) -> Vec<RoomAct> {
    let may = |b: &&Breaker| basis.house.panel_fed_by(b.id).is_none() && !b.inlet && !b.is_half_size();
    let all = basis.house.breakers_of(panel.id).into_iter().filter(may);
    all.map(|b| RoomAct::MoveOver { breaker: b.id }).collect()
}

/// Where the feeder goes: what is free once the circuits that are wanted over are out; or else what makes room for it, with more of
/// them moving over.
fn place(w: &mut Working<'_>, panel: &Panel, new: &mut NewSubPanel) -> Result<(), Invalid> {
    let basis = w.basis;
    let given = new.clone();
    let out = without(basis.house, panel, &new.carries)?;
    let Some(left) = out.panels.get(panel.id) else { return Ok(()) };
    let beside = new.beside.iter().map(|wish| Wish::parse(wish)).collect::<Result<Vec<Wish>, Invalid>>()?;
    let of = NewPlace {
        house: &out,
        panel: left,
        poles: 2,
        halves: false,
        amps: new.amps.unwrap_or(CUSTOMARY),
        beside: &beside,
        more: &candidates(basis, panel),
        none: NO_ROOM_FOR_FEEDER,
        what: "the feeder goes to",
    };
    let NewSubPanel { at, room, .. } = new;
    room::choose(basis, &mut w.plan, &of, (at, room), |at, room| {
        Goal::SubPanel(NewSubPanel { at, room, ..given.clone() })
    })
}

/// The house with some breakers out of it, to see what is free then.
fn without(house: &House, panel: &Panel, breakers: &BTreeSet<BreakerId>) -> Result<House, Invalid> {
    let mut draft = Draft::new(house, |_| crate::edit::MayFeed::new());
    for breaker in breakers.iter().filter_map(|b| house.breakers.get(*b)).filter(|b| b.panel == panel.id) {
        if house.panel_fed_by(breaker.id).is_none() {
            draft.remove_breaker(breaker.id)?;
            breaker.at.iter().try_for_each(|at| draft.vacate(panel.id, *at))?;
        }
    }
    Ok(draft.house)
}

/// All that moves over: what somebody wants there, and what makes place for the feeder.
fn moving_over(house: &House, new: &NewSubPanel) -> Vec<BreakerId> {
    let more = new.room.acts.iter().filter_map(|act| match act {
        RoomAct::MoveOver { breaker } => Some(*breaker),
        _ => None,
    });
    let all: BTreeSet<BreakerId> = new.carries.iter().copied().chain(more).collect();
    all.into_iter().filter(|b| house.breakers.get(*b).is_some()).collect()
}

/// What shares its neutral or its body with something that stays does not move over.
fn stays_together(w: &mut Working<'_>, over: &[BreakerId]) {
    let house = w.house;
    for breaker in over.iter().filter_map(|b| house.breakers.get(*b)) {
        let body = standing(house, &body_mates(house, breaker.panel, &[breaker.id]));
        if let Some(mate) = body.into_iter().find(|mate| !over.contains(&mate.id)) {
            w.plan.refuse_for(
                HALF_OF_A_BODY,
                format!("{} is one body with {}, which stays", breaker.at_text(), mate.at_text()),
                "move both over, or neither",
            );
        }
        let mates = house.circuits_of(breaker.id).into_iter().flat_map(|c| house.sharing_neutral(c)).map(|c| c.breaker);
        if let Some(mate) = mates.filter(|mate| !over.contains(mate)).find_map(|mate| house.breakers.get(mate)) {
            w.plan.refuse_for(
                &neutral_two_panels::RULE,
                format!("{} shares its neutral with {}, which stays", w.basis.called(breaker), mate.at_text()),
                "move both over, or neither",
            );
        }
    }
}

/// Feeder, wire, bus, and where everything that moves over stands.
fn sized(w: &mut Working<'_>, panel: &Panel, new: &NewSubPanel) -> Option<SizedFeeder> {
    let (basis, house) = (w.basis, w.house);
    // A feeder of two poles gives two legs, whatever the panel before it has.
    let supply = if panel.supply == Supply::SplitPhase { Supply::SplitPhase } else { Supply::WyeTwoLegs };
    let over = moving_over(house, new);
    stays_together(w, &over);
    let breakers: Vec<&Breaker> = over.iter().filter_map(|b| house.breakers.get(*b)).collect();
    let mut sub = Panel {
        supply,
        fed_by: Some(new.breaker),
        separate_building: new.separate,
        main: None,
        ..Panel::new(new.id, new.name.trim(), new.spaces)
    };
    let poles: usize = breakers.iter().map(|b| b.at.len()).sum();
    let to_seat: Vec<ToSeat<'_>> = breakers.iter().map(|b| ToSeat::of(basis, b)).collect();
    let found = lay::seats(&sub, lay::units(house, &to_seat));
    let Some(moves) = found.filter(|_| breakers.iter().all(|b| b.at.len() < 3)) else {
        w.plan.refuse(
            TOO_FEW_SPACES,
            format!("{} move over, and {} has {} spaces on two legs", counted_poles(poles), sub.name, sub.spaces),
        );
        return None;
    };
    let needs = needs(basis, &sub, &moves);
    let open = not_known(basis, &moves);
    if !open.is_empty() {
        w.plan.cautions.push(format!(
            "What hangs on {} is not all known: the feeder counts a share of the rating at least. Enter or measure it, and the feeder is surer.",
            open.join(", ")
        ));
    }
    let standard = |amps: f64| code::STANDARD_RATINGS.iter().copied().find(|rating| *rating >= amps);
    let amps = new.amps.or(standard(needs.max(CUSTOMARY.0)).map(Amps))?;
    if !code::STANDARD_RATINGS.contains(&amps.0) {
        w.plan.refuse(&standard_rating::RULE, format!("{amps} is no rating that breakers come in"));
    }
    if needs > amps.0 {
        let why = format!(
            "what moves over comes to {needs:.0} A on the fuller leg at the usual peak, with a quarter more of what runs for hours, of {amps}"
        );
        w.plan.refuse_for(FEEDER, why, format!("{} A", standard(needs).unwrap_or(needs)));
    }
    let bus = new.bus.or(BUSES.into_iter().find(|bus| *bus >= amps.0).map(Amps)).unwrap_or(amps);
    sub.bus = bus;
    // At another building its main is the disconnect that it needs there (NEC 225.31).
    sub.main = new.separate.then_some(amps);
    let taken = |space: u16| moves.iter().any(|m| m.to.iter().any(|p| p.space == space));
    sub.empty = sub.numbers().into_iter().filter(|s| !taken(*s)).map(Position::whole).collect();
    let volts = panel.supply.across().try_into().ok()?;
    let run = WireRun { metal: new.metal, carries: Amps(needs), breaker: amps, drawn: amps, volts, length: new.length };
    let Some((thinnest, wire)) = run.wires() else {
        w.plan.refuse(NO_WIRE, format!("no single cable carries {amps}"));
        return None;
    };
    if wire != thinnest {
        w.plan.cautions.push(format!(
            "{thinnest} AWG would carry it, but lose {:.1} % at its full rating: {wire} AWG (NEC 215.2, informational note).",
            100.0 * run.lost(thinnest)
        ));
    }
    let cable = Cable::new(2, true);
    let feeder = Breaker {
        label: sub.name.clone(),
        frame: Some(Frame::Full),
        ..Breaker::new(new.breaker, panel.id, new.at.clone(), amps)
    };
    let wires = Circuit {
        wire: Some(wire),
        metal: new.metal,
        conductors: Some(cable.conductors()),
        length: new.length,
        colours: cable.hots.clone(),
        ..Circuit::new(new.circuit, new.breaker)
    };
    Some(SizedFeeder { sub, feeder, wires, cable, moves })
}

/// What the fuller leg carries at the usual peak, with a quarter more of what runs for hours. [pub: NEC 215.2, 215.3, value from memory]
fn needs(basis: &Basis<'_>, sub: &Panel, moves: &[Moving]) -> f64 {
    let mut legs = [0.0_f64; 3];
    for moving in moves {
        let hours = basis.loaded.all.iter().filter(|d| d.continuous && d.breakers.contains(&moving.breaker));
        let lasting: f64 = hours.filter_map(|d| d.amps).map(|amps| amps.0).sum();
        let known = basis.carries(moving.breaker).map_or(0.0, |c| c.usual.0) + (code::CONTINUOUS - 1.0) * lasting;
        let amps = if is_known(basis, moving.breaker) { known } else { known.max(by_rating(basis, moving)) };
        moving.to.iter().for_each(|p| legs[sub.leg(*p) as usize] += amps);
    }
    legs.into_iter().fold(0.0, f64::max)
}

fn by_rating(basis: &Basis<'_>, moving: &Moving) -> f64 {
    let share = if moving.to.len() > 1 { UNKNOWN_OF_TWO_POLES } else { UNKNOWN_OF_ONE_POLE };
    basis.house.breakers.get(moving.breaker).map_or(0.0, |b| share * b.amps.0)
}

/// Something is known to draw on a circuit, and of no point on it it is unknown what does.
fn is_known(basis: &Basis<'_>, breaker: BreakerId) -> bool {
    basis.carries(breaker).is_some_and(|carried| carried.usual.0 > 0.0 && carried.unknown.is_empty())
}

/// Circuits that move over of which nobody knows, or not of all of it, what they draw.
fn not_known(basis: &Basis<'_>, moves: &[Moving]) -> Vec<String> {
    let open = |m: &&Moving| !is_known(basis, m.breaker);
    moves.iter().filter(open).filter_map(|m| basis.house.breakers.get(m.breaker)).map(|b| b.at_text()).collect()
}

/// A cable as it is called: `6-3`.
fn size(wires: &Circuit, cable: &Cable) -> String {
    format!("{}-{}", wires.wire.map_or_else(String::new, |wire| wire.to_string()), cable.conductors())
}

fn parts(panel: &Panel, new: &NewSubPanel, sized: &SizedFeeder, plan: &mut Plan) {
    let SizedFeeder { sub, feeder, wires, cable, moves } = sized;
    let main = if sub.main.is_some() { format!(", main of {}", feeder.amps) } else { ", main lugs".to_owned() };
    plan.part(1, format!("panel, {} spaces, bus of {}{main}, with a ground bar of its own", sub.spaces, sub.bus));
    plan.part(1, format!("breaker for the feeder, {}, {}, {}", counted_poles(2), feeder.amps, of_a_listed_type(panel)));
    let size = size(wires, cable);
    plan.cable(format!("feeder cable {size} with ground, {}", new.metal.said()), new.length);
    plan.part(2, "connector for the feeder cable, one at each cabinet");
    plan.part(moves.len(), "breaker for a circuit that moves over, of a type that the new panel lists");
    plan.part(moves.len(), "cable from the old cabinet to the new panel, of the circuit's own gauge, with connectors");
    if sub.separate_building {
        plan.part(2, "ground rod with clamp, and the wire to the ground bar (NEC 250.32, 250.53)");
    }
}

fn acts(w: &mut Working<'_>, panel: &Panel, new: &NewSubPanel, sized: SizedFeeder) {
    let SizedFeeder { sub, feeder, wires, cable, moves } = sized;
    w.act(
        format!("Hang the panel of {}: clear space before it 30 in wide and 36 in deep, dry, reachable; its card inside the door.", sub.name),
        "NEC 110.26, 240.24: not in a bathroom, not over steps, not in a clothes closet.",
        None,
    );
    w.act(
        "Its bonding screw or strap stays out: neutral bar on its insulators, ground bar on the cabinet. The meter in ohms between the two \
         bars shows no connection before anything is landed.",
        "Neutral and ground meet once, in the first panel (NEC 250.24, 250.142(B), 408.40).",
        None,
    );
    w.with("meter");
    if sub.separate_building {
        w.act(
            "At the other building: its own electrodes to its ground bar; its main is the disconnect there, within reach where the feeder comes in.",
            "NEC 225.31, 225.32, 250.32.",
            None,
        );
    }
    w.act(
        format!(
            "Run the feeder, {} with ground: a loop to spare at both ends, a bushing on every metal edge.",
            size(&wires, &cable)
        ),
        "Four wires: two hots, neutral, ground.",
        None,
    );
    for breaker in new.carries.iter().filter_map(|b| w.house.breakers.get(*b)) {
        super::retire::lift_out(w, breaker);
    }
    let (made, _) = new_one(&feeder);
    w.act(
        format!(
            "In {} the new {made} in at {}, in OFF: hots on it, neutral to the neutral bar, ground to the ground bar.",
            panel.name,
            format_poles(&new.at)
        ),
        "",
        None,
    );
    w.makes(|draft| {
        draft.place_breaker(&feeder);
        draft.add("circuit", wires)?;
        draft.add("panel", sub.clone())
    });
    w.act(
        format!(
            "In {}: hots on its lugs, the neutral to the bar on insulators, the ground to the bar on the cabinet.",
            sub.name
        ),
        "",
        None,
    );
    for moving in &moves {
        let Some(breaker) = w.house.breakers.get(moving.breaker) else { continue };
        let to = format_poles(&moving.to);
        w.act(
            format!(
                "{} to {} {to}: hot, neutral and ground over together, joined in the old cabinet with wire of their own gauge; a new breaker of {} there, in OFF.",
                w.basis.called(breaker),
                sub.name,
                breaker.amps
            ),
            "A neutral that stays behind would carry its current through the other panel (NEC 300.3(B), 312.8).",
            Some(at(breaker)),
        );
        let changed = Breaker {
            panel: sub.id,
            at: moving.to.clone(),
            frame: Some(Frame::Full),
            model: String::new(),
            terminal: None,
            as_found: false,
            ..breaker.clone()
        };
        w.makes(|draft| {
            draft.put(changed);
            breaker.at.iter().try_for_each(|at| draft.vacate(panel.id, *at))
        });
    }
    w.act(
        format!(
            "Everything in {} tightened to its label's torque, unused openings closed; {}its breakers off.",
            sub.name,
            if sub.main.is_some() { "its main on, " } else { "" }
        ),
        "NEC 110.14(D), 408.7.",
        None,
    );
    w.with("torque tool");
    w.look(
        &format!("sub-cover-{}", sub.id.0),
        format!("The cover of {} on, without pushing a breaker off.", sub.name),
        "Its shield too.",
        None,
    );
    w.look(
        &format!("sub-card-{}", sub.id.0),
        format!("The card of {} is in its door, and says where it is fed from.", sub.name),
        "NEC 408.4: whoever stands before it knows what kills it.",
        None,
    );
}
