//! The panel's face: where everything stands, for whoever draws it.

use serde::Serialize;
use utoipa::ToSchema;

use crate::base::position::{Column, Half, Leg, Position};
use crate::base::units::Amps;
use crate::code::STANDARD_RATINGS;
use crate::directory::{self, OnCard, Standing};
use crate::edit::notation;
use crate::house::{Breaker, BreakerId, Device, Frame, Handle, Held, House, Job, Panel, PanelId, Trip};
use crate::rules::{self, Hit};
use crate::trace::Beliefs;

/// A panel as it is to be drawn, spaces in the order of their numbers.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
pub struct Face {
    /// The panel.
    pub panel: PanelId,
    /// Its name.
    pub name: String,
    /// How many rows it has.
    pub rows: u16,
    /// Its main breaker's rating.
    pub main: Option<Amps>,
    /// It is off as a whole for work, by its main or what is before it. What comes in at its lugs may be live all the same.
    pub off: bool,
    /// That was read and counts still: it is drawn so. Off alone is no proof.
    pub dead: bool,
    /// All its spaces.
    pub spaces: Vec<FaceSpace>,
    /// All its breakers.
    pub breakers: Vec<FaceBreaker>,
    /// Ratings that breakers come in.
    pub ratings: Vec<Amps>,
    /// Work that keeps it off as a whole, in words.
    pub work: Vec<String>,
}

/// One space.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
pub struct FaceSpace {
    /// The number engraved beside it.
    pub space: u16,
    /// Left or right.
    pub column: Column,
    /// Row from 0 at the top.
    pub row: u16,
    /// The leg its finger is on.
    pub leg: Leg,
    /// Marked as looked at and empty.
    pub empty: bool,
    /// Halves that were looked at and are free.
    #[schema(value_type = Vec<String>)]
    pub free: Vec<Position>,
    /// What stands there, in the short notation; empty text where nothing is entered.
    pub text: String,
    /// The space in whose field this one is written: a breaker reaches down into it, or half-size ones tie them.
    pub covered_by: Option<u16>,
}

/// One breaker.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
pub struct FaceBreaker {
    /// Its id.
    pub breaker: BreakerId,
    /// Its poles as written.
    pub at: String,
    /// Left or right.
    pub column: Column,
    /// Top edge, in half rows from the top.
    pub top: u16,
    /// Height in half rows.
    pub height: u16,
    /// Rating.
    pub amps: Amps,
    /// What it is.
    pub device: Device,
    /// Where its handle stands.
    pub handle: Handle,
    /// The legs of its poles.
    pub legs: Vec<Leg>,
    /// Label as found.
    pub label: String,
    /// What it feeds in the words of the card, from the fullest form to the shortest: whoever draws it takes the first that has
    /// room. A question mark stands after what is not proven. Nothing where nothing is believed.
    pub words: Vec<String>,
    /// How far they can be relied on.
    pub standing: Standing,
    /// What surely hangs on it, with tags,
    pub surely: String,
    /// and what probably does.
    pub probably: String,
    /// The panel it feeds.
    pub feeds: Option<String>,
    /// The body it is part of.
    pub frame: Frame,
    /// How its poles open together.
    pub trip: Trip,
    /// Its cable, where it has one circuit of known size.
    pub cable: String,
    /// It really stands there, or its wire does, though it should not.
    pub as_found: bool,
    /// What the short notation says of it between its type and its label: `off tie 12-3 ~1`.
    pub rest: String,
    /// What does not fit, in words.
    pub marks: Vec<String>,
    /// The kind of job that mends the gravest of them, where it is one.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub mend: Option<&'static str>,
    /// Its device where there is room for a letter or two.
    pub mark: &'static str,
    /// Who holds it off, in words: nobody else moves its handle.
    pub held: Option<String>,
    /// Its old label tells too little: why.
    pub poor: Option<String>,
}

/// The face of a panel.
#[must_use]
pub fn face(house: &House, beliefs: &Beliefs, panel: &Panel) -> Face {
    let (standing, fed) = (rules::standing(house), OnCard::new(house, beliefs));
    let held = house.held();
    let off: Vec<&Job> =
        house.jobs.iter().filter(|job| is_open(job) && job.surely_off().0.contains(&panel.id)).collect();
    let breaker = |b| FaceBreaker {
        held: held.iter().find(|held| held.holds(b)).map(|held| held.who_works(house)),
        ..breaker(house, panel, b, &standing, (&fed, beliefs.progress.is_settled()))
    };
    Face {
        panel: panel.id,
        name: panel.name.clone(),
        rows: panel.spaces.div_ceil(2),
        main: panel.main,
        off: !off.is_empty(),
        dead: off.iter().any(|job| job.panel == panel.id && job.dead_since().is_some()),
        spaces: panel.numbers().into_iter().map(|s| space(house, panel, s)).collect(),
        breakers: house.breakers_of(panel.id).into_iter().map(breaker).collect(),
        ratings: STANDARD_RATINGS.iter().copied().map(Amps).collect(),
        work: house
            .jobs
            .iter()
            .filter(|job| is_open(job))
            .filter_map(|job| work(panel, job))
            .chain(
                held.iter().filter(|held| is_before(house, panel, held)).map(|held| {
                    format!("What feeds it is off: {}. It comes on when they say so", held.who_works(house))
                }),
            )
            .collect(),
    }
}

/// It goes on, or was given up with things left as they were.
fn is_open(job: &Job) -> bool {
    job.ended.is_none() || job.left_open
}

/// What feeds a panel is off for somebody's work elsewhere.
fn is_before(house: &House, panel: &Panel, held: &Held) -> bool {
    held.panel != panel.id && panel.fed_by.is_some_and(|feeder| held.dead(house).contains(&feeder))
}

/// What a job keeps off as a whole; that it is under way is told at the head of every page.
fn work(panel: &Panel, job: &Job) -> Option<String> {
    let how = match (job.left_open, job.stopped.is_some()) {
        (true, _) => "given up",
        (false, true) => "stopped",
        (false, false) => "under way",
    };
    let (off, left) = (job.surely_off().0.contains(&panel.id), job.keeps_off().0.contains(&panel.id));
    match (off, left) {
        (true, _) => Some(format!("OFF as a whole: {} ({how})", job.title)),
        (false, true) => Some(format!("Left off, and may have come on since: {} ({how})", job.title)),
        (false, false) => None,
    }
}

fn space(house: &House, panel: &Panel, space: u16) -> FaceSpace {
    let (column, row) = panel.place(space);
    FaceSpace {
        space,
        column,
        row,
        leg: panel.leg(Position::whole(space)),
        empty: panel.empty.contains(&Position::whole(space)),
        free: panel.empty.iter().copied().filter(|p| p.space == space && p.half != Half::Whole).collect(),
        text: notation::write(house, panel, space),
        covered_by: notation::written_at(house, panel, space),
    }
}

fn breaker(
    house: &House,
    panel: &Panel,
    b: &Breaker,
    standing: &[Hit],
    (fed, settled): (&OnCard<'_>, bool),
) -> FaceBreaker {
    let line = fed.line(b);
    let (surely, probably) = fed.tagged(b);
    let (top, height) = panel.extent(&b.at);
    let circuits = house.circuits_of(b.id);
    let cable = if let [one] = circuits.as_slice() { one.cable() } else { None };
    let marks = standing.iter().filter(|hit| hit.concerns(|other| other == b.id));
    FaceBreaker {
        breaker: b.id,
        at: b.at_text(),
        column: panel.place(b.at[0].space).0,
        top,
        height,
        amps: b.amps,
        device: b.device,
        handle: b.handle,
        legs: b.at.iter().map(|p| panel.leg(*p)).collect(),
        label: b.label.clone(),
        standing: line.standing(settled),
        words: line.short,
        surely,
        probably,
        feeds: house.panel_fed_by(b.id).map(|p| p.name.clone()),
        frame: b.frame(),
        trip: b.trip,
        cable: cable.unwrap_or_default(),
        as_found: notation::is_as_found(house, b),
        rest: notation::rest(house, b),
        mend: marks.clone().find_map(|hit| hit.rule.job),
        marks: marks.map(|hit| hit.said(house)).collect(),
        mark: b.device.mark(),
        held: None,
        poor: directory::poor_label(house, b),
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::fixture::Fixture;
    use crate::house::{PointKind, Seen};
    use crate::trace::beliefs;

    // As on the card: proven in words, unproven with its question mark, and of what nothing is believed no words at all.
    #[test]
    fn a_breaker_says_in_words_what_it_feeds_and_how_sure_that_is() {
        let mut f = Fixture::new(4);
        let (one, two) = (f.breaker("1", 20.0, "hall"), f.breaker("2", 20.0, "stove"));
        f.breaker("3", 15.0, "");
        f.breaker("4", 15.0, "");
        let kitchen = f.room("Kitchen");
        let (disposer, lamp) = (f.point("K1", kitchen, PointKind::Appliance), f.point("K2", kitchen, PointKind::Light));
        f.name(disposer, "disposer");
        for _ in 0..2 {
            f.see(disposer, &[one], Seen::Dead);
            f.see(disposer, &[two], Seen::Live);
        }
        let said = |f: &Fixture, nth: usize| {
            let face = face(&f.house, &beliefs(&f.house), f.panel());
            let b = face.breakers[nth].clone();
            (b.words, b.standing, b.surely, b.probably)
        };
        let (words, standing, surely, _) = said(&f, 0);
        assert_eq!((words.first().map(String::as_str), standing), (Some("Kitchen disposer"), Standing::Proven));
        assert_eq!((words.contains(&"Disposer".to_owned()), surely.as_str()), (true, "Kitchen disposer (K1)"));
        assert_eq!(said(&f, 1), (Vec::new(), Standing::Unproven, String::new(), String::new()));
        f.see(lamp, &[two], Seen::Dead);
        let (words, standing, _, probably) = said(&f, 1);
        assert_eq!(
            (words[0].as_str(), standing, probably.as_str()),
            ("Kitchen light?", Standing::Unproven, "Kitchen light (K2)")
        );
    }

    #[test]
    fn a_two_pole_breaker_covers_the_space_below_and_has_both_legs() {
        let mut f = Fixture::new(20);
        f.breaker("5-7", 50.0, "range");
        f.breaker("6", 20.0, "");
        let face = face(&f.house, &beliefs(&f.house), f.panel());
        let range = &face.breakers[0];
        assert_eq!((range.top, range.height, range.column), (4, 4, Column::Left));
        assert_eq!(range.legs, [Leg::A, Leg::B]);
        assert_eq!(face.spaces[6].covered_by, Some(5));
        assert_eq!(face.spaces[4].covered_by, None);
        assert_eq!(face.spaces[4].text, "2p50 range");
    }

    #[test]
    fn half_size_breakers_share_a_row() {
        let mut f = Fixture::new(20);
        f.allow_tandems();
        f.breaker("1b-3a", 30.0, "");
        f.breaker("1a", 15.0, "");
        let face = face(&f.house, &beliefs(&f.house), f.panel());
        let spans: Vec<_> = face.breakers.iter().map(|b| (b.at.as_str(), b.top, b.height)).collect();
        assert_eq!(spans, [("1a", 0, 1), ("1b-3a", 1, 2)]);
    }
}
