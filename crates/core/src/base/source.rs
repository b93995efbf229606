//! Where a rule or a figure stands.

use std::fmt;

use serde::{Serialize, Serializer};

/// Where a rule stands. Local code decides; all of it is quoted from memory.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum Source {
    /// A published standard, its articles and its edition.
    Published(&'static str, &'static str, u16),
    /// A rule that stands otherwise in the house's country: what is said of that, and where another code has it.
    Elsewhere(&'static str, &'static str, u16),
    /// What a word means.
    Definition(&'static str),
    /// Common practice.
    Practice,
}

impl fmt::Display for Source {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        match self {
            Self::Published(standard, articles, edition) => write!(f, "{standard} {articles} ({edition}, from memory)"),
            Self::Elsewhere(here, articles, edition) => {
                write!(f, "{here} (US: NEC {articles}, {edition}, from memory)")
            }
            Self::Definition(of) => write!(f, "definition of {of}"),
            Self::Practice => f.write_str("common practice"),
        }
    }
}

/// The NEC, in the edition that this is quoted from.
pub(crate) const fn nec(articles: &'static str) -> Source {
    Source::Published("NEC", articles, 2023)
}

/// As people read it.
impl Serialize for Source {
    fn serialize<S: Serializer>(&self, serializer: S) -> Result<S::Ok, S::Error> {
        serializer.collect_str(self)
    }
}
