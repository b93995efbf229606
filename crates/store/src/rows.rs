//! Rows to values and back. A thing is one row: its table, its id, and the document that the house file has of it.

use rusqlite::{OptionalExtension, Transaction, params};
use serde_json::{Map, Value};
use wayfinder_core::edit::Edit;
use wayfinder_core::house::House;

use crate::{HouseId, StoreError};

type Stored<T> = Result<T, StoreError>;

/// The one thing that a house has at most one of.
const STEP: &str = "step";
/// What is kept with the house's own row.
const ABOUT: &str = "about";

/// Loads a house and checks it: a stored house that cannot be is refused, not patched.
pub fn load(t: &Transaction<'_>, id: HouseId) -> Stored<House> {
    let sql = "SELECT revision, about FROM house WHERE id = ?1";
    let about = |r: &rusqlite::Row<'_>| Ok((r.get::<_, u64>(0)?, r.get::<_, String>(1)?));
    let (revision, about) =
        t.prepare_cached(sql)?.query_row(params![id], about).optional()?.ok_or(StoreError::NoHouse(id))?;
    let mut whole = document(&House::new(""))?;
    whole.insert("revision".into(), revision.into());
    whole.insert(ABOUT.into(), serde_json::from_str(&about)?);
    let mut things = t.prepare_cached("SELECT sort, doc FROM thing WHERE house = ?1 ORDER BY sort, id")?;
    let mut rows = things.query(params![id])?;
    while let Some(row) = rows.next()? {
        let (sort, doc): (String, String) = (row.get(0)?, row.get(1)?);
        let thing = serde_json::from_str(&doc)?;
        match whole.entry(&sort).or_insert_with(|| if sort == STEP { Value::Null } else { Value::Array(Vec::new()) }) {
            Value::Array(table) => table.push(thing),
            single => *single = thing,
        }
    }
    let house: House = serde_json::from_value(Value::Object(whole)).map_err(|e| StoreError::Stored(e.to_string()))?;
    house.check().map_err(|e| StoreError::Stored(e.to_string()))?;
    Ok(house)
}

/// Writes a whole new house.
pub fn insert(t: &Transaction<'_>, house: &House) -> Stored<HouseId> {
    let mut whole = document(house)?;
    let about = whole.remove(ABOUT).unwrap_or_default();
    t.execute("INSERT INTO house (revision, about) VALUES (?1, ?2)", params![house.revision, about.to_string()])?;
    let id = t.last_insert_rowid();
    for (sort, things) in whole {
        match things {
            Value::Array(things) => things.iter().try_for_each(|thing| put(t, id, &sort, thing))?,
            step @ Value::Object(_) => put(t, id, &sort, &step)?,
            // The revision.
            _ => {}
        }
    }
    Ok(id)
}

/// Writes what an edit did.
pub fn write(t: &Transaction<'_>, house: HouseId, edit: &Edit) -> Stored<()> {
    let sort = edit.table();
    let mut swap = document(edit)?;
    let before = swap.remove("before").filter(|thing| !thing.is_null());
    let after = swap.remove("after").filter(|thing| !thing.is_null());
    match (before, after) {
        (_, Some(about)) if sort == ABOUT => {
            let sql = "UPDATE house SET about = ?2 WHERE id = ?1";
            t.prepare_cached(sql)?.execute(params![house, about.to_string()])?;
        }
        (before, Some(after)) => {
            // A step takes the place of another one.
            if let Some(before) = before.filter(|before| before["id"] != after["id"]) {
                delete(t, house, sort, &before)?;
            }
            put(t, house, sort, &after)?;
        }
        (Some(before), None) => delete(t, house, sort, &before)?,
        (None, None) => {}
    }
    Ok(())
}

fn put(t: &Transaction<'_>, house: HouseId, sort: &str, thing: &Value) -> Stored<()> {
    let sql = "INSERT INTO thing (house, sort, id, doc) VALUES (?1, ?2, ?3, ?4)
               ON CONFLICT (house, sort, id) DO UPDATE SET doc = ?4";
    t.prepare_cached(sql)?.execute(params![house, sort, thing["id"].as_u64(), thing.to_string()])?;
    Ok(())
}

fn delete(t: &Transaction<'_>, house: HouseId, sort: &str, thing: &Value) -> Stored<()> {
    let sql = "DELETE FROM thing WHERE house = ?1 AND sort = ?2 AND id = ?3";
    t.prepare_cached(sql)?.execute(params![house, sort, thing["id"].as_u64()])?;
    Ok(())
}

/// A value as the house file writes it.
fn document(value: &impl serde::Serialize) -> Stored<Map<String, Value>> {
    match serde_json::to_value(value)? {
        Value::Object(fields) => Ok(fields),
        other => Err(StoreError::Stored(format!("{other} is no document"))),
    }
}
