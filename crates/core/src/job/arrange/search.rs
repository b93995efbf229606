//! The exact search: the fewest bodies first, by going deeper one body at a time; among those of that number all are weighed.
//!
//! A plan begins with the room that is wished for. Whatever stands where something is put has to move as well. Where legs
//! need not be even nothing else does: a body that nothing drives out could as well stay. So the first depth at which there
//! is any plan holds the best one, and at that depth every plan is looked at, but for those that cost more already. Where
//! legs are to be even a body may be lifted for that alone, and it goes deeper until they are as even as can be.
//!
//! Where more than moving may be done ([`Acts`](super::board::Acts)), what is driven out may go onto the breaker of another one,
//! into a half-size body together with others, or away, where nothing hangs on it: each body that comes out counts one.

use super::board::{Board, Body, Mask, Merge, Seat};

/// What a plan costs, the weightiest first (handbook 7).
#[derive(Debug, Clone, Copy, PartialEq, Eq, PartialOrd, Ord)]
pub struct MoveCost {
    /// What the legs are apart beyond what counts as even, in tenths of an ampere; nothing where that is not wished for.
    pub uneven: u32,
    /// Bodies that move.
    pub bodies: u32,
    /// Wires that are landed anew.
    pub wires: u32,
    /// What is to be bought, weighed by [`JOIN`], [`OVER`], [`TANDEM`] and [`QUAD`].
    pub parts: u32,
    /// Rows that they go.
    pub rows: u32,
    /// How far the legs are apart after, in tenths of an ampere.
    pub imbalance: u32,
}

/// A connector and a piece of wire, against
pub const JOIN: u32 = 1;
/// a breaker for another panel,
pub const OVER: u32 = 3;
/// a body of two breakers, and
pub const TANDEM: u32 = 4;
/// one of four: an order of what is dearer, no price (common practice).
pub const QUAD: u32 = 6;

/// What becomes of a body.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum End {
    /// It stands there.
    At(Seat),
    /// Its circuit is on the breaker of this one.
    Joined(usize),
    /// It is part of a half-size body there.
    Merged(usize, Seat),
    /// It is gone.
    Out,
    /// Its circuit is in another panel.
    Over,
}

impl End {
    /// Where it stands as what it was.
    #[must_use]
    pub fn seat(self) -> Option<Seat> {
        if let Self::At(seat) = self { Some(seat) } else { None }
    }
}

/// Where everything stands after.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct Placement {
    /// For each body what becomes of it.
    pub ends: Vec<End>,
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
    let only_moves = board.acts.is_none();
    if only_moves && board.is_too_full() {
        return SearchEnd::Impossible;
    }
    let mut search = Search::new(board, steps);
    let movable = board.bodies.iter().filter(|b| b.seat.is_some() && !b.fixed).count() as u32;
    let movable = if only_moves { movable } else { movable.min(MOST_WITH_ACTS) };
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

/// Where more is done than moving, a plan takes so many bodies in hand at the most: more is a panel made anew.
pub const MOST_WITH_ACTS: u32 = 8;

/// How a body stands in a plan that is being made.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
enum Stand {
    /// Where it was.
    Still,
    /// It has to find a seat.
    Pending,
    /// It has one.
    Placed,
    /// It is what it was no more.
    Gone,
}

/// A seat that may be taken.
#[derive(Debug, Clone, Copy)]
struct SeatOption {
    seat: Seat,
    mask: Mask,
    /// Rows to it, for all that goes there.
    rows: u32,
}

/// Parts of a row: what two or three bodies save together is theirs in equal shares.
const PARTS: u32 = 6;

struct Search<'a> {
    board: &'a Board,
    /// For each body the seats that it could take, the nearest first.
    options: Vec<Vec<SeatOption>>,
    /// For each half row of the left and of the right column the bodies that stand there.
    standing: [Vec<Vec<usize>>; 2],
    /// The same for what takes the place of others.
    merged: Vec<Vec<SeatOption>>,
    /// For each body what takes its place together with that of others, and onto which others it may be joined.
    merges_of: Vec<Vec<usize>>,
    joins_of: Vec<Vec<usize>>,
    /// Rows that are missing.
    missing: u32,
    /// The most that each body may make good, in parts of a row,
    gain: Vec<u32>,
    /// and the most of all that may move; the most that one act may make good, in rows.
    most_gain: u32,
    most_saved: u32,
    /// The fewest wires on a body that may move.
    least_wires: u32,
    stand: Vec<Stand>,
    /// Those that have to find a seat, and the most that acts of theirs may make good, in parts of a row.
    pending: Vec<usize>,
    pending_gain: u32,
    /// Bodies that were driven out on the way here, the latest last.
    driven: Vec<usize>,
    ends: Vec<Option<End>>,
    /// Bodies that another one was joined to: they stay.
    kept: Vec<bool>,
    /// Half rows that are taken by what is placed.
    placed: Mask,
    wires: u32,
    parts: u32,
    rows: u32,
    moved: u32,
    acts: u32,
    /// Rows that acts have made good.
    saved: u32,
    depth: u32,
    left: u64,
    best: Option<Placement>,
    other: Option<Placement>,
}

impl<'a> Search<'a> {
    fn new(board: &'a Board, steps: u64) -> Self {
        let mut fixed = Mask::default();
        let mut standing = board.half_rows.map(|rows| vec![Vec::new(); usize::from(rows)]);
        for (nth, body) in board.bodies.iter().enumerate() {
            let Some(seat) = body.seat else { continue };
            // What stands in two columns at once may reach further down than the one that it is counted in.
            let rows = standing[usize::from(seat.right)].iter_mut().skip(usize::from(seat.top));
            rows.take(usize::from(body.height)).for_each(|at| at.push(nth));
            if body.fixed {
                fixed |= Mask::of(seat, body.height);
            }
        }
        let near_first = |seats: Vec<Seat>, height: u8, from: &[usize]| {
            let way = |seat: Seat| from.iter().filter_map(|b| Some(board.bodies[*b].seat?.rows_to(seat))).sum();
            let options =
                seats.into_iter().map(|seat| SeatOption { seat, mask: Mask::of(seat, height), rows: way(seat) });
            let mut options: Vec<SeatOption> = options.filter(|o| !o.mask.meets(fixed)).collect();
            options.sort_by_key(|o| o.rows);
            options
        };
        let options = board.bodies.iter().enumerate().map(|(nth, body)| {
            let mut options = near_first(board.seats(body), body.height, &[nth]);
            options.retain(|o| Some(o.seat) != body.seat);
            options
        });
        let merges = &board.acts.merges;
        let merged = merges.iter().map(|m| near_first(board.seats_of(m), m.height, &m.bodies));
        let merges_of = |b: usize| (0..merges.len()).filter(|m| merges[*m].bodies.contains(&b)).collect();
        let gain = gains(board);
        let movable = || (0..board.bodies.len()).filter(|b| board.bodies[*b].seat.is_some() && !board.bodies[*b].fixed);
        let alone = board.acts.alone().map(|b| board.bodies[b].rows());
        let joins_of =
            |b: usize| board.acts.joins.iter().filter(|[gone, _]| *gone == b).map(|[_, keep]| *keep).collect();
        let wished = |b: &Body| if b.seat.is_none() { Stand::Pending } else { Stand::Still };
        let all = 0..board.bodies.len();
        Self {
            board,
            options: options.collect(),
            standing,
            merged: merged.collect(),
            merges_of: all.clone().map(merges_of).collect(),
            joins_of: all.clone().map(joins_of).collect(),
            // Two of half a row may come to share one by moving alone.
            missing: if board.bodies.iter().any(|b| b.height == 1) { 0 } else { board.rows_missing() },
            most_gain: movable().map(|b| gain[b]).max().unwrap_or(0),
            most_saved: alone.chain(merges.iter().map(|m| saved(board, m))).max().unwrap_or(0),
            least_wires: movable().map(|b| board.bodies[b].wires).min().unwrap_or(0),
            gain,
            stand: board.bodies.iter().map(wished).collect(),
            pending: all.filter(|b| board.bodies[*b].seat.is_none()).collect(),
            pending_gain: 0,
            driven: Vec::new(),
            ends: board.bodies.iter().map(|b| b.seat.map(End::At)).collect(),
            kept: vec![false; board.bodies.len()],
            placed: Mask::default(),
            wires: 0,
            parts: 0,
            rows: 0,
            moved: 0,
            acts: 0,
            saved: 0,
            depth: 0,
            left: steps,
            best: None,
            other: None,
        }
    }

    /// True where what is paid already, so much more, and the least for bodies that are still to be taken in hand come to more than
    /// the best costs.
    fn is_dearer(&self, parts: u32, rows: u32) -> bool {
        let even = self.board.even.is_none();
        self.best.as_ref().is_some_and(|best| {
            let same = even || (best.cost.uneven == 0 && best.cost.bodies == self.depth);
            let wires = self.wires + (self.depth - self.moved) * self.least_wires;
            let paid = (wires, self.parts + parts, self.rows + rows);
            same && paid > (best.cost.wires, best.cost.parts, best.cost.rows)
        })
    }

    /// True where acts cannot make good any more what is missing.
    fn is_too_little(&self) -> bool {
        let short = self.missing.saturating_sub(self.saved);
        if short == 0 {
            return false;
        }
        PARTS * short > self.pending_gain + (self.depth - self.moved) * self.most_gain
            || short > (self.board.acts.most - self.acts) * self.most_saved
    }

    /// Goes on; bodies before `from` are not lifted any more for the sake of the legs.
    fn go(&mut self, from: usize) {
        if self.left == 0 || self.is_dearer(0, 0) || self.is_too_little() {
            return;
        }
        self.left -= 1;
        // What is tallest has the fewest seats.
        match self.pending.iter().copied().max_by_key(|b| (self.board.bodies[*b].height, std::cmp::Reverse(*b))) {
            Some(body) => {
                self.place(body, from);
                if self.board.bodies[body].seat.is_some() && self.acts < self.board.acts.most {
                    self.act(body, from);
                }
            }
            None => self.settle(from),
        }
    }

    fn place(&mut self, body: usize, from: usize) {
        let before = self.ends[body];
        self.stands(body, Stand::Placed);
        for nth in 0..self.options[body].len() {
            let option = self.options[body][nth];
            if self.is_dearer(0, option.rows) {
                break;
            }
            self.ends[body] = Some(End::At(option.seat));
            self.take(option, self.board.bodies[body].height, from);
        }
        self.stands(body, Stand::Pending);
        self.ends[body] = before;
    }

    /// A body stands otherwise from now on.
    fn stands(&mut self, body: usize, stand: Stand) {
        let was = std::mem::replace(&mut self.stand[body], stand);
        if was == Stand::Pending {
            self.pending.retain(|b| *b != body);
            self.pending_gain -= self.gain[body];
        }
        if stand == Stand::Pending {
            self.pending.push(body);
            self.pending_gain += self.gain[body];
        }
    }

    /// Goes on with some half rows taken, where that can be: what stands there still is driven out.
    fn take(&mut self, SeatOption { seat, mask, rows }: SeatOption, height: u8, from: usize) {
        if mask.meets(self.placed) {
            return;
        }
        let before = self.driven.len();
        for at in &self.standing[usize::from(seat.right)][seat.rows(height)] {
            for body in at {
                if self.stand[*body] == Stand::Still && !self.driven[before..].contains(body) {
                    self.driven.push(*body);
                }
            }
        }
        let driven = before..self.driven.len();
        if self.moved + driven.len() as u32 <= self.depth {
            let placed = self.placed;
            self.placed |= mask;
            self.rows += rows;
            driven.clone().for_each(|nth| self.drive(self.driven[nth]));
            self.go(from);
            driven.for_each(|nth| self.let_stay(self.driven[nth]));
            self.rows -= rows;
            self.placed = placed;
        }
        self.driven.truncate(before);
    }

    /// What may become of a body that was driven out, beside moving.
    fn act(&mut self, body: usize, from: usize) {
        if self.kept[body] {
            return;
        }
        let board = self.board;
        let (own, rows) = (board.bodies[body].seat, board.bodies[body].rows());
        self.acts += 1;
        if board.acts.idle.contains(&body) {
            self.turn(&[body], End::Out, (rows, 0), |s| s.go(from));
        }
        if board.acts.over.contains(&body) {
            self.turn(&[body], End::Over, (rows, OVER), |s| s.go(from));
        }
        for nth in 0..self.joins_of[body].len() {
            let keep = self.joins_of[body][nth];
            if self.stand[keep] != Stand::Gone && !self.kept[keep] {
                let way = own.zip(board.bodies[keep].seat).map_or(0, |(own, other)| own.rows_to(other));
                self.kept[keep] = true;
                self.rows += way;
                self.turn(&[body], End::Joined(keep), (rows, JOIN), |s| s.go(from));
                self.rows -= way;
                self.kept[keep] = false;
            }
        }
        for of_body in 0..self.merges_of[body].len() {
            let nth = self.merges_of[body][of_body];
            let merge = &board.acts.merges[nth];
            let is_still = |b: &usize| self.stand[*b] == Stand::Still;
            let may = |b: &usize| matches!(self.stand[*b], Stand::Still | Stand::Pending) && !self.kept[*b];
            let more = merge.bodies.iter().filter(|b| is_still(b)).count() as u32;
            if !merge.bodies.iter().all(may) || self.moved + more > self.depth {
                continue;
            }
            let still: Vec<usize> = merge.bodies.iter().copied().filter(is_still).collect();
            still.iter().for_each(|b| self.drive(*b));
            self.merge(nth, from);
            still.iter().for_each(|b| self.let_stay(*b));
        }
        self.acts -= 1;
    }

    /// Puts a half-size body in the place of others.
    fn merge(&mut self, nth: usize, from: usize) {
        let board = self.board;
        let merge = &board.acts.merges[nth];
        let (saved, parts) = (saved(board, merge), if merge.height > 2 { QUAD } else { TANDEM });
        for option in 0..self.merged[nth].len() {
            let option = self.merged[nth][option];
            if self.is_dearer(parts, option.rows) {
                break;
            }
            if option.mask.meets(self.placed) {
                continue;
            }
            let end = End::Merged(nth, option.seat);
            self.turn(&merge.bodies, end, (saved, parts), |s| s.take(option, merge.height, from));
        }
    }

    /// Goes on with bodies that are no more what they were: so many rows are saved, and so much is bought.
    fn turn(&mut self, bodies: &[usize], end: End, (saved, parts): (u32, u32), on: impl FnOnce(&mut Self)) {
        let before: Vec<_> = bodies.iter().map(|b| (self.stand[*b], self.ends[*b])).collect();
        for body in bodies {
            self.stands(*body, Stand::Gone);
            self.ends[*body] = Some(end);
        }
        self.saved += saved;
        self.parts += parts;
        on(self);
        self.parts -= parts;
        self.saved -= saved;
        for (body, (stand, end)) in bodies.iter().zip(before) {
            self.stands(*body, stand);
            self.ends[*body] = end;
        }
    }

    fn drive(&mut self, body: usize) {
        self.stands(body, Stand::Pending);
        self.moved += 1;
        self.wires += self.board.bodies[body].wires;
    }

    fn let_stay(&mut self, body: usize) {
        self.stands(body, Stand::Still);
        self.moved -= 1;
        self.wires -= self.board.bodies[body].wires;
    }

    /// All have a seat: where two that share a neutral have come onto one leg, the one that stayed has to move too.
    fn settle(&mut self, from: usize) {
        let leg = |s: &Self, (body, pole): (usize, usize)| {
            s.ends[body].and_then(End::seat).map(|seat| s.board.leg(body, pole, seat))
        };
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
            if self.acts >= self.board.acts.least {
                self.keep();
            }
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
        let Some(ends) = self.ends.iter().copied().collect::<Option<Vec<End>>>() else { return };
        let imbalance = self.board.imbalance(loads(self.board, &ends));
        let uneven = self.board.even.map_or(0, |even| imbalance.saturating_sub(even));
        let Self { moved: bodies, wires, parts, rows, .. } = *self;
        let plan = Placement { ends, cost: MoveCost { uneven, bodies, wires, parts, rows, imbalance } };
        match &self.best {
            Some(best) if best.cost < plan.cost => {}
            // Chains and rings of moves are come by from several of their ends.
            Some(best) if best.ends == plan.ends => {}
            Some(best) if best.cost == plan.cost => self.other = self.other.take().or(Some(plan)),
            _ => (self.best, self.other) = (Some(plan), None),
        }
    }
}

/// Rows that a half-size body in place of several saves.
fn saved(board: &Board, merge: &Merge) -> u32 {
    let before: u32 = merge.bodies.iter().map(|b| board.bodies[*b].rows()).sum();
    before.saturating_sub(u32::from(merge.height / 2))
}

/// The most that each body may make good by an act, in parts of a row. Moving alone makes good nothing.
fn gains(board: &Board) -> Vec<u32> {
    let mut gains = vec![0; board.bodies.len()];
    for body in board.acts.alone() {
        gains[body] = PARTS * board.bodies[body].rows();
    }
    for merge in &board.acts.merges {
        let each = (PARTS * saved(board, merge)).div_ceil(merge.bodies.len() as u32);
        merge.bodies.iter().for_each(|b| gains[*b] = gains[*b].max(each));
    }
    gains
}

/// What each leg gets from each body, as it ends.
fn loads<'a>(board: &'a Board, ends: &'a [End]) -> impl Iterator<Item = (u8, u32)> + 'a {
    let of = move |body: usize| {
        let poles = &board.bodies[body].poles;
        match ends[body] {
            End::At(seat) => board.at(poles, seat).collect::<Vec<_>>(),
            End::Joined(keep) => {
                let leg = ends[keep].seat().map(|seat| board.leg(keep, 0, seat));
                poles.iter().filter_map(|pole| Some((leg?, pole.load))).collect()
            }
            End::Merged(nth, seat) if board.acts.merges[nth].bodies[0] == body => {
                board.at(&board.acts.merges[nth].poles, seat).collect()
            }
            End::Merged(..) | End::Out | End::Over => Vec::new(),
        }
    };
    (0..ends.len()).flat_map(of)
}
