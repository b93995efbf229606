//! Every rule is tried on its examples; and the small houses that they are built of.

use super::*;
use crate::fixture::Fixture;
use crate::house::{Remark, Remarks, Saw, Subject};

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

// Seen so it is a hit; seen otherwise, or not to be told, it is none; and what was seen last counts.
#[test]
fn what_is_found_as_it_is_hits_by_the_last_look_alone() {
    for look in as_found::LOOKS {
        assert!(RULES.contains(&look.rule), "{}", look.rule.id);
        let mut case = Case { f: Fixture::new(20), hangs: Vec::new() };
        let breaker = case.f.breaker("1", 20.0, "");
        let point = case.point(breaker, "Hall", PointKind::Receptacle, 120);
        let panel = case.f.panel().id;
        let of: Subject = match look.rule.scope {
            Scope::Panel => panel.into(),
            Scope::Breaker => breaker.into(),
            _ => point.into(),
        };
        let good = if look.bad == Saw::Yes { Saw::No } else { Saw::Yes };
        for (nth, (saw, hit)) in [(look.bad, 1), (good, 0), (look.bad, 1), (Saw::CannotTell, 0)].into_iter().enumerate()
        {
            let id = crate::house::RemarkId(900 + nth as u64);
            let time = jiff::Timestamp::from_second(nth as i64).unwrap();
            let says = Remarks::Looked { fact: look.fact, saw };
            let remark = Remark { id, of, says, time, who: "Fern".into(), note: String::new() };
            case.f.house = case.f.house.apply(&crate::change::Change::PutRemark { remark }).unwrap().house;
            let hits = hits(&Facts { house: &case.f.house, hangs: &case.hangs });
            let own = hits.iter().filter(|h| h.rule == look.rule).count();
            assert_eq!(own, hit, "{}: {saw:?}", look.rule.id);
        }
    }
}

#[test]
fn a_fault_that_was_met_is_a_hit_at_its_point() {
    for (rule, fault) in faulty::ALL {
        let mut case = Case { f: Fixture::new(20), hangs: Vec::new() };
        let breaker = case.f.breaker("1", 20.0, "");
        let point = case.point(breaker, "Hall", PointKind::Receptacle, 120);
        let found = |case: &Case| -> Vec<Hit> {
            let all = hits(&Facts { house: &case.f.house, hangs: &[] });
            all.into_iter().filter(|h| faulty::ALL.iter().any(|(of, _)| *of == h.rule)).collect()
        };
        assert_eq!(found(&case), []);
        case.f.observe(point, crate::house::Observation::Fault { fault: *fault });
        let hits = found(&case);
        assert!(matches!(hits.as_slice(), [hit] if hit.rule == *rule && hit.point == Some(point)), "{hits:?}");
        assert_eq!(hits[0].place(&case.f.house), "Hall receptacle (P0)", "though nothing is known of its breaker");
    }
}

// NEC 210.11(C), 210.52(B), from memory.
#[test]
fn rooms_that_ask_for_circuits_of_their_own_are_told_where_all_is_proven() {
    let mut case = Case { f: Fixture::new(20), hangs: Vec::new() };
    let (small, far, right, other) = (
        case.f.breaker("1", 15.0, ""),
        case.f.breaker("3", 20.0, ""),
        case.f.breaker("5", 20.0, ""),
        case.f.breaker("7", 20.0, ""),
    );
    case.point(small, "Bathroom", PointKind::Receptacle, 120);
    case.point(far, "Laundry", PointKind::Receptacle, 120);
    case.point(far, "Hall", PointKind::Light, 120);
    case.point(right, "Kitchen", PointKind::Receptacle, 120);
    case.point(right, "Dining room", PointKind::Receptacle, 120);
    case.point(right, "Kitchen", PointKind::Receptacle, 120);
    let found = |case: &Case| -> Vec<&'static str> {
        let all = hits(&Facts { house: &case.f.house, hangs: &case.hangs });
        all.iter().map(|h| h.rule.id).filter(|id| id.ends_with("-circuit") || id.ends_with("-two")).collect()
    };
    assert_eq!(found(&case), ["bathroom-circuit", "laundry-circuit", "kitchen-two"]);
    let counter = case.point(other, "Kitchen", PointKind::Receptacle, 120);
    assert_eq!(found(&case), ["bathroom-circuit", "laundry-circuit"]);
    case.hangs.retain(|h| h.point != counter);
    assert_eq!(found(&case), ["bathroom-circuit", "laundry-circuit"], "an outlet nobody traced may be on another");
    case.only_likely();
    assert_eq!(found(&case), [] as [&str; 0]);
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
