//! What the steps of a job make true of a house, with what that brings along.

use crate::base::Invalid;
use crate::edit::{Cascades, Draft, Edit, Swap};
use crate::house::{Breaker, Circuit, Goal, JobStep, Load, Point};

/// Makes true what the steps towards a goal say, in their order.
pub(super) fn make(draft: &mut Draft, steps: &[JobStep], goal: &Goal) -> Result<(), Invalid> {
    let joins = |edit: &&Edit| match edit {
        Edit::Breaker(Swap { before: Some(gone), after: None }) => goal.joined(gone.id).map(|into| (gone.id, into)),
        _ => None,
    };
    let all = || steps.iter().flat_map(|step| &step.makes);
    // What was seen of the circuits goes with them, before any of them hangs elsewhere.
    for (gone, into) in all().filter_map(|edit| joins(&edit)) {
        draft.join_breakers(gone, into)?;
    }
    for edit in all() {
        match edit {
            Edit::Breaker(Swap { before: Some(gone), after: None }) => go::<Breaker>(draft, gone.id)?,
            Edit::Point(Swap { before: Some(gone), after: None }) => go::<Point>(draft, gone.id)?,
            Edit::Circuit(Swap { before: Some(gone), after: None }) => go::<Circuit>(draft, gone.id)?,
            Edit::Load(Swap { before: Some(gone), after: None }) => go::<Load>(draft, gone.id)?,
            put => draft.edit(put.onto(&draft.house)?),
        }
    }
    Ok(())
}

/// Takes out what has not gone already with something else.
fn go<T: Cascades>(draft: &mut Draft, id: T::Id) -> Result<(), Invalid> {
    if T::table(&draft.house).get(id).is_none() { Ok(()) } else { T::take_out(draft, id) }
}
