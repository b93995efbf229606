//! Which readings are right, and what of what was noted was really in them: the fewest are blamed.
//!
//! A reading is a sum of what was on, give or take its instrument. It may be wrong altogether: read ten times too high, on another
//! circuit, with something on that nobody noted, or off that somebody did. A thing that cycles may have rested, and one whose breaker is
//! not known may hang elsewhere. And a plate may be wrong. So it is asked what explains most at the least cost: each reading that is
//! set aside costs as much as one that is off by [`WRONG`] of its errors, a plate a little more, a state what it is unlikely.
//! It is searched within each group of things that readings tie together, from where every reading counts.

use super::fit::{self, Prior, Sum, groups};

/// A measured sum of which it is not sure what was in it.
#[derive(Debug, Clone, PartialEq)]
pub struct Claim {
    /// Its parts: which, how often each counts, and the chance that it was not in it.
    pub parts: Vec<Term>,
    /// What was measured.
    pub value: f64,
    /// What it is off by however large it is,
    pub amps: f64,
    /// and as a share of what it should have been: both standard errors.
    pub share: f64,
    /// Somebody looked at it again, and it is right as it is.
    pub sure: bool,
}

/// A part of a sum.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Term {
    /// Which thing.
    pub thing: usize,
    /// How often it counts.
    pub times: f64,
    /// How sure that is, as a share of it: the standard error of its power factor, where power was read.
    pub doubt: f64,
    /// The chance that it was not in it: at rest, or hanging elsewhere.
    pub out: f64,
}

/// What explains the readings.
#[derive(Debug, Clone)]
pub struct Explained {
    /// The sums as they are taken: without what was not in them, with the error that is left.
    pub sums: Vec<Sum>,
    /// For each sum: it counts.
    pub counts: Vec<bool>,
    /// For each prior: it counts.
    pub trusted: Vec<bool>,
}

/// A reading that is off by more errors than this is better set aside: of honest ones one in eighty is, and lower than that
/// hardly any more of the wrong ones are found. (by made households: docs/benchmarks.md)
pub const WRONG: f64 = 2.5;
/// A plate is set aside only when five readings speak against it, or somebody says of one that it is right: people misread meters more
/// often than plates. (common practice)
const WRONG_PLATE: f64 = 5.0;
/// Readings of one group that are tried in turn, those that are off the most.
const TRIED: usize = 12;
/// Rounds of looking anew at what was in the sums; the first few settle it.
const LOOKS: usize = 6;
/// Things of one sum whose states are gone through one by one; of more the likelier state is taken.
const STATES: usize = 5;
/// More readings than this of one group are not gone through one by one: it would cost seconds in a large house.
const MANY: usize = 12;
/// Plates that are tried then.
const SUSPECTS: usize = 3;
/// A chance as near to nothing, or to one, as anybody can know.
const LEAST: f64 = 0.01;

/// Explains the sums that tie few things together, group by group; the wide ones stand by what is found then.
#[must_use]
pub fn explain(priors: &[Prior], told: &[Claim]) -> Explained {
    let bare: Vec<Sum> = told.iter().map(|t| t.sum(priors, &[], 0.0)).collect();
    let (groups, of_group) = groups(priors.len(), &bare);
    let mut explained = Explained { sums: bare, counts: vec![true; told.len()], trusted: vec![true; priors.len()] };
    for (nth, t) in told.iter().enumerate().filter(|(nth, _)| of_group[*nth].is_none()) {
        explained.sums[nth] = t.on_average(priors);
    }
    for (nth, group) in groups.iter().enumerate() {
        let mine: Vec<usize> = (0..told.len()).filter(|t| of_group[*t] == Some(nth)).collect();
        if mine.is_empty() {
            continue;
        }
        let place = |thing: usize| group.iter().position(|g| *g == thing).unwrap_or_default();
        let local = |t: &Claim| Claim {
            parts: t.parts.iter().map(|part| Term { thing: place(part.thing), ..*part }).collect(),
            ..t.clone()
        };
        let search = Tangle {
            priors: group.iter().map(|g| priors[*g]).collect(),
            told: mine.iter().map(|t| local(&told[*t])).collect(),
        };
        let best = search.best();
        for (here, t) in mine.iter().enumerate() {
            explained.counts[*t] = best.counts[here];
            explained.sums[*t] = told[*t].sum(priors, &best.out[here], best.left[here]);
            explained.sums[*t].error = best.error[here].hypot(best.left[here]);
        }
        for (here, g) in group.iter().enumerate() {
            explained.trusted[*g] = best.trusted[here];
        }
    }
    explained
}

impl Claim {
    /// As a sum without the parts at these places; its error by what it would be by the priors.
    fn sum(&self, priors: &[Prior], out: &[bool], left: f64) -> Sum {
        let is_in = |nth: usize| !out.get(nth).copied().unwrap_or_default();
        let parts: Vec<(usize, f64)> =
            self.parts.iter().enumerate().filter(|(nth, _)| is_in(*nth)).map(|(_, p)| (p.thing, p.times)).collect();
        let total: f64 = parts.iter().map(|(thing, times)| times * priors[*thing].mean).sum();
        Sum { parts, value: self.value, error: self.amps.hypot(self.share * total.max(self.value.abs())).hypot(left) }
    }

    /// As a sum of so many things that of what rests some share is at rest.
    fn on_average(&self, priors: &[Prior]) -> Sum {
        let parts = self.parts.iter().map(|p| (p.thing, p.times * (1.0 - p.out))).collect();
        let drawn = |p: &Term| p.times * priors[p.thing].mean;
        let rests: f64 = self.parts.iter().map(|p| p.out * (1.0 - p.out) * drawn(p).powi(2)).sum();
        let factors: f64 = self.parts.iter().map(|p| (p.doubt * drawn(p)).powi(2)).sum();
        let total: f64 = self.parts.iter().map(|p| (1.0 - p.out) * drawn(p)).sum();
        let error = self.amps.hypot(self.share * total.max(self.value.abs())).hypot((rests + factors).sqrt());
        Sum { parts, value: self.value, error }
    }

    fn total(&self, values: &[f64], out: &[bool]) -> f64 {
        let kept = self.parts.iter().zip(out).filter(|(_, out)| !**out);
        kept.map(|(part, _)| part.times * values[part.thing]).sum()
    }

    /// An error belongs to the instrument and to what it should have shown, never to what it showed.
    fn error(&self, values: &[f64], out: &[bool]) -> f64 {
        let kept = self.parts.iter().zip(out).filter(|(_, out)| !**out);
        let factors: f64 = kept.map(|(part, _)| (part.doubt * part.times * values[part.thing]).powi(2)).sum();
        self.amps.hypot(self.share * self.total(values, out)).hypot(factors.sqrt())
    }

    /// What it costs that just these were not in it.
    fn unlikely(&self, out: &[bool]) -> f64 {
        self.parts.iter().zip(out).map(|(part, out)| part.unlikely(*out)).sum()
    }

    /// Every way in which parts may have been out: of the few that draw most each way, the others as is likelier. `drawn` gives what a
    /// thing draws and the error of that.
    fn states(&self, drawn: impl Fn(usize) -> (f64, f64)) -> Mixtures {
        let of = |part: &Term| {
            let (amps, error) = drawn(part.thing);
            (part.times * amps, part.times * error)
        };
        let mut open: Vec<usize> = (0..self.parts.len()).filter(|nth| self.parts[*nth].out > 0.0).collect();
        open.sort_by(|a, b| of(&self.parts[*b]).0.total_cmp(&of(&self.parts[*a]).0));
        open.truncate(STATES);
        let mut base = Mixture::default();
        for (nth, part) in self.parts.iter().enumerate() {
            let is_open = open.contains(&nth);
            if is_open || part.out <= 0.5 {
                base.put(part, of(part), 1.0);
            }
            base.unlikely += if is_open { part.unlikely(false) } else { 0.0 };
        }
        let mut each = vec![base];
        for nth in &open {
            let part = &self.parts[*nth];
            for known in 0..each.len() {
                let mut state = each[known];
                state.put(part, of(part), -1.0);
                state.unlikely += part.unlikely(true) - part.unlikely(false);
                each.push(state);
            }
        }
        Mixtures { open, each }
    }

    /// The square of its error in a state.
    fn variance(&self, state: &Mixture) -> f64 {
        self.amps.powi(2) + (self.share * state.total).powi(2) + state.factors
    }

    /// The parts that were out in the state that costs least.
    fn likeliest(&self, states: &Mixtures, cost: impl Fn(&Mixture) -> f64) -> Vec<bool> {
        let costs = states.each.iter().map(cost).enumerate();
        let least = costs.min_by(|a, b| a.1.total_cmp(&b.1)).map_or(0, |(set, _)| set);
        let mut out: Vec<bool> = self.parts.iter().map(|part| part.out > 0.5).collect();
        states.open.iter().enumerate().for_each(|(bit, nth)| out[*nth] = least >> bit & 1 == 1);
        out
    }

    /// What a state costs where values are known.
    fn cost(&self, state: &Mixture) -> f64 {
        (self.value - state.total).powi(2) / self.variance(state) + state.unlikely
    }
}

impl Term {
    /// What it costs that it was out, or that it was not, beside the likelier of both.
    fn unlikely(&self, out: bool) -> f64 {
        let chance = if out { self.out } else { 1.0 - self.out };
        let best = self.out.max(1.0 - self.out);
        if chance < best { 2.0 * (best / chance.max(LEAST)).ln() } else { 0.0 }
    }
}

/// The ways in which some parts of a sum may have been out.
struct Mixtures {
    /// The places of these parts;
    open: Vec<usize>,
    /// a state for each set of them that was out.
    each: Vec<Mixture>,
}

/// What a sum comes to with some of its parts.
#[derive(Clone, Copy, Default)]
struct Mixture {
    total: f64,
    /// Squares of the errors of power factors,
    factors: f64,
    /// and of what is known of draws.
    unsure: f64,
    /// What it costs that it was so.
    unlikely: f64,
}

impl Mixture {
    fn put(&mut self, part: &Term, (amps, error): (f64, f64), times: f64) {
        self.total += times * amps;
        self.factors += times * (part.doubt * amps).powi(2);
        self.unsure += times * error.powi(2);
    }
}

/// One group.
struct Tangle {
    priors: Vec<Prior>,
    told: Vec<Claim>,
}

/// A way to explain a group.
#[derive(Clone)]
struct Account {
    counts: Vec<bool>,
    trusted: Vec<bool>,
    out: Vec<Vec<bool>>,
    error: Vec<f64>,
    /// What is left open of each sum by states that are as good.
    left: Vec<f64>,
    off: Vec<f64>,
    values: Vec<f64>,
    cost: f64,
}

impl Tangle {
    fn best(&self) -> Account {
        let trusted = vec![true; self.priors.len()];
        let mut best = self.settled(&vec![true; self.told.len()], &trusted, false);
        if self.told.len() > MANY {
            best = self.by_turns(best);
            // Or it is the plate of what is in most of the odd ones.
            for thing in self.in_odd(&best) {
                let without: Vec<bool> = (0..self.priors.len()).map(|of| of != thing).collect();
                let other = self.by_turns(self.settled(&vec![true; self.told.len()], &without, false));
                best = if other.cost < best.cost { other } else { best };
            }
        } else {
            // From where all count, and from where those are set aside that robust weights find odd.
            let without = self.settled(&self.even(&self.settled(&best.counts, &trusted, true)), &trusted, false);
            best = if without.cost < best.cost { without } else { best };
            let better = |of: &Account| self.neighbours(of).into_iter().min_by(|a, b| a.cost.total_cmp(&b.cost));
            while let Some(better) = better(&best).filter(|better| better.cost < best.cost - ENOUGH) {
                best = better;
            }
        }
        self.leaves_open(&mut best);
        best
    }

    /// Of many readings most are right: those that are odd are set aside, and what is odd then, until it stays so.
    fn by_turns(&self, from: Account) -> Account {
        let mut best = from;
        for _ in 0..LOOKS {
            if self.fits(&best) {
                break;
            }
            let next = self.settled(&self.even(&best), &best.trusted, false);
            if next.cost >= best.cost - ENOUGH {
                break;
            }
            best = next;
        }
        best
    }

    /// The few things that stand in most of the odd readings.
    fn in_odd(&self, of: &Account) -> Vec<usize> {
        let odd = self.told.iter().zip(&of.counts).filter(|(_, counts)| !**counts);
        let mut often = vec![0_usize; self.priors.len()];
        odd.flat_map(|(t, _)| &t.parts).for_each(|part| often[part.thing] += 1);
        let mut things: Vec<usize> = (0..often.len()).filter(|thing| often[*thing] > 1).collect();
        things.sort_by_key(|thing| std::cmp::Reverse(often[*thing]));
        things.truncate(SUSPECTS);
        things
    }

    /// The readings that are not odd.
    fn even(&self, of: &Account) -> Vec<bool> {
        of.off.iter().zip(&self.told).map(|(off, t)| t.sure || off.abs() <= WRONG).collect()
    }

    /// Every reading counts, and none of them and no plate is off by as much as it costs to set it aside.
    fn fits(&self, of: &Account) -> bool {
        let plate = |(value, prior): (&f64, &Prior)| (value - prior.mean).abs() <= WRONG * prior.error;
        of.counts.iter().all(|counts| *counts)
            && of.off.iter().all(|off| off.abs() <= WRONG)
            && of.values.iter().zip(&self.priors).all(plate)
    }

    /// One reading or one plate more or less.
    fn neighbours(&self, of: &Account) -> Vec<Account> {
        let mut readings: Vec<usize> = (0..self.told.len())
            .filter(|t| !self.told[*t].sure && (!of.counts[*t] || of.off[*t].abs() > DOUBTED))
            .collect();
        readings.sort_by(|a, b| of.off[*b].abs().total_cmp(&of.off[*a].abs()));
        readings.truncate(TRIED);
        // What shares a thing with one that is doubted, or has one that draws what its plate does not say, may be odd as well.
        let strange =
            |thing: &usize| (of.values[*thing] - self.priors[*thing].mean).abs() > DOUBTED * self.priors[*thing].error;
        let mut touched: Vec<usize> =
            readings.iter().flat_map(|t| self.told[*t].parts.iter().map(|p| p.thing)).collect();
        touched.extend((0..self.priors.len()).filter(strange));
        let beside = (0..self.told.len()).filter(|t| {
            !self.told[*t].sure
                && !readings.contains(t)
                && self.told[*t].parts.iter().any(|p| touched.contains(&p.thing))
        });
        let beside: Vec<usize> = beside.take(TRIED).collect();
        let mut ways = Vec::new();
        for t in readings.into_iter().chain(beside) {
            let mut counts = of.counts.clone();
            counts[t] = !counts[t];
            ways.push(self.settled(&counts, &of.trusted, false));
        }
        for thing in 0..self.priors.len() {
            if !of.trusted[thing] || touched.contains(&thing) {
                let mut trusted = of.trusted.clone();
                trusted[thing] = !trusted[thing];
                ways.push(self.settled(&of.counts, &trusted, false));
            }
        }
        ways
    }

    /// What things draw where these count, and what was in the sums then.
    fn settled(&self, counts: &[bool], trusted: &[bool], robust: bool) -> Account {
        let priors: Vec<Prior> =
            self.priors.iter().zip(trusted).map(|(p, t)| if *t { *p } else { unknown(p) }).collect();
        let mut values: Vec<f64> = priors.iter().map(|p| p.mean).collect();
        let alone = self.read_alone(counts, &priors);
        let mut out: Vec<Vec<bool>> = self.told.iter().map(|t| first_look(t, &alone)).collect();
        // Weights that find what is odd are found anew in each fit: one look is enough for a start.
        for _ in 0..if robust { 1 } else { LOOKS } {
            let sums: Vec<Sum> = (0..self.told.len())
                .filter(|t| counts[*t])
                .map(|t| {
                    let parts = self.told[t].parts.iter().zip(&out[t]).filter(|(_, out)| !**out);
                    let parts = parts.map(|(part, _)| (part.thing, part.times)).collect();
                    Sum { parts, value: self.told[t].value, error: self.told[t].error(&values, &out[t]) }
                })
                .collect();
            let now = fit::values(&priors, &sums, robust);
            let next: Vec<Vec<bool>> = self.told.iter().map(|t| likeliest(t, &now)).collect();
            let moved = now.iter().zip(&values).any(|(a, b)| (a - b).abs() > SETTLED);
            values = now;
            let same = next == out;
            out = next;
            if same && !moved {
                break;
            }
        }
        self.way(counts, trusted, out, values)
    }

    /// What was read by itself is known better than by its plate: what was in sums with others is looked at by that.
    fn read_alone(&self, counts: &[bool], priors: &[Prior]) -> Vec<Prior> {
        let mut known = priors.to_vec();
        for (told, _) in self.told.iter().zip(counts).filter(|(told, counts)| **counts && told.parts.len() == 1) {
            let (part, values) = (told.parts[0], known.iter().map(|p| p.mean).collect::<Vec<f64>>());
            if first_look(told, &known) == [false] {
                let (before, error) = (known[part.thing], told.error(&values, &[false]) / part.times);
                let (old, new) = (before.error.powi(-2), error.powi(-2));
                let mean = (old * before.mean + new * told.value / part.times) / (old + new);
                known[part.thing] = Prior { mean, error: (old + new).sqrt().recip() };
            }
        }
        known
    }

    fn way(&self, counts: &[bool], trusted: &[bool], out: Vec<Vec<bool>>, values: Vec<f64>) -> Account {
        let error: Vec<f64> = self.told.iter().zip(&out).map(|(t, out)| t.error(&values, out)).collect();
        let off: Vec<f64> = (0..self.told.len())
            .map(|t| (self.told[t].value - self.told[t].total(&values, &out[t])) / error[t])
            .collect();
        let of_reading = |t: usize| {
            let kept = off[t].powi(2) + self.told[t].unlikely(&out[t]);
            if counts[t] { kept } else { WRONG.powi(2) }
        };
        let of_plate = |thing: usize| {
            let off = (values[thing] - self.priors[thing].mean) / self.priors[thing].error;
            if trusted[thing] { off.powi(2) } else { WRONG_PLATE.powi(2) }
        };
        let cost =
            (0..self.told.len()).map(of_reading).sum::<f64>() + (0..self.priors.len()).map(of_plate).sum::<f64>();
        let left = vec![0.0; self.told.len()];
        Account { counts: counts.to_vec(), trusted: trusted.to_vec(), out, error, left, off, values, cost }
    }

    /// Where it is nearly as likely that something else was in a sum, that much of it is open.
    fn leaves_open(&self, way: &mut Account) {
        for (nth, told) in self.told.iter().enumerate() {
            let states = told.states(|thing| (way.values[thing], 0.0));
            let ways: Vec<(f64, f64)> = states.each.iter().map(|state| (state.total, told.cost(state))).collect();
            let least = ways.iter().map(|(_, cost)| *cost).fold(f64::MAX, f64::min);
            let weight = |cost: f64| (-(cost - least) / 2.0).exp();
            let all: f64 = ways.iter().map(|(_, cost)| weight(*cost)).sum();
            let taken = told.total(&way.values, &way.out[nth]);
            let spread = |(total, cost): &(f64, f64)| weight(*cost) / all * (total - taken).powi(2);
            way.left[nth] = ways.iter().map(spread).sum::<f64>().sqrt();
        }
    }
}

/// A cost that is less by so little is none.
const ENOUGH: f64 = 1e-6;
/// Off by less nothing is doubted.
const DOUBTED: f64 = 1.5;
/// Amperes that nobody reads.
const SETTLED: f64 = 1e-3;

/// A plate that is set aside says nothing but that the thing draws something.
#[must_use]
pub fn unknown(prior: &Prior) -> Prior {
    Prior { mean: prior.mean, error: prior.error.max(10.0 * prior.mean).max(10.0) }
}

fn likeliest(told: &Claim, values: &[f64]) -> Vec<bool> {
    told.likeliest(&told.states(|thing| (values[thing], 0.0)), |state| told.cost(state))
}

/// By plates alone, which leave much open: as good as within them.
fn first_look(told: &Claim, priors: &[Prior]) -> Vec<bool> {
    let states = told.states(|thing| (priors[thing].mean, priors[thing].error));
    told.likeliest(&states, |state| {
        (told.value - state.total).powi(2) / (told.variance(state) + state.unsure) + state.unlikely
    })
}
