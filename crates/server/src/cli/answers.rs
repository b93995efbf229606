//! The answers on the command line.

use std::fmt::Write;
use std::path::{Path, PathBuf};

use clap::Args;
use jiff::{Timestamp, Zoned};
use wayfinder_core::House;
use wayfinder_core::answers::diagnose::{Complaint, Diagnosis, Sign, diagnose};
use wayfinder_core::answers::find::{Found, find};
use wayfinder_core::answers::shutdown::{Shutdown, Target, plan};
use wayfinder_core::answers::today::{Matter, today};
use wayfinder_core::answers::upkeep;
use wayfinder_core::base::Said;
use wayfinder_core::house::PointId;
use wayfinder_core::load::Loaded;
use wayfinder_core::load::draws::draws;
use wayfinder_core::trace::{Status, Tracker, beliefs};
use wayfinder_core::view::floor as floors;
use wayfinder_formats::plan::Scale;
use wayfinder_formats::{draw, logbook, plan as plan_drawing, reminders, survey};

use super::files::{Bad, read_house, write_out};
use super::{Read, breaker, panel_called, print, print_json};

#[derive(Args)]
pub struct FindArgs {
    #[command(flatten)]
    read: Read,
    /// Some words: a tag, a thing, a room, a breaker, a label.
    words: Vec<String>,
}

#[derive(Args)]
pub struct OffArgs {
    #[command(flatten)]
    read: Read,
    /// Tags of the points to work on.
    points: Vec<String>,
    /// Work on all that this breaker feeds: 5-7, or Annex:3.
    #[arg(long, conflicts_with = "points")]
    circuit: Option<String>,
    /// Work in this panel.
    #[arg(long, conflicts_with_all = ["points", "circuit"])]
    panel: Option<String>,
}

#[derive(Args)]
pub struct DeadArgs {
    #[command(flatten)]
    read: Read,
    /// Tags of what is dead.
    #[arg(required = true)]
    dead: Vec<String>,
    /// Tags of what still works: K1,K2
    #[arg(long, value_delimiter = ',')]
    working: Vec<String>,
    /// Some lights are brighter than usual, others dim.
    #[arg(long)]
    bright_and_dim: bool,
}

#[derive(Args)]
pub struct PlanArgs {
    /// The house file.
    house: PathBuf,
    /// The floor; otherwise the first.
    #[arg(long)]
    floor: Option<String>,
    /// 1/4in (1:48), 1:50 or fit (a letter sheet).
    #[arg(long, default_value = "fit")]
    scale: Scale,
    /// The file to write: .svg, .pdf or .png.
    #[arg(short, long)]
    output: PathBuf,
}

fn tagged(house: &House, tags: &[String]) -> Result<std::collections::BTreeSet<PointId>, Bad> {
    let point = |tag: &String| {
        house.point_tagged(tag).map(|p| p.id).ok_or_else(|| Bad::new(format!("there is no point {tag}")))
    };
    tags.iter().map(point).collect()
}

pub fn show_find(args: &FindArgs) -> Result<(), Bad> {
    let house = read_house(&args.read.house)?;
    let hits = find(&house, &beliefs(&house), &args.words.join(" "));
    if args.read.json {
        return print_json(&hits);
    }
    if hits.is_empty() {
        return print("Nothing of that name\n");
    }
    print(&hits.iter().map(hit).collect::<String>())
}

fn hit(hit: &Found) -> String {
    let mut line = hit.title.clone();
    if let Some(fed) = &hit.fed_by {
        let legs: Vec<_> = fed.legs.iter().map(|l| l.said()).collect();
        let sure =
            if fed.status == Status::Proven { String::new() } else { format!(" ({:.0} %, not proven)", fed.p * 100.0) };
        let _ = write!(line, " -> {} {}, {}, leg {}{sure}", fed.at.panel, fed.at.at, fed.amps, legs.join(" and "));
    }
    if !hit.also_dark.is_empty() {
        let _ = write!(line, "; {}: {}", if hit.fed_by.is_some() { "also goes dark" } else { "points" }, hit.dark);
    }
    line.push('\n');
    if !hit.warning.is_empty() {
        let _ = writeln!(line, "STOP: {}", hit.warning);
    }
    line
}

pub fn show_off(args: &OffArgs) -> Result<(), Bad> {
    let house = read_house(&args.read.house)?;
    let target = match (&args.circuit, &args.panel) {
        (Some(circuit), _) => Target::Circuit { breaker: breaker(&house, circuit, "--circuit")? },
        (_, Some(panel)) => Target::Panel { panel: panel_called(&house, Some(panel))?.id },
        _ => Target::Points { points: tagged(&house, &args.points)? },
    };
    let tracker = Tracker::new(&house);
    let answer = plan(&tracker, &tracker.beliefs(), &target).map_err(Bad::new)?;
    if args.read.json { print_json(&answer) } else { print(&off(&answer)) }
}

fn off(answer: &Shutdown) -> String {
    let mut out = String::new();
    for caution in &answer.cautions {
        let _ = writeln!(out, "{}: {}", if caution.stop { "STOP" } else { "CAUTION" }, caution.text);
    }
    if let Some(circuit) = &answer.circuit {
        for (what, said) in [("Feeds", &circuit.surely), ("Perhaps feeds, not proven", &circuit.perhaps)] {
            if !said.is_empty() {
                let _ = writeln!(out, "{what}: {said}");
            }
        }
        if circuit.feeds.is_empty() {
            let _ = writeln!(out, "Nothing is known of what it feeds");
        }
    }
    for mate in &answer.in_the_box {
        let _ = writeln!(out, "In the box of {}: {} {}", mate.of, mate.tag, mate.name);
    }
    if answer.stop {
        return out;
    }
    for main in answer.main_off.iter().chain(&answer.other_mains) {
        let _ = writeln!(out, "The sure way: panel {} off as a whole, by {}", main.panel, main.said);
    }
    let heads = answer.heads;
    let _ = writeln!(out, "{}:", heads.off);
    for o in &answer.switch_off {
        let _ = writeln!(out, "  {} {} ({}): {}", o.at.panel, o.at.at, o.amps, o.said.join("; "));
    }
    let minded: Vec<_> =
        answer.also_dark.iter().filter_map(|d| Some(format!("{} {} ({})", d.tag, d.name, d.mind?.said()))).collect();
    let _ = writeln!(out, "{}: {} points", heads.dark, answer.also_dark.len());
    if !minded.is_empty() {
        let _ = writeln!(out, "Ask first about: {}", minded.join(", "));
    }
    let _ = writeln!(out, "{}. {}", heads.prove, heads.test);
    for test in &answer.tests {
        let (low, high) = (test.live_from, test.live_to);
        let _ = writeln!(
            out,
            "  {}: between {}: {}; a live source shows {} to {} V",
            test.tag,
            test.between.join(", "),
            heads.expect,
            low.0,
            high.0
        );
    }
    for stays in &answer.stays_live {
        let _ = writeln!(out, "Stays live: {}", stays.text);
    }
    let back: Vec<&str> = answer.back_on.iter().map(|b| b.at.as_str()).collect();
    let _ =
        writeln!(out, "{}: {}", heads.back, if back.is_empty() { heads.back_all.to_owned() } else { back.join(", ") });
    let _ = writeln!(out, "{}", heads.law);
    out
}

pub fn show_dead(args: &DeadArgs) -> Result<(), Bad> {
    let house = read_house(&args.read.house)?;
    let signs = if args.bright_and_dim { [Sign::BrightAndDim].into() } else { std::collections::BTreeSet::new() };
    let complaint = Complaint {
        dead: tagged(&house, &args.dead)?,
        working: tagged(&house, &args.working)?,
        signs,
        answers: Vec::new(),
    };
    let diagnosis = diagnose(&house, &beliefs(&house), &complaint).map_err(Bad::new)?;
    if args.read.json { print_json(&diagnosis) } else { print(&dead(&diagnosis)) }
}

fn dead(diagnosis: &Diagnosis) -> String {
    let mut out = String::new();
    for held in &diagnosis.held {
        let _ = writeln!(out, "{held}.");
    }
    if let Some(stop) = diagnosis.stop {
        let _ = writeln!(out, "{}. {}", stop.said.to_uppercase(), stop.what);
    }
    for ranked in &diagnosis.causes {
        let _ = writeln!(out, "{:>5.1} %  {}", ranked.p * 100.0, ranked.said);
    }
    if let Some(next) = &diagnosis.next {
        let _ = writeln!(out, "Look next: {}", next.said);
    }
    out
}

pub fn draw_plan(args: &PlanArgs) -> Result<(), Bad> {
    let house = read_house(&args.house)?;
    let floor = args.floor.clone().or_else(|| house.rooms.iter().next().map(|r| r.floor.clone()));
    let floor = floor.ok_or_else(|| Bad::new("the house has no rooms yet"))?;
    let view = floors::view(&house, &beliefs(&house), &floor);
    let svg = plan_drawing::svg(&view, &house.about.name, house.about.lengths, args.scale, Some(Zoned::now().date()));
    write_drawing(&svg.map_err(|e| Bad::new(format!("--floor: {e}")))?, &args.output)
}

/// Writes a drawing in the kind that the file's ending names.
pub fn write_drawing(svg: &str, output: &Path) -> Result<(), Bad> {
    let ending = output.extension().map(|e| e.to_string_lossy().to_ascii_lowercase());
    let bytes = match ending.as_deref() {
        Some("svg") => draw::self_contained(svg).into_bytes(),
        Some("pdf") => draw::pdf(svg).map_err(Bad::new)?,
        Some("png") => draw::png(svg, 300.0).map_err(Bad::new)?,
        _ => return Err(Bad::new("--output: the file must end in .svg, .pdf or .png")),
    };
    write_out(output, &bytes)
}

pub fn show_log(read: &Read) -> Result<(), Bad> {
    let house = read_house(&read.house)?;
    let lines = logbook::lines(&house);
    if read.json { print_json(&lines) } else { print(&logbook::csv(&lines).map_err(Bad::new)?) }
}

pub fn show_today(read: &Read) -> Result<(), Bad> {
    let house = read_house(&read.house)?;
    let beliefs = beliefs(&house);
    let draws = draws(&house, &beliefs);
    let told = today(&house, &beliefs, &Loaded::new(&house, &beliefs, &draws), Timestamp::now());
    if read.json {
        return print_json(&told);
    }
    let line = |(when, m): (&str, &Matter)| format!("{when}: {}: {}\n", m.said, m.more);
    let all = told.under_way.iter().map(|m| ("Under way", m)).chain(told.next.iter().map(|m| ("Next", m)));
    print(&all.map(line).collect::<String>())
}

pub fn show_tests(read: &Read, calendar: Option<&Path>) -> Result<(), Bad> {
    let (house, now) = (read_house(&read.house)?, Timestamp::now());
    let devices = upkeep::device_tests(&house, now);
    if let Some(path) = calendar {
        return write_out(path, reminders::ground_fault_tests(&house, &devices, now).as_bytes());
    }
    if read.json {
        return print_json(&devices);
    }
    let line = |d: &upkeep::DueTest| {
        let last = d.last.map_or_else(|| "never tested".into(), |t| format!("tested {}", t.strftime("%Y-%m-%d")));
        format!(
            "{:<4} {}: {last}{}\n",
            if d.due { "DUE" } else { "" },
            d.name.trim(),
            if d.failed { ", FAILED" } else { "" }
        )
    };
    print(&devices.iter().map(line).collect::<String>())
}

pub fn export(house: &Path, folder: &Path) -> Result<(), Bad> {
    let house = read_house(house)?;
    std::fs::create_dir_all(folder).map_err(|e| Bad::new(format!("{}: {e}", folder.display())))?;
    for (name, text) in survey::export(&house).map_err(Bad::new)? {
        write_out(&folder.join(name), text.as_bytes())?;
    }
    let left = survey::left_out(&house);
    if left.is_empty() {
        return Ok(());
    }
    print(&format!(
        "Not in these files, which have no column for it: {}. The house file holds all of it.\n",
        left.join(", ")
    ))
}
