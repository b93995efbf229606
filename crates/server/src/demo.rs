//! The demo house, Thistledown School: invented, its files are part of the program.

use anyhow::Context;
use jiff::Timestamp;
use wayfinder_core::base::position::parse_poles;
use wayfinder_core::base::units::{Amps, Inches, Volts};
use wayfinder_core::house::{
    CardSize, EnergyId, EnergyRecord, Event, Goal, JobAct, JobId, LogEntry, LogId, Outcome, Picture, PictureId,
    PictureOf, ServiceReading, TripManner, zone,
};
use wayfinder_core::practice::{self, StandIn};
use wayfinder_core::{Change, House};
use wayfinder_formats::survey::{BadRows, Fault, Survey, import};
use wayfinder_formats::{energy, picture};
use wayfinder_store::{HouseId, PictureBytes};

use crate::hub::Hub;

macro_rules! file {
    ($name:literal) => {
        include_str!(concat!("../../../demo/thistledown-school/", $name))
    };
}

/// What really feeds the demo's points: `tag,floor,room,kind,name,volts,watts,panel,at`. For tests and stand-ins only.
pub const TRUTH: &str = file!("truth.csv");

/// The year that the demo's meter recorded, by which clock, and what it is made from.
const YEAR_FROM: &str = "2025-10-01T04:00:00Z";
const ZONE: &str = "America/New_York";
const YEAR_SEED: u64 = 8;

/// What the demo's loads really draw: `load,amps`. For stand-ins only.
const DRAWS: &str = file!("draws.csv");

/// A picture of the demo: what it shows, its caption, its drawing.
const LABEL: &[u8] = include_bytes!("../../../demo/thistledown-school/main-label.svg");

/// The demo house with its pictures, in a server's database.
///
/// # Errors
/// What the database says, or where the files that are part of the program have a fault.
pub fn add(hub: &Hub) -> anyhow::Result<HouseId> {
    let mut house = house().map_err(|faults| anyhow::anyhow!("{faults:?}"))?;
    // Our own drawing needs no child to draw it.
    let ready = picture::prepare(&picture::draw(LABEL)?)?;
    let bytes = PictureBytes { kind: ready.kind.into(), bytes: ready.bytes };
    let digest = hub.store.keep_picture(&bytes)?;
    if let Some(main) = house.panel_named("Main").map(|p| p.id) {
        house.pictures.put(Picture {
            id: PictureId(1),
            of: PictureOf::Panel { panel: main },
            time: Timestamp::UNIX_EPOCH,
            who: "Wren".into(),
            caption: "the label inside the door".into(),
            width: ready.width,
            height: ready.height,
            digest,
        });
    }
    let clock = zone(ZONE)?;
    let numbers = practice::year(YEAR_FROM.parse()?, &clock, YEAR_SEED);
    let summary = numbers.summary(&clock);
    house.energy.put(EnergyRecord {
        id: EnergyId(1),
        name: "thistledown-year.xml".into(),
        time: numbers.end(),
        who: "Wren".into(),
        from: numbers.start,
        to: numbers.end(),
        step: numbers.step,
        zone: ZONE.into(),
        largest: summary.largest,
        base: summary.base,
        kwh: summary.kwh,
        reverse: false,
        missing: summary.missing,
        digest: hub.store.keep_energy(&energy::packed(&numbers))?,
    });
    let house = logged(&half_way(&house)?)?;
    let id = hub.add_house(&house)?;
    hub.set_stand_in(id, truth(&house)?);
    Ok(id)
}

/// What the logbook says of the weeks before: the bakehouse breaker tripped with two machines on.
fn logged(house: &House) -> anyhow::Result<House> {
    let main = house.panel_named("Main").context("no panel Main")?.id;
    let bakehouse = house.panel_named("Bakehouse").context("no panel Bakehouse")?.id;
    let breaker = house.breaker_at(bakehouse, &parse_poles("5")?).context("no breaker 5")?.id;
    let on = |tags: &[&str]| tags.iter().filter_map(|tag| house.point_tagged(tag)).map(|p| p.id).collect();
    let volts =
        ServiceReading { a_n: Volts(120.6), b_n: Volts(120.1), a_b: Volts(240.7), c_n: None, b_c: None, c_a: None };
    let told = [
        ("2026-09-12T13:20:00Z", "Wren", Event::Volts { panel: main, reading: volts }, "all ovens off"),
        (
            "2026-09-19T05:40:00Z",
            "Ash",
            Event::Trip { breaker, running: on(&["E3", "E5"]), manner: Some(TripManner::Minutes) },
            "dough for the market",
        ),
        (
            "2026-09-19T05:50:00Z",
            "Ash",
            Event::Reset { breaker, running: on(&["E5"]), outcome: Outcome::Held },
            "mixer switched off first",
        ),
        (
            "2026-10-01T16:00:00Z",
            "Wren",
            Event::Note { panel: Some(main) },
            "the label inside the door was photographed",
        ),
    ];
    told.into_iter().zip(101..).try_fold(house.clone(), |house, ((time, who, event, note), id)| {
        let entry = LogEntry { id: LogId(id), time: time.parse()?, who: who.into(), event, note: note.into() };
        let logged = house.apply(&Change::Log { entry })?.house;
        Ok(House { revision: house.revision, ..logged })
    })
}

/// One job half way: the breaker of the bell hoist is to be replaced, and the new one is not there yet.
fn half_way(house: &House) -> anyhow::Result<House> {
    let breaker = house.breaker_called("27-29").context("no breaker 27-29")?;
    let (job, who, time) = (JobId(1), "Wren".to_owned(), "2026-10-04T14:00:00Z".parse()?);
    let goal = Goal::Replace { breaker, amps: None, model: String::new() };
    let act = |act| Change::ActInJob { job, act, who: who.clone(), time };
    let done = |step: &str| act(JobAct::Done { step: step.to_owned(), noted: String::new() });
    let stop = act(JobAct::Stop { why: "the new breaker comes on Friday".into() });
    let changes = [
        Change::BeginJob { job, goal: Box::new(goal), instead: [].into(), who: who.clone(), time },
        done("allowed"),
        done("ready"),
        stop,
    ];
    let changed = changes.iter().try_fold(house.clone(), |house, change| Ok(house.apply(change)?.house));
    changed.map(|changed: House| House { revision: house.revision, ..changed })
}

/// The hidden truth behind the demo house, for its tools.
///
/// # Errors
/// Where truth.csv has a fault; a test sees to it that it has none.
pub fn truth(house: &House) -> anyhow::Result<StandIn> {
    let mut stand_in = StandIn::default();
    for row in csv::Reader::from_reader(TRUTH.as_bytes()).records() {
        let row = row?;
        let cell = |nth| row.get(nth).unwrap_or_default();
        let point = house.point_tagged(cell(0)).with_context(|| format!("no point {}", cell(0)))?;
        let feeder = match cell(7) {
            "" => None,
            name => {
                let panel = house.panel_named(name).with_context(|| format!("no panel {name}"))?;
                let at = parse_poles(cell(8))?;
                Some(house.breaker_at(panel.id, &at).with_context(|| format!("no breaker {name} {}", cell(8)))?.id)
            }
        };
        stand_in.truth.insert(point.id, feeder);
    }
    for row in csv::Reader::from_reader(DRAWS.as_bytes()).records() {
        let row = row?;
        let called = row.get(0).unwrap_or_default();
        let load = house.loads_called("load", called).ok().and_then(|l| l.first().copied());
        let amps = row.get(1).unwrap_or_default().parse().with_context(|| format!("{called}: no amperes"))?;
        stand_in.draws.insert(load.with_context(|| format!("no load {called}"))?, Amps(amps));
    }
    Ok(stand_in)
}

/// The demo house as a survey found it, traced in part.
///
/// # Errors
/// Where the files that are part of the program have a fault; a test sees to it that they have none.
pub fn house() -> Result<House, Vec<Fault>> {
    let files = [
        ("about.csv", file!("about.csv")),
        ("panels.csv", file!("panels.csv")),
        ("breakers.csv", file!("breakers.csv")),
        ("wires.csv", file!("wires.csv")),
        ("rooms.csv", file!("rooms.csv")),
        ("openings.csv", file!("openings.csv")),
        ("points.csv", file!("points.csv")),
        ("evidence.csv", file!("evidence.csv")),
        ("loads.csv", file!("loads.csv")),
        ("readings.csv", file!("readings.csv")),
    ];
    let survey = Survey::from_files(|name| files.iter().find(|(file, _)| *file == name).map(|(_, text)| *text));
    let mut house = import("Thistledown School", &survey, Timestamp::UNIX_EPOCH, BadRows::Refuse)?.house;
    let panels: Vec<_> = house.panels.iter().cloned().collect();
    for mut panel in panels {
        panel.card = Some(CardSize { width: Inches(5.0), height: Inches(9.5) });
        house.panels.put(panel);
    }
    Ok(house)
}
