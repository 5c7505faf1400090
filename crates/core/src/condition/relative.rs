//! Days named from today.

use crate::value::{days_on, months_on};
use jiff::{
    Unit,
    civil::{Date, DateDifference, Weekday},
};
use serde::{Deserialize, Serialize};

/// A day, fixed or from today.
#[derive(Clone, Copy, Debug, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
#[serde(rename_all = "lowercase")]
pub enum When {
    Date(Date),
    /// So many days from today; negative before it.
    Today(i32),
}

/// A run of days, as they lie from today. Weeks begin on Monday.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
#[serde(rename_all = "snake_case")]
pub enum Period {
    Today,
    Yesterday,
    Tomorrow,
    ThisWeek,
    LastWeek,
    NextWeek,
    ThisMonth,
    LastMonth,
    NextMonth,
    ThisQuarter,
    LastQuarter,
    ThisYear,
    LastYear,
    /// Today and the days before it, so many in all.
    LastDays(u32),
    /// Today and the days after it, so many in all.
    NextDays(u32),
}

impl When {
    /// The day it means, given today. Days beyond the calendar stop at its ends.
    pub fn day(self, today: Date) -> Date {
        match self {
            When::Date(date) => date,
            When::Today(days) => days_on(today, i64::from(days)),
        }
    }
}

impl Period {
    /// Its first and last day, given today.
    pub fn days(self, today: Date) -> (Date, Date) {
        let week = |weeks: i64| {
            let monday = days_on(today, 7 * weeks - i64::from(today.weekday().since(Weekday::Monday)));
            (monday, days_on(monday, 6))
        };
        let months = |first: Date, count: i64| (first, days_on(months_on(first, count), -1));
        let month = |offset: i64| months(months_on(today.first_of_month(), offset), 1);
        let quarter = |offset: i64| {
            let into = i64::from((today.month() - 1) % 3);
            months(months_on(today.first_of_month(), 3 * offset - into), 3)
        };
        let year = |offset: i64| months(months_on(today.first_of_year(), 12 * offset), 12);
        match self {
            Period::Today => (today, today),
            Period::Yesterday => (days_on(today, -1), days_on(today, -1)),
            Period::Tomorrow => (days_on(today, 1), days_on(today, 1)),
            Period::ThisWeek => week(0),
            Period::LastWeek => week(-1),
            Period::NextWeek => week(1),
            Period::ThisMonth => month(0),
            Period::LastMonth => month(-1),
            Period::NextMonth => month(1),
            Period::ThisQuarter => quarter(0),
            Period::LastQuarter => quarter(-1),
            Period::ThisYear => year(0),
            Period::LastYear => year(-1),
            Period::LastDays(days) => (days_on(today, 1 - i64::from(days)), today),
            Period::NextDays(days) => (today, days_on(today, i64::from(days) - 1)),
        }
    }

    /// As it stands in a sentence after the field's name and *is*.
    pub fn words(self) -> String {
        match self {
            Period::Today => "today".into(),
            Period::Yesterday => "yesterday".into(),
            Period::Tomorrow => "tomorrow".into(),
            Period::ThisWeek => "this week".into(),
            Period::LastWeek => "last week".into(),
            Period::NextWeek => "next week".into(),
            Period::ThisMonth => "this month".into(),
            Period::LastMonth => "last month".into(),
            Period::NextMonth => "next month".into(),
            Period::ThisQuarter => "this quarter".into(),
            Period::LastQuarter => "last quarter".into(),
            Period::ThisYear => "this year".into(),
            Period::LastYear => "last year".into(),
            Period::LastDays(days) => format!("in the last {days} days"),
            Period::NextDays(days) => format!("in the next {days} days"),
        }
    }
}

/// Whole days from one date to another.
pub fn days_between(from: Date, to: Date) -> i32 {
    from.until(DateDifference::new(to).largest(Unit::Day)).map_or(0, |span| span.get_days())
}
