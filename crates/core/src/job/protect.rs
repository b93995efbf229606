//! Ground-fault, arc-fault or both in a breaker, in place of a plain one or of devices at outlets. (handbook 5.8)

use super::plan::{Basis, CostClass, Plan, WayTo, counted_poles, of_a_listed_type, shares_neutral};
use super::sheet::{Sheet, at};
use crate::base::{Invalid, Said};
use crate::edit::Draft;
use crate::house::{Breaker, BreakerId, Device, Goal, Point, PointId};
use crate::trace;

/// Plans it.
pub(super) fn plan(basis: &Basis<'_>, id: BreakerId, device: Device, keep_devices: bool) -> Result<Plan, Invalid> {
    let house = basis.house;
    let breaker = house.breakers.get(id).ok_or_else(|| Invalid::gone("breaker", id.0))?;
    let panel = house.panels.get(breaker.panel).ok_or_else(|| Invalid::gone("panel", breaker.panel.0))?;
    if matches!(device, Device::Plain | Device::Fuse) {
        return Err(Invalid::new("device", "ground-fault (gfci), arc-fault (afci) or both (dual), please"));
    }
    let goal = Goal::Protect { breaker: id, device, keep_devices };
    let title = format!("{} for {}", device.said(), basis.called(breaker));
    let mut plan = Plan::new(title, panel.id, goal);
    plan.touches = vec![id];
    if breaker.device == device {
        plan.refuse("nothing-to-do", format!("{} is one already", breaker.at_text()), "the record", "");
    }
    if shares_neutral(house, id) && breaker.at.len() < 2 {
        plan.refuse(
            "shared-neutral",
            format!(
                "{} shares its neutral: a breaker of one pole sees the other circuit's current as a fault",
                breaker.at_text()
            ),
            "handbook 5.8; NEC 210.4 (2023, from memory)",
            "a two-pole type for both, in two adjacent spaces: rearrange first where they do not stand so",
        );
    }
    if breaker.is_half_size() {
        plan.refuse(
            "protected-half",
            format!("{} is half-size: no listed protected type is known for it", breaker.at_text()),
            "NEC 110.3(B) (2023, from memory); common practice",
            "give it a whole space: rearrange, or protect at the first outlet of the circuit",
        );
    }
    if matches!(device, Device::Afci | Device::Dual) && breaker.at.len() > 1 && !shares_neutral(house, id) {
        plan.refuse(
            "afci-120",
            "arc-fault protection is asked for at 120 V, 15 and 20 A".into(),
            "NEC 210.12 (2023, from memory)",
            "ground-fault alone",
        );
    }
    let devices = devices(basis, id);
    if device.is_ground_fault() && !devices.is_empty() {
        let names: Vec<String> = devices.iter().map(|p| basis.named(p.id)).collect();
        for (keep, title, why) in [
            (
                false,
                "Plain outlets in place of the devices",
                "One place resets then. Weather- and tamper-resistant as the place asks.",
            ),
            (true, "The devices stay", "Harmless, but one may trip behind the other, and which one is a riddle."),
        ] {
            let goal = Goal::Protect { breaker: id, device, keep_devices: keep };
            plan.ways.push(WayTo {
                title: format!("{title}: {}", names.join("; ")),
                why: why.into(),
                chosen: keep == keep_devices,
                goal,
                bodies: 1,
                wires: 2,
                cost: CostClass::Breaker,
            });
        }
        if !keep_devices {
            plan.part(devices.len(), "plain receptacle, tamper-resistant, weather-resistant outdoors");
        }
    }
    if !basis.is_traced(id) {
        plan.cautions.push(format!(
            "It is not proven what hangs on {}: its neutral is found by its cable, not by guess.",
            breaker.at_text()
        ));
    }
    let how = match panel.plug_on_neutral {
        Some(true) => "plug-on neutral",
        Some(false) => "with a pigtail for the neutral bar",
        None => "with a pigtail; plug-on where the panel's neutral bar takes it",
    };
    let listed = of_a_listed_type(panel);
    plan.part(
        1,
        format!("{} breaker, {}, {}, {how}, {listed}", device.said(), counted_poles(breaker.at.len()), breaker.amps),
    );
    Ok(plan)
}

/// Ground-fault devices at outlets of a circuit.
fn devices<'a>(basis: &Basis<'a>, id: BreakerId) -> Vec<&'a Point> {
    basis.points(id).filter(|p| p.ground_fault).collect()
}

/// What it changes.
pub(super) fn change(draft: &mut Draft, id: BreakerId, device: Device, keep_devices: bool) -> Result<(), Invalid> {
    let breaker = draft.find::<Breaker>(id)?;
    draft.put(Breaker { device, model: String::new(), terminal: None, ..breaker });
    if keep_devices || !device.is_ground_fault() {
        return Ok(());
    }
    let beliefs = trace::beliefs(&draft.house);
    let fed = beliefs.breakers.iter().find(|b| b.at.breaker == id).into_iter().flat_map(|b| &b.feeds);
    let fed: Vec<PointId> = fed.filter(|f| !f.through && (f.proven || f.likely)).map(|f| f.point).collect();
    let points: Vec<Point> = draft.house.points.iter().cloned().collect();
    let plain = |p: &PointId| draft.house.points.get(*p).is_some_and(|p| p.ground_fault);
    let replaced: Vec<PointId> = fed.into_iter().filter(plain).collect();
    for point in points {
        let is_one = replaced.contains(&point.id);
        let behind = point.protected_by.is_some_and(|by| replaced.contains(&by));
        if is_one || behind {
            let protected_by = point.protected_by.filter(|by| !replaced.contains(by));
            draft.put(Point { ground_fault: point.ground_fault && !is_one, protected_by, ..point });
        }
    }
    Ok(())
}

/// Its steps.
pub(super) fn steps(sheet: &mut Sheet<'_>, basis: &Basis<'_>, breaker: &Breaker, device: Device, keep_devices: bool) {
    let place = Some(at(breaker));
    sheet.work(
        format!(
            "Find the neutral of {} by its cable, from the hot back to where both come in, and tag the two together.",
            basis.called(breaker)
        ),
        "The neutral of another circuit makes it trip at once.",
        place,
    );
    sheet.work("Rock the old breaker out, its wire still on it.", "", place);
    sheet.work(
        "Hot and its own neutral on the new breaker; its pigtail, where it has one, to the neutral bar: one a hole. New one in, in OFF.",
        "NEC 408.41 (one neutral a terminal).",
        place,
    );
    sheet.with("screwdriver, torque tool");
    if device.is_ground_fault() && !keep_devices {
        for point in devices(basis, breaker.id) {
            sheet.work(
                format!("At {}: a plain receptacle in place of the device; what was on its LOAD side goes on with the rest.", basis.named(point.id)),
                "Where two circuits meet in one box their neutrals must not touch.",
                Some(crate::house::MeasuredAt::Point { point: point.id }),
            );
        }
    }
}

/// What is looked at before the house is as planned.
pub(super) fn verify(sheet: &mut Sheet<'_>, breaker: &Breaker) {
    sheet.look(
        "test-button",
        format!("Press the test button of {}: it trips. Firmly off, then on again: it holds.", breaker.at_text()),
        "One that does not trip protects nobody: leave it off, and look at the neutral again.",
        Some(at(breaker)),
    );
}
