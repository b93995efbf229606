//! What must not be in a house: one rule a file, one list. (handbook 1, 3.10, 6)
//!
//! A [`Rule`] looks at [`Facts`] and gives [`Hit`]s. Nobody else knows a rule: editing refuses or marks what is entered
//! ([`Entry`]), a plan makes no hit and leaves none of danger on what it touches (`job::checked`), the face and the day's list
//! show what stands. Adding one touches its file and the list here; its examples are played by the test below.

pub mod as_found;
pub(crate) mod faulty;
pub(crate) mod required;
pub(crate) mod takes;
#[cfg(test)]
mod tests;

use serde::Serialize;
use utoipa::ToSchema;

pub use crate::base::Source;
pub(crate) use crate::base::nec;
use crate::base::said;
use crate::base::units::Amps;
use crate::code::STANDARD_RATINGS;
use crate::house::{
    Breaker, BreakerId, Circuit, CircuitId, House, Load, LoadId, LoadKind, Panel, PanelId, Point, PointId, PointKind,
};
use crate::plate::{self, Connected};
use crate::words::things::by_tags;

#[cfg(test)]
use tests::{Case, Example};

macro_rules! rules {
    ($($module:ident),* ; $($table:ident: $($row:ident),*);* $(;)?) => {
        $(pub(crate) mod $module;)*

        /// Every rule.
        pub static RULES: &[&Rule] = &[$(&$module::RULE,)* $($(&$table::$row,)*)*];

        #[cfg(test)]
        const EXAMPLES: &[(&Rule, fn() -> Vec<Example>)] = &[$((&$module::RULE, $module::examples)),*];
    };
}

rules![
    same_leg,
    half_size,
    too_many,
    thin_wire,
    full_terminal,
    neutral_one_leg,
    neutral_untied,
    neutral_apart,
    neutral_two_panels,
    neutral_device,
    main_over_bus,
    branch_over_bus,
    standard_rating,
    not_listed,
    bonded_twice,
    receptacle_rating,
    light_rating,
    light_voltage,
    wrong_voltage,
    ground_fault,
    arc_fault,
    nameplate_most,
    nameplate_least,
    nameplate_wire,
    nameplate_volts,
    cord_share,
    fixed_share,
    lasting_sum,
    feeder_lasting,
    aluminium,
    six_handles,
    device_behind,
    must_run;
    as_found: SCORCHED, WATER, NO_COVER, OPENING, DOUBTFUL_TYPE, INTERLOCK, BLOCKED, SCREWS, ELECTRODE, UNBONDED, BURNT_BUS, LOOSE_WIRE,
        TWO_UNDER, TWO_NEUTRALS, ALUMINIUM_SEEN, ROUGH_ENDS, OTHER_MAKES, DOES_NOT_STAY, NO_WIRE, HOLD_DOWN, THREE_HOLES,
        BROKEN;
    required: KITCHEN, BATHROOM, LAUNDRY, GARAGE, TWO;
    faulty: OPEN_GROUND, OPEN_NEUTRAL, OPEN_HOT, HOT_GROUND, HOT_NEUTRAL, SCORCHED_POINT, LOOSE;
];

/// How grave a hit is.
#[derive(Debug, Clone, Copy, PartialEq, Eq, PartialOrd, Ord, Serialize, ToSchema)]
#[serde(rename_all = "kebab-case")]
pub enum Severity {
    /// Somebody may be hurt, or something burn: act now.
    Danger,
    /// Wrong, and to be mended with the next work there.
    Mend,
    /// Worth knowing, and blocks nothing: older work may have been right in its day.
    Improve,
}

said!(Severity {
    Danger => "dangerous",
    Mend => "to mend",
    Improve => "worth improving",
});

/// Who mends something, at the least. Local law decides.
#[derive(Debug, Clone, Copy, PartialEq, Eq, PartialOrd, Ord, Serialize, ToSchema)]
#[serde(rename_all = "kebab-case")]
pub enum Who {
    /// Anybody.
    Anyone,
    /// Somebody qualified for work in a panel or box.
    Qualified,
    /// A licensed electrician.
    Licensed,
    /// The utility.
    Utility,
}

said!(Who {
    Anyone => "anybody",
    Qualified => "a qualified person",
    Licensed => "a licensed electrician",
    Utility => "the utility",
});

/// What a rule speaks of; of one such thing there is one hit at most.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, ToSchema)]
#[serde(rename_all = "kebab-case")]
pub enum Scope {
    /// A panel.
    Panel,
    /// A breaker.
    Breaker,
    /// What hangs on a breaker's terminals.
    Circuit,
    /// A point.
    Point,
    /// What draws at a point.
    Load,
}

/// What becomes of it when somebody enters it.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum Entry {
    /// Refused at this field, unless it is recorded as found.
    Refused(&'static str),
    /// Asked about at this field: it is more often a slip than so.
    Asked(&'static str),
    /// Marked.
    Marked,
    /// Marked, too. Somebody saw it: no plan makes it, and none is refused for it, but it is told beside the plan, and who may do that.
    Seen,
}

/// A rule.
#[derive(Debug)]
pub struct Rule {
    /// A short name: `thin-wire`.
    pub id: &'static str,
    /// In a few words.
    pub title: &'static str,
    /// What it speaks of.
    pub scope: Scope,
    /// How grave it is, where a hit does not say otherwise.
    pub severity: Severity,
    /// What becomes of it when it is entered.
    pub entry: Entry,
    /// Where it stands.
    pub source: Source,
    /// What mends it, or what would be possible instead.
    pub cure: &'static str,
    /// The kind of job that mends it, where it is one.
    pub job: Option<&'static str>,
    /// Who mends it.
    pub who: Who,
    /// Looks for it.
    pub(crate) check: fn(&Facts<'_>) -> Vec<Hit>,
}

/// Of these a breaker that is too small trips, and nothing burns: a smaller one that ends a danger may have them as its price.
const ONLY_TRIP: [&Rule; 9] = [
    &cord_share::RULE,
    &fixed_share::RULE,
    &lasting_sum::RULE,
    &nameplate_least::RULE,
    &required::KITCHEN,
    &required::BATHROOM,
    &required::LAUNDRY,
    &required::GARAGE,
    &required::TWO,
];

impl Rule {
    /// What breaks it trips, and burns nothing.
    #[must_use]
    pub fn only_trips(&self) -> bool {
        ONLY_TRIP.contains(&self)
    }
}

impl PartialEq for Rule {
    fn eq(&self, other: &Self) -> bool {
        self.id == other.id
    }
}

/// What a hit rests on.
#[derive(Debug, Clone, Copy, PartialEq, Eq, PartialOrd, Ord, Serialize, ToSchema)]
#[serde(rename_all = "kebab-case")]
pub enum Rests {
    /// What is entered alone.
    Entered,
    /// What is proven to hang there.
    Proven,
    /// What likely hangs there.
    Likely,
}

/// What hangs on a breaker: proven, or likely.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub struct Hangs {
    /// The breaker.
    pub breaker: BreakerId,
    /// The point.
    pub point: PointId,
    /// It is proven.
    pub proven: bool,
}

/// A load whose size is known, on what it hangs, with what it draws at its most.
type Plated<'a> = (&'a Breaker, &'a Load, Rests, Amps);

/// What rules look at: a house, and what hangs where as far as somebody traced it.
#[derive(Debug, Clone, Copy)]
pub struct Facts<'a> {
    /// The house.
    pub house: &'a House,
    /// What hangs where; nothing where that is left out of it.
    pub hangs: &'a [Hangs],
}

impl<'a> Facts<'a> {
    /// What is entered, without what hangs where.
    #[must_use]
    pub fn entered(house: &'a House) -> Self {
        Self { house, hangs: &[] }
    }

    /// Every breaker with its panel.
    fn breakers(&self) -> impl Iterator<Item = (&'a Panel, &'a Breaker)> + use<'a> {
        let house = self.house;
        house.breakers.iter().filter_map(|b| Some((house.panels.get(b.panel)?, b)))
    }

    /// Every circuit with its breaker.
    fn circuits(&self) -> impl Iterator<Item = (&'a Breaker, &'a Circuit)> + use<'a> {
        let house = self.house;
        house.circuits.iter().filter_map(|c| Some((house.breakers.get(c.breaker)?, c)))
    }

    /// Every point with what it hangs on, and what that rests on.
    fn points(&self) -> impl Iterator<Item = (&'a Breaker, &'a Point, Rests)> + use<'a> {
        let house = self.house;
        self.hangs.iter().filter_map(move |h| {
            let rests = if h.proven { Rests::Proven } else { Rests::Likely };
            Some((house.breakers.get(h.breaker)?, house.points.get(h.point)?, rests))
        })
    }

    /// Every load with what it hangs on, and what that rests on.
    fn loads(&self) -> impl Iterator<Item = (&'a Breaker, &'a Load, Rests)> + use<'a> {
        let house = self.house;
        self.points().flat_map(move |(breaker, point, rests)| {
            house.loads.iter().filter(move |l| l.point == point.id).map(move |l| (breaker, l, rests))
        })
    }

    /// Every load whose size is known, with what it hangs on, what that rests on, and what it draws at its most.
    fn sized(&self) -> impl Iterator<Item = Plated<'a>> + use<'a> {
        let facts = *self;
        self.loads().filter_map(move |(breaker, load, rests)| {
            let amps = plate::current(load, facts.connected(load))?;
            Some((breaker, load, rests, amps))
        })
    }

    /// How a load is connected.
    fn connected(&self, load: &Load) -> Connected {
        connected(self.house, self.hangs, load)
    }

    /// The one point on a breaker: proven, and nothing else even likely. What is allowed to a thing alone rests on that.
    fn alone(&self, breaker: BreakerId) -> Option<PointId> {
        let mut hang = self.hangs.iter().filter(|h| h.breaker == breaker);
        hang.next().filter(|only| only.proven && hang.next().is_none()).map(|only| only.point)
    }
}

/// How a load is connected: as its plate says, and over three phases as well where it is proven to hang alone across three poles. What is
/// only likely to hang there counts with the current of one phase, which is more.
#[must_use]
pub fn connected(house: &House, hangs: &[Hangs], load: &Load) -> Connected {
    let printed = Connected::printed(load, plate::volts(house, load));
    if printed.three_phase || !printed.volts.is_leg_to_leg() {
        return printed;
    }
    let mut on = hangs.iter().filter(|h| h.point == load.point);
    let (Some(only), None) = (on.next(), on.next()) else { return printed };
    let Some(breaker) = house.breakers.get(only.breaker).filter(|_| only.proven) else { return printed };
    Connected::on(house, load, breaker, hangs.iter().filter(|h| h.breaker == breaker.id).map(|h| h.point))
}

/// It stays where it is, wired or plugged in, as the code tells it from what people carry about.
fn is_fastened(point: &Point, load: &Load) -> bool {
    use LoadKind::{
        Cooktop, Dishwasher, Disposer, Dryer, Fan, Heating, Hood, Oven, Pool, Range, SumpPump, Washer, WaterHeater,
    };
    let wired = !matches!(point.kind, PointKind::Receptacle | PointKind::Light);
    let built_in = matches!(
        load.kind,
        Cooktop | Dishwasher | Disposer | Dryer | Oven | Pool | Range | SumpPump | Washer | WaterHeater
    );
    let hung = matches!(load.kind, Fan | Heating | Hood) && wired;
    load.kind != LoadKind::Light && (wired || built_in || hung)
}

/// Things that the code wants on a circuit of their own, or that take most of one. [pub: NEC 210.11(C), 422.12, 422.16(B)(4), 760.41,
/// value from memory]
pub(crate) fn wants_its_own(load: &Load) -> bool {
    use LoadKind::{BackupHeat, CarCharger, FireAlarm, Hood, Microwave};
    matches!(load.kind, BackupHeat | CarCharger | FireAlarm | Hood | Microwave)
        || load.name.to_lowercase().contains("furnace")
}

/// Sums of what nameplates print are whole tenths; what is less apart is the arithmetic's.
const ROUNDING: f64 = 1e-6;

/// Something that a rule found.
#[derive(Debug, Clone, PartialEq)]
pub struct Hit {
    /// The rule.
    pub rule: &'static Rule,
    /// How grave.
    pub severity: Severity,
    /// What it rests on.
    pub rests: Rests,
    /// The panel where it is.
    pub panel: PanelId,
    /// The breaker, where one is meant,
    pub breaker: Option<BreakerId>,
    /// others that have part in it, as all have in a shared neutral,
    pub others: Vec<BreakerId>,
    /// what hangs on its terminals,
    pub circuit: Option<CircuitId>,
    /// the point,
    pub point: Option<PointId>,
    /// and what draws there.
    pub load: Option<LoadId>,
    /// What is wrong there.
    pub why: String,
}

/// A hit in words.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
pub struct Told {
    /// The rule.
    pub rule: &'static str,
    /// How grave.
    pub severity: Severity,
    /// What it rests on.
    pub rests: Rests,
    /// Where.
    pub place: String,
    /// What is wrong there.
    pub why: String,
    /// Where the rule stands; local code decides.
    pub source: String,
    /// What mends it.
    pub cure: &'static str,
    /// The kind of job that mends it, where it is one.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub job: Option<&'static str>,
}

/// What tells one hit from another: the rule, and the thing that it speaks of.
pub type Key = (&'static str, u64);

impl Hit {
    pub(crate) fn new(rule: &'static Rule, panel: PanelId, why: String) -> Self {
        Self {
            rule,
            severity: rule.severity,
            rests: Rests::Entered,
            panel,
            breaker: None,
            others: Vec::new(),
            circuit: None,
            point: None,
            load: None,
            why,
        }
    }

    pub(crate) fn in_panel(rule: &'static Rule, panel: &Panel, why: String) -> Self {
        Self::new(rule, panel.id, why)
    }

    pub(crate) fn at(rule: &'static Rule, breaker: &Breaker, why: String) -> Self {
        Self { breaker: Some(breaker.id), ..Self::new(rule, breaker.panel, why) }
    }

    fn on(rule: &'static Rule, breaker: &Breaker, circuit: &Circuit, why: String) -> Self {
        Self { circuit: Some(circuit.id), ..Self::at(rule, breaker, why) }
    }

    /// What is wrong with a shared neutral is a matter of every circuit that shares it.
    fn shared(rule: &'static Rule, facts: &Facts<'_>, (breaker, circuit): (&Breaker, &Circuit), why: String) -> Self {
        let others = facts.house.sharing_neutral(circuit).into_iter().map(|c| c.breaker).filter(|b| *b != breaker.id);
        Self { others: others.collect(), ..Self::on(rule, breaker, circuit, why) }
    }

    fn of(rule: &'static Rule, (breaker, point, rests): (&Breaker, &Point, Rests), why: String) -> Self {
        Self { point: Some(point.id), rests, ..Self::at(rule, breaker, why) }
    }

    /// At a point, on what it hangs as far as that is known; in the first panel where it is not.
    fn anywhere(rule: &'static Rule, facts: &Facts<'_>, point: &Point, why: String) -> Option<Self> {
        match facts.points().find(|(_, p, _)| p.id == point.id) {
            Some((breaker, point, rests)) => Some(Self::of(rule, (breaker, point, rests), why)),
            None => {
                let panel = facts.house.panels_in_order().first()?.id;
                Some(Self { point: Some(point.id), ..Self::new(rule, panel, why) })
            }
        }
    }

    fn with(rule: &'static Rule, (breaker, load, rests): (&Breaker, &Load, Rests), why: String) -> Self {
        Self { point: Some(load.point), load: Some(load.id), rests, ..Self::at(rule, breaker, why) }
    }

    /// True where one of these breakers has part in it.
    #[must_use]
    pub fn concerns(&self, breaker: impl Fn(BreakerId) -> bool) -> bool {
        self.breaker.iter().chain(&self.others).any(|b| breaker(*b))
    }

    /// What tells it from another.
    #[must_use]
    pub fn key(&self) -> Key {
        let thing = match self.rule.scope {
            Scope::Panel => Some(self.panel.0),
            Scope::Breaker => self.breaker.map(|b| b.0),
            Scope::Circuit => self.circuit.map(|c| c.0),
            Scope::Point => self.point.map(|p| p.0),
            Scope::Load => self.load.map(|l| l.0),
        };
        (self.rule.id, thing.unwrap_or_default())
    }

    /// Where it is, as people name that.
    #[must_use]
    pub fn place(&self, house: &House) -> String {
        let breaker = self.breaker.and_then(|b| house.breakers.get(b)).map(|b| house.breaker_name(b));
        let point =
            || self.point.and_then(|p| house.points.get(p)).map(|p| by_tags(house, std::slice::from_ref(&p.tag)));
        breaker.or_else(point).or_else(|| house.panels.get(self.panel).map(|p| p.name.clone())).unwrap_or_default()
    }

    /// For who reads it.
    #[must_use]
    pub fn told(&self, house: &House) -> Told {
        Told {
            rule: self.rule.id,
            severity: self.severity,
            rests: self.rests,
            place: self.place(house),
            why: self.why.clone(),
            source: house.says(self.rule.source).to_string(),
            cure: self.rule.cure,
            job: self.rule.job,
        }
    }

    /// The same with where it stands.
    #[must_use]
    pub fn said(&self, house: &House) -> String {
        format!("{} ({})", self.why, house.says(self.rule.source))
    }
}

/// Everything that must not be, the gravest first.
#[must_use]
pub fn hits(facts: &Facts<'_>) -> Vec<Hit> {
    let mut all: Vec<Hit> = RULES.iter().flat_map(|rule| (rule.check)(facts)).collect();
    all.sort_by_key(|hit| hit.severity);
    all
}

/// What must not be of things of one sort.
#[must_use]
pub fn hits_of(scope: Scope, facts: &Facts<'_>) -> Vec<Hit> {
    RULES.iter().filter(|rule| rule.scope == scope).flat_map(|rule| (rule.check)(facts)).collect()
}

/// What must not be by what is entered alone, as found or not; without what is only worth knowing.
#[must_use]
pub fn standing(house: &House) -> Vec<Hit> {
    let all = hits(&Facts::entered(house));
    all.into_iter().filter(|hit| hit.severity < Severity::Improve).collect()
}

/// The rating that a breaker gets when it is renewed: its own, or where that is a danger to what hangs on it, the largest standard
/// rating below with which nothing of danger stays and nothing else breaks, or else breaks only by tripping; its own where there is
/// none such.
#[must_use]
pub fn rating(facts: &Facts<'_>, breaker: &Breaker) -> Amps {
    let at = |facts: &Facts<'_>| -> Vec<Hit> {
        let mut here = hits(facts);
        here.retain(|hit| hit.breaker == Some(breaker.id));
        here
    };
    let stands = at(facts);
    let is_danger = |hit: &Hit| hit.severity == Severity::Danger;
    if !stands.iter().any(is_danger) {
        return breaker.amps;
    }
    let then = |amps: f64| {
        let mut house = facts.house.clone();
        house.breakers.put(Breaker { amps: Amps(amps), ..breaker.clone() });
        (amps, at(&Facts { house: &house, hangs: facts.hangs }))
    };
    let below = || STANDARD_RATINGS.iter().rev().copied().filter(|amps| *amps < breaker.amps.0);
    let stood = |hit: &Hit| stands.iter().any(|old| old.key() == hit.key());
    let holds = |(_, hits): &(f64, Vec<Hit>)| {
        !hits.iter().any(is_danger) && hits.iter().all(|hit| stood(hit) || hit.rule.only_trips())
    };
    let clean = |told: &(f64, Vec<Hit>)| holds(told) && told.1.iter().all(stood);
    let lower = below().map(then).find(clean).or_else(|| below().map(then).find(holds));
    lower.map_or(breaker.amps, |(amps, _)| Amps(amps))
}

/// A rule as it is told.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
pub struct Listed {
    /// A short name: `thin-wire`.
    pub id: &'static str,
    /// In a few words.
    pub title: &'static str,
    /// What it speaks of.
    pub scope: Scope,
    /// How grave it is, where a hit does not say otherwise.
    pub severity: Severity,
    /// Where it stands; local code decides.
    pub source: String,
    /// What mends it, or what would be possible instead.
    pub cure: &'static str,
}

/// Every rule, as it is told.
#[must_use]
pub fn list() -> Vec<Listed> {
    let listed = |rule: &&'static Rule| {
        let Rule { id, title, scope, severity, cure, .. } = **rule;
        Listed { id, title, scope, severity, source: rule.source.to_string(), cure }
    };
    RULES.iter().map(listed).collect()
}
