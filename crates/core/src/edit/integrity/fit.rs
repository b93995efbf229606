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
            let said = hit.said(house);
            let message = format!(
                "{said}. If it is really so, record it as found: an exclamation mark behind its amperes, as in 30!"
            );
            return Err(Invalid::new(field, message));
        }
    }
    Ok(())
}

/// What is asked about before a change is taken: a panel typed so that a rule asks about it. What another thing brings about (a
/// feeder's breaker) is marked: it has no such field to be asked at.
#[must_use]
pub fn question(before: &House, after: &House) -> Option<Invalid> {
    let typed = |hit: &&Hit| before.panels.get(hit.panel) != after.panels.get(hit.panel);
    let asks = |hit: &Hit| match hit.rule.entry {
        Entry::Asked(field) => Some(hit).filter(typed).map(|hit| (field, hit.said(after))),
        Entry::Refused(_) | Entry::Marked | Entry::Seen => None,
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
