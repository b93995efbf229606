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
    let mut board = Board { half_rows, legs, listed, bodies: Vec::new(), apart: Vec::new(), even: None };
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

/// The cost of standing so, said again in other words than the search has; nothing where it cannot be.
fn cost(board: &Board, seats: &[Seat]) -> Option<MoveCost> {
    let mut sum = MoveCost { uneven: 0, bodies: 0, wires: 0, rows: 0, imbalance: 0 };
    let mut legs = [0_u32; 3];
    let mut taken = std::collections::BTreeSet::new();
    for (body, seat) in board.bodies.iter().zip(seats) {
        if !(0..body.height).all(|h| taken.insert((seat.right, seat.top + h))) {
            return None;
        }
        if let Some(from) = body.seat.filter(|from| from != seat) {
            sum.bodies += 1;
            sum.wires += body.wires;
            let side = if from.right == seat.right { 0 } else { 4 };
            sum.rows += (i32::from(from.top / 2) - i32::from(seat.top / 2)).unsigned_abs() + side;
        }
        body.poles.iter().for_each(|p| legs[usize::from((seat.top + p.down) / 2 % board.legs)] += p.load);
    }
    let on = |(b, p): (usize, usize)| (seats[b].top + board.bodies[b].poles[p].down) / 2 % board.legs;
    if board.apart.iter().any(|[one, other]| on(*one) == on(*other)) {
        return None;
    }
    let legs = &legs[..usize::from(board.legs)];
    sum.imbalance = legs.iter().max().unwrap() - legs.iter().min().unwrap();
    sum.uneven = board.even.map_or(0, |even| sum.imbalance.saturating_sub(even));
    Some(sum)
}

/// The least cost of all ways to stand.
fn by_trying_everything(board: &Board) -> Option<MoveCost> {
    fn go(board: &Board, seats: &mut Vec<Seat>, best: &mut Option<MoveCost>) {
        let Some(body) = board.bodies.get(seats.len()) else {
            let found = cost(board, seats);
            *best = [*best, found].into_iter().flatten().min();
            return;
        };
        let stays = body.seat.into_iter().filter(|_| body.fixed);
        let options: Vec<Seat> = if body.fixed { stays.collect() } else { board.seats(body) };
        let own = body.seat.into_iter().filter(|own| !options.contains(own)).collect::<Vec<_>>();
        for seat in options.into_iter().chain(own) {
            let mask = Mask::of(seat, body.height);
            if !seats.iter().zip(&board.bodies).any(|(s, b)| Mask::of(*s, b.height).meets(mask)) {
                seats.push(seat);
                go(board, seats, best);
                seats.pop();
            }
        }
    }
    let mut best = None;
    go(board, &mut Vec::new(), &mut best);
    best
}

fn found(board: &Board) -> Option<MoveCost> {
    match search(board, STEPS) {
        SearchEnd::Best(best, other) => {
            assert_eq!(cost(board, &best.seats), Some(best.cost), "a plan is legal and costs what it says");
            if let Some(other) = other {
                assert_eq!(cost(board, &other.seats), Some(best.cost), "the other is as good");
                assert_ne!(other.seats, best.seats);
            }
            Some(best.cost)
        }
        SearchEnd::Impossible => None,
        SearchEnd::CutOff(_) => panic!("cut off"),
    }
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
            let _ = write!(text, "\n + {} {}", 1_000_000 + 1000 * body.wires + rows, name(b, seat));
        }
    }
    text += "\nSubject To\n";
    for (b, seats) in options.iter().enumerate() {
        let _ = writeln!(text, " {} = 1", seats.iter().map(|s| name(b, s)).collect::<Vec<_>>().join("\n + "));
    }
    for right in [false, true] {
        for top in 0..board.half_rows[usize::from(right)] {
            let here = Mask::of(Seat { right, top }, 1);
            let over = |b: usize| options[b].iter().filter(move |s| Mask::of(**s, board.bodies[b].height).meets(here));
            let on: Vec<String> = (0..options.len()).flat_map(|b| over(b).map(move |s| name(b, s))).collect();
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
    let all: Vec<String> = (0..options.len()).flat_map(|b| options[b].iter().map(move |s| name(b, s))).collect();
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
        let ours = found(&board).map(|c| u64::from(1_000_000 * c.bodies + 1000 * c.wires + c.rows));
        assert_eq!(ours, by_solver(&board, Least::Moves(0)), "seed {seed}");
        possible += usize::from(ours.is_some());
    }
    assert!(possible > 12, "{possible} of 24 can be");
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
                assert_eq!(cost(&board, &best.seats), Some(best.cost), "seed {seed}");
                assert_eq!(u64::from(best.cost.uneven), least_uneven, "seed {seed}");
                let moves = u64::from(1_000_000 * best.cost.bodies + 1000 * best.cost.wires + best.cost.rows);
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
    let found = arrange(&f.house, panel, &wishes, &usual, &fixed.iter().copied().collect()).unwrap();
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
