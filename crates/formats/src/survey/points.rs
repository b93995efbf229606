//! `points.csv`: places where power is used or switched.

use jiff::Timestamp;
use wayfinder_core::Change;
use wayfinder_core::base::units::{PlateVolts, Watts};
use wayfinder_core::house::{BoxId, House, Load, LoadId, LoadKind, Point, PointId};
use wayfinder_core::words::number::Unit;

use super::cells::{KINDS, apply, floor_of, name_of, next, place, room_of, some, word, written_place, yes};
use super::rows::{Columns, Fault, File, Row, cells, names};

pub const FILE: File = File {
    name: "points.csv",
    must: &["tag", "room", "kind"],
    columns: || names(COLUMNS),
    take: add,
    tie,
    last: None,
    write: |house| house.points.iter().map(|p| cells(COLUMNS, house, p)).collect(),
};

const COLUMNS: Columns<Point> = &[
    ("tag", |_, p| p.tag.clone()),
    ("floor", |house, p| floor_of(house, Some(p.room))),
    ("room", |house, p| name_of(house, Some(p.room))),
    ("kind", |_, p| word(KINDS, p.kind)),
    ("name", |_, p| p.name.clone()),
    ("volts", |_, p| some(p.volts.map(u16::from))),
    // What is at a point stands in loads.csv; a size written here is taken as that of one load.
    ("watts", |_, _| String::new()),
    ("place", |house, p| written_place(house, p.spot)),
    ("box", |_, p| some(p.shared_box.map(|b| b.0))),
    ("ground_fault", |_, p| yes(p.ground_fault)),
    ("protected_by", |house, p| some(p.protected_by.map(|d| tag(house, d)))),
    ("switched_by", |house, p| p.switched_by.iter().map(|s| tag(house, *s)).collect::<Vec<_>>().join(";")),
    ("shows", |_, p| yes(p.shows)),
];

fn tag(house: &House, point: PointId) -> String {
    house.points.get(point).map_or_else(String::new, |p| p.tag.clone())
}

fn add(house: &mut House, row: &Row, _: Timestamp) -> Result<(), Fault> {
    let volts = match row.optional::<u16>("volts", "120, 208 or 240, or nothing where it is not known")? {
        // A point has a voltage of its supply: what 115 or 230 V stand for.
        Some(volts) => Some(PlateVolts::try_from(volts).map(PlateVolts::nominal).map_err(|e| row.says("volts", e))?),
        None => None,
    };
    let kind = row.one_of("kind", KINDS)?;
    let (room, add_room) = room_of(house, row);
    let point = Point {
        name: row.get("name").into(),
        volts,
        spot: place(house, row)?,
        shared_box: row.optional("box", "the number of the box that it shares with others")?.map(BoxId),
        ground_fault: row.yes_or_no("ground_fault")?.unwrap_or(false),
        shows: row.yes_or_no("shows")?.unwrap_or(false),
        ..Point::new(PointId(next(&house.points, |p| p.id.0)), row.get("tag"), room, kind)
    };
    let load = row.number("watts", Unit::W)?.map(|watts| Load {
        watts: Some(Watts(watts)),
        ..Load::new(LoadId(next(&house.loads, |l| l.id.0)), point.id, named(&point, row), LoadKind::Other)
    });
    let put_load = load.map(|load| Change::PutLoad { load });
    let changes = add_room.into_iter().chain([Change::PutPoint { point }]).chain(put_load).collect();
    let columns = [
        ("room.name", "room"),
        ("room.floor", "floor"),
        ("point.name", "name"),
        ("load.watts", "watts"),
        ("point.spot", "place"),
    ];
    apply(house, &Change::Batch { changes }).map_err(|e| row.invalid(e, &columns, "tag"))
}

/// What the load of a point is called that has no row of its own.
fn named(point: &Point, row: &Row) -> String {
    if point.name.is_empty() { row.get("kind").into() } else { point.name.clone() }
}

/// Devices before a point and switches are points too: they can be named only now.
fn tie(house: &mut House, row: &Row, _: Timestamp) -> Result<(), Fault> {
    let (before, switches) = (row.get("protected_by"), row.list("switched_by").collect::<Vec<_>>());
    let Some(point) = house.point_tagged(row.get("tag")).cloned() else { return Ok(()) };
    if before.is_empty() && switches.is_empty() {
        return Ok(());
    }
    let tagged = |column, tag: &str| {
        let found = house.point_tagged(tag).map(|p| p.id);
        found.ok_or_else(|| row.says(column, format!("\"{tag}\" is no point's tag")))
    };
    let protected_by = (!before.is_empty()).then(|| tagged("protected_by", before)).transpose()?;
    let switched_by = switches.iter().map(|tag| tagged("switched_by", tag)).collect::<Result<_, _>>()?;
    let point = Point { protected_by, switched_by, ..point };
    let columns = [("point.switched_by", "switched_by")];
    apply(house, &Change::PutPoint { point }).map_err(|e| row.invalid(e, &columns, "protected_by"))
}
