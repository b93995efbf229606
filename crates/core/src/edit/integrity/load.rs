//! Loads.

use super::{id, text, within};
use crate::base::Invalid;
use crate::base::units::{DUTY, HORSEPOWER, NominalVolts, PLATE_AMPS, WATTS};
use crate::house::{House, Load};

pub(super) fn check_load(house: &House, load: &Load) -> Result<(), Invalid> {
    id("load.id", load.id.0)?;
    text("load.name", "the load", &load.name, true)?;
    let Some(point) = house.points.get(load.point) else {
        return Err(Invalid::new("load.point", format!("the point of {} does not exist", load.name)));
    };
    let legs = load.volts.filter(|v| v.nominal().is_leg_to_leg());
    if let Some(volts) = legs.filter(|_| point.volts == Some(NominalVolts::V120)) {
        let message = format!("{} is a point of 120 V: it carries nothing of {} V", point.tag, u16::from(volts));
        return Err(Invalid::new("load.volts", message));
    }
    let sizes = [
        ("load.watts", &WATTS, load.watts.map(|w| w.0)),
        ("load.va", &WATTS, load.va.map(|w| w.0)),
        ("load.amps", &PLATE_AMPS, load.amps.map(|a| a.0)),
        ("load.mca", &PLATE_AMPS, load.mca.map(|a| a.0)),
        ("load.mop", &PLATE_AMPS, load.mop.map(|a| a.0)),
        ("load.hp", &HORSEPOWER, load.hp.map(|h| h.0)),
        ("load.duty", &DUTY, load.duty),
    ];
    if load.three_phase && (point.volts == Some(NominalVolts::V120) || load.volts.is_some() && legs.is_none()) {
        return Err(Invalid::new(
            "load.three_phase",
            "three phases are at 208 V or more between any two: not at 120 V",
        ));
    }
    sizes.into_iter().filter_map(|(f, l, v)| Some((f, l, v?))).try_for_each(|(f, l, v)| within(l, f, v))?;
    match (load.mca, load.mop) {
        (Some(mca), Some(mop)) if mop < mca => {
            let message = format!("the largest breaker allowed ({mop}) is below the ampacity asked for ({mca})");
            Err(Invalid::new("load.mop", message))
        }
        _ => Ok(()),
    }
}
