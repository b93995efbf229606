//! Times what is worked out of loads in a large house, and of plans in a full panel. Run by `cargo xtask bench`.

#![allow(clippy::expect_used, reason = "a benchmark that cannot go on ends")]

use std::collections::BTreeSet;
use std::hint::black_box;
use std::time::Instant;

use rand::rngs::ChaCha8Rng;
use rand::{RngExt, SeedableRng};
use wayfinder_core::House;
use wayfinder_core::base::position::{Half, Position, Supply};
use wayfinder_core::base::units::Amps;
use wayfinder_core::house::{Breaker, BreakerId, Goal, MakeRoom, Panel, PanelId, TandemSpaces};
use wayfinder_core::job::arrange::{Arranged, Wish, arrange};
use wayfinder_core::job::{Basis, plan};
use wayfinder_core::load::draws::draws;
use wayfinder_core::load::next::{Kit, next};
use wayfinder_core::load::together::{Set, together};
use wayfinder_core::load::{Loaded, loads};
use wayfinder_core::practice::rounds::Furnished;
use wayfinder_core::trace::beliefs;

const RUNS: usize = 25;

fn time(what: &str, mut run: impl FnMut()) {
    run();
    let timed = |_| {
        let start = Instant::now();
        run();
        start.elapsed().as_secs_f64() * 1000.0
    };
    let mut times: Vec<f64> = (0..RUNS).map(timed).collect();
    times.sort_by(f64::total_cmp);
    println!("| {what} | {:.1} | {:.1} |", times[RUNS / 2], times[RUNS - 2]);
}

fn speed() {
    let house = &Furnished::fullest().house;
    let (points, things, readings) = (house.points.len(), house.loads.len(), house.readings.len());
    println!("\n42 breakers, {points} points, {things} loads, {readings} readings, in milliseconds:\n");
    println!("| what | median | p95 |\n|---|---|---|");
    let beliefs = beliefs(house);
    time("draws of all loads", || drop(black_box(draws(house, &beliefs))));
    let draws = draws(house, &beliefs);
    time("circuits, legs, doubts, once draws are known", || {
        drop(black_box(loads(&Loaded::new(house, &beliefs, &draws))))
    });
    let loaded = Loaded::new(house, &beliefs, &draws);
    let set =
        Set { on: loaded.all.iter().map(|d| d.thing).collect(), breaker: house.breakers.iter().next().map(|b| b.id) };
    time("may these run together", || drop(black_box(together(house, &loaded.hung, &loaded.all, &set))));
    let kit = Kit { clamp: true, plug_in: true, utility_meter: true, monitor: false };
    time("the next reading", || {
        drop(black_box(next(house, &Loaded::new(house, &beliefs, &draws), kit)));
    });
}

/// A full panel of 42 spaces with tandems and large breakers, three spaces free, none beside another.
fn full_panel(supply: Supply) -> House {
    let mut house = House::new("bench");
    let panel = Panel { supply, tandem: TandemSpaces::All, ..Panel::new(PanelId(1), "Main", 42) };
    let mut rng = ChaCha8Rng::seed_from_u64(42);
    let put = |house: &mut House, at: Vec<Position>, amps: f64| {
        let id = BreakerId(house.breakers.len() as u64 + 1);
        house.breakers.put(Breaker::new(id, panel.id, at, Amps(amps)));
    };
    let half = |space, half| vec![Position { space, half }];
    for space in 1..=42_u16 {
        match space {
            1 | 2 => put(&mut house, vec![Position::whole(space), Position::whole(space + 2)], 50.0),
            13 | 18 => put(&mut house, vec![Position::whole(space), Position::whole(space + 2)], 30.0),
            3 | 4 | 15 | 20 | 9 | 24 | 37 => {}
            25..=30 => {
                put(&mut house, half(space, Half::Upper), 15.0);
                put(&mut house, half(space, Half::Lower), 15.0);
            }
            _ => put(&mut house, vec![Position::whole(space)], [15.0, 20.0][rng.random_range(0..2)]),
        }
    }
    let empty = [9, 24, 37].map(Position::whole).into();
    house.panels.put(Panel { empty, ..panel });
    house
}

/// Room in a full panel: every wish there is, each once.
fn arranging() {
    println!("\nRearranging a full panel of 42 spaces with tandems, in milliseconds:\n");
    println!("| what | wishes | median | p95 | most |\n|---|---|---|---|---|");
    for (name, supply) in [("split phase", Supply::SplitPhase), ("three phases", Supply::WyeThreePhase)] {
        let house = full_panel(supply);
        let panel = house.panels.iter().next().expect("a panel");
        let mut rng = ChaCha8Rng::seed_from_u64(7);
        let usual = house.breakers.iter().map(|b| (b.id, Amps(b.amps.0 * rng.random::<f64>()))).collect();
        let timed = |wishes: &[Wish]| {
            let start = Instant::now();
            let found = black_box(arrange(&house, panel, wishes, &usual, &BTreeSet::new(), &[]));
            (start.elapsed().as_secs_f64() * 1000.0, found)
        };
        let anywhere = (1..=3).map(|poles| Wish::Room { poles, at: None });
        let at = (1..=42).flat_map(|at| (1..=3).map(move |poles| Wish::Room { poles, at: Some(at) }));
        let mut times: Vec<f64> = anywhere.chain(at).map(|wish| timed(&[wish]).0).collect();
        times.sort_by(f64::total_cmp);
        let (of, p95) = (times.len(), times[times.len() * 95 / 100]);
        println!("| room, {name} | {of} | {:.1} | {p95:.1} | {:.1} |", times[of / 2], times[of - 1]);
        let (time, found) = timed(&[Wish::Balance]);
        let told = match found {
            Ok(Arranged::Possible(found)) => format!(
                "{} bodies, {:.1} A apart{}",
                found.bodies,
                found.imbalance.0,
                found.gap.map_or_else(String::new, |gap| format!(", at most {:.1} A nearer", gap.0))
            ),
            other => format!("{other:?}"),
        };
        println!("| even legs, {name} ({told}) | 1 | {time:.1} | | |");
    }
}

/// Whole plans of room in a panel of 42 spaces with none free: every wish there is, by moving and by up to four acts.
fn planning() {
    println!("\nRoom planned in a panel of 42 spaces with none free, in milliseconds:\n");
    println!("| what | plans | open | median | p95 | most |\n|---|---|---|---|---|---|");
    for (name, supply) in [("split phase", Supply::SplitPhase), ("three phases", Supply::WyeThreePhase)] {
        let mut house = full_panel(supply);
        let panel = house.panels.iter().next().expect("a panel").clone();
        for at in &panel.empty {
            let id = BreakerId(house.breakers.len() as u64 + 1);
            house.breakers.put(Breaker::new(id, panel.id, vec![*at], Amps(20.0)));
        }
        house.panels.put(Panel { empty: BTreeSet::new(), ..panel.clone() });
        let beliefs = beliefs(&house);
        let draws = draws(&house, &beliefs);
        let loaded = Loaded::new(&house, &beliefs, &draws);
        let basis = Basis::new(&house, &beliefs, &loaded);
        let anywhere = (1..=3).map(|poles| format!("{poles}p"));
        let at = (1..=42).flat_map(|at| (1..=3).map(move |poles| format!("{at}={poles}p")));
        let timed = |wish: String| {
            let (fixed, room) = (BTreeSet::new(), MakeRoom::default());
            let goal = Goal::Rearrange { panel: panel.id, wishes: vec![wish], fixed, room };
            let start = Instant::now();
            let open = black_box(plan(&basis, &goal)).is_ok_and(|plan| plan.is_open());
            (start.elapsed().as_secs_f64() * 1000.0, open)
        };
        let mut times: Vec<(f64, bool)> = anywhere.chain(at).map(timed).collect();
        times.sort_by(|a, b| a.0.total_cmp(&b.0));
        let (of, open) = (times.len(), times.iter().filter(|(_, open)| *open).count());
        let [median, p95, most] = [of / 2, of * 95 / 100, of - 1].map(|nth| times[nth].0);
        println!("| {name} | {of} | {open} | {median:.1} | {p95:.1} | {most:.1} |");
    }
}

fn main() {
    speed();
    arranging();
    planning();
}
