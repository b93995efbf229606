//! The short notation for what stands in a space.
//!
//! | typed | means |
//! |---|---|
//! | `20` | a single-pole breaker of 20 A |
//! | `2p50` | a two-pole breaker of 50 A: this space and the one below |
//! | `3p30` | a three-pole breaker |
//! | `15 gfci kitchen lights` | its type, then the label as found |
//! | `20 12-2 bath` | its cable: 12 AWG, two insulated conductors; `#8` for single wires, `6-3al` for aluminium |
//! | `20 12-3 ~1 counter` | it shares its neutral with the breaker at 1 |
//! | `20 off bath` | its handle is off; also `tripped` |
//! | `2p20 tie counter` | two single poles with their handles tied |
//! | `15 lights / 20 fridge` | two half-size breakers in this space, the upper one first |
//! | `15 lights / -` | the lower half was looked at: it is free |
//! | `15 lights / ?` | the lower half is not entered yet |
//! | `15 a / 2p30 dryer / 20 b` | half-size breakers down this space and the next: the two-pole is in the middle |
//! | `2p50 range (2p30 dryer)` | four halves in two spaces: the outer pair, then the inner one |
//! | `@1a-3a 2p20 tie bath / @1b 15` | any other half-size places, by name |
//! | `30! dryer` | it really is so, though it should not be: as found |
//! | `15 "off stage"` | a label that would be read as something else |
//! | `-` | looked at: the space is empty |
//! | nothing | not entered yet |
//!
//! Types: `gfci`, `afci`, `dual`, `fuse`; without one it is plain.

use std::collections::BTreeSet;
use std::fmt::Write;

use crate::base::Invalid;
use crate::base::position::{Half, Position, format_poles, parse_poles};
use crate::base::units::{Amps, Gauge, Metal};
use crate::code::STANDARD_RATINGS;
use crate::edit::Draft;
use crate::house::{Breaker, BreakerId, Circuit, CircuitId, Device, Handle, House, Panel, PanelId, Trip};

/// Ids that entering one space may use up at most, from the first one given.
pub const MOST_NEW: u64 = 16;

/// Takes what was typed for a space: breakers and circuits not there before get the ids from `new` on. Nothing typed takes
/// out what is there.
///
/// # Errors
/// [`Invalid`] with the field `text` where it cannot be read, `text.sure` where it can but is unusual and nobody said that it
/// is meant so, or `space` where there is none.
pub(crate) fn enter(
    draft: &mut Draft,
    panel: PanelId,
    space: u16,
    (text, sure): (&str, bool),
    new: u64,
) -> Result<(), Invalid> {
    let panel = draft.find::<Panel>(panel)?;
    if !panel.has(space) {
        return Err(Invalid::new("space", format!("there is no {space} in {}", panel.name)));
    }
    let old: Vec<Breaker> = group(&draft.house, &panel, space).into_iter().cloned().collect();
    match text.trim() {
        "" | NOT_ENTERED => clear(draft, &panel, space, &old, false),
        FREE => clear(draft, &panel, space, &old, true),
        typed => {
            let placed = place(&panel, space, &plainly(typed))?;
            let question = placed.breakers.iter().find_map(|(_, typed)| typed.question.as_ref());
            match question.filter(|_| !sure) {
                Some(question) => {
                    Err(Invalid::new("text.sure", format!("{question} Enter again to keep it as it is.")))
                }
                None => fill_in(draft, &panel, placed, &old, new),
            }
        }
    }
}

fn clear(draft: &mut Draft, panel: &Panel, space: u16, old: &[Breaker], empty: bool) -> Result<(), Invalid> {
    old.iter().try_for_each(|b| draft.remove_breaker(b.id))?;
    draft.mark_empty(panel.id, Position::whole(space), empty)
}

/// The breakers that are written in the field of a space: the full-size one that begins there, or the half-size ones
/// of all spaces that two-pole half-size breakers tie together, if this is the first of them.
fn group<'a>(house: &'a House, panel: &Panel, space: u16) -> Vec<&'a Breaker> {
    let all = house.breakers_of(panel.id);
    if let Some(full) = all.iter().find(|b| !b.is_half_size() && b.at[0].space == space) {
        return vec![full];
    }
    let spaces = tied(&all, space);
    if first(panel, &spaces) != Some(space) {
        return Vec::new();
    }
    all.into_iter().filter(|b| b.is_half_size() && b.at.iter().any(|p| spaces.contains(&p.space))).collect()
}

/// This space and all that half-size breakers tie to it.
fn tied(all: &[&Breaker], space: u16) -> BTreeSet<u16> {
    let mut spaces: BTreeSet<u16> = [space].into();
    loop {
        let touching = all.iter().filter(|b| b.is_half_size() && b.at.iter().any(|p| spaces.contains(&p.space)));
        let more: BTreeSet<u16> = touching.flat_map(|b| b.at.iter().map(|p| p.space)).collect();
        if more.is_subset(&spaces) {
            return spaces;
        }
        spaces.extend(more);
    }
}

fn first(panel: &Panel, spaces: &BTreeSet<u16>) -> Option<u16> {
    spaces.iter().copied().min_by_key(|s| panel.place(*s).1)
}

/// The space in whose field this one is written, where it is another.
#[must_use]
pub fn written_at(house: &House, panel: &Panel, space: u16) -> Option<u16> {
    let over = house.breaker_over(panel.id, Position::whole(space))?;
    let first =
        if over.is_half_size() { first(panel, &tied(&house.breakers_of(panel.id), space))? } else { over.at[0].space };
    (first != space).then_some(first)
}

/// A breaker as typed, before its place is known.
#[derive(Debug, Clone, PartialEq)]
struct TypedSpace {
    poles: usize,
    amps: Amps,
    as_found: bool,
    device: Device,
    handle: Handle,
    trip: Trip,
    cable: Option<(Gauge, Option<u8>, Metal)>,
    neutral: Option<Vec<Position>>,
    label: String,
    /// What is to be asked before it is taken over.
    question: Option<String>,
}

/// Puts what was typed in the place of what stood there, wires last: they name breakers that must be there first.
fn fill_in(draft: &mut Draft, panel: &Panel, placed: Placed, old: &[Breaker], new: u64) -> Result<(), Invalid> {
    let mut fresh = (new..).map(BreakerId);
    let mut breakers: Vec<(Breaker, TypedSpace)> = Vec::new();
    for (nth, (at, typed)) in placed.breakers.into_iter().enumerate() {
        // A breaker typed over stays the same one: by its place, or by where it begins.
        let same = old.iter().find(|b| b.at == at);
        let begins = || old.iter().find(|b| b.at[0] == at[0] || (nth == 0 && old.len() == 1));
        let before = same.or_else(begins).filter(|b| breakers.iter().all(|(kept, _)| kept.id != b.id));
        let id = before.map(|b| b.id).or_else(|| fresh.next());
        let id = id.ok_or_else(|| Invalid::new("text", "there are too many breakers in one space"))?;
        breakers.push((breaker(id, panel, at, &typed, before), typed));
    }
    let kept = |b: &&Breaker| breakers.iter().any(|(kept, _)| kept.id == b.id);
    old.iter().filter(|b| !kept(b)).try_for_each(|b| draft.remove_breaker(b.id))?;
    breakers.iter().for_each(|(breaker, _)| draft.place_breaker(breaker));
    placed.bare.into_iter().try_for_each(|(half, free)| draft.mark_empty(panel.id, half, free))?;
    let mut circuits = (new..).map(CircuitId);
    breakers.iter().try_for_each(|(breaker, typed)| wire(draft, panel, breaker, typed, &mut circuits))
}

fn breaker(id: BreakerId, panel: &Panel, at: Vec<Position>, typed: &TypedSpace, before: Option<&Breaker>) -> Breaker {
    let old = before.cloned().unwrap_or_else(|| Breaker::new(id, panel.id, at.clone(), typed.amps));
    let same_size = old.is_half_size() == at.iter().any(|p| p.half != Half::Whole);
    Breaker {
        frame: old.frame.filter(|_| same_size),
        at,
        amps: typed.amps,
        device: typed.device,
        handle: typed.handle,
        trip: typed.trip,
        label: typed.label.clone(),
        as_found: typed.as_found,
        ..old
    }
}

/// Puts the circuit that was typed with a breaker. What the notation cannot say is left alone.
fn wire(
    draft: &mut Draft,
    panel: &Panel,
    breaker: &Breaker,
    typed: &TypedSpace,
    fresh: &mut impl Iterator<Item = CircuitId>,
) -> Result<(), Invalid> {
    let here = draft.house.circuits_of(breaker.id);
    if !can_be_written(&here) {
        if typed.cable.is_none() && typed.neutral.is_none() {
            return Ok(());
        }
        let message = format!("{} has several circuits: change them in its sheet", breaker.at_text());
        return Err(Invalid::new("text", message));
    }
    let old = here.first().copied().cloned();
    let neutral_of = match &typed.neutral {
        Some(at) => Some(neutral(draft, panel, breaker, at, fresh)?),
        None => None,
    };
    if old.is_none() && typed.cable.is_none() && neutral_of.is_none() {
        return Ok(());
    }
    let (wire, conductors, metal) = match typed.cable {
        Some((wire, conductors, metal)) => (Some(wire), conductors, metal),
        None => (None, None, Metal::Copper),
    };
    let old = match old {
        Some(old) => old,
        None => Circuit::new(next(fresh)?, breaker.id),
    };
    draft.put(Circuit { wire, conductors, metal, neutral_of, as_found: typed.as_found, ..old });
    Ok(())
}

fn next(fresh: &mut impl Iterator<Item = CircuitId>) -> Result<CircuitId, Invalid> {
    fresh.next().ok_or_else(|| Invalid::new("text", "there are too many circuits"))
}

/// The circuit whose neutral is shared: that of the breaker at `at`, made where it is not there yet.
fn neutral(
    draft: &mut Draft,
    panel: &Panel,
    breaker: &Breaker,
    at: &[Position],
    fresh: &mut impl Iterator<Item = CircuitId>,
) -> Result<CircuitId, Invalid> {
    let mate = draft.house.breaker_at(panel.id, at).filter(|b| b.id != breaker.id).map(|b| b.id);
    let fault = || format!("~{}: no other breaker stands there to share a neutral with", format_poles(at));
    let mate = mate.ok_or_else(|| Invalid::new("text", fault()))?;
    if let Some(circuit) = draft.house.circuits_of(mate).first() {
        return Ok(circuit.neutral_of.unwrap_or(circuit.id));
    }
    let circuit = Circuit::new(next(fresh)?, mate);
    let id = circuit.id;
    draft.put(circuit);
    Ok(id)
}

/// One circuit on the whole breaker is all that the notation can say.
fn can_be_written(circuits: &[&Circuit]) -> bool {
    match circuits {
        [] => true,
        [one] => one.pole.is_none(),
        _ => false,
    }
}

/// What was typed for a space: breakers with their places, and halves said to be free, or not to be known.
#[derive(Default)]
struct Placed {
    breakers: Vec<(Vec<Position>, TypedSpace)>,
    bare: Vec<(Position, bool)>,
}

impl Placed {
    fn only(breakers: Vec<(Vec<Position>, TypedSpace)>) -> Self {
        Self { breakers, bare: Vec::new() }
    }
}

/// A half that was looked at and is free, and one of which nothing is said.
const FREE: &str = "-";
const NOT_ENTERED: &str = "?";

/// What was typed, part by part, with the place of each.
fn place(panel: &Panel, space: u16, text: &str) -> Result<Placed, Invalid> {
    let parts = split(text);
    if text.starts_with('@') {
        return Ok(Placed::only(parts.into_iter().map(by_name).collect::<Result<_, _>>()?));
    }
    if let Some((outer, inner)) = nested(text) {
        return quad(panel, space, outer, inner);
    }
    if let [one] = parts.as_slice() {
        let typed = part(one)?;
        return Ok(Placed::only(vec![(full(panel, space, typed.poles)?, typed)]));
    }
    let mut halves = halves_from(panel, space);
    fill(&parts, &mut halves)
}

/// Fills half-positions from the top down.
fn fill(parts: &[&str], halves: &mut dyn Iterator<Item = Position>) -> Result<Placed, Invalid> {
    let mut placed = Placed::default();
    for text in parts {
        let room = || Invalid::new("text", format!("there is no room for \"{text}\" in this column"));
        if [FREE, NOT_ENTERED].contains(text) {
            placed.bare.push((halves.next().ok_or_else(room)?, *text == FREE));
            continue;
        }
        let typed = part(text)?;
        let at: Vec<_> = halves.take(typed.poles).collect();
        if at.len() < typed.poles {
            return Err(room());
        }
        placed.breakers.push((at, typed));
    }
    Ok(placed)
}

fn by_name(text: &str) -> Result<(Vec<Position>, TypedSpace), Invalid> {
    let (at, rest) = split_word(text.strip_prefix('@').unwrap_or(text));
    let at = parse_poles(at).map_err(|e| Invalid::new("text", e.to_string()))?;
    let typed = part(rest)?;
    if at.len() != typed.poles {
        return Err(Invalid::new("text", format!("@{} names {} places", format_poles(&at), at.len())));
    }
    Ok((at, typed))
}

/// `2p50 range (2p30 dryer)`: the outer pair of four halves, and what is between.
fn nested(text: &str) -> Option<(&str, &str)> {
    let inside = text.strip_suffix(')')?;
    let (outer, inner) = inside.split_once(" (")?;
    // A label may have words in brackets; a rating or a free half is none.
    let is_part = |p: &str| [FREE, NOT_ENTERED].contains(&p) || rating(split_word(p).0).is_ok();
    (outer.matches('"').count() % 2 == 0 && split(inner).into_iter().all(is_part)).then_some((outer, inner))
}

fn quad(panel: &Panel, space: u16, outer: &str, inner: &str) -> Result<Placed, Invalid> {
    let halves: Vec<_> = halves_from(panel, space).take(4).collect();
    let [a, b, c, d] = halves.as_slice() else {
        return Err(Invalid::new("text", format!("there is no space below {space} for the other half")));
    };
    let typed = part(outer)?;
    if typed.poles != 2 {
        return Err(Invalid::new("text", "the outer breaker of four halves has two poles: 2p50 (2p30)"));
    }
    let mut placed = fill(&split(inner), &mut [*b, *c].into_iter())?;
    placed.breakers.insert(0, (vec![*a, *d], typed));
    Ok(placed)
}

fn halves_from(panel: &Panel, space: u16) -> impl Iterator<Item = Position> + '_ {
    let down = std::iter::successors(Some(space), |s| panel.below(*s));
    down.flat_map(|space| [Half::Upper, Half::Lower].map(|half| Position { space, half }))
}

fn full(panel: &Panel, space: u16, poles: usize) -> Result<Vec<Position>, Invalid> {
    let down = std::iter::successors(Some(space), |s| panel.below(*s));
    let at: Vec<_> = down.take(poles).map(Position::whole).collect();
    if at.len() == poles {
        return Ok(at);
    }
    Err(Invalid::new("text", format!("there is no room for {poles} poles from space {space} down")))
}

/// Parts between slashes; a slash within a label (not before a rating, or in quotes) does not part.
fn split(text: &str) -> Vec<&str> {
    let mut parts = Vec::new();
    let mut begin = 0;
    for (i, _) in text.match_indices(" / ") {
        let quoted = text[begin..i].matches('"').count() % 2 == 1;
        let word = split_word(text[i + 3..].trim_start()).0;
        let begins = [FREE, NOT_ENTERED].contains(&word)
            || word.starts_with('@')
            || rating(word).is_ok()
            || amps_alone(word).is_some();
        if !quoted && i >= begin && begins {
            parts.push(text[begin..i].trim());
            begin = i + 3;
        }
    }
    parts.push(text[begin..].trim());
    parts
}

/// A breaker written as in a space, its place left open.
#[derive(Debug, Clone, PartialEq)]
pub(crate) struct ListedBreaker {
    /// Poles, 1 to 3.
    pub poles: usize,
    /// Rating.
    pub amps: Amps,
    /// Type.
    pub device: Device,
    /// Its cable, where it is said.
    pub cable: Option<(Gauge, Option<u8>, Metal)>,
    /// Whether its handles are tied.
    pub trip: Trip,
    /// What hangs on it.
    pub label: String,
}

/// Reads a breaker whose place is to be found.
///
/// # Errors
/// [`Invalid`] with the field `text` where it cannot be read, is unusual, or names another place.
pub(crate) fn listed(text: &str) -> Result<ListedBreaker, Invalid> {
    let TypedSpace { poles, amps, device, cable, trip, neutral, label, question, .. } = part(&plainly(text.trim()))?;
    let tied = || "two that share a neutral are one line, their handles tied: 2p20 tie 12-3 counter".to_owned();
    match question.or_else(|| neutral.map(|_| tied())) {
        Some(question) => Err(Invalid::new("text", question)),
        None => Ok(ListedBreaker { poles, amps, device, cable, trip, label }),
    }
}

/// One breaker: its rating, what is told of it, its label.
fn part(text: &str) -> Result<TypedSpace, Invalid> {
    let (first, mut rest) = split_word(text);
    let (poles, amps, as_found) = rating(first)?;
    let mut typed = TypedSpace {
        poles,
        amps,
        as_found,
        device: Device::Plain,
        handle: Handle::On,
        trip: Trip::Common,
        cable: None,
        neutral: None,
        label: String::new(),
        question: unusual(amps),
    };
    loop {
        let (word, after) = split_word(rest);
        match token(word) {
            Some(Token::Device(device)) => typed.device = device,
            Some(Token::Handle(handle)) => typed.handle = handle,
            Some(Token::Tie) => typed.trip = Trip::HandleTie,
            Some(Token::Cable(wire, conductors, metal)) => typed.cable = Some((wire, conductors, metal)),
            Some(Token::Neutral(at)) => typed.neutral = Some(at),
            None => break,
        }
        rest = after;
    }
    typed.question = typed.question.or_else(|| meant_as_type(split_word(rest).0));
    typed.label = unquoted(rest);
    Ok(typed)
}

/// A rating that no breaker has is most often a slip.
fn unusual(amps: Amps) -> Option<String> {
    let slip = amps.0 <= STANDARD_RATINGS.iter().copied().fold(0.0, f64::max) && !STANDARD_RATINGS.contains(&amps.0);
    slip.then(|| format!("{} is no usual rating: is it 15, 20 …?", amps))
}

/// Words that people write for a type of breaker, and on labels for what hangs on it.
const LIKE_TYPES: &[(&str, &str, &str)] = &[
    ("gfi", "ground-fault", "gfci"),
    ("gf", "ground-fault", "gfci"),
    ("afi", "arc-fault", "afci"),
    ("cafci", "arc-fault", "afci"),
    ("dfci", "dual-function", "dual"),
];

fn meant_as_type(word: &str) -> Option<String> {
    let (_, what, write) = LIKE_TYPES.iter().find(|(like, ..)| word.eq_ignore_ascii_case(like))?;
    Some(format!("\"{word}\": is the breaker itself {what}, with a TEST button? Then write {write}."))
}

/// What is typed often and can mean but one thing, in the notation: `20 amp` → `20`, `50 2p` and `2 pole 50` → `2p50`, `15/15` →
/// `15 / 15`.
fn plainly(text: &str) -> String {
    let tight: Vec<&str> = text.split('/').map(str::trim).collect();
    let parts = if tight.iter().all(|part| rating(part).is_ok()) { tight } else { split(text) };
    parts.into_iter().map(plain_part).collect::<Vec<_>>().join(" / ")
}

fn plain_part(text: &str) -> String {
    let (first, rest) = split_word(text);
    let (second, after) = split_word(rest);
    let told = |head: String, rest: &str| if rest.is_empty() { head } else { format!("{head} {rest}") };
    if let (Some((poles, rest)), true) = (poles(text), rating(first).is_err() || is_pole(second)) {
        let (amps, rest) = split_word(rest);
        if let Some(amps) = amps_alone(amps) {
            return told(format!("{poles}p{amps}"), without_amps(rest));
        }
    }
    let Some(amps) = amps_alone(first) else {
        // `2p50amp`
        let lower = first.to_ascii_lowercase();
        let bare = lower.strip_suffix("amps").or_else(|| lower.strip_suffix("amp")).unwrap_or(&lower);
        let known = rating(bare).is_ok();
        return if known {
            told(if bare == lower { first.to_owned() } else { bare.to_owned() }, without_amps(rest))
        } else {
            text.to_owned()
        };
    };
    let rest = if is_amps(second) { after } else { rest };
    match poles(rest) {
        Some((poles, rest)) => told(format!("{poles}p{amps}"), rest),
        None => told(amps, rest),
    }
}

fn is_amps(word: &str) -> bool {
    ["amp", "amps", "ampere", "amperes"].iter().any(|amps| word.eq_ignore_ascii_case(amps))
}

fn is_pole(word: &str) -> bool {
    ["pole", "poles"].iter().any(|pole| word.eq_ignore_ascii_case(pole))
}

fn without_amps(text: &str) -> &str {
    let (word, rest) = split_word(text);
    if is_amps(word) { rest } else { text }
}

/// `20`, `20a`, `20amp`, `20!`: a rating that says nothing of poles.
fn amps_alone(word: &str) -> Option<String> {
    let lower = word.to_ascii_lowercase();
    let (plain, mark) = lower.strip_suffix('!').map_or((lower.as_str(), ""), |w| (w, "!"));
    let digits = ["amps", "amp", "a"].iter().find_map(|unit| plain.strip_suffix(unit)).unwrap_or(plain);
    (!digits.is_empty() && digits.bytes().all(|b| b.is_ascii_digit())).then(|| format!("{digits}{mark}"))
}

/// Poles by themselves at the beginning: `2p`, `2-pole`, `2 pole`; and what follows.
fn poles(text: &str) -> Option<(&str, &str)> {
    let (first, rest) = split_word(text);
    let (second, after) = split_word(rest);
    let number = first.get(..1).filter(|n| ["1", "2", "3"].contains(n))?;
    let lower = first[1..].to_ascii_lowercase();
    match lower.as_str() {
        "p" | "-p" | "pole" | "-pole" | "poles" => Some((number, rest)),
        "" if is_pole(second) => Some((number, after)),
        _ => None,
    }
}

fn split_word(text: &str) -> (&str, &str) {
    let (word, rest) = text.split_once(char::is_whitespace).unwrap_or((text, ""));
    (word, rest.trim())
}

fn rating(word: &str) -> Result<(usize, Amps, bool), Invalid> {
    let lower = word.to_ascii_lowercase();
    let (plain, as_found) = lower.strip_suffix('!').map_or((lower.as_str(), false), |w| (w, true));
    let (poles, amps) = plain.split_once('p').unwrap_or(("1", plain));
    let amps = amps.strip_suffix('a').unwrap_or(amps);
    let digits = |s: &str| !s.is_empty() && s.bytes().all(|b| b.is_ascii_digit());
    match (poles, amps.parse::<f64>()) {
        ("1" | "2" | "3", Ok(value)) if digits(amps) => {
            Ok((usize::from(poles.as_bytes()[0] - b'0'), Amps(value), as_found))
        }
        _ => Err(Invalid::new(
            "text",
            format!("\"{word}\" is not a rating: write 20, or 2p50 for two poles, or - for an empty space"),
        )),
    }
}

/// What may stand between the rating and the label.
enum Token {
    Device(Device),
    Handle(Handle),
    Tie,
    Cable(Gauge, Option<u8>, Metal),
    Neutral(Vec<Position>),
}

fn token(word: &str) -> Option<Token> {
    let lower = word.to_ascii_lowercase();
    Some(match lower.as_str() {
        "plain" => Token::Device(Device::Plain),
        "gfci" => Token::Device(Device::Gfci),
        "afci" => Token::Device(Device::Afci),
        "dual" => Token::Device(Device::Dual),
        "fuse" => Token::Device(Device::Fuse),
        "off" => Token::Handle(Handle::Off),
        "tripped" => Token::Handle(Handle::Tripped),
        "tie" => Token::Tie,
        other => match other.strip_prefix('~') {
            Some(at) => Token::Neutral(parse_poles(at).ok()?),
            None => cable(other)?,
        },
    })
}

/// `14-2`, `6-3al`, `1/0-3`, `#10`, `#2al`.
fn cable(word: &str) -> Option<Token> {
    let (word, metal) = word.strip_suffix("al").map_or((word, Metal::Copper), |w| (w, Metal::Aluminium));
    if let Some(size) = word.strip_prefix('#') {
        return Some(Token::Cable(size.parse().ok()?, None, metal));
    }
    let (size, count) = word.split_once('-')?;
    let conductors = count.parse::<u8>().ok().filter(|n| (1..=9).contains(n))?;
    Some(Token::Cable(size.parse().ok()?, Some(conductors), metal))
}

fn unquoted(text: &str) -> String {
    match text.strip_prefix('"').and_then(|t| t.strip_suffix('"')) {
        Some(inside) => inside.replace("\"\"", "\""),
        None => text.to_owned(),
    }
}

/// What stands in a space, as it would be typed; nothing where it is written in another space's field.
#[must_use]
pub fn write(house: &House, panel: &Panel, space: u16) -> String {
    if panel.empty.contains(&Position::whole(space)) {
        return "-".into();
    }
    let here = group(house, panel, space);
    match here.as_slice() {
        [] => String::new(),
        [one] if !one.is_half_size() => write_breaker(house, one),
        _ => write_halves(house, panel, space, &here),
    }
}

fn write_halves(house: &House, panel: &Panel, space: u16, here: &[&Breaker]) -> String {
    let spaces = here.iter().flat_map(|b| b.at.iter().map(|p| p.space)).collect::<BTreeSet<_>>().len();
    let halves: Vec<_> = halves_from(panel, space).take(2 * spaces).collect();
    let slots = |range: &[Position]| -> Option<String> {
        let mut parts = Vec::new();
        let mut i = 0;
        while i < range.len() {
            match here.iter().find(|b| b.at[0] == range[i]) {
                Some(b) if range[i..].starts_with(&b.at) => {
                    parts.push(write_breaker(house, b));
                    i += b.at.len();
                }
                None if !here.iter().any(|b| b.at.contains(&range[i])) => {
                    let free = panel.empty.iter().any(|empty| empty.covers(range[i]));
                    parts.push(if free { FREE } else { NOT_ENTERED }.into());
                    i += 1;
                }
                _ => return None,
            }
        }
        Some(parts.join(" / "))
    };
    if let Some(text) = slots(&halves) {
        return text;
    }
    if let [a, b, c, d] = halves.as_slice()
        && let Some(outer) = here.iter().find(|x| x.at == [*a, *d])
        && let Some(inner) = slots(&[*b, *c])
    {
        return format!("{} ({inner})", write_breaker(house, outer));
    }
    let named = here.iter().map(|b| format!("@{} {}", b.at_text(), write_breaker(house, b)));
    named.collect::<Vec<_>>().join(" / ")
}

/// The type as it is typed and filed.
#[must_use]
pub fn device_word(device: Device) -> &'static str {
    match device {
        Device::Plain => "plain",
        Device::Gfci => "gfci",
        Device::Afci => "afci",
        Device::Dual => "dual",
        Device::Fuse => "fuse",
    }
}

fn write_breaker(house: &House, b: &Breaker) -> String {
    let mut text = if b.at.len() > 1 { format!("{}p", b.at.len()) } else { String::new() };
    let _ = write!(text, "{}{}", b.amps.0, if is_as_found(house, b) { "!" } else { "" });
    if b.device != Device::Plain {
        let _ = write!(text, " {}", device_word(b.device));
    }
    let label = if b.label.is_empty() { String::new() } else { quoted(&b.label) };
    for part in [rest(house, b), label].iter().filter(|part| !part.is_empty()) {
        let _ = write!(text, " {part}");
    }
    text
}

/// The circuit of a breaker, where it is one that the notation can say.
fn circuit_of<'a>(house: &'a House, b: &Breaker) -> Option<&'a Circuit> {
    let circuits = house.circuits_of(b.id);
    if can_be_written(&circuits) { circuits.first().copied() } else { None }
}

/// True where it, or its wire, is recorded as found: `!` in the notation.
#[must_use]
pub fn is_as_found(house: &House, b: &Breaker) -> bool {
    b.as_found || circuit_of(house, b).is_some_and(|c| c.as_found)
}

/// What is written of a breaker between its type and its label: handle, tie, cable, shared neutral.
#[must_use]
pub fn rest(house: &House, b: &Breaker) -> String {
    let mut parts = Vec::new();
    match b.handle {
        Handle::On => {}
        Handle::Off => parts.push("off".into()),
        Handle::Tripped => parts.push("tripped".into()),
    }
    if b.trip == Trip::HandleTie {
        parts.push("tie".into());
    }
    if let Some(circuit) = circuit_of(house, b) {
        let hash = if circuit.conductors.is_none() { "#" } else { "" };
        parts.extend(circuit.cable().map(|cable| format!("{hash}{cable}")));
        let mate = circuit.neutral_of.and_then(|c| house.circuits.get(c));
        let mate = mate.and_then(|c| house.breakers.get(c.breaker));
        parts.extend(mate.map(|mate| format!("~{}", mate.at_text())));
    }
    parts.join(" ")
}

/// A label that would be read as something else is put in quotes.
fn quoted(label: &str) -> String {
    let beside = format!("20 {label}");
    let misread = token(split_word(label).0).is_some()
        || plain_part(&beside) != beside
        || label.contains(" / ")
        || label.starts_with('/')
        || label.ends_with('/')
        || label.contains('"')
        || (label.contains(" (") && label.ends_with(')'))
        || label.trim() != label
        || label.split_whitespace().collect::<Vec<_>>().join(" ") != label;
    if misread { format!("\"{}\"", label.replace('"', "\"\"")) } else { label.to_owned() }
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::change::Change;
    use crate::fixture::Fixture;

    fn typed(f: &mut Fixture, space: u16, text: &str) -> Result<String, Invalid> {
        let new = 1000 + MOST_NEW * u64::from(space);
        let change = Change::EnterSpace { panel: f.panel().id, space, text: text.into(), new, sure: true };
        f.house = f.house.apply(&change)?.house;
        Ok(write(&f.house, f.panel(), space))
    }

    // How people write it who never read of a notation.
    #[test]
    fn what_can_mean_but_one_thing_is_understood() {
        let mut f = Fixture::new(20);
        f.allow_tandems();
        for (text, means) in [
            ("20 amp kitchen", "20 kitchen"),
            ("20amp", "20"),
            ("20 AMPS", "20"),
            ("50 2p range", "2p50 range"),
            ("2p 50 range", "2p50 range"),
            ("2 pole 50 amp range", "2p50 range"),
            ("50 amp 2-pole range", "2p50 range"),
            ("2p50amp range", "2p50 range"),
            ("30A 2P dryer", "2p30 dryer"),
            ("15/15", "15 / 15"),
            ("15 / 20amp fridge", "15 / 20 fridge"),
            ("20 \"amp store\"", "20 \"amp store\""),
            ("15 gfci bath", "15 gfci bath"),
        ] {
            typed(&mut f, 1, "").unwrap();
            assert_eq!(typed(&mut f, 1, text).unwrap(), means, "{text}");
        }
    }

    // What may be a slip, or a label, is asked about once; said again it is taken as it is.
    #[test]
    fn what_may_mean_two_things_is_asked_about() {
        let mut f = Fixture::new(20);
        let ask = |f: &Fixture, text: &str| {
            let enter = Change::EnterSpace { panel: f.panel().id, space: 1, text: text.into(), new: 1000, sure: false };
            f.house.apply(&enter).err()
        };
        for (text, asks) in
            [("15 gfi bath", "write gfci"), ("7", "7 A is no usual rating"), ("21 hall", "no usual rating")]
        {
            let asked = ask(&f, text).unwrap();
            assert_eq!(asked.field, "text.sure");
            assert!(asked.message.contains(asks) && asked.message.contains("Enter again"), "{asked}");
        }
        for plain in ["15 gfci bath", "20 gfisher", "15 \"gfi bath\"", "2p50"] {
            assert_eq!(ask(&f, plain), None, "{plain}");
        }
        assert_eq!(typed(&mut f, 1, "15 gfi bath").unwrap(), "15 gfi bath");
    }

    #[test]
    fn what_is_typed_reads_back_the_same() {
        let mut f = Fixture::new(20);
        for (space, text) in [
            (1, "20"),
            (5, "2p50"),
            (2, "15 gfci kitchen lights"),
            (3, "-"),
            (4, "30 fuse"),
            (6, "15 \"dual socket\""),
            (8, "20 12-2 bath"),
            (10, "20 gfci off 12-2 bath"),
            (12, "2p20 tie 12-3 counter"),
            (9, "40 #8al shed"),
            (16, "30! fuse 14-2 kitchen"),
        ] {
            assert_eq!(typed(&mut f, space, text).unwrap(), text);
        }
        assert_eq!(typed(&mut f, 8, " 15A  AFCI  Bath ").unwrap(), "15 afci Bath");
    }

    #[test]
    fn what_cannot_be_read_says_what_would() {
        let mut f = Fixture::new(20);
        for text in ["kitchen", "2q50", "4p20", "20.5", "-20", "p20", "2p", "!", "20!!"] {
            let fault = typed(&mut f, 1, text).unwrap_err();
            assert_eq!(fault.field, "text", "{text}");
            assert!(fault.message.contains("2p50"), "{fault}");
        }
        assert_eq!(
            typed(&mut f, 1, "900").unwrap_err().to_string(),
            "breaker.amps: the breaker rating must be 1 to 400 A, not 900"
        );
        let sharing = typed(&mut f, 1, "20 12-3 ~9 counter").unwrap_err();
        assert!(sharing.to_string().contains("no other breaker stands there"), "{sharing}");
    }

    #[test]
    fn a_two_pole_needs_the_space_below() {
        let mut f = Fixture::new(20);
        typed(&mut f, 7, "15").unwrap();
        assert_eq!(typed(&mut f, 5, "2p50").unwrap_err().field, "breaker.at");
        assert_eq!(typed(&mut f, 19, "2p50").unwrap_err().field, "text");
    }

    #[test]
    fn typing_over_keeps_the_breaker_and_a_dash_empties_the_space() {
        let mut f = Fixture::new(20);
        typed(&mut f, 1, "20 bath").unwrap();
        typed(&mut f, 1, "15 hall").unwrap();
        assert_eq!(f.house.breakers.len(), 1);
        typed(&mut f, 1, "-").unwrap();
        assert!(f.house.breakers.is_empty() && f.panel().empty.contains(&Position::whole(1)));
        typed(&mut f, 1, "2p20").unwrap();
        assert!(f.panel().empty.is_empty());
        typed(&mut f, 1, "").unwrap();
        assert!(f.house.breakers.is_empty() && f.panel().empty.is_empty());
    }

    // handbook 1.2 [def]: four halves of two stacked spaces, top to bottom 1a 1b 3a 3b; the inner and the outer pair are
    // on two legs.
    #[test]
    fn half_size_breakers_are_typed_from_the_top_down() {
        let mut f = Fixture::new(20);
        f.allow_tandems();
        for (space, text, places) in [
            (1, "15 lights / 20 fridge", vec!["1a", "1b"]),
            (5, "15 a / 2p30 dryer / 20 b", vec!["5a", "5b-7a", "7b"]),
            (2, "2p50 range (2p30 dryer)", vec!["2a-4b", "2b-4a"]),
            (6, "2p50 range (15 a / -)", vec!["6a-8b", "6b"]),
            (10, "- / 15 attic", vec!["10b"]),
            (18, "15 cellar / ?", vec!["18a"]),
            (9, "15 / 2p20 / 2p30 / 15", vec!["9a", "9b-11a", "11b-13a", "13b"]),
            (14, "@14a-16a 2p20 tie bath / @14b 15 / @16b 20", vec!["14a-16a", "14b", "16b"]),
        ] {
            assert_eq!(typed(&mut f, space, text).unwrap(), text);
            let all = f.house.breakers_of(f.panel().id);
            let here: Vec<_> = all.iter().map(|b| b.at_text()).filter(|at| places.contains(&at.as_str())).collect();
            assert_eq!(here.len(), places.len(), "{text}: {here:?}");
        }
        let open: Vec<_> = f.house.not_entered(f.panel()).iter().map(ToString::to_string).collect();
        assert_eq!(open, ["3", "12", "15", "17", "18b", "19", "20"], "what is said to be free is known");
        assert_eq!(write(&f.house, f.panel(), 7), "", "it is written at 5");
        assert_eq!(written_at(&f.house, f.panel(), 7), Some(5));
        assert_eq!(typed(&mut f, 5, "2p40").unwrap(), "2p40");
        assert!(f.house.breaker_over(f.panel().id, "7b".parse().unwrap()).is_some_and(|b| b.at_text() == "5-7"));
        assert_eq!(typed(&mut f, 19, "2p50 (30)").unwrap_err().field, "text", "19 is the foot of its column");
    }

    #[test]
    fn typing_one_half_anew_keeps_the_other_breaker() {
        let mut f = Fixture::new(20);
        f.allow_tandems();
        typed(&mut f, 1, "15 lights / 20 fridge").unwrap();
        let ids: Vec<_> = f.house.breakers.iter().map(|b| b.id).collect();
        typed(&mut f, 1, "15 lights / 15 freezer").unwrap();
        assert_eq!(f.house.breakers.iter().map(|b| b.id).collect::<Vec<_>>(), ids);
        typed(&mut f, 1, "- / 15 freezer").unwrap();
        assert_eq!(f.house.breakers.iter().map(|b| b.id).collect::<Vec<_>>(), [ids[1]]);
    }

    #[test]
    fn a_shared_neutral_is_typed_once_and_names_the_circuit_it_comes_with() {
        let mut f = Fixture::new(20);
        typed(&mut f, 1, "20 12-3 counter left").unwrap();
        assert_eq!(typed(&mut f, 3, "20 12-3 ~1 counter right").unwrap(), "20 12-3 ~1 counter right");
        let first = f.house.breaker_at(f.panel().id, &[Position::whole(1)]).unwrap().id;
        let second = f.house.breaker_at(f.panel().id, &[Position::whole(3)]).unwrap().id;
        assert_eq!(f.house.circuits_of(second)[0].neutral_of, Some(f.house.circuits_of(first)[0].id));
        // Spaces 1 and 2 are on one leg (handbook 1.3 [def]).
        let one_leg = typed(&mut f, 2, "20 12-3 ~1").unwrap_err();
        assert!(one_leg.message.contains("same leg"), "{one_leg}");
        typed(&mut f, 3, "20 counter right").unwrap();
        assert_eq!(f.house.circuits_of(second)[0].neutral_of, None);
    }

    #[test]
    fn custom_numbers_are_followed() {
        let mut f = Fixture::new(4);
        let numbering = crate::base::position::Numbering::Custom(vec![11, 12, 21, 22]);
        f.house.panels.put(Panel { numbering, ..f.panel().clone() });
        typed(&mut f, 11, "2p30 dryer").unwrap();
        assert_eq!(f.house.breakers.iter().next().unwrap().at_text(), "11-12");
        assert!(typed(&mut f, 1, "20").unwrap_err().message.contains("there is no 1"));
    }

    #[test]
    fn columns_numbering_reaches_down_its_own_way() {
        let mut f = Fixture::new(20);
        let panel = Panel { numbering: crate::base::position::Numbering::Columns, ..f.panel().clone() };
        f.house.panels.put(panel);
        typed(&mut f, 5, "2p50").unwrap();
        assert_eq!(f.house.breakers.iter().next().unwrap().at_text(), "5-6");
        assert_eq!(typed(&mut f, 10, "2p50").unwrap_err().field, "text", "10 is the last of its column");
    }

    proptest::proptest! {
        #[test]
        fn anything_typed_is_read_or_refused_and_what_is_read_reads_back(
            text in "[ 0-9a-zA-Z/~()\"!-]{0,16}|[0-9]{1,3}!? (gfci |off |12-3 )?[a-z\"(/ )]{0,8}|(2p[0-9]{2}|[0-9]{2}|-)( / (2p[0-9]{2}|[0-9]{2}|-) [a-z(/ ]{0,4}){1,3}|2p30 [a-z]{0,3} \\(([0-9]{2}|-) / 20\\)",
            space in 1u16..=20
        ) {
            let mut f = Fixture::new(20);
            f.allow_tandems();
            if let Ok(shown) = typed(&mut f, space, &text) {
                let house = f.house.clone();
                proptest::prop_assert_eq!(typed(&mut f, space, &shown).unwrap(), shown);
                proptest::prop_assert_eq!(&f.house.breakers, &house.breakers);
            }
        }
    }
}
