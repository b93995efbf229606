//! Reminders as iCalendar (RFC 5545), for the calendar of whoever looks after the house.

use icalendar::{Calendar, Component, Event, Property};
use jiff::{SignedDuration, Timestamp};
use wayfinder_core::answers::upkeep::DueTest;

/// One reminder a month for all ground-fault devices of a house, naming them; the first on the day after `now` where
/// one is due already, else when the first comes due.
#[must_use]
pub fn ground_fault_tests(house: &str, devices: &[DueTest], now: Timestamp) -> String {
    let day = SignedDuration::from_hours(24);
    let next = |d: &DueTest| d.last.filter(|_| !d.due).map_or(now + day, |last| last + day * 30);
    let first = devices.iter().map(next).min().unwrap_or(now + day);
    let names: Vec<&str> = devices.iter().map(|d| d.name.trim()).collect();
    let slug: String = house.to_lowercase().chars().map(|c| if c.is_alphanumeric() { c } else { '-' }).collect();
    let mut start = Property::new("DTSTART", first.strftime("%Y%m%d").to_string());
    start.add_parameter("VALUE", "DATE");
    let mut event = Event::new();
    event
        .uid(&format!("ground-fault-tests-{slug}@wayfinder"))
        .add_property("DTSTAMP", now.strftime("%Y%m%dT%H%M%SZ").to_string())
        .summary(&format!("{house}: press the test buttons of ground-fault devices"))
        .description(&format!(
            "Press TEST: power must go; press RESET: it must come back. A device that fails is replaced.\n{}",
            names.join("\n")
        ))
        .add_property("RRULE", "FREQ=MONTHLY")
        .append_property(start.done());
    Calendar::new().push(event.done()).done().to_string()
}

#[cfg(test)]
mod tests {
    use super::*;
    use wayfinder_core::edit::Subject;
    use wayfinder_core::house::PointId;

    fn device(name: &str, last: Option<i64>, due: bool) -> DueTest {
        let last = last.map(|day| Timestamp::from_second(day * 86_400).unwrap());
        DueTest { subject: Subject::Point(PointId(1)), name: name.into(), last, failed: false, due }
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
        let text = ground_fault_tests("Quill Cottage", &devices, Timestamp::from_second(10 * 86_400).unwrap());
        assert!(text.split("\r\n").all(|line| line.len() <= 75 && !line.contains('\n')), "{text}");
        let lines = unfolded(&text);
        for needed in [
            "BEGIN:VCALENDAR\r\n",
            "VERSION:2.0\r\n",
            "PRODID:",
            "UID:ground-fault-tests-quill-cottage@wayfinder\r\n",
            "DTSTAMP:19700111T000000Z\r\n",
            // Day 2 of 1970 (the 3rd) and thirty days.
            "DTSTART;VALUE=DATE:19700202\r\n",
            "RRULE:FREQ=MONTHLY\r\n",
            "B1 Bath\\, by the basin\\nbreaker 11",
            "END:VCALENDAR\r\n",
        ] {
            assert!(lines.contains(needed), "{needed:?} is missing in:\n{lines}");
        }
    }

    #[test]
    fn what_is_due_is_reminded_of_tomorrow() {
        let text = ground_fault_tests("Q", &[device("B1", None, true)], Timestamp::from_second(10 * 86_400).unwrap());
        assert!(text.contains("DTSTART;VALUE=DATE:19700112"), "{text}");
    }
}
