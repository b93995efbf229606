//! Green Button: NAESB ESPI in an Atom feed. [pub: NAESB REQ.21, value from memory]

use std::collections::BTreeMap;

use quick_xml::Reader;
use quick_xml::escape::resolve_predefined_entity;
use quick_xml::events::{BytesStart, Event};

use super::{BadRecord, One, Record, in_a_row};

/// Units of measure. [pub: NAESB ESPI UomType, value from memory]
const WATT_HOURS: i64 = 72;
const WATTS: i64 = 38;
/// Directions of flow. [pub: NAESB ESPI FlowDirectionType, value from memory]
const REVERSE: i64 = 19;

/// What the numbers of a meter reading mean.
#[derive(Debug, Clone, Copy, PartialEq)]
struct Kind {
    unit: i64,
    power_of_ten: i32,
    direction: i64,
}

/// An entry of the feed: how it is called, what it points to, and what is in it.
#[derive(Debug, Default)]
struct Entry {
    own: String,
    up: String,
    related: Vec<String>,
    kind: Option<Kind>,
    readings: Vec<One>,
    is_meter: bool,
}

/// The element being read.
#[derive(Debug, Default)]
struct Place {
    path: Vec<String>,
    text: String,
    entry: Entry,
    reading: (Option<i64>, Option<i64>, Option<f64>, usize),
    local: BTreeMap<String, String>,
}

pub(super) fn read(text: &str) -> Result<Record, BadRecord> {
    let mut reader = Reader::from_str(text);
    let (mut place, mut entries) = (Place::default(), Vec::new());
    let (mut counted, mut line) = (0, 1);
    loop {
        let event = reader.read_event();
        let here = usize::try_from(reader.buffer_position()).unwrap_or(text.len()).min(text.len());
        line += text.as_bytes()[counted.min(here)..here].iter().filter(|b| **b == b'\n').count();
        counted = here;
        match event.map_err(|e| BadRecord::new(line, format!("not XML as it should be: {e}")))? {
            // Nobody needs one here, and entities of one's own are how small files are made to grow.
            Event::DocType(_) => return Err(BadRecord::new(line, "a document type is not allowed here")),
            Event::Start(start) => place.open(&start, line),
            Event::Empty(start) => {
                place.open(&start, line);
                place.close(&mut entries)?;
            }
            Event::End(_) => place.close(&mut entries)?,
            Event::Text(t) => place.text.push_str(&t.xml10_content()),
            Event::GeneralRef(r) => {
                let name = r.xml10_content();
                let known = resolve_predefined_entity(&name);
                place.text.push_str(known.ok_or_else(|| BadRecord::new(line, format!("\"&{name};\" is not known")))?);
            }
            Event::Eof if !place.path.is_empty() => return Err(BadRecord::new(line, "the file ends in the middle")),
            Event::Eof => break,
            _ => {}
        }
    }
    whole(entries, &place.local, line)
}

impl Place {
    fn open(&mut self, start: &BytesStart<'_>, line: usize) {
        let name = start.local_name().as_ref().to_owned();
        match name.as_str() {
            "entry" => self.entry = Entry::default(),
            "MeterReading" => self.entry.is_meter = true,
            "link" => self.link(start),
            "ReadingType" => self.entry.kind = Some(Kind { unit: 0, power_of_ten: 0, direction: 1 }),
            "IntervalReading" => self.reading = (None, None, None, line),
            _ => {}
        }
        self.path.push(name);
        self.text.clear();
    }

    fn link(&mut self, start: &BytesStart<'_>) {
        let value = |name: &str| {
            let attribute = start.try_get_attribute(name).ok().flatten();
            attribute.map_or_else(String::new, |a| a.value.into_owned())
        };
        let href = value("href").trim_end_matches('/').to_owned();
        match value("rel").as_str() {
            "self" => self.entry.own = href,
            "up" => self.entry.up = href,
            "related" => self.entry.related.push(href),
            _ => {}
        }
    }

    fn close(&mut self, entries: &mut Vec<Entry>) -> Result<(), BadRecord> {
        let name = self.path.pop().unwrap_or_default();
        let text = std::mem::take(&mut self.text);
        let text = text.trim();
        let parent = self.path.last().map_or("", String::as_str);
        let line = self.reading.3;
        let number = |what: &str| {
            text.parse::<i64>().map_err(|_| BadRecord::new(line, format!("{what} \"{text}\" is not a whole number")))
        };
        match (parent, name.as_str()) {
            (_, "entry") => entries.push(std::mem::take(&mut self.entry)),
            ("timePeriod", "start") if self.within("IntervalReading") => self.reading.0 = Some(number("the start")?),
            ("timePeriod", "duration") if self.within("IntervalReading") => {
                self.reading.1 = Some(number("the duration")?)
            }
            ("IntervalReading", "value") => self.reading.2 = Some(number("the value")? as f64),
            (_, "IntervalReading") => self.interval()?,
            ("ReadingType", field) => self.kind(field, text),
            ("LocalTimeParameters", field) => {
                self.local.insert(field.to_owned(), text.to_owned());
            }
            _ => {}
        }
        Ok(())
    }

    fn within(&self, name: &str) -> bool {
        self.path.iter().any(|p| p == name)
    }

    fn interval(&mut self) -> Result<(), BadRecord> {
        let (start, duration, value, line) = self.reading;
        let missing = |what: &str| BadRecord::new(line, format!("an interval without its {what}"));
        let one = One {
            start: start.ok_or_else(|| missing("start"))?,
            seconds: duration.ok_or_else(|| missing("duration"))?,
            watt_hours: value.ok_or_else(|| missing("value"))?,
            line,
        };
        if one.seconds <= 0 {
            return Err(BadRecord::new(line, "an interval must last longer than nothing"));
        }
        self.entry.readings.push(one);
        Ok(())
    }

    fn kind(&mut self, field: &str, text: &str) {
        let (Some(kind), Ok(number)) = (&mut self.entry.kind, text.parse::<i64>()) else { return };
        match field {
            "uom" => kind.unit = number,
            "powerOfTenMultiplier" => kind.power_of_ten = i32::try_from(number).unwrap_or(0),
            "flowDirection" => kind.direction = number,
            _ => {}
        }
    }
}

/// All entries together: blocks with what their numbers mean.
fn whole(entries: Vec<Entry>, local: &BTreeMap<String, String>, lines: usize) -> Result<Record, BadRecord> {
    let kinds: Vec<(&str, Kind)> = entries.iter().filter_map(|e| Some((e.own.as_str(), e.kind?))).collect();
    let meters: Vec<&Entry> = entries.iter().filter(|e| e.is_meter).collect();
    // A block points up to the collection that its meter reading names, and that names what its numbers mean.
    let kind_of = |block: &Entry| match kinds.as_slice() {
        [] => None,
        [(_, one)] => Some(*one),
        several => {
            let meter = meters
                .iter()
                .find(|m| m.related.contains(&block.up) || (!m.own.is_empty() && block.own.starts_with(&m.own)));
            meter
                .and_then(|m| several.iter().find(|(own, _)| m.related.iter().any(|r| r == own)).map(|(_, kind)| *kind))
        }
    };
    let (mut all, mut reverse, mut first) = (Vec::new(), false, None);
    for block in entries.iter().filter(|e| !e.readings.is_empty()) {
        let line = block.readings[0].line;
        let kind = kind_of(block)
            .ok_or_else(|| BadRecord::new(line, "nothing says what these numbers are: no ReadingType"))?;
        if kind.direction == REVERSE {
            reverse |= block.readings.iter().any(|one| one.watt_hours > 0.0);
            continue;
        }
        if !matches!(kind.unit, WATT_HOURS | WATTS) {
            continue;
        }
        // The first of several series that measure the same.
        if *first.get_or_insert(kind) != kind {
            continue;
        }
        let scale = 10f64.powi(kind.power_of_ten);
        let energy = |one: &One| {
            let hours = if kind.unit == WATTS { one.seconds as f64 / 3600.0 } else { 1.0 };
            One { watt_hours: one.watt_hours * scale * hours, ..*one }
        };
        all.extend(block.readings.iter().map(energy));
    }
    if all.is_empty() {
        return Err(BadRecord::new(lines, "there are no readings of electric energy in the file"));
    }
    Ok(Record { intervals: in_a_row(all, reverse)?, zone: zone(local) })
}

/// The time zone as POSIX writes it, from the offsets and the bits of the rules.
fn zone(local: &BTreeMap<String, String>) -> Option<String> {
    let offset: i64 = local.get("tzOffset")?.parse().ok()?;
    let plain = format!("<LOC>{}", posix_offset(offset));
    let rule = |name: &str| local.get(name).and_then(|hex| rule(hex));
    let summer: i64 = local.get("dstOffset").and_then(|o| o.parse().ok()).unwrap_or(0);
    match (rule("dstStartRule"), rule("dstEndRule")) {
        (Some(start), Some(end)) if summer != 0 => {
            Some(format!("{plain}<SUM>{},{start},{end}", posix_offset(offset + summer)))
        }
        _ => Some(plain),
    }
}

/// West of Greenwich counts up there.
fn posix_offset(seconds: i64) -> String {
    let (sign, seconds) = if seconds > 0 { ("-", seconds) } else { ("", -seconds) };
    format!("{sign}{}:{:02}", seconds / 3600, seconds % 3600 / 60)
}

/// Bits of a rule, from the lowest: 12 of seconds, 5 of the hour, 3 of the day of the week (1 is Monday), 5 of the day of the
/// month, 3 of the operator (2 to 6: the first to fifth such day, 7: the last), 4 of the month.
/// [pub: NAESB ESPI DstRuleType, value from memory]
fn rule(hex: &str) -> Option<String> {
    let bits = u32::from_str_radix(hex.trim(), 16).ok()?;
    let part = |from: u32, count: u32| bits >> from & ((1 << count) - 1);
    let (hour, day, operator, month) = (part(12, 5), part(17, 3), part(25, 3), part(28, 4));
    let week = match operator {
        2..=6 => operator - 1,
        7 => 5,
        _ => return None,
    };
    ((1..=12).contains(&month) && (1..=7).contains(&day)).then(|| format!("M{month}.{week}.{}/{hour}", day % 7))
}

#[cfg(test)]
mod tests {
    use super::*;

    // NAESB ESPI: the rules of the published sample file, 360E2000 and B40E2000 (value from memory): second Sunday of March
    // and first Sunday of November, at two o'clock.
    #[test]
    fn rules_of_summer_time_are_read_from_their_bits() {
        assert_eq!(rule("360E2000").as_deref(), Some("M3.2.0/2"));
        assert_eq!(rule("B40E2000").as_deref(), Some("M11.1.0/2"));
        assert_eq!(rule("FFFFFFFF"), None);
        let local =
            [("tzOffset", "-18000"), ("dstOffset", "3600"), ("dstStartRule", "360E2000"), ("dstEndRule", "B40E2000")];
        let local = local.map(|(a, b)| (a.to_owned(), b.to_owned())).into();
        let told = zone(&local).unwrap();
        assert_eq!(told, "<LOC>5:00<SUM>4:00,M3.2.0/2,M11.1.0/2");
        assert!(wayfinder_core::house::zone(&told).is_ok());
    }
}
