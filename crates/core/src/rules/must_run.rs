//! What must run though nobody looks at it, behind a ground-fault device that something else may trip. (handbook 6)

use super::{Entry, Facts, Hit, Rests, Rule, Scope, Severity, Source, Who};
use crate::house::{Breaker, Load, LoadKind};

pub(crate) static RULE: Rule = Rule {
    id: "must-run",
    title: "A freezer, pump or alarm behind a shared ground-fault device",
    scope: Scope::Load,
    severity: Severity::Improve,
    entry: Entry::Marked,
    source: Source::Practice,
    cure: "an outlet before that device, or a circuit and device of its own where the place asks for one",
    job: Some("dedicated"),
    who: Who::Qualified,
    check,
};

fn check(facts: &Facts<'_>) -> Vec<Hit> {
    let house = facts.house;
    let hit = |hung: (&Breaker, &Load, Rests)| {
        let (_, load, _) = hung;
        let must = matches!(load.kind, LoadKind::Refrigerator | LoadKind::SumpPump | LoadKind::FireAlarm);
        let device = house.points.get(load.point)?.protected_by.filter(|_| must)?;
        let others = house.points.iter().filter(|p| p.protected_by == Some(device) && p.id != load.point).count();
        let tag = house.points.get(device).map_or("?", |p| p.tag.as_str());
        let why = format!("{} stops unseen where something else trips the device {tag}", load.name);
        (others > 0).then(|| Hit::with(&RULE, hung, why))
    };
    facts.loads().filter_map(hit).collect()
}

#[cfg(test)]
use super::Example;
#[cfg(test)]
pub(super) fn examples() -> Vec<Example> {
    vec![
        Example("a freezer with others behind a device", 1, |c| behind(c, LoadKind::Refrigerator, 2)),
        Example("a lamp there", 0, |c| behind(c, LoadKind::Light, 2)),
        Example("a freezer alone behind it", 0, |c| behind(c, LoadKind::Refrigerator, 1)),
    ]
}

#[cfg(test)]
fn behind(c: &mut super::Case, kind: LoadKind, count: usize) {
    let b = c.f.breaker("1", 20.0, "");
    let device = c.point(b, "Garage", crate::house::PointKind::Receptacle, 120);
    for nth in 0..count {
        let point = c.point(b, "Garage", crate::house::PointKind::Receptacle, 120);
        let with = crate::house::Point { protected_by: Some(device), ..c.f.house.points.get(point).unwrap().clone() };
        c.f.house.points.put(with);
        if nth == 0 {
            c.plug(point, kind, 1.5);
        }
    }
}
