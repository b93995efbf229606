//! What each load draws, believed from its nameplate or what is typical, and from every reading that it took part in
//! (handbook 3.2).

use std::collections::BTreeMap;
use std::sync::Arc;

use serde::Serialize;
use utoipa::ToSchema;

use crate::base::units::Amps;
use crate::code::volts::LEG;
use crate::house::{Conductor, House, Instrument, Load, LoadId, MeasuredAt, Quantity, Reading, Span};
use crate::load::blame::{Claim, Explained, Term, explain, unknown};
use crate::load::fit::{Fitted, Prior, Spread, Sum, fit};
use crate::load::hung::Hung;
use crate::load::misfit::{Happened, Misfit, NOTHING, Supposed, UNEXPLAINED, misfit, others, unexplained};
use crate::plate::running::{EVENLY, Running, running};
use crate::plate::{self, typical};
use crate::trace::Beliefs;

/// The believed current of a load while it runs.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
pub struct Draw {
    /// The load.
    pub load: LoadId,
    /// What it is called.
    pub name: String,
    /// The tag of its point.
    pub point: String,
    /// What it draws,
    pub amps: Amps,
    /// within so much either way, nineteen times of twenty.
    pub plus_minus: Amps,
    /// That in words, or that it is not known.
    pub said: String,
    /// What that rests on, in words.
    pub rests_on: Vec<String>,
    /// Nothing was measured and there is no nameplate: only typical of such a thing.
    pub typical: bool,
    /// Something is known of it: a nameplate, a reading, or what is typical.
    pub known: bool,
    /// How many readings it took part in.
    pub readings: usize,
    /// What to look at again on its plate, where readings speak against it.
    pub plate: Option<String>,
}

/// A draw that readings leave within this, or this share of itself, is measured. (common practice: as good as a clamp shows
/// small currents)
const MEASURED: (f64, f64) = (1.0, 0.15);

impl Draw {
    /// True where it took part in readings that leave little open.
    #[must_use]
    pub fn is_measured(&self) -> bool {
        self.readings > 0 && self.plus_minus.0 <= MEASURED.0.max(MEASURED.1 * self.amps.0)
    }

    /// Its standard error.
    #[must_use]
    pub fn standard_error(&self) -> Amps {
        Amps(self.plus_minus.0 / NINETEEN_OF_TWENTY)
    }
}

/// What all loads draw.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
pub struct Draws {
    /// Loads in the order of their points.
    pub loads: Vec<Draw>,
    /// Readings that do not fit, the worst first.
    pub misfits: Vec<Misfit>,
    /// Readings that say nothing of draws: of voltages, temperatures, inrush, or where nothing on the list was on.
    pub unused: usize,
    /// How the errors of the loads go together.
    #[serde(skip)]
    #[schema(ignore)]
    pub spread: Arc<Spread>,
}

impl Draws {
    /// The standard error of a sum of loads by their places in the list, each with how often it counts.
    #[must_use]
    pub fn error_of(&self, parts: &[(usize, f64)]) -> Amps {
        Amps(self.spread.error_of(parts))
    }
}

/// Of what has neither: anything that a plug carries (common practice).
const UNKNOWN: Prior = Prior { mean: 3.0, error: 4.0 };
/// What nobody thinks of is on as well: clocks, chargers, standby, in amperes (common practice).
const UNLISTED: f64 = 0.15;
/// The voltage, and with it what a heater draws, is not the same at each reading: it lies somewhere within 5 % either way of
/// what is nominal. [pub: ANSI C84.1, service voltage range A, from memory]
const VOLTAGE: f64 = 0.1 * EVENLY;
/// A sum of many things that is off by more than this many errors does not fit: of honest ones hardly one in ten thousand is. [def]
const MISFIT: f64 = 4.0;
/// Nineteen times of twenty a value lies within so many standard errors of a normal distribution. [def]
pub const NINETEEN_OF_TWENTY: f64 = 1.96;

/// Share of what is read, and amperes, that an instrument may be off by (handbook 3.1, common practice): taken as two
/// standard errors.
fn instrument(with: Instrument) -> (f64, f64) {
    match with {
        Instrument::Clamp => (0.02, 0.2),
        Instrument::PlugIn => (0.01, 0.02),
        Instrument::Monitor => (0.02, 0.1),
        // The larger of 5 % and 30 W, at 120 V (handbook 3.1).
        Instrument::UtilityMeter => (0.05, 0.25),
        Instrument::Meter | Instrument::Infrared => (0.05, 0.5),
    }
}

/// The standard error of a reading, as a share of what is read and in amperes: that of the instrument, of the voltage, and of what
/// nobody listed; at a plug nothing else is on.
fn errors(with: Instrument, at_plug: bool) -> (f64, f64) {
    let (share, amps) = instrument(with);
    ((share / 2.0).hypot(VOLTAGE), (amps / 2.0).hypot(if at_plug { 0.0 } else { UNLISTED }))
}

/// The standard error that a reading would have where so much is read.
#[must_use]
pub fn error_read(with: Instrument, at_plug: bool, amps: f64) -> f64 {
    let (share, least) = errors(with, at_plug);
    least.hypot(share * amps)
}

/// What all loads draw.
#[must_use]
pub fn draws(house: &House, beliefs: &Beliefs) -> Draws {
    let mut loads: Vec<&Load> = Vec::new();
    for point in house.points_in_order() {
        loads.extend(house.loads.iter().filter(|l| l.point == point.id));
    }
    let mut carried = Carried::new(house, beliefs, &loads);
    let priors: Vec<Prior> = loads.iter().map(|l| prior(&carried.hung, l)).collect();
    let spoken: Vec<(&Reading, Claim)> =
        house.readings.iter().filter_map(|r| Some((r, told(r, carried.at(r.place, r.quantity))?))).collect();
    let (taken, silent): (Vec<_>, Vec<_>) = spoken.into_iter().partition(|(_, told)| !told.parts.is_empty());
    let all: Vec<Claim> = taken.iter().map(|(_, told)| told.clone()).collect();
    let Explained { sums, counts, trusted } = explain(&priors, &all);
    let believed: Vec<Prior> = priors.iter().zip(&trusted).map(|(p, t)| if *t { *p } else { unknown(p) }).collect();
    let kept: Vec<Sum> = sums.iter().zip(&counts).filter(|(_, counts)| **counts).map(|(sum, _)| sum.clone()).collect();
    let fitted = fit(&believed, &kept, true);
    let mut readings = vec![0; loads.len()];
    kept.iter().flat_map(|sum| &sum.parts).for_each(|(part, _)| readings[*part] += 1);
    let mut misfits: Vec<Misfit> = Vec::new();
    for (((reading, told), sum), counts) in taken.iter().zip(&sums).zip(&counts) {
        let expected: f64 = sum.parts.iter().map(|(i, a)| a * fitted.values[*i]).sum();
        let errors = (told.value - expected) / sum.error;
        if !counts || errors.abs() > MISFIT {
            let supposed = supposed(house, &mut carried, reading, (told, expected), &fitted);
            misfits.push(misfit(house, reading, (told.value, expected, errors), supposed));
        }
    }
    for (reading, told) in silent.iter().filter(|(reading, _)| reading.value >= UNEXPLAINED) {
        let supposed = supposed(house, &mut carried, reading, (told, 0.0), &fitted);
        misfits.extend(unexplained(house, reading, UNLISTED, supposed));
    }
    misfits.sort_by(|a, b| b.errors.abs().total_cmp(&a.errors.abs()));
    let draw = |(i, load): (usize, &&Load)| draw(&carried, load, (&fitted, i), readings[i], trusted[i]);
    Draws {
        loads: loads.iter().enumerate().map(draw).collect(),
        misfits,
        unused: house.readings.len() - taken.len(),
        spread: Arc::new(fitted.spread),
    }
}

/// A current with its range, in words: `about 8.0 A, 6.1 to 9.9`.
#[must_use]
pub fn range_said(amps: Amps, plus_minus: Amps) -> String {
    format!("about {:.1} A, {:.1} to {:.1}", amps.0, (amps.0 - plus_minus.0).max(0.0), amps.0 + plus_minus.0)
}

fn draw(carried: &Carried<'_>, load: &Load, (fitted, i): (&Fitted, usize), readings: usize, trusted: bool) -> Draw {
    let Carried { house, hung, .. } = carried;
    let plate = plate::current(load, hung.connected(load));
    let (amps, plus_minus) = (fitted.values[i], NINETEEN_OF_TWENTY * fitted.errors[i]);
    let range = range_said(Amps(amps), Amps(plus_minus));
    let said = match (plate.is_some() || readings > 0, typical::like(load)) {
        (true, _) => range,
        (false, Some(_)) => format!("typically {range}"),
        (false, None) => "not known: read its nameplate, or measure it".into(),
    };
    let against = || {
        let printed =
            plate.map(|a| format!("its plate gives {:.1} A", a.0)).unwrap_or("such a thing usually draws else".into());
        format!("{printed}, and readings agree on {amps:.1} A: look at the plate, and at what was read, again")
    };
    Draw {
        load: load.id,
        name: load.name.clone(),
        point: house.points.get(load.point).map_or_else(String::new, |p| p.tag.clone()),
        amps: Amps(amps),
        plus_minus: Amps(plus_minus),
        said,
        rests_on: rests_on(hung, load, readings),
        typical: readings == 0 && plate.is_none(),
        known: plate.is_some() || readings > 0 || typical::like(load).is_some(),
        readings,
        plate: (!trusted).then(against),
    }
}

/// What may have happened where a reading is odd, and what would have been expected then.
fn supposed(
    house: &House,
    carried: &mut Carried<'_>,
    reading: &Reading,
    (told, expected): (&Claim, f64),
    fitted: &Fitted,
) -> Vec<Supposed> {
    let error = |expected: f64| told.amps.hypot(told.share * expected);
    let mut all = Vec::new();
    let whole = |part: &Term| part.times * fitted.values[part.thing];
    let open = |part: &Term| part.times * fitted.errors[part.thing];
    for times in [10.0, 0.1] {
        let value = told.value / times;
        let spread: Vec<(usize, f64)> = told.parts.iter().map(|p| (p.thing, p.times)).collect();
        let open = times * fitted.spread.error_of(&spread);
        if expected > NOTHING.0 {
            all.push(Supposed {
                happened: Happened::Tenfold { value },
                expected: times * expected,
                error: (times * error(expected)).hypot(open),
            });
        }
    }
    let mut suppose = |happened, expected: f64, open: f64| {
        all.push(Supposed { happened, expected, error: error(expected).hypot(open) });
    };
    let total: f64 = told.parts.iter().map(whole).sum();
    for part in &told.parts {
        suppose(Happened::WasOff { load: carried.loads[part.thing] }, (total - whole(part)).max(0.0), 0.0);
    }
    let here: Vec<Carry> = carried.at(reading.place, reading.quantity).to_vec();
    for carry in here.iter().filter(|carry| !reading.on.contains(&carry.load)) {
        let part = carry.part(reading.quantity);
        suppose(Happened::WasOn { load: carry.load }, expected + whole(&part), open(&part));
    }
    let is_here = |load: LoadId| here.iter().any(|carry| carry.load == load && carry.chance > 0.5);
    for load in reading.on.iter().filter(|load| !is_here(**load)) {
        let Some(thing) = carried.loads.iter().position(|l| l == load) else { continue };
        if !carried.hung.is_proven(carried.of[thing].point) {
            let part = carried.carry(thing, 1.0).part(reading.quantity);
            suppose(Happened::HangsHere { load: *load }, expected + whole(&part), open(&part));
        }
    }
    for place in others(house, reading) {
        let there = carried.at(place, reading.quantity);
        let on: Vec<Term> = there
            .iter()
            .filter(|c| reading.on.contains(&c.load) && c.chance > 0.5)
            .map(|c| c.part(reading.quantity))
            .collect();
        let (expected, spread) =
            (on.iter().map(whole).sum::<f64>(), on.iter().map(|p| (p.thing, p.times)).collect::<Vec<_>>());
        if let (Some(breaker), true) = (place.breaker(), expected > NOTHING.0) {
            suppose(Happened::Elsewhere { breaker }, expected, fitted.spread.error_of(&spread));
        }
    }
    all
}

fn prior(hung: &Hung<'_>, load: &Load) -> Prior {
    if let Some((amps, error)) = plate::expected(load, hung.connected(load)) {
        return Prior { mean: amps.0, error: error.0 };
    }
    match typical::like(load) {
        Some(usual) => {
            let mean = (usual.low.0 + usual.high.0) / 2.0;
            Prior { mean, error: (EVENLY * (usual.high.0 - usual.low.0)).max(typical::SPREAD * mean) }
        }
        None => UNKNOWN,
    }
}

fn rests_on(hung: &Hung<'_>, load: &Load, readings: usize) -> Vec<String> {
    let plate = plate::current(load, hung.connected(load)).map(|a| format!("its nameplate, {:.1} A", a.0));
    let like = || typical::like(load).map(|u| format!("what is typical of a {}, {} to {}", u.name, u.low.0, u.high));
    let beforehand = plate.or_else(like).unwrap_or_else(|| "nothing but that it is plugged in".into());
    let measured = match readings {
        0 => None,
        1 => Some("one reading".to_owned()),
        n => Some(format!("{n} readings")),
    };
    std::iter::once(beforehand).chain(measured).collect()
}

/// A load that is carried where something is measured.
#[derive(Debug, Clone, Copy)]
struct Carry {
    load: LoadId,
    /// Its place in the list.
    thing: usize,
    /// Volt-amperes of one ampere.
    power: f64,
    /// How likely it hangs there.
    chance: f64,
    running: Running,
}

impl Carry {
    fn new(hung: &Hung<'_>, (thing, load): (usize, &Load), running: Running, chance: f64) -> Self {
        Self { load: load.id, thing, power: hung.connected(load).power_of_one(), chance, running }
    }

    fn part(&self, quantity: Quantity) -> Term {
        let factor = self.running.factor;
        // Power is told in amperes at 120 V, so that one error fits all: a thing of 240 V counts twice.
        let (times, doubt) = match quantity {
            Quantity::Watts => (self.power / LEG * factor.middle(), factor.error() / factor.middle()),
            _ => (1.0, 0.0),
        };
        let runs = self.running.cycles.unwrap_or(1.0);
        Term { thing: self.thing, times, doubt, out: 1.0 - self.chance * runs }
    }
}

/// What is carried where something is measured. It is the same for every reading taken there, and a house has few places and many
/// readings.
struct Carried<'a> {
    house: &'a House,
    hung: Hung<'a>,
    of: Vec<&'a Load>,
    loads: Vec<LoadId>,
    running: Vec<Running>,
    known: BTreeMap<(MeasuredAt, Quantity), Vec<Carry>>,
}

/// What hangs there as unlikely is not counted.
const UNLIKELY: f64 = 0.02;

impl<'a> Carried<'a> {
    fn new(house: &'a House, beliefs: &'a Beliefs, of: &[&'a Load]) -> Self {
        let loads = of.iter().map(|l| l.id).collect();
        // What a name means is looked up once a load, not once a place.
        let running = of.iter().map(|l| running(l)).collect();
        Self { house, hung: Hung::new(house, beliefs), of: of.to_vec(), loads, running, known: BTreeMap::new() }
    }

    fn at(&mut self, place: MeasuredAt, quantity: Quantity) -> &[Carry] {
        let (hung, of, runs) = (&self.hung, &self.of, &self.running);
        self.known.entry((place, quantity)).or_insert_with(|| {
            let carry = |(thing, load): (usize, &&Load)| {
                let chance = hung.chance(place, quantity, load);
                (chance > UNLIKELY).then(|| Carry::new(hung, (thing, load), runs[thing], chance))
            };
            of.iter().enumerate().filter_map(carry).collect()
        })
    }

    /// A load as if it were carried, so likely.
    fn carry(&self, thing: usize, chance: f64) -> Carry {
        Carry::new(&self.hung, (thing, self.of[thing]), self.running[thing], chance)
    }
}

/// A reading as a sum of what was on, of nothing where nothing of it hangs there; nothing where it says nothing of what draws, or
/// where power flows back.
fn told(reading: &Reading, there: &[Carry]) -> Option<Claim> {
    if reading.span == Span::Inrush || reading.value < 0.0 {
        return None;
    }
    let watts = match reading.quantity {
        Quantity::Amps { of: None | Some(Conductor::A | Conductor::B | Conductor::C) } => false,
        Quantity::Watts => true,
        Quantity::Amps { of: Some(Conductor::N | Conductor::G) } | Quantity::Volts { .. } | Quantity::Degrees => {
            return None;
        }
    };
    let on = there.iter().filter(|carry| reading.on.contains(&carry.load));
    let parts = on.map(|carry| carry.part(reading.quantity)).collect();
    let (share, amps) = errors(reading.instrument, reading.place.point().is_some());
    Some(Claim {
        parts,
        value: if watts { reading.value / LEG } else { reading.value },
        amps,
        share,
        sure: reading.sure,
    })
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::base::units::{NominalVolts, Watts};
    use crate::fixture::Fixture;
    use crate::house::Seen::{Dead, Live};
    use crate::house::{BreakerId, LoadKind, MeasuredAt, PanelId, PointKind, ReadingId, Side};
    use crate::trace::beliefs;

    struct Rig {
        f: Fixture,
        one: BreakerId,
        three: BreakerId,
    }

    const RADIO: LoadId = LoadId(1);
    const MIXER: LoadId = LoadId(2);
    const OVEN: LoadId = LoadId(3);

    /// A valve radio (840 W) and a mixer (no nameplate, nothing typical) at one receptacle, an oven of 4800 W at another.
    fn rig() -> Rig {
        let mut f = Fixture::new(8);
        let room = f.room("Kitchen");
        let (one, three) = (f.breaker("1", 20.0, ""), f.breaker("2-4", 30.0, ""));
        let (counter, oven) = (f.point("K1", room, PointKind::Receptacle), f.point("K2", room, PointKind::Appliance));
        let point = f.house.points.get(oven).unwrap().clone();
        f.house.points.put(crate::house::Point { volts: Some(NominalVolts::V240), ..point });
        for (point, on, off) in [(counter, one, three), (oven, three, one)] {
            for _ in 0..3 {
                f.see(point, &[on], Dead);
                f.see(point, &[off], Live);
            }
        }
        let load = |id, point, name: &str, watts: Option<f64>| Load {
            watts: watts.map(Watts),
            ..Load::new(id, point, name, LoadKind::Other)
        };
        f.house.loads.put(load(RADIO, counter, "valve radio", Some(840.0)));
        f.house.loads.put(load(MIXER, counter, "spiral thing", None));
        f.house.loads.put(load(OVEN, oven, "deck oven", Some(4800.0)));
        Rig { f, one, three }
    }

    impl Rig {
        fn read(&mut self, place: MeasuredAt, quantity: Quantity, value: f64, on: &[LoadId]) {
            let id = ReadingId(self.f.house.readings.len() as u64 + 1);
            self.f.house.readings.put(Reading {
                id,
                time: jiff::Timestamp::UNIX_EPOCH,
                who: "Wren".into(),
                place,
                quantity,
                value,
                instrument: Instrument::Clamp,
                span: Span::Spot,
                on: on.iter().copied().collect(),
                sure: false,
            });
            self.f.house.check().unwrap();
        }

        fn clamp(&mut self, breaker: BreakerId, amps: f64, on: &[LoadId]) {
            let place = MeasuredAt::Breaker { breaker, pole: None, side: Side::Load };
            self.read(place, Quantity::Amps { of: None }, amps, on);
        }

        fn told(&self) -> Draws {
            draws(&self.f.house, &beliefs(&self.f.house))
        }
    }

    fn of(draws: &Draws, load: LoadId) -> (f64, f64) {
        let draw = draws.loads.iter().find(|d| d.load == load).unwrap();
        (draw.amps.0, draw.plus_minus.0)
    }

    // handbook 3.2: the real draw is a third to all of the nameplate of what may be anything; 840 W at 120 V are 7 A [def].
    #[test]
    fn before_anything_is_measured_the_nameplate_gives_a_range_and_says_so() {
        let told = rig().told();
        let (amps, plus_minus) = of(&told, RADIO);
        assert!((amps - 5.4).abs() < 0.05 && amps + plus_minus > 7.0, "{amps} ± {plus_minus}");
        assert_eq!(told.loads[0].rests_on, ["its nameplate, 7.0 A"]);
        assert!(!told.loads[0].typical && told.loads[1].typical);
        assert!(of(&told, MIXER).1 > 5.0);
        assert_eq!(told.loads[0].said, "about 5.4 A, 1.9 to 8.9");
        assert_eq!(told.loads[1].said, "not known: read its nameplate, or measure it");
    }

    // handbook 3.2: what only resists draws its plate: 1500 W at 120 V are 12.5 A, not three quarters of it [def].
    #[test]
    fn an_entered_plate_of_what_only_resists_is_not_discounted() {
        let mut rig = rig();
        let counter = rig.f.house.points.iter().next().unwrap().id;
        let heater = Load {
            watts: Some(Watts(1500.0)),
            ..Load::new(LoadId(9), counter, "space heater", crate::house::LoadKind::Heating)
        };
        rig.f.house.loads.put(heater.clone());
        let (amps, plus_minus) = of(&rig.told(), LoadId(9));
        assert!((amps - 12.5).abs() < 1e-9 && plus_minus < 1.0, "{amps} ± {plus_minus}");
        rig.f.house.loads.put(Load { motor: Some(true), ..heater });
        assert!(of(&rig.told(), LoadId(9)).0 < 11.0, "one with a motor is no heater alone");
    }

    // handbook 3.2: two readings that differ by one appliance give it.
    #[test]
    fn two_readings_that_differ_by_one_thing_give_what_it_draws() {
        let mut rig = rig();
        rig.clamp(rig.one, 6.5, &[RADIO]);
        rig.clamp(rig.one, 10.6, &[RADIO, MIXER]);
        let told = rig.told();
        let (amps, plus_minus) = of(&told, MIXER);
        assert!((amps - 4.1).abs() < 0.2 && plus_minus < 1.0, "{amps} ± {plus_minus}");
        assert_eq!(told.loads[1].rests_on, ["nothing but that it is plugged in", "one reading"]);
        assert!(told.misfits.is_empty());
    }

    // Power over volts [def]: 4200 W at 240 V are 17.5 A, on each leg of the bus.
    #[test]
    fn power_and_legs_speak_of_what_they_carry() {
        let mut rig = rig();
        let bus = MeasuredAt::Bus { panel: PanelId(1) };
        rig.read(MeasuredAt::Main { panel: PanelId(1) }, Quantity::Watts, 4200.0, &[OVEN]);
        let (amps, _) = of(&rig.told(), OVEN);
        assert!((amps - 17.5).abs() < 0.3, "{amps}");
        rig.read(bus, Quantity::Amps { of: Some(Conductor::B) }, 17.4, &[OVEN, RADIO]);
        rig.read(bus, Quantity::Amps { of: Some(Conductor::A) }, 24.0, &[OVEN, RADIO]);
        let told = rig.told();
        assert!((of(&told, RADIO).0 - 6.5).abs() < 0.6, "the radio is on leg A alone: {told:?}");
        assert!(told.misfits.is_empty(), "{told:?}");
    }

    #[test]
    fn what_does_not_fit_is_said_with_the_check_and_bends_nothing() {
        let mut rig = rig();
        for _ in 0..4 {
            rig.clamp(rig.one, 6.5, &[RADIO]);
        }
        rig.clamp(rig.one, 14.0, &[RADIO]);
        rig.clamp(rig.three, 9.0, &[RADIO]);
        let told = rig.told();
        assert!((of(&told, RADIO).0 - 6.5).abs() < 0.3, "{told:?}");
        let said: Vec<&str> = told.misfits.iter().map(|m| m.said.as_str()).collect();
        assert!(
            said.len() == 2 && said[0].starts_with("9.0 A read at 2-4, where nothing that was on is known"),
            "{said:?}"
        );
        assert!(said[1].starts_with("14.0 A read at 1, 6.") && said[1].contains("as well?"), "{said:?}");
        assert_eq!(told.unused, 1, "nothing that was on hangs on that circuit");
        // Power is told as power: of the oven's 4800 W half to all is expected (handbook 3.2).
        rig.read(MeasuredAt::Main { panel: PanelId(1) }, Quantity::Watts, 20_000.0, &[OVEN]);
        let told = rig.told();
        let worst = told.misfits.iter().find(|m| m.read == 20_000.0).unwrap();
        assert!(worst.said.starts_with("20000.0 W read at Main, "), "{worst:?}");
    }

    // Handbook 3.2: an error belongs to the instrument. A kettle read at 12.4 A, at 21.0 with a toaster, and at 0.2 where it was noted but
    // off: it draws 12.4 A, and the odd reading is the last.
    #[test]
    fn a_low_reading_does_not_outweigh_two_right_ones() {
        let mut rig = rig();
        let counter = rig.f.house.points.iter().next().unwrap().id;
        let plain = |id, name: &str| Load::new(LoadId(id), counter, name, LoadKind::Other);
        rig.f.house.loads.put(plain(11, "kettle"));
        rig.f.house.loads.put(plain(12, "toaster"));
        rig.clamp(rig.one, 12.4, &[LoadId(11)]);
        rig.clamp(rig.one, 21.0, &[LoadId(11), LoadId(12)]);
        rig.clamp(rig.one, 0.2, &[LoadId(11)]);
        let told = rig.told();
        assert!((of(&told, LoadId(11)).0 - 12.4).abs() < 0.4, "{told:?}");
        assert!((of(&told, LoadId(12)).0 - 8.6).abs() < 0.8, "{told:?}");
        let odd: Vec<f64> = told.misfits.iter().map(|m| m.read).collect();
        assert_eq!(odd, [0.2]);
        assert_eq!(told.misfits[0].causes[0].said, "was kettle off, or at rest?");
        assert_eq!(told.misfits[0].causes[0].happened, Happened::WasOff { load: LoadId(11) });
    }

    // A plate is evidence too: 1500 W read at 1.24 A are ten times off; and where somebody says that it is right, the plate is asked about.
    #[test]
    fn a_reading_ten_times_off_its_plate_is_told_so() {
        let mut rig = rig();
        let counter = rig.f.house.points.iter().next().unwrap().id;
        let kettle = Load::new(LoadId(11), counter, "kettle", LoadKind::Other);
        rig.f.house.loads.put(Load { watts: Some(Watts(1500.0)), ..kettle });
        rig.clamp(rig.one, 1.24, &[LoadId(11)]);
        let told = rig.told();
        assert!((of(&told, LoadId(11)).0 - 12.5).abs() < 0.1);
        assert!(
            matches!(told.misfits[0].causes[0].happened, Happened::Tenfold { value } if (value - 12.4).abs() < 1e-9)
        );
        let right = Reading { sure: true, ..rig.f.house.readings.iter().next().unwrap().clone() };
        rig.f.house.readings.put(right);
        let told = rig.told();
        assert!((of(&told, LoadId(11)).0 - 1.24).abs() < 0.2, "{told:?}");
        assert!(told.misfits.is_empty() && told.loads.iter().any(|d| d.plate.is_some()), "{told:?}");
    }

    // However many they are: where all that it was on in is odd, the plate is, and no reading.
    #[test]
    fn of_many_readings_against_one_plate_the_plate_is_wrong() {
        let mut rig = rig();
        let counter = rig.f.house.points.iter().next().unwrap().id;
        let kettle = Load::new(LoadId(11), counter, "kettle", LoadKind::Other);
        rig.f.house.loads.put(Load { watts: Some(Watts(150.0)), ..kettle });
        for nth in 0..16 {
            let on: &[LoadId] = if nth % 2 == 0 { &[LoadId(11)] } else { &[LoadId(11), RADIO] };
            rig.clamp(rig.one, 12.3 + 0.02 * f64::from(nth) + if nth % 2 == 0 { 0.0 } else { 6.0 }, on);
        }
        let told = rig.told();
        assert!((of(&told, LoadId(11)).0 - 12.45).abs() < 0.3, "{told:?}");
        assert!(told.misfits.is_empty() && told.loads.iter().any(|d| d.plate.is_some()), "{told:?}");
    }

    // A refrigerator that is on but at rest draws nearly nothing: no reading of it is wrong.
    #[test]
    fn what_cycles_may_have_been_at_rest() {
        let mut rig = rig();
        let counter = rig.f.house.points.iter().next().unwrap().id;
        let fridge = Load::new(LoadId(11), counter, "refrigerator", LoadKind::Refrigerator);
        rig.f.house.loads.put(Load { amps: Some(crate::base::units::Amps(6.0)), ..fridge });
        for amps in [2.4, 0.1, 2.5, 0.1] {
            rig.clamp(rig.one, amps, &[LoadId(11)]);
        }
        let told = rig.told();
        assert!((of(&told, LoadId(11)).0 - 2.45).abs() < 0.2 && told.misfits.is_empty(), "{told:?}");
    }

    // A circuit read five times at 18.5 A is known at that, whatever its parts draw. [def: the variance of a sum]
    #[test]
    fn a_sum_that_was_read_is_known_better_than_its_parts() {
        let mut rig = rig();
        for _ in 0..5 {
            rig.clamp(rig.one, 18.5, &[RADIO, MIXER]);
        }
        let told = rig.told();
        let place = |load| told.loads.iter().position(|d| d.load == load).unwrap();
        let of_sum = told.error_of(&[(place(RADIO), 1.0), (place(MIXER), 1.0)]).0;
        assert!(of_sum < 0.3 && of(&told, RADIO).1 > 1.0, "{of_sum}: {told:?}");
    }
}
