//! A generator's inlet on a breaker that an interlock keeps off while the main is on. (handbook 5.11)

use std::collections::BTreeSet;

use crate::base::Invalid;
use crate::base::position::{Position, Supply, format_poles, parse_poles};
use crate::base::units::{Amps, GENERATOR, Watts};
use crate::code::sizes::{INLETS, MOMENT, START};
use crate::house::{Breaker, BreakerId, Frame, Goal, Handle, Load, LoadKind, Moving, PanelId, PointKind};
use crate::job::arrange::{Arranged, Wish, arrange};
use crate::job::form::{Answers, Field, FieldSort, Kind, PANEL};
use crate::job::mishaps;
use crate::job::obstacles::{INTERLOCK, NO_MAIN, NO_WAY, TOO_LARGE, TOO_MUCH, WYE};
use crate::job::plan::{Basis, Plan, of_a_listed_type};
use crate::job::working::Working;
use crate::load::drawing::Drawn;
use crate::plate::typical;

pub(super) static KIND: Kind = Kind {
    name: "generator",
    group: "Something new to connect",
    title: "A generator's inlet",
    under: "on an interlocked breaker",
    fields: &[
        PANEL,
        Field::new("watts", "It gives, for hours", FieldSort::Number { limits: &GENERATOR }).required(),
        Field::new("at", "The interlock asks for spaces", FieldSort::Poles).help("as 2-4"),
        Field::new("listed", "Interlock listed for this panel?", FieldSort::YesNo),
        Field::new("start", "and for the start of a motor", FieldSort::Number { limits: &GENERATOR }).rare(),
        Field::new("bonded", "Neutral bonded at the generator?", FieldSort::YesNo),
        Field::new("carries", "Circuits that it is to carry", FieldSort::Breakers),
    ],
    mishaps: mishaps::MOVING,
    goal,
};

fn goal(of: &Answers<'_>) -> Result<Goal, Invalid> {
    Ok(Goal::Generator {
        panel: of.panel()?.id,
        breaker: BreakerId(of.first),
        watts: Watts(of.number("watts").unwrap_or_default()),
        at: of.poles("at")?,
        listed: of.yes_no("listed"),
        start: of.number("start").map(Watts),
        bonded: of.yes_no("bonded"),
        carries: of.breakers("carries")?,
        moves: Vec::new(),
    })
}

/// What is asked of a generator's connection.
pub(super) struct Inlet<'a> {
    pub panel: PanelId,
    pub breaker: BreakerId,
    pub watts: Watts,
    pub at: &'a [Position],
    pub listed: Option<bool>,
    pub start: Option<Watts>,
    pub bonded: Option<bool>,
    pub carries: &'a BTreeSet<BreakerId>,
    pub moves: &'a [Moving],
}

/// What it gives on each leg, at 240 V between two.
fn amps(watts: Watts) -> Amps {
    Amps(watts.0 / 240.0)
}

/// The least inlet that carries what the generator gives; nothing beyond the largest.
fn inlet_for(watts: Watts) -> Option<(Amps, &'static str, &'static str)> {
    let found = INLETS.iter().find(|(rating, ..)| *rating >= amps(watts).0);
    found.map(|(rating, name, wire)| (Amps(*rating), *name, *wire))
}

/// The breaker, of the inlet's rating.
fn rating(watts: Watts) -> Amps {
    inlet_for(watts).map_or(Amps(50.0), |(rating, ..)| rating)
}

/// Works it out.
pub(super) fn work<'a>(basis: &'a Basis<'a>, inlet: &Inlet<'_>) -> Result<Working<'a>, Invalid> {
    let house = basis.house;
    let panel = house.panels.get(inlet.panel).ok_or_else(|| Invalid::gone("panel", inlet.panel.0))?;
    if !GENERATOR.contain(inlet.watts.0) {
        return Err(Invalid::new("watts", format!("a generator gives 500 to 50000 W, not {}", inlet.watts.0)));
    }
    let goal = |moves: Vec<Moving>| Goal::Generator {
        panel: inlet.panel,
        breaker: inlet.breaker,
        watts: inlet.watts,
        at: inlet.at.to_vec(),
        listed: inlet.listed,
        start: inlet.start,
        bonded: inlet.bonded,
        carries: inlet.carries.clone(),
        moves,
    };
    let title = format!("Generator at {}", panel.name);
    let mut w = Working::new(basis, title, panel.id, goal(inlet.moves.to_vec()));
    (w.licensed, w.stays_off) = (Some("a second source on the panel"), true);
    let mut moves = inlet.moves.to_vec();
    match inlet.listed {
        None => w.plan.ask(
            "listed",
            "Is there an interlock that is listed for this very panel? Its sheet, or the panel's label, says",
        ),
        Some(false) => w.plan.refuse(
            INTERLOCK,
            "without an interlock that is listed for this panel the generator feeds back into the street, and kills",
        ),
        Some(true) => {}
    }
    if panel.main.is_none() {
        w.plan.refuse(NO_MAIN, format!("{} has no main breaker of its own that an interlock could hold", panel.name));
    }
    if panel.supply != Supply::SplitPhase {
        w.plan.refuse(
            WYE,
            format!(
                "the two legs of a usual generator are opposite, 120 and 240 V; those of {} are 120 degrees apart, 120 and 208 V",
                panel.name
            ),
        );
    }
    if inlet_for(inlet.watts).is_none() {
        w.plan.refuse(
            TOO_LARGE,
            format!("{:.0} W are {:.0} A a leg, and cords and inlets go to 50 A", inlet.watts.0, amps(inlet.watts).0),
        );
    }
    if inlet.at.is_empty() {
        w.plan.ask("at", "Which two spaces does the interlock ask for? Mostly those beside the main");
    } else if inlet.at.len() != 2 || inlet.at.iter().any(|p| !panel.has(p.space)) {
        return Err(Invalid::new("at", "two spaces of the panel, one below the other, please"));
    } else if inlet.moves.is_empty() {
        let wish = Wish::Room { poles: 2, at: Some(inlet.at[0].space) };
        match arrange(house, panel, &[wish], &basis.usual(), &BTreeSet::new(), &[])? {
            Arranged::Possible(found) => {
                let to = |text: &str| parse_poles(text).unwrap_or_default();
                moves = found.moves.iter().map(|m| Moving { breaker: m.breaker, to: to(&m.to) }).collect();
            }
            Arranged::Impossible { impossible: why } | Arranged::CutOff { cut_off: why } => {
                w.plan.refuse_for(NO_WAY, why, "a transfer switch, or a tandem first");
            }
        }
    }
    w.plan.goal = goal(moves.clone());
    w.touch(moves.iter().map(|m| m.breaker));
    carries(basis, inlet, &mut w.plan);
    w.plan
        .cautions
        .push("Never a cord with two plugs. The generator stands outdoors, far from doors and windows.".into());
    w.plan.part(1, format!("two-pole breaker, {}, {}", rating(inlet.watts), of_a_listed_type(panel)));
    w.plan.part(1, "hold-down kit for it: it is fed from its load side (NEC 408.36(D))");
    w.plan.part(1, "interlock that is listed for this panel");
    if let Some((rating, name, wire)) = inlet_for(inlet.watts) {
        w.plan.part(1, format!("inlet {name}, outdoors, with a cord of {rating}"));
        w.plan.part(1, format!("cable {wire}-3 with ground: inlet, cord, breaker and wire are all of {rating}"));
    }
    w.plan.cautions.push(bonding(inlet.bonded).into());
    if house.breakers.get(inlet.breaker).is_some() {
        w.plan.unfit(Invalid::new("breaker", "there is already a breaker with this id"));
    }
    if w.is_open() {
        acts(&mut w, inlet, &moves);
    }
    Ok(w)
}

/// Where neutral and ground meet while the generator feeds. [prac: handbook 5.11]
fn bonding(bonded: Option<bool>) -> &'static str {
    match bonded {
        Some(true) => {
            "Its neutral is bonded at its frame: with this inlet neutral and ground would meet twice. Its bond comes out as its maker \
                       shows while it feeds the house, or a transfer switch switches the neutral too."
        }
        Some(false) => "Its neutral floats: neutral and ground meet in the house's first panel alone, as they should.",
        None => {
            "Is its neutral bonded at its frame, or does it float? Its sheet says, or ohms between neutral and frame: with this inlet it \
                 has to float."
        }
    }
}

/// Circuits in the order in which people want them on while the power is out: what keeps food, water and heat, then lights.
/// [prac]
fn wanted(basis: &Basis<'_>, breaker: BreakerId) -> Option<u8> {
    use LoadKind::{CarCharger, Cooling, Dryer, Fan, FireAlarm, Light, Oven, Pump, Range, Refrigerator, SumpPump};
    let points: Vec<_> = basis.points(breaker).collect();
    let loads = || basis.house.loads.iter().filter(|l| points.iter().any(|p| p.id == l.point));
    let is = |kinds: &[LoadKind]| loads().any(|l| kinds.contains(&l.kind));
    match () {
        () if is(&[CarCharger, Cooling, Dryer, Oven, Range]) => None,
        () if is(&[FireAlarm, Pump, Refrigerator, SumpPump])
            || loads().any(|l| l.name.to_lowercase().contains("furnace")) =>
        {
            Some(0)
        }
        () if is(&[Fan, Light]) || points.iter().any(|p| p.kind == PointKind::Light) => Some(1),
        () if points.is_empty() => None,
        () => Some(2),
    }
}

/// What it could carry: what is wanted most first, as long as each leg stays within what it gives.
fn could_carry(basis: &Basis<'_>, panel: PanelId, most: Amps) -> BTreeSet<BreakerId> {
    let usual = |b: &Breaker| basis.carries(b.id).map_or(0.0, |c| c.usual_most.0);
    let mut all: Vec<(u8, &Breaker)> =
        basis.house.breakers_of(panel).into_iter().filter_map(|b| Some((wanted(basis, b.id)?, b))).collect();
    all.sort_by(|a, b| a.0.cmp(&b.0).then(usual(a.1).total_cmp(&usual(b.1))).then(a.1.id.cmp(&b.1.id)));
    let mut carries = BTreeSet::new();
    for (_, breaker) in all.into_iter().filter(|(_, b)| usual(b) > 0.0 && !b.is_off()) {
        let mut then: BTreeSet<BreakerId> = carries.clone();
        then.insert(breaker.id);
        if fullest(basis, &then).iter().all(|leg| *leg <= most.0) {
            carries = then;
        }
    }
    carries
}

/// What circuits put on each leg at the usual peak.
fn fullest(basis: &Basis<'_>, carries: &BTreeSet<BreakerId>) -> [f64; 3] {
    let mut sums = [0.0_f64; 3];
    for breaker in carries.iter().filter_map(|b| basis.house.breakers.get(*b)) {
        let Some(panel) = basis.house.panels.get(breaker.panel) else { continue };
        let usual = basis.carries(breaker.id).map_or(0.0, |c| c.usual_most.0);
        breaker.at.iter().for_each(|p| sums[panel.leg(*p) as usize] += usual);
    }
    sums
}

/// The largest motor on these circuits, with what it takes when it runs.
fn largest_motor(basis: &Basis<'_>, carries: &BTreeSet<BreakerId>) -> Option<(String, f64)> {
    let house = basis.house;
    let motor = |l: &Load| l.motor.unwrap_or_else(|| typical::like(l).is_some_and(|usual| usual.motor));
    let there = basis.loaded.all.iter().filter(|d| d.breakers.iter().any(|b| carries.contains(b)));
    let turning = there.filter_map(|d| match d.thing {
        Drawn::Load(id) => house.loads.get(id).filter(|l| motor(l)).and_then(|_| Some((d.named(), d.amps?.0))),
        Drawn::Point(_) => None,
    });
    turning.max_by(|a, b| a.1.total_cmp(&b.1))
}

/// What the chosen circuits put on each leg, against what the generator gives.
fn carries(basis: &Basis<'_>, inlet: &Inlet<'_>, plan: &mut Plan) {
    let most = amps(inlet.watts);
    let sums = fullest(basis, inlet.carries);
    let fullest = sums.iter().copied().fold(0.0, f64::max);
    let moment = inlet.start.map_or(most.0 * MOMENT, |start| amps(start).0);
    if let Some((name, running)) = largest_motor(basis, inlet.carries) {
        let start = fullest + (START - 1.0) * running;
        if start > moment {
            plan.cautions.push(format!(
                "{name} may not start on it: with what else runs about {start:.0} A for a moment, and it gives about {moment:.0} A a leg for that. \
                 Start it first, the rest after."
            ));
        }
    }
    if inlet.carries.is_empty() {
        let could = could_carry(basis, inlet.panel, most);
        let names: Vec<String> =
            could.iter().filter_map(|b| basis.house.breakers.get(*b)).map(|b| basis.called(b)).collect();
        if !names.is_empty() {
            plan.cautions.push(format!("It could carry together, what is wanted most first: {}.", names.join("; ")));
        }
    }
    if fullest > most.0 {
        plan.refuse(
            TOO_MUCH,
            format!(
                "the chosen circuits put {fullest:.1} A on one leg at the usual peak; it gives {:.1} A a leg",
                most.0
            ),
        );
    } else if !inlet.carries.is_empty() {
        plan.cautions.push(format!(
            "It gives {:.1} A a leg; the chosen circuits take {:.1} and {:.1} A.",
            most.0, sums[0], sums[1]
        ));
    }
}

fn acts(w: &mut Working<'_>, inlet: &Inlet<'_>, moves: &[Moving]) {
    w.moves(moves);
    w.act("The inlet outdoors, its cable to the panel: two hots, neutral, ground.", "", None);
    w.act(
        format!(
            "The breaker in at {}, in OFF, with its hold-down; hots on it, neutral and ground on their bars.",
            format_poles(inlet.at)
        ),
        "Fed from its load side it must not come off the bus: NEC 408.36(D).",
        None,
    );
    w.makes(|draft| {
        // It stays off: it comes on when the main is off, and the interlock sees to that.
        draft.place_breaker(&Breaker {
            label: "generator inlet, interlocked".to_owned(),
            handle: Handle::Off,
            inlet: true,
            frame: Some(Frame::Full),
            ..Breaker::new(inlet.breaker, inlet.panel, inlet.at.to_vec(), rating(inlet.watts))
        });
        Ok(())
    });
    w.act("The interlock as its sheet shows.", "NEC 702.5.", None);
    w.look(
        "interlock",
        "Main on: the generator's breaker cannot be switched on. Main off: it can, and then the main cannot.",
        "Both at once feed the street.",
        None,
    );
}
