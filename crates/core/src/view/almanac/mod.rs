//! A view as an almanac: which days its records have, what a stretch of days holds, and how much each week weighs.

mod hours;
mod shape;

pub use hours::{Carrier, DayHours, FreeOf, FreeStretch, HourStroke, Length, Thread, Twice};
pub(super) use shape::marks_days;
pub use shape::{Almanac, AlmanacDate, Beneath, WorkingHours};

use super::{Query, Row, Shape, TallyFigure, tally::Tallies, window::small};
use crate::{
    access::Lens,
    condition::days_between,
    dataset::Reader,
    id::{RecordId, TableId},
    value::{Cell, plus_days},
};
use fixedbitset::FixedBitSet;
use jiff::civil::{Date, Weekday};
use rust_decimal::Decimal;
use serde::{Deserialize, Serialize};
use std::collections::BTreeMap;

/// Most days of one stretch: a year and a margin of weeks at either end.
pub const MOST_DAYS: i32 = 400;
/// Most days of which hours are told.
pub const MOST_HOURS: i32 = 7;
/// Most records of one day that are told at once.
pub const MOST_OF_A_DAY: usize = 400;

/// A stretch of days.
#[derive(Clone, Debug, PartialEq)]
pub struct Stretch {
    pub days: Vec<AlmanacDay>,
    pub weeks: Vec<AlmanacWeek>,
    /// The records that are marked in it, each once.
    pub rows: Vec<Row>,
    pub marks: Vec<Mark>,
    /// How many records have no day by the first of the dates.
    pub without: usize,
    /// The same in words.
    pub without_counted: String,
    /// The first of them.
    pub waiting: Vec<Row>,
    /// Where hours are asked for: those of each day, and what each of those who are out carries.
    pub hours: Vec<DayHours>,
    pub carriers: Vec<Carrier>,
}

/// A day that holds something.
#[derive(Clone, Debug, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct AlmanacDay {
    #[cfg_attr(feature = "openapi", schema(value_type = String))]
    pub day: Date,
    /// How many marks stand on it, those that are not told included.
    pub count: usize,
}

/// A week, by what it holds of the first of the dates.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct AlmanacWeek {
    /// Its first day.
    #[cfg_attr(feature = "openapi", schema(value_type = String))]
    pub start: Date,
    pub number: i8,
    pub count: usize,
    /// The same in words.
    pub counted: String,
    pub tallies: Vec<TallyFigure>,
    /// What it holds beyond what it should, in words; empty: it does not.
    pub over: String,
}

/// A record at its day.
#[derive(Clone, Debug, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct Mark {
    pub record: RecordId,
    /// Which of the dates it is, from 0.
    pub date: usize,
    #[cfg_attr(feature = "openapi", schema(value_type = String))]
    pub start: Date,
    #[cfg_attr(feature = "openapi", schema(value_type = String))]
    pub end: Date,
}

/// Which stretch is asked for.
#[derive(Clone, Copy, Debug)]
pub struct Asked {
    pub from: Date,
    pub to: Date,
    /// Most marks that are told of one day.
    pub of_a_day: usize,
    /// Most records without a day that are told.
    pub waiting: usize,
    /// Whether hours are told too, of at most [`MOST_HOURS`] days.
    pub hours: bool,
    /// On which day weeks begin.
    pub week_begins: Weekday,
}

/// One of the dates, made ready.
struct Days<'a, 'd> {
    lens: &'a Lens<'d>,
    start: Reader<'a>,
    end: Option<Reader<'a>>,
}

impl Days<'_, '_> {
    fn day(&self, cell: Cell<'_>) -> Option<(Date, Date)> {
        match cell {
            Cell::Date(day) => Some((day, day)),
            Cell::Instant(at) => {
                let day = at.to_zoned(self.lens.clock().zone.clone()).date();
                Some((day, day))
            }
            Cell::Range(start, end) => Some((start, end)),
            _ => None,
        }
    }

    /// From which day to which a record is marked. One that ends before it begins is marked where it begins.
    fn of(&self, row: usize) -> Option<(Date, Date)> {
        let (start, own_end) = self.day(self.start.cell(row))?;
        let end = self.end.as_ref().and_then(|reader| self.day(reader.cell(row))).map_or(own_end, |(_, end)| end);
        Some((start, end.max(start)))
    }
}

impl Query {
    /// What stands on the days of a stretch. Costs one pass over the table.
    pub fn stretch(&self, lens: &Lens<'_>, table: TableId, asked: &Asked) -> Stretch {
        let Shape::Calendar(almanac) = &self.shape else { return Stretch::empty() };
        let ready =
            |date: &AlmanacDate| Days { lens, start: lens.reader(table, date.start), end: date.end.map(|end| lens.reader(table, end)) };
        let dates: Vec<Days<'_, '_>> = almanac.dates.iter().map(ready).collect();
        let in_order = self.run(lens, table, &super::Window { rows: 0..usize::MAX, ..super::Window::default() }).window;
        let mut counts: BTreeMap<Date, usize> = BTreeMap::new();
        let mut told: BTreeMap<Date, usize> = BTreeMap::new();
        let mut marks = Vec::new();
        let (mut without, mut waiting) = (0_usize, Vec::new());
        for record in in_order {
            for (date, days) in dates.iter().enumerate() {
                let Some((start, end)) = days.of(record.row()) else {
                    if date == 0 {
                        without = without.saturating_add(1);
                        waiting.extend(Some(record).filter(|_| waiting.len() < asked.waiting));
                    }
                    continue;
                };
                if end < asked.from || start > asked.to {
                    continue;
                }
                let first = start.max(asked.from);
                for day in days_from(first, end.min(asked.to)) {
                    *counts.entry(day).or_default() += 1;
                }
                let here = told.entry(first).or_default();
                if *here < asked.of_a_day {
                    *here += 1;
                    marks.push(Mark { record, date, start, end });
                }
            }
        }
        let (hours, carriers) = if asked.hours { self.hours(lens, table, almanac, asked) } else { Default::default() };
        let told = self.rows(lens, table);
        let mut records: Vec<RecordId> = Vec::new();
        let mut seen = std::collections::HashSet::new();
        records.extend(marks.iter().map(|mark| mark.record).filter(|record| seen.insert(*record)));
        Stretch {
            days: counts.into_iter().map(|(day, count)| AlmanacDay { day, count }).collect(),
            weeks: self.weeks(lens, table, almanac, asked),
            rows: told(&records),
            marks,
            without,
            without_counted: super::words::counted(lens, table, without),
            waiting: told(&waiting),
            hours,
            carriers,
        }
    }

    /// Each week of a stretch, weighed by the first of the dates.
    fn weeks(&self, lens: &Lens<'_>, table: TableId, almanac: &Almanac, asked: &Asked) -> Vec<AlmanacWeek> {
        let Some(date) = almanac.dates.first() else { return Vec::new() };
        let days = Days { lens, start: lens.reader(table, date.start), end: None };
        let first = asked.week_of(asked.from);
        let weeks: Vec<Date> =
            std::iter::successors(Some(first), |week| plus_days(*week, 7)).take_while(|week| *week <= asked.to).collect();
        let week_of = |row: usize| {
            let (day, _) = days.of(row)?;
            let away = usize::try_from(days_between(first, day)).ok()? / 7;
            (away < weeks.len()).then_some((row, small(away)))
        };
        let within: Vec<(usize, u32)> = self.condition.matching(lens, table).ones().filter_map(week_of).collect();
        let shown: FixedBitSet = within.iter().map(|(row, _)| *row).collect();
        let of_row: Vec<u32> = within.iter().map(|(_, week)| *week).collect();
        let mut counts = vec![0_usize; weeks.len()];
        of_row.iter().for_each(|week| counts[*week as usize] += 1);
        let tallies = Tallies::new(lens, table, &self.tallies, &shown, &of_row, weeks.len());
        let unit = self.tallies.first().and_then(|tally| lens.dataset().shown_kind(table, tally.field)).map(|(_, kind)| kind.clone());
        let customs = lens.clock().customs();
        let words = |number: Decimal| match &unit {
            Some(kind) if kind.is_number() => kind.number_words(number, 0, customs),
            _ => customs.number_text(number, 0, ""),
        };
        let weighed = |(place, (start, count)): (usize, (Date, usize))| {
            let tallies = if count == 0 { Vec::new() } else { tallies.over(place..place.saturating_add(1)) };
            let weight = tallies.first().map_or_else(|| Some(Decimal::from(count)), |tally| tally.value);
            let over = almanac.cap.zip(weight).and_then(|(cap, weight)| weight.checked_sub(cap)).filter(|over| *over > Decimal::ZERO);
            AlmanacWeek {
                start,
                // As most of its days have it.
                number: plus_days(start, 3).unwrap_or(start).iso_week_date().week(),
                count,
                counted: super::words::counted(lens, table, count),
                tallies,
                over: over.map(|over| format!("{} too many", words(over))).unwrap_or_default(),
            }
        };
        weeks.into_iter().zip(counts).enumerate().map(weighed).collect()
    }
}

impl Asked {
    /// The first day of the week in which a day lies; where the calendar begins within it, that day.
    fn week_of(&self, day: Date) -> Date {
        let into = i64::from(day.weekday().since(self.week_begins));
        plus_days(day, into.saturating_neg()).unwrap_or(day)
    }
}

impl Stretch {
    fn empty() -> Self {
        Self {
            days: Vec::new(),
            weeks: Vec::new(),
            rows: Vec::new(),
            marks: Vec::new(),
            without: 0,
            without_counted: String::new(),
            waiting: Vec::new(),
            hours: Vec::new(),
            carriers: Vec::new(),
        }
    }
}

/// The days from one to another, both included.
fn days_from(start: Date, end: Date) -> impl Iterator<Item = Date> {
    std::iter::successors(Some(start), |day| day.tomorrow().ok()).take_while(move |day| *day <= end)
}
