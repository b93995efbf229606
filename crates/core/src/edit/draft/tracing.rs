//! The step of tracing under way, and the run it is part of.

use super::super::{Edit, Swap};
use super::Draft;
use crate::base::Invalid;
use crate::house::{Handle, Run, Step};

impl Draft {
    /// Handles have been moved as advised and the tour begins: those of the step are off, all others on.
    pub fn begin_step(&mut self, step: &Step) -> Result<(), Invalid> {
        let wanted = |b| if step.off.contains(&b) { Handle::Off } else { Handle::On };
        let moved: Vec<_> =
            self.house.breakers.iter().filter(|b| b.handle != wanted(b.id)).map(|b| (b.id, wanted(b.id))).collect();
        let outages = moved.iter().filter(|(_, handle)| *handle == Handle::Off).count();
        if let Some(run) = self.house.run().cloned() {
            let outages = run.outages + u32::try_from(outages).unwrap_or(u32::MAX);
            self.put(Run { steps: run.steps + 1, outages, ..run });
        }
        for (breaker, handle) in moved {
            self.set_handle(breaker, handle)?;
        }
        self.set_step(Some(step.clone()));
        Ok(())
    }

    /// Sets or ends the step; handles stay as they are.
    pub fn set_step(&mut self, after: Option<Step>) {
        let before = self.house.step.clone();
        self.edit(Edit::Step(Swap { before, after }));
    }
}
