//! Breakers change places, for room or for even legs. (handbook 5.12, 7)

use std::collections::BTreeSet;

use super::room;
use crate::base::Invalid;
use crate::house::{BreakerId, Goal, MakeRoom, PanelId};
use crate::job::arrange::Wish;
use crate::job::plan::Basis;
use crate::job::working::Working;

/// Works it out. For room, what changes what there is stands beside: a tandem in place of two, two circuits on one breaker.
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
        match room::ways(basis, panel, &asked, fixed)? {
            Ok(found) => {
                if let (true, Some(first)) = (*made == MakeRoom::default(), found.first()) {
                    room = first.room.clone();
                }
                let way = |made: room::MadeRoom| {
                    let chosen = made.room == room;
                    made.way(goal, chosen)
                };
                w.plan.ways = found.into_iter().map(way).collect();
            }
            Err(why) if *made == MakeRoom::default() => {
                w.plan.refuse(
                    "no-way",
                    why,
                    "handbook 7",
                    "a sub-panel, or a panel with more spaces: an electrician plans that",
                );
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
        w.plan.refuse("nothing-to-do", why.into(), "handbook 7", "");
    }
    Ok(w)
}
