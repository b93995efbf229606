//! What a diagnosis says: causes as statements, looks as questions.

use super::bench::Bench;
use super::weigh::Tale;
use super::{Answer, Answered, Broken, Cause, Check, Complaint, Extent, OneTap, Showed, Stop, ToStop};
use crate::base::Said;
use crate::house::{BreakerId, Handle, House, PanelId, PointId, RoomId};
use crate::words::places::has_buttons;
use crate::words::short::{capital, lower};
use crate::words::things::by_tags;

/// Of what no look with the covers on tells.
pub(super) const BEHIND_COVERS: &str = "Behind covers: for an electrician.";

pub(super) fn breaker(house: &House, id: BreakerId) -> String {
    format!("breaker {}", house.breakers.get(id).map_or_else(|| "?".into(), |b| house.breaker_name(b)))
}

/// Its room and name, with its tag.
fn thing(house: &House, id: PointId) -> String {
    house.points.get(id).map_or_else(|| "?".into(), |p| by_tags(house, std::slice::from_ref(&p.tag)))
}

fn room(house: &House, id: RoomId) -> String {
    house.rooms.get(id).map_or_else(|| "?".into(), |r| r.name.clone())
}

fn panel(house: &House, id: PanelId) -> String {
    house.panels.get(id).map_or_else(|| "?".into(), |p| p.name.clone())
}

impl Bench<'_> {
    /// A cause in words, or two.
    pub(super) fn said(&self, cause: Cause, also: Option<Cause>) -> String {
        let all: Vec<String> = [cause].into_iter().chain(also).map(|cause| self.said_of(cause)).collect();
        if let [one, other] = all.as_slice() {
            format!("Two at once: {}; and {}", lower(one), lower(other))
        } else {
            all.concat()
        }
    }

    fn said_of(&self, cause: Cause) -> String {
        let house = self.house;
        match cause {
            Cause::Work { job } => {
                let held = house.held().into_iter().find(|held| held.job == job);
                held.map_or_else(|| "Somebody works there".to_owned(), |held| held.who_works(house))
            }
            Cause::Breaker { breaker: b } => {
                let feeds = house.panels.iter().find(|p| p.fed_by == Some(b));
                let what = feeds.map_or_else(String::new, |p| format!(", which feeds {},", p.name));
                format!("{}{what} is off or tripped", capital(&breaker(house, b)))
            }
            Cause::BadBreaker { breaker: b } => {
                format!(
                    "{} is on, but nothing or too little comes past it: the breaker, or its terminal",
                    capital(&breaker(house, b))
                )
            }
            Cause::GroundFault { point } => format!("The ground-fault device {} tripped", thing(house, point)),
            Cause::Unregistered { room: r } => {
                format!("A ground-fault outlet that is not on the list tripped, perhaps in {}", room(house, r))
            }
            Cause::Switch { point } => format!("The wall switch {} is off", thing(house, point)),
            Cause::Itself { point } => format!("The lamp or appliance at {} itself", thing(house, point)),
            Cause::Wire { breaker: b, broken, from } => {
                let what = match broken {
                    Broken::Hot => "A hot is open",
                    Broken::Neutral => "A neutral is open",
                    Broken::Poor => "A connection is poor",
                    Broken::Any => "A hot, a neutral or a connection is broken",
                };
                let chain = self.chains.get(&b).map_or(&[][..], Vec::as_slice);
                let at = chain.iter().position(|p| *p == from).unwrap_or(0);
                let place = match at.checked_sub(1).and_then(|before| chain.get(before)) {
                    Some(before) => format!(
                        "in the box of {} or of {}, or between them, as far as their order is known",
                        thing(house, *before),
                        thing(house, from)
                    ),
                    None => format!("the breaker, its terminal in the panel, or the box of {}", thing(house, from)),
                };
                format!("{what} on the circuit of {}: {place}", breaker(house, b))
            }
            Cause::Miswired { point } => {
                format!("Where somebody worked, at {}, wires are on the wrong terminals", thing(house, point))
            }
            Cause::SharedNeutral { breaker: b, other } => {
                format!("The neutral that {} and {} share is open", breaker(house, b), breaker(house, other))
            }
            Cause::LostLeg { leg, .. } => format!("Leg {} is lost: utility, meter or main", leg.said()),
            Cause::Main { panel: p } => format!("The main of {} is off or tripped", panel(house, p)),
            Cause::Utility => "The utility's supply is out".into(),
            Cause::OpenNeutral => "The service neutral is open or loose: danger".into(),
            Cause::NotListed => "Something that is not on this list".into(),
        }
    }

    /// Why it is thought of.
    pub(super) fn why(&self, tale: &Tale, complaint: &Complaint) -> String {
        let explains = |nth: usize| tale.shows[nth].dead + tale.shows[nth].dim + tale.shows[nth].bright >= 0.5;
        let tags = |which: &dyn Fn(usize, PointId) -> bool| -> Vec<String> {
            let all = self.points.iter().enumerate().filter(|(nth, p)| which(*nth, p.id));
            all.map(|(_, p)| p.tag.clone()).collect()
        };
        let told =
            |p: &PointId| complaint.dead.contains(p) || complaint.dim.contains(p) || complaint.bright.contains(p);
        let (yes, no) = (tags(&|nth, p| told(&p) && explains(nth)), tags(&|nth, p| told(&p) && !explains(nth)));
        let against = tags(&|nth, p| complaint.working.contains(&p) && tale.shows[nth].dead >= 0.5);
        let mut why: Vec<String> = Vec::new();
        if !yes.is_empty() {
            why.push(format!("explains {}", by_tags(self.house, &yes)));
        }
        if !no.is_empty() {
            let explains = if yes.is_empty() { "hardly explains" } else { "hardly" };
            why.push(format!("{explains} {}", by_tags(self.house, &no)));
        }
        if !against.is_empty() {
            why.push(format!("though {} works", by_tags(self.house, &against)));
        }
        let recorded = |cause: Cause| match cause {
            Cause::Breaker { breaker } => self.house.breakers.get(breaker).is_some_and(|b| b.handle != Handle::On),
            _ => false,
        };
        if tale.causes().any(recorded) {
            why.push("its handle is on record as off or tripped".to_owned());
        }
        capital(&why.join("; "))
    }
}

/// What is to be done of a cause, by whom; and the job that mends it, where it is one.
pub(super) fn acts(cause: Cause, complaint: &Complaint) -> (&'static str, Option<&'static str>) {
    match cause {
        Cause::Work { .. } => ("Ask them. Switch nothing on, and open nothing.", None),
        Cause::Breaker { .. } => (
            "At OFF, somebody may work behind it: ask everybody, look for a lock, a tag, an open box. Tripped, it is reset step by step: what \
              tripped it may still be there.",
            None,
        ),
        Cause::BadBreaker { .. } => ("Off, and leave it off. A qualified person replaces it.", Some("replace")),
        Cause::GroundFault { .. } => (
            "If it does not stay set with all unplugged behind it: leave it, something leaks, or the device is worn. A qualified person replaces it.",
            Some("device"),
        ),
        Cause::Unregistered { .. } => {
            ("Enter it in its room, with what hangs behind it: then the next one finds it at once.", None)
        }
        Cause::Switch { .. } | Cause::Itself { .. } => ("Nothing is wrong with the wiring.", None),
        Cause::Wire { .. } if complaint.qualified => (
            "Breaker off and proven dead, then look in these boxes: splices, terminals, wires in spring holes.",
            Some("splice"),
        ),
        Cause::Wire { .. } => (
            "Switch its breaker off, and leave it off: what is open may arc, and what looks dead there may be live. A qualified person looks in these boxes.",
            Some("splice"),
        ),
        Cause::Miswired { .. } => (
            "Breaker off, and leave it off. A qualified person proves it dead and looks which wires come in and which go on: they may be \
             exchanged, or a joint was left out.",
            Some("device"),
        ),
        Cause::SharedNeutral { .. } => {
            ("Both breakers off, and leave them off: up to 240 V may stand there. An electrician.", None)
        }
        Cause::LostLeg { .. } => (
            "Switch the 240 V things off. Call the utility: it looks at its side first, then an electrician at the main.",
            None,
        ),
        Cause::Main { panel } => (after_the_main(panel, complaint), None),
        Cause::Utility => (
            "Wait, and call the utility if nobody has. Switch off what should not start by itself; leave the main as it is.",
            None,
        ),
        Cause::OpenNeutral => ("Main off. The utility or an electrician, at once.", None),
        Cause::NotListed => ("An electrician looks further.", None),
    }
}

/// The main is closed once: what it showed then is not tried again.
fn after_the_main(panel: PanelId, complaint: &Complaint) -> &'static str {
    let tried = complaint.answers.iter().find(|a| a.check == Check::CycleMain { panel }).map(|a| &a.showed);
    match tried {
        Some(Showed::AgainAtOnce) => {
            "Leave it off, and every breaker too: a short or a fault to ground. An electrician."
        }
        Some(Showed::Yes) => {
            "It holds now. What tripped it may be there still: add up what was on, and if it falls again, leave it: an electrician."
        }
        _ => {
            "Switch every breaker off. The main firmly off, then on: once. If it falls again, leave it, an electrician. Then those breakers that \
             were on, one after the other; what was off before stays off."
        }
    }
}

impl Check {
    /// What is easily overlooked at it.
    pub(super) fn minds(self) -> Option<&'static str> {
        match self {
            Self::Glance { .. } => Some("A tripped handle often stands close to ON: touch it, is it loose?"),
            _ => None,
        }
    }

    /// The answers that are one tap each.
    pub(super) fn choices(&self) -> Vec<OneTap> {
        let choice = |said, showed| OneTap { said, showed };
        let mut all = match self.answered() {
            Answered::YesNo => vec![choice("Yes", Showed::Yes), choice("No", Showed::No)],
            Answered::Extent => {
                [Extent::All, Extent::Half, Extent::Less].map(|e| choice(e.said(), Showed::Extent(e))).into()
            }
            Answered::Handles | Answered::Volts | Answered::Sides => Vec::new(),
        };
        if self.may_click() {
            all.push(choice("It clicked out again at once", Showed::AgainAtOnce));
        }
        all.push(choice("I cannot tell", Showed::CannotTell));
        all
    }

    pub(super) fn said(&self, house: &House) -> String {
        match *self {
            Self::Extent => "How much of the house is dead?".into(),
            Self::Neighbours => "Are the neighbours' lights and the street's out too?".into(),
            Self::Glance { panel: p } => {
                format!("One look at the panel {}: which handles stand between ON and OFF, or at OFF?", panel(house, p))
            }
            Self::Cycle { breaker: b } => {
                format!("Put {} firmly to OFF, then to ON, though it looks right: does it work now?", breaker(house, b))
            }
            Self::CycleMain { panel: p } => format!(
                "Switch every breaker of {} off. Put its main firmly to OFF, then to ON, once, though it looks right; then those \
                 that were on, one after the other: does anything work now?",
                panel(house, p)
            ),
            Self::PressReset { point } => format!("Press RESET on {}: does it work now?", thing(house, point)),
            Self::TryButtons => {
                let wet: Vec<&str> =
                    house.rooms.iter().filter(|r| has_buttons(&r.name)).map(|r| r.name.as_str()).collect();
                let wet = if wet.is_empty() { "anywhere".to_owned() } else { format!("in {}", wet.join(", ")) };
                format!(
                    "Is there an outlet with TEST and RESET buttons that is not on the list, {wet}, behind something? Press RESET on \
                     each: does it work now?"
                )
            }
            Self::Switch { point } => {
                let switched: Vec<String> =
                    house.points.iter().filter(|p| p.switched_by.contains(&point)).map(|p| p.tag.clone()).collect();
                format!("Move the wall switch {}: does {} work now?", thing(house, point), by_tags(house, &switched))
            }
            Self::Works { point } => format!("Does {} work?", thing(house, point)),
            Self::Another { point } => {
                format!("Take a lamp or an appliance that works elsewhere: does it work at {}?", thing(house, point))
            }
            Self::Uneven => "Are some lights brighter than usual, or do they change as things are switched on?".into(),
            Self::Glows { point } => format!(
                "Hold a non-contact tester to {}, everything plugged in there switched on: does it glow?",
                thing(house, point)
            ),
            Self::Measure { panel: p } => format!(
                "The voltages at the main of {}: each leg to neutral, and leg to leg. Behind the cover: qualified people only.",
                panel(house, p)
            ),
            Self::Sides { breaker: b } => format!(
                "The voltages before and behind {}, with it on. Behind the cover: qualified people only.",
                breaker(house, b)
            ),
        }
    }
}

impl Answer {
    /// The look as it was asked, with what it showed.
    pub(super) fn said(&self, house: &House) -> String {
        let showed = match &self.showed {
            Showed::Yes => "Yes".to_owned(),
            Showed::No => "No".to_owned(),
            Showed::AgainAtOnce => "It clicked out again at once".to_owned(),
            Showed::CannotTell => "That cannot be told".to_owned(),
            Showed::Extent(extent) => extent.said().to_owned(),
            Showed::Handles(seen) => {
                let named = seen.breakers.iter().filter_map(|b| house.breakers.get(*b)).map(|b| house.breaker_name(b));
                let all: Vec<String> = seen.main.then(|| "the main".to_owned()).into_iter().chain(named).collect();
                if all.is_empty() { "None: all stand at ON".to_owned() } else { all.join(", ") }
            }
            Showed::Volts(read) => format!("{:.0}, {:.0} and {:.0} V", read.a_n.0, read.b_n.0, read.a_b.0),
            Showed::Sides(_) => "Measured".to_owned(),
        };
        format!("{} {showed}.", self.check.said(house))
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
