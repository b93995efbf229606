//! Reminders as iCalendar (RFC 5545), for the calendar of whoever looks after the house.

use chrono::Duration;
use icalendar::{Alarm, Calendar, Component, Event, EventLike, Property};
use jiff::tz::TimeZone;
use jiff::{SignedDuration, Timestamp, ToSpan};
use sha2::{Digest, Sha256};
use wayfinder_core::House;
use wayfinder_core::answers::upkeep::DueTest;

/// Days that every month has.
const EVERY_MONTH: i8 = 28;
/// The reminder is heard at nine in the morning of its day.
const HEARD: i64 = 9;

/// One reminder a month for all ground-fault devices of a house, naming them; the first on the day after `now` where
/// one is due already, else when the first comes due. It falls on a day that every month has.
#[must_use]
pub fn ground_fault_tests(house: &House, devices: &[DueTest], now: Timestamp) -> String {
    let day = SignedDuration::from_hours(24);
    let next = |d: &DueTest| d.last.filter(|_| !d.due).map_or(now + day, |last| last + day * 30);
    let first = devices.iter().map(next).min().unwrap_or(now + day).to_zoned(TimeZone::UTC).date();
    let first =
        if first.day() > EVERY_MONTH { first.first_of_month().checked_add(1.month()).unwrap_or(first) } else { first };
    let name = house.about.name.as_str();
    let names: Vec<&str> = devices.iter().map(|d| d.name.trim()).collect();
    let mut start = Property::new("DTSTART", first.strftime("%Y%m%d").to_string());
    start.add_parameter("VALUE", "DATE");
    let summary = format!("{name}: press the test buttons of ground-fault devices");
    let mut event = Event::new();
    event
        .uid(&format!("ground-fault-tests-{}@wayfinder", id_of(house)))
        .add_property("DTSTAMP", now.strftime("%Y%m%dT%H%M%SZ").to_string())
        .summary(&summary)
        .description(&format!(
            "Press TEST: power must go; press RESET: it must come back. A device that fails is replaced.\n{}",
            names.join("\n")
        ))
        .add_property("RRULE", format!("FREQ=MONTHLY;BYMONTHDAY={}", first.day()))
        .alarm(Alarm::display(&summary, Duration::hours(HEARD)))
        .append_property(start.done());
    Calendar::empty()
        .append_property(("VERSION", "2.0"))
        .append_property(("PRODID", "-//Wayfinder//Reminders//EN"))
        .append_property(("CALSCALE", "GREGORIAN"))
        .push(event.done())
        .done()
        .to_string()
}

/// Of this house and no other: two may have one name, and houses that were typed in a spreadsheet the same ids.
fn id_of(house: &House) -> String {
    let first = |ids: Option<u64>| ids.map_or_else(|| "-".into(), |id| id.to_string());
    let things = [
        first(house.panels.iter().map(|p| p.id.0).min()),
        first(house.rooms.iter().map(|r| r.id.0).min()),
        first(house.points.iter().map(|p| p.id.0).min()),
    ];
    let points: Vec<&str> = house.points.iter().map(|p| p.tag.as_str()).collect();
    let digest = Sha256::digest(format!("{}|{}|{}", house.about.name, things.join("|"), points.join(" ")));
    digest.iter().take(12).map(|byte| format!("{byte:02x}")).collect()
}

#[cfg(test)]
mod tests {
    use super::*;
    use wayfinder_core::edit::Subject;
    use wayfinder_core::house::{PanelId, PointId};

    fn device(name: &str, last: Option<i64>, due: bool) -> DueTest {
        let last = last.map(|day| Timestamp::from_second(day * 86_400).unwrap());
        DueTest { subject: Subject::Point(PointId(1)), name: name.into(), last, failed: false, due }
    }

    fn on_day(day: i64) -> Timestamp {
        Timestamp::from_second(day * 86_400).unwrap()
    }

    /// Lines with folding undone (RFC 5545, 3.1: a line that begins with a space goes on).
    fn unfolded(text: &str) -> String {
        text.replace("\r\n ", "")
    }

    // RFC 5545: content lines end with CRLF and are at most 75 octets; VEVENT needs UID and DTSTAMP; text escapes
    // commas and line breaks; RRULE.
    #[test]
    fn a_reminder_is_a_calendar_that_others_read() {
        let devices = [device("B1 Bath, by the basin", Some(5), false), device("breaker 11", Some(2), false)];
        let text = ground_fault_tests(&House::new("Quill Cottage"), &devices, on_day(10));
        assert!(text.split("\r\n").all(|line| line.len() <= 75 && !line.contains('\n')), "{text}");
        let lines = unfolded(&text);
        for needed in [
            "BEGIN:VCALENDAR\r\n",
            "VERSION:2.0\r\n",
            "PRODID:-//Wayfinder//Reminders//EN\r\n",
            "DTSTAMP:19700111T000000Z\r\n",
            // Day 2 of 1970 (the 3rd) and thirty days.
            "DTSTART;VALUE=DATE:19700202\r\n",
            "RRULE:FREQ=MONTHLY;BYMONTHDAY=2\r\n",
            // RFC 5545, 3.6.6: a display alarm needs a trigger and a description (nine hours, in seconds).
            "BEGIN:VALARM\r\n",
            "ACTION:DISPLAY\r\n",
            "TRIGGER:PT32400S\r\n",
            "END:VALARM\r\n",
            "B1 Bath\\, by the basin\\nbreaker 11",
            "END:VCALENDAR\r\n",
        ] {
            assert!(lines.contains(needed), "{needed:?} is missing in:\n{lines}");
        }
    }

    #[test]
    fn what_is_due_is_reminded_of_tomorrow() {
        let text = ground_fault_tests(&House::new("Q"), &[device("B1", None, true)], on_day(10));
        assert!(text.contains("DTSTART;VALUE=DATE:19700112"), "{text}");
    }

    // RFC 5545, 3.3.10: a monthly rule leaves out months that do not have its day.
    #[test]
    fn no_month_is_left_out() {
        for day in 0..400 {
            let text = ground_fault_tests(&House::new("Q"), &[device("B1", None, true)], on_day(day));
            let rule = text.lines().find_map(|line| line.strip_prefix("RRULE:FREQ=MONTHLY;BYMONTHDAY=")).unwrap();
            let start = text.lines().find_map(|line| line.strip_prefix("DTSTART;VALUE=DATE:")).unwrap();
            assert!((1..=28).contains(&rule.trim().parse::<i8>().unwrap()), "{rule}");
            assert_eq!(
                rule.trim().parse::<i8>().unwrap(),
                start.trim()[6..].parse::<i8>().unwrap(),
                "it begins on its day"
            );
        }
    }

    #[test]
    fn two_houses_of_one_name_have_reminders_of_their_own() {
        let uid = |house: &House| {
            let text = unfolded(&ground_fault_tests(house, &[device("B1", None, true)], on_day(3)));
            text.lines().find(|line| line.starts_with("UID:")).unwrap().to_owned()
        };
        let (one, mut other) = (House::new("Home"), House::new("Home"));
        other.panels.put(wayfinder_core::house::Panel::new(PanelId(77), "Main", 20));
        assert_ne!(uid(&one), uid(&other));
        assert_eq!(uid(&one), uid(&House::new("Home")), "sent again it is the same reminder");
    }
}
