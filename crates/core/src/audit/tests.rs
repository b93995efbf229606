use std::collections::BTreeSet;

use jiff::Timestamp;

use super::*;
use crate::base::units::{Amps, NominalVolts, Volts, Watts};
use crate::change::Change;
use crate::fixture::Fixture;
use crate::house::Seen::{Dead, Live};
use crate::house::{
    AreaUnit, AsFound, Breaker, BreakerId, Device, Event, Fault, Habit, LivingArea, Load, LoadId, LoadKind, LogEntry,
    LogId, Observation, PointKind, Remark, RemarkId, Saw, ServiceReading,
};
use crate::house::{Instrument, MeasuredAt, Quantity, Reading, ReadingId, Side, Span};
use crate::load::draws::draws;
use crate::rules::RULES;
use crate::rules::as_found::{LOOKS, LookWhere};
use crate::trace::beliefs;

/// Two breakers with a proven outlet each, in a hall; nothing is wrong by what is known but that no card was printed.
struct Rig {
    f: Fixture,
    breakers: [BreakerId; 2],
    next: u64,
}

fn rig() -> Rig {
    let mut f = Fixture::new(20);
    let breakers = [f.breaker("1", 15.0, ""), f.breaker("3", 15.0, "")];
    let room = f.room("Store");
    for (nth, breaker) in breakers.into_iter().enumerate() {
        let point = f.point(&format!("S{nth}"), room, PointKind::Receptacle);
        for _ in 0..2 {
            f.see(point, &[breaker], Dead);
            f.see(point, &[breakers[1 - nth]], Live);
        }
    }
    Rig { f, breakers, next: 700 }
}

impl Rig {
    fn audit(&self, day: i64) -> Audit {
        let (house, all) = (&self.f.house, beliefs(&self.f.house));
        let drawn = draws(house, &all);
        let now = Timestamp::from_second(day * 86_400).unwrap();
        audit(&KnownHouse { house, beliefs: &all, loaded: &Loaded::new(house, &all, &drawn), now })
    }

    fn found(&self) -> BTreeSet<&'static str> {
        self.audit(1).findings.iter().map(|f| f.rule).collect()
    }

    fn change(&mut self, change: &Change) {
        self.f.house = self.f.house.apply(change).unwrap().house;
    }

    fn remark(&mut self, of: impl Into<Subject>, says: Remarks, note: &str) {
        self.next += 1;
        let (id, time) = (RemarkId(self.next), Timestamp::from_second(self.next as i64).unwrap());
        self.change(&Change::PutRemark {
            remark: Remark { id, of: of.into(), says, time, who: "Fern".into(), note: note.into() },
        });
    }

    fn looked(&mut self, of: impl Into<Subject>, fact: AsFound, saw: Saw) {
        self.remark(of, Remarks::Looked { fact, saw }, "");
    }

    fn log(&mut self, event: Event) {
        self.next += 1;
        let time = Timestamp::from_second(self.next as i64).unwrap();
        let entry = LogEntry { id: LogId(self.next), time, who: "Fern".into(), event, note: String::new() };
        self.change(&Change::Log { entry });
    }
}

#[test]
fn no_two_rules_share_a_name_and_each_says_who_mends_it() {
    let all: Vec<&str> = RULES.iter().map(|r| r.id).chain(WIDER.iter().map(|w| w.rule.id)).collect();
    assert_eq!(all.iter().collect::<BTreeSet<_>>().len(), all.len());
    for wide in WIDER {
        let source = wide.rule.source.to_string();
        assert!(source.contains("from memory") || source.contains("practice"), "{}", wide.rule.id);
        assert!(!wide.rule.cure.is_empty() && !wide.rule.title.is_empty());
    }
}

#[test]
fn of_what_nobody_looked_at_nothing_is_found() {
    let mut rig = rig();
    assert_eq!(rig.found(), ["no-card"].into());
    let panel = rig.f.panel().id;
    rig.looked(panel, AsFound::Opening, Saw::CannotTell);
    assert_eq!(rig.found(), ["no-card"].into());
    rig.looked(panel, AsFound::Opening, Saw::Yes);
    let audit = rig.audit(1);
    assert_eq!((audit.findings[0].rule, audit.findings[0].severity), ("open-space", Severity::Danger));
    assert_eq!(audit.said, "Found: 1 dangerous, 1 worth improving.");
}

// What is not so is kept with who said it and why; what is put off comes back on its day; what is dangerous is never put off.
#[test]
fn what_was_decided_of_a_finding_stands_beside_it() {
    let mut rig = rig();
    let panel = rig.f.panel().id;
    rig.looked(panel, AsFound::Screws, Saw::Yes);
    rig.looked(panel, AsFound::Water, Saw::Yes);
    let until = Timestamp::from_second(10 * 86_400).unwrap();
    for rule in ["wrong-screws", "wet-panel"] {
        rig.remark(panel, Remarks::Later { rule: rule.into(), until }, "");
    }
    let rules = |all: &[Finding]| all.iter().map(|f| f.rule).collect::<Vec<_>>();
    let audit = rig.audit(5);
    assert_eq!((rules(&audit.findings), rules(&audit.later)), (vec!["wet-panel", "no-card"], vec!["wrong-screws"]));
    assert_eq!(rules(&rig.audit(11).findings), ["wet-panel", "wrong-screws", "no-card"], "its day has come");
    rig.remark(panel, Remarks::NotSo { rule: "wrong-screws".into(), found: String::new() }, "they are the maker's own");
    let audit = rig.audit(11);
    assert_eq!(rules(&audit.not_so), ["wrong-screws"]);
    let decided = audit.not_so[0].decided.clone().unwrap();
    assert_eq!((decided.who.as_str(), decided.note.as_str()), ("Fern", "they are the maker's own"));
    // Seen anew, it is found anew; and no word takes a danger away.
    rig.looked(panel, AsFound::Screws, Saw::Yes);
    assert!(rules(&rig.audit(11).findings).contains(&"wrong-screws"));
    rig.remark(panel, Remarks::NotSo { rule: "wet-panel".into(), found: String::new() }, "it was dew");
    let wet = rig.audit(11).findings.into_iter().find(|f| f.rule == "wet-panel").unwrap();
    assert_eq!(wet.decided.unwrap().note, "it was dew");
    rig.looked(panel, AsFound::Water, Saw::No);
    assert!(!rules(&rig.audit(11).findings).contains(&"wet-panel"), "somebody looked again");
    let id = RemarkId(900);
    let says = Remarks::NotSo { rule: "no-card".into(), found: String::new() };
    let bare = Remark { id, of: panel.into(), says, time: until, who: "Fern".into(), note: String::new() };
    let refused = rig.f.house.apply(&Change::PutRemark { remark: bare }).unwrap_err();
    assert_eq!(refused.field, "remark.note", "a reason is asked for");
}

// Handbook 6: what somebody said of 20 A on 14 AWG says nothing of 30 A on it.
#[test]
fn what_was_decided_of_what_is_entered_ends_when_that_changes() {
    let mut rig = rig();
    let breaker = rig.breakers[0];
    let with = |rig: &mut Rig, amps: f64| {
        let b = rig.f.house.breakers.get(breaker).unwrap().clone();
        rig.f.house.breakers.put(crate::house::Breaker { amps: crate::base::units::Amps(amps), ..b });
    };
    with(&mut rig, 17.0);
    let odd = |rig: &Rig| rig.audit(1).findings.into_iter().find(|f| f.rule == "standard-rating");
    let found = odd(&rig).unwrap().why;
    rig.remark(breaker, Remarks::NotSo { rule: "standard-rating".into(), found }, "it says so on its handle");
    assert!(odd(&rig).is_none() && rig.audit(1).not_so.len() == 1);
    with(&mut rig, 18.0);
    assert!(odd(&rig).is_some(), "of 18 A nobody said anything");
    with(&mut rig, 17.0);
    assert!(odd(&rig).is_none(), "17 A again");
}

// A breaker without a wire has one record, whether it was seen in a walk or entered; what goes to it is first taken off.
#[test]
fn no_wire_on_a_breaker_is_kept_in_one_place() {
    let mut rig = rig();
    let breaker = rig.breakers[1];
    rig.looked(breaker, AsFound::NoWire, Saw::Yes);
    assert!(rig.f.house.breakers.get(breaker).unwrap().unwired);
    assert!(rig.found().contains("unwired") && !rig.found().contains("feeds-nothing"));
    rig.looked(breaker, AsFound::NoWire, Saw::No);
    assert!(!rig.f.house.breakers.get(breaker).unwrap().unwired && !rig.found().contains("unwired"));
}

// What was seen of a breaker goes with it, and speaks of no new one in its place.
#[test]
fn what_was_seen_of_a_thing_goes_with_it() {
    let mut rig = rig();
    let breaker = rig.breakers[0];
    rig.looked(breaker, AsFound::DoesNotStay, Saw::Yes);
    assert!(rig.found().contains("does-not-stay"));
    let old = rig.f.house.breakers.get(breaker).unwrap().clone();
    let since = Some(Timestamp::from_second(99_999).unwrap());
    rig.change(&Change::PutBreaker { breaker: Breaker { since, ..old } });
    assert!(!rig.found().contains("does-not-stay"), "a new one stands there");
    let applied = rig.f.house.apply(&Change::RemoveBreaker { breaker }).unwrap();
    assert!(applied.house.remarks.iter().next().is_none());
    let back = applied.house.apply_edits(crate::house::invert(applied.edits.clone())).unwrap();
    assert_eq!(back.house.remarks.len(), 1, "and comes back with it");
    let remark = Remark { of: breaker.into(), id: RemarkId(901), ..rig.f.house.remarks.iter().next().unwrap().clone() };
    assert_eq!(applied.house.apply(&Change::PutRemark { remark }).unwrap_err().field, "remark.of");
}

// ANSI C84.1 and handbook 1.1, from memory: 97 and 143 V are an open neutral, 108 V is out of Range B.
#[test]
fn what_was_measured_and_tested_is_found_too() {
    let mut rig = rig();
    let panel = rig.f.panel().id;
    let read = |a: f64, b: f64| ServiceReading {
        a_n: Volts(a),
        b_n: Volts(b),
        a_b: Volts(a + b),
        c_n: None,
        b_c: None,
        c_a: None,
    };
    rig.log(Event::Volts { panel, reading: read(97.0, 143.0) });
    assert!(rig.found().contains("service-volts"));
    rig.log(Event::Volts { panel, reading: read(108.0, 108.0) });
    let found = rig.found();
    assert!(!found.contains("service-volts") && found.contains("volts-band"), "the last reading counts: {found:?}");
    rig.log(Event::Volts { panel, reading: read(120.0, 121.0) });
    assert_eq!(rig.found(), ["no-card"].into());
    let breaker = rig.breakers[0];
    let device = Breaker { device: Device::Gfci, bad: true, ..rig.f.house.breakers.get(breaker).unwrap().clone() };
    rig.change(&Change::PutBreaker { breaker: device });
    rig.log(Event::BreakerTest { breaker, passed: false });
    assert!(rig.found().is_superset(&["bad-breaker", "failed-test"].into()));
}

#[test]
fn an_old_label_is_disproved_by_what_is_proven_alone() {
    let mut rig = rig();
    let label = |rig: &mut Rig, text: &str| {
        let old = rig.f.house.breakers.get(rig.breakers[0]).unwrap().clone();
        rig.change(&Change::PutBreaker { breaker: Breaker { label: text.into(), ..old } });
    };
    label(&mut rig, "Dryer");
    assert!(rig.found().contains("wrong-label"));
    for right in ["Store", "Plugs", ""] {
        label(&mut rig, right);
        assert!(!rig.found().contains("wrong-label"), "{right}");
    }
}

// Handbook 5.1: what is behind the cover is asked of qualified people alone.
#[test]
fn an_inspection_asks_what_nobody_looked_at_until_all_is_answered() {
    let mut rig = rig();
    let anybody = inspection(&rig.f.house, false);
    assert!(anybody.open.iter().all(|ask| ask.stand != LookWhere::Open));
    let first = &anybody.open[0];
    assert_eq!((first.fact, first.severity), (AsFound::Scorched, Severity::Danger));
    let asked = inspection(&rig.f.house, true).open.len();
    let panel = rig.f.panel().id;
    let opens = |rig: &Rig| inspection(&rig.f.house, true).open.iter().any(|ask| ask.stand == LookWhere::Open);
    assert!(opens(&rig));
    for fact in [AsFound::Scorched, AsFound::Water] {
        rig.looked(panel, fact, Saw::Yes);
        assert!(!opens(&rig), "{fact:?}: nobody opens it for a question");
        rig.f.house.remarks = Default::default();
    }
    assert!(asked > anybody.open.len() && asked <= LOOKS.len());
    let mut found = BTreeSet::new();
    for nth in 0.. {
        let Some(ask) = inspection(&rig.f.house, true).open.into_iter().next() else { break };
        assert!(nth < LOOKS.len(), "{ask:?}");
        // Every other thing is not well, but none for which nobody would open it.
        let is_bad = nth % 2 == 1 && ask.fact != AsFound::Water;
        let bad = if ask.well == Saw::Yes { Saw::No } else { Saw::Yes };
        match (&ask.pick, is_bad) {
            (_, false) => rig.looked(ask.of, ask.fact, ask.well),
            (Some(Picked::Breaker { .. }), _) => rig.looked(rig.breakers[1], ask.fact, bad),
            (Some(Picked::Point { .. }), _) => {
                let point = rig.f.house.points.iter().next().unwrap().id;
                rig.looked(point, ask.fact, bad);
            }
            (None, _) => rig.looked(ask.of, ask.fact, bad),
        }
        if is_bad {
            found.extend(LOOKS.iter().filter(|look| look.fact == ask.fact).map(|look| look.rule.id));
        }
    }
    let done = inspection(&rig.f.house, true);
    assert_eq!((done.open.len(), done.asked.len(), done.seconds.0), (0, asked, 0.0));
    let told: BTreeSet<_> = rig.audit(1).findings.iter().map(|f| f.rule).filter(|rule| *rule != "no-card").collect();
    assert_eq!(told, found, "what was planted is found, and nothing else");
}

#[test]
fn causes_and_what_mending_takes_speak_of_rules_that_there_are() {
    let all: BTreeSet<&str> = RULES.iter().map(|r| r.id).chain(WIDER.iter().map(|w| w.rule.id)).collect();
    for rule in cause::rules().chain(crate::rules::takes::rules()) {
        assert!(all.contains(rule), "{rule} is no rule");
    }
}

// Common practice: outlets in a row that lost their neutral have one break before the first of them.
#[test]
fn findings_of_one_cause_say_which_it_is() {
    let mut rig = rig();
    let room = rig.f.room("Loft");
    let breakers = rig.breakers;
    for (nth, breaker) in [breakers[0], breakers[0], breakers[1]].into_iter().enumerate() {
        let point = rig.f.point(&format!("L{nth}"), room, PointKind::Receptacle);
        for other in breakers {
            for _ in 0..2 {
                rig.f.see(point, &[other], if other == breaker { Dead } else { Live });
            }
        }
        rig.f.observe(point, Observation::Fault { fault: Fault::OpenNeutral });
    }
    let causes: Vec<Option<String>> =
        rig.audit(1).findings.into_iter().filter(|f| f.rule == "open-neutral").map(|f| f.cause).collect();
    let one = Some("a break in the neutral on breaker 1".to_owned());
    assert_eq!(causes, [one.clone(), one, None], "the third is alone on another breaker");
}

// Handbook 6: no finding from what nobody knows, but a short list of what is worth finding out.
#[test]
fn what_is_not_known_is_a_list_of_what_is_worth_finding_out() {
    let mut rig = rig();
    let said = |rig: &Rig| rig.audit(1).unknown.into_iter().map(|u| u.page).collect::<BTreeSet<_>>();
    assert_eq!(said(&rig), ["log", "inspection", "house", "loads", "directory"].into(), "all is traced");
    let loft = rig.f.room("Loft");
    let there = rig.f.point("L9", loft, PointKind::Light);
    assert!(said(&rig).contains("trace"));
    let mut vague = |name: &str, kind| {
        let load = Load { amps: Some(Amps(9.0)), ..Load::new(LoadId(900), there, name, kind) };
        rig.f.house.loads.put(load);
        rig.audit(1).unknown.iter().filter(|u| u.what.contains("name does not say what it is")).count()
    };
    let told = [("gizmo", LoadKind::Other), ("kettle", LoadKind::Other), ("gizmo", LoadKind::Oven)];
    assert_eq!(told.map(|(name, kind)| vague(name, kind)), [1, 0, 0], "by its name, or by what somebody said it is");
    let reading =
        ServiceReading { a_n: Volts(120.0), b_n: Volts(120.0), a_b: Volts(240.0), c_n: None, b_c: None, c_a: None };
    let panel = rig.f.panel().id;
    rig.log(Event::Volts { panel, reading });
    assert!(!said(&rig).contains("log"));
}

// What was stuck on a plate is kept, and is a finding once the map says another circuit.
#[test]
fn a_plate_that_says_another_circuit_is_found() {
    let mut rig = rig();
    let point = rig.f.house.points.iter().next().unwrap().id;
    rig.remark(point, Remarks::Labelled { text: "Main 1".into() }, "");
    assert!(!rig.found().contains("stale-plate"));
    rig.remark(point, Remarks::Labelled { text: "Main 3".into() }, "");
    let stale = rig.audit(1).findings.into_iter().find(|f| f.rule == "stale-plate").unwrap();
    assert_eq!(stale.why, "it says Main 3, and it is Main 1");
    // What it says is no longer proven: that is not said to be so.
    rig.f.house.evidence = crate::base::table::Table::default();
    let stale = rig.audit(1).findings.into_iter().find(|f| f.rule == "stale-plate").unwrap();
    assert_eq!((stale.why.as_str(), stale.rests), ("it says Main 3, and what feeds it is not proven", Rests::Likely));
}

// Handbook 6: a point that is dead only with two breakers off, and a breaker that feeds nothing found; a spare that is marked is none.
#[test]
fn what_two_breakers_feed_and_what_feeds_nothing_is_found() {
    let mut rig = rig();
    let [one, three] = rig.breakers;
    let idle = rig.f.breaker("5", 15.0, "");
    assert!(rig.found().contains("feeds-nothing"));
    let marked = Breaker { label: "Spare".into(), ..rig.f.house.breakers.get(idle).unwrap().clone() };
    rig.f.house.breakers.put(marked);
    assert!(!rig.found().contains("feeds-nothing"));
    let room = rig.f.room("Loft");
    let both = rig.f.point_at("L1", room, PointKind::Appliance, Some(NominalVolts::V240));
    let pair = rig.f.breaker("2-4", 30.0, "spare");
    rig.f.all_is_entered();
    for _ in 0..3 {
        rig.f.see(both, &[], Live);
        rig.f.see(both, &[one, three], Dead);
        rig.f.see(both, &[one], Live);
        rig.f.see(both, &[three], Dead);
        rig.f.see(both, &[idle, pair], Live);
        rig.f.see(both, &[three, idle], Live);
    }
    let found = rig.audit(1).findings.into_iter().find(|f| f.rule == "fed-by-two").unwrap();
    assert_eq!((found.point, found.severity), (Some(both), Severity::Mend));
    assert!(found.why.contains("1 and 3 both off"), "{}", found.why);
}

// By hand: two 4.8 kW heaters on one leg pair of a 60 A panel are 40 A a leg; with a third, 60 A, and a fourth, 80 A: over its main.
#[test]
fn a_leg_over_its_rating_and_a_service_too_small_are_found() {
    let mut rig = rig();
    let panel = rig.f.panel().clone();
    rig.f.house.panels.put(crate::house::Panel { main: Some(Amps(60.0)), ..panel });
    rig.f.house.about.area = Some(LivingArea { value: 1500.0, unit: AreaUnit::Ft2 });
    let room = rig.f.room("Workshop");
    let places = ["2-4", "6-8", "10-12", "14-16"];
    let breakers: Vec<BreakerId> = places.iter().map(|at| rig.f.breaker(at, 30.0, "heater")).collect();
    for (nth, breaker) in breakers.iter().enumerate() {
        let point = rig.f.point_at(&format!("W{nth}"), room, PointKind::Appliance, Some(NominalVolts::V240));
        let others: Vec<BreakerId> = rig.f.house.breakers.iter().map(|b| b.id).filter(|b| b != breaker).collect();
        for _ in 0..2 {
            rig.f.see(point, &[*breaker], Dead);
            rig.f.see(point, &others, Live);
        }
    }
    let heaters = |rig: &mut Rig, n: usize| {
        let points: Vec<_> = rig.f.house.points.iter().filter(|p| p.room == room).map(|p| p.id).take(n).collect();
        for (nth, point) in points.into_iter().enumerate() {
            let load = Load::new(LoadId(800 + nth as u64), point, "heater", LoadKind::Heating);
            rig.f.house.loads.put(Load { watts: Some(Watts(4800.0)), habit: Some(Habit::Always), ..load });
        }
    };
    heaters(&mut rig, 2);
    assert!(!rig.found().contains("leg-over"));
    heaters(&mut rig, 4);
    let found = rig.found();
    assert!(found.contains("leg-over") && found.contains("service-over"), "{found:?}");
}

// ANSI/NETA MTS, table 100.18, from memory: 4 to 15 degrees between like parts at like load is probable, above 15 repair now. What
// carries more is warmer, and no fault by that.
#[test]
fn a_hot_breaker_is_told_from_one_that_carries_more() {
    let read = |rig: &mut Rig, breaker: BreakerId, quantity: Quantity, value: f64| {
        rig.next += 1;
        let place = MeasuredAt::Breaker { breaker, pole: None, side: Side::default() };
        let (id, time) = (ReadingId(rig.next), Timestamp::from_second(rig.next as i64).unwrap());
        let (instrument, span) = (Instrument::Infrared, Span::Spot);
        let (who, on) = ("Fern".to_owned(), BTreeSet::new());
        rig.f.house.readings.put(Reading { id, time, who, place, quantity, value, instrument, span, on, sure: false });
    };
    let found = |degrees: [f64; 2], amps: Option<[f64; 2]>| {
        let mut rig = rig();
        for nth in [0, 1] {
            let breaker = rig.breakers[nth];
            read(&mut rig, breaker, Quantity::Degrees, degrees[nth]);
            if let Some(amps) = amps {
                read(&mut rig, breaker, Quantity::Amps { of: None }, amps[nth]);
            }
        }
        rig.audit(1).findings.into_iter().find(|f| f.rule == "hot-spot").map(|f| (f.severity, f.rests))
    };
    assert_eq!(found([38.0, 29.0], Some([11.0, 10.0])), Some((Severity::Mend, Rests::Entered)));
    assert_eq!(found([48.0, 29.0], Some([11.0, 10.0])), Some((Severity::Danger, Rests::Entered)));
    assert_eq!(found([38.0, 29.0], Some([12.0, 1.0])), None, "it carries far more");
    assert_eq!(found([38.0, 29.0], None), None, "nobody knows what they carry");
    assert_eq!(found([48.0, 29.0], None), Some((Severity::Mend, Rests::Likely)));
    assert_eq!(found([36.0, 29.0], Some([2.0, 2.0])), Some((Severity::Mend, Rests::Entered)), "hot at little");
    assert_eq!(found([48.0, 29.0], Some([2.0, 2.0])), Some((Severity::Danger, Rests::Entered)), "worse than at much");
}
