//! Houses with a truth behind them, made by another model than the program's: cables branch like trees, receptacles alternate between
//! circuits, devices serve several rooms, half of them not registered, order on no plan. Shares are assumptions from practice, named
//! here and nowhere in the program.

use std::collections::{BTreeMap, BTreeSet};

use jiff::Timestamp;
use rand::rngs::ChaCha8Rng;
use rand::seq::{IndexedRandom, SliceRandom};
use rand::{RngExt, SeedableRng};
use wayfinder_core::House;
use wayfinder_core::base::position::{Leg, parse_poles};
use wayfinder_core::base::units::{Amps, NominalVolts};
use wayfinder_core::house::*;

/// How much of the house is mapped.
#[derive(Debug, Clone, Copy, PartialEq, Eq, PartialOrd, Ord)]
pub enum Mapped {
    Full,
    Half,
    Not,
}

/// How a point truly hangs.
#[derive(Debug, Clone)]
pub struct Hung {
    pub breaker: BreakerId,
    /// The point before it on the cable; nothing where the cable comes from the panel.
    pub before: Option<PointId>,
    /// The ground-fault device that it is behind, registered or not; of a device, itself.
    pub device: Option<PointId>,
}

/// A house and its truth.
#[derive(Debug, Clone)]
pub struct Made {
    pub house: House,
    pub hung: BTreeMap<PointId, Hung>,
    /// Devices that nobody registered, and in which rooms they are.
    pub unregistered: BTreeSet<PointId>,
    pub shared: Option<(BreakerId, BreakerId)>,
    pub feeder: Option<BreakerId>,
    pub next: u64,
}

const ROOMS: [(&str, bool); 12] = [
    ("Kitchen", true),
    ("Bathroom", true),
    ("Laundry", true),
    ("Garage", true),
    ("Living room", false),
    ("Dining room", false),
    ("Front bedroom", false),
    ("Back bedroom", false),
    ("Hall", false),
    ("Study", false),
    ("Landing", false),
    ("Outside", true),
];

struct Making<'r> {
    rng: &'r mut ChaCha8Rng,
    made: Made,
    rooms: Vec<RoomId>,
    spaces: Vec<u16>,
    panel: PanelId,
}

impl Making<'_> {
    fn id(&mut self) -> u64 {
        self.made.next += 1;
        self.made.next
    }

    /// A breaker in the next free place: of two poles where two spaces of a column are free.
    fn breaker(&mut self, poles: usize, amps: f64, label: &str) -> Option<BreakerId> {
        let first = self.spaces.iter().copied().find(|s| poles == 1 || self.spaces.contains(&(s + 2)))?;
        let at = if poles == 1 { first.to_string() } else { format!("{first}-{}", first + 2) };
        self.spaces.retain(|s| *s != first && (poles == 1 || *s != first + 2));
        let id = BreakerId(self.id());
        let right = self.rng.random_bool(0.6);
        let label = if right { label } else { *["Spare", "Lights", "Plugs", ""].choose(self.rng).unwrap() };
        let breaker = Breaker::new(id, self.panel, parse_poles(&at).unwrap(), Amps(amps));
        self.made.house.breakers.put(Breaker { label: label.to_owned(), as_found: true, ..breaker });
        Some(id)
    }

    fn point(&mut self, room: usize, kind: PointKind, volts: NominalVolts, name: &str) -> PointId {
        let id = PointId(self.id());
        let tag = format!("{}{}", ROOMS[room].0.chars().next().unwrap(), id.0);
        let point = Point { volts: Some(volts), name: name.to_owned(), ..Point::new(id, tag, self.rooms[room], kind) };
        self.made.house.points.put(point);
        id
    }

    /// Strings points onto a breaker as a tree: mostly on the last one, at times on an earlier one.
    fn string(&mut self, breaker: BreakerId, points: &[PointId]) {
        for (nth, point) in points.iter().enumerate() {
            let before = match nth {
                0 => None,
                _ if self.rng.random_bool(0.75) => Some(points[nth - 1]),
                _ => points[..nth].choose(self.rng).copied(),
            };
            self.made.hung.insert(*point, Hung { breaker, before, device: None });
        }
    }

    /// What comes after a receptacle is behind its buttons. Registered with what hangs behind it, or unknown to all.
    fn device(&mut self, device: PointId) {
        let registered = self.rng.random_bool(0.6);
        let behind: Vec<PointId> = self.made.hung.keys().copied().filter(|p| self.is_after(*p, device)).collect();
        for point in &behind {
            if let Some(hung) = self.made.hung.get_mut(point) {
                hung.device = Some(device);
            }
            if registered && *point != device {
                let p = self.made.house.points.get(*point).unwrap().clone();
                self.made.house.points.put(Point { protected_by: Some(device), ..p });
            }
        }
        if registered {
            let p = self.made.house.points.get(device).unwrap().clone();
            self.made.house.points.put(Point { ground_fault: true, ..p });
        } else {
            self.made.unregistered.insert(device);
        }
    }

    fn is_after(&self, point: PointId, of: PointId) -> bool {
        let mut at = Some(point);
        while let Some(now) = at {
            if now == of {
                return true;
            }
            at = self.made.hung.get(&now).and_then(|h| h.before);
        }
        false
    }

    fn receptacles(&mut self, room: usize, count: usize) -> Vec<PointId> {
        (0..count)
            .map(|n| self.point(room, PointKind::Receptacle, NominalVolts::V120, &format!("outlet {}", n + 1)))
            .collect()
    }

    /// A light with its switch, on the same circuit.
    fn light(&mut self, room: usize) -> PointId {
        let switch = self.point(room, PointKind::Switch, NominalVolts::V120, "");
        let light = self.point(room, PointKind::Light, NominalVolts::V120, "ceiling");
        let p = self.made.house.points.get(light).unwrap().clone();
        self.made.house.points.put(Point { switched_by: [switch].into(), ..p });
        light
    }

    fn alone(&mut self, room: usize, name: &str, poles: usize, amps: f64) {
        let volts = if poles == 2 { NominalVolts::V240 } else { NominalVolts::V120 };
        if let Some(breaker) = self.breaker(poles, amps, name) {
            let point = self.point(room, PointKind::Appliance, volts, name);
            self.made.hung.insert(point, Hung { breaker, before: None, device: None });
        }
    }
}

/// Makes one.
pub fn made(seed: u64, mapped: Mapped) -> Made {
    let mut rng = ChaCha8Rng::seed_from_u64(seed);
    let mut house = House::new("Made house");
    let panel = PanelId(1);
    house.panels.put(Panel::new(panel, "Main", 32));
    let rooms: Vec<RoomId> = (0..ROOMS.len()).map(|n| RoomId(100 + n as u64)).collect();
    for (nth, (name, _)) in ROOMS.iter().enumerate() {
        house.rooms.put(Room::new(rooms[nth], *name, if nth < 6 { "1" } else { "2" }));
    }
    let start =
        Made { house, hung: BTreeMap::new(), unregistered: BTreeSet::new(), shared: None, feeder: None, next: 1000 };
    let mut m = Making { rng: &mut rng, made: start, rooms, spaces: (1..=32).collect(), panel };
    m.alone(0, "range", 2, 50.0);
    m.alone(2, "dryer", 2, 30.0);
    m.alone(3, "water heater", 2, 30.0);
    let shares = m.rng.random_bool(0.5);
    // The kitchen's counter alternates between two circuits.
    let counter = m.receptacles(0, 6);
    let (one, other) = (m.breaker(1, 20.0, "Kitchen"), m.breaker(1, 20.0, "Kitchen"));
    if let (Some(one), Some(other)) = (one, other) {
        let of = |odd: usize| {
            counter.iter().copied().enumerate().filter(|(n, _)| n % 2 == odd).map(|(_, p)| p).collect::<Vec<_>>()
        };
        m.string(one, &of(0));
        m.string(other, &of(1));
        // The next free places of the two columns may be on one leg: then nobody shares a neutral.
        let legs = [one, other]
            .map(|b| m.made.house.panels.get(panel).unwrap().leg(m.made.house.breakers.get(b).unwrap().at[0]));
        if shares && legs[0] != legs[1] {
            let (a, b) = (CircuitId(5001), CircuitId(5002));
            m.made.house.circuits.put(Circuit::new(a, one));
            m.made.house.circuits.put(Circuit { neutral_of: Some(a), ..Circuit::new(b, other) });
            m.made.shared = Some((one, other));
        } else if m.rng.random_bool(0.5) {
            m.device(of(0)[0]);
        }
    }
    m.alone(0, "refrigerator", 1, 20.0);
    m.alone(0, "dishwasher", 1, 20.0);
    m.alone(3, "furnace", 1, 15.0);
    // Baths and outlets outdoors hang on one device at times, in the garage.
    let wet: Vec<PointId> = [(3, 3), (1, 2), (11, 2)].iter().flat_map(|(room, n)| m.receptacles(*room, *n)).collect();
    if let Some(breaker) = m.breaker(1, 20.0, "Garage") {
        m.string(breaker, &wet);
        m.device(wet[0]);
    }
    let laundry = m.receptacles(2, 2);
    if let Some(breaker) = m.breaker(1, 20.0, "Laundry") {
        m.string(breaker, &laundry);
    }
    // Bedrooms and the rest: receptacles of one or two rooms with a light that strayed there.
    for rooms in [vec![4], vec![5, 8], vec![6], vec![7, 10], vec![9]] {
        let mut points: Vec<PointId> = rooms
            .iter()
            .flat_map(|room| {
                let n = m.rng.random_range(3..6);
                m.receptacles(*room, n)
            })
            .collect();
        if m.rng.random_bool(0.4) {
            points.push(m.light(rooms[0]));
        }
        points.shuffle(m.rng);
        if let Some(breaker) = m.breaker(1, 15.0, ROOMS[rooms[0]].0) {
            m.string(breaker, &points);
        }
    }
    for rooms in [vec![0, 5, 4], vec![6, 7, 10, 9], vec![1, 2, 3, 8]] {
        let mut points: Vec<PointId> = rooms.iter().map(|room| m.light(*room)).collect();
        points.shuffle(m.rng);
        if let Some(breaker) = m.breaker(1, 15.0, "Lights") {
            m.string(breaker, &points);
        }
    }
    if m.rng.random_bool(0.3)
        && let Some(feeder) = m.breaker(2, 60.0, "Annex")
    {
        m.made.feeder = Some(feeder);
        let annex = PanelId(2);
        let sub = Panel { fed_by: Some(feeder), main: None, bus: Amps(100.0), ..Panel::new(annex, "Annex", 12) };
        m.made.house.panels.put(sub);
        (m.panel, m.spaces) = (annex, (1..=12).collect());
        for room in [3, 11] {
            let mut points = m.receptacles(room, 3);
            points.push(m.light(room));
            if let Some(breaker) = m.breaker(1, 20.0, "Outlets") {
                m.string(breaker, &points);
            }
        }
    }
    let mut made = m.made;
    trace(&mut made, mapped, &mut rng);
    made
}

/// What was traced: each point by its own breaker twice, and with all others off; or none of it.
fn trace(made: &mut Made, mapped: Mapped, rng: &mut ChaCha8Rng) {
    let all: Vec<BreakerId> = made.house.breakers.iter().map(|b| b.id).collect();
    let below = made.house.fed_through();
    for (point, hung) in made.hung.clone() {
        let traced = match mapped {
            Mapped::Full => true,
            Mapped::Half => rng.random_bool(0.5),
            Mapped::Not => false,
        };
        if !traced {
            continue;
        }
        let others: BTreeSet<BreakerId> = all.iter().copied().filter(|b| !below[b].contains(&hung.breaker)).collect();
        for _ in 0..2 {
            for (off, seen) in [(BTreeSet::from([hung.breaker]), Seen::Dead), (others.clone(), Seen::Live)] {
                made.next += 1;
                let time = Timestamp::from_second(made.next as i64).unwrap();
                let observation = Observation::Power { off, seen, how: Way::Tester };
                let evidence =
                    Evidence { id: EvidenceId(made.next), point, time, who: "Fern".into(), step: None, observation };
                made.house.evidence.put(evidence);
            }
        }
    }
}

impl Made {
    /// From a point back to the panel.
    pub fn way_back(&self, point: PointId) -> Vec<PointId> {
        let mut way = vec![point];
        while let Some(before) = self.hung.get(way.last().unwrap()).and_then(|h| h.before) {
            way.push(before);
        }
        way
    }

    pub fn legs(&self, breaker: BreakerId) -> Vec<Leg> {
        let b = self.house.breakers.get(breaker).unwrap();
        let panel = self.house.panels.get(b.panel).unwrap();
        b.at.iter().map(|at| panel.leg(*at)).collect()
    }
}
