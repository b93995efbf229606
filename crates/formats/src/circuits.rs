//! `circuits.csv`: the directory as a table, one row a place in a panel.

use wayfinder_core::House;
use wayfinder_core::directory::{Standing, card};
use wayfinder_core::house::tag_key;
use wayfinder_core::trace::{Beliefs, Status};

/// The word for a standing in files.
#[must_use]
pub fn standing_word(standing: Standing) -> &'static str {
    match standing {
        Standing::Proven => "proven",
        Standing::Partly => "partly",
        Standing::Unproven => "unproven",
        Standing::NothingFound => "nothing found",
        Standing::Empty => "empty",
        Standing::NotEntered => "not entered",
    }
}

/// All panels' circuits.
///
/// # Errors
/// Where the text cannot be written; memory only.
pub fn circuits_csv(house: &House, beliefs: &Beliefs) -> Result<String, csv::Error> {
    let mut out = csv::WriterBuilder::new().terminator(csv::Terminator::CRLF).from_writer(Vec::new());
    out.write_record(["panel", "at", "amps", "standing", "feeds", "probably", "points", "found_label"])?;
    for panel in house.panels_in_order() {
        for entry in card(house, beliefs, panel).entries {
            let amps = entry.amps.map_or_else(String::new, |a| a.0.to_string());
            let points = proven_tags(beliefs, &panel.name, &entry.at);
            out.write_record([
                panel.name.as_str(),
                &entry.at,
                &amps,
                standing_word(entry.standing),
                &entry.feeds,
                &entry.probably,
                &points,
                &entry.found_label,
            ])?;
        }
    }
    let bytes = out.into_inner().map_err(|e| e.into_error())?;
    Ok(String::from_utf8_lossy(&bytes).into_owned())
}

fn proven_tags(beliefs: &Beliefs, panel: &str, at: &str) -> String {
    let on_it = |c: &wayfinder_core::trace::Candidate| c.at.panel == panel && c.at.at == at;
    let proven = beliefs.points.iter().filter(|p| p.status == Status::Proven);
    let mut tags: Vec<_> = proven.filter(|p| p.candidates.first().is_some_and(on_it)).map(|p| p.tag.as_str()).collect();
    tags.sort_by_key(|t| tag_key(t));
    tags.join(" ")
}
