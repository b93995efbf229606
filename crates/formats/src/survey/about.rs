//! `about.csv`: the house's name and settings.

use jiff::Timestamp;
use wayfinder_core::Change;
use wayfinder_core::house::{About, AreaUnit, Country, House, LivingArea};
use wayfinder_core::words::number::Unit;

use super::cells::{apply, code, coded, some, yes};
use super::rows::{Columns, Fault, File, NOTHING_TO_TIE, Row, cells, names};

pub const FILE: File = File {
    name: "about.csv",
    must: &[],
    columns: || names(COLUMNS),
    take: set,
    tie: NOTHING_TO_TIE,
    last: None,
    write: |house| vec![cells(COLUMNS, house, &house.about)],
};

const COLUMNS: Columns<About> = &[
    ("name", |_, a| a.name.clone()),
    ("area", |_, a| some(a.area.map(|area| area.value))),
    ("unit", |_, a| a.area.map_or_else(String::new, |area| code(area.unit))),
    ("country", |_, a| code(a.country)),
    ("every_panel", |_, a| yes(a.every_panel)),
    ("absent", |_, a| a.absent.iter().cloned().collect::<Vec<_>>().join(";")),
];

fn set(house: &mut House, row: &Row, _: Timestamp) -> Result<(), Fault> {
    let mut about = house.about.clone();
    if !row.get("name").is_empty() {
        about.name = row.get("name").into();
    }
    about.every_panel = row.yes_or_no("every_panel")?.unwrap_or(about.every_panel);
    if !row.get("area").is_empty() {
        let unit = coded(row, "unit", &[AreaUnit::Ft2, AreaUnit::M2])?;
        let unit = unit.ok_or_else(|| row.fault("unit", "ft2 or m2 beside an area"))?;
        let asked = if unit == AreaUnit::Ft2 { Unit::Ft2 } else { Unit::M2 };
        let value = row.number("area", asked)?.unwrap_or_default();
        about.area = Some(LivingArea { value, unit });
    }
    about.country = coded(row, "country", &[Country::Us, Country::Ca])?.unwrap_or(about.country);
    about.absent.extend(row.list("absent").map(str::to_owned));
    let columns = [("about.area", "area")];
    apply(house, &Change::SetAbout { about }).map_err(|e| row.invalid(e, &columns, "name"))
}
