//! A bench meter in the demo house: what its probes show, through the network behind it.

use std::collections::BTreeSet;
use std::sync::Mutex;
use std::sync::PoisonError;

use wayfinder_core::base::Said;
use wayfinder_core::house::{Conductor, House, Instrument, LoadId, MeasuredAt, PanelId, Quantity, Side};
use wayfinder_core::network::{Flaw, FlawAt};
use wayfinder_core::practice::StandIn;
use wayfinder_instruments::{Function, Measures};

/// Where probes or a clamp are.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Probed {
    /// The place.
    pub place: MeasuredAt,
    /// Between what a voltage is read, or of what a current.
    pub between: Option<[Conductor; 2]>,
}

/// A meter in a simulated house.
pub struct Bench {
    /// The house,
    pub house: House,
    /// what is true of it,
    pub truth: StandIn,
    /// what is on,
    pub on: BTreeSet<LoadId>,
    /// and what is wrong.
    pub flaws: Vec<(Flaw, FlawAt)>,
    probed: Mutex<(Probed, u64)>,
}

impl Bench {
    /// Its probes at the main's legs A and N at first; nothing where the house has no panel.
    #[must_use]
    pub fn new(house: House, truth: StandIn, on: BTreeSet<LoadId>, flaws: Vec<(Flaw, FlawAt)>) -> Option<Self> {
        let panel: PanelId = house.panels_in_order().first()?.id;
        let at_first = Probed { place: MeasuredAt::Bus { panel }, between: Some([Conductor::A, Conductor::N]) };
        Some(Self { house, truth, on, flaws, probed: Mutex::new((at_first, 0)) })
    }
}

impl Measures for Bench {
    fn put(&self, place: &str) -> bool {
        let Some(probed) = read_place(&self.house, place) else { return false };
        self.probed.lock().unwrap_or_else(PoisonError::into_inner).0 = probed;
        true
    }

    fn show(&self, function: Function) -> Option<f64> {
        let (probed, nth) = {
            let mut probed = self.probed.lock().unwrap_or_else(PoisonError::into_inner);
            probed.1 += 1;
            *probed
        };
        let of = probed.between.map(|pair| pair[0]);
        let quantity = match function {
            Function::Volts => Quantity::Volts { between: probed.between },
            Function::Amps => Quantity::Amps { of },
            Function::Degrees => Quantity::Degrees,
        };
        let place = (probed.place, quantity);
        self.truth.measure(&self.house, place, Instrument::Meter, &self.on, &self.flaws, nth)
    }
}

/// A place as it is told to a stand-in: `(@Main,A,N)`, `(@Main:5-7,bus,1)`, `(@Main:5-7,load,across)`.
#[must_use]
pub fn written_place(house: &House, probed: Probed) -> Option<String> {
    let panel = |id: PanelId| house.panels.get(id).map(|p| p.name.clone());
    match probed.place {
        MeasuredAt::Bus { panel: id } | MeasuredAt::Main { panel: id } | MeasuredAt::Feed { panel: id } => {
            let pair = probed.between?;
            Some(format!("(@{},{},{})", panel(id)?, pair[0].said(), pair[1].said()))
        }
        MeasuredAt::Breaker { breaker, pole, side } => {
            let breaker = house.breakers.get(breaker)?;
            let side = if side == Side::Bus { "bus" } else { "load" };
            let what = if probed.between.is_some() { "across".to_owned() } else { pole.unwrap_or(1).to_string() };
            Some(format!("(@{}:{},{side},{what})", panel(breaker.panel)?, breaker.at_text()))
        }
        MeasuredAt::Point { .. } => None,
    }
}

fn read_place(house: &House, text: &str) -> Option<Probed> {
    let inner = text.strip_prefix("(@")?.strip_suffix(')')?;
    let parts: Vec<&str> = inner.split(',').map(str::trim).collect();
    let [place, one, two] = parts.as_slice() else { return None };
    let conductor = |text: &str| Conductor::ALL.iter().copied().find(|c| c.said() == text);
    if place.contains(':') {
        let breaker = house.breaker_called(place)?;
        let side = if *one == "bus" { Side::Bus } else { Side::Load };
        let across = (*two == "across").then_some([Conductor::A, Conductor::B]);
        let pole = if across.is_some() { None } else { Some(two.parse().ok()?) };
        return Some(Probed { place: MeasuredAt::Breaker { breaker, pole, side }, between: across });
    }
    let panel = house.panel_named(place)?.id;
    Some(Probed { place: MeasuredAt::Bus { panel }, between: Some([conductor(one)?, conductor(two)?]) })
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::demo;

    #[test]
    fn places_are_read_back_as_they_were_written() {
        let house = demo::house().unwrap();
        let truth = demo::truth(&house).unwrap();
        let bench = Bench::new(house.clone(), truth, BTreeSet::new(), Vec::new()).unwrap();
        for text in
            ["(@Main,A,N)", "(@Bakehouse,A,B)", "(@Main:5-7,bus,1)", "(@Main:5-7,load,across)", "(@Bakehouse:5,load,1)"]
        {
            let probed = read_place(&house, text).unwrap();
            assert_eq!(written_place(&house, probed).as_deref(), Some(text));
            assert!(bench.put(text));
            let volts = bench.show(Function::Volts).unwrap();
            let nominal = if text.contains("across") || text.contains("A,B") { 240.0 } else { 120.0 };
            assert!((volts / nominal - 1.0).abs() < 0.03, "{text}: {volts}");
        }
        for wrong in ["Main,A,N", "(@Attic,A,N)", "(@Main,A)", "(@Main:99,bus,1)", "(@Main:5-7,bus,x)"] {
            assert!(!bench.put(wrong), "{wrong}");
        }
    }
}
