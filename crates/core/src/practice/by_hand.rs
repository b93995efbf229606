//! The ways of today, played as people play them: the yardstick for the engine.

use super::walker::{Score, Walker};
use crate::trace::Sort;

/// Breakers off, none but these.
fn only(count: usize, breaker: Option<usize>) -> Vec<bool> {
    (0..count).map(|b| Some(b) == breaker).collect()
}

/// Everything found out so far: by point a breaker, or that it is dead, or nothing yet.
struct Map {
    feeder: Vec<Option<Option<usize>>>,
}

impl Map {
    /// What was known before stays known.
    fn begun(w: &Walker<'_>) -> Self {
        let known = |p: usize| (!w.world.open[p]).then_some(w.world.truth[p]);
        Self { feeder: (0..w.world.points()).map(known).collect() }
    }

    fn open(&self, point: usize) -> bool {
        self.feeder[point].is_none()
    }

    fn any_open(&self) -> bool {
        self.feeder.iter().any(Option::is_none)
    }

    fn finish(self, walker: Walker<'_>) -> Score {
        // What was never found is as wrong as what was found wrong; a map without it names no breaker the truth has.
        let open = self.feeder.iter().filter(|f| f.is_none()).count();
        let never = Some(usize::MAX);
        let map: Vec<_> = self.feeder.iter().map(|f| f.unwrap_or(never)).collect();
        walker.finish(&map, open)
    }
}

/// One breaker off at a time; every point not yet found is looked at. `careful`: dead points and switches are found
/// beforehand, and each dead reading is taken twice.
pub(super) fn one_at_a_time(mut w: Walker<'_>, careful: bool) -> Score {
    let (points, breakers) = (w.world.points(), w.off.len());
    let mut map = Map::begun(&w);
    if careful {
        let rooms: Vec<usize> = (0..w.world.rooms()).filter(|r| w.world.room.contains(r)).collect();
        let (_, seconds) = w.tour(&rooms, None, true);
        w.walk(seconds);
        for p in (0..points).filter(|p| w.world.open[*p]) {
            match w.world.sort[p] {
                Sort::Lighting | Sort::Outlet => {
                    if w.world.sort[p] == Sort::Lighting {
                        w.switch_on(p);
                    }
                    if w.look(p) && w.look(p) {
                        map.feeder[p] = Some(None);
                    }
                }
                Sort::Appliance | Sort::TwoPole => {}
            }
        }
    }
    for _ in 0..2 {
        for b in 0..breakers {
            let fit = |p: &usize| map.open(*p) && (w.world.sort[*p] == Sort::TwoPole) == w.world.double[b];
            let candidates: Vec<usize> = (0..points).filter(fit).collect();
            if candidates.is_empty() {
                continue;
            }
            w.set_off(&only(breakers, Some(b)));
            count_walk(&mut w);
            for p in walk_by(&mut w, &candidates) {
                let dead = w.look(p) && (!careful || w.look(p));
                if dead {
                    map.feeder[p] = Some(Some(b));
                }
            }
        }
        w.set_off(&only(breakers, None));
        if !map.any_open() {
            break;
        }
    }
    map.finish(w)
}

fn count_walk(w: &mut Walker<'_>) {
    if !w.two {
        w.outcome.walks += 1.0;
    }
}

/// Walks the rooms of these points and gives the points in that order.
fn walk_by(w: &mut Walker<'_>, points: &[usize]) -> Vec<usize> {
    let mut rooms: Vec<usize> = points.iter().map(|p| w.world.room[*p]).collect();
    rooms.sort_unstable();
    rooms.dedup();
    let start = if w.two { w.at } else { None };
    let (order, seconds) = w.tour(&rooms, start, true);
    w.walk(seconds);
    if w.two {
        w.at = order.last().copied();
    }
    order.iter().flat_map(|r| points.iter().copied().filter(|p| w.world.room[*p] == *r)).collect()
}

/// A transmitter at each point not yet found, the receiver at the panel, a switch-off to confirm, then the points near
/// by; two-pole breakers one at a time.
pub(super) fn transmitter(mut w: Walker<'_>) -> Score {
    let (points, breakers) = (w.world.points(), w.off.len());
    let mut map = Map::begun(&w);
    let mut given_up = vec![false; points];
    let mut tried = vec![0; points];
    let mut here: Option<usize> = None;
    loop {
        let left = (0..points).filter(|p| map.open(*p) && !given_up[*p] && w.world.sort[*p] != Sort::TwoPole);
        let far = |p: &usize| {
            let room = w.world.room[*p];
            let walk = here.map_or_else(|| w.panel_walk(room), |h| w.between(h, room));
            walk + if w.world.sort[*p] == Sort::Lighting { 1000.0 } else { 0.0 }
        };
        let Some(p) = left.min_by(|a, b| far(a).total_cmp(&far(b))) else { break };
        let room = w.world.room[p];
        let walk = here.map_or_else(|| w.panel_walk(room), |h| w.between(h, room));
        w.walk(walk);
        here = Some(room);
        w.plug_transmitter(p);
        let done = (0..3).any(|_| point_out_and_confirm(&mut w, &mut map, &mut here, p));
        w.spend(w.costs.unplug);
        if !done {
            tried[p] += 1;
            given_up[p] = tried[p] > 1;
        }
    }
    if !w.two {
        let walk = here.map_or(0.0, |h| w.panel_walk(h));
        w.walk(walk);
    }
    w.at = here;
    for _ in 0..2 {
        for b in (0..breakers).filter(|b| w.world.double[*b]) {
            let large: Vec<usize> = (0..points).filter(|p| map.open(*p) && w.world.sort[*p] == Sort::TwoPole).collect();
            if large.is_empty() {
                break;
            }
            w.set_off(&only(breakers, Some(b)));
            count_walk(&mut w);
            for p in walk_by(&mut w, &large) {
                if w.look(p) {
                    map.feeder[p] = Some(Some(b));
                }
            }
        }
    }
    w.set_off(&only(breakers, None));
    map.finish(w)
}

/// One sweep and its confirmation; true when the point is settled.
fn point_out_and_confirm(w: &mut Walker<'_>, map: &mut Map, here: &mut Option<usize>, p: usize) -> bool {
    let (breakers, room) = (w.off.len(), w.world.room[p]);
    if !w.two {
        let walk = here.map_or(0.0, |h| w.panel_walk(h));
        w.walk(walk);
        w.outcome.walks += 1.0;
    }
    w.set_off(&only(breakers, None));
    w.spend(w.costs.sweep);
    let mut found = w.point_out(p);
    // A two-pole breaker cannot be right for such a point: sweep again.
    if found.is_some_and(|b| w.world.double[b]) {
        w.spend(w.costs.sweep);
        found = w.point_out(p);
        if found.is_none_or(|b| w.world.double[b]) {
            return false;
        }
    }
    let Some(breaker) = found else {
        map.feeder[p] = Some(None);
        if !w.two {
            let walk = w.panel_walk(room);
            w.walk(walk);
            *here = Some(room);
        }
        return true;
    };
    w.set_off(&only(breakers, Some(breaker)));
    if !w.two {
        let walk = w.panel_walk(room);
        w.walk(walk);
    }
    *here = Some(room);
    if !w.look_at_transmitter(p) {
        return false;
    }
    map.feeder[p] = Some(Some(breaker));
    let mut near: Vec<usize> = (0..w.world.points())
        .filter(|q| map.open(*q) && w.world.sort[*q] != Sort::TwoPole && w.world.apart[room][w.world.room[*q]] <= 1)
        .collect();
    near.sort_by_key(|q| (w.world.apart[room][w.world.room[*q]], w.world.room[*q]));
    for q in near {
        let to = w.world.room[q];
        let walk = here.map_or(0.0, |h| w.between(h, to));
        w.walk(walk);
        *here = Some(to);
        if w.look(q) {
            map.feeder[q] = Some(Some(breaker));
        }
    }
    true
}

/// A fixed code: each breaker is off in its own set of rounds; one whole-house walk a round.
pub(super) fn halving(mut w: Walker<'_>) -> Score {
    use rand::RngExt;
    let (points, breakers) = (w.world.points(), w.off.len());
    let words = crate::trace::code_words(breakers);
    let rounds = words.first().map_or(0, Vec::len);
    let mut against = vec![vec![0_i32; breakers + 1]; points];
    let all: Vec<usize> = (0..points).filter(|p| w.world.open[*p]).collect();
    for round in 0..rounds {
        let off: Vec<bool> = words.iter().map(|word| word[round]).collect();
        w.set_off(&off);
        count_walk(&mut w);
        for p in walk_by(&mut w, &all) {
            let dead = w.look(p);
            // The last column is "dead anyway".
            for (against, off) in against[p].iter_mut().zip(off.iter().copied().chain([true])) {
                *against += i32::from(off != dead);
            }
        }
    }
    w.set_off(&only(breakers, None));
    let mut feeder = Vec::new();
    for (p, against) in against.iter().enumerate() {
        if !w.world.open[p] {
            feeder.push(Some(w.world.truth[p]));
            continue;
        }
        let big = w.world.sort[p] == Sort::TwoPole;
        let allowed = |b: &usize| *b == breakers || w.world.double[*b] == big;
        // Where two fit as well, chance decides, as it would on paper; a dead point is the less likely.
        let draw = |b: usize, rng: &mut rand::rngs::ChaCha8Rng| {
            f64::from(against[b]) + if b == breakers { 0.3 } else { 0.2 * rng.random::<f64>() }
        };
        let scores: Vec<(usize, f64)> = (0..=breakers).filter(allowed).map(|b| (b, draw(b, &mut w.rng))).collect();
        let best = scores.into_iter().min_by(|a, b| a.1.total_cmp(&b.1)).map_or(breakers, |(b, _)| b);
        feeder.push(Some((best < breakers).then_some(best)));
    }
    Map { feeder }.finish(w)
}
