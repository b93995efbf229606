//! What things draw, what circuits and legs carry, and whether there is room, on the command line.

use std::fmt::Write;

use clap::Args;
use wayfinder_core::base::Said;
use wayfinder_core::load::expect::{Expected, expect, flaw};
use wayfinder_core::load::service::{self, Added, LoadMethod, Sheet};
use wayfinder_core::load::{Loads, loads};
use wayfinder_core::trace::beliefs;

use super::files::{Bad, read_house};
use super::measure::{loaded, things};
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
    loaded(&args.read, |house, loaded| {
        let flaws: Result<Vec<_>, _> = args.fault.iter().map(|text| flaw(house, text)).collect();
        let flaws = flaws.map_err(|e| Bad::new(format!("--fault: {e}")))?;
        let expected = expect(house, loaded, &things(house, &args.on)?, &flaws);
        if args.read.json { print_json(&expected) } else { print(&told(&expected)) }
    })
}

pub fn show_loads(read: &Read) -> Result<(), Bad> {
    loaded(read, |_, loaded| {
        let loads = loads(loaded);
        if read.json { print_json(&loads) } else { print(&carried(&loads)) }
    })
}

fn carried(loads: &Loads) -> String {
    let mut out = String::new();
    for d in &loads.loads {
        let _ = writeln!(out, "{:<6} {:<24} {} ({})", d.point, d.name, d.said, d.rests_on.join("; "));
    }
    if loads.loads.is_empty() {
        out += "No loads are entered yet: loads.csv, or the form of a point\n";
    }
    for c in loads.circuits.iter().filter(|c| !c.things.is_empty()) {
        let amps = format!("base {:.1}, usual {:.1}, worst {:.1} of {} A", c.base.0, c.usual.0, c.worst.0, c.rating.0);
        let read = c.measured.map_or_else(String::new, |m| format!(", read {:.1} A", m.amps.0));
        let _ = writeln!(out, "{:<12} {:<6} {amps}{read}. {}", c.panel, c.at, c.said);
    }
    for p in &loads.legs {
        let legs: Vec<_> = p.each.iter().map(|l| format!("{} {:.0} A", l.leg.said(), l.usual.0)).collect();
        let _ = writeln!(
            out,
            "{:<12} {}, neutral {:.0} A at the usual peak. {}",
            p.panel,
            legs.join(", "),
            p.neutral.0,
            p.said
        );
        p.moves.iter().for_each(|m| {
            let _ = writeln!(out, "{:<12} {}", "", m.said);
        });
    }
    for misfit in &loads.misfits {
        let _ = writeln!(out, "Does not fit: {}", misfit.said);
    }
    out
}

#[derive(Args)]
pub struct ServiceArgs {
    #[command(flatten)]
    read: Read,
    /// standard, optional, existing, existing-added, record or canada; otherwise all that apply.
    #[arg(long)]
    method: Option<String>,
    /// What is to be added: 40@240, 16@240,continuous or 32@240,car-charger; may be given again.
    #[arg(long)]
    add: Vec<String>,
}

pub fn show_service(args: &ServiceArgs) -> Result<(), Bad> {
    let house = read_house(&args.read.house)?;
    let added: Result<Vec<_>, _> = args.add.iter().map(|text| Added::parse(text)).collect();
    let added = added.map_err(|e| Bad::new(format!("--add: {}", e.message)))?;
    let hangs = beliefs(&house).hangs();
    let Some(name) = &args.method else {
        let answers = service::answers(&house, &hangs, &added);
        if args.read.json {
            return print_json(&answers);
        }
        let said = |a: &service::MethodAnswer| match (a.then.as_ref().or(a.now.as_ref()), &a.missing) {
            (Some(sheet), _) => worksheet(sheet),
            (None, missing) => format!("{}\n  not reckoned: {}\n", a.title, missing.as_deref().unwrap_or_default()),
        };
        return print(&answers.iter().map(said).collect::<Vec<_>>().join("\n"));
    };
    let method: LoadMethod = serde_json::from_value(serde_json::Value::String(name.clone())).map_err(|_| {
        Bad::new(format!(
            "--method: \"{name}\" is none of standard, optional, existing, existing-added, record, canada"
        ))
    })?;
    let sheet =
        service::sheet(&house, &hangs, method, &added).map_err(|e| Bad::new(format!("{}: {}", e.field, e.message)))?;
    if args.read.json { print_json(&sheet) } else { print(&worksheet(&sheet)) }
}

fn worksheet(sheet: &Sheet) -> String {
    let mut out = format!("{}\n", sheet.title);
    for line in &sheet.lines {
        let _ = writeln!(out, "  {:>8.0} VA  {} [{}]", line.va.0, line.what, line.source);
    }
    let neutral = sheet.neutral_amps.map_or_else(String::new, |n| format!(", neutral {:.1} A", n.0));
    let _ = writeln!(out, "  {:>8.0} VA  = {:.1} A{neutral}", sheet.va.0, sheet.amps.0);
    let _ = writeln!(out, "  {}", sheet.said);
    sheet.notes.iter().for_each(|note| {
        let _ = writeln!(out, "  {note}.");
    });
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
