//! Service and feeder load by every published method, and the question behind it: may I add this? (handbook 3.11)
//!
//! Each method is a file of its own: a worksheet of lines, each with its source. All by the numbering of the 2023 edition of
//! the NEC, values from memory, but for the Canadian one.

mod canada;
mod existing;
mod household;
mod optional;
mod record;
mod standard;

use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

use crate::base::position::Leg;
use crate::base::units::{Amps, NominalVolts, VoltAmperes};
use crate::base::{Invalid, Said, said};
use crate::house::{Country, House, LoadKind};
use crate::rules::Hangs;
use crate::words::number::{self, Unit, Written};
pub use household::{Household, HouseholdItem};

/// Ways of reckoning what a service must carry.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize, ToSchema)]
#[serde(rename_all = "kebab-case")]
pub enum LoadMethod {
    /// NEC 220 part III.
    Standard,
    /// NEC 220.82.
    Optional,
    /// NEC 220.83(A): an existing dwelling, no new heating or cooling.
    Existing,
    /// NEC 220.83(B): an existing dwelling, with new heating or cooling.
    ExistingAdded,
    /// NEC 220.87: by the record of a year.
    Record,
    /// CEC 8-200.
    Canada,
}

said!(LoadMethod {
    Standard => "standard (NEC 220 part III)",
    Optional => "optional (NEC 220.82)",
    Existing => "existing dwelling (NEC 220.83(A))",
    ExistingAdded => "existing dwelling, new heating or cooling (NEC 220.83(B))",
    Record => "by the record of a year (NEC 220.87)",
    Canada => "Canada (CEC 8-200)",
});

/// A line of a worksheet.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
pub struct SheetLine {
    /// What.
    pub what: String,
    /// How much of it counts, in VA.
    pub va: VoltAmperes,
    /// By which rule.
    pub source: &'static str,
}

/// A worksheet.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
pub struct Sheet {
    /// By which method.
    pub method: LoadMethod,
    /// That in words.
    pub title: String,
    /// What the service must carry, in VA,
    pub va: VoltAmperes,
    /// in amperes,
    pub amps: Amps,
    /// and in whole amperes, half ones rounded up. [pub: NEC 220.5(B), value from memory]
    pub rounded: Amps,
    /// What its neutral must carry, where the method says so.
    pub neutral_amps: Option<Amps>,
    /// What each leg must carry, where the method tells them apart: the fullest is the service's.
    pub legs: Vec<LegCarries>,
    /// The rating of the service, where known.
    pub rating: Option<Amps>,
    /// What is left of it: below nothing where it is too small.
    pub margin_amps: Option<Amps>,
    /// How that comes about.
    pub lines: Vec<SheetLine>,
    /// What was assumed, and what the method asks beside.
    pub notes: Vec<String>,
    /// Whether it fits, and what would make room, in words.
    pub said: String,
}

/// What a leg must carry.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, ToSchema)]
pub struct LegCarries {
    /// Which.
    pub leg: Leg,
    /// How much.
    pub amps: Amps,
}

/// Something that is to be added.
#[derive(Debug, Clone, PartialEq, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct Added {
    /// What it draws,
    pub amps: Amps,
    /// at which voltage.
    pub volts: NominalVolts,
    /// It runs for three hours or more.
    #[serde(default)]
    pub continuous: bool,
    /// What it is.
    #[serde(default)]
    pub kind: LoadKind,
}

/// Every method side by side, for what stands and what is to be added.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
pub struct MethodAnswer {
    /// By which method.
    pub method: LoadMethod,
    /// That in words.
    pub title: &'static str,
    /// The worksheet as the house stands, where the data allow it,
    pub now: Option<Sheet>,
    /// the same with what is to be added,
    pub then: Option<Sheet>,
    /// and what is missing for it.
    pub missing: Option<String>,
}

impl Added {
    /// Reads `40@240`, `16@240,continuous`, `40@240,oven`.
    ///
    /// # Errors
    /// Where it is not written so.
    pub fn parse(text: &str) -> Result<Self, Invalid> {
        let wrong = || Invalid::new("add", format!("\"{text}\" is not AMPS@VOLTS, as 40@240 or 16@240,continuous"));
        let mut parts = text.split(',').map(str::trim);
        let (amps, volts) = parts.next().and_then(|size| size.split_once('@')).ok_or_else(wrong)?;
        let amps = number::read(amps, &[Unit::A], Written::ByHand)
            .map_err(|unread| Invalid::new("add", unread.to_string()))?
            .value;
        let volts: u16 = volts.trim().trim_end_matches(['V', 'v', ' ']).parse().map_err(|_| wrong())?;
        let volts = NominalVolts::try_from(volts).map_err(|e| Invalid::new("add", e))?;
        if !(amps > 0.0 && amps <= 400.0) {
            return Err(Invalid::new("add", format!("{amps} A cannot be added: more than 0 and at most 400 A")));
        }
        let mut added = Self { amps: Amps(amps), volts, continuous: false, kind: LoadKind::Other };
        for word in parts {
            match word {
                "continuous" => added.continuous = true,
                kind => {
                    let value = serde_json::Value::String(kind.to_owned());
                    added.kind = serde_json::from_value(value).map_err(|_| wrong())?;
                }
            }
        }
        added.continuous |= matches!(added.kind, LoadKind::Heating | LoadKind::WaterHeater | LoadKind::CarCharger);
        Ok(added)
    }

    fn item(&self) -> HouseholdItem {
        let va = self.amps.0 * f64::from(u16::from(self.volts));
        HouseholdItem {
            name: "what is added".into(),
            kind: self.kind,
            va,
            to_neutral: !self.volts.is_leg_to_leg(),
            leg: None,
            motor: false,
            continuous: self.continuous,
            typical: false,
            added: true,
        }
    }
}

/// A house's load by one method, with what is to be added; `hangs` says on which leg things are.
///
/// # Errors
/// Where what the method needs is not known, with its field.
pub fn sheet(house: &House, hangs: &[Hangs], method: LoadMethod, added: &[Added]) -> Result<Sheet, Invalid> {
    of(&with(house, hangs, added), method)
}

fn with(house: &House, hangs: &[Hangs], added: &[Added]) -> Household {
    let mut household = Household::of(house, hangs);
    household.items.extend(added.iter().map(Added::item));
    household
}

/// A household's load by one method.
///
/// # Errors
/// Where what the method needs is not known, with its field.
pub fn of(household: &Household, method: LoadMethod) -> Result<Sheet, Invalid> {
    match method {
        LoadMethod::Standard => standard::sheet(household),
        LoadMethod::Optional => optional::sheet(household),
        LoadMethod::Existing => existing::sheet(household, false),
        LoadMethod::ExistingAdded => existing::sheet(household, true),
        LoadMethod::Record => record::sheet(household),
        LoadMethod::Canada => canada::sheet(household),
    }
}

/// Every method that applies where the house stands, with and without what is to be added.
#[must_use]
pub fn answers(house: &House, hangs: &[Hangs], added: &[Added]) -> Vec<MethodAnswer> {
    let climate =
        |a: &Added| matches!(a.kind, LoadKind::Heating | LoadKind::Cooling | LoadKind::HeatPump | LoadKind::BackupHeat);
    let existing = if added.iter().any(climate) { LoadMethod::ExistingAdded } else { LoadMethod::Existing };
    let methods: &[LoadMethod] = match house.about.country {
        Country::Us => &[LoadMethod::Standard, LoadMethod::Optional, existing, LoadMethod::Record],
        Country::Ca => &[LoadMethod::Canada],
    };
    let answer = |method: &LoadMethod| {
        let now = sheet(house, hangs, *method, &[]);
        let then = if added.is_empty() { None } else { sheet(house, hangs, *method, added).ok() };
        let missing = now.as_ref().err().map(|e| e.message.clone());
        MethodAnswer { method: *method, title: method.said(), now: now.ok(), then, missing }
    };
    methods.iter().map(answer).collect()
}

/// A worksheet as it grows.
struct Ledger<'a> {
    of: &'a Household,
    lines: Vec<SheetLine>,
    notes: Vec<String>,
}

impl<'a> Ledger<'a> {
    fn new(of: &'a Household) -> Self {
        let mut notes = of.notes.clone();
        let typical: Vec<&str> = of.items.iter().filter(|i| i.typical).map(|i| i.name.as_str()).collect();
        if !typical.is_empty() {
            notes.push(format!("Typical values, not nameplates: {}", typical.join(", ")));
        }
        Self { of, lines: Vec::new(), notes }
    }

    fn line(&mut self, what: impl Into<String>, va: f64, source: &'static str) {
        if va.abs() > 0.0 {
            self.lines.push(SheetLine { what: what.into(), va: VoltAmperes(va), source });
        }
    }

    /// The VA of all lines.
    fn sum(&self) -> f64 {
        self.lines.iter().map(|l| l.va.0).sum()
    }

    /// By a method that does not tell legs apart.
    fn done(self, method: LoadMethod) -> Sheet {
        let amps = self.sum() / self.of.volts;
        self.carried(method, amps, None)
    }

    /// With the amperes of the fullest leg.
    fn carried(self, method: LoadMethod, amps: f64, neutral: Option<f64>) -> Sheet {
        let va = self.sum();
        let rounded = whole(amps);
        let margin = self.of.rating.map(|r| Amps(r.0 - rounded));
        let mut sheet = Sheet {
            method,
            title: method.said().to_owned(),
            va: VoltAmperes(va),
            amps: Amps(amps),
            rounded: Amps(rounded),
            neutral_amps: neutral.map(Amps),
            legs: Vec::new(),
            rating: self.of.rating,
            margin_amps: margin,
            lines: self.lines,
            notes: self.notes,
            said: String::new(),
        };
        sheet.said = said(&sheet, self.of);
        sheet
    }
}

/// Whole amperes, half ones up. [pub: NEC 220.5(B), value from memory]
fn whole(amps: f64) -> f64 {
    (amps + 0.5 + ROUNDING_OF_SUMS).floor()
}

/// Sums of doubles are this exact.
const ROUNDING_OF_SUMS: f64 = 1e-9;

/// Whether it fits, and what would make room.
fn said(sheet: &Sheet, of: &Household) -> String {
    let (Some(rating), Some(margin)) = (sheet.rating, sheet.margin_amps) else {
        return "The rating of the main is not entered: it cannot be said whether that fits.".into();
    };
    let added = of.items.iter().any(|i| i.added);
    if margin.0 >= 0.0 {
        let what = if added { "It fits by this method" } else { "As it stands" };
        return format!("{what}: {} of {} A, {} A left.", sheet.rounded.0, rating.0, margin.0);
    }
    let mut room = vec!["a listed load management that keeps one off while another runs"];
    if of.items.iter().any(|i| i.kind == LoadKind::CarCharger) {
        room.push("a smaller charger, or one set lower");
    }
    if of.items.iter().any(|i| i.added) {
        room.push("something smaller");
    }
    room.push("gas, or a heat pump, in place of an electric heater");
    room.push("a larger service");
    format!(
        "Too much by this method: {} of {} A, {} A over. What would make room: {}.",
        sheet.rounded.0,
        rating.0,
        -margin.0,
        room.join("; ")
    )
}

#[cfg(test)]
mod tests;
