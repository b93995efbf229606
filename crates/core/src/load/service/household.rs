//! What the methods reckon with: taken from a house once, the same for all of them.

use crate::base::position::{Leg, Supply};
use crate::base::units::{Amps, Watts};
use crate::house::{EnergyRecord, House, LivingArea, Load, LoadKind, PointId, PointKind};
use crate::plate::{self, typical};
use crate::rules::{self, Hangs};

/// What the methods reckon with.
#[derive(Debug, Clone, PartialEq)]
pub struct Household {
    /// The living area.
    pub area: Option<LivingArea>,
    /// Circuits for small appliances in kitchen and dining rooms.
    pub small_appliance: usize,
    /// Circuits for the laundry.
    pub laundry: usize,
    /// Volts by which VA become amperes: 240, 208, or 208·√3 of three phases.
    pub volts: f64,
    /// How many legs it has.
    pub legs: u16,
    /// The rating of the service.
    pub rating: Option<Amps>,
    /// All that is fastened in place or at more than one leg.
    pub items: Vec<HouseholdItem>,
    /// The record of what was drawn.
    pub record: Option<EnergyRecord>,
    /// What was assumed.
    pub notes: Vec<String>,
}

/// One thing.
#[derive(Debug, Clone, PartialEq)]
pub struct HouseholdItem {
    /// What people call it.
    pub name: String,
    /// What it is.
    pub kind: LoadKind,
    /// Its nameplate in VA.
    pub va: f64,
    /// It takes the neutral: made for one leg,
    pub to_neutral: bool,
    /// and which that is; nothing where that is not proven.
    pub leg: Option<Leg>,
    /// It is or has a motor.
    pub motor: bool,
    /// It runs for three hours or more.
    pub continuous: bool,
    /// Only typical of such a thing.
    pub typical: bool,
    /// It is to be added.
    pub added: bool,
}

/// Two at least. [pub: NEC 210.11(C)(1), 220.52(A), value from memory]
const SMALL_APPLIANCE: usize = 2;
const LAUNDRY: usize = 1;

impl Household {
    /// Of a house, and of what is proven to hang where in it.
    #[must_use]
    pub fn of(house: &House, hangs: &[Hangs]) -> Self {
        let main = house.panels_in_order().into_iter().find(|p| p.is_main());
        let (supply, rating) = main.map_or((Supply::SplitPhase, None), |p| (p.supply, p.main.or(Some(p.bus))));
        let legs = if supply == Supply::WyeThreePhase { 3.0_f64.sqrt() } else { 1.0 };
        let volts = f64::from(supply.across()) * legs;
        let counted = house.loads.iter().filter(|load| counts(house, load));
        let (known, unknown): (Vec<_>, Vec<_>) =
            counted.map(|load| item(house, hangs, load).ok_or_else(|| load.name.clone())).partition(Result::is_ok);
        let unknown: Vec<String> = unknown.into_iter().filter_map(Result::err).collect();
        let mut notes = vec![
            "Two circuits for small appliances and one for the laundry are counted, the least that is required"
                .to_owned(),
            "What is plugged in counts with the area and these circuits; what is fastened in place by its nameplate"
                .to_owned(),
        ];
        if !unknown.is_empty() {
            notes.push(format!("Not counted, their size is not known: {}", unknown.join(", ")));
        }
        Self {
            area: house.about.area,
            small_appliance: SMALL_APPLIANCE,
            laundry: LAUNDRY,
            volts,
            legs: supply.legs(),
            rating,
            items: known.into_iter().filter_map(Result::ok).collect(),
            record: house.energy.iter().max_by_key(|r| r.to).cloned(),
            notes,
        }
    }

    /// The area in square feet.
    pub(super) fn square_feet(&self) -> Result<f64, crate::base::Invalid> {
        let missing = || crate::base::Invalid::new("about.area", "the living area is not entered");
        self.area.map(LivingArea::square_feet).ok_or_else(missing)
    }

    /// The sum of what is of these kinds.
    pub(super) fn sum(&self, which: impl Fn(&HouseholdItem) -> bool) -> f64 {
        self.items.iter().filter(|i| which(i)).map(|i| i.va).sum()
    }
}

/// What counts by its nameplate: fastened in place, or of more than one leg, or cooling in a window.
fn counts(house: &House, load: &Load) -> bool {
    let fixed =
        house.points.get(load.point).is_some_and(|p| !matches!(p.kind, PointKind::Receptacle | PointKind::Light));
    let large = plate::volts(house, load).is_leg_to_leg();
    let always = matches!(
        load.kind,
        LoadKind::Range
            | LoadKind::Oven
            | LoadKind::Cooktop
            | LoadKind::Dryer
            | LoadKind::WaterHeater
            | LoadKind::Dishwasher
            | LoadKind::Disposer
            | LoadKind::Cooling
            | LoadKind::HeatPump
            | LoadKind::BackupHeat
            | LoadKind::CarCharger
            | LoadKind::Pool
            | LoadKind::Hood
    );
    // Lights go with the area.
    load.kind != LoadKind::Light && (fixed || large || always)
}

/// The leg of the single pole that a point is proven to hang on.
fn leg(house: &House, hangs: &[Hangs], point: PointId) -> Option<Leg> {
    let hung = hangs.iter().find(|h| h.point == point && h.proven)?;
    let breaker = house.breakers.get(hung.breaker)?;
    let [at] = breaker.at.as_slice() else { return None };
    Some(house.panels.get(breaker.panel)?.leg(*at))
}

fn item(house: &House, hangs: &[Hangs], load: &Load) -> Option<HouseholdItem> {
    let connected = rules::connected(house, hangs, load);
    let of_plate = plate::current(load, connected);
    let amps = of_plate.or_else(|| typical::like(load).map(|usual| usual.high))?;
    // A nameplate in watts counts as it stands.
    let va = load.watts.map(|Watts(w)| w).filter(|_| load.amps.is_none());
    Some(HouseholdItem {
        name: load.name.clone(),
        kind: load.kind,
        va: va.unwrap_or_else(|| amps.0 * connected.power_of_one()),
        to_neutral: !connected.volts.is_leg_to_leg(),
        leg: leg(house, hangs, load.point),
        motor: load.motor.unwrap_or_else(|| typical::like(load).is_some_and(|usual| usual.motor)),
        continuous: plate::is_continuous(load),
        typical: of_plate.is_none(),
        added: false,
    })
}
