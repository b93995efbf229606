//! Work in a panel, planned on the command line.

use std::collections::BTreeSet;
use std::fmt::Write;
use std::process::ExitCode;

use clap::Args;
use wayfinder_core::job::arrange::{Arranged, Arrangement, Wish, arrange};

use super::files::Bad;
use super::measure::loaded;
use super::{Read, breaker, panel_called, print, print_json};

#[derive(Args)]
pub struct ArrangeArgs {
    #[command(flatten)]
    read: Read,
    /// Room to make: 1p, 2p, 3p, or 5=2p for room from space 5 down; or balance, for even legs. May be given again.
    #[arg(long = "for", required = true)]
    wishes: Vec<String>,
    /// The panel; otherwise the first.
    #[arg(long)]
    panel: Option<String>,
    /// Breakers that stay where they are, as 5-7 or Annex:3; several with commas.
    #[arg(long, value_delimiter = ',')]
    fixed: Vec<String>,
}

/// Ends with 1 where it is impossible.
pub fn show_arrangement(args: &ArrangeArgs) -> Result<ExitCode, Bad> {
    loaded(&args.read, |house, loaded| {
        let panel = panel_called(house, args.panel.as_deref())?;
        let bad = |e: wayfinder_core::Invalid| Bad::new(format!("--{}: {}", e.field, e.message));
        let wishes: Result<Vec<_>, _> = args.wishes.iter().map(|text| Wish::parse(text)).collect();
        let fixed: Result<BTreeSet<_>, _> = args.fixed.iter().map(|at| breaker(house, at, "--fixed")).collect();
        let usual = loaded.circuits().iter().map(|c| (c.breaker, c.usual)).collect();
        let found = arrange(house, panel, &wishes.map_err(bad)?, &usual, &fixed?, &[]).map_err(bad)?;
        let possible = matches!(found, Arranged::Possible(_));
        if args.read.json {
            print_json(&found)?;
        } else {
            print(&told(&found))?;
        }
        Ok(if possible { ExitCode::SUCCESS } else { ExitCode::from(1) })
    })
}

fn told(found: &Arranged) -> String {
    match found {
        Arranged::Impossible { impossible } => format!("Impossible by moving alone: {impossible}.\n"),
        Arranged::CutOff { cut_off } => format!("Not known: {cut_off}.\n"),
        Arranged::Possible(best) => {
            let other = best.other.as_ref().map_or_else(String::new, |o| format!("As good:\n{}", way(o)));
            format!("{}{other}", way(best))
        }
    }
}

fn way(found: &Arrangement) -> String {
    let mut out = String::new();
    for step in &found.moves {
        let _ = writeln!(out, "{}: {} to {}", step.panel, step.from, step.to);
    }
    let proven = match found.gap {
        _ if found.optimal => "nothing less is possible".to_owned(),
        Some(gap) => format!("they may come nearer by {:.1} A at the most", gap.0),
        None => "there may be something better".to_owned(),
    };
    let room = if found.room.is_empty() { String::new() } else { format!("Room at {}. ", found.room.join(" and ")) };
    let _ = writeln!(
        out,
        "{room}{} bodies, {} wires, {} rows; legs {:.1} A apart after; {proven}.",
        found.bodies, found.wires, found.rows, found.imbalance.0
    );
    out
}
