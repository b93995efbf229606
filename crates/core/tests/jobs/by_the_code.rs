//! Rules of the code said again, without the program's: tables by heart, things by what the maker of the house knows. What a plan
//! leaves is held against them. [all: NEC 2023, from memory]

use std::collections::{BTreeMap, BTreeSet};

use wayfinder_core::House;
use wayfinder_core::base::position::{Half, Supply};
use wayfinder_core::house::*;

/// What hangs where, as the house's maker knows.
pub type Truth = BTreeMap<PointId, BreakerId>;
/// A broken rule, and the thing that breaks it.
pub type Broken = (&'static str, u64);

/// 240.4(B), (D), 310.16 at 60 °C, copper: the size, and the largest breaker.
const BEHIND: [(i8, f64); 9] =
    [(14, 15.0), (12, 20.0), (10, 30.0), (8, 40.0), (6, 60.0), (4, 70.0), (3, 90.0), (2, 100.0), (1, 110.0)];
const RATINGS: [f64; 17] = [15., 20., 25., 30., 35., 40., 45., 50., 60., 70., 80., 90., 100., 110., 125., 150., 175.];
/// 210.8(A): kinds of rooms, as the maker names them. (F) speaks of the last.
const WET: [&str; 6] = ["Kitchen", "Bathroom", "Garage", "Laundry", "Basement", "Outside"];
/// 210.12.
const ARCS: [&str; 4] = ["Kitchen", "Laundry", "Bedroom", "Hall"];

/// Everything that is broken, as far as it is known what hangs where.
pub fn broken(house: &House, truth: &Truth) -> BTreeSet<Broken> {
    let mut all = BTreeSet::new();
    for panel in house.panels.iter() {
        of_panel(house, panel, &mut all);
    }
    for breaker in house.breakers.iter() {
        of_breaker(house, breaker, truth, &mut all);
    }
    for (point, breaker) in truth {
        if let (Some(point), Some(breaker)) = (house.points.get(*point), house.breakers.get(*breaker)) {
            of_point(house, point, breaker, &mut all);
        }
    }
    all
}

fn of_panel(house: &House, panel: &Panel, all: &mut BTreeSet<Broken>) {
    // 408.36: protected at no more than its rating.
    let protects = panel.main.or(panel.fed_by.and_then(|b| house.breakers.get(b)).map(|b| b.amps));
    if protects.is_some_and(|amps| amps.0 > panel.bus.0) {
        all.insert(("408.36 panel", panel.id.0));
    }
    // 408.54.
    let poles: usize = house.breakers.iter().filter(|b| b.panel == panel.id).map(|b| b.at.len()).sum();
    if panel.max_circuits.is_some_and(|most| poles > usize::from(most)) {
        all.insert(("408.54", panel.id.0));
    }
}

/// The bus by rows from above: A, B, A, B; on three legs A, B, C. Odd numbers left, even right.
fn leg(panel: &Panel, space: u16) -> u16 {
    let row = (space - 1) / 2;
    if panel.supply == Supply::WyeThreePhase { row % 3 } else { row % 2 }
}

fn of_breaker(house: &House, breaker: &Breaker, truth: &Truth, all: &mut BTreeSet<Broken>) {
    let id = breaker.id.0;
    let panel = house.panels.get(breaker.panel).unwrap();
    let legs: BTreeSet<u16> = breaker.at.iter().map(|p| leg(panel, p.space)).collect();
    if legs.len() < breaker.at.len() {
        all.insert(("one leg", id));
    }
    if breaker.at.iter().any(|p| p.half != Half::Whole && !panel.tandem.allow(p.space)) {
        all.insert(("half-size", id));
    }
    if breaker.amps.0 > panel.bus.0 {
        all.insert(("408.36 branch", id));
    }
    if !RATINGS.contains(&breaker.amps.0) {
        all.insert(("240.6", id));
    }
    of_shares(house, breaker, truth, all);
    let circuits: Vec<&Circuit> = house.circuits.iter().filter(|c| c.breaker == breaker.id).collect();
    for circuit in &circuits {
        let Some(wire) = circuit.wire else { continue };
        let most = BEHIND.iter().find(|(size, _)| *size == wire.number()).map(|(_, most)| *most);
        // 240.4(G): one motor or cooler alone may have more, by its plate.
        let here: Vec<PointId> = truth.iter().filter(|(_, b)| **b == breaker.id).map(|(p, _)| *p).collect();
        let plate = house.loads.iter().any(|l| {
            here == [l.point]
                && house.loads.iter().filter(|o| o.point == l.point).count() == 1
                && l.mop.is_some_and(|mop| breaker.amps.0 <= mop.0)
                && l.mca.is_some()
        });
        if most.is_some_and(|most| breaker.amps.0 > most) && !plate {
            all.insert(("240.4", circuit.id.0));
        }
        // 210.4: each on a leg of its own, and side by side.
        let of = circuit.neutral_of.unwrap_or(circuit.id);
        let shares = |c: &&Circuit| c.id != circuit.id && (c.id == of || c.neutral_of == Some(of));
        for other in house.circuits.iter().filter(shares) {
            let Some(their) = house.breakers.get(other.breaker) else { continue };
            let theirs: BTreeSet<u16> = on(their, other).iter().map(|s| leg(panel, *s)).collect();
            if on(breaker, circuit).iter().any(|s| theirs.contains(&leg(panel, *s))) {
                all.insert(("210.4 leg", circuit.id.0.max(other.id.0)));
            }
        }
        let mates: Vec<&Breaker> =
            house.circuits.iter().filter(shares).filter_map(|c| house.breakers.get(c.breaker)).collect();
        let beside = |other: &&&Breaker| {
            let rows = |b: &Breaker| {
                let of = b.at.iter().map(|p| (2 * ((p.space - 1) / 2), p.half));
                let (mut top, mut end) = (u16::MAX, 0);
                for (row, half) in of {
                    let (from, to) = match half {
                        Half::Whole => (row, row + 2),
                        Half::Upper => (row, row + 1),
                        Half::Lower => (row + 1, row + 2),
                    };
                    (top, end) = (top.min(from), end.max(to));
                }
                (top, end, b.at[0].space % 2)
            };
            let (a, b) = (rows(breaker), rows(other));
            other.id == breaker.id || a.2 == b.2 && (a.1 == b.0 || b.1 == a.0)
        };
        if !mates.is_empty() && !mates.iter().any(|m| beside(&m)) {
            all.insert(("210.4 apart", circuit.id.0));
        }
    }
}

/// 210.23(B): of what is there for good at most half beside lights and outlets; 210.20(A): what runs for hours with a quarter more.
/// Things of the made houses that print amperes, or a least ampacity of which a quarter is margin.
fn of_shares(house: &House, breaker: &Breaker, truth: &Truth, all: &mut BTreeSet<Broken>) {
    let here: Vec<&Point> =
        truth.iter().filter(|(_, b)| **b == breaker.id).filter_map(|(p, _)| house.points.get(*p)).collect();
    let at = |kind: PointKind| here.iter().filter(move |p| p.kind == kind);
    let amps = |l: &Load| l.amps.map(|a| a.0).or(l.mca.map(|least| least.0 / 1.25)).unwrap_or(0.0);
    let wired: Vec<&Load> =
        at(PointKind::Appliance).flat_map(|p| house.loads.iter().filter(move |l| l.point == p.id)).collect();
    let beside = at(PointKind::Light).chain(at(PointKind::Receptacle)).count() > 0;
    let sum: f64 = wired.iter().map(|l| amps(l)).sum();
    if breaker.at.len() == 1 && beside && sum > 0.5 * breaker.amps.0 + 1e-6 {
        all.insert(("210.23 fixed", breaker.id.0));
    }
    let hours: Vec<f64> = wired
        .iter()
        .filter(|l| matches!(l.kind, LoadKind::Heating | LoadKind::WaterHeater | LoadKind::CarCharger))
        .map(|l| amps(l))
        .collect();
    let more = 1.25 * hours.iter().sum::<f64>();
    if breaker.at.len() == 1 && hours.len() > 1 && more > breaker.amps.0 + 1e-6 {
        all.insert(("210.20", breaker.id.0));
    }
}

/// The spaces that a circuit's hots are on.
fn on(breaker: &Breaker, circuit: &Circuit) -> Vec<u16> {
    match circuit.pole {
        Some(pole) => breaker.at.get(usize::from(pole) - 1).map(|p| p.space).into_iter().collect(),
        None => breaker.at.iter().map(|p| p.space).collect(),
    }
}

fn of_point(house: &House, point: &Point, breaker: &Breaker, all: &mut BTreeSet<Broken>) {
    let id = point.id.0;
    let two_legs = point.volts.is_some_and(|v| u16::from(v) > 120);
    let amps = breaker.amps.0;
    // 210.21(B), 210.23: outlets and lights.
    if point.kind == PointKind::Receptacle && amps > if two_legs { 50.0 } else { 20.0 } {
        all.insert(("210.21", id));
    }
    if point.kind == PointKind::Light && amps > 20.0 {
        all.insert(("210.23", id));
    }
    // 210.6, 110.4: the voltage.
    if two_legs && breaker.at.len() == 1 {
        all.insert(("volts", id));
    }
    let hot_both = |c: &&Circuit| c.breaker == breaker.id && c.conductors == Some(2);
    if !two_legs && breaker.at.len() == 2 && house.circuits.iter().any(|c| hot_both(&c) && c.pole.is_none()) {
        all.insert(("volts", id));
    }
    let room = &house.rooms.get(point.room).unwrap().name;
    let is = |list: &[&str]| list.iter().any(|name| room.starts_with(name));
    let loads: Vec<&Load> = house.loads.iter().filter(|l| l.point == point.id).collect();
    // 210.8(A), (D), (F).
    let asks = point.kind == PointKind::Receptacle && is(&WET)
        || point.kind == PointKind::Appliance && is(&WET[5..])
        || loads.iter().any(|l| {
            use LoadKind::{Cooktop, Dishwasher, Dryer, Microwave, Oven, Range};
            matches!(l.kind, Cooktop | Dishwasher | Dryer | Microwave | Oven | Range)
        });
    let protected = matches!(breaker.device, Device::Gfci | Device::Dual);
    if asks && !protected && !point.ground_fault && point.protected_by.is_none() {
        all.insert(("210.8", id));
    }
    let general = matches!(point.kind, PointKind::Receptacle | PointKind::Light);
    if !two_legs && (amps <= 20.0 || general) && is(&ARCS) && !matches!(breaker.device, Device::Afci | Device::Dual) {
        all.insert(("210.12", id));
    }
    for load in loads {
        // 440.4(B), 110.3(B).
        if load.mop.is_some_and(|mop| amps > mop.0) {
            all.insert(("440.4 most", load.id.0));
        }
        if load.mca.is_some_and(|mca| amps < mca.0 && load.mop.is_none_or(|mop| amps < mop.0)) {
            all.insert(("440.4 least", load.id.0));
        }
    }
}

/// What is dangerous wherever hands were: it does not stay.
pub const DANGER: [&str; 7] = ["240.4", "210.21", "210.4 leg", "408.36 panel", "210.23", "volts", "440.4 most"];
/// What trips a breaker that is too small, and burns nothing.
pub const SHARES: [&str; 3] = ["210.23 fixed", "210.20", "440.4 least"];
