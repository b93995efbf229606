//! What mending takes: minutes of practised hands, and what is bought. (common practice)
//!
//! Nothing where a plan tells it, or where only whoever does it can say.

/// Minutes and parts by rule.
const TAKES: &[(&str, u32, &str)] = &[
    ("no-cover", 30, "the maker's own cover and its screws"),
    ("open-space", 5, "a closer listed for the panel"),
    ("blocked", 30, "nothing"),
    ("wrong-screws", 5, "the maker's cover screws, blunt"),
    ("loose-wire", 10, "a wire connector"),
    ("two-under", 30, "a short piece of wire and a connector"),
    ("two-neutrals", 20, "nothing, where the bar has a free screw"),
    ("rough-ends", 20, "nothing, where the wire is long enough"),
    ("other-makes", 30, "a breaker that the panel's label lists"),
    ("does-not-stay", 30, "a breaker of the same make, rating and poles"),
    ("no-hold-down", 20, "the panel's hold-down kit"),
    ("broken-plate", 10, "a plate; or an outlet of its rating"),
    ("ungrounded", 20, "a ground-fault outlet and its label"),
    ("open-neutral", 45, "wire connectors"),
    ("open-hot", 45, "wire connectors"),
    ("hot-ground", 15, "nothing"),
    ("hot-neutral", 15, "nothing"),
    ("scorched", 25, "an outlet of its rating, wire connectors"),
    ("loose", 20, "an outlet of its rating"),
    ("bad-breaker", 30, "a breaker of the same make, rating and poles"),
    ("failed-test", 30, "a ground-fault breaker of the same make, rating and poles"),
    ("failed-device", 25, "a ground-fault outlet of its rating"),
    ("ground-fault", 25, "a ground-fault outlet, or a breaker that protects the whole circuit"),
    ("arc-fault", 30, "an arc-fault breaker that the panel's label lists"),
    ("device-behind", 20, "a plain outlet"),
    ("not-listed", 30, "a breaker that the panel's label lists"),
    ("thin-wire", 30, "a breaker of the wire's rating"),
    ("light-rating", 30, "a breaker of the rating that it needs"),
    ("receptacle-rating", 20, "an outlet of the circuit's rating"),
    ("neutral-untied", 30, "a two-pole breaker, or a listed handle tie"),
    ("neutral-one-leg", 45, "a two-pole breaker"),
    ("uneven-legs", 60, "nothing"),
    ("neutral-astray", 90, "wire connectors"),
    ("hot-spot", 30, "a breaker of the same make, rating and poles"),
    ("feeds-nothing", 15, "nothing"),
    ("stale-card", 5, "a sheet of paper"),
    ("no-card", 5, "a sheet of paper"),
    ("wrong-label", 5, "a sheet of paper"),
    ("poor-labels", 5, "a sheet of paper"),
    ("names-person", 5, "nothing"),
    ("stale-plate", 5, "a label"),
];

/// In words: `about 5 min; a closer listed for the panel`.
pub(crate) fn takes(rule: &str) -> Option<String> {
    let (_, minutes, parts) = TAKES.iter().find(|(of, ..)| *of == rule)?;
    Some(if *parts == "nothing" { format!("about {minutes} min") } else { format!("about {minutes} min; {parts}") })
}

#[cfg(test)]
pub(crate) fn rules() -> impl Iterator<Item = &'static str> {
    TAKES.iter().map(|(rule, ..)| *rule)
}
