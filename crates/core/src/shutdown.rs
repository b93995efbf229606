//! What must be switched off to work somewhere, what else goes dark, and how it is proven dead.
//!
//! The answer errs on the safe side: for a point that is not proven it names every breaker that the readings do not
//! rule out, whatever labels say; and where those are many it says main off. It never says that something is dead,
//! only what to measure and what to expect.

use std::collections::{BTreeMap, BTreeSet};

use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

use crate::change::{Invalid, gone};
use crate::house::{BreakerId, House, Panel, PanelId, Point, PointId, PointKind};
use crate::service::expected;
use crate::trace::{Beliefs, BreakerRef, Status, Suspects, suspects};
use crate::units::{Amps, Volts};
use crate::words::words;

/// Where the work is.
#[derive(Debug, Clone, PartialEq, Eq, Deserialize, Serialize, ToSchema)]
#[serde(tag = "at", rename_all = "kebab-case", deny_unknown_fields)]
pub enum Target {
    /// At one or more points, in their boxes.
    Points {
        /// Which.
        points: BTreeSet<PointId>,
    },
    /// On everything that a breaker feeds.
    Circuit {
        /// Which breaker.
        breaker: BreakerId,
    },
    /// In a panel.
    Panel {
        /// Which.
        panel: PanelId,
    },
}

/// The answer.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
pub struct Shutdown {
    /// What is not proven, to be said first: tags.
    pub unproven: Vec<String>,
    /// Points that may stay live whatever is off: stop, an electrician is due.
    pub may_stay_live: Vec<String>,
    /// Handles to move, in this order, each with its reasons.
    pub switch_off: Vec<Off>,
    /// So much is unknown that the main is the only sure way; the handles above are then what it replaces.
    pub main_off: Option<MainOff>,
    /// What else goes dark.
    pub also_dark: Vec<AlsoDark>,
    /// What is measured at each point, between two tests of the meter on a known live source.
    pub tests: Vec<DeadTest>,
    /// What stays live.
    pub stays_live: Vec<StaysLive>,
    /// Handles in the order to switch them on again.
    pub back_on: Vec<BreakerRef>,
}

/// A handle to switch off.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
pub struct Off {
    /// Which.
    #[serde(flatten)]
    pub at: BreakerRef,
    /// Its rating.
    pub amps: Amps,
    /// Why.
    pub why: Vec<Why>,
}

/// Why a handle has to be off.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
#[serde(tag = "why", rename_all = "kebab-case")]
pub enum Why {
    /// It is proven to feed the point.
    Feeds {
        /// Tag.
        tag: String,
    },
    /// It may feed the point.
    MayFeed {
        /// Tag.
        tag: String,
        /// Probability.
        p: f64,
    },
    /// It feeds, or may feed, a point in the same box.
    SameBox {
        /// The point in the box.
        tag: String,
        /// The point of the work.
        of: String,
        /// Whether that is proven.
        proven: bool,
    },
    /// It shares a neutral with a breaker that has to be off: the neutral carries its current.
    SharedNeutral {
        /// The other breaker.
        with: String,
    },
    /// The work is on what it feeds.
    ItsCircuit,
    /// It stands in the panel of the work.
    InThePanel,
    /// It feeds the panel of the work.
    FeedsThePanel {
        /// The panel's name.
        panel: String,
    },
}

/// The main, or whatever switches a panel off as a whole.
#[derive(Debug, Clone, PartialEq, Eq, Serialize, ToSchema)]
pub struct MainOff {
    /// The panel.
    pub panel: String,
    /// How it is switched off.
    pub by: MainBy,
}

/// How a panel is switched off as a whole.
#[derive(Debug, Clone, PartialEq, Eq, Serialize, ToSchema)]
#[serde(tag = "by", rename_all = "kebab-case")]
pub enum MainBy {
    /// Its own main breaker.
    Main,
    /// A disconnect upstream, as recorded.
    Disconnect {
        /// Where it is.
        place: String,
    },
    /// Nothing is recorded: it has main lugs only, and the disconnect must be found first.
    NotKnown,
}

/// Something else that goes dark.
#[derive(Debug, Clone, PartialEq, Eq, Serialize, ToSchema)]
pub struct AlsoDark {
    /// The point.
    pub point: PointId,
    /// Its tag.
    pub tag: String,
    /// What it is.
    pub name: String,
    /// Whether that is proven.
    pub proven: bool,
    /// Ask before it loses power.
    pub mind: Option<Mind>,
}

/// Why a thing should not lose power unannounced (HANDBOOK 2.2, common practice).
#[derive(Debug, Clone, Copy, PartialEq, Eq, PartialOrd, Ord, Serialize, ToSchema)]
#[serde(rename_all = "kebab-case")]
pub enum Mind {
    /// Somebody may depend on it.
    Medical,
    /// Nobody is warned while it is off.
    Alarm,
    /// Water may rise.
    Pump,
    /// Food spoils after some hours.
    Cold,
    /// Animals depend on it.
    Aquarium,
    /// Work may be lost.
    Computer,
    /// The house cools down.
    Heat,
    /// Something may be cooking.
    Cooking,
}

/// What is measured at a point.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
pub struct DeadTest {
    /// Its tag.
    pub tag: String,
    /// What it is.
    pub name: String,
    /// Pairs of conductors to measure between; each must show 0 V.
    pub between: Vec<&'static str>,
    /// What a live source of the same kind shows at least: the meter's test before and after.
    pub live_from: Volts,
    /// And at most.
    pub live_to: Volts,
}

/// Something that stays live.
#[derive(Debug, Clone, PartialEq, Eq, Serialize, ToSchema)]
#[serde(tag = "what", rename_all = "kebab-case")]
pub enum StaysLive {
    /// The bus of a panel and all its other circuits.
    Bus {
        /// The panel.
        panel: String,
    },
    /// The line side of a main, back to the meter; only the utility can kill it.
    LineSide {
        /// The panel.
        panel: String,
    },
    /// The feeder's terminals in the panel upstream.
    Upstream {
        /// The panel upstream.
        panel: String,
    },
    /// What hangs on feed-through lugs goes off with the bus, but may be fed from elsewhere too.
    FeedThrough {
        /// The panel.
        panel: String,
    },
}

/// With more handles than this in doubt the main is the surer way.
const MANY: usize = 4;
/// From this probability on a point may stay live whatever is off. Above what is assumed of every untraced point.
const MAY_STAY_LIVE: f64 = 0.05;

/// The answer for a target.
///
/// # Errors
/// [`Invalid`] where what it names is not there, or it names nothing.
pub fn plan(house: &House, beliefs: &Beliefs, target: &Target) -> Result<Shutdown, Invalid> {
    let mut work = Work { house, beliefs, suspects: suspects(house), why: BTreeMap::new() };
    let points = work.points(target)?;
    match target {
        Target::Panel { panel } => return work.panel(*panel),
        Target::Circuit { breaker } => work.because(*breaker, Why::ItsCircuit),
        Target::Points { .. } => {}
    }
    for point in &points {
        work.feeders(point);
        work.box_mates(point);
    }
    work.neutral_mates();
    Ok(work.answer(&points))
}

struct Work<'a> {
    house: &'a House,
    beliefs: &'a Beliefs,
    suspects: BTreeMap<PointId, Suspects>,
    why: BTreeMap<BreakerId, Vec<Why>>,
}

impl<'a> Work<'a> {
    /// The points to be worked on and tested.
    fn points(&self, target: &Target) -> Result<Vec<&'a Point>, Invalid> {
        match target {
            Target::Points { points } if points.is_empty() => Err(Invalid::new("points", "choose at least one point")),
            Target::Points { points } => {
                points.iter().map(|p| self.house.points.get(*p).ok_or_else(|| gone("point", p.0))).collect()
            }
            Target::Circuit { breaker } => {
                self.house.breakers.get(*breaker).ok_or_else(|| gone("breaker", breaker.0))?;
                let fed = self.beliefs.breakers.iter().find(|b| b.at.breaker == *breaker);
                let likely = fed.into_iter().flat_map(|b| &b.feeds).filter(|f| f.proven || f.likely);
                Ok(likely.filter_map(|f| self.house.points.get(f.point)).collect())
            }
            Target::Panel { .. } => Ok(Vec::new()),
        }
    }

    fn because(&mut self, breaker: BreakerId, why: Why) {
        let reasons = self.why.entry(breaker).or_default();
        if !reasons.contains(&why) {
            reasons.push(why);
        }
    }

    fn feeders(&mut self, point: &Point) {
        let Some(suspects) = self.suspects.get(&point.id).cloned() else { return };
        for (nth, (at, p)) in suspects.breakers.into_iter().enumerate() {
            let tag = point.tag.clone();
            let proven = suspects.status == Status::Proven && nth == 0;
            self.because(at.breaker, if proven { Why::Feeds { tag } } else { Why::MayFeed { tag, p } });
        }
    }

    fn box_mates(&mut self, point: &Point) {
        let Some(shared) = point.shared_box else { return };
        let mates: Vec<&Point> =
            self.house.points.iter().filter(|p| p.shared_box == Some(shared) && p.id != point.id).collect();
        for mate in mates {
            let Some(suspects) = self.suspects.get(&mate.id).cloned() else { continue };
            for (nth, (at, _)) in suspects.breakers.into_iter().enumerate() {
                let proven = suspects.status == Status::Proven && nth == 0;
                let (tag, of) = (mate.tag.clone(), point.tag.clone());
                self.because(at.breaker, Why::SameBox { tag, of, proven });
            }
        }
    }

    /// Breakers whose circuits share a neutral with a circuit that is off.
    fn neutral_mates(&mut self) {
        let owner = |c: &crate::house::Circuit| c.neutral_of.unwrap_or(c.id);
        let off: Vec<BreakerId> = self.why.keys().copied().collect();
        for breaker in off {
            let mine: BTreeSet<_> = self.house.circuits_of(breaker).into_iter().map(owner).collect();
            let mates = self.house.circuits.iter().filter(|c| c.breaker != breaker && mine.contains(&owner(c)));
            let mates: Vec<BreakerId> = mates.map(|c| c.breaker).collect();
            let with = self.house.breakers.get(breaker).map(|b| self.house.breaker_name(b)).unwrap_or_default();
            for mate in mates {
                self.because(mate, Why::SharedNeutral { with: with.clone() });
            }
        }
    }

    fn name(&self, breaker: BreakerId) -> BreakerRef {
        let found = self.beliefs.breakers.iter().find(|b| b.at.breaker == breaker);
        found.map_or_else(|| BreakerRef { breaker, panel: String::new(), at: String::new() }, |b| b.at.clone())
    }

    /// Handles in the order to move them: sub-panels first, then by place, so that each panel is done at one go.
    fn switch_off(&self) -> Vec<Off> {
        let order: BTreeMap<BreakerId, usize> =
            self.beliefs.breakers.iter().enumerate().map(|(i, b)| (b.at.breaker, i)).collect();
        let is_main = |b: &BreakerId| {
            let panel = self.house.breakers.get(*b).and_then(|b| self.house.panels.get(b.panel));
            panel.is_some_and(Panel::is_main)
        };
        let mut all: Vec<_> = self.why.iter().collect();
        all.sort_by_key(|(b, _)| (is_main(b), order.get(b).copied()));
        let off = |(b, why): (&BreakerId, &Vec<Why>)| {
            let amps = self.house.breakers.get(*b).map_or(Amps(0.0), |b| b.amps);
            Off { at: self.name(*b), amps, why: why.clone() }
        };
        all.into_iter().map(off).collect()
    }

    fn answer(&self, points: &[&Point]) -> Shutdown {
        let switch_off = self.switch_off();
        let unproven = points.iter().filter(|p| self.suspects.get(&p.id).is_none_or(|s| s.status != Status::Proven));
        let unproven: Vec<String> = unproven.map(|p| p.tag.clone()).collect();
        let doubtful = switch_off.iter().filter(|o| !o.why.iter().any(is_certain)).count();
        let main_off = (doubtful > MANY || switch_off.is_empty()).then(|| self.top_panel()).flatten().map(main_of);
        let stays = |p: &&&Point| {
            self.suspects.get(&p.id).is_some_and(|s| s.elsewhere >= MAY_STAY_LIVE || s.status == Status::NoBreaker)
        };
        let mut back_on: Vec<_> = switch_off.iter().map(|o| o.at.clone()).collect();
        back_on.reverse();
        Shutdown {
            unproven,
            may_stay_live: points.iter().filter(stays).map(|p| p.tag.clone()).collect(),
            also_dark: self.also_dark(points, &switch_off, main_off.is_some()),
            tests: points.iter().map(|p| self.dead_test(p)).collect(),
            stays_live: self.stays_live(&switch_off, main_off.as_ref()),
            main_off,
            switch_off,
            back_on,
        }
    }

    /// The one panel whose main kills everything; nothing where there are two: one of them off leaves the other live.
    fn top_panel(&self) -> Option<&'a Panel> {
        let mut mains = self.house.panels.iter().filter(|p| p.is_main());
        mains.next().filter(|_| mains.next().is_none())
    }

    fn also_dark(&self, points: &[&Point], off: &[Off], all: bool) -> Vec<AlsoDark> {
        let mut dark: BTreeMap<PointId, bool> = BTreeMap::new();
        if all {
            dark.extend(self.house.points.iter().map(|p| (p.id, false)));
        }
        for o in off {
            let feeds = self.beliefs.breakers.iter().find(|b| b.at.breaker == o.at.breaker);
            for fed in feeds.into_iter().flat_map(|b| &b.feeds) {
                *dark.entry(fed.point).or_default() |= fed.proven;
            }
        }
        let worked: BTreeSet<_> = points.iter().map(|p| p.id).collect();
        let others = self.house.points_in_order().into_iter().filter(|p| !worked.contains(&p.id));
        let also = others.filter_map(|p| Some((p, *dark.get(&p.id)?)));
        also.map(|(p, proven)| AlsoDark {
            point: p.id,
            tag: p.tag.clone(),
            name: self.called(p),
            proven,
            mind: mind(p),
        })
        .collect()
    }

    fn called(&self, p: &Point) -> String {
        let room = self.house.rooms.get(p.room).map_or("", |r| r.name.as_str());
        if p.name.is_empty() { room.to_owned() } else { format!("{room}, {}", p.name) }
    }

    fn dead_test(&self, p: &Point) -> DeadTest {
        let volts = p.volts.map_or(120, u16::from);
        let between = if volts > 120 {
            vec!["hot and hot", "each hot and ground", "each hot and neutral, where there is one"]
        } else {
            vec!["hot and neutral", "hot and ground", "neutral and ground"]
        };
        let (live_from, live_to) = expected(volts);
        DeadTest { tag: p.tag.clone(), name: self.called(p), between, live_from, live_to }
    }

    fn stays_live(&self, off: &[Off], main: Option<&MainOff>) -> Vec<StaysLive> {
        if let Some(main) = main {
            return vec![StaysLive::LineSide { panel: main.panel.clone() }];
        }
        let panels: BTreeSet<&str> = off.iter().map(|o| o.at.panel.as_str()).collect();
        panels.into_iter().map(|panel| StaysLive::Bus { panel: panel.to_owned() }).collect()
    }

    /// Work in a panel: every branch handle, then whatever switches the whole.
    fn panel(&mut self, id: PanelId) -> Result<Shutdown, Invalid> {
        let panel = self.house.panels.get(id).ok_or_else(|| gone("panel", id.0))?;
        for breaker in self.house.breakers_of(id) {
            self.because(breaker.id, Why::InThePanel);
        }
        let mut switch_off = self.switch_off();
        let feeder = panel.fed_by.and_then(|b| self.house.breakers.get(b));
        let main_off = match feeder {
            Some(feeder) => {
                let why = vec![Why::FeedsThePanel { panel: panel.name.clone() }];
                switch_off.push(Off { at: self.name(feeder.id), amps: feeder.amps, why });
                None
            }
            None => Some(main_of(panel)),
        };
        let mut stays_live = match feeder.and_then(|f| self.house.panels.get(f.panel)) {
            Some(upstream) => vec![StaysLive::Upstream { panel: upstream.name.clone() }],
            None => vec![StaysLive::LineSide { panel: panel.name.clone() }],
        };
        if panel.feed_through {
            stays_live.push(StaysLive::FeedThrough { panel: panel.name.clone() });
        }
        let mut back_on: Vec<_> = switch_off.iter().map(|o| o.at.clone()).collect();
        back_on.rotate_right(usize::from(feeder.is_some()));
        let nominal = if panel.supply == crate::position::Supply::SplitPhase { 240 } else { 208 };
        let (live_from, live_to) = expected(nominal);
        let test = DeadTest {
            tag: panel.name.clone(),
            name: format!("the bus of panel {}", panel.name),
            between: vec!["each leg and neutral", "each leg and ground", "leg and leg"],
            live_from,
            live_to,
        };
        Ok(Shutdown {
            unproven: Vec::new(),
            may_stay_live: Vec::new(),
            also_dark: self.also_dark(&[], &switch_off, feeder.is_none()),
            tests: vec![test],
            stays_live,
            main_off,
            switch_off,
            back_on,
        })
    }
}

fn is_certain(why: &Why) -> bool {
    match why {
        Why::MayFeed { .. } => false,
        Why::SameBox { proven, .. } => *proven,
        Why::SharedNeutral { .. } => true,
        Why::Feeds { .. } | Why::ItsCircuit | Why::InThePanel | Why::FeedsThePanel { .. } => true,
    }
}

fn main_of(panel: &Panel) -> MainOff {
    let by = match (panel.main, panel.disconnect.trim()) {
        (Some(_), _) => MainBy::Main,
        (None, "") => MainBy::NotKnown,
        (None, place) => MainBy::Disconnect { place: place.to_owned() },
    };
    MainOff { panel: panel.name.clone(), by }
}

/// Words that ask for care; common practice.
const MINDED: &[(Mind, &[&str])] = &[
    (Mind::Medical, &["medical", "oxygen", "concentrator", "cpap", "dialysis", "ventilator", "lift"]),
    (Mind::Pump, &["sump pump", "sump", "pump", "ejector"]),
    (Mind::Cold, &["freezer", "refrigerator"]),
    (Mind::Aquarium, &["aquarium", "terrarium", "fish"]),
    (Mind::Computer, &["computer", "server", "router", "modem", "desk"]),
    (Mind::Heat, &["furnace", "boiler"]),
    (Mind::Cooking, &["range", "cooktop", "oven"]),
];

fn mind(p: &Point) -> Option<Mind> {
    let said = words(&p.name);
    if p.kind == PointKind::Alarm || said.iter().any(|w| w.plain == "smoke alarm") {
        return Some(Mind::Alarm);
    }
    let named = |list: &[&str]| said.iter().any(|w| list.contains(&w.plain.as_str()));
    // "By the stove" is a place; only the stove itself cooks.
    let fits = |mind: Mind| mind != Mind::Cooking || p.kind == PointKind::Appliance;
    MINDED.iter().find(|(mind, list)| fits(*mind) && named(list)).map(|(mind, _)| *mind)
}

#[cfg(test)]
mod tests;
