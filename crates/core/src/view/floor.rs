//! A floor's plan as it is to be drawn: for the screen and for print alike.

use serde::Serialize;
use utoipa::ToSchema;

use crate::base::units::Inches;
use crate::house::{
    Area, House, OpeningId, OpeningKind, PanelId, PictureId, Point, PointId, PointKind, Room, RoomId, Spot, UnderlayId,
    Wall,
};
use crate::trace::{Beliefs, BreakerRef, PointBelief, Status};
use crate::view::marks::{self, OpeningMark, PanelMark, PointMark};
use crate::words::labels::words;
use crate::words::length;

/// A floor's plan, lengths in inches.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
pub struct PlanView {
    /// The house's revision.
    pub revision: u64,
    /// The floor.
    pub floor: String,
    /// All floors, as first named.
    pub floors: Vec<String>,
    /// What the drawn rooms take up; nothing where none is drawn.
    pub bounds: Option<Area>,
    /// Drawn rooms.
    pub rooms: Vec<PlanRoom>,
    /// Rooms of this floor that are not drawn yet.
    pub undrawn: Vec<RoomId>,
    /// Doors, windows, passages and stairs.
    pub openings: Vec<PlanOpening>,
    /// Points with their places.
    pub points: Vec<PlanPoint>,
    /// Points of drawn rooms that have no place yet.
    pub unplaced: Vec<PointId>,
    /// Panels.
    pub panels: Vec<PlanPanel>,
    /// The drawing underneath.
    pub underlay: Option<PlanUnderlay>,
    /// How each symbol is drawn,
    pub symbols: Vec<SymbolShape>,
    /// and its radius, in ems.
    pub radius: f64,
    /// The height of the frame around a circuit's number, in ems.
    pub frame_height: f64,
}

/// A drawn room.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
pub struct PlanRoom {
    /// The room.
    pub room: RoomId,
    /// Its name.
    pub name: String,
    /// Its place.
    pub area: Area,
    /// Its size in words: `12'6" x 10'0"`.
    pub size: String,
    /// Its area in square feet.
    pub square_feet: f64,
    /// Where its name is least in the way.
    pub label: [f64; 2],
}

/// An opening as a line in its wall.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
pub struct PlanOpening {
    /// The opening.
    pub opening: OpeningId,
    /// What it is.
    pub kind: OpeningKind,
    /// One end.
    pub from: [f64; 2],
    /// The other end.
    pub to: [f64; 2],
    /// How it is drawn over that line.
    #[serde(flatten)]
    pub mark: OpeningMark,
    /// For stairs: the name of the room they lead to.
    pub leads_to: Option<String>,
}

/// A point at its place.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
pub struct PlanPoint {
    /// The point.
    pub point: PointId,
    /// Its tag.
    pub tag: String,
    /// How it is drawn.
    pub symbol: Symbol,
    /// Its place.
    pub x: f64,
    /// Its place.
    pub y: f64,
    /// Its place in its room as people write it, in the house's units: `north 3'6"`.
    pub place: String,
    /// How its mark and label stand.
    pub mark: PointMark,
    /// What feeds it: `5-7` where proven, `5-7?` where likely, `?` where it is unfinished work.
    pub circuit: String,
    /// How far that is.
    pub status: Status,
}

/// A panel at its place.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
pub struct PlanPanel {
    /// The panel.
    pub panel: PanelId,
    /// Its name.
    pub name: String,
    /// How it is drawn.
    pub mark: PanelMark,
}

/// The drawing underneath.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
pub struct PlanUnderlay {
    /// Which.
    pub underlay: UnderlayId,
    /// Its picture.
    pub picture: PictureId,
    /// Its place and size.
    pub area: Area,
}

/// How a point is drawn.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, ToSchema)]
#[serde(rename_all = "kebab-case")]
pub enum Symbol {
    /// A receptacle.
    Receptacle,
    /// A receptacle of 208 or 240 V.
    Receptacle240,
    /// A light.
    Light,
    /// A switch.
    Switch,
    /// An appliance with its footprint.
    Appliance,
    /// An alarm.
    Alarm,
    /// Anything else: a box.
    Box,
}

/// A symbol's lines, simplified from the general drawing standards for electrical plans. One unit is its radius; on a
/// wall the wall is above it.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
pub struct SymbolShape {
    /// The symbol.
    pub symbol: Symbol,
    /// Lines as an SVG path.
    pub path: &'static str,
    /// A letter in its middle.
    pub letter: &'static str,
    /// What it stands for, for the legend.
    pub word: &'static str,
}

const CIRCLE: &str = "M-1 0a1 1 0 1 0 2 0a1 1 0 1 0-2 0";
const SYMBOLS: &[(Symbol, &str, &str, &str)] = &[
    (Symbol::Receptacle, "M-1 0a1 1 0 1 0 2 0a1 1 0 1 0-2 0M-.4-1.5V1.5M.4-1.5V1.5", "", "receptacle"),
    (
        Symbol::Receptacle240,
        "M-1 0a1 1 0 1 0 2 0a1 1 0 1 0-2 0M-.55-1.5V1.5M0-1.5V1.5M.55-1.5V1.5",
        "",
        "receptacle, 208 or 240 V",
    ),
    (Symbol::Light, "M-1 0a1 1 0 1 0 2 0a1 1 0 1 0-2 0M-1.6 0H-1M1 0H1.6M0-1.6V-1M0 1V1.6", "", "light"),
    (Symbol::Switch, "M0-1.5V-1", "S", "switch"),
    (Symbol::Appliance, "M-1-1H1V1H-1ZM-1-1L1 1M-1 1L1-1", "", "appliance"),
    (Symbol::Alarm, CIRCLE, "A", "alarm"),
    (Symbol::Box, CIRCLE, "J", "box or other"),
];

/// Usual sizes on the floor in inches, along the wall and into the room (common practice).
const FOOTPRINTS: &[(&str, [f64; 2])] = &[
    ("range", [30.0, 26.0]),
    ("cooktop", [30.0, 22.0]),
    ("refrigerator", [36.0, 32.0]),
    ("freezer", [30.0, 28.0]),
    ("dishwasher", [24.0, 24.0]),
    ("dryer", [27.0, 30.0]),
    ("washer", [27.0, 30.0]),
    ("water heater", [22.0, 22.0]),
    ("furnace", [24.0, 30.0]),
    ("air conditioner", [32.0, 32.0]),
    ("kiln", [30.0, 30.0]),
];

/// A floor's plan.
#[must_use]
pub fn view(house: &House, beliefs: &Beliefs, floor: &str) -> PlanView {
    let here = |r: &&Room| r.floor.eq_ignore_ascii_case(floor);
    let rooms: Vec<_> = house.rooms.iter().filter(here).filter_map(|r| plan_room(house, r)).collect();
    let spotted = |p: &&Point| rooms.iter().any(|r| r.room == p.room);
    let points: Vec<_> = house.points_in_order().into_iter().filter(spotted).collect();
    let belief = |p: &Point| beliefs.points.iter().find(|b| b.point == p.id);
    PlanView {
        revision: house.revision,
        floor: floor.to_owned(),
        floors: floors(house),
        bounds: bounds(&rooms),
        undrawn: house.rooms.iter().filter(here).filter(|r| r.area.is_none()).map(|r| r.id).collect(),
        openings: house.openings.iter().filter_map(|o| plan_opening(house, &rooms, o)).collect(),
        unplaced: points.iter().filter(|p| p.spot.is_none()).map(|p| p.id).collect(),
        points: plan_points(house, &rooms, &points, belief),
        panels: house.panels.iter().filter_map(|p| plan_panel(&rooms, p)).collect(),
        underlay: house.underlays.iter().find(|u| u.floor.eq_ignore_ascii_case(floor)).and_then(|u| underlay(house, u)),
        symbols: SYMBOLS
            .iter()
            .map(|&(symbol, path, letter, word)| SymbolShape { symbol, path, letter, word })
            .collect(),
        radius: marks::RADIUS,
        frame_height: marks::FRAME_HEIGHT,
        rooms,
    }
}

/// All floors, as first named.
fn floors(house: &House) -> Vec<String> {
    let mut floors: Vec<String> = Vec::new();
    for room in house.rooms.iter() {
        if !floors.iter().any(|f| f.eq_ignore_ascii_case(&room.floor)) {
            floors.push(room.floor.clone());
        }
    }
    floors
}

fn plan_room(house: &House, room: &Room) -> Option<PlanRoom> {
    let area = room.area?;
    let write = |length: Inches| length::write(length, house.about.lengths);
    let size = format!("{} x {}", write(area.width), write(area.depth));
    let label = label_place(house, room, area);
    Some(PlanRoom { room: room.id, name: room.name.clone(), area, size, square_feet: area.square_feet(), label })
}

/// Tries places over the room and takes the one farthest from everything drawn in it; names are wide, so nearness
/// counts less from side to side.
fn label_place(house: &House, room: &Room, area: Area) -> [f64; 2] {
    let here = house.points.iter().filter(|p| p.room == room.id).filter_map(|p| p.spot);
    let panels = house.panels.iter().filter_map(|p| p.place).filter(|p| p.room == room.id).filter_map(|p| p.spot);
    let taken: Vec<_> = here.chain(panels).map(|spot| area.locate(spot)).collect();
    let steps = || (0..LABEL_STEPS).map(|i| 0.3 + 0.4 * f64::from(i) / f64::from(LABEL_STEPS - 1));
    let rows = || (0..LABEL_STEPS).map(|i| 0.2 + 0.6 * f64::from(i) / f64::from(LABEL_STEPS - 1));
    let places = steps().flat_map(|x| rows().map(move |y| [area.x.0 + x * area.width.0, area.y.0 + y * area.depth.0]));
    let room_around = |at: &[f64; 2]| {
        let near = taken.iter().map(|(x, y)| (0.35 * (x - at[0])).hypot(y - at[1])).fold(f64::INFINITY, f64::min);
        // Where nothing is near, the middle is best.
        let (cx, cy) = area.centre();
        near.min(MUCH_ROOM) - 0.05 * (at[0] - cx).hypot(at[1] - cy)
    };
    let best = places.max_by(|a, b| room_around(a).total_cmp(&room_around(b)));
    best.unwrap_or_else(|| area.centre().into())
}

const LABEL_STEPS: u8 = 9;
/// More room than this around a name makes it no better to read, in inches.
const MUCH_ROOM: f64 = 60.0;

fn bounds(rooms: &[PlanRoom]) -> Option<Area> {
    let join = |a: Area, b: Area| {
        let (x, y) = (a.x.0.min(b.x.0), a.y.0.min(b.y.0));
        let (width, depth) = (a.right().max(b.right()) - x, a.bottom().max(b.bottom()) - y);
        Area { x: Inches(x), y: Inches(y), width: Inches(width), depth: Inches(depth) }
    };
    rooms.iter().map(|r| r.area).reduce(join)
}

fn plan_opening(house: &House, rooms: &[PlanRoom], o: &crate::house::Opening) -> Option<PlanOpening> {
    let area = rooms.iter().find(|r| r.room == o.room)?.area;
    let at = |along: f64| <[f64; 2]>::from(area.on_wall(o.wall, along));
    let leads_to = o.to.and_then(|to| house.rooms.get(to)).map(|r| r.name.clone());
    let (from, to) = (at(o.along.0), at(o.along.0 + o.width.0));
    let mark = marks::opening(o.kind, o.wall, from, to);
    Some(PlanOpening { opening: o.id, kind: o.kind, from, to, mark, leads_to })
}

fn plan_points<'b>(
    house: &House,
    rooms: &[PlanRoom],
    points: &[&Point],
    belief: impl Fn(&Point) -> Option<&'b PointBelief>,
) -> Vec<PlanPoint> {
    let mut drawn: Vec<PlanPoint> = Vec::new();
    for p in points {
        let Some(spot) = p.spot else { continue };
        let Some(room) = rooms.iter().find(|r| r.room == p.room) else { continue };
        let (x, y) = room.area.locate(spot);
        // A box holds several: each label stands below those before it.
        let same = |d: &&PlanPoint| (d.x - x).abs() < 1.0 && (d.y - y).abs() < 1.0;
        let there: Vec<PointId> = drawn.iter().filter(same).map(|d| d.point).collect();
        let one_box = |other: &&PointId| {
            p.shared_box.is_some() && house.points.get(**other).is_some_and(|o| o.shared_box == p.shared_box)
        };
        let before = marks::Earlier {
            labels: there.len(),
            symbols: if there.iter().any(|other| one_box(&other)) { 0 } else { there.len() },
        };
        let belief = belief(p);
        let circuit = belief.map_or_else(|| UNFINISHED.into(), |b| circuit(house, b));
        drawn.push(PlanPoint {
            point: p.id,
            tag: p.tag.clone(),
            symbol: symbol(p),
            x,
            y,
            place: length::write_spot(spot, house.about.lengths),
            mark: marks::point((x, y), spot.wall(), footprint(p), before, (&p.tag, &circuit)),
            circuit,
            status: belief.map_or(Status::Unknown, |b| b.status),
        });
    }
    drawn
}

/// The number of a point that has none yet.
const UNFINISHED: &str = "?";

/// The number to write beside a point. Breakers of sub-panels carry the first letters of their panel.
fn circuit(house: &House, belief: &PointBelief) -> String {
    let number = |at: &BreakerRef| {
        let panel = house.panel_named(&at.panel).filter(|p| !p.is_main());
        let prefix = panel.map_or_else(String::new, |p| p.name.chars().take(3).chain([' ']).collect());
        format!("{prefix}{}", at.at)
    };
    let first = belief.candidates.first().map(|c| number(&c.at)).unwrap_or_default();
    match belief.status {
        Status::Proven => first,
        Status::Likely => format!("{first}?"),
        Status::TwoHandles => {
            let two = belief.two_handles.iter().flat_map(|two| &two.breakers);
            two.map(number).collect::<Vec<_>>().join("+")
        }
        Status::Unknown | Status::NoBreaker => UNFINISHED.into(),
    }
}

fn symbol(p: &Point) -> Symbol {
    match p.kind {
        PointKind::Receptacle if p.volts.is_some_and(|v| v.is_leg_to_leg()) => Symbol::Receptacle240,
        PointKind::Receptacle => Symbol::Receptacle,
        PointKind::Light => Symbol::Light,
        PointKind::Switch => Symbol::Switch,
        PointKind::Appliance => Symbol::Appliance,
        PointKind::Alarm => Symbol::Alarm,
        PointKind::Other => Symbol::Box,
    }
}

fn footprint(p: &Point) -> Option<[f64; 2]> {
    let said = words(&p.name);
    let known = || FOOTPRINTS.iter().find(|(thing, _)| said.iter().any(|w| w.plain == *thing)).map(|(_, size)| *size);
    if p.kind == PointKind::Appliance { known() } else { None }
}

fn plan_panel(rooms: &[PlanRoom], panel: &crate::house::Panel) -> Option<PlanPanel> {
    let place = panel.place?;
    let area = rooms.iter().find(|r| r.room == place.room)?.area;
    // Without a spot it is at least in the right room.
    let spot = place.spot.unwrap_or(Spot::Wall { wall: Wall::North, along: Inches(area.width.0 / 2.0) });
    let (x, y) = area.locate(spot);
    Some(PlanPanel { panel: panel.id, name: panel.name.clone(), mark: marks::panel((x, y), spot.wall()) })
}

fn underlay(house: &House, u: &crate::house::Underlay) -> Option<PlanUnderlay> {
    let picture = house.pictures.get(u.picture)?;
    let depth = Inches(u.width.0 * f64::from(picture.height) / f64::from(picture.width.max(1)));
    let area = Area { x: u.x, y: u.y, width: u.width, depth };
    Some(PlanUnderlay { underlay: u.id, picture: u.picture, area })
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::fixture::Fixture;
    use crate::house::Seen::{Dead, Live};
    use crate::house::{Lengths, Opening};
    use crate::trace::beliefs;

    #[test]
    fn the_view_tells_finished_points_from_unfinished_ones() {
        let mut f = Fixture::new(20);
        let (kitchen, hall) = (f.room("Kitchen"), f.room("Hall"));
        for (room, x, width) in [(kitchen, 0.0, 144.0), (hall, 144.0, 72.0)] {
            let area = Area { x: Inches(x), y: Inches(0.0), width: Inches(width), depth: Inches(120.0) };
            f.house.rooms.put(Room { area: Some(area), ..f.house.rooms.get(room).unwrap().clone() });
        }
        let (id, along, width) = (OpeningId(1), Inches(48.0), Inches(36.0));
        let (kind, wall) = (OpeningKind::Door, Wall::East);
        f.house.openings.put(Opening { id, room: kitchen, kind, wall, along, width, to: None });
        let (one, two) = (f.breaker("1", 20.0, ""), f.breaker("2", 20.0, ""));
        let (done, open) =
            (f.point("K1", kitchen, PointKind::Receptacle), f.point("K2", kitchen, PointKind::Appliance));
        f.name(open, "fridge");
        for point in [done, open] {
            let spot = Some(Spot::Wall { wall: Wall::North, along: Inches(36.0) });
            f.house.points.put(Point { spot, ..f.house.points.get(point).unwrap().clone() });
        }
        for _ in 0..2 {
            f.see(done, &[one], Dead);
            f.see(done, &[two], Live);
        }
        let seen = view(&f.house, &beliefs(&f.house), "1");
        let shown: Vec<_> = seen.points.iter().map(|p| (p.tag.as_str(), p.circuit.as_str())).collect();
        assert_eq!(shown, [("K1", "1"), ("K2", "2?")]);
        let foot = |n: usize| seen.points[n].mark.footprint.map(|a| (a.width, a.depth));
        assert_eq!((foot(0), foot(1)), (None, Some((Inches(36.0), Inches(32.0)))));
        assert_eq!(seen.rooms[0].size, "12'0\" x 10'0\"");
        assert_eq!(seen.bounds.unwrap().width, Inches(216.0));
        assert_eq!(seen.openings[0].from, [144.0, 48.0]);
        f.house.about.lengths = Lengths::Metres;
        assert_eq!(seen.points[0].place, "north 3'0\"");
        let seen = view(&f.house, &beliefs(&f.house), "1");
        assert_eq!((seen.rooms[0].size.as_str(), seen.points[0].place.as_str()), ("3.66 m x 3.05 m", "north 0.91 m"));
    }
}
