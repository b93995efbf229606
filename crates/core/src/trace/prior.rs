//! What to believe before anything was switched: ratings, poles, and what the old labels say.
//!
//! Weights are odds against an otherwise equal breaker; all are common practice (HANDBOOK 2.1.3, 2.2) put into
//! numbers, low enough that two honest readings overrule any of them.

use std::collections::BTreeSet;

use serde::Serialize;
use utoipa::ToSchema;

use crate::house::{Breaker, Device, House, Point, PointKind};
use crate::trace::network::Network;
use crate::words::{Sense, Word, words};

/// Something known beforehand that speaks for or against a breaker.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
pub struct Hint {
    /// What it is.
    pub kind: HintKind,
    /// The odds it gives: above 1 speaks for, below 1 against.
    pub odds: f64,
}

/// What a hint rests on.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, ToSchema)]
#[serde(rename_all = "kebab-case")]
pub enum HintKind {
    /// Poles and rating against the voltage and the thing.
    Rating,
    /// The breaker feeds a panel.
    FeedsPanel,
    /// The old label names the thing.
    LabelNamesThing,
    /// The old label names the room.
    LabelNamesRoom,
    /// The old label names this kind of point, or another kind.
    LabelNamesKind,
    /// The old label names something else.
    LabelNamesOther,
    /// The old label says spare.
    LabelSaysSpare,
}

/// A tap on a feeder is rare, not impossible.
const FEEDER: f64 = 0.02;
const LABEL_THING: f64 = 20.0;
const LABEL_ROOM: f64 = 6.0;
const LABEL_KIND: f64 = 2.0;
const LABEL_OTHER_KIND: f64 = 0.4;
const LABEL_OTHER: f64 = 0.4;
const LABEL_SPARE: f64 = 0.3;

/// Power that no known breaker cuts: rare in a house with all its panels listed.
pub const ELSEWHERE: f64 = 0.01;

/// A point without power when all is on: a light switched off at the wall or without a lamp is the commonest.
pub fn nothing(kind: PointKind) -> f64 {
    match kind {
        PointKind::Light => 0.03,
        PointKind::Receptacle | PointKind::Other => 0.02,
        PointKind::Switch | PointKind::Appliance | PointKind::Alarm => 0.01,
    }
}

/// Ratings that go with a thing on two poles (HANDBOOK 2.1.3, common practice).
const USUAL_RATINGS: &[(&str, f64, f64)] = &[
    ("range", 40.0, 60.0),
    ("cooktop", 30.0, 50.0),
    ("dryer", 30.0, 30.0),
    ("water heater", 20.0, 30.0),
    ("air conditioner", 15.0, 60.0),
    ("car charger", 30.0, 60.0),
    ("well pump", 15.0, 30.0),
    ("baseboard", 15.0, 30.0),
    ("furnace", 60.0, 100.0),
    ("heat strips", 50.0, 100.0),
    ("kiln", 40.0, 60.0),
];

/// What is known of a point's words, read once.
pub struct PointWords {
    thing: BTreeSet<Word>,
    room: BTreeSet<Word>,
    kind: Option<&'static str>,
}

impl PointWords {
    pub fn new(house: &House, point: &Point) -> Self {
        let room = house.rooms.get(point.room).map(|r| words(&r.name)).unwrap_or_default();
        let thing = words(&point.name).into_iter().filter(|w| w.sense != Sense::Kind).collect();
        let kind = match point.kind {
            PointKind::Light => Some("light"),
            PointKind::Receptacle => Some("receptacle"),
            _ => None,
        };
        Self { thing, room, kind }
    }
}

/// What speaks for and against a breaker beforehand; nothing where its poles rule it out.
pub fn hints(
    net: &Network<'_>,
    breaker: usize,
    label: &BTreeSet<Word>,
    point: &Point,
    said: &PointWords,
) -> Option<Vec<Hint>> {
    let mut hints = vec![Hint { kind: HintKind::Rating, odds: rating(net.breakers[breaker], point, said)? }];
    if net.feeds_a_panel(breaker) {
        hints.push(Hint { kind: HintKind::FeedsPanel, odds: FEEDER });
    }
    hints.extend(label_hints(label, said));
    hints.retain(|h| (h.odds - 1.0).abs() > f64::EPSILON);
    Some(hints)
}

/// None where the poles cannot make the voltage: one pole gives no 240 V.
fn rating(breaker: &Breaker, point: &Point, said: &PointWords) -> Option<f64> {
    let poles = breaker.at.len();
    match point.volts.map(|v| v.is_leg_to_leg()) {
        Some(true) if poles == 1 => None,
        Some(true) => Some(two_pole_odds(breaker, said) * if poles == 3 { 0.1 } else { 1.0 }),
        Some(false) => Some(one_leg_odds(breaker)),
        None if poles == 1 => Some(one_leg_odds(breaker)),
        None => Some(0.5 * two_pole_odds(breaker, said)),
    }
}

fn two_pole_odds(breaker: &Breaker, said: &PointWords) -> f64 {
    let usual = USUAL_RATINGS.iter().find(|(thing, ..)| said.thing.iter().any(|w| w.plain == *thing));
    match usual {
        Some((_, low, high)) if (*low..=*high).contains(&breaker.amps.0) => 4.0,
        Some(_) => 0.5,
        None => 1.0,
    }
}

fn one_leg_odds(breaker: &Breaker) -> f64 {
    let amps = breaker.amps.0;
    match breaker.at.len() {
        1 if amps <= 20.0 || (breaker.device == Device::Fuse && amps <= 30.0) => 1.0,
        1 => 0.2,
        // Two poles of 15 or 20 A may be a shared-neutral pair.
        2 if amps <= 20.0 => 0.15,
        2 => 0.03,
        _ => 0.02,
    }
}

fn label_hints(label: &BTreeSet<Word>, said: &PointWords) -> Vec<Hint> {
    let mut hints = Vec::new();
    let mut hint = |kind, odds| hints.push(Hint { kind, odds });
    if label.is_empty() {
        return hints;
    }
    if label.iter().any(|w| w.sense == Sense::Spare) {
        hint(HintKind::LabelSaysSpare, LABEL_SPARE);
        return hints;
    }
    let thing = label.iter().any(|w| said.thing.contains(w));
    let room = label.iter().any(|w| said.room.contains(w));
    let names_thing = label.iter().any(|w| w.sense == Sense::Thing);
    if thing {
        hint(HintKind::LabelNamesThing, LABEL_THING);
    }
    if room {
        hint(HintKind::LabelNamesRoom, LABEL_ROOM);
    }
    // A label that names a dedicated thing speaks against all else, whatever room it names.
    if !thing && (names_thing || !room) {
        hint(HintKind::LabelNamesOther, LABEL_OTHER);
    }
    let kinds: Vec<_> = label.iter().filter(|w| w.sense == Sense::Kind).map(|w| w.plain.as_str()).collect();
    match said.kind {
        Some(kind) if kinds.contains(&kind) => hint(HintKind::LabelNamesKind, LABEL_KIND),
        Some(_) if !kinds.is_empty() => hint(HintKind::LabelNamesKind, LABEL_OTHER_KIND),
        _ => {}
    }
    hints
}
