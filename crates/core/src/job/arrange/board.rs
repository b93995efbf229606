//! A panel as seats and bodies: integers alone, so that costs are exact.

use std::ops::{BitAnd, BitOr, BitOrAssign, Range};

/// Half rows of a panel: those of the left column, and those of the right one.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Default)]
pub struct Mask([u128; 2]);

impl Mask {
    /// Some half rows of a column.
    #[must_use]
    pub fn of(seat: Seat, height: u8) -> Self {
        let mut columns = [0; 2];
        columns[usize::from(seat.right)] = ((1_u128 << height) - 1) << seat.top;
        Self(columns)
    }

    /// True where both have a half row.
    #[must_use]
    pub fn meets(self, other: Self) -> bool {
        self & other != Self::default()
    }

    /// True where the other one has all of these.
    #[must_use]
    pub fn is_within(self, other: Self) -> bool {
        self & other == self
    }
}

impl BitAnd for Mask {
    type Output = Self;

    fn bitand(self, other: Self) -> Self {
        Self([self.0[0] & other.0[0], self.0[1] & other.0[1]])
    }
}

impl BitOr for Mask {
    type Output = Self;

    fn bitor(self, other: Self) -> Self {
        Self([self.0[0] | other.0[0], self.0[1] | other.0[1]])
    }
}

impl BitOrAssign for Mask {
    fn bitor_assign(&mut self, other: Self) {
        *self = *self | other;
    }
}

/// A place in a panel: its column, and half rows from the top.
#[derive(Debug, Clone, Copy, PartialEq, Eq, PartialOrd, Ord)]
pub struct Seat {
    /// In the right column.
    pub right: bool,
    /// Half rows from the top of the column.
    pub top: u8,
}

/// Crossing to the other side counts so many rows: the wire goes around the panel. (handbook 7)
const CROSSING: u32 = 4;

impl Seat {
    /// Half rows of its column, from here down.
    #[must_use]
    pub fn rows(self, height: u8) -> Range<usize> {
        usize::from(self.top)..usize::from(self.top + height)
    }

    /// Rows from one seat to another, as wires go.
    #[must_use]
    pub fn rows_to(self, other: Self) -> u32 {
        let rows = (u32::from(self.top) / 2).abs_diff(u32::from(other.top) / 2);
        rows + if self.right == other.right { 0 } else { CROSSING }
    }
}

/// A pole of a body.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub struct Pole {
    /// Half rows from the body's top.
    pub down: u8,
    /// What it carries at the usual peak, in tenths of an ampere.
    pub load: u32,
}

/// What moves as a whole: a breaker, or all that shares spaces with one another.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct Body {
    /// Half rows that it takes.
    pub height: u8,
    /// It goes only where the panel takes half-size breakers.
    pub halves: bool,
    /// Where it stands; nothing for room that is wished for.
    pub seat: Option<Seat>,
    /// It stays where it is.
    pub fixed: bool,
    /// Where alone it may go, for room that is wished for at a place.
    pub only: Option<Seat>,
    /// Wires that have to be landed anew where it moves.
    pub wires: u32,
    /// Its poles.
    pub poles: Vec<Pole>,
}

impl Body {
    /// Rows that it takes, a part of one as a whole.
    #[must_use]
    pub fn rows(&self) -> u32 {
        u32::from(self.height.div_ceil(2))
    }
}

/// Bodies that one of half-size breakers can take the place of: their poles stand closer in it.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct Merge {
    /// Which: the first pole of the new body is the first of the first one, and so on.
    pub bodies: Vec<usize>,
    /// Half rows that it takes.
    pub height: u8,
    /// Its poles.
    pub poles: Vec<Pole>,
}

/// What may become of bodies beside moving; for a panel where nothing is changed there is none of it.
#[derive(Debug, Clone, PartialEq, Eq, Default)]
pub struct Acts {
    /// A body whose circuit may go onto the breaker of another one: which goes, and onto which.
    pub joins: Vec<[usize; 2]>,
    /// A half-size body in place of several.
    pub merges: Vec<Merge>,
    /// Bodies that may go for good: nothing hangs on them.
    pub idle: Vec<usize>,
    /// Bodies whose circuits may move over to another panel, where each gets a breaker of its own.
    pub over: Vec<usize>,
    /// A plan has so many acts at the least, among what has to come out for it,
    pub least: u32,
    /// and so many at the most.
    pub most: u32,
}

impl Acts {
    /// True where nothing but moving may be done.
    #[must_use]
    pub fn is_none(&self) -> bool {
        let Self { joins, merges, idle, over, most, .. } = self;
        *most == 0 || joins.is_empty() && merges.is_empty() && idle.is_empty() && over.is_empty()
    }

    /// Bodies whose whole place an act of their own frees.
    pub fn alone(&self) -> impl Iterator<Item = usize> + '_ {
        let gone = self.joins.iter().map(|[gone, _]| *gone);
        self.idle.iter().chain(&self.over).copied().chain(gone)
    }
}

/// A panel with what stands in it, and what is wished for.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct Board {
    /// Half rows of the left and of the right column.
    pub half_rows: [u8; 2],
    /// Legs of its bus.
    pub legs: u8,
    /// Half rows that take half-size breakers.
    pub listed: Mask,
    /// What stands there, and what is wished for.
    pub bodies: Vec<Body>,
    /// Pairs of poles, each as its body and its number there, that share a neutral: they stand on different legs.
    pub apart: Vec<[(usize, usize); 2]>,
    /// Legs that are no farther apart than this are even, in tenths of an ampere; nothing where that is not wished for.
    pub even: Option<u32>,
    /// What may be done beside moving.
    pub acts: Acts,
}

/// Something that is given, and without which more could be moved.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum Given {
    /// A body stays where it is.
    Fixed(usize),
    /// What is wished for has to be at its place.
    Place(usize),
    /// Half-size breakers go only where they are listed.
    Listed,
    /// A pair shares a neutral.
    Apart(usize),
}

impl Board {
    /// All that is given.
    #[must_use]
    pub fn givens(&self) -> Vec<Given> {
        let bodies = || self.bodies.iter().enumerate();
        let fixed = bodies().filter(|(_, b)| b.fixed).map(|(b, _)| Given::Fixed(b));
        let places = bodies().filter(|(_, b)| b.only.is_some()).map(|(b, _)| Given::Place(b));
        let listed = bodies().any(|(_, b)| b.halves).then_some(Given::Listed);
        fixed.chain(places).chain(listed).chain((0..self.apart.len()).map(Given::Apart)).collect()
    }

    /// The same without some of what is given. What is fixed and no breaker goes altogether.
    #[must_use]
    pub fn without(&self, gone: &[Given]) -> Self {
        let mut board = self.clone();
        for given in gone {
            match *given {
                Given::Fixed(body) if board.bodies[body].poles.is_empty() => board.bodies[body].height = 0,
                Given::Fixed(body) => board.bodies[body].fixed = false,
                Given::Place(body) => board.bodies[body].only = None,
                Given::Listed => {
                    board.listed = Mask([u128::MAX; 2]);
                }
                Given::Apart(_) => {}
            }
        }
        let kept = |nth: &usize| !gone.contains(&Given::Apart(*nth));
        board.apart = (0..self.apart.len()).filter(kept).map(|nth| self.apart[nth]).collect();
        board
    }

    /// No arrangement has legs nearer to one another than this, in tenths of an ampere: the largest pole has a leg to itself at
    /// the best, and what is fixed stays on its leg.
    #[must_use]
    pub fn least_imbalance(&self) -> u32 {
        let legs = u32::from(self.legs);
        let poles = || self.bodies.iter().enumerate().flat_map(|(b, body)| (0..body.poles.len()).map(move |p| (b, p)));
        let load = |(b, p): (usize, usize)| self.bodies[b].poles[p].load;
        let total: u32 = poles().map(load).sum();
        let fixed = |leg: u8| {
            let on = |(b, p): &(usize, usize)| {
                self.bodies[*b].fixed && self.bodies[*b].seat.is_some_and(|s| self.leg(*b, *p, s) == leg)
            };
            poles().filter(on).map(load).sum()
        };
        let largest = poles().map(load).max().unwrap_or(0);
        let alone = (0..self.legs).map(fixed).chain([largest]);
        alone.map(|own: u32| own.saturating_sub((total - own).div_ceil(legs - 1))).max().unwrap_or(0)
    }

    /// The leg of a body's pole at a seat.
    #[must_use]
    pub fn leg(&self, body: usize, pole: usize, seat: Seat) -> u8 {
        (seat.top + self.bodies[body].poles[pole].down) / 2 % self.legs
    }

    /// True where a body may stand there as far as the panel goes, whatever else stands there.
    #[must_use]
    pub fn takes(&self, body: &Body, seat: Seat) -> bool {
        let whole = body.height.is_multiple_of(2);
        seat.top + body.height <= self.half_rows[usize::from(seat.right)]
            && (!whole || seat.top.is_multiple_of(2))
            && body.only.is_none_or(|only| only == seat)
            && (!body.halves || Mask::of(seat, body.height).is_within(self.listed))
    }

    /// All seats that a body may take, the nearest first.
    #[must_use]
    pub fn seats(&self, body: &Body) -> Vec<Seat> {
        let of_column = |right: bool| (0..self.half_rows[usize::from(right)]).map(move |top| Seat { right, top });
        let mut seats: Vec<Seat> =
            [false, true].into_iter().flat_map(of_column).filter(|s| self.takes(body, *s)).collect();
        seats.sort_by_key(|seat| (body.seat.map_or(0, |own| own.rows_to(*seat)), *seat));
        seats
    }

    /// How far the legs are apart with these loads on them: the largest sum less the smallest, in tenths of an ampere.
    #[must_use]
    pub fn imbalance(&self, loads: impl Iterator<Item = (u8, u32)>) -> u32 {
        let mut sums = [0_u32; 3];
        loads.for_each(|(leg, load)| sums[usize::from(leg)] += load);
        let sums = &sums[..usize::from(self.legs)];
        sums.iter().max().unwrap_or(&0) - sums.iter().min().unwrap_or(&0)
    }

    /// The leg and the load of each pole of a body at a seat.
    pub fn at<'a>(&'a self, poles: &'a [Pole], seat: Seat) -> impl Iterator<Item = (u8, u32)> + 'a {
        poles.iter().map(move |pole| ((seat.top + pole.down) / 2 % self.legs, pole.load))
    }

    /// All seats of a half-size body that takes the place of others.
    #[must_use]
    pub fn seats_of(&self, merge: &Merge) -> Vec<Seat> {
        let body = Body {
            height: merge.height,
            halves: true,
            seat: None,
            fixed: false,
            only: None,
            wires: 0,
            poles: Vec::new(),
        };
        self.seats(&body)
    }

    /// Rows that are missing for what is wished for, where everything stays.
    #[must_use]
    pub fn rows_missing(&self) -> u32 {
        let mut taken = Mask::default();
        self.bodies.iter().filter_map(|b| Some(Mask::of(b.seat?, b.height))).for_each(|mask| taken |= mask);
        let rows = |right: bool| (0..self.half_rows[usize::from(right)]).step_by(2).map(move |top| Seat { right, top });
        let free = [false, true].into_iter().flat_map(rows).filter(|seat| !Mask::of(*seat, 2).meets(taken)).count();
        let wished: u32 = self.bodies.iter().filter(|b| b.seat.is_none()).map(Body::rows).sum();
        wished.saturating_sub(free as u32)
    }

    /// True where the bodies that may move and the room that is wished for find no place at all, however many move: by their
    /// heights alone, in the stretches between what is fixed. What is not shown to be impossible by this may be so still.
    #[must_use]
    pub fn is_too_full(&self) -> bool {
        let mut blocked = Mask::default();
        for body in &self.bodies {
            if let (Some(seat), true) = (body.seat.or(body.only), body.fixed || body.only.is_some()) {
                blocked |= Mask::of(seat, body.height);
            }
        }
        let rows_of = |body: &Body| usize::from(body.height.div_ceil(2));
        let loose = |b: &&Body| !b.fixed && b.only.is_none();
        let count =
            |rows: usize| self.bodies.iter().filter(loose).filter(|b| b.height > 1 && rows_of(b) == rows).count();
        let (ones, twos, threes) = (count(1), count(2), count(3));
        // How many bodies of two rows can stand beside so many of three: the most over all stretches so far.
        let mut most = vec![None; threes + 1];
        most[0] = Some(0);
        let mut rows_in_all = 0;
        for stretch in self.stretches(blocked) {
            rows_in_all += stretch;
            for taken in (0..=threes).rev() {
                let ways = (0..=taken.min(stretch / 3)).filter_map(|t| Some(most[taken - t]? + (stretch - 3 * t) / 2));
                most[taken] = ways.max();
            }
        }
        !(most[threes].is_some_and(|two| two >= twos) && rows_in_all >= ones + 2 * twos + 3 * threes)
    }

    /// Lengths, in rows, of what is not blocked.
    fn stretches(&self, blocked: Mask) -> Vec<usize> {
        let mut found = Vec::new();
        for right in [false, true] {
            let mut length = 0;
            for top in (0..self.half_rows[usize::from(right)]).step_by(2) {
                if Mask::of(Seat { right, top }, 2).meets(blocked) {
                    found.push(std::mem::take(&mut length));
                } else {
                    length += 1;
                }
            }
            found.push(length);
        }
        found
    }
}
