//! Days in runs: what a group of days, weeks, months, quarters or years holds together.

use crate::{condition::Period, value::Customs};
use jiff::civil::Date;
use serde::{Deserialize, Serialize};

/// How much of a day or moment a group holds together.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq, Hash, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
#[serde(rename_all = "lowercase")]
pub enum Bucket {
    /// As it stands in the cell; moments by their day.
    #[default]
    Value,
    /// Weeks begin on Monday, as they do in conditions.
    Week,
    Month,
    Quarter,
    Year,
}

impl Bucket {
    /// In the order in which they are offered.
    pub const ALL: [Self; 5] = [Self::Value, Self::Week, Self::Month, Self::Quarter, Self::Year];

    /// Whether each day stands by itself.
    pub(crate) fn is_value(&self) -> bool {
        *self == Self::Value
    }

    /// The first day of the run in which a day lies.
    pub fn start(self, day: Date) -> Date {
        self.days(day).0
    }

    /// The first and the last day of the run in which a day lies.
    pub fn days(self, day: Date) -> (Date, Date) {
        match self {
            Self::Value => (day, day),
            Self::Week => Period::ThisWeek.days(day),
            Self::Month => Period::ThisMonth.days(day),
            Self::Quarter => Period::ThisQuarter.days(day),
            Self::Year => Period::ThisYear.days(day),
        }
    }

    /// The run that begins on a day: *week 48, from 23 Nov 2026*, *November 2026*.
    pub fn text(self, start: Date, customs: Customs) -> String {
        match self {
            Self::Value => customs.date_text(start),
            Self::Week => format!("week {}, from {}", start.iso_week_date().week(), customs.date_text(start)),
            Self::Month => start.strftime("%B %Y").to_string(),
            Self::Quarter => {
                let quarter = match start.month() {
                    1..=3 => "1st",
                    4..=6 => "2nd",
                    7..=9 => "3rd",
                    _ => "4th",
                };
                format!("{quarter} quarter {}", start.year())
            }
            Self::Year => start.year().to_string(),
        }
    }

    /// The same in a head, where the year is not said again if all heads are of one.
    pub(super) fn head(self, start: Date, one_year: bool, customs: Customs) -> String {
        match self {
            Self::Month if one_year => start.strftime("%B").to_string(),
            Self::Month => start.strftime("%b %Y").to_string(),
            Self::Week => format!("week {}", start.iso_week_date().week()),
            _ => self.text(start, customs),
        }
    }

    /// What all of them together are called.
    pub(super) fn all_words(self) -> &'static str {
        match self {
            Self::Value => "all",
            Self::Week => "all weeks",
            Self::Month => "all months",
            Self::Quarter => "all quarters",
            Self::Year => "all years",
        }
    }

    /// As it stands after the field's name in a sentence: *reported on by month*.
    pub fn words(self) -> &'static str {
        match self {
            Self::Value => "as it stands",
            Self::Week => "by week",
            Self::Month => "by month",
            Self::Quarter => "by quarter",
            Self::Year => "by year",
        }
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn each_run_is_called_what_it_is() {
        let called = |by: Bucket, month| by.text(by.start(jiff::civil::date(2026, month, 15)), Customs::default());
        let quarters: Vec<String> = (1..=12).map(|month| called(Bucket::Quarter, month)).collect();
        for (months, name) in quarters.chunks(3).zip(["1st", "2nd", "3rd", "4th"]) {
            assert!(months.iter().all(|text| *text == format!("{name} quarter 2026")), "{months:?}");
        }
        assert_eq!(called(Bucket::Month, 7), "July 2026");
        assert_eq!(called(Bucket::Year, 7), "2026");
        let head = |by: Bucket, one_year| by.head(by.start(jiff::civil::date(2026, 7, 15)), one_year, Customs::default());
        assert_eq!([head(Bucket::Month, true), head(Bucket::Month, false), head(Bucket::Week, true)], ["July", "Jul 2026", "week 29"]);
    }
}
