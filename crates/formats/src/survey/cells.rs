//! The words that stand in cells, each with what it means: read by the import, written by the export.

use wayfinder_core::base::position::Supply;
use wayfinder_core::base::units::Metal;
use wayfinder_core::house::{
    Colour, Device, Fault, Frame, Handle, KnownBy, Landed, OpeningKind, PointKind, Seen, Tried, Trip, Wall, Way,
};

/// Words with their meaning; the export writes the first word of a meaning.
pub type Words<T> = &'static [(&'static str, T)];

pub const SUPPLIES: Words<Supply> = &[
    ("split-phase", Supply::SplitPhase),
    ("wye-1ph", Supply::WyeTwoLegs),
    ("wye-3ph", Supply::WyeThreePhase),
    ("", Supply::SplitPhase),
];
pub const KNOWN_BY: Words<Option<KnownBy>> =
    &[("", None), ("label", Some(KnownBy::Label)), ("notch", Some(KnownBy::Notch))];
pub const DEVICES: Words<Device> = &[
    ("plain", Device::Plain),
    ("gfci", Device::Gfci),
    ("afci", Device::Afci),
    ("dual", Device::Dual),
    ("fuse", Device::Fuse),
    ("", Device::Plain),
];
pub const HANDLES: Words<Handle> =
    &[("", Handle::On), ("on", Handle::On), ("off", Handle::Off), ("tripped", Handle::Tripped)];
pub const FRAMES: Words<Option<Frame>> = &[
    ("", None),
    ("full", Some(Frame::Full)),
    ("tandem", Some(Frame::Tandem)),
    ("quad", Some(Frame::Quad)),
    ("half", Some(Frame::Half)),
];
pub const TRIPS: Words<Trip> = &[("", Trip::Common), ("common", Trip::Common), ("tie", Trip::HandleTie)];
pub const METALS: Words<Metal> = &[("copper", Metal::Copper), ("aluminium", Metal::Aluminium), ("", Metal::Copper)];
pub const LANDED: Words<Landed> = &[("terminal", Landed::Terminal), ("splice", Landed::Splice), ("", Landed::Terminal)];
pub const COLOURS: Words<Colour> = &[
    ("black", Colour::Black),
    ("red", Colour::Red),
    ("blue", Colour::Blue),
    ("white", Colour::White),
    ("white-marked", Colour::WhiteMarked),
    ("other", Colour::Other),
];
pub const WALLS: Words<Wall> =
    &[("north", Wall::North), ("east", Wall::East), ("south", Wall::South), ("west", Wall::West)];
pub const OPENINGS: Words<OpeningKind> = &[
    ("door", OpeningKind::Door),
    ("window", OpeningKind::Window),
    ("passage", OpeningKind::Passage),
    ("stairs", OpeningKind::Stairs),
];
pub const KINDS: Words<PointKind> = &[
    ("receptacle", PointKind::Receptacle),
    ("light", PointKind::Light),
    ("switch", PointKind::Switch),
    ("appliance", PointKind::Appliance),
    ("alarm", PointKind::Alarm),
    ("other", PointKind::Other),
];
pub const WAYS: Words<Way> = &[
    ("tester", Way::Tester),
    ("lamp", Way::Lamp),
    ("light", Way::Light),
    ("radio", Way::Radio),
    ("meter", Way::Meter),
    ("word", Way::Word),
];
pub const SEEN: Words<Seen> = &[("live", Seen::Live), ("dead", Seen::Dead), ("unsure", Seen::Unsure)];

pub const TRIED: Words<Tried> =
    &[("tried-switch", Tried::Switch), ("tried-lamp", Tried::Lamp), ("tried-device", Tried::Device)];
pub const WAS_OFF: Words<bool> = &[("was-off", true), ("was-on", false)];
pub const FAULTS: Words<Fault> = &[
    ("open-ground", Fault::OpenGround),
    ("open-neutral", Fault::OpenNeutral),
    ("open-hot", Fault::OpenHot),
    ("hot-ground-reversed", Fault::HotGroundReversed),
    ("hot-neutral-reversed", Fault::HotNeutralReversed),
    ("scorched", Fault::Scorched),
    ("loose", Fault::Loose),
];

/// The word for a value.
pub fn word<T: PartialEq + Copy>(words: Words<T>, value: T) -> String {
    words.iter().find(|(_, v)| *v == value).map_or("", |(word, _)| *word).into()
}
