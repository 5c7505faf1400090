//! From what a person typed to a value, by the kind of the field. Nothing is guessed silently: what can be read
//! two ways is read as the locale says.

use super::{
    DateOrder, DateReading, Item, Place, Value, WebAddress, duration_text, numbers, place_text, read_day, read_day_and_time, read_range,
    read_time,
};
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
    parse_with(text, kind, Typing { locale, dates: DateReading::typed(locale, clock), people, clock })
}

/// What reading a text needs to know.
#[derive(Clone, Copy)]
pub(crate) struct Typing<'a> {
    pub(crate) locale: Locale,
    pub(crate) dates: DateReading,
    pub(crate) people: &'a People,
    pub(crate) clock: &'a Clock,
}

/// The same, with dates read in a way of their own.
///
/// # Errors
/// As [`parse`].
pub(crate) fn parse_with(text: &str, kind: &Kind, with: Typing<'_>) -> Result<Value, Fault> {
    let Typing { locale, people, .. } = with;
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
        Kind::Date => date(text, with).map(Value::Date),
        Kind::DateTime => moment(text, with),
        Kind::Range => range(text, with),
        Kind::Duration => duration(text, locale),
        Kind::Choice { options, .. } => option(text, options).map(Value::Choice),
        Kind::Choices { options } => each_of(text).map(|name| option(name, options)).collect::<Result<_, _>>().map(Value::Choices),
        Kind::Person => person(text, people).map(Value::Person),
        Kind::People => each_of(text).map(|name| person(name, people)).collect::<Result<_, _>>().map(Value::People),
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
        | Kind::Id
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
/// Each of several that are written in one text, between commas, semicolons or lines.
pub(crate) fn each_of(text: &str) -> impl Iterator<Item = &str> {
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
    Ok(Value::text(&phone_number(text, locale.country)?))
}

/// The same as a text.
pub(crate) fn phone_number(text: &str, home: Country) -> Result<String, Fault> {
    let wrong =
        || Fault::new(FaultKind::WrongKind, "This is not a phone number. Type digits, with + and the country first if it is abroad.");
    let number = phonenumber::parse(home.id(), text).map_err(|_| wrong())?;
    let digits = number.national().value().to_string().len();
    if !(4..=15).contains(&digits) {
        return Err(wrong());
    }
    Ok(number.format().mode(phonenumber::Mode::E164).to_string())
}

fn money(text: &str, currency: &str, locale: Locale) -> Result<Value, Fault> {
    if let Some(plain) = numbers::plain(text, locale.decimal_comma) {
        return in_cents(plain, currency);
    }
    let known = iso_currency::Currency::from_code(currency);
    let mut signs = super::signs_of(currency, locale.country);
    signs.extend(known.map(|c| c.symbol().symbol));
    let amount = number(text, &signs.iter().map(String::as_str).collect::<Vec<_>>(), locale)?;
    in_cents(amount, currency)
}

/// An amount, if its currency has such small parts.
fn in_cents(amount: Decimal, currency: &str) -> Result<Value, Fault> {
    let decimals = super::currency_decimals(currency);
    if amount.normalize().scale() > decimals {
        return Err(Fault::new(FaultKind::WrongKind, format!("An amount in {currency} has at most {decimals} decimals.")));
    }
    Ok(Value::Number(amount))
}

/// *Yes* and *no* in the languages that files are about in.
const YES: &str = "yes y true t on 1 x ✓ ✔ ja j oui si sí sim tak da wahr vrai verdadero vero verdadeiro";
const NO: &str = "no n false f off 0 - ✗ nein non não nao nee nej nie falsch faux falso";

fn yes_no(text: &str) -> Result<Value, Fault> {
    match text {
        "yes" | "Yes" | "true" => return Ok(Value::Logical(true)),
        "no" | "No" | "false" => return Ok(Value::Logical(false)),
        _ => {}
    }
    let folded = text.to_lowercase();
    let is_one = |words: &str| words.split(' ').any(|word| word == folded);
    match (is_one(YES), is_one(NO)) {
        (true, _) => Ok(Value::Logical(true)),
        (_, true) => Ok(Value::Logical(false)),
        _ => Err(Fault::new(FaultKind::WrongKind, format!("“{text}” is neither yes nor no."))),
    }
}

fn range(text: &str, with: Typing<'_>) -> Result<Value, Fault> {
    let Some((start, end)) = read_range(text, with.dates) else { return date(text, with).map(|day| Value::Range(day, day)) };
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
        Some(parts) => clocked(parts).ok_or_else(wrong)?,
        None => units(bare, locale).ok_or_else(wrong)?,
    };
    let mut signed = seconds;
    signed.set_sign_negative(minus && !seconds.is_zero());
    Ok(Value::Number(signed))
}

/// Hours and minutes, perhaps seconds, between colons.
fn clocked((hours, rest): (&str, &str)) -> Option<Decimal> {
    let (minutes, seconds) = rest.split_once(':').unwrap_or((rest, "0"));
    let below_60 = |text: &str| text.trim().parse::<u32>().ok().filter(|n| *n < 60);
    let hours: u32 = hours.trim().parse().ok()?;
    Some(Decimal::from(u64::from(hours) * 3_600 + u64::from(below_60(minutes)?) * 60 + u64::from(below_60(seconds)?)))
}

/// How many seconds one of a unit of time is; without a unit, of a minute.
pub(super) fn seconds_in(unit: &str) -> Option<Decimal> {
    let seconds = match unit.trim().to_lowercase().as_str() {
        "s" | "sec" | "secs" | "second" | "seconds" => 1,
        "" | "m" | "min" | "mins" | "minute" | "minutes" => 60,
        "h" | "hr" | "hrs" | "hour" | "hours" => 3_600,
        "d" | "day" | "days" => 86_400,
        "w" | "week" | "weeks" => 604_800,
        _ => return None,
    };
    Some(Decimal::from(seconds))
}

fn units(text: &str, locale: Locale) -> Option<Decimal> {
    let mut total = Decimal::ZERO;
    let mut rest = text.trim();
    while !rest.is_empty() {
        let end = rest.find(|c: char| c.is_alphabetic() || c.is_whitespace()).unwrap_or(rest.len());
        let amount = number(&rest[..end], &[], locale).ok()?;
        let unit = rest[end..].trim_start();
        let length = unit.find(|c: char| !c.is_alphabetic()).unwrap_or(unit.len());
        rest = unit[length..].trim_start();
        // A bare number is minutes, and the last: *90*, *1 h 30*.
        let seconds = seconds_in(&unit[..length]).filter(|_| length > 0 || rest.is_empty())?;
        total = total.checked_add(amount.checked_mul(seconds)?)?;
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

fn number(text: &str, units: &[&str], locale: Locale) -> Result<Decimal, Fault> {
    numbers::number(text, units, locale.decimal_comma)
}

fn date(text: &str, with: Typing<'_>) -> Result<Date, Fault> {
    let order = match with.dates.order {
        DateOrder::Day => "day, month, year",
        DateOrder::Month => "month, day, year",
        DateOrder::Year => "year, month, day",
    };
    read_day(text, with.dates)
        .ok_or_else(|| Fault::new(FaultKind::WrongKind, format!("“{text}” is not a date. Type {order}, or a date like 18 Nov 2026.")))
}

fn moment(text: &str, with: Typing<'_>) -> Result<Value, Fault> {
    if let Ok(instant) = text.parse::<jiff::Timestamp>() {
        return Ok(Value::Instant(instant));
    }
    let wrong = || Fault::new(FaultKind::WrongKind, format!("“{text}” is not a date and time. Type it like 18 Nov 2026 15:40."));
    let alone = || read_day(text, with.dates).map(|day| (day, Time::midnight()));
    let today = || with.dates.today.zip(read_time(text));
    let (day, time) = read_day_and_time(text, with.dates).or_else(alone).or_else(today).ok_or_else(wrong)?;
    let zoned = DateTime::from_parts(day, time).to_zoned(with.clock.told.clone()).map_err(|_| wrong())?;
    Ok(Value::Instant(zoned.timestamp()))
}
