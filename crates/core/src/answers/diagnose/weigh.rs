//! Weighing: what was told, what looks showed and what is on record, against what each cause would show.

use std::collections::{BTreeMap, BTreeSet};

use super::bench::Bench;
use super::shows::Shows;
use super::{Answer, Broken, Cause, Check, Complaint, Extent, HandlesSeen, RuledOut, Showed, Sign, Stop};
use crate::answers::service::{self, Trouble};
use crate::base::position::Leg;
use crate::house::{BreakerId, Handle, PanelId, PointId, RoomId};
use crate::load::suspect::{self, Row};

/// How often what is said to work does not, or was not looked at; a lamp on another circuit, the wrong tag. (common practice)
const SLIP: f64 = 0.04;
/// How often just this is said to be dead and is not: nobody complains of what works, and then it would be one of many. (common
/// practice)
const FALSE_ALARM: f64 = 0.002;
/// What makes a point less than so probably dead, dim or bright has nothing to do with it.
const BEARS_FROM: f64 = 0.01;
/// How often something is called dim, or bright, that is as ever.
const FANCIED: f64 = 0.005;
/// Two faults at once, against what chance alone would give: one breeds the other, and nobody calls for the first.
const TWO: f64 = 0.15;
/// For each dead point so many causes are tried together with others.
const TRIED: usize = 3;
/// Of what leaves less of the house dead nobody says that everything is, or half of it.
const MOST: f64 = 0.25;
/// From this share of a house on it is told as about half of it,
const ABOUT_HALF: f64 = 0.30;
/// and at times from here on. (common practice)
const NEARLY_HALF: f64 = 0.18;
/// A tripped handle is seen,
const HANDLE_SEEN: f64 = 0.88;
/// or easily taken for one that is on;
const HANDLE_OVERLOOKED: f64 = 0.10;
/// and one that is on is seldom taken for tripped. (common practice)
const HANDLE_FANCIED: f64 = 0.02;
/// What is less probable is left out, but of the sum.
const KEPT_FROM: f64 = 1e-5;
/// A cause was thought of from here on,
const THOUGHT_OF: f64 = 0.05;
/// and is ruled out below.
const RULED_OUT: f64 = 0.005;

/// The causes as they are weighed now, and what was thought of before any look.
pub(super) struct Weighed {
    pub tales: Vec<Tale>,
    thought_of: Vec<Tale>,
}

/// A cause, or two, with what they show.
#[derive(Debug, Clone)]
pub(super) struct Tale {
    pub cause: Cause,
    pub also: Option<Cause>,
    /// By the bench's points.
    pub shows: Vec<Shows>,
    prior: f64,
    pub p: f64,
}

impl Tale {
    pub(super) fn causes(&self) -> impl Iterator<Item = Cause> + use<> {
        std::iter::once(self.cause).chain(self.also)
    }
}

/// What a look may show.
#[derive(Debug, Clone, Copy, PartialEq, Eq, PartialOrd, Ord)]
pub(super) enum LookShows {
    Yes,
    No,
    Again,
    Extent(Extent),
    Handle(BreakerId),
    MainHandle,
    OtherHandle,
    NoHandle,
    Fine,
    NoPower,
    Lost(Leg),
    Floats,
    Breaker,
    Odd,
}

impl Bench<'_> {
    /// All causes by falling probability, those left out that nothing speaks for.
    pub(super) fn weigh(&self, complaint: &Complaint) -> Weighed {
        let mut tales = self.tales(complaint);
        for tale in &mut tales {
            tale.p = tale.prior * self.told(tale, complaint);
        }
        let thought_of = if complaint.answers.is_empty() { Vec::new() } else { self.thought_of(&tales) };
        for tale in &mut tales {
            tale.p *= complaint.answers.iter().map(|answer| self.answer(answer, tale)).product::<f64>();
        }
        let total: f64 = tales.iter().map(|tale| tale.p).sum();
        tales.iter_mut().for_each(|tale| tale.p /= total);
        tales.retain(|tale| tale.p >= KEPT_FROM);
        // Nobody is told again what an answer has just denied.
        let denied = |tale: &Tale| tale.causes().any(|cause| complaint.answers.iter().any(|a| denies(a, cause)));
        let left: f64 = tales.iter().filter(|tale| !denied(tale)).map(|tale| tale.p).sum();
        if left > 0.0 {
            tales.retain(|tale| !denied(tale));
            tales.iter_mut().for_each(|tale| tale.p /= left);
        }
        tales.sort_by(|a, b| b.p.total_cmp(&a.p));
        Weighed { tales, thought_of }
    }

    /// What was probable before any look, the likeliest first.
    fn thought_of(&self, tales: &[Tale]) -> Vec<Tale> {
        let total: f64 = tales.iter().map(|tale| tale.p).sum();
        let mut all: BTreeMap<_, (f64, &Tale)> = BTreeMap::new();
        for tale in tales {
            let group = all.entry(self.key(tale)).or_insert((0.0, tale));
            group.0 += tale.p / total;
        }
        let mut all: Vec<(f64, &Tale)> = all.into_values().filter(|(p, _)| *p >= THOUGHT_OF).collect();
        all.sort_by(|a, b| b.0.total_cmp(&a.0));
        all.into_iter().map(|(_, tale)| tale.clone()).collect()
    }

    fn tales(&self, complaint: &Complaint) -> Vec<Tale> {
        let causes = self.causes();
        let total: f64 = causes.iter().map(|(_, odds)| odds).sum();
        let told = |p: &PointId| {
            [&complaint.dead, &complaint.dim, &complaint.bright, &complaint.flickers].iter().any(|of| of.contains(p))
        };
        let told: Vec<bool> = self.points.iter().map(|p| told(&p.id)).collect();
        let any = told.iter().any(|told| *told);
        let much = [Sign::Everything, Sign::HalfDead].iter().any(|sign| complaint.signs.contains(sign));
        let tale = |(cause, odds): (Cause, f64)| {
            let shows = self.shows(cause);
            // What would leave all of it as ever is no cause of this.
            let bears = |(told, s): (&bool, &Shows)| *told && s.dead + s.dim + s.bright > BEARS_FROM;
            let share = shows.iter().map(|s| s.dead).sum::<f64>();
            let most = shows.is_empty() || share > MOST * shows.len() as f64;
            let does = (!any && (!much || most)) || told.iter().zip(&shows).any(bears);
            does.then_some(Tale { cause, also: None, shows, prior: odds / total, p: 0.0 })
        };
        let mut tales: Vec<Tale> = causes.into_iter().filter_map(tale).collect();
        let pairs = self.pairs(complaint, &tales);
        tales.extend(pairs);
        tales
    }

    /// Two at once, of those that explain something of it best.
    fn pairs(&self, complaint: &Complaint, singles: &[Tale]) -> Vec<Tale> {
        let may = |tale: &&Tale| {
            matches!(
                tale.cause,
                Cause::Breaker { .. }
                    | Cause::GroundFault { .. }
                    | Cause::Unregistered { .. }
                    | Cause::Switch { .. }
                    | Cause::Itself { .. }
            )
        };
        let mut tried: BTreeSet<usize> = BTreeSet::new();
        for (nth, _) in self.points.iter().enumerate().filter(|(_, p)| complaint.dead.contains(&p.id)) {
            let explains = |tale: &Tale| tale.prior * tale.shows[nth].dead;
            let mut best: Vec<(usize, &Tale)> = singles.iter().enumerate().filter(|(_, tale)| may(tale)).collect();
            best.sort_by(|a, b| explains(b.1).total_cmp(&explains(a.1)));
            tried.extend(best.iter().take(TRIED).filter(|(_, tale)| explains(tale) > 0.0).map(|(at, _)| *at));
        }
        let tried: Vec<&Tale> = tried.into_iter().map(|at| &singles[at]).collect();
        let mut pairs = Vec::new();
        for (nth, one) in tried.iter().enumerate() {
            for other in &tried[nth + 1..] {
                pairs.push(Tale {
                    cause: one.cause,
                    also: Some(other.cause),
                    shows: one.shows.iter().zip(&other.shows).map(|(a, b)| a.and(*b)).collect(),
                    prior: TWO * one.prior * other.prior,
                    p: 0.0,
                });
            }
        }
        pairs
    }

    /// Probability that just this is told of a tale.
    fn told(&self, tale: &Tale, complaint: &Complaint) -> f64 {
        let mut likelihood = self.named_of_many(tale, complaint);
        for (point, shows) in self.points.iter().zip(&tale.shows) {
            let dead = shows.dead.clamp(FALSE_ALARM, 1.0 - SLIP);
            if complaint.dead.contains(&point.id) {
                likelihood *= dead;
            }
            if complaint.working.contains(&point.id) {
                likelihood *= 1.0 - dead;
            }
            if complaint.dim.contains(&point.id) || complaint.flickers.contains(&point.id) {
                likelihood *= shows.dim.clamp(FANCIED, 1.0 - SLIP);
            }
            if complaint.bright.contains(&point.id) {
                likelihood *= shows.bright.clamp(FANCIED, 1.0 - SLIP);
            }
        }
        likelihood * complaint.signs.iter().map(|sign| self.sign(*sign, tale)).product::<f64>()
    }

    fn sign(&self, sign: Sign, tale: &Tale) -> f64 {
        match sign {
            Sign::Everything => extent(tale, Extent::All),
            Sign::HalfDead => extent(tale, Extent::Half),
            Sign::BrightAndDim => uneven(tale.cause),
            Sign::Flicker => match tale.cause {
                Cause::OpenNeutral | Cause::SharedNeutral { .. } | Cause::Wire { broken: Broken::Poor, .. } => 0.5,
                Cause::LostLeg { .. } | Cause::BadBreaker { .. } => 0.2,
                _ => 0.05,
            },
            // Those stop everything, whatever they come of.
            Sign::Burning | Sign::Shock => 1.0,
        }
    }

    /// Who sees the whole house dark does not name just one lamp: of `n` things that a cause kills, `k` are named with
    /// a chance of one in "n choose k".
    fn named_of_many(&self, tale: &Tale, complaint: &Complaint) -> f64 {
        let k = complaint.dead.len();
        let killed: f64 = tale.shows.iter().map(|shows| shows.dead).sum();
        let n = killed.max(k as f64);
        (0..k).map(|i| (k - i) as f64 / (n - i as f64)).product()
    }

    /// Probability of an answer, given a tale.
    pub(super) fn answer(&self, answer: &Answer, tale: &Tale) -> f64 {
        if let (Check::Glance { panel }, Showed::Handles(seen)) = (answer.check, &answer.showed) {
            return self.glanced(panel, seen, tale);
        }
        let Some(outcome) = self.outcome(answer) else { return 1.0 };
        // A meter does not show by chance what nothing else makes it show.
        let unforeseen =
            if matches!(answer.check, Check::Measure { .. } | Check::Sides { .. }) { 0.0005 } else { 0.005 };
        self.chances(answer.check, tale).into_iter().find(|(of, _)| *of == outcome).map_or(unforeseen, |(_, p)| p)
    }

    /// Probability of the handles that were seen: each of the tale's own seen or overlooked, and none that stands otherwise than is
    /// on record but those.
    fn glanced(&self, panel: PanelId, seen: &HandlesSeen, tale: &Tale) -> f64 {
        let mut other: BTreeSet<BreakerId> = seen.breakers.clone();
        other.retain(|b| self.house.breakers.get(*b).is_none_or(|b| b.handle == Handle::On));
        let mut main = seen.main;
        let mut p = 1.0;
        for cause in tale.causes() {
            let is_seen = match cause {
                Cause::Breaker { breaker } if self.house.breakers.get(breaker).is_some_and(|b| b.panel == panel) => {
                    other.remove(&breaker);
                    seen.breakers.contains(&breaker)
                }
                Cause::Main { panel: of } if of == panel => {
                    main = false;
                    seen.main
                }
                _ => continue,
            };
            p *= if is_seen { HANDLE_SEEN } else { HANDLE_OVERLOOKED };
        }
        let wrong = other.len() + usize::from(main);
        (0..wrong).fold(p, |p, _| p * HANDLE_FANCIED)
    }

    /// What an answer comes to, of handles aside; nothing where it tells nothing.
    fn outcome(&self, answer: &Answer) -> Option<LookShows> {
        Some(match &answer.showed {
            Showed::CannotTell => return None,
            Showed::Yes => LookShows::Yes,
            Showed::No => LookShows::No,
            Showed::AgainAtOnce => LookShows::Again,
            Showed::Extent(extent) => LookShows::Extent(*extent),
            Showed::Handles(_) => return None,
            Showed::Volts(reading) => {
                let Check::Measure { panel } = answer.check else { return None };
                let supply = self.house.panels.get(panel)?.supply;
                let troubles = service::judge(reading, supply).troubles;
                let first = troubles.iter().find_map(|trouble| match trouble {
                    Trouble::OpenNeutral => Some(LookShows::Floats),
                    Trouble::LostLeg { leg } => Some(LookShows::Lost(*leg)),
                    Trouble::NoPower => Some(LookShows::NoPower),
                    Trouble::OtherSupply | Trouble::DoNotFit => None,
                });
                first.unwrap_or(if troubles.is_empty() { LookShows::Fine } else { LookShows::Odd })
            }
            Showed::Sides(read) => match self.row(answer.check, read)? {
                Row::BreakerOrContact => LookShows::Breaker,
                Row::NotTheBreaker => LookShows::Fine,
                Row::LostLeg => LookShows::NoPower,
                Row::OpenNeutral => LookShows::Floats,
                Row::OutOfBand => LookShows::Odd,
                Row::MeasureMore => return None,
            },
        })
    }

    fn row(&self, check: Check, read: &suspect::BothSides) -> Option<Row> {
        let Check::Sides { breaker } = check else { return None };
        let breaker = self.house.breakers.get(breaker)?;
        let supply = self.house.panels.get(breaker.panel)?.supply;
        suspect::judge(supply, breaker.at.len(), read).ok().map(|verdict| verdict.row)
    }

    /// What a look would show, given a tale, with the errors that people make.
    pub(super) fn chances(&self, check: Check, tale: &Tale) -> Vec<(LookShows, f64)> {
        let yes_no = |yes: f64| vec![(LookShows::Yes, yes), (LookShows::No, 1.0 - yes)];
        let is = |cause: Cause| tale.causes().any(|of| of == cause);
        let seldom = 0.02;
        match check {
            Check::Extent => {
                [Extent::All, Extent::Half, Extent::Less].map(|e| (LookShows::Extent(e), extent(tale, e))).into()
            }
            Check::Neighbours => yes_no(match tale.cause {
                // At times just this house's drop or meter is out.
                Cause::Utility => 0.88,
                Cause::LostLeg { .. } | Cause::OpenNeutral => 0.08,
                _ => seldom,
            }),
            Check::Glance { panel } => {
                let here = |b: BreakerId| self.house.breakers.get(b).is_some_and(|b| b.panel == panel);
                let its = tale.causes().find_map(|cause| match cause {
                    Cause::Breaker { breaker } if here(breaker) => Some(LookShows::Handle(breaker)),
                    Cause::Main { panel: of } if of == panel => Some(LookShows::MainHandle),
                    _ => None,
                });
                match its {
                    Some(its) => vec![
                        (its, HANDLE_SEEN),
                        (LookShows::NoHandle, HANDLE_OVERLOOKED),
                        (LookShows::OtherHandle, HANDLE_FANCIED),
                    ],
                    None => vec![(LookShows::NoHandle, 1.0 - HANDLE_FANCIED), (LookShows::OtherHandle, HANDLE_FANCIED)],
                }
            }
            Check::CycleMain { panel } if is(Cause::Main { panel }) => {
                vec![(LookShows::Yes, 0.88), (LookShows::Again, 0.09), (LookShows::No, 0.03)]
            }
            Check::Cycle { breaker } if is(Cause::Breaker { breaker }) => {
                vec![(LookShows::Yes, 0.88), (LookShows::Again, 0.09), (LookShows::No, 0.03)]
            }
            Check::Cycle { breaker } if is(Cause::BadBreaker { breaker }) => yes_no(0.10),
            Check::PressReset { point } if is(Cause::GroundFault { point }) => {
                vec![(LookShows::Yes, 0.88), (LookShows::Again, 0.08), (LookShows::No, 0.04)]
            }
            Check::TryButtons if tale.causes().any(|cause| matches!(cause, Cause::Unregistered { .. })) => {
                vec![(LookShows::Yes, 0.86), (LookShows::Again, 0.06), (LookShows::No, 0.08)]
            }
            // Without power nothing makes a main fall.
            Check::CycleMain { .. } => vec![(LookShows::Yes, 0.01), (LookShows::Again, 0.001), (LookShows::No, 0.989)],
            Check::Cycle { .. } | Check::PressReset { .. } | Check::TryButtons => {
                vec![(LookShows::Yes, 0.01), (LookShows::Again, 0.01), (LookShows::No, 0.98)]
            }
            Check::Switch { point } => yes_no(if is(Cause::Switch { point }) { 0.96 } else { seldom }),
            Check::Works { point } => {
                let at = self.points.iter().position(|p| p.id == point);
                let dead = at.map_or(0.0, |at| tale.shows[at].dead + 0.5 * tale.shows[at].dim);
                yes_no(1.0 - dead.clamp(SLIP, 1.0 - SLIP))
            }
            Check::Another { point } => yes_no(if is(Cause::Itself { point }) { 0.96 } else { seldom }),
            Check::Uneven => yes_no(uneven(tale.cause)),
            Check::Glows { .. } => yes_no(match tale.cause {
                Cause::Wire { broken: Broken::Neutral, .. } | Cause::SharedNeutral { .. } | Cause::OpenNeutral => 0.93,
                Cause::Wire { broken: Broken::Poor, .. } | Cause::Itself { .. } => 0.90,
                // Wires beside live ones make some testers glow.
                _ => 0.08,
            }),
            Check::Measure { panel } => {
                let other = |main: LookShows, p: f64| vec![(main, p), (LookShows::Odd, 1.0 - p)];
                match tale.cause {
                    Cause::OpenNeutral => {
                        vec![(LookShows::Floats, 0.93), (LookShows::Fine, 0.05), (LookShows::Odd, 0.02)]
                    }
                    Cause::LostLeg { panel: of, leg } if of == panel => other(LookShows::Lost(leg), 0.93),
                    Cause::Utility => other(LookShows::NoPower, 0.97),
                    Cause::Main { panel: of } if of == panel => other(LookShows::NoPower, 0.97),
                    _ => other(LookShows::Fine, 0.95),
                }
            }
            Check::Sides { breaker } => {
                let main = match tale.cause {
                    Cause::BadBreaker { breaker: of } | Cause::Breaker { breaker: of } if of == breaker => {
                        LookShows::Breaker
                    }
                    Cause::OpenNeutral => LookShows::Floats,
                    Cause::LostLeg { .. } | Cause::Utility | Cause::Main { .. } => LookShows::NoPower,
                    _ => LookShows::Fine,
                };
                vec![(main, 0.93), (LookShows::Odd, 0.07)]
            }
        }
    }

    /// Whether to stop. By rule alone: odds never stop anybody, so that neither a power cut nor a dead outlet does. (handbook 1.1, 5.17)
    pub(super) fn stop(&self, complaint: &Complaint) -> Option<Stop> {
        let seen = |sign| complaint.signs.contains(&sign);
        if seen(Sign::Burning) {
            return Some(Stop::Burning);
        }
        if seen(Sign::Shock) {
            return Some(Stop::Shock);
        }
        let told = complaint.answers.iter().any(|answer| match (&answer.check, &answer.showed) {
            (Check::Uneven, Showed::Yes) => true,
            (Check::Measure { panel }, Showed::Volts(reading)) => self
                .house
                .panels
                .get(*panel)
                .is_some_and(|p| service::judge(reading, p.supply).troubles.contains(&Trouble::OpenNeutral)),
            (check @ Check::Sides { .. }, Showed::Sides(read)) => self.row(*check, read) == Some(Row::OpenNeutral),
            _ => false,
        });
        let on = |leg| {
            complaint.flickers.iter().any(|point| self.leg(*point, leg) >= 0.5 && self.leg(*point, other(leg)) < 0.5)
        };
        let both_legs = on(Leg::A) && on(Leg::B);
        let uneven = seen(Sign::BrightAndDim) || !complaint.bright.is_empty();
        (told || both_legs || uneven || self.last_reads_open().is_some()).then_some(Stop::OpenNeutral)
    }

    /// What is told as one: of a circuit's wires the place is told with it, not beside it; a breaker and its own terminal are one place
    /// for whoever looks; and whoever presses RESET finds the room.
    pub(super) fn key(&self, tale: &Tale) -> (Cause, Option<Cause>) {
        let key = |cause: Cause| match cause {
            Cause::Wire { breaker, from, .. } if self.is_first(breaker, from) => Cause::BadBreaker { breaker },
            Cause::Wire { breaker, .. } => Cause::Wire { breaker, broken: Broken::Hot, from: PointId(0) },
            Cause::Unregistered { .. } => Cause::Unregistered { room: RoomId(0) },
            other => other,
        };
        let (one, other) = (key(tale.cause), tale.also.map(key));
        match other {
            Some(other) if other < one => (other, Some(one)),
            _ => (one, other),
        }
    }

    /// The first point of a circuit, from the panel.
    pub(super) fn is_first(&self, breaker: BreakerId, point: PointId) -> bool {
        self.chains.get(&breaker).and_then(|chain| chain.first()) == Some(&point)
    }

    /// What was probable by what was told, and is not any more, each with what spoke against it most.
    pub(super) fn ruled_out(&self, weighed: &Weighed, complaint: &Complaint) -> Vec<RuledOut> {
        let mut now: BTreeMap<_, f64> = BTreeMap::new();
        for tale in &weighed.tales {
            *now.entry(self.key(tale)).or_default() += tale.p;
        }
        let is_out =
            |tale: &&Tale| tale.cause != Cause::NotListed && now.get(&self.key(tale)).is_none_or(|p| *p < RULED_OUT);
        let out = |tale: &Tale| {
            let against = |a: &&Answer, b: &&Answer| self.answer(a, tale).total_cmp(&self.answer(b, tale));
            let answer = complaint.answers.iter().min_by(against)?;
            Some(RuledOut { said: self.said(which_aside(tale.cause), tale.also), by: answer.said(self.house) })
        };
        weighed.thought_of.iter().filter(is_out).filter_map(out).collect()
    }
}

const fn other(leg: Leg) -> Leg {
    if matches!(leg, Leg::A) { Leg::B } else { Leg::A }
}

/// Probability that so much of the house is said to be dead: nobody counts points, and what is dim counts with it.
fn extent(tale: &Tale, said: Extent) -> f64 {
    let all = tale.shows.len().max(1) as f64;
    let dead = tale.shows.iter().map(|shows| shows.dead).sum::<f64>() / all;
    let dim = tale.shows.iter().map(|shows| shows.dim).sum::<f64>() / all;
    let (whole, half) = match dead {
        dead if dead > 0.97 => (0.96, 0.03),
        dead if dead > 0.85 => (0.30, 0.65),
        dead if dead + dim > ABOUT_HALF => (0.02, 0.83),
        dead if dead + dim > NEARLY_HALF => (0.005, 0.30),
        _ => (0.005, 0.025),
    };
    match said {
        Extent::All => whole,
        Extent::Half => half,
        Extent::Less => 1.0 - whole - half,
    }
}

/// Probability that some lights are brighter than usual while others are dim.
fn uneven(cause: Cause) -> f64 {
    match cause {
        Cause::OpenNeutral => 0.96,
        Cause::SharedNeutral { .. } => 0.75,
        Cause::LostLeg { .. } => 0.05,
        _ => 0.003,
    }
}

/// Of wires all are meant, whichever it is.
fn which_aside(cause: Cause) -> Cause {
    if let Cause::Wire { breaker, from, .. } = cause {
        Cause::Wire { breaker, broken: Broken::Any, from }
    } else {
        cause
    }
}

/// An answer that says of a cause that it is none.
pub(super) fn denies(answer: &Answer, cause: Cause) -> bool {
    if let Showed::Extent(Extent::Half | Extent::Less) = answer.showed {
        return cause == Cause::Utility;
    }
    if answer.showed != Showed::No {
        return false;
    }
    match (answer.check, cause) {
        (Check::Cycle { breaker }, Cause::Breaker { breaker: of }) => breaker == of,
        (Check::CycleMain { panel }, Cause::Main { panel: of }) => panel == of,
        (Check::PressReset { point }, Cause::GroundFault { point: of })
        | (Check::Switch { point }, Cause::Switch { point: of })
        | (Check::Another { point }, Cause::Itself { point: of }) => point == of,
        (Check::TryButtons, Cause::Unregistered { .. }) => true,
        _ => false,
    }
}

/// An answer that shows a cause.
pub(super) fn confirms(bench: &Bench<'_>, answer: &Answer, cause: Cause) -> bool {
    let worked = matches!(answer.showed, Showed::Yes | Showed::AgainAtOnce);
    match (answer.check, cause, &answer.showed) {
        (Check::Cycle { breaker }, Cause::Breaker { breaker: of }, _) => worked && breaker == of,
        (Check::CycleMain { panel }, Cause::Main { panel: of }, _) => worked && panel == of,
        (Check::Glance { .. }, Cause::Breaker { breaker }, Showed::Handles(seen)) => seen.breakers.contains(&breaker),
        (Check::Glance { panel }, Cause::Main { panel: of }, Showed::Handles(seen)) => panel == of && seen.main,
        (Check::PressReset { point }, Cause::GroundFault { point: of }, _)
        | (Check::Switch { point }, Cause::Switch { point: of }, _)
        | (Check::Another { point }, Cause::Itself { point: of }, _) => worked && point == of,
        (Check::TryButtons, Cause::Unregistered { .. }, _) => worked,
        (Check::Neighbours, Cause::Utility, _) => worked,
        (Check::Measure { panel }, Cause::LostLeg { panel: of, leg }, Showed::Volts(reading)) if panel == of => {
            let supply = bench.house.panels.get(panel).map(|p| p.supply);
            supply.is_some_and(|s| service::judge(reading, s).troubles.contains(&Trouble::LostLeg { leg }))
        }
        (check @ Check::Sides { breaker }, Cause::BadBreaker { breaker: of }, Showed::Sides(read)) => {
            breaker == of && bench.row(check, read) == Some(Row::BreakerOrContact)
        }
        _ => false,
    }
}
