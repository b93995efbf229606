//! The logbook.

use super::{id, short, text, within};
use crate::base::Invalid;
use crate::base::units::READ_VOLTS;
use crate::house::{Event, House, LogEntry};

/// Longest note in the logbook.
const MAX_NOTE: usize = 500;

pub(super) fn check_log(house: &House, entry: &LogEntry) -> Result<(), Invalid> {
    id("entry.id", entry.id.0)?;
    text("entry.who", "whoever says so", &entry.who, true)?;
    short("entry.note", &entry.note, MAX_NOTE)?;
    if entry.event.breaker().is_some_and(|b| house.breakers.get(b).is_none()) {
        return Err(Invalid::new("entry.event", "the breaker it is about does not exist"));
    }
    if entry.event.panel().is_some_and(|p| house.panels.get(p).is_none()) {
        return Err(Invalid::new("entry.event", "the panel it is about does not exist"));
    }
    if entry.event.points().iter().any(|p| house.points.get(*p).is_none()) {
        return Err(Invalid::new("entry.event", "a point it speaks of does not exist"));
    }
    match &entry.event {
        Event::Volts { reading, .. } => {
            let fields = [
                ("reading.a_n", Some(reading.a_n)),
                ("reading.b_n", Some(reading.b_n)),
                ("reading.a_b", Some(reading.a_b)),
                ("reading.c_n", reading.c_n),
                ("reading.b_c", reading.b_c),
                ("reading.c_a", reading.c_a),
            ];
            fields.into_iter().filter_map(|(f, v)| Some((f, v?))).try_for_each(|(f, v)| within(&READ_VOLTS, f, v.0))
        }
        Event::Note { .. } if entry.note.trim().is_empty() => Err(Invalid::new("entry.note", "the note is empty")),
        _ => Ok(()),
    }
}
