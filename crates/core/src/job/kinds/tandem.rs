//! A tandem in place of two single breakers: one space is free after, and nothing is combined. (handbook 5.5)

use crate::base::Invalid;
use crate::base::position::{Half, Position};
use crate::edit::Draft;
use crate::house::{Breaker, BreakerId, Device, Frame, Goal, Halves, KnownBy, Panel, TandemSpaces};
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

/// Pairs that a tandem could take the place of, where it goes to be found: for each the nearest ones of its rating, whose wires
/// reach best. [pub: NEC 408.54, 110.3(B), value from memory]
pub(super) fn candidates(basis: &Basis<'_>, panel: &Panel) -> Vec<Halves> {
    let mut pairs: Vec<[BreakerId; 2]> = Vec::new();
    for one in singles(basis, panel) {
        let space = whole_single(one).unwrap_or_default();
        for other in nearest(basis, panel, space, |b| b.id != one.id && b.amps == one.amps) {
            if !pairs.contains(&[other.id, one.id]) {
                pairs.push([one.id, other.id]);
            }
        }
    }
    pairs.into_iter().map(|[upper, lower]| Halves { upper, lower, space: 0 }).collect()
}

/// So many partners are weighed for each: farther ones cost more rows and make no other room.
const PARTNERS: usize = 3;

/// Plain singles that share no neutral.
fn singles<'a>(basis: &Basis<'a>, panel: &Panel) -> Vec<&'a Breaker> {
    let fits = |b: &&Breaker| whole_single(b).is_some() && !shares_neutral(basis.house, b.id);
    basis.house.breakers_of(panel.id).into_iter().filter(fits).collect()
}

/// Those that are nearest to a space.
pub(super) fn nearest<'a>(
    basis: &Basis<'a>,
    panel: &Panel,
    space: u16,
    may: impl Fn(&Breaker) -> bool,
) -> Vec<&'a Breaker> {
    let row = |space: u16| (panel.place(space).0, i32::from(panel.place(space).1));
    let far = |b: &Breaker| {
        let ((side, row), (other, its)) = (row(space), row(whole_single(b).unwrap_or_default()));
        (row - its).abs() + if side == other { 0 } else { ACROSS }
    };
    let mut near: Vec<&Breaker> = singles(basis, panel).into_iter().filter(|b| may(b)).collect();
    near.sort_by_key(|b| far(b));
    near.truncate(PARTNERS);
    near
}

/// Crossing to the other side counts so many rows. (handbook 7)
const ACROSS: i32 = 4;

/// The space of a plain breaker of one pole that takes all of it.
pub(super) fn whole_single(breaker: &Breaker) -> Option<u16> {
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
    check(&mut w, halves)?;
    if w.is_open() {
        take_out(&mut w, halves)?;
        put_in(&mut w, halves)?;
    }
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
        draft.place_breaker(&Breaker { at: vec![place(half)], ..as_half(breaker, Frame::Tandem) });
    }
    left.into_iter().try_for_each(|(panel, at)| draft.vacate(panel, at))
}

/// What is known no more of a breaker that becomes part of another body.
pub(super) fn as_half(breaker: Breaker, frame: Frame) -> Breaker {
    Breaker { frame: Some(frame), model: String::new(), terminal: None, as_found: false, ..breaker }
}

/// What it refuses, and what is bought for it; as a job of its own or to make room for another.
pub(super) fn check(w: &mut Working<'_>, halves: &Halves) -> Result<(), Invalid> {
    let basis = w.basis;
    let (panel, pair) = pair_of(basis, halves)?;
    let [upper, lower] = pair;
    w.touch([upper.id, lower.id]);
    refusals(basis, panel, &mut w.plan, halves, pair);
    w.plan.part(1, format!("tandem breaker, {} and {}, {}", upper.amps, lower.amps, of_a_listed_type(panel)));
    let leg = |space: u16| panel.leg(Position::whole(space));
    for breaker in pair {
        let from = whole_single(breaker).map(leg);
        if from.is_some_and(|from| from != leg(halves.space)) {
            w.plan.cautions.push(format!(
                "{} changes its leg: both halves of space {} are on one.",
                basis.called(breaker),
                halves.space
            ));
        }
    }
    Ok(())
}

/// Both come out, tagged.
pub(super) fn take_out(w: &mut Working<'_>, halves: &Halves) -> Result<(), Invalid> {
    let (_, pair) = pair_of(w.basis, halves)?;
    pair.iter().for_each(|breaker| take_one_out(w, breaker, halves.space));
    Ok(())
}

/// One that becomes part of another body comes out.
pub(super) fn take_one_out(w: &mut Working<'_>, breaker: &Breaker, space: u16) {
    let wires = if breaker.at.len() > 1 { "wires" } else { "wire" };
    let reach = if breaker.at.len() > 1 { "Do they reach" } else { "Does it reach" };
    w.act(
        format!("Tag the {wires} of {}. {reach} space {space}?", w.basis.called(breaker)),
        "Where not, splice it in the cabinet with a piece of its own gauge.",
        Some(at(breaker)),
    );
    w.act(format!("Take {} out: rock it towards the outside.", breaker.at_text()), "", Some(at(breaker)));
}

/// Why it goes in without force.
pub(super) const REJECTING: &str = "The rejecting kind fits only where the bus is notched. The kind without that feature is for panels from before such \
     limiting: never to get round it (NEC 408.54).";

/// The new body goes in, and its wires are landed.
pub(super) fn put_in(w: &mut Working<'_>, halves: &Halves) -> Result<(), Invalid> {
    let (_, [upper, lower]) = pair_of(w.basis, halves)?;
    w.act(
        format!("Put the tandem in at {}, in OFF: it goes in without force, or it is not listed there.", halves.space),
        REJECTING,
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
