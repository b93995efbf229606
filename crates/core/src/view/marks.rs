//! Where marks and their labels stand on a plan, whatever its scale: the screen and the print lay them out alike.
//!
//! A house is measured in inches, a mark in ems, the height of the text beside it: zooming in parts the marks and leaves
//! them as large as they are.

use serde::Serialize;
use utoipa::ToSchema;

use crate::base::units::Inches;
use crate::house::{Area, OpeningKind, Wall};

/// A place on a drawing: in inches of the house, and from there in ems.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, ToSchema)]
pub struct Place {
    /// To the east, in inches.
    pub x: f64,
    /// To the south, in inches.
    pub y: f64,
    /// From there, in ems: to the right, and down.
    pub em: [f64; 2],
}

impl Place {
    fn plus(self, x: f64, y: f64) -> Self {
        Self { em: [self.em[0] + x, self.em[1] + y], ..self }
    }

    /// Where it is drawn, with so many units an inch and an em of so many units.
    #[must_use]
    pub fn at(self, scale: f64, em: f64) -> (f64, f64) {
        (self.x * scale + self.em[0] * em, self.y * scale + self.em[1] * em)
    }
}

/// How a point's mark stands.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
pub struct PointMark {
    /// The middle of its symbol, or of the thing that is drawn as large as it is.
    pub middle: Place,
    /// Degrees that turn its symbol's upper side to the wall.
    pub turn: f64,
    /// What a big appliance takes up on the floor; it has no symbol.
    pub footprint: Option<Area>,
    /// Where the line of its tag begins.
    pub tag: Place,
    /// The upper left corner of the frame around its circuit's number.
    pub frame: Place,
    /// Width of that frame, in ems.
    pub frame_width: f64,
}

/// How a panel's mark stands.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
pub struct PanelMark {
    /// The upper left corner.
    pub corner: Place,
    /// Width and height, in ems.
    pub size: [f64; 2],
    /// Where its name stands,
    pub name: Place,
    /// and which end of the name that is.
    pub anchor: Anchor,
}

/// Which part of a text stands at its place, as SVG's `text-anchor` says it.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, ToSchema)]
#[serde(rename_all = "kebab-case")]
pub enum Anchor {
    /// Its beginning.
    Start,
    /// Its middle.
    Middle,
    /// Its end.
    End,
}

/// How an opening is drawn.
#[derive(Debug, Clone, PartialEq, Serialize, ToSchema)]
pub struct OpeningMark {
    /// A door's leaf and its swing, or the steps of stairs, as an SVG path in inches.
    pub path: String,
    /// Where it is said what stairs lead to, its middle, in inches.
    pub label: Option<[f64; 2]>,
}

/// A symbol's radius, in ems.
pub const RADIUS: f64 = 0.7;
/// Half of what a symbol takes up from the wall into the room: its lines reach over its circle.
const REACH: f64 = 1.5 * RADIUS;
/// Width of a letter of the tags' font.
const LETTER: f64 = 0.618;
/// Between a mark and its label, and between a tag and its number.
const GAP: f64 = 0.27;
/// What the frame is wider than its number,
const FRAME_ROOM: f64 = 0.55;
/// how far it stands above the line,
const FRAME_ABOVE: f64 = 0.91;
/// and its height.
pub const FRAME_HEIGHT: f64 = 1.18;
/// From the middle of small letters down to their line.
const TO_LINE: f64 = 0.36;
/// From one label of a box to the next.
const STACK: f64 = 1.36;
/// From one symbol to the next of a place.
const SIDE_BY_SIDE: f64 = 2.0 * RADIUS + 0.1;
/// A panel's long and short side.
const PANEL: [f64; 2] = [2.5, 0.73];

/// From a wall into the room.
fn inward(wall: Wall) -> (f64, f64) {
    match wall {
        Wall::North => (0.0, 1.0),
        Wall::South => (0.0, -1.0),
        Wall::West => (1.0, 0.0),
        Wall::East => (-1.0, 0.0),
    }
}

fn turn(wall: Wall) -> f64 {
    match wall {
        Wall::North => 0.0,
        Wall::East => 90.0,
        Wall::South => 180.0,
        Wall::West => 270.0,
    }
}

/// How many stand at a place before one: labels of all stand below one another; symbols of those that are not in the same box
/// side by side along the wall.
#[derive(Debug, Clone, Copy, Default)]
pub(super) struct Earlier {
    pub labels: usize,
    pub symbols: usize,
}

/// The mark of a point at a place, with the thing's size along the wall and into the room.
pub(super) fn point(
    at: (f64, f64),
    wall: Option<Wall>,
    footprint: Option<[f64; 2]>,
    before: Earlier,
    label: (&str, &str),
) -> PointMark {
    let (dx, dy) = wall.map_or((0.0, 0.0), inward);
    let foot = footprint.map(|[along, into]| if dx == 0.0 { (along, into) } else { (into, along) });
    let (middle, footprint, beside) = match foot {
        Some((w, d)) => {
            let (x, y) = (at.0 + dx * w / 2.0, at.1 + dy * d / 2.0);
            let area = Area { x: Inches(x - w / 2.0), y: Inches(y - d / 2.0), width: Inches(w), depth: Inches(d) };
            // Its far side is where the label begins; without a wall it stands below.
            let far = Place { x: x + dx * w / 2.0, y: y + if dy < 0.0 { -d } else { d } / 2.0, em: [0.0; 2] };
            (Place { x, y, em: [0.0; 2] }, Some(area), if dx == 0.0 { Place { x, ..far } } else { Place { y, ..far } })
        }
        None => {
            let middle = Place { x: at.0, y: at.1, em: [dx * REACH, dy * REACH] };
            let down = if dy < 0.0 { -REACH } else { REACH };
            (middle, None, if dx == 0.0 { middle.plus(0.0, down) } else { middle.plus(dx * REACH, 0.0) })
        }
    };
    let (tag, number) = label;
    let tag_width = tag.chars().count() as f64 * LETTER;
    let frame_width = number.chars().count() as f64 * LETTER + FRAME_ROOM;
    let whole = tag_width + GAP + frame_width;
    let up = dy < 0.0;
    // Several in one box: their labels stand below one another, away from the wall.
    let stack = before.labels as f64 * if up { -STACK } else { STACK };
    let left = match dx {
        dx if dx > 0.0 => GAP,
        dx if dx < 0.0 => -GAP - whole,
        _ => -whole / 2.0,
    };
    let line = match (dx == 0.0, up) {
        (false, _) => TO_LINE,
        (true, true) => -TO_LINE,
        (true, false) => 1.0,
    };
    let tag = beside.plus(left, line + stack);
    let frame = tag.plus(tag_width + GAP, -FRAME_ABOVE);
    let along = before.symbols as f64 * SIDE_BY_SIDE;
    let middle = if dx == 0.0 { middle.plus(along, 0.0) } else { middle.plus(0.0, along) };
    PointMark { middle, turn: wall.map_or(0.0, turn), footprint, tag, frame, frame_width }
}

/// The mark of a panel; one without a wall is drawn as if it hung north.
pub(super) fn panel(at: (f64, f64), wall: Option<Wall>) -> PanelMark {
    let (dx, dy) = inward(wall.unwrap_or(Wall::North));
    let [long, short] = PANEL;
    let size = if dx == 0.0 { [long, short] } else { [short, long] };
    let middle = Place { x: at.0, y: at.1, em: [dx * short / 2.0, dy * short / 2.0] };
    let anchor = match dx {
        dx if dx > 0.0 => Anchor::Start,
        dx if dx < 0.0 => Anchor::End,
        _ => Anchor::Middle,
    };
    let name = middle.plus(dx * (short / 2.0 + 2.0 * GAP), dy * 1.3 + TO_LINE);
    PanelMark { corner: middle.plus(-size[0] / 2.0, -size[1] / 2.0), size, name, anchor }
}

/// Steps that stairs are drawn with.
const STEPS: u8 = 5;

/// How an opening from one place of its wall to another is drawn.
pub(super) fn opening(kind: OpeningKind, wall: Wall, from: [f64; 2], to: [f64; 2]) -> OpeningMark {
    let (dx, dy) = inward(wall);
    let ([x1, y1], [x2, y2]) = (from, to);
    let length = (x2 - x1).hypot(y2 - y1);
    match kind {
        OpeningKind::Window | OpeningKind::Passage => OpeningMark { path: String::new(), label: None },
        OpeningKind::Door => {
            // It swings into the room, hinged where the opening begins.
            let sweep = u8::from(matches!(wall, Wall::North | Wall::East));
            let (ex, ey) = (x1 + dx * length, y1 + dy * length);
            let path = format!("M{x1} {y1}L{ex} {ey}A{length} {length} 0 0 {} {x2} {y2}", 1 - sweep);
            OpeningMark { path, label: None }
        }
        OpeningKind::Stairs => {
            let step = |n: u8| {
                let away = f64::from(n) * length / f64::from(STEPS + 1);
                let (x, y) = (dx * away, dy * away);
                format!("M{} {}L{} {}", x1 + x, y1 + y, x2 + x, y2 + y)
            };
            let label = [(x1 + x2) / 2.0 + dx * length, (y1 + y2) / 2.0 + dy * length];
            OpeningMark { path: (0..STEPS).map(step).collect(), label: Some(label) }
        }
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    const WALLS: [Wall; 4] = [Wall::North, Wall::East, Wall::South, Wall::West];

    /// What a label takes up at a scale: left, top, right, bottom.
    fn label(mark: &PointMark, scale: f64, em: f64) -> [f64; 4] {
        let ((left, _), (right, top)) = (mark.tag.at(scale, em), mark.frame.at(scale, em));
        [left, top, right + mark.frame_width * em, top + FRAME_HEIGHT * em]
    }

    fn apart(a: [f64; 4], b: [f64; 4]) -> bool {
        a[2] <= b[0] + 1e-9 || b[2] <= a[0] + 1e-9 || a[3] <= b[1] + 1e-9 || b[3] <= a[1] + 1e-9
    }

    fn at_the_same_place(wall: Wall, footprint: Option<[f64; 2]>, before: Earlier) -> PointMark {
        point((100.0, 80.0), Some(wall), footprint, before, ("K12", "5-7"))
    }

    #[test]
    fn symbols_of_one_place_that_are_not_in_one_box_are_all_seen() {
        let (scale, em) = (1.5, 9.0);
        for wall in WALLS {
            let middles: Vec<_> = (0..3)
                .map(|nth| at_the_same_place(wall, None, Earlier { labels: nth, symbols: nth }).middle.at(scale, em))
                .collect();
            for (one, other) in [(0, 1), (1, 2), (0, 2)] {
                let (a, b) = (middles[one], middles[other]);
                assert!((a.0 - b.0).hypot(a.1 - b.1) >= 2.0 * RADIUS * em, "{wall:?}: {middles:?}");
            }
        }
    }

    #[test]
    fn a_mark_stands_in_the_room_before_its_wall_and_its_labels_cover_neither_it_nor_each_other() {
        let (scale, em) = (1.5, 9.0);
        for wall in WALLS {
            let (dx, dy) = inward(wall);
            for footprint in [None, Some([30.0, 26.0])] {
                let marks: Vec<_> =
                    (0..4).map(|nth| at_the_same_place(wall, footprint, Earlier { labels: nth, symbols: 0 })).collect();
                let (x, y) = marks[0].middle.at(scale, em);
                assert!((x - 150.0) * dx + (y - 120.0) * dy > 0.0, "{wall:?}: into the room");
                let reach = REACH * em * 0.99;
                let body = marks[0].footprint.map_or([x - reach, y - reach, x + reach, y + reach], |a| {
                    [a.x.0, a.y.0, a.right(), a.bottom()].map(|inches| inches * scale)
                });
                for (n, mark) in marks.iter().enumerate() {
                    let here = label(mark, scale, em);
                    assert!(apart(here, body), "{wall:?} {footprint:?} {n}: {here:?} over {body:?}");
                    let others = marks[..n].iter().map(|m| label(m, scale, em));
                    assert!(others.into_iter().all(|other| apart(here, other)), "{wall:?} {n}");
                }
            }
        }
    }

    #[test]
    fn a_door_swings_into_its_room_about_the_end_it_is_hinged_at() {
        for (wall, from, to, tip, turn) in [
            (Wall::North, [0.0, 0.0], [30.0, 0.0], "30 0", "0 0 0"),
            (Wall::South, [0.0, 90.0], [30.0, 90.0], "30 90", "0 0 1"),
        ] {
            let path = opening(OpeningKind::Door, wall, from, to).path;
            assert!(path.contains(turn) && path.ends_with(tip), "{path}");
        }
        assert_eq!(opening(OpeningKind::Door, Wall::West, [0.0, 0.0], [0.0, 30.0]).path, "M0 0L30 0A30 30 0 0 1 0 30");
    }

    #[test]
    fn zooming_in_parts_marks_and_leaves_them_as_large() {
        let one = point((0.0, 0.0), Some(Wall::North), None, Earlier::default(), ("K1", "1"));
        let two = point((48.0, 0.0), Some(Wall::North), None, Earlier::default(), ("K2", "1"));
        let gap = |scale: f64| two.middle.at(scale, 10.0).0 - one.middle.at(scale, 10.0).0;
        assert_eq!((gap(1.0), gap(2.0)), (48.0, 96.0));
        let down = |scale: f64| one.tag.at(scale, 10.0).1;
        assert_eq!(down(1.0), down(2.0), "on the wall itself all else is in ems");
    }
}
