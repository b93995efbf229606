//! Panels, breakers and circuits, and what goes with them.

use super::{Cascades, Draft};
use crate::base::Invalid;
use crate::base::position::Position;
use crate::house::{
    Breaker, BreakerId, Circuit, CircuitId, Evidence, Handle, LoadId, MeasuredAt, Moving, Observation, Panel, PanelId,
    PictureOf, PointId, Reading, Run, Seen,
};

impl Cascades for Panel {
    fn take_out(draft: &mut Draft, id: PanelId) -> Result<(), Invalid> {
        draft.remove_panel(id)
    }
}

impl Cascades for Breaker {
    fn enter(self, draft: &mut Draft) -> Result<(), Invalid> {
        draft.place_breaker(&self);
        Ok(())
    }

    fn take_out(draft: &mut Draft, id: BreakerId) -> Result<(), Invalid> {
        draft.remove_breaker(id)
    }
}

impl Cascades for Circuit {
    fn take_out(draft: &mut Draft, id: CircuitId) -> Result<(), Invalid> {
        draft.remove_circuit(id)
    }
}

impl Draft {
    /// Adds a breaker or replaces the one with its id; spaces it takes are no longer marked empty.
    pub fn place_breaker(&mut self, breaker: &Breaker) {
        if let Some(panel) = self.house.panels.get(breaker.panel) {
            let mut panel = panel.clone();
            let before = panel.empty.clone();
            // A half-size breaker found in an empty space leaves its other half empty.
            let beside =
                breaker.at.iter().filter(|p| before.contains(&Position::whole(p.space))).map(|p| p.other_half());
            panel.empty.extend(beside.collect::<Vec<_>>());
            panel.empty.retain(|empty| breaker.at.iter().all(|p| !p.overlaps(*empty)));
            if panel.empty != before {
                self.put(panel);
            }
        }
        self.put(breaker.clone());
    }

    /// Says that a space or half of one was looked at and is empty, or takes that back.
    pub fn mark_empty(&mut self, panel: PanelId, at: Position, empty: bool) -> Result<(), Invalid> {
        let mut panel = self.find::<Panel>(panel)?;
        let (whole, beside) = (Position::whole(at.space), at.other_half());
        // Two empty halves are an empty space.
        let other = at != whole && (panel.empty.contains(&whole) || panel.empty.contains(&beside));
        panel.empty.retain(|marked| !whole.covers(*marked));
        match (empty, other) {
            (true, true) => panel.empty.insert(whole),
            (true, false) => panel.empty.insert(at),
            (false, true) => panel.empty.insert(beside),
            (false, false) => false,
        };
        self.put(panel);
        Ok(())
    }

    /// Moves breakers; what they leave is empty.
    pub(crate) fn shift(&mut self, moves: &[Moving]) -> Result<(), Invalid> {
        let mut left: Vec<(PanelId, Position)> = Vec::new();
        for moving in moves {
            let breaker = self.find::<Breaker>(moving.breaker)?;
            left.extend(breaker.at.iter().map(|p| (breaker.panel, *p)));
            self.place_breaker(&Breaker { at: moving.to.clone(), as_found: false, ..breaker });
        }
        left.into_iter().try_for_each(|(panel, at)| self.vacate(panel, at))
    }

    /// Says that a place is empty where nothing stands in it any more.
    pub(crate) fn vacate(&mut self, panel: PanelId, at: Position) -> Result<(), Invalid> {
        let taken = self.house.breakers.iter().any(|b| b.panel == panel && b.at.iter().any(|p| p.overlaps(at)));
        if taken { Ok(()) } else { self.mark_empty(panel, at, true) }
    }

    /// Moves a handle.
    pub fn set_handle(&mut self, breaker: BreakerId, handle: Handle) -> Result<(), Invalid> {
        let old = self.find::<Breaker>(breaker)?;
        self.put(Breaker { handle, ..old });
        Ok(())
    }

    /// Takes out a panel with its breakers and what was observed of them.
    pub fn remove_panel(&mut self, panel: PanelId) -> Result<(), Invalid> {
        let inside: Vec<_> = self.house.breakers.iter().filter(|b| b.panel == panel).map(|b| b.id).collect();
        for breaker in inside {
            self.remove_breaker(breaker)?;
        }
        self.drop_where::<Reading>(|r| r.place.panel() == Some(panel))?;
        self.change_rounds(|_, round| round.done.retain(|at| at.place.panel() != Some(panel)));
        self.drop_pictures(|of| *of == PictureOf::Panel { panel })?;
        let name = self.find::<Panel>(panel)?.name;
        self.keep_as_notes(&name, |event| event.panel() == Some(panel));
        self.drop::<Panel>(panel)
    }

    /// Takes out a breaker. Of the evidence made with it off stays what it says of the others; the logbook keeps its lines.
    pub fn remove_breaker(&mut self, breaker: BreakerId) -> Result<(), Invalid> {
        if let Some(sub) = self.house.panel_fed_by(breaker) {
            let message = format!("it feeds the panel {}; say first what feeds that", sub.name);
            return Err(Invalid::new("breaker", message));
        }
        self.forget_breaker(breaker)?;
        self.rewrite::<Run>(|r| {
            let mut changed = r.clone();
            changed.crew.keep_until.retain(|k| k.breaker != breaker);
            let kept = changed.crew.keep_on.remove(&breaker);
            let searched = changed.searched.remove(&breaker);
            (kept || searched).then_some(changed)
        });
        self.change_rounds(|_, round| {
            round.only = round.only.filter(|only| *only != breaker);
            round.done.retain(|at| at.place.breaker() != Some(breaker));
        });
        if self.house.step.as_ref().is_some_and(|s| s.off.contains(&breaker)) {
            self.set_step(None);
        }
        let circuits: Vec<_> = self.house.circuits.iter().filter(|c| c.breaker == breaker).map(|c| c.id).collect();
        for circuit in circuits {
            self.remove_circuit(circuit)?;
        }
        self.drop_where::<Reading>(|r| r.place.breaker() == Some(breaker))?;
        self.drop_pictures(|of| *of == PictureOf::Breaker { breaker })?;
        let name = self.house.breakers.get(breaker).map(|b| self.house.breaker_name(b)).unwrap_or_default();
        self.keep_as_notes(&format!("breaker {name}"), |event| event.breaker() == Some(breaker));
        self.drop::<Breaker>(breaker)
    }

    /// Puts all that hangs on a breaker onto another one, and takes it out. What was seen of the circuits stays as far as it is
    /// true of the breaker that carries both now.
    pub fn join_breakers(&mut self, gone: BreakerId, into: BreakerId) -> Result<(), Invalid> {
        let may_feed = (self.may_feed)(&self.house);
        let may = |point: &PointId, breaker| may_feed.get(point).is_none_or(|feeders| feeders.contains(&breaker));
        let speaks = |e: &&Evidence| e.observation.breakers().any(|b| b == gone || b == into);
        for evidence in self.house.evidence.iter().filter(speaks).cloned().collect::<Vec<_>>() {
            let other = |breaker| may(&evidence.point, breaker);
            match joined(&evidence, [gone, into], [other(gone), other(into)]) {
                Some(left) => self.put(left),
                None => self.drop::<Evidence>(evidence.id)?,
            }
        }
        for reading in self.house.readings.iter().filter(|r| r.place.breaker().is_some()).cloned().collect::<Vec<_>>() {
            let MeasuredAt::Breaker { breaker, side, .. } = reading.place else { continue };
            let Some(other) =
                [(gone, into), (into, gone)].into_iter().find(|(b, _)| *b == breaker).map(|(_, other)| other)
            else {
                continue;
            };
            // It was read when the other circuit was no part of it.
            let elsewhere = |load: &LoadId| self.house.loads.get(*load).is_some_and(|l| may(&l.point, other));
            let on = reading.on.iter().copied().filter(|load| !elsewhere(load)).collect();
            self.put(Reading { place: MeasuredAt::Breaker { breaker: into, pole: None, side }, on, ..reading });
        }
        self.rewrite::<Circuit>(|c| (c.breaker == gone).then(|| Circuit { breaker: into, pole: None, ..c.clone() }));
        self.remove_breaker(gone)
    }

    /// Takes back what was observed of a breaker alone, and leaves what those observations say of others.
    fn forget_breaker(&mut self, breaker: BreakerId) -> Result<(), Invalid> {
        let speaks = |e: &&Evidence| e.observation.breakers().any(|b| b == breaker);
        let speaking: Vec<_> = self.house.evidence.iter().filter(speaks).cloned().collect();
        if speaking.is_empty() {
            return Ok(());
        }
        let may_feed = (self.may_feed)(&self.house);
        for evidence in speaking {
            let elsewhere = may_feed.get(&evidence.point).is_some_and(|feeders| !feeders.contains(&breaker));
            match without(&evidence, breaker, elsewhere) {
                Some(left) => self.put(left),
                None => self.drop::<Evidence>(evidence.id)?,
            }
        }
        Ok(())
    }

    /// Takes out a circuit; those that shared its neutral have one of their own.
    pub fn remove_circuit(&mut self, circuit: CircuitId) -> Result<(), Invalid> {
        self.rewrite::<Circuit>(|c| (c.neutral_of == Some(circuit)).then(|| Circuit { neutral_of: None, ..c.clone() }));
        self.drop_pictures(|of| *of == PictureOf::Circuit { circuit })?;
        self.drop::<Circuit>(circuit)
    }
}

/// What an observation says once the circuits of one breaker hang on another: with that one off the point is dead whichever
/// of the two it hung on; live with it off it was only where both were off, or where it surely does not hang on the other.
fn joined(evidence: &Evidence, [gone, into]: [BreakerId; 2], [on_gone, on_into]: [bool; 2]) -> Option<Evidence> {
    let to = |at: BreakerId| if at == gone { into } else { at };
    let observation = match &evidence.observation {
        Observation::Power { off, seen, how } => {
            let (had_gone, had_into) = (off.contains(&gone), off.contains(&into));
            let mut off: std::collections::BTreeSet<BreakerId> =
                off.iter().copied().filter(|b| *b != gone && *b != into).collect();
            let both = had_gone && had_into;
            let tells = match seen {
                Seen::Dead => had_gone || had_into,
                Seen::Live | Seen::Unsure => both || (had_into && !on_gone) || (had_gone && !on_into),
            };
            if tells {
                off.insert(into);
            }
            if off.is_empty() {
                return None;
            }
            Observation::Power { off, seen: *seen, how: *how }
        }
        Observation::Pointed { at } => Observation::Pointed { at: to(*at) },
        Observation::Rise { at, expected, rose } => Observation::Rise { at: to(*at), expected: *expected, rose: *rose },
        Observation::Wire { at } => Observation::Wire { at: to(*at) },
        Observation::Landed { at } => Observation::Landed { at: to(*at) },
        // Which of the two was off when it was tried tells nothing of both.
        Observation::Tried { cause, was_off, .. } => Observation::Tried { cause: *cause, was_off: *was_off, off: None },
        other @ Observation::Fault { .. } => other.clone(),
    };
    Some(Evidence { observation, ..evidence.clone() })
}

/// What an observation still says of the other breakers when one is gone; nothing where it was about that one.
///
/// A point that was live with it off does not hang on it, and on none that was off with it: that stays true. One that was
/// dead may have hung on it, and may hang anywhere now; so that is kept only for points that surely hang elsewhere.
fn without(evidence: &Evidence, gone: BreakerId, elsewhere: bool) -> Option<Evidence> {
    if let Observation::Tried { cause, was_off, .. } = evidence.observation {
        return Some(Evidence { observation: Observation::Tried { cause, was_off, off: None }, ..evidence.clone() });
    }
    let Observation::Power { off, seen, how } = &evidence.observation else { return None };
    let mut off = off.clone();
    off.remove(&gone);
    let tells = match seen {
        Seen::Live | Seen::Unsure => true,
        Seen::Dead => !off.is_empty() && elsewhere,
    };
    let observation = Observation::Power { off, seen: *seen, how: *how };
    tells.then(|| Evidence { observation, ..evidence.clone() })
}
