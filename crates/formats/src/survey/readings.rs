//! `readings.csv`: measured numbers.

use std::collections::BTreeSet;

use jiff::Timestamp;
use wayfinder_core::Change;
use wayfinder_core::base::Said;
use wayfinder_core::house::{
    Conductor, House, Instrument, LoadId, MeasuredAt, Quantity, Reading, ReadingId, Side, Span,
};
use wayfinder_core::words::number::Unit;

use super::cells::{Words, code, coded, next, word, yes};
use super::evidence::{off_breaker, panel, time, written_breaker};
use super::rows::{Columns, Fault, File, Last, NOTHING_TO_TIE, Row, cells, names};

pub const FILE: File = File {
    name: "readings.csv",
    must: &["quantity", "value"],
    columns: || names(COLUMNS),
    take: NOTHING_TO_TIE,
    tie: NOTHING_TO_TIE,
    last: Some(Last {
        says,
        columns: &[
            ("reading.place", "at"),
            ("reading.on", "on"),
            ("reading.quantity", "between"),
            ("reading.who", "who"),
        ],
        otherwise: "value",
    }),
    write: |house| house.readings.iter().map(|r| cells(COLUMNS, house, r)).collect(),
};

const BUS: &str = "bus";
const MAIN: &str = "main";
const FEED: &str = "feed";
const SIDES: Words<Side> = &[("", Side::Load), ("load", Side::Load), ("bus", Side::Bus)];
const SPANS: Words<Span> = &[("", Span::Spot), ("spot", Span::Spot), ("most", Span::Most), ("inrush", Span::Inrush)];
const INSTRUMENTS: [Instrument; 6] = [
    Instrument::Clamp,
    Instrument::Meter,
    Instrument::PlugIn,
    Instrument::UtilityMeter,
    Instrument::Monitor,
    Instrument::Infrared,
];

const COLUMNS: Columns<Reading> = &[
    ("time", |_, r| r.time.to_string()),
    ("panel", |house, r| {
        let panel = r.place.panel().and_then(|p| house.panels.get(p));
        panel.map_or_else(String::new, |p| p.name.clone())
    }),
    ("at", |house, r| match r.place {
        MeasuredAt::Breaker { breaker, .. } => written_breaker(house, breaker).unwrap_or_default(),
        MeasuredAt::Bus { .. } => BUS.into(),
        MeasuredAt::Main { .. } => MAIN.into(),
        MeasuredAt::Feed { .. } => FEED.into(),
        MeasuredAt::Point { .. } => String::new(),
    }),
    ("pole", |_, r| match r.place {
        MeasuredAt::Breaker { pole: Some(pole), .. } => pole.to_string(),
        _ => String::new(),
    }),
    ("side", |_, r| match r.place {
        MeasuredAt::Breaker { side: Side::Bus, .. } => "bus".into(),
        _ => String::new(),
    }),
    ("point", |house, r| r.place.point().and_then(|p| house.points.get(p)).map_or_else(String::new, |p| p.tag.clone())),
    ("quantity", |_, r| match r.quantity {
        Quantity::Amps { .. } => "amps".into(),
        Quantity::Volts { .. } => "volts".into(),
        Quantity::Watts => "watts".into(),
        Quantity::Degrees => "degrees".into(),
    }),
    ("between", |_, r| match r.quantity {
        Quantity::Amps { of: Some(of) } => of.said().into(),
        Quantity::Volts { between: Some([a, b]) } => format!("{}-{}", a.said(), b.said()),
        _ => String::new(),
    }),
    ("value", |_, r| r.value.to_string()),
    ("unit", |_, r| unit(r.quantity).into()),
    ("on", |house, r| r.on.iter().map(|load| named(house, *load)).collect::<Vec<_>>().join(";")),
    ("instrument", |_, r| code(r.instrument)),
    ("span", |_, r| if r.span == Span::Spot { String::new() } else { word(SPANS, r.span) }),
    ("who", |_, r| r.who.clone()),
    ("sure", |_, r| yes(r.sure)),
];

fn unit(quantity: Quantity) -> &'static str {
    match quantity {
        Quantity::Amps { .. } => "A",
        Quantity::Volts { .. } => "V",
        Quantity::Watts => "W",
        Quantity::Degrees => "C",
    }
}

/// A load by its name, with its point's tag before it where others are called the same.
fn named(house: &House, id: LoadId) -> String {
    let Some(load) = house.loads.get(id) else { return String::new() };
    if house.loads.iter().filter(|l| l.name.eq_ignore_ascii_case(&load.name)).count() == 1 {
        return load.name.clone();
    }
    let tag = house.points.get(load.point).map_or("", |p| p.tag.as_str());
    format!("{tag}:{}", load.name)
}

fn says(house: &House, row: &Row, now: Timestamp, before: u64) -> Result<Change, Fault> {
    let quantity = quantity(row)?;
    let asked = match quantity {
        Quantity::Amps { .. } => Unit::A,
        Quantity::Volts { .. } => Unit::V,
        Quantity::Watts => Unit::W,
        Quantity::Degrees => Unit::Celsius,
    };
    let value = row.number("value", asked)?.ok_or_else(|| row.fault("value", "a number"))?;
    let value = match (quantity, row.get("unit").to_ascii_uppercase().as_str()) {
        (Quantity::Degrees, "F") => (value - 32.0) / 1.8,
        (_, "") => value,
        (quantity, written) if written == unit(quantity) => value,
        _ => return Err(row.fault("unit", &format!("{}, the unit of what was measured", unit(quantity)))),
    };
    let reading = Reading {
        id: ReadingId(next(&house.readings, |r| r.id.0) + before),
        time: time(row, now)?,
        who: Some(row.get("who")).filter(|w| !w.is_empty()).unwrap_or("survey").into(),
        place: place(house, row)?,
        quantity,
        value,
        instrument: coded(row, "instrument", &INSTRUMENTS)?.unwrap_or(match quantity {
            Quantity::Amps { .. } => Instrument::Clamp,
            Quantity::Volts { .. } => Instrument::Meter,
            Quantity::Watts => Instrument::PlugIn,
            Quantity::Degrees => Instrument::Infrared,
        }),
        span: row.one_of("span", SPANS)?,
        on: was_on(house, row)?,
        sure: row.yes_or_no("sure")?.unwrap_or(false),
    };
    Ok(Change::NoteReading { reading })
}

fn quantity(row: &Row) -> Result<Quantity, Fault> {
    let conductor = |text: &str| Conductor::ALL.iter().find(|c| c.said().eq_ignore_ascii_case(text.trim())).copied();
    let between = row.get("between");
    let none = between.is_empty();
    match row.get("quantity").to_ascii_lowercase().as_str() {
        "amps" if none => Ok(Quantity::Amps { of: None }),
        "amps" => {
            let of = conductor(between).ok_or_else(|| row.fault("between", "the conductor: A, B, C, N or G"))?;
            Ok(Quantity::Amps { of: Some(of) })
        }
        "volts" if none => Ok(Quantity::Volts { between: None }),
        "volts" => {
            let pair = between.split_once('-').and_then(|(a, b)| Some([conductor(a)?, conductor(b)?]));
            let pair = pair.ok_or_else(|| row.fault("between", "two conductors, as A-N"))?;
            Ok(Quantity::Volts { between: Some(pair) })
        }
        "watts" => Ok(Quantity::Watts),
        "degrees" => Ok(Quantity::Degrees),
        _ => Err(row.fault("quantity", "one of amps, volts, watts, degrees")),
    }
}

fn place(house: &House, row: &Row) -> Result<MeasuredAt, Fault> {
    if !row.get("point").is_empty() {
        let point = house.point_tagged(row.get("point")).ok_or_else(|| row.fault("point", "the tag of a point"))?.id;
        return Ok(MeasuredAt::Point { point });
    }
    let panel = panel(house, row)?;
    let here = || panel.ok_or_else(|| row.fault("panel", "the name of a panel"));
    match row.get("at").to_ascii_lowercase().as_str() {
        "" => Err(row.fault("at", "a breaker, bus, main or feed; or the tag of a point in its own column")),
        BUS => Ok(MeasuredAt::Bus { panel: here()? }),
        MAIN => Ok(MeasuredAt::Main { panel: here()? }),
        FEED => Ok(MeasuredAt::Feed { panel: here()? }),
        at => {
            let breaker = off_breaker(house, row, panel, at).map_err(|e| row.says("at", e.message))?;
            let pole = row.optional("pole", "the number of a pole, from 1 at the top")?;
            Ok(MeasuredAt::Breaker { breaker, pole, side: row.one_of("side", SIDES)? })
        }
    }
}

/// Loads by name, all of a point by its tag, or `K3:toaster` where a name stands twice.
fn was_on(house: &House, row: &Row) -> Result<BTreeSet<LoadId>, Fault> {
    let mut on = BTreeSet::new();
    for part in row.list("on") {
        on.extend(house.loads_called("on", part).map_err(|e| row.says("on", e.message))?);
    }
    Ok(on)
}
