use super::*;
use crate::base::units::Seconds;
use crate::change::Change;
use crate::fixture::Fixture;
use crate::house::OpeningId;
use crate::house::Picture;

fn inches(feet: f64) -> Inches {
    Inches(feet * 12.0)
}

fn change(f: &mut Fixture, change: &Change) -> Result<(), Invalid> {
    f.house = f.house.apply(change)?.house;
    Ok(())
}

fn draw(f: &mut Fixture, room: RoomId, x: f64, y: f64, width: f64, depth: f64) -> Result<(), Invalid> {
    let area = Area { x: inches(x), y: inches(y), width: inches(width), depth: inches(depth) };
    change(f, &Change::PlaceRoom { room, area })
}

fn area(f: &Fixture, room: RoomId) -> (f64, f64, f64, f64) {
    let a = f.house.rooms.get(room).unwrap().area.unwrap();
    (a.x.0 / 12.0, a.y.0 / 12.0, a.width.0 / 12.0, a.depth.0 / 12.0)
}

fn opening(f: &mut Fixture, id: u64, room: RoomId, kind: OpeningKind, wall: Wall, along: f64) -> Result<(), Invalid> {
    let opening = Opening { id: OpeningId(id), room, kind, wall, along: inches(along), width: inches(3.0), to: None };
    change(f, &Change::PutOpening { opening })
}

/// A kitchen of 12 by 10 ft with a hall of 6 by 10 ft to its right, a door between at 4 to 7 ft down.
fn two_rooms() -> (Fixture, RoomId, RoomId) {
    let mut f = Fixture::new(20);
    let (kitchen, hall) = (f.room("Kitchen"), f.room("Hall"));
    draw(&mut f, kitchen, 0.0, 0.0, 12.0, 10.0).unwrap();
    draw(&mut f, hall, 12.0, 0.0, 6.0, 10.0).unwrap();
    opening(&mut f, 1, kitchen, OpeningKind::Door, Wall::East, 4.0).unwrap();
    (f, kitchen, hall)
}

#[test]
fn a_room_dropped_near_another_one_moves_onto_its_edge_and_keeps_its_size() {
    let (mut f, _, hall) = two_rooms();
    draw(&mut f, hall, 12.5, -0.5, 6.0, 10.0).unwrap();
    assert_eq!(area(&f, hall), (12.0, 0.0, 6.0, 10.0));
    draw(&mut f, hall, 14.0, 3.0, 6.0, 10.0).unwrap();
    assert_eq!(area(&f, hall), (14.0, 3.0, 6.0, 10.0), "too far to be meant");
}

#[test]
fn rooms_do_not_overlap_but_other_floors_may_lie_above() {
    let (mut f, _, hall) = two_rooms();
    let fault = draw(&mut f, hall, 9.0, 0.0, 6.0, 10.0).unwrap_err();
    assert!(fault.field == "room.area" && fault.message.contains("overlap"), "{fault}");
    let upstairs = Room { floor: "2".into(), ..f.house.rooms.get(hall).unwrap().clone() };
    change(&mut f, &Change::RemoveOpening { opening: OpeningId(1) }).unwrap();
    change(&mut f, &Change::PutRoom { room: upstairs }).unwrap();
    draw(&mut f, hall, 0.0, 0.0, 12.0, 10.0).unwrap();
}

#[test]
fn a_typed_room_is_put_against_a_side_of_another() {
    let (mut f, kitchen, hall) = two_rooms();
    let pantry = f.room("Pantry");
    let put = |side, shift: f64, beside| Change::PlaceBeside {
        room: pantry,
        width: inches(4.0),
        depth: inches(5.0),
        beside,
        side,
        shift: inches(shift),
    };
    for (side, shift, x, y) in
        [(Wall::South, 2.0, 2.0, 10.0), (Wall::North, 0.0, 0.0, -5.0), (Wall::West, 1.0, -4.0, 1.0)]
    {
        change(&mut f, &put(side, shift, Some(kitchen))).unwrap();
        assert_eq!(area(&f, pantry), (x, y, 4.0, 5.0));
    }
    change(&mut f, &put(Wall::East, 0.0, None)).unwrap();
    assert_eq!(area(&f, pantry).0, 18.0, "without another room: to the right of all");
    assert_eq!(
        change(&mut f, &put(Wall::East, 0.0, Some(kitchen))).unwrap_err().field,
        "room.area",
        "the hall is there"
    );
    let loft = f.room("Loft");
    assert_eq!(change(&mut f, &put(Wall::East, 0.0, Some(loft))).unwrap_err().field, "beside", "not drawn");
    assert_eq!(area(&f, hall).0, 12.0);
}

#[test]
fn a_dropped_point_goes_to_the_near_wall_of_its_own_room() {
    let (mut f, kitchen, _) = two_rooms();
    let (outlet, light) = (f.point("K1", kitchen, PointKind::Receptacle), f.point("K2", kitchen, PointKind::Light));
    let mut spot = |point, x: f64, y: f64| {
        change(&mut f, &Change::PlacePoint { point, x: inches(x), y: inches(y) }).unwrap();
        f.house.points.get(point).unwrap().spot.unwrap()
    };
    assert_eq!(spot(outlet, 3.5, 0.5), Spot::Wall { wall: Wall::North, along: inches(3.5) });
    assert_eq!(
        spot(outlet, 30.0, 4.0),
        Spot::Wall { wall: Wall::East, along: inches(4.0) },
        "outside: nearest place inside"
    );
    assert_eq!(spot(outlet, 6.0, 5.0), Spot::Field { x: inches(6.0), y: inches(5.0) });
    assert_eq!(spot(light, 6.0, 0.5), Spot::Field { x: inches(6.0), y: inches(0.5) }, "a light hangs from the ceiling");
}

#[test]
fn places_outside_their_room_and_wall_are_refused() {
    let (mut f, kitchen, _) = two_rooms();
    let point = f.point("K1", kitchen, PointKind::Receptacle);
    let at = |f: &Fixture, spot| Change::PutPoint {
        point: Point { spot: Some(spot), ..f.house.points.get(point).unwrap().clone() },
    };
    let beyond = at(&f, Spot::Wall { wall: Wall::North, along: inches(12.5) });
    assert_eq!(change(&mut f, &beyond).unwrap_err().field, "point.spot");
    let fine = at(&f, Spot::Wall { wall: Wall::North, along: inches(11.5) });
    change(&mut f, &fine).unwrap();
    assert_eq!(opening(&mut f, 9, kitchen, OpeningKind::Window, Wall::West, 8.0).unwrap_err().field, "opening.along");
    let stairs = opening(&mut f, 9, kitchen, OpeningKind::Stairs, Wall::West, 2.0);
    assert_eq!(stairs.unwrap_err().field, "opening.to");
    // A smaller kitchen would leave the point outside: refused, nothing is lost.
    assert_eq!(draw(&mut f, kitchen, 0.0, 0.0, 11.0, 10.0).unwrap_err().field, "point.spot");
}

// By hand: from the kitchen's middle (6, 5) to the door (12, 5.5) and on to the hall's middle (15, 5), at 3 ft/s, and
// 2 s for the door.
#[test]
fn walking_goes_through_the_doors() {
    let (f, kitchen, hall) = two_rooms();
    let Seconds(time) = Walks::new(&f.house).between(kitchen, hall).unwrap();
    let by_hand = (6.0_f64.hypot(0.5) + 3.0_f64.hypot(0.5)) / 3.0 + 2.0;
    assert!((time - by_hand).abs() < 1e-9, "{time} {by_hand}");
    assert_eq!(Walks::new(&f.house).between(kitchen, kitchen), Some(Seconds(0.0)));
}

#[test]
fn without_a_way_there_is_no_time_and_stairs_make_one() {
    let (mut f, kitchen, hall) = two_rooms();
    let loft = f.room("Loft");
    f.house.rooms.put(Room { floor: "loft".into(), ..f.house.rooms.get(loft).unwrap().clone() });
    draw(&mut f, loft, 0.0, 0.0, 10.0, 10.0).unwrap();
    assert_eq!(Walks::new(&f.house).between(kitchen, loft), None);
    let stairs = Opening {
        id: OpeningId(2),
        room: hall,
        kind: OpeningKind::Stairs,
        wall: Wall::North,
        along: inches(1.0),
        width: inches(3.0),
        to: Some(loft),
    };
    change(&mut f, &Change::PutOpening { opening: stairs }).unwrap();
    let walks = Walks::new(&f.house);
    let (up, hallway) = (walks.between(kitchen, loft).unwrap(), walks.between(kitchen, hall).unwrap());
    assert!(up.0 > hallway.0 + 8.0, "{up:?} {hallway:?}");
    assert_eq!(walks.between(loft, kitchen).map(|s| s.0.round()), Some(up.0.round()), "down takes as long as up");
    assert_eq!(across(&f.house, f.house.openings.get(OpeningId(1)).unwrap()), Some(hall));
}

#[test]
fn one_known_length_sets_the_scale_and_its_first_end_stays() {
    use crate::house::{PictureId, PictureOf, UnderlayId};
    let (mut f, ..) = two_rooms();
    let picture = Picture {
        id: PictureId(1),
        of: PictureOf::Floor { floor: "1".into() },
        time: jiff::Timestamp::UNIX_EPOCH,
        who: "test".into(),
        caption: String::new(),
        width: 1000,
        height: 500,
        digest: "0".repeat(64),
    };
    let underlay = Underlay {
        id: UnderlayId(1),
        floor: "1".into(),
        picture: picture.id,
        x: Inches(0.0),
        y: Inches(0.0),
        width: inches(20.0),
    };
    change(&mut f, &Change::PutPicture { picture }).unwrap();
    change(&mut f, &Change::PutUnderlay { underlay }).unwrap();
    let scale = |from, to, length| Change::ScaleUnderlay { underlay: UnderlayId(1), from, to, length };
    change(&mut f, &scale([0.5, 0.5], [0.7, 0.5], inches(10.0))).unwrap();
    let scaled = f.house.underlays.get(UnderlayId(1)).unwrap().clone();
    assert!((scaled.width.0 - 600.0).abs() < 1e-9);
    // The end at the picture's middle was at 10 ft and 5 ft, and still is.
    assert!((scaled.x.0 + 0.5 * 600.0 - 120.0).abs() < 1e-9 && (scaled.y.0 + 0.5 * 300.0 - 60.0).abs() < 1e-9);
    for (from, to, length) in
        [([0.1, 0.1], [0.1, 0.1], 5.0), ([0.1, 0.1], [1.2, 0.1], 5.0), ([0.1, 0.1], [0.2, 0.1], 0.0)]
    {
        assert!(change(&mut f, &scale(from, to, inches(length))).is_err());
    }
}
