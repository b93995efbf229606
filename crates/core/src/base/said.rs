//! Closed lists of values that people read: the words of each are made once, here in the core, for pages and command
//! line alike.

/// A closed list of values with the words that people read for each.
pub trait Said: Copy + 'static {
    /// All of them, in the order in which they are offered.
    const ALL: &'static [Self];

    /// A few words, to stand within a sentence.
    #[must_use]
    fn said(self) -> &'static str;
}

/// Gives every value of a list its words: one that is left out does not compile.
macro_rules! said {
    ($list:ty { $($value:ident => $words:literal),+ $(,)? }) => {
        impl $crate::base::Said for $list {
            const ALL: &'static [Self] = &[$(Self::$value),+];

            fn said(self) -> &'static str {
                match self {
                    $(Self::$value => $words),+
                }
            }
        }
    };
}

pub(crate) use said;
