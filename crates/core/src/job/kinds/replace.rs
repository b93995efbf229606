//! A breaker in place of a bad one. (handbook 5.3)

use crate::base::units::{Amps, BREAKER_RATING};
use crate::base::{Invalid, Said};
use crate::house::{Breaker, BreakerId, Goal, Handle};
use crate::job::form::{Answers, BREAKER, Field, FieldSort, Kind};
use crate::job::mishaps;
use crate::job::plan::{Basis, body_mates, of_a_listed_type, standing};
use crate::job::working::{Working, at};
use crate::rules::{self, Facts};

pub(super) static KIND: Kind = Kind {
    name: "replace",
    group: "A breaker is bad",
    title: "Replace a breaker",
    under: "after its two sides were measured; old and new side by side",
    fields: &[
        BREAKER,
        Field::new("amps", "Rating, if it changes", FieldSort::Number { limits: &BREAKER_RATING }),
        Field::new("model", "Type of the new one, if known", FieldSort::Text),
    ],
    mishaps: mishaps::ALWAYS,
    goal,
};

fn goal(of: &Answers<'_>) -> Result<Goal, Invalid> {
    let amps = of.number("amps").map(Amps);
    Ok(Goal::Replace { breaker: of.breaker("breaker")?, amps, model: of.text("model").to_owned() })
}

/// Works it out.
pub(super) fn work<'a>(
    basis: &'a Basis<'a>,
    id: BreakerId,
    amps: Option<Amps>,
    model: &str,
) -> Result<Working<'a>, Invalid> {
    let house = basis.house;
    let breaker = house.breakers.get(id).ok_or_else(|| Invalid::gone("breaker", id.0))?;
    let panel = house.panels.get(breaker.panel).ok_or_else(|| Invalid::gone("panel", breaker.panel.0))?;
    let rating = amps.unwrap_or_else(|| rules::rating(&Facts { house, hangs: &basis.beliefs.hangs() }, breaker));
    let goal = Goal::Replace { breaker: id, amps: Some(rating), model: model.trim().to_owned() };
    let title = match rating.0 < breaker.amps.0 {
        true => format!("Make {} fit: {rating} in place of {}", basis.called(breaker), breaker.amps),
        false => format!("Replace breaker {}", basis.called(breaker)),
    };
    let mut w = Working::new(basis, title, panel.id, goal);
    w.touch([id]);
    w.plan.cautions.push(
        "Is it the breaker at all? Both sides of its contacts are read under load first (Is it the breaker?); one that trips at once \
         with everything unplugged is right, and its wiring is not."
            .into(),
    );
    if rating.0 > breaker.amps.0 {
        let wires = house.circuits_of(id);
        if wires.is_empty() || wires.iter().any(|c| c.wire.is_none()) {
            w.plan.ask(
                "wire",
                format!(
                    "Which wire hangs on {}? A larger breaker needs it: enter it with the panel",
                    breaker.at_text()
                ),
            );
        }
    }
    let poles = ["", "one pole", "two poles", "three poles"].get(breaker.at.len()).copied().unwrap_or("");
    let kind = breaker.device.said();
    let types = if model.trim().is_empty() { of_a_listed_type(panel) } else { model.trim().to_owned() };
    let body: Vec<String> = standing(house, &body_mates(house, panel.id, &[id]))
        .iter()
        .map(|mate| format!("{} for {}", mate.amps, mate.at_text()))
        .collect();
    w.plan.part(
        1,
        if body.is_empty() {
            format!("breaker, {poles}, {rating}, {kind}, {types}")
        } else {
            format!("half-size body: {rating} for {}, {}, {kind}, {types}", breaker.at_text(), body.join(", "))
        },
    );
    if w.is_open() {
        let new = Breaker {
            amps: rating,
            model: if model.trim().is_empty() { breaker.model.clone() } else { model.trim().into() },
            // What the old one's label said is not what the new one's says.
            terminal: None,
            handle: Handle::On,
            bad: false,
            ..breaker.clone()
        };
        acts(&mut w, breaker, new);
    }
    Ok(w)
}

fn acts(w: &mut Working<'_>, breaker: &Breaker, new: Breaker) {
    let place = Some(at(breaker));
    let alike = if breaker.amps == new.amps {
        "Old and new side by side: poles, amperes, type, frame, how it attaches.".to_owned()
    } else {
        format!(
            "Old and new side by side: poles, type, frame, how it attaches. The new one is {}, where the old one was {}.",
            new.amps, breaker.amps
        )
    };
    w.act(alike, "What else differs does not go in.", place);
    w.act(format!("Tag every wire of {}.", w.basis.called(breaker)), "", place);
    let order = if breaker.at.len() > 1 || breaker.is_half_size() { ", the largest first" } else { "" };
    w.act(
        "Rock the old one out, towards the outside of the panel, its wires still on it. Look at the bus: burnt or rusty, stop.",
        "A burnt finger of the bus spoils the space or the panel, not the breaker: an electrician is due.",
        place,
    );
    w.act(
        "The new one in OFF (fresh ones may come tripped: firmly off first). In from the rail to the bus: stiff is good, loose is not.",
        "",
        place,
    );
    w.makes(|draft| {
        draft.put(new);
        Ok(())
    });
    w.act(
        format!("The wires one at a time from the old to the new one{order}."),
        "One at a time: none is exchanged.",
        place,
    );
    w.with("screwdriver, torque tool");
}
