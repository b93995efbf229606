//! A plan with its panel before and after, and the lines between.

use serde::Serialize;
use utoipa::ToSchema;

use super::plan::{Basis, Plan};
use crate::base::Invalid;
use crate::house::{BreakerId, Goal, House, PanelId};
use crate::trace::{self, Beliefs};
use crate::view::face::{Face, face};

/// A body that stands elsewhere after.
#[derive(Debug, Clone, PartialEq, Eq, Serialize, ToSchema)]
pub struct MovedBody {
    /// Which.
    pub breaker: BreakerId,
    /// Where it stands,
    pub from: String,
    /// and where it goes.
    pub to: String,
}

/// A panel before and after.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
pub struct BeforeAfter {
    /// Before.
    pub before: Face,
    /// After; nothing where the plan has open questions or is refused.
    pub after: Option<Face>,
    /// Bodies that move.
    pub moved: Vec<MovedBody>,
}

/// A plan with its pictures.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
pub struct Pictured {
    /// The plan.
    #[serde(flatten)]
    pub plan: Plan,
    /// Its panel.
    pub faces: BeforeAfter,
}

/// Plans a job and draws it.
///
/// # Errors
/// As [`super::plan`].
pub fn pictured(basis: &Basis<'_>, goal: &Goal) -> Result<Pictured, Invalid> {
    super::with_its_panel(basis, goal, |basis| {
        let plan = super::plan(basis, goal)?;
        let after = plan.is_open().then(|| plan.becomes(basis.house)).transpose()?;
        let faces = before_after(basis.house, basis.beliefs, after.as_ref(), plan.panel)?;
        Ok(Pictured { plan, faces })
    })
}

/// A panel in two states of a house.
///
/// # Errors
/// Where the house has no such panel.
pub fn before_after(
    house: &House,
    beliefs: &Beliefs,
    after: Option<&House>,
    id: PanelId,
) -> Result<BeforeAfter, Invalid> {
    let panel = house.panels.get(id).ok_or_else(|| Invalid::gone("panel", id.0))?;
    let then = after.and_then(|after| Some((after, after.panels.get(id)?)));
    let moved = house.breakers_of(id).into_iter().filter_map(|b| {
        let (from, to) = (b.at_text(), then?.0.breakers.get(b.id)?.at_text());
        (from != to).then_some(MovedBody { breaker: b.id, from, to })
    });
    Ok(BeforeAfter {
        moved: moved.collect(),
        before: face(house, beliefs, panel),
        after: then.map(|(house, panel)| face(house, &trace::beliefs(house), panel)),
    })
}
