//! Panels and the overcurrent devices in them.

use std::collections::BTreeSet;

use jiff::Timestamp;
use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

use super::{BreakerId, PanelId, RoomId, Spot, is_false};
use crate::base::position::{Column, Half, Leg, Numbering, Position, Supply, format_poles};
use crate::base::said;
use crate::base::units::{Amps, Gauge, InchPounds, Inches, SPACES};

/// Which spaces take half-size breakers.
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
    /// Reads `none`, `all`, or spaces as `17-20;37,40`; nothing where it is none of them.
    #[must_use]
    pub fn read(text: &str) -> Option<Self> {
        match text.trim().to_ascii_lowercase().as_str() {
            "" | "none" => return Some(Self::None),
            "all" => return Some(Self::All),
            _ => {}
        }
        let range = |part: &str| {
            let (from, to) = part.split_once('-').unwrap_or((part, part));
            let (from, to): (u16, u16) = (from.trim().parse().ok()?, to.trim().parse().ok()?);
            (from > 0 && from <= to && SPACES.contain(f64::from(to))).then_some(from..=to)
        };
        let ranges: Option<Vec<_>> = text.split([';', ',']).map(range).collect();
        Some(Self::Some(ranges?.into_iter().flatten().collect()))
    }

    /// True where half-size breakers are allowed.
    #[must_use]
    pub fn allow(&self, space: u16) -> bool {
        match self {
            Self::None => false,
            Self::All => true,
            Self::Some(spaces) => spaces.contains(&space),
        }
    }
}

/// How it is known which spaces take half-size breakers.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
#[serde(rename_all = "kebab-case")]
pub enum KnownBy {
    /// The panel's label says so.
    Label,
    /// The notches in its bus or rail were seen.
    Notch,
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

/// What the card on the door said when it was last printed.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct Printed {
    /// When.
    #[schema(value_type = String, format = DateTime)]
    pub time: Timestamp,
    /// The house's revision it was made of.
    pub revision: u64,
    /// Its entries.
    pub lines: Vec<PrintedLine>,
}

/// One entry of a printed card.
#[derive(Debug, Clone, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct PrintedLine {
    /// The spaces it takes.
    pub at: String,
    /// What it said.
    pub text: String,
}

/// Where a panel hangs.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct PanelPlace {
    /// The room.
    pub room: RoomId,
    /// The place in it, where it is drawn.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub spot: Option<Spot>,
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
    /// How that is known; nothing where it is not.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub tandem_known: Option<KnownBy>,
    /// Most circuits the label allows (every pole counts one).
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub max_circuits: Option<u16>,
    /// Spaces, and halves beside a half-size breaker, that were looked at and are empty.
    #[serde(default, skip_serializing_if = "BTreeSet::is_empty")]
    #[schema(value_type = Vec<String>, required = false)]
    pub empty: BTreeSet<Position>,
    /// Size of the place for the card.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub card: Option<CardSize>,
    /// Type, as its label says.
    #[serde(default, skip_serializing_if = "String::is_empty")]
    pub model: String,
    /// Breaker types that its label lists.
    #[serde(default, skip_serializing_if = "Vec::is_empty")]
    pub listed: Vec<String>,
    /// Neutral bonded to ground in it; nothing where that was not looked at.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub bonded: Option<bool>,
    /// Its neutral bars take plug-on breakers; nothing where that was not looked at.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub plug_on_neutral: Option<bool>,
    /// It has feed-through lugs: something else hangs on its bus without a breaker here.
    #[serde(default, skip_serializing_if = "is_false")]
    pub feed_through: bool,
    /// What switches it off where it has no main breaker and no known feeder: `outdoor disconnect`.
    #[serde(default, skip_serializing_if = "String::is_empty")]
    pub disconnect: String,
    /// It stands in a separate building.
    #[serde(default, skip_serializing_if = "is_false")]
    pub separate_building: bool,
    /// Where it hangs.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub place: Option<PanelPlace>,
    /// The card as last printed.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub printed: Option<Printed>,
    /// Cards before that, the last one first.
    #[serde(default, skip_serializing_if = "Vec::is_empty")]
    #[schema(required = false)]
    pub earlier: Vec<Printed>,
    /// How the lines of its card are marked.
    #[serde(default, skip_serializing_if = "School::is_plain")]
    #[schema(required = false)]
    pub school: School,
    /// Its card and labels carry a code that opens this panel on the house's own address.
    #[serde(default, skip_serializing_if = "is_false")]
    #[schema(required = false)]
    pub code: bool,
}

/// How the lines of a card are marked. (handbook 4)
#[derive(Debug, Clone, Copy, PartialEq, Eq, Default, Serialize, Deserialize, ToSchema)]
#[serde(rename_all = "kebab-case")]
pub enum School {
    /// Not at all.
    #[default]
    Plain,
    /// By what its circuit does: heat, cooling, motors, lights and outlets.
    Kind,
    /// By room, and so by floor.
    Room,
    /// By leg.
    Leg,
}

said!(School {
    Plain => "no marks",
    Kind => "by what it does",
    Room => "by room and floor",
    Leg => "by leg",
});

impl School {
    /// Without marks.
    #[must_use]
    pub fn is_plain(&self) -> bool {
        *self == Self::Plain
    }
}

impl Panel {
    /// Top edge and height of some poles in half rows, from the top of the panel.
    #[must_use]
    pub fn extent(&self, at: &[Position]) -> (u16, u16) {
        let edges = at.iter().map(|p| {
            let top = self.place(p.space).1 * 2;
            match p.half {
                Half::Whole => (top, top + 2),
                Half::Upper => (top, top + 1),
                Half::Lower => (top + 1, top + 2),
            }
        });
        let (top, bottom) = edges.fold((u16::MAX, 0), |all, e| (all.0.min(e.0), all.1.max(e.1)));
        (top, bottom.saturating_sub(top))
    }

    /// A split-phase main panel of 200 A, odd numbers left, of which nothing else is known.
    #[must_use]
    pub fn new(id: PanelId, name: impl Into<String>, spaces: u16) -> Self {
        Self {
            id,
            name: name.into(),
            fed_by: None,
            supply: Supply::SplitPhase,
            bus: Amps(200.0),
            main: Some(Amps(200.0)),
            spaces,
            numbering: Numbering::OddEven,
            tandem: TandemSpaces::None,
            tandem_known: None,
            max_circuits: None,
            empty: BTreeSet::new(),
            card: None,
            model: String::new(),
            listed: Vec::new(),
            bonded: None,
            plug_on_neutral: None,
            feed_through: false,
            disconnect: String::new(),
            separate_building: false,
            place: None,
            printed: None,
            earlier: Vec::new(),
            school: School::Plain,
            code: false,
        }
    }

    /// The engraved numbers of its spaces, ascending.
    #[must_use]
    pub fn numbers(&self) -> Vec<u16> {
        let mut numbers: Vec<u16> = match &self.numbering {
            Numbering::Custom(engraved) => engraved.clone(),
            Numbering::OddEven | Numbering::Columns => (1..=self.spaces).collect(),
        };
        numbers.sort_unstable();
        numbers
    }

    /// True where it has a space of this number.
    #[must_use]
    pub fn has(&self, space: u16) -> bool {
        self.numbering.place(space, self.spaces).is_some()
    }

    /// Column and row of a space; the first place for a number it does not have.
    #[must_use]
    pub fn place(&self, space: u16) -> (Column, u16) {
        self.numbering.place(space, self.spaces).unwrap_or((Column::Left, 0))
    }

    /// The space just below in the same column, where there is one.
    #[must_use]
    pub fn below(&self, space: u16) -> Option<u16> {
        let (column, row) = self.numbering.place(space, self.spaces)?;
        self.numbering.number(column, row + 1, self.spaces)
    }

    /// The leg a position gets.
    #[must_use]
    pub fn leg(&self, position: Position) -> Leg {
        Leg::of_row(self.place(position.space).1, self.supply)
    }

    /// True for a panel that no breaker of the house feeds.
    #[must_use]
    pub fn is_main(&self) -> bool {
        self.fed_by.is_none()
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

said!(Device { Plain => "plain", Gfci => "GFCI", Afci => "AFCI", Dual => "AFCI+GFCI", Fuse => "fuse" });

impl Device {
    /// The same in a letter or two, where there is no room for more; nothing for a plain one.
    #[must_use]
    pub fn mark(self) -> &'static str {
        match self {
            Self::Plain => "",
            Self::Gfci => "GF",
            Self::Afci => "AF",
            Self::Dual => "AG",
            Self::Fuse => "F",
        }
    }

    /// True where it watches the neutral as well, which lands on it then, and has a test button.
    #[must_use]
    pub fn is_protected(self) -> bool {
        !matches!(self, Self::Plain | Self::Fuse)
    }

    /// True where it trips on a ground fault and has a test button for it.
    #[must_use]
    pub fn is_ground_fault(self) -> bool {
        matches!(self, Self::Gfci | Self::Dual)
    }
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

/// The body a breaker is part of.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
#[serde(rename_all = "kebab-case")]
pub enum Frame {
    /// One whole space a pole.
    Full,
    /// Two breakers in one body in one space.
    Tandem,
    /// Four half-positions in one body over two spaces.
    Quad,
    /// A half-size body of its own.
    Half,
}

/// How the poles of a breaker open together.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Default, Serialize, Deserialize, ToSchema)]
#[serde(rename_all = "kebab-case")]
pub enum Trip {
    /// One mechanism for all poles.
    #[default]
    Common,
    /// Single poles with their handles tied: switched together, tripping apart.
    HandleTie,
}

impl Trip {
    fn is_common(&self) -> bool {
        *self == Self::Common
    }
}

/// What a breaker's terminal takes, as its label says.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct Terminal {
    /// Conductors a terminal may hold.
    pub wires: u8,
    /// Smallest conductor, where the label says.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub smallest: Option<Gauge>,
    /// Largest conductor, where the label says.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub largest: Option<Gauge>,
    /// Torque its label asks for. Never a usual value: only what the label says (NEC 110.14(D)).
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub torque: Option<InchPounds>,
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
    /// The body it is part of, where that was looked at; otherwise as its place implies.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub frame: Option<Frame>,
    /// How its poles open together.
    #[serde(default, skip_serializing_if = "Trip::is_common")]
    pub trip: Trip,
    /// Type, as written on it.
    #[serde(default, skip_serializing_if = "String::is_empty")]
    pub model: String,
    /// What its terminals take.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub terminal: Option<Terminal>,
    /// It really stands there, though the panel should not hold it so.
    #[serde(default, skip_serializing_if = "is_false")]
    pub as_found: bool,
    /// A generator feeds in here: the panel is live from behind it with the main off.
    #[serde(default, skip_serializing_if = "is_false")]
    pub inlet: bool,
    /// Somebody found it bad: it stays off until it is replaced.
    #[serde(default, skip_serializing_if = "is_false")]
    pub bad: bool,
    /// Somebody looked with the cover off: no wire is landed on it.
    #[serde(default, skip_serializing_if = "is_false")]
    pub unwired: bool,
    /// When it was put in; nothing where it has stood there since before anybody looked. What was observed before speaks of
    /// a panel without it.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    #[schema(value_type = Option<String>, format = DateTime)]
    pub since: Option<Timestamp>,
}

impl Breaker {
    /// A plain breaker, on, of which nothing else is known.
    #[must_use]
    pub fn new(id: BreakerId, panel: PanelId, at: Vec<Position>, amps: Amps) -> Self {
        Self {
            id,
            panel,
            at,
            amps,
            device: Device::Plain,
            handle: Handle::On,
            label: String::new(),
            frame: None,
            trip: Trip::Common,
            model: String::new(),
            terminal: None,
            as_found: false,
            inlet: false,
            bad: false,
            unwired: false,
            since: None,
        }
    }

    /// True where it stood there at a time.
    #[must_use]
    pub fn stood(&self, time: Timestamp) -> bool {
        self.since.is_none_or(|since| since <= time)
    }

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

    /// True for what takes half a space a pole.
    #[must_use]
    pub fn is_half_size(&self) -> bool {
        self.at.iter().any(|p| p.half != Half::Whole)
    }

    /// The body it is part of: as looked at, or else as its place implies. The outer pair of four half-positions can
    /// only be part of a quad; a single half is mostly half of a tandem (common practice).
    #[must_use]
    pub fn frame(&self) -> Frame {
        match (self.frame, self.is_half_size(), self.at.as_slice()) {
            (Some(frame), ..) => frame,
            (None, false, _) => Frame::Full,
            (None, true, [upper, lower]) if upper.half == Half::Upper && lower.half == Half::Lower => Frame::Quad,
            (None, true, [_]) => Frame::Tandem,
            (None, true, _) => Frame::Half,
        }
    }
}
