//! What changes touched, in words: for the list of changes and the log.

use std::collections::BTreeSet;

use crate::edit::Subject;
use crate::house::{BreakerId, House, Observation, Point, PointId, Seen};
use crate::words::things::{by_room, by_tags};

/// More points than this are counted by room, not named.
const NAMED: usize = 4;
/// More breakers than this are told as a range.
const BREAKERS_NAMED: usize = 6;

/// What changes touched, in words, as far as it is still there: points by name with what was seen of them, many of them by
/// room; breakers by number; the rest by name.
#[must_use]
pub fn changed(house: &House, subjects: &[Subject]) -> String {
    let mut seen: Vec<(PointId, Option<Seen>)> = Vec::new();
    let mut breakers: BTreeSet<BreakerId> = BTreeSet::new();
    let mut names: Vec<&str> = Vec::new();
    for subject in subjects {
        match subject {
            Subject::Evidence(id) => seen.extend(house.evidence.get(*id).map(|e| (e.point, saw(&e.observation)))),
            Subject::Point(id) => seen.push((*id, None)),
            Subject::Breaker(id) => drop(breakers.insert(*id)),
            Subject::Circuit(id) => breakers.extend(house.circuits.get(*id).map(|c| c.breaker)),
            Subject::Panel(id) => names.extend(house.panels.get(*id).map(|p| p.name.as_str())),
            Subject::Room(id) => names.extend(house.rooms.get(*id).map(|r| r.name.as_str())),
            Subject::Load(id) => names.extend(house.loads.get(*id).map(|l| l.name.as_str())),
            _ => {}
        }
    }
    let names = names.into_iter().filter(|name| !name.is_empty()).collect::<Vec<_>>().join(", ");
    let told = [points(house, &seen), numbered(house, &breakers), names];
    told.into_iter().filter(|part| !part.is_empty()).collect::<Vec<_>>().join("; ")
}

fn saw(observation: &Observation) -> Option<Seen> {
    if let Observation::Power { seen, .. } = observation { Some(*seen) } else { None }
}

fn points(house: &House, seen: &[(PointId, Option<Seen>)]) -> String {
    let touched: BTreeSet<PointId> = seen.iter().map(|(point, _)| *point).collect();
    let there: Vec<&Point> = house.points_in_order().into_iter().filter(|p| touched.contains(&p.id)).collect();
    let last = |p: &Point| seen.iter().rev().find(|(point, _)| *point == p.id).and_then(|(_, seen)| *seen);
    let answers =
        [(Some(Seen::Dead), "DEAD"), (Some(Seen::Live), "LIVE"), (Some(Seen::Unsure), "NOT SURE"), (None, "")];
    let of = |seen: Option<Seen>| there.iter().filter(|p| last(p) == seen).map(|p| p.tag.clone()).collect::<Vec<_>>();
    let each = answers.map(|(seen, word)| (of(seen), word));
    if there.len() <= NAMED {
        let named = each.iter().filter(|(tags, _)| !tags.is_empty()).map(|(tags, word)| match *word {
            "" => by_tags(house, tags),
            word => format!("{} {word}", by_tags(house, tags)),
        });
        return named.collect::<Vec<_>>().join("; ");
    }
    let counted = each.iter().filter(|(tags, word)| !tags.is_empty() && !word.is_empty());
    let counted: Vec<String> = counted.map(|(tags, word)| format!("{} {word}", tags.len())).collect();
    let counted = if counted.is_empty() { String::new() } else { format!(": {}", counted.join(", ")) };
    format!("{} points, {}{counted}", there.len(), by_room(house, &there))
}

fn numbered(house: &House, touched: &BTreeSet<BreakerId>) -> String {
    let panels = house.panels_in_order();
    let at = panels.iter().flat_map(|p| house.breakers_of(p.id)).filter(|b| touched.contains(&b.id));
    let names: Vec<String> = at.map(|b| house.breaker_name(b)).collect();
    match names.as_slice() {
        [] => String::new(),
        [one] => format!("breaker {one}"),
        [first, .., last] if names.len() > BREAKERS_NAMED => {
            format!("{} breakers, {first} to {last}", names.len())
        }
        all => format!("breakers {}", all.join(", ")),
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::fixture::Fixture;
    use crate::house::PointKind;

    #[test]
    fn a_change_names_its_points_with_what_was_seen_and_counts_many_by_room() {
        let mut f = Fixture::new(20);
        let breakers = ["1", "2", "3", "4", "5", "6", "7"].map(|at| f.breaker(at, 20.0, ""));
        let (kitchen, hall) = (f.room("Kitchen"), f.room("Hall"));
        let lamp = f.point("H1", hall, PointKind::Light);
        let outlets = ["K1", "K2", "K3", "K4"].map(|tag| f.point(tag, kitchen, PointKind::Receptacle));
        let dead = f.see(outlets[0], &breakers[..1], Seen::Dead);
        let live = f.see(lamp, &breakers[..1], Seen::Live);
        let told = |subjects: &[Subject]| changed(&f.house, subjects);
        assert_eq!(told(&[Subject::Evidence(dead)]), "Kitchen receptacle (K1) DEAD");
        let two = [Subject::Evidence(dead), Subject::Evidence(live)];
        assert_eq!(told(&two), "Kitchen receptacle (K1) DEAD; Hall light (H1) LIVE");
        let mut all = two.to_vec();
        all.extend(outlets[1..].iter().map(|p| Subject::Point(*p)));
        assert_eq!(told(&all), "5 points, Kitchen (4), Hall (1): 1 DEAD, 1 LIVE");
        assert_eq!(told(&[Subject::Breaker(breakers[0]), Subject::Room(hall)]), "breaker 1; Hall");
        assert_eq!(told(&breakers[..2].iter().map(|b| Subject::Breaker(*b)).collect::<Vec<_>>()), "breakers 1, 2");
        assert_eq!(told(&breakers.map(Subject::Breaker)), "7 breakers, 1 to 7");
        assert_eq!(told(&[Subject::Point(PointId(9999))]), "", "what is gone is not told");
    }
}
