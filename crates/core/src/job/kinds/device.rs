//! A receptacle, switch or ground-fault device made new at its box. (handbook 5.14)

use crate::base::Invalid;
use crate::base::units::{Amps, NominalVolts};
use crate::house::{
    Breaker, Device, DeviceJob, Evidence, Fault, Goal, MeasuredAt, NewDevice, Observation, Point, PointKind,
};
use crate::job::boxed;
use crate::job::form::{Answers, Field, FieldSort, Kind};
use crate::job::mishaps;
use crate::job::obstacles::{NO_GROUND, NOT_A_DEVICE, PROTECTED_PLACE};
use crate::job::outlet;
use crate::job::plan::Basis;
use crate::job::working::Working;
use crate::rules::{arc_fault, ground_fault};
use crate::words::places;

pub(super) static KIND: Kind = Kind {
    name: "device",
    group: "At an outlet or switch",
    title: "Replace a receptacle or switch",
    under: "or put a ground-fault device there; the panel stays closed",
    fields: &[
        POINT,
        Field::new("becomes", "The new one is", FieldSort::Choice { choices: BECOMES }).usual("receptacle"),
        Field::new("ground", "A ground wire is there?", FieldSort::YesNo).unless("becomes", &["switch"]),
        Field::new("behind", "protects what comes behind it too", FieldSort::Tick)
            .unless("becomes", &["receptacle", "switch"]),
    ],
    mishaps: mishaps::AT_A_BOX,
    goal: |of| Ok(Goal::Device(device(of)?)),
};

/// The place of the work.
pub(super) const POINT: Field = Field::new("point", "The outlet, switch or box", FieldSort::Point).required();

const BECOMES: &[(&str, &str)] = &[
    ("receptacle", "a receptacle like the old one"),
    ("ground-fault", "a ground-fault receptacle"),
    ("switch", "a switch like the old one"),
];

fn device(of: &Answers<'_>) -> Result<DeviceJob, Invalid> {
    Ok(DeviceJob {
        point: of.point("point")?,
        becomes: match of.text("becomes") {
            "ground-fault" => NewDevice::GroundFault,
            "switch" => NewDevice::Switch,
            _ => NewDevice::Receptacle,
        },
        ground: of.yes_no("ground"),
        behind: of.is("behind"),
    })
}

/// Works it out.
pub(super) fn work<'a>(basis: &'a Basis<'a>, of: &DeviceJob) -> Result<Working<'a>, Invalid> {
    let house = basis.house;
    let what = match of.becomes {
        NewDevice::Receptacle => "A new receptacle",
        NewDevice::GroundFault => "A ground-fault device",
        NewDevice::Switch => "A new switch",
    };
    let title = |point: &Point| format!("{what} at {} {}", point.tag, house.called(point));
    let (mut w, point) = boxed::at(basis, of.point, title, Goal::Device(of.clone()))?;
    let room = house.rooms.get(point.room).map_or("", |r| r.name.as_str());
    let is_switch = point.kind == PointKind::Switch;
    if is_switch != (of.becomes == NewDevice::Switch)
        || !matches!(point.kind, PointKind::Receptacle | PointKind::Switch)
    {
        w.plan.refuse(NOT_A_DEVICE, format!("{} is entered as something else", point.tag));
    }
    if of.becomes != NewDevice::Switch {
        grounded(&mut w, point, of);
    }
    let protected = point.protected_by.is_some() || feeder(&w).is_some_and(|b| b.device.is_ground_fault());
    if of.becomes == NewDevice::Receptacle && ground_fault::asks(room, point.kind, None) && !protected {
        let why = format!("a receptacle of {room} that is made new is protected against ground faults");
        w.plan.refuse(PROTECTED_PLACE, why);
    }
    let legs = point.volts.is_some_and(NominalVolts::is_leg_to_leg);
    let amps = feeder(&w).map(|b| b.amps);
    if let Some(breaker) = feeder(&w).filter(|b| !matches!(b.device, Device::Afci | Device::Dual))
        && of.becomes != NewDevice::Switch
        && arc_fault::asks(room, point.kind, legs, breaker.amps)
    {
        w.plan.cautions.push(
            "Where arc-fault protection is asked for today, a receptacle that is replaced asks for it too: by its breaker, or by a \
             receptacle that has it (NEC 406.4(D)(4))."
                .into(),
        );
    }
    parts(&mut w, point, of, room, (legs, amps));
    if w.is_open() {
        acts(&mut w, point, of);
    }
    Ok(w)
}

/// The breaker that feeds it.
fn feeder<'a>(w: &Working<'a>) -> Option<&'a Breaker> {
    let off = w.boxed()?.off.first()?;
    w.house.breakers.get(*off)
}

/// Three slots without a ground behind them promise what is not there. [pub: NEC 406.4(D)(2), value from memory]
fn grounded(w: &mut Working<'_>, point: &Point, of: &DeviceJob) {
    let seen =
        |e: &&Evidence| e.point == point.id && matches!(e.observation, Observation::Fault { fault: Fault::OpenGround });
    let without = w.house.evidence.iter().any(|e| seen(&e));
    match of.ground {
        None => w.plan.ask(
            "ground",
            if without {
                "Its tester said that there is no ground: is there a ground wire in the box all the same, bare or green"
            } else {
                "Is there a ground wire in the box, bare or green? An outlet tester that says \"correct\" is not enough in an old house"
            },
        ),
        Some(false) if of.becomes == NewDevice::Receptacle => {
            w.plan.refuse(NO_GROUND, format!("there is no ground at {}, and three slots would promise one", point.tag));
        }
        Some(false) => w.plan.cautions.push(
            "Without a ground it protects people all the same; it is marked \"No equipment ground\", and so is what hangs behind it \
             (NEC 406.4(D)(2)). Its tester's button needs the one on the device."
                .into(),
        ),
        Some(true) => {}
    }
}

fn parts(w: &mut Working<'_>, point: &Point, of: &DeviceJob, room: &str, (legs, amps): (bool, Option<Amps>)) {
    let outside = places::asked(room).is_some_and(|a| a.outside);
    let place = if outside { ", weather-resistant, with an in-use cover" } else { "" };
    let rating = match amps {
        Some(amps) if legs => outlet::configuration(2, false, amps).map_or_else(
            || "like the old one".to_owned(),
            |name| format!("{name}, or the four-slot one if the old one is"),
        ),
        Some(amps) if amps.0 > 15.0 => "15 or 20 A; 20 A where it is alone on its circuit".to_owned(),
        _ => "15 A".to_owned(),
    };
    w.plan.part(
        1,
        match of.becomes {
            NewDevice::Receptacle => format!("receptacle, {rating}, tamper-resistant{place}"),
            NewDevice::GroundFault => format!("ground-fault receptacle, {rating}, tamper-resistant{place}"),
            NewDevice::Switch => "switch of the same sort: one place, two places, or with a neutral".to_owned(),
        },
    );
    if of.becomes == NewDevice::GroundFault && of.ground == Some(false) {
        w.plan.part(1, "sticker \"No equipment ground\", one for each outlet behind it too");
    }
    w.plan.part(1, "plate, if the old one does not fit");
    w.plan.part(3, "connector for two or three wires, for pigtails (sized by what is printed on its package)");
    if point.shared_box.is_some() {
        w.plan
            .cautions
            .push("More than one device is in this box: each wire in it is tested, whatever it belongs to.".into());
    }
}

fn acts(w: &mut Working<'_>, point: &Point, of: &DeviceJob) {
    let place = Some(MeasuredAt::Point { point: point.id });
    w.act(
        "Pull the device out by its straps, touching no screw. Take a picture: which wire is on which screw. Tag the wires.",
        "What is known now is lost once they hang free.",
        place,
    );
    let halves =
        w.house.points.iter().any(|p| p.id != point.id && p.shared_box.is_some() && p.shared_box == point.shared_box)
            || !point.switched_by.is_empty();
    match of.becomes {
        NewDevice::Switch => w.act(
            "Wires one at a time from the old to the new one, each to the screw of the same colour: of a switch for two places the dark \
             screw is the common one.",
            "Exchanged with another, two switches work only in some positions.",
            place,
        ),
        NewDevice::Receptacle => {
            if halves {
                w.act(
                    "Break the tab between the two brass screws of the new one, where it is broken on the old one; leave it where it is whole.",
                    "Two circuits, or a switched half and one that is not: whole, the tab would join them.",
                    place,
                );
            }
            w.act(
                "White to silver, black to brass, ground to green: hooks around the screws clockwise, none in the spring holes at the back.",
                "Polarity; a spring terminal is what works loose first.",
                place,
            );
        }
        NewDevice::GroundFault if of.behind => w.act(
            "What comes from the panel to LINE, what goes on to LOAD: black to brass, white to silver; ground to green. Where the old one \
             was such a device, its own marks tell; else the look with RESET below does.",
            "On LOAD hangs what it protects too.",
            place,
        ),
        NewDevice::GroundFault => w.act(
            "All hots joined with one pigtail to LINE brass, all neutrals with one to LINE silver; LOAD stays under its tape; ground to green.",
            "So it protects its own outlets, and what comes behind stays as it is.",
            place,
        ),
    }
    w.with("screwdriver");
    let made = Point { ground_fault: of.becomes == NewDevice::GroundFault, ..point.clone() };
    w.makes(|draft| {
        if made.ground_fault || draft.house.points.iter().all(|p| p.protected_by != Some(made.id)) {
            draft.put(made);
        }
        Ok(())
    });
    w.act(
        "At least 6 in of each wire stay free; the bare ground touches no screw; a metal box is on the ground too. Fold the wires in, ground \
         first, screw the device on.",
        "NEC 300.14, 250.148.",
        place,
    );
    let look = |key: &str| format!("{key}-{}", point.id.0);
    match of.becomes {
        NewDevice::Switch => w.look(&look("switches"), "It switches what it did, from every place.", "Else the common screw has another wire.", place),
        NewDevice::Receptacle => w.look(
            &look("polarity"),
            "The outlet tester says: correct, in both halves.",
            "Hot and neutral exchanged put the shell of a lamp on the hot.",
            place,
        ),
        NewDevice::GroundFault => w.look(
            &look("test-button"),
            "Press RESET: it stays in, and a lamp there burns. TEST: it clicks, the lamp goes out, and what hangs on LOAD too. RESET again.",
            "Where it does not reset with the breaker on, LINE and LOAD are exchanged: breaker off, prove it dead again, exchange them.",
            place,
        ),
    }
}
