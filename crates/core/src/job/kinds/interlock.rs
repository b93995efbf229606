//! An interlock kit for a generator's inlet that is there. (handbook 5.11)

use std::collections::BTreeSet;

use crate::base::Invalid;
use crate::base::position::{Position, format_poles, parse_poles};
use crate::edit::{Draft, MayFeed};
use crate::house::{Breaker, BreakerId, Goal, Handle, Moving, Panel};
use crate::job::arrange::{Arranged, Wish, arrange};
use crate::job::form::{Answers, BREAKER, Field, FieldSort, Kind};
use crate::job::mishaps;
use crate::job::obstacles::{INTERLOCK, NO_MAIN, NO_WAY, NOT_AN_INLET};
use crate::job::plan::Basis;
use crate::job::working::{Working, at};

pub(super) static KIND: Kind = Kind {
    name: "interlock",
    group: "Something new to connect",
    title: "An interlock kit",
    under: "for a generator's inlet that is there",
    fields: &[
        BREAKER,
        Field::new("at", "The kit asks for spaces", FieldSort::Poles).help("as 2-4"),
        Field::new("listed", "Kit listed for this panel?", FieldSort::YesNo),
    ],
    mishaps: mishaps::MOVING,
    goal: |of: &Answers<'_>| {
        Ok(Goal::Interlock {
            breaker: of.breaker("breaker")?,
            at: of.poles("at")?,
            listed: of.yes_no("listed"),
            moves: Vec::new(),
        })
    },
};

/// Works it out.
pub(super) fn work<'a>(
    basis: &'a Basis<'a>,
    id: BreakerId,
    to: &[Position],
    listed: Option<bool>,
    moves: &[Moving],
) -> Result<Working<'a>, Invalid> {
    let house = basis.house;
    let inlet = house.breakers.get(id).ok_or_else(|| Invalid::gone("breaker", id.0))?;
    let panel = house.panels.get(inlet.panel).ok_or_else(|| Invalid::gone("panel", inlet.panel.0))?;
    let goal = |moves: &[Moving]| Goal::Interlock { breaker: id, at: to.to_vec(), listed, moves: moves.to_vec() };
    let mut w = Working::new(basis, format!("An interlock at {}", panel.name), panel.id, goal(moves));
    (w.licensed, w.stays_off) = (Some("a second source on the panel"), true);
    w.touch([id]);
    if !house.inlets(panel.id).iter().any(|b| b.id == id) {
        w.plan.refuse(NOT_AN_INLET, format!("{} is not known as a generator's inlet", basis.called(inlet)));
    }
    if panel.main.is_none() {
        w.plan.refuse(NO_MAIN, format!("{} has no main breaker of its own that an interlock could hold", panel.name));
    }
    match listed {
        None => w.plan.ask("listed", "Is the kit listed for this very panel? Its sheet, or the panel's label, says"),
        Some(false) => w.plan.refuse(INTERLOCK, "a kit that is not listed for this panel may let both be on at once"),
        Some(true) => {}
    }
    let mut found = moves.to_vec();
    if to.is_empty() {
        w.plan.ask("at", "Which two spaces does the kit ask for? Mostly those beside the main");
    } else if to.len() != inlet.at.len() || to.iter().any(|p| !panel.has(p.space)) {
        return Err(Invalid::new("at", "two spaces of the panel, one below the other, please"));
    } else if inlet.at != to && moves.is_empty() {
        match moved(basis, panel, inlet, to)? {
            Ok(all) => found = all,
            Err(why) => w.plan.refuse_for(NO_WAY, why, "a transfer switch, or room there first"),
        }
    }
    w.plan.goal = goal(&found);
    w.touch(found.iter().map(|m| m.breaker));
    w.plan.part(1, "interlock kit that is listed for this panel");
    w.plan.part(1, "hold-down kit for the inlet's breaker, where it has none (NEC 408.36(D))");
    if w.is_open() {
        acts(&mut w, inlet, &found);
    }
    Ok(w)
}

/// What moves so that the inlet's breaker stands where the kit asks for it.
fn moved(
    basis: &Basis<'_>,
    panel: &Panel,
    inlet: &Breaker,
    to: &[Position],
) -> Result<Result<Vec<Moving>, String>, Invalid> {
    let mut draft = Draft::new(basis.house, |_| MayFeed::new());
    draft.remove_breaker(inlet.id)?;
    inlet.at.iter().try_for_each(|at| draft.vacate(panel.id, *at))?;
    let Some(left) = draft.house.panels.get(panel.id) else { return Ok(Err("the panel is gone".into())) };
    let wish = Wish::Room { poles: to.len() as u8, at: Some(to[0].space) };
    Ok(match arrange(&draft.house, left, &[wish], &basis.usual(), &BTreeSet::new(), &[])? {
        Arranged::Possible(found) => {
            let others =
                found.moves.iter().map(|m| Moving { breaker: m.breaker, to: parse_poles(&m.to).unwrap_or_default() });
            Ok(others.chain([Moving { breaker: inlet.id, to: to.to_vec() }]).collect())
        }
        Arranged::Impossible { impossible: why } | Arranged::CutOff { cut_off: why } => Err(why),
    })
}

fn acts(w: &mut Working<'_>, inlet: &Breaker, moves: &[Moving]) {
    w.moves(moves);
    let place = Some(at(inlet));
    w.act(
        "The hold-down on the inlet's breaker.",
        "Fed from its load side it must not come off the bus: NEC 408.36(D).",
        place,
    );
    let to = moves.iter().find(|m| m.breaker == inlet.id).map_or(&inlet.at, |m| &m.to).clone();
    let label =
        if inlet.label.trim().is_empty() { "generator inlet, interlocked".to_owned() } else { inlet.label.clone() };
    let made = Breaker { at: to.clone(), inlet: true, handle: Handle::Off, label, ..inlet.clone() };
    w.makes(|draft| {
        draft.put(made);
        Ok(())
    });
    w.act(
        format!(
            "The interlock on the cover, as its sheet shows: it slides between the main and {}.",
            format_poles(&to)
        ),
        "NEC 702.5.",
        None,
    );
    w.look(
        "interlock",
        "Main on: the generator's breaker cannot be switched on. Main off: it can, and then the main cannot.",
        "Both at once feed the street.",
        None,
    );
}
