//! What is held off, by whom, and what that rests on. (handbook 5.1)

use std::collections::BTreeSet;

use jiff::Timestamp;
use serde::Serialize;
use utoipa::ToSchema;

use super::{Breaker, BreakerId, House, Job, JobId, PanelId, Stage};

/// What a job holds off.
#[derive(Debug, Clone, PartialEq, Eq, Serialize, ToSchema)]
pub struct Held {
    /// The job.
    pub job: JobId,
    /// What it does, in a few words.
    pub title: String,
    /// Who works there.
    pub who: String,
    /// Since when.
    #[schema(value_type = String, format = DateTime)]
    pub since: Timestamp,
    /// The panel where they work.
    pub panel: PanelId,
    /// Panels that are off as a whole.
    pub panels: BTreeSet<PanelId>,
    /// Breakers that are off.
    pub breakers: BTreeSet<BreakerId>,
    /// What could bring power there, beside what is held off.
    pub rests_on: Vec<Premise>,
}

/// What could bring power to where somebody works.
#[derive(Debug, Clone, Copy, PartialEq, Eq, PartialOrd, Ord, Serialize, ToSchema)]
#[serde(tag = "source", rename_all = "kebab-case")]
pub enum Premise {
    /// A panel's own main, or the disconnect before it.
    Main {
        /// Whose.
        panel: PanelId,
    },
    /// A breaker that feeds the panel, or a panel before it.
    Feeder {
        /// Which.
        breaker: BreakerId,
    },
    /// A generator's inlet.
    Inlet {
        /// Its breaker.
        breaker: BreakerId,
    },
    /// A breaker of another panel, with wires in a box that is opened.
    BoxMate {
        /// Which.
        breaker: BreakerId,
    },
}

impl Premise {
    /// The breaker that it is.
    #[must_use]
    pub fn breaker(self) -> Option<BreakerId> {
        match self {
            Self::Main { .. } => None,
            Self::Feeder { breaker } | Self::Inlet { breaker } | Self::BoxMate { breaker } => Some(breaker),
        }
    }

    /// The panel that it switches as a whole.
    #[must_use]
    pub fn panel(self) -> Option<PanelId> {
        if let Self::Main { panel } = self { Some(panel) } else { None }
    }

    /// In words.
    #[must_use]
    pub fn said(self, house: &House) -> String {
        let named = |id| house.breakers.get(id).map_or_else(String::new, |b| house.breaker_name(b));
        match self {
            Self::Main { panel } => {
                format!("what switches {} off stays off", house.panels.get(panel).map_or("it", |p| p.name.as_str()))
            }
            Self::Feeder { breaker } => format!("nobody moves {}, which feeds it", named(breaker)),
            Self::Inlet { breaker } => {
                format!("the generator's inlet, {}, stays off and without its cord", named(breaker))
            }
            Self::BoxMate { breaker } => format!("{}, whose wires share a box, stays off", named(breaker)),
        }
    }
}

impl House {
    /// What stays off, and for whom: the one answer to what may be moved.
    #[must_use]
    pub fn held(&self) -> Vec<Held> {
        self.jobs.iter().filter_map(|job| Held::of(self, job)).collect()
    }

    /// Breakers that give nothing as long as somebody works: those held off, all of panels that are, and all behind them.
    #[must_use]
    pub fn held_dead(&self) -> BTreeSet<BreakerId> {
        self.held().iter().flat_map(|held| held.dead(self)).collect()
    }

    /// Breakers that nobody else moves as long as somebody works: those that are dead for it, and what that rests on.
    #[must_use]
    pub fn held_still(&self) -> BTreeSet<BreakerId> {
        let rests_on = |held: &Held| held.rests_on.iter().filter_map(|premise| premise.breaker()).collect::<Vec<_>>();
        self.held().iter().flat_map(|held| held.dead(self).into_iter().chain(rests_on(held))).collect()
    }

    /// Breakers that jobs had off at a time, whether or not they are still at work: their own, all of panels, all behind them.
    #[must_use]
    pub fn worked_dead(&self, time: Timestamp) -> BTreeSet<BreakerId> {
        let off = self.jobs.iter().map(|job| job.off_at(time));
        off.flat_map(|(panels, breakers)| self.behind(&panels, &breakers)).collect()
    }

    /// Breakers that give nothing with these panels and breakers off.
    fn behind(&self, panels: &BTreeSet<PanelId>, breakers: &BTreeSet<BreakerId>) -> BTreeSet<BreakerId> {
        if panels.is_empty() && breakers.is_empty() {
            return BTreeSet::new();
        }
        let through = self.fed_through();
        let own = self.breakers.iter().filter(|b| panels.contains(&b.panel) || breakers.contains(&b.id));
        own.flat_map(|b| through.get(&b.id).into_iter().flatten().copied().chain([b.id])).collect()
    }

    /// Breakers of a panel, and of panels that it feeds, by which a generator feeds in: those said to, and those whose label reads
    /// so, as people write it.
    #[must_use]
    pub fn inlets(&self, panel: PanelId) -> Vec<&Breaker> {
        let below = self.fed_through();
        let own = self.breakers_of(panel);
        let through = own.iter().filter_map(|b| below.get(&b.id)).flatten().copied();
        let all: BTreeSet<BreakerId> = own.iter().map(|b| b.id).chain(through).collect();
        let is_inlet = |b: &&Breaker| {
            let label = b.label.to_lowercase();
            b.inlet || ["generator", "inlet", "genset"].iter().any(|word| label.contains(word))
        };
        all.into_iter().filter_map(|b| self.breakers.get(b)).filter(is_inlet).collect()
    }
}

impl Held {
    /// What a job holds off.
    #[must_use]
    pub fn of(house: &House, job: &Job) -> Option<Self> {
        let taken = job.stopped.as_ref().is_some_and(|stopped| stopped.taken_over);
        // Once the house is as planned its last checks have passed with the power on.
        if taken || job.made.is_some() || (job.ended.is_some() && !job.left_open) {
            return None;
        }
        let (panels, breakers) = job.keeps_off();
        let first = job.done.iter().find(|done| {
            let switches = job.step(&done.step).and_then(|step| step.switches.as_ref());
            done.passed && switches.is_some_and(|switches| !switches.on)
        })?;
        (!panels.is_empty() || !breakers.is_empty()).then(|| Self {
            job: job.id,
            title: job.title.clone(),
            who: job.hands().to_owned(),
            since: first.time,
            panel: job.panel,
            rests_on: Self::premises(house, job),
            panels,
            breakers,
        })
    }

    /// Each source that could bring power to where a job works.
    #[must_use]
    pub fn premises(house: &House, job: &Job) -> Vec<Premise> {
        let mut all = vec![Premise::Main { panel: job.panel }];
        let mut above = house.panels.get(job.panel);
        // A panel feeds none that feeds it; the bound is for records that say so.
        for _ in 0..house.panels.len() {
            let Some(feeder) = above.and_then(|panel| panel.fed_by).and_then(|b| house.breakers.get(b)) else { break };
            all.extend([Premise::Feeder { breaker: feeder.id }, Premise::Main { panel: feeder.panel }]);
            above = house.panels.get(feeder.panel);
        }
        all.extend(house.inlets(job.panel).into_iter().map(|b| Premise::Inlet { breaker: b.id }));
        let switched =
            job.steps.iter().filter(|step| step.stage == Stage::Dead).filter_map(|step| step.switches.as_ref());
        let elsewhere = |b: &&BreakerId| house.breakers.get(**b).is_some_and(|b| b.panel != job.panel);
        let feeds = |b: &&BreakerId| !all.iter().any(|premise| premise.breaker() == Some(**b));
        let mates: BTreeSet<BreakerId> =
            switched.flat_map(|switches| &switches.breakers).filter(elsewhere).filter(feeds).copied().collect();
        all.extend(mates.into_iter().map(|breaker| Premise::BoxMate { breaker }));
        all
    }

    /// The handle of a breaker is held: it is off for them, or stands in a panel that is.
    #[must_use]
    pub fn holds(&self, breaker: &Breaker) -> bool {
        self.breakers.contains(&breaker.id) || self.panels.contains(&breaker.panel)
    }

    /// Breakers that give nothing meanwhile: those held, and all behind them.
    #[must_use]
    pub fn dead(&self, house: &House) -> BTreeSet<BreakerId> {
        house.behind(&self.panels, &self.breakers)
    }

    /// Who works where, for whoever wants something of what is off for them.
    #[must_use]
    pub fn who_works(&self, house: &House) -> String {
        let panel = house.panels.get(self.panel).map_or("the panel", |p| p.name.as_str());
        format!("{} works in {panel} (\"{}\")", self.who, self.title)
    }

    /// Who works where, and what else can be done.
    #[must_use]
    pub fn said(&self, house: &House) -> String {
        format!(
            "{} and rests on what is off there. Ask them first; who stands at the panel can take it over in that job, or say there \
             that it was left safe",
            self.who_works(house)
        )
    }
}
