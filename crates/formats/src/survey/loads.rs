//! `loads.csv`: things that draw, at their points.

use jiff::Timestamp;
use wayfinder_core::Change;
use wayfinder_core::base::Said;
use wayfinder_core::base::units::{Amps, Horsepower, PlateVolts, VoltAmperes, Watts};
use wayfinder_core::house::{Habit, House, Load, LoadId, LoadKind};
use wayfinder_core::words::number::Unit;

use super::cells::{apply, code, coded, next, some, yes_or_no};
use super::rows::{Columns, Fault, File, NOTHING_TO_TIE, Row, cells, names};

pub const FILE: File = File {
    name: "loads.csv",
    must: &["point", "name"],
    columns: || names(COLUMNS),
    take: add,
    tie: NOTHING_TO_TIE,
    last: None,
    write: |house| house.loads.iter().map(|l| cells(COLUMNS, house, l)).collect(),
};

const COLUMNS: Columns<Load> = &[
    ("point", |house, l| some(house.points.get(l.point).map(|p| &p.tag))),
    ("name", |_, l| l.name.clone()),
    ("kind", |_, l| code(l.kind)),
    ("volts", |_, l| some(l.volts.map(u16::from))),
    ("watts", |_, l| some(l.watts.map(|w| w.0))),
    ("amps", |_, l| some(l.amps.map(|a| a.0))),
    ("va", |_, l| some(l.va.map(|va| va.0))),
    ("hp", |_, l| some(l.hp.map(|hp| hp.0))),
    ("mca", |_, l| some(l.mca.map(|a| a.0))),
    ("mop", |_, l| some(l.mop.map(|a| a.0))),
    ("phases", |_, l| if l.three_phase { "3".into() } else { String::new() }),
    ("duty", |_, l| some(l.duty)),
    ("motor", |_, l| yes_or_no(l.motor)),
    ("continuous", |_, l| yes_or_no(l.continuous)),
    ("habit", |_, l| l.habit.map_or_else(String::new, code)),
];

fn add(house: &mut House, row: &Row, _: Timestamp) -> Result<(), Fault> {
    let point = house.point_tagged(row.get("point")).ok_or_else(|| row.fault("point", "the tag of a point"))?.id;
    let volts = match row
        .optional::<u16>("volts", "what its plate prints, as 120 or 230, or nothing where it is the point's")?
    {
        Some(volts) => Some(PlateVolts::try_from(volts).map_err(|e| row.says("volts", e))?),
        None => None,
    };
    let load = Load {
        volts,
        watts: row.number("watts", Unit::W)?.map(Watts),
        amps: row.number("amps", Unit::A)?.map(Amps),
        va: row.number("va", Unit::Va)?.map(VoltAmperes),
        hp: row.number("hp", Unit::Hp)?.map(Horsepower),
        mca: row.number("mca", Unit::A)?.map(Amps),
        mop: row.number("mop", Unit::A)?.map(Amps),
        three_phase: match row.get("phases") {
            "" | "1" => false,
            "3" => true,
            _ => return Err(row.fault("phases", "1 or 3")),
        },
        duty: row.number("duty", Unit::Count)?,
        motor: row.yes_or_no("motor")?,
        continuous: row.yes_or_no("continuous")?,
        habit: coded(row, "habit", Habit::ALL)?,
        ..Load::new(
            LoadId(next(&house.loads, |l| l.id.0)),
            point,
            row.get("name"),
            coded(row, "kind", LoadKind::ALL)?.unwrap_or_default(),
        )
    };
    let columns = ["name", "volts", "watts", "amps", "va", "hp", "mca", "mop", "duty"];
    apply(house, &Change::PutLoad { load }).map_err(|e| {
        let column = columns.into_iter().find(|c| e.field == format!("load.{c}")).unwrap_or("point");
        row.says(column, e.message)
    })
}
