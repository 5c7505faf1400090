//! The days of a calendar that come, from today on.

use crate::{
    access::Lens,
    export::{EntryTime, Teller},
    id::{FieldId, RecordId, TableId},
    view::{Query, Shape},
};
use jiff::civil::Date;
use serde::{Deserialize, Serialize};

/// A day that comes, with what is on it.
#[derive(Clone, Debug, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct BoardDay {
    /// *Thursday 26 November*, *Today*.
    pub text: String,
    pub entries: Vec<BoardEntry>,
}

/// A record on a day.
#[derive(Clone, Debug, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct BoardEntry {
    pub record: RecordId,
    pub title: String,
    /// What else the view shows of it.
    pub about: String,
    /// *9:30 to 12:00*, *to 28 November*; empty: on that day.
    pub at: String,
}

impl Query {
    /// The first so many of what is on its days from today on; what has begun before stands under today.
    pub(super) fn coming(&self, lens: &Lens<'_>, table: TableId, most: usize) -> Vec<BoardDay> {
        let clock = lens.clock();
        let today = clock.today();
        let day = |at: jiff::Timestamp| at.to_zoned(clock.zone.clone()).date();
        let named = |day: Date| day.strftime("%A %-d %B").to_string();
        let hour = |at: jiff::Timestamp| at.to_zoned(clock.told.clone()).strftime("%H:%M").to_string();
        let span = |time: EntryTime| match time {
            EntryTime::Days(first, last) => (first, last),
            EntryTime::Hours(from, until) => (day(from), day(until)),
        };
        let mut entries = self.dated(lens, table).unwrap_or_default();
        entries.retain(|entry| span(entry.time).1 >= today);
        let place = |time: EntryTime| match time {
            EntryTime::Days(first, _) => (first.max(today), None),
            EntryTime::Hours(from, _) => (day(from).max(today), Some(from)),
        };
        entries.sort_by_key(|entry| (place(entry.time), entry.record));
        let teller = Teller::of(self, lens, table);
        let told = entries.iter().filter_map(|entry| Some((entry, teller.title(entry)?)));
        let mut days: Vec<(Date, BoardDay)> = Vec::new();
        for (entry, title) in told.take(most) {
            let (first, last) = span(entry.time);
            let on = first.max(today);
            let at = match entry.time {
                EntryTime::Days(..) if last > on => format!("to {}", clock.customs().date_text(last)),
                EntryTime::Days(..) => String::new(),
                EntryTime::Hours(from, until) if until > from => format!("{} to {}", hour(from), hour(until)),
                EntryTime::Hours(from, _) => hour(from),
            };
            if days.last().is_none_or(|(day, _)| *day != on) {
                let text = if on == today { "Today".to_owned() } else { named(on) };
                days.push((on, BoardDay { text, entries: Vec::new() }));
            }
            if let Some((_, day)) = days.last_mut() {
                let about = self.beside(lens, table, entry.record, &title);
                day.entries.push(BoardEntry { record: entry.record, title, about, at });
            }
        }
        days.into_iter().map(|(_, day)| day).collect()
    }

    /// What else it shows of a record, in one line.
    fn beside(&self, lens: &Lens<'_>, table: TableId, record: RecordId, title: &str) -> String {
        // What names it, and the days by which it is here, stand there already.
        let standing = lens.dataset().table(table).map(|home| home.def.standing);
        let dates = if let Shape::Calendar(almanac) = &self.shape { almanac.dates.as_slice() } else { &[] };
        let said = |field: FieldId| Some(field) == standing || dates.iter().any(|date| date.start == field || date.end == Some(field));
        let shown = self.fields.iter().filter(|shown| !said(shown.field) && lens.shows(table, record, shown.field));
        let texts: Vec<String> = shown.map(|shown| lens.text_at(table, record, shown.field)).collect();
        texts.into_iter().filter(|text| !text.is_empty() && text != title).collect::<Vec<_>>().join(", ")
    }
}
