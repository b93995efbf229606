//! Breakers change places, for room or for even legs. (handbook 5.12, 7)

use std::collections::BTreeSet;

use super::room::{self, Making};
use crate::base::Invalid;
use crate::house::{BreakerId, Goal, MakeRoom, PanelId};
use crate::job::arrange::Wish;
use crate::job::form::{Answers, Field, FieldSort, Kind, PANEL};
use crate::job::mishaps;
use crate::job::obstacles::{NO_WAY, NOTHING_TO_DO};
use crate::job::plan::Basis;
use crate::job::working::Working;

pub(super) static KIND: Kind = Kind {
    name: "rearrange",
    group: "I need a space",
    title: "Make room by moving breakers",
    under: "the fewest that have to move, proven",
    fields: &[
        PANEL,
        Field::new("for", "Room for", FieldSort::Wishes)
            .required()
            .usual("2p")
            .help("1p, 2p, 3p, at a space 5=2p, or balance; may be given again"),
        FIXED,
    ],
    mishaps: mishaps::MOVING,
    goal: |of| goal(of, of.texts("for")),
};

pub(super) static BALANCE: Kind = Kind {
    name: "balance",
    group: "Tidy up the panel",
    title: "Even legs",
    under: "by moving the fewest breakers",
    fields: &[PANEL, FIXED],
    mishaps: mishaps::MOVING,
    goal: |of| goal(of, vec!["balance".to_owned()]),
};

const FIXED: Field = Field::new("fixed", "Stay where they are", FieldSort::Breakers).rare();

fn goal(of: &Answers<'_>, wishes: Vec<String>) -> Result<Goal, Invalid> {
    let (panel, fixed) = (of.panel()?.id, of.breakers("fixed")?);
    Ok(Goal::Rearrange { panel, wishes, fixed, room: MakeRoom::default() })
}

/// Works it out. For room, what changes what there is stands beside: half-size breakers in place of whole ones, two circuits on one.
pub(super) fn work<'a>(
    basis: &'a Basis<'a>,
    id: PanelId,
    wishes: &[String],
    fixed: &BTreeSet<BreakerId>,
    made: &MakeRoom,
) -> Result<Working<'a>, Invalid> {
    let panel = basis.house.panels.get(id).ok_or_else(|| Invalid::gone("panel", id.0))?;
    let goal = |room: MakeRoom| Goal::Rearrange { panel: id, wishes: wishes.to_vec(), fixed: fixed.clone(), room };
    let mut w = Working::new(basis, format!("Rearrange {}", panel.name), id, goal(made.clone()));
    let asked: Vec<Wish> = wishes.iter().map(|w| Wish::parse(w)).collect::<Result<_, _>>()?;
    let mut room = made.clone();
    if !asked.is_empty() {
        let making = Making { house: basis.house, panel, wishes: &asked, fixed, leave: &made.leave };
        match room::ways(basis, making, &[])? {
            Ok(found) => {
                if let (true, Some(first)) = (made.is_open(), found.first()) {
                    room = first.room.clone();
                }
                let way = |made: room::MadeRoom| {
                    let chosen = made.room == room;
                    made.way(goal, chosen)
                };
                w.plan.ways = found.into_iter().map(way).collect();
            }
            Err(why) if made.is_open() => {
                w.plan.refuse(NO_WAY, why);
            }
            Err(_) => {}
        }
    }
    w.plan.goal = goal(room.clone());
    room::acts(&mut w, &room)?;
    if let Some(gone) = w.plan.touches.iter().find(|b| basis.house.breakers.get(**b).is_none_or(|b| b.panel != id)) {
        return Err(Invalid::gone("breaker", gone.0));
    }
    if w.plan.touches.is_empty() && w.plan.refused.is_empty() {
        let why =
            if wishes.is_empty() { "say what is wished for: 2p, 5=2p, balance" } else { "nothing has to move for it" };
        w.plan.refuse(NOTHING_TO_DO, why);
    }
    Ok(w)
}
