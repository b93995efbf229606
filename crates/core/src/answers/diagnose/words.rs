//! What a diagnosis says: causes as statements, checks as questions that yes or no answers.

use super::{Cause, Check, Stop, ToStop};
use crate::base::Said;
use crate::house::{BreakerId, House, PointId, RoomId};
use crate::words::things::by_tags;

/// Of what no check with the covers on tells.
pub(super) const BEHIND_COVERS: &str = "Behind covers: for an electrician.";

fn breaker(house: &House, id: BreakerId) -> String {
    format!("breaker {}", house.breakers.get(id).map_or_else(|| "?".into(), |b| house.breaker_name(b)))
}

/// Its room and name, with its tag.
fn thing(house: &House, id: PointId) -> String {
    house.points.get(id).map_or_else(|| "?".into(), |p| by_tags(house, std::slice::from_ref(&p.tag)))
}

fn room(house: &House, id: RoomId) -> String {
    house.rooms.get(id).map_or_else(|| "?".into(), |r| r.name.clone())
}

impl Cause {
    pub(super) fn said(&self, house: &House) -> String {
        match *self {
            Self::Breaker { breaker: b } => format!("{} is off or tripped", first_up(&breaker(house, b))),
            Self::GroundFault { point } => format!("The ground-fault device {} tripped", thing(house, point)),
            Self::Unregistered { room: r } => {
                format!("A ground-fault outlet that is not on the list, in {}, tripped", room(house, r))
            }
            Self::Switch { point } => format!("The wall switch {} is off", thing(house, point)),
            Self::Itself { point } => format!("The lamp or appliance at {} itself", thing(house, point)),
            Self::Loose { breaker: b } => format!("A loose connection on the circuit of {}", breaker(house, b)),
            Self::SharedNeutral { breaker: b, other } => {
                format!("The neutral that {} and {} share is open", breaker(house, b), breaker(house, other))
            }
            Self::LostLeg { leg, .. } => format!("Leg {} is lost: utility, meter or main", leg.said()),
            Self::Main { .. } => "The main is off or tripped".into(),
            Self::Utility => "The utility's supply is out".into(),
            Self::OpenNeutral => "The service neutral is open or loose: danger".into(),
        }
    }
}

fn first_up(text: &str) -> String {
    let mut rest = text.chars();
    rest.next().map_or_else(String::new, |first| first.to_uppercase().chain(rest).collect())
}

impl Check {
    pub(super) fn said(&self, house: &House) -> String {
        match *self {
            Self::Handle { breaker: b } => {
                format!("Is the handle of {} off, or between on and off?", breaker(house, b))
            }
            Self::PressReset { point } => format!("Press RESET on {}: does it work now?", thing(house, point)),
            Self::TryButtons { room: r } => format!(
                "Is there an outlet with TEST and RESET buttons anywhere in {}? Press RESET: does it work now?",
                room(house, r)
            ),
            Self::Switch { point } => format!("Move the wall switch {}: does it work now?", thing(house, point)),
            Self::Works { point } => format!("Does {} work?", thing(house, point)),
            Self::Main { .. } => "Is the main breaker off, or between?".into(),
            Self::Neighbours => "Are the neighbours dark too?".into(),
            Self::Another { point } => format!("Does another lamp or appliance work at {}?", thing(house, point)),
            Self::Measure { .. } => "Are the service voltages wrong? Behind the cover: qualified people only.".into(),
        }
    }
}

impl Stop {
    pub(super) fn told(self) -> ToStop {
        let (said, what) = match self {
            Self::OpenNeutral => (
                "Stop: the neutral may be open",
                "Switch the main off. Voltages of up to 240 V may stand where 120 V belongs. Call the utility or an \
                 electrician at once; unplug what is dear.",
            ),
            Self::Burning => (
                "Stop: fire",
                "If you can reach it safely, switch the main off; leave the house and call the fire service. Then an \
                 electrician.",
            ),
            Self::Shock => (
                "Stop: touch nothing more",
                "Switch the main off. An electrician has to look before anything is used again.",
            ),
        };
        ToStop { why: self, said, what }
    }
}
