//! A generator's inlet on a breaker that an interlock keeps off while the main is on. (handbook 5.11)

use std::collections::BTreeSet;

use crate::base::Invalid;
use crate::base::position::{Position, Supply, format_poles, parse_poles};
use crate::base::units::{Amps, GENERATOR, Watts};
use crate::house::{Breaker, BreakerId, Frame, Goal, Handle, Moving, PanelId};
use crate::job::arrange::{Arranged, Wish, arrange};
use crate::job::form::{Answers, Field, FieldSort, Kind, PANEL};
use crate::job::mishaps;
use crate::job::obstacles::{INTERLOCK, NO_MAIN, NO_WAY, TOO_LARGE, TOO_MUCH, WYE};
use crate::job::plan::{Basis, Plan, of_a_listed_type};
use crate::job::working::Working;

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
    pub carries: &'a BTreeSet<BreakerId>,
    pub moves: &'a [Moving],
}

/// What it gives on each leg, at 240 V between two.
fn amps(watts: Watts) -> Amps {
    Amps(watts.0 / 240.0)
}

/// Ratings of inlets and cords, and their names: breaker, inlet, cord and cable have one. [pub: NEMA WD 6; prac]
const INLETS: &[(f64, &str)] = &[(20.0, "L14-20"), (30.0, "L14-30"), (50.0, "14-50")];

/// The least inlet that carries what the generator gives; nothing beyond the largest.
fn inlet_for(watts: Watts) -> Option<(Amps, &'static str)> {
    INLETS.iter().find(|(rating, _)| *rating >= amps(watts).0).map(|(rating, name)| (Amps(*rating), *name))
}

/// The breaker, of the inlet's rating.
fn rating(watts: Watts) -> Amps {
    inlet_for(watts).map_or(Amps(50.0), |(rating, _)| rating)
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
    w.plan.part(1, format!("inlet {}, outdoors, with its cord", inlet_for(inlet.watts).map_or("", |(_, name)| name)));
    w.plan.part(1, format!("cable for {}, three insulated wires and ground", rating(inlet.watts)));
    if house.breakers.get(inlet.breaker).is_some() {
        w.plan.unfit(Invalid::new("breaker", "there is already a breaker with this id"));
    }
    if w.is_open() {
        acts(&mut w, inlet, &moves);
    }
    Ok(w)
}

/// What the chosen circuits put on each leg, against what the generator gives.
fn carries(basis: &Basis<'_>, inlet: &Inlet<'_>, plan: &mut Plan) {
    let most = amps(inlet.watts);
    let mut sums = [0.0_f64; 3];
    for breaker in inlet.carries.iter().filter_map(|b| basis.house.breakers.get(*b)) {
        let Some(panel) = basis.house.panels.get(breaker.panel) else { continue };
        let usual = basis.carries(breaker.id).map_or(0.0, |c| c.usual.0);
        breaker.at.iter().for_each(|p| sums[panel.leg(*p) as usize] += usual);
    }
    let fullest = sums.iter().copied().fold(0.0, f64::max);
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
