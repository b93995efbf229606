//! Resetting a tripped breaker, step by step, to an end (handbook 5.2, 5.17): what was running, unplug, off, on, and then one by one;
//! three closures at the most.
//!
//! Where a reset stands is read from the logbook, so it goes on after a restart and on another device.

use std::collections::BTreeSet;

use jiff::{SignedDuration, Timestamp};
use serde::Serialize;
use utoipa::ToSchema;

use crate::base::Invalid;
use crate::base::units::Amps;
use crate::code::trip;
use crate::house::{
    Breaker, BreakerId, Device, Event, Handle, House, Load, LoadKind, LogEntry, Outcome, Point, PointId, TripManner,
};
use crate::load::Loaded;
use crate::load::cure::{Cure, cure};
use crate::trace::Beliefs;
use crate::words::things::by_tags;

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
    /// Why nothing is reset at all: somebody works there, or it is marked as bad.
    pub barred: Vec<String>,
    /// What may hang on it, with its current.
    pub loads: Vec<ResetLoad>,
    /// All that in words, by room.
    pub everything: String,
    /// What was running when it last tripped.
    pub running: BTreeSet<PointId>,
    /// The current of that together, where known at all.
    pub running_amps: Amps,
    /// What held since, switched on together.
    pub held: BTreeSet<PointId>,
    /// What is to be left unplugged.
    pub culprits: BTreeSet<PointId>,
    /// What is likely to have done it, in words; nothing before it tripped.
    pub cause: Option<String>,
    /// What is asked about: the current of these together; nothing where none of them is known.
    pub together: Option<Together>,
    /// How often it tripped in the last thirty days.
    pub trips: usize,
    /// Closures that are left.
    pub left: usize,
    /// It tripped again after it had been reset, within thirty days: what is to be said of that.
    pub again: Option<String>,
    /// How it ended, where it did.
    pub end: Option<ResetEnd>,
    /// What would relieve the circuit, where too much is on it.
    pub cure: Option<Cure>,
}

/// How a reset ends.
#[derive(Debug, Clone, PartialEq, Eq, Serialize, ToSchema)]
pub struct ResetEnd {
    /// What it is.
    pub why: EndsBy,
    /// That in words,
    pub said: String,
    /// and what to do now.
    pub act: String,
    /// How the rest goes on without what is to be left unplugged; nothing where it stays off.
    pub rest: Option<String>,
    /// The job that mends it, where it is one.
    pub job: Option<&'static str>,
    /// Whether it is the breaker is to be measured.
    pub suspect: bool,
}

/// What a reset ends by.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, ToSchema)]
#[serde(rename_all = "kebab-case")]
pub enum EndsBy {
    /// The wiring, or the breaker.
    Wiring,
    /// One thing.
    Thing,
    /// Too much at once.
    TooMuch,
    /// Leakage, or a mixed neutral.
    Leakage,
    /// The breaker.
    Breaker,
    /// It was closed three times.
    Often,
}

/// Closures that fail, at the most. [prac: handbook 5.17]
const CLOSURES: usize = 3;
/// Trips in thirty days, with little on it, that point to the breaker. [prac: handbook 5.17]
const AGAIN_AND_AGAIN: usize = 3;
/// Far below its rating is under so much of it. [prac]
const FAR_BELOW: f64 = 0.7;

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
    /// Nothing is reset: somebody works there, or it is marked as bad.
    Barred,
    /// Nothing is recorded as tripped: find the handle that stands between, and note what was running.
    NoteTrip,
    /// Unplug or switch off all that hangs on it; then firmly off, and on.
    Unplug,
    /// It held with everything off: add load back one by one.
    AddBack,
    /// It ended: leave it off, or what did it unplugged.
    Ended,
    /// It holds with everything on, but for what is to be left unplugged.
    Done,
}

impl ResetStep {
    /// What it asks for. A blown fuse is replaced, where a handle is pushed. [prac: handbook 1.2, 5.2]
    fn ask(self, breaker: &Breaker, everything: &str, story: &TripStory) -> ResetWords {
        let fuse = breaker.device == Device::Fuse;
        let on_again = on_again(breaker);
        let (title, said) = match self {
            Self::Barred => ("Do not reset it", "What stands against it is said above.".to_owned()),
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
                "Wait a moment after each. Tick what is on again: what was added last is what it was, if it trips."
                    .to_owned(),
            ),
            Self::Ended => ("This far, and no further", "What did it, and what to do:".to_owned()),
            Self::Done if story.culprits.is_empty() => (
                "It holds",
                "Reset and noted. What did it was something that is not on yet, or all of it together for long: plug in what is left \
                 one by one and tick it."
                    .to_owned(),
            ),
            Self::Done => ("It holds without what did it", "Leave that unplugged until it is mended.".to_owned()),
        };
        ResetWords { title, said }
    }
}

fn on_again(breaker: &Breaker) -> &'static str {
    if breaker.device == Device::Fuse {
        "put in a new fuse of the right rating"
    } else {
        "push the handle firmly to OFF, then to ON"
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

/// What was logged of a breaker since it last tripped, or was mended.
#[derive(Debug, Clone, Default)]
struct TripStory {
    /// Nothing is told of it.
    nothing: bool,
    running: BTreeSet<PointId>,
    manner: Option<TripManner>,
    /// What held together.
    held: BTreeSet<PointId>,
    has_held: bool,
    failures: usize,
    culprits: BTreeSet<PointId>,
    /// Closures failed by different things, each added to what had held: none of them may be what it is.
    by_different: bool,
    /// The last closure failed: so, with these on, of which these were new.
    failed: Option<(Outcome, BTreeSet<PointId>, BTreeSet<PointId>)>,
}

impl TripStory {
    /// Of events in order.
    fn of<'e>(events: impl Iterator<Item = &'e Event>) -> Self {
        let mut story = Self { nothing: true, ..Self::default() };
        for event in events {
            match event {
                // What ended in a closure that failed is no new start by being told again: only mending it is.
                Event::Trip { .. } if story.failed.is_some() => {}
                Event::Trip { running, manner, .. } => {
                    story = Self { running: running.clone(), manner: *manner, ..Self::default() };
                }
                Event::Mended { .. } => {
                    story = Self { running: story.running, nothing: story.nothing, ..Self::default() };
                }
                Event::Reset { running, outcome: Outcome::Held, .. } if !story.nothing => {
                    story.failed = None;
                    story.has_held = true;
                    story.held.clone_from(running);
                }
                Event::Reset { running, outcome, .. } if !story.nothing => {
                    let added: BTreeSet<PointId> = running.difference(&story.held).copied().collect();
                    let new = if added.is_empty() { running.clone() } else { added };
                    story.failures += 1;
                    story.by_different |= !story.culprits.is_empty() && story.culprits.is_disjoint(&new);
                    story.culprits.extend(&new);
                    story.failed = Some((*outcome, running.clone(), new));
                }
                _ => {}
            }
        }
        story
    }
}

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
    let mut log: Vec<&LogEntry> = house.log.iter().filter(|e| e.event.breaker() == Some(id)).collect();
    log.sort_by_key(|e| (e.time, e.id));
    let trip = |e: &&&LogEntry| matches!(e.event, Event::Trip { .. });
    let last_trip = log.iter().rev().find(trip);
    let lately = |e: &&&LogEntry| now.duration_since(e.time) <= LATELY;
    let trips = log.iter().filter(trip).filter(lately).count();
    let held = |e: &&LogEntry| matches!(e.event, Event::Reset { outcome: Outcome::Held, .. });
    let again = last_trip.is_some_and(|last| {
        let before = log.iter().filter(|e| (e.time, e.id) < (last.time, last.id)).filter(lately);
        before.copied().any(|e| held(&e)) && now.duration_since(last.time) <= LATELY
    });
    let said_again = again.then(|| {
        format!("It tripped again after a reset: {trips} times in thirty days. Do not go on resetting: find the cause.")
    });
    let story = TripStory::of(log.iter().map(|e| &e.event));
    let loads = loads(house, beliefs, loaded, id);
    let too_much = |sum: f64| sum > breaker.amps.0 || again || is_foretold(loaded, id);
    let sum = |points: &BTreeSet<PointId>| -> f64 {
        points.iter().filter_map(|p| at_point(loaded, *p)).map(|(amps, _)| amps.0).sum()
    };
    let running_amps = Amps(sum(&story.running));
    let everything = by_tags(house, &loads.iter().map(|l| l.tag.clone()).collect::<Vec<_>>());
    let end = ending(house, breaker, &story, trips, &sum);
    let barred = barred(house, breaker);
    let wanted: BTreeSet<PointId> = to_add(&story.running, &loads).difference(&story.culprits).copied().collect();
    let step = match (&end, breaker.handle) {
        _ if !barred.is_empty() => ResetStep::Barred,
        (Some(_), _) => ResetStep::Ended,
        _ if story.nothing => ResetStep::NoteTrip,
        // Somebody moved the handle otherwise since.
        (None, Handle::On) if !story.has_held => ResetStep::NoteTrip,
        (None, _) if !story.has_held => ResetStep::Unplug,
        (None, handle) if handle != Handle::On => ResetStep::NoteTrip,
        _ if story.held.is_superset(&wanted) => ResetStep::Done,
        _ => ResetStep::AddBack,
    };
    let over = end.as_ref().is_none_or(|end| end.why == EndsBy::TooMuch);
    Ok(ResetGuide {
        breaker: id,
        amps: breaker.amps,
        device: breaker.device,
        step,
        ask: step.ask(breaker, &everything, &story),
        barred,
        running_amps,
        cause: last_trip.map(|_| cause(loaded, breaker, &story)),
        together: together(loaded, breaker.amps, on),
        everything,
        loads,
        trips,
        left: CLOSURES.saturating_sub(story.failures),
        again: said_again,
        // A fault is no matter of too much.
        cure: (last_trip.is_some() && over && too_much(running_amps.0)).then(|| cure(house, loaded, id)).flatten(),
        end,
        running: story.running,
        held: story.held,
        culprits: story.culprits,
    })
}

/// Why nothing is reset: what somebody else holds off stays off, and what is marked as bad is replaced first.
fn barred(house: &House, breaker: &Breaker) -> Vec<String> {
    let held = house.held();
    let by_work = held.iter().filter(|held| held.holds(breaker) || held.dead(house).contains(&breaker.id));
    let mut barred: Vec<String> =
        by_work.map(|held| format!("{}, and it is off for them: ask them", held.who_works(house))).collect();
    if breaker.bad {
        barred.push("It is marked as bad: it stays off until it is replaced".to_owned());
    }
    barred
}

/// How it ends, where it does: by what was added last, by how it fell, and by how often. [prac: handbook 3.7, 3.8, 5.17]
fn ending(
    house: &House,
    breaker: &Breaker,
    story: &TripStory,
    trips: usize,
    sum: &impl Fn(&BTreeSet<PointId>) -> f64,
) -> Option<ResetEnd> {
    let end = |why, said: String, act: &str| ResetEnd {
        why,
        said,
        act: act.to_owned(),
        rest: None,
        job: None,
        suspect: false,
    };
    let protects = matches!(breaker.device, Device::Gfci | Device::Afci | Device::Dual);
    let Some((outcome, running, new)) = &story.failed else {
        let little = !story.running.is_empty() && sum(&story.running) < FAR_BELOW * breaker.amps.0;
        let waits = !story.nothing && !story.has_held && breaker.handle != Handle::On;
        return (waits && trips >= AGAIN_AND_AGAIN && little && !protects).then(|| ResetEnd {
            job: Some("replace"),
            suspect: true,
            ..end(
                EndsBy::Breaker,
                format!("It tripped {trips} times in thirty days with far less than its {} A on it", breaker.amps.0),
                "It is worn, or hot from a poor contact: leave it off, and have it measured and replaced by a qualified person. \
                 Mended, it is tried anew here.",
            )
        });
    };
    let named = |points: &BTreeSet<PointId>| named(house, points);
    let left = CLOSURES.saturating_sub(story.failures);
    let rest = || {
        let held = if story.held.is_empty() {
            "Nothing else on".to_owned()
        } else {
            format!("On as before: {}", named(&story.held))
        };
        format!(
            "That unplugged, the rest may go on. {held}; then {}. {left} of {CLOSURES} closures are left.",
            on_again(breaker)
        )
    };
    if running.is_empty() {
        return Some(match (outcome, protects) {
            (Outcome::AtOnce, false) => end(
                    EndsBy::Wiring,
                    "It tripped at once with everything unplugged: a short or a fault to ground in the wiring, or a breaker that is broken".into(),
                    "Leave it off, and do not reset it again. Look once more that nothing is plugged in still. An electrician finds the place: mostly a box, a nail, water, or a light that \
                     is wired in.",
                ),
            (_, true) => ResetEnd {
                suspect: true,
                ..end(
                    EndsBy::Leakage,
                    "Its protection trips with everything unplugged: leakage in the wiring or a wet outlet, its neutral mixed with another \
                     circuit's, or the breaker itself"
                        .into(),
                    "Leave it off. Look once more that nothing is plugged in still, and for wet outlets and lights outdoors; a qualified person parts the circuit and looks at the neutral.",
                )
            },
            _ => ResetEnd {
                job: Some("replace"),
                suspect: true,
                ..end(
                    EndsBy::Breaker,
                    "It tripped after a while with nothing on it: the breaker is worn, or warm from a poor contact".into(),
                    "Leave it off. A qualified person feels, measures and replaces it.",
                )
            },
        });
    }
    if left == 0 {
        return Some(end(
            EndsBy::Often,
            format!("It was closed {CLOSURES} times, and tripped each time"),
            "Leave it off: each closure into a fault wears it. An electrician looks at it. Mended, it is tried anew here.",
        ));
    }
    let total = sum(running);
    if story.by_different && protects {
        return Some(ResetEnd {
            suspect: true,
            ..end(
                EndsBy::Leakage,
                format!(
                    "Different things made its protection trip ({}): each leaks a little, and together it is too much",
                    named(&story.culprits)
                ),
                "Leave them unplugged, and plug them in one at a time, or on two circuits. If one alone makes it trip, that one is repaired; if each of them does, a qualified person looks at the neutral and the breaker.",
            )
        });
    }
    if story.by_different && *outcome == Outcome::Later && total < FAR_BELOW * breaker.amps.0 {
        return Some(ResetEnd {
            job: Some("replace"),
            suspect: true,
            ..end(
                EndsBy::Breaker,
                format!(
                    "It tripped after different things ({}), with about {total:.1} A known on {} A: the breaker is worn, or hot from a poor contact",
                    named(&story.culprits),
                    breaker.amps.0
                ),
                "Leave it off. A qualified person feels, measures and replaces it. Were more on it than is known: measure that first.",
            )
        });
    }
    if *outcome == Outcome::Later && total > breaker.amps.0 {
        return Some(ResetEnd {
            rest: Some(rest()),
            job: Some("relieve"),
            ..end(
                EndsBy::TooMuch,
                format!("{} together draw about {total:.1} A on {} A", named(running), breaker.amps.0),
                "Not these together: leave off what was added last, or plug it in at another circuit; a circuit of its own mends it.",
            )
        });
    }
    // Who saw it fall on the start of something need not have entered that it has a motor.
    let on_start = story.manner == Some(TripManner::OnStart);
    let motor = on_start || house.loads.iter().any(|load| new.contains(&load.point) && starts_hard(load));
    let arcs = matches!(breaker.device, Device::Afci | Device::Dual);
    let (said, act) = if *outcome == Outcome::AtOnce && motor && arcs {
        (
            format!("{} made its arc-fault protection trip as its motor started", named(new)),
            "The brushes of a motor spark, and some breakers take that for an arc; a worn cord arcs in earnest. Leave it unplugged and have it looked at. If it does the same on another arc-fault circuit, it is the thing; else a newer breaker of the same type may tell them apart.",
        )
    } else if *outcome == Outcome::AtOnce && motor {
        (
            format!("It tripped as {} started", named(new)),
            "A motor takes five times its current for a moment: it starts hard, or the breaker is small or worn. Leave it unplugged; have \
             the motor looked at, then the breaker.",
        )
    } else if protects {
        (
            format!("{} made its protection trip", named(new)),
            "It leaks to ground, or arcs: leave it unplugged, and have it repaired. If something else does the same there, many leak a \
             little: spread them over two circuits.",
        )
    } else if *outcome == Outcome::AtOnce {
        (
            format!("It tripped at once as {} was added: most likely it has a short", named(new)),
            "Leave it unplugged: repair it or throw it away. A cord that is worn is enough.",
        )
    } else {
        (
            format!(
                "It tripped a while after {} was added, with about {total:.1} A known on {} A",
                named(new),
                breaker.amps.0
            ),
            "Leave it unplugged: it draws more than is known of it, or something else is on too. Measure it: Loads.",
        )
    };
    Some(ResetEnd { rest: Some(rest()), ..end(EndsBy::Thing, said, act) })
}

/// It takes many times its current for a moment. [prac]
fn starts_hard(load: &Load) -> bool {
    let kinds = [
        LoadKind::Pump,
        LoadKind::Refrigerator,
        LoadKind::Disposer,
        LoadKind::Cooling,
        LoadKind::HeatPump,
        LoadKind::Washer,
    ];
    load.motor == Some(true) || load.hp.is_some() || kinds.contains(&load.kind)
}

/// What is at a point draws together, and whether nothing of that was measured; nothing where nothing is known of it.
fn at_point(loaded: &Loaded<'_>, point: PointId) -> Option<(Amps, bool)> {
    let here: Vec<_> =
        loaded.all.iter().filter(|d| d.point == point).filter_map(|d| Some((d.amps?, d.measured))).collect();
    let sum = here.iter().map(|(amps, _)| amps.0).sum();
    (!here.is_empty()).then(|| (Amps(sum), !here.iter().all(|(_, measured)| *measured)))
}

/// How it fell, where somebody told that; else what was running against the rating; where that is not enough, what usually passes it.
fn cause(loaded: &Loaded<'_>, breaker: &Breaker, story: &TripStory) -> String {
    let running = &story.running;
    let sum: f64 = running.iter().filter_map(|p| at_point(loaded, *p)).map(|(amps, _)| amps.0).sum();
    if let Some(said) = story.manner.and_then(|manner| by_manner(manner, sum > breaker.amps.0)) {
        return said.to_owned();
    }
    if sum > breaker.amps.0 {
        return format!("What was on draws about {sum:.0} A on {} A: too much at once", breaker.amps.0);
    }
    let foretold = loaded.circuits().iter().find(|c| c.breaker == breaker.id && !c.culprits.is_empty());
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

/// What the way in which it tripped says. [prac: handbook 3.4, 3.7, 3.8, 5.17]
fn by_manner(manner: TripManner, over: bool) -> Option<&'static str> {
    Some(match manner {
        TripManner::AtOnce => "It tripped at once: a short, in a thing or in the wiring",
        TripManner::Seconds => {
            "It tripped within seconds: far more than its rating, or a motor that does not come up to speed"
        }
        TripManner::OnStart => {
            "It tripped as a motor started: that takes about five times its current for a moment; it starts hard, or the breaker is small or worn"
        }
        TripManner::Hours => {
            "It tripped after hours: what runs for three hours may draw four fifths of its rating; more warms it, and so does a loose terminal"
        }
        TripManner::Heat if !over => {
            "It tripped in heat: in a full, hot panel a breaker trips below its rating; less on it, or a free space beside it"
        }
        TripManner::Protection => {
            "Only its protection tripped: leakage adds up, half a milliampere to one for each appliance; or a wet outlet, a worn cord, or its neutral mixed with another circuit's"
        }
        // That is the sum's to say.
        TripManner::Minutes | TripManner::Heat => return None,
    })
}

/// Its rating is passed in a usual week as well.
fn is_foretold(loaded: &Loaded<'_>, id: BreakerId) -> bool {
    loaded.circuits().iter().any(|c| c.breaker == id && c.warns)
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

/// What is plugged in at a point, by its name; nothing where the point has just that name.
fn plugged_in(house: &House, point: &Point) -> Vec<String> {
    let there = house.loads.iter().filter(|load| load.point == point.id && !load.name.is_empty());
    there.map(|load| load.name.clone()).filter(|name| *name != point.name).collect()
}

/// A place with what is plugged in there.
fn called(house: &House, point: &Point) -> String {
    let (place, things) = (house.called(point), plugged_in(house, point));
    if things.is_empty() { place } else { format!("{place}: {}", things.join(", ")) }
}

/// Things by where they hang; what is plugged in at a single one comes first.
fn named(house: &House, points: &BTreeSet<PointId>) -> String {
    let all: Vec<&Point> = points.iter().filter_map(|p| house.points.get(*p)).collect();
    let places = by_tags(house, &all.iter().map(|p| p.tag.clone()).collect::<Vec<_>>());
    let things = if let [one] = all.as_slice() { plugged_in(house, one) } else { Vec::new() };
    if things.is_empty() { places } else { format!("the {} at {places}", things.join(", the ")) }
}

fn loads(house: &House, beliefs: &Beliefs, loaded: &Loaded<'_>, id: BreakerId) -> Vec<ResetLoad> {
    let belief = beliefs.breakers.iter().find(|b| b.at.breaker == id);
    let fed = belief.into_iter().flat_map(|b| &b.feeds).filter(|f| f.proven || f.likely);
    let load = |point: &Point, proven| {
        let known = at_point(loaded, point.id);
        ResetLoad {
            point: point.id,
            tag: point.tag.clone(),
            name: called(house, point),
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
            self.log(Event::Trip { breaker: self.breaker, running: [self.microwave].into(), manner: None });
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
        assert_eq!((rig.guide().step, rig.guide().cure), (ResetStep::Ended, None));
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
        rig.log(Event::Trip { breaker: rig.breaker, running: BTreeSet::new(), manner: None });
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
        let end = rig.guide().end.unwrap();
        assert_eq!((rig.guide().step, rig.handle(), end.why), (ResetStep::Ended, Handle::Tripped, EndsBy::Wiring));
        assert_eq!(end.rest, None, "nothing is left to be unplugged");
        // Mended, it is tried anew, from the start.
        rig.log(Event::Mended { breaker: rig.breaker });
        assert_eq!((rig.guide().step, rig.guide().left), (ResetStep::Unplug, 3));
    }

    /// A kettle and a heater beside the microwave, each with a plate.
    fn counter() -> (Rig, PointId, PointId) {
        let mut rig = rig();
        let room = rig.f.house.points.get(rig.microwave).unwrap().room;
        let [kettle, heater] = ["K2", "K3"].map(|tag| rig.f.point(tag, room, PointKind::Receptacle));
        for (id, point, name) in [(1, kettle, "kettle"), (2, heater, "heater")] {
            for _ in 0..2 {
                rig.f.see(point, &[rig.breaker], Dead);
            }
            let load = Load::new(LoadId(id), point, name, LoadKind::Heating);
            rig.f.house.loads.put(Load { watts: Some(Watts(1500.0)), ..load });
        }
        (rig, kettle, heater)
    }

    // Handbook 5.17: what was added last did it. The rest goes on without it, and it stays unplugged.
    #[test]
    fn a_toaster_with_a_short_is_found_by_what_was_added_last() {
        let (mut rig, kettle, _) = counter();
        rig.log(Event::Trip { breaker: rig.breaker, running: [rig.microwave, kettle].into(), manner: None });
        rig.reset(&[], Outcome::Held);
        rig.reset(&[rig.microwave], Outcome::Held);
        rig.reset(&[rig.microwave, kettle], Outcome::AtOnce);
        let guide = rig.guide();
        let end = guide.end.unwrap();
        assert_eq!((guide.step, end.why), (ResetStep::Ended, EndsBy::Thing));
        assert!(end.rest.is_some_and(|rest| rest.contains("On as before") && rest.contains("2 of 3 closures")));
        assert_eq!((guide.culprits, guide.left), ([kettle].into(), 2));
        assert!(end.said.contains("it has a short"), "{}", end.said);
        rig.reset(&[rig.microwave], Outcome::Held);
        let guide = rig.guide();
        assert_eq!((guide.step, guide.culprits), (ResetStep::Done, [kettle].into()));
        assert!(guide.ask.title.contains("without what did it"));
    }

    // Two heaters of 1500 W on 20 A: 25 A [def], which no 20 A breaker holds for ever (handbook 3.4).
    #[test]
    fn two_heaters_are_too_much_and_the_cure_is_offered() {
        let (mut rig, kettle, heater) = counter();
        rig.log(Event::Trip { breaker: rig.breaker, running: [kettle, heater].into(), manner: None });
        assert!((rig.guide().running_amps.0 - 25.0).abs() < 1e-9);
        rig.reset(&[], Outcome::Held);
        rig.reset(&[kettle], Outcome::Held);
        rig.reset(&[kettle, heater], Outcome::Later);
        let guide = rig.guide();
        let end = guide.end.unwrap();
        assert_eq!((end.why, end.job), (EndsBy::TooMuch, Some("relieve")));
        assert!(end.said.contains("25.0 A on 20 A") && guide.cure.is_some(), "{}", end.said);
    }

    // Handbook 5.17: three closures at the most, whatever is tried.
    #[test]
    fn it_ends_after_three_closures_that_fail() {
        let (mut rig, kettle, heater) = counter();
        rig.log(Event::Trip { breaker: rig.breaker, running: [kettle, heater, rig.microwave].into(), manner: None });
        for tried in [[kettle], [heater], [rig.microwave]] {
            assert_ne!(rig.guide().end.map(|end| end.why), Some(EndsBy::Often));
            rig.reset(&tried, Outcome::AtOnce);
        }
        let guide = rig.guide();
        let end = guide.end.unwrap();
        assert_eq!((end.why, end.rest, guide.left), (EndsBy::Often, None, 0));
        // Told once more that it tripped it gets no more closures.
        rig.trip();
        assert_eq!((rig.guide().step, rig.guide().left), (ResetStep::Ended, 0));
    }

    #[test]
    fn a_protected_breaker_a_motor_and_a_worn_breaker_end_each_in_their_way() {
        let (mut rig, kettle, heater) = counter();
        let breaker = rig.breaker;
        let protect = |rig: &mut Rig, device| {
            let b = rig.f.house.breakers.get(breaker).unwrap().clone();
            rig.f.house.breakers.put(Breaker { device, ..b });
        };
        protect(&mut rig, Device::Afci);
        rig.trip();
        rig.reset(&[], Outcome::Held);
        rig.reset(&[kettle], Outcome::AtOnce);
        assert!(rig.guide().end.unwrap().said.contains("made its protection trip"));
        rig.reset(&[], Outcome::Later);
        assert_eq!(rig.guide().end.unwrap().why, EndsBy::Leakage);
        protect(&mut rig, Device::Plain);
        rig.log(Event::Mended { breaker });
        rig.trip();
        rig.reset(&[], Outcome::Later);
        let end = rig.guide().end.unwrap();
        assert_eq!((end.why, end.suspect, end.job), (EndsBy::Breaker, true, Some("replace")));
        let load = rig.f.house.loads.get(LoadId(1)).unwrap().clone();
        rig.f.house.loads.put(Load { motor: Some(true), ..load });
        rig.log(Event::Mended { breaker });
        rig.trip();
        rig.reset(&[], Outcome::Held);
        rig.reset(&[kettle], Outcome::AtOnce);
        assert!(rig.guide().end.unwrap().said.starts_with("It tripped as the kettle at Kitchen"));
        // Nobody entered that the heater has a motor; that it fell on its start was seen.
        protect(&mut rig, Device::Afci);
        rig.log(Event::Mended { breaker });
        rig.log(Event::Trip { breaker, running: [heater].into(), manner: Some(TripManner::OnStart) });
        rig.reset(&[], Outcome::Held);
        rig.reset(&[heater], Outcome::AtOnce);
        let end = rig.guide().end.unwrap();
        assert!(end.said.contains("arc-fault protection trip as its motor started"), "{}", end.said);
    }

    // Handbook 3.7, 5.17: again and again with far less than its rating on it, it is the breaker: nothing is closed at all.
    #[test]
    fn what_trips_again_and_again_with_little_on_it_is_the_breaker() {
        let (mut rig, ..) = counter();
        for _ in 0..3 {
            rig.trip();
        }
        let guide = rig.guide();
        assert_eq!(
            (guide.step, guide.end.map(|end| end.why)),
            (ResetStep::Ended, Some(EndsBy::Breaker)),
            "13 A on 20 A"
        );
    }

    #[test]
    fn how_it_fell_is_read_where_somebody_told_it() {
        let (mut rig, ..) = counter();
        for (manner, said) in [
            (TripManner::AtOnce, "a short"),
            (TripManner::OnStart, "motor"),
            (TripManner::Hours, "four fifths"),
            (TripManner::Heat, "hot panel"),
            (TripManner::Protection, "leakage"),
            (TripManner::Minutes, "less than its 20 A"),
        ] {
            let running = [rig.microwave].into();
            rig.log(Event::Trip { breaker: rig.breaker, running, manner: Some(manner) });
            let cause = rig.guide().cause.unwrap();
            assert!(cause.contains(said), "{manner:?}: {cause}");
        }
    }

    #[test]
    fn what_is_marked_as_bad_is_not_reset() {
        let (mut rig, ..) = counter();
        rig.trip();
        let bad = Breaker { bad: true, ..rig.f.house.breakers.get(rig.breaker).unwrap().clone() };
        rig.f.house.breakers.put(bad);
        let guide = rig.guide();
        assert_eq!(guide.step, ResetStep::Barred);
        assert!(guide.barred[0].contains("until it is replaced"));
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
