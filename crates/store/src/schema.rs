//! Tables. Migrations are only ever added at the end; a released one never changes.

use rusqlite::Connection;
use rusqlite_migration::{Error, M, MigrationDefinitionError, Migrations};

use crate::StoreError;

const STEPS: &[M<'_>] = &[
    M::up(include_str!("schema/001_first.sql")),
    M::up(include_str!("schema/002_whole_house.sql")),
    M::up(include_str!("schema/003_runs.sql")),
    M::up(include_str!("schema/004_searched.sql")),
    M::up(include_str!("schema/005_looked_at.sql")),
    M::up(include_str!("schema/006_documents.sql")),
];

pub fn migrate(connection: &mut Connection) -> Result<(), StoreError> {
    Migrations::from_slice(STEPS).to_latest(connection).map_err(|e| match e {
        Error::MigrationDefinition(MigrationDefinitionError::DatabaseTooFarAhead) => StoreError::Newer,
        other => StoreError::Migration(other.to_string()),
    })
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn migrations_run_from_nothing() {
        assert!(Migrations::from_slice(STEPS).validate().is_ok());
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
        for (release, rows, house) in [release!(1), release!(2), release!(3), release!(4), release!(5)] {
            let folder = tempfile::tempdir().unwrap();
            let path = folder.path().join("houses.db");
            let mut old = Connection::open(&path).unwrap();
            Migrations::from_slice(&STEPS[..release]).to_latest(&mut old).unwrap();
            // Its rows stand in the order of the tables' names.
            old.pragma_update(None, "foreign_keys", false).unwrap();
            old.execute_batch(rows).unwrap();
            drop(old);
            let store = crate::Store::open(&path).unwrap();
            let house: wayfinder_core::House = serde_json::from_str(house).unwrap();
            assert_eq!(*store.house(1).unwrap(), house, "release {release}");
            let log = store.history(1, None, 100).unwrap();
            assert_eq!(log.len() as u64, house.revision, "release {release}");
            assert!(log.iter().all(|e| !e.subjects.is_empty()), "release {release}: {log:?}");
            let wren = crate::Author { name: "Wren".into(), time: jiff::Timestamp::UNIX_EPOCH, key: None };
            for _ in 0..house.revision {
                store.undo(1, None, &wren).unwrap();
            }
            let about = store.house(1).unwrap().about.clone();
            let bare = wayfinder_core::House { about, revision: 2 * house.revision, ..wayfinder_core::House::new("") };
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
