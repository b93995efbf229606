//! The answers on the command line.

use std::collections::BTreeSet;
use std::fmt::Write;
use std::path::{Path, PathBuf};

use clap::Args;
use jiff::{SignedDuration, Timestamp, Zoned};
use wayfinder_core::answers::diagnose::{
    Answer, Answered, Check, Complaint, Diagnosis, Extent, HandlesSeen, Showed, Sign, diagnose,
};
use wayfinder_core::answers::find::{Found, find};
use wayfinder_core::answers::reset::{ResetGuide, guide};
use wayfinder_core::answers::shutdown::{Shutdown, Target, plan};
use wayfinder_core::answers::today::{Matter, today};
use wayfinder_core::answers::upkeep;
use wayfinder_core::base::Said;
use wayfinder_core::base::units::Volts;
use wayfinder_core::house::{Event, LogEntry, LogId, PointId, ServiceReading};
use wayfinder_core::load::Loaded;
use wayfinder_core::load::draws::draws;
use wayfinder_core::load::suspect::{BothSides, SideRead};
use wayfinder_core::trace::{Status, Tracker, beliefs};
use wayfinder_core::view::floor as floors;
use wayfinder_core::{Change, House};
use wayfinder_formats::draw::{Kind, Print};
use wayfinder_formats::plan::Scale;
use wayfinder_formats::{logbook, plan as plan_drawing, reminders, survey};

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
    /// Tags of what is dead: K1 K2, or K1,K2
    #[arg(value_delimiter = ',')]
    dead: Vec<String>,
    /// Tags of what still works: K1,K2
    #[arg(long, value_delimiter = ',')]
    working: Vec<String>,
    /// Tags of what works weakly.
    #[arg(long, value_delimiter = ',')]
    dim: Vec<String>,
    /// Tags of lights that are brighter than usual.
    #[arg(long, value_delimiter = ',')]
    bright: Vec<String>,
    /// Tags of lights that flicker.
    #[arg(long, value_delimiter = ',')]
    flickers: Vec<String>,
    /// What else was noticed: everything, half-dead, bright-and-dim, flicker, burning, shock; several with commas.
    #[arg(long, value_delimiter = ',')]
    signs: Vec<String>,
    /// Whoever looks may open a panel and measure there.
    #[arg(long)]
    qualified: bool,
    /// A look that was made and what it showed, in the order in which they were made: works:K2=no, glance:Main=9+11 (or none, or
    /// main), cycle:9=yes, cycle-main:Main=no, reset:K1=no, buttons=yes, switch:S1=no, another:K1=yes, extent=half (or all, less), neighbours=yes,
    /// uneven=no, glows:K1=yes, measure:Main=97/143/240, sides:9=120/2; and cannot-tell, again.
    #[arg(long, value_name = "LOOK=SHOWED")]
    look: Vec<String>,
}

#[derive(Args)]
pub struct PlanArgs {
    /// A house file, or a survey folder.
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

fn tagged(house: &House, tags: &[String]) -> Result<BTreeSet<PointId>, Bad> {
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
    let sign = |text: &String| -> Result<Sign, Bad> {
        serde_json::from_value(text.as_str().into()).map_err(|_| Bad::new(format!("--signs: no sign is called {text}")))
    };
    let complaint = Complaint {
        dead: tagged(&house, &args.dead)?,
        working: tagged(&house, &args.working)?,
        dim: tagged(&house, &args.dim)?,
        bright: tagged(&house, &args.bright)?,
        flickers: tagged(&house, &args.flickers)?,
        signs: args.signs.iter().map(sign).collect::<Result<_, Bad>>()?,
        answers: args.look.iter().map(|text| look(&house, text)).collect::<Result<_, Bad>>()?,
        qualified: args.qualified,
    };
    let told =
        diagnose(&house, &beliefs(&house), &complaint).map_err(|e| Bad::new(format!("{}: {}", e.field, e.message)))?;
    if args.read.json { print_json(&told) } else { print(&diagnosed(&told)) }
}

/// A look and what it showed, as they are typed.
fn look(house: &House, text: &str) -> Result<Answer, Bad> {
    let bad = || Bad::new(format!("--look: {text} is not LOOK=SHOWED, as works:K2=no"));
    let (asked, showed) = text.split_once('=').ok_or_else(bad)?;
    let (what, of) = asked.split_once(':').unwrap_or((asked, ""));
    let point =
        || house.point_tagged(of).map(|p| p.id).ok_or_else(|| Bad::new(format!("--look: there is no point {of}")));
    let at = || breaker(house, of, "--look");
    let panel = || panel_called(house, (!of.is_empty()).then_some(of)).map(|p| p.id);
    let check = match what {
        "extent" => Check::Extent,
        "neighbours" => Check::Neighbours,
        "uneven" => Check::Uneven,
        "glance" => Check::Glance { panel: panel()? },
        "measure" => Check::Measure { panel: panel()? },
        "cycle" => Check::Cycle { breaker: at()? },
        "cycle-main" => Check::CycleMain { panel: panel()? },
        "sides" => Check::Sides { breaker: at()? },
        "reset" => Check::PressReset { point: point()? },
        "switch" => Check::Switch { point: point()? },
        "works" => Check::Works { point: point()? },
        "another" => Check::Another { point: point()? },
        "glows" => Check::Glows { point: point()? },
        "buttons" => Check::TryButtons,
        _ => return Err(bad()),
    };
    let volts =
        || showed.split('/').map(|v| v.trim().parse().map(Volts)).collect::<Result<Vec<_>, _>>().map_err(|_| bad());
    let showed = match (check.answered(), showed) {
        (_, "cannot-tell") => Showed::CannotTell,
        (Answered::YesNo, "yes") => Showed::Yes,
        (Answered::YesNo, "no") => Showed::No,
        (Answered::YesNo, "again") => Showed::AgainAtOnce,
        (Answered::Extent, "all") => Showed::Extent(Extent::All),
        (Answered::Extent, "half") => Showed::Extent(Extent::Half),
        (Answered::Extent, "less") => Showed::Extent(Extent::Less),
        (Answered::YesNo | Answered::Extent, _) => return Err(bad()),
        (Answered::Handles, "none") => Showed::Handles(HandlesSeen::default()),
        (Answered::Handles, all) => {
            let main = all.split('+').any(|at| at == "main");
            let at = all.split('+').filter(|at| *at != "main").map(|at| breaker(house, at, "--look"));
            Showed::Handles(HandlesSeen { breakers: at.collect::<Result<_, Bad>>()?, main })
        }
        (Answered::Volts, _) => match volts()?.as_slice() {
            [a_n, b_n, a_b] => {
                Showed::Volts(ServiceReading { a_n: *a_n, b_n: *b_n, a_b: *a_b, c_n: None, b_c: None, c_a: None })
            }
            _ => return Err(Bad::new("--look: three voltages, as measure:Main=120/121/241")),
        },
        (Answered::Sides, _) => {
            let read = volts()?;
            let (bus, load) = read.split_at(read.len() / 2);
            let side =
                |volts: &[Volts]| SideRead { to_neutral: volts.iter().copied().map(Some).collect(), across: None };
            Showed::Sides(BothSides { bus: side(bus), load: side(load) })
        }
    };
    Ok(Answer { check, showed })
}

fn diagnosed(diagnosis: &Diagnosis) -> String {
    let mut out = String::new();
    for held in &diagnosis.held {
        let _ = writeln!(out, "{held}.");
    }
    if let Some(stop) = diagnosis.stop {
        let _ = writeln!(out, "{}. {}", stop.said.to_uppercase(), stop.what);
    }
    for ranked in &diagnosis.causes {
        let why = if ranked.why.is_empty() { String::new() } else { format!(" ({})", ranked.why) };
        let _ = writeln!(out, "{:>5.1} %  {}{why}", ranked.p * 100.0, ranked.said);
    }
    for gone in &diagnosis.ruled_out {
        let _ = writeln!(out, "ruled out: {}, by: {}", gone.said, gone.by);
    }
    if let Some(next) = &diagnosis.next {
        let mind = next.mind.map_or_else(String::new, |mind| format!(" {mind}"));
        let _ = writeln!(out, "Look next: {}{mind}", next.said);
    }
    if let Some(end) = &diagnosis.end {
        let job = end.job.map_or_else(String::new, |job| format!(" (wayfinder job {job})"));
        let _ = writeln!(out, "{}: {}. {}{job}", if end.found { "Found" } else { "Not found" }, end.said, end.act);
    }
    out
}

#[derive(Args)]
pub struct ResetArgs {
    #[command(flatten)]
    read: Read,
    /// The breaker, as 5-7 or Annex:3.
    at: String,
    /// It tripped just now, with these running: tags, or none; several with commas.
    #[arg(long, value_delimiter = ',')]
    tripped: Vec<String>,
    /// How it tripped: at-once, seconds, minutes, hours, on-start, heat, protection.
    #[arg(long)]
    manner: Option<String>,
    /// A closure after that, with what was on: held:none, held:K1+K2, at-once:K1+K2, later:K1; in the order in which they were.
    #[arg(long, value_name = "OUTCOME:ON")]
    closed: Vec<String>,
}

/// Where a reset stands, by the log and by what is told here.
pub fn show_reset(args: &ResetArgs) -> Result<(), Bad> {
    let mut house = read_house(&args.read.house)?;
    let id = breaker(&house, &args.at, "AT")?;
    let on = |house: &House, tags: &[String]| {
        let named: Vec<String> = tags.iter().filter(|tag| *tag != "none").cloned().collect();
        tagged(house, &named)
    };
    let mut told: Vec<Event> = Vec::new();
    if !args.tripped.is_empty() || args.manner.is_some() {
        let manner = args.manner.as_ref().map(|text| code(text, "--manner")).transpose()?;
        told.push(Event::Trip { breaker: id, running: on(&house, &args.tripped)?, manner });
    }
    for text in &args.closed {
        let (outcome, with) = text.split_once(':').unwrap_or((text, "none"));
        let running = on(&house, &with.split(['+', ',']).map(str::to_owned).collect::<Vec<_>>())?;
        told.push(Event::Reset { breaker: id, running, outcome: code(outcome, "--closed")? });
    }
    let now = Timestamp::now();
    for (nth, event) in told.into_iter().enumerate() {
        let (id, time) = (LogId((1 << 52) + nth as u64), now + SignedDuration::from_secs(nth as i64));
        let entry = LogEntry { id, time, who: "told here".into(), event, note: String::new() };
        house = house.apply(&Change::Log { entry }).map_err(|e| Bad::new(e.message))?.house;
    }
    let beliefs = beliefs(&house);
    let draws = draws(&house, &beliefs);
    let loaded = Loaded::new(&house, &beliefs, &draws);
    let told = guide(&house, (&beliefs, &loaded), id, &BTreeSet::new(), now)
        .map_err(|e| Bad::new(format!("{}: {}", e.field, e.message)))?;
    if args.read.json { print_json(&told) } else { print(&reset_told(&told)) }
}

/// A word of a closed list, as it stands in files.
fn code<T: serde::de::DeserializeOwned>(text: &str, argument: &str) -> Result<T, Bad> {
    serde_json::from_value(text.into()).map_err(|e| Bad::new(format!("{argument}: {e}")))
}

fn reset_told(guide: &ResetGuide) -> String {
    let mut out: String = guide.barred.iter().map(|said| format!("{said}.\n")).collect();
    for said in guide.again.iter().chain(&guide.cause) {
        let _ = writeln!(out, "{said}");
    }
    let _ = writeln!(out, "{}. {}", guide.ask.title, guide.ask.said);
    if let Some(end) = &guide.end {
        let job = end.job.map_or_else(String::new, |job| format!(" (wayfinder job {job})"));
        let _ = writeln!(out, "{}. {}{job}", end.said, end.act);
        end.rest.iter().for_each(|rest| {
            let _ = writeln!(out, "{rest}");
        });
    }
    if let Some(cure) = &guide.cure {
        let _ = writeln!(out, "What would cure it: {}", cure.said);
    }
    let _ = writeln!(out, "Closures left: {}", guide.left);
    out
}

pub fn draw_plan(args: &PlanArgs) -> Result<(), Bad> {
    let house = read_house(&args.house)?;
    let floor = args.floor.clone().or_else(|| house.rooms.iter().next().map(|r| r.floor.clone()));
    let floor = floor.ok_or_else(|| Bad::new("the house has no rooms yet"))?;
    let view = floors::view(&house, &beliefs(&house), &floor);
    let svg = plan_drawing::svg(&view, &house.about.name, house.about.lengths, args.scale, Some(Zoned::now().date()));
    let svg = svg.map_err(|e| Bad::new(format!("--floor: {e}")))?;
    write_drawing(&Print::single(format!("Floor {floor}"), svg), &args.output)
}

/// Writes a drawing in the kind that the file's ending names.
pub fn write_drawing(document: &Print, output: &Path) -> Result<(), Bad> {
    let ending = output.extension().map(|e| e.to_string_lossy().to_ascii_lowercase());
    let kind = ending.as_deref().and_then(Kind::of);
    let kind = kind.ok_or_else(|| Bad::new("--output: the file must end in .svg, .pdf or .png"))?;
    write_out(output, &document.put_out(kind).map_err(Bad::new)?)
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
