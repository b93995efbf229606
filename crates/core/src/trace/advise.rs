//! The next action, and the next look within it, as people read them.

use serde::Serialize;
use utoipa::ToSchema;

use crate::base::units::Seconds;
use crate::base::{Invalid, said};
use crate::house::{BreakerId, House, Observation, PointId, PointKind, RoomId, Seen, Way};
use crate::house::{Crew, Pace};
use crate::trace::belief::{BreakerRef, name};
use crate::trace::gain::Want;
use crate::trace::look::OffSet;
use crate::trace::method;
use crate::trace::planner::{Planner, Scene, Tour};
use crate::trace::proof;
use crate::trace::tracker::Tracker;
use crate::words::mind::mind;

/// What to do next.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
pub struct Advice {
    /// What sort of action.
    pub action: Action,
    /// The complete set to be off while the points are visited; everything else is on.
    pub off: Vec<BreakerRef>,
    /// Tags of the points to look at, in walking order.
    pub visit: Vec<String>,
    /// The same points by id.
    pub points: Vec<PointId>,
    /// Handles to switch off now, from how they stand.
    pub switch_off: Vec<BreakerRef>,
    /// Handles to switch on now, from how they stand.
    pub switch_on: Vec<BreakerRef>,
    /// Handles to switch on by whoever leaves off now: all that are off, but for what somebody's work holds.
    pub back_on: Vec<BreakerRef>,
    /// Who works where, in words: what is off for them nobody moves, and points there are looked at later.
    pub held: Vec<String>,
    /// Expected time.
    pub seconds: Seconds,
    /// Expected information in bits; proof still owed counts as well.
    pub bits: f64,
    /// With nothing left to do: points that could not be proven with what may be switched.
    pub unproven: Vec<String>,
    /// With every point settled: breakers that feed nothing on the list. With these off together, somebody walks through
    /// and looks for what else is dead.
    pub search: Vec<BreakerRef>,
    /// For a known load or the receiver: breakers that may feed the first point, likeliest first; with a clamp the wires
    /// worth trying.
    pub suspects: Vec<BreakerRef>,
}

/// Sorts of action.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, ToSchema)]
#[serde(rename_all = "kebab-case")]
pub enum Action {
    /// Move handles, then look at points.
    Switch,
    /// Put the transmitter at the point and take the receiver to the panel.
    Receiver,
    /// Switch a load of about 1500 W on at each point and read which current rises.
    Load,
    /// Move handles, and hear at the panel whether the radio at the point plays on.
    Listen,
    /// Nothing is left to prove.
    Done,
}

/// What to look at now, in a step under way.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
pub struct Guide {
    /// Something to try first, since the last answer was surprising.
    pub ask: Option<Ask>,
    /// The point to look at next; nothing when the tour is done.
    pub next: Option<PointId>,
    /// Points of the tour still worth a look, in walking order.
    pub left: Vec<PointId>,
    /// What the next point is looked at with.
    pub with: With,
    /// Lamps that stand here at points that are settled now: they go along.
    pub take: Vec<PointId>,
    /// The whole tour, room by room in walking order; in each what is seen from the door comes first.
    pub rows: Vec<TourRow>,
}

/// A point of a tour.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, ToSchema)]
pub struct TourRow {
    /// Which.
    pub point: PointId,
    /// It is seen from the door: a light, or a thing that shows its power.
    pub from_door: bool,
    /// It is still worth a look.
    pub open: bool,
    /// What it is looked at with, where looks before did not fit together.
    pub with: With,
    /// LIVE may be asked about; otherwise the next look can be shown at once.
    pub live_asks: bool,
    /// The same of DEAD.
    pub dead_asks: bool,
}

/// What a point is looked at with.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, ToSchema)]
#[serde(rename_all = "kebab-case")]
pub enum With {
    /// As the person likes.
    Any,
    /// A lamp that stays there for the next tours.
    LeaveLamp,
    /// The lamp that was left there: a glance will do.
    SeeLamp,
    /// The radio, left playing there.
    LeaveRadio,
    /// The radio that plays there, heard at the panel.
    HearRadio,
    /// A lamp that is known to burn: what was seen of the light does not fit together.
    KnownLamp,
    /// A tester instead of what shows the power there: that does not fit together.
    Tester,
    /// A meter instead of the tester, for the same reason.
    Meter,
}

/// The cheapest check that settles a surprising answer.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, ToSchema)]
pub struct Ask {
    /// At this point.
    pub point: PointId,
    /// Do this.
    pub check: QuickCheck,
    /// How probable the answer was before it came, 0 to 1.
    pub chance: f64,
}

/// Checks that cost little.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, ToSchema)]
#[serde(rename_all = "kebab-case")]
pub enum QuickCheck {
    /// Look once more, another way if there is one.
    LookAgain,
    /// Move its wall switch.
    Switch,
    /// Press reset on the ground-fault device in front of it.
    Device,
}

said!(QuickCheck {
    LookAgain => "look again, another way if there is one",
    Switch => "move its wall switch and look",
    Device => "press reset on its ground-fault device and look",
});

/// An answer less probable than this is asked about at once.
const SURPRISING: f64 = 0.05;
/// A point this likely on a breaker is on its list.
const MAY_FEED: f64 = 0.05;
/// Wires to clamp one after the other: nobody goes on for longer.
const MOST_CLAMPED: usize = 8;
/// Bits of a tour that are no reason to leave something off.
const NOTHING_TOLD: f64 = 0.01;
/// Answers that may be asked about: those somewhat less surprising than that among them, since what is said beforehand is
/// an estimate.
const MAY_SURPRISE: f64 = 2.0 * SURPRISING;
/// Seconds that an outage counts for.
const GENTLE_OUTAGE: f64 = 20.0;

/// The next action for this crew.
///
/// # Errors
/// [`Invalid`] where the crew is out of range or names a breaker that is not there.
pub fn advise(house: &House, crew: &Crew) -> Result<Advice, Invalid> {
    Tracker::new(house).advise(crew)
}

/// What to look at next in the step under way; nothing where none is.
///
/// # Errors
/// [`Invalid`] as for [`advise`].
pub fn guide(house: &House, crew: &Crew) -> Result<Option<Guide>, Invalid> {
    Tracker::new(house).guide(crew)
}

impl Tracker<'_> {
    /// The next action for this crew.
    ///
    /// # Errors
    /// As [`advise`].
    pub fn advise(&self, crew: &Crew) -> Result<Advice, Invalid> {
        crew.check(self.model.house)?;
        Ok(Adviser::new(self, crew).advice(crew))
    }

    /// What to look at next in the step under way; nothing where none is.
    ///
    /// # Errors
    /// As [`advise`].
    pub fn guide(&self, crew: &Crew) -> Result<Option<Guide>, Invalid> {
        crew.check(self.model.house)?;
        Ok(Adviser::new(self, crew).guide(crew))
    }
}

/// A house with its beliefs, and where people are in it.
pub(crate) struct Adviser<'t, 'a> {
    tracker: &'t Tracker<'a>,
    walks: Vec<f64>,
    panel_room: Option<usize>,
    scene: Scene,
}

/// The scene at the start of a run: everybody at the panel, handles as they stand.
pub(crate) fn opening(tracker: &Tracker<'_>, crew: &Crew) -> Scene {
    let net = &tracker.model.net;
    let kept = |b: usize| net.below(b).iter().any(|i| crew.keep_on.contains(&net.breakers[*i].id));
    Scene {
        off: net.breakers.iter().map(|b| b.is_off()).collect(),
        allowed: (0..net.len()).map(|b| !kept(b) && !tracker.model.still[b]).collect(),
        outage: if crew.pace == Pace::Gentle { GENTLE_OUTAGE } else { 0.0 },
        most_off: crew.most_off(net.len()),
        at: None,
        left: Vec::new(),
        two: crew.people == 2,
        touring: crew.people == 2 && crew.pace == Pace::Gentle,
        walking: f64::from(crew.walking),
        radio: None,
    }
}

/// The room that the main panel hangs in, where that is known.
pub(crate) fn panel_room(tracker: &Tracker<'_>) -> Option<usize> {
    let place = tracker.model.house.panels_in_order().first().and_then(|p| p.place);
    place.and_then(|p| tracker.model.rooms.index(p.room))
}

impl<'t, 'a> Adviser<'t, 'a> {
    pub fn new(tracker: &'t Tracker<'a>, crew: &Crew) -> Self {
        let mut scene = opening(tracker, crew);
        scene.radio = radio_at(tracker, crew);
        if !scene.two {
            scene.left = lamps_left(tracker, crew);
        } else {
            scene.at = last_room(tracker.model.house).and_then(|r| tracker.model.rooms.index(r));
            scene.left = testers_left(tracker, crew, scene.at);
        }
        let walks = tracker.model.rooms.walks(tracker.model.house);
        Self { walks, panel_room: panel_room(tracker), scene, tracker }
    }

    fn planner(&self) -> Planner<'_, 'a> {
        Planner::new(self.tracker, &self.walks, self.panel_room)
    }

    fn advice(&self, crew: &Crew) -> Advice {
        let (action, tour) = match self.planner().action(crew, &self.scene) {
            method::Turn::Switch(tour) => (Action::Switch, tour),
            method::Turn::Receiver(tour) => (Action::Receiver, tour),
            method::Turn::Load(tour) => (Action::Load, tour),
            method::Turn::Listen(tour) => (Action::Listen, tour),
            method::Turn::Done => (Action::Done, Tour { off: vec![false; self.scene.off.len()], ..Tour::default() }),
        };
        let tour = self.sparing(tour);
        let model = &self.tracker.model;
        let names = |which: &dyn Fn(usize) -> bool| -> Vec<BreakerRef> {
            (0..self.scene.off.len()).filter(|b| which(*b)).map(|b| name(model, b)).collect()
        };
        let open =
            (0..self.tracker.seen.len()).filter(|p| action == Action::Done && !proof::is_settled(self.tracker, *p));
        let point = |p: &usize| model.points[*p];
        let asked = matches!(action, Action::Load | Action::Receiver);
        let suspects = tour.visit.iter().take(usize::from(asked)).flat_map(|p| self.planner().suspects(*p));
        let by_clamp = action == Action::Load && !crew.monitor;
        Advice {
            action,
            off: names(&|b| tour.off[b]),
            visit: tour.visit.iter().map(|p| point(p).tag.clone()).collect(),
            points: tour.visit.iter().map(|p| point(p).id).collect(),
            switch_off: names(&|b| tour.off[b] && !self.scene.off[b]),
            switch_on: names(&|b| !tour.off[b] && self.scene.off[b] && !model.still[b]),
            back_on: names(&|b| self.scene.off[b] && !model.still[b]),
            held: model.house.held().iter().map(|held| held.who_works(model.house)).collect(),
            seconds: Seconds(tour.seconds),
            bits: tour.bits,
            unproven: open.map(|p| model.points[p].tag.clone()).collect(),
            search: names(&|b| action == Action::Done && self.to_search(b)),
            suspects: suspects
                .take(if by_clamp { MOST_CLAMPED } else { usize::MAX })
                .map(|(b, _)| name(model, b))
                .collect(),
        }
    }

    /// The same tour without taking the power from what should not lose it and is settled, where the looks tell as much: a
    /// refrigerator is not left off for want of a reason to switch it on.
    fn sparing(&self, tour: Tour) -> Tour {
        let (tracker, planner) = (self.tracker, self.planner());
        let minded = |b: usize| {
            (0..tracker.seen.len()).any(|p| {
                mind(tracker.model.points[p]).is_some()
                    && proof::is_settled(tracker, p)
                    && tracker.top(p).is_some_and(|(top, _)| top == b)
            })
        };
        (0..tour.off.len()).filter(|b| tour.off[*b] && minded(*b)).fold(tour.clone(), |tour, b| {
            let mut off = tour.off.clone();
            off[b] = false;
            let spared = planner.tour_of(off, &tour.visit, &self.scene);
            if spared.bits >= tour.bits - NOTHING_TOLD { Tour { visit: tour.visit, ..spared } } else { tour }
        })
    }

    /// Every point is settled and none is believed on the breaker: what it feeds is on no list, if anything.
    fn to_search(&self, b: usize) -> bool {
        let (tracker, net) = (self.tracker, &self.tracker.model.net);
        let settled = (0..tracker.seen.len()).all(|p| proof::is_settled(tracker, p));
        let feeds = (0..tracker.seen.len()).any(|p| tracker.belief(p)[b] > MAY_FEED);
        let (house, id) = (tracker.model.house, net.breakers[b].id);
        let known = house.panel_fed_by(id).is_some() || house.runs.iter().any(|r| r.searched.contains(&id));
        settled && !feeds && !known && self.scene.allowed[b] && !tracker.seen.is_empty()
    }

    fn guide(mut self, crew: &Crew) -> Option<Guide> {
        let house = self.tracker.model.house;
        let step = house.step.as_ref()?;
        let answered = |p: &PointId| {
            house.evidence.iter().any(|e| e.step == Some(step.id) && e.point == *p && is_look(&e.observation))
        };
        let tour: Vec<PointId> = step.visit.iter().copied().filter(|p| !answered(p)).collect();
        let last = house.evidence.iter().filter(|e| e.step == Some(step.id)).max_by_key(|e| (e.time, e.id));
        self.scene.at = last
            .and_then(|e| house.points.get(e.point))
            .and_then(|p| self.tracker.model.rooms.index(p.room))
            .or(self.scene.at);
        let open = |p: &PointId| self.tracker.model.point(*p).is_some_and(|p| Want::new(self.tracker, p).is_some());
        let left: Vec<PointId> = tour.into_iter().filter(open).collect();
        let looks = |e: &crate::house::Evidence| {
            let same = |x: &&crate::house::Evidence| x.step == e.step && x.point == e.point && is_look(&x.observation);
            house.evidence.iter().filter(same).count()
        };
        // What is heard at the panel is not worth a walk to its switch: with all on, the radio tells as much.
        let heard = |e: &crate::house::Evidence| step.visit.len() == 1 && is_heard(&e.observation);
        let walks = |ask: &Ask, e| ask.check != QuickCheck::LookAgain && heard(e);
        let ask = last.and_then(|e| ask(self.tracker, e.point, looks(e)).filter(|ask| !walks(ask, e)));
        // In the room where somebody stands: what tells most for the seconds. Then on, in walking order.
        let here = |p: &PointId| {
            self.tracker.model.point(*p).is_some_and(|p| Some(self.tracker.model.room[p]) == self.scene.at)
        };
        let near: Vec<usize> = left.iter().filter(|p| here(p)).filter_map(|p| self.tracker.model.point(*p)).collect();
        let best = self.planner().next(&near, &self.scene, 0.0).map(|p| self.tracker.model.points[p].id);
        let next = best.or_else(|| left.first().copied());
        let with = next.map_or(With::Any, |p| self.with(p, &left, crew));
        let settled = |p: &PointId| self.tracker.model.point(*p).is_some_and(|p| proof::is_settled(self.tracker, p));
        let lit = |e: &crate::house::Evidence| matches!(e.observation, Observation::Power { how: Way::Lamp, .. });
        let lamps = house.evidence.iter().filter(|e| e.step == Some(step.id) && lit(e)).map(|e| e.point);
        let mut take: Vec<PointId> = lamps.filter(|p| settled(p) && here(p) && crew.leaves_lamps()).collect();
        take.retain(|p| self.tracker.model.point(*p).is_some_and(|p| self.planner().needs_tester(p)));
        take.dedup();
        let rows = self.rows(&step.visit, &left);
        Some(Guide { ask, next, with, take, left, rows })
    }

    /// A tour as rows, in an order that no answer changes.
    fn rows(&self, visit: &[PointId], left: &[PointId]) -> Vec<TourRow> {
        let (tracker, net) = (self.tracker, &self.tracker.model.net);
        let off_now = (0..net.len()).filter(|b| self.scene.off[*b]).map(|b| net.breakers[b].id);
        let now = OffSet { off: self.scene.off.clone(), dead: net.dead(off_now) };
        let points: Vec<(PointId, usize)> =
            visit.iter().filter_map(|id| Some((*id, tracker.model.point(*id)?))).collect();
        let mut rooms: Vec<usize> = Vec::new();
        for (_, p) in &points {
            let room = tracker.model.room[*p];
            if !rooms.contains(&room) {
                rooms.push(room);
            }
        }
        let row = |(id, p): (PointId, usize)| {
            let open = left.contains(&id);
            let dead = Want::new(tracker, p).map(|want| want.p_dead(&now.dead));
            let (live_asks, dead_asks) = dead.filter(|_| open).map_or((false, false), |dead| {
                (1.0 - dead < MAY_SURPRISE, dead < MAY_SURPRISE || tracker.would_be_held_off(p, dead))
            });
            let another = self.another(p);
            let from_door = !self.planner().needs_tester(p);
            TourRow { point: id, from_door, open, with: another.unwrap_or(With::Any), live_asks, dead_asks }
        };
        let mut rows: Vec<(usize, TourRow)> = points
            .into_iter()
            .map(|(id, p)| {
                (rooms.iter().position(|r| *r == tracker.model.room[p]).unwrap_or(rooms.len()), row((id, p)))
            })
            .collect();
        rows.sort_by_key(|(room, row)| (*room, !row.from_door));
        rows.into_iter().map(|(_, row)| row).collect()
    }

    fn with(&self, next: PointId, left: &[PointId], crew: &Crew) -> With {
        let Some(p) = self.tracker.model.point(next) else { return With::Any };
        let heard = self.tracker.model.house.step.as_ref().is_some_and(|s| s.visit == [next]);
        if let Some(with) = self.another(p) {
            with
        } else if crew.people != 1 {
            With::Any
        } else if heard && self.scene.radio == Some(p) {
            With::HearRadio
        } else if crew.radio && self.is_the_radios_place(p, left) {
            With::LeaveRadio
        } else if crew.leaves_lamps() && self.scene.left.contains(&p) {
            With::SeeLamp
        } else if self.planner().lamp_stays(p, usize::from(crew.testers) - 1, &self.scene) {
            With::LeaveLamp
        } else {
            With::Any
        }
    }

    fn another(&self, p: usize) -> Option<With> {
        self.tracker.seen[p].another.map(|way| match way {
            Way::Meter => With::Meter,
            Way::Lamp => With::KnownLamp,
            _ => With::Tester,
        })
    }

    /// Once in a tour, the best place to leave the radio.
    fn is_the_radios_place(&self, p: usize, left: &[PointId]) -> bool {
        let (house, model) = (self.tracker.model.house, &self.tracker.model);
        let Some(step) = house.step.as_ref() else { return false };
        let left_already = house.evidence.iter().any(|e| e.step == Some(step.id) && is_heard(&e.observation));
        let indexes = |of: &[PointId]| -> Vec<usize> { of.iter().filter_map(|p| model.point(*p)).collect() };
        let place = || self.planner().radio_place(&indexes(&step.visit), &indexes(left), &self.scene);
        !left_already && place() == Some(p)
    }
}

fn is_look(observation: &Observation) -> bool {
    matches!(observation, Observation::Power { .. })
}

fn is_heard(observation: &Observation) -> bool {
    matches!(observation, Observation::Power { how: Way::Radio, .. })
}

/// The cheapest check for the newest answer about a point, where that was surprising or it may be held off; `looks` is
/// how often the point was looked at in this step.
fn ask(tracker: &Tracker<'_>, id: PointId, looks: usize) -> Option<Ask> {
    let p = tracker.model.point(id)?;
    let seen = &tracker.seen[p];
    let last = seen.looks.iter().rev().find(|l| l.power.is_some() && !l.void)?;
    let (_, answer) = last.power.as_ref()?;
    let chance = tracker.chance(p, last);
    let point = tracker.model.points[p];
    let behind = point.protected_by.is_some() || point.ground_fault;
    let held = match point.kind {
        _ if behind => Some(QuickCheck::Device),
        PointKind::Light => Some(QuickCheck::Switch),
        PointKind::Receptacle => Some(QuickCheck::Switch),
        _ => None,
    };
    let (set, _) = last.power.as_ref()?;
    if *answer == Seen::Dead
        && tracker.may_be_held_off(p)
        && tracker.is_likely_on(p, &set.dead)
        && let Some(check) = held
    {
        return Some(Ask { point: id, check, chance });
    }
    // Asked once: the same handles once more, and no third time.
    (*answer != Seen::Unsure && chance < SURPRISING && looks == 1).then_some(Ask {
        point: id,
        check: QuickCheck::LookAgain,
        chance,
    })
}

/// Where the walker was last seen: the room of the newest look.
fn last_room(house: &House) -> Option<RoomId> {
    let last = house.evidence.iter().filter(|e| is_look(&e.observation)).max_by_key(|e| (e.time, e.id))?;
    house.points.get(last.point).map(|p| p.room)
}

/// For somebody alone with several lamps: the open receptacles where one was seen last, the newest first.
fn lamps_left(tracker: &Tracker<'_>, crew: &Crew) -> Vec<usize> {
    let mut looks: Vec<_> = tracker.model.house.evidence.iter().filter(|e| is_look(&e.observation)).collect();
    looks.sort_by_key(|e| std::cmp::Reverse((e.time, e.id)));
    let mut newest: Vec<usize> = Vec::new();
    let mut left = Vec::new();
    for e in looks {
        let Some(p) = tracker.model.point(e.point).filter(|p| !newest.contains(p)) else { continue };
        newest.push(p);
        let point = tracker.model.points[p];
        let lamp = matches!(e.observation, Observation::Power { how: Way::Lamp, .. });
        let stays = point.kind == PointKind::Receptacle && !point.shows && Want::new(tracker, p).is_some();
        if lamp && stays && crew.leaves_lamps() && left.len() + 1 < usize::from(crew.testers) {
            left.push(p);
        }
    }
    left
}

/// For somebody alone: the radio plays where it was last heard.
fn radio_at(tracker: &Tracker<'_>, crew: &Crew) -> Option<usize> {
    let heard = tracker.model.house.evidence.iter().filter(|e| is_heard(&e.observation));
    let last = heard.max_by_key(|e| (e.time, e.id)).filter(|_| crew.radio && crew.people == 1)?;
    tracker.model.point(last.point)
}

/// Testers stay in the receptacles last looked at in the room, as many as there are.
fn testers_left(tracker: &Tracker<'_>, crew: &Crew, at: Option<usize>) -> Vec<usize> {
    let house = tracker.model.house;
    let mut looks: Vec<_> = house.evidence.iter().collect();
    looks.sort_by_key(|e| std::cmp::Reverse((e.time, e.id)));
    let mut left = Vec::new();
    for e in looks {
        let Some(p) = tracker.model.point(e.point) else { continue };
        if Some(tracker.model.room[p]) != at || left.len() >= usize::from(crew.testers) {
            break;
        }
        if matches!(e.observation, Observation::Power { how: Way::Tester, .. }) && !left.contains(&p) {
            left.push(p);
        }
    }
    left
}

/// The ids of breakers by index, for callers that keep handles by id.
pub(crate) fn ids(tracker: &Tracker<'_>, off: &[bool]) -> std::collections::BTreeSet<BreakerId> {
    (0..off.len()).filter(|b| off[*b]).map(|b| tracker.model.net.breakers[b].id).collect()
}
