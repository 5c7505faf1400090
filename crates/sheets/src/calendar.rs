//! iCalendar (RFC 5545): a view's days for other calendars.

use chrono::{DateTime, NaiveDate, Utc};
use icalendar::{Calendar, Component, Event, EventLike, Property};
use jiff::{Timestamp, civil::Date};
use westerfall_core::{
    export::{CalendarEntry, Entries, EntryTime},
    id::RecordId,
};

use crate::Written;

/// What is said of a calendar besides its entries.
#[derive(Debug)]
pub struct CalendarHead<'a> {
    pub name: &'a str,
    /// What its entries are told apart by from those of all other calendars: what stands behind the @ of their ids.
    pub host: &'a str,
    /// What stands before it: of which tracker and table it is.
    pub of: &'a str,
    /// How often a program that looks at it by itself should, in hours; nothing: it is a file.
    pub again: Option<u32>,
}

/// Writes a calendar. `address`: where a record is looked at.
pub fn calendar(head: &CalendarHead<'_>, entries: &Entries, address: impl Fn(RecordId) -> String) -> Written {
    let mut calendar = Calendar::empty();
    calendar.append_property(Property::new("VERSION", "2.0"));
    calendar.append_property(Property::new("PRODID", "-//Westerfall//Calendar//EN"));
    calendar.append_property(Property::new("CALSCALE", "GREGORIAN"));
    calendar.append_property(Property::new("METHOD", "PUBLISH"));
    calendar.name(&plain(head.name));
    if entries.left_out > 0 {
        let all = entries.entries.len().saturating_add(entries.left_out);
        calendar.description(&format!("The {} latest of {all} days: a calendar holds no more.", entries.entries.len()));
    }
    if let Some(hours) = head.again {
        calendar.ttl(&chrono::Duration::hours(i64::from(hours)));
    }
    for entry in &entries.entries {
        if let Some(event) = event(head, entry, &address(entry.record)) {
            calendar.push(event);
        }
    }
    Written { bytes: calendar.to_string().into_bytes(), media: "text/calendar; charset=utf-8", ending: "ics" }
}

fn event(head: &CalendarHead<'_>, entry: &CalendarEntry, address: &str) -> Option<Event> {
    let mut event = Event::new();
    event.uid(&format!("{}-{}-{}@{}", head.of, entry.record, entry.date, head.host));
    let changed = moment(entry.changed)?;
    event.timestamp(changed).last_modified(changed);
    match entry.time {
        EntryTime::Days(first, last) => {
            // The day on which it is over is not one of its days.
            event.starts(day(first)?).ends(day(last.tomorrow().unwrap_or(last))?);
            // Days of work keep nobody from being free at an hour.
            event.add_property("TRANSP", "TRANSPARENT");
        }
        EntryTime::Hours(from, until) => {
            event.starts(moment(from)?);
            if until > from {
                event.ends(moment(until)?);
            }
        }
    }
    event.summary(&plain(&entry.title)).description(&entry.about.replace('\r', "")).url(address);
    if let Some(place) = &entry.place {
        event.append_property(Property::new("GEO", format!("{};{}", place.latitude, place.longitude)));
        if !place.label.is_empty() {
            event.location(&plain(&place.label));
        }
    }
    Some(event.done())
}

/// A text on one line.
fn plain(text: &str) -> String {
    text.split(char::is_control).collect::<Vec<_>>().join(" ")
}

fn day(day: Date) -> Option<NaiveDate> {
    let part = |n: i8| u32::try_from(n).ok();
    NaiveDate::from_ymd_opt(i32::from(day.year()), part(day.month())?, part(day.day())?)
}

fn moment(at: Timestamp) -> Option<DateTime<Utc>> {
    DateTime::from_timestamp(at.as_second(), 0)
}
