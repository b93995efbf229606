//! The log of a house, newest first.

use std::collections::BTreeSet;

use rusqlite::params;
use serde_json::{Value, json};
use wayfinder_core::Change;
use wayfinder_core::edit::Subject;

use crate::{HouseId, Store, StoreError, revision};

/// One change of the log.
#[derive(Debug, Clone, PartialEq)]
pub struct HistoryEntry {
    /// The revision it made.
    pub revision: u64,
    /// When, as ISO 8601.
    pub time: String,
    /// Who.
    pub author: String,
    /// What was wanted, by its type; `undo` for what takes another back.
    pub kind: String,
    /// The same in a few words.
    pub said: String,
    /// The things it touched.
    pub subjects: Vec<Subject>,
    /// The revision it takes back.
    pub undoes: Option<u64>,
    /// The revision that took it back.
    pub undone_by: Option<u64>,
}

/// What was wanted, by its type and in words; of a change that is not understood any more, its type.
fn intended(intent: Option<&str>) -> (String, String) {
    let Some(intent) = intent else { return ("undo".into(), "undo".into()) };
    let kind = serde_json::from_str::<Value>(intent).ok().and_then(|v| Some(v["type"].as_str()?.to_owned()));
    let kind = kind.unwrap_or_else(|| "unknown".into());
    let said = serde_json::from_str::<Change>(intent).map_or_else(|_| kind.replace('-', " "), |c| c.said().to_owned());
    (kind, said)
}

/// What the edits of a row touched. Of a row that is not understood any more, what still is: the log and everybody else's
/// changes go on without it.
pub(crate) fn touched(edits: &str) -> BTreeSet<Subject> {
    let edits: Vec<Value> = serde_json::from_str(edits).unwrap_or_default();
    let subject = |edit: &Value| {
        let id = ["after", "before"].iter().find_map(|side| edit[side]["id"].as_u64());
        let named = serde_json::from_value(json!({ "thing": edit["thing"], "id": id }));
        // Name and settings, and the step under way, are one of a kind.
        named.or_else(|_| serde_json::from_value(json!({ "thing": edit["thing"] }))).ok()
    };
    edits.iter().filter_map(subject).collect()
}

impl Store {
    /// The newest `limit` changes before revision `before` (all, where that is `None`).
    ///
    /// # Errors
    /// [`StoreError::NoHouse`] where there is none.
    pub fn history(&self, id: HouseId, before: Option<u64>, limit: u32) -> Result<Vec<HistoryEntry>, StoreError> {
        self.read(|c| {
            revision(c, id)?;
            let mut statement = c.prepare_cached(
                "SELECT revision, time, author, intent, edits, undoes,
                        (SELECT u.revision FROM change u WHERE u.house = c.house AND u.undoes = c.revision)
                 FROM change c WHERE house = ?1 AND (?2 IS NULL OR revision < ?2) ORDER BY revision DESC LIMIT ?3",
            )?;
            let mut rows = statement.query(params![id, before, limit])?;
            let mut entries = Vec::new();
            while let Some(row) = rows.next()? {
                let (kind, said) = intended(row.get::<_, Option<String>>(3)?.as_deref());
                entries.push(HistoryEntry {
                    revision: row.get(0)?,
                    time: row.get(1)?,
                    author: row.get(2)?,
                    kind,
                    said,
                    subjects: touched(&row.get::<_, String>(4)?).into_iter().collect(),
                    undoes: row.get(5)?,
                    undone_by: row.get(6)?,
                });
            }
            Ok(entries)
        })
    }
}
