//! Laying out a panel from nothing: where every breaker goes. (handbook 5.9)

use std::collections::BTreeSet;

use super::plan::Basis;
use crate::base::position::{Half, Position};
use crate::base::units::Amps;
use crate::code::sizes::UNKNOWN_OF_ONE_POLE;
use crate::house::{Breaker, BreakerId, Circuit, Device, House, Moving, Panel};

/// A breaker that is to find its place, with what it carries.
#[derive(Debug, Clone, Copy)]
pub(super) struct ToSeat<'a> {
    pub breaker: &'a Breaker,
    pub poles: usize,
    pub load: f64,
}

impl<'a> ToSeat<'a> {
    /// As it is, with what it carries at the usual peak; half its rating where nobody knows.
    pub(super) fn of(basis: &Basis<'_>, breaker: &'a Breaker) -> Self {
        let usual = basis.carries(breaker.id).map(|c| c.usual.0).filter(|amps| *amps > 0.0);
        Self { breaker, poles: breaker.at.len(), load: usual.unwrap_or(UNKNOWN_OF_ONE_POLE * breaker.amps.0) }
    }
}

/// Breakers that stand together: alone, or those that share a neutral.
pub(super) fn units<'a>(house: &House, breakers: &[ToSeat<'a>]) -> Vec<Vec<ToSeat<'a>>> {
    let root = |c: &Circuit| c.neutral_of.unwrap_or(c.id);
    let roots = |b: BreakerId| house.circuits_of(b).into_iter().map(root).collect::<BTreeSet<_>>();
    let mut seated: BTreeSet<BreakerId> = BTreeSet::new();
    let mut units = Vec::new();
    for one in breakers {
        let own = roots(one.breaker.id);
        let mate = |b: BreakerId| b == one.breaker.id || roots(b).iter().any(|root| own.contains(root));
        let with = |b: &&ToSeat<'a>| mate(b.breaker.id) && !seated.contains(&b.breaker.id);
        let unit: Vec<ToSeat<'a>> = breakers.iter().filter(with).copied().collect();
        seated.extend(unit.iter().map(|b| b.breaker.id));
        if !unit.is_empty() {
            units.push(unit);
        }
    }
    units
}

/// What takes spaces of its own.
struct Block<'a> {
    of: Vec<ToSeat<'a>>,
    /// Its breakers are the halves of one space.
    tandem: bool,
}

impl Block<'_> {
    fn spaces(&self) -> usize {
        if self.tandem { 1 } else { self.of.iter().map(|b| b.poles).sum() }
    }

    fn load(&self) -> f64 {
        self.of.iter().map(|b| b.load).sum()
    }

    fn amps(&self) -> f64 {
        self.of.iter().map(|b| b.breaker.amps.0).fold(0.0, f64::max)
    }

    /// Where its breakers stand, from a space down.
    fn at(&self, run: &[u16]) -> Vec<Moving> {
        let mut whole = run.iter().copied().map(Position::whole);
        let mut halves = [Half::Upper, Half::Lower].into_iter().map(|half| Position { space: run[0], half });
        let places: &mut dyn Iterator<Item = Position> = if self.tandem { &mut halves } else { &mut whole };
        let of = self.of.iter();
        of.map(|b| Moving { breaker: b.breaker.id, to: places.take(b.poles).collect() }).collect()
    }
}

/// Two plain single breakers of one rating are halves of one body where spaces are missing and the panel lists half-size
/// breakers: what carries least first. (handbook 5.5)
fn blocks<'a>(panel: &Panel, units: Vec<Vec<ToSeat<'a>>>) -> Vec<Block<'a>> {
    let poles: usize = units.iter().flatten().map(|b| b.poles).sum();
    let mut missing = poles.saturating_sub(usize::from(panel.spaces));
    let listed = panel.numbers().into_iter().filter(|space| panel.tandem.allow(*space)).count();
    let may = |unit: &Vec<ToSeat<'_>>| matches!(unit.as_slice(), [one] if one.poles == 1 && one.breaker.device == Device::Plain);
    let (mut small, rest): (Vec<_>, Vec<_>) = units.into_iter().partition(|unit| listed > 0 && may(unit));
    let mut all: Vec<Block<'a>> = rest.into_iter().map(|of| Block { of, tandem: false }).collect();
    small.sort_by(|a, b| a[0].load.total_cmp(&b[0].load));
    let mut left: Vec<ToSeat<'a>> = small.into_iter().flatten().collect();
    let mut pairs = 0;
    while missing > 0 && pairs < listed {
        let mate = |n: usize| (n + 1..left.len()).find(|m| left[*m].breaker.amps == left[n].breaker.amps);
        let Some((one, other)) = (0..left.len()).find_map(|n| Some((n, mate(n)?))) else { break };
        let lower = left.remove(other);
        all.push(Block { of: vec![left.remove(one), lower], tandem: true });
        (missing, pairs) = (missing - 1, pairs + 1);
    }
    all.extend(left.into_iter().map(|one| Block { of: vec![one], tandem: false }));
    all
}

/// Where breakers go: large ones near the main, pairs that share a neutral side by side, singles so that legs balance; halves of a
/// space only where spaces are missing. Nothing where they do not fit.
pub(super) fn seats(panel: &Panel, units: Vec<Vec<ToSeat<'_>>>) -> Option<Vec<Moving>> {
    let mut blocks = blocks(panel, units);
    // Of several spaces the largest first, then what has few places to go, then what carries most.
    blocks.sort_by(|a, b| {
        let key = |block: &Block<'_>| (if block.spaces() > 1 { block.spaces() } else { 0 }, block.tandem);
        let weight = |block: &Block<'_>| if block.spaces() > 1 { block.amps() } else { block.load() };
        key(b).cmp(&key(a)).then(weight(b).total_cmp(&weight(a)))
    });
    let by_row = |space: &u16| (panel.place(*space).1, *space);
    let mut free: Vec<u16> = panel.numbers();
    free.sort_by_key(by_row);
    let mut sums = [0.0_f64; 3];
    let mut placed: Vec<(Block<'_>, Vec<u16>)> = Vec::new();
    for block in blocks {
        let runs = free.iter().filter_map(|top| {
            let run: Vec<u16> = std::iter::successors(Some(*top), |s| panel.below(*s)).take(block.spaces()).collect();
            let fits = run.len() == block.spaces() && run.iter().all(|s| free.contains(s));
            (fits && (!block.tandem || panel.tandem.allow(*top))).then_some(run)
        });
        // Of one space what evens the legs, of several what is nearest to the main.
        let cost = |run: &Vec<u16>| if run.len() == 1 { sums[leg(panel, run[0])] } else { 0.0 };
        let best = runs.min_by(|a, b| cost(a).total_cmp(&cost(b)).then(by_row(&a[0]).cmp(&by_row(&b[0]))))?;
        free.retain(|s| !best.contains(s));
        let mut at = best.iter();
        for (space, load) in
            block.of.iter().flat_map(|b| (0..b.poles).map(|_| b.load)).filter_map(|load| {
                if block.tandem { Some((best[0], load)) } else { at.next().map(|space| (*space, load)) }
            })
        {
            sums[leg(panel, space)] += load;
        }
        placed.push((block, best));
    }
    evened(panel, &mut placed, sums);
    let mut moves: Vec<Moving> = placed.iter().flat_map(|(block, run)| block.at(run)).collect();
    moves.sort_by_key(|m| m.to.clone());
    Some(moves)
}

fn leg(panel: &Panel, space: u16) -> usize {
    panel.leg(Position::whole(space)) as usize
}

/// Nearer than this legs are even: a clamp tells no less apart. (common practice)
const EVEN: Amps = Amps(0.1);

/// Two of one space change places as long as that brings the legs nearer to each other.
fn evened(panel: &Panel, placed: &mut [(Block<'_>, Vec<u16>)], mut sums: [f64; 3]) {
    let legs = usize::from(panel.supply.legs());
    let apart = |sums: &[f64; 3]| {
        let of = &sums[..legs];
        of.iter().copied().fold(0.0, f64::max) - of.iter().copied().fold(f64::INFINITY, f64::min)
    };
    let may = |block: &Block<'_>, space: u16| !block.tandem || panel.tandem.allow(space);
    // Each exchange brings them nearer; there are no more of them than pairs.
    for _ in 0..placed.len() * placed.len() {
        let mut best: Option<(f64, usize, usize, [f64; 3])> = None;
        for one in 0..placed.len() {
            for other in one + 1..placed.len() {
                let ((a, at), (b, to)) = (&placed[one], &placed[other]);
                let (from, into) = (at[0], to[0]);
                let single = at.len() == 1 && to.len() == 1;
                if !single || leg(panel, from) == leg(panel, into) || !may(a, into) || !may(b, from) {
                    continue;
                }
                let mut then = sums;
                then[leg(panel, from)] += b.load() - a.load();
                then[leg(panel, into)] += a.load() - b.load();
                let gain = apart(&sums) - apart(&then);
                if gain > EVEN.0 && best.is_none_or(|(most, ..)| gain > most) {
                    best = Some((gain, one, other, then));
                }
            }
        }
        let Some((_, one, other, then)) = best else { return };
        let (at, to) = (placed[one].1.clone(), placed[other].1.clone());
        (placed[one].1, placed[other].1, sums) = (to, at, then);
    }
}

/// How many spaces are taken then.
pub(super) fn spaces_taken(moves: &[Moving]) -> usize {
    let spaces: BTreeSet<u16> = moves.iter().flat_map(|m| &m.to).map(|p| p.space).collect();
    spaces.len()
}

#[cfg(test)]
mod tests {
    use std::collections::BTreeMap;

    use super::*;
    use crate::fixture::Fixture;
    use crate::house::{CircuitId, PanelId, TandemSpaces};

    fn breakers(of: &[(usize, f64)]) -> Vec<Breaker> {
        let at = |poles: usize| (0..poles).map(|n| Position::whole(1 + 2 * n as u16)).collect();
        let made = |(n, (poles, amps)): (usize, &(usize, f64))| {
            Breaker::new(BreakerId(n as u64 + 1), PanelId(1), at(*poles), Amps(*amps))
        };
        of.iter().enumerate().map(made).collect()
    }

    fn laid(panel: &Panel, breakers: &[Breaker], pair: &[Circuit]) -> Option<BTreeMap<BreakerId, Vec<Position>>> {
        let load = |b: &Breaker| b.amps.0 / 2.0;
        let all: Vec<ToSeat<'_>> =
            breakers.iter().map(|b| ToSeat { breaker: b, poles: b.at.len(), load: load(b) }).collect();
        let mut house = Fixture::new(8).house;
        pair.iter().for_each(|c| house.circuits.put(c.clone()));
        let moves = seats(panel, units(&house, &all))?;
        Some(moves.into_iter().map(|m| (m.breaker, m.to)).collect())
    }

    fn panel(spaces: u16, tandem: TandemSpaces) -> Panel {
        Panel { tandem, ..Panel::new(PanelId(1), "Main", spaces) }
    }

    // Handbook 1.2, 5.9: eight spaces take a two-pole, a pair that shares its neutral and six singles where half sizes are listed:
    // two of these are halves of one space, of one rating, and all fits; without half sizes it does not.
    #[test]
    fn eight_spaces_take_more_where_half_sizes_are_listed() {
        let all = breakers(&[(2, 50.0), (1, 20.0), (1, 20.0), (1, 15.0), (1, 15.0), (1, 20.0), (1, 20.0), (1, 15.0)]);
        let circuit = |n: u64, of| Circuit { neutral_of: of, ..Circuit::new(CircuitId(n), BreakerId(n)) };
        let pair = [circuit(2, None), circuit(3, Some(CircuitId(2)))];
        assert!(laid(&panel(8, TandemSpaces::None), &all, &pair).is_none(), "nine poles and eight spaces");
        let panel = panel(8, TandemSpaces::Some([7, 8].into()));
        let at = laid(&panel, &all, &pair).unwrap();
        let taken: BTreeSet<Position> = at.values().flatten().copied().collect();
        assert_eq!(taken.len(), 9);
        let halves: Vec<BreakerId> =
            at.iter().filter(|(_, to)| to[0].half != Half::Whole).map(|(breaker, _)| *breaker).collect();
        assert_eq!(halves.len(), 2);
        assert!(halves.iter().all(|b| at[b][0].space >= 7), "where they are listed");
        let rating = |b: &BreakerId| all[b.0 as usize - 1].amps;
        assert_eq!(rating(&halves[0]), rating(&halves[1]), "one body, one rating");
        assert_eq!(at[&BreakerId(1)], [Position::whole(1), Position::whole(3)], "the largest nearest to the main");
        assert_eq!(panel.below(at[&BreakerId(2)][0].space), Some(at[&BreakerId(3)][0].space), "side by side");
    }

    // By trying every way to share singles out between two legs: the legs are as near as they can be, or within the least exchange.
    #[test]
    fn legs_are_nearly_as_even_as_they_can_be() {
        for seed in 0..40_u64 {
            let amps = |n: u64| [15.0, 20.0, 20.0, 30.0][((seed * 7 + n * n * 3 + n) % 4) as usize];
            let of: Vec<(usize, f64)> = (0..10).map(|n| (1, amps(n))).collect();
            let all = breakers(&of);
            let panel = panel(10, TandemSpaces::None);
            let at = laid(&panel, &all, &[]).unwrap();
            let sum =
                |on: &dyn Fn(usize) -> bool| -> f64 { (0..10).filter(|n| on(*n)).map(|n| all[n].amps.0 / 2.0).sum() };
            let total: f64 = sum(&|_| true);
            let on_a = |n: usize| leg(&panel, at[&all[n].id][0].space) == 0;
            let found = (total - 2.0 * sum(&on_a)).abs();
            // Rows 1 to 5 of two columns: six places on leg A, four on B.
            let of_six = |mask: &u32| mask.count_ones() == 6;
            let best = (0..1024_u32).filter(of_six).map(|mask| (total - 2.0 * sum(&|n| mask >> n & 1 == 1)).abs());
            let best = best.fold(f64::INFINITY, f64::min);
            assert!(found <= best + 2.5, "seed {seed}: {found} where {best} can be");
        }
    }
}
