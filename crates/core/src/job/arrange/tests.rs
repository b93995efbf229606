//! Against trying everything on small boards, against an independent solver on large ones, and on panels of the trade.

use std::fmt::Write;
use std::process::Command;

use rand::rngs::ChaCha8Rng;
use rand::{RngExt, SeedableRng};

use super::board::{Board, Body, Mask, Pole, Seat};
use super::search::{MoveCost, STEPS, SearchEnd, search};
use super::*;
use crate::fixture::Fixture;
use crate::house::{Circuit, CircuitId, PanelId, TandemSpaces};

/// A board with bodies of one to three rows, tandems and single halves at random, nearly full, some fixed, some pairs apart.
fn board(rows: u8, legs: u8, free: usize, seed: u64) -> Board {
    let mut rng = ChaCha8Rng::seed_from_u64(seed);
    let half_rows = [2 * rows, 2 * rows];
    let mut listed = Mask::default();
    for right in [false, true] {
        for top in (0..2 * rows).step_by(2).filter(|_| rng.random::<f64>() < 0.6) {
            listed |= Mask::of(Seat { right, top }, 2);
        }
    }
    let mut board =
        Board { half_rows, legs, listed, bodies: Vec::new(), apart: Vec::new(), even: None, acts: Acts::default() };
    let chance = free as f64 / f64::from(2 * rows);
    for right in [false, true] {
        let mut top = 0;
        while top < 2 * rows {
            let seat = Seat { right, top };
            let halves = Mask::of(seat, 2).is_within(listed) && rng.random::<f64>() < 0.5;
            let height = match rng.random_range(0..10) {
                0..6 => 2,
                6..9 => 4,
                _ => 6,
            };
            let height = if halves { [1, 2][rng.random_range(0..2)] } else { height };
            if top + height > 2 * rows || rng.random::<f64>() < chance {
                top += 2;
                continue;
            }
            let load = |rng: &mut ChaCha8Rng| rng.random_range(0..160);
            let poles = match (halves, height) {
                (true, 2) => vec![Pole { down: 0, load: load(&mut rng) }, Pole { down: 1, load: load(&mut rng) }],
                (true, _) => vec![Pole { down: 0, load: load(&mut rng) }],
                _ => {
                    let same = load(&mut rng);
                    (0..height / 2).map(|row| Pole { down: 2 * row, load: same }).collect()
                }
            };
            let (wires, fixed) = (poles.len() as u32, rng.random::<f64>() < 0.1);
            board.bodies.push(Body { height, halves, seat: Some(seat), fixed, only: None, wires, poles });
            top += height.max(2);
        }
    }
    let singles: Vec<usize> = (0..board.bodies.len()).filter(|b| board.bodies[*b].poles.len() == 1).collect();
    for pair in singles.chunks_exact(2).take(2) {
        let leg = |b: usize| board.leg(b, 0, board.bodies[b].seat.unwrap());
        if leg(pair[0]) != leg(pair[1]) {
            board.apart.push([(pair[0], 0), (pair[1], 0)]);
        }
    }
    board
}

fn wish(board: &mut Board, rows: u8, only: Option<Seat>) {
    board.bodies.push(Body { height: 2 * rows, only, ..EMPTY });
}

/// The cost of ending so, said again in other words than the search has; nothing where it cannot be.
fn cost(board: &Board, ends: &[End]) -> Option<MoveCost> {
    let mut sum = MoveCost { uneven: 0, bodies: 0, wires: 0, parts: 0, rows: 0, imbalance: 0 };
    let mut legs = [0_u32; 3];
    let mut taken = std::collections::BTreeSet::new();
    let mut acts = std::collections::BTreeSet::new();
    let mut kept = Vec::new();
    let rows = |from: Seat, to: Seat| {
        let side = if from.right == to.right { 0 } else { 4 };
        (i32::from(from.top / 2) - i32::from(to.top / 2)).unsigned_abs() + side
    };
    let mut stands = |seat: Seat, height: u8| (0..height).all(|h| taken.insert((seat.right, seat.top + h)));
    for (b, (body, end)) in board.bodies.iter().zip(ends).enumerate() {
        if !matches!(*end, End::At(to) if body.seat.is_none_or(|from| from == to)) {
            sum.bodies += 1;
            sum.wires += body.wires;
        }
        let leg = |seat: Seat, down: u8| usize::from((seat.top + down) / 2 % board.legs);
        match *end {
            End::At(seat) => {
                if !stands(seat, body.height) {
                    return None;
                }
                sum.rows += body.seat.map_or(0, |from| rows(from, seat));
                body.poles.iter().for_each(|p| legs[leg(seat, p.down)] += p.load);
            }
            End::Out => {
                acts.insert((0, b));
            }
            End::Over => {
                acts.insert((3, b));
                sum.parts += 3;
            }
            End::Joined(keep) => {
                acts.insert((1, b));
                kept.push(keep);
                sum.parts += 1;
                sum.rows += rows(body.seat?, board.bodies[keep].seat?);
                legs[leg(ends[keep].seat()?, 0)] += body.poles[0].load;
            }
            End::Merged(nth, seat) => {
                let merge = &board.acts.merges[nth];
                sum.rows += rows(body.seat?, seat);
                if acts.insert((2, nth)) {
                    sum.parts += if merge.height == 2 { 4 } else { 6 };
                    if !stands(seat, merge.height) || merge.bodies.iter().any(|b| ends[*b] != *end) {
                        return None;
                    }
                    merge.poles.iter().for_each(|p| legs[leg(seat, p.down)] += p.load);
                }
            }
        }
    }
    kept.sort_unstable();
    if acts.len() > board.acts.most as usize || kept.windows(2).any(|two| two[0] == two[1]) {
        return None;
    }
    let on =
        |(b, p): (usize, usize)| ends[b].seat().map(|seat| (seat.top + board.bodies[b].poles[p].down) / 2 % board.legs);
    if board.apart.iter().any(|[one, other]| on(*one) == on(*other)) {
        return None;
    }
    let legs = &legs[..usize::from(board.legs)];
    sum.imbalance = legs.iter().max().unwrap() - legs.iter().min().unwrap();
    sum.uneven = board.even.map_or(0, |even| sum.imbalance.saturating_sub(even));
    Some(sum)
}

/// All that may become of a body.
fn every_end(board: &Board, b: usize) -> Vec<End> {
    let body = &board.bodies[b];
    let stays = body.seat.filter(|_| body.fixed);
    let mut seats = if body.fixed { stays.into_iter().collect() } else { board.seats(body) };
    seats.extend(body.seat.filter(|own| !seats.contains(own)));
    let merged = |(nth, merge): (usize, &Merge)| {
        let of = if merge.bodies.contains(&b) { board.seats_of(merge) } else { Vec::new() };
        of.into_iter().map(move |seat| End::Merged(nth, seat))
    };
    let joined = board.acts.joins.iter().filter(|[gone, _]| *gone == b).map(|[_, keep]| End::Joined(*keep));
    let out = board.acts.idle.contains(&b).then_some(End::Out);
    let over = board.acts.over.contains(&b).then_some(End::Over);
    let acts = joined.chain(board.acts.merges.iter().enumerate().flat_map(merged)).chain(out).chain(over);
    seats.into_iter().map(End::At).chain(acts).collect()
}

/// The least cost of all ways to end.
fn by_trying_everything(board: &Board) -> Option<MoveCost> {
    fn go(board: &Board, taken: Mask, ends: &mut Vec<End>, best: &mut Option<MoveCost>) {
        let b = ends.len();
        if b == board.bodies.len() {
            let found = cost(board, ends);
            *best = [*best, found].into_iter().flatten().min();
            return;
        }
        for end in every_end(board, b) {
            let mask = match end {
                End::At(seat) => Mask::of(seat, board.bodies[b].height),
                End::Merged(nth, seat) if board.acts.merges[nth].bodies.iter().all(|other| *other >= b) => {
                    Mask::of(seat, board.acts.merges[nth].height)
                }
                End::Merged(nth, _) => {
                    let first = board.acts.merges[nth].bodies.iter().min().unwrap();
                    if ends[*first] != end {
                        continue;
                    }
                    Mask::default()
                }
                End::Joined(_) | End::Out | End::Over => Mask::default(),
            };
            if !mask.meets(taken) {
                ends.push(end);
                go(board, taken | mask, ends, best);
                ends.pop();
            }
        }
    }
    let mut best = None;
    go(board, Mask::default(), &mut Vec::new(), &mut best);
    best
}

fn found(board: &Board) -> Option<MoveCost> {
    match search(board, STEPS) {
        SearchEnd::Best(best, other) => {
            assert_eq!(cost(board, &best.ends), Some(best.cost), "a plan is legal and costs what it says");
            if let Some(other) = other {
                assert_eq!(cost(board, &other.ends), Some(best.cost), "the other is as good");
                assert_ne!(other.ends, best.ends);
            }
            Some(best.cost)
        }
        SearchEnd::Impossible => None,
        SearchEnd::CutOff(_) => panic!("cut off"),
    }
}

/// A board of whole bodies of one row and two, full but for a share.
fn full_board(rows: u8, legs: u8, free: f64, seed: u64) -> Board {
    let mut rng = ChaCha8Rng::seed_from_u64(seed);
    let mut board = Board {
        half_rows: [2 * rows, 2 * rows],
        legs,
        listed: Mask::default(),
        bodies: Vec::new(),
        apart: Vec::new(),
        even: None,
        acts: Acts::default(),
    };
    for right in [false, true] {
        let mut top = 0;
        while top < 2 * rows {
            let seat = Seat { right, top };
            if rng.random::<f64>() < 0.7 {
                board.listed |= Mask::of(seat, 2);
            }
            let height = if top + 4 <= 2 * rows && rng.random::<f64>() < 0.3 { 4 } else { 2 };
            if rng.random::<f64>() >= free {
                let load = rng.random_range(0..160);
                let poles: Vec<Pole> = (0..height / 2).map(|row| Pole { down: 2 * row, load }).collect();
                let wires = poles.len() as u32;
                board.bodies.push(Body { height, seat: Some(seat), wires, poles, ..EMPTY });
            }
            top += height;
        }
    }
    board
}

/// Lets some bodies be joined, made into tandems and quads, and taken out, at random.
fn with_acts(board: &mut Board, seed: u64) {
    let mut rng = ChaCha8Rng::seed_from_u64(seed ^ 0x5a5a);
    let free = |b: &usize| {
        let body = &board.bodies[*b];
        !body.fixed && !body.halves && body.seat.is_some() && !board.apart.iter().flatten().any(|(a, _)| a == b)
    };
    let of =
        |poles: usize| (0..board.bodies.len()).filter(free).filter(|b| board.bodies[*b].poles.len() == poles).collect();
    let (singles, doubles): (Vec<usize>, Vec<usize>) = (of(1), of(2));
    let mut acts = Acts { most: 4, ..Acts::default() };
    let merge = |bodies: Vec<usize>| {
        let loads = bodies.iter().flat_map(|b| board.bodies[*b].poles.iter().map(|p| p.load));
        let poles: Vec<Pole> = (0..).zip(loads).map(|(down, load)| Pole { down, load }).collect();
        Merge { bodies, height: poles.len() as u8, poles }
    };
    for (nth, one) in singles.iter().enumerate() {
        for other in &singles[nth + 1..] {
            if rng.random::<f64>() < 0.5 {
                acts.joins.push([*one, *other]);
            }
            if rng.random::<f64>() < 0.5 {
                acts.merges.push(merge(vec![*one, *other]));
            }
            for double in doubles.iter().filter(|_| rng.random::<f64>() < 0.3) {
                acts.merges.push(merge(vec![*one, *double, *other]));
            }
        }
    }
    for idle in singles.iter().chain(&doubles).filter(|_| rng.random::<f64>() < 0.1).copied().collect::<Vec<_>>() {
        acts.idle.push(idle);
        board.bodies[idle].wires = 0;
    }
    // Every third board is one beside which another panel is made.
    if seed % 3 == 1 {
        acts.over = doubles.iter().chain(&singles).filter(|_| rng.random::<f64>() < 0.3).copied().collect();
    }
    board.acts = acts;
}

// Room for two or three in panels that are full, by what may be done in them.
#[test]
fn on_small_boards_acts_are_the_best_of_all_that_could_be_done() {
    let (mut acted, mut impossible) = (0, 0);
    for seed in 0..120 {
        let mut board = full_board(3, if seed % 3 == 0 { 3 } else { 2 }, 0.1, 9000 + seed);
        with_acts(&mut board, seed);
        let at = Seat { right: seed % 2 == 0, top: 2 };
        wish(&mut board, 1 + (seed / 2 % 2) as u8, (seed % 4 == 0).then_some(at));
        // More bodies in hand than the bound are another matter.
        let best = by_trying_everything(&board).filter(|best| best.bodies <= MOST_WITH_ACTS);
        assert_eq!(found(&board), best, "seed {seed}");
        // With an act asked for it is legal as well, and no cheaper.
        board.acts.least = 1;
        if let SearchEnd::Best(other, _) = search(&board, STEPS) {
            assert_eq!(cost(&board, &other.ends), Some(other.cost), "seed {seed}");
            let is_act = |end: &End| end.seat().is_none();
            assert!(other.ends.iter().any(is_act) && best.is_some_and(|best| best <= other.cost), "seed {seed}");
        }
        match best {
            Some(best) => acted += usize::from(best.parts > 0),
            None => impossible += 1,
        }
    }
    assert!(acted > 40 && impossible > 10, "{acted} by acts, {impossible} not at all");
}

#[test]
fn on_small_boards_it_is_the_best_of_all_ways() {
    let (mut possible, mut impossible) = (0, 0);
    for seed in 0..300 {
        let mut board = board(4, if seed % 3 == 0 { 3 } else { 2 }, 2 + seed as usize % 2, seed);
        let at = Seat { right: seed % 2 == 0, top: 2 };
        wish(&mut board, 1 + (seed % 2) as u8, (seed % 4 == 0).then_some(at));
        if seed % 5 == 0 {
            wish(&mut board, 1, None);
        }
        let best = by_trying_everything(&board);
        assert_eq!(found(&board), best, "seed {seed}");
        if best.is_some() { possible += 1 } else { impossible += 1 }
    }
    assert!(possible > 100 && impossible > 20, "{possible} possible, {impossible} not");
}

// Legs that are to be even, with room wished for beside in every other one.
#[test]
fn on_small_boards_legs_are_as_even_as_by_any_way() {
    let mut moved = 0;
    for seed in 0..120 {
        let mut board = board(3, if seed % 3 == 0 { 3 } else { 2 }, 1 + seed as usize % 2, 5000 + seed);
        board.even = Some(if seed % 4 == 0 { 0 } else { 10 });
        if seed % 2 == 0 {
            wish(&mut board, 1, None);
        }
        let best = by_trying_everything(&board);
        assert_eq!(found(&board), best, "seed {seed}");
        if let Some(best) = best {
            assert!(best.imbalance >= board.least_imbalance(), "seed {seed}: no less is possible than the least");
            moved += usize::from(best.bodies > 1);
        }
    }
    assert!(moved > 15, "{moved}");
}

/// What an integer program of a board is to make least.
#[derive(Clone, Copy)]
enum Least {
    /// How far its legs are from even.
    Uneven,
    /// What is moved, with legs no further from even than so much.
    Moves(u32),
}

/// Bodies, wires, parts and rows in one number: no sum of lighter ones comes up to a heavier one, and none is too large for a solver.
fn weighed([bodies, wires, parts, rows]: [u32; 4]) -> u64 {
    u64::from(bodies) * 1_000_000 + u64::from(wires) * 20_000 + u64::from(parts) * 500 + u64::from(rows)
}

/// An act of the integer program.
struct Act {
    name: String,
    weight: u64,
    gone: Vec<usize>,
    keep: Option<usize>,
    mask: Mask,
}

fn acts_of(board: &Board) -> Vec<Act> {
    let (mut found, none) = (Vec::new(), Mask::default());
    let own = |b: usize| board.bodies[b].seat.unwrap();
    let wires = |bodies: &[usize]| bodies.iter().map(|b| board.bodies[*b].wires).sum::<u32>();
    for b in &board.acts.idle {
        let weight = weighed([1, wires(&[*b]), 0, 0]);
        found.push(Act { name: format!("out{b}"), weight, gone: vec![*b], keep: None, mask: none });
    }
    for b in &board.acts.over {
        let weight = weighed([1, wires(&[*b]), 3, 0]);
        found.push(Act { name: format!("over{b}"), weight, gone: vec![*b], keep: None, mask: none });
    }
    for [gone, keep] in &board.acts.joins {
        let weight = weighed([1, wires(&[*gone]), 1, own(*gone).rows_to(own(*keep))]);
        found.push(Act {
            name: format!("join{gone}_{keep}"),
            weight,
            gone: vec![*gone],
            keep: Some(*keep),
            mask: none,
        });
    }
    for (nth, merge) in board.acts.merges.iter().enumerate() {
        for seat in board.seats_of(merge) {
            let rows = merge.bodies.iter().map(|b| own(*b).rows_to(seat)).sum();
            let parts = if merge.height == 2 { 4 } else { 6 };
            found.push(Act {
                name: format!("half{nth}_{}_{}", u8::from(seat.right), seat.top),
                weight: weighed([merge.bodies.len() as u32, wires(&merge.bodies), parts, rows]),
                gone: merge.bodies.clone(),
                keep: None,
                mask: Mask::of(seat, merge.height),
            });
        }
    }
    found
}

/// The same board as an integer program: each body one seat, each half row one body, pairs apart, the costs weighed so that no
/// sum of lighter ones comes up to a heavier one.
fn program(board: &Board, least: Least) -> String {
    let mut options: Vec<Vec<Seat>> = Vec::new();
    for body in &board.bodies {
        let mut seats = if body.fixed { Vec::new() } else { board.seats(body) };
        seats.extend(body.seat.filter(|own| !seats.contains(own)));
        options.push(seats);
    }
    let name = |b: usize, s: &Seat| format!("x{b}_{}_{}", u8::from(s.right), s.top);
    let mut text = "Minimize\n cost: 0 none".to_owned();
    if matches!(least, Least::Uneven) {
        text += " + uneven";
    }
    for (b, body) in board.bodies.iter().enumerate().filter(|_| matches!(least, Least::Moves(_))) {
        for seat in options[b].iter().filter(|s| body.seat.is_some_and(|own| own != **s)) {
            let rows = body.seat.unwrap().rows_to(*seat);
            let _ = write!(text, "\n + {} {}", weighed([1, body.wires, 0, rows]), name(b, seat));
        }
    }
    let acts = acts_of(board);
    for act in &acts {
        let _ = write!(text, "\n + {} {}", act.weight, act.name);
    }
    text += "\nSubject To\n";
    for (b, seats) in options.iter().enumerate() {
        let by = acts.iter().filter(|act| act.gone.contains(&b)).map(|act| act.name.clone());
        let _ = writeln!(text, " {} = 1", seats.iter().map(|s| name(b, s)).chain(by).collect::<Vec<_>>().join("\n + "));
        // One that another joins stands somewhere, and only one joins it.
        let joined: Vec<&str> = acts.iter().filter(|a| a.keep == Some(b)).map(|a| a.name.as_str()).collect();
        if !joined.is_empty() {
            let stands = seats.iter().map(|s| name(b, s)).collect::<Vec<_>>().join("\n - ");
            let _ = writeln!(text, " {} - {stands} <= 0", joined.join("\n + "));
        }
    }
    if !acts.is_empty() {
        let all: Vec<&str> = acts.iter().map(|act| act.name.as_str()).collect();
        let _ = writeln!(text, " {} <= {}", all.join("\n + "), board.acts.most);
    }
    for right in [false, true] {
        for top in 0..board.half_rows[usize::from(right)] {
            let here = Mask::of(Seat { right, top }, 1);
            let over = |b: usize| options[b].iter().filter(move |s| Mask::of(**s, board.bodies[b].height).meets(here));
            let merged = acts.iter().filter(|act| act.mask.meets(here)).map(|act| act.name.clone());
            let on: Vec<String> =
                (0..options.len()).flat_map(|b| over(b).map(move |s| name(b, s))).chain(merged).collect();
            if !on.is_empty() {
                let _ = writeln!(text, " {} <= 1", on.join("\n + "));
            }
        }
    }
    for pair in &board.apart {
        for leg in 0..board.legs {
            let on = pair.iter().flat_map(|(b, p)| {
                options[*b].iter().filter(move |s| board.leg(*b, *p, **s) == leg).map(move |s| name(*b, s))
            });
            let on: Vec<String> = on.collect();
            if !on.is_empty() {
                let _ = writeln!(text, " {} <= 1", on.join("\n + "));
            }
        }
    }
    if let Some(even) = board.even {
        for leg in 0..board.legs {
            let mut sum = String::new();
            for (b, body) in board.bodies.iter().enumerate() {
                for seat in &options[b] {
                    let on = |p: &&Pole| (seat.top + p.down) / 2 % board.legs == leg;
                    let load: u32 = body.poles.iter().filter(on).map(|p| p.load).sum();
                    if load > 0 {
                        let _ = write!(sum, "\n + {load} {}", name(b, seat));
                    }
                }
            }
            let _ = writeln!(text, " {sum} + 0 none - most <= 0\n {sum} + 0 none - fewest >= 0");
        }
        let _ = writeln!(text, " most - fewest - uneven <= {even}");
        if let Least::Moves(uneven) = least {
            let _ = writeln!(text, " uneven <= {uneven}");
        }
    }
    let all = (0..options.len()).flat_map(|b| options[b].iter().map(move |s| name(b, s)));
    let all: Vec<String> = all.chain(acts.iter().map(|act| act.name.clone())).collect();
    let _ = write!(text, "Binary\n {} none\nEnd\n", all.join("\n "));
    text
}

/// The optimum of an independent solver (GLPK's glpsol, which `cargo xtask test` installs); nothing where there is no way.
fn by_solver(board: &Board, least: Least) -> Option<u64> {
    let folder = tempfile::tempdir().unwrap();
    let (model, out) = (folder.path().join("board.lp"), folder.path().join("board.out"));
    std::fs::write(&model, program(board, least)).unwrap();
    let run = Command::new("glpsol").arg("--lp").arg(&model).arg("--cuts").arg("-w").arg(&out).output();
    let run = run.expect("glpsol is installed: cargo xtask test");
    assert!(run.status.success(), "{}", String::from_utf8_lossy(&run.stdout));
    let told = std::fs::read_to_string(&out).unwrap();
    let line = told.lines().find(|l| l.starts_with("s mip")).expect("a solution");
    let words: Vec<&str> = line.split_whitespace().collect();
    (words[4] == "o").then(|| words[5].parse::<f64>().unwrap().round() as u64)
}

#[test]
fn on_panels_of_42_spaces_it_is_what_an_independent_solver_finds() {
    let mut possible = 0;
    for seed in 0..24 {
        let mut board = board(21, if seed % 3 == 0 { 3 } else { 2 }, 3 + seed as usize % 3, 1000 + seed);
        wish(&mut board, 2 + u8::from(seed % 6 == 5), None);
        let ours = found(&board).map(|c| weighed([c.bodies, c.wires, c.parts, c.rows]));
        assert_eq!(ours, by_solver(&board, Least::Moves(0)), "seed {seed}");
        possible += usize::from(ours.is_some());
    }
    assert!(possible > 12, "{possible} of 24 can be");
}

/// So many in the suite; `WAYFINDER_BOARDS=200` plays as many as docs/benchmarks.md tells of.
const BOARDS_IN_THE_SUITE: u64 = 8;

// Room for two in full panels of 20 to 42 spaces, with what may be done in them as plans have it: partners that are near.
#[test]
fn room_by_several_acts_costs_what_an_independent_solver_finds() {
    let count = std::env::var("WAYFINDER_BOARDS").ok().and_then(|n| n.parse().ok()).unwrap_or(BOARDS_IN_THE_SUITE);
    let (mut proven, mut acted, mut cut_off, mut none) = (0, 0, 0, 0);
    for seed in 0..count {
        let rows = 10 + (seed % 12) as u8;
        let mut board = full_board(rows, if seed % 3 == 0 { 3 } else { 2 }, 0.02, 20_000 + seed);
        with_near_acts(&mut board, seed);
        wish(&mut board, 2, None);
        let told = |c: MoveCost| weighed([c.bodies, c.wires, c.parts, c.rows]);
        match search(&board, STEPS_WITH_ACTS) {
            SearchEnd::Best(best, _) => {
                assert_eq!(cost(&board, &best.ends), Some(best.cost), "seed {seed}");
                assert_eq!(Some(told(best.cost)), by_solver(&board, Least::Moves(0)), "seed {seed}");
                proven += 1;
                acted += usize::from(best.ends.iter().any(|end| end.seat().is_none()));
            }
            SearchEnd::CutOff(best) => {
                let least = by_solver(&board, Least::Moves(0));
                assert!(best.is_none_or(|best| least.is_some_and(|least| least <= told(best.cost))), "seed {seed}");
                cut_off += 1;
            }
            SearchEnd::Impossible => {
                let least = by_solver(&board, Least::Moves(0));
                assert!(least.is_none_or(|least| least >= weighed([MOST_WITH_ACTS + 1, 0, 0, 0])), "seed {seed}");
                none += 1;
            }
        }
    }
    println!("{proven} of {count} proven, {acted} by acts; {cut_off} cut off, {none} not possible");
    assert!(proven as u64 > count / 2 && acted as u64 > count / 4, "{proven} of {count}, {acted} by acts");
}

/// Acts as plans have them: each single with the nearest three, each two-pole with pairs of the singles next to it.
fn with_near_acts(board: &mut Board, seed: u64) {
    with_acts(board, seed);
    let far = |a: usize, b: usize| board.bodies[a].seat.unwrap().rows_to(board.bodies[b].seat.unwrap());
    let near = |bodies: &[usize]| bodies.iter().all(|a| bodies.iter().all(|b| far(*a, *b) <= 3));
    let merges = board.acts.merges.iter().filter(|merge| near(&merge.bodies)).cloned().collect();
    let joins = board.acts.joins.iter().filter(|join| near(*join)).copied().collect();
    board.acts = Acts { merges, joins, ..board.acts.clone() };
}

// First as even as can be, then with the fewest moves: each by a program of its own. What was cut off keeps within its gap.
#[test]
fn legs_are_as_even_and_as_little_is_moved_as_an_independent_solver_finds() {
    let mut proven = 0;
    for seed in 0..10 {
        let mut board = board(6, if seed % 3 == 0 { 3 } else { 2 }, 2, 7000 + seed);
        board.even = Some(10);
        let least_uneven = by_solver(&board, Least::Uneven).unwrap();
        match search(&board, STEPS) {
            SearchEnd::Best(best, _) => {
                assert_eq!(cost(&board, &best.ends), Some(best.cost), "seed {seed}");
                assert_eq!(u64::from(best.cost.uneven), least_uneven, "seed {seed}");
                let moves = weighed([best.cost.bodies, best.cost.wires, best.cost.parts, best.cost.rows]);
                assert_eq!(Some(moves), by_solver(&board, Least::Moves(best.cost.uneven)), "seed {seed}");
                proven += usize::from(best.cost.bodies > 0);
            }
            SearchEnd::CutOff(best) => {
                let told = u64::from(best.unwrap().cost.uneven);
                let bound = u64::from(board.least_imbalance().saturating_sub(10));
                assert!(bound <= least_uneven && least_uneven <= told, "seed {seed}: {bound} {least_uneven} {told}");
            }
            SearchEnd::Impossible => panic!("seed {seed}: as it stands it can be"),
        }
    }
    assert!(proven > 4, "{proven} of 10 are proven, with something moved");
}

/// A panel of so many spaces with these breakers, of which the others are looked at and empty.
fn panel(spaces: u16, breakers: &[(&str, f64)]) -> Fixture {
    panel_listing(spaces, TandemSpaces::None, breakers)
}

fn panel_listing(spaces: u16, tandem: TandemSpaces, breakers: &[(&str, f64)]) -> Fixture {
    let mut f = Fixture::new(spaces);
    let panel = Panel { tandem, ..f.house.panels.iter().next().unwrap().clone() };
    f.house.panels.put(panel.clone());
    breakers.iter().for_each(|(at, amps)| {
        f.breaker(at, *amps, "");
    });
    let empty = f.house.not_entered(&panel).into_iter().collect();
    f.house.panels.put(Panel { empty, ..panel });
    f.house.check().unwrap();
    f
}

fn at(f: &Fixture, space: &str) -> BreakerId {
    f.house.breaker_called(space).unwrap()
}

fn asked(f: &Fixture, wish: &str, fixed: &[BreakerId]) -> Arranged {
    let panel = f.house.panels.iter().next().unwrap();
    let wishes = [Wish::parse(wish).unwrap()];
    let usual = f.house.breakers.iter().map(|b| (b.id, Amps(b.amps.0 / 2.0))).collect();
    let found = arrange(&f.house, panel, &wishes, &usual, &fixed.iter().copied().collect(), &[]).unwrap();
    if let Arranged::Possible(found) = &found {
        // What comes out is a house that holds together, and the room is really there.
        let mut house = f.house.clone();
        for step in &found.moves {
            let breaker = house.breakers.get(step.breaker).unwrap().clone();
            house.breakers.put(Breaker { at: crate::base::position::parse_poles(&step.to).unwrap(), ..breaker });
        }
        let taken = |position: &Position| house.breakers.iter().any(|b| b.at.iter().any(|p| p.overlaps(*position)));
        let rooms = found.room.iter().flat_map(|r| crate::base::position::parse_poles(r).unwrap());
        assert!(rooms.into_iter().all(|p| !taken(&p)), "{found:?}");
        let panel = Panel { empty: BTreeSet::new(), ..house.panels.iter().next().unwrap().clone() };
        house.panels.put(panel);
        house.check().unwrap();
    }
    found
}

fn moves(found: &Arranged) -> Vec<String> {
    match found {
        Arranged::Possible(found) => found.moves.iter().map(|m| format!("{}→{}", m.from, m.to)).collect(),
        other => panic!("{other:?}"),
    }
}

fn impossible(found: &Arranged) -> &str {
    match found {
        Arranged::Impossible { impossible } => impossible,
        other => panic!("{other:?}"),
    }
}

// Two spaces are free, one in each column: one body makes two adjacent ones. (handbook 1.2: adjacent in one column is on two legs)
#[test]
fn one_breaker_moves_where_one_is_enough() {
    let f = panel(8, &[("1", 20.0), ("2", 15.0), ("4", 20.0), ("5", 20.0), ("7", 20.0), ("8", 15.0)]);
    let found = asked(&f, "2p", &[]);
    assert_eq!(moves(&found).len(), 1, "{found:?}");
    let Arranged::Possible(told) = &found else { panic!() };
    assert!(told.optimal && told.bodies == 1 && told.wires == 1, "{told:?}");
    assert!(told.other.is_some(), "two that are as good are both told");
}

#[test]
fn a_large_breaker_moves_up_by_one_row_over_its_own_place() {
    let f = panel(8, &[("3-5", 30.0), ("2-4", 30.0), ("6-8", 50.0)]);
    assert_eq!(moves(&asked(&f, "2p", &[])).len(), 1);
    // From 3-5 to 1-3: space 5 is free then, beside 7.
    assert_eq!(moves(&asked(&f, "5=2p", &[])), ["3-5→1-3"]);
}

// NEC 210.4 (value from memory): the hots of a shared neutral stay on different legs.
#[test]
fn a_pair_with_a_shared_neutral_stays_on_two_legs() {
    let mut f = panel(6, &[("1", 20.0), ("3", 20.0), ("2", 15.0), ("4", 15.0)]);
    let (one, three) = (at(&f, "1"), at(&f, "3"));
    f.house.circuits.put(Circuit::new(CircuitId(1), one));
    f.house.circuits.put(Circuit { neutral_of: Some(CircuitId(1)), ..Circuit::new(CircuitId(2), three) });
    f.house.check().unwrap();
    // 3 to the free 5 would come onto the leg of 1; 1 has to stay, so 3 cannot go there without it.
    let found = asked(&f, "3=1p", &[one]);
    assert_eq!(moves(&found).len(), 2, "another one makes place on leg B: {found:?}");
    let alone = panel(6, &[("1", 20.0), ("3", 20.0), ("2", 15.0), ("4", 15.0)]);
    assert_eq!(moves(&asked(&alone, "3=1p", &[one])), ["3→5"]);
}

// NEC 408.54 (value from memory), handbook 1.2: half-size breakers only where the panel lists them; a tandem moves as one.
#[test]
fn a_tandem_goes_only_where_it_is_listed_and_as_one() {
    let listed = |spaces: &[u16]| {
        let tandem = TandemSpaces::Some(spaces.iter().copied().collect());
        panel_listing(8, tandem, &[("1a", 15.0), ("1b", 15.0), ("5", 20.0), ("2-4", 30.0)])
    };
    let found = asked(&listed(&[1, 7, 8]), "1=2p", &[]);
    assert_eq!(moves(&found), ["1a→7a", "1b→7b"]);
    let Arranged::Possible(told) = &found else { panic!() };
    assert_eq!((told.bodies, told.wires, told.rows), (1, 2, 3));
    assert!(
        impossible(&asked(&listed(&[1]), "1=2p", &[]))
            .contains("half-size breakers may stand only where the panel lists them")
    );
}

#[test]
fn what_cannot_be_is_told_with_the_reason() {
    let f = panel(4, &[("1", 20.0), ("4", 15.0)]);
    assert!(
        impossible(&asked(&f, "2p", &[at(&f, "1"), at(&f, "4")]))
            .contains("no two adjacent spaces can be made: 1, 4 have to stay")
    );
    assert!(impossible(&asked(&f, "3p", &[])).contains("only 3 and 2 are free, and 3 spaces are needed"));
    // What nobody entered may be full.
    let mut unknown = panel(4, &[("1", 20.0)]);
    let panel = unknown.house.panels.iter().next().unwrap().clone();
    unknown.house.panels.put(Panel { empty: BTreeSet::new(), ..panel });
    assert!(impossible(&asked(&unknown, "1p", &[])).contains("2, 3, 4 are not entered"));
    let f = Wish::parse("4p").unwrap_err();
    assert_eq!((f.field.as_str(), f.message.contains("5=2p")), ("for", true));
    let mut full = panel_with_most(4);
    let all: Vec<BreakerId> = full.house.breakers.iter().map(|b| b.id).collect();
    assert!(impossible(&asked(&full, "2p", &all)).contains("the label allows 4 circuits"), "{:?}", full.house.panels);
    let panel = full.house.panels.get(PanelId(1)).unwrap().clone();
    full.house.panels.put(Panel { max_circuits: None, ..panel });
    assert_eq!(moves(&asked(&full, "2p", &[])).len(), 0, "two stand free already");
}

// The smallest reason: of two that are fixed just the one that is in the way is named.
#[test]
fn only_what_is_in_the_way_is_named() {
    let f = panel(8, &[("1", 20.0), ("2", 15.0), ("4-6", 30.0), ("5", 20.0)]);
    let found = asked(&f, "3=2p", &[at(&f, "5"), at(&f, "4-6")]);
    assert_eq!(
        impossible(&found),
        "no two adjacent spaces from 3 down can be made: 5 has to stay; it has to be at that place"
    );
    let found = asked(&f, "2p", &[at(&f, "4-6"), at(&f, "5")]);
    assert_eq!(moves(&found).len(), 1, "elsewhere one of the others makes room");
}

// Handbook 3.5: the sum of each leg decides. 30 A of usual load on leg A, 8 on B: 20 A less one 10 goes over.
#[test]
fn an_uneven_panel_is_made_even_by_one_exchange() {
    let f = panel(4, &[("1", 40.0), ("2", 24.0), ("3", 10.0), ("4", 14.0)]);
    let found = asked(&f, "balance", &[]);
    // Legs carry 32 and 12 A; 12 A for 5 A leaves 25 and 19, 12 for 7: 27 and 17, 20 for 5: 17 and 27, 20 for 7: 19 and 25.
    let Arranged::Possible(told) = &found else { panic!("{found:?}") };
    assert_eq!((told.imbalance.0, told.bodies, told.optimal), (6.0, 2, true), "{told:?}");
    let even = panel(4, &[("1", 20.0), ("3", 20.0)]);
    assert_eq!(moves(&asked(&even, "balance", &[])).len(), 0, "nothing to do");
}

fn panel_with_most(most: u16) -> Fixture {
    let mut f = panel(8, &[("1", 20.0), ("3", 20.0), ("5", 20.0)]);
    let panel = f.house.panels.iter().next().unwrap().clone();
    f.house.panels.put(Panel { max_circuits: Some(most), ..panel });
    f
}
