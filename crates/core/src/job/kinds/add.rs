//! A new circuit. (handbook 5.6, 3.10)

use super::room::{self, NewPlace};
use crate::base::position::{Half, format_poles};
use crate::base::units::{
    Amps, BREAKER_RATING, CABLE_LENGTH, DUTY, Feet, Gauge, HORSEPOWER, Horsepower, Metal, NominalVolts, PLATE_AMPS,
    PlateVolts, WATTS, Watts,
};
use crate::base::{Invalid, Said};
use crate::code;
use crate::edit::catalog;
use crate::house::{
    Breaker, BreakerId, Circuit, CircuitId, Device, Frame, Goal, Load, LoadId, LoadKind, MakeRoom, MeasuredAt,
    NewCircuit, Panel, Point, PointId, PointKind,
};
use crate::job::cable::Cable;
use crate::job::form::{Answers, Field, FieldSort, Kind, PANEL};
use crate::job::mishaps;
use crate::job::obstacles::{FEEDER, NAMEPLATE, NO_ROOM, NO_THREE_PHASE, NO_WIRE, SERVICE};
use crate::job::outlet;
use crate::job::plan::{Basis, Plan, counted_poles, neutral_of_a_protected, of_a_listed_type};
use crate::job::wire::WireRun;
use crate::job::working::{Working, new_one};
use crate::load::legs;
use crate::load::service::{self, Added};
use crate::plate::{self, Connected};
use crate::rules::{nameplate_least, nameplate_most, nameplate_volts, standard_rating};

pub(super) static KIND: Kind = Kind {
    name: "add",
    group: "Something new to connect",
    title: "A new circuit",
    under: "load, leg, place, wire, protection, parts",
    fields: &fields("120"),
    mishaps: mishaps::MOVING,
    goal: |of| new_circuit(of, false).map(Goal::Add),
};

/// What a new circuit asks: as little as possible, the nameplate first.
pub(super) const fn fields(volts: &'static str) -> [Field; 19] {
    const AMPS: FieldSort = FieldSort::Number { limits: &PLATE_AMPS };
    [
        Field::new("name", "What is it?", FieldSort::Text),
        Field::new("room", "In which room", FieldSort::Room).required(),
        PANEL,
        Field::new("volts", "Made for", FieldSort::Choice { choices: VOLTS }).usual(volts),
        Field::new("kind", "It is", FieldSort::Thing).usual("other"),
        Field::new("amps", "Nameplate", AMPS),
        Field::new("watts", "or nameplate", FieldSort::Number { limits: &WATTS }),
        Field::new("hp", "or a motor of", FieldSort::Number { limits: &HORSEPOWER }).rare(),
        Field::new("mca", "or minimum circuit ampacity", AMPS),
        Field::new("mop", "and max fuse or breaker", AMPS),
        Field::new("neutral", "Takes a neutral?", FieldSort::YesNo).unless("volts", &["115", "120", "125"]),
        Field::new("length", "Wire, one way", FieldSort::Number { limits: &CABLE_LENGTH }),
        Field::new("continuous", "runs for three hours or more", FieldSort::Tick),
        Field::new("plugged", "is plugged in", FieldSort::Tick),
        Field::new("poles", "Poles, if not by its volts", FieldSort::Choice { choices: POLES }).rare(),
        Field::new("duty", "Duty, of a welder", FieldSort::Number { limits: &DUTY }).rare(),
        Field::new("breaker", "Its breaker, if not by the nameplate", FieldSort::Number { limits: &BREAKER_RATING })
            .rare(),
        Field::new("at", "In spaces, if it matters", FieldSort::Poles).rare().help("as 5-7"),
        room::LEAVE,
    ]
}

const POLES: &[(&str, &str)] = &[("", "by its volts"), ("3", "three: three phases")];

/// What plates print: as a house has it, as plates of such things put it, and what no house has, which is told.
const VOLTS: &[(&str, &str)] = &[
    ("120", "120 V"),
    ("208", "208 V"),
    ("240", "240 V"),
    ("115", "115 V"),
    ("125", "125 V"),
    ("200", "200 V"),
    ("220", "220 V"),
    ("230", "230 V"),
    ("250", "250 V"),
    ("277", "277 V"),
    ("460", "460 V"),
];

/// The circuit that answers come to.
pub(super) fn new_circuit(of: &Answers<'_>, large: bool) -> Result<NewCircuit, Invalid> {
    let (room, panel) = (of.room("room")?, of.panel()?);
    let no_volts = |e: String| Invalid::new("volts", e);
    let printed = of.text("volts").parse::<u16>().map_err(|e| no_volts(e.to_string()))?;
    let volts = PlateVolts::try_from(printed).map_err(no_volts)?;
    if of.text("poles") == "3" && !volts.nominal().is_leg_to_leg() {
        return Err(Invalid::new("poles", "three phases are at 208 or 240 V"));
    }
    let thing = of.thing("kind")?;
    // What has no name is called by what it is.
    let name = match of.text("name") {
        "" if thing != LoadKind::Other => thing.said(),
        said => said,
    };
    let amps = |field: &str| of.number(field).map(Amps);
    let plate = ["amps", "watts", "hp", "mca"].into_iter().any(|field| of.number(field).is_some());
    let [breaker, circuit, point, load] = [0, 1, 2, 3].map(|nth| of.first + nth);
    let plugged = of.is("plugged");
    let kind = if plugged || !plate { PointKind::Receptacle } else { PointKind::Appliance };
    let draws = Load {
        volts: Some(volts),
        watts: of.number("watts").map(Watts),
        amps: amps("amps"),
        hp: of.number("hp").map(Horsepower),
        mca: amps("mca"),
        mop: amps("mop"),
        three_phase: of.text("poles") == "3",
        duty: of.number("duty"),
        motor: of.number("hp").map(|_| true),
        continuous: of.is("continuous").then_some(true),
        ..Load::new(LoadId(load), PointId(point), if name.is_empty() { "new load" } else { name }, thing)
    };
    Ok(NewCircuit {
        panel: panel.id,
        point: Point {
            name: name.into(),
            volts: Some(volts.nominal()),
            ..Point::new(PointId(point), catalog::next_tag(of.house, room), room.id, kind)
        },
        load: (plate || large).then_some(draws),
        neutral: of.yes_no("neutral"),
        plugged,
        length: of.number("length").map(Feet),
        breaker: BreakerId(breaker),
        circuit: CircuitId(circuit),
        amps: amps("breaker"),
        at: of.poles("at")?,
        room: MakeRoom { leave: of.breakers(room::LEAVE.name)?, ..MakeRoom::default() },
    })
}

/// What a new circuit consists of.
#[derive(Debug, Clone, PartialEq)]
struct Sized {
    amps: Amps,
    wire: Gauge,
    cable: Cable,
    poles: usize,
    volts: NominalVolts,
    device: Device,
}

/// Works it out.
pub(super) fn work<'a>(
    basis: &'a Basis<'a>,
    new: &NewCircuit,
    make: fn(NewCircuit) -> Goal,
) -> Result<Working<'a>, Invalid> {
    let house = basis.house;
    let panel = house.panels.get(new.panel).ok_or_else(|| Invalid::gone("panel", new.panel.0))?;
    let name = if new.point.name.trim().is_empty() { "a new circuit" } else { new.point.name.trim() };
    let mut w = Working::new(basis, format!("Add {name}"), panel.id, make(new.clone()));
    if let Some(load) = &new.load {
        by_kind(load.kind, panel, &mut w);
    }
    let Some(sized) = size(basis, panel, new, &mut w.plan) else { return Ok(w) };
    let mut new = NewCircuit { amps: Some(sized.amps), ..new.clone() };
    load_allows(basis, panel, &new, &sized, &mut w.plan);
    place(basis, panel, &mut new, &sized, &mut w.plan, make)?;
    if panel.separate_building && panel.fed_by.is_none() {
        w.plan
            .cautions
            .push("A separate building has its own panel, disconnect and electrodes (NEC 225.30, 250.32).".into());
    }
    room::acts(&mut w, &new.room)?;
    parts(panel, &new, &sized, &mut w.plan);
    if house.breakers.get(new.breaker).is_some() {
        w.plan.unfit(Invalid::new("breaker", "there is already a breaker with this id"));
    }
    if w.is_open() {
        let large = matches!(w.plan.goal, Goal::Dedicated(_));
        acts(&mut w, &new, &sized, large);
    }
    w.plan.goal = make(new);
    Ok(w)
}

/// Breaker, wire and conductors from the nameplate.
fn size(basis: &Basis<'_>, panel: &Panel, new: &NewCircuit, plan: &mut Plan) -> Option<Sized> {
    let volts = volts_of(new);
    let two_legs = volts.is_leg_to_leg();
    let poles = poles(new);
    if poles > usize::from(panel.supply.legs()) {
        let why = format!("{} has {} legs, and three phases take three", panel.name, panel.supply.legs());
        plan.refuse(NO_THREE_PHASE, why);
    }
    let made = new.load.as_ref().and_then(|load| load.volts).unwrap_or_else(|| volts.into());
    if let Some(why) = nameplate_volts::forbids(made, panel.supply) {
        plan.refuse(&nameplate_volts::RULE, format!("it is {why}"));
    }
    let (least, usual, most) = match &new.load {
        Some(load) => {
            let place = basis.house.rooms.get(new.point.room).map_or("", |r| r.name.as_str());
            let asks = asks(load, volts, plan)?.at(place, kind(new));
            if new.amps.is_none_or(|amps| amps == asks.usual) && !asks.usual_why.is_empty() {
                plan.cautions
                    .push(format!("{}: {}. The least allowed is {}.", asks.usual, asks.usual_why, asks.at_least));
            }
            (asks.at_least, asks.usual, asks.at_most)
        }
        None => {
            let amps = new.amps.unwrap_or(Amps(20.0));
            (amps, amps, Some(amps))
        }
    };
    let amps = new.amps.unwrap_or(usual);
    let to = most.map_or_else(String::new, |most| format!(" to {most}"));
    let asks = format!("its nameplate asks for a breaker of {least}{to}, not {amps}");
    if amps < least {
        plan.refuse_for(&nameplate_least::RULE, asks, format!("{least}"));
    } else if most.is_some_and(|most| amps > most) {
        plan.refuse_for(&nameplate_most::RULE, asks, format!("{least}"));
    }
    if !code::STANDARD_RATINGS.contains(&amps.0) {
        let why = format!("{amps} is no rating that breakers come in");
        plan.refuse_for(&standard_rating::RULE, why, format!("{least}"));
    }
    if poles == 2 && new.neutral.is_none() {
        plan.ask("neutral", "Does it take a neutral? A dryer or range mostly does; a heater, welder or charger mostly not. The equipment says");
    }
    let run = run(new, volts, amps);
    let Some((thinnest, chosen)) = run.wires() else {
        plan.refuse(NO_WIRE, format!("no single cable carries {amps}"));
        return None;
    };
    if let Some(length) = new.length.filter(|_| chosen != thinnest) {
        plan.cautions.push(format!(
            "{thinnest} AWG would carry it, but lose {:.1} % over {:.0} ft: {chosen} AWG (NEC 210.19, informational note).",
            100.0 * run.lost(thinnest),
            length.0
        ));
    }
    let house = basis.house;
    let place = house.rooms.get(new.point.room).map_or("", |r| r.name.as_str());
    let things = new.load.iter().map(|l| l.kind);
    let device = outlet::protection(place, kind(new), things, (two_legs, amps)).unwrap_or_else(|| {
        plan.cautions.push(format!(
            "No rule is known here for a room called \"{place}\": look up whether it asks for ground-fault or arc-fault protection \
             (NEC 210.8, 210.12)."
        ));
        Device::Plain
    });
    if let Some(why) = nameplate_volts::weakens(made, panel.supply) {
        plan.cautions.push(format!("It is {why}. Ask its maker."));
    }
    let cable = Cable::new(poles, new.neutral == Some(true));
    Some(Sized { amps, wire: chosen, cable, poles, volts, device })
}

fn asks(load: &Load, volts: NominalVolts, plan: &mut Plan) -> Option<plate::Asks> {
    if let (Some(mca), Some(mop)) = (load.mca, load.mop)
        && mop.0 < mca.0
    {
        let why = format!("a nameplate of {} A at least and {} A at most cannot be: read it again", mca.0, mop.0);
        plan.refuse(NAMEPLATE, why);
        return None;
    }
    let asks = plate::asks(load, Connected::printed(load, volts));
    if asks.is_none() {
        if load.has_plate() {
            plan.refuse_for(NAMEPLATE, "no breaker to 400 A is large enough for that nameplate", "read it again");
        } else {
            plan.ask(
                "load",
                "What does its nameplate say: watts, amperes, or minimum circuit ampacity and largest breaker?",
            );
        }
    }
    asks
}

/// Does the service, and what feeds the panel, carry it?
fn load_allows(basis: &Basis<'_>, panel: &Panel, new: &NewCircuit, sized: &Sized, plan: &mut Plan) {
    // What draws in the house already is counted already.
    let Some(load) = new.load.as_ref().filter(|load| basis.house.loads.get(load.id).is_none()) else { return };
    let Some(amps) = plate::current(load, Connected::printed(load, sized.volts)) else { return };
    let added = Added { amps, volts: sized.volts, continuous: plate::is_continuous(load), kind: load.kind };
    let sheets: Vec<service::Sheet> =
        service::answers(basis.house, &basis.beliefs.hangs(), std::slice::from_ref(&added))
            .into_iter()
            .filter_map(|a| a.then)
            .filter(|s| s.margin_amps.is_some())
            .collect();
    let over: Vec<&service::Sheet> = sheets.iter().filter(|s| s.margin_amps.is_some_and(|m| m.0 < 0.0)).collect();
    if sheets.is_empty() {
        plan.cautions.push(
            "Whether the service carries it cannot be said yet: Loads, Room for more, says what is missing.".into(),
        );
    } else if over.len() == sheets.len() {
        let why = over.iter().map(|s| format!("{}: {}", s.title, s.said)).collect::<Vec<_>>().join(" ");
        plan.refuse(SERVICE, why);
    } else {
        for sheet in over {
            plan.cautions.push(format!(
                "{}: {} Another method allows it: ask which one the local authority takes.",
                sheet.title, sheet.said
            ));
        }
    }
    feeders_allow(basis, panel, &added, plan);
}

/// What is there already leaves its old circuit: unplugged, or its wires parted and capped in the old box, which is shown dead like every
/// box that hands are in. [prac: handbook 5.16]
fn comes_over(w: &mut Working<'_>, load: &Load, new: &NewCircuit) {
    let Some(old) = w.house.points.get(load.point).cloned() else { return };
    let (name, tag) = (load.name.trim(), &new.point.tag);
    if old.kind == PointKind::Receptacle {
        let key = format!("plugged-{}", load.id.0);
        let what = format!("{name} is plugged in at {tag}, an outlet of its own now, and no more at {}.", old.tag);
        return w.look(&key, what, "Else the old circuit carries it still.", None);
    }
    let alone = w.house.loads.iter().filter(|l| l.point == old.id).count() == 1;
    let place = Some(MeasuredAt::Point { point: old.id });
    w.act(
        format!(
            "At {}: {name} off its old wires. What passes on from there, or hangs there too, is joined again as it was; of a cable that ends \
             there each wire is capped by itself. The box covered, and where it can be reached. Then {name} on to the new cable.",
            old.tag
        ),
        "Two circuits never meet in one thing, and a box in the middle of a circuit feeds what comes after.",
        place,
    );
    w.makes(|draft| {
        if alone {
            let name = format!("capped cable, {name} before");
            draft.put(Point { kind: PointKind::Other, name, ..old });
        }
        Ok(())
    });
    w.look(
        &format!("goes-on-{}", load.id.0),
        format!("What else was on the old circuit of {name} works as before, each outlet and light of it tried."),
        "A splice in the old box that was left open shows there.",
        place,
    );
}

/// Does each feeder above carry it, with a quarter more of what runs for hours? [pub: NEC 215.2, 215.3, value from memory]
fn feeders_allow(basis: &Basis<'_>, panel: &Panel, added: &Added, plan: &mut Plan) {
    let house = basis.house;
    let all = basis.loaded.legs();
    let weight = |continuous: bool| if continuous { code::CONTINUOUS } else { 1.0 };
    let more = added.amps.0 * weight(added.continuous);
    let mut at = Some(panel);
    // A house has so many levels as panels, whatever is entered.
    for _ in 0..house.panels.len() {
        let Some(panel) = at else { break };
        let Some(feeder) = panel.fed_by.and_then(|b| house.breakers.get(b)) else { break };
        let here = all.iter().find(|l| l.id == panel.id);
        let usual = here.map_or(0.0, |l| l.each.iter().map(|e| e.usual.0).fold(0.0, f64::max));
        let lasting = legs::lasting(panel, &basis.loaded.all).0;
        let then = usual + (code::CONTINUOUS - 1.0) * lasting + more;
        if then > feeder.amps.0 {
            plan.refuse(
                FEEDER,
                format!(
                    "the fuller leg of {} carries {usual:.0} A at the usual peak; with this, and a quarter more of what runs for \
                     hours, {then:.0} of {}",
                    panel.name, feeder.amps
                ),
            );
        }
        at = house.panels.get(feeder.panel);
    }
}

/// Where its breaker goes: on the leg that balances, or where room is made.
fn place(
    basis: &Basis<'_>,
    panel: &Panel,
    new: &mut NewCircuit,
    sized: &Sized,
    plan: &mut Plan,
    make: fn(NewCircuit) -> Goal,
) -> Result<(), Invalid> {
    let poles = sized.poles;
    if !new.at.is_empty() {
        if new.at.len() != poles {
            return Err(Invalid::new("at", format!("{}, please", counted_poles(poles))));
        }
        if let Some(gone) = new.at.iter().find(|p| !panel.has(p.space)) {
            return Err(Invalid::new("at", format!("{} has no space {gone}", panel.name)));
        }
    }
    let given = new.clone();
    let NewCircuit { at, room, .. } = new;
    let of = NewPlace {
        house: basis.house,
        panel,
        poles,
        halves: sized.device == Device::Plain,
        amps: sized.amps,
        beside: &[],
        more: &[],
        none: NO_ROOM,
        what: "it goes to",
    };
    room::choose(basis, plan, &of, (at, room), |at, room| make(NewCircuit { at, room, ..given.clone() }))
}

fn parts(panel: &Panel, new: &NewCircuit, sized: &Sized, plan: &mut Plan) {
    let listed = of_a_listed_type(panel);
    let (kind, how) = match sized.device {
        Device::Plain => (String::new(), String::new()),
        device => (format!("{} ", device.said()), format!("{}, ", neutral_of_a_protected(panel))),
    };
    let frame = if is_half_size(new) { "half-size" } else { "full-size" };
    plan.part(1, format!("{frame} {kind}breaker, {}, {}, {how}{listed}", counted_poles(sized.poles), sized.amps));
    let cable = format!("{}-{}", sized.wire, sized.cable.conductors());
    plan.cable(format!("cable {cable} with ground"), new.length);
    plan.part(2, format!("connector for {cable}, one at the cabinet and one at the box"));
    plan.part(1, "box of the size that wires and device ask for");
    match outlet::configuration(sized.poles, sized.cable.neutral && sized.poles > 1, sized.amps)
        .filter(|_| new.plugged || new.load.is_none())
    {
        Some(name) => plan.part(1, format!("receptacle {name}, with its plate")),
        None if new.plugged => plan.part(1, "receptacle that matches the plug"),
        None => plan.part(1, "connector or whip of the equipment"),
    }
    plan.part(2, "label for the cable, one at each end");
}

/// It stands in halves of spaces.
fn is_half_size(new: &NewCircuit) -> bool {
    new.at.iter().any(|p| p.half != Half::Whole)
}

/// What it is at the wall: where nothing else is said an outlet.
fn kind(new: &NewCircuit) -> PointKind {
    if new.plugged || new.load.is_none() { PointKind::Receptacle } else { new.point.kind }
}

/// What it draws by its nameplate, or else what its breaker lets through.
fn drawn(new: &NewCircuit, volts: NominalVolts, amps: Amps) -> Amps {
    new.load.as_ref().and_then(|l| plate::current(l, Connected::printed(l, volts))).unwrap_or(amps)
}

/// What its wire is for.
fn run(new: &NewCircuit, volts: NominalVolts, amps: Amps) -> WireRun {
    let carries =
        new.load.as_ref().and_then(|l| plate::asks(l, Connected::printed(l, volts))).map_or(amps, |asks| asks.wire);
    WireRun { metal: Metal::Copper, carries, breaker: amps, drawn: drawn(new, volts, amps), volts, length: new.length }
}

/// Poles of its breaker, by its phases and volts.
pub(super) fn poles(new: &NewCircuit) -> usize {
    match (new.load.as_ref().is_some_and(|l| l.three_phase), volts_of(new).is_leg_to_leg()) {
        (true, _) => 3,
        (false, true) => 2,
        (false, false) => 1,
    }
}

/// What a kind of thing brings with it, whatever its plate says. (handbook 3.10)
fn by_kind(kind: LoadKind, panel: &Panel, w: &mut Working<'_>) {
    let says: &[&str] = match kind {
        LoadKind::Pool => &[
            "Its disconnect stands in sight of it, 5 ft or more from the water (NEC 680.13).",
            "Metal within 5 ft of the water, the water and the pump are bonded together: that is a licensed electrician's part, and \
             inspected before it is covered (NEC 680.26).",
        ],
        LoadKind::SumpPump => &[
            "Two schools. The code asks for ground-fault protection of a receptacle in a basement (NEC 210.8(A)(5)), and that is planned \
             here by its room; many who keep pumps have none before a sump pump, since one false trip floods the cellar: wired for good, \
             without a receptacle, it needs none in many places. Ask the local authority, and have an alarm for high water either way.",
        ],
        LoadKind::FireAlarm => &[
            "It hangs on nothing else, behind neither ground-fault nor arc-fault protection; its breaker is marked in red as FIRE ALARM, \
             and its handle is kept from being switched off (NEC 760.41, 760.121). Single smoke alarms are no such system: they go with \
             lights.",
        ],
        LoadKind::Hood => {
            &["A hood with a plug has a circuit of its own, so that a microwave may take its place (NEC 422.16(B)(4))."]
        }
        LoadKind::Welder => &[
            "The wire may be smaller than the plate's amperes by its duty; the breaker then protects no more than the wire where something \
             else is plugged in there: say on the plate that it is a welder's (NEC 630.11, 630.12).",
        ],
        LoadKind::CarCharger => &[
            "Set the charger to what this circuit is made for, by its switch or menu: four fifths of the breaker (NEC 625.42).",
        ],
        _ => &[],
    };
    w.plan.cautions.extend(says.iter().map(|say| (*say).to_owned()));
    if kind == LoadKind::Pool {
        w.licensed = Some("the bonding of a pool or tub");
    }
    if kind == LoadKind::Pool && panel.supply.across() == 208 {
        w.plan.cautions.push("Made for 230 V only, a pump's motor runs hot on 208: its plate must name 208.".into());
    }
}

/// The voltage that it is made for.
fn volts_of(new: &NewCircuit) -> NominalVolts {
    let plate = new.load.as_ref().and_then(|l| l.volts).map(PlateVolts::nominal);
    plate.or(new.point.volts).unwrap_or(NominalVolts::V120)
}

fn acts(w: &mut Working<'_>, new: &NewCircuit, sized: &Sized, large: bool) {
    let house = w.house;
    let place = house.rooms.get(new.point.room).map_or("", |r| r.name.as_str());
    let breaker = Breaker {
        device: sized.device,
        label: new.point.name.clone(),
        frame: Some(if is_half_size(new) { Frame::Half } else { Frame::Full }),
        ..Breaker::new(new.breaker, new.panel, new.at.clone(), sized.amps)
    };
    let circuit = Circuit {
        wire: Some(sized.wire),
        conductors: Some(sized.cable.conductors()),
        length: new.length,
        colours: sized.cable.hots.clone(),
        ..Circuit::new(new.circuit, new.breaker)
    };
    w.act(
        format!("Run the cable from {place} to the panel: stapled, a loop to spare at both ends; label it outside the cabinet."),
        "A breaker may have to move one day.",
        None,
    );
    if large {
        w.act(
            "Large wires: a bushing on every metal edge, a short nipple or cable into the cabinet, wires bent wide and folded to the side.",
            "A sharp edge cuts the insulation of what carries most.",
            None,
        );
    }
    let (made, neutral) = new_one(&breaker);
    let bar = if neutral.is_empty() { ", the neutral (where there is one) to its own hole" } else { "" };
    w.act(format!("The connector in a knockout where a breaker stands; ground to its bar{bar}."), "NEC 408.41.", None);
    w.act(
        format!(
            "The new {made} in at {}, in OFF; the hot{} on it{}.{neutral}",
            format_poles(&new.at),
            if new.at.len() > 1 { "s" } else { "" },
            if sized.cable.neutral { ", hot and neutral tagged together" } else { "" }
        ),
        "",
        None,
    );
    w.makes(|draft| {
        draft.place_breaker(&breaker);
        draft.add("circuit", circuit)
    });
    w.act("At the other end: box, device, ground first, hots last.", "", None);
    w.makes(|draft| {
        draft.add("point", new.point.clone())?;
        let Some(load) = &new.load else { return Ok(()) };
        // What is there already moves over to the new outlet.
        match draft.house.loads.get(load.id).cloned() {
            Some(old) => draft.put(Load { point: new.point.id, ..old }),
            None => draft.add("load", Load { point: new.point.id, ..load.clone() })?,
        }
        Ok(())
    });
    if let Some(there) = new.load.as_ref().and_then(|load| w.house.loads.get(load.id)) {
        comes_over(w, there, new);
    }
    if breaker.device.is_protected() {
        w.look_at_the_button(&breaker);
    }
}
