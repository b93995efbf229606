//! Small labels: for the back of cover plates, for wires, beside breakers, for panels. (handbook 4)

use std::collections::BTreeSet;

use serde::Serialize;
use utoipa::ToSchema;

use super::{fed_from, plate, plate_name};
use crate::base::said;
use crate::house::{Breaker, BreakerId, House, Job, MeasuredAt, Point, RoomId, Subject};
use crate::trace::{Beliefs, Status};

/// Where a label goes.
#[derive(Debug, Clone, Copy, PartialEq, Eq, PartialOrd, Ord, Serialize, ToSchema)]
#[serde(rename_all = "kebab-case")]
pub enum TagKind {
    /// Behind a cover plate.
    Plate,
    /// Around a wire.
    Wire,
    /// Beside a breaker.
    Number,
    /// On a panel.
    Panel,
}

said!(TagKind {
    Plate => "cover plates",
    Wire => "wires",
    Number => "beside breakers",
    Panel => "panels",
});

/// A label.
#[derive(Debug, Clone, PartialEq, Eq, Serialize, ToSchema)]
pub struct Tag {
    /// Where it goes.
    pub kind: TagKind,
    /// The thing that it is stuck on.
    pub of: Subject,
    /// The room of that, where it is in one.
    pub room: Option<RoomId>,
    /// The circuit: panel and place.
    pub large: String,
    /// What it is for.
    pub small: String,
    /// It is proven; otherwise it says that it is not.
    pub proven: bool,
    /// What the label there says now, where somebody said that one is.
    pub stuck: Option<String>,
    /// There is none, or one that says something else.
    pub due: bool,
}

/// Rooms in which every point is settled, and a plate has no label or one that is no longer so.
#[must_use]
pub fn rooms_to_label(house: &House, beliefs: &Beliefs, tags: &[Tag]) -> Vec<RoomId> {
    let open: BTreeSet<RoomId> = beliefs
        .points
        .iter()
        .filter(|belief| matches!(belief.status, Status::Likely | Status::Unknown))
        .filter_map(|belief| house.points.get(belief.point))
        .map(|point| point.room)
        .collect();
    let due = |room: &RoomId| {
        let plate = |tag: &&Tag| tag.kind == TagKind::Plate && tag.room == Some(*room);
        !open.contains(room) && tags.iter().filter(plate).any(|tag| tag.due)
    };
    let mut rooms: Vec<RoomId> = house.rooms.iter().map(|room| room.id).filter(due).collect();
    rooms.sort_by_key(|room| house.room_order(*room));
    rooms
}

/// Every label of a house: panels, numbers and wires in the order of the panels, plates in the order of the walk.
#[must_use]
pub fn tags(house: &House, beliefs: &Beliefs) -> Vec<Tag> {
    let panels = house.panels_in_order();
    let mut all: Vec<Tag> = panels.iter().map(|p| panel_tag(house, p)).collect();
    let breakers: Vec<&Breaker> = panels.iter().flat_map(|p| house.breakers_of(p.id)).collect();
    all.extend(breakers.iter().map(|b| number(house, b)));
    all.extend(breakers.iter().flat_map(|b| wires(house, b)));
    all.extend(house.points_in_order().into_iter().filter_map(|p| of_plate(house, beliefs, p)));
    all
}

fn tag(house: &House, kind: TagKind, of: Subject, large: String, small: String) -> Tag {
    let stuck = house.labelled(of).map(str::to_owned).filter(|_| matches!(kind, TagKind::Plate | TagKind::Panel));
    let due = stuck.as_ref() != Some(&large);
    Tag { kind, of, room: None, large, small, proven: true, stuck, due }
}

fn panel_tag(house: &House, panel: &crate::house::Panel) -> Tag {
    tag(house, TagKind::Panel, panel.id.into(), format!("Panel {}", panel.name), fed_from(house, panel))
}

fn number(house: &House, breaker: &Breaker) -> Tag {
    tag(house, TagKind::Number, breaker.id.into(), breaker.at_text(), breaker.amps.to_string())
}

/// Of each pole its hot, and the neutral that belongs to it; of a shared one whose it is as well: taken off alone it puts both
/// circuits in danger.
fn wires(house: &House, breaker: &Breaker) -> Vec<Tag> {
    let circuits = house.circuits_of(breaker.id);
    let neutral = breaker.at.len() == 1 || circuits.iter().any(|c| c.conductors == Some(3));
    let several = breaker.at.len() > 1;
    let hots = breaker.at.iter().map(|p| if several { format!("hot of pole {p}") } else { "hot".to_owned() });
    let sharing: BTreeSet<BreakerId> = circuits
        .iter()
        .flat_map(|c| house.sharing_neutral(c))
        .map(|c| c.breaker)
        .filter(|b| *b != breaker.id)
        .collect();
    let with: Vec<String> =
        sharing.iter().filter_map(|id| house.breakers.get(*id)).map(|b| plate_name(house, b)).collect();
    let its =
        if with.is_empty() { "its neutral".to_owned() } else { format!("neutral SHARED with {}", with.join(", ")) };
    let all = hots.chain(neutral.then_some(its));
    let large = plate_name(house, breaker);
    all.map(|what| tag(house, TagKind::Wire, breaker.id.into(), large.clone(), format!("wire: {what}"))).collect()
}

/// A plate says what feeds it; where that is only likely, that as well.
fn of_plate(house: &House, beliefs: &Beliefs, point: &Point) -> Option<Tag> {
    let small = format!("{}: {}", point.tag, house.called(point));
    let base =
        |large| Tag { room: Some(point.room), ..tag(house, TagKind::Plate, point.id.into(), large, small.clone()) };
    let belief = beliefs.of(point.id)?;
    if let Some((_, large)) = plate(house, beliefs, point) {
        let both = if belief.status == Status::TwoHandles { "BOTH off; " } else { "" };
        return Some(Tag { small: format!("{both}{small}"), ..base(large) });
    }
    let first = belief.candidates.first().filter(|_| belief.status == Status::Likely)?;
    let breaker = house.breakers.get(first.at.breaker)?;
    let likely = base(format!("{} ?", plate_name(house, breaker)));
    Some(Tag { small: format!("not proven; {}", likely.small), proven: false, ..likely })
}

/// Labels for what a job touched, as the house stands now: of each breaker its wires, then the plates of what it feeds.
#[must_use]
pub fn of_job(house: &House, beliefs: &Beliefs, job: &Job) -> Vec<Tag> {
    let placed = job.steps.iter().filter_map(|step| step.place.and_then(MeasuredAt::breaker));
    let touched: BTreeSet<BreakerId> = job.stood.breakers.iter().map(|b| b.id).chain(placed).collect();
    let mut there: Vec<&Breaker> = touched.iter().filter_map(|b| house.breakers.get(*b)).collect();
    there.sort_by_key(|b| (b.panel, b.at.clone()));
    let plates = |breaker: &Breaker| -> Vec<Tag> {
        let fed = beliefs.breakers.iter().find(|b| b.at.breaker == breaker.id).into_iter().flat_map(|b| &b.feeds);
        let own = fed.filter(|fed| !fed.through && (fed.proven || fed.likely));
        own.filter_map(|fed| of_plate(house, beliefs, house.points.get(fed.point)?)).collect()
    };
    there.into_iter().flat_map(|breaker| [wires(house, breaker), plates(breaker)].concat()).collect()
}
