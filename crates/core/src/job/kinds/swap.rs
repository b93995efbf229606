//! A spare breaker of the panel in place of a bad one: nothing is bought but a closer, and both places change in the record.
//! (handbook 5.15)

use crate::base::{Invalid, Said};
use crate::house::{Breaker, BreakerId, Goal, Handle, House};
use crate::job::form::{Answers, BREAKER, Field, FieldSort, Kind};
use crate::job::kinds::retire;
use crate::job::mishaps;
use crate::job::obstacles::{HALF_OF_A_BODY, HAS_A_WIRE, NOT_ALIKE};
use crate::job::plan::{Basis, Plan, counted_poles};
use crate::job::working::{Working, at};
use crate::rules::{self, Facts};

pub(super) static KIND: Kind = Kind {
    name: "swap",
    group: "A breaker is bad",
    title: "A spare of the panel in its place",
    under: "of the same type, poles and rating",
    fields: &[BREAKER, Field::new("spare", "The spare, with no wire on it", FieldSort::Breaker).required()],
    mishaps: mishaps::ALWAYS,
    goal,
};

fn goal(of: &Answers<'_>) -> Result<Goal, Invalid> {
    Ok(Goal::Swap { breaker: of.breaker("breaker")?, spare: of.breaker("spare")? })
}

/// Works it out.
pub(super) fn work<'a>(basis: &'a Basis<'a>, id: BreakerId, spare: BreakerId) -> Result<Working<'a>, Invalid> {
    let house = basis.house;
    let (bad, spare) = (find(house, "breaker", id)?, find(house, "spare", spare)?);
    if bad.id == spare.id || bad.panel != spare.panel {
        return Err(Invalid::new("spare", "two different breakers of one panel, please"));
    }
    let title = format!("{} in place of {}", spare.at_text(), basis.called(bad));
    let mut w = Working::new(basis, title, bad.panel, Goal::Swap { breaker: bad.id, spare: spare.id });
    w.touch([bad.id, spare.id]);
    w.plan.cautions.push(
        "Is it the breaker at all? Both sides of its contacts are read under load first (Is it the breaker?). And is the spare a good \
         one: nobody knows what it carried before."
            .into(),
    );
    refusals(basis, bad, spare, &mut w.plan);
    if w.is_open() {
        acts(&mut w, bad, spare)?;
    }
    Ok(w)
}

fn find<'a>(house: &'a House, field: &'static str, id: BreakerId) -> Result<&'a Breaker, Invalid> {
    house.breakers.get(id).ok_or_else(|| Invalid::new(field, "there is no such breaker (any more)"))
}

/// It has nothing on it, and is what the wire of the other one asks for. [pub: NEC 110.3(B), 240.4, value from memory]
fn refusals(basis: &Basis<'_>, bad: &Breaker, spare: &Breaker, plan: &mut Plan) {
    let house = basis.house;
    if !retire::idle(basis, spare.panel).contains(&spare.id) {
        plan.refuse(HAS_A_WIRE, format!("it is not known that no wire is landed on {}", spare.at_text()));
    }
    for breaker in [bad, spare].into_iter().filter(|b| b.is_half_size()) {
        let why = format!("{} is half of a body, and a half of it does not come out", breaker.at_text());
        plan.refuse_for(HALF_OF_A_BODY, why, "replace it with a new body of the listed type");
    }
    let asked = rules::rating(&Facts { house, hangs: &basis.beliefs.hangs() }, bad);
    let what = |b: &Breaker| format!("{} of {}, {}", b.device.said(), b.amps, counted_poles(b.at.len()));
    let alike = spare.at.len() == bad.at.len() && spare.device == bad.device && spare.amps == asked;
    let types = [&bad.model, &spare.model].map(|model| model.trim().to_lowercase());
    let other_type = types.iter().all(|model| !model.is_empty()) && types[0] != types[1];
    if !alike || other_type {
        let of =
            |b: &Breaker| if b.model.trim().is_empty() { what(b) } else { format!("{} {}", b.model.trim(), what(b)) };
        let wire = if asked == bad.amps { String::new() } else { format!(", and its wire asks for {asked}") };
        plan.refuse(NOT_ALIKE, format!("{} is {}{wire}; {} is {}", bad.at_text(), of(bad), spare.at_text(), of(spare)));
    }
}

fn acts(w: &mut Working<'_>, bad: &Breaker, spare: &Breaker) -> Result<(), Invalid> {
    let place = Some(at(bad));
    retire::take_out(w, spare.id)?;
    w.act(
        "Look at it: no burnt clip, no crack, its handle snaps from OFF to ON and back. A closer goes into its opening.",
        "One that was worn out once was left there for a reason.",
        Some(at(spare)),
    );
    w.act(format!("Tag every wire of {}.", w.basis.called(bad)), "", place);
    w.act(
        format!("Rock {} out, towards the outside of the panel, its wires still on it. Look at the bus: burnt or rusty, stop.", bad.at_text()),
        "A burnt finger of the bus spoils the space or the panel, not the breaker: an electrician is due.",
        place,
    );
    w.act(
        format!(
            "The spare in at {}, in OFF, from the rail to the bus; the wires one at a time from the old to it.",
            bad.at_text()
        ),
        "Stiff is good, loose is not. One at a time: none is exchanged.",
        place,
    );
    w.with("screwdriver, torque tool");
    let put = Breaker {
        amps: spare.amps,
        model: spare.model.clone(),
        frame: spare.frame,
        trip: spare.trip,
        terminal: spare.terminal,
        handle: Handle::On,
        bad: false,
        ..bad.clone()
    };
    w.makes(|draft| {
        draft.put(put);
        Ok(())
    });
    if bad.device.is_protected() {
        w.look_at_the_button(bad);
    }
    Ok(())
}
