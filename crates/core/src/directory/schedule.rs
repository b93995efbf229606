//! A panel's schedule, with the equipment list that belongs beside it: a schedule alone tells neither wire size nor how many
//! conductors there are. (handbook 4)

use serde::Serialize;
use utoipa::ToSchema;

use super::fed::OnCard;
use super::{Standing, fed_from};
use crate::base::position::{Column, Leg, Position, Supply};
use crate::base::units::{Amps, Metal, NominalVolts, VoltAmperes};
use crate::code::volts::LEG;
use crate::house::{Breaker, House, Panel};
use crate::load::Loaded;
use crate::load::drawing::{Drawing, Drawn};
use crate::plate::{self, Connected};
use crate::trace::Beliefs;

/// A schedule.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
pub struct Schedule {
    /// The house's name.
    pub house: String,
    /// The panel's name.
    pub panel: String,
    /// The house's revision.
    pub revision: u64,
    /// Its supply in words.
    pub supply: String,
    /// Its bus.
    pub bus: Amps,
    /// What feeds it, and its main.
    pub fed_from: String,
    /// Its legs.
    #[schema(value_type = Vec<String>)]
    pub legs: Vec<Leg>,
    /// A row a breaker and a bare space, by column and from the top.
    pub rows: Vec<ScheduleRow>,
    /// Connected load of each leg.
    pub connected: Vec<VoltAmperes>,
    /// What each leg reaches every other week at least.
    pub demand: Vec<VoltAmperes>,
    /// Breakers on which nothing was found.
    pub idle: usize,
    /// Bare spaces.
    pub bare: usize,
    /// Points of which nobody said what draws there, or what feeds it: they are in no sum.
    pub unknown: usize,
    /// What is wired there with a nameplate.
    pub equipment: Vec<Equipment>,
}

/// A breaker, or a bare space.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
pub struct ScheduleRow {
    /// The spaces it takes.
    pub at: String,
    /// It stands in the left column.
    pub left: bool,
    /// Its top edge, in half rows from the top,
    pub top: u16,
    /// and its height in half rows.
    pub height: u16,
    /// Poles; none for a bare space.
    pub poles: usize,
    /// Its rating.
    pub amps: Option<Amps>,
    /// What it feeds.
    pub feeds: String,
    /// The same from fuller to shorter, where it has no room.
    pub short: Vec<String>,
    /// That is proven.
    pub proven: bool,
    /// Ground-fault, arc-fault or both, in letters.
    pub protection: &'static str,
    /// Connected load of each leg of the panel, in their order.
    pub va: Vec<VoltAmperes>,
}

/// Something with a nameplate.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
pub struct Equipment {
    /// The tag of its point.
    pub tag: String,
    /// What it is.
    pub name: String,
    /// Where.
    pub place: String,
    /// Its breaker.
    pub at: String,
    /// Its voltage.
    pub volts: NominalVolts,
    /// Phases: 1 or 3.
    pub phases: u8,
    /// What it draws by its plate.
    pub amps: Option<Amps>,
    /// Least current of its circuit.
    pub mca: Option<Amps>,
    /// Largest breaker.
    pub mop: Option<Amps>,
    /// Conductors in full: `2 hots, neutral: 10 AWG copper`; empty where nobody entered them.
    pub conductors: String,
}

/// A panel's schedule.
#[must_use]
pub fn schedule(house: &House, beliefs: &Beliefs, loaded: &Loaded<'_>, panel: &Panel) -> Schedule {
    let fed = OnCard::new(house, beliefs);
    let settled = beliefs.progress.is_settled();
    let these: Vec<Leg> = [Leg::A, Leg::B, Leg::C][..usize::from(panel.supply.legs())].to_vec();
    let mut rows: Vec<ScheduleRow> = Vec::new();
    let mut idle = 0;
    for breaker in house.breakers_of(panel.id) {
        let line = fed.line(breaker);
        let short = line.short.clone();
        let standing = line.standing(settled);
        idle += usize::from(standing == Standing::NothingFound);
        let likely = if line.probably.is_empty() { String::new() } else { format!("? {}", line.probably) };
        let known = [line.feeds, likely].into_iter().filter(|words| !words.is_empty()).collect::<Vec<_>>().join(" ");
        let feeds = match (known.is_empty(), standing) {
            (false, _) => known,
            (true, Standing::NothingFound) => "nothing found on it".to_owned(),
            (true, _) if breaker.label.is_empty() => "not traced".to_owned(),
            (true, _) => format!("not traced; old label: {}", breaker.label),
        };
        rows.push(ScheduleRow {
            at: breaker.at_text(),
            left: panel.place(breaker.at[0].space).0 == Column::Left,
            top: panel.extent(&breaker.at).0,
            height: panel.extent(&breaker.at).1,
            poles: breaker.at.len(),
            amps: Some(breaker.amps),
            feeds,
            short,
            proven: standing == Standing::Proven,
            protection: breaker.device.mark(),
            va: connected(house, panel, breaker, loaded, &these),
        });
    }
    let taken = |space: u16| house.breakers_of(panel.id).iter().any(|b| b.at.iter().any(|at| at.space == space));
    let bare: Vec<u16> = panel.numbers().into_iter().filter(|space| !taken(*space)).collect();
    rows.extend(bare.iter().map(|space| bare_row(panel, *space, these.len())));
    rows.sort_by_key(|row| (!row.left, row.top));
    let carries = loaded.legs().iter().find(|of| of.id == panel.id);
    let sum = |nth: usize| VoltAmperes(rows.iter().map(|row| row.va[nth].0).sum());
    Schedule {
        house: house.about.name.clone(),
        panel: panel.name.clone(),
        revision: house.revision,
        supply: supply(panel.supply).to_owned(),
        bus: panel.bus,
        fed_from: fed_from(house, panel),
        connected: (0..these.len()).map(sum).collect(),
        demand: carries.iter().flat_map(|of| &of.each).map(|leg| VoltAmperes((leg.usual.0 * LEG).round())).collect(),
        idle,
        bare: bare.len(),
        unknown: carries.as_ref().map_or(0, |of| of.unknown),
        equipment: equipment(house, loaded, panel),
        legs: these,
        rows,
    }
}

fn supply(supply: Supply) -> &'static str {
    match (supply.legs(), supply == Supply::SplitPhase) {
        (3, _) => "208Y/120 V, three-phase, four wires",
        (_, true) => "120/240 V, single-phase, three wires",
        _ => "208Y/120 V, single-phase, three wires",
    }
}

fn bare_row(panel: &Panel, space: u16, legs: usize) -> ScheduleRow {
    let empty = panel.empty.contains(&Position::whole(space));
    ScheduleRow {
        at: space.to_string(),
        left: panel.place(space).0 == Column::Left,
        top: panel.extent(&[Position::whole(space)]).0,
        height: 2,
        poles: 0,
        amps: None,
        feeds: if empty { "space" } else { "not entered" }.to_owned(),
        short: Vec::new(),
        proven: empty,
        protection: "",
        va: vec![VoltAmperes(0.0); legs],
    }
}

/// What is connected to a breaker, on each leg: what lies across legs in equal parts. [def]
fn connected(house: &House, panel: &Panel, breaker: &Breaker, loaded: &Loaded<'_>, legs: &[Leg]) -> Vec<VoltAmperes> {
    let mut va = vec![0.0; legs.len()];
    for drawing in loaded.all.iter().filter(|drawing| loaded.hung.is_behind(breaker.id, &drawing.breakers)) {
        let Some(way) = drawing.ways.iter().find(|way| way.panel == panel.id) else { continue };
        let Some(all) = power(house, loaded, drawing) else { continue };
        for nth in way.legs.iter().filter_map(|leg| legs.iter().position(|of| of == leg)) {
            va[nth] += all / way.legs.len() as f64;
        }
    }
    va.into_iter().map(|va| VoltAmperes(va.round())).collect()
}

/// What its nameplate says; what such things usually draw where it has none.
fn power(house: &House, loaded: &Loaded<'_>, drawing: &Drawing) -> Option<f64> {
    let load = match drawing.thing {
        Drawn::Load(id) => house.loads.get(id),
        Drawn::Point(_) => None,
    };
    let connected = load.map(|load| loaded.hung.connected(load));
    let printed = load.zip(connected).and_then(|(load, connected)| plate::current(load, connected));
    let amps = printed.or(drawing.amps)?.0;
    Some(amps * connected.map_or(f64::from(u16::from(drawing.volts)), Connected::power_of_one))
}

fn equipment(house: &House, loaded: &Loaded<'_>, panel: &Panel) -> Vec<Equipment> {
    let row = |drawing: &Drawing| {
        let Drawn::Load(id) = drawing.thing else { return None };
        let (load, point) = (house.loads.get(id)?, house.points.get(drawing.point)?);
        let breaker = house.breakers.get(*drawing.breakers.first()?).filter(|b| b.panel == panel.id)?;
        let connected = loaded.hung.connected(load);
        let amps = plate::current(load, connected);
        let printed = amps.is_some() || load.mca.is_some() || load.mop.is_some();
        printed.then(|| Equipment {
            tag: point.tag.clone(),
            name: load.name.clone(),
            place: house.rooms.get(point.room).map_or_else(String::new, |room| room.name.clone()),
            at: breaker.at_text(),
            volts: drawing.volts,
            phases: if connected.three_phase { 3 } else { 1 },
            amps,
            mca: load.mca,
            mop: load.mop,
            conductors: conductors(house, breaker),
        })
    };
    loaded.all.iter().filter_map(row).collect()
}

/// A full set: each pole's hot and the neutral that belongs to it; whether there is a ground is not entered.
fn conductors(house: &House, breaker: &Breaker) -> String {
    let circuits = house.circuits_of(breaker.id);
    let Some((circuit, wire)) = circuits.first().and_then(|c| Some((c, c.wire?))) else { return String::new() };
    let hots = breaker.at.len();
    let neutral = match circuit.conductors {
        Some(count) => usize::from(count) > hots,
        None => hots == 1,
    };
    let neutral = if neutral { ", neutral" } else { "" };
    let metal = if circuit.metal == Metal::Aluminium { "aluminium" } else { "copper" };
    let many = if hots == 1 { "1 hot".to_owned() } else { format!("{hots} hots") };
    format!("{many}{neutral}: {wire} AWG {metal}")
}
