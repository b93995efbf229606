//! The directory: cards, labels, schedules, the wall sheet, and what of it is no longer so.

use std::sync::Arc;

use axum::http::header::CONTENT_TYPE;
use axum::response::{IntoResponse, Response};
use jiff::Zoned;
use serde::{Deserialize, Serialize};
use utoipa::{IntoParams, ToSchema};
use utoipa_axum::router::OpenApiRouter;
use utoipa_axum::routes;
use wayfinder_core::Invalid;
use wayfinder_core::base::units::Inches;
use wayfinder_core::directory::{self, StaleLine, Tag, tags};
use wayfinder_core::house::{CardSize, LabelSheet, Panel, PanelId, RoomId};
use wayfinder_formats::card::on_paper;
use wayfinder_formats::circuits as circuits_table;
use wayfinder_formats::draw::Print;
use wayfinder_formats::products::{self, Of, Wanted};

use super::extract::{OfFile, OfHouse, OfPanel, Path, Query, attachment, printed};
use crate::error::{ApiError, Refused};
use crate::hub::Hub;
use crate::known::Known;

/// Its resources.
pub fn routes() -> OpenApiRouter<Arc<Hub>> {
    OpenApiRouter::new()
        .routes(routes!(directory_of))
        .routes(routes!(card))
        .routes(routes!(circuits))
        .routes(routes!(printed_product))
}

/// What is printed of a house, and how far it is still so.
#[derive(Debug, Serialize, ToSchema)]
pub struct Directory {
    /// Each panel's card.
    pub cards: Vec<DoorCard>,
    /// Every label.
    pub tags: Vec<Tag>,
    /// Rooms that are traced to the end, with a label that is due.
    pub rooms_to_label: Vec<RoomId>,
    /// Sheets of labels as they are sold; the house's own stand with its settings.
    pub usual_sheets: Vec<LabelSheet>,
    /// Papers, with the largest card that each lets be printed.
    pub papers: Vec<PaperCard>,
}

/// A paper.
#[derive(Debug, Serialize, ToSchema)]
pub struct PaperCard {
    /// Its name: `letter`.
    pub name: &'static str,
    /// The largest card.
    pub size: CardSize,
}

/// A panel's card against what is so.
#[derive(Debug, Serialize, ToSchema)]
pub struct DoorCard {
    /// The panel.
    pub panel: PanelId,
    /// Lines that say something else than the map does now; nothing where no card was printed.
    pub stale: Option<Vec<StaleLine>>,
    /// Old labels that tell too little.
    pub poor: Vec<directory::PoorLabel>,
}

/// What is printed, and what of it is no longer so.
#[utoipa::path(get, path = "/api/v1/houses/{id}/directory", params(("id" = i64, Path, description = "the house")),
    responses((status = 200, body = Directory), Refused))]
pub async fn directory_of(of: OfHouse) -> Result<axum::Json<Directory>, ApiError> {
    of.json(|known| {
        let (house, beliefs) = (known.house(), known.beliefs());
        let of = |panel: &&Panel| DoorCard {
            panel: panel.id,
            stale: directory::stale(house, beliefs, panel),
            poor: directory::poor_labels(house, panel),
        };
        let cards = house.panels_in_order().iter().map(of).collect();
        let tags = tags(house, beliefs);
        let paper =
            |(name, sides): &(&'static str, [f64; 2])| PaperCard { name, size: on_paper::whole(sides.map(Inches)) };
        Ok(Directory {
            cards,
            rooms_to_label: directory::rooms_to_label(house, beliefs, &tags),
            tags,
            usual_sheets: LabelSheet::usual(),
            papers: on_paper::PAPERS.iter().map(paper).collect(),
        })
    })
    .await
}

/// The place for the card, where it is not the one recorded with the panel.
#[derive(Debug, Deserialize, IntoParams)]
#[into_params(parameter_in = Query)]
pub struct CardQuery {
    /// Width in inches.
    width: Option<f64>,
    /// Height in inches.
    height: Option<f64>,
    /// For SVG: leave the typefaces out, for a page that has them.
    bare: Option<bool>,
    /// Where the house is opened, for the card's code: `http://192.168.1.20:8420`.
    base: Option<String>,
}

/// The card for a panel's door at true size: `card.svg`, `card.pdf` or `card.png`.
#[utoipa::path(get, path = "/api/v1/houses/{id}/panels/{panel}/{file}",
    params(("id" = i64, Path, description = "the house"), ("panel" = u64, Path, description = "the panel"),
           ("file" = String, Path, description = "card.svg, card.pdf or card.png"), CardQuery),
    responses((status = 200, description = "the drawing", body = String, content_type = "image/svg+xml"), Refused))]
pub async fn card(
    of: OfHouse,
    Path(at): Path<OfPanel>,
    Path(OfFile { file }): Path<OfFile>,
    Query(query): Query<CardQuery>,
) -> Result<Response, ApiError> {
    let id = of.id;
    of.read(move |known| {
        let panel = at.panel(known)?;
        let size = card_size(panel, &query)?;
        let wanted = Wanted { pages: base(id, query.base.as_deref())?, date: today(), ..Wanted::default() };
        let svg = products::card_of(known.house(), known.beliefs(), panel, size, &wanted)?;
        match file.as_str() {
            "card.svg" if query.bare == Some(true) => Ok(([(CONTENT_TYPE, "image/svg+xml")], svg).into_response()),
            "card.svg" | "card.pdf" | "card.png" => {
                printed(&file, &Print::single(format!("Panel {}", panel.name), svg))
            }
            _ => Err(ApiError::NoSuchResource),
        }
    })
    .await
}

/// Longest address that a code on paper is made of.
const LONGEST_BASE: usize = 100;

/// The house's pages behind an address that somebody's browser named.
fn base(id: i64, base: Option<&str>) -> Result<Option<String>, Invalid> {
    let Some(base) = base else { return Ok(None) };
    let scheme = base.starts_with("http://") || base.starts_with("https://");
    if !scheme || base.len() > LONGEST_BASE || base.chars().any(|c| c.is_whitespace() || c.is_control()) {
        return Err(Invalid::new(
            "base",
            format!("an address as http://192.168.1.20:8420, at most {LONGEST_BASE} letters"),
        ));
    }
    Ok(Some(format!("{}/houses/{id}", base.trim_end_matches('/'))))
}

fn card_size(panel: &Panel, query: &CardQuery) -> Result<CardSize, Invalid> {
    let given = query.width.zip(query.height);
    let size = given.map(|(w, h)| CardSize { width: Inches(w), height: Inches(h) }).or(panel.card);
    let size =
        size.ok_or_else(|| Invalid::new("width", "measure the place on the door and give its width and height"))?;
    // The same limits as for a recorded size.
    size.check()?;
    Ok(size)
}

/// The directory as a table.
#[utoipa::path(get, path = "/api/v1/houses/{id}/circuits.csv", params(("id" = i64, Path, description = "the house")),
    responses((status = 200, description = "one row a place in a panel", body = String, content_type = "text/csv"), Refused))]
pub async fn circuits(of: OfHouse) -> Result<Response, ApiError> {
    let write = |known: &Known| {
        let table = circuits_table::circuits_csv(known.house(), known.beliefs());
        table.map_err(|e| ApiError::Internal(e.to_string()))
    };
    Ok(attachment("text/csv; charset=utf-8", "circuits.csv", of.read(write).await?))
}

/// What is to be printed, and how.
#[derive(Debug, Clone, Default, Deserialize, IntoParams)]
#[into_params(parameter_in = Query)]
pub struct PrintQuery {
    /// The panel; nothing for all.
    panel: Option<u64>,
    /// Cards: the paper that several are printed on: `letter`, `legal`, `a4`, `a5`; nothing for pages as large as each.
    paper: Option<String>,
    /// Labels: `plate`, `wire`, `number`, `panel`, with commas between; nothing for plates.
    kinds: Option<String>,
    /// Labels: of this room alone.
    room: Option<u64>,
    /// Labels: also those of which the circuit is only likely, marked so.
    #[serde(default)]
    likely: bool,
    /// Labels: those alone that are not stuck on as they are now.
    #[serde(default)]
    due: bool,
    /// Labels: the sheet, by its name; nothing for paper to cut.
    sheet: Option<String>,
    /// Labels: so many places of the first sheet are used.
    used: Option<usize>,
    /// Labels: on a tape so high, in inches, instead of sheets.
    tape: Option<f64>,
    /// Where the house is opened, for codes: `http://192.168.1.20:8420`; without it there are none.
    base: Option<String>,
}

/// Something printed: `cards`, `labels`, `calibration`, `schedule`, `wall`, `changed` (cards and labels that are due, as one file)
/// or `measure`, with `.pdf`, `.svg` or `.png` behind; `schedule.csv` as a table.
#[utoipa::path(get, path = "/api/v1/houses/{id}/print/{file}",
    params(("id" = i64, Path, description = "the house"),
           ("file" = String, Path, description = "cards.pdf, labels.pdf, calibration.pdf, schedule.pdf, schedule.csv, wall.pdf, changed.pdf, measure.svg"),
           PrintQuery),
    responses((status = 200, description = "what is printed", body = Vec<u8>, content_type = "application/pdf"), Refused))]
pub async fn printed_product(
    of: OfHouse,
    Path(OfFile { file }): Path<OfFile>,
    Query(query): Query<PrintQuery>,
) -> Result<Response, ApiError> {
    let id = of.id;
    of.read(move |known| {
        let wanted = Wanted {
            panel: query.panel.map(PanelId),
            paper: query.paper,
            kinds: query.kinds,
            room: query.room.map(RoomId),
            likely: query.likely,
            due: query.due,
            sheet: query.sheet,
            used: query.used.unwrap_or(0),
            tape: query.tape.map(Inches),
            pages: base(id, query.base.as_deref())?,
            date: today(),
        };
        let (product, ending) = file.rsplit_once('.').ok_or(ApiError::NoSuchResource)?;
        let of = Of { house: known.house(), beliefs: known.beliefs(), loaded: &|| known.loaded() };
        if (product, ending) == ("schedule", "csv") {
            return Ok(attachment("text/csv; charset=utf-8", &file, products::schedule_csv(&of, &wanted)?));
        }
        printed(&file, &products::print(&of, product, &wanted)?.ok_or(ApiError::NoSuchResource)?)
    })
    .await
}

fn today() -> Option<jiff::civil::Date> {
    Some(Zoned::now().date())
}
