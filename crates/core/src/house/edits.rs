//! Edits of single things: what a change came to. They are what a store writes, what undo turns round, what two devices are
//! compared by, and what the steps of a job make true.

use std::collections::BTreeSet;

use serde::de::DeserializeOwned;
use serde::{Deserialize, Serialize};
use serde_json::Value;
use utoipa::ToSchema;

use super::{About, House, Step, things};
use crate::base::Invalid;
use crate::base::table::{Entity, Table};

/// A thing before and after; absent before it was added, absent after it was taken out.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
pub struct Swap<T> {
    /// As it was.
    pub before: Option<T>,
    /// As it became.
    pub after: Option<T>,
}

impl<T> Swap<T> {
    fn invert(self) -> Self {
        Self { before: self.after, after: self.before }
    }

    fn either(&self) -> Option<&T> {
        self.after.as_ref().or(self.before.as_ref())
    }
}

/// A thing kept in one of the house's tables, with the words for it.
pub(crate) trait Thing: Entity + Clone + PartialEq {
    /// What people call it.
    const WORD: &'static str;

    /// Its number, for messages.
    fn number(id: Self::Id) -> u64;

    /// The table it is kept in.
    fn table(house: &House) -> &Table<Self>
    where
        Self: Sized;

    /// The edit of one of them.
    fn edit(swap: Swap<Self>) -> Edit
    where
        Self: Sized;
}

macro_rules! edits {
    ($($(#[$attr:meta])* $table:ident: $thing:ident, $id:ident, $word:literal
        => $field:ident [$($put:tt)*] [$($remove:tt)*];)*) => {
        /// A change of a single thing.
        #[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
        #[serde(tag = "thing", rename_all = "kebab-case")]
        #[allow(clippy::large_enum_variant, reason = "a change comes to a handful of edits that do not live long")]
        pub enum Edit {
            /// Name and settings.
            About(Swap<About>),
            $(#[doc = concat!("One ", $word, ".")] $thing(Swap<super::$thing>),)*
            /// The step under way.
            Step(Swap<Step>),
        }

        /// The single thing that an edit touches.
        #[derive(Debug, Clone, Copy, PartialEq, Eq, PartialOrd, Ord, Serialize, Deserialize, ToSchema)]
        #[serde(tag = "thing", content = "id", rename_all = "kebab-case")]
        pub enum Subject {
            /// Name and settings.
            About,
            $(#[doc = concat!("One ", $word, ".")] $thing(super::$id),)*
            /// The step under way.
            Step,
        }

        impl Edit {
            /// The edit that takes this one back.
            #[must_use]
            pub fn invert(self) -> Self {
                match self {
                    Self::About(s) => Self::About(s.invert()),
                    $(Self::$thing(s) => Self::$thing(s.invert()),)*
                    Self::Step(s) => Self::Step(s.invert()),
                }
            }

            /// What it touches; nothing for an edit from nothing to nothing.
            #[must_use]
            pub fn subject(&self) -> Option<Subject> {
                match self {
                    Self::About(s) => s.either().map(|_| Subject::About),
                    $(Self::$thing(s) => s.either().map(|x| Subject::$thing(x.id)),)*
                    Self::Step(s) => s.either().map(|_| Subject::Step),
                }
            }

            /// The house's table that its thing is kept in, as the house file names it.
            #[must_use]
            pub fn table(&self) -> &'static str {
                match self {
                    Self::About(_) => "about",
                    $(Self::$thing(_) => stringify!($table),)*
                    Self::Step(_) => "step",
                }
            }

            /// Both as one, where they are of the same thing.
            fn then(&self, later: &Self) -> Option<Self> {
                if self.subject() != later.subject() {
                    return None;
                }
                match (self.clone(), later.clone()) {
                    (Self::About(a), Self::About(b)) => Some(Self::About(Swap { before: a.before, after: b.after })),
                    $((Self::$thing(a), Self::$thing(b)) => Some(Self::$thing(Swap { before: a.before, after: b.after })),)*
                    (Self::Step(a), Self::Step(b)) => Some(Self::Step(Swap { before: a.before, after: b.after })),
                    _ => None,
                }
            }

            /// True where it changes nothing.
            pub(crate) fn is_idle(&self) -> bool {
                match self {
                    Self::About(s) => s.before == s.after,
                    $(Self::$thing(s) => s.before == s.after,)*
                    Self::Step(s) => s.before == s.after,
                }
            }

            /// Makes it in a house.
            pub(crate) fn make(&self, house: &mut House) {
                match self.clone() {
                    Self::About(Swap { after, .. }) => house.about = after.unwrap_or_else(|| house.about.clone()),
                    $(Self::$thing(s) => swap_in(&mut house.$table, s),)*
                    Self::Step(s) => house.step = s.after,
                }
            }

            /// Checks that its thing stands as it was before the edit.
            ///
            /// # Errors
            /// Where it does not: it was changed again since.
            pub(crate) fn expect_before(&self, house: &House) -> Result<(), Invalid> {
                let as_it_was = match self {
                    Self::About(s) => s.before.as_ref() == Some(&house.about),
                    $(Self::$thing(s) => stands(&house.$table, s),)*
                    Self::Step(s) => s.before == house.step,
                };
                if as_it_was {
                    return Ok(());
                }
                Err(Invalid::new("revision", "what this would take back has been changed again since"))
            }

            /// The same edit of its thing as that stands now: what else was changed of it since stays.
            ///
            /// # Errors
            /// Where the very thing that it changes was changed since.
            pub(crate) fn onto(&self, house: &House) -> Result<Self, Invalid> {
                match self {
                    Self::About(_) | Self::Step(_) => self.expect_before(house).map(|()| self.clone()),
                    $(Self::$thing(s) => onto(&house.$table, s).map(Self::$thing),)*
                }
            }
        }

        $(impl Thing for super::$thing {
            const WORD: &'static str = $word;

            fn number(id: super::$id) -> u64 {
                id.0
            }

            fn table(house: &House) -> &Table<Self> {
                &house.$table
            }

            fn edit(swap: Swap<Self>) -> Edit {
                Edit::$thing(swap)
            }
        })*
    };
}
things!(edits);

fn swap_in<T: Entity>(table: &mut Table<T>, swap: Swap<T>) {
    match (swap.before, swap.after) {
        (_, Some(after)) => table.put(after),
        (Some(before), None) => table.remove(before.id()),
        (None, None) => {}
    }
}

fn stands<T: Entity + PartialEq>(table: &Table<T>, swap: &Swap<T>) -> bool {
    let id = swap.either().map(Entity::id);
    id.is_some_and(|id| table.get(id) == swap.before.as_ref())
}

/// Of which field it does not matter how it stands meanwhile: whoever carries an edit out moves handles on the way.
const MOVES_MEANWHILE: &str = "handle";

fn onto<T>(table: &Table<T>, swap: &Swap<T>) -> Result<Swap<T>, Invalid>
where
    T: Thing + Serialize + DeserializeOwned,
{
    let clash = |what: &str| Invalid::new("revision", format!("{}: {what}", T::WORD));
    let now = swap.either().and_then(|thing| table.get(thing.id())).cloned();
    let after = match (&swap.before, &swap.after, &now) {
        (None, Some(_), Some(_)) => return Err(clash("there is already one with its id")),
        (Some(_), Some(_), None) => return Err(clash("it was taken out")),
        (Some(before), Some(after), Some(now)) => Some(with_fields(before, after, now).map_err(|what| clash(&what))?),
        (_, after, _) => after.clone(),
    };
    Ok(Swap { before: now, after })
}

/// A thing as it stands now with the fields changed that differ between before and after.
fn with_fields<T: Serialize + DeserializeOwned>(before: &T, after: &T, now: &T) -> Result<T, String> {
    let value = |thing: &T| serde_json::to_value(thing).map_err(|e| e.to_string());
    let (before, mut after, now) = (value(before)?, value(after)?, value(now)?);
    if let (Value::Object(before), Value::Object(after), Value::Object(now)) = (&before, &mut after, &now) {
        let fields: BTreeSet<String> =
            [before.keys(), now.keys()].into_iter().flatten().chain(after.keys()).cloned().collect();
        for field in fields {
            let (was, to, is) = (before.get(&field), after.get(&field), now.get(&field));
            if was == to {
                match is.cloned() {
                    Some(is) => after.insert(field, is),
                    None => after.remove(&field),
                };
            } else if is != was && is != to && field != MOVES_MEANWHILE {
                return Err(format!("its {} was changed", field.replace('_', " ")));
            }
        }
    }
    serde_json::from_value(after).map_err(|e| e.to_string())
}

/// The edits that take these back, in the order to apply them.
#[must_use]
pub fn invert(edits: Vec<Edit>) -> Vec<Edit> {
    edits.into_iter().rev().map(Edit::invert).collect()
}

/// What edits come to, each thing once: as it was before all, and as it is after.
#[must_use]
pub fn in_all(edits: &[Edit]) -> Vec<Edit> {
    let mut all: Vec<Edit> = Vec::new();
    for edit in edits {
        match all.iter_mut().find_map(|first| first.then(edit).map(|both| (first, both))) {
            Some((first, both)) => *first = both,
            None => all.push(edit.clone()),
        }
    }
    all.retain(|edit| !edit.is_idle());
    all
}

/// What a list of edits touches.
#[must_use]
pub fn subjects(edits: &[Edit]) -> BTreeSet<Subject> {
    edits.iter().filter_map(Edit::subject).collect()
}
