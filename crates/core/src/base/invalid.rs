//! What is wrong with a value, and with which field.

use serde::Serialize;
use utoipa::ToSchema;

/// Why something cannot be: which field is at fault, and in the user's words what is wrong with it.
#[derive(Debug, Clone, PartialEq, Eq, thiserror::Error, Serialize, ToSchema)]
#[error("{field}: {message}")]
pub struct Invalid {
    /// The field at fault, as a path: `breaker.at`.
    pub field: String,
    /// What is wrong and what would be right.
    pub message: String,
}

impl Invalid {
    /// A fault of a field.
    pub fn new(field: impl Into<String>, message: impl Into<String>) -> Self {
        Self { field: field.into(), message: message.into() }
    }

    /// The fault of a thing that is not there, or not any more.
    #[must_use]
    pub fn gone(word: &str, id: u64) -> Self {
        Self::new(word, format!("there is no {word} with id {id} (any more)"))
    }
}
