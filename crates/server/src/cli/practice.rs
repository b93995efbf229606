//! `wayfinder practice`.

use clap::{Args, ValueEnum};
use serde::Serialize;
use wayfinder_core::house::{Crew, Pace};
use wayfinder_core::practice::{Costs, Manner, Score, Setting, World, play};

use super::files::Bad;
use super::{print, print_json, word};

/// Plays whole tracings in made houses.
#[derive(Args)]
pub struct PracticeArgs {
    /// The first house's seed.
    #[arg(long, default_value_t = 1)]
    seed: u64,
    /// How many houses, with this seed and those after it.
    #[arg(long, default_value_t = 1)]
    houses: u64,
    /// Breakers of a house, 8 to 60.
    #[arg(long, default_value_t = 20)]
    breakers: usize,
    /// Points of a house; three to a breaker if not given.
    #[arg(long)]
    points: Option<usize>,
    /// 1 or 2.
    #[arg(long, default_value_t = 1)]
    people: u8,
    /// How it is traced.
    #[arg(long, value_enum, default_value_t = WayArg::Adaptive)]
    way: WayArg,
    /// How much outages matter: fast, even, gentle.
    #[arg(long, default_value = "fast", value_parser = word::<Pace>)]
    pace: Pace,
    /// Plug-in testers at hand, 1 to 20.
    #[arg(long, default_value_t = 1)]
    testers: u8,
    /// A radio is at hand, heard at the panel.
    #[arg(long)]
    radio: bool,
    /// An energy monitor watches every breaker, and a load is at hand.
    #[arg(long)]
    monitor: bool,
    /// Misleading lamps, ground-fault devices that have tripped, switched receptacles.
    #[arg(long)]
    hard: bool,
    /// How often a reading is wrong, 0 to 0.2.
    #[arg(long, default_value_t = 0.01)]
    misread: f64,
    /// How many of the old labels are right, 0 to 1.
    #[arg(long, default_value_t = 0.6)]
    labels: f64,
    /// Print JSON.
    #[arg(long)]
    json: bool,
}

#[derive(Debug, Clone, Copy, PartialEq, Eq, ValueEnum)]
enum WayArg {
    /// One breaker at a time, as people do it.
    OneAtATime,
    /// The same, everything confirmed once.
    Confirmed,
    /// A transmitter at each point, then a switch-off and a look around.
    Transmitter,
    /// A fixed halving code.
    Halving,
    /// What tells most a minute next.
    Adaptive,
}

#[derive(Serialize)]
struct Played {
    seed: u64,
    #[serde(flatten)]
    outcome: Score,
}

pub fn practice(args: &PracticeArgs) -> Result<(), Bad> {
    let points = args.points.unwrap_or(3 * args.breakers);
    let in_range = |name: &str, ok: bool, expected: &str| {
        if ok { Ok(()) } else { Err(Bad::new(format!("--{name}: expected {expected}"))) }
    };
    in_range("breakers", (8..=60).contains(&args.breakers), "8 to 60")?;
    in_range("points", points >= args.breakers && points <= 600, "at least one to a breaker, at most 600")?;
    in_range("people", (1..=2).contains(&args.people), "1 or 2")?;
    in_range("testers", (1..=20).contains(&args.testers), "1 to 20")?;
    in_range("houses", (1..=10_000).contains(&args.houses), "1 to 10000")?;
    in_range("misread", (0.0..=0.2).contains(&args.misread), "0 to 0.2")?;
    in_range("labels", (0.0..=1.0).contains(&args.labels), "0 to 1")?;
    let usual = if args.hard { Setting::hard(args.breakers) } else { Setting::usual(args.breakers) };
    let setting = Setting { points, misread: args.misread, labels_right: args.labels, ..usual };
    let PracticeArgs { people, testers, radio, monitor, pace, .. } = *args;
    let crew = Crew { people, testers, radio, monitor, pace, ..Crew::default() };
    let way = match args.way {
        WayArg::OneAtATime => Manner::OneAtATime,
        WayArg::Confirmed => Manner::Confirmed,
        WayArg::Transmitter => Manner::Transmitter,
        WayArg::Halving => Manner::Halving,
        WayArg::Adaptive => Manner::Adaptive,
    };
    let played: Vec<Played> = (args.seed..args.seed + args.houses)
        .map(|seed| Played { seed, outcome: play(&World::new(setting, seed), seed, way, &crew, Costs::default()) })
        .collect();
    if args.json { print_json(&played) } else { print(&table(&played)) }
}

fn table(played: &[Played]) -> String {
    let mut out = format!(
        "{:>6} {:>8} {:>6} {:>6} {:>8} {:>9} {:>6} {:>6}\n",
        "seed", "minutes", "walks", "looks", "outages", "most off", "wrong", "open"
    );
    let line = |name: String, of: &[Played]| {
        let mean = |f: fn(&Score) -> f64| of.iter().map(|p| f(&p.outcome)).sum::<f64>() / of.len() as f64;
        format!(
            "{name:>6} {:>8.1} {:>6.0} {:>6.0} {:>8.0} {:>9.0} {:>6.2} {:>6.2}\n",
            mean(|o| o.minutes),
            mean(|o| o.walks),
            mean(|o| o.looks),
            mean(|o| o.outages),
            mean(|o| o.most_off),
            mean(|o| o.wrong),
            mean(|o| o.open)
        )
    };
    for p in played {
        out += &line(p.seed.to_string(), std::slice::from_ref(p));
    }
    if played.len() > 1 {
        out += &line("mean".into(), played);
    }
    out
}
