//! Readings.

use super::{id, text, within};
use crate::base::Invalid;
use crate::base::position::Supply;
use crate::base::units::{Limits, READ_AMPS, READ_DEGREES, READ_VOLTS, READ_WATTS};
use crate::house::{Conductor, House, MeasuredAt, Quantity, Reading};

pub(super) fn check_reading(house: &House, reading: &Reading) -> Result<(), Invalid> {
    id("reading.id", reading.id.0)?;
    text("reading.who", "whoever measured", &reading.who, true)?;
    let supply = place(house, reading.place)?;
    within(limits(reading.quantity), "reading.value", reading.value)?;
    if let Some(gone) = reading.on.iter().find(|load| house.loads.get(**load).is_none()) {
        return Err(Invalid::new("reading.on", format!("the load {} that was on does not exist", gone.0)));
    }
    conductors(supply, reading.quantity)
}

/// Its place is there; the supply of the panel it is in, where there is one.
fn place(house: &House, place: MeasuredAt) -> Result<Option<Supply>, Invalid> {
    let gone = |what: &str| Invalid::new("reading.place", format!("the {what} it was taken at does not exist"));
    let panel = |id| house.panels.get(id).map(|p| p.supply);
    match place {
        MeasuredAt::Breaker { breaker, pole, .. } => {
            let breaker = house.breakers.get(breaker).ok_or_else(|| gone("breaker"))?;
            let poles = breaker.at.len();
            if pole.is_some_and(|pole| pole == 0 || usize::from(pole) > poles) {
                let message = format!("breaker {} has {poles} poles", breaker.at_text());
                return Err(Invalid::new("reading.place", message));
            }
            Ok(panel(breaker.panel))
        }
        MeasuredAt::Bus { panel: id } | MeasuredAt::Main { panel: id } | MeasuredAt::Feed { panel: id } => {
            panel(id).map(Some).ok_or_else(|| gone("panel"))
        }
        MeasuredAt::Point { point } => house.points.get(point).map(|_| None).ok_or_else(|| gone("point")),
    }
}

fn limits(quantity: Quantity) -> &'static Limits {
    match quantity {
        Quantity::Amps { .. } => &READ_AMPS,
        Quantity::Volts { .. } => &READ_VOLTS,
        Quantity::Watts => &READ_WATTS,
        Quantity::Degrees => &READ_DEGREES,
    }
}

fn conductors(supply: Option<Supply>, quantity: Quantity) -> Result<(), Invalid> {
    let named = match quantity {
        Quantity::Amps { of } => vec![of],
        Quantity::Volts { between: Some([a, b]) } if a == b => {
            return Err(Invalid::new("reading.quantity", "a voltage stands between two different conductors"));
        }
        Quantity::Volts { between } => between.map_or_else(Vec::new, |pair| pair.map(Some).to_vec()),
        Quantity::Watts | Quantity::Degrees => Vec::new(),
    };
    let third = named.contains(&Some(Conductor::C)) && supply.is_some_and(|s| s.legs() < 3);
    if third { Err(Invalid::new("reading.quantity", "the panel has no leg C")) } else { Ok(()) }
}
