//! What is due in a house: tests of ground-fault devices, cards that no longer say what is so.

use jiff::{SignedDuration, Timestamp};
use serde::Serialize;
use utoipa::ToSchema;

use crate::directory;
use crate::edit::Subject;
use crate::house::{Event, House};
use crate::rules;
use crate::trace::Beliefs;
use crate::words::things::by_tags;

/// A ground-fault device and when its test is due.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
pub struct DueTest {
    /// The breaker or the point.
    pub subject: Subject,
    /// What it is called.
    pub name: String,
    /// When it was last tested, where that is known.
    #[schema(value_type = Option<String>, format = DateTime)]
    pub last: Option<Timestamp>,
    /// It failed then.
    pub failed: bool,
    /// The test is due now.
    pub due: bool,
}

/// A house at a glance, for whoever looks after many.
#[derive(Debug, Clone, PartialEq, Eq, Serialize, ToSchema)]
pub struct Glance {
    /// Points in all.
    pub points: usize,
    /// Points proven, or settled otherwise.
    pub settled: usize,
    /// Panels whose printed card says something else than the map.
    pub stale_cards: Vec<String>,
    /// What they say against what is so, line by line: `Main 5: 20 A Hall light, now 15 A Hall light`.
    pub stale_lines: Vec<String>,
    /// Panels without a printed card.
    pub no_card: Vec<String>,
    /// Ground-fault devices whose test is due.
    pub tests_due: usize,
    /// Things that do not fit, recorded as found.
    pub misfits: usize,
}

/// The test button is pressed monthly (handbook 3, common practice; makers say the same on the device).
const MONTH: SignedDuration = SignedDuration::from_hours(30 * 24);

/// All ground-fault devices, those due first.
#[must_use]
pub fn device_tests(house: &House, now: Timestamp) -> Vec<DueTest> {
    let last = |subject: Subject| {
        let passed = house.log.iter().filter_map(|e| match e.event {
            Event::BreakerTest { breaker, passed } if subject == Subject::Breaker(breaker) => Some((e.time, passed)),
            Event::DeviceTest { point, passed } if subject == Subject::Point(point) => Some((e.time, passed)),
            _ => None,
        });
        passed.max_by_key(|(time, _)| *time)
    };
    let device = |subject: Subject, name: String| {
        let last = last(subject);
        let failed = last.is_some_and(|(_, passed)| !passed);
        let due = failed || last.is_none_or(|(time, _)| now.duration_since(time) >= MONTH);
        DueTest { subject, name, last: last.map(|(time, _)| time), failed, due }
    };
    let breakers = house.breakers.iter().filter(|b| b.device.is_ground_fault());
    let breakers = breakers.map(|b| device(Subject::Breaker(b.id), format!("breaker {}", house.breaker_name(b))));
    let points = house.points_in_order().into_iter().filter(|p| p.ground_fault);
    let points = points.map(|p| device(Subject::Point(p.id), by_tags(house, std::slice::from_ref(&p.tag))));
    let mut all: Vec<_> = breakers.chain(points).collect();
    all.sort_by_key(|d| (!d.due, d.last));
    all
}

/// A house at a glance.
#[must_use]
pub fn glance(house: &House, beliefs: &Beliefs, now: Timestamp) -> Glance {
    let panels = house.panels_in_order();
    let stale: Vec<(&crate::house::Panel, Vec<directory::StaleLine>)> = panels
        .iter()
        .filter_map(|panel| Some((*panel, directory::stale(house, beliefs, panel)?)))
        .filter(|(_, lines)| !lines.is_empty())
        .collect();
    let told = |panel: &crate::house::Panel, line: &directory::StaleLine| {
        let or = |said: &str, none: &str| if said.is_empty() { none.to_owned() } else { said.to_owned() };
        format!("{} {}: {}, now {}", panel.name, line.at, or(&line.was, "nothing"), or(&line.now, "no more there"))
    };
    Glance {
        points: beliefs.progress.points,
        settled: beliefs.progress.proven + beliefs.progress.no_breaker,
        stale_cards: stale.iter().map(|(panel, _)| panel.name.clone()).collect(),
        stale_lines: stale.iter().flat_map(|(panel, lines)| lines.iter().map(|line| told(panel, line))).collect(),
        no_card: panels.iter().filter(|p| p.printed.is_none()).map(|p| p.name.clone()).collect(),
        tests_due: device_tests(house, now).iter().filter(|d| d.due).count(),
        misfits: rules::standing(house).len(),
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::change::Change;
    use crate::fixture::Fixture;
    use crate::house::{Breaker, Device, LogEntry, LogId, Point, PointKind};
    use crate::trace::beliefs;

    fn day(n: i64) -> Timestamp {
        Timestamp::from_second(n * 86_400).unwrap()
    }

    #[test]
    fn a_ground_fault_device_is_due_a_month_after_its_last_test_or_when_it_failed() {
        let mut f = Fixture::new(20);
        let breaker = f.breaker("1", 20.0, "");
        let with = Breaker { device: Device::Gfci, ..f.house.breakers.get(breaker).unwrap().clone() };
        f.house.breakers.put(with);
        let room = f.room("Bath");
        let point = f.point("B1", room, PointKind::Receptacle);
        f.house.points.put(Point { ground_fault: true, ..f.house.points.get(point).unwrap().clone() });
        let due = |f: &Fixture, now| -> Vec<_> {
            device_tests(&f.house, day(now)).into_iter().filter(|d| d.due).map(|d| d.name.trim().to_owned()).collect()
        };
        assert_eq!(due(&f, 0), ["breaker 1", "Bath receptacle (B1)"]);
        let log = |f: &mut Fixture, id, at, event| {
            let entry = LogEntry { id: LogId(id), time: day(at), who: "test".into(), event, note: String::new() };
            f.house = f.house.apply(&Change::Log { entry }).unwrap().house;
        };
        log(&mut f, 1, 1, Event::BreakerTest { breaker, passed: true });
        log(&mut f, 2, 1, Event::DeviceTest { point, passed: false });
        assert_eq!(due(&f, 2), ["Bath receptacle (B1)"], "it failed: it stays due");
        log(&mut f, 3, 3, Event::DeviceTest { point, passed: true });
        assert!(due(&f, 20).is_empty());
        assert_eq!(due(&f, 32), ["breaker 1"]);
        assert_eq!(glance(&f.house, &beliefs(&f.house), day(40)).tests_due, 2);
    }
}
