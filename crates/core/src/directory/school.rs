//! How the lines of a card are marked: by kind, by room, by leg. (handbook 4)
//!
//! A mark is a letter or two in a frame on one of six grounds: the letters tell it in black and white and to every eye, the ground
//! helps to find it from afar. Only what is proven is marked: of the rest the line itself says that it is not.

use std::collections::{BTreeMap, BTreeSet};

use serde::Serialize;
use utoipa::ToSchema;

use super::Standing;
use super::fed::OnCard;
use crate::base::Said;
use crate::base::position::Leg;
use crate::house::{Breaker, House, LoadKind, Panel, Point, PointKind, RoomId, School};
use crate::plate::{self, Connected};
use crate::words::usual;

/// So many grounds are told apart.
pub const GROUNDS: usize = 6;

/// How a line is marked.
#[derive(Debug, Clone, PartialEq, Eq, PartialOrd, Ord, Serialize, ToSchema)]
pub struct CardMark {
    /// Which ground it stands on, below [`GROUNDS`].
    pub ground: usize,
    /// Its letters.
    pub letters: String,
    /// What that means.
    pub word: String,
}

/// What a circuit mostly does. (common practice)
#[derive(Debug, Clone, Copy, PartialEq, Eq, PartialOrd, Ord)]
enum Does {
    Heat,
    Cool,
    Motors,
    Lights,
    Panel,
    Nothing,
}

impl Does {
    fn mark(self) -> CardMark {
        let (ground, letters, word) = match self {
            Self::Heat => (1, "H", "makes heat"),
            Self::Cool => (2, "C", "cools"),
            Self::Motors => (3, "M", "motors"),
            Self::Lights => (0, "L", "lights, outlets and the rest"),
            Self::Panel => (4, "P", "another panel"),
            Self::Nothing => (5, "–", "unused"),
        };
        CardMark { ground, letters: letters.to_owned(), word: word.to_owned() }
    }
}

/// Marks the lines of a panel's card.
pub(super) struct Marking<'a> {
    house: &'a House,
    panel: &'a Panel,
    fed: &'a OnCard<'a>,
    /// Letters of each room, and the ground of its floor.
    rooms: BTreeMap<RoomId, CardMark>,
}

impl<'a> Marking<'a> {
    pub(super) fn new(house: &'a House, panel: &'a Panel, fed: &'a OnCard<'a>) -> Self {
        Self { house, panel, fed, rooms: if panel.school == School::Room { rooms(house) } else { BTreeMap::new() } }
    }

    /// The mark of a breaker's line; none in a school that has none, and of a line of which nothing is known: that is not unused.
    pub(super) fn of(&self, breaker: &Breaker, standing: Standing) -> Option<CardMark> {
        match self.panel.school {
            School::Plain => None,
            School::Kind => {
                let does = self.does(breaker);
                (does != Does::Nothing || standing == Standing::NothingFound).then(|| does.mark())
            }
            School::Room => self.in_rooms(breaker),
            School::Leg => Some(self.on_legs(breaker)),
        }
    }

    fn does(&self, breaker: &Breaker) -> Does {
        if self.house.panel_fed_by(breaker.id).is_some() {
            return Does::Panel;
        }
        // What draws most tells what it is: a heater's circuit may have an outlet, too.
        let mut sorts: BTreeMap<Does, f64> = BTreeMap::new();
        for point in self.fed.proven(breaker) {
            let loads: Vec<_> = self.house.loads.iter().filter(|load| load.point == point.id).collect();
            for load in &loads {
                let amps = plate::current(load, Connected::printed(load, plate::volts(self.house, load)))
                    .map_or(1.0, |amps| amps.0);
                *sorts.entry(of_load(load.kind, &load.name)).or_default() += amps;
            }
            if loads.is_empty() {
                *sorts.entry(of_point(point)).or_default() += 1.0;
            }
        }
        let most = sorts.into_iter().max_by(|a, b| a.1.total_cmp(&b.1));
        most.map_or(Does::Nothing, |(does, _)| does)
    }

    fn in_rooms(&self, breaker: &Breaker) -> Option<CardMark> {
        let all: BTreeSet<RoomId> = self.fed.proven(breaker).iter().map(|point| point.room).collect();
        let mut marks: Vec<&CardMark> = all.iter().filter_map(|room| self.rooms.get(room)).collect();
        marks.sort();
        match marks.as_slice() {
            [] => None,
            [one] => Some((*one).clone()),
            [first, ..] if marks.iter().all(|mark| mark.ground == first.ground) => Some(CardMark {
                letters: "+".to_owned(),
                word: "several rooms of a floor".to_owned(),
                ..(*first).clone()
            }),
            _ => Some(CardMark { ground: GROUNDS - 1, letters: "+".into(), word: "rooms of several floors".into() }),
        }
    }

    fn on_legs(&self, breaker: &Breaker) -> CardMark {
        let legs: BTreeSet<Leg> = breaker.at.iter().map(|at| self.panel.leg(*at)).collect();
        let letters: String = legs.iter().map(|leg| leg.said()).collect();
        let ground = match legs.iter().next() {
            Some(leg) if legs.len() == 1 => *leg as usize,
            _ => 2 + legs.len(),
        };
        let word = if legs.len() == 1 { format!("leg {letters}") } else { format!("across {letters}") };
        CardMark { ground: ground.min(GROUNDS - 1), letters, word }
    }
}

/// What a sort of load does, where that says it. (common practice)
fn sort(kind: LoadKind) -> Option<Does> {
    use LoadKind::{
        BackupHeat, Cooktop, Cooling, Dishwasher, Disposer, Dryer, Fan, HeatPump, Heating, Hood, Oven, Pool, Pump,
        Range, Refrigerator, SumpPump, Washer, WaterHeater,
    };
    match kind {
        Range | Oven | Cooktop | Dryer | WaterHeater | Dishwasher | Heating | BackupHeat => Some(Does::Heat),
        Cooling | HeatPump | Refrigerator => Some(Does::Cool),
        Disposer | Washer | Pump | Fan | Hood | SumpPump | Pool => Some(Does::Motors),
        _ => None,
    }
}

fn of_load(kind: LoadKind, name: &str) -> Does {
    sort(kind).unwrap_or_else(|| by_name(name))
}

fn of_point(point: &Point) -> Does {
    match point.kind {
        PointKind::Appliance | PointKind::Other => by_name(&point.name),
        _ => Does::Lights,
    }
}

fn by_name(name: &str) -> Does {
    match usual::named(name) {
        Some(usual) if usual.motor && sort(usual.kind).is_none() => Does::Motors,
        Some(usual) => sort(usual.kind).unwrap_or(Does::Lights),
        None => Does::Lights,
    }
}

/// Each room by its first letters, so many that no two are alike; a ground for each floor.
fn rooms(house: &House) -> BTreeMap<RoomId, CardMark> {
    let mut all: Vec<_> = house.rooms.iter().collect();
    all.sort_by_key(|room| house.room_order(room.id));
    let mut floors: Vec<&str> = Vec::new();
    let mut taken: BTreeSet<String> = BTreeSet::new();
    let mut marks = BTreeMap::new();
    for room in all {
        if !floors.contains(&room.floor.as_str()) {
            floors.push(&room.floor);
        }
        // The last ground is for what is on several floors.
        let ground = floors.iter().position(|floor| *floor == room.floor).unwrap_or(0) % (GROUNDS - 1);
        let letters = letters(&room.name, &taken);
        taken.insert(letters.clone());
        marks.insert(room.id, CardMark { ground, letters, word: room.name.clone() });
    }
    marks
}

/// The initials of a name, or else its first and a later letter, or else a number behind.
fn letters(name: &str, taken: &BTreeSet<String>) -> String {
    let plain: Vec<char> = name.to_uppercase().chars().filter(|c| c.is_alphanumeric()).collect();
    let initials: String =
        name.to_uppercase().split_whitespace().filter_map(|word| word.chars().next()).take(2).collect();
    let first = plain.first().copied().unwrap_or('?');
    let single = first.to_string();
    let second = plain.iter().skip(1).map(|letter| format!("{first}{letter}"));
    let numbered = (2..).map(|n: u32| format!("{first}{n}"));
    let found = [single, initials].into_iter().chain(second).chain(numbered).find(|letters| !taken.contains(letters));
    found.unwrap_or_default()
}

#[cfg(test)]
mod tests {
    use super::super::{Card, card};
    use super::*;
    use crate::base::units::Amps;
    use crate::fixture::Fixture;
    use crate::house::Seen::{Dead, Live};
    use crate::house::{BreakerId, Load, LoadId};
    use crate::trace::beliefs;

    /// A water heater with an outlet beside it, a hall's lights, a pump, and a breaker with nothing.
    fn house() -> Fixture {
        let mut f = Fixture::new(12);
        let breakers: Vec<BreakerId> = ["1-3", "2", "4", "6"].map(|at| f.breaker(at, 20.0, "")).to_vec();
        let (laundry, hall) = (f.room("Laundry"), f.room("Hall"));
        let points = [
            (f.point("L1", laundry, PointKind::Appliance), 0),
            (f.point("L2", laundry, PointKind::Receptacle), 0),
            (f.point("H1", hall, PointKind::Light), 1),
            (f.point("H2", hall, PointKind::Appliance), 2),
        ];
        f.name(points[3].0, "sump pump");
        for (point, on) in points {
            for _ in 0..2 {
                f.see(point, &[breakers[on]], Dead);
                let others: Vec<BreakerId> = breakers.iter().copied().filter(|b| *b != breakers[on]).collect();
                f.see(point, &others, Live);
            }
        }
        let heater = Load::new(LoadId(50), points[0].0, "heater", LoadKind::WaterHeater);
        f.house.loads.put(Load { amps: Some(Amps(18.0)), ..heater });
        f
    }

    fn marked(f: &mut Fixture, school: School) -> Card {
        let panel = f.panel().clone();
        f.house.panels.put(Panel { school, ..panel });
        card(&f.house, &beliefs(&f.house), f.panel())
    }

    fn letters_of(card: &Card) -> Vec<(String, String)> {
        let marks = card.entries.iter().filter_map(|e| Some((e.at.clone(), e.mark.as_ref()?.letters.clone())));
        marks.collect()
    }

    // Handbook 4: makes heat, cools, lights and receptacles, motors, unused.
    #[test]
    fn by_kind_a_circuit_is_what_draws_most_on_it() {
        let card = marked(&mut house(), School::Kind);
        let of = |at: &str| letters_of(&card).into_iter().find(|(a, _)| a == at).unwrap().1;
        assert_eq!(["1-3", "2", "4", "6"].map(of), ["H", "L", "M", "–"]);
        let key: Vec<&str> = card.key.iter().map(|mark| mark.word.as_str()).collect();
        assert_eq!(key, ["lights, outlets and the rest", "makes heat", "motors", "unused"]);
    }

    #[test]
    fn by_room_each_room_has_letters_of_its_own() {
        let mut f = house();
        for name in ["Loft", "Long room", "Landing", "Loft two"] {
            f.room(name);
        }
        let all: BTreeSet<String> = rooms(&f.house).into_values().map(|mark| mark.letters).collect();
        assert_eq!(all.len(), 6);
        let card = marked(&mut f, School::Room);
        assert_eq!(letters_of(&card)[0], ("1-3".to_owned(), "L".to_owned()));
    }

    #[test]
    fn by_leg_a_breaker_says_which_legs_it_takes() {
        let card = marked(&mut house(), School::Leg);
        assert_eq!(letters_of(&card)[0], ("1-3".to_owned(), "AB".to_owned()));
        assert!(letters_of(&marked(&mut house(), School::Plain)).is_empty());
    }
}
