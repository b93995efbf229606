//! Rows to values and back, side by side for each thing.

mod panels;
mod places;
mod records;

use std::collections::BTreeMap;

use rusqlite::{OptionalExtension, Row, Transaction, params};
use serde::Serialize;
use serde::de::DeserializeOwned;
use serde_json::Value;
use wayfinder_core::edit::{Edit, Swap};
use wayfinder_core::house::{About, House};

use crate::{HouseId, StoreError};

pub(super) type Stored<T> = Result<T, StoreError>;

/// A word as the API writes it: `odd-even`.
pub(super) fn word<T: Serialize>(value: &T) -> Stored<String> {
    match serde_json::to_value(value)? {
        Value::String(word) => Ok(word),
        other => Err(StoreError::Stored(format!("{other} is not a word"))),
    }
}

pub(super) fn from_word<T: DeserializeOwned>(word: String) -> Stored<T> {
    let value = Value::String(word);
    serde_json::from_value(value).map_err(|e| StoreError::Stored(e.to_string()))
}

/// Runs a query for a house and makes a value of each row.
pub(super) fn each<T>(
    t: &Transaction<'_>,
    sql: &str,
    house: HouseId,
    value: impl Fn(&Row<'_>) -> Stored<T>,
) -> Stored<Vec<T>> {
    let mut statement = t.prepare_cached(sql)?;
    let mut rows = statement.query(params![house])?;
    let mut values = Vec::new();
    while let Some(row) = rows.next()? {
        values.push(value(row)?);
    }
    Ok(values)
}

/// Pairs gathered by their first part, in the order of the query.
pub(super) fn gather<T>(
    t: &Transaction<'_>,
    sql: &str,
    house: HouseId,
    value: impl Fn(&Row<'_>) -> Stored<T>,
) -> Stored<BTreeMap<u64, Vec<T>>> {
    let mut all: BTreeMap<u64, Vec<T>> = BTreeMap::new();
    for (key, value) in each(t, sql, house, |row| Ok((row.get(0)?, value(row)?)))? {
        all.entry(key).or_default().push(value);
    }
    Ok(all)
}

/// A value kept as JSON.
pub(super) fn json<T: Serialize>(value: &T) -> Stored<String> {
    Ok(serde_json::to_string(value)?)
}

/// A value kept as JSON, where there is one.
pub(super) fn some_json<T: Serialize>(value: Option<&T>) -> Stored<Option<String>> {
    value.map(json).transpose()
}

pub(super) fn from_some_json<T: DeserializeOwned>(text: Option<String>) -> Stored<Option<T>> {
    Ok(text.map(|t| serde_json::from_str(&t)).transpose()?)
}

/// Loads a house and checks it: a stored house that cannot be is refused, not patched.
pub fn load(t: &Transaction<'_>, id: HouseId) -> Stored<House> {
    let about = t
        .prepare_cached("SELECT name, proof_threshold, revision, lengths, every_panel FROM house WHERE id = ?1")?
        .query_row(params![id], |r| Ok((r.get(0)?, r.get(1)?, r.get(2)?, r.get(3)?, r.get(4)?)))
        .optional()?;
    let (name, proof_threshold, revision, lengths, every_panel) = about.ok_or(StoreError::NoHouse(id))?;
    let about = About { name, proof_threshold, lengths: from_word(lengths)?, every_panel };
    let house = House {
        revision,
        about,
        panels: panels::panels(t, id)?,
        breakers: panels::breakers(t, id)?,
        circuits: panels::circuits(t, id)?,
        rooms: places::rooms(t, id)?,
        openings: places::openings(t, id)?,
        points: places::points(t, id)?,
        evidence: records::evidence(t, id)?,
        log: records::log(t, id)?,
        pictures: records::pictures(t, id)?,
        underlays: places::underlays(t, id)?,
        runs: records::runs(t, id)?,
        step: records::step(t, id)?,
    };
    house.check().map_err(|e| StoreError::Stored(e.to_string()))?;
    Ok(house)
}

/// Writes a whole new house.
pub fn insert(t: &Transaction<'_>, house: &House) -> Stored<HouseId> {
    let About { name, proof_threshold, lengths, every_panel } = &house.about;
    t.execute(
        "INSERT INTO house (name, proof_threshold, revision, lengths, every_panel) VALUES (?1, ?2, ?3, ?4, ?5)",
        params![name, proof_threshold, house.revision, word(lengths)?, every_panel],
    )?;
    let id = t.last_insert_rowid();
    house.panels.iter().try_for_each(|x| panels::put_panel(t, id, x))?;
    house.breakers.iter().try_for_each(|x| panels::put_breaker(t, id, x))?;
    house.circuits.iter().try_for_each(|x| panels::put_circuit(t, id, x))?;
    house.rooms.iter().try_for_each(|x| places::put_room(t, id, x))?;
    house.openings.iter().try_for_each(|x| places::put_opening(t, id, x))?;
    house.points.iter().try_for_each(|x| places::put_point(t, id, x))?;
    house.evidence.iter().try_for_each(|x| records::put_evidence(t, id, x))?;
    house.log.iter().try_for_each(|x| records::put_entry(t, id, x))?;
    house.pictures.iter().try_for_each(|x| records::put_picture(t, id, x))?;
    house.underlays.iter().try_for_each(|x| places::put_underlay(t, id, x))?;
    house.runs.iter().try_for_each(|x| records::put_run(t, id, x))?;
    records::put_step(t, id, house.step.as_ref())?;
    Ok(id)
}

/// Writes what an edit did.
pub fn write(t: &Transaction<'_>, house: HouseId, edit: &Edit) -> Stored<()> {
    match edit {
        Edit::About(Swap { after, .. }) => after.iter().try_for_each(|about| put_about(t, house, about)),
        Edit::Panel(s) => put_or_delete(t, house, s, "panel", |x| x.id.0, panels::put_panel),
        Edit::Breaker(s) => put_or_delete(t, house, s, "breaker", |x| x.id.0, panels::put_breaker),
        Edit::Circuit(s) => put_or_delete(t, house, s, "circuit", |x| x.id.0, panels::put_circuit),
        Edit::Room(s) => put_or_delete(t, house, s, "room", |x| x.id.0, places::put_room),
        Edit::Opening(s) => put_or_delete(t, house, s, "opening", |x| x.id.0, places::put_opening),
        Edit::Point(s) => put_or_delete(t, house, s, "point", |x| x.id.0, places::put_point),
        Edit::Evidence(s) => put_or_delete(t, house, s, "evidence", |x| x.id.0, records::put_evidence),
        Edit::LogEntry(s) => put_or_delete(t, house, s, "log_entry", |x| x.id.0, records::put_entry),
        Edit::Picture(s) => put_or_delete(t, house, s, "picture", |x| x.id.0, records::put_picture),
        Edit::Underlay(s) => put_or_delete(t, house, s, "underlay", |x| x.id.0, places::put_underlay),
        Edit::Run(s) => put_or_delete(t, house, s, "run", |x| x.id.0, records::put_run),
        Edit::Step(s) => records::put_step(t, house, s.after.as_ref()),
    }
}

fn put_or_delete<T>(
    t: &Transaction<'_>,
    house: HouseId,
    swap: &Swap<T>,
    table: &str,
    id: impl Fn(&T) -> u64,
    put: impl Fn(&Transaction<'_>, HouseId, &T) -> Stored<()>,
) -> Stored<()> {
    match (&swap.before, &swap.after) {
        (_, Some(after)) => put(t, house, after),
        (Some(before), None) => {
            let delete = format!("DELETE FROM {table} WHERE house = ?1 AND id = ?2");
            t.prepare_cached(&delete)?.execute(params![house, id(before)])?;
            Ok(())
        }
        (None, None) => Ok(()),
    }
}

fn put_about(t: &Transaction<'_>, house: HouseId, about: &About) -> Stored<()> {
    let sql = "UPDATE house SET name = ?2, proof_threshold = ?3, lengths = ?4, every_panel = ?5 WHERE id = ?1";
    let About { name, proof_threshold, lengths, every_panel } = about;
    t.prepare_cached(sql)?.execute(params![house, name, proof_threshold, word(lengths)?, every_panel])?;
    Ok(())
}
