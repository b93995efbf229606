//! Pictures, and drawings under the plans.

use super::{id, text, within};
use crate::base::Invalid;
use crate::base::units::PLAN_PLACE;
use crate::house::{House, Picture, PictureOf, Underlay};

/// Most pixels of a stored picture's side.
const MAX_PIXELS: u32 = 20_000;

pub(super) fn check_picture(house: &House, picture: &Picture) -> Result<(), Invalid> {
    id("picture.id", picture.id.0)?;
    text("picture.who", "whoever added it", &picture.who, true)?;
    text("picture.caption", "the picture", &picture.caption, false)?;
    if picture.digest.len() != 64 || !picture.digest.bytes().all(|b| b.is_ascii_hexdigit()) {
        return Err(Invalid::new("picture.digest", "not a SHA-256 digest in hexadecimal"));
    }
    if !(1..=MAX_PIXELS).contains(&picture.width) || !(1..=MAX_PIXELS).contains(&picture.height) {
        return Err(Invalid::new("picture.width", format!("a side must have 1 to {MAX_PIXELS} pixels")));
    }
    let there = match &picture.of {
        PictureOf::Panel { panel } => house.panels.get(*panel).is_some(),
        PictureOf::Breaker { breaker } => house.breakers.get(*breaker).is_some(),
        PictureOf::Circuit { circuit } => house.circuits.get(*circuit).is_some(),
        PictureOf::Point { point } => house.points.get(*point).is_some(),
        PictureOf::Floor { floor } => !floor.trim().is_empty(),
    };
    if there { Ok(()) } else { Err(Invalid::new("picture.of", "what it shows does not exist")) }
}

pub(super) fn check_underlay(house: &House, underlay: &Underlay) -> Result<(), Invalid> {
    id("underlay.id", underlay.id.0)?;
    if house.pictures.get(underlay.picture).is_none() {
        return Err(Invalid::new("underlay.picture", "its picture does not exist"));
    }
    let again = house.underlays.iter().any(|u| u.id != underlay.id && u.floor.eq_ignore_ascii_case(&underlay.floor));
    if again {
        return Err(Invalid::new("underlay.floor", format!("floor {} already has a drawing", underlay.floor)));
    }
    within(&PLAN_PLACE, "underlay.x", underlay.x.0)?;
    within(&PLAN_PLACE, "underlay.y", underlay.y.0)?;
    if underlay.width.0 > 0.0 && underlay.width.0 <= 2.0 * PLAN_PLACE.max {
        return Ok(());
    }
    Err(Invalid::new("underlay.width", "its width must be more than nothing, and at most 2000 ft"))
}
