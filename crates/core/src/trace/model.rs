//! What is known of a house before anything was switched, worked out once.

use std::collections::BTreeMap;

use crate::base::position::Column;
use crate::house::{Evidence, House, Observation, Point, PointId, Seen, Way};
use crate::trace::feeding::Feeding;
use crate::trace::kinship::{Rooms, Sort};
use crate::trace::likelihood::{self, Misread, Power};
use crate::trace::pairs;
use crate::trace::prior::{self, Hint, HintKind, LabelFit, Lexicon, PointWords};

/// A house as the reasoning sees it: points, breakers and rooms by index.
pub struct Model<'a> {
    pub house: &'a House,
    pub net: Feeding<'a>,
    /// Points in walking order.
    pub points: Vec<&'a Point>,
    pub rooms: Rooms,
    pub room: Vec<usize>,
    pub sort: Vec<Sort>,
    /// The other listed half of the same receptacle.
    pub half: Vec<Option<usize>>,
    /// Points behind the same ground-fault device, the device included.
    pub behind_same: Vec<Vec<usize>>,
    /// By point and breaker: odds of poles and rating; 0 where they rule it out.
    pub rating: Vec<f64>,
    /// By point and breaker: what the breaker's label says if it is right.
    pub label: Vec<Option<LabelFit>>,
    /// By point: nothing behind it beforehand.
    pub nothing: Vec<f64>,
    /// By breaker: off, or dead, for somebody's work. What hangs there is looked at later.
    pub held: Vec<bool>,
    /// By breaker: held, or what somebody's work rests on. Nobody else moves it.
    pub still: Vec<bool>,
    /// Single poles that give 240 V together, where a point needs it.
    pub pairs: Vec<[usize; 2]>,
    places: Vec<(Column, u16)>,
    index: BTreeMap<PointId, usize>,
}

impl<'a> Model<'a> {
    pub fn new(house: &'a House) -> Self {
        let net = Feeding::new(house);
        let points = house.points_in_order();
        let rooms = Rooms::new(house);
        let room: Vec<usize> = points.iter().map(|p| rooms.index(p.room).unwrap_or(0)).collect();
        let sort: Vec<Sort> = points.iter().map(|p| Sort::of(p)).collect();
        let index: BTreeMap<_, _> = points.iter().enumerate().map(|(i, p)| (p.id, i)).collect();
        let place = |b: &&crate::house::Breaker| {
            house.panels.get(b.panel).map_or((Column::Left, 0), |p| p.place(b.at[0].space))
        };
        let mut lexicon = Lexicon::default();
        let labels: Vec<_> = net.breakers.iter().map(|b| lexicon.read(&b.label)).collect();
        let (mut rating, mut label) = (Vec::new(), Vec::new());
        for (i, point) in points.iter().enumerate() {
            let next_door: Vec<&str> = (0..rooms.len())
                .filter(|r| rooms.beside(room[i], *r))
                .filter_map(|r| house.rooms.get(rooms.ids[r]).map(|r| r.name.as_str()))
                .collect();
            let said = PointWords::new(&mut lexicon, house, point, &next_door);
            for (b, breaker) in net.breakers.iter().enumerate() {
                rating.push(prior::rating(breaker, net.feeds_a_panel(b), point, &said).unwrap_or(0.0));
                label.push(prior::label_fit(&lexicon, &labels[b], sort[i], &said));
            }
        }
        let (held, still) = (house.held_dead(), house.held_still());
        let mut model = Self {
            held: net.breakers.iter().map(|b| held.contains(&b.id)).collect(),
            still: net.breakers.iter().map(|b| still.contains(&b.id)).collect(),
            half: halves(&points),
            behind_same: behind_same(&points),
            nothing: points.iter().map(|p| prior::nothing(p)).collect(),
            places: net.breakers.iter().map(place).collect(),
            house,
            net,
            rooms,
            room,
            sort,
            rating,
            label,
            index,
            points,
            pairs: Vec::new(),
        };
        if model.sort.contains(&Sort::TwoPole) {
            model.pairs = pairs::pairs(house, &model.net.breakers);
        }
        model
    }

    /// Breakers.
    pub fn breakers(&self) -> usize {
        self.net.len()
    }

    /// Breakers that a point can hang on at all: poles that cannot make its voltage are ruled out for certain.
    pub fn possible(&self, point: usize) -> impl Iterator<Item = usize> {
        (0..self.breakers()).filter(move |b| self.is_possible(point, *b))
    }

    pub fn is_possible(&self, point: usize, breaker: usize) -> bool {
        self.rating[point * self.breakers() + breaker] > 0.0
    }

    pub fn point(&self, id: PointId) -> Option<usize> {
        self.index.get(&id).copied()
    }

    /// Probability of an observation, given the source; `dead` says behind which breakers power was gone. An observation
    /// speaks of the breakers of its time.
    pub fn likelihood(&self, evidence: &Evidence, dead: &[bool], source: Power) -> f64 {
        if let Power::Breaker(b) = source
            && !self.net.breakers[b].stood(evidence.time)
        {
            return likelihood::BEFORE_IT_STOOD;
        }
        let powered = match source {
            Power::Breaker(b) => !dead.get(b).copied().unwrap_or(false),
            Power::Elsewhere => true,
            Power::Nothing => false,
        };
        let feeds = |at| match source {
            Power::Breaker(b) => self.net.below(at).contains(&b),
            Power::Elsewhere | Power::Nothing => false,
        };
        match &evidence.observation {
            Observation::Power { seen, how, .. } => Misread::of(*how).probability(*seen, powered),
            Observation::Pointed { at } => {
                self.net.index(*at).map_or(1.0, |at| likelihood::pointing(&self.net.breakers, &self.places, at, source))
            }
            Observation::Rise { at, expected, rose } => {
                self.net.index(*at).map_or(1.0, |at| likelihood::rise(*expected, *rose, feeds(at)))
            }
            Observation::Wire { at } => {
                self.net.index(*at).map_or(1.0, |at| likelihood::wire(self.breakers(), source == Power::Breaker(at)))
            }
            Observation::Landed { at } => {
                self.net.index(*at).map_or(1.0, |at| likelihood::landed(self.breakers(), source == Power::Breaker(at)))
            }
            Observation::Tried { was_off, off, .. } => {
                likelihood::tried(*was_off, source, off.is_some().then_some(powered))
            }
            Observation::Fault { .. } => 1.0,
        }
    }

    /// What poles, rating and label say of a breaker for a point, with the label's trust.
    pub fn hints(&self, point: usize, breaker: usize, trust: f64) -> Vec<Hint> {
        let at = point * self.breakers() + breaker;
        let mut hints = vec![Hint { kind: HintKind::Rating, odds: self.rating[at] }];
        if self.net.feeds_a_panel(breaker) {
            hints.push(Hint { kind: HintKind::FeedsPanel, odds: self.rating[at] });
            hints.remove(0);
        }
        hints.extend(self.label[at].map(|fit| Hint { kind: fit.kind, odds: 1.0 + trust * (fit.odds - 1.0) }));
        hints.retain(|h| (h.odds - 1.0).abs() > f64::EPSILON);
        hints
    }
}

fn halves(points: &[&Point]) -> Vec<Option<usize>> {
    let twin = |p: &Point, q: &Point| {
        let receptacles = p.kind == q.kind && p.kind == crate::house::PointKind::Receptacle;
        receptacles && p.id != q.id && p.room == q.room && p.shared_box.is_some() && p.shared_box == q.shared_box
    };
    points.iter().map(|p| points.iter().position(|q| twin(p, q))).collect()
}

fn behind_same(points: &[&Point]) -> Vec<Vec<usize>> {
    let device = |p: &Point| if p.ground_fault { Some(p.id) } else { p.protected_by };
    let group = |p: &Point| -> Vec<usize> {
        let Some(mine) = device(p) else { return Vec::new() };
        (0..points.len()).filter(|q| points[*q].id != p.id && device(points[*q]) == Some(mine)).collect()
    };
    points.iter().map(|p| group(p)).collect()
}

/// True for what a clamp showed when one thing was switched on.
pub fn is_rise(evidence: &Evidence) -> bool {
    matches!(evidence.observation, Observation::Rise { .. })
}

/// True for a look that is somebody's own and clear: hearsay and "not sure" prove nothing.
pub fn is_direct(evidence: &Evidence) -> bool {
    match &evidence.observation {
        Observation::Power { seen, how, .. } => *how != Way::Word && *seen != Seen::Unsure,
        Observation::Tried { off, .. } => off.is_some(),
        _ => false,
    }
}
