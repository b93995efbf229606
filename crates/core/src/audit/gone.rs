//! What became of findings: somebody looked again and it is no more, said that it is not so, or put it off.

use std::collections::BTreeSet;

use jiff::Timestamp;
use jiff::tz::TimeZone;
use serde::{Deserialize, Serialize};

use super::{Audit, Finding, WIDER};
use crate::house::{House, Remark, Remarks, Saw, Subject};
use crate::rules::as_found::LOOKS;
use crate::rules::{self, Hit, RULES, Rests};
use crate::words::things::by_tags;

/// Something that became of a finding.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct Gone {
    /// When.
    pub time: Timestamp,
    /// Who says so.
    pub who: String,
    /// What: `no longer found: An open space without a closer (panel Main)`.
    pub said: String,
    /// Why.
    pub note: String,
}

/// All of it, in the order of the remarks.
#[must_use]
pub fn gone(house: &House) -> Vec<Gone> {
    let told = |remark: &Remark| {
        let said = said(house, remark)?;
        Some(Gone { time: remark.time, who: remark.who.clone(), said, note: remark.note.clone() })
    };
    house.remarks.iter().filter_map(told).collect()
}

/// What stood against rules by what is entered alone, and stands no more after a change; what was thrown away altogether is not mended.
#[must_use]
pub fn ended(before: &House, after: &House) -> Vec<String> {
    let still: BTreeSet<rules::Key> = rules::standing(after).iter().map(Hit::key).collect();
    let there = |hit: &&Hit| hit.breaker.is_none_or(|b| after.breakers.get(b).is_some());
    let stood = rules::standing(before);
    let mended = stood.iter().filter(|hit| !still.contains(&hit.key())).filter(there);
    mended.map(|hit| format!("{} ({})", hit.rule.title, hit.place(before))).collect()
}

/// A finding that rests on more than what is entered, as it is kept until the next look.
#[derive(Debug, Clone, PartialEq, Eq, Serialize, Deserialize)]
pub struct FoundThen {
    rule: String,
    of: Subject,
    said: String,
}

/// What is found beyond what [`ended`] tells by itself: what rests on tracing, on loads or on the log.
#[must_use]
pub fn stands(audit: &Audit) -> Vec<FoundThen> {
    let wider = |f: &&Finding| f.rests != Rests::Entered || WIDER.iter().any(|wide| wide.rule.id == f.rule);
    let stood =
        |f: &Finding| FoundThen { rule: f.rule.to_owned(), of: f.of, said: format!("{} ({})", f.title, f.place) };
    [&audit.findings, &audit.later, &audit.not_so].into_iter().flatten().filter(wider).map(stood).collect()
}

/// What stood when somebody looked before, and stands no more; what was thrown away altogether is not mended.
#[must_use]
pub fn no_more(house: &House, before: &[FoundThen], now: &[FoundThen]) -> Vec<String> {
    let still: BTreeSet<(&str, Subject)> = now.iter().map(|f| (f.rule.as_str(), f.of)).collect();
    let ended = before.iter().filter(|f| !still.contains(&(f.rule.as_str(), f.of)) && house.has(f.of));
    ended.map(|f| f.said.clone()).collect()
}

fn said(house: &House, remark: &Remark) -> Option<String> {
    let place = called(house, remark.of);
    match &remark.says {
        Remarks::Looked { fact, saw } => {
            let look = LOOKS.iter().find(|look| look.fact == *fact).filter(|look| look.bad != *saw)?;
            let was = before(house, remark)?;
            (was == look.bad && *saw != Saw::CannotTell)
                .then(|| format!("no longer found: {} ({place})", look.rule.title))
        }
        Remarks::NotSo { rule, .. } => Some(format!("said not to be so: {} ({place})", title(rule))),
        Remarks::Later { rule, until } => {
            let day = until.to_zoned(TimeZone::UTC).date();
            Some(format!("put off until {day}: {} ({place})", title(rule)))
        }
        Remarks::Labelled { .. } => None,
    }
}

/// What was seen of the same before.
fn before(house: &House, remark: &Remark) -> Option<Saw> {
    let Remarks::Looked { fact, .. } = remark.says else { return None };
    let earlier = house.remarks.iter().filter(|r| r.of == remark.of && (r.time, r.id) < (remark.time, remark.id));
    let saw = |r: &Remark| match r.says {
        Remarks::Looked { fact: of, saw } if of == fact => Some((r.time, r.id, saw)),
        _ => None,
    };
    earlier.filter_map(saw).max_by_key(|(time, id, _)| (*time, *id)).map(|(.., saw)| saw)
}

fn title(rule: &str) -> &str {
    let all = RULES.iter().copied().chain(WIDER.iter().map(|wide| wide.rule));
    all.into_iter().find(|of| of.id == rule).map_or(rule, |of| of.title)
}

fn called(house: &House, of: Subject) -> String {
    match of {
        Subject::Panel(id) => house.panels.get(id).map(|panel| format!("panel {}", panel.name)),
        Subject::Breaker(id) => house.breakers.get(id).map(|b| format!("breaker {}", house.breaker_name(b))),
        Subject::Circuit(id) => {
            let breaker = house.circuits.get(id).and_then(|circuit| house.breakers.get(circuit.breaker));
            breaker.map(|b| format!("breaker {}", house.breaker_name(b)))
        }
        Subject::Point(id) => house.points.get(id).map(|point| by_tags(house, std::slice::from_ref(&point.tag))),
        Subject::Room(id) => house.rooms.get(id).map(|room| room.name.clone()),
        Subject::Load(id) => house.loads.get(id).map(|load| load.name.clone()),
        _ => None,
    }
    .unwrap_or_default()
}
