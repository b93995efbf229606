//! Tables. Migrations are only ever added at the end; a released one never changes.

use rusqlite::Connection;
use rusqlite_migration::{Error, M, MigrationDefinitionError, Migrations};

use crate::StoreError;

const STEPS: &[M<'_>] =
    &[M::up(include_str!("schema/001_first.sql")), M::up(include_str!("schema/002_whole_house.sql"))];

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

    #[test]
    fn a_newer_database_is_refused() {
        let mut connection = Connection::open_in_memory().unwrap();
        migrate(&mut connection).unwrap();
        connection.pragma_update(None, "user_version", 999).unwrap();
        assert!(matches!(migrate(&mut connection), Err(StoreError::Newer)));
    }
}
