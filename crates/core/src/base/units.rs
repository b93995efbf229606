//! Quantities with their units.

use crate::base::said;
use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

/// Current in amperes (A).
#[derive(Debug, Clone, Copy, PartialEq, PartialOrd, Serialize, Deserialize, ToSchema)]
#[serde(transparent)]
pub struct Amps(pub f64);

/// A length in inches, 25.4 mm each.
#[derive(Debug, Clone, Copy, PartialEq, PartialOrd, Serialize, Deserialize, ToSchema)]
#[serde(transparent)]
pub struct Inches(pub f64);

/// Inches in a metre (definition: 1 in = 25.4 mm).
pub const INCHES_PER_METRE: f64 = 1.0 / 0.0254;

/// A length in feet, 304.8 mm each.
#[derive(Debug, Clone, Copy, PartialEq, PartialOrd, Serialize, Deserialize, ToSchema)]
#[serde(transparent)]
pub struct Feet(pub f64);

/// A voltage in volts (V).
#[derive(Debug, Clone, Copy, PartialEq, PartialOrd, Serialize, Deserialize, ToSchema)]
#[serde(transparent)]
pub struct Volts(pub f64);

/// Power in watts (W).
#[derive(Debug, Clone, Copy, PartialEq, PartialOrd, Serialize, Deserialize, ToSchema)]
#[serde(transparent)]
pub struct Watts(pub f64);

/// Apparent power in volt-amperes (VA).
#[derive(Debug, Clone, Copy, PartialEq, PartialOrd, Serialize, Deserialize, ToSchema)]
#[serde(transparent)]
pub struct VoltAmperes(pub f64);

/// A motor's power in horsepower (hp), 745.7 W each.
#[derive(Debug, Clone, Copy, PartialEq, PartialOrd, Serialize, Deserialize, ToSchema)]
#[serde(transparent)]
pub struct Horsepower(pub f64);

/// A resistance in ohms (Ω).
#[derive(Debug, Clone, Copy, PartialEq, PartialOrd, Serialize, Deserialize, ToSchema)]
#[serde(transparent)]
pub struct Ohms(pub f64);

/// A torque in inch-pounds, 0.113 N·m each.
#[derive(Debug, Clone, Copy, PartialEq, PartialOrd, Serialize, Deserialize, ToSchema)]
#[serde(transparent)]
pub struct InchPounds(pub f64);

impl InchPounds {
    /// 1 lbf·in is 0.112985 N·m. [def: NIST SP 811]
    const NEWTON_METRES: f64 = 0.112_985;

    /// In both units: `36 in-lb (4.1 N·m)`.
    #[must_use]
    pub fn said(self) -> String {
        format!("{} in-lb ({:.1} N·m)", self.0, self.0 * Self::NEWTON_METRES)
    }
}

/// A time span in seconds (s).
#[derive(Debug, Clone, Copy, PartialEq, PartialOrd, Serialize, Deserialize, ToSchema)]
#[serde(transparent)]
pub struct Seconds(pub f64);

impl std::fmt::Display for Amps {
    fn fmt(&self, f: &mut std::fmt::Formatter<'_>) -> std::fmt::Result {
        write!(f, "{} A", self.0)
    }
}

/// The voltage a point is made for: 120 V (one leg to neutral), 208 V or 240 V (leg to leg).
#[derive(Debug, Clone, Copy, PartialEq, Eq, PartialOrd, Ord, Serialize, Deserialize, ToSchema)]
#[serde(try_from = "u16", into = "u16")]
#[schema(value_type = u16)]
pub struct NominalVolts(u16);

impl NominalVolts {
    /// One leg to neutral.
    pub const V120: Self = Self(120);
    /// Two legs of a wye.
    pub const V208: Self = Self(208);
    /// Two legs of a split phase.
    pub const V240: Self = Self(240);

    /// True where the point takes two or more legs.
    #[must_use]
    pub fn is_leg_to_leg(self) -> bool {
        self.0 > 120
    }
}

impl TryFrom<u16> for NominalVolts {
    type Error = String;

    fn try_from(volts: u16) -> Result<Self, String> {
        match volts {
            120 | 208 | 240 => Ok(Self(volts)),
            _ => Err(format!("{volts} V is not one of 120, 208 or 240 V")),
        }
    }
}

impl From<NominalVolts> for u16 {
    fn from(volts: NominalVolts) -> Self {
        volts.0
    }
}

/// The voltage that a nameplate prints: kept as it stands there, and taken for the nearest of those that a supply has.
#[derive(Debug, Clone, Copy, PartialEq, Eq, PartialOrd, Ord, Serialize, Deserialize, ToSchema)]
#[serde(try_from = "u16", into = "u16")]
#[schema(value_type = u16)]
pub struct PlateVolts(u16);

/// What plates print (common practice).
const PLATES: [u16; 15] = [115, 120, 125, 127, 200, 208, 220, 230, 240, 250, 277, 380, 400, 460, 480];
/// The highest that a house of 120/240 or 208Y/120 V can be meant by.
const HIGHEST_AT_HOME: u16 = 250;

impl PlateVolts {
    /// The voltage of a supply that it is made for: 115 and 125 V stand for 120, 200 for 208, 220, 230 and 250 for 240 V
    /// (common practice).
    #[must_use]
    pub fn nominal(self) -> NominalVolts {
        match self.0 {
            ..=127 => NominalVolts::V120,
            128..=212 => NominalVolts::V208,
            _ => NominalVolts::V240,
        }
    }

    /// False for what no supply of a dwelling gives.
    #[must_use]
    pub fn is_at_home(self) -> bool {
        self.0 <= HIGHEST_AT_HOME
    }
}

impl TryFrom<u16> for PlateVolts {
    type Error = String;

    fn try_from(volts: u16) -> Result<Self, String> {
        if PLATES.contains(&volts) {
            return Ok(Self(volts));
        }
        let all: Vec<String> = PLATES.iter().map(u16::to_string).collect();
        Err(format!("{volts} V is on no nameplate: one of {} V", all.join(", ")))
    }
}

impl From<PlateVolts> for u16 {
    fn from(volts: PlateVolts) -> Self {
        volts.0
    }
}

impl From<NominalVolts> for PlateVolts {
    fn from(volts: NominalVolts) -> Self {
        Self(volts.0)
    }
}

/// A conductor's size in the American wire gauge, from 18 (thin) to 4/0. Written `14`, `1/0`.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Hash, Serialize, Deserialize, ToSchema)]
#[serde(try_from = "String", into = "String")]
#[schema(value_type = String, example = "12")]
pub struct Gauge(i8);

impl Gauge {
    /// From the gauge number, 1/0 being 0 and 4/0 being −3; nothing outside 18 to −3.
    #[must_use]
    pub fn new(number: i8) -> Option<Self> {
        (-3..=18).contains(&number).then_some(Self(number))
    }

    /// The gauge number, 1/0 being 0 and 4/0 being −3: smaller is thicker.
    #[must_use]
    pub fn number(self) -> i8 {
        self.0
    }

    /// True for a thicker conductor.
    #[must_use]
    pub fn is_thicker_than(self, other: Self) -> bool {
        self.0 < other.0
    }
}

impl std::fmt::Display for Gauge {
    fn fmt(&self, f: &mut std::fmt::Formatter<'_>) -> std::fmt::Result {
        if self.0 > 0 { write!(f, "{}", self.0) } else { write!(f, "{}/0", 1 - self.0) }
    }
}

impl std::str::FromStr for Gauge {
    type Err = String;

    fn from_str(text: &str) -> Result<Self, String> {
        let number = match text.trim().strip_suffix("/0") {
            Some(noughts) => noughts.parse::<i8>().ok().filter(|n| (1..=4).contains(n)).map(|n| 1 - n),
            None => text.trim().parse::<i8>().ok().filter(|n| *n > 0),
        };
        number.and_then(Self::new).ok_or_else(|| format!("\"{text}\" is not a wire size: 18 to 1, or 1/0 to 4/0 AWG"))
    }
}

impl TryFrom<String> for Gauge {
    type Error = String;

    fn try_from(text: String) -> Result<Self, String> {
        text.parse()
    }
}

impl From<Gauge> for String {
    fn from(gauge: Gauge) -> Self {
        gauge.to_string()
    }
}

/// A named range of legal values; its label is what an error quotes.
#[derive(Debug, Clone, Copy, PartialEq, Serialize)]
pub struct Limits {
    /// What it is, in words.
    #[serde(skip)]
    pub label: &'static str,
    /// In this unit; empty for what is counted.
    pub unit: &'static str,
    /// At least this,
    pub min: f64,
    /// at most this.
    pub max: f64,
}

impl Limits {
    /// False for values outside the range and for NaN.
    pub fn contain(&self, value: f64) -> bool {
        (self.min..=self.max).contains(&value)
    }
}

/// Ratings from the smallest listed branch device to the largest frame in a dwelling's panel (common practice).
pub(crate) const BREAKER_RATING: Limits = Limits { label: "breaker rating", unit: "A", min: 1.0, max: 400.0 };
pub(crate) const BUS_RATING: Limits = Limits { label: "bus rating", unit: "A", min: 15.0, max: 1200.0 };
pub(crate) const MAIN_RATING: Limits = Limits { label: "main rating", unit: "A", min: 15.0, max: 1200.0 };
/// What a part costs.
/// Paper that printers take.
pub(crate) const PAPER_SIDE: Limits = Limits { label: "side of the paper", unit: "in", min: 1.0, max: 44.0 };
/// A label that words can stand on.
pub(crate) const LABEL_SIDE: Limits = Limits { label: "side of a label", unit: "in", min: 0.15, max: 12.0 };
/// More than this no printer is off: then the wrong paper lies in it.
pub(crate) const PRINTER_OFF: Limits = Limits { label: "what the printer is off by", unit: "in", min: -1.0, max: 1.0 };
pub(crate) const PRICE: Limits = Limits { label: "price", unit: "", min: 0.0, max: 100_000.0 };
/// A welder's duty.
pub(crate) const DUTY: Limits = Limits { label: "duty", unit: "%", min: 1.0, max: 100.0 };
pub(crate) const SPACES: Limits = Limits { label: "number of spaces", unit: "spaces", min: 1.0, max: 84.0 };
pub(crate) const MAX_CIRCUITS: Limits =
    Limits { label: "most circuits the label allows", unit: "circuits", min: 1.0, max: 168.0 };
pub(crate) const LOAD_AMPS: Limits = Limits { label: "current of the known load", unit: "A", min: 0.1, max: 100.0 };
pub(crate) const ROSE_AMPS: Limits = Limits { label: "rise of the current", unit: "A", min: -100.0, max: 200.0 };
pub(crate) const WATTS: Limits = Limits { label: "nameplate power", unit: "W", min: 0.0, max: 100_000.0 };
/// A wall lamp to the largest thing a dwelling's service feeds.
pub(crate) const PLATE_AMPS: Limits = Limits { label: "nameplate current", unit: "A", min: 0.0, max: 400.0 };
pub(crate) const HORSEPOWER: Limits = Limits { label: "motor's power", unit: "hp", min: 0.0, max: 50.0 };
/// From the smallest that anybody carries to the largest of a house (common practice).
pub(crate) const GENERATOR: Limits = Limits { label: "what a generator gives", unit: "W", min: 500.0, max: 50_000.0 };
pub(crate) const LIVING_AREA: Limits = Limits { label: "living area", unit: "ft2", min: 50.0, max: 50_000.0 };
pub(crate) const THRESHOLD: Limits = Limits { label: "proof threshold", unit: "", min: 0.9, max: 0.9999 };
pub(crate) const DOOR_WIDTH: Limits = Limits { label: "card width", unit: "in", min: 1.0, max: 34.0 };
pub(crate) const DOOR_HEIGHT: Limits = Limits { label: "card height", unit: "in", min: 1.0, max: 44.0 };
pub(crate) const TERMINAL_WIRES: Limits =
    Limits { label: "number of wires a terminal may hold", unit: "", min: 1.0, max: 4.0 };
/// From the smallest branch breaker's screw to the lugs of a large main (common practice).
pub(crate) const TORQUE: Limits = Limits { label: "torque", unit: "in-lb", min: 5.0, max: 600.0 };
pub(crate) const CABLE_LENGTH: Limits = Limits { label: "cable length", unit: "ft", min: 1.0, max: 2000.0 };
pub(crate) const CONDUCTORS: Limits = Limits { label: "number of insulated conductors", unit: "", min: 1.0, max: 9.0 };
/// A cupboard to a barn.
pub(crate) const ROOM_SIDE: Limits = Limits { label: "side of a room", unit: "in", min: 12.0, max: 2400.0 };
pub(crate) const PLAN_PLACE: Limits = Limits { label: "place on the plan", unit: "in", min: -12000.0, max: 12000.0 };
pub(crate) const OPENING_WIDTH: Limits = Limits { label: "width of an opening", unit: "in", min: 6.0, max: 480.0 };
pub(crate) const READ_AMPS: Limits = Limits { label: "current", unit: "A", min: 0.0, max: 1000.0 };
/// Negative where power flows back.
pub(crate) const READ_WATTS: Limits = Limits { label: "power", unit: "W", min: -100_000.0, max: 100_000.0 };
pub(crate) const READ_DEGREES: Limits = Limits { label: "temperature", unit: "°C", min: -40.0, max: 400.0 };
pub(crate) const READ_VOLTS: Limits = Limits { label: "voltage", unit: "V", min: 0.0, max: 300.0 };

/// The metal of a conductor.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Default, Serialize, Deserialize, ToSchema)]
#[serde(rename_all = "kebab-case")]
pub enum Metal {
    /// Copper.
    #[default]
    Copper,
    /// Aluminium.
    Aluminium,
}

said!(Metal { Copper => "copper", Aluminium => "aluminium" });

#[cfg(test)]
mod tests {
    use super::*;

    // JSON has no such numbers: what a file or a request says of them is refused where a unit is made of it.
    #[test]
    fn no_unit_is_made_of_what_is_no_number() {
        for text in ["NaN", "nan", "Infinity", "-Infinity", "1e999", "-1e999", "null", "\"20\""] {
            assert!(serde_json::from_str::<Amps>(text).is_err(), "{text}");
            assert!(serde_json::from_str::<Volts>(text).is_err(), "{text}");
            assert!(serde_json::from_str::<Feet>(text).is_err(), "{text}");
        }
        assert_eq!(serde_json::from_str::<Amps>("20").unwrap(), Amps(20.0));
    }

    #[test]
    fn wire_sizes_read_as_they_are_written() {
        for text in ["18", "14", "1", "1/0", "4/0"] {
            assert_eq!(text.parse::<Gauge>().unwrap().to_string(), text);
        }
        for text in ["", "0", "-1", "19", "5/0", "0/0", "12 AWG", "14-2"] {
            assert!(text.parse::<Gauge>().is_err(), "{text}");
        }
    }

    // ASTM B258, from memory: d = 0.127 mm · 92^((36−n)/39), so a smaller number is a thicker wire, 1/0 being n = 0.
    #[test]
    fn a_smaller_number_is_a_thicker_wire() {
        let diameter = |g: Gauge| 0.127 * 92_f64.powf((36.0 - f64::from(g.number())) / 39.0);
        let sizes: Vec<Gauge> = (-3..=18).filter_map(Gauge::new).collect();
        for (a, b) in sizes.iter().flat_map(|a| sizes.iter().map(move |b| (*a, *b))) {
            assert_eq!(a.is_thicker_than(b), diameter(a) > diameter(b), "{a} {b}");
        }
    }
}
