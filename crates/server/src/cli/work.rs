//! Jobs planned on the command line.

use std::fmt::Write;
use std::process::ExitCode;

use clap::{Args, Subcommand, ValueEnum};
use wayfinder_core::base::Said;
use wayfinder_core::base::position::{Position, parse_poles};
use wayfinder_core::base::units::{Amps, Feet, Horsepower, PlateVolts, Watts};
use wayfinder_core::house::{
    BreakerId, CircuitId, Device, Goal, Halves, House, JobStep, Joined, Joining, Load, LoadId, LoadKind, MakeRoom,
    NewCircuit, Panel, Point, PointId, PointKind, TandemSpaces,
};
use wayfinder_core::job::combine::{self, JoinPair};
use wayfinder_core::job::{Basis, Plan, plan};
use wayfinder_core::load::Loaded;
use wayfinder_core::load::draws::draws;
use wayfinder_core::trace::beliefs;

use super::files::{Bad, read_house};
use super::numbers;
use super::{Read, breaker, panel_called, print, print_json};

#[derive(Subcommand)]
pub enum JobArgs {
    /// A breaker in place of a bad one.
    Replace {
        #[command(flatten)]
        common: Common,
        /// The breaker, as 5-7 or Annex:3.
        at: String,
        /// The new one's rating, where it differs.
        #[arg(long, value_parser = numbers::amps)]
        amps: Option<f64>,
        /// The new one's type.
        #[arg(long, default_value = "")]
        model: String,
    },
    /// Two circuits on one breaker. Without --keep: which pairs may, the best first.
    Combine {
        #[command(flatten)]
        common: Common,
        /// The breaker that stays.
        #[arg(long, requires = "give_up")]
        keep: Option<String>,
        /// The breaker that is given up.
        #[arg(long, requires = "keep")]
        give_up: Option<String>,
        /// Both wires under the terminal, instead of a splice.
        #[arg(long)]
        terminal: bool,
        /// The panel whose pairs are listed; otherwise the first.
        #[arg(long)]
        panel: Option<String>,
    },
    /// A tandem in place of two single breakers.
    Tandem {
        #[command(flatten)]
        common: Common,
        /// The one that becomes the upper half.
        #[arg(long)]
        upper: String,
        /// The one that becomes the lower half.
        #[arg(long)]
        lower: String,
        /// The space that both get.
        #[arg(long)]
        space: u16,
    },
    /// A new circuit.
    Add(NewArgs),
    /// A new circuit with an outlet for one large thing.
    Dedicated(NewArgs),
    /// A circuit of one leg becomes one of two, or back.
    Convert {
        #[command(flatten)]
        common: Common,
        /// The breaker, as 5-7 or Annex:3.
        at: String,
        /// 240 for two legs (208 on a wye), 120 for one.
        #[arg(long)]
        to: u16,
    },
    /// Ground-fault or arc-fault protection in the breaker.
    Protect {
        #[command(flatten)]
        common: Common,
        /// The breaker, as 5-7 or Annex:3.
        at: String,
        /// Which.
        #[arg(long = "with")]
        device: Protection,
        /// Ground-fault devices at outlets stay.
        #[arg(long)]
        keep_devices: bool,
    },
    /// Breakers change places, for room or for even legs.
    Rearrange {
        #[command(flatten)]
        common: Common,
        /// 1p, 2p, 3p, 5=2p for room at a place, or balance; may be given again.
        #[arg(long = "for", required = true)]
        wishes: Vec<String>,
        /// The panel; otherwise the first.
        #[arg(long)]
        panel: Option<String>,
        /// Breakers that stay where they are; several with commas.
        #[arg(long, value_delimiter = ',')]
        fixed: Vec<String>,
    },
    /// A new panel in place of an old one.
    Makeup {
        #[command(flatten)]
        common: Common,
        /// The panel; otherwise the first.
        #[arg(long)]
        panel: Option<String>,
        /// Spaces of the new one.
        #[arg(long)]
        spaces: u16,
        /// Rating of its bus.
        #[arg(long, value_parser = numbers::amps)]
        bus: Option<f64>,
        /// Rating of its main.
        #[arg(long, value_parser = numbers::amps)]
        main: Option<f64>,
    },
    /// A generator's inlet on an interlocked breaker.
    Generator {
        #[command(flatten)]
        common: Common,
        /// The panel; otherwise the first.
        #[arg(long)]
        panel: Option<String>,
        /// What it gives for hours.
        #[arg(long, value_parser = numbers::watts)]
        watts: f64,
        /// The place that the interlock asks for, as 2-4.
        #[arg(long)]
        at: Option<String>,
        /// The interlock is listed for this panel.
        #[arg(long)]
        listed: Option<bool>,
        /// Circuits that it is to carry; several with commas.
        #[arg(long, value_delimiter = ',')]
        carries: Vec<String>,
    },
    /// A circuit that is not used any more.
    Retire {
        #[command(flatten)]
        common: Common,
        /// The breaker, as 5-7 or Annex:3.
        at: String,
        /// The breaker stays as a spare.
        #[arg(long)]
        spare: bool,
    },
}

#[derive(Args)]
pub struct Common {
    #[command(flatten)]
    read: Read,
    /// Where there are several ways: this one, from 1.
    #[arg(long)]
    way: Option<usize>,
}

#[derive(Clone, Copy, ValueEnum)]
pub enum Protection {
    Gfci,
    Afci,
    Dual,
}

#[derive(Args)]
pub struct NewArgs {
    #[command(flatten)]
    common: Common,
    /// The room, as it is called in the house.
    #[arg(long)]
    room: String,
    /// What people call it.
    #[arg(long)]
    name: String,
    /// The panel; otherwise the first.
    #[arg(long)]
    panel: Option<String>,
    /// The voltage it is made for: 120, 208 or 240.
    #[arg(long, default_value_t = 120)]
    volts: u16,
    /// What it is.
    #[arg(long)]
    kind: Option<String>,
    /// Its nameplate: watts,
    #[arg(long, value_parser = numbers::watts)]
    watts: Option<f64>,
    /// or amperes,
    #[arg(long, value_parser = numbers::amps)]
    amps: Option<f64>,
    /// or horsepower,
    #[arg(long, value_parser = numbers::horsepower)]
    hp: Option<f64>,
    /// or minimum circuit ampacity
    #[arg(long, value_parser = numbers::amps)]
    mca: Option<f64>,
    /// and largest breaker.
    #[arg(long, value_parser = numbers::amps)]
    mop: Option<f64>,
    /// It runs for three hours or more.
    #[arg(long)]
    continuous: bool,
    /// It takes a neutral.
    #[arg(long)]
    neutral: Option<bool>,
    /// It is plugged in.
    #[arg(long)]
    plugged: bool,
    /// Length of the wire one way, in feet.
    #[arg(long, value_parser = numbers::feet)]
    length: Option<f64>,
    /// The breaker's rating, where it shall not follow from the nameplate.
    #[arg(long, value_parser = numbers::amps)]
    breaker: Option<f64>,
    /// Where its breaker goes, as 5-7; otherwise where it suits best.
    #[arg(long)]
    at: Option<String>,
}

/// Ends with 1 where something stands against it, or has to be known first.
pub fn show_job(args: &JobArgs) -> Result<ExitCode, Bad> {
    let common = common(args);
    let house = read_house(&common.read.house)?;
    let beliefs = beliefs(&house);
    let draws = draws(&house, &beliefs);
    let loaded = Loaded::new(&house, &beliefs, &draws);
    let basis = Basis::new(&house, &beliefs, &loaded);
    if let JobArgs::Combine { keep: None, panel, .. } = args {
        let pairs = combine::candidates(&basis, panel_called(&house, panel.as_deref())?.id);
        if common.read.json {
            print_json(&pairs)?
        } else {
            print(&pairs_told(&pairs))?
        }
        return Ok(ExitCode::SUCCESS);
    }
    let goal = goal(&house, args)?;
    let bad = |e: wayfinder_core::Invalid| Bad::new(format!("--{}: {}", e.field, e.message));
    let mut planned = plan(&basis, &goal).map_err(bad)?;
    if let Some(way) = common.way {
        let of = planned.ways.len();
        let chosen = way.checked_sub(1).and_then(|nth| planned.ways.get(nth));
        let chosen = chosen.ok_or_else(|| Bad::new(format!("--way: there are {of} ways, from 1")))?.goal.clone();
        planned = plan(&basis, &chosen).map_err(bad)?;
    }
    if common.read.json {
        print_json(&planned)?
    } else {
        print(&told(&planned))?
    }
    Ok(if planned.is_open() { ExitCode::SUCCESS } else { ExitCode::from(1) })
}

fn common(args: &JobArgs) -> &Common {
    match args {
        JobArgs::Replace { common, .. }
        | JobArgs::Combine { common, .. }
        | JobArgs::Tandem { common, .. }
        | JobArgs::Convert { common, .. }
        | JobArgs::Protect { common, .. }
        | JobArgs::Rearrange { common, .. }
        | JobArgs::Makeup { common, .. }
        | JobArgs::Generator { common, .. }
        | JobArgs::Retire { common, .. } => common,
        JobArgs::Add(new) | JobArgs::Dedicated(new) => &new.common,
    }
}

fn poles(text: Option<&String>, argument: &str) -> Result<Vec<Position>, Bad> {
    text.map_or(Ok(Vec::new()), |text| parse_poles(text).map_err(|e| Bad::new(format!("{argument}: {e}"))))
}

/// The first id that no thing of the house has.
fn free_id(house: &House) -> u64 {
    let all = [
        house.breakers.iter().map(|b| b.id.0).max(),
        house.circuits.iter().map(|c| c.id.0).max(),
        house.points.iter().map(|p| p.id.0).max(),
        house.loads.iter().map(|l| l.id.0).max(),
    ];
    all.into_iter().flatten().max().unwrap_or(0) + 1
}

fn goal(house: &House, args: &JobArgs) -> Result<Goal, Bad> {
    let at = |text: &str, argument: &str| breaker(house, text, argument);
    Ok(match args {
        JobArgs::Replace { at: place, amps, model, .. } => {
            Goal::Replace { breaker: at(place, "AT")?, amps: amps.map(Amps), model: model.clone() }
        }
        JobArgs::Combine { keep, give_up, terminal, .. } => Goal::Combine(Joining {
            keep: at(keep.as_deref().unwrap_or_default(), "--keep")?,
            give_up: at(give_up.as_deref().unwrap_or_default(), "--give-up")?,
            way: if *terminal { Joined::Terminal } else { Joined::Splice },
        }),
        JobArgs::Tandem { upper, lower, space, .. } => {
            Goal::Tandem(Halves { upper: at(upper, "--upper")?, lower: at(lower, "--lower")?, space: *space })
        }
        JobArgs::Add(new) => Goal::Add(new_circuit(house, new)?),
        JobArgs::Dedicated(new) => Goal::Dedicated(new_circuit(house, new)?),
        JobArgs::Convert { at: place, to, .. } => {
            let two_legs = match to {
                120 => false,
                208 | 240 => true,
                other => return Err(Bad::new(format!("--to: 240 (208 on a wye) or 120, not {other}"))),
            };
            Goal::Convert { breaker: at(place, "AT")?, two_legs, at: Vec::new(), moves: Vec::new() }
        }
        JobArgs::Protect { at: place, device, keep_devices, .. } => {
            let device = match device {
                Protection::Gfci => Device::Gfci,
                Protection::Afci => Device::Afci,
                Protection::Dual => Device::Dual,
            };
            Goal::Protect { breaker: at(place, "AT")?, device, keep_devices: *keep_devices }
        }
        JobArgs::Rearrange { wishes, panel, fixed, .. } => Goal::Rearrange {
            panel: panel_called(house, panel.as_deref())?.id,
            wishes: wishes.clone(),
            fixed: fixed.iter().map(|b| at(b, "--fixed")).collect::<Result<_, _>>()?,
            room: MakeRoom::default(),
        },
        JobArgs::Makeup { panel, spaces, bus, main, .. } => {
            let old = panel_called(house, panel.as_deref())?;
            let new = Panel {
                spaces: *spaces,
                bus: bus.map_or(old.bus, Amps),
                main: main.map(Amps).or(old.main),
                tandem: TandemSpaces::None,
                tandem_known: None,
                max_circuits: None,
                listed: Vec::new(),
                model: String::new(),
                empty: [].into(),
                ..old.clone()
            };
            Goal::Makeup { panel: new, moves: Vec::new() }
        }
        JobArgs::Generator { panel, watts, at: place, listed, carries, .. } => Goal::Generator {
            panel: panel_called(house, panel.as_deref())?.id,
            breaker: BreakerId(free_id(house)),
            watts: Watts(*watts),
            at: poles(place.as_ref(), "--at")?,
            listed: *listed,
            carries: carries.iter().map(|b| at(b, "--carries")).collect::<Result<_, _>>()?,
            moves: Vec::new(),
        },
        JobArgs::Retire { at: place, spare, .. } => Goal::Retire { breaker: at(place, "AT")?, spare: *spare },
    })
}

fn new_circuit(house: &House, new: &NewArgs) -> Result<NewCircuit, Bad> {
    let room = house.rooms.iter().find(|r| r.name.eq_ignore_ascii_case(new.room.trim()));
    let room = room.ok_or_else(|| Bad::new(format!("--room: there is no room called \"{}\"", new.room)))?;
    let printed = PlateVolts::try_from(new.volts).map_err(|e| Bad::new(format!("--volts: {e}")))?;
    let volts = printed.nominal();
    let id = free_id(house);
    let named = |text: &String| LoadKind::ALL.iter().copied().find(|k| k.said() == text.as_str());
    let kind = match &new.kind {
        Some(text) => named(text).ok_or_else(|| {
            let all: Vec<&str> = LoadKind::ALL.iter().map(|k| k.said()).collect();
            Bad::new(format!("--kind: one of {}", all.join(", ")))
        })?,
        None => LoadKind::Other,
    };
    let plate = [new.watts, new.amps, new.hp, new.mca].iter().any(Option::is_some);
    let load = Load {
        volts: Some(printed),
        watts: new.watts.map(Watts),
        amps: new.amps.map(Amps),
        hp: new.hp.map(Horsepower),
        mca: new.mca.map(Amps),
        mop: new.mop.map(Amps),
        motor: new.hp.map(|_| true),
        continuous: new.continuous.then_some(true),
        ..Load::new(LoadId(id), PointId(id), new.name.trim(), kind)
    };
    let kind = if new.plugged || !plate { PointKind::Receptacle } else { PointKind::Appliance };
    let point = Point::new(PointId(id), format!("N{id}"), room.id, kind);
    Ok(NewCircuit {
        panel: panel_called(house, new.panel.as_deref())?.id,
        point: Point { name: new.name.trim().into(), volts: Some(volts), ..point },
        load: plate.then_some(load),
        neutral: new.neutral,
        plugged: new.plugged,
        length: new.length.map(Feet),
        breaker: BreakerId(id),
        circuit: CircuitId(id),
        amps: new.breaker.map(Amps),
        at: poles(new.at.as_ref(), "--at")?,
        room: MakeRoom::default(),
    })
}

fn pairs_told(pairs: &[JoinPair]) -> String {
    let mut out = String::new();
    for pair in pairs.iter().take(12) {
        let _ =
            writeln!(out, "{}: {:.1} A at the usual peak, {:.1} all at once", pair.said, pair.usual.0, pair.worst.0);
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
        let _ = writeln!(out, "{mark} --way {}: {} {}", nth + 1, way.title, way.why);
    }
    if !plan.is_open() {
        return out;
    }
    let _ = writeln!(out, "\nIt takes about {} min. Stays live:", plan.minutes);
    out.extend(plan.stays_live.iter().map(|live| format!("  {live}\n")));
    let _ = writeln!(out, "\nAt hand:");
    out.extend(plan.parts.iter().map(|part| format!("  {} × {}\n", part.count, part.what)));
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
