//! Values: what a cell holds. [`Value`] is owned and travels; [`Cell`] is borrowed from a column and cheap to copy.

mod convert;
mod currency;
mod customs;
mod dates;
mod days;
mod display;
mod numbers;
mod order;
mod parse;
mod refs;
#[cfg(test)]
mod tests;
pub(crate) use refs::value_refs;

pub use convert::{Conventions, Conversion, convert};
pub use currency::Code;
pub(crate) use currency::{named_currency, signs_of};
pub use customs::Customs;
use customs::SignAt;
pub use dates::{DateOrder, DateReading, YEARS_FROM, read_day, read_range, read_time};
pub(crate) use dates::{read_date, read_day_and_time};
pub(crate) use days::{days_on, months_on, plus_days, plus_months};
pub(crate) use display::{currency_decimals, to_cents};
pub use display::{duration_text, list_text, moment_text, phone_text, place_text};
pub(crate) use numbers::number;
pub(crate) use order::{alike, text_key_after};
pub use order::{contains_folded, fold, natural_cmp, text_key};
pub use parse::{Country, Locale, parse};
pub(crate) use parse::{Typing, check_place, check_web, each_of, parse_with, phone_number, typed};

use crate::id::{OptionId, PersonId, RecordId};
use jiff::{Timestamp, civil::Date};
use rust_decimal::Decimal;
use serde::{Deserialize, Serialize};
use std::sync::Arc;

/// Numbers that may be put in are smaller than this, so that what is computed from them has room: 10²⁴.
pub const NUMBER_LIMIT: Decimal = Decimal::from_parts(2_701_131_776, 466_537_709, 54_210, false, 0);

/// What a cell holds, whatever the kind of its field.
#[derive(Clone, Debug, Default, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
#[serde(rename_all = "lowercase")]
pub enum Value {
    /// Nothing. An empty text, an empty list and nothing are the same.
    #[default]
    Empty,
    Text(Arc<str>),
    /// Exact; as a string in JSON, so that no reader rounds it. Money, shares and ratings too; of a duration, its seconds.
    Number(Decimal),
    /// Yes or no.
    Logical(bool),
    /// A day of the calendar, with no zone.
    Date(Date),
    /// A point in time; shown in the tracker's zone.
    Instant(Timestamp),
    /// From one day to another, both included.
    Range(Date, Date),
    Choice(OptionId),
    /// In the order chosen, each once.
    Choices(Vec<OptionId>),
    Person(PersonId),
    /// In the order chosen, each once.
    People(Vec<PersonId>),
    /// The linked records, in the order chosen.
    Links(Vec<RecordId>),
    Web(Arc<WebAddress>),
    Place(Arc<Place>),
    Files(Arc<[Attachment]>),
    Checklist(Arc<[Item]>),
    #[cfg_attr(feature = "openapi", schema(value_type = Object))]
    Json(Arc<serde_json::Value>),
    /// A formula that has no value, and why.
    Error(CalcError),
}

/// Why a formula has no value. The names are OpenFormula's; the last two are for what it leaves to us.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Hash, PartialOrd, Ord, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
#[serde(rename_all = "kebab-case")]
pub enum CalcError {
    NotAvailable,
    WrongValue,
    DivisionByZero,
    /// No number can be the result.
    NoNumber,
    /// Something that it names is not there any more.
    Gone,
    /// The result, or the way to it, is over a limit.
    TooLarge,
    /// It would need itself.
    Circle,
}

impl CalcError {
    /// As it stands in a cell.
    pub fn sign(self) -> &'static str {
        match self {
            CalcError::NotAvailable => "#N/A",
            CalcError::WrongValue => "#VALUE!",
            CalcError::DivisionByZero => "#DIV/0!",
            CalcError::NoNumber => "#NUM!",
            CalcError::Gone => "#REF!",
            CalcError::TooLarge => "#LIMIT!",
            CalcError::Circle => "#CIRCLE!",
        }
    }

    /// What it means.
    pub fn words(self) -> &'static str {
        match self {
            CalcError::NotAvailable => "there is no such value",
            CalcError::WrongValue => "a value is of a kind that can’t be used here",
            CalcError::DivisionByZero => "it divides by nothing",
            CalcError::NoNumber => "no number can be the result",
            CalcError::Gone => "it names something that is not there any more",
            CalcError::TooLarge => "the result, or the way to it, is too large",
            CalcError::Circle => "it would need itself",
        }
    }
}

/// A web address with a title.
#[derive(Clone, Debug, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct WebAddress {
    /// With `http:` or `https:`.
    pub address: String,
    /// Shown instead of the address; may be empty.
    #[serde(default)]
    pub title: String,
}

/// A place on the map.
#[derive(Clone, Debug, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct Place {
    #[serde(default)]
    pub label: String,
    /// Degrees north, -90 to 90.
    pub latitude: Decimal,
    /// Degrees east, -180 to 180.
    pub longitude: Decimal,
}

/// A line of a checklist.
#[derive(Clone, Debug, Default, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct Item {
    pub text: String,
    #[serde(default)]
    pub done: bool,
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub person: Option<PersonId>,
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub due: Option<Date>,
}

/// The same type, under a name that the API's description does not take for "any JSON".
pub type CellValue = Value;

/// A file that hangs on a cell. Its bytes are in the file store, under its id.
#[derive(Clone, Debug, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
pub struct Attachment {
    /// Not guessable; also its address.
    pub id: String,
    pub name: String,
    /// The media type that its content was found to be.
    pub media: String,
    /// In bytes.
    pub size: u64,
}

impl Attachment {
    /// The media type of an address that stands among files.
    pub const ADDRESS: &'static str = "text/uri-list";

    /// Whether it is a picture.
    pub fn is_picture(&self) -> bool {
        self.media.starts_with("image/")
    }

    /// Whether it is an address with a title instead of a file: its id is the address then, and its name the title.
    pub fn is_address(&self) -> bool {
        self.media == Self::ADDRESS
    }
}

/// A value as a column lends it.
#[derive(Clone, Copy, Debug, PartialEq)]
pub enum Cell<'a> {
    Empty,
    Text(&'a str),
    Number(Decimal),
    Logical(bool),
    Date(Date),
    Instant(Timestamp),
    Range(Date, Date),
    Choice(OptionId),
    Choices(&'a [OptionId]),
    Person(PersonId),
    People(&'a [PersonId]),
    Links(&'a [RecordId]),
    Web(&'a Arc<WebAddress>),
    Place(&'a Arc<Place>),
    Files(&'a [Attachment]),
    Checklist(&'a [Item]),
    Json(&'a Arc<serde_json::Value>),
    Error(CalcError),
}

impl Cell<'_> {
    /// The same, owned.
    pub fn to_value(self) -> Value {
        match self {
            Cell::Empty => Value::Empty,
            Cell::Text(text) => Value::Text(text.into()),
            Cell::Number(number) => Value::Number(number),
            Cell::Logical(yes) => Value::Logical(yes),
            Cell::Date(date) => Value::Date(date),
            Cell::Instant(instant) => Value::Instant(instant),
            Cell::Range(start, end) => Value::Range(start, end),
            Cell::Choice(option) => Value::Choice(option),
            Cell::Choices(options) => Value::Choices(options.to_vec()),
            Cell::Person(person) => Value::Person(person),
            Cell::People(people) => Value::People(people.to_vec()),
            Cell::Links(records) => Value::Links(records.to_vec()),
            Cell::Web(web) => Value::Web(web.clone()),
            Cell::Place(place) => Value::Place(place.clone()),
            Cell::Files(files) => Value::Files(files.into()),
            Cell::Checklist(items) => Value::Checklist(items.into()),
            Cell::Json(json) => Value::Json(json.clone()),
            Cell::Error(error) => Value::Error(error),
        }
    }

    /// Whether nothing stands here.
    pub fn is_empty(self) -> bool {
        match self {
            Cell::Empty => true,
            Cell::Text(text) => text.is_empty(),
            Cell::Choices(list) => list.is_empty(),
            Cell::People(list) => list.is_empty(),
            Cell::Links(list) => list.is_empty(),
            Cell::Files(list) => list.is_empty(),
            Cell::Checklist(list) => list.is_empty(),
            _ => false,
        }
    }
}

impl Value {
    /// The same, lent.
    pub fn as_cell(&self) -> Cell<'_> {
        match self {
            Value::Empty => Cell::Empty,
            Value::Text(text) => Cell::Text(text),
            Value::Number(number) => Cell::Number(*number),
            Value::Logical(yes) => Cell::Logical(*yes),
            Value::Date(date) => Cell::Date(*date),
            Value::Instant(instant) => Cell::Instant(*instant),
            Value::Range(start, end) => Cell::Range(*start, *end),
            Value::Choice(option) => Cell::Choice(*option),
            Value::Choices(options) => Cell::Choices(options),
            Value::Person(person) => Cell::Person(*person),
            Value::People(people) => Cell::People(people),
            Value::Links(records) => Cell::Links(records),
            Value::Web(web) => Cell::Web(web),
            Value::Place(place) => Cell::Place(place),
            Value::Files(files) => Cell::Files(files),
            Value::Checklist(items) => Cell::Checklist(items),
            Value::Json(json) => Cell::Json(json),
            Value::Error(error) => Cell::Error(*error),
        }
    }

    /// Empty texts and lists become [`Value::Empty`], so that equal means equal.
    #[must_use]
    pub fn tidy(self) -> Self {
        if self.as_cell().is_empty() { Value::Empty } else { self }
    }

    /// A text value; empty where there is nothing to say.
    pub fn text(text: &str) -> Self {
        Value::Text(text.into()).tidy()
    }
}

/// A value on its way in.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
#[cfg_attr(feature = "openapi", derive(utoipa::ToSchema))]
#[serde(rename_all = "lowercase")]
pub enum Input {
    /// As typed; read by the field's kind.
    Text(String),
    /// Picked.
    Value(CellValue),
    /// A copied value, filled again from where it came.
    Again,
    /// Files whose content was checked, to be put beside those there.
    #[serde(skip)]
    Upload(Vec<Attachment>),
    /// All files that are to be there, of which new ones were checked.
    #[serde(skip)]
    Files(Vec<Attachment>),
}
