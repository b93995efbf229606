//! `about.csv`: the house's name and settings.

use jiff::Timestamp;
use wayfinder_core::Change;
use wayfinder_core::house::{About, House};

use super::cells::{apply, yes};
use super::rows::{Columns, Fault, File, NOTHING_TO_TIE, Row, cells, names};

pub const FILE: File = File {
    name: "about.csv",
    must: &[],
    columns: || names(COLUMNS),
    take: set,
    tie: NOTHING_TO_TIE,
    last: false,
    write: |house| vec![cells(COLUMNS, house, &house.about)],
};

const COLUMNS: Columns<About> = &[("name", |_, a| a.name.clone()), ("every_panel", |_, a| yes(a.every_panel))];

fn set(house: &mut House, row: &Row, _: Timestamp) -> Result<(), Fault> {
    let mut about = house.about.clone();
    if !row.get("name").is_empty() {
        about.name = row.get("name").into();
    }
    about.every_panel = row.yes_or_no("every_panel")?.unwrap_or(about.every_panel);
    apply(house, &Change::SetAbout { about }).map_err(|e| row.invalid(e, &[], "name"))
}
