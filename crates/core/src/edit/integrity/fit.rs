//! What does not fit together.

use crate::base::Invalid;
use crate::edit::fit;
use crate::house::House;

/// What does not fit is refused, unless it is recorded as found.
pub(super) fn check_fit(house: &House) -> Result<(), Invalid> {
    let as_found = |m: &fit::Misfit| match m.circuit {
        Some(circuit) => house.circuits.get(circuit).is_some_and(|c| c.as_found),
        None => house.breakers.get(m.breaker).is_some_and(|b| b.as_found),
    };
    let field = |m: &fit::Misfit| if m.circuit.is_some() { circuit_field(m.rule) } else { "breaker.at" };
    match fit::misfits(house).into_iter().find(|m| m.rule.is_refused() && !as_found(m)) {
        Some(m) => {
            let message = format!(
                "{} ({}). If it is really so, record it as found: an exclamation mark behind its amperes, as in 30!",
                m.message, m.source
            );
            Err(Invalid::new(field(&m), message))
        }
        None => Ok(()),
    }
}

fn circuit_field(rule: fit::Misrule) -> &'static str {
    match rule {
        fit::Misrule::FullTerminal => "circuit.landed",
        fit::Misrule::NeutralOneLeg | fit::Misrule::NeutralUntied => "circuit.neutral_of",
        _ => "circuit.wire",
    }
}
