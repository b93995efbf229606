//! Words that become shorter where space is short, by one rule for the card and the panel's face.

/// Whole words, as electricians write them (common practice).
const ABBREVIATIONS: &[(&str, &str)] = &[
    ("receptacles", "recs"),
    ("receptacle", "rec"),
    ("lights", "lts"),
    ("light", "lt"),
    ("kitchen", "kit"),
    ("bathroom", "bath"),
    ("bedroom", "bedrm"),
    ("dishwasher", "dishw"),
    ("refrigerator", "refr"),
    ("microwave", "micro"),
    ("transformer", "xfmr"),
    ("appliance", "appl"),
    ("outside", "outs"),
    ("basement", "bsmt"),
    ("garage", "gar"),
    ("laundry", "ldry"),
    ("conditioner", "cond"),
    ("ceiling", "clg"),
    ("old label:", "was:"),
    ("(not proven)", ""),
];

/// A text with its long words abbreviated.
#[must_use]
pub fn abbreviated(text: &str) -> String {
    ABBREVIATIONS
        .iter()
        .fold(text.to_owned(), |text, (long, short)| text.replace(long, short).replace(&capital(long), &capital(short)))
}

/// With a capital letter.
#[must_use]
pub fn capital(text: &str) -> String {
    let mut letters = text.chars();
    letters.next().map_or_else(String::new, |first| first.to_uppercase().chain(letters).collect())
}

/// With a small one.
#[must_use]
pub fn lower(text: &str) -> String {
    let mut letters = text.chars();
    letters.next().map_or_else(String::new, |first| first.to_lowercase().chain(letters).collect())
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn long_words_are_abbreviated_with_their_capitals() {
        assert_eq!(abbreviated("Kitchen receptacles, ceiling light"), "Kit recs, clg lt");
        assert_eq!(abbreviated("? Hall (not proven)").trim(), "? Hall");
        assert_eq!(capital("dishwasher"), "Dishwasher");
        assert_eq!(lower("Breaker Main 3"), "breaker Main 3");
    }
}
