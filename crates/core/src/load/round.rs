//! A round of measuring: where the clamp goes, in panel order, and what is expected there with what is on now.

use serde::Serialize;
use utoipa::ToSchema;

use crate::base::Said;
use crate::base::position::Supply;
use crate::base::units::Amps;
use crate::house::{Breaker, Conductor, Held, House, LoadId, MeasuredAt, Panel, Round, RoundPlace, RunId, Side};
use crate::load::Loaded;
use crate::load::drawing::Drawn;
use crate::load::draws::range_said;
use crate::load::together::{self, RunTogether, Set};

/// Said before a clamp is held anywhere. [prac: handbook 3.1]
pub const COVER_OFF: &str = "The cover is off for this: a qualified person only. The lugs are live whatever is off. One conductor in the \
                             clamp at a time, dry hands, nothing metal worn. With the cover on, use one of the other two.";

/// A round that goes on.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
pub struct RoundNow {
    /// The run it is.
    pub run: RunId,
    /// What a reading is noted with as on: what is on, as far as it is known where that hangs.
    pub on: Vec<LoadId>,
    /// All its places in their order, those that are done too.
    pub places: Vec<ToRead>,
}

/// A place of a round.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
pub struct ToRead {
    /// Where, and which conductor.
    pub at: RoundPlace,
    /// Its panel's name.
    pub panel: String,
    /// What goes into the clamp, in words.
    pub said: String,
    /// What is expected there, as far as known,
    pub expected: Amps,
    /// within so much either way, nineteen times of twenty, where that can be told;
    pub plus_minus: Option<Amps>,
    /// that in words.
    pub expected_said: String,
    /// A number above this is asked about before it is taken.
    pub ask_above: Option<Amps>,
    /// Who works there, where somebody holds it off: nothing is clamped then. Empty otherwise.
    pub held: String,
}

/// Nobody reads more than twice a rating for long: a breaker of 30 A would have tripped within two minutes.
/// [pub: UL 489, value from memory]
const ASK_ABOVE: f64 = 2.0;

/// The round that goes on in a house, if one does.
#[must_use]
pub fn now(house: &House, loaded: &Loaded<'_>) -> Option<RoundNow> {
    let run = house.run()?;
    let round = run.round.as_ref()?;
    // A thing of which nobody knows where it hangs would count at every place.
    let hangs = |load: &&LoadId| house.loads.get(**load).is_some_and(|l| !loaded.hung.feeders(l.point).is_empty());
    let on: Vec<LoadId> = round.on.iter().filter(hangs).copied().collect();
    Some(RoundNow { run: run.id, places: places(house, loaded, round), on })
}

/// Where a round goes, and what is expected there with what it has on.
#[must_use]
pub fn places(house: &House, loaded: &Loaded<'_>, round: &Round) -> Vec<ToRead> {
    let on = round.on.iter().map(|load| Drawn::Load(*load)).collect();
    let runs = together::together(house, &loaded.hung, &loaded.all, &Set { on, breaker: None });
    let panels = house.panels_in_order();
    let all = panels.iter().zip(&runs.panels).flat_map(|(panel, legs)| {
        let feeds = conductors(panel.supply).iter().enumerate().map(|(i, of)| {
            let expected = legs.legs.get(i).copied().unwrap_or(legs.neutral);
            coming_in(panel, *of, expected, legs.rating)
        });
        feeds.chain(house.breakers_of(panel.id).into_iter().map(|b| at_breaker(panel, b, &runs))).collect::<Vec<_>>()
    });
    let held = house.held();
    let who = |at: &MeasuredAt| {
        let dead = |h: &&Held| match at {
            MeasuredAt::Main { panel } => h.panels.contains(panel),
            at => at.breaker().is_some_and(|b| h.dead(house).contains(&b)),
        };
        held.iter().find(dead).map_or_else(String::new, |h| h.who_works(house))
    };
    let all = all.map(|it| ToRead { held: who(&it.at.place), ..it });
    all.filter(|it| round.only.is_none() || it.at.place.breaker() == round.only).collect()
}

fn conductors(supply: Supply) -> &'static [Conductor] {
    use Conductor::{A, B, C, N};
    if supply.legs() == 3 { &[A, B, C, N] } else { &[A, B, N] }
}

fn coming_in(panel: &Panel, of: Conductor, expected: Amps, rating: Option<Amps>) -> ToRead {
    let which = if of == Conductor::N { "the neutral".to_owned() } else { format!("leg {}", of.said()) };
    ToRead {
        at: RoundPlace { place: MeasuredAt::Main { panel: panel.id }, of: Some(of) },
        panel: panel.name.clone(),
        said: format!("{which} that comes in"),
        expected,
        plus_minus: None,
        expected_said: format!("{:.1} A, as far as known", expected.0),
        ask_above: rating.map(|r| Amps(ASK_ABOVE * r.0)),
        held: String::new(),
    }
}

fn at_breaker(panel: &Panel, breaker: &Breaker, runs: &RunTogether) -> ToRead {
    let carries = runs.circuits.iter().find(|c| c.breaker == breaker.id);
    ToRead {
        at: RoundPlace { place: MeasuredAt::Breaker { breaker: breaker.id, pole: None, side: Side::Load }, of: None },
        panel: panel.name.clone(),
        said: format!("the hot of {}", breaker.at_text()),
        expected: carries.map_or(Amps(0.0), |c| c.amps),
        plus_minus: carries.map(|c| c.plus_minus),
        expected_said: carries.map_or_else(|| "nothing".to_owned(), |c| range_said(c.amps, c.plus_minus)),
        ask_above: Some(Amps(ASK_ABOVE * breaker.amps.0)),
        held: String::new(),
    }
}
