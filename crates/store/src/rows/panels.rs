//! Panels, breakers, circuits.

use rusqlite::{Row, Transaction, params};
use wayfinder_core::base::position::{Half, Numbering, Position};
use wayfinder_core::base::table::Table;
use wayfinder_core::base::units::{Amps, Feet, Gauge, Inches};
use wayfinder_core::house::{
    Breaker, BreakerId, CardSize, Circuit, CircuitId, Panel, PanelId, PanelPlace, RoomId, Spot,
};

use super::{Stored, each, from_some_json, from_word, gather, json, some_json, word};
use crate::{HouseId, StoreError};

fn some_word<T: serde::de::DeserializeOwned>(text: Option<String>) -> Stored<Option<T>> {
    text.map(from_word).transpose()
}

pub fn panels(t: &Transaction<'_>, house: HouseId) -> Stored<Table<Panel>> {
    let sql = "SELECT panel, space, half FROM empty_space WHERE house = ?1";
    let empty = gather(t, sql, house, position)?;
    let place = |r: &Row<'_>| Ok(PanelPlace { room: RoomId(r.get(1)?), spot: from_some_json::<Spot>(r.get(2)?)? });
    let places = gather(t, "SELECT panel, room, spot FROM panel_place WHERE house = ?1", house, place)?;
    let sql = "SELECT id, name, fed_by, supply, bus_amps, main_amps, spaces, numbering, tandem, max_circuits, card_width,
                      card_height, engraved, tandem_known, model, listed, bonded, plug_on_neutral, feed_through, disconnect,
                      separate_building, printed FROM panel WHERE house = ?1";
    let panel = |r: &Row<'_>| {
        let id: u64 = r.get(0)?;
        let card: (Option<f64>, Option<f64>) = (r.get(10)?, r.get(11)?);
        let engraved = from_some_json(r.get(12)?)?;
        Ok(Panel {
            id: PanelId(id),
            name: r.get(1)?,
            fed_by: r.get::<_, Option<u64>>(2)?.map(BreakerId),
            supply: from_word(r.get(3)?)?,
            bus: Amps(r.get(4)?),
            main: r.get::<_, Option<f64>>(5)?.map(Amps),
            spaces: r.get(6)?,
            numbering: engraved.map_or_else(|| from_word(r.get(7)?), |numbers| Ok(Numbering::Custom(numbers)))?,
            tandem: serde_json::from_str(&r.get::<_, String>(8)?)?,
            tandem_known: some_word(r.get(13)?)?,
            max_circuits: r.get(9)?,
            empty: empty.get(&id).into_iter().flatten().copied().collect(),
            card: card.0.zip(card.1).map(|(w, h)| CardSize { width: Inches(w), height: Inches(h) }),
            model: r.get(14)?,
            listed: serde_json::from_str(&r.get::<_, String>(15)?)?,
            bonded: r.get(16)?,
            plug_on_neutral: r.get(17)?,
            feed_through: r.get(18)?,
            disconnect: r.get(19)?,
            separate_building: r.get(20)?,
            place: places.get(&id).and_then(|p| p.first()).copied(),
            printed: from_some_json(r.get(21)?)?,
        })
    };
    Ok(each(t, sql, house, panel)?.into_iter().collect())
}

pub fn put_panel(t: &Transaction<'_>, house: HouseId, p: &Panel) -> Stored<()> {
    let (numbering, engraved) = match &p.numbering {
        Numbering::Custom(numbers) => ("columns".to_owned(), Some(json(numbers)?)),
        plain => (word(plain)?, None),
    };
    t.prepare_cached(
        "INSERT INTO panel (house, id, name, fed_by, supply, bus_amps, main_amps, spaces, numbering, tandem, max_circuits,
                            card_width, card_height, engraved, tandem_known, model, listed, bonded, plug_on_neutral,
                            feed_through, disconnect, separate_building, printed)
         VALUES (?1, ?2, ?3, ?4, ?5, ?6, ?7, ?8, ?9, ?10, ?11, ?12, ?13, ?14, ?15, ?16, ?17, ?18, ?19, ?20, ?21, ?22, ?23)
         ON CONFLICT (house, id) DO UPDATE SET name = ?3, fed_by = ?4, supply = ?5, bus_amps = ?6, main_amps = ?7,
            spaces = ?8, numbering = ?9, tandem = ?10, max_circuits = ?11, card_width = ?12, card_height = ?13,
            engraved = ?14, tandem_known = ?15, model = ?16, listed = ?17, bonded = ?18, plug_on_neutral = ?19,
            feed_through = ?20, disconnect = ?21, separate_building = ?22, printed = ?23",
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
        numbering,
        json(&p.tandem)?,
        p.max_circuits,
        p.card.map(|c| c.width.0),
        p.card.map(|c| c.height.0),
        engraved,
        p.tandem_known.map(|k| word(&k)).transpose()?,
        p.model,
        json(&p.listed)?,
        p.bonded,
        p.plug_on_neutral,
        p.feed_through,
        p.disconnect,
        p.separate_building,
        some_json(p.printed.as_ref())?,
    ])?;
    t.prepare_cached("DELETE FROM empty_space WHERE house = ?1 AND panel = ?2")?.execute(params![house, p.id.0])?;
    let sql = "INSERT INTO empty_space (house, panel, space, half) VALUES (?1, ?2, ?3, ?4)";
    let mut insert = t.prepare_cached(sql)?;
    for at in &p.empty {
        insert.execute(params![house, p.id.0, at.space, half_number(at.half)])?;
    }
    t.prepare_cached("DELETE FROM panel_place WHERE house = ?1 AND panel = ?2")?.execute(params![house, p.id.0])?;
    if let Some(place) = &p.place {
        t.prepare_cached("INSERT INTO panel_place (house, panel, room, spot) VALUES (?1, ?2, ?3, ?4)")?
            .execute(params![house, p.id.0, place.room.0, some_json(place.spot.as_ref())?])?;
    }
    Ok(())
}

/// A place, written as space and half behind what it belongs to.
fn position(r: &Row<'_>) -> Stored<Position> {
    Ok(Position { space: r.get(1)?, half: half(r.get(2)?)? })
}

pub fn breakers(t: &Transaction<'_>, house: HouseId) -> Stored<Table<Breaker>> {
    let sql = "SELECT breaker, space, half FROM pole WHERE house = ?1 ORDER BY nth";
    let poles = gather(t, sql, house, position)?;
    let sql = "SELECT id, panel, amps, device, handle, label, frame, trip, model, terminal, as_found
               FROM breaker WHERE house = ?1";
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
            frame: some_word(r.get(6)?)?,
            trip: from_word(r.get(7)?)?,
            model: r.get(8)?,
            terminal: from_some_json(r.get(9)?)?,
            as_found: r.get(10)?,
        })
    };
    Ok(each(t, sql, house, breaker)?.into_iter().collect())
}

pub fn put_breaker(t: &Transaction<'_>, house: HouseId, b: &Breaker) -> Stored<()> {
    t.prepare_cached(
        "INSERT INTO breaker (house, id, panel, amps, device, handle, label, frame, trip, model, terminal, as_found)
         VALUES (?1, ?2, ?3, ?4, ?5, ?6, ?7, ?8, ?9, ?10, ?11, ?12)
         ON CONFLICT (house, id) DO UPDATE SET panel = ?3, amps = ?4, device = ?5, handle = ?6, label = ?7, frame = ?8,
            trip = ?9, model = ?10, terminal = ?11, as_found = ?12",
    )?
    .execute(params![
        house,
        b.id.0,
        b.panel.0,
        b.amps.0,
        word(&b.device)?,
        word(&b.handle)?,
        b.label,
        b.frame.map(|f| word(&f)).transpose()?,
        word(&b.trip)?,
        b.model,
        some_json(b.terminal.as_ref())?,
        b.as_found,
    ])?;
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

pub fn circuits(t: &Transaction<'_>, house: HouseId) -> Stored<Table<Circuit>> {
    let sql = "SELECT id, breaker, pole, wire, metal, conductors, length_feet, colours, landed, neutral_of, as_found
               FROM circuit WHERE house = ?1";
    let circuit = |r: &Row<'_>| {
        let wire = r.get::<_, Option<String>>(3)?.map(|w| w.parse::<Gauge>()).transpose();
        Ok(Circuit {
            id: CircuitId(r.get(0)?),
            breaker: BreakerId(r.get(1)?),
            pole: r.get(2)?,
            wire: wire.map_err(StoreError::Stored)?,
            metal: from_word(r.get(4)?)?,
            conductors: r.get(5)?,
            length: r.get::<_, Option<f64>>(6)?.map(Feet),
            colours: serde_json::from_str(&r.get::<_, String>(7)?)?,
            landed: from_word(r.get(8)?)?,
            neutral_of: r.get::<_, Option<u64>>(9)?.map(CircuitId),
            as_found: r.get(10)?,
        })
    };
    Ok(each(t, sql, house, circuit)?.into_iter().collect())
}

pub fn put_circuit(t: &Transaction<'_>, house: HouseId, c: &Circuit) -> Stored<()> {
    t.prepare_cached(
        "INSERT INTO circuit (house, id, breaker, pole, wire, metal, conductors, length_feet, colours, landed, neutral_of,
                              as_found)
         VALUES (?1, ?2, ?3, ?4, ?5, ?6, ?7, ?8, ?9, ?10, ?11, ?12)
         ON CONFLICT (house, id) DO UPDATE SET breaker = ?3, pole = ?4, wire = ?5, metal = ?6, conductors = ?7,
            length_feet = ?8, colours = ?9, landed = ?10, neutral_of = ?11, as_found = ?12",
    )?
    .execute(params![
        house,
        c.id.0,
        c.breaker.0,
        c.pole,
        c.wire.map(String::from),
        word(&c.metal)?,
        c.conductors,
        c.length.map(|l| l.0),
        json(&c.colours)?,
        word(&c.landed)?,
        c.neutral_of.map(|n| n.0),
        c.as_found,
    ])?;
    Ok(())
}
