//! What has been seen of a point: looks, and what follows from each.

use std::sync::Arc;

use jiff::Timestamp;

use crate::house::{EvidenceId, Seen, Way};
use crate::trace::likelihood;

/// Handles off, as both the proof and the likelihood need them.
#[derive(Debug, PartialEq, Eq)]
pub struct OffSet {
    /// By breaker: its own handle is off.
    pub off: Vec<bool>,
    /// By breaker: no power behind it.
    pub dead: Vec<bool>,
}

/// A look at a point, with what follows from it.
#[derive(Debug, Clone)]
pub struct Look {
    pub id: EvidenceId,
    /// When: it speaks of the breakers that stood there then.
    pub time: Timestamp,
    /// For a look at the power: the handles, and what was seen.
    pub power: Option<(Arc<OffSet>, Seen)>,
    /// With what it was looked at.
    pub how: Option<Way>,
    pub pointed: Option<usize>,
    /// The breaker on which work has landed it.
    pub landed: Option<usize>,
    /// Somebody's own clear reading.
    pub direct: bool,
    /// A rise that a clamp showed.
    pub measured: bool,
    /// By source: the logarithm of its probability.
    pub log: Vec<f64>,
    /// Something held the point off at the time: it tells nothing.
    pub void: bool,
}

/// What has been seen of one point.
#[derive(Debug, Clone, Default)]
pub struct Seenness {
    pub looks: Vec<Look>,
    /// By source: the sum of the looks that count,
    pub log: Vec<f64>,
    /// and of those among them that are no hearsay.
    pub read: Vec<f64>,
    /// By source: how many readings would be slips if it fed the point,
    pub slips: Vec<f64>,
    /// of so many.
    pub readings: usize,
    /// Times that nobody could tell.
    pub unsure: usize,
    /// What might hold it off was tried since.
    pub tried: bool,
    /// The ways by which looks here do not fit together,
    pub misleading: Vec<Way>,
    /// and how it is looked at next therefore.
    pub another: Option<Way>,
}

impl Seenness {
    pub(super) fn count(&mut self, look: &Look) {
        let counted = self.counted(look);
        let add = |sums: &mut [f64]| sums.iter_mut().zip(&counted).for_each(|(sum, l)| *sum += l);
        add(&mut self.log);
        if look.direct && look.power.is_some() && !self.misleads(look) {
            self.readings += 1;
            self.slips.iter_mut().zip(&look.log).for_each(|(n, l)| *n += f64::from(l.exp() < likelihood::ODD));
        }
        if look.direct || look.power.is_none() {
            add(&mut self.read);
        }
    }

    fn misleads(&self, look: &Look) -> bool {
        look.how.is_some_and(|how| self.misleading.contains(&how))
    }

    /// By source: the logarithm of a look's probability as it counts, after what else was seen here.
    pub fn counted(&self, look: &Look) -> Vec<f64> {
        let misleads = self.misleads(look);
        let count = |l: &f64| if misleads { likelihood::may_mislead(l.exp()).ln() } else { *l };
        look.log.iter().map(count).collect()
    }

    /// The ways by which looks do not fit together: no source makes all of them what was to be expected.
    pub(super) fn disagreeing(&self, possible: impl Fn(usize) -> bool) -> Vec<Way> {
        let told = || self.looks.iter().filter(|l| !l.void && l.direct);
        let sum = |source: usize| told().map(|l| l.log[source]).sum::<f64>();
        let best = (0..self.log.len()).filter(|s| possible(*s)).max_by(|a, b| sum(*a).total_cmp(&sum(*b)));
        let odd = |l: &&Look| best.is_some_and(|best| l.log[best].exp() < likelihood::ODD);
        let mut ways = Vec::new();
        for how in told().filter(odd).filter_map(|l| l.how) {
            if !ways.contains(&how) {
                ways.push(how);
            }
        }
        ways
    }

    /// Sums all looks up anew.
    pub(super) fn count_again(&mut self) {
        self.log.fill(0.0);
        self.read.fill(0.0);
        self.slips.fill(0.0);
        self.readings = 0;
        let looks = std::mem::take(&mut self.looks);
        looks.iter().filter(|l| !l.void).for_each(|look| self.count(look));
        self.looks = looks;
    }

    /// It was dark still when what may hold it off was tried: how long that had been off nobody knows, so no dead look before may
    /// say more than that together, nor prove anything. The try leaves it on.
    pub(super) fn doubt_dark_looks(&mut self, held_off: f64) {
        let dark = |l: &&mut Look| !l.void && l.power.as_ref().is_some_and(|(_, seen)| *seen == Seen::Dead);
        let share = held_off.ln() / self.looks.iter_mut().filter(dark).count().max(1) as f64;
        for look in self.looks.iter_mut().filter(dark) {
            look.direct = false;
            look.log.iter_mut().for_each(|l| *l = l.max(share));
        }
    }
}
