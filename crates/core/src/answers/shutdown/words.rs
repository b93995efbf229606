//! What is said before anything else of an answer: made once, shown alike by page and command line.

use serde::Serialize;
use utoipa::ToSchema;

use super::{MainBy, Shutdown, Staying, StaysLive, Why};
use crate::house::{BreakerId, Held, House, Point};
use crate::trace::Beliefs;
use crate::trace::verdict::STAYS_LIVE;
use crate::words::short::capital;
use crate::words::things::{by_room, by_tags};

/// Something to be said first.
#[derive(Debug, Clone, PartialEq, Eq, Serialize, ToSchema)]
pub struct Caution {
    /// Stop here: work must not go on as it is.
    pub stop: bool,
    /// The words.
    pub text: String,
}

/// What stands over each part of an answer.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, ToSchema)]
pub struct Heads {
    /// The handles,
    pub off: &'static str,
    /// the test,
    pub prove: &'static str,
    /// how it goes, and what stops it,
    pub test: &'static str,
    /// what each place has to show,
    pub expect: &'static str,
    /// what stays live,
    pub live: &'static str,
    /// what else goes dark,
    pub dark: &'static str,
    /// the way back,
    pub back: &'static str,
    /// its order where no handles are named,
    pub back_all: &'static str,
    /// and who may do it.
    pub law: &'static str,
}

/// [pub: NFPA 70E 120.5, the test before and after, from memory; prac: handbook 5.1]
pub(super) const HEADS: Heads = Heads {
    off: "Switch the loads off, then these handles, in this order",
    prove: "Hang a note on the panel so that nobody switches on; then prove it dead",
    test: "Test the meter on a known live source, then each point, then the live source again. Anything else than 0 V at the point: \
           stop, it is not the right breaker or not the only one.",
    expect: "0 V each",
    live: "What stays live",
    dark: "What else goes dark",
    back: "When done: loads off, then back on in this order",
    back_all: "the main, then one by one",
    law: "Local code decides who may do this work and whether a permit is needed. Unsure, or rust, heat, water or aluminium wiring: a \
          licensed electrician.",
};

fn go_on(text: String) -> Caution {
    Caution { stop: false, text }
}

/// `1`, `1 and 3`, `1, 3 and 5`.
fn listed(words: &[String], last: &str) -> String {
    match words {
        [] => String::new(),
        [one] => one.clone(),
        [first @ .., end] => format!("{} {last} {end}", first.join(", ")),
    }
}

/// Somebody works on what would be switched: their handles are not moved, and what is dead for them is not dead for another.
pub(super) fn held(house: &House, answer: &Shutdown) -> Vec<Caution> {
    let moved: Vec<BreakerId> = answer.switch_off.iter().map(|off| off.at.breaker).collect();
    let all = house.held();
    let concerned = all.iter().filter(|held| held.dead(house).iter().any(|b| moved.contains(b)));
    let said = |held: &Held| {
        go_on(format!(
            "{}, and some of this is off for them: it is dead only until they switch it on. Tell them before you begin; your own \
             breakers OFF, locked or tagged, and proven dead by yourself.",
            held.who_works(house)
        ))
    };
    concerned.map(said).collect()
}

/// The cautions of an answer, the gravest first.
pub(super) fn cautions(house: &House, answer: &Shutdown, beliefs: &Beliefs) -> Vec<Caution> {
    let mut cautions: Vec<Caution> = held(house, answer);
    // What surely does stands before them all.
    cautions.extend(may_stay_live(house, answer).filter(|_| !answer.stop));
    for open in &answer.not_entered {
        let at: Vec<String> = open.at.iter().map(ToString::to_string).collect();
        let spaces = if at.len() == 1 { "Space" } else { "Spaces" };
        let are = if at.len() == 1 { "is" } else { "are" };
        cautions.push(go_on(format!(
            "{spaces} {} of panel {} {are} not entered: a breaker there may feed it. Look there first, and enter what stands \
             there, or that nothing does.",
            listed(&at, "and"),
            open.panel
        )));
    }
    if answer.other_panels {
        cautions.push(go_on(
            "Nobody has said yet that every panel of the property is entered: another one may feed it. Look for one first."
                .into(),
        ));
    }
    if !answer.unproven.is_empty() {
        cautions.push(go_on(format!(
            "Not proven: {}. Every breaker that the readings do not rule out is named. Trace it first if you can: then fewer \
             handles do.",
            by_tags(house, &answer.unproven)
        )));
    }
    cautions.extend(beliefs.points.iter().filter(|b| answer.unproven.contains(&b.tag)).filter_map(|b| apart(house, b)));
    cautions.extend(answer.circuit.as_ref().and_then(|circuit| on_circuit(house, circuit)));
    cautions
}

/// Of points that stay live whatever is off: nothing else is said beside it.
pub(super) fn stays_live(points: &str) -> Caution {
    let text =
        format!("{points}: stays live whatever is off here, seen so with each breaker off. {}.", capital(STAYS_LIVE));
    Caution { stop: true, text }
}

/// What stays live, in words.
pub(super) fn staying(all: Vec<StaysLive>) -> Vec<Staying> {
    let text = |what: &StaysLive| match what {
        StaysLive::Bus { panel } => format!(
            "Unless the whole panel is off: the bus of panel {panel} and all its other circuits. Keep its cover on."
        ),
        StaysLive::LineSide { panel } => format!(
            "The line side of {panel}: the lugs before its main and everything back to the meter. Only the utility can kill \
             them; keep their cover on."
        ),
        StaysLive::Upstream { panel } => format!("The feeder's breaker and everything else in panel {panel}."),
        StaysLive::FeedThrough { panel } => {
            format!("{panel} has feed-through lugs: what hangs there may be fed from elsewhere too.")
        }
        StaysLive::OtherPanels => "Whatever a panel feeds that is not entered, if there is one.".to_owned(),
    };
    all.into_iter().map(|what| Staying { text: text(&what), what }).collect()
}

fn may_stay_live(house: &House, answer: &Shutdown) -> Option<Caution> {
    let points = by_tags(house, &answer.may_stay_live);
    let why = if answer.not_entered.is_empty() && !answer.other_panels {
        "another panel, a generator or a solar inverter may feed it. Stop: an electrician is due."
    } else {
        "a breaker that nobody entered, a generator or a solar inverter may feed it. Stop until that is found; where it is \
         not, an electrician is due."
    };
    let text = format!("{points} may stay live with everything off that is entered: {why}");
    (!points.is_empty()).then_some(Caution { stop: true, text })
}

/// `Pantry receptacle (P1): 1 or 3-5, not told apart yet`.
fn apart(house: &House, belief: &crate::trace::PointBelief) -> Option<Caution> {
    let top = belief.candidates.first()?.at.at.clone();
    let rivals = belief.not_told_apart.iter().map(|b| b.at.clone());
    let all: Vec<String> = std::iter::once(top).chain(rivals).collect();
    let text = format!(
        "{}: {}, not told apart yet. Look at it with one of them off and the others on.",
        by_tags(house, std::slice::from_ref(&belief.tag)),
        listed(&all, "or")
    );
    (all.len() > 1).then(|| go_on(text))
}

fn on_circuit(house: &House, circuit: &super::OnCircuit) -> Option<Caution> {
    let rest = if circuit.may_feed.len() > NAMED {
        let points: Vec<&Point> =
            house.points_in_order().into_iter().filter(|p| circuit.may_feed.contains(&p.tag)).collect();
        format!("{} points: {}", points.len(), by_room(house, &points))
    } else {
        by_tags(house, &circuit.may_feed)
    };
    let text = match (circuit.feeds.is_empty(), rest.is_empty()) {
        (true, true) => "Nothing is known to hang on this breaker. Whatever it feeds is on no list yet.".to_owned(),
        (true, false) => format!("Nothing is known to hang on this breaker. It is not ruled out for {rest}."),
        (false, true) => return None,
        (false, false) => format!("It is not ruled out either for {rest}: ask for such a point before you touch it."),
    };
    Some(go_on(text))
}

/// More points than this are counted by room: nobody reads so many names. Each has its own answer.
const NAMED: usize = 12;
/// Under this a share is told as "under 1 %": nobody reads it as nothing.
const LEAST_SHARE: f64 = 0.01;

fn share(p: f64) -> String {
    if p < LEAST_SHARE { "under 1 % likely, not ruled out".into() } else { format!("{:.0} % likely", p * 100.0) }
}

impl Why {
    pub(super) fn said(&self, house: &House) -> String {
        let named = |tag: &str| match house.point_tagged(tag) {
            Some(point) => format!("{} ({tag})", house.called(point)),
            None => tag.to_owned(),
        };
        match self {
            Self::Feeds { tag } => format!("feeds {}", named(tag)),
            Self::MayFeed { tag, p } => format!("may feed {} ({})", named(tag), share(*p)),
            Self::OnTwoHandles { tag, with, p } => {
                format!("may feed {} together with {with}: on two handles ({})", named(tag), share(*p))
            }
            Self::SameBox { tag, of, proven } => {
                let feeds = if *proven { "feeds" } else { "may feed" };
                format!("{feeds} {}, which shares the box of {of}", named(tag))
            }
            Self::SharedNeutral { with } => format!("shares its neutral with {with}"),
            Self::ItsCircuit => "the work is on its circuit".into(),
            Self::InThePanel => "stands in the panel".into(),
            Self::FeedsThePanel { panel } => format!("feeds panel {panel}"),
        }
    }
}

impl MainBy {
    pub(super) fn said(&self) -> String {
        match self {
            Self::Main => "its main breaker".into(),
            Self::Disconnect { place } => format!("the disconnect: {place}"),
            Self::NotKnown => "its disconnect, which is not recorded: it has main lugs only. Find it first".into(),
        }
    }
}
