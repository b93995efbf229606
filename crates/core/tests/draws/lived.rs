//! Usual peaks and overloads against weeks lived by people of another model, and readings that are chosen against others.

use std::collections::BTreeMap;

use rand::rngs::ChaCha8Rng;
use rand::seq::IndexedRandom;
use rand::{RngExt, SeedableRng};
use wayfinder_core::house::{BreakerId, LoadId};
use wayfinder_core::load::Loaded;
use wayfinder_core::load::circuits::{CircuitLoad, circuits};
use wayfinder_core::load::drawing::{Drawing, Drawn};
use wayfinder_core::load::draws::draws;
use wayfinder_core::load::next::{Kit, next};
use wayfinder_core::practice::home::MadeHome;
use wayfinder_core::practice::living::{LivedWeek, Living, Outside};
use wayfinder_core::trace::beliefs;

use super::households;

/// Weeks that are lived of each season: an odd number has a middle one.
const WEEKS: usize = 13;

/// What weeks brought to a circuit: of the season that brought more, the middle week's peak, and the share of weeks in which the rating
/// was passed.
fn lived(made: &MadeHome, seasons: &[Vec<LivedWeek>], circuit: &CircuitLoad) -> (f64, f64) {
    let of = |weeks: &Vec<LivedWeek>| {
        let mut peaks: Vec<f64> = weeks.iter().map(|week| week.peak(made, circuit.breaker)).collect();
        peaks.sort_by(f64::total_cmp);
        let over = peaks.iter().filter(|peak| **peak > circuit.rating.0).count();
        (peaks[peaks.len() / 2], over as f64 / peaks.len() as f64)
    };
    let all: Vec<(f64, f64)> = seasons.iter().map(of).collect();
    (all.iter().map(|a| a.0).fold(0.0, f64::max), all.iter().map(|a| a.1).fold(0.0, f64::max))
}

fn told(made: &MadeHome) -> Vec<CircuitLoad> {
    let all = beliefs(&made.house);
    let draws = draws(&made.house, &all);
    Loaded::new(&made.house, &all, &draws).circuits().to_vec()
}

/// What is told in tenths of chances, and what came.
#[derive(Default, Clone, Copy, Debug)]
struct Tenth {
    circuits: f64,
    told: f64,
    came: f64,
}

#[derive(Default, Debug)]
struct Weeks {
    circuits: f64,
    off: f64,
    more: f64,
    lived: f64,
    tenths: [Tenth; 10],
    /// Those of which nineteen of twenty weeks are told.
    sure: Tenth,
    /// Overloads in usual weeks, and those of them foretold; foretold ones, and those of them that never came.
    overloads: usize,
    foretold: usize,
    alarms: usize,
    none: usize,
}

// Handbook 3.3: the usual peak is what commonly runs together; who passes a rating in usual weeks is told so.
#[test]
fn usual_peaks_and_overloads_are_those_of_weeks_lived() {
    let (count, shown) = households(8);
    let mut all = Weeks::default();
    for seed in 0..count {
        let mut made = MadeHome::new(4000 + seed, 1.0);
        made.round(0.9, None);
        made.round(0.5, None);
        let told = told(&made);
        let mut living = Living::new(&made, seed);
        let seasons = [Outside::Cold, Outside::Warm]
            .map(|outside| (0..WEEKS).map(|_| living.week(outside)).collect::<Vec<LivedWeek>>());
        for circuit in told.iter().filter(|c| !c.things.is_empty()) {
            let (peak, over) = lived(&made, &seasons, circuit);
            all.circuits += 1.0;
            all.off += (circuit.usual.0 - peak).abs();
            all.more += circuit.usual.0 - peak;
            all.lived += peak;
            let tenth = &mut all.tenths[((10.0 * circuit.over) as usize).min(9)];
            tenth.circuits += 1.0;
            tenth.told += circuit.over;
            tenth.came += over;
            if (0.9..0.98).contains(&circuit.over) {
                all.sure.circuits += 1.0;
                all.sure.came += over;
            }
            all.overloads += usize::from(over >= 0.5);
            all.foretold += usize::from(over >= 0.5 && circuit.warns);
            all.alarms += usize::from(circuit.warns);
            all.none += usize::from(circuit.warns && over == 0.0);
        }
    }
    let (off, bias) = (100.0 * all.off / all.lived, 100.0 * all.more / all.lived);
    if shown {
        println!("{} circuits: usual peaks off by {off:.1} %, {bias:+.1} % in all", all.circuits);
        for tenth in all.tenths.iter().filter(|t| t.circuits > 0.0) {
            let (told, came) = (100.0 * tenth.told / tenth.circuits, 100.0 * tenth.came / tenth.circuits);
            println!("told {told:3.0} %, came in {came:3.0} % of weeks, {} circuits", tenth.circuits);
        }
        let sure = 100.0 * all.sure.came / all.sure.circuits.max(1.0);
        println!("told 90 to 98 %, came in {sure:.0} % of weeks, {} circuits", all.sure.circuits);
        println!(
            "{} pass in usual weeks, {} foretold; {} foretold, {} of them never came",
            all.overloads, all.foretold, all.alarms, all.none
        );
    }
    assert!(off <= 15.0 && bias.abs() <= 8.0, "{off:.1} {bias:.1}");
    assert!(all.foretold as f64 >= 0.9 * all.overloads as f64 && all.overloads > 0, "{all:?}");
    assert!(all.none as f64 <= 0.3 * all.alarms as f64, "{all:?}");
}

/// How far usual peaks are off for what is not known of draws, in amperes a circuit.
fn open(made: &MadeHome) -> f64 {
    let all = beliefs(&made.house);
    let drawn = draws(&made.house, &all);
    let loaded = Loaded::new(&made.house, &all, &drawn);
    let real = |d: &Drawing| match d.thing {
        Drawn::Load(load) => {
            Drawing { amps: Some(wayfinder_core::base::units::Amps(made.real[&load].amps)), ..d.clone() }
        }
        Drawn::Point(_) => d.clone(),
    };
    let really: Vec<Drawing> = loaded.all.iter().map(real).collect();
    let told = loaded.circuits();
    let truth: BTreeMap<BreakerId, f64> =
        circuits(&made.house, &loaded.hung, &really).iter().map(|c| (c.breaker, c.usual.0)).collect();
    let told: Vec<&CircuitLoad> = told.iter().filter(|c| !c.things.is_empty()).collect();
    told.iter().map(|c| (c.usual.0 - truth[&c.breaker]).abs()).sum::<f64>() / told.len() as f64
}

/// How somebody chooses what to read.
#[derive(Clone, Copy, Debug)]
enum Chooses {
    AsProposed,
    AtRandom,
    FullestFirst,
}

fn choose(made: &MadeHome, how: Chooses, nth: usize, rng: &mut ChaCha8Rng) -> Option<(BreakerId, Vec<LoadId>)> {
    let told = told(made);
    let full: Vec<&CircuitLoad> = told.iter().filter(|c| !c.things.is_empty()).collect();
    match how {
        Chooses::AsProposed => {
            let all = beliefs(&made.house);
            let drawn = draws(&made.house, &all);
            let loaded = Loaded::new(&made.house, &all, &drawn);
            let kit = Kit { clamp: true, ..Kit::default() };
            let first = next(&made.house, &loaded, kit).into_iter().find(|n| n.breaker.is_some())?;
            Some((first.breaker?, first.on))
        }
        Chooses::AtRandom => {
            let at = full.choose(rng)?.breaker;
            let on: Vec<LoadId> = made.on(at).into_iter().filter(|_| rng.random_bool(0.6)).collect();
            Some((at, if on.is_empty() { made.on(at) } else { on }))
        }
        Chooses::FullestFirst => {
            let mut order = full;
            order.sort_by(|a, b| b.worst.0.total_cmp(&a.worst.0));
            let at = order[nth % order.len()].breaker;
            Some((at, made.on(at)))
        }
    }
}

// The next reading teaches more than one at random and than the fullest first, in every budget.
#[test]
fn what_is_proposed_teaches_most() {
    let (count, shown) = households(6);
    let ways = [Chooses::AsProposed, Chooses::AtRandom, Chooses::FullestFirst];
    let budgets = [0, 5, 10, 20];
    let mut left = [[0.0; 4]; 3];
    for seed in 0..count {
        for (way, left) in ways.iter().zip(&mut left) {
            let mut made = MadeHome::new(5000 + seed, 1.0);
            let mut rng = ChaCha8Rng::seed_from_u64(seed);
            for nth in 0..=20 {
                if let Some(budget) = budgets.iter().position(|b| *b == nth) {
                    left[budget] += open(&made) / count as f64;
                }
                if let Some((breaker, on)) = choose(&made, *way, nth, &mut rng) {
                    made.take(breaker, on.into_iter().collect());
                }
            }
        }
    }
    for (way, left) in ways.iter().zip(&left).filter(|_| shown) {
        println!("{way:?}: {left:.2?} A after {budgets:?} readings");
    }
    // After five hardly anything but chance tells them apart in a few households.
    for (budget, at_most) in [(1, 1.05), (2, 1.0), (3, 0.9)] {
        let others = left[1][budget].min(left[2][budget]);
        assert!(left[0][budget] <= at_most * others, "after {}: {left:.2?}", budgets[budget]);
    }
}

// What was read as proposed is not proposed again; only what may have rested just then is looked at once more.
#[test]
fn nothing_is_proposed_twice_for_nothing() {
    let mut read = 0;
    for seed in 0..3 {
        let mut made = MadeHome::new(6000 + seed, 1.0);
        let mut rng = ChaCha8Rng::seed_from_u64(seed);
        let mut taken: Vec<(BreakerId, Vec<LoadId>)> = Vec::new();
        for nth in 0..25 {
            let Some((breaker, on)) = choose(&made, Chooses::AsProposed, nth, &mut rng) else { break };
            let may_rest = on.iter().any(|load| made.real[load].runs < 1.0);
            let before = taken.iter().filter(|t| **t == (breaker, on.clone())).count();
            let named: Vec<&str> = on.iter().map(|load| made.house.loads.get(*load).unwrap().name.as_str()).collect();
            assert!(before <= if may_rest { 2 } else { 0 }, "after {nth}: {named:?} read {before} times");
            taken.push((breaker, on.clone()));
            made.take(breaker, on.into_iter().collect());
        }
        read += taken.len();
    }
    assert!(read >= 30, "{read}");
}
