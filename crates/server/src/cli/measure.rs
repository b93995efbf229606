//! What is measured and what things draw, on the command line.

use std::fmt::Write;

use clap::Args;
use wayfinder_core::load::draws::{Draws, draws};
use wayfinder_core::load::expect::{Expected, expect, flaw, thing};
use wayfinder_core::trace::beliefs;

use super::files::{Bad, read_house};
use super::{Read, print, print_json};

#[derive(Args)]
pub struct ExpectArgs {
    #[command(flatten)]
    read: Read,
    /// What is on: tags, names of loads, or K3:toaster; several with commas.
    #[arg(long, value_delimiter = ',')]
    on: Vec<String>,
    /// What is wrong: open-neutral@main, lost-leg-a@main, bad-contact=0.5@5, short=0.2@5, tied@5+7; may be given again.
    #[arg(long)]
    fault: Vec<String>,
}

pub fn show_expected(args: &ExpectArgs) -> Result<(), Bad> {
    let house = read_house(&args.read.house)?;
    let things: Result<Vec<_>, _> = args.on.iter().map(|text| thing(&house, text)).collect();
    let things: Vec<_> = things.map_err(|e| Bad::new(format!("--on: {e}")))?.into_iter().flatten().collect();
    let flaws: Result<Vec<_>, _> = args.fault.iter().map(|text| flaw(&house, text)).collect();
    let flaws = flaws.map_err(|e| Bad::new(format!("--fault: {e}")))?;
    let expected = expect(&house, &beliefs(&house), &things, &flaws);
    if args.read.json { print_json(&expected) } else { print(&told(&expected)) }
}

pub fn show_loads(read: &Read) -> Result<(), Bad> {
    let house = read_house(&read.house)?;
    let draws = draws(&house, &beliefs(&house));
    if read.json { print_json(&draws) } else { print(&drawn(&draws)) }
}

fn drawn(draws: &Draws) -> String {
    let mut out = String::new();
    for d in &draws.loads {
        let _ = writeln!(out, "{:<6} {:<24} {} ({})", d.point, d.name, d.said, d.rests_on.join("; "));
    }
    for misfit in &draws.misfits {
        let _ = writeln!(out, "Does not fit: {}", misfit.said);
    }
    if draws.loads.is_empty() {
        out += "No loads are entered yet: loads.csv, or the form of a point\n";
    }
    out
}

fn told(expected: &Expected) -> String {
    let mut out = String::new();
    for left_out in &expected.left_out {
        let _ = writeln!(out, "Left out: {left_out}");
    }
    if !expected.unproven.is_empty() {
        let _ = writeln!(out, "Believed, not proven, to hang where it is put: {}", expected.unproven.join(" "));
    }
    for v in &expected.volts {
        let _ = writeln!(out, "{:<12} {:<4} {:>7.1} V", v.panel, v.between, v.volts.0);
    }
    for feed in &expected.feeds {
        let legs: Vec<_> = ["A", "B", "C"].iter().zip(&feed.legs).map(|(n, a)| format!("{n} {:.1} A", a.0)).collect();
        let _ = writeln!(out, "{:<12} comes in: {}, neutral {:.1} A", feed.panel, legs.join(", "), feed.neutral.0);
    }
    for a in &expected.amps {
        let _ = writeln!(out, "{:<12} {:<6} {:>5.1} A", a.panel, a.at, a.amps.0);
    }
    out
}
