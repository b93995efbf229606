//! Rooms, openings, points, drawings under the plan.

use rusqlite::{Row, Transaction, params};
use wayfinder_core::base::table::Table;
use wayfinder_core::base::units::{Inches, NominalVolts};
use wayfinder_core::house::{
    Area, BoxId, Opening, OpeningId, PictureId, Point, PointId, Room, RoomId, Underlay, UnderlayId,
};

use super::{Stored, each, from_some_json, from_word, gather, some_json, word};
use crate::{HouseId, StoreError};

pub fn rooms(t: &Transaction<'_>, house: HouseId) -> Stored<Table<Room>> {
    let area = |r: &Row<'_>| {
        let side = |nth| r.get(nth).map(Inches);
        Ok(Area { x: side(1)?, y: side(2)?, width: side(3)?, depth: side(4)? })
    };
    let areas = gather(t, "SELECT room, x, y, width, depth FROM room_area WHERE house = ?1", house, area)?;
    let room = |r: &Row<'_>| {
        let id: u64 = r.get(0)?;
        let area = areas.get(&id).and_then(|a| a.first()).copied();
        Ok(Room { id: RoomId(id), name: r.get(1)?, floor: r.get(2)?, area })
    };
    Ok(each(t, "SELECT id, name, floor FROM room WHERE house = ?1", house, room)?.into_iter().collect())
}

pub fn put_room(t: &Transaction<'_>, house: HouseId, r: &Room) -> Stored<()> {
    t.prepare_cached(
        "INSERT INTO room (house, id, name, floor) VALUES (?1, ?2, ?3, ?4)
         ON CONFLICT (house, id) DO UPDATE SET name = ?3, floor = ?4",
    )?
    .execute(params![house, r.id.0, r.name, r.floor])?;
    t.prepare_cached("DELETE FROM room_area WHERE house = ?1 AND room = ?2")?.execute(params![house, r.id.0])?;
    if let Some(Area { x, y, width, depth }) = r.area {
        t.prepare_cached("INSERT INTO room_area (house, room, x, y, width, depth) VALUES (?1, ?2, ?3, ?4, ?5, ?6)")?
            .execute(params![house, r.id.0, x.0, y.0, width.0, depth.0])?;
    }
    Ok(())
}

pub fn openings(t: &Transaction<'_>, house: HouseId) -> Stored<Table<Opening>> {
    let opening = |r: &Row<'_>| {
        Ok(Opening {
            id: OpeningId(r.get(0)?),
            room: RoomId(r.get(1)?),
            kind: from_word(r.get(2)?)?,
            wall: from_word(r.get(3)?)?,
            along: Inches(r.get(4)?),
            width: Inches(r.get(5)?),
            to: r.get::<_, Option<u64>>(6)?.map(RoomId),
        })
    };
    let sql = "SELECT id, room, kind, wall, along, width, to_room FROM opening WHERE house = ?1";
    Ok(each(t, sql, house, opening)?.into_iter().collect())
}

pub fn put_opening(t: &Transaction<'_>, house: HouseId, o: &Opening) -> Stored<()> {
    t.prepare_cached(
        "INSERT INTO opening (house, id, room, kind, wall, along, width, to_room) VALUES (?1, ?2, ?3, ?4, ?5, ?6, ?7, ?8)
         ON CONFLICT (house, id) DO UPDATE SET room = ?3, kind = ?4, wall = ?5, along = ?6, width = ?7, to_room = ?8",
    )?
    .execute(params![
        house,
        o.id.0,
        o.room.0,
        word(&o.kind)?,
        word(&o.wall)?,
        o.along.0,
        o.width.0,
        o.to.map(|r| r.0)
    ])?;
    Ok(())
}

pub fn points(t: &Transaction<'_>, house: HouseId) -> Stored<Table<Point>> {
    let ties = |tie: &str| {
        let sql = format!("SELECT point, other FROM point_tie WHERE house = ?1 AND tie = '{tie}'");
        gather(t, &sql, house, |r| Ok(PointId(r.get(1)?)))
    };
    let (devices, switches) = (ties("protected-by")?, ties("switched-by")?);
    let point = |r: &Row<'_>| {
        let id: u64 = r.get(0)?;
        let volts = r.get::<_, Option<u16>>(5)?.map(NominalVolts::try_from).transpose().map_err(StoreError::Stored)?;
        Ok(Point {
            id: PointId(id),
            tag: r.get(1)?,
            room: RoomId(r.get(2)?),
            kind: from_word(r.get(3)?)?,
            name: r.get(4)?,
            volts,
            watts: r.get(6)?,
            spot: from_some_json(r.get(7)?)?,
            shared_box: r.get::<_, Option<u64>>(8)?.map(BoxId),
            ground_fault: r.get(9)?,
            shows: r.get(10)?,
            protected_by: devices.get(&id).and_then(|d| d.first()).copied(),
            switched_by: switches.get(&id).into_iter().flatten().copied().collect(),
        })
    };
    let sql = "SELECT id, tag, room, kind, name, volts, watts, spot, shared_box, ground_fault, shows FROM point WHERE house = ?1";
    Ok(each(t, sql, house, point)?.into_iter().collect())
}

pub fn put_point(t: &Transaction<'_>, house: HouseId, p: &Point) -> Stored<()> {
    t.prepare_cached(
        "INSERT INTO point (house, id, tag, room, kind, name, volts, watts, spot, shared_box, ground_fault, shows)
         VALUES (?1, ?2, ?3, ?4, ?5, ?6, ?7, ?8, ?9, ?10, ?11, ?12)
         ON CONFLICT (house, id) DO UPDATE SET tag = ?3, room = ?4, kind = ?5, name = ?6, volts = ?7, watts = ?8, spot = ?9,
            shared_box = ?10, ground_fault = ?11, shows = ?12",
    )?
    .execute(params![
        house,
        p.id.0,
        p.tag,
        p.room.0,
        word(&p.kind)?,
        p.name,
        p.volts.map(u16::from),
        p.watts,
        some_json(p.spot.as_ref())?,
        p.shared_box.map(|b| b.0),
        p.ground_fault,
        p.shows,
    ])?;
    t.prepare_cached("DELETE FROM point_tie WHERE house = ?1 AND point = ?2")?.execute(params![house, p.id.0])?;
    let mut insert = t.prepare_cached("INSERT INTO point_tie (house, point, other, tie) VALUES (?1, ?2, ?3, ?4)")?;
    let protected = p.protected_by.iter().map(|d| (d.0, "protected-by"));
    for (other, tie) in protected.chain(p.switched_by.iter().map(|s| (s.0, "switched-by"))) {
        insert.execute(params![house, p.id.0, other, tie])?;
    }
    Ok(())
}

pub fn underlays(t: &Transaction<'_>, house: HouseId) -> Stored<Table<Underlay>> {
    let underlay = |r: &Row<'_>| {
        Ok(Underlay {
            id: UnderlayId(r.get(0)?),
            floor: r.get(1)?,
            picture: PictureId(r.get(2)?),
            x: Inches(r.get(3)?),
            y: Inches(r.get(4)?),
            width: Inches(r.get(5)?),
        })
    };
    let sql = "SELECT id, floor, picture, x, y, width FROM underlay WHERE house = ?1";
    Ok(each(t, sql, house, underlay)?.into_iter().collect())
}

pub fn put_underlay(t: &Transaction<'_>, house: HouseId, u: &Underlay) -> Stored<()> {
    t.prepare_cached(
        "INSERT INTO underlay (house, id, floor, picture, x, y, width) VALUES (?1, ?2, ?3, ?4, ?5, ?6, ?7)
         ON CONFLICT (house, id) DO UPDATE SET floor = ?3, picture = ?4, x = ?5, y = ?6, width = ?7",
    )?
    .execute(params![house, u.id.0, u.floor, u.picture.0, u.x.0, u.y.0, u.width.0])?;
    Ok(())
}
