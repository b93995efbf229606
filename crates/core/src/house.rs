//! The house: everything known about one property, as one value.

use std::collections::BTreeSet;

use jiff::Timestamp;
use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

use crate::position::{Column, Leg, Numbering, Position, Supply, format_poles};
use crate::table::{Entity, Table};
use crate::units::{Amps, Inches, NominalVolts};

macro_rules! id {
    ($(#[$doc:meta])* $name:ident) => {
        $(#[$doc])*
        /// Chosen by whoever makes the thing; unique among its kind in the house, below 2^53; later is greater.
        #[derive(Debug, Clone, Copy, PartialEq, Eq, PartialOrd, Ord, Hash, Serialize, Deserialize, ToSchema)]
        #[serde(transparent)]
        pub struct $name(pub u64);
    };
}
id!(/** Names a panel. */ PanelId);
id!(/** Names a breaker. */ BreakerId);
id!(/** Names a room. */ RoomId);
id!(/** Names a point. */ PointId);
id!(/** Names a piece of evidence. */ EvidenceId);
id!(/** Names a step of tracing. */ StepId);

/// One property: its panels, rooms, points and the evidence of what feeds what.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct House {
    /// How many changes made it what it is.
    pub revision: u64,
    /// Name and settings.
    pub about: About,
    /// Enclosures with a bus.
    #[schema(value_type = Vec<Panel>)]
    pub panels: Table<Panel>,
    /// Overcurrent devices, fuses included.
    #[schema(value_type = Vec<Breaker>)]
    pub breakers: Table<Breaker>,
    /// Rooms, in the order of a walk through the house.
    #[schema(value_type = Vec<Room>)]
    pub rooms: Table<Room>,
    /// Places where power is used or switched.
    #[schema(value_type = Vec<Point>)]
    pub points: Table<Point>,
    /// All observations.
    #[schema(value_type = Vec<Evidence>)]
    pub evidence: Table<Evidence>,
    /// The step of tracing under way.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub step: Option<Step>,
}

/// A house's name and settings.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct About {
    /// What the house is called.
    pub name: String,
    /// How sure (0.9–0.9999) a belief must be to count as proven.
    pub proof_threshold: f64,
}

impl About {
    /// 0.99: with one direct reading on top, about one point in five hundred came out wrong in simulated houses of twenty
    /// breakers (a model, not a measurement).
    pub const DEFAULT_THRESHOLD: f64 = 0.99;
}

/// Which spaces take half-size breakers, as the panel's label says.
#[derive(Debug, Clone, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
#[serde(rename_all = "kebab-case")]
pub enum TandemSpaces {
    /// None, or not known: nothing is assumed allowed.
    None,
    /// Every space.
    All,
    /// Just these spaces.
    Some(BTreeSet<u16>),
}

impl TandemSpaces {
    /// True where the label allows half-size breakers.
    #[must_use]
    pub fn allow(&self, space: u16) -> bool {
        match self {
            Self::None => false,
            Self::All => true,
            Self::Some(spaces) => spaces.contains(&space),
        }
    }
}

/// The measured place for the card on the inside of a panel's door.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct CardSize {
    /// Width in inches.
    pub width: Inches,
    /// Height in inches.
    pub height: Inches,
}

/// An enclosure with a bus and numbered spaces.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct Panel {
    /// Its id.
    pub id: PanelId,
    /// What people call it: `Main`, `Annex`.
    pub name: String,
    /// The breaker that feeds it; nothing for a main panel.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub fed_by: Option<BreakerId>,
    /// What kind of supply its bus has.
    pub supply: Supply,
    /// Rating of the bus.
    pub bus: Amps,
    /// Rating of its main breaker; nothing for main lugs only.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub main: Option<Amps>,
    /// Number of full-size spaces.
    pub spaces: u16,
    /// How they are numbered.
    pub numbering: Numbering,
    /// Which spaces take half-size breakers.
    pub tandem: TandemSpaces,
    /// Most circuits the label allows (every pole counts one).
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub max_circuits: Option<u16>,
    /// Spaces that were looked at and are empty.
    #[serde(default, skip_serializing_if = "BTreeSet::is_empty")]
    pub empty: BTreeSet<u16>,
    /// Size of the place for the card.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub card: Option<CardSize>,
}

impl Panel {
    /// Column and row of a space.
    #[must_use]
    pub fn place(&self, space: u16) -> (Column, u16) {
        self.numbering.place(space, self.spaces)
    }

    /// The leg a position gets.
    #[must_use]
    pub fn leg(&self, position: Position) -> Leg {
        Leg::of_row(self.place(position.space).1, self.supply)
    }
}

/// What an overcurrent device is.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
#[serde(rename_all = "kebab-case")]
pub enum Device {
    /// A breaker without further protection.
    Plain,
    /// Ground-fault breaker.
    Gfci,
    /// Arc-fault breaker.
    Afci,
    /// Both in one.
    Dual,
    /// A fuse.
    Fuse,
}

/// Where a handle stands.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
#[serde(rename_all = "kebab-case")]
pub enum Handle {
    /// On.
    On,
    /// Switched off by hand.
    Off,
    /// Tripped: between on and off, or flagged.
    Tripped,
}

/// An overcurrent device with 1–3 poles.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct Breaker {
    /// Its id.
    pub id: BreakerId,
    /// The panel it stands in.
    pub panel: PanelId,
    /// Its poles, top to bottom.
    #[schema(value_type = Vec<String>, example = json!(["5", "7"]))]
    pub at: Vec<Position>,
    /// Rating.
    pub amps: Amps,
    /// What it is.
    pub device: Device,
    /// Where its handle stands.
    pub handle: Handle,
    /// The label as found; evidence of low weight.
    #[serde(default, skip_serializing_if = "String::is_empty")]
    pub label: String,
}

impl Breaker {
    /// Its poles as written: `5-7`.
    #[must_use]
    pub fn at_text(&self) -> String {
        format_poles(&self.at)
    }

    /// True where power does not pass.
    #[must_use]
    pub fn is_off(&self) -> bool {
        self.handle != Handle::On
    }
}

/// A room, hall, loft, yard: where points are.
#[derive(Debug, Clone, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct Room {
    /// Its id.
    pub id: RoomId,
    /// What people call it, by its place in the house.
    pub name: String,
    /// Its floor: `1`, `basement`, `outside`.
    pub floor: String,
}

/// What a point is.
#[derive(Debug, Clone, Copy, PartialEq, Eq, PartialOrd, Ord, Serialize, Deserialize, ToSchema)]
#[serde(rename_all = "kebab-case")]
pub enum PointKind {
    /// One half of a receptacle, or a whole one where the halves are together.
    Receptacle,
    /// A light.
    Light,
    /// A switch with power at it.
    Switch,
    /// A fixed or dedicated appliance.
    Appliance,
    /// A smoke or carbon monoxide alarm, a bell transformer.
    Alarm,
    /// Anything else: a capped cable, a disconnect.
    Other,
}

/// A place where power is used or switched.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct Point {
    /// Its id.
    pub id: PointId,
    /// What is written on its cover plate: `K3`.
    pub tag: String,
    /// Where it is.
    pub room: RoomId,
    /// What it is.
    pub kind: PointKind,
    /// What people call it: `counter left of sink`.
    #[serde(default, skip_serializing_if = "String::is_empty")]
    pub name: String,
    /// The voltage it is made for, where known.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub volts: Option<NominalVolts>,
    /// Nameplate watts, where known.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub watts: Option<f64>,
}

/// What a look at a point told.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
#[serde(rename_all = "kebab-case")]
pub enum Seen {
    /// Power is there.
    Live,
    /// No sign of power. Never a promise that it is safe.
    Dead,
    /// Could not tell.
    Unsure,
}

/// How it was looked at.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
#[serde(rename_all = "kebab-case")]
pub enum Way {
    /// An outlet tester, or a non-contact tester.
    Tester,
    /// A lamp plugged in.
    Lamp,
    /// The light itself.
    Light,
    /// A radio heard.
    Radio,
    /// A meter.
    Meter,
    /// What somebody says.
    Word,
}

/// What was observed.
#[derive(Debug, Clone, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
#[serde(tag = "what", rename_all = "kebab-case", deny_unknown_fields)]
pub enum Observation {
    /// Power looked for at the point with these breakers off and all others on.
    Power {
        /// The complete set that was off.
        off: BTreeSet<BreakerId>,
        /// What was seen.
        seen: Seen,
        /// How.
        how: Way,
    },
    /// With a transmitter at the point, the receiver pointed at this breaker.
    Pointed {
        /// The breaker pointed at.
        at: BreakerId,
    },
}

impl Observation {
    /// Every breaker it speaks of.
    pub fn breakers(&self) -> impl Iterator<Item = BreakerId> + '_ {
        let (off, at) = match self {
            Self::Power { off, .. } => (Some(off), None),
            Self::Pointed { at } => (None, Some(*at)),
        };
        off.into_iter().flatten().copied().chain(at)
    }
}

/// One observation that bears on what feeds a point.
#[derive(Debug, Clone, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct Evidence {
    /// Its id.
    pub id: EvidenceId,
    /// The point looked at.
    pub point: PointId,
    /// When.
    #[schema(value_type = String, format = DateTime)]
    pub time: Timestamp,
    /// Who says so.
    pub who: String,
    /// The step of tracing it answers, if any.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub step: Option<StepId>,
    /// What was observed.
    pub observation: Observation,
}

/// A step of tracing under way: handles moved, points to look at.
#[derive(Debug, Clone, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct Step {
    /// Its id.
    pub id: StepId,
    /// The complete set that is off; all others are on.
    pub off: BTreeSet<BreakerId>,
    /// Points to look at, in walking order.
    pub visit: Vec<PointId>,
}

macro_rules! entity {
    ($thing:ident, $id:ident) => {
        impl Entity for $thing {
            type Id = $id;

            fn id(&self) -> $id {
                self.id
            }
        }
    };
}
entity!(Panel, PanelId);
entity!(Breaker, BreakerId);
entity!(Room, RoomId);
entity!(Point, PointId);
entity!(Evidence, EvidenceId);

impl House {
    /// A house with nothing in it yet.
    #[must_use]
    pub fn new(name: impl Into<String>) -> Self {
        Self {
            revision: 0,
            about: About { name: name.into(), proof_threshold: About::DEFAULT_THRESHOLD },
            panels: Table::default(),
            breakers: Table::default(),
            rooms: Table::default(),
            points: Table::default(),
            evidence: Table::default(),
            step: None,
        }
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

    /// The breaker with a pole overlapping this position.
    #[must_use]
    pub fn breaker_over(&self, panel: PanelId, position: Position) -> Option<&Breaker> {
        self.breakers.iter().find(|b| b.panel == panel && b.at.iter().any(|p| p.overlaps(position)))
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

    /// Points in walking order: by room, then by tag with numbers as numbers.
    #[must_use]
    pub fn points_in_order(&self) -> Vec<&Point> {
        let mut points: Vec<_> = self.points.iter().collect();
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
        let loft = Room { id: RoomId(5), name: "Loft".into(), floor: "2".into() };
        f.house.rooms.put(loft);
        f.point("L1", RoomId(5), PointKind::Light);
        let landing = f.room("Landing");
        f.house.rooms.put(Room { id: landing, name: "Landing".into(), floor: "2".into() });
        f.point("N1", landing, PointKind::Light);
        let tags: Vec<_> = f.house.points_in_order().iter().map(|p| p.tag.clone()).collect();
        assert_eq!(tags, ["L1", "N1", "H1", "K1", "K2", "K10"]);
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
