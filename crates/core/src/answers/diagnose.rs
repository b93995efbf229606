//! Something is dead: what may be the cause, most probable first, and the cheapest look that tells more.
//!
//! Every cause says which points it would make dead; what is dead and what still works then weighs the causes
//! (Bayes), and each answer to a check weighs them again. How often each cause is met beforehand is common practice.
//! Where the neutral may be open the answer begins with: stop, and whom to call.

use std::collections::{BTreeMap, BTreeSet};

use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

use crate::answers::service::{Trouble, judge};
use crate::base::chance::entropy;
use crate::base::position::Leg;
use crate::base::units::Seconds;
use crate::base::{Invalid, said};
use crate::house::{
    Breaker, BreakerId, Device, Event, Handle, Held, House, PanelId, Point, PointId, PointKind, RoomId,
};
use crate::trace::Beliefs;
use crate::words::places::has_buttons;

/// What is told of the fault.
#[derive(Debug, Clone, PartialEq, Default, Deserialize, Serialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct Complaint {
    /// Points that are dead.
    pub dead: BTreeSet<PointId>,
    /// Points that still work.
    #[serde(default)]
    pub working: BTreeSet<PointId>,
    /// What else was noticed.
    #[serde(default)]
    pub signs: BTreeSet<Sign>,
    /// Checks that were made.
    #[serde(default)]
    pub answers: Vec<Answer>,
}

/// What else may be noticed.
#[derive(Debug, Clone, Copy, PartialEq, Eq, PartialOrd, Ord, Deserialize, Serialize, ToSchema)]
#[serde(rename_all = "kebab-case")]
pub enum Sign {
    /// Some lights are brighter than usual while others are dim.
    BrightAndDim,
    /// Lights flicker.
    Flicker,
    /// A smell of burning, heat, a scorched cover.
    Burning,
    /// A shock or a tingle was felt.
    Shock,
}

said!(Sign {
    BrightAndDim => "some lights brighter than usual, others dim",
    Flicker => "lights flicker",
    Burning => "a smell of burning, heat",
    Shock => "somebody felt a shock or tingle",
});

/// A check and what it showed.
#[derive(Debug, Clone, PartialEq, Eq, Deserialize, Serialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct Answer {
    /// Which check.
    pub check: Check,
    /// Yes or no.
    pub yes: bool,
}

/// Something to look at; each is asked so that yes or no answers it.
#[derive(Debug, Clone, Copy, PartialEq, Eq, PartialOrd, Ord, Deserialize, Serialize, ToSchema)]
#[serde(tag = "check", rename_all = "kebab-case", deny_unknown_fields)]
pub enum Check {
    /// Is this handle off or tripped? (For a fuse: is it blown?)
    Handle {
        /// Which breaker.
        breaker: BreakerId,
    },
    /// Does it work after RESET was pressed on this ground-fault device?
    PressReset {
        /// Which device.
        point: PointId,
    },
    /// Is there a device with buttons in this room, and does it work after its RESET was pressed?
    TryButtons {
        /// Which room.
        room: RoomId,
    },
    /// Does it work when this switch is moved?
    Switch {
        /// Which switch.
        point: PointId,
    },
    /// Does this point work?
    Works {
        /// Which point.
        point: PointId,
    },
    /// Is the panel's main off or tripped?
    Main {
        /// Which panel.
        panel: PanelId,
    },
    /// Are the neighbours dark too?
    Neighbours,
    /// Does another lamp or appliance work at this point?
    Another {
        /// Which point.
        point: PointId,
    },
    /// Are the service voltages wrong? Behind the cover: qualified people only.
    Measure {
        /// Which panel.
        panel: PanelId,
    },
}

/// What may be the cause.
#[derive(Debug, Clone, Copy, PartialEq, Eq, PartialOrd, Ord, Serialize, ToSchema)]
#[serde(tag = "cause", rename_all = "kebab-case")]
pub enum Cause {
    /// A breaker is tripped or off, a fuse is blown.
    Breaker {
        /// Which.
        breaker: BreakerId,
    },
    /// A ground-fault device tripped.
    GroundFault {
        /// Which.
        point: PointId,
    },
    /// A ground-fault device that nobody registered tripped.
    Unregistered {
        /// In this room.
        room: RoomId,
    },
    /// A wall switch is off.
    Switch {
        /// Which.
        point: PointId,
    },
    /// The lamp or the appliance itself.
    Itself {
        /// Where.
        point: PointId,
    },
    /// A loose or broken connection on a circuit.
    Loose {
        /// The circuit's breaker.
        breaker: BreakerId,
    },
    /// The neutral that two circuits share is open.
    SharedNeutral {
        /// One.
        breaker: BreakerId,
        /// The other.
        other: BreakerId,
    },
    /// A leg is lost: utility, meter or main.
    LostLeg {
        /// The panel.
        panel: PanelId,
        /// The leg.
        leg: Leg,
    },
    /// The panel's main is off or tripped.
    Main {
        /// The panel.
        panel: PanelId,
    },
    /// The utility's supply is out.
    Utility,
    /// The service neutral is open or loose: danger.
    OpenNeutral,
}

/// A cause with its probability and the check that would tell.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
pub struct Ranked {
    /// The cause,
    pub cause: Cause,
    /// and that in words.
    pub said: String,
    /// Probability, 0 to 1.
    pub p: f64,
    /// The cheapest check of just this cause; nothing where it was made already or needs an electrician.
    pub check: Option<Check>,
    /// What to do of it, in words: that check as a question, or who has to look.
    pub ask: Option<String>,
}

/// The diagnosis so far.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
pub struct Diagnosis {
    /// To be said before all else.
    pub stop: Option<ToStop>,
    /// Causes by falling probability; what is under one in two hundred is left out.
    pub causes: Vec<Ranked>,
    /// The check that tells most for its time.
    pub next: Option<Next>,
    /// The checks that were made, as they were asked.
    pub asked: Vec<String>,
    /// Somebody works where it may be fed from, and holds it off: said before any cause.
    pub held: Vec<String>,
}

/// Why to stop, and what to do instead.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, ToSchema)]
pub struct ToStop {
    /// Why.
    pub why: Stop,
    /// That in words,
    pub said: &'static str,
    /// and what to do.
    pub what: &'static str,
}

/// Why to stop.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, ToSchema)]
#[serde(rename_all = "kebab-case")]
pub enum Stop {
    /// The neutral may be open: main off, call the utility or an electrician at once.
    OpenNeutral,
    /// Something burns or did: main off from a safe place, leave, call the fire service; then an electrician.
    Burning,
    /// A shock was felt: touch nothing more, main off, an electrician.
    Shock,
}

/// The check to make next.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
pub struct Next {
    /// Which,
    pub check: Check,
    /// asked so that yes or no answers it.
    pub said: String,
    /// About how long it takes.
    pub seconds: Seconds,
}

/// Odds of each cause beforehand, among calls that something is dead (common practice, put into numbers).
mod odds {
    pub const BREAKERS: f64 = 40.0;
    pub const GROUND_FAULTS: f64 = 18.0;
    /// A device that nobody registered, in a room where one is usual and none is known. Where they are all known, there is none.
    pub const UNREGISTERED: f64 = 6.0;
    pub const SWITCHES: f64 = 10.0;
    pub const ITSELF: f64 = 12.0;
    pub const LOOSE: f64 = 6.0;
    pub const SHARED_NEUTRAL: f64 = 1.0;
    pub const LOST_LEG: f64 = 1.5;
    pub const MAIN: f64 = 2.0;
    pub const UTILITY: f64 = 8.0;
    pub const OPEN_NEUTRAL: f64 = 0.7;
    /// A handle recorded as off or tripped.
    pub const SEEN_OFF: f64 = 30.0;
    /// A breaker that has tripped before, or one that trips on more than overload.
    pub const TRIPS_EASILY: f64 = 2.0;
}

/// How often what is said to work does not, or was not looked at; a lamp on another circuit, the wrong tag.
const SLIP: f64 = 0.04;
/// How often what is said to be dead is not: nobody complains of what works.
const FALSE_ALARM: f64 = 0.01;
/// Causes less probable are not listed.
const LISTED_FROM: f64 = 0.005;
/// From here on an open neutral is the first thing to be said.
const STOP_FROM: f64 = 0.15;
/// Checks that tell less are not worth a walk, in bits.
const LEAST_BITS: f64 = 0.01;
/// How much more an open neutral explains lights of uneven brightness than anything else does.
const BRIGHT_AND_DIM: f64 = 300.0;
const FLICKER: f64 = 4.0;

/// Ranks the causes.
///
/// # Errors
/// [`Invalid`] where nothing is said to be dead, or something named is not there.
pub fn diagnose(house: &House, beliefs: &Beliefs, complaint: &Complaint) -> Result<Diagnosis, Invalid> {
    check(house, complaint)?;
    let bench = Bench::new(house, beliefs);
    // What would leave all of it alive is no cause of this.
    let bears = |cause: &Cause| complaint.dead.iter().any(|point| bench.kills(*cause, *point) > FALSE_ALARM);
    let mut weighed: Vec<(Cause, f64)> = bench
        .causes()
        .into_iter()
        .filter(|(cause, _)| bears(cause))
        .map(|(cause, odds)| (cause, odds * bench.likelihood(cause, complaint)))
        .collect();
    let total: f64 = weighed.iter().map(|(_, w)| w).sum();
    for (_, weight) in &mut weighed {
        *weight /= total;
    }
    weighed.sort_by(|a, b| b.1.total_cmp(&a.1));
    let open_neutral = weighed.iter().find(|(c, _)| *c == Cause::OpenNeutral).map_or(0.0, |(_, p)| *p);
    let asked: BTreeSet<Check> = complaint.answers.iter().map(|a| a.check).collect();
    Ok(Diagnosis {
        stop: stop(complaint, open_neutral).map(|why| why.told()),
        asked: complaint.answers.iter().map(|a| a.check.said(house)).collect(),
        held: held_for(house, beliefs, complaint),
        next: bench.next(&weighed, complaint, &asked),
        causes: weighed
            .into_iter()
            .filter(|(_, p)| *p >= LISTED_FROM)
            .map(|(cause, p)| bench.ranked(cause, p, complaint, &asked))
            .collect(),
    })
}

/// Work that keeps something off which is said to be dead, or may: nobody looks for a cause there, nor switches anything on.
fn held_for(house: &House, beliefs: &Beliefs, complaint: &Complaint) -> Vec<String> {
    let fed_by = |held: &Held| {
        let dead = held.dead(house);
        let of = |point: &PointId| beliefs.of(*point).into_iter().flat_map(|b| &b.candidates).map(|c| c.at.breaker);
        complaint.dead.iter().flat_map(of).any(|breaker| dead.contains(&breaker))
    };
    let said = |held: &Held| {
        format!(
            "{}, and what may feed this is off for them: ask them. Switch nothing on, and open nothing",
            held.who_works(house)
        )
    };
    house.held().iter().filter(|held| fed_by(held)).map(said).collect()
}

fn check(house: &House, complaint: &Complaint) -> Result<(), Invalid> {
    if complaint.dead.is_empty() {
        return Err(Invalid::new("dead", "say which point is dead"));
    }
    if let Some(both) = complaint.dead.intersection(&complaint.working).next() {
        let tag = house.points.get(*both).map_or_else(String::new, |p| p.tag.clone());
        return Err(Invalid::new("working", format!("{tag} is said to be dead and to work")));
    }
    let known = |p: &&PointId| house.points.get(**p).is_none();
    match complaint.dead.iter().chain(&complaint.working).find(known) {
        Some(missing) => Err(Invalid::gone("point", missing.0)),
        None => Ok(()),
    }
}

fn stop(complaint: &Complaint, open_neutral: f64) -> Option<Stop> {
    let seen = |sign| complaint.signs.contains(&sign);
    if seen(Sign::Burning) {
        return Some(Stop::Burning);
    }
    if seen(Sign::Shock) {
        return Some(Stop::Shock);
    }
    (seen(Sign::BrightAndDim) || open_neutral >= STOP_FROM).then_some(Stop::OpenNeutral)
}

/// The house laid out for weighing: for every point the chances of its breakers.
struct Bench<'a> {
    house: &'a House,
    feeds: BTreeMap<PointId, Vec<(BreakerId, f64)>>,
    /// For each breaker: itself and those fed through it.
    below: BTreeMap<BreakerId, BTreeSet<BreakerId>>,
}

impl<'a> Bench<'a> {
    fn new(house: &'a House, beliefs: &Beliefs) -> Self {
        let chances = |b: &crate::trace::PointBelief| b.candidates.iter().map(|c| (c.at.breaker, c.p)).collect();
        let feeds = beliefs.points.iter().map(|b| (b.point, chances(b))).collect();
        let below = house.fed_through();
        Self { house, feeds, below }
    }

    /// All causes with their odds beforehand.
    fn causes(&self) -> Vec<(Cause, f64)> {
        let house = self.house;
        let mut causes = vec![(Cause::Utility, odds::UTILITY), (Cause::OpenNeutral, self.open_neutral_odds())];
        let breakers: Vec<_> = house.breakers.iter().map(|b| (b.id, self.breaker_odds(b))).collect();
        let share = odds::BREAKERS / breakers.len().max(1) as f64;
        causes.extend(breakers.iter().map(|(breaker, odds)| (Cause::Breaker { breaker: *breaker }, share * odds)));
        let loose = odds::LOOSE / breakers.len().max(1) as f64;
        causes.extend(breakers.iter().map(|(breaker, _)| (Cause::Loose { breaker: *breaker }, loose)));
        let spread = |causes: &mut Vec<(Cause, f64)>, all: Vec<Cause>, odds: f64| {
            let each = odds / all.len().max(1) as f64;
            causes.extend(all.into_iter().map(|c| (c, each)));
        };
        let points =
            |which: &dyn Fn(&&Point) -> bool| house.points.iter().filter(which).map(|p| p.id).collect::<Vec<_>>();
        let devices = points(&|p| p.ground_fault).into_iter().map(|point| Cause::GroundFault { point });
        spread(&mut causes, devices.collect(), odds::GROUND_FAULTS);
        causes.extend(self.rooms_without_device().map(|room| (Cause::Unregistered { room }, odds::UNREGISTERED)));
        let used: BTreeSet<PointId> = house.points.iter().flat_map(|p| p.switched_by.iter().copied()).collect();
        spread(&mut causes, used.into_iter().map(|point| Cause::Switch { point }).collect(), odds::SWITCHES);
        spread(&mut causes, points(&|_| true).into_iter().map(|point| Cause::Itself { point }).collect(), odds::ITSELF);
        spread(&mut causes, self.neutral_pairs(), odds::SHARED_NEUTRAL);
        let mains = house.panels.iter().filter(|p| p.is_main());
        spread(&mut causes, mains.clone().map(|p| Cause::Main { panel: p.id }).collect(), odds::MAIN);
        let legs = mains
            .flat_map(|p| [Leg::A, Leg::B, Leg::C].into_iter().take(p.supply.legs().into()).map(|leg| (p.id, leg)));
        spread(&mut causes, legs.map(|(panel, leg)| Cause::LostLeg { panel, leg }).collect(), odds::LOST_LEG);
        causes
    }

    /// Rooms where a ground-fault device is usual and none is registered.
    fn rooms_without_device(&self) -> impl Iterator<Item = RoomId> {
        self.house.rooms.iter().map(|r| r.id).filter(|room| self.lacks_device(*room))
    }

    fn lacks_device(&self, room: RoomId) -> bool {
        let known = self.house.points.iter().any(|p| p.room == room && p.ground_fault);
        !known && self.house.rooms.get(room).is_some_and(|r| has_buttons(&r.name) && !r.no_device)
    }

    /// Probability that a point hangs behind a device that is usual in a room and not registered there. One device often
    /// serves several such rooms: a bathroom hangs on that of the garage (common practice).
    fn behind_unregistered(&self, room: RoomId, point: PointId) -> f64 {
        let Some(p) = self.house.points.get(point).filter(|p| p.protected_by.is_none() && !p.ground_fault) else {
            return 0.0;
        };
        let usual = self.lacks_device(p.room);
        match p.kind {
            PointKind::Receptacle if p.room == room => 0.6,
            PointKind::Receptacle if usual => 0.2,
            PointKind::Receptacle | PointKind::Light if p.room == room || usual => 0.05,
            PointKind::Receptacle => 0.03,
            _ => 0.02,
        }
    }

    fn breaker_odds(&self, b: &Breaker) -> f64 {
        let seen = if b.handle == Handle::On { 1.0 } else { odds::SEEN_OFF };
        let tripped = self.house.log.iter().any(|e| matches!(e.event, Event::Trip { breaker, .. } if breaker == b.id));
        let easily = tripped || matches!(b.device, Device::Gfci | Device::Afci | Device::Dual);
        seen * if easily { odds::TRIPS_EASILY } else { 1.0 }
    }

    /// A reading in the logbook that points to the neutral raises it.
    fn open_neutral_odds(&self) -> f64 {
        let last = self.house.log.iter().filter_map(|e| match &e.event {
            Event::Volts { panel, reading } => Some((e.time, *panel, reading)),
            _ => None,
        });
        let suspect = last.max_by_key(|(time, ..)| *time).is_some_and(|(_, panel, reading)| {
            let supply = self.house.panels.get(panel).map(|p| p.supply);
            supply.is_some_and(|s| judge(reading, s).troubles.contains(&Trouble::OpenNeutral))
        });
        odds::OPEN_NEUTRAL * if suspect { BRIGHT_AND_DIM } else { 1.0 }
    }

    fn neutral_pairs(&self) -> Vec<Cause> {
        let pairs = self.house.circuits.iter().filter_map(|c| {
            let owner = self.house.circuits.get(c.neutral_of?)?;
            (owner.breaker != c.breaker).then_some(Cause::SharedNeutral { breaker: owner.breaker, other: c.breaker })
        });
        pairs.collect()
    }

    /// Probability that a point is fed by one of these breakers, or through them.
    fn fed_by(&self, point: PointId, breakers: &BTreeSet<BreakerId>) -> f64 {
        let chances = self.feeds.get(&point).map_or(&[][..], Vec::as_slice);
        chances.iter().filter(|(b, _)| breakers.contains(b)).map(|(_, p)| p).sum()
    }

    /// Probability that a cause makes a point dead.
    fn kills(&self, cause: Cause, point: PointId) -> f64 {
        let below = |b: BreakerId| self.below.get(&b).cloned().unwrap_or_default();
        match cause {
            Cause::Breaker { breaker } => self.fed_by(point, &below(breaker)),
            // Some of its points, seldom all.
            Cause::Loose { breaker } => 0.5 * self.fed_by(point, &[breaker].into()),
            Cause::GroundFault { point: device } => self.behind(device, point),
            Cause::Unregistered { room } => self.behind_unregistered(room, point),
            Cause::Switch { point: switch } => {
                f64::from(u8::from(self.house.points.get(point).is_some_and(|p| p.switched_by.contains(&switch))))
            }
            Cause::Itself { point: itself } => f64::from(u8::from(itself == point)),
            // Voltages wander: some things stop, others go on.
            Cause::SharedNeutral { breaker, other } => 0.6 * self.fed_by(point, &[breaker, other].into()),
            Cause::LostLeg { panel, leg } => self.fed_by(point, &self.on_leg(panel, leg)),
            Cause::Main { panel } => self.fed_by(point, &self.in_panel(panel)),
            Cause::Utility => 1.0,
            Cause::OpenNeutral => 0.3,
        }
    }

    /// Whether a point hangs behind a ground-fault device: as recorded; else, where the device's followers are not
    /// recorded, it may if it is on the same circuit.
    fn behind(&self, device: PointId, point: PointId) -> f64 {
        if point == device {
            return 1.0;
        }
        let mut up = self.house.points.get(point).and_then(|p| p.protected_by);
        let mut steps = 0;
        while let Some(before) = up.filter(|_| steps < self.house.points.len()) {
            if before == device {
                return 1.0;
            }
            up = self.house.points.get(before).and_then(|p| p.protected_by);
            steps += 1;
        }
        let recorded = self.house.points.iter().any(|p| p.protected_by == Some(device));
        let kind = self.house.points.get(point).map(|p| p.kind);
        if recorded || kind != Some(PointKind::Receptacle) {
            return 0.0;
        }
        let first = self.feeds.get(&device).and_then(|c| c.first());
        0.4 * first.map_or(0.0, |(b, p)| p * self.fed_by(point, &[*b].into()))
    }

    fn on_leg(&self, panel: PanelId, leg: Leg) -> BTreeSet<BreakerId> {
        let inside = self.in_panel(panel);
        let on = |b: &&Breaker| self.house.panels.get(b.panel).is_some_and(|p| b.at.iter().any(|at| p.leg(*at) == leg));
        self.house.breakers.iter().filter(|b| inside.contains(&b.id)).filter(on).map(|b| b.id).collect()
    }

    fn in_panel(&self, panel: PanelId) -> BTreeSet<BreakerId> {
        let here = self.house.breakers.iter().filter(|b| b.panel == panel).map(|b| b.id);
        here.flat_map(|b| self.below.get(&b).cloned().unwrap_or_default()).collect()
    }

    fn likelihood(&self, cause: Cause, complaint: &Complaint) -> f64 {
        let dead = |point: &PointId| self.kills(cause, *point).clamp(FALSE_ALARM, 1.0 - SLIP);
        let told: f64 = complaint.dead.iter().map(dead).product::<f64>()
            * complaint.working.iter().map(|p| 1.0 - dead(p)).product::<f64>();
        let bright = complaint.signs.contains(&Sign::BrightAndDim);
        let flicker = complaint.signs.contains(&Sign::Flicker);
        let signs = match cause {
            Cause::OpenNeutral if bright => BRIGHT_AND_DIM,
            Cause::SharedNeutral { .. } if bright => BRIGHT_AND_DIM / 3.0,
            Cause::OpenNeutral | Cause::Loose { .. } | Cause::SharedNeutral { .. } | Cause::LostLeg { .. }
                if flicker =>
            {
                FLICKER
            }
            _ => 1.0,
        };
        let answers: f64 = complaint
            .answers
            .iter()
            .map(|a| {
                let yes = self.says_yes(a.check, cause);
                if a.yes { yes } else { 1.0 - yes }
            })
            .product();
        told * self.named_of_many(cause, complaint) * signs * answers
    }

    /// Who sees the whole house dark does not name just one lamp: of `n` things that a cause kills, `k` are named with
    /// a chance of one in "n choose k".
    fn named_of_many(&self, cause: Cause, complaint: &Complaint) -> f64 {
        let k = complaint.dead.len();
        let killed: f64 = self.house.points.iter().map(|p| self.kills(cause, p.id)).sum();
        let n = killed.max(k as f64);
        (0..k).map(|i| (k - i) as f64 / (n - i as f64)).product()
    }

    /// Probability that a check is answered with yes, given the cause.
    fn says_yes(&self, check: Check, cause: Cause) -> f64 {
        let (often, seldom) = (0.95, 0.03);
        let told = |hit: bool| if hit { often } else { seldom };
        match (check, cause) {
            (Check::Works { point }, cause) => 1.0 - self.kills(cause, point).clamp(SLIP, 1.0 - SLIP),
            (Check::Handle { breaker }, Cause::Breaker { breaker: b }) => told(b == breaker),
            (Check::PressReset { point }, Cause::GroundFault { point: p }) => told(p == point),
            (Check::TryButtons { room }, Cause::Unregistered { room: r }) => told(r == room),
            (Check::Switch { point }, Cause::Switch { point: p }) => told(p == point),
            (Check::Main { panel }, Cause::Main { panel: p }) => told(p == panel),
            (Check::Neighbours, cause) => told(cause == Cause::Utility),
            (Check::Another { point }, Cause::Itself { point: p }) => told(p == point),
            (Check::Measure { .. }, cause) => {
                told(matches!(cause, Cause::LostLeg { .. } | Cause::OpenNeutral | Cause::Utility | Cause::Main { .. }))
            }
            _ => seldom,
        }
    }

    fn seconds(check: Check) -> f64 {
        match check {
            Check::Switch { .. } => 10.0,
            Check::Works { .. } => 15.0,
            Check::Neighbours => 20.0,
            Check::PressReset { .. } | Check::Main { .. } => 30.0,
            // It has to be found first: behind the freezer, in the garage.
            Check::TryButtons { .. } => 45.0,
            Check::Handle { .. } => 25.0,
            Check::Another { .. } => 40.0,
            Check::Measure { .. } => 300.0,
        }
    }

    /// The check of just this cause.
    fn own_check(&self, cause: Cause, complaint: &Complaint) -> Option<Check> {
        let mains = || self.house.panels.iter().find(|p| p.is_main()).map(|p| p.id);
        let first = complaint.dead.first();
        match cause {
            Cause::Breaker { breaker } => Some(Check::Handle { breaker }),
            Cause::GroundFault { point } => Some(Check::PressReset { point }),
            Cause::Unregistered { room } => Some(Check::TryButtons { room }),
            Cause::Switch { point } => Some(Check::Switch { point }),
            Cause::Itself { .. } => first.map(|point| Check::Another { point: *point }),
            Cause::Main { panel } => Some(Check::Main { panel }),
            Cause::Utility => Some(Check::Neighbours),
            Cause::LostLeg { panel, .. } => Some(Check::Measure { panel }),
            Cause::OpenNeutral => mains().map(|panel| Check::Measure { panel }),
            // Behind covers: for an electrician.
            Cause::Loose { .. } | Cause::SharedNeutral { .. } => None,
        }
    }

    fn ranked(&self, cause: Cause, p: f64, complaint: &Complaint, asked: &BTreeSet<Check>) -> Ranked {
        let check = self.own_check(cause, complaint).filter(|c| !asked.contains(c));
        let ask = match (check, cause) {
            (Some(check), _) => Some(check.said(self.house)),
            (None, Cause::Loose { .. } | Cause::SharedNeutral { .. }) => Some(BEHIND_COVERS.into()),
            (None, _) => None,
        };
        Ranked { cause, said: cause.said(self.house), p, check, ask }
    }

    /// The check with the most bits a second among those of the likely causes, and looks at points that would tell
    /// them apart.
    fn next(&self, weighed: &[(Cause, f64)], complaint: &Complaint, asked: &BTreeSet<Check>) -> Option<Next> {
        let likely: Vec<_> = weighed.iter().filter(|(_, p)| *p >= LISTED_FROM).collect();
        let own = likely.iter().filter_map(|(cause, _)| self.own_check(*cause, complaint));
        let told = |p: &PointId| complaint.dead.contains(p) || complaint.working.contains(p);
        let looks = self.house.points.iter().map(|p| p.id).filter(|p| !told(p)).map(|point| Check::Works { point });
        let all: BTreeSet<Check> = own.chain(looks).filter(|c| !asked.contains(c)).collect();
        let value = |check: &Check| {
            let yes: f64 = weighed.iter().map(|(cause, p)| p * self.says_yes(*check, *cause)).sum();
            let known: f64 = weighed.iter().map(|(cause, p)| p * entropy(self.says_yes(*check, *cause))).sum();
            entropy(yes) - known
        };
        let best = all.into_iter().map(|c| (c, value(&c))).filter(|(_, bits)| *bits >= LEAST_BITS);
        let best = best.max_by(|a, b| (a.1 / Self::seconds(a.0)).total_cmp(&(b.1 / Self::seconds(b.0))));
        best.map(|(check, _)| Next { check, said: check.said(self.house), seconds: Seconds(Self::seconds(check)) })
    }
}

mod words;
use words::BEHIND_COVERS;

#[cfg(test)]
mod tests;
