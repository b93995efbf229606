//! A breaker in place of a bad one. (handbook 5.3)

use super::plan::{Basis, Plan, body_mates, of_a_listed_type, standing};
use super::sheet::{Sheet, at};
use crate::base::Invalid;
use crate::base::units::Amps;
use crate::edit::Draft;
use crate::house::{Breaker, BreakerId, Goal, Handle};
use crate::rules::{self, Facts};

/// Plans it.
pub(super) fn plan(basis: &Basis<'_>, id: BreakerId, amps: Option<Amps>, model: &str) -> Result<Plan, Invalid> {
    let house = basis.house;
    let breaker = house.breakers.get(id).ok_or_else(|| Invalid::gone("breaker", id.0))?;
    let panel = house.panels.get(breaker.panel).ok_or_else(|| Invalid::gone("panel", breaker.panel.0))?;
    let rating = amps.unwrap_or_else(|| rules::rating(&Facts { house, hangs: &basis.beliefs.hangs() }, breaker));
    let goal = Goal::Replace { breaker: id, amps: Some(rating), model: model.trim().to_owned() };
    let mut plan = Plan::new(format!("Replace breaker {}", basis.called(breaker)), panel.id, goal);
    plan.touches = vec![id];
    plan.cautions.push(
        "Is it the breaker at all? Both sides of its contacts are read under load first (Is it the breaker?); one that trips at once \
         with everything unplugged is right, and its wiring is not."
            .into(),
    );
    if rating.0 > breaker.amps.0 {
        let wires = house.circuits_of(id);
        if wires.is_empty() || wires.iter().any(|c| c.wire.is_none()) {
            plan.ask(
                "wire",
                format!(
                    "Which wire hangs on {}? A larger breaker needs it: enter it with the panel",
                    breaker.at_text()
                ),
            );
        }
    }
    let poles = ["", "one pole", "two poles", "three poles"].get(breaker.at.len()).copied().unwrap_or("");
    let kind = crate::base::Said::said(breaker.device);
    let types = if model.trim().is_empty() { of_a_listed_type(panel) } else { model.trim().to_owned() };
    let body: Vec<String> = standing(house, &body_mates(house, panel.id, &[id]))
        .iter()
        .map(|mate| format!("{} for {}", mate.amps, mate.at_text()))
        .collect();
    plan.part(
        1,
        if body.is_empty() {
            format!("breaker, {poles}, {rating}, {kind}, {types}")
        } else {
            format!("half-size body: {rating} for {}, {}, {kind}, {types}", breaker.at_text(), body.join(", "))
        },
    );
    Ok(plan)
}

/// What it changes.
pub(super) fn change(draft: &mut Draft, id: BreakerId, amps: Option<Amps>, model: &str) -> Result<(), Invalid> {
    let old = draft.find::<Breaker>(id)?;
    draft.put(Breaker {
        amps: amps.unwrap_or(old.amps),
        model: if model.trim().is_empty() { old.model.clone() } else { model.trim().into() },
        // What the old one's label said is not what the new one's says.
        terminal: None,
        handle: Handle::On,
        ..old
    });
    Ok(())
}

/// Its steps.
pub(super) fn steps(sheet: &mut Sheet<'_>, basis: &Basis<'_>, breaker: &Breaker) {
    let place = Some(at(breaker));
    sheet.work(
        "Old and new side by side: poles, amperes, type, frame, how it attaches.",
        "What differs does not go in.",
        place,
    );
    sheet.work(format!("Tag every wire of {}.", basis.called(breaker)), "", place);
    let order = if breaker.at.len() > 1 || breaker.is_half_size() { ", the largest first" } else { "" };
    sheet.work(
        "Rock the old one out, towards the outside of the panel, its wires still on it. Look at the bus: burnt or rusty, stop.",
        "A burnt finger of the bus spoils the space or the panel, not the breaker: an electrician is due.",
        place,
    );
    sheet.work(
        "The new one in OFF (fresh ones may come tripped: firmly off first). In from the rail to the bus: stiff is good, loose is not.",
        "",
        place,
    );
    sheet.work(
        format!("The wires one at a time from the old to the new one{order}."),
        "One at a time: none is exchanged.",
        place,
    );
    sheet.with("screwdriver, torque tool");
}
