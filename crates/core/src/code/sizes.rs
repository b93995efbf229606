//! Sizes and shares that breakers, inlets and cable are chosen by, in amperes where nothing else is said.

/// Sizes that are taken where a plate does not ask for another: 25, 35 and 45 A are on no shelf. (common practice: handbook 3.10)
pub const ON_THE_SHELF: [f64; 13] = [15.0, 20.0, 30.0, 40.0, 50.0, 60.0, 70.0, 80.0, 90.0, 100.0, 125.0, 150.0, 200.0];

/// What heats alone and draws so little stands behind 20 A at the most; what draws more behind half as much again, the next size up
/// allowed. [pub: NEC 422.11(E), value from memory]
pub const SMALL_HEATER: (f64, f64) = (13.3, 20.0);
/// See [`SMALL_HEATER`].
pub const HEATER: f64 = 1.5;

/// A motor's breaker is so many times its current at the most. [pub: NEC 430.52, inverse-time breaker, value from memory]
pub const MOTOR: f64 = 2.5;

/// A welder's breaker is so many times its current at the most. [pub: NEC 630.12(A), value from memory]
pub const WELDER: f64 = 2.0;

/// A household range of so many watts or more has so many amperes at the least. [pub: NEC 210.19(A)(3), value from memory]
pub const LARGE_RANGE: (f64, f64) = (8750.0, 40.0);

/// A motor takes so many times its current for a moment when it starts. [prac: handbook 3.2, 3.4]
pub const START: f64 = 5.0;

/// So much more than for hours a generator gives for a moment, where its plate does not say. [prac]
pub const MOMENT: f64 = 1.25;

/// Ratings of generator inlets and cords, and their names: breaker, inlet, cord and cable have one. [pub: NEMA WD 6; prac]
pub const INLETS: &[(f64, &str, &str)] =
    &[(20.0, "L14-20", "12"), (30.0, "L14-30", "10"), (50.0, "of 50 A, 125/250 V, locking", "6")];

/// Cable is bought by so many times the way. [prac: handbook 5.6]
pub const CABLE_TO_SPARE: f64 = 1.1;

/// Feet that stay free at a box and at the panel, together: a loop past the breaker. [pub: NEC 300.14, value from memory; prac:
/// handbook 1.3]
pub const FREE_ENDS: f64 = 4.0;

/// Feet from one staple of a cable to the next; and one within a foot of each end. [pub: NEC 334.30, value from memory]
pub const STAPLES: f64 = 4.5;

/// Receptacle circuits of kitchens, baths, laundries and garages, in amperes. [pub: NEC 210.11(C), value from memory]
pub const TWENTY: f64 = 20.0;

/// Shares of a breaker's rating that a circuit counts with of which nobody knows all that it draws: of one pole,
/// (common practice: nothing known is not nothing drawn)
pub const UNKNOWN_OF_ONE_POLE: f64 = 0.5;
/// and of two, which feed one large thing.
pub const UNKNOWN_OF_TWO_POLES: f64 = 2.0 / 3.0;

/// What draws less, in amperes, relieves no circuit: a clamp hardly reads it. [prac: handbook 3.1]
pub const WORTH_A_CIRCUIT: f64 = 1.0;
