//! A circuit of one leg becomes one of two, or back. (handbook 5.7)

use std::collections::BTreeSet;

use crate::base::position::{Position, format_poles, parse_poles};
use crate::base::units::{Amps, NominalVolts};
use crate::base::{Invalid, Said};
use crate::code::{self, AmpacityColumn};
use crate::house::{
    Breaker, BreakerId, Circuit, Device, Frame, Goal, House, LoadId, MeasuredAt, Moving, Panel, Point, PointKind,
};
use crate::job::arrange::{Arranged, Arrangement, Wish, arrange};
use crate::job::cable::{Cable, is_white, named};
use crate::job::form::{Answers, BREAKER, Field, FieldSort, Kind};
use crate::job::mishaps;
use crate::job::obstacles::{NO_NEUTRAL, NO_WAY, NOTHING_TO_DO, ONE_OUTLET, SHARED_NEUTRAL, TWO_CONDUCTORS};
use crate::job::outlet;
use crate::job::plan::{Basis, Plan, of_a_listed_type, shares_neutral};
use crate::job::working::{Working, at, new_one};

pub(super) static KIND: Kind = Kind {
    name: "convert",
    group: "120 V to 240 V",
    title: "Convert a circuit",
    under: "or back; it must feed one outlet only",
    fields: &[BREAKER, Field::new("to", "To", FieldSort::Choice { choices: TO }).required().usual("240")],
    mishaps: mishaps::MOVING,
    goal,
};

const TO: &[(&str, &str)] =
    &[("240", "two legs: 240 V (208 V on a wye)"), ("208", "two legs of a wye: 208 V"), ("120", "one leg: 120 V")];

fn goal(of: &Answers<'_>) -> Result<Goal, Invalid> {
    let two_legs = of.text("to") != "120";
    Ok(Goal::Convert { breaker: of.breaker("breaker")?, two_legs, at: Vec::new(), moves: Vec::new() })
}

/// Works it out.
pub(super) fn work<'a>(
    basis: &'a Basis<'a>,
    id: BreakerId,
    two_legs: bool,
    place: &[Position],
    moves: &[Moving],
) -> Result<Working<'a>, Invalid> {
    let house = basis.house;
    let breaker = house.breakers.get(id).ok_or_else(|| Invalid::gone("breaker", id.0))?;
    let panel = house.panels.get(breaker.panel).ok_or_else(|| Invalid::gone("panel", breaker.panel.0))?;
    let volts = if two_legs { panel.supply.across() } else { 120 };
    let goal = |at: Vec<Position>, moves: Vec<Moving>| Goal::Convert { breaker: id, two_legs, at, moves };
    let title = format!("{} to {volts} V", basis.called(breaker));
    let mut w = Working::new(basis, title, panel.id, goal(place.to_vec(), moves.to_vec()));
    w.touch([id]);
    let (mut to, mut moves) = (place.to_vec(), moves.to_vec());
    one_point_alone(basis, &mut w.plan, breaker);
    if (breaker.at.len() > 1) == two_legs {
        w.plan.refuse(NOTHING_TO_DO, format!("{} has {} poles already", breaker.at_text(), breaker.at.len()));
        return Ok(w);
    }
    if shares_neutral(house, id) {
        w.plan.refuse(
            SHARED_NEUTRAL,
            format!("{} shares its neutral with another circuit, which needs it", breaker.at_text()),
        );
    }
    wires(basis, &mut w.plan, breaker, two_legs);
    if two_legs && place.is_empty() {
        match find_place(basis, panel, breaker)? {
            Ok(found) => {
                let poles = |text: &str| parse_poles(text).unwrap_or_default();
                to = found.room.first().map(|at| poles(at)).unwrap_or_default();
                moves = found.moves.iter().map(|m| Moving { breaker: m.breaker, to: poles(&m.to) }).collect();
            }
            Err(why) => w.plan.refuse_for(NO_WAY, why, "make room first: a tandem, or combine"),
        }
    } else if !two_legs {
        (to, moves) = (breaker.at.iter().copied().take(1).collect(), Vec::new());
    }
    w.touch(moves.iter().map(|m| m.breaker));
    w.plan.goal = goal(to.clone(), moves.clone());
    let points: Vec<&Point> = basis.points(id).collect();
    let renewed =
        if let [point] = points.as_slice() { Some((*point, renewed(house, breaker, point, two_legs))) } else { None };
    if let Some((_, renewed)) = &renewed {
        parts(&mut w.plan, panel, renewed, &cable_of(house, id, two_legs), volts);
        if renewed.device != breaker.device {
            w.plan.cautions.push(format!(
                "It becomes {}: what is made anew there asks for it (NEC 210.8, 210.12).",
                renewed.device.said()
            ));
        }
        if renewed.amps != breaker.amps {
            w.plan.cautions.push(format!(
                "It becomes {}: breaker, wire and receptacle belong together (NEC 210.21, 240.4).",
                renewed.amps
            ));
        }
    }
    for load in basis.points(id).flat_map(|p| house.loads.iter().filter(move |l| l.point == p.id)) {
        w.plan.cautions.push(format!("{} cannot be used there any more: it goes out of the record.", load.name));
    }
    if to.is_empty() {
        w.plan.unfit(Invalid::new("at", "it is not said where its breaker goes"));
    }
    if let (Some((point, renewed)), true) = (renewed, w.is_open()) {
        let new = Breaker {
            at: to,
            frame: Some(Frame::Full),
            model: String::new(),
            terminal: None,
            as_found: false,
            ..renewed
        };
        // Out first: another may go to its place.
        w.act(format!("Rock {} out, its wires tagged.", breaker.at_text()), "", Some(at(breaker)));
        w.moves(&moves);
        acts(&mut w, breaker, &new, point);
    }
    Ok(w)
}

/// It feeds one single point, proven, and nothing else.
fn one_point_alone(basis: &Basis<'_>, plan: &mut Plan, breaker: &Breaker) {
    let fed: Vec<String> = basis.points(breaker.id).map(|p| basis.named(p.id)).collect();
    if fed.len() > 1 {
        plan.refuse(ONE_OUTLET, format!("{} feeds {} places: {}", breaker.at_text(), fed.len(), fed.join("; ")));
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
        if circuit.conductors.is_none() && circuit.colours.len() < 2 {
            plan.ask(
                "colours",
                format!(
                    "How many conductors has the cable of {}, and of which colours? Enter them first",
                    breaker.at_text()
                ),
            );
        }
        if circuit.conductors.is_some_and(|n| n < 2) {
            plan.refuse(TWO_CONDUCTORS, "its cable has one insulated conductor only");
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
            NO_NEUTRAL,
            format!("none of the wires of {} is white or grey: a black one re-marked white is not allowed at 6 AWG and smaller", breaker.at_text()),
        );
    }
}

/// The breaker as it becomes: protected as its place asks of what is made anew, and as its outlet's own device was; for 120 V outlets
/// no larger than they are made for.
fn renewed(house: &House, breaker: &Breaker, point: &Point, two_legs: bool) -> Breaker {
    let amps = if point.kind == PointKind::Receptacle { belonging(house, breaker, two_legs) } else { breaker.amps };
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

/// Breaker, wire and receptacle that belong together: the largest rating that a receptacle comes in, the wire carries and the breaker had.
/// [pub: NEC 210.21(B), 240.4, NEMA WD 6, value from memory]
fn belonging(house: &House, breaker: &Breaker, two_legs: bool) -> Amps {
    let wires = house.circuits_of(breaker.id);
    let carried = |c: &&Circuit| Some(code::largest_breaker(c.wire?, c.metal, AmpacityColumn::C60)?.0);
    let most = wires.iter().filter_map(carried).fold(breaker.amps.0, f64::min);
    let comes = |amps: &f64| outlet::configuration(1 + usize::from(two_legs), false, Amps(*amps)).is_some();
    let rating = code::STANDARD_RATINGS.iter().rev().copied().filter(|amps| *amps <= most).find(comes);
    rating.map_or(breaker.amps, Amps)
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
        match arrange(&house, &panel, &[wish], &basis.usual(), &BTreeSet::new(), &[])? {
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

fn parts(plan: &mut Plan, panel: &Panel, breaker: &Breaker, cable: &Cable, volts: u16) {
    let two_legs = !cable.neutral;
    let listed = of_a_listed_type(panel);
    let poles = if two_legs { "two-pole common-trip" } else { "one-pole" };
    let kind = if breaker.device == Device::Plain { String::new() } else { format!("{} ", breaker.device.said()) };
    plan.part(1, format!("{kind}{poles} breaker, {}, {listed}", breaker.amps));
    let outlet = outlet::configuration(1 + usize::from(two_legs), false, breaker.amps);
    plan.part(1, format!("receptacle {}, {volts} V, with its plate", outlet.unwrap_or("that matches the plug")));
    if cable.spare.is_some() {
        plan.part(2, "connector or cap for the wire that is not used any more, one at each end");
    } else if two_legs {
        plan.part(1, "tape or sleeve to mark the white wire as hot, at both ends");
    }
}

/// What becomes of the wires of a breaker.
fn cable_of(house: &House, id: BreakerId, two_legs: bool) -> Cable {
    let wires = house.circuits_of(id);
    wires.first().map_or_else(|| Cable::new(1 + usize::from(two_legs), false), |wire| Cable::converted(wire, two_legs))
}

fn acts(w: &mut Working<'_>, breaker: &Breaker, new: &Breaker, point: &Point) {
    let (house, here) = (w.house, Some(at(breaker)));
    let two_legs = new.at.len() > 1;
    let (made, neutral) = new_one(new);
    let outlet = w.basis.named(point.id);
    let wires: Vec<Circuit> = house.circuits_of(breaker.id).into_iter().cloned().collect();
    let cable = cable_of(house, breaker.id, two_legs);
    let hots = cable.hots.iter().map(|c| named(*c)).collect::<Vec<_>>();
    // What nobody looked at has no colour.
    let hots = if hots.is_empty() { String::new() } else { format!(": {}", hots.join(" and ")) };
    if two_legs && cable.spare.is_some() {
        w.act(
            "Take the white wire of its cable off the neutral bar: it is not used any more. Cap it by itself, here and at the outlet; the \
             red is the second hot.",
            "A cable of three has its own second hot. What is not used is capped at both ends, and never cut short.",
            here,
        );
    } else if two_legs {
        w.act(
            "Take the white wire of its cable off the neutral bar, and mark it as hot: tape or sleeve, here and at the outlet.",
            "Allowed in a cable where it is marked at every end: NEC 200.7(C)(1).",
            here,
        );
    } else {
        let lands = if neutral.is_empty() { "land it on the neutral bar, one a hole" } else { "keep it with its hot" };
        let what = match cable.spare {
            Some(_) => format!(
                "Take both hots off. The red is not used any more: cap it by itself, here and at the outlet. The white is the neutral now, capped or on the bar until then: {lands}."
            ),
            None => format!("Take the white wire off the breaker, take its mark off at both ends, and {lands}."),
        };
        w.act(what, "Only a white or grey wire may be the neutral: NEC 200.6(A).", here);
    }
    let to = format_poles(&new.at);
    if two_legs {
        w.act(
            format!("The {made} in at {to}, in OFF: across two legs, never both halves of one space. Both hots on it{hots}.{neutral}"),
            "Both halves of one space are on one leg: no 240 V.",
            here,
        );
    } else {
        w.act(format!("The {made} in at {to}, in OFF; the hot on it{hots}.{neutral}"), "", here);
    }
    w.makes(|draft| {
        draft.place_breaker(new);
        breaker.at.iter().try_for_each(|at| draft.vacate(breaker.panel, *at))?;
        for wire in wires {
            let colours = Cable::converted(&wire, two_legs).hots;
            draft.put(Circuit { pole: None, colours, ..wire });
        }
        Ok(())
    });
    let at_point = Some(MeasuredAt::Point { point: point.id });
    if two_legs {
        let what = format!("At {outlet}: the new receptacle; both hots on its hot terminals, ground on ground.");
        w.act(what, "No neutral there any more.", at_point);
    } else {
        w.act(format!("At {outlet}: the 120 V receptacle; hot, neutral, ground each on its own."), "", at_point);
    }
    let loads: Vec<LoadId> = house.loads.iter().filter(|l| l.point == point.id).map(|l| l.id).collect();
    let across = house.panels.get(breaker.panel).map_or(240, |p| p.supply.across());
    let volts = match (two_legs, across) {
        (false, _) => NominalVolts::V120,
        (true, 208) => NominalVolts::V208,
        (true, _) => NominalVolts::V240,
    };
    w.makes(|draft| {
        loads.into_iter().try_for_each(|load| draft.remove_load(load))?;
        // The device at the old outlet goes with it: the breaker protects what is there now.
        let now = draft.find::<Point>(point.id)?;
        draft.put(Point { volts: Some(volts), ground_fault: false, protected_by: None, ..now });
        Ok(())
    });
    if new.device.is_protected() {
        w.look_at_the_button(new);
    }
}
