//! What a panel should not hold, and what should not hang on its breakers.
//!
//! Each misfit is refused when it is entered, unless it is recorded *as found*: then it stays and is marked. What is
//! merely worth knowing is marked without being refused.

use serde::Serialize;
use utoipa::ToSchema;

use crate::base::position::{Half, Leg};
use crate::code::{self, Column};
use crate::house::{Breaker, BreakerId, Circuit, CircuitId, House, KnownBy, Landed, Panel, PanelId, TandemSpaces};

/// What is wrong.
#[derive(Debug, Clone, Copy, PartialEq, Eq, PartialOrd, Ord, Serialize, ToSchema)]
#[serde(rename_all = "kebab-case")]
pub enum Misrule {
    /// Two poles of one breaker on the same leg.
    SameLeg,
    /// A half-size breaker where none is allowed.
    HalfSize,
    /// More poles than the panel's label allows.
    TooMany,
    /// A conductor too thin for the breaker.
    ThinWire,
    /// More conductors under a terminal than its label allows.
    FullTerminal,
    /// Two circuits that share a neutral, on one leg.
    NeutralOneLeg,
    /// Two circuits that share a neutral, without a common or tied handle.
    NeutralUntied,
}

/// Something that does not fit.
#[derive(Debug, Clone, PartialEq, Eq, Serialize, ToSchema)]
pub struct Misfit {
    /// The breaker.
    pub breaker: BreakerId,
    /// The circuit on it, where that is at fault.
    pub circuit: Option<CircuitId>,
    /// What is wrong.
    pub rule: Misrule,
    /// The same in words.
    pub message: String,
    /// Where the rule stands; local code decides.
    pub source: &'static str,
}

impl Misrule {
    /// Refused when entered, unless recorded as found.
    #[must_use]
    pub fn is_refused(self) -> bool {
        self != Self::NeutralUntied
    }
}

/// Everything in a house that does not fit, as found or not.
#[must_use]
pub fn misfits(house: &House) -> Vec<Misfit> {
    let mut all = Vec::new();
    for breaker in house.breakers.iter() {
        let Some(panel) = house.panels.get(breaker.panel) else { continue };
        all.extend(same_leg(panel, breaker));
        all.extend(half_size(panel, breaker));
    }
    for panel in house.panels.iter() {
        all.extend(too_many(house, panel.id));
    }
    for circuit in house.circuits.iter() {
        let Some(breaker) = house.breakers.get(circuit.breaker) else { continue };
        all.extend(thin_wire(house, breaker, circuit));
        all.extend(full_terminal(house, breaker, circuit));
        all.extend(shared_neutral(house, breaker, circuit));
    }
    all
}

fn misfit(breaker: &Breaker, rule: Misrule, message: String, source: &'static str) -> Misfit {
    Misfit { breaker: breaker.id, circuit: None, rule, message, source }
}

/// Both halves of one space are on that space's leg; two poles on one leg never give 240 V.
fn same_leg(panel: &Panel, breaker: &Breaker) -> Option<Misfit> {
    let mut legs: Vec<_> = breaker.at.iter().map(|p| panel.leg(*p)).collect();
    legs.sort_unstable();
    legs.dedup();
    let message = "two of its poles would be on the same leg: no 240 V between them".to_owned();
    (legs.len() < breaker.at.len()).then(|| misfit(breaker, Misrule::SameLeg, message, "definition of the bus"))
}

fn half_size(panel: &Panel, breaker: &Breaker) -> Option<Misfit> {
    let pole = breaker.at.iter().find(|p| p.half != Half::Whole && !panel.tandem.allow(p.space))?;
    let why = match (&panel.tandem, panel.tandem_known) {
        (_, Some(KnownBy::Label)) => "by the panel's label",
        (_, Some(KnownBy::Notch)) => "by the notches of its bus",
        (TandemSpaces::None, None) => "as far as its label is recorded",
        (_, None) => "as far as is recorded",
    };
    let message = format!("space {} of {} takes no half-size breakers, {why}", pole.space, panel.name);
    Some(misfit(breaker, Misrule::HalfSize, message, "NEC 408.54, 110.3(B)"))
}

/// Every pole counts one. The breakers recorded as found are the ones too many.
fn too_many(house: &House, panel: PanelId) -> Vec<Misfit> {
    let Some(panel) = house.panels.get(panel) else { return Vec::new() };
    let Some(max) = panel.max_circuits.map(usize::from) else { return Vec::new() };
    let here = house.breakers_of(panel.id);
    let poles: usize = here.iter().map(|b| b.at.len()).sum();
    if poles <= max {
        return Vec::new();
    }
    let known: usize = here.iter().filter(|b| b.as_found).map(|b| b.at.len()).sum();
    // Where what is recorded as found does not explain the excess, the newest breaker is the one too many.
    let blamed: Vec<_> = if poles - known <= max {
        here.into_iter().filter(|b| b.as_found).collect()
    } else {
        here.into_iter().filter(|b| !b.as_found).max_by_key(|b| b.id).into_iter().collect()
    };
    let message = format!("{} may have {max} poles by its label, this would make {poles}", panel.name);
    blamed.into_iter().map(|b| misfit(b, Misrule::TooMany, message.clone(), "NEC 408.54")).collect()
}

fn thin_wire(house: &House, breaker: &Breaker, circuit: &Circuit) -> Option<Misfit> {
    let wire = circuit.wire?;
    // Conductors in cable go by the 60 °C column (NEC 334.80).
    let column = if circuit.conductors.is_some() { Column::C60 } else { Column::C75 };
    let limit = code::largest_breaker(wire, circuit.metal, column)?;
    let feeds_all =
        house.panel_fed_by(breaker.id).is_some() && code::carries_dwelling(wire, circuit.metal, breaker.amps);
    let message = format!(
        "{wire} AWG may stand behind {limit} at most, not {}; a motor's or air conditioner's nameplate may allow more",
        breaker.amps
    );
    let found = misfit(breaker, Misrule::ThinWire, message, "NEC 240.4(D), 240.4(B), 310.16");
    (breaker.amps > limit && !feeds_all).then_some(Misfit { circuit: Some(circuit.id), ..found })
}

/// Two conductors under one terminal only where its label says so. Blamed on the newest of them.
fn full_terminal(house: &House, breaker: &Breaker, circuit: &Circuit) -> Option<Misfit> {
    let allowed = usize::from(breaker.terminal?.wires);
    let same = |c: &&Circuit| c.pole == circuit.pole && c.landed == Landed::Terminal;
    let here: Vec<_> = house.circuits_of(breaker.id).into_iter().filter(same).map(|c| c.id).collect();
    let newest = here.iter().max() == Some(&circuit.id);
    let message = format!("its terminal holds {allowed} by its label, this would make {}", here.len());
    let found = misfit(breaker, Misrule::FullTerminal, message, "NEC 110.14(A)");
    (newest && here.len() > allowed).then_some(Misfit { circuit: Some(circuit.id), ..found })
}

fn shared_neutral(house: &House, breaker: &Breaker, circuit: &Circuit) -> Option<Misfit> {
    let mate = house.circuits.get(circuit.neutral_of?)?;
    let other = house.breakers.get(mate.breaker)?;
    let (mine, theirs) = (legs(house, breaker, circuit)?, legs(house, other, mate)?);
    if mine.iter().any(|leg| theirs.contains(leg)) {
        let message = format!(
            "it shares its neutral with {} on the same leg: the neutral carries both currents and no breaker trips",
            other.at_text()
        );
        let found = misfit(breaker, Misrule::NeutralOneLeg, message, "NEC 210.4(D), definition of the shared neutral");
        return Some(Misfit { circuit: Some(circuit.id), ..found });
    }
    if breaker.id == other.id {
        return None;
    }
    let message = format!(
        "it shares its neutral with {}: both have to be switched together, by one handle or a tie",
        other.at_text()
    );
    let found = misfit(breaker, Misrule::NeutralUntied, message, "NEC 210.4(B)");
    Some(Misfit { circuit: Some(circuit.id), ..found })
}

/// The legs a circuit's hots are on; nothing where its pole is not known.
pub(crate) fn legs(house: &House, breaker: &Breaker, circuit: &Circuit) -> Option<Vec<Leg>> {
    let panel = house.panels.get(breaker.panel)?;
    match circuit.pole {
        Some(pole) => breaker.at.get(usize::from(pole).checked_sub(1)?).map(|p| vec![panel.leg(*p)]),
        None => Some(breaker.at.iter().map(|p| panel.leg(*p)).collect()),
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::base::units::Amps;
    use crate::change::Change;
    use crate::fixture::Fixture;
    use crate::house::{Panel, Terminal};

    fn rules(f: &Fixture) -> Vec<Misrule> {
        misfits(&f.house).into_iter().map(|m| m.rule).collect()
    }

    fn enter(f: &mut Fixture, change: &Change) -> Result<(), String> {
        f.house = f.house.apply(change).map_err(|e| e.to_string())?.house;
        Ok(())
    }

    /// Puts a breaker the honest way, then as found.
    fn put(f: &mut Fixture, at: &str, amps: f64) -> (Result<(), String>, BreakerId) {
        let id = f.breaker_id();
        let breaker = Breaker::new(id, PanelId(1), crate::base::position::parse_poles(at).unwrap(), Amps(amps));
        let refused = enter(f, &Change::PutBreaker { breaker: breaker.clone() });
        enter(f, &Change::PutBreaker { breaker: Breaker { as_found: true, ..breaker } }).unwrap();
        (refused, id)
    }

    // handbook 1.2 [def]: both halves of one space are on that space's leg.
    #[test]
    fn a_two_pole_on_one_leg_is_refused_but_can_be_recorded_as_found() {
        let mut f = Fixture::new(20);
        f.allow_tandems();
        let (refused, id) = put(&mut f, "1a-1b", 30.0);
        assert!(refused.unwrap_err().contains("same leg"));
        assert_eq!(rules(&f), [Misrule::SameLeg]);
        assert_eq!(misfits(&f.house)[0].breaker, id);
    }

    // NEC 408.54, from memory.
    #[test]
    fn a_tandem_in_a_forbidden_space_and_a_pole_too_many_are_marked() {
        let mut f = Fixture::new(20);
        assert!(put(&mut f, "1a", 15.0).0.unwrap_err().contains("no half-size"));
        assert_eq!(rules(&f), [Misrule::HalfSize]);
        let mut f = Fixture::new(20);
        let panel = Panel { max_circuits: Some(1), ..f.panel().clone() };
        f.house.panels.put(panel);
        f.breaker("1", 15.0, "");
        assert!(put(&mut f, "2", 15.0).0.unwrap_err().contains("this would make 2"));
        assert_eq!(rules(&f), [Misrule::TooMany]);
    }

    // handbook 1.4, common practice: the 30 A fuse on 14 AWG of old fuse panels. NEC 240.4(D).
    #[test]
    fn a_fuse_too_large_for_its_wire_is_refused_but_can_be_recorded_as_found() {
        let mut f = Fixture::new(20);
        let fuse = f.breaker("1", 30.0, "");
        let wire = |as_found, size: &str| Circuit {
            wire: Some(size.parse().unwrap()),
            conductors: Some(2),
            as_found,
            ..Circuit::new(CircuitId(900), fuse)
        };
        let refused = enter(&mut f, &Change::PutCircuit { circuit: wire(false, "14") }).unwrap_err();
        assert!(refused.starts_with("circuit.wire") && refused.contains("15 A at most"), "{refused}");
        enter(&mut f, &Change::PutCircuit { circuit: wire(true, "14") }).unwrap();
        assert_eq!(rules(&f), [Misrule::ThinWire]);
        enter(&mut f, &Change::PutCircuit { circuit: wire(false, "10") }).unwrap();
        assert_eq!(rules(&f), []);
    }

    // NEC 210.4(B) and (D), from memory; handbook 1.3 [def].
    #[test]
    fn a_shared_neutral_needs_two_legs_and_one_handle() {
        let mut f = Fixture::new(20);
        let (one, two, three) = (f.breaker("1", 20.0, ""), f.breaker("2", 20.0, ""), f.breaker("3", 20.0, ""));
        let pair = f.breaker("5-7", 20.0, "");
        let on = |id, breaker, pole, neutral_of| Change::PutCircuit {
            circuit: Circuit { pole, neutral_of, ..Circuit::new(CircuitId(id), breaker) },
        };
        enter(&mut f, &on(901, one, None, None)).unwrap();
        // Spaces 1 and 2 are one row: the same leg.
        assert!(enter(&mut f, &on(902, two, None, Some(CircuitId(901)))).unwrap_err().contains("same leg"));
        enter(&mut f, &on(902, three, None, Some(CircuitId(901)))).unwrap();
        assert_eq!(rules(&f), [Misrule::NeutralUntied], "two single-pole breakers without a tie");
        enter(&mut f, &Change::RemoveCircuit { circuit: CircuitId(902) }).unwrap();
        enter(&mut f, &on(903, pair, Some(1), None)).unwrap();
        enter(&mut f, &on(904, pair, Some(2), Some(CircuitId(903)))).unwrap();
        assert_eq!(rules(&f), [], "one two-pole breaker switches both");
    }

    // NEC 110.14(A), from memory.
    #[test]
    fn a_terminal_for_one_wire_does_not_take_two() {
        let mut f = Fixture::new(20);
        let id = f.breaker("1", 20.0, "");
        let terminal = Terminal { wires: 1, smallest: None, largest: None, torque: None };
        let labelled = Breaker { terminal: Some(terminal), ..f.house.breakers.get(id).unwrap().clone() };
        f.house.breakers.put(labelled);
        let circuit = |nth, landed| Circuit { landed, ..Circuit::new(CircuitId(nth), id) };
        enter(&mut f, &Change::PutCircuit { circuit: circuit(901, Landed::Terminal) }).unwrap();
        let second = enter(&mut f, &Change::PutCircuit { circuit: circuit(902, Landed::Terminal) });
        assert!(second.unwrap_err().contains("holds 1 by its label"));
        enter(&mut f, &Change::PutCircuit { circuit: circuit(902, Landed::Splice) }).unwrap();
    }

    // NEC 310.12, from memory: 200 A on 2/0 copper where it carries the whole dwelling.
    #[test]
    fn a_feeder_of_a_whole_dwelling_may_be_thinner() {
        let mut f = Fixture::new(20);
        let feeder = f.breaker("1-3", 200.0, "");
        let wire = |id| Change::PutCircuit {
            circuit: Circuit { wire: Some("2/0".parse().unwrap()), ..Circuit::new(CircuitId(id), feeder) },
        };
        // 2/0 carries 175 A: behind 200 A it is too thin for anything but that.
        assert!(enter(&mut f, &wire(901)).is_err());
        f.sub_panel("House", feeder);
        assert!(enter(&mut f, &wire(901)).is_ok());
    }
}
