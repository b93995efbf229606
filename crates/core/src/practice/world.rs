//! Houses made from a seed, with a hidden truth behind them.
//!
//! A model, not a survey: circuits have one or two home rooms next to each other and carry mostly lights or mostly
//! receptacles; some points stray; part of the old labels is wrong or missing. All shares are assumptions, named here
//! and nowhere else; the engine reads none of them, though its weights are chosen alike (docs/benchmarks.md).

use jiff::Timestamp;
use rand::rngs::ChaCha8Rng;
use rand::seq::{IndexedRandom, SliceRandom};
use rand::{RngExt, SeedableRng};

use crate::base::position::Position;
use crate::base::units::{Amps, Inches, NominalVolts};
use crate::house::{
    Area, BoxId, Breaker, BreakerId, Evidence, EvidenceId, House, Observation, Opening, OpeningId, OpeningKind, Panel,
    PanelId, PanelPlace, Point, PointId, PointKind, Room, RoomId, Wall,
};
use crate::trace::{Sort, Tracker, is_settled, panel_room};

/// What a made house is like.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Setting {
    /// Breakers, 8 to 60.
    pub breakers: usize,
    /// Points, at least 40 more in a hundred than breakers.
    pub points: usize,
    /// A reading is wrong this often.
    pub misread: f64,
    /// Lights that are switched off at the wall.
    pub switched_off: f64,
    /// The receiver points at the neighbour this often.
    pub points_beside: f64,
    /// Points that hang on a circuit of somewhere else.
    pub stray: f64,
    /// Circuits whose label is right.
    pub labels_right: f64,
    /// Receptacles whose halves hang on two circuits.
    pub split: f64,
    /// Receptacles with something plugged in that shows power.
    pub shows: f64,
    /// Points with a lasting cause of misreading, such as a dimmer or a bad lamp.
    pub lasting: f64,
    /// Receptacles that a wall switch switches, and those behind a ground-fault device that has tripped.
    pub devices: bool,
}

/// Wrong readings of careful people (common practice).
pub(super) const CAREFUL_MISREAD: f64 = 0.01;
/// Wrong readings of a point with a lasting cause of misreading.
const LASTING_MISREAD: f64 = 0.15;
/// A group of receptacles behind one ground-fault device has tripped before anybody comes.
const DEVICE_TRIPPED: f64 = 0.25;
/// Receptacles that a wall switch switches and that are off when somebody comes.
const SWITCHED_HALF_OFF: f64 = 0.04;

impl Setting {
    /// The common setting for a number of breakers, with three points to each.
    #[must_use]
    pub fn usual(breakers: usize) -> Self {
        Self {
            breakers,
            points: 3 * breakers,
            misread: CAREFUL_MISREAD,
            switched_off: 0.03,
            points_beside: 0.05,
            stray: 0.15,
            labels_right: 0.60,
            split: 0.05,
            shows: 0.30,
            lasting: 0.0,
            devices: false,
        }
    }

    /// Everything that makes it harder at once.
    #[must_use]
    pub fn hard(breakers: usize) -> Self {
        Self { lasting: 0.05, devices: true, ..Self::usual(breakers) }
    }
}

/// What was drawn, as the next draws hear of it.
fn drawn(point: PointId, at: BreakerId, nth: usize) -> Evidence {
    let (id, time) = (EvidenceId(u64::MAX / 2 + nth as u64), Timestamp::UNIX_EPOCH);
    Evidence { id, point, time, who: "drawn".into(), step: None, observation: Observation::Wire { at } }
}

/// Doors to pass between rooms; where the plan shows no way, as far as they stand apart in the walk.
fn steps_apart(rooms: usize, beside: impl Fn(usize, usize) -> bool) -> Vec<Vec<usize>> {
    let from = |start: usize| {
        let mut far = vec![None; rooms];
        far[start] = Some(0);
        for step in 1..=rooms {
            for room in 0..rooms {
                let reached = (0..rooms).any(|r| far[r] == Some(step - 1) && beside(r, room));
                if far[room].is_none() && reached {
                    far[room] = Some(step);
                }
            }
        }
        far.iter().enumerate().map(|(r, f)| f.unwrap_or_else(|| r.abs_diff(start))).collect()
    };
    (0..rooms).map(from).collect()
}

/// A made house and what is true of it.
#[derive(Debug, Clone)]
pub struct World {
    /// What a survey would have found.
    pub house: House,
    /// What it was made like.
    pub setting: Setting,
    /// By point: still to be found out.
    pub(super) open: Vec<bool>,
    pub(super) point_ids: Vec<PointId>,
    pub(super) breaker_ids: Vec<BreakerId>,
    pub(super) room_ids: Vec<RoomId>,
    /// By point: the breaker that feeds it, or nothing for a dead one.
    pub(super) truth: Vec<Option<usize>>,
    pub(super) sort: Vec<Sort>,
    pub(super) room: Vec<usize>,
    /// Shows power without a tester.
    pub(super) shows: Vec<bool>,
    /// Dead until its wall switch is tried, its device reset.
    pub(super) held_off: Vec<bool>,
    /// The device a point is behind.
    pub(super) behind: Vec<Option<usize>>,
    /// How often a reading of it is wrong.
    pub(super) misread: Vec<f64>,
    /// By breaker: has two poles.
    pub(super) double: Vec<bool>,
    /// By breaker: the handles that cut what hangs on it, its own and those of the panels above.
    pub(super) cut_by: Vec<Vec<usize>>,
    /// Steps between rooms on the grid.
    pub(super) apart: Vec<Vec<usize>>,
    pub(super) panel_room: usize,
    /// Ways through all rooms, row by row and column by column.
    pub(super) snakes: Vec<Vec<usize>>,
}

impl World {
    /// The breaker that really feeds a point; nothing where it is dead.
    #[must_use]
    pub fn feeder(&self, point: PointId) -> Option<BreakerId> {
        self.truth[self.point_index(point)?].map(|b| self.breaker_ids[b])
    }

    /// A real house, with a truth drawn from what is believed of them.
    #[must_use]
    pub(crate) fn imagined(tracker: &Tracker<'_>, seed: u64) -> Self {
        let mut rng = ChaCha8Rng::seed_from_u64(seed);
        let model = &tracker.model;
        let n = model.breakers();
        let all: Vec<usize> = (0..tracker.seen.len()).collect();
        // One after the other, each known to the next: points that belong together are drawn together.
        let mut known = Tracker::new(model.house);
        let mut truth = Vec::new();
        for (nth, p) in all.iter().enumerate() {
            let mut left: f64 = rng.random();
            let place = known.belief(*p).iter().position(|q| {
                left -= q;
                left < 0.0
            });
            let feeder = place.filter(|s| *s < n);
            if let Some(b) = feeder {
                known.observe(&drawn(model.points[*p].id, model.net.breakers[b].id, nth));
            }
            truth.push(feeder);
        }
        let of = |f: &dyn Fn(usize) -> bool| -> Vec<bool> { all.iter().map(|p| f(*p)).collect() };
        let point = |p: usize| model.points[p];
        let rooms = model.rooms.len();
        let ways: Vec<Vec<usize>> = (0..rooms).map(|k| (k..rooms).chain(0..k).collect()).collect();
        let index = |id: PointId| all.iter().position(|p| point(*p).id == id);
        Self {
            house: model.house.clone(),
            setting: Setting::usual(n),
            open: all.iter().map(|p| !is_settled(tracker, *p)).collect(),
            point_ids: all.iter().map(|p| point(*p).id).collect(),
            breaker_ids: model.net.breakers.iter().map(|b| b.id).collect(),
            room_ids: model.rooms.ids.clone(),
            truth,
            sort: all.iter().map(|p| Sort::of(point(*p))).collect(),
            room: all.iter().map(|p| model.room[*p]).collect(),
            shows: of(&|p| Sort::of(point(p)) != Sort::Outlet || point(p).shows),
            held_off: vec![false; all.len()],
            behind: all.iter().map(|p| point(*p).protected_by.and_then(index)).collect(),
            misread: vec![Setting::usual(n).misread; all.len()],
            double: model.net.breakers.iter().map(|b| b.at.len() > 1).collect(),
            cut_by: (0..n).map(|b| (0..n).filter(|above| model.net.below(*above).contains(&b)).collect()).collect(),
            apart: steps_apart(rooms, |a, b| model.rooms.beside(a, b)),
            panel_room: panel_room(tracker).unwrap_or(0),
            snakes: ways.into_iter().step_by((rooms / 8).max(1)).collect(),
        }
    }

    /// Makes a house.
    #[must_use]
    pub fn new(setting: Setting, seed: u64) -> Self {
        Maker::new(setting, seed).make()
    }

    pub(super) fn rooms(&self) -> usize {
        self.apart.len()
    }

    pub(super) fn points(&self) -> usize {
        self.truth.len()
    }

    /// Power is gone behind a breaker with these handles off.
    pub(super) fn is_cut(&self, breaker: usize, off: &[bool]) -> bool {
        self.cut_by[breaker].iter().any(|b| off[*b])
    }

    /// Which point of the world this is; nothing for one that is not part of it.
    pub(super) fn point_index(&self, id: PointId) -> Option<usize> {
        self.point_ids.iter().position(|p| *p == id)
    }

    pub(super) fn breaker_index(&self, id: BreakerId) -> Option<usize> {
        self.breaker_ids.iter().position(|b| *b == id)
    }

    pub(super) fn room_index(&self, id: RoomId) -> usize {
        self.room_ids.iter().position(|r| *r == id).unwrap_or(0)
    }
}

fn breaker_id(index: usize) -> BreakerId {
    BreakerId(index as u64 + 1)
}

fn point_id(index: usize) -> PointId {
    PointId(index as u64 + 1)
}

/// What a general circuit mostly carries.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
enum Bias {
    Lights,
    Receptacles,
    Mixed,
}

/// A circuit for lights and receptacles.
struct General {
    breaker: usize,
    homes: Vec<usize>,
    bias: Bias,
}

impl General {
    fn share(&self, sort: Sort) -> f64 {
        match (self.bias, sort) {
            (Bias::Mixed, _) => 0.5,
            (Bias::Lights, Sort::Lighting) | (Bias::Receptacles, Sort::Outlet) => 0.93,
            _ => 0.07,
        }
    }
}

struct Maker {
    setting: Setting,
    rng: ChaCha8Rng,
    grid: Vec<(usize, usize)>,
    general: Vec<General>,
    double: Vec<bool>,
    unused: Option<usize>,
    truth: Vec<Option<usize>>,
    sort: Vec<Sort>,
    room: Vec<usize>,
    pair: Vec<Option<usize>>,
}

/// A share of a number, rounded.
fn share(of: usize, part: f64) -> usize {
    (of as f64 * part).round() as usize
}

impl Maker {
    fn new(setting: Setting, seed: u64) -> Self {
        let rooms = (setting.breakers / 2).max(4);
        let columns = rooms.div_ceil(2);
        Self {
            setting,
            rng: ChaCha8Rng::seed_from_u64(seed),
            grid: (0..rooms).map(|r| (r % columns, r / columns)).collect(),
            general: Vec::new(),
            double: vec![false; setting.breakers],
            unused: None,
            truth: Vec::new(),
            sort: Vec::new(),
            room: Vec::new(),
            pair: Vec::new(),
        }
    }

    fn rooms(&self) -> usize {
        self.grid.len()
    }

    fn any_room(&mut self) -> usize {
        let rooms = self.rooms();
        self.rng.random_range(0..rooms)
    }

    fn apart(&self, a: usize, b: usize) -> usize {
        let ((xa, ya), (xb, yb)) = (self.grid[a], self.grid[b]);
        xa.abs_diff(xb) + ya.abs_diff(yb)
    }

    fn make(mut self) -> World {
        let breakers = self.setting.breakers;
        let doubles = share(breakers, 0.3);
        let mut slots: Vec<usize> = (0..breakers).collect();
        slots.shuffle(&mut self.rng);
        let mut singles = slots.split_off(doubles);
        slots.iter().for_each(|b| self.double[*b] = true);
        self.unused = singles.pop();
        let dedicated: Vec<usize> = (0..share(breakers, 0.13).max(2)).filter_map(|_| singles.pop()).collect();
        let kitchen = self.any_room();
        self.lay_circuits(&singles);
        self.place_large(&slots, &dedicated, kitchen);
        self.place_general(doubles + dedicated.len(), kitchen);
        self.finish()
    }

    /// General circuits with their home rooms, so that every room has some of each.
    fn lay_circuits(&mut self, breakers: &[usize]) {
        let mut biases = vec![Bias::Lights, Bias::Receptacles];
        while biases.len() < breakers.len() {
            let chance: f64 = self.rng.random();
            biases.push(match chance {
                c if c < 0.30 => Bias::Lights,
                c if c < 0.75 => Bias::Receptacles,
                _ => Bias::Mixed,
            });
        }
        biases.shuffle(&mut self.rng);
        let rooms = self.rooms();
        let (mut lit, mut plugged) = (vec![0_usize; rooms], vec![0_usize; rooms]);
        for (breaker, bias) in breakers.iter().copied().zip(biases) {
            let need = |r: usize| match bias {
                Bias::Lights => lit[r],
                Bias::Receptacles => plugged[r],
                Bias::Mixed => lit[r] + plugged[r],
            };
            let least = (0..rooms).map(need).min().unwrap_or(0);
            let wanting: Vec<usize> = (0..rooms).filter(|r| need(*r) == least).collect();
            let Some(home) = wanting.choose(&mut self.rng).copied() else { continue };
            let mut homes = vec![home];
            if self.rng.random::<f64>() < 0.6 {
                let beside: Vec<usize> = (0..rooms).filter(|r| self.apart(home, *r) == 1).collect();
                let jitter: Vec<f64> =
                    beside.iter().map(|r| need(*r) as f64 + 0.5 * self.rng.random::<f64>()).collect();
                let next = (0..beside.len()).min_by(|a, b| jitter[*a].total_cmp(&jitter[*b]));
                homes.extend(next.map(|i| beside[i]));
            }
            for room in &homes {
                lit[*room] += usize::from(bias != Bias::Receptacles);
                plugged[*room] += usize::from(bias != Bias::Lights);
            }
            self.general.push(General { breaker, homes, bias });
        }
    }

    fn add(&mut self, sort: Sort, room: usize, feeder: usize) {
        self.sort.push(sort);
        self.room.push(room);
        self.truth.push(Some(feeder));
        self.pair.push(None);
    }

    fn place_large(&mut self, doubles: &[usize], dedicated: &[usize], kitchen: usize) {
        for breaker in doubles {
            let room = self.any_room();
            self.add(Sort::TwoPole, room, *breaker);
        }
        for breaker in dedicated {
            let at_home = self.rng.random::<f64>() < 0.75;
            let room = if at_home { kitchen } else { self.any_room() };
            self.add(Sort::Appliance, room, *breaker);
        }
    }

    fn place_general(&mut self, taken: usize, kitchen: usize) {
        let left = self.setting.points.saturating_sub(taken);
        let lights = share(left, 0.36);
        let receptacles = left - lights;
        let all = self.grid.len();
        let mut rooms_of = |once: Vec<usize>, count: usize| {
            let mut rooms = once;
            while rooms.len() < count {
                let room = self.any_room();
                rooms.push(room);
            }
            rooms.truncate(count);
            rooms
        };
        let lit = rooms_of((0..all).collect(), lights);
        let plugged = rooms_of((0..all).chain(0..all).chain([kitchen, kitchen]).collect(), receptacles);
        for room in lit {
            let feeder = self.pick(room, Sort::Lighting, None);
            self.add(Sort::Lighting, room, feeder);
        }
        let mut i = 0;
        while i < plugged.len() {
            let room = plugged[i];
            let feeder = self.pick(room, Sort::Outlet, None);
            self.add(Sort::Outlet, room, feeder);
            i += 1;
            if i < plugged.len() && self.rng.random::<f64>() < self.setting.split {
                let other = self.pick(room, Sort::Outlet, Some(feeder));
                self.add(Sort::Outlet, room, other);
                let half = self.truth.len() - 1;
                self.pair[half] = Some(half - 1);
                self.pair[half - 1] = Some(half);
                i += 1;
            }
        }
    }

    /// The circuit of a point: of a home near by, or astray.
    fn pick(&mut self, room: usize, sort: Sort, not: Option<usize>) -> usize {
        let astray = self.rng.random::<f64>() < self.setting.stray;
        let weight = |circuit: &General| {
            if Some(circuit.breaker) == not {
                return 0.0;
            }
            if astray {
                return if circuit.homes.contains(&room) { 0.0 } else { 0.25 + circuit.share(sort) };
            }
            let nearest = circuit.homes.iter().map(|h| self.apart(room, *h)).min().unwrap_or(0);
            circuit.share(sort) * (-2.5 * nearest as f64).exp()
        };
        let weights: Vec<f64> = self.general.iter().map(weight).collect();
        let mut left = self.rng.random::<f64>() * weights.iter().sum::<f64>();
        for (circuit, weight) in self.general.iter().zip(&weights) {
            left -= weight;
            if left < 0.0 {
                return circuit.breaker;
            }
        }
        self.general.last().map_or(0, |c| c.breaker)
    }

    fn finish(mut self) -> World {
        let count = self.truth.len();
        let plugs: Vec<usize> = (0..count).filter(|p| self.sort[*p] == Sort::Outlet).collect();
        if let Some(dead) = plugs.choose(&mut self.rng) {
            self.truth[*dead] = None;
        }
        let setting = self.setting;
        let mut chance = |of: f64| self.rng.random::<f64>() < of;
        let shows: Vec<bool> = (self.sort.iter())
            .map(|s| matches!(s, Sort::Appliance | Sort::TwoPole) || (*s == Sort::Outlet && chance(setting.shows)))
            .collect();
        let mut held_off: Vec<bool> =
            self.sort.iter().map(|s| *s == Sort::Lighting && chance(setting.switched_off)).collect();
        let misread =
            (0..count).map(|_| if chance(setting.lasting) { LASTING_MISREAD } else { setting.misread }).collect();
        if setting.devices {
            for p in (0..count).filter(|p| self.sort[*p] == Sort::Outlet) {
                held_off[p] = chance(SWITCHED_HALF_OFF);
            }
        }
        let behind = self.devices(&mut held_off);
        let panel_room = self.any_room();
        let labels = self.labels();
        let house = self.house(&labels, &shows, &behind, panel_room);
        let rooms = self.rooms();
        World {
            open: vec![true; count],
            point_ids: (0..count).map(point_id).collect(),
            breaker_ids: (0..setting.breakers).map(breaker_id).collect(),
            room_ids: (0..rooms).map(room_id).collect(),
            house,
            setting,
            snakes: snakes(&self.grid),
            apart: (0..rooms).map(|a| (0..rooms).map(|b| self.apart(a, b)).collect()).collect(),
            truth: self.truth,
            sort: self.sort,
            room: self.room,
            shows,
            held_off,
            behind,
            misread,
            cut_by: (0..self.double.len()).map(|b| vec![b]).collect(),
            double: self.double,
            panel_room,
        }
    }

    /// Receptacles of one circuit in one room, behind the first of them; some groups have tripped.
    fn devices(&mut self, held_off: &mut [bool]) -> Vec<Option<usize>> {
        let count = self.truth.len();
        let mut behind = vec![None; count];
        if !self.setting.devices {
            return behind;
        }
        for room in (0..self.rooms()).step_by(3) {
            let plugs = |p: &usize| self.room[*p] == room && self.sort[*p] == Sort::Outlet && self.truth[*p].is_some();
            let Some(first) = (0..count).find(plugs) else { continue };
            let tripped = self.rng.random::<f64>() < DEVICE_TRIPPED;
            for p in (first + 1..count).filter(plugs) {
                if self.truth[p] == self.truth[first] {
                    behind[p] = Some(first);
                    held_off[p] = tripped;
                }
            }
            held_off[first] = tripped;
        }
        behind
    }

    fn labels(&mut self) -> Vec<String> {
        let right = self.setting.labels_right;
        let bigs: Vec<usize> = (0..self.truth.len()).filter(|p| self.sort[*p] == Sort::TwoPole).collect();
        let mut labels = Vec::new();
        for b in 0..self.setting.breakers {
            let chance: f64 = self.rng.random();
            labels.push(if chance < right {
                self.true_label(b)
            } else if chance < right + (1.0 - right) / 2.0 {
                String::new()
            } else if self.double[b] {
                bigs.choose(&mut self.rng).map_or_else(String::new, |p| self.thing(*p))
            } else {
                let room = self.any_room();
                let bias = [Bias::Lights, Bias::Receptacles, Bias::Mixed].choose(&mut self.rng);
                general_label(&[room], *bias.unwrap_or(&Bias::Mixed))
            });
        }
        labels
    }

    fn true_label(&self, breaker: usize) -> String {
        if Some(breaker) == self.unused {
            return "spare".into();
        }
        if let Some(circuit) = self.general.iter().find(|c| c.breaker == breaker) {
            return general_label(&circuit.homes, circuit.bias);
        }
        (0..self.truth.len()).find(|p| self.truth[*p] == Some(breaker)).map_or_else(String::new, |p| self.thing(p))
    }

    /// What a large thing is called.
    fn thing(&self, point: usize) -> String {
        (if self.sort[point] == Sort::TwoPole { word(&BIG_THINGS, point) } else { word(&SMALL_THINGS, point) }).into()
    }

    fn house(&self, labels: &[String], shows: &[bool], behind: &[Option<usize>], panel_room: usize) -> House {
        let mut house = House::new("Practice house");
        for (r, (x, y)) in self.grid.iter().enumerate() {
            let area = Area {
                x: Inches(*x as f64 * SIDE),
                y: Inches(*y as f64 * SIDE),
                width: Inches(SIDE),
                depth: Inches(SIDE),
            };
            house.rooms.put(Room { area: Some(area), ..Room::new(room_id(r), room_word(r), "1") });
        }
        for (r, (x, y)) in self.grid.iter().enumerate() {
            for (wall, there) in [(Wall::East, (x + 1, *y)), (Wall::South, (*x, y + 1))] {
                if self.grid.contains(&there) {
                    let (id, along) = (OpeningId(house.openings.len() as u64 + 1), Inches(SIDE / 2.0 - 18.0));
                    let (room, kind, width) = (room_id(r), OpeningKind::Passage, Inches(36.0));
                    house.openings.put(Opening { id, room, kind, wall, along, width, to: None });
                }
            }
        }
        self.put_panel(&mut house, labels, panel_room);
        for p in 0..self.truth.len() {
            let (kind, volts, name) = match self.sort[p] {
                Sort::Lighting => (PointKind::Light, NominalVolts::V120, "ceiling".into()),
                Sort::Outlet => (PointKind::Receptacle, NominalVolts::V120, "wall".into()),
                Sort::Appliance => (PointKind::Appliance, NominalVolts::V120, self.thing(p)),
                Sort::TwoPole => (PointKind::Appliance, NominalVolts::V240, self.thing(p)),
            };
            let pair = self.pair[p].map(|q| BoxId(p.min(q) as u64 + 1));
            house.points.put(Point {
                name,
                volts: Some(volts),
                shared_box: pair,
                shows: shows[p],
                ground_fault: behind.contains(&Some(p)),
                protected_by: behind[p].map(point_id),
                ..Point::new(point_id(p), format!("P{}", p + 1), room_id(self.room[p]), kind)
            });
        }
        house
    }

    /// Breakers stand one below the other, the left column first, as their numbers run in the model.
    fn put_panel(&self, house: &mut House, labels: &[String], panel_room: usize) {
        let spaces_of = |b: &usize| if self.double[*b] { 2 } else { 1 };
        let needed: usize = (0..self.setting.breakers).map(|b| spaces_of(&b)).sum();
        // One row more, so that no two-pole breaker is split over the columns.
        let rows = needed.div_ceil(2) + 1;
        let place = Some(PanelPlace { room: room_id(panel_room), spot: None });
        let spaces = u16::try_from(2 * rows).unwrap_or(u16::MAX);
        house.panels.put(Panel { place, ..Panel::new(PanelId(1), "Main", spaces) });
        let mut next = 0;
        for (b, label) in labels.iter().enumerate() {
            let poles = spaces_of(&b);
            if next < rows && next + poles > rows {
                next = rows;
            }
            let number = |i: usize| u16::try_from(if i < rows { 2 * i + 1 } else { 2 * (i - rows) + 2 }).unwrap_or(1);
            let at = (next..next + poles).map(|i| Position::whole(number(i))).collect();
            next += poles;
            let amps = Amps(if self.double[b] { 30.0 } else { 20.0 });
            house.breakers.put(Breaker { label: label.clone(), ..Breaker::new(breaker_id(b), PanelId(1), at, amps) });
        }
    }
}

/// A room's side: eight seconds' walk from middle to middle.
const SIDE: f64 = 288.0;

fn room_id(index: usize) -> RoomId {
    RoomId(index as u64 + 1)
}

/// Invented words that name rooms and things, all different.
const ROOM_WORDS: [&str; 30] = [
    "amber", "birch", "cedar", "dahlia", "ember", "fern", "garnet", "heron", "indigo", "juniper", "kestrel", "linden",
    "maple", "nettle", "ochre", "plover", "quince", "rowan", "sorrel", "thistle", "umber", "violet", "willow",
    "yarrow", "aster", "bracken", "clover", "damson", "elder", "finch",
];
const BIG_THINGS: [&str; 20] = [
    "range",
    "dryer",
    "water heater",
    "air conditioner",
    "car charger",
    "well pump",
    "heat strips",
    "cooktop",
    "kiln",
    "baseboard",
    "sauna",
    "welder",
    "compressor",
    "lathe",
    "hoist",
    "steamer",
    "mangle",
    "crusher",
    "mixer",
    "grinder",
];
const SMALL_THINGS: [&str; 10] = [
    "dishwasher",
    "disposer",
    "refrigerator",
    "microwave",
    "freezer",
    "furnace",
    "sump pump",
    "washer",
    "bread proofer",
    "projector",
];

fn word<'a>(words: &[&'a str], index: usize) -> &'a str {
    words[index % words.len()]
}

fn room_word(room: usize) -> &'static str {
    word(&ROOM_WORDS, room)
}

fn general_label(homes: &[usize], bias: Bias) -> String {
    let rooms: Vec<&str> = homes.iter().map(|r| room_word(*r)).collect();
    let kind = match bias {
        Bias::Lights => " lights",
        Bias::Receptacles => " plugs",
        Bias::Mixed => "",
    };
    format!("{}{kind}", rooms.join(" & "))
}

/// Ways through all rooms there and back by rows and by columns, begun at several places.
fn snakes(grid: &[(usize, usize)]) -> Vec<Vec<usize>> {
    let mut by_row: Vec<usize> = (0..grid.len()).collect();
    let turned = |line: usize, along: usize| if line.is_multiple_of(2) { along as i64 } else { -(along as i64) };
    by_row.sort_by_key(|r| (grid[*r].1, turned(grid[*r].1, grid[*r].0)));
    let mut by_column: Vec<usize> = (0..grid.len()).collect();
    by_column.sort_by_key(|r| (grid[*r].0, turned(grid[*r].0, grid[*r].1)));
    let turns =
        |way: &[usize]| -> Vec<Vec<usize>> { (0..way.len()).map(|k| [&way[k..], &way[..k]].concat()).collect() };
    let mut all = [turns(&by_row), turns(&by_column)].concat();
    let step = (all.len() / 8).max(1);
    all = all.into_iter().step_by(step).collect();
    all.extend([by_row, by_column]);
    let back: Vec<Vec<usize>> = all.iter().map(|way| way.iter().rev().copied().collect()).collect();
    [all, back].concat()
}
