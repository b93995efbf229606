//! The house: everything known about one property, as one value.

mod crew;
mod edits;
mod energy;
mod evidence;
mod floor;
mod held;
mod job;
mod label_sheet;
mod load;
mod log;
pub mod older;
mod panel;
mod picture;
mod point;
mod reading;
mod remark;
mod round;
mod run;
mod things;
mod wiring;

use std::collections::{BTreeMap, BTreeSet};

use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

pub use crew::{Crew, KNOWN_LOAD, KNOWN_LOAD_WATTS, KeptUntil, Method, Pace};
pub(crate) use edits::Thing;
pub use edits::{Edit, Subject, Swap, in_all, invert, subjects};
pub use energy::{Demand, EnergyRecord, LONGEST_STEP, zone};
pub use evidence::{Evidence, Fault, Observation, Seen, Step, Tried, Way};
pub use floor::{Area, Opening, OpeningKind, Spot, Underlay, Wall};
pub use held::{Held, Premise};
pub use job::{
    DeviceJob, Ending, FourHalves, Goal, Halves, HeldQuantity, Hold, HoldKind, Job, JobAct, JobStep, Joined, Joining,
    ListedCircuit, MakeRoom, Moving, NewCircuit, NewDevice, NewSubPanel, NewSurge, Part, ProvenOn, ReadBand, Relief,
    RoomAct, Stage, StepDone, Stood, Stopped, Switching, WasAt,
};
pub use label_sheet::LabelSheet;
pub use load::{Habit, Load, LoadKind};
pub use log::{Event, LogEntry, Outcome, ServiceReading, TripManner};
pub use panel::{
    Breaker, CardSize, Device, Frame, Handle, KnownBy, Panel, PanelPlace, Printed, PrintedLine, School, TandemSpaces,
    Terminal, Trip,
};
pub use picture::{Picture, PictureOf};
pub use point::{Point, PointKind, Room};
pub use reading::{Conductor, Instrument, MeasuredAt, Quantity, Reading, Side, Span};
pub use remark::{AsFound, Remark, Remarks, Saw};
pub use round::{Round, RoundAct, RoundDone, RoundPlace};
pub use run::Run;
pub(crate) use things::things;
pub use wiring::{Circuit, Colour, Landed};

use crate::base::Source;
use crate::base::position::{Half, Leg, Position, parse_poles};
use crate::base::table::{Entity, Table};
use crate::code::canada;

macro_rules! id {
    ($name:ident, $of:expr) => {
        #[doc = concat!("Names one ", $of, ".")]
        ///
        /// Chosen by whoever makes the thing; unique among its kind in the house, below 2^53; later is greater.
        #[derive(Debug, Clone, Copy, PartialEq, Eq, PartialOrd, Ord, Hash, Serialize, Deserialize, ToSchema)]
        #[serde(transparent)]
        pub struct $name(pub u64);
    };
}
id!(StepId, "step of tracing");
id!(BoxId, "box that several points share");

/// For fields that are left out of files where they are false.
pub(crate) fn is_false(value: &bool) -> bool {
    !*value
}

macro_rules! house {
    ($($(#[$attr:meta])* $table:ident: $thing:ident, $id:ident, $word:literal
        => $field:ident [$($put:tt)*] [$($remove:tt)*];)*) => {
        $(id!($id, $word);)*

        $(impl Entity for $thing {
            type Id = $id;

            fn id(&self) -> $id {
                self.id
            }
        })*

        /// One property: its panels, rooms, points and the evidence of what feeds what.
        #[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
        #[serde(deny_unknown_fields)]
        pub struct House {
            /// How many changes made it what it is.
            pub revision: u64,
            /// Name and settings.
            pub about: About,
            $($(#[$attr])* pub $table: Table<$thing>,)*
            /// The step of tracing under way.
            #[serde(default, skip_serializing_if = "Option::is_none")]
            pub step: Option<Step>,
        }

        impl House {
            /// A house with nothing in it yet.
            #[must_use]
            pub fn new(name: impl Into<String>) -> Self {
                Self { revision: 0, about: About::new(name), $($table: Table::default(),)* step: None }
            }
        }
    };
}
things!(house);

/// A house's name and settings.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct About {
    /// What the house is called.
    pub name: String,
    /// How sure (0.9–0.9999) a belief must be to count as proven.
    pub proof_threshold: f64,
    /// Units of lengths on screen and in print.
    #[serde(default)]
    pub lengths: Lengths,
    /// Somebody looked: these are all the panels of the property. Not said means not known.
    #[serde(default, skip_serializing_if = "is_false")]
    pub every_panel: bool,
    /// The living area, where known: what lighting and small things are reckoned from.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub area: Option<LivingArea>,
    /// Whose code applies.
    #[serde(default)]
    pub country: Country,
    /// Things that people forget, by name, which somebody looked for: there are none.
    #[serde(default, skip_serializing_if = "BTreeSet::is_empty")]
    #[schema(value_type = Vec<String>, required = false)]
    pub absent: BTreeSet<String>,
    /// What parts cost, a piece or a foot, by what they are: as somebody typed it, in their own money.
    #[serde(default, skip_serializing_if = "BTreeMap::is_empty")]
    #[schema(required = false)]
    pub prices: BTreeMap<String, f64>,
    /// Sheets of labels that somebody measured.
    #[serde(default, skip_serializing_if = "Vec::is_empty")]
    #[schema(required = false)]
    pub label_sheets: Vec<LabelSheet>,
}

/// A living area as somebody measured it, outside walls included, without garage, porch and unfinished rooms.
/// [pub: NEC 220.11 (2023), value from memory]
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct LivingArea {
    /// How much,
    pub value: f64,
    /// in which unit.
    pub unit: AreaUnit,
}

impl LivingArea {
    /// A foot is 0.3048 m [def].
    const SQUARE_METRES: f64 = 0.3048 * 0.3048;

    /// In square feet.
    #[must_use]
    pub fn square_feet(self) -> f64 {
        match self.unit {
            AreaUnit::Ft2 => self.value,
            AreaUnit::M2 => self.value / Self::SQUARE_METRES,
        }
    }

    /// In square metres.
    #[must_use]
    pub fn square_metres(self) -> f64 {
        match self.unit {
            AreaUnit::Ft2 => self.value * Self::SQUARE_METRES,
            AreaUnit::M2 => self.value,
        }
    }
}

/// What a living area is measured in.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
#[serde(rename_all = "kebab-case")]
pub enum AreaUnit {
    /// Square feet.
    Ft2,
    /// Square metres.
    M2,
}

/// Whose code applies.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Default, Serialize, Deserialize, ToSchema)]
#[serde(rename_all = "kebab-case")]
pub enum Country {
    /// The United States.
    #[default]
    Us,
    /// Canada.
    Ca,
}

/// Units of lengths on screen and in print.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Default, Serialize, Deserialize, ToSchema)]
#[serde(rename_all = "kebab-case")]
pub enum Lengths {
    /// Feet and inches.
    #[default]
    FeetInches,
    /// Metres.
    Metres,
}

impl About {
    /// 0.99: with one direct reading on top, about one point in five hundred came out wrong in simulated houses of twenty
    /// breakers (a model, not a measurement).
    pub const DEFAULT_THRESHOLD: f64 = 0.99;

    fn new(name: impl Into<String>) -> Self {
        let proof_threshold = Self::DEFAULT_THRESHOLD;
        Self {
            name: name.into(),
            proof_threshold,
            lengths: Lengths::FeetInches,
            every_panel: false,
            area: None,
            country: Country::Us,
            absent: BTreeSet::new(),
            prices: BTreeMap::new(),
            label_sheets: Vec::new(),
        }
    }
}

impl House {
    /// A source as the house's country has it.
    #[must_use]
    pub fn says(&self, source: Source) -> Source {
        if self.about.country == Country::Ca { canada::source(source) } else { source }
    }

    /// Panels, those fed by nobody first, then by name.
    #[must_use]
    pub fn panels_in_order(&self) -> Vec<&Panel> {
        let mut panels: Vec<_> = self.panels.iter().collect();
        panels.sort_by_key(|p| (p.fed_by.is_some(), p.name.clone()));
        panels
    }

    /// The breakers of a panel by their first position.
    #[must_use]
    pub fn breakers_of(&self, panel: PanelId) -> Vec<&Breaker> {
        let mut breakers: Vec<_> = self.breakers.iter().filter(|b| b.panel == panel).collect();
        breakers.sort_by(|a, b| a.at.cmp(&b.at));
        breakers
    }

    /// The panel with this name, letter case aside.
    #[must_use]
    pub fn panel_named(&self, name: &str) -> Option<&Panel> {
        self.panels.iter().find(|p| p.name.eq_ignore_ascii_case(name.trim()))
    }

    /// The breaker that stands exactly there.
    #[must_use]
    pub fn breaker_at(&self, panel: PanelId, at: &[Position]) -> Option<&Breaker> {
        self.breakers.iter().find(|b| b.panel == panel && b.at == at)
    }

    /// The breaker meant by `5-7`, by one of its spaces, or by `Annex:3` in another panel than the first; nothing where several
    /// stand there, or where it does not reach over all that is named.
    #[must_use]
    pub fn breaker_called(&self, text: &str) -> Option<BreakerId> {
        let (panel, at) = match text.split_once(':') {
            Some((name, at)) => (self.panel_named(name.trim())?.id, at),
            None => (self.panels_in_order().first()?.id, text),
        };
        let at = parse_poles(at.trim()).ok()?;
        let there = |b: &&Breaker| b.panel == panel && b.at.iter().any(|p| at.iter().any(|named| named.overlaps(*p)));
        let mut there = self.breakers.iter().filter(there);
        let (one, None) = (there.next()?, there.next()) else { return None };
        at.iter().all(|named| one.at.iter().any(|p| p.overlaps(*named))).then_some(one.id)
    }

    /// The breaker with a pole overlapping this position.
    #[must_use]
    pub fn breaker_over(&self, panel: PanelId, position: Position) -> Option<&Breaker> {
        self.breakers.iter().find(|b| b.panel == panel && b.at.iter().any(|p| p.overlaps(position)))
    }

    /// Places of a panel of which nobody said what stands there: no breaker is entered, and they are not marked empty. A
    /// half beside a half-size breaker counts by itself.
    #[must_use]
    pub fn not_entered(&self, panel: &Panel) -> Vec<Position> {
        let taken: Vec<Position> = self.breakers_of(panel.id).into_iter().flat_map(|b| b.at.iter().copied()).collect();
        let known = |p: Position| taken.iter().chain(&panel.empty).any(|k| k.covers(p));
        let halves = |space| [Half::Upper, Half::Lower].map(|half| Position { space, half });
        let open = |space: u16| match halves(space).map(known) {
            [true, true] => Vec::new(),
            [false, false] => vec![Position::whole(space)],
            [upper, _] => vec![halves(space)[usize::from(upper)]],
        };
        panel.numbers().into_iter().flat_map(open).collect()
    }

    /// The point with this tag, letter case aside.
    #[must_use]
    pub fn point_tagged(&self, tag: &str) -> Option<&Point> {
        self.points.iter().find(|p| p.tag.eq_ignore_ascii_case(tag.trim()))
    }

    /// The panel a breaker feeds, if it feeds one.
    #[must_use]
    pub fn panel_fed_by(&self, breaker: BreakerId) -> Option<&Panel> {
        self.panels.iter().find(|p| p.fed_by == Some(breaker))
    }

    /// For each breaker: itself and all breakers in panels fed through it.
    #[must_use]
    pub fn fed_through(&self) -> BTreeMap<BreakerId, BTreeSet<BreakerId>> {
        let mut through: BTreeMap<BreakerId, BTreeSet<BreakerId>> = BTreeMap::new();
        for breaker in self.breakers.iter() {
            let mut up = Some(breaker);
            // Panels are never fed by themselves (integrity), so this climb ends.
            while let Some(b) = up {
                through.entry(b.id).or_default().insert(breaker.id);
                let feeder = self.panels.get(b.panel).and_then(|p| p.fed_by);
                up = feeder.and_then(|f| self.breakers.get(f));
            }
        }
        through
    }

    /// A point as people name it: its room, then what it is.
    #[must_use]
    pub fn called(&self, point: &Point) -> String {
        let room = self.rooms.get(point.room).map_or("", |r| r.name.as_str());
        [room, &point.name].into_iter().filter(|part| !part.is_empty()).collect::<Vec<_>>().join(", ")
    }

    /// The circuits on a breaker, by their pole.
    #[must_use]
    pub fn circuits_of(&self, breaker: BreakerId) -> Vec<&Circuit> {
        let mut circuits: Vec<_> = self.circuits.iter().filter(|c| c.breaker == breaker).collect();
        circuits.sort_by_key(|c| (c.pole, c.id));
        circuits
    }

    /// The circuits that share a neutral with one, whosever it is.
    #[must_use]
    pub fn sharing_neutral(&self, circuit: &Circuit) -> Vec<&Circuit> {
        let of = |c: &Circuit| c.neutral_of.unwrap_or(c.id);
        let whose = of(circuit);
        let shared = |c: &&Circuit| c.id != circuit.id && (c.id == whose || c.neutral_of == Some(whose));
        self.circuits.iter().filter(shared).collect()
    }

    /// The legs that a circuit's hots are on; nothing where its pole is not there.
    #[must_use]
    pub fn legs_of(&self, circuit: &Circuit) -> Option<Vec<Leg>> {
        let breaker = self.breakers.get(circuit.breaker)?;
        let panel = self.panels.get(breaker.panel)?;
        match circuit.pole {
            Some(pole) => breaker.at.get(usize::from(pole).checked_sub(1)?).map(|p| vec![panel.leg(*p)]),
            None => Some(breaker.at.iter().map(|p| panel.leg(*p)).collect()),
        }
    }

    /// The run that goes on.
    #[must_use]
    pub fn run(&self) -> Option<&Run> {
        self.runs.iter().rev().find(|r| r.ended.is_none())
    }

    /// A breaker as people name it: with its panel where there is more than one.
    #[must_use]
    pub fn breaker_name(&self, breaker: &Breaker) -> String {
        match self.panels.get(breaker.panel) {
            Some(panel) if self.panels.len() > 1 => format!("{} {}", panel.name, breaker.at_text()),
            _ => breaker.at_text(),
        }
    }

    /// Points in walking order: by room, then by tag with numbers as numbers.
    #[must_use]
    pub fn points_in_order(&self) -> Vec<&Point> {
        self.in_order(self.points.iter())
    }

    /// Some of them, in the order of the walk.
    #[must_use]
    pub fn in_order<'a>(&self, points: impl Iterator<Item = &'a Point>) -> Vec<&'a Point> {
        let mut points: Vec<_> = points.collect();
        points.sort_by_cached_key(|p| (self.room_order(p.room), tag_key(&p.tag)));
        points
    }

    /// Sort key of a room in the walk: rooms of a floor together, floors as first named.
    #[must_use]
    pub fn room_order(&self, room: RoomId) -> (RoomId, RoomId) {
        let floor = self.rooms.get(room).map(|r| r.floor.as_str());
        let first = self.rooms.iter().find(|r| Some(r.floor.as_str()) == floor).map_or(room, |r| r.id);
        (first, room)
    }
}

/// Letters, then the number: `K2` before `K10`.
#[must_use]
pub fn tag_key(tag: &str) -> (String, u64) {
    let letters = tag.trim_end_matches(|c: char| c.is_ascii_digit());
    (letters.to_ascii_uppercase(), tag[letters.len()..].parse().unwrap_or(0))
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::fixture::Fixture;

    #[test]
    fn points_come_in_the_order_of_a_walk() {
        let mut f = Fixture::new(20);
        let (hall, kitchen) = (f.room("Hall"), f.room("Kitchen"));
        for (tag, room) in [("K10", kitchen), ("K2", kitchen), ("H1", hall), ("K1", kitchen)] {
            f.point(tag, room, PointKind::Light);
        }
        let tags: Vec<_> = f.house.points_in_order().iter().map(|p| p.tag.clone()).collect();
        assert_eq!(tags, ["H1", "K1", "K2", "K10"]);
        // A room upstairs entered first comes first with its floor; floors stay together.
        let loft = Room::new(RoomId(5), "Loft", "2");
        f.house.rooms.put(loft);
        f.point("L1", RoomId(5), PointKind::Light);
        let landing = f.room("Landing");
        f.house.rooms.put(Room::new(landing, "Landing", "2"));
        f.point("N1", landing, PointKind::Light);
        let tags: Vec<_> = f.house.points_in_order().iter().map(|p| p.tag.clone()).collect();
        assert_eq!(tags, ["L1", "N1", "H1", "K1", "K2", "K10"]);
    }

    #[test]
    fn a_breaker_is_meant_by_its_spaces_and_by_no_others() {
        let mut f = Fixture::new(12);
        f.allow_tandems();
        let (one, three, pair) = (f.breaker("1", 20.0, ""), f.breaker("3", 20.0, ""), f.breaker("5-7", 30.0, ""));
        let (upper, _) = (f.breaker("9a", 15.0, ""), f.breaker("9b", 15.0, ""));
        let called = |text: &str| f.house.breaker_called(text);
        assert_eq!(
            (called("1"), called("3"), called("5-7"), called("7")),
            (Some(one), Some(three), Some(pair), Some(pair))
        );
        assert_eq!((called("1-3"), called("3-5"), called("9")), (None, None, None), "several stand there");
        assert_eq!((called("9a"), called("5-7-9"), called("11")), (Some(upper), None, None));
    }

    #[test]
    fn main_panels_come_before_those_they_feed() {
        let mut f = Fixture::new(20);
        let feeder = f.breaker("1-3", 60.0, "");
        f.sub_panel("Annex", feeder);
        let names: Vec<_> = f.house.panels_in_order().iter().map(|p| p.name.clone()).collect();
        assert_eq!(names, ["Main", "Annex"]);
        assert_eq!(f.house.panel_fed_by(feeder).map(|p| p.name.as_str()), Some("Annex"));
    }
}
