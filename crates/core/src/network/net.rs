//! Nodal analysis of a linear network at one frequency.
//!
//! Kirchhoff's current law at every node, Ohm's law along every branch [def]. A source is an electromotive force in series
//! with its branch's impedance, so that every branch has an admittance and the matrix is one of nodes alone.

use nalgebra::{Complex, DMatrix, DVector};

use crate::base::units::{Amps, Ohms, Volts};

/// A place in a network; all that is joined without resistance is one.
#[derive(Debug, Clone, Copy, PartialEq, Eq, PartialOrd, Ord, Hash)]
pub struct Node(pub(super) usize);

/// The earth: what all voltages are told against until somebody asks between two other places.
pub const EARTH: Node = Node(0);

/// A branch of a network.
#[derive(Debug, Clone, Copy, PartialEq, Eq, PartialOrd, Ord, Hash)]
pub struct Branch(usize);

/// A complex quantity: its size, and its angle against the supply's first leg.
pub type Phasor = Complex<f64>;

/// A branch as it was made.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Made {
    /// Where it begins,
    pub from: Node,
    /// and ends.
    pub to: Node,
    /// Its impedance, in ohms; never nothing.
    pub impedance: Phasor,
    /// What raises its end above its beginning, in volts.
    pub force: Phasor,
}

/// What joins every place to the earth, in reciprocal ohms: insulation is never perfect (100 megohms), and a place that hangs in
/// the air has a voltage all the same, which no meter would find without this.
pub(super) const LEAKAGE: f64 = 1e-8;
/// The least that a branch resists, in ohms: a closed contact, a bar of copper. Smaller ones would drown the leakage in
/// the rounding of the numbers.
const LEAST: f64 = 1e-4;

/// A network under construction.
#[derive(Debug, Clone, PartialEq)]
pub struct Net {
    nodes: usize,
    branches: Vec<Made>,
}

impl Default for Net {
    fn default() -> Self {
        Self { nodes: 1, branches: Vec::new() }
    }
}

impl Net {
    /// A new place.
    pub fn node(&mut self) -> Node {
        self.nodes += 1;
        Node(self.nodes - 1)
    }

    /// Joins two places by an impedance in ohms.
    pub fn impedance(&mut self, from: Node, to: Node, impedance: Phasor) -> Branch {
        self.source(from, to, Phasor::default(), impedance)
    }

    /// Joins two places by a resistance.
    pub fn resistor(&mut self, from: Node, to: Node, resistance: Ohms) -> Branch {
        self.impedance(from, to, Phasor::new(resistance.0, 0.0))
    }

    /// A source that raises `to` above `from`, behind its own impedance in ohms.
    pub fn source(&mut self, from: Node, to: Node, force: Phasor, impedance: Phasor) -> Branch {
        let impedance = if impedance.norm() < LEAST { Phasor::new(LEAST, 0.0) } else { impedance };
        self.branches.push(Made { from, to, impedance, force });
        Branch(self.branches.len() - 1)
    }

    /// All branches in the order in which they were made.
    #[must_use]
    pub fn branches(&self) -> &[Made] {
        &self.branches
    }

    /// How many places there are, with the earth.
    #[must_use]
    pub fn places(&self) -> usize {
        self.nodes
    }

    /// All voltages and currents. Time grows with the third power of the places: about a millisecond for a hundred.
    #[must_use]
    pub fn solve(&self) -> Solved {
        let n = self.nodes - 1;
        let mut admittance = DMatrix::<Phasor>::zeros(n, n);
        let mut injected = DVector::<Phasor>::zeros(n);
        for i in 0..n {
            admittance[(i, i)] = Phasor::new(LEAKAGE, 0.0);
        }
        for branch in &self.branches {
            let y = branch.impedance.inv();
            let (a, b) = (branch.from.0.checked_sub(1), branch.to.0.checked_sub(1));
            for (here, there, sign) in [(a, b, -1.0), (b, a, 1.0)] {
                let Some(here) = here else { continue };
                admittance[(here, here)] += y;
                injected[here] += branch.force * y * sign;
                if let Some(there) = there {
                    admittance[(here, there)] -= y;
                }
            }
        }
        // The leakage alone makes every diagonal larger than its row: there is always a solution.
        let volts = admittance.lu().solve(&injected).unwrap_or_else(|| DVector::zeros(n));
        let at = |node: Node| node.0.checked_sub(1).map_or(Phasor::default(), |i| volts[i]);
        let amps = self.branches.iter().map(|b| (at(b.from) - at(b.to) + b.force) / b.impedance).collect();
        Solved { volts: std::iter::once(Phasor::default()).chain(volts.iter().copied()).collect(), amps }
    }
}

/// A network with its voltages and currents.
#[derive(Debug, Clone, PartialEq)]
pub struct Solved {
    volts: Vec<Phasor>,
    amps: Vec<Phasor>,
}

impl Solved {
    /// The voltage of a place above another.
    #[must_use]
    pub fn between(&self, a: Node, b: Node) -> Phasor {
        self.volts[a.0] - self.volts[b.0]
    }

    /// What a voltmeter between two places shows.
    #[must_use]
    pub fn volts(&self, a: Node, b: Node) -> Volts {
        Volts(self.between(a, b).norm())
    }

    /// The current of a branch, from its beginning to its end.
    #[must_use]
    pub fn current(&self, branch: Branch) -> Phasor {
        self.amps[branch.0]
    }

    /// All voltages above the earth, in the order of the places, and all currents, in that of the branches.
    #[must_use]
    pub fn all(&self) -> (&[Phasor], &[Phasor]) {
        (&self.volts, &self.amps)
    }

    /// What a clamp around it shows.
    #[must_use]
    pub fn amps(&self, branch: Branch) -> Amps {
        self.clamped(&[branch])
    }

    /// What a clamp around several conductors together shows, each taken in its own direction.
    #[must_use]
    pub fn clamped(&self, branches: &[Branch]) -> Amps {
        Amps(branches.iter().map(|b| self.current(*b)).sum::<Phasor>().norm())
    }
}
