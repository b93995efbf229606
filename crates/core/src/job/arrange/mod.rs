//! Rearranging a panel, exactly: room for something wished for by moving as little as can be (handbook 7).
//!
//! Legal, and in this order: the fewest bodies moved, the fewest wires landed anew, the fewest rows gone, the legs least
//! apart at the usual peak. Where legs are to be even, that goes first: nearer than a clamp can tell apart is even.

mod board;
mod search;
#[cfg(test)]
mod tests;

use std::collections::{BTreeMap, BTreeSet};

use serde::Serialize;
use utoipa::ToSchema;

use crate::base::Invalid;
use crate::base::position::{Column, Half, Position, format_poles};
use crate::base::units::Amps;
use crate::house::{Breaker, BreakerId, Circuit, FourHalves, Frame, Halves, House, Joined, Joining, Panel, RoomAct};
use board::{Acts, Board, Body, Given, Mask, Merge, Pole, Seat};
use search::{End, MOST_WITH_ACTS, MoveCost, Placement, STEPS, SearchEnd, search};

/// What is wished for.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum Wish {
    /// Room: whole spaces one below the other.
    Room {
        /// Poles, 1 to 3: so many spaces.
        poles: u8,
        /// The uppermost space, where it has to be there.
        at: Option<u16>,
    },
    /// Legs that carry the same.
    Balance,
}

impl Wish {
    /// Reads `2p`, `5=2p` for room at a place, or `balance`.
    ///
    /// # Errors
    /// Where it is none of them.
    pub fn parse(text: &str) -> Result<Self, Invalid> {
        let bad = || {
            let message = format!("\"{text}\" cannot be wished for: 1p, 2p, 3p, 5=2p for room at a place, or balance");
            Invalid::new("for", message)
        };
        if text.trim() == "balance" {
            return Ok(Self::Balance);
        }
        let (at, poles) = match text.split_once('=') {
            Some((at, poles)) => (Some(at.trim().parse().map_err(|_| bad())?), poles),
            None => (None, text),
        };
        let poles = poles.trim().strip_suffix('p').and_then(|n| n.parse().ok()).filter(|n| (1..=3).contains(n));
        Ok(Self::Room { poles: poles.ok_or_else(bad)?, at })
    }

    fn poles(self) -> usize {
        if let Self::Room { poles, .. } = self { usize::from(poles) } else { 0 }
    }
}

/// A breaker that moves.
#[derive(Debug, Clone, PartialEq, Eq, Serialize, ToSchema)]
pub struct BodyMove {
    /// Its panel's name.
    pub panel: String,
    /// Where it stands,
    pub from: String,
    /// and where it goes.
    pub to: String,
    /// Which.
    pub breaker: BreakerId,
}

/// A panel rearranged.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
pub struct Arrangement {
    /// What moves where, in the order of the panel.
    pub moves: Vec<BodyMove>,
    /// What is done beside moving.
    #[serde(skip_serializing_if = "Vec::is_empty")]
    #[schema(required = false)]
    pub acts: Vec<RoomAct>,
    /// Bodies that come out: those that move, and those of which something else is made. A tandem or quad is one.
    pub bodies: u32,
    /// Wires that are landed anew.
    pub wires: u32,
    /// What is to be bought, weighed: 1 for a connector, 3 for a breaker in another panel, 4 for a tandem, 6 for a quad.
    pub parts: u32,
    /// Rows that they go: a wire may be too short. Crossing to the other side counts four.
    pub rows: u32,
    /// How far the legs are apart after, at the usual peak.
    pub imbalance: Amps,
    /// Nothing better is possible; otherwise the search was cut off, and there may be something better.
    pub optimal: bool,
    /// Where it was cut off while legs were to be even: they may come nearer by so much at the most.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub gap: Option<Amps>,
    /// The room that is made, for each wish its spaces.
    pub room: Vec<String>,
    /// Another one that is as good.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub other: Option<Box<Arrangement>>,
}

/// What can be done.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
#[serde(untagged)]
pub enum Arranged {
    /// So.
    Possible(Arrangement),
    /// Nothing, by what may be done.
    Impossible {
        /// Why.
        impossible: String,
    },
    /// Nothing was found before the search was cut off.
    CutOff {
        /// What that means.
        cut_off: String,
    },
}

/// Makes room in a panel. `usual` is what breakers carry at the usual peak; `fixed` stay where they are; `may` is what may be done
/// beside moving, its places to be found: where there is any of it, one is done at the least.
///
/// A space that nobody entered is taken to be full: what stands there is not known.
///
/// # Errors
/// Where a wish cannot be, with the field at fault.
pub fn arrange(
    house: &House,
    panel: &Panel,
    wishes: &[Wish],
    usual: &BTreeMap<BreakerId, Amps>,
    fixed: &BTreeSet<BreakerId>,
    may: &[RoomAct],
) -> Result<Arranged, Invalid> {
    let mut laid = Laid::new(house, panel, wishes, usual, fixed)?;
    laid.may(may);
    if let Some(impossible) = laid.too_many(wishes) {
        return Ok(Arranged::Impossible { impossible });
    }
    let only_moves = laid.board.acts.is_none();
    let told = |plan: Placement, optimal| laid.told(&plan, optimal);
    Ok(match search(&laid.board, if only_moves { STEPS } else { STEPS_WITH_ACTS }) {
        SearchEnd::Best(best, other) => {
            let other = other.map(|plan| Box::new(told(plan, true)));
            Arranged::Possible(Arrangement { other, ..told(best, true) })
        }
        SearchEnd::CutOff(Some(plan)) => Arranged::Possible(told(plan, false)),
        SearchEnd::CutOff(None) => Arranged::CutOff {
            cut_off: "nothing was found in the time given: that does not prove that there is nothing".into(),
        },
        SearchEnd::Impossible if !only_moves => Arranged::Impossible {
            impossible: format!(
                "{} can be made with {} such acts and {MOST_WITH_ACTS} bodies in hand",
                wanted(wishes),
                laid.board.acts.most
            ),
        },
        SearchEnd::Impossible => Arranged::Impossible { impossible: laid.why(wishes) },
    })
}

/// A plan has so many acts at the most beside what moves: a fifth is a panel made anew. (common practice)
pub const MOST_ACTS: u32 = 4;
/// Steps of a search for acts before it is cut off: about a tenth of a second.
const STEPS_WITH_ACTS: u64 = 120_000;

/// A panel laid out for the search.
struct Laid<'a> {
    house: &'a House,
    panel: &'a Panel,
    board: Board,
    /// For each body the breakers in it; none for what is not entered, and for what is wished for.
    members: Vec<Vec<&'a Breaker>>,
}

/// A column is a mask of 128 half rows.
const MOST_ROWS: u16 = 64;

impl<'a> Laid<'a> {
    fn new(
        house: &'a House,
        panel: &'a Panel,
        wishes: &[Wish],
        usual: &BTreeMap<BreakerId, Amps>,
        fixed: &BTreeSet<BreakerId>,
    ) -> Result<Self, Invalid> {
        let left = panel.spaces.div_ceil(2);
        if left > MOST_ROWS {
            return Err(Invalid::new("panel", "a panel of more than 128 spaces is not searched"));
        }
        let half_rows = [2 * left as u8, 2 * (panel.spaces - left) as u8];
        let mut laid = Self {
            house,
            panel,
            board: Board {
                half_rows,
                legs: panel.supply.legs() as u8,
                listed: Mask::default(),
                bodies: Vec::new(),
                apart: Vec::new(),
                even: None,
                acts: Acts::default(),
            },
            members: Vec::new(),
        };
        for space in laid.spaces().filter(|space| panel.tandem.allow(*space)) {
            laid.board.listed |= Mask::of(laid.seat(Position::whole(space)), 2);
        }
        for members in bodies(house.breakers_of(panel.id)) {
            laid.stand(members, usual, fixed);
        }
        for position in house.not_entered(panel) {
            let height = if position.half == Half::Whole { 2 } else { 1 };
            let seat = laid.seat(position);
            laid.put(Body { fixed: true, height, seat: Some(seat), ..EMPTY }, Vec::new());
        }
        laid.keep_apart();
        for wish in wishes {
            match wish {
                Wish::Room { poles, at } => {
                    let only = at.map(|at| laid.room_at(at)).transpose()?;
                    laid.put(Body { height: 2 * poles, only, ..EMPTY }, Vec::new());
                }
                Wish::Balance => laid.board.even = Some(laid.even()),
            }
        }
        Ok(laid)
    }

    fn spaces(&self) -> impl Iterator<Item = u16> + use<'a> {
        let panel = self.panel;
        [Column::Left, Column::Right].into_iter().flat_map(move |column| {
            (0..panel.spaces).map_while(move |row| panel.numbering.number(column, row, panel.spaces))
        })
    }

    fn seat(&self, position: Position) -> Seat {
        let (column, row) = self.panel.place(position.space);
        let half = u8::from(position.half == Half::Lower);
        Seat { right: column == Column::Right, top: 2 * row as u8 + half }
    }

    /// The position of a half row, as a whole space or a half of one.
    fn position(&self, seat: Seat, half: Half) -> Option<Position> {
        let column = if seat.right { Column::Right } else { Column::Left };
        let space = self.panel.numbering.number(column, u16::from(seat.top / 2), self.panel.spaces)?;
        Some(Position { space, half })
    }

    fn room_at(&self, at: u16) -> Result<Seat, Invalid> {
        match self.panel.numbering.place(at, self.panel.spaces) {
            Some(_) => Ok(self.seat(Position::whole(at))),
            None => Err(Invalid::new("for", format!("{} has no space {at}", self.panel.name))),
        }
    }

    fn put(&mut self, body: Body, members: Vec<&'a Breaker>) {
        self.board.bodies.push(body);
        self.members.push(members);
    }

    /// Puts a body where its breakers stand.
    fn stand(&mut self, members: Vec<&'a Breaker>, usual: &BTreeMap<BreakerId, Amps>, fixed: &BTreeSet<BreakerId>) {
        let positions: Vec<Position> = members.iter().flat_map(|b| b.at.iter().copied()).collect();
        let seats: Vec<Seat> = positions.iter().map(|p| self.seat(*p)).collect();
        let alone = matches!(positions.as_slice(), [one] if one.half != Half::Whole);
        let start = |seat: &Seat| if alone { seat.top } else { seat.top / 2 * 2 };
        let Some(top) = seats.iter().map(start).min() else { return };
        let bottom = seats.iter().map(|s| if alone { s.top + 1 } else { s.top / 2 * 2 + 2 }).max().unwrap_or(top);
        let right = seats[0].right;
        let load = |b: &Breaker| usual.get(&b.id).map_or(0, |a| (10.0 * a.0).round() as u32);
        let poles = members.iter().flat_map(|b| b.at.iter().map(move |p| (*b, *p)));
        let poles = poles.map(|(b, p)| Pole { down: self.seat(p).top - top, load: load(b) });
        let body = Body {
            height: bottom - top,
            halves: members.iter().any(|b| b.is_half_size()),
            seat: Some(Seat { right, top }),
            // What stands in two columns at once stands so for a reason that nobody entered.
            fixed: members.iter().any(|b| fixed.contains(&b.id)) || seats.iter().any(|s| s.right != right),
            only: None,
            wires: positions.len() as u32,
            poles: poles.collect(),
        };
        self.put(body, members);
    }

    /// Poles whose circuits share a neutral, where they stand in different bodies.
    fn keep_apart(&mut self) {
        let pole = |circuit: &Circuit| {
            let find = |(body, members): (usize, &Vec<&Breaker>)| {
                let mut before = 0;
                for breaker in members {
                    if breaker.id == circuit.breaker {
                        return Some((body, before + usize::from(circuit.pole.unwrap_or(1).max(1)) - 1));
                    }
                    before += breaker.at.len();
                }
                None
            };
            self.members.iter().enumerate().find_map(find)
        };
        let shared = self.house.circuits.iter().filter_map(|c| Some((c, self.house.circuits.get(c.neutral_of?)?)));
        let pairs = shared.filter_map(|(one, other)| Some([pole(one)?, pole(other)?]));
        self.board.apart = pairs.filter(|[one, other]| one.0 != other.0).collect();
    }

    /// Takes up what may be done beside moving. What stands in one body with something else, has to stay, or shares a neutral with
    /// another body is left as it is.
    fn may(&mut self, acts: &[RoomAct]) {
        let free = |breaker: BreakerId| {
            let body = self.members.iter().position(|m| matches!(m.as_slice(), [one] if one.id == breaker))?;
            let apart = self.board.apart.iter().flatten().any(|(b, _)| *b == body);
            (!self.board.bodies[body].fixed && !apart).then_some(body)
        };
        let of = |breaker| self.members.iter().position(|m| m.iter().any(|b| b.id == breaker));
        // Of circuits that only go, as many may as bodies come out.
        let only_go = acts.iter().all(|act| matches!(act, RoomAct::TakeOut { .. } | RoomAct::MoveOver { .. }));
        let most = if only_go { MOST_WITH_ACTS } else { MOST_ACTS };
        // What moving alone comes to is asked for without any act.
        let mut found = Acts { least: u32::from(!acts.is_empty()), most, ..Acts::default() };
        for act in acts {
            match act {
                RoomAct::TakeOut { breaker } => found.idle.extend(free(*breaker)),
                RoomAct::MoveOver { breaker } => found.over.extend(free(*breaker)),
                RoomAct::Join(joining) => {
                    found.joins.extend(free(joining.give_up).zip(of(joining.keep)).map(|(gone, keep)| [gone, keep]));
                }
                RoomAct::Tandem(_) | RoomAct::Quad(_) => {
                    let bodies: Option<Vec<usize>> = halves_of(act).into_iter().map(free).collect();
                    found.merges.extend(bodies.map(|bodies| self.merge(bodies)));
                }
            }
        }
        for idle in &found.idle {
            self.board.bodies[*idle].wires = 0;
        }
        self.board.acts = found;
    }

    /// One of half-size breakers: its poles a half row apart.
    fn merge(&self, bodies: Vec<usize>) -> Merge {
        let loads = bodies.iter().flat_map(|b| self.board.bodies[*b].poles.iter().map(|p| p.load));
        let poles: Vec<Pole> = (0..).zip(loads).map(|(down, load)| Pole { down, load }).collect();
        Merge { bodies, height: poles.len() as u8, poles }
    }

    /// What a plan does beside moving, with its places.
    fn acts(&self, plan: &Placement) -> Vec<RoomAct> {
        let breaker = |body: usize| self.members[body].first().map(|b| b.id);
        let ends = || plan.ends.iter().enumerate();
        let mut acts = Vec::new();
        for (body, end) in ends() {
            match *end {
                End::Out => acts.extend(breaker(body).map(|breaker| RoomAct::TakeOut { breaker })),
                End::Over => acts.extend(breaker(body).map(|breaker| RoomAct::MoveOver { breaker })),
                End::Joined(keep) => acts.extend(
                    breaker(body)
                        .zip(breaker(keep))
                        .map(|(give_up, keep)| RoomAct::Join(Joining { keep, give_up, way: Joined::Splice })),
                ),
                End::At(_) | End::Merged(..) => {}
            }
        }
        for (body, end) in ends() {
            let End::Merged(nth, seat) = *end else { continue };
            let bodies = &self.board.acts.merges[nth].bodies;
            let space = self.position(seat, Half::Whole).map(|at| at.space);
            let members: Option<Vec<BreakerId>> = bodies.iter().map(|b| breaker(*b)).collect();
            let (true, Some(space), Some(members)) = (bodies[0] == body, space, members) else { continue };
            match *members.as_slice() {
                [upper, lower] => acts.push(RoomAct::Tandem(Halves { upper, lower, space })),
                [upper, inner, lower] => acts.push(RoomAct::Quad(FourHalves { upper, inner, lower, space })),
                _ => {}
            }
        }
        acts
    }

    /// What a clamp cannot tell apart on a leg, in tenths of an ampere: two in a hundred and 0.2 A. (handbook 3.1, common
    /// practice)
    fn even(&self) -> u32 {
        let total: u32 = self.board.bodies.iter().flat_map(|b| &b.poles).map(|p| p.load).sum();
        total / u32::from(self.board.legs) / 50 + 2
    }

    fn told(&self, plan: &Placement, optimal: bool) -> Arrangement {
        let MoveCost { uneven, bodies, wires, parts, rows, imbalance } = plan.cost;
        let seats = || self.board.bodies.iter().zip(&plan.ends).map(|(body, end)| (body, end.seat()));
        let moves = seats().zip(&self.members).filter_map(|((body, to), members)| {
            let (from, to) = body.seat.zip(to)?;
            (from != to).then_some((from, members, to))
        });
        let moves = moves.flat_map(|(from, members, to)| members.iter().map(move |b| self.moved(b, from, to)));
        let rooms = seats().filter(|(body, _)| body.seat.is_none()).filter_map(|(body, seat)| Some((body, seat?)));
        let room = |(body, seat): (&Body, Seat)| {
            let rows = (0..body.height / 2).map(|row| Seat { top: seat.top + 2 * row, ..seat });
            format_poles(&rows.filter_map(|seat| self.position(seat, Half::Whole)).collect::<Vec<_>>())
        };
        Arrangement {
            moves: moves.collect(),
            acts: self.acts(plan),
            bodies,
            wires,
            parts,
            rows,
            imbalance: Amps(f64::from(imbalance) / 10.0),
            optimal,
            gap: (!optimal && self.board.even.is_some()).then(|| {
                let least = self.board.even.map_or(0, |even| self.board.least_imbalance().saturating_sub(even));
                Amps(f64::from(uneven.saturating_sub(least)) / 10.0)
            }),
            room: rooms.map(room).collect(),
            other: None,
        }
    }

    fn moved(&self, breaker: &Breaker, from: Seat, to: Seat) -> BodyMove {
        let shifted = |position: &Position| {
            let was = self.seat(*position);
            let seat = Seat { right: to.right, top: to.top + (was.top - from.top) };
            let half = match (position.half, seat.top % 2) {
                (Half::Whole, _) => Half::Whole,
                (_, 0) => Half::Upper,
                _ => Half::Lower,
            };
            self.position(seat, half)
        };
        let at: Vec<Position> = breaker.at.iter().filter_map(shifted).collect();
        BodyMove { panel: self.panel.name.clone(), from: breaker.at_text(), to: format_poles(&at), breaker: breaker.id }
    }

    /// The label's most circuits, where it would be passed. [pub: NEC 408.54, value from memory]
    fn too_many(&self, wishes: &[Wish]) -> Option<String> {
        let most = usize::from(self.panel.max_circuits?);
        let used: usize = self.members.iter().flatten().map(|b| b.at.len()).sum();
        let more: usize = wishes.iter().map(|w| w.poles()).sum();
        (used + more > most).then(|| {
            format!("the label allows {most} circuits; {used} are in use, and {more} more are wished for (NEC 408.54)")
        })
    }

    /// Why there is nothing: a smallest set of what is given without which there would be something.
    fn why(&self, wishes: &[Wish]) -> String {
        let can_be =
            |gone: &[Given]| !matches!(search(&self.board.without(gone), STEPS_OF_REASONS), SearchEnd::Impossible);
        let mut gone = Vec::new();
        let mut reasons = Vec::new();
        let all = self.board.givens();
        if can_be(&all) {
            for given in all {
                gone.push(given);
                if can_be(&gone) {
                    gone.pop();
                    reasons.push(given);
                }
            }
        }
        let mut parts: Vec<String> = self.reasons(&reasons);
        if parts.is_empty() {
            parts.push(self.what_is_free(wishes));
        }
        format!("{} can be made: {}", wanted(wishes), parts.join("; "))
    }

    /// Reasons in words, those of a kind together.
    fn reasons(&self, reasons: &[Given]) -> Vec<String> {
        let named = |body: usize| self.members[body].iter().map(|b| b.at_text()).collect::<Vec<_>>().join(" and ");
        let fixed = reasons.iter().filter_map(|r| if let Given::Fixed(body) = r { Some(*body) } else { None });
        let (held, unknown): (Vec<usize>, Vec<usize>) = fixed.partition(|body| !self.members[*body].is_empty());
        let mut parts = Vec::new();
        if !held.is_empty() {
            let at: Vec<String> = held.into_iter().map(named).collect();
            parts.push(format!("{} {} to stay", at.join(", "), if at.len() == 1 { "has" } else { "have" }));
        }
        if !unknown.is_empty() {
            let place = |body: usize| {
                let half = |seat: Seat| if seat.top.is_multiple_of(2) { Half::Upper } else { Half::Lower };
                let whole = self.board.bodies[body].height == 2;
                let seat = self.board.bodies[body].seat?;
                self.position(seat, if whole { Half::Whole } else { half(seat) })
            };
            let at: Vec<String> = unknown.into_iter().filter_map(place).map(|p| p.to_string()).collect();
            let are = if at.len() == 1 { "is" } else { "are" };
            parts.push(format!("{} {are} not entered: look whether nothing stands there", at.join(", ")));
        }
        if reasons.iter().any(|r| matches!(r, Given::Place(_))) {
            parts.push("it has to be at that place".into());
        }
        if reasons.contains(&Given::Listed) {
            parts.push("half-size breakers may stand only where the panel lists them (NEC 408.54)".into());
        }
        for (one, other) in reasons.iter().filter_map(|r| self.pair(*r)) {
            parts.push(format!("{one} and {other} share a neutral and have to be on different legs (NEC 210.4)"));
        }
        parts
    }

    fn pair(&self, given: Given) -> Option<(String, String)> {
        let Given::Apart(nth) = given else { return None };
        let breaker = |(body, mut pole): (usize, usize)| {
            for breaker in &self.members[body] {
                match pole.checked_sub(breaker.at.len()) {
                    Some(left) => pole = left,
                    None => return Some(breaker.at_text()),
                }
            }
            None
        };
        let [one, other] = self.board.apart[nth];
        breaker(one).zip(breaker(other))
    }

    fn what_is_free(&self, wishes: &[Wish]) -> String {
        let mut taken = Mask::default();
        let standing = self.board.bodies.iter().filter_map(|b| Some(Mask::of(b.seat?, b.height)));
        standing.for_each(|mask| taken |= mask);
        let is_free = |space: &u16| !Mask::of(self.seat(Position::whole(*space)), 2).meets(taken);
        let free: Vec<String> = self.spaces().filter(is_free).map(|s| s.to_string()).collect();
        let wanted: usize = wishes.iter().map(|w| w.poles()).sum();
        match free.as_slice() {
            [] => "no space is free".to_owned(),
            some if some.len() < wanted => {
                let are = if some.len() == 1 { "is" } else { "are" };
                format!("only {} {are} free, and {wanted} spaces are needed", some.join(" and "))
            }
            some => format!("{} are free, and cannot be brought together", some.join(", ")),
        }
    }
}

/// Breakers that become halves of one body, from the top.
fn halves_of(act: &RoomAct) -> Vec<BreakerId> {
    match act {
        RoomAct::Tandem(halves) => vec![halves.upper, halves.lower],
        RoomAct::Quad(four) => vec![four.upper, four.inner, four.lower],
        RoomAct::Join(_) | RoomAct::TakeOut { .. } | RoomAct::MoveOver { .. } => Vec::new(),
    }
}

/// What is wished for and cannot be, in words.
fn wanted(wishes: &[Wish]) -> String {
    let one = |wish: &Wish| match wish {
        Wish::Room { poles: 1, at: None } => "no space".to_owned(),
        Wish::Room { poles: 1, at: Some(at) } => format!("no room at {at}"),
        Wish::Room { poles, at } => {
            let many = if *poles == 2 { "two" } else { "three" };
            format!("no {many} adjacent spaces{}", at.map_or_else(String::new, |at| format!(" from {at} down")))
        }
        Wish::Balance => "no even load".to_owned(),
    };
    wishes.iter().map(one).collect::<Vec<_>>().join(" and ")
}

/// Steps of a search that only asks whether something can be. Where it is cut off, the reason may not be the smallest.
const STEPS_OF_REASONS: u64 = 20_000;

const EMPTY: Body =
    Body { height: 2, halves: false, seat: None, fixed: false, only: None, wires: 0, poles: Vec::new() };

/// Breakers that move as one: all that share spaces with one another, but for half-size breakers that somebody saw to be
/// bodies of their own.
pub(super) fn bodies(breakers: Vec<&Breaker>) -> Vec<Vec<&Breaker>> {
    let own = |b: &Breaker| b.at.len() == 1 && b.frame == Some(Frame::Half);
    let share =
        |a: &Breaker, b: &Breaker| !own(a) && !own(b) && a.at.iter().any(|p| b.at.iter().any(|q| p.space == q.space));
    let mut found: Vec<Vec<&Breaker>> = Vec::new();
    for breaker in breakers {
        let (mut with, without): (Vec<_>, Vec<_>) =
            found.into_iter().partition(|body: &Vec<&Breaker>| body.iter().any(|b| share(b, breaker)));
        let mut body: Vec<&Breaker> = with.drain(..).flatten().collect();
        body.push(breaker);
        found = without;
        found.push(body);
    }
    found
}
