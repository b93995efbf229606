//! What a run came to: how long, what is proven, what is open and why, what surprised, which faults were met.

use jiff::Timestamp;
use serde::Serialize;
use utoipa::ToSchema;

use crate::base::Said;
use crate::base::units::Seconds;
use crate::house::{Evidence, Fault, House, Observation, Point, PointId, Run};
use crate::trace::belief::{Beliefs, BreakerBelief, BreakerRef, PointBelief};
use crate::trace::explain::Because;
use crate::trace::proof::{Missing, Status};
use crate::trace::verdict::STAYS_LIVE;
use crate::words::things::in_words;

/// A run summed up.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
pub struct Report {
    /// The run.
    pub run: Run,
    /// Time at work: gaps of more than ten minutes are pauses.
    pub active: Seconds,
    /// Observations made.
    pub observations: usize,
    /// Points proven now,
    pub proven: usize,
    /// and points in all.
    pub points: usize,
    /// Breakers that are not on.
    pub not_on: Vec<BreakerRef>,
    /// Points still open, and what they lack,
    pub open: Vec<Open>,
    /// and that in words, those that lack the same together: `Kitchen range, lights: needs …`.
    pub still_open: Vec<String>,
    /// Where the old label was wrong.
    pub surprises: Vec<Surprise>,
    /// Faults met on the way, oldest first; from all runs.
    pub faults: Vec<FaultFound>,
    /// Breakers that feed nothing on the list, and nothing else was found dead while they were off.
    pub feeds_nothing: Vec<BreakerRef>,
    /// With every point settled: breakers that feed nothing on the list, and nobody looked yet for what else they feed.
    pub to_search: Vec<BreakerRef>,
}

/// A point still open.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
pub struct Open {
    /// The point.
    pub point: PointId,
    /// Its tag.
    pub tag: String,
    /// What it lacks,
    pub missing: Vec<Missing>,
    /// and that, or how else it stands, in words.
    pub said: String,
    /// It surely hangs on no breaker.
    pub no_breaker: bool,
    /// It surely hangs on two handles together.
    pub two_handles: bool,
}

/// The old label says one thing, the map another.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
pub struct Surprise {
    /// The point.
    pub point: PointId,
    /// Its tag,
    pub tag: String,
    /// and what it is called.
    pub name: String,
    /// What feeds it.
    pub at: BreakerRef,
    /// What the breaker's label says.
    pub label: String,
}

/// A fault met on the way.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
pub struct FaultFound {
    /// At this point.
    pub point: PointId,
    /// Its tag,
    pub tag: String,
    /// and what it is called.
    pub name: String,
    /// Which,
    pub fault: Fault,
    /// and that in words.
    pub said: &'static str,
    /// When.
    #[schema(value_type = String, format = DateTime)]
    pub time: Timestamp,
}

/// A gap longer than this, in seconds, is a pause.
const PAUSE: f64 = 600.0;

/// The report of a run.
#[must_use]
pub fn report(house: &House, beliefs: &Beliefs, run: &Run) -> Report {
    let during = |e: &&Evidence| e.time >= run.begun && run.ended.is_none_or(|end| e.time <= end);
    let mut times: Vec<Timestamp> = house.evidence.iter().filter(during).map(|e| e.time).collect();
    times.sort_unstable();
    let not_on = |b: &BreakerRef| house.breakers.get(b.breaker).is_some_and(|x| x.handle != crate::house::Handle::On);
    let settled = beliefs.progress.is_settled();
    let nothing = |complete: bool| -> Vec<BreakerRef> {
        let of = |b: &&BreakerBelief| b.complete == complete && !b.feeds.iter().any(|f| f.likely);
        beliefs.breakers.iter().filter(of).map(|b| b.at.clone()).collect()
    };
    let open = open(beliefs);
    Report {
        run: run.clone(),
        observations: times.len(),
        active: active(run, &times),
        proven: beliefs.progress.proven,
        points: beliefs.progress.points,
        not_on: beliefs.breakers.iter().map(|b| &b.at).filter(|b| not_on(b)).cloned().collect(),
        still_open: still_open(house, &open),
        open,
        surprises: surprises(house, beliefs),
        faults: faults(house),
        feeds_nothing: nothing(true),
        to_search: if settled { nothing(false) } else { Vec::new() },
    }
}

fn active(run: &Run, times: &[Timestamp]) -> Seconds {
    let all: Vec<Timestamp> = std::iter::once(run.begun).chain(times.iter().copied()).chain(run.ended).collect();
    let gap = |pair: &[Timestamp]| pair[1].duration_since(pair[0]).as_secs_f64();
    Seconds(all.windows(2).map(gap).filter(|s| (0.0..=PAUSE).contains(s)).sum())
}

fn open(beliefs: &Beliefs) -> Vec<Open> {
    let unproven = beliefs.points.iter().filter(|b| !b.proven);
    unproven
        .map(|b| Open {
            point: b.point,
            tag: b.tag.clone(),
            missing: b.missing.clone(),
            said: match b.status {
                Status::TwoHandles => "On two handles together".into(),
                Status::NoBreaker if b.stays_live() => format!("Stays live whatever is off: {STAYS_LIVE}"),
                Status::NoBreaker => "No power was found".into(),
                Status::Proven | Status::Likely | Status::Unknown => format!("Needs {}", b.needs),
            },
            no_breaker: b.status == Status::NoBreaker,
            two_handles: b.status == Status::TwoHandles,
        })
        .collect()
}

/// Points that lack the same in words, in the order of the list.
fn still_open(house: &House, open: &[Open]) -> Vec<String> {
    let mut lacking: Vec<(&str, Vec<&Point>)> = Vec::new();
    for one in open {
        let Some(point) = house.points.get(one.point) else { continue };
        match lacking.iter_mut().find(|(said, _)| *said == one.said) {
            Some((_, points)) => points.push(point),
            None => lacking.push((&one.said, vec![point])),
        }
    }
    lacking.iter().map(|(said, points)| format!("{said}: {}", in_words(house, points))).collect()
}

fn called(house: &House, point: PointId) -> String {
    house.points.get(point).map_or_else(String::new, |p| house.called(p))
}

fn surprises(house: &House, beliefs: &Beliefs) -> Vec<Surprise> {
    // A label that names the thing beside it on its breaker, or the room, is no wrong one.
    let bears_out = |at: &BreakerRef| {
        let there = |b: &&PointBelief| {
            matches!(b.status, Status::Proven | Status::Likely) && b.candidates.first().is_some_and(|c| c.at == *at)
        };
        beliefs.points.iter().filter(there).any(|b| !b.why.contains(&Because::LabelDisagrees))
    };
    let of = |b: &PointBelief| {
        let at = b.candidates.first()?.at.clone();
        let label = house.breakers.get(at.breaker)?.label.clone();
        let disagrees = b.proven && b.why.contains(&Because::LabelDisagrees) && !label.is_empty();
        let wrong = disagrees && !bears_out(&at);
        wrong.then(|| Surprise { point: b.point, tag: b.tag.clone(), name: called(house, b.point), at, label })
    };
    beliefs.points.iter().filter_map(of).collect()
}

/// The faults noted in a house, oldest first, each once.
#[must_use]
pub fn faults(house: &House) -> Vec<FaultFound> {
    let mut found: Vec<FaultFound> = Vec::new();
    let mut noted: Vec<&Evidence> = house.evidence.iter().collect();
    noted.sort_by_key(|e| (e.time, e.id));
    for e in noted {
        let Observation::Fault { fault } = &e.observation else { continue };
        let tag = house.points.get(e.point).map_or_else(String::new, |p| p.tag.clone());
        if !found.iter().any(|f| f.point == e.point && f.fault == *fault) {
            found.push(FaultFound {
                point: e.point,
                tag,
                name: called(house, e.point),
                fault: *fault,
                said: fault.said(),
                time: e.time,
            });
        }
    }
    found
}
