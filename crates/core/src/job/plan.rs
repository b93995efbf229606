//! What a plan consists of, and what it is made from.

use std::borrow::Cow;
use std::collections::BTreeSet;

use serde::Serialize;
use utoipa::ToSchema;

use super::arrange::bodies;
use super::obstacles::{DOES_NOT_FIT, Obstacle};
use crate::base::units::{Amps, Feet};
use crate::base::{Invalid, Source, said};
use crate::code::canada;
use crate::code::sizes::{CABLE_TO_SPARE, FREE_ENDS, STAPLES};
use crate::edit::Edit;
use crate::house::{Breaker, BreakerId, Circuit, Device, Goal, House, JobStep, Panel, PanelId, Part, Point, PointId};
use crate::load::Loaded;
use crate::load::circuits::CircuitLoad;
use crate::rules::{self, Entry, Facts, Hit, Who};
use crate::trace::{Beliefs, BreakerBelief, Fed};
use crate::words::short::lower;

/// What plans are made from: a house, what is believed of it, and what its circuits carry.
#[derive(Debug)]
pub struct Basis<'a> {
    /// The house.
    pub house: &'a House,
    /// What feeds what.
    pub beliefs: &'a Beliefs,
    /// What draws.
    pub loaded: &'a Loaded<'a>,
}

impl<'a> Basis<'a> {
    /// Of a house.
    #[must_use]
    pub fn new(house: &'a House, beliefs: &'a Beliefs, loaded: &'a Loaded<'a>) -> Self {
        Self { house, beliefs, loaded }
    }

    /// What a breaker carries at the usual peak, each.
    #[must_use]
    pub fn usual(&self) -> std::collections::BTreeMap<BreakerId, Amps> {
        self.loaded.circuits().iter().map(|c| (c.breaker, c.usual)).collect()
    }

    /// What a breaker carries.
    #[must_use]
    pub fn carries(&self, breaker: BreakerId) -> Option<&CircuitLoad> {
        self.loaded.circuits().iter().find(|c| c.breaker == breaker)
    }

    /// What is believed of a breaker.
    #[must_use]
    pub fn believed(&self, breaker: BreakerId) -> Option<&'a BreakerBelief> {
        self.beliefs.breakers.iter().find(|b| b.at.breaker == breaker)
    }

    /// What surely or probably hangs on a breaker itself.
    pub fn fed(&self, breaker: BreakerId) -> impl Iterator<Item = &'a Fed> + use<'a> {
        let believed = self.beliefs.breakers.iter().find(|b| b.at.breaker == breaker);
        believed.into_iter().flat_map(|b| &b.feeds).filter(|fed| !fed.through && (fed.proven || fed.likely))
    }

    /// The same as points.
    pub fn points(&self, breaker: BreakerId) -> impl Iterator<Item = &'a Point> + use<'a> {
        let house = self.house;
        self.fed(breaker).filter_map(move |fed| house.points.get(fed.point))
    }

    /// It is proven what hangs on a breaker: nothing else may.
    #[must_use]
    pub fn is_traced(&self, breaker: BreakerId) -> bool {
        self.believed(breaker).is_some_and(|b| b.complete) && self.fed(breaker).all(|fed| fed.proven)
    }

    /// What is not ruled out on a breaker beside what is proven there.
    #[must_use]
    pub fn open(&self, breaker: BreakerId) -> usize {
        let Some(believed) = self.believed(breaker) else { return 0 };
        believed.others + believed.feeds.iter().filter(|fed| !fed.proven && !fed.through).count()
    }

    /// A point as people name it, with its tag.
    #[must_use]
    pub fn named(&self, point: PointId) -> String {
        let point = self.house.points.get(point);
        point.map_or_else(String::new, |p| format!("{} {}", p.tag, self.house.called(p)).trim().to_owned())
    }

    /// A breaker by its place and what hangs on it.
    #[must_use]
    pub fn called(&self, breaker: &Breaker) -> String {
        let of = self.carries(breaker.id).map_or("", |c| c.name.as_str());
        let at = self.house.breaker_name(breaker);
        if of.is_empty() { at } else { format!("{at} ({of})") }
    }
}

/// Something that is not planned, with what would be possible instead.
#[derive(Debug, Clone, PartialEq, Eq, Serialize, ToSchema)]
pub struct Refusal {
    /// A short name of the rule.
    pub rule: &'static str,
    /// Why not.
    pub why: String,
    /// Where the rule stands; local code decides.
    #[schema(value_type = String)]
    pub source: Source,
    /// What would be possible instead.
    pub instead: String,
    /// The kind of job that this would be, where it is one.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub job: Option<&'static str>,
}

impl Refusal {
    pub(super) fn new(obstacle: impl Into<Obstacle>, why: impl Into<String>) -> Self {
        let Obstacle { id, source, instead, job } = obstacle.into();
        Self { rule: id, why: why.into(), source, instead: instead.to_owned(), job }
    }
}

/// Something that has to be known first.
#[derive(Debug, Clone, PartialEq, Eq, Serialize, ToSchema)]
pub struct Question {
    /// The field of the goal, or what is to be entered.
    pub field: &'static str,
    /// The question.
    pub question: String,
}

/// How dear a way is, beside what moves.
#[derive(Debug, Clone, Copy, PartialEq, Eq, PartialOrd, Ord, Serialize, ToSchema)]
#[serde(rename_all = "kebab-case")]
pub enum CostClass {
    /// Nothing to buy.
    Nothing,
    /// A connector and a piece of wire.
    Small,
    /// A breaker.
    Breaker,
    /// A breaker, cable and an outlet.
    Large,
}

said!(CostClass {
    Nothing => "nothing",
    Small => "a connector",
    Breaker => "a breaker",
    Large => "a breaker, cable and an outlet",
});

/// One of several ways.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
pub struct WayTo {
    /// Of several jobs in one plan the one that it is a way of.
    #[serde(skip_serializing_if = "String::is_empty")]
    #[schema(required = false)]
    pub of: String,
    /// In a few words.
    pub title: String,
    /// What speaks for it and against it.
    pub why: String,
    /// It is the one that is planned here.
    pub chosen: bool,
    /// The goal that chooses it.
    pub goal: Goal,
    /// Bodies that move.
    pub bodies: u32,
    /// Wires that are landed anew.
    pub wires: u32,
    /// About how many minutes these take somebody practised.
    pub minutes: u32,
    /// What is to be bought.
    pub cost: CostClass,
    /// What it consists of: each may be left out, and another way is found then.
    #[serde(skip_serializing_if = "Vec::is_empty")]
    #[schema(required = false)]
    pub parts: Vec<WayPart>,
}

/// About how long bodies and wires take, to set ways side by side: a body is tagged, shown dead, taken out and put in, and read at the
/// end; a wire is landed. What a whole plan takes is summed from its steps. (common practice)
pub(super) fn minutes_of(bodies: u32, wires: u32) -> u32 {
    const A_BODY: u32 = 10;
    const A_WIRE: u32 = 4;
    A_BODY * bodies + A_WIRE * wires
}

/// Something that a way does.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
pub struct WayPart {
    /// In a few words.
    pub said: String,
    /// The breaker that is left as it is without it.
    pub breaker: BreakerId,
}

/// Who may do it.
#[derive(Debug, Clone, PartialEq, Eq, Serialize, ToSchema)]
pub struct WhoMay {
    /// A licensed electrician is due.
    pub licensed: bool,
    /// In words.
    pub said: String,
}

/// A plan.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
pub struct Plan {
    /// In a few words.
    pub title: String,
    /// The panel where the work is.
    pub panel: PanelId,
    /// The goal with every choice made.
    pub goal: Goal,
    /// What has to be known first: without it there are no steps.
    pub asks: Vec<Question>,
    /// What stands against it: with any of these there are no steps.
    pub refused: Vec<Refusal>,
    /// What to mind.
    pub cautions: Vec<String>,
    /// Ways to do it, where there are several.
    pub ways: Vec<WayTo>,
    /// What to do, in this order.
    pub steps: Vec<JobStep>,
    /// What to have at hand,
    pub parts: Vec<Part>,
    /// and with which tools, in the order in which steps take them up.
    pub tools: Vec<String>,
    /// Who may do it.
    pub who: WhoMay,
    /// The permit.
    pub permit: &'static str,
    /// The panel stays closed for it: no other job goes into the same shutdown.
    pub panel_closed: bool,
    /// What several jobs in one shutdown spare against one after the other; empty for one.
    #[serde(skip_serializing_if = "String::is_empty")]
    #[schema(required = false)]
    pub spared: String,
    /// About how long it takes whoever does such work often,
    pub minutes: u32,
    /// and whoever does it for the first time.
    pub minutes_first: u32,
    /// What stays live all the while.
    pub stays_live: Vec<String>,
    /// What changes, in words.
    pub changes: Vec<String>,
    /// What changes, thing by thing; or would, where nothing but a rule stands against it.
    #[schema(value_type = Vec<Object>)]
    pub after: Vec<Edit>,
    /// What usually goes wrong, and the way on.
    pub mishaps: Vec<Mishap>,
    /// Breakers whose wires or bodies are touched.
    pub touches: Vec<BreakerId>,
}

/// Something that goes wrong at times, and the way on.
#[derive(Debug, Clone, PartialEq, Eq, Serialize, ToSchema)]
pub struct Mishap {
    /// What.
    pub what: &'static str,
    /// The way on.
    pub then: Cow<'static, str>,
}

/// [prac] Local law decides.
const PERMIT: &str = "Most places ask for a permit for this. Ask the local authority before you begin; what it says goes before all here.";

impl Plan {
    /// A plan of which nothing is said yet.
    #[must_use]
    pub(super) fn new(title: impl Into<String>, panel: PanelId, goal: Goal) -> Self {
        Self {
            title: title.into(),
            panel,
            goal,
            asks: Vec::new(),
            refused: Vec::new(),
            cautions: Vec::new(),
            ways: Vec::new(),
            steps: Vec::new(),
            parts: Vec::new(),
            tools: Vec::new(),
            who: WhoMay { licensed: false, said: String::new() },
            permit: PERMIT,
            panel_closed: false,
            spared: String::new(),
            minutes: 0,
            minutes_first: 0,
            stays_live: Vec::new(),
            changes: Vec::new(),
            after: Vec::new(),
            mishaps: Vec::new(),
            touches: Vec::new(),
        }
    }

    pub(super) fn refuse(&mut self, obstacle: impl Into<Obstacle>, why: impl Into<String>) {
        self.refused.push(Refusal::new(obstacle, why));
    }

    /// With something else that would be possible instead, as it is here.
    pub(super) fn refuse_for(
        &mut self,
        obstacle: impl Into<Obstacle>,
        why: impl Into<String>,
        instead: impl Into<String>,
    ) {
        self.refused.push(Refusal { instead: instead.into(), ..Refusal::new(obstacle, why) });
    }

    /// The house after could not be.
    pub(super) fn unfit(&mut self, fault: Invalid) {
        self.refuse(DOES_NOT_FIT, fault.message);
    }

    pub(super) fn ask(&mut self, field: &'static str, question: impl Into<String>) {
        self.asks.push(Question { field, question: question.into() });
    }

    pub(super) fn part(&mut self, count: usize, what: impl Into<String>) {
        let count = u32::try_from(count).unwrap_or(u32::MAX);
        self.have(Part { count, unit: String::new(), what: what.into(), note: String::new() });
    }

    /// Cable by its length one way: a tenth to spare, and what stays free at both ends. Nobody buys what is not measured.
    pub(super) fn cable(&mut self, what: impl Into<String>, length: Option<Feet>) {
        let feet = length.map(|length| (CABLE_TO_SPARE * length.0 + FREE_ENDS).ceil());
        let note = match feet {
            Some(_) => format!("a tenth to spare, and {FREE_ENDS:.0} ft free at the two ends"),
            None => "measure the way first; a tenth to spare".to_owned(),
        };
        self.have(Part { count: feet.map_or(0, |feet| feet as u32), unit: "ft".into(), what: what.into(), note });
        let staples = feet.map_or(0, |feet| (feet / STAPLES).ceil() as u32 + 2);
        let note =
            if feet.is_some() { String::new() } else { "every 4½ ft, and within a foot of each end".to_owned() };
        self.have(Part { count: staples, unit: String::new(), what: "staple for the cable".into(), note });
    }

    fn have(&mut self, part: Part) {
        part.add_to(&mut self.parts);
    }

    /// What another plan has at hand.
    pub(super) fn have_all(&mut self, parts: &[Part]) {
        parts.iter().for_each(|part| self.have(part.clone()));
    }

    /// Rules by where the Canadian code has them.
    pub(super) fn speak_of_canada(&mut self) {
        for no in &mut self.refused {
            no.source = canada::source(no.source);
            [&mut no.why, &mut no.instead].into_iter().for_each(|said| *said = canada::text(said));
        }
        let cautions = self.cautions.iter_mut();
        let parts = self.parts.iter_mut().flat_map(|part| [&mut part.what, &mut part.note]);
        let steps = self.steps.iter_mut().flat_map(|step| [&mut step.what, &mut step.why]);
        let ways = self.ways.iter_mut().map(|way| &mut way.why);
        cautions.chain(parts).chain(steps).chain(ways).for_each(|said| *said = canada::text(said));
    }

    /// The house as it becomes.
    ///
    /// # Errors
    /// Where the house is not the one that was planned from.
    pub fn becomes(&self, house: &House) -> Result<House, Invalid> {
        self.after.iter().try_fold(house.clone(), |mut house, edit| {
            edit.expect_before(&house)?;
            edit.make(&mut house);
            Ok(house)
        })
    }

    /// True where nothing stands in its way.
    #[must_use]
    pub fn is_open(&self) -> bool {
        self.asks.is_empty() && self.refused.is_empty()
    }

    /// Says who may do it, by what is touched. [prac: handbook 5.1.1]
    pub(super) fn who_may(&mut self, basis: &Basis<'_>, always: Option<&str>) {
        let house = basis.house;
        let mut reasons: Vec<String> = always.map(str::to_owned).into_iter().collect();
        let wires = |b: &BreakerId| house.circuits_of(*b);
        if self.touches.iter().flat_map(wires).any(is_thin_aluminium) {
            reasons.push("aluminium branch wiring".into());
        }
        if self.touches.iter().filter_map(|b| house.breakers.get(*b)).any(|b| b.device == Device::Fuse) {
            reasons.push("a fuse panel".into());
        }
        let panels: BTreeSet<PanelId> =
            self.touches.iter().filter_map(|b| house.breakers.get(*b)).map(|b| b.panel).collect();
        let seen =
            |hit: &Hit| hit.rule.entry == Entry::Seen && hit.rule.who == Who::Licensed && panels.contains(&hit.panel);
        reasons.extend(
            rules::hits(&Facts::entered(house)).iter().filter(|hit| seen(hit)).map(|hit| lower(hit.rule.title)),
        );
        self.who = WhoMay {
            licensed: !reasons.is_empty(),
            said: if reasons.is_empty() {
                "You, where the law lets a homeowner work in an own single-family house, with a permit; otherwise, and where you \
                 are not sure, or find rust, water or burn marks: a licensed electrician."
                    .into()
            } else {
                format!("A licensed electrician: {}.", reasons.join(", "))
            },
        };
    }
}

/// Aluminium of a branch circuit of 15 or 20 A.
fn is_thin_aluminium(circuit: &Circuit) -> bool {
    use crate::base::units::Metal;
    circuit.metal == Metal::Aluminium && circuit.wire.is_some_and(|wire| wire.number() >= 10)
}

/// Of which types a panel's breakers are. [pub: NEC 110.3(B), value from memory]
pub(super) fn of_a_listed_type(panel: &Panel) -> String {
    match panel.listed.as_slice() {
        [] => "of a type that the panel's label lists, with the hook and the clip of those that stand there".to_owned(),
        listed => format!("of a listed type: {}", listed.join(", ")),
    }
}

/// How the neutral of a protected breaker goes to its bar. [prac: handbook 5.8]
pub(super) fn neutral_of_a_protected(panel: &Panel) -> &'static str {
    match panel.plug_on_neutral {
        Some(true) => "plug-on neutral",
        Some(false) => "with a pigtail for the neutral bar",
        None => "with a pigtail; plug-on where the panel's neutral bar takes it",
    }
}

/// `1 pole`, `2 poles`.
pub(super) fn counted_poles(n: usize) -> String {
    if n == 1 { "1 pole".into() } else { format!("{n} poles") }
}

/// True where a breaker's circuit shares its neutral with another one.
#[must_use]
pub(super) fn shares_neutral(house: &House, breaker: BreakerId) -> bool {
    house.circuits_of(breaker).into_iter().any(|circuit| !house.sharing_neutral(circuit).is_empty())
}

/// The breakers of a panel that are touched, as they stand.
#[must_use]
pub(super) fn standing<'a>(house: &'a House, touches: &[BreakerId]) -> Vec<&'a Breaker> {
    touches.iter().filter_map(|b| house.breakers.get(*b)).collect()
}

/// What is one body with breakers that are touched: a body comes out whole. [prac: handbook 5.1]
#[must_use]
pub(super) fn body_mates(house: &House, panel: PanelId, touches: &[BreakerId]) -> Vec<BreakerId> {
    let touched = |b: &&Breaker| touches.contains(&b.id);
    let bodies = bodies(house.breakers_of(panel));
    let opened = bodies.iter().filter(|body| body.iter().any(touched));
    opened.flatten().filter(|b| !touched(b)).map(|b| b.id).collect()
}

/// What feeds a panel, and so what switches it off.
#[derive(Debug, Clone, PartialEq)]
pub(super) enum Upstream<'a> {
    /// Its own main breaker.
    Main,
    /// A breaker of another panel.
    Feeder(&'a Breaker),
    /// A disconnect, by where it is.
    Disconnect(&'a str),
    /// Nobody knows.
    NotKnown,
}

impl<'a> Upstream<'a> {
    pub(super) fn of(house: &'a House, panel: &'a Panel) -> Self {
        match panel.fed_by.and_then(|b| house.breakers.get(b)) {
            Some(feeder) => Self::Feeder(feeder),
            None if panel.main.is_some() => Self::Main,
            None if panel.disconnect.trim().is_empty() => Self::NotKnown,
            None => Self::Disconnect(panel.disconnect.trim()),
        }
    }
}
