//! What pages take from the core as it is: the words of closed lists, and what is usual. It is written beside the web's
//! types, so that none of it is said twice.

use std::collections::BTreeMap;

use serde::{Serialize, Serializer};
use wayfinder_core::answers::diagnose::Sign;
use wayfinder_core::answers::reset::LOOK_FOR;
use wayfinder_core::base::Said;
use wayfinder_core::directory::TagKind;
use wayfinder_core::house::{
    Crew, Device, Fault, Habit, Instrument, Joined, LoadKind, Method, Outcome, Pace, Saw, School, Seen, Stage,
    TripManner, Way,
};
use wayfinder_core::job::{CostClass, IDS, Kind, MOST_JOBS, kinds};
use wayfinder_core::load::round::COVER_OFF;
use wayfinder_core::load::suspect::Complains;
use wayfinder_core::rules::as_found::LookWhere;
use wayfinder_core::rules::{Severity, Who};
use wayfinder_core::trace::{HintKind, Status};
use wayfinder_core::words::mind::Mind;

/// The codes of one list, each with its words, in the order in which they are offered.
#[derive(Debug)]
struct List(Vec<(String, &'static str)>);

impl Serialize for List {
    fn serialize<S: Serializer>(&self, serializer: S) -> Result<S::Ok, S::Error> {
        serializer.collect_map(self.0.iter().map(|(code, words)| (code, words)))
    }
}

fn list<T: Said + Serialize>() -> List {
    let code = |value: &T| Some((serde_json::to_value(value).ok()?.as_str()?.to_owned(), value.said()));
    List(T::ALL.iter().filter_map(code).collect())
}

/// What pages take from the core.
#[derive(Debug, Serialize)]
pub struct ForPages {
    /// Every list that a page shows or offers, by the name that its type has in the API.
    words: BTreeMap<&'static str, List>,
    /// The crew of whoever has not said otherwise.
    usual_crew: Crew,
    /// How a tripped breaker is found.
    look_for: &'static str,
    /// What is said before a clamp is held anywhere.
    cover_off: &'static str,
    /// Kinds of job, with what each asks,
    kinds: &'static [&'static Kind],
    /// ids that each takes for what it makes new,
    ids_of_job: u64,
    /// and how many one shutdown takes at the most.
    most_jobs: usize,
}

/// What pages take from the core.
#[must_use]
pub fn for_pages() -> ForPages {
    let words = BTreeMap::from([
        ("Complains", list::<Complains>()),
        ("CostClass", list::<CostClass>()),
        ("Device", list::<Device>()),
        ("Fault", list::<Fault>()),
        ("Habit", list::<Habit>()),
        ("Instrument", list::<Instrument>()),
        ("HintKind", list::<HintKind>()),
        ("Joined", list::<Joined>()),
        ("LoadKind", list::<LoadKind>()),
        ("LookWhere", list::<LookWhere>()),
        ("Method", list::<Method>()),
        ("Mind", list::<Mind>()),
        ("Outcome", list::<Outcome>()),
        ("Pace", list::<Pace>()),
        ("Seen", list::<Seen>()),
        ("Saw", list::<Saw>()),
        ("School", list::<School>()),
        ("Severity", list::<Severity>()),
        ("Sign", list::<Sign>()),
        ("TripManner", list::<TripManner>()),
        ("Stage", list::<Stage>()),
        ("Status", list::<Status>()),
        ("TagKind", list::<TagKind>()),
        ("Way", list::<Way>()),
        ("Who", list::<Who>()),
    ]);
    ForPages {
        words,
        usual_crew: Crew::default(),
        look_for: LOOK_FOR,
        cover_off: COVER_OFF,
        kinds: kinds(),
        ids_of_job: IDS,
        most_jobs: MOST_JOBS,
    }
}
