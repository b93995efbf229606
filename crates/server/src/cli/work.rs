//! Jobs planned on the command line: the arguments of each kind are what it asks.

use std::collections::BTreeMap;
use std::fmt::Write;
use std::process::ExitCode;

use clap::{Arg, ArgAction, ArgMatches, Args, Command, FromArgMatches, Subcommand};
use serde_json::{Value, json};
use wayfinder_core::base::Said;
use wayfinder_core::house::{Goal, House, JobStep, LoadKind};
use wayfinder_core::job::combine::{self, JoinPair};
use wayfinder_core::job::form::{Field, FieldSort};
use wayfinder_core::job::order::{JobOrder, order};
use wayfinder_core::job::shopping::shopping;
use wayfinder_core::job::{Basis, Kind, Plan, in_turn, kind, kinds, plan, together};
use wayfinder_core::load::Loaded;
use wayfinder_core::load::draws::draws;
use wayfinder_core::trace::beliefs;
use wayfinder_core::words::number::Unit;
use wayfinder_formats::{shopping as shop, work_sheet};

use super::files::{Bad, read_house};
use super::measure::loaded;
use super::{Read, breaker, numbers, panel_called, print, print_json};

/// A kind of job with what was said of it.
pub struct JobArgs {
    common: Common,
    /// The one that was named first, then those in the same shutdown.
    jobs: Vec<OneJob>,
}

/// A kind with its arguments.
struct OneJob {
    kind: &'static Kind,
    said: ArgMatches,
}

/// Begins the arguments of a further job.
const AND: &str = "--and";

#[derive(Args)]
struct Common {
    #[command(flatten)]
    read: Read,
    /// Where there are several ways: this one, from 1.
    #[arg(long)]
    way: Option<usize>,
    /// Just what is to be bought, as a table.
    #[arg(long)]
    shopping: bool,
    /// Another job in the same shutdown, with its own arguments; last, and as often as there are jobs.
    #[arg(long, num_args = 1.., allow_hyphen_values = true, value_name = "JOB", action = ArgAction::Append)]
    and: Vec<String>,
}

impl FromArgMatches for JobArgs {
    fn from_arg_matches(matches: &ArgMatches) -> Result<Self, clap::Error> {
        let missing = || clap::Error::new(clap::error::ErrorKind::MissingSubcommand);
        let (name, said) = matches.subcommand().ok_or_else(missing)?;
        let first = OneJob { kind: kind(name).map_err(|_| missing())?, said: said.clone() };
        let common = Common::from_arg_matches(said)?;
        let beside = common.and.split(|word| word == AND).filter(|words| !words.is_empty()).map(OneJob::read);
        let jobs = std::iter::once(Ok(first)).chain(beside).collect::<Result<_, clap::Error>>()?;
        Ok(Self { common, jobs })
    }

    fn update_from_arg_matches(&mut self, matches: &ArgMatches) -> Result<(), clap::Error> {
        *self = Self::from_arg_matches(matches)?;
        Ok(())
    }
}

impl Subcommand for JobArgs {
    fn augment_subcommands(command: Command) -> Command {
        command.subcommands(kinds().iter().map(|kind| of_kind(kind))).subcommand_required(true)
    }

    fn augment_subcommands_for_update(command: Command) -> Command {
        Self::augment_subcommands(command)
    }

    fn has_subcommand(name: &str) -> bool {
        kind(name).is_ok()
    }
}

impl OneJob {
    fn read(words: &[String]) -> Result<Self, clap::Error> {
        let no = |e: wayfinder_core::Invalid| clap::Error::raw(clap::error::ErrorKind::InvalidSubcommand, e.message);
        let kind = kind(words.first().map_or("", String::as_str)).map_err(no)?;
        Ok(Self { kind, said: asking(Command::new(kind.name), kind).try_get_matches_from(words)? })
    }
}

fn of_kind(kind: &'static Kind) -> Command {
    asking(Common::augment_args(Command::new(kind.name).about(format!("{}: {}", kind.title, kind.under))), kind)
}

fn asking(command: Command, kind: &'static Kind) -> Command {
    kind.fields.iter().fold(command, |command, field| command.arg(argument(field)))
}

/// The breaker that a job is about needs no name before it.
fn is_first(field: &Field) -> bool {
    matches!(field.sort, FieldSort::Breaker) && field.name == "breaker"
}

fn argument(field: &'static Field) -> Arg {
    let mut help = field.label.to_owned();
    if let FieldSort::Number { limits } = field.sort
        && !limits.unit.is_empty()
    {
        help += &format!(" ({})", limits.unit);
    }
    let choices = match field.sort {
        FieldSort::Choice { choices } => choices.iter().map(|(code, _)| *code).collect::<Vec<_>>().join(", "),
        FieldSort::Thing => LoadKind::ALL.iter().map(|kind| kind.said()).collect::<Vec<_>>().join(", "),
        FieldSort::Breaker | FieldSort::Breakers => "as 5-7 or Annex:3".to_owned(),
        FieldSort::Point => "its tag, as K3".to_owned(),
        FieldSort::Load => "its name, or K3:toaster".to_owned(),
        FieldSort::YesNo => "true or false".to_owned(),
        _ => String::new(),
    };
    for more in [choices.as_str(), field.help] {
        if !more.is_empty() {
            help += &format!("; {more}");
        }
    }
    let arg = Arg::new(field.name).help(help);
    let usual = if field.usual.is_empty() { None } else { Some(field.usual) };
    match field.sort {
        _ if is_first(field) => arg.value_name("AT").required(true),
        FieldSort::Tick => arg.long(field.name).action(ArgAction::SetTrue),
        FieldSort::Breakers | FieldSort::Wishes => {
            arg.long(field.name).action(ArgAction::Append).value_delimiter(',').default_values(usual)
        }
        _ => match usual {
            Some(usual) => arg.long(field.name).default_value(usual),
            None => arg.long(field.name),
        },
    }
}

/// What was said, as the answers to what the kind asks.
fn answers(house: &House, args: &OneJob) -> Result<BTreeMap<String, Value>, Bad> {
    let mut all = BTreeMap::new();
    for field in args.kind.fields {
        let value = match field.sort {
            FieldSort::Tick => args.said.get_flag(field.name).then_some(Value::Bool(true)),
            FieldSort::Breakers | FieldSort::Wishes => {
                let said = args.said.get_many::<String>(field.name).into_iter().flatten();
                let each = said.map(|text| answer(house, field, text)).collect::<Result<Vec<Value>, Bad>>()?;
                (!each.is_empty()).then_some(Value::Array(each))
            }
            _ => args.said.get_one::<String>(field.name).map(|text| answer(house, field, text)).transpose()?,
        };
        all.extend(value.map(|value| (field.name.to_owned(), value)));
    }
    Ok(all)
}

fn named(field: &str, kind: &Kind) -> String {
    let first = kind.fields.iter().any(|f| f.name == field && is_first(f));
    if first { "AT".to_owned() } else { format!("--{field}") }
}

fn answer(house: &House, field: &Field, text: &str) -> Result<Value, Bad> {
    let argument = if is_first(field) { "AT".to_owned() } else { format!("--{}", field.name) };
    Ok(match field.sort {
        FieldSort::Breaker | FieldSort::Breakers => json!(breaker(house, text, &argument)?.0),
        FieldSort::Panel => json!(panel_called(house, Some(text))?.id.0),
        FieldSort::Point => {
            let point = house.point_tagged(text.trim());
            json!(point.ok_or_else(|| Bad::new(format!("{argument}: no point has the tag \"{text}\"")))?.id.0)
        }
        FieldSort::Load => match house
            .loads_called(field.name, text)
            .map_err(|e| Bad::new(format!("{argument}: {}", e.message)))?
            .as_slice()
        {
            [one] => json!(one.0),
            _ => return Err(Bad::new(format!("{argument}: several things are at \"{text}\": write K3:toaster"))),
        },
        FieldSort::Room => {
            let room = house.rooms.iter().find(|r| r.name.eq_ignore_ascii_case(text.trim()));
            let room = room.ok_or_else(|| Bad::new(format!("{argument}: there is no room called \"{text}\"")))?;
            json!(room.id.0)
        }
        FieldSort::Number { limits } => {
            let unit = serde_json::from_value(json!(limits.unit)).unwrap_or(Unit::Count);
            json!(numbers::read(text, unit).map_err(|e| Bad::new(format!("{argument}: {e}")))?)
        }
        FieldSort::Space => json!(numbers::read(text, Unit::Count).map_err(|e| Bad::new(format!("{argument}: {e}")))?),
        FieldSort::Thing => {
            LoadKind::ALL.iter().find(|kind| kind.said() == text).map_or_else(|| json!(text), |kind| json!(kind))
        }
        FieldSort::YesNo | FieldSort::Tick => match text {
            "true" | "yes" => Value::Bool(true),
            "false" | "no" => Value::Bool(false),
            _ => return Err(Bad::new(format!("{argument}: true or false, not {text}"))),
        },
        FieldSort::Poles | FieldSort::Wishes | FieldSort::Choice { .. } | FieldSort::HalfSizes | FieldSort::Text => {
            json!(text)
        }
    })
}

/// Ends with 1 where something stands against it, or has to be known first.
pub fn show_job(args: &JobArgs) -> Result<ExitCode, Bad> {
    let common = &args.common;
    let house = read_house(&common.read.house)?;
    let beliefs = beliefs(&house);
    let draws = draws(&house, &beliefs);
    let loaded = Loaded::new(&house, &beliefs, &draws);
    let basis = Basis::new(&house, &beliefs, &loaded);
    let of = |house: &House, job: &OneJob, first| -> Result<Goal, Bad> {
        let bad = |e: wayfinder_core::Invalid| Bad::new(format!("{}: {}", named(&e.field, job.kind), e.message));
        job.kind.goal(house, &answers(house, job)?, first).map_err(bad)
    };
    let Some(first) = args.jobs.first() else { return Err(Bad::new("a job, please")) };
    if args.jobs.len() == 1 && first.kind.name == "combine" && !is_said(first, "keep") && !is_said(first, "give-up") {
        let panel = first.said.get_one::<String>("panel");
        let pairs = combine::candidates(&basis, panel_called(&house, panel.map(String::as_str))?.id);
        if common.read.json {
            print_json(&pairs)?
        } else {
            print(&pairs_told(&pairs))?
        }
        return Ok(ExitCode::SUCCESS);
    }
    let bad = |e: wayfinder_core::Invalid| Bad::new(format!("{}: {}", named(&e.field, first.kind), e.message));
    let goals = in_turn(&house, &args.jobs, free_id(&house), of)?;
    let goal = together(goals).ok_or_else(|| Bad::new("a job, please"))?;
    let mut planned = plan(&basis, &goal).map_err(bad)?;
    if let Some(way) = common.way {
        let of = planned.ways.len();
        let chosen = way.checked_sub(1).and_then(|nth| planned.ways.get(nth));
        let chosen = chosen.ok_or_else(|| Bad::new(format!("--way: there are {of} ways, from 1")))?.goal.clone();
        planned = plan(&basis, &chosen).map_err(bad)?;
    }
    if common.shopping {
        let list = shopping(&planned.parts, &planned.tools, &house.about.prices);
        if common.read.json { print_json(&list)? } else { print(&shop::csv(&list).map_err(Bad::new)?)? }
    } else if common.read.json {
        print_json(&planned)?
    } else {
        print(&told(&planned))?
    }
    Ok(if planned.is_open() { ExitCode::SUCCESS } else { ExitCode::from(1) })
}

#[derive(Args)]
pub struct JobsArgs {
    #[command(flatten)]
    read: Read,
    /// Just what is to be bought for all that is not opened yet, as a table.
    #[arg(long)]
    shopping: bool,
}

/// Jobs that are begun, in order.
pub fn show_jobs(args: &JobsArgs) -> Result<(), Bad> {
    loaded(&args.read, |house, loaded| {
        let beliefs = beliefs(house);
        let order = order(&Basis::new(house, &beliefs, loaded));
        if args.shopping {
            let list = shopping(&order.parts, &order.tools, &house.about.prices);
            if args.read.json { print_json(&list) } else { print(&shop::csv(&list).map_err(Bad::new)?) }
        } else if args.read.json {
            print_json(&order)
        } else {
            print(&order_told(&order))
        }
    })
}

fn order_told(order: &JobOrder) -> String {
    let mut out = String::new();
    for (nth, turn) in order.turns.iter().enumerate() {
        let _ =
            writeln!(out, "{}. {}: {}, about {} minutes. {}", nth + 1, turn.panel, turn.title, turn.minutes, turn.said);
    }
    if out.is_empty() { "No job is under way.\n".into() } else { out }
}

fn is_said(job: &OneJob, field: &str) -> bool {
    job.said.get_one::<String>(field).is_some()
}

/// The first id that no thing of the house has.
fn free_id(house: &House) -> u64 {
    let all = [
        house.breakers.iter().map(|b| b.id.0).max(),
        house.circuits.iter().map(|c| c.id.0).max(),
        house.points.iter().map(|p| p.id.0).max(),
        house.loads.iter().map(|l| l.id.0).max(),
        house.panels.iter().map(|p| p.id.0).max(),
    ];
    all.into_iter().flatten().max().unwrap_or(0) + 1
}

fn pairs_told(pairs: &[JoinPair]) -> String {
    let mut out = String::new();
    for pair in pairs.iter().take(12) {
        let _ = writeln!(
            out,
            "{}: up to {:.1} A at the usual peak, {:.1} all at once",
            pair.said, pair.usual.0, pair.worst.0
        );
        out.extend(pair.reasons_for.iter().map(|why| format!("  for: {why}\n")));
        out.extend(pair.reasons_against.iter().map(|why| format!("  against: {why}\n")));
        out.extend(pair.refused.iter().map(|no| format!("  not: {} ({})\n", no.why, no.source)));
    }
    if out.is_empty() { "No pair of circuits may share a breaker here.\n".into() } else { out }
}

fn told(plan: &Plan) -> String {
    let mut out = format!("{}\n{}\n{}\n", plan.title, plan.who.said, plan.permit);
    for ask in &plan.asks {
        let _ = writeln!(out, "? {}", ask.question);
    }
    for no in &plan.refused {
        let instead = if no.instead.is_empty() { String::new() } else { format!(" Instead: {}.", no.instead) };
        let _ = writeln!(out, "Not so: {} ({}).{instead}", no.why, no.source);
    }
    for caution in &plan.cautions {
        let _ = writeln!(out, "! {caution}");
    }
    for (nth, way) in plan.ways.iter().enumerate() {
        let mark = if way.chosen { "this" } else { "or" };
        let of = if way.of.is_empty() { String::new() } else { format!("{}: ", way.of) };
        let takes = if way.minutes == 0 { String::new() } else { format!(" About {} min.", way.minutes) };
        let _ = writeln!(out, "{mark} --way {}: {of}{} {}{takes}", nth + 1, way.title, way.why);
    }
    if !plan.is_open() {
        return out;
    }
    if !plan.spared.is_empty() {
        let _ = writeln!(out, "{}", plan.spared);
    }
    let (minutes, first) = (plan.minutes, plan.minutes_first);
    let _ = writeln!(out, "\nIt takes about {minutes} min for practised hands, {first} the first time. Stays live:");
    out.extend(plan.stays_live.iter().map(|live| format!("  {live}\n")));
    let _ = writeln!(out, "\nAt hand:");
    out.extend(plan.parts.iter().map(|part| format!("  {}\n", work_sheet::part(part))));
    let _ = writeln!(out, "  tools: {}", plan.tools.join(", "));
    let mut stage = None;
    for (nth, step) in plan.steps.iter().enumerate() {
        if stage != Some(step.stage) {
            stage = Some(step.stage);
            let _ = writeln!(out, "\n{}:", step.stage.said());
        }
        let _ = writeln!(out, "{:>3}. {}", nth + 1, step_told(step));
    }
    let _ = writeln!(out, "\nAfter:");
    out.extend(plan.changes.iter().map(|change| format!("  {change}\n")));
    out
}

fn step_told(step: &JobStep) -> String {
    let Some(hold) = &step.hold else { return step.what.clone() };
    let likely = hold.likely.filter(|v| *v > 0.0).map_or_else(String::new, |v| format!(", likely {v:.1}"));
    format!("{} [{:.0} to {:.0} V between {}{likely}]", step.what, hold.expect.from, hold.expect.to, hold.between)
}
