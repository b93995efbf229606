//! Times `beliefs` and `advise` on houses of growing size, half traced. Run by `cargo xtask bench`.
//!
//! Prints the median and the slowest of a number of runs; the aim is 10 ms and 100 ms for the largest house.

#![allow(clippy::expect_used, reason = "a benchmark that cannot go on ends")]

use std::collections::BTreeSet;
use std::hint::black_box;
use std::time::Instant;

use jiff::Timestamp;
use wayfinder_core::House;
use wayfinder_core::base::position::Position;
use wayfinder_core::base::units::{Amps, NominalVolts};
use wayfinder_core::house::*;
use wayfinder_core::network::{On, Wired};
use wayfinder_core::trace::{Crew, advise, beliefs};

const RUNS: usize = 25;
const LABELS: [&str; 6] = ["kitchen", "hall lights", "", "bedroom outlets", "spare", "dryer"];

/// A house with `breakers` breakers and `points` points in ten rooms, each point looked at `looks` times.
fn house(breakers: u64, points: u64, looks: u64) -> House {
    let mut house = House::new("Bench");
    house.panels.put(Panel::new(PanelId(1), "Main", 42));
    for b in 1..=breakers {
        let space = u16::try_from(b).expect("few breakers");
        let label = LABELS[(b % 6) as usize].to_owned();
        let (at, amps) = (vec![Position::whole(space)], Amps(if b % 2 == 0 { 15.0 } else { 20.0 }));
        house.breakers.put(Breaker { label, ..Breaker::new(BreakerId(b), PanelId(1), at, amps) });
    }
    for r in 1..=10 {
        let name = ["Kitchen", "Hall", "Bedroom", "Bath", "Office"][(r % 5) as usize];
        house.rooms.put(Room::new(RoomId(r), format!("{name} {r}"), (r / 6 + 1).to_string()));
    }
    for p in 1..=points {
        let kind = if p % 3 == 0 { PointKind::Light } else { PointKind::Receptacle };
        let (id, room, volts) = (PointId(p), RoomId(p % 10 + 1), Some(NominalVolts::V120));
        house.points.put(Point { volts, ..Point::new(id, format!("P{p}"), room, kind) });
        for look in 0..looks {
            // An off-set of about a fifth, another at each look; the truth is `p` modulo the breakers.
            let is_off = |b: &u64| (b * 7 + look * 13).is_multiple_of(5);
            let off: BTreeSet<_> = (1..=breakers).filter(is_off).map(BreakerId).collect();
            let seen = if off.contains(&BreakerId(p % breakers + 1)) { Seen::Dead } else { Seen::Live };
            let observation = Observation::Power { off, seen, how: Way::Tester };
            let id = EvidenceId(p * 100 + look + 1);
            let time = Timestamp::UNIX_EPOCH;
            house.evidence.put(Evidence { id, point: PointId(p), time, who: "bench".into(), step: None, observation });
        }
    }
    house.check().expect("a possible house");
    house
}

/// Median and slowest of some runs, in milliseconds.
fn time(mut run: impl FnMut()) -> (f64, f64) {
    run();
    let mut times: Vec<f64> = (0..RUNS)
        .map(|_| {
            let start = Instant::now();
            run();
            start.elapsed().as_secs_f64() * 1000.0
        })
        .collect();
    times.sort_by(f64::total_cmp);
    (times[RUNS / 2], times[RUNS - 1])
}

fn main() {
    println!("milliseconds, median (slowest) of {RUNS} runs");
    println!(
        "{:>8} {:>7} {:>6}  {:>16} {:>16} {:>16}",
        "breakers", "points", "looks", "beliefs", "advise alone", "advise, two"
    );
    for (breakers, points, looks) in [(12, 36, 3), (20, 60, 3), (42, 126, 3), (42, 200, 0), (42, 200, 3), (42, 200, 10)]
    {
        let house = house(breakers, points, looks);
        let alone = Crew { transmitter: true, ..Crew::default() };
        let two = Crew { people: 2, ..alone.clone() };
        let cells = [
            time(|| drop(black_box(beliefs(black_box(&house))))),
            time(|| drop(black_box(advise(black_box(&house), &alone)))),
            time(|| drop(black_box(advise(black_box(&house), &two)))),
        ];
        let cells = cells.map(|(median, slowest)| format!("{median:.2} ({slowest:.2})"));
        println!("{breakers:>8} {points:>7} {looks:>6}  {:>16} {:>16} {:>16}", cells[0], cells[1], cells[2]);
    }
    let house = house(42, 200, 0);
    let draws = |b: &Breaker| On { breakers: vec![b.id], pole: 0, volts: NominalVolts::V120, amps: Amps(5.0) };
    let on: Vec<On> = house.breakers.iter().map(draws).collect();
    let (median, slowest) = time(|| drop(black_box(Wired::new(&house, &on, &[]))));
    println!("network of 42 circuits, all on: {median:.2} ({slowest:.2})");
}
