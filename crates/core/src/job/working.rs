//! A job being worked out, once: what it asks, what stands against it, what hands do for it, and what each act makes true.

use super::made;
use super::plan::{Basis, Plan, Question, Refusal};
use crate::base::position::format_poles;
use crate::base::{Invalid, Said};
use crate::edit::{Applied, Draft, Edit, in_all};
use crate::house::{
    Breaker, BreakerId, Goal, House, JobStep, Joining, MeasuredAt, Moving, PanelId, PointId, Side, Stage,
};
use crate::trace;

/// What a kind of job writes into.
pub(super) struct Working<'a> {
    pub basis: &'a Basis<'a>,
    /// The house as it stands.
    pub house: &'a House,
    /// What is asked and refused, ways, parts, what is touched.
    pub plan: Plan,
    draft: Draft,
    pub(super) acts: Vec<JobStep>,
    pub(super) looks: Vec<JobStep>,
    /// Circuits that come onto another breaker.
    pub(super) joined: Vec<Joining>,
    /// Why it is no work for a homeowner at all.
    pub(super) licensed: Option<&'static str>,
    /// The panel itself goes: what feeds it is proven dead too.
    pub(super) panel_goes: bool,
    /// No body comes out.
    pub(super) stays_in: bool,
    /// What is off after stays off.
    pub(super) stays_off: bool,
    /// Where hands are.
    pub(super) hands: HandsIn,
}

/// Where hands are.
pub(super) enum HandsIn {
    /// In the panel.
    Panel,
    /// In a box, with these breakers off for it.
    Box(BoxWork),
    /// At plugs alone: nothing is off, and nothing is opened.
    Room,
}

/// Work in a box: its panel stays closed.
pub(super) struct BoxWork {
    /// The point whose box it is.
    pub point: PointId,
    /// Breakers that are off for it.
    pub off: Vec<BreakerId>,
    /// What stays live, in words.
    pub stays_live: Vec<String>,
}

impl<'a> Working<'a> {
    pub(super) fn new(basis: &'a Basis<'a>, title: impl Into<String>, panel: PanelId, goal: Goal) -> Self {
        let house = basis.house;
        let draft = Draft::new(house, trace::may_feed);
        let plan = Plan::new(title, panel, goal);
        Self {
            basis,
            house,
            plan,
            draft,
            acts: Vec::new(),
            looks: Vec::new(),
            joined: Vec::new(),
            licensed: None,
            panel_goes: false,
            stays_in: false,
            stays_off: false,
            hands: HandsIn::Panel,
        }
    }

    /// The panel is opened for nothing but work in it.
    pub(super) fn panel_closed(&self) -> bool {
        !matches!(self.hands, HandsIn::Panel)
    }

    /// What is off for work in a box.
    pub(super) fn boxed(&self) -> Option<&BoxWork> {
        if let HandsIn::Box(boxed) = &self.hands { Some(boxed) } else { None }
    }

    /// Nothing stands in its way so far: what hands do can be written.
    pub(super) fn is_open(&self) -> bool {
        self.plan.is_open()
    }

    /// Wires or bodies of these breakers are touched.
    pub(super) fn touch(&mut self, breakers: impl IntoIterator<Item = BreakerId>) {
        for breaker in breakers {
            if !self.plan.touches.contains(&breaker) {
                self.plan.touches.push(breaker);
            }
        }
    }

    /// The next act of the work.
    pub(super) fn act(&mut self, what: impl Into<String>, why: impl Into<String>, place: Option<MeasuredAt>) {
        self.acts.push(JobStep { why: why.into(), place, ..step(Stage::Work, "", what) });
    }

    /// With which tool the last act is done.
    pub(super) fn with(&mut self, tool: &str) {
        if let Some(last) = self.acts.last_mut() {
            last.tool = tool.into();
        }
    }

    /// What the last act makes true in the record.
    pub(super) fn makes(&mut self, change: impl FnOnce(&mut Draft) -> Result<(), Invalid>) {
        let from = self.draft.so_far().len();
        match change(&mut self.draft) {
            Err(fault) => self.plan.unfit(fault),
            Ok(()) => {
                let made = in_all(&self.draft.so_far()[from..]).into_iter().filter(is_of_the_house);
                if let Some(last) = self.acts.last_mut() {
                    last.makes.extend(made);
                }
            }
        }
    }

    /// Something that is looked at, beside volts, before the house is as planned.
    pub(super) fn look(&mut self, key: &str, what: impl Into<String>, why: &str, place: Option<MeasuredAt>) {
        self.look_once(JobStep { why: why.into(), place, ..step(Stage::Verify, key, what) });
    }

    /// Steps are named apart by what they look at: the same look twice is one.
    fn look_once(&mut self, look: JobStep) {
        if !self.looks.iter().any(|known| known.key == look.key) {
            self.looks.push(look);
        }
    }

    /// A protected breaker is tried by its button.
    pub(super) fn look_at_the_button(&mut self, breaker: &Breaker) {
        self.look(
            &format!("test-button-{}", breaker.id.0),
            format!("Press the test button of {}: it trips. Firmly off, then on again: it holds.", breaker.at_text()),
            "One that does not trip protects nobody: leave it off, and look at the neutral again.",
            Some(at(breaker)),
        );
    }

    /// Breakers move: all out that move, then each to its new place.
    pub(super) fn moves(&mut self, moves: &[Moving]) {
        self.moving_out(moves);
        self.moving_in(moves);
    }

    /// All that move come out, tagged.
    pub(super) fn moving_out(&mut self, moves: &[Moving]) {
        let (house, basis) = (self.house, self.basis);
        let found = || moves.iter().filter_map(|m| Some((house.breakers.get(m.breaker)?, m)));
        self.touch(moves.iter().map(|m| m.breaker));
        for (breaker, moving) in found() {
            self.act(
                format!(
                    "Tag the wires of {} with where they go: {}. Do they reach? Fold them out to see.",
                    basis.called(breaker),
                    format_poles(&moving.to)
                ),
                "A wire that is too short is spliced in the cabinet with a piece of its own gauge (fill: NEC 312.8).",
                Some(at(breaker)),
            );
        }
        for (breaker, _) in found() {
            self.act(
                format!("Take {} out: rock it from the rail towards the outside of the panel.", breaker.at_text()),
                "It holds by a clip on the bus; stiff is good, a loose or burnt one is not put back.",
                Some(at(breaker)),
            );
        }
        if let Some(gone) = moves.iter().find(|m| house.breakers.get(m.breaker).is_none()) {
            self.plan.unfit(Invalid::gone("breaker", gone.breaker.0));
        }
    }

    /// What came out goes to its new place.
    pub(super) fn moving_in(&mut self, moves: &[Moving]) {
        let house = self.house;
        for (breaker, moving) in moves.iter().filter_map(|m| Some((house.breakers.get(m.breaker)?, m))) {
            let to = format_poles(&moving.to);
            let panel = house.panels.get(breaker.panel);
            if let (Some(panel), [from], [into]) = (panel, breaker.at.as_slice(), moving.to.as_slice())
                && panel.leg(*from) != panel.leg(*into)
            {
                let (from, into) = (panel.leg(*from).said(), panel.leg(*into).said());
                self.plan.cautions.push(format!("{} changes its leg, from {from} to {into}.", breaker.at_text()));
            }
            self.act(
                format!(
                    "Put what was at {} in at {to}, in OFF, from the rail to the bus, and land its wires.",
                    breaker.at_text()
                ),
                "Stiff is good, loose is not.",
                Some(at(breaker)),
            );
            self.makes(|draft| draft.shift(std::slice::from_ref(moving)));
        }
    }

    /// What another job comes to is done in the same shutdown, after what there is: what it asks and refuses is said in its name.
    pub(super) fn and_then(&mut self, other: Working<'_>) {
        let Working { plan: of, mut acts, looks, joined, licensed, panel_goes, stays_in, stays_off, .. } = other;
        let named = |what: &str| format!("{}: {what}", of.title);
        let (asks, refused) = (of.asks.iter(), of.refused.iter());
        self.plan.asks.extend(asks.map(|ask| Question { question: named(&ask.question), ..ask.clone() }));
        self.plan.refused.extend(refused.map(|no| Refusal { why: named(&no.why), ..no.clone() }));
        for caution in &of.cautions {
            if !self.plan.cautions.contains(caution) {
                self.plan.cautions.push(caution.clone());
            }
        }
        self.plan.have_all(&of.parts);
        self.touch(of.touches.iter().copied().filter(|b| self.house.breakers.get(*b).is_some()));
        if let Some(first) = acts.first_mut() {
            first.what = named(&first.what);
        }
        looks.into_iter().for_each(|look| self.look_once(look));
        self.acts.extend(acts);
        self.joined.extend(joined);
        self.licensed = self.licensed.or(licensed);
        self.panel_goes |= panel_goes;
        self.stays_in &= stays_in;
        self.stays_off |= stays_off;
    }

    /// Makes true what the acts so far say, and nothing else.
    pub(super) fn replay(&mut self) {
        let mut draft = Draft::new(self.house, trace::may_feed);
        match made::make(&mut draft, &self.acts, &self.plan.goal) {
            Ok(()) => self.draft = draft,
            Err(fault) => self.plan.unfit(fault),
        }
    }

    /// The house as it is after the acts so far.
    pub(super) fn so_far(&self) -> &House {
        &self.draft.house
    }

    /// The house as it becomes.
    ///
    /// # Errors
    /// Where it could not be.
    pub(super) fn done(&self) -> Result<Applied, Invalid> {
        self.draft.clone().planned()
    }
}

/// What a job makes of the house itself. What that brings along (what was seen of a breaker that goes) follows from how things
/// stand when it is made.
fn is_of_the_house(edit: &Edit) -> bool {
    matches!(edit, Edit::Panel(_) | Edit::Breaker(_) | Edit::Circuit(_) | Edit::Point(_) | Edit::Load(_))
}

pub(super) fn step(stage: Stage, key: impl Into<String>, what: impl Into<String>) -> JobStep {
    JobStep {
        key: key.into(),
        stage,
        what: what.into(),
        why: String::new(),
        tool: String::new(),
        place: None,
        hold: None,
        switches: None,
        note: String::new(),
        makes: Vec::new(),
    }
}

/// At a breaker's terminal.
pub(super) fn at(breaker: &Breaker) -> MeasuredAt {
    MeasuredAt::Breaker { breaker: breaker.id, pole: None, side: Side::Load }
}

/// Where the neutral of a protected breaker goes.
const ON_IT: &str = " Where its circuit has a neutral, that lands on it with its hot, not on the bar; its pigtail, where it has one, to the neutral bar.";

/// The new breaker in words: `one-pole dual breaker of 20 A`; and where its circuit's neutral goes, where it has one: on a
/// protected breaker, not on the bar. [prac: handbook 5.8]
pub(super) fn new_one(new: &Breaker) -> (String, &'static str) {
    let poles = ["", "one-pole ", "two-pole ", "three-pole "].get(new.at.len()).copied().unwrap_or("");
    let (kind, neutral) =
        if new.device.is_protected() { (format!("{} ", new.device.said()), ON_IT) } else { (String::new(), "") };
    (format!("{poles}{kind}breaker of {}", new.amps), neutral)
}
