//! Dates and times as people write them. What can be read two ways is read as the reading says, never by a guess.

use super::{Locale, plus_days};
use crate::Clock;
use jiff::civil::{Date, Time};
use serde::{Deserialize, Serialize};

/// The order of the parts of a date in numbers.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
#[serde(rename_all = "lowercase")]
pub enum DateOrder {
    Day,
    Month,
    Year,
}

/// The first of the hundred years that years of two digits mean, where nothing else is said: 1950 to 2049.
pub const YEARS_FROM: i16 = 1950;

/// How dates are read.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub struct DateReading {
    pub order: DateOrder,
    /// The first of the hundred years that years of two digits mean.
    pub years_from: i16,
    /// The day that *tomorrow* and dates without a year are told from; none: such dates are not understood.
    pub today: Option<Date>,
}

impl DateReading {
    /// As they are typed here and now.
    pub fn typed(locale: Locale, clock: &Clock) -> Self {
        let order = if locale.day_first { DateOrder::Day } else { DateOrder::Month };
        Self { order, years_from: YEARS_FROM, today: Some(clock.today()) }
    }

    fn year(self, text: &str) -> Option<i16> {
        let digits = text.strip_prefix(['\'', '’']).unwrap_or(text);
        let number: i16 = digits.parse().ok().filter(|_| digits.bytes().all(|b| b.is_ascii_digit()))?;
        match digits.len() {
            4 => Some(number),
            2 => {
                let century = self.years_from.checked_sub(self.years_from.rem_euclid(100))?;
                let year = century.checked_add(number)?;
                if year < self.years_from { year.checked_add(100) } else { Some(year) }
            }
            _ => None,
        }
    }
}

/// The months in the languages that files are about in, each with its number; short forms are beginnings of these.
const MONTHS: [(i8, &str); 12] = [
    (1, "january januar janvier enero gennaio januari janeiro jänner"),
    (2, "february februar février fevrier febrero febbraio februari fevereiro feber"),
    (3, "march märz maerz mrz mars marzo maart março"),
    (4, "april avril abril aprile"),
    (5, "may mai mayo maggio mei maio maj"),
    (6, "june juni juin junio giugno junho"),
    (7, "july juli juillet julio luglio julho"),
    (8, "august août aout agosto augustus augusti"),
    (9, "september sept septembre septiembre settembre setembro"),
    (10, "october oktober octobre octubre ottobre outubro"),
    (11, "november novembre noviembre novembro"),
    (12, "december dezember décembre decembre diciembre dicembre dezembro desember"),
];

/// Days of the week, which may stand before a date and say nothing more.
const WEEKDAYS: &str = "monday tuesday wednesday thursday friday saturday sunday montag dienstag mittwoch donnerstag freitag samstag \
    sonnabend sonntag lundi mardi mercredi jeudi vendredi samedi dimanche";

/// A month by its number or its name, which may be cut off behind the third letter.
fn month(text: &str) -> Option<i8> {
    if let Ok(number) = text.parse::<i8>() {
        return Some(number).filter(|_| text.len() <= 2);
    }
    month_by_name(text)
}

fn month_by_name(text: &str) -> Option<i8> {
    if !text.starts_with(char::is_alphabetic) || text.chars().count() < 3 {
        return None;
    }
    let text = text.to_lowercase();
    let begins = |names: &str| names.split(' ').any(|name| name.starts_with(&text));
    let mut found = MONTHS.iter().filter(|(_, names)| begins(names)).map(|(number, _)| *number);
    found.next().filter(|_| found.next().is_none())
}

fn is_weekday(text: &str) -> bool {
    let text = text.to_lowercase();
    text.chars().count() >= 2 && WEEKDAYS.split(' ').any(|day| day.starts_with(&text))
}

/// A day of the month; *1st* and *1er* too.
fn day_number(text: &str) -> Option<i8> {
    let digits = ["st", "nd", "rd", "th", "er", "º", "ª"].iter().find_map(|ending| text.strip_suffix(ending)).unwrap_or(text);
    digits.parse().ok().filter(|_| (1..=2).contains(&digits.len()) && digits.bytes().all(|b| b.is_ascii_digit()))
}

/// A date as typed here, if it can be read in one way.
pub(crate) fn read_date(text: &str, locale: Locale, clock: &Clock) -> Option<Date> {
    read_day(text, DateReading::typed(locale, clock))
}

/// A date, if it can be read in one way.
pub fn read_day(text: &str, reading: DateReading) -> Option<Date> {
    let text = text.trim();
    if text.len() > 60 {
        return None;
    }
    if let Some(today) = reading.today {
        match text.to_lowercase().as_str() {
            "today" => return Some(today),
            "tomorrow" => return plus_days(today, 1),
            "yesterday" => return plus_days(today, -1),
            _ => {}
        }
    }
    if text.len() == 8 && text.bytes().all(|b| b.is_ascii_digit()) {
        return Date::new(text[..4].parse().ok()?, text[4..6].parse().ok()?, text[6..].parse().ok()?).ok();
    }
    if !text.contains(|c: char| c.is_ascii_digit()) {
        return None;
    }
    let mut parts: Vec<&str> = text.split([' ', '\u{a0}', '/', '-', '\u{2010}', '\u{2011}', '.', ',']).filter(|p| !p.is_empty()).collect();
    if parts.len() > 7 {
        return None;
    }
    // Most dates are numbers alone.
    let worded = text.contains(char::is_alphabetic);
    if worded {
        if parts.len() > 2 && is_weekday(parts[0]) && month_by_name(parts[0]).is_none() {
            parts.remove(0);
        }
        parts.retain(|part| !matches!(part.to_lowercase().as_str(), "de" | "of" | "the"));
    }
    let named = if worded { parts.iter().position(|part| month_by_name(part).is_some()) } else { None };
    let (year, month, day) = match (&parts[..], named) {
        ([y, m, d], _) if y.len() == 4 && y.bytes().all(|b| b.is_ascii_digit()) => (reading.year(y)?, month(m)?, day_number(d)?),
        ([y, m, d], Some(1)) if reading.order == DateOrder::Year && d.len() <= 2 => (reading.year(y)?, month(m)?, day_number(d)?),
        ([d, m, y], Some(1)) | ([m, d, y], Some(0)) => (reading.year(y)?, month(m)?, day_number(d)?),
        ([y, d, m], Some(2)) if y.len() == 4 => (reading.year(y)?, month(m)?, day_number(d)?),
        ([a, b, c], None) => in_numbers(a, b, c, reading)?,
        // Without a year, this one.
        ([d, m], Some(1)) | ([m, d], Some(0)) => (reading.today?.year(), month(m)?, day_number(d)?),
        ([a, b], None) => {
            let (d, m) = if reading.order == DateOrder::Day { (a, b) } else { (b, a) };
            (reading.today?.year(), month(m)?, day_number(d)?)
        }
        _ => return None,
    };
    Date::new(year, month, day).ok()
}

fn in_numbers(a: &str, b: &str, c: &str, reading: DateReading) -> Option<(i16, i8, i8)> {
    let small = |text: &str| text.parse::<i8>().ok().filter(|_| text.len() <= 2 && text.bytes().all(|b| b.is_ascii_digit()));
    match reading.order {
        DateOrder::Year if c.len() <= 2 => Some((reading.year(a)?, small(b)?, small(c)?)),
        DateOrder::Month => Some((reading.year(c)?, small(a)?, small(b)?)),
        DateOrder::Day | DateOrder::Year => Some((reading.year(c)?, small(b)?, small(a)?)),
    }
}

/// From one day to another, both included; what the first leaves out stands with the second: *3–5 March 2026*.
pub fn read_range(text: &str, reading: DateReading) -> Option<(Date, Date)> {
    let text = text.trim();
    if let Some(day) = read_day(text, reading) {
        return Some((day, day));
    }
    let bare = ["from ", "von ", "du "].iter().find_map(|word| text.strip_prefix(word)).unwrap_or(text);
    let signs = [" – ", "–", "—", " to ", " until ", " bis ", " au ", " - ", "..", "/", "-"];
    signs.iter().find_map(|sign| {
        let (first, last) = bare.split_once(sign)?;
        let end = read_day(last, reading)?;
        let start = read_day(first, reading).or_else(|| completed(first.trim(), end, reading))?;
        Some((start, end))
    })
}

/// A first day that leaves out what the last one says: its year, or its month and year.
fn completed(first: &str, end: Date, reading: DateReading) -> Option<Date> {
    let digits = first.trim_end_matches('.');
    if let Some(day) = day_number(digits) {
        return Date::new(end.year(), end.month(), day).ok();
    }
    let begin = Date::new(end.year(), 1, 1).ok();
    read_day(first, DateReading { today: begin, ..reading }).filter(|_| first.contains(|c: char| c.is_ascii_digit()))
}

/// `15:40`, `15:40:30`, `3:40 pm`, `3 pm`, `15h40`.
pub fn read_time(text: &str) -> Option<Time> {
    let lower = text.trim().to_lowercase();
    let halves = [("a.m.", 0), ("am", 0), ("p.m.", 12), ("pm", 12)];
    let half = halves.iter().find_map(|(word, half)| lower.strip_suffix(word).map(|bare| (bare.trim().to_owned(), Some(*half))));
    let (bare, half) = half.unwrap_or_else(|| (lower.trim_end_matches(" uhr").to_owned(), None));
    let bare = match bare.split_once('h') {
        Some((hour, minute)) if minute.len() == 2 => format!("{hour}:{minute}"),
        _ => bare,
    };
    let mut parts = bare.split(':');
    let two = |part: &str| part.parse::<i8>().ok().filter(|_| part.len() <= 2 && part.bytes().all(|b| b.is_ascii_digit()));
    let hour = two(parts.next()?)?;
    let minute = match parts.next() {
        Some(minute) => two(minute)?,
        None if half.is_some() => 0,
        None => return None,
    };
    let second = parts.next().map_or(Some(0), two)?;
    let hour = match half {
        Some(half) if (1..=12).contains(&hour) => (hour % 12).checked_add(half)?,
        Some(_) => return None,
        None => hour,
    };
    Time::new(hour, minute, second, 0).ok().filter(|_| parts.next().is_none())
}

/// A day and a time of day in one text, between a space, a comma or a `T`.
pub(crate) fn read_day_and_time(text: &str, reading: DateReading) -> Option<(Date, Time)> {
    if let Ok(moment) = text.parse::<jiff::civil::DateTime>() {
        return Some((moment.date(), moment.time()));
    }
    let places = text.char_indices().filter(|(_, c)| matches!(c, ' ' | 'T' | ',')).map(|(at, _)| at);
    places.into_iter().find_map(|at| {
        let (day, time) = (text[..at].trim_end_matches([',', ' ']), text[at..].trim_start_matches([',', ' ', 'T']));
        let time = ["at ", "um "].iter().find_map(|word| time.strip_prefix(word)).unwrap_or(time);
        Some((read_day(day, reading)?, read_time(time)?))
    })
}
