//! A circuit that is not used any more: both ends made safe, the space closed, the card says so. (handbook 5.12)

use crate::base::Invalid;
use crate::edit::Draft;
use crate::house::{Breaker, BreakerId, Circuit, CircuitId, Goal, Handle, MeasuredAt, PanelId};
use crate::job::form::{Answers, BREAKER, Field, FieldSort, Kind};
use crate::job::mishaps;
use crate::job::obstacles::{FEEDS_A_PANEL, HALF_OF_A_BODY, HAS_A_WIRE, NOT_TRACED, SHARED_NEUTRAL};
use crate::job::plan::{Basis, CostClass, WayTo, body_mates, minutes_of, shares_neutral, standing};
use crate::job::working::{Working, at};

pub(super) static KIND: Kind = Kind {
    name: "retire",
    group: "I need a space",
    title: "Retire a circuit",
    under: "that nobody uses any more",
    fields: &[BREAKER, Field::new("spare", "The breaker stays as a spare, off", FieldSort::Tick).rare()],
    mishaps: mishaps::ALWAYS,
    goal,
};

fn goal(of: &Answers<'_>) -> Result<Goal, Invalid> {
    Ok(Goal::Retire { breaker: of.breaker("breaker")?, spare: of.is("spare") })
}

/// Works it out.
pub(super) fn work<'a>(basis: &'a Basis<'a>, id: BreakerId, spare: bool) -> Result<Working<'a>, Invalid> {
    let house = basis.house;
    let breaker = house.breakers.get(id).ok_or_else(|| Invalid::gone("breaker", id.0))?;
    let title = format!("Retire {}", basis.called(breaker));
    let mut w = Working::new(basis, title, breaker.panel, Goal::Retire { breaker: id, spare });
    w.touch([id]);
    // A spare stays where it is, off, with its other half.
    (w.stays_in, w.stays_off) = (spare, spare);
    for (title, why, keep) in [
        ("The breaker goes, a closer in its place", "The space is free for something else.", false),
        ("The breaker stays as a spare, off", "Nothing is bought; its space stays taken.", true),
    ] {
        let goal = Goal::Retire { breaker: id, spare: keep };
        let bodies = u32::from(!keep);
        let chosen = keep == spare;
        w.plan.ways.push(WayTo {
            of: String::new(),
            title: title.into(),
            why: why.into(),
            chosen,
            goal,
            bodies,
            wires: 1,
            minutes: minutes_of(bodies, 1),
            cost: CostClass::Small,
            parts: Vec::new(),
        });
    }
    if let Some(sub) = house.panel_fed_by(id) {
        w.plan.refuse(FEEDS_A_PANEL, format!("{} feeds the panel {}", breaker.at_text(), sub.name));
    }
    if !spare && let [mate, ..] = standing(house, &body_mates(house, breaker.panel, &[id])).as_slice() {
        w.plan.refuse(
            HALF_OF_A_BODY,
            format!("{} is one body with {}, and a half of it does not come out", breaker.at_text(), mate.at_text()),
        );
    }
    if shares_neutral(house, id) {
        w.plan.refuse_for(
            SHARED_NEUTRAL,
            format!("{} shares its neutral with another circuit, which needs it", breaker.at_text()),
            "take the pair out as a whole, or leave the neutral to the other and write it down by hand",
        );
    }
    if !basis.is_traced(id) {
        w.plan.refuse(
            NOT_TRACED,
            match basis.open(id) {
                0 => format!("it is not proven that nothing hangs on {}", breaker.at_text()),
                more => format!("it is not proven what hangs on {}: {more} more points may", breaker.at_text()),
            },
        );
    }
    let points = basis.points(id).count();
    if points > 0 {
        w.plan.cautions.push(format!(
            "Taken out of the record with it: {}.",
            basis.points(id).map(|p| basis.named(p.id)).collect::<Vec<_>>().join("; ")
        ));
    }
    w.plan.part(points.max(1), "connector or cap for a wire's end, at each place where it ends");
    w.plan.part(points, "blank plate for the box");
    if w.is_open() {
        acts(&mut w, breaker, spare);
    }
    Ok(w)
}

/// Breakers on which no wire is landed, as somebody saw, and of which nothing says otherwise: their places are as good as free.
pub(super) fn idle(basis: &Basis<'_>, panel: PanelId) -> Vec<BreakerId> {
    let house = basis.house;
    let nothing = |b: &&Breaker| {
        b.unwired
            && house.circuits_of(b.id).is_empty()
            && basis.points(b.id).next().is_none()
            && house.panel_fed_by(b.id).is_none()
    };
    house.breakers_of(panel).into_iter().filter(nothing).map(|b| b.id).collect()
}

/// What stands against taking one out that has no wire; to make room for another job.
pub(super) fn check(w: &mut Working<'_>, id: BreakerId) -> Result<(), Invalid> {
    let breaker = w.house.breakers.get(id).ok_or_else(|| Invalid::gone("breaker", id.0))?;
    w.touch([id]);
    if !idle(w.basis, breaker.panel).contains(&id) {
        w.plan.refuse(HAS_A_WIRE, format!("it is not known that no wire is landed on {}", breaker.at_text()));
    }
    Ok(())
}

/// It comes out, once it was seen that there is no wire.
pub(super) fn take_out(w: &mut Working<'_>, id: BreakerId) -> Result<(), Invalid> {
    let breaker = w.house.breakers.get(id).ok_or_else(|| Invalid::gone("breaker", id.0))?;
    w.act(
        format!(
            "Look at the terminals of {}: no wire is on them. Take it out: rock it towards the outside.",
            breaker.at_text()
        ),
        "A wire on it feeds something that nobody found: then leave it, and say so in the record.",
        Some(at(breaker)),
    );
    w.makes(|draft| change(draft, breaker));
    Ok(())
}

/// One whose circuit goes to another panel comes out, its wires tagged.
pub(super) fn lift_out(w: &mut Working<'_>, breaker: &Breaker) {
    w.act(
        format!(
            "Tag hot and neutral of {} together, take them off, and take the breaker out: rock it towards the outside.",
            w.basis.called(breaker)
        ),
        "They go to the other panel as a pair.",
        Some(at(breaker)),
    );
}

fn change(draft: &mut Draft, breaker: &Breaker) -> Result<(), Invalid> {
    draft.remove_breaker(breaker.id)?;
    breaker.at.iter().try_for_each(|at| draft.vacate(breaker.panel, *at))
}

fn acts(w: &mut Working<'_>, breaker: &Breaker, spare: bool) {
    let (basis, place) = (w.basis, Some(at(breaker)));
    for point in basis.points(breaker.id) {
        w.act(
            format!("At {}: take the device off, cap every wire by itself, tag the cable \"dead at the panel\", blank plate on.", basis.named(point.id)),
            "Nobody connects it again by mistake.",
            Some(MeasuredAt::Point { point: point.id }),
        );
        w.makes(|draft| draft.remove_point(point.id));
    }
    w.act(
        format!(
            "Take the hot off {}, and its neutral and ground off their bars; cap hot and neutral, tag the cable.",
            breaker.at_text()
        ),
        "Both ends are safe then.",
        place,
    );
    let wires: Vec<CircuitId> = basis.house.circuits_of(breaker.id).into_iter().map(|c: &Circuit| c.id).collect();
    w.makes(|draft| wires.into_iter().try_for_each(|wire| draft.remove_circuit(wire)));
    if spare {
        let what = format!("{} stays in OFF; mark it \"spare\".", breaker.at_text());
        w.act(what, "NEC 408.4(A): spares are marked.", place);
        w.makes(|draft| {
            draft.put(Breaker { handle: Handle::Off, inlet: false, label: "spare".into(), ..breaker.clone() });
            Ok(())
        });
    } else {
        let what = format!("Take {} out, and put a closer into its opening.", breaker.at_text());
        w.act(what, "NEC 408.7.", place);
        w.makes(|draft| change(draft, breaker));
    }
    w.look(
        "rest-works",
        "Everything else works, and nothing else has gone dark.",
        "What went dark with it hung on it: it is in the record as what it is.",
        None,
    );
}
