//! What is wrong in a house, and what is worth finding out.

use std::fmt::Write;
use std::path::{Path, PathBuf};
use std::process::ExitCode;

use clap::Args;
use jiff::{Timestamp, Zoned};
use wayfinder_core::House;
use wayfinder_core::audit::{Audit, Finding, KnownHouse, audit, inspection};
use wayfinder_core::base::Said;
use wayfinder_core::load::Loaded;
use wayfinder_core::load::draws::draws;
use wayfinder_core::rules::{Rests, Severity};
use wayfinder_core::trace::beliefs;

use wayfinder_formats::draw::Kind;
use wayfinder_formats::findings::{self, Reported};

use super::files::{Bad, read_house, write_out};
use super::{Read, print, print_json};
use crate::cli::print::severity;

#[derive(Args)]
pub struct AuditArgs {
    #[command(flatten)]
    read: Read,
    /// Write a report instead: a PDF, or a CSV table.
    #[arg(short, long)]
    output: Option<PathBuf>,
}

/// What is wrong; the exit code says whether something is dangerous or to be mended.
pub fn show_audit(args: &AuditArgs) -> Result<ExitCode, Bad> {
    let read = &args.read;
    let house = read_house(&read.house)?;
    let beliefs = beliefs(&house);
    let draws = draws(&house, &beliefs);
    let loaded = Loaded::new(&house, &beliefs, &draws);
    let found = audit(&KnownHouse { house: &house, beliefs: &beliefs, loaded: &loaded, now: Timestamp::now() });
    match &args.output {
        Some(path) => write_out(path, &written(&house, &found, path)?)?,
        None if read.json => print_json(&found)?,
        None => print(&told(&found))?,
    }
    let clean = found.findings.iter().all(|f| f.severity == Severity::Improve);
    Ok(if clean { ExitCode::SUCCESS } else { ExitCode::from(1) })
}

fn written(house: &House, found: &Audit, path: &Path) -> Result<Vec<u8>, Bad> {
    match path.extension().and_then(|e| e.to_str()) {
        Some("csv") => Ok(findings::csv(found).map_err(Bad::new)?.into_bytes()),
        Some("pdf") => {
            let date = Some(Zoned::now().date());
            let (inspection, beliefs) = (inspection(house, true), beliefs(house));
            // A house file has no pictures in it.
            let picture = |_: &str| None;
            let of =
                Reported { house, beliefs: &beliefs, audit: found, inspection: &inspection, picture: &picture, date };
            findings::report(&of).put_out(Kind::Pdf).map_err(Bad::new)
        }
        _ => Err(Bad::new("--output: a name that ends in .pdf or .csv")),
    }
}

fn told(found: &Audit) -> String {
    let mut out = format!("{}\n", found.said);
    let mut list = |head: &str, all: &[Finding]| {
        if !all.is_empty() {
            let _ = write!(out, "{head}");
        }
        for f in all {
            let rests = if f.rests == Rests::Likely { ", likely" } else { "" };
            let _ = writeln!(out, "{:<7} {}: {}{rests} ({})", severity(f.severity), f.place, f.why, f.source);
            let job = f.job.map_or_else(String::new, |job| format!(" (wayfinder job {job})"));
            let takes = f.takes.as_ref().map_or_else(String::new, |takes| format!("; {takes}"));
            let _ = writeln!(out, "        {}: {}{job}{takes}", f.who.said(), f.cure);
            if let Some(cause) = &f.cause {
                let _ = writeln!(out, "        it may come from {cause}");
            }
            if let Some(decided) = f.decided.as_ref().filter(|d| !d.note.is_empty()) {
                let _ = writeln!(out, "        {}: {}", decided.who, decided.note);
            }
        }
    };
    list("", &found.findings);
    list("Put off:\n", &found.later);
    list("Not so:\n", &found.not_so);
    if !found.unknown.is_empty() {
        out += "Worth finding out:\n";
    }
    for unknown in &found.unknown {
        let _ = writeln!(out, "unknown {}: {}", unknown.what, unknown.check);
    }
    out
}

#[derive(Args)]
pub struct InspectionArgs {
    #[command(flatten)]
    read: Read,
    /// Whoever looks may take a cover off.
    #[arg(long)]
    qualified: bool,
}

/// What nobody looked at yet.
pub fn show_inspection(args: &InspectionArgs) -> Result<(), Bad> {
    let told = inspection(&read_house(&args.read.house)?, args.qualified);
    if args.read.json {
        return print_json(&told);
    }
    let mut out = format!(
        "{} of {} looked at, about {:.0} min to go\n",
        told.asked.len(),
        told.asked.len() + told.open.len(),
        told.seconds.0 / 60.0
    );
    for ask in &told.open {
        let _ = writeln!(out, "{:<7} {}: {}", severity(ask.severity), ask.place, ask.said);
    }
    print(&out)
}
