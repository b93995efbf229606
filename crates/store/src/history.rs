//! The log of a house, newest first.

use std::collections::{BTreeMap, BTreeSet};

use rusqlite::{Connection, OptionalExtension, params};
use serde_json::{Value, json};
use wayfinder_core::Change;
use wayfinder_core::audit::FoundThen;
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
    /// The revisions it takes back.
    pub undoes: Vec<u64>,
    /// The revision that took it back, as long as that stands.
    pub undone_by: Option<u64>,
    /// Findings that it ended, in words.
    pub ended: Vec<String>,
}

/// What was wanted, by its type and in words; of a change that is not understood any more, its type.
fn intended(intent: Option<&str>) -> (String, String) {
    let Some(intent) = intent else { return ("undo".into(), "undo".into()) };
    let kind = serde_json::from_str::<Value>(intent).ok().and_then(|v| Some(v["type"].as_str()?.to_owned()));
    let kind = kind.unwrap_or_else(|| "unknown".into());
    let said = serde_json::from_str::<Change>(intent).map_or_else(|_| kind.replace('-', " "), |c| c.said().to_owned());
    (kind, said)
}

/// What is taken back now, with the revision that took it back: one that was taken back itself counts no more.
pub(crate) fn taken_back(t: &Connection, id: HouseId) -> Result<BTreeMap<u64, u64>, StoreError> {
    let sql = "SELECT by, revision FROM taken_back WHERE house = ?1 ORDER BY by DESC";
    let mut statement = t.prepare_cached(sql)?;
    let mut rows = statement.query(params![id])?;
    let mut gone = BTreeMap::new();
    // The latest first: whether one stands is told by what came after it.
    while let Some(row) = rows.next()? {
        let (by, revision): (u64, u64) = (row.get(0)?, row.get(1)?);
        if !gone.contains_key(&by) {
            gone.entry(revision).or_insert(by);
        }
    }
    Ok(gone)
}

/// What takes back says what.
fn undoing(t: &Connection, id: HouseId, undoes: &[u64]) -> Result<String, StoreError> {
    let Some(first) = undoes.first() else { return Ok("undo".into()) };
    let sql = "SELECT intent FROM change WHERE house = ?1 AND revision = ?2";
    let intent: Option<String> = t.prepare_cached(sql)?.query_row(params![id, first], |r| r.get(0))?;
    Ok(match intent {
        Some(intent) => format!("took back: {}", intended(Some(&intent)).1),
        None => "put back what was taken back".into(),
    })
}

fn undoes(t: &Connection, id: HouseId, by: u64) -> Result<Vec<u64>, StoreError> {
    let sql = "SELECT revision FROM taken_back WHERE house = ?1 AND by = ?2 ORDER BY revision DESC";
    Ok(t.prepare_cached(sql)?.query_map(params![id, by], |r| r.get(0))?.collect::<Result<_, _>>()?)
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

/// A list of sentences as it is kept.
fn words(kept: Option<String>) -> Result<Vec<String>, StoreError> {
    Ok(kept.map(|kept| serde_json::from_str(&kept)).transpose()?.unwrap_or_default())
}

impl Store {
    /// Keeps what was found at a revision. What `ended` names of what was found before is told in the log with the newest change: of several
    /// since the last look it may have been another one. Where nothing changed nothing is written.
    ///
    /// # Errors
    /// What the database says.
    pub fn note_found(
        &self,
        id: HouseId,
        revision: u64,
        found: &[FoundThen],
        ended: impl FnOnce(&[FoundThen]) -> Vec<String>,
    ) -> Result<(), StoreError> {
        let mut writer = self.writer();
        let t = writer.transaction()?;
        let sql = "SELECT revision, findings FROM found WHERE house = ?1";
        let before: Option<(u64, String)> =
            t.prepare_cached(sql)?.query_row(params![id], |r| Ok((r.get(0)?, r.get(1)?))).optional()?;
        if let Some((last, findings)) = before {
            if last >= revision {
                return Ok(());
            }
            // What is not understood any more is not said to have ended.
            let stood: Vec<FoundThen> = serde_json::from_str(&findings).unwrap_or_default();
            if stood == found {
                return Ok(());
            }
            let mut told = ended(&stood);
            if !told.is_empty() {
                let sql = "SELECT ended FROM change WHERE house = ?1 AND revision = ?2";
                let others: Option<String> =
                    t.prepare_cached(sql)?.query_row(params![id, revision], |r| r.get(0)).optional()?.flatten();
                told.splice(0..0, words(others)?);
                let sql = "UPDATE change SET ended = ?3 WHERE house = ?1 AND revision = ?2";
                t.prepare_cached(sql)?.execute(params![id, revision, serde_json::to_string(&told)?])?;
            }
        }
        let sql = "INSERT INTO found (house, revision, findings) VALUES (?1, ?2, ?3)
                   ON CONFLICT (house) DO UPDATE SET revision = excluded.revision, findings = excluded.findings";
        t.prepare_cached(sql)?.execute(params![id, revision, serde_json::to_string(found)?])?;
        t.commit()?;
        Ok(())
    }

    /// The newest `limit` changes before revision `before` (all, where that is `None`).
    ///
    /// # Errors
    /// [`StoreError::NoHouse`] where there is none.
    pub fn history(&self, id: HouseId, before: Option<u64>, limit: u32) -> Result<Vec<HistoryEntry>, StoreError> {
        self.read(|c| {
            revision(c, id)?;
            let mut statement = c.prepare_cached(
                "SELECT revision, time, author, intent, edits, ended
                 FROM change c WHERE house = ?1 AND (?2 IS NULL OR revision < ?2) ORDER BY revision DESC LIMIT ?3",
            )?;
            let mut rows = statement.query(params![id, before, limit])?;
            let mut entries = Vec::new();
            let gone = taken_back(c, id)?;
            while let Some(row) = rows.next()? {
                let (kind, mut said) = intended(row.get::<_, Option<String>>(3)?.as_deref());
                let revision = row.get(0)?;
                let undoes = undoes(c, id, revision)?;
                if !undoes.is_empty() {
                    said = undoing(c, id, &undoes)?;
                }
                entries.push(HistoryEntry {
                    revision,
                    time: row.get(1)?,
                    author: row.get(2)?,
                    kind,
                    said,
                    subjects: touched(&row.get::<_, String>(4)?).into_iter().collect(),
                    undoes,
                    undone_by: gone.get(&revision).copied(),
                    ended: words(row.get(5)?)?,
                });
            }
            Ok(entries)
        })
    }
}
