//! What a nameplate asks of its circuit (handbook 3.10).

use serde::Serialize;
use utoipa::ToSchema;

use crate::base::units::Amps;
use crate::base::{Source, nec};
use crate::code::{
    self,
    sizes::{HEATER, LARGE_RANGE, MOTOR, ON_THE_SHELF, SMALL_HEATER, TWENTY, WELDER},
};
use crate::house::{Load, LoadKind, PointKind};
use crate::plate::{self, Connected};
use crate::words::places;

/// What a load asks of its circuit.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
pub struct Asks {
    /// Its conductors must carry at least this.
    pub wire: Amps,
    /// Its breaker must be at least this,
    pub at_least: Amps,
    /// and at most this.
    pub at_most: Option<Amps>,
    /// By which rule.
    #[schema(value_type = String)]
    pub source: Source,
    /// What is usually taken between the two,
    pub usual: Amps,
    /// and why, where that is not the least.
    pub usual_why: &'static str,
}

/// Customary sizes of what is connected by itself, the usual one first that is enough. (common practice: handbook 3.10; laundry
/// and kitchen receptacles NEC 210.11(C), value from memory)
const fn customary(kind: LoadKind, two_legs: bool) -> &'static [f64] {
    use LoadKind::{
        Cooktop, Dishwasher, Disposer, Dryer, Hood, Microwave, Oven, Range, Refrigerator, SumpPump, Washer,
        WaterHeater, Welder,
    };
    match (kind, two_legs) {
        (Dryer | WaterHeater, true) => &[30.0],
        (Range | Welder, true) => &[50.0],
        (Oven | Cooktop, true) => &[30.0, 40.0],
        (Dishwasher | Disposer | Hood | Microwave | Refrigerator | SumpPump | Washer | Dryer, false) => &[20.0],
        _ => &[],
    }
}

/// The largest breaker before a single appliance that only heats; nothing for what has a motor, and for the heating of rooms, which has
/// an article of its own.
fn largest_for_heat(kind: LoadKind, amps: Amps) -> Option<f64> {
    let heats = matches!(kind, LoadKind::WaterHeater | LoadKind::Range | LoadKind::Oven | LoadKind::Cooktop);
    let most = if amps.0 <= SMALL_HEATER.0 { SMALL_HEATER.1 } else { HEATER * amps.0 };
    code::STANDARD_RATINGS.iter().copied().find(|rating| *rating >= most - ROUNDING).filter(|_| heats)
}

/// Why it is the largest that a plate allows.
const STARTS: &str =
    "its motor starts under load: the largest that its plate allows is taken, a smaller one may trip on the start";
/// Why it is a customary size.
const CUSTOM: &str = "customary for such a thing: the next one of the kind suits it too";
/// Why a size is passed over.
const SHELF: &str = "25, 35 and 45 A are taken only where a plate asks for them";

/// Why a receptacle's circuit is of 20 A.
const PLACE: &str = "receptacles of such a room are on circuits of 20 A (NEC 210.11(C))";

impl Asks {
    /// The same for a thing at a point of this sort in a room: receptacles of some are on 20 A.
    #[must_use]
    pub fn at(self, room: &str, kind: PointKind) -> Self {
        let asked = kind == PointKind::Receptacle && places::asked(room).is_some_and(|asked| asked.twenty);
        let fits = self.usual.0 < TWENTY && self.at_most.is_none_or(|most| most.0 >= TWENTY);
        if asked && fits { Self { usual: Amps(TWENTY), usual_why: PLACE, ..self } } else { self }
    }

    /// With what is usually taken: by the plate, by custom, from the shelf, in this order.
    fn usually(
        load: &Load,
        connected: Connected,
        wire: Amps,
        (at_least, at_most): (Amps, Option<Amps>),
        source: Source,
    ) -> Self {
        let heat = plate::current(load, connected).and_then(|amps| largest_for_heat(load.kind, amps));
        let fits = |amps: &f64| {
            *amps >= at_least.0 - ROUNDING
                && at_most.is_none_or(|most| *amps <= most.0)
                && heat.is_none_or(|most| *amps <= most)
        };
        let shelf = || ON_THE_SHELF.iter().copied();
        let starts = load.mca.is_some()
            && (load.motor == Some(true) || matches!(load.kind, LoadKind::Cooling | LoadKind::HeatPump));
        let by_plate = || {
            let rating = |amps: &f64| code::STANDARD_RATINGS.contains(amps);
            at_most.filter(|_| starts).map(|most| most.0).filter(rating).filter(fits).map(|amps| (amps, STARTS))
        };
        let by_custom = || {
            customary(load.kind, connected.volts.is_leg_to_leg()).iter().copied().find(fits).map(|amps| (amps, CUSTOM))
        };
        let from_the_shelf = || shelf().find(fits).map(|amps| (amps, SHELF));
        let (usual, why) = by_plate().or_else(by_custom).or_else(from_the_shelf).unwrap_or((at_least.0, ""));
        let usual_why = if usual > at_least.0 + ROUNDING { why } else { "" };
        Self { wire, at_least, at_most, source, usual: Amps(usual), usual_why }
    }
}

/// What a load asks of its circuit; nothing where its nameplate gives no size.
#[must_use]
pub fn asks(load: &Load, connected: Connected) -> Option<Asks> {
    let amps = plate::current(load, connected)?.0;
    let next = |amps: f64| code::STANDARD_RATINGS.iter().copied().find(|r| *r >= amps - ROUNDING).map(Amps);
    if let Some(mca) = load.mca {
        let at_least = next(mca.0)?;
        // Where rounding up passes the largest allowed, the largest allowed holds: NEC 440.4(B).
        let at_least = load.mop.map_or(at_least, |mop| Amps(at_least.0.min(mop.0)));
        return Some(Asks::usually(load, connected, mca, (at_least, load.mop), nec("440.4(B), 110.3(B)")));
    }
    if load.kind == LoadKind::Welder {
        let wire = load.duty.map_or(1.0, code::welder::multiplier) * amps;
        let most = load.mop.or_else(|| next(WELDER * amps));
        return Some(Asks::usually(load, connected, Amps(wire), (next(wire)?, most), nec("630.11(A), 630.12(A)")));
    }
    if load.motor == Some(true) && load.hp.is_some() {
        let most = load.mop.or_else(|| next(MOTOR * amps));
        let wire = Amps(code::CONTINUOUS * amps);
        return Some(Asks::usually(load, connected, wire, (next(wire.0)?, most), nec("430.22, 430.52")));
    }
    if load.kind == LoadKind::Range {
        // The code counts a large range at less than its nameplate: 40 A suffice.
        let large = amps * connected.power_of_one() >= LARGE_RANGE.0;
        let least = if large { Amps(LARGE_RANGE.1) } else { next(amps)? };
        return Some(Asks::usually(load, connected, least, (least, load.mop), nec("210.19(A)(3)")));
    }
    let continuous = plate::is_continuous(load);
    let wire = if continuous { code::CONTINUOUS * amps } else { amps };
    let source = if continuous { nec("210.19(A)(1), 210.20(A)") } else { nec("210.19(A)(1)") };
    Some(Asks::usually(load, connected, Amps(wire), (next(wire)?, load.mop), source))
}

/// The table gives whole amperes.
const ROUNDING: f64 = 1e-9;

#[cfg(test)]
mod tests {
    use super::*;
    use crate::base::units::{Horsepower, NominalVolts, Watts};
    use crate::house::{LoadId, PointId};

    fn printed(load: &Load, volts: NominalVolts) -> Option<Asks> {
        asks(load, Connected::printed(load, volts))
    }

    fn load(kind: LoadKind) -> Load {
        Load::new(LoadId(1), PointId(1), "it", kind)
    }

    // NEC from memory, as handbook 3.10 has it: 4500 W at 240 V are 18.75 A, continuous: 23.4, so 25 A; a car charger of
    // 32 A: 40 A; MCA 17.9 and MOP 30: 20 to 30 A; 1 hp at 230 V: 8 A, wire 10 A, breaker 20 A at most.
    #[test]
    fn breaker_and_wire_follow_from_the_nameplate() {
        let v240 = NominalVolts::V240;
        let heater = printed(&Load { watts: Some(Watts(4500.0)), ..load(LoadKind::WaterHeater) }, v240).unwrap();
        assert_eq!((heater.wire.0, heater.at_least.0), (23.4375, 25.0));
        let charger = printed(&Load { amps: Some(Amps(32.0)), ..load(LoadKind::CarCharger) }, v240).unwrap();
        assert_eq!((charger.wire.0, charger.at_least.0), (40.0, 40.0));
        let unit = Load { mca: Some(Amps(17.9)), mop: Some(Amps(30.0)), ..load(LoadKind::Cooling) };
        let unit = printed(&unit, v240).unwrap();
        assert_eq!((unit.wire.0, unit.at_least.0, unit.at_most), (17.9, 20.0, Some(Amps(30.0))));
        let pump = Load { hp: Some(Horsepower(1.0)), motor: Some(true), ..load(LoadKind::Pump) };
        let pump = printed(&pump, v240).unwrap();
        assert_eq!((pump.wire.0, pump.at_most), (10.0, Some(Amps(20.0))));
        let range = printed(&Load { watts: Some(Watts(12_000.0)), ..load(LoadKind::Range) }, v240).unwrap();
        assert_eq!((range.wire.0, range.at_least.0), (40.0, 40.0));
    }

    // NEC 210.11(C), from memory: what is plugged in there hangs on 20 A, whatever its plate would do with.
    #[test]
    fn receptacles_of_some_rooms_are_on_twenty_amperes() {
        let toaster = || printed(&Load { amps: Some(Amps(9.0)), ..load(LoadKind::Other) }, NominalVolts::V120).unwrap();
        let usual = |room: &str, kind| toaster().at(room, kind).usual.0;
        for room in ["Kitchen", "Bath 2", "Laundry", "Garage"] {
            assert_eq!(usual(room, PointKind::Receptacle), 20.0, "{room}");
        }
        assert_eq!((usual("Bedroom", PointKind::Receptacle), usual("Kitchen", PointKind::Appliance)), (15.0, 15.0));
        let dryer = printed(&Load { watts: Some(Watts(5000.0)), ..load(LoadKind::Dryer) }, NominalVolts::V240).unwrap();
        assert_eq!(dryer.at("Laundry", PointKind::Receptacle).usual.0, 30.0);
    }

    // Forty plates: what handbook 3.10 has as customary (common practice), the articles that it names (NEC 2023, values from memory),
    // and the plate's own two numbers. Kind, plate, volts; least, usual, most.
    #[test]
    fn the_usual_size_follows_the_plate_then_the_code_then_custom() {
        use LoadKind::*;
        let watts = |kind, watts| Load { watts: Some(Watts(watts)), ..load(kind) };
        let amps = |kind, amps| Load { amps: Some(Amps(amps)), ..load(kind) };
        let hp = |hp| Load { hp: Some(Horsepower(hp)), motor: Some(true), ..load(Pump) };
        let plate = |kind, mca, mop| Load { mca: Some(Amps(mca)), mop: Some(Amps(mop)), ..load(kind) };
        let most = |mop, of: Load| Load { mop: Some(Amps(mop)), ..of };
        let lasting = |of: Load| Load { continuous: Some(true), ..of };
        let duty = |amps, duty| Load { amps: Some(Amps(amps)), duty: Some(duty), ..load(Welder) };
        let three = |of: Load| Load { three_phase: true, ..of };
        let table: [(Load, u16, f64, f64, Option<f64>); 48] = [
            (watts(Dryer, 5000.0), 240, 25.0, 30.0, None),
            (watts(Dryer, 5600.0), 240, 25.0, 30.0, None),
            (watts(Range, 12_000.0), 240, 40.0, 50.0, None),
            (watts(Range, 8750.0), 240, 40.0, 50.0, None),
            (most(40.0, watts(Range, 9600.0)), 240, 40.0, 40.0, Some(40.0)),
            // Half as much again as 30 A: behind 45 A at the most, NEC 422.11(E).
            (watts(Range, 7200.0), 240, 30.0, 30.0, None),
            (watts(Oven, 4800.0), 240, 20.0, 30.0, None),
            (watts(Oven, 7600.0), 240, 35.0, 40.0, None),
            (watts(Oven, 9600.0), 240, 40.0, 40.0, None),
            (watts(Cooktop, 6600.0), 240, 30.0, 30.0, None),
            (watts(Cooktop, 8000.0), 240, 35.0, 40.0, None),
            (most(35.0, watts(Cooktop, 8000.0)), 240, 35.0, 35.0, Some(35.0)),
            (watts(WaterHeater, 4500.0), 240, 25.0, 30.0, None),
            (watts(WaterHeater, 5500.0), 240, 30.0, 30.0, None),
            // 12.5 A of heat alone: behind 20 A at the most, NEC 422.11(E).
            (watts(WaterHeater, 3000.0), 240, 20.0, 20.0, None),
            (most(25.0, watts(WaterHeater, 4500.0)), 240, 25.0, 25.0, Some(25.0)),
            (watts(WaterHeater, 1500.0), 120, 20.0, 20.0, None),
            (amps(Dishwasher, 10.0), 120, 15.0, 20.0, None),
            (amps(Disposer, 7.0), 120, 15.0, 20.0, None),
            (watts(Microwave, 1600.0), 120, 15.0, 20.0, None),
            (amps(Refrigerator, 6.5), 120, 15.0, 20.0, None),
            (amps(Washer, 9.0), 120, 15.0, 20.0, None),
            (plate(Cooling, 17.9, 30.0), 240, 20.0, 30.0, Some(30.0)),
            (plate(Cooling, 12.2, 20.0), 240, 15.0, 20.0, Some(20.0)),
            (plate(Cooling, 14.0, 25.0), 240, 15.0, 25.0, Some(25.0)),
            (plate(HeatPump, 27.0, 45.0), 240, 30.0, 45.0, Some(45.0)),
            (plate(HeatPump, 20.5, 35.0), 240, 25.0, 35.0, Some(35.0)),
            (plate(Heating, 23.0, 30.0), 240, 25.0, 30.0, Some(30.0)),
            (plate(Heating, 23.0, 25.0), 240, 25.0, 25.0, Some(25.0)),
            (amps(CarCharger, 16.0), 240, 20.0, 20.0, None),
            (amps(CarCharger, 32.0), 240, 40.0, 40.0, None),
            (amps(CarCharger, 40.0), 240, 50.0, 50.0, None),
            (amps(CarCharger, 48.0), 240, 60.0, 60.0, None),
            (watts(Heating, 4000.0), 240, 25.0, 30.0, None),
            (watts(BackupHeat, 10_000.0), 240, 45.0, 50.0, None),
            (lasting(watts(Other, 9600.0)), 240, 50.0, 50.0, None),
            (watts(Other, 5800.0), 240, 25.0, 30.0, None),
            (hp(1.0), 240, 15.0, 15.0, Some(20.0)),
            (hp(3.0), 240, 25.0, 30.0, Some(45.0)),
            (hp(5.0), 240, 35.0, 40.0, Some(70.0)),
            // NEC 630.11(A): 48 A at a duty of 20 % count as 21.6; 630.12(A): behind twice the current at the most.
            (duty(48.0, 20.0), 240, 25.0, 50.0, Some(100.0)),
            (duty(30.0, 60.0), 240, 25.0, 50.0, Some(60.0)),
            // NEC 430.250: 3 hp at 208 V take 10.6 A, 5 hp 16.7; a quarter more is 13.3 and 20.9.
            (three(hp(3.0)), 208, 15.0, 15.0, Some(30.0)),
            (three(hp(5.0)), 208, 25.0, 30.0, Some(45.0)),
            // P = √3·U·I: 9 kW of heat for three hours at 208 V are 25 A in each leg, a quarter more 31.2.
            (three(lasting(watts(Other, 9000.0))), 208, 35.0, 40.0, None),
            (three(plate(HeatPump, 17.0, 25.0)), 208, 20.0, 25.0, Some(25.0)),
            (amps(SumpPump, 9.0), 120, 15.0, 20.0, None),
            (amps(Hood, 2.0), 120, 15.0, 20.0, None),
        ];
        for (nth, (load, volts, least, usual, most)) in table.into_iter().enumerate() {
            let asks = printed(&load, volts.try_into().unwrap()).unwrap();
            let told = (asks.at_least.0, asks.usual.0, asks.at_most.map(|a| a.0));
            assert_eq!(told, (least, usual, most), "{nth}: {load:?}");
            assert_eq!(asks.usual_why.is_empty(), usual <= least, "{nth}");
        }
    }
}
