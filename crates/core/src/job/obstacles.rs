//! What stands against a plan beside the rules of houses (`crate::rules`): the one list, each with where it stands and what would be
//! possible instead. A rule that a kind sees broken before the house after is worked out is said in the rule's own name.

use crate::base::{Source, nec};
use crate::rules::Rule;

/// What stands against a plan.
#[derive(Debug, Clone, Copy, PartialEq)]
pub(super) struct Obstacle {
    /// A short name.
    pub id: &'static str,
    /// Where it stands; local code decides.
    pub source: Source,
    /// What would be possible instead; nothing where the plan is empty.
    pub instead: &'static str,
    /// The kind of job that this would be, where it is one.
    pub job: Option<&'static str>,
}

impl From<&'static Rule> for Obstacle {
    fn from(rule: &'static Rule) -> Self {
        Self { id: rule.id, source: rule.source, instead: rule.cure, job: rule.job }
    }
}

const fn one_of(jobs: &[&'static str]) -> Option<&'static str> {
    if let [job] = jobs { Some(*job) } else { None }
}

macro_rules! obstacles {
    ($($name:ident = $id:literal, $source:expr, $instead:expr $(=> $job:literal)?;)*) => {
        $(pub(super) const $name: Obstacle =
            Obstacle { id: $id, source: $source, instead: $instead, job: one_of(&[$($job)?]) };)*

        #[cfg(test)]
        const OBSTACLES: &[Obstacle] = &[$($name),*];
    };
}

const PRACTICE: Source = Source::Practice;
const RECORD: Source = Source::Definition("the record");
const JOB: Source = Source::Definition("the job");
const SUB_PANEL: &str = "a sub-panel, or a panel with more spaces";
/// Instead of combining.
const ANOTHER: &str = "choose another circuit, or a tandem: there nothing is combined";

obstacles! {
    // Of every job.
    NO_DISCONNECT = "no-disconnect", PRACTICE, "find it, and enter it with the panel";
    DOES_NOT_FIT = "does-not-fit", RECORD, "choose another place or breaker";
    NOTHING_TO_DO = "nothing-to-do", RECORD, "";
    NOT_TRACED = "not-traced", PRACTICE, "trace it first";
    SHARED_NEUTRAL = "shared-neutral", nec("210.4, 300.13(B)"), "a new circuit" => "dedicated";

    ANOTHER_PANEL = "another-panel", JOB, "plan it as a job of its own, before or after";

    IN_A_BOX = "in-a-box", JOB, "do it before or after, with just its own breakers off";

    // Room.
    NO_ROOM = "no-room", PRACTICE, SUB_PANEL => "sub-panel";
    NO_WAY = "no-way", PRACTICE, SUB_PANEL => "sub-panel";
    NO_ROOM_FOR_FEEDER = "no-room-for-feeder", PRACTICE, "name a circuit that moves over, or leave fewer as they are";
    TOO_FEW_SPACES = "too-few-spaces", PRACTICE, "a panel with more spaces, and some to spare" => "sub-panel";
    SUPPLY = "supply", JOB, "enter the panel's supply or feeder first";

    // A new circuit.
    NAMEPLATE = "nameplate", nec("440.4(B), 240.6(A)"), "minimum circuit ampacity, then the largest breaker";
    NO_THREE_PHASE = "no-three-phase", Source::Definition("the supply"), "a thing of one phase, or a panel with three legs";
    NO_WIRE = "no-wire", nec("310.16"), "an electrician plans that";
    SERVICE = "service", nec("220"), "make room in the service first: Loads, Room for more";
    FEEDER = "feeder", nec("215.2, 215.3, 408.36"), "a place in the panel that feeds it, or a larger feeder";

    INNER_PAIR = "inner-pair", nec("408.54, 110.3(B)"), "a two-pole that the quad's maker lists for its middle";
    NOT_ALIKE = "not-alike", nec("110.3(B), 240.4"), "a new one of the listed type" => "replace";
    HAS_A_WIRE = "has-a-wire", PRACTICE, "look at its terminals with the cover off, and say what is on them";

    // Plugged in elsewhere.
    NO_PLUG = "no-plug", PRACTICE, "a circuit of its own" => "dedicated";
    OTHER_OUTLET = "other-outlet", nec("406.4(F)"), "an outlet of the same voltage";
    SAME_CIRCUIT = "same-circuit", Source::Definition("the circuit"), "an outlet of another circuit";
    FULL_CIRCUIT = "full-circuit", PRACTICE, "an outlet of a circuit with more to spare, or a circuit of its own";

    // Combining two.
    ONE_POLE = "one-pole", PRACTICE, ANOTHER => "tandem";
    PLAIN = "plain", PRACTICE, ANOTHER => "tandem";
    PUMP = "pump", PRACTICE, ANOTHER => "tandem";
    FIRE_ALARM = "fire-alarm", nec("760.41(B), 760.121(B)"), ANOTHER => "tandem";
    HEATING_ALONE = "heating-alone", nec("422.12"), ANOTHER => "tandem";
    SMALL_APPLIANCE = "small-appliance", nec("210.11(C)(1), 210.52(B)"), ANOTHER => "tandem";
    BATHROOM = "bathroom", nec("210.11(C)(3)"), ANOTHER => "tandem";
    LAUNDRY = "laundry", nec("210.11(C)(2)"), ANOTHER => "tandem";
    GARAGE = "garage", nec("210.11(C)(4)"), ANOTHER => "tandem";
    DEDICATED = "dedicated", nec("110.3(B)"), ANOTHER => "tandem";
    SAME_WIRE = "same-wire", nec("110.14(A), 240.4(D)"), "choose two of the same wire";
    WIRE_NOT_KNOWN = "wire-not-known", nec("240.4(D)"), "look at the wires and enter them";
    EIGHTY_PERCENT = "eighty-percent", nec("210.20(A)"), "choose lighter ones";
    ONE_WIRE_TERMINAL = "one-wire-terminal", nec("110.14(A)"), "splice them: one wire goes to the terminal";

    // A tandem, half-size bodies.
    PLAIN_SINGLE = "plain-single", PRACTICE, "choose two plain single breakers";
    SAME_RATING = "same-rating", PRACTICE, "choose two of the same rating";
    HALF_OF_A_BODY = "half-of-a-body", nec("110.3(B), 408.7"), "leave it as a spare, off";
    PROTECTED_HALF = "protected-half", nec("110.3(B)"), "give it a whole space: rearrange, or protect at the first outlet of the circuit" => "rearrange";

    // Other voltage, protection, taking out.
    ONE_OUTLET = "one-outlet", nec("210.6"), "a new circuit for the one, or move the others to another circuit first" => "add";
    TWO_CONDUCTORS = "two-conductors", JOB, "a new cable" => "dedicated";
    NO_NEUTRAL = "no-neutral", nec("200.6(A)"), "a new cable with a white conductor" => "dedicated";
    AFCI_120 = "afci-120", nec("210.12"), "ground-fault alone";
    FEEDS_A_PANEL = "feeds-a-panel", PRACTICE, "retire that panel's circuits first, and say what feeds it";

    // In a box.
    STAYS_LIVE = "stays-live", PRACTICE, "an electrician finds what else feeds it";
    NOT_A_DEVICE = "not-a-device", RECORD, "say first what stands there, with the point";
    NO_GROUND = "no-ground", nec("406.4(D)(2)"), "a ground-fault device, marked; or a receptacle of two slots";
    PROTECTED_PLACE = "protected-place", nec("406.4(D)(3), 210.8"), "a ground-fault device there, or a breaker that protects" => "protect";

    // A generator.
    INTERLOCK = "interlock", nec("702.5, 408.36(D)"), "a transfer switch";
    NOT_AN_INLET = "not-an-inlet", RECORD, "a generator's inlet first" => "generator";
    NO_MAIN = "no-main", nec("702.5"), "the panel that has the main, or a transfer switch";
    WYE = "wye", Source::Definition("the supply"), "a generator made for 208Y/120 V on all legs, by an electrician";
    TOO_LARGE = "too-large", Source::Published("NEMA", "WD 6", 2016), "a transfer switch, by an electrician";
    TOO_MUCH = "too-much", PRACTICE, "carry fewer circuits, or not at once";
}

#[cfg(test)]
mod tests {
    use std::collections::BTreeSet;

    use super::*;
    use crate::audit::WIDER;
    use crate::rules::{RULES, Rule};

    fn rules() -> impl Iterator<Item = &'static Rule> {
        RULES.iter().copied().chain(WIDER.iter().map(|wide| wide.rule))
    }

    #[test]
    fn a_name_stands_for_one_obstacle_or_one_rule() {
        let ids: BTreeSet<&str> = OBSTACLES.iter().map(|o| o.id).chain(rules().map(|r| r.id)).collect();
        assert_eq!(ids.len(), OBSTACLES.len() + rules().count());
    }

    #[test]
    fn what_is_another_job_is_one_of_the_kinds() {
        let jobs: Vec<&str> = OBSTACLES.iter().filter_map(|o| o.job).chain(rules().filter_map(|r| r.job)).collect();
        assert!(jobs.len() > 10 && jobs.iter().all(|job| super::super::kind(job).is_ok()), "{jobs:?}");
    }

    #[test]
    fn each_says_what_is_possible_instead_but_where_there_is_nothing_to_do() {
        let silent: Vec<&str> = OBSTACLES.iter().filter(|o| o.instead.is_empty()).map(|o| o.id).collect();
        assert_eq!(silent, ["nothing-to-do"]);
    }
}
