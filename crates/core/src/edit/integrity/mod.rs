//! What every house must hold to. One place says what is possible; each change and each file is checked against it.

mod breaker;
mod circuit;
mod energy;
mod evidence;
mod fit;
mod job;
mod label_sheet;
mod load;
mod log;
mod opening;
mod panel;
mod picture;
mod point;
mod reading;
mod remark;
mod room;
mod run;

pub use fit::question;

use crate::base::Invalid;
use crate::base::units::{LIVING_AREA, Limits, PRICE, THRESHOLD};
use crate::house::House;

/// Longest name or label: more does not fit any card.
const MAX_TEXT: usize = 80;
/// Ids above this lose digits in JSON numbers (2^53).
const MAX_ID: u64 = 1 << 53;

/// Checks the whole house: that it can be, and that what a rule refuses is recorded as found.
///
/// # Errors
/// The first thing that cannot be, with the field at fault.
pub fn check(house: &House) -> Result<(), Invalid> {
    whole(house)?;
    fit::check_fit(house)
}

/// Checks that it can be at all.
pub(super) fn whole(house: &House) -> Result<(), Invalid> {
    check_about(house)?;
    house.panels.iter().try_for_each(|p| panel::check_panel(house, p))?;
    house.breakers.iter().try_for_each(|b| breaker::check_breaker(house, b))?;
    house.panels.iter().try_for_each(|p| panel::check_spaces(house, p))?;
    house.circuits.iter().try_for_each(|c| circuit::check_circuit(house, c))?;
    room::check_rooms(house)?;
    house.openings.iter().try_for_each(|o| opening::check_opening(house, o))?;
    point::check_points(house)?;
    house.loads.iter().try_for_each(|l| load::check_load(house, l))?;
    house.readings.iter().try_for_each(|r| reading::check_reading(house, r))?;
    house.energy.iter().try_for_each(energy::check_energy)?;
    evidence::check_evidence(house)?;
    house.log.iter().try_for_each(|e| log::check_log(house, e))?;
    house.pictures.iter().try_for_each(|p| picture::check_picture(house, p))?;
    house.underlays.iter().try_for_each(|u| picture::check_underlay(house, u))?;
    house.remarks.iter().try_for_each(|r| remark::check_remark(house, r))?;
    run::check_runs(house)?;
    house.jobs.iter().try_for_each(job::check_job)?;
    run::check_step(house)
}

fn within(limits: &Limits, field: &str, value: f64) -> Result<(), Invalid> {
    if limits.contain(value) {
        return Ok(());
    }
    let Limits { label, unit, min, max } = limits;
    Err(Invalid::new(field, format!("the {label} must be {min} to {max} {unit}, not {value}").replace(" ,", ",")))
}

fn text(field: &str, word: &str, value: &str, required: bool) -> Result<(), Invalid> {
    if required && value.trim().is_empty() {
        return Err(Invalid::new(field, format!("{word} needs a name")));
    }
    short(field, value, MAX_TEXT)
}

fn short(field: &str, value: &str, most: usize) -> Result<(), Invalid> {
    if value.chars().count() > most {
        return Err(Invalid::new(field, format!("at most {most} letters, please")));
    }
    if value.chars().any(char::is_control) {
        return Err(Invalid::new(field, "line breaks and control characters cannot be used here"));
    }
    Ok(())
}

fn id(field: &str, value: u64) -> Result<(), Invalid> {
    if value == 0 || value >= MAX_ID {
        return Err(Invalid::new(field, "an id must be from 1 to 2^53 - 1"));
    }
    Ok(())
}

/// More sorts of parts than a house's jobs name,
const MOST_PRICES: usize = 1000;
/// each called by more letters than any of them: a job says of a part what it is for.
const MAX_PART: usize = 300;

fn check_about(house: &House) -> Result<(), Invalid> {
    text("about.name", "the house", &house.about.name, true)?;
    if let Some(area) = house.about.area {
        within(&LIVING_AREA, "about.area", area.square_feet())?;
    }
    let prices = &house.about.prices;
    if prices.len() > MOST_PRICES {
        return Err(Invalid::new("about.prices", format!("at most {MOST_PRICES} prices are kept")));
    }
    for (what, price) in prices {
        if what.trim().is_empty() {
            return Err(Invalid::new("about.prices", "the part needs a name"));
        }
        short("about.prices", what, MAX_PART)?;
        within(&PRICE, "about.prices", *price)?;
    }
    label_sheet::check_label_sheets(&house.about.label_sheets)?;
    within(&THRESHOLD, "about.proof_threshold", house.about.proof_threshold)
}

impl House {
    /// Checks a house that came from outside (a file).
    ///
    /// # Errors
    /// The first thing that cannot be, with the field at fault.
    pub fn check(&self) -> Result<(), Invalid> {
        check(self)
    }
}
