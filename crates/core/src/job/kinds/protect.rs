//! Ground-fault, arc-fault or both in a breaker, in place of a plain one or of devices at outlets. (handbook 5.8)

use crate::base::{Invalid, Said};
use crate::house::{Breaker, BreakerId, Device, Goal, MeasuredAt, Point, PointId};
use crate::job::form::{Answers, BREAKER, Field, FieldSort, Kind};
use crate::job::mishaps;
use crate::job::obstacles::{AFCI_120, NOTHING_TO_DO, PROTECTED_HALF};
use crate::job::plan::{
    Basis, CostClass, WayTo, counted_poles, minutes_of, neutral_of_a_protected, of_a_listed_type, shares_neutral,
};
use crate::job::working::{Working, at};
use crate::rules::neutral_device;

pub(super) static KIND: Kind = Kind {
    name: "protect",
    group: "Protect people",
    title: "Ground-fault or arc-fault breaker",
    under: "in place of a plain one, or of devices at outlets",
    fields: &[
        BREAKER,
        Field::new("with", "Becomes", FieldSort::Choice { choices: WITH }).required().usual("gfci"),
        Field::new("keep-devices", "Ground-fault devices at outlets stay", FieldSort::Tick).rare(),
    ],
    mishaps: mishaps::PROTECTED,
    goal,
};

const WITH: &[(&str, &str)] = &[("gfci", "ground-fault (GFCI)"), ("afci", "arc-fault (AFCI)"), ("dual", "both in one")];

fn goal(of: &Answers<'_>) -> Result<Goal, Invalid> {
    let device = match of.text("with") {
        "afci" => Device::Afci,
        "dual" => Device::Dual,
        _ => Device::Gfci,
    };
    Ok(Goal::Protect { breaker: of.breaker("breaker")?, device, keep_devices: of.is("keep-devices") })
}

/// Works it out.
pub(super) fn work<'a>(
    basis: &'a Basis<'a>,
    id: BreakerId,
    device: Device,
    keep_devices: bool,
) -> Result<Working<'a>, Invalid> {
    let house = basis.house;
    let breaker = house.breakers.get(id).ok_or_else(|| Invalid::gone("breaker", id.0))?;
    let panel = house.panels.get(breaker.panel).ok_or_else(|| Invalid::gone("panel", breaker.panel.0))?;
    if !device.is_protected() {
        return Err(Invalid::new("device", "ground-fault (gfci), arc-fault (afci) or both (dual), please"));
    }
    let goal = Goal::Protect { breaker: id, device, keep_devices };
    let title = format!("{} for {}", device.said(), basis.called(breaker));
    let mut w = Working::new(basis, title, panel.id, goal);
    w.touch([id]);
    if breaker.device == device {
        w.plan.refuse(NOTHING_TO_DO, format!("{} is one already", breaker.at_text()));
    }
    if shares_neutral(house, id) && breaker.at.len() < 2 {
        w.plan.refuse_for(
            &neutral_device::RULE,
            format!(
                "{} shares its neutral: a breaker of one pole sees the other circuit's current as a fault",
                breaker.at_text()
            ),
            "a two-pole type for both, in two adjacent spaces: rearrange first where they do not stand so",
        );
    }
    if breaker.is_half_size() {
        w.plan.refuse(
            PROTECTED_HALF,
            format!("{} is half-size: no listed protected type is known for it", breaker.at_text()),
        );
    }
    if matches!(device, Device::Afci | Device::Dual) && breaker.at.len() > 1 && !shares_neutral(house, id) {
        w.plan.refuse(AFCI_120, "arc-fault protection is asked for at 120 V, 15 and 20 A");
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
            w.plan.ways.push(WayTo {
                of: String::new(),
                title: format!("{title}: {}", names.join("; ")),
                why: why.into(),
                chosen: keep == keep_devices,
                goal,
                bodies: 1,
                wires: 2,
                minutes: minutes_of(1, 2),
                cost: CostClass::Breaker,
                parts: Vec::new(),
            });
        }
        if !keep_devices {
            w.plan.part(devices.len(), "plain receptacle, tamper-resistant, weather-resistant outdoors");
        }
    }
    if !basis.is_traced(id) {
        w.plan.cautions.push(format!(
            "It is not proven what hangs on {}: its neutral is found by its cable, not by guess.",
            breaker.at_text()
        ));
    }
    let how = neutral_of_a_protected(panel);
    let listed = of_a_listed_type(panel);
    w.plan.part(
        1,
        format!("{} breaker, {}, {}, {how}, {listed}", device.said(), counted_poles(breaker.at.len()), breaker.amps),
    );
    if w.is_open() {
        let replaced = if device.is_ground_fault() && !keep_devices { devices } else { Vec::new() };
        acts(&mut w, breaker, device, &replaced);
    }
    Ok(w)
}

/// Ground-fault devices at outlets of a circuit.
fn devices<'a>(basis: &Basis<'a>, id: BreakerId) -> Vec<&'a Point> {
    basis.points(id).filter(|p| p.ground_fault).collect()
}

fn acts(w: &mut Working<'_>, breaker: &Breaker, device: Device, replaced: &[&Point]) {
    let place = Some(at(breaker));
    w.act(
        format!(
            "Find the neutral of {} by its cable, from the hot back to where both come in, and tag the two together.",
            w.basis.called(breaker)
        ),
        "The neutral of another circuit makes it trip at once.",
        place,
    );
    w.act("Rock the old breaker out, its wire still on it.", "", place);
    w.act(
        "Hot and its own neutral on the new breaker; its pigtail, where it has one, to the neutral bar: one a hole. New one in, in OFF.",
        "NEC 408.41 (one neutral a terminal).",
        place,
    );
    w.with("screwdriver, torque tool");
    w.makes(|draft| {
        draft.put(Breaker { device, model: String::new(), terminal: None, ..breaker.clone() });
        Ok(())
    });
    let all: Vec<PointId> = replaced.iter().map(|p| p.id).collect();
    for point in replaced {
        w.act(
            format!(
                "At {}: a plain receptacle in place of the device; what was on its LOAD side goes on with the rest.",
                w.basis.named(point.id)
            ),
            "Where two circuits meet in one box their neutrals must not touch.",
            Some(MeasuredAt::Point { point: point.id }),
        );
        w.makes(|draft| {
            let behind = |p: &&Point| p.id == point.id || p.protected_by == Some(point.id);
            for of in draft.house.points.iter().filter(behind).cloned().collect::<Vec<_>>() {
                let ground_fault = of.ground_fault && of.id != point.id;
                draft.put(Point { ground_fault, protected_by: of.protected_by.filter(|by| !all.contains(by)), ..of });
            }
            Ok(())
        });
    }
    w.look_at_the_button(breaker);
}
