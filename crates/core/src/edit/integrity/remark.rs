//! What was seen or decided in an inspection.

use super::{id, short, text};
use crate::base::Invalid;
use crate::house::{House, Remark, Remarks};

/// Longest note of a remark.
const MAX_NOTE: usize = 300;
/// Longest label.
const MAX_LABEL: usize = 60;
/// Longest name of a rule.
const MAX_RULE: usize = 40;
/// Longest telling of a finding.
const MAX_FOUND: usize = 2000;

pub(super) fn check_remark(house: &House, remark: &Remark) -> Result<(), Invalid> {
    id("remark.id", remark.id.0)?;
    text("remark.who", "whoever says so", &remark.who, true)?;
    short("remark.note", &remark.note, MAX_NOTE)?;
    if !house.has(remark.of) {
        return Err(Invalid::new("remark.of", "what it is about does not exist"));
    }
    match &remark.says {
        Remarks::NotSo { rule, .. } | Remarks::Later { rule, .. } if rule.is_empty() || rule.len() > MAX_RULE => {
            Err(Invalid::new("remark.rule", "say which finding is meant, by its rule"))
        }
        Remarks::Labelled { text: words } => {
            short("remark.text", words, MAX_LABEL)?;
            text("remark.text", "what the label says", words, true)
        }
        Remarks::NotSo { found, .. } if found.len() > MAX_FOUND => {
            Err(Invalid::new("remark.found", "what was found is told in a few sentences"))
        }
        Remarks::NotSo { .. } if remark.note.trim().is_empty() => {
            Err(Invalid::new("remark.note", "say why it is not so: whoever comes next reads that"))
        }
        _ => Ok(()),
    }
}
