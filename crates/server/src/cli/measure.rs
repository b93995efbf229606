//! Measuring on the command line: where the clamp goes and what it should show, what may run together, what to read next, and
//! what voltages say of a breaker and of a circuit.

use std::fmt::Write;

use clap::Args;
use wayfinder_core::House;
use wayfinder_core::base::units::{Amps, Volts};
use wayfinder_core::house::{LoadId, Round};
use wayfinder_core::load::drawing::{Drawn, called};
use wayfinder_core::load::draws::{draws, range_said};
use wayfinder_core::load::drop::{self, LoadedTest};
use wayfinder_core::load::next::{self, Kit};
use wayfinder_core::load::suspect::{self, BothSides, SideRead};
use wayfinder_core::load::together::{Set, together};
use wayfinder_core::load::{Loaded, round};
use wayfinder_core::trace::beliefs;

use super::files::{Bad, read_house};
use super::numbers;
use super::{Read, breaker, print, print_json};

/// A house with what is worked out of its loads.
pub fn loaded<T>(read: &Read, ask: impl FnOnce(&House, &Loaded<'_>) -> Result<T, Bad>) -> Result<T, Bad> {
    let house = read_house(&read.house)?;
    let beliefs = beliefs(&house);
    let draws = draws(&house, &beliefs);
    ask(&house, &Loaded::new(&house, &beliefs, &draws))
}

/// What `--on` names.
pub fn things(house: &House, on: &[String]) -> Result<Vec<Drawn>, Bad> {
    let things: Result<Vec<_>, _> = on.iter().map(|text| called(house, text)).collect();
    Ok(things.map_err(|e| Bad::new(format!("--on: {e}")))?.into_iter().flatten().collect())
}

#[derive(Args)]
pub struct TogetherArgs {
    #[command(flatten)]
    read: Read,
    /// What is to run at once: tags, names of loads, or K3:toaster; several with commas.
    #[arg(long, value_delimiter = ',', required = true)]
    on: Vec<String>,
    /// The circuit of which the largest sets are wanted, as 5-7 or Annex:3.
    #[arg(long)]
    circuit: Option<String>,
}

pub fn show_together(args: &TogetherArgs) -> Result<(), Bad> {
    loaded(&args.read, |house, loaded| {
        let circuit = args.circuit.as_ref().map(|text| breaker(house, text, "--circuit")).transpose()?;
        let set = Set { on: things(house, &args.on)?.into_iter().collect(), breaker: circuit };
        let told = together(house, &loaded.hung, &loaded.all, &set);
        if args.read.json {
            return print_json(&told);
        }
        let mut out = format!("{}.\n", told.said);
        for c in &told.circuits {
            let range = format!("{}, of {} A", range_said(c.amps, c.plus_minus), c.rating.0);
            let _ = writeln!(out, "{:<12} {:<6} {range}: {}", c.panel, c.at, c.holds.said);
        }
        let named = |thing: &Drawn| loaded.all.iter().find(|d| d.thing == *thing).map(|d| d.name.clone());
        for set in &told.sets {
            let _ =
                writeln!(out, "At once at the most: {}", set.iter().filter_map(named).collect::<Vec<_>>().join(" + "));
        }
        print(&out)
    })
}

#[derive(Args)]
pub struct NextArgs {
    #[command(flatten)]
    read: Read,
    /// A clamp is at hand, and a qualified person who takes the cover off.
    #[arg(long)]
    clamp: bool,
    /// A meter between plug and receptacle is at hand.
    #[arg(long)]
    plug_in: bool,
    /// The utility's meter can be read.
    #[arg(long)]
    utility_meter: bool,
    /// An energy monitor watches every breaker.
    #[arg(long)]
    monitor: bool,
}

pub fn show_next(args: &NextArgs) -> Result<(), Bad> {
    let NextArgs { read, clamp, plug_in, utility_meter, monitor } = args;
    let kit = Kit { clamp: *clamp, plug_in: *plug_in, utility_meter: *utility_meter, monitor: *monitor };
    if kit == Kit::default() {
        return Err(Bad::new("say with what: --clamp, --plug-in, --utility-meter or --monitor"));
    }
    loaded(read, |house, loaded| {
        let all = next::next(house, loaded, kit);
        if read.json {
            return print_json(&all);
        }
        let line = |n: &next::NextReading| format!("{} ({:.0} min; {})\n", n.action, n.minutes, n.why);
        print(&all.iter().map(line).collect::<String>())
    })
}

#[derive(Args)]
pub struct RoundArgs {
    #[command(flatten)]
    read: Read,
    /// What is on: tags, names of loads, or K3:toaster; several with commas. Otherwise all.
    #[arg(long, value_delimiter = ',')]
    on: Vec<String>,
}

/// The places of a round of measuring, in panel order, with what is expected at each: to be taken along on paper.
pub fn show_round(args: &RoundArgs) -> Result<(), Bad> {
    loaded(&args.read, |house, loaded| {
        let of_things = |thing: Drawn| if let Drawn::Load(load) = thing { Some(load) } else { None };
        let on = match args.on.is_empty() {
            true => house.loads.iter().map(|l| l.id).collect(),
            false => things(house, &args.on)?
                .into_iter()
                .filter_map(of_things)
                .collect::<std::collections::BTreeSet<LoadId>>(),
        };
        let places = round::places(house, loaded, &Round { on, ..Round::default() });
        if args.read.json {
            return print_json(&places);
        }
        let mut out = String::new();
        for place in &places {
            let _ = writeln!(out, "{:<12} {:<26} {}", place.panel, place.said, place.expected_said);
        }
        print(&out)
    })
}

#[derive(Args)]
pub struct SuspectArgs {
    #[command(flatten)]
    read: Read,
    /// The breaker, as 5-7 or Annex:3.
    at: String,
    /// Volts on the side of the bus, on and under load: each pole to neutral, and across two: 121,120,241.
    #[arg(long, value_parser = numbers::volts, value_delimiter = ',')]
    bus: Vec<f64>,
    /// The same on the side of the circuit.
    #[arg(long, value_parser = numbers::volts, value_delimiter = ',')]
    load: Vec<f64>,
}

pub fn show_suspect(args: &SuspectArgs) -> Result<(), Bad> {
    let house = read_house(&args.read.house)?;
    let at = breaker(&house, &args.at, "AT")?;
    let found = house.breakers.get(at).and_then(|b| Some((b, house.panels.get(b.panel)?)));
    let (of, panel) = found.ok_or_else(|| Bad::new("AT: this breaker stands in no panel"))?;
    let poles = of.at.len();
    let side = |volts: &[f64]| SideRead {
        to_neutral: (0..poles).map(|pole| volts.get(pole).copied().map(Volts)).collect(),
        across: volts.get(poles).copied().map(Volts),
    };
    let read = BothSides { bus: side(&args.bus), load: side(&args.load) };
    let verdict =
        suspect::judge(panel.supply, poles, &read).map_err(|e| Bad::new(format!("--{}: {}", e.field, e.message)))?;
    if args.read.json {
        return print_json(&verdict);
    }
    let pole = verdict.pole.and_then(|p| of.at.get(p - 1)).map_or_else(String::new, |p| format!(" (pole {p})"));
    print(&format!("{}\n{}{pole}\n{}\n", verdict.who, verdict.said, verdict.steps.join("\n")))
}

#[derive(Args)]
pub struct LoadedTestArgs {
    #[command(flatten)]
    read: Read,
    /// The breaker of the circuit, as 5-7 or Annex:3.
    at: String,
    /// Volts at the place without load.
    #[arg(long, value_parser = numbers::volts)]
    without: f64,
    /// Volts at the same place with it.
    #[arg(long, value_parser = numbers::volts)]
    with: f64,
    /// What the load draws, in amperes: 8 to 15 tell most.
    #[arg(long, value_parser = numbers::amps)]
    amps: f64,
}

pub fn show_loaded_test(args: &LoadedTestArgs) -> Result<(), Bad> {
    let house = read_house(&args.read.house)?;
    let circuits = house.circuits_of(breaker(&house, &args.at, "AT")?);
    let test = LoadedTest { without: Volts(args.without), with: Volts(args.with), amps: Amps(args.amps) };
    let verdict =
        drop::judge(circuits.first().copied(), &test).map_err(|e| Bad::new(format!("--{}: {}", e.field, e.message)))?;
    if args.read.json { print_json(&verdict) } else { print(&format!("{}\n", verdict.said)) }
}
