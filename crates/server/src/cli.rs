//! The command line: the same functions as the API, over files.
//!
//! Exit codes: 0 fine, 1 findings or conflicts where asked for, 2 bad input.

mod answers;
mod audit;
mod directory;
mod files;
mod job;
mod load;
mod measure;
mod meter;
mod numbers;
mod practice;
mod print;
mod serve;
mod work;

use std::collections::BTreeSet;
use std::io::Write;
use std::path::{Path, PathBuf};
use std::process::ExitCode;

use clap::{Args, Parser, Subcommand};
use jiff::Timestamp;
use wayfinder_core::Change;
use wayfinder_core::base::Said;
use wayfinder_core::change::HandleAt;
use wayfinder_core::house::{About, Breaker, BreakerId, CardSize, Crew, Handle, House, KeptUntil, Method, Pace, Panel};
use wayfinder_core::rules;
use wayfinder_core::trace::{Order, Tracker, advise, beliefs};
use wayfinder_formats::survey::{self, BadRows};
use wayfinder_formats::{circuits, house_file};

use files::{Bad, read_house, write_house};

/// Traces which breaker feeds each outlet, light and appliance of a house.
#[derive(Parser)]
#[command(name = "wayfinder", version)]
struct Cli {
    #[command(subcommand)]
    command: Command,
}

#[derive(Subcommand)]
enum Command {
    /// Serve the app to a browser.
    Serve(serve::ServeArgs),
    /// Make a house file of a survey folder.
    Import {
        /// The folder with about.csv, panels.csv, breakers.csv, points.csv, evidence.csv.
        survey: PathBuf,
        /// The house's name; otherwise what about.csv says, or the folder's.
        #[arg(long)]
        name: Option<String>,
        #[command(flatten)]
        taking: Taking,
    },
    /// Add observations to a house file.
    Record {
        /// A house file, or a survey folder.
        house: PathBuf,
        /// The observations, as evidence.csv.
        evidence: PathBuf,
        #[command(flatten)]
        taking: Taking,
    },
    /// What feeds every point, how sure, and why.
    Beliefs {
        #[command(flatten)]
        read: Read,
        /// End with 1 where evidence contradicts what is believed.
        #[arg(long)]
        check: bool,
    },
    /// Say how the handles stand: these breakers are off, all others on. What is advised goes on from there.
    Step(StepArgs),
    /// What to do next to learn most.
    Advise {
        #[command(flatten)]
        read: Read,
        #[command(flatten)]
        crew: CrewArgs,
    },
    /// Points whose observations disagree, and what would explain it.
    Doubts {
        #[command(flatten)]
        read: Read,
    },
    /// What each way of tracing would come to in this house, from here on.
    Forecast {
        #[command(flatten)]
        read: Read,
        #[command(flatten)]
        crew: CrewArgs,
    },
    /// What each cheap help would save this crew from here on.
    Helps {
        #[command(flatten)]
        read: Read,
        #[command(flatten)]
        crew: CrewArgs,
    },
    /// The faults noted while tracing.
    Faults {
        #[command(flatten)]
        read: Read,
    },
    /// What must not be in a house: what stands against a rule there; without a house all rules, with where they stand.
    Rules {
        /// A house file, or a survey folder.
        house: Option<PathBuf>,
        /// Print JSON.
        #[arg(long)]
        json: bool,
    },
    /// What is wrong in a house, the gravest first.
    Audit(audit::AuditArgs),
    /// Print of the directory: cards, labels, schedules, the wall sheet, or what changed.
    Print(directory::PrintArgs),
    /// What nobody looked at yet, in the order of a walk.
    Inspection(audit::InspectionArgs),
    /// Play whole tracings in made houses and tell what they come to.
    Practice(practice::PracticeArgs),
    /// Find a point, room, breaker or panel by what people call it.
    Find(answers::FindArgs),
    /// What must be switched off to work somewhere.
    Off(answers::OffArgs),
    /// What may be the cause when something is dead.
    Dead(answers::DeadArgs),
    /// It tripped: where its reset stands, what did it, and what would cure it.
    Reset(answers::ResetArgs),
    /// What each thing draws, and what circuits and legs carry.
    Loads {
        #[command(flatten)]
        read: Read,
    },
    /// What the service must carry, and whether there is room for more.
    Service(load::ServiceArgs),
    /// Stand in for a bench meter: SCPI over TCP, measuring in the demo house.
    Meter(meter::MeterArgs),
    /// Make room in a panel by moving as little as can be.
    Arrange(job::ArrangeArgs),
    /// Plan work in a panel: steps with the readings they must show, parts, and what speaks against it.
    #[command(subcommand)]
    Job(work::JobArgs),
    /// In which order jobs that are begun are done, and what is to be bought for them.
    Jobs(work::JobsArgs),
    /// May these run together?
    Together(measure::TogetherArgs),
    /// Where the clamp goes in a round of measuring, and what it should show.
    Round(measure::RoundArgs),
    /// What to read next: what would teach most a minute.
    Next(measure::NextArgs),
    /// Is it the breaker? By voltages on both sides of it.
    Suspect(measure::SuspectArgs),
    /// What a loaded test says of a circuit's connections.
    LoadedTest(measure::LoadedTestArgs),
    /// What meters are expected to show with some things on.
    Expect(load::ExpectArgs),
    /// Draw the plan of a floor.
    Plan(answers::PlanArgs),
    /// The logbook (CSV).
    Log {
        #[command(flatten)]
        read: Read,
    },
    /// What is under way, and what comes next.
    Today {
        #[command(flatten)]
        read: Read,
    },
    /// Ground-fault devices and when their tests are due.
    Tests {
        #[command(flatten)]
        read: Read,
        /// Write a monthly reminder for a calendar (.ics) instead.
        #[arg(long)]
        ics: Option<PathBuf>,
    },
    /// Write a house as a survey folder of CSV files.
    Export {
        /// A house file, or a survey folder.
        house: PathBuf,
        /// The folder.
        #[arg(short, long)]
        output: PathBuf,
    },
    /// Draw the card for a panel's door; the file's ending says how: .svg, .pdf or .png.
    Card {
        /// A house file, or a survey folder.
        house: PathBuf,
        /// The panel; otherwise the first.
        #[arg(long)]
        panel: Option<String>,
        /// The measured place, as 4.25x9in or 108x229mm.
        #[arg(long, value_parser = directory::card_size)]
        size: Option<CardSize>,
        /// The file to write.
        #[arg(short, long)]
        output: PathBuf,
    },
    /// The directory as a table (CSV).
    Circuits {
        /// A house file, or a survey folder.
        house: PathBuf,
    },
    /// Copy a database while it is in use.
    Backup {
        /// The database.
        #[arg(long)]
        data: PathBuf,
        /// The copy.
        to: PathBuf,
    },
    /// Draw a foreign SVG drawing as a PNG picture, from standard input to standard output, within bounds of memory and time.
    DrawSvg,
    /// Print the JSON Schema of the house file.
    Schema,
    /// Print the OpenAPI document of the HTTP API.
    Openapi,
    /// Print what pages take from the core: the words of codes, and what is usual.
    ForPages,
}

#[derive(Args)]
struct Taking {
    /// The house file to write.
    #[arg(short, long)]
    output: PathBuf,
    /// Leave out rows that cannot be understood, and list them.
    #[arg(long)]
    skip_bad: bool,
}

#[derive(Args)]
struct StepArgs {
    /// A house file, or a survey folder.
    house: PathBuf,
    /// The complete set that is off, as 1,3,Annex:5-7; nothing for every breaker on.
    #[arg(long, value_delimiter = ',')]
    off: Vec<String>,
    /// The house file to write.
    #[arg(short, long)]
    output: PathBuf,
}

#[derive(Args)]
struct Read {
    /// A house file, or a survey folder.
    house: PathBuf,
    /// Print JSON.
    #[arg(long)]
    json: bool,
}

#[derive(Args)]
struct CrewArgs {
    /// 1: alone; 2: one at the panel, one in the rooms.
    #[arg(long, default_value_t = 1)]
    people: u8,
    /// Plug-in testers at hand.
    #[arg(long, default_value_t = 1)]
    testers: u8,
    /// A transmitter and receiver are at hand.
    #[arg(long)]
    transmitter: bool,
    /// A radio is at hand, loud enough to be heard at the panel.
    #[arg(long)]
    radio: bool,
    /// A clamp meter, a load, and somebody qualified to work with the cover off.
    #[arg(long)]
    clamp: bool,
    /// An energy monitor that watches every breaker, and a load.
    #[arg(long)]
    monitor: bool,
    /// Breakers that must stay on: 5-7,Annex:3; one that must until a time: 5-7@2026-05-04T18:00:00Z
    #[arg(long, value_delimiter = ',')]
    keep_on: Vec<String>,
    /// A second of walking counts as so many of other work, 1 to 4.
    #[arg(long, default_value_t = 1)]
    walking: u8,
    /// At most so many off at once.
    #[arg(long)]
    max_off: Option<usize>,
    /// How much outages matter: fast, even, gentle.
    #[arg(long, default_value = "even", value_parser = word::<Pace>)]
    pace: Pace,
    /// The way of tracing: adaptive, one-at-a-time, transmitter, halving.
    #[arg(long, default_value = "adaptive", value_parser = word::<Method>)]
    method: Method,
}

/// A word of the API, as it stands in files.
fn word<T: serde::de::DeserializeOwned>(text: &str) -> Result<T, String> {
    serde_json::from_value(serde_json::Value::String(text.into())).map_err(|e| e.to_string())
}

/// Runs the program and says how it ended.
#[must_use]
pub fn main() -> ExitCode {
    match run(Cli::parse().command) {
        Ok(code) => code,
        Err(bad) => {
            eprintln!("wayfinder: {bad}");
            ExitCode::from(2)
        }
    }
}

fn run(command: Command) -> Result<ExitCode, Bad> {
    match command {
        Command::Serve(args) => serve::serve(&args)?,
        Command::Import { survey, name, taking } => import(&survey, name, &taking)?,
        Command::Record { house, evidence, taking } => record(&house, &evidence, &taking)?,
        Command::Beliefs { read, check } => return show_beliefs(&read, check),
        Command::Step(args) => step(&args)?,
        Command::Advise { read, crew } => show_advice(&read, &crew)?,
        Command::Doubts { read } => return show_doubts(&read),
        Command::Forecast { read, crew } => show_forecast(&read, &crew)?,
        Command::Helps { read, crew } => show_helps(&read, &crew)?,
        Command::Faults { read } => return show_faults(&read),
        Command::Rules { house, json } => return show_rules(house.as_deref(), json),
        Command::Print(args) => directory::print_product(&args)?,
        Command::Audit(args) => return audit::show_audit(&args),
        Command::Inspection(args) => audit::show_inspection(&args)?,
        Command::Practice(args) => practice::practice(&args)?,
        Command::Find(args) => answers::show_find(&args)?,
        Command::Off(args) => answers::show_off(&args)?,
        Command::Dead(args) => answers::show_dead(&args)?,
        Command::Reset(args) => answers::show_reset(&args)?,
        Command::Loads { read } => load::show_loads(&read)?,
        Command::Service(args) => load::show_service(&args)?,
        Command::Meter(args) => meter::stand_in(&args)?,
        Command::Arrange(args) => return job::show_arrangement(&args),
        Command::Job(args) => return work::show_job(&args),
        Command::Jobs(args) => work::show_jobs(&args)?,
        Command::Together(args) => measure::show_together(&args)?,
        Command::Round(args) => measure::show_round(&args)?,
        Command::Next(args) => measure::show_next(&args)?,
        Command::Suspect(args) => measure::show_suspect(&args)?,
        Command::LoadedTest(args) => measure::show_loaded_test(&args)?,
        Command::Expect(args) => load::show_expected(&args)?,
        Command::Plan(args) => answers::draw_plan(&args)?,
        Command::Log { read } => answers::show_log(&read)?,
        Command::Today { read } => answers::show_today(&read)?,
        Command::Tests { read, ics } => answers::show_tests(&read, ics.as_deref())?,
        Command::Export { house, output } => answers::export(&house, &output)?,
        Command::Card { house, panel, size, output } => directory::card(&house, panel.as_deref(), size, &output)?,
        Command::Circuits { house } => {
            let house = read_house(&house)?;
            print(&circuits::circuits_csv(&house, &beliefs(&house)).map_err(Bad::new)?)?;
        }
        Command::Backup { data, to } => backup(&data, &to)?,
        Command::DrawSvg => return Ok(crate::drawer::child()),
        Command::Schema => print_json(&house_file::schema().map_err(Bad::new)?)?,
        Command::Openapi => print_json(&crate::openapi())?,
        Command::ForPages => print_json(&crate::for_pages())?,
    }
    Ok(ExitCode::SUCCESS)
}

fn print(text: &str) -> Result<(), Bad> {
    match std::io::stdout().write_all(text.as_bytes()) {
        // Whoever reads, as `head` does, may have had enough.
        Err(e) if e.kind() == std::io::ErrorKind::BrokenPipe => Ok(()),
        other => other.map_err(Bad::new),
    }
}

fn print_json(value: &impl serde::Serialize) -> Result<(), Bad> {
    let text = serde_json::to_string_pretty(value).map_err(Bad::new)?;
    print(&format!("{text}\n"))
}

fn bad_rows(taking: &Taking) -> BadRows {
    if taking.skip_bad { BadRows::Skip } else { BadRows::Refuse }
}

fn import(folder: &std::path::Path, name: Option<String>, taking: &Taking) -> Result<(), Bad> {
    let (mut taken, notes) = files::import(folder, bad_rows(taking))?;
    if let Some(name) = name {
        let about = About { name, ..taken.house.about.clone() };
        taken.house.about = taken
            .house
            .apply(&Change::SetAbout { about })
            .map_err(|e| Bad::new(format!("--name: {}", e.message)))?
            .house
            .about;
    }
    finish(&taken, &notes, taking)
}

fn record(house: &std::path::Path, evidence: &std::path::Path, taking: &Taking) -> Result<(), Bad> {
    let text = files::read_text(evidence)?;
    let taken = survey::record(read_house(house)?, &text, Timestamp::now(), bad_rows(taking)).map_err(Bad::faults)?;
    finish(&taken, &[], taking)
}

fn finish(taken: &survey::Taken, notes: &[String], taking: &Taking) -> Result<(), Bad> {
    for note in notes.iter().chain(&taken.notes) {
        eprintln!("note: {note}");
    }
    for fault in &taken.skipped {
        eprintln!("left out: {fault}");
    }
    write_house(&taking.output, &taken.house)?;
    let skipped = taken.skipped.len();
    print(&format!("{} rows taken, {skipped} left out; wrote {}\n", taken.rows, taking.output.display()))
}

fn step(args: &StepArgs) -> Result<(), Bad> {
    let house = read_house(&args.house)?;
    let texts = args.off.iter().map(String::as_str).filter(|text| !text.trim().is_empty());
    let off = texts.map(|text| breaker(&house, text, "--off")).collect::<Result<BTreeSet<_>, _>>()?;
    let stands = |b: &Breaker| if off.contains(&b.id) { Handle::Off } else { Handle::On };
    let moved = house.breakers.iter().filter(|b| b.handle != stands(b));
    let handles: Vec<HandleAt> = moved.map(|b| HandleAt { breaker: b.id, handle: stands(b) }).collect();
    let count = handles.len();
    let house = house.apply(&Change::SetHandles { handles }).map_err(|e| Bad::new(format!("--off: {e}")))?.house;
    write_house(&args.output, &house)?;
    print(&format!("{} off, {count} moved; wrote {}\n", off.len(), args.output.display()))
}

fn show_beliefs(read: &Read, check: bool) -> Result<ExitCode, Bad> {
    let house = read_house(&read.house)?;
    let beliefs = beliefs(&house).told(&house);
    if read.json {
        print_json(&beliefs)?;
    } else {
        print(&print::beliefs(&house, &beliefs))?;
    }
    let contradicted = beliefs.points.iter().any(print::is_contradicted);
    Ok(if check && contradicted { ExitCode::from(1) } else { ExitCode::SUCCESS })
}

fn show_advice(read: &Read, crew: &CrewArgs) -> Result<(), Bad> {
    let house = read_house(&read.house)?;
    let advice = advise(&house, &crew_of(&house, crew)?).map_err(Bad::new)?;
    let order = Order::new(&house, &beliefs(&house), advice);
    if read.json { print_json(&order) } else { print(&print::order(&order, crew.monitor)) }
}

fn crew_of(house: &House, args: &CrewArgs) -> Result<Crew, Bad> {
    let mut crew = Crew {
        people: args.people,
        testers: args.testers,
        transmitter: args.transmitter,
        radio: args.radio,
        clamp: args.clamp,
        monitor: args.monitor,
        walking: args.walking,
        max_off: args.max_off,
        pace: args.pace,
        method: args.method,
        ..Crew::default()
    };
    for text in &args.keep_on {
        let (place, until) = text.rsplit_once('@').map_or((text.as_str(), None), |(place, until)| (place, Some(until)));
        let id = breaker(house, place, "--keep-on")?;
        crew.keep_on.insert(id);
        if let Some(until) = until {
            let time = until.parse().map_err(|_| Bad::new(format!("--keep-on {text}: expected a time after @")))?;
            crew.keep_until.push(KeptUntil { breaker: id, until: time });
        }
    }
    Ok(crew.at(Timestamp::now()))
}

fn show_forecast(read: &Read, crew: &CrewArgs) -> Result<(), Bad> {
    let house = read_house(&read.house)?;
    let (tracker, crew) = (Tracker::new(&house), crew_of(&house, crew)?);
    let of = |method| wayfinder_core::practice::forecast(&tracker, &crew, method);
    let forecast = Method::ALL.iter().copied().map(of).collect::<Result<Vec<_>, _>>().map_err(Bad::new)?;
    if read.json { print_json(&forecast) } else { print(&print::forecast(&forecast)) }
}

fn show_helps(read: &Read, crew: &CrewArgs) -> Result<(), Bad> {
    let house = read_house(&read.house)?;
    let crew = crew_of(&house, crew)?;
    let savings = wayfinder_core::practice::helps(&Tracker::new(&house), &crew).map_err(Bad::new)?;
    if read.json { print_json(&savings) } else { print(&print::helps(&savings)) }
}

fn show_doubts(read: &Read) -> Result<ExitCode, Bad> {
    let house = read_house(&read.house)?;
    let doubts = wayfinder_core::trace::doubts(&house);
    if read.json {
        print_json(&doubts)?
    } else {
        print(&print::doubts(&doubts))?
    }
    Ok(if doubts.iter().all(|d| d.second_look) { ExitCode::SUCCESS } else { ExitCode::from(1) })
}

fn show_faults(read: &Read) -> Result<ExitCode, Bad> {
    let faults = wayfinder_core::trace::faults(&read_house(&read.house)?);
    if read.json {
        print_json(&faults)?
    } else {
        print(&print::faults(&faults))?
    }
    Ok(if faults.is_empty() { ExitCode::SUCCESS } else { ExitCode::from(1) })
}

fn show_rules(house: Option<&Path>, json: bool) -> Result<ExitCode, Bad> {
    let Some(house) = house else {
        let all = rules::list();
        if json {
            print_json(&all)?
        } else {
            print(&print::rules(&all))?
        }
        return Ok(ExitCode::SUCCESS);
    };
    let house = read_house(house)?;
    let hangs = wayfinder_core::trace::beliefs(&house).hangs();
    let told: Vec<rules::Told> =
        rules::hits(&rules::Facts { house: &house, hangs: &hangs }).iter().map(|hit| hit.told(&house)).collect();
    if json {
        print_json(&told)?
    } else {
        print(&print::hits(&told))?
    }
    let to_mend = told.iter().any(|hit| hit.severity < rules::Severity::Improve);
    Ok(if to_mend { ExitCode::from(1) } else { ExitCode::SUCCESS })
}

/// A breaker written as `5-7`, or `Annex:3` for another panel than the first; `argument` is what it was given as.
fn breaker(house: &House, text: &str, argument: &str) -> Result<BreakerId, Bad> {
    house.breaker_called(text).ok_or_else(|| {
        Bad::new(format!(
            "{argument}: \"{text}\" is no breaker of this house, or not one alone: as its panel numbers it, 5-7 or Annex:3"
        ))
    })
}

fn panel_called<'a>(house: &'a House, name: Option<&str>) -> Result<&'a Panel, Bad> {
    let found = match name {
        Some(name) => house.panel_named(name),
        None => house.panels_in_order().first().copied(),
    };
    found.ok_or_else(|| Bad::new(format!("--panel: the house has no panel {}", name.unwrap_or("at all"))))
}

fn backup(data: &std::path::Path, to: &std::path::Path) -> Result<(), Bad> {
    if !data.exists() {
        return Err(Bad::new(format!("--data: there is no {}", data.display())));
    }
    if to.exists() {
        return Err(Bad::new(format!("{} is already there and was left as it is", to.display())));
    }
    wayfinder_store::Store::open(data).and_then(|store| store.backup(to)).map_err(Bad::new)
}
