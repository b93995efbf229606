//! A rise on a circuit when one thing is switched on is also evidence for the map (handbook 3.2).

use jiff::SignedDuration;

use crate::base::units::{Amps, LOAD_AMPS, ROSE_AMPS};
use crate::house::{Evidence, EvidenceId, House, Load, MeasuredAt, Observation, Quantity, Reading, Side, Span};
use crate::plate::typical;

/// Readings that stand farther apart in time may differ by more than the one thing. (common practice)
const TOGETHER: SignedDuration = SignedDuration::from_mins(30);
/// A thing that draws less is lost in what else comes and goes. (handbook 3.1: a clamp below 1 A is useless)
const ENOUGH: Amps = Amps(2.0);

/// What a new reading says of where a thing hangs: read at the same place as another one shortly before, with just that thing
/// switched on or off between. The observation is of that moment and place, so that it goes with the reading.
#[must_use]
pub fn of(house: &House, new: &Reading) -> Option<Evidence> {
    let MeasuredAt::Breaker { breaker, side: Side::Load, .. } = new.place else { return None };
    if !matches!(new.quantity, Quantity::Amps { of: None }) || new.span != Span::Spot {
        return None;
    }
    let comparable = |r: &&Reading| {
        let same = (r.place, r.quantity, r.instrument, r.span) == (new.place, new.quantity, new.instrument, new.span);
        same && r.id != new.id && r.time <= new.time && new.time.duration_since(r.time) <= TOGETHER
    };
    let before = house.readings.iter().filter(comparable).max_by_key(|r| (r.time, r.id))?;
    let mut differ = before.on.symmetric_difference(&new.on);
    let (Some(one), None) = (differ.next(), differ.next()) else { return None };
    let load: &Load = house.loads.get(*one)?;
    let expected = typical::of_load(house, load)?;
    // No meter shows more than thousandths.
    let rose = if new.on.contains(one) { new.value - before.value } else { before.value - new.value };
    let rose = (1000.0 * rose).round() / 1000.0;
    let told = expected >= ENOUGH && LOAD_AMPS.contain(expected.0) && ROSE_AMPS.contain(rose);
    told.then(|| Evidence {
        id: free(house, new),
        point: load.point,
        time: new.time,
        who: new.who.clone(),
        step: None,
        observation: Observation::Rise { at: breaker, expected, rose: Amps(rose) },
    })
}

/// The reading's number, or where that stands for something else, one above all.
fn free(house: &House, new: &Reading) -> EvidenceId {
    let same = EvidenceId(new.id.0);
    if house.evidence.get(same).is_none() {
        return same;
    }
    EvidenceId(house.evidence.iter().map(|e| e.id.0).max().unwrap_or_default() + 1)
}
