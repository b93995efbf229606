//! Work in a box of the house: what is off for it, and how it is shown dead, while the panel stays closed. (handbook 5.14)
//!
//! What has to be off is the answer to "what must I switch off": for everything that a hand can touch there.

use std::collections::BTreeSet;

use super::obstacles::{NOT_TRACED, STAYS_LIVE};
use super::plan::Basis;
use super::working::{BoxWork, HandsIn, Working};
use crate::answers::shutdown::{self, Target};
use crate::base::Invalid;
use crate::house::{BreakerId, Goal, PanelId, Point, PointId};
use crate::trace::Tracker;

/// Work at a point's box, with what has to be off for it; its panel is that of what feeds it.
pub(super) fn at<'a>(
    basis: &'a Basis<'a>,
    point: PointId,
    title: impl FnOnce(&Point) -> String,
    goal: Goal,
) -> Result<(Working<'a>, &'a Point), Invalid> {
    let house = basis.house;
    let point = house.points.get(point).ok_or_else(|| Invalid::gone("point", point.0))?;
    let tracker = Tracker::new(house);
    let answer = shutdown::plan(&tracker, basis.beliefs, &Target::Points { points: [point.id].into() })?;
    let off: Vec<BreakerId> = answer.switch_off.iter().map(|off| off.at.breaker).collect();
    let feeder = off.first().and_then(|b| house.breakers.get(*b)).map(|b| b.panel);
    let first = || house.panels_in_order().first().map(|p| p.id);
    let panel = feeder.or_else(first).ok_or_else(|| Invalid::new("panel", "the house has no panel: enter it first"))?;
    let mut w = Working::new(basis, title(point), panel, goal);
    if answer.stop {
        let why = answer.cautions.first().map_or_else(String::new, |caution| caution.text.clone());
        w.plan.refuse(STAYS_LIVE, why);
    } else if !answer.unproven.is_empty() || off.is_empty() {
        let why = format!("it is not proven what feeds {}", answer.unproven.join(", "));
        w.plan.refuse(NOT_TRACED, if answer.unproven.is_empty() { "nothing known feeds it".into() } else { why });
    }
    let others: BTreeSet<PanelId> = off.iter().filter_map(|b| house.breakers.get(*b)).map(|b| b.panel).collect();
    if others.len() > 1 {
        w.plan.cautions.push("What has to be off stands in more than one panel: somebody may come to either.".into());
    }
    w.touch(off.iter().copied());
    w.hands = HandsIn::Box(BoxWork {
        point: point.id,
        off,
        stays_live: answer.stays_live.iter().map(|staying| staying.text.clone()).collect(),
    });
    Ok((w, point))
}
