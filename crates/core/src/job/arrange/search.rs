//! The exact search: the fewest bodies first, by going deeper one body at a time; among those of that number all are weighed.
//!
//! A plan begins with the room that is wished for. Whatever stands where something is put has to move as well. Where legs
//! need not be even nothing else does: a body that nothing drives out could as well stay. So the first depth at which there
//! is any plan holds the best one, and at that depth every plan is looked at, but for those that cost more already. Where
//! legs are to be even a body may be lifted for that alone, and it goes deeper until they are as even as can be.

use super::board::{Board, Mask, Seat};

/// What a plan costs, the weightiest first (handbook 7).
#[derive(Debug, Clone, Copy, PartialEq, Eq, PartialOrd, Ord)]
pub struct MoveCost {
    /// What the legs are apart beyond what counts as even, in tenths of an ampere; nothing where that is not wished for.
    pub uneven: u32,
    /// Bodies that move.
    pub bodies: u32,
    /// Wires that are landed anew.
    pub wires: u32,
    /// Rows that they go.
    pub rows: u32,
    /// How far the legs are apart after, in tenths of an ampere.
    pub imbalance: u32,
}

/// Where everything stands after.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct Placement {
    /// For each body its seat.
    pub seats: Vec<Seat>,
    /// What it costs.
    pub cost: MoveCost,
}

/// What was found.
#[derive(Debug, Clone, PartialEq, Eq)]
pub enum SearchEnd {
    /// The best plan, proven, and another that is as good, where there is one.
    Best(Placement, Option<Placement>),
    /// The best that was seen before it was cut off.
    CutOff(Option<Placement>),
    /// There is none.
    Impossible,
}

/// Steps of the search before it is cut off: many more than any panel of the tests takes for room, about a second for legs.
pub const STEPS: u64 = 1_500_000;

/// Searches.
#[must_use]
pub fn search(board: &Board, steps: u64) -> SearchEnd {
    if board.is_too_full() {
        return SearchEnd::Impossible;
    }
    let mut search = Search::new(board, steps);
    let movable = board.bodies.iter().filter(|b| b.seat.is_some() && !b.fixed).count() as u32;
    let least = board.even.map_or(0, |even| board.least_imbalance().saturating_sub(even));
    for depth in 0..=movable {
        search.depth = depth;
        search.go(0);
        if search.left == 0 {
            return SearchEnd::CutOff(search.best);
        }
        if search.best.as_ref().is_some_and(|best| best.cost.uneven <= least) {
            break;
        }
    }
    search.best.map_or(SearchEnd::Impossible, |best| SearchEnd::Best(best, search.other))
}

/// How a body stands in a plan that is being made.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
enum Stand {
    /// Where it was.
    Still,
    /// It has to find a seat.
    Pending,
    /// It has one.
    Placed,
}

struct Search<'a> {
    board: &'a Board,
    /// For each body the seats that it could take.
    options: Vec<Vec<(Seat, Mask)>>,
    /// What each takes where it stands.
    own: Vec<Mask>,
    stand: Vec<Stand>,
    seats: Vec<Option<Seat>>,
    /// Half rows that are taken by what is placed.
    placed: Mask,
    wires: u32,
    rows: u32,
    moved: u32,
    depth: u32,
    left: u64,
    best: Option<Placement>,
    other: Option<Placement>,
}

impl<'a> Search<'a> {
    fn new(board: &'a Board, steps: u64) -> Self {
        let own: Vec<Mask> =
            board.bodies.iter().map(|b| b.seat.map_or_else(Mask::default, |s| Mask::of(s, b.height))).collect();
        let mut fixed = Mask::default();
        board.bodies.iter().zip(&own).filter(|(b, _)| b.fixed).for_each(|(_, mask)| fixed |= *mask);
        let options = board.bodies.iter().map(|body| {
            let seats = board.seats(body).into_iter().map(|seat| (seat, Mask::of(seat, body.height)));
            seats.filter(|(seat, mask)| Some(*seat) != body.seat && !mask.meets(fixed)).collect()
        });
        let wished = |b: &super::board::Body| if b.seat.is_none() { Stand::Pending } else { Stand::Still };
        Self {
            board,
            options: options.collect(),
            own,
            stand: board.bodies.iter().map(wished).collect(),
            seats: board.bodies.iter().map(|b| b.seat).collect(),
            placed: Mask::default(),
            wires: 0,
            rows: 0,
            moved: 0,
            depth: 0,
            left: steps,
            best: None,
            other: None,
        }
    }

    /// True where what is paid already is more than the best costs.
    fn is_dearer(&self) -> bool {
        let even = self.board.even.is_none();
        self.best.as_ref().is_some_and(|best| {
            let same = even || (best.cost.uneven == 0 && best.cost.bodies == self.depth);
            same && (self.wires, self.rows) > (best.cost.wires, best.cost.rows)
        })
    }

    /// Goes on; bodies before `from` are not lifted any more for the sake of the legs.
    fn go(&mut self, from: usize) {
        if self.left == 0 || self.is_dearer() {
            return;
        }
        self.left -= 1;
        // What is tallest has the fewest seats.
        let pending = (0..self.stand.len()).filter(|b| self.stand[*b] == Stand::Pending);
        match pending.max_by_key(|b| (self.board.bodies[*b].height, std::cmp::Reverse(*b))) {
            Some(body) => self.place(body, from),
            None => self.settle(from),
        }
    }

    fn place(&mut self, body: usize, from: usize) {
        let own = self.board.bodies[body].seat;
        for nth in 0..self.options[body].len() {
            let (seat, mask) = self.options[body][nth];
            if mask.meets(self.placed) {
                continue;
            }
            let driven: Vec<usize> =
                (0..self.stand.len()).filter(|b| self.stand[*b] == Stand::Still && self.own[*b].meets(mask)).collect();
            if self.moved + driven.len() as u32 > self.depth {
                continue;
            }
            let rows = own.map_or(0, |own| own.rows_to(seat));
            let placed = self.placed;
            (self.stand[body], self.seats[body]) = (Stand::Placed, Some(seat));
            self.placed |= mask;
            self.rows += rows;
            driven.iter().for_each(|b| self.drive(*b));
            self.go(from);
            driven.iter().for_each(|b| self.let_stay(*b));
            self.rows -= rows;
            self.placed = placed;
            (self.stand[body], self.seats[body]) = (Stand::Pending, own);
        }
    }

    fn drive(&mut self, body: usize) {
        self.stand[body] = Stand::Pending;
        self.moved += 1;
        self.wires += self.board.bodies[body].wires;
    }

    fn let_stay(&mut self, body: usize) {
        self.stand[body] = Stand::Still;
        self.moved -= 1;
        self.wires -= self.board.bodies[body].wires;
    }

    /// All have a seat: where two that share a neutral have come onto one leg, the one that stayed has to move too.
    fn settle(&mut self, from: usize) {
        let leg = |s: &Self, (body, pole): (usize, usize)| s.seats[body].map(|seat| s.board.leg(body, pole, seat));
        let wrong = self.board.apart.iter().find(|pair| {
            let stayed = pair.iter().all(|(body, _)| self.stand[*body] == Stand::Still);
            !stayed && leg(self, pair[0]) == leg(self, pair[1])
        });
        if let Some(pair) = wrong {
            let still = pair.iter().map(|(body, _)| *body).find(|b| self.stand[*b] == Stand::Still);
            if let Some(body) = still.filter(|b| !self.board.bodies[*b].fixed && self.moved < self.depth) {
                self.lift(body, from);
            }
            return;
        }
        if self.moved == self.depth {
            self.keep();
        } else if self.board.even.is_some() {
            let may = |b: &usize| self.stand[*b] == Stand::Still && !self.board.bodies[*b].fixed;
            let liftable: Vec<usize> = (from..self.stand.len()).filter(may).collect();
            liftable.into_iter().for_each(|body| self.lift(body, body + 1));
        }
    }

    /// Goes on without a body where it stands.
    fn lift(&mut self, body: usize, from: usize) {
        self.drive(body);
        self.go(from);
        self.let_stay(body);
    }

    fn keep(&mut self) {
        let imbalance = self.board.imbalance(&self.seats);
        let uneven = self.board.even.map_or(0, |even| imbalance.saturating_sub(even));
        let cost = MoveCost { uneven, bodies: self.moved, wires: self.wires, rows: self.rows, imbalance };
        let Some(seats) = self.seats.iter().copied().collect::<Option<Vec<Seat>>>() else { return };
        let plan = Placement { seats, cost };
        match &self.best {
            Some(best) if best.cost < cost => {}
            // Chains and rings of moves are come by from several of their ends.
            Some(best) if best.seats == plan.seats => {}
            Some(best) if best.cost == cost => self.other = self.other.take().or(Some(plan)),
            _ => (self.best, self.other) = (Some(plan), None),
        }
    }
}
