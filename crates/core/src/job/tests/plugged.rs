//! What is relieved of is plugged in at an outlet of another circuit. (handbook 5.16)

use super::*;

const KETTLE: LoadId = LoadId(1);

/// A counter with a kettle and a toaster on one circuit, and outlets of every sort beside.
struct Counter {
    s: Site,
    full: BreakerId,
    spare: PointId,
    same: PointId,
    busy: PointId,
    untraced: PointId,
    large: PointId,
}

fn counter() -> Counter {
    let mut s = Site::new(12);
    let [full, free, loaded] = ["1", "2", "3"].map(|at| s.breaker(at, 20.0));
    let two = s.breaker("5-7", 20.0);
    let outlet = |s: &mut Site, tag: &str, volts| s.point(tag, "Kitchen", PointKind::Receptacle, volts);
    let [old, same, spare, busy, untraced] =
        ["K1", "K2", "K3", "K4", "K5"].map(|tag| outlet(&mut s, tag, NominalVolts::V120));
    let large = outlet(&mut s, "K6", NominalVolts::V240);
    s.entered();
    for (point, breaker) in [(old, full), (same, full), (spare, free), (busy, loaded), (large, two)] {
        s.hang(point, breaker);
    }
    for (id, at, name, amps) in [(1, old, "kettle", 12.0), (2, same, "toaster", 8.0), (3, busy, "mixer", 9.0)] {
        let habit = Some(Habit::Always);
        s.f.house.loads.put(Load { amps: Some(Amps(amps)), habit, ..Load::new(LoadId(id), at, name, LoadKind::Other) });
    }
    Counter { s, full, spare, same, busy, untraced, large }
}

impl Counter {
    fn plugged(&self, to: PointId) -> Goal {
        Goal::Relieve(Relief { to: Some(to), ..relief(self.full, Some(KETTLE)) })
    }
}

// Nothing is opened, and the record follows the plug once it was watched; with nothing dead, there is nothing to be left unsafe.
#[test]
fn it_goes_to_an_outlet_that_carries_it_and_nothing_is_opened() {
    let c = counter();
    let told = c.s.plan(&Goal::Relieve(relief(c.full, None)));
    let way = told.ways.iter().find(|way| way.of == "Or is plugged in elsewhere").unwrap();
    assert_eq!(way.goal, c.plugged(c.spare), "{:?}", told.ways);
    let plan = c.s.plan(&way.goal);
    assert!(plan.is_open() && plan.panel_closed, "{:?}", plan.refused);
    assert!(plan.steps.iter().all(|step| step.stage != Stage::Dead && step.switches.is_none()), "{:?}", plan.steps);
    assert!(plan.parts.is_empty() && plan.who.said.starts_with("Anybody"));
    let chosen: Vec<&str> = plan.ways.iter().filter(|way| way.chosen).map(|way| way.of.as_str()).collect();
    assert_eq!(chosen, ["Or is plugged in elsewhere"], "and a circuit of its own is still a choice");
    let house = begun(&c.s.f.house, &way.goal);
    assert_eq!(work::now(&house, job(&house)).leave_safe, "Nothing is opened for it: just leave.");
    let at = |house: &House| house.loads.get(KETTLE).unwrap().point;
    let midway = one_right(&one_right(&house));
    assert_eq!(at(&midway), at(&c.s.f.house), "not before it was watched");
    assert_eq!(at(&to_the_end(house)), c.spare);
    // Beside work in the panel it is a job of its own.
    assert!(c.s.rules(&together(vec![way.goal.clone(), replace(c.full)]).unwrap()).contains(&"in-a-box"));
}

// Unknown is never shown as safe: an outlet that nobody traced may hang on the same breaker.
#[test]
fn an_outlet_that_does_not_relieve_is_refused_by_its_rule() {
    let c = counter();
    let tries =
        [(c.same, "same-circuit"), (c.busy, "full-circuit"), (c.untraced, "not-traced"), (c.large, "other-outlet")];
    for (to, rule) in tries {
        assert!(c.s.rules(&c.plugged(to)).contains(&rule), "{rule}");
    }
    assert_eq!(c.s.tried(&c.plugged(PointId(7777))).unwrap_err().field, "to");
    let mut wired = c;
    let old = wired.s.f.house.loads.get(KETTLE).unwrap().point;
    let point = wired.s.f.house.points.get(old).unwrap().clone();
    wired.s.f.house.points.put(Point { kind: PointKind::Appliance, ..point });
    assert!(wired.s.rules(&wired.plugged(wired.spare)).contains(&"no-plug"));
}

// Somebody else saw meanwhile that the outlet hangs elsewhere: what the plan rests on is gone.
#[test]
fn what_is_seen_otherwise_meanwhile_stops_it_at_its_end() {
    let c = counter();
    let mut house = begun(&c.s.f.house, &c.plugged(c.spare));
    let mut f = c.s.f;
    for _ in 0..3 {
        f.see(c.spare, &[c.full], Seen::Dead);
    }
    house.evidence = f.house.evidence.clone();
    while job(&house).next().is_some_and(|step| step.key != "watch") {
        house = one_right(&house);
    }
    let refused = act(&house, JobAct::Done { step: "watch".into(), noted: String::new() }).unwrap_err();
    assert!(refused.message.contains("was seen otherwise"), "{refused:?}");
}
