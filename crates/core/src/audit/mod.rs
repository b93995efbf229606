//! What is wrong in a house, as people are shown it: hits of rules as findings, what was decided of them, and what is worth finding
//! out. (handbook 6)
//!
//! A finding is a hit shown; it is never kept. What is kept are remarks: what somebody saw, that a finding is not so, or may wait.

mod cause;
mod gone;
mod inspection;
mod unknown;
mod wider;

#[cfg(test)]
mod tests;

use jiff::Timestamp;
use serde::Serialize;
use utoipa::ToSchema;

pub use gone::{FoundThen, Gone, ended, gone, no_more, stands};
pub use inspection::{Inspection, InspectionAnswer, InspectionAsk, Picked, inspection};
pub use unknown::Unknown;
pub use wider::WIDER;

use crate::house::{BreakerId, House, PanelId, PointId, Remark, Remarks, Subject};
use crate::load::Loaded;
use crate::rules::as_found::LOOKS;
use crate::rules::{self, Facts, Hit, Rests, Scope, Severity, Who};
use crate::trace::Beliefs;
use crate::words::things::by_tags;

/// What a check reads: a house with what is believed of it and what it carries, at a time.
#[derive(Clone, Copy)]
pub struct KnownHouse<'a> {
    /// The house.
    pub house: &'a House,
    /// What feeds what.
    pub beliefs: &'a Beliefs,
    /// What it carries.
    pub loaded: &'a Loaded<'a>,
    /// Now.
    pub now: Timestamp,
}

/// A finding.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
pub struct Finding {
    /// The rule that it breaks.
    pub rule: &'static str,
    /// That in a few words.
    pub title: &'static str,
    /// How grave it is.
    pub severity: Severity,
    /// Where.
    #[serde(rename = "where")]
    pub place: String,
    /// What is wrong there.
    pub why: String,
    /// Where the rule stands; local code decides.
    pub source: String,
    /// Who mends it, at the least.
    pub who: Who,
    /// What mends it.
    pub cure: &'static str,
    /// The kind of job that mends it, where it is one.
    pub job: Option<&'static str>,
    /// What that takes, where it can be said beforehand: `about 5 min; a closer listed for the panel`.
    pub takes: Option<String>,
    /// What it rests on.
    pub rests: Rests,
    /// The thing that it is about.
    pub of: Subject,
    /// Its panel,
    pub panel: PanelId,
    /// breaker
    pub breaker: Option<BreakerId>,
    /// and point, where there is one.
    pub point: Option<PointId>,
    /// What was decided of it.
    pub decided: Option<Decided>,
    /// What it may come from, together with other findings: `a break in the neutral on Main 5`.
    pub cause: Option<String>,
}

/// What was decided of a finding.
#[derive(Debug, Clone, PartialEq, Eq, Serialize, ToSchema)]
pub struct Decided {
    /// Who decided it.
    pub who: String,
    /// Why, or what else was noted.
    pub note: String,
    /// It waits until then; nothing where it is not so.
    #[schema(value_type = Option<String>, format = DateTime)]
    pub until: Option<Timestamp>,
}

/// All findings, the gravest first.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
pub struct Audit {
    /// What is to be seen to.
    pub findings: Vec<Finding>,
    /// What was put off, and comes back.
    pub later: Vec<Finding>,
    /// What somebody said is not so.
    pub not_so: Vec<Finding>,
    /// What nobody knows, and is worth finding out.
    pub unknown: Vec<Unknown>,
    /// In a sentence.
    pub said: String,
}

impl Audit {
    /// Of a severity, and not put off.
    #[must_use]
    pub fn of(&self, severity: Severity) -> usize {
        self.findings.iter().filter(|f| f.severity == severity).count()
    }
}

/// Everything that is wrong.
#[must_use]
pub fn audit(known: &KnownHouse<'_>) -> Audit {
    let KnownHouse { house, beliefs, now, .. } = *known;
    let hangs = beliefs.hangs();
    let mut hits = rules::hits(&Facts { house, hangs: &hangs });
    hits.extend(WIDER.iter().flat_map(|wide| (wide.check)(known)));
    hits.sort_by_key(|hit| (hit.severity, hit.rests));
    let mut once = std::collections::BTreeSet::new();
    hits.retain(|hit| once.insert(hit.key()));
    let mut audit = Audit {
        findings: Vec::new(),
        later: Vec::new(),
        not_so: Vec::new(),
        unknown: unknown::unknown(known),
        said: String::new(),
    };
    for found in hits.iter().map(|hit| finding(house, hit)) {
        match &found.decided {
            // What is dangerous is shown all the while, with what was said of it: what is not so is entered or looked at anew.
            Some(_) if found.severity == Severity::Danger => audit.findings.push(found),
            Some(Decided { until: None, .. }) => audit.not_so.push(found),
            Some(Decided { until: Some(until), .. }) if *until > now => audit.later.push(found),
            _ => audit.findings.push(found),
        }
    }
    cause::give(house, &mut audit.findings);
    audit.said = said(&audit);
    audit
}

fn finding(house: &House, hit: &Hit) -> Finding {
    let of = of(hit);
    let looked = LOOKS.iter().find(|look| *look.rule == *hit.rule).map(|look| look.fact);
    // What is entered is said in full: where it says something else now, that was not decided.
    let still = |remark: &&Remark| match &remark.says {
        Remarks::NotSo { found, .. } => found.is_empty() || hit.rests != Rests::Entered || *found == hit.why,
        _ => true,
    };
    let decided = house.decided(of, hit.rule.id, looked).filter(still).map(|remark| Decided {
        who: remark.who.clone(),
        note: remark.note.clone(),
        until: match remark.says {
            Remarks::Later { until, .. } => Some(until),
            _ => None,
        },
    });
    let point = hit.point.and_then(|p| house.points.get(p));
    let at_point = point.filter(|_| matches!(hit.rule.scope, Scope::Point | Scope::Load));
    let place = at_point.map(|p| by_tags(house, std::slice::from_ref(&p.tag)));
    Finding {
        rule: hit.rule.id,
        title: hit.rule.title,
        severity: hit.severity,
        place: place.unwrap_or_else(|| hit.place(house)),
        why: hit.why.clone(),
        source: house.says(hit.rule.source).to_string(),
        who: hit.rule.who,
        cure: hit.rule.cure,
        job: hit.rule.job,
        takes: rules::takes::takes(hit.rule.id),
        rests: hit.rests,
        of,
        panel: hit.panel,
        breaker: hit.breaker,
        point: hit.point,
        decided,
        cause: None,
    }
}

/// The thing that a hit is about.
fn of(hit: &Hit) -> Subject {
    let thing = match hit.rule.scope {
        Scope::Panel => None,
        Scope::Breaker => hit.breaker.map(Subject::Breaker),
        Scope::Circuit => hit.circuit.map(Subject::Circuit),
        Scope::Point => hit.point.map(Subject::Point),
        Scope::Load => hit.load.map(Subject::Load),
    };
    thing.unwrap_or(Subject::Panel(hit.panel))
}

fn said(audit: &Audit) -> String {
    let some = |n: usize, what: &str| (n > 0).then(|| format!("{n} {what}"));
    let parts: Vec<String> = [
        some(audit.of(Severity::Danger), "dangerous"),
        some(audit.of(Severity::Mend), "to mend"),
        some(audit.of(Severity::Improve), "worth improving"),
        some(audit.later.len(), "put off"),
    ]
    .into_iter()
    .flatten()
    .collect();
    if parts.is_empty() {
        "Nothing is found by what is known. What nobody looked at is not known.".to_owned()
    } else {
        format!("Found: {}.", parts.join(", "))
    }
}
