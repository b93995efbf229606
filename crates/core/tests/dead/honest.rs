//! What is doubted: not honest looks; and where one handle stood otherwise than noted, that and nothing else.

use std::collections::{BTreeMap, BTreeSet};

use jiff::Timestamp;
use rand::rngs::ChaCha8Rng;
use rand::seq::{IndexedRandom, SliceRandom};
use rand::{RngExt, SeedableRng};
use wayfinder_core::house::*;
use wayfinder_core::practice::{Setting, World};
use wayfinder_core::trace::{Correction, PointBelief, beliefs, doubts};
use wayfinder_core::{Change, House};

use crate::house::{Mapped, made};

fn look(house: &mut House, next: &mut u64, point: PointId, off: &[BreakerId], seen: Seen) {
    *next += 1;
    let time = Timestamp::from_second(*next as i64).unwrap();
    let observation = Observation::Power { off: off.iter().copied().collect(), seen, how: Way::Tester };
    house.evidence.put(Evidence { id: EvidenceId(*next), point, time, who: "Fern".into(), step: None, observation });
}

/// Where a house comes from.
#[derive(Debug, Clone, Copy)]
enum From {
    /// The model of these tests.
    Trees,
    /// The practice room, as usual; and of 42 breakers and 200 points.
    Usual,
    Large,
    /// With few right labels and many strays.
    Odd,
}

/// A house and what truly feeds its points.
fn world(from: From, seed: u64) -> (House, BTreeMap<PointId, BreakerId>) {
    let of = |setting| {
        let world = World::new(setting, 80_000 + seed);
        let hung = world.house.points.iter().filter_map(|p| Some((p.id, world.feeder(p.id)?))).collect();
        (world.house, hung)
    };
    match from {
        From::Trees => {
            let made = made(70_000 + seed, Mapped::Not);
            let hung = made.hung.iter().map(|(p, h)| (*p, h.breaker)).collect();
            (made.house, hung)
        }
        From::Usual => of(Setting::usual(20)),
        From::Large => of(Setting { points: 200, ..Setting::usual(42) }),
        From::Odd => of(Setting { labels_right: 0.3, stray: 0.3, ..Setting::usual(20) }),
    }
}

/// The suite plays a few, `WAYFINDER_DOUBTS=40` as many houses as one likes and prints what came out.
fn houses(few: u64) -> (u64, bool) {
    let asked = std::env::var("WAYFINDER_DOUBTS").ok().and_then(|n| n.parse().ok());
    (asked.unwrap_or(few), asked.is_some())
}

// A dead look at each point by its own breaker, and live ones by four others, all honest: kin and an old label do not outweigh them.
#[test]
fn honest_looks_are_believed_and_not_doubted() {
    let (count, tells) = houses(8);
    for from in [From::Trees, From::Usual, From::Large, From::Odd] {
        let (mut points, mut doubted, mut wrong) = (0, 0, 0);
        for seed in 0..count {
            let (mut house, hung) = world(from, seed);
            let mut rng = ChaCha8Rng::seed_from_u64(seed);
            let mut next = 500_000;
            let below = house.fed_through();
            for (point, by) in &hung {
                look(&mut house, &mut next, *point, &[*by], Seen::Dead);
                let others: Vec<BreakerId> =
                    house.breakers.iter().map(|b| b.id).filter(|b| !below[b].contains(by)).collect();
                for other in others.sample(&mut rng, 4) {
                    look(&mut house, &mut next, *point, &[*other], Seen::Live);
                }
            }
            points += hung.len();
            doubted += doubts(&house).len();
            let first = |p: &PointBelief| p.candidates.first().map(|c| c.at.breaker);
            let believed = beliefs(&house);
            let astray = |p: &&PointBelief| hung.get(&p.point).is_some_and(|by| first(p) != Some(*by));
            wrong += believed.points.iter().filter(astray).count();
        }
        if tells {
            println!("| {from:?} | {points} | {doubted} | {:.2} % |", 100.0 * wrong as f64 / points as f64);
        }
        assert!(doubted == 0 && wrong * 1000 <= points * 7, "{from:?}: {doubted} doubted, {wrong} of {points} wrong");
    }
}

/// How the handles truly stood in a session that went wrong.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
enum Slip {
    /// The one before had been forgotten,
    Also,
    /// and was for one more.
    ForTwo,
    /// Another one was pulled.
    Instead,
    /// Nothing was pulled.
    Nothing,
}

/// One session of looks: a breaker noted as off, and what truly was.
struct Session<'s> {
    noted: BreakerId,
    truly: &'s [BreakerId],
    at: &'s [PointId],
}

impl Session<'_> {
    fn play(&self, house: &mut House, next: &mut u64, hung: &BTreeMap<PointId, BreakerId>) {
        let below = house.fed_through();
        *next += 10_000;
        for point in self.at {
            let dead = self.truly.iter().any(|off| below[off].contains(&hung[point]));
            look(house, next, *point, &[self.noted], if dead { Seen::Dead } else { Seen::Live });
        }
    }
}

/// Each breaker once, with a slip at one of them, then each with its own points once more. Which was to be off at the slip, and
/// which other one was.
fn traced(house: &mut House, hung: &BTreeMap<PointId, BreakerId>, slip: Slip, rng: &mut ChaCha8Rng) -> [BreakerId; 2] {
    let all: Vec<BreakerId> = house.breakers.iter().map(|b| b.id).collect();
    let mut many = all.clone();
    many.retain(|b| hung.values().filter(|by| *by == b).count() >= 3);
    many.shuffle(rng);
    let [wrong, other] = [many[0], many[1]];
    let mut next = 5_000_000;
    for (n, b) in all.iter().enumerate() {
        let at: Vec<PointId> =
            hung.iter().filter(|(_, by)| [*b, other].contains(by) || rng.random_bool(0.3)).map(|(p, _)| *p).collect();
        let again = slip == Slip::ForTwo && n > 0 && all[n - 1] == wrong && *b != other;
        let truly = match slip {
            _ if *b != wrong && !again => vec![*b],
            Slip::Also | Slip::ForTwo => vec![*b, other],
            Slip::Instead => vec![other],
            Slip::Nothing => vec![],
        };
        Session { noted: *b, truly: &truly, at: &at }.play(house, &mut next, hung);
    }
    for b in &all {
        let at: Vec<PointId> = hung.iter().filter(|(_, by)| *by == b).map(|(p, _)| *p).collect();
        Session { noted: *b, truly: &[*b], at: &at }.play(house, &mut next, hung);
    }
    [wrong, other]
}

#[test]
fn one_slip_at_the_panel_is_one_doubt_and_is_put_right_with_one_tap() {
    let (count, tells) = houses(4);
    for from in [From::Trees, From::Usual, From::Large, From::Odd] {
        for slip in [Slip::Also, Slip::ForTwo, Slip::Instead, Slip::Nothing] {
            let (mut right, mut doubted, mut left) = (0, 0, 0);
            for seed in 100..100 + count {
                let (mut house, hung) = world(from, seed);
                let [wrong, other] = traced(&mut house, &hung, slip, &mut ChaCha8Rng::seed_from_u64(seed));
                let about = if slip == Slip::Nothing { wrong } else { other };
                let found = doubts(&house);
                doubted += found.len();
                let told = found.iter().flat_map(|d| &d.stories).find_map(|s| Some((s, s.correction.clone()?)));
                let Some((_, Correction { looks, off, on })) = told.filter(|(s, _)| s.breakers[0].breaker == about)
                else {
                    continue;
                };
                right += 1;
                let put_right = house.apply(&Change::CorrectLooks { looks, off, on }).unwrap().house;
                left += doubts(&put_right).len();
            }
            if tells {
                println!("| {from:?}, {slip:?} | {right} of {count} | {doubted} | {left} |");
            }
            // Points that nothing was pulled for look as well as if another one had been pulled the second time.
            if slip != Slip::Nothing {
                let most = count as usize + count as usize / 5 + 2;
                assert!(
                    10 * right >= 7 * count && doubted <= most && left == 0,
                    "{from:?}, {slip:?}: {right}, {doubted}, {left}"
                );
            }
        }
    }
}

// One point of a house looks alive where it is dead. All else is honest.
#[test]
fn a_reading_by_itself_against_all_its_neighbours_is_looked_at_again() {
    let (count, tells) = houses(12);
    for from in [From::Trees, From::Usual, From::Large, From::Odd] {
        let (mut asked, mut innocent) = (0, 0);
        for seed in 200..200 + count {
            let (mut house, hung) = world(from, seed);
            let mut rng = ChaCha8Rng::seed_from_u64(seed);
            let mut next = 5_000_000;
            let points: Vec<PointId> = hung.keys().copied().collect();
            let slip = *points.choose(&mut rng).unwrap();
            for (point, by) in &hung {
                look(&mut house, &mut next, *point, &[*by], if *point == slip { Seen::Live } else { Seen::Dead });
            }
            let found = doubts(&house);
            asked += usize::from(found.iter().any(|d| d.second_look && d.point == slip));
            innocent += found.iter().filter(|d| d.point != slip).count();
            // Honest, and half done: points that live with the breaker of their neighbours off are not seen dead yet.
            let (mut house, hung) = world(from, seed);
            let all: Vec<BreakerId> = hung.values().copied().collect::<BTreeSet<_>>().into_iter().collect();
            for b in all.iter().take(all.len() / 2) {
                let at: Vec<PointId> =
                    points.iter().copied().filter(|p| hung[p] == *b || rng.random_bool(0.3)).collect();
                Session { noted: *b, truly: &[*b], at: &at }.play(&mut house, &mut next, &hung);
            }
            innocent += doubts(&house).len();
        }
        if tells {
            println!("| {from:?} | {asked} of {count} | {innocent} |");
        }
        assert!(asked > 0 && innocent as u64 <= count, "{from:?}: {asked} of {count} asked, {innocent} innocent");
    }
}
