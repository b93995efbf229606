//! A walk through the house that asks for what nobody looked at: at the panels with their covers on, then off for who may, then in the
//! rooms; the gravest first. (handbook 5.1, 6)

use serde::Serialize;
use utoipa::ToSchema;

use crate::base::units::Seconds;
use crate::house::{AsFound, House, Panel, PanelId, Room, RoomId, Saw, Subject};
use crate::rules::as_found::{AskedOf, LOOKS, LookFor, LookWhere};
use crate::rules::{Scope, Severity};

/// A question.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
pub struct InspectionAsk {
    /// What it is asked of: a panel, a breaker, a room.
    pub of: Subject,
    /// What is looked for.
    pub fact: AsFound,
    /// The question.
    pub said: &'static str,
    /// Where whoever is asked stands.
    pub stand: LookWhere,
    /// That place by its name.
    pub place: String,
    /// What would be found.
    pub severity: Severity,
    /// That in a few words,
    pub title: &'static str,
    /// and what is to be done then.
    pub cure: &'static str,
    /// The answer that is well.
    pub well: Saw,
    /// What is tapped where it is not well; nothing where the answer is enough.
    pub pick: Option<Picked>,
    /// About how long it takes.
    pub seconds: Seconds,
}

/// What is tapped in answer.
#[derive(Debug, Clone, PartialEq, Eq, Serialize, ToSchema)]
#[serde(tag = "pick", rename_all = "kebab-case")]
pub enum Picked {
    /// A breaker of this panel.
    Breaker {
        /// Which panel.
        panel: PanelId,
    },
    /// A point of this room.
    Point {
        /// Which room.
        room: RoomId,
    },
}

/// A question that has its answer.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
pub struct InspectionAnswer {
    /// The question, that may be asked again.
    pub ask: InspectionAsk,
    /// What was seen.
    pub saw: Saw,
}

/// How far an inspection is.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
pub struct Inspection {
    /// What is to be asked still, in the order of the walk.
    pub open: Vec<InspectionAsk>,
    /// What was answered.
    pub asked: Vec<InspectionAnswer>,
    /// About how long the rest takes.
    pub seconds: Seconds,
}

/// [prac] About how long a look takes, to read and to answer included.
fn seconds(stand: LookWhere) -> Seconds {
    Seconds(match stand {
        LookWhere::Closed => 15.0,
        LookWhere::Open => 25.0,
        LookWhere::Rooms => 35.0,
    })
}

/// What nobody looked at yet; behind covers for who may open them alone.
#[must_use]
pub fn inspection(house: &House, qualified: bool) -> Inspection {
    let mut open: Vec<InspectionAsk> = Vec::new();
    let mut asked: Vec<InspectionAnswer> = Vec::new();
    let panels = house.panels_in_order();
    for look in LOOKS.iter().filter(|look| qualified || look.stand != LookWhere::Open) {
        for (of, place) in places(house, &panels, look) {
            let ask = ask(look, of, place);
            match answered(house, look, of) {
                Some(saw) => asked.push(InspectionAnswer { ask, saw }),
                None => open.push(ask),
            }
        }
    }
    // One panel after the other, then room after room; the sort keeps the order of the walk among what is alike.
    let nth = |of: Subject| match of {
        Subject::Panel(id) => panels.iter().position(|p| p.id == id),
        Subject::Breaker(id) => house.breakers.get(id).and_then(|b| panels.iter().position(|p| p.id == b.panel)),
        _ => None,
    };
    open.sort_by_key(|ask| (ask.stand, nth(ask.of), ask.severity));
    let seconds = Seconds(open.iter().fold(0.0, |all, ask| all + ask.seconds.0));
    Inspection { open, asked, seconds }
}

/// Nobody is asked to open what is scorched or wet: an electrician does that. [prac: handbook 5.1]
fn may_be_opened(house: &House, panel: &Panel) -> bool {
    [AsFound::Scorched, AsFound::Water].iter().all(|fact| house.saw(panel.id.into(), *fact) != Some(Saw::Yes))
}

/// Where a look is asked.
fn places(house: &House, panels: &[&Panel], look: &LookFor) -> Vec<(Subject, String)> {
    let of = match look.of {
        AskedOf::RoomsWith(such) => {
            let has = |room: &&Room| house.points.iter().any(|p| p.room == room.id && such(p));
            let rooms = house.rooms.iter().filter(has);
            return rooms.map(|room| (Subject::Room(room.id), room.name.clone())).collect();
        }
        AskedOf::Panels(of) => of,
    };
    let opened = |panel: &Panel| look.stand != LookWhere::Open || may_be_opened(house, panel);
    let panels = panels.iter().filter(|panel| of(house, panel) && opened(panel));
    match (look.rule.scope, look.bad) {
        // What must be there is asked of each that it belongs to.
        (Scope::Breaker, Saw::No) => {
            let inlets = panels.flat_map(|panel| house.inlets(panel.id).into_iter().filter(|b| b.panel == panel.id));
            inlets.map(|b| (Subject::Breaker(b.id), format!("breaker {}", house.breaker_name(b)))).collect()
        }
        _ => panels.map(|panel| (Subject::Panel(panel.id), panel.name.clone())).collect(),
    }
}

fn ask(look: &LookFor, of: Subject, place: String) -> InspectionAsk {
    let pick = match (look.rule.scope, of) {
        (Scope::Breaker, Subject::Panel(panel)) => Some(Picked::Breaker { panel }),
        (Scope::Point, Subject::Room(room)) => Some(Picked::Point { room }),
        _ => None,
    };
    let well = if look.bad == Saw::Yes { Saw::No } else { Saw::Yes };
    let (severity, seconds) = (look.rule.severity, seconds(look.stand));
    let (title, cure) = (look.rule.title, look.rule.cure);
    InspectionAsk {
        of,
        fact: look.fact,
        said: look.ask,
        stand: look.stand,
        place,
        severity,
        title,
        cure,
        well,
        pick,
        seconds,
    }
}

/// What was seen there, or of one of what belongs there.
fn answered(house: &House, look: &LookFor, of: Subject) -> Option<Saw> {
    let among =
        |all: Vec<Subject>| all.into_iter().find_map(|one| house.saw(one, look.fact).filter(|s| *s == look.bad));
    let inner = match (look.rule.scope, of) {
        (Scope::Breaker, Subject::Panel(panel)) if look.fact == AsFound::NoWire => {
            house.breakers_of(panel).iter().any(|b| b.unwired).then_some(Saw::Yes)
        }
        (Scope::Breaker, Subject::Panel(panel)) => {
            among(house.breakers_of(panel).iter().map(|b| Subject::from(b.id)).collect())
        }
        (Scope::Point, Subject::Room(room)) => {
            let there = house.points.iter().filter(|p| p.room == room);
            among(there.map(|p| Subject::from(p.id)).collect())
        }
        // It may have been entered elsewhere.
        (Scope::Panel, Subject::Panel(panel)) if look.fact == AsFound::Bonded => {
            let bonded = house.panels.get(panel).and_then(|p| p.bonded);
            bonded.map(|bonded| if bonded { Saw::Yes } else { Saw::No })
        }
        _ => None,
    };
    inner.or_else(|| house.saw(of, look.fact))
}
