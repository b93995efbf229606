//! Planted faults: in houses of another model than the program's, one thing at a time is made wrong as a person would find it, and
//! just that is found. Each plant says what it is by the published article or by practice, and not by the program's rules.
//!
//! `WAYFINDER_FINDINGS=2000` plays as many houses as one likes and prints how many of each were found.

#![allow(clippy::unwrap_used, reason = "a test that cannot go on fails")]
#![allow(dead_code, reason = "the houses are those of the test of what is dead")]

#[path = "../dead/house.rs"]
mod house;
mod plants;
mod world;

use std::collections::{BTreeMap, BTreeSet};

use jiff::Timestamp;
use plants::{ALSO, BETTER, MAIN, PLANTS};
use rand::SeedableRng;
use rand::rngs::ChaCha8Rng;
use wayfinder_core::audit::{Finding, KnownHouse, audit, inspection};
use wayfinder_core::house::*;
use wayfinder_core::load::Loaded;
use wayfinder_core::load::draws::draws;
use wayfinder_core::rules::Severity;
use wayfinder_core::trace::beliefs;
use wayfinder_core::{Change, House};
use world::{World, right};

/// What is dangerous, or to be mended.
fn grave(house: &House) -> Vec<Finding> {
    found(house).into_iter().filter(|f| f.severity < Severity::Improve).collect()
}

fn found(house: &House) -> Vec<Finding> {
    let all = beliefs(house);
    let drawn = draws(house, &all);
    let known = KnownHouse { house, beliefs: &all, loaded: &Loaded::new(house, &all, &drawn), now: Timestamp::now() };
    audit(&known).findings
}

// A clean new house has nothing of danger and nothing to mend; every planted fault is found, and nothing else of that kind is said.
#[test]
fn every_planted_fault_is_found_and_nothing_else() {
    let asked = std::env::var("WAYFINDER_FINDINGS").ok().and_then(|n| n.parse().ok());
    let cases: usize = asked.unwrap_or(2 * PLANTS.len());
    let mut table: BTreeMap<&str, (usize, usize)> = BTreeMap::new();
    let mut wrong = Vec::new();
    for case in 0..cases {
        let seed = 60_000 + (case / PLANTS.len()) as u64;
        let (rule, source, plant) = PLANTS[case % PLANTS.len()];
        let mut world = World { made: right(seed), rng: ChaCha8Rng::seed_from_u64(case as u64) };
        if case % PLANTS.len() == 0 {
            let clean = grave(&world.made.house);
            assert!(clean.is_empty(), "house {seed} is right: {clean:#?}");
        }
        plant(&mut world);
        let found: BTreeSet<&str> = grave(&world.made.house).iter().map(|f| f.rule).collect();
        let row = table.entry(rule).or_default();
        *row = (row.0 + 1, row.1 + usize::from(found.contains(rule)));
        let also = ALSO.iter().find(|(of, _)| *of == rule).map_or(&[][..], |(_, also)| also);
        if !found.contains(rule) || found.iter().any(|one| *one != rule && !also.contains(one)) {
            wrong.push(format!("house {seed}, {rule} ({source}): found {found:?}"));
        }
    }
    if asked.is_some() {
        for (rule, (planted, found)) in &table {
            println!("{rule:18} {planted:5} planted {found:5} found");
        }
    }
    assert!(wrong.is_empty(), "{} of {cases}:\n{}", wrong.len(), wrong.join("\n"));
}

#[test]
fn what_is_worth_improving_is_found_where_it_was_planted() {
    for (nth, (rule, source, plant)) in BETTER.iter().enumerate() {
        for seed in 0..4 {
            let mut world = World { made: right(62_000 + seed), rng: ChaCha8Rng::seed_from_u64(seed) };
            // The made houses have labels of every sort, and what strays between them: the house itself has to be silent of it.
            for breaker in world.made.house.breakers.iter().map(|b| b.id).collect::<Vec<_>>() {
                world.put(breaker, |b| (b.label, b.device) = (String::new(), Device::Afci));
            }
            let before = found(&world.made.house).iter().filter(|f| f.rule == *rule).count();
            plant(&mut world);
            let after = found(&world.made.house).iter().filter(|f| f.rule == *rule).count();
            assert!(before == 0 && after > 0, "{nth}, house {seed}: {rule} ({source}): {before}, then {after}");
        }
    }
}

// Handbook 5.1, 6: whoever answers all as it is finds what is there, and is asked nothing twice.
#[test]
fn a_walk_finds_what_somebody_planted_in_plain_sight() {
    for seed in 0..6 {
        let mut world = World { made: right(61_000 + seed), rng: ChaCha8Rng::seed_from_u64(seed) };
        let broken = world.outlet();
        let mut asked = BTreeSet::new();
        let mut id = 0;
        while let Some(ask) = inspection(&world.made.house, false).open.into_iter().next() {
            assert!(asked.insert((ask.place.clone(), ask.said)), "asked twice: {ask:?}");
            let room = world.made.house.points.get(broken).unwrap().room;
            let (of, saw) = match ask.fact {
                AsFound::Water if ask.of == MAIN => (ask.of, Saw::Yes),
                AsFound::Broken if ask.of == Subject::Room(room) => (Subject::Point(broken), Saw::Yes),
                _ => (ask.of, ask.well),
            };
            id += 1;
            let says = Remarks::Looked { fact: ask.fact, saw };
            let (id, time) = (RemarkId(id), Timestamp::now());
            let remark = Remark { id, of, says, time, who: "Fern".into(), note: String::new() };
            world.made.house = world.made.house.apply(&Change::PutRemark { remark }).unwrap().house;
        }
        let found: BTreeSet<&str> = grave(&world.made.house).iter().map(|f| f.rule).collect();
        assert_eq!(found, ["wet-panel", "broken-plate"].into());
    }
}
