//! The wire of a new circuit or feeder. (handbook 1.4, 3.6)

use crate::base::units::{Amps, Feet, Gauge, Metal, NominalVolts};
use crate::code::volts::BRANCH_DROP;
use crate::code::{self, AmpacityColumn, resistance};

/// Sizes that circuits and feeders are made of, the thinnest first.
const GAUGES: &[i8] = &[14, 12, 10, 8, 6, 4, 3, 2, 1, 0, -1, -2, -3];

/// What a wire is for.
#[derive(Debug, Clone, Copy, PartialEq)]
pub(super) struct WireRun {
    pub metal: Metal,
    /// It carries at least this,
    pub carries: Amps,
    /// behind a breaker of this rating.
    pub breaker: Amps,
    /// What flows over its length,
    pub drawn: Amps,
    /// at these volts,
    pub volts: NominalVolts,
    /// so far one way, where known.
    pub length: Option<Feet>,
}

impl WireRun {
    /// The thinnest wire that carries it, and the one that loses little enough over its length.
    pub(super) fn wires(&self) -> Option<(Gauge, Gauge)> {
        let carries = |gauge: &Gauge| {
            let column = AmpacityColumn::C60;
            code::ampacity(*gauge, self.metal, column).is_some_and(|carried| carried.0 >= self.carries.0)
                && code::largest_breaker(*gauge, self.metal, column).is_some_and(|most| most.0 >= self.breaker.0)
        };
        let sizes = || GAUGES.iter().filter_map(|n| Gauge::new(*n)).filter(carries);
        let thinnest = sizes().next()?;
        Some((thinnest, sizes().find(|gauge| self.lost(*gauge) <= BRANCH_DROP).unwrap_or(thinnest)))
    }

    /// The share of the voltage that a wire loses; none where the length is not known.
    pub(super) fn lost(&self, wire: Gauge) -> f64 {
        let volts = f64::from(u16::from(self.volts));
        self.length.map_or(0.0, |length| 2.0 * self.drawn.0 * resistance::of_wire(wire, self.metal, length).0 / volts)
    }
}
