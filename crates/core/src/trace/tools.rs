//! What other tools than a look are good for: a transmitter and its receiver, a known load and a meter, a radio.

use crate::base::chance::entropy;
use crate::house::PointKind;
use crate::trace::gain::Want;
use crate::trace::planner::{Planner, Scene, Tour};

// Seconds of work, common practice.
/// To plug the transmitter in, sweep the panel and take it out again.
const TRANSMITTER: f64 = 12.0 + 35.0 + 5.0;
/// To plug a load in and switch it on, and to take it out again,
const LOAD: f64 = 12.0 + 5.0;
/// to see on the monitor which circuit rose,
const READ_MONITOR: f64 = 8.0;
/// and to clamp one wire and wait for the reading.
const CLAMP_ONE: f64 = 8.0;
/// To hear whether the radio plays.
const LISTEN: f64 = 3.0;

/// What the receiver leaves open, in bits: about the entropy of nine in ten right, the rest over a handful of neighbours.
const RECEIVER_LEAVES: f64 = 0.8;
/// What a rise leaves open: one in thirty is something else that switched itself on.
const RISE_LEAVES: f64 = 0.3;
/// None of these is asked about a point as sure as this.
const NEARLY_SURE: f64 = 0.01;
/// A lamp is worth leaving where so many bits are open.
const LAMP_FROM: f64 = 1.0;
/// The radio is worth leaving where so many bits are open.
const RADIO_FROM: f64 = 1.0;

impl Planner<'_, '_> {
    /// A receptacle at 120 V. Above that, or where the voltage is unknown, a transmitter or plug-in load is destroyed
    /// (handbook 2.1.2); lights need an adapter on live parts.
    pub(super) fn takes_plug(&self, point: usize) -> bool {
        let point = self.tracker.model.points[point];
        point.kind == PointKind::Receptacle && point.volts.is_some_and(|v| !v.is_leg_to_leg())
    }

    /// Bits open about a point.
    fn bits_open(&self, point: usize) -> f64 {
        self.tracker.belief(point).iter().map(|q| -q * q.max(f64::MIN_POSITIVE).log2()).sum()
    }

    fn most_open(&self) -> Option<usize> {
        let fit = self.open().filter(|p| self.takes_plug(*p));
        fit.max_by(|a, b| self.bits_open(*a).total_cmp(&self.bits_open(*b)))
    }

    /// A point where something is plugged in while somebody goes back to the panel, or is there.
    fn at_one(&self, point: usize, bits: f64, work: f64, scene: &Scene) -> Tour {
        let room = self.tracker.model.room[point];
        let walks = if scene.two { 0.0 } else { 2.0 * self.panel_walk(room) };
        let off = vec![false; scene.off.len()];
        let seconds = work + walks + self.flips(&off, scene);
        Tour { effort: seconds + self.minded(walks, scene), off, visit: vec![point], bits, seconds }
    }

    /// The transmitter where the receiver tells most.
    pub(super) fn receiver(&self, scene: &Scene) -> Option<Tour> {
        let point = self.most_open()?;
        let bits = self.bits_open(point) - RECEIVER_LEAVES;
        (bits > entropy(NEARLY_SURE)).then(|| self.at_one(point, bits, TRANSMITTER, scene))
    }

    /// The transmitter at this point, whatever it tells.
    pub(super) fn sweep(&self, point: usize, scene: &Scene) -> Tour {
        self.at_one(point, RECEIVER_LEAVES, TRANSMITTER, scene)
    }

    /// A load at the point most in doubt, and wires clamped one by one, likeliest first.
    pub(super) fn clamped(&self, scene: &Scene) -> Option<Tour> {
        let point = self.most_open()?;
        let bits = self.bits_open(point) - RISE_LEAVES;
        let wires: f64 = self.suspects(point).iter().enumerate().map(|(nth, (_, p))| (nth + 1) as f64 * p).sum();
        (bits > entropy(NEARLY_SURE)).then(|| self.at_one(point, bits, LOAD + CLAMP_ONE * wires, scene))
    }

    /// Breakers that may feed a point, likeliest first.
    pub fn suspects(&self, point: usize) -> Vec<(usize, f64)> {
        let row = &self.tracker.belief(point)[..self.tracker.model.breakers()];
        let mut suspects: Vec<(usize, f64)> = row.iter().copied().enumerate().filter(|(_, p)| *p > 0.0).collect();
        suspects.sort_by(|a, b| b.1.total_cmp(&a.1));
        suspects
    }

    /// A walk with a load to every receptacle where the monitor tells enough for the seconds, everything on.
    pub(super) fn monitored(&self, scene: &Scene) -> Option<Tour> {
        let off = vec![false; scene.off.len()];
        let each = LOAD + READ_MONITOR;
        let told = |p: usize| self.bits_open(p) - RISE_LEAVES;
        let mut points: Vec<usize> = self.open().filter(|p| self.takes_plug(*p) && told(*p) > 0.0).collect();
        points.sort_by(|a, b| told(*b).total_cmp(&told(*a)));
        // The rate of bits a second first rises with every point that shares the walk, then falls.
        let tour = |points: &[usize]| {
            let tour = self.tour_of(off.clone(), points, scene);
            let bits: f64 = points.iter().map(|p| told(*p)).sum();
            let looks: f64 = points.iter().map(|p| each - self.price(*p, scene)).sum();
            Tour { bits, seconds: tour.seconds + looks, effort: tour.effort + looks, ..tour }
        };
        let plans = (1..=points.len()).map(|n| tour(&points[..n]));
        plans.max_by(|a, b| a.rate().total_cmp(&b.rate())).filter(|p| p.bits > entropy(NEARLY_SURE))
    }

    /// The handles that tell most of the point where the radio plays, for somebody alone at the panel.
    pub(super) fn listen(&self, scene: &Scene) -> Option<Tour> {
        let point = scene.radio.filter(|_| !scene.two && scene.at.is_none())?;
        let want = Want::new(self.tracker, point)?;
        let tour = self.at_the_panel(want, LISTEN, scene)?;
        (tour.bits > 0.0).then_some(tour)
    }

    /// A lamp is left at this point to stay: it is among those that most is open of, for which lamps are left over.
    pub fn lamp_stays(&self, point: usize, lamps: usize, scene: &Scene) -> bool {
        let free = lamps.saturating_sub(scene.left.len());
        if free == 0 || scene.left.contains(&point) || !self.needs_tester(point) {
            return false;
        }
        let open = self.bits_open(point);
        let others = self.open().filter(|p| *p != point && self.needs_tester(*p) && !scene.left.contains(p));
        open >= LAMP_FROM && others.filter(|p| self.bits_open(*p) > open).count() < free
    }

    /// Among the points of a tour, the receptacle where the radio is best left playing. Where it plays elsewhere the tour
    /// has to come by, to take it along.
    pub fn radio_place(&self, tour: &[usize], among: &[usize], scene: &Scene) -> Option<usize> {
        let room = |p: usize| self.tracker.model.room[p];
        if scene.two || scene.radio.is_some_and(|q| tour.iter().all(|p| room(*p) != room(q))) {
            return None;
        }
        let fit = among.iter().copied().filter(|p| self.takes_plug(*p) && self.bits_open(*p) >= RADIO_FROM);
        fit.max_by(|a, b| self.bits_open(*a).total_cmp(&self.bits_open(*b)))
    }
}
