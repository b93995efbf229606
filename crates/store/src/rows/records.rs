//! Evidence, the step under way, the logbook, pictures.

use jiff::Timestamp;
use rusqlite::{OptionalExtension, Row, Transaction, params};
use wayfinder_core::base::table::Table;
use wayfinder_core::house::{
    BreakerId, Evidence, EvidenceId, LogEntry, LogId, Observation, Picture, PictureId, PointId, Run, RunId, Step,
    StepId,
};

use super::{Stored, each, from_word, gather, json, word};
use crate::{HouseId, StoreError};

fn time(text: &str) -> Stored<Timestamp> {
    text.parse().map_err(|e: jiff::Error| StoreError::Stored(e.to_string()))
}

pub fn evidence(t: &Transaction<'_>, house: HouseId) -> Stored<Table<Evidence>> {
    let spoken = "SELECT evidence, breaker FROM evidence_breaker WHERE house = ?1";
    let breakers = gather(t, spoken, house, |r| Ok(BreakerId(r.get(1)?)))?;
    let sql = "SELECT id, point, time, who, step, what, seen, how, detail FROM evidence WHERE house = ?1";
    let piece = |r: &Row<'_>| {
        let id: u64 = r.get(0)?;
        let named = breakers.get(&id).cloned().unwrap_or_default();
        let observation = match r.get::<_, String>(5)?.as_str() {
            "pointed" => Observation::Pointed { at: only(&named)? },
            "wire" => Observation::Wire { at: only(&named)? },
            "rise" | "tried" | "fault" => serde_json::from_str(&r.get::<_, String>(8)?)?,
            _ => Observation::Power {
                off: named.into_iter().collect(),
                seen: from_word(r.get(6)?)?,
                how: from_word(r.get(7)?)?,
            },
        };
        Ok(Evidence {
            id: EvidenceId(id),
            point: PointId(r.get(1)?),
            time: time(&r.get::<_, String>(2)?)?,
            who: r.get(3)?,
            step: r.get::<_, Option<u64>>(4)?.map(StepId),
            observation,
        })
    };
    Ok(each(t, sql, house, piece)?.into_iter().collect())
}

pub fn put_evidence(t: &Transaction<'_>, house: HouseId, e: &Evidence) -> Stored<()> {
    let (what, seen, how) = match &e.observation {
        Observation::Power { seen, how, .. } => ("power", Some(word(seen)?), Some(word(how)?)),
        Observation::Pointed { .. } => ("pointed", None, None),
        Observation::Wire { .. } => ("wire", None, None),
        Observation::Rise { .. } => ("rise", None, None),
        Observation::Tried { .. } => ("tried", None, None),
        Observation::Fault { .. } => ("fault", None, None),
    };
    let detail = matches!(what, "rise" | "tried" | "fault").then(|| json(&e.observation)).transpose()?;
    t.prepare_cached(
        "INSERT INTO evidence (house, id, point, time, who, step, what, seen, how, detail)
         VALUES (?1, ?2, ?3, ?4, ?5, ?6, ?7, ?8, ?9, ?10)
         ON CONFLICT (house, id) DO UPDATE SET point = ?3, time = ?4, who = ?5, step = ?6, what = ?7, seen = ?8, how = ?9,
            detail = ?10",
    )?
    .execute(params![house, e.id.0, e.point.0, e.time.to_string(), e.who, e.step.map(|s| s.0), what, seen, how, detail])?;
    t.prepare_cached("DELETE FROM evidence_breaker WHERE house = ?1 AND evidence = ?2")?
        .execute(params![house, e.id.0])?;
    let mut insert = t.prepare_cached("INSERT INTO evidence_breaker (house, evidence, breaker) VALUES (?1, ?2, ?3)")?;
    for breaker in e.observation.breakers() {
        insert.execute(params![house, e.id.0, breaker.0])?;
    }
    Ok(())
}

/// The one breaker that an observation speaks of.
fn only(named: &[BreakerId]) -> Stored<BreakerId> {
    named.first().copied().ok_or_else(|| StoreError::Stored("an observation names no breaker".into()))
}

pub fn runs(t: &Transaction<'_>, house: HouseId) -> Stored<Table<Run>> {
    let searched = "SELECT run, breaker FROM run_searched WHERE house = ?1";
    let searched = gather(t, searched, house, |r| Ok(BreakerId(r.get(1)?)))?;
    let run = |r: &Row<'_>| {
        let id: u64 = r.get(0)?;
        Ok(Run {
            id: RunId(id),
            begun: time(&r.get::<_, String>(1)?)?,
            ended: r.get::<_, Option<String>>(2)?.map(|text| time(&text)).transpose()?,
            crew: serde_json::from_str(&r.get::<_, String>(3)?)?,
            steps: r.get(4)?,
            outages: r.get(5)?,
            searched: searched.get(&id).into_iter().flatten().copied().collect(),
        })
    };
    let sql = "SELECT id, begun, ended, crew, steps, outages FROM run WHERE house = ?1";
    Ok(each(t, sql, house, run)?.into_iter().collect())
}

pub fn put_run(t: &Transaction<'_>, house: HouseId, r: &Run) -> Stored<()> {
    t.prepare_cached(
        "INSERT INTO run (house, id, begun, ended, crew, steps, outages) VALUES (?1, ?2, ?3, ?4, ?5, ?6, ?7)
         ON CONFLICT (house, id) DO UPDATE SET begun = ?3, ended = ?4, crew = ?5, steps = ?6, outages = ?7",
    )?
    .execute(params![
        house,
        r.id.0,
        r.begun.to_string(),
        r.ended.map(|e| e.to_string()),
        json(&r.crew)?,
        r.steps,
        r.outages
    ])?;
    t.prepare_cached("DELETE FROM run_searched WHERE house = ?1 AND run = ?2")?.execute(params![house, r.id.0])?;
    for breaker in &r.searched {
        t.prepare_cached("INSERT INTO run_searched (house, run, breaker) VALUES (?1, ?2, ?3)")?
            .execute(params![house, r.id.0, breaker.0])?;
    }
    Ok(())
}

pub fn step(t: &Transaction<'_>, house: HouseId) -> Stored<Option<Step>> {
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

pub fn put_step(t: &Transaction<'_>, house: HouseId, step: Option<&Step>) -> Stored<()> {
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

pub fn log(t: &Transaction<'_>, house: HouseId) -> Stored<Table<LogEntry>> {
    let entry = |r: &Row<'_>| {
        Ok(LogEntry {
            id: LogId(r.get(0)?),
            time: time(&r.get::<_, String>(1)?)?,
            who: r.get(2)?,
            note: r.get(3)?,
            event: serde_json::from_str(&r.get::<_, String>(4)?)?,
        })
    };
    let sql = "SELECT id, time, who, note, event FROM log_entry WHERE house = ?1";
    Ok(each(t, sql, house, entry)?.into_iter().collect())
}

pub fn put_entry(t: &Transaction<'_>, house: HouseId, e: &LogEntry) -> Stored<()> {
    t.prepare_cached(
        "INSERT INTO log_entry (house, id, time, who, note, breaker, event) VALUES (?1, ?2, ?3, ?4, ?5, ?6, ?7)
         ON CONFLICT (house, id) DO UPDATE SET time = ?3, who = ?4, note = ?5, breaker = ?6, event = ?7",
    )?
    .execute(params![
        house,
        e.id.0,
        e.time.to_string(),
        e.who,
        e.note,
        e.event.breaker().map(|b| b.0),
        json(&e.event)?
    ])?;
    Ok(())
}

pub fn pictures(t: &Transaction<'_>, house: HouseId) -> Stored<Table<Picture>> {
    let picture = |r: &Row<'_>| {
        Ok(Picture {
            id: PictureId(r.get(0)?),
            of: serde_json::from_str(&r.get::<_, String>(1)?)?,
            time: time(&r.get::<_, String>(2)?)?,
            who: r.get(3)?,
            caption: r.get(4)?,
            width: r.get(5)?,
            height: r.get(6)?,
            digest: r.get(7)?,
        })
    };
    let sql = "SELECT id, shows, time, who, caption, width, height, digest FROM picture WHERE house = ?1";
    Ok(each(t, sql, house, picture)?.into_iter().collect())
}

pub fn put_picture(t: &Transaction<'_>, house: HouseId, p: &Picture) -> Stored<()> {
    t.prepare_cached(
        "INSERT INTO picture (house, id, shows, time, who, caption, width, height, digest)
         VALUES (?1, ?2, ?3, ?4, ?5, ?6, ?7, ?8, ?9)
         ON CONFLICT (house, id) DO UPDATE SET shows = ?3, time = ?4, who = ?5, caption = ?6, width = ?7, height = ?8,
            digest = ?9",
    )?
    .execute(params![
        house,
        p.id.0,
        json(&p.of)?,
        p.time.to_string(),
        p.who,
        p.caption,
        p.width,
        p.height,
        p.digest
    ])?;
    Ok(())
}
