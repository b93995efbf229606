//! Everything that draws: loads, and what is usually at a point where no loads are entered.

use std::collections::BTreeMap;
use std::sync::Arc;

use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

use crate::base::Invalid;
use crate::base::position::Leg;
use crate::base::units::{Amps, NominalVolts};
use crate::code::volts::LEG;
use crate::house::{
    BreakerId, Habit, House, Load, LoadId, LoadKind, Panel, Point, PointId, PointKind, Quantity, ReadingId,
};
use crate::load::draws::{Draws, NINETEEN_OF_TWENTY};
use crate::load::fit::Spread;
use crate::load::hung::{Hung, Through};
use crate::load::misfit::{Happened, Misfit};
use crate::load::uses::{self, Uses};
use crate::network::{self, Taken};
use crate::plate::running::running;
use crate::plate::{self, Connected, typical};
use crate::words::usual;

/// Something that draws.
#[derive(Debug, Clone, Copy, PartialEq, Eq, PartialOrd, Ord, Serialize, Deserialize, ToSchema)]
#[serde(rename_all = "kebab-case")]
pub enum Drawn {
    /// A load.
    Load(LoadId),
    /// All that is usually at a point where no loads are entered.
    Point(PointId),
}

/// A reading that does not fit and showed more than is believed: until that is cleared it may be the one that is right.
#[derive(Debug, Clone, PartialEq)]
pub struct ReadMore {
    reading: ReadingId,
    amps: f64,
    /// What was on, and what is believed of each.
    on: Vec<(LoadId, f64)>,
}

/// What something draws, when, and where it hangs.
#[derive(Debug, Clone, PartialEq)]
pub struct Drawing {
    /// What it is.
    pub thing: Drawn,
    /// Where it is.
    pub point: PointId,
    /// The tag of that.
    pub tag: String,
    /// What people call it.
    pub name: String,
    /// The voltage it is made for.
    pub volts: NominalVolts,
    /// What it draws, where anything is known of that,
    pub amps: Option<Amps>,
    /// and the standard error of that.
    pub error: Amps,
    /// The least that is counted of it where it is asked whether something holds, whatever was read.
    pub least: Amps,
    /// The most that it draws: the upper end of what is known of it, and where nobody measured it all that its plate may mean.
    pub most: Amps,
    /// How that goes together with the errors of others, where readings tie them.
    pub tied: Option<(usize, Arc<Spread>)>,
    /// It took part in readings.
    pub read: bool,
    /// Readings with it on that showed more than is believed.
    pub read_more: Vec<Arc<ReadMore>>,
    /// It was measured, and is known well by that.
    pub measured: bool,
    /// When it runs,
    pub habit: Habit,
    /// and how often and how long.
    pub uses: Uses,
    /// The share of the time that it runs while it is on: all of it where nothing switches it but somebody.
    pub runs: f64,
    /// It runs at its most for three hours or more.
    pub continuous: bool,
    /// What feeds it; none where that is not known.
    pub breakers: Vec<BreakerId>,
    /// The legs that its current takes, its own panel first.
    pub ways: Vec<Through>,
    /// It is proven to hang there.
    pub proven: bool,
}

impl Drawing {
    /// What people call it, with its tag; the tag alone where nobody named it.
    #[must_use]
    pub fn named(&self) -> String {
        if self.name.is_empty() { self.tag.clone() } else { format!("{} ({})", self.name, self.tag) }
    }
}

/// The standard error of what several things draw together, each with how often it counts: what was read as a sum is known as one.
#[must_use]
pub fn error_of(on: &[(&Drawing, f64)]) -> f64 {
    let tied: Vec<(usize, f64)> = on.iter().filter_map(|(d, times)| Some((d.tied.as_ref()?.0, *times))).collect();
    let spread = on.iter().find_map(|(d, _)| d.tied.as_ref().map(|(_, spread)| spread));
    let alone = on.iter().filter(|(d, _)| d.tied.is_none()).map(|(d, times)| (times * d.error.0).powi(2)).sum::<f64>();
    spread.map_or(0.0, |spread| spread.error_of(&tied)).hypot(alone.sqrt())
}

/// What things put on a leg of a panel at once, each as often as it counts: their currents as phasors. What may be on either leg is taken
/// to be on this one.
#[must_use]
pub fn on_leg(panel: &Panel, leg: Leg, on: &[(&Drawing, f64)]) -> f64 {
    let taken = |(d, times): &(&Drawing, f64)| {
        let way = d.ways.iter().find(|way| way.panel == panel.id && way.legs.contains(&leg))?;
        let legs = if d.volts.is_leg_to_leg() { way.legs.clone() } else { vec![leg] };
        Some((times * d.amps.map_or(0.0, |a| a.0), legs))
    };
    let taken: Vec<(f64, Vec<Leg>)> = on.iter().filter_map(taken).collect();
    let taken: Vec<Taken<'_>> = taken.iter().map(|(amps, legs)| Taken { amps: *amps, legs }).collect();
    network::leg_of(panel.supply, leg, &taken)
}

/// The most that a sum may be: what was read goes by how well the sum is known, nineteen times of twenty, what was not by its plate, and
/// no less than a reading of it showed that does not fit. In amperes as if all were in phase, which is the most. A yes and a plan never
/// rest on less.
#[must_use]
pub fn upper(there: &[&Drawing]) -> f64 {
    let is_there = |load: LoadId| there.iter().any(|d| d.thing == Drawn::Load(load));
    let readings: BTreeMap<ReadingId, &ReadMore> =
        there.iter().flat_map(|d| &d.read_more).map(|read| (read.reading, read.as_ref())).collect();
    let as_read = |read: &ReadMore| {
        let was_on = |d: &&&Drawing| read.on.iter().any(|(load, _)| d.thing == Drawn::Load(*load));
        let others: Vec<&Drawing> = there.iter().filter(|d| !was_on(d)).copied().collect();
        let not_asked: f64 = read.on.iter().filter(|(load, _)| !is_there(*load)).map(|(_, amps)| amps).sum();
        read.amps - not_asked + upper_by_parts(&others)
    };
    readings.into_values().map(as_read).fold(upper_by_parts(there), f64::max)
}

fn upper_by_parts(there: &[&Drawing]) -> f64 {
    let (read, not): (Vec<&Drawing>, Vec<&Drawing>) = there.iter().partition(|d| d.read);
    let error = error_of(&read.iter().map(|d| (*d, 1.0)).collect::<Vec<_>>());
    let by_plates: f64 = not.iter().map(|d| d.most.0).sum();
    let of_read: f64 = read.iter().map(|d| d.least.0.max(d.amps.map_or(0.0, |a| a.0))).sum();
    of_read + NINETEEN_OF_TWENTY * error + by_plates
}

/// The least that is counted of a load: the least that its plate may mean, all of what it may mean where readings speak against it, and
/// without a plate what such things usually draw at the least.
fn least(load: &Load, connected: Connected, doubted: bool) -> Amps {
    let least = match plate::current(load, connected) {
        Some(_) if doubted => plate::most(load, connected),
        Some(_) => plate::least(load, connected),
        None => typical::like(load).map(|usual| usual.low),
    };
    least.unwrap_or(Amps(0.0))
}

/// The most that something draws, once all else is known of it.
fn most(load: Option<(&Load, Connected)>, d: &Drawing) -> Amps {
    let load = load.filter(|_| !d.read);
    let by_plate = load.and_then(|(load, connected)| plate::most(load, connected));
    let usual = load.and_then(|(load, _)| typical::like(load)).map(|usual| usual.high.0);
    let amps = d.amps.map_or(0.0, |a| a.0);
    Amps(match by_plate {
        Some(most) => most.0.max(amps),
        None => (amps + NINETEEN_OF_TWENTY * d.error.0).max(usual.unwrap_or(0.0)).max(d.least.0),
    })
}

/// Finds what is meant by a tag, by a load's name, or by `K3:toaster`.
///
/// # Errors
/// Where nothing or more than one thing is called so.
pub fn called(house: &House, text: &str) -> Result<Vec<Drawn>, Invalid> {
    if let Some(point) = house.point_tagged(text) {
        let loads: Vec<_> = house.loads.iter().filter(|l| l.point == point.id).map(|l| Drawn::Load(l.id)).collect();
        return Ok(if loads.is_empty() { vec![Drawn::Point(point.id)] } else { loads });
    }
    Ok(house.loads_called("on", text)?.into_iter().map(Drawn::Load).collect())
}

/// When a load runs: as somebody said, or as usual for such a thing.
#[must_use]
pub fn habit(load: &Load) -> Habit {
    load.habit.or_else(|| typical::like(load).map(|usual| usual.habit)).unwrap_or(Habit::Occupied)
}

/// Readings at breakers and plugs that showed more than is believed, and are not simply ten times too high.
fn read_more(house: &House, hung: &Hung<'_>, draws: &Draws) -> Vec<Arc<ReadMore>> {
    let of = |misfit: &Misfit| {
        let reading = house.readings.get(misfit.reading).filter(|_| misfit.errors > 0.0)?;
        let narrow = reading.place.breaker().is_some() || reading.place.point().is_some();
        let tenfold = misfit.causes.iter().any(|cause| matches!(cause.happened, Happened::Tenfold { .. }));
        let hangs = |load: &&LoadId| {
            house.loads.get(**load).is_some_and(|load| hung.carries(reading.place, reading.quantity, load))
        };
        let believed = |load: &LoadId| draws.loads.iter().find(|d| d.load == *load).map_or(0.0, |d| d.amps.0);
        let on = reading.on.iter().filter(hangs).map(|load| (*load, believed(load))).collect();
        let amps = if reading.quantity == Quantity::Watts { misfit.read / LEG } else { misfit.read };
        (narrow && !tenfold).then(|| Arc::new(ReadMore { reading: reading.id, amps, on }))
    };
    draws.misfits.iter().filter_map(of).collect()
}

/// Everything that draws, in the order of the points.
#[must_use]
pub fn everything(house: &House, hung: &Hung<'_>, draws: &Draws) -> Vec<Drawing> {
    let more = read_more(house, hung, draws);
    let mut all: Vec<Drawing> = draws
        .loads
        .iter()
        .enumerate()
        .filter_map(|(nth, draw)| {
            let load = house.loads.get(draw.load)?;
            let point = house.points.get(load.point)?;
            let connected = hung.connected(load);
            let base = at(hung, Drawn::Load(load.id), point, connected.volts);
            let (habit, cycles) = (habit(load), running(load).cycles);
            let mut drawing = Drawing {
                name: load.name.clone(),
                amps: draw.known.then_some(draw.amps),
                error: draw.standard_error(),
                least: least(load, connected, draw.plate.is_some()),
                tied: Some((nth, draws.spread.clone())),
                read: draw.readings > 0,
                read_more: more.iter().filter(|read| read.on.iter().any(|(on, _)| *on == load.id)).cloned().collect(),
                measured: draw.is_measured(),
                habit,
                uses: uses::uses(typical::like(load), load.kind, habit, cycles),
                runs: cycles.unwrap_or(1.0),
                continuous: plate::is_continuous(load),
                ..base
            };
            drawing.most = most(Some((load, connected)), &drawing);
            Some(drawing)
        })
        .collect();
    let loaded: BTreeMap<PointId, ()> = house.loads.iter().map(|l| (l.point, ())).collect();
    for point in house.points_in_order().into_iter().filter(|p| !loaded.contains_key(&p.id)) {
        // A switch draws nothing itself, and a cable end that is capped neither.
        if matches!(point.kind, PointKind::Switch) {
            continue;
        }
        let usual = typical::at_point(point);
        let like = usual::named(&point.name);
        let habit = like.map_or(Habit::Occupied, |u| u.habit);
        let uses = uses::uses(like, like.map_or(LoadKind::Other, |u| u.kind), habit, None);
        let volts = point.volts.unwrap_or(NominalVolts::V120);
        let base = at(hung, Drawn::Point(point.id), point, volts);
        let error = Amps(typical::SPREAD * usual.map_or(0.0, |a| a.0));
        let mut drawing = Drawing { name: point.name.clone(), amps: usual, error, habit, uses, ..base };
        drawing.most = most(None, &drawing);
        all.push(drawing);
    }
    all
}

fn at(hung: &Hung<'_>, thing: Drawn, point: &Point, volts: NominalVolts) -> Drawing {
    let breakers = hung.feeders(point.id).to_vec();
    Drawing {
        thing,
        point: point.id,
        tag: point.tag.clone(),
        name: String::new(),
        volts,
        amps: None,
        error: Amps(0.0),
        least: Amps(0.0),
        most: Amps(0.0),
        tied: None,
        read: false,
        read_more: Vec::new(),
        measured: false,
        habit: Habit::Occupied,
        uses: uses::uses(None, LoadKind::Other, Habit::Occupied, None),
        runs: 1.0,
        continuous: false,
        ways: hung.ways(&breakers, volts),
        breakers,
        proven: hung.is_proven(point.id),
    }
}
