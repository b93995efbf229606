//! A new panel in place of an old one. (handbook 5.9)

use std::collections::BTreeSet;

use crate::base::position::{Position, format_poles};
use crate::base::units::{Amps, BUS_RATING, MAIN_RATING, SPACES};
use crate::base::{Invalid, Said};
use crate::house::{Breaker, BreakerId, Device, Frame, Goal, House, Moving, Panel, TandemSpaces};
use crate::job::form::{Answers, Field, FieldSort, Kind, PANEL};
use crate::job::mishaps;
use crate::job::obstacles::{SUPPLY, TOO_FEW_SPACES};
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
        Field::new("main", "Its main, if it differs", FieldSort::Number { limits: &MAIN_RATING }).rare(),
    ],
    mishaps: mishaps::MOVING,
    goal,
};

fn goal(of: &Answers<'_>) -> Result<Goal, Invalid> {
    let old = of.panel()?;
    let panel = Panel {
        spaces: of.number("spaces").unwrap_or_default() as u16,
        bus: of.number("bus").map_or(old.bus, Amps),
        main: of.number("main").map(Amps).or(old.main),
        // What the old one's label said is not what the new one's says.
        tandem: TandemSpaces::None,
        tandem_known: None,
        max_circuits: None,
        listed: Vec::new(),
        model: String::new(),
        empty: [].into(),
        ..old.clone()
    };
    Ok(Goal::Makeup { panel, moves: Vec::new() })
}

/// Works it out.
pub(super) fn work<'a>(basis: &'a Basis<'a>, new: &Panel, moves: &[Moving]) -> Result<Working<'a>, Invalid> {
    let house = basis.house;
    let old = house.panels.get(new.id).ok_or_else(|| Invalid::gone("panel", new.id.0))?;
    let goal = |moves: &[Moving]| Goal::Makeup { panel: new.clone(), moves: moves.to_vec() };
    let mut w = Working::new(basis, format!("Make up {}", old.name), old.id, goal(moves));
    let all = house.breakers_of(old.id);
    w.touch(all.iter().map(|b| b.id));
    (w.licensed, w.panel_goes) = (Some("the utility cuts the power for it"), true);
    if new.supply != old.supply || new.fed_by != old.fed_by {
        w.plan.refuse(SUPPLY, "a new panel hangs on the same supply");
    }
    let poles: usize = all.iter().map(|b| b.at.len()).sum();
    let found = if moves.is_empty() { seats(basis, new, units(house, &all)) } else { Some(moves.to_vec()) };
    if found.is_none() {
        w.plan.refuse(
            TOO_FEW_SPACES,
            format!("{} need as many spaces, and the new panel has {}", counted_poles(poles), new.spaces),
        );
    }
    let moves = found.unwrap_or_default();
    w.plan.goal = goal(&moves);
    let free = usize::from(new.spaces).saturating_sub(poles);
    w.plan.cautions.push(format!("{free} spaces are left: keep some, a house grows."));
    w.plan.part(1, format!("panel, {} spaces, bus of {}", new.spaces, new.bus));
    let facts = Facts { house, hangs: &basis.beliefs.hangs() };
    for breaker in all.into_iter().map(|b| renewed(&facts, b)) {
        let (kind, poles) = (breaker.device.said(), counted_poles(breaker.at.len()));
        w.plan.part(1, format!("{kind} breaker, {poles}, {}, listed for the new panel", breaker.amps));
    }
    if w.is_open() {
        acts(&mut w, old, new, &moves, &facts);
    }
    Ok(w)
}

/// Where breakers go: large ones near the main, pairs that share a neutral side by side, singles so that legs balance.
pub(super) fn seats(basis: &Basis<'_>, new: &Panel, mut units: Vec<Vec<&Breaker>>) -> Option<Vec<Moving>> {
    let usual = basis.usual();
    let load = |b: &Breaker| usual.get(&b.id).map_or(b.amps.0 / 2.0, |a| a.0);
    let mut free: Vec<u16> = new.numbers();
    let by_row = |space: &u16| (new.place(*space).1, *space);
    free.sort_by_key(by_row);
    let mut sums = [0.0_f64; 3];
    let mut moves: Vec<Moving> = Vec::new();
    let seat = |units: &[&Breaker], free: &mut Vec<u16>, sums: &mut [f64; 3], moves: &mut Vec<Moving>| {
        let poles: usize = units.iter().map(|b| b.at.len()).sum();
        let runs = free.iter().filter_map(|top| {
            let run: Vec<u16> = std::iter::successors(Some(*top), |s| new.below(*s)).take(poles).collect();
            (run.len() == poles && run.iter().all(|s| free.contains(s))).then_some(run)
        });
        // Of one pole what evens the legs, of several what is nearest to the main.
        let cost = |run: &Vec<u16>| if poles == 1 { sums[new.leg(Position::whole(run[0])) as usize] } else { 0.0 };
        let best = runs.min_by(|a, b| cost(a).total_cmp(&cost(b)).then(by_row(&a[0]).cmp(&by_row(&b[0]))))?;
        free.retain(|s| !best.contains(s));
        let mut spaces = best.into_iter().map(Position::whole);
        for breaker in units {
            let to: Vec<Position> = spaces.by_ref().take(breaker.at.len()).collect();
            to.iter().for_each(|p| sums[new.leg(*p) as usize] += load(breaker));
            moves.push(Moving { breaker: breaker.id, to });
        }
        Some(())
    };
    units.sort_by(|a, b| {
        let key = |u: &Vec<&Breaker>| {
            (u.iter().map(|b| b.at.len()).sum::<usize>(), u.iter().map(|b| b.amps.0).fold(0.0, f64::max))
        };
        key(b).0.cmp(&key(a).0).then(key(b).1.total_cmp(&key(a).1))
    });
    for unit in &units {
        seat(unit, &mut free, &mut sums, &mut moves)?;
    }
    moves.sort_by_key(|m| m.to.clone());
    Some(moves)
}

/// Breakers that stand together: alone, or those that share a neutral.
pub(super) fn units<'a>(house: &'a House, breakers: &[&'a Breaker]) -> Vec<Vec<&'a Breaker>> {
    let mut seated: BTreeSet<BreakerId> = BTreeSet::new();
    let mut units = Vec::new();
    for breaker in breakers {
        let sharing = house.circuits_of(breaker.id).into_iter().flat_map(|c| house.sharing_neutral(c));
        let mates: BTreeSet<BreakerId> = sharing.map(|c| c.breaker).chain([breaker.id]).collect();
        let unit: Vec<&Breaker> =
            breakers.iter().copied().filter(|b| mates.contains(&b.id) && !seated.contains(&b.id)).collect();
        seated.extend(unit.iter().map(|b| b.id));
        if !unit.is_empty() {
            units.push(unit);
        }
    }
    units
}

/// What stands in place of a breaker or fuse: a breaker of a rating that suits what hangs on it.
fn renewed(facts: &Facts<'_>, breaker: &Breaker) -> Breaker {
    let device = if breaker.device == Device::Fuse { Device::Plain } else { breaker.device };
    Breaker { device, amps: rules::rating(facts, breaker), ..breaker.clone() }
}

fn acts(w: &mut Working<'_>, old: &Panel, new: &Panel, moves: &[Moving], facts: &Facts<'_>) {
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
    w.act(
        "Old panel out, new one in: plumb, in its place, knockouts out only where a breaker stands.",
        "NEC 110.12(A).",
        None,
    );
    let taken = |space: u16| moves.iter().any(|m| m.to.iter().any(|p| p.space == space));
    let empty = new.numbers().into_iter().filter(|s| !taken(*s)).map(Position::whole).collect();
    w.makes(|draft| {
        draft.put(Panel { empty, place: old.place, printed: old.printed.clone(), ..new.clone() });
        Ok(())
    });
    w.act("Grounds first, bundled, from the far end of their bar; then the neutrals, one a hole.", "NEC 408.41.", None);
    for moving in moves {
        let Some(breaker) = w.house.breakers.get(moving.breaker) else {
            w.plan.unfit(Invalid::gone("breaker", moving.breaker.0));
            continue;
        };
        // Its breakers are new ones, of types that the new panel lists.
        let made = Breaker {
            at: moving.to.clone(),
            frame: Some(Frame::Full),
            model: String::new(),
            terminal: None,
            as_found: false,
            ..renewed(facts, breaker)
        };
        let (words, neutral) = new_one(&made);
        w.act(
            format!(
                "{} to {}: new {words} in, in OFF; its wires with a loop to spare.{neutral}",
                w.basis.called(breaker),
                format_poles(&moving.to)
            ),
            "",
            None,
        );
        w.makes(|draft| {
            draft.put(made);
            Ok(())
        });
    }
    w.act(
        "Neutral and ground: bonded in the first panel, apart in every other one.",
        "NEC 250.24, 250.142(B), 408.40.",
        None,
    );
    w.act("Everything tightened last, to the labels' torque; covered until then.", "", None);
}
