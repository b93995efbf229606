//! Circuits, legs and sets in small houses with draws that were measured.

use super::circuits::CircuitLoad;
use super::drawing::Drawn;
use super::draws::draws;
use super::legs::PanelLegs;
use super::together::{RunTogether, Set, together};
use super::{Loaded, Loads, round};
use crate::base::units::{Amps, NominalVolts, Watts};
use crate::fixture::Fixture;
use crate::house::House;
use crate::house::Seen::{Dead, Live};
use crate::house::{
    BreakerId, Conductor, Crew, Habit, Instrument, Load, LoadId, LoadKind, MeasuredAt, PanelId, PointKind, Quantity,
    Reading, ReadingId, Round, Run, RunId, Side, Span,
};
use crate::rules;
use crate::trace::beliefs;

fn loads(house: &House) -> Loads {
    let beliefs = beliefs(house);
    let draws = draws(house, &beliefs);
    super::loads(&Loaded::new(house, &beliefs, &draws))
}

/// A bakehouse: a mixer and a proofing cabinet on one breaker of leg A, a heater on one of leg B, a deck oven on both.
struct Bakehouse {
    f: Fixture,
    one: BreakerId,
    three: BreakerId,
    oven: BreakerId,
}

const MIXER: LoadId = LoadId(1);
const CABINET: LoadId = LoadId(2);
const HEATER: LoadId = LoadId(3);
const OVEN: LoadId = LoadId(4);

impl Bakehouse {
    fn new() -> Self {
        let mut f = Fixture::new(12);
        let room = f.room("Bakehouse");
        let (one, three, oven) = (f.breaker("1", 20.0, ""), f.breaker("3", 15.0, ""), f.breaker("5-7", 50.0, ""));
        let points = [
            (
                "B1",
                one,
                NominalVolts::V120,
                &[(MIXER, "mixer", 11.0, Habit::Meals), (CABINET, "proofing cabinet", 12.0, Habit::Hours)][..],
            ),
            ("B2", three, NominalVolts::V120, &[(HEATER, "heater", 12.5, Habit::Season)]),
            ("B3", oven, NominalVolts::V240, &[(OVEN, "deck oven", 42.0, Habit::Hours)]),
        ];
        for (tag, breaker, volts, on) in points {
            let point = f.point_at(tag, room, PointKind::Receptacle, Some(volts));
            for _ in 0..3 {
                f.see(point, &[breaker], Dead);
                let others: Vec<_> = [one, three, oven].into_iter().filter(|b| *b != breaker).collect();
                f.see(point, &others, Live);
            }
            for (id, name, amps, habit) in on {
                let load = Load::new(*id, point, *name, LoadKind::Other);
                f.house.loads.put(Load { amps: Some(Amps(*amps)), habit: Some(*habit), ..load });
            }
        }
        let mut house = Self { f, one, three, oven };
        for (breaker, on, amps) in [(one, MIXER, 11.0), (one, CABINET, 12.0), (three, HEATER, 12.5), (oven, OVEN, 42.0)]
        {
            for _ in 0..4 {
                house.read(MeasuredAt::Breaker { breaker, pole: None, side: Side::Load }, None, amps, &[on]);
            }
        }
        house
    }

    fn read(&mut self, place: MeasuredAt, of: Option<Conductor>, value: f64, on: &[LoadId]) {
        let id = ReadingId(self.f.house.readings.len() as u64 + 1);
        self.f.house.readings.put(Reading {
            id,
            time: jiff::Timestamp::from_second(id.0 as i64).unwrap(),
            who: "Wren".into(),
            place,
            quantity: Quantity::Amps { of },
            value,
            instrument: Instrument::Clamp,
            span: Span::Spot,
            on: on.iter().copied().collect(),
            sure: false,
        });
        self.f.house.check().unwrap();
    }

    fn circuit(&self, breaker: BreakerId) -> CircuitLoad {
        let all = loads(&self.f.house).circuits;
        all.into_iter().find(|c| c.breaker == breaker).unwrap()
    }

    fn legs(&self) -> PanelLegs {
        loads(&self.f.house).legs.remove(0)
    }

    fn together(&self, on: &[LoadId], breaker: Option<BreakerId>) -> RunTogether {
        let beliefs = beliefs(&self.f.house);
        let draws = draws(&self.f.house, &beliefs);
        let loaded = Loaded::new(&self.f.house, &beliefs, &draws);
        let on = on.iter().map(|l| Drawn::Load(*l)).collect();
        together(&self.f.house, &loaded.hung, &loaded.all, &Set { on, breaker })
    }
}

#[test]
fn a_round_goes_in_panel_order_and_expects_what_is_on() {
    let mut house = Bakehouse::new();
    let begun = jiff::Timestamp::UNIX_EPOCH;
    let round = Round { on: [MIXER, HEATER].into(), ..Round::default() };
    let run = Run {
        id: RunId(1),
        begun,
        ended: None,
        crew: Crew::default(),
        steps: 0,
        outages: 0,
        searched: [].into(),
        round: Some(round.clone()),
    };
    house.f.house.runs.put(run.clone());
    let beliefs = beliefs(&house.f.house);
    let draws = draws(&house.f.house, &beliefs);
    let now = |house: &House| round::now(house, &Loaded::new(house, &beliefs, &draws)).unwrap();
    let told = now(&house.f.house);
    let said: Vec<_> = told.places.iter().map(|p| p.said.as_str()).collect();
    let coming_in = ["leg A that comes in", "leg B that comes in", "the neutral that comes in"];
    assert_eq!(said, [&coming_in[..], &["the hot of 1", "the hot of 3", "the hot of 5-7"]].concat());
    // The mixer on leg A, the heater on leg B; the neutral carries their difference (handbook 1.3). [def]
    let expected: Vec<_> = told.places.iter().map(|p| p.expected).collect();
    for (at, amps) in [11.0, 12.5, 1.5, 11.0, 12.5, 0.0].into_iter().enumerate() {
        assert!(near(expected[at], amps), "{}: {expected:?}", said[at]);
    }
    assert_eq!(told.places[3].ask_above, Some(Amps(40.0)), "twice what breaker 1 holds");
    let only = Round { only: Some(house.three), ..round };
    house.f.house.runs.put(Run { round: Some(only), ..run });
    assert_eq!(now(&house.f.house).places.len(), 1);
}

fn near(a: Amps, b: f64) -> bool {
    (a.0 - b).abs() < 0.6
}

#[test]
fn an_overload_is_foretold_with_its_culprits() {
    let house = Bakehouse::new();
    let circuit = house.circuit(house.one);
    assert!(near(circuit.worst, 23.0) && near(circuit.usual, 23.0), "{circuit:?}");
    assert!(circuit.over > 0.6 && circuit.all_measured, "{circuit:?}");
    assert_eq!(circuit.culprits, ["proofing cabinet (B1)", "mixer (B1)"]);
    assert!(circuit.said.contains("Passes its 20 A") && circuit.said.contains("mixer"), "{}", circuit.said);
    assert_eq!(circuit.measured.unwrap().amps, Amps(12.0));
    let calm = house.circuit(house.three);
    assert!(calm.over < 0.01 && calm.culprits.is_empty() && calm.said.contains("Stays within"), "{calm:?}");
}

#[test]
fn what_is_not_known_is_never_counted_as_nothing_without_saying_so() {
    let mut house = Bakehouse::new();
    let room = house.f.house.rooms.iter().next().unwrap().id;
    let point = house.f.point("B9", room, PointKind::Receptacle);
    house.f.see(point, &[house.three], Dead);
    house.f.see(point, &[house.one, house.oven], Live);
    let circuit = house.circuit(house.three);
    assert_eq!(circuit.unknown, ["B9"]);
    assert!(circuit.said.contains("Bakehouse receptacle (B9) is not known and not counted"), "{}", circuit.said);
}

// Handbook 3.5 [def]: 240 V loads sit on both legs; the neutral carries what 120 V loads differ by.
#[test]
fn legs_are_sums_and_the_neutral_what_they_differ_by() {
    let mut house = Bakehouse::new();
    house.read(MeasuredAt::Main { panel: PanelId(1) }, Some(Conductor::A), 53.0, &[MIXER, OVEN]);
    let legs = house.legs();
    assert!(near(legs.each[0].worst, 65.0) && near(legs.each[1].worst, 54.5), "{legs:?}");
    assert!(near(legs.neutral, 23.0), "the fuller leg alone: {legs:?}");
    assert_eq!(legs.each[0].read.unwrap().amps, Amps(53.0));
    assert!(legs.each[1].read.is_none());
}

// 12.5 A that may be 13.3, a little of something else, and 13 A of rating: who makes it pass is the kettle.
#[test]
fn what_may_pass_only_by_its_error_names_what_draws_most() {
    let mut house = Bakehouse::new();
    let room = house.f.house.rooms.iter().next().unwrap().id;
    let breaker = house.f.breaker("9", 13.0, "");
    let point = house.f.point("B8", room, PointKind::Receptacle);
    let others = [house.one, house.three, house.oven];
    for _ in 0..3 {
        house.f.see(point, &[breaker], Dead);
        house.f.see(point, &others, Live);
    }
    for (id, name, watts) in [(21, "kettle", 1500.0), (22, "lamp", 30.0)] {
        let load = Load::new(LoadId(id), point, name, LoadKind::Other);
        house.f.house.loads.put(Load { watts: Some(crate::base::units::Watts(watts)), ..load });
    }
    let circuit = house.circuit(breaker);
    assert!(circuit.warns && circuit.worst.0 < 13.0, "{circuit:?}");
    assert_eq!(circuit.culprits, ["kettle (B8)"]);
}

// Oven and heater come to 54.5 A on leg B, and are not known to a tenth: of 55 A that is no yes.
#[test]
fn a_leg_that_is_nearly_full_is_no_yes() {
    let mut house = Bakehouse::new();
    let on = [OVEN, HEATER].map(Drawn::Load);
    let mut ask = |main: f64| {
        let panel = crate::house::Panel { main: Some(Amps(main)), ..house.f.panel().clone() };
        house.f.house.panels.put(panel);
        let beliefs = beliefs(&house.f.house);
        let draws = draws(&house.f.house, &beliefs);
        let loaded = Loaded::new(&house.f.house, &beliefs, &draws);
        together(&house.f.house, &loaded.hung, &loaded.all, &Set { on: on.into(), breaker: None }).said
    };
    assert!(!ask(200.0).contains("a leg of"), "{}", ask(200.0));
    assert!(ask(55.0).contains("Not sure: 54 A on a leg of Main (55 A)"), "{}", ask(55.0));
    assert!(ask(50.0).contains("No: 54 A on a leg of Main (50 A)"), "{}", ask(50.0));
}

#[test]
fn a_breaker_that_would_even_out_the_legs_is_named() {
    let mut f = Fixture::new(12);
    let room = f.room("Hall");
    let breakers = [f.breaker("1", 20.0, ""), f.breaker("2", 20.0, ""), f.breaker("3", 20.0, "")];
    for (n, breaker) in breakers.into_iter().enumerate() {
        let point = f.point(&format!("H{n}"), room, PointKind::Receptacle);
        for _ in 0..3 {
            f.see(point, &[breaker], Dead);
            let others: Vec<_> = breakers.into_iter().filter(|b| *b != breaker).collect();
            f.see(point, &others, Live);
        }
        let load = Load::new(LoadId(n as u64 + 1), point, format!("heater {n}"), LoadKind::Heating);
        f.house.loads.put(Load { amps: Some(Amps([12.0, 8.0, 2.0][n])), ..load });
    }
    let legs = loads(&f.house).legs.remove(0);
    assert!(legs.uneven > 0.2);
    assert_eq!(legs.moves[0].at, "2", "{:?}", legs.moves);
}

// UL 489 from memory: 23 A on 20 A is 115 %, below 135 %: may hold for long.
#[test]
fn may_these_run_together() {
    let house = Bakehouse::new();
    let both = house.together(&[MIXER, CABINET, OVEN], Some(house.one));
    let on_one = both.circuits.iter().find(|c| c.breaker == house.one).unwrap();
    assert!(near(on_one.amps, 23.0) && !on_one.holds.for_ever && on_one.holds.must_trip_within.is_none());
    assert!(both.said.starts_with("No: 22.9"), "{}", both.said);
    assert!(near(both.panels[0].legs[0], 65.0) && near(both.panels[0].neutral, 23.0), "{both:?}");
    let sets: Vec<Vec<Drawn>> = both.sets;
    assert_eq!(sets, [[Drawn::Load(CABINET)], [Drawn::Load(MIXER)]], "either, never both");
    assert!(house.together(&[HEATER], None).said.starts_with("Yes, as far as known"));
    // NEC 210.20(A) from memory: what runs for hours may take four fifths, 40 of 50 A.
    assert!(house.together(&[OVEN], None).said.starts_with("Not for hours: 41.9"));
}

#[test]
fn a_thing_of_one_leg_on_a_breaker_of_two_is_on_either() {
    let mut f = Fixture::new(12);
    let room = f.room("Kitchen");
    let pair = f.breaker("1-3", 20.0, "");
    for (n, tag) in ["K1", "K2"].into_iter().enumerate() {
        let point = f.point(tag, room, PointKind::Receptacle);
        f.see(point, &[pair], Dead);
        let load = Load::new(LoadId(n as u64 + 1), point, tag, LoadKind::Other);
        f.house.loads.put(Load { amps: Some(Amps(17.0)), habit: Some(Habit::Meals), ..load });
    }
    let beliefs = beliefs(&f.house);
    let draws = draws(&f.house, &beliefs);
    let loaded = Loaded::new(&f.house, &beliefs, &draws);
    let set = Set { on: [Drawn::Load(LoadId(1)), Drawn::Load(LoadId(2))].into(), breaker: None };
    let told = together(&f.house, &loaded.hung, &loaded.all, &set);
    // Both could hang on the same pole: that is what is told, being the most.
    assert!(told.circuits[0].amps.0 > 20.0 && told.panels[0].legs.iter().all(|l| l.0 > 20.0));
}

// Handbook 3.1: what takes two legs is on both wires that come in, whichever breaker it hangs on.
#[test]
fn before_anything_is_traced_the_legs_tell_of_what_takes_two() {
    use super::next::{Kit, next};
    let mut f = Fixture::new(12);
    for at in ["1", "3", "2-4", "6-8"] {
        f.breaker(at, 40.0, "");
    }
    let room = f.room("Bakehouse");
    let point = f.point_at("B1", room, PointKind::Appliance, Some(NominalVolts::V240));
    let oven = Load::new(LoadId(1), point, "kiln", LoadKind::Other);
    f.house.loads.put(Load { amps: Some(Amps(30.0)), ..oven });
    let told = |f: &Fixture| {
        let beliefs = beliefs(&f.house);
        let draws = draws(&f.house, &beliefs);
        let loaded = Loaded::new(&f.house, &beliefs, &draws);
        let kit = Kit { clamp: true, ..Kit::default() };
        (next(&f.house, &loaded, kit), draws.loads[0].amps.0)
    };
    let (proposed, believed) = told(&f);
    let leg = proposed[0].leg.unwrap();
    assert_eq!((leg.panel, proposed[0].on.as_slice()), (PanelId(1), &[LoadId(1)][..]));
    assert!((believed - 24.0).abs() > 3.0);
    f.house.readings.put(Reading {
        id: ReadingId(1),
        time: jiff::Timestamp::UNIX_EPOCH,
        who: "Ash".into(),
        place: MeasuredAt::Main { panel: leg.panel },
        quantity: Quantity::Amps { of: Some(leg.of) },
        value: 24.0,
        instrument: Instrument::Clamp,
        span: Span::Spot,
        on: [LoadId(1)].into(),
        sure: false,
    });
    let (proposed, believed) = told(&f);
    assert!((believed - 24.0).abs() < 1.0, "{believed}");
    assert_ne!(proposed.first().and_then(|next| next.leg), Some(leg), "it was read");
}

#[test]
fn the_next_reading_is_where_it_is_open_whether_the_rating_is_passed() {
    use super::next::{Kit, next};
    let mut house = Bakehouse::new();
    let room = house.f.house.rooms.iter().next().unwrap().id;
    let point = house.f.point("B4", room, PointKind::Receptacle);
    let others = [house.one, house.oven];
    for _ in 0..3 {
        house.f.see(point, &[house.three], Dead);
        house.f.see(point, &others, Live);
    }
    let kettle = Load::new(LoadId(9), point, "kettle", LoadKind::Other);
    house.f.house.loads.put(kettle);
    let beliefs = beliefs(&house.f.house);
    let draws = draws(&house.f.house, &beliefs);
    let loaded = Loaded::new(&house.f.house, &beliefs, &draws);
    let told = |kit: Kit| next(&house.f.house, &loaded, kit);
    assert_eq!(told(Kit::default()), [], "without an instrument nothing is proposed");
    let clamp = told(Kit { clamp: true, ..Kit::default() });
    assert_eq!(clamp[0].breaker, Some(house.three), "{clamp:?}");
    assert_eq!(clamp[0].on, [LoadId(9)], "the heater was measured");
    let plug = told(Kit { plug_in: true, ..Kit::default() });
    assert_eq!((plug[0].point, plug[0].on.as_slice()), (Some(point), &[LoadId(9)][..]));
    let meter = told(Kit { utility_meter: true, ..Kit::default() });
    assert!(meter[0].action.contains("read again") && meter[0].minutes > clamp[0].minutes);
}

// Handbook 1.3 [def]: on a wye the neutral of 30, 20 and 10 A is √(900+400+100−600−200−300) = √300 = 17.3 A; what takes 208 V
// sits on its two legs and not on the neutral.
#[test]
fn three_phase_legs_and_their_neutral() {
    use crate::base::position::Supply;
    let mut f = Fixture::new(12);
    f.house.panels.put(crate::house::Panel { supply: Supply::WyeThreePhase, ..f.panel().clone() });
    let room = f.room("Bakehouse");
    let breakers = ["1", "3", "5", "2-4"].map(|at| f.breaker(at, 50.0, ""));
    let plates =
        [(30.0, NominalVolts::V120), (20.0, NominalVolts::V120), (10.0, NominalVolts::V120), (8.0, NominalVolts::V208)];
    for (n, (amps, volts)) in plates.into_iter().enumerate() {
        let point = f.point_at(&format!("B{n}"), room, PointKind::Appliance, Some(volts));
        for _ in 0..3 {
            f.see(point, &[breakers[n]], Dead);
            let others: Vec<_> = breakers.into_iter().filter(|b| *b != breakers[n]).collect();
            f.see(point, &others, Live);
        }
        let load = Load::new(LoadId(n as u64 + 1), point, format!("it {n}"), LoadKind::Other);
        // Of the nameplate of what may be anything 65 % is believed before anything is measured.
        f.house.loads.put(Load { amps: Some(Amps(amps / 0.65)), ..load });
    }
    let beliefs = beliefs(&f.house);
    let draws = draws(&f.house, &beliefs);
    let loaded = Loaded::new(&f.house, &beliefs, &draws);
    let on = (1..=4).map(|id| Drawn::Load(LoadId(id))).collect();
    let told = together(&f.house, &loaded.hung, &loaded.all, &Set { on, breaker: None });
    let legs: Vec<f64> = told.panels[0].legs.iter().map(|a| a.0.round()).collect();
    // 30 and 8 A at 30 degrees: √(30² + 8² + 2·30·8·cos 30°) = 37.2; of 20 and 8: 27.2. [def]
    assert_eq!(legs, [37.0, 27.0, 10.0]);
    assert!((told.panels[0].neutral.0 - 300.0_f64.sqrt()).abs() < 1e-6, "{told:?}");
    let all = loads(&f.house).legs.remove(0);
    assert!(all.c.is_some() && all.each.len() == 3 && all.neutral.0 >= 17.3, "{all:?}");
}

// By hand, from definitions: 12 kW on three poles of 208 V are 12,000 / (208 · √3) = 33.3 A on each, and 12,000 / 208 = 57.7 A where it
// lies across two legs alone, as it may where another thing of 208 V shares the breaker.
#[test]
fn what_hangs_alone_on_three_poles_takes_three_phases_wherever_it_is_counted() {
    use crate::base::position::Supply;
    use crate::house::Panel;
    let mut f = Fixture::new(12);
    f.house.panels.put(Panel { supply: Supply::WyeThreePhase, ..f.panel().clone() });
    let room = f.room("Bakehouse");
    let (on, other) = (f.breaker("1-3-5", 40.0, ""), f.breaker("2", 20.0, ""));
    let oven = |f: &mut Fixture, nth: u64, watts: f64| {
        let point = f.point_at(&format!("B{nth}"), room, PointKind::Appliance, Some(NominalVolts::V208));
        f.see(point, &[on], Dead);
        let load = Load::new(LoadId(nth), point, format!("deck oven {nth}"), LoadKind::Oven);
        f.house.loads.put(Load { watts: Some(Watts(watts)), volts: Some(NominalVolts::V208.into()), ..load });
    };
    let small = |house: &House| {
        let hangs = beliefs(house).hangs();
        let hits = rules::hits_of(rules::Scope::Load, &rules::Facts { house, hangs: &hangs });
        hits.into_iter().filter(|hit| hit.rule.id == "nameplate-least").count()
    };
    let plate = |house: &House| loads(house).loads[0].rests_on[0].clone();
    oven(&mut f, 1, 12_000.0);
    // What is only likely to hang there counts with what is more.
    assert!(!beliefs(&f.house).points[0].proven);
    assert_eq!(plate(&f.house), "its nameplate, 57.7 A");
    let point = f.house.points.iter().next().unwrap().id;
    for _ in 0..2 {
        f.see(point, &[on], Dead);
        f.see(point, &[other], Live);
    }
    assert!(beliefs(&f.house).points[0].proven);
    assert_eq!((plate(&f.house).as_str(), small(&f.house)), ("its nameplate, 33.3 A", 0));
    // What lies across legs counts, nothing else.
    let lamp = f.point_at("B9", room, PointKind::Light, Some(NominalVolts::V120));
    f.see(lamp, &[on], Dead);
    f.house.loads.put(Load { watts: Some(Watts(60.0)), ..Load::new(LoadId(9), lamp, "lamp", LoadKind::Light) });
    assert_eq!(plate(&f.house), "its nameplate, 33.3 A");
    oven(&mut f, 2, 3000.0);
    assert_eq!((plate(&f.house).as_str(), small(&f.house)), ("its nameplate, 57.7 A", 1));
}

// Handbook 3.2, 3.3: a yes never rests on less than plates print. Two plates of 12 and 9 A are believed to draw less than 20 A together, and
// may draw 21: measure. Measured, it is a yes.
#[test]
fn together_is_yes_no_or_not_sure() {
    let mut f = Fixture::new(12);
    let (one, two) = (f.breaker("1", 20.0, ""), f.breaker("3", 20.0, ""));
    let room = f.room("Bakehouse");
    let point = f.point("B1", room, PointKind::Receptacle);
    for _ in 0..2 {
        f.see(point, &[one], Dead);
        f.see(point, &[two], Live);
    }
    for (id, amps) in [(1, 12.0), (2, 9.0)] {
        let load = Load::new(LoadId(id), point, format!("it {id}"), LoadKind::Other);
        f.house.loads.put(Load { amps: Some(Amps(amps)), ..load });
    }
    let asked = |house: &House, things: u64| {
        let beliefs = beliefs(house);
        let draws = draws(house, &beliefs);
        let loaded = Loaded::new(house, &beliefs, &draws);
        let on = (1..=things).map(|id| Drawn::Load(LoadId(id))).collect();
        together(house, &loaded.hung, &loaded.all, &Set { on, breaker: None }).said
    };
    let said = |f: &Fixture| asked(&f.house, 2);
    let open = said(&f);
    assert!(open.starts_with("Not sure") && open.contains("measure it 1 (B1)") && !open.contains("Yes"), "{open}");
    let mut more = f.house.clone();
    for id in 3..=6 {
        let load = Load::new(LoadId(id), point, format!("it {id}"), LoadKind::Other);
        more.loads.put(Load { amps: Some(Amps(1.0)), ..load });
    }
    assert!(asked(&more, 6).ends_with("measure all of it at once"), "one thing would not settle it");
    let sets = |f: &Fixture| {
        let beliefs = beliefs(&f.house);
        let draws = draws(&f.house, &beliefs);
        let loaded = Loaded::new(&f.house, &beliefs, &draws);
        together(&f.house, &loaded.hung, &loaded.all, &Set { on: [].into(), breaker: Some(one) }).sets
    };
    assert!(sets(&f).iter().all(|set| set.len() < 2), "no set is named that a question would not answer with yes");
    let time = jiff::Timestamp::UNIX_EPOCH;
    for id in [1, 2] {
        let reading = crate::house::Reading {
            id: ReadingId(id),
            time,
            who: "Wren".into(),
            place: MeasuredAt::Point { point },
            quantity: Quantity::Amps { of: None },
            value: 7.0,
            instrument: Instrument::PlugIn,
            span: Span::Spot,
            on: [LoadId(id)].into(),
            sure: false,
        };
        f.house.readings.put(reading);
    }
    assert!(said(&f).starts_with("Yes"), "{}", said(&f));
    assert!(sets(&f).iter().any(|set| set.len() == 2));
}

// Handbook 3.5: on a 30 A feeder one leg above it trips both, whatever the sub-panel's own main is.
#[test]
fn a_panel_takes_no_more_than_the_smaller_of_its_main_and_its_feeder() {
    let mut f = Fixture::new(12);
    let feeder = f.breaker("1-3", 60.0, "");
    let annex = f.sub_panel("Annex", feeder);
    let rated = |f: &Fixture, main: Option<f64>| {
        let panel = crate::house::Panel { main: main.map(Amps), ..f.house.panels.get(annex).unwrap().clone() };
        super::legs::rating(&f.house, &panel)
    };
    assert_eq!(rated(&f, Some(100.0)), Some(Amps(60.0)));
    assert_eq!(rated(&f, Some(50.0)), Some(Amps(50.0)));
    assert_eq!(rated(&f, None), Some(Amps(60.0)));
}
