//! Committing a change: on the newest revision as it is; on an older one by replay where nothing touches the same.

use std::collections::BTreeSet;
use std::sync::Arc;

use jiff::Timestamp;
use rusqlite::{OptionalExtension, Transaction, params};
use wayfinder_core::Applied;
use wayfinder_core::Invalid;
use wayfinder_core::change::Change;
use wayfinder_core::edit::{Edit, Subject, invert, subjects};

use crate::{HouseId, Store, StoreError, history, rows};

/// Who makes a change, when, and the key by which a repeated request is known.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct Author {
    /// Who.
    pub name: String,
    /// When.
    pub time: Timestamp,
    /// The same key twice is the same change once.
    pub key: Option<String>,
}

/// A change that is in the database.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct Committed {
    /// The revision it made.
    pub revision: u64,
    /// It was committed before under the same key.
    pub repeated: bool,
}

/// Others changed the same things since the base revision.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct Conflict {
    /// The revision that the change was made on.
    pub base: u64,
    /// The newest revision.
    pub current: u64,
    /// What both touch.
    pub subjects: Vec<Subject>,
    /// The revisions in between that touch them.
    pub revisions: Vec<u64>,
}

/// A row of the log to be written.
struct Entry<'a> {
    author: &'a Author,
    intent: Option<&'a Change>,
    undoes: Option<u64>,
}

impl Store {
    /// Commits a change made on revision `base`, or on the newest where that is `None`.
    ///
    /// # Errors
    /// [`StoreError::Conflict`] where others touched the same since `base`; [`StoreError::Invalid`] where it cannot be.
    pub fn commit(
        &self,
        id: HouseId,
        base: Option<u64>,
        change: &Change,
        author: &Author,
    ) -> Result<Committed, StoreError> {
        let mut writer = self.writer();
        let t = writer.transaction_with_behavior(rusqlite::TransactionBehavior::Immediate)?;
        if let Some(done) = done_before(&t, id, author)? {
            return Ok(done);
        }
        let house = self.newest(&t, id)?;
        let base = base.unwrap_or(house.revision);
        if base > house.revision {
            return Err(StoreError::Future(base));
        }
        let applied = match house.apply(change) {
            Ok(applied) => applied,
            // What was right on its base and is wrong now clashes with what came between.
            Err(invalid) if base < house.revision => return Err(clash(&t, id, base, house.revision, invalid)?),
            Err(invalid) => return Err(invalid.into()),
        };
        if base < house.revision {
            check_between(&t, id, base, house.revision, &applied.edits)?;
        }
        write(&t, id, &applied, &Entry { author, intent: Some(change), undoes: None })?;
        t.commit()?;
        Ok(self.committed(id, applied))
    }

    /// Takes back the change of a revision, or else the author's newest one not yet taken back.
    ///
    /// # Errors
    /// [`StoreError::NothingToUndo`]; [`StoreError::Invalid`] where the same was changed again since.
    pub fn undo(&self, id: HouseId, which: Option<u64>, author: &Author) -> Result<Committed, StoreError> {
        let mut writer = self.writer();
        let t = writer.transaction_with_behavior(rusqlite::TransactionBehavior::Immediate)?;
        if let Some(done) = done_before(&t, id, author)? {
            return Ok(done);
        }
        let house = self.newest(&t, id)?;
        let sql =
            "SELECT revision, edits FROM change c WHERE house = ?1 AND (revision = ?2 OR ?2 IS NULL AND author = ?3
                       AND undoes IS NULL)
                   AND NOT EXISTS (SELECT 1 FROM change u WHERE u.house = c.house AND u.undoes = c.revision)
                   ORDER BY revision DESC LIMIT 1";
        let found = t
            .prepare_cached(sql)?
            .query_row(params![id, which, author.name], |r| Ok((r.get::<_, u64>(0)?, r.get::<_, String>(1)?)))
            .optional()?;
        let (undoes, edits) = found.ok_or(StoreError::NothingToUndo)?;
        let edits: Vec<Edit> =
            serde_json::from_str(&edits).map_err(|e| StoreError::Stored(format!("change {undoes}: {e}")))?;
        let applied = house.apply_edits(invert(edits))?;
        write(&t, id, &applied, &Entry { author, intent: None, undoes: Some(undoes) })?;
        t.commit()?;
        Ok(self.committed(id, applied))
    }

    /// What is on the disk now is what the next reader gets.
    fn committed(&self, id: HouseId, applied: Applied) -> Committed {
        let revision = applied.house.revision;
        self.remember(id, Arc::new(applied.house));
        Committed { revision, repeated: false }
    }
}

fn done_before(t: &Transaction<'_>, id: HouseId, author: &Author) -> Result<Option<Committed>, StoreError> {
    let Some(key) = &author.key else { return Ok(None) };
    let sql = "SELECT revision FROM change WHERE house = ?1 AND idempotency_key = ?2";
    let revision: Option<u64> = t.prepare_cached(sql)?.query_row(params![id, key], |r| r.get(0)).optional()?;
    Ok(revision.map(|revision| Committed { revision, repeated: true }))
}

/// What the changes after `base` touched, by revision.
fn touched_since(t: &Transaction<'_>, id: HouseId, base: u64) -> Result<Vec<(u64, BTreeSet<Subject>)>, StoreError> {
    let mut statement = t.prepare_cached("SELECT revision, edits FROM change WHERE house = ?1 AND revision > ?2")?;
    let mut rows = statement.query(params![id, base])?;
    let mut touched = Vec::new();
    while let Some(row) = rows.next()? {
        touched.push((row.get(0)?, history::touched(&row.get::<_, String>(1)?)));
    }
    Ok(touched)
}

fn check_between(t: &Transaction<'_>, id: HouseId, base: u64, current: u64, edits: &[Edit]) -> Result<(), StoreError> {
    let mine = subjects(edits);
    let mut conflict = Conflict { base, current, subjects: Vec::new(), revisions: Vec::new() };
    let mut both = BTreeSet::new();
    for (revision, theirs) in touched_since(t, id, base)? {
        let shared: Vec<_> = theirs.intersection(&mine).copied().collect();
        if !shared.is_empty() {
            conflict.revisions.push(revision);
            both.extend(shared);
        }
    }
    if both.is_empty() {
        return Ok(());
    }
    conflict.subjects = both.into_iter().collect();
    Err(StoreError::Conflict(conflict))
}

/// A change refused on the newest revision: a conflict if it was possible on its base, else just wrong.
fn clash(
    t: &Transaction<'_>,
    id: HouseId,
    base: u64,
    current: u64,
    invalid: Invalid,
) -> Result<StoreError, StoreError> {
    let touched = touched_since(t, id, base)?;
    if touched.is_empty() {
        return Ok(invalid.into());
    }
    let revisions = touched.iter().map(|(revision, _)| *revision).collect();
    let subjects: BTreeSet<_> = touched.into_iter().flat_map(|(_, s)| s).collect();
    let subjects = subjects.into_iter().collect();
    Ok(StoreError::Conflict(Conflict { base, current, subjects, revisions }))
}

fn write(t: &Transaction<'_>, id: HouseId, applied: &Applied, entry: &Entry<'_>) -> Result<(), StoreError> {
    let Applied { house, edits } = applied;
    for edit in edits {
        rows::write(t, id, edit)?;
    }
    t.prepare_cached("UPDATE house SET revision = ?2 WHERE id = ?1")?.execute(params![id, house.revision])?;
    let Author { name, time, key } = entry.author;
    let intent = entry.intent.map(serde_json::to_string).transpose()?;
    t.prepare_cached(
        "INSERT INTO change (house, revision, time, author, idempotency_key, intent, edits, undoes)
         VALUES (?1, ?2, ?3, ?4, ?5, ?6, ?7, ?8)",
    )?
    .execute(params![
        id,
        house.revision,
        time.to_string(),
        name,
        key,
        intent,
        serde_json::to_string(edits)?,
        entry.undoes
    ])?;
    Ok(())
}
