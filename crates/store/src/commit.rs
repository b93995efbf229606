//! Committing a change: on the newest revision as it is; on an older one by replay where nothing touches the same.

use std::collections::{BTreeMap, BTreeSet};
use std::sync::Arc;

use jiff::Timestamp;
use rusqlite::{OptionalExtension, Transaction, params};
use wayfinder_core::Applied;
use wayfinder_core::House;
use wayfinder_core::Invalid;
use wayfinder_core::audit::ended;
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
    /// The revisions in between that touch them,
    pub revisions: Vec<u64>,
    /// and who made them.
    pub authors: Vec<String>,
}

/// A row of the log to be written.
struct Entry<'a> {
    author: &'a Author,
    intent: Option<&'a Change>,
    undoes: &'a [u64],
}

impl Store {
    /// Commits a change made on revision `base`, or on the newest where that is `None`.
    ///
    /// # Errors
    /// [`StoreError::Conflict`] where others touched the same since `base`; [`StoreError::Invalid`] where it cannot be;
    /// [`StoreError::KeyUsed`] where the author's key was used for another change.
    pub fn commit(
        &self,
        id: HouseId,
        base: Option<u64>,
        change: &Change,
        author: &Author,
    ) -> Result<Committed, StoreError> {
        self.commit_if(id, base, change, author, |_, _| Ok(()))
    }

    /// The same where who asks agrees with what comes of it: asked once everything else allows it, and not of what was done before
    /// under the same key.
    ///
    /// # Errors
    /// As [`Self::commit`], and what is said against it.
    pub fn commit_if<E: From<StoreError>>(
        &self,
        id: HouseId,
        base: Option<u64>,
        change: &Change,
        author: &Author,
        agrees: impl FnOnce(&House, &House) -> Result<(), E>,
    ) -> Result<Committed, E> {
        let fail = |e: rusqlite::Error| E::from(StoreError::from(e));
        let mut writer = self.writer();
        let t = writer.transaction_with_behavior(rusqlite::TransactionBehavior::Immediate).map_err(fail)?;
        let entry = Entry { author, intent: Some(change), undoes: &[] };
        if let Some(done) = done_before(&t, id, &entry)? {
            return Ok(done);
        }
        let house = self.newest(&t, id)?;
        let base = base.unwrap_or(house.revision);
        if base > house.revision {
            return Err(StoreError::Future(base).into());
        }
        let applied = match house.apply(change) {
            Ok(applied) => applied,
            // What was right on its base and is wrong now clashes with what came between.
            Err(invalid) if base < house.revision => return Err(clash(&t, id, base, &house, change, invalid)?.into()),
            Err(invalid) => return Err(StoreError::from(invalid).into()),
        };
        if base < house.revision {
            check_between(&t, id, base, house.revision, &applied.edits)?;
        }
        agrees(&house, &applied.house)?;
        write(&t, id, &house, &applied, &entry)?;
        t.commit().map_err(fail)?;
        Ok(self.committed(id, applied))
    }

    /// Takes back the changes of these revisions as one, or else the author's newest one that stands. What takes back can be
    /// taken back like any other.
    ///
    /// # Errors
    /// [`StoreError::NothingToUndo`], also where one of them is taken back already; [`StoreError::Invalid`] where the same was
    /// changed again since; [`StoreError::KeyUsed`].
    pub fn undo(&self, id: HouseId, which: &[u64], author: &Author) -> Result<Committed, StoreError> {
        let mut writer = self.writer();
        let t = writer.transaction_with_behavior(rusqlite::TransactionBehavior::Immediate)?;
        if let Some(done) = done_before(&t, id, &Entry { author, intent: None, undoes: which })? {
            return Ok(done);
        }
        let house = self.newest(&t, id)?;
        let gone = history::taken_back(&t, id)?;
        let mut undoes: Vec<u64> =
            if which.is_empty() { newest_of(&t, id, author, &gone)?.into_iter().collect() } else { which.to_vec() };
        // The newest first: each finds its things as it left them.
        undoes.sort_unstable_by(|a, b| b.cmp(a));
        undoes.dedup();
        if undoes.is_empty() || undoes.iter().any(|revision| gone.contains_key(revision)) {
            return Err(StoreError::NothingToUndo);
        }
        let edits = undoes.iter().map(|revision| inverse(&t, id, *revision)).collect::<Result<Vec<_>, _>>()?;
        let applied = house.apply_edits(edits.concat())?;
        write(&t, id, &house, &applied, &Entry { author, intent: None, undoes: &undoes })?;
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

/// The author's newest change that stands and takes nothing back.
fn newest_of(
    t: &Transaction<'_>,
    id: HouseId,
    author: &Author,
    gone: &BTreeMap<u64, u64>,
) -> Result<Option<u64>, StoreError> {
    let sql = "SELECT revision FROM change c WHERE house = ?1 AND author = ?2
               AND NOT EXISTS (SELECT 1 FROM taken_back b WHERE b.house = c.house AND b.by = c.revision)
               ORDER BY revision DESC";
    let mut statement = t.prepare_cached(sql)?;
    let mut rows = statement.query(params![id, author.name])?;
    while let Some(row) = rows.next()? {
        let revision = row.get(0)?;
        if !gone.contains_key(&revision) {
            return Ok(Some(revision));
        }
    }
    Ok(None)
}

/// The edits that take a change back.
fn inverse(t: &Transaction<'_>, id: HouseId, revision: u64) -> Result<Vec<Edit>, StoreError> {
    let sql = "SELECT edits FROM change WHERE house = ?1 AND revision = ?2";
    let edits: Option<String> = t.prepare_cached(sql)?.query_row(params![id, revision], |r| r.get(0)).optional()?;
    let edits: Vec<Edit> = serde_json::from_str(&edits.ok_or(StoreError::NothingToUndo)?)
        .map_err(|e| StoreError::Stored(format!("change {revision}: {e}")))?;
    Ok(invert(edits))
}

/// The same request under the same key was done before. Another one under that key is refused: its change would be lost.
fn done_before(t: &Transaction<'_>, id: HouseId, entry: &Entry<'_>) -> Result<Option<Committed>, StoreError> {
    let Some(key) = &entry.author.key else { return Ok(None) };
    let sql = "SELECT revision, intent FROM change WHERE house = ?1 AND idempotency_key = ?2";
    let row = |r: &rusqlite::Row<'_>| Ok((r.get::<_, u64>(0)?, r.get::<_, Option<String>>(1)?));
    let Some((revision, intent)) = t.prepare_cached(sql)?.query_row(params![id, key], row).optional()? else {
        return Ok(None);
    };
    let same = match (entry.intent, intent) {
        // What an older program wrote and this one cannot read is taken for the same.
        (Some(now), Some(then)) => serde_json::from_str::<Change>(&then).map_or(true, |then| then == *now),
        (None, None) => {
            let sql = "SELECT revision FROM taken_back WHERE house = ?1 AND by = ?2 ORDER BY revision";
            let mut statement = t.prepare_cached(sql)?;
            let then =
                statement.query_map(params![id, revision], |r| r.get(0))?.collect::<Result<BTreeSet<u64>, _>>()?;
            entry.undoes.is_empty() || then == entry.undoes.iter().copied().collect()
        }
        _ => false,
    };
    if same { Ok(Some(Committed { revision, repeated: true })) } else { Err(StoreError::KeyUsed) }
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
    let mut conflict = Conflict { base, current, subjects: Vec::new(), revisions: Vec::new(), authors: Vec::new() };
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
    conflict.authors = authors(t, id, &conflict.revisions)?;
    Err(StoreError::Conflict(conflict))
}

/// A change refused on the newest revision: a conflict if it was possible on its base, with the first that came between after which
/// it was not; else just wrong.
fn clash(
    t: &Transaction<'_>,
    id: HouseId,
    base: u64,
    house: &House,
    change: &Change,
    invalid: Invalid,
) -> Result<StoreError, StoreError> {
    let later = |revision| (revision + 1..=house.revision).rev();
    // How things stood then; nothing where that cannot be told.
    let stood = |revision| {
        let back = later(revision).map(|later| inverse(t, id, later)).collect::<Result<Vec<_>, _>>().ok()?;
        house.apply_edits(back.concat()).ok().map(|applied| applied.house)
    };
    let refuses = |revision| stood(revision).map(|stood| stood.apply(change).is_err());
    if refuses(base) == Some(true) {
        return Ok(invalid.into());
    }
    let touched = touched_since(t, id, base)?;
    let first = touched.iter().map(|(revision, _)| *revision).find(|revision| refuses(*revision) == Some(true));
    let against = touched.iter().filter(|(revision, _)| first.is_none_or(|first| first == *revision));
    let (revisions, subjects): (Vec<u64>, Vec<BTreeSet<Subject>>) = against.cloned().unzip();
    let subjects: BTreeSet<Subject> = subjects.into_iter().flatten().collect();
    let (subjects, authors) = (subjects.into_iter().collect(), authors(t, id, &revisions)?);
    Ok(StoreError::Conflict(Conflict { base, current: house.revision, subjects, revisions, authors }))
}

/// Who made these revisions, each named once.
fn authors(t: &Transaction<'_>, id: HouseId, revisions: &[u64]) -> Result<Vec<String>, StoreError> {
    let sql = "SELECT author FROM change WHERE house = ?1 AND revision = ?2";
    let mut names: Vec<String> = Vec::new();
    for revision in revisions {
        let name: String = t.prepare_cached(sql)?.query_row(params![id, revision], |r| r.get(0))?;
        if !names.contains(&name) {
            names.push(name);
        }
    }
    Ok(names)
}

fn write(
    t: &Transaction<'_>,
    id: HouseId,
    before: &House,
    applied: &Applied,
    entry: &Entry<'_>,
) -> Result<(), StoreError> {
    let Applied { house, edits } = applied;
    for edit in edits {
        rows::write(t, id, edit)?;
    }
    t.prepare_cached("UPDATE house SET revision = ?2 WHERE id = ?1")?.execute(params![id, house.revision])?;
    let Author { name, time, key } = entry.author;
    let intent = entry.intent.map(serde_json::to_string).transpose()?;
    let ended = ended(before, house);
    let ended = (!ended.is_empty()).then(|| serde_json::to_string(&ended)).transpose()?;
    t.prepare_cached(
        "INSERT INTO change (house, revision, time, author, idempotency_key, intent, edits, ended)
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
        ended
    ])?;
    let sql = "INSERT INTO taken_back (house, by, revision) VALUES (?1, ?2, ?3)";
    for revision in entry.undoes {
        t.prepare_cached(sql)?.execute(params![id, house.revision, revision])?;
    }
    Ok(())
}
