//! The directory: cards, labels, schedules and the wall sheet as files.

use std::cell::LazyCell;
use std::path::PathBuf;

use clap::Args;
use jiff::Zoned;
use wayfinder_core::base::units::Inches;
use wayfinder_core::house::{CardSize, House};
use wayfinder_core::load::Loaded;
use wayfinder_core::load::draws::draws;
use wayfinder_core::trace::beliefs;
use wayfinder_core::{Invalid, directory};
use wayfinder_formats::card::{on_paper, svg};
use wayfinder_formats::draw::Print;
use wayfinder_formats::products::{self, Of, Wanted};

use super::answers::write_drawing;
use super::files::{Bad, read_house, write_out};
use super::panel_called;

#[derive(Args)]
pub struct PrintArgs {
    /// What: cards, labels, calibration, schedule, wall, changed (cards and labels that are due) or measure.
    product: String,
    /// A house file or a survey folder.
    house: PathBuf,
    /// Of this panel alone.
    #[arg(long)]
    panel: Option<String>,
    /// Cards: several on sheets of letter, legal, a4 or a5; without it each on a page of its own size.
    #[arg(long)]
    paper: Option<String>,
    /// Labels: plate, wire, number, panel, with commas between.
    #[arg(long)]
    kinds: Option<String>,
    /// Labels: of this room alone.
    #[arg(long)]
    room: Option<String>,
    /// Labels: also those of which the circuit is only likely, marked so.
    #[arg(long)]
    likely: bool,
    /// Labels: those alone that are not stuck on as they are now.
    #[arg(long)]
    due: bool,
    /// Labels: the sheet, by its name; without it paper to cut.
    #[arg(long)]
    sheet: Option<String>,
    /// Labels: so many places of the first sheet are used.
    #[arg(long, default_value_t = 0)]
    used: usize,
    /// Labels: on a tape so high, in inches, instead of sheets.
    #[arg(long)]
    tape: Option<f64>,
    /// The address of the house's pages, for codes: `http://192.168.1.20:8420/houses/1`.
    #[arg(long)]
    pages: Option<String>,
    /// A .pdf, .svg or .png; a schedule also as .csv.
    #[arg(short, long)]
    output: PathBuf,
}

/// Writes what is asked for.
pub fn print_product(args: &PrintArgs) -> Result<(), Bad> {
    let house = read_house(&args.house)?;
    let beliefs = beliefs(&house);
    let draws = LazyCell::new(|| draws(&house, &beliefs));
    let loaded = LazyCell::new(|| Loaded::new(&house, &beliefs, &draws));
    let of = Of { house: &house, beliefs: &beliefs, loaded: &|| &loaded };
    let wanted = wanted(args, &house)?;
    let said = |e: Invalid| Bad::new(format!("--{}: {}", e.field, e.message));
    if args.product == "schedule" && args.output.extension().is_some_and(|ending| ending == "csv") {
        return write_out(&args.output, products::schedule_csv(&of, &wanted).map_err(said)?.as_bytes());
    }
    let print = products::print(&of, &args.product, &wanted).map_err(said)?;
    let unknown = || Bad::new(format!("{} is none of {}", args.product, products::PRODUCTS.join(", ")));
    write_drawing(&print.ok_or_else(unknown)?, &args.output)
}

fn wanted(args: &PrintArgs, house: &House) -> Result<Wanted, Bad> {
    let panel = |name: &String| house.panel_named(name).map(|panel| panel.id);
    let panel =
        args.panel.as_ref().map(|name| panel(name).ok_or_else(|| Bad::new(format!("--panel: no panel {name}"))));
    let room = |name: &String| house.rooms.iter().find(|room| room.name.eq_ignore_ascii_case(name)).map(|room| room.id);
    let room = args.room.as_ref().map(|name| room(name).ok_or_else(|| Bad::new(format!("--room: no room {name}"))));
    Ok(Wanted {
        panel: panel.transpose()?,
        room: room.transpose()?,
        paper: args.paper.clone(),
        kinds: args.kinds.clone(),
        likely: args.likely,
        due: args.due,
        sheet: args.sheet.clone(),
        used: args.used,
        tape: args.tape.map(Inches),
        pages: args.pages.clone(),
        date: Some(Zoned::now().date()),
    })
}

/// Writes the card of one panel, at its measured size or another.
pub fn card(
    house: &std::path::Path,
    panel: Option<&str>,
    size: Option<CardSize>,
    output: &std::path::Path,
) -> Result<(), Bad> {
    let house = read_house(house)?;
    let panel = panel_called(&house, panel)?;
    let size = size.or(panel.card).ok_or_else(|| Bad::new("--size: measure the place on the door, as 4.25x9in"))?;
    size.check().map_err(|e| Bad::new(format!("--size: {e}")))?;
    let card = directory::card(&house, &beliefs(&house), panel);
    let svg = svg(&card, size, Some(Zoned::now().date())).map_err(|e| Bad::new(format!("--size: {e}")))?;
    write_drawing(&Print::single(format!("Panel {}", panel.name), svg), output)
}

/// `4.25x9in`, `4.25x9`, `108x229mm`, or as large as a paper lets it be, by its name.
pub fn card_size(text: &str) -> Result<CardSize, String> {
    if let Some(paper) = on_paper::paper(text) {
        return Ok(on_paper::whole(paper));
    }
    let (numbers, inch) = match text.strip_suffix("mm") {
        Some(numbers) => (numbers, 25.4),
        None => (text.strip_suffix("in").unwrap_or(text), 1.0),
    };
    let (width, height) = numbers.split_once('x').ok_or("expected width x height, as 4.25x9in or 108x229mm")?;
    let side = |part: &str| super::numbers::inches(part).map(|v| Inches(v / inch));
    Ok(CardSize { width: side(width)?, height: side(height)? })
}
