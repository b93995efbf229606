//! What the map shows: points that stay live, hang on two breakers, or share what should be theirs alone.

use super::{BAD_BREAKER, FED_BY_TWO, FEEDS_NOTHING, OWN_CIRCUIT, SINK, STAYS_LIVE};
use crate::audit::KnownHouse;
use crate::directory::{OnCard, Standing};
use crate::house::{Breaker, Load, LoadKind, PanelId, Point, PointKind};
use crate::plate;
use crate::rules::{Hit, Rests};
use crate::trace::{PointBelief, Status};
use crate::words::labels::{Sense, words};

pub(super) fn first_panel(known: &KnownHouse<'_>) -> Option<PanelId> {
    known.house.panels_in_order().first().map(|panel| panel.id)
}

pub(super) fn stays_live(known: &KnownHouse<'_>) -> Vec<Hit> {
    let live = |point: &&Point| known.beliefs.of(point.id).is_some_and(|belief| belief.stays_live());
    let why = "it was seen live with each breaker off".to_owned();
    let hit = |point: &Point| {
        Some(Hit {
            rests: Rests::Proven,
            point: Some(point.id),
            ..Hit::new(&STAYS_LIVE, first_panel(known)?, why.clone())
        })
    };
    known.house.points_in_order().into_iter().filter(live).filter_map(hit).collect()
}

pub(super) fn bad_breaker(known: &KnownHouse<'_>) -> Vec<Hit> {
    let bad = known.house.breakers.iter().filter(|b| b.bad);
    bad.map(|b| Hit::at(&BAD_BREAKER, b, "somebody found it bad".to_owned())).collect()
}

pub(super) fn fed_by_two(known: &KnownHouse<'_>) -> Vec<Hit> {
    let hit = |belief: &PointBelief| {
        let two = belief.two_handles.as_ref().filter(|_| belief.status == Status::TwoHandles)?;
        let breakers = two.breakers.each_ref().map(|b| known.house.breakers.get(b.breaker));
        let [Some(first), Some(second)] = breakers else { return None };
        let why = format!(
            "it is dead only with {} and {} both off",
            known.house.breaker_name(first),
            known.house.breaker_name(second)
        );
        let others = vec![second.id];
        Some(Hit { point: Some(belief.point), others, rests: Rests::Proven, ..Hit::at(&FED_BY_TWO, first, why) })
    };
    known.beliefs.points.iter().filter_map(hit).collect()
}

/// Every point of the house is settled, nothing hangs on it, and its label does not say that it is a spare.
pub(super) fn feeds_nothing(known: &KnownHouse<'_>) -> Vec<Hit> {
    let fed = OnCard::new(known.house, known.beliefs);
    let settled = known.beliefs.progress.is_settled() && !known.beliefs.points.is_empty();
    let spare = |b: &Breaker| words(&b.label).iter().any(|word| word.sense == Sense::Spare);
    let idle =
        |b: &&Breaker| !spare(b) && !b.inlet && !b.unwired && fed.line(b).standing(settled) == Standing::NothingFound;
    let why = || "every point hangs elsewhere".to_owned();
    known.house.breakers.iter().filter(idle).map(|b| Hit::at(&FEEDS_NOTHING, b, why())).collect()
}

/// What the code wants alone on its circuit shares one with something else that is proven there.
pub(super) fn own_circuit(known: &KnownHouse<'_>) -> Vec<Hit> {
    let house = known.house;
    let hangs = known.beliefs.hangs();
    let proven = |point| hangs.iter().find(|h| h.point == point && h.proven).map(|h| h.breaker);
    let hit = |load: &Load| {
        let breaker = house.breakers.get(proven(load.point)?)?;
        let with: Vec<&Point> = hangs
            .iter()
            .filter(|h| h.proven && h.breaker == breaker.id && h.point != load.point)
            .filter_map(|h| house.points.get(h.point))
            .collect();
        let first = with.first()?;
        let why =
            format!("{} shares its circuit with {} of other points: {}", load.name, with.len(), house.called(first));
        Some(Hit {
            point: Some(load.point),
            load: Some(load.id),
            rests: Rests::Proven,
            ..Hit::at(&OWN_CIRCUIT, breaker, why)
        })
    };
    house.loads.iter().filter(|load| is_asked_alone(house.points.get(load.point), load)).filter_map(hit).collect()
}

/// A furnace, a range hood or an over-range microwave. [pub: NEC 422.12, 422.16(B)(4), value from memory]
fn is_asked_alone(point: Option<&Point>, load: &Load) -> bool {
    let name = load.name.to_lowercase();
    let over = point.is_some_and(|p| p.name.to_lowercase().contains("over")) || name.contains("over");
    let furnace = name.contains("furnace") || name.contains("boiler");
    furnace && load.kind != LoadKind::WaterHeater
        || load.kind == LoadKind::Microwave && over
        || load.kind == LoadKind::Hood && point.is_some_and(|p| p.kind == PointKind::Receptacle)
}

/// By what their nameplates say.
pub(super) fn sink(known: &KnownHouse<'_>) -> Vec<Hit> {
    let house = known.house;
    let hangs = known.beliefs.hangs();
    let hit = |breaker: &Breaker| {
        let on = |kind: LoadKind| {
            let here = hangs.iter().filter(|h| h.breaker == breaker.id);
            let mut all =
                here.filter_map(|h| Some((house.loads.iter().find(|l| l.point == h.point && l.kind == kind)?, h)));
            let (load, hangs) = all.next()?;
            Some((plate::current(load, known.loaded.hung.connected(load))?.0, hangs.proven))
        };
        let ((washer, one), (disposer, other)) = (on(LoadKind::Dishwasher)?, on(LoadKind::Disposer)?);
        let amps = washer + disposer;
        let rests = if one && other { Rests::Proven } else { Rests::Likely };
        let why = format!("together they draw {amps:.1} A on {}", breaker.amps);
        (amps > breaker.amps.0).then(|| Hit { rests, ..Hit::at(&SINK, breaker, why) })
    };
    house.breakers.iter().filter_map(hit).collect()
}
