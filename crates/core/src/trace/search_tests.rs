//! The searches against trying everything, and the likelihoods against what probability demands.

use proptest::prelude::*;

use super::gain::{Want, told};
use super::likelihood::{self, Misread, Power};
use super::look::OffSet;
use super::method::Turn as Next;
use super::planner::{Planner, Scene, Tour};
use super::round::Choice;
use super::tracker::Tracker;
use super::*;
use crate::base::chance::entropy;
use crate::base::units::{Amps, Inches, NominalVolts};
use crate::fixture::Fixture;
use crate::house::Seen::{Dead, Live};
use crate::house::*;

/// Some breakers and points, some of them looked at; feeders by index.
fn part_traced(n: usize, points: &[(usize, bool)], looks: &[(usize, u8)]) -> (Fixture, Vec<BreakerId>) {
    let mut f = Fixture::new(20);
    let breakers: Vec<_> = (1..=n).map(|s| f.breaker(&s.to_string(), 20.0, "")).collect();
    let rooms = [f.room("Hall"), f.room("Den"), f.room("Bath")];
    let ids: Vec<_> = points
        .iter()
        .enumerate()
        .map(|(i, (_, light))| {
            let kind = if *light { PointKind::Light } else { PointKind::Receptacle };
            f.point(&format!("P{i}"), rooms[i % 3], kind)
        })
        .collect();
    for (p, off) in looks {
        let p = p % points.len();
        let off: Vec<_> = (0..n).filter(|b| off >> b & 1 == 1).map(|b| breakers[b]).collect();
        f.see(ids[p], &off, if off.contains(&breakers[points[p].0]) { Dead } else { Live });
    }
    (f, breakers)
}

fn scene(tracker: &Tracker<'_>, crew: &Crew) -> Scene {
    opening(tracker, crew)
}

/// Breakers; points with their feeder, and whether they are lights; looks with the handles off; a limit.
type Traced = (usize, Vec<(usize, bool)>, Vec<(usize, u8)>, usize);

/// A house, its looks, and a limit to what is off.
fn traced_house() -> impl Strategy<Value = Traced> {
    (3usize..7).prop_flat_map(|n| {
        let points = prop::collection::vec((0..n, any::<bool>()), 2..8);
        let looks = prop::collection::vec((0usize..8, 0..(1u8 << n)), 0..10);
        (Just(n), points, looks, 1..=n)
    })
}

/// Worth of a set, said again: bits above what the seconds would bring, a look that does not pay counting a little.
fn worth(wants: &[Want], price: &[f64], rate: f64, off: &[bool]) -> f64 {
    let look = |(want, price): (&Want, &f64)| {
        let p = want.p_dead(off);
        let bits = told(p) + want.any_bits + want.owed(|b| off[b]) + want.finish(|b| off[b], p);
        let surplus = want.weight * bits - rate * price;
        if surplus > 0.0 { surplus } else { 0.15 * surplus }
    };
    let handles = off.iter().filter(|o| **o).count() as f64;
    wants.iter().zip(price).map(look).sum::<f64>() - rate * 3.0 * handles
}

proptest! {
    // The climb against every set there is. It may end on a lesser hill; it must not on a wrong sum.
    #[test]
    fn the_climb_finds_nearly_the_best_of_all_sets((n, points, looks, most) in traced_house()) {
        let (f, _) = part_traced(n, &points, &looks);
        let tracker = Tracker::new(&f.house);
        let wants: Vec<Want> = (0..points.len()).filter_map(|p| Want::new(&tracker, p)).collect();
        let price = vec![5.0; wants.len()];
        let (now, allowed, rate) = (vec![false; n], vec![true; n], 0.05);
        let choice = Choice {
            net: &tracker.model.net, wants: &wants, price: &price, rate, now: &now, allowed: &allowed,
            most_off: most, flip: 3.0, outage: 0.0,
        };
        let (value, off) = choice.best(&[vec![false; n]]);
        prop_assert!(off.iter().filter(|o| **o).count() <= most);
        prop_assert!((value - worth(&wants, &price, rate, &off)).abs() < 1e-9, "the sum kept up is the sum");
        let sets = (0..1_u32 << n).map(|s| (0..n).map(|b| s >> b & 1 == 1).collect::<Vec<bool>>());
        let within = sets.filter(|s| s.iter().filter(|o| **o).count() <= most);
        let best = within.map(|s| worth(&wants, &price, rate, &s)).fold(f64::NEG_INFINITY, f64::max);
        prop_assert!(value <= best + 1e-9);
        // One hill of several, at most half a bit lower for each point.
        prop_assert!(best - value <= 0.5 * wants.len() as f64, "{value} of {best}");
    }

    // The order of rooms against all orders.
    #[test]
    fn the_way_through_rooms_is_nearly_the_shortest(places in prop::collection::vec((0i32..6, 0i32..6), 2..6)) {
        let mut f = Fixture::new(20);
        f.breaker("1", 20.0, "");
        let rooms: Vec<_> = (0..places.len()).map(|i| f.room(&format!("Room {i}"))).collect();
        let points: Vec<_> = rooms.iter().enumerate()
            .map(|(i, r)| f.point(&format!("P{i}"), *r, PointKind::Receptacle)).collect();
        let tracker = Tracker::new(&f.house);
        let far = |a: usize, b: usize| {
            let ((xa, ya), (xb, yb)) = (places[a], places[b]);
            8.0 * f64::from((xa - xb).abs() + (ya - yb).abs())
        };
        let n = places.len();
        let walks: Vec<f64> = (0..n).flat_map(|a| (0..n).map(move |b| far(a, b))).collect();
        let planner = Planner::new(&tracker, &walks, Some(0));
        let scene = scene(&tracker, &Crew::default());
        let all: Vec<usize> = points.iter().filter_map(|p| tracker.model.point(*p)).collect();
        let tour = planner.tour_of(vec![false; 1], &all, &scene);
        let order: Vec<usize> = tour.visit.iter().map(|p| tracker.model.room[*p]).collect();
        let length = |o: &[usize]| {
            far(0, o[0]) + far(0, o[o.len() - 1]) + o.windows(2).map(|w| far(w[0], w[1])).sum::<f64>()
        };
        let mut best = f64::INFINITY;
        permute(&mut (0..n).collect::<Vec<_>>(), 0, &mut |o| best = best.min(length(o)));
        prop_assert!(length(&order) <= 1.25 * best + 1e-9, "{} against {best}", length(&order));
    }

    // Every answer is one of all that could be given: probabilities of what may be seen sum to one [def].
    #[test]
    fn likelihoods_sum_to_one(n in 2usize..10, truth in 0usize..10) {
        let truth = Power::Breaker(truth % n);
        let mut f = Fixture::new(20);
        for s in 1..=n {
            f.breaker(&s.to_string(), 20.0, "");
        }
        let breakers: Vec<&Breaker> = f.house.breakers.iter().collect();
        let places: Vec<_> = breakers.iter().map(|b| f.panel().place(b.at[0].space)).collect();
        let pointed: f64 = (0..n).map(|at| likelihood::pointing(&breakers, &places, at, truth)).sum();
        // With few breakers there may be nothing far away, and what would go there goes nowhere.
        prop_assert!((pointed - 1.0).abs() < 0.11, "{pointed}");
        for how in [Way::Tester, Way::Lamp, Way::Light, Way::Radio, Way::Meter, Way::Word] {
            for powered in [true, false] {
                let m = Misread::of(how);
                prop_assert!((m.probability(Live, powered) + m.probability(Dead, powered) - 1.0).abs() < 1e-12);
            }
        }
    }

    // Whatever was seen and whichever way: nothing that must stay on is cut, and the end is "all back on".
    #[test]
    fn advice_never_cuts_what_must_stay_on((n, points, looks, kept) in traced_house(), way in 0usize..4, two in any::<bool>()) {
        let (mut f, breakers) = part_traced(n, &points, &looks);
        let kept = breakers[kept - 1];
        let method = [Method::Adaptive, Method::OneAtATime, Method::Transmitter, Method::Halving][way];
        let crew = Crew {
            keep_on: [kept].into(), method, transmitter: true, radio: true, monitor: two, clamp: true,
            people: if two { 2 } else { 1 }, ..Crew::default()
        };
        for _ in 0..6 {
            let advice = advise(&f.house, &crew).unwrap();
            prop_assert!(advice.off.iter().all(|b| b.breaker != kept));
            match advice.action {
                Action::Done => {
                    prop_assert!(advice.off.is_empty());
                    break;
                }
                Action::Receiver => {
                    prop_assert!(advice.off.is_empty());
                    f.observe(advice.points[0], Observation::Pointed { at: breakers[0] });
                }
                Action::Load => {
                    prop_assert!(advice.off.is_empty());
                    let load = Amps(12.5);
                    f.observe(advice.points[0], Observation::Rise { at: breakers[0], expected: load, rose: load });
                }
                Action::Switch | Action::Listen => {
                    let off: Vec<_> = advice.off.iter().map(|b| b.breaker).collect();
                    for p in advice.points {
                        f.see(p, &off, Live);
                    }
                }
            }
        }
    }
}

/// Calls back with every order.
fn permute(items: &mut Vec<usize>, from: usize, each: &mut impl FnMut(&[usize])) {
    if from == items.len() {
        return each(items);
    }
    for i in from..items.len() {
        items.swap(from, i);
        permute(items, from + 1, each);
        items.swap(from, i);
    }
}

// Shannon's entropy and the capacity of a channel that errs [def]: a look at even odds tells 1 - H(e) bits.
#[test]
fn a_look_at_even_odds_tells_the_capacity_of_its_channel() {
    assert!((entropy(0.5) - 1.0).abs() < 1e-12 && (entropy(0.25) - 0.811_278).abs() < 1e-6);
    assert!((told(0.5) - (1.0 - entropy(0.015))).abs() < 1e-9);
    assert!(told(0.0).abs() < 1e-9 && told(1.0).abs() < 1e-9 && told(0.1) < told(0.3));
}

// A density [def]: it integrates to one over all rises, whether the breaker feeds the load or not.
#[test]
fn the_density_of_a_rise_integrates_to_one() {
    for feeds in [true, false] {
        let step = 0.01;
        let sum: f64 =
            (-2000..2000).map(|i| step * likelihood::rise(Amps(12.5), Amps(f64::from(i) * step), feeds)).sum();
        assert!((sum - 1.0).abs() < 0.02, "{sum}");
    }
    assert!((likelihood::wire(10, true) + 9.0 * likelihood::wire(10, false) - 1.0).abs() < 0.004);
}

#[test]
fn a_look_that_would_settle_a_point_is_worth_more() {
    let (f, breakers) = part_traced(3, &[(0, false)], &[(0, 0b010), (0, 0b001)]);
    let tracker = Tracker::new(&f.house);
    let want = Want::new(&tracker, 0);
    // Dead with the first off, alive with the second: proven or one look away from it.
    let top = tracker.top(0).unwrap();
    assert_eq!(tracker.model.net.breakers[top.0].id, breakers[0]);
    if let Some(want) = want {
        let with = |b: usize| {
            let off: Vec<bool> = (0..3).map(|x| x == b).collect();
            want.bits(&OffSet { dead: off.clone(), off })
        };
        assert!(with(2) > with(1), "the third was never told apart");
    }
}

#[test]
fn the_same_handles_again_and_again_are_worth_less_and_less() {
    let bits = |times: usize| {
        let mut f = Fixture::new(20);
        let all: Vec<_> = (1..=6).map(|s| f.breaker(&s.to_string(), 20.0, "")).collect();
        let room = f.room("Hall");
        let point = f.point("H1", room, PointKind::Receptacle);
        for i in 0..times {
            f.see(point, &all[..3], if i % 2 == 0 { Dead } else { Live });
        }
        let tracker = Tracker::new(&f.house);
        let off: Vec<bool> = (0..6).map(|b| b < 3).collect();
        Want::new(&tracker, 0).map_or(0.0, |w| w.bits(&OffSet { dead: off.clone(), off }))
    };
    assert!(bits(2) > bits(4) && bits(4) > 1.9 * bits(6), "{} {} {}", bits(2), bits(4), bits(6));
}

#[test]
fn a_point_looked_at_in_vain_is_left_and_said_to_be_unproven() {
    let mut f = Fixture::new(20);
    let (one, _) = (f.breaker("1", 20.0, ""), f.breaker("3", 20.0, ""));
    let room = f.room("Hall");
    let point = f.point("H1", room, PointKind::Receptacle);
    for i in 0..60 {
        f.see(point, &[one], if i % 2 == 0 { Dead } else { Live });
    }
    let advice = advise(&f.house, &Crew::default()).unwrap();
    assert_eq!((advice.action, advice.unproven), (Action::Done, vec!["H1".to_owned()]));
}

#[test]
fn two_people_finish_a_room_before_the_next() {
    let (f, _) = part_traced(6, &[(0, false), (1, false), (2, false), (3, true), (4, true), (5, true)], &[]);
    let advice = advise(&f.house, &Crew { people: 2, ..Crew::default() }).unwrap();
    let rooms: Vec<_> = advice.points.iter().map(|p| f.house.points.get(*p).unwrap().room).collect();
    assert!(rooms.windows(2).all(|w| w[0] == w[1]), "one room at a time: {rooms:?}");
    let alone = advise(&f.house, &Crew::default()).unwrap();
    assert!(alone.points.len() > advice.points.len(), "alone the walk takes in more");
    // Gentle, the handles stay while the walker goes on through the house.
    let gentle = advise(&f.house, &Crew { people: 2, pace: Pace::Gentle, ..Crew::default() }).unwrap();
    assert!(gentle.points.len() > advice.points.len() && gentle.off.len() <= 3);
}

#[test]
fn a_feeder_is_switched_with_all_below_it_and_priced_once() {
    let mut f = Fixture::new(20);
    let feeder = f.breaker("1-3", 60.0, "");
    let annex = f.sub_panel("Annex", feeder);
    let inside: Vec<_> = (1..=4).map(|s| f.breaker_in(annex, &s.to_string(), 20.0, "")).collect();
    let room = f.room("Bakehouse");
    let points: Vec<_> = (0..4).map(|i| f.point(&format!("B{i}"), room, PointKind::Receptacle)).collect();
    let crew = Crew { keep_on: [inside[0]].into(), ..Crew::default() };
    // What must stay on in the annex keeps its feeder on too.
    let advice = advise(&f.house, &crew).unwrap();
    assert!(advice.off.iter().all(|b| b.breaker != feeder && b.breaker != inside[0]));
    let tracker = Tracker::new(&f.house);
    let planner = Planner::new(&tracker, &[0.0], None);
    let off: Vec<bool> = tracker.model.net.breakers.iter().map(|b| b.id == feeder).collect();
    let scene = scene(&tracker, &Crew::default());
    let all: Vec<usize> = points.iter().filter_map(|p| tracker.model.point(*p)).collect();
    let Tour { seconds, .. } = planner.tour_of(off, &all, &scene);
    // One handle, there and back, four receptacles: 3 + 2·25 + 4·12 s.
    assert!((seconds - 101.0).abs() < 1e-9, "{seconds}");
}

#[test]
fn alone_the_plan_of_a_house_shapes_the_tour() {
    let mut f = Fixture::new(20);
    for s in 1..=6 {
        f.breaker(&s.to_string(), 20.0, "");
    }
    let rooms = ["Hall", "Den", "Loft"].map(|name| f.room(name));
    for (i, room) in rooms.into_iter().enumerate() {
        let area = Area { x: Inches(120.0 * i as f64), y: Inches(0.0), width: Inches(120.0), depth: Inches(120.0) };
        let drawn = Room { area: Some(area), ..f.house.rooms.get(room).unwrap().clone() };
        f.house.rooms.put(drawn);
        f.point(&format!("P{i}"), room, PointKind::Receptacle);
        if i < 2 {
            let id = OpeningId(i as u64 + 1);
            let (kind, wall, along, width) = (OpeningKind::Door, Wall::East, Inches(40.0), Inches(32.0));
            f.house.openings.put(Opening { id, room, kind, wall, along, width, to: None });
        }
    }
    f.house.check().unwrap();
    let tracker = Tracker::new(&f.house);
    assert!(tracker.model.rooms.beside(0, 1) && !tracker.model.rooms.beside(0, 2));
    let walks = tracker.model.rooms.walks(&f.house);
    // Ten feet at three feet a second and a door: over five seconds; through both doors about twice that.
    assert!(walks[1] > 5.0 && walks[1] < 6.0 && (walks[2] - 2.0 * walks[1]).abs() < 1.0, "{walks:?}");
}

#[test]
fn the_last_look_asked_for_tells_something() {
    // One point left that is nearly sure: whatever is asked must be able to change the belief.
    let (f, _) = part_traced(4, &[(2, false)], &[(0, 0b1100), (0, 0b0110)]);
    let tracker = Tracker::new(&f.house);
    let planner = Planner::new(&tracker, &[0.0; 9], None);
    let scene = scene(&tracker, &Crew::default());
    match planner.action(&Crew::default(), &scene) {
        Next::Switch(tour) => assert!(!tour.visit.is_empty() && tour.bits > 0.0 && tour.seconds > 0.0),
        Next::Receiver(_) | Next::Load(_) | Next::Listen(_) => panic!("none of these tools is at hand"),
        Next::Done => assert!(is_settled(&tracker, 0)),
    }
    assert!(f.house.points.iter().all(|p| p.volts == Some(NominalVolts::V120)));
}
