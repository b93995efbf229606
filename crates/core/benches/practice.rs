//! Ways of tracing played against each other in made houses. Run by `cargo xtask bench trace`, which writes the tables
//! into docs/benchmarks.md.
//!
//! Prints Markdown: means over the houses, with one standard error. Houses have seeds that development never used.

#![allow(clippy::print_stdout, reason = "a benchmark prints")]

use std::thread;

use wayfinder_core::house::{Crew, Pace};
use wayfinder_core::practice::{Costs, Manner, Score, Setting, World, play};

/// Houses of a row, unless the first argument says otherwise.
const HOUSES: u64 = 200;
/// The first house of the benchmark; development used seeds below.
const FIRST_SEED: u64 = 1_000_000;

fn mean(runs: &[Score], of: impl Fn(&Score) -> f64) -> f64 {
    runs.iter().map(of).sum::<f64>() / runs.len() as f64
}

fn error(runs: &[Score], of: impl Fn(&Score) -> f64) -> f64 {
    let middle = mean(runs, &of);
    (mean(runs, |o| (of(o) - middle).powi(2)) / runs.len() as f64).sqrt()
}

/// Plays in all houses, over the machine's cores.
fn all(houses: u64, setting: Setting, way: Manner, crew: &Crew, costs: Costs) -> Vec<Score> {
    let cores = thread::available_parallelism().map_or(1, |n| n.get() as u64);
    thread::scope(|scope| {
        let part = |core: u64| {
            scope.spawn(move || {
                let seeds = (FIRST_SEED..FIRST_SEED + houses).filter(|s| s % cores == core);
                seeds.map(|s| play(&World::new(setting, s), s, way, crew, costs)).collect::<Vec<_>>()
            })
        };
        let parts: Vec<_> = (0..cores).map(part).collect();
        parts.into_iter().filter_map(|p| p.join().ok()).flatten().collect()
    })
}

fn minutes(runs: &[Score]) -> String {
    format!("{:.1} ± {:.1}", mean(runs, |o| o.minutes), error(runs, |o| o.minutes))
}

fn wrong(runs: &[Score]) -> String {
    let share = |o: &Score| 100.0 * o.wrong / o.points;
    format!("{:.2} ± {:.2} %", mean(runs, share), error(runs, share))
}

fn crew(people: u8, pace: Pace) -> Crew {
    Crew { people, pace, ..Crew::default() }
}

fn ways(houses: u64) {
    println!("| breakers | way | alone, min | wrong | two people, min | wrong |\n|---|---|---|---|---|---|");
    let all_ways = [
        ("one at a time", Manner::OneAtATime),
        ("the same, confirmed", Manner::Confirmed),
        ("transmitter", Manner::Transmitter),
        ("halving code", Manner::Halving),
        ("**adaptive**", Manner::Adaptive),
    ];
    for breakers in [12, 20, 30, 42] {
        for (name, way) in all_ways {
            let [alone, two] = [1, 2]
                .map(|people| all(houses, Setting::usual(breakers), way, &crew(people, Pace::Fast), Costs::default()));
            println!(
                "| {breakers} | {name} | {} | {} | {} | {} |",
                minutes(&alone),
                wrong(&alone),
                minutes(&two),
                wrong(&two)
            );
        }
    }
}

fn adaptive(houses: u64, only: Option<&str>) {
    println!(
        "\n| 20 breakers, adaptive | people | min | walks or orders | looks | outages a circuit | most off | wrong |\n|---|---|---|---|---|---|---|---|"
    );
    let usual = Setting::usual(20);
    let entry = Costs { entry: 2.0, talk: 5.0, ..Costs::default() };
    let rows = [
        ("fast", usual, crew(1, Pace::Fast), Costs::default()),
        ("even (the default)", usual, crew(1, Pace::Even), Costs::default()),
        ("gentle", usual, crew(1, Pace::Gentle), Costs::default()),
        ("misreads twice as often", Setting { misread: 0.02, ..usual }, crew(1, Pace::Fast), Costs::default()),
        ("labels 30 % right", Setting { labels_right: 0.3, ..usual }, crew(1, Pace::Fast), Costs::default()),
        ("both", Setting { misread: 0.02, labels_right: 0.3, ..usual }, crew(1, Pace::Fast), Costs::default()),
        (
            "labels 20 % right, strays 50 %",
            Setting { labels_right: 0.2, stray: 0.5, ..usual },
            crew(1, Pace::Fast),
            Costs::default(),
        ),
        (
            "misreads 1.5 %, labels 45 % right, strays 22 %",
            Setting { misread: 0.015, labels_right: 0.45, stray: 0.22, ..usual },
            crew(1, Pace::Fast),
            Costs::default(),
        ),
        ("lasting misreads, devices, switched halves", Setting::hard(20), crew(1, Pace::Fast), Costs::default()),
        ("2 s to enter, 5 s to pass an order", usual, crew(1, Pace::Fast), entry),
        ("0.7 s to enter, 5 s to pass an order", usual, crew(1, Pace::Fast), Costs { entry: 0.7, ..entry }),
        ("a radio at hand", usual, Crew { radio: true, ..crew(1, Pace::Fast) }, Costs::default()),
        ("an energy monitor and a load", usual, Crew { monitor: true, ..crew(1, Pace::Fast) }, Costs::default()),
        ("the same, gentle", usual, Crew { monitor: true, ..crew(1, Pace::Gentle) }, Costs::default()),
        ("six lamps that stay", usual, Crew { testers: 6, ..crew(1, Pace::Fast) }, Costs::default()),
        ("twenty", usual, Crew { testers: 20, ..crew(1, Pace::Fast) }, Costs::default()),
        ("walking counts threefold", usual, Crew { walking: 3, ..crew(1, Pace::Fast) }, Costs::default()),
    ];
    for (name, setting, crew, costs) in
        rows.into_iter().filter(|(name, ..)| only.is_none_or(|only| name.contains(only)))
    {
        for people in [1, 2] {
            let runs = all(houses, setting, Manner::Adaptive, &Crew { people, ..crew.clone() }, costs);
            println!(
                "| {name} | {people} | {} | {:.0} | {:.0} | {:.2} | {:.1} | {} |",
                minutes(&runs),
                mean(&runs, |o| o.walks),
                mean(&runs, |o| o.looks),
                mean(&runs, |o| o.outages) / setting.breakers as f64,
                mean(&runs, |o| o.most_off),
                wrong(&runs)
            );
        }
    }
}

fn main() {
    let houses = std::env::args().find_map(|a| a.parse().ok()).unwrap_or(HOUSES);
    println!("Means of {houses} made houses, three points to a breaker, ± one standard error.\n");
    // Rows of the second table alone, by a part of their name.
    let only = std::env::args().skip(1).find(|a| a.parse::<u64>().is_err() && !a.starts_with("--"));
    if only.is_none() {
        ways(houses);
    }
    adaptive(houses, only.as_deref());
}
