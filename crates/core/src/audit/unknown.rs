//! What is worth finding out: nothing is found in what nobody entered, looked at, traced or measured. (handbook 6)

use serde::Serialize;
use utoipa::ToSchema;

use super::{KnownHouse, inspection};
use crate::answers::upkeep::device_tests;
use crate::directory::plate;
use crate::house::{Event, House, Saw};
use crate::load::drawing::{Drawing, Drawn};
use crate::plate::running::running;

/// Something that is not known, and how it is found out.
#[derive(Debug, Clone, PartialEq, Eq, Serialize, ToSchema)]
pub struct Unknown {
    /// What is not known: `3 of 40 points are not proven`.
    pub what: String,
    /// What finds it out.
    pub check: &'static str,
    /// The page where that is done.
    pub page: &'static str,
}

/// What is worth finding out, what may hide most first.
pub(super) fn unknown(known: &KnownHouse<'_>) -> Vec<Unknown> {
    let house = known.house;
    let progress = known.beliefs.progress;
    let walk = inspection(house, false);
    let wires = house.breakers.iter().filter(|b| house.circuits_of(b.id).iter().all(|c| c.wire.is_none())).count();
    let sizes = known.loaded.all.iter().filter(|drawing| drawing.amps.is_none()).count();
    let vague = known.loaded.all.iter().filter(|drawing| !drawing.measured && is_vague(house, drawing)).count();
    let told = walk.asked.iter().filter(|asked| asked.saw == Saw::CannotTell).count();
    let tests = device_tests(house, known.now).into_iter().filter(|test| test.due && !test.failed).count();
    let open = progress.points.saturating_sub(progress.proven + progress.no_breaker + progress.two_handles);
    let plates = house.points_in_order().into_iter().filter(|p| plate(house, known.beliefs, p).is_some());
    let bare = plates.filter(|point| house.labelled(point.id.into()).is_none()).count();
    let row = |n: usize, one: &str, more: &str, check, page| {
        let what = if n == 1 { format!("1 {one}") } else { format!("{n} {more}") };
        (n > 0).then_some(Unknown { what, check, page })
    };
    [
        row(
            open,
            "point is not proven: what feeds it is not known for sure",
            "points are not proven: what feeds them is not known for sure",
            "trace them",
            "trace",
        ),
        (!volts_read(house) && !house.panels.is_empty()).then(|| Unknown {
            what: "the voltages of the service were never read".into(),
            check: "somebody qualified reads them at the main",
            page: "log",
        }),
        row(
            walk.open.len(),
            "question of the walk is open",
            "questions of the walk are open",
            "walk through the house",
            "inspection",
        ),
        row(
            told,
            "answer of the walk could not be told",
            "answers of the walk could not be told",
            "ask somebody who can tell, and look again",
            "inspection",
        ),
        row(
            tests,
            "ground-fault device is due for its test",
            "ground-fault devices are due for their test",
            "press their buttons",
            "log",
        ),
        row(
            wires,
            "breaker whose wire nobody entered: whether it protects it is not known",
            "breakers whose wire nobody entered: whether they protect it is not known",
            "somebody qualified reads the wire's size with the cover off",
            "house",
        ),
        row(
            sizes,
            "thing of which nobody said what it draws",
            "things of which nobody said what they draw",
            "read their nameplates, or measure",
            "loads",
        ),
        row(
            vague,
            "thing whose name does not say what it is: what its nameplate means is not known",
            "things whose names do not say what they are: what their nameplates mean is not known",
            "say what they are, or measure",
            "loads",
        ),
        row(
            bare,
            "plate without a label that is known",
            "plates without a label that is known",
            "print their labels, and tick them off as they are stuck on",
            "directory",
        ),
    ]
    .into_iter()
    .flatten()
    .collect()
}

/// It has a plate in watts or amperes, and may be anything.
fn is_vague(house: &House, drawing: &Drawing) -> bool {
    let Drawn::Load(id) = drawing.thing else { return false };
    house.loads.get(id).is_some_and(|load| load.has_plate() && running(load).is_of_anything())
}

fn volts_read(house: &House) -> bool {
    house.log.iter().any(|entry| matches!(entry.event, Event::Volts { .. }))
}
