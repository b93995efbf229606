//! What rooms usually hold, and the points that people forget. Common practice (handbook 2.1–2.2), a start to adjust.

use std::collections::BTreeSet;

use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

use crate::base::Invalid;
use crate::base::units::{Amps, NominalVolts, Watts};
use crate::edit::Draft;
use crate::house::{
    House, KNOWN_LOAD, KNOWN_LOAD_WATTS, Load, LoadId, LoadKind, Point, PointId, PointKind, Room, RoomId, tag_key,
};
use crate::words::labels::words;
use crate::words::usual::{USUAL, Usual};

/// Some like points to add to a room.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct Item {
    /// What they are.
    pub kind: PointKind,
    /// What people call each; a number is added where there are several.
    #[serde(default)]
    pub name: String,
    /// The voltage they are made for, where known.
    #[serde(default)]
    pub volts: Option<NominalVolts>,
    /// Nameplate watts, where known.
    #[serde(default)]
    pub watts: Option<f64>,
    /// How many (0–50).
    pub count: u16,
}

/// A kind of room and what it usually holds.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
pub struct RoomUsual {
    /// What it is called.
    pub room: String,
    /// What it usually holds.
    pub items: Vec<Item>,
}

/// The catalogue: rooms with their usual points, and what people forget.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
pub struct Catalog {
    /// Kinds of room.
    pub rooms: Vec<RoomUsual>,
    /// Points that nobody finds unless asked.
    pub forgotten: Vec<Item>,
    /// Usual loads with what they typically draw.
    pub loads: &'static [Usual],
    /// Those of them that a service is asked about before they come: made for two legs.
    pub large: Vec<&'static Usual>,
    /// The load that is switched on at a point to see which current rises.
    pub known_load: KnownLoad,
}

/// A load whose draw is known.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, ToSchema)]
pub struct KnownLoad {
    /// Watts.
    pub watts: f64,
    /// Amps at 120 V.
    pub amps: Amps,
}

/// Most points added by one item.
const MAX_COUNT: u16 = 50;

type Row = (PointKind, &'static str, Option<NominalVolts>, u16);

const V120: Option<NominalVolts> = Some(NominalVolts::V120);
const V240: Option<NominalVolts> = Some(NominalVolts::V240);
const OUTLET: PointKind = PointKind::Receptacle;
const LIGHT: PointKind = PointKind::Light;
const APPLIANCE: PointKind = PointKind::Appliance;
const ALARM: PointKind = PointKind::Alarm;
const OTHER: PointKind = PointKind::Other;

const ROOMS: &[(&str, &[Row])] = &[
    (
        "Kitchen",
        &[
            (OUTLET, "counter", V120, 4),
            (OUTLET, "wall", V120, 1),
            (LIGHT, "ceiling light", V120, 1),
            (LIGHT, "sink light", V120, 1),
            (APPLIANCE, "range", V240, 1),
            (APPLIANCE, "refrigerator", V120, 1),
            (APPLIANCE, "dishwasher", V120, 1),
            (APPLIANCE, "disposer", V120, 1),
            (APPLIANCE, "microwave", V120, 1),
            (APPLIANCE, "range hood", V120, 0),
        ],
    ),
    ("Bathroom", &[(OUTLET, "basin", V120, 1), (LIGHT, "ceiling light", V120, 1), (APPLIANCE, "fan", V120, 1)]),
    ("Bedroom", &[(OUTLET, "wall", V120, 4), (LIGHT, "ceiling light", V120, 1), (ALARM, "smoke alarm", V120, 1)]),
    ("Living room", &[(OUTLET, "wall", V120, 6), (LIGHT, "ceiling light", V120, 1)]),
    ("Dining room", &[(OUTLET, "wall", V120, 4), (LIGHT, "ceiling light", V120, 1)]),
    ("Hall", &[(OUTLET, "wall", V120, 1), (LIGHT, "ceiling light", V120, 1), (ALARM, "smoke alarm", V120, 1)]),
    (
        "Laundry",
        &[
            (OUTLET, "washer", V120, 1),
            (APPLIANCE, "dryer", V240, 1),
            (LIGHT, "ceiling light", V120, 1),
            (OUTLET, "wall", V120, 1),
        ],
    ),
    (
        "Garage",
        &[
            (OUTLET, "wall", V120, 2),
            (OUTLET, "door opener", V120, 1),
            (LIGHT, "ceiling light", V120, 1),
            (APPLIANCE, "car charger", V240, 0),
        ],
    ),
    (
        "Basement",
        &[
            (OUTLET, "wall", V120, 2),
            (LIGHT, "ceiling light", V120, 2),
            (APPLIANCE, "furnace", V120, 1),
            (APPLIANCE, "water heater", V240, 1),
            (APPLIANCE, "sump pump", V120, 0),
        ],
    ),
    ("Outside", &[(OUTLET, "wall", V120, 2), (LIGHT, "door light", V120, 1), (APPLIANCE, "air conditioner", V240, 0)]),
    ("Office", &[(OUTLET, "wall", V120, 4), (LIGHT, "ceiling light", V120, 1)]),
    ("Closet", &[(LIGHT, "ceiling light", V120, 1)]),
    ("Attic", &[(LIGHT, "light", V120, 1)]),
    ("Other room", &[(OUTLET, "wall", V120, 2), (LIGHT, "ceiling light", V120, 1), (APPLIANCE, "appliance", None, 0)]),
];

const FORGOTTEN: &[Row] = &[
    (ALARM, "smoke alarm", V120, 0),
    (ALARM, "doorbell transformer", V120, 0),
    (LIGHT, "attic light", V120, 0),
    (LIGHT, "crawl-space light", V120, 0),
    (LIGHT, "photocell light", V120, 0),
    (APPLIANCE, "furnace", V120, 0),
    (APPLIANCE, "sump pump", V120, 0),
    (OUTLET, "garage door opener", V120, 0),
    (OUTLET, "outside receptacle", V120, 0),
    (OTHER, "capped cable", None, 0),
];

fn item(&(kind, name, volts, count): &Row) -> Item {
    Item { kind, name: name.into(), volts, watts: None, count }
}

/// The catalogue.
#[must_use]
pub fn catalog() -> Catalog {
    let rooms =
        ROOMS.iter().map(|(room, items)| RoomUsual { room: (*room).into(), items: items.iter().map(item).collect() });
    Catalog {
        rooms: rooms.collect(),
        forgotten: FORGOTTEN.iter().map(item).collect(),
        loads: USUAL,
        large: USUAL.iter().filter(|usual| usual.volts.is_leg_to_leg()).collect(),
        known_load: KnownLoad { watts: KNOWN_LOAD_WATTS, amps: KNOWN_LOAD },
    }
}

/// What people forget, as far as nothing like it is entered and nobody said that there is none.
#[must_use]
pub fn forgotten(house: &House) -> Vec<Item> {
    let plain = |text: &str| words(text).into_iter().map(|w| w.plain).collect::<BTreeSet<_>>();
    let is_entered = |item: &Item| {
        let wanted = plain(&item.name);
        house.points.iter().any(|p| {
            let room = house.rooms.get(p.room).map_or("", |r| r.name.as_str());
            let kind = p.kind == item.kind;
            kind && !wanted.is_empty() && wanted.is_subset(&plain(&format!("{room} {} {}", p.name, kind_word(p.kind))))
        })
    };
    let asked = |item: &Item| !house.about.absent.contains(&item.name) && !is_entered(item);
    FORGOTTEN.iter().map(item).filter(asked).collect()
}

fn kind_word(kind: PointKind) -> &'static str {
    match kind {
        PointKind::Receptacle => "receptacle",
        PointKind::Light => "light",
        PointKind::Alarm => "alarm",
        PointKind::Switch | PointKind::Appliance | PointKind::Other => "",
    }
}

/// Makes two points of a receptacle whose halves hang on different circuits or switches: its upper half keeps its tag, the
/// lower one gets the room's next; both share the box.
///
/// # Errors
/// Where it is no receptacle, or the id is taken.
pub(crate) fn split(draft: &mut Draft, point: PointId, new: PointId) -> Result<(), Invalid> {
    let upper = draft.find::<Point>(point)?;
    if upper.kind != PointKind::Receptacle {
        return Err(Invalid::new("point", format!("{} is no receptacle: only those have halves", upper.tag)));
    }
    let room = draft.find::<Room>(upper.room)?;
    let item = Item { kind: upper.kind, name: String::new(), volts: upper.volts, watts: None, count: 1 };
    let made = points(&draft.house, &room, new, std::slice::from_ref(&item))?;
    let half = |which: &str| format!("{} {which} half", upper.name).trim().to_owned();
    let lower = made.into_iter().map(|(lower, _)| Point { name: half("lower"), spot: upper.spot, ..lower });
    lower.into_iter().try_for_each(|lower| draft.add("new", lower))?;
    draft.put(Point { name: half("upper"), ..upper.clone() });
    draft.share_box(&[point, new])
}

/// Adds points to a room, with the room's next free tags and the ids from `first` on.
///
/// # Errors
/// Where there is no such room, a count is too high, or an id is taken.
pub(crate) fn add_points(draft: &mut Draft, room: RoomId, first: PointId, items: &[Item]) -> Result<(), Invalid> {
    let room = draft.find::<Room>(room)?;
    for (point, watts) in points(&draft.house, &room, first, items)? {
        let called = if point.name.is_empty() { room.name.clone() } else { point.name.clone() };
        // A thing with a nameplate brings its load, with its own number.
        let load = watts.map(|watts| Load {
            watts: Some(Watts(watts)),
            ..Load::new(LoadId(point.id.0), point.id, called, LoadKind::Other)
        });
        draft.add("first", point)?;
        load.map_or(Ok(()), |load| draft.add("first", load))?;
    }
    Ok(())
}

fn points(house: &House, room: &Room, first: PointId, items: &[Item]) -> Result<Vec<(Point, Option<f64>)>, Invalid> {
    let (letters, mut number) = last_tag(house, room);
    let mut made = Vec::new();
    for item in items {
        if item.count > MAX_COUNT {
            return Err(Invalid::new("items.count", format!("at most {MAX_COUNT} of one sort at a time")));
        }
        for nth in 1..=item.count {
            number += 1;
            let id = PointId(first.0 + made.len() as u64);
            let point = Point {
                name: if item.count > 1 { format!("{} {nth}", item.name).trim().into() } else { item.name.clone() },
                volts: item.volts,
                ..Point::new(id, format!("{letters}{number}"), room.id, item.kind)
            };
            made.push((point, item.watts));
        }
    }
    Ok(made)
}

/// The tag that the next point of a room gets.
#[must_use]
pub fn next_tag(house: &House, room: &Room) -> String {
    let (letters, number) = last_tag(house, room);
    format!("{letters}{}", number + 1)
}

/// The letters of a room's tags, and the highest number that any has.
fn last_tag(house: &House, room: &Room) -> (String, u64) {
    let letters = tag_letters(house, room);
    let used = house.points.iter().map(|p| tag_key(&p.tag)).filter(|(l, _)| *l == letters).map(|(_, n)| n);
    let number = used.max().unwrap_or(0);
    (letters, number)
}

/// Letters that read as a 1 and a 0 where tags are written on cover plates; the revision letters of drawings leave them out
/// for that. [pub: ASME Y14.35, value from memory]
const LIKE_DIGITS: [char; 2] = ['I', 'O'];

/// The letters of a room's tags: those its points have, or as few of its name's letters as are free.
fn tag_letters(house: &House, room: &Room) -> String {
    if let Some(point) = house.points.iter().find(|p| p.room == room.id) {
        return tag_key(&point.tag).0;
    }
    let clear = |letter: &char| letter.is_ascii_uppercase() && !LIKE_DIGITS.contains(letter);
    let name: Vec<char> = room.name.to_ascii_uppercase().chars().filter(clear).collect();
    let taken = |letters: &str| house.points.iter().any(|p| tag_key(&p.tag).0 == letters);
    let by_name = (1..=name.len().min(3)).map(|n| name[..n].iter().collect::<String>());
    let letters = || ('A'..='Z').filter(clear);
    let by_count = letters().flat_map(|a| letters().map(move |b| format!("{a}{b}")));
    by_name.chain(by_count).find(|letters| !taken(letters)).unwrap_or_else(|| "X".into())
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::fixture::Fixture;

    #[test]
    fn tags_count_on_within_a_room_and_differ_between_rooms() {
        let mut f = Fixture::new(20);
        let (kitchen, corridor) = (f.room("Kitchen"), f.room("Kitchenette"));
        let two = Item { kind: OUTLET, name: "counter".into(), volts: V120, watts: None, count: 2 };
        let tags = |f: &Fixture, room| {
            points(&f.house, f.house.rooms.get(room).unwrap(), PointId(900), std::slice::from_ref(&two))
                .unwrap()
                .into_iter()
                .map(|(p, _)| p.tag)
                .collect::<Vec<_>>()
        };
        assert_eq!(tags(&f, kitchen), ["K1", "K2"]);
        f.point("K1", kitchen, OUTLET);
        f.point("K7", kitchen, OUTLET);
        assert_eq!(tags(&f, kitchen), ["K8", "K9"]);
        assert_eq!(tags(&f, corridor), ["KT1", "KT2"]);
    }

    #[test]
    fn a_tag_has_no_letter_that_reads_as_a_digit() {
        let mut f = Fixture::new(20);
        let one = Item { kind: OUTLET, name: "desk".into(), volts: V120, watts: None, count: 1 };
        for (room, tag) in [("Office", "F1"), ("Ironing room", "R1"), ("Oio", "AA1")] {
            let room = f.room(room);
            let made = points(&f.house, f.house.rooms.get(room).unwrap(), PointId(900), std::slice::from_ref(&one));
            assert_eq!(made.unwrap()[0].0.tag, tag);
            f.point(tag, room, OUTLET);
        }
    }

    #[test]
    fn what_people_forget_is_asked_for() {
        let names: Vec<_> = catalog().forgotten.into_iter().map(|i| i.name).collect();
        for name in ["smoke alarm", "doorbell transformer", "attic light", "sump pump", "capped cable"] {
            assert!(names.iter().any(|n| n == name), "{name}"); // handbook 2.2, common practice
        }
    }

    #[test]
    fn what_is_entered_or_was_answered_is_not_asked_for() {
        let mut f = Fixture::new(20);
        let asked = |f: &Fixture| forgotten(&f.house).into_iter().map(|i| i.name).collect::<Vec<_>>();
        let all = asked(&f);
        let (attic, hall) = (f.room("Attic"), f.room("Hall"));
        f.point("A1", attic, LIGHT);
        let alarm = f.point("H1", hall, ALARM);
        f.name(alarm, "smoke alarm by the stairs");
        f.house.about.absent.insert("sump pump".into());
        let left = asked(&f);
        assert_eq!(all.len() - left.len(), 3, "{left:?}");
        assert!(
            ["attic light", "smoke alarm", "sump pump"].iter().all(|gone| !left.iter().any(|l| l == gone)),
            "{left:?}"
        );
    }

    #[test]
    fn a_receptacle_is_split_in_one_act() {
        let mut f = Fixture::new(20);
        let kitchen = f.room("Kitchen");
        let outlet = f.point("K1", kitchen, OUTLET);
        f.name(outlet, "counter");
        let new = PointId(7000);
        let split = crate::Change::SplitReceptacle { point: outlet, new };
        let house = f.house.apply(&split).unwrap().house;
        let (upper, lower) = (house.points.get(outlet).unwrap(), house.points.get(new).unwrap());
        assert_eq!((upper.tag.as_str(), upper.name.as_str()), ("K1", "counter upper half"));
        assert_eq!((lower.tag.as_str(), lower.name.as_str()), ("K2", "counter lower half"));
        assert!(upper.shared_box.is_some() && upper.shared_box == lower.shared_box && upper.volts == lower.volts);
        let light = f.point("K9", kitchen, LIGHT);
        assert_eq!(f.house.apply(&crate::Change::SplitReceptacle { point: light, new }).unwrap_err().field, "point");
    }

    #[test]
    fn too_many_at_once_is_refused() {
        let mut f = Fixture::new(20);
        let room = f.room("Hall");
        let item = Item { kind: OUTLET, name: String::new(), volts: None, watts: None, count: 51 };
        let room = f.house.rooms.get(room).unwrap();
        assert_eq!(points(&f.house, room, PointId(1), &[item]).unwrap_err().field, "items.count");
    }
}
