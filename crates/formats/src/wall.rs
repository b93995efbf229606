//! The wall sheet: a floor's plan beside the table of circuits, which ground-fault device kills what, where the main is, what stays
//! live. (handbook 4)

use jiff::civil::Date;
use wayfinder_core::directory::{Card, CardEntry, Standing, WallSheet};
use wayfinder_core::house::Lengths;
use wayfinder_core::view::floor::PlanView;

use crate::card::Style;
use crate::draw::Print;
use crate::plan::{self, Scale};
use crate::sheet::{Paper, To};

/// A sheet of 17 by 11 in, lying: it shrinks to A3 or Letter without loss of what can be read at arm's length.
const PAGE: (f64, f64) = (1224.0, 792.0);
const MARGIN: f64 = 34.0;
const HEAD: f64 = 30.0;
/// Width of a column of words, and white beside it.
const COLUMN: f64 = 232.0;
const GAP: f64 = 14.0;
const TEXT: f64 = 7.6;

/// A page for each drawn floor; without any, one with the words alone.
#[must_use]
pub fn print(sheet: &WallSheet, floors: &[PlanView], lengths: Lengths, date: Option<Date>) -> Print {
    let drawn: Vec<(&PlanView, String)> = floors
        .iter()
        .filter_map(|view| Some((view, plan::svg(view, &sheet.house, lengths, Scale::Fit, date).ok()?)))
        .collect();
    let mut pages: Vec<String> =
        drawn.iter().map(|(view, svg)| page(sheet, &format!("floor {}", view.floor), Some(svg), date)).collect();
    if pages.is_empty() {
        pages.push(page(sheet, "no floor is drawn yet", None, date));
    }
    Print { title: format!("Wall sheet: {}", sheet.house), pages }
}

/// Words in columns, from the top of one to the top of the next; what has no room any more is counted.
struct Columns<'a> {
    paper: &'a mut Paper,
    left: f64,
    y: f64,
    columns: usize,
    missed: usize,
}

impl Columns<'_> {
    fn room(&mut self, needs: f64) -> bool {
        if self.y + needs > PAGE.1 - MARGIN {
            if self.columns <= 1 {
                return false;
            }
            self.columns -= 1;
            self.left += COLUMN + GAP;
            self.y = MARGIN + HEAD;
        }
        true
    }

    fn head(&mut self, said: &str) {
        if self.room(4.0 * TEXT) {
            self.y += TEXT * 1.5;
            self.paper.words((self.left, self.y), Style::Strong, TEXT + 1.6, COLUMN, To::Left, said);
            self.y += TEXT * 1.4;
        }
    }

    fn line(&mut self, style: Style, said: &str) {
        if self.room(2.0 * TEXT) {
            self.y = self.paper.paragraph((self.left, self.y), style, TEXT, COLUMN, said);
        } else {
            self.missed += 1;
        }
    }

    fn entry(&mut self, entry: &CardEntry) {
        if !self.room(2.4 * TEXT) {
            self.missed += 1;
            return;
        }
        self.paper.words((self.left, self.y), Style::Number, TEXT, 34.0, To::Left, &entry.at);
        let (style, said) = feeds(entry);
        let amps = entry.amps.map_or_else(String::new, |amps| format!("{amps} {}", entry.protection));
        self.paper.words((self.left + 34.0, self.y), Style::Number, TEXT - 0.6, 38.0, To::Left, amps.trim());
        self.y = self.paper.paragraph((self.left + 72.0, self.y), style, TEXT, COLUMN - 72.0, &said);
    }
}

/// What a line of the table says, and how sure it is.
fn feeds(entry: &CardEntry) -> (Style, String) {
    match entry.standing {
        Standing::Proven => (Style::Plain, entry.feeds.clone()),
        Standing::Partly => (Style::Slanted, format!("{}; ? {}", entry.feeds, entry.probably)),
        Standing::Unproven if !entry.probably.is_empty() => (Style::Slanted, format!("? {}", entry.probably)),
        Standing::Unproven if entry.found_label.is_empty() => (Style::Slanted, "not traced".to_owned()),
        Standing::Unproven => (Style::Slanted, format!("not traced; old label: {}", entry.found_label)),
        Standing::NothingFound => (Style::Slanted, "nothing found on it".to_owned()),
        Standing::Empty => (Style::Plain, "empty".to_owned()),
        Standing::NotEntered => (Style::Slanted, "not entered".to_owned()),
    }
}

fn page(sheet: &WallSheet, floor: &str, plan: Option<&str>, date: Option<Date>) -> String {
    let mut paper = Paper::new(PAGE, &format!("Wall sheet: {}", sheet.house));
    let wide = PAGE.0 - 2.0 * MARGIN;
    paper.words(
        (MARGIN, MARGIN + 14.0),
        Style::Strong,
        18.0,
        wide * 0.7,
        To::Left,
        &format!("{}: {floor}", sheet.house),
    );
    let day = date.map_or_else(String::new, |date| format!("{date}, "));
    let right = format!("{day}map revision {}. Whatever it says, test before you touch.", sheet.revision);
    paper.words((MARGIN + wide * 0.5, MARGIN + 12.0), Style::Plain, 9.0, wide * 0.5, To::Right, &right);
    // The plan has what the words leave: one column of them where that is enough.
    let columns = match plan {
        Some(_) if beside(sheet, &mut Paper::new(PAGE, ""), 0.0, 1) == 0 => 1,
        Some(_) => 2,
        None => 4,
    };
    let words = columns as f64 * (COLUMN + GAP) - GAP;
    let left = if plan.is_some() { MARGIN + wide - words } else { MARGIN };
    if let Some(plan) = plan {
        let room = (wide - words - GAP, PAGE.1 - 2.0 * MARGIN - HEAD);
        paper.drawing((MARGIN, MARGIN + HEAD), room, plan);
    }
    let missed = beside(sheet, &mut paper, left, columns);
    if missed > 0 {
        let said = format!("{missed} lines have no room here: they stand on the cards.");
        paper.words((left, PAGE.1 - MARGIN + 8.0), Style::Strong, TEXT, words, To::Left, &said);
    }
    paper.done()
}

/// The words in their columns; gives how many lines had no room.
fn beside(sheet: &WallSheet, paper: &mut Paper, left: f64, columns: usize) -> usize {
    let mut beside = Columns { paper, left, y: MARGIN + HEAD, columns, missed: 0 };
    beside.head("All off");
    sheet.mains.iter().for_each(|line| beside.line(Style::Plain, line));
    beside.head("Stays live whatever is off");
    sheet.stays_live.iter().for_each(|line| beside.line(Style::Strong, line));
    beside.head("Ground-fault buttons; each kills, as entered");
    for device in &sheet.devices {
        beside.line(Style::Strong, &format!("{}:", device.button));
        beside.line(Style::Plain, &device.kills);
    }
    if sheet.devices.is_empty() {
        beside.line(Style::Plain, "No ground-fault device is entered.");
    }
    for card in &sheet.cards {
        table(&mut beside, card);
    }
    beside.missed
}

fn table(beside: &mut Columns<'_>, card: &Card) {
    beside.head(&format!("Panel {}", card.panel));
    beside.line(Style::Plain, &format!("{}.", card.fed_from));
    // Bare spaces tell nothing on a wall.
    let bare = |entry: &&CardEntry| !matches!(entry.standing, Standing::Empty | Standing::NotEntered);
    card.entries.iter().filter(bare).for_each(|entry| beside.entry(entry));
}

#[cfg(test)]
#[allow(clippy::unwrap_used, reason = "a test that cannot go on fails")]
mod tests {
    use wayfinder_core::House;
    use wayfinder_core::base::position::parse_poles;
    use wayfinder_core::base::units::Amps;
    use wayfinder_core::directory::wall_sheet;
    use wayfinder_core::house::{Breaker, BreakerId, Panel, PanelId};
    use wayfinder_core::trace::beliefs;

    use super::*;

    fn printed(panels: u64) -> Print {
        let mut house = House::new("Quill Cottage");
        for panel in 1..=panels {
            house.panels.put(Panel::new(PanelId(panel), format!("Part {panel}"), 42));
            for space in 1..=42_u64 {
                let at = parse_poles(&space.to_string()).unwrap();
                let label = format!("an old label of panel {panel} that is long enough for two lines, {space}");
                let breaker = Breaker::new(BreakerId(panel * 100 + space), PanelId(panel), at, Amps(20.0));
                house.breakers.put(Breaker { label, ..breaker });
            }
        }
        print(&wall_sheet(&house, &beliefs(&house)), &[], Lengths::FeetInches, None)
    }

    #[test]
    fn without_a_drawn_floor_the_words_stand_alone() {
        let sheet = printed(1);
        let words = sheet.pages.concat();
        for said in ["no floor is drawn yet", "Panel Part 1", "before each main", "an old label of panel 1", ">42<"] {
            assert!(words.contains(said), "{said}");
        }
        assert!(!words.contains("have no room here"));
    }

    #[test]
    fn what_has_no_room_is_counted_and_not_left_out_in_silence() {
        let words = printed(5).pages.concat();
        assert!(words.contains("lines have no room here: they stand on the cards"));
    }
}
