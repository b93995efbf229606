//! What to believe before anything was switched: ratings, poles, and what the old labels say.
//!
//! Weights are odds against an otherwise equal breaker; all are common practice (handbook 2.1.3, 2.2) put into
//! numbers, low enough that two honest readings overrule any of them.

use serde::Serialize;
use utoipa::ToSchema;

use crate::base::said;
use crate::house::{Breaker, Device, House, Point, PointKind};
use crate::trace::kinship::Sort;
use crate::words::labels::{Sense, Word, words};

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
    /// The old label names the room, or one next to it.
    LabelNamesRoom,
    /// The old label names this kind of point, or another kind.
    LabelNamesKind,
    /// The old label names something else.
    LabelNamesOther,
    /// The old label says spare.
    LabelSaysSpare,
    /// Points near by of the same sort are believed on this breaker, or on others.
    Neighbours,
}

said!(HintKind {
    Rating => "its rating and poles",
    FeedsPanel => "it feeds a panel",
    LabelNamesThing => "the old label names this thing",
    LabelNamesRoom => "the old label names this room",
    LabelNamesKind => "the kind of thing on the old label",
    LabelNamesOther => "the old label names something else",
    LabelSaysSpare => "the old label says spare",
    Neighbours => "what is known of its neighbours",
});

/// A tap on a feeder is rare, not impossible.
const FEEDER: f64 = 0.02;

/// Power that no known breaker cuts: rare in a house with all its panels listed.
pub const ELSEWHERE: f64 = 0.004;

/// A point without power when all is on: a light switched off at the wall or without a lamp is the commonest.
pub fn nothing(point: &Point) -> f64 {
    match point.kind {
        PointKind::Light => 0.03,
        PointKind::Receptacle if !point.switched_by.is_empty() || point.protected_by.is_some() => 0.04,
        PointKind::Receptacle | PointKind::Other => 0.025,
        PointKind::Switch | PointKind::Appliance | PointKind::Alarm => 0.01,
    }
}

/// Ratings that go with a thing on two poles (handbook 2.1.3, common practice).
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

/// Words by number, so that sets of them compare fast.
#[derive(Default)]
pub struct Lexicon(Vec<Word>);

/// The words of a text: their numbers with their senses.
pub type Said = Vec<(usize, Sense)>;

impl Lexicon {
    pub fn read(&mut self, text: &str) -> Said {
        words(text).into_iter().map(|w| (self.number(&w), w.sense)).collect()
    }

    fn number(&mut self, word: &Word) -> usize {
        self.0.iter().position(|w| w == word).unwrap_or_else(|| {
            self.0.push(word.clone());
            self.0.len() - 1
        })
    }

    fn plain(&self, number: usize) -> &str {
        &self.0[number].plain
    }
}

/// What is known of a point's words, read once.
pub struct PointWords {
    thing: Said,
    room: Said,
    beside: Said,
    kind: Option<&'static str>,
    usual: Option<(f64, f64)>,
}

impl PointWords {
    /// `beside`: the names of the rooms next door.
    pub fn new(lexicon: &mut Lexicon, house: &House, point: &Point, beside: &[&str]) -> Self {
        let room = house.rooms.get(point.room).map(|r| lexicon.read(&r.name)).unwrap_or_default();
        let mut thing = lexicon.read(&point.name);
        thing.retain(|(_, sense)| *sense != Sense::Kind);
        let kind = match point.kind {
            PointKind::Light => Some("light"),
            PointKind::Receptacle => Some("receptacle"),
            _ => None,
        };
        let rating = |(name, low, high): &(&str, f64, f64)| {
            thing.iter().any(|(w, _)| lexicon.plain(*w) == *name).then_some((*low, *high))
        };
        let usual = USUAL_RATINGS.iter().find_map(rating);
        let beside = beside.iter().flat_map(|name| lexicon.read(name)).collect();
        Self { thing, room, beside, kind, usual }
    }
}

/// What poles and rating say; nothing where the poles cannot make the voltage: one pole gives no 240 V.
pub fn rating(breaker: &Breaker, feeds_a_panel: bool, point: &Point, said: &PointWords) -> Option<f64> {
    let poles = breaker.at.len();
    let odds = match point.volts.map(|v| v.is_leg_to_leg()) {
        Some(true) if poles == 1 => return None,
        Some(true) => two_pole_odds(breaker, said) * if poles == 3 { 0.1 } else { 1.0 },
        Some(false) => one_leg_odds(breaker),
        None if poles == 1 => one_leg_odds(breaker),
        None => 0.5 * two_pole_odds(breaker, said),
    };
    Some(if feeds_a_panel { odds * FEEDER } else { odds })
}

fn two_pole_odds(breaker: &Breaker, said: &PointWords) -> f64 {
    match said.usual {
        Some((low, high)) if (low..=high).contains(&breaker.amps.0) => 4.0,
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

/// What a label says of a point, if the label is right.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct LabelFit {
    /// The odds it then gives.
    pub odds: f64,
    /// What in it says so.
    pub kind: HintKind,
    /// How far the point's hanging there bears the label out: 1 fully, 0 not at all.
    pub agrees: f64,
}

/// A right label that names the thing.
const THING: f64 = 45.0;
/// A right label that names the room and this kind of point.
const ROOM_AND_KIND: f64 = 52.0;
/// Shares of it where the label names the room only, or another kind there; next door; somewhere else.
const ROOM_ANY_KIND: f64 = 0.6;
const ROOM_OTHER_KIND: f64 = 0.12;
const NEXT_ROOM: f64 = 0.15;
const OTHER_ROOM: f64 = 0.02;
/// A right label that names another thing, or spare.
const NAMES_OTHER_THING: f64 = 0.1;
/// A general label speaks against a large appliance.
const GENERAL_FOR_APPLIANCE: f64 = 0.3;
/// A label with nothing but a kind.
const KIND: f64 = 3.0;
const OTHER_KIND: f64 = 0.3;

/// What a label says of a point; nothing where it says nothing that bears on it.
pub fn label_fit(lexicon: &Lexicon, label: &Said, point: Sort, said: &PointWords) -> Option<LabelFit> {
    let fit = |odds, kind, agrees| Some(LabelFit { odds, kind, agrees });
    if label.is_empty() {
        return None;
    }
    if label.iter().any(|(_, sense)| *sense == Sense::Spare) {
        return fit(NAMES_OTHER_THING, HintKind::LabelSaysSpare, 0.0);
    }
    let names = |these: &Said| label.iter().any(|w| these.contains(w));
    if names(&said.thing) {
        return fit(THING, HintKind::LabelNamesThing, 1.0);
    }
    let kinds: Vec<&str> =
        label.iter().filter(|(_, sense)| *sense == Sense::Kind).map(|(w, _)| lexicon.plain(*w)).collect();
    let named_kind = if kinds.is_empty() { None } else { said.kind.map(|kind| kinds.contains(&kind)) };
    if label.iter().any(|(_, sense)| *sense == Sense::Thing) && !names(&said.room) {
        return fit(NAMES_OTHER_THING, HintKind::LabelNamesOther, 0.0);
    }
    let kind_share = match named_kind {
        Some(true) => 1.0,
        Some(false) => ROOM_OTHER_KIND,
        None => ROOM_ANY_KIND,
    };
    let names_room = label.iter().any(|(_, sense)| matches!(sense, Sense::Room | Sense::Other));
    if !names_room {
        return match named_kind {
            Some(true) => fit(KIND, HintKind::LabelNamesKind, 0.5),
            Some(false) => fit(OTHER_KIND, HintKind::LabelNamesKind, 0.2),
            None => None,
        };
    }
    if !point.is_general() {
        return if names(&said.room) {
            fit(1.0, HintKind::LabelNamesRoom, 0.5)
        } else {
            fit(GENERAL_FOR_APPLIANCE, HintKind::LabelNamesOther, 0.5)
        };
    }
    let (room_share, kind, agrees) = if names(&said.room) {
        (1.0, HintKind::LabelNamesRoom, kind_share)
    } else if names(&said.beside) {
        (NEXT_ROOM, HintKind::LabelNamesRoom, 0.1)
    } else {
        (OTHER_ROOM, HintKind::LabelNamesOther, 0.1)
    };
    fit(1.0 + ROOM_AND_KIND * room_share * kind_share, kind, agrees)
}
