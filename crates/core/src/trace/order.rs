//! An order in words: what goes dark, who has to be asked, where to look.

use serde::Serialize;
use utoipa::ToSchema;

use crate::house::{House, Point, PointId};
use crate::trace::advise::Advice;
use crate::trace::belief::{Beliefs, Fed};
use crate::words::mind::ask_first;
use crate::words::things::{by_room, in_words};

/// What to do next, and the same in words.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
pub struct Order {
    /// The advice.
    #[serde(flatten)]
    pub advice: Advice,
    /// In words.
    pub words: OrderWords,
}

/// An order in words.
#[derive(Debug, Clone, Default, PartialEq, Eq, Serialize, ToSchema)]
pub struct OrderWords {
    /// Every breaker that may be on: `every breaker`, or but for those that somebody's work holds off.
    pub every: &'static str,
    /// All but those of the order, in the same way.
    pub rest: &'static str,
    /// What goes dark with the handles that move, as far as known, by room.
    pub dark: String,
    /// What goes or may go dark and should not unannounced: by name, a line for each reason, the gravest first.
    pub ask_first: Vec<String>,
    /// The rooms to look in, in walking order, with how many points each: `Kitchen (8), Hall (3)`.
    pub rooms: String,
    /// The points to look at, by room.
    pub look_at: String,
    /// Points that could not be proven with what may be switched, by room.
    pub unproven: String,
}

impl Order {
    /// Of advice for a house.
    #[must_use]
    pub fn new(house: &House, beliefs: &Beliefs, advice: Advice) -> Self {
        let words = OrderWords::new(house, beliefs, &advice);
        Self { advice, words }
    }
}

impl OrderWords {
    fn new(house: &House, beliefs: &Beliefs, advice: &Advice) -> Self {
        let mut fed: Vec<&Fed> = beliefs
            .breakers
            .iter()
            .filter(|b| advice.switch_off.iter().any(|off| off.breaker == b.at.breaker))
            .flat_map(|b| &b.feeds)
            .collect();
        fed.sort_by(|a, b| a.point.cmp(&b.point).then(b.p.total_cmp(&a.p)));
        fed.dedup_by_key(|fed| fed.point);
        let point = |id: PointId| house.points.get(id);
        let dark: Vec<&Point> = fed.iter().filter(|f| f.likely).filter_map(|f| point(f.point)).collect();
        let perhaps: Vec<&Point> = fed.iter().filter(|f| !f.likely).filter_map(|f| point(f.point)).collect();
        let of_tags = |tags: &[String]| {
            let points: Vec<&Point> = house.points.iter().filter(|p| tags.contains(&p.tag)).collect();
            in_words(house, &points)
        };
        let visited: Vec<&Point> = advice.points.iter().filter_map(|id| point(*id)).collect();
        let (every, rest) = if advice.held.is_empty() {
            ("every breaker", "everything else on")
        } else {
            ("every breaker that nobody holds off", "everything else on that nobody holds off")
        };
        Self {
            every,
            rest,
            dark: in_words(house, &dark),
            ask_first: ask_first(house, &dark, &perhaps),
            rooms: by_room(house, &visited),
            look_at: in_words(house, &visited),
            unproven: of_tags(&advice.unproven),
        }
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::fixture::Fixture;
    use crate::house::{Crew, Pace, PointKind, Seen};
    use crate::trace::{advise, beliefs};

    // Handbook 2.2: a sump pump and a refrigerator are asked about by name before they lose power.
    #[test]
    fn an_order_names_what_goes_dark_whom_to_ask_and_the_rooms_in_their_order() {
        let mut f = Fixture::new(8);
        let breakers = [f.breaker("1", 20.0, ""), f.breaker("2", 20.0, ""), f.breaker("3", 15.0, "")];
        let (kitchen, cellar) = (f.room("Kitchen"), f.room("Cellar"));
        let fridge = f.point("K1", kitchen, PointKind::Appliance);
        f.name(fridge, "refrigerator");
        let pump = f.point("C1", cellar, PointKind::Appliance);
        f.name(pump, "sump pump");
        let outlets = ["K2", "K3"].map(|tag| f.point(tag, kitchen, PointKind::Receptacle));
        for (point, breaker) in [(fridge, breakers[0]), (pump, breakers[0]), (outlets[0], breakers[0])] {
            f.see(point, &[breaker], Seen::Dead);
        }
        let (map, crew) = (beliefs(&f.house), Crew { pace: Pace::Fast, ..Crew::default() });
        let advice = Advice {
            switch_off: map.breakers[..1].iter().map(|b| b.at.clone()).collect(),
            points: vec![outlets[1], pump, fridge],
            unproven: vec!["K3".into(), "C1".into()],
            ..advise(&f.house, &crew).unwrap()
        };
        let held = Advice { held: vec!["Ash works in Main".into()], ..advice.clone() };
        assert!(Order::new(&f.house, &map, held).words.every.ends_with("that nobody holds off"));
        let words = Order::new(&f.house, &map, advice).words;
        assert_eq!(words.every, "every breaker");
        assert_eq!(words.dark, "Kitchen refrigerator, receptacle; Cellar sump pump");
        assert_eq!(words.rooms, "Kitchen (2), Cellar (1)");
        assert_eq!(words.look_at, "Kitchen refrigerator, receptacle; Cellar sump pump");
        assert_eq!(words.unproven, "Kitchen receptacle; Cellar sump pump");
        let asked: Vec<&str> = words.ask_first.iter().map(String::as_str).collect();
        assert_eq!(
            asked,
            ["Cellar sump pump: water may rise", "Kitchen refrigerator: short is fine, food spoils after hours"]
        );
    }
}
