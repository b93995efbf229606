//! A circuit that is not used any more: both ends made safe, the space closed, the card says so. (handbook 5.12)

use super::plan::{Basis, CostClass, Plan, WayTo, body_mates, standing};
use super::sheet::{Sheet, at};
use crate::base::Invalid;
use crate::edit::Draft;
use crate::house::{Breaker, BreakerId, Circuit, CircuitId, Goal, Handle, PointId};
use crate::trace;

/// Plans it.
pub(super) fn plan(basis: &Basis<'_>, id: BreakerId, spare: bool) -> Result<Plan, Invalid> {
    let house = basis.house;
    let breaker = house.breakers.get(id).ok_or_else(|| Invalid::gone("breaker", id.0))?;
    let mut plan =
        Plan::new(format!("Retire {}", basis.called(breaker)), breaker.panel, Goal::Retire { breaker: id, spare });
    plan.touches = vec![id];
    for (title, why, keep) in [
        ("The breaker goes, a closer in its place", "The space is free for something else.", false),
        ("The breaker stays as a spare, off", "Nothing is bought; its space stays taken.", true),
    ] {
        let goal = Goal::Retire { breaker: id, spare: keep };
        let bodies = u32::from(!keep);
        let chosen = keep == spare;
        plan.ways.push(WayTo {
            title: title.into(),
            why: why.into(),
            chosen,
            goal,
            bodies,
            wires: 1,
            cost: CostClass::Small,
        });
    }
    if let Some(sub) = house.panel_fed_by(id) {
        plan.refuse(
            "feeds-a-panel",
            format!("{} feeds the panel {}", breaker.at_text(), sub.name),
            "common practice",
            "retire that panel's circuits first, and say what feeds it",
        );
    }
    if !spare && let [mate, ..] = standing(house, &body_mates(house, breaker.panel, &[id])).as_slice() {
        plan.refuse(
            "half-of-a-body",
            format!("{} is one body with {}, and a half of it does not come out", breaker.at_text(), mate.at_text()),
            "NEC 110.3(B), 408.7 (2023, from memory): no closer fits half of an opening that a body stands in",
            "leave it as a spare, off",
        );
    }
    if super::plan::shares_neutral(house, id) {
        plan.refuse(
            "shared-neutral",
            format!("{} shares its neutral with another circuit, which needs it", breaker.at_text()),
            "NEC 300.13(B), 210.4 (2023, from memory)",
            "take the pair out as a whole, or leave the neutral to the other and write it down by hand",
        );
    }
    if !basis.is_traced(id) {
        plan.refuse(
            "not-traced",
            match basis.open(id) {
                0 => format!("it is not proven that nothing hangs on {}", breaker.at_text()),
                more => format!("it is not proven what hangs on {}: {more} more points may", breaker.at_text()),
            },
            "common practice: what goes dead for good must be known",
            "trace it first",
        );
    }
    let points = basis.points(id).count();
    if points > 0 {
        plan.cautions.push(format!(
            "Taken out of the record with it: {}.",
            basis.points(id).map(|p| basis.named(p.id)).collect::<Vec<_>>().join("; ")
        ));
    }
    plan.part(points.max(1), "connector or cap for a wire's end, at each place where it ends");
    plan.part(points, "blank plate for the box");
    Ok(plan)
}

/// What it changes.
pub(super) fn change(draft: &mut Draft, id: BreakerId, spare: bool) -> Result<(), Invalid> {
    let breaker = draft.find::<Breaker>(id)?;
    let beliefs = trace::beliefs(&draft.house);
    let fed = beliefs.breakers.iter().find(|b| b.at.breaker == id).into_iter().flat_map(|b| &b.feeds);
    let fed: Vec<PointId> = fed.filter(|f| !f.through && f.proven).map(|f| f.point).collect();
    fed.into_iter().try_for_each(|point| draft.remove_point(point))?;
    if spare {
        let wires: Vec<CircuitId> = draft.house.circuits_of(id).into_iter().map(|c: &Circuit| c.id).collect();
        wires.into_iter().try_for_each(|wire| draft.remove_circuit(wire))?;
        draft.put(Breaker { handle: Handle::Off, label: "spare".into(), ..breaker });
        return Ok(());
    }
    draft.remove_breaker(id)?;
    breaker.at.iter().try_for_each(|at| draft.vacate(breaker.panel, *at))
}

/// Its steps.
pub(super) fn steps(sheet: &mut Sheet<'_>, basis: &Basis<'_>, breaker: &Breaker, spare: bool) {
    let place = Some(at(breaker));
    for point in basis.points(breaker.id) {
        sheet.work(
            format!("At {}: take the device off, cap every wire by itself, tag the cable \"dead at the panel\", blank plate on.", basis.named(point.id)),
            "Nobody connects it again by mistake.",
            Some(crate::house::MeasuredAt::Point { point: point.id }),
        );
    }
    sheet.work(
        format!(
            "Take the hot off {}, and its neutral and ground off their bars; cap hot and neutral, tag the cable.",
            breaker.at_text()
        ),
        "Both ends are safe then.",
        place,
    );
    if spare {
        sheet.work(
            format!("{} stays in OFF; mark it \"spare\".", breaker.at_text()),
            "NEC 408.4(A): spares are marked.",
            place,
        );
    } else {
        sheet.work(format!("Take {} out, and put a closer into its opening.", breaker.at_text()), "NEC 408.7.", place);
    }
}
