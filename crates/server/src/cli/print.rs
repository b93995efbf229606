//! Reads as tables for people.

use std::fmt::Write;

use wayfinder_core::House;
use wayfinder_core::base::Said;
use wayfinder_core::practice::{Forecast, Saving};
use wayfinder_core::rules::{Listed, Rests, Severity, Told};
use wayfinder_core::trace::{Action, Beliefs, BreakerRef, Doubt, FaultFound, Order, PointBelief, Says, Status};

/// True where a point has a likeliest source and an observation against it.
pub fn is_contradicted(point: &PointBelief) -> bool {
    point.reasons.iter().any(|r| r.says == Says::Against)
}

/// One line a point.
pub fn beliefs(house: &House, beliefs: &Beliefs) -> String {
    let mut out = String::new();
    let _ = writeln!(out, "{:<6} {:<28} {:<14} {:<18} {:>7}  remarks", "point", "what", "standing", "breaker", "sure");
    for point in &beliefs.points {
        let what = house.points.get(point.point).map_or_else(String::new, |p| {
            let room = house.rooms.get(p.room).map_or("", |r| r.name.as_str());
            format!("{room} {}", p.name)
        });
        let (breaker, sure) = likeliest(point);
        let sure = sure * 100.0;
        let what: String = what.chars().take(28).collect();
        let standing = point.status.said();
        let _ =
            writeln!(out, "{:<6} {what:<28} {standing:<14} {breaker:<18} {sure:>6.1}%  {}", point.tag, remarks(point));
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

fn remarks(point: &PointBelief) -> String {
    let mut remarks = Vec::new();
    if is_contradicted(point) {
        remarks.push("an observation disagrees".to_owned());
    }
    match point.status {
        Status::NoBreaker if point.stays_live() => remarks.push(format!("DANGER: {}", point.verdict.said)),
        Status::NoBreaker => remarks.push(point.verdict.said.clone()),
        Status::TwoHandles => remarks.push("dead only with both off".into()),
        Status::Likely | Status::Unknown => remarks.push(format!("needs {}", point.needs)),
        Status::Proven => {}
    }
    if !point.not_told_apart.is_empty() {
        remarks.push(format!("not told apart from {} yet", names(&point.not_told_apart)));
    }
    remarks.join("; ")
}

fn name(breaker: &BreakerRef) -> String {
    format!("{} {}", breaker.panel, breaker.at)
}

fn names(breakers: &[BreakerRef]) -> String {
    breakers.iter().map(name).collect::<Vec<_>>().join(", ")
}

/// The next action in words; `monitored` says that a monitor reads all circuits at once.
pub fn order(order: &Order, monitored: bool) -> String {
    let Order { advice, words } = order;
    let mut out = String::new();
    for who in &advice.held {
        let _ = writeln!(out, "{who}: what is off for that stays as it is; points there are looked at later");
    }
    let visit = advice.visit.join(" ");
    let (every, rest) = (words.every, words.rest);
    match advice.action {
        Action::Switch if advice.off.is_empty() => {
            let _ = writeln!(out, "Have {every} ON and look at: {visit}");
        }
        Action::Switch => {
            let _ = writeln!(out, "Switch OFF, {rest}: {}\nLook at: {visit}", names(&advice.off));
        }
        Action::Receiver => {
            let _ = writeln!(out, "Put the transmitter at {visit} and take the receiver to the panel");
        }
        Action::Load => {
            let _ = writeln!(out, "With {every} ON, switch a load of about 1500 W on at: {visit}");
            let _ = if monitored {
                writeln!(out, "Read at each on the energy monitor which circuit rises by about 12.5 A")
            } else {
                writeln!(out, "Clamp in turn until one rises by about 12.5 A: {}", names(&advice.suspects))
            };
        }
        Action::Listen if advice.off.is_empty() => {
            let _ = writeln!(out, "Have {every} ON and hear whether the radio plays in {visit}");
        }
        Action::Listen => {
            let off = names(&advice.off);
            let _ = writeln!(out, "Switch OFF, {rest}: {off}\nHear whether the radio plays in {visit}");
        }
        Action::Done => {
            let left =
                if advice.held.is_empty() { "Nothing is left to prove" } else { "Nothing is left to prove meanwhile" };
            let _ = writeln!(out, "{left}. Have {every} ON");
        }
    }
    for (what, said) in [("Rooms", &words.rooms), ("Goes dark as far as known", &words.dark)] {
        if !said.is_empty() {
            let _ = writeln!(out, "{what}: {said}");
        }
    }
    for ask in &words.ask_first {
        let _ = writeln!(out, "Ask first: {ask}");
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
            let _ = writeln!(out, "Not proven with what may be switched: {}", words.unproven);
        }
    } else {
        let _ = writeln!(out, "About {:.0} s for {:.1} bits", advice.seconds.0, advice.bits);
    }
    out
}

/// What each way of tracing would come to.
pub fn forecast(forecast: &[Forecast]) -> String {
    let mut out = format!(
        "{:<24} {:>7} {:>11} {:>6} {:>8} {:>9} {:>6}\n",
        "way", "minutes", "range", "walks", "outages", "most off", "wrong"
    );
    for f in forecast {
        let way = f.method.said();
        let minutes = |s: wayfinder_core::base::units::Seconds| s.0 / 60.0;
        let range = format!("{:.0}-{:.0}", minutes(f.range[0]), minutes(f.range[1]));
        let _ = writeln!(
            out,
            "{way:<24} {:>7.0} {range:>11} {:>6.0} {:>8.0} {:>9.0} {:>6.1}",
            minutes(f.seconds),
            f.walks,
            f.outages,
            f.most_off,
            f.wrong
        );
    }
    out
}

/// What each help would save.
pub fn helps(savings: &[Saving]) -> String {
    let mut out = String::new();
    for s in savings {
        let minutes = |s: wayfinder_core::base::units::Seconds| s.0 / 60.0;
        let (saved, plus_minus) = (minutes(s.saved), minutes(s.plus_minus));
        let told = if saved > plus_minus {
            format!("saves {saved:.0} min (± {plus_minus:.0})")
        } else {
            format!("saves nothing that shows ({saved:.0} min ± {plus_minus:.0})")
        };
        let _ = writeln!(out, "{}: {told}", s.said);
    }
    out
}

/// Contradictions, and what would explain them.
pub fn doubts(doubts: &[Doubt]) -> String {
    let mut out = String::new();
    for d in doubts {
        let tags: Vec<&str> =
            std::iter::once(&d.tag).chain(d.also.iter().map(|p| &p.tag)).map(String::as_str).collect();
        if d.second_look {
            let _ = writeln!(out, "{}: a reading by itself is worth a second look; {}", d.tag, d.said);
            continue;
        }
        let its = if d.also.is_empty() { "its" } else { "their" };
        let _ = writeln!(out, "{}: {} of {its} observations do not fit; {}", tags.join(", "), d.against.len(), d.said);
        for odd in &d.against {
            let without = odd.without.as_ref().map_or_else(|| "nothing sure".into(), name);
            let _ = writeln!(out, "  {} ({:.1} % probable); without it: {without}", odd.said, 100.0 * odd.chance);
        }
        for story in &d.stories {
            let _ = writeln!(out, "  would explain it: {}", story.said);
        }
    }
    if doubts.is_empty() {
        out += "All observations fit together\n";
    }
    out
}

/// Every rule, a line each.
pub fn rules(all: &[Listed]) -> String {
    let one = |r: &Listed| format!("{:<20} {:<6} {} ({})\n", r.id, severity(r.severity), r.title, r.source);
    all.iter().map(one).collect()
}

/// What stands against rules.
pub fn hits(hits: &[Told]) -> String {
    let rests = |r: Rests| match r {
        Rests::Likely => ", likely",
        Rests::Entered | Rests::Proven => "",
    };
    let one = |h: &Told| {
        let Told { place, why, source, cure, .. } = h;
        format!("{:<6} {place}: {why}{} ({source}). What mends it: {cure}.\n", severity(h.severity), rests(h.rests))
    };
    if hits.is_empty() {
        "Nothing stands against a rule, as far as is known\n".into()
    } else {
        hits.iter().map(one).collect()
    }
}

/// How grave, in a word.
pub fn severity(severity: Severity) -> &'static str {
    match severity {
        Severity::Danger => "DANGER",
        Severity::Mend => "mend",
        Severity::Improve => "improve",
    }
}

/// Faults met while tracing.
pub fn faults(faults: &[FaultFound]) -> String {
    let mut out = String::new();
    for f in faults {
        let _ = writeln!(out, "{:<6} {:<26} {}", f.tag, f.said, f.time);
    }
    if faults.is_empty() {
        out += "No faults were noted\n";
    }
    out
}
