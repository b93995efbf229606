//! Two circuits on one breaker: a space is free after. (handbook 5.4)

use serde::Serialize;
use utoipa::ToSchema;

use crate::base::Invalid;
use crate::base::units::Amps;
use crate::edit::Draft;
use crate::house::{
    Breaker, BreakerId, Circuit, Device, Goal, Joined, Joining, Landed, LoadKind, PanelId, Point, PointKind,
};
use crate::job::form::{Answers, Field, FieldSort, Kind, PANEL};
use crate::job::mishaps;
use crate::job::obstacles::{
    BATHROOM, DEDICATED, EIGHTY_PERCENT, FIRE_ALARM, GARAGE, HEATING_ALONE, LAUNDRY, NOT_TRACED, ONE_POLE,
    ONE_WIRE_TERMINAL, Obstacle, PLAIN, PUMP, SAME_WIRE, SHARED_NEUTRAL, SMALL_APPLIANCE, WIRE_NOT_KNOWN,
};
use crate::job::plan::{Basis, CostClass, Refusal, WayTo, minutes_of, shares_neutral};
use crate::job::working::{Working, at};
use crate::load::circuits::CONTINUOUS_SHARE;
use crate::words::labels::{Sense, words};

pub(super) static KIND: Kind = Kind {
    name: "combine",
    group: "I need a space",
    title: "Two light circuits on one breaker",
    under: "which ones may",
    fields: &[
        Field::new("keep", "Stays", FieldSort::Breaker).required(),
        Field::new("give-up", "Is given up", FieldSort::Breaker).required(),
        Field::new("terminal", "Both wires under the terminal, instead of a splice", FieldSort::Tick).rare(),
        PANEL.help("whose pairs are listed where none is named"),
    ],
    mishaps: mishaps::MOVING,
    goal,
};

fn goal(of: &Answers<'_>) -> Result<Goal, Invalid> {
    let way = if of.is("terminal") { Joined::Terminal } else { Joined::Splice };
    Ok(Goal::Combine(Joining { keep: of.breaker("keep")?, give_up: of.breaker("give-up")?, way }))
}

/// A pair of circuits that might share a breaker.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
pub struct JoinPair {
    /// Which.
    pub joining: Joining,
    /// In words.
    pub said: String,
    /// Both at the usual peak,
    pub usual: Amps,
    /// and all of both at once.
    pub worst: Amps,
    /// What speaks for it.
    pub reasons_for: Vec<String>,
    /// What speaks against it, without forbidding it.
    pub reasons_against: Vec<String>,
    /// What forbids it.
    pub refused: Vec<Refusal>,
}

/// Pairs of a panel, the best first: those that may be, by what they carry; lights and alarms before all else.
#[must_use]
pub fn candidates(basis: &Basis<'_>, panel: PanelId) -> Vec<JoinPair> {
    let all = basis.house.breakers_of(panel);
    let may: Vec<&Breaker> = all.into_iter().filter(|b| never(basis, b).is_empty()).collect();
    let mut pairs = Vec::new();
    for (nth, one) in may.iter().enumerate() {
        for other in &may[nth + 1..] {
            // The larger wire and breaker is given up: what stays must suit both.
            let (keep, give_up) = if other.amps < one.amps { (other, one) } else { (one, other) };
            pairs.push(judged(basis, keep, give_up));
        }
    }
    pairs.sort_by(|a, b| {
        let key = |c: &JoinPair| (!c.refused.is_empty(), c.reasons_for.is_empty());
        key(a).cmp(&key(b)).then(a.usual.0.total_cmp(&b.usual.0))
    });
    pairs
}

/// Pairs that may be, for making room: for each that could be given up the lightest that it may join.
pub(super) fn light(basis: &Basis<'_>, panel: PanelId) -> Vec<Joining> {
    let amps = |b: BreakerId| basis.house.breakers.get(b).map(|b| b.amps);
    let mut found: Vec<Joining> = Vec::new();
    for pair in candidates(basis, panel).into_iter().filter(|pair| pair.refused.is_empty()) {
        let back = Joining { keep: pair.joining.give_up, give_up: pair.joining.keep, way: pair.joining.way };
        let alike = (amps(back.keep) == amps(back.give_up)).then_some(back);
        for joining in std::iter::once(pair.joining).chain(alike) {
            if found.iter().filter(|j| j.give_up == joining.give_up).count() < KEEPERS {
                found.push(joining);
            }
        }
    }
    found
}

/// So many to join are weighed for each: the lightest ones.
const KEEPERS: usize = 3;

fn judged(basis: &Basis<'_>, keep: &Breaker, give_up: &Breaker) -> JoinPair {
    let joining = Joining { keep: keep.id, give_up: give_up.id, way: Joined::Splice };
    let (usual, worst) = sums(basis, &joining);
    let (mut reasons_for, mut reasons_against) = (Vec::new(), Vec::new());
    for breaker in [keep, give_up] {
        let name = basis.called(breaker);
        let points: Vec<&Point> = basis.points(breaker.id).collect();
        if !points.is_empty()
            && points.iter().all(|p| matches!(p.kind, PointKind::Light | PointKind::Switch | PointKind::Alarm))
        {
            reasons_for.push(format!("{name} carries lights or alarms alone: a dead light tells"));
        }
        if basis.carries(breaker.id).is_some_and(|c| c.all_measured) {
            reasons_for.push(format!("{name} is measured"));
        } else {
            reasons_against.push(format!("{name} is not measured: what it carries is typical"));
        }
        if let Some(unknown) = basis.carries(breaker.id).filter(|c| !c.unknown.is_empty()) {
            reasons_against.push(format!("nobody said what draws at {}", unknown.unknown.join(", ")));
        }
    }
    if worst.0 > keep.amps.0 {
        reasons_against.push(format!("all of both at once are {:.1} A of {}", worst.0, keep.amps));
    }
    let said = format!("{} joins {}", basis.called(give_up), basis.called(keep));
    JoinPair { said, usual, worst, reasons_for, reasons_against, refused: pair(basis, keep, give_up), joining }
}

fn sums(basis: &Basis<'_>, joining: &Joining) -> (Amps, Amps) {
    let of = |b: BreakerId| basis.carries(b).map_or((0.0, 0.0), |c| (c.usual_most.0, c.worst.0.max(c.usual_most.0)));
    let (keep, give_up) = (of(joining.keep), of(joining.give_up));
    (Amps(keep.0 + give_up.0), Amps(keep.1 + give_up.1))
}

/// What both carry together, in words.
pub(in crate::job) fn sum(basis: &Basis<'_>, joining: &Joining) -> String {
    let (usual, worst) = sums(basis, joining);
    let rating = basis.house.breakers.get(joining.keep).map_or(0.0, |b| b.amps.0);
    let of = |b: BreakerId| basis.carries(b).into_iter().flat_map(|c| c.unknown.iter().cloned());
    let unknown: Vec<String> = of(joining.keep).chain(of(joining.give_up)).collect();
    let open = if unknown.is_empty() {
        String::new()
    } else {
        format!(" Nobody said what draws at {}: not counted.", unknown.join(", "))
    };
    format!("up to {:.1} A at the usual peak, {:.1} A all at once, of {rating} A.{open}", usual.0, worst.0)
}

/// What keeps a circuit from ever sharing a breaker. [pub: NEC 210.11(C), 210.52(B), 422.12, value from memory; prac]
pub(super) fn never(basis: &Basis<'_>, breaker: &Breaker) -> Vec<Refusal> {
    let (house, at) = (basis.house, basis.called(breaker));
    let mut all = Vec::new();
    if breaker.at.len() > 1 || house.panel_fed_by(breaker.id).is_some() {
        all.push(Refusal::new(ONE_POLE, format!("{at} has several poles, or feeds a panel")));
    }
    if breaker.device != Device::Plain {
        let why =
            format!("{at} is no plain breaker: both neutrals would have to land on it, and one fault would take both");
        all.push(Refusal::new(PLAIN, why));
    }
    if shares_neutral(house, breaker.id) {
        let why = format!("{at} is half of a pair that shares a neutral");
        all.push(Refusal { instead: ONE_POLE.instead.into(), ..Refusal::new(SHARED_NEUTRAL, why) });
    }
    if !basis.is_traced(breaker.id) {
        let why = format!("it is not proven what hangs on {at}");
        all.push(Refusal::new(NOT_TRACED, why));
    }
    let points: Vec<&Point> = basis.points(breaker.id).collect();
    for point in &points {
        if let Some((obstacle, what)) = kept_alone(basis, point) {
            all.push(Refusal::new(obstacle, format!("{at} feeds {}: {what}", basis.named(point.id))));
        }
    }
    if let [one] = points.as_slice()
        && one.kind == PointKind::Appliance
        && !all.iter().any(|r| r.rule != DEDICATED.id)
    {
        all.push(Refusal::new(DEDICATED, format!("{at} is there for {} alone", basis.named(one.id))));
    }
    all
}

/// Why a point's circuit is not combined, by what it is and where.
fn kept_alone(basis: &Basis<'_>, point: &Point) -> Option<(Obstacle, &'static str)> {
    let house = basis.house;
    let said = |text: &str, sense: Sense, plain: &[&str]| {
        words(text).iter().any(|w| w.sense == sense && plain.contains(&w.plain.as_str()))
    };
    let loads = || house.loads.iter().filter(|l| l.point == point.id);
    let thing =
        |plain: &[&str]| said(&point.name, Sense::Thing, plain) || loads().any(|l| said(&l.name, Sense::Thing, plain));
    let room = house.rooms.get(point.room).map_or("", |r| r.name.as_str());
    let within = |plain: &[&str]| said(room, Sense::Room, plain);
    let receptacle = point.kind == PointKind::Receptacle;
    if thing(&["sump pump", "well pump"])
        || loads().any(|l| matches!(l.kind, LoadKind::Pump | LoadKind::SumpPump | LoadKind::Pool))
    {
        return Some((PUMP, "a pump keeps its own, water may rise"));
    }
    if loads().any(|l| l.kind == LoadKind::FireAlarm) {
        return Some((FIRE_ALARM, "a fire alarm has a circuit of its own"));
    }
    if thing(&["furnace"]) {
        return Some((HEATING_ALONE, "central heating has a circuit of its own"));
    }
    if receptacle && within(&["kitchen", "dining room"]) {
        return Some((SMALL_APPLIANCE, "kitchen receptacles keep their 20 A circuits"));
    }
    if receptacle && within(&["bathroom"]) {
        return Some((BATHROOM, "bathroom receptacles keep their circuit"));
    }
    if receptacle && within(&["laundry"]) {
        return Some((LAUNDRY, "laundry receptacles keep their circuit"));
    }
    if receptacle && within(&["garage"]) {
        return Some((GARAGE, "garage receptacles keep their circuit"));
    }
    None
}

/// What keeps these two apart.
fn pair(basis: &Basis<'_>, keep: &Breaker, give_up: &Breaker) -> Vec<Refusal> {
    let house = basis.house;
    let mut all = Vec::new();
    let wire = |b: &Breaker| house.circuits_of(b.id).first().and_then(|c| Some((c.wire?, c.metal)));
    match (wire(keep), wire(give_up)) {
        (Some(one), Some(other)) if one != other => {
            let why = format!("{} and {} have wires of different size or metal", keep.at_text(), give_up.at_text());
            all.push(Refusal::new(SAME_WIRE, why));
        }
        (one, other) => {
            let open: Vec<String> =
                [(keep, one), (give_up, other)].iter().filter(|(_, w)| w.is_none()).map(|(b, _)| b.at_text()).collect();
            if keep.amps != give_up.amps && !open.is_empty() {
                let why = format!("ratings differ, and the wire of {} is not recorded", open.join(" and "));
                all.push(Refusal::new(WIRE_NOT_KNOWN, why));
            }
        }
    }
    let joining = Joining { keep: keep.id, give_up: give_up.id, way: Joined::Splice };
    let (usual, _) = sums(basis, &joining);
    let most = CONTINUOUS_SHARE * keep.amps.0;
    if usual.0 > most {
        let why = format!(
            "together they may carry {:.1} A at the usual peak, over 80 % of {}: {most:.0} A",
            usual.0, keep.amps
        );
        all.push(Refusal::new(EIGHTY_PERCENT, why));
    }
    all
}

/// Works it out.
pub(super) fn work<'a>(basis: &'a Basis<'a>, joining: &Joining) -> Result<Working<'a>, Invalid> {
    let (keep, give_up) = pair_of(basis, joining)?;
    let title = format!("{} joins {}", give_up.at_text(), keep.at_text());
    let mut w = Working::new(basis, title, keep.panel, Goal::Combine(joining.clone()));
    ways(&mut w, joining, keep);
    check(&mut w, joining)?;
    if w.is_open() {
        take_out(&mut w, joining)?;
        put_on(&mut w, joining)?;
    }
    Ok(w)
}

fn pair_of<'a>(basis: &Basis<'a>, joining: &Joining) -> Result<(&'a Breaker, &'a Breaker), Invalid> {
    let house = basis.house;
    let find = |field: &str, id| {
        house.breakers.get(id).ok_or_else(|| Invalid::new(field, "there is no such breaker (any more)"))
    };
    let (keep, give_up) = (find("keep", joining.keep)?, find("give_up", joining.give_up)?);
    if keep.id == give_up.id || keep.panel != give_up.panel {
        return Err(Invalid::new("give_up", "two different breakers of one panel, please"));
    }
    Ok((keep, give_up))
}

fn ways(w: &mut Working<'_>, joining: &Joining, keep: &Breaker) {
    use crate::base::Said;
    for way in Joined::ALL {
        let why = match way {
            Joined::Splice => {
                "Least trouble: fresh ends, a connector of the right size; the cabinet must not be too full (NEC 312.8)."
            }
            Joined::Terminal => {
                "Only where the terminal is listed for two, of the same size and metal (NEC 110.14(A))."
            }
        };
        let goal = Goal::Combine(Joining { way: *way, ..joining.clone() });
        let chosen = *way == joining.way;
        if *way == Joined::Splice || chosen || keep.terminal.is_some_and(|t| t.wires > 1) {
            w.plan.ways.push(WayTo {
                of: String::new(),
                title: way.said().into(),
                why: why.into(),
                chosen,
                goal,
                bodies: 1,
                wires: 1,
                minutes: minutes_of(1, 1),
                cost: CostClass::Small,
                parts: Vec::new(),
            });
        }
    }
}

/// What it changes.
pub(super) fn change(draft: &mut Draft, joining: &Joining) -> Result<(), Invalid> {
    let give_up = draft.find::<Breaker>(joining.give_up)?;
    draft.join_breakers(joining.give_up, joining.keep)?;
    let landed = match joining.way {
        Joined::Splice => Landed::Splice,
        Joined::Terminal => Landed::Terminal,
    };
    let wires: Vec<Circuit> = draft.house.circuits_of(joining.keep).into_iter().cloned().collect();
    wires.into_iter().for_each(|wire| draft.put(Circuit { landed, ..wire }));
    give_up.at.iter().try_for_each(|at| draft.vacate(give_up.panel, *at))
}

/// What it asks and refuses, and what is bought for it; as a job of its own or to make room for another.
pub(super) fn check(w: &mut Working<'_>, joining: &Joining) -> Result<(), Invalid> {
    let basis = w.basis;
    let (keep, give_up) = pair_of(basis, joining)?;
    w.touch([keep.id, give_up.id]);
    w.plan.refused.extend([never(basis, keep), never(basis, give_up), pair(basis, keep, give_up)].concat());
    w.plan.cautions.push(sum(basis, joining));
    w.plan.cautions.extend(judged(basis, keep, give_up).reasons_against);
    if joining.way == Joined::Terminal && keep.terminal.is_none_or(|t| t.wires < 2) {
        let why = format!("the terminal of {} is not known to be listed for two wires", keep.at_text());
        w.plan.refuse(ONE_WIRE_TERMINAL, why);
    }
    if joining.way == Joined::Splice {
        w.plan.part(1, "connector for three wires of this gauge, as its package says");
        w.plan.part(1, "piece of wire of the circuits' own gauge and metal, about 12 in");
    }
    Ok(())
}

/// The one that is given up comes out, tagged.
pub(super) fn take_out(w: &mut Working<'_>, joining: &Joining) -> Result<(), Invalid> {
    let basis = w.basis;
    let (keep, give_up) = pair_of(basis, joining)?;
    w.act(
        format!("Tag both hots: {} and {}.", basis.called(keep), basis.called(give_up)),
        "They can be taken apart again by the tags.",
        Some(at(keep)),
    );
    w.act(format!("Take {} out: rock it towards the outside.", give_up.at_text()), "", Some(at(give_up)));
    Ok(())
}

/// Both circuits onto the one that stays.
pub(super) fn put_on(w: &mut Working<'_>, joining: &Joining) -> Result<(), Invalid> {
    let (keep, _) = pair_of(w.basis, joining)?;
    match joining.way {
        Joined::Splice => {
            w.act(
                "Cut off the flattened ends, strip fresh; join both hots and one piece of their own gauge in a connector sized for three.",
                "The connector's package says how many of which size.",
                Some(at(keep)),
            );
            w.act(format!("Land the piece on {}.", keep.at_text()), "", Some(at(keep)));
        }
        Joined::Terminal => w.act(
            format!(
                "Both hots under the terminal of {}, one on each side of its plate, as its label shows.",
                keep.at_text()
            ),
            "Listed for two: NEC 110.14(A).",
            Some(at(keep)),
        ),
    }
    w.makes(|draft| change(draft, joining));
    w.act("The neutrals stay where they are, one a hole.", "NEC 408.41.", None);
    w.joined.push(joining.clone());
    w.look(
        &format!("usual-loads-{}", keep.id.0),
        format!(
            "With what usually runs on both switched on, watch what was {} for a quarter of an hour: it stays on, and does not get hot.",
            keep.at_text()
        ),
        "Both hang on one breaker now.",
        None,
    );
    Ok(())
}
