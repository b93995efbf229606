//! Resetting a tripped breaker, step by step (handbook 5.2): what was running, unplug, off, on, and then one by one.
//!
//! Where a reset stands is read from the logbook, so it goes on after a restart and on another device.

use std::collections::BTreeSet;

use jiff::{SignedDuration, Timestamp};
use serde::Serialize;
use utoipa::ToSchema;

use crate::base::Invalid;
use crate::base::units::Amps;
use crate::code::trip;
use crate::house::{Breaker, BreakerId, Device, Event, Handle, House, LogEntry, Outcome, Point, PointId};
use crate::load::Loaded;
use crate::load::circuits;
use crate::load::cure::{Cure, cure};
use crate::trace::Beliefs;
use crate::words::things::in_words;

/// Where a reset stands.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
pub struct ResetGuide {
    /// The breaker.
    pub breaker: BreakerId,
    /// Its rating.
    pub amps: Amps,
    /// What it is: a blown fuse is replaced, not reset.
    pub device: Device,
    /// What to do now,
    pub step: ResetStep,
    /// in words.
    pub ask: ResetWords,
    /// What may hang on it, with its current.
    pub loads: Vec<ResetLoad>,
    /// All that in words, by room.
    pub everything: String,
    /// What was running when it last tripped.
    pub running: BTreeSet<PointId>,
    /// The current of that together, where known at all.
    pub running_amps: Amps,
    /// What is likely to have done it, in words; nothing before it tripped.
    pub cause: Option<String>,
    /// What is asked about: the current of these together; nothing where none of them is known.
    pub together: Option<Together>,
    /// How often it tripped in the last thirty days.
    pub trips: usize,
    /// It tripped again after it had been reset, within thirty days: what is to be said of that.
    pub again: Option<String>,
    /// What would relieve the circuit, where too much is on it.
    pub cure: Option<Cure>,
}

/// How a tripped one is found. [prac: handbook 1.2]
pub const LOOK_FOR: &str = "Look for the handle that stands between ON and OFF, or is loose.";

/// A step of a reset in words.
#[derive(Debug, Clone, PartialEq, Eq, Serialize, ToSchema)]
pub struct ResetWords {
    /// In a few words.
    pub title: &'static str,
    /// What to do.
    pub said: String,
}

/// Several things at once on one breaker.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
pub struct Together {
    /// Their currents added up, as far as they are known.
    pub amps: Amps,
    /// More than the breaker's rating.
    pub too_much: bool,
    /// How long it holds that, in words.
    pub said: String,
}

/// What to do now.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, ToSchema)]
#[serde(rename_all = "kebab-case")]
pub enum ResetStep {
    /// Nothing is recorded as tripped: find the handle that stands between, and note what was running.
    NoteTrip,
    /// Unplug or switch off all that hangs on it; then firmly off, and on.
    Unplug,
    /// It held with everything off: add load back one by one.
    AddBack,
    /// It tripped while load was added back or after a time: too much at once. Take some away, then off, and on.
    TooMuch,
    /// It tripped at once with everything off: a fault in the wiring. Leave it off.
    LeaveOff,
    /// It holds with everything on.
    Done,
}

impl ResetStep {
    /// What it asks for. A blown fuse is replaced, where a handle is pushed. [prac: handbook 1.2, 5.2]
    fn ask(self, breaker: &Breaker, everything: &str, running: Amps) -> ResetWords {
        let fuse = breaker.device == Device::Fuse;
        let on_again =
            if fuse { "put in a new fuse of the right rating" } else { "push the handle firmly to OFF, then to ON" };
        let (title, said) = match self {
            Self::NoteTrip if fuse => ("What was running when it blew?", "Look for the blown fuse.".to_owned()),
            Self::NoteTrip => (
                "What was running when it tripped?",
                format!("{LOOK_FOR} Look at every panel, and press RESET on ground-fault devices."),
            ),
            Self::Unplug => {
                let everything = if everything.is_empty() { "whatever went dark" } else { everything };
                let said = format!("Everything: {everything}. Then {on_again}. Stand to the side and look away.");
                ("Unplug or switch off everything on it", said)
            }
            Self::AddBack => (
                "It held. Add the loads back, one by one",
                "Wait a moment after each. Tick what is on again.".to_owned(),
            ),
            Self::TooMuch => {
                let said = format!(
                    "Take something heavy away: what was on draws about {:.1} A on a circuit of {}. Unplug all, then {on_again}.",
                    running.0, breaker.amps
                );
                ("Too much at once", said)
            }
            Self::LeaveOff => (
                "Leave it off",
                "It tripped at once with everything unplugged: a short or a fault to ground in the wiring, or a breaker that is \
                 broken. Do not reset it again. Call an electrician."
                    .to_owned(),
            ),
            Self::Done => ("It holds", "Reset and noted. If it trips again, it is shown here.".to_owned()),
        };
        ResetWords { title, said }
    }
}

/// Something that may hang on the breaker.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
pub struct ResetLoad {
    /// The point.
    pub point: PointId,
    /// Its tag.
    pub tag: String,
    /// What it is.
    pub name: String,
    /// Its current, where known.
    pub amps: Option<Amps>,
    /// The current is believed, not measured.
    pub typical: bool,
    /// Whether it is proven to hang there.
    pub proven: bool,
}

/// How long trips are remembered together.
const LATELY: SignedDuration = SignedDuration::from_hours(30 * 24);

/// Where the reset of a breaker stands at a time, and what these points would draw together on it.
///
/// # Errors
/// [`Invalid`] where there is no such breaker.
pub fn guide(
    house: &House,
    (beliefs, loaded): (&Beliefs, &Loaded<'_>),
    id: BreakerId,
    on: &BTreeSet<PointId>,
    now: Timestamp,
) -> Result<ResetGuide, Invalid> {
    let breaker = house.breakers.get(id).ok_or_else(|| Invalid::gone("breaker", id.0))?;
    let mut story: Vec<&LogEntry> = house.log.iter().filter(|e| e.event.breaker() == Some(id)).collect();
    story.sort_by_key(|e| (e.time, e.id));
    let trip = |e: &&&LogEntry| matches!(e.event, Event::Trip { .. });
    let last_trip = story.iter().rev().find(trip);
    let running = last_trip.map(|e| e.event.points()).unwrap_or_default();
    let lately = |e: &&&LogEntry| now.duration_since(e.time) <= LATELY;
    let trips = story.iter().filter(trip).filter(lately).count();
    let held = |e: &&LogEntry| matches!(e.event, Event::Reset { outcome: Outcome::Held, .. });
    let again = last_trip.is_some_and(|last| {
        let before = story.iter().filter(|e| (e.time, e.id) < (last.time, last.id)).filter(lately);
        before.copied().any(|e| held(&e)) && now.duration_since(last.time) <= LATELY
    });
    let said_again = again.then(|| {
        format!("It tripped again after a reset: {trips} times in thirty days. Do not go on resetting: find the cause.")
    });
    let loads = loads(house, beliefs, loaded, id);
    let too_much = |sum: f64| sum > breaker.amps.0 || again || is_foretold(house, loaded, id);
    let amps = |p: &PointId| at_point(loaded, *p).map_or(0.0, |(a, _)| a.0);
    let running_amps = Amps(running.iter().map(amps).sum());
    let everything = in_words(house, &loads.iter().filter_map(|l| house.points.get(l.point)).collect::<Vec<_>>());
    let step = step(&story, breaker.handle, &to_add(&running, &loads));
    Ok(ResetGuide {
        breaker: id,
        amps: breaker.amps,
        device: breaker.device,
        step,
        ask: step.ask(breaker, &everything, running_amps),
        running_amps,
        cause: last_trip.map(|_| cause(house, loaded, breaker, &running)),
        together: together(loaded, breaker.amps, on),
        everything,
        loads,
        running,
        trips,
        again: said_again,
        // With everything unplugged it is no matter of too much.
        cure: (last_trip.is_some() && step != ResetStep::LeaveOff && too_much(running_amps.0))
            .then(|| cure(house, loaded, id))
            .flatten(),
    })
}

/// What is at a point draws together, and whether nothing of that was measured; nothing where nothing is known of it.
fn at_point(loaded: &Loaded<'_>, point: PointId) -> Option<(Amps, bool)> {
    let here: Vec<_> =
        loaded.all.iter().filter(|d| d.point == point).filter_map(|d| Some((d.amps?, d.measured))).collect();
    let sum = here.iter().map(|(amps, _)| amps.0).sum();
    (!here.is_empty()).then(|| (Amps(sum), !here.iter().all(|(_, measured)| *measured)))
}

/// What was running against the rating; where that is not enough, what usually passes it.
fn cause(house: &House, loaded: &Loaded<'_>, breaker: &Breaker, running: &BTreeSet<PointId>) -> String {
    let sum: f64 = running.iter().filter_map(|p| at_point(loaded, *p)).map(|(amps, _)| amps.0).sum();
    if sum > breaker.amps.0 {
        return format!("What was on draws about {sum:.0} A on {} A: too much at once", breaker.amps.0);
    }
    let circuits = circuits::circuits(house, &loaded.hung, &loaded.all);
    let foretold = circuits.into_iter().find(|c| c.breaker == breaker.id && !c.culprits.is_empty());
    let counted = if running.is_empty() {
        "Nothing was noted as running".to_owned()
    } else {
        format!("What was noted draws about {sum:.0} A, less than its {} A", breaker.amps.0)
    };
    match foretold {
        Some(c) => format!("{counted}; what usually passes its rating is {}", c.culprits.join(" with ")),
        None => format!("{counted}: something else was on too, or it is the wiring or the breaker"),
    }
}

/// Its rating is passed in a usual week as well.
fn is_foretold(house: &House, loaded: &Loaded<'_>, id: BreakerId) -> bool {
    circuits::circuits(house, &loaded.hung, &loaded.all).iter().any(|c| c.breaker == id && c.warns)
}

fn together(loaded: &Loaded<'_>, rating: Amps, on: &BTreeSet<PointId>) -> Option<Together> {
    let known: Vec<f64> = on.iter().filter_map(|p| at_point(loaded, *p)).map(|(amps, _)| amps.0).collect();
    let sum: f64 = known.iter().sum();
    let said = trip::holds(rating, Amps(sum)).said;
    (!known.is_empty()).then_some(Together { amps: Amps(sum), too_much: sum > rating.0, said })
}

/// What is added back before it is done: what was running when it tripped; where nobody noted that, all that hangs on it.
fn to_add(running: &BTreeSet<PointId>, loads: &[ResetLoad]) -> BTreeSet<PointId> {
    if running.is_empty() { loads.iter().map(|l| l.point).collect() } else { running.clone() }
}

/// What the last line of the story asks for.
fn step(story: &[&LogEntry], handle: Handle, running: &BTreeSet<PointId>) -> ResetStep {
    let told = |e: &&&LogEntry| matches!(e.event, Event::Trip { .. } | Event::Reset { .. });
    match story.iter().rev().find(told).map(|e| &e.event) {
        // Somebody moved the handle otherwise since.
        Some(Event::Trip { .. }) if handle == Handle::On => ResetStep::NoteTrip,
        Some(Event::Trip { .. }) => ResetStep::Unplug,
        Some(Event::Reset { outcome: Outcome::AtOnce, running, .. }) if running.is_empty() => ResetStep::LeaveOff,
        Some(Event::Reset { outcome: Outcome::AtOnce | Outcome::Later, .. }) => ResetStep::TooMuch,
        Some(Event::Reset { outcome: Outcome::Held, .. }) if handle != Handle::On => ResetStep::NoteTrip,
        Some(Event::Reset { outcome: Outcome::Held, running: on, .. }) if on.is_superset(running) => ResetStep::Done,
        Some(Event::Reset { outcome: Outcome::Held, .. }) => ResetStep::AddBack,
        _ => ResetStep::NoteTrip,
    }
}

fn loads(house: &House, beliefs: &Beliefs, loaded: &Loaded<'_>, id: BreakerId) -> Vec<ResetLoad> {
    let belief = beliefs.breakers.iter().find(|b| b.at.breaker == id);
    let fed = belief.into_iter().flat_map(|b| &b.feeds).filter(|f| f.proven || f.likely);
    let load = |point: &Point, proven| {
        let known = at_point(loaded, point.id);
        ResetLoad {
            point: point.id,
            tag: point.tag.clone(),
            name: house.called(point),
            amps: known.map(|(a, _)| a),
            typical: known.is_some_and(|(_, typical)| typical),
            proven,
        }
    };
    fed.filter_map(|f| Some(load(house.points.get(f.point)?, f.proven))).collect()
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::base::units::Watts;
    use crate::change::Change;
    use crate::fixture::Fixture;
    use crate::house::PointKind;
    use crate::house::Seen::{Dead, Live};
    use crate::house::{Load, LoadId, LoadKind, LogId};
    use crate::load::draws::draws;
    use crate::trace::beliefs;

    struct Rig {
        f: Fixture,
        breaker: BreakerId,
        microwave: PointId,
        minute: i64,
    }

    fn rig() -> Rig {
        let mut f = Fixture::new(20);
        let (breaker, other) = (f.breaker("1", 20.0, ""), f.breaker("2", 20.0, ""));
        let room = f.room("Kitchen");
        let microwave = f.point("K1", room, PointKind::Appliance);
        f.name(microwave, "microwave");
        for _ in 0..2 {
            f.see(microwave, &[breaker], Dead);
            f.see(microwave, &[other], Live);
        }
        Rig { f, breaker, microwave, minute: 0 }
    }

    impl Rig {
        fn log(&mut self, event: Event) {
            self.minute += 1;
            let time = Timestamp::from_second(self.minute * 60).unwrap();
            let entry =
                LogEntry { id: LogId(1000 + self.minute as u64), time, who: "test".into(), event, note: String::new() };
            self.f.house = self.f.house.apply(&Change::Log { entry }).unwrap().house;
        }

        fn trip(&mut self) {
            self.log(Event::Trip { breaker: self.breaker, running: [self.microwave].into() });
        }

        fn reset(&mut self, running: &[PointId], outcome: Outcome) {
            self.log(Event::Reset { breaker: self.breaker, running: running.iter().copied().collect(), outcome });
        }

        fn guide(&self) -> ResetGuide {
            let now = Timestamp::from_second(self.minute * 60).unwrap();
            self.asked(self.breaker, &[], now).unwrap()
        }

        fn asked(&self, breaker: BreakerId, on: &[PointId], now: Timestamp) -> Result<ResetGuide, Invalid> {
            let beliefs = beliefs(&self.f.house);
            let draws = draws(&self.f.house, &beliefs);
            let loaded = Loaded::new(&self.f.house, &beliefs, &draws);
            guide(&self.f.house, (&beliefs, &loaded), breaker, &on.iter().copied().collect(), now)
        }

        fn together(&self, on: &[PointId]) -> Option<(f64, bool)> {
            let told = self.asked(self.breaker, on, Timestamp::UNIX_EPOCH).unwrap().together;
            told.map(|t| (t.amps.0, t.too_much))
        }

        fn handle(&self) -> Handle {
            self.f.house.breakers.get(self.breaker).unwrap().handle
        }
    }

    // handbook 5.2.
    // Handbook 3.3, 5.16: too much on it asks for a circuit of its own for what draws most; a fault in the wiring does not.
    #[test]
    fn what_trips_by_too_much_is_told_what_would_relieve_it() {
        let mut rig = rig();
        assert_eq!(rig.guide().cure, None, "nothing tripped yet");
        for (id, name, amps, kind) in
            [(1, "microwave", 13.0, LoadKind::Microwave), (2, "kettle", 12.5, LoadKind::Other)]
        {
            let load = Load { amps: Some(Amps(amps)), ..Load::new(LoadId(id), rig.microwave, name, kind) };
            rig.f.house.loads.put(load);
        }
        rig.trip();
        let cure = rig.guide().cure.unwrap();
        assert_eq!((cure.breaker, cure.alone[0].load, cure.alone[0].rating), (rig.breaker, LoadId(1), Amps(20.0)));
        assert!(cure.alone[0].must && cure.alone[0].rest.0 <= 16.0 && cure.said.contains("circuit of its own of 20 A"));
        rig.reset(&[], Outcome::AtOnce);
        assert_eq!((rig.guide().step, rig.guide().cure), (ResetStep::LeaveOff, None));
    }

    #[test]
    fn from_the_tripped_handle_to_everything_on_again() {
        let mut rig = rig();
        assert_eq!(rig.guide().step, ResetStep::NoteTrip);
        rig.trip();
        assert_eq!((rig.guide().step, rig.handle()), (ResetStep::Unplug, Handle::Tripped));
        assert_eq!(rig.guide().running_amps, Amps(13.0), "typical of a microwave");
        let cause = rig.guide().cause.unwrap();
        assert!(cause.contains("13 A, less than its 20 A") && cause.contains("something else"), "{cause}");
        rig.reset(&[], Outcome::Held);
        assert_eq!((rig.guide().step, rig.handle()), (ResetStep::AddBack, Handle::On));
        rig.reset(&[rig.microwave], Outcome::Held);
        assert_eq!(rig.guide().step, ResetStep::Done);
        assert!(rig.guide().again.is_none() && rig.guide().trips == 1);
    }

    #[test]
    fn where_nobody_noted_what_was_running_all_of_it_is_added_back() {
        let mut rig = rig();
        rig.log(Event::Trip { breaker: rig.breaker, running: BTreeSet::new() });
        rig.reset(&[], Outcome::Held);
        assert_eq!(rig.guide().step, ResetStep::AddBack, "it held with everything off, and that is not the end");
        rig.reset(&[rig.microwave], Outcome::Held);
        assert_eq!(rig.guide().step, ResetStep::Done);
    }

    // handbook 3, common practice: at once with the loads unplugged is a fault in the wiring: leave it off.
    #[test]
    fn what_trips_unloaded_is_left_off() {
        let mut rig = rig();
        rig.trip();
        rig.reset(&[], Outcome::AtOnce);
        assert_eq!((rig.guide().step, rig.handle()), (ResetStep::LeaveOff, Handle::Tripped));
    }

    #[test]
    fn what_trips_under_load_has_too_much_on_it() {
        let mut rig = rig();
        rig.trip();
        rig.reset(&[], Outcome::Held);
        rig.reset(&[rig.microwave], Outcome::Later);
        assert_eq!(rig.guide().step, ResetStep::TooMuch);
    }

    #[test]
    fn a_second_trip_after_a_reset_is_told_as_such() {
        let mut rig = rig();
        rig.trip();
        rig.reset(&[rig.microwave], Outcome::Held);
        rig.minute += 60 * 24 * 10;
        rig.trip();
        assert!(rig.guide().again.is_some_and(|said| said.contains("2 times")) && rig.guide().trips == 2);
        rig.minute += 60 * 24 * 40;
        assert!(rig.guide().again.is_none() && rig.guide().trips == 0, "forty days later that is past");
    }

    // Sums by hand: a microwave typically 13 A (handbook 3.2), a heater of 1500 W at 120 V 12.5 A [def]: it
    // resists, and draws its plate (handbook 3.2).
    #[test]
    fn what_would_run_together_is_added_up_against_the_rating() {
        let mut rig = rig();
        let room = rig.f.house.points.get(rig.microwave).unwrap().room;
        let heater = rig.f.point("K2", room, PointKind::Receptacle);
        let load = Load::new(LoadId(1), heater, "heater", LoadKind::Heating);
        rig.f.house.loads.put(Load { watts: Some(Watts(1500.0)), ..load });
        let plain = rig.f.point("K3", room, PointKind::Receptacle);
        assert_eq!(rig.together(&[rig.microwave]), Some((13.0, false)));
        assert_eq!(rig.together(&[rig.microwave, heater, plain]), Some((13.0 + 12.5, true)));
        assert_eq!(rig.together(&[plain]), None, "of that nothing is known");
    }

    #[test]
    fn its_loads_come_from_the_map() {
        let rig = rig();
        let guide = rig.guide();
        assert_eq!(guide.loads.len(), 1);
        let load = &guide.loads[0];
        assert_eq!(
            (load.name.as_str(), load.amps, load.typical, load.proven),
            ("Kitchen, microwave", Some(Amps(13.0)), true, true)
        );
        let missing = rig.asked(BreakerId(9999), &[], Timestamp::UNIX_EPOCH);
        assert_eq!(missing.unwrap_err().field, "breaker");
    }
}
