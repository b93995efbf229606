//! A new circuit with an outlet for one large thing: kiln, welder, range, car charger, dryer. (handbook 5.10)

use super::add;
use super::plan::{Basis, Plan};
use crate::base::Invalid;
use crate::base::units::{NominalVolts, PlateVolts};
use crate::house::{Goal, NewCircuit};

/// Plans it: the nameplate first.
pub(super) fn plan(basis: &Basis<'_>, new: &NewCircuit) -> Result<Plan, Invalid> {
    let mut plan = add::plan(basis, new, Goal::Dedicated)?;
    let Some(load) = &new.load else {
        plan.ask("load", "What is it, and what does its nameplate say? Breaker, wire and receptacle follow from that");
        return Ok(plan);
    };
    plan.title =
        format!("An outlet for {}", if load.name.trim().is_empty() { "one large thing" } else { load.name.trim() });
    if load.volts.map(PlateVolts::nominal).or(new.point.volts) == Some(NominalVolts::V120) {
        plan.cautions.push(
            "A single receptacle on a circuit of its own is rated like the circuit at least (NEC 210.21(B)(1)).".into(),
        );
    }
    plan.cautions.push("The plug decides the receptacle: hold it beside before you buy. Old three-slot ranges and dryers: not for new work (NEC 250.140).".into());
    plan.part(1, "bushing for every metal edge that the wires pass");
    Ok(plan)
}
