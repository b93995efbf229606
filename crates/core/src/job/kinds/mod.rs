//! One job a file, each worked out once: its choices, what it asks and refuses, its acts with what each makes true.

mod add;
pub mod combine;
mod convert;
mod dedicated;
mod device;
mod generator;
mod interlock;
mod makeup;
mod protect;
mod quad;
mod rearrange;
mod relieve;
mod replace;
mod retire;
mod room;
pub(super) mod several;
mod splice;
mod sub_panel;
mod surge;
mod swap;
mod tandem;

use crate::base::Invalid;
use crate::house::Goal;
use crate::job::form::Kind;
use crate::job::plan::Basis;
use crate::job::working::Working;

/// All kinds of job, in the order in which they are offered.
pub(super) static ALL: &[&Kind] = &[
    &replace::KIND,
    &swap::KIND,
    &rearrange::KIND,
    &tandem::KIND,
    &quad::KIND,
    &combine::KIND,
    &retire::KIND,
    &relieve::KIND,
    &sub_panel::KIND,
    &add::KIND,
    &dedicated::KIND,
    &generator::KIND,
    &interlock::KIND,
    &surge::KIND,
    &convert::KIND,
    &protect::KIND,
    &device::KIND,
    &splice::KIND,
    &rearrange::BALANCE,
    &makeup::KIND,
];

/// The kind of a goal.
pub(super) fn of(goal: &Goal) -> &'static Kind {
    match goal {
        Goal::Replace { .. } => &replace::KIND,
        Goal::Swap { .. } => &swap::KIND,
        Goal::Combine(_) => &combine::KIND,
        Goal::Tandem(_) => &tandem::KIND,
        Goal::Quad(_) => &quad::KIND,
        Goal::Add(_) => &add::KIND,
        Goal::SubPanel(_) => &sub_panel::KIND,
        Goal::Relieve(_) => &relieve::KIND,
        Goal::Surge(_) => &surge::KIND,
        Goal::Interlock { .. } => &interlock::KIND,
        Goal::Device(_) => &device::KIND,
        Goal::Splice { .. } => &splice::KIND,
        Goal::Dedicated(_) => &dedicated::KIND,
        Goal::Convert { .. } => &convert::KIND,
        Goal::Protect { .. } => &protect::KIND,
        Goal::Rearrange { .. } => &rearrange::KIND,
        Goal::Makeup { .. } => &makeup::KIND,
        Goal::Generator { .. } => &generator::KIND,
        Goal::Retire { .. } => &retire::KIND,
        Goal::Several { .. } => &several::KIND,
    }
}

/// Works out what a goal comes to, beside what every job has.
pub(super) fn work<'a>(basis: &'a Basis<'a>, goal: &Goal) -> Result<Working<'a>, Invalid> {
    match goal {
        Goal::Replace { breaker, amps, model } => replace::work(basis, *breaker, *amps, model),
        Goal::Swap { breaker, spare } => swap::work(basis, *breaker, *spare),
        Goal::Combine(joining) => combine::work(basis, joining),
        Goal::Tandem(halves) => tandem::work(basis, halves),
        Goal::Quad(four) => quad::work(basis, four),
        Goal::Add(new) => add::work(basis, new, Goal::Add),
        Goal::SubPanel(new) => sub_panel::work(basis, new),
        Goal::Relieve(relief) => relieve::work(basis, relief),
        Goal::Surge(new) => surge::work(basis, new),
        Goal::Interlock { breaker, at, listed, moves } => interlock::work(basis, *breaker, at, *listed, moves),
        Goal::Device(of) => device::work(basis, of),
        Goal::Splice { point } => splice::work(basis, *point),
        Goal::Dedicated(new) => dedicated::work(basis, new),
        Goal::Convert { breaker, two_legs, at, moves } => convert::work(basis, *breaker, *two_legs, at, moves),
        Goal::Protect { breaker, device, keep_devices } => protect::work(basis, *breaker, *device, *keep_devices),
        Goal::Rearrange { panel, wishes, fixed, room } => rearrange::work(basis, *panel, wishes, fixed, room),
        Goal::Makeup { panel, more, moves } => makeup::work(basis, panel, more, moves),
        Goal::Generator { panel, breaker, watts, at, listed, start, bonded, carries, moves } => {
            let (panel, breaker) = (*panel, *breaker);
            generator::work(
                basis,
                &generator::Inlet {
                    panel,
                    breaker,
                    watts: *watts,
                    at,
                    listed: *listed,
                    start: *start,
                    bonded: *bonded,
                    carries,
                    moves,
                },
            )
        }
        Goal::Retire { breaker, spare } => retire::work(basis, *breaker, *spare),
        Goal::Several { goals, in_order } => several::work(basis, goals, *in_order),
    }
}
