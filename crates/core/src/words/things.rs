//! Points in words, by room: `Kitchen counter receptacles, dishwasher; Hall light`. And the same shortened by rule:
//! `Kitchen counter +2`, `Dishwasher`.

use std::cmp::Reverse;
use std::collections::{BTreeMap, BTreeSet};

use crate::house::{House, Point, PointKind, RoomId, tag_key};
use crate::words::short::{abbreviated, capital};

/// Like points of one room.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct Group {
    /// Their room; nothing for a panel that hangs there.
    pub room: Option<RoomId>,
    /// What they are: `counter receptacles`.
    thing: String,
    /// The same without its kind, where that is clear in a few words: `counter`.
    brief: String,
    /// What they are, as a list knows it.
    pub kind: PointKind,
    /// Their tags, in their order.
    pub tags: Vec<String>,
    /// Its name alone tells which of the house's it is.
    alone: bool,
    /// They surely hang there.
    pub sure: bool,
}

/// Names tell what a thing is up to one of these; the rest tells where (`counter by the sink`).
const WHERE: &[&str] = &["by", "under", "over", "at", "in", "on", "near", "of", "beside", "behind", "to", "for"];
/// An appliance tells more of a circuit than an outlet does: it counts as so many points where one has to stand for all.
const APPLIANCE: usize = 3;

/// Like points together, rooms in the order of the walk.
#[must_use]
pub fn groups(house: &House, points: &[&Point], sure: bool) -> Vec<Group> {
    let mut like: BTreeMap<_, Vec<&Point>> = BTreeMap::new();
    let mut sorted = points.to_vec();
    sorted.sort_by_cached_key(|p| (house.room_order(p.room), tag_key(&p.tag)));
    for point in sorted {
        let named = goes_by_name(point);
        let name = if named { point.name.clone() } else { String::new() };
        like.entry((house.room_order(point.room), !named, point.kind, name)).or_default().push(point);
    }
    like.into_values().map(|points| group(house, &points, sure)).collect()
}

/// What is called by its name and not by its kind.
fn goes_by_name(point: &Point) -> bool {
    matches!(point.kind, PointKind::Appliance | PointKind::Alarm | PointKind::Other) && !point.name.is_empty()
}

fn group(house: &House, points: &[&Point], sure: bool) -> Group {
    let (first, several) = (points[0], points.len() > 1);
    let brief = if goes_by_name(first) { String::new() } else { common(points) };
    let thing = if goes_by_name(first) {
        if several { format!("{}s", first.name) } else { first.name.clone() }
    } else {
        of_kind(first, &brief, several)
    };
    let namesakes = || house.points.iter().filter(|p| p.name.eq_ignore_ascii_case(&first.name)).count();
    // "Kitchen light" says one where there are three, "Kitchen wall" says nothing.
    let clear = !brief.contains(one(first.kind)) && !brief.ends_with("wall");
    let brief = if clear { brief } else { String::new() };
    Group {
        room: Some(first.room),
        alone: goes_by_name(first) && namesakes() == 1,
        kind: first.kind,
        tags: points.iter().map(|p| p.tag.clone()).collect(),
        thing,
        brief,
        sure,
    }
}

/// `counter receptacles`, `receptacle by the stairs`, `ceiling light`, `lights`.
fn of_kind(first: &Point, brief: &str, several: bool) -> String {
    let kind = if several { many(first.kind) } else { one(first.kind) };
    if brief.is_empty() {
        return if several || first.name.is_empty() { kind.to_owned() } else { format!("{kind} {}", first.name) };
    }
    match brief.strip_suffix('s').unwrap_or(brief).strip_suffix(one(first.kind)) {
        // The name has its kind in it already.
        Some(which) if brief.ends_with('s') => format!("{which}{}", many(first.kind)),
        Some(which) => format!("{which}{kind}"),
        None => format!("{brief} {kind}"),
    }
}

/// `counter receptacle by the sink, upper half`.
fn whole(point: &Point) -> String {
    let what = stem(&point.name).join(" ");
    if goes_by_name(point) {
        return point.name.clone();
    }
    let rest = if what.is_empty() { "" } else { point.name.strip_prefix(&what).unwrap_or_default() };
    format!("{}{rest}", of_kind(point, &what, false))
}

/// What the names of like points have in common: the words before where they are, or the last of these.
fn common(points: &[&Point]) -> String {
    let stems: BTreeSet<Vec<&str>> = points.iter().map(|p| stem(&p.name)).collect();
    let lasts: BTreeSet<Option<&&str>> = stems.iter().map(|s| s.last()).collect();
    match (stems.len(), lasts.len()) {
        (1, _) => stems.into_iter().next().unwrap_or_default().join(" "),
        (_, 1) => lasts.into_iter().flatten().next().map_or_else(String::new, |word| (*word).to_owned()),
        _ => String::new(),
    }
}

/// The words of a name that tell what it is: `counter by the sink` → `counter`, `counter 2` → `counter`.
fn stem(name: &str) -> Vec<&str> {
    let before = name.split(',').next().unwrap_or_default();
    let tells = |word: &&str| !WHERE.contains(word) && !word.bytes().all(|b| b.is_ascii_digit());
    before.split_whitespace().take_while(tells).collect()
}

fn one(kind: PointKind) -> &'static str {
    match kind {
        PointKind::Receptacle => "receptacle",
        PointKind::Light => "light",
        PointKind::Switch => "switch",
        PointKind::Appliance => "appliance",
        PointKind::Alarm => "alarm",
        PointKind::Other => "outlet",
    }
}

fn many(kind: PointKind) -> &'static str {
    match kind {
        PointKind::Receptacle => "receptacles",
        PointKind::Light => "lights",
        PointKind::Switch => "switches",
        PointKind::Appliance => "appliances",
        PointKind::Alarm => "alarms",
        PointKind::Other => "outlets",
    }
}

impl Group {
    /// A panel that hangs there.
    #[must_use]
    pub fn panel(name: &str, sure: bool) -> Self {
        let thing = format!("Panel {name}");
        Self { room: None, thing, brief: String::new(), kind: PointKind::Other, tags: Vec::new(), alone: true, sure }
    }

    /// How much it tells of all that hangs there.
    fn weight(&self) -> usize {
        match (self.room, self.kind) {
            (None, _) => usize::MAX,
            (_, PointKind::Appliance) => APPLIANCE * self.tags.len(),
            _ => self.tags.len(),
        }
    }
}

/// Which groups have their tags beside them.
#[derive(Clone, Copy)]
pub enum Tags<'a> {
    /// None.
    None,
    /// All.
    All,
    /// Those of a room and kind, where no name tells them apart.
    Of(&'a BTreeSet<(RoomId, PointKind)>),
}

/// Groups in words, in their order, those of a room together.
#[must_use]
pub fn told(house: &House, groups: &[Group], tags: Tags<'_>) -> String {
    told_of(house, &groups.iter().collect::<Vec<_>>(), tags, false)
}

fn told_of(house: &House, groups: &[&Group], tags: Tags<'_>, doubts: bool) -> String {
    let thing = |g: &&Group| {
        let beside = match (tags, g.room) {
            (Tags::All, Some(_)) => true,
            (Tags::Of(some), Some(room)) => !g.alone && some.contains(&(room, g.kind)),
            _ => false,
        };
        let beside = if beside { format!(" ({})", g.tags.join(" ")) } else { String::new() };
        let doubt = if doubts && !g.sure { "?" } else { "" };
        format!("{}{doubt}{beside}", g.thing)
    };
    let rooms = groups.chunk_by(|a, b| a.room == b.room).map(|of_room| {
        let things = of_room.iter().map(thing).collect::<Vec<_>>().join(", ");
        [room(house, of_room[0]), things].into_iter().filter(|t| !t.is_empty()).collect::<Vec<_>>().join(" ")
    });
    rooms.collect::<Vec<_>>().join("; ")
}

fn room(house: &House, group: &Group) -> String {
    let room = group.room.and_then(|room| house.rooms.get(room));
    room.map_or_else(String::new, |room| room.name.clone())
}

/// The same from the fullest form to the shortest, for whoever has little space: what tells most first, `+2` for two points
/// that are left out, a question mark after what is not sure.
#[must_use]
pub fn forms(house: &House, groups: &[Group]) -> Vec<String> {
    let mut order: Vec<&Group> = groups.iter().collect();
    order.sort_by_key(|g| (!g.sure, Reverse(g.weight())));
    let Some(lead) = order.first() else { return Vec::new() };
    // What is left out is counted, and no surer than the least sure of it.
    let doubt = |of: &[&Group]| if of.iter().all(|g| g.sure) { "" } else { "?" };
    let rest = |told: &[&Group]| {
        let left: Vec<&Group> = order.iter().copied().filter(|g| !told.contains(g)).collect();
        let points: usize = left.iter().map(|g| g.tags.len()).sum();
        if points > 0 { format!(" +{points}{}", doubt(&left)) } else { String::new() }
    };
    let mut forms = vec![told_of(house, &groups.iter().collect::<Vec<_>>(), Tags::None, true)];
    for most in (1..order.len()).rev() {
        forms.push(told_of(house, &order[..most], Tags::None, true) + &rest(&order[..most]));
    }
    let own = doubt(&[lead]);
    if lead.alone {
        forms.push(format!("{}{own}{}", capital(&lead.thing), rest(&[lead])));
    } else {
        let room = room(house, lead);
        if !lead.brief.is_empty() {
            forms.push(format!("{room} {}{own}{}", lead.brief, rest(&[lead])));
        }
        let here: Vec<&Group> = order.iter().copied().filter(|g| g.room == lead.room).collect();
        forms.push(format!("{room}{}{}", doubt(&here), rest(&here)));
    }
    let short: Vec<String> = forms.iter().map(|form| abbreviated(form)).collect();
    forms.extend(short);
    let mut known = BTreeSet::new();
    forms.retain(|form| known.insert(form.clone()));
    forms.sort_by_key(|form| Reverse(form.chars().count()));
    forms
}

/// What surely and what perhaps, in words by room, a question mark after each of the latter.
#[must_use]
pub fn sure_and_perhaps(house: &House, sure: &[&Point], perhaps: &[&Point]) -> String {
    let all = [groups(house, sure, true), groups(house, perhaps, false)].concat();
    told_of(house, &all.iter().collect::<Vec<_>>(), Tags::None, true)
}

/// Rooms in the order that points first come in them, with how many: `Kitchen (8), Hall (3)`.
#[must_use]
pub fn by_room(house: &House, points: &[&Point]) -> String {
    let mut rooms: Vec<(&str, usize)> = Vec::new();
    for point in points {
        let name = house.rooms.get(point.room).map_or("?", |r| r.name.as_str());
        match rooms.iter_mut().find(|(known, _)| *known == name) {
            Some((_, count)) => *count += 1,
            None => rooms.push((name, 1)),
        }
    }
    rooms.iter().map(|(name, count)| format!("{name} ({count})")).collect::<Vec<_>>().join(", ")
}

/// Points that are known by their tags, in words by room with the tags beside: what a hand is to touch is found by both. One by
/// itself has its whole name.
#[must_use]
pub fn by_tags(house: &House, tags: &[String]) -> String {
    let points = house.in_order(house.points.iter().filter(|p| tags.contains(&p.tag)));
    let mut groups = groups(house, &points, true);
    for group in &mut groups {
        if let [tag] = group.tags.as_slice()
            && let Some(point) = points.iter().find(|p| p.tag == *tag)
        {
            group.thing = whole(point);
        }
    }
    told(house, &groups, Tags::All)
}

/// Points in words, by room.
#[must_use]
pub fn in_words(house: &House, points: &[&Point]) -> String {
    told(house, &groups(house, points, true), Tags::None)
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::fixture::Fixture;
    use crate::house::{Point, PointId};

    #[test]
    fn one_by_itself_has_its_whole_name_with_its_tag() {
        let (f, _) = house(&[
            ("Kitchen", OUTLET, "counter by sink, upper half"),
            ("Kitchen", OUTLET, "counter by window"),
            ("Hall", OUTLET, "by the stairs"),
            ("Hall", PointKind::Appliance, "doorbell"),
            ("Hall", LIGHT, ""),
        ]);
        let told = |tags: &[&str]| by_tags(&f.house, &tags.iter().map(|t| (*t).to_owned()).collect::<Vec<_>>());
        assert_eq!(told(&["A0"]), "Kitchen counter receptacle by sink, upper half (A0)");
        assert_eq!(told(&["A0", "B1"]), "Kitchen counter receptacles (A0 B1)");
        assert_eq!(told(&["C2", "D3"]), "Hall doorbell (D3), receptacle by the stairs (C2)");
        assert_eq!(told(&["E4"]), "Hall light (E4)");
    }

    /// A kitchen, a hall and a bedroom with points of these kinds and names.
    fn house(points: &[(&str, PointKind, &str)]) -> (Fixture, Vec<PointId>) {
        let mut f = Fixture::new(8);
        let rooms = ["Kitchen", "Hall", "Front bedroom"].map(|name| (name, f.room(name)));
        let made = points.iter().enumerate().map(|(n, (room, kind, name))| {
            let room = rooms.iter().find(|(called, _)| called == room).unwrap().1;
            let point = f.point(&format!("{}{n}", char::from(b'A' + u8::try_from(n).unwrap())), room, *kind);
            f.name(point, name);
            point
        });
        let made = made.collect();
        (f, made)
    }

    fn said(points: &[(&str, PointKind, &str)]) -> (String, Vec<String>) {
        let (f, made) = house(points);
        let points: Vec<&Point> = made.iter().map(|p| f.house.points.get(*p).unwrap()).collect();
        let groups = groups(&f.house, &points, true);
        (told(&f.house, &groups, Tags::None), forms(&f.house, &groups))
    }

    const OUTLET: PointKind = PointKind::Receptacle;
    const LIGHT: PointKind = PointKind::Light;

    #[test]
    fn like_points_of_a_room_are_said_once_and_keep_what_their_names_have_in_common() {
        let kitchen = |names: &[&'static str], kind| {
            said(&names.iter().map(|name| ("Kitchen", kind, *name)).collect::<Vec<_>>()).0
        };
        for (names, kind, words) in [
            (&["counter by sink, upper half", "counter by window"][..], OUTLET, "Kitchen counter receptacles"),
            (&["counter 1", "counter 2"], OUTLET, "Kitchen counter receptacles"),
            (&["north wall", "east wall"], OUTLET, "Kitchen wall receptacles"),
            (&["island", "window seat"], OUTLET, "Kitchen receptacles"),
            (&["north wall"], OUTLET, "Kitchen north wall receptacle"),
            (&["by the stairs"], OUTLET, "Kitchen receptacle by the stairs"),
            (&[""], OUTLET, "Kitchen receptacle"),
            (&["ceiling light"], LIGHT, "Kitchen ceiling light"),
            (&["ceiling lights"], LIGHT, "Kitchen ceiling lights"),
            (&["ceiling light", "sink light"], LIGHT, "Kitchen lights"),
            (&["range", "dishwasher"], PointKind::Appliance, "Kitchen dishwasher, range"),
            (&["smoke alarm", "smoke alarm"], PointKind::Alarm, "Kitchen smoke alarms"),
            (&["", ""], PointKind::Appliance, "Kitchen appliances"),
        ] {
            assert_eq!(kitchen(names, kind), words);
        }
    }

    #[test]
    fn shorter_forms_keep_what_tells_most_and_count_what_is_left_out() {
        let (full, forms) = said(&[
            ("Kitchen", OUTLET, "counter 1"),
            ("Kitchen", OUTLET, "counter 2"),
            ("Kitchen", PointKind::Appliance, "dishwasher"),
            ("Hall", LIGHT, ""),
        ]);
        assert_eq!(full, "Kitchen dishwasher, counter receptacles; Hall light");
        assert_eq!(forms[0], full);
        for form in ["Kitchen dishwasher, counter receptacles +1", "Kitchen dishwasher +3", "Dishwasher +3", "Dishw +3"]
        {
            assert!(forms.iter().any(|f| f == form), "{form}: {forms:?}");
        }
        let (_, forms) = said(&[
            ("Front bedroom", LIGHT, "ceiling light"),
            ("Front bedroom", LIGHT, "desk light"),
            ("Hall", LIGHT, ""),
        ]);
        assert!(forms.contains(&"Front bedroom lights +1".to_owned()), "{forms:?}");
        assert_eq!(forms.last().map(String::as_str), Some("Front bedrm +1"));
        let (_, forms) = said(&[("Kitchen", OUTLET, "counter 1"), ("Kitchen", OUTLET, "counter 2")]);
        assert!(forms.contains(&"Kitchen counter".to_owned()), "{forms:?}");
        assert!(forms.is_sorted_by_key(|f| Reverse(f.chars().count())) && said(&[]).1.is_empty());
    }

    // Unknown is never shown as safe: a shorter form is no surer than what it stands for.
    #[test]
    fn what_is_left_out_and_not_sure_keeps_its_question_mark() {
        let (f, made) = house(&[("Kitchen", OUTLET, ""), ("Kitchen", LIGHT, ""), ("Hall", LIGHT, "")]);
        let point = |nth: usize| f.house.points.get(made[nth]).unwrap();
        let both = [groups(&f.house, &[point(0)], true), groups(&f.house, &[point(1), point(2)], false)].concat();
        let forms = forms(&f.house, &both);
        for form in ["Kitchen receptacle +2?", "Kitchen? +1?"] {
            assert!(forms.iter().any(|f| f == form), "{form}: {forms:?}");
        }
        assert!(forms.iter().all(|form| form.contains('?')), "{forms:?}");
    }

    #[test]
    fn an_appliance_goes_by_its_name_only_where_the_house_has_no_other_of_it() {
        let one = ("Kitchen", PointKind::Appliance, "fan");
        assert_eq!(said(&[one]).1.last().map(String::as_str), Some("Fan"));
        let (f, made) = house(&[one, ("Hall", PointKind::Appliance, "fan")]);
        let groups = groups(&f.house, &[f.house.points.get(made[0]).unwrap()], false);
        let forms = forms(&f.house, &groups);
        assert_eq!(
            forms.iter().map(String::as_str).collect::<Vec<_>>(),
            ["Kitchen fan?", "Kitchen?", "Kit fan?", "Kit?"]
        );
    }
}
