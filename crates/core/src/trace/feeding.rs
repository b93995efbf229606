//! Breakers by index, and which of them lose power when others are switched off.

use std::collections::BTreeMap;

use crate::house::{Breaker, BreakerId, House};

/// The breakers of a house in a fixed order (by panel, then position), with who hangs below whom.
pub struct Feeding<'a> {
    pub breakers: Vec<&'a Breaker>,
    index: BTreeMap<BreakerId, usize>,
    /// For each breaker: itself and all breakers in panels fed through it.
    below: Vec<Vec<usize>>,
}

impl<'a> Feeding<'a> {
    pub fn new(house: &'a House) -> Self {
        let panels = house.panels_in_order();
        let breakers: Vec<_> = panels.iter().flat_map(|p| house.breakers_of(p.id)).collect();
        let index: BTreeMap<_, _> = breakers.iter().enumerate().map(|(i, b)| (b.id, i)).collect();
        let through = house.fed_through();
        let below = |b: &&Breaker| through[&b.id].iter().filter_map(|id| index.get(id).copied()).collect();
        let below = breakers.iter().map(below).collect();
        Self { breakers, index, below }
    }

    pub fn len(&self) -> usize {
        self.breakers.len()
    }

    pub fn index(&self, id: BreakerId) -> Option<usize> {
        self.index.get(&id).copied()
    }

    /// The breaker itself and those fed through it.
    pub fn below(&self, breaker: usize) -> &[usize] {
        &self.below[breaker]
    }

    pub fn feeds_a_panel(&self, breaker: usize) -> bool {
        self.below[breaker].len() > 1
    }

    /// Which breakers have no power behind them with these off.
    pub fn dead(&self, off: impl IntoIterator<Item = BreakerId>) -> Vec<bool> {
        let mut dead = vec![false; self.len()];
        for breaker in off.into_iter().filter_map(|id| self.index(id)) {
            for &b in self.below(breaker) {
                dead[b] = true;
            }
        }
        dead
    }
}
