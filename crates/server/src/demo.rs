//! The demo house, Thistledown School: invented, its files are part of the program.

use jiff::Timestamp;
use wayfinder_core::House;
use wayfinder_core::house::CardSize;
use wayfinder_core::units::Inches;
use wayfinder_formats::survey::{BadRows, Fault, Survey, import};

macro_rules! file {
    ($name:literal) => {
        include_str!(concat!("../../../demo/thistledown-school/", $name))
    };
}

/// What really feeds the demo's points: `tag,floor,room,kind,name,volts,watts,panel,at`. For tests and stand-ins only.
pub const TRUTH: &str = file!("truth.csv");

/// The demo house as a survey found it, traced in part.
///
/// # Errors
/// Where the files that are part of the program have a fault; a test sees to it that they have none.
pub fn house() -> Result<House, Vec<Fault>> {
    let survey = Survey {
        panels: Some(file!("panels.csv")),
        breakers: Some(file!("breakers.csv")),
        points: Some(file!("points.csv")),
        evidence: Some(file!("evidence.csv")),
        ..Survey::default()
    };
    let mut house = import("Thistledown School", survey, Timestamp::UNIX_EPOCH, BadRows::Refuse)?.house;
    let panels: Vec<_> = house.panels.iter().cloned().collect();
    for mut panel in panels {
        panel.card = Some(CardSize { width: Inches(5.0), height: Inches(9.5) });
        house.panels.put(panel);
    }
    Ok(house)
}
