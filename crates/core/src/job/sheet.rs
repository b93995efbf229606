//! The steps that every job in a panel has, in their order, around its own acts. (handbook 5.1)

use std::collections::{BTreeMap, BTreeSet};

use super::plan::{Basis, Plan, Upstream};
use super::working::{at, step};
use crate::answers::service::expected;
use crate::base::position::Leg;
use crate::base::units::NominalVolts;
use crate::code::volts::{RANGE_A, of_nominal};
use crate::house::{
    Breaker, BreakerId, Conductor, Goal, HeldQuantity, Hold, HoldKind, House, JobStep, MeasuredAt, Panel, Point,
    PointKind, ReadBand, Side, Stage, Switching,
};
use crate::network::Wired;
use crate::network::wiring::Bar;
use crate::words::mind::ask_first;
use crate::words::short::lower;

/// At most so many volts are left where nothing feeds. [prac: handbook 5.1.5]
pub const DEAD: f64 = 1.0;
/// What a source for the meter's test gives: any voltage that a meter shows beyond doubt.
const SOURCE: (f64, f64) = (50.0, 1000.0);

/// A breaker that feeds a point with less than this is not counted among those that may; the box is read all the same. [prac]
const MAY_FEED: f64 = 0.01;

/// A sheet of steps that is being written.
pub(super) struct StepSheet<'a> {
    basis: &'a Basis<'a>,
    panel: &'a Panel,
    after: &'a House,
    goal: &'a Goal,
    expects: Wired,
    /// For work in a box the breakers that are off; otherwise the panel is.
    off: Option<Vec<BreakerId>>,
    steps: Vec<JobStep>,
}

impl<'a> StepSheet<'a> {
    /// For work in a panel towards a goal; `after` is the house as it shall be.
    pub(super) fn new(basis: &'a Basis<'a>, panel: &'a Panel, after: &'a House, goal: &'a Goal) -> Self {
        Self { basis, panel, after, goal, expects: Wired::new(after, &[], &[]), off: None, steps: Vec::new() }
    }

    fn upstream(&self) -> Upstream<'a> {
        Upstream::of(self.basis.house, self.panel)
    }

    pub(super) fn put(&mut self, step: JobStep) {
        self.steps.push(step);
    }

    /// Acts of the work, named by their numbers.
    pub(super) fn acts(&mut self, acts: impl IntoIterator<Item = JobStep>) {
        for act in acts {
            let key = format!("work-{}", self.steps.len());
            self.put(JobStep { key, ..act });
        }
    }

    /// Before anything is opened.
    pub(super) fn before(&mut self) {
        let say = |key: &str, what: &str, why: &str| JobStep { why: why.into(), ..step(Stage::Before, key, what) };
        self.put(say(
            "allowed",
            "It is allowed: the permit is there where one is asked for, and so is whoever may do it.",
            "Local law decides who may work in a panel.",
        ));
        self.put(say(
            "ready",
            "Dry floor; the space before the panel clear, 30 in wide and 36 in deep; light from another source; eye protection \
             and gloves; no rings, watch or chain; somebody else at hand; the phone charged.",
            "NEC 110.26; common practice.",
        ));
        self.put(say(
            "parts",
            "All parts are at hand, and the breaker types are those that the panel's label lists.",
            "Same fit is no proof: NEC 110.3(B).",
        ));
        // The panel goes as a whole, and whatever else may: all of the house's is named.
        let asked = ask_first(self.basis.house, &self.basis.house.points_in_order(), &[]);
        if !asked.is_empty() {
            let what = format!("Everybody knows that the power goes. {}.", asked.join(". "));
            self.put(say("asked", &what, "It should not lose power unannounced; keep it short."));
        }
    }

    /// Off, and proven dead between two tests of the meter; where the panel itself goes, the wires that feed it too.
    pub(super) fn dead(&mut self, touched: &[&Breaker], panel_goes: bool) {
        let (off, mut switches) = self.whole(false);
        let inlets = self.basis.house.inlets(self.panel.id);
        // An inlet has a step of its own: its cord comes out with it.
        let own = self.basis.house.breakers_of(self.panel.id).into_iter().map(|b| b.id);
        switches.breakers.extend(own.filter(|b| !inlets.iter().any(|inlet| inlet.id == *b)));
        self.put(JobStep {
            why: "Lock it or tag it: nobody else puts it on. The breakers first, so that the main breaks no load and meets none when it comes \
                  back; others leave them on and let the main break it all."
                .into(),
            switches: Some(switches),
            ..step(Stage::Dead, "off", format!("All its breakers off, one by one. Then: {}", lower(&off)))
        });
        self.put(JobStep {
            why: "The cover is your shield: a screw may have cut a wire. Keep the screws.".into(),
            tool: "screwdriver".into(),
            ..step(
                Stage::Dead,
                "cover",
                "Take the cover off: support it while the last screw comes out, and pull it straight off. Leave the cover of the \
                 lugs where the supply comes in: they are live.",
            )
        });
        if !inlets.is_empty() {
            let names: Vec<String> = inlets.iter().map(|b| self.basis.house.breaker_name(b)).collect();
            let on: BTreeSet<BreakerId> = inlets.iter().filter(|b| !b.is_off()).map(|b| b.id).collect();
            let switches = (!on.is_empty()).then_some(Switching { on: false, panel: None, breakers: on });
            self.put(JobStep {
                why: "A generator feeds the panel from behind, with the main off. Some start by themselves.".into(),
                switches,
                ..step(
                    Stage::Dead,
                    "inlet-off",
                    format!(
                        "The generator's inlet, {}, is off; its cord is out, and the generator cannot start",
                        names.join(", ")
                    ),
                )
            });
        }
        self.source("source-before", "Test the meter on a known live source");
        self.put(JobStep {
            tool: "non-contact tester, meter".into(),
            hold: Some(self.gone(
                MeasuredAt::Bus { panel: self.panel.id },
                "each leg and neutral, leg and leg, neutral and ground",
            )),
            place: Some(MeasuredAt::Bus { panel: self.panel.id }),
            ..step(
                Stage::Dead,
                "dead-bus",
                format!(
                    "Non-contact tester first, then the meter at the bus of {}: the largest of what it reads",
                    self.panel.name
                ),
            )
        });
        let of_work = touched.iter().map(|b| b.id).collect::<BTreeSet<_>>();
        for breaker in touched.iter().copied().chain(inlets.into_iter().filter(|b| !of_work.contains(&b.id))) {
            let place = at(breaker);
            let across = if breaker.at.len() > 1 { ", terminal and terminal" } else { "" };
            self.put(JobStep {
                tool: "meter".into(),
                why: "A terminal that is live with the bus dead is fed from elsewhere.".into(),
                place: Some(place),
                hold: Some(self.gone(place, &format!("terminal and neutral, terminal and ground{across}"))),
                ..step(
                    Stage::Dead,
                    format!("dead-{}", breaker.id.0),
                    format!("At the terminal of {}: the largest of what the meter reads", self.basis.called(breaker)),
                )
            });
        }
        if panel_goes {
            let feed = MeasuredAt::Feed { panel: self.panel.id };
            self.put(JobStep {
                tool: "meter".into(),
                why: "A main that is off leaves them live: only the utility, or whatever is before this panel, kills them.".into(),
                place: Some(feed),
                hold: Some(self.gone(feed, "each lug and neutral, each lug and ground, lug and lug")),
                ..step(
                    Stage::Dead,
                    "dead-feed",
                    format!(
                        "The power is cut before {}: at the lugs where the supply comes in, the largest of what the meter reads",
                        self.panel.name
                    ),
                )
            });
        }
        self.source("source-after", "Test the meter on the same source again");
    }

    /// Before a box is opened.
    pub(super) fn before_a_box(&mut self, off: &[&Breaker]) {
        let say = |key: &str, what: &str, why: &str| JobStep { why: why.into(), ..step(Stage::Before, key, what) };
        self.put(say(
            "allowed",
            "It is allowed: in many places whoever lives there may replace a device like for like.",
            "Local law decides.",
        ));
        self.put(say(
            "ready",
            "Dry floor, light from another source, eye protection, no rings or watch; somebody else knows that you work there.",
            "Common practice.",
        ));
        self.put(say("parts", "The new device and all parts are at hand, side by side with the old one.", ""));
        let house = self.basis.house;
        let dark: Vec<&Point> = off.iter().flat_map(|b| self.basis.points(b.id)).collect();
        let asked = ask_first(house, &dark, &[]);
        if !asked.is_empty() {
            let what = format!("Everybody knows that the power goes. {}.", asked.join(". "));
            self.put(say("asked", &what, "It should not lose power unannounced; keep it short."));
        }
    }

    /// What feeds a box is off; what is in it is shown dead between two tests of the meter.
    pub(super) fn dead_by(&mut self, off: &[&Breaker]) {
        let house = self.basis.house;
        self.off = Some(off.iter().map(|b| b.id).collect());
        let names: Vec<String> = off.iter().map(|b| self.basis.called(b)).collect();
        // One that is off already is held as well.
        let switches = Switching { on: false, panel: None, breakers: off.iter().map(|b| b.id).collect() };
        self.put(JobStep {
            why: "Lock or tag each: nobody else puts it on. The panel stays closed.".into(),
            switches: Some(switches),
            ..step(Stage::Dead, "off", format!("Switch off {}", names.join(", ")))
        });
        let other = house.breakers.iter().any(|b| !off.iter().any(|o| o.id == b.id) && !b.is_off());
        let why = if other {
            "A receptacle that is live still, or a proving unit."
        } else {
            "A proving unit, or a battery inverter."
        };
        self.source_by("source-before", "Test the meter on a known live source", why);
        self.source_by("source-after", "Test the meter on the same source again", why);
    }

    fn source_by(&mut self, key: &str, what: &str, why: &str) {
        let hold = held(HoldKind::Source, None, "the source's two sides", SOURCE, None);
        self.put(JobStep { why: why.into(), tool: "meter".into(), hold: Some(hold), ..step(Stage::Dead, key, what) });
    }

    /// Boxes are closed before the power comes back.
    pub(super) fn close_boxes(&mut self) {
        let say = |key: &str, what: &str, why: &str| JobStep { why: why.into(), ..step(Stage::Close, key, what) };
        self.put(say(
            "tug",
            "Tug at every wire; no bare copper outside, no insulation under a screw.",
            "Common practice.",
        ));
        self.put(say("boxes-closed", "The box is closed: device and plate on, no wire pinched.", "Common practice."));
    }

    /// What was off for a box comes on again.
    pub(super) fn on_again(&mut self, off: &[&Breaker]) {
        let breakers: BTreeSet<BreakerId> = off.iter().filter(|b| !b.is_off()).map(|b| b.id).collect();
        let names: Vec<String> = off.iter().filter(|b| !b.is_off()).map(|b| self.basis.called(b)).collect();
        if breakers.is_empty() {
            return;
        }
        self.put(JobStep {
            why: "It trips at once: leave it off, and look at the box again.".into(),
            switches: Some(Switching { on: true, panel: None, breakers }),
            ..step(Stage::BackOn, "on", format!("One by one on again: {}", names.join(", ")))
        });
    }

    /// A receptacle has its voltage again.
    pub(super) fn verify_at(&mut self, point: &Point, feeder: &Breaker) {
        let legs = if point.volts.is_some_and(NominalVolts::is_leg_to_leg) { 2 } else { 1 };
        if point.kind == PointKind::Receptacle && !feeder.is_off() {
            self.volts_at_point(&format!("volts-{}", point.id.0), feeder, point, legs);
        }
    }

    /// What is written down of a box.
    pub(super) fn plate(&mut self) {
        let what = "The number of its breaker on the back of the cover plate, where it is not there yet.";
        self.put(step(Stage::Record, "plates", what));
    }

    /// Boxes that the work opens: each is shown dead at every conductor in it, and what other panels may feed there is off too.
    /// Which boxes these are the steps of the work say. (handbook 5.1)
    pub(super) fn boxes(&mut self) {
        let house = self.basis.house;
        let of = |step: &JobStep| match step.place {
            Some(MeasuredAt::Point { point }) if step.stage == Stage::Work => house.points.get(point),
            _ => None,
        };
        let mut opened: Vec<&Point> = Vec::new();
        for point in self.steps.iter().filter_map(of) {
            if !opened.iter().any(|p| p.id == point.id) {
                opened.push(point);
            }
        }
        let mates: Vec<&Point> = house
            .points
            .iter()
            .filter(|p| !opened.iter().any(|o| o.id == p.id))
            .filter(|p| p.shared_box.is_some() && opened.iter().any(|o| o.shared_box == p.shared_box))
            .collect();
        let dead: BTreeSet<BreakerId> = self.off_for_it();
        let may = |p: &&Point| self.basis.beliefs.of(p.id).map(|b| b.candidates.as_slice()).unwrap_or_default();
        let feeders: BTreeSet<BreakerId> = opened
            .iter()
            .chain(&mates)
            .flat_map(may)
            .filter(|c| c.p >= MAY_FEED)
            .map(|c| c.at.breaker)
            .filter(|b| !dead.contains(b))
            .collect();
        let elsewhere: Vec<&Breaker> = feeders.iter().filter_map(|b| house.breakers.get(*b)).collect();
        let before = |steps: &[JobStep], key: &str| steps.iter().position(|s| s.key == key).unwrap_or(steps.len());
        if !elsewhere.is_empty() {
            let names: Vec<String> = elsewhere.iter().map(|b| house.breaker_name(b)).collect();
            let on: BTreeSet<BreakerId> = elsewhere.iter().filter(|b| !b.is_off()).map(|b| b.id).collect();
            let switches = (!on.is_empty()).then_some(Switching { on: false, panel: None, breakers: on });
            let step = JobStep {
                why: "Their wires may be in a box that is opened.".into(),
                switches,
                ..step(Stage::Dead, "boxes-off", format!("{} off as well, locked or tagged", names.join(", ")))
            };
            let at = before(&self.steps, "source-before");
            self.steps.insert(at, step);
        }
        for point in opened {
            let place = MeasuredAt::Point { point: point.id };
            let in_it: Vec<&str> = mates
                .iter()
                .filter(|m| point.shared_box.is_some() && m.shared_box == point.shared_box)
                .map(|m| m.tag.as_str())
                .collect();
            let with = if in_it.is_empty() { String::new() } else { format!(" (with {})", in_it.join(", ")) };
            let step = JobStep {
                tool: "meter".into(),
                why: "Something else may feed a wire that only passes there.".into(),
                place: Some(place),
                hold: Some(self.gone(place, "each conductor in the box and neutral, each and ground, each and each")),
                ..step(
                    Stage::Dead,
                    format!("dead-box-{}", point.id.0),
                    format!(
                        "Open the box of {}{with} without touching a wire: the largest of what the meter reads there",
                        self.basis.named(point.id)
                    ),
                )
            };
            let at = before(&self.steps, "source-after");
            self.steps.insert(at, step);
        }
    }

    /// Breakers that give nothing while the work goes on: all of the panel, or those that are off for work in a box; and all behind
    /// them.
    fn off_for_it(&self) -> BTreeSet<BreakerId> {
        let through = self.basis.house.fed_through();
        let panel = self.basis.house.breakers_of(self.panel.id).into_iter().map(|b| b.id).collect();
        let own: Vec<BreakerId> = self.off.clone().unwrap_or(panel);
        own.into_iter().flat_map(|b| through.get(&b).into_iter().flatten().copied().chain([b])).collect()
    }

    /// What switches the panel as a whole, in words and as what it switches.
    fn whole(&self, on: bool) -> (String, Switching) {
        let name = &self.panel.name;
        let word = if on { "on" } else { "off" };
        let mut switches = Switching { on, panel: Some(self.panel.id), breakers: BTreeSet::new() };
        let what = match self.upstream() {
            Upstream::Main | Upstream::NotKnown => format!("Switch the main of {name} {word}"),
            Upstream::Disconnect(place) => format!("Switch {name} {word} at its disconnect: {place}"),
            Upstream::Feeder(feeder) => {
                switches.breakers.insert(feeder.id);
                format!("Switch {name} {word} at breaker {}, which feeds it", self.basis.house.breaker_name(feeder))
            }
        };
        (what, switches)
    }

    fn source(&mut self, key: &str, what: &str) {
        let why = match self.upstream() {
            Upstream::Feeder(feeder) => {
                let panel = self.basis.house.panels.get(feeder.panel).map_or("", |p| p.name.as_str());
                format!("A receptacle that panel {panel} feeds is live still, or a proving unit.")
            }
            _ => "With the main off the house has no live source left: a proving unit, a battery inverter, or a receptacle that is \
                  fed from elsewhere."
                .into(),
        };
        let hold = held(HoldKind::Source, None, "the source's two sides", SOURCE, None);
        self.put(JobStep { why, tool: "meter".into(), hold: Some(hold), ..step(Stage::Dead, key, what) });
    }

    fn gone(&self, place: MeasuredAt, between: &str) -> Hold {
        held(HoldKind::Dead, Some(place), between, (0.0, DEAD), Some(0.0))
    }

    /// What terminals ask for, as far as it is entered; none is invented. [pub: NEC 110.14(D); prac: both schools, handbook 1.3]
    fn torques(&self, touched: &[BreakerId]) -> (String, String) {
        let mut known: BTreeMap<String, Vec<String>> = BTreeMap::new();
        let mut open: Vec<String> = Vec::new();
        for breaker in touched.iter().filter_map(|b| self.after.breakers.get(*b)) {
            let at = self.after.breaker_name(breaker);
            match breaker.terminal.and_then(|terminal| terminal.torque) {
                Some(torque) => known.entry(torque.said()).or_default().push(at),
                None => open.push(at),
            }
        }
        let said = known.into_iter().map(|(torque, at)| format!("{}: {torque}", at.join(", ")));
        let labels = (!open.is_empty()).then(|| format!("{}: what its label says, not entered yet", open.join(", ")));
        let each = said.chain(labels).collect::<Vec<_>>().join("; ");
        (
            format!("Every terminal that was touched is tight, to the torque on its label. {each}."),
            "Two schools: label and code ask for a torque tool (NEC 110.14(D)), many make do with snug by hand. Here: the tool, since too \
             loose burns and too tight cuts the wire. No value on the label: the maker's sheet has it, nobody guesses."
                .to_owned(),
        )
    }

    /// Before the power comes back.
    pub(super) fn close(&mut self, touched: &[BreakerId]) {
        let say = |key: &str, what: &str, why: &str| JobStep { why: why.into(), ..step(Stage::Close, key, what) };
        let (asked, schools) = self.torques(touched);
        self.put(JobStep {
            tool: "torque tool".into(),
            note: "torque applied, in in-lb or N·m; or: by hand".into(),
            ..say("torque", &asked, &schools)
        });
        self.put(say(
            "tug",
            "Tug at every wire; no insulation under a screw, no bare copper outside, nothing left in the cabinet.",
            "Common practice.",
        ));
        if self.steps.iter().any(|s| s.key.starts_with("dead-box-")) {
            self.put(say(
                "boxes-closed",
                "Every box that was opened is closed: its device or a blank plate on, no wire bare.",
                "Common practice.",
            ));
        }
        self.put(say("closers", "Every opening that no breaker fills has its closer.", "NEC 408.7, 110.12(A)."));
        let own: BTreeSet<BreakerId> = self.after.breakers_of(self.panel.id).into_iter().map(|b| b.id).collect();
        let held = own.into_iter().filter(|b| self.basis.house.breakers.get(*b).is_some()).collect();
        self.put(JobStep {
            switches: Some(Switching { on: false, panel: None, breakers: held }),
            ..say(
                "branches-off",
                "All breakers of the panel off, new ones too (fresh ones may come tripped).",
                "Then the bus comes back without load.",
            )
        });
    }

    /// Power comes back: the whole first, then one breaker after the other, those of the work last.
    pub(super) fn back_on(&mut self, touched: &[BreakerId]) {
        let (on, switches) = self.whole(true);
        self.put(JobStep { switches: Some(switches), ..step(Stage::BackOn, "on", on) });
        let were_on: Vec<&Breaker> = self
            .after
            .breakers_of(self.panel.id)
            .into_iter()
            .filter(|b| !touched.contains(&b.id) && self.basis.house.breakers.get(b.id).is_some_and(|b| !b.is_off()))
            .collect();
        let elsewhere = self.steps.iter().find(|s| s.key == "boxes-off").and_then(|s| s.switches.clone());
        if let Some(switches) = elsewhere {
            let names = switches.breakers.iter().filter_map(|b| self.basis.house.breakers.get(*b));
            let names: Vec<String> = names.map(|b| self.basis.house.breaker_name(b)).collect();
            let switches = Switching { on: true, ..switches };
            self.put(JobStep {
                why: "Their boxes are closed.".into(),
                switches: Some(switches),
                ..step(Stage::BackOn, "boxes-on", format!("One by one on: {}", names.join(", ")))
            });
        }
        if !were_on.is_empty() {
            let breakers = were_on.iter().map(|b| b.id).collect();
            let all: Vec<String> = were_on.iter().map(|b| b.at_text()).collect();
            self.put(JobStep {
                why: "One that trips stays off: is it reset? is dead?".into(),
                switches: Some(Switching { on: true, panel: None, breakers }),
                ..step(Stage::BackOn, "others-on", format!("One by one on: {}", all.join(", ")))
            });
        }
    }

    /// A breaker of the work comes on, and what it feeds has its voltage. It is measured with the cover on where that can be.
    pub(super) fn verify(&mut self, breaker: &Breaker, legs: usize) {
        let switches = Switching { on: true, panel: None, breakers: [breaker.id].into() };
        let name = self.after.breaker_name(breaker);
        self.put(JobStep {
            why: "It trips at once: leave it off. It is the wiring, not the breaker.".into(),
            place: Some(at(breaker)),
            switches: Some(switches),
            ..step(Stage::Verify, format!("on-{}", breaker.id.0), format!("Switch {name} on"))
        });
        match self.outlet(breaker, legs) {
            Some(point) => self.volts_at_point(&format!("volts-{}", breaker.id.0), breaker, point, legs),
            None => self.volts_at_terminal(breaker, legs),
        }
    }

    /// Somewhere on a circuit where its voltage can be measured with the cover on.
    fn outlet(&self, breaker: &Breaker, legs: usize) -> Option<&'a Point> {
        let proven = self.basis.fed(breaker.id).filter(|fed| fed.proven).map(|fed| fed.point);
        let new = self.goal.new_circuits().filter(|new| new.breaker == breaker.id).map(|new| new.point.id);
        let points = proven.chain(new).filter_map(|point| self.after.points.get(point));
        // Of three phases each leg is read at its terminal.
        if breaker.at.len() > 2 {
            return None;
        }
        let leg_to_leg = |p: &&Point| p.volts.is_some_and(|v| v.is_leg_to_leg()) == (legs > 1);
        points.filter(|p| p.kind == PointKind::Receptacle).find(leg_to_leg)
    }

    /// The panel that a breaker stands in then.
    fn panel_of(&self, breaker: &Breaker) -> &'a Panel {
        self.after.panels.get(breaker.panel).unwrap_or(self.panel)
    }

    /// What hung on a breaker that was given up has its voltage from the one that stays.
    pub(super) fn verify_joined(&mut self, keep: &Breaker, gone: &Breaker) {
        match self.outlet(gone, 1) {
            Some(point) => self.volts_at_point(&format!("volts-{}", gone.id.0), keep, point, 1),
            None => {
                let what = format!(
                    "What hung on {} works again: switch on a light or a thing of it.",
                    self.basis.called(gone)
                );
                let why = "Its hot is spliced in now.".into();
                let place = Some(at(keep));
                self.put(JobStep { why, place, ..step(Stage::Verify, format!("works-{}", gone.id.0), what) });
            }
        }
    }

    /// At an outlet: hot and neutral, or each hot and ground, and hot and hot.
    fn volts_at_point(&mut self, key: &str, breaker: &Breaker, point: &Point, legs: usize) {
        let end = self.expects.at_the_end(breaker.id);
        let to_neutral = end.as_ref().and_then(|(neutral, ..)| neutral.first().copied());
        let to_ground = |nth: usize| end.as_ref().and_then(|(_, ground, _)| ground.get(nth).copied());
        let panel = self.panel_of(breaker);
        let legs_of: Vec<Conductor> = breaker.at.iter().map(|p| Conductor::of(panel.leg(*p))).collect();
        let reads = match legs_of.as_slice() {
            [a, b, ..] if legs > 1 => vec![
                ("-1", "one hot and ground", Some([*a, Conductor::G]), 120, to_ground(0)),
                ("-2", "the other hot and ground", Some([*b, Conductor::G]), 120, to_ground(1)),
                ("", "hot and hot", None, panel.supply.across(), self.expects.across_the_end(breaker.id)),
            ],
            _ => vec![("", "hot and neutral", None, 120, to_neutral)],
        };
        let place = MeasuredAt::Point { point: point.id };
        let called = self.after.called(point);
        for (suffix, between, conductors, nominal, likely) in reads {
            let (from, to) = expected(nominal);
            let band = (from.0, to.0);
            let hold = Hold { conductors, ..held(HoldKind::Live, Some(place), between, band, likely.map(|v| v.0)) };
            self.put(JobStep {
                tool: "meter".into(),
                place: Some(place),
                hold: Some(hold),
                ..step(Stage::Verify, format!("{key}{suffix}"), format!("Volts at {} {called}, {between}", point.tag))
            });
        }
    }

    fn volts_at_terminal(&mut self, breaker: &Breaker, legs: usize) {
        let of = Conductor::of;
        let panel = self.panel_of(breaker);
        let legs_of: Vec<Leg> = breaker.at.iter().map(|p| panel.leg(*p)).collect();
        let mut read =
            |key: String, pole: Option<u8>, between: [Conductor; 2], words: String, band: (f64, f64), bars| {
                let expect = self.expects.volts(panel.id, bars).map(|v| v.0);
                let place = MeasuredAt::Breaker { breaker: breaker.id, pole, side: Side::Load };
                let hold =
                    Hold { conductors: Some(between), ..held(HoldKind::Live, Some(place), &words, band, expect) };
                let what = format!("Volts at the terminal of {}, {words}", self.after.breaker_name(breaker));
                self.steps.push(JobStep {
                    tool: "meter".into(),
                    place: Some(place),
                    hold: Some(hold),
                    ..step(Stage::Verify, key, what)
                });
            };
        for (nth, leg) in legs_of.iter().enumerate() {
            let pole = (breaker.at.len() > 1).then(|| u8::try_from(nth + 1).unwrap_or(u8::MAX));
            let words = if breaker.at.len() > 1 {
                format!("pole {} and neutral", breaker.at[nth])
            } else {
                "hot and neutral".into()
            };
            let key = format!("volts-{}-{}", breaker.id.0, nth + 1);
            read(key, pole, [of(*leg), Conductor::N], words, RANGE_A, [Bar::Leg(*leg), Bar::Neutral]);
        }
        let band = of_nominal(RANGE_A, panel.supply.across());
        let pairs: &[(usize, usize, &str)] = match legs_of.len() {
            2 if legs > 1 => &[(0, 1, "across")],
            3 => &[(0, 1, "across-1"), (1, 2, "across-2"), (0, 2, "across-3")],
            _ => &[],
        };
        for (one, other, key) in pairs {
            let (a, b) = (legs_of[*one], legs_of[*other]);
            let words = match pairs.len() {
                1 => "pole and pole".into(),
                _ => format!("pole {} and pole {}", breaker.at[*one], breaker.at[*other]),
            };
            let bars = [Bar::Leg(a), Bar::Leg(b)];
            read(format!("volts-{}-{key}", breaker.id.0), None, [of(a), of(b)], words, band, bars);
        }
    }

    /// It is watched for a while under what usually runs. [prac: handbook 5.1]
    pub(super) fn watch(&mut self) {
        self.put(JobStep {
            why: "What was not tight gets warm within minutes. Warm, humming, dimming or tripping: off at the main, and look again.".into(),
            ..step(
                Stage::Verify,
                WATCH,
                "What usually runs on it switched on, watch it for a quarter of an hour: nothing trips, hums, dims or gets warm to the back of \
                 the hand at the cover.",
            )
        });
    }

    /// Card, plates, tags.
    pub(super) fn record(&mut self) {
        let say = |key: &str, what: &str| step(Stage::Record, key, what);
        self.put(say("card", "Print the card anew, and put it into the door: its changed lines are marked."));
        self.put(say("plates", "Write the number on cover plates, and on the tags of the wires that moved."));
    }

    /// The cover goes on before the power comes back, unless terminals are to be read then: it waits for these, and a step
    /// says for whom that is.
    fn cover(&mut self) {
        let on = JobStep {
            why: "Your shield again.".into(),
            ..step(
                Stage::Close,
                "cover-on",
                "Cover on, without pushing a breaker off; the longest wires folded, not pinched.",
            )
        };
        // In a box, and in a room, the panel stays closed.
        if !self.steps.iter().any(|step| step.key == "cover") {
            return;
        }
        let at_terminal = |s: &JobStep| {
            s.stage == Stage::Verify
                && s.hold.as_ref().is_some_and(|hold| matches!(hold.place, Some(MeasuredAt::Breaker { .. })))
        };
        let closed = self.steps.iter().position(|s| s.key == "branches-off").unwrap_or(self.steps.len());
        let Some(last) = self.steps.iter().rposition(at_terminal) else { return self.steps.insert(closed, on) };
        self.steps.insert(last + 1, JobStep { stage: Stage::Verify, ..on });
        let waits = JobStep {
            why: "No outlet of the circuit is known where it could be read with the cover on. Whoever is not qualified has it done \
                  by somebody who is: cover on, and stop here."
                .into(),
            ..step(
                Stage::Close,
                "cover-waits",
                "The cover waits: terminals are read with the power on. From here on qualified people only, gloves and eye \
                 protection on, nobody else within reach.",
            )
        };
        self.steps.insert(closed, waits);
    }

    /// Puts the steps into a plan.
    pub(super) fn into_plan(mut self, plan: &mut Plan) {
        self.cover();
        plan.stays_live = vec![match self.upstream() {
            Upstream::Feeder(feeder) => {
                let above = self.basis.house.panels.get(feeder.panel).map_or("", |p| p.name.as_str());
                format!("The feeder's breaker and everything else in panel {above}.")
            }
            _ => format!(
                "The line side of {}: the lugs before its main and everything back to the meter. Only the utility can kill them; \
                 their cover stays on.",
                self.panel.name
            ),
        }];
        if self.panel.feed_through {
            plan.stays_live.push("Feed-through lugs: what hangs there may be fed from elsewhere too.".into());
        }
        plan.minutes = self.steps.iter().map(minutes).sum();
        plan.minutes_first = FIRST_TIME * plan.minutes;
        plan.steps = self.steps;
    }
}

/// Whoever does it for the first time takes about so many times as long. [prac]
const FIRST_TIME: u32 = 2;

/// The key of the step in which hands just wait and watch.
pub(super) const WATCH: &str = "watch";

/// [prac] About how long a step takes.
pub(super) fn minutes(step: &JobStep) -> u32 {
    match (step.stage, step.hold.is_some()) {
        _ if step.key == WATCH => 15,
        (Stage::Before, _) => 3,
        (_, true) | (Stage::BackOn | Stage::Verify, _) => 2,
        (Stage::Dead | Stage::Close, _) => 4,
        (Stage::Work, _) => 8,
        (Stage::Record, _) => 5,
    }
}

fn held(kind: HoldKind, place: Option<MeasuredAt>, between: &str, (from, to): (f64, f64), likely: Option<f64>) -> Hold {
    let (quantity, expect) = (HeldQuantity::Volts, ReadBand { from, to });
    Hold { kind, quantity, between: between.to_owned(), expect, likely, place, conductors: None }
}
