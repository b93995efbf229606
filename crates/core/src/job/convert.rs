//! A circuit of one leg becomes one of two, or back. (handbook 5.7)

use std::collections::BTreeSet;

use super::arrange::{Arranged, Arrangement, Wish, arrange};
use super::outlet;
use super::plan::{Basis, Plan, of_a_listed_type, shares_neutral};
use super::sheet::{Sheet, at};
use crate::base::position::{Position, format_poles, parse_poles};
use crate::base::units::{Amps, NominalVolts};
use crate::base::{Invalid, Said};
use crate::edit::Draft;
use crate::house::{
    Breaker, BreakerId, Circuit, Colour, Device, Frame, Goal, House, Load, LoadId, Moving, Panel, Point, PointId,
    PointKind,
};
use crate::trace;

/// Plans it.
pub(super) fn plan(
    basis: &Basis<'_>,
    id: BreakerId,
    two_legs: bool,
    place: &[Position],
    moves: &[Moving],
) -> Result<Plan, Invalid> {
    let house = basis.house;
    let breaker = house.breakers.get(id).ok_or_else(|| Invalid::gone("breaker", id.0))?;
    let panel = house.panels.get(breaker.panel).ok_or_else(|| Invalid::gone("panel", breaker.panel.0))?;
    let volts = if two_legs { panel.supply.across() } else { 120 };
    let goal = |at: Vec<Position>, moves: Vec<Moving>| Goal::Convert { breaker: id, two_legs, at, moves };
    let title = format!("{} to {volts} V", basis.called(breaker));
    let mut plan = Plan::new(title, panel.id, goal(place.to_vec(), moves.to_vec()));
    plan.touches = std::iter::once(id).chain(moves.iter().map(|m| m.breaker)).collect();
    one_point_alone(basis, &mut plan, breaker);
    if (breaker.at.len() > 1) == two_legs {
        plan.refuse(
            "nothing-to-do",
            format!("{} has {} poles already", breaker.at_text(), breaker.at.len()),
            "the record",
            "",
        );
        return Ok(plan);
    }
    if shares_neutral(house, id) {
        plan.refuse(
            "shared-neutral",
            format!("{} shares its neutral with another circuit, which needs it", breaker.at_text()),
            "NEC 210.4 (2023, from memory)",
            "a new circuit",
        );
    }
    wires(basis, &mut plan, breaker, two_legs);
    if two_legs && place.is_empty() {
        match find_place(basis, panel, breaker)? {
            Ok(found) => {
                let at = found.room.first().and_then(|at| parse_poles(at).ok()).unwrap_or_default();
                let moves: Vec<Moving> = found
                    .moves
                    .iter()
                    .map(|m| Moving { breaker: m.breaker, to: parse_poles(&m.to).unwrap_or_default() })
                    .collect();
                plan.touches.extend(moves.iter().map(|m| m.breaker));
                plan.goal = goal(at, moves);
            }
            Err(why) => plan.refuse(
                "no-way",
                why,
                "handbook 1.2: two adjacent spaces are on two legs",
                "make room first: a tandem, or combine",
            ),
        }
    } else if !two_legs {
        plan.goal = goal(breaker.at.iter().copied().take(1).collect(), Vec::new());
    }
    if let Ok(point) = only_point(house, id) {
        let renewed = renewed(house, breaker, point, two_legs);
        parts(&mut plan, panel, &renewed, two_legs, volts);
        if renewed.device != breaker.device {
            plan.cautions.push(format!(
                "It becomes {}: what is made anew there asks for it (NEC 210.8, 210.12).",
                renewed.device.said()
            ));
        }
        if renewed.amps != breaker.amps {
            plan.cautions
                .push(format!("It becomes {}: 120 V outlets stand behind 20 A at most (NEC 210.21).", renewed.amps));
        }
    }
    for load in basis.points(id).flat_map(|p| house.loads.iter().filter(move |l| l.point == p.id)) {
        plan.cautions.push(format!("{} cannot be used there any more: it goes out of the record.", load.name));
    }
    Ok(plan)
}

/// It feeds one single point, proven, and nothing else.
fn one_point_alone(basis: &Basis<'_>, plan: &mut Plan, breaker: &Breaker) {
    let fed: Vec<String> = basis.points(breaker.id).map(|p| basis.named(p.id)).collect();
    if fed.len() > 1 {
        plan.refuse(
            "one-outlet",
            format!("{} feeds {} places: {}", breaker.at_text(), fed.len(), fed.join("; ")),
            "handbook 5.7; NEC 210.6 (2023, from memory): what stays would get the wrong voltage",
            "a new circuit for the one, or move the others to another circuit first",
        );
    } else if fed.is_empty() || !basis.is_traced(breaker.id) {
        let what = if fed.is_empty() {
            "nothing is proven to hang on it".to_owned()
        } else {
            format!("{} hangs on it", fed[0])
        };
        plan.ask(
            "tracing",
            format!(
                "Prove first that nothing else hangs on {}: {what}, and {} more points are not ruled out. Trace them: dead or live \
                 with {} off",
                breaker.at_text(),
                basis.open(breaker.id),
                breaker.at_text()
            ),
        );
    }
}

fn wires(basis: &Basis<'_>, plan: &mut Plan, breaker: &Breaker, two_legs: bool) {
    let house = basis.house;
    let circuits = house.circuits_of(breaker.id);
    let Some(circuit) = circuits.first() else {
        plan.ask(
            "colours",
            format!("Which wires come from {}: size, and the colours? Enter them with the panel", breaker.at_text()),
        );
        return;
    };
    if two_legs {
        if circuit.conductors.is_some_and(|n| n < 2) {
            plan.refuse(
                "two-conductors",
                "its cable has one insulated conductor only".into(),
                "definition",
                "a new cable",
            );
        }
        return;
    }
    // Only a white or grey conductor may be the neutral; thick ones may be marked white. [pub: NEC 200.6(A), (B)]
    let white = circuit.colours.iter().any(|c| is_white(*c)) || circuit.conductors == Some(3);
    let thick = circuit.wire.is_some_and(|w| w.number() <= 4);
    if circuit.colours.is_empty() && !white {
        plan.ask(
            "colours",
            format!(
                "Which colours have the wires of {}? Only a white or grey one may be the neutral",
                breaker.at_text()
            ),
        );
    } else if !white && !thick {
        plan.refuse(
            "no-neutral",
            format!("none of the wires of {} is white or grey: a black one re-marked white is not allowed at 6 AWG and smaller", breaker.at_text()),
            "NEC 200.6(A) (2023, from memory)",
            "a new cable with a white conductor",
        );
    }
}

/// The breaker as it becomes: protected as its place asks of what is made anew, and as its outlet's own device was; for 120 V outlets
/// no larger than they are made for.
fn renewed(house: &House, breaker: &Breaker, point: PointId, two_legs: bool) -> Breaker {
    let Some(point) = house.points.get(point) else { return breaker.clone() };
    let receptacle = point.kind == PointKind::Receptacle;
    let amps = if receptacle && !two_legs && breaker.amps.0 > 20.0 { Amps(20.0) } else { breaker.amps };
    let room = house.rooms.get(point.room).map_or("", |r| r.name.as_str());
    let asked = outlet::protection(room, point.kind, None, (two_legs, amps)).unwrap_or(Device::Plain);
    let has = point.ground_fault || point.protected_by.is_some() || breaker.device.is_ground_fault();
    let device = match (has || asked.is_ground_fault(), matches!(asked, Device::Afci | Device::Dual)) {
        (true, true) => Device::Dual,
        (true, false) => Device::Gfci,
        (false, true) => Device::Afci,
        (false, false) => Device::Plain,
    };
    Breaker { amps, device, ..breaker.clone() }
}

fn is_white(colour: Colour) -> bool {
    matches!(colour, Colour::White | Colour::WhiteMarked)
}

/// Colours of the hots at the breaker, after.
fn colours(circuit: &Circuit, two_legs: bool) -> Vec<Colour> {
    let hot = circuit.colours.iter().copied().filter(|c| !is_white(*c)).take(1);
    match (hot.collect::<Vec<_>>().as_slice(), two_legs) {
        // The white of a cable of two becomes the second hot; one of three has a red for it.
        ([hot], true) if circuit.conductors == Some(3) => vec![*hot, Colour::Red],
        ([hot], true) => vec![*hot, Colour::WhiteMarked],
        (hot, _) => hot.to_vec(),
    }
}

/// Two adjacent spaces, where the breaker's own may be one of them.
fn find_place(basis: &Basis<'_>, panel: &Panel, breaker: &Breaker) -> Result<Result<Arrangement, String>, Invalid> {
    let mut house: House = basis.house.clone();
    house.breakers.remove(breaker.id);
    let empty = panel.empty.iter().copied().chain(breaker.at.iter().copied()).collect();
    let panel = Panel { empty, ..panel.clone() };
    house.panels.put(panel.clone());
    let own = breaker.at.first().map_or(0, |p| p.space);
    let above = panel.numbers().into_iter().find(|n| panel.below(*n) == Some(own));
    let mut best: Option<Arrangement> = None;
    let mut why = String::new();
    // Where it is the wires reach: its own space and the one below or above come first among what costs the same.
    for at in [Some(own), above, None] {
        let wish = Wish::Room { poles: 2, at };
        let anywhere = at.is_none();
        match arrange(&house, &panel, &[wish], &basis.usual(), &BTreeSet::new())? {
            Arranged::Possible(found) => {
                let key = |a: &Arrangement| (a.bodies, a.wires, a.rows);
                if best.as_ref().is_none_or(|b| key(&found) < key(b)) {
                    best = Some(found);
                }
            }
            Arranged::Impossible { impossible } if anywhere => why = impossible,
            Arranged::CutOff { cut_off } if anywhere => why = cut_off,
            _ => {}
        }
    }
    Ok(best.ok_or(why))
}

fn parts(plan: &mut Plan, panel: &Panel, breaker: &Breaker, two_legs: bool, volts: u16) {
    let listed = of_a_listed_type(panel);
    let poles = if two_legs { "two-pole common-trip" } else { "one-pole" };
    let kind = if breaker.device == Device::Plain { String::new() } else { format!("{} ", breaker.device.said()) };
    plan.part(1, format!("{kind}{poles} breaker, {}, {listed}", breaker.amps));
    let outlet = outlet::configuration(two_legs, false, breaker.amps);
    plan.part(1, format!("receptacle {}, {volts} V, with its plate", outlet.unwrap_or("that matches the plug")));
    if two_legs {
        plan.part(1, "tape or sleeve to mark the white wire as hot, at both ends");
    }
}

/// What it changes.
pub(super) fn change(
    draft: &mut Draft,
    id: BreakerId,
    two_legs: bool,
    place: &[Position],
    moves: &[Moving],
) -> Result<(), Invalid> {
    if place.is_empty() {
        return Err(Invalid::new("at", "it is not said where its breaker goes"));
    }
    let breaker = draft.find::<Breaker>(id)?;
    let fed = only_point(&draft.house, id)?;
    let old = breaker.at.clone();
    draft.shift(moves)?;
    draft.place_breaker(&Breaker {
        at: place.to_vec(),
        frame: Some(Frame::Full),
        model: String::new(),
        terminal: None,
        as_found: false,
        ..renewed(&draft.house, &breaker, fed, two_legs)
    });
    old.into_iter().try_for_each(|at| draft.vacate(breaker.panel, at))?;
    let circuits: Vec<Circuit> = draft.house.circuits_of(id).into_iter().cloned().collect();
    for circuit in circuits {
        let colours = colours(&circuit, two_legs);
        draft.put(Circuit { pole: None, colours, ..circuit });
    }
    let loads: Vec<LoadId> = draft.house.loads.iter().filter(|l: &&Load| l.point == fed).map(|l| l.id).collect();
    loads.into_iter().try_for_each(|load| draft.remove_load(load))?;
    let point = draft.find::<Point>(fed)?;
    let supply = draft.house.panels.get(breaker.panel).map_or(240, |p| p.supply.across());
    let volts = match (two_legs, supply) {
        (false, _) => NominalVolts::V120,
        (true, 208) => NominalVolts::V208,
        (true, _) => NominalVolts::V240,
    };
    // The device at the old outlet goes with it: the breaker protects what is there now.
    draft.put(Point { volts: Some(volts), ground_fault: false, protected_by: None, ..point });
    Ok(())
}

fn only_point(house: &House, id: BreakerId) -> Result<PointId, Invalid> {
    let beliefs = trace::beliefs(house);
    let fed = beliefs.breakers.iter().find(|b| b.at.breaker == id).into_iter().flat_map(|b| &b.feeds);
    let mut fed = fed.filter(|f| !f.through && (f.proven || f.likely)).map(|f| f.point);
    match (fed.next(), fed.next()) {
        (Some(one), None) => Ok(one),
        _ => Err(Invalid::new("breaker", "it has to feed one single point")),
    }
}

/// Its steps.
pub(super) fn steps(sheet: &mut Sheet<'_>, basis: &Basis<'_>, breaker: &Breaker, goal: (bool, &[Position], &[Moving])) {
    let (two_legs, place, moves) = goal;
    sheet.moves(moves);
    let here = Some(at(breaker));
    let point = basis.points(breaker.id).next();
    let outlet = point.map_or_else(|| "the outlet".to_owned(), |p| basis.named(p.id));
    let at_point = point.map(|p| crate::house::MeasuredAt::Point { point: p.id });
    sheet.work(format!("Rock {} out, its wires tagged.", breaker.at_text()), "", here);
    if two_legs {
        sheet.work(
            "Take the white wire of its cable off the neutral bar, and mark it as hot: tape or sleeve, here and at the outlet.",
            "Allowed in a cable where it is marked at every end: NEC 200.7(C)(1).",
            here,
        );
        sheet.work(
            format!("The two-pole breaker in at {}, in OFF: across two legs, never both halves of one space. Both hots on it.", format_poles(place)),
            "Both halves of one space are on one leg: no 240 V.",
            here,
        );
        sheet.work(
            format!("At {outlet}: the new receptacle; both hots on its hot terminals, ground on ground."),
            "No neutral there any more.",
            at_point,
        );
    } else {
        sheet.work(
            "Take the white wire off the breaker, take its mark off at both ends, and land it on the neutral bar, one a hole.",
            "Only a white or grey wire may be the neutral: NEC 200.6(A).",
            here,
        );
        sheet.work(
            format!("The one-pole breaker in at {}, in OFF; the other hot on it.", format_poles(place)),
            "",
            here,
        );
        sheet.work(format!("At {outlet}: the 120 V receptacle; hot, neutral, ground each on its own."), "", at_point);
    }
}
