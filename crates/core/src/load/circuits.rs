//! What every circuit carries: base, usual peak and worst case against its rating, how likely it passes that in a usual
//! week, and what runs then.

use std::collections::BTreeSet;

use jiff::Timestamp;
use serde::Serialize;
use utoipa::ToSchema;

use crate::base::units::Amps;
use crate::code::trip;
use crate::house::{Breaker, BreakerId, Habit, House, MeasuredAt, Quantity, Reading, Span};
use crate::load::drawing::{self, Drawing, Drawn};
use crate::load::draws::{NINETEEN_OF_TWENTY, range_said};
use crate::load::hung::Hung;
use crate::load::week::{Runner, Week};
use crate::rules::{self, Facts, Hangs, Scope};
use crate::words::things::by_tags;

/// The share of a rating that what runs for three hours or more may take. [pub: NEC 210.20(A), value from memory]
pub const CONTINUOUS_SHARE: f64 = 0.8;
/// What runs in at least this share of the moments when a rating is passed is a culprit.
const CULPRIT: f64 = 0.5;
/// As good as all of it at once. (common practice)
pub(super) const NEARLY: f64 = 0.95;
/// Below this chance in a week nothing is said of it: that comes once in half a year. (common practice)
const WORTH_SAYING: f64 = 0.04;

/// Something about a load that its circuit does not give.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
pub struct Unmet {
    /// What, in words.
    pub said: String,
    /// By which rule.
    pub source: String,
}

/// A circuit's currents against its rating.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
pub struct CircuitLoad {
    /// Its breaker.
    pub breaker: BreakerId,
    /// The panel's name.
    pub panel: String,
    /// The breaker's poles.
    pub at: String,
    /// What hangs on it in a few words: the largest first.
    pub name: String,
    /// The breaker's rating.
    pub rating: Amps,
    /// What may run at any moment of a quiet night: standby, and what cycles by itself.
    pub base: Amps,
    /// What it reaches every other week at least.
    pub usual: Amps,
    /// The same where what nobody measured draws all that its plate may mean, and what was measured as much as is known of it: what
    /// work rests on.
    pub usual_most: Amps,
    /// All of it at once.
    pub worst: Amps,
    /// Chance that it passes its rating in a usual week, 0 to 1.
    pub over: f64,
    /// That is likely enough to be told.
    pub warns: bool,
    /// What runs then.
    pub culprits: Vec<String>,
    /// Its last reading.
    pub measured: Option<Measured>,
    /// All its currents rest on readings.
    pub all_measured: bool,
    /// It feeds a panel.
    pub feeds_panel: bool,
    /// What hangs on it, what draws most first.
    pub things: Vec<CircuitThing>,
    /// Points on it of which nobody said what draws there.
    pub unknown: Vec<String>,
    /// Points that are believed, not proven, to hang on it.
    pub unproven: Vec<String>,
    /// What nameplates ask of the circuit and do not get.
    pub unmet: Vec<Unmet>,
    /// What to make of it, in words.
    pub said: String,
}

/// A thing on a circuit.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
pub struct CircuitThing {
    /// What it is.
    pub thing: Drawn,
    /// The tag of its point.
    pub point: String,
    /// What people call it.
    pub name: String,
    /// What it draws, where anything is known of that,
    pub amps: Option<Amps>,
    /// within so much either way, nineteen times of twenty.
    pub plus_minus: Amps,
    /// That in words, or that it is not known.
    pub said: String,
    /// It was measured.
    pub measured: bool,
    /// When it runs.
    pub habit: Habit,
}

/// A number that was read.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, ToSchema)]
pub struct Measured {
    /// The current.
    pub amps: Amps,
    /// When.
    #[schema(value_type = String, format = DateTime)]
    pub time: Timestamp,
}

/// What each circuit carries, by panel and position.
#[must_use]
pub fn circuits(house: &House, hung: &Hung<'_>, all: &[Drawing]) -> Vec<CircuitLoad> {
    let panels = house.panels_in_order();
    let breakers = panels.iter().flat_map(|p| house.breakers_of(p.id));
    breakers.filter_map(|b| circuit(house, hung, b, all)).collect()
}

fn circuit(house: &House, hung: &Hung<'_>, breaker: &Breaker, all: &[Drawing]) -> Option<CircuitLoad> {
    let panel = house.panels.get(breaker.panel)?;
    let feeds_panel = house.panel_fed_by(breaker.id).is_some();
    let mut on: Vec<&Drawing> = all.iter().filter(|d| hung.is_behind(breaker.id, &d.breakers)).collect();
    on.sort_by(|a, b| amps(b).total_cmp(&amps(a)));
    let runners = runners(breaker, &on);
    let whole: Vec<(&Drawing, f64)> = on.iter().zip(&runners).map(|(d, runner)| (*d, runner.share)).collect();
    let week = Week::of(&runners).unsure_by(drawing::error_of(&whole));
    let over = week.passes(breaker.amps.0);
    let culprits = if over >= WORTH_SAYING { culprits(&on, &runners, &week, breaker.amps.0) } else { Vec::new() };
    let base = on.iter().filter(|d| d.habit == Habit::Always).map(|d| amps(d)).sum::<f64>().abs();
    let worst = on.iter().map(|d| amps(d)).sum::<f64>().abs();
    let mut circuit = CircuitLoad {
        breaker: breaker.id,
        panel: panel.name.clone(),
        at: breaker.at_text(),
        name: name(&on),
        rating: breaker.amps,
        base: Amps(base),
        usual: Amps(week.usual_peak().min(worst)),
        usual_most: usual_most(breaker, &on, &week),
        worst: Amps(worst),
        over,
        warns: over >= WORTH_SAYING,
        culprits,
        measured: last_reading(house, breaker.id),
        all_measured: !on.is_empty() && on.iter().all(|d| d.measured),
        feeds_panel,
        things: on.iter().map(|d| thing(d)).collect(),
        unknown: tags(on.iter().filter(|d| d.amps.is_none())),
        unproven: tags(on.iter().filter(|d| !d.proven)),
        unmet: unmet(house, breaker, &on),
        said: String::new(),
    };
    circuit.said = said(house, &circuit);
    Some(circuit)
}

fn usual_most(breaker: &Breaker, on: &[&Drawing], week: &Week) -> Amps {
    if on.iter().all(|d| d.read) {
        let open = drawing::upper(on) - on.iter().map(|d| amps(d)).sum::<f64>();
        return Amps(week.usual_peak() + open);
    }
    let most = |(d, runner): (&&Drawing, Runner)| Runner { amps: d.most.0, ..runner };
    let most: Vec<Runner> = on.iter().zip(runners(breaker, on)).map(most).collect();
    Amps(Week::of(&most).usual_peak().max(week.usual_peak()))
}

fn unmet(house: &House, breaker: &Breaker, on: &[&Drawing]) -> Vec<Unmet> {
    // What hangs in a panel behind it is its own breaker's concern.
    let here = on.iter().filter(|d| d.breakers.contains(&breaker.id));
    let load = |d: &&Drawing| if let Drawn::Load(id) = d.thing { house.loads.get(id) } else { None };
    let hang = |load: &crate::house::Load| Hangs { breaker: breaker.id, point: load.point, proven: true };
    let loads: Vec<&crate::house::Load> = here.filter_map(load).collect();
    let mut hangs: Vec<Hangs> = loads.iter().map(|load| hang(load)).collect();
    hangs.dedup();
    let hits = rules::hits_of(Scope::Load, &Facts { house, hangs: &hangs });
    let meant = hits.into_iter().filter(|hit| loads.iter().any(|load| Some(load.id) == hit.load));
    meant.map(|hit| Unmet { source: house.says(hit.rule.source).to_string(), said: hit.why }).collect()
}

fn amps(drawing: &Drawing) -> f64 {
    drawing.amps.map_or(0.0, |a| a.0)
}

fn tags<'a>(of: impl Iterator<Item = &'a &'a Drawing>) -> Vec<String> {
    let mut seen = BTreeSet::new();
    of.map(|d| d.tag.clone()).filter(|tag| seen.insert(tag.clone())).collect()
}

/// The largest things by name, and how many more there are.
fn name(on: &[&Drawing]) -> String {
    let called: Vec<&str> = on.iter().map(|d| d.name.as_str()).filter(|n| !n.is_empty()).collect();
    match called.as_slice() {
        [] => String::new(),
        [one] => (*one).to_owned(),
        [one, two] => format!("{one}, {two}"),
        [one, two, rest @ ..] => format!("{one}, {two} +{}", rest.len()),
    }
}

/// A thing of one leg on a breaker of two is on either pole: at the usual peak it counts half.
pub(super) fn runners(breaker: &Breaker, on: &[&Drawing]) -> Vec<Runner> {
    let poles = breaker.at.len().max(1) as f64;
    let runner = |d: &&Drawing| {
        let share = if d.volts.is_leg_to_leg() || poles < 2.0 { 1.0 } else { 1.0 / poles };
        Runner { amps: amps(d), error: d.error.0, uses: d.uses, share }
    };
    on.iter().map(runner).collect()
}

fn culprits(on: &[&Drawing], runners: &[Runner], week: &Week, rating: f64) -> Vec<String> {
    // Where only what is not known of the draws brings it over, those are on that come nearest.
    let all: f64 = runners.iter().map(|r| r.amps).sum();
    let runs = week.runs_when_over(runners, rating.min(NEARLY * all));
    let guilty = on.iter().zip(runs).filter(|(d, p)| *p >= CULPRIT && amps(d) >= 1.0);
    guilty.map(|(d, _)| d.named()).collect()
}

fn thing(d: &Drawing) -> CircuitThing {
    CircuitThing {
        thing: d.thing,
        point: d.tag.clone(),
        name: d.name.clone(),
        amps: d.amps,
        plus_minus: Amps(NINETEEN_OF_TWENTY * d.error.0),
        said: d.amps.map_or_else(
            || "not known what draws here".to_owned(),
            |amps| range_said(amps, Amps(NINETEEN_OF_TWENTY * d.error.0)),
        ),
        measured: d.measured,
        habit: d.habit,
    }
}

/// The last current read at a breaker: of its poles the largest of that moment.
fn last_reading(house: &House, breaker: BreakerId) -> Option<Measured> {
    let of_it = |r: &&Reading| {
        matches!(r.place, MeasuredAt::Breaker { breaker: b, .. } if b == breaker)
            && matches!(r.quantity, Quantity::Amps { .. })
            && r.span != Span::Inrush
    };
    let last = house
        .readings
        .iter()
        .filter(of_it)
        .max_by(|a, b| (a.time, a.value).partial_cmp(&(b.time, b.value)).unwrap_or(std::cmp::Ordering::Equal))?;
    Some(Measured { amps: Amps(last.value), time: last.time })
}

fn said(house: &House, c: &CircuitLoad) -> String {
    let mut parts = Vec::new();
    if c.things.is_empty() {
        return "Nothing is known to hang on it: trace first".into();
    }
    let rating = c.rating.0;
    if c.warns {
        let share = percent(c.over);
        let what = if c.culprits.is_empty() { String::new() } else { format!(", with {} on", c.culprits.join(", ")) };
        parts.push(format!("Passes its {rating} A in {share} of usual weeks{what}"));
    } else {
        let known = if c.unknown.is_empty() { "Stays" } else { "As far as known it stays" };
        parts.push(format!("{known} within its {rating} A in a usual week"));
    }
    if c.worst.0 > rating {
        let holds = trip::holds(c.rating, c.worst).said;
        parts.push(format!("all at once is {:.0} A: {holds}", c.worst.0));
    }
    if !c.unknown.is_empty() {
        parts.push(format!("what draws at {} is not known and not counted", by_tags(house, &c.unknown)));
    }
    if !c.unproven.is_empty() {
        parts.push(format!("not proven to hang here: {}", by_tags(house, &c.unproven)));
    }
    parts.join("; ")
}

fn percent(p: f64) -> String {
    match 100.0 * p {
        p if p > 99.0 => "nearly all".into(),
        p if p < 10.0 => format!("{p:.0} %"),
        p => format!("{:.0} %", (p / 5.0).round() * 5.0),
    }
}
