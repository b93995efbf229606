//! Making room in a panel: by moving, by half-size breakers in place of whole ones, by two circuits on one breaker, in the place of
//! one without a wire; or by several of these together, ranked.

use std::collections::BTreeSet;

use super::combine;
use super::quad;
use super::retire;
use super::tandem;
use crate::base::Invalid;
use crate::base::position::{Half, Position, format_poles, parse_poles};
use crate::base::units::Amps;
use crate::house::{Breaker, BreakerId, Goal, House, MakeRoom, Moving, Panel, RoomAct};
use crate::job::arrange::{Arranged, Arrangement, MOST_ACTS, Wish, arrange};
use crate::job::form::{Field, FieldSort};
use crate::job::obstacles::Obstacle;
use crate::job::plan::{Basis, CostClass, Plan, WayPart, WayTo, minutes_of};
use crate::job::working::Working;
use crate::words::short::capital;

/// What is not touched for room.
pub(super) const LEAVE: Field =
    Field::new("leave", "Leave as they are, whatever room they would make", FieldSort::Breakers).rare();

/// A way to make room.
#[derive(Debug, Clone)]
pub struct MadeRoom {
    /// What is done for it.
    pub room: MakeRoom,
    /// The spaces that are free then.
    pub at: Vec<Position>,
    /// In a few words.
    pub title: String,
    /// What it costs in load and convenience.
    pub why: String,
    /// Bodies that come out.
    pub bodies: u32,
    /// Wires that are landed anew.
    pub wires: u32,
    /// What is to be bought, weighed.
    pub bought: u32,
    /// What is done, in words, each with the breaker that would stay without it.
    pub parts: Vec<WayPart>,
    /// Rows that they go.
    pub rows: u32,
    /// How far the legs are apart after.
    pub imbalance: Amps,
    /// Whether anything better is possible, in words.
    pub proven: String,
}

impl MadeRoom {
    /// As one of several ways, with the goal that chooses it.
    pub fn way(self, goal: impl Fn(MakeRoom) -> Goal, chosen: bool) -> WayTo {
        let cost = self.room.acts.iter().map(cost).max().unwrap_or(CostClass::Nothing);
        let minutes = minutes_of(self.bodies, self.wires);
        let Self { room, title, why, parts, bodies, wires, .. } = self;
        WayTo { of: String::new(), title, why, chosen, goal: goal(room), bodies, wires, minutes, cost, parts }
    }
}

fn cost(act: &RoomAct) -> CostClass {
    match act {
        RoomAct::TakeOut { .. } => CostClass::Nothing,
        RoomAct::MoveOver { .. } => CostClass::Breaker,
        RoomAct::Join(_) => CostClass::Small,
        RoomAct::Tandem(_) | RoomAct::Quad(_) => CostClass::Breaker,
    }
}

/// What room is made in, and for what.
#[derive(Debug, Clone, Copy)]
pub struct Making<'a> {
    /// The house, as it is when room is made.
    pub house: &'a House,
    /// The panel, of that house.
    pub panel: &'a Panel,
    /// What is wished for.
    pub wishes: &'a [Wish],
    /// Breakers that stay where they are.
    pub fixed: &'a BTreeSet<BreakerId>,
    /// Breakers that are left as they are, as somebody said.
    pub leave: &'a BTreeSet<BreakerId>,
}

/// Ways to make room, or legs even, the cheapest first: bodies, wires, what is to be bought; or why there is none. (handbook 7:
/// what changes what there is costs like moves and is offered beside)
///
/// Each is the best of its sort: by moving alone, and with each sort of act, and with all of them together. `more` may be done as
/// well, for this job alone.
///
/// # Errors
/// Where what is wished for cannot be, with the field.
pub fn ways(basis: &Basis<'_>, making: Making<'_>, more: &[RoomAct]) -> Result<Result<Vec<MadeRoom>, String>, Invalid> {
    let Making { house, panel, wishes, fixed, leave } = making;
    let usual = basis.usual();
    let fixed: BTreeSet<BreakerId> = fixed.union(leave).copied().collect();
    // What is found by some acts joins the ways; or else why nothing is.
    let weigh = |ways: &mut Vec<MadeRoom>, may: &[RoomAct]| -> Result<Option<String>, Invalid> {
        Ok(match arrange(house, panel, wishes, &usual, &fixed, may)? {
            Arranged::Possible(found) => {
                let both = std::iter::once(&found).chain(found.other.as_deref()).map(|found| made(found, leave));
                both.for_each(|made| {
                    if ways.iter().all(|way| way.room != made.room) {
                        ways.push(made);
                    }
                });
                None
            }
            Arranged::Impossible { impossible: why } | Arranged::CutOff { cut_off: why } => Some(why),
        })
    };
    let mut ways: Vec<MadeRoom> = Vec::new();
    let why = weigh(&mut ways, &[])?.unwrap_or_default();
    // Where something is free already, nothing is changed for it, and even legs have nothing to do with what there is.
    if ways.first().is_none_or(|way| way.bodies > 0) && !wishes.contains(&Wish::Balance) {
        // Of what is out of the house already nothing is made.
        let stands = |act: &RoomAct| act.breakers().iter().all(|b| house.breakers.get(*b).is_some());
        let sorts = changes(basis, panel).into_iter().chain([more.to_vec()]);
        let sorts: Vec<Vec<RoomAct>> = sorts.map(|acts| acts.into_iter().filter(stands).collect()).collect();
        let sorts: Vec<&[RoomAct]> = sorts.iter().filter(|acts| !acts.is_empty()).map(Vec::as_slice).collect();
        for acts in &sorts {
            weigh(&mut ways, acts)?;
        }
        if sorts.len() > 1 {
            weigh(&mut ways, &sorts.concat())?;
        }
    }
    ways.sort_by_key(|way| (way.bodies, way.wires, way.bought, way.rows));
    for way in &mut ways {
        tell(basis, panel, way);
    }
    Ok(if ways.is_empty() { Err(why) } else { Ok(ways) })
}

/// What would change what there is, by sort: places of breakers without a wire, circuits that go together, half-size breakers.
fn changes(basis: &Basis<'_>, panel: &Panel) -> [Vec<RoomAct>; 3] {
    let idle = retire::idle(basis, panel.id).into_iter().map(|breaker| RoomAct::TakeOut { breaker });
    let joins = combine::light(basis, panel.id).into_iter().map(RoomAct::Join);
    let tandems = tandem::candidates(basis, panel).into_iter().map(RoomAct::Tandem);
    let quads = quad::candidates(basis, panel).into_iter().map(RoomAct::Quad);
    [idle.collect(), joins.collect(), tandems.chain(quads).collect()]
}

fn made(found: &Arrangement, leave: &BTreeSet<BreakerId>) -> MadeRoom {
    let poles = |text: &str| parse_poles(text).unwrap_or_default();
    let moves = found.moves.iter().map(|m| Moving { breaker: m.breaker, to: poles(&m.to) }).collect();
    MadeRoom {
        at: found.room.first().map(|at| poles(at)).unwrap_or_default(),
        room: MakeRoom { acts: found.acts.clone(), moves, leave: leave.clone() },
        title: String::new(),
        why: String::new(),
        bodies: found.bodies,
        wires: found.wires,
        bought: found.parts,
        parts: Vec::new(),
        rows: found.rows,
        imbalance: found.imbalance,
        proven: match found.gap {
            _ if found.optimal && found.acts.is_empty() => "nothing less is possible by moving alone".into(),
            _ if found.optimal && found.acts.len() <= MOST_ACTS as usize => {
                format!("nothing less is possible in this way (up to {MOST_ACTS} such acts)")
            }
            _ if found.optimal => "nothing less is possible in this way".into(),
            Some(gap) => format!("they may come nearer by {:.1} A at the most", gap.0),
            None => "there may be something better".into(),
        },
    }
}

/// Says what a way does.
fn tell(basis: &Basis<'_>, panel: &Panel, way: &mut MadeRoom) {
    let at = |b: BreakerId| basis.house.breakers.get(b).map_or_else(String::new, Breaker::at_text);
    let moves: Vec<(String, BreakerId)> =
        way.room.moves.iter().map(|m| (format!("{} to {}", at(m.breaker), format_poles(&m.to)), m.breaker)).collect();
    let known = basis.loaded.circuits().iter().any(|c| c.usual.0 > 0.0);
    let apart = if known {
        format!("legs {:.1} A apart after", way.imbalance.0)
    } else {
        "what the legs carry is not known".to_owned()
    };
    let acts = way.room.acts.iter().map(|act| (said(basis, panel, act), act.breakers()[0]));
    let acts: Vec<(String, BreakerId)> = acts.collect();
    let mut titles: Vec<String> = acts.iter().map(|(said, _)| said.clone()).collect();
    if !moves.is_empty() {
        titles.push(format!("move {}", moves.iter().map(|(said, _)| said.as_str()).collect::<Vec<_>>().join(", ")));
    }
    let each = moves.iter().map(|(said, breaker)| (format!("move {said}"), *breaker));
    let part = |(said, breaker): (String, BreakerId)| WayPart { said: capital(&said), breaker };
    way.parts = acts.into_iter().chain(each).map(part).collect();
    way.title = match titles.is_empty() {
        true => "It is free".to_owned(),
        false => capital(&titles.join("; ")),
    };
    let mut whys: Vec<String> = Vec::new();
    for act in &way.room.acts {
        let why = reason(basis, act);
        if !whys.contains(&why) {
            whys.push(why);
        }
    }
    let far = if way.rows == 0 { capital(&apart) } else { format!("Wires go {} rows, {apart}", way.rows) };
    whys.push(match (way.room.acts.is_empty(), moves.is_empty()) {
        (true, true) => format!("{far}."),
        (true, false) => format!("Nothing is bought and nothing shares. {far}; {}.", way.proven),
        (false, _) => format!("{far}; {}.", way.proven),
    });
    way.why = whys.join(" ");
}

/// An act in a few words.
fn said(basis: &Basis<'_>, panel: &Panel, act: &RoomAct) -> String {
    let name = |b: BreakerId| basis.house.breakers.get(b).map_or_else(String::new, |b| basis.called(b));
    match act {
        RoomAct::Tandem(halves) => {
            format!("a tandem at {} for {} and {}", halves.space, name(halves.upper), name(halves.lower))
        }
        RoomAct::Quad(four) => format!(
            "a quad at {} and {} for {}, {} and {}",
            four.space,
            panel.below(four.space).unwrap_or_default(),
            name(four.upper),
            name(four.inner),
            name(four.lower)
        ),
        RoomAct::Join(joining) => format!("{} joins {}", name(joining.give_up), name(joining.keep)),
        RoomAct::TakeOut { breaker } => format!("{} goes, no wire is on it", name(*breaker)),
        RoomAct::MoveOver { breaker } => format!("{} moves over to the new panel", name(*breaker)),
    }
}

/// What speaks for an act and against it.
fn reason(basis: &Basis<'_>, act: &RoomAct) -> String {
    match act {
        RoomAct::Tandem(_) => {
            "Both are on one leg after, in half-size bodies. Nothing is combined: each keeps its breaker.".into()
        }
        RoomAct::Quad(_) => {
            "The two-pole stays on two legs, in the middle. Nothing is combined: each keeps its breaker.".into()
        }
        RoomAct::Join(joining) => format!("{} One trip then takes both.", combine::sum(basis, joining)),
        RoomAct::TakeOut { .. } => "Look at its terminals first.".into(),
        RoomAct::MoveOver { .. } => "It keeps a breaker of its own, in the new panel.".into(),
    }
}

/// Something new that is to find its place.
pub(super) struct NewPlace<'a> {
    /// The house, as it is when it comes,
    pub house: &'a House,
    /// and the panel, of that house.
    pub panel: &'a Panel,
    /// So many poles.
    pub poles: usize,
    /// It may stand in halves of spaces.
    pub halves: bool,
    /// Its rating, for even legs.
    pub amps: Amps,
    /// What is to get room as well.
    pub beside: &'a [Wish],
    /// What may be done for it beside the usual.
    pub more: &'a [RoomAct],
    /// What stands against it where there is no room.
    pub none: Obstacle,
    /// How its place is told: `it goes to`.
    pub what: &'static str,
}

/// Chooses where something new goes, unless somebody chose: what is free and balances best, or the cheapest way to make room; and tells the
/// ways there are.
///
/// # Errors
/// Where what is wished for cannot be, with the field.
pub(super) fn choose(
    basis: &Basis<'_>,
    plan: &mut Plan,
    of: &NewPlace<'_>,
    (at, room): (&mut Vec<Position>, &mut MakeRoom),
    goal: impl Fn(Vec<Position>, MakeRoom) -> Goal,
) -> Result<(), Invalid> {
    let free = match of.beside {
        [] => free_seats(basis, of.house, of.panel, (of.poles, of.halves), of.amps),
        // Its place is found together with what else is to get room.
        _ => Vec::new(),
    };
    let mut options = Vec::new();
    if free.is_empty() {
        let own = Wish::Room { poles: of.poles as u8, at: None };
        let wishes: Vec<Wish> = std::iter::once(own).chain(of.beside.iter().copied()).collect();
        let none = BTreeSet::new();
        let making = Making { house: of.house, panel: of.panel, wishes: &wishes, fixed: &none, leave: &room.leave };
        match ways(basis, making, of.more)? {
            Ok(found) => options = found,
            Err(why) if at.is_empty() => plan.refuse(of.none, why),
            Err(_) => {}
        }
    }
    if at.is_empty() {
        if let Some(best) = free.first() {
            at.clone_from(best);
        } else if let Some(first) = options.first() {
            (*at, *room) = (first.at.clone(), first.room.clone());
        }
    }
    let way = |made: MadeRoom| {
        let (is_chosen, to) = ((&made.at, &made.room) == (&*at, &*room), made.at.clone());
        let title = format!("{}; {} {}", made.title, of.what, format_poles(&to));
        MadeRoom { title, ..made }.way(|room| goal(to.clone(), room), is_chosen)
    };
    plan.ways = options.into_iter().map(way).collect();
    Ok(())
}

/// Free seats for so many poles, whole spaces first, what balances best, then the uppermost. Halves that are free where the panel
/// lists half-size breakers are seats for a plain one: two poles stand across the boundary of two spaces, on two legs. (handbook 1.2)
fn free_seats(
    basis: &Basis<'_>,
    house: &House,
    panel: &Panel,
    (poles, halves): (usize, bool),
    amps: Amps,
) -> Vec<Vec<Position>> {
    let taken: Vec<Position> = house.breakers_of(panel.id).iter().flat_map(|b| b.at.iter().copied()).collect();
    let is_free = |at: &Position| panel.empty.contains(at) && !taken.iter().any(|p| p.overlaps(*at));
    let column = |space: u16| std::iter::successors(Some(space), |s| panel.below(*s)).take(poles);
    let whole = |space: u16| column(space).map(Position::whole).collect::<Vec<_>>();
    let half = |space: u16| {
        let of = |(nth, space): (usize, u16)| match (poles, nth) {
            (1, _) => vec![Position { space, half: Half::Upper }, Position { space, half: Half::Lower }],
            (_, 0) => vec![Position { space, half: Half::Lower }],
            _ => vec![Position { space, half: Half::Upper }],
        };
        column(space).enumerate().flat_map(of).collect::<Vec<_>>()
    };
    let listed = |space: u16| halves && column(space).all(|space| panel.tandem.allow(space));
    let seat = |at: Vec<Position>| (at.len() == poles && at.iter().all(is_free)).then_some(at);
    let numbers = panel.numbers();
    let wholes = numbers.iter().filter_map(|space| seat(whole(*space)));
    let of_halves = numbers.iter().filter(|space| listed(**space)).flat_map(|space| match poles {
        1 => half(*space).into_iter().map(|at| vec![at]).collect(),
        2 => vec![half(*space)],
        _ => Vec::new(),
    });
    let mut seats: Vec<Vec<Position>> = wholes.chain(of_halves.filter_map(seat)).collect();
    let sums = carried(basis, house, panel);
    let legs = usize::from(panel.supply.legs());
    let apart = |at: &Vec<Position>| {
        let mut sums = sums;
        at.iter().for_each(|p| sums[panel.leg(*p) as usize] += amps.0);
        let of = &sums[..legs];
        of.iter().copied().fold(0.0, f64::max) - of.iter().copied().fold(f64::INFINITY, f64::min)
    };
    let is_half = |at: &[Position]| at.iter().any(|p| p.half != Half::Whole);
    seats.sort_by(|a, b| is_half(a).cmp(&is_half(b)).then(apart(a).total_cmp(&apart(b))).then(a.cmp(b)));
    seats
}

/// What each leg carries at the usual peak: with what hangs beneath, panel by panel on its own leg. (handbook 3.5)
fn carried(basis: &Basis<'_>, house: &House, panel: &Panel) -> [f64; 3] {
    let usual = basis.usual();
    let mut sums = [0.0; 3];
    for breaker in house.breakers_of(panel.id) {
        // What a feeder of two wires more carries is not the same on both of its legs.
        let below = house.panel_fed_by(breaker.id).map(|sub| carried_by(basis, sub));
        for (nth, pole) in breaker.at.iter().enumerate() {
            let amps = match &below {
                Some(legs) => legs.get(nth).copied().unwrap_or_default(),
                None => usual.get(&breaker.id).map_or(0.0, |a| a.0),
            };
            sums[panel.leg(*pole) as usize] += amps;
        }
    }
    sums
}

/// What a panel takes on each leg at the usual peak, its feeder's first pole first.
fn carried_by(basis: &Basis<'_>, sub: &Panel) -> Vec<f64> {
    let found = basis.loaded.legs().iter().find(|legs| legs.id == sub.id);
    found.map(|legs| legs.each.iter().map(|leg| leg.usual.0).collect()).unwrap_or_default()
}

/// Making room, with all that each act asks and refuses on its own: all that comes out first, then what goes in.
pub(super) fn acts(w: &mut Working<'_>, room: &MakeRoom) -> Result<(), Invalid> {
    let mut taken = BTreeSet::new();
    let moved = room.moves.iter().map(|m| m.breaker);
    if room.acts.iter().flat_map(RoomAct::breakers).chain(moved).any(|b| !taken.insert(b) && !stays(room, b)) {
        return Err(Invalid::new("room", "something is done with one breaker twice"));
    }
    // It would come out, and land nowhere.
    let over = room.acts.iter().any(|act| matches!(act, RoomAct::MoveOver { .. }));
    if over && !matches!(w.plan.goal, Goal::SubPanel(_)) {
        return Err(Invalid::new("room", "nothing moves over where no panel is added"));
    }
    for act in &room.acts {
        match act {
            RoomAct::Tandem(halves) => tandem::check(w, halves)?,
            RoomAct::Quad(four) => quad::check(w, four)?,
            RoomAct::Join(joining) => combine::check(w, joining)?,
            RoomAct::TakeOut { breaker } => retire::check(w, *breaker)?,
            RoomAct::MoveOver { breaker } => w.touch([*breaker]),
        }
    }
    w.touch(room.moves.iter().map(|m| m.breaker));
    if !w.is_open() {
        return Ok(());
    }
    w.moving_out(&room.moves);
    for act in &room.acts {
        match act {
            RoomAct::Tandem(halves) => tandem::take_out(w, halves)?,
            RoomAct::Quad(four) => quad::take_out(w, four)?,
            RoomAct::Join(joining) => combine::take_out(w, joining)?,
            RoomAct::TakeOut { breaker } => retire::take_out(w, *breaker)?,
            RoomAct::MoveOver { breaker } => {
                if let Some(breaker) = w.house.breakers.get(*breaker) {
                    retire::lift_out(w, breaker);
                }
            }
        }
    }
    for act in &room.acts {
        match act {
            RoomAct::Tandem(halves) => tandem::put_in(w, halves)?,
            RoomAct::Quad(four) => quad::put_in(w, four)?,
            RoomAct::Join(joining) => combine::put_on(w, joining)?,
            RoomAct::TakeOut { .. } | RoomAct::MoveOver { .. } => {}
        }
    }
    w.moving_in(&room.moves);
    Ok(())
}

/// A breaker that another circuit joins may move.
fn stays(room: &MakeRoom, breaker: BreakerId) -> bool {
    let keeps = |act: &&RoomAct| matches!(act, RoomAct::Join(joining) if joining.keep == breaker);
    let acts = room.acts.iter().filter(|act| act.breakers().contains(&breaker));
    acts.clone().all(|act| keeps(&act)) && acts.count() == 1
}
