//! A body of four half-size breakers in place of a two-pole and two single ones: two spaces are free after, and nothing is combined.
//! The two-pole comes into the middle, across the boundary of the two spaces, where its poles stay on two legs: so a pair that
//! shares its neutral may too. (handbook 1.2, 5.5)

use crate::base::Invalid;
use crate::base::position::{Half, Position};
use crate::base::units::Amps;
use crate::edit::Draft;
use crate::house::{Breaker, BreakerId, Device, FourHalves, Frame, Goal, Panel, Trip};
use crate::job::form::{Answers, Field, FieldSort, Kind};
use crate::job::kinds::tandem::{self, whole_single};
use crate::job::mishaps;
use crate::job::obstacles::{FEEDS_A_PANEL, INNER_PAIR, PLAIN_SINGLE, SAME_RATING};
use crate::job::plan::{Basis, Plan, of_a_listed_type, shares_neutral};
use crate::job::working::{Working, at};
use crate::rules::{half_size, neutral_one_leg};

pub(super) static KIND: Kind = Kind {
    name: "quad",
    group: "I need a space",
    title: "A quad for a two-pole and two singles",
    under: "two spaces, where the panel lists it",
    fields: &[
        Field::new("upper", "Becomes the uppermost half", FieldSort::Breaker).required(),
        Field::new("inner", "The two-pole, into the middle", FieldSort::Breaker).required(),
        Field::new("lower", "Becomes the lowest half", FieldSort::Breaker).required(),
        Field::new("space", "In this space and the one below", FieldSort::Space).required(),
    ],
    mishaps: mishaps::MOVING,
    goal,
};

fn goal(of: &Answers<'_>) -> Result<Goal, Invalid> {
    let space = of.number("space").unwrap_or_default() as u16;
    let [upper, inner, lower] = [of.breaker("upper")?, of.breaker("inner")?, of.breaker("lower")?];
    Ok(Goal::Quad(FourHalves { upper, inner, lower, space }))
}

/// Two-pole breakers of half size come to this rating. (common practice: 15 to 50 A)
const LARGEST_INNER: Amps = Amps(50.0);

/// Quads that panel could take: each two-pole with the pairs of one rating among the singles nearest to it, both ways round.
pub(super) fn candidates(basis: &Basis<'_>, panel: &Panel) -> Vec<FourHalves> {
    let house = basis.house;
    let here = house.breakers_of(panel.id);
    let may = |b: &&&Breaker| is_inner(b) && house.panel_fed_by(b.id).is_none();
    let mut found = Vec::new();
    for inner in here.iter().filter(may) {
        let near = tandem::nearest(basis, panel, inner.at[0].space, |_| true);
        for (nth, one) in near.iter().enumerate() {
            for other in near[nth + 1..].iter().filter(|other| other.amps == one.amps) {
                for [upper, lower] in [[one.id, other.id], [other.id, one.id]] {
                    found.push(FourHalves { upper, inner: inner.id, lower, space: 0 });
                }
            }
        }
    }
    found
}

/// A plain two-pole breaker over two whole spaces that half-size ones can take the place of.
fn is_inner(breaker: &Breaker) -> bool {
    breaker.at.len() == 2
        && breaker.at.iter().all(|p| p.half == Half::Whole)
        && breaker.device == Device::Plain
        && !breaker.inlet
        && breaker.amps <= LARGEST_INNER
}

/// Works it out.
pub(super) fn work<'a>(basis: &'a Basis<'a>, four: &FourHalves) -> Result<Working<'a>, Invalid> {
    let (panel, [upper, inner, lower]) = of(basis, four)?;
    let below = panel.below(four.space).unwrap_or_default();
    let title = format!(
        "A quad at {} and {below} for {}, {} and {}",
        four.space,
        upper.at_text(),
        inner.at_text(),
        lower.at_text()
    );
    let mut w = Working::new(basis, title, panel.id, Goal::Quad(four.clone()));
    check(&mut w, four)?;
    if w.is_open() {
        take_out(&mut w, four)?;
        put_in(&mut w, four)?;
    }
    Ok(w)
}

fn of<'a>(basis: &Basis<'a>, four: &FourHalves) -> Result<(&'a Panel, [&'a Breaker; 3]), Invalid> {
    let house = basis.house;
    let find = |field: &str, id: BreakerId| {
        house.breakers.get(id).ok_or_else(|| Invalid::new(field, "there is no such breaker (any more)"))
    };
    let all = [find("upper", four.upper)?, find("inner", four.inner)?, find("lower", four.lower)?];
    let panel = house.panels.get(all[0].panel).ok_or_else(|| Invalid::gone("panel", all[0].panel.0))?;
    let twice = four.upper == four.lower || [four.upper, four.lower].contains(&four.inner);
    if twice || all.iter().any(|b| b.panel != panel.id) {
        return Err(Invalid::new("lower", "three different breakers of one panel, please"));
    }
    if !panel.has(four.space) || panel.below(four.space).is_none() {
        let why = format!("{} has no space {} with one below it", panel.name, four.space);
        return Err(Invalid::new("space", why));
    }
    Ok((panel, all))
}

/// Where each half is, from the top.
fn places(panel: &Panel, space: u16) -> [Position; 4] {
    let below = panel.below(space).unwrap_or(space);
    let half = |space, half| Position { space, half };
    [half(space, Half::Upper), half(space, Half::Lower), half(below, Half::Upper), half(below, Half::Lower)]
}

fn refusals(basis: &Basis<'_>, panel: &Panel, plan: &mut Plan, four: &FourHalves, all: [&Breaker; 3]) {
    let house = basis.house;
    let [upper, inner, lower] = all;
    if !is_inner(inner) {
        let why = format!(
            "{} is no plain two-pole breaker of {LARGEST_INNER} at the most in two whole spaces",
            inner.at_text()
        );
        plan.refuse(INNER_PAIR, why);
    }
    if let Some(sub) = house.panel_fed_by(inner.id) {
        plan.refuse(FEEDS_A_PANEL, format!("{} feeds the panel {}", inner.at_text(), sub.name));
    }
    for breaker in [upper, lower] {
        let at = breaker.at_text();
        if whole_single(breaker).is_none() {
            plan.refuse(PLAIN_SINGLE, format!("{at} is not a plain breaker of one pole in a space of its own"));
        }
        if shares_neutral(house, breaker.id) {
            let why = format!(
                "{at} shares its neutral with another breaker: which leg it comes onto is not looked after here"
            );
            plan.refuse_for(&neutral_one_leg::RULE, why, "leave it, or make one two-pole of the pair first");
        }
    }
    if upper.amps != lower.amps {
        plan.refuse(SAME_RATING, format!("{} and {} differ in rating", upper.at_text(), lower.at_text()));
    }
    let below = panel.below(four.space).unwrap_or_default();
    if let Some(space) = [four.space, below].into_iter().find(|space| !panel.tandem.allow(*space)) {
        plan.refuse(&half_size::RULE, format!("space {space} of {} takes no half-size breakers", panel.name));
    }
}

/// What it refuses, and what is bought for it; as a job of its own or to make room for another.
pub(super) fn check(w: &mut Working<'_>, four: &FourHalves) -> Result<(), Invalid> {
    let (panel, all) = of(w.basis, four)?;
    let [upper, inner, _] = all;
    w.touch(all.map(|b| b.id));
    refusals(w.basis, panel, &mut w.plan, four, all);
    let listed = of_a_listed_type(panel);
    let what = if inner.trip == Trip::HandleTie {
        format!(
            "two tandems, {} and {}, with the tie that their maker lists for the inner halves, {listed}",
            upper.amps, inner.amps
        )
    } else {
        format!("quad breaker, two-pole {} between singles of {}, {listed}", inner.amps, upper.amps)
    };
    w.plan.part(1, what);
    Ok(())
}

/// All three come out, tagged.
pub(super) fn take_out(w: &mut Working<'_>, four: &FourHalves) -> Result<(), Invalid> {
    let (_, all) = of(w.basis, four)?;
    all.iter().for_each(|breaker| tandem::take_one_out(w, breaker, four.space));
    Ok(())
}

/// The new body goes in, and its wires are landed.
pub(super) fn put_in(w: &mut Working<'_>, four: &FourHalves) -> Result<(), Invalid> {
    let (panel, [upper, inner, lower]) = of(w.basis, four)?;
    let below = panel.below(four.space).unwrap_or_default();
    w.act(
        format!(
            "Put the quad in at {} and {below}, in OFF: it goes in without force, or it is not listed there.",
            four.space
        ),
        tandem::REJECTING,
        Some(at(upper)),
    );
    w.makes(|draft| change(draft, four));
    w.act(
        format!(
            "Land the wire of {} on the uppermost half, those of {} on the two in the middle, that of {} on the lowest.",
            upper.at_text(),
            inner.at_text(),
            lower.at_text()
        ),
        "The two in the middle stand across the boundary of the spaces, on two legs; the upper two halves are on one leg, and the lower two.",
        Some(at(inner)),
    );
    w.look(
        &format!("inner-across-{}", inner.id.0),
        format!("Between the two middle terminals: the voltage between two legs, not 0 ({} before).", inner.at_text()),
        "0 V would say that both stand on one leg: a shared neutral would carry both currents, and 240 V would be none.",
        Some(at(inner)),
    );
    Ok(())
}

/// What it changes.
pub(super) fn change(draft: &mut Draft, four: &FourHalves) -> Result<(), Invalid> {
    let mut left = Vec::new();
    let inner = draft.find::<Breaker>(four.inner)?;
    let panel = draft.find::<Panel>(inner.panel)?;
    let [first, second, third, last] = places(&panel, four.space);
    for (id, to) in [(four.upper, vec![first]), (four.inner, vec![second, third]), (four.lower, vec![last])] {
        let breaker = draft.find::<Breaker>(id)?;
        left.extend(breaker.at.iter().map(|p| (breaker.panel, *p)));
        let changed = Breaker {
            at: to,
            ..tandem::as_half(breaker, if inner.trip == Trip::HandleTie { Frame::Tandem } else { Frame::Quad })
        };
        draft.place_breaker(&changed);
    }
    left.into_iter().try_for_each(|(panel, at)| draft.vacate(panel, at))
}
