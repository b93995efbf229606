//! A new circuit with an outlet for one large thing: kiln, welder, range, car charger, dryer. (handbook 5.10)

use super::add;
use crate::base::Invalid;
use crate::base::units::{NominalVolts, PlateVolts};
use crate::house::{Goal, NewCircuit};
use crate::job::form::Kind;
use crate::job::mishaps;
use crate::job::plan::Basis;
use crate::job::working::Working;

pub(super) static KIND: Kind = Kind {
    name: "dedicated",
    group: "Something new to connect",
    title: "An outlet for one large thing",
    under: "oven, welder, range, car charger, dryer",
    fields: &add::fields("240"),
    mishaps: mishaps::MOVING,
    goal: |of| add::new_circuit(of, true).map(Goal::Dedicated),
};

/// Works it out: the nameplate first.
pub(super) fn work<'a>(basis: &'a Basis<'a>, new: &NewCircuit) -> Result<Working<'a>, Invalid> {
    let mut w = add::work(basis, new, Goal::Dedicated)?;
    let Some(load) = &new.load else {
        w.plan
            .ask("load", "What is it, and what does its nameplate say? Breaker, wire and receptacle follow from that");
        return Ok(w);
    };
    w.plan.title =
        format!("An outlet for {}", if load.name.trim().is_empty() { "one large thing" } else { load.name.trim() });
    if load.volts.map(PlateVolts::nominal).or(new.point.volts) == Some(NominalVolts::V120) {
        w.plan.cautions.push(
            "A single receptacle on a circuit of its own is rated like the circuit at least (NEC 210.21(B)(1)).".into(),
        );
    }
    w.plan.cautions.push("The plug decides the receptacle: hold it beside before you buy. Old three-slot ranges and dryers: not for new work (NEC 250.140).".into());
    w.plan.part(1, "bushing for every metal edge that the wires pass");
    Ok(w)
}
