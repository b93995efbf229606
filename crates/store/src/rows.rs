//! Rows to values and back, side by side for each thing.

use std::collections::BTreeMap;

use jiff::Timestamp;
use rusqlite::{OptionalExtension, Row, Transaction, params};
use serde::Serialize;
use serde::de::DeserializeOwned;
use serde_json::Value;
use wayfinder_core::change::{Edit, Swap};
use wayfinder_core::house::{
    About, Breaker, BreakerId, CardSize, Evidence, EvidenceId, House, Observation, Panel, PanelId, Point, PointId,
    Room, RoomId, Step, StepId,
};
use wayfinder_core::position::{Half, Position};
use wayfinder_core::table::Table;
use wayfinder_core::units::{Amps, Inches, NominalVolts};

use crate::{HouseId, StoreError};

type Stored<T> = Result<T, StoreError>;

/// A word as the API writes it: `odd-even`.
fn word<T: Serialize>(value: &T) -> Stored<String> {
    match serde_json::to_value(value)? {
        Value::String(word) => Ok(word),
        other => Err(StoreError::Stored(format!("{other} is not a word"))),
    }
}

fn from_word<T: DeserializeOwned>(word: String) -> Stored<T> {
    let value = Value::String(word);
    serde_json::from_value(value).map_err(|e| StoreError::Stored(e.to_string()))
}

/// Runs a query for a house and makes a value of each row.
fn each<T>(t: &Transaction<'_>, sql: &str, house: HouseId, value: impl Fn(&Row<'_>) -> Stored<T>) -> Stored<Vec<T>> {
    let mut statement = t.prepare_cached(sql)?;
    let mut rows = statement.query(params![house])?;
    let mut values = Vec::new();
    while let Some(row) = rows.next()? {
        values.push(value(row)?);
    }
    Ok(values)
}

/// Pairs gathered by their first part, in the order of the query.
fn gather<T>(
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

/// Loads a house and checks it: a stored house that cannot be is refused, not patched.
pub fn load(t: &Transaction<'_>, id: HouseId) -> Stored<House> {
    let about = t
        .prepare_cached("SELECT name, proof_threshold, revision FROM house WHERE id = ?1")?
        .query_row(params![id], |r| Ok((About { name: r.get(0)?, proof_threshold: r.get(1)? }, r.get(2)?)))
        .optional()?;
    let (about, revision) = about.ok_or(StoreError::NoHouse(id))?;
    let house = House {
        revision,
        about,
        panels: panels(t, id)?,
        breakers: breakers(t, id)?,
        rooms: rooms(t, id)?,
        points: points(t, id)?,
        evidence: evidence(t, id)?,
        step: step(t, id)?,
    };
    house.check().map_err(|e| StoreError::Stored(e.to_string()))?;
    Ok(house)
}

/// Writes a whole new house.
pub fn insert(t: &Transaction<'_>, house: &House) -> Stored<HouseId> {
    let About { name, proof_threshold } = &house.about;
    t.execute(
        "INSERT INTO house (name, proof_threshold, revision) VALUES (?1, ?2, ?3)",
        params![name, proof_threshold, house.revision],
    )?;
    let id = t.last_insert_rowid();
    house.panels.iter().try_for_each(|x| put_panel(t, id, x))?;
    house.breakers.iter().try_for_each(|x| put_breaker(t, id, x))?;
    house.rooms.iter().try_for_each(|x| put_room(t, id, x))?;
    house.points.iter().try_for_each(|x| put_point(t, id, x))?;
    house.evidence.iter().try_for_each(|x| put_evidence(t, id, x))?;
    put_step(t, id, house.step.as_ref())?;
    Ok(id)
}

/// Writes what an edit did.
pub fn write(t: &Transaction<'_>, house: HouseId, edit: &Edit) -> Stored<()> {
    match edit {
        Edit::About(Swap { after, .. }) => after.iter().try_for_each(|about| put_about(t, house, about)),
        Edit::Panel(s) => put_or_delete(t, house, s, "panel", |p| p.id.0, put_panel),
        Edit::Breaker(s) => put_or_delete(t, house, s, "breaker", |b| b.id.0, put_breaker),
        Edit::Room(s) => put_or_delete(t, house, s, "room", |r| r.id.0, put_room),
        Edit::Point(s) => put_or_delete(t, house, s, "point", |p| p.id.0, put_point),
        Edit::Evidence(s) => put_or_delete(t, house, s, "evidence", |e| e.id.0, put_evidence),
        Edit::Step(s) => put_step(t, house, s.after.as_ref()),
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
    t.prepare_cached("UPDATE house SET name = ?2, proof_threshold = ?3 WHERE id = ?1")?.execute(params![
        house,
        about.name,
        about.proof_threshold
    ])?;
    Ok(())
}

fn panels(t: &Transaction<'_>, house: HouseId) -> Stored<Table<Panel>> {
    let empty = gather(t, "SELECT panel, space FROM empty_space WHERE house = ?1", house, |r| Ok(r.get(1)?))?;
    let sql =
        "SELECT id, name, fed_by, supply, bus_amps, main_amps, spaces, numbering, tandem, max_circuits, card_width,
                      card_height FROM panel WHERE house = ?1";
    let panel = |r: &Row<'_>| {
        let id: u64 = r.get(0)?;
        let card: (Option<f64>, Option<f64>) = (r.get(10)?, r.get(11)?);
        Ok(Panel {
            id: PanelId(id),
            name: r.get(1)?,
            fed_by: r.get::<_, Option<u64>>(2)?.map(BreakerId),
            supply: from_word(r.get(3)?)?,
            bus: Amps(r.get(4)?),
            main: r.get::<_, Option<f64>>(5)?.map(Amps),
            spaces: r.get(6)?,
            numbering: from_word(r.get(7)?)?,
            tandem: serde_json::from_str(&r.get::<_, String>(8)?)?,
            max_circuits: r.get(9)?,
            empty: empty.get(&id).into_iter().flatten().copied().collect(),
            card: card.0.zip(card.1).map(|(w, h)| CardSize { width: Inches(w), height: Inches(h) }),
        })
    };
    Ok(each(t, sql, house, panel)?.into_iter().collect())
}

fn put_panel(t: &Transaction<'_>, house: HouseId, p: &Panel) -> Stored<()> {
    t.prepare_cached(
        "INSERT INTO panel (house, id, name, fed_by, supply, bus_amps, main_amps, spaces, numbering, tandem, max_circuits,
                            card_width, card_height)
         VALUES (?1, ?2, ?3, ?4, ?5, ?6, ?7, ?8, ?9, ?10, ?11, ?12, ?13)
         ON CONFLICT (house, id) DO UPDATE SET name = ?3, fed_by = ?4, supply = ?5, bus_amps = ?6, main_amps = ?7,
            spaces = ?8, numbering = ?9, tandem = ?10, max_circuits = ?11, card_width = ?12, card_height = ?13",
    )?
    .execute(params![
        house,
        p.id.0,
        p.name,
        p.fed_by.map(|b| b.0),
        word(&p.supply)?,
        p.bus.0,
        p.main.map(|a| a.0),
        p.spaces,
        word(&p.numbering)?,
        serde_json::to_string(&p.tandem)?,
        p.max_circuits,
        p.card.map(|c| c.width.0),
        p.card.map(|c| c.height.0),
    ])?;
    t.prepare_cached("DELETE FROM empty_space WHERE house = ?1 AND panel = ?2")?.execute(params![house, p.id.0])?;
    let mut insert = t.prepare_cached("INSERT INTO empty_space (house, panel, space) VALUES (?1, ?2, ?3)")?;
    for space in &p.empty {
        insert.execute(params![house, p.id.0, space])?;
    }
    Ok(())
}

fn breakers(t: &Transaction<'_>, house: HouseId) -> Stored<Table<Breaker>> {
    let pole = |r: &Row<'_>| Ok(Position { space: r.get(1)?, half: half(r.get(2)?)? });
    let poles = gather(t, "SELECT breaker, space, half FROM pole WHERE house = ?1 ORDER BY breaker, nth", house, pole)?;
    let sql = "SELECT id, panel, amps, device, handle, label FROM breaker WHERE house = ?1";
    let breaker = |r: &Row<'_>| {
        let id: u64 = r.get(0)?;
        Ok(Breaker {
            id: BreakerId(id),
            panel: PanelId(r.get(1)?),
            at: poles.get(&id).cloned().unwrap_or_default(),
            amps: Amps(r.get(2)?),
            device: from_word(r.get(3)?)?,
            handle: from_word(r.get(4)?)?,
            label: r.get(5)?,
        })
    };
    Ok(each(t, sql, house, breaker)?.into_iter().collect())
}

fn put_breaker(t: &Transaction<'_>, house: HouseId, b: &Breaker) -> Stored<()> {
    t.prepare_cached(
        "INSERT INTO breaker (house, id, panel, amps, device, handle, label) VALUES (?1, ?2, ?3, ?4, ?5, ?6, ?7)
         ON CONFLICT (house, id) DO UPDATE SET panel = ?3, amps = ?4, device = ?5, handle = ?6, label = ?7",
    )?
    .execute(params![house, b.id.0, b.panel.0, b.amps.0, word(&b.device)?, word(&b.handle)?, b.label])?;
    t.prepare_cached("DELETE FROM pole WHERE house = ?1 AND breaker = ?2")?.execute(params![house, b.id.0])?;
    let mut insert =
        t.prepare_cached("INSERT INTO pole (house, breaker, nth, space, half) VALUES (?1, ?2, ?3, ?4, ?5)")?;
    for (nth, position) in (0_i64..).zip(&b.at) {
        insert.execute(params![house, b.id.0, nth, position.space, half_number(position.half)])?;
    }
    Ok(())
}

fn half(number: i64) -> Stored<Half> {
    match number {
        0 => Ok(Half::Whole),
        1 => Ok(Half::Upper),
        2 => Ok(Half::Lower),
        _ => Err(StoreError::Stored(format!("a pole has half {number}"))),
    }
}

fn half_number(half: Half) -> i64 {
    match half {
        Half::Whole => 0,
        Half::Upper => 1,
        Half::Lower => 2,
    }
}

fn rooms(t: &Transaction<'_>, house: HouseId) -> Stored<Table<Room>> {
    let room = |r: &Row<'_>| Ok(Room { id: RoomId(r.get(0)?), name: r.get(1)?, floor: r.get(2)? });
    Ok(each(t, "SELECT id, name, floor FROM room WHERE house = ?1", house, room)?.into_iter().collect())
}

fn put_room(t: &Transaction<'_>, house: HouseId, r: &Room) -> Stored<()> {
    t.prepare_cached(
        "INSERT INTO room (house, id, name, floor) VALUES (?1, ?2, ?3, ?4)
         ON CONFLICT (house, id) DO UPDATE SET name = ?3, floor = ?4",
    )?
    .execute(params![house, r.id.0, r.name, r.floor])?;
    Ok(())
}

fn points(t: &Transaction<'_>, house: HouseId) -> Stored<Table<Point>> {
    let point = |r: &Row<'_>| {
        let volts = r.get::<_, Option<u16>>(5)?.map(NominalVolts::try_from).transpose().map_err(StoreError::Stored)?;
        Ok(Point {
            id: PointId(r.get(0)?),
            tag: r.get(1)?,
            room: RoomId(r.get(2)?),
            kind: from_word(r.get(3)?)?,
            name: r.get(4)?,
            volts,
            watts: r.get(6)?,
        })
    };
    let sql = "SELECT id, tag, room, kind, name, volts, watts FROM point WHERE house = ?1";
    Ok(each(t, sql, house, point)?.into_iter().collect())
}

fn put_point(t: &Transaction<'_>, house: HouseId, p: &Point) -> Stored<()> {
    t.prepare_cached(
        "INSERT INTO point (house, id, tag, room, kind, name, volts, watts) VALUES (?1, ?2, ?3, ?4, ?5, ?6, ?7, ?8)
         ON CONFLICT (house, id) DO UPDATE SET tag = ?3, room = ?4, kind = ?5, name = ?6, volts = ?7, watts = ?8",
    )?
    .execute(params![house, p.id.0, p.tag, p.room.0, word(&p.kind)?, p.name, p.volts.map(u16::from), p.watts])?;
    Ok(())
}

fn evidence(t: &Transaction<'_>, house: HouseId) -> Stored<Table<Evidence>> {
    let spoken = "SELECT evidence, breaker FROM evidence_breaker WHERE house = ?1";
    let breakers = gather(t, spoken, house, |r| Ok(BreakerId(r.get(1)?)))?;
    let sql = "SELECT id, point, time, who, step, what, seen, how FROM evidence WHERE house = ?1";
    let piece = |r: &Row<'_>| {
        let id: u64 = r.get(0)?;
        let time: String = r.get(2)?;
        let named = breakers.get(&id).cloned().unwrap_or_default();
        let observation = match r.get::<_, String>(5)?.as_str() {
            "pointed" => {
                let at = named.first().copied();
                Observation::Pointed { at: at.ok_or_else(|| StoreError::Stored("pointed at nothing".into()))? }
            }
            _ => Observation::Power {
                off: named.into_iter().collect(),
                seen: from_word(r.get(6)?)?,
                how: from_word(r.get(7)?)?,
            },
        };
        Ok(Evidence {
            id: EvidenceId(id),
            point: PointId(r.get(1)?),
            time: time.parse::<Timestamp>().map_err(|e| StoreError::Stored(e.to_string()))?,
            who: r.get(3)?,
            step: r.get::<_, Option<u64>>(4)?.map(StepId),
            observation,
        })
    };
    Ok(each(t, sql, house, piece)?.into_iter().collect())
}

fn put_evidence(t: &Transaction<'_>, house: HouseId, e: &Evidence) -> Stored<()> {
    let (what, seen, how) = match &e.observation {
        Observation::Power { seen, how, .. } => ("power", Some(word(seen)?), Some(word(how)?)),
        Observation::Pointed { .. } => ("pointed", None, None),
    };
    t.prepare_cached(
        "INSERT INTO evidence (house, id, point, time, who, step, what, seen, how)
         VALUES (?1, ?2, ?3, ?4, ?5, ?6, ?7, ?8, ?9)
         ON CONFLICT (house, id) DO UPDATE SET point = ?3, time = ?4, who = ?5, step = ?6, what = ?7, seen = ?8, how = ?9",
    )?
    .execute(params![house, e.id.0, e.point.0, e.time.to_string(), e.who, e.step.map(|s| s.0), what, seen, how])?;
    t.prepare_cached("DELETE FROM evidence_breaker WHERE house = ?1 AND evidence = ?2")?
        .execute(params![house, e.id.0])?;
    let mut insert = t.prepare_cached("INSERT INTO evidence_breaker (house, evidence, breaker) VALUES (?1, ?2, ?3)")?;
    for breaker in e.observation.breakers() {
        insert.execute(params![house, e.id.0, breaker.0])?;
    }
    Ok(())
}

fn step(t: &Transaction<'_>, house: HouseId) -> Stored<Option<Step>> {
    let id = t
        .prepare_cached("SELECT id FROM step WHERE house = ?1")?
        .query_row(params![house], |r| r.get::<_, u64>(0))
        .optional()?;
    let Some(id) = id else { return Ok(None) };
    let off = each(t, "SELECT breaker FROM step_off WHERE house = ?1", house, |r| Ok(BreakerId(r.get(0)?)))?;
    let visit = "SELECT point FROM step_visit WHERE house = ?1 ORDER BY nth";
    let visit = each(t, visit, house, |r| Ok(PointId(r.get(0)?)))?;
    Ok(Some(Step { id: StepId(id), off: off.into_iter().collect(), visit }))
}

fn put_step(t: &Transaction<'_>, house: HouseId, step: Option<&Step>) -> Stored<()> {
    t.prepare_cached("DELETE FROM step WHERE house = ?1")?.execute(params![house])?;
    let Some(step) = step else { return Ok(()) };
    t.prepare_cached("INSERT INTO step (house, id) VALUES (?1, ?2)")?.execute(params![house, step.id.0])?;
    for breaker in &step.off {
        t.prepare_cached("INSERT INTO step_off (house, breaker) VALUES (?1, ?2)")?
            .execute(params![house, breaker.0])?;
    }
    for (nth, point) in (0_i64..).zip(&step.visit) {
        t.prepare_cached("INSERT INTO step_visit (house, nth, point) VALUES (?1, ?2, ?3)")?
            .execute(params![house, nth, point.0])?;
    }
    Ok(())
}
