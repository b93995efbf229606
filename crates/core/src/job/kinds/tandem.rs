//! A tandem in place of two single breakers: one space is free after, and nothing is combined. (handbook 5.5)

use crate::base::Invalid;
use crate::base::position::{Half, Position};
use crate::edit::Draft;
use crate::house::{Breaker, Device, Frame, Goal, Halves, KnownBy, Panel, TandemSpaces};
use crate::job::form::{Answers, Field, FieldSort, Kind};
use crate::job::mishaps;
use crate::job::obstacles::{PLAIN_SINGLE, SAME_RATING};
use crate::job::plan::{Basis, Plan, of_a_listed_type, shares_neutral};
use crate::job::working::{Working, at};
use crate::rules::{half_size, neutral_one_leg};

pub(super) static KIND: Kind = Kind {
    name: "tandem",
    group: "I need a space",
    title: "A tandem for two singles",
    under: "where the panel lists it",
    fields: &[
        Field::new("upper", "Becomes the upper half", FieldSort::Breaker).required(),
        Field::new("lower", "Becomes the lower half", FieldSort::Breaker).required(),
        Field::new("space", "In space", FieldSort::Space).required(),
    ],
    mishaps: mishaps::MOVING,
    goal,
};

fn goal(of: &Answers<'_>) -> Result<Goal, Invalid> {
    let space = of.number("space").unwrap_or_default() as u16;
    Ok(Goal::Tandem(Halves { upper: of.breaker("upper")?, lower: of.breaker("lower")?, space }))
}

/// Pairs that a tandem could take the place of: each stands in the space of one of the two, where half-size breakers are
/// listed. [pub: NEC 408.54, 110.3(B), value from memory]
pub(super) fn candidates(basis: &Basis<'_>, panel: &Panel) -> Vec<Halves> {
    let fits = |b: &&Breaker| whole_single(b).is_some() && !shares_neutral(basis.house, b.id);
    let singles: Vec<&Breaker> = basis.house.breakers_of(panel.id).into_iter().filter(fits).collect();
    let space = |b: &Breaker| whole_single(b).unwrap_or_default();
    let row = |b: &Breaker| (panel.place(space(b)).0, i32::from(panel.place(space(b)).1));
    // For each that would be free the nearest partner: its wire reaches best.
    let nearest = |free: &&&Breaker| {
        let may = |b: &&&Breaker| b.id != free.id && b.amps == free.amps && panel.tandem.allow(space(b));
        let far = |b: &&Breaker| {
            let ((side, row), (other, its)) = (row(free), row(b));
            (row - its).abs() + if side == other { 0 } else { ACROSS }
        };
        let stays = singles.iter().filter(may).min_by_key(|b| far(b))?;
        Some(Halves { upper: stays.id, lower: free.id, space: space(stays) })
    };
    singles.iter().filter_map(|free| nearest(&free)).collect()
}

/// Crossing to the other side counts so many rows. (handbook 7)
const ACROSS: i32 = 4;

/// The space of a plain breaker of one pole that takes all of it.
fn whole_single(breaker: &Breaker) -> Option<u16> {
    match breaker.at.as_slice() {
        [one] if one.half == Half::Whole && breaker.device == Device::Plain => Some(one.space),
        _ => None,
    }
}

/// Works it out.
pub(super) fn work<'a>(basis: &'a Basis<'a>, halves: &Halves) -> Result<Working<'a>, Invalid> {
    let (panel, [upper, lower]) = pair_of(basis, halves)?;
    let title = format!("A tandem at {} for {} and {}", halves.space, upper.at_text(), lower.at_text());
    let mut w = Working::new(basis, title, panel.id, Goal::Tandem(halves.clone()));
    acts(&mut w, halves)?;
    Ok(w)
}

fn pair_of<'a>(basis: &Basis<'a>, halves: &Halves) -> Result<(&'a Panel, [&'a Breaker; 2]), Invalid> {
    let house = basis.house;
    let find = |field: &str, id| {
        house.breakers.get(id).ok_or_else(|| Invalid::new(field, "there is no such breaker (any more)"))
    };
    let (upper, lower) = (find("upper", halves.upper)?, find("lower", halves.lower)?);
    let panel = house.panels.get(upper.panel).ok_or_else(|| Invalid::gone("panel", upper.panel.0))?;
    if upper.id == lower.id || lower.panel != panel.id {
        return Err(Invalid::new("lower", "two different breakers of one panel, please"));
    }
    if !panel.has(halves.space) {
        return Err(Invalid::new("space", format!("{} has no space {}", panel.name, halves.space)));
    }
    Ok((panel, [upper, lower]))
}

fn refusals(basis: &Basis<'_>, panel: &Panel, plan: &mut Plan, halves: &Halves, pair: [&Breaker; 2]) {
    let house = basis.house;
    for breaker in pair {
        let at = breaker.at_text();
        if whole_single(breaker).is_none() {
            plan.refuse(PLAIN_SINGLE, format!("{at} is not a plain breaker of one pole in a space of its own"));
        }
        if shares_neutral(house, breaker.id) {
            plan.refuse_for(
                &neutral_one_leg::RULE,
                format!("{at} shares its neutral: both halves of one space are on one leg, and the neutral would carry both currents"),
                "leave it, or put one half of each of two tandems under the pair",
            );
        }
    }
    if pair[0].amps != pair[1].amps {
        plan.refuse(SAME_RATING, format!("{} and {} differ in rating", pair[0].at_text(), pair[1].at_text()));
    }
    if !panel.tandem.allow(halves.space) {
        let spaces = match &panel.tandem {
            TandemSpaces::Some(spaces) if !spaces.is_empty() => {
                spaces.iter().map(ToString::to_string).collect::<Vec<_>>().join(", ")
            }
            _ => String::new(),
        };
        let by = match panel.tandem_known {
            Some(KnownBy::Label) => "by its label",
            Some(KnownBy::Notch) => "by the notches of its bus",
            None => "as far as is recorded",
        };
        plan.refuse_for(
            &half_size::RULE,
            format!("space {} of {} takes no half-size breakers, {by}", halves.space, panel.name),
            if spaces.is_empty() {
                "read the panel's label; where it lists none: rearrange, or combine".into()
            } else {
                format!("a space that takes them: {spaces}")
            },
        );
    }
}

/// What it changes.
pub(super) fn change(draft: &mut Draft, halves: &Halves) -> Result<(), Invalid> {
    let place = |half| Position { space: halves.space, half };
    let mut left = Vec::new();
    for (id, half) in [(halves.upper, Half::Upper), (halves.lower, Half::Lower)] {
        let breaker = draft.find::<Breaker>(id)?;
        left.extend(breaker.at.iter().map(|p| (breaker.panel, *p)));
        let changed = Breaker {
            at: vec![place(half)],
            frame: Some(Frame::Tandem),
            model: String::new(),
            terminal: None,
            as_found: false,
            ..breaker
        };
        draft.place_breaker(&changed);
    }
    left.into_iter().try_for_each(|(panel, at)| draft.vacate(panel, at))
}

/// What it refuses, and its acts; as a job of its own or to make room for another.
pub(super) fn acts(w: &mut Working<'_>, halves: &Halves) -> Result<(), Invalid> {
    let basis = w.basis;
    let (panel, pair) = pair_of(basis, halves)?;
    let [upper, lower] = pair;
    w.touch([upper.id, lower.id]);
    refusals(basis, panel, &mut w.plan, halves, pair);
    w.plan.part(1, format!("tandem breaker, {} and {}, {}", upper.amps, lower.amps, of_a_listed_type(panel)));
    if !w.is_open() {
        return Ok(());
    }
    for breaker in pair {
        w.act(
            format!("Tag the wire of {}. Does it reach space {}?", basis.called(breaker), halves.space),
            "Where not, splice it in the cabinet with a piece of its own gauge.",
            Some(at(breaker)),
        );
        w.act(format!("Take {} out: rock it towards the outside.", breaker.at_text()), "", Some(at(breaker)));
    }
    w.act(
        format!("Put the tandem in at {}, in OFF: it goes in without force, or it is not listed there.", halves.space),
        "The rejecting kind fits only where the bus is notched. The kind without that feature is for panels from before such \
         limiting: never to get round it (NEC 408.54).",
        Some(at(upper)),
    );
    w.makes(|draft| change(draft, halves));
    w.act(
        format!(
            "Land the wire of {} on the upper half, that of {} on the lower one.",
            upper.at_text(),
            lower.at_text()
        ),
        "",
        Some(at(upper)),
    );
    Ok(())
}
