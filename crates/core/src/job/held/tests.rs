//! The ways round a hold point, each tried: two jobs in one panel, a job on the feeder, handles, undo, pauses, a meter that
//! fails, going back, an older plan, work that was given up in the middle. What has to hold is handbook 5.1.

use std::collections::BTreeSet;

use jiff::Timestamp;

use super::super::work;
use crate::Change;
use crate::base::Invalid;
use crate::base::position::parse_poles;
use crate::base::units::Amps;
use crate::change::HandleAt;
use crate::edit::invert;
use crate::fixture::Fixture;
use crate::house::*;

/// A main panel that feeds an annex; a breaker to replace in each.
struct Two {
    house: House,
    annex: PanelId,
    feeder: BreakerId,
    in_main: BreakerId,
    in_annex: BreakerId,
    lamp: PointId,
}

const MAIN: JobId = JobId(1);
const ANNEX: JobId = JobId(2);

fn two() -> Two {
    let mut f = Fixture::new(12);
    f.house.panels.put(Panel { main: Some(Amps(100.0)), ..f.panel().clone() });
    let in_main = f.breaker("1", 20.0, "");
    f.breaker("3", 15.0, "");
    let feeder = f.breaker("2-4", 60.0, "");
    let annex = f.sub_panel("Annex", feeder);
    let in_annex = f.breaker_in(annex, "1", 20.0, "");
    f.breaker_in(annex, "3", 20.0, "");
    f.all_is_entered();
    let room = f.room("Workshop");
    let lamp = f.point("W1", room, PointKind::Light);
    Two { house: f.house, annex, feeder, in_main, in_annex, lamp }
}

fn time(seconds: i64) -> Timestamp {
    Timestamp::from_second(1_000_000 + seconds).unwrap()
}

fn go(house: &House, change: &Change) -> House {
    house.apply(change).unwrap_or_else(|e| panic!("{e}")).house
}

fn begin(house: &House, job: JobId, breaker: BreakerId) -> Result<House, Invalid> {
    let goal = Goal::Replace { breaker, amps: None, model: String::new() };
    house
        .apply(&Change::BeginJob { job, goal: Box::new(goal), instead: [].into(), who: "Ash".into(), time: time(0) })
        .map(|a| a.house)
}

fn at(house: &House, job: JobId, act: JobAct, time: Timestamp) -> Result<House, Invalid> {
    house.apply(&Change::ActInJob { job, act, who: "Ash".into(), time }).map(|a| a.house)
}

fn act(house: &House, job: JobId, act: JobAct) -> Result<House, Invalid> {
    at(house, job, act, time(house.jobs.get(job).unwrap().done.len() as i64))
}

fn next(house: &House, job: JobId) -> &JobStep {
    house.jobs.get(job).unwrap().next().unwrap()
}

fn read(house: &House, job: JobId, value: f64) -> Result<House, Invalid> {
    let reading = ReadingId(1000 * job.0 + house.readings.len() as u64 + 1);
    let why = "the lead had slipped".to_owned();
    act(house, job, JobAct::Read { step: next(house, job).key.clone(), value, loaded: false, reading, why })
}

/// Does the next step as it should be.
fn right(house: &House, job: JobId) -> Result<House, Invalid> {
    let step = next(house, job).clone();
    match step.hold {
        None => act(house, job, JobAct::Done { step: step.key, noted: String::new() }),
        Some(hold) => read(house, job, hold.likely.unwrap_or(hold.expect.from)),
    }
}

/// Goes on until it is the turn of a step.
fn until(mut house: House, job: JobId, is: impl Fn(&JobStep) -> bool) -> House {
    while !is(next(&house, job)) {
        house = right(&house, job).unwrap_or_else(|e| panic!("{e}"));
    }
    house
}

fn to_the_work(house: House, job: JobId) -> House {
    until(house, job, |step| step.stage == Stage::Work)
}

fn set(breaker: BreakerId, handle: Handle) -> Change {
    Change::SetHandles { handles: vec![HandleAt { breaker, handle }] }
}

#[test]
fn what_is_held_is_not_switched_taken_out_or_undone_by_anybody_else() {
    let t = two();
    let before = begin(&t.house, ANNEX, t.in_annex).unwrap();
    assert_eq!(before.held(), [], "nothing is off yet");
    let off = before.apply(&Change::SetHandles { handles: vec![HandleAt { breaker: t.feeder, handle: Handle::On }] });
    assert!(off.is_ok(), "and nothing is held");
    let house = to_the_work(before, ANNEX);
    let all = house.held();
    let inside = house.breakers_of(house.jobs.get(ANNEX).unwrap().panel).into_iter().map(|b| b.id);
    let off: BTreeSet<BreakerId> = inside.chain([t.feeder]).collect();
    assert!(matches!(all.as_slice(), [h] if h.job == ANNEX && h.who == "Ash" && h.breakers == off), "{all:?}");
    let moved = Breaker { at: parse_poles("5").unwrap(), ..house.breakers.get(t.in_annex).unwrap().clone() };
    for change in [
        set(t.feeder, Handle::On),
        set(t.in_annex, Handle::On),
        Change::RemoveBreaker { breaker: t.in_annex },
        Change::PutBreaker { breaker: moved },
        Change::Batch { changes: vec![set(t.feeder, Handle::On)] },
    ] {
        let refused = house.apply(&change).err().unwrap();
        assert_eq!(refused.field, "handles");
        assert!(refused.message.contains("Ash works in Annex"), "{}", refused.message);
    }
    // On the panel's face who holds it is said at each handle that nobody moves, and at no other.
    let held_on = |panel: PanelId| {
        let face = crate::view::face::face(&house, &crate::trace::beliefs(&house), house.panels.get(panel).unwrap());
        let held =
            face.breakers.into_iter().filter(|b| b.held.as_ref().is_some_and(|who| who.contains("Ash works in Annex")));
        held.map(|b| b.breaker).collect::<Vec<_>>()
    };
    let inside: Vec<BreakerId> = house.breakers_of(t.annex).into_iter().map(|b| b.id).collect();
    assert_eq!((held_on(t.annex), held_on(PanelId(1))), (inside, vec![t.feeder]));
    // A new name of a breaker moves nothing, and other handles are free.
    let named = Breaker { label: "bench".into(), ..house.breakers.get(t.in_annex).unwrap().clone() };
    go(&house, &Change::PutBreaker { breaker: named });
    go(&house, &set(t.in_main, Handle::Off));
    // Taking the switching off back on the page of changes would put it on.
    let start = until(begin(&t.house, ANNEX, t.in_annex).unwrap(), ANNEX, |s| s.key == "off");
    let switched = start.apply(&Change::ActInJob {
        job: ANNEX,
        act: JobAct::Done { step: "off".into(), noted: String::new() },
        who: "Ash".into(),
        time: time(9),
    });
    let switched = switched.unwrap();
    let undone = switched.house.apply_edits(invert(switched.edits)).err().unwrap();
    assert!(undone.message.contains("taken back in the job itself"), "{}", undone.message);
}

#[test]
fn whoever_traces_meanwhile_is_sent_to_no_handle_and_no_point_of_it() {
    let t = two();
    let mut start = begin(&t.house, ANNEX, t.in_annex).unwrap();
    // Its own work is over, and it was left off on purpose: that is nobody's, and goes back on.
    let off = Breaker { handle: Handle::Off, ..start.breakers.get(t.in_main).unwrap().clone() };
    start.breakers.put(off);
    let behind: Vec<BreakerId> = start.breakers_of(t.annex).into_iter().map(|b| b.id).chain([t.feeder]).collect();
    for (nth, seen) in [(1, Seen::Dead), (2, Seen::Dead)] {
        let observation = Observation::Power { off: behind.iter().copied().collect(), seen, how: Way::Tester };
        let who = "Ash".into();
        start.evidence.put(Evidence {
            id: EvidenceId(nth),
            point: t.lamp,
            time: time(-9),
            who,
            step: None,
            observation,
        });
    }
    let sent = |house: &House| {
        let told = crate::trace::advise(house, &Crew { keep_on: [].into(), ..Crew::default() }).unwrap();
        let moved = told.switch_off.iter().chain(&told.switch_on).chain(&told.back_on);
        (moved.map(|b| b.breaker).collect::<BTreeSet<_>>(), told)
    };
    let (free, told) = sent(&start);
    assert!(
        told.points.contains(&t.lamp) && told.held.is_empty() && behind.iter().any(|b| free.contains(b)),
        "{told:?}"
    );
    let (moved, told) = sent(&to_the_work(start, ANNEX));
    assert!(!behind.iter().any(|b| moved.contains(b)), "{told:?}");
    assert!(told.back_on.iter().any(|b| b.breaker == t.in_main), "{told:?}");
    assert!(told.points.is_empty() && told.held.iter().all(|who| who.contains("Ash works in Annex")), "{told:?}");
    assert_eq!(told.held.len(), 1);
}

#[test]
fn whoever_is_to_work_there_too_sees_who_is_at_it() {
    let t = two();
    let other = t.house.breakers.iter().find(|b| b.at_text() == "3" && b.panel == PanelId(1)).unwrap().id;
    let both = begin(&begin(&t.house, ANNEX, t.in_annex).unwrap(), JobId(3), other).unwrap();
    let house = to_the_work(begin(&both, MAIN, t.in_main).unwrap(), MAIN);
    let now = |job: JobId| work::now(&house, house.jobs.get(job).unwrap());
    assert!(now(MAIN).others.is_empty(), "nobody else");
    for job in [JobId(3), ANNEX] {
        let told = now(job);
        assert!(told.others.iter().any(|said| said.contains("Ash works in")), "{told:?}");
        assert!(told.live[0].contains("off for somebody else's work"), "no proof of theirs: {told:?}");
    }
    // One handle of it held off leaves a panel live.
    let annex = to_the_work(begin(&begin(&t.house, MAIN, t.in_main).unwrap(), ANNEX, t.in_annex).unwrap(), ANNEX);
    let told = work::now(&annex, annex.jobs.get(MAIN).unwrap());
    assert!(told.others.len() == 1 && told.live == ["The whole panel is live."], "{told:?}");
    let face = crate::view::face::face(&house, &crate::trace::beliefs(&house), house.panels.get(t.annex).unwrap());
    assert!(
        face.work.iter().any(|said| said.starts_with("What feeds it is off: Ash works in Main")),
        "{:?}",
        face.work
    );
}

#[test]
fn two_jobs_in_one_panel_do_not_switch_it_under_each_others_hands() {
    let t = two();
    let other = t.house.breakers.iter().find(|b| b.at_text() == "3" && b.panel == PanelId(1)).unwrap().id;
    let both = begin(&begin(&t.house, JobId(3), other).unwrap(), MAIN, t.in_main).unwrap();
    let both = until(both, JobId(3), |s| s.key == "off");
    let house = to_the_work(both, MAIN);
    // The other's "off" would end with its own "on".
    assert!(right(&house, JobId(3)).err().unwrap().message.contains("Ash works in Main"));
    assert!(begin(&house, JobId(4), other).err().unwrap().message.contains("Ash works in Main"));
    let left = act(&house, JobId(3), JobAct::Stop { why: String::new() }).unwrap();
    assert!(act(&left, JobId(3), JobAct::GoOn).err().unwrap().message.contains("Ash works in Main"));
    let done = until(house, MAIN, |s| s.stage == Stage::Record);
    assert!(right(&done, JobId(3)).is_ok(), "once it is as planned, the other goes on");
}

#[test]
fn a_job_on_the_feeders_panel_voids_what_was_proven_behind_it_and_leaves_its_feeder_off() {
    let t = two();
    let both = begin(&begin(&t.house, ANNEX, t.in_annex).unwrap(), MAIN, t.in_main).unwrap();
    let house = to_the_work(both, ANNEX);
    let proof = work::now(&house, house.jobs.get(ANNEX).unwrap()).dead.unwrap();
    assert!(proof.rests_on.iter().any(|p| p.contains("2-4")), "{proof:?}");
    let house = right(&house, ANNEX).unwrap();
    let house = until(house, MAIN, |s| s.key == "off");
    let house = right(&house, MAIN).unwrap();
    let now = work::now(&house, house.jobs.get(ANNEX).unwrap());
    assert_eq!((next(&house, ANNEX).key.as_str(), now.dead), ("source-before", None));
    assert!(now.voided.unwrap().contains("Main was switched meanwhile"));
    // Shown dead again it goes on where it was; its feeder is not theirs to put on while hands are in Main.
    let house = until(house, ANNEX, |s| s.stage == Stage::BackOn);
    assert!(right(&house, ANNEX).err().unwrap().message.contains("Ash works in Main"));
    // "The rest" of the older plan is not the feeder any more.
    let house = until(house, MAIN, |s| s.key == "others-on");
    let now = work::now(&house, house.jobs.get(MAIN).unwrap());
    assert!(now.stays_off.iter().any(|s| s.starts_with("Leave Main 2-4 off: Ash works behind it")), "{now:?}");
    let house = until(house, MAIN, |s| s.stage == Stage::Record);
    assert!(house.breakers.get(t.feeder).unwrap().is_off());
    let house = until(house, ANNEX, |s| s.stage == Stage::Record);
    assert!(!house.breakers.get(t.feeder).unwrap().is_off());
    assert_eq!(house.held(), []);
}

/// A batch is several changes, and no way round.
#[test]
fn a_feeder_switched_in_a_batch_voids_as_well() {
    let t = two();
    let both = begin(&begin(&t.house, ANNEX, t.in_annex).unwrap(), MAIN, t.in_main).unwrap();
    let house = until(to_the_work(both, ANNEX), MAIN, |s| s.key == "off");
    let off = JobAct::Done { step: "off".into(), noted: String::new() };
    let switched = Change::ActInJob { job: MAIN, act: off, who: "Ivy".into(), time: time(60) };
    let house = go(&house, &Change::Batch { changes: vec![switched] });
    assert_eq!((next(&house, ANNEX).key.as_str(), next(&house, MAIN).key.as_str()), ("source-before", "cover"));
}

// Handbook 5.1: off is no proof of dead, and a proof counts no longer than what it rests on.
#[test]
fn a_face_looks_dead_only_while_that_is_proven() {
    let t = two();
    let drawn = |house: &House, panel: PanelId| {
        let face = crate::view::face::face(house, &crate::trace::beliefs(house), house.panels.get(panel).unwrap());
        (face.off, face.dead)
    };
    let main = PanelId(1);
    let begun = begin(&t.house, MAIN, t.in_main).unwrap();
    assert_eq!(drawn(&begun, main), (false, false));
    let read_next = until(begun, MAIN, |s| s.hold.as_ref().is_some_and(|h| h.kind == HoldKind::Dead));
    assert_eq!(drawn(&read_next, main), (true, false), "its main is off, and nobody read that it is dead");
    let fed = read(&read_next, MAIN, 119.0).unwrap();
    assert!(!drawn(&fed, main).1, "it is fed from somewhere");
    let dead = to_the_work(read_next, MAIN);
    assert_eq!(
        (drawn(&dead, main), drawn(&dead, t.annex)),
        ((true, true), (false, false)),
        "of the annex nothing was read"
    );
    for leaves in [JobAct::Stop { why: "dinner".into() }, JobAct::TakeOver { why: "the pump".into() }] {
        assert!(!drawn(&act(&dead, MAIN, leaves).unwrap(), main).1, "nobody stands there");
    }
}

#[test]
fn a_take_over_voids_the_proof_and_lets_go_of_the_handles() {
    let t = two();
    let house = to_the_work(begin(&t.house, ANNEX, t.in_annex).unwrap(), ANNEX);
    let house = right(&house, ANNEX).unwrap();
    let taken = act(&house, ANNEX, JobAct::TakeOver { why: "the cellar floods: the pump".into() }).unwrap();
    let now = work::now(&taken, taken.jobs.get(ANNEX).unwrap());
    assert!(now.stopped.unwrap().taken_over && now.dead.is_none());
    assert_eq!(now.off, ["Annex was left off, and may have come on since"], "unknown is no more than that");
    assert_eq!(now.live, ["The whole panel is live."]);
    assert_eq!(taken.held(), []);
    let on = go(&taken, &set(t.feeder, Handle::On));
    let again = act(&on, ANNEX, JobAct::GoOn).unwrap();
    assert_eq!(next(&again, ANNEX).key, "off");
    assert_eq!(again.held().len(), 1, "hands were in it: it is theirs again");
}

#[test]
fn left_and_gone_on_with_it_is_shown_dead_again() {
    let t = two();
    for worked in [false, true] {
        let mut house = to_the_work(begin(&t.house, ANNEX, t.in_annex).unwrap(), ANNEX);
        if worked {
            house = right(&house, ANNEX).unwrap();
        }
        let left = act(&house, ANNEX, JobAct::Stop { why: "dinner".into() }).unwrap();
        // What nobody has worked in may come on again behind its cover.
        assert_eq!(left.held().len(), usize::from(worked));
        assert_eq!(left.apply(&set(t.feeder, Handle::On)).is_ok(), !worked);
        let again = act(&left, ANNEX, JobAct::GoOn).unwrap();
        assert_eq!(next(&again, ANNEX).key, "off");
        let again = to_the_work(again, ANNEX);
        assert_eq!(next(&again, ANNEX), next(&house, ANNEX), "then it goes on where it was");
    }
    // Who said nothing for more than an hour was away.
    let house = to_the_work(begin(&t.house, ANNEX, t.in_annex).unwrap(), ANNEX);
    let step = next(&house, ANNEX).key.clone();
    let late = at(&house, ANNEX, JobAct::Done { step: step.clone(), noted: String::new() }, time(4000)).unwrap();
    assert!(late.jobs.get(ANNEX).unwrap().has_passed(&step) && next(&late, ANNEX).key == "off");
}

#[test]
fn nothing_counts_that_a_meter_showed_which_then_fails_its_test() {
    let t = two();
    let house = until(begin(&t.house, ANNEX, t.in_annex).unwrap(), ANNEX, |s| s.key == "source-after");
    let failed = read(&house, ANNEX, 0.0).unwrap();
    assert_eq!(next(&failed, ANNEX).key, "source-before");
    let void = |d: &&StepDone| !d.void.is_empty();
    let job = failed.jobs.get(ANNEX).unwrap();
    assert_eq!(job.done.iter().filter(void).count(), 3, "the first test, the bus, the terminal");
    assert!(work::now(&failed, job).voided.unwrap().contains("did not show the live source"));
    // A reading that stays is first of all a reason to test the meter again.
    let house = until(begin(&t.house, ANNEX, t.in_annex).unwrap(), ANNEX, |s| s.key == "dead-bus");
    let live = read(&house, ANNEX, 118.0).unwrap();
    assert_eq!(next(&live, ANNEX).key, "source-before");
    let slip = act(&live, ANNEX, JobAct::Back).unwrap();
    assert_eq!(next(&slip, ANNEX).key, "source-before", "taken back as a slip it opens nothing");
    assert!(slip.jobs.get(ANNEX).unwrap().done.last().unwrap().void.contains("slip"));
    assert_eq!(read(&house, ANNEX, 1200.0).err().unwrap().field, "value");
}

#[test]
fn back_over_what_put_power_on_it_is_shown_dead_again() {
    let t = two();
    let house = until(begin(&t.house, ANNEX, t.in_annex).unwrap(), ANNEX, |s| s.key == "others-on");
    assert!(house.jobs.get(ANNEX).unwrap().power_is_back());
    let back = act(&house, ANNEX, JobAct::Back).unwrap();
    assert_eq!(next(&back, ANNEX).key, "off");
    // Further back there is no way round it either.
    let further = act(&back, ANNEX, JobAct::Back).unwrap();
    assert_eq!(next(&further, ANNEX).key, "off");
}

#[test]
fn given_up_in_the_middle_it_stays_held_until_somebody_says_that_it_is_safe() {
    let t = two();
    let house = right(&to_the_work(begin(&t.house, ANNEX, t.in_annex).unwrap(), ANNEX), ANNEX).unwrap();
    let given_up = act(&house, ANNEX, JobAct::GiveUp).unwrap();
    let open = work::open(&given_up);
    assert!(
        matches!(open.as_slice(), [job] if job.left_open && job.leave_safe.contains("Cap every loose wire")),
        "{open:?}"
    );
    assert!(given_up.apply(&set(t.feeder, Handle::On)).err().unwrap().message.contains("Ash works in Annex"));
    assert_eq!(open[0].off, ["Annex was left off, and may have come on since"]);
    let safe = act(&given_up, ANNEX, JobAct::MadeSafe).unwrap();
    assert_eq!((work::open(&safe).len(), safe.held()), (0, vec![]));
    go(&safe, &set(t.feeder, Handle::On));
    // Before anything is opened there is nothing to make safe.
    let early = act(&begin(&t.house, ANNEX, t.in_annex).unwrap(), ANNEX, JobAct::GiveUp).unwrap();
    assert!(work::open(&early).is_empty() && act(&early, ANNEX, JobAct::MadeSafe).is_err());
}

#[test]
fn what_was_off_before_stays_off_at_the_end_however_old_the_plan() {
    let t = two();
    let house = begin(&t.house, MAIN, t.in_main).unwrap();
    let other = house.breakers.iter().find(|b| b.at_text() == "3" && b.panel == PanelId(1)).unwrap().id;
    let house = go(&house, &set(other, Handle::Tripped));
    let house = until(house, MAIN, |s| s.key == "others-on");
    let now = work::now(&house, house.jobs.get(MAIN).unwrap());
    assert_eq!(now.stays_off, ["Leave Main 3 off: it had tripped before"]);
    let done = until(house, MAIN, |s| s.stage == Stage::Record);
    assert!(done.breakers.get(other).unwrap().is_off());
    assert!(!done.breakers.get(t.feeder).unwrap().is_off());
}

#[test]
fn tracing_leaves_what_is_held_and_a_dead_look_says_what_was_off_for_work() {
    let t = two();
    let house = to_the_work(begin(&t.house, ANNEX, t.in_annex).unwrap(), ANNEX);
    let step = Step { id: StepId(5), off: [t.in_main].into(), visit: vec![t.lamp] };
    let house = go(&house, &Change::BeginStep { step });
    assert!(house.breakers.get(t.feeder).unwrap().is_off() && house.breakers.get(t.in_main).unwrap().is_off());
    let (at, annex) = (time(50), t.annex);
    let off = |house: &House, seen, time| -> BTreeSet<BreakerId> {
        let observation = Observation::Power { off: [t.in_main].into(), seen, how: Way::Light };
        let evidence = Evidence { id: EvidenceId(7), point: t.lamp, time, who: "Ivy".into(), step: None, observation };
        let seen = go(house, &Change::Record { evidence });
        seen.evidence.get(EvidenceId(7)).unwrap().observation.breakers().collect()
    };
    let all: BTreeSet<BreakerId> = house.breakers_of(annex).iter().map(|b| b.id).chain([t.feeder, t.in_main]).collect();
    assert_eq!(off(&house, Seen::Dead, at), all);
    // What was seen before it was switched off, and what was alive, is left as it was told.
    assert_eq!(off(&house, Seen::Dead, time(-50)), [t.in_main].into());
    assert_eq!(off(&house, Seen::Live, at), [t.in_main].into());
    // The tour ends where work moves what it rests on; a dead look from before is as late as a phone comes back.
    assert!(house.step.is_some());
    let done = until(house, ANNEX, |s| s.stage == Stage::Record);
    assert_eq!(done.step, None);
    assert_eq!(off(&done, Seen::Dead, time(12)), all, "it was off then");
    assert_eq!(off(&done, Seen::Dead, time(500)), [t.in_main].into(), "and is on again");
}

#[test]
fn a_generators_inlet_is_a_source_of_its_panel_and_proven_dead() {
    let t = two();
    // By what its label says, or by what it is said to be, whatever its label.
    for (label, inlet) in [("Generator inlet, interlocked", false), ("backup", true)] {
        inlet_is_named(&t, label, inlet);
    }
}

fn inlet_is_named(t: &Two, label: &str, inlet: bool) {
    let inlet = Breaker {
        label: label.into(),
        inlet,
        handle: Handle::Off,
        ..Breaker::new(BreakerId(900), PanelId(1), parse_poles("9-11").unwrap(), Amps(30.0))
    };
    let house = go(&t.house, &Change::PutBreaker { breaker: inlet });
    let house = begin(&house, MAIN, t.in_main).unwrap();
    let keys: Vec<&str> = house.jobs.get(MAIN).unwrap().steps.iter().map(|s| s.key.as_str()).collect();
    let place = |key: &str| keys.iter().position(|k| *k == key).unwrap_or_else(|| panic!("{key}: {keys:?}"));
    assert!(place("off") < place("inlet-off") && place("inlet-off") < place("source-before"));
    assert!(place("dead-900") < place("source-after"));
    let on = to_the_work(house, MAIN);
    assert!(on.apply(&set(BreakerId(900), Handle::On)).err().unwrap().message.contains("Ash works in Main"));
}

#[test]
fn the_first_word_on_something_dead_is_that_somebody_works_there() {
    use crate::answers::diagnose::{Complaint, diagnose};
    let t = two();
    let complaint = Complaint { dead: [t.lamp].into(), ..Complaint::default() };
    let told = |house: &House| diagnose(house, &crate::trace::beliefs(house), &complaint).unwrap().held;
    let house = begin(&t.house, MAIN, t.in_main).unwrap();
    assert_eq!(told(&house), [""; 0]);
    let house = to_the_work(house, MAIN);
    assert!(
        matches!(told(&house).as_slice(), [one] if one.contains("Ash works in Main") && one.contains("Switch nothing on"))
    );
}

// A round of measuring goes on in other panels; where somebody works it says who, and nothing is clamped.
#[test]
fn a_round_says_who_works_where_it_would_clamp() {
    use crate::load::{Loaded, draws::draws, round};
    let t = two();
    let told = |house: &House| -> Vec<(String, String)> {
        let beliefs = crate::trace::beliefs(house);
        let all = draws(house, &beliefs);
        let places = round::places(house, &Loaded::new(house, &beliefs, &all), &Round::default());
        places.into_iter().map(|it| (it.panel, it.held)).collect()
    };
    let house = begin(&t.house, ANNEX, t.in_annex).unwrap();
    assert!(told(&house).iter().all(|(_, held)| held.is_empty()));
    let house = to_the_work(house, ANNEX);
    let (annex, main): (Vec<_>, Vec<_>) = told(&house).into_iter().partition(|(panel, _)| panel == "Annex");
    assert!(annex.len() > 3 && annex.iter().all(|(_, held)| held.contains("Ash works in Annex")), "{annex:?}");
    assert_eq!(main.iter().filter(|(_, held)| !held.is_empty()).count(), 1, "its feeder alone: {main:?}");
}

#[test]
fn who_looks_for_it_or_wants_it_off_hears_first_who_works_there() {
    use crate::answers::find::find;
    use crate::answers::shutdown::{Target, plan};
    let t = two();
    let (idle, at_work) = {
        let begun = begin(&t.house, MAIN, t.in_main).unwrap();
        (begun.clone(), to_the_work(begun, MAIN))
    };
    let lamp = t.house.points.get(t.lamp).unwrap().tag.clone();
    let found = |house: &House| find(house, &crate::trace::beliefs(house), &lamp).remove(0).warning;
    let off = |house: &House| {
        let tracker = crate::trace::Tracker::new(house);
        let answer = plan(&tracker, &tracker.beliefs(), &Target::Points { points: [t.lamp].into() }).unwrap();
        answer.cautions.into_iter().map(|c| c.text).collect::<Vec<_>>().join(" ")
    };
    assert!(!found(&idle).contains("Ash") && !off(&idle).contains("Ash"), "nothing is off yet");
    assert!(
        found(&at_work).contains("Ash works in Main") && found(&at_work).contains("ask them"),
        "{}",
        found(&at_work)
    );
    assert!(off(&at_work).contains("dead only until they switch it on"), "{}", off(&at_work));
}

/// Handbook 5.1, common practice: a body of half-size breakers comes out whole.
#[test]
fn the_other_half_of_a_body_is_proven_dead_landed_again_and_checked() {
    let mut f = Fixture::new(12);
    f.house.panels.put(Panel { main: Some(Amps(100.0)), ..f.panel().clone() });
    f.allow_tandems();
    let (upper, lower) = (f.breaker("5a", 20.0, ""), f.breaker("5b", 15.0, ""));
    let (pair, inner) = (f.breaker("2a-4b", 20.0, ""), f.breaker("2b-4a", 30.0, ""));
    let alone = f.breaker("7", 20.0, "");
    f.all_is_entered();
    let steps = |house: &House, breaker| {
        let begun = begin(house, MAIN, breaker).unwrap();
        begun.jobs.get(MAIN).unwrap().clone()
    };
    let has = |job: &Job, key: String| job.steps.iter().any(|step| step.key == key);
    for (breaker, mate) in [(upper, lower), (lower, upper), (pair, inner), (inner, pair)] {
        let job = steps(&f.house, breaker);
        assert!(has(&job, format!("dead-{}", mate.0)) && has(&job, format!("on-{}", mate.0)), "{breaker:?}");
        let words: Vec<&str> = job.steps.iter().map(|s| s.what.as_str()).collect();
        assert!(words.iter().any(|w| w.starts_with("Tag the wire of") && w.contains("one body")), "{words:?}");
        assert!(words.iter().any(|w| w.contains("on its half again")), "{words:?}");
        let rest = job.step("others-on").and_then(|s| s.switches.clone()).unwrap();
        assert!(!rest.breakers.contains(&mate), "it is not of the rest");
        assert!(job.stood.breakers.iter().any(|b| b.id == mate));
    }
    // Off before, it is off after.
    let off = go(&f.house, &set(lower, Handle::Off));
    let job = steps(&off, upper);
    assert!(has(&job, format!("dead-{}", lower.0)) && !has(&job, format!("on-{}", lower.0)));
    // What stands alone has no other half, and one that has does not go without it.
    assert!(!has(&steps(&f.house, alone), format!("dead-{}", upper.0)));
    let goal = Goal::Retire { breaker: upper, spare: false };
    let refused = f.house.apply(&Change::BeginJob {
        job: MAIN,
        goal: Box::new(goal),
        instead: [].into(),
        who: "Ash".into(),
        time: time(0),
    });
    assert!(refused.err().unwrap().message.contains("one body with 5b"));
}

/// Handbook 5.1: a proof is about every conductor in a box that is opened, whichever panel feeds it.
#[test]
fn a_box_that_is_opened_is_proven_dead_with_all_that_other_panels_feed_there() {
    let mut f = Fixture::new(12);
    f.house.panels.put(Panel { main: Some(Amps(100.0)), ..f.panel().clone() });
    let (feeder, other) = (f.breaker("2-4", 60.0, ""), f.breaker("3", 15.0, ""));
    let annex = f.sub_panel("Annex", feeder);
    let own = f.breaker_in(annex, "1", 20.0, "");
    f.all_is_entered();
    let room = f.room("Workshop");
    let (here, mate) = (f.point("W1", room, PointKind::Receptacle), f.point("W2", room, PointKind::Receptacle));
    for (point, on) in [(here, own), (mate, other)] {
        let others: Vec<BreakerId> = [other, own].into_iter().filter(|b| *b != on).collect();
        for _ in 0..3 {
            f.see(point, &[on], Seen::Dead);
            f.see(point, &others, Seen::Live);
        }
    }
    let retire = |house: &House| {
        let goal = Goal::Retire { breaker: own, spare: true };
        go(
            house,
            &Change::BeginJob {
                job: ANNEX,
                goal: Box::new(goal),
                instead: [].into(),
                who: "Ash".into(),
                time: time(0),
            },
        )
    };
    let keys =
        |house: &House| -> Vec<String> { house.jobs.get(ANNEX).unwrap().steps.iter().map(|s| s.key.clone()).collect() };
    let apart = keys(&retire(&f.house));
    let box_of = format!("dead-box-{}", here.0);
    assert!(apart.contains(&box_of) && !apart.contains(&"boxes-off".to_owned()), "{apart:?}");
    f.share_box(&[here, mate], 7);
    let house = retire(&f.house);
    let steps = keys(&house);
    let place = |key: &str| steps.iter().position(|k| k == key).unwrap_or_else(|| panic!("{key}: {steps:?}"));
    assert!(place("boxes-off") < place("source-before") && place(&box_of) < place("source-after"));
    assert!(place("boxes-closed") < place("on") && place("on") < place("boxes-on"));
    let house = to_the_work(house, ANNEX);
    assert!(house.breakers.get(other).unwrap().is_off());
    let refused = house.apply(&set(other, Handle::On)).err().unwrap();
    assert!(refused.message.contains("Ash works in Annex"));
    assert!(house.held()[0].rests_on.contains(&Premise::BoxMate { breaker: other }));
    let done = until(house, ANNEX, |s| s.stage == Stage::Record);
    assert!(!done.breakers.get(other).unwrap().is_off(), "it is on again at the end");
}
