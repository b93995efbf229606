//! Breakers change places, for room or for even legs. (handbook 5.12, 7)

use std::collections::BTreeSet;

use super::arrange::Wish;
use super::plan::{Basis, Plan};
use super::room;
use crate::base::Invalid;
use crate::house::{BreakerId, Goal, MakeRoom, PanelId};

/// Plans it. For room, what changes what there is stands beside: a tandem in place of two, two circuits on one breaker.
pub(super) fn plan(
    basis: &Basis<'_>,
    id: PanelId,
    wishes: &[String],
    fixed: &BTreeSet<BreakerId>,
    made: &MakeRoom,
) -> Result<Plan, Invalid> {
    let panel = basis.house.panels.get(id).ok_or_else(|| Invalid::gone("panel", id.0))?;
    let goal = |room: MakeRoom| Goal::Rearrange { panel: id, wishes: wishes.to_vec(), fixed: fixed.clone(), room };
    let mut plan = Plan::new(format!("Rearrange {}", panel.name), id, goal(made.clone()));
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
                plan.ways = found.into_iter().map(way).collect();
            }
            Err(why) if *made == MakeRoom::default() => {
                plan.refuse(
                    "no-way",
                    why,
                    "handbook 7",
                    "a sub-panel, or a panel with more spaces: an electrician plans that",
                );
            }
            Err(_) => {}
        }
    }
    room::takes(basis, &room, &mut plan)?;
    plan.touches = room::touches(&room);
    if let Some(gone) = plan.touches.iter().find(|b| basis.house.breakers.get(**b).is_none_or(|b| b.panel != id)) {
        return Err(Invalid::gone("breaker", gone.0));
    }
    if plan.touches.is_empty() && plan.refused.is_empty() {
        let why =
            if wishes.is_empty() { "say what is wished for: 2p, 5=2p, balance" } else { "nothing has to move for it" };
        plan.refuse("nothing-to-do", why.into(), "handbook 7", "");
    }
    plan.goal = goal(room);
    Ok(plan)
}
