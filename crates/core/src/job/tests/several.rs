//! Several jobs in one shutdown.

use super::*;

fn circuit(s: &Site, nth: u64, kind: LoadKind, amps: f64) -> NewCircuit {
    let mut new = s.new_circuit(NominalVolts::V240);
    new.point = Point { id: PointId(9200 + nth), tag: format!("Y{nth}"), ..new.point };
    new.load = Some(Load { amps: Some(Amps(amps)), ..Load::new(LoadId(9200 + nth), new.point.id, kind.said(), kind) });
    NewCircuit { breaker: BreakerId(9200 + nth), circuit: CircuitId(9200 + nth), neutral: Some(true), ..new }
}

fn several(goals: &[Goal]) -> Goal {
    together(goals.to_vec()).unwrap()
}

/// A full panel of twenty spaces: two-poles below, singles above, every one proven.
fn full_of_twenty() -> (Site, Vec<BreakerId>) {
    let mut s = Site::new(20);
    let at = ["1", "2", "3", "4", "5", "6", "7", "8", "9", "10", "11", "12", "13-15", "14-16", "17-19", "18-20"];
    let breakers: Vec<BreakerId> = at.iter().map(|at| s.breaker(at, 20.0)).collect();
    let volts = |nth: usize| if at[nth].contains('-') { NominalVolts::V240 } else { NominalVolts::V120 };
    let kitchen = |n: usize| s_point(n, volts(n));
    let points: Vec<_> = (0..at.len()).map(kitchen).collect();
    let points: Vec<PointId> =
        points.into_iter().map(|(tag, volts)| s.point(&tag, "Kitchen", PointKind::Receptacle, volts)).collect();
    s.entered();
    points.iter().zip(&breakers).for_each(|(point, breaker)| s.hang(*point, *breaker));
    (s, breakers)
}

fn s_point(nth: usize, volts: NominalVolts) -> (String, NominalVolts) {
    (format!("H{}", nth + 1), volts)
}

// Handbook 5.6, 5.10, 5.13: a range, a charger and a sub-panel in a full panel of twenty are one plan: what moves over makes room for all
// of them, the power goes off once, and what was proven stays so.
#[test]
fn a_range_a_charger_and_a_sub_panel_are_one_plan_in_a_full_panel() {
    let (s, _) = full_of_twenty();
    let range = Goal::Dedicated(circuit(&s, 1, LoadKind::Range, 40.0));
    let charger = Goal::Dedicated(circuit(&s, 2, LoadKind::CarCharger, 32.0));
    let told = s.plan(&several(&[range.clone(), charger, Goal::SubPanel(sub_panel(&[]))]));
    assert!(told.is_open(), "{:?} {:?}", told.refused, told.asks);
    let order: Vec<&str> = told.goal.each().iter().map(|goal| kinds::of(goal).name).collect();
    assert_eq!(order, ["sub-panel", "dedicated", "dedicated"], "what makes room goes first");
    let off = |step: &&JobStep| step.switches.as_ref().is_some_and(|s| !s.on && s.panel.is_some());
    assert_eq!(told.steps.iter().filter(off).count(), 1, "the power goes off once");
    let keys: BTreeSet<&str> = told.steps.iter().map(|step| step.key.as_str()).collect();
    assert_eq!(keys.len(), told.steps.len());
    let house = told.becomes(&s.f.house).unwrap();
    house.check().unwrap();
    let (main, sub) = (house.breakers_of(PanelId(1)).len(), house.breakers_of(PanelId(9100)).len());
    assert_eq!((main + sub, sub), (19, 3), "three two-poles go over: six spaces for a feeder, a range and a charger");
    let before = trace::beliefs(&s.f.house).hangs();
    let then = trace::beliefs(&house).hangs();
    assert!(before.iter().all(|hung| then.iter().any(|h| h.point == hung.point && h.breaker == hung.breaker)));
    assert!(told.spared.starts_with("One shutdown") && told.parts.iter().any(|part| part.what.contains("50 A")));
    // Planned again with every choice made it is the same plan.
    assert_eq!(s.plan(&told.goal).steps, told.steps);
    // Each on its own finds no room.
    assert_eq!(s.rules(&range), ["no-room"]);
}

// Handbook 5.16: beside other jobs, too, what is relieved of is one choice, and the room for it another.
#[test]
fn choices_of_one_job_stay_apart_beside_others() {
    let mut s = Site::new(12);
    let (full, other) = (s.breaker("1", 15.0), s.breaker("2", 20.0));
    let [one, two] = ["K1", "K2"].map(|tag| s.point(tag, "Kitchen", PointKind::Receptacle, NominalVolts::V120));
    s.entered();
    [one, two].into_iter().for_each(|point| s.hang(point, full));
    for (id, at, name) in [(1, one, "kettle"), (2, two, "toaster")] {
        s.f.house.loads.put(Load { amps: Some(Amps(9.0)), ..Load::new(LoadId(id), at, name, LoadKind::Other) });
    }
    let relieve = Goal::Relieve(relief(full, Some(LoadId(2))));
    let told = s.plan(&several(&[relieve, replace(other)]));
    assert!(told.is_open(), "{:?} {:?}", told.refused, told.asks);
    let choices: BTreeSet<&str> = told.ways.iter().map(|way| way.of.as_str()).collect();
    for of in &choices {
        let chosen = told.ways.iter().filter(|way| way.of == *of && way.chosen).count();
        assert!(chosen <= 1, "{of}: {:?}", told.ways);
    }
    assert!(choices.iter().any(|of| of.ends_with(": What gets a circuit of its own")), "{choices:?}");
}

// Handbook 5.12: the space of a circuit that goes is there for the one that comes, whichever was named first.
#[test]
fn what_frees_a_space_goes_first() {
    let (s, b) = full_of_twenty();
    let new = NewCircuit {
        load: None,
        point: Point { volts: Some(NominalVolts::V120), ..s.new_circuit(NominalVolts::V120).point },
        ..s.new_circuit(NominalVolts::V120)
    };
    let retire = Goal::Retire { breaker: b[4], spare: false };
    let told = s.plan(&several(&[Goal::Add(new.clone()), retire.clone()]));
    assert!(told.is_open(), "{:?} {:?}", told.refused, told.asks);
    assert_eq!(told.goal.new_circuits().next().unwrap().at, parse_poles("5").unwrap());
    assert_eq!(told.becomes(&s.f.house).unwrap().breakers.len(), 16);
    // In the order that somebody wants there is no room yet.
    let wanted = Goal::Several { goals: vec![Goal::Add(new), retire], in_order: true };
    assert!(s.rules(&wanted).contains(&"no-room"));
}

#[test]
fn what_cannot_be_one_shutdown_is_refused_in_the_name_of_its_job() {
    let (mut s, b) = full_of_twenty();
    let yard = s.f.house.panels.get(PanelId(1)).unwrap().clone();
    s.f.house.panels.put(Panel { id: PanelId(2), name: "Yard".into(), fed_by: None, ..yard });
    let there = BreakerId(7777);
    s.f.house.breakers.put(Breaker::new(there, PanelId(2), parse_poles("1").unwrap(), Amps(20.0)));
    let told = s.plan(&several(&[replace(b[0]), replace(there)]));
    assert_eq!(told.refused.iter().map(|no| no.rule).collect::<Vec<_>>(), ["another-panel"]);
    assert!(told.refused[0].why.contains("Yard"), "{:?}", told.refused);
    // One that is gone by then cannot be worked on; nothing is several within several, nor one alone.
    let gone = Goal::Retire { breaker: b[0], spare: false };
    assert!(s.tried(&several(&[gone.clone(), replace(b[0])])).unwrap_err().field.starts_with("goals.1"));
    let nested =
        Goal::Several { goals: vec![replace(b[1]), several(&[replace(b[2]), replace(b[3])])], in_order: false };
    assert_eq!(s.tried(&nested).unwrap_err().field, "goals");
    assert_eq!(s.tried(&Goal::Several { goals: vec![gone], in_order: false }).unwrap_err().field, "goals");
    // Hands in a box with the panel closed, and hands in the panel, are two jobs: neither is done by the other's steps.
    let splice = Goal::Splice { point: s.f.house.points.iter().next().unwrap().id };
    assert!(s.rules(&several(&[replace(b[0]), splice])).contains(&"in-a-box"));
    // What has to be known is asked in its name.
    let open = NewCircuit { neutral: None, ..circuit(&s, 1, LoadKind::Range, 40.0) };
    let asked = s.plan(&several(&[replace(b[0]), Goal::Dedicated(open)])).asks;
    assert!(asked[0].question.starts_with("An outlet for range: ") && asked[0].field == "neutral", "{asked:?}");
}

// Tags number on, and a panel that one of them adds may be named by another.
#[test]
fn what_is_asked_for_beside_numbers_on_and_knows_the_new_panel() {
    let mut s = Site::new(12);
    s.entered();
    let of = |json: serde_json::Value| serde_json::from_value(json).unwrap();
    let room = s.room.0;
    let loft = 9302;
    let jobs = [
        ("sub-panel", serde_json::json!({ "spaces": 8, "name": "Loft" })),
        ("add", serde_json::json!({ "room": room, "panel": loft })),
        ("add", serde_json::json!({ "room": room, "panel": loft })),
    ];
    let goals = in_turn(&s.f.house, jobs, 9300, |house, (name, said), first| kind(name)?.goal(house, &of(said), first));
    let goals = goals.unwrap();
    let tags: BTreeSet<String> = goals.iter().flat_map(Goal::new_circuits).map(|n| n.point.tag.clone()).collect();
    let panels: Vec<u64> = goals.iter().flat_map(Goal::new_circuits).map(|n| n.panel.0).collect();
    assert_eq!((tags.len(), panels), (2, vec![loft, loft]));
    let told = s.plan(&together(goals).unwrap());
    assert!(told.is_open(), "{:?} {:?}", told.refused, told.asks);
    let house = told.becomes(&s.f.house).unwrap();
    assert_eq!(house.breakers_of(PanelId(loft)).len(), 2, "both hang in the panel that comes with them");
    house.check().unwrap();
}
