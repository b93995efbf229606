//! What usually goes wrong in a job, and the way on. Common practice throughout (handbook 5).

use std::borrow::Cow;

use super::plan::Mishap;

const fn m(what: &'static str, then: &'static str) -> Mishap {
    Mishap { what, then: Cow::Borrowed(then) }
}

const TRIPS: Mishap = m(
    "It trips at once",
    "Leave it off. Main off again, and look: a wire under the wrong screw, insulation pinched, hot touching ground. With everything \
     unplugged still at once: the wiring has a short or a ground fault, and the breaker is right.",
);
const NO_FIT: Mishap = m(
    "The breaker does not fit",
    "Do not force it: compare type and frame with the old one and with the panel's label. Put the old one back, or close the \
     opening, and close up.",
);
const TOO_SHORT: Mishap = m(
    "A wire is too short",
    "Splice it in the cabinet with a piece of its own gauge and metal; the cabinet must not be too full (NEC 312.8). Or choose a \
     nearer place and plan again.",
);
const NO_TORQUE: Mishap = m(
    "No torque on the label",
    "Look at the breaker's side, its box, and the panel's door; then the maker's sheet. Never guess: stop here until it is found.",
);
const GHOST: Mishap = m(
    "The meter shows a few volts where it should be dead",
    "A wire beside a live one does that to a meter that loads it little: read again in low-impedance mode, or with a lamp. What stays \
     is real: it is fed from somewhere. Touch nothing, close up, and trace it.",
);
const NO_NEUTRAL: Mishap = m(
    "Its neutral is not found",
    "Follow the hot back to where its cable comes in: the white wire of that cable is it. Two circuits in one cable share theirs: \
     then a two-pole type is due. Not found: put the old breaker back.",
);
const TRIPS_PROTECTED: Mishap = m(
    "Only the protection trips",
    "Mostly a neutral that touches another circuit's, in the panel or in a box with two circuits. Look at the neutral first, then \
     unplug one thing after the other.",
);
const BURNT: Mishap = m(
    "The bus is burnt, rusty or loose",
    "Nothing goes back onto that place. Close the opening, and have an electrician look at the panel.",
);

const NO_RESET: Mishap = m(
    "The device does not reset",
    "Is its breaker on? Then LINE and LOAD are exchanged, or hot and neutral: breaker off, prove it dead, look again.",
);
const STILL_DIM: Mishap = m(
    "It is still dim, or dead from there on",
    "The bad place is nearer to the panel or further on: the last place that is right and the first that is not are its two ends.",
);
pub(super) const AT_A_BOX: &[Mishap] = &[TRIPS, GHOST, NO_RESET, STILL_DIM];
pub(super) const ALWAYS: &[Mishap] = &[TRIPS, GHOST, NO_FIT, NO_TORQUE, BURNT];
pub(super) const MOVING: &[Mishap] = &[TRIPS, GHOST, TOO_SHORT, NO_FIT, NO_TORQUE, BURNT];
pub(super) const PROTECTED: &[Mishap] = &[NO_NEUTRAL, TRIPS_PROTECTED, TRIPS, GHOST, NO_FIT, NO_TORQUE, BURNT];
