//! Functions over dates and times. A date is a civil day; a date and time is read off the clock on the wall of the
//! tracker's zone; a time of day is a number, the part of a day that has gone.

use super::{Function, Gives, Run, Takes};
use crate::{
    formula::{
        arithmetic::{between, plus},
        eval::{Calc, Stop, Val, date, number, serial_of_time},
    },
    value::{CalcError, Value, days_on, months_on, read_date, read_time},
};
use jiff::civil::{Date, DateTime, Weekday};
use rust_decimal::Decimal;
use std::collections::HashSet;

macro_rules! day {
    ($name:literal, $params:expr, $gives:expr, $help:literal, $example:literal => $result:literal, $run:expr) => {
        Function {
            name: $name,
            group: "Dates",
            params: $params,
            gives: $gives,
            help: $help,
            example: ($example, $result),
            run: Run::Strict($run),
        }
    };
}

const D: Takes = Takes::Day;
const N: Takes = Takes::Number;
const ONE: &[(&str, Takes)] = &[("date", D)];
const TIME: &[(&str, Takes)] = &[("time", D)];
const TEXT: &[(&str, Takes)] = &[("text", Takes::Text)];
const MONTHS: &[(&str, Takes)] = &[("date", D), ("months", N)];

pub(super) const TABLE: &[Function] = &[
    day!("AT", &[("date", D), ("time", Takes::Any)], Gives::Moment, "The date and time of a date and a time of day, which may be a text such as 15:40.", "AT(DATE(2026, 11, 18), \"15:40\")" => "18 Nov 2026, 15:40", |a| {
        let day = a.day(0)?;
        let time = match a.one(1)? {
            Value::Empty => return Err(Stop::Empty),
            Value::Text(time) => read_time(&time).ok_or(CalcError::WrongValue)?,
            _ => a.moment(1)?.time(),
        };
        a.env.instant(day.to_datetime(time)).map(Val::One)
    }),
    day!("DATE", &[("year", N), ("month", N), ("day", N)], Gives::Date, "The date; months over 12 and days over a month’s end run on.", "DATE(2026, 14, 1)" => "1 Feb 2027", |a| {
        let (year, month, day) = (a.whole_or(0, 0)?, a.whole_or(1, 1)?, a.whole_or(2, 1)?);
        let year = i16::try_from(year).map_err(|_| CalcError::NoNumber)?;
        let first = Date::new(year, 1, 1).map_err(|_| CalcError::NoNumber)?;
        let month = plus_months(first, month.saturating_sub(1))?;
        date(plus(month, day.saturating_sub(1))?)
    }),
    day!("DATEDIF", &[("from", D), ("to", D), ("unit", Takes::Text)], Gives::Number, "Whole years \"y\", months \"m\" or days \"d\" between two dates; \"md\", \"ym\", \"yd\" leave out the larger units.", "DATEDIF(DATE(2025, 3, 31), DATE(2026, 11, 18), \"m\")" => "19", |a| {
        let (from, to) = (a.day(0)?, a.day(1)?);
        if from > to {
            return Err(CalcError::NoNumber.into());
        }
        let months = whole_months(from, to);
        let found = match a.text(2)?.to_lowercase().as_str() {
            "y" => months / 12,
            "m" => months,
            "d" => between(from, to),
            "ym" => months % 12,
            "md" => between(months_on(from, months), to),
            "yd" => between(months_on(from, months / 12 * 12), to),
            _ => return Err(CalcError::WrongValue.into()),
        };
        number(Decimal::from(found))
    }),
    day!("DATEVALUE", TEXT, Gives::Date, "The date in a text.", "DATEVALUE(\"2026-11-18\")" => "18 Nov 2026", |a| {
        match read_date(a.text(0)?.trim(), a.env.locale(), a.env.clock()) {
            Some(found) => date(found),
            None => Err(CalcError::WrongValue.into()),
        }
    }),
    day!("DAY", ONE, Gives::Number, "The day of the month.", "DAY(DATE(2026, 11, 18))" => "18", |a| number(Decimal::from(a.day(0)?.day()))),
    day!("DAYS", &[("to", D), ("from", D)], Gives::Number, "The days between two dates.", "DAYS(DATE(2026, 12, 1), DATE(2026, 11, 18))" => "13", |a| {
        number(Decimal::from(between(a.day(1)?, a.day(0)?)))
    }),
    day!("DAYS360", &[("from", D), ("to", D), ("[european]", Takes::Logical)], Gives::Number, "The days between two dates in a year of twelve months of 30 days.", "DAYS360(DATE(2026, 1, 31), DATE(2026, 3, 1))" => "31", |a| {
        let european = a.len() > 2 && a.yes(2)?;
        number(Decimal::from(days_360(a.day(0)?, a.day(1)?, european)))
    }),
    day!("EDATE", MONTHS, Gives::Date, "The date so many months later; at a month’s end at the latest.", "EDATE(DATE(2026, 1, 31), 1)" => "28 Feb 2026", |a| {
        date(plus_months(a.day(0)?, a.whole_or(1, 0)?)?)
    }),
    day!("EOMONTH", MONTHS, Gives::Date, "The last day of the month so many months later.", "EOMONTH(DATE(2026, 1, 15), 1)" => "28 Feb 2026", |a| {
        date(plus_months(a.day(0)?, a.whole_or(1, 0)?)?.last_of_month())
    }),
    day!("HOUR", TIME, Gives::Number, "The hour of a time.", "HOUR(TIME(15, 40, 0))" => "15", |a| number(Decimal::from(a.moment(0)?.hour()))),
    day!("ISOWEEKNUM", ONE, Gives::Number, "The number of the week after ISO 8601.", "ISOWEEKNUM(DATE(2026, 1, 1))" => "1", |a| number(Decimal::from(a.day(0)?.iso_week_date().week()))),
    day!("MINUTE", TIME, Gives::Number, "The minute of a time.", "MINUTE(TIME(15, 40, 0))" => "40", |a| number(Decimal::from(a.moment(0)?.minute()))),
    day!("MONTH", ONE, Gives::Number, "The month, from 1.", "MONTH(DATE(2026, 11, 18))" => "11", |a| number(Decimal::from(a.day(0)?.month()))),
    day!("NETWORKDAYS", &[("from", D), ("to", D), ("[free days]", Takes::Days)], Gives::Number, "The working days from one date to another, both included: Monday to Friday, less the free days.", "NETWORKDAYS(DATE(2026, 11, 16), DATE(2026, 11, 22))" => "5", |a| {
        let (from, to, free) = (a.day(0)?, a.day(1)?, a.days_from(2)?);
        let (first, last, sign) = if from <= to { (from, to, 1) } else { (to, from, -1) };
        let span = between(first, last) + 1;
        let weeks = span / 7;
        let rest = (weeks * 7..span).filter(|n| is_working(days_on(first, *n))).count();
        // A day that is free twice is free once.
        let free: HashSet<Date> = free.into_iter().collect();
        let lost = free.iter().filter(|d| first <= **d && **d <= last && is_working(**d)).count();
        let counted = |days: usize| i64::try_from(days).unwrap_or(i64::MAX);
        number(Decimal::from(sign * (weeks * 5 + counted(rest) - counted(lost))))
    }),
    day!("NOW", &[], Gives::Moment, "This moment, to the minute.", "NOW() - NOW()" => "0", |a| Ok(Val::One(Value::Instant(a.env.this_minute())))),
    day!("SECOND", TIME, Gives::Number, "The second of a time.", "SECOND(TIME(15, 40, 7))" => "7", |a| number(Decimal::from(a.moment(0)?.second()))),
    day!("TIME", &[("hours", N), ("minutes", N), ("seconds", N)], Gives::Time, "A time of day, as part of a day.", "TIME(12, 0, 0)" => "0.5", |a| {
        let seconds = a.whole_or(0, 0)?.checked_mul(3_600).zip(a.whole_or(1, 0)?.checked_mul(60));
        let seconds = seconds.and_then(|(h, m)| h.checked_add(m)).zip(Some(a.whole_or(2, 0)?)).and_then(|(hm, s)| hm.checked_add(s));
        let seconds = seconds.ok_or(CalcError::NoNumber)?.rem_euclid(86_400);
        number(divided(seconds, 86_400)?)
    }),
    day!("TIMEVALUE", TEXT, Gives::Time, "The time of day in a text.", "TIMEVALUE(\"6:00\")" => "0.25", |a| match read_time(&a.text(0)?) {
        Some(time) => number(serial_of_time(time)),
        None => Err(CalcError::WrongValue.into()),
    }),
    day!("TODAY", &[], Gives::Date, "The day it is, in the tracker’s time zone.", "TODAY() - TODAY()" => "0", |a| date(a.env.today())),
    day!("WEEKDAY", &[("date", D), ("[kind]", N)], Gives::Number, "The day of the week: 1 is Sunday; with kind 2, 1 is Monday; with kind 3, Monday is 0; with 11 to 17, 1 is Monday, Tuesday … Sunday.", "WEEKDAY(DATE(2026, 11, 23), 2)" => "1", |a| {
        let day = a.day(0)?.weekday();
        let found = match a.whole_or(1, 1)? {
            3 => day.to_monday_zero_offset(),
            kind => (day.to_monday_zero_offset() - begins(kind)?).rem_euclid(7) + 1,
        };
        number(Decimal::from(found))
    }),
    day!("WEEKNUM", &[("date", D), ("[kind]", N)], Gives::Number, "The number of the week; the first has 1 January. Weeks begin on Sunday, with kind 2 on Monday, with 11 to 17 on Monday, Tuesday … Sunday; kinds 21 and 150 are ISO’s.", "WEEKNUM(DATE(2026, 1, 4))" => "2", |a| {
        let day = a.day(0)?;
        let kind = a.whole_or(1, 1)?;
        if matches!(kind, 21 | 150) {
            return number(Decimal::from(day.iso_week_date().week()));
        }
        let first = day.first_of_year();
        let into_week = (first.weekday().to_monday_zero_offset() - begins(kind)?).rem_euclid(7);
        number(Decimal::from((between(first, day) + i64::from(into_week)) / 7 + 1))
    }),
    day!("WORKDAY", &[("date", D), ("days", N), ("[free days]", Takes::Days)], Gives::Date, "The date so many working days later.", "WORKDAY(DATE(2026, 11, 20), 1)" => "23 Nov 2026", |a| {
        let (from, days, free) = (a.day(0)?, a.whole_or(1, 0)?, a.days_from(2)?);
        if days.unsigned_abs() > 100_000 {
            return Err(CalcError::NoNumber.into());
        }
        // Each day is looked at.
        a.env.take(days.unsigned_abs())?;
        let free: HashSet<Date> = free.into_iter().collect();
        let (mut at, mut left) = (from, days.unsigned_abs());
        while left > 0 {
            at = plus(at, days.signum())?;
            left -= u64::from(is_working(at) && !free.contains(&at));
        }
        date(at)
    }),
    day!("YEAR", ONE, Gives::Number, "The year.", "YEAR(DATE(2026, 11, 18))" => "2026", |a| number(Decimal::from(a.day(0)?.year()))),
    day!("YEARFRAC", &[("from", D), ("to", D), ("[basis]", N)], Gives::Number, "The part of a year between two dates; basis 0 counts 30 of 360, 1 as they are, 2 of 360, 3 of 365, 4 European 30 of 360.", "YEARFRAC(DATE(2026, 1, 1), DATE(2026, 7, 1))" => "0.5", |a| {
        let (a0, a1) = (a.day(0)?, a.day(1)?);
        let (from, to) = (a0.min(a1), a0.max(a1));
        let actual = between(from, to);
        number(match a.whole_or(2, 0)? {
            0 => divided(days_360(from, to, false), 360)?,
            1 => divided(actual, average_year(from, to)?)?,
            2 => divided(actual, 360)?,
            3 => divided(actual, 365)?,
            4 => divided(days_360(from, to, true), 360)?,
            _ => return Err(CalcError::NoNumber.into()),
        })
    }),
];

fn divided(number: impl Into<Decimal>, by: impl Into<Decimal>) -> Calc<Decimal> {
    crate::formula::arithmetic::divided(number.into(), by.into())
}

fn plus_months(day: Date, months: i64) -> Calc<Date> {
    crate::value::plus_months(day, months).ok_or_else(|| CalcError::NoNumber.into())
}

fn whole_months(from: Date, to: Date) -> i64 {
    let months = i64::from(to.year() - from.year()) * 12 + i64::from(to.month()) - i64::from(from.month());
    months - i64::from(to.day() < from.day())
}

/// Where weeks of a kind begin, in days after Monday.
fn begins(kind: i64) -> Calc<i8> {
    match kind {
        1 | 17 => Ok(6),
        2 | 11 => Ok(0),
        12..=16 => i8::try_from(kind - 11).map_err(|_| CalcError::NoNumber.into()),
        _ => Err(CalcError::NoNumber.into()),
    }
}

fn is_working(day: Date) -> bool {
    !matches!(day.weekday(), Weekday::Saturday | Weekday::Sunday)
}

fn days_360(from: Date, to: Date, european: bool) -> i64 {
    let (mut d1, mut d2) = (i64::from(from.day()), i64::from(to.day()));
    let february_ends = |d: Date| d.month() == 2 && d == d.last_of_month();
    if european {
        (d1, d2) = (d1.min(30), d2.min(30));
    } else {
        if february_ends(from) {
            if february_ends(to) {
                d2 = 30;
            }
            d1 = 30;
        }
        d1 = d1.min(30);
        if d1 == 30 && d2 == 31 {
            d2 = 30;
        }
    }
    let (y, m) = (i64::from(to.year() - from.year()), i64::from(to.month()) - i64::from(from.month()));
    360 * y + 30 * m + d2 - d1
}

/// The average length of the years between, as basis 1 counts.
fn average_year(from: Date, to: Date) -> Calc<Decimal> {
    let within_one_year = months_on(from, 12) >= to;
    if within_one_year {
        let leaps = (from.year()..=to.year()).any(|year| {
            Date::new(year, 2, 29).is_ok_and(|leap| (from.year() == to.year() || (from <= leap && leap <= to)) && leap.in_leap_year())
        });
        return Ok(Decimal::from(if leaps { 366 } else { 365 }));
    }
    let days: i64 = (from.year()..=to.year()).map(|y| Date::new(y, 1, 1).map_or(365, |d| i64::from(d.days_in_year()))).sum();
    divided(days, i64::from(to.year() - from.year()) + 1)
}

/// A date and time by a picture: `yyyy`, `yy`, `mmmm`, `mmm`, `mm`, `m`, `dddd`, `ddd`, `dd`, `d`, `hh`, `h`, `ss`, `s`;
/// `m` is minutes behind `h` or before `s`.
pub(super) fn pictured(moment: DateTime, picture: &str) -> String {
    let mut text = String::new();
    let letters: Vec<char> = picture.chars().collect();
    let mut after_hours = false;
    let mut at = 0;
    while let Some(letter) = letters.get(at).copied() {
        let run = letters[at..].iter().take_while(|c| **c == letter).count();
        let small = letter.to_ascii_lowercase();
        let seconds_follow = letters[at + run..].iter().find(|c| c.is_ascii_alphabetic()).is_some_and(|c| c.eq_ignore_ascii_case(&'s'));
        let minutes = small == 'm' && (after_hours || seconds_follow) && run <= 2;
        let two = |n: i8| if run >= 2 { format!("{n:02}") } else { n.to_string() };
        let named = |format: &str| moment.strftime(format).to_string();
        let piece = match (small, run) {
            ('y', 1 | 2) => format!("{:02}", moment.year().rem_euclid(100)),
            ('y', _) => format!("{:04}", moment.year()),
            ('m', _) if minutes => two(moment.minute()),
            ('m', 1 | 2) => two(moment.month()),
            ('m', 3) => named("%b"),
            ('m', _) => named("%B"),
            ('d', 1 | 2) => two(moment.day()),
            ('d', 3) => named("%a"),
            ('d', _) => named("%A"),
            ('h', _) => two(moment.hour()),
            ('s', _) => two(moment.second()),
            _ => letters[at..at + run].iter().collect(),
        };
        if small.is_ascii_alphabetic() {
            after_hours = small == 'h';
        }
        text.push_str(&piece);
        at += run;
    }
    text
}
