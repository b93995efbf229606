//! What a body that cannot be read is told: the field and what was expected there, in words.

/// What the types of the API are called by people.
const EXPECTED: &[(&str, &str)] = &[
    ("u8", "a whole number from 0 to 255"),
    ("u16", "a whole number from 0 to 65535"),
    ("u32", "a whole number, 0 or more"),
    ("u64", "a whole number, 0 or more"),
    ("i64", "a whole number"),
    ("f64", "a number"),
    ("a string", "text"),
    ("a boolean", "true or false"),
    ("a sequence", "a list"),
    ("a map", "an object"),
];

/// The field at fault, where the reader names one, and what is wrong with it.
pub fn told(text: &str) -> (Option<String>, String) {
    let plain = text.split_once("target type: ").map_or(text, |(_, rest)| rest);
    let plain = plain.rsplit_once(" at line ").map_or(plain, |(before, _)| before);
    let is_path = |path: &str| !path.is_empty() && !path.contains(' ') && !path.contains('`');
    let (field, what) = match plain.split_once(": ") {
        Some((path, what)) if is_path(path) => (Some(path.to_owned()), what),
        _ => (None, plain),
    };
    (field, in_words(what))
}

fn in_words(what: &str) -> String {
    let given = what.strip_prefix("invalid value: ").or_else(|| what.strip_prefix("invalid type: "));
    let Some((given, expected)) = given.and_then(|rest| rest.split_once(", expected ")) else { return what.to_owned() };
    let given = given.trim_start_matches("integer ").trim_start_matches("floating point ").replace('`', "");
    let expected = EXPECTED.iter().find(|(name, _)| *name == expected).map_or(expected, |(_, words)| *words);
    format!("{given} is given, {expected} is expected")
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn a_value_of_the_wrong_kind_is_told_by_its_field_and_in_words() {
        let read = |json: &str| serde_json::from_str::<Vec<u16>>(json).unwrap_err().to_string();
        let whole = |path: &str, json: &str| {
            told(&format!("Failed to deserialize the JSON body into the target type: {path}{}", read(json)))
        };
        let field = Some("panel.spaces".to_owned());
        let expected = "a whole number from 0 to 65535 is expected";
        assert_eq!(whole("panel.spaces: ", "[-3]"), (field.clone(), format!("-3 is given, {expected}")));
        assert_eq!(whole("panel.spaces: ", "[2.5]"), (field.clone(), format!("2.5 is given, {expected}")));
        assert_eq!(whole("panel.spaces: ", "[null]"), (field, format!("null is given, {expected}")));
        assert_eq!(whole("", "[true]").0, None);
        assert_eq!(told("missing field `name` at line 1 column 2"), (None, "missing field `name`".into()));
    }
}
