//! What tracing says to people: an observation, why something is believed, what it still needs, what would explain it.

use crate::base::Said;
use crate::house::{BreakerId, EvidenceId, House, Observation, Seen};
use crate::trace::belief::{BreakerRef, PointBelief};
use crate::trace::explain::Because;
use crate::trace::proof::{Missing, Status};
use crate::trace::tracker::Tracker;
use crate::trace::verdict::{Level, PointVerdict};

/// An observation: "DEAD by tester, off: 1, 3".
pub fn observed(house: &House, piece: EvidenceId) -> String {
    let Some(piece) = house.evidence.get(piece) else { return String::new() };
    let at = |b: BreakerId| house.breakers.get(b).map_or_else(|| "?".into(), |b| house.breaker_name(b));
    match &piece.observation {
        Observation::Power { off, seen, how } if off.is_empty() => {
            format!("{} by {}, everything on", seen.said(), how.said())
        }
        Observation::Power { off, seen, how } => {
            let off: Vec<_> = off.iter().map(|b| at(*b)).collect();
            format!("{} by {}, off: {}", seen.said(), how.said(), off.join(", "))
        }
        Observation::Pointed { at: b } => format!("the receiver pointed at {}", at(*b)),
        Observation::Wire { at: b } => format!("the wire was followed to {}", at(*b)),
        Observation::Landed { at: b } => format!("a job wired it to {}: it hangs there since", at(*b)),
        Observation::Rise { at: b, rose, expected } => {
            format!("the current of {} rose by {rose} with a load of {expected}", at(*b))
        }
        Observation::Tried { cause, was_off, .. } => {
            format!("its {} was tried: {}", cause.said(), if *was_off { "there is power now" } else { "still dark" })
        }
        Observation::Fault { fault } => format!("fault: {}", fault.said()),
    }
}

fn often(times: usize) -> String {
    match times {
        1 => "once".into(),
        2 => "twice".into(),
        n => format!("{n} times"),
    }
}

/// Why a source is believed, as half a sentence.
pub fn because(why: &[Because]) -> String {
    let one = |why: &Because| match why {
        Because::DeadWith { times } => format!("it went dead with the breaker off ({})", often(*times)),
        Because::AliveWithout { times } => format!("it stayed live while others were off ({})", often(*times)),
        Because::Against { times: 1 } => "one reading disagrees".into(),
        Because::Against { times } => format!("{times} readings disagree"),
        Because::Pointed => "the receiver pointed there".into(),
        Because::Landed => "a job wired it there".into(),
        Because::Measured => "the current or the wire says so".into(),
        Because::LabelAgrees => "the old label says so".into(),
        Because::LabelDisagrees => "though the old label says something else".into(),
        Because::Neighbours => "points near by hang there".into(),
        Because::Guess => "a guess so far; nobody looked".into(),
    };
    why.iter().map(one).collect::<Vec<_>>().join("; ")
}

/// What a point still needs. To be seen dead or coming back takes more readings anyway: that alone is said of it.
pub fn needs(missing: &[Missing]) -> String {
    let dead = missing.contains(&Missing::SeenDead);
    let tried = missing.contains(&Missing::Tried);
    let counts = |m: &&Missing| match m {
        Missing::Certainty => false,
        Missing::ToldApart => !dead && !tried,
        Missing::SeenDead | Missing::SeenBack => !tried,
        Missing::Tried => true,
    };
    let owed: Vec<_> = missing.iter().filter(counts).map(|m| m.said()).collect();
    let all = || missing.iter().map(|m| m.said()).collect();
    if owed.is_empty() { all() } else { owed }.join(", and ")
}

fn named(house: &House, b: &BreakerRef) -> String {
    house.breakers.get(b.breaker).map(|b| house.breaker_name(b)).unwrap_or_default()
}

/// A check, with the breaker that is off meanwhile.
pub fn check(house: &House, check: &str, with: Option<&BreakerRef>) -> String {
    let off = with.map_or_else(String::new, |b| format!(", with {} off", named(house, b)));
    format!("{check}{off}")
}

/// A story that would explain everything seen, with the breakers it is about.
pub fn story(house: &House, kind: &str, breakers: &[BreakerRef]) -> String {
    let named: Vec<_> = breakers.iter().map(|b| named(house, b)).collect();
    let about = if named.is_empty() { String::new() } else { format!(" ({})", named.join(" and ")) };
    format!("{kind}{about}")
}

/// A slip at the panel in one session, with how many points it explains: what was noted as off, and how another breaker stood.
pub fn session(house: &House, noted: &[BreakerRef], (about, stood): (&BreakerRef, &str), points: usize) -> String {
    let noted: Vec<_> = noted.iter().map(|b| named(house, b)).collect();
    let with = if noted.is_empty() { "everything on".into() } else { format!("{} off", noted.join(" and ")) };
    format!("in the looks with {with}, {} {stood}; that explains the answers at {points} points", named(house, about))
}

/// How a point stands, from a belief that is complete but for that.
pub fn verdict(tracker: &Tracker<'_>, point: usize, belief: &PointBelief) -> PointVerdict {
    let house = tracker.house();
    let named = |b: &BreakerRef| house.breakers.get(b.breaker).map(|b| house.breaker_name(b)).unwrap_or_default();
    let told = |level, short: &str, said: String| PointVerdict { level, short: short.to_owned(), said };
    let first = belief.candidates.first();
    match belief.status {
        Status::NoBreaker if belief.stays_live() => told(
            Level::Danger,
            "stays live",
            "It stays live whatever is off here: another panel, a generator or a solar inverter may feed it. Find its source \
             first; do not work there."
                .into(),
        ),
        Status::NoBreaker => told(Level::Open, "no power found", dark(tracker, point)),
        Status::TwoHandles => {
            let both: Vec<String> = belief.two_handles.iter().flat_map(|two| &two.breakers).map(named).collect();
            let said = format!(
                "On two handles: {} together. With one of them off a wire of it stays live: both must be off, and each is \
                 tested to ground. An electrician should give it one two-pole breaker.",
                both.join(" and ")
            );
            told(Level::Open, "", said)
        }
        Status::Proven => {
            let at = first.map(|c| named(&c.at)).unwrap_or_default();
            let said = format!(
                "Proven: breaker {at}. Before work still test it dead: a live source, the point, the live source again."
            );
            told(Level::Proven, "", said)
        }
        Status::Likely | Status::Unknown => told(Level::Open, "", open(house, belief, named)),
    }
}

fn open(house: &House, belief: &PointBelief, named: impl Fn(&BreakerRef) -> String) -> String {
    let first = belief.candidates.first();
    let likely = first.filter(|_| belief.status == Status::Likely);
    let probably = likely.map_or_else(String::new, |c| format!("Probably breaker {}. ", named(&c.at)));
    let apart = match first.filter(|_| !belief.not_told_apart.is_empty()) {
        Some(first) => {
            let all: Vec<String> = std::iter::once(&first.at).chain(&belief.not_told_apart).map(named).collect();
            format!("{}: not told apart yet. ", all.join(" or "))
        }
        None => String::new(),
    };
    let sure = format!("{:.0} %", house.about.proof_threshold * 100.0);
    format!(
        "Not proven (proven is {sure} and more, seen dead and seen back). {probably}{apart}It still needs {}.",
        belief.needs
    )
}

/// Dark whatever was on: from the looks that were made, and no others.
fn dark(tracker: &Tracker<'_>, point: usize) -> String {
    let looks = tracker.seen[point].looks.iter().filter(|l| l.direct && !l.void);
    let dark: Vec<_> = looks.filter_map(|l| l.power.as_ref()).filter(|(_, seen)| *seen == Seen::Dead).collect();
    let all_on = dark.iter().any(|(set, _)| !set.off.contains(&true));
    let with =
        if all_on { "also with every breaker on" } else { "each breaker that may feed it was on in one of them" };
    let times = dark.len();
    format!(
        "No power was found here in {times} looks; {with}. Look for a switch, a tripped ground-fault device, a lamp or an open wire."
    )
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn only_what_takes_an_act_of_its_own_is_said_to_be_needed() {
        let said = |missing: &[Missing]| needs(missing);
        let all = [Missing::Certainty, Missing::SeenDead, Missing::SeenBack, Missing::ToldApart];
        assert_eq!(
            said(&all),
            "to be seen dead with its breaker off, and to be seen coming back when that is on again",
            "readings that tell breakers apart come with the one that shows it dead"
        );
        assert!(said(&[Missing::Certainty, Missing::ToldApart]).starts_with("a look with its breaker off"));
        assert_eq!(said(&[Missing::Certainty]), "more readings, to be sure enough");
        assert_eq!(said(&[]), "");
    }

    #[test]
    fn reasons_are_told_in_the_order_of_their_weight_and_counted() {
        let why = [Because::DeadWith { times: 2 }, Because::Against { times: 1 }, Because::LabelDisagrees];
        let told = "it went dead with the breaker off (twice); one reading disagrees; though the old label says \
                    something else";
        assert_eq!(because(&why), told);
    }
}
