//! What hangs on each breaker as far as it is believed, in words: the card's own line, and how it is shortened.

use std::collections::{BTreeMap, BTreeSet};

use super::Standing;
use crate::house::{Breaker, BreakerId, House, Observation, Panel, Point, PointKind, RoomId, Seen, Way};
use crate::trace::{Beliefs, PointBelief, Status};
use crate::words::things::{self, Group, Tags, groups, told};

/// What hangs on every breaker of a house.
pub struct OnCard<'a> {
    house: &'a House,
    beliefs: &'a Beliefs,
    on: BTreeMap<BreakerId, OnIt<'a>>,
    /// Kinds of points of a room that hang on more than one breaker: by room and kind alone their circuits cannot be told
    /// apart.
    spread: BTreeSet<(RoomId, PointKind)>,
}

#[derive(Default)]
struct OnIt<'a> {
    proven: Vec<&'a Point>,
    likely: Vec<&'a Point>,
}

/// What hangs on a breaker, in words.
#[derive(Debug, Clone, Default, PartialEq, Eq)]
pub struct Line {
    /// What surely does; with tags where nothing else tells it from what hangs elsewhere. [pub: NEC 408.4(A), from memory]
    pub feeds: String,
    /// What probably does.
    pub probably: String,
    /// Both, from the fullest form to the shortest; a question mark after what is not proven.
    pub short: Vec<String>,
}

impl Line {
    /// How far it can be relied on; `settled`: every point of the house is.
    #[must_use]
    pub fn standing(&self, settled: bool) -> Standing {
        match (self.feeds.is_empty(), self.probably.is_empty()) {
            (true, true) if settled => Standing::NothingFound,
            (true, _) => Standing::Unproven,
            (false, true) => Standing::Proven,
            (false, false) => Standing::Partly,
        }
    }
}

impl<'a> OnCard<'a> {
    /// Of a house as it is believed.
    #[must_use]
    pub fn new(house: &'a House, beliefs: &'a Beliefs) -> Self {
        let mut on: BTreeMap<BreakerId, OnIt<'a>> = BTreeMap::new();
        for belief in &beliefs.points {
            let Some(point) = house.points.get(belief.point) else { continue };
            for breaker in feeders(belief) {
                let of = on.entry(breaker).or_default();
                if belief.status == Status::Proven { of.proven.push(point) } else { of.likely.push(point) }
            }
        }
        let mut places: BTreeMap<(RoomId, PointKind), BTreeSet<BreakerId>> = BTreeMap::new();
        for (breaker, of) in &on {
            for point in &of.proven {
                places.entry((point.room, point.kind)).or_default().insert(*breaker);
            }
        }
        let spread = places.into_iter().filter(|(_, on)| on.len() > 1).map(|(place, _)| place).collect();
        Self { house, beliefs, on, spread }
    }

    /// A breaker's line.
    #[must_use]
    pub fn line(&self, breaker: &Breaker) -> Line {
        let (proven, likely) = self.groups(breaker);
        let both = [proven.clone(), likely.clone()].concat();
        Line {
            feeds: told(self.house, &proven, Tags::Of(&self.spread)),
            probably: told(self.house, &likely, Tags::None),
            short: things::forms(self.house, &both),
        }
    }

    /// What surely hangs on it.
    #[must_use]
    pub fn proven(&self, breaker: &Breaker) -> &[&'a Point] {
        self.on.get(&breaker.id).map_or(&[], |on| &on.proven)
    }

    /// What surely and what probably hangs on it, each with its tags.
    #[must_use]
    pub fn tagged(&self, breaker: &Breaker) -> (String, String) {
        let (proven, likely) = self.groups(breaker);
        (told(self.house, &proven, Tags::All), told(self.house, &likely, Tags::All))
    }

    fn groups(&self, breaker: &Breaker) -> (Vec<Group>, Vec<Group>) {
        let on = self.on.get(&breaker.id);
        let mut proven = groups(self.house, on.map_or(&[], |on| &on.proven), true);
        let mut likely = groups(self.house, on.map_or(&[], |on| &on.likely), false);
        if let Some(sub) = self.house.panel_fed_by(breaker.id) {
            let seen = was_seen_to_feed(self.house, self.beliefs, breaker, sub);
            let into = if seen { &mut proven } else { &mut likely };
            into.insert(0, Group::panel(&sub.name, seen));
        }
        (proven, likely)
    }
}

/// Breakers that a point surely or probably hangs on.
fn feeders(belief: &PointBelief) -> Vec<BreakerId> {
    let first = || belief.candidates.first().map(|c| c.at.breaker);
    match belief.status {
        Status::Proven | Status::Likely => first().into_iter().collect(),
        Status::TwoHandles => belief.two_handles.iter().flat_map(|two| &two.breakers).map(|b| b.breaker).collect(),
        Status::Unknown | Status::NoBreaker => Vec::new(),
    }
}

/// Somebody saw points of the panel dead with its feeder off, and by that and by what stayed live no other breaker of the feeder's
/// own panel can be it. A point whose own breaker was off too says nothing of the feeder.
fn was_seen_to_feed(house: &House, beliefs: &Beliefs, feeder: &Breaker, sub: &Panel) -> bool {
    let in_sub = |point| {
        let belief = beliefs.points.iter().find(|b| b.point == point && b.status != Status::Unknown);
        belief.and_then(|b| b.candidates.first()).is_some_and(|c| c.at.panel == sub.name)
    };
    let own: BTreeSet<BreakerId> = house.breakers_of(sub.id).iter().map(|b| b.id).collect();
    let mut may: BTreeSet<BreakerId> = house.breakers_of(feeder.panel).iter().map(|b| b.id).collect();
    let mut dead = false;
    for evidence in house.evidence.iter().filter(|e| in_sub(e.point)) {
        match &evidence.observation {
            Observation::Power { off, seen: Seen::Dead, how } if *how != Way::Word && off.is_disjoint(&own) => {
                may.retain(|b| off.contains(b));
                dead = true;
            }
            Observation::Power { off, seen: Seen::Live, how } if *how != Way::Word => may.retain(|b| !off.contains(b)),
            _ => {}
        }
    }
    dead && may.len() == 1 && may.contains(&feeder.id)
}
