//! Loads: the things that draw.

use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

use super::{House, LoadId, PointId, is_false};
use crate::base::units::{Amps, Horsepower, PlateVolts, VoltAmperes, Watts};
use crate::base::{Invalid, said};

/// What a load is, as far as rules tell one from another.
#[derive(Debug, Clone, Copy, PartialEq, Eq, PartialOrd, Ord, Default, Serialize, Deserialize, ToSchema)]
#[serde(rename_all = "kebab-case")]
pub enum LoadKind {
    /// A range: cooktop and oven in one.
    Range,
    /// A wall oven.
    Oven,
    /// A cooktop.
    Cooktop,
    /// A clothes dryer.
    Dryer,
    /// A water heater.
    WaterHeater,
    /// A dishwasher.
    Dishwasher,
    /// A food waste disposer.
    Disposer,
    /// A microwave oven.
    Microwave,
    /// A refrigerator or freezer.
    Refrigerator,
    /// A clothes washer.
    Washer,
    /// Electric space heating.
    Heating,
    /// Cooling.
    Cooling,
    /// A heat pump.
    HeatPump,
    /// The supplemental heat of a heat pump.
    BackupHeat,
    /// A car charger.
    CarCharger,
    /// A pump.
    Pump,
    /// A fan or blower.
    Fan,
    /// A range hood.
    Hood,
    /// A sump pump: water may rise where it stops.
    SumpPump,
    /// Equipment of a pool or a tub.
    Pool,
    /// A welder.
    Welder,
    /// A fire alarm.
    FireAlarm,
    /// Lights.
    Light,
    /// Anything else.
    #[default]
    Other,
}

said!(LoadKind {
    Range => "range",
    Oven => "wall oven",
    Cooktop => "cooktop",
    Dryer => "dryer",
    WaterHeater => "water heater",
    Dishwasher => "dishwasher",
    Disposer => "disposer",
    Microwave => "microwave",
    Refrigerator => "refrigerator or freezer",
    Washer => "washer",
    Heating => "electric heating",
    Cooling => "cooling",
    HeatPump => "heat pump",
    BackupHeat => "backup heat of a heat pump",
    CarCharger => "car charger",
    Pump => "pump",
    Fan => "fan or blower",
    Hood => "range hood",
    SumpPump => "sump pump",
    Pool => "pool or tub equipment",
    Welder => "welder",
    FireAlarm => "fire alarm",
    Light => "light",
    Other => "anything else",
});

/// When a load runs (handbook 3.3).
#[derive(Debug, Clone, Copy, PartialEq, Eq, PartialOrd, Ord, Serialize, Deserialize, ToSchema)]
#[serde(rename_all = "kebab-case")]
pub enum Habit {
    /// On standby, or cycling by itself like a refrigerator.
    Always,
    /// At meals.
    Meals,
    /// When somebody is there.
    Occupied,
    /// In its season.
    Season,
    /// For three hours or more at a time.
    Hours,
    /// Seldom.
    Seldom,
}

said!(Habit {
    Always => "always, or cycling by itself",
    Meals => "at meals",
    Occupied => "when somebody is there",
    Season => "in its season",
    Hours => "for three hours or more",
    Seldom => "seldom",
});

/// A thing that draws: fixed at a point, or usually plugged in there. A receptacle may carry several.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
#[serde(deny_unknown_fields)]
pub struct Load {
    /// Its id.
    pub id: LoadId,
    /// Where it is.
    pub point: PointId,
    /// What people call it.
    pub name: String,
    /// What it is.
    #[serde(default)]
    pub kind: LoadKind,
    /// The voltage it is made for, as its nameplate prints it; nothing where it is the point's.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub volts: Option<PlateVolts>,
    /// Nameplate power.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub watts: Option<Watts>,
    /// Nameplate current.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub amps: Option<Amps>,
    /// Nameplate apparent power.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub va: Option<VoltAmperes>,
    /// Nameplate power of its motor.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub hp: Option<Horsepower>,
    /// Minimum circuit ampacity.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub mca: Option<Amps>,
    /// Largest breaker or fuse allowed ("max fuse", "MOP").
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub mop: Option<Amps>,
    /// It takes three phases.
    #[serde(default, skip_serializing_if = "is_false")]
    pub three_phase: bool,
    /// A welder's share of ten minutes in which it welds, in percent, as its plate has it.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub duty: Option<f64>,
    /// It is or has a motor; nothing where that is as usual for its kind.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub motor: Option<bool>,
    /// It runs at its most for three hours or more; nothing where that is as usual for its kind.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub continuous: Option<bool>,
    /// When it runs; nothing where that is as usual for its kind.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub habit: Option<Habit>,
}

impl Load {
    /// A load of which only this is known.
    #[must_use]
    pub fn new(id: LoadId, point: PointId, name: impl Into<String>, kind: LoadKind) -> Self {
        Self {
            id,
            point,
            name: name.into(),
            kind,
            volts: None,
            watts: None,
            amps: None,
            va: None,
            hp: None,
            mca: None,
            mop: None,
            three_phase: false,
            duty: None,
            motor: None,
            continuous: None,
            habit: None,
        }
    }

    /// True where its nameplate gives a size.
    #[must_use]
    pub fn has_plate(&self) -> bool {
        let sizes = [self.watts.is_some(), self.amps.is_some(), self.va.is_some(), self.hp.is_some()];
        sizes.contains(&true) || self.mca.is_some()
    }
}

impl House {
    /// The loads meant by a name, by `K3:toaster` where a name stands twice, or by the tag of their point.
    ///
    /// # Errors
    /// Where there is none, or several are called so.
    pub fn loads_called(&self, field: &str, text: &str) -> Result<Vec<LoadId>, Invalid> {
        let (tag, name) = text.split_once(':').map_or((None, text), |(tag, name)| (Some(tag.trim()), name.trim()));
        let at = |load: &&Load| match tag {
            Some(tag) => self.points.get(load.point).is_some_and(|p| p.tag.eq_ignore_ascii_case(tag)),
            None => true,
        };
        let called: Vec<_> = self.loads.iter().filter(at).filter(|l| l.name.eq_ignore_ascii_case(name)).collect();
        let point = self.point_tagged(text).map(|p| p.id);
        let there: Vec<_> = self.loads.iter().filter(|l| Some(l.point) == point).map(|l| l.id).collect();
        match called.as_slice() {
            [one] => Ok(vec![one.id]),
            [] if !there.is_empty() => Ok(there),
            [] => Err(Invalid::new(field, format!("\"{text}\" is no load, and no point with loads"))),
            _ => Err(Invalid::new(field, format!("several loads are called \"{text}\": write K3:{text}"))),
        }
    }
}
