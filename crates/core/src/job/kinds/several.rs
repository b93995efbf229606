//! Several jobs in one shutdown: one permit, one trip to the shop, the power off once. Each is worked out in the house as those
//! before it leave it.

use std::collections::BTreeSet;

use jiff::Timestamp;

use crate::base::Invalid;
use crate::house::{BreakerId, Evidence, EvidenceId, Goal, House, NewCircuit, NewSubPanel, Observation, PanelId};
use crate::job::form::{Kind, MOST_JOBS};
use crate::job::kinds::{self, add::poles};
use crate::job::mishaps;
use crate::job::obstacles::{ANOTHER_PANEL, IN_A_BOX};
use crate::job::plan::{Basis, WayTo};
use crate::job::working::Working;
use crate::load::Loaded;
use crate::load::draws::draws;
use crate::trace;

/// It is chosen by choosing another job beside one.
pub(super) static KIND: Kind = Kind {
    name: "several",
    group: "",
    title: "Several jobs in one shutdown",
    under: "one permit, one trip to the shop, the power off once",
    fields: &[],
    mishaps: mishaps::MOVING,
    goal: |_| Err(Invalid::new("kind", "choose one job, then others beside it")),
};

/// Works it out: what frees spaces goes first, then what needs the most of them; or in the order in which they were named, where
/// that does better.
pub(super) fn work<'a>(basis: &'a Basis<'a>, goals: &[Goal], in_order: bool) -> Result<Working<'a>, Invalid> {
    if !(2..=MOST_JOBS).contains(&goals.len()) || goals.iter().any(|goal| matches!(goal, Goal::Several { .. })) {
        return Err(Invalid::new(
            "goals",
            format!("2 to {MOST_JOBS} jobs go into one shutdown, each a job of its own"),
        ));
    }
    let named = if in_order { goals.to_vec() } else { leaving(goals) };
    let mut ordered = named.clone();
    ordered.sort_by_key(rank);
    let mut orders = vec![with_room_beside(&ordered), Some(ordered), Some(named.clone())];
    if in_order {
        orders = vec![Some(named)];
    }
    let mut first = None;
    for order in orders.into_iter().flatten() {
        let tried = in_turn(basis, &order)?;
        if tried.is_open() {
            return Ok(tried);
        }
        first.get_or_insert(tried);
    }
    first.ok_or_else(|| Invalid::new("goals", "two jobs at the least"))
}

/// What one of them leaves as it is the others leave as well.
fn leaving(goals: &[Goal]) -> Vec<Goal> {
    let mut goals = goals.to_vec();
    let all: BTreeSet<BreakerId> = goals.iter_mut().filter_map(left).flat_map(|left| left.clone()).collect();
    goals.iter_mut().filter_map(left).for_each(|left| left.extend(&all));
    goals
}

fn left(goal: &mut Goal) -> Option<&mut BTreeSet<BreakerId>> {
    match goal {
        Goal::Add(new) | Goal::Dedicated(new) => Some(&mut new.room.leave),
        Goal::SubPanel(new) => Some(&mut new.room.leave),
        Goal::Surge(new) => Some(&mut new.room.leave),
        Goal::Relieve(relief) => Some(&mut relief.room.leave),
        Goal::Rearrange { fixed, .. } => Some(fixed),
        _ => None,
    }
}

/// What goes first: what frees spaces, then what needs the most of them, what has its place before what has none.
pub(in super::super) fn rank(goal: &Goal) -> (u8, bool) {
    let circuit = |new: &NewCircuit| (if poles(new) > 1 { 4 } else { 5 }, new.at.is_empty());
    match goal {
        Goal::Makeup { .. } => (0, false),
        Goal::Retire { .. } | Goal::Combine(_) | Goal::Tandem(_) | Goal::Quad(_) => (1, false),
        Goal::SubPanel(_) => (2, false),
        Goal::Generator { .. } | Goal::Interlock { .. } | Goal::Convert { .. } => (3, false),
        Goal::Surge(new) => (4, new.at.is_empty()),
        Goal::Add(new) | Goal::Dedicated(new) => circuit(new),
        Goal::Replace { .. } | Goal::Swap { .. } | Goal::Protect { .. } | Goal::Rearrange { .. } => (6, false),
        Goal::Device(_) | Goal::Splice { .. } => (6, true),
        Goal::Relieve(relief) => (5, relief.at.is_empty()),
        Goal::Several { .. } => (7, false),
    }
}

/// The same where a sub-panel is among them that makes room for all: more moves over to it.
fn with_room_beside(goals: &[Goal]) -> Option<Vec<Goal>> {
    let mut all = goals.to_vec();
    let panel = goals.iter().find_map(|goal| if let Goal::SubPanel(new) = goal { Some(new.panel) } else { None })?;
    let open = |new: &&NewCircuit| new.panel == panel && new.at.is_empty();
    let circuits = goals.iter().flat_map(Goal::new_circuits).filter(open);
    let wishes: Vec<String> = circuits.map(|new| format!("{}p", poles(new))).collect();
    let sub = all.iter_mut().find_map(|goal| if let Goal::SubPanel(new) = goal { Some(new) } else { None })?;
    let is_open = sub.at.is_empty() && sub.beside.is_empty() && !wishes.is_empty();
    *sub = NewSubPanel { beside: wishes, ..sub.clone() };
    is_open.then_some(all)
}

/// One after the other.
fn in_turn<'a>(basis: &'a Basis<'a>, goals: &[Goal]) -> Result<Working<'a>, Invalid> {
    let several = |goals: Vec<Goal>| Goal::Several { goals, in_order: true };
    let mut w = Working::new(basis, "", PanelId(0), several(Vec::new()));
    let (mut titles, mut ways): (Vec<String>, Vec<(usize, WayTo)>) = (Vec::new(), Vec::new());
    let mut chosen: Vec<Goal> = Vec::new();
    for (nth, goal) in goals.iter().enumerate() {
        let house = as_believed(basis, &w);
        let beliefs = trace::beliefs(&house);
        let draws = draws(&house, &beliefs);
        let loaded = Loaded::new(&house, &beliefs, &draws);
        let then = Basis::new(&house, &beliefs, &loaded);
        let part = match kinds::work(&then, goal) {
            Ok(part) => part,
            // It may rest on what is not planned yet.
            Err(_) if !w.is_open() => continue,
            Err(fault) => return Err(Invalid { field: format!("goals.{nth}.{}", fault.field), ..fault }),
        };
        if nth == 0 {
            w.plan.panel = part.plan.panel;
            w.stays_in = part.stays_in;
        } else if part.plan.panel != w.plan.panel && basis.house.panels.get(part.plan.panel).is_some() {
            let name = |id| basis.house.panels.get(id).map_or("", |p| p.name.as_str());
            let (one, other) = (name(w.plan.panel), name(part.plan.panel));
            w.plan.refuse(ANOTHER_PANEL, format!("{} is at {other}, and this shutdown is of {one}", part.plan.title));
        }
        if part.panel_closed() {
            w.plan.refuse(IN_A_BOX, format!("{}: the panel stays closed for it", part.plan.title));
        }
        titles.push(part.plan.title.clone());
        chosen.push(part.plan.goal.clone());
        // Ways of one choice stand together: those of this part's own choices as they are called there, the rest by the part.
        let of = |way: &WayTo| {
            let own = (!way.of.is_empty()).then(|| format!("{}: {}", part.plan.title, way.of));
            own.unwrap_or_else(|| part.plan.title.clone())
        };
        ways.extend(part.plan.ways.iter().map(|way| (nth, WayTo { of: of(way), ..way.clone() })));
        w.plan.goal = several(chosen.clone());
        w.and_then(part);
        if w.is_open() {
            w.replay();
        }
    }
    // What comes after one that is chosen otherwise is found anew.
    let with = |nth: usize, goal: Goal| {
        let before = chosen.iter().take(nth).cloned();
        several(before.chain([goal]).chain(goals.iter().skip(nth + 1).cloned()).collect())
    };
    w.plan.ways = ways.into_iter().map(|(nth, way)| WayTo { goal: with(nth, way.goal.clone()), ..way }).collect();
    w.plan.title = format!("In one shutdown: {}", titles.join("; "));
    Ok(w)
}

/// The house as those before leave it, with what is then known of it: circuits came along whole, and new ones hang where they were
/// landed.
fn as_believed(basis: &Basis<'_>, w: &Working<'_>) -> House {
    let mut house = w.so_far().clone();
    let moved = |b: &BreakerId| w.plan.touches.contains(b);
    let proven = basis.beliefs.points.iter().filter(|b| b.proven);
    let proven = proven.filter_map(|b| Some((b.point, b.candidates.first()?.at.breaker))).filter(|(_, b)| moved(b));
    let along = proven.map(|(point, breaker)| (point, w.plan.goal.joined(breaker).unwrap_or(breaker)));
    let new = w.plan.goal.new_circuits().map(|new| (new.point.id, new.breaker));
    let landed: Vec<_> =
        along.chain(new).filter(|(p, b)| house.points.get(*p).is_some() && house.breakers.get(*b).is_some()).collect();
    let time = house.evidence.iter().map(|e| e.time).max().unwrap_or(Timestamp::UNIX_EPOCH);
    let first = house.evidence.iter().map(|e| e.id.0).max().unwrap_or(0) + 1;
    for (id, (point, at)) in (first..).map(EvidenceId).zip(landed) {
        let observation = Observation::Landed { at };
        house.evidence.put(Evidence { id, point, time, who: String::new(), step: None, observation });
    }
    house
}
