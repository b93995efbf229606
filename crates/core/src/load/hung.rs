//! What hangs where, as far as believed: the one place that draws, sums and expectations take it from.

use std::collections::{BTreeMap, BTreeSet};

use crate::base::position::{Leg, Position};
use crate::base::units::NominalVolts;
use crate::house::{Breaker, BreakerId, Conductor, House, Load, MeasuredAt, PanelId, PointId, Quantity};
use crate::plate::{self, Connected};
use crate::rules::{self, Hangs};
use crate::trace::{Beliefs, PointBelief, Status};

/// What hangs where.
#[derive(Debug)]
pub struct Hung<'a> {
    house: &'a House,
    beliefs: &'a Beliefs,
    /// For each breaker itself and those fed through it.
    through: BTreeMap<BreakerId, BTreeSet<BreakerId>>,
    /// For each point the breakers that it is believed to hang on.
    feeders: BTreeMap<PointId, Vec<BreakerId>>,
    hangs: Vec<Hangs>,
}

/// The legs of a panel that a current takes.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct Through {
    /// The panel.
    pub panel: PanelId,
    /// Its legs,
    pub legs: Vec<Leg>,
    /// of which it takes just one, and it is not known which.
    pub either: bool,
}

impl<'a> Hung<'a> {
    /// Of a house and what is believed of it.
    #[must_use]
    pub fn new(house: &'a House, beliefs: &'a Beliefs) -> Self {
        let feeders = beliefs.points.iter().map(|belief| (belief.point, of(belief))).collect();
        Self { house, beliefs, through: house.fed_through(), feeders, hangs: beliefs.hangs() }
    }

    /// The breakers that a point is believed to hang on: one, or two handles; none where that is not known.
    #[must_use]
    pub fn feeders(&self, point: PointId) -> &[BreakerId] {
        self.feeders.get(&point).map_or(&[], Vec::as_slice)
    }

    /// True where it is proven what a point hangs on.
    #[must_use]
    pub fn is_proven(&self, point: PointId) -> bool {
        self.beliefs.of(point).is_some_and(|b| b.proven || b.status == Status::TwoHandles)
    }

    /// True for what hangs on one of these and so behind this breaker.
    #[must_use]
    pub fn is_behind(&self, breaker: BreakerId, feeders: &[BreakerId]) -> bool {
        let through = self.through.get(&breaker);
        feeders.iter().any(|f| through.is_some_and(|all| all.contains(f)))
    }

    /// Whether what is measured at a place carries a load, by what is believed to feed it. What is said to have been on and of
    /// which nothing better is known is taken to hang there.
    #[must_use]
    pub fn carries(&self, place: MeasuredAt, quantity: Quantity, load: &Load) -> bool {
        let feeders = self.feeders(load.point);
        match place {
            MeasuredAt::Point { point } => point == load.point,
            MeasuredAt::Breaker { breaker, .. } => feeders.is_empty() || self.is_behind(breaker, feeders),
            MeasuredAt::Bus { panel } | MeasuredAt::Main { panel } | MeasuredAt::Feed { panel } => {
                feeders.is_empty() || self.on_leg(quantity, panel, feeders, plate::volts(self.house, load))
            }
        }
    }

    /// How a load is connected.
    #[must_use]
    pub fn connected(&self, load: &Load) -> Connected {
        rules::connected(self.house, &self.hangs, load)
    }

    /// How likely what is measured at a place carries a load, by what is believed to feed it.
    #[must_use]
    pub fn chance(&self, place: MeasuredAt, quantity: Quantity, load: &Load) -> f64 {
        let open = |b: &&PointBelief| match b.status {
            Status::Unknown => true,
            Status::Likely => b.candidates.first().is_none_or(|c| c.p < AS_GOOD_AS_KNOWN),
            Status::Proven | Status::TwoHandles | Status::NoBreaker => false,
        };
        let belief = self.beliefs.of(load.point).filter(open);
        let Some(belief) = belief.filter(|_| !matches!(place, MeasuredAt::Point { .. })) else {
            return f64::from(u8::from(self.carries(place, quantity, load)));
        };
        let volts = plate::volts(self.house, load);
        let there = |breaker: BreakerId| match place {
            MeasuredAt::Breaker { breaker: at, .. } => self.is_behind(at, &[breaker]),
            MeasuredAt::Bus { panel } | MeasuredAt::Main { panel } | MeasuredAt::Feed { panel } => {
                self.on_leg(quantity, panel, &[breaker], volts)
            }
            MeasuredAt::Point { .. } => false,
        };
        let told: f64 = belief.candidates.iter().map(|c| c.p).sum();
        let here: f64 = belief.candidates.iter().filter(|c| there(c.at.breaker)).map(|c| c.p).sum();
        // What is left is shared out among those that nobody named.
        let rest: Vec<BreakerId> = {
            let named = |b: &&Breaker| belief.candidates.iter().any(|c| c.at.breaker == b.id);
            let poles = |b: &&Breaker| b.at.len() > 1;
            let across = volts.is_leg_to_leg() && self.house.breakers.iter().any(|b| poles(&b));
            self.house.breakers.iter().filter(|b| !named(b) && (!across || poles(b))).map(|b| b.id).collect()
        };
        let left = if rest.is_empty() { 0.0 } else { (1.0 - told).max(0.0) / rest.len() as f64 };
        here + left * rest.iter().filter(|b| there(**b)).count() as f64
    }

    /// A panel's feed carries what hangs in it or behind it; a leg what hangs on it, and all that hangs on two.
    fn on_leg(&self, quantity: Quantity, panel: PanelId, feeders: &[BreakerId], volts: NominalVolts) -> bool {
        let leg = match quantity {
            Quantity::Amps { of: Some(Conductor::A) } => Some(Leg::A),
            Quantity::Amps { of: Some(Conductor::B) } => Some(Leg::B),
            Quantity::Amps { of: Some(Conductor::C) } => Some(Leg::C),
            _ => None,
        };
        let here = self.ways(feeders, volts).into_iter().find(|way| way.panel == panel);
        here.is_some_and(|way| leg.is_none_or(|leg| way.legs.contains(&leg)))
    }

    /// The legs that a thing's current takes, in its own panel first and then in those that feed it.
    #[must_use]
    pub fn ways(&self, feeders: &[BreakerId], volts: NominalVolts) -> Vec<Through> {
        let breakers: Vec<&Breaker> = feeders.iter().filter_map(|b| self.house.breakers.get(*b)).collect();
        let Some(first) = breakers.first() else { return Vec::new() };
        let Some(panel) = self.house.panels.get(first.panel) else { return Vec::new() };
        let leg = |position: &Position| panel.leg(*position);
        let mut legs: Vec<Leg> = breakers.iter().flat_map(|b| b.at.iter().map(leg)).collect();
        legs.sort_unstable();
        legs.dedup();
        let either = !volts.is_leg_to_leg() && legs.len() > 1;
        let mut ways = vec![Through { panel: panel.id, legs, either }];
        let mut here = panel;
        // Panels are never fed by themselves (integrity), so this climb ends.
        while let Some(feeder) = here.fed_by.and_then(|f| self.house.breakers.get(f)) {
            let Some(above) = self.house.panels.get(feeder.panel) else { break };
            // A panel's legs are those of its feeder's poles, in their order.
            let up = |leg: &Leg| feeder.at.get(*leg as usize).map(|position| above.leg(*position));
            let legs = ways.last().map(|way| way.legs.iter().filter_map(up).collect()).unwrap_or_default();
            ways.push(Through { panel: above.id, legs, either });
            here = above;
        }
        ways
    }
}

/// So likely it is taken for so: what does not fit then is told, not explained away. (common practice)
const AS_GOOD_AS_KNOWN: f64 = 0.9;

fn of(belief: &PointBelief) -> Vec<BreakerId> {
    match belief.status {
        Status::Proven | Status::Likely => belief.candidates.first().map(|c| c.at.breaker).into_iter().collect(),
        Status::TwoHandles => belief.two_handles.iter().flat_map(|t| t.breakers.iter().map(|b| b.breaker)).collect(),
        Status::Unknown | Status::NoBreaker => Vec::new(),
    }
}
