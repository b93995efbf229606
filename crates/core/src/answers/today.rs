//! A house on one page: what is under way, and what comes next.

use jiff::Timestamp;
use serde::Serialize;
use utoipa::ToSchema;

use crate::answers::upkeep::device_tests;
use crate::directory::stale;
use crate::house::{BreakerId, House, Panel, Point};
use crate::load::Loaded;
use crate::load::cure::cure;
use crate::rules;
use crate::trace::verdict::STAYS_LIVE;
use crate::trace::{Beliefs, PointBelief, doubts};
use crate::words::things::in_words;

/// What is under way and what comes next, in the order in which it is worth doing.
#[derive(Debug, Clone, PartialEq, Eq, Serialize, ToSchema)]
pub struct Today {
    /// A run of tracing or a round of measuring that goes on.
    pub under_way: Vec<Matter>,
    /// What comes next.
    pub next: Vec<Matter>,
}

/// One matter, in words.
#[derive(Debug, Clone, PartialEq, Eq, Serialize, ToSchema)]
pub struct Matter {
    /// What it is about,
    pub about: MatterKind,
    /// in a line,
    pub said: String,
    /// and what there is to know of it.
    pub more: String,
    /// The breaker that it is about, where it is about one.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub breaker: Option<BreakerId>,
}

/// What a matter is about: it says where it is done.
#[derive(Debug, Clone, Copy, PartialEq, Eq, PartialOrd, Ord, Serialize, ToSchema)]
#[serde(rename_all = "kebab-case")]
pub enum MatterKind {
    /// Something stays live whatever is off.
    Danger,
    /// A run of tracing.
    Run,
    /// A round of measuring.
    Round,
    /// The panel is to be entered.
    Panel,
    /// Rooms and points are to be entered.
    Rooms,
    /// Something stands that should not.
    Misfit,
    /// A circuit will trip.
    Overload,
    /// Answers do not fit together.
    Doubt,
    /// Points are to be traced.
    Trace,
    /// The card is to be printed.
    Card,
    /// Ground-fault devices are to be tested.
    Tests,
}

/// Minutes a point takes, alone: 45.5 for 60 points of 20 breakers in played houses (`docs/benchmarks.md`).
const MINUTES_A_POINT: f64 = 0.76;

/// How a house stands at a time.
#[must_use]
pub fn today(house: &House, beliefs: &Beliefs, loaded: &Loaded<'_>, now: Timestamp) -> Today {
    let matters = [
        danger(house, beliefs),
        panel(house),
        rooms(house),
        misfit(house),
        overload(house, loaded),
        doubt(house),
        trace(beliefs),
        card(house, beliefs),
        tests(house, now),
    ];
    Today { under_way: under_way(house, beliefs).into_iter().collect(), next: matters.into_iter().flatten().collect() }
}

fn matter(about: MatterKind, said: impl Into<String>, more: impl Into<String>) -> Matter {
    Matter { about, said: said.into(), more: more.into(), breaker: None }
}

fn under_way(house: &House, beliefs: &Beliefs) -> Option<Matter> {
    let run = house.run()?;
    let who = if run.crew.people > 1 { "two people" } else { "one person" };
    Some(match &run.round {
        Some(round) => matter(
            MatterKind::Round,
            "A round of measuring goes on",
            format!("{} places read so far", round.done.len()),
        ),
        None => {
            let open = beliefs.progress.points - settled(beliefs);
            matter(
                MatterKind::Run,
                "Tracing goes on",
                format!("{who}; {open} of {} points to go", beliefs.progress.points),
            )
        }
    })
}

fn settled(beliefs: &Beliefs) -> usize {
    beliefs.progress.proven + beliefs.progress.no_breaker + beliefs.progress.two_handles
}

fn panel(house: &House) -> Option<Matter> {
    if house.panels.iter().next().is_none() {
        return Some(matter(
            MatterKind::Panel,
            "Enter the panel",
            "its spaces and its main breaker: the door and the label tell them",
        ));
    }
    let bare: Vec<&Panel> =
        house.panels_in_order().into_iter().filter(|p| house.breakers_of(p.id).is_empty()).collect();
    let first = bare.first()?;
    Some(matter(
        MatterKind::Panel,
        format!("Enter the breakers of {}", first.name),
        "space by space, as they stand; nothing has to be opened",
    ))
}

fn rooms(house: &House) -> Option<Matter> {
    let none = house.points.iter().next().is_none();
    none.then(|| matter(MatterKind::Rooms, "Enter the rooms", "and what is in them: outlets, lights, appliances"))
}

fn danger(house: &House, beliefs: &Beliefs) -> Option<Matter> {
    let live: Vec<&Point> =
        house.points_in_order().into_iter().filter(|p| beliefs.of(p.id).is_some_and(PointBelief::stays_live)).collect();
    let said = format!("{}: stays live whatever is off", in_words(house, &live));
    (!live.is_empty()).then(|| matter(MatterKind::Danger, said, STAYS_LIVE))
}

fn misfit(house: &House) -> Option<Matter> {
    let found = rules::standing(house);
    let first = found.first()?;
    Some(matter(
        MatterKind::Misfit,
        counted(found.len(), "thing stands that should not", "things stand that should not"),
        format!("{}: {}", first.place(house), first.why),
    ))
}

/// It passes its rating in every other usual week at the least: less is not worth a line among what comes next. (common practice)
const OFTEN: f64 = 0.5;

fn overload(house: &House, loaded: &Loaded<'_>) -> Option<Matter> {
    let all = loaded.circuits();
    let over: Vec<_> = all.iter().filter(|c| c.over >= OFTEN && !c.feeds_panel).collect();
    let worst = over.iter().max_by(|a, b| a.over.total_cmp(&b.over))?;
    let more = cure(house, loaded, worst.breaker).map_or_else(|| worst.said.clone(), |cure| cure.said);
    let said = counted(over.len(), "circuit carries too much", "circuits carry too much");
    let of = format!("{} {} ({})", worst.panel, worst.at, worst.name);
    Some(Matter { breaker: Some(worst.breaker), ..matter(MatterKind::Overload, said, format!("{of}: {more}")) })
}

fn doubt(house: &House) -> Option<Matter> {
    let mut open = doubts(house);
    open.retain(|doubt| !doubt.second_look);
    let first = open.first()?;
    let said = counted(open.len(), "answer does not fit", "answers do not fit");
    Some(matter(MatterKind::Doubt, said, format!("{}: {}", first.name, first.said)))
}

fn trace(beliefs: &Beliefs) -> Option<Matter> {
    let open = beliefs.progress.points.saturating_sub(settled(beliefs));
    let minutes = (MINUTES_A_POINT * open as f64).ceil();
    let said = counted(open, "point to trace", "points to trace");
    (open > 0).then(|| matter(MatterKind::Trace, said, format!("about {minutes:.0} min for one person, less for two")))
}

fn card(house: &House, beliefs: &Beliefs) -> Option<Matter> {
    let panels = house.panels_in_order();
    let old = panels.iter().filter_map(|p| Some((p, stale(house, beliefs, p)?))).find(|(_, lines)| !lines.is_empty());
    if let Some((panel, lines)) = old {
        let more = format!(
            "the map says something else now at {}",
            lines.iter().map(|line| line.at.as_str()).collect::<Vec<_>>().join(", ")
        );
        return Some(matter(MatterKind::Card, format!("The card of {} is out of date", panel.name), more));
    }
    let never = panels.iter().find(|p| p.printed.is_none() && !house.breakers_of(p.id).is_empty())?;
    let more = if settled(beliefs) == beliefs.progress.points {
        "everything on it is proven"
    } else {
        "what is not proven yet is marked on it"
    };
    (beliefs.progress.proven > 0).then(|| matter(MatterKind::Card, format!("Print the card of {}", never.name), more))
}

fn tests(house: &House, now: Timestamp) -> Option<Matter> {
    let due: Vec<_> = device_tests(house, now).into_iter().filter(|d| d.due).collect();
    let failed = due.iter().find(|d| d.failed);
    let more = match (failed, due.first()) {
        (Some(failed), _) => format!("{} failed: replace it", failed.name),
        (None, first) => first.map(|d| format!("first {}", d.name))?,
    };
    Some(matter(
        MatterKind::Tests,
        counted(due.len(), "ground-fault device to test", "ground-fault devices to test"),
        more,
    ))
}

fn counted(n: usize, one: &str, many: &str) -> String {
    format!("{n} {}", if n == 1 { one } else { many })
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::base::units::Amps;
    use crate::fixture::Fixture;
    use crate::house::{Device, Habit, Load, LoadId, LoadKind, PointKind, Seen};
    use crate::load::draws::draws;
    use crate::trace::beliefs;

    fn told(house: &House) -> Vec<Matter> {
        let beliefs = beliefs(house);
        let draws = draws(house, &beliefs);
        today(house, &beliefs, &Loaded::new(house, &beliefs, &draws), Timestamp::UNIX_EPOCH).next
    }

    fn about(house: &House) -> Vec<MatterKind> {
        told(house).into_iter().map(|m| m.about).collect()
    }

    // From nothing to a card: what is asked for is what is missing, in the order of the work.
    #[test]
    fn what_comes_next_follows_the_work() {
        assert_eq!(about(&House::new("Quill")), [MatterKind::Panel, MatterKind::Rooms]);
        let mut f = Fixture::new(4);
        assert_eq!(about(&f.house), [MatterKind::Panel, MatterKind::Rooms]);
        let (one, two) = (f.breaker("1", 20.0, ""), f.breaker("2", 20.0, ""));
        assert_eq!(about(&f.house), [MatterKind::Rooms]);
        let kitchen = f.room("Kitchen");
        let point = f.point("K1", kitchen, PointKind::Light);
        assert_eq!(about(&f.house), [MatterKind::Trace]);
        for _ in 0..2 {
            f.see(point, &[one], Seen::Dead);
            f.see(point, &[two], Seen::Live);
        }
        assert_eq!(about(&f.house), [MatterKind::Card]);
        let printed = crate::Change::CardPrinted { panel: f.panel().id, time: Timestamp::UNIX_EPOCH };
        f.house = f.house.apply(&printed).unwrap().house;
        assert_eq!(about(&f.house), []);
        let guarded = crate::house::Breaker { device: Device::Gfci, ..f.house.breakers.get(one).unwrap().clone() };
        f.house.breakers.put(guarded);
        assert_eq!(about(&f.house), [MatterKind::Tests]);
        let larger = crate::house::Breaker {
            amps: crate::base::units::Amps(15.0),
            ..f.house.breakers.get(one).unwrap().clone()
        };
        f.house.breakers.put(larger);
        let told = told(&f.house);
        assert_eq!(told[0].said, "The card of Main is out of date");
        assert_eq!(told[0].more, "the map says something else now at 1");
    }

    // Handbook 3.3, 5.16: what passes its rating in a usual week is told, with what would relieve it.
    #[test]
    fn a_circuit_that_will_trip_is_told_with_its_cure() {
        let mut f = Fixture::new(4);
        let (one, two) = (f.breaker("1", 15.0, ""), f.breaker("2", 20.0, ""));
        let kitchen = f.room("Kitchen");
        let point = f.point("K1", kitchen, PointKind::Receptacle);
        for _ in 0..2 {
            f.see(point, &[one], Seen::Dead);
            f.see(point, &[two], Seen::Live);
        }
        for (id, name, amps) in [(1, "griddle", 9.0), (2, "kettle", 12.5)] {
            let load = Load {
                amps: Some(Amps(amps)),
                habit: Some(Habit::Meals),
                ..Load::new(LoadId(id), point, name, LoadKind::Other)
            };
            f.house.loads.put(load);
        }
        let all = told(&f.house);
        let matter = all.iter().find(|m| m.about == MatterKind::Overload).unwrap();
        assert_eq!(matter.breaker, Some(one));
        assert!(matter.more.contains("kettle (K1), 12.5 A, gets a circuit of its own of 20 A"), "{}", matter.more);
    }
}
