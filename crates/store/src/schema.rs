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

    // A database of the first release, with a house in it, becomes one of today and the house is whole.
    #[test]
    fn an_old_database_is_taken_along() {
        let mut connection = Connection::open_in_memory().unwrap();
        Migrations::from_slice(&STEPS[..1]).to_latest(&mut connection).unwrap();
        connection
            .execute_batch(
                "INSERT INTO house VALUES (1, 'Old', 0.99, 3);
                 INSERT INTO panel VALUES (1, 1, 'Main', NULL, 'split-phase', 200, 200, 20, 'columns', '\"all\"', 30, NULL, NULL);
                 INSERT INTO breaker VALUES (1, 2, 1, 20, 'gfci', 'on', 'bath');
                 INSERT INTO pole VALUES (1, 2, 0, 5, 1);
                 INSERT INTO empty_space VALUES (1, 1, 7);
                 INSERT INTO room VALUES (1, 3, 'Bath', '1');
                 INSERT INTO point VALUES (1, 4, 'B1', 3, 'receptacle', '', 120, NULL);
                 INSERT INTO evidence VALUES (1, 5, 4, '2026-01-01T00:00:00Z', 'Ash', NULL, 'power', 'dead', 'tester');
                 INSERT INTO evidence_breaker VALUES (1, 5, 2);",
            )
            .unwrap();
        migrate(&mut connection).unwrap();
        let house = crate::rows::load(&connection.transaction().unwrap(), 1).unwrap();
        assert_eq!((house.revision, house.points.len(), house.rooms.len()), (3, 1, 1));
        let told = house.evidence.iter().next().unwrap();
        assert_eq!(told.observation.breakers().map(|b| b.0).collect::<Vec<_>>(), [2]);
        assert_eq!(house.breakers.iter().next().unwrap().at_text(), "5a");
        let empty = &house.panels.iter().next().unwrap().empty;
        assert_eq!(empty.iter().map(ToString::to_string).collect::<Vec<_>>(), ["7"]);
        assert!(!house.about.every_panel, "nobody was asked yet");
    }

    #[test]
    fn a_newer_database_is_refused() {
        let mut connection = Connection::open_in_memory().unwrap();
        migrate(&mut connection).unwrap();
        connection.pragma_update(None, "user_version", 999).unwrap();
        assert!(matches!(migrate(&mut connection), Err(StoreError::Newer)));
    }
}
