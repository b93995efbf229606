//! What things draw, what runs together, what there is room for, and what meters are expected to show.

pub mod blame;
pub mod circuits;
pub mod cure;
pub mod drawing;
pub mod draws;
pub mod drop;
pub mod energy;
pub mod expect;
pub mod fit;
pub mod hung;
pub mod infrared;
pub mod legs;
pub mod misfit;
pub mod next;
pub mod rise;
pub mod round;
pub mod service;
pub mod suspect;
pub mod together;
pub mod turns;
pub mod uses;
pub mod week;

use std::sync::OnceLock;

use serde::Serialize;
use utoipa::ToSchema;

use crate::house::House;
use crate::trace::Beliefs;
use circuits::CircuitLoad;
use drawing::Drawing;
use draws::{Draw, Draws};
use hung::Hung;
use legs::PanelLegs;
use misfit::Misfit;

/// All loads: what they draw, what circuits and legs carry.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
pub struct Loads {
    /// Loads in the order of their points.
    pub loads: Vec<Draw>,
    /// Circuits by panel and position.
    pub circuits: Vec<CircuitLoad>,
    /// What comes into each panel.
    pub legs: Vec<PanelLegs>,
    /// Readings that do not fit, the worst first.
    pub misfits: Vec<Misfit>,
    /// Readings that say nothing of draws.
    pub unused: usize,
}

/// What is worked out of a house's loads, for all that reads them.
#[derive(Debug)]
pub struct Loaded<'a> {
    /// What hangs where.
    pub hung: Hung<'a>,
    /// What loads draw.
    pub draws: &'a Draws,
    /// Everything that draws.
    pub all: Vec<Drawing>,
    house: &'a House,
    circuits: OnceLock<Vec<CircuitLoad>>,
    legs: OnceLock<Vec<PanelLegs>>,
}

impl<'a> Loaded<'a> {
    /// Of a house, what is believed of it, and what its loads draw.
    #[must_use]
    pub fn new(house: &'a House, beliefs: &'a Beliefs, draws: &'a Draws) -> Self {
        let hung = Hung::new(house, beliefs);
        let all = drawing::everything(house, &hung, draws);
        Self { hung, draws, all, house, circuits: OnceLock::new(), legs: OnceLock::new() }
    }

    /// What each circuit carries, by panel and position; worked out once for all who ask.
    #[must_use]
    pub fn circuits(&self) -> &[CircuitLoad] {
        self.circuits.get_or_init(|| circuits::circuits(self.house, &self.hung, &self.all))
    }

    /// What comes into each panel; worked out once as well.
    #[must_use]
    pub fn legs(&self) -> &[PanelLegs] {
        self.legs.get_or_init(|| legs::legs(self.house, &self.all))
    }
}

/// What all loads, circuits and legs carry.
#[must_use]
pub fn loads(loaded: &Loaded<'_>) -> Loads {
    let draws = loaded.draws;
    Loads {
        circuits: loaded.circuits().to_vec(),
        legs: loaded.legs().to_vec(),
        loads: draws.loads.clone(),
        misfits: draws.misfits.clone(),
        unused: draws.unused,
    }
}

#[cfg(test)]
mod tests;
