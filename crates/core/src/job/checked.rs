//! A plan against the rules: it makes no hit that was not there, and leaves none of danger on what it touches. What is to be mended
//! on what it touches is said with its cure; older work that was right in its day is neither refused nor called wrong.

use std::collections::{BTreeMap, BTreeSet};

use super::plan::{Basis, Plan};
use crate::edit::Applied;
use crate::house::{BreakerId, House, PanelId};
use crate::rules::{self, Entry, Facts, Hangs, Hit, Key, Scope, Severity};

/// Refuses what breaks a rule, and says what stays to be mended.
pub(super) fn by_rules(basis: &Basis<'_>, done: &Applied, plan: &mut Plan) {
    let before = basis.beliefs.hangs();
    let was = rules::hits(&Facts { house: basis.house, hangs: &before });
    // What hung on a breaker hangs there still, or on the one that carries it now; and what is made new where it is made.
    let goal = &plan.goal;
    let stays = before.iter().map(|h| Hangs { breaker: goal.joined(h.breaker).unwrap_or(h.breaker), ..*h });
    let made = goal.new_circuits().map(|new| Hangs { breaker: new.breaker, point: new.point.id, proven: true });
    let hangs: Vec<Hangs> = stays.chain(made).collect();
    let will = rules::hits(&Facts { house: &done.house, hangs: &hangs });
    let known: BTreeMap<Key, Severity> = was.iter().map(|hit| (hit.key(), hit.severity)).collect();
    let is_new = |b: &BreakerId| basis.house.breakers.get(*b).is_none();
    let new: Vec<BreakerId> = done.house.breakers.iter().map(|b| b.id).filter(is_new).collect();
    let touches = |hit: &Hit| hit.concerns(|b| plan.touches.contains(&b) || new.contains(&b));
    let is_seen = |hit: &Hit| hit.rule.entry == Entry::Seen;
    let panels: BTreeSet<PanelId> =
        plan.touches.iter().filter_map(|b| basis.house.breakers.get(*b)).map(|b| b.panel).collect();
    // What was seen of a whole panel concerns whoever works in it.
    let seen_there = |hit: &Hit| is_seen(hit) && hit.rule.scope == Scope::Panel && panels.contains(&hit.panel);
    let left: BTreeSet<Key> = will.iter().map(Hit::key).collect();
    let gone: Vec<&Hit> = was.iter().filter(|hit| touches(hit) && !left.contains(&hit.key())).collect();
    let amps = |house: &House, b: BreakerId| house.breakers.get(b).map(|b| b.amps);
    let is_smaller = |b: BreakerId| amps(&done.house, b) < amps(basis.house, b);
    // A smaller breaker that ends a danger may ask for something to be moved elsewhere: that is said, and stops nothing.
    let price = |hit: &Hit| {
        hit.rule.only_trips()
            && hit.breaker.is_some_and(is_smaller)
            && gone.iter().any(|was| was.severity == Severity::Danger && was.breaker == hit.breaker)
    };
    let is_made = |hit: &Hit| known.get(&hit.key()).is_none_or(|known| hit.severity < *known);
    let mut once = BTreeSet::new();
    let (stands, rest): (Vec<&Hit>, Vec<&Hit>) = will.iter().filter(|hit| once.insert(hit.key())).partition(|hit| {
        is_made(hit) && !price(hit) || touches(hit) && hit.severity == Severity::Danger && !is_seen(hit)
    });
    let mut said: Vec<String> = gone
        .iter()
        .filter(|hit| hit.severity < Severity::Improve)
        .map(|hit| format!("Mended with it: {}.", said_at(basis.house, hit)))
        .collect();
    let comes = |hit: &&&Hit| is_made(hit) && price(hit);
    said.extend(
        rest.iter()
            .filter(comes)
            .map(|hit| format!("With it comes: {}. What mends it: {}.", said_at(&done.house, hit), hit.rule.cure)),
    );
    let there = |hit: &Hit| touches(hit) || seen_there(hit);
    let to_mend = rest.iter().filter(|hit| hit.severity < Severity::Improve && there(hit) && !comes(hit));
    said.extend(
        to_mend.map(|hit| format!("As found: {}. What mends it: {}.", said_at(&done.house, hit), hit.rule.cure)),
    );
    for hit in stands {
        plan.refuse(hit.rule, said_at(&done.house, hit));
    }
    plan.cautions.extend(said);
}

/// A hit with where it is.
fn said_at(house: &House, hit: &Hit) -> String {
    format!("{}: {}", hit.place(house), hit.why)
}
