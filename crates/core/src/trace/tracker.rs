//! The belief about every point, kept up as observations come in.
//!
//! Each point by itself is exact: prior times the likelihood of all its looks. The prior of a point depends on what is
//! believed of its kin ([`super::kinship`]), of the labels, and of who else claims the same breaker. These are
//! joined in two hops: kin counts with what its own looks and its own kin say. That is an approximation, near the sum over
//! all maps of small houses (tests); one update takes `O(points · breakers)`.

use std::sync::Arc;

use crate::house::{Evidence, Observation, PointKind, Seen, Tried, Way};
use crate::trace::kinship::{ALONE, OTHER_HALF, SAME_DEVICE, Sort};
use crate::trace::likelihood::{Power, USUAL_MISREAD};
use crate::trace::look::{Look, OffSet, Seenness};
use crate::trace::model::{Model, is_direct, is_rise};
use crate::trace::pairs::{self, ON_TWO_HANDLES, Pair, WHERE_NONE_HAS_THE_POLES};
use crate::trace::prior::ELSEWHERE;
use crate::trace::tempo::{Clock, Tempo};

/// Labels right and wrong that the house is given beforehand: about three in five are right (common practice).
const TRUST_PRIOR: (f64, f64) = (1.5, 1.0);
/// How much one point found where the label says, or elsewhere, tells of that label (natural logarithm of odds).
const LABEL_STEP: f64 = 1.5;
const TRUST_MOST: f64 = 8.0;
/// So many readings of a house weigh as much as what is usual of people when it is told how often they slip here
/// (chosen so that played houses lose nothing),
const CARE_PRIOR: f64 = 2000.0;
/// after so many,
const CARE_FROM: f64 = 100.0;
/// which is between so much of it (those that nothing contradicts are not seen),
const CARE_LEAST: f64 = 0.5;
/// and so much.
const CARE_MOST: f64 = 2.0;
/// A thing by itself drives others off its breaker, and is driven off by them.
const BESIDE_APPLIANCE: f64 = 6.0;
const APPLIANCE_BESIDE_GENERAL: f64 = 3.0;
const APPLIANCE_BESIDE_APPLIANCE: f64 = 10.0;
/// At 240 V one thing drives the others off its breaker: they mostly have one each. Two on one breaker are possible.
const BESIDE_TWO_POLE: f64 = 30.0;

/// A point this likely to be dead anyway has its switch or device tried.
const MAY_BE_HELD_OFF: f64 = 0.25;
/// With a share of its belief on what is off, its switch is not tried now.
const MAY_BE_OFF: f64 = 0.25;
/// What is foretold of that is an estimate: on the safe side.
const NEARLY: f64 = 0.7;
/// Neighbours are named where they change the odds at least by this factor.
const NEIGHBOURS_SPEAK_FROM: f64 = 1.5;

/// What is believed of every point of a house, with what it follows from.
pub struct Tracker<'a> {
    pub(crate) model: Model<'a>,
    pub(crate) seen: Vec<Seenness>,
    /// By breaker: how far its label is trusted, 0 to 1.
    pub(crate) trust: Vec<f64>,
    /// How much rarer or oftener than usual readings here are slips: natural logarithm.
    care: f64,
    /// By point and source (breakers, elsewhere, nothing): beforehand, and now.
    prior: Vec<f64>,
    posterior: Vec<f64>,
    /// By point: pairs of handles that may feed it where no single one does, the likeliest first.
    pairs: Vec<Vec<Pair>>,
    last_off: Option<Arc<OffSet>>,
    clock: Clock,
}

impl<'a> Tracker<'a> {
    /// Before any observation.
    pub fn blank(model: Model<'a>) -> Self {
        let (m, n) = (model.points.len(), model.breakers());
        let nothing = vec![0.0; n + 2];
        let seen = Seenness { log: nothing.clone(), read: nothing.clone(), slips: nothing, ..Seenness::default() };
        let seen = vec![seen; m];
        let mut tracker = Self {
            seen,
            trust: vec![0.0; n],
            care: 0.0,
            prior: vec![0.0; m * (n + 2)],
            posterior: vec![0.0; m * (n + 2)],
            pairs: vec![Vec::new(); m],
            last_off: None,
            clock: Clock::default(),
            model,
        };
        tracker.update();
        tracker
    }

    /// With all the evidence of a house.
    pub fn new(house: &'a crate::house::House) -> Self {
        let mut tracker = Self::blank(Model::new(house));
        let mut all: Vec<&Evidence> = house.evidence.iter().collect();
        all.sort_by_key(|e| (e.time, e.id));
        all.into_iter().for_each(|e| tracker.take(e));
        tracker.update();
        tracker
    }

    /// The house it is of.
    #[must_use]
    pub fn house(&self) -> &'a crate::house::House {
        self.model.house
    }

    /// An observation comes in.
    pub fn observe(&mut self, evidence: &Evidence) {
        self.take(evidence);
        self.update();
    }

    fn take(&mut self, evidence: &Evidence) {
        let Some(point) = self.model.point(evidence.point) else { return };
        if let Observation::Tried { cause, was_off, off } = &evidence.observation {
            self.tried(point, *cause, *was_off, off.is_some());
        }
        let power = match &evidence.observation {
            Observation::Power { off, seen, .. } => Some((self.off_set(off), *seen)),
            // Found lit, or dark still, whatever its switch does: a look like any other.
            Observation::Tried { was_off, off: Some(off), .. } => {
                Some((self.off_set(off), if *was_off { Seen::Live } else { Seen::Dead }))
            }
            _ => None,
        };
        if let Some((set, _)) = &power {
            self.clock.hear(evidence, point, self.model.room[point], &set.off);
        }
        let landed = evidence.landed().and_then(|at| self.model.net.index(at));
        let pointed = match &evidence.observation {
            Observation::Pointed { at } => self.model.net.index(*at),
            _ => None,
        };
        let dead = power.as_ref().map_or(&[][..], |(set, _)| &set.dead);
        let log: Vec<f64> = self.sources().map(|s| self.model.likelihood(evidence, dead, s).ln()).collect();
        let seen = &mut self.seen[point];
        if landed.is_some() {
            // Wired anew: what was seen before is of other wires.
            seen.looks.iter_mut().for_each(|l| l.void = true);
            seen.count_again();
        }
        seen.unsure += usize::from(matches!(power, Some((_, Seen::Unsure))));
        let (id, time) = (evidence.id, evidence.time);
        let how = match &evidence.observation {
            Observation::Power { how, .. } => Some(*how),
            _ => None,
        };
        let look = Look {
            id,
            time,
            power,
            how,
            pointed,
            landed,
            direct: is_direct(evidence),
            measured: is_rise(evidence),
            log,
            void: false,
        };
        seen.count(&look);
        seen.looks.push(look);
        self.doubt_ways(point);
    }

    /// Looks by ways that do not fit together count less, and another way is asked for.
    fn doubt_ways(&mut self, point: usize) {
        let n = self.model.breakers();
        let possible = |source: usize| source >= n || self.model.is_possible(point, source);
        // On two handles looks fit no single breaker, and nothing misleads.
        let two_handles = self.model.sort[point] == Sort::TwoPole;
        let misleading = if two_handles { Vec::new() } else { self.seen[point].disagreeing(possible) };
        let seen = &mut self.seen[point];
        if misleading != seen.misleading {
            seen.misleading = misleading;
            seen.count_again();
        }
        self.seen[point].another = self.another_way(point);
    }

    /// The other way by which a point is to be looked at, once, where looks by one way do not fit together. Something may mislead
    /// that way for good: a dimmer, a lamp that is loose, a worn contact.
    fn another_way(&self, point: usize) -> Option<Way> {
        let seen = &self.seen[point];
        let other = match (self.model.points[point].kind, seen.misleading.last()?) {
            (PointKind::Light, Way::Light) => Way::Lamp,
            (PointKind::Receptacle | PointKind::Other, Way::Tester) => Way::Meter,
            (PointKind::Receptacle | PointKind::Other, Way::Lamp | Way::Radio | Way::Meter) => Way::Tester,
            _ => return None,
        };
        let looked = seen.looks.iter().any(|l| !l.void && l.how == Some(other));
        (!looked).then_some(other)
    }

    /// How long work takes here, by the times of the answers; `walks` are seconds by two rooms, as assumed.
    pub fn tempo(&self, walks: &[f64]) -> Tempo {
        self.clock.tempo(|a, b| walks[a * self.model.rooms.len() + b])
    }

    /// What might hold a point off was tried: if it has power now, no dead look before tells anything.
    fn tried(&mut self, point: usize, cause: Tried, has_power: bool, with_known_handles: bool) {
        let mut freed = vec![point];
        if cause == Tried::Device {
            freed.extend(&self.model.behind_same[point]);
        }
        for p in freed.iter().copied() {
            let held_off = self.model.nothing[p];
            let seen = &mut self.seen[p];
            seen.tried = true;
            if has_power {
                let dark = |l: &Look| l.power.as_ref().is_some_and(|(_, seen)| *seen != Seen::Live);
                seen.looks.iter_mut().for_each(|l| l.void |= dark(l));
            } else if with_known_handles {
                seen.doubt_dark_looks(held_off);
            }
            seen.count_again();
        }
        for p in freed {
            self.doubt_ways(p);
        }
    }

    /// Breakers, then elsewhere, then nothing: the order of every row.
    pub fn sources(&self) -> impl Iterator<Item = Power> + use<> {
        (0..self.model.breakers()).map(Power::Breaker).chain([Power::Elsewhere, Power::Nothing])
    }

    fn off_set(&mut self, off: &std::collections::BTreeSet<crate::house::BreakerId>) -> Arc<OffSet> {
        let mut set =
            OffSet { off: vec![false; self.model.breakers()], dead: self.model.net.dead(off.iter().copied()) };
        for b in off.iter().filter_map(|id| self.model.net.index(*id)) {
            set.off[b] = true;
        }
        // Looks of one tour share their handles.
        match &self.last_off {
            Some(last) if **last == set => Arc::clone(last),
            _ => {
                let set = Arc::new(set);
                self.last_off = Some(Arc::clone(&set));
                set
            }
        }
    }

    fn width(&self) -> usize {
        self.model.breakers() + 2
    }

    /// The belief about a point: breakers, elsewhere, nothing.
    pub fn belief(&self, point: usize) -> &[f64] {
        let width = self.width();
        &self.posterior[point * width..(point + 1) * width]
    }

    /// What was believed of it before its own looks.
    pub fn before(&self, point: usize) -> &[f64] {
        let width = self.width();
        &self.prior[point * width..(point + 1) * width]
    }

    /// The likeliest breaker of a point.
    pub fn top(&self, point: usize) -> Option<(usize, f64)> {
        let breakers = self.belief(point)[..self.model.breakers()].iter().copied().enumerate();
        breakers.max_by(|a, b| a.1.total_cmp(&b.1)).filter(|(_, p)| *p > 0.0)
    }

    /// The likeliest source of a point, as its place in the row.
    pub fn likeliest(&self, point: usize) -> usize {
        let row = self.belief(point).iter().enumerate();
        row.max_by(|a, b| a.1.total_cmp(b.1)).map_or(0, |(s, _)| s)
    }

    /// What would be believed of a breaker beforehand without kin.
    pub fn alone(&self, point: usize, breaker: usize) -> f64 {
        let n = self.model.breakers();
        let weight = |b: usize| self.alone_weight(point * n + b);
        let total: f64 = (0..n).map(weight).sum();
        let (elsewhere, nothing) = self.none_before(point);
        if total > 0.0 { weight(breaker) / total * (1.0 - elsewhere - nothing) } else { 0.0 }
    }

    /// Pairs of handles that may feed a point together where no single one does, the likeliest first.
    pub fn pairs(&self, point: usize) -> &[Pair] {
        &self.pairs[point]
    }

    /// Probability that the point hangs on two handles, one of which is among these.
    pub fn paired_with(&self, point: usize, among: &[usize]) -> f64 {
        let with = |pair: &&Pair| pair.breakers.iter().any(|b| among.contains(b));
        self.pairs[point].iter().filter(with).map(|pair| pair.p).sum()
    }

    /// Probability that it hangs on two handles.
    pub fn on_two_handles(&self, point: usize) -> f64 {
        self.pairs[point].iter().map(|pair| pair.p).sum()
    }

    /// Probability that no breaker cuts the point.
    pub fn elsewhere(&self, point: usize) -> f64 {
        self.belief(point)[self.model.breakers()]
    }

    /// Probability that it has no power whatever is on.
    pub fn nothing(&self, point: usize) -> f64 {
        self.belief(point)[self.model.breakers() + 1]
    }

    /// So likely dead anyway that its switch or device is worth a try.
    pub fn may_be_held_off(&self, point: usize) -> bool {
        !self.seen[point].tried && self.nothing(point) > MAY_BE_HELD_OFF
    }

    /// What may feed the point is on: with it off a switch that is tried tells nothing.
    pub fn is_likely_on(&self, point: usize, dead: &[bool]) -> bool {
        let cut: f64 = self.belief(point).iter().zip(dead).filter(|(_, dead)| **dead).map(|(p, _)| p).sum();
        cut < MAY_BE_OFF
    }

    /// The same once it was seen dead, which had this chance.
    pub fn would_be_held_off(&self, point: usize, chance: f64) -> bool {
        !self.seen[point].tried && self.nothing(point) > NEARLY * MAY_BE_HELD_OFF * chance
    }

    /// How many times its kin make a breaker likelier for a point, where that is worth naming.
    pub fn neighbours_say(&self, point: usize, breaker: usize) -> Option<f64> {
        let alone = self.alone(point, breaker);
        let odds = self.before(point)[breaker] / alone;
        (alone > 0.0 && !(1.0 / NEIGHBOURS_SPEAK_FROM..NEIGHBOURS_SPEAK_FROM).contains(&odds)).then_some(odds)
    }

    /// What would be believed of a point without one of its looks.
    pub fn without(&self, point: usize, look: &Look) -> Vec<f64> {
        let log = self.log(point);
        let counted = self.seen[point].counted(look);
        let without: Vec<f64> = log.iter().zip(&counted).map(|(sum, l)| sum - l).collect();
        let mut row: Vec<f64> = relative(&without).iter().zip(self.before(point)).map(|(l, p)| l * p).collect();
        normalise(&mut row);
        row
    }

    /// How probable a look was before it came, given all that is believed without it.
    pub fn chance(&self, point: usize, look: &Look) -> f64 {
        self.without(point, look).iter().zip(&look.log).map(|(p, l)| p * l.exp()).sum()
    }

    fn none_before(&self, point: usize) -> (f64, f64) {
        (ELSEWHERE, self.model.nothing[point])
    }

    /// Works the beliefs out anew from the looks.
    fn update(&mut self) {
        let (m, n) = (self.model.points.len(), self.model.breakers());
        self.learn_care();
        let likelihood = self.likelihood();
        let own = self.heard(&self.alone_weights(), &likelihood);
        self.learn_labels(&own);
        let own = self.heard(&self.joined(&own), &likelihood);
        let mut weights = self.joined(&own);
        self.part_appliances(&mut weights, &own);
        let width = n + 2;
        for p in 0..m {
            let (elsewhere, nothing) = self.none_before(p);
            let row = &mut self.prior[p * width..(p + 1) * width];
            let total: f64 = weights[p * n..(p + 1) * n].iter().sum();
            let fed = if total > 0.0 { (1.0 - elsewhere - nothing) / total } else { 0.0 };
            row.iter_mut().zip(&weights[p * n..(p + 1) * n]).for_each(|(r, w)| *r = w * fed);
            let none = if total > 0.0 { 1.0 } else { elsewhere + nothing };
            row[n] = elsewhere / none;
            row[n + 1] = nothing / none;
        }
        for (after, (before, l)) in self.posterior.iter_mut().zip(self.prior.iter().zip(&likelihood)) {
            *after = before * l;
        }
        self.posterior.chunks_mut(width).for_each(normalise);
        self.pair_up();
    }

    /// Gives pairs of handles their share of what is believed of points that no single handle explains.
    fn pair_up(&mut self) {
        let width = self.width();
        for (p, seen) in self.seen.iter().enumerate() {
            self.pairs[p].clear();
            if self.model.sort[p] != Sort::TwoPole || self.model.pairs.is_empty() {
                continue;
            }
            let fits = pairs::fitting(&self.model.pairs, self.model.possible(p), seen);
            let Some((_, best)) = fits.first().copied() else { continue };
            let row = &mut self.posterior[p * width..(p + 1) * width];
            let before = &self.prior[p * width..(p + 1) * width];
            let single: f64 = before.iter().zip(&seen.log).map(|(p, log)| p * (log - best).exp()).sum();
            let has_poles = before[..width - 2].iter().any(|p| *p > 0.0);
            let beforehand = if has_poles { ON_TWO_HANDLES } else { WHERE_NONE_HAS_THE_POLES };
            let each = beforehand / self.model.pairs.len() as f64;
            let shares: Vec<f64> = fits.iter().map(|(_, log)| each * (log - best).exp()).collect();
            let total = single + shares.iter().sum::<f64>();
            row.iter_mut().for_each(|x| *x *= single / total);
            let of =
                |((breakers, _), share): (&([usize; 2], f64), &f64)| Pair { breakers: *breakers, p: share / total };
            self.pairs[p] = fits.iter().zip(&shares).map(of).collect();
        }
    }

    /// Weights without kin: poles, ratings, labels as far as trusted.
    fn alone_weights(&self) -> Vec<f64> {
        (0..self.model.rating.len()).map(|at| self.alone_weight(at)).collect()
    }

    fn alone_weight(&self, at: usize) -> f64 {
        let trust = self.trust[at % self.model.breakers()];
        self.model.rating[at] * ALONE * self.model.label[at].map_or(1.0, |fit| 1.0 + trust * (fit.odds - 1.0))
    }

    /// What each point that was looked at says, from these weights and its looks; nothing of the others.
    fn heard(&self, weights: &[f64], likelihood: &[f64]) -> Vec<f64> {
        let (n, width) = (self.model.breakers(), self.width());
        let mut heard = vec![0.0; weights.len()];
        for (p, seen) in self.seen.iter().enumerate() {
            if seen.looks.iter().all(|l| l.void) {
                continue;
            }
            let (elsewhere, nothing) = self.none_before(p);
            let (weights, likely) = (&weights[p * n..(p + 1) * n], &likelihood[p * width..(p + 1) * width]);
            let total: f64 = weights.iter().sum();
            let fed = if total > 0.0 { (1.0 - elsewhere - nothing) / total } else { 0.0 };
            let row = &mut heard[p * n..(p + 1) * n];
            for ((h, w), l) in row.iter_mut().zip(weights).zip(likely) {
                *h = w * fed * l;
            }
            let sum: f64 = row.iter().sum::<f64>() + elsewhere * likely[n] + nothing * likely[n + 1];
            if sum > 0.0 {
                row.iter_mut().for_each(|h| *h /= sum);
            }
        }
        heard
    }

    /// By source of a point: the logarithm of how probable all its looks are.
    fn log(&self, point: usize) -> Vec<f64> {
        let seen = &self.seen[point];
        seen.log.iter().zip(&seen.slips).map(|(log, slips)| log + self.care * slips).collect()
    }

    fn likelihood(&self) -> Vec<f64> {
        (0..self.seen.len()).flat_map(|p| relative(&self.log(p))).collect()
    }

    /// Readings are slips as often as those of this house have proved so far: those that do not fit whatever feeds the point. The
    /// first hundred tell nothing of that.
    fn learn_care(&mut self) {
        let least = |s: &Seenness| s.slips.iter().copied().fold(f64::INFINITY, f64::min);
        let slips: f64 = self.seen.iter().filter(|s| s.readings > 0).map(least).sum();
        let readings = self.seen.iter().map(|s| s.readings).sum::<usize>() as f64;
        let told = (readings - CARE_FROM).max(0.0);
        let rate = (CARE_PRIOR * USUAL_MISREAD + slips * told / readings.max(1.0)) / (CARE_PRIOR + told);
        self.care = (rate / USUAL_MISREAD).ln().clamp(CARE_LEAST.ln(), CARE_MOST.ln());
    }

    /// Weights with what kin says.
    fn joined(&self, own: &[f64]) -> Vec<f64> {
        let n = self.model.breakers();
        let kin = self.kin_weights(own);
        let mut weights = self.alone_weights();
        for p in 0..self.seen.len() {
            self.add_kin(p, &mut weights[p * n..(p + 1) * n], &kin, own);
        }
        weights
    }

    /// A label is trusted as those of the house have proved so far, and as its own points bear it out.
    fn learn_labels(&mut self, own: &[f64]) {
        let n = self.model.breakers();
        let mut log = vec![0.0; n];
        for (at, fit) in self.model.label.iter().enumerate() {
            let step = match fit {
                Some(fit) if fit.agrees > 0.5 => LABEL_STEP,
                Some(fit) if fit.agrees < 0.5 => -LABEL_STEP,
                _ => continue,
            };
            log[at % n] += step * own[at];
        }
        let told = |l: &f64| 1.0 / (1.0 + (-l.clamp(-TRUST_MOST, TRUST_MOST)).exp());
        // A label that nothing was found about is neither right nor wrong.
        let (mut right, mut wrong) = TRUST_PRIOR;
        for l in log.iter().filter(|l| l.abs() > LABEL_STEP / 2.0) {
            right += told(l);
            wrong += 1.0 - told(l);
        }
        let house = (right / wrong).ln();
        self.trust = log.iter().map(|l| told(&(house + l))).collect();
    }

    /// By room, sort and breaker: the weight that all kin believed there adds.
    fn kin_weights(&self, own: &[f64]) -> Vec<f64> {
        let (n, rooms) = (self.model.breakers(), self.model.rooms.len());
        let cells = 2 * rooms;
        let mut believed = vec![0.0; cells * n];
        for (p, row) in own.chunks(n.max(1)).enumerate().filter(|(p, _)| self.model.sort[*p].is_general()) {
            let cell = self.cell(p);
            believed[cell * n..(cell + 1) * n].iter_mut().zip(row).for_each(|(sum, o)| *sum += o);
        }
        let mut kin = vec![0.0; cells * n];
        for from in 0..cells {
            let row = &believed[from * n..(from + 1) * n];
            if row.iter().all(|o| *o == 0.0) {
                continue;
            }
            for to in 0..cells {
                let weight = self.model.rooms.weight(as_cell(from), as_cell(to));
                kin[to * n..(to + 1) * n].iter_mut().zip(row).for_each(|(sum, o)| *sum += weight * o);
            }
        }
        kin
    }

    fn cell(&self, point: usize) -> usize {
        2 * self.model.room[point] + usize::from(self.model.sort[point] == Sort::Outlet)
    }

    fn add_kin(&self, p: usize, weights: &mut [f64], kin: &[f64], own: &[f64]) {
        let n = weights.len();
        if !self.model.sort[p].is_general() {
            return;
        }
        let cell = self.cell(p);
        let same = self.model.rooms.weight(as_cell(cell), as_cell(cell));
        let half = self.model.half[p];
        let row = |q: usize| &own[q * n..(q + 1) * n];
        for b in 0..n {
            let rating = self.model.rating[p * n + b];
            let mut add = kin[cell * n + b] - same * row(p)[b];
            add -= half.map_or(0.0, |h| same * row(h)[b]);
            add += self.model.behind_same[p].iter().map(|q| SAME_DEVICE * row(*q)[b]).sum::<f64>();
            weights[b] += rating * add.max(0.0);
            weights[b] *= half.map_or(1.0, |h| 1.0 - OTHER_HALF * row(h)[b]);
        }
    }

    /// Appliances and things at 240 V tend to be alone on their breakers.
    fn part_appliances(&self, weights: &mut [f64], own: &[f64]) {
        let n = self.model.breakers();
        let (mut general, mut appliances, mut large) = (vec![0.0; n], vec![0.0; n], vec![0.0; n]);
        for (p, row) in own.chunks(n.max(1)).enumerate() {
            let sum = match self.model.sort[p] {
                Sort::Lighting | Sort::Outlet => &mut general,
                Sort::Appliance => &mut appliances,
                Sort::TwoPole => &mut large,
            };
            sum.iter_mut().zip(row).for_each(|(s, o)| *s += o);
        }
        for (p, row) in weights.chunks_mut(n.max(1)).enumerate() {
            for (b, w) in row.iter_mut().enumerate() {
                *w /= match self.model.sort[p] {
                    Sort::Lighting | Sort::Outlet => 1.0 + BESIDE_APPLIANCE * appliances[b],
                    Sort::Appliance => {
                        let others = appliances[b] - own[p * n + b];
                        1.0 + APPLIANCE_BESIDE_GENERAL * general[b] + APPLIANCE_BESIDE_APPLIANCE * others
                    }
                    Sort::TwoPole => 1.0 + BESIDE_TWO_POLE * (large[b] - own[p * n + b]),
                };
            }
        }
    }
}

fn as_cell(cell: usize) -> (usize, Sort) {
    (cell / 2, if cell.is_multiple_of(2) { Sort::Lighting } else { Sort::Outlet })
}

fn normalise(row: &mut [f64]) {
    let total: f64 = row.iter().sum();
    if total > 0.0 {
        row.iter_mut().for_each(|x| *x /= total);
    }
}

/// Likelihoods from logarithms, the largest as 1: hundreds of readings do not vanish to zero.
fn relative(log: &[f64]) -> Vec<f64> {
    let most = log.iter().copied().fold(f64::NEG_INFINITY, f64::max);
    log.iter().map(|l| (l - most).exp()).collect()
}
