//! The exact posterior of one point: prior times the likelihood of every observation, normalised.

use std::collections::BTreeSet;

use crate::house::{Evidence, House, Observation, Point};
use crate::position::Column;
use crate::trace::likelihood::{Misread, Source, pointing};
use crate::trace::network::Network;
use crate::trace::prior::{self, Hint, PointWords};
use crate::words::{Word, words};

/// Every source of a point with its probability; they sum to 1.
#[derive(Debug, Clone)]
pub struct Posterior {
    /// By breaker index; 0 where its poles rule it out.
    pub breakers: Vec<f64>,
    pub elsewhere: f64,
    pub nothing: f64,
}

impl Posterior {
    pub fn none(&self) -> f64 {
        self.elsewhere + self.nothing
    }

    /// The likeliest breaker.
    pub fn top(&self) -> Option<(usize, f64)> {
        let likeliest = self.breakers.iter().copied().enumerate().max_by(|a, b| a.1.total_cmp(&b.1));
        likeliest.filter(|(_, p)| *p > 0.0)
    }

    fn each(&self) -> impl Iterator<Item = (Source, f64)> + '_ {
        let breakers = self.breakers.iter().enumerate().map(|(i, p)| (Source::Breaker(i), *p));
        breakers.chain([(Source::Elsewhere, self.elsewhere), (Source::Nothing, self.nothing)])
    }
}

/// What all points of a house share: the network, and the labels read once.
pub struct Inference<'a> {
    pub house: &'a House,
    pub net: Network<'a>,
    labels: Vec<BTreeSet<Word>>,
    places: Vec<(Column, u16)>,
}

/// An observation with the consequences of its off-set worked out.
pub struct Looked<'a> {
    pub evidence: &'a Evidence,
    /// Which breakers had no power behind them.
    pub dead: Vec<bool>,
}

impl<'a> Inference<'a> {
    pub fn new(house: &'a House) -> Self {
        let net = Network::new(house);
        let labels = net.breakers.iter().map(|b| words(&b.label)).collect();
        let place = |b: &&crate::house::Breaker| {
            house.panels.get(b.panel).map_or((Column::Left, 0), |p| p.place(b.at[0].space))
        };
        let places = net.breakers.iter().map(place).collect();
        Self { house, net, labels, places }
    }

    /// Works out the evidence of a point, oldest first.
    pub fn looks(&self, evidence: &[&'a Evidence]) -> Vec<Looked<'a>> {
        let look = |e: &&'a Evidence| {
            let dead = match &e.observation {
                Observation::Power { off, .. } => self.net.dead(off.iter().copied()),
                Observation::Pointed { .. } => Vec::new(),
            };
            Looked { evidence: e, dead }
        };
        evidence.iter().map(look).collect()
    }

    /// What speaks beforehand for a breaker.
    pub fn hints(&self, point: &Point, breaker: usize) -> Option<Vec<Hint>> {
        prior::hints(&self.net, breaker, &self.labels[breaker], point, &PointWords::new(self.house, point))
    }

    /// The belief before any observation.
    pub fn prior(&self, point: &Point) -> Posterior {
        let said = PointWords::new(self.house, point);
        let odds = |b: usize| prior::hints(&self.net, b, &self.labels[b], point, &said);
        let weight = |b: usize| odds(b).map_or(0.0, |hints| hints.iter().map(|h| h.odds).product());
        let weights: Vec<f64> = (0..self.net.len()).map(weight).collect();
        let (elsewhere, nothing) = (prior::ELSEWHERE, prior::nothing(point.kind));
        let total: f64 = weights.iter().sum();
        if total <= 0.0 {
            // No breaker can feed it: all that is left is "none of these".
            let none = elsewhere + nothing;
            return Posterior { breakers: weights, elsewhere: elsewhere / none, nothing: nothing / none };
        }
        let share = (1.0 - elsewhere - nothing) / total;
        Posterior { breakers: weights.iter().map(|w| w * share).collect(), elsewhere, nothing }
    }

    /// Probability of an observation, given the source.
    pub fn likelihood(&self, look: &Looked<'_>, source: Source) -> f64 {
        match &look.evidence.observation {
            Observation::Power { seen, how, .. } => {
                let powered = match source {
                    Source::Breaker(b) => !look.dead[b],
                    Source::Elsewhere => true,
                    Source::Nothing => false,
                };
                Misread::of(*how).probability(*seen, powered)
            }
            Observation::Pointed { at } => self.net.index(*at).map_or(1.0, |at| {
                let place =
                    |b: &crate::house::Breaker| self.net.index(b.id).map_or((Column::Left, 0), |i| self.places[i]);
                pointing(&self.net.breakers, place, at, source)
            }),
        }
    }

    /// Bayes: the belief after these observations. Logarithms keep hundreds of readings from vanishing to zero.
    pub fn posterior(&self, prior: &Posterior, looks: &[Looked<'_>]) -> Posterior {
        let log = |(source, p): (Source, f64)| {
            p.ln() + looks.iter().map(|look| self.likelihood(look, source).ln()).sum::<f64>()
        };
        let logs: Vec<f64> = prior.each().map(log).collect();
        let most = logs.iter().copied().fold(f64::NEG_INFINITY, f64::max);
        let weights: Vec<f64> = logs.iter().map(|l| (l - most).exp()).collect();
        let total: f64 = weights.iter().sum();
        let n = self.net.len();
        Posterior {
            breakers: weights[..n].iter().map(|w| w / total).collect(),
            elsewhere: weights[n] / total,
            nothing: weights[n + 1] / total,
        }
    }

    /// How strongly a look speaks for a source against all others together, in bits.
    pub fn weight_bits(&self, prior: &Posterior, look: &Looked<'_>, source: Source) -> f64 {
        let (mut others, mut mass) = (0.0, 0.0);
        for (other, p) in prior.each().filter(|(s, _)| *s != source) {
            others += p * self.likelihood(look, other);
            mass += p;
        }
        if mass <= 0.0 || others <= 0.0 {
            return 0.0;
        }
        (self.likelihood(look, source) / (others / mass)).log2()
    }
}
