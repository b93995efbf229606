//! The plan's geometry: areas, snapping, places, and who is on the other side of a door.
//!
//! Lengths are inches; x grows to the right and y downwards.

mod walk;

pub use walk::Walks;

use crate::base::Invalid;
use crate::base::units::Inches;
use crate::house::{Area, House, Opening, OpeningKind, Point, PointKind, Room, RoomId, Spot, Underlay, Wall};

/// Edges nearer than this to a neighbour's are moved onto it: about two hands on the wall.
const SNAP: f64 = 9.0;
/// Edges this near count as one wall: the thickness of an outer wall.
const ONE_WALL: f64 = 8.0;
/// Rooms may overlap by this much: what rounding and thin walls make.
pub(crate) const MAY_OVERLAP: f64 = 1.0;
/// A point dropped this near to a wall is on it.
const REACH_OF_WALL: f64 = 18.0;
/// Square inches in a square foot.
const SQUARE_FOOT: f64 = 144.0;

impl Area {
    pub(crate) fn right(&self) -> f64 {
        self.x.0 + self.width.0
    }

    pub(crate) fn bottom(&self) -> f64 {
        self.y.0 + self.depth.0
    }

    /// Its middle.
    #[must_use]
    pub fn centre(&self) -> (f64, f64) {
        (self.x.0 + self.width.0 / 2.0, self.y.0 + self.depth.0 / 2.0)
    }

    /// Square feet.
    #[must_use]
    pub fn square_feet(&self) -> f64 {
        self.width.0 * self.depth.0 / SQUARE_FOOT
    }

    /// By how much two areas overlap in their lesser direction.
    pub(crate) fn overlap(&self, other: &Self) -> f64 {
        let across = self.right().min(other.right()) - self.x.0.max(other.x.0);
        let down = self.bottom().min(other.bottom()) - self.y.0.max(other.y.0);
        across.min(down)
    }

    /// Length of a wall.
    #[must_use]
    pub fn wall_length(&self, wall: Wall) -> f64 {
        match wall {
            Wall::North | Wall::South => self.width.0,
            Wall::East | Wall::West => self.depth.0,
        }
    }

    /// A place on a wall, from its left or top end.
    #[must_use]
    pub fn on_wall(&self, wall: Wall, along: f64) -> (f64, f64) {
        match wall {
            Wall::North => (self.x.0 + along, self.y.0),
            Wall::South => (self.x.0 + along, self.bottom()),
            Wall::West => (self.x.0, self.y.0 + along),
            Wall::East => (self.right(), self.y.0 + along),
        }
    }

    /// A spot's place on the plan.
    #[must_use]
    pub fn locate(&self, spot: Spot) -> (f64, f64) {
        match spot {
            Spot::Wall { wall, along } => self.on_wall(wall, along.0),
            Spot::Field { x, y } => (self.x.0 + x.0, self.y.0 + y.0),
        }
    }
}

/// The other rooms drawn on the same floor.
fn neighbours<'a>(house: &'a House, room: &'a Room) -> impl Iterator<Item = (&'a Room, Area)> {
    let same = move |r: &&Room| r.id != room.id && r.floor.eq_ignore_ascii_case(&room.floor);
    house.rooms.iter().filter(same).filter_map(|r| Some((r, r.area?)))
}

/// The area moved, its size kept, so that an edge near a neighbour's lies on it.
pub(crate) fn snapped(house: &House, room: &Room, area: Area) -> Area {
    let nearest = |mine: [f64; 2], theirs: Vec<f64>| {
        let shifts = theirs.iter().flat_map(|t| mine.map(|m| t - m));
        shifts.filter(|d| d.abs() <= SNAP).min_by(|a, b| a.abs().total_cmp(&b.abs())).unwrap_or(0.0)
    };
    let others: Vec<Area> = neighbours(house, room).map(|(_, a)| a).collect();
    let dx = nearest([area.x.0, area.right()], others.iter().flat_map(|o| [o.x.0, o.right()]).collect());
    let dy = nearest([area.y.0, area.bottom()], others.iter().flat_map(|o| [o.y.0, o.bottom()]).collect());
    Area { x: Inches(area.x.0 + dx), y: Inches(area.y.0 + dy), ..area }
}

/// An area of this size against a side of another room, `shift` from that side's left or top end; without another
/// room to the right of all that is drawn on the floor.
///
/// # Errors
/// Where the other room is not drawn, or on another floor.
pub(crate) fn beside(
    house: &House,
    room: &Room,
    size: (Inches, Inches),
    other: Option<RoomId>,
    side: Wall,
    shift: Inches,
) -> Result<Area, Invalid> {
    let (width, depth) = size;
    let Some(other) = other else {
        let right = neighbours(house, room).map(|(_, a)| a.right()).fold(0.0, f64::max);
        let top = neighbours(house, room).map(|(_, a)| a.y.0).reduce(f64::min).unwrap_or(0.0);
        return Ok(Area { x: Inches(right), y: Inches(top), width, depth });
    };
    let beside = neighbours(house, room).find(|(r, _)| r.id == other).map(|(_, a)| a);
    let beside = beside.ok_or_else(|| Invalid::new("beside", "that room is not drawn on the same floor yet"))?;
    let (x, y) = match side {
        Wall::North => (beside.x.0 + shift.0, beside.y.0 - depth.0),
        Wall::South => (beside.x.0 + shift.0, beside.bottom()),
        Wall::West => (beside.x.0 - width.0, beside.y.0 + shift.0),
        Wall::East => (beside.right(), beside.y.0 + shift.0),
    };
    Ok(Area { x: Inches(x), y: Inches(y), width, depth })
}

/// The spot of a point dropped at a place of the plan: within its own room, on a wall where one is near. What hangs on
/// the ceiling stays in the field.
///
/// # Errors
/// Where its room is not drawn yet.
pub(crate) fn dropped(house: &House, point: &Point, x: Inches, y: Inches) -> Result<Spot, Invalid> {
    let area = house.rooms.get(point.room).and_then(|r| r.area);
    let area = area.ok_or_else(|| Invalid::new("point", format!("draw the room of {} first", point.tag)))?;
    let (dx, dy) = ((x.0 - area.x.0).clamp(0.0, area.width.0), (y.0 - area.y.0).clamp(0.0, area.depth.0));
    let walls = [
        (Wall::North, dy, dx),
        (Wall::South, area.depth.0 - dy, dx),
        (Wall::West, dx, dy),
        (Wall::East, area.width.0 - dx, dy),
    ];
    let nearest = walls.into_iter().min_by(|a, b| a.1.total_cmp(&b.1));
    let overhead = matches!(point.kind, PointKind::Light | PointKind::Alarm);
    Ok(match nearest {
        Some((wall, away, along)) if away <= REACH_OF_WALL && !overhead => {
            Spot::Wall { wall, along: Inches(along.round()) }
        }
        _ => Spot::Field { x: Inches(dx.round()), y: Inches(dy.round()) },
    })
}

/// The room on the other side of an opening: for stairs the one they lead to, else the one that touches the wall there.
#[must_use]
pub fn across(house: &House, opening: &Opening) -> Option<RoomId> {
    match opening.kind {
        OpeningKind::Stairs => opening.to,
        OpeningKind::Window => None,
        OpeningKind::Door | OpeningKind::Passage => {
            let room = house.rooms.get(opening.room)?;
            let (x, y) = middle(house, opening)?;
            let touches = |a: &Area| {
                let (within_x, within_y) = ((a.x.0..=a.right()).contains(&x), (a.y.0..=a.bottom()).contains(&y));
                match opening.wall {
                    Wall::North => within_x && (a.bottom() - y).abs() <= ONE_WALL,
                    Wall::South => within_x && (a.y.0 - y).abs() <= ONE_WALL,
                    Wall::West => within_y && (a.right() - x).abs() <= ONE_WALL,
                    Wall::East => within_y && (a.x.0 - x).abs() <= ONE_WALL,
                }
            };
            neighbours(house, room).find(|(_, a)| touches(a)).map(|(r, _)| r.id)
        }
    }
}

/// The middle of an opening on the plan, where its room is drawn.
#[must_use]
pub fn middle(house: &House, opening: &Opening) -> Option<(f64, f64)> {
    let area = house.rooms.get(opening.room)?.area?;
    Some(area.on_wall(opening.wall, opening.along.0 + opening.width.0 / 2.0))
}

/// The drawing with its scale set by one known length; the first end stays where it lies on the plan.
///
/// # Errors
/// Where the two ends are one, outside the picture, or the length is nothing.
pub(crate) fn scaled(
    house: &House,
    old: &Underlay,
    from: [f64; 2],
    to: [f64; 2],
    length: Inches,
) -> Result<Underlay, Invalid> {
    let picture = house.pictures.get(old.picture);
    let picture = picture.ok_or_else(|| Invalid::gone("picture", old.picture.0))?;
    let share = |[x, y]: [f64; 2]| (0.0..=1.0).contains(&x) && (0.0..=1.0).contains(&y);
    if !share(from) || !share(to) {
        return Err(Invalid::new("to", "both ends must lie on the picture"));
    }
    if !(length.0 > 0.0 && length.0.is_finite()) {
        return Err(Invalid::new("length", "the known length must be more than nothing"));
    }
    let (width, height) = (f64::from(picture.width), f64::from(picture.height));
    let pixels = ((to[0] - from[0]) * width).hypot((to[1] - from[1]) * height);
    if pixels < 1.0 {
        return Err(Invalid::new("to", "the two ends are the same place"));
    }
    let inch = length.0 / pixels;
    let before = old.width.0 / width;
    let stay = |edge: f64, share: f64, size: f64| Inches(edge + share * size * (before - inch));
    Ok(Underlay {
        x: stay(old.x.0, from[0], width),
        y: stay(old.y.0, from[1], height),
        width: Inches(width * inch),
        ..old.clone()
    })
}

#[cfg(test)]
mod tests;
