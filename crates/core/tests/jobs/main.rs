//! Plans of made houses, and jobs in them: what is planned breaks no rule, no wrong reading passes, what is stopped and gone on
//! with ends like what was not, and undo restores.

#![allow(clippy::unwrap_used, clippy::expect_used, reason = "a test that cannot go on fails")]

mod by_the_code;
mod panels;

use std::collections::{BTreeMap, BTreeSet};

use jiff::Timestamp;
use rand::rngs::ChaCha8Rng;
use rand::{RngExt, SeedableRng};
use wayfinder_core::base::position::{Half, Position, Supply};
use wayfinder_core::base::units::{Amps, Feet, NominalVolts, Watts};
use wayfinder_core::edit::{Edit, invert};
use wayfinder_core::house::*;
use wayfinder_core::job::{Basis, Plan, combine, plan, work};
use wayfinder_core::load::Loaded;
use wayfinder_core::load::draws::draws;
use wayfinder_core::practice::rounds::Furnished;
use wayfinder_core::rules::standing;
use wayfinder_core::trace::{Beliefs, beliefs};
use wayfinder_core::{Change, House};

/// A made house, untidy as houses are: some places not entered, some half-size breakers, shared neutrals, devices, wires known
/// or not, any supply; most of it traced.
fn house(seed: u64) -> House {
    let mut rng = ChaCha8Rng::seed_from_u64(seed ^ 0x0b0b);
    let breakers = rng.random_range(8..13);
    let mut house = Furnished::new(breakers, seed).house;
    let panel = house.panels.iter().next().unwrap().clone();
    let all: Vec<BreakerId> = house.breakers.iter().map(|b| b.id).collect();
    let supply =
        [Supply::SplitPhase, Supply::SplitPhase, Supply::WyeTwoLegs, Supply::WyeThreePhase][rng.random_range(0..4)];
    let taken: BTreeSet<u16> = house.breakers.iter().flat_map(|b| b.at.iter().map(|p| p.space)).collect();
    let free: Vec<u16> = panel.numbers().into_iter().filter(|s| !taken.contains(s)).collect();
    let looked = free.iter().filter(|_| rng.random::<f64>() < 0.8).map(|s| Position::whole(*s)).collect();
    let tandem = if rng.random() {
        TandemSpaces::All
    } else {
        TandemSpaces::Some(panel.numbers().into_iter().step_by(3).collect())
    };
    house.panels.put(Panel { supply, empty: looked, tandem: tandem.clone(), ..panel.clone() });
    let points: Vec<Point> = house.points.iter().cloned().collect();
    for breaker in &all {
        let mut changed = house.breakers.get(*breaker).unwrap().clone();
        let whole = matches!(changed.at.as_slice(), [one] if one.half == Half::Whole && tandem.allow(one.space));
        match rng.random_range(0..10) {
            0 if whole => changed.at[0].half = Half::Upper,
            1 => changed.device = Device::Gfci,
            2 => changed.terminal = Some(Terminal { wires: 2, smallest: None, largest: None, torque: None }),
            _ => {}
        }
        house.breakers.put(changed.clone());
        if rng.random::<f64>() < 0.7 {
            let wire = match changed.amps.0 {
                a if a <= 15.0 => ["14", "12"][rng.random_range(0..2)],
                a if a <= 20.0 => "12",
                a if a <= 30.0 => "10",
                a if a <= 50.0 => "6",
                _ => "3",
            };
            let colours = if rng.random() { vec![Colour::Black] } else { Vec::new() };
            house.circuits.put(Circuit {
                wire: wire.parse().ok(),
                conductors: Some(2),
                colours,
                ..Circuit::new(CircuitId(breaker.0 + 7_000), *breaker)
            });
        }
    }
    for point in points.iter().filter(|p| p.kind == PointKind::Receptacle) {
        if rng.random::<f64>() < 0.1 {
            house.points.put(Point { ground_fault: true, ..point.clone() });
        }
    }
    if rng.random() {
        calm(&mut house);
    }
    trace_most(&mut house, &mut rng);
    house.check().unwrap_or_else(|e| panic!("seed {seed}: {e}"));
    house
}

/// Nothing but bedrooms, and nothing heavy in them: circuits that may share a breaker.
fn calm(house: &mut House) {
    let rooms: Vec<Room> = house.rooms.iter().cloned().collect();
    rooms.into_iter().enumerate().for_each(|(n, room)| house.rooms.put(Room { name: format!("Bedroom {n}"), ..room }));
    let loads: Vec<LoadId> = house.loads.iter().map(|l| l.id).collect();
    loads.into_iter().for_each(|load| house.loads.remove(load));
    let points: Vec<Point> = house.points.iter().filter(|p| p.kind == PointKind::Receptacle).cloned().collect();
    points.into_iter().for_each(|point| house.points.put(Point { kind: PointKind::Light, ..point }));
}

/// Adds what a careful tracing would have seen, of nearly all points.
fn trace_most(house: &mut House, rng: &mut ChaCha8Rng) {
    let all: BTreeSet<BreakerId> = house.breakers.iter().map(|b| b.id).collect();
    let wires: Vec<(PointId, BreakerId)> = house
        .evidence
        .iter()
        .filter_map(|e| if let Observation::Wire { at } = e.observation { Some((e.point, at)) } else { None })
        .collect();
    let every = rng.random::<f64>() < 0.7;
    let fed: BTreeSet<PointId> = wires.iter().map(|(point, _)| *point).collect();
    let unfed: Vec<PointId> = house.points.iter().map(|p| p.id).filter(|p| every && !fed.contains(p)).collect();
    for point in unfed {
        *house = house.apply(&Change::RemovePoint { point }).unwrap().house;
    }
    for (nth, (point, at)) in wires.into_iter().enumerate() {
        if !every && rng.random::<f64>() < 0.1 {
            continue;
        }
        let others: BTreeSet<BreakerId> = all.iter().copied().filter(|b| *b != at).collect();
        for (more, off, seen) in [(0, [at].into(), Seen::Dead), (1, others, Seen::Live)] {
            let id = EvidenceId(20_000_000 + 2 * nth as u64 + more);
            let observation = Observation::Power { off, seen, how: Way::Tester };
            house.evidence.put(Evidence {
                id,
                point,
                time: Timestamp::UNIX_EPOCH,
                who: "made".into(),
                step: None,
                observation,
            });
        }
    }
    house.about.every_panel = true;
}

fn goals(house: &House, rng: &mut ChaCha8Rng) -> Vec<Goal> {
    let all: Vec<&Breaker> = house.breakers.iter().collect();
    let panel = house.panels.iter().next().unwrap();
    let points: Vec<PointId> = house.points.iter().map(|p| p.id).collect();
    let any = |rng: &mut ChaCha8Rng| all[rng.random_range(0..all.len())].id;
    let new = |rng: &mut ChaCha8Rng| {
        let room = house.rooms.iter().next().unwrap().id;
        let two = rng.random();
        let volts = if two { NominalVolts::V240 } else { NominalVolts::V120 };
        let point = Point {
            volts: Some(volts),
            name: "new".into(),
            ..Point::new(PointId(900_000), "ZZ9", room, PointKind::Appliance)
        };
        let load = Load {
            amps: Some(Amps(f64::from(rng.random_range(2..40)))),
            continuous: Some(rng.random()),
            ..Load::new(LoadId(900_000), point.id, "new thing", LoadKind::Other)
        };
        NewCircuit {
            panel: panel.id,
            point,
            load: (rng.random::<f64>() < 0.8).then_some(load),
            neutral: Some(rng.random()),
            plugged: rng.random(),
            length: rng.random::<bool>().then_some(Feet(f64::from(rng.random_range(10..200)))),
            breaker: BreakerId(900_000),
            circuit: CircuitId(900_000),
            amps: None,
            at: Vec::new(),
            room: MakeRoom::default(),
        }
    };
    let goals = vec![
        Goal::Replace { breaker: any(rng), amps: None, model: String::new() },
        Goal::Combine(Joining { keep: any(rng), give_up: any(rng), way: Joined::Splice }),
        Goal::Tandem(Halves {
            upper: any(rng),
            lower: any(rng),
            space: all[rng.random_range(0..all.len())].at[0].space,
        }),
        Goal::Add(new(rng)),
        Goal::Dedicated(new(rng)),
        Goal::Convert { breaker: any(rng), two_legs: rng.random(), at: Vec::new(), moves: Vec::new() },
        Goal::Protect {
            breaker: any(rng),
            device: [Device::Gfci, Device::Afci, Device::Dual][rng.random_range(0..3)],
            keep_devices: rng.random(),
        },
        Goal::Rearrange {
            panel: panel.id,
            wishes: vec![["2p", "1=2p", "balance", "3p"][rng.random_range(0..4)].to_owned()],
            fixed: [any(rng)].into(),
            room: MakeRoom::default(),
        },
        Goal::Makeup {
            panel: Panel {
                spaces: rng.random_range(12..43),
                tandem: TandemSpaces::None,
                max_circuits: None,
                empty: [].into(),
                ..panel.clone()
            },
            more: Vec::new(),
            moves: Vec::new(),
        },
        Goal::Generator {
            panel: panel.id,
            breaker: BreakerId(900_001),
            watts: Watts(f64::from(rng.random_range(2000..9000))),
            at: vec![Position::whole(2), Position::whole(4)],
            listed: Some(true),
            start: None,
            bonded: None,
            carries: [any(rng)].into(),
            moves: Vec::new(),
        },
        Goal::Retire { breaker: any(rng), spare: rng.random() },
        Goal::Surge(NewSurge {
            panel: panel.id,
            breaker: BreakerId(900_002),
            amps: Some(Amps(20.0)),
            at: Vec::new(),
            room: MakeRoom::default(),
        }),
        Goal::Splice { point: points[rng.random_range(0..points.len())] },
        Goal::Device(DeviceJob {
            point: points[rng.random_range(0..points.len())],
            becomes: [NewDevice::Receptacle, NewDevice::GroundFault][rng.random_range(0..2)],
            ground: Some(true),
            behind: rng.random(),
        }),
        Goal::Several {
            goals: vec![Goal::Add(new(rng)), Goal::Retire { breaker: any(rng), spare: false }],
            in_order: rng.random(),
        },
        Goal::Several {
            goals: vec![
                Goal::Replace { breaker: any(rng), amps: None, model: String::new() },
                Goal::Dedicated(new(rng)),
            ],
            in_order: false,
        },
    ];
    goals
}

/// The best pair of circuits that may share a breaker.
fn best_pair(house: &House, basis: &Basis<'_>) -> Option<Goal> {
    let panel = house.panels.iter().next()?;
    let pairs = combine::candidates(basis, panel.id);
    pairs.into_iter().find(|pair| pair.refused.is_empty()).map(|pair| Goal::Combine(pair.joining))
}

/// What does not fit, apart from what was found so.
fn breaks(house: &House) -> BTreeMap<&'static str, usize> {
    let mut all = BTreeMap::new();
    standing(house).into_iter().for_each(|hit| *all.entry(hit.rule.id).or_default() += 1);
    all
}

/// The order of a plan's steps.
fn keeps_the_order(told: &Plan, case: &str) {
    if matches!(told.goal, Goal::Device(_) | Goal::Splice { .. }) {
        return keeps_the_order_of_a_box(told, case);
    }
    // NFPA 70E 120.5: the meter on a live source before and after; every terminal that is touched is measured dead between.
    let holds: Vec<(&str, HoldKind)> =
        told.steps.iter().filter_map(|s| Some((s.key.as_str(), s.hold.as_ref()?.kind))).collect();
    let sources: Vec<usize> = (0..holds.len()).filter(|n| holds[*n].1 == HoldKind::Source).collect();
    let [first, last] = sources.as_slice() else { panic!("{case}: {holds:?}") };
    for touched in &told.touches {
        let dead =
            holds.iter().position(|(key, kind)| *kind == HoldKind::Dead && *key == format!("dead-{}", touched.0));
        assert!(dead.is_some_and(|n| n > *first && n < *last), "{case}: {} is touched and not proven dead", touched.0);
    }
    let first_work = told.steps.iter().position(|s| s.stage == Stage::Work).unwrap();
    assert!(
        told.steps[..first_work].iter().any(|s| s.switches.as_ref().is_some_and(|s| !s.on && s.panel.is_some())),
        "{case}"
    );
    assert!(told.steps.is_sorted_by_key(|s| s.stage), "{case}");
    // Handbook 5.1.6: the cover goes on before the power comes back, or after the last reading at a terminal, and that is said.
    let nth = |key: &str| told.steps.iter().position(|s| s.key == key);
    let at_terminal = |s: &JobStep| {
        s.hold.as_ref().is_some_and(|h| h.kind == HoldKind::Live && matches!(h.place, Some(MeasuredAt::Breaker { .. })))
    };
    let (cover, on, last) = (nth("cover-on"), nth("on"), told.steps.iter().rposition(at_terminal));
    assert!(
        if last.is_some() { cover > last && nth("cover-waits").is_some_and(|n| Some(n) < on) } else { cover < on },
        "{case}"
    );
    let new_ids = told.steps.iter().map(|s| &s.key).collect::<BTreeSet<_>>();
    assert_eq!(new_ids.len(), told.steps.len(), "{case}: keys are apart");
}

/// Handbook 5.14: with the panel closed the box itself is shown dead, between two tests of the meter, with its breakers off.
fn keeps_the_order_of_a_box(told: &Plan, case: &str) {
    let holds: Vec<HoldKind> = told.steps.iter().filter_map(|s| Some(s.hold.as_ref()?.kind)).collect();
    let shown = [HoldKind::Source, HoldKind::Dead, HoldKind::Source];
    assert!(holds.windows(3).any(|w| w == shown), "{case}: {holds:?}");
    assert!(told.steps.is_sorted_by_key(|s| s.stage), "{case}");
    assert!(
        told.steps.iter().all(|s| !s.key.starts_with("cover") && s.key != "torque"),
        "{case}: the panel stays closed"
    );
    let off = told.steps.iter().filter_map(|s| s.switches.as_ref()).filter(|s| !s.on);
    let off: BTreeSet<BreakerId> = off.flat_map(|s| s.breakers.iter().copied()).collect();
    assert!(!off.is_empty() && off.iter().all(|b| told.touches.contains(b)), "{case}");
}

/// The rules of handbook 1 to 5 for a plan that nothing stands against, said again.
fn holds_to_the_rules(house: &House, beliefs: &Beliefs, told: &Plan, seed: u64) {
    let case = format!("seed {seed}: {:?}", told.goal);
    let then = told.becomes(house).unwrap_or_else(|e| panic!("{case}: {e}"));
    for (rule, count) in breaks(&then) {
        assert!(count <= breaks(house).get(&rule).copied().unwrap_or(0), "{case}: {rule} is new");
    }
    keeps_the_order(told, &case);
    for breaker in then.breakers.iter() {
        let panel = then.panels.get(breaker.panel).unwrap();
        let places = || then.breakers.iter().filter(|b| b.panel == panel.id && b.id != breaker.id).flat_map(|b| &b.at);
        assert!(
            breaker.at.iter().all(|p| panel.has(p.space) && !places().any(|q| q.overlaps(*p))),
            "{case}: two in one place"
        );
        assert!(breaker.at.iter().all(|p| !panel.empty.iter().any(|e| e.overlaps(*p))), "{case}: taken and empty");
    }
    let fed = |house: &House, beliefs: &Beliefs, id: BreakerId| -> Vec<PointId> {
        let of = beliefs.breakers.iter().find(|b| b.at.breaker == id).into_iter().flat_map(|b| &b.feeds);
        of.filter(|f| f.proven && !f.through && house.points.get(f.point).is_some()).map(|f| f.point).collect()
    };
    match &told.goal {
        // Handbook 5.4: the sum is at most 80 % of the rating, and what was proven is proven still.
        Goal::Combine(joining) => {
            let now = beliefs_of(&then);
            let both = [fed(house, beliefs, joining.keep), fed(house, beliefs, joining.give_up)].concat();
            let kept: BTreeSet<PointId> = fed(&then, &now, joining.keep).into_iter().collect();
            assert!(both.iter().all(|p| kept.contains(p)), "{case}: {both:?} {kept:?}");
        }
        // Handbook 5.7: it feeds one point.
        Goal::Convert { breaker, .. } => assert_eq!(fed(house, beliefs, *breaker).len(), 1, "{case}"),
        // Handbook 3.10: wire and breaker from the nameplate.
        Goal::Add(new) | Goal::Dedicated(new) => {
            let (breaker, wire) =
                (then.breakers.get(new.breaker).unwrap(), then.circuits_of(new.breaker)[0].wire.unwrap());
            if let Some(load) = &new.load {
                let continuous = if load.continuous == Some(true) { 1.25 } else { 1.0 };
                assert!(breaker.amps.0 >= continuous * load.amps.unwrap().0, "{case}");
            }
            // NEC 240.4(D), from memory.
            let most = [(14, 15.0), (12, 20.0), (10, 30.0)].into_iter().find(|(n, _)| *n == wire.number());
            assert!(most.is_none_or(|(_, most)| breaker.amps.0 <= most), "{case}");
        }
        _ => {}
    }
}

fn beliefs_of(house: &House) -> Beliefs {
    beliefs(house)
}

fn go(house: &House, edits: &mut Vec<Edit>, change: &Change) -> House {
    let done = house.apply(change).unwrap_or_else(|e| panic!("{change:?}: {e}"));
    edits.extend(done.edits);
    done.house
}

const JOB: JobId = JobId(1);

/// The number of the step that is next.
fn turn(job: &Job) -> usize {
    job.steps.iter().position(|step| !job.has_passed(&step.key)).unwrap()
}

fn act(house: &House, edits: &mut Vec<Edit>, nth: u64, act: JobAct) -> House {
    let time = Timestamp::from_second(nth as i64).unwrap();
    go(house, edits, &Change::ActInJob { job: JOB, act, who: "Wren".into(), time })
}

/// Does a job to its end, with wrong readings and stops on the way where `rng` says so; all edits in their order.
fn done(house: &House, goal: &Goal, rng: Option<&mut ChaCha8Rng>) -> (House, Vec<Edit>) {
    let mut edits = Vec::new();
    let begin = Change::BeginJob {
        job: JOB,
        goal: Box::new(goal.clone()),
        instead: [].into(),
        who: "Wren".into(),
        time: Timestamp::UNIX_EPOCH,
    };
    let mut now = go(house, &mut edits, &begin);
    let mut rng = rng;
    for nth in 1..2000 {
        let job = now.jobs.get(JOB).unwrap().clone();
        let Some(next) = job.next().cloned() else { return (now, edits) };
        if let Some(rng) = rng.as_deref_mut()
            && rng.random::<f64>() < 0.1
        {
            if rng.random() {
                now = act(&now, &mut edits, nth, JobAct::Stop { why: "rain".into() });
                assert!(turn(now.jobs.get(JOB).unwrap()) <= turn(&job));
                now = act(&now, &mut edits, nth, JobAct::GoOn);
                continue;
            } else if job.made.is_none() && job.done.iter().any(|d| d.passed) {
                now = act(&now, &mut edits, nth, JobAct::Back);
                continue;
            }
        }
        let reading = ReadingId(5_000_000 + 2 * nth);
        let step = next.key.clone();
        let Some(hold) = &next.hold else {
            now = act(&now, &mut edits, nth, JobAct::Done { step, noted: String::new() });
            continue;
        };
        if let Some(rng) = rng.as_deref_mut() {
            let wrong = rng.random_range(0.0..300.0);
            let loaded = rng.random();
            if rng.random::<f64>() < 0.3 && !hold.expect.holds(wrong) {
                assert!(!work::judge(hold, wrong, loaded).passed);
                let read = JobAct::Read {
                    step: step.clone(),
                    value: wrong,
                    loaded,
                    reading: ReadingId(reading.0 + 1),
                    why: String::new(),
                };
                now = act(&now, &mut edits, nth, read);
                assert!(turn(now.jobs.get(JOB).unwrap()) <= turn(&job), "a wrong reading opens nothing");
                if turn(now.jobs.get(JOB).unwrap()) < turn(&job) {
                    continue;
                }
            }
        }
        let value = hold.likely.unwrap_or(hold.expect.from);
        now = act(
            &now,
            &mut edits,
            nth,
            JobAct::Read { step, value, loaded: false, reading, why: "read at the wrong place".into() },
        );
    }
    panic!("it does not end: {goal:?}");
}

/// A house without what the work itself left: its job, readings, lines, and who ran the cable.
fn planned(house: &House, goal: &Goal) -> House {
    let mut house = House {
        revision: 0,
        jobs: Default::default(),
        readings: Default::default(),
        log: Default::default(),
        ..house.clone()
    };
    for (nth, _) in goal.new_circuits().enumerate() {
        house.evidence.remove(EvidenceId(JOB.0 + nth as u64));
    }
    let landed: Vec<EvidenceId> = house.evidence.iter().filter(|e| e.landed().is_some()).map(|e| e.id).collect();
    landed.into_iter().for_each(|id| house.evidence.remove(id));
    // A plan has no time.
    let breakers: Vec<Breaker> = house.breakers.iter().cloned().collect();
    breakers.into_iter().for_each(|b| house.breakers.put(Breaker { since: None, ..b }));
    house
}

/// What was proven stays proven: on its breaker, or on the one that carries it now.
fn keeps_what_was_proven(before: &House, done: &House, goal: &Goal, seed: u64) {
    let (old, new) = (beliefs(before), beliefs(done));
    for was in old.points.iter().filter(|b| b.proven && done.points.get(b.point).is_some()) {
        let at = was.candidates[0].at.breaker;
        let at = goal.joined(at).unwrap_or(at);
        let is = new.of(was.point).unwrap();
        let kept = is.proven && is.candidates[0].at.breaker == at;
        assert!(kept || done.breakers.get(at).is_none(), "seed {seed}, {goal:?}: {} fell to {is:?}", was.tag);
    }
}

/// How often plans of each kind had nothing against them, and how many were worked to their end.
#[derive(Default)]
struct Counted {
    open: BTreeMap<String, usize>,
    worked: usize,
}

/// Plans some jobs of every made house of these seeds.
fn of_seeds(seeds: impl Iterator<Item = u64>) -> Counted {
    let mut counted = Counted::default();
    for seed in seeds {
        let house = house(seed);
        let mut rng = ChaCha8Rng::seed_from_u64(seed);
        let beliefs = beliefs(&house);
        let draws = draws(&house, &beliefs);
        let loaded = Loaded::new(&house, &beliefs, &draws);
        let basis = Basis::new(&house, &beliefs, &loaded);
        let goals = goals(&house, &mut rng);
        // Of each house some: all kinds come often enough.
        let some = (0..2).map(|nth| goals[(2 * seed as usize + nth) % goals.len()].clone());
        for goal in some.chain(best_pair(&house, &basis).filter(|_| seed % 4 == 0)) {
            let Ok(told) = plan(&basis, &goal) else { continue };
            assert_eq!(told.is_open(), !told.steps.is_empty(), "seed {seed}: {told:?}");
            if !told.is_open() {
                continue;
            }
            holds_to_the_rules(&house, &beliefs, &told, seed);
            let kind = serde_json::to_value(&told.goal).unwrap()["job"].as_str().unwrap().to_owned();
            *counted.open.entry(kind).or_default() += 1;
            if seed % 20 == 0 {
                counted.worked += 1;
                works_out(&house, &told, &mut rng, seed);
            }
        }
    }
    counted
}

/// Done straight, or with wrong readings, stops and steps back: it ends as planned, and undo restores.
fn works_out(house: &House, told: &Plan, rng: &mut ChaCha8Rng, seed: u64) {
    let goal = &told.goal;
    let (straight, edits) = done(house, goal, None);
    let (crooked, _) = done(house, goal, Some(rng));
    let then = planned(&told.becomes(house).unwrap(), goal);
    assert_eq!(planned(&straight, goal), then, "seed {seed}: done is as planned");
    keeps_what_was_proven(house, &straight, goal, seed);
    assert_eq!(planned(&crooked, goal), then, "seed {seed}: stopped and gone on is as planned");
    let undone = straight.apply_edits(invert(edits)).unwrap().house;
    assert_eq!(House { revision: 0, ..undone }, House { revision: 0, ..house.clone() }, "seed {seed}: undo restores");
}

#[test]
fn no_plan_of_a_made_house_breaks_a_rule_and_jobs_end_as_planned() {
    let halves = std::thread::scope(|scope| {
        let half = |odd: u64| scope.spawn(move || of_seeds((0..1000).map(move |n| 2 * n + odd)));
        [half(0), half(1)].map(|half| half.join().unwrap())
    });
    let mut open: BTreeMap<String, usize> = BTreeMap::new();
    halves.iter().flat_map(|h| &h.open).for_each(|(kind, n)| *open.entry(kind.clone()).or_default() += n);
    let worked: usize = halves.iter().map(|h| h.worked).sum();
    assert!(open.len() == 15 && open.values().all(|n| *n > 5) && worked > 100, "{open:?}, {worked} worked");
}
