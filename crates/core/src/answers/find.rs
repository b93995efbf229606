//! Finding anything of the house by what people call it.
//!
//! Tags, names, rooms, breakers, labels, wires; words are compared in their plain form (`disposal` finds the
//! disposer), beginnings of words count, and a letter or two may be wrong.

use std::collections::BTreeSet;

use serde::Serialize;
use strsim::osa_distance;
use utoipa::ToSchema;

use crate::base::position::Leg;
use crate::base::units::Amps;
use crate::edit::Subject;
use crate::house::{Breaker, BreakerId, House, Panel, Point, Room};
use crate::trace::verdict::STAYS_LIVE;
use crate::trace::{Beliefs, BreakerRef, Fed, PointBelief, Status};
use crate::words::labels::words;
use crate::words::things::{in_words, sure_and_perhaps};

/// A thing that was found.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
pub struct Found {
    /// The thing.
    pub subject: Subject,
    /// What it is called, in one line.
    pub title: String,
    /// It stays live whatever is off, or somebody works on what it hangs on: what to do about that. Empty otherwise.
    pub warning: String,
    /// How well it fits, 0 to 1.
    pub score: f64,
    /// For a point: what feeds it.
    pub fed_by: Option<Feeder>,
    /// Tags of what goes dark together with it; a question mark where that is only likely.
    pub also_dark: Vec<String>,
    /// The same in words, by room.
    pub dark: String,
}

/// What feeds a point.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
pub struct Feeder {
    /// The likeliest breaker.
    #[serde(flatten)]
    pub at: BreakerRef,
    /// Its rating.
    pub amps: Amps,
    /// The legs of its poles.
    pub legs: Vec<Leg>,
    /// How far that is known.
    pub status: Status,
    /// Probability.
    pub p: f64,
}

/// Hits less good than this are chance.
const GOOD_ENOUGH: f64 = 0.5;
/// More than this nobody reads.
const MOST_HITS: usize = 12;

/// Finds things, best first.
#[must_use]
pub fn find(house: &House, beliefs: &Beliefs, query: &str) -> Vec<Found> {
    let asked = Wanted::new(query);
    if asked.parts.is_empty() {
        return Vec::new();
    }
    let mut hits: Vec<Found> = Vec::new();
    hits.extend(house.points_in_order().into_iter().filter_map(|p| point(house, beliefs, &asked, p)));
    hits.extend(house.breakers.iter().filter_map(|b| breaker(house, beliefs, &asked, b)));
    hits.extend(house.rooms.iter().filter_map(|r| room(house, &asked, r)));
    hits.extend(house.panels.iter().filter_map(|p| panel(house, &asked, p)));
    // The order above breaks ties: what people ask for most comes first.
    hits.sort_by(|a, b| b.score.total_cmp(&a.score));
    hits.truncate(MOST_HITS);
    hits
}

/// A query: its words as typed, and in their plain form.
struct Wanted {
    whole: String,
    parts: Vec<String>,
    plain: BTreeSet<String>,
}

/// What of a thing is compared, and how much each counts.
struct Text<'a> {
    text: &'a str,
    weight: f64,
}

impl Wanted {
    fn new(query: &str) -> Self {
        let whole = query.trim().to_lowercase();
        let parts = split(&whole);
        let plain = words(query).into_iter().map(|w| w.plain).collect();
        Self { whole, parts, plain }
    }

    /// The share of the query that the texts account for; an exact name is worth most.
    fn score(&self, names: &[&str], texts: &[Text<'_>]) -> Option<f64> {
        if names.iter().any(|n| n.to_lowercase() == self.whole) {
            return Some(1.0);
        }
        let plain: BTreeSet<String> = texts.iter().flat_map(|t| words(t.text)).map(|w| w.plain).collect();
        if !self.plain.is_empty() && self.plain.is_subset(&plain) {
            return Some(0.9);
        }
        let best = |part: &String| {
            let of_text = |t: &Text<'_>| {
                let likeness =
                    split(&t.text.to_lowercase()).iter().map(|word| likeness(part, word)).fold(0.0, f64::max);
                likeness * t.weight
            };
            texts.iter().map(of_text).fold(0.0, f64::max)
        };
        let score = self.parts.iter().map(best).sum::<f64>() / self.parts.len() as f64 * 0.85;
        (score >= GOOD_ENOUGH).then_some(score)
    }
}

fn split(text: &str) -> Vec<String> {
    let parts = text.split(|c: char| !c.is_alphanumeric() && c != '-').filter(|p| !p.is_empty() && *p != "-");
    parts.map(str::to_owned).collect()
}

/// 1 for the same word, less for its beginning or a slip of the finger: one wrong letter from four on, two from eight.
fn likeness(asked: &str, word: &str) -> f64 {
    if asked == word {
        return 1.0;
    }
    if asked.len() >= 2 && word.starts_with(asked) {
        return 0.9;
    }
    let slips = match asked.chars().count() {
        0..=3 => 0,
        4..=7 => 1,
        _ => 2,
    };
    let begin: String = word.chars().take(asked.chars().count()).collect();
    match osa_distance(asked, word).min(osa_distance(asked, &begin)) {
        n if n <= slips => 0.85 - 0.1 * n as f64,
        _ => 0.0,
    }
}

fn point(house: &House, beliefs: &Beliefs, asked: &Wanted, p: &Point) -> Option<Found> {
    let room = house.rooms.get(p.room).map_or("", |r| r.name.as_str());
    let texts = [
        Text { text: &p.tag, weight: 1.0 },
        Text { text: &p.name, weight: 1.0 },
        Text { text: room, weight: 0.8 },
        Text { text: kind_word(p), weight: 0.8 },
    ];
    let score = asked.score(&[&p.tag, &p.name], &texts)?;
    let name = if p.name.is_empty() { kind_word(p) } else { &p.name };
    let fed_by = feeder(house, beliefs, p);
    let breaker = fed_by.as_ref().filter(|f| f.status != Status::Unknown).map(|f| f.at.breaker);
    let mates = beliefs.breakers.iter().find(|b| Some(b.at.breaker) == breaker);
    let also: Vec<&Fed> =
        mates.into_iter().flat_map(|b| &b.feeds).filter(|f| f.point != p.id && (f.proven || f.likely)).collect();
    let stays_live = beliefs.of(p.id).is_some_and(PointBelief::stays_live);
    let live = stays_live.then(|| format!("It stays live whatever is off here: {STAYS_LIVE}."));
    let may_feed: BTreeSet<BreakerId> =
        beliefs.of(p.id).into_iter().flat_map(|b| &b.candidates).map(|c| c.at.breaker).collect();
    Some(Found {
        warning: live.into_iter().chain(held(house, |b| may_feed.contains(&b))).collect::<Vec<_>>().join(" "),
        subject: Subject::Point(p.id),
        title: format!("{} {room}, {name}", p.tag),
        score,
        dark: dark(house, &also),
        also_dark: also.into_iter().map(tag).collect(),
        fed_by,
    })
}

/// Somebody works there: what may be meant is off for them, and nobody else's to move.
fn held(house: &House, meant: impl Fn(BreakerId) -> bool) -> Option<String> {
    let all = house.held();
    let held = all.iter().find(|held| held.dead(house).into_iter().any(&meant))?;
    Some(format!("{}, and it is off for them: ask them before you move a handle.", held.who_works(house)))
}

fn kind_word(p: &Point) -> &'static str {
    use crate::house::PointKind;
    match p.kind {
        PointKind::Receptacle => "receptacle",
        PointKind::Light => "light",
        PointKind::Switch => "switch",
        PointKind::Appliance => "appliance",
        PointKind::Alarm => "alarm",
        PointKind::Other => "other",
    }
}

fn feeder(house: &House, beliefs: &Beliefs, p: &Point) -> Option<Feeder> {
    let belief = beliefs.points.iter().find(|b| b.point == p.id)?;
    let by_one = !matches!(belief.status, Status::NoBreaker | Status::TwoHandles);
    let first = belief.candidates.first().filter(|_| by_one)?;
    let breaker = house.breakers.get(first.at.breaker)?;
    let panel = house.panels.get(breaker.panel)?;
    let legs = breaker.at.iter().map(|at| panel.leg(*at)).collect();
    Some(Feeder { at: first.at.clone(), amps: breaker.amps, legs, status: belief.status, p: first.p })
}

fn breaker(house: &House, beliefs: &Beliefs, asked: &Wanted, b: &Breaker) -> Option<Found> {
    let panel = house.panels.get(b.panel)?;
    let (at, amps) = (b.at_text(), b.amps.0.to_string());
    let cables: Vec<String> = house.circuits_of(b.id).iter().filter_map(|c| c.cable()).collect();
    let cables = cables.join(" ");
    let texts = [
        Text { text: &at, weight: 1.0 },
        Text { text: &b.label, weight: 0.9 },
        Text { text: &panel.name, weight: 0.7 },
        Text { text: &cables, weight: 0.9 },
        Text { text: &b.model, weight: 0.9 },
        Text { text: "breaker space", weight: 0.7 },
        Text { text: &amps, weight: 0.6 },
    ];
    let full = format!("{} {at}", panel.name);
    let score = asked.score(&[&at, &full], &texts)?;
    let feeds = beliefs.breakers.iter().find(|x| x.at.breaker == b.id);
    let feeds: Vec<&Fed> = feeds.into_iter().flat_map(|x| &x.feeds).filter(|f| f.proven || f.likely).collect();
    let label = if b.label.is_empty() { String::new() } else { format!(" \"{}\"", b.label) };
    Some(Found {
        warning: held(house, |id| id == b.id).unwrap_or_default(),
        subject: Subject::Breaker(b.id),
        title: format!("{} {at}, {}{label}", panel.name, b.amps),
        score,
        fed_by: None,
        dark: dark(house, &feeds),
        also_dark: feeds.into_iter().map(tag).collect(),
    })
}

/// What goes dark in words, a question mark after what is not proven.
fn dark(house: &House, fed: &[&Fed]) -> String {
    let of = |proven: bool| -> Vec<&Point> {
        fed.iter().filter(|f| f.proven == proven).filter_map(|f| house.points.get(f.point)).collect()
    };
    sure_and_perhaps(house, &of(true), &of(false))
}

/// A tag, with a question mark where it is not proven.
fn tag(fed: &Fed) -> String {
    if fed.proven { fed.tag.clone() } else { format!("{}?", fed.tag) }
}

fn room(house: &House, asked: &Wanted, r: &Room) -> Option<Found> {
    let score =
        asked.score(&[&r.name], &[Text { text: &r.name, weight: 1.0 }, Text { text: &r.floor, weight: 0.5 }])?;
    let points: Vec<&Point> = house.points_in_order().into_iter().filter(|p| p.room == r.id).collect();
    Some(Found {
        warning: String::new(),
        subject: Subject::Room(r.id),
        title: format!("{}, floor {}", r.name, r.floor),
        score: score * 0.95,
        fed_by: None,
        dark: in_words(house, &points),
        also_dark: points.iter().map(|p| p.tag.clone()).collect(),
    })
}

fn panel(house: &House, asked: &Wanted, p: &Panel) -> Option<Found> {
    let texts = [
        Text { text: &p.name, weight: 1.0 },
        Text { text: "panel", weight: 0.7 },
        Text { text: &p.model, weight: 0.9 },
    ];
    let score = asked.score(&[&p.name], &texts)?;
    let title = format!("Panel {}", p.name);
    let of_it = |b: BreakerId| house.breakers.get(b).is_some_and(|b| b.panel == p.id);
    Some(Found {
        warning: held(house, of_it).unwrap_or_default(),
        subject: Subject::Panel(p.id),
        title,
        score: score * 0.95,
        fed_by: None,
        also_dark: Vec::new(),
        dark: String::new(),
    })
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::fixture::Fixture;
    use crate::house::PointKind;
    use crate::house::Seen::{Dead, Live};
    use crate::trace::beliefs;

    fn house() -> Fixture {
        let mut f = Fixture::new(20);
        let (one, two) = (f.breaker("1", 20.0, "Kit plugs"), f.breaker("5-7", 50.0, "Stove"));
        let (kitchen, attic) = (f.room("Kitchen"), f.room("Bell loft"));
        let disposer = f.point("K1", kitchen, PointKind::Appliance);
        f.name(disposer, "disposer");
        let dishwasher = f.point("K2", kitchen, PointKind::Appliance);
        f.name(dishwasher, "dishwasher");
        f.point("A10", attic, PointKind::Light);
        for point in [disposer, dishwasher] {
            for _ in 0..2 {
                f.see(point, &[one], Dead);
                f.see(point, &[two], Live);
            }
        }
        f
    }

    fn first(f: &Fixture, query: &str) -> Option<String> {
        find(&f.house, &beliefs(&f.house), query).first().map(|h| h.title.clone())
    }

    #[test]
    fn the_commonest_question_is_answered_at_once() {
        let f = house();
        let hit = &find(&f.house, &beliefs(&f.house), "disposal")[0];
        let fed = hit.fed_by.as_ref().unwrap();
        assert_eq!((hit.title.as_str(), fed.at.at.as_str(), fed.amps), ("K1 Kitchen, disposer", "1", Amps(20.0)));
        assert_eq!((fed.status, fed.legs.as_slice()), (Status::Proven, &[Leg::A][..]));
        assert_eq!(hit.also_dark, ["K2", "A10?"], "the loft's light may hang there too");
    }

    #[test]
    fn tags_names_rooms_breakers_labels_all_lead_there() {
        let f = house();
        for (query, title) in [
            ("k2", "K2 Kitchen, dishwasher"),
            ("dw", "K2 Kitchen, dishwasher"),
            ("dishwahser", "K2 Kitchen, dishwasher"),
            ("dish", "K2 Kitchen, dishwasher"),
            ("kitchen", "Kitchen, floor 1"),
            ("kitchen disposer", "K1 Kitchen, disposer"),
            ("5-7", "Main 5-7, 50 A \"Stove\""),
            ("stove", "Main 5-7, 50 A \"Stove\""),
            ("panel main", "Panel Main"),
            ("loft light", "A10 Bell loft, light"),
        ] {
            assert_eq!(first(&f, query).as_deref(), Some(title), "{query}");
        }
    }

    #[test]
    fn nothing_is_made_up() {
        let f = house();
        for query in ["", "  ", "zebra", "xq", "!!"] {
            assert_eq!(first(&f, query), None, "{query}");
        }
    }
}
