//! The next look: what tells most for its time; and how far it came once there is none.

use std::collections::{BTreeMap, BTreeSet};

use super::bench::Bench;
use super::weigh::{LookShows, Tale, confirms};
use super::words::{BEHIND_COVERS, acts, breaker};
use super::{Broken, Cause, Check, Complaint, HowFar, Keep, Next, Ranked, Showed, Sign};
use crate::base::chance::entropy;
use crate::base::units::Seconds;
use crate::house::{BreakerId, Point, PointId, PointKind};
use crate::words::short::capital;

/// Causes less probable are not listed.
const LISTED_FROM: f64 = 0.005;
/// Looks that tell less are not worth a walk, in bits.
const LEAST_BITS: f64 = 0.2;
/// From here on its own look comes next: to find it is to mend it.
const TRIED_FROM: f64 = 0.25;
/// Found once a look has shown it, and nothing else is as probable.
const FOUND_FROM: f64 = 0.80;
/// To read a question, to answer it, and to turn to the next, in seconds: a few good looks are better than many quick ones.
const TURN: f64 = 60.0;
/// Where lights may be brighter than usual is asked for its danger, too: so many times what it tells.
const DANGER: f64 = 3.0;
/// It is not asked where a floating neutral is less probable.
const FLOATS_FROM: f64 = 0.03;
/// So probable, with no look left that would show it, it is told as it is: an electrician sees it at once.
const SURE_FROM: f64 = 0.85;
/// So many points are thought of for a look.
const LOOKED_AT: usize = 40;

/// Which wire it is that broke is told from here on.
const WHICH_FROM: f64 = 0.80;

/// Tales that are told as one, the likeliest first.
struct Alike<'t> {
    best: &'t Tale,
    /// Its cause as far as it is told apart from the others.
    cause: Cause,
    p: f64,
}

fn groups<'t>(bench: &Bench<'_>, tales: &'t [Tale]) -> Vec<Alike<'t>> {
    let mut all: BTreeMap<_, Vec<&Tale>> = BTreeMap::new();
    for tale in tales {
        all.entry(bench.key(tale)).or_insert_with(Vec::new).push(tale);
    }
    let told_as_one = |alike: Vec<&'t Tale>| {
        let best = *alike.iter().max_by(|a, b| a.p.total_cmp(&b.p))?;
        let p = alike.iter().map(|tale| tale.p).sum();
        Some(Alike { best, cause: as_far_as_told(best.cause, &alike), p })
    };
    let mut all: Vec<Alike<'_>> = all.into_values().filter_map(told_as_one).collect();
    all.sort_by(|a, b| b.p.total_cmp(&a.p));
    all
}

/// Of a circuit's wires the likeliest, but for which of them it is where nothing has told that.
fn as_far_as_told(best: Cause, alike: &[&Tale]) -> Cause {
    let Cause::Wire { breaker, broken, from } = best else { return best };
    let (mut its, mut all) = (0.0, 0.0);
    for tale in alike {
        if let Cause::Wire { broken: of, .. } = tale.cause {
            all += tale.p;
            its += if of == broken { tale.p } else { 0.0 };
        }
    }
    let broken = if its >= WHICH_FROM * all { broken } else { Broken::Any };
    Cause::Wire { breaker, broken, from }
}

impl Bench<'_> {
    /// The causes as they are told.
    pub(super) fn ranked(&self, tales: &[Tale], complaint: &Complaint) -> Vec<Ranked> {
        let asked: BTreeSet<Check> = complaint.answers.iter().map(|a| a.check).collect();
        let listed = groups(self, tales)
            .into_iter()
            .filter(|group| group.p >= LISTED_FROM && group.best.cause != Cause::NotListed);
        listed
            .map(|Alike { best, cause, p }| {
                let own = best.causes().filter_map(|cause| self.own_look(cause, complaint));
                let check = own.into_iter().find(|check| !asked.contains(check));
                let ask = check.map(|check| check.said(self.house));
                let behind =
                    matches!(best.cause, Cause::Wire { .. } | Cause::Miswired { .. } | Cause::SharedNeutral { .. })
                        .then(|| BEHIND_COVERS.into());
                Ranked {
                    cause,
                    also: best.also,
                    said: self.said(cause, best.also),
                    why: self.why(best, complaint),
                    p,
                    check,
                    ask: ask.or(behind),
                }
            })
            .collect()
    }

    /// The look of just this cause, by whoever asks: a layman opens nothing.
    fn own_look(&self, cause: Cause, complaint: &Complaint) -> Option<Check> {
        let made = |check: Check| complaint.answers.iter().any(|answer| answer.check == check);
        match cause {
            Cause::Breaker { breaker } => self.tried(breaker, complaint),
            // A handle that is taken for one that is on is commoner than all that is behind a cover: that comes after it was tried.
            Cause::BadBreaker { breaker } => {
                let is_bad = self.house.breakers.get(breaker).is_some_and(|b| b.bad);
                let sides = complaint.qualified && (is_bad || was_tried(breaker, complaint));
                self.tried(breaker, complaint)
                    .filter(|check| !made(*check))
                    .or_else(|| self.first_of(breaker, complaint))
                    .or(sides.then_some(Check::Sides { breaker }))
            }
            Cause::GroundFault { point } => Some(Check::PressReset { point }),
            Cause::Unregistered { .. } => Some(Check::TryButtons),
            Cause::Switch { point } => Some(Check::Switch { point }),
            Cause::Itself { point } => self.takes_another(point).then_some(Check::Another { point }),
            Cause::Main { panel } => {
                let glance = Check::Glance { panel };
                // Breakers go on again after it: not while somebody holds one off.
                if made(glance) {
                    self.house.held().is_empty().then_some(Check::CycleMain { panel })
                } else {
                    Some(glance)
                }
            }
            Cause::Utility => Some(Check::Neighbours),
            Cause::LostLeg { panel, .. } => complaint.qualified.then_some(Check::Measure { panel }),
            Cause::OpenNeutral => Some(Check::Uneven),
            Cause::SharedNeutral { .. } => Some(Check::Uneven),
            Cause::Wire { breaker, from, .. } if self.is_first(breaker, from) => {
                self.own_look(Cause::BadBreaker { breaker }, complaint)
            }
            Cause::Wire { .. } => {
                let outlet = complaint.dead.iter().find(|p| self.is_outlet(**p)).filter(|_| complaint.qualified);
                outlet.map(|point| Check::Glows { point: *point })
            }
            Cause::Work { .. } | Cause::Miswired { .. } | Cause::NotListed => None,
        }
    }

    /// One glance answers for all handles; then the one breaker is tried, but for one that is marked as bad.
    fn tried(&self, breaker: BreakerId, complaint: &Complaint) -> Option<Check> {
        let breaker = self.house.breakers.get(breaker)?;
        let glance = Check::Glance { panel: breaker.panel };
        match complaint.answers.iter().find(|answer| answer.check == glance).map(|answer| &answer.showed) {
            None => Some(glance),
            Some(Showed::Handles(seen)) if seen.breakers.contains(&breaker.id) => None,
            Some(_) => {
                let held = self.house.held().iter().any(|held| held.holds(breaker));
                (!breaker.bad && !held).then_some(Check::Cycle { breaker: breaker.id })
            }
        }
    }

    /// What comes first on its circuit, as far as the order is known, where nobody has said how that is: alive, it is not the breaker.
    fn first_of(&self, breaker: BreakerId, complaint: &Complaint) -> Option<Check> {
        let shows = |p: &&PointId| self.house.points.get(**p).is_some_and(|p| p.kind != PointKind::Switch);
        let first = *self.chains.get(&breaker)?.iter().find(shows)?;
        let check = Check::Works { point: first };
        let told = [&complaint.dead, &complaint.working, &complaint.dim, &complaint.bright];
        let known = told.iter().any(|of| of.contains(&first)) || complaint.answers.iter().any(|a| a.check == check);
        (!known).then_some(check)
    }

    /// Another lamp or appliance can be tried there: not at what is wired in.
    fn takes_another(&self, point: PointId) -> bool {
        self.house.points.get(point).is_some_and(|p| matches!(p.kind, PointKind::Receptacle | PointKind::Light))
    }

    fn is_outlet(&self, point: PointId) -> bool {
        self.house.points.get(point).is_some_and(|p| p.kind == PointKind::Receptacle)
    }

    /// The next look; nothing once it is found, or nothing tells more.
    pub(super) fn next(&self, tales: &[Tale], complaint: &Complaint) -> Option<Next> {
        let all = groups(self, tales);
        let first = all.first()?;
        let asked: BTreeSet<Check> = complaint.answers.iter().map(|a| a.check).collect();
        if self.is_found(first, complaint) || first.best.causes().any(|cause| matches!(cause, Cause::Work { .. })) {
            return None;
        }
        let own: BTreeSet<Check> = all
            .iter()
            .filter(|group| group.p >= LISTED_FROM)
            .flat_map(|group| group.best.causes().collect::<Vec<_>>())
            .filter_map(|cause| self.own_look(cause, complaint))
            .collect();
        let open = |check: &Check| !asked.contains(check);
        let its = first.best.causes().filter_map(|cause| self.own_look(cause, complaint)).find(|check| open(check));
        if let Some(check) = its.filter(|_| first.p >= TRIED_FROM) {
            return Some(self.asked_as(check, complaint));
        }
        let looks = self.points_that_tell(tales, complaint).into_iter().map(|point| Check::Works { point });
        let floats = |tale: &&Tale| matches!(tale.cause, Cause::OpenNeutral | Cause::SharedNeutral { .. });
        let floats: f64 = tales.iter().filter(floats).map(|tale| tale.p).sum();
        let extent = [Sign::Everything, Sign::HalfDead].iter().any(|sign| complaint.signs.contains(sign));
        let whole = [(Check::Extent, !extent), (Check::Uneven, floats >= FLOATS_FROM)];
        let whole = whole.into_iter().filter(|(_, asked)| *asked).map(|(check, _)| check);
        if its.is_none() && first.p >= SURE_FROM && floats < FLOATS_FROM {
            return None;
        }
        let checks: BTreeSet<Check> = own.into_iter().chain(looks).chain(whole).filter(|check| open(check)).collect();
        let worth = |check: &Check| {
            let bits = self.bits(*check, tales);
            let weight = if *check == Check::Uneven { DANGER } else { 1.0 };
            (bits, weight * bits / (TURN + self.seconds(*check, complaint)))
        };
        let worth: Vec<(Check, f64, f64)> = checks
            .into_iter()
            .map(|check| {
                let (bits, worth) = worth(&check);
                (check, bits, worth)
            })
            .collect();
        let telling = worth.into_iter().filter(|(_, bits, _)| *bits >= LEAST_BITS);
        let best = telling.max_by(|a, b| a.2.total_cmp(&b.2)).map(|(check, ..)| check);
        // Where nothing tells much any more, what is likeliest is tried before it is left to somebody else.
        best.or(its).map(|check| self.asked_as(check, complaint))
    }

    fn asked_as(&self, check: Check, complaint: &Complaint) -> Next {
        Next {
            check,
            said: check.said(self.house),
            mind: check.minds(),
            answered: check.answered(),
            choices: check.choices(),
            seconds: Seconds(self.seconds(check, complaint)),
        }
    }

    /// Points of which it is not told how they are, and whose look would tell most.
    fn points_that_tell(&self, tales: &[Tale], complaint: &Complaint) -> Vec<PointId> {
        let told = |p: &Point| {
            [&complaint.dead, &complaint.working, &complaint.dim, &complaint.bright].iter().any(|of| of.contains(&p.id))
        };
        let shows = |p: &Point| !matches!(p.kind, PointKind::Switch | PointKind::Other | PointKind::Alarm);
        let spread = |nth: usize| {
            let mean: f64 = tales.iter().map(|tale| tale.p * tale.shows[nth].dead).sum();
            entropy(mean.clamp(0.0, 1.0))
        };
        let all = self.points.iter().enumerate().filter(|(_, p)| !told(p) && shows(p));
        let mut all: Vec<(PointId, f64)> =
            all.map(|(nth, p)| (p.id, spread(nth))).filter(|(_, bits)| *bits >= LEAST_BITS).collect();
        all.sort_by(|a, b| b.1.total_cmp(&a.1));
        all.into_iter().take(LOOKED_AT).map(|(point, _)| point).collect()
    }

    /// What a look tells of the cause, in bits.
    fn bits(&self, check: Check, tales: &[Tale]) -> f64 {
        let mut mixed: BTreeMap<LookShows, f64> = BTreeMap::new();
        let mut known = 0.0;
        for tale in tales {
            for (outcome, p) in self.chances(check, tale) {
                *mixed.entry(outcome).or_default() += tale.p * p;
                known += tale.p * of(p);
            }
        }
        mixed.into_values().map(of).sum::<f64>() - known
    }

    /// About how long a look takes. (common practice)
    fn seconds(&self, check: Check, complaint: &Complaint) -> f64 {
        match check {
            Check::Extent | Check::Uneven => 3.0,
            Check::Switch { .. } => 10.0,
            Check::Works { point } => self.walk_to(point, complaint),
            Check::Neighbours => 15.0,
            Check::PressReset { .. } => 30.0,
            Check::Cycle { .. } => 35.0,
            // All branch breakers before it, and after it.
            Check::CycleMain { .. } => 120.0,
            // It has to be found first: behind the freezer, in the garage.
            Check::TryButtons => 90.0,
            Check::Glance { .. } | Check::Another { .. } => 40.0,
            Check::Glows { .. } => 60.0,
            Check::Measure { .. } | Check::Sides { .. } => 300.0,
        }
    }

    /// The other half of the same box is there already; then the same room.
    fn walk_to(&self, point: PointId, complaint: &Complaint) -> f64 {
        let Some(p) = self.house.points.get(point) else { return 30.0 };
        let near = |q: &Point| {
            if p.shared_box.is_some() && p.shared_box == q.shared_box {
                5.0
            } else if p.room == q.room {
                10.0
            } else {
                25.0
            }
        };
        let dead = complaint.dead.iter().filter_map(|q| self.house.points.get(*q));
        dead.map(near).fold(25.0, f64::min)
    }

    /// A look has shown it, and nothing else is as probable; or its place is told apart.
    fn is_found(&self, group: &Alike<'_>, complaint: &Complaint) -> bool {
        let shown = |cause: Cause| {
            complaint.answers.iter().any(|answer| confirms(self, answer, cause)) || self.is_placed(cause, complaint)
        };
        group.p >= FOUND_FROM && group.best.causes().all(shown)
    }

    /// A circuit's broken place is found once what comes before it lives and what comes after it is dead.
    fn is_placed(&self, cause: Cause, complaint: &Complaint) -> bool {
        let Cause::Wire { breaker, from, .. } = cause else { return false };
        let Some(chain) = self.chains.get(&breaker) else { return false };
        let at = chain.iter().position(|p| *p == from).unwrap_or(0);
        let is = |point: PointId, dead: bool| {
            let told = if dead {
                complaint.dead.contains(&point) || complaint.dim.contains(&point)
            } else {
                complaint.working.contains(&point)
            };
            told || complaint
                .answers
                .iter()
                .any(|a| a.check == Check::Works { point } && a.showed == if dead { Showed::No } else { Showed::Yes })
        };
        is(from, true) && if at == 0 { was_tried(breaker, complaint) } else { is(chain[at - 1], false) }
    }

    /// How far it came.
    pub(super) fn end(&self, tales: &[Tale], complaint: &Complaint) -> Option<HowFar> {
        let all = groups(self, tales);
        let first = all.first()?;
        let found = self.is_found(first, complaint);
        let cause = first.cause;
        let (act, job) = acts(cause, complaint);
        let said = if found {
            self.said(first.cause, first.best.also)
        } else {
            let left: Vec<String> = all
                .iter()
                .filter(|group| group.p >= 0.05 && group.best.cause != Cause::NotListed)
                .take(3)
                .map(|group| self.said(group.cause, group.best.also))
                .collect();
            if left.is_empty() {
                "No look here tells more, and nothing on the list explains it".to_owned()
            } else {
                format!("No look here tells more. What is left: {}", left.join("; or: "))
            }
        };
        // Whichever of several it is, what all of them ask for is to be done.
        let asks_for = |group: &Alike<'_>| acts(group.best.cause, complaint) == (act, job);
        let agreed: f64 = all.iter().filter(|group| asks_for(group)).map(|group| group.p).sum();
        // That nothing is wrong with the wiring is not said before it is found.
        let clears = matches!(cause, Cause::Switch { .. } | Cause::Itself { .. } | Cause::NotListed);
        let act = if !found && (agreed < 0.5 || clears) {
            "An electrician looks further, from the panel outwards. Nothing is to be opened before.".to_owned()
        } else {
            act.to_owned()
        };
        let point = match cause {
            Cause::Wire { from, .. } => Some(from),
            Cause::GroundFault { point } | Cause::Miswired { point } => Some(point),
            _ => None,
        };
        let kept = match cause {
            Cause::Breaker { breaker } => Keep::Trip { breaker },
            // Which wire it was is seen in the box: until then the log keeps it.
            Cause::Wire { from, broken, .. } => {
                broken.fault().map_or(Keep::Note, |fault| Keep::Fault { point: from, fault })
            }
            _ => Keep::Note,
        };
        let keep = found.then_some(kept);
        let act = [act, self.also_off(first.best, complaint)].concat();
        Some(HowFar { found, said, act, job, breaker: Self::breaker_of(cause), point, keep })
    }
}

impl Bench<'_> {
    /// Handles that were seen at OFF or between and have nothing to do with this: nobody passes them by.
    fn also_off(&self, tale: &Tale, complaint: &Complaint) -> String {
        let its = |b: &BreakerId| tale.causes().any(|cause| Self::breaker_of(cause) == Some(*b));
        let seen = complaint.answers.iter().filter_map(|answer| match &answer.showed {
            Showed::Handles(seen) => Some(seen),
            _ => None,
        });
        let other = seen.flat_map(|seen| &seen.breakers).filter(|b| !its(b)).collect::<BTreeSet<_>>();
        let said = |b: &BreakerId| {
            format!(
                " {} was not at ON either: look why before anybody switches it on.",
                capital(&breaker(self.house, *b))
            )
        };
        other.into_iter().map(said).collect()
    }
}

/// It was switched off and on, and somebody could tell what came of it.
fn was_tried(breaker: BreakerId, complaint: &Complaint) -> bool {
    complaint.answers.iter().any(|a| a.check == Check::Cycle { breaker } && a.showed != Showed::CannotTell)
}

/// A share of an entropy, in bits.
fn of(p: f64) -> f64 {
    if p > 0.0 { -p * p.log2() } else { 0.0 }
}
