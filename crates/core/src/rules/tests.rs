//! Every rule is tried on its examples; and the small houses that they are built of.

use super::*;
use crate::fixture::Fixture;

/// A small house that a rule is tried in.
#[derive(Debug)]
pub struct Case {
    pub f: Fixture,
    pub hangs: Vec<Hangs>,
}

impl Case {
    /// What hangs on a breaker's terminals, as `14-2` or `2/0`.
    pub fn wire(&mut self, breaker: BreakerId, cable: &str) -> CircuitId {
        let (size, conductors) = cable.split_once('-').map_or((cable, None), |(s, n)| (s, n.parse().ok()));
        let id = CircuitId(self.f.breaker_id().0);
        let wire = Some(size.parse().unwrap());
        self.f.house.circuits.put(Circuit { wire, conductors, ..Circuit::new(id, breaker) });
        id
    }

    /// Circuits that share the neutral of the first, one on each breaker.
    pub fn shared(&mut self, breakers: &[BreakerId]) {
        let first = self.wire(breakers[0], "12-3");
        for breaker in &breakers[1..] {
            let id = self.wire(*breaker, "12-3");
            let circuit = Circuit { neutral_of: Some(first), ..self.f.house.circuits.get(id).unwrap().clone() };
            self.f.house.circuits.put(circuit);
        }
    }

    /// A point in a room, proven to hang on a breaker.
    pub fn point(&mut self, breaker: BreakerId, room: &str, kind: crate::house::PointKind, volts: u16) -> PointId {
        let room = self.f.room(room);
        let volts = crate::base::units::NominalVolts::try_from(volts).ok();
        let tag = format!("P{}", self.hangs.len());
        let point = self.f.point_at(&tag, room, kind, volts);
        self.hangs.push(Hangs { breaker, point, proven: true });
        point
    }

    /// What draws at a point of its own on a breaker.
    pub fn load(&mut self, breaker: BreakerId, kind: crate::house::LoadKind, plate: impl FnOnce(&mut Load)) {
        let volts = if self.f.house.breakers.get(breaker).unwrap().at.len() > 1 { 240 } else { 120 };
        let point = self.point(breaker, "Attic", crate::house::PointKind::Appliance, volts);
        let mut load = Load::new(LoadId(self.f.breaker_id().0), point, "thing", kind);
        plate(&mut load);
        self.f.house.loads.put(load);
    }

    /// A thing at a point, by its amperes.
    pub fn plug(&mut self, point: PointId, kind: LoadKind, amps: f64) {
        let id = LoadId(self.f.breaker_id().0);
        self.f.house.loads.put(Load { amps: Some(Amps(amps)), ..Load::new(id, point, "thing", kind) });
    }

    /// Nothing of what hangs where is proven.
    pub fn only_likely(&mut self) {
        self.hangs.iter_mut().for_each(|h| h.proven = false);
    }

    pub fn panel(&mut self, change: impl FnOnce(&mut Panel)) {
        let mut panel = self.f.panel().clone();
        change(&mut panel);
        self.f.house.panels.put(panel);
    }
}

/// One such house: the rule hits so often, or it is the near miss that it must not.
pub struct Example(pub &'static str, pub usize, pub fn(&mut Case));

// The source of each example stands beside its rule: NEC from memory, or handbook where named.
#[test]
fn every_rule_hits_what_it_is_about_and_not_the_near_miss() {
    for (rule, examples) in EXAMPLES {
        let examples = examples();
        assert!(examples.iter().any(|e| e.1 == 0) && examples.iter().any(|e| e.1 > 0), "{}: both sorts", rule.id);
        for Example(what, expected, build) in examples {
            let mut f = Fixture::new(20);
            f.allow_tandems();
            let mut case = Case { f, hangs: Vec::new() };
            build(&mut case);
            let hits = hits(&Facts { house: &case.f.house, hangs: &case.hangs });
            let own: Vec<&Hit> = hits.iter().filter(|h| h.rule == *rule).collect();
            assert_eq!(own.len(), expected, "{}, {what}: {own:#?}", rule.id);
            assert!(own.iter().all(|h| !h.why.is_empty() && h.key().1 != 0), "{}, {what}: {own:#?}", rule.id);
        }
    }
}

// NEC 240.4(D), 210.23, from memory.
#[test]
fn a_breaker_is_renewed_with_what_hangs_on_it_in_mind() {
    let mut case = Case { f: Fixture::new(20), hangs: Vec::new() };
    let (thick, lit, right) =
        (case.f.breaker("1", 30.0, ""), case.f.breaker("2", 30.0, ""), case.f.breaker("3", 20.0, ""));
    let hopeless = case.f.breaker("5-7", 40.0, "");
    case.wire(thick, "14-2");
    case.wire(lit, "10-2");
    case.wire(right, "12-2");
    case.wire(hopeless, "12-2");
    case.point(lit, "Hall", crate::house::PointKind::Light, 120);
    case.point(hopeless, "Hall", crate::house::PointKind::Receptacle, 120);
    let facts = Facts { house: &case.f.house, hangs: &case.hangs };
    let rated = |id| rating(&facts, case.f.house.breakers.get(id).unwrap()).0;
    assert_eq!((rated(thick), rated(lit), rated(right)), (15.0, 20.0, 20.0));
    assert_eq!(rated(hopeless), 40.0, "no rating makes 120 V of it");
}

#[test]
fn a_rule_has_one_name_and_says_where_it_stands() {
    let ids: std::collections::BTreeSet<&str> = RULES.iter().map(|r| r.id).collect();
    assert_eq!(ids.len(), RULES.len());
    for rule in RULES {
        assert!(!rule.title.is_empty() && !rule.cure.is_empty(), "{}", rule.id);
        let source = rule.source.to_string();
        assert!(source.contains("from memory") || source.contains("definition") || source.contains("practice"));
    }
}
