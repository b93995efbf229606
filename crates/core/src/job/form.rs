//! What a kind of job asks, declared once: pages draw their forms from it, the command line its arguments, and a goal is made of
//! the answers here.

use std::collections::{BTreeMap, BTreeSet};

use serde::Serialize;
use serde_json::Value;

use super::plan::Mishap;
use crate::base::position::{Position, parse_poles};
use crate::base::units::{Limits, SPACES};
use crate::base::{Invalid, Said};
use crate::house::{BreakerId, Goal, House, LoadId, LoadKind, Panel, PanelId, PointId, Room, RoomId, TandemSpaces};

/// What is answered in a field, and how the answer is written.
#[derive(Debug, Clone, Copy, PartialEq, Serialize)]
#[serde(tag = "sort", rename_all = "kebab-case")]
pub enum FieldSort {
    /// A breaker, by its id.
    Breaker,
    /// Several of them.
    Breakers,
    /// A panel, by its id; otherwise the first.
    Panel,
    /// A room, by its id.
    Room,
    /// A space of the panel, by its number.
    Space,
    /// Places in the panel, as `2-4`.
    Poles,
    /// Room that is wished for: `1p`, `2p`, `3p`, at a space `5=2p`, or `balance`; several in a list.
    Wishes,
    /// Where half-size breakers may stand: `none`, `all`, or spaces as `7,8`.
    HalfSizes,
    /// A number.
    Number {
        /// In which range.
        #[serde(flatten)]
        limits: &'static Limits,
    },
    /// One of these: its code, and in words.
    Choice {
        /// In the order in which they are offered.
        choices: &'static [(&'static str, &'static str)],
    },
    /// A point, by its id.
    Point,
    /// Something that draws, by its id.
    Load,
    /// What sort of thing it is, by the code of [`LoadKind`].
    Thing,
    /// Yes, no, or nothing where nobody looked yet.
    YesNo,
    /// So, or otherwise.
    Tick,
    /// Free text.
    Text,
}

/// So many ids a job's goal takes at the most for what it makes new.
pub const IDS: u64 = 100;

/// Jobs that one shutdown takes at the most: more in one day is a panel made anew. (common practice)
pub const MOST_JOBS: usize = 6;

/// One question of a kind of job.
#[derive(Debug, Clone, Copy, PartialEq, Serialize)]
pub struct Field {
    /// Its name among the answers, and as an argument.
    pub name: &'static str,
    /// As a form shows it.
    pub label: &'static str,
    /// What more there is to say of it.
    #[serde(skip_serializing_if = "str::is_empty")]
    pub help: &'static str,
    /// What is answered.
    #[serde(flatten)]
    pub sort: FieldSort,
    /// Nothing is planned without.
    pub required: bool,
    /// Seldom needed: a form shows it when asked for more.
    pub rare: bool,
    /// What holds where nothing is said.
    #[serde(skip_serializing_if = "str::is_empty")]
    pub usual: &'static str,
    /// It is not asked where another field has one of these answers.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub unless: Option<(&'static str, &'static [&'static str])>,
}

impl Field {
    /// A question that may be left open.
    pub(super) const fn new(name: &'static str, label: &'static str, sort: FieldSort) -> Self {
        Self { name, label, help: "", sort, required: false, rare: false, usual: "", unless: None }
    }

    /// Nothing is planned without it.
    pub(super) const fn required(self) -> Self {
        Self { required: true, ..self }
    }

    /// Seldom needed.
    pub(super) const fn rare(self) -> Self {
        Self { rare: true, ..self }
    }

    /// With more to say of it.
    pub(super) const fn help(self, help: &'static str) -> Self {
        Self { help, ..self }
    }

    /// What holds where nothing is said.
    pub(super) const fn usual(self, usual: &'static str) -> Self {
        Self { usual, ..self }
    }

    /// Not asked where another field has one of these answers.
    pub(super) const fn unless(self, field: &'static str, answers: &'static [&'static str]) -> Self {
        Self { unless: Some((field, answers)), ..self }
    }
}

/// The breaker that a job is about.
pub(super) const BREAKER: Field = Field::new("breaker", "The breaker", FieldSort::Breaker).required();
/// The panel where the work is.
pub(super) const PANEL: Field = Field::new("panel", "Panel", FieldSort::Panel);

/// A kind of job, as people choose it.
#[derive(Debug, Clone, Copy, Serialize)]
pub struct Kind {
    /// Its name.
    pub name: &'static str,
    /// What people want who choose it.
    pub group: &'static str,
    /// In a few words.
    pub title: &'static str,
    /// And a few more.
    pub under: &'static str,
    /// What it asks.
    pub fields: &'static [Field],
    /// What usually goes wrong, and the way on.
    #[serde(skip)]
    pub mishaps: &'static [Mishap],
    /// The goal that answers come to.
    #[serde(skip)]
    pub(super) goal: fn(&Answers<'_>) -> Result<Goal, Invalid>,
}

impl Kind {
    /// The goal that answers come to; what is made new in the house gets ids from `first` on, [`IDS`] at the most.
    ///
    /// # Errors
    /// Where an answer is missing that it needs, is none to its question, or answers no question of this kind; with the field.
    pub fn goal(&self, house: &House, of: &BTreeMap<String, Value>, first: u64) -> Result<Goal, Invalid> {
        if let Some(unknown) = of.keys().find(|name| !self.fields.iter().any(|f| f.name == name.as_str())) {
            return Err(Invalid::new(unknown.clone(), format!("nothing of that name is asked for: {}", self.title)));
        }
        let answers = Answers { house, of, fields: self.fields, first };
        for field in self.fields {
            match answers.value(field.name) {
                None if field.required && field.usual.is_empty() => {
                    return Err(Invalid::new(field.name, format!("say this first: {}", field.label)));
                }
                None => {}
                Some(value) => answers.check(field, value)?,
            }
        }
        (self.goal)(&answers)
    }
}

/// Answers to the questions of a kind of job, each known to be one to its question.
#[derive(Debug)]
pub struct Answers<'a> {
    /// Of this house.
    pub house: &'a House,
    of: &'a BTreeMap<String, Value>,
    fields: &'static [Field],
    /// The first id for what is made new.
    pub first: u64,
}

impl<'a> Answers<'a> {
    fn value(&self, name: &str) -> Option<&'a Value> {
        self.of.get(name).filter(|value| !value.is_null() && value.as_str() != Some(""))
    }

    fn check(&self, field: &Field, value: &Value) -> Result<(), Invalid> {
        let no = |message: String| Err(Invalid::new(field.name, message));
        match field.sort {
            FieldSort::Breaker => self.breaker(field.name).map(|_| ()),
            FieldSort::Breakers => self.breakers(field.name).map(|_| ()),
            FieldSort::Panel => self.panel().map(|_| ()),
            FieldSort::Room => self.room(field.name).map(|_| ()),
            FieldSort::Poles => self.poles(field.name).map(|_| ()),
            FieldSort::Space => match value.as_f64() {
                Some(number) if SPACES.contain(number) && number.fract() == 0.0 => Ok(()),
                _ => no("the number of a space, please".into()),
            },
            FieldSort::Wishes => match value {
                Value::String(_) => Ok(()),
                Value::Array(all) if all.iter().all(Value::is_string) => Ok(()),
                _ => no("2p, 5=2p or balance, please".into()),
            },
            FieldSort::Number { limits } => match value.as_f64() {
                // What is counted is whole.
                Some(number) if limits.unit == SPACES.unit && number.fract() != 0.0 => {
                    no("a whole number, please".into())
                }
                Some(number) if limits.contain(number) => Ok(()),
                Some(number) => no(format!(
                    "the {} cannot be {number} {}: {} to {} are possible",
                    limits.label, limits.unit, limits.min, limits.max
                )),
                None => no(format!("a number, please: {}", limits.label)),
            },
            FieldSort::Choice { choices } => match value.as_str() {
                Some(code) if choices.iter().any(|(known, _)| *known == code) => Ok(()),
                _ => no(format!("one of {}", choices.iter().map(|(code, _)| *code).collect::<Vec<_>>().join(", "))),
            },
            FieldSort::HalfSizes => self.half_sizes(field.name).map(|_| ()),
            FieldSort::Point => self.point(field.name).map(|_| ()),
            FieldSort::Load => self.load(field.name).map(|_| ()),
            FieldSort::Thing => self.thing(field.name).map(|_| ()),
            FieldSort::YesNo | FieldSort::Tick if value.is_boolean() => Ok(()),
            FieldSort::Text if value.is_string() => Ok(()),
            FieldSort::YesNo | FieldSort::Tick => no("true or false, please".into()),
            FieldSort::Text => no("words, please".into()),
        }
    }

    fn id(&self, name: &str) -> Option<u64> {
        self.value(name).and_then(Value::as_u64)
    }

    /// A breaker that is asked for.
    pub(super) fn breaker(&self, name: &'static str) -> Result<BreakerId, Invalid> {
        let id = self.id(name).map(BreakerId).filter(|b| self.house.breakers.get(*b).is_some());
        id.ok_or_else(|| Invalid::new(name, "there is no such breaker (any more)"))
    }

    /// Several breakers; none where none is named.
    pub(super) fn breakers(&self, name: &'static str) -> Result<BTreeSet<BreakerId>, Invalid> {
        let no = || Invalid::new(name, "breakers of this house, please");
        let Some(value) = self.value(name) else { return Ok(BTreeSet::new()) };
        let known = |id: &Value| id.as_u64().map(BreakerId).filter(|b| self.house.breakers.get(*b).is_some());
        value.as_array().ok_or_else(no)?.iter().map(|id| known(id).ok_or_else(no)).collect()
    }

    /// The panel; the first where none is named.
    pub(super) fn panel(&self) -> Result<&'a Panel, Invalid> {
        let found = match self.value(PANEL.name) {
            None => self.house.panels_in_order().first().copied(),
            Some(_) => self.id(PANEL.name).and_then(|id| self.house.panels.get(PanelId(id))),
        };
        found.ok_or_else(|| Invalid::new(PANEL.name, "the house has no such panel: enter it first"))
    }

    /// A room.
    pub(super) fn room(&self, name: &'static str) -> Result<&'a Room, Invalid> {
        let found = self.id(name).and_then(|id| self.house.rooms.get(RoomId(id)));
        found.ok_or_else(|| Invalid::new(name, "there is no such room (any more)"))
    }

    /// Places in a panel; none where nothing is said.
    pub(super) fn poles(&self, name: &'static str) -> Result<Vec<Position>, Invalid> {
        let Some(value) = self.value(name) else { return Ok(Vec::new()) };
        let text = value.as_str().ok_or_else(|| Invalid::new(name, "places as 2-4, please"))?;
        parse_poles(text).map_err(|e| Invalid::new(name, e.to_string()))
    }

    /// A number in its range; nothing where nothing is said.
    pub(super) fn number(&self, name: &str) -> Option<f64> {
        self.value(name).and_then(Value::as_f64)
    }

    /// What was said, or what holds otherwise.
    pub(super) fn text(&self, name: &str) -> &'a str {
        let usual = self.fields.iter().find(|f| f.name == name).map_or("", |f| f.usual);
        self.value(name).and_then(Value::as_str).map_or(usual, str::trim)
    }

    /// Several texts, or one.
    pub(super) fn texts(&self, name: &str) -> Vec<String> {
        match self.value(name) {
            Some(Value::Array(all)) => all.iter().filter_map(Value::as_str).map(str::to_owned).collect(),
            _ => vec![self.text(name).to_owned()],
        }
    }

    /// Where half-size breakers may stand.
    pub(super) fn half_sizes(&self, name: &'static str) -> Result<TandemSpaces, Invalid> {
        let said = if self.value(name).is_some_and(|value| !value.is_string()) { None } else { Some(self.text(name)) };
        let read = said.and_then(TandemSpaces::read);
        read.ok_or_else(|| Invalid::new(name, "none, all, or spaces as 7,8, please"))
    }

    /// A point that is asked for.
    pub(super) fn point(&self, name: &'static str) -> Result<PointId, Invalid> {
        let id = self.id(name).map(PointId).filter(|point| self.house.points.get(*point).is_some());
        id.ok_or_else(|| Invalid::new(name, "there is no such point (any more)"))
    }

    /// The same; nothing where none is named.
    pub(super) fn maybe_point(&self, name: &'static str) -> Result<Option<PointId>, Invalid> {
        self.value(name).map(|_| self.point(name)).transpose()
    }

    /// Something that draws; nothing where none is named.
    pub(super) fn load(&self, name: &'static str) -> Result<Option<LoadId>, Invalid> {
        let Some(value) = self.value(name) else { return Ok(None) };
        let known = value.as_u64().map(LoadId).filter(|load| self.house.loads.get(*load).is_some());
        known.map(Some).ok_or_else(|| Invalid::new(name, "there is no such thing (any more)"))
    }

    /// What sort of thing it is.
    pub(super) fn thing(&self, name: &'static str) -> Result<LoadKind, Invalid> {
        let Some(value) = self.value(name) else { return Ok(LoadKind::Other) };
        let all = || LoadKind::ALL.iter().map(|k| k.said()).collect::<Vec<_>>().join(", ");
        serde_json::from_value(value.clone()).map_err(|_| Invalid::new(name, format!("one of {}", all())))
    }

    /// Yes or no; nothing where nobody looked yet.
    pub(super) fn yes_no(&self, name: &str) -> Option<bool> {
        self.value(name).and_then(Value::as_bool)
    }

    /// It is so.
    pub(super) fn is(&self, name: &str) -> bool {
        self.yes_no(name) == Some(true)
    }
}

#[cfg(test)]
mod tests {
    use serde_json::json;

    use super::*;
    use crate::fixture::Fixture;
    use crate::job::{kind, kinds};

    fn of(answers: Value) -> BTreeMap<String, Value> {
        serde_json::from_value(answers).unwrap()
    }

    /// An answer to each sort of question, and what is none.
    fn samples(sort: FieldSort, f: &Fixture) -> (Value, Value) {
        let breaker = f.house.breakers.iter().next().unwrap().id.0;
        match sort {
            FieldSort::Breaker => (json!(breaker), json!("1")),
            FieldSort::Breakers => (json!([breaker]), json!([breaker, 9999])),
            FieldSort::Panel => (json!(1), json!(77)),
            FieldSort::Room => (json!(f.house.rooms.iter().next().unwrap().id.0), json!(77)),
            FieldSort::Space => (json!(5), json!(5.5)),
            FieldSort::Poles => (json!("5-7"), json!("five")),
            FieldSort::Wishes => (json!(["2p", "5=1p"]), json!([2])),
            FieldSort::Number { limits } => (json!(limits.max), json!(limits.max * 1.01)),
            FieldSort::Choice { choices } => (json!(choices[0].0), json!("another")),
            FieldSort::HalfSizes => (json!("7-9,12"), json!("some")),
            FieldSort::Point => (json!(f.house.points.iter().next().unwrap().id.0), json!(77)),
            FieldSort::Load => (json!(f.house.loads.iter().next().unwrap().id.0), json!(77)),
            FieldSort::Thing => (json!("water-heater"), json!("kiln")),
            FieldSort::YesNo => (json!(false), json!("no")),
            FieldSort::Tick => (json!(true), json!("yes")),
            FieldSort::Text => (json!("bell motor"), json!(5)),
        }
    }

    // Every question of every kind of job takes an answer, refuses what is none by its name, and names what is missing.
    #[test]
    fn every_question_takes_its_answers_and_names_itself_where_one_is_wrong() {
        let mut f = Fixture::new(12);
        let room = f.room("Workshop");
        f.breaker("1", 20.0, "");
        let point = f.point("W1", room, crate::house::PointKind::Receptacle);
        f.house.loads.put(crate::house::Load::new(LoadId(1), point, "mixer", LoadKind::Other));
        assert!(kinds().len() > 10);
        for kind in kinds() {
            let right: BTreeMap<String, Value> =
                kind.fields.iter().map(|field| (field.name.to_owned(), samples(field.sort, &f).0)).collect();
            assert!(
                kind.goal(&f.house, &right, 9000).is_ok(),
                "{}: {:?}",
                kind.name,
                kind.goal(&f.house, &right, 9000)
            );
            let of_the_goal = super::super::kinds::of(&kind.goal(&f.house, &right, 9000).unwrap()).name;
            assert!(of_the_goal == kind.name || kind.name == "balance");
            for field in kind.fields {
                let mut wrong = right.clone();
                wrong.insert(field.name.to_owned(), samples(field.sort, &f).1);
                assert_eq!(kind.goal(&f.house, &wrong, 9000).unwrap_err().field, field.name, "{}", kind.name);
                wrong.remove(field.name);
                let left_out = kind.goal(&f.house, &wrong, 9000);
                let needed = field.required && field.usual.is_empty();
                assert_eq!(left_out.is_err(), needed, "{} without {}: {left_out:?}", kind.name, field.name);
                let usual = of(json!({ field.name: field.usual }));
                let answers = Answers { house: &f.house, of: &usual, fields: kind.fields, first: 1 };
                assert!(field.usual.is_empty() || answers.check(field, &json!(field.usual)).is_ok(), "{}", field.name);
                let of_another = field.unless.and_then(|(name, _)| kind.fields.iter().find(|f| f.name == name));
                assert!(field.unless.is_none() || of_another.is_some());
            }
            let mut more = right.clone();
            more.insert("colour".to_owned(), json!("green"));
            assert_eq!(kind.goal(&f.house, &more, 9000).unwrap_err().field, "colour");
        }
        assert_eq!(kind("kiln").unwrap_err().field, "kind");
        let half = kind("makeup").unwrap().goal(&f.house, &of(json!({ "spaces": 30.5 })), 9000);
        assert_eq!(half.unwrap_err().field, "spaces", "no space is lost unsaid");
    }

    #[test]
    fn a_new_circuit_is_named_and_numbered_by_the_room() {
        let mut f = Fixture::new(12);
        let room = f.room("Bakehouse annex");
        f.point("B4", room, crate::house::PointKind::Light);
        let answers = of(json!({ "room": room.0, "name": " second deck oven ", "watts": 9600, "neutral": false }));
        let goal = kind("dedicated").unwrap().goal(&f.house, &answers, 9000).unwrap();
        let new = goal.new_circuits().next().unwrap();
        assert_eq!((new.point.tag.as_str(), new.point.name.as_str()), ("B5", "second deck oven"));
        assert_eq!(
            new.point.volts,
            Some(crate::base::units::NominalVolts::V240),
            "what a large thing is usually made for"
        );
        assert_eq!((new.breaker.0, new.circuit.0, new.point.id.0), (9000, 9001, 9002));
        let plain = kind("add").unwrap().goal(&f.house, &of(json!({ "room": room.0 })), 9000).unwrap();
        let new = plain.new_circuits().next().unwrap();
        assert_eq!((&new.load, new.point.kind), (&None, crate::house::PointKind::Receptacle), "outlets of general use");
    }
}
