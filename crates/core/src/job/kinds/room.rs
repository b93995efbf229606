//! Making room in a panel: by moving alone, by a tandem in place of two, by two circuits on one breaker; ranked.

use std::collections::BTreeSet;

use super::combine;
use super::tandem;
use crate::base::Invalid;
use crate::base::position::{Position, parse_poles};
use crate::base::units::Amps;
use crate::edit::{Draft, MayFeed};
use crate::house::{Breaker, BreakerId, Goal, House, MakeRoom, Moving, Panel};
use crate::job::arrange::{Arranged, Arrangement, Wish, arrange};
use crate::job::plan::{Basis, CostClass, WayTo};
use crate::job::working::Working;

/// A way to make room.
#[derive(Debug, Clone)]
pub struct MadeRoom {
    /// What is done for it.
    pub room: MakeRoom,
    /// The spaces that are free then.
    pub at: Vec<Position>,
    /// In a few words.
    pub title: String,
    /// What it costs in load and convenience.
    pub why: String,
    /// Bodies that move.
    pub bodies: u32,
    /// Wires that are landed anew.
    pub wires: u32,
    /// Rows that they go.
    pub rows: u32,
    /// How far the legs are apart after.
    pub imbalance: Amps,
    /// What is to be bought.
    pub cost: CostClass,
    /// Whether anything better is possible, in words.
    pub proven: String,
}

impl MadeRoom {
    /// As one of several ways, with the goal that chooses it.
    pub fn way(self, goal: impl Fn(MakeRoom) -> Goal, chosen: bool) -> WayTo {
        let Self { room, title, why, bodies, wires, cost, .. } = self;
        WayTo { title, why, chosen, goal: goal(room), bodies, wires, cost }
    }
}

/// Ways to make room, or legs even, the cheapest first: bodies, wires, what is to be bought; or why there is none. (handbook 7:
/// what changes what there is costs like moves and is offered beside)
///
/// # Errors
/// Where what is wished for cannot be, with the field.
pub fn ways(
    basis: &Basis<'_>,
    panel: &Panel,
    wishes: &[Wish],
    fixed: &BTreeSet<BreakerId>,
) -> Result<Result<Vec<MadeRoom>, String>, Invalid> {
    let usual = basis.usual();
    let (mut ways, why) = match arrange(basis.house, panel, wishes, &usual, fixed)? {
        Arranged::Possible(found) => {
            let mut ways = vec![moved(&found, MakeRoom::default())];
            ways.extend(found.other.as_deref().map(|other| moved(other, MakeRoom::default())));
            (ways, String::new())
        }
        Arranged::Impossible { impossible: why } | Arranged::CutOff { cut_off: why } => (Vec::new(), why),
    };
    // Where something is free already, nothing is changed for it, and even legs have nothing to do with what there is.
    if ways.first().is_none_or(|way| way.bodies > 0) && !wishes.contains(&Wish::Balance) {
        for change in changes(basis, panel) {
            let Ok(house) = with(basis.house, &change) else { continue };
            let Some(panel) = house.panels.get(panel.id) else { continue };
            if let Ok(Arranged::Possible(found)) = arrange(&house, panel, wishes, &usual, fixed) {
                ways.push(moved(&found, change));
            }
        }
    }
    ways.sort_by_key(|way| (way.bodies, way.wires, way.cost, way.rows));
    let mut told = [0; 2];
    ways.retain(|way| {
        if way.room.tandem.is_none() && way.room.combine.is_none() {
            return true;
        }
        let sort = &mut told[usize::from(way.room.tandem.is_some())];
        *sort += 1;
        *sort <= OF_A_SORT
    });
    for way in &mut ways {
        tell(basis, way);
    }
    Ok(if ways.is_empty() { Err(why) } else { Ok(ways) })
}

/// What would change what there is, the likeliest first: some tandems, some pairs to combine.
fn changes(basis: &Basis<'_>, panel: &Panel) -> Vec<MakeRoom> {
    let tandems = tandem::candidates(basis, panel)
        .into_iter()
        .map(|halves| MakeRoom { tandem: Some(halves), ..MakeRoom::default() });
    let pairs = combine::candidates(basis, panel.id).into_iter().filter(|c| c.refused.is_empty()).take(MOST_PAIRS);
    let pairs = pairs.map(|c| MakeRoom { combine: Some(c.joining), ..MakeRoom::default() });
    tandems.chain(pairs).collect()
}

/// So many ways of a sort are told: pairs are many, and a choice is wanted.
const OF_A_SORT: usize = 2;
/// So many pairs are tried: the lightest ones.
const MOST_PAIRS: usize = 8;

fn moved(found: &Arrangement, room: MakeRoom) -> MadeRoom {
    let poles = |text: &str| parse_poles(text).unwrap_or_default();
    let moves = found.moves.iter().map(|m| Moving { breaker: m.breaker, to: poles(&m.to) }).collect();
    // A tandem is a body more that is put in, with two wires; combining takes one out and lands its wire.
    let (bodies, wires, cost) = match (&room.tandem, &room.combine) {
        (Some(_), _) => (1, 2, CostClass::Breaker),
        (None, Some(_)) => (1, 1, CostClass::Small),
        (None, None) => (0, 0, CostClass::Nothing),
    };
    MadeRoom {
        at: found.room.first().map(|at| poles(at)).unwrap_or_default(),
        room: MakeRoom { moves, ..room },
        title: String::new(),
        why: String::new(),
        bodies: found.bodies + bodies,
        wires: found.wires + wires,
        rows: found.rows,
        imbalance: found.imbalance,
        cost,
        proven: match found.gap {
            _ if found.optimal => "nothing less is possible by moving alone".into(),
            Some(gap) => format!("they may come nearer by {:.1} A at the most", gap.0),
            None => "there may be something better".into(),
        },
    }
}

fn tell(basis: &Basis<'_>, way: &mut MadeRoom) {
    let name = |b: BreakerId| basis.house.breakers.get(b).map_or_else(String::new, |b| basis.called(b));
    let at = |b: BreakerId| basis.house.breakers.get(b).map_or_else(String::new, Breaker::at_text);
    let to = |to: &[Position]| crate::base::position::format_poles(to);
    let moves: Vec<String> = way.room.moves.iter().map(|m| format!("{} to {}", at(m.breaker), to(&m.to))).collect();
    let known = basis.circuits.iter().any(|c| c.usual.0 > 0.0);
    let apart = if known {
        format!("legs {:.1} A apart after", way.imbalance.0)
    } else {
        "what the legs carry is not known".to_owned()
    };
    (way.title, way.why) = if let Some(halves) = &way.room.tandem {
        let why = format!(
            "Both are on one leg after, in half-size bodies; {apart}. Nothing is combined: each keeps its breaker."
        );
        (format!("A tandem at {} for {} and {}", halves.space, name(halves.upper), name(halves.lower)), why)
    } else if let Some(joining) = &way.room.combine {
        let sum = combine::sum(basis, joining);
        let why = format!("{sum} One trip then takes both; {apart}.");
        (format!("{} joins {}", name(joining.give_up), name(joining.keep)), why)
    } else if way.room.moves.is_empty() {
        ("It is free".to_owned(), apart)
    } else {
        let why = format!("Nothing is bought and nothing shares; wires go {} rows, {apart}; {}.", way.rows, way.proven);
        (format!("Move {}", moves.join(", ")), why)
    };
    if !moves.is_empty() && (way.room.tandem.is_some() || way.room.combine.is_some()) {
        way.title += &format!("; move {}", moves.join(", "));
    }
}

/// The house with room made, to be searched: what is planned from it is checked as a whole.
fn with(house: &House, room: &MakeRoom) -> Result<House, Invalid> {
    let mut draft = Draft::new(house, |_| MayFeed::new());
    if let Some(halves) = &room.tandem {
        tandem::change(&mut draft, halves)?;
    }
    if let Some(joining) = &room.combine {
        combine::change(&mut draft, joining)?;
    }
    draft.shift(&room.moves)?;
    Ok(draft.house)
}

/// Making room, with all that a tandem or combining asks and refuses on its own.
pub(super) fn acts(w: &mut Working<'_>, room: &MakeRoom) -> Result<(), Invalid> {
    if let Some(halves) = &room.tandem {
        tandem::acts(w, halves)?;
    }
    if let Some(joining) = &room.combine {
        combine::acts(w, joining)?;
    }
    w.moves(&room.moves);
    Ok(())
}
