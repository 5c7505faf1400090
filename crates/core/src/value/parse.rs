//! From what a person typed to a value, by the kind of the field. Nothing is guessed silently: what can be read
//! two ways is read as the locale says.

use super::Value;
use crate::{
    Clock,
    fault::{Fault, FaultKind},
    people::People,
    schema::Kind,
};
use jiff::{ToSpan, civil::Date, civil::DateTime, civil::Time};
use rust_decimal::Decimal;
use serde::{Deserialize, Serialize};

/// How numbers and dates are typed here.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct Locale {
    /// `3/4/2026` is 3 April.
    pub day_first: bool,
    /// `12,5` is twelve and a half.
    pub decimal_comma: bool,
}

impl Default for Locale {
    fn default() -> Self {
        Self { day_first: true, decimal_comma: false }
    }
}

/// Reads typed text as a value of this kind. Links are not typed but picked: their text is resolved by the dataset.
///
/// # Errors
/// [`FaultKind::WrongKind`], [`FaultKind::UnknownOption`] or [`FaultKind::ReadOnly`], each with what would be right.
pub fn parse(text: &str, kind: &Kind, locale: Locale, people: &People, clock: &Clock) -> Result<Value, Fault> {
    let text = text.trim();
    if text.is_empty() {
        return Ok(Value::Empty);
    }
    match kind {
        Kind::Text { .. } | Kind::LongText | Kind::Email | Kind::Phone => Ok(Value::text(text)),
        Kind::Number { unit, .. } => number(text, unit, locale).map(Value::Number),
        Kind::Date => date(text, locale, clock).map(Value::Date),
        Kind::DateTime => moment(text, locale, clock),
        Kind::Choice { options } => {
            let wanted = text.to_lowercase();
            options.iter().find(|o| o.name.to_lowercase() == wanted).map(|o| Value::Choice(o.id)).ok_or_else(|| {
                let names: Vec<&str> = options.iter().map(|o| o.name.as_str()).collect();
                Fault::new(
                    FaultKind::UnknownOption,
                    format!("“{text}” is not one of the options. Choose {}.", super::list_text(&names, "or")),
                )
            })
        }
        Kind::Person => people.find(text).map(|p| Value::Person(p.id)).ok_or_else(|| {
            Fault::new(FaultKind::WrongKind, format!("Nobody, or more than one person, is called “{text}”. Pick a person from the list."))
        }),
        Kind::Link(_) => Err(Fault::new(FaultKind::WrongKind, "Pick the record from the list.")),
        Kind::Files => Err(Fault::new(FaultKind::WrongKind, "Choose a file to put here.")),
        Kind::Numbering { .. } | Kind::CreatedAt | Kind::CreatedBy | Kind::ChangedAt | Kind::ChangedBy | Kind::Carried { .. } => {
            Err(Fault::new(FaultKind::ReadOnly, "Westerfall fills this field in by itself."))
        }
    }
}

fn number(text: &str, unit: &str, locale: Locale) -> Result<Decimal, Fault> {
    let (point, thousands) = if locale.decimal_comma { (',', '.') } else { ('.', ',') };
    let bare = text.strip_suffix(unit).unwrap_or(text).trim().replace('\u{2212}', "-");
    let wrong = || Fault::new(FaultKind::WrongKind, format!("“{text}” is not a number. Type it like 1{thousands}234{point}5."));
    let (whole, part) = bare.split_once(point).unwrap_or((&bare, ""));
    let digits = whole.strip_prefix('-').unwrap_or(whole);
    let groups: Vec<&str> = digits.split([thousands, ' ', '\u{a0}', '\u{202f}']).collect();
    let grouped_well = groups.len() == 1 || (groups[1..].iter().all(|g| g.len() == 3) && (1..=3).contains(&groups[0].len()));
    let all_digits = |s: &str| s.bytes().all(|b| b.is_ascii_digit());
    if !grouped_well || !groups.iter().all(|g| all_digits(g)) || !all_digits(part) || (digits.is_empty() && part.is_empty()) {
        return Err(wrong());
    }
    let sign = if whole.starts_with('-') { "-" } else { "" };
    let plain = format!("{sign}{}{}{part}", groups.concat(), if part.is_empty() { "" } else { "." });
    Decimal::from_str_exact(&plain).map_err(|_| Fault::new(FaultKind::WrongKind, "This number has too many digits: at most 28 fit."))
}

fn date(text: &str, locale: Locale, clock: &Clock) -> Result<Date, Fault> {
    let order = if locale.day_first { "day, month, year" } else { "month, day, year" };
    read_date(text, locale, clock)
        .ok_or_else(|| Fault::new(FaultKind::WrongKind, format!("“{text}” is not a date. Type {order}, or a date like 18 Nov 2026.")))
}

fn read_date(text: &str, locale: Locale, clock: &Clock) -> Option<Date> {
    let today = clock.today();
    match text.to_lowercase().as_str() {
        "today" => return Some(today),
        "tomorrow" => return today.checked_add(1.day()).ok(),
        "yesterday" => return today.checked_sub(1.day()).ok(),
        _ => {}
    }
    let parts: Vec<&str> = text.split([' ', '/', '-', '.', ',']).filter(|p| !p.is_empty()).collect();
    let year = |s: &str| s.parse::<i16>().ok().filter(|_| s.len() == 4);
    let small = |s: &str| s.parse::<i8>().ok().filter(|_| s.len() <= 2);
    let numeric = |a: &str, b: &str| small(a).is_some() && small(b).is_some();
    let (year, month, day) = match parts[..] {
        [y, m, d] if y.len() == 4 => (year(y)?, month_number(m)?, small(d)?),
        [d, m, y] if locale.day_first && numeric(d, m) => (year(y)?, small(m)?, small(d)?),
        [m, d, y] if !locale.day_first && numeric(m, d) => (year(y)?, small(m)?, small(d)?),
        [d, m, y] if !numeric(m, m) => (year(y)?, month_number(m)?, small(d)?),
        [m, d, y] if !numeric(m, m) => (year(y)?, month_number(m)?, small(d)?),
        // Without a year, this one.
        [a, b] if locale.day_first => (today.year(), month_number(b)?, small(a)?),
        [a, b] => (today.year(), month_number(a)?, small(b)?),
        _ => return None,
    };
    Date::new(year, month, day).ok()
}

fn month_number(text: &str) -> Option<i8> {
    const MONTHS: [&str; 12] =
        ["january", "february", "march", "april", "may", "june", "july", "august", "september", "october", "november", "december"];
    if let Ok(number) = text.parse::<i8>() {
        return Some(number);
    }
    let text = text.to_lowercase();
    let at = MONTHS.iter().position(|month| text.len() >= 3 && month.starts_with(&text))?;
    i8::try_from(at + 1).ok()
}

fn moment(text: &str, locale: Locale, clock: &Clock) -> Result<Value, Fault> {
    if let Ok(instant) = text.parse::<jiff::Timestamp>() {
        return Ok(Value::Instant(instant));
    }
    let (day, time) = match text.rsplit_once([' ', 'T']) {
        Some((day, time)) if time.contains(':') => (day.trim_end_matches(','), read_time(time)),
        _ => (text, Some(Time::midnight())),
    };
    let wrong = || Fault::new(FaultKind::WrongKind, format!("“{text}” is not a date and time. Type it like 18 Nov 2026 15:40."));
    let time = time.ok_or_else(wrong)?;
    let day = date(day, locale, clock).map_err(|_| wrong())?;
    let zoned = DateTime::from_parts(day, time).to_zoned(clock.zone.clone()).map_err(|_| wrong())?;
    Ok(Value::Instant(zoned.timestamp()))
}

fn read_time(text: &str) -> Option<Time> {
    let (hour, minute) = text.split_once(':')?;
    Time::new(hour.parse().ok()?, minute.parse().ok()?, 0, 0).ok()
}
