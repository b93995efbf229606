//! The step of tracing under way, and the run it is part of.

use std::collections::BTreeSet;

use jiff::{SignedDuration, Timestamp};

use super::super::{Edit, Swap};
use super::{Cascades, Draft};
use crate::base::Invalid;
use crate::house::{
    Breaker, BreakerId, Crew, Evidence, EvidenceId, Handle, Observation, Reading, Round, RoundAct, RoundPlace, Run,
    RunId, Step, Way,
};

/// A phone whose clock lags behind the one that began the round takes part in it all the same.
const CLOCKS_DIFFER: SignedDuration = SignedDuration::from_mins(15);

impl Cascades for Run {}

impl Draft {
    /// Handles have been moved as advised and the tour begins: those of the step are off, all others on. Those to leave are
    /// not touched, on or off.
    pub fn begin_step(&mut self, step: &Step, leave: &BTreeSet<BreakerId>) -> Result<(), Invalid> {
        let wanted = |b| if step.off.contains(&b) { Handle::Off } else { Handle::On };
        let may = |b: &&Breaker| !leave.contains(&b.id) && b.handle != wanted(b.id);
        let moved: Vec<_> = self.house.breakers.iter().filter(may).map(|b| (b.id, wanted(b.id))).collect();
        let outages = moved.iter().filter(|(_, handle)| *handle == Handle::Off).count();
        if let Some(run) = self.house.run().filter(|run| run.round.is_none()).cloned() {
            let outages = run.outages + u32::try_from(outages).unwrap_or(u32::MAX);
            self.put(Run { steps: run.steps + 1, outages, ..run });
        }
        for (breaker, handle) in moved {
            self.set_handle(breaker, handle)?;
        }
        self.set_step(Some(step.clone()));
        Ok(())
    }

    /// Changes who traces with what; what the run has counted stays.
    pub fn set_crew(&mut self, run: RunId, crew: &Crew) -> Result<(), Invalid> {
        let run = self.find::<Run>(run)?;
        self.put(Run { crew: crew.clone(), ..run });
        Ok(())
    }

    /// Adds to the breakers with which somebody looked for what else is dead, and found nothing.
    pub fn searched(&mut self, run: RunId, breakers: &[BreakerId]) -> Result<(), Invalid> {
        let mut run = self.find::<Run>(run)?;
        run.searched.extend(breakers);
        self.put(run);
        Ok(())
    }

    /// In these looks other handles were off than was noted. How they stood is somebody's memory now: that weighs, and proves nothing.
    pub fn correct_looks(&mut self, looks: &[EvidenceId], off: &[BreakerId], on: &[BreakerId]) -> Result<(), Invalid> {
        for look in looks {
            let mut evidence = self.find::<Evidence>(*look).map_err(|gone| Invalid::new("looks", gone.message))?;
            let Observation::Power { off: noted, how, .. } = &mut evidence.observation else {
                return Err(Invalid::new("looks", format!("observation {} is no look at the power", look.0)));
            };
            noted.retain(|b| !on.contains(b));
            noted.extend(off);
            *how = Way::Word;
            self.put(evidence);
        }
        Ok(())
    }

    /// Ends a run; one that has ended stays as it is.
    pub fn end_run(&mut self, run: RunId, time: Timestamp) -> Result<(), Invalid> {
        let run = self.find::<Run>(run)?;
        self.put(Run { ended: run.ended.or(Some(time)), ..run });
        Ok(())
    }

    /// Something happens in a round of measuring.
    pub fn go_round(&mut self, run: RunId, act: &RoundAct) -> Result<(), Invalid> {
        let run = self.find::<Run>(run)?;
        let Some(mut round) = run.round.clone() else {
            return Err(Invalid::new("run", "this run traces and does not measure"));
        };
        // What a phone out of reach had kept may arrive when others have ended the round: it stays as it ended.
        if run.ended.is_some() {
            return Ok(());
        }
        match act {
            RoundAct::Switched { loads, on } => round.switch(loads, *on),
            RoundAct::Ready => round.ready = true,
            RoundAct::Asked { load } => round.asked = *load,
            RoundAct::Passed { at } => round.pass(*at, None),
            RoundAct::Back => {
                let last = round.done.pop().and_then(|done| done.reading);
                if let Some(reading) = last.filter(|reading| self.house.readings.get(*reading).is_some()) {
                    self.remove_reading(reading)?;
                }
            }
        }
        self.put(Run { round: Some(round), ..run });
        Ok(())
    }

    /// The round that goes on has read a place. What was read before it began is no part of it, as far as clocks agree.
    pub fn round_has_read(&mut self, reading: &Reading) {
        let Some(at) = RoundPlace::of(reading) else { return };
        self.change_rounds(|run, round| {
            if run.ended.is_none() && run.begun.duration_since(reading.time) <= CLOCKS_DIFFER {
                round.pass(at, Some(reading.id));
            }
        });
    }

    /// Changes what rounds hold.
    pub(super) fn change_rounds(&mut self, change: impl Fn(&Run, &mut Round)) {
        self.rewrite::<Run>(|run| {
            let mut round = run.round.clone()?;
            change(run, &mut round);
            (run.round.as_ref() != Some(&round)).then(|| Run { round: Some(round), ..run.clone() })
        });
    }

    /// Sets or ends the step; handles stay as they are.
    pub fn set_step(&mut self, after: Option<Step>) {
        let before = self.house.step.clone();
        self.edit(Edit::Step(Swap { before, after }));
    }
}
