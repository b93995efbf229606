//! Reads as tables for people.

use std::fmt::Write;

use wayfinder_core::House;
use wayfinder_core::house::Method;
use wayfinder_core::practice::Forecast;
use wayfinder_core::trace::{
    Action, Advice, Beliefs, BreakerRef, Doubt, FaultFound, Missing, PointBelief, QuickCheck, Says, Status, StoryKind,
};

/// True where a point has a likeliest source and an observation against it.
pub fn is_contradicted(point: &PointBelief) -> bool {
    point.reasons.iter().any(|r| r.says == Says::Against)
}

/// One line a point.
pub fn beliefs(house: &House, beliefs: &Beliefs) -> String {
    let mut out = String::new();
    let _ = writeln!(out, "{:<6} {:<28} {:<10} {:<18} {:>7}  remarks", "point", "what", "standing", "breaker", "sure");
    for point in &beliefs.points {
        let what = house.points.get(point.point).map_or_else(String::new, |p| {
            let room = house.rooms.get(p.room).map_or("", |r| r.name.as_str());
            format!("{room} {}", p.name)
        });
        let (breaker, sure) = likeliest(point);
        let sure = sure * 100.0;
        let what: String = what.chars().take(28).collect();
        let standing = standing(point.status);
        let _ =
            writeln!(out, "{:<6} {what:<28} {standing:<10} {breaker:<18} {sure:>6.1}%  {}", point.tag, remarks(point));
    }
    let p = beliefs.progress;
    let _ = writeln!(out, "{} of {} points proven, {} on no known breaker", p.proven, p.points, p.no_breaker);
    out
}

fn likeliest(point: &PointBelief) -> (String, f64) {
    let one = point.candidates.first().map_or(0.0, |c| c.p);
    match (&point.two_handles, point.candidates.first()) {
        (Some(two), _) if two.p > one.max(point.none) => (names(&two.breakers).replace(", ", " + "), two.p),
        (_, Some(first)) if first.p >= point.none => (name(&first.at), first.p),
        _ => ("none of these".into(), point.none),
    }
}

fn standing(status: Status) -> &'static str {
    match status {
        Status::Proven => "proven",
        Status::Likely => "likely",
        Status::Unknown => "unknown",
        Status::NoBreaker => "no breaker",
        Status::TwoHandles => "two handles",
    }
}

fn remarks(point: &PointBelief) -> String {
    let mut remarks = Vec::new();
    if is_contradicted(point) {
        remarks.push("an observation disagrees");
    }
    match point.status {
        Status::NoBreaker if point.elsewhere > point.no_power => remarks.push("DANGER: stays live whatever is off"),
        Status::NoBreaker => remarks.push("no power even with all on"),
        _ if point.missing.contains(&Missing::SeenDead) => remarks.push("not yet seen dead"),
        Status::TwoHandles => remarks.push("on two handles: dead only with both off"),
        _ if point.missing.contains(&Missing::SeenBack) => remarks.push("not yet seen to come back"),
        _ => {}
    }
    let apart = names(&point.not_told_apart);
    let apart = (!apart.is_empty()).then(|| format!("not told apart from {apart} yet"));
    remarks.iter().map(|r| (*r).to_owned()).chain(apart).collect::<Vec<_>>().join("; ")
}

fn name(breaker: &BreakerRef) -> String {
    format!("{} {}", breaker.panel, breaker.at)
}

fn names(breakers: &[BreakerRef]) -> String {
    breakers.iter().map(name).collect::<Vec<_>>().join(", ")
}

/// The next action in words; `monitored` says that a monitor reads all circuits at once.
pub fn advice(advice: &Advice, monitored: bool) -> String {
    let mut out = String::new();
    let visit = advice.visit.join(" ");
    match advice.action {
        Action::Switch if advice.off.is_empty() => {
            let _ = writeln!(out, "Have every breaker ON and look at: {visit}");
        }
        Action::Switch => {
            let _ = writeln!(out, "Switch OFF, everything else on: {}\nLook at: {visit}", names(&advice.off));
        }
        Action::Receiver => {
            let _ = writeln!(out, "Put the transmitter at {visit} and take the receiver to the panel");
        }
        Action::Load => {
            let _ = writeln!(out, "With every breaker ON, switch a load of about 1500 W on at: {visit}");
            let _ = if monitored {
                writeln!(out, "Read at each on the energy monitor which circuit rises by about 12.5 A")
            } else {
                writeln!(out, "Clamp in turn until one rises by about 12.5 A: {}", names(&advice.suspects))
            };
        }
        Action::Listen if advice.off.is_empty() => {
            let _ = writeln!(out, "Have every breaker ON and hear whether the radio plays in {visit}");
        }
        Action::Listen => {
            let off = names(&advice.off);
            let _ = writeln!(out, "Switch OFF, everything else on: {off}\nHear whether the radio plays in {visit}");
        }
        Action::Done => {
            let _ = writeln!(out, "Nothing is left to prove. Have every breaker ON");
        }
    }
    if !advice.search.is_empty() {
        let _ = writeln!(
            out,
            "These feed nothing on the list: {}\nSwitch them off together, walk through, and look for what else is dead",
            names(&advice.search)
        );
    }
    if advice.action == Action::Done {
        if !advice.unproven.is_empty() {
            let _ = writeln!(out, "Not proven with what may be switched: {}", advice.unproven.join(" "));
        }
    } else {
        let _ = writeln!(out, "About {:.0} s for {:.1} bits", advice.seconds.0, advice.bits);
    }
    out
}

/// What each way of tracing would come to.
pub fn forecast(forecast: &[Forecast]) -> String {
    let mut out = format!(
        "{:<16} {:>7} {:>11} {:>6} {:>8} {:>9} {:>6}\n",
        "way", "minutes", "range", "walks", "outages", "most off", "wrong"
    );
    for f in forecast {
        let way = match f.method {
            Method::Adaptive => "adaptive",
            Method::OneAtATime => "one at a time",
            Method::Transmitter => "transmitter",
            Method::Halving => "halving",
        };
        let minutes = |s: wayfinder_core::base::units::Seconds| s.0 / 60.0;
        let range = format!("{:.0}-{:.0}", minutes(f.range[0]), minutes(f.range[1]));
        let _ = writeln!(
            out,
            "{way:<16} {:>7.0} {range:>11} {:>6.0} {:>8.0} {:>9.0} {:>6.1}",
            minutes(f.seconds),
            f.walks,
            f.outages,
            f.most_off,
            f.wrong
        );
    }
    out
}

/// Contradictions, and what would explain them.
pub fn doubts(house: &House, doubts: &[Doubt]) -> String {
    let mut out = String::new();
    for d in doubts {
        let check = match d.check {
            QuickCheck::LookAgain => "look again",
            QuickCheck::Switch => "try its wall switch",
            QuickCheck::Device => "press reset on its ground-fault device",
        };
        let _ = writeln!(out, "{}: {} of its observations do not fit; {check}", d.tag, d.against.len());
        for odd in &d.against {
            let time = house.evidence.get(odd.evidence).map_or_else(String::new, |e| e.time.to_string());
            let without = odd.without.as_ref().map_or_else(|| "nothing sure".into(), name);
            let _ = writeln!(out, "  {time} was {:.1} % probable; without it: {without}", 100.0 * odd.chance);
        }
        for story in &d.stories {
            let what = match story.kind {
                StoryKind::TwoCircuits => "fed by two circuits at once (a fault; danger)",
                StoryKind::EitherCircuit => "goes dead with either",
                StoryKind::Elsewhere => "fed from elsewhere: stays live (danger)",
                StoryKind::DeadAnyway => "has no power anyway",
                StoryKind::ChangedSince => "changed since",
            };
            let _ = writeln!(out, "  would explain it: {what} {}", names(&story.breakers));
        }
    }
    if doubts.is_empty() {
        out += "All observations fit together\n";
    }
    out
}

/// Faults met while tracing.
pub fn faults(faults: &[FaultFound]) -> String {
    let mut out = String::new();
    for f in faults {
        let word = serde_json::to_value(f.fault).ok().and_then(|v| v.as_str().map(str::to_owned)).unwrap_or_default();
        let _ = writeln!(out, "{:<6} {:<22} {}", f.tag, word.replace('-', " "), f.time);
    }
    if faults.is_empty() {
        out += "No faults were noted\n";
    }
    out
}
