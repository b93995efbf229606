//! What a thing draws while it runs, against what its plate prints: by what it is. (handbook 3.2, values from memory)

use super::is_of_two_legs;
use crate::house::{Load, LoadKind};
use crate::words::usual;

/// Between these ends something lies, and nothing more is known of it.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Range {
    /// The least.
    pub low: f64,
    /// The most.
    pub high: f64,
}

/// The standard error of what lies evenly in a range, as a share of the range: 1/√12. [def]
pub const EVENLY: f64 = 0.289;

impl Range {
    const fn new(low: f64, high: f64) -> Self {
        Self { low, high }
    }

    /// Its middle.
    #[must_use]
    pub fn middle(self) -> f64 {
        f64::midpoint(self.low, self.high)
    }

    /// One over what lies evenly in it: the mean, and the standard error as a share of that. [def: ∫ dx/x, ∫ dx/x²]
    #[must_use]
    pub fn one_over(self) -> (f64, f64) {
        if self.high <= self.low {
            return (1.0 / self.low, 0.0);
        }
        let mean = (self.high / self.low).ln() / (self.high - self.low);
        let square = 1.0 / (self.low * self.high);
        (mean, (square - mean * mean).max(0.0).sqrt() / mean)
    }

    /// The standard error of what lies evenly in it.
    #[must_use]
    pub fn error(self) -> f64 {
        EVENLY * (self.high - self.low)
    }
}

/// How a thing runs.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Running {
    /// What it takes of the power or the current on its plate.
    pub of_plate: Range,
    /// Its power factor: what its watts are of its volt-amperes.
    pub factor: Range,
    /// The share of the time that it runs while it is switched on, where it cycles by itself.
    pub cycles: Option<f64>,
}

const fn steady(low: f64, high: f64, factor: (f64, f64)) -> Running {
    Running { of_plate: Range::new(low, high), factor: Range::new(factor.0, factor.1), cycles: None }
}

/// A thermostat of a heater or an oven is on for most of the time. (common practice)
const BY_THERMOSTAT: f64 = 0.7;
/// A compressor runs a quarter to a half of the time. (handbook 3.2, value from memory)
const COMPRESSOR_RUNS: f64 = 0.37;

const RESISTS: Running = steady(0.97, 1.03, (1.0, 1.0));
/// The same with a thermostat.
const HEATS: Running = Running { cycles: Some(BY_THERMOSTAT), ..RESISTS };
/// Several elements, of which few are on at once. (common practice)
const ELEMENTS: Running = Running { cycles: Some(BY_THERMOSTAT), ..steady(0.5, 1.0, (1.0, 1.0)) };
const MOTOR: Running = steady(0.6, 0.95, (0.6, 0.85));
const UNIVERSAL: Running = steady(0.6, 1.0, (0.88, 0.95));
const COMPRESSOR: Running = Running { cycles: Some(COMPRESSOR_RUNS), ..steady(0.25, 0.6, (0.7, 0.9)) };
const ELECTRONICS: Running = steady(0.2, 0.6, (0.55, 1.0));
const LIGHT: Running = steady(0.95, 1.05, (0.5, 0.95));
/// Its plate gives what it cooks with, or what it takes in: 1.4 to 1.6 times that.
const MICROWAVE: Running = steady(0.95, 1.6, (0.88, 0.95));
/// A motor and a heater in one. (common practice)
const MIXED: Running = steady(0.6, 1.0, (0.9, 1.0));
/// Anything: half to all is the usual rule, and electronics are less. (handbook 3.2, common practice)
const ANYTHING: Running = steady(0.3, 1.0, (0.7, 1.0));

/// Watts from which on an unnamed thing is taken to heat, and not to turn. (common practice)
const MOSTLY_HEATS: f64 = 1000.0;

/// What is told by its name, where the kind leaves it open.
const BY_NAME: &[(&str, Running)] = &[
    ("kettle", RESISTS),
    ("toaster", RESISTS),
    ("iron", HEATS),
    ("space heater", HEATS),
    ("baseboard", HEATS),
    ("coffee maker", RESISTS),
    ("hair dryer", MIXED),
    ("slow cooker", ELEMENTS),
    ("rice cooker", ELEMENTS),
    ("gas dryer", MOTOR),
    ("garage door opener", MOTOR),
    ("lift", MOTOR),
    ("table saw", UNIVERSAL),
    ("vacuum", UNIVERSAL),
    ("mixer", UNIVERSAL),
    ("treadmill", MOTOR),
    ("television", ELECTRONICS),
    ("computer", ELECTRONICS),
];

impl Running {
    /// It draws what its plate says, neither more nor less.
    #[must_use]
    pub fn resists(&self) -> bool {
        self.of_plate == RESISTS.of_plate
    }

    /// It may be anything: neither its kind nor its name says how it runs.
    #[must_use]
    pub fn is_of_anything(&self) -> bool {
        self.of_plate == ANYTHING.of_plate
    }
}

/// How a load runs: by its kind, and where that leaves it open by its name.
#[must_use]
pub fn running(load: &Load) -> Running {
    let turns = load.motor == Some(true) || load.hp.is_some();
    let of = |kind| of_kind(kind, turns, is_of_two_legs(load));
    // In amperes a plate gives what goes in.
    if load.kind == LoadKind::Microwave && load.watts.is_none() {
        return MIXED;
    }
    if load.kind != LoadKind::Other {
        return of(load.kind);
    }
    let usual = usual::named(&load.name).filter(|_| !turns);
    let by_name = usual.and_then(|u| BY_NAME.iter().find(|(of, _)| *of == u.name)).map(|(_, running)| *running);
    let kind = usual.map_or(LoadKind::Other, |u| u.kind);
    // What nobody can name and takes a kilowatt mostly heats.
    let heats = kind == LoadKind::Other && !turns && load.watts.is_some_and(|w| w.0 >= MOSTLY_HEATS);
    let unnamed = if heats { Running { factor: RESISTS.factor, ..ANYTHING } } else { of(kind) };
    by_name.unwrap_or(unnamed)
}

fn of_kind(kind: LoadKind, turns: bool, two_legs: bool) -> Running {
    let cooled = |by: Running| Running { cycles: Some(BY_THERMOSTAT), ..by };
    match kind {
        LoadKind::WaterHeater | LoadKind::BackupHeat | LoadKind::Heating if !turns => HEATS,
        LoadKind::Range | LoadKind::Oven | LoadKind::Cooktop | LoadKind::Welder => ELEMENTS,
        LoadKind::Heating
        | LoadKind::WaterHeater
        | LoadKind::BackupHeat
        | LoadKind::Dryer
        | LoadKind::Dishwasher
        | LoadKind::CarCharger => MIXED,
        LoadKind::Microwave => MICROWAVE,
        LoadKind::Refrigerator => COMPRESSOR,
        LoadKind::Cooling | LoadKind::HeatPump => cooled(if two_legs { MOTOR } else { COMPRESSOR }),
        LoadKind::Light | LoadKind::FireAlarm => LIGHT,
        LoadKind::Other if !turns => ANYTHING,
        LoadKind::Disposer
        | LoadKind::Washer
        | LoadKind::Pump
        | LoadKind::Fan
        | LoadKind::Hood
        | LoadKind::SumpPump
        | LoadKind::Pool
        | LoadKind::Other => MOTOR,
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::base::units::{NominalVolts, Watts};
    use crate::house::{LoadId, PointId};
    use crate::plate::{Connected, expected, least, most};

    const ON_A_LEG: Connected = Connected { volts: NominalVolts::V120, three_phase: false };

    fn load(name: &str, kind: LoadKind, watts: f64) -> Load {
        Load { watts: Some(Watts(watts)), ..Load::new(LoadId(1), PointId(1), name, kind) }
    }

    // Handbook 3.2, from memory: what resists draws 97 to 103 % of its plate; a motor 60 to 95 % at a power factor of 0.6 to 0.85, so
    // that 600 W at 120 V are more than 5 A; electronics 20 to 60 %.
    #[test]
    fn a_plate_is_read_by_what_it_is_on() {
        let amps = |name: &str, kind, watts| expected(&load(name, kind, watts), ON_A_LEG).unwrap().0.0;
        assert!((amps("kettle", LoadKind::Other, 1500.0) - 12.5).abs() < 1e-9);
        assert!((5.0..6.0).contains(&amps("washer", LoadKind::Washer, 600.0)));
        assert!((1.4..2.4).contains(&amps("computer", LoadKind::Other, 480.0)));
        assert!(amps("deck oven", LoadKind::Other, 1200.0) > 6.0, "by its name it is an oven");
        assert!(most(&load("kettle", LoadKind::Other, 1500.0), ON_A_LEG).unwrap().0 < 13.0);
        let at_least = |name, kind, watts| least(&load(name, kind, watts), ON_A_LEG).unwrap().0;
        assert!((at_least("kettle", LoadKind::Other, 1500.0) - 12.5).abs() < 1e-9);
        assert!((at_least("washer", LoadKind::Washer, 600.0) - 0.6 * 5.0 / 0.85).abs() < 1e-9);
    }

    // ∫ dx/x over 0.5 to 1, by its width: 2 ln 2. [def]
    #[test]
    fn one_over_a_range_has_its_mean_and_error() {
        let (mean, error) = Range::new(0.5, 1.0).one_over();
        assert!((mean - 2.0 * 2.0_f64.ln()).abs() < 1e-12 && (0.19..0.21).contains(&error), "{mean} {error}");
        assert_eq!(Range::new(0.8, 0.8).one_over(), (1.25, 0.0));
    }
}
