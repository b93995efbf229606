//! Times what is worked out of loads in a large house, and plays rounds of measuring in made houses: how near the draws come,
//! how often an overload is foretold. Run by `cargo xtask bench`.

#![allow(clippy::expect_used, reason = "a benchmark that cannot go on ends")]

use std::hint::black_box;
use std::time::Instant;

use wayfinder_core::load::draws::draws;
use wayfinder_core::load::next::{Kit, next};
use wayfinder_core::load::together::{Set, together};
use wayfinder_core::load::{Loaded, circuits, loads};
use wayfinder_core::practice::rounds::{Foretold, Furnished, Nearness};
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
    time("circuits, legs, doubts, once draws are known", || drop(black_box(loads(house, &beliefs, &draws))));
    let loaded = Loaded::new(house, &beliefs, &draws);
    let set =
        Set { on: loaded.all.iter().map(|d| d.thing).collect(), breaker: house.breakers.iter().next().map(|b| b.id) };
    time("may these run together", || drop(black_box(together(house, &loaded.hung, &loaded.all, &set))));
    let kit = Kit { clamp: true, plug_in: true, utility_meter: true, monitor: false };
    time("the next reading", || {
        let circuits = circuits::circuits(house, &loaded.hung, &loaded.all);
        drop(black_box(next(house, &loaded.hung, &loaded.all, &circuits, kit)));
    });
}

fn accuracy(houses: u64, breakers: usize) {
    let mut near = [Nearness { amps: 0.0, share: 0.0, within: 0.0 }; 3];
    let mut foretold = [Foretold::default(); 3];
    for seed in 0..houses {
        // Seeds that no test uses.
        let mut made = Furnished::new(breakers, 70_000 + seed);
        for round in 0..3 {
            if round > 0 {
                made.round(round as u64);
            }
            let (n, f) = (made.nearness(), made.foretold());
            let sum = &mut near[round];
            *sum = Nearness { amps: sum.amps + n.amps, share: sum.share + n.share, within: sum.within + n.within };
            let sum = &mut foretold[round];
            sum.right += f.right;
            sum.missed += f.missed;
            sum.false_alarms += f.false_alarms;
            sum.calm += f.calm;
        }
    }
    println!("\n{houses} made houses of {breakers} breakers:\n");
    println!(
        "| after | a draw is off by | within what is told | overloads foretold | of those foretold false | of calm circuits alarmed |"
    );
    println!("|---|---|---|---|---|---|");
    let n = houses as f64;
    for (round, name) in ["nameplates alone", "one clamp round", "two"].into_iter().enumerate() {
        let (a, f) = (near[round], foretold[round]);
        let share = |part: usize, of: usize| 100.0 * part as f64 / of.max(1) as f64;
        println!(
            "| {name} | {:.2} A, {:.0} % | {:.0} % | {:.0} % of {} | {:.0} % | {:.1} % |",
            a.amps / n,
            100.0 * a.share / n,
            100.0 * a.within / n,
            share(f.right, f.right + f.missed),
            f.right + f.missed,
            share(f.false_alarms, f.right + f.false_alarms),
            share(f.false_alarms, f.false_alarms + f.calm),
        );
    }
}

fn main() {
    speed();
    if std::env::args().all(|a| a != "speed") {
        accuracy(200, 20);
    }
}
