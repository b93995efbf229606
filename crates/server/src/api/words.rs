//! The words of closed lists, for the page: made once in the core, written beside the web's types, shown there as they are.

use std::collections::BTreeMap;

use serde::{Serialize, Serializer};
use wayfinder_core::answers::diagnose::Sign;
use wayfinder_core::answers::shutdown::Mind;
use wayfinder_core::base::Said;
use wayfinder_core::house::{Device, Fault, Method, Pace, Seen, Way};
use wayfinder_core::trace::{HintKind, Status};

/// The codes of one list, each with its words, in the order in which they are offered.
#[derive(Debug)]
pub struct List(Vec<(String, &'static str)>);

impl Serialize for List {
    fn serialize<S: Serializer>(&self, serializer: S) -> Result<S::Ok, S::Error> {
        serializer.collect_map(self.0.iter().map(|(code, words)| (code, words)))
    }
}

fn list<T: Said + Serialize>() -> List {
    let code = |value: &T| Some((serde_json::to_value(value).ok()?.as_str()?.to_owned(), value.said()));
    List(T::ALL.iter().filter_map(code).collect())
}

/// Every list that a page shows or offers, by the name that its type has in the API.
#[must_use]
pub fn words() -> BTreeMap<&'static str, List> {
    BTreeMap::from([
        ("Device", list::<Device>()),
        ("Fault", list::<Fault>()),
        ("HintKind", list::<HintKind>()),
        ("Method", list::<Method>()),
        ("Mind", list::<Mind>()),
        ("Pace", list::<Pace>()),
        ("Seen", list::<Seen>()),
        ("Sign", list::<Sign>()),
        ("Status", list::<Status>()),
        ("Way", list::<Way>()),
    ])
}
