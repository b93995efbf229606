//! Runs, and the step under way.

use super::id;
use crate::base::Invalid;
use crate::house::{House, MeasuredAt, Round};

pub(super) fn check_runs(house: &House) -> Result<(), Invalid> {
    for run in house.runs.iter() {
        id("run.id", run.id.0)?;
        if run.ended.is_some_and(|end| end < run.begun) {
            return Err(Invalid::new("run.ended", "a run cannot end before it begins"));
        }
        let crew = |e: Invalid| Invalid::new(format!("run.crew.{}", e.field), e.message);
        run.crew.check(house).map_err(crew)?;
        if run.searched.iter().any(|b| house.breakers.get(*b).is_none()) {
            return Err(Invalid::new("run.searched", "a breaker that was searched does not exist"));
        }
        run.round.as_ref().map_or(Ok(()), |round| check_round(house, round))?;
    }
    match house.runs.iter().filter(|r| r.ended.is_none()).nth(1) {
        Some(_) => Err(Invalid::new("run.ended", "another run still goes on; end it first")),
        None => Ok(()),
    }
}

fn check_round(house: &House, round: &Round) -> Result<(), Invalid> {
    if let Some(gone) = round.on.iter().chain(&round.asked).find(|load| house.loads.get(**load).is_none()) {
        return Err(Invalid::new("run.round.on", format!("the load {} does not exist", gone.0)));
    }
    let places = round.done.iter().map(|at| at.place);
    let mut breakers = places.clone().filter_map(MeasuredAt::breaker).chain(round.only);
    if breakers.any(|b| house.breakers.get(b).is_none()) {
        return Err(Invalid::new("run.round", "a breaker of the round does not exist"));
    }
    let (mut panels, mut points) = (places.clone().filter_map(MeasuredAt::panel), places.filter_map(MeasuredAt::point));
    if panels.any(|p| house.panels.get(p).is_none()) || points.next().is_some() {
        return Err(Invalid::new(
            "run.round.done",
            "a round goes by breakers and what comes into panels of this house",
        ));
    }
    Ok(())
}

pub(super) fn check_step(house: &House) -> Result<(), Invalid> {
    let Some(step) = &house.step else {
        return Ok(());
    };
    id("step.id", step.id.0)?;
    if step.off.iter().any(|b| house.breakers.get(*b).is_none()) {
        return Err(Invalid::new("step.off", "a breaker to switch off does not exist"));
    }
    if step.visit.iter().any(|p| house.points.get(*p).is_none()) {
        return Err(Invalid::new("step.visit", "a point to look at does not exist"));
    }
    Ok(())
}
