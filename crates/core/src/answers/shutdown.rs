//! What must be switched off to work somewhere, what else goes dark, and how it is proven dead.
//!
//! The answer errs on the safe side: for a point that is not proven it names every breaker that the readings do not
//! rule out, whatever labels say; and where those are many it says main off. It never says that something is dead,
//! only what to measure and what to expect.

mod words;

use std::collections::{BTreeMap, BTreeSet};

use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

use crate::answers::service::expected;
use crate::base::Invalid;
use crate::base::position::{Position, Supply};
use crate::base::units::{Amps, Volts};
use crate::directory::OnCard;
use crate::house::{Breaker, BreakerId, House, Panel, PanelId, Point, PointId};
use crate::trace::{self, Beliefs, BreakerRef, PointBelief, Status, Suspects, Tracker};
use crate::words::mind::{Mind, mind};
use crate::words::things::in_words;

pub use words::{Caution, Heads};

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

/// The answer. It is about everything that a hand can touch there: the points of the work and all that share a box with
/// them.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
pub struct Shutdown {
    /// Something that a hand can touch there stays live whatever is off: no handles and no test are given, the cautions say
    /// what to do instead.
    pub stop: bool,
    /// What is to be said before anything else, the gravest first.
    pub cautions: Vec<Caution>,
    /// What is not proven, to be said first: tags.
    pub unproven: Vec<String>,
    /// Points that may stay live whatever is off: stop, an electrician is due.
    pub may_stay_live: Vec<String>,
    /// While something is not proven: places where a breaker may stand that nobody entered. They are looked at first.
    pub not_entered: Vec<NotEntered>,
    /// While something is not proven: nobody said that every panel of the property is entered.
    pub other_panels: bool,
    /// For work on a circuit: what it is believed to feed.
    pub circuit: Option<OnCircuit>,
    /// What else is in the boxes that are opened.
    pub in_the_box: Vec<BoxMate>,
    /// Handles to move, in this order, each with its reasons.
    pub switch_off: Vec<Off>,
    /// So much is unknown that the main is the only sure way; the handles above are then what it replaces.
    pub main_off: Option<MainOff>,
    /// With several main panels: what is off beside it. One of them off leaves the others live.
    pub other_mains: Vec<MainOff>,
    /// What else goes dark,
    pub also_dark: Vec<AlsoDark>,
    /// and, of what need not be asked about first, what surely does, in words,
    pub dark: String,
    /// and what may.
    pub may_go_dark: String,
    /// What is measured at each point, between two tests of the meter on a known live source.
    pub tests: Vec<DeadTest>,
    /// What stays live.
    pub stays_live: Vec<Staying>,
    /// Handles in the order to switch them on again.
    pub back_on: Vec<BreakerRef>,
    /// What stands over each part.
    pub heads: Heads,
}

/// Places of a panel of which nobody said what stands there.
#[derive(Debug, Clone, PartialEq, Eq, Serialize, ToSchema)]
pub struct NotEntered {
    /// The panel.
    pub panel: String,
    /// Spaces and halves of spaces.
    #[schema(value_type = Vec<String>)]
    pub at: Vec<Position>,
}

/// What a circuit is believed to feed.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
pub struct OnCircuit {
    /// Its breaker.
    #[serde(flatten)]
    pub at: BreakerRef,
    /// Points proven or believed to hang on it, how sure, and whether that is proven.
    pub feeds: Vec<trace::Fed>,
    /// The proven ones in words,
    pub surely: String,
    /// and the others.
    pub perhaps: String,
    /// Tags of further points that readings do not rule out.
    pub may_feed: Vec<String>,
}

/// Something in a box that is opened.
#[derive(Debug, Clone, PartialEq, Eq, Serialize, ToSchema)]
pub struct BoxMate {
    /// Its tag.
    pub tag: String,
    /// What it is.
    pub name: String,
    /// The point of the work in the same box.
    pub of: String,
}

/// A handle to switch off.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
pub struct Off {
    /// Which.
    #[serde(flatten)]
    pub at: BreakerRef,
    /// Its rating.
    pub amps: Amps,
    /// What it feeds, as far as known, in words; a question mark after what is not proven.
    pub feeds: String,
    /// Why.
    pub why: Vec<Why>,
    /// The same in words.
    pub said: Vec<String>,
}

impl Off {
    fn new(house: &House, at: BreakerRef, amps: Amps, why: Vec<Why>) -> Self {
        Self { at, amps, feeds: String::new(), said: why.iter().map(|why| why.said(house)).collect(), why }
    }
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
    /// It and another handle may feed the point together: dead only with both off.
    OnTwoHandles {
        /// Tag.
        tag: String,
        /// The other handle.
        with: String,
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
    /// The same in words.
    pub said: String,
}

impl MainOff {
    fn new(panel: String, by: MainBy) -> Self {
        Self { panel, said: by.said(), by }
    }
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

/// Something that stays live, with the words for it.
#[derive(Debug, Clone, PartialEq, Eq, Serialize, ToSchema)]
pub struct Staying {
    /// What.
    #[serde(flatten)]
    pub what: StaysLive,
    /// The words.
    pub text: String,
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
    /// What a panel feeds that nobody entered, if there is one.
    OtherPanels,
}

/// With more handles than this in doubt the main is the surer way.
const MANY: usize = 4;
/// From this probability on a point may stay live whatever is off. Above what is assumed of every untraced point.
const MAY_STAY_LIVE: f64 = 0.05;

/// The answer for a target.
///
/// # Errors
/// [`Invalid`] where what it names is not there, or it names nothing.
pub fn plan(tracker: &Tracker<'_>, beliefs: &Beliefs, target: &Target) -> Result<Shutdown, Invalid> {
    let mut work = SwitchedFor { house: tracker.house(), beliefs, suspects: tracker.suspects(), why: BTreeMap::new() };
    let points = work.points(target)?;
    let breaker = match target {
        Target::Panel { panel } => return work.panel(*panel),
        Target::Circuit { breaker } => Some(*breaker),
        Target::Points { .. } => None,
    };
    if let Some(breaker) = breaker {
        work.because(breaker, Why::ItsCircuit);
    }
    let mates = work.box_mates(&points);
    for point in &points {
        work.feeders(point, None);
    }
    for (mate, of) in &mates {
        work.feeders(mate, Some(of));
    }
    work.neutral_mates();
    Ok(work.answer(&points, &mates, breaker))
}

impl Shutdown {
    /// The same without all that leads to work.
    fn stopped(self) -> Self {
        Self {
            unproven: Vec::new(),
            switch_off: Vec::new(),
            main_off: None,
            other_mains: Vec::new(),
            also_dark: Vec::new(),
            dark: String::new(),
            may_go_dark: String::new(),
            tests: Vec::new(),
            stays_live: Vec::new(),
            back_on: Vec::new(),
            ..self
        }
    }
}

struct SwitchedFor<'a> {
    house: &'a House,
    beliefs: &'a Beliefs,
    suspects: BTreeMap<PointId, Suspects>,
    why: BTreeMap<BreakerId, Vec<Why>>,
}

impl<'a> SwitchedFor<'a> {
    /// The points to be worked on and tested.
    fn points(&self, target: &Target) -> Result<Vec<&'a Point>, Invalid> {
        match target {
            Target::Points { points } if points.is_empty() => Err(Invalid::new("points", "choose at least one point")),
            Target::Points { points } => {
                points.iter().map(|p| self.house.points.get(*p).ok_or_else(|| Invalid::gone("point", p.0))).collect()
            }
            Target::Circuit { breaker } => {
                self.house.breakers.get(*breaker).ok_or_else(|| Invalid::gone("breaker", breaker.0))?;
                Ok(self.believed(*breaker).filter_map(|f| self.house.points.get(f.point)).collect())
            }
            Target::Panel { .. } => Ok(Vec::new()),
        }
    }

    /// What a breaker is proven or believed to feed.
    fn believed(&self, breaker: BreakerId) -> impl Iterator<Item = &'a trace::Fed> + use<'a> {
        let fed = self.beliefs.breakers.iter().find(|b| b.at.breaker == breaker);
        fed.into_iter().flat_map(|b| &b.feeds).filter(|f| f.proven || f.likely)
    }

    /// What else is in the boxes of these points, each with the point that it shares the box with.
    fn box_mates(&self, points: &[&'a Point]) -> Vec<(&'a Point, &'a Point)> {
        let of =
            |p: &&'a Point| points.iter().find(|w| w.shared_box.is_some() && w.shared_box == p.shared_box).copied();
        let others = self.house.points_in_order().into_iter().filter(|p| !points.iter().any(|w| w.id == p.id));
        others.filter_map(|p| Some((p, of(&p)?))).collect()
    }

    fn because(&mut self, breaker: BreakerId, why: Why) {
        let reasons = self.why.entry(breaker).or_default();
        if !reasons.contains(&why) {
            reasons.push(why);
        }
    }

    /// What may feed a point; `of` is the point of the work where this one only shares its box.
    fn feeders(&mut self, point: &Point, of: Option<&Point>) {
        let Some(suspects) = self.suspects.get(&point.id).cloned() else { return };
        for (nth, (at, p)) in suspects.breakers.into_iter().enumerate() {
            let tag = point.tag.clone();
            let proven = suspects.status == Status::Proven && nth == 0;
            let why = match of {
                Some(of) => Why::SameBox { tag, of: of.tag.clone(), proven },
                None if proven => Why::Feeds { tag },
                None => Why::MayFeed { tag, p },
            };
            self.because(at.breaker, why);
        }
        for ([a, b], p) in suspects.pairs {
            for (this, other) in [(&a, &b), (&b, &a)] {
                let with = self.house.breakers.get(other.breaker).map(|b| self.house.breaker_name(b));
                let why = Why::OnTwoHandles { tag: point.tag.clone(), with: with.unwrap_or_default(), p };
                self.because(this.breaker, why);
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

    /// Handles in the order to move them: sub-panels first, so that each panel is done at one go; in it what is certain, then
    /// what is likeliest, then by place.
    fn switch_off(&self) -> Vec<Off> {
        let order: BTreeMap<BreakerId, usize> =
            self.beliefs.breakers.iter().enumerate().map(|(i, b)| (b.at.breaker, i)).collect();
        let is_main = |b: &BreakerId| {
            let panel = self.house.breakers.get(*b).and_then(|b| self.house.panels.get(b.panel));
            panel.is_some_and(Panel::is_main)
        };
        let mut all: Vec<_> = self.why.iter().collect();
        let panel = |b: &BreakerId| self.house.breakers.get(*b).map(|b| b.panel);
        let panels: Vec<_> = self.house.panels_in_order().into_iter().map(|p| Some(p.id)).collect();
        let nth = |b: &BreakerId| panels.iter().position(|p| *p == panel(b));
        all.sort_by(|(a, why_a), (b, why_b)| {
            (is_main(a), nth(a))
                .cmp(&(is_main(b), nth(b)))
                .then(likeliest(why_b).total_cmp(&likeliest(why_a)))
                .then(order.get(a).cmp(&order.get(b)))
        });
        let fed = OnCard::new(self.house, self.beliefs);
        let off = |(b, why): (&BreakerId, &Vec<Why>)| {
            let amps = self.house.breakers.get(*b).map_or(Amps(0.0), |b| b.amps);
            let feeds = self.house.breakers.get(*b).and_then(|b| fed.line(b).short.into_iter().next());
            Off { feeds: feeds.unwrap_or_default(), ..Off::new(self.house, self.name(*b), amps, why.clone()) }
        };
        all.into_iter().map(off).collect()
    }

    /// What comes on again: what was off before stays off.
    fn were_on(&self, switch_off: &[Off]) -> Vec<BreakerRef> {
        let was_on = |at: &&BreakerRef| self.house.breakers.get(at.breaker).is_some_and(|b| !b.is_off());
        switch_off.iter().map(|off| &off.at).filter(was_on).cloned().collect()
    }

    fn is_proven(&self, point: PointId) -> bool {
        self.suspects.get(&point).is_some_and(|s| s.status == Status::Proven)
    }

    fn answer(&self, points: &[&Point], mates: &[(&Point, &Point)], breaker: Option<BreakerId>) -> Shutdown {
        let switch_off = self.switch_off();
        let at_hand: Vec<&Point> = points.iter().copied().chain(mates.iter().map(|(mate, _)| *mate)).collect();
        let tags = |which: &dyn Fn(&Point) -> bool| -> Vec<String> {
            at_hand.iter().filter(|p| which(p)).map(|p| p.tag.clone()).collect()
        };
        let unproven = tags(&|p| !self.is_proven(p.id));
        let circuit = breaker.map(|b| self.on_circuit(b));
        // A circuit of which nothing is known is no better than a point that is not proven.
        let open = !unproven.is_empty() || circuit.as_ref().is_some_and(|c| c.feeds.is_empty());
        let not_entered = if open { self.not_entered() } else { Vec::new() };
        let other_panels = open && !self.house.about.every_panel;
        let doubtful = switch_off.iter().filter(|o| !o.why.iter().any(is_certain)).count();
        let main_is_surer = doubtful > MANY || switch_off.is_empty() || !not_entered.is_empty() || other_panels;
        let mut mains = if main_is_surer { self.mains() } else { Vec::new() }.into_iter();
        let stays = |p: &Point| {
            self.suspects.get(&p.id).is_some_and(|s| s.elsewhere >= MAY_STAY_LIVE || s.status == Status::NoBreaker)
        };
        let mut back_on = self.were_on(&switch_off);
        back_on.reverse();
        let mate = |(mate, of): &(&Point, &Point)| BoxMate {
            tag: mate.tag.clone(),
            name: self.called(mate),
            of: of.tag.clone(),
        };
        let terminal = breaker.and_then(|b| self.house.breakers.get(b)).map(|b| self.terminal_test(b));
        let main_off = mains.next();
        let other_mains: Vec<MainOff> = mains.collect();
        let also_dark = self.also_dark(points, &switch_off, main_off.is_some());
        let live: Vec<&Point> = at_hand.iter().copied().filter(|p| self.stays_live_for_sure(p.id)).collect();
        let mut answer = Shutdown {
            stop: !live.is_empty(),
            cautions: Vec::new(),
            may_stay_live: tags(&stays),
            dark: self.in_words(&also_dark, |d| d.proven && d.mind.is_none()),
            may_go_dark: self.in_words(&also_dark, |d| !d.proven && d.mind.is_none()),
            also_dark,
            tests: terminal.into_iter().chain(at_hand.iter().map(|p| self.dead_test(p))).collect(),
            stays_live: words::staying(self.stays_live(&switch_off, main_off.iter().chain(&other_mains), other_panels)),
            in_the_box: mates.iter().map(mate).collect(),
            unproven,
            not_entered,
            other_panels,
            circuit,
            main_off,
            other_mains,
            switch_off,
            back_on,
            heads: words::HEADS,
        };
        if !live.is_empty() {
            answer = answer.stopped();
        }
        answer.cautions = words::cautions(self.house, &answer, self.beliefs);
        if !live.is_empty() {
            answer.cautions.insert(0, words::stays_live(&in_words(self.house, &live)));
        }
        answer
    }

    fn stays_live_for_sure(&self, point: PointId) -> bool {
        self.beliefs.of(point).is_some_and(PointBelief::stays_live)
    }

    fn on_circuit(&self, breaker: BreakerId) -> OnCircuit {
        let feeds: Vec<trace::Fed> = self.believed(breaker).cloned().collect();
        let not_ruled_out = |p: &&Point| {
            let suspects = self.suspects.get(&p.id).filter(|s| s.status != Status::Proven);
            suspects.is_some_and(|s| s.names(breaker)) && !feeds.iter().any(|f| f.point == p.id)
        };
        let may_feed = self.house.points_in_order().into_iter().filter(not_ruled_out).map(|p| p.tag.clone()).collect();
        let told = |proven: bool| {
            let of = feeds.iter().filter(|f| f.proven == proven).filter_map(|f| self.house.points.get(f.point));
            in_words(self.house, &of.collect::<Vec<_>>())
        };
        OnCircuit { at: self.name(breaker), may_feed, surely: told(true), perhaps: told(false), feeds }
    }

    /// Places of which nobody said what stands there, panel by panel.
    fn not_entered(&self) -> Vec<NotEntered> {
        let panels = self.house.panels_in_order().into_iter();
        let places = panels.map(|p| NotEntered { panel: p.name.clone(), at: self.house.not_entered(p) });
        places.filter(|n| !n.at.is_empty()).collect()
    }

    /// What kills everything: the mains of all panels that no breaker feeds.
    fn mains(&self) -> Vec<MainOff> {
        self.house.panels_in_order().into_iter().filter(|p| p.is_main()).map(main_of).collect()
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

    fn in_words(&self, dark: &[AlsoDark], which: impl Fn(&AlsoDark) -> bool) -> String {
        let points: Vec<&Point> =
            dark.iter().filter(|d| which(d)).filter_map(|d| self.house.points.get(d.point)).collect();
        in_words(self.house, &points)
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

    /// The circuit's own terminal, behind the panel's cover.
    fn terminal_test(&self, breaker: &Breaker) -> DeadTest {
        let poles = breaker.at.len();
        let mut between = vec!["terminal and neutral", "terminal and ground"];
        if poles > 1 {
            between.insert(0, "terminal and terminal");
        }
        let supply = self.house.panels.get(breaker.panel).map(|p| p.supply);
        let (live_from, live_to) = expected(if poles > 1 { supply.map_or(240, Supply::across) } else { 120 });
        DeadTest {
            tag: self.house.breaker_name(breaker),
            name: "the breaker's own terminal, behind the cover (qualified people only)".into(),
            between,
            live_from,
            live_to,
        }
    }

    fn stays_live<'m>(
        &self,
        off: &[Off],
        mains: impl Iterator<Item = &'m MainOff>,
        other_panels: bool,
    ) -> Vec<StaysLive> {
        let mut stays: Vec<_> = mains.map(|main| StaysLive::LineSide { panel: main.panel.clone() }).collect();
        // Whoever moves the handles and not the main leaves the bus live.
        let panels: BTreeSet<&str> = off.iter().map(|o| o.at.panel.as_str()).collect();
        stays.extend(panels.into_iter().map(|panel| StaysLive::Bus { panel: panel.to_owned() }));
        if other_panels {
            stays.push(StaysLive::OtherPanels);
        }
        stays
    }

    /// What feeds a panel, and what hangs on it, stays live when it is off.
    fn stays_live_beside(&self, panel: &Panel) -> Vec<StaysLive> {
        let feeder = panel.fed_by.and_then(|b| self.house.breakers.get(b));
        let before = match feeder.and_then(|f| self.house.panels.get(f.panel)) {
            Some(upstream) => StaysLive::Upstream { panel: upstream.name.clone() },
            None => StaysLive::LineSide { panel: panel.name.clone() },
        };
        let behind = panel.feed_through.then(|| StaysLive::FeedThrough { panel: panel.name.clone() });
        std::iter::once(before).chain(behind).collect()
    }

    /// SwitchedFor in a panel: every branch handle, then whatever switches the whole.
    fn panel(&mut self, id: PanelId) -> Result<Shutdown, Invalid> {
        let panel = self.house.panels.get(id).ok_or_else(|| Invalid::gone("panel", id.0))?;
        for breaker in self.house.breakers_of(id) {
            self.because(breaker.id, Why::InThePanel);
        }
        let mut switch_off = self.switch_off();
        let feeder = panel.fed_by.and_then(|b| self.house.breakers.get(b));
        let main_off = match feeder {
            Some(feeder) => {
                let why = vec![Why::FeedsThePanel { panel: panel.name.clone() }];
                switch_off.push(Off::new(self.house, self.name(feeder.id), feeder.amps, why));
                None
            }
            None => Some(main_of(panel)),
        };
        let mut back_on = self.were_on(&switch_off);
        back_on.rotate_right(usize::from(feeder.is_some_and(|f| !f.is_off())));
        let (live_from, live_to) = expected(panel.supply.across());
        let test = DeadTest {
            tag: panel.name.clone(),
            name: format!("the bus of panel {} and every breaker's terminal", panel.name),
            // A terminal that is live with the bus dead is fed back from elsewhere.
            between: vec!["each leg and neutral", "each leg and ground", "leg and leg", "each terminal and ground"],
            live_from,
            live_to,
        };
        let also_dark = self.also_dark(&[], &switch_off, feeder.is_none());
        let mut answer = Shutdown {
            stop: false,
            cautions: Vec::new(),
            unproven: Vec::new(),
            may_stay_live: Vec::new(),
            not_entered: Vec::new(),
            other_panels: false,
            circuit: None,
            in_the_box: Vec::new(),
            other_mains: Vec::new(),
            dark: self.in_words(&also_dark, |d| d.proven && d.mind.is_none()),
            may_go_dark: self.in_words(&also_dark, |d| !d.proven && d.mind.is_none()),
            also_dark,
            tests: vec![test],
            stays_live: words::staying(self.stays_live_beside(panel)),
            main_off,
            switch_off,
            back_on,
            heads: words::HEADS,
        };
        answer.cautions = words::held(self.house, &answer);
        Ok(answer)
    }
}

/// How likely the likeliest reason for a handle is.
fn likeliest(why: &[Why]) -> f64 {
    let p = |why: &Why| match why {
        Why::MayFeed { p, .. } | Why::OnTwoHandles { p, .. } => *p,
        Why::SameBox { proven: false, .. } => 0.0,
        _ => 1.0,
    };
    why.iter().map(p).fold(0.0, f64::max)
}

fn is_certain(why: &Why) -> bool {
    match why {
        Why::MayFeed { .. } | Why::OnTwoHandles { .. } => false,
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
    MainOff::new(panel.name.clone(), by)
}

#[cfg(test)]
mod tests;
