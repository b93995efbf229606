//! Draws of made households of another model than the estimate's, measured by people who err: what is told of each holds, readings that
//! are wrong are found, and who is innocent is left alone.
//!
//! `WAYFINDER_DRAWS=60` measures as many households as one likes and prints the table of docs/benchmarks.md.

#![allow(clippy::unwrap_used, reason = "a test that cannot go on fails")]

mod lived;

use std::collections::{BTreeMap, BTreeSet};

use wayfinder_core::house::{BreakerId, LoadId, ReadingId};
use wayfinder_core::load::Loaded;
use wayfinder_core::load::drawing::Drawn;
use wayfinder_core::load::draws::{Draws, draws};
use wayfinder_core::load::together::{Set, together};
use wayfinder_core::practice::home::{MadeHome, Slip};
use wayfinder_core::trace::beliefs;

/// How many households, and whether somebody looks at the table.
fn households(usual: u64) -> (u64, bool) {
    let asked = std::env::var("WAYFINDER_DRAWS").ok().and_then(|n| n.parse().ok());
    (asked.unwrap_or(usual), asked.is_some())
}

fn told(made: &MadeHome) -> Draws {
    draws(&made.house, &beliefs(&made.house))
}

#[derive(Default, Clone, Copy)]
struct Near {
    things: f64,
    within: f64,
    off: f64,
    drawn: f64,
}

impl Near {
    fn add(&mut self, off: f64, within: bool, drawn: f64) {
        self.things += 1.0;
        self.within += f64::from(u8::from(within));
        self.off += off;
        self.drawn += drawn;
    }

    fn within(&self) -> f64 {
        100.0 * self.within / self.things.max(1.0)
    }

    fn share(&self) -> f64 {
        100.0 * self.off / self.drawn.max(1e-9)
    }
}

fn nearness(made: &MadeHome, of: &mut BTreeMap<&'static str, Near>) {
    for draw in told(made).loads {
        let real = made.real[&draw.load];
        let off = (draw.amps.0 - real.amps).abs();
        for row in [real.family, "all"] {
            of.entry(row).or_default().add(off, off <= draw.plus_minus.0, real.amps);
        }
    }
}

// Handbook 3.2: what is told of a draw holds nineteen times of twenty, whatever it is of; readings bring it nearer.
#[test]
fn what_is_told_of_a_draw_holds() {
    let (count, shown) = households(12);
    let mut tables: Vec<(&str, BTreeMap<&str, Near>)> =
        ["plates", "one round", "two", "five"].map(|after| (after, BTreeMap::new())).into();
    for seed in 0..count {
        let mut made = MadeHome::new(seed, 1.0);
        nearness(&made, &mut tables[0].1);
        made.round(0.9, None);
        nearness(&made, &mut tables[1].1);
        made.round(0.5, None);
        nearness(&made, &mut tables[2].1);
        (0..3).for_each(|_| made.round(0.5, None));
        nearness(&made, &mut tables[3].1);
    }
    for (after, table) in &tables {
        for (family, near) in table.iter().filter(|_| shown) {
            println!(
                "{after:9} {family:15} {:5} things, {:3.0} % within, off by {:4.1} %",
                near.things,
                near.within(),
                near.share()
            );
        }
    }
    let (first, last) = (&tables[0].1["all"], &tables[2].1["all"]);
    assert!(last.share() < first.share(), "readings bring it nearer");
    for (after, table) in &tables {
        assert!(table["all"].within() >= 90.0, "{after}: {:.0} % within", table["all"].within());
    }
}

/// Slips found, and honest readings blamed.
#[derive(Default, Clone, Copy)]
struct Found {
    slips: usize,
    found: usize,
    named: usize,
    honest: usize,
    blamed: usize,
}

fn slips(slip: Slip, count: u64) -> Found {
    use wayfinder_core::load::misfit::Happened;
    let mut all = Found::default();
    for seed in 0..count {
        let mut made = MadeHome::new(1000 + seed, 1.0);
        made.round(0.9, Some((slip, 0.08)));
        (0..3).for_each(|_| made.round(0.6, Some((slip, 0.08))));
        let told = told(&made);
        let blamed: BTreeMap<ReadingId, _> = told.misfits.iter().map(|m| (m.reading, m)).collect();
        for reading in made.house.readings.iter() {
            match (made.slips.get(&reading.id), blamed.get(&reading.id)) {
                (Some(_), found) => {
                    all.slips += 1;
                    all.found += usize::from(found.is_some());
                    let named = |h: &Happened| match slip {
                        Slip::TenTimes | Slip::ATenth => matches!(h, Happened::Tenfold { .. }),
                        Slip::Forgotten => matches!(h, Happened::WasOn { .. }),
                        Slip::WasOff => matches!(h, Happened::WasOff { .. }),
                        Slip::WrongCircuit => matches!(h, Happened::Elsewhere { .. }),
                    };
                    all.named += usize::from(found.is_some_and(|m| m.causes.iter().any(|c| named(&c.happened))));
                }
                (None, found) => {
                    all.honest += 1;
                    all.blamed += usize::from(found.is_some());
                }
            }
        }
    }
    all
}

// Whoever reads ten times too much, forgets, notes what was off or takes another circuit is found, and nobody else is blamed.
#[test]
fn readings_that_are_wrong_are_found_and_the_innocent_left_alone() {
    let (count, shown) = households(10);
    let mut all = Vec::new();
    for slip in [Slip::TenTimes, Slip::ATenth, Slip::Forgotten, Slip::WasOff, Slip::WrongCircuit] {
        let of = slips(slip, count);
        if shown {
            println!(
                "{slip:?}: {} of {} found, {} with what happened; {} of {} honest ones blamed",
                of.found, of.slips, of.named, of.blamed, of.honest
            );
        }
        all.push((slip, of));
    }
    for (slip, of) in all {
        let share = of.found as f64 / of.slips.max(1) as f64;
        let least = if matches!(slip, Slip::TenTimes | Slip::ATenth) { 0.9 } else { 0.6 };
        assert!(share >= least, "{slip:?}: {} of {}", of.found, of.slips);
        assert!(of.blamed as f64 <= 0.05 * of.honest as f64, "{slip:?}: {} of {} blamed", of.blamed, of.honest);
    }
}

// What nobody traced takes part where it likely hangs: readings bring such houses nearer too.
#[test]
fn readings_help_where_half_of_it_was_never_traced() {
    let (count, shown) = households(12);
    let mut tables = [BTreeMap::new(), BTreeMap::new()];
    for seed in 0..count {
        let mut made = MadeHome::new(2000 + seed, 0.5);
        nearness(&made, &mut tables[0]);
        made.round(0.9, None);
        made.round(0.5, None);
        nearness(&made, &mut tables[1]);
    }
    let [before, after] = tables.map(|table| table["all"]);
    if shown {
        println!("half traced: {:.1} % off by plates, {:.1} % after two rounds", before.share(), after.share());
        println!("half traced: {:.0} % within by plates, {:.0} % after two rounds", before.within(), after.within());
    }
    assert!(after.share() < before.share(), "{:.1} then {:.1}", before.share(), after.share());
}

/// What was asked and answered of things to run at once.
#[derive(Default, Debug)]
struct Asked {
    yes: usize,
    no: usize,
    not_sure: usize,
    /// A yes where the breaker would carry more than its rating.
    dangerous: usize,
    /// A no where it would hold.
    needless: usize,
}

fn ask(made: &MadeHome, breaker: BreakerId, on: BTreeSet<LoadId>, asked: &mut Asked) {
    let all = beliefs(&made.house);
    let drawn = draws(&made.house, &all);
    let loaded = Loaded::new(&made.house, &all, &drawn);
    let set = Set { on: on.iter().map(|load| Drawn::Load(*load)).collect(), breaker: None };
    let told = together(&made.house, &loaded.hung, &loaded.all, &set);
    let real: f64 = on.iter().map(|load| made.real[load].amps).sum();
    let rating = made.house.breakers.get(breaker).unwrap().amps.0;
    let over = real > rating * 1.001;
    if told.said.starts_with("Yes") {
        asked.yes += 1;
        asked.dangerous += usize::from(over);
    } else if told.said.starts_with("No:") {
        asked.no += 1;
        asked.needless += usize::from(!over);
    } else {
        asked.not_sure += 1;
    }
}

// Handbook 3.3, 3.4: nobody is told that he may run what a breaker does not carry, whatever was read, and by whom.
#[test]
fn a_yes_is_never_dangerous() {
    let (count, shown) = households(4);
    for (how, rounds, slip) in [
        ("plates alone", 0, None),
        ("two rounds", 2, None),
        ("four rounds, one reading in twelve of something that was off", 4, Some((Slip::WasOff, 0.08))),
        ("four rounds, one in twelve a tenth", 4, Some((Slip::ATenth, 0.08))),
    ] {
        let mut asked = Asked::default();
        for seed in 0..count {
            let mut made = MadeHome::new(3000 + seed, 1.0);
            (0..rounds).for_each(|_| made.round(0.7, slip));
            let breakers: Vec<BreakerId> = made.house.breakers.iter().map(|b| b.id).collect();
            for breaker in breakers {
                let here = made.on(breaker);
                for nth in 0..here.len().min(4) {
                    ask(&made, breaker, here.iter().copied().skip(nth).collect(), &mut asked);
                }
            }
        }
        if shown {
            println!("{how}: {asked:?}");
        }
        assert_eq!(asked.dangerous, 0, "{how}: {asked:?}");
        assert!(asked.yes > 0 && asked.needless <= asked.no / 3, "{how}: {asked:?}");
    }
}
