//! What was changed in a house: a line a thing that a person did.

use jiff::{SignedDuration, Timestamp};
use serde::{Deserialize, Serialize};
use utoipa::{IntoParams, ToSchema};
use utoipa_axum::router::OpenApiRouter;
use utoipa_axum::routes;
use wayfinder_core::answers::changed::changed;
use wayfinder_core::edit::Subject;
use wayfinder_core::{House, Invalid};
use wayfinder_store::HistoryEntry;

use super::extract::{OfHouse, Query};
use crate::error::{ApiError, Refused};
use crate::hub::Hub;

/// Its resources.
pub fn routes() -> OpenApiRouter<std::sync::Arc<Hub>> {
    OpenApiRouter::new().routes(routes!(history))
}

/// Changes of one sort that one person made without a pause.
#[derive(Debug, Serialize, ToSchema)]
pub struct HistoryLine {
    /// What was done, in a few words,
    pub said: String,
    /// and to what, as far as it is still there.
    pub what: String,
    /// Findings that they ended, in words,
    pub ended: Vec<String>,
    /// The changes, newest first.
    pub entries: Vec<HistoryItem>,
}

/// One change.
#[derive(Debug, Serialize, ToSchema)]
pub struct HistoryItem {
    /// The revision it made.
    pub revision: u64,
    /// When.
    #[schema(format = DateTime)]
    pub time: String,
    /// Who.
    pub author: String,
    /// The type of the change; `undo` for what takes another back.
    pub kind: String,
    /// The same in a few words,
    pub said: String,
    /// and to what it was done.
    pub what: String,
    /// The things it touched.
    pub subjects: Vec<Subject>,
    /// The revisions it takes back.
    pub undoes: Vec<u64>,
    /// The revision that took it back, as long as that stands.
    pub undone_by: Option<u64>,
    /// Findings that it ended, in words.
    pub ended: Vec<String>,
}

/// A part of the history.
#[derive(Debug, Deserialize, IntoParams)]
#[into_params(parameter_in = Query)]
pub struct HistoryQuery {
    /// Changes before this revision; nothing for the newest.
    before: Option<u64>,
    /// At most so many (1–500, usually 100).
    limit: Option<u32>,
}

const MAX_HISTORY: u32 = 500;
const USUAL_HISTORY: u32 = 100;
/// A pause longer than this begins a new line.
const PAUSE: SignedDuration = SignedDuration::from_mins(30);

/// What was changed, newest first: what one person did of one sort without a pause is one line.
#[utoipa::path(get, path = "/api/v1/houses/{id}/history", params(("id" = i64, Path, description = "the house"), HistoryQuery),
    responses((status = 200, body = Vec<HistoryLine>), Refused))]
pub async fn history(of: OfHouse, Query(query): Query<HistoryQuery>) -> Result<axum::Json<Vec<HistoryLine>>, ApiError> {
    let limit = query.limit.unwrap_or(USUAL_HISTORY);
    if !(1..=MAX_HISTORY).contains(&limit) {
        return Err(Invalid::new("limit", format!("1 to {MAX_HISTORY}")).into());
    }
    of.work(move |hub, id| {
        let house = hub.house(id)?;
        let entries = hub.store.history(id, query.before, limit)?;
        Ok(axum::Json(entries.chunk_by(goes_on).map(|together| line(&house, together)).collect()))
    })
    .await
}

/// The newer of two neighbours goes on with what the older one began.
fn goes_on(newer: &HistoryEntry, older: &HistoryEntry) -> bool {
    let time = |e: &HistoryEntry| e.time.parse::<Timestamp>().unwrap_or(Timestamp::UNIX_EPOCH);
    let stands = |e: &HistoryEntry| e.undoes.is_empty() && e.undone_by.is_none();
    newer.author == older.author
        && newer.said == older.said
        && stands(newer)
        && stands(older)
        && time(newer).duration_since(time(older)) <= PAUSE
}

fn line(house: &House, together: &[HistoryEntry]) -> HistoryLine {
    // As they happened: the last answer of a point is what was seen of it.
    let subjects: Vec<Subject> = together.iter().rev().flat_map(|e| e.subjects.iter().copied()).collect();
    HistoryLine {
        said: together.first().map_or_else(String::new, |e| e.said.clone()),
        what: changed(house, &subjects),
        ended: together.iter().filter(|e| e.undone_by.is_none()).flat_map(|e| e.ended.iter().cloned()).collect(),
        entries: together.iter().map(|e| item(house, e)).collect(),
    }
}

fn item(house: &House, e: &HistoryEntry) -> HistoryItem {
    HistoryItem {
        revision: e.revision,
        time: e.time.clone(),
        author: e.author.clone(),
        kind: e.kind.clone(),
        said: e.said.clone(),
        what: changed(house, &e.subjects),
        subjects: e.subjects.clone(),
        undoes: e.undoes.clone(),
        undone_by: e.undone_by,
        ended: e.ended.clone(),
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    fn made(minute: i64, author: &str, said: &str, undone_by: Option<u64>) -> HistoryEntry {
        HistoryEntry {
            revision: minute.unsigned_abs(),
            time: Timestamp::from_second(minute * 60).unwrap().to_string(),
            author: author.into(),
            kind: "record".into(),
            said: said.into(),
            subjects: Vec::new(),
            undoes: Vec::new(),
            undone_by,
            ended: Vec::new(),
        }
    }

    #[test]
    fn what_one_person_did_of_one_sort_without_a_pause_is_one_line() {
        let lengths = |entries: &[HistoryEntry]| entries.chunk_by(goes_on).map(<[_]>::len).collect::<Vec<_>>();
        let entries = [
            made(50, "Wren", "answered", None),
            made(49, "Wren", "answered", None),
            made(48, "Ash", "answered", None),
            made(47, "Ash", "space entered", None),
            made(46, "Ash", "space entered", None),
            made(10, "Ash", "space entered", None),
        ];
        assert_eq!(lengths(&entries), [2, 1, 2, 1]);
        let taken_back = [
            made(3, "Wren", "answered", None),
            made(2, "Wren", "answered", Some(9)),
            made(1, "Wren", "answered", None),
        ];
        assert_eq!(lengths(&taken_back), [1, 1, 1], "what was taken back stands by itself");
    }
}
