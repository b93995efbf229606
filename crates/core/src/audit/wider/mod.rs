//! What must not be, by what is believed, carried, measured and printed: more than a rule of things alone knows. One list, as
//! [`crate::rules`] has one of its own. (handbook 6)

mod mapped;
mod measured;
mod written;

use super::KnownHouse;
use crate::rules::{Entry, Facts, Hit, Rule, Scope, Severity, Source, Who, nec};

/// A rule that reads more than what is entered and what hangs where.
pub struct Wide {
    /// Its words.
    pub rule: &'static Rule,
    /// Looks for it.
    pub check: fn(&KnownHouse<'_>) -> Vec<Hit>,
}

macro_rules! wide {
    ($($name:ident: $module:ident::$check:ident of $scope:ident => {
        $id:literal, $title:literal, $severity:ident, $who:ident, $source:expr, $job:expr, cure $cure:literal
    })*) => {
        $(pub(crate) static $name: Rule = Rule {
            id: $id,
            title: $title,
            scope: Scope::$scope,
            severity: Severity::$severity,
            entry: Entry::Marked,
            source: $source,
            cure: $cure,
            job: $job,
            who: Who::$who,
            check: nothing,
        };)*

        /// Every one.
        pub static WIDER: &[Wide] = &[$(Wide { rule: &$name, check: $module::$check }),*];
    };
}

/// It is found by its own check.
fn nothing(_: &Facts<'_>) -> Vec<Hit> {
    Vec::new()
}

wide! {
    STAYS_LIVE: mapped::stays_live of Point => {
        "live-point", "A point that no breaker switches off", Danger, Licensed, Source::Practice, None,
        cure "nobody works there before an electrician has found what feeds it: another panel, a generator, the sun"
    }
    SERVICE: measured::service_volts of Panel => {
        "service-volts", "Service voltages that are not right", Danger, Utility, nec("110.4"), None,
        cure "the utility looks at its side first, then an electrician at the main"
    }
    VOLTS_BAND: measured::volts_band of Panel => {
        "volts-band", "Service voltages out of their band", Mend, Utility,
        Source::Published("ANSI C84.1", "Range B", 2020), None,
        cure "call the utility"
    }
    BAD_BREAKER: mapped::bad_breaker of Breaker => {
        "bad-breaker", "A breaker that somebody found bad", Mend, Qualified, Source::Practice, Some("replace"),
        cure "it stays off until it is replaced"
    }
    FAILED_TEST: measured::failed_test of Breaker => {
        "failed-test", "A ground-fault breaker that failed its test", Mend, Qualified, Source::Practice, Some("replace"),
        cure "it is replaced"
    }
    FAILED_DEVICE: measured::failed_device of Point => {
        "failed-device", "A ground-fault device that failed its test", Mend, Qualified, Source::Practice, Some("device"),
        cure "it is replaced"
    }
    OVERLOAD: measured::overload of Breaker => {
        "overload", "A circuit that carries too much", Mend, Anyone, nec("210.23"), Some("relieve"),
        cure "not all of it together; or a circuit of its own for what draws most"
    }
    UNEVEN: measured::uneven of Panel => {
        "uneven-legs", "Legs that carry unevenly", Improve, Qualified, Source::Practice, Some("rearrange"),
        cure "a breaker or two change their places"
    }
    STALE_CARD: written::stale_card of Panel => {
        "stale-card", "A card that is older than the panel", Improve, Anyone, nec("408.4(A)"), None,
        cure "print it anew"
    }
    NO_CARD: written::no_card of Panel => {
        "no-card", "A panel without a card", Improve, Anyone, nec("408.4(A)"), None,
        cure "trace what is left, then print its card"
    }
    WRONG_LABEL: written::wrong_label of Breaker => {
        "wrong-label", "An old label that the map disproves", Improve, Anyone, nec("408.4(A)"), None,
        cure "print the card, and take the old label off"
    }
    FED_BY_TWO: mapped::fed_by_two of Point => {
        "fed-by-two", "A point that two breakers feed", Mend, Licensed, nec("210.4, 210.7"), None,
        cure "switch both off before anybody works there; an electrician parts them, or ties their handles"
    }
    FEEDS_NOTHING: mapped::feeds_nothing of Breaker => {
        "feeds-nothing", "A breaker that feeds nothing found", Improve, Anyone, nec("408.4(A)"), None,
        cure "look for what is dead with it off; otherwise mark it as a spare, off"
    }
    OWN_CIRCUIT: mapped::own_circuit of Load => {
        "own-circuit", "A thing without the circuit of its own that it is asked to have", Improve, Qualified,
        nec("422.12, 422.16(B)(4)"), Some("dedicated"),
        cure "a circuit of its own; perhaps not asked for in its day"
    }
    SINK: mapped::sink of Breaker => {
        "sink-circuit", "Dishwasher and disposer together over their breaker", Mend, Qualified, nec("210.23, 422.10"),
        Some("relieve"),
        cure "a circuit for each, or one that carries both"
    }
    SERVICE_OVER: measured::service_over of Panel => {
        "service-over", "A service that is too small by reckoning", Mend, Licensed, nec("220, 230.42"), None,
        cure "an electrician reckons again, with the year's record; a larger service, or less on it"
    }
    LEG_OVER: measured::leg_over of Panel => {
        "leg-over", "A leg that carries more than its rating", Mend, Qualified, nec("215.3, 230.90"), Some("rearrange"),
        cure "not all of it together; breakers on another leg; or a larger feeder"
    }
    LONG_RUN: measured::long_run of Breaker => {
        "long-run", "More voltage lost on the way than is well", Improve, Qualified, nec("210.19(A) informational note"), None,
        cure "thicker wire, or a nearer circuit for what draws most"
    }
    HOT_SPOT: measured::hot_spot of Breaker => {
        "hot-spot", "A breaker hotter than its like", Mend, Qualified, Source::Published("ANSI/NETA MTS", "table 100.18", 2023),
        Some("replace"),
        cure "switched off; its lugs, terminal and bus are looked at"
    }
    NEUTRAL_ASTRAY: measured::neutral_astray of Breaker => {
        "neutral-astray", "A neutral that carries another circuit's current", Mend, Qualified, nec("300.3(B), 200.4"), None,
        cure "find where the neutrals of two circuits meet, and part them: with one circuit off, its neutral may be live"
    }
    POOR_LABELS: written::poor_labels of Panel => {
        "poor-labels", "Old labels that tell too little", Improve, Anyone, nec("408.4(A)"), None,
        cure "print the card: it says what the map knows"
    }
    NAMES_PERSON: written::names_a_person of Panel => {
        "names-person", "Names that change with who lives there", Improve, Anyone, nec("408.4(A)"), None,
        cure "call a room by its place: bedroom, north side"
    }
    STALE_PLATE: written::stale_plate of Point => {
        "stale-plate", "A label on a plate that is no longer so", Improve, Anyone, Source::Practice, None,
        cure "a new label, and the old one off"
    }
}
