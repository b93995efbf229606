//! Rooms, openings, points and boxes, and what goes with them.

use super::{Cascades, Draft};
use crate::base::Invalid;
use crate::base::units::Inches;
use crate::floor;
use crate::house::{
    Area, BoxId, Event, Evidence, Load, LoadId, LogEntry, Opening, Panel, Picture, PictureId, PictureOf, Point,
    PointId, Reading, ReadingId, Room, RoomId, Underlay, UnderlayId, Wall,
};

impl Cascades for Room {
    fn take_out(draft: &mut Draft, id: RoomId) -> Result<(), Invalid> {
        draft.remove_room(id)
    }
}

impl Cascades for Opening {}

impl Cascades for Point {
    fn take_out(draft: &mut Draft, id: PointId) -> Result<(), Invalid> {
        draft.remove_point(id)
    }
}

impl Cascades for Load {
    fn take_out(draft: &mut Draft, id: LoadId) -> Result<(), Invalid> {
        draft.remove_load(id)
    }
}

impl Cascades for Reading {
    fn take_out(draft: &mut Draft, id: ReadingId) -> Result<(), Invalid> {
        draft.remove_reading(id)
    }
}

impl Cascades for Picture {
    fn take_out(draft: &mut Draft, id: PictureId) -> Result<(), Invalid> {
        draft.remove_picture(id)
    }
}

impl Cascades for Underlay {}

impl Draft {
    /// Draws a room; edges close to a neighbour's are moved onto it.
    pub fn place_room(&mut self, room: RoomId, area: Area) -> Result<(), Invalid> {
        let room = self.find::<Room>(room)?;
        let area = Some(floor::snapped(&self.house, &room, area));
        self.put(Room { area, ..room });
        Ok(())
    }

    /// Draws a room of a given size against a side of another one, or else to the right of all that is drawn.
    pub fn place_beside(
        &mut self,
        room: RoomId,
        size: (Inches, Inches),
        beside: Option<RoomId>,
        side: Wall,
        shift: Inches,
    ) -> Result<(), Invalid> {
        let room = self.find::<Room>(room)?;
        let area = floor::beside(&self.house, &room, size, beside, side, shift)?;
        self.put(Room { area: Some(area), ..room });
        Ok(())
    }

    /// Moves a point to a place of the plan, within its room and onto a wall that is near.
    pub fn place_point(&mut self, point: PointId, x: Inches, y: Inches) -> Result<(), Invalid> {
        let point = self.find::<Point>(point)?;
        let spot = Some(floor::dropped(&self.house, &point, x, y)?);
        self.put(Point { spot, ..point });
        Ok(())
    }

    /// Sets a drawing's scale by one known length.
    pub fn scale_underlay(
        &mut self,
        underlay: UnderlayId,
        from: [f64; 2],
        to: [f64; 2],
        length: Inches,
    ) -> Result<(), Invalid> {
        let old = self.find::<Underlay>(underlay)?;
        self.put(floor::scaled(&self.house, &old, from, to, length)?);
        Ok(())
    }

    /// One box for all of them: that of the first that has one, else a new one. A single point leaves its box.
    pub fn share_box(&mut self, points: &[PointId]) -> Result<(), Invalid> {
        let all = points.iter().map(|p| self.find::<Point>(*p)).collect::<Result<Vec<_>, _>>()?;
        let newest = self.house.points.iter().filter_map(|p| p.shared_box).max();
        let fresh = BoxId(newest.map_or(1, |b| b.0 + 1));
        let shared_box = (all.len() > 1).then(|| all.iter().find_map(|p| p.shared_box).unwrap_or(fresh));
        for point in all {
            self.put(Point { shared_box, ..point });
        }
        Ok(())
    }

    /// Takes out a room with its points and what was observed of them.
    pub fn remove_room(&mut self, room: RoomId) -> Result<(), Invalid> {
        let inside: Vec<_> = self.house.points.iter().filter(|p| p.room == room).map(|p| p.id).collect();
        for point in inside {
            self.remove_point(point)?;
        }
        self.drop_where::<Opening>(|o| o.room == room || o.to == Some(room))?;
        self.rewrite::<Panel>(|p| {
            p.place.is_some_and(|place| place.room == room).then(|| Panel { place: None, ..p.clone() })
        });
        self.drop::<Room>(room)
    }

    /// Takes out a point and what was observed of it; the logbook keeps its lines.
    pub fn remove_point(&mut self, point: PointId) -> Result<(), Invalid> {
        self.drop_where::<Evidence>(|e| e.point == point)?;
        self.drop_where::<Reading>(|r| r.place.point() == Some(point))?;
        let loads: Vec<_> = self.house.loads.iter().filter(|l| l.point == point).map(|l| l.id).collect();
        loads.into_iter().try_for_each(|load| self.remove_load(load))?;
        if let Some(mut step) = self.house.step.clone() {
            step.visit.retain(|p| *p != point);
            self.set_step(Some(step));
        }
        self.rewrite::<Point>(|p| {
            let mut changed = p.clone();
            changed.protected_by = p.protected_by.filter(|d| *d != point);
            changed.switched_by.remove(&point);
            (changed != *p).then_some(changed)
        });
        self.drop_pictures(|of| *of == PictureOf::Point { point })?;
        let tag = self.find::<Point>(point)?.tag;
        self.keep_as_notes(&tag, |event| matches!(event, Event::DeviceTest { point: p, .. } if *p == point));
        self.rewrite::<LogEntry>(|entry| {
            let mut changed = entry.clone();
            if let Event::Trip { running, .. } | Event::Reset { running, .. } = &mut changed.event
                && running.remove(&point)
            {
                changed.note = format!("{} {tag} was running", entry.note).trim().to_owned();
            }
            (changed != *entry).then_some(changed)
        });
        self.drop::<Point>(point)
    }

    /// Takes out a load, and the readings that it was part of: of what it drew nobody would know any more.
    pub fn remove_load(&mut self, load: LoadId) -> Result<(), Invalid> {
        self.drop_where::<Reading>(|r| r.on.contains(&load))?;
        self.change_rounds(|_, round| {
            round.on.remove(&load);
            round.asked = round.asked.filter(|asked| *asked != load);
        });
        self.drop::<Load>(load)
    }

    /// Takes out a reading, and the rise that it showed.
    pub fn remove_reading(&mut self, reading: ReadingId) -> Result<(), Invalid> {
        let of = self.find::<Reading>(reading)?;
        self.drop_where::<Evidence>(|evidence| of.showed(evidence))?;
        self.drop::<Reading>(reading)
    }

    /// Takes out a picture, and the drawing under a plan that it is.
    pub fn remove_picture(&mut self, picture: PictureId) -> Result<(), Invalid> {
        self.drop_where::<Underlay>(|u| u.picture == picture)?;
        self.drop::<Picture>(picture)
    }
}
