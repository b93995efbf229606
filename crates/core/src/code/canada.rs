//! The Canadian code beside the US one: where a rule that is quoted by its NEC article stands in the CEC, Part I.
//!
//! All numbers from memory of the 2021 edition; what is not known is not guessed: then it is said that Canada has a rule of its own.

use crate::base::Source;

/// NEC articles by how they begin, and where the CEC has it. [pub: CEC Part I (2021), value from
/// memory]
const RULES: &[(&str, &str)] = &[
    ("110.3", "2-024"),
    ("110.11", "2-300"),
    ("110.12(A)", "12-3024"),
    ("110.12(B)", "2-300"),
    ("110.14", "12-116"),
    ("110.26", "2-308"),
    ("110.27", "2-202"),
    ("200.6", "4-032"),
    ("200.7", "4-032"),
    ("210.4", "14-010"),
    ("210.8", "26-704"),
    ("210.11", "26-722"),
    ("210.12", "26-658"),
    ("210.19", "8-104"),
    ("210.20", "8-104"),
    ("210.21", "26-700"),
    ("210.23", "8-104"),
    ("210.52", "26-722"),
    ("215.2", "8-104"),
    ("215.3", "8-104"),
    ("220", "8-200"),
    ("230.71", "6-200"),
    ("240.4", "14-104"),
    ("250.24", "10-210"),
    ("250.142", "10-210"),
    ("300.14", "12-3000"),
    ("310.16", "Table 2"),
    ("334.30", "12-510"),
    ("406.4", "26-700"),
    ("408.4", "2-100"),
    ("408.7", "12-3024"),
    ("408.36", "14-606"),
    ("408.38", "2-202"),
    ("422.12", "26-806"),
    ("424.4", "62-118"),
    ("430.22", "28-106"),
    ("430.52", "28-200"),
    ("440.4", "28-706"),
    ("625", "Section 86"),
    ("630", "Section 42"),
    ("680", "Section 68"),
    ("702.5", "14-612"),
    ("760", "Section 32"),
];

/// Its edition.
const EDITION: u16 = 2021;

/// Where the CEC has what an NEC article says.
#[must_use]
pub fn rule(article: &str) -> Option<&'static str> {
    let begins = |known: &str| {
        let rest = article.strip_prefix(known);
        rest.is_some_and(|rest| rest.is_empty() || rest.starts_with(['(', '.']))
    };
    RULES.iter().find(|(known, _)| begins(known)).map(|(_, rule)| *rule)
}

/// The same of several articles: each rule once.
fn rules(articles: &str) -> Vec<&'static str> {
    let mut all = Vec::new();
    for rule in articles.split([',', ' ']).filter_map(|article| rule(article.trim())) {
        if !all.contains(&rule) {
            all.push(rule);
        }
    }
    all
}

/// A source as it is told in a Canadian house.
#[must_use]
pub fn source(of: Source) -> Source {
    match of {
        Source::Published("NEC", articles, edition) => match rules(articles).as_slice() {
            [] => Source::Elsewhere("the CEC has a rule of its own", articles, edition),
            // The first is what the others go with.
            [first, ..] => Source::Published("CEC", first, EDITION),
        },
        other => other,
    }
}

/// A sentence as it is told in a Canadian house: articles of the NEC in it by where the CEC has them.
#[must_use]
pub fn text(of: &str) -> String {
    let mut out = String::new();
    let mut rest = of;
    while let Some(at) = rest.find("NEC ") {
        let named = &rest[at + "NEC ".len()..];
        let after = begins_with_articles(named);
        out += &rest[..at];
        out += &match rules(&named[..named.len() - after.len()]).join(", ") {
            none if none.is_empty() => "the CEC".to_owned(),
            found => format!("CEC {found}"),
        };
        rest = after;
    }
    out + rest
}

/// What follows the articles that a text begins with.
fn begins_with_articles(text: &str) -> &str {
    let mut rest = text;
    loop {
        let digits = rest.find(|c: char| !c.is_ascii_digit() && c != '.').unwrap_or(rest.len());
        let number = rest[..digits].trim_end_matches('.');
        if number.is_empty() {
            return rest;
        }
        let mut end = number.len();
        while rest[end..].starts_with('(') {
            let Some(close) = rest[end..].find(')').filter(|close| *close <= 5) else { break };
            end += close + 1;
        }
        rest = &rest[end..];
        match rest.strip_prefix(", ").or_else(|| rest.strip_prefix(" and ")) {
            Some(more) if more.starts_with(|c: char| c.is_ascii_digit()) => rest = more,
            _ => return rest,
        }
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::base::nec;

    // CEC Part I (2021), from memory: 26-704 ground fault, 26-658 arc fault, 8-104 continuous, 14-104 small wires, 28-706 cooling, 12-3024
    // openings, 2-202 live parts, 14-606 panelboards.
    #[test]
    fn rules_are_named_where_the_canadian_code_has_them() {
        for (article, of) in [
            ("210.8(A)", "26-704"),
            ("210.12", "26-658"),
            ("210.20(A)", "8-104"),
            ("240.4(D)", "14-104"),
            ("440.4(B)", "28-706"),
            ("110.12(A)", "12-3024"),
            ("110.27(A)", "2-202"),
            ("408.36(D)", "14-606"),
        ] {
            assert_eq!(rule(article), Some(of), "{article}");
        }
        assert_eq!((rule("210.80"), rule("408.41"), rule("2105")), (None, None, None), "not guessed");
        assert_eq!(source(nec("210.8(A), (D), (F)")).to_string(), "CEC 26-704 (2021, from memory)");
        let unknown = source(nec("408.41")).to_string();
        assert!(unknown.contains("the CEC has a rule of its own") && unknown.contains("408.41"), "{unknown}");
        assert_eq!(source(Source::Practice), Source::Practice);
    }

    #[test]
    fn sentences_speak_of_the_same_rules() {
        assert_eq!(text("One a hole (NEC 408.41)."), "One a hole (the CEC).");
        assert_eq!(text("Asked for (NEC 210.8(A), 210.12): so."), "Asked for (CEC 26-704, 26-658): so.");
        assert_eq!(text("NEC 110.26; common practice."), "CEC 2-308; common practice.");
        assert_eq!(text("Nothing of that sort."), "Nothing of that sort.");
        assert_eq!(text("It is (NEC 300.14, 250.148)."), "It is (CEC 12-3000).");
    }
}
