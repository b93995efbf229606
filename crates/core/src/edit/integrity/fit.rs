//! What does not fit together.

use crate::base::Invalid;
use crate::house::House;
use crate::rules::{self, Entry, Facts, Hit};

/// What a rule refuses is refused, unless it is recorded as found.
pub(super) fn check_fit(house: &House) -> Result<(), Invalid> {
    for hit in rules::hits(&Facts::entered(house)) {
        if let Entry::Refused(field) = hit.rule.entry
            && !is_as_found(house, &hit)
        {
            let said = hit.said();
            let message = format!(
                "{said}. If it is really so, record it as found: an exclamation mark behind its amperes, as in 30!"
            );
            return Err(Invalid::new(field, message));
        }
    }
    Ok(())
}

/// What is asked about before a change is taken: what a rule has asked about that did not stand before.
#[must_use]
pub fn question(before: &House, after: &House) -> Option<Invalid> {
    let stood: Vec<Hit> = rules::hits(&Facts::entered(before));
    let asks = |hit: &Hit| match hit.rule.entry {
        // Typed anew it is asked about anew.
        Entry::Asked(field) => (!stood.contains(hit)).then(|| (field, hit.said())),
        Entry::Refused(_) | Entry::Marked => None,
    };
    let (field, said) = rules::hits(&Facts::entered(after)).iter().find_map(asks)?;
    Some(Invalid::new(field, format!("{said}. Read both once more; if it is really so, enter it again")))
}

fn is_as_found(house: &House, hit: &Hit) -> bool {
    match hit.circuit {
        Some(circuit) => house.circuits.get(circuit).is_some_and(|c| c.as_found),
        None => hit.breaker.and_then(|b| house.breakers.get(b)).is_some_and(|b| b.as_found),
    }
}
