//! What each load draws, believed from its nameplate or what is typical, and from every reading that it took part in
//! (handbook 3.2).

use std::collections::BTreeMap;

use serde::Serialize;
use utoipa::ToSchema;

use crate::base::units::Amps;
use crate::code::volts::LEG;
use crate::house::{Conductor, House, Instrument, Load, LoadId, MeasuredAt, Quantity, Reading, ReadingId, Span};
use crate::load::fit::{Prior, Sum, fit};
use crate::load::hung::Hung;
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

/// A reading that does not fit what is believed.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
pub struct Misfit {
    /// Which.
    pub reading: ReadingId,
    /// What was read, in the reading's own unit: A or W,
    pub read: f64,
    /// and what was expected, in the same unit.
    pub expected: f64,
    /// By how many of its errors it is off.
    pub errors: f64,
    /// What to check, in words.
    pub said: String,
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
}

/// A nameplate gives the most; the real draw is often half to all of it (handbook 3.2, common practice): its middle,
const OF_PLATE: f64 = 0.75;
/// and the standard error of what lies evenly in a range, as a share of the range: 1/√12. [def]
const EVENLY: f64 = 0.289;
const PLATE_ERROR: f64 = 0.5 * EVENLY;
/// What only resists draws 97 to 103 % of its plate at rated volts (handbook 3.2, value from memory).
const RESISTING_ERROR: f64 = 0.06 * EVENLY;
/// Of what has neither: anything that a plug carries (common practice).
const UNKNOWN: Prior = Prior { mean: 3.0, error: 4.0 };
/// What nobody thinks of is on as well: clocks, chargers, standby, in amperes (common practice).
const UNLISTED: f64 = 0.15;
/// The voltage, and with it what a heater draws, is not the same at each reading: it lies somewhere within 5 % either way of
/// what is nominal. [pub: ANSI C84.1, service voltage range A, from memory]
const VOLTAGE: f64 = 0.1 * EVENLY;
/// More than what nobody thinks of, lights and standby together: from here on something hangs there. (common practice)
const UNEXPLAINED: f64 = 1.5;
/// A reading off by more than this many errors does not fit: of honest ones hardly one in ten thousand is. [def]
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

/// What all loads draw.
#[must_use]
pub fn draws(house: &House, beliefs: &Beliefs) -> Draws {
    let mut loads: Vec<&Load> = Vec::new();
    for point in house.points_in_order() {
        loads.extend(house.loads.iter().filter(|l| l.point == point.id));
    }
    let priors: Vec<Prior> = loads.iter().map(|l| prior(house, l)).collect();
    let carried = carried(house, &Hung::new(house, beliefs), &loads);
    let spoken: Vec<(&Reading, Sum)> = house.readings.iter().filter_map(|r| Some((r, sum(r, &carried)?))).collect();
    let (told, silent): (Vec<_>, Vec<_>) = spoken.into_iter().partition(|(_, sum)| !sum.parts.is_empty());
    let sums: Vec<Sum> = told.iter().map(|(_, sum)| sum.clone()).collect();
    let fitted = fit(&priors, &sums, true);
    let mut taken = vec![0; loads.len()];
    sums.iter().flat_map(|sum| &sum.parts).for_each(|(part, _)| taken[*part] += 1);
    let draw = |(i, load): (usize, &&Load)| {
        let readings = taken[i];
        let plate = plate::current(load, plate::volts(house, load)).is_some();
        let (amps, plus_minus) = (fitted.values[i], NINETEEN_OF_TWENTY * fitted.errors[i]);
        let range = format!("{amps:.1} A, give or take {plus_minus:.1} A");
        let said = match (plate || readings > 0, typical::like(load)) {
            (true, _) => range,
            (false, Some(_)) => format!("typically {range}"),
            (false, None) => "not known: read its nameplate, or measure it".into(),
        };
        Draw {
            load: load.id,
            name: load.name.clone(),
            point: house.points.get(load.point).map_or_else(String::new, |p| p.tag.clone()),
            amps: Amps(amps),
            plus_minus: Amps(plus_minus),
            said,
            rests_on: rests_on(house, load, readings),
            typical: readings == 0 && !plate,
            known: plate || readings > 0 || typical::like(load).is_some(),
            readings,
        }
    };
    let misfit = |((reading, sum), off): (&(&Reading, Sum), &f64)| {
        let expected: f64 = sum.parts.iter().map(|(i, a)| a * fitted.values[*i]).sum();
        let (unit, volts) = if reading.quantity == Quantity::Watts { ("W", LEG) } else { ("A", 1.0) };
        let expected = volts * expected;
        (off.abs() > MISFIT).then(|| Misfit {
            reading: reading.id,
            read: reading.value,
            expected,
            errors: *off,
            said: misfit_said(&place_said(house, reading), reading.value, expected, unit),
        })
    };
    let mut misfits: Vec<Misfit> = told.iter().zip(&fitted.off).filter_map(misfit).collect();
    misfits.extend(silent.iter().filter_map(|(r, _)| unexplained(house, r)));
    misfits.sort_by(|a, b| b.errors.abs().total_cmp(&a.errors.abs()));
    Draws { loads: loads.iter().enumerate().map(draw).collect(), misfits, unused: house.readings.len() - told.len() }
}

/// A current that was read where nothing that was on is believed to hang.
fn unexplained(house: &House, reading: &Reading) -> Option<Misfit> {
    let at = reading.place.breaker()?;
    let amps = matches!(reading.quantity, Quantity::Amps { of: None }) && reading.span == Span::Spot;
    let breaker = house.breakers.get(at)?;
    (amps && reading.value >= UNEXPLAINED).then(|| Misfit {
        reading: reading.id,
        read: reading.value,
        expected: 0.0,
        errors: reading.value / UNLISTED,
        said: format!(
            "{:.1} A read at {}, where nothing that was on is known to hang. Switch things off one by one and read again: what \
             it falls with hangs here.",
            reading.value,
            house.breaker_name(breaker)
        ),
    })
}

fn place_said(house: &House, reading: &Reading) -> String {
    let breaker = reading.place.breaker().and_then(|b| house.breakers.get(b)).map(|b| house.breaker_name(b));
    let panel = || reading.place.panel().and_then(|p| house.panels.get(p)).map(|p| p.name.clone());
    let point = || reading.place.point().and_then(|p| house.points.get(p)).map(|p| p.tag.clone());
    breaker.or_else(panel).or_else(point).unwrap_or_default()
}

fn misfit_said(place: &str, read: f64, expected: f64, unit: &str) -> String {
    let why = if read > expected {
        "Something else was on, or hangs on this circuit too: switch all off and read again"
    } else {
        "Something on the list was off, or hangs on another circuit: switch it off and on and see whether the reading moves"
    };
    format!("{read:.1} {unit} read at {place}, {expected:.1} {unit} expected. {why}.")
}

fn prior(house: &House, load: &Load) -> Prior {
    if let Some(plate) = plate::current(load, plate::volts(house, load)).filter(|a| a.0 > 0.0) {
        // What only resists draws what its plate says.
        let (of_plate, error) = if plate::resists(load) { (1.0, RESISTING_ERROR) } else { (OF_PLATE, PLATE_ERROR) };
        return Prior { mean: of_plate * plate.0, error: error * plate.0 };
    }
    match typical::like(load) {
        Some(usual) => {
            let mean = (usual.low.0 + usual.high.0) / 2.0;
            Prior { mean, error: (EVENLY * (usual.high.0 - usual.low.0)).max(typical::SPREAD * mean) }
        }
        None => UNKNOWN,
    }
}

fn rests_on(house: &House, load: &Load, readings: usize) -> Vec<String> {
    let plate = plate::current(load, plate::volts(house, load)).map(|a| format!("its nameplate, {:.1} A", a.0));
    let like = || typical::like(load).map(|u| format!("what is typical of a {}, {} to {}", u.name, u.low.0, u.high));
    let beforehand = plate.or_else(like).unwrap_or_else(|| "nothing but that it is plugged in".into());
    let measured = match readings {
        0 => None,
        1 => Some("one reading".to_owned()),
        n => Some(format!("{n} readings")),
    };
    std::iter::once(beforehand).chain(measured).collect()
}

/// Loads that are carried where something is measured: each with its place in the list and its volts. They are the same for
/// every reading taken there, and a house has few places and many readings.
type Carried = BTreeMap<(MeasuredAt, Quantity), Vec<(LoadId, usize, f64)>>;

fn carried(house: &House, hung: &Hung<'_>, loads: &[&Load]) -> Carried {
    let mut all = Carried::new();
    for reading in house.readings.iter() {
        all.entry((reading.place, reading.quantity)).or_insert_with(|| {
            let there = loads.iter().enumerate().filter(|(_, l)| hung.carries(reading.place, reading.quantity, l));
            there.map(|(i, load)| (load.id, i, f64::from(u16::from(plate::volts(house, load))))).collect()
        });
    }
    all
}

/// A reading as a sum of loads in amperes, of none where nothing that was on hangs there; nothing where it says nothing of them.
fn sum(reading: &Reading, carried: &Carried) -> Option<Sum> {
    if reading.span == Span::Inrush {
        return None;
    }
    let watts = match reading.quantity {
        Quantity::Amps { of: None | Some(Conductor::A | Conductor::B | Conductor::C) } => false,
        Quantity::Watts => true,
        Quantity::Amps { of: Some(Conductor::N | Conductor::G) } | Quantity::Volts { .. } | Quantity::Degrees => {
            return None;
        }
    };
    let there = carried.get(&(reading.place, reading.quantity))?;
    let on = there.iter().filter(|(load, ..)| reading.on.contains(load));
    // Power is told in amperes at 120 V, so that one error fits all: a thing of 240 V counts twice.
    let parts = on.map(|(_, part, volts)| (*part, if watts { volts / LEG } else { 1.0 })).collect();
    let value = if watts { reading.value / LEG } else { reading.value };
    let (of_it, amps) = instrument(reading.instrument);
    let error = (of_it * value.abs() + amps) / 2.0;
    Some(Sum { parts, value, error: error.hypot(UNLISTED).hypot(VOLTAGE * value) })
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::base::units::{NominalVolts, Watts};
    use crate::fixture::Fixture;
    use crate::house::Seen::{Dead, Live};
    use crate::house::{BreakerId, LoadKind, MeasuredAt, PanelId, PointKind, Side};
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

    // handbook 3.2: the real draw is often half to all of the nameplate; 840 W at 120 V are 7 A [def].
    #[test]
    fn before_anything_is_measured_the_nameplate_gives_a_range_and_says_so() {
        let told = rig().told();
        let (amps, plus_minus) = of(&told, RADIO);
        assert!((amps - 5.25).abs() < 1e-6 && (amps + plus_minus - 7.0).abs() < 0.3, "{amps} ± {plus_minus}");
        assert_eq!(told.loads[0].rests_on, ["its nameplate, 7.0 A"]);
        assert!(!told.loads[0].typical && told.loads[1].typical);
        assert!(of(&told, MIXER).1 > 5.0);
        assert_eq!(told.loads[0].said, "5.2 A, give or take 2.0 A");
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
        assert!((amps - 12.5).abs() < 1e-9 && plus_minus < 0.5, "{amps} ± {plus_minus}");
        rig.f.house.loads.put(Load { motor: Some(true), ..heater });
        assert!(of(&rig.told(), LoadId(9)).0 < 10.0, "one with a motor is no heater alone");
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
        assert!(said[1].starts_with("14.0 A read at 1, 6.") && said[1].contains("Something else"), "{said:?}");
        assert_eq!(told.unused, 1, "nothing that was on hangs on that circuit");
        // Power is told as power: of the oven's 4800 W half to all is expected (handbook 3.2).
        rig.read(MeasuredAt::Main { panel: PanelId(1) }, Quantity::Watts, 20_000.0, &[OVEN]);
        let told = rig.told();
        let worst = told.misfits.iter().find(|m| m.read == 20_000.0).unwrap();
        assert!(worst.said.starts_with("20000.0 W read at Main, "), "{worst:?}");
    }
}
