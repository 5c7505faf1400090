//! From what a person typed to a value, by the kind of the field. Nothing is guessed silently: what can be read
//! two ways is read as the locale says.

use super::{Item, Place, Value, WebAddress, duration_text, place_text, plus_days};
use crate::{
    Clock,
    fault::{Fault, FaultKind},
    id::{OptionId, PersonId},
    people::People,
    schema::{Choice, Kind},
};
use jiff::civil::{Date, DateTime, Time};
use rust_decimal::Decimal;
use serde::{Deserialize, Serialize};
use std::sync::Arc;

/// How numbers, dates and phones are typed here.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct Locale {
    /// `3/4/2026` is 3 April.
    pub day_first: bool,
    /// `12,5` is twelve and a half.
    pub decimal_comma: bool,
    /// The country whose phone numbers need none in front.
    #[serde(default)]
    pub country: Country,
}

/// An ISO 3166 code of two letters.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
#[cfg_attr(feature = "openapi", schema(value_type = String))]
#[serde(try_from = "String", into = "String")]
pub struct Country([u8; 2]);

impl Default for Country {
    fn default() -> Self {
        Self(*b"GB")
    }
}

impl From<Country> for String {
    fn from(country: Country) -> Self {
        country.0.iter().map(|b| char::from(*b)).collect()
    }
}

impl TryFrom<String> for Country {
    type Error = &'static str;

    fn try_from(code: String) -> Result<Self, Self::Error> {
        match code.as_bytes() {
            [a, b] if code.bytes().all(|b| b.is_ascii_uppercase()) => Ok(Self([*a, *b])),
            _ => Err("a country is two capital letters, like GB"),
        }
    }
}

impl Country {
    /// As the phone numbers' package knows it.
    pub(super) fn id(self) -> Option<phonenumber::country::Id> {
        String::from(self).parse().ok()
    }
}

impl Default for Locale {
    fn default() -> Self {
        Self { day_first: true, decimal_comma: false, country: Country::default() }
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
        Kind::Text { .. } | Kind::LongText | Kind::Email => Ok(Value::text(text)),
        Kind::Phone => phone(text, locale),
        Kind::Number { unit, .. } => number(text, &[unit], locale).map(Value::Number),
        Kind::Money { currency } => money(text, currency, locale),
        Kind::Percent { .. } => {
            number(text, &["%"], locale).map(|n| Value::Number(n.checked_div(Decimal::ONE_HUNDRED).unwrap_or_default()))
        }
        Kind::Rating { most } => number(text, &["*", "★", &format!("of {most}")], locale).map(Value::Number),
        Kind::YesNo => yes_no(text),
        Kind::Date => date(text, locale, clock).map(Value::Date),
        Kind::DateTime => moment(text, locale, clock),
        Kind::Range => range(text, locale, clock),
        Kind::Duration => duration(text, locale),
        Kind::Choice { options, .. } => option(text, options).map(Value::Choice),
        Kind::Choices { options } => each(text).map(|name| option(name, options)).collect::<Result<_, _>>().map(Value::Choices),
        Kind::Person => person(text, people).map(Value::Person),
        Kind::People => each(text).map(|name| person(name, people)).collect::<Result<_, _>>().map(Value::People),
        Kind::Web => web(text),
        Kind::Place => place(text),
        Kind::Checklist => Ok(Value::Checklist(text.lines().filter_map(item).collect())),
        Kind::Json => serde_json::from_str(text).map(|json| Value::Json(Arc::new(json))).map_err(|error| {
            let place = format!("line {}, character {}", error.line(), error.column());
            Fault::new(FaultKind::WrongKind, format!("This is not valid JSON: look at {place}."))
        }),
        Kind::Link(_) => Err(Fault::new(FaultKind::WrongKind, "Pick the record from the list.")),
        Kind::Files => Err(Fault::new(FaultKind::WrongKind, "Choose a file to put here.")),
        Kind::Button { .. } => Err(Fault::new(FaultKind::ReadOnly, "A button holds no value.")),
        Kind::Numbering { .. }
        | Kind::CreatedAt
        | Kind::CreatedBy
        | Kind::ChangedAt
        | Kind::ChangedBy
        | Kind::Carried { .. }
        | Kind::Summary(_)
        | Kind::Calculation { .. } => Err(Fault::new(FaultKind::ReadOnly, "Westerfall fills this field in by itself.")),
    }
}

/// What one types to get this value again, where typing is how it is put in: none for what is picked.
pub(crate) fn typed(value: &Value, kind: &Kind, locale: Locale) -> Option<String> {
    let plain = |number: Decimal| {
        let text = number.normalize().to_string();
        if locale.decimal_comma { text.replace('.', ",") } else { text }
    };
    Some(match (value, kind) {
        (Value::Number(share), Kind::Percent { .. }) => plain(share.checked_mul(Decimal::ONE_HUNDRED)?),
        (Value::Number(seconds), Kind::Duration) => duration_text(*seconds),
        (Value::Number(number), _) => plain(*number),
        (Value::Text(text), _) => text.to_string(),
        (Value::Date(day), _) => day.to_string(),
        (Value::Web(web), _) => format!("{} {}", web.title, web.address).trim_start().to_owned(),
        (Value::Place(place), _) => place_text(place),
        (Value::Checklist(items), _) => {
            let line = |item: &Item| if item.done { format!("[x] {}", item.text) } else { item.text.clone() };
            items.iter().map(line).collect::<Vec<_>>().join("\n")
        }
        _ => return None,
    })
}

/// The parts of a list as typed: between commas, semicolons or line ends.
fn each(text: &str) -> impl Iterator<Item = &str> {
    text.split([',', ';', '\n']).map(str::trim).filter(|part| !part.is_empty())
}

fn option(text: &str, options: &[Choice]) -> Result<OptionId, Fault> {
    let wanted = text.to_lowercase();
    options.iter().find(|o| o.name.to_lowercase() == wanted).map(|o| o.id).ok_or_else(|| {
        let names: Vec<&str> = options.iter().map(|o| o.name.as_str()).collect();
        let message = format!("“{text}” is not one of the options. Choose {}.", super::list_text(&names, "or"));
        Fault::new(FaultKind::UnknownOption, message)
    })
}

fn person(text: &str, people: &People) -> Result<PersonId, Fault> {
    people.find(text).map(|p| p.id).ok_or_else(|| {
        Fault::new(FaultKind::WrongKind, format!("Nobody, or more than one person, is called “{text}”. Pick a person from the list."))
    })
}

/// In E.164 where it is a possible number; numbers without a country are of the tracker's.
fn phone(text: &str, locale: Locale) -> Result<Value, Fault> {
    let wrong =
        || Fault::new(FaultKind::WrongKind, "This is not a phone number. Type digits, with + and the country first if it is abroad.");
    let number = phonenumber::parse(locale.country.id(), text).map_err(|_| wrong())?;
    let digits = number.national().value().to_string().len();
    if !(4..=15).contains(&digits) {
        return Err(wrong());
    }
    Ok(Value::text(&number.format().mode(phonenumber::Mode::E164).to_string()))
}

fn money(text: &str, currency: &str, locale: Locale) -> Result<Value, Fault> {
    let known = iso_currency::Currency::from_code(currency);
    let sign = known.map_or_else(String::new, |c| c.symbol().symbol);
    let amount = number(text, &[currency, &sign], locale)?;
    let decimals = super::currency_decimals(currency);
    if amount.normalize().scale() > decimals {
        return Err(Fault::new(FaultKind::WrongKind, format!("An amount in {currency} has at most {decimals} decimals.")));
    }
    Ok(Value::Number(amount))
}

fn yes_no(text: &str) -> Result<Value, Fault> {
    match text.to_lowercase().as_str() {
        "yes" | "y" | "true" | "t" | "on" | "1" | "x" | "✓" | "✔" => Ok(Value::Logical(true)),
        "no" | "n" | "false" | "f" | "off" | "0" | "-" | "✗" => Ok(Value::Logical(false)),
        _ => Err(Fault::new(FaultKind::WrongKind, format!("“{text}” is neither yes nor no."))),
    }
}

fn range(text: &str, locale: Locale, clock: &Clock) -> Result<Value, Fault> {
    let parts = [" – ", "–", " to ", " - ", ".."].iter().find_map(|sign| text.split_once(sign)).unwrap_or((text, text));
    let (start, end) = (date(parts.0.trim(), locale, clock)?, date(parts.1.trim(), locale, clock)?);
    if start > end {
        return Err(Fault::new(FaultKind::WrongKind, "The first day lies after the last: swap them."));
    }
    Ok(Value::Range(start, end))
}

/// `1:30`, `1 h 30 min`, `90 min`, `2.5 h`, `3 d`; a bare number is minutes.
fn duration(text: &str, locale: Locale) -> Result<Value, Fault> {
    let wrong = || Fault::new(FaultKind::WrongKind, format!("“{text}” is not a duration. Type it like 1:30, 1 h 30 min or 2.5 h."));
    let (minus, bare) = text.strip_prefix(['-', '\u{2212}']).map_or((false, text), |rest| (true, rest));
    let seconds = match bare.split_once(':') {
        Some((hours, minutes)) => {
            let minutes: u32 = minutes.trim().parse().ok().filter(|m| *m < 60).ok_or_else(wrong)?;
            let hours: u32 = hours.trim().parse().map_err(|_| wrong())?;
            Decimal::from(u64::from(hours) * 3_600 + u64::from(minutes) * 60)
        }
        None => units(bare, locale).ok_or_else(wrong)?,
    };
    let mut signed = seconds;
    signed.set_sign_negative(minus && !seconds.is_zero());
    Ok(Value::Number(signed))
}

fn units(text: &str, locale: Locale) -> Option<Decimal> {
    let mut total = Decimal::ZERO;
    let mut rest = text.trim();
    while !rest.is_empty() {
        let end = rest.find(|c: char| c.is_alphabetic() || c.is_whitespace()).unwrap_or(rest.len());
        let amount = number(&rest[..end], &[], locale).ok()?;
        let unit = rest[end..].trim_start();
        let length = unit.find(|c: char| !c.is_alphabetic()).unwrap_or(unit.len());
        let seconds = match unit[..length].to_lowercase().as_str() {
            "s" | "sec" | "secs" | "second" | "seconds" => 1,
            "" | "m" | "min" | "mins" | "minute" | "minutes" => 60,
            "h" | "hour" | "hours" => 3_600,
            "d" | "day" | "days" => 86_400,
            "w" | "week" | "weeks" => 604_800,
            _ => return None,
        };
        total = total.checked_add(amount.checked_mul(Decimal::from(seconds))?)?;
        rest = unit[length..].trim_start();
    }
    Some(total)
}

/// An address, perhaps after its title.
fn web(text: &str) -> Result<Value, Fault> {
    let (title, address) = text.rsplit_once(char::is_whitespace).map_or(("", text), |(title, address)| (title.trim(), address));
    check_web(address)?;
    Ok(Value::Web(Arc::new(WebAddress { address: address.to_owned(), title: title.to_owned() })))
}

/// Whether a web address is one that may be followed.
pub(crate) fn check_web(address: &str) -> Result<(), Fault> {
    let host = address.strip_prefix("https://").or_else(|| address.strip_prefix("http://"));
    let good = host.is_some_and(|h| !h.is_empty() && !h.starts_with('/') && !h.chars().any(|c| c.is_whitespace() || "<>\"".contains(c)));
    if good && address.len() <= 2_000 {
        return Ok(());
    }
    Err(Fault::new(FaultKind::WrongKind, "This is not a web address. It should begin with https:// or http://."))
}

/// `Label (54.1, -2.4)` or `54.1, -2.4`: latitude, then longitude.
fn place(text: &str) -> Result<Value, Fault> {
    let wrong = || Fault::new(FaultKind::WrongKind, "Type a place like Old gate (54.1234, -2.4321): latitude, then longitude.");
    let (label, inner) = match text.strip_suffix(')').and_then(|t| t.rsplit_once('(')) {
        Some((label, inner)) => (label.trim(), inner),
        None => ("", text),
    };
    let (latitude, longitude) = inner.split_once([',', ';']).ok_or_else(wrong)?;
    let degrees = |t: &str| t.trim().replace('\u{2212}', "-").parse::<Decimal>().map_err(|_| wrong());
    let place = Place { label: label.to_owned(), latitude: degrees(latitude)?, longitude: degrees(longitude)? };
    check_place(&place)?;
    Ok(Value::Place(Arc::new(place)))
}

/// Whether a place is on the earth.
pub(crate) fn check_place(place: &Place) -> Result<(), Fault> {
    if place.latitude.abs() > Decimal::from(90) || place.longitude.abs() > Decimal::from(180) {
        let message = "Latitude goes from −90 to 90, longitude from −180 to 180: perhaps they are swapped.";
        return Err(Fault::new(FaultKind::WrongKind, message));
    }
    Ok(())
}

/// `[x] what is done`, `[ ] what is not`, or just what there is to do.
fn item(line: &str) -> Option<Item> {
    let line = line.trim();
    let done = ["[x]", "[X]", "☑", "✓"].iter().find_map(|sign| line.strip_prefix(sign));
    let text = done.or_else(|| ["[ ]", "[]", "☐", "- "].iter().find_map(|sign| line.strip_prefix(sign))).unwrap_or(line).trim();
    (!text.is_empty()).then(|| Item { text: text.to_owned(), done: done.is_some(), person: None, due: None })
}

/// A number, perhaps with one of these units before or after it.
fn number(text: &str, units: &[&str], locale: Locale) -> Result<Decimal, Fault> {
    let (point, thousands) = if locale.decimal_comma { (',', '.') } else { ('.', ',') };
    let bare = text.trim().replace('\u{2212}', "-");
    let (minus, bare) = bare.strip_prefix('-').map_or((false, &*bare), |rest| (true, rest.trim_start()));
    let stripped = units.iter().filter(|u| !u.is_empty()).find_map(|u| bare.strip_suffix(*u).or_else(|| bare.strip_prefix(*u)));
    let bare = stripped.unwrap_or(bare).trim();
    let (minus, bare) = if minus { (true, bare) } else { bare.strip_prefix('-').map_or((false, bare), |rest| (true, rest)) };
    let wrong = || Fault::new(FaultKind::WrongKind, format!("“{text}” is not a number. Type it like 1{thousands}234{point}5."));
    let (digits, part) = bare.split_once(point).unwrap_or((bare, ""));
    let groups: Vec<&str> = digits.split([thousands, ' ', '\u{a0}', '\u{202f}']).collect();
    let grouped_well = groups.len() == 1 || (groups[1..].iter().all(|g| g.len() == 3) && (1..=3).contains(&groups[0].len()));
    let all_digits = |s: &str| s.bytes().all(|b| b.is_ascii_digit());
    if !grouped_well || !groups.iter().all(|g| all_digits(g)) || !all_digits(part) || (digits.is_empty() && part.is_empty()) {
        return Err(wrong());
    }
    let sign = if minus { "-" } else { "" };
    let plain = format!("{sign}{}{}{part}", groups.concat(), if part.is_empty() { "" } else { "." });
    Decimal::from_str_exact(&plain).map_err(|_| Fault::new(FaultKind::WrongKind, "This number has too many digits: at most 28 fit."))
}

fn date(text: &str, locale: Locale, clock: &Clock) -> Result<Date, Fault> {
    let order = if locale.day_first { "day, month, year" } else { "month, day, year" };
    read_date(text, locale, clock)
        .ok_or_else(|| Fault::new(FaultKind::WrongKind, format!("“{text}” is not a date. Type {order}, or a date like 18 Nov 2026.")))
}

/// A date as typed, if it can be read in one way here.
pub(crate) fn read_date(text: &str, locale: Locale, clock: &Clock) -> Option<Date> {
    let today = clock.today();
    match text.to_lowercase().as_str() {
        "today" => return Some(today),
        "tomorrow" => return plus_days(today, 1),
        "yesterday" => return plus_days(today, -1),
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
    // A time of twelve hours has its half of the day behind it.
    let colon = text.find(':');
    let split = colon.and_then(|at| text[..at].rfind([' ', 'T']));
    let (day, time) = match (colon, split) {
        (Some(_), Some(at)) => (text[..at].trim_end_matches([',', ' ']), read_time(text[at + 1..].trim())),
        (Some(_), None) => ("today", read_time(text)),
        (None, _) => (text, Some(Time::midnight())),
    };
    let wrong = || Fault::new(FaultKind::WrongKind, format!("“{text}” is not a date and time. Type it like 18 Nov 2026 15:40."));
    let time = time.ok_or_else(wrong)?;
    let day = date(day, locale, clock).map_err(|_| wrong())?;
    let zoned = DateTime::from_parts(day, time).to_zoned(clock.zone.clone()).map_err(|_| wrong())?;
    Ok(Value::Instant(zoned.timestamp()))
}

/// `15:40`, `15:40:30`, `3:40 pm`.
pub(crate) fn read_time(text: &str) -> Option<Time> {
    let lower = text.trim().to_lowercase().replace('.', "");
    let (bare, half) = match (lower.strip_suffix("am"), lower.strip_suffix("pm")) {
        (Some(bare), _) => (bare, Some(0)),
        (_, Some(bare)) => (bare, Some(12)),
        _ => (&*lower, None),
    };
    let mut parts = bare.trim().split(':');
    let (hour, minute): (i8, i8) = (parts.next()?.parse().ok()?, parts.next()?.parse().ok()?);
    let second = parts.next().map_or(Some(0), |s| s.parse().ok())?;
    let hour = match half {
        Some(half) if (1..=12).contains(&hour) => hour % 12 + half,
        Some(_) => return None,
        None => hour,
    };
    Time::new(hour, minute, second, 0).ok().filter(|_| parts.next().is_none())
}
