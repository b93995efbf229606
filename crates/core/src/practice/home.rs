//! Households whose things draw as real ones do, measured by people who err: another model than the one that estimates.
//!
//! Shares of plates and power factors are those published (handbook 3.2, values from memory), but leaning to one side, with some things
//! outside of what is published; things that cycle rest while they are on; the voltage moves; and who reads may read ten times too
//! much, forget to note something, note what was off, or write it to another circuit. Where it differs from the program's own
//! view: nothing lies evenly in its range, plates are rounded, one in twenty things is odd, and what is on stands in no list of usual
//! things.

use std::collections::{BTreeMap, BTreeSet};

use jiff::Timestamp;
use rand::rngs::ChaCha8Rng;
use rand::seq::IndexedRandom;
use rand::{RngExt, SeedableRng};

use crate::base::position::parse_poles;
use crate::base::units::{Amps, NominalVolts, Watts};
use crate::house::{
    Breaker, BreakerId, Evidence, EvidenceId, Habit, House, Instrument, Load, LoadId, LoadKind, MeasuredAt,
    Observation, Panel, PanelId, Point, PointId, PointKind, Quantity, Reading, ReadingId, Room, RoomId, Side, Span,
};

/// A sort of thing: how it is printed, and how it really runs.
struct Appliance {
    name: &'static str,
    /// The kind of load that somebody enters; what they seldom know is `Other`.
    kind: LoadKind,
    /// What its plate prints: watts, or amperes.
    plate: Plate,
    /// What it takes of that: least, most often, most.
    takes: [f64; 3],
    /// Its power factor, least and most.
    factor: [f64; 2],
    /// The share of the time that it runs while on; all of it where that is one.
    runs: [f64; 2],
    /// When it is used.
    habit: Habit,
    /// How it counts in the table.
    family: &'static str,
}

enum Plate {
    Watts(f64, f64),
    Amps(f64, f64),
}

use Habit::{Always, Hours, Meals, Occupied, Season, Seldom};
use LoadKind as Kind;
use Plate::{Amps as A, Watts as W};

const STEADY: [f64; 2] = [1.0, 1.0];

macro_rules! sorts {
    ($($family:literal: [$($name:literal $kind:ident $plate:expr, $takes:expr, $factor:expr, $runs:expr, $habit:ident;)*])*) => {
        &[$($(Appliance {
            name: $name, kind: Kind::$kind, plate: $plate, takes: $takes, factor: $factor, runs: $runs, habit: $habit, family: $family,
        },)*)*]
    };
}

const SMALL: &[Appliance] = sorts! {
    "resists": [
        "kettle" Other W(1000.0, 1500.0), [0.96, 1.0, 1.03], STEADY, STEADY, Meals;
        "toaster" Other W(800.0, 1500.0), [0.96, 0.99, 1.03], STEADY, STEADY, Meals;
        "coffee maker" Other W(800.0, 1200.0), [0.95, 1.0, 1.03], STEADY, STEADY, Meals;
        "iron" Other W(1200.0, 1700.0), [0.96, 1.0, 1.03], STEADY, [0.5, 0.8], Seldom;
        "space heater" Heating W(750.0, 1500.0), [0.96, 1.0, 1.03], STEADY, [0.6, 1.0], Season;
    ]
    "motors": [
        "washer" Washer A(6.0, 10.0), [0.5, 0.8, 0.97], [0.6, 0.8], STEADY, Occupied;
        "disposer" Disposer A(5.0, 9.0), [0.55, 0.7, 0.95], [0.6, 0.8], STEADY, Meals;
        "sump pump" SumpPump A(5.0, 10.0), [0.6, 0.85, 0.97], [0.65, 0.85], STEADY, Seldom;
        "furnace" Fan A(6.0, 10.0), [0.55, 0.7, 0.95], [0.6, 0.85], STEADY, Season;
        "range hood" Hood W(150.0, 350.0), [0.55, 0.75, 0.95], [0.6, 0.85], STEADY, Meals;
        "garage door opener" Other W(350.0, 600.0), [0.6, 0.8, 0.95], [0.6, 0.85], STEADY, Seldom;
    ]
    "universal": [
        "vacuum" Other A(8.0, 12.0), [0.62, 0.85, 1.0], [0.88, 0.95], STEADY, Seldom;
        "table saw" Other A(12.0, 15.0), [0.55, 0.75, 1.0], [0.85, 0.95], STEADY, Seldom;
        "mixer" Other W(300.0, 600.0), [0.55, 0.75, 1.0], [0.88, 0.95], STEADY, Seldom;
    ]
    "compressors": [
        "refrigerator" Refrigerator A(5.0, 8.0), [0.22, 0.33, 0.6], [0.7, 0.9], [0.25, 0.5], Always;
        "freezer" Refrigerator A(4.0, 6.5), [0.24, 0.35, 0.6], [0.7, 0.9], [0.25, 0.5], Always;
        "window unit" Cooling A(6.0, 12.0), [0.27, 0.45, 0.63], [0.75, 0.92], [0.5, 0.9], Season;
    ]
    "electronics": [
        "television" Other W(80.0, 300.0), [0.18, 0.38, 0.62], [0.55, 0.97], STEADY, Occupied;
        "computer" Other W(300.0, 750.0), [0.15, 0.3, 0.6], [0.6, 0.97], STEADY, Occupied;
    ]
    "heat and motor": [
        "hair dryer" Other W(1200.0, 1800.0), [0.6, 0.9, 1.0], [0.95, 1.0], STEADY, Occupied;
        "dishwasher" Dishwasher A(8.0, 12.0), [0.55, 0.8, 1.0], [0.9, 1.0], STEADY, Meals;
        "microwave" Microwave W(700.0, 1100.0), [1.35, 1.5, 1.62], [0.88, 0.95], STEADY, Meals;
    ]
    "light": [
        "lamp" Light W(8.0, 60.0), [0.93, 1.0, 1.06], [0.5, 0.95], STEADY, Occupied;
    ]
    "no idea": [
        "gadget" Other W(60.0, 900.0), [0.2, 0.55, 1.0], [0.6, 1.0], STEADY, Occupied;
    ]
};

const LARGE: &[Appliance] = sorts! {
    "resists": [
        "water heater" WaterHeater W(3000.0, 5500.0), [0.96, 1.0, 1.03], STEADY, [0.8, 1.0], Hours;
        "baseboard" Heating W(1000.0, 2000.0), [0.96, 1.0, 1.03], STEADY, [0.6, 1.0], Season;
    ]
    "elements": [
        "range" Range W(7000.0, 12_000.0), [0.4, 0.6, 1.0], STEADY, [0.7, 1.0], Meals;
        "wall oven" Oven W(3600.0, 5000.0), [0.6, 0.8, 1.0], STEADY, [0.6, 0.9], Meals;
    ]
    "heat and motor": [
        "dryer" Dryer W(4500.0, 5600.0), [0.7, 0.93, 1.0], [0.95, 1.0], STEADY, Occupied;
        "car charger" CarCharger A(16.0, 32.0), [0.9, 0.97, 1.0], STEADY, STEADY, Hours;
    ]
    "motors": [
        "heat pump" HeatPump A(12.0, 28.0), [0.55, 0.7, 0.95], [0.75, 0.95], [0.6, 0.95], Season;
        "well pump" Pump A(7.0, 12.0), [0.65, 0.85, 0.97], [0.65, 0.85], STEADY, Seldom;
    ]
};

/// Things that are unlike any plate: one in twenty, by so much either way.
const ODD: (f64, f64) = (0.05, 0.12);
/// Plates that somebody read.
const READ: f64 = 0.75;

/// What a thing really does.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Real {
    /// What it draws while it runs.
    pub amps: f64,
    /// Its power factor.
    pub factor: f64,
    /// The share of the time that it runs while it is on.
    pub runs: f64,
    /// It takes more current where it gets more voltage.
    pub resists: bool,
    /// How it counts in the table.
    pub family: &'static str,
}

/// How somebody erred.
#[derive(Debug, Clone, Copy, PartialEq, Eq, PartialOrd, Ord)]
pub enum Slip {
    /// Ten times too much.
    TenTimes,
    /// A tenth.
    ATenth,
    /// Something was on that nobody noted.
    Forgotten,
    /// Something was noted that was off.
    WasOff,
    /// It was written to another circuit.
    WrongCircuit,
}

/// A household.
#[derive(Debug)]
pub struct MadeHome {
    /// What is known of it.
    pub house: House,
    /// What is true of each thing.
    pub real: BTreeMap<LoadId, Real>,
    /// Where each point truly hangs.
    pub fed: BTreeMap<PointId, BreakerId>,
    /// Readings that are wrong, and how.
    pub slips: BTreeMap<ReadingId, Slip>,
    rng: ChaCha8Rng,
}

const PANEL: PanelId = PanelId(1);
/// Large things of a house, and its small circuits.
const LARGES: usize = 5;
const CIRCUITS: usize = 11;

impl MadeHome {
    /// Makes one; `known` is the share of points whose breaker is known, the others were never traced.
    #[must_use]
    pub fn new(seed: u64, known: f64) -> Self {
        let mut house = House::new("Made household");
        house.panels.put(Panel::new(PANEL, "Main", 40));
        house.rooms.put(Room::new(RoomId(1), "Everywhere", "1"));
        let (real, fed, slips) = (BTreeMap::new(), BTreeMap::new(), BTreeMap::new());
        let mut made = Self { house, real, fed, slips, rng: ChaCha8Rng::seed_from_u64(seed) };
        for nth in 0..LARGES {
            let (at, side) = (4 * (nth as u16 / 2), nth as u16 % 2);
            let poles = format!("{}-{}", at + 1 + side, at + 3 + side);
            let breaker = made.breaker(&poles, 50.0);
            let point = made.point(breaker, PointKind::Appliance, NominalVolts::V240, known);
            made.add(point, LARGE);
        }
        for nth in 0..CIRCUITS {
            let amps = if made.rng.random_bool(0.5) { 20.0 } else { 15.0 };
            let breaker = made.breaker(&(13 + nth).to_string(), amps);
            let points = made.rng.random_range(2..6);
            for _ in 0..points {
                let point = made.point(breaker, PointKind::Receptacle, NominalVolts::V120, known);
                for _ in 0..[0, 1, 1, 1, 2].choose(&mut made.rng).copied().unwrap_or(1) {
                    made.add(point, SMALL);
                }
            }
        }
        made
    }

    fn breaker(&mut self, at: &str, amps: f64) -> BreakerId {
        let id = BreakerId(self.house.breakers.len() as u64 + 1);
        let at = parse_poles(at).unwrap_or_default();
        self.house.breakers.put(Breaker { as_found: true, ..Breaker::new(id, PANEL, at, Amps(amps)) });
        id
    }

    fn point(&mut self, at: BreakerId, kind: PointKind, volts: NominalVolts, known: f64) -> PointId {
        let id = PointId(self.house.points.len() as u64 + 1);
        let point = Point::new(id, format!("E{}", id.0), RoomId(1), kind);
        self.house.points.put(Point { volts: Some(volts), ..point });
        self.fed.insert(id, at);
        if self.rng.random_bool(known) {
            let evidence = EvidenceId(id.0);
            let (time, who, step) = (Timestamp::UNIX_EPOCH, "made".into(), None);
            let observation = Observation::Wire { at };
            self.house.evidence.put(Evidence { id: evidence, point: id, time, who, step, observation });
        }
        id
    }

    fn add(&mut self, point: PointId, of: &'static [Appliance]) {
        let Some(sort) = of.choose(&mut self.rng) else { return };
        let volts = if std::ptr::eq(of, LARGE) { 240.0 } else { 120.0 };
        let mut between = |[low, high]: [f64; 2]| low + (high - low) * self.rng.random::<f64>();
        let factor = between(sort.factor);
        let runs = between(sort.runs);
        let printed = match sort.plate {
            W(low, high) => (between([low, high]) / 10.0).round() * 10.0,
            A(low, high) => (between([low, high]) * 10.0).round() / 10.0,
        };
        let takes = self.leaning(sort.takes);
        let amps = match sort.plate {
            W(..) => printed * takes / (volts * factor),
            A(..) => printed * takes,
        };
        let id = LoadId(self.house.loads.len() as u64 + 1);
        let read = self.rng.random_bool(READ);
        let load = Load::new(id, point, format!("{} {}", sort.name, id.0), sort.kind);
        let (in_watts, in_amps) = match sort.plate {
            W(..) => (Some(Watts(printed)), None),
            A(..) => (None, Some(Amps(printed))),
        };
        self.house.loads.put(Load {
            watts: in_watts.filter(|_| read),
            amps: in_amps.filter(|_| read),
            volts: if volts > 200.0 { Some(NominalVolts::V240.into()) } else { None },
            habit: Some(sort.habit),
            ..load
        });
        let resists = sort.factor == STEADY && sort.family != "motors";
        self.real.insert(id, Real { amps, factor, runs, resists, family: sort.family });
    }

    /// From a triangle that leans to what is most often; one in twenty a little outside of it.
    fn leaning(&mut self, [low, most, high]: [f64; 3]) -> f64 {
        let u: f64 = self.rng.random();
        let split = (most - low) / (high - low);
        let at = if u < split {
            low + (u * (high - low) * (most - low)).sqrt()
        } else {
            high - ((1.0 - u) * (high - low) * (high - most)).sqrt()
        };
        let odd = self.rng.random_bool(ODD.0);
        let side = if self.rng.random_bool(0.5) { 1.0 } else { -1.0 };
        if odd { at * (1.0 + side * ODD.1) } else { at }
    }

    /// What a clamp shows at a breaker with these things on.
    fn shows(&mut self, breaker: BreakerId, on: &BTreeSet<LoadId>) -> f64 {
        let volts = 1.0 + 0.03 * (2.0 * self.rng.random::<f64>() - 1.0);
        let mut amps = 0.3 * self.rng.random::<f64>() * self.rng.random::<f64>();
        let here: Vec<LoadId> = on
            .iter()
            .copied()
            .filter(|l| self.house.loads.get(*l).is_some_and(|l| self.fed.get(&l.point) == Some(&breaker)))
            .collect();
        for load in here {
            let Some(real) = self.real.get(&load).copied() else { continue };
            // At rest it takes what its electronics take.
            let runs = self.rng.random_bool(real.runs);
            let drawn = if runs { real.amps } else { 0.04 };
            amps += drawn * if real.resists { volts } else { 1.0 };
        }
        let off = 2.0 * self.rng.random::<f64>() - 1.0;
        ((amps + off * (0.02 * amps + 0.2)).max(0.0) * 100.0).round() / 100.0
    }

    /// The loads that hang on a breaker.
    #[must_use]
    pub fn on(&self, breaker: BreakerId) -> Vec<LoadId> {
        let here = self.house.loads.iter().filter(|l| self.fed.get(&l.point) == Some(&breaker));
        here.map(|l| l.id).collect()
    }

    /// A clamp at each breaker with this share of its things on; a share of the readings is wrong in this way.
    pub fn round(&mut self, usually: f64, slip: Option<(Slip, f64)>) {
        let breakers: Vec<BreakerId> = self.house.breakers.iter().map(|b| b.id).collect();
        for (nth, breaker) in breakers.iter().enumerate() {
            let mut on = BTreeSet::new();
            for load in self.on(*breaker) {
                if self.rng.random_bool(usually) {
                    on.insert(load);
                }
            }
            if on.is_empty() {
                continue;
            }
            let wrong = slip.filter(|(_, share)| self.rng.random_bool(*share)).map(|(slip, _)| slip);
            self.read(*breaker, breakers[(nth + 1) % breakers.len()], on, wrong);
        }
    }

    /// A clamp at a breaker with these things on, by somebody who does not err.
    pub fn take(&mut self, breaker: BreakerId, on: BTreeSet<LoadId>) {
        self.read(breaker, breaker, on, None);
    }

    fn read(&mut self, breaker: BreakerId, other: BreakerId, on: BTreeSet<LoadId>, wrong: Option<Slip>) {
        let mut noted = on.clone();
        let mut really = on;
        let mut place = breaker;
        // An error that nobody could see is none: what it is about draws two amperes at least.
        let large: Vec<LoadId> =
            really.iter().copied().filter(|l| self.real[l].amps >= 2.0 && self.real[l].runs >= 1.0).collect();
        let picked = large.choose(&mut self.rng).copied();
        let done = match (wrong, picked) {
            (Some(Slip::Forgotten), Some(load)) if noted.len() > 1 => noted.remove(&load),
            (Some(Slip::WasOff), Some(load)) => really.remove(&load),
            (Some(Slip::WrongCircuit), Some(_)) => {
                place = other;
                true
            }
            (Some(Slip::TenTimes | Slip::ATenth), Some(_)) => true,
            _ => false,
        };
        let mut value = self.shows(breaker, &really);
        match wrong {
            Some(Slip::TenTimes) if done => value *= 10.0,
            Some(Slip::ATenth) if done => value /= 10.0,
            _ => {}
        }
        let id = ReadingId(self.house.readings.len() as u64 + 1);
        if done && let Some(slip) = wrong {
            self.slips.insert(id, slip);
        }
        let time = Timestamp::from_second(60 * id.0 as i64).unwrap_or_default();
        let place = MeasuredAt::Breaker { breaker: place, pole: None, side: Side::Load };
        let (quantity, instrument, span) = (Quantity::Amps { of: None }, Instrument::Clamp, Span::Spot);
        let who = "made".into();
        self.house.readings.put(Reading {
            id,
            time,
            who,
            place,
            quantity,
            value,
            instrument,
            span,
            on: noted,
            sure: false,
        });
    }
}
