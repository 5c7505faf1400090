//! A calendar's records as entries for other calendars.

use crate::{
    access::Lens,
    dataset::Reader,
    fault::{Fault, FaultKind},
    id::{FieldId, RecordId, TableId},
    schema::Kind,
    value::{Cell, Place},
    view::{AlmanacDate, Query, Shape, Window},
};
use jiff::{Timestamp, civil::Date};

/// Most entries of one calendar: of more, those whose days are the latest.
pub const MOST_ENTRIES: usize = 20_000;

/// What a view with days gives other calendars.
#[derive(Clone, Debug, PartialEq)]
pub struct Entries {
    pub entries: Vec<CalendarEntry>,
    /// How many had to be left out, the earliest.
    pub left_out: usize,
}

/// A record at one of its dates.
#[derive(Clone, Debug, PartialEq)]
pub struct CalendarEntry {
    pub record: RecordId,
    /// By which of the record's dates it is here: with the record, what tells it from all others.
    pub date: FieldId,
    pub time: EntryTime,
    /// What it is called; where records have several dates, which of them this is.
    pub title: String,
    /// What the view shows of it: a line for each field that holds something.
    pub about: String,
    /// Where it is, where the view shows that.
    pub place: Option<Place>,
    pub changed: Timestamp,
}

/// When an entry is.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum EntryTime {
    /// Whole days, the last one included.
    Days(Date, Date),
    /// From an hour to an hour; both the same: at that hour.
    Hours(Timestamp, Timestamp),
}

impl EntryTime {
    fn ends(self, lens: &Lens<'_>) -> Timestamp {
        match self {
            Self::Days(_, last) => last.to_zoned(lens.clock().zone.clone()).map_or(Timestamp::MIN, |day| day.timestamp()),
            Self::Hours(_, until) => until,
        }
    }
}

/// One of the dates, made ready.
struct Dated<'a> {
    date: AlmanacDate,
    start: Reader<'a>,
    end: Option<Reader<'a>>,
    /// How long a record lasts where it has no end, and whether that is told in seconds and not in hours.
    lasts: Option<(Reader<'a>, bool)>,
}

impl Dated<'_> {
    /// When a record is; what ends before it begins is when it begins.
    fn of(&self, lens: &Lens<'_>, row: usize) -> Option<EntryTime> {
        let end = self.end.as_ref().map_or(Cell::Empty, |reader| reader.cell(row));
        let day = |at: Timestamp| at.to_zoned(lens.clock().zone.clone()).date();
        Some(match (self.start.cell(row), end) {
            (Cell::Instant(from), Cell::Instant(to)) if to > from => EntryTime::Hours(from, to),
            (Cell::Instant(from), _) => {
                EntryTime::Hours(from, self.lasting(row).and_then(|span| from.checked_add(span).ok()).unwrap_or(from))
            }
            (Cell::Range(from, to), _) => EntryTime::Days(from, to.max(from)),
            (Cell::Date(from), Cell::Date(to)) => EntryTime::Days(from, to.max(from)),
            (Cell::Date(from), Cell::Instant(to)) => EntryTime::Days(from, day(to).max(from)),
            (Cell::Date(day), _) => EntryTime::Days(day, day),
            _ => return None,
        })
    }

    fn lasting(&self, row: usize) -> Option<jiff::SignedDuration> {
        let (reader, seconds) = self.lasts.as_ref()?;
        let Cell::Number(number) = reader.cell(row) else { return None };
        let seconds = if *seconds { number } else { number.checked_mul(3_600.into())? };
        let seconds = i64::try_from(seconds.round()).ok().filter(|seconds| (0..=400 * 86_400).contains(seconds))?;
        Some(jiff::SignedDuration::from_secs(seconds))
    }
}

impl Query {
    /// What stands on its days, as other calendars keep it.
    ///
    /// # Errors
    /// The view is no calendar.
    pub fn entries(&self, lens: &Lens<'_>, table: TableId) -> Result<Entries, Fault> {
        let mut all = self
            .dated(lens, table)
            .ok_or_else(|| Fault::new(FaultKind::BadRule, "Only a calendar goes out as a calendar: look at these records as one first."))?;
        let left_out = all.len().saturating_sub(MOST_ENTRIES);
        if left_out > 0 {
            all.sort_by_cached_key(|on| std::cmp::Reverse(on.time.ends(lens)));
            all.truncate(MOST_ENTRIES);
        }
        let teller = Teller::of(self, lens, table);
        let entries = all.iter().filter_map(|on| teller.entry(on)).collect();
        Ok(Entries { entries, left_out })
    }

    /// Its records on each of their dates, in its order; nothing: it is no calendar.
    pub(crate) fn dated(&self, lens: &Lens<'_>, table: TableId) -> Option<Vec<OnDate>> {
        let Shape::Calendar(almanac) = &self.shape else { return None };
        let of_kind = |field: FieldId| lens.dataset().shown_kind(table, field).map(|(_, kind)| kind.shows());
        let lasts = |date: &AlmanacDate| almanac.lasts.filter(|_| date.end.is_none() && Some(date) == almanac.dates.first());
        let ready = |date: &AlmanacDate| Dated {
            date: *date,
            start: lens.reader(table, date.start),
            end: date.end.map(|end| lens.reader(table, end)),
            lasts: lasts(date).map(|field| (lens.reader(table, field), matches!(of_kind(field), Some(Kind::Duration)))),
        };
        let dates: Vec<Dated<'_>> = almanac.dates.iter().map(ready).collect();
        let records = self.run(lens, table, &Window { rows: 0..usize::MAX, ..Window::default() }).window;
        let timed = |record: RecordId| {
            dates.iter().filter_map(move |date| Some(OnDate { record, by: date.date.start, time: date.of(lens, record.row())? }))
        };
        Some(records.into_iter().flat_map(timed).collect())
    }
}

/// A record at one of its dates.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub(crate) struct OnDate {
    pub record: RecordId,
    /// The field by which it is here.
    pub by: FieldId,
    pub time: EntryTime,
}

/// What is needed to say what an entry is.
pub(crate) struct Teller<'a, 'd> {
    lens: &'a Lens<'d>,
    table: TableId,
    several: bool,
    /// What the view shows of each record, made ready.
    shown: Vec<(FieldId, &'a str, Reader<'a>)>,
}

impl<'a, 'd> Teller<'a, 'd> {
    pub(crate) fn of(query: &Query, lens: &'a Lens<'d>, table: TableId) -> Self {
        let several = matches!(&query.shape, Shape::Calendar(almanac) if almanac.dates.len() > 1);
        let ready = |field: FieldId| Some((field, lens.dataset().field(field)?.1.name.as_str(), lens.reader(table, field)));
        let shown = query.fields.iter().filter_map(|shown| ready(shown.field)).collect();
        Self { lens, table, several, shown }
    }

    /// What it is called; where records have several dates, which of them this is.
    pub(crate) fn title(&self, on: &OnDate) -> Option<String> {
        let name = self.lens.record_name(self.table, on.record)?.name;
        let which = self.lens.dataset().field(on.by).filter(|_| self.several);
        Some(which.map_or_else(|| name.clone(), |(_, def)| format!("{name}: {}", def.name)))
    }

    fn entry(&self, on: &OnDate) -> Option<CalendarEntry> {
        let OnDate { record, by: date, time } = *on;
        let (lens, table) = (self.lens, self.table);
        let title = self.title(on)?;
        let mut about = String::new();
        let mut place = None;
        for (field, name, reader) in self.shown.iter().filter(|(field, ..)| lens.shows(table, record, *field)) {
            if let Cell::Place(here) = reader.cell(record.row()) {
                place.get_or_insert_with(|| Place::clone(here));
            }
            let text = lens.text_at(table, record, *field);
            if !text.is_empty() {
                about.extend([name, ": ", &text, "\n"]);
            }
        }
        let changed = lens.meta(table, record)?.changed_at;
        Some(CalendarEntry { record, date, time, title, about: about.trim_end().to_owned(), place, changed })
    }
}
