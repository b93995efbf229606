//! The logbook.

use super::{Cascades, Draft};
use crate::base::Invalid;
use crate::house::{
    AsFound, Breaker, EnergyRecord, Event, Evidence, Handle, LogEntry, Outcome, Panel, Remark, Remarks, Saw, Subject,
};

impl Cascades for LogEntry {
    fn enter(self, draft: &mut Draft) -> Result<(), Invalid> {
        draft.log(&self)
    }
}

impl Cascades for EnergyRecord {}

impl Cascades for Evidence {}

impl Cascades for Remark {
    /// What has a field of its own is kept there too: that alone is read.
    fn enter(self, draft: &mut Draft) -> Result<(), Invalid> {
        if !draft.house.has(self.of) {
            return Err(Invalid::new("remark.of", "what it is about does not exist"));
        }
        if let (Subject::Panel(panel), Remarks::Looked { fact: AsFound::Bonded, saw }) = (self.of, &self.says) {
            let bonded = match saw {
                Saw::Yes => Some(true),
                Saw::No => Some(false),
                Saw::CannotTell => None,
            };
            let panel = draft.find::<Panel>(panel)?;
            draft.put(Panel { bonded, ..panel });
        }
        if let (Subject::Breaker(breaker), Remarks::Looked { fact: AsFound::NoWire, saw }) = (self.of, &self.says) {
            let breaker = draft.find::<Breaker>(breaker)?;
            draft.put(Breaker { unwired: *saw == Saw::Yes, ..breaker });
        }
        draft.put(self);
        Ok(())
    }
}

impl Draft {
    /// Writes a line. What happened moves handles: a trip leaves it tripped, a reset that held leaves it on.
    pub fn log(&mut self, entry: &LogEntry) -> Result<(), Invalid> {
        self.add("entry.id", entry.clone())?;
        let handle = match &entry.event {
            Event::Trip { .. } | Event::Reset { outcome: Outcome::AtOnce | Outcome::Later, .. } => Handle::Tripped,
            Event::Reset { outcome: Outcome::Held, .. } => Handle::On,
            _ => return Ok(()),
        };
        entry.event.breaker().map_or(Ok(()), |breaker| self.set_handle(breaker, handle))
    }

    /// Lines about something that goes stay as notes that name it.
    pub(super) fn keep_as_notes(&mut self, name: &str, which: impl Fn(&Event) -> bool) {
        self.rewrite::<LogEntry>(|entry| {
            which(&entry.event).then(|| LogEntry {
                event: Event::Note { panel: None },
                note: format!("{name}: {} {}", happened(&entry.event), entry.note).trim().to_owned(),
                ..entry.clone()
            })
        });
    }
}

/// An event in a few words, for a note that outlives its subject.
fn happened(event: &Event) -> &'static str {
    match event {
        Event::Trip { .. } => "tripped",
        Event::Mended { .. } => "mended, tried anew",
        Event::Reset { outcome: Outcome::Held, .. } => "reset, held",
        Event::Reset { outcome: Outcome::AtOnce, .. } => "reset, tripped at once",
        Event::Reset { outcome: Outcome::Later, .. } => "reset, tripped later",
        Event::BreakerTest { passed: true, .. } | Event::DeviceTest { passed: true, .. } => "test passed",
        Event::BreakerTest { .. } | Event::DeviceTest { .. } => "test failed",
        Event::Volts { .. } => "service voltages read",
        Event::Worked { .. } => "work in the panel",
        Event::Note { .. } => "",
    }
}
