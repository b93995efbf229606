//! The house laid out for weighing: for every point the chances of its breakers.

use std::collections::{BTreeMap, BTreeSet};

use super::chain;
use crate::base::position::Leg;
use crate::house::{Breaker, BreakerId, House, PanelId, Point, PointId, RoomId};
use crate::trace::{Beliefs, PointBelief};
use crate::words::places::has_buttons;

/// What weighing needs of a house, each worked out once.
pub(super) struct Bench<'a> {
    pub house: &'a House,
    /// All points, in order.
    pub points: Vec<&'a Point>,
    feeds: BTreeMap<PointId, Vec<(BreakerId, f64)>>,
    /// For each breaker: itself and those fed through it.
    below: BTreeMap<BreakerId, BTreeSet<BreakerId>>,
    /// Rooms where a ground-fault device is usual and none is registered.
    pub lacking: BTreeSet<RoomId>,
    /// For each breaker: its points from the panel outwards, as far as that is known or guessed.
    pub chains: BTreeMap<BreakerId, Vec<PointId>>,
}

impl<'a> Bench<'a> {
    pub(super) fn new(house: &'a House, beliefs: &'a Beliefs) -> Self {
        let chances = |b: &PointBelief| b.candidates.iter().map(|c| (c.at.breaker, c.p)).collect();
        let feeds: BTreeMap<PointId, Vec<(BreakerId, f64)>> =
            beliefs.points.iter().map(|b| (b.point, chances(b))).collect();
        let chains = chain::chains(house, &feeds);
        let (points, below, lacking) = (house.points_in_order(), house.fed_through(), lacking(house));
        Self { house, points, feeds, below, lacking, chains }
    }

    /// Probability that a point is fed by one of these breakers, or through them.
    pub(super) fn fed_by(&self, point: PointId, breakers: &BTreeSet<BreakerId>) -> f64 {
        let chances = self.feeds.get(&point).map_or(&[][..], Vec::as_slice);
        chances.iter().filter(|(b, _)| breakers.contains(b)).map(|(_, p)| p).sum()
    }

    /// The same of one breaker itself.
    pub(super) fn hangs_on(&self, point: PointId, breaker: BreakerId) -> f64 {
        let chances = self.feeds.get(&point).map_or(&[][..], Vec::as_slice);
        chances.iter().find(|(b, _)| *b == breaker).map_or(0.0, |(_, p)| *p)
    }

    pub(super) fn likeliest(&self, point: PointId) -> Option<(BreakerId, f64)> {
        self.feeds.get(&point).and_then(|chances| chances.first()).copied()
    }

    /// What comes after a point on its circuit, as far as the order is known or guessed.
    pub(super) fn wired_on(&self, point: PointId) -> BTreeSet<PointId> {
        let chain = self.likeliest(point).and_then(|(breaker, _)| self.chains.get(&breaker));
        chain.into_iter().flatten().skip_while(|p| **p != point).skip(1).copied().collect()
    }

    pub(super) fn behind_breaker(&self, breaker: BreakerId) -> BTreeSet<BreakerId> {
        self.below.get(&breaker).cloned().unwrap_or_default()
    }

    pub(super) fn in_panel(&self, panel: PanelId) -> BTreeSet<BreakerId> {
        self.house.breakers_of(panel).into_iter().flat_map(|b| self.behind_breaker(b.id)).collect()
    }

    pub(super) fn on_leg(&self, panel: PanelId, leg: Leg) -> BTreeSet<BreakerId> {
        let inside = self.in_panel(panel);
        let on = |b: &&Breaker| self.house.panels.get(b.panel).is_some_and(|p| b.at.iter().any(|at| p.leg(*at) == leg));
        self.house.breakers.iter().filter(|b| inside.contains(&b.id)).filter(on).map(|b| b.id).collect()
    }

    /// Probability that a point is on a leg at all.
    pub(super) fn leg(&self, point: PointId, leg: Leg) -> f64 {
        let on = |b: BreakerId| {
            let breaker = self.house.breakers.get(b);
            breaker.is_some_and(|b| {
                self.house.panels.get(b.panel).is_some_and(|p| b.at.iter().any(|at| p.leg(*at) == leg))
            })
        };
        let chances = self.feeds.get(&point).map_or(&[][..], Vec::as_slice);
        chances.iter().filter(|(b, _)| on(*b)).map(|(_, p)| p).sum()
    }
}

/// Rooms where a ground-fault device is usual and none is registered.
fn lacking(house: &House) -> BTreeSet<RoomId> {
    let known = |room: RoomId| house.points.iter().any(|p| p.room == room && p.ground_fault);
    let rooms = house.rooms.iter().filter(|r| has_buttons(&r.name) && !r.no_device);
    rooms.map(|r| r.id).filter(|room| !known(*room)).collect()
}
