//! What is printed of a house's directory, by name: the same for HTTP and the command line.

use std::collections::BTreeSet;

use jiff::civil::Date;
use wayfinder_core::Invalid;
use wayfinder_core::base::units::Inches;
use wayfinder_core::directory::{self, Schedule, Tag, TagKind, tags, wall_sheet};
use wayfinder_core::house::{CardSize, House, LabelSheet, Panel, PanelId, RoomId, Subject};
use wayfinder_core::load::Loaded;
use wayfinder_core::trace::Beliefs;
use wayfinder_core::view::floor;

use crate::card::{self, on_paper};
use crate::draw::Print;
use crate::{labels, schedule, wall};

/// What is known of a house.
#[derive(Clone, Copy)]
pub struct Of<'a> {
    /// The house,
    pub house: &'a House,
    /// what is believed of it,
    pub beliefs: &'a Beliefs,
    /// and what it carries, worked out where it is asked for.
    pub loaded: &'a dyn Fn() -> &'a Loaded<'a>,
}

/// What is asked for, and how.
#[derive(Debug, Clone, Default)]
pub struct Wanted {
    /// The panel; nothing for all.
    pub panel: Option<PanelId>,
    /// Cards: the paper that several are printed on: `letter`, `legal`, `a4`, `a5`; nothing for pages as large as each.
    pub paper: Option<String>,
    /// Labels: `plate`, `wire`, `number`, `panel`, with commas between; nothing for plates.
    pub kinds: Option<String>,
    /// Labels: of this room alone.
    pub room: Option<RoomId>,
    /// Labels: also those of which the circuit is only likely, marked so.
    pub likely: bool,
    /// Labels: those alone that are not stuck on as they are now.
    pub due: bool,
    /// Labels: the sheet, by its name; nothing for paper to cut.
    pub sheet: Option<String>,
    /// Labels: so many places of the first sheet are used.
    pub used: usize,
    /// Labels: on a tape so high instead of sheets.
    pub tape: Option<Inches>,
    /// The address of the house's pages, for codes; without it there are none.
    pub pages: Option<String>,
    /// The day.
    pub date: Option<Date>,
}

/// Every product.
pub const PRODUCTS: [&str; 7] = ["cards", "labels", "calibration", "schedule", "wall", "changed", "measure"];

/// Prints a product; nothing for a name that is none.
///
/// # Errors
/// Where what is asked for is not there, or there is nothing to print, with the field at fault.
pub fn print(of: &Of<'_>, product: &str, wanted: &Wanted) -> Result<Option<Print>, Invalid> {
    let print = match product {
        "cards" => cards(of, wanted, |_| true)?,
        "labels" => label_pages(of, wanted)?,
        "calibration" => {
            let sheet = sheet(of.house, wanted.sheet.as_deref())?;
            Print::single("Where the printer prints", labels::calibration(&sheet))
        }
        "schedule" => {
            in_one("Schedule", schedules(of, wanted)?.iter().map(|schedule| schedule::print(schedule, wanted.date)))
        }
        "wall" => wall_of(of, wanted.date),
        "changed" => changed(of, wanted)?,
        "measure" => Print::single("Measure it like this", on_paper::measure_so()),
        _ => return Ok(None),
    };
    if print.pages.is_empty() {
        return Err(Invalid::new("file", "there is nothing to print: nothing is due, or nothing is entered"));
    }
    Ok(Some(print))
}

/// The schedules as one table.
///
/// # Errors
/// Where there is no such panel, or it cannot be written.
pub fn schedule_csv(of: &Of<'_>, wanted: &Wanted) -> Result<String, Invalid> {
    let written = schedules(of, wanted)?.iter().map(schedule::csv).collect::<Result<Vec<_>, _>>();
    let tables = written.map_err(|e| Invalid::new("file", e.to_string()))?;
    let rest = tables.iter().skip(1).map(|table| table.split_once("\r\n").map_or("", |(_, rows)| rows));
    Ok(tables.first().map(String::as_str).into_iter().chain(rest).collect())
}

/// A panel's card at a size; with a code that opens it, where it has one.
///
/// # Errors
/// Where it cannot be read at that size.
pub fn card_of(
    house: &House,
    beliefs: &Beliefs,
    panel: &Panel,
    size: CardSize,
    wanted: &Wanted,
) -> Result<String, Invalid> {
    let entries = directory::card(house, beliefs, panel);
    let link = wanted.pages.as_ref().filter(|_| panel.code).map(|pages| format!("{pages}/survey?panel={}", panel.id.0));
    let svg = card::linked(&entries, size, wanted.date, link.as_deref());
    svg.map_err(|e| Invalid::new("height", e.to_string()))
}

fn in_one(title: &str, prints: impl Iterator<Item = Print>) -> Print {
    Print { title: title.to_owned(), pages: prints.flat_map(|print| print.pages).collect() }
}

/// The panels that are asked for.
fn panels<'a>(of: &Of<'a>, wanted: &Wanted) -> Result<Vec<&'a Panel>, Invalid> {
    let all = of.house.panels_in_order();
    match wanted.panel {
        None => Ok(all),
        Some(id) => {
            let found = all.into_iter().find(|panel| panel.id == id);
            found.map(|panel| vec![panel]).ok_or_else(|| Invalid::new("panel", "there is no such panel"))
        }
    }
}

fn schedules(of: &Of<'_>, wanted: &Wanted) -> Result<Vec<Schedule>, Invalid> {
    let schedule = |panel: &&Panel| directory::schedule(of.house, of.beliefs, (of.loaded)(), panel);
    Ok(panels(of, wanted)?.iter().map(schedule).collect())
}

fn wall_of(of: &Of<'_>, date: Option<Date>) -> Print {
    let Of { house, beliefs, .. } = *of;
    let floors: BTreeSet<&str> = house.rooms.iter().map(|room| room.floor.as_str()).collect();
    let views: Vec<_> = floors.into_iter().map(|floor| floor::view(house, beliefs, floor)).collect();
    wall::print(&wall_sheet(house, beliefs), &views, house.about.lengths, date)
}

/// Cards of the panels that are wanted, at their measured sizes.
fn cards(of: &Of<'_>, wanted: &Wanted, is_wanted: impl Fn(&Panel) -> bool) -> Result<Print, Invalid> {
    let mut sized = Vec::new();
    for panel in panels(of, wanted)?.into_iter().filter(|panel| is_wanted(panel)) {
        let unmeasured = || Invalid::new("panel", format!("measure the place on the door of {} first", panel.name));
        let size = panel.card.ok_or_else(unmeasured)?;
        sized.push(on_paper::Sized {
            svg: card_of(of.house, of.beliefs, panel, size, wanted)?,
            size: [size.width, size.height],
        });
    }
    let pages = match wanted.paper.as_deref() {
        None => sized.into_iter().map(|card| card.svg).collect(),
        Some(name) => {
            let paper = on_paper::paper(name);
            on_paper::on(&sized, paper.ok_or_else(|| Invalid::new("paper", "letter, legal, a4 or a5"))?)
        }
    };
    Ok(Print { title: "Cards".into(), pages })
}

fn sheet(house: &House, name: Option<&str>) -> Result<LabelSheet, Invalid> {
    let usual = LabelSheet::usual();
    let all: Vec<&LabelSheet> = house.about.label_sheets.iter().chain(&usual).collect();
    let found = match name {
        None => all.last().copied(),
        Some(name) => all.into_iter().find(|sheet| sheet.name.eq_ignore_ascii_case(name.trim())),
    };
    found.cloned().ok_or_else(|| Invalid::new("sheet", format!("no sheet is called {}", name.unwrap_or_default())))
}

/// The labels that are asked for.
fn chosen_tags(of: &Of<'_>, wanted: &Wanted) -> Result<Vec<Tag>, Invalid> {
    let mut kinds = BTreeSet::new();
    for kind in wanted.kinds.as_deref().unwrap_or("plate").split(',').map(str::trim) {
        kinds.insert(match kind {
            "plate" => TagKind::Plate,
            "wire" => TagKind::Wire,
            "number" => TagKind::Number,
            "panel" => TagKind::Panel,
            _ => return Err(Invalid::new("kinds", format!("plate, wire, number or panel, not {kind}"))),
        });
    }
    let house = of.house;
    let of_panel = |tag: &Tag| match (wanted.panel, tag.of) {
        (Some(panel), Subject::Breaker(id)) => house.breakers.get(id).is_some_and(|b| b.panel == panel),
        (Some(panel), Subject::Panel(id)) => id == panel,
        _ => true,
    };
    let is_wanted = |tag: &Tag| {
        kinds.contains(&tag.kind)
            && (wanted.likely || tag.proven)
            && of_panel(tag)
            && (wanted.room.is_none() || tag.room == wanted.room)
            && (!wanted.due || tag.due)
    };
    Ok(tags(house, of.beliefs).into_iter().filter(is_wanted).collect())
}

fn label_pages(of: &Of<'_>, wanted: &Wanted) -> Result<Print, Invalid> {
    let all = chosen_tags(of, wanted)?;
    let link = |tag: &Tag| {
        let pages = wanted.pages.as_ref()?;
        match tag.of {
            Subject::Point(id) => Some(format!("{pages}/find?point={}", id.0)),
            Subject::Panel(id) => Some(format!("{pages}/survey?panel={}", id.0)),
            _ => None,
        }
    };
    let mut marked = labels::Marked { link: Some(&link), cut: wanted.sheet.is_none() };
    let pages = if let Some(high) = wanted.tape {
        if !(0.2..=4.0).contains(&high.0) {
            return Err(Invalid::new("tape", "a tape is 0.2 to 4 in high"));
        }
        marked.cut = false;
        labels::tape(&all, high, &marked)
    } else {
        labels::sheets(&all, &sheet(of.house, wanted.sheet.as_deref())?, wanted.used, &marked)
    };
    let pages = if all.is_empty() { Vec::new() } else { pages };
    Ok(Print { title: "Labels".into(), pages })
}

/// Cards that are no longer so, and labels that are not stuck on as they are now.
fn changed(of: &Of<'_>, wanted: &Wanted) -> Result<Print, Invalid> {
    let stale = |panel: &Panel| {
        let lines = directory::stale(of.house, of.beliefs, panel);
        panel.card.is_some() && lines.is_none_or(|lines| !lines.is_empty())
    };
    let cards = cards(of, wanted, stale)?;
    let due = Wanted { due: true, kinds: Some("plate,panel".into()), ..wanted.clone() };
    Ok(in_one("What changed", [cards, label_pages(of, &due)?].into_iter()))
}
