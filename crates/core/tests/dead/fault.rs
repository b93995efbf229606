//! What goes wrong in a made house, and what then works: sixteen sorts, by what practice meets.

use std::collections::BTreeSet;

use rand::RngExt;
use rand::rngs::ChaCha8Rng;
use rand::seq::IndexedRandom;
use wayfinder_core::answers::diagnose::Cause;
use wayfinder_core::base::position::Leg;
use wayfinder_core::house::*;

use crate::house::Made;

/// What is wrong.
#[derive(Debug, Clone, PartialEq)]
pub enum Fault {
    Breaker(BreakerId),
    BadBreaker(BreakerId),
    Device(PointId),
    Switch(PointId),
    Itself(PointId),
    /// Before this point its hot is open.
    OpenHot(PointId),
    OpenNeutral(PointId),
    Poor(PointId),
    SharedNeutral(BreakerId, BreakerId),
    Feeder(BreakerId),
    Main,
    LostLeg(Leg),
    Utility,
    ServiceNeutral,
    Two(Box<Fault>, Box<Fault>),
}

/// How a point shows itself.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum State {
    Well,
    Dead,
    Dim,
    Bright,
}

impl Fault {
    /// Its sort, for the table.
    pub fn sort(&self, made: &Made) -> &'static str {
        match self {
            Self::Breaker(_) => "breaker tripped",
            Self::BadBreaker(_) => "bad breaker",
            Self::Device(d) if made.unregistered.contains(d) => "device, unregistered",
            Self::Device(_) => "device tripped",
            Self::Switch(_) => "switch",
            Self::Itself(_) => "lamp or thing",
            Self::OpenHot(_) => "open hot",
            Self::OpenNeutral(_) => "open neutral",
            Self::Poor(_) => "poor splice",
            Self::SharedNeutral(..) => "shared neutral",
            Self::Feeder(_) => "feeder",
            Self::Main => "main",
            Self::LostLeg(_) => "lost leg",
            Self::Utility => "power cut",
            Self::ServiceNeutral => "service neutral",
            Self::Two(..) => "two at once",
        }
    }

    /// One by the shares of practice.
    pub fn drawn(made: &Made, rng: &mut ChaCha8Rng) -> Self {
        let pick = |rng: &mut ChaCha8Rng, which: &dyn Fn(PointId) -> bool| {
            let all: Vec<PointId> = made.hung.keys().copied().filter(|p| which(*p)).collect();
            all.choose(rng).copied()
        };
        let kind = |p: PointId| made.house.points.get(p).unwrap().kind;
        loop {
            let fault = match rng.random_range(0.0..100.0) {
                x if x < 36.0 => {
                    let fed = made.hung.values().map(|h| h.breaker).collect::<Vec<_>>();
                    fed.choose(rng).map(|b| Self::Breaker(*b))
                }
                x if x < 54.0 => {
                    let all: BTreeSet<PointId> = made.hung.values().filter_map(|h| h.device).collect();
                    all.into_iter().collect::<Vec<_>>().choose(rng).map(|d| Self::Device(*d))
                }
                x if x < 62.0 => {
                    let all: Vec<PointId> =
                        made.house.points.iter().flat_map(|p| p.switched_by.iter().copied()).collect();
                    all.choose(rng).map(|s| Self::Switch(*s))
                }
                x if x < 73.0 => pick(rng, &|p| kind(p) != PointKind::Switch).map(Self::Itself),
                x if x < 76.0 => pick(rng, &|p| kind(p) == PointKind::Receptacle).map(Self::OpenHot),
                x if x < 78.0 => pick(rng, &|p| kind(p) == PointKind::Receptacle).map(Self::OpenNeutral),
                x if x < 79.5 => pick(rng, &|p| kind(p) == PointKind::Receptacle).map(Self::Poor),
                x if x < 80.5 => made.shared.map(|(a, b)| Self::SharedNeutral(a, b)),
                x if x < 82.5 => {
                    made.hung.values().map(|h| h.breaker).collect::<Vec<_>>().choose(rng).map(|b| Self::BadBreaker(*b))
                }
                x if x < 84.0 => made.feeder.map(Self::Feeder),
                x if x < 86.0 => Some(Self::Main),
                x if x < 88.0 => Some(Self::LostLeg(*[Leg::A, Leg::B].choose(rng).unwrap())),
                x if x < 96.0 => Some(Self::Utility),
                x if x < 97.0 => Some(Self::ServiceNeutral),
                _ => {
                    let two = [Self::usual(made, rng), Self::usual(made, rng)];
                    match two {
                        [Some(a), Some(b)] if a != b => Some(Self::Two(Box::new(a), Box::new(b))),
                        _ => None,
                    }
                }
            };
            if let Some(fault) =
                fault.filter(|fault| made.hung.keys().any(|p| fault.state(made, *p, 0.3) != State::Well))
            {
                return fault;
            }
        }
    }

    fn usual(made: &Made, rng: &mut ChaCha8Rng) -> Option<Self> {
        let points: Vec<PointId> = made.hung.keys().copied().collect();
        match rng.random_range(0..3) {
            0 => made.hung.values().map(|h| h.breaker).collect::<Vec<_>>().choose(rng).map(|b| Self::Breaker(*b)),
            1 => made.hung.values().filter_map(|h| h.device).collect::<Vec<_>>().choose(rng).map(|d| Self::Device(*d)),
            _ => points.choose(rng).map(|p| Self::Itself(*p)),
        }
    }

    /// How a point is. `share` is what leg A has of the 240 V where the neutral floats.
    pub fn state(&self, made: &Made, point: PointId, share: f64) -> State {
        let hung = &made.hung[&point];
        let p = made.house.points.get(point).unwrap();
        let legs = made.legs(hung.breaker);
        let dead = |is: bool| if is { State::Dead } else { State::Well };
        let floats = |leg: Leg| {
            // Between 0.93 and 1.07 of 120 V nobody sees it; under half of it a thing stops.
            let volts = 2.0 * if leg == Leg::A { share } else { 1.0 - share };
            match volts {
                v if v < 0.5 => State::Dead,
                v if v < 0.93 => State::Dim,
                v if v > 1.07 => State::Bright,
                _ => State::Well,
            }
        };
        match self {
            Self::Breaker(b) => dead(hung.breaker == *b),
            Self::BadBreaker(b) => dead(hung.breaker == *b),
            Self::Device(d) => dead(hung.device == Some(*d)),
            Self::Switch(s) => dead(p.switched_by.contains(s)),
            Self::Itself(i) => dead(point == *i),
            Self::OpenHot(from) | Self::OpenNeutral(from) => dead(made.way_back(point).contains(from)),
            Self::Poor(from) => {
                if made.way_back(point).contains(from) {
                    State::Dim
                } else {
                    State::Well
                }
            }
            Self::SharedNeutral(a, b) if hung.breaker == *a || hung.breaker == *b => floats(legs[0]),
            Self::SharedNeutral(..) => State::Well,
            Self::Feeder(f) => dead(made.house.fed_through()[f].contains(&hung.breaker)),
            Self::Main | Self::Utility => State::Dead,
            Self::LostLeg(leg) => match legs.as_slice() {
                [one] if one == leg && share > 0.8 => State::Dim,
                [one] => dead(one == leg),
                _ => {
                    if share > 0.5 {
                        State::Dead
                    } else {
                        State::Dim
                    }
                }
            },
            Self::ServiceNeutral if legs.len() > 1 => State::Well,
            Self::ServiceNeutral => floats(legs[0]),
            Self::Two(a, b) => {
                let (a, b) = (a.state(made, point, share), b.state(made, point, share));
                if a == State::Well { b } else { a }
            }
        }
    }

    /// Whether a cause, named at the end, is this.
    pub fn is(&self, made: &Made, cause: Cause, also: Option<Cause>) -> bool {
        match (self, cause) {
            (Self::Two(a, b), _) => {
                let either = |c: Cause| a.is(made, c, None) || b.is(made, c, None);
                either(cause) && also.is_some_and(either)
            }
            _ if also.is_some() => false,
            (Self::Breaker(b) | Self::Feeder(b), Cause::Breaker { breaker }) => *b == breaker,
            // For whoever looks with the covers on, a breaker, its terminal and the way to the first box are one place.
            (Self::BadBreaker(b), Cause::BadBreaker { breaker } | Cause::Wire { breaker, .. }) => *b == breaker,
            (Self::OpenHot(from) | Self::OpenNeutral(from), Cause::BadBreaker { breaker }) => {
                made.hung[from].breaker == breaker && made.hung[from].before.is_none()
            }
            (Self::Device(d), Cause::GroundFault { point }) => *d == point,
            (Self::Device(d), Cause::Unregistered { .. }) => made.unregistered.contains(d),
            (Self::Switch(s), Cause::Switch { point }) | (Self::Itself(s), Cause::Itself { point }) => *s == point,
            (Self::OpenHot(from) | Self::OpenNeutral(from) | Self::Poor(from), Cause::Wire { breaker, .. }) => {
                made.hung[from].breaker == breaker
            }
            (Self::SharedNeutral(a, b), Cause::SharedNeutral { breaker, other }) => {
                [(*a, *b), (*b, *a)].contains(&(breaker, other))
            }
            (Self::Main, Cause::Main { .. }) | (Self::Utility, Cause::Utility) => true,
            (Self::LostLeg(leg), Cause::LostLeg { leg: of, .. }) => *leg == of,
            (Self::ServiceNeutral, Cause::OpenNeutral) => true,
            _ => false,
        }
    }
}
