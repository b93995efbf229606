//! The words of labels: what people write on a panel and what they mean by it.
//!
//! Common practice throughout: abbreviations seen on panel doors, no source.

use std::collections::{BTreeMap, BTreeSet};
use std::sync::LazyLock;

/// What a word is about.
#[derive(Debug, Clone, Copy, PartialEq, Eq, PartialOrd, Ord)]
pub enum Sense {
    /// A kind of point: lights, receptacles.
    Kind,
    /// A thing: range, dryer.
    Thing,
    /// A room.
    Room,
    /// Nothing there.
    Spare,
    /// Any other word, taken as it is.
    Other,
}

/// A word in its plain form, with its sense.
#[derive(Debug, Clone, PartialEq, Eq, PartialOrd, Ord)]
pub struct Word {
    /// What it is about.
    pub sense: Sense,
    /// Its plain form.
    pub plain: String,
}

const SENSES: &[(Sense, &[&[&str]])] = &[
    (
        Sense::Kind,
        &[
            &["light", "lights", "lighting", "lts", "lt", "ltg", "lamp", "lamps"],
            &[
                "receptacle",
                "receptacles",
                "recept",
                "recepts",
                "rec",
                "recs",
                "outlet",
                "outlets",
                "plug",
                "plugs",
                "socket",
                "sockets",
            ],
        ],
    ),
    (
        Sense::Thing,
        &[
            &["range", "stove", "deck oven", "oven", "wall oven", "cooker"],
            &["range hood", "hood", "vent hood"],
            &["cooktop", "hob"],
            &["dryer", "clothes dryer"],
            &["washer", "washing machine", "clothes washer", "wash"],
            &["water heater", "hot water", "hot water heater", "wh", "hwh", "boiler tank"],
            &["air conditioner", "ac", "a c", "air cond", "condenser", "heat pump", "outdoor unit"],
            &["furnace", "boiler", "air handler", "blower"],
            &["heat strips", "strip heat", "aux heat"],
            &["baseboard", "baseboards", "heater", "heaters", "wall heater"],
            &["car charger", "charger", "ev", "evse", "ev charger"],
            &["well pump", "pump", "well"],
            &["sump pump", "sump"],
            &["refrigerator", "fridge", "refrig", "ref", "icebox"],
            &["freezer"],
            &["dishwasher", "dish washer", "dw", "dish"],
            &["disposer", "disposal", "disp", "garbage disposal"],
            &["microwave", "micro", "mw"],
            &["smoke alarm", "smoke alarms", "smoke", "smokes", "smoke detector", "smoke detectors", "alarm"],
            &["doorbell transformer", "doorbell", "bell transformer", "chime"],
            &["door opener", "garage door opener", "garage door", "opener"],
            &["fan", "exhaust fan", "bath fan"],
            &["kiln"],
            &["toaster"],
            &["kettle"],
            &["hair dryer", "hairdryer"],
            &["window unit"],
            &["sub panel", "subpanel", "feeder"],
        ],
    ),
    (
        Sense::Room,
        &[
            &["kitchen", "kit", "kitch", "ktchn"],
            &["bathroom", "bath", "ba", "bathrm", "washroom", "toilet", "wc"],
            &["bedroom", "bed", "br", "bdrm", "bedrm", "bed rm"],
            &["living room", "living", "lr", "liv rm", "living rm"],
            &["dining room", "dining", "dr", "din rm"],
            &["family room", "family", "fam rm", "den"],
            &["garage", "gar", "grg"],
            &["basement", "bsmt", "cellar", "basmt"],
            &["laundry", "ldry", "lndry", "utility"],
            &["hall", "hallway", "corridor", "passage"],
            &["outside", "outdoor", "outdoors", "exterior", "ext", "yard", "porch", "patio"],
            &["office", "study"],
            &["attic", "loft"],
            &["closet"],
        ],
    ),
    (Sense::Spare, &[&["spare", "unused", "empty", "not used", "nothing"]]),
];

/// Words that tell nothing by themselves.
const SILENT: &[&str] = &[
    "the", "and", "of", "in", "on", "at", "to", "by", "for", "with", "room", "rm", "misc", "general", "gen", "all",
    "side", "wall", "ceiling",
];

const LONGEST_PHRASE: usize = 3;

/// The plain words of a text. Phrases win over their parts: `hot water` is one word.
#[must_use]
pub fn words(text: &str) -> BTreeSet<Word> {
    let lower = text.to_lowercase();
    let parts: Vec<&str> = lower.split(|c: char| !c.is_alphanumeric()).filter(|p| !p.is_empty()).collect();
    let mut found = BTreeSet::new();
    let mut i = 0;
    while i < parts.len() {
        let known = (1..=LONGEST_PHRASE.min(parts.len() - i))
            .rev()
            .find_map(|n| look_up(&parts[i..i + n].join(" ")).map(|word| (n, word)));
        match known {
            Some((n, word)) => {
                found.insert(word);
                i += n;
            }
            None => {
                if parts[i].len() > 2 && !SILENT.contains(&parts[i]) && !parts[i].bytes().all(|b| b.is_ascii_digit()) {
                    found.insert(Word { sense: Sense::Other, plain: singular(parts[i]) });
                }
                i += 1;
            }
        }
    }
    found
}

/// Words for people by what they are to whoever wrote them. (common practice)
const KIN: &[&str] =
    &["mom", "mum", "dad", "kid", "kids", "boys", "girls", "son", "daughter", "grandma", "grandpa", "mother", "father"];

/// True for what says by a person what it is: `Anna's room`, `kids' bath`. A use that changes with who lives there tells the next
/// person nothing. [pub: NEC 408.4(A), value from memory]
#[must_use]
pub fn names_person(text: &str) -> bool {
    let lower = text.to_lowercase().replace('\u{2019}', "'");
    lower.split(|c: char| c.is_whitespace() || matches!(c, '/' | ',' | ';' | '(' | ')' | '-')).any(|word| {
        let bare = word.trim_matches('\'');
        let owner = bare.strip_suffix("'s").or_else(|| word.strip_suffix("s'"));
        KIN.contains(&bare)
            || owner.is_some_and(|owner| look_up(owner).is_none() && owner.chars().all(char::is_alphabetic))
    })
}

/// Each phrase that is known, with the sense that comes first and the plain word of its group.
static KNOWN: LazyLock<BTreeMap<&str, (Sense, &str)>> = LazyLock::new(|| {
    let mut known = BTreeMap::new();
    for (sense, groups) in SENSES {
        for group in *groups {
            group.iter().for_each(|phrase| {
                known.entry(*phrase).or_insert((*sense, group[0]));
            });
        }
    }
    known
});

fn look_up(phrase: &str) -> Option<Word> {
    KNOWN.get(phrase).map(|(sense, plain)| Word { sense: *sense, plain: (*plain).to_owned() })
}

fn singular(word: &str) -> String {
    word.strip_suffix('s').filter(|w| w.len() > 2).unwrap_or(word).to_owned()
}

#[cfg(test)]
mod tests {
    use super::*;

    fn plain(text: &str) -> Vec<String> {
        words(text).into_iter().map(|w| w.plain).collect()
    }

    #[test]
    fn abbreviations_and_phrases_come_to_one_plain_word() {
        assert_eq!(plain("KIT. LTS"), plain("Kitchen lights"));
        assert_eq!(plain("Fridge"), ["refrigerator"]);
        assert_eq!(plain("hot water"), ["water heater"]);
        assert_eq!(plain("A/C"), ["air conditioner"]);
        assert_eq!(plain("BR 2 plugs"), ["receptacle", "bedroom"]);
    }

    #[test]
    fn unknown_words_stay_and_silent_ones_go() {
        assert_eq!(plain("the bell tower in 3"), ["bell", "tower"]);
        assert!(plain("").is_empty() && plain("-- / 12").is_empty());
    }

    // NEC 408.4(A), from memory: nothing that depends on transient conditions of occupancy.
    #[test]
    fn what_is_named_after_a_person_is_told_from_what_is_not() {
        for person in
            ["Anna's room", "ANNA\u{2019}S BR", "kids bath", "Girls' room", "mom/dad bedroom", "the Smiths' loft"]
        {
            assert!(names_person(person), "{person}");
        }
        for place in ["Bedroom north", "Kitchen's counter", "dryer's outlet", "glass case", "hall lts", "'70s wing", ""]
        {
            assert!(!names_person(place), "{place}");
        }
    }

    #[test]
    fn no_phrase_stands_for_two_things() {
        let mut seen = BTreeSet::new();
        for phrase in SENSES.iter().flat_map(|(_, groups)| groups.iter().copied().flatten()) {
            assert!(seen.insert(phrase), "{phrase} twice");
            assert!(phrase.split(' ').count() <= LONGEST_PHRASE, "{phrase} is never found");
        }
    }
}
