//! Jobs: work in a panel that was planned, how far it is, and what was read on the way.
//!
//! What a job is for ([`Goal`]) has every choice made, so that the house after it follows from the house alone. Its steps are
//! kept as they were planned: they are its protocol.

use std::collections::BTreeSet;

use jiff::Timestamp;
use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

use super::{
    Breaker, BreakerId, Circuit, CircuitId, Conductor, Device, Edit, Handle, House, JobId, Load, LoadId, MeasuredAt,
    Panel, PanelId, Point, PointId, ReadingId, is_false,
};
use crate::base::position::Position;
use crate::base::said;
use crate::base::units::{Amps, Feet, Metal, Watts};

/// A breaker and where it goes.
#[derive(Debug, Clone, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct Moving {
    /// Which.
    pub breaker: BreakerId,
    /// Its poles there, top to bottom.
    #[schema(value_type = Vec<String>, example = json!(["5", "7"]))]
    pub to: Vec<Position>,
}

/// How two circuits come onto one breaker.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Default, Serialize, Deserialize, ToSchema)]
#[serde(rename_all = "kebab-case")]
pub enum Joined {
    /// Spliced in the cabinet, with one conductor to the terminal.
    #[default]
    Splice,
    /// Both under the terminal, where it is listed for two.
    Terminal,
}

said!(Joined { Splice => "spliced, one wire to the terminal", Terminal => "both wires under the terminal" });

/// A pair of single breakers that becomes one body in one space.
#[derive(Debug, Clone, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct Halves {
    /// The one that becomes the upper half.
    pub upper: BreakerId,
    /// The one that becomes the lower half.
    pub lower: BreakerId,
    /// The space that both get.
    pub space: u16,
}

/// A two-pole breaker and two single ones that become one body of half-size breakers over two spaces: the two-pole in its
/// middle, across the boundary, where its poles stay on two legs.
#[derive(Debug, Clone, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct FourHalves {
    /// The one that becomes the uppermost half.
    pub upper: BreakerId,
    /// The two-pole one that comes into the middle.
    pub inner: BreakerId,
    /// The one that becomes the lowest half.
    pub lower: BreakerId,
    /// The upper one of the two spaces.
    pub space: u16,
}

/// Two circuits that come onto one breaker.
#[derive(Debug, Clone, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct Joining {
    /// The breaker that stays.
    pub keep: BreakerId,
    /// The breaker that is given up.
    pub give_up: BreakerId,
    /// How.
    #[serde(default)]
    pub way: Joined,
}

/// What is done for room beside moving.
#[derive(Debug, Clone, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
#[serde(tag = "act", rename_all = "kebab-case")]
pub enum RoomAct {
    /// A tandem in place of two single breakers.
    Tandem(Halves),
    /// A body of four halves in place of a two-pole and two single breakers.
    Quad(FourHalves),
    /// Two circuits on one breaker.
    Join(Joining),
    /// A breaker with no wire on it goes.
    TakeOut {
        /// Which.
        breaker: BreakerId,
    },
    /// A circuit moves over to the panel that the job adds.
    MoveOver {
        /// Its breaker.
        breaker: BreakerId,
    },
}

impl RoomAct {
    /// Breakers that it takes in hand, the one that stays at the end.
    #[must_use]
    pub fn breakers(&self) -> Vec<BreakerId> {
        match self {
            Self::Tandem(halves) => vec![halves.upper, halves.lower],
            Self::Quad(four) => vec![four.upper, four.inner, four.lower],
            Self::Join(joining) => vec![joining.give_up, joining.keep],
            Self::TakeOut { breaker } | Self::MoveOver { breaker } => vec![*breaker],
        }
    }
}

/// What makes room in a panel.
#[derive(Debug, Clone, PartialEq, Eq, Default, Serialize, Deserialize, ToSchema)]
#[serde(from = "RoomAsKept")]
pub struct MakeRoom {
    /// What is done beside moving.
    #[serde(skip_serializing_if = "Vec::is_empty")]
    #[schema(required = false)]
    pub acts: Vec<RoomAct>,
    /// Breakers that move.
    #[serde(skip_serializing_if = "Vec::is_empty")]
    #[schema(required = false)]
    pub moves: Vec<Moving>,
    /// Breakers that are left as they are, whatever room they would make.
    #[serde(skip_serializing_if = "BTreeSet::is_empty")]
    #[schema(required = false)]
    pub leave: BTreeSet<BreakerId>,
}

impl MakeRoom {
    /// The same with nothing chosen: what is to be left as it is stays so.
    #[must_use]
    pub fn only_left(&self) -> Self {
        Self { leave: self.leave.clone(), ..Self::default() }
    }

    /// Nothing is chosen yet, but for what is to be left as it is.
    #[must_use]
    pub fn is_open(&self) -> bool {
        self.acts.is_empty() && self.moves.is_empty()
    }
}

/// The same as it may stand in a file or a database: jobs of before had one act of a sort at the most.
#[derive(Deserialize)]
#[serde(deny_unknown_fields)]
struct RoomAsKept {
    #[serde(default)]
    acts: Vec<RoomAct>,
    #[serde(default)]
    moves: Vec<Moving>,
    #[serde(default)]
    leave: BTreeSet<BreakerId>,
    #[serde(default)]
    tandem: Option<Halves>,
    #[serde(default)]
    combine: Option<Joining>,
}

impl From<RoomAsKept> for MakeRoom {
    fn from(kept: RoomAsKept) -> Self {
        let before = kept.tandem.map(RoomAct::Tandem).into_iter().chain(kept.combine.map(RoomAct::Join));
        Self { acts: before.chain(kept.acts).collect(), moves: kept.moves, leave: kept.leave }
    }
}

/// A new circuit with what hangs on it.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct NewCircuit {
    /// The panel.
    pub panel: PanelId,
    /// The place where it is used.
    pub point: Point,
    /// What hangs there, by its nameplate; nothing for receptacles of general use.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub load: Option<Load>,
    /// It takes a neutral, where it runs at the voltage between two legs. Nothing where nobody looked yet.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub neutral: Option<bool>,
    /// It is plugged in; otherwise wired for good.
    #[serde(default, skip_serializing_if = "is_false")]
    pub plugged: bool,
    /// Length of the wire one way, where known.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub length: Option<Feet>,
    /// The id of its breaker.
    pub breaker: BreakerId,
    /// The id of its wires.
    pub circuit: CircuitId,
    /// The rating of its breaker; nothing to let it follow from the nameplate.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub amps: Option<Amps>,
    /// Where its breaker goes; none to let it be chosen.
    #[serde(default, skip_serializing_if = "Vec::is_empty")]
    #[schema(value_type = Vec<String>, required = false)]
    pub at: Vec<Position>,
    /// What makes room for it.
    #[serde(default)]
    pub room: MakeRoom,
}

/// A sub-panel with its feeder, and what moves over to it.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct NewSubPanel {
    /// The panel that feeds it.
    pub panel: PanelId,
    /// The id of the new one.
    pub id: PanelId,
    /// Its name.
    pub name: String,
    /// Its spaces.
    pub spaces: u16,
    /// What its bus carries; nothing to let it follow from the feeder.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub bus: Option<Amps>,
    /// It stands in another building.
    #[serde(default, skip_serializing_if = "is_false")]
    pub separate: bool,
    /// What the feeder's wires are made of.
    #[serde(default)]
    pub metal: Metal,
    /// Length of the feeder one way, where known.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub length: Option<Feet>,
    /// The id of the feeder's breaker.
    pub breaker: BreakerId,
    /// The id of its wires.
    pub circuit: CircuitId,
    /// The rating of its breaker; nothing to let it follow from what it carries.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub amps: Option<Amps>,
    /// Circuits that are to move over.
    #[serde(default, skip_serializing_if = "BTreeSet::is_empty")]
    pub carries: BTreeSet<BreakerId>,
    /// Room that is to be free beside the feeder: `2p`, `5=2p`.
    #[serde(default, skip_serializing_if = "Vec::is_empty")]
    #[schema(required = false)]
    pub beside: Vec<String>,
    /// Where the feeder's breaker goes; none to let it be chosen.
    #[serde(default, skip_serializing_if = "Vec::is_empty")]
    #[schema(value_type = Vec<String>, required = false)]
    pub at: Vec<Position>,
    /// What makes room for it.
    #[serde(default)]
    pub room: MakeRoom,
}

/// A surge protector on a breaker.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct NewSurge {
    /// The panel.
    pub panel: PanelId,
    /// The id of its breaker.
    pub breaker: BreakerId,
    /// The rating that its sheet asks for. Nothing where nobody looked yet.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub amps: Option<Amps>,
    /// Where its breaker goes; none to let it be chosen.
    #[serde(default, skip_serializing_if = "Vec::is_empty")]
    #[schema(value_type = Vec<String>, required = false)]
    pub at: Vec<Position>,
    /// What makes room for it.
    #[serde(default)]
    pub room: MakeRoom,
}

/// What a device becomes.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
#[serde(rename_all = "kebab-case")]
pub enum NewDevice {
    /// A receptacle like the old one.
    Receptacle,
    /// A receptacle with ground-fault protection.
    GroundFault,
    /// A switch like the old one.
    Switch,
}

/// A device made new at its box.
#[derive(Debug, Clone, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct DeviceJob {
    /// Where.
    pub point: PointId,
    /// What it becomes.
    pub becomes: NewDevice,
    /// A ground wire is in the box. Nothing where nobody looked yet.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub ground: Option<bool>,
    /// What comes behind it is protected too.
    #[serde(default, skip_serializing_if = "is_false")]
    pub behind: bool,
}

/// What relieves a circuit.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct Relief {
    /// Its breaker.
    pub breaker: BreakerId,
    /// The thing that gets a circuit of its own; nothing for what does most.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub load: Option<LoadId>,
    /// It is plugged in at this outlet instead: no circuit of its own.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub to: Option<PointId>,
    /// It takes a neutral, where it runs at the voltage between two legs. Nothing where nobody looked yet.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub neutral: Option<bool>,
    /// Length of the new wire one way, where known.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub length: Option<Feet>,
    /// The id of the new breaker.
    pub new: BreakerId,
    /// The id of its wires.
    pub circuit: CircuitId,
    /// The id of the new outlet.
    pub point: PointId,
    /// Where the new breaker goes; none to let it be chosen.
    #[serde(default, skip_serializing_if = "Vec::is_empty")]
    #[schema(value_type = Vec<String>, required = false)]
    pub at: Vec<Position>,
    /// What makes room for it.
    #[serde(default)]
    pub room: MakeRoom,
}

/// A circuit that a new panel gets, its place to be found.
#[derive(Debug, Clone, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct ListedCircuit {
    /// The id of its breaker.
    pub breaker: BreakerId,
    /// The id of its wires.
    pub circuit: CircuitId,
    /// As it is written in a space: `2p50 6-3 range`.
    pub text: String,
}

/// What a job is for.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(tag = "job", rename_all = "kebab-case", deny_unknown_fields)]
#[allow(clippy::large_enum_variant, reason = "a goal lives alone, never in lists")]
pub enum Goal {
    /// A breaker in place of a bad one.
    Replace {
        /// Which.
        breaker: BreakerId,
        /// Its rating; nothing for the same.
        #[serde(default, skip_serializing_if = "Option::is_none")]
        amps: Option<Amps>,
        /// The type of the new one, where known.
        #[serde(default, skip_serializing_if = "String::is_empty")]
        model: String,
    },
    /// A spare breaker of the panel in place of a bad one.
    Swap {
        /// The bad one.
        breaker: BreakerId,
        /// The spare.
        spare: BreakerId,
    },
    /// Two circuits on one breaker: a space is free after.
    Combine(Joining),
    /// A tandem in place of two single breakers: a space is free after.
    Tandem(Halves),
    /// A quad in place of a two-pole and two single breakers: two spaces are free after.
    Quad(FourHalves),
    /// A new circuit.
    Add(NewCircuit),
    /// A new circuit with an outlet for one large thing.
    Dedicated(NewCircuit),
    /// A surge protector.
    Surge(NewSurge),
    /// An interlock kit for an inlet that is there.
    Interlock {
        /// The inlet's breaker.
        breaker: BreakerId,
        /// The place that the kit asks for; none where nobody looked yet.
        #[serde(default, skip_serializing_if = "Vec::is_empty")]
        #[schema(value_type = Vec<String>, required = false)]
        at: Vec<Position>,
        /// The kit is listed for this panel; nothing where nobody looked yet.
        #[serde(default, skip_serializing_if = "Option::is_none")]
        listed: Option<bool>,
        /// Breakers that move for it, itself among them.
        #[serde(default, skip_serializing_if = "Vec::is_empty")]
        moves: Vec<Moving>,
    },
    /// A receptacle, switch or ground-fault device made new.
    Device(DeviceJob),
    /// Splices and terminals of a box made anew.
    Splice {
        /// Where.
        point: PointId,
    },
    /// A circuit relieved of what gets one of its own.
    Relieve(Relief),
    /// A sub-panel, and what moves over to it.
    SubPanel(NewSubPanel),
    /// A circuit of one leg becomes one of two, or back.
    Convert {
        /// Its breaker.
        breaker: BreakerId,
        /// To two legs; otherwise back to one.
        two_legs: bool,
        /// Where its breaker goes; none to let it be chosen.
        #[serde(default, skip_serializing_if = "Vec::is_empty")]
        #[schema(value_type = Vec<String>, required = false)]
        at: Vec<Position>,
        /// Breakers that move for it.
        #[serde(default, skip_serializing_if = "Vec::is_empty")]
        moves: Vec<Moving>,
    },
    /// A breaker with ground-fault or arc-fault protection in place of a plain one or of a device at an outlet.
    Protect {
        /// Which.
        breaker: BreakerId,
        /// What it becomes.
        device: Device,
        /// Ground-fault devices at outlets stay; otherwise plain ones take their place.
        #[serde(default, skip_serializing_if = "is_false")]
        keep_devices: bool,
    },
    /// Breakers change places, for room or for even legs.
    Rearrange {
        /// The panel.
        panel: PanelId,
        /// What is wished for: `2p`, `5=2p`, `balance`.
        #[serde(default, skip_serializing_if = "Vec::is_empty")]
        wishes: Vec<String>,
        /// Breakers that stay.
        #[serde(default, skip_serializing_if = "BTreeSet::is_empty")]
        fixed: BTreeSet<BreakerId>,
        /// What is done for it; nothing to let it be found.
        #[serde(default)]
        room: MakeRoom,
    },
    /// A new panel in place of an old one, or the first breakers of one that is empty still.
    Makeup {
        /// As it shall be, with the id of the old one.
        panel: Panel,
        /// Circuits that it gets beside those of the old one.
        #[serde(default, skip_serializing_if = "Vec::is_empty")]
        more: Vec<ListedCircuit>,
        /// Where its breakers go; none to let that be found.
        #[serde(default, skip_serializing_if = "Vec::is_empty")]
        moves: Vec<Moving>,
    },
    /// A generator's inlet on a breaker that an interlock keeps off while the main is on.
    Generator {
        /// The panel.
        panel: PanelId,
        /// The id of its breaker.
        breaker: BreakerId,
        /// What the generator gives for hours.
        watts: Watts,
        /// The place that the interlock asks for; none where nobody looked yet.
        #[serde(default, skip_serializing_if = "Vec::is_empty")]
        #[schema(value_type = Vec<String>, required = false)]
        at: Vec<Position>,
        /// The interlock is listed for this panel; nothing where nobody looked yet.
        #[serde(default, skip_serializing_if = "Option::is_none")]
        listed: Option<bool>,
        /// What the generator gives for a moment, where its plate says.
        #[serde(default, skip_serializing_if = "Option::is_none")]
        start: Option<Watts>,
        /// Neutral and frame are bonded at the generator; nothing where nobody looked yet.
        #[serde(default, skip_serializing_if = "Option::is_none")]
        bonded: Option<bool>,
        /// Circuits that it is to carry.
        #[serde(default, skip_serializing_if = "BTreeSet::is_empty")]
        carries: BTreeSet<BreakerId>,
        /// Breakers that move for it.
        #[serde(default, skip_serializing_if = "Vec::is_empty")]
        moves: Vec<Moving>,
    },
    /// A circuit that is not used any more.
    Retire {
        /// Its breaker.
        breaker: BreakerId,
        /// The breaker stays as a spare, off; otherwise it goes, and its space is closed.
        #[serde(default, skip_serializing_if = "is_false")]
        spare: bool,
    },
    /// Several of these in one shutdown.
    Several {
        /// Which; none is several itself.
        #[schema(no_recursion)]
        goals: Vec<Goal>,
        /// They are done in this order; otherwise it is found.
        #[serde(default, skip_serializing_if = "is_false")]
        in_order: bool,
    },
}

impl Goal {
    /// What it consists of: itself, or each of several.
    #[must_use]
    pub fn each(&self) -> &[Goal] {
        if let Self::Several { goals, .. } = self { goals } else { std::slice::from_ref(self) }
    }

    /// The panel that it lays out in a house that has none yet, empty as it is hung.
    #[must_use]
    pub fn first_panel(&self, house: &House) -> Option<Panel> {
        let laid_out = |goal: &Goal| match goal {
            Self::Makeup { panel, .. } => {
                let empty = panel.numbers().into_iter().map(Position::whole).collect();
                Some(Panel { empty, ..panel.clone() })
            }
            _ => None,
        };
        if house.panels.is_empty() { self.each().iter().find_map(laid_out) } else { None }
    }

    /// The circuits that it adds.
    pub fn new_circuits(&self) -> impl Iterator<Item = &NewCircuit> {
        self.each().iter().filter_map(|goal| match goal {
            Self::Add(new) | Self::Dedicated(new) => Some(new),
            _ => None,
        })
    }

    /// The breaker that carries what hung on this one, where it is given up for another.
    #[must_use]
    pub fn joined(&self, breaker: BreakerId) -> Option<BreakerId> {
        let of_room = |room: &MakeRoom| {
            room.acts.iter().find_map(|act| match act {
                RoomAct::Join(joining) if joining.give_up == breaker => Some(joining.keep),
                _ => None,
            })
        };
        match self {
            Self::Combine(joining) => (joining.give_up == breaker).then_some(joining.keep),
            Self::Rearrange { room, .. } => of_room(room),
            Self::SubPanel(new) => of_room(&new.room),
            Self::Surge(new) => of_room(&new.room),
            Self::Add(new) | Self::Dedicated(new) => of_room(&new.room),
            Self::Several { goals, .. } => {
                let end = goals.iter().fold(breaker, |at, goal| goal.joined(at).unwrap_or(at));
                (end != breaker).then_some(end)
            }
            _ => None,
        }
    }
}

/// Where in a job a step belongs, in this order.
#[derive(Debug, Clone, Copy, PartialEq, Eq, PartialOrd, Ord, Serialize, Deserialize, ToSchema)]
#[serde(rename_all = "kebab-case")]
pub enum Stage {
    /// Before anything is opened.
    Before,
    /// Off, and proven dead.
    Dead,
    /// The work.
    Work,
    /// Before the power comes back.
    Close,
    /// Power comes back, one after the other.
    BackOn,
    /// Is it right?
    Verify,
    /// Card, plates, tags.
    Record,
}

said!(Stage {
    Before => "before",
    Dead => "off, and proven dead",
    Work => "the work",
    Close => "close",
    BackOn => "back on, one by one",
    Verify => "is it right?",
    Record => "write it down",
});

/// What a hold point measures.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
#[serde(rename_all = "kebab-case")]
pub enum HoldKind {
    /// Volts that must be there.
    Live,
    /// Volts that must be gone. A few may be those of wires that run beside others.
    Dead,
    /// Volts of the source that the meter is tested on.
    Source,
}

/// What is read at a hold point.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
#[serde(rename_all = "kebab-case")]
pub enum HeldQuantity {
    /// Volts.
    Volts,
}

/// What a reading must lie in.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct ReadBand {
    /// At least this,
    pub from: f64,
    /// at most this.
    pub to: f64,
}

impl ReadBand {
    /// True for what lies in it.
    #[must_use]
    pub fn holds(self, value: f64) -> bool {
        value >= self.from && value <= self.to
    }
}

/// A reading that must lie in its band before the next step opens.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct Hold {
    /// What it is about.
    pub kind: HoldKind,
    /// What is read,
    pub quantity: HeldQuantity,
    /// between what, in words.
    pub between: String,
    /// What it must lie in.
    pub expect: ReadBand,
    /// What the network of the house lets expect.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub likely: Option<f64>,
    /// Where it is measured; nothing for a source that is no part of the house.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub place: Option<MeasuredAt>,
    /// The two conductors, where it is just two.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub conductors: Option<[Conductor; 2]>,
}

/// What a step switches.
#[derive(Debug, Clone, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct Switching {
    /// On; otherwise off.
    pub on: bool,
    /// The panel that is switched as a whole, by its main or the disconnect before it.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub panel: Option<PanelId>,
    /// Breakers.
    #[serde(default, skip_serializing_if = "BTreeSet::is_empty")]
    pub breakers: BTreeSet<BreakerId>,
}

/// One action.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct JobStep {
    /// Its name, unlike that of any other step of the job.
    pub key: String,
    /// Where it belongs.
    pub stage: Stage,
    /// What to do.
    #[serde(rename = "do")]
    pub what: String,
    /// Why.
    #[serde(default, skip_serializing_if = "String::is_empty")]
    pub why: String,
    /// With which tool.
    #[serde(default, skip_serializing_if = "String::is_empty")]
    pub tool: String,
    /// Where, to be drawn.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub place: Option<MeasuredAt>,
    /// The reading that it must show.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub hold: Option<Hold>,
    /// What it switches.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub switches: Option<Switching>,
    /// What is to be written down with it, in words; nothing where nothing is.
    #[serde(default, skip_serializing_if = "String::is_empty")]
    pub note: String,
    /// What it makes true in the record, once the last check has passed.
    #[serde(default, skip_serializing_if = "Vec::is_empty")]
    #[schema(value_type = Vec<Object>, required = false)]
    pub makes: Vec<Edit>,
}

/// What stood where the work is when it was planned.
#[derive(Debug, Clone, PartialEq, Default, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct Stood {
    /// Breakers, their handles aside.
    #[serde(default, skip_serializing_if = "Vec::is_empty")]
    pub breakers: Vec<Breaker>,
    /// Wires.
    #[serde(default, skip_serializing_if = "Vec::is_empty")]
    pub circuits: Vec<Circuit>,
    /// Points that hands work at, proven on a breaker of it.
    #[serde(default, skip_serializing_if = "Vec::is_empty")]
    pub hung: Vec<ProvenOn>,
}

/// A point that was proven to hang on a breaker.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct ProvenOn {
    /// Which.
    pub point: PointId,
    /// On this one.
    pub breaker: BreakerId,
}

/// A step that was done, or a reading that did not pass.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct StepDone {
    /// The step's key.
    pub step: String,
    /// When.
    #[schema(value_type = String, format = DateTime)]
    pub time: Timestamp,
    /// By whom.
    pub who: String,
    /// What was read,
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub value: Option<f64>,
    /// in the mode that loads what is measured, or with a lamp,
    #[serde(default, skip_serializing_if = "is_false")]
    pub loaded: bool,
    /// kept as this reading of the house.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub reading: Option<ReadingId>,
    /// What was written down with it.
    #[serde(default, skip_serializing_if = "String::is_empty")]
    pub noted: String,
    /// What was wrong with the reading before, which did not pass.
    #[serde(default, skip_serializing_if = "String::is_empty")]
    pub why: String,
    /// It opened the next step.
    pub passed: bool,
    /// Why it counts no more: what it showed may have changed since, or it was a slip of the finger. It stays written down.
    #[serde(default, skip_serializing_if = "String::is_empty")]
    pub void: String,
    /// Handles as they stood before, where it moved any.
    #[serde(default, skip_serializing_if = "Vec::is_empty")]
    pub handles: Vec<WasAt>,
}

impl StepDone {
    /// It passed, and counts still.
    #[must_use]
    pub fn stands(&self) -> bool {
        self.passed && self.void.is_empty()
    }
}

/// A handle as it stood.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct WasAt {
    /// Whose.
    pub breaker: BreakerId,
    /// How it stood.
    pub handle: Handle,
}

/// Work that was left.
#[derive(Debug, Clone, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct Stopped {
    /// When.
    #[schema(value_type = String, format = DateTime)]
    pub time: Timestamp,
    /// By whom.
    pub who: String,
    /// Why.
    #[serde(default, skip_serializing_if = "String::is_empty")]
    pub why: String,
    /// Somebody at the panel took it over: what the job held off is held no more.
    #[serde(default, skip_serializing_if = "is_false")]
    pub taken_over: bool,
}

/// How a job ended.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
#[serde(rename_all = "kebab-case")]
pub enum Ending {
    /// Its last check passed, and the house is as planned.
    Finished,
    /// It was given up, and the house is as it was.
    GivenUp,
}

/// Something to have at hand.
#[derive(Debug, Clone, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct Part {
    /// How many; none where it is to be measured first.
    pub count: u32,
    /// In which unit; none for pieces.
    #[serde(default, skip_serializing_if = "String::is_empty")]
    pub unit: String,
    /// What, with its size: a price is kept by it.
    pub what: String,
    /// What more there is to know of it.
    #[serde(default, skip_serializing_if = "String::is_empty")]
    pub note: String,
}

impl Part {
    /// Puts it with others: of a sort they are counted together, but for what is to be measured first.
    pub fn add_to(self, parts: &mut Vec<Self>) {
        let alike =
            |known: &Self| (&known.what, &known.unit, known.count == 0) == (&self.what, &self.unit, self.count == 0);
        match parts.iter_mut().find(|known| alike(known)) {
            Some(known) => known.count += self.count,
            None => parts.push(self),
        }
    }
}

/// Planned work.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct Job {
    /// Its id.
    pub id: JobId,
    /// When it began.
    #[schema(value_type = String, format = DateTime)]
    pub begun: Timestamp,
    /// Who began it.
    pub who: String,
    /// In a few words.
    pub title: String,
    /// The panel where the work is.
    pub panel: PanelId,
    /// What it is for.
    pub goal: Goal,
    /// All its steps.
    pub steps: Vec<JobStep>,
    /// What stood where the work is when it was planned.
    #[serde(default)]
    pub stood: Stood,
    /// What was to be at hand.
    #[serde(default, skip_serializing_if = "Vec::is_empty")]
    pub parts: Vec<Part>,
    /// With which tools.
    #[serde(default, skip_serializing_if = "Vec::is_empty")]
    pub tools: Vec<String>,
    /// What was done, in that order.
    #[serde(default, skip_serializing_if = "Vec::is_empty")]
    pub done: Vec<StepDone>,
    /// Somebody left it; nothing while it goes on.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub stopped: Option<Stopped>,
    /// When its last check passed and the house became as planned.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    #[schema(value_type = Option<String>, format = DateTime)]
    pub made: Option<Timestamp>,
    /// When it ended.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    #[schema(value_type = Option<String>, format = DateTime)]
    pub ended: Option<Timestamp>,
    /// It was given up with something off or open, and nobody has said yet that it is left safe.
    #[serde(default, skip_serializing_if = "is_false")]
    pub left_open: bool,
}

impl Job {
    /// True for a step that has passed, and counts still.
    #[must_use]
    pub fn has_passed(&self, key: &str) -> bool {
        self.done.iter().any(|done| done.stands() && done.step == key)
    }

    /// What was done in a stage, and counts still.
    fn standing(&self, of: Stage) -> impl Iterator<Item = &StepDone> {
        let is = move |done: &&StepDone| self.step(&done.step).is_some_and(|step| step.stage == of);
        self.done.iter().filter(|done| done.stands()).filter(is)
    }

    /// A step by its key.
    #[must_use]
    pub fn step(&self, key: &str) -> Option<&JobStep> {
        self.steps.iter().find(|step| step.key == key)
    }

    /// Power has come back: from there on nobody lays hands on a conductor.
    #[must_use]
    pub fn power_is_back(&self) -> bool {
        self.standing(Stage::BackOn).next().is_some()
    }

    /// Whose hands are in it: who did the last step.
    #[must_use]
    pub fn hands(&self) -> &str {
        self.done.last().map_or(&self.who, |last| &last.who)
    }

    /// Somebody has begun to switch off for it: what it holds is its own from then on.
    #[must_use]
    pub fn is_opened(&self) -> bool {
        self.done.iter().any(|done| self.step(&done.step).is_some_and(|step| step.stage >= Stage::Dead))
    }

    /// It is done in a box, with the cover of the panel on.
    #[must_use]
    pub fn is_in_a_box(&self) -> bool {
        self.steps.iter().all(|step| step.key != "cover")
    }

    /// Something has been done with the wires.
    #[must_use]
    pub fn is_worked_in(&self) -> bool {
        self.standing(Stage::Work).next().is_some()
    }

    /// When all was proven dead between two tests of the meter, as long as that counts.
    #[must_use]
    pub fn dead_since(&self) -> Option<Timestamp> {
        let mut of_stage = self.steps.iter().filter(|step| step.stage == Stage::Dead).peekable();
        of_stage.peek()?;
        let all = of_stage.all(|step| self.has_passed(&step.key));
        (all && !self.power_is_back()).then(|| self.standing(Stage::Dead).map(|done| done.time).max()).flatten()
    }

    /// What was shown dead counts no more, and is to be shown again before hands go in; where `off` too, so does that it is
    /// off and open at all. Once power has come back nothing rests on it any more.
    pub fn void_dead(&mut self, why: &str, off: bool) {
        if self.power_is_back() {
            return;
        }
        let Self { steps, done, .. } = self;
        let of_it = |key: &str| {
            steps.iter().any(|step| step.key == key && step.stage == Stage::Dead && (off || step.hold.is_some()))
        };
        done.iter_mut().filter(|done| done.stands() && of_it(&done.step)).for_each(|done| done.void = why.to_owned());
    }

    /// The step that is next; nothing where all are done.
    #[must_use]
    pub fn next(&self) -> Option<&JobStep> {
        self.steps.iter().find(|step| !self.has_passed(&step.key))
    }

    /// The last step that passed.
    #[must_use]
    pub fn last(&self) -> Option<&JobStep> {
        let last = self.done.iter().rev().find(|done| done.stands())?;
        self.step(&last.step)
    }

    /// What it switched off and has not switched on again: panels as a whole, and breakers. What nobody has worked in yet is
    /// no longer kept off once that counts no more.
    #[must_use]
    pub fn keeps_off(&self) -> (BTreeSet<PanelId>, BTreeSet<BreakerId>) {
        let worked = self.is_worked_in();
        self.off_by(|done| done.passed && (worked || done.void.is_empty()))
    }

    /// What of that is off as far as anybody can say: nothing that may have come on since.
    #[must_use]
    pub fn surely_off(&self) -> (BTreeSet<PanelId>, BTreeSet<BreakerId>) {
        self.off_by(StepDone::stands)
    }

    /// What it had off at a time, whatever came of it since.
    #[must_use]
    pub fn off_at(&self, time: Timestamp) -> (BTreeSet<PanelId>, BTreeSet<BreakerId>) {
        let over = self.ended.is_some_and(|end| end < time) && !self.left_open;
        self.off_by(|done| !over && done.passed && done.time <= time)
    }

    fn off_by(&self, counts: impl Fn(&StepDone) -> bool) -> (BTreeSet<PanelId>, BTreeSet<BreakerId>) {
        let (mut panels, mut breakers) = (BTreeSet::new(), BTreeSet::new());
        let switches = |done: &StepDone| self.step(&done.step)?.switches.as_ref();
        for switches in self.done.iter().filter(|done| counts(done)).filter_map(switches) {
            if switches.on {
                panels.retain(|panel| Some(*panel) != switches.panel);
                breakers.retain(|breaker| !switches.breakers.contains(breaker));
            } else {
                panels.extend(switches.panel);
                breakers.extend(&switches.breakers);
            }
        }
        (panels, breakers)
    }

    /// How it ended.
    #[must_use]
    pub fn ending(&self) -> Option<Ending> {
        self.ended.map(|_| if self.made.is_some() { Ending::Finished } else { Ending::GivenUp })
    }
}

/// What happens in a job.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(tag = "what", rename_all = "kebab-case", deny_unknown_fields)]
pub enum JobAct {
    /// A step without a reading is done.
    Done {
        /// Its key.
        step: String,
        /// What is written down with it, where it asks for that.
        #[serde(default, skip_serializing_if = "String::is_empty")]
        noted: String,
    },
    /// A step's reading was taken.
    Read {
        /// Its key.
        step: String,
        /// How much.
        value: f64,
        /// In the mode that loads what is measured, or with a lamp.
        #[serde(default)]
        loaded: bool,
        /// The id that the reading gets.
        reading: ReadingId,
        /// What was wrong with the last one, where that did not pass.
        #[serde(default, skip_serializing_if = "String::is_empty")]
        why: String,
    },
    /// The last step was not done after all, or the last reading that did not pass was a slip of the finger.
    Back,
    /// The work is left, for now: what was shown dead is to be shown again.
    Stop {
        /// Why.
        #[serde(default)]
        why: String,
    },
    /// Somebody else, at the panel, takes over what the job holds off: what it has shown dead counts no more.
    TakeOver {
        /// Why.
        #[serde(default)]
        why: String,
    },
    /// It goes on.
    GoOn,
    /// It is given up; the house stays as it was.
    GiveUp,
    /// What was given up with something off or open is left safe now.
    MadeSafe,
}
