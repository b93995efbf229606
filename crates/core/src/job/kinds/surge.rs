//! A surge protector at the panel. (handbook 5.12; NEC 230.67, 242)

use super::room::{self, NewPlace};
use crate::base::Invalid;
use crate::base::position::format_poles;
use crate::base::units::{Amps, BREAKER_RATING};
use crate::house::{Breaker, BreakerId, Frame, Goal, MakeRoom, NewSurge};
use crate::job::form::{Answers, Field, FieldSort, Kind, PANEL};
use crate::job::mishaps;
use crate::job::obstacles::NO_ROOM;
use crate::job::plan::{Basis, counted_poles, of_a_listed_type};
use crate::job::working::{Working, at};

pub(super) static KIND: Kind = Kind {
    name: "surge",
    group: "Something new to connect",
    title: "A surge protector",
    under: "on a breaker beside the main",
    fields: &[
        PANEL,
        Field::new("amps", "The breaker that its sheet asks for", FieldSort::Number { limits: &BREAKER_RATING }),
        Field::new("at", "In spaces, if it matters", FieldSort::Poles).rare().help("as 1-3: near the main"),
        room::LEAVE,
    ],
    mishaps: mishaps::MOVING,
    goal,
};

fn goal(of: &Answers<'_>) -> Result<Goal, Invalid> {
    Ok(Goal::Surge(NewSurge {
        panel: of.panel()?.id,
        breaker: BreakerId(of.first),
        amps: of.number("amps").map(Amps),
        at: of.poles("at")?,
        room: MakeRoom { leave: of.breakers(room::LEAVE.name)?, ..MakeRoom::default() },
    }))
}

/// Works it out.
pub(super) fn work<'a>(basis: &'a Basis<'a>, new: &NewSurge) -> Result<Working<'a>, Invalid> {
    let house = basis.house;
    let panel = house.panels.get(new.panel).ok_or_else(|| Invalid::gone("panel", new.panel.0))?;
    let mut new = new.clone();
    let mut w = Working::new(basis, format!("A surge protector at {}", panel.name), panel.id, Goal::Surge(new.clone()));
    let Some(amps) = new.amps else {
        w.plan.ask(
            "amps",
            "Which breaker does the sheet of the surge protector ask for? Often 20 to 50 A, of one pole for each leg",
        );
        return Ok(w);
    };
    let poles = usize::from(panel.supply.legs());
    if !new.at.is_empty() && (new.at.len() != poles || new.at.iter().any(|p| !panel.has(p.space))) {
        return Err(Invalid::new("at", format!("{} of the panel, one below the other, please", counted_poles(poles))));
    }
    let given = new.clone();
    let of = NewPlace {
        house,
        panel,
        poles,
        halves: false,
        amps: Amps(0.0),
        beside: &[],
        more: &[],
        none: NO_ROOM,
        what: "it goes to",
    };
    let NewSurge { at: seat, room: made, .. } = &mut new;
    room::choose(basis, &mut w.plan, &of, (seat, made), |at, room| {
        Goal::Surge(NewSurge { at, room, ..given.clone() })
    })?;
    room::acts(&mut w, &new.room)?;
    w.plan.cautions.push(
        "Asked for where the service of a dwelling is made new (NEC 230.67). The type that goes on a breaker is type 2; one at the meter is \
         the utility's."
            .into(),
    );
    if !panel.is_main() {
        w.plan.cautions.push("The first one stands at the panel with the main: at a sub-panel it is a second.".into());
    }
    w.plan.part(1, format!("surge protector, type 2, for {} legs and neutral", panel.supply.legs()));
    w.plan.part(1, format!("breaker, {}, {amps}, {}", counted_poles(poles), of_a_listed_type(panel)));
    w.plan.goal = Goal::Surge(new.clone());
    if w.is_open() {
        acts(&mut w, &new, amps);
    }
    Ok(w)
}

fn acts(w: &mut Working<'_>, new: &NewSurge, amps: Amps) {
    let breaker = Breaker {
        label: "surge protector".into(),
        frame: Some(Frame::Full),
        ..Breaker::new(new.breaker, new.panel, new.at.clone(), amps)
    };
    w.act(
        "The protector in the knockout that is nearest to its breaker, its light to be seen.",
        "Each foot of lead takes away from what it does: short and straight, no loops (NEC 242.24).",
        None,
    );
    w.act(
        format!(
            "The new breaker in at {}, in OFF; its hots on it, white to the neutral bar and green, where it has one, to the ground bar, as its \
             sheet shows.",
            format_poles(&new.at)
        ),
        "NEC 408.41.",
        None,
    );
    let place = at(&breaker);
    w.makes(|draft| {
        draft.place_breaker(&breaker);
        Ok(())
    });
    w.look(
        &format!("surge-light-{}", new.breaker.0),
        "With its breaker on its light says that it protects.",
        "One whose light is out protects nothing: it is used up, or a leg is missing.",
        Some(place),
    );
}
