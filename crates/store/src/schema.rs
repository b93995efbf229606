//! Tables. Migrations are only ever added at the end; a released one never changes.

use rusqlite::{Connection, Transaction, params};
use rusqlite_migration::{Error, HookError, M, MigrationDefinitionError, Migrations};
use serde_json::Value;
use wayfinder_core::house::older;

use crate::StoreError;

fn steps() -> Vec<M<'static>> {
    vec![
        M::up(include_str!("schema/001_first.sql")),
        M::up(include_str!("schema/002_whole_house.sql")),
        M::up(include_str!("schema/003_runs.sql")),
        M::up(include_str!("schema/004_searched.sql")),
        M::up(include_str!("schema/005_looked_at.sql")),
        M::up(include_str!("schema/006_documents.sql")),
        M::up_with_hook("", |t| loads_of_points(t).map_err(HookError::from)),
        M::up(include_str!("schema/008_energy.sql")),
        M::up(include_str!("schema/009_taken_back.sql")),
        M::up(include_str!("schema/010_ended.sql")),
        M::up(include_str!("schema/011_found.sql")),
    ]
}

/// 007: what points draw becomes loads of their own, in the log of changes too, so that it can be taken back as before.
fn loads_of_points(t: &Transaction<'_>) -> rusqlite::Result<()> {
    let read = |value: &str| serde_json::from_str::<Value>(value).unwrap_or_default();
    for (house, id, doc) in rows(t, "SELECT house, id, doc FROM thing WHERE sort = 'points'")? {
        let mut point = read(&doc);
        if let Some(load) = older::load_of_point(&mut point) {
            let sql = "INSERT INTO thing (house, sort, id, doc) VALUES (?1, 'loads', ?2, ?3)";
            t.execute(sql, params![house, id, load.to_string()])?;
        }
        let sql = "UPDATE thing SET doc = ?3 WHERE house = ?1 AND sort = 'points' AND id = ?2";
        t.execute(sql, params![house, id, point.to_string()])?;
    }
    for (house, revision, text) in rows(t, "SELECT house, revision, edits FROM change WHERE edits LIKE '%\"watts\"%'")?
    {
        let mut edits = read(&text);
        older::loads_of_edits(&mut edits);
        let sql = "UPDATE change SET edits = ?3 WHERE house = ?1 AND revision = ?2";
        t.execute(sql, params![house, revision, edits.to_string()])?;
    }
    let intents = "SELECT house, revision, intent FROM change WHERE intent LIKE '%\"put-point\"%\"watts\"%'";
    for (house, revision, text) in rows(t, intents)? {
        let mut intent = read(&text);
        without_watts(&mut intent);
        let sql = "UPDATE change SET intent = ?3 WHERE house = ?1 AND revision = ?2";
        t.execute(sql, params![house, revision, intent.to_string()])?;
    }
    Ok(())
}

/// What somebody meant is kept for its words alone.
fn without_watts(intent: &mut Value) {
    if let Some(point) = intent.get_mut("point") {
        let _ = older::load_of_point(point);
    }
    intent.get_mut("changes").and_then(Value::as_array_mut).into_iter().flatten().for_each(without_watts);
}

fn rows(t: &Transaction<'_>, sql: &str) -> rusqlite::Result<Vec<(i64, u64, String)>> {
    let mut statement = t.prepare(sql)?;
    let rows = statement.query_map([], |r| Ok((r.get(0)?, r.get(1)?, r.get(2)?)))?;
    rows.collect()
}

pub fn migrate(connection: &mut Connection) -> Result<(), StoreError> {
    Migrations::new(steps()).to_latest(connection).map_err(|e| match e {
        Error::MigrationDefinition(MigrationDefinitionError::DatabaseTooFarAhead) => StoreError::Newer,
        other => StoreError::Migration(other.to_string()),
    })
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn migrations_run_from_nothing() {
        assert!(Migrations::new(steps()).validate().is_ok());
    }

    /// One of everything that a release knew: its rows, and the house they make.
    macro_rules! release {
        ($n:literal) => {
            (
                $n,
                include_str!(concat!("../tests/releases/", $n, ".sql")),
                include_str!(concat!("../tests/releases/", $n, ".json")),
            )
        };
    }

    // Databases written by every release with its own schema become ones of today: the house is the same, its whole log
    // can be read, and the newest change taken back.
    #[test]
    fn old_databases_are_taken_along_with_their_history() {
        for (release, rows, house) in
            [release!(1), release!(2), release!(3), release!(4), release!(5), release!(6), release!(8), release!(9)]
        {
            let folder = tempfile::tempdir().unwrap();
            let path = folder.path().join("houses.db");
            let mut old = Connection::open(&path).unwrap();
            Migrations::new(steps().into_iter().take(release).collect()).to_latest(&mut old).unwrap();
            // Its rows stand in the order of the tables' names.
            old.pragma_update(None, "foreign_keys", false).unwrap();
            old.execute_batch(rows).unwrap();
            drop(old);
            let store = crate::Store::open(&path).unwrap();
            let mut house: Value = serde_json::from_str(house).unwrap();
            older::loads_of_points(&mut house);
            let house: wayfinder_core::House = serde_json::from_value(house).unwrap();
            assert!(!house.loads.is_empty(), "release {release}: a lamp of 60 W");
            assert_eq!(*store.house(1).unwrap(), house, "release {release}");
            let log = store.history(1, None, 100).unwrap();
            assert_eq!(log.len() as u64, house.revision, "release {release}");
            assert!(log.iter().all(|e| !e.subjects.is_empty()), "release {release}: {log:?}");
            let wren = crate::Author { name: "Wren".into(), time: jiff::Timestamp::UNIX_EPOCH, key: None };
            let in_force = log.iter().filter(|e| e.undoes.is_empty() && e.undone_by.is_none()).count();
            for _ in 0..in_force {
                store.undo(1, &[], &wren).unwrap();
            }
            let (about, revision) = (store.house(1).unwrap().about.clone(), house.revision + in_force as u64);
            let bare = wayfinder_core::House { about, revision, ..wayfinder_core::House::new("") };
            assert_eq!(*store.house(1).unwrap(), bare, "release {release}");
        }
    }

    #[test]
    fn a_newer_database_is_refused() {
        let mut connection = Connection::open_in_memory().unwrap();
        migrate(&mut connection).unwrap();
        connection.pragma_update(None, "user_version", 999).unwrap();
        assert!(matches!(migrate(&mut connection), Err(StoreError::Newer)));
    }
}
