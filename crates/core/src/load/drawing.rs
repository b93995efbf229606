//! Everything that draws: loads, and what is usually at a point where no loads are entered.

use std::collections::BTreeMap;

use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

use crate::base::Invalid;
use crate::base::units::{Amps, NominalVolts};
use crate::house::{BreakerId, Habit, House, Load, LoadId, Point, PointId, PointKind};
use crate::load::draws::Draws;
use crate::load::hung::{Hung, Through};
use crate::plate::{self, typical};
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
    /// It was measured, and is known well by that.
    pub measured: bool,
    /// When it runs.
    pub habit: Habit,
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

/// Everything that draws, in the order of the points.
#[must_use]
pub fn everything(house: &House, hung: &Hung<'_>, draws: &Draws) -> Vec<Drawing> {
    let mut all: Vec<Drawing> = draws
        .loads
        .iter()
        .filter_map(|draw| {
            let load = house.loads.get(draw.load)?;
            let point = house.points.get(load.point)?;
            let base = at(hung, Drawn::Load(load.id), point, plate::volts(house, load));
            Some(Drawing {
                name: load.name.clone(),
                amps: draw.known.then_some(draw.amps),
                error: draw.standard_error(),
                measured: draw.is_measured(),
                habit: habit(load),
                continuous: plate::is_continuous(load),
                ..base
            })
        })
        .collect();
    let loaded: BTreeMap<PointId, ()> = house.loads.iter().map(|l| (l.point, ())).collect();
    for point in house.points_in_order().into_iter().filter(|p| !loaded.contains_key(&p.id)) {
        // A switch draws nothing itself, and a cable end that is capped neither.
        if matches!(point.kind, PointKind::Switch) {
            continue;
        }
        let usual = typical::at_point(point);
        let habit = usual::named(&point.name).map_or(Habit::Occupied, |u| u.habit);
        let volts = point.volts.unwrap_or(NominalVolts::V120);
        let base = at(hung, Drawn::Point(point.id), point, volts);
        let error = Amps(typical::SPREAD * usual.map_or(0.0, |a| a.0));
        all.push(Drawing { name: point.name.clone(), amps: usual, error, habit, ..base });
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
        measured: false,
        habit: Habit::Occupied,
        continuous: false,
        ways: hung.ways(&breakers, volts),
        breakers,
        proven: hung.is_proven(point.id),
    }
}
