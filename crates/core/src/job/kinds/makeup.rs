//! A new panel: in place of an old one, or laid out before anything stands in it. (handbook 5.9)

use crate::base::position::{Half, Position, format_poles};
use crate::base::units::{Amps, BUS_RATING, MAIN_RATING, SPACES};
use crate::base::{Invalid, Said};
use crate::edit::notation;
use crate::house::{
    Breaker, BreakerId, Circuit, CircuitId, Device, Frame, Goal, ListedCircuit, Moving, Panel, PanelId, TandemSpaces,
};
use crate::job::cable::Cable;
use crate::job::form::{Answers, Field, FieldSort, Kind, PANEL};
use crate::job::lay::{self, ToSeat};
use crate::job::mishaps;
use crate::job::obstacles::{NOTHING_TO_DO, SUPPLY, TOO_FEW_SPACES};
use crate::job::plan::{Basis, counted_poles};
use crate::job::working::{Working, new_one};
use crate::rules::{self, Facts};

pub(super) static KIND: Kind = Kind {
    name: "makeup",
    group: "Tidy up the panel",
    title: "A new panel",
    under: "where every breaker goes in it",
    fields: &[
        PANEL,
        Field::new("spaces", "The new one has", FieldSort::Number { limits: &SPACES }).required(),
        Field::new("bus", "Its bus, if it differs", FieldSort::Number { limits: &BUS_RATING }),
        Field::new("main", "Its main, if it differs", FieldSort::Number { limits: &MAIN_RATING }),
        Field::new("half-sizes", "Takes half-size breakers in", FieldSort::HalfSizes)
            .rare()
            .usual("none")
            .help("none, all, or spaces as 7,8: its label says"),
        Field::new("circuits", "New circuits in it", FieldSort::Text)
            .help("as 2p50 6-3 range; 2p20 tie 12-3 counter; 15 14-2 lights"),
    ],
    mishaps: mishaps::MOVING,
    goal,
};

fn goal(of: &Answers<'_>) -> Result<Goal, Invalid> {
    let first = if of.house.panels.is_empty() { Some(first(of)?) } else { None };
    let old = first.as_ref().map_or_else(|| of.panel(), Ok)?;
    let panel = Panel {
        spaces: of.number("spaces").unwrap_or_default() as u16,
        bus: of.number("bus").map_or(old.bus, Amps),
        main: of.number("main").map(Amps).or(old.main),
        // What the old one's label said is not what the new one's says.
        tandem: of.half_sizes("half-sizes")?,
        tandem_known: None,
        max_circuits: None,
        listed: Vec::new(),
        model: String::new(),
        empty: [].into(),
        ..old.clone()
    };
    let lines = of.text("circuits").split([';', '\n']).map(str::trim).filter(|line| !line.is_empty());
    let more = lines.zip(of.first..).map(|(text, id)| ListedCircuit {
        breaker: BreakerId(id),
        circuit: CircuitId(id),
        text: text.to_owned(),
    });
    Ok(Goal::Makeup { panel, more: more.collect(), moves: Vec::new() })
}

/// The first panel of a house: nothing is taken over from an old one, so its rating is asked.
fn first(of: &Answers<'_>) -> Result<Panel, Invalid> {
    let rating = of.number("main").or(of.number("bus")).map(Amps);
    let rating =
        rating.ok_or_else(|| Invalid::new("main", "no panel is entered to take it from: what is its main?"))?;
    Ok(Panel { bus: rating, main: Some(rating), ..Panel::new(PanelId(of.first), "Main", 0) })
}

/// What is new in it.
struct FromList {
    breakers: Vec<Breaker>,
    circuits: Vec<Circuit>,
}

/// Reads what is written.
fn listed(panel: &Panel, more: &[ListedCircuit]) -> Result<FromList, Invalid> {
    let mut all = FromList { breakers: Vec::new(), circuits: Vec::new() };
    for (nth, line) in more.iter().enumerate() {
        let no = |e: Invalid| Invalid::new("circuits", format!("circuit {}: {}", nth + 1, e.message));
        let of = notation::listed(&line.text).map_err(no)?;
        // Its places are found: so many as it has poles.
        let at = (0..of.poles).map(|pole| Position::whole(1 + 2 * pole as u16)).collect();
        all.breakers.push(Breaker {
            device: of.device,
            trip: of.trip,
            label: of.label.clone(),
            ..Breaker::new(line.breaker, panel.id, at, of.amps)
        });
        if let Some((wire, conductors, metal)) = of.cable {
            let colours = Cable::new(of.poles, conductors == Some(of.poles as u8 + 1)).hots;
            let wires = Circuit::new(line.circuit, line.breaker);
            all.circuits.push(Circuit { wire: Some(wire), conductors, metal, colours, ..wires });
        }
    }
    Ok(all)
}

/// Works it out.
pub(super) fn work<'a>(
    basis: &'a Basis<'a>,
    new: &Panel,
    more: &[ListedCircuit],
    moves: &[Moving],
) -> Result<Working<'a>, Invalid> {
    let house = basis.house;
    let old = house.panels.get(new.id).ok_or_else(|| Invalid::gone("panel", new.id.0))?;
    let goal = |moves: &[Moving]| Goal::Makeup { panel: new.clone(), more: more.to_vec(), moves: moves.to_vec() };
    let mut w = Working::new(basis, format!("Make up {}", old.name), old.id, goal(moves));
    let listed = listed(new, more)?;
    let facts = Facts { house, hangs: &basis.beliefs.hangs() };
    let stand: Vec<Breaker> = house.breakers_of(old.id).into_iter().map(|b| renewed(&facts, b)).collect();
    w.touch(stand.iter().map(|b| b.id));
    (w.licensed, w.panel_goes) = (Some("the utility cuts the power for it"), true);
    if new.supply != old.supply || new.fed_by != old.fed_by {
        w.plan.refuse(SUPPLY, "a new panel hangs on the same supply");
    }
    if stand.is_empty() && listed.breakers.is_empty() {
        let what = "Name the circuits that come into it";
        w.plan.refuse_for(NOTHING_TO_DO, format!("nothing stands in {} yet, and no circuit is named", old.name), what);
    }
    let all: Vec<ToSeat<'_>> = stand.iter().chain(&listed.breakers).map(|b| ToSeat::of(basis, b)).collect();
    let poles: usize = all.iter().map(|b| b.poles).sum();
    let found = if moves.is_empty() { lay::seats(new, lay::units(house, &all)) } else { Some(moves.to_vec()) };
    if found.is_none() {
        let halves = if new.tandem == TandemSpaces::None { "" } else { ", with its half-size places" };
        w.plan.refuse(
            TOO_FEW_SPACES,
            format!("{} need as many places, and the new panel has {}{halves}", counted_poles(poles), new.spaces),
        );
    }
    if let Some(moves) = &found {
        let free = usize::from(new.spaces).saturating_sub(lay::spaces_taken(moves));
        w.plan.cautions.push(format!("{free} spaces are left: keep some, a house grows."));
    }
    let moves = found.unwrap_or_default();
    w.plan.goal = goal(&moves);
    w.plan.part(1, format!("panel, {} spaces, bus of {}", new.spaces, new.bus));
    let is_half = |b: BreakerId| moves.iter().any(|m| m.breaker == b && m.to.iter().any(|p| p.half != Half::Whole));
    for breaker in stand.iter().chain(&listed.breakers) {
        let size = if is_half(breaker.id) { "half-size, one body with another: " } else { "" };
        let (kind, poles) = (breaker.device.said(), counted_poles(breaker.at.len()));
        w.plan.part(1, format!("{size}{kind} breaker, {poles}, {}, listed for the new panel", breaker.amps));
    }
    if w.is_open() {
        acts(&mut w, old, new, &moves, (&stand, &listed));
    }
    Ok(w)
}

/// What stands in place of a breaker or fuse: a breaker of a rating that suits what hangs on it.
fn renewed(facts: &Facts<'_>, breaker: &Breaker) -> Breaker {
    let device = if breaker.device == Device::Fuse { Device::Plain } else { breaker.device };
    Breaker { device, amps: rules::rating(facts, breaker), ..breaker.clone() }
}

fn acts(w: &mut Working<'_>, old: &Panel, new: &Panel, moves: &[Moving], (stand, listed): (&[Breaker], &FromList)) {
    w.act(
        "Every cable gets its label outside the cabinet, then the label goes on to its wires.",
        "What is known now is lost once they hang free.",
        None,
    );
    w.act(
        "Hot and its neutral of each circuit tagged together.",
        "A later ground-fault or arc-fault breaker needs the pair.",
        None,
    );
    let hang = if stand.is_empty() { "The panel hung:" } else { "Old panel out, new one in:" };
    w.act(format!("{hang} plumb, in its place, knockouts out only where a breaker stands."), "NEC 110.12(A).", None);
    let taken = |space: u16| moves.iter().any(|m| m.to.iter().any(|p| p.space == space));
    let empty = new.numbers().into_iter().filter(|s| !taken(*s)).map(Position::whole).collect();
    w.makes(|draft| {
        draft.put(Panel { empty, place: old.place, printed: old.printed.clone(), ..new.clone() });
        Ok(())
    });
    w.act("Grounds first, bundled, from the far end of their bar; then the neutrals, one a hole.", "NEC 408.41.", None);
    for moving in moves {
        let fresh = listed.breakers.iter().find(|b| b.id == moving.breaker);
        let Some(breaker) = stand.iter().find(|b| b.id == moving.breaker).or(fresh) else {
            w.plan.unfit(Invalid::gone("breaker", moving.breaker.0));
            continue;
        };
        let half = moving.to.iter().any(|p| p.half != Half::Whole);
        // Its breakers are new ones, of types that the new panel lists.
        let made = Breaker {
            at: moving.to.clone(),
            frame: Some(if half { Frame::Half } else { Frame::Full }),
            model: String::new(),
            terminal: None,
            as_found: false,
            ..breaker.clone()
        };
        let (words, neutral) = new_one(&made);
        let what = match fresh {
            Some(new) => if new.label.is_empty() { "The new circuit" } else { new.label.as_str() }.to_owned(),
            None => w.basis.called(breaker),
        };
        let with = if half { ", half of a body" } else { "" };
        w.act(
            format!(
                "{what} to {}: new {words} in{with}, in OFF; its wires with a loop to spare.{neutral}",
                format_poles(&moving.to)
            ),
            "",
            None,
        );
        let wires = listed.circuits.iter().find(|c| c.breaker == made.id).cloned();
        w.makes(|draft| {
            draft.put(made);
            wires.map_or(Ok(()), |wires| draft.add("circuit", wires))
        });
    }
    w.act(
        "Neutral and ground: bonded in the first panel, apart in every other one.",
        "NEC 250.24, 250.142(B), 408.40.",
        None,
    );
    w.act("Everything tightened last, to the labels' torque; covered until then.", "", None);
}
